using System.Collections.Concurrent;
using System.Data.Common;
using DuckDB.NET.Data;
using Weir.Core.Definitions;
using Weir.Core.Queries;

namespace Weir.Engines.DuckDb;

/// <summary>A DuckDB file, opened for reading only, with no way to other files and its settings locked.</summary>
internal class DuckDbSource(Source source, EngineFolders folders) : DatabaseSource(source)
{
    private readonly ConcurrentBag<DuckDBConnection> _idle = [];

    public override ICatalog Catalog { get; } = new DuckDbCatalog();

    /// <summary>The full path of the database file.</summary>
    /// <exception cref="SourceException">It is not there, or lies where it must not.</exception>
    protected virtual string Database(CancellationToken cancellation)
    {
        var path = folders.InFiles(Secrets.Resolve(Source.File!, folders), Source.Title);
        return File.Exists(path) ? path
            : throw new SourceException("source-unavailable", $"The database file of {Source.Title} is not there.", $"Put {Source.File} into the service's folder of files.");
    }

    protected override DbConnection Connect(CancellationToken cancellation)
    {
        var path = Database(cancellation);
        while (_idle.TryTake(out var idle))
        {
            if (idle.DataSource == path || idle.ConnectionString.Contains(path, StringComparison.Ordinal))
                return idle;
            idle.Dispose(); // of a file that was replaced
        }
        var settings = new DuckDBConnectionStringBuilder
        {
            DataSource = path,
            ["access_mode"] = "READ_ONLY",
            ["enable_external_access"] = "false",
            ["autoinstall_known_extensions"] = "false",
            ["autoload_known_extensions"] = "false",
            ["memory_limit"] = $"{Source.Limits.MemoryMb}MB",
            ["lock_configuration"] = "true",
        };
        var connection = new DuckDBConnection(settings.ConnectionString);
        try
        {
            connection.Open();
            return connection;
        }
        catch (DuckDBException e)
        {
            connection.Dispose();
            throw new SourceException("source-unavailable", $"The database of {Source.Title} can't be opened: {(e.Message.Contains("lock", StringComparison.OrdinalIgnoreCase) ? "another program holds its file." : FirstLine(e.Message).Replace(path, Path.GetFileName(path)))}", "Close other programs that write to the file, then try again.", e);
        }
    }

    protected override void Return(DbConnection connection, bool isSound)
    {
        if (isSound)
            _idle.Add((DuckDBConnection)connection);
        else
            connection.Dispose();
    }

    protected override DbCommand Command(DbConnection connection, SqlText sql, IReadOnlyDictionary<string, string> session)
    {
        var command = connection.CreateCommand();
        command.CommandText = sql.Text;
        foreach (var parameter in sql.Parameters)
            command.Parameters.Add(new DuckDBParameter(parameter.Value ?? DBNull.Value));
        return command;
    }

    protected override bool IsUnreachable(DbException error) => false;

    private static string FirstLine(string message) => message.Split('\n', 2)[0];

    public override ValueTask DisposeAsync()
    {
        while (_idle.TryTake(out var connection))
            connection.Dispose();
        return ValueTask.CompletedTask;
    }
}
