namespace Weir.Core.Planning.Passes;

/// <summary>The line of totals below a table: each measure by its own aggregation over all rows.</summary>
internal static class TotalsLine
{
    /// <summary>The question for one line over all rows of another question.</summary>
    public static PlannedQuestion Question(Query asked) => new(TilePlan.Total, "the same over all rows in one line", Planner.Totals(asked));

    public static TilePlan Apply(TilePlan plan)
    {
        if (!plan.Tile.Totals || plan.Shown.Figures.Count == 0 || plan.Tile.Change is not null)
            return plan;
        var window = WindowFigures.Of(plan.Shown);
        return plan.Asking(Question(window?.Asked ?? plan.Shown))
            .Then(
                "the line of totals",
                (answers, answer) =>
                {
                    var total = answers.Of(TilePlan.Total)!.Table;
                    return answer with { Totals = window is null ? total : window.Totals(total, plan.WeekStart) };
                }
            );
    }
}
