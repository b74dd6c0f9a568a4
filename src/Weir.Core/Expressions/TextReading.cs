using System.Globalization;
using System.Text.RegularExpressions;

namespace Weir.Core.Expressions;

/// <summary>How text is read as another type, the same on every engine: what does not match these forms does not fit.</summary>
public static partial class TextReading
{
    /// <summary>The form of a type as a POSIX regular expression, for engines that can't try a cast. Spaces around are allowed.</summary>
    public static string? Form(ValueKind kind) =>
        kind switch
        {
            ValueKind.Integer => "^ *[+-]?[0-9]{1,18} *$",
            ValueKind.Decimal => "^ *[+-]?[0-9]{1,18}(\\.[0-9]{1,6})? *$",
            ValueKind.Float => "^ *[+-]?[0-9]{1,18}(\\.[0-9]{1,18})?([eE][+-]?[0-9]{1,2})? *$",
            ValueKind.Boolean => "^ *(true|false|yes|no|1|0) *$",
            ValueKind.Date => $"^ *{Day} *$",
            ValueKind.Timestamp => $"^ *{Day}([ T]([01][0-9]|2[0-3]):[0-5][0-9](:[0-5][0-9])?)? *$",
            _ => null,
        };

    // Years 1000 to 9899; the days that each month has; 29 February in leap years.
    private const string Year = "([1-8][0-9]{3}|9[0-8][0-9]{2})";
    private const string Leap =
        "([1-8][0-9](0[48]|[2468][048]|[13579][26])|9[0-8](0[48]|[2468][048]|[13579][26])|(1[26]|[2468][048]|[3579][26])00)";
    private const string Day =
        $"(({Year}-(0[13578]|1[02])-(0[1-9]|[12][0-9]|3[01]))|({Year}-(0[469]|11)-(0[1-9]|[12][0-9]|30))|({Year}-02-(0[1-9]|1[0-9]|2[0-8]))|({Leap}-02-29))";

    /// <summary>The value, null if the text does not fit.</summary>
    public static object? Read(string text, ValueKind kind)
    {
        if (Form(kind) is not { } form)
            return text;
        if (!Regex.IsMatch(text, form, RegexOptions.CultureInvariant))
            return null;
        var trimmed = text.Trim(' ');
        var invariant = CultureInfo.InvariantCulture;
        return kind switch
        {
            ValueKind.Integer => long.Parse(trimmed, NumberStyles.AllowLeadingSign, invariant),
            ValueKind.Decimal => decimal.Parse(trimmed, NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint, invariant),
            ValueKind.Float => double.Parse(trimmed, NumberStyles.Float, invariant),
            ValueKind.Boolean => trimmed is "true" or "yes" or "1",
            ValueKind.Date => DateOnly.ParseExact(trimmed, "yyyy-MM-dd", invariant),
            _ => DateTime.Parse(trimmed.Replace('T', ' '), invariant, DateTimeStyles.None),
        };
    }
}
