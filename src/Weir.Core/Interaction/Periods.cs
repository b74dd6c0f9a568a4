using Weir.Core.Access;
using Weir.Core.Definitions;
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
        filter.Fields is [var only] && filter.Selection is { RestOf: null, Excludes: false, Contains: null } && Fields.At(only, scope) is { } formula
        && ((formula == grain.Argument && (formula.Kind == ValueKind.Date || filter.Selection is { Range: not null, Members.Count: 0 })) || (formula is Bound.Grain other && other.Argument == grain.Argument));

    /// <summary>Each picked period, start included, end excluded.</summary>
    public static IEnumerable<(DateTime From, DateTime To)> Picked(AppliedFilter filter, Scope scope, DayOfWeek weekStart)
    {
        var grain = (Fields.At(filter.Fields[0], scope) as Bound.Grain)?.Of ?? DateGrain.Day;
        if (filter.Selection.Range is { } range)
            yield return (range.From is { } from ? Instant(from) : DateTime.MinValue, range.To is { } to ? Instant(to) : DateTime.MaxValue);
        foreach (var span in filter.Selection.Members.Select(m => m[0]).OfType<object>()
            .Select(v => Calendar.Floor(Instant(v), grain, weekStart))
            .Select(s => (s, Calendar.Add(s, grain, 1))))
            yield return span;
    }
}
