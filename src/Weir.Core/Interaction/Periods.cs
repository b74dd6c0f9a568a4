using Weir.Core.Access;
using Weir.Core.Expressions;

namespace Weir.Core.Interaction;

/// <summary>Picked periods as spans of time.</summary>
public static class Periods
{
    /// <summary>A date or timestamp as an instant.</summary>
    public static DateTime Instant(object value) => value is DateOnly day ? day.ToDateTime(TimeOnly.MinValue) : (DateTime)value;

    /// <summary>The later of two.</summary>
    public static DateTime Max(DateTime a, DateTime b) => a > b ? a : b;

    /// <summary>The earlier of two.</summary>
    public static DateTime Min(DateTime a, DateTime b) => a < b ? a : b;

    /// <summary>True if the filter picks days or periods of the date that the grain rounds.</summary>
    public static bool AreOf(Bound.Grain grain, AppliedFilter filter, Scope scope) =>
        filter.Selection is { RestOf: null, Excludes: false, Contains: null }
        && (filter.Fields.Count == 1 || filter.Selection is { Each: not null, Members.Count: 0, Path.Count: 0 })
        && Fields.At(filter.Fields[0], scope) is { } formula
        && (
            (formula == grain.Argument && (formula.Kind == ValueKind.Date || filter.Selection is { Range: not null, Members.Count: 0 }))
            || (formula is Bound.Grain other && other.Argument == grain.Argument)
        );

    /// <summary>Each picked period, start included, end excluded.</summary>
    public static IEnumerable<(DateTime From, DateTime To)> Picked(AppliedFilter filter, Scope scope, DayOfWeek weekStart)
    {
        var grain = (Fields.At(filter.Fields[0], scope) as Bound.Grain)?.Of ?? DateGrain.Day;
        if (filter.Selection.Range is { } range)
            yield return (range.From is { } from ? Instant(from) : DateTime.MinValue, range.To is { } to ? Instant(to) : DateTime.MaxValue);
        foreach (
            var span in filter
                .Selection.Members.Select(m => m[0])
                .OfType<object>()
                .Select(v => Calendar.Floor(Instant(v), grain, weekStart))
                .Select(s => (s, Calendar.Add(s, grain, 1)))
        )
            yield return span;
    }

    /// <summary>Spans in order, those that touch or overlap as one.</summary>
    public static IReadOnlyList<(DateTime From, DateTime To)> Merged(IEnumerable<(DateTime From, DateTime To)> spans)
    {
        var merged = new List<(DateTime From, DateTime To)>();
        foreach (var span in spans.OrderBy(s => s.From))
            if (merged.Count > 0 && span.From <= merged[^1].To)
                merged[^1] = (merged[^1].From, Max(merged[^1].To, span.To));
            else
                merged.Add(span);
        return merged;
    }

    /// <summary>What lies in a span of both.</summary>
    public static IReadOnlyList<(DateTime From, DateTime To)> Common(
        IReadOnlyList<(DateTime From, DateTime To)> some,
        IReadOnlyList<(DateTime From, DateTime To)> others
    ) =>
        [
            .. some.SelectMany(a => others.Select(b => (From: Max(a.From, b.From), To: Min(a.To, b.To))))
                .Where(s => s.From < s.To)
                .OrderBy(s => s.From),
        ];
}
