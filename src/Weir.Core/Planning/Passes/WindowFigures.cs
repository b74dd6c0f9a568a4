using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>
/// Figures that look at other lines of the tile: running totals, shares, the period before, ranks. The database is asked for
/// the plain measures that they are made of; the rest is worked out here, the same for every engine.
/// </summary>
internal sealed class WindowFigures
{
    private readonly Query _query;
    private readonly List<Bound> _parts;
    private readonly int _firstFigure;

    private WindowFigures(Query query)
    {
        _query = query;
        _firstFigure = query.Groups.Count + (query.Top is { Rest: true } ? 1 : 0);
        _parts = [.. query.Figures.SelectMany(f => Plain(f.Formula)).Distinct()];
        var outputs = _parts.Select((p, i) => new Output(p, new Column($"p{i + 1}", "", ColumnRole.Figure, p.Kind, null, null))).ToList();
        // The order by a figure that looks around can be made only once it is known.
        Asked = query with
        {
            Figures = outputs,
            Order =
            [
                .. query
                    .Order.Where(k => k.Column < _firstFigure || !Looks(query.Figures[k.Column - _firstFigure].Formula))
                    .Select(k =>
                        k.Column < _firstFigure
                            ? k
                            : k with
                            {
                                Column = _firstFigure + _parts.IndexOf(query.Figures[k.Column - _firstFigure].Formula),
                            }
                    ),
            ],
        };
    }

    /// <summary>The pass: asks for the plain measures, for the whole that shares are of, and for earlier periods.</summary>
    public static TilePlan Apply(TilePlan plan)
    {
        if (Of(plan.Shown) is not { } window)
            return plan;
        var overs = plan.Shown.Figures.SelectMany(f => f.Formula.All().OfType<Bound.Over>()).Distinct().ToList();
        plan = plan.Asking(
            plan.Questions.Single(q => q.Id == TilePlan.Lines) with
            {
                Why = "the lines of the tile, with the measures that its figures are made of",
                Query = window.Asked with { ByMember = null },
            }
        );
        if (overs.Any(o => o is { Function: OverFunction.Share, Option: "all" }))
            plan = plan.Asking(TotalsLine.Question(window.Asked));
        var earlier = overs
            .Where(o => o.Function == OverFunction.Previous)
            .Select((over, i) => EarlierPeriods.Of(plan, over, i + 1))
            .OfType<EarlierPeriods>()
            .ToList();
        foreach (var question in earlier.SelectMany(e => e.Questions))
            plan = plan.Asking(question);
        return plan.Then("figures that look at other lines", (answers, _) => window.Complete(answers, overs, earlier, plan));
    }

    /// <summary>What the database is asked.</summary>
    public Query Asked { get; }

    /// <summary>The steps for a question that has such figures; null if it has none.</summary>
    public static WindowFigures? Of(Query query) => query.Figures.Any(f => Looks(f.Formula)) ? new WindowFigures(query) : null;

    /// <summary>True if a formula looks at other lines.</summary>
    public static bool Looks(Bound formula) => formula.All().Any(b => b is Bound.Over);

    /// <summary>The measures that a formula is made of: whole if it does not look around, else what it looks at and its other aggregates.</summary>
    private static IEnumerable<Bound> Plain(Bound formula) =>
        formula switch
        {
            _ when !Looks(formula) => [formula],
            Bound.Over over => [over.Inner],
            _ => formula.Children.Where(c => c.HasAggregate).SelectMany(Plain),
        };

    private TileAnswer Complete(Answers answers, List<Bound.Over> overs, List<EarlierPeriods> earlier, TilePlan plan)
    {
        var answer = answers.Of(TilePlan.Lines)!;
        var rows = answer.Table.Rows;
        object?[] Part(Bound inner) => answer.Table.Values[_firstFigure + _parts.IndexOf(inner)];
        object? Whole(Bound.Over over) =>
            over.Option == "all" ? answers.Of(TilePlan.Total)!.Table.Values[_parts.IndexOf(over.Inner)][0] : Sum(Part(over.Inner));
        var values = overs.ToDictionary(
            o => o,
            over =>
                over.Function switch
                {
                    OverFunction.RunningTotal => Running(answer.Table, Part(over.Inner), over.Kind),
                    OverFunction.Rank => Ranks(answer.Table, Part(over.Inner)),
                    OverFunction.Share when over.Option == "group" => SharesOfGroup(answer.Table, Part(over.Inner)),
                    OverFunction.Share => Shares(Part(over.Inner), Whole(over)),
                    _ => earlier.FirstOrDefault(e => e.Over == over)?.Figures(answers) ?? new object?[rows],
                }
        );
        var evaluator = new Evaluator(plan.WeekStart);
        object? Figure(Bound formula, int row) =>
            !Looks(formula)
                ? Part(formula)[row]
                : evaluator.Value(
                    Known(formula, over => values[over][row], inner => Part(inner)[row]),
                    _ => throw new InvalidOperationException("A measure has no column.")
                );
        List<object?[]> columns =
        [
            .. answer.Table.Values.Take(_firstFigure),
            .. _query.Figures.Select(f => Enumerable.Range(0, rows).Select(r => Figure(f.Formula, r)).ToArray()),
        ];
        var order = Enumerable.Range(0, rows).ToArray();
        if (_query.Order.FirstOrDefault(k => k.Column >= _firstFigure && Looks(_query.Figures[k.Column - _firstFigure].Formula)) is { } key)
            order = [.. order.OrderBy(r => columns[key.Column][r], SharedScan.NullsLast(key.Descending))];
        return TileAnswer.None with
        {
            Table = new Table(_query.Columns, [.. columns.Select(c => order.Select(r => c[r]).ToArray())]),
            Lines = answer.Lines,
        };
    }

    /// <summary>A formula with what it looks at and its plain measures as values.</summary>
    private static Bound Known(Bound formula, Func<Bound.Over, object?> over, Func<Bound, object?> part) =>
        formula switch
        {
            Bound.Over o => new Bound.Literal(over(o), o.Kind),
            _ when !Looks(formula) && formula.HasAggregate => new Bound.Literal(part(formula), formula.Kind),
            Bound.Op op => op with { Arguments = [.. op.Arguments.Select(a => Known(a, over, part))] },
            _ => formula,
        };

    /// <summary>The totals line: a share of all rows is the whole; the others have no total.</summary>
    public Table Totals(Table total, DayOfWeek weekStart)
    {
        var evaluator = new Evaluator(weekStart);
        object? Part(Bound inner) => total.Values[_parts.IndexOf(inner)][0];
        object? Over(Bound.Over over) =>
            over is { Function: OverFunction.Share, Option: not "group" } && Part(over.Inner) is not null ? 1.0 : null;
        return Table.FromRows(
            [.. _query.Figures.Select(f => f.Column)],
            [
                [.. _query.Figures.Select(f => evaluator.Value(Known(f.Formula, Over, Part), _ => null))],
            ]
        );
    }

    /// <summary>Lines that belong together: equal in all groups but the first.</summary>
    private IEnumerable<List<int>> Series(Table table) =>
        Enumerable
            .Range(0, table.Rows)
            .GroupBy(r => new LineMembers([.. Enumerable.Range(1, Math.Max(0, _query.Groups.Count - 1)).Select(g => table.Values[g][r])]))
            .Select(g => g.ToList());

    private bool IsRest(Table table, int row) => _query.Top is { Rest: true } && table.Values[_query.Groups.Count][row] is true;

    private object?[] Running(Table table, object?[] figures, ValueKind kind)
    {
        var result = new object?[table.Rows];
        foreach (var series in Series(table))
        {
            // Periods in calendar order whatever the tile's order; other members as they are shown.
            var inOrder =
                _query.Groups.Count > 0 && (_query.Groups[0].Formula.Kind.IsTemporal() || _query.Groups[0].Formula is Bound.Part)
                    ? series
                        .Where(r => table.Values[0][r] is not null)
                        .OrderBy(r => table.Values[0][r]!, Comparer<object>.Create(Evaluator.Compare))
                    : series.AsEnumerable();
            object? sum = null;
            foreach (var r in inOrder)
                result[r] = sum = Add(sum, figures[r], kind);
        }
        return result;
    }

    private static object? Add(object? a, object? b, ValueKind kind) =>
        (a, b) switch
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

    private static object? Sum(object?[] figures) =>
        figures.OfType<object>().Aggregate((object?)null, (s, f) => (s is null ? 0.0 : Convert.ToDouble(s)) + Convert.ToDouble(f));

    private static object?[] Shares(object?[] figures, object? whole) => [.. figures.Select(f => ShareOf(f, whole))];

    private static object? ShareOf(object? figure, object? whole) =>
        figure is null || whole is null || Convert.ToDouble(whole) == 0 ? null : Convert.ToDouble(figure) / Convert.ToDouble(whole);

    /// <summary>Each figure as a share of the lines with the same member of the first field.</summary>
    private object?[] SharesOfGroup(Table table, object?[] figures)
    {
        var result = new object?[table.Rows];
        var groups = Enumerable
            .Range(0, table.Rows)
            .GroupBy(r => new LineMembers([_query.Groups.Count > 0 ? table.Values[0][r] : null, IsRest(table, r)]));
        foreach (var group in groups)
        {
            var whole = Sum([.. group.Select(r => figures[r])]);
            foreach (var r in group)
                result[r] = ShareOf(figures[r], whole);
        }
        return result;
    }

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
}
