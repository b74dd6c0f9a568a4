using System.Data.Common;
using Npgsql;
using NpgsqlTypes;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.PostgreSql;

/// <summary>PostgreSQL, as a server.</summary>
public sealed class PostgreSqlEngine : IEngine
{
    /// <inheritdoc/>
    public SqlDialect Dialect(DayOfWeek weekStart) => new PostgreSqlDialect(weekStart);

    /// <inheritdoc/>
    public IEngineSource Open(Source source, EngineFolders folders) => new PostgreSqlSource(source, folders);
}

/// <summary>A PostgreSQL database: every transaction is read-only, with the time limit set at the server.</summary>
internal sealed class PostgreSqlSource(Source source, EngineFolders folders) : ServerSource(source, folders)
{
    private readonly Lock _opening = new();
    private NpgsqlDataSource? _pool;

    public override ICatalog Catalog { get; } =
        new ServerCatalog(
            new PostgreSqlDialect(DayOfWeek.Monday),
            """
            SELECT n.nspname, c.relname, CASE WHEN c.relkind IN ('v', 'm') THEN 'view' ELSE 'table' END,
                   CASE WHEN c.reltuples < 0 THEN NULL ELSE CAST(c.reltuples AS bigint) END
            FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
            WHERE c.relkind IN ('r', 'p', 'v', 'm', 'f') AND n.nspname NOT IN ('pg_catalog', 'information_schema') AND n.nspname NOT LIKE 'pg_toast%'
                AND has_schema_privilege(n.oid, 'USAGE') AND has_table_privilege(c.oid, 'SELECT')
            """,
            "data_type",
            """
            SELECT a.attname, n.nspname, f.relname, b.attname
            FROM pg_constraint k JOIN pg_class c ON c.oid = k.conrelid JOIN pg_namespace s ON s.oid = c.relnamespace
            JOIN pg_class f ON f.oid = k.confrelid JOIN pg_namespace n ON n.oid = f.relnamespace
            CROSS JOIN LATERAL unnest(k.conkey, k.confkey) AS p(mine, theirs)
            JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = p.mine JOIN pg_attribute b ON b.attrelid = f.oid AND b.attnum = p.theirs
            WHERE k.contype = 'f' AND s.nspname = $1 AND c.relname = $2
            """,
            """
            SELECT CAST((SELECT rolsuper FROM pg_roles WHERE rolname = current_user)
                OR EXISTS (SELECT 1 FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
                WHERE c.relkind IN ('r', 'p') AND n.nspname NOT IN ('pg_catalog', 'information_schema')
                  AND has_table_privilege(c.oid, 'INSERT, UPDATE, DELETE, TRUNCATE')) AS integer)
            """
        );

    private NpgsqlDataSource Pool()
    {
        lock (_opening)
        {
            if (_pool is not null)
                return _pool;
            var server = Server;
            var settings = new NpgsqlConnectionStringBuilder
            {
                Host = server.Host,
                Port = server.Port ?? 5432,
                Database = server.Database,
                Username = server.User,
                Password = server.Password,
                SslMode = server.Tls ? SslMode.VerifyFull : SslMode.Disable,
                RootCertificate = Certificate,
                SearchPath = server.Schema,
                ApplicationName = "weir",
                Timeout = ConnectSeconds,
                CommandTimeout = Source.Limits.Seconds + 5,
                MaxPoolSize = Math.Max(Source.Limits.AtOnce, 1),
                // Set at the start of each session, and set again whenever a connection goes back to the pool.
                Options =
                    $"-c default_transaction_read_only=on -c statement_timeout={Source.Limits.Seconds * 1000} -c TimeZone=UTC -c "
                    + "DateStyle=ISO -c standard_conforming_strings=on",
            };
            return _pool = NpgsqlDataSource.Create(settings);
        }
    }

    protected override void Forget()
    {
        NpgsqlDataSource? old;
        lock (_opening)
            (old, _pool) = (_pool, null);
        // Connections that are out stay good until they come back.
        old?.Dispose();
    }

    protected override DbConnection Connect(CancellationToken cancellation) =>
        Open(
            Pool().CreateConnection(),
            e =>
                e switch
                {
                    PostgresException { SqlState: "28P01" or "28000" } => "login",
                    PostgresException { SqlState: "3D000" or "42501" } => "rights",
                    PostgresException { SqlState: "53300" or "57P03" } => "full",
                    NpgsqlException n when n.Message.Contains("SSL", StringComparison.Ordinal) => "tls",
                    _ => "",
                },
            cancellation
        );

    protected override DbCommand Command(DbConnection connection, SqlText sql, IReadOnlyDictionary<string, string> session)
    {
        var open = (NpgsqlConnection)connection;
        var command = new NpgsqlCommand(sql.Text, open);
        foreach (var parameter in sql.Parameters)
            command.Parameters.Add(Parameter(parameter));
        // With a parameter by place the driver hands the text on as it is, and the server takes no second statement in it. Without
        // one it would look for semicolons, in its own way, and send each part.
        if (sql.Parameters.Count == 0)
            command.Parameters.Add(Parameter(new SqlParameter(0L, ValueKind.Integer)));
        if (session.Count > 0)
        {
            // Settings that end with the transaction, which is rolled back when the connection goes back to the pool:
            // no other statement sees them.
            command.Transaction = open.BeginTransaction();
            using var settings = new NpgsqlCommand(
                $"SELECT {string.Join(", ", session.Select((_, i) => $"set_config(${(2 * i) + 1}, ${(2 * i) + 2}, true)"))}",
                open,
                command.Transaction
            );
            foreach (var (name, value) in session)
            {
                settings.Parameters.Add(Parameter(new SqlParameter("weir." + name.Replace('-', '_'), ValueKind.Text)));
                settings.Parameters.Add(Parameter(new SqlParameter(value, ValueKind.Text)));
            }
            settings.ExecuteNonQuery();
        }
        return command;
    }

    /// <summary>Functions that give another value at each call, and do nothing else.</summary>
    private static readonly string[] Harmless =
    [
        "random",
        "clock_timestamp",
        "timeofday",
        "gen_random_uuid",
        "pg_relation_size",
        "pg_table_size",
        "pg_total_relation_size",
        "pg_indexes_size",
        "pg_database_size",
    ];

    private readonly System.Collections.Concurrent.ConcurrentDictionary<string, bool> _checked = [];

    /// <summary>
    /// A read-only transaction still lets functions of the server itself write, wait, change settings or reach out: those are the
    /// volatile ones that are not written in a language of the database. Which they are the server knows.
    /// </summary>
    protected override void CheckTyped(DbConnection connection, SqlText sql)
    {
        base.CheckTyped(connection, sql);
        if (_checked.ContainsKey(sql.Typed!))
            return;
        List<SqlToken> tokens;
        try
        {
            tokens = SqlLexer.Read(sql.Typed!, new SqlLexis("postgresql"));
        }
        catch (SqlReadException e)
        {
            throw MoreThanASelect(e.Message);
        }
        string[] names =
        [
            .. tokens
                .Where(t => t.Kind is SqlTokenKind.Word or SqlTokenKind.QuotedName)
                .Select(t => t.Kind == SqlTokenKind.Word ? t.Text.ToLowerInvariant() : t.Text)
                .Distinct(),
        ];
        using var command = new NpgsqlCommand(
            """
            SELECT p.proname FROM pg_proc p JOIN pg_language l ON l.oid = p.prolang
            WHERE p.proname = ANY ($1) AND p.provolatile = 'v' AND l.lanname IN ('internal', 'c') AND p.prokind IN ('f', 'w') AND p.proname <> ALL ($2) LIMIT 1
            """,
            (NpgsqlConnection)connection
        );
        command.Parameters.Add(new NpgsqlParameter { Value = names });
        command.Parameters.Add(new NpgsqlParameter { Value = Harmless });
        if (command.ExecuteScalar() is string function)
            throw MoreThanASelect($"{function} writes, waits or reaches out of the database.");
        if (_checked.Count < 10_000)
            _checked[sql.Typed!] = true;
    }

    private static NpgsqlParameter Parameter(SqlParameter parameter) =>
        new()
        {
            Value = parameter.Value ?? DBNull.Value,
            NpgsqlDbType = parameter.Kind switch
            {
                ValueKind.Boolean => NpgsqlDbType.Boolean,
                ValueKind.Integer => NpgsqlDbType.Bigint,
                ValueKind.Decimal => NpgsqlDbType.Numeric,
                ValueKind.Float => NpgsqlDbType.Double,
                ValueKind.Date => NpgsqlDbType.Date,
                ValueKind.Timestamp => NpgsqlDbType.Timestamp,
                _ => NpgsqlDbType.Text,
            },
        };

    protected override bool IsUnreachable(DbException error) =>
        error is PostgresException p
            ? p.SqlState is "57P01" or "57P02" or "57P03" or "53300"
            : error is NpgsqlException { InnerException: IOException or System.Net.Sockets.SocketException };

    // Its statement_timeout stops a statement as a cancel request does.
    protected override bool IsTimeLimit(DbException error) => error is PostgresException { SqlState: "57014" };

    protected override object Value(DbDataReader reader, int column, ValueKind kind)
    {
        var type = reader.GetFieldType(column);
        if (type == typeof(decimal))
        {
            try
            {
                return reader.GetValue(column);
            }
            catch (OverflowException)
            {
                // More digits than a decimal holds: the nearest number that it does.
                return kind == ValueKind.Float
                    ? reader.GetFieldValue<double>(column)
                    : throw new OverflowException("The number has more digits than Weir holds.");
            }
        }
        return type == typeof(TimeSpan) || type == typeof(object) ? reader.GetValue(column).ToString()! : reader.GetValue(column);
    }

    public override async ValueTask DisposeAsync()
    {
        if (_pool is not null)
            await _pool.DisposeAsync();
    }
}
