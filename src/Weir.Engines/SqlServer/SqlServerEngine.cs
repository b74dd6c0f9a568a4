using System.Data.Common;
using Microsoft.Data.SqlClient;
using Microsoft.SqlServer.TransactSql.ScriptDom;
using Weir.Core.Definitions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.SqlServer;

/// <summary>SQL Server. Its SQL is checked by Microsoft's own parser in the tests; no server of it runs there.</summary>
public sealed class SqlServerEngine : IEngine
{
    /// <inheritdoc/>
    public SqlDialect Dialect(DayOfWeek weekStart) => new SqlServerDialect(weekStart);

    /// <inheritdoc/>
    public IEngineSource Open(Source source, EngineFolders folders) => new SqlServerSource(source, folders);
}

/// <summary>A SQL Server database. The engine has no read-only transaction: the login must have no right but to read.</summary>
internal sealed class SqlServerSource(Source source, EngineFolders folders) : ServerSource(source, folders)
{
    public override ICatalog Catalog { get; } =
        new ServerCatalog(
            new SqlServerDialect(DayOfWeek.Monday),
            """
            SELECT s.name, o.name, CASE o.type WHEN 'V' THEN 'view' ELSE 'table' END,
                   (SELECT sum(p.rows) FROM sys.partitions p WHERE p.object_id = o.object_id AND p.index_id IN (0, 1))
            FROM sys.objects o JOIN sys.schemas s ON s.schema_id = o.schema_id WHERE o.type IN ('U', 'V') AND o.is_ms_shipped = 0
            """,
            "data_type",
            """
            SELECT col_name(f.parent_object_id, f.parent_column_id), object_schema_name(f.referenced_object_id),
                   object_name(f.referenced_object_id), col_name(f.referenced_object_id, f.referenced_column_id)
            FROM sys.foreign_key_columns f WHERE object_schema_name(f.parent_object_id) = @p1 AND object_name(f.parent_object_id) = @p2
            """,
            "SELECT CAST(CASE WHEN has_perms_by_name(db_name(), 'DATABASE', 'INSERT') = 1 OR has_perms_by_name(db_name(), "
                + "'DATABASE', 'UPDATE') = 1 OR has_perms_by_name(db_name(), 'DATABASE', 'DELETE') = 1 THEN 1 ELSE 0 END AS bit)"
        );

    private string? _settings;

    private string Settings()
    {
        if (_settings is not null)
            return _settings;
        var server = Server;
        return _settings = new SqlConnectionStringBuilder
        {
            DataSource = $"{server.Host},{server.Port ?? 1433}",
            InitialCatalog = server.Database,
            UserID = server.User,
            Password = server.Password ?? "",
            Encrypt = server.Tls ? SqlConnectionEncryptOption.Strict : SqlConnectionEncryptOption.Optional,
            ServerCertificate = Certificate ?? "",
            ApplicationName = "weir",
            ApplicationIntent = ApplicationIntent.ReadOnly,
            ConnectTimeout = ConnectSeconds,
            CommandTimeout = Source.Limits.Seconds,
            MaxPoolSize = Math.Max(Source.Limits.AtOnce, 1),
        }.ConnectionString;
    }

    protected override void Forget() => _settings = null;

    protected override DbConnection Connect(CancellationToken cancellation) =>
        Open(
            new SqlConnection(Settings()),
            e =>
                e switch
                {
                    SqlException { Number: 18456 } => "login",
                    SqlException { Number: 4060 } => "rights",
                    SqlException { Number: 53 or 11001 } => "name",
                    _ => "",
                },
            cancellation
        );

    /// <summary>The server takes several statements in one text, with no sign between them: its own parser tells whether there are more than one.</summary>
    protected override void CheckTyped(DbConnection connection, SqlText sql) => CheckOne(sql.Text);

    /// <summary>Refuses what is not one SELECT by the parser that SQL Server's maker has for it.</summary>
    /// <exception cref="SourceException">It is more.</exception>
    internal void CheckOne(string text)
    {
        var script = new TSql160Parser(initialQuotedIdentifiers: true).Parse(new StringReader(text), out var errors) as TSqlScript;
        if (errors.Count > 0 || script is not { Batches: [{ Statements: [SelectStatement { Into: null }] }] })
            throw MoreThanASelect(errors.Count > 0 ? errors[0].Message : "The engine finds more in it than one SELECT.");
    }

    protected override DbCommand Command(DbConnection connection, SqlText sql, IReadOnlyDictionary<string, string> session)
    {
        var open = (SqlConnection)connection;
        foreach (var (name, value) in session)
        {
            // The driver resets the session, and with it these, before the connection is used again.
            using var setting = new SqlCommand("sys.sp_set_session_context", open)
            {
                CommandType = System.Data.CommandType.StoredProcedure,
            };
            setting.Parameters.AddWithValue("@key", "weir." + name);
            setting.Parameters.AddWithValue("@value", value);
            setting.ExecuteNonQuery();
        }
        var command = new SqlCommand(sql.Text, open);
        foreach (var (parameter, i) in sql.Parameters.Select((p, i) => (p, i)))
            command.Parameters.AddWithValue(
                $"@p{i + 1}",
                parameter.Value is DateOnly day ? day.ToDateTime(TimeOnly.MinValue) : parameter.Value ?? DBNull.Value
            );
        return command;
    }

    protected override bool IsUnreachable(DbException error) =>
        error is SqlException { Number: -2 or 53 or 64 or 121 or 233 or 10053 or 10054 or 10060 };

    public override ValueTask DisposeAsync()
    {
        if (_settings is not null)
        {
            using var connection = new SqlConnection(_settings);
            SqlConnection.ClearPool(connection);
        }
        return ValueTask.CompletedTask;
    }
}
