using System.Data.Common;
using MySqlConnector;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.MariaDb;

/// <summary>MariaDB or MySQL, as a server.</summary>
/// <param name="isMariaDb">False for MySQL, whose collations and settings have other names.</param>
public sealed class MariaDbEngine(bool isMariaDb) : IEngine
{
    /// <inheritdoc/>
    public SqlDialect Dialect(DayOfWeek weekStart) => new MariaDbDialect(weekStart, isMariaDb);

    /// <inheritdoc/>
    public IEngineSource Open(Source source, EngineFolders folders) => new MariaDbSource(source, folders, isMariaDb);
}

/// <summary>A MariaDB or MySQL database: every transaction is read-only, with the time limit set at the server.</summary>
internal sealed class MariaDbSource(Source source, EngineFolders folders, bool isMariaDb) : ServerSource(source, folders)
{
    public override ICatalog Catalog { get; } =
        new ServerCatalog(
            new MariaDbDialect(DayOfWeek.Monday, isMariaDb),
            """
            SELECT table_schema, table_name, CASE WHEN table_type LIKE '%VIEW' THEN 'view' ELSE 'table' END, table_rows
            FROM information_schema.tables WHERE table_schema NOT IN ('mysql', 'sys', 'performance_schema', 'information_schema')
            """,
            "column_type",
            """
            SELECT column_name, referenced_table_schema, referenced_table_name, referenced_column_name
            FROM information_schema.key_column_usage WHERE referenced_table_name IS NOT NULL AND table_schema = @p1 AND table_name = @p2
            """,
            """
            SELECT EXISTS (SELECT 1 FROM information_schema.user_privileges WHERE privilege_type IN ('INSERT', 'UPDATE', 'DELETE', 'DROP', 'FILE', 'SUPER'))
                OR EXISTS (SELECT 1 FROM information_schema.schema_privileges
                           WHERE table_schema = database() AND privilege_type IN ('INSERT', 'UPDATE', 'DELETE', 'DROP'))
                OR EXISTS (SELECT 1 FROM information_schema.table_privileges
                           WHERE table_schema = database() AND privilege_type IN ('INSERT', 'UPDATE', 'DELETE', 'DROP'))
            """
        );

    private string? _settings;

    private string Settings()
    {
        if (_settings is not null)
            return _settings;
        var server = Server;
        return _settings = new MySqlConnectionStringBuilder
        {
            Server = server.Host,
            Port = (uint)(server.Port ?? 3306),
            Database = server.Schema ?? server.Database,
            UserID = server.User,
            Password = server.Password,
            SslMode = server.Tls ? MySqlSslMode.VerifyFull : MySqlSslMode.Disabled,
            SslCa = Certificate,
            ApplicationName = "weir",
            ConnectionTimeout = ConnectSeconds,
            DefaultCommandTimeout = (uint)Source.Limits.Seconds + 5,
            MaximumPoolSize = (uint)Math.Max(Source.Limits.AtOnce, 1),
            // Whatever a statement left in the session is gone before the next.
            ConnectionReset = true,
            NoBackslashEscapes = true,
            TreatTinyAsBoolean = false,
            AllowUserVariables = true,
            AllowLoadLocalInfile = false,
            DateTimeKind = MySqlDateTimeKind.Unspecified,
            ConvertZeroDateTime = false,
            AllowZeroDateTime = false,
        }.ConnectionString;
    }

    protected override void Forget() => _settings = null;

    protected override DbConnection Connect(CancellationToken cancellation)
    {
        var connection = Open(
            new MySqlConnection(Settings()),
            e =>
                e switch
                {
                    MySqlException { ErrorCode: MySqlErrorCode.AccessDenied } => "login",
                    MySqlException { ErrorCode: MySqlErrorCode.UnknownDatabase or MySqlErrorCode.DatabaseAccessDenied } => "rights",
                    MySqlException { ErrorCode: MySqlErrorCode.ConnectionCountError or MySqlErrorCode.TooManyUserConnections } => "full",
                    MySqlException m
                        when m.Message.Contains("SSL", StringComparison.OrdinalIgnoreCase)
                            || m.Message.Contains("TLS", StringComparison.OrdinalIgnoreCase) => "tls",
                    MySqlException { ErrorCode: MySqlErrorCode.UnableToConnectToHost } m => NetworkStep(m) ?? "port",
                    _ => "",
                },
            cancellation
        );
        using var command = connection.CreateCommand();
        command.CommandText =
            $"SET SESSION TRANSACTION READ ONLY; SET NAMES utf8mb4 COLLATE {(isMariaDb ? "utf8mb4_nopad_bin" : "utf8mb4_0900_bin")}; "
            + "SET SESSION sql_mode = 'ANSI_QUOTES,NO_BACKSLASH_ESCAPES,STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION', SESSION time_zone = "
            + "'+00:00', SESSION group_concat_max_len = 67108864, SESSION "
            + $"{(isMariaDb ? $"max_statement_time = {Source.Limits.Seconds}" : $"max_execution_time = {Source.Limits.Seconds * 1000}")}";
        command.ExecuteNonQuery();
        return connection;
    }

    protected override DbCommand Command(DbConnection connection, SqlText sql, IReadOnlyDictionary<string, string> session)
    {
        var open = (MySqlConnection)connection;
        if (session.Count > 0)
        {
            // Variables of the session, which is reset when the connection goes back to the pool.
            using var settings = new MySqlCommand(
                $"SET {string.Join(", ", session.Keys.Select((name, i) => $"@weir_{name.Replace('-', '_')} = @s{i}"))}",
                open
            );
            foreach (var (value, i) in session.Values.Select((v, i) => (v, i)))
                settings.Parameters.AddWithValue($"@s{i}", value);
            settings.ExecuteNonQuery();
        }
        var command = new MySqlCommand(sql.Text, open);
        foreach (var (parameter, i) in sql.Parameters.Select((p, i) => (p, i)))
            command.Parameters.AddWithValue(
                $"@p{i + 1}",
                parameter.Value is DateOnly day ? day.ToDateTime(TimeOnly.MinValue) : parameter.Value ?? DBNull.Value
            );
        // The server takes one statement only where it is asked to prepare it; as plain text it takes several.
        if (sql.Typed is not null)
            command.Prepare();
        return command;
    }

    // The driver cuts a text at semicolons, reading quotes in its own way; with none in it there is nothing to cut, and the server
    // prepares one statement or refuses. Its reader lets none through, not even in a text.
    protected override void CheckTyped(DbConnection connection, SqlText sql)
    {
        base.CheckTyped(connection, sql);
        if (sql.Typed!.Contains(';'))
            throw MoreThanASelect("A semicolon stands in it.");
    }

    protected override bool IsUnreachable(DbException error) =>
        error
            is MySqlException
                {
                    ErrorCode: MySqlErrorCode.UnableToConnectToHost
                        or MySqlErrorCode.ConnectionCountError
                        or MySqlErrorCode.ServerShutdown
                        or MySqlErrorCode.None
                }
                or MySqlException { InnerException: IOException or System.Net.Sockets.SocketException };

    // MariaDB's max_statement_time, MySQL's max_execution_time, and a statement that was interrupted.
    protected override bool IsTimeLimit(DbException error) => error is MySqlException { Number: 1969 or 3024 or 1317 };

    protected override object Convert(object value, ValueKind kind) =>
        (value, kind) switch
        {
            (TimeSpan time, ValueKind.Text) => time.ToString(),
            (byte[] bytes, ValueKind.Text) => System.Text.Encoding.UTF8.GetString(bytes),
            _ => base.Convert(value, kind),
        };

    public override async ValueTask DisposeAsync()
    {
        if (_settings is null)
            return;
        using var connection = new MySqlConnection(_settings);
        await MySqlConnection.ClearPoolAsync(connection);
    }
}
