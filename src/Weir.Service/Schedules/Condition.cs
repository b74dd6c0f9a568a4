using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Service.Schedules;

/// <summary>Whether the condition of a report holds for a reader.</summary>
/// <param name="IsMet">Null if that could not be worked out, which is not the same as not met.</param>
/// <param name="Found">For which members it holds, a line each.</param>
internal sealed record Verdict(bool? IsMet, IReadOnlyList<string> Found, string? Reason)
{
    private const int MostFound = 20;

    /// <summary>Looks at the figures of a tile. As in SQL, a condition over a figure that is not there is unknown.</summary>
    /// <param name="title">The tile's title.</param>
    public static Verdict Of(OnlyIf condition, Table table, string title, DayOfWeek weekStart)
    {
        var rest = table.IndexOf(ColumnRole.Rest);
        List<int> rows = [.. Enumerable.Range(0, table.Rows).Where(r => rest < 0 || table.Values[rest][r] is not true)];
        // A grouping over nothing has no line, a single figure over nothing has one that is empty.
        var figures = table
            .Columns.Select((c, i) => (Column: c, Index: i))
            .Where(c => c.Column.Role is ColumnRole.Figure or ColumnRole.Tip)
            .ToList();
        if (rows.All(r => figures.All(f => table.Values[f.Index][r] is null or 0L)))
            return condition.WhenEmpty ? new Verdict(true, [$"{title} has no rows."], null) : new Verdict(false, [], null);
        if (condition.Holds is not { } holds)
            return new Verdict(false, [], null);
        var columns = figures.DistinctBy(f => f.Column.Name).ToDictionary(f => f.Column.Name, f => f.Index);
        var evaluator = new Evaluator(weekStart);
        List<int> met = [];
        var unknown = new List<string>();
        foreach (var row in rows)
            try
            {
                switch (evaluator.Value(holds, c => table.Values[columns[c.Name]][row]))
                {
                    case true:
                        met.Add(row);
                        break;
                    case null:
                        unknown.Add(MemberOf(row));
                        break;
                }
            }
            catch (ArithmeticException)
            {
                unknown.Add(MemberOf(row));
            }
        if (met.Count > 0)
            return new Verdict(true, [.. met.Take(MostFound).Select(Said), .. More(met.Count)], null);
        return unknown.Count > 0
            ? new Verdict(
                null,
                [],
                $"'{condition.HoldsText}' can't be worked out for {string.Join(", ", unknown.Take(5))}: a figure is not there."
            )
            : new Verdict(false, [], null);

        IEnumerable<string> More(int count) => count > MostFound ? [$"and {count - MostFound} more"] : [];

        string MemberOf(int row)
        {
            var members = table
                .Columns.Select((c, i) => (c, i))
                .Where(c => c.c.Role == ColumnRole.Group)
                .Select(c => Labels.Write(table.Values[c.i][row], c.c));
            return string.Join(", ", members) is { Length: > 0 } named ? named : title;
        }

        string Said(int row)
        {
            // Only what the condition is about, in its order.
            var asked = holds
                .All()
                .OfType<Bound.Column>()
                .Select(c => c.Name)
                .Distinct()
                .Select(n => figures.First(f => f.Column.Name == n));
            return $"{MemberOf(row)}: {string.Join(", ", asked.Select(f => $"{f.Column.Title} {Labels.Write(table.Values[f.Index][row], f.Column)}"))}";
        }
    }
}
