using System.Globalization;

namespace Weir.Core.Expressions;

/// <summary>Values as texts, the same in definitions, on the command line and in attributes.</summary>
public static class Values
{
    /// <summary>Reads a value of a type; null if the text is none.</summary>
    public static object? Parse(string text, ValueKind kind)
    {
        var invariant = CultureInfo.InvariantCulture;
        return kind switch
        {
            ValueKind.Text => text.Contains('\0') ? null : text,
            ValueKind.Boolean => bool.TryParse(text, out var b) ? b : null,
            ValueKind.Integer => long.TryParse(text, NumberStyles.AllowLeadingSign, invariant, out var n) ? n : null,
            ValueKind.Decimal => decimal.TryParse(
                text,
                NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint,
                invariant,
                out var d
            )
                ? d
                : null,
            ValueKind.Float => double.TryParse(text, NumberStyles.Float, invariant, out var f) && double.IsFinite(f) ? f : null,
            ValueKind.Date => DateOnly.TryParseExact(text, "yyyy-MM-dd", invariant, DateTimeStyles.None, out var day) ? day : null,
            ValueKind.Timestamp => DateTime.TryParse(text, invariant, DateTimeStyles.None, out var at) ? at : null,
            _ => null,
        };
    }

    /// <summary>Writes a value so that <see cref="Parse"/> reads it back.</summary>
    public static string Write(object value) =>
        value switch
        {
            bool b => b ? "true" : "false",
            DateOnly d => d.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            DateTime t => t.ToString("yyyy-MM-dd'T'HH:mm:ss", CultureInfo.InvariantCulture),
            _ => Convert.ToString(value, CultureInfo.InvariantCulture)!,
        };
}
