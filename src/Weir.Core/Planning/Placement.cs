using System.Globalization;
using Weir.Core.Expressions;

namespace Weir.Core.Planning;

/// <summary>Where some questions are answered.</summary>
/// <param name="Scan">The one statement that they share; null for a question that is asked by itself, or whose answer is kept.</param>
/// <param name="Questions">Their places in the list that was placed.</param>
public sealed record Placed(SharedScan? Scan, IReadOnlyList<int> Questions);

/// <summary>
/// Decides where the questions of one wave are answered: kept answers stay by themselves, of the others those over the same rows share
/// a statement where it pays. Smaller tables that hold aggregates already would be looked for between the two.
/// </summary>
public static class Placement
{
    /// <summary>
    /// Questions share a statement as long as the combinations of their members are expected to be at most this many: then
    /// grouping by all of them costs hardly more than by one, and adding up cells afterwards costs nothing. With many more the
    /// database would build and send what nobody asked for.
    /// </summary>
    public const int MostCells = 12_000;

    private const int Unknown = 400;

    /// <summary>Places the questions of a wave.</summary>
    /// <param name="isKept">True for a question whose answer is at hand.</param>
    /// <param name="scansAreCheap">
    /// True for a source that reads columns much faster than it groups by several: then questions over whole tables share only
    /// where one's cells are the other's anyway.
    /// </param>
    /// <param name="expected">How many lines a grouping had before; null if it was never asked.</param>
    public static IReadOnlyList<Placed> Of(
        IReadOnlyList<Query> queries,
        Func<Query, bool> isKept,
        Func<Query, bool> scansAreCheap,
        Func<Query, int?> expected
    )
    {
        var kept = Enumerable.Range(0, queries.Count).Where(i => isKept(queries[i])).ToList();
        List<int> asked = [.. Enumerable.Range(0, queries.Count).Except(kept)];
        return
        [
            .. kept.Select(i => new Placed(null, [i])),
            .. Shared([.. asked.Select(i => queries[i])], scansAreCheap, expected)
                .Select(group => new Placed(
                    group.Count == 1 ? null : SharedScan.Of([.. group.Select(g => queries[asked[g]])]),
                    [.. group.Select(g => asked[g])]
                )),
        ];
    }

    /// <summary>Puts questions into groups that are asked together, by their places in the list.</summary>
    internal static IReadOnlyList<IReadOnlyList<int>> Shared(
        IReadOnlyList<Query> queries,
        Func<Query, bool> scansAreCheap,
        Func<Query, int?> expected
    )
    {
        var statements = new List<(string? Rows, List<int> Members, Dictionary<Bound, long> Sizes)>();
        for (var i = 0; i < queries.Count; i++)
        {
            var query = queries[i];
            if (!CellFold.CanFold(query))
            {
                statements.Add((null, [i], []));
                continue;
            }
            var rows = RowsKey(query);
            var sizes = Sizes(query, expected(query));
            // Measured on ten million rows in memory: eight groupings by one column each took half the time of one by all; under
            // a condition, which each would test anew, the one is faster.
            var apart = scansAreCheap(query) && !query.Conditions.Any();
            var found = statements.FindIndex(s =>
                s.Rows == rows
                && Cells(s.Sizes.Concat(sizes)) <= MostCells
                && (!apart || s.Sizes.Keys.All(sizes.ContainsKey) || sizes.Keys.All(s.Sizes.ContainsKey))
            );
            if (found < 0)
            {
                statements.Add((rows, [i], sizes));
                continue;
            }
            statements[found].Members.Add(i);
            foreach (var (group, size) in sizes)
                statements[found].Sizes[group] = Math.Max(size, statements[found].Sizes.GetValueOrDefault(group));
        }
        return [.. statements.Select(s => s.Members)];
    }

    /// <summary>How many members each grouped formula is expected to have.</summary>
    private static Dictionary<Bound, long> Sizes(Query query, int? lines)
    {
        var sizes = query.Groups.Select(g => CellFold.Base(g.Formula)).Distinct().ToDictionary(g => g, Guess);
        // A grouping by one formula that was asked before is known; several are bounded by it each.
        if (lines is { } known && query.Groups.All(g => CellFold.Base(g.Formula) == g.Formula))
            foreach (var group in sizes.Keys.ToList())
                sizes[group] = sizes.Count == 1 ? known : Math.Min(sizes[group], known);
        return sizes;
    }

    private static double Cells(IEnumerable<KeyValuePair<Bound, long>> sizes) =>
        sizes.GroupBy(s => s.Key).Aggregate(1.0, (cells, s) => cells * (s.Max(x => x.Value) + 1));

    private static long Guess(Bound formula) =>
        formula switch
        {
            Bound.Part => 31,
            Bound.Grain { Of: DateGrain.Day } => 1_500,
            Bound.Grain => 40_000,
            { Kind: ValueKind.Boolean } => 2,
            _ => Unknown,
        };

    /// <summary>Names the rows that a question is over: its right, its conditions, its dataset.</summary>
    private static string RowsKey(Query query) =>
        $"{query.Scope.Source}\n{query.Scope.Name}\n{string.Join('\n', query.Conditions.Select(Text))}";

    private static string Text(Bound bound) =>
        bound switch
        {
            Bound.Op op => $"{op.Operation}:{op.Kind}({string.Join(',', op.Arguments.Select(Text))})",
            Bound.Literal { Value: null } l => $"{l.Kind}''null",
            Bound.Literal { Value: DateTime time } l => $"{l.Kind}'{time.Ticks.ToString(CultureInfo.InvariantCulture)}'",
            Bound.Literal l => $"{l.Kind}'{Convert.ToString(l.Value, CultureInfo.InvariantCulture)?.Replace("'", "''")}'",
            Bound.Grain g => $"{g.Of}({Text(g.Argument)})",
            Bound.Part p => $"{p.Of}({Text(p.Argument)})",
            _ => bound.ToString(),
        };

    /// <summary>Names a grouping whatever its conditions, to remember how many lines it has.</summary>
    public static string GroupingKey(Query query) =>
        $"{query.Scope.Name}\n{string.Join('\n', query.Groups.Select(g => Text(g.Formula)))}\n{query.Top?.Count} {query.Top?.Rest}";
}
