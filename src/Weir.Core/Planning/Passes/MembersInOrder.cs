using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>Puts the members of split lines in the order of their figure: added up from the lines, or asked for where it can't be.</summary>
internal static class MembersInOrder
{
    private const string Members = "members";

    public static TilePlan Apply(TilePlan plan)
    {
        if (plan.Shown.ByMember is not { } order)
            return plan;
        var figure = plan.Shown.Figures[order.Figure];
        var addsUp = plan.Scope.Measures[plan.Tile.Show[order.Figure]].IsAdditive || WindowFigures.Looks(figure.Formula);
        if (!addsUp)
            plan = plan.Asking(
                new PlannedQuestion(
                    Members,
                    "the figure of each member, for their order",
                    plan.Shown with
                    {
                        Groups = [plan.Shown.Groups[0]],
                        Figures = [figure],
                        ByMember = null,
                        Order = [new OrderKey(0, false)],
                    }
                )
            );
        return plan.Then(
            "members in the order of their figure",
            (answers, answer) => answer with { Table = Ordered(plan.Shown, answer.Table, answers.Of(Members)?.Table) }
        );
    }

    /// <summary>The lines with their members in order, those of one member as they were.</summary>
    /// <param name="members">The answer to the question; null to add up the lines.</param>
    private static Table Ordered(Query query, Table table, Table? members)
    {
        var order = query.ByMember!;
        var rest = table.IndexOf(ColumnRole.Rest);
        (object? Member, bool IsRest) Of(Table of, int row) =>
            (of.Values[0][row], of.IndexOf(ColumnRole.Rest) is >= 0 and var at && of.Values[at][row] is true);
        var figures = new Dictionary<(object?, bool), object?>();
        if (members is not null)
            for (var r = 0; r < members.Rows; r++)
                figures[Of(members, r)] = members.Values[^1][r];
        else
        {
            var values = table.Values[query.Groups.Count + (rest >= 0 ? 1 : 0) + order.Figure];
            foreach (var lines in Enumerable.Range(0, table.Rows).GroupBy(r => Of(table, r)))
                figures[lines.Key] = lines
                    .Select(r => values[r])
                    .OfType<object>()
                    .Aggregate((object?)null, (sum, v) => sum is null ? Convert.ToDouble(v) : (double)sum + Convert.ToDouble(v));
        }
        var rows = Enumerable
            .Range(0, table.Rows)
            .OrderBy(r => Of(table, r).IsRest)
            .ThenBy(r => figures.GetValueOrDefault(Of(table, r)), SharedScan.NullsLast(order.Descending))
            .ToArray();
        return table with { Values = [.. table.Values.Select(v => rows.Select(r => v[r]).ToArray())] };
    }
}
