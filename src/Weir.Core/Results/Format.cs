using System.Globalization;
using System.Text.RegularExpressions;

namespace Weir.Core.Results;

/// <summary>How a number is written: so many decimals, after multiplying by a factor, with a unit.</summary>
public sealed partial record Format(int Decimals, int Factor, string Unit)
{
    private const char Minus = '\u2212';

    /// <summary>True for a mark between thousands; false for numbers that are names, such as years.</summary>
    public bool Marks { get; init; } = true;

    /// <summary>True for a unit before the number, as some write money.</summary>
    public bool UnitFirst { get; init; }

    /// <summary>True for short forms: 12.4 k, 3.1 m, 2 bn.</summary>
    public bool Short { get; init; }

    /// <summary>Reads the format of a definition; null if it is none.</summary>
    /// <param name="money">The workspace's unit of money.</param>
    public static Format? Parse(string written, string money = "")
    {
        if (written.StartsWith("short ", StringComparison.Ordinal) || written == "short")
            return written == "short" ? new Format(1, 1, "") { Short = true }
                : Parse(written[6..].Trim(), money) is { } inner ? inner with { Short = true }
                : null;
        switch (written)
        {
            case "integer":
                return new Format(0, 1, "");
            case "decimal":
                return new Format(2, 1, "");
            case "percent":
                return new Format(1, 100, "%");
            case "money":
                return new Format(0, 1, money);
            case "plain":
                return new Format(0, 1, "") { Marks = false };
        }
        if (Pattern().Match(written) is not { Success: true } match || (match.Groups["before"].Success && match.Groups["after"].Success))
            return null;
        return new Format(
            match.Groups["decimals"].Length,
            1,
            (match.Groups["before"].Success ? match.Groups["before"] : match.Groups["after"]).Value.Trim()
        )
        {
            // As the pattern has it: 0 as it is, #,##0 with marks. With a unit or decimals it is an amount, which has marks.
            Marks = match.Groups["marks"].Success || written != "0",
            UnitFirst = match.Groups["before"].Success,
        };
    }

    /// <summary>A number with thousands marks, a true minus and its unit: <c>−1,234.5 min</c>.</summary>
    public string Write(object value)
    {
        // Beyond what a decimal holds, the digits before the exponent are all that a double has to say.
        if (value is double real && (!double.IsFinite(real) || Math.Abs(real * Factor) > 1e24))
            return WithUnit($"{(real * Factor).ToString("0.###e+0", CultureInfo.InvariantCulture).Replace('-', Minus)}", "");
        var number = Convert.ToDecimal(value, CultureInfo.InvariantCulture) * Factor;
        var (size, mark) = Short ? Shortened(Math.Abs(number)) : (Math.Abs(number), "");
        var rounded = Math.Round(size, Decimals, MidpointRounding.AwayFromZero);
        var text =
            mark.Length > 0 || Short
                ? rounded.ToString(Marks ? "#,##0.######" : "0.######", CultureInfo.InvariantCulture)
                : rounded.ToString((Marks ? "N" : "F") + Decimals, CultureInfo.InvariantCulture);
        return WithUnit(text + mark, number < 0 && rounded != 0 ? Minus.ToString() : "");
    }

    private static (decimal Size, string Mark) Shortened(decimal size) =>
        size switch
        {
            >= 999_500_000 => (size / 1_000_000_000, " bn"),
            >= 999_500 => (size / 1_000_000, " m"),
            >= 10_000 => (size / 1_000, " k"),
            _ => (size, ""),
        };

    private string WithUnit(string text, string sign) =>
        Unit.Length == 0 ? sign + text
        : UnitFirst ? $"{sign}{Unit}{(Unit.Length > 1 ? " " : "")}{text}"
        : $"{sign}{text} {Unit}";

    [GeneratedRegex(
        @"^(?<before>[^\s#0.,\-+]{1,8}\s*)?(?<marks>#,#*0|#?,#*0)?(?(marks)|#*0)(?:\.(?<decimals>0{1,6}))?(?<after>\s+\S.{0,15})?$"
    )]
    private static partial Regex Pattern();
}
