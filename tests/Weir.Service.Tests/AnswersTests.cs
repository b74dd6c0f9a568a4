using System.Diagnostics.Metrics;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using Shouldly;
using Weir.Core.Access;
using Weir.Demo;
using Weir.Store;
using Weir.Testing;

namespace Weir.Service.Tests;

/// <summary>Statements are counted in the whole program, so nothing else may send any meanwhile.</summary>
[CollectionDefinition("counts statements", DisableParallelization = true)]
public sealed class CountsStatements;

/// <summary>How the service keeps answers and is kind to sources.</summary>
[Collection("counts statements")]
public sealed class AnswersTests
{
    /// <summary>Counts the statements that are sent to sources.</summary>
    private sealed class Counter : IDisposable
    {
        private readonly MeterListener _listener = new();
        private long _count;

        public Counter()
        {
            _listener.InstrumentPublished = (instrument, listener) =>
            {
                if (instrument.Name == "weir.source.statements")
                    listener.EnableMeasurementEvents(instrument);
            };
            _listener.SetMeasurementEventCallback<long>((_, n, _, _) => Interlocked.Add(ref _count, n));
            _listener.Start();
        }

        public long Take() => Interlocked.Exchange(ref _count, 0);

        public void Dispose() => _listener.Dispose();
    }

    [Fact]
    public async Task A_hundred_viewers_of_ten_rights_cost_the_source_ten_sets_of_statements()
    {
        await using var service = await RunningService.Start();
        using var counter = new Counter();
        string[] ports = ["SKE", "ULL", "QUI", "LAN", "TOL", "OST", "BRA", "PEL", "VAN", "MOR"];
        var users = service.Services.GetRequiredService<Users>();
        for (var i = 0; i < 100; i++)
            users.Put(
                new Viewer(
                    $"v{i}",
                    $"V{i}",
                    ["port-manager"],
                    new Dictionary<string, IReadOnlyList<string>> { ["ports"] = [ports[i % 10]] }
                ),
                "password-of-many",
                loopbackOnly: true
            );
        for (var i = 0; i < 100; i++)
            _ = service.As($"v{i}");
        counter.Take();
        // One first, so that it is known how many groups there are; another, to know what a set of statements is.
        await service.Results("director", "network");
        var alone = await service.Results("v0", "network");
        counter.Take();
        await service.Results("v1", "network");
        var set = counter.Take();
        set.ShouldBeGreaterThan(5);
        var all = await Task.WhenAll(Enumerable.Range(0, 100).Select(i => service.Results($"v{i}", "network")));
        counter.Take().ShouldBe(8 * set, "eight rights are new, and each is asked once");
        all[0]["all-sailings"].GetProperty("table").GetRawText().ShouldBe(alone["all-sailings"].GetProperty("table").GetRawText());
        all.Select(a => a["all-sailings"].GetProperty("table").GetProperty("values").GetRawText())
            .Distinct()
            .Count()
            .ShouldBe(10, "unequal rights never share");
        await Task.WhenAll(Enumerable.Range(0, 100).Select(i => service.Results($"v{i}", "network")));
        counter.Take().ShouldBe(0);
    }

    [Fact]
    public async Task Explaining_a_tile_asks_no_source_unless_its_rows_are_to_be_counted()
    {
        await using var service = await RunningService.Start();
        using var counter = new Counter();
        var client = service.As("developer");
        var asked = 0L;
        foreach (var dashboard in (string[])["network", "tickets"])
        {
            var page = await client.GetFromJsonAsync<JsonElement>($"api/dashboards/{dashboard}");
            foreach (
                var tile in page.GetProperty("tabs")
                    .EnumerateArray()
                    .SelectMany(t => t.GetProperty("tiles").EnumerateArray())
                    .Where(t => t.GetProperty("datasetName").GetString() is not null)
                    .Select(t => t.GetProperty("name").GetString())
            )
            {
                counter.Take();
                var plain = await Explained(new { });
                counter.Take().ShouldBe(0, $"{dashboard} {tile}");
                plain.GetProperty("rows").ValueKind.ShouldBe(JsonValueKind.Null);
                plain.GetProperty("sql").GetArrayLength().ShouldBeGreaterThan(0);
                var counted = await Explained(new { count = true });
                counted.GetProperty("rows").GetInt64().ShouldBeGreaterThan(0);
                asked += counter.Take();
                counted.GetProperty("sql").GetRawText().ShouldBe(plain.GetProperty("sql").GetRawText());

                async Task<JsonElement> Explained(object body) =>
                    await (
                        await client.PostAsJsonAsync($"api/dashboards/{dashboard}/tiles/{tile}/explanation", body)
                    ).Content.ReadFromJsonAsync<JsonElement>();
            }
        }
        asked.ShouldBeGreaterThan(0, "counting is asking");
    }

    [Fact]
    public async Task Refreshing_reads_anew_but_no_more_often_than_the_source_allows()
    {
        var clock = new ManualClock();
        await using var service = await RunningService.Start(clock: clock);
        using var counter = new Counter();
        async Task<DateTimeOffset> Asked(bool refresh)
        {
            var response = await service
                .As("director")
                .PostAsJsonAsync("api/dashboards/network/results", new { tiles = new[] { "all-sailings" }, refresh });
            return JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement.GetProperty("readAt").GetDateTimeOffset();
        }
        var first = await Asked(false);
        counter.Take();
        clock.Pass(TimeSpan.FromSeconds(5));
        (await Asked(true)).ShouldBe(first, "the source allows a refresh each ten seconds");
        counter.Take().ShouldBe(0);
        clock.Pass(TimeSpan.FromSeconds(6));
        (await Asked(true)).ShouldBeGreaterThan(first);
        counter.Take().ShouldBe(1);
        clock.Pass(TimeSpan.FromSeconds(60));
        await Asked(false);
        counter.Take().ShouldBe(0, "kept for five minutes");
        clock.Pass(TimeSpan.FromSeconds(300));
        await Asked(false);
        counter.Take().ShouldBe(1);
    }

    [Fact]
    public async Task Tiles_over_the_same_rows_share_a_scan_and_one_tab_costs_fewer_statements_than_it_has_questions()
    {
        var clock = new ManualClock();
        await using var service = await RunningService.Start(clock: clock);
        using var counter = new Counter();
        async Task<long> Statements(params string[] tiles)
        {
            clock.Pass(TimeSpan.FromSeconds(400)); // older than answers are kept
            await service.Results("director", "network", tiles: tiles);
            return counter.Take();
        }
        var apart = await Statements("passengers-by-quarter") + await Statements("all-sailings");
        (await Statements("passengers-by-quarter", "all-sailings")).ShouldBeLessThan(apart);
    }

    [Fact]
    public async Task A_files_source_brings_new_data_as_soon_as_a_file_changes_and_pages_are_told()
    {
        using var files = Repository.Temp("files");
        using var workspace = Repository.Temp("workspace");
        files.File("sales/t.csv", "port,n\nSKE,1\nULL,2\n");
        workspace.File("workspace.yaml", "workspace: w\n");
        workspace.File("sources/s.yaml", "source: s\nengine: files\nfolder: sales\nrefresh: { least_seconds: 1 }\n");
        workspace.File(
            "datasets/d.yaml",
            "dataset: d\nsource: s\nfrom: t\nfields:\n  port: { column: port }\n  n: { column: n, type: integer }\nmeasures:\n  "
                + "total: { formula: \"sum(n)\" }\n"
        );
        workspace.File(
            "dashboards/x.yaml",
            "dashboard: x\ntabs:\n  - tab: one\n    tiles:\n      - { tile: total, picture: number, dataset: d, show: total, "
                + "refresh: 1, place: { column: 0, row: 0, width: 3, height: 2 } }\n"
        );
        workspace.File(
            "access.yaml",
            "roles:\n  director: { reads: { d: all } }\n  port-desk: { reads: { d: { where: \"port in user.ports\" } } }\n  auditor: { reads: {} }\n"
        );
        await using var service = await RunningService.Start(files: files.Path, workspace: workspace.Path);
        async Task<long> Total(string account) =>
            (await service.Results(account, "x"))["total"].GetProperty("table").GetProperty("values")[0][0].GetInt64();
        (await Total("director")).ShouldBe(3);
        (await Total("skerrin-desk")).ShouldBe(1);

        using var stream = await service.As("director").GetAsync("api/events", HttpCompletionOption.ResponseHeadersRead);
        using var news = new StreamReader(await stream.Content.ReadAsStreamAsync());
        using var none = await service.As("auditor").GetAsync("api/events", HttpCompletionOption.ResponseHeadersRead);
        async Task<string> Next(string kind)
        {
            while (await news.ReadLineAsync() is { } line)
                if (line == $"event: {kind}")
                    return (await news.ReadLineAsync())!;
            throw new InvalidOperationException("The stream ended.");
        }
        await Next("published");
        // The watch must have seen the old state once before it can tell a change: it looks each second.
        var changed = Next("data");
        for (var i = 0; !changed.IsCompleted && i < 40; i++)
        {
            files.File("sales/t.csv", $"port,n\nSKE,{10 + i}\nULL,20\n");
            await Task.WhenAny(changed, Task.Delay(500));
        }
        (await changed).ShouldContain("\"d\"");
        (await Total("skerrin-desk")).ShouldBeGreaterThanOrEqualTo(10);
    }

    [Fact]
    public async Task A_kept_answer_tells_when_its_data_were_read_and_each_tile_its_own_time()
    {
        var clock = new ManualClock();
        await using var service = await RunningService.Start(clock: clock);
        async Task<DateTimeOffset> ReadAt(string tile, bool refresh = false)
        {
            var response = await service
                .As("director")
                .PostAsJsonAsync("api/dashboards/network/results", new { tiles = new[] { tile }, refresh });
            return JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement.GetProperty("readAt").GetDateTimeOffset();
        }
        var first = clock.Now;
        (await ReadAt("passengers-by-quarter")).ShouldBe(first);
        clock.Pass(TimeSpan.FromSeconds(60));
        (await ReadAt("all-sailings")).ShouldBe(clock.Now);
        (await ReadAt("passengers-by-quarter")).ShouldBe(first, "it was kept, and says so");
        (await ReadAt("passengers-by-quarter", refresh: true)).ShouldBe(clock.Now);
    }

    [Fact]
    public async Task A_source_that_takes_so_many_statements_a_minute_has_no_more_and_each_tile_says_so()
    {
        using var files = Repository.Temp("files");
        using var workspace = Repository.Temp("workspace");
        files.File("sales/t.csv", "port,n\nSKE,1\nULL,2\n");
        workspace.File("workspace.yaml", "workspace: w\n");
        workspace.File("sources/s.yaml", "source: s\ntitle: Ledger\nengine: files\nfolder: sales\nlimits: { a_minute: 2, seconds: 20 }\n");
        workspace.File(
            "datasets/d.yaml",
            "dataset: d\nsource: s\nfrom: t\nfields: { port: { column: port }, n: { column: n, type: integer } }\nmeasures:\n"
                + "  total: { formula: \"sum(n)\" }\n  most: { formula: \"max(n)\" }\n"
        );
        string Tile(string name, string show, int row) =>
            $"      - {{ tile: {name}, picture: bar, dataset: d, show: {show}, by: port, place: {{ column: 0, row: {row}, width: 3, height: 2 }} }}\n";
        workspace.File(
            "dashboards/x.yaml",
            "dashboard: x\ntabs:\n  - tab: one\n    tiles:\n" + Tile("a", "total", 0) + Tile("b", "most", 2) + Tile("c", "[total, most]", 4)
        );
        workspace.File("access.yaml", "roles:\n  director: { reads: { d: all } }\n  developer: { reads: { d: all }, may: [define] }\n");
        var clock = new ManualClock();
        await using var service = await RunningService.Start(files: files.Path, workspace: workspace.Path, clock: clock);
        async Task<JsonElement> Ask(string tile, bool refresh = false)
        {
            var answer = await service.As("director").PostAsJsonAsync("api/dashboards/x/results", new { tiles = new[] { tile }, refresh });
            return JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement;
        }
        var first = clock.Now;
        (await Ask("a")).GetProperty("state").GetString().ShouldBe("ready");
        (await Ask("b")).GetProperty("state").GetString().ShouldBe("ready");

        // What is read anew keeps its figures, and says why; what nobody has seen yet is told how long it takes.
        clock.Pass(TimeSpan.FromSeconds(30));
        var held = await Ask("a", refresh: true);
        held.GetProperty("readAt").GetDateTimeOffset().ShouldBe(first);
        held.GetProperty("note").GetString().ShouldBe("Ledger takes 2 statements a minute: newer figures come later.");
        var refused = (await Ask("c")).GetProperty("problem");
        refused.GetProperty("code").GetString().ShouldBe("source-paced");
        refused.GetProperty("remedy").GetString().ShouldBe("Try again in 30 s.");
        // Whoever defines has no statements of their own.
        foreach (var asks in new[] { "api/sources/s/tables", "api/sources/s/tables/t" })
            (await (await service.As("developer").GetAsync(asks)).Content.ReadAsStringAsync()).ShouldContain("source-paced");
        var steps = await service.As("developer").PostAsJsonAsync("api/sources/s/test", new { });
        (await steps.Content.ReadAsStringAsync()).ShouldContain("Ledger takes 2 statements a minute");

        // What can wait so long waits.
        clock.Pass(TimeSpan.FromSeconds(29.9));
        var waiting = Ask("c");
        clock.Pass(TimeSpan.FromSeconds(0.1));
        (await waiting).GetProperty("state").GetString().ShouldBe("ready");
        var anew = await Ask("a", refresh: true);
        anew.GetProperty("readAt").GetDateTimeOffset().ShouldBe(clock.Now);
        anew.GetProperty("note").ValueKind.ShouldBe(JsonValueKind.Null);

        // Whoever opens the page just after its figures have become too old has them, and is told; but not those of the day before.
        var read = clock.Now;
        clock.Pass(TimeSpan.FromDays(1));
        (await Ask("b")).GetProperty("readAt").GetDateTimeOffset().ShouldBe(clock.Now);
        (await Ask("c")).GetProperty("readAt").GetDateTimeOffset().ShouldBe(clock.Now);
        held = await Ask("a");
        held.GetProperty("readAt").GetDateTimeOffset().ShouldBe(read);
        held.GetProperty("note").GetString().ShouldBe("Ledger takes 2 statements a minute: newer figures come later.");
        clock.Pass(TimeSpan.FromDays(1));
        (await Ask("b")).GetProperty("state").GetString().ShouldBe("ready");
        (await Ask("c")).GetProperty("state").GetString().ShouldBe("ready");
        (await Ask("a")).GetProperty("problem").GetProperty("code").GetString().ShouldBe("source-paced");
    }

    [Fact]
    public async Task Beyond_the_queue_of_a_source_the_service_answers_503_with_the_time_to_wait()
    {
        using var files = Repository.Temp("files");
        using var workspace = Repository.Temp("workspace");
        using (var connection = new DuckDB.NET.Data.DuckDBConnection($"Data Source={files.Path}/s.duckdb"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = "CREATE TABLE t AS SELECT range AS i FROM range(1000000)";
            command.ExecuteNonQuery();
        }
        workspace.File("workspace.yaml", "workspace: w\n");
        workspace.File("sources/s.yaml", "source: s\nengine: duckdb\nfile: s.duckdb\nlimits: { at_once: 1, waiting: 1, seconds: 60 }\n");
        workspace.File(
            "datasets/d.yaml",
            "dataset: d\nsource: s\nquery: SELECT a.i AS n FROM t a, t b WHERE a.i + b.i > :param.p\nparameters: { p: { type: "
                + "integer, opening: 0 } }\nfields:\n  n: { column: n, type: integer }\nmeasures:\n  total: { formula: \"count(*)\" }\n"
        );
        workspace.File(
            "dashboards/x.yaml",
            "dashboard: x\ntabs:\n  - tab: one\n    tiles:\n      - { tile: total, picture: number, dataset: d, show: total, place: "
                + "{ column: 0, row: 0, width: 3, height: 2 } }\n"
        );
        workspace.File(
            "datasets/e.yaml",
            "dataset: e\nsource: s\nfrom: t\nfields:\n  i: { column: i, type: integer }\nmeasures:\n  total: { formula: \"count(*)\" }\n"
        );
        workspace.File(
            "dashboards/kept.yaml",
            "dashboard: kept\ntabs:\n  - tab: one\n    tiles:\n      - { tile: total, picture: number, dataset: e, show: total, "
                + "place: { column: 0, row: 0, width: 3, height: 2 } }\n"
        );
        workspace.File("access.yaml", "roles:\n  director: { reads: { d: all, e: all } }\n");
        await using var service = await RunningService.Start(files: files.Path, workspace: workspace.Path);
        var kept = (await service.Results("director", "kept"))["total"].GetProperty("table").GetRawText();
        using var stop = new CancellationTokenSource();
        // A million million rows: the first runs, the second waits, and no other has a place.
        Task<HttpResponseMessage> Send(int p) =>
            service
                .As("director")
                .PostAsJsonAsync(
                    "api/dashboards/x/results",
                    new { viewing = new { parameters = new { p = new[] { $"{p}" } } } },
                    stop.Token
                );
        var sent = Enumerable.Range(1, 6).Select(Send).ToList();
        HttpResponseMessage? refused = null;
        while (refused is null)
        {
            var answered = await Task.WhenAny(sent);
            sent.Remove(answered);
            if ((await answered).StatusCode == HttpStatusCode.ServiceUnavailable)
                refused = await answered;
            else
                sent.Add(Send(100 + sent.Count)); // refused in the stream, since it came between the look and the queue
        }
        refused.Headers.RetryAfter!.Delta.ShouldBe(TimeSpan.FromSeconds(5));
        JsonDocument.Parse(await refused.Content.ReadAsStringAsync()).RootElement.GetProperty("code").GetString().ShouldBe("source-busy");
        // What is at hand is answered all the same.
        kept.ShouldBe((await service.Results("director", "kept"))["total"].GetProperty("table").GetRawText());
        await stop.CancelAsync();
    }

    /// <summary>Filters that leave one value of a group and no row: the engine's own optimizer failed on it.</summary>
    [Fact]
    public async Task A_group_of_one_value_and_without_rows_is_answered()
    {
        await using var service = await RunningService.Start();
        const string Picked = """
            {"tiles": ["course"], "viewing": {"parameters": {"parts": ["home_port"], "drawn": ["bar"]}}, "selections": {
              "year": {"members": [["2023-01-01"]], "exclude": true}, "ports": {"members": [["SKE"], ["QUI"], ["ULL"]]}, "routes": {"members": [["Quillay–Brannoway"]]},
              "pairs": {"members": [["SKE", 15], ["ULL", 20], ["QUI", 19]]}, "vessels": {"members": [[6], [5]]}}}
            """;
        var response = await service
            .As("north-ports")
            .PostAsync("api/dashboards/punctuality/results", new StringContent(Picked, System.Text.Encoding.UTF8, "application/json"));
        JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement.GetProperty("state").GetString().ShouldBe("ready");
    }

    [Fact]
    public async Task Parameters_change_figures_and_what_cannot_be_meant_is_refused()
    {
        await using var service = await RunningService.Start();
        async Task<(HttpStatusCode Status, JsonElement Body)> Late(object viewing)
        {
            var response = await service
                .As("director")
                .PostAsJsonAsync("api/dashboards/network/results", new { tiles = new[] { "vessels" }, viewing });
            return (response.StatusCode, JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement);
        }
        double Share(JsonElement result) => result.GetProperty("totals").EnumerateArray().ToList()[3].GetDouble();
        var ten = Share((await Late(new { })).Body);
        var thirty = Share((await Late(new { parameters = new { late_after = new[] { "30" } } })).Body);
        thirty.ShouldBeLessThan(ten / 2);
        foreach (
            var (viewing, code) in ((object, string)[])
                [
                    (new { parameters = new { late_after = new[] { "61" } } }, "wrong-value"),
                    (new { parameters = new { late_after = new[] { "x'; DROP TABLE sailing; --" } } }, "wrong-value"),
                    (new { parameters = new { late_after = Array.Empty<string>() } }, "value-needed"),
                    (new { parameters = new { late_after = new[] { "1", "2" } } }, "too-many-values"),
                    (new { parameters = new { no_such = new[] { "1" } } }, "unknown-parameter"),
                    (new { zone = "Nowhere/Else" }, "unknown-zone"),
                ]
        )
        {
            // What is no parameter, and no zone, is refused whole; a bad value fails the tile that it is for.
            var (status, body) = await Late(viewing);
            status.ShouldBe(code.StartsWith("unknown-", StringComparison.Ordinal) ? HttpStatusCode.UnprocessableEntity : HttpStatusCode.OK);
            (status == HttpStatusCode.OK ? body.GetProperty("problem") : body).GetProperty("code").GetString().ShouldBe(code);
        }
    }

    [Fact]
    public async Task A_period_is_worked_out_at_the_time_of_viewing_in_the_viewers_zone()
    {
        // Half past midnight in UTC on New Year's Day; in the Azores it is still the old year.
        var clock = new ManualClock { Now = new DateTimeOffset(2025, 1, 1, 0, 30, 0, TimeSpan.Zero) };
        await using var service = await RunningService.Start(clock: clock);
        async Task<long> Sold(string period, string? zone = null)
        {
            var response = await service
                .As("director")
                .PostAsJsonAsync(
                    "api/dashboards/tickets/results",
                    new { tiles = new[] { "routes" }, viewing = new { parameters = new { sold_in = new[] { period } }, zone } }
                );
            var result = JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement;
            return
                result.GetProperty("totals").ValueKind == JsonValueKind.Array
                && result.GetProperty("totals")[0].ValueKind == JsonValueKind.Number
                ? result.GetProperty("totals")[0].GetInt64()
                : 0;
        }
        using var connection = new DuckDB.NET.Data.DuckDBConnection(
            $"Data Source={Path.Combine(Repository.DemoFiles(), "lantern-isles.duckdb")};access_mode=READ_ONLY"
        );
        connection.Open();
        long By(string where)
        {
            using var command = connection.CreateCommand();
            command.CommandText = $"SELECT sum(tickets) FROM ticket_sale WHERE {where}";
            return (long)(System.Numerics.BigInteger)command.ExecuteScalar()!;
        }
        (await Sold("this year to date")).ShouldBe(By("sold_on = DATE '2025-01-01'"));
        (await Sold("this year to date", "Atlantic/Azores")).ShouldBe(By("sold_on >= DATE '2024-01-01' AND sold_on <= DATE '2024-12-31'"));
        (await Sold("previous month")).ShouldBe(By("sold_on >= DATE '2024-12-01' AND sold_on < DATE '2025-01-01'"));
        (await Sold("2024-02-28 to 2024-03-01")).ShouldBe(By("sold_on >= DATE '2024-02-28' AND sold_on < DATE '2024-03-02'"));
        (await Sold("all time")).ShouldBe(By("true"));
    }
}

/// <summary>A clock that stands until it is moved.</summary>
public sealed class ManualClock : TimeProvider
{
    public DateTimeOffset Now { get; set; } = DateTimeOffset.UtcNow;

    public void Pass(TimeSpan time) => Now += time;

    public override DateTimeOffset GetUtcNow() => Now;

    public override long TimestampFrequency => TimeSpan.TicksPerSecond;

    public override long GetTimestamp() => Now.UtcTicks;
}
