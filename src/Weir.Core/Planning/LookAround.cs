using Weir.Core.Access;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Results;

namespace Weir.Core.Planning;

/// <summary>
/// Figures that look at other lines of the tile: running totals, shares, the period before, ranks. The database is asked for
/// the plain measures that they are made of; the rest is worked out here, the same for every engine.
/// </summary>
internal sealed class LookAround
{
    private readonly Query _query;
    private readonly List<Bound> _parts;
    private readonly int _firstFigure;

    private LookAround(Query query)
    {
        _query = query;
        _firstFigure = query.Groups.Count + (query.Top is { Rest: true } ? 1 : 0);
        _parts = [.. query.Figures.SelectMany(f => Plain(f.Formula)).Distinct()];
        var outputs = _parts.Select((p, i) => new Output(p, new Column($"p{i + 1}", "", ColumnRole.Figure, p.Kind, null, null))).ToList();
        // The order by a figure that looks around can be made only once it is known.
        Asked = query with
        {
            Figures = outputs,
            Order = [.. query.Order.Where(k => k.Column < _firstFigure || !Looks(query.Figures[k.Column - _firstFigure].Formula))
                .Select(k => k.Column < _firstFigure ? k : k with { Column = _firstFigure + _parts.IndexOf(query.Figures[k.Column - _firstFigure].Formula) })],
        };
    }

    /// <summary>What the database is asked.</summary>
    public Query Asked { get; }

    /// <summary>The steps for a question that has such figures; null if it has none.</summary>
    public static LookAround? Of(Query query) => query.Figures.Any(f => Looks(f.Formula)) ? new LookAround(query) : null;

    private static bool Looks(Bound formula) => formula.All().Any(b => b is Bound.Over);

    /// <summary>The measures that a formula is made of: whole if it does not look around, else what it looks at and its other aggregates.</summary>
    private static IEnumerable<Bound> Plain(Bound formula) => formula switch
    {
        _ when !Looks(formula) => [formula],
        Bound.Over over => [over.Inner],
        _ => formula.Children.Where(c => c.HasAggregate).SelectMany(Plain),
    };

    /// <summary>The answer with all figures.</summary>
    /// <param name="partial">The span of each first-group period that is not whole, within it: offsets of start and end.</param>
    public async Task<QueryAnswer> Complete(QueryAnswer answer, TileFilters filters, Func<object, (DateTime From, DateTime To)?> partial, DayOfWeek weekStart, Ask ask, CancellationToken cancellation)
    {
        var rows = answer.Table.Rows;
        object?[] Part(Bound inner) => answer.Table.Values[_firstFigure + _parts.IndexOf(inner)];
        var overs = _query.Figures.SelectMany(f => f.Formula.All().OfType<Bound.Over>()).Distinct().ToList();
        var values = new Dictionary<Bound.Over, object?[]>();
        foreach (var over in overs)
            values[over] = over.Function switch
            {
                OverFunction.RunningTotal => Running(answer.Table, Part(over.Inner), over.Kind),
                OverFunction.Rank => Ranks(answer.Table, Part(over.Inner)),
                OverFunction.Share => Shares(Part(over.Inner), over.Option == "all" ? await Base(over.Inner, ask, cancellation) : Sum(Part(over.Inner))),
                _ => await Previous(answer.Table, over, filters, partial, weekStart, ask, cancellation),
            };
        var evaluator = new Evaluator(weekStart);
        object? Figure(Bound formula, int row) => !Looks(formula) ? Part(formula)[row] : evaluator.Value(Known(formula, row), _ => throw new InvalidOperationException("A measure has no column."));
        Bound Known(Bound formula, int row) => formula switch
        {
            Bound.Over over => new Bound.Literal(values[over][row], over.Kind),
            _ when !Looks(formula) && formula.HasAggregate => new Bound.Literal(Part(formula)[row], formula.Kind),
            Bound.Op op => op with { Arguments = [.. op.Arguments.Select(a => Known(a, row))] },
            _ => formula,
        };
        List<object?[]> columns = [.. answer.Table.Values.Take(_firstFigure), .. _query.Figures.Select(f => Enumerable.Range(0, rows).Select(r => Figure(f.Formula, r)).ToArray())];
        var order = Enumerable.Range(0, rows).ToArray();
        if (_query.Order.FirstOrDefault(k => k.Column >= _firstFigure && Looks(_query.Figures[k.Column - _firstFigure].Formula)) is { } key)
            order = [.. order.OrderBy(r => columns[key.Column][r], Comparer<object?>.Create((a, b) => (a, b) switch
            {
                (null, null) => 0,
                (null, _) => 1,
                (_, null) => -1,
                _ => key.Descending ? Evaluator.Compare(b, a) : Evaluator.Compare(a, b),
            }))];
        return answer with { Table = new Table(_query.Columns, [.. columns.Select(c => order.Select(r => c[r]).ToArray())]) };
    }

    /// <summary>The totals line: a share of all rows is the whole; the others have no total.</summary>
    public QueryAnswer Totals(QueryAnswer answer, DayOfWeek weekStart)
    {
        var evaluator = new Evaluator(weekStart);
        object? Part(Bound inner) => answer.Table.Values[_parts.IndexOf(inner)][0];
        Bound Known(Bound formula) => formula switch
        {
            Bound.Over { Function: OverFunction.Share } over => new Bound.Literal(Part(over.Inner) is null ? null : 1.0, ValueKind.Float),
            Bound.Over over => new Bound.Literal(null, over.Kind),
            _ when !Looks(formula) && formula.HasAggregate => new Bound.Literal(Part(formula), formula.Kind),
            Bound.Op op => op with { Arguments = [.. op.Arguments.Select(Known)] },
            _ => formula,
        };
        return answer with { Table = Table.FromRows([.. _query.Figures.Select(f => f.Column)], [[.. _query.Figures.Select(f => evaluator.Value(Known(f.Formula), _ => null))]]) };
    }

    /// <summary>Lines that belong together: equal in all groups but the first.</summary>
    private IEnumerable<List<int>> Series(Table table) => Enumerable.Range(0, table.Rows)
        .GroupBy(r => new Members([.. Enumerable.Range(1, Math.Max(0, _query.Groups.Count - 1)).Select(g => table.Values[g][r])])).Select(g => g.ToList());

    private bool IsRest(Table table, int row) => _query.Top is { Rest: true } && table.Values[_query.Groups.Count][row] is true;

    private object?[] Running(Table table, object?[] figures, ValueKind kind)
    {
        var result = new object?[table.Rows];
        foreach (var series in Series(table))
        {
            // Periods in calendar order whatever the tile's order; other members as they are shown.
            var inOrder = _query.Groups.Count > 0 && (_query.Groups[0].Formula.Kind.IsTemporal() || _query.Groups[0].Formula is Bound.Part)
                ? series.Where(r => table.Values[0][r] is not null).OrderBy(r => table.Values[0][r]!, Comparer<object>.Create(Evaluator.Compare)) : series.AsEnumerable();
            object? sum = null;
            foreach (var r in inOrder)
                result[r] = sum = Add(sum, figures[r], kind);
        }
        return result;
    }

    private static object? Add(object? a, object? b, ValueKind kind) => (a, b) switch
    {
        (null, _) => b,
        (_, null) => a,
        _ => kind switch
        {
            ValueKind.Integer => checked((long)a + (long)b),
            ValueKind.Decimal => Convert.ToDecimal(a) + Convert.ToDecimal(b),
            _ => Convert.ToDouble(a) + Convert.ToDouble(b),
        },
    };

    private static object? Sum(object?[] figures) => figures.OfType<object>().Aggregate((object?)null, (s, f) => (s is null ? 0.0 : Convert.ToDouble(s)) + Convert.ToDouble(f));

    private async Task<object?> Base(Bound inner, Ask ask, CancellationToken cancellation) =>
        (await ask(Planner.Totals(Asked), cancellation)).Table.Values[_parts.IndexOf(inner)][0];

    private static object?[] Shares(object?[] figures, object? whole) =>
        [.. figures.Select(f => f is null || whole is null || Convert.ToDouble(whole) == 0 ? (object?)null : Convert.ToDouble(f) / Convert.ToDouble(whole))];

    private object?[] Ranks(Table table, object?[] figures)
    {
        var result = new object?[table.Rows];
        foreach (var series in Series(table))
        {
            var ranked = series.Where(r => figures[r] is not null && !IsRest(table, r)).ToList();
            foreach (var r in ranked)
                result[r] = 1L + ranked.Count(o => Evaluator.Compare(figures[o]!, figures[r]!) > 0);
        }
        return result;
    }

    private async Task<object?[]> Previous(Table table, Bound.Over over, TileFilters filters, Func<object, (DateTime From, DateTime To)?> partial, DayOfWeek weekStart, Ask ask, CancellationToken cancellation)
    {
        var result = new object?[table.Rows];
        if (_query.Groups is not [{ Formula: Bound.Grain grain }, ..] || _query.Top is not null)
            return result;
        DateTime Earlier(DateTime period) => period.Year < 2 ? period // before the first year there is none
            : over.Option == "year"
            // The same week of the year before is 52 weeks away, so that it begins on the same day.
            ? grain.Of == DateGrain.Week ? period.AddDays(-364) : period.AddYears(-1)
            : Calendar.Add(period, grain.Of, -1);
        var periods = table.Values[0].OfType<object>().Distinct().ToList();
        if (periods.Count == 0)
            return result;

        // The earlier periods may lie outside the picked ones: those say which periods are shown, not which are compared.
        var spans = filters.Applied.Where(f => Periods.AreOf(grain, f, _query.Scope)).Select(f => f.Condition).ToHashSet();
        List<Bound> where = [.. _query.Where.Where(w => !spans.Contains(w))];
        var starts = periods.Select(p => Earlier(Periods.Instant(p))).ToList();
        var inner = new Output(over.Inner, new Column("p1", "", ColumnRole.Figure, over.Inner.Kind, null, null));
        var reach = Bound.Between(grain.Argument, starts.Min(), Calendar.Add(starts.Max(), grain.Of, 1));
        var before = await ask(_query with { Where = [.. where, reach], Figures = [inner], Order = [], Limit = 1_000_000 }, cancellation);
        var known = Lookup(before.Table, fromGroup: 0);

        // A period that is not whole is compared with the same span of the earlier one.
        var parts = new Dictionary<object, Dictionary<Members, object?>>();
        foreach (var period in periods)
            if (partial(period) is { } span)
            {
                var (start, earlier) = (Periods.Instant(period), Earlier(Periods.Instant(period)));
                var end = Calendar.Add(earlier, grain.Of, 1);
                var (from, to) = (earlier + (span.From - start), Periods.Min(earlier + (span.To - start), end));
                var some = from < to
                    ? await ask(_query with { Where = [.. where, Bound.Between(grain.Argument, from, to)], Groups = [.. _query.Groups.Skip(1)], Figures = [inner], Order = [], Limit = 1_000_000 }, cancellation)
                    : null;
                parts[period] = some is null ? [] : Lookup(some.Table, fromGroup: 0);
            }
        for (var r = 0; r < table.Rows; r++)
        {
            if (table.Values[0][r] is not { } period)
                continue;
            object?[] others = [.. Enumerable.Range(1, _query.Groups.Count - 1).Select(g => table.Values[g][r])];
            var earlier = Earlier(Periods.Instant(period));
            result[r] = parts.TryGetValue(period, out var some)
                ? some.GetValueOrDefault(new Members(others))
                : known.GetValueOrDefault(new Members([grain.Kind == ValueKind.Date ? DateOnly.FromDateTime(earlier) : earlier, .. others]));
        }
        return result;
    }

    private static Dictionary<Members, object?> Lookup(Table table, int fromGroup)
    {
        var groups = table.Columns.Count - 1;
        return Enumerable.Range(0, table.Rows).ToDictionary(r => new Members([.. Enumerable.Range(fromGroup, groups - fromGroup).Select(g => table.Values[g][r])]), r => table.Values[^1][r]);
    }

    private sealed record Members(object?[] Values)
    {
        public bool Equals(Members? other) => other is not null && Values.SequenceEqual(other.Values);

        public override int GetHashCode() => Values.Aggregate(0, HashCode.Combine);
    }
}
