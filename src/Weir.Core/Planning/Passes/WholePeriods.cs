using Weir.Core.Access;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>
/// Which periods of a question are not whole, since the data or the picked periods begin or end inside them: those of its first
/// group, or those that a month or quarter of the year and a year name together, as in month by month with a line for each year.
/// </summary>
internal sealed class WholePeriods
{
    private readonly int _group;
    private readonly int _other;
    private readonly bool _isYearFirst;

    private WholePeriods(Bound.Grain grain, int group = 0, int other = -1, bool isYearFirst = false)
    {
        _group = group;
        Grain = grain;
        _other = other;
        _isYearFirst = isYearFirst;
    }

    /// <summary>The pass: asks how far the data reach, and marks the periods that are not whole.</summary>
    public static TilePlan Apply(TilePlan plan)
    {
        if (plan.Tile.Change is not null || Of(plan) is not { } periods)
            return plan;
        return plan.Asking(
                new PlannedQuestion(
                    TilePlan.Bounds,
                    "the first and the last date of the data, for marking periods that are not whole",
                    Planner.Bounds(plan.Scope, periods.Grain)
                )
            )
            .Then(
                "marks at periods that are not whole",
                (answers, answer) =>
                    Reach(plan, answers) is not { } reach ? answer
                    : periods.ArePairs ? answer with { PartialPairs = periods.Pairs(answer.Table, reach) }
                    : answer with
                    {
                        Partial =
                        [
                            .. answer
                                .Table.Values[periods._group]
                                .OfType<object>()
                                .Distinct()
                                .Where(p => PartOf(Periods.Instant(p), periods.Grain.Of, reach) is not null),
                        ],
                    }
            );
    }

    /// <summary>The spans that the data and the picked periods reach; null if there are no data.</summary>
    public static IReadOnlyList<(DateTime From, DateTime To)>? Reach(TilePlan plan, Answers answers) =>
        answers.Of(TilePlan.Bounds) is { } bounds ? Of(plan)!.Reach(bounds.Table, plan.Filters, plan.Scope, plan.WeekStart) : null;

    /// <summary>The date and the length of the periods.</summary>
    public Bound.Grain Grain { get; }

    /// <summary>True if two groups name a period together.</summary>
    public bool ArePairs => _other >= 0;

    /// <summary>The periods of a tile: of a cross table those that stand across, where those down are none.</summary>
    private static WholePeriods? Of(TilePlan plan) =>
        Of(plan.Shown)
        ?? (
            plan.Tile.Picture.HasSubtotals
            && plan.Shown
                is { Figures.Count: > 0, Groups: [.., { Formula: Bound.Grain { Of: not (DateGrain.Day or DateGrain.Hour) } across }] }
                ? new WholePeriods(across, plan.Shown.Groups.Count - 1)
                : null
        );

    /// <summary>The periods of a question; null if it has none that could be cut.</summary>
    public static WholePeriods? Of(Query query)
    {
        if (query.Figures.Count == 0)
            return null;
        if (query.Groups is [{ Formula: Bound.Grain { Of: not (DateGrain.Day or DateGrain.Hour) } first }, ..])
            return new WholePeriods(first);
        for (var other = 1; other < query.Groups.Count; other++)
        {
            var (a, b) = (query.Groups[0].Formula, query.Groups[other].Formula);
            if (Pair(a, b) is { } ab)
                return new WholePeriods(ab, other: other);
            if (Pair(b, a) is { } ba)
                return new WholePeriods(ba, other: other, isYearFirst: true);
        }
        return null;
    }

    private static Bound.Grain? Pair(Bound part, Bound year)
    {
        var of = year switch
        {
            Bound.Grain { Of: DateGrain.Year } grain => grain.Argument,
            Bound.Part { Of: DatePart.YearNumber } number => number.Argument,
            _ => null,
        };
        return part is Bound.Part { Of: DatePart.MonthOfYear or DatePart.QuarterOfYear } within && within.Argument == of
            ? new Bound.Grain(of, within.Of == DatePart.MonthOfYear ? DateGrain.Month : DateGrain.Quarter)
            : null;
    }

    /// <summary>The first instant of the period that two members name; null unless both are given.</summary>
    private DateTime? Start(object? first, object? second)
    {
        var (part, year) = _isYearFirst ? (second, first) : (first, second);
        int? number = year switch
        {
            long n and > 0 and < 9999 => (int)n,
            DateOnly or DateTime => Periods.Instant(year).Year,
            _ => null,
        };
        return number is { } y && part is long p ? new DateTime(y, Grain.Of == DateGrain.Month ? (int)p : ((int)p * 3) - 2, 1) : null;
    }

    /// <summary>The pairs of members of the first group and of the other that names a period with it, whose periods are not whole.</summary>
    public IReadOnlyList<(object First, object Second)> Pairs(Table table, IReadOnlyList<(DateTime From, DateTime To)> reach) =>
        [
            .. Enumerable
                .Range(0, table.Rows)
                .Select(r => (First: table.Values[0][r], Second: table.Values[_other][r]))
                .Distinct()
                .Where(p => Start(p.First, p.Second) is { } start && PartOf(start, Grain.Of, reach) is not null)
                .Select(p => (p.First!, p.Second!)),
        ];

    /// <summary>The spans that the data and the picked periods reach, in order and apart; null if there are no data.</summary>
    /// <param name="bounds">The answer to <see cref="Planner.Bounds"/>.</param>
    public IReadOnlyList<(DateTime From, DateTime To)>? Reach(Table bounds, TileFilters filters, Scope scope, DayOfWeek weekStart)
    {
        if (bounds.Values[0][0] is not { } first || bounds.Values[1][0] is not { } last)
            return null;
        IReadOnlyList<(DateTime From, DateTime To)> reach =
        [
            (
                Calendar.Floor(Periods.Instant(first), DateGrain.Day, weekStart),
                Calendar.Add(Calendar.Floor(Periods.Instant(last), DateGrain.Day, weekStart), DateGrain.Day, 1)
            ),
        ];
        foreach (var filter in filters.Applied.Where(f => Periods.AreOf(Grain, f, scope)))
            if (Periods.Merged(Periods.Picked(filter, scope, weekStart)) is { Count: > 0 } spans)
                reach = Periods.Common(reach, spans);
        return reach;
    }

    /// <summary>The span of a period that is reached; null if it is reached whole.</summary>
    public static (DateTime From, DateTime To)? PartOf(DateTime start, DateGrain grain, IReadOnlyList<(DateTime From, DateTime To)> reach)
    {
        var end = Calendar.Add(start, grain, 1);
        if (reach.Any(r => start >= r.From && end <= r.To))
            return null;
        var parts = Periods.Common(reach, [(start, end)]);
        return parts.Count == 0 ? (start, start) : (parts[0].From, parts[^1].To);
    }
}
