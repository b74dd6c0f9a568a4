using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>
/// From which state to which subjects went. Of each subject and state the first and the last date is asked; the rest is worked out.
/// Where a subject has several states at its first date, or at its last, the worst of them counts.
/// </summary>
internal static class MovementOfSubjects
{
    private const string Dates = "dates";

    public static TilePlan Apply(TilePlan plan)
    {
        if (plan.Tile.Subjects is not { } subjects)
            return plan;
        var (subject, state, date) = (plan.Shown.Groups[0], plan.Shown.Groups[1], plan.Planner.Group(subjects.Along, plan.Scope));
        Output At(AggregateFunction function, string name) =>
            new(
                new Bound.Aggregate(function, date.Formula, null, date.Formula.Kind),
                new Column(name, name, ColumnRole.Figure, date.Formula.Kind, null, null)
            );
        Bound IsKnown(Output of) =>
            new Bound.Op(Operation.Not, ValueKind.Boolean, new Bound.Op(Operation.IsNull, ValueKind.Boolean, of.Formula));
        plan = plan.Showing(
            plan.Shown with
            {
                Where = [.. plan.Shown.Where, IsKnown(subject), IsKnown(state), IsKnown(date)],
                Groups = [subject with { NamedBy = null }, state],
                Figures = [At(AggregateFunction.Minimum, "first"), At(AggregateFunction.Maximum, "last")],
            }
        );
        // The order of the states tells which is the worst, whatever is picked.
        var states = new Query(plan.Scope, [IsKnown(state)], [state], [Output.RowCount], null, [], plan.Limit);
        return plan.Asking(
                new PlannedQuestion(
                    Dates,
                    "the states in their order",
                    states with
                    {
                        Order = [plan.Planner.Key(states, 0, descending: false)],
                    }
                )
            )
            .Then(
                subjects.IsWorst ? "from the first state to the worst later one" : "from the first state to the last",
                (answers, _) => Moved(plan.Tile, subject.Column, answers.Of(TilePlan.Lines)!, answers.Of(Dates)!.Table)
            );
    }

    private sealed record Seen(object State, int Rank, DateTime First, DateTime Last);

    private static TileAnswer Moved(Tile tile, Column subject, QueryAnswer answer, Table states)
    {
        var column = answer.Table.Columns[1];
        IReadOnlyList<Column> columns =
        [
            column with
            {
                Title = $"{column.Title} at first",
            },
            column with
            {
                Name = $"{column.Name} later",
                Title = $"{column.Title}, {(tile.Subjects!.IsWorst ? "the worst later" : "the last later")}",
            },
            new Column("subjects", $"{subject.Title}, how many", ColumnRole.Figure, ValueKind.Integer, null, null),
        ];
        // Of some subjects a state could be left out: then every count would be a guess.
        if (answer.Lines > answer.Table.Rows)
            return TileAnswer.None with
            {
                Table = Table.FromRows(columns, []),
                Note =
                    $"There are {answer.Lines} subjects with a state, more than a tile may bring: pick some of them, or raise the source's limit of rows.",
            };
        var ranks = states.Values[0].OfType<object>().Select((s, i) => (s, i)).ToDictionary(x => x.s, x => x.i);
        var table = answer.Table;
        var pairs = Enumerable
            .Range(0, table.Rows)
            .GroupBy(
                r => table.Values[0][r]!,
                r => new Seen(
                    table.Values[1][r]!,
                    ranks.GetValueOrDefault(table.Values[1][r]!, ranks.Count),
                    Periods.Instant(table.Values[2][r]!),
                    Periods.Instant(table.Values[3][r]!)
                )
            )
            .Select(of => (First: FirstOf([.. of]), Later: LaterOf([.. of], tile.Subjects!.IsWorst)))
            .GroupBy(p => (p.First.Rank, Later: p.Later?.Rank))
            .OrderBy(g => g.Key.Rank)
            .ThenBy(g => g.Key.Later ?? int.MaxValue)
            .Select(g => (object?[])[g.First().First.State, g.First().Later?.State, (long)g.Count()]);
        var moved = Table.FromRows(columns, [.. pairs]);
        return TileAnswer.None with { Table = moved, Lines = moved.Rows };
    }

    private static Seen FirstOf(IReadOnlyList<Seen> seen)
    {
        var start = seen.Min(s => s.First);
        return seen.Where(s => s.First == start).MaxBy(s => s.Rank)!;
    }

    /// <summary>The state after the first date; null for a subject that was not seen again.</summary>
    private static Seen? LaterOf(IReadOnlyList<Seen> seen, bool isWorst)
    {
        var (start, end) = (seen.Min(s => s.First), seen.Max(s => s.Last));
        return end == start ? null : seen.Where(s => isWorst ? s.Last > start : s.Last == end).MaxBy(s => s.Rank);
    }
}
