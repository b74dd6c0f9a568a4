using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Core.Planning;

/// <summary>
/// Several questions over the same rows as one statement: grouped by all that any of them is grouped by, in cells from which
/// each answer is added up.
/// </summary>
public sealed class SharedScan
{
    /// <summary>More cells than this are not taken: the questions are asked one by one.</summary>
    public const int MostCells = 8 * Placement.MostCells;

    private readonly IReadOnlyList<Query> _queries;
    private readonly List<Bound> _groups;
    private readonly List<Bound.Aggregate> _parts;

    private SharedScan(IReadOnlyList<Query> queries)
    {
        _queries = queries;
        _groups = [.. queries.SelectMany(q => q.Groups).Select(g => CellFold.Base(g.Formula)).Distinct()];
        _parts = [.. queries.SelectMany(q => q.Figures).SelectMany(f => CellFold.Parts(f.Formula)).Distinct()];
        Output Cell(Bound formula, string name, ColumnRole role) => new(formula, new Column(name, name, role, formula.Kind, null, null));
        Cells = queries[0] with
        {
            Groups = [.. _groups.Select((g, i) => Cell(g, $"g{i + 1}", ColumnRole.Group))],
            Figures = [.. _parts.Select((p, i) => Cell(p, $"p{i + 1}", ColumnRole.Figure))],
            Top = null,
            ByMember = null,
            Order = [],
            Limit = MostCells,
        };
    }

    /// <summary>Joins questions that <see cref="Placement"/> put together.</summary>
    public static SharedScan Of(IReadOnlyList<Query> queries) => new(queries);

    /// <summary>The one question: its lines are the cells.</summary>
    public Query Cells { get; }

    /// <summary>The answer of each question, in their order; null if there are too many cells.</summary>
    /// <param name="values">The rows of the statement in columns.</param>
    public IReadOnlyList<QueryAnswer>? Split(IReadOnlyList<object?[]> values, DayOfWeek weekStart) =>
        values[0].Length > MostCells ? null : [.. _queries.Select(q => Answer(q, values, weekStart))];

    private QueryAnswer Answer(Query query, IReadOnlyList<object?[]> values, DayOfWeek weekStart)
    {
        object?[][] members =
        [
            .. query.Groups.Select(g => CellFold.Members(g.Formula, values[_groups.IndexOf(CellFold.Base(g.Formula))], weekStart)),
        ];
        var fold = new CellFold(_parts, [.. values.Skip(_groups.Count)], weekStart);
        IEnumerable<int> cells = Enumerable.Range(0, values[0].Length);
        if (members.Length == 0)
            return new QueryAnswer(
                Table.FromRows(
                    query.Columns,
                    [
                        [.. query.Figures.Select(f => fold.Figure(f.Formula, [.. cells]))],
                    ]
                ),
                1
            );

        var leading = query.Top is { } top ? Leading(query, top, members[0], cells, fold) : null;
        bool IsRest(int cell) => leading is not null && !leading.Contains(new Member([members[0][cell]]));
        if (leading is not null && !query.Top!.Rest)
            cells = cells.Where(c => !IsRest(c));
        var hasRest = query.Top is { Rest: true };
        var lines = cells
            .GroupBy(c =>
            {
                var rest = hasRest && IsRest(c);
                return new Member([.. members.Select((m, i) => rest && i == 0 ? null : m[c]), rest]);
            })
            .Select(g =>
                (object?[])[.. hasRest ? g.Key.Values : g.Key.Values[..^1], .. query.Figures.Select(f => fold.Figure(f.Formula, [.. g]))]
            )
            .ToList();
        IOrderedEnumerable<object?[]> ordered = lines.OrderBy(l => hasRest && l[query.Groups.Count] is true);
        foreach (var key in query.Order)
        foreach (var step in Steps(key))
            ordered = ordered.ThenBy(step, NullsLast(key.Descending));
        return new QueryAnswer(Table.FromRows(query.Columns, [.. ordered.Take(query.Limit)]), lines.Count);
    }

    /// <summary>The leading members by the first figure, ties by name.</summary>
    private static HashSet<Member> Leading(Query query, TopMembers top, object?[] members, IEnumerable<int> cells, CellFold fold) =>
        [
            .. cells
                .GroupBy(c => new Member([members[c]]))
                .Select(g => (Member: g.Key, Figure: fold.Figure(query.Figures[0].Formula, [.. g])))
                .OrderBy(m => m.Figure, NullsLast(descending: true))
                .ThenBy(m => m.Member.Values[0], NullsLast(descending: false))
                .Take(top.Count)
                .Select(m => m.Member),
        ];

    private static IEnumerable<Func<object?[], object?>> Steps(OrderKey key)
    {
        if (key.Members is { } members)
        {
            var places = members.Distinct().Select((m, i) => (m, i)).ToDictionary(x => x.m, x => (long)x.i);
            yield return l => l[key.Column] is { } m ? places.GetValueOrDefault(m, members.Count) : null;
        }
        yield return l => key.Rotate is { } first && l[key.Column] is long day ? (day + 7 - first) % 7 : l[key.Column];
    }

    /// <summary>Distinct members in the order of a key, missing last.</summary>
    internal static IReadOnlyList<object?> Ordered(IEnumerable<object?> members, OrderKey key)
    {
        IOrderedEnumerable<object?[]> ordered = members.Select(m => new[] { m }).OrderBy(_ => 0);
        foreach (var step in Steps(key with { Column = 0 }))
            ordered = ordered.ThenBy(step, NullsLast(descending: false));
        return [.. ordered.Select(l => l[0])];
    }

    internal static Comparer<object?> NullsLast(bool descending) =>
        Comparer<object?>.Create(
            (a, b) =>
                (a, b) switch
                {
                    (null, null) => 0,
                    (null, _) => 1,
                    (_, null) => -1,
                    _ => descending ? Evaluator.Compare(b, a) : Evaluator.Compare(a, b),
                }
        );

    private sealed record Member(object?[] Values)
    {
        public bool Equals(Member? other) => other is not null && Values.SequenceEqual(other.Values);

        public override int GetHashCode() => Values.Aggregate(0, HashCode.Combine);
    }
}
