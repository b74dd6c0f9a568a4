using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Engines.DuckDb;

namespace Weir.Engines.Files;

/// <summary>A folder of CSV, Parquet and XLSX files, each a table, read by the embedded engine.</summary>
public sealed class FilesEngine : IEngine
{
    /// <inheritdoc/>
    public SqlDialect Dialect(DayOfWeek weekStart) => new DuckDbDialect(weekStart);

    /// <inheritdoc/>
    public IEngineSource Open(Source source, EngineFolders folders) => new FilesSource(source, folders);
}

/// <summary>
/// The files are taken into a database of the service's own folder of work, and again whenever one of them changed; queries
/// are asked of that database, opened as every DuckDB file is: for reading only, with no way to other files.
/// </summary>
internal sealed class FilesSource(
    Source source,
    EngineFolders folders,
    Func<IReadOnlyList<FileInfo>, string, CancellationToken, Task>? load = null
) : DuckDbSource(source, folders)
{
    private static readonly string[] Kinds = [".csv", ".tsv", ".parquet", ".xlsx"];

    /// <summary>More than this is for a database.</summary>
    private const long MostBytes = 4L << 30;

    private readonly Lock _loading = new();
    private readonly EngineFolders _folders = folders;
    private (string Mark, string Path)? _loaded;

    public override long DataVersion => FileMark.Number(Mark(out _));

    protected override string Database(CancellationToken cancellation)
    {
        lock (_loading)
        {
            var mark =
                Mark(out var files)
                ?? throw new SourceException(
                    "source-unavailable",
                    $"The folder of {Source.Title} is not there.",
                    $"Put the folder {Source.Folder} into the service's folder of files."
                );
            if (_loaded is { } known && known.Mark == mark)
                return known.Path;
            if (files.Sum(f => f.Length) > MostBytes)
                throw new SourceException(
                    "source-unavailable",
                    $"The files of {Source.Title} are larger than {MostBytes >> 30} GB together.",
                    "Put them into a database, and make that the source."
                );
            Directory.CreateDirectory(_folders.Work);
            // The folder is a part of the name: a source that is tried out with another folder leaves the files of this one alone.
            var stem = $"{Source.Name}-{Hash(Source.Folder!)[..8]}-";
            var path = Path.Combine(Path.GetFullPath(_folders.Work), $"{stem}{Hash($"{FilesLoader.Edition}\n{mark}")[..16]}.duckdb");
            if (!File.Exists(path))
                Load(files, path, cancellation);
            foreach (var old in Directory.EnumerateFiles(Path.GetFullPath(_folders.Work), $"{stem}*.duckdb").Where(f => f != path))
                File.Delete(old); // a query that still reads it keeps it open
            _loaded = (mark, path);
            return path;
        }
    }

    private static string Hash(string text) =>
        System.Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(text)));

    private void Load(List<FileInfo> files, string path, CancellationToken cancellation)
    {
        if (load is null)
            FilesLoader.Load(files, path, Source.Title, Source.Limits, cancellation);
        else
            // Others that need the files wait for the same loading.
            load(files, path, cancellation).GetAwaiter().GetResult();
    }

    public override Task Prepare(CancellationToken cancellation) => Task.Run(() => Database(cancellation), cancellation);

    /// <summary>Names, sizes and times of the files; null if there is no folder.</summary>
    private string? Mark(out List<FileInfo> files)
    {
        files = [];
        var folder = _folders.InFiles(Source.Folder!, Source.Title);
        if (!Directory.Exists(folder))
            return null;
        try
        {
            files = [.. FilesOf(folder)];
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new SourceException(
                "source-unavailable",
                $"The folder of {Source.Title} can't be read.",
                $"Make the folder {Source.Folder} and its files readable by the service.",
                e
            );
        }
        return FileMark.Of(files);
    }

    private static IOrderedEnumerable<FileInfo> FilesOf(string folder) =>
        new DirectoryInfo(folder)
            .EnumerateFiles()
            .Where(f => Kinds.Contains(f.Extension.ToLowerInvariant()) && !f.Name.StartsWith('~') && !f.Name.StartsWith('.'))
            .Where(f => f.LinkTarget is null) // a link could lead anywhere
            .OrderBy(f => f.Name, StringComparer.Ordinal);

    public override async Task<IReadOnlyList<Unfit>> Unfit(CancellationToken cancellation)
    {
        var rows = await Read(
            new SqlText("SELECT \"table\", \"column\", type, count, examples FROM weir_unfit ORDER BY 1, 2", []),
            [ValueKind.Text, ValueKind.Text, ValueKind.Text, ValueKind.Integer, ValueKind.Text],
            new Dictionary<string, string>(),
            cancellation
        );
        return
        [
            .. Enumerable
                .Range(0, rows[0].Length)
                .Select(r => new Unfit(
                    (string)rows[0][r]!,
                    (string)rows[1][r]!,
                    (string)rows[2][r]!,
                    (long)rows[3][r]!,
                    ((string)rows[4][r]!).Split('\n')
                )),
        ];
    }
}
