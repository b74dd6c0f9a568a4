using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Core.Planning;

/// <summary>
/// The names of members whose keys a question groups by. They are brought with the answer and put beside the keys: lines are
/// grouped by the key and stand in the order of the names.
/// </summary>
public static class MemberNames
{
    /// <summary>A way to ask that brings the names of members as <see cref="Column.Names"/>; whoever asks need not know of them.</summary>
    public static Ask Brought(Ask ask) =>
        async (query, cancellation) =>
        {
            if (query.Groups.All(g => g.NamedBy is null))
                return await ask(query, cancellation);
            var answer = await ask(WithNames(query), cancellation);
            return answer with { Table = Folded(answer.Table) };
        };

    /// <summary>
    /// The question with a column more for each group that has names: the least name of each key, should it have several. The
    /// order by such a group becomes that by its name, and then by its key.
    /// </summary>
    public static Query WithNames(Query query)
    {
        var named = query.Groups.Select((g, i) => (Output: g, Index: i)).Where(g => g.Output.NamedBy is not null).ToList();
        if (named.Count == 0)
            return query;
        var first = query.Columns.Count;
        List<Output> names =
        [
            .. named.Select(n => new Output(
                query.EachRow ? n.Output.NamedBy! : new Bound.Aggregate(AggregateFunction.Minimum, n.Output.NamedBy, null, ValueKind.Text),
                new Column(n.Output.Column.Name, n.Output.Column.Title, ColumnRole.Name, ValueKind.Text, null, null)
            )),
        ];
        List<OrderKey> order =
        [
            .. query.Order.SelectMany(k =>
                k.Members is null && named.FindIndex(n => n.Index == k.Column) is >= 0 and var at
                    ? new[] { new OrderKey(first + at, k.Descending), k }
                    : [k]
            ),
        ];
        List<Output> groups = [.. query.Groups.Select(g => g with { NamedBy = null })];
        return query.EachRow
            ? query with
            {
                Groups = [.. groups, .. names],
                Order = order,
            }
            : query with
            {
                Groups = groups,
                Figures = [.. query.Figures, .. names],
                Order = order,
            };
    }

    /// <summary>The answer with the names at the columns that they belong to, and their own columns gone.</summary>
    private static Table Folded(Table table)
    {
        var columns = table.Columns.Select(
            (c, i) =>
                c.Role != ColumnRole.Group
                || table.Columns.ToList().FindIndex(n => n.Role == ColumnRole.Name && n.Name == c.Name) is not (>= 0 and var at)
                    ? c
                    : c with
                    {
                        Names = Apart(table.Values[i], table.Values[at]),
                    }
        );
        var kept = table.Columns.Select((c, i) => (c, i)).Where(x => x.c.Role != ColumnRole.Name).Select(x => x.i).ToList();
        List<Column> all = [.. columns];
        return new Table([.. kept.Select(i => all[i])], [.. kept.Select(i => table.Values[i])]);
    }

    /// <summary>The name of each key; keys that share one carry the key beside it, so that they are told apart.</summary>
    private static Dictionary<string, string> Apart(object?[] keys, object?[] names)
    {
        var known = new Dictionary<string, string>();
        for (var r = 0; r < keys.Length; r++)
            if (keys[r] is { } key && names[r] is string { Length: > 0 } name)
                known[Values.Write(key)] = name;
        // Somebody may be called what another is called with a key: a second time settles that, for keys differ.
        for (var time = 0; time < 2; time++)
        {
            var shared = known.Values.GroupBy(n => n).Where(g => g.Count() > 1).Select(g => g.Key).ToHashSet();
            if (shared.Count == 0)
                break;
            known = known.ToDictionary(k => k.Key, k => shared.Contains(k.Value) ? $"{k.Value} ({k.Key})" : k.Value);
        }
        return known;
    }
}
