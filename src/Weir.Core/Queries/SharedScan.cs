using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Core.Queries;

/// <summary>
/// Several questions over the same rows as one statement: grouped by all that any of them is grouped by, in cells from which
/// each answer is added up.
/// </summary>
public sealed class SharedScan
{
    /// <summary>More cells than this are not taken: the questions are asked one by one.</summary>
    public const int MostCells = 8 * ScanSharing.MostCells;

    private readonly IReadOnlyList<Query> _queries;
    private readonly List<Bound> _groups;
    private readonly List<Bound.Aggregate> _parts;

    private SharedScan(IReadOnlyList<Query> queries)
    {
        _queries = queries;
        _groups = [.. queries.SelectMany(q => q.Groups).Select(g => CellFold.Base(g.Formula)).Distinct()];
        _parts = [.. queries.SelectMany(q => q.Figures).SelectMany(f => CellFold.Parts(f.Formula)).Distinct()];
        var items = _groups.Select((g, i) => (g, $"g{i + 1}")).Concat(_parts.Select((p, i) => ((Bound)p, $"p{i + 1}"))).ToList();
        Tree = new SelectTree([], new Select(
            items, queries[0].Scope.From, SelectBuilder.Joins(queries[0], items.Select(i => i.Item1)), SelectBuilder.Where(queries[0]), _groups.Count > 0 ? _groups.Count : null, [], _groups.Count > 0 ? MostCells + 1L : null));
        Kinds = [.. items.Select(i => i.Item1.Kind)];
    }

    /// <summary>Joins questions that <see cref="ScanSharing"/> put together.</summary>
    public static SharedScan Of(IReadOnlyList<Query> queries) => new(queries);

    /// <summary>The one statement.</summary>
    public SelectTree Tree { get; }

    /// <summary>The types of its columns.</summary>
    public IReadOnlyList<ValueKind> Kinds { get; }

    /// <summary>The answer of each question, in their order; null if there are too many cells.</summary>
    /// <param name="values">The rows of the statement in columns.</param>
    public IReadOnlyList<QueryAnswer>? Split(IReadOnlyList<object?[]> values, DayOfWeek weekStart) =>
        values[0].Length > MostCells ? null : [.. _queries.Select(q => Answer(q, values, weekStart))];

    private QueryAnswer Answer(Query query, IReadOnlyList<object?[]> values, DayOfWeek weekStart)
    {
        object?[][] members = [.. query.Groups.Select(g => CellFold.Members(g.Formula, values[_groups.IndexOf(CellFold.Base(g.Formula))], weekStart))];
        var fold = new CellFold(_parts, [.. values.Skip(_groups.Count)], weekStart);
        IEnumerable<int> cells = Enumerable.Range(0, values[0].Length);
        if (members.Length == 0)
            return new QueryAnswer(Table.FromRows(query.Columns, [[.. query.Figures.Select(f => fold.Figure(f.Formula, [.. cells]))]]), 1);

        var leading = query.Top is { } top ? Leading(query, top, members[0], cells, fold) : null;
        bool IsRest(int cell) => leading is not null && !leading.Contains(new Member([members[0][cell]]));
        if (leading is not null && !query.Top!.Rest)
            cells = cells.Where(c => !IsRest(c));
        var hasRest = query.Top is { Rest: true };
        var lines = cells.GroupBy(c =>
        {
            var rest = hasRest && IsRest(c);
            return new Member([.. members.Select((m, i) => rest && i == 0 ? null : m[c]), rest]);
        }).Select(g => (object?[])[.. hasRest ? g.Key.Values : g.Key.Values[..^1], .. query.Figures.Select(f => fold.Figure(f.Formula, [.. g]))]).ToList();
        IOrderedEnumerable<object?[]> ordered = lines.OrderBy(l => hasRest && l[query.Groups.Count] is true);
        foreach (var key in query.Order)
            foreach (var step in Steps(key))
                ordered = ordered.ThenBy(step, NullsLast(key.Descending));
        return new QueryAnswer(Table.FromRows(query.Columns, [.. ordered.Take(query.Limit)]), lines.Count);
    }

    /// <summary>The leading members by the first figure, ties by name.</summary>
    private static HashSet<Member> Leading(Query query, TopMembers top, object?[] members, IEnumerable<int> cells, CellFold fold) =>
        [.. cells.GroupBy(c => new Member([members[c]]))
            .Select(g => (Member: g.Key, Figure: fold.Figure(query.Figures[0].Formula, [.. g])))
            .OrderBy(m => m.Figure, NullsLast(descending: true)).ThenBy(m => m.Member.Values[0], NullsLast(descending: false))
            .Take(top.Count).Select(m => m.Member)];

    private static IEnumerable<Func<object?[], object?>> Steps(OrderKey key)
    {
        if (key.Members is { } members)
        {
            var places = members.Distinct().Select((m, i) => (m, i)).ToDictionary(x => x.m, x => (long)x.i);
            yield return l => l[key.Column] is string m ? places.GetValueOrDefault(m, members.Count) : null;
        }
        yield return l => key.Rotate is { } first && l[key.Column] is long day ? (day + 7 - first) % 7 : l[key.Column];
    }

    private static Comparer<object?> NullsLast(bool descending) => Comparer<object?>.Create((a, b) => (a, b) switch
    {
        (null, null) => 0,
        (null, _) => 1,
        (_, null) => -1,
        _ => descending ? Evaluator.Compare(b, a) : Evaluator.Compare(a, b),
    });

    private sealed record Member(object?[] Values)
    {
        public bool Equals(Member? other) => other is not null && Values.SequenceEqual(other.Values);

        public override int GetHashCode() => Values.Aggregate(0, HashCode.Combine);
    }
}

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
    public static Bound Base(Bound formula) => formula switch
    {
        Bound.Grain { Of: not DateGrain.Hour } grain => new Bound.Grain(grain.Argument, DateGrain.Day),
        Bound.Part { Of: not DatePart.HourOfDay } part => new Bound.Grain(part.Argument, DateGrain.Day),
        _ => formula,
    };

    /// <summary>The members of a formula from those that its cells are grouped by.</summary>
    public static object?[] Members(Bound formula, object?[] cells, DayOfWeek weekStart) => formula switch
    {
        Bound.Grain { Of: not (DateGrain.Hour or DateGrain.Day) } grain => [.. cells.Select(c => c is DateOnly day ? DateOnly.FromDateTime(Calendar.Floor(day.ToDateTime(TimeOnly.MinValue), grain.Of, weekStart)) : (object?)null)],
        Bound.Part { Of: not DatePart.HourOfDay } part => [.. cells.Select(c => c is DateOnly day ? Calendar.Part(day.ToDateTime(TimeOnly.MinValue), part.Of) : (object?)null)],
        _ => cells,
    };

    /// <summary>True if the answer can be added up from cells: distinct counts and percentiles can't.</summary>
    public static bool CanFold(Query query) => !query.EachRow && query.Figures.Count > 0
        && query.Figures.All(f => f.Formula.All().OfType<Bound.Aggregate>().All(a => a.Function is not (AggregateFunction.CountDistinct or AggregateFunction.Percentile)))
        // Of the whole of a table the engine knows the first and last without reading it.
        && !(query.Groups.Count == 0 && query.Figures.All(f => f.Formula is Bound.Aggregate { Function: AggregateFunction.Minimum or AggregateFunction.Maximum }));

    /// <summary>The aggregates that cells need for a figure; an average is a sum and a count.</summary>
    public static IEnumerable<Bound.Aggregate> Parts(Bound figure) => figure.All().OfType<Bound.Aggregate>()
        .SelectMany(a => a.Function == AggregateFunction.Average ? [SumOf(a), CountOf(a)] : (Bound.Aggregate[])[a]);

    private static Bound.Aggregate SumOf(Bound.Aggregate average) => new(
        AggregateFunction.Sum, new Bound.Op(Operation.Cast, ValueKind.Float, average.Argument!), average.Filter, ValueKind.Float);

    private static Bound.Aggregate CountOf(Bound.Aggregate average) => new(AggregateFunction.Count, average.Argument, average.Filter, ValueKind.Integer);

    /// <summary>The figure over some cells.</summary>
    /// <exception cref="OverflowException">A sum leaves 64 bits.</exception>
    public object? Figure(Bound figure, IReadOnlyList<int> cells) => figure is Bound.Aggregate only
        ? Fold(only, cells)
        : _evaluator.Value(Known(figure, cells), _ => throw new InvalidOperationException("A measure has no column outside an aggregate."));

    private Bound Known(Bound figure, IReadOnlyList<int> cells) => figure switch
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
            return Fold(CountOf(aggregate), cells) is long and > 0 and var n && Fold(SumOf(aggregate), cells) is double sum ? sum / n : null;
        var values = cells.Select(c => _columns[aggregate][c]).OfType<object>();
        return aggregate.Function switch
        {
            AggregateFunction.Minimum => values.Aggregate((object?)null, (a, b) => a is null || Evaluator.Compare(b, a) < 0 ? b : a),
            AggregateFunction.Maximum => values.Aggregate((object?)null, (a, b) => a is null || Evaluator.Compare(b, a) > 0 ? b : a),
            AggregateFunction.Sum => values.Aggregate((object?)null, Add),
            _ => values.Aggregate(0L, (a, b) => checked(a + (long)b)),
        };
    }

    private static object Add(object? a, object b) => (a, b) switch
    {
        (null, _) => b,
        (long x, long y) => checked(x + y),
        (decimal x, decimal y) => x + y,
        _ => Convert.ToDouble(a) + Convert.ToDouble(b),
    };
}
