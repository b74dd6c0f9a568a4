using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Queries;
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
internal sealed class FilesSource(Source source, EngineFolders folders) : DuckDbSource(source, folders)
{
    private static readonly string[] Kinds = [".csv", ".tsv", ".parquet", ".xlsx"];

    /// <summary>More than this is for a database.</summary>
    private const long MostBytes = 4L << 30;

    private readonly Lock _loading = new();
    private readonly EngineFolders _folders = folders;
    private (string Mark, string Path)? _loaded;

    public override long DataVersion => Mark(out _) is { } mark ? BitConverter.ToInt64(System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(mark))) : 0;

    protected override string Database(CancellationToken cancellation)
    {
        lock (_loading)
        {
            var mark = Mark(out var files) ?? throw new SourceException("source-unavailable", $"The folder of {Source.Title} is not there.", $"Put the folder {Source.Folder} into the service's folder of files.");
            if (_loaded is { } known && known.Mark == mark)
                return known.Path;
            if (files.Sum(f => f.Length) > MostBytes)
                throw new SourceException("source-unavailable", $"The files of {Source.Title} are larger than {MostBytes >> 30} GB together.", "Put them into a database, and make that the source.");
            Directory.CreateDirectory(_folders.Work);
            var name = System.Convert.ToHexString(System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes($"{Source.Folder}\n{FilesLoader.Edition}\n{mark}")))[..16].ToLowerInvariant();
            var path = Path.Combine(Path.GetFullPath(_folders.Work), $"{Source.Name}-{name}.duckdb");
            if (!File.Exists(path))
                FilesLoader.Load(files, path, Source.Title, cancellation);
            foreach (var old in Directory.EnumerateFiles(_folders.Work, $"{Source.Name}-????????????????.duckdb").Where(f => f != path))
                File.Delete(old); // a query that still reads it keeps it open
            _loaded = (mark, path);
            return path;
        }
    }

    /// <summary>Names, sizes and times of the files; null if there is no folder.</summary>
    private string? Mark(out List<FileInfo> files)
    {
        files = [];
        var folder = _folders.InFiles(Secrets.Resolve(Source.Folder!, _folders), Source.Title);
        if (!Directory.Exists(folder))
            return null;
        files = [.. new DirectoryInfo(folder).EnumerateFiles()
            .Where(f => Kinds.Contains(f.Extension.ToLowerInvariant()) && !f.Name.StartsWith('~') && !f.Name.StartsWith('.'))
            .Where(f => f.LinkTarget is null) // a link could lead anywhere
            .OrderBy(f => f.Name, StringComparer.Ordinal)];
        return string.Join('\n', files.Select(f => $"{f.Name}|{f.Length}|{f.LastWriteTimeUtc.Ticks}"));
    }

    public override async Task<IReadOnlyList<Unfit>> Unfit(CancellationToken cancellation)
    {
        var rows = await Read(
            new SqlText("SELECT \"table\", \"column\", type, count, examples FROM weir_unfit ORDER BY 1, 2", []), [ValueKind.Text, ValueKind.Text, ValueKind.Text, ValueKind.Integer, ValueKind.Text],
            new Dictionary<string, string>(), cancellation);
        return [.. Enumerable.Range(0, rows[0].Length).Select(r => new Unfit((string)rows[0][r]!, (string)rows[1][r]!, (string)rows[2][r]!, (long)rows[3][r]!, ((string)rows[4][r]!).Split('\n')))];
    }
}
