using Weir.Core.Definitions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.DuckDb;

/// <summary>DuckDB, embedded: a source is a database file.</summary>
public sealed class DuckDbEngine : IEngine
{
    /// <inheritdoc/>
    public SqlDialect Dialect(DayOfWeek weekStart) => new DuckDbDialect(weekStart);

    /// <inheritdoc/>
    public IEngineSource Open(Source source, EngineFolders folders) => new DuckDbSource(source, folders);
}
