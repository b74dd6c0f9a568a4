using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>
/// Puts rows into ranges of a number and not into one group for each value. The ends of equal ranges come from the least and the
/// greatest of all rows that the viewer may see, so that they stay where they are while others filter the tile.
/// </summary>
internal static class RangesOfValues
{
    private const string Ends = "ends";

    public static TilePlan Apply(TilePlan plan)
    {
        if (plan.Tile.Ranges is not { } ranges || plan.Tile.Picture.Question != QuestionShape.Ranges)
            return plan;
        var value = plan.Shown.Groups[0];
        var kind = value.Formula.Kind;
        IReadOnlyList<object> EdgesOf(Answers answers) =>
            ranges.Edges.Count > 0 ? Typed(ranges.Edges, kind)
            : answers.Of(Ends)!.Table is var ends && ends.Values[0][0] is { } least && ends.Values[1][0] is { } greatest
                ? Typed(ranges.Between(Convert.ToDecimal(least), Convert.ToDecimal(greatest), kind == ValueKind.Integer), kind)
            : [];

        // As many places as there may be ranges; those that are not needed end where the first one begins, and hold nothing.
        var most =
            ranges.Edges.Count > 0 ? ranges.Edges.Count - 1
            : ranges.Width is null ? ranges.Most
            : ValueRanges.MostRanges;
        Bound Edge(int i) =>
            ranges.Edges.Count > 0
                ? new Bound.Literal(Typed(ranges.Edges, kind)[i], kind)
                : new Bound.Open($"end {i + 1} of the ranges", kind);
        Bound Compare(Operation operation, Bound edge) => new Bound.Op(operation, ValueKind.Boolean, value.Formula, edge);
        var start = new Bound.Op(
            Operation.Case,
            kind,
            [.. Enumerable.Range(0, most - 1).SelectMany(i => new[] { Compare(Operation.Less, Edge(i + 1)), Edge(i) }), Edge(most - 1)]
        );
        var count = Output.RowCount;
        var shown = plan.Shown with
        {
            Where = [.. plan.Shown.Where, Compare(Operation.GreaterOrEqual, Edge(0)), Compare(Operation.LessOrEqual, Edge(most))],
            Groups = [value with { Formula = start }, .. plan.Shown.Groups.Skip(1)],
            Figures = plan.Shown.Figures.Count > 0 ? plan.Shown.Figures : [count],
        };
        plan = plan.Showing(shown);
        if (ranges.Edges.Count == 0)
            plan = plan.Asking(
                    new PlannedQuestion(
                        Ends,
                        "the least and the greatest value, for the ends of the ranges",
                        PictureQuestion.EndsOf(plan, value)
                    )
                )
                .Asking(
                    plan.Questions.Single(q => q.Id == TilePlan.Lines) with
                    {
                        After = [Ends],
                        Fillings = answers =>
                            EdgesOf(answers) is { Count: > 0 } edges
                                ?
                                [
                                    new Filling(
                                        Enumerable
                                            .Range(0, most + 1)
                                            .Select(i =>
                                                ($"end {i + 1} of the ranges", (object?)edges[Math.Max(0, i - (most + 1 - edges.Count))])
                                            )
                                    ),
                                ]
                                : [],
                    }
                );
        return plan.Then(
            "every range, those without rows too",
            (answers, answer) => answer with { Table = Whole(plan, answers.Of(TilePlan.Lines)?.Table, EdgesOf(answers)) }
        );
    }

    /// <summary>A line for each range in order, and the ends at the column of the ranges.</summary>
    private static Table Whole(TilePlan plan, Table? lines, IReadOnlyList<object> edges)
    {
        IReadOnlyList<Column> columns = [.. plan.Shown.Columns.Select((c, i) => i == 0 ? c with { Edges = edges } : c)];
        // Of no rows at all there is nothing to show, as anywhere else.
        if (lines is null || lines.Rows == 0)
            return Table.FromRows(columns, []);
        var groups = plan.Shown.Groups.Count;
        // Where it is split or repeated, every member has every range.
        var members = Enumerable.Range(0, lines.Rows).GroupBy(r => new LineMembers([.. lines.Row(r).Take(groups).Skip(1)]));
        return Table.FromRows(
            columns,
            [
                .. members.SelectMany(member =>
                {
                    var known = member.ToDictionary(r => lines.Values[0][r]!, r => r, ByValue);
                    return edges
                        .SkipLast(1)
                        .Select(s =>
                            known.TryGetValue(s, out var row)
                                ? [s, .. lines.Row(row).Skip(1)]
                                : (object?[])[s, .. member.Key.Values, .. columns.Skip(groups).Select(Empty)]
                        );
                }),
            ]
        );
    }

    /// <summary>A count of no rows is 0, any other figure of them is missing.</summary>
    private static object? Empty(Column column) => column.Name == "rows" && column.Role == ColumnRole.Figure ? 0L : null;

    private static readonly EqualityComparer<object> ByValue = EqualityComparer<object>.Create(
        (a, b) => Evaluator.Compare(a!, b!) == 0,
        v => Convert.ToDouble(v).GetHashCode()
    );

    private static List<object> Typed(IReadOnlyList<decimal> edges, ValueKind kind) =>
        [
            .. edges.Select(e =>
                kind switch
                {
                    ValueKind.Integer => (object)(long)Math.Ceiling(e),
                    ValueKind.Float => (double)e,
                    _ => e,
                }
            ),
        ];
}
