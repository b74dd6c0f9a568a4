using System.Data.Common;
using DuckDB.NET.Data;
using Microsoft.Data.Sqlite;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Testing;

namespace Weir.Engines.Tests;

/// <summary>A real database of one engine that the tests may fill. A new engine adds one of these and is held to the whole suite.</summary>
public abstract class TestEngine : IDisposable
{
    private static readonly SourceLimits Limits = new(30, 1000, 2, 200);
    private IEngineSource? _source;

    protected TempFolder Folder { get; } = Repository.Temp("engine");

    /// <summary>The name in source files.</summary>
    public abstract string Name { get; }

    /// <summary>The source with all but its limits.</summary>
    protected abstract Source Describe(SourceLimits limits);

    /// <summary>A connection that may write.</summary>
    protected abstract DbConnection Writer();

    protected abstract string TypeOf(ValueKind kind);

    protected virtual string Mark(int number) => $"@p{number}";

    protected virtual object Stored(object value) => value;

    protected virtual DbParameter Parameter(DbCommand command, int number, object value)
    {
        var parameter = command.CreateParameter();
        parameter.ParameterName = $"p{number}";
        parameter.Value = value;
        return parameter;
    }

    public IEngine Engine => Engines.ByName(Name);

    public EngineFolders Folders => new(Folder.Path, Folder.Path, Folder.Path);

    /// <summary>The source as viewers ask it.</summary>
    public IEngineSource Source => _source ??= Engine.Open(Describe(Limits), Folders);

    /// <summary>Another source of the same database.</summary>
    public IEngineSource Open(Func<Source, Source> change, EngineFolders? folders = null) =>
        Engine.Open(change(Describe(Limits)), folders ?? Folders);

    public void Execute(string sql, params object?[] values)
    {
        using var connection = Writer();
        Execute(connection, sql, values);
    }

    private void Execute(DbConnection connection, string sql, object?[] values)
    {
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        for (var i = 0; i < values.Length; i++)
            command.Parameters.Add(Parameter(command, i + 1, values[i] is { } value ? Stored(value) : DBNull.Value));
        command.ExecuteNonQuery();
    }

    /// <summary>Makes a table and fills it.</summary>
    public void Fill(
        string table,
        IReadOnlyList<(string Name, ValueKind Kind)> columns,
        IEnumerable<IReadOnlyDictionary<string, object?>> rows
    )
    {
        using var connection = Writer();
        string Quote(string name) => Engine.Dialect(DayOfWeek.Monday).Quote(name);
        Execute(
            connection,
            $"CREATE TABLE {Quote(table)} "
                + $"({string.Join(", ", columns.Select(c => $"{Quote(c.Name)} {(c.Name == "huge" ? TypeOf(c.Kind).Replace("12, 2", "26, 6") : TypeOf(c.Kind))}"))})",
            []
        );
        foreach (var row in rows)
            Execute(
                connection,
                $"INSERT INTO {Quote(table)} VALUES ({string.Join(", ", columns.Select((_, i) => Mark(i + 1)))})",
                [.. columns.Select(c => row[c.Name])]
            );
    }

    public virtual void Dispose()
    {
        _source?.DisposeAsync().AsTask().Wait();
        SqliteConnection.ClearAllPools();
        Folder.Dispose();
    }

    public static TestEngine Start(string name) =>
        name switch
        {
            "duckdb" => new OfDuckDb(),
            "sqlite" => new OfSqlite(),
            "postgresql" => new OfPostgreSql(),
            "mariadb" => new OfMariaDb(),
            _ => throw new ArgumentException(name),
        };

    private sealed class OfDuckDb : TestEngine
    {
        public override string Name => "duckdb";

        protected override Source Describe(SourceLimits limits) => new("s", "S", Name, limits) { File = "s.duckdb" };

        protected override DbConnection Writer()
        {
            var connection = new DuckDBConnection($"Data Source={Folder.File("s.duckdb")}");
            connection.Open();
            return connection;
        }

        protected override string Mark(int number) => $"${number}";

        protected override DbParameter Parameter(DbCommand command, int number, object value) => new DuckDBParameter(value);

        protected override string TypeOf(ValueKind kind) =>
            kind switch
            {
                ValueKind.Boolean => "BOOLEAN",
                ValueKind.Integer => "BIGINT",
                ValueKind.Decimal => "DECIMAL(12, 2)",
                ValueKind.Float => "DOUBLE",
                ValueKind.Date => "DATE",
                ValueKind.Timestamp => "TIMESTAMP",
                _ => "VARCHAR",
            };
    }

    private sealed class OfSqlite : TestEngine
    {
        public override string Name => "sqlite";

        protected override Source Describe(SourceLimits limits) => new("s", "S", Name, limits) { File = "s.sqlite" };

        protected override DbConnection Writer()
        {
            var connection = new SqliteConnection($"Data Source={Folder.File("s.sqlite")};Pooling=false");
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = "PRAGMA synchronous = OFF; PRAGMA journal_mode = MEMORY";
            command.ExecuteNonQuery();
            return connection;
        }

        protected override object Stored(object value) =>
            value switch
            {
                DateOnly d => $"{d:yyyy-MM-dd}",
                DateTime t => $"{t:yyyy-MM-dd HH:mm:ss}",
                decimal d => d.ToString(System.Globalization.CultureInfo.InvariantCulture),
                _ => value,
            };

        protected override string TypeOf(ValueKind kind) =>
            kind switch
            {
                ValueKind.Boolean => "BOOLEAN",
                ValueKind.Integer => "INTEGER",
                ValueKind.Decimal => "DECIMAL(12, 2)", // which SQLite keeps as a whole or floating-point number
                ValueKind.Float => "REAL",
                ValueKind.Date => "DATE",
                ValueKind.Timestamp => "TIMESTAMP",
                _ => "TEXT",
            };
    }

    private sealed class OfPostgreSql : TestEngine
    {
        private readonly PostgresServer _server = PostgresServer.Started();

        public override string Name => "postgresql";

        protected override Source Describe(SourceLimits limits) =>
            new("s", "S", Name, limits)
            {
                Server = new SourceServer("127.0.0.1", _server.Port, "weir", "weir", null, null, false, null) { AllowsWritingLogin = true },
            };

        protected override DbConnection Writer()
        {
            var connection = new Npgsql.NpgsqlConnection(_server.ConnectionString());
            connection.Open();
            return connection;
        }

        protected override string Mark(int number) => $"${number}";

        protected override DbParameter Parameter(DbCommand command, int number, object value) =>
            new Npgsql.NpgsqlParameter { Value = value is DateTime t ? DateTime.SpecifyKind(t, DateTimeKind.Unspecified) : value };

        protected override string TypeOf(ValueKind kind) =>
            kind switch
            {
                ValueKind.Boolean => "boolean",
                ValueKind.Integer => "bigint",
                ValueKind.Decimal => "numeric(12, 2)",
                ValueKind.Float => "double precision",
                ValueKind.Date => "date",
                ValueKind.Timestamp => "timestamp",
                _ => "text",
            };

        public override void Dispose()
        {
            base.Dispose();
            _server.Dispose();
        }
    }

    private sealed class OfMariaDb : TestEngine
    {
        private readonly MariaDbServer _server = MariaDbServer.Started();

        public override string Name => "mariadb";

        protected override Source Describe(SourceLimits limits) =>
            new("s", "S", Name, limits)
            {
                Server = new SourceServer("127.0.0.1", _server.Port, "weir", "weir", "weir", null, false, null)
                {
                    AllowsWritingLogin = true,
                },
            };

        protected override DbConnection Writer()
        {
            var connection = new MySqlConnector.MySqlConnection(_server.ConnectionString());
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = "SET sql_mode = 'ANSI_QUOTES,STRICT_ALL_TABLES'";
            command.ExecuteNonQuery();
            return connection;
        }

        protected override DbParameter Parameter(DbCommand command, int number, object value) =>
            new MySqlConnector.MySqlParameter($"@p{number}", value);

        protected override string TypeOf(ValueKind kind) =>
            kind switch
            {
                ValueKind.Boolean => "BOOLEAN",
                ValueKind.Integer => "BIGINT",
                ValueKind.Decimal => "DECIMAL(12, 2)",
                ValueKind.Float => "DOUBLE",
                ValueKind.Date => "DATE",
                ValueKind.Timestamp => "DATETIME",
                // The usual collation, which knows neither case nor spaces at the end: Weir's meaning must win over it.
                _ => "VARCHAR(200)",
            };

        public override void Dispose()
        {
            base.Dispose();
            _server.Dispose();
        }
    }
}
