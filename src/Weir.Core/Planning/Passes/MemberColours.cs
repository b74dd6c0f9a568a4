using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>
/// Gives members their places among the series colours: in the order of the field's members over all rows that the viewer may see,
/// whatever is picked, those with a fixed colour left out. So a member has one colour on all tiles, on every visit and machine, and a
/// viewer's colours tell nothing of members that are none of theirs.
/// </summary>
public static class MemberColours
{
    private const string Members = "colours";

    /// <summary>Members beyond so many have no colour of their own.</summary>
    private const int Most = 1_000;

    /// <summary>Which group of the lines is told apart by colour; -1 for none.</summary>
    private static int GroupOf(TilePlan plan) =>
        plan.Tile.Split is not null ? plan.Shown.Groups.Count - 1
        : plan.Tile.Picture.ColoursMembers ? 0
        : -1;

    internal static TilePlan Apply(TilePlan plan) =>
        Question(plan) is not { } question
            ? plan
            : plan.Asking(question)
                .Then(
                    "colours of members",
                    (answers, answer) => answer with { Table = Coloured(plan, answer.Table, GroupOf(plan), answers.Of(Members)!) }
                );

    /// <summary>The question for the members in order; null for a tile without such colours.</summary>
    /// <param name="plan">A plan with the groups of its tile.</param>
    public static PlannedQuestion? Question(TilePlan plan)
    {
        if (GroupOf(plan) is not (>= 0 and var at) || at >= plan.Shown.Groups.Count)
            return null;
        var group = plan.Shown.Groups[at];
        // A figure, so that the question may share a scan with others over the same rows.
        var count = Output.RowCount;
        var query = new Query(plan.Scope, [], [group], [count], null, [], Most);
        return new PlannedQuestion(
            Members,
            "the members in order, for their colours",
            query with
            {
                Order = [plan.Planner.Key(query, 0, descending: false)],
            }
        );
    }

    /// <summary>A table with the places of members at one of its columns.</summary>
    /// <param name="offset">How many columns stand before the first group of the tile.</param>
    public static Table With(TilePlan plan, Table table, int offset, QueryAnswer members) =>
        Coloured(plan, table, offset + GroupOf(plan), members);

    private static Table Coloured(TilePlan plan, Table table, int at, QueryAnswer members)
    {
        if (at >= table.Columns.Count)
            return table;
        var isFixed = plan.Shown.Groups[GroupOf(plan)].Column.Colours;
        var places = members
            .Table.Values[0]
            .OfType<object>()
            .Select(Values.Write)
            .Where(m => isFixed?.ContainsKey(m) != true)
            .Select((m, i) => (m, i))
            .ToDictionary(x => x.m, x => x.i);
        return table with { Columns = [.. table.Columns.Select((c, i) => i == at ? c with { Places = places } : c)] };
    }
}
