using System.Globalization;
using Weir.Core.Expressions;
using Weir.Core.Results;
using Weir.Service;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Commands;

/// <summary>Reads members and the ends of ranges as they are written: on the command line, and in the tables that Weir prints.</summary>
internal static class MemberText
{
    /// <summary>A value of a field as it travels.</summary>
    /// <exception cref="Refusal">The text is none of its type.</exception>
    public static object? Value(FieldInfo field, string text) =>
        text == Labels.NotGiven
            ? null
            : field.Kind switch
            {
                "integer" or "decimal" or "float" => decimal.TryParse(
                    text,
                    NumberStyles.Float,
                    CultureInfo.InvariantCulture,
                    out var number
                )
                    ? number
                    : throw new Refusal($"{field.Name} is {field.Kind}; '{text}' is not. (wrong-type)", exitCode: ExitCode.Usage),
                "date" or "timestamp" when Begins(field, text) is { } begins => begins,
                "boolean" => text is "yes" or "true" ? true
                : text is "no" or "false" ? false
                : throw new Refusal($"{field.Name} is yes or no; '{text}' is neither. (wrong-type)", exitCode: ExitCode.Usage),
                _ => text,
            };

    /// <summary>A range from..to, both ends included, as it travels: an end of dates becomes the first instant that does not count.</summary>
    /// <exception cref="Refusal">An end is none of the field's type, or the range is empty.</exception>
    public static object Range(FieldInfo field, string from, string to)
    {
        var (first, last) = (End(field, from, isLast: false), End(field, to, isLast: true));
        var isEmpty = (first, last) switch
        {
            (decimal a, decimal b) => a > b,
            (string a, string b) => string.CompareOrdinal(a, b) >= 0,
            _ => false,
        };
        if (isEmpty)
            throw new Refusal(
                $"{from}..{to} is an empty range: it ends before it begins. (empty-range)",
                $"Write {to}..{from}, or leave an end out.",
                ExitCode.Usage
            );
        if (first is null && last is null)
            throw new Refusal(
                "'..' has no end at all: it means everything. (empty-range)",
                "Leave the selection out, or write one end.",
                ExitCode.Usage
            );
        return new PickedRange(first, last);
    }

    private static object? End(FieldInfo field, string text, bool isLast)
    {
        if (text.Length == 0)
            return null;
        if (field.Kind is not ("date" or "timestamp"))
            return Value(field, text);
        if (Begins(field, text) is { } begins)
            return isLast
                ? Day(
                    Core.Expressions.Calendar.Add(
                        Instant(begins),
                        Core.Expressions.Calendar.ParseGrain(field.At ?? "day") ?? DateGrain.Day,
                        1
                    )
                )
                : begins;
        if (!isLast || text.Length > 10)
            return text;
        return DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)
            ? Day(day.AddDays(1).ToDateTime(TimeOnly.MinValue))
            : throw new Refusal($"'{text}' is no day. (wrong-type)", "Write it as 2025-03-31.", ExitCode.Usage);
    }

    private static DateTime Instant(string day) => DateTime.Parse(day, CultureInfo.InvariantCulture);

    private static string Day(DateTime at) => at.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    /// <summary>The first day of a period as it is written in a table, by the field's own pattern or in the usual way; null if the text is none.</summary>
    private static string? Begins(FieldInfo field, string text) =>
        field.Pattern is { } pattern && DatePattern.Parse(pattern)?.Read(text) is { } at
            ? at.TimeOfDay == TimeSpan.Zero
                ? Day(at)
                : at.ToString("yyyy-MM-dd'T'HH:mm:ss", CultureInfo.InvariantCulture)
            : Period(field.At ?? "day", text);

    /// <summary>
    /// The first day of a period as it is written in a table: 2024, Q1 2024, Jan 2024, week of 3 Mar 2025, 3 Mar 2025; null if the text is
    /// none.
    /// </summary>
    internal static string? Period(string at, string text)
    {
        string? Read(string written, params string[] forms) =>
            DateOnly.TryParseExact(written, forms, CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)
                ? day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
                : null;
        return at switch
        {
            "year" => Read(text, "yyyy"),
            "quarter" when text is ['Q', >= '1' and <= '4', ' ', ..] => Read($"{((text[1] - '1') * 3) + 1} {text[3..]}", "M yyyy"),
            "month" => Read(text, "MMM yyyy"),
            "week" when text.StartsWith("week of ", StringComparison.Ordinal) => Read(text[8..], "d MMM yyyy"),
            "day" => Read(text, "d MMM yyyy"),
            _ => null,
        };
    }

    /// <summary>True for equal values: numbers by their size, dates and instants as the texts that they travel as.</summary>
    public static bool AreSame(object? a, object? b) =>
        a is null || b is null ? a is null && b is null
        : a is bool || b is bool ? Equals(a, b)
        : decimal.TryParse(Text(a), NumberStyles.Float, CultureInfo.InvariantCulture, out var x)
        && decimal.TryParse(Text(b), NumberStyles.Float, CultureInfo.InvariantCulture, out var y)
            ? x == y
        : Text(a) == Text(b);

    private static string Text(object value) =>
        Values.Write(value) is var text && text.EndsWith("T00:00:00", StringComparison.Ordinal) ? text[..10] : text;
}
