using System.Net;
using System.Net.Http.Json;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;
using MimeKit;
using Shouldly;
using Weir.Core.Access;
using Weir.Demo;
using Weir.Service.Publishing;
using Weir.Service.Schedules;
using Weir.Store;
using Weir.Testing;

namespace Weir.Service.Tests;

/// <summary>Reports that go out by themselves: to whom, with whose rows, when, under which condition, and what becomes of them.</summary>
public sealed partial class SchedulesTests : IAsyncLifetime
{
    private readonly TempFolder _folder = Repository.Temp();
    private readonly ManualClock _clock = new() { Now = new DateTimeOffset(2026, 11, 27, 8, 0, 0, TimeSpan.Zero) };
    private MailStandIn _mail = null!;

    public async ValueTask InitializeAsync() => _mail = await MailStandIn.Start();

    public async ValueTask DisposeAsync()
    {
        await _mail.DisposeAsync();
        _folder.Dispose();
    }

    private const string Sales =
        "report: sales\ntitle: What was sold\ndashboard: tickets\ntiles: [sold, takings]\nform: json\nowner: developer\n";

    /// <summary>The demo with one report of its own, and nothing that goes out by itself but that.</summary>
    private string Workspace(string report = Sales + "to: { people: [director] }\n", Func<string, string, string>? change = null)
    {
        var workspace = Path.Combine(_folder.Path, "workspace");
        Repository.CopyDemo(workspace, (path, text) => Repository.Patient(change?.Invoke(path, text) ?? text));
        Directory.Delete(Path.Combine(workspace, "reports"), recursive: true);
        Directory.CreateDirectory(Path.Combine(workspace, "reports"));
        File.WriteAllText(Path.Combine(workspace, "reports", "sales.yaml"), report);
        return workspace;
    }

    private Task<RunningService> Start(string workspace, Func<ServiceOptions, ServiceOptions>? change = null) =>
        RunningService.Start(
            workspace: workspace,
            clock: _clock,
            change: o =>
            {
                var options = o with { Mail = new MailServer("127.0.0.1", _mail.Port, false, null, null, "weir@lantern-isles.example") };
                return change?.Invoke(options) ?? options;
            }
        );

    /// <summary>Waits, as long as it takes, until something is so.</summary>
    private static async Task<T> Until<T>(Func<Task<T>> look, Func<T, bool> isSo)
    {
        while (true)
        {
            var seen = await look();
            if (isSo(seen))
                return seen;
            await Task.Yield();
            using var pause = new PeriodicTimer(TimeSpan.FromMilliseconds(50));
            await pause.WaitForNextTickAsync(TestContext.Current.CancellationToken);
        }
    }

    private static async Task<List<JsonElement>> Runs(RunningService service) =>
        [.. (await service.As("developer").GetFromJsonAsync<JsonElement>("api/runs")).EnumerateArray()];

    /// <summary>The newest run, once it has ended.</summary>
    private static async Task<JsonElement> Ended(RunningService service, int runs = 1)
    {
        var all = await Until(
            () => Runs(service),
            r => r.Count == runs && r.All(x => x.GetProperty("ended").ValueKind != JsonValueKind.Null)
        );
        return all[0];
    }

    private static Dictionary<string, string> States(JsonElement run) =>
        run.GetProperty("deliveries")
            .EnumerateArray()
            .Where(d => !d.GetProperty("reader").GetString()!.StartsWith("owner:", StringComparison.Ordinal))
            .ToDictionary(d => d.GetProperty("reader").GetString()!, d => d.GetProperty("state").GetString()!);

    private static JsonElement? Of(JsonElement run, string reader) =>
        run.GetProperty("deliveries")
            .EnumerateArray()
            .Where(d => d.GetProperty("reader").GetString() == reader)
            .Select(d => (JsonElement?)d)
            .FirstOrDefault();

    private static string State(JsonElement run) => run.GetProperty("state").GetString()!;

    private static async Task Send(RunningService service) =>
        (await service.As("developer").PostAsJsonAsync("api/reports/sales/send", new { })).StatusCode.ShouldBe(HttpStatusCode.OK);

    private List<CameIn> To(string account) => [.. _mail.Messages.Where(m => m.To.Contains($"{account}@lantern-isles.example"))];

    private static JsonElement FileOf(CameIn mail)
    {
        using var memory = new MemoryStream();
        mail.Message.Attachments.OfType<MimePart>().Single().Content!.DecodeTo(memory);
        return JsonDocument.Parse(memory.ToArray()).RootElement;
    }

    private static string Figures(JsonElement file, string tile) =>
        file.GetProperty("tiles")
            .EnumerateArray()
            .Single(t => t.GetProperty("name").GetString() == tile)
            .GetProperty("result")
            .GetProperty("table")
            .GetRawText();

    [Fact]
    public async Task Everybody_gets_their_own_rows_and_who_may_not_take_along_gets_nothing()
    {
        var workspace = Workspace(
            Sales + "to: { people: [director, skerrin-desk, nobody-here], roles: [port-manager, auditor], outside: [harbour, ledger] }\n",
            (path, text) =>
                path == "access.yaml"
                    ? text.Replace(
                        "    folder: ledger",
                        "    folder: ledger\n  harbour:\n    title: Harbour office\n    as: { roles: [port-manager], attributes: { ports: [SKE] } }\n    mail: office@harbour.example"
                    )
                    : text
        );
        var reports = Path.Combine(_folder.Path, "put");
        await using var service = await Start(workspace, o => o with { ReportsFolder = reports });
        await Send(service);
        var run = await Ended(service);
        State(run).ShouldBe("sent", run.GetRawText());
        States(run)
            .ShouldBe(
                new Dictionary<string, string>
                {
                    ["person:director"] = "sent",
                    ["person:north-ports"] = "sent",
                    ["outside:harbour"] = "sent",
                    ["outside:ledger"] = "sent",
                    ["person:skerrin-desk"] = "refused",
                    ["person:auditor"] = "refused",
                    ["person:nobody-here"] = "refused",
                },
                ignoreOrder: true
            );
        _mail
            .Messages.SelectMany(m => m.To)
            .Order()
            .ShouldBe(["director@lantern-isles.example", "north-ports@lantern-isles.example", "office@harbour.example"]);
        foreach (
            var (account, title) in new[] { ("director", "Of all rows, as "), ("north-ports", "Of the rows that North ports may see") }
        )
        {
            var mail = To(account).Single();
            var file = FileOf(mail);
            var own = await service.Results(account, "tickets");
            Figures(file, "sold").ShouldBe(own["sold"].GetProperty("table").GetRawText());
            Figures(file, "takings").ShouldBe(own["takings"].GetProperty("table").GetRawText());
            foreach (var text in new[] { mail.Message.TextBody!, WebUtility.HtmlDecode(mail.Message.HtmlBody!) })
            {
                text.ShouldContain("What was sold");
                text.ShouldContain(title);
                text.ShouldContain($"{service.Url.TrimEnd('/')}/d/tickets");
                text.ShouldContain("version 1 of the definitions");
            }
        }
        // Whoever is outside sees what their role sees with its attributes.
        var harbour = FileOf(_mail.Messages.Single(m => m.To.Contains("office@harbour.example")));
        harbour.GetProperty("about").GetProperty("rows").GetString().ShouldBe("Of the rows that Harbour office may see");
        Figures(harbour, "sold").ShouldNotBe(Figures(FileOf(To("north-ports").Single()), "sold"));
        var put = Directory.GetFiles(reports, "*", SearchOption.AllDirectories).ShouldHaveSingleItem();
        Path.GetFileName(Path.GetDirectoryName(put)).ShouldBe("ledger");
        Figures(JsonDocument.Parse(await File.ReadAllTextAsync(put)).RootElement, "sold")
            .ShouldBe(Figures(FileOf(To("director").Single()), "sold"));
        // Each finds their own again, and nobody another's.
        async Task<HttpResponseMessage> Own(string account) =>
            await service.As(account).GetAsync($"api/deliveries/{run.GetProperty("id").GetString()}/file");
        Figures((await (await Own("north-ports")).Content.ReadFromJsonAsync<JsonElement>()), "sold")
            .ShouldBe(Figures(FileOf(To("north-ports").Single()), "sold"));
        foreach (var account in new[] { "developer", "auditor", "skerrin-desk" })
            (await Own(account)).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task Readers_of_equal_rights_cost_the_sources_once()
    {
        var data = Path.Combine(_folder.Path, "data");
        DemoAccounts.Ensure(new Users(StoreDatabase.Open(data)));
        await using var service = await Start(Workspace(Sales + "to: { roles: [port-manager] }\n"), o => o with { DataFolder = data });
        string[] ports = ["SKE", "ULL", "QUI", "LAN", "FEN", "TOL", "MOR", "DUN", "PEL", "VAN", "BRA", "OST"];
        // One whose rows nobody else has: what is kept of them answers nobody else.
        await Send(service);
        var one = (await Ended(service)).GetProperty("statements").GetInt64();
        one.ShouldBeGreaterThan(0);
        async Task Accounts(int from, int to, string like)
        {
            await using var store = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={Path.Combine(data, "weir.sqlite")}");
            await store.OpenAsync(TestContext.Current.CancellationToken);
            await using var transaction = store.BeginTransaction();
            // By hand, for a hash of a password takes its time, as it should.
            for (var n = from; n < to; n++)
            {
                using var command = store.CreateCommand();
                command.CommandText =
                    "INSERT INTO users (name, title, password_hash, roles, attributes, loopback_only) "
                    + "SELECT 'reader-' || $n, 'Reader ' || $n, password_hash, roles, $attributes, 0 FROM users WHERE name = $like";
                command.Parameters.AddWithValue("$n", n);
                command.Parameters.AddWithValue("$like", like);
                command.Parameters.AddWithValue(
                    "$attributes",
                    $$"""{"email":["reader-{{n}}@lantern-isles.example"],"ports":["{{ports[n % ports.Length]}}"]}"""
                );
                command.Transaction = transaction;
                await command.ExecuteNonQueryAsync(TestContext.Current.CancellationToken);
            }
            await transaction.CommitAsync(TestContext.Current.CancellationToken);
        }
        await Accounts(0, 200, "north-ports");
        service.Services.GetRequiredService<Users>().Remove("north-ports");
        await Send(service);
        var run = await Ended(service, runs: 2);
        States(run).Values.Count(s => s == "sent").ShouldBe(200);
        run.GetProperty("statements").GetInt64().ShouldBe(12 * one);
        // They see the same, and do not learn of one another.
        var mails = _mail
            .Messages.Where(m => m.To.Any(t => t is "reader-3@lantern-isles.example" or "reader-15@lantern-isles.example"))
            .TakeLast(2)
            .ToList();
        FileOf(mails[0]).GetRawText().ShouldBe(FileOf(mails[1]).GetRawText());
        FileOf(mails[0])
            .GetProperty("about")
            .GetProperty("rows")
            .GetString()
            .ShouldBe("Of the rows that Manager of some ports (ports LAN) may see");
        // More readers than anybody writes to are told at once, and get nothing.
        await Accounts(200, 1_001, "reader-0");
        var workspace = service.Services.GetRequiredService<PublishedWorkspace>().Now.Workspace;
        var readers = service.Services.GetRequiredService<Receivers>().Of(workspace.Reports["sales"], workspace);
        readers.Count.ShouldBe(1_001);
        readers.Where(r => r.Problem is not null).ShouldHaveSingleItem().Problem!.ShouldContain("1,000 readers at most");
    }

    [Fact]
    public async Task A_report_for_each_member_asks_for_nothing_but_what_stands_in_it()
    {
        var workspace = Workspace();
        await File.WriteAllTextAsync(
            Path.Combine(workspace, "reports", "each.yaml"),
            Sales.Replace("report: sales", "report: each") + "each: sold-by-terminal\nto: { people: [director] }\n",
            TestContext.Current.CancellationToken
        );
        await using var service = await Start(workspace);
        (await service.As("developer").PostAsJsonAsync("api/reports/each/send", new { })).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await Ended(service)).GetProperty("statements").GetInt64().ShouldBeGreaterThan(0);
        var mail = To("director").ShouldHaveSingleItem();
        mail.Message.TextBody!.ShouldNotContain("picked on Tickets sold");
        // Its figures without any terminal were not asked for: they are now.
        await Send(service);
        (await Ended(service, runs: 2)).GetProperty("statements").GetInt64().ShouldBeGreaterThan(0);
        await Send(service);
        (await Ended(service, runs: 3)).GetProperty("statements").GetInt64().ShouldBe(0, "they are kept");
    }

    [Fact]
    public async Task A_condition_is_worked_out_with_the_rows_of_each_reader_and_not_met_is_not_unknown()
    {
        const string Late =
            "report: sales\ndashboard: network\ntiles: [vessels]\nform: json\nowner: developer\nto: { people: [director, north-ports] }\n";
        // The director sees more sailings than a single role of ports.
        await using var service = await Start(
            Workspace(Late + "only_if: { tile: vessels, holds: 'sailings > 9000', not_again_within: 30 minutes }\n")
        );
        var most = (await service.Results("director", "network", tiles: ["vessels"]))["vessels"].GetProperty("table").GetRawText();
        most.ShouldNotBeEmpty();
        await Send(service);
        var run = await Ended(service);
        States(run)
            .ShouldBe(
                new Dictionary<string, string> { ["person:director"] = "sent", ["person:north-ports"] = "not-met" },
                ignoreOrder: true
            );
        var mail = To("director").ShouldHaveSingleItem();
        mail.Message.TextBody!.ShouldMatch(@"Sailings \d+,\d{3}");
        // Not again so soon; later again.
        _clock.Pass(TimeSpan.FromMinutes(20));
        await Send(service);
        States(await Ended(service, 2))["person:director"].ShouldBe("paused");
        _clock.Pass(TimeSpan.FromMinutes(20));
        await Send(service);
        States(await Ended(service, 3))["person:director"].ShouldBe("sent");
        To("developer").ShouldBeEmpty("nothing went wrong");
    }

    [Fact]
    public void A_condition_over_a_figure_that_is_not_there_is_unknown_and_an_empty_tile_meets_only_what_looks_for_it()
    {
        Core.Definitions.OnlyIf Condition(string text, bool whenEmpty = false)
        {
            var definitions = Repository.DemoDefinitions();
            definitions["reports/r.yaml"] =
                $"report: r\ndashboard: network\nto: {{ people: director }}\nonly_if: {{ tile: vessels, holds: \"{text}\", empty: {(whenEmpty ? "met" : "not-met")} }}";
            return Core.WorkspaceText.Read(definitions).Workspace!.Reports["r"].OnlyIf!;
        }
        Core.Results.Column Figure(string name) =>
            new(name, name, Core.Results.ColumnRole.Figure, Core.Expressions.ValueKind.Decimal, null, null);
        Core.Results.Table Table(params (string Member, double? Late, double? Sailings)[] rows) =>
            Core.Results.Table.FromRows(
                [
                    new("vessel", "Vessel", Core.Results.ColumnRole.Group, Core.Expressions.ValueKind.Text, null, null),
                    Figure("late_share"),
                    Figure("sailings"),
                ],
                [.. rows.Select(r => new object?[] { r.Member, r.Late, r.Sailings })]
            );
        bool? Of(string condition, Core.Results.Table table, bool whenEmpty = false) =>
            Verdict.Of(Condition(condition, whenEmpty), table, "Vessels", DayOfWeek.Monday).IsMet;
        const string Both = "late_share > 0.2 and sailings > 50";
        Of(Both, Table(("Swift", 0.1, 60), ("Gull", 0.3, 60))).ShouldBe(true);
        Of(Both, Table(("Swift", 0.1, 60), ("Gull", 0.3, 10))).ShouldBe(false);
        Of(Both, Table(("Swift", null, 60))).ShouldBeNull();
        Of(Both, Table(("Swift", null, 10))).ShouldBe(false, "whatever it was, the other does not hold");
        Of(Both, Table(("Swift", null, 60), ("Gull", 0.3, 60))).ShouldBe(true, "one for which it holds is enough");
        Of(Both, Table()).ShouldBe(false);
        Of(Both, Table(), whenEmpty: true).ShouldBe(true);
        Verdict
            .Of(Condition(Both), Table(("Gull", 0.3, 60)), "Vessels", DayOfWeek.Monday)
            .Found.ShouldBe(["Gull: late_share 0.30, sailings 60.00"]);
    }

    [Fact]
    public async Task What_is_due_goes_out_once_and_what_was_missed_is_made_up_for_once_or_skipped()
    {
        foreach (var (missed, expected) in new[] { ("once", new[] { "missed", "schedule" }), ("skip", ["schedule"]) })
        {
            _clock.Now = new DateTimeOffset(2026, 11, 27, 8, 0, 0, TimeSpan.Zero);
            var data = Path.Combine(_folder.Path, $"data-{missed}");
            var workspace = Workspace(
                Sales + $"schedule: {{ when: every day at 08:30, missed: {missed} }}\nto: {{ people: [director] }}\n"
            );
            async Task<RunningService> Begin()
            {
                DemoAccounts.Ensure(new Users(StoreDatabase.Open(data)));
                return await Start(workspace, o => o with { DataFolder = data });
            }
            await using (var service = await Begin())
            {
                // From here on it is watched: what would have been due before is nobody's.
                await Watched(service);
                _clock.Now = new DateTimeOffset(2026, 11, 27, 8, 29, 59, TimeSpan.Zero);
                var info = await service.As("developer").GetFromJsonAsync<JsonElement>("api/reports/sales/schedule");
                info.GetProperty("times")
                    .GetProperty("next")
                    .EnumerateArray()
                    .First()
                    .GetDateTimeOffset()
                    .ShouldBe(new DateTimeOffset(2026, 11, 27, 8, 30, 0, TimeSpan.Zero));
                (await Runs(service)).ShouldBeEmpty();
                _clock.Now = new DateTimeOffset(2026, 11, 27, 8, 30, 1, TimeSpan.Zero);
                var run = await Ended(service);
                run.GetProperty("why").GetString().ShouldBe("schedule");
                run.GetProperty("due").GetDateTimeOffset().ShouldBe(new DateTimeOffset(2026, 11, 27, 8, 30, 0, TimeSpan.Zero));
                State(run).ShouldBe("sent", run.GetRawText());
            }
            // Three days go by while it is down.
            _clock.Now = new DateTimeOffset(2026, 11, 30, 12, 0, 0, TimeSpan.Zero);
            await using (var service = await Begin())
            {
                await Ended(service, expected.Length);
                if (missed == "once")
                    await Until(() => Task.FromResult(To("developer")), m => m.Count > 0);
                (await Runs(service)).Select(r => r.GetProperty("why").GetString()).ShouldBe(expected);
            }
            To("director").Count.ShouldBe(expected.Length, missed);
            To("developer").Count.ShouldBe(missed == "once" ? 1 : 0, "that it came late is told");
            await _mail.DisposeAsync();
            _mail = await MailStandIn.Start();
        }

        async Task Watched(RunningService service)
        {
            var marks = service.Services.GetRequiredService<Runs>();
            await Until(() => Task.FromResult(marks.IsWatched("sales")), seen => seen);
        }
    }

    [Fact]
    public async Task What_does_not_go_out_is_tried_again_later_each_time_and_its_owner_is_told_when_it_is_given_up()
    {
        await using var service = await Start(Workspace(Sales + "to: { people: [director, north-ports] }\n"));
        var tried = 0;
        _mail.Answers = came =>
        {
            if (came.To[0].StartsWith("north-ports", StringComparison.Ordinal))
                return Task.FromResult(550);
            return Task.FromResult(
                came.To[0].StartsWith("director", StringComparison.Ordinal) && Interlocked.Increment(ref tried) <= 2 ? 451 : 250
            );
        };
        await Send(service);
        for (var attempt = 1; attempt <= 2; attempt++)
        {
            var now = attempt;
            await Until(
                () => Runs(service),
                r =>
                    r.Count == 1
                    && Of(r[0], "person:director") is var d
                    && d?.GetProperty("attempts").GetInt64() == now
                    && d?.GetProperty("state").GetString() == "ready"
            );
            _clock.Pass(RunMaker.PauseAfter(attempt) + TimeSpan.FromSeconds(1));
        }
        var run = await Ended(service);
        State(run).ShouldBe("failed");
        States(run)["person:director"].ShouldBe("sent");
        States(run)["person:north-ports"].ShouldBe("failed");
        To("director").ShouldHaveSingleItem();
        var notice = (await Until(() => Task.FromResult(To("developer")), m => m.Count > 0)).ShouldHaveSingleItem();
        notice.Message.Subject.ShouldBe("What was sold could not be sent");
        notice.Message.TextBody!.ShouldContain("North ports: The mail server refuses it: 550.");
        // By hand it can be sent again, to them only.
        _mail.Answers = null;
        var again = await service
            .As("developer")
            .PostAsJsonAsync($"api/runs/{run.GetProperty("id").GetString()}/again", new { reader = "person:north-ports" });
        again.StatusCode.ShouldBe(HttpStatusCode.OK);
        await Until(() => Runs(service), r => State(r[0]) == "sent");
        To("north-ports").ShouldHaveSingleItem();
        To("director").ShouldHaveSingleItem();
        (
            await service
                .As("developer")
                .PostAsJsonAsync($"api/runs/{run.GetProperty("id").GetString()}/again", new { reader = "person:director" })
        ).StatusCode.ShouldBe(HttpStatusCode.Conflict);
    }

    [Fact]
    public async Task A_report_whose_figures_can_not_be_read_is_not_sent_without_them()
    {
        var files = new TempFolder(Path.Combine(_folder.Path, "files"));
        File.Copy(Path.Combine(Repository.DemoFiles(), "lantern-isles.duckdb"), files.File("lantern-isles.duckdb"));
        await using var service = await RunningService.Start(
            files.Path,
            Workspace(),
            clock: _clock,
            change: o => o with { Mail = new MailServer("127.0.0.1", _mail.Port, false, null, null, "weir@lantern-isles.example") }
        );
        File.Move(Path.Combine(files.Path, "lantern-isles.duckdb"), Path.Combine(files.Path, "away.duckdb"));
        await Send(service);
        var waiting = await Until(() => Runs(service), r => r[0].GetProperty("attempts").GetInt64() == 1 && State(r[0]) == "planned");
        waiting[0].GetProperty("reason").GetString().ShouldNotBeNullOrEmpty();
        _mail.Messages.ShouldBeEmpty();
        File.Move(Path.Combine(files.Path, "away.duckdb"), Path.Combine(files.Path, "lantern-isles.duckdb"));
        _clock.Pass(TimeSpan.FromHours(1));
        State(await Ended(service)).ShouldBe("sent");
        To("director").ShouldHaveSingleItem();
    }

    [Fact]
    public async Task The_files_of_a_run_take_no_more_of_the_disk_than_they_may()
    {
        var data = Path.Combine(_folder.Path, "data");
        var store = StoreDatabase.Open(data);
        DemoAccounts.Ensure(new Users(store));
        // Asked for before the service began, and made in part.
        var run = new Runs(store, _clock).Plan("sales", "developer").ShouldNotBeNull();
        await using (var connection = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={Path.Combine(data, "weir.sqlite")}"))
        {
            await connection.OpenAsync(TestContext.Current.CancellationToken);
            using var command = connection.CreateCommand();
            command.CommandText =
                "INSERT INTO run_files (id, run, name, media_type, content, message) VALUES ('others', $run, 'others', 'text/csv', zeroblob($size), '')";
            command.Parameters.AddWithValue("$run", run);
            command.Parameters.AddWithValue("$size", 300 * 1024 * 1024 - 100);
            await command.ExecuteNonQueryAsync(TestContext.Current.CancellationToken);
        }
        await using var service = await Start(Workspace(), o => o with { DataFolder = data });
        var ended = await Ended(service);
        State(ended).ShouldBe("failed");
        Of(ended, "person:director")!
            .Value.GetProperty("reason")
            .GetString()
            .ShouldBe("The files of a run have 300 MB at most, and others have so many already.");
        To("director").ShouldBeEmpty();
    }

    [Fact]
    public async Task What_each_check_found_is_kept_as_a_table_that_is_drawn_like_any_other()
    {
        var files = new TempFolder(Path.Combine(_folder.Path, "files"));
        File.Copy(Path.Combine(Repository.DemoFiles(), "lantern-isles.duckdb"), files.File("lantern-isles.duckdb"));
        var workspace = Workspace(
            "report: sales\ndashboard: network\ntiles: [vessels]\nform: json\nto: { people: [director], outside: [checks] }\n"
                + "only_if: { tile: vessels, holds: 'sailings > 9000000', not_again_within: 1 day }\n",
            (path, text) =>
                path == "access.yaml"
                    ? text + "  checks:\n    as: { roles: [port-manager], attributes: { ports: [SKE] } }\n    table: looked\n"
                    : text
        );
        await using var service = await RunningService.Start(
            files.Path,
            workspace,
            clock: _clock,
            change: o => o with { KeepsTables = true }
        );
        for (var n = 1; n <= 2; n++)
        {
            await Send(service);
            States(await Ended(service, n))
                .ShouldBe(
                    new Dictionary<string, string> { ["person:director"] = "not-met", ["outside:checks"] = "sent" },
                    ignoreOrder: true
                );
            _clock.Pass(TimeSpan.FromMinutes(10));
        }
        var lines = (await File.ReadAllTextAsync(Path.Combine(files.Path, "kept", "looked.csv"))).Split(
            '\n',
            StringSplitOptions.RemoveEmptyEntries
        );
        lines[0].Trim().ShouldBe("at,run,met,vessel,vessel_class,sailings,mean_delay,median_delay,late_share,cancellations");
        var table = (await service.Results("north-ports", "network", tiles: ["vessels"]))["vessels"].GetProperty("lines").GetInt64();
        lines.Length.ShouldBe(1 + (2 * (int)table), "each vessel once for each look");
        lines.Skip(1).ShouldAllBe(l => l.StartsWith("2026-11-27 08:", StringComparison.Ordinal) && l.Contains(",false,"));
        // It is a table like any other.
        var folder = new DirectoryInfo(workspace);
        File.WriteAllText(Path.Combine(folder.FullName, "sources", "looks.yaml"), "source: looks\nengine: files\nfolder: kept\n");
        File.WriteAllText(
            Path.Combine(folder.FullName, "datasets", "looks.yaml"),
            "dataset: looks\nsource: looks\nfrom: looked\nfields:\n  vessel: { column: looked.vessel, type: integer }\nmeasures:\n  looked_at: { formula: \"count(*)\" }\n"
        );
        File.WriteAllText(
            Path.Combine(folder.FullName, "dashboards", "looks.yaml"),
            "dashboard: looks\ntabs:\n  - tab: one\n    tiles:\n      - { tile: looks, picture: bar, dataset: looks, show: looked_at, by: vessel, place: { column: 0, row: 0, width: 6, height: 4 } }\n"
        );
        var access = Path.Combine(folder.FullName, "access.yaml");
        File.WriteAllText(
            access,
            File.ReadAllText(access)
                .Replace(
                    "costs: all }\n    dashboards: { all: [see, arrange",
                    "costs: all, looks: all }\n    dashboards: { all: [see, arrange"
                )
        );
        await using var again = await RunningService.Start(files.Path, workspace, clock: _clock);
        var drawn = (await again.Results("director", "looks"))["looks"];
        drawn.GetProperty("lines").GetInt64().ShouldBe(table);
    }

    [Fact]
    public void A_table_that_has_the_lines_of_a_run_does_not_get_them_again_and_one_of_other_columns_is_refused()
    {
        const string First = "at,run,met,late\r\n2026,one,true,1\r\n";
        const string Second = "at,run,met,late\r\n2027,two,,2\r\n";
        KeptTable.Grown("t", null, First, "one").ShouldBe(First);
        KeptTable.Grown("t", First, First, "one").ShouldBe(First);
        KeptTable.Grown("t", First, Second, "two").ShouldBe(First + "2027,two,,2\r\n");
        Should.Throw<NoWayException>(() => KeptTable.Grown("t", First, Second.Replace("late", "early"), "two")).MayPass.ShouldBeFalse();
    }

    [Fact]
    public async Task A_call_is_signed_keeps_its_id_and_goes_only_where_the_service_may_call()
    {
        var calls = new List<(IHeaderDictionary Headers, string Body)>();
        var builder = WebApplication.CreateSlimBuilder();
        builder.WebHost.UseUrls("http://127.0.0.1:0");
        await using var board = builder.Build();
        board.MapPost(
            "/news",
            async (HttpContext context) =>
            {
                using var reader = new StreamReader(context.Request.Body);
                var body = await reader.ReadToEndAsync();
                lock (calls)
                {
                    calls.Add((new HeaderDictionary(context.Request.Headers.ToDictionary()), body));
                    context.Response.StatusCode = calls.Count == 1 ? 503 : 204;
                }
            }
        );
        await board.StartAsync();
        var url = new Uri(board.Urls.First());
        var workspace = Workspace(
            Sales + "to: { outside: [board, elsewhere] }\n",
            (path, text) =>
                path == "access.yaml"
                    ? text
                        + $"  board:\n    as: {{ roles: [director] }}\n    call: {url}news\n  elsewhere:\n    as: {{ roles: [director] }}\n    call: https://elsewhere.example/news\n"
                    : text
        );
        const string Key = "a-key-that-only-two-know";
        await using var service = await RunningService.Start(
            workspace: workspace,
            clock: _clock,
            secrets: new() { ["calls/board"] = Key, ["calls/elsewhere"] = Key },
            change: o => o with { Calls = [$"127.0.0.1:{url.Port}"] }
        );
        await Send(service);
        while ((await Runs(service))[0] is var run && run.GetProperty("ended").ValueKind == JsonValueKind.Null)
        {
            _clock.Pass(TimeSpan.FromMinutes(20));
            using var pause = new PeriodicTimer(TimeSpan.FromMilliseconds(100));
            await pause.WaitForNextTickAsync(TestContext.Current.CancellationToken);
        }
        States(await Ended(service))
            .ShouldBe(new Dictionary<string, string> { ["outside:board"] = "sent", ["outside:elsewhere"] = "failed" }, ignoreOrder: true);
        calls.Count.ShouldBe(2);
        calls[0].Headers["webhook-id"].ShouldBe(calls[1].Headers["webhook-id"]);
        foreach (var (headers, body) in calls)
        {
            var signed = Encoding.UTF8.GetBytes($"{headers["webhook-id"]}.{headers["webhook-timestamp"]}.{body}");
            headers["webhook-signature"]
                .ToString()
                .ShouldBe($"v1,{Convert.ToBase64String(HMACSHA256.HashData(Encoding.UTF8.GetBytes(Key), signed))}");
            body.ShouldNotContain(Key);
            JsonDocument.Parse(body).RootElement.GetProperty("about").GetProperty("title").GetString().ShouldBe("What was sold");
        }
    }

    [Fact]
    public async Task Viewers_have_a_dashboard_sent_to_themselves_in_their_state_and_end_it_from_the_mail()
    {
        await using var service = await Start(Workspace());
        Task<HttpResponseMessage> Subscribe(string account, object request, string dashboard = "tickets") =>
            service.As(account).PostAsJsonAsync($"api/dashboards/{dashboard}/subscriptions", request);
        object Wanted(string when = "Mondays at 08:00") =>
            new
            {
                when,
                state = new
                {
                    form = "json",
                    tabs = new[] { "sales" },
                    selections = new { channel = new { members = new[] { new[] { "web" } } } },
                    link = "/d/tickets?x=1",
                },
            };
        async Task<string?> Refused(Task<HttpResponseMessage> asked) =>
            JsonDocument.Parse(await (await asked).Content.ReadAsStringAsync()).RootElement.GetProperty("code").GetString();
        (await Refused(Subscribe("north-ports", Wanted("whenever")))).ShouldBe("bad-schedule");
        (await Refused(Subscribe("north-ports", Wanted("every 5 minutes")))).ShouldBe("too-often");
        (await Refused(Subscribe("auditor", Wanted()))).ShouldBe("not-allowed");
        (await Refused(Subscribe("north-ports", Wanted(), "purse"))).ShouldBe("unknown-dashboard");
        (
            await Refused(Subscribe("north-ports", new { when = "Mondays at 8", state = new { form = "json", tabs = new[] { "none" } } }))
        ).ShouldBe("unknown-tab");
        (await Subscribe("north-ports", Wanted())).StatusCode.ShouldBe(HttpStatusCode.OK);
        var mine = (await service.As("north-ports").GetFromJsonAsync<JsonElement>("api/subscriptions"))
            .EnumerateArray()
            .ShouldHaveSingleItem();
        mine.GetProperty("times").GetProperty("words").GetString().ShouldBe("every Monday at 08:00");
        (await service.As("director").GetFromJsonAsync<JsonElement>("api/subscriptions")).GetArrayLength().ShouldBe(0);
        (await service.As("director").DeleteAsync($"api/subscriptions/{mine.GetProperty("id").GetString()}")).StatusCode.ShouldBe(
            HttpStatusCode.NotFound
        );
        var runs = service.Services.GetRequiredService<Runs>();
        await Until(() => Task.FromResult(runs.IsWatched($"subscription:{mine.GetProperty("id").GetString()}")), seen => seen);
        _clock.Now = new DateTimeOffset(2026, 11, 30, 8, 0, 1, TimeSpan.Zero);
        var mail = (await Until(() => Task.FromResult(To("north-ports")), m => m.Count > 0)).ShouldHaveSingleItem();
        var own = await service.Results("north-ports", "tickets", new { channel = new { members = new[] { new[] { "web" } } } });
        Figures(FileOf(mail), "sold").ShouldBe(own["sold"].GetProperty("table").GetRawText());
        mail.Message.TextBody!.ShouldContain($"{service.Url.TrimEnd('/')}/d/tickets?x=1");
        (await Runs(service)).ShouldBeEmpty("what viewers have sent to themselves is their own");
        (await service.As("north-ports").GetFromJsonAsync<JsonElement>("api/deliveries")).GetArrayLength().ShouldBe(1);
        // As programs that read mail do it: without a sign-in, by the header. Looking at the link ends nothing.
        var end = InBrackets().Match(mail.Message.Headers[HeaderId.ListUnsubscribe]!).Groups[1].Value;
        using var nobody = new HttpClient();
        (await nobody.GetStringAsync(end)).ShouldContain("<button");
        (await nobody.PostAsync(end[..^1] + (end[^1] == '0' ? '1' : '0'), null)).EnsureSuccessStatusCode();
        (await service.As("north-ports").GetFromJsonAsync<JsonElement>("api/subscriptions")).GetArrayLength().ShouldBe(1);
        (
            await nobody.PostAsync(end, new FormUrlEncodedContent([KeyValuePair.Create("List-Unsubscribe", "One-Click")]))
        ).EnsureSuccessStatusCode();
        (await service.As("north-ports").GetFromJsonAsync<JsonElement>("api/subscriptions")).GetArrayLength().ShouldBe(0);
        // An account that is gone gets nothing more.
        (await Subscribe("north-ports", Wanted())).StatusCode.ShouldBe(HttpStatusCode.OK);
        service.Services.GetRequiredService<Users>().Remove("north-ports");
        service.Services.GetRequiredService<Subscriptions>().All().ShouldBeEmpty();
    }

    [Fact]
    public async Task Only_who_publishes_sees_and_sends_what_goes_to_others()
    {
        await using var service = await Start(Workspace());
        foreach (var (account, status) in new[] { ("director", HttpStatusCode.Forbidden), ("auditor", HttpStatusCode.NotFound) })
        {
            (await service.As(account).GetAsync("api/reports/sales/schedule")).StatusCode.ShouldBe(status);
            (await service.As(account).PostAsJsonAsync("api/reports/sales/send", new { })).StatusCode.ShouldBe(status);
            (await service.As(account).GetAsync("api/runs")).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
            (await service.As(account).PostAsJsonAsync("api/runs/x/again", new { reader = "person:director" })).StatusCode.ShouldBe(
                HttpStatusCode.Forbidden
            );
        }
        (await service.As("developer").PostAsJsonAsync("api/reports/none/send", new { })).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await service.As("developer").GetAsync("api/runs?count=0")).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        _mail.Messages.ShouldBeEmpty();
    }

    [GeneratedRegex("^<(.*)>$")]
    private static partial Regex InBrackets();
}
