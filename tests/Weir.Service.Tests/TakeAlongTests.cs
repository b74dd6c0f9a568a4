using System.Collections.Concurrent;
using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using System.Xml.Linq;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;
using DocumentFormat.OpenXml.Validation;
using Microsoft.Extensions.DependencyInjection;
using Shouldly;
using Weir.Core;
using Weir.Service.Exports;
using Weir.Store;
using Weir.Testing;

namespace Weir.Service.Tests;

/// <summary>What viewers take along as files: their own figures in every form, and what each file says of itself.</summary>
public sealed class TakeAlongTests : IDisposable
{
    private readonly TempFolder _folder = Repository.Temp();

    public void Dispose() => _folder.Dispose();

    /// <summary>With what draws files, as the console's build has it.</summary>
    private static Task<RunningService> Start(string? workspace = null, string? files = null, TimeProvider? clock = null) =>
        RunningService.Start(
            files,
            workspace,
            clock: clock,
            change: o => o with { ConsoleFolder = Path.Combine(Repository.Root, "console", "dist") }
        );

    private static Task<HttpResponseMessage> Take(RunningService service, string account, string dashboard, object request) =>
        service.As(account).PostAsJsonAsync($"api/dashboards/{dashboard}/exports", request);

    private static async Task<byte[]> File(RunningService service, string account, string dashboard, object request, string mediaType)
    {
        var response = await Take(service, account, dashboard, request);
        if (!response.IsSuccessStatusCode)
            throw new InvalidOperationException(await response.Content.ReadAsStringAsync());
        response.Content.Headers.ContentType!.MediaType.ShouldBe(mediaType);
        response.Content.Headers.ContentDisposition!.FileName.ShouldNotBeNull().Trim('"').ShouldStartWith(dashboard);
        return await response.Content.ReadAsByteArrayAsync();
    }

    private static async Task<(HttpStatusCode Status, string? Code)> Refused(Task<HttpResponseMessage> asked)
    {
        var response = await asked;
        var problem = JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement;
        return (response.StatusCode, problem.GetProperty("code").GetString());
    }

    [Fact]
    public async Task A_file_has_the_figures_of_whoever_takes_it_and_says_state_rows_version_and_address()
    {
        await using var service = await Start();
        var selections = new { channel = new { members = new[] { new[] { "web" } } } };
        var sold = new Dictionary<string, string>();
        foreach (var (account, title) in new[] { ("director", "Director"), ("north-ports", "North ports") })
        {
            var link = "/d/tickets?x=1";
            var file = await File(
                service,
                account,
                "tickets",
                new
                {
                    form = "json",
                    tabs = new[] { "sales" },
                    selections,
                    link,
                },
                "application/json"
            );
            var taken = JsonDocument.Parse(file).RootElement;
            var about = taken.GetProperty("about");
            about.GetProperty("title").GetString().ShouldBe("Ticket sales");
            about.GetProperty("tabs").EnumerateArray().Select(t => t.GetString()).ShouldBe(["Sales"]);
            about.GetProperty("state").EnumerateArray().Select(s => s.GetString()).ShouldContain("Channel: web (picked on Channel)");
            about
                .GetProperty("rows")
                .GetString()
                .ShouldBe(account == "director" ? $"Of all rows, as {title} sees them" : $"Of the rows that {title} may see");
            about.GetProperty("version").GetInt64().ShouldBe(1);
            about.GetProperty("address").GetString().ShouldBe(service.Url.TrimEnd('/') + link);
            about.GetProperty("readAt").GetDateTimeOffset().ShouldBeLessThanOrEqualTo(about.GetProperty("madeAt").GetDateTimeOffset());
            var results = await service.Results(account, "tickets", selections);
            var tiles = taken.GetProperty("tiles").EnumerateArray().ToDictionary(t => t.GetProperty("name").GetString()!);
            tiles
                .Keys.ToList()
                .ShouldBe(["sold", "takings", "sailed", "sold-by-terminal", "routes", "sold-by-week"], "a control has no figures");
            foreach (var (name, tile) in tiles)
                tile.GetProperty("result")
                    .GetProperty("table")
                    .GetRawText()
                    .ShouldBe(results[name].GetProperty("table").GetRawText(), name);
            sold[account] = tiles["routes"].GetProperty("result").GetProperty("totals").GetRawText();
        }
        sold["director"].ShouldNotBe(sold["north-ports"]);
        // Without a page before it, the address is that of one in the same state.
        var anew = new
        {
            form = "json",
            selections,
            tiles = new[] { "takings-by-year" },
            viewing = new { parameters = new { sold_in = new[] { "last 24 months" } } },
        };
        var alone = JsonDocument.Parse(await File(service, "director", "tickets", anew, "application/json")).RootElement;
        alone.GetProperty("about").GetProperty("address").GetString()!.ShouldContain("tab=course");
        await LeadsToTheSame(service, "director", alone, "tickets", ["takings-by-year"]);
        var audit = service.Services.GetRequiredService<Audit>().Newest(50);
        audit.ShouldContain(a =>
            a.Act == "export" && a.Who == "north-ports" && a.What.StartsWith("tickets json", StringComparison.Ordinal)
        );
    }

    [Fact]
    public async Task Who_may_not_take_along_gets_nothing_in_any_form_and_what_is_not_granted_is_not_there()
    {
        await using var service = await Start();
        foreach (var form in new[] { "csv", "xlsx", "json", "parquet", "html", "pdf", "png", "svg", "pptx" })
        foreach (var account in new[] { "auditor", "skerrin-desk" })
            (await Refused(Take(service, account, "network", new { form }))).ShouldBe((HttpStatusCode.Forbidden, "not-allowed"), form);
        async Task<string> Text(string dashboard) =>
            (await (await Take(service, "north-ports", dashboard, new { form = "json" })).Content.ReadAsStringAsync()).Replace(
                dashboard,
                "?"
            );
        (await Text("purse")).ShouldBe(await Text("nowhere"));
        (HttpStatusCode, string?) Bad(string code) => (HttpStatusCode.UnprocessableEntity, code);
        foreach (
            var (request, expected) in new (object, (HttpStatusCode, string?))[]
            {
                (new { form = "doc" }, Bad("unknown-form")),
                (new { form = "png", width = 90_000 }, Bad("bad-size")),
                (new { form = "pdf", paper = "napkin" }, Bad("unknown-paper")),
                (new { form = "json", link = "https://elsewhere.example/d/tickets" }, Bad("bad-link")),
                (new { form = "json", link = "/d/tickets\n" }, Bad("bad-link")),
                (new { form = "svg" }, Bad("one-tile")),
                (new { form = "svg", tiles = new[] { "routes" } }, Bad("no-svg")),
                (new { form = "json", tiles = new[] { "none" } }, (HttpStatusCode.NotFound, "unknown-tile")),
                (new { form = "json", tabs = new[] { "none" } }, (HttpStatusCode.NotFound, "unknown-tab")),
                (new { form = "json", tiles = Array.Empty<string>() }, Bad("nothing-to-export")),
                (new { form = "csv", selections = new { channel = 7 } }, Bad("bad-selection")),
            }
        )
            (await Refused(Take(service, "director", "tickets", request))).ShouldBe(expected, JsonSerializer.Serialize(request));
    }

    [Fact]
    public async Task A_report_is_made_in_its_own_state_under_the_rights_of_whoever_has_it_made_for_each_member_that_they_see()
    {
        await using var service = await Start();
        async Task<List<string?>> Names(string account) =>
            [
                .. (await service.As(account).GetFromJsonAsync<JsonElement>("api/reports"))
                    .EnumerateArray()
                    .Select(r => r.GetProperty("name").GetString()),
            ];
        (await Names("director")).ShouldBe(["late-routes", "terminals", "morning-watch"]);
        (await Names("auditor")).ShouldBeEmpty("who may not take along has no reports");
        Task<HttpResponseMessage> Run(string account, string report, object? run = null) =>
            service.As(account).PostAsJsonAsync($"api/reports/{report}/run", run ?? new { });
        (await Refused(Run("auditor", "morning-watch"))).ShouldBe((HttpStatusCode.NotFound, "unknown-report"));
        (await Refused(Run("director", "none"))).ShouldBe((HttpStatusCode.NotFound, "unknown-report"));
        (await Refused(Run("director", "morning-watch", new { form = "doc" }))).ShouldBe(
            (HttpStatusCode.UnprocessableEntity, "unknown-form")
        );
        (await Refused(Run("director", "morning-watch", new { parameters = new { nothing = new[] { "x" } } }))).Status.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );

        // Whatever the viewer keeps for themselves, the report is as everybody finds it.
        (
            await service.As("director").PostAsJsonAsync("api/dashboards/bridge/view/edits", new { edit = "hide", tile = "sailings" })
        ).IsSuccessStatusCode.ShouldBeTrue();
        var watch = JsonDocument
            .Parse(await (await Run("director", "morning-watch", new { form = "json" })).Content.ReadAsStringAsync())
            .RootElement;
        var about = watch.GetProperty("about");
        about.GetProperty("title").GetString().ShouldBe("The morning watch");
        about.GetProperty("before").GetString()!.ShouldStartWith("Good morning.");
        about
            .GetProperty("state")
            .EnumerateArray()
            .Select(s => s.GetString())
            .ShouldContain("Sea area: Lantern Sound (picked on Sea area)");
        watch.GetProperty("tiles").EnumerateArray().Select(t => t.GetProperty("name").GetString()).ShouldContain("sailings");
        await LeadsToTheSame(service, "director", watch, "bridge", ["by-area", "late", "by-month"]);
        var pdf = await Run("north-ports", "morning-watch");
        pdf.Content.Headers.ContentType!.MediaType.ShouldBe("application/pdf");

        foreach (var (account, terminals) in new[] { ("director", 12), ("north-ports", 3) })
        {
            using var archive = new ZipArchive(await (await Run(account, "terminals")).Content.ReadAsStreamAsync());
            archive.Entries.Count.ShouldBe(terminals, account);
            var skerrin = archive.Entries.Single(e => e.Name == "Skerrin.xlsx");
            using var copy = new MemoryStream();
            await using (var stream = skerrin.Open())
                await stream.CopyToAsync(copy, TestContext.Current.CancellationToken);
            using var book = SpreadsheetDocument.Open(copy, false);
            RowsOf(book, 0).SelectMany(r => r).ShouldContain("t:Terminal: Skerrin (picked on Tickets sold by terminal, split by kind)");
            var sold = RowsOf(book, 1).Last()[^1];
            var expected = await service.Results(
                account,
                "tickets",
                new Dictionary<string, object> { ["sold-by-terminal"] = new { members = new[] { new[] { "Skerrin" } } } },
                ["sold"]
            );
            sold.ShouldBe($"n:{expected["sold"].GetProperty("table").GetProperty("values").EnumerateArray().Last()[0]}");
        }
    }

    /// <summary>Whoever opens the address that a file names sees on the page what the file has.</summary>
    private static async Task LeadsToTheSame(RunningService service, string account, JsonElement file, string dashboard, string[] tiles)
    {
        var address = new Uri(file.GetProperty("about").GetProperty("address").GetString()!);
        address.AbsolutePath.ShouldBe($"/d/{dashboard}");
        var query = System.Web.HttpUtility.ParseQueryString(address.Query);
        JsonElement? Said(string part) => query[part] is { } text ? JsonDocument.Parse(text).RootElement : null;
        var results = await service.Results(account, dashboard, Said("pick"), tiles, new { parameters = Said("set") });
        foreach (var tile in tiles)
            file.GetProperty("tiles")
                .EnumerateArray()
                .First(t => t.GetProperty("name").GetString() == tile)
                .GetProperty("result")
                .GetProperty("table")
                .GetRawText()
                .ShouldBe(results[tile].GetProperty("table").GetRawText(), tile);
    }

    [Fact]
    public async Task What_is_made_for_each_member_comes_as_one_file_with_a_part_for_each_where_the_report_says_so()
    {
        Repository.CopyDemo(
            _folder.Path,
            (path, text) =>
                path == "reports/terminals.yaml"
                    ? text.Replace("form: xlsx", "form: json\ntogether: true\ndetail: long", StringComparison.Ordinal)
                    : text
        );
        await using var service = await Start(_folder.Path);
        async Task<byte[]> Run(string account, object? run = null)
        {
            var answer = await service.As(account).PostAsJsonAsync("api/reports/terminals/run", run ?? new { });
            answer.StatusCode.ShouldBe(HttpStatusCode.OK, await answer.Content.ReadAsStringAsync());
            return await answer.Content.ReadAsByteArrayAsync();
        }
        foreach (var (account, terminals) in new[] { ("director", 12), ("north-ports", 3) })
        {
            var file = JsonDocument.Parse(await Run(account)).RootElement;
            var tiles = file.GetProperty("tiles").EnumerateArray().ToList();
            var parts = tiles.Select(t => t.GetProperty("part").GetString()!).Distinct().ToList();
            (parts.Count, tiles.Count).ShouldBe((terminals, 4 * terminals), account);
            // What differs from part to part is told with each, and what is common once.
            file.GetProperty("about")
                .GetProperty("state")
                .EnumerateArray()
                .Select(s => s.GetString()!)
                .ShouldAllBe(s => !s.StartsWith("Terminal"));
            file.GetProperty("meanings").EnumerateArray().Select(m => m.GetProperty("title").GetString()).ShouldContain("Tickets sold");
            foreach (var terminal in parts.Take(2))
            {
                var expected = await service.Results(
                    account,
                    "tickets",
                    new Dictionary<string, object> { ["sold-by-terminal"] = new { members = new[] { new[] { terminal } } } },
                    ["sold"]
                );
                tiles
                    .Single(t => t.GetProperty("part").GetString() == terminal && t.GetProperty("name").GetString() == "sold")
                    .GetProperty("result")
                    .GetProperty("table")
                    .GetProperty("values")
                    .GetRawText()
                    .ShouldBe(expected["sold"].GetProperty("table").GetProperty("values").GetRawText());
            }
        }
        using (var book = SpreadsheetDocument.Open(new MemoryStream(await Run("north-ports", new { form = "xlsx" })), false))
        {
            new OpenXmlValidator().Validate(book).Select(e => e.Description).ShouldBeEmpty();
            var names = book.WorkbookPart!.Workbook!.Sheets!.Elements<Sheet>().Select(s => s.Name!.Value!).ToList();
            names.Count.ShouldBe(1 + 4 * 3 + 1);
            names.ShouldContain("Skerrin  Tickets sold");
            names[^1].ShouldBe("Measures");
        }
        var pdf = Encoding.Latin1.GetString(await Run("north-ports", new { form = "pdf", detail = "usual" }));
        // Each part begins on a page of its own.
        System.Text.RegularExpressions.Regex.Count(pdf, @"/Type /Page\b").ShouldBeGreaterThanOrEqualTo(3);
        using (var slides = PresentationDocument.Open(new MemoryStream(await Run("north-ports", new { form = "pptx" })), false))
            slides.PresentationPart!.SlideParts.Count().ShouldBe(1 + 4 * 3);
        // Of what has one table each has a file.
        using var archive = new ZipArchive(new MemoryStream(await Run("north-ports", new { form = "csv" })));
        archive.Entries.Count.ShouldBe(3);
    }

    [Fact]
    public async Task How_much_a_file_has_is_chosen_and_levels_of_a_cross_table_are_groups_of_a_sheet()
    {
        await using var service = await Start();
        async Task<List<JsonElement>> Tiles(string? detail, string tab) =>
            [
                .. JsonDocument
                    .Parse(
                        await File(
                            service,
                            "director",
                            "atlas",
                            new
                            {
                                form = "json",
                                tabs = new[] { tab },
                                detail,
                            },
                            "application/json"
                        )
                    )
                    .RootElement.GetProperty("tiles")
                    .EnumerateArray(),
            ];
        static int LinesOf(JsonElement tile) => tile.GetProperty("result").GetProperty("table").GetProperty("values")[0].GetArrayLength();
        var (usual, brief) = (await Tiles(null, "tables"), await Tiles("short", "tables"));
        brief.Count.ShouldBe(usual.Count);
        foreach (var (whole, cut) in usual.Zip(brief))
            LinesOf(cut).ShouldBe(whole.GetProperty("picture").GetString() == "table" ? Math.Min(10, LinesOf(whole)) : LinesOf(whole));
        usual.Any(t => t.GetProperty("picture").GetString() == "table" && LinesOf(t) > 10).ShouldBeTrue();
        (await Refused(Take(service, "director", "atlas", new { form = "json", detail = "vast" }))).ShouldBe(
            (HttpStatusCode.UnprocessableEntity, "unknown-detail")
        );

        var file = await File(
            service,
            "director",
            "atlas",
            new
            {
                form = "xlsx",
                tabs = new[] { "tables" },
                detail = "long",
            },
            "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
        );
        using var book = SpreadsheetDocument.Open(new MemoryStream(file), false);
        new OpenXmlValidator().Validate(book).Select(e => e.Description).ShouldBeEmpty();
        var part = book.WorkbookPart!;
        var sheets = part.Workbook!.Sheets!.Elements<Sheet>().ToList();
        var rows = (
            (WorksheetPart)
                part.GetPartById(sheets.Single(s => s.Name!.Value!.StartsWith("Sailings and late ones", StringComparison.Ordinal)).Id!)
        )
            .Worksheet!.Descendants<Row>()
            .SkipWhile(r => r.Elements<Cell>().FirstOrDefault()?.InnerText != "Sea area")
            .Skip(1)
            .ToList();
        // Each sea area is the sum of the routes in it, in each quarter; and all of them are the total.
        double[] Sailings(Row row) =>
            [
                .. row.Elements<Cell>()
                    .Skip(2)
                    .Where((_, i) => i % 2 == 0)
                    .Select(c => c.CellValue is { } v ? double.Parse(v.Text, System.Globalization.CultureInfo.InvariantCulture) : 0),
            ];
        static double[] Sum(IEnumerable<double[]> of) => [.. of.Aggregate((a, b) => [.. a.Zip(b, (x, y) => x + y)])];
        var areas = rows.SkipLast(1).Where(r => r.OutlineLevel is null).ToList();
        areas.Count.ShouldBeGreaterThan(2);
        foreach (var area in areas)
            Sum(rows.SkipWhile(r => r != area).Skip(1).TakeWhile(r => r.OutlineLevel?.Value == 1).Select(Sailings))
                .ShouldBe(Sailings(area));
        Sum(areas.Select(Sailings)).ShouldBe(Sailings(rows[^1]));
        Sailings(rows[^1])[..^1].Sum().ShouldBe(Sailings(rows[^1])[^1]);
        sheets[^1].Name!.Value.ShouldBe("Measures");
    }

    [Fact]
    public async Task Whoever_waits_for_a_file_is_told_how_far_it_is_and_nobody_else_is()
    {
        await using var service = await Start();
        var line = service.Services.GetRequiredService<Exports.FileLine>();
        Task<HttpResponseMessage> Ask(string account) => service.As(account).GetAsync("api/files/mine");
        async Task<string?> Words()
        {
            var answer = await Ask("director");
            return answer.IsSuccessStatusCode
                ? (await answer.Content.ReadFromJsonAsync<JsonElement>(TestContext.Current.CancellationToken))
                    .GetProperty("words")
                    .GetString()
                : null;
        }
        var others = new List<IDisposable>();
        for (var i = 0; i < 4; i++)
            others.Add(await line.Enter(null, CancellationToken.None));
        var file = service.As("director").PostAsJsonAsync("api/reports/terminals/run?progress=mine", new { });
        while (await Words() != "It waits for 4 other files.")
            file.IsCompleted.ShouldBeFalse();
        (await Ask("north-ports")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await Refused(service.As("director").PostAsJsonAsync("api/reports/terminals/run?progress=mine", new { }))).ShouldBe(
            (HttpStatusCode.UnprocessableEntity, "bad-progress")
        );
        others.ForEach(o => o.Dispose());
        var said = new HashSet<string>();
        while (!file.IsCompleted)
            if (await Words() is { } words)
                said.Add(words);
        (await file).StatusCode.ShouldBe(HttpStatusCode.OK);
        said.ShouldContain(w =>
            w.StartsWith("Part ", StringComparison.Ordinal) && w.EndsWith("of 4 tiles have their figures.", StringComparison.Ordinal)
        );
        (await Ask("director")).StatusCode.ShouldBe(HttpStatusCode.NotFound);

        // Who waits no more leaves the line, and others come on.
        others = [await line.Enter(null, CancellationToken.None)];
        for (var i = 0; i < 3; i++)
            others.Add(await line.Enter(null, CancellationToken.None));
        using (var stop = new CancellationTokenSource())
        {
            var (given, next) = (line.Enter(null, stop.Token), line.Enter(null, CancellationToken.None));
            await stop.CancelAsync();
            await Should.ThrowAsync<OperationCanceledException>(given);
            next.IsCompleted.ShouldBeFalse();
            others[0].Dispose();
            (await next).Dispose();
        }
        others.ForEach(o => o.Dispose());
        (await line.Enter(null, CancellationToken.None)).Dispose();
    }

    [Fact]
    public void What_a_report_names_is_checked_where_it_stands()
    {
        var files = Repository.DemoDefinitions();
        files["reports/odd.yaml"] = """
            report: odd
            dashboard: ticket
            """;
        Fault("reports/odd.yaml", 2).ShouldBe("unknown-dashboard");
        files["reports/odd.yaml"] = """
            report: odd
            dashboard: punctuality
            tiles: [late, none]
            select:
              late: [x]
              vessels: { from: 1 }
              span: { period: last 3 fortnights }
            set: { sold_on: x }
            form: doc
            each: span
            detail: vast
            """;
        WorkspaceText
            .Read(files)
            .Faults.Where(f => f.File == "reports/odd.yaml")
            .Select(f => (f.Line, f.Code))
            .ShouldBe(
                [
                    (3, "unknown-tile"),
                    (5, "not-pickable"),
                    (6, "cannot-pick"),
                    (7, "wrong-value"),
                    (8, "unknown-parameter"),
                    (9, "unknown-value"),
                    (10, "bad-each"),
                    (11, "unknown-value"),
                ],
                ignoreOrder: true
            );
        files["reports/odd.yaml"] = "report: odd\ndashboard: tickets\ntogether: true\n";
        Fault("reports/odd.yaml", 3).ShouldBe("no-each");
        files["reports/odd.yaml"] = "report: odd\ndashboard: tickets\neach: sold-by-terminal\nform: csv\ntogether: true\n";
        Fault("reports/odd.yaml", 5).ShouldBe("not-together");

        string? Fault(string file, int line) =>
            WorkspaceText.Read(files).Faults.FirstOrDefault(f => f.File == file && f.Line == line)?.Code;
    }

    [Fact]
    public async Task A_workbook_has_numbers_and_dates_to_calculate_with_and_delimited_text_has_no_formulas()
    {
        Odd();
        await using var service = await Start(Path.Combine(_folder.Path, "workspace"), Path.Combine(_folder.Path, "files"));
        var book = await File(
            service,
            "director",
            "d",
            new { form = "xlsx" },
            "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
        );
        using (var document = SpreadsheetDocument.Open(new MemoryStream(book), false))
        {
            new OpenXmlValidator().Validate(document).Select(e => e.Description).ShouldBeEmpty();
            var part = document.WorkbookPart!;
            part.Workbook!.Sheets!.Elements<Sheet>()
                .Select(s => s.Name!.Value)
                .ShouldBe(["About", "Crates by owner  2025", "Crates by owner  2025 2", "=By day"]);
            var rows = RowsOf(document, 1).ToList();
            rows.ShouldContain(r => r.SequenceEqual(new[] { "t:Owner", "t:Crates, kg" }));
            rows.ShouldContain(r => r.SequenceEqual(new[] { "t:=1+1", "n:2" }));
            rows.ShouldContain(r => r.SequenceEqual(new[] { "t:Maple", "n:3" }));
            // 45,658 days after the epoch of workbooks: 1 Jan 2025.
            RowsOf(document, 3).ShouldContain(r => r.SequenceEqual(new[] { "n:45658", "n:2" }));
        }
        var one = Encoding.UTF8.GetString(
            await File(service, "director", "d", new { form = "csv", tiles = new[] { "owners" } }, "text/csv")
        );
        one.ShouldBe("Owner,Crates\r\nMaple,3\r\n'=1+1,2\r\n\"x, \"\"y\"\"\",1\r\n");
        var columns = await File(
            service,
            "director",
            "d",
            new { form = "parquet", tiles = new[] { "days" } },
            "application/vnd.apache.parquet"
        );
        await System.IO.File.WriteAllBytesAsync(_folder.File("days.parquet"), columns, TestContext.Current.CancellationToken);
        using (var reading = new DuckDB.NET.Data.DuckDBConnection("Data Source=:memory:"))
        {
            reading.Open();
            using var command = reading.CreateCommand();
            command.CommandText =
                $"SELECT string_agg(came::VARCHAR || ' ' || crates, ', ' ORDER BY came), any_value(typeof(came)), any_value(typeof(crates)) "
                + $"FROM '{_folder.File("days.parquet")}'";
            using var row = command.ExecuteReader();
            row.Read();
            row.GetString(0).ShouldBe("2025-01-01 2, 2025-01-02 1, 2025-01-03 1, 2025-01-04 1, 2025-02-01 1");
            (row.GetString(1), row.GetString(2)).ShouldBe(("DATE", "BIGINT"));
        }
        using var archive = new ZipArchive(new MemoryStream(await File(service, "director", "d", new { form = "csv" }, "application/zip")));
        archive.Entries.Select(e => e.Name).ShouldBe(["about.txt", "owners.csv", "again.csv", "days.csv"]);
        using var about = new StreamReader(archive.Entries[0].Open());
        (await about.ReadToEndAsync()).ShouldContain("Of all rows, as Director sees them");
    }

    /// <summary>The cells of a sheet: texts with t:, numbers with n:.</summary>
    private static IEnumerable<string[]> RowsOf(SpreadsheetDocument document, int sheet)
    {
        var part = document.WorkbookPart!;
        var id = part.Workbook!.Sheets!.Elements<Sheet>().ElementAt(sheet).Id!.Value!;
        return ((WorksheetPart)part.GetPartById(id))
            .Worksheet!.Descendants<Row>()
            .Select(r =>
                r.Elements<Cell>().Select(c => c.InlineString is { } text ? $"t:{text.InnerText}" : $"n:{c.CellValue?.Text}").ToArray()
            );
    }

    private void Odd()
    {
        Directory.CreateDirectory(Path.Combine(_folder.Path, "files"));
        using (var connection = new DuckDB.NET.Data.DuckDBConnection($"Data Source={_folder.File("files/m.duckdb")}"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText =
                "CREATE TABLE crate AS SELECT * FROM (VALUES ('Maple', DATE '2025-01-01'), ('Maple', DATE '2025-01-01'), ('Maple', "
                + "DATE '2025-01-02'), ('=1+1', DATE '2025-01-03'), ('=1+1', DATE '2025-01-04'), ('x, \"y\"', DATE '2025-02-01')) "
                + "v(owner, came); CHECKPOINT";
            command.ExecuteNonQuery();
        }
        void Write(string path, string text) => System.IO.File.WriteAllText(_folder.File("workspace/" + path), text);
        foreach (var part in (string[])["sources", "datasets", "dashboards"])
            Directory.CreateDirectory(Path.Combine(_folder.Path, "workspace", part));
        Write("workspace.yaml", "workspace: w\n");
        Write("access.yaml", "roles:\n  director: { reads: { crates: all } }\n");
        Write("sources/m.yaml", "source: m\nengine: duckdb\nfile: m.duckdb\n");
        Write(
            "datasets/crates.yaml",
            """
            dataset: crates
            source: m
            from: crate
            fields:
              owner: { column: owner, title: Owner }
              came: { column: came, type: date, title: Came }
            measures: { crates: { formula: "count(*)", title: Crates, format: "0 kg" } }
            """
        );
        Write(
            "dashboards/d.yaml",
            """
            dashboard: d
            tabs:
              - tab: t
                columns: 2
                tiles:
                  - { tile: owners, picture: bar, dataset: crates, show: crates, by: owner, title: "Crates by owner: 2025" }
                  - { tile: again, picture: bar, dataset: crates, show: crates, by: owner, title: "Crates by owner: 2025" }
                  - { tile: days, picture: line, dataset: crates, show: crates, by: came, title: "=By day" }
            """
        );
    }

    [Fact]
    public async Task Pages_and_pictures_are_drawn_with_text_that_can_be_searched_at_the_size_that_is_wanted()
    {
        await using var service = await Start();
        var pdf = Encoding.Latin1.GetString(await File(service, "director", "tickets", new { form = "pdf" }, "application/pdf"));
        pdf.ShouldStartWith("%PDF-");
        pdf.ShouldContain("/Marked true", Case.Sensitive, "it is tagged for readers");
        pdf.ShouldContain("/MediaBox [0 0 841", Case.Sensitive, "A4 lies");
        var upright = Encoding.Latin1.GetString(
            await File(
                service,
                "director",
                "tickets",
                new
                {
                    form = "pdf",
                    paper = "letter-upright",
                    tiles = new[] { "routes" },
                },
                "application/pdf"
            )
        );
        upright.ShouldContain("/MediaBox [0 0 612 792]");
        var png = await File(
            service,
            "director",
            "tickets",
            new
            {
                form = "png",
                tiles = new[] { "sold-by-week" },
                width = 700,
                height = 300,
            },
            "image/png"
        );
        // Width and height stand at the 16th and 20th byte (PNG, 11.2.2); a picture has two dots for each pixel that is wanted.
        (Big(png, 16), Big(png, 20)).ShouldBe((1400, 600));
        var svg = XDocument.Parse(
            Encoding.UTF8.GetString(
                await File(service, "director", "tickets", new { form = "svg", tiles = new[] { "sold-by-week" } }, "image/svg+xml")
            )
        );
        svg.Descendants().Where(e => e.Name.LocalName == "text").Select(e => e.Value).ShouldContain("100 k");
        svg.Root!.Elements().Single(e => e.Name.LocalName == "desc").Value.ShouldContain("Of all rows, as Director sees them");
        var slides = await File(
            service,
            "north-ports",
            "tickets",
            new { form = "pptx", tabs = new[] { "sales" } },
            "application/vnd.openxmlformats-officedocument.presentationml.presentation"
        );
        using var deck = PresentationDocument.Open(new MemoryStream(slides), false);
        new OpenXmlValidator().Validate(deck).Select(e => $"{e.Part?.Uri} {e.Path?.XPath}: {e.Description}").ShouldBeEmpty();
        var texts = deck.PresentationPart!.SlideParts.Select(s => s.Slide!.InnerText).ToList();
        texts.Count.ShouldBe(7, "one that says what they are, and six tiles");
        texts.ShouldContain(t => t.Contains("Of the rows that North ports may see"));
        texts.ShouldContain(t => t.Contains("Tickets sold by week"));
        var html = Encoding.UTF8.GetString(await File(service, "director", "tickets", new { form = "html" }, "text/html"));
        html.ShouldContain("default-src 'none'");
        html.ShouldContain("<td>Lanternhead–Tolmarra</td><td>1,865,305</td>", Case.Sensitive, "without scripts there are tables");

        static int Big(byte[] bytes, int at) => System.Buffers.Binary.BinaryPrimitives.ReadInt32BigEndian(bytes.AsSpan(at));
    }

    /// <summary>A clock whose timers of one length go off when a test says so.</summary>
    private sealed class HeldTimers(TimeSpan held) : TimeProvider
    {
        private readonly ConcurrentBag<Timer> _all = [];

        /// <summary>Lets those go off that are set.</summary>
        public void GoOff()
        {
            foreach (var timer in _all)
                timer.GoOff();
        }

        public override ITimer CreateTimer(TimerCallback callback, object? state, TimeSpan dueTime, TimeSpan period)
        {
            var timer = new Timer(() => callback(state), held, base.CreateTimer(callback, state, Timeout.InfiniteTimeSpan, period));
            _all.Add(timer);
            timer.Change(dueTime, period);
            return timer;
        }

        private sealed class Timer(Action act, TimeSpan held, ITimer inner) : ITimer
        {
            private int _isSet;

            public void GoOff()
            {
                if (Interlocked.Exchange(ref _isSet, 0) == 1)
                    act();
            }

            public bool Change(TimeSpan dueTime, TimeSpan period)
            {
                Interlocked.Exchange(ref _isSet, dueTime == held ? 1 : 0);
                return inner.Change(dueTime == held ? Timeout.InfiniteTimeSpan : dueTime, period);
            }

            public void Dispose() => inner.Dispose();

            public ValueTask DisposeAsync() => inner.DisposeAsync();
        }
    }

    [Fact]
    public async Task A_browser_that_nobody_needs_ends_and_is_begun_for_whoever_needs_it_next()
    {
        var clock = new HeldTimers(Browser.Idle);
        await using var service = await Start(clock: clock);
        var data = service.Services.GetRequiredService<ServiceOptions>().DataFolder;
        async Task Draws() =>
            (await File(service, "director", "tickets", new { form = "png", tiles = new[] { "sold-by-week" } }, "image/png"))
                .AsSpan(1, 3)
                .ToArray()
                .ShouldBe("PNG"u8.ToArray());
        // It is named there from before it begins until after it has ended.
        bool IsThere() => Directory.GetFiles(data, "driver.pid", SearchOption.AllDirectories).Length > 0;
        IsThere().ShouldBeFalse();
        for (var round = 0; round < 2; round++)
        {
            await Draws();
            IsThere().ShouldBeTrue();
            // It is made ready for the next before it rests; a rest that is due while somebody has it is due again after them.
            while (IsThere())
            {
                clock.GoOff();
                await Task.Yield();
            }
        }
    }
}
