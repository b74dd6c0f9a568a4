using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Engines.DuckDb;
using Weir.Engines.Files;
using Weir.Engines.MariaDb;
using Weir.Engines.PostgreSql;
using Weir.Engines.Sqlite;
using Weir.Engines.SqlServer;

namespace Weir.Engines;

/// <summary>What Weir needs of a SQL engine. A new engine implements this, and nothing else; see docs/sources.md.</summary>
public interface IEngine
{
    /// <summary>Prints SQL for the engine.</summary>
    SqlDialect Dialect(DayOfWeek weekStart);

    /// <summary>Makes ready to ask a source. Connects at the first question, so a source that is down fails its tiles only.</summary>
    IEngineSource Open(Source source, EngineFolders folders);
}

/// <summary>The only folders in which a source's files may lie.</summary>
/// <param name="Files">Database files and folders of files.</param>
/// <param name="Secrets">Passwords and certificates, a file each.</param>
/// <param name="Work">Where an engine may keep what it can make again.</param>
public sealed record EngineFolders(string Files, string Secrets, string Work)
{
    /// <summary>
    /// The host, as <c>host:port</c>, that a secret without hosts of its own is bound to, null for none yet. Null itself where whoever runs
    /// Weir owns the secrets.
    /// </summary>
    public Func<string, string?>? BoundHost { get; init; }

    /// <summary>The program that runs what somebody typed apart from this process; null to run it here, as whoever asks only for themselves may.</summary>
    public string? Worker { get; init; }

    /// <summary>The worker program where it stands beside this one; null if it does not.</summary>
    public static string? WorkerBeside() =>
        Path.Combine(AppContext.BaseDirectory, "Weir.Worker") is var path && File.Exists(path) ? path : null;

    /// <summary>Where sources may point.</summary>
    public Reach Reach { get; init; } = new();

    /// <summary>All below one folder, as the service has it unless told otherwise.</summary>
    public static EngineFolders Under(string data) =>
        new(Path.Combine(data, "files"), Path.Combine(data, "secrets"), Path.Combine(data, "work"));

    /// <summary>The full path of a file or folder below <see cref="Files"/>, links followed.</summary>
    /// <exception cref="SourceException">It leads out of the folder.</exception>
    public string InFiles(string relative, string title) =>
        Inside(Files, relative, $"The file of {title} lies outside the service's folder of files.");

    /// <summary>The full path of a file below <see cref="Secrets"/>, links followed.</summary>
    /// <exception cref="SourceException">It leads out of the folder.</exception>
    public string InSecrets(string relative) => Inside(Secrets, relative, $"{relative} lies outside the service's folder of secrets.");

    private static string Inside(string folder, string relative, string message)
    {
        var root = Path.GetFullPath(folder);
        var path = Path.GetFullPath(Path.Combine(root, relative));
        // A link anywhere on the way could lead out.
        if (!Below(root, path) || Steps(root, path).Any(p => LinkOf(p) is { } target && !Below(root, target)))
            throw new SourceException("source-unavailable", message, "Give a name without .. or a leading /, and no link that leads out.");
        return path;
    }

    private static IEnumerable<string> Steps(string root, string path)
    {
        for (var step = path; step is not null && step.Length > root.Length; step = Path.GetDirectoryName(step))
            yield return step;
    }

    private static string? LinkOf(string path) =>
        File.Exists(path) ? new FileInfo(path).ResolveLinkTarget(returnFinalTarget: true)?.FullName
        : Directory.Exists(path) ? new DirectoryInfo(path).ResolveLinkTarget(returnFinalTarget: true)?.FullName
        : null;

    private static bool Below(string root, string path) => path.StartsWith(root + Path.DirectorySeparatorChar, StringComparison.Ordinal);
}

/// <summary>A source that can be asked, for reading only, by several at once.</summary>
public interface IEngineSource : IAsyncDisposable
{
    /// <summary>Runs a statement and brings its rows in columns.</summary>
    /// <param name="kinds">The type of each column.</param>
    /// <param name="session">What the database is told of the viewer while the statement runs, by setting; never seen by another statement.</param>
    /// <param name="cancellation">Stops the statement at the database, not only the wait for it.</param>
    /// <exception cref="SourceException">The database can't be reached, refuses, or takes too long.</exception>
    Task<IReadOnlyList<object?[]>> Read(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        CancellationToken cancellation
    );

    /// <summary>The same, a piece of the rows at a time, so that not all of them are held at once.</summary>
    /// <param name="take">Takes over a piece in columns; it is called on another thread, one piece after the other.</param>
    /// <exception cref="SourceException">The database can't be reached, refuses, or takes too long; pieces may have been taken before.</exception>
    Task ReadInPieces(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        Action<IReadOnlyList<object?[]>> take,
        CancellationToken cancellation
    );

    /// <summary>The names and types (as the engine calls them) of the columns that a statement brings.</summary>
    /// <exception cref="SourceException">The database can't be reached, refuses, or takes too long.</exception>
    Task<IReadOnlyList<(string Name, string Type)>> Describe(
        SqlText sql,
        IReadOnlyDictionary<string, string> session,
        CancellationToken cancellation
    );

    /// <summary>The statements that tell what is in the database.</summary>
    ICatalog Catalog { get; }

    /// <summary>A number that changes when the source itself knows that its data changed; 0 for a source that does not know.</summary>
    long DataVersion => 0;

    /// <summary>Makes sure that all is there that questions need, such as files taken in.</summary>
    /// <exception cref="SourceException">It can't be.</exception>
    Task Prepare(CancellationToken cancellation) => Task.CompletedTask;

    /// <summary>What could not be read as its type when the data were taken in; nothing for a database.</summary>
    Task<IReadOnlyList<Unfit>> Unfit(CancellationToken cancellation) => Task.FromResult<IReadOnlyList<Unfit>>([]);
}

/// <summary>Values that did not fit the type of their column, which they are missing from.</summary>
/// <param name="Examples">Some of them, each with its line.</param>
public sealed record Unfit(string Table, string Column, string Type, long Count, IReadOnlyList<string> Examples);

/// <summary>The engines by the name used in source files.</summary>
public static class Engines
{
    /// <summary>Finds an engine. The definitions' check has made sure that it exists.</summary>
    public static IEngine ByName(string name) =>
        name switch
        {
            "duckdb" => new DuckDbEngine(),
            "sqlite" => new SqliteEngine(),
            "files" => new FilesEngine(),
            "postgresql" => new PostgreSqlEngine(),
            "mariadb" or "mysql" => new MariaDbEngine(isMariaDb: name == "mariadb"),
            "sqlserver" => new SqlServerEngine(),
            _ => throw new ArgumentException($"There is no engine {name}.", nameof(name)),
        };
}

/// <summary>A source that could not answer: what is wrong and what to do, for the tile's reader.</summary>
/// <param name="code">A stable code: source-unavailable, source-busy, source-paced, time-limit, memory-limit or query-failed.</param>
public sealed class SourceException(string code, string message, string remedy, Exception? inner = null) : Exception(message, inner)
{
    /// <summary>The stable code.</summary>
    public string Code { get; } = code;

    /// <summary>What to do.</summary>
    public string Remedy { get; } = remedy;
}
