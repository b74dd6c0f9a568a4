using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>The question that the kind of picture asks: its groups and figures, or the ends of what can be picked.</summary>
internal static class PictureQuestion
{
    public static TilePlan Apply(TilePlan plan)
    {
        var (tile, scope) = (plan.Tile, plan.Scope);
        IReadOnlyList<Bound> where = [.. plan.Filters.Conditions];
        // A control for a range asks for its ends only, one for a piece of text how many members there are to search.
        var query = tile.Picture.Question is QuestionShape.Ends or QuestionShape.Count
            ? new Query(scope, where, [], [.. Ends(plan)], null, [], 1)
            : new Query(scope, where, [.. tile.Groups.Select(g => plan.Planner.Group(g, scope))], [.. tile.Show.Select(m => plan.Planner.Figure(scope.Measures[m]))], null, [], plan.Limit);
        return plan.Showing(query).Then("the lines", (answers, _) => answers.Of(TilePlan.Lines) is { } lines ? TileAnswer.None with { Table = lines.Table, Lines = lines.Lines } : TileAnswer.None);
    }

    private static IEnumerable<Output> Ends(TilePlan plan)
    {
        var field = plan.Planner.Group(plan.Tile.By[0], plan.Scope);
        Output Of(AggregateFunction function, string name, ValueKind kind) => new(
            new Bound.Aggregate(function, field.Formula, null, kind), field.Column with { Name = name, Role = ColumnRole.Figure, Kind = kind, Colours = null, Names = null });
        return plan.Tile.Picture.Question == QuestionShape.Count ? [Of(AggregateFunction.CountDistinct, "members", ValueKind.Integer)]
            : [Of(AggregateFunction.Minimum, "first", field.Formula.Kind), Of(AggregateFunction.Maximum, "last", field.Formula.Kind)];
    }
}
