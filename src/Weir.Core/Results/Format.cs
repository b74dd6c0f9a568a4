using System.Globalization;
using System.Text.RegularExpressions;

namespace Weir.Core.Results;

/// <summary>How a number is written: so many decimals, after multiplying by a factor, with a unit behind.</summary>
public sealed partial record Format(int Decimals, int Factor, string Unit)
{
    private const char Minus = '\u2212';

    /// <summary>Reads the format of a definition; null if it is none.</summary>
    /// <param name="money">The workspace's unit of money.</param>
    public static Format? Parse(string written, string money = "")
    {
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
        }
        var match = Pattern().Match(written);
        return match.Success ? new Format(match.Groups[1].Length, 1, match.Groups[2].Value.Trim()) : null;
    }

    /// <summary>A number with thousands marks, a true minus and its unit: <c>−1,234.5 min</c>.</summary>
    public string Write(object value)
    {
        var number = value is double d && !double.IsFinite(d) ? 0m : value switch
        {
            double real when Math.Abs(real) > 1e24 => throw new OverflowException($"{real} is too large to be written."),
            _ => Convert.ToDecimal(value, CultureInfo.InvariantCulture),
        };
        var rounded = Math.Round(number * Factor, Decimals, MidpointRounding.AwayFromZero);
        var text = Math.Abs(rounded).ToString("N" + Decimals, CultureInfo.InvariantCulture);
        return $"{(rounded < 0 ? Minus.ToString() : "")}{text}{(Unit.Length == 0 ? "" : " " + Unit)}";
    }

    [GeneratedRegex(@"^#?,?#*0(?:\.(0{1,6}))?(\s+\S.{0,15})?$")]
    private static partial Regex Pattern();
}
