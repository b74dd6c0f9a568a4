using System.Globalization;
using System.Text;
using CsvHelper;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Results;
using Weir.Core.Sql;
using Weir.Service.Publishing;

namespace Weir.Service.Answers;

/// <summary>
/// Rows as a CSV file, written while they come, so that no more than a piece of them is ever held. The file has no name any more
/// once it is open: it is gone with whoever reads it, also after a kill.
/// </summary>
internal sealed class RowExport : IDisposable
{
    /// <summary>A longer file is not made.</summary>
    private const long MostBytes = 2L << 30;

    private readonly FileStream _file;

    private RowExport(FileStream file) => _file = file;

    /// <summary>How many rows are in the file.</summary>
    public long Rows { get; private set; }

    /// <summary>How many cells a spreadsheet would have taken for formulas; each is marked as text by a ' before it.</summary>
    public long Defused { get; private set; }

    /// <summary>Asks for rows and writes them.</summary>
    /// <param name="folder">Where the file is made.</param>
    /// <param name="query">A question for rows one by one.</param>
    /// <param name="columns">The fields to write; all if null.</param>
    /// <param name="person">Who asks, for their place in the line of the source.</param>
    /// <param name="byteOrderMark">True to begin with the mark by which some spreadsheets know UTF-8.</param>
    /// <exception cref="Engines.SourceException">The source can't answer.</exception>
    /// <exception cref="ProblemException">The file would be too large, or can't be written.</exception>
    public static async Task<RowExport> Make(
        string folder,
        LiveWorkspace live,
        Query query,
        IReadOnlyList<string>? columns,
        bool byteOrderMark,
        string person,
        CancellationToken cancellation
    )
    {
        RowExport? export = null;
        try
        {
            export = new RowExport(Nameless(folder));
            await export.Write(live, query, columns, byteOrderMark, person, cancellation);
            export._file.Position = 0;
            return export;
        }
        catch (Exception e)
        {
            export?.Dispose();
            if (e is IOException or UnauthorizedAccessException)
                throw CannotWrite();
            throw;
        }
    }

    private static FileStream Nameless(string folder)
    {
        Directory.CreateDirectory(folder);
        var path = Path.Combine(folder, $"{Guid.NewGuid():N}.csv");
        var options = new FileStreamOptions
        {
            Mode = FileMode.CreateNew,
            Access = FileAccess.ReadWrite,
            Share = FileShare.Delete,
        };
        if (!OperatingSystem.IsWindows())
            options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        var file = new FileStream(path, options);
        File.Delete(path);
        return file;
    }

    private static ProblemException CannotWrite() =>
        new(
            507,
            "export-not-written",
            "The file can't be written on the service's disk.",
            "Whoever runs the service sees whether the disk is full and the folder work of its data can be written."
        );

    /// <summary>The file from its beginning; it is closed with the stream.</summary>
    public Stream Content => _file;

    private async Task Write(
        LiveWorkspace live,
        Query query,
        IReadOnlyList<string>? columns,
        bool byteOrderMark,
        string person,
        CancellationToken cancellation
    )
    {
        // A key has its name in a column beside it: two of one name would be one in a file otherwise.
        var named = MemberNames.WithNames(query);
        List<Column> all = [.. named.Columns];
        var written = (columns ?? [.. query.Columns.Select(c => c.Name)])
            .SelectMany(name => Enumerable.Range(0, all.Count).Where(i => all[i].Name == name).OrderBy(i => all[i].Role == ColumnRole.Name))
            .ToList();
        var keyed = all.Where(c => c.Role == ColumnRole.Name).Select(c => c.Name).ToHashSet();
        string Title(Column c) => c.Role != ColumnRole.Name && keyed.Contains(c.Name) ? $"{c.Title} (key)" : c.Title;
        using var text = new StreamWriter(_file, new UTF8Encoding(byteOrderMark), leaveOpen: true);
        using var csv = CsvWriter.Create(text, new CsvWriterOptions(), true);
        csv.WriteRecord(written.Select(i => Cell(Title(all[i]), count: false)).ToArray());
        var source = live.Source(query.Scope.Source);
        var tree = SelectBuilder.Build(named);
        // One more than the limit is asked for elsewhere, to see whether there are more; here the count tells.
        tree = tree with
        {
            Last = tree.Last with { Limit = query.Limit },
        };
        await source.ReadInPieces(
            live.Dialect(query.Scope.Source).Print(tree),
            [.. all.Select(c => c.Kind)],
            query.Scope.Session,
            piece =>
            {
                try
                {
                    Append(csv, piece, written, all);
                }
                catch (IOException)
                {
                    // Told apart from a connection to the source that breaks.
                    throw CannotWrite();
                }
            },
            person,
            cancellation
        );
        await text.FlushAsync(cancellation);
    }

    /// <summary>Writes rows of which the columns are read, those that are wanted in their order.</summary>
    private void Append(CsvWriter csv, IReadOnlyList<object?[]> piece, List<int> written, List<Column> all)
    {
        for (var r = 0; r < piece[0].Length; r++)
            csv.WriteRecord(
                written
                    .Select(i =>
                        Cell(piece[i][r] is { } v && all[i].Names?.GetValueOrDefault(Values.Write(v)) is { } name ? name : piece[i][r])
                    )
                    .ToArray()
            );
        Rows += piece[0].Length;
        if (_file.Length > MostBytes)
            throw new ProblemException(
                422,
                "export-too-large",
                "The file would be larger than 2 GB.",
                "Filter to fewer rows, or choose fewer columns."
            );
    }

    /// <summary>A value as text; one that a spreadsheet would take for a formula is marked as text.</summary>
    private string Cell(object? value, bool count = true)
    {
        var text = value switch
        {
            null => "",
            string s => s,
            DateTime t => t.ToString("yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture),
            _ => Values.Write(value),
        };
        var defused = value is string ? SpreadsheetText.Defused(text) : text;
        if (count && defused != text)
            Defused++;
        return defused;
    }

    public void Dispose() => _file.Dispose();
}
