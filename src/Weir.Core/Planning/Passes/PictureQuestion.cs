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
        IReadOnlyList<FieldAt> groups = tile.Picture.Question switch
        {
            // Each of its fields has questions of its own.
            QuestionShape.Summary => tile.Split is { } split ? [split] : [],
            QuestionShape.Movement => [tile.Subjects!.Each, .. tile.Groups],
            _ => tile.Groups,
        };
        var query = tile.Picture.Question is QuestionShape.Ends or QuestionShape.Count
            ? new Query(scope, where, [], [.. Ends(plan)], null, [], 1)
            : new Query(
                scope,
                where,
                [.. groups.Select(g => plan.Planner.Group(g, scope))],
                [.. tile.Show.Select(m => plan.Planner.Figure(scope.Measures[m])), .. TipFigures(plan)],
                null,
                [],
                plan.Limit
            );
        return plan.Showing(query)
            .Then(
                "the lines",
                (answers, _) =>
                    answers.Of(TilePlan.Lines) is { } lines
                        ? TileAnswer.None with
                        {
                            Table = lines.Table,
                            Lines = lines.Lines,
                        }
                        : TileAnswer.None
            );
    }

    private static IEnumerable<Output> TipFigures(TilePlan plan) =>
        (plan.Tile.Tip?.Measures ?? [])
            .Except(plan.Tile.Show)
            .Select(m => plan.Planner.Figure(plan.Scope.Measures[m]))
            .Select(f => f with { Column = f.Column with { Role = ColumnRole.Tip } });

    /// <summary>The question for the least and the greatest value of a field among all rows that the viewer may see.</summary>
    public static Query EndsOf(TilePlan plan, Output field) =>
        new(
            plan.Scope,
            [],
            [],
            [End(AggregateFunction.Minimum, "first", field), End(AggregateFunction.Maximum, "last", field)],
            null,
            [],
            1
        );

    private static Output End(AggregateFunction function, string name, Output field, ValueKind? kind = null) =>
        new(
            new Bound.Aggregate(function, field.Formula, null, kind ?? field.Formula.Kind),
            field.Column with
            {
                Name = name,
                Role = ColumnRole.Figure,
                Kind = kind ?? field.Formula.Kind,
                Colours = null,
                Names = null,
            }
        );

    private static IEnumerable<Output> Ends(TilePlan plan)
    {
        var field = plan.Planner.Group(plan.Tile.By[0], plan.Scope);
        return plan.Tile.Picture.Question == QuestionShape.Count
            ? [End(AggregateFunction.CountDistinct, "members", field, ValueKind.Integer)]
            : [End(AggregateFunction.Minimum, "first", field), End(AggregateFunction.Maximum, "last", field)];
    }
}
