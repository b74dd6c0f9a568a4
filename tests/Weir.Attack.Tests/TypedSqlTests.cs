using CsCheck;
using Shouldly;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Engines;
using Weir.Engines.Tests;
using Weir.Testing;

namespace Weir.Attack.Tests;

/// <summary>SQL that somebody typed, against real engines: whatever stands in it, it is one SELECT that reads.</summary>
public abstract class TypedSqlTests(string engine, params string[] attacks) : IDisposable
{
    private static readonly IReadOnlyDictionary<string, string> Nobody = new Dictionary<string, string>();

    private readonly TestEngine _engine = TestEngine.Start(engine);

    public void Dispose()
    {
        _engine.Dispose();
        GC.SuppressFinalize(this);
    }

    protected TestEngine Engine => _engine;

    private Task<IReadOnlyList<object?[]>> Read(string sql, bool typed = true) =>
        _engine.Source.Read(new SqlText(sql, []) { Typed = typed ? sql : null }, [ValueKind.Integer], Nobody, CancellationToken.None);

    private async Task<long> Canaries() => (long)(await Read("SELECT count(*) FROM canary", typed: false))[0][0]!;

    private QueryText? Reads(string text) => QueryTextReader.Read(text, new SqlLexis(engine), _ => null, []).Query;

    /// <summary>Every way that was found to make more of a query than a SELECT, past Weir's own reader and straight to the engine.</summary>
    [Fact]
    public async Task What_is_more_than_one_SELECT_is_refused_by_the_reader_and_by_the_engine_alike()
    {
        _engine.Execute("CREATE TABLE canary (n INTEGER)");
        foreach (var attack in attacks)
        {
            Reads(attack).ShouldBeNull(attack);
            await Should.ThrowAsync<SourceException>(() => Read($"SELECT 1 FROM (\n{attack}\n) AS q"), attack);
            (await Canaries()).ShouldBe(0, attack);
        }
        (await Read("SELECT 1"))[0][0].ShouldBe(1L, "the source goes on");
    }

    [Fact]
    public async Task Nothing_of_a_typed_query_is_left_for_the_next()
    {
        _engine.Execute("CREATE TABLE canary (n INTEGER)");
        _engine.Execute("INSERT INTO canary VALUES (1), (2), (3)");
        foreach (
            var sql in new[]
            {
                "CREATE TEMP TABLE canary AS SELECT 1 AS n",
                "CREATE TEMPORARY TABLE canary (n INTEGER)",
                "SELECT 1; CREATE TEMP TABLE canary (n INTEGER)",
                "SET search_path = pg_temp",
                "PRAGMA query_only = OFF",
            }
        )
            for (var i = 0; i < 4; i++)
                await Should.ThrowAsync<SourceException>(() => Read(sql), sql);
        foreach (var _ in Enumerable.Range(0, 8))
            (await Canaries()).ShouldBe(3);
    }

    /// <summary>
    /// The pieces at which engines and readers disagree, in any order: what the reader takes for one SELECT, the engine must too, even
    /// where it would run several.
    /// </summary>
    [Fact]
    public async Task What_the_reader_accepts_is_one_statement_to_the_engine()
    {
        _engine.Execute("CREATE TABLE canary (n INTEGER)");
        string[] pieces =
        [
            "'",
            "''",
            "\\'",
            "E'",
            "e'\\'",
            "N'",
            "U&'",
            "u&\"",
            "_utf8'",
            "x'00'",
            "\"",
            "\"\"",
            "`",
            "[",
            "]",
            "[' ]",
            "$$",
            "$a$",
            "foo$a$",
            "1$a$",
            "\u00a0$a$",
            "é$$",
            "#",
            "# '",
            "--",
            "--1",
            "-- \n",
            "--\r\n",
            "/*",
            "*/",
            "/*!",
            "/*M!",
            "/**/",
            "/*/",
            "\n",
            "\r",
            " ",
            "(",
            ")",
            "1",
            "a",
            ",",
            "'x'",
            "\"y\"",
            ":",
            "::",
            "@",
            "?",
            ";",
            "; INSERT INTO canary VALUES (1); SELECT 1 ",
            ";INSERT INTO canary VALUES (1)-- ",
            "\u200b",
            "\u2028",
            "SELECT 1",
            "UNION SELECT 2",
            "\\",
            "||",
            "\0",
            "\u0085",
        ];
        var accepted = 0;
        var text = Gen.Int[0, pieces.Length - 1].Select(i => pieces[i]).Array[1, 9].Select(p => "SELECT 1 " + string.Concat(p));
        text.Sample(
            sql =>
            {
                if (Reads(sql) is not { } query)
                    return;
                accepted++;
                try
                {
                    // By a connection that may write, through a driver that takes several statements.
                    _engine.Execute($"SELECT * FROM (\n{query.Typed}\n) AS q");
                }
                catch (Exception e)
                    when (e is System.Data.Common.DbException or ArgumentException or NotSupportedException or InvalidOperationException)
                {
                    // No SQL after all: that is for the engine to say.
                }
            },
            iter: Fuzz.Cases,
            threads: 1
        );
        (await Canaries()).ShouldBe(0, "a statement ran that the reader did not see");
        accepted.ShouldBeGreaterThan(0, "otherwise this proves nothing");
    }
}

/// <summary>How many random cases each test tries; <c>make fuzz N=…</c> for more.</summary>
public static class Fuzz
{
    public static int Cases { get; } = int.TryParse(Environment.GetEnvironmentVariable("WEIR_FUZZ"), out var cases) ? cases : 1000;
}

public sealed class DuckDbTypedSqlTests()
    : TypedSqlTests(
        "duckdb",
        "SELECT E'\\''; INSERT INTO canary VALUES (1); SELECT '",
        "SELECT 1; SELECT 2",
        "SELECT 1 AS foo$a$; INSERT INTO canary VALUES (1); --$a$",
        "CREATE TEMP TABLE x AS SELECT 1",
        "SET memory_limit = '99GB'",
        "COPY canary TO 'out.csv'",
        "ATTACH ':memory:' AS other"
    );

public sealed class SqliteTypedSqlTests()
    : TypedSqlTests(
        "sqlite",
        "SELECT 1 AS [' ]; CREATE TEMP TABLE x (n); --']",
        "SELECT 1; INSERT INTO canary VALUES (1)",
        "PRAGMA query_only = OFF",
        "ATTACH ':memory:' AS other",
        "SELECT load_extension('x')",
        "CREATE TEMP TABLE x (n INTEGER)"
    );

public sealed class PostgreSqlTypedSqlTests()
    : TypedSqlTests(
        "postgresql",
        "SELECT E'\\''; COMMIT; BEGIN READ WRITE; INSERT INTO canary VALUES (1); COMMIT; SELECT '",
        "SELECT 1 AS foo$a$; COMMIT; BEGIN READ WRITE; INSERT INTO canary VALUES (1); COMMIT; --$a$",
        "SELECT set_config('weir.viewer', 'director', false)",
        "SELECT \"set_config\"('weir.viewer', 'director', false)",
        "SELECT pg_sleep(1)",
        "SELECT U&\"\\0073et_config\"('weir.viewer', 'director', false)",
        "WITH w AS (INSERT INTO canary VALUES (1) RETURNING n) SELECT n INTO x FROM w",
        "SELECT query_to_xml('SELECT set_config(''a.b'', ''c'', false)', true, true, '') INTO x",
        "COMMIT",
        "SELECT 1; SELECT 2"
    )
{
    [Fact]
    public async Task A_login_that_may_write_is_refused_unless_the_source_says_so()
    {
        Engine.Execute(
            "CREATE TABLE t (n integer); CREATE ROLE only_reads LOGIN; GRANT SELECT ON t TO only_reads; CREATE ROLE writes LOGIN; "
                + "GRANT SELECT, INSERT ON t TO writes"
        );
        Task<IReadOnlyList<object?[]>> As(string user) =>
            Engine
                .Open(s => s with { Server = s.Server! with { User = user, AllowsWritingLogin = false } })
                .Read(new SqlText("SELECT 1", []), [ValueKind.Integer], new Dictionary<string, string>(), CancellationToken.None);
        foreach (var user in new[] { "writes", "weir" })
            (await Should.ThrowAsync<SourceException>(() => As(user))).Message.ShouldContain("may write");
        (await As("only_reads"))[0][0].ShouldBe(1L);
    }

    /// <summary>Functions of the server that write, wait or reach out are known to the server, not to a list: all of them are tried.</summary>
    [Fact]
    public async Task No_volatile_function_of_the_server_can_be_called()
    {
        foreach (
            var call in new[]
            {
                "lo_from_bytea(0, 'x')",
                "lo_create(0)",
                "pg_notify('a', 'b')",
                "pg_advisory_lock(1)",
                "pg_terminate_backend(1)",
                "pg_read_file('PG_VERSION')",
                "pg_logical_emit_message(false, 'a', 'b')",
                "setseed(0)",
                "pg_reload_conf()",
                "nextval('x')",
                "lo_import('/etc/passwd')",
            }
        )
            await Should.ThrowAsync<SourceException>(
                () =>
                    Engine.Source.Read(
                        new SqlText($"SELECT 1 FROM (SELECT {call}) AS q", []) { Typed = $"SELECT {call}" },
                        [ValueKind.Integer],
                        new Dictionary<string, string>(),
                        CancellationToken.None
                    ),
                call
            );
        foreach (
            var call in new[]
            {
                "random() < 2",
                "now() > DATE '2000-01-01'",
                "current_setting('weir.viewer', true) IS NULL",
                "upper('a') = 'A'",
            }
        )
            (
                await Engine.Source.Read(
                    new SqlText($"SELECT 1 WHERE {call}", []) { Typed = $"SELECT 1 WHERE {call}" },
                    [ValueKind.Integer],
                    new Dictionary<string, string>(),
                    CancellationToken.None
                )
            )[0]
                [0]
                .ShouldBe(1L, call);
    }
}

public sealed class MariaDbTypedSqlTests()
    : TypedSqlTests(
        "mariadb",
        "SELECT 1 # '\n; COMMIT; SET SESSION TRANSACTION READ WRITE; INSERT INTO canary VALUES (1); SELECT '1'",
        "SELECT 1 --1'\n; COMMIT; INSERT INTO canary VALUES (1); -- '",
        "SELECT 1; SELECT 2",
        "SELECT /*! 1; */ INSERT INTO canary VALUES (1)",
        "SELECT 1 INTO OUTFILE '/tmp/weir-canary'",
        "SELECT 1 INTO @weir_viewer",
        "SELECT 1; SET @weir_viewer = 'director'"
    );
