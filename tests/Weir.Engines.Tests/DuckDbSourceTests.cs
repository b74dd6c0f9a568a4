using DuckDB.NET.Data;
using Shouldly;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Testing;

namespace Weir.Engines.Tests;

public sealed class DuckDbSourceTests : IDisposable
{
    private readonly TempFolder _folder = Repository.Temp();

    public DuckDbSourceTests()
    {
        using var connection = new DuckDBConnection($"Data Source={_folder.File("s.duckdb")}");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "CREATE TABLE t (a INTEGER)";
        command.ExecuteNonQuery();
    }

    public void Dispose() => _folder.Dispose();

    private IEngineSource Open(string file = "s.duckdb", int seconds = 20, int atOnce = 1) =>
        new DuckDb.DuckDbEngine().Open(
            new Source("s", "Records", "duckdb", new SourceLimits(seconds, 100, atOnce, 200)) { File = file },
            new EngineFolders(_folder.Path, _folder.Path, _folder.Path)
        );

    private static Task<IReadOnlyList<object?[]>> Read(IEngineSource source, string sql, CancellationToken cancellation = default) =>
        source.Read(new SqlText(sql, []), [ValueKind.Integer], new Dictionary<string, string>(), cancellation);

    // Counts for minutes unless it is stopped.
    private const string Endless = "SELECT count(*) FROM range(100000000) a, range(100000) b WHERE hash(a.range + b.range) = 0";

    [Theory]
    [InlineData("INSERT INTO t VALUES (1)")]
    [InlineData("DROP TABLE t")]
    [InlineData("CREATE TABLE u (a INTEGER)")]
    [InlineData("SELECT count(*) FROM read_csv('/etc/passwd')")]
    [InlineData("COPY t TO 'out.csv'")]
    [InlineData("ATTACH 'other.duckdb'")]
    [InlineData("SET enable_external_access = true")]
    [InlineData("SET memory_limit = '90GB'")]
    [InlineData("INSTALL httpfs")]
    public async Task A_source_is_for_reading_only_and_its_settings_are_locked(string sql) =>
        (await Should.ThrowAsync<SourceException>(() => Read(Open(), sql))).Code.ShouldBe("query-failed");

    [Fact]
    public async Task A_refused_query_does_not_tell_the_viewer_what_columns_there_are()
    {
        var fault = await Should.ThrowAsync<SourceException>(() => Read(Open(), "SELECT b FROM t"));
        fault.Message.ShouldBe("Records refused the query.");
        fault.InnerException!.Message.ShouldContain("Binder Error");
    }

    [Fact]
    public async Task A_missing_file_is_told_and_when_it_comes_the_source_works()
    {
        var source = Open("later.duckdb");
        var fault = await Should.ThrowAsync<SourceException>(() => Read(source, "SELECT 1"));
        fault.Code.ShouldBe("source-unavailable");
        fault.Message.ShouldNotContain(_folder.Path);
        File.Copy(_folder.File("s.duckdb"), _folder.File("later.duckdb"));
        (await Read(source, "SELECT 1"))[0][0].ShouldBe(1L);
    }

    [Fact]
    public async Task A_file_that_is_no_database_is_told()
    {
        _folder.File("bad.duckdb", "this is no database, only text that is long enough to be looked at".PadRight(20_000, 'x'));
        var fault = await Should.ThrowAsync<SourceException>(() => Read(Open("bad.duckdb"), "SELECT 1"));
        fault.Code.ShouldBe("source-unavailable");
        fault.Message.ShouldNotContain(_folder.Path);
    }

    [Theory]
    [InlineData("../s.duckdb")]
    [InlineData("/etc/passwd")]
    public async Task A_file_outside_the_folder_is_not_opened(string file) =>
        (await Should.ThrowAsync<SourceException>(() => Read(Open(file), "SELECT 1"))).Message.ShouldContain("outside");

    [Fact]
    public async Task A_secret_comes_from_a_variable_made_for_it_and_its_absence_is_told()
    {
        Source Of(string password) =>
            new("p", "P", "postgresql", new SourceLimits(1, 1, 1, 100))
            {
                Server = new SourceServer("127.0.0.1", 1, "d", "u", password, null, false, null),
            };
        async Task<string> Told(string password)
        {
            await using var source = Engines.ByName("postgresql").Open(Of(password), EngineFolders.Under(_folder.Path));
            return (await Should.ThrowAsync<SourceException>(() => Read(source, "SELECT 1"))).Message;
        }
        (await Told("${env:WEIR_SECRET_NOT_SET}")).ShouldContain("WEIR_SECRET_NOT_SET");
        (await Told("${env:PATH}")).ShouldContain("does not begin with WEIR_SECRET_");
        Environment.SetEnvironmentVariable("WEIR_SECRET_IS_SET", "sesame");
        (await Told("${env:WEIR_SECRET_IS_SET}")).ShouldContain("No database of this kind answers");
    }

    [Fact]
    public async Task A_query_beyond_its_time_is_stopped_at_the_database()
    {
        var source = Open(seconds: 1);
        (await Should.ThrowAsync<SourceException>(() => Read(source, Endless))).Code.ShouldBe("time-limit");
        // The one slot is free again only if the database has stopped.
        (await Read(source, "SELECT 1"))[0]
            [0]
            .ShouldBe(1L);
    }

    [Fact]
    public async Task A_cancelled_query_is_stopped_at_the_database()
    {
        var source = Open(seconds: 600);
        using var cancel = new CancellationTokenSource();
        var running = Read(source, Endless, cancel.Token);
        cancel.CancelAfter(TimeSpan.FromMilliseconds(300));
        await Should.ThrowAsync<OperationCanceledException>(() => running);
        (await Read(source, "SELECT 1"))[0][0].ShouldBe(1L);
    }

    [Fact]
    public async Task Who_waits_longer_than_the_limit_for_a_free_slot_is_told_that_the_source_is_busy()
    {
        var source = Open(seconds: 2);
        var first = Read(source, Endless);
        var second = Read(source, "SELECT 1");
        (await Should.ThrowAsync<SourceException>(() => first)).Code.ShouldBe("time-limit");
        try
        {
            (await second)[0][0].ShouldBe(1L); // the slot came free in time
        }
        catch (SourceException e)
        {
            e.Code.ShouldBe("source-busy");
        }
    }

    [Fact]
    public async Task A_decimal_beside_a_whole_number_stays_a_decimal()
    {
        // Found by the random comparison: the engine gave the parameter the type of its neighbour, and 0.10 became 0.
        var condition = new Bound.Op(
            Operation.GreaterOrEqual,
            ValueKind.Boolean,
            new Bound.Literal(0L, ValueKind.Integer),
            new Bound.Literal(0.10m, ValueKind.Decimal)
        );
        var sql = new DuckDb.DuckDbDialect(DayOfWeek.Monday).Print(
            new SelectTree([], new Select([(condition, "x")], DatasetRows.Table.Parse("t"), [], null, null, [], null))
        );
        var source = Open();
        (
            await source.Read(
                sql with
                {
                    Text = sql.Text.Replace("FROM \"t\"", ""),
                },
                [ValueKind.Boolean],
                new Dictionary<string, string>(),
                default
            )
        )[0]
            [0]
            .ShouldBe(false);
    }

    [Fact]
    public void A_name_that_looks_like_SQL_is_only_a_name()
    {
        var column = new Bound.Column("t\" ; DROP TABLE t; --", "a\"b", ValueKind.Integer);
        var tree = new SelectTree([], new Select([(column, "x\"")], DatasetRows.Table.Parse("t"), [], null, null, [], null));
        new DuckDb.DuckDbDialect(DayOfWeek.Monday)
            .Print(tree)
            .Text.ShouldBe("SELECT \"t\"\" ; DROP TABLE t; --\".\"a\"\"b\" AS \"x\"\"\"\nFROM \"t\"");
    }
}
