using Weir.Core.Results;

namespace Weir.Core.Planning;

/// <summary>
/// The order of the members of the first group by a figure over all lines of each, where lines are split by a second group. The
/// order of lines is made from it once the figures are there.
/// </summary>
/// <param name="Figure">The figure, by its place among the figures.</param>
public sealed record MemberOrder(int Figure, bool Descending)
{
    /// <summary>The question for the figure of each member; null if it adds up from the lines.</summary>
    /// <param name="adds">True if the values of lines add up to that of the member.</param>
    internal static Query? Question(Query query, bool adds) => query.ByMember is not { } order || adds ? null
        : query with { Groups = [query.Groups[0]], Figures = [query.Figures[order.Figure]], ByMember = null, Order = [new OrderKey(0, false)] };

    /// <summary>The lines with their members in order, those of one member as they were.</summary>
    /// <param name="members">The answer to <see cref="Question"/>; null to add up the lines.</param>
    internal static QueryAnswer Apply(Query query, QueryAnswer answer, Table? members)
    {
        if (query.ByMember is not { } order)
            return answer;
        var table = answer.Table;
        var rest = table.IndexOf(ColumnRole.Rest);
        (object? Member, bool IsRest) Of(Table of, int row) => (of.Values[0][row], of.IndexOf(ColumnRole.Rest) is >= 0 and var at && of.Values[at][row] is true);
        var figures = new Dictionary<(object?, bool), object?>();
        if (members is not null)
            for (var r = 0; r < members.Rows; r++)
                figures[Of(members, r)] = members.Values[^1][r];
        else
        {
            var values = table.Values[query.Groups.Count + (rest >= 0 ? 1 : 0) + order.Figure];
            foreach (var lines in Enumerable.Range(0, table.Rows).GroupBy(r => Of(table, r)))
                figures[lines.Key] = lines.Select(r => values[r]).OfType<object>().Aggregate((object?)null, (sum, v) => sum is null ? Convert.ToDouble(v) : (double)sum + Convert.ToDouble(v));
        }
        var rows = Enumerable.Range(0, table.Rows).OrderBy(r => Of(table, r).IsRest)
            .ThenBy(r => figures.GetValueOrDefault(Of(table, r)), SharedScan.NullsLast(order.Descending)).ToArray();
        return answer with { Table = table with { Values = [.. table.Values.Select(v => rows.Select(r => v[r]).ToArray())] } };
    }
}
