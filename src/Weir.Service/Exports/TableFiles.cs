using System.Globalization;
using System.IO.Compression;
using System.Text;
using CsvHelper;
using Weir.Core.Expressions;
using Weir.Core.Results;
using Weir.Service.Api;

namespace Weir.Service.Exports;

/// <summary>The columns and values of a result as files have them: members by their names, the rest of a top N by its words.</summary>
internal sealed class FileTable
{
    private readonly Table _table;
    private readonly int _rest;

    private FileTable(Table table, IReadOnlyList<object?>? totals)
    {
        (_table, _rest) = (table, table.IndexOf(ColumnRole.Rest));
        Shown = [.. Enumerable.Range(0, table.Columns.Count).Where(i => i != _rest)];
        Columns = [.. Shown.Select(i => table.Columns[i])];
        // Totals stand for the figures, in their order, where they are given.
        Totals = totals is null ? null : [.. Shown.Select(i => i < totals.Count ? totals[i] : null)];
    }

    private IReadOnlyList<int> Shown { get; }

    public IReadOnlyList<Column> Columns { get; }

    /// <summary>The figures over all lines, by column; null if there are none.</summary>
    public IReadOnlyList<object?>? Totals { get; }

    public int Rows => _table.Rows;

    public static FileTable Of(TakenTile tile)
    {
        var answer = tile.Answer!;
        if (answer.Totals is not { } totals)
            return new FileTable(answer.Table, null);
        var row = totals.Row(0);
        var byName = totals.Columns.Select((c, i) => (c.Name, row[i])).DistinctBy(c => c.Name).ToDictionary(c => c.Name, c => c.Item2);
        return new FileTable(
            answer.Table,
            [.. answer.Table.Columns.Select(c => c.Role is ColumnRole.Figure or ColumnRole.Tip ? byName.GetValueOrDefault(c.Name) : null)]
        );
    }

    /// <summary>The values of a line, by column.</summary>
    public IReadOnlyList<object?> Row(int row)
    {
        var isRest = _rest >= 0 && _table.Values[_rest][row] is true;
        return
        [
            .. Shown.Select(
                (i, place) =>
                    isRest && place == 0 ? Labels.Rest
                    : _table.Values[i][row] is { } value && _table.Columns[i].Names?.GetValueOrDefault(Values.Write(value)) is { } name
                        ? name
                    : _table.Values[i][row]
            ),
        ];
    }

    /// <summary>The heading of a column, with its unit.</summary>
    public static string Heading(Column column) =>
        column.Format is { Unit.Length: > 0 } format && format.Factor == 1 ? $"{column.Title}, {format.Unit}" : column.Title;
}

/// <summary>Results as files of tables: of one tile one file, of several an archive of them with what they are.</summary>
internal static class TableFiles
{
    public static async Task<ExportedFile> Of(Takeaway taken, string ending, string mediaType, Func<TakenTile, Task<byte[]>> write)
    {
        var tiles = taken.WithFigures.ToList();
        if (tiles.FirstOrDefault(t => t.Answer is null) is { } failed)
            throw Failed(failed.Info.Title, failed.Answered);
        if (tiles is [var only])
            return new ExportedFile(await write(only), mediaType, $"{taken.FileName}.{ending}");
        using var memory = new MemoryStream();
        using (var archive = new ZipArchive(memory, ZipArchiveMode.Create, leaveOpen: true))
        {
            await Add("about.txt", Encoding.UTF8.GetBytes(string.Join('\n', taken.About.Lines().Prepend(taken.About.Title)) + "\n"));
            foreach (var tile in tiles)
                await Add($"{tile.Info.Name}.{ending}", await write(tile));

            async Task Add(string name, byte[] content)
            {
                await using var entry = archive.CreateEntry(name).Open();
                await entry.WriteAsync(content);
            }
        }
        return new ExportedFile(memory.ToArray(), "application/zip", $"{taken.FileName}.zip");
    }

    /// <summary>What a tile without figures is told as, where a file needs them.</summary>
    internal static ProblemException Failed(string title, AnsweredTile? answered) =>
        new(
            502,
            answered?.Result.Problem?.Code ?? "no-figures",
            $"{title}: {answered?.Result.Problem?.Detail ?? "it has no figures"}",
            answered?.Result.Problem?.Remedy
        );
}

/// <summary>Results as delimited text (RFC 4180) in UTF-8, raw values with a point.</summary>
internal static class CsvFile
{
    public static byte[] Of(TakenTile tile)
    {
        var table = FileTable.Of(tile);
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        using (var csv = CsvWriter.Create(text, new CsvWriterOptions(), true))
        {
            csv.WriteRecord(table.Columns.Select(c => SpreadsheetText.Defused(c.Title)).ToArray());
            for (var r = 0; r < table.Rows; r++)
                csv.WriteRecord(table.Row(r).Select(Cell).ToArray());
        }
        return Encoding.UTF8.GetBytes(text.ToString());
    }

    /// <summary>A value as delimited text has it.</summary>
    internal static string Cell(object? value) =>
        value switch
        {
            null => "",
            string text => SpreadsheetText.Defused(text),
            DateTime at => at.ToString("yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture),
            _ => Values.Write(value),
        };
}

/// <summary>Results for programs: what the API's own results say, with what the file is.</summary>
/// <param name="Tiles">In reading order.</param>
/// <param name="Meanings">What measures mean, where all is wanted at length; else null.</param>
public sealed record JsonExport(AboutExport About, IReadOnlyList<JsonExportTile> Tiles, IReadOnlyList<MeasureMeaning>? Meanings)
{
    internal static JsonExport Of(Takeaway taken, ExportRequest request) =>
        new(
            taken.About,
            [
                .. taken.WithFigures.Select(t => new JsonExportTile(
                    t.Info.Name,
                    t.Info.Title,
                    t.Tab.Title,
                    t.Info.Picture,
                    t.Answered!.Result,
                    t.Part?.Title
                )),
            ],
            request.IsLong ? taken.Meanings() : null
        );
}

/// <summary>A tile of it.</summary>
/// <param name="Part">For which member it is made, in a file with parts; else null.</param>
public sealed record JsonExportTile(string Name, string Title, string Tab, string Picture, TileResult Result, string? Part);

/// <summary>A file that is made.</summary>
internal sealed record ExportedFile(byte[] Content, string MediaType, string Name);
