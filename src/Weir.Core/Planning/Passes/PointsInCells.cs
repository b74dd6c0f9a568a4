using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>
/// Groups points into equal cells where there are more than can be told apart: each cell has its middle and how many points lie in it.
/// What is grouped can't be picked any more, so it has no members.
/// </summary>
internal static class PointsInCells
{
    private const int Across = 80;
    private const int Up = 50;

    public static TilePlan Apply(TilePlan plan) =>
        plan.Tile.Picture.MostPoints is not { } most
            ? plan
            : plan.Then(
                "points in cells, where there are very many",
                (_, answer) => answer.Table.Rows > most ? Grouped(answer, most) : answer
            );

    private static TileAnswer Grouped(TileAnswer answer, int most)
    {
        var table = answer.Table;
        List<int> figures = [.. Enumerable.Range(0, table.Columns.Count).Where(c => table.Columns[c].Role == ColumnRole.Figure).Take(2)];
        if (figures is not [var x, var y])
            return answer;
        List<(double X, double Y)> points =
        [
            .. Enumerable
                .Range(0, table.Rows)
                .Where(r => table.Values[x][r] is not null && table.Values[y][r] is not null)
                .Select(r => (Convert.ToDouble(table.Values[x][r]), Convert.ToDouble(table.Values[y][r])))
                .Where(p => double.IsFinite(p.Item1) && double.IsFinite(p.Item2)),
        ];
        // Of as many lines none may have both figures: nothing is to be drawn, in cells or not.
        if (points is [])
            return answer;
        var (left, width) = Span([.. points.Select(p => p.X)], Across);
        var (below, height) = Span([.. points.Select(p => p.Y)], Up);
        var cells = points
            .GroupBy(p => (Column: Place(p.X, left, width, Across), Row: Place(p.Y, below, height, Up)))
            .OrderBy(c => c.Key.Column)
            .ThenBy(c => c.Key.Row)
            .Select(c =>
                (object?[])[left + ((c.Key.Column + 0.5) * width), below + ((c.Key.Row + 0.5) * height), (long)c.Count(), width, height]
            )
            .ToList();
        Column Float(Column of) => of with { Kind = Expressions.ValueKind.Float };
        IReadOnlyList<Column> columns =
        [
            Float(table.Columns[x]),
            Float(table.Columns[y]),
            new("points", "Points", ColumnRole.Figure, Expressions.ValueKind.Integer, null, null),
            Float(table.Columns[x]) with
            {
                Name = "cell_width",
                Title = "Width of a cell",
                Role = ColumnRole.Tip,
            },
            Float(table.Columns[y]) with
            {
                Name = "cell_height",
                Title = "Height of a cell",
                Role = ColumnRole.Tip,
            },
        ];
        var shown = Table.FromRows(columns, [.. cells]);
        var counted = new Format(0, 1, "");
        return answer with
        {
            Table = shown,
            Lines = shown.Rows,
            Note =
                $"{counted.Write((long)points.Count)} points in cells, the darker the more; up to {counted.Write((long)most)} are drawn one by one."
                + (answer.Lines > table.Rows ? $" These are the first of {counted.Write(answer.Lines)}." : ""),
        };
    }

    private static (double From, double Size) Span(List<double> values, int cells)
    {
        var (least, greatest) = (values.Min(), values.Max());
        return (least, greatest > least ? (greatest - least) / cells : 1);
    }

    private static int Place(double value, double from, double size, int cells) => Math.Clamp((int)((value - from) / size), 0, cells - 1);
}
