using System.Globalization;
using System.Text.RegularExpressions;

namespace Weir.Core.Expressions;

/// <summary>
/// A span of time told from now: <c>last 30 days</c>, <c>this quarter to date</c>, <c>previous month</c>, <c>all time</c>, or
/// fixed: <c>2025-03-01 to 2025-03-31</c>, both days included. It is worked out at the time of viewing.
/// </summary>
public abstract partial record RelativePeriod
{
    /// <summary>What can be written, for error messages.</summary>
    public const string Help =
        "Write last 30 days, last 12 months, this quarter, this quarter to date, previous month, today, all time, or 2025-03-01 to 2025-03-31.";

    private sealed record All : RelativePeriod;

    private sealed record Last(int Count, DateGrain Grain) : RelativePeriod;

    private sealed record This(DateGrain Grain, int Offset, bool ToDate) : RelativePeriod;

    private sealed record Fixed(DateOnly From, DateOnly To) : RelativePeriod;

    /// <summary>Reads a period; null if the text is none.</summary>
    public static RelativePeriod? Parse(string text)
    {
        var words = text.Trim().ToLowerInvariant();
        if (words == "all time")
            return new All();
        if (words is "today" or "yesterday")
            return new This(DateGrain.Day, words == "today" ? 0 : -1, ToDate: false);
        if (
            LastSome().Match(words) is { Success: true } last
            && int.TryParse(last.Groups[1].Value, NumberStyles.None, CultureInfo.InvariantCulture, out var count)
            && count is > 0 and <= 5000
        )
            return new Last(count, Enum.Parse<DateGrain>(last.Groups[2].Value, ignoreCase: true));
        if (ThisOne().Match(words) is { Success: true } one && !(one.Groups[1].Value == "previous" && one.Groups[3].Success))
            return new This(
                Enum.Parse<DateGrain>(one.Groups[2].Value, ignoreCase: true),
                one.Groups[1].Value == "this" ? 0 : -1,
                one.Groups[3].Success
            );
        if (
            FromTo().Match(words) is { Success: true } ends
            && Day(ends.Groups[1].Value) is { } from
            && Day(ends.Groups[2].Value) is { } to
            && from <= to
        )
            return new Fixed(from, to);
        return null;
    }

    private static DateOnly? Day(string text) =>
        DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) && day.Year < 9990
            ? day
            : null;

    /// <summary>The span, start included, end excluded; null for all time.</summary>
    /// <param name="now">The time of viewing in the viewer's zone.</param>
    public (DateTime From, DateTime To)? Span(DateTime now, DayOfWeek weekStart)
    {
        switch (this)
        {
            case Last last:
                // Whole days, the present one too; hours back from this hour.
                var end =
                    last.Grain == DateGrain.Hour
                        ? Calendar.Add(Calendar.Floor(now, DateGrain.Hour, weekStart), DateGrain.Hour, 1)
                        : now.Date.AddDays(1);
                return (Back(end, last), end);
            case This one:
                var start = Calendar.Add(Calendar.Floor(now, one.Grain, weekStart), one.Grain, one.Offset);
                return (start, one.ToDate ? now.Date.AddDays(1) : Calendar.Add(start, one.Grain, 1));
            case Fixed days:
                return (days.From.ToDateTime(TimeOnly.MinValue), days.To.AddDays(1).ToDateTime(TimeOnly.MinValue));
            default:
                return null;
        }
    }

    /// <summary>So many periods before, but not before the calendar begins.</summary>
    private static DateTime Back(DateTime end, Last last)
    {
        var months =
            last.Grain switch
            {
                DateGrain.Year => 12,
                DateGrain.Quarter => 3,
                DateGrain.Month => 1,
                _ => 0,
            } * last.Count;
        var hours =
            last.Grain switch
            {
                DateGrain.Week => 168L,
                DateGrain.Day => 24L,
                DateGrain.Hour => 1L,
                _ => 0L,
            } * last.Count;
        return months >= (end.Year - 1) * 12 || hours >= (end - DateTime.MinValue).TotalHours
            ? DateTime.MinValue
            : Calendar.Add(end, last.Grain, -last.Count);
    }

    [GeneratedRegex(@"^last (\d{1,4}) (hour|day|week|month|quarter|year)s?$")]
    private static partial Regex LastSome();

    [GeneratedRegex(@"^(this|previous) (day|week|month|quarter|year)( to date)?$")]
    private static partial Regex ThisOne();

    [GeneratedRegex(@"^(\d{4}-\d{2}-\d{2}) to (\d{4}-\d{2}-\d{2})$")]
    private static partial Regex FromTo();
}
