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
        // Beyond what a decimal holds, the digits before the exponent are all that a double has to say.
        if (value is double real && (!double.IsFinite(real) || Math.Abs(real * Factor) > 1e24))
            return $"{(real * Factor).ToString("0.###e+0", CultureInfo.InvariantCulture).Replace('-', Minus)}{(Unit.Length == 0 ? "" : " " + Unit)}";
        var number = Convert.ToDecimal(value, CultureInfo.InvariantCulture);
        var rounded = Math.Round(number * Factor, Decimals, MidpointRounding.AwayFromZero);
        var text = Math.Abs(rounded).ToString("N" + Decimals, CultureInfo.InvariantCulture);
        return $"{(rounded < 0 ? Minus.ToString() : "")}{text}{(Unit.Length == 0 ? "" : " " + Unit)}";
    }

    [GeneratedRegex(@"^#?,?#*0(?:\.(0{1,6}))?(\s+\S.{0,15})?$")]
    private static partial Regex Pattern();
}
