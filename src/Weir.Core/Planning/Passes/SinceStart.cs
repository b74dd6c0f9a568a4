using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>
/// Lines that begin together: in place of its date, each point has how many periods it is after the first of its own line; as change, in
/// place of its figure (figure − first) / first.
/// </summary>
internal static class SinceStart
{
    public static TilePlan Apply(TilePlan plan)
    {
        if (
            plan.Tile.Options.GetValueOrDefault(TileReader.SinceStart) is not { } how
            || plan.Shown.Groups is not [{ Formula: Bound.Grain grain } along, _]
            || plan.Shown.Figures.Count == 0
        )
            return plan;
        return plan.Then("each line from its own start", (_, answer) => Aligned(answer, along.Column, grain.Of, how == "change"));
    }

    private static TileAnswer Aligned(TileAnswer answer, Column along, DateGrain grain, bool isChange)
    {
        var table = answer.Table;
        var figure = table.IndexOf(ColumnRole.Figure);
        List<object?[]> lines = [];
        foreach (
            var line in Enumerable
                .Range(0, table.Rows)
                .Where(r => table.Values[0][r] is not null && table.Values[figure][r] is not null)
                .GroupBy(r => new LineMembers([table.Values[1][r]]))
        )
        {
            List<int> rows = [.. line.OrderBy(r => Periods.Instant(table.Values[0][r]!))];
            var (start, first) = (Periods.Instant(table.Values[0][rows[0]]!), table.Values[figure][rows[0]]!);
            foreach (var r in rows)
            {
                var row = table.Row(r);
                row[0] = PeriodsBetween(start, Periods.Instant(row[0]!), grain);
                if (isChange)
                    row[figure] =
                        Convert.ToDouble(first) == 0
                            ? null
                            : (Convert.ToDouble(row[figure]) - Convert.ToDouble(first)) / Convert.ToDouble(first);
                lines.Add(row);
            }
        }
        var unit = grain.ToString().ToLowerInvariant();
        // A place that no line has a point at is still there: the axis would lie otherwise.
        var known = lines.Select(l => (long)l[0]!).ToHashSet();
        if (lines.Count > 0)
            for (long at = 0; at <= known.Max(); at++)
                if (!known.Contains(at))
                    lines.Add([at, lines[0][1], .. new object?[table.Columns.Count - 2]]);
        var columns = table.Columns.ToArray();
        columns[0] = new Column(
            along.Name,
            $"{char.ToUpperInvariant(unit[0])}{unit[1..]}s since the start",
            ColumnRole.Group,
            ValueKind.Integer,
            null,
            null
        );
        if (isChange)
            columns[figure] = columns[figure] with
            {
                Title = $"{columns[figure].Title}, change since the start",
                Kind = ValueKind.Float,
                Format = new Format(1, 100, "%"),
                Pattern = null,
            };
        return answer with { Table = Table.FromRows(columns, [.. lines.OrderBy(l => (long)l[0]!)]), Partial = [], PartialPairs = [] };
    }

    /// <summary>How many periods the start of one is after that of another; of hours whole ones.</summary>
    private static long PeriodsBetween(DateTime from, DateTime to, DateGrain grain)
    {
        var months = ((to.Year - from.Year) * 12L) + to.Month - from.Month;
        return grain switch
        {
            DateGrain.Year => to.Year - from.Year,
            DateGrain.Quarter => months / 3,
            DateGrain.Month => months,
            DateGrain.Week => (long)(to - from).TotalDays / 7,
            DateGrain.Hour => (long)(to - from).TotalHours,
            _ => (long)(to - from).TotalDays,
        };
    }
}
