using System.Collections.Concurrent;
using System.Data.Common;
using DuckDB.NET.Data;
using Weir.Core.Definitions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.DuckDb;

/// <summary>A DuckDB file, opened for reading only, with no way to other files and its settings locked.</summary>
internal class DuckDbSource(Source source, EngineFolders folders) : DatabaseSource(source)
{
    /// <summary>How much of the disk what does not fit into memory may take.</summary>
    public const int SpillMegabytes = 4096;

    private readonly ConcurrentBag<(DuckDBConnection Connection, string Mark)> _idle = [];
    private readonly System.Runtime.CompilerServices.ConditionalWeakTable<DbConnection, string> _marks = [];
    private readonly Lock _renaming = new();
    private (string Mark, int Number) _generation = ("", 0);

    public override ICatalog Catalog { get; } = new DuckDbCatalog();

    /// <summary>The full path of the database file.</summary>
    /// <exception cref="SourceException">It is not there, or lies where it must not.</exception>
    protected virtual string Database(CancellationToken cancellation)
    {
        var path = folders.InFiles(Source.File!, Source.Title);
        return File.Exists(path)
            ? path
            : throw new SourceException(
                "source-unavailable",
                $"The database file of {Source.Title} is not there.",
                $"Put {Source.File} into the service's folder of files."
            );
    }

    protected override DbConnection Connect(CancellationToken cancellation)
    {
        var path = Database(cancellation);
        var mark = $"{path}\n{FileMark.OfDatabase(path)}";
        while (_idle.TryTake(out var idle))
        {
            if (idle.Mark == mark)
                return idle.Connection;
            idle.Connection.Dispose(); // of a file that was replaced
        }
        var settings = new DuckDBConnectionStringBuilder
        {
            DataSource = Written(path, mark),
            ["access_mode"] = "READ_ONLY",
            ["enable_external_access"] = "false",
            ["autoinstall_known_extensions"] = "false",
            ["autoload_known_extensions"] = "false",
            ["max_temp_directory_size"] = $"{SpillMegabytes}MB",
            ["memory_limit"] = $"{Source.Limits.MemoryMb}MB",
            // It squeezes groups before they are sorted, and loses one of them where a filter leaves it one value: "failed to bind column reference".
            ["disabled_optimizers"] = "compressed_materialization",
            ["lock_configuration"] = "true",
        };
        var connection = new DuckDBConnection(settings.ConnectionString);
        try
        {
            connection.Open();
            _marks.Add(connection, mark);
            return connection;
        }
        catch (DuckDBException e)
        {
            connection.Dispose();
            throw new SourceException(
                "source-unavailable",
                $"The database of {Source.Title} can't be opened: "
                    + (
                        e.Message.Contains("lock", StringComparison.OrdinalIgnoreCase)
                            ? "another program holds its file."
                            : FirstLine(e.Message).Replace(path, Path.GetFileName(path))
                    ),
                "Close other programs that write to the file, then try again.",
                e
            );
        }
    }

    /// <summary>
    /// The path, written anew for each state of the file: the driver shares what it has open under one writing of a path, and would
    /// go on with a file that is replaced as long as anybody still reads it.
    /// </summary>
    private string Written(string path, string mark)
    {
        lock (_renaming)
        {
            if (_generation.Mark != mark)
                _generation = (mark, _generation.Number + 1);
            return Path.GetDirectoryName(path)
                + string.Concat(Enumerable.Repeat("/.", _generation.Number % 100))
                + "/"
                + Path.GetFileName(path);
        }
    }

    public override long DataVersion =>
        folders.InFiles(Source.File!, Source.Title) is var path ? FileMark.Number(FileMark.OfDatabase(path)) : 0;

    protected override void Return(DbConnection connection, bool isSound)
    {
        if (isSound)
            _idle.Add(((DuckDBConnection)connection, _marks.GetValue(connection, _ => "")));
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

    protected override void InPieces(DbCommand command) => ((DuckDBCommand)command).UseStreamingMode = true;

    // DuckDB's own parser: it tells how many statements it finds, and refuses what is no SELECT.
    protected override void CheckTyped(DbConnection connection, SqlText sql)
    {
        base.CheckTyped(connection, sql);
        using var command = connection.CreateCommand();
        command.CommandText = "SELECT json_array_length(json_serialize_sql(CAST($1 AS VARCHAR)) -> 'statements')";
        command.Parameters.Add(new DuckDBParameter(sql.Text));
        var found = command.ExecuteScalar();
        if (found is null or DBNull || System.Convert.ToInt64(found, System.Globalization.CultureInfo.InvariantCulture) != 1)
            throw MoreThanASelect("The engine finds more in it than one SELECT, or an error in its syntax.");
    }

    protected override bool IsUnreachable(DbException error) => false;

    private static string FirstLine(string message) => message.Split('\n', 2)[0];

    public override ValueTask DisposeAsync()
    {
        while (_idle.TryTake(out var idle))
            idle.Connection.Dispose();
        return ValueTask.CompletedTask;
    }
}
