using Weir.Core.Interaction;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>Tells which of the members that are picked on a tile have no rows under all that filters it, where it does not show all members.</summary>
internal static class PickedMembers
{
    private const string Present = "picked";

    public static TilePlan Apply(TilePlan plan)
    {
        var by = plan.Tile.By;
        if (plan.Own is not { Members.Count: > 0 } own || by.Count == 0)
            return plan;
        List<IReadOnlyList<object?>> picked = [.. own.Members.Where(m => m.Count == by.Count)];
        if (picked.Count == 0)
            return plan;
        HashSet<string> Keys(Table table) => [.. Enumerable.Range(0, table.Rows).Select(r => MemberKeys.Of(table.Row(r).Take(by.Count)))];
        List<IReadOnlyList<object?>> Unseen(Answers answers)
        {
            var lines = answers.Of(TilePlan.Lines)!;
            if (plan.Tile.Top is null && lines.Lines <= lines.Table.Rows)
                return [];
            var shown = lines.Table.Columns.Count(c => c.Role == ColumnRole.Group) >= by.Count ? Keys(lines.Table) : [];
            return [.. picked.Where(m => !shown.Contains(MemberKeys.Of(m)))];
        }
        var among = Conditions.Of(new Selection(plan.Tile.Name, picked, null), by, plan.Scope, plan.WeekStart);
        var query = plan.Planner.Present(by, plan.Scope, among, picked.Count);
        return plan.Asking(
                new PlannedQuestion(
                    Present,
                    "which of the picked members that are not shown have rows",
                    query with
                    {
                        Where = [.. plan.Filters.Conditions, .. query.Where],
                    }
                )
                {
                    After = [TilePlan.Lines],
                    Fillings = answers => Unseen(answers).Count > 0 ? [Filling.None] : [],
                }
            )
            .Then(
                "picked members without rows",
                (answers, answer) =>
                {
                    if (answers.Of(Present) is not { } present)
                        return answer;
                    var known = Keys(present.Table);
                    return answer with { Absent = [.. Unseen(answers).Where(m => !known.Contains(MemberKeys.Of(m)))] };
                }
            );
    }
}
