using Weir.Core.Expressions;

namespace Weir.Core.Planning;

/// <summary>Adds up cells: the figure of several groups from the parts that each group has of it.</summary>
/// <param name="parts">The aggregates that the cells have.</param>
/// <param name="columns">Their values, a column for each.</param>
internal sealed class CellFold(IReadOnlyList<Bound.Aggregate> parts, IReadOnlyList<object?[]> columns, DayOfWeek weekStart)
{
    private readonly Evaluator _evaluator = new(weekStart);
    private readonly Dictionary<Bound.Aggregate, object?[]> _columns = parts.Zip(columns).ToDictionary(p => p.First, p => p.Second);

    /// <summary>
    /// What cells are grouped by for a formula: a date's days for its weeks, months, quarters, years and days of the week, which
    /// are the same for all rows of a day; else the formula itself.
    /// </summary>
    public static Bound Base(Bound formula) =>
        formula switch
        {
            Bound.Grain { Of: not DateGrain.Hour } grain => new Bound.Grain(grain.Argument, DateGrain.Day),
            Bound.Part { Of: not DatePart.HourOfDay } part => new Bound.Grain(part.Argument, DateGrain.Day),
            _ => formula,
        };

    /// <summary>The members of a formula from those that its cells are grouped by.</summary>
    public static object?[] Members(Bound formula, object?[] cells, DayOfWeek weekStart) =>
        formula switch
        {
            Bound.Grain { Of: not (DateGrain.Hour or DateGrain.Day) } grain =>
            [
                .. cells.Select(c =>
                    c is DateOnly day
                        ? DateOnly.FromDateTime(Calendar.Floor(day.ToDateTime(TimeOnly.MinValue), grain.Of, weekStart))
                        : (object?)null
                ),
            ],
            Bound.Part { Of: not DatePart.HourOfDay } part =>
            [
                .. cells.Select(c => c is DateOnly day ? Calendar.Part(day.ToDateTime(TimeOnly.MinValue), part.Of) : (object?)null),
            ],
            _ => cells,
        };

    /// <summary>True if the answer can be added up from cells: distinct counts and percentiles can't.</summary>
    public static bool CanFold(Query query) =>
        !query.EachRow
        && query.Figures.Count > 0
        && query.Figures.All(f =>
            f.Formula.All()
                .OfType<Bound.Aggregate>()
                .All(a => a.Function is not (AggregateFunction.CountDistinct or AggregateFunction.Percentile))
        )
        // Of the whole of a table the engine knows the first and last without reading it.
        && !(
            query.Groups.Count == 0
            && query.Figures.All(f => f.Formula is Bound.Aggregate { Function: AggregateFunction.Minimum or AggregateFunction.Maximum })
        );

    /// <summary>The aggregates that cells need for a figure; an average is a sum and a count.</summary>
    public static IEnumerable<Bound.Aggregate> Parts(Bound figure) =>
        figure
            .All()
            .OfType<Bound.Aggregate>()
            .SelectMany(a => a.Function == AggregateFunction.Average ? [SumOf(a), CountOf(a)] : (Bound.Aggregate[])[a]);

    private static Bound.Aggregate SumOf(Bound.Aggregate average) =>
        new(AggregateFunction.Sum, new Bound.Op(Operation.Cast, ValueKind.Float, average.Argument!), average.Filter, ValueKind.Float);

    private static Bound.Aggregate CountOf(Bound.Aggregate average) =>
        new(AggregateFunction.Count, average.Argument, average.Filter, ValueKind.Integer);

    /// <summary>The figure over some cells.</summary>
    /// <exception cref="OverflowException">A sum leaves 64 bits.</exception>
    public object? Figure(Bound figure, IReadOnlyList<int> cells) =>
        figure is Bound.Aggregate only
            ? Fold(only, cells)
            : _evaluator.Value(
                Known(figure, cells),
                _ => throw new InvalidOperationException("A measure has no column outside an aggregate.")
            );

    private Bound Known(Bound figure, IReadOnlyList<int> cells) =>
        figure switch
        {
            Bound.Aggregate a => new Bound.Literal(Fold(a, cells), a.Kind),
            Bound.Op op => op with { Arguments = [.. op.Arguments.Select(x => Known(x, cells))] },
            Bound.Grain g => g with { Argument = Known(g.Argument, cells) },
            Bound.Part p => p with { Argument = Known(p.Argument, cells) },
            _ => figure,
        };

    private object? Fold(Bound.Aggregate aggregate, IReadOnlyList<int> cells)
    {
        if (aggregate.Function == AggregateFunction.Average)
            return Fold(CountOf(aggregate), cells) is long and > 0 and var n && Fold(SumOf(aggregate), cells) is double sum
                ? sum / n
                : null;
        var values = cells.Select(c => _columns[aggregate][c]).OfType<object>();
        return aggregate.Function switch
        {
            AggregateFunction.Minimum => values.Aggregate((object?)null, (a, b) => a is null || Evaluator.Compare(b, a) < 0 ? b : a),
            AggregateFunction.Maximum => values.Aggregate((object?)null, (a, b) => a is null || Evaluator.Compare(b, a) > 0 ? b : a),
            AggregateFunction.Sum => values.Aggregate((object?)null, Add),
            _ => values.Aggregate(0L, (a, b) => checked(a + (long)b)),
        };
    }

    private static object Add(object? a, object b) =>
        (a, b) switch
        {
            (null, _) => b,
            (long x, long y) => checked(x + y),
            (decimal x, decimal y) => x + y,
            _ => Convert.ToDouble(a) + Convert.ToDouble(b),
        };
}
