using Weir.Core.Definitions;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>The figures of measures at which a picture has lines: over all rows that it shows, or over those of each of its pictures.</summary>
internal static class ReferenceFigures
{
    private const string OfAll = "reference lines";
    private const string OfEach = "reference lines of each";

    public static TilePlan Apply(TilePlan plan)
    {
        if (plan.Shown.Figures.Count == 0)
            return plan;
        var all = MeasuresOf(plan.Tile, isOfEach: false);
        if (all.Count > 0)
            plan = plan.Asking(
                    new PlannedQuestion(OfAll, "the figures at which lines are drawn, over all rows", Planner.Totals(With(plan, all)))
                )
                .Then(
                    "lines at measures",
                    (answers, answer) =>
                        answer with
                        {
                            References = Placed(plan.Tile, all, isOfEach: false, [.. answers.Of(OfAll)!.Table.Row(0)]),
                        }
                );
        var each = MeasuresOf(plan.Tile, isOfEach: true);
        var at = plan.Tile.By.Count - 1;
        return each.Count == 0 || !plan.Tile.Repeats
            ? plan
            : plan.Asking(
                    new PlannedQuestion(
                        OfEach,
                        "the figures at which lines of each picture are drawn",
                        Planner.Totals(With(plan, each)) with
                        {
                            Groups = [plan.Shown.Groups[at]],
                            Limit = plan.Limit,
                        }
                    )
                )
                .Then(
                    "lines of each picture",
                    (answers, answer) =>
                    {
                        var table = answers.Of(OfEach)!.Table;
                        return answer with
                        {
                            ReferencesOfEach =
                            [
                                .. Enumerable
                                    .Range(0, table.Rows)
                                    .Select(table.Row)
                                    .Select(row => (row[0], Placed(plan.Tile, each, isOfEach: true, [.. row.Skip(1)]))),
                            ],
                        };
                    }
                );
    }

    private static List<string> MeasuresOf(Tile tile, bool isOfEach) =>
        [.. tile.References.Where(r => r.IsOfEach == isOfEach).Select(r => r.Measure).OfType<string>().Distinct()];

    private static Query With(TilePlan plan, List<string> measures) =>
        plan.Shown with
        {
            Figures = [.. measures.Select(m => plan.Planner.Figure(plan.Scope.Measures[m]))],
        };

    /// <summary>For each line of the tile its figure; null for those that are at a value or of the other kind.</summary>
    private static IReadOnlyList<object?> Placed(Tile tile, List<string> measures, bool isOfEach, List<object?> figures) =>
        [.. tile.References.Select(r => r.Measure is { } of && r.IsOfEach == isOfEach ? figures[measures.IndexOf(of)] : null)];
}
