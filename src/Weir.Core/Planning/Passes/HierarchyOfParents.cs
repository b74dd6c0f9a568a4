using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>
/// A hierarchy from labels and the labels of their parents. Who is below whom is asked of all rows that the viewer may see, so that it
/// stays as it is while others filter the figures. Labels whose parent is not there, and those that would be above themselves, stand at the
/// top and are named.
/// </summary>
internal static class HierarchyOfParents
{
    private const string Structure = "parents";

    /// <summary>So many are named where something is wrong.</summary>
    private const int MostNamed = 5;

    public static TilePlan Apply(TilePlan plan)
    {
        if (plan.Tile.Parent is not { } parent || plan.Shown.Groups.Count != 1)
            return plan;
        List<Output> groups = [plan.Shown.Groups[0], plan.Planner.Group(parent, plan.Scope)];
        var rows = Output.RowCount;
        var query = new Query(plan.Scope, [], groups, [rows], null, [], plan.Limit);
        var order = Enumerable.Range(0, 2).Select(g => plan.Planner.Key(query, g, descending: false));
        return plan.Asking(new PlannedQuestion(Structure, "who is below whom", query with { Order = [.. order] }))
            .Then("a hierarchy of labels and parents", (answers, answer) => Placed(answer, answers.Of(Structure)!));
    }

    private static TileAnswer Placed(TileAnswer answer, QueryAnswer structure)
    {
        var (labels, written) = (answer.Table.Columns[0], structure.Table.Columns);
        IReadOnlyList<Column> columns = [labels, written[1], .. answer.Table.Columns.Skip(1)];
        if (structure.Lines > structure.Table.Rows)
            return answer with { Table = Table.FromRows(columns, []), Note = $"{structure.Lines} labels are more than a tile may bring." };
        var parents = new Dictionary<object, object?>();
        List<object> several = [];
        for (var r = 0; r < structure.Table.Rows; r++)
            if (structure.Table.Values[0][r] is { } label && !parents.TryAdd(label, structure.Table.Values[1][r]))
                several.Add(label);
        List<object> orphans = [.. parents.Where(p => p.Value is { } above && !parents.ContainsKey(above)).Select(p => p.Key)];
        foreach (var orphan in orphans)
            parents[orphan] = null;
        var loops = Cut(parents);
        var rows = Enumerable.Range(0, answer.Table.Rows).Select(answer.Table.Row).ToList();
        var shown = rows.Select(r => r[0]).OfType<object>().ToHashSet();
        // Those above what is shown are there too, with no figure of their own.
        foreach (var label in shown.ToList())
            for (
                var above = parents.GetValueOrDefault(label);
                above is not null && shown.Add(above);
                above = parents.GetValueOrDefault(above)
            )
                rows.Add([above, .. new object?[answer.Table.Columns.Count - 1]]);
        string Named(List<object> some) =>
            string.Join(", ", some.Take(MostNamed).Select(l => Labels.Write(l, labels))) + (some.Count > MostNamed ? " and others" : "");
        List<string> notes =
        [
            .. orphans.Count == 0 ? Array.Empty<string>() : [$"Without their parent: {Named(orphans)}."],
            .. loops.Count == 0 ? Array.Empty<string>() : [$"Above themselves: {Named(loops)}."],
            .. several.Count == 0
                ? Array.Empty<string>()
                : [$"Below several parents, of which the first counts: {Named([.. several.Distinct()])}."],
        ];
        return answer with
        {
            Table = Table.FromRows(
                columns,
                [.. rows.Select(r => (object?[])[r[0], r[0] is { } l ? parents.GetValueOrDefault(l) : null, .. r.Skip(1)])]
            ),
            Note = notes.Count == 0 ? null : string.Join(' ', notes),
        };
    }

    /// <summary>Cuts each loop at its first label in their order, and tells at which.</summary>
    private static List<object> Cut(Dictionary<object, object?> parents)
    {
        List<object> loops = [];
        HashSet<object> settled = [];
        foreach (var label in parents.Keys.ToList())
        {
            HashSet<object> way = [];
            object? at = label;
            while (at is not null && !settled.Contains(at) && way.Add(at))
                at = parents[at];
            if (at is not null && way.Contains(at) && !settled.Contains(at))
            {
                parents[at] = null;
                loops.Add(at);
            }
            settled.UnionWith(way);
        }
        return loops;
    }
}
