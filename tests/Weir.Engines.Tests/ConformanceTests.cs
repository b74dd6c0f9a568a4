using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Testing;

namespace Weir.Engines.Tests;

/// <summary>What every engine must do beside giving the right figures: read only, cancel, keep its words, tell its catalog.</summary>
public abstract class ConformanceTests(string engine, string endless, string? running = null) : IDisposable
{
    private static readonly IReadOnlyDictionary<string, string> Nobody = new Dictionary<string, string>();

    protected TestEngine Engine { get; } = TestEngine.Start(engine);

    private string Quoted(string name) => Engine.Engine.Dialect(DayOfWeek.Monday).Quote(name);

    public void Dispose()
    {
        Engine.Dispose();
        GC.SuppressFinalize(this);
    }

    protected static Task<IReadOnlyList<object?[]>> Read(
        IEngineSource source,
        string sql,
        IReadOnlyDictionary<string, string>? session = null,
        CancellationToken cancellation = default
    ) => source.Read(new SqlText(sql, []), [ValueKind.Integer], session ?? Nobody, cancellation);

    private void Make()
    {
        Engine.Execute("CREATE TABLE area (id INTEGER NOT NULL PRIMARY KEY, label VARCHAR(40))");
        Engine.Execute(
            "CREATE TABLE route (id INTEGER NOT NULL PRIMARY KEY, area_id INTEGER, price DECIMAL(10, 2), opened DATE, FOREIGN KEY "
                + "(area_id) REFERENCES area (id))"
        );
        Engine.Execute("INSERT INTO area VALUES (1, 'North')");
        Engine.Execute("INSERT INTO route VALUES (7, 1, 12.50, '2024-02-29')");
    }

    [Fact]
    public async Task A_source_only_reads()
    {
        Make();
        foreach (
            var sql in (string[])
                [
                    "INSERT INTO area VALUES (2, 'South')",
                    "DELETE FROM route",
                    "DROP TABLE route",
                    "CREATE TABLE other (a INTEGER)",
                    "UPDATE area SET label = 'x'",
                ]
        )
            (await Should.ThrowAsync<SourceException>(() => Read(Engine.Source, sql), sql)).Code.ShouldBe("query-failed");
        (await Read(Engine.Source, "SELECT count(*) FROM route"))[0][0].ShouldBe(1L);
    }

    [Fact]
    public async Task Columns_are_held_against_those_of_the_database_at_the_field()
    {
        Make();
        const string dataset = """
            dataset: d
            source: s
            from: route
            joins: [{ table: area, on: "route.area_id = area.id" }]
            fields:
              id: { column: id, type: integer, named_by: area.lable }
              price: { column: price, type: decimal }
              opened: { column: opened, type: date }
              label: { column: area.label, type: integer }
              area: { column: area_id }
              gone: { column: aera_id, type: integer }
              read: { column: area.label, type: integer, unfit: missing }
              made: { formula: "id + 1" }
            """;
        var workspace = Testing.Definitions.Read(Testing.Definitions.Files(dataset, "roles:\n  r: { reads: { d: all } }\n"));
        var scope = Scope.For(Testing.Definitions.Viewer("r"), "d", workspace, Viewing.At(default))!;
        var faults = await ColumnChecks.Of(
            workspace.Datasets["d"],
            scope,
            Engine.Source,
            Engine.Engine.Dialect(DayOfWeek.Monday),
            CancellationToken.None
        );
        faults
            .Select(f => (f.Line, f.Code, f.Severity))
            .ShouldBe(
                [
                    (6, "unknown-column", Severity.Error),
                    (9, "column-type", Severity.Error),
                    (10, "column-type", Severity.Error),
                    (11, "unknown-column", Severity.Error),
                ],
                customMessage: string.Join('\n', faults.Select(f => f.Message))
            );
        faults[0].Message.ShouldBe("The names of id: area has no column lable.");
    }

    [Fact]
    public async Task A_sample_is_drawn_at_random_before_conditions_that_are_put_together_with_or()
    {
        Make();
        Engine.Execute($"INSERT INTO area VALUES {string.Join(", ", Enumerable.Range(2, 3_999).Select(i => $"({i}, 'a{i}')"))}");
        const string Dataset = """
            dataset: d
            source: s
            from: area
            fields:
              id: { column: id, type: integer }
            measures:
              rows: { formula: "count(*)" }
            """;
        var workspace = Testing.Definitions.Read(
            Testing.Definitions.Files(Dataset, "roles:\n  r: { reads: { d: { where: id < 3001 or id < 0 } } }\n")
        );
        var scope = Scope.For(Testing.Definitions.Viewer("r"), "d", workspace, Viewing.At(default))!;
        async Task<long> Count(Scope under)
        {
            var query = new Query(under, [], [], [Output.RowCount], null, [], 10);
            var sql = Engine.Engine.Dialect(DayOfWeek.Monday).Print(SelectBuilder.Build(query));
            return Convert.ToInt64((await Engine.Source.Read(sql, [ValueKind.Integer], Nobody, CancellationToken.None))[0][0]);
        }
        (await Count(scope)).ShouldBe(3_000);
        // Of 3,000 rows 300 are drawn, give or take far more than chance ever will.
        (await Count(scope.Sampled(10))).ShouldBeInRange(150, 450);
        (await Count(scope.Sampled(10).At(Viewing.At(default)))).ShouldBeInRange(150, 450);
    }

    [Fact]
    public async Task Rows_come_in_pieces_of_which_none_holds_all()
    {
        Make();
        Engine.Execute($"INSERT INTO area VALUES {string.Join(", ", Enumerable.Range(2, 4_998).Select(i => $"({i}, 'a{i}')"))}");
        var pieces = new List<int>();
        var sum = 0L;
        await Engine.Source.ReadInPieces(
            new SqlText("SELECT id, label FROM area ORDER BY id", []),
            [ValueKind.Integer, ValueKind.Text],
            Nobody,
            piece =>
            {
                pieces.Add(piece[1].Length);
                sum += piece[0].Sum(v => (long)v!);
            },
            CancellationToken.None
        );
        (pieces.Sum(), sum).ShouldBe((4_999, 4_999L * 5_000 / 2));
        pieces.Max().ShouldBeLessThan(4_999);
        await Should.ThrowAsync<SourceException>(() =>
            Engine.Source.ReadInPieces(
                new SqlText("SELECT none FROM area", []),
                [ValueKind.Integer],
                Nobody,
                _ => { },
                CancellationToken.None
            )
        );
        // Who takes them may stop: the source goes on.
        await Should.ThrowAsync<ArgumentException>(() =>
            Engine.Source.ReadInPieces(
                new SqlText("SELECT id FROM area", []),
                [ValueKind.Integer],
                Nobody,
                _ => throw new ArgumentException("enough"),
                CancellationToken.None
            )
        );
        (await Read(Engine.Source, "SELECT count(*) FROM area"))[0][0].ShouldBe(4_999L);
    }

    [Fact]
    public async Task A_question_that_is_given_up_stops_at_the_database()
    {
        Make();
        using var stop = new CancellationTokenSource();
        var asked = Read(Engine.Source, endless, cancellation: stop.Token);
        stop.CancelAfter(300);
        await Should.ThrowAsync<OperationCanceledException>(asked);
        // A server may take a moment to stop what it was told to stop; left alone it would go on for hours.
        while (running is not null && (long)(await Read(Engine.Source, running))[0][0]! > 0)
            await Task.Yield();
        (await Read(Engine.Source, "SELECT 1"))[0][0].ShouldBe(1L, "the source goes on");
    }

    [Fact]
    public async Task A_question_beyond_the_time_limit_is_stopped_and_told()
    {
        Make();
        await using var source = Engine.Open(s => s with { Limits = s.Limits with { Seconds = 1 } });
        (await Should.ThrowAsync<SourceException>(() => Read(source, endless))).Code.ShouldBe("time-limit");
        (await Read(source, "SELECT 1"))[0][0].ShouldBe(1L);
    }

    [Fact]
    public async Task What_the_engine_says_of_a_refused_query_is_not_for_viewers()
    {
        Make();
        var fault = await Should.ThrowAsync<SourceException>(() => Read(Engine.Source, "SELECT no_such_column FROM route"));
        fault.Message.ShouldBe("S refused the query.");
        fault.InnerException!.Message.ShouldContain("no_such_column");
    }

    [Fact]
    public async Task The_catalog_tells_tables_columns_and_keys()
    {
        Make();
        var tables = await Engine.Source.Tables(CancellationToken.None);
        tables.Select(t => t.Name).ShouldBe(["area", "route"]);
        var route = (await Engine.Source.Table(null, "route", CancellationToken.None))!;
        route
            .Columns.Select(c => (c.Name, c.Kind, c.Key))
            .ShouldBe([
                ("id", ValueKind.Integer, 1L),
                ("area_id", ValueKind.Integer, null),
                ("price", ValueKind.Decimal, null),
                ("opened", ValueKind.Date, null),
            ]);
        route.Columns[0].Nullable.ShouldBeFalse();
        route.Columns[1].Nullable.ShouldBeTrue();
        route.References.Select(r => (r.Column, r.Table, r.OtherColumn)).ShouldBe([("area_id", "area", "id")]);
        (await Engine.Source.Table(null, "no such table; DROP TABLE route", CancellationToken.None)).ShouldBeNull();
    }

    [Fact]
    public async Task A_developers_query_is_a_dataset_with_values_bound()
    {
        Make();
        Engine.Execute("INSERT INTO area VALUES (2, 'O''Hare; --'), (3, NULL)");
        const string dataset = """
            dataset: d
            source: s
            query: |
              SELECT id, label FROM area -- :user.nothing in a comment is text
              WHERE (label IN (:user.labels) OR ':user.x' = label) AND (NOT :param.least.given OR id >= :param.least)
            parameters:
              least: { type: integer, optional: true }
            fields:
              id: { column: id, type: integer }
              label: { column: label }
            measures:
              rows: { formula: "count(*)" }
            """;
        var workspace = Testing.Definitions.Read(Testing.Definitions.Files(dataset, "roles:\n  r: { reads: { d: all } }\n"));
        async Task<long> Rows(string[] labels, params string[] least)
        {
            var (viewing, fault) = Viewing.Read(
                default,
                least.Length == 0 ? new Dictionary<string, IReadOnlyList<string>>() : new() { ["least"] = least },
                workspace.Datasets["d"].Parameters
            );
            fault.ShouldBeNull();
            var scope = Scope.For(Testing.Definitions.Viewer("r", ("labels", labels)), "d", workspace, viewing!)!;
            scope.Restricted.ShouldBeTrue("the query takes rows away by what the viewer is");
            var answer = await Engine.Source.Ask(
                DatasetChecks.Count(scope, []),
                Engine.Engine.Dialect(DayOfWeek.Monday),
                CancellationToken.None
            );
            return (long)answer.Table.Values[0][0]!;
        }
        (await Rows(["North", "O'Hare; --"])).ShouldBe(2);
        (await Rows(["North', 'O''Hare; --"])).ShouldBe(0);
        (await Rows(["North", "O'Hare; --"], "2")).ShouldBe(1);
        (await Rows([])).ShouldBe(0, "a missing attribute grants nothing");
        var everyone = Scope.For(Testing.Definitions.Viewer("r", ("labels", ["North"])), "d", workspace, Viewing.At(default))!;
        var columns = await Engine.Source.Describe(
            Engine.Engine.Dialect(DayOfWeek.Monday).Print(DatasetChecks.AllColumns(everyone)),
            Nobody,
            CancellationToken.None
        );
        columns
            .Select(c => (c.Name, Engine.Source.Catalog.KindOf(c.Type)))
            .ShouldBe([("id", ValueKind.Integer), ("label", ValueKind.Text)]);
    }

    [Fact]
    public async Task What_a_dashboard_opens_with_and_what_of_a_link_is_there_are_told_alike()
    {
        Engine.Execute("CREATE TABLE stay (place VARCHAR(40), came TIMESTAMP NULL, nights INTEGER)");
        (string? Place, string? Came, int Nights)[] rows =
        [
            ("North", "2024-02-29 23:59:59", 2),
            ("North", "2024-03-01 00:00:00", 3),
            ("50% _off", "2024-12-30 08:00:00", 1),
            (null, "2025-01-05 12:00:00", 4),
            ("", null, 5),
            ("ÄÖ north", "2019-01-01 00:00:00", 6),
        ];
        foreach (var (place, came, nights) in rows)
            Engine.Execute(
                $"INSERT INTO stay VALUES ({(place is null ? "NULL" : $"'{place}'")}, {(came is null ? "NULL" : $"'{came}'")}, {nights})"
            );
        const string dataset =
            "dataset: d\nsource: s\nfrom: stay\nfields:\n  place: { column: place }\n  came: { column: came, type: timestamp }\n  "
            + "nights: { column: nights, type: integer }\n";
        var workspace = Testing.Definitions.Read(
            Testing.Definitions.Files(dataset, "roles:\n  all: { reads: { d: all } }\n  few: { reads: { d: { where: \"nights < 4\" } } }\n")
        );
        var dialect = Engine.Engine.Dialect(DayOfWeek.Monday);
        var planner = new Planner(DayOfWeek.Monday, "");
        async Task<List<object?[]>> Ask(Query query) =>
            [
                .. (await Engine.Source.Ask(query, dialect, CancellationToken.None)).Table is var t
                    ? Enumerable.Range(0, t.Rows).Select(t.Row)
                    : [],
            ];
        foreach (var (role, newest) in new[] { ("all", "2025-01-05T12:00:00"), ("few", "2024-12-30T08:00:00") })
        {
            var scope = Scope.For(Testing.Definitions.Viewer(role), "d", workspace, Viewing.Whenever)!;
            var greatest = (DateTime)(await Ask(Planner.Newest(FieldAt.Parse("came.week"), scope)))[0][0]!;
            greatest.ToString("s", System.Globalization.CultureInfo.InvariantCulture).ShouldBe(newest);
            // Pairs of a place and a month, those asked for that there are: "not given" is one of them, an empty text is another.
            IReadOnlyList<object?>[] members =
            [
                ["North", new DateOnly(2024, 2, 1)],
                ["North", new DateOnly(2024, 4, 1)],
                [null, new DateOnly(2025, 1, 1)],
                ["", null],
                ["nowhere", null],
            ];
            FieldAt[] fields = [FieldAt.Parse("place"), FieldAt.Parse("came.month")];
            var among = Conditions.Of(new Selection("t", members, null), fields, scope, DayOfWeek.Monday);
            var found = (await Ask(planner.Present(fields, scope, among, members.Length)))
                .Select(r => $"{r[0] ?? "not given"} {r[1]:yyyy-MM}")
                .Order(StringComparer.Ordinal);
            found.ShouldBe(role == "all" ? [" ", "North 2024-02", "not given 2025-01"] : ["North 2024-02"]);
            // A piece of text: large or small letters A to Z, and no marks with a meaning of their own.
            async Task<int> Holding(string piece) =>
                (
                    await Ask(
                        planner.Present(
                            [fields[0]],
                            scope,
                            Conditions.Of(new Selection("t", [], null) { Contains = piece }, [fields[0]], scope, DayOfWeek.Monday),
                            10
                        )
                    )
                ).Count;
            (await Holding("NORTH")).ShouldBe(role == "all" ? 2 : 1);
            (await Holding("% _")).ShouldBe(1);
            (await Holding("_")).ShouldBe(1);
        }
    }

    [Fact]
    public async Task Ranges_of_a_number_hold_the_same_rows_everywhere()
    {
        Engine.Execute("CREATE TABLE stay (nights INTEGER, price DECIMAL(12, 2))");
        (int? Nights, decimal? Price)[] rows =
        [
            (0, 0.00m),
            (4, 2.50m),
            (5, 2.49m),
            (9, 7.5m),
            (10, 10m),
            (-3, 3.75m),
            (null, null),
            (17, 9.99m),
        ];
        foreach (var (nights, price) in rows)
            Engine.Execute(
                $"INSERT INTO stay VALUES ({nights?.ToString() ?? "NULL"}, {price?.ToString(System.Globalization.CultureInfo.InvariantCulture) ?? "NULL"})"
            );
        var workspace = Testing.Definitions.Read(
            Testing.Definitions.Files(
                "dataset: d\nsource: s\nfrom: stay\nfields:\n  nights: { column: nights, type: integer }\n  price: { column: price, type: decimal }\n",
                "roles:\n  all: { reads: { d: all } }\n",
                (
                    "dashboards/x.yaml",
                    """
                    dashboard: x
                    tabs:
                      - tab: one
                        tiles:
                          - { tile: given, picture: histogram, dataset: d, by: nights, ranges: [-5, 0, 5, 10], place: { column: 0, row: 0, width: 1, height: 1 } }
                          - { tile: wide, picture: histogram, dataset: d, by: nights, ranges: { width: 5 }, place: { column: 1, row: 0, width: 1, height: 1 } }
                          - { tile: prices, picture: histogram, dataset: d, by: price, ranges: { most: 4 }, place: { column: 2, row: 0, width: 1, height: 1 } }
                    """
                )
            )
        );
        var dialect = Engine.Engine.Dialect(DayOfWeek.Monday);
        var scope = Scope.For(Testing.Definitions.Viewer("all"), "d", workspace, Viewing.Whenever)!;
        async Task<string> Shown(string tile)
        {
            var plan = new Planner(DayOfWeek.Monday, "").Plan(
                workspace.Dashboards["x"].Tiles.First(t => t.Name == tile),
                scope,
                TileFilters.None,
                100
            );
            var table = (await plan.Run((q, c) => Engine.Source.Ask(q, dialect, c), CancellationToken.None)).Table;
            return string.Join(
                ", ",
                Enumerable
                    .Range(0, table.Rows)
                    .Select(r =>
                        $"{Convert.ToDouble(table.Values[0][r]).ToString(System.Globalization.CultureInfo.InvariantCulture)}: {table.Values[1][r]}"
                    )
            );
        }
        (await Shown("given")).ShouldBe("-5: 1, 0: 2, 5: 3", "10 closes the last range, 17 lies outside");
        (await Shown("wide")).ShouldBe("-5: 1, 0: 2, 5: 2, 10: 1, 15: 1");
        (await Shown("prices")).ShouldBe("0: 2, 2.5: 2, 5: 0, 7.5: 3");
    }

    [Fact]
    public async Task Many_members_are_picked_or_left_out_alike()
    {
        Engine.Execute("CREATE TABLE stay (place VARCHAR(40), nights INTEGER)");
        for (var i = 0; i < 150; i++)
            Engine.Execute($"INSERT INTO stay VALUES ('p{i}', {i})");
        Engine.Execute("INSERT INTO stay VALUES (NULL, NULL)");
        const string dataset =
            "dataset: d\nsource: s\nfrom: stay\nfields:\n  place: { column: place }\n  nights: { column: nights, type: integer }\n";
        var workspace = Testing.Definitions.Read(Testing.Definitions.Files(dataset, "roles:\n  all: { reads: { d: all } }\n"));
        var scope = Scope.For(Testing.Definitions.Viewer("all"), "d", workspace, Viewing.Whenever)!;
        async Task<long> Rows(string field, IEnumerable<object?> members, bool excludes)
        {
            var selection = new Selection("t", [.. members.Select(m => (IReadOnlyList<object?>)[m])], null) { Excludes = excludes };
            var where = Conditions.Of(selection, [FieldAt.Parse(field)], scope, DayOfWeek.Monday);
            return (long)
                (
                    await Engine.Source.Ask(
                        DatasetChecks.Count(scope, [where]),
                        Engine.Engine.Dialect(DayOfWeek.Monday),
                        CancellationToken.None
                    )
                )
                    .Table
                    .Values[0][0]!;
        }
        foreach (var count in new[] { 3, 100 })
        {
            (await Rows("place", Enumerable.Range(0, count).Select(i => (object?)$"p{i}"), excludes: false)).ShouldBe(count);
            (await Rows("place", Enumerable.Range(0, count).Select(i => (object?)$"p{i}"), excludes: true)).ShouldBe(
                151 - count,
                "those with a missing value too"
            );
            (await Rows("nights", Enumerable.Range(0, count).Select(i => (object?)(long)i).Append(null), excludes: false)).ShouldBe(
                count + 1
            );
            (await Rows("nights", Enumerable.Range(0, count).Select(i => (object?)(long)i).Append(null), excludes: true)).ShouldBe(
                150 - count
            );
        }
    }

    [Fact]
    public async Task A_join_that_would_multiply_rows_is_told_with_its_keys()
    {
        Engine.Execute("CREATE TABLE sale (code VARCHAR(10), amount INTEGER)");
        Engine.Execute("CREATE TABLE kind (code VARCHAR(10), label VARCHAR(10))");
        Engine.Execute("INSERT INTO kind VALUES ('a', 'A'), ('a', 'Again'), ('b', 'B'), (NULL, 'x'), (NULL, 'y')");
        Engine.Execute("INSERT INTO sale VALUES ('a', 1), ('b', 2), ('c', NULL)");
        const string dataset = """
            dataset: d
            source: s
            from: sale
            joins: [{ table: kind, on: "sale.code = kind.code" }]
            fields:
              code: { column: code, names: { a: Adult, b: Child } }
              label: { column: kind.label }
              amount: { column: amount, type: integer }
            """;
        var workspace = Testing.Definitions.Read(Testing.Definitions.Files(dataset, "roles:\n  r: { reads: { d: all } }\n"));
        var scope = Scope.For(Testing.Definitions.Viewer("r"), "d", workspace, Viewing.At(default))!;
        var dialect = Engine.Engine.Dialect(DayOfWeek.Monday);
        var report = await DatasetReport.Make(
            workspace.Datasets["d"],
            scope,
            Engine.Source,
            dialect,
            (q, c) => Engine.Source.Ask(q, dialect, c),
            CancellationToken.None
        );
        report.Joins.Single().Keys.ShouldBe(["a (2 rows)"]);
        report.Fields.Single(f => f.Field == "amount").Missing.ShouldBe(1);
        report.Fields.Single(f => f.Field == "code").Unmatched.ShouldBe(1);
        report.Fields.Single(f => f.Field == "code").Codes.ShouldBe(["c"]);
    }
}

public sealed class DuckDbConformanceTests()
    : ConformanceTests("duckdb", "SELECT count(*) FROM range(100000000) a, range(100000) b WHERE hash(a.range + b.range) = 0");

public sealed class SqliteConformanceTests()
    : ConformanceTests("sqlite", "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT count(*) FROM n WHERE i < 0");

public sealed class MariaDbConformanceTests()
    : ConformanceTests(
        "mariadb",
        "SELECT count(*) FROM seq_1_to_100000000 a, seq_1_to_100000 b WHERE a.seq + b.seq < 0",
        "SELECT count(*) FROM information_schema.processlist WHERE info LIKE '%seq_1_to_100000000 a%' AND id <> connection_id()"
    );

public sealed class PostgreSqlConformanceTests()
    : ConformanceTests(
        "postgresql",
        "SELECT count(*) FROM generate_series(1, 100000000) a, generate_series(1, 100000) b WHERE a + b < 0",
        "SELECT count(*) FROM pg_stat_activity WHERE state = 'active' AND query LIKE '%generate_series(1, 100000000) a%' AND pid <> pg_backend_pid()"
    )
{
    [Fact]
    public async Task What_the_database_is_told_of_a_viewer_is_never_seen_by_another()
    {
        // A database that has row rules of its own, which look at who asks.
        Engine.Execute("CREATE TABLE secret (owner text, n integer)");
        Engine.Execute("INSERT INTO secret SELECT 'v' || i, i FROM generate_series(0, 9) i");
        Engine.Execute("CREATE ROLE reader LOGIN; GRANT SELECT ON secret TO reader");
        Engine.Execute("ALTER TABLE secret ENABLE ROW LEVEL SECURITY");
        Engine.Execute("CREATE POLICY own ON secret USING (owner = current_setting('weir.viewer', true))");
        await using var source = Engine.Open(s =>
            s with
            {
                Server = s.Server! with { User = "reader" },
                Limits = s.Limits with { AtOnce = 3 },
            }
        );
        // Many viewers on few pooled connections, some of whom fail or give up, and some who are told of nobody.
        await Task.WhenAll(
            Enumerable
                .Range(0, 400)
                .Select(async i =>
                {
                    var viewer = i % 10;
                    switch (i % 7)
                    {
                        case 5:
                            (await Read(source, "SELECT coalesce(sum(n), -1) FROM secret"))[0][0].ShouldBe(-1L, "nobody sees nothing");
                            break;
                        case 6:
                            await Should.ThrowAsync<SourceException>(() =>
                                Read(source, "SELECT 1 / 0 FROM secret", new Dictionary<string, string> { ["viewer"] = $"v{viewer}" })
                            );
                            break;
                        default:
                            (
                                await Read(
                                    source,
                                    "SELECT coalesce(sum(n), -1) FROM secret",
                                    new Dictionary<string, string> { ["viewer"] = $"v{viewer}" }
                                )
                            )[0]
                                [0]
                                .ShouldBe((long)viewer);
                            break;
                    }
                })
        );
    }

    [Fact]
    public async Task A_login_that_may_write_is_told_and_one_that_may_not_is_not()
    {
        Engine.Execute("CREATE TABLE t (n integer); CREATE ROLE only_reads LOGIN; GRANT SELECT ON t TO only_reads");
        (await Engine.Source.MayWrite(CancellationToken.None)).ShouldBe(true);
        await using var reader = Engine.Open(s => s with { Server = s.Server! with { User = "only_reads" } });
        (await reader.MayWrite(CancellationToken.None)).ShouldBe(false);
    }

    [Theory]
    [InlineData("name")]
    [InlineData("port")]
    [InlineData("tls")]
    [InlineData("login")]
    [InlineData("rights")]
    public async Task The_test_of_a_source_tells_at_which_step_it_fails(string step)
    {
        Engine.Execute("CREATE ROLE nobody_knows LOGIN");
        Source? tested = null;
        _ = Engine.Open(s =>
            tested = step switch
            {
                "name" => s with { Server = s.Server! with { Host = "no-such-machine.invalid" } },
                "port" => s with { Server = s.Server! with { Port = 1 } },
                "tls" => s with { Server = s.Server! with { Tls = true } },
                "login" => s with { Server = s.Server! with { User = "no such login" } },
                _ => s with { Server = s.Server! with { Database = "no such database" } },
            }
        );
        var steps = await SourceTester.Test(tested!, Engine.Folders, CancellationToken.None);
        var failed = steps.ShouldHaveSingleItem(s => s.State == "failed");
        failed.Step.ShouldBe(step);
        failed.Remedy.ShouldNotBeNullOrEmpty();
    }

    [Fact]
    public async Task A_certificate_that_is_named_is_trusted_and_another_is_not()
    {
        using var server = PostgresServer.Started(tls: true);
        var source = new Source("s", "S", "postgresql", new SourceLimits(10, 10, 1, 100))
        {
            Server = new SourceServer("localhost", server.Port, "weir", "weir", null, null, true, "ca.pem") { AllowsWritingLogin = true },
        };
        File.Copy(server.Certificate, Path.Combine(Engine.Folders.Secrets, "ca.pem"));
        await using (var trusted = Engine.Engine.Open(source, Engine.Folders))
            (await Read(trusted, "SELECT CASE WHEN ssl THEN 1 ELSE 0 END FROM pg_stat_ssl WHERE pid = pg_backend_pid()"))[0]
                [0]
                .ShouldBe(1L);
        await using var untrusted = Engine.Engine.Open(source with { Server = source.Server with { Certificate = null } }, Engine.Folders);
        (await Should.ThrowAsync<SourceException>(() => Read(untrusted, "SELECT 1"))).Data["step"].ShouldBe("tls");
    }
}

internal static class ShouldlyMore
{
    public static T ShouldHaveSingleItem<T>(this IEnumerable<T> items, Func<T, bool> which)
    {
        var found = items.Where(which).ToList();
        found.Count.ShouldBe(1, string.Join("; ", items));
        return found[0];
    }
}
