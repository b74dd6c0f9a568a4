using System.Globalization;
using System.Text.RegularExpressions;
using Cronos;
using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>When something is done again and again, in the time of a zone.</summary>
/// <param name="Words">It in words: <c>every weekday at 08:30</c>.</param>
/// <param name="Lines">The same as lines of cron; it is due when any of them is.</param>
/// <param name="Zone">The zone, by its IANA name.</param>
/// <param name="Except">Days of the zone on which it is not done, both ends included.</param>
/// <param name="SkipsMissed">True if what was missed while the service was down is left out; else it is done once, late.</param>
/// <remarks>
/// A time of day that is skipped when the clock goes forward is due at the end of the gap, one that comes twice when it goes back is
/// due once.
/// </remarks>
public sealed partial record Timing(
    string Words,
    IReadOnlyList<string> Lines,
    string Zone,
    IReadOnlyList<(DateOnly From, DateOnly Until)> Except,
    bool SkipsMissed
)
{
    /// <summary>Nothing may be due more often than in so many minutes.</summary>
    public const int LeastMinutes = 5;

    private const int MostLooked = 5_000;

    /// <summary>The times at which it is due, in order, without end unless there is none any more.</summary>
    /// <param name="after">Excluded.</param>
    public IEnumerable<DateTimeOffset> After(DateTimeOffset after)
    {
        var zone = TimeZoneInfo.FindSystemTimeZoneById(Zone);
        List<CronExpression> lines = [.. Lines.Select(l => CronExpression.Parse(l))];
        for (var looked = 0; looked < MostLooked; looked++)
        {
            var next = lines.Select(l => l.GetNextOccurrence(after, zone)).Min();
            if (next is not { } due)
                yield break;
            after = due;
            var day = DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(due, zone).DateTime);
            if (Except.Any(e => day >= e.From && day <= e.Until))
                continue;
            looked = 0;
            yield return due;
        }
    }

    /// <summary>True if two of its next times follow one another within less than a span.</summary>
    public bool IsMoreOftenThan(TimeSpan span, DateTimeOffset from)
    {
        var some = After(from).Take(400).ToList();
        return some.Zip(some.Skip(1)).Any(p => p.Second - p.First < span);
    }

    /// <summary>The newest of the times at which it was due within an interval; null if there was none. And how many there were.</summary>
    /// <param name="after">Excluded.</param>
    /// <param name="until">Included.</param>
    public (DateTimeOffset? Newest, int Count) Within(DateTimeOffset after, DateTimeOffset until)
    {
        DateTimeOffset? newest = null;
        var count = 0;
        foreach (var due in After(after).TakeWhile(d => d <= until).Take(MostLooked))
            (newest, count) = (due, count + 1);
        return (newest, count);
    }

    /// <summary>Reads times in words.</summary>
    /// <returns>The words as they are said back, and the lines of cron; null if they mean nothing.</returns>
    /// <example><c>every weekday at 08:30 and 17:00</c>, <c>every month on the last day at 18:00</c>, <c>every 15 minutes from 06:00 to 20:00</c></example>
    public static (string Words, IReadOnlyList<string> Lines)? OfWords(string written)
    {
        var text = Spaces().Replace(written.Trim().ToLowerInvariant(), " ");
        if (!text.StartsWith("every ", StringComparison.Ordinal))
            text = "every " + text;
        if (Monthly().Match(text) is { Success: true } month && TimesOf(month.Groups["times"].Value) is { } at)
            return MonthDay(month) is { } day
                ? ($"every month on {Capitals(month.Groups["on"].Value)} at {Said(at)}", [.. at.Select(t => $"{t.Minute} {t.Hour} {day}")])
                : null;
        if (Daily().Match(text) is { Success: true } daily && TimesOf(daily.Groups["times"].Value) is { } times)
            return DaysOf(daily.Groups["days"].Value) is { } days
                ? ($"every {days.Said} at {Said(times)}", [.. times.Select(t => $"{t.Minute} {t.Hour} * * {days.Cron}")])
                : null;
        return Often().Match(text) is { Success: true } often ? Repeated(often) : null;
    }

    private static (string, IReadOnlyList<string>)? Repeated(Match often)
    {
        var count = often.Groups["count"] is { Success: true, Value: var n } ? int.Parse(n, CultureInfo.InvariantCulture) : 1;
        var isHours = often.Groups["unit"].Value.StartsWith("hour", StringComparison.Ordinal);
        if (count < 1 || (isHours ? 24 : 60) % count != 0 || (!isHours && count < LeastMinutes))
            return null;
        var unit = isHours ? "hour" : "minute";
        var words = count == 1 ? $"every {unit}" : $"every {count} {unit}s";
        (string Said, string Cron) days = ("day", "*");
        if (often.Groups["days"].Success)
        {
            if (DaysOf(often.Groups["days"].Value) is not { } named)
                return null;
            days = named;
        }
        var tail = days.Cron == "*" ? "" : $" on {string.Join(" and ", days.Said.Split(" and ").Select(d => d + "s"))}";
        if (!often.Groups["from"].Success)
            return (words + tail, [isHours ? $"0 */{count} * * {days.Cron}" : $"*/{count} * * * {days.Cron}"]);
        if (
            TimesOf(often.Groups["from"].Value) is not [{ Minute: 0 } from]
            || TimesOf(often.Groups["until"].Value) is not [{ Minute: 0 } until]
        )
            return null;
        if (until <= from)
            return null;
        words += $" from {from:HH:mm} to {until:HH:mm}{tail}";
        return isHours
            ? (words, [$"0 {from.Hour}-{until.Hour}/{count} * * {days.Cron}"])
            : (words, [$"*/{count} {from.Hour}-{until.Hour - 1} * * {days.Cron}", $"0 {until.Hour} * * {days.Cron}"]);
    }

    private static string? MonthDay(Match month)
    {
        if (month.Groups["day"] is { Success: true, Value: var day })
            return int.Parse(day, CultureInfo.InvariantCulture) is >= 1 and <= 28 and var n ? $"{n} * *" : null;
        if (month.Groups["which"] is not { Success: true, Value: var which })
            return "L * *";
        var place = Array.IndexOf(Ordinals, which) + 1;
        return DayNumber(month.Groups["weekday"].Value) is { } number ? $"* * {number}{(place == 5 ? "L" : $"#{place}")}" : null;
    }

    private static (string Said, string Cron)? DaysOf(string days)
    {
        switch (days.TrimEnd('s'))
        {
            case "day":
                return ("day", "*");
            case "weekday":
                return ("weekday", "1-5");
        }
        var names = days.Split([", ", " and ", ","], StringSplitOptions.RemoveEmptyEntries);
        var numbers = names.Select(DayNumber).ToList();
        return numbers.Contains(null)
            ? null
            : (
                Sentences.And(numbers.Select(n => CultureInfo.InvariantCulture.DateTimeFormat.GetDayName((DayOfWeek)n!))),
                string.Join(",", numbers)
            );
    }

    private static int? DayNumber(string name)
    {
        var singular = name.Trim().TrimEnd('s');
        var found = Array.FindIndex(
            CultureInfo.InvariantCulture.DateTimeFormat.DayNames,
            d => d.Equals(singular, StringComparison.OrdinalIgnoreCase)
        );
        return found < 0 ? null : found;
    }

    private static List<TimeOnly>? TimesOf(string times)
    {
        var read = new SortedSet<TimeOnly>();
        foreach (var written in times.Split([", ", " and ", ","], StringSplitOptions.RemoveEmptyEntries))
            if (
                TimeOnly.TryParseExact(
                    written.Trim(),
                    ["HH:mm", "H:mm", "HH", "%H"],
                    CultureInfo.InvariantCulture,
                    DateTimeStyles.None,
                    out var at
                )
            )
                read.Add(at);
            else
                return null;
        return read.Count is 0 or > 24 ? null : [.. read];
    }

    private static string Said(IEnumerable<TimeOnly> times) =>
        Sentences.And(times.Select(t => t.ToString("HH:mm", CultureInfo.InvariantCulture)));

    private static string Capitals(string words) => DayNames().Replace(words, m => char.ToUpperInvariant(m.Value[0]) + m.Value[1..]);

    private static readonly string[] Ordinals = ["first", "second", "third", "fourth", "last"];

    [GeneratedRegex(@"\s+")]
    private static partial Regex Spaces();

    [GeneratedRegex(
        @"^every month on (?<on>(the )?(day (?<day>\d{1,2})|last day|(?<which>first|second|third|fourth|last) (?<weekday>[a-z]+day))) at (?<times>[0-9:, and]+)\z"
    )]
    private static partial Regex Monthly();

    [GeneratedRegex(@"^every (?<days>[a-z, ]+?) at (?<times>[0-9:, and]+)\z")]
    private static partial Regex Daily();

    [GeneratedRegex(
        @"^every ((?<count>\d{1,2}) )?(?<unit>minutes?|hours?)( from (?<from>[0-9:]+) to (?<until>[0-9:]+))?( on (?<days>[a-z, ]+))?\z"
    )]
    private static partial Regex Often();

    [GeneratedRegex("monday|tuesday|wednesday|thursday|friday|saturday|sunday")]
    private static partial Regex DayNames();
}

/// <summary>Reads when something is due.</summary>
internal static partial class TimingReader
{
    private static readonly Shape AnyText = new Shape.Text();

    public static Shape.Keys Shape { get; } =
        new(
            new Key(
                "when",
                AnyText,
                "In words: every weekday at 08:30; every month on the last day at 18:00; every 15 minutes from 06:00 to 20:00."
            ),
            new Key("cron", AnyText, "The same as a line of cron with five fields, in place of when."),
            new Key("zone", AnyText, "The time zone, by its IANA name; the workspace's if left out."),
            new Key("except", new Shape.ListOf(AnyText), "Days on which it is not due: 2027-01-01, or 2026-12-24 to 2027-01-01."),
            new Key(
                "missed",
                new Shape.Text("once", "skip"),
                "What was missed while the service was down is done once, late, or skipped. once if left out."
            )
        );

    /// <param name="zone">The zone of the workspace.</param>
    /// <returns>Null if it can't be read.</returns>
    public static Timing? Read(YamlText text, YamlMappingNode node, string zone)
    {
        var (when, cron) = (YamlText.Node(node, "when") as YamlScalarNode, YamlText.Node(node, "cron") as YamlScalarNode);
        if ((when ?? cron) is not { Value: { } written } at || (when is not null && cron is not null))
        {
            text.Report("bad-schedule", node, "A schedule has either when or cron.", "Write when: every weekday at 08:30.");
            return null;
        }
        if (YamlText.Node(node, "zone") is YamlScalarNode { Value: { } named } zoneAt)
        {
            zone = named;
            if (!TimeZoneInfo.TryFindSystemTimeZoneById(named, out _))
            {
                text.Report("unknown-zone", zoneAt, $"There is no time zone {named}.", "Use a name such as Atlantic/Azores or UTC.");
                return null;
            }
        }
        var read =
            when is not null ? Timing.OfWords(written)
            : CronExpression.TryParse(written, out _) ? ($"cron {written}", [written])
            : null;
        if (read is not { } times)
        {
            text.Report(
                "bad-schedule",
                at,
                when is null ? $"'{written}' is no line of cron with five fields." : $"'{written}' is no time that can be read.",
                when is null
                    ? "Write cron: \"30 8 * * 1-5\"."
                    : "Write: every weekday at 08:30; every Monday and Friday at 07:00; every month on day 1, on the last day or on the first Monday at 06:00; "
                        + "every 15 minutes from 06:00 to 20:00 on weekdays (a part of an hour or day, five minutes at least)."
            );
            return null;
        }
        var except = Days(text, node);
        var timing = new Timing(times.Words, times.Lines, zone, except, YamlText.Value(node, "missed") == "skip");
        // Some hundred of its times say whether they are too near to one another; a day that never comes is a mistake.
        var from = new DateTimeOffset(2026, 1, 1, 0, 0, 0, TimeSpan.Zero);
        if (!timing.After(from).Any())
            text.Report("never-due", at, $"'{written}' is never due.");
        else if (timing.IsMoreOftenThan(TimeSpan.FromMinutes(Timing.LeastMinutes), from))
            text.Report("too-often", at, $"'{written}' is due more often than every {Timing.LeastMinutes} minutes.");
        else
            return timing;
        return null;
    }

    private static List<(DateOnly, DateOnly)> Days(YamlText text, YamlMappingNode node)
    {
        var days = new List<(DateOnly, DateOnly)>();
        foreach (var item in YamlText.Items(YamlText.Node(node, "except")))
        {
            var parts = item.Value!.Split(" to ", StringSplitOptions.TrimEntries);
            if (
                parts.Length <= 2
                && DateOnly.TryParseExact(parts[0], "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var from)
                && DateOnly.TryParseExact(parts[^1], "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var until)
                && from <= until
            )
                days.Add((from, until));
            else
                text.Report("bad-day", item, $"'{item.Value}' is no day.", "Write 2027-01-01, or 2026-12-24 to 2027-01-01.");
        }
        return days;
    }
}
