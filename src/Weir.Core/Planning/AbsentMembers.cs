using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Results;

namespace Weir.Core.Planning;

/// <summary>Which of the members that are picked on a tile have no rows under all that filters it, where its answer does not show all members.</summary>
public static class AbsentMembers
{
    /// <summary>The members; none where nothing is picked or the answer shows every member anyway.</summary>
    /// <param name="tile">The tile at its opened level.</param>
    /// <param name="own">What is picked on it; null for nothing.</param>
    public static async Task<IReadOnlyList<IReadOnlyList<object?>>> Of(
        Tile tile, Selection? own, TileAnswer answer, Scope scope, TileFilters filters, Planner planner, DayOfWeek weekStart, Ask ask, CancellationToken cancellation)
    {
        if (own is not { Members.Count: > 0 } || tile.By.Count == 0 || (tile.Top is null && answer.Lines <= answer.Table.Rows))
            return [];
        HashSet<string> Keys(Table table) => [.. Enumerable.Range(0, table.Rows).Select(r => MemberKeys.Of(table.Row(r).Take(tile.By.Count)))];
        var shown = answer.Table.Columns.Count(c => c.Role == ColumnRole.Group) >= tile.By.Count ? Keys(answer.Table) : [];
        List<IReadOnlyList<object?>> unseen = [.. own.Members.Where(m => m.Count == tile.By.Count && !shown.Contains(MemberKeys.Of(m)))];
        if (unseen.Count == 0)
            return [];
        var among = Conditions.Of(new Selection(tile.Name, unseen, null), tile.By, scope, weekStart);
        var query = planner.Present(tile.By, scope, among, unseen.Count);
        var present = Keys((await ask(query with { Where = [.. filters.Conditions, .. query.Where] }, cancellation)).Table);
        return [.. unseen.Where(m => !present.Contains(MemberKeys.Of(m)))];
    }
}
