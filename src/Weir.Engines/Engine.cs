using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Queries;
using Weir.Engines.DuckDb;

namespace Weir.Engines;

/// <summary>What Weir needs of a SQL engine. A new engine implements this, and nothing else.</summary>
public interface IEngine
{
    /// <summary>Prints SQL for the engine.</summary>
    SqlDialect Dialect(DayOfWeek weekStart);

    /// <summary>Makes ready to ask a source. Connects at the first question, so a source that is down fails its tiles only.</summary>
    /// <param name="filesFolder">The only folder in which a source's file may lie.</param>
    IEngineSource Open(Source source, string filesFolder);
}

/// <summary>A source that can be asked, for reading only, by several at once.</summary>
public interface IEngineSource : IAsyncDisposable
{
    /// <summary>Runs a statement and brings its rows in columns.</summary>
    /// <param name="kinds">The type of each column.</param>
    /// <param name="cancellation">Stops the statement at the database, not only the wait for it.</param>
    /// <exception cref="SourceException">The database can't be reached, refuses, or takes too long.</exception>
    Task<IReadOnlyList<object?[]>> Read(SqlText sql, IReadOnlyList<ValueKind> kinds, CancellationToken cancellation);
}

/// <summary>The engines by the name used in source files.</summary>
public static class Engines
{
    /// <summary>Finds an engine. The definitions' check has made sure that it exists.</summary>
    public static IEngine ByName(string name) => name switch
    {
        "duckdb" => new DuckDbEngine(),
        _ => throw new ArgumentException($"There is no engine {name}.", nameof(name)),
    };
}

/// <summary>A source that could not answer: what is wrong and what to do, for the tile's reader.</summary>
/// <param name="code">A stable code: source-unavailable, source-busy, time-limit or query-failed.</param>
public sealed class SourceException(string code, string message, string remedy, Exception? inner = null) : Exception(message, inner)
{
    /// <summary>The stable code.</summary>
    public string Code { get; } = code;

    /// <summary>What to do.</summary>
    public string Remedy { get; } = remedy;
}
