using System.Collections.Concurrent;
using System.Data.Common;
using Microsoft.Data.Sqlite;
using SQLitePCL;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.Sqlite;

/// <summary>SQLite, embedded: a source is a database file.</summary>
public sealed class SqliteEngine : IEngine
{
    /// <inheritdoc/>
    public SqlDialect Dialect(DayOfWeek weekStart) => new SqliteDialect(weekStart);

    /// <inheritdoc/>
    public IEngineSource Open(Source source, EngineFolders folders) => new SqliteSource(source, folders);
}

/// <summary>A SQLite file, opened for reading only.</summary>
internal sealed class SqliteSource(Source source, EngineFolders folders) : DatabaseSource(source)
{
    private readonly ConcurrentBag<(SqliteConnection Connection, string Mark)> _idle = [];
    private readonly System.Runtime.CompilerServices.ConditionalWeakTable<DbConnection, string> _marks = [];

    public override ICatalog Catalog { get; } = new SqliteCatalog();

    protected override DbConnection Connect(CancellationToken cancellation)
    {
        var path = folders.InFiles(Source.File!, Source.Title);
        // The name of another file by now is no reason to go on reading the one that had it.
        var mark = FileMark.Of([new FileInfo(path)]);
        while (_idle.TryTake(out var idle))
        {
            if (idle.Mark == mark)
                return idle.Connection;
            idle.Connection.Dispose();
        }
        if (!File.Exists(path))
            throw new SourceException(
                "source-unavailable",
                $"The database file of {Source.Title} is not there.",
                $"Put {Source.File} into the service's folder of files."
            );
        var connection = new SqliteConnection(
            new SqliteConnectionStringBuilder
            {
                DataSource = path,
                Mode = SqliteOpenMode.ReadOnly,
                Pooling = false,
                DefaultTimeout = Source.Limits.Seconds,
            }.ConnectionString
        );
        try
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText =
                $"PRAGMA query_only = ON; PRAGMA trusted_schema = OFF; PRAGMA cache_size = -{Source.Limits.MemoryMb * 256}; SELECT count(*) FROM sqlite_schema";
            command.ExecuteNonQuery();
            // No other file can be reached, not even by a developer's query.
            raw.sqlite3_limit(connection.Handle, raw.SQLITE_LIMIT_ATTACHED, 0);
            SqliteFunctions.AddTo(connection);
            // From here on the engine itself refuses whatever does not read, before it runs: settings, temporary tables, other files.
            raw.sqlite3_set_authorizer(connection.Handle, Authorize, null);
            _marks.Add(connection, mark);
            return connection;
        }
        catch (SqliteException e)
        {
            connection.Dispose();
            throw new SourceException(
                "source-unavailable",
                $"The database of {Source.Title} can't be opened: "
                    + $"{(e.SqliteErrorCode == raw.SQLITE_NOTADB ? "the file is no SQLite database." : "its file can't be read.")}",
                "Check the file and who may read it.",
                e
            );
        }
    }

    private static readonly HashSet<string> ReadingPragmas = new(StringComparer.OrdinalIgnoreCase)
    {
        "table_info",
        "table_xinfo",
        "foreign_key_list",
        "index_list",
        "index_info",
        "data_version",
        "page_size",
    };

    private static readonly strdelegate_authorizer Authorize = (_, action, first, second, _, _) =>
        action switch
        {
            raw.SQLITE_SELECT or raw.SQLITE_READ or raw.SQLITE_RECURSIVE => raw.SQLITE_OK,
            raw.SQLITE_FUNCTION => second is "load_extension" or "fts3_tokenizer" ? raw.SQLITE_DENY : raw.SQLITE_OK,
            raw.SQLITE_PRAGMA => ReadingPragmas.Contains(first) ? raw.SQLITE_OK : raw.SQLITE_DENY,
            _ => raw.SQLITE_DENY,
        };

    public override long DataVersion => FileMark.Number(FileMark.OfDatabase(folders.InFiles(Source.File!, Source.Title)));

    protected override void Return(DbConnection connection, bool isSound)
    {
        if (isSound)
            _idle.Add(((SqliteConnection)connection, _marks.GetValue(connection, _ => "")));
        else
            connection.Dispose();
    }

    protected override DbCommand Command(DbConnection connection, SqlText sql, IReadOnlyDictionary<string, string> session)
    {
        var command = ((SqliteConnection)connection).CreateCommand();
        command.CommandText = sql.Text;
        foreach (var (parameter, i) in sql.Parameters.Select((p, i) => (p, i)))
            command.Parameters.AddWithValue($"$p{i + 1}", parameter.Value is null ? DBNull.Value : SqliteFunctions.Stored(parameter.Value));
        return command;
    }

    // The driver's own Cancel does nothing.
    protected override void Cancel(DbCommand command)
    {
        if (command.Connection is SqliteConnection { Handle: { } handle })
            raw.sqlite3_interrupt(handle);
    }

    protected override bool IsUnreachable(DbException error) => false;

    public override ValueTask DisposeAsync()
    {
        while (_idle.TryTake(out var idle))
            idle.Connection.Dispose();
        return ValueTask.CompletedTask;
    }

    private sealed class SqliteCatalog : ICatalog
    {
        private static SqlText Of(string text, params string?[] values) =>
            new(text, [.. values.Select(v => new SqlParameter(v, ValueKind.Text))]);

        public SqlText Tables() =>
            Of("SELECT NULL, name, type, NULL FROM sqlite_schema WHERE type IN ('table', 'view') AND name NOT LIKE 'sqlite_%'");

        public SqlText Columns(string? schema, string table) =>
            Of("SELECT name, type, NOT \"notnull\", pk FROM pragma_table_info($p1)", table);

        public SqlText References(string? schema, string table) =>
            Of("SELECT \"from\", NULL, \"table\", coalesce(\"to\", 'rowid') FROM pragma_foreign_key_list($p1)", table);

        public SqlText? MayWrite() => null;

        public ValueKind KindOf(string type) => CatalogReader.CommonKind(type);

        /// <inheritdoc/>
        public bool Holds(ValueKind column, ValueKind values) =>
            (column, values)
                is
                    (ValueKind.Text, ValueKind.Date or ValueKind.Timestamp or ValueKind.Decimal)
                    or
                    (ValueKind.Integer, ValueKind.Boolean);
    }
}
