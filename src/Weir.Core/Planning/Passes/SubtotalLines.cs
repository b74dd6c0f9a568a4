using Weir.Core.Definitions;

namespace Weir.Core.Planning.Passes;

/// <summary>
/// The subtotals of a cross table: for each level of its fields down, with and without the one across, each measure by its own
/// aggregation over all rows. What adds up shares a statement with the lines by placement.
/// </summary>
internal static class SubtotalLines
{
    public static TilePlan Apply(TilePlan plan)
    {
        if (!plan.Tile.Picture.HasSubtotals)
            return plan;
        var all = plan.Tile.By.Count - 1;
        List<(int Down, bool IsAcross)> levels =
        [
            .. Enumerable.Range(0, all + 1).SelectMany(down => new[] { (down, true), (down, false) }).Where(l => l != (all, true)),
        ];
        return levels
            .Aggregate(plan, (next, level) => next.Asking(Question(plan, level.Down, level.IsAcross)))
            .Then(
                "the subtotals",
                (answers, answer) =>
                    answer with
                    {
                        Totals = answers.Of(Id(0, false))!.Table,
                        Subtotals = [.. levels.Select(l => new Subtotal(l.Down, l.IsAcross, answers.Of(Id(l.Down, l.IsAcross))!.Table))],
                    }
            );
    }

    private static string Id(int down, bool isAcross) => $"subtotal {down}{(isAcross ? " across" : "")}";

    private static PlannedQuestion Question(TilePlan plan, int down, bool isAcross)
    {
        bool Stays(int group) => group < down || isAcross && group == plan.Tile.By.Count - 1;
        IReadOnlyList<FieldAt> by = [.. plan.Tile.By.Where((_, i) => Stays(i))];
        var sort = plan.Tile.Sort is { } s && (plan.Tile.Show.Contains(s.By) || by.Any(b => b.ToString() == s.By)) ? plan.Tile.Sort : null;
        var query = plan.Shown with
        {
            Groups = [.. plan.Shown.Groups.Where((_, i) => Stays(i))],
            Order = [],
            Limit = by.Count == 0 ? 1 : plan.Limit,
        };
        var why = by.Count == 0 ? "the same over all rows in one line" : $"subtotals by {string.Join(" and ", by)}";
        var order = LineOrder.Of(plan.Planner, plan.Tile with { By = by, Sort = sort }, query, plan.Scope);
        return new PlannedQuestion(Id(down, isAcross), why, query with { Order = order });
    }
}
