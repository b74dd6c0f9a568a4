using System.Text.Json;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Results;

namespace Weir.Service.Exports;

/// <summary>A line of a cross table: a member of the last of the fields down, a group of them, or all.</summary>
/// <param name="Level">How many of the fields down it is of: 0 for the line over all.</param>
/// <param name="Member">The last of its members, as readers know it.</param>
/// <param name="Figures">Its figures, for each member across all of them, then those over all; null where there are no rows.</param>
internal sealed record CrossLine(int Level, string Member, IReadOnlyList<object?> Figures);

/// <summary>A cross table as it stands on a sheet: its members across, then its lines from the top down, each group before what is in it.</summary>
/// <param name="Across">The members across, as readers know them; then what stands for all.</param>
internal sealed record CrossGrid(
    IReadOnlyList<Column> Down,
    Column AcrossField,
    IReadOnlyList<Column> Figures,
    IReadOnlyList<string> Across,
    IReadOnlyList<CrossLine> Lines
)
{
    private sealed record Found(object?[] Members, object?[] Figures);

    /// <summary>Puts the lines of an answer and its subtotals where they stand, in the order of the subtotals; null if it has none.</summary>
    public static CrossGrid? Of(TileAnswer answer)
    {
        if (answer.Subtotals.Count == 0)
            return null;
        var groups = answer.Table.Columns.Where(c => c.Role == ColumnRole.Group).ToList();
        var (down, across) = (groups[..^1], groups[^1]);
        var figures = answer.Table.Columns.Where(c => c.Role == ColumnRole.Figure).ToList();
        IReadOnlyList<Found> Level(int of, bool isAcross) =>
            answer.Subtotals.FirstOrDefault(s => s.Down == of && s.IsAcross == isAcross) is { } found ? LinesOf(found.Table) : [];
        var cells = LinesOf(answer.Table)
            .Concat(Enumerable.Range(0, down.Count).SelectMany(of => Level(of, true)))
            .ToDictionary(l => KeyOf(l.Members), l => l.Figures);
        var columns = Level(0, true).Select(l => l.Members[0]).ToList();
        var children = Enumerable.Range(1, down.Count).SelectMany(of => Level(of, false)).ToLookup(l => KeyOf(l.Members[..^1]));
        var lines = new List<CrossLine>();
        Add([]);
        foreach (var all in Level(0, false))
            lines.Add(new CrossLine(0, "Total", FiguresOf([], all.Figures)));
        return new CrossGrid(down, across, figures, [.. columns.Select(m => Labels.Write(m, across)), "All"], lines);

        void Add(object?[] path)
        {
            foreach (var line in children[KeyOf(path)])
            {
                var level = line.Members.Length;
                lines.Add(new CrossLine(level, Labels.Write(line.Members[^1], down[level - 1]), FiguresOf(line.Members, line.Figures)));
                if (level < down.Count)
                    Add(line.Members);
            }
        }

        List<object?> FiguresOf(object?[] path, object?[] all) =>
            [.. columns.SelectMany(m => cells.GetValueOrDefault(KeyOf([.. path, m])) ?? new object?[figures.Count]), .. all];
    }

    private static string KeyOf(object?[] members) => JsonSerializer.Serialize(members.Select(m => m is null ? null : Values.Write(m)));

    private static List<Found> LinesOf(Table table)
    {
        int[] Of(ColumnRole role) => [.. Enumerable.Range(0, table.Columns.Count).Where(i => table.Columns[i].Role == role)];
        var (groups, figures) = (Of(ColumnRole.Group), Of(ColumnRole.Figure));
        return
        [
            .. Enumerable
                .Range(0, table.Rows)
                .Select(r => new Found([.. groups.Select(g => table.Values[g][r])], [.. figures.Select(f => table.Values[f][r])])),
        ];
    }
}
