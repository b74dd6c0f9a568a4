namespace Weir.Core.Planning.Passes;

/// <summary>The figures of measures at which a picture has lines, over all rows that it shows.</summary>
internal static class ReferenceFigures
{
    private const string Id = "reference lines";

    public static TilePlan Apply(TilePlan plan)
    {
        var measures = plan.Tile.References.Select(r => r.Measure).OfType<string>().Distinct().ToList();
        if (measures.Count == 0 || plan.Shown.Figures.Count == 0)
            return plan;
        var query = Planner.Totals(plan.Shown) with { Figures = [.. measures.Select(m => plan.Planner.Figure(plan.Scope.Measures[m]))] };
        return plan.Asking(new PlannedQuestion(Id, "the figures at which lines are drawn, over all rows", query))
            .Then(
                "lines at measures",
                (answers, answer) =>
                {
                    var row = answers.Of(Id)!.Table.Row(0).ToList();
                    return answer with
                    {
                        References = [.. plan.Tile.References.Select(r => r.Measure is { } of ? row[measures.IndexOf(of)] : null)],
                    };
                }
            );
    }
}
