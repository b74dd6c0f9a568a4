using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Results;

namespace Weir.Core.Planning;

/// <summary>An answered question.</summary>
/// <param name="Lines">How many lines there would be without the limit.</param>
public sealed record QueryAnswer(Table Table, long Lines)
{
    /// <summary>When the data were read; null if whoever answered does not tell.</summary>
    public DateTimeOffset? ReadAt { get; init; }
}

/// <summary>Asks a question where the data are: a database, a cache, memory.</summary>
public delegate Task<QueryAnswer> Ask(Query query, CancellationToken cancellation);

/// <summary>What a tile shows.</summary>
/// <param name="Lines">How many lines there would be without the limit; more than the table has if it was cut.</param>
/// <param name="Totals">For a table with totals: one line, each measure by its own aggregation over all rows.</param>
/// <param name="Change">For a number with a change.</param>
/// <param name="Partial">The periods of the first group that are not whole.</param>
public sealed record TileAnswer(Table Table, long Lines, Table? Totals, PeriodChange? Change, IReadOnlyList<object> Partial)
{
    /// <summary>Members of the first two groups that together name a period which is not whole: a month of the year, and a year.</summary>
    public IReadOnlyList<(object First, object Second)> PartialPairs { get; init; } = [];

    /// <summary>Asks all that a tile needs.</summary>
    public static async Task<TileAnswer> Get(Tile tile, Scope scope, TileFilters filters, Planner planner, int limit, DayOfWeek weekStart, Ask ask, CancellationToken cancellation)
    {
        var query = planner.Plan(tile, scope, filters, limit);
        if (tile.Change is not null)
        {
            var change = await PeriodChange.Get(tile, scope, filters, planner, weekStart, ask, cancellation);
            var value = Table.FromRows(query.Columns, [[change?.Value]]);
            return new TileAnswer(value, 1, null, change, []);
        }
        var look = LookAround.Of(query);
        var asked = look?.Asked ?? query;
        var periods = PartialPeriods.Of(query);
        // Asked side by side: none needs the answer of another.
        var answer = ask(asked with { ByMember = null }, cancellation);
        var totals = tile.Totals && query.Figures.Count > 0 ? ask(Planner.Totals(asked), cancellation) : null;
        var bounds = periods is null ? null : ask(Planner.Bounds(scope, periods.Grain), cancellation);
        var adds = query.ByMember is { } byMember && (scope.Measures[tile.Show[byMember.Figure]] is { IsAdditive: true } or { LooksAround: true });
        var members = MemberOrder.Question(query, adds) is { } question ? ask(question, cancellation) : null;
        await Task.WhenAll(new Task?[] { answer, totals, bounds, members }.OfType<Task>());
        var reach = bounds is null ? null : periods!.Reach(bounds.Result.Table, filters, scope, weekStart);
        (DateTime, DateTime)? Partial(object period) => reach is null || periods!.ArePairs ? null : PartialPeriods.PartOf(Periods.Instant(period), periods.Grain.Of, reach);
        var whole = look is null ? answer.Result : await look.Complete(answer.Result, filters, Partial, weekStart, ask, cancellation);
        whole = MemberOrder.Apply(query, whole, members?.Result.Table);
        var line = totals is null ? null : look is null ? totals.Result : look.Totals(totals.Result, weekStart);
        return new TileAnswer(whole.Table, whole.Lines, line?.Table, null, reach is null || periods!.ArePairs ? [] : PartialPeriods.Singles(whole.Table, Partial))
        {
            PartialPairs = reach is not null && periods!.ArePairs ? periods.Pairs(whole.Table, reach) : [],
        };
    }
}

/// <summary>
/// A measure in the newest period at hand and its change on the period before. A partial period is marked and compared
/// with the same span of the one before; the relative change is undefined when the earlier value is missing or zero.
/// </summary>
/// <param name="Period">The first day (or hour) of the newest period.</param>
/// <param name="Until">The end, excluded, of the span of it that has data and is selected.</param>
/// <param name="IsPartial">True if that span is not the whole period.</param>
/// <param name="Course">The measure in the periods up to this one, oldest first, gaps as null.</param>
public sealed record PeriodChange(
    Column PeriodColumn, object Period, DateTime From, DateTime Until, bool IsPartial, object? Value, object? Earlier, object EarlierPeriod, double? Relative, IReadOnlyList<object?> Course)
{
    private const int CourseLength = 13;

    internal static async Task<PeriodChange?> Get(Tile tile, Scope scope, TileFilters filters, Planner planner, DayOfWeek weekStart, Ask ask, CancellationToken cancellation)
    {
        var grain = (Bound.Grain)Fields.At(tile.Change!, scope)!;
        // Selections of periods say which period is shown; the others say which rows count.
        var spans = filters.Applied.Where(f => Periods.AreOf(grain, f, scope)).ToList();
        List<Bound> where = [.. filters.Path, .. filters.Applied.Except(spans).Select(f => f.Condition)];
        var all = await ask(planner.Course(tile, scope, where, 400), cancellation);
        if (all.Table.Rows == 0)
            return null;
        var newestData = Periods.Instant(all.Table.Values[2][0]!);
        var dataEnd = Calendar.Add(Calendar.Floor(newestData, grain.Of == DateGrain.Hour ? DateGrain.Hour : DateGrain.Day, weekStart), grain.Of == DateGrain.Hour ? DateGrain.Hour : DateGrain.Day, 1);

        var chosen = spans.Count == 0 ? (From: DateTime.MinValue, To: dataEnd) : Newest(spans, scope, weekStart, dataEnd);
        if (chosen.From >= chosen.To)
            return null;
        var start = Calendar.Floor(chosen.To.AddTicks(-1), grain.Of, weekStart);
        var end = Calendar.Add(start, grain.Of, 1);
        var from = Periods.Max(start, chosen.From);
        var until = chosen.To < end ? chosen.To : end;
        var earlier = Calendar.Add(start, grain.Of, -1);
        var isPartial = from != start || until != end;
        var course = CourseUpTo(all.Table, start, grain.Of, weekStart);

        object? value;
        object? before;
        if (isPartial)
        {
            value = await Span(tile, scope, filters, where, grain, from, until, planner, ask, cancellation);
            var (earlierFrom, earlierUntil) = (earlier + (from - start), Periods.Min(earlier + (until - start), start));
            before = earlierFrom < earlierUntil ? await Span(tile, scope, filters, where, grain, earlierFrom, earlierUntil, planner, ask, cancellation) : null;
        }
        else
            (value, before) = (course[^1], course[^2]);
        double? relative = value is null || before is null || Convert.ToDouble(before) == 0 ? null : (Convert.ToDouble(value) / Convert.ToDouble(before)) - 1;
        return new PeriodChange(planner.Group(tile.Change!, scope).Column, Shown(start, grain), from, until, isPartial, value, before, Shown(earlier, grain), relative, course);
    }

    private static object Shown(DateTime at, Bound.Grain grain) => grain.Kind == ValueKind.Date ? DateOnly.FromDateTime(at) : at;

    /// <summary>The newest span that all period selections leave, up to the end of the data.</summary>
    private static (DateTime From, DateTime To) Newest(List<AppliedFilter> spans, Scope scope, DayOfWeek weekStart, DateTime dataEnd)
    {
        var result = (From: DateTime.MinValue, To: dataEnd);
        foreach (var span in spans)
        {
            var periods = Periods.Picked(span, scope, weekStart).Where(s => s.From < result.To && s.To > result.From).ToList();
            if (periods.Count == 0)
                return (dataEnd, dataEnd);
            // Neighbouring periods make one span.
            var newest = periods.MaxBy(p => p.To);
            while (periods.FirstOrDefault(p => p.To == newest.From) is { From.Ticks: > 0 } before)
                newest.From = before.From;
            result = (Periods.Max(result.From, newest.From), Periods.Min(result.To, newest.To));
        }
        return result;
    }

    private static async Task<object?> Span(
        Tile tile, Scope scope, TileFilters filters, List<Bound> where, Bound.Grain grain, DateTime from, DateTime to, Planner planner, Ask ask, CancellationToken cancellation)
    {
        var query = planner.Plan(tile with { Change = null }, scope, filters, 1);
        var answer = await ask(query with { Where = [.. where, Bound.Between(grain.Argument, from, to)] }, cancellation);
        return answer.Table.Values[0][0];
    }

    private static List<object?> CourseUpTo(Table table, DateTime newest, DateGrain grain, DayOfWeek weekStart)
    {
        var values = Enumerable.Range(0, table.Rows).ToDictionary(r => Periods.Instant(table.Values[0][r]!), r => table.Values[1][r]);
        return [.. Enumerable.Range(-CourseLength + 1, CourseLength).Select(i => values.GetValueOrDefault(Calendar.Add(newest, grain, i)))];
    }
}
