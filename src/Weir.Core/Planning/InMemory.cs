using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Core.Planning;

/// <summary>
/// Answers questions from rows held in memory: the reference that every engine is compared with. Written to be plainly
/// right: each step of the order of RULES is a line of its own.
/// </summary>
/// <param name="tables">Rows by table; each row a value by column.</param>
/// <param name="weekStart">The first day of the workspace's week.</param>
public sealed class InMemory(IReadOnlyDictionary<string, IReadOnlyList<IReadOnlyDictionary<string, object?>>> tables, DayOfWeek weekStart)
{
    private readonly Evaluator _evaluator = new(weekStart);

    /// <summary>The first day of the workspace's week.</summary>
    public DayOfWeek WeekStart { get; } = weekStart;

    /// <summary>The answer and how many lines there would be without the limit.</summary>
    public (Table Table, int Lines) Answer(Query query)
    {
        var rows = Joined(query).Where(r => query.Conditions.All(c => _evaluator.Value(c, r.Get) is true)).ToList();
        if (query.Groups.Count == 0)
            return (Table.FromRows(query.Columns, [Figures(query, rows)]), 1);

        var keyed = rows.Select(r => (Row: r, Key: query.Groups.Select(g => _evaluator.Value(g.Formula, r.Get)).ToArray(), IsRest: false))
            .ToList();
        if (query.Top is { } top)
        {
            var leading = keyed
                .GroupBy(k => k.Key[0] ?? Missing)
                .Select(g =>
                    (Member: g.Key, Figure: _evaluator.Measure(query.Figures[0].Formula, [.. g.Select(k => k.Row)], (r, c) => r.Get(c)))
                )
                .OrderBy(m => m.Figure, Nulls(descending: true))
                .ThenBy(m => ReferenceEquals(m.Member, Missing) ? null : m.Member, Nulls(descending: false))
                .Take(top.Count)
                .Select(m => m.Member)
                .ToHashSet();
            keyed =
            [
                .. keyed
                    .Where(k => top.Rest || leading.Contains(k.Key[0] ?? Missing))
                    .Select(k => leading.Contains(k.Key[0] ?? Missing) ? k : (k.Row, [null, .. k.Key.Skip(1)], true)),
            ];
        }
        var hasRest = query.Top is { Rest: true };
        var lines = query.EachRow
            ? [.. keyed.Select(k => k.Key)]
            : keyed
                .GroupBy(k => new Key([.. k.Key, k.IsRest]))
                .Select(g =>
                    (object?[])
                        [
                            .. g.First().Key,
                            .. hasRest ? new object?[] { g.First().IsRest } : [],
                            .. Figures(query, [.. g.Select(k => k.Row)]),
                        ]
                )
                .ToList();
        IOrderedEnumerable<object?[]> ordered = lines.OrderBy(l => hasRest && l[query.Groups.Count] is true);
        foreach (var key in query.Order)
        {
            if (key.Members is { } members)
                ordered = ordered.ThenBy(
                    l =>
                        l[key.Column] is { } m
                            ? (long)(members.ToList().FindIndex(o => Evaluator.Compare(o, m) == 0) is >= 0 and var at ? at : members.Count)
                            : (object?)null,
                    Nulls(key.Descending)
                );
            ordered = ordered.ThenBy(
                l => key.Rotate is { } first && l[key.Column] is long day ? (day + 7 - first) % 7 : l[key.Column],
                Nulls(key.Descending)
            );
        }
        return (Table.FromRows(query.Columns, [.. ordered.Take(query.Limit)]), lines.Count);
    }

    private static readonly object Missing = new();

    private object?[] Figures(Query query, List<JoinedRow> rows) =>
        [.. query.Figures.Select(f => _evaluator.Measure(f.Formula, rows, (r, c) => r.Get(c)))];

    private IEnumerable<JoinedRow> Joined(Query query)
    {
        foreach (var first in tables[query.Scope.From.Alias])
        {
            var row = new JoinedRow();
            row.Parts[query.Scope.From.Alias] = first;
            foreach (var join in query.Scope.Joins)
                row.Parts[join.Table.Alias] = tables[join.Table.Alias]
                    .FirstOrDefault(other =>
                        join.On.All(k => row.Get(k.Left) is { } a && other[k.Right.Name] is { } b && Evaluator.Compare(a, b) == 0)
                    );
            yield return row;
        }
    }

    private static Comparer<object?> Nulls(bool descending) =>
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

    private sealed class JoinedRow
    {
        public Dictionary<string, IReadOnlyDictionary<string, object?>?> Parts { get; } = [];

        public object? Get(Bound.Column column) => Parts[column.Table]?[column.Name];
    }

    private sealed record Key(object?[] Values)
    {
        public bool Equals(Key? other) => other is not null && Values.SequenceEqual(other.Values);

        public override int GetHashCode() => Values.Aggregate(0, HashCode.Combine);
    }
}
