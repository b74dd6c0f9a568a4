using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using Shouldly;
using Weir.Demo;
using Weir.Store;
using Weir.Testing;

namespace Weir.Service.Tests;

/// <summary>The service through its API on loopback: figures, refusals, views.</summary>
public class ApiTests(SharedService shared) : IClassFixture<SharedService>
{
    private readonly RunningService _service = shared.Service;

    private static async Task<(HttpStatusCode Status, string Code)> Problem(Task<HttpResponseMessage> asked)
    {
        using var response = await asked;
        var text = await response.Content.ReadAsStringAsync();
        response.Content.Headers.ContentType?.MediaType.ShouldBe("application/problem+json", text);
        var problem = JsonDocument.Parse(text).RootElement;
        problem.GetProperty("detail").GetString().ShouldNotBeNullOrEmpty();
        problem.GetProperty("type").GetString().ShouldBe($"urn:weir:problem:{problem.GetProperty("code").GetString()}");
        return (response.StatusCode, problem.GetProperty("code").GetString()!);
    }

    private static StringContent Json(string text) => new(text, Encoding.UTF8, "application/json");

    private Task<HttpResponseMessage> AskResults(string selections, string account = "director") =>
        _service.As(account).PostAsync("api/dashboards/network/results", Json($"{{\"selections\": {selections}}}"));

    [Theory]
    [InlineData("""{"no-such-tile": {"members": []}}""", 404, "unknown-tile")]
    [InlineData("""{"passengers-by-quarter": {"members": [["July"]]}}""", 422, "wrong-type")]
    [InlineData("""{"late-by-hour": {"members": [[1]]}}""", 422, "bad-selection")]
    [InlineData("""{"income": {"members": [[1]]}}""", 422, "not-pickable")]
    [InlineData("""{"vessels": {"restOf": []}}""", 422, "bad-selection")]
    [InlineData("""[]""", 400, "bad-json")]
    [InlineData("""{"income-by-route": {"members": [[" """, 400, "bad-json")]
    public async Task A_selection_that_cannot_be_meant_is_refused_with_a_code(string selections, int status, string code) =>
        (await Problem(AskResults(selections))).ShouldBe(((HttpStatusCode)status, code));

    [Theory]
    [InlineData("tiles/vessels/rows", """{"mark": {}}""", 422, "bad-selection")]
    [InlineData("tiles/vessels/rows", """{"mark": {"member": "Grey Pilgrim"}}""", 422, "bad-selection")]
    [InlineData("tiles/vessels/rows", """{"mark": {"member": ["Grey Pilgrim"]}}""", 422, "wrong-type")]
    [InlineData("tiles/vessels/rows", """{"mark": {"restOf": [["Grey Pilgrim"]]}}""", 422, "bad-selection")]
    [InlineData("tiles/vessels/rows", """{"sort": "delay"}""", 400, "bad-json")]
    [InlineData("tiles/vessels/rows", """{"sort": [{"field": "x'; DROP TABLE sailing; --"}]}""", 422, "unknown-field")]
    [InlineData("tiles/vessels/rows", """{"sort": [null]}""", 422, "unknown-field")]
    [InlineData("tiles/vessels/rows", """{"where": [null]}""", 422, "unknown-field")]
    [InlineData("tiles/vessels/rows", """{"where": [{"field": "no_such", "is": "missing"}]}""", 422, "unknown-field")]
    [InlineData("tiles/vessels/rows", """{"where": [{"field": "delay", "is": "= 1 OR", "value": "1"}]}""", 422, "unknown-condition")]
    [InlineData("tiles/vessels/rows", """{"where": [{"field": "delay", "is": "least", "value": "late"}]}""", 422, "wrong-type")]
    [InlineData("tiles/vessels/rows", """{"where": [{"field": "vessel", "is": "begins", "value": "\u0000"}]}""", 422, "wrong-type")]
    [InlineData("tiles/vessels/rows", """{"columns": ["vessel", null]}""", 422, "unknown-field")]
    [InlineData("tiles/vessels/rows.csv", """{"selections": {"areas": {"path": ["North Reach", "x", "y", "z"]}}}""", 422, "bad-selection")]
    [InlineData("tiles/no-such-tile/rows", "{}", 404, "unknown-tile")]
    [InlineData("tiles/late/brush", "{}", 422, "not-pickable")]
    [InlineData("tiles/span/brush", """{"tiles": ["no-such-tile"]}""", 404, "unknown-tile")]
    [InlineData("results", """{"selections": {"find-vessel": {"contains": 7}}}""", 422, "bad-selection")]
    [InlineData("results", """{"selections": {"span": {"period": "next month"}}}""", 422, "bad-selection")]
    [InlineData("results", """{"selections": {"span": {"range": {"from": "2025-02-30"}}}}""", 422, "wrong-type")]
    [InlineData("results", """{"selections": {"wind": {"range": 7}}}""", 422, "bad-selection")]
    [InlineData("results", """{"selections": {"year": {"members": []}}}""", 422, "pick-needed")]
    [InlineData("tiles/course/brush", """{"viewing": {"parameters": {"grain": ["day"]}}}""", 422, "wrong-value")]
    [InlineData("opening", """{"viewing": {"parameters": {"grain": []}}}""", 422, "value-needed")]
    [InlineData("results", """{"viewing": {"parameters": {"no-such": ["day"]}}}""", 422, "unknown-parameter")]
    [InlineData("tiles/routes/members", """{"search": null}""", 422, "bad-selection")]
    [InlineData("tiles/routes/members", """{"search": "\u0000"}""", 422, "bad-selection")]
    [InlineData("results", """{"selections": {"ports": {"members": [["SKE\u0000"]]}}}""", 422, "wrong-type")]
    [InlineData("tiles/year/members", """{"search": "2"}""", 422, "not-searchable")]
    [InlineData("tiles/no-such-tile/members", """{"search": "2"}""", 404, "unknown-tile")]
    [InlineData("opening", """{"selections": 7}""", 400, "bad-json")]
    public async Task What_an_interaction_can_not_mean_is_refused_with_a_code(string path, string body, int status, string code) =>
        (await Problem(_service.As("director").PostAsync($"api/dashboards/punctuality/{path}", Json(body)))).ShouldBe(
            ((HttpStatusCode)status, code)
        );

    [Fact]
    public async Task Pages_of_rows_follow_one_another_whatever_columns_are_chosen_and_end_at_the_limit()
    {
        async Task<JsonElement> Rows(int first, int count, string columns = "null")
        {
            var response = await _service
                .As("director")
                .PostAsync(
                    "api/dashboards/punctuality/tiles/vessels/rows",
                    Json(
                        $"{{\"first\": {first}, \"count\": {count}, \"sort\": [{{\"field\": \"delay\", \"descending\": true}}], \"columns\": {columns}}}"
                    )
                );
            return JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement;
        }
        static List<string> Column(JsonElement answer, string name)
        {
            var at = answer
                .GetProperty("table")
                .GetProperty("columns")
                .EnumerateArray()
                .ToList()
                .FindIndex(c => c.GetProperty("name").GetString() == name);
            return [.. answer.GetProperty("table").GetProperty("values")[at].EnumerateArray().Select(v => v.GetRawText())];
        }
        var all = await Rows(0, 60);
        var pages = Column(await Rows(0, 30), "departed").Concat(Column(await Rows(30, 30), "departed"));
        pages.ShouldBe(Column(all, "departed"));
        Column(await Rows(0, 60, "[\"departed\"]"), "departed").ShouldBe(Column(all, "departed"));
        all.GetProperty("lines").GetInt64().ShouldBeGreaterThan(all.GetProperty("most").GetInt64());
        Column(await Rows(2_000_000_000, 500), "departed").ShouldBeEmpty();
    }

    [Fact]
    public async Task Rows_are_filtered_and_sorted_by_several_columns_as_the_rows_themselves_say()
    {
        async Task<JsonElement> Rows(string asked)
        {
            var response = await _service.As("director").PostAsync("api/dashboards/punctuality/tiles/vessels/rows", Json($"{{{asked}}}"));
            response.StatusCode.ShouldBe(HttpStatusCode.OK);
            return JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement;
        }
        var narrowed = await Rows(
            """
            "where": [{"field": "vessel", "is": "begins", "value": "grey"}, {"field": "delay", "is": "least", "value": "4"},
                {"field": "delay", "is": "most", "value": "9"}, {"field": "route", "is": "contains", "value": "SKE"}],
            "sort": [{"field": "route"}, {"field": "delay", "descending": true}], "columns": ["vessel", "route", "delay"], "count": 500
            """
        );
        var values = narrowed.GetProperty("table").GetProperty("values");
        // A vessel is a number that has a name: what it begins with is said of the name.
        var names = narrowed.GetProperty("table").GetProperty("columns")[0].GetProperty("names");
        var lines = values[0]
            .EnumerateArray()
            .Select(
                (v, i) =>
                    (
                        Vessel: names.GetProperty(v.GetRawText()).GetString()!,
                        Route: values[1][i].GetString()!,
                        Delay: values[2][i].GetDouble()
                    )
            )
            .ToList();
        lines.ShouldNotBeEmpty();
        lines.ShouldAllBe(l => l.Vessel.StartsWith("Grey", StringComparison.Ordinal) && l.Delay >= 4 && l.Delay <= 9);
        lines.ShouldAllBe(l => l.Route.Contains("Ske", StringComparison.OrdinalIgnoreCase));
        lines.ShouldBe(lines.OrderBy(l => l.Route, StringComparer.Ordinal).ThenByDescending(l => l.Delay));
        lines.Select(l => l.Delay).Distinct().Count().ShouldBeGreaterThan(1);
        // Whoever is asked for in two halves is whole.
        async Task<long> Count(string where) => (await Rows($"\"where\": [{where}]")).GetProperty("lines").GetInt64();
        var (most, more, missing) = (
            await Count("""{"field": "delay", "is": "most", "value": "4"}"""),
            await Count("""{"field": "delay", "is": "more", "value": "4"}"""),
            await Count("""{"field": "delay", "is": "missing"}""")
        );
        (most + more + missing).ShouldBe(await Count(""));
        most.ShouldBeGreaterThan(0);
        more.ShouldBeGreaterThan(0);
    }

    private async Task<JsonElement> Opening(string account, string selections = "null", string dashboard = "punctuality")
    {
        var response = await _service
            .As(account)
            .PostAsync($"api/dashboards/{dashboard}/opening", Json($"{{\"selections\": {selections}}}"));
        return JsonDocument.Parse(await response.EnsureSuccessStatusCode().Content.ReadAsStringAsync()).RootElement;
    }

    [Fact]
    public async Task A_dashboard_opens_with_its_opening_values_and_what_is_required_holds_where_nothing_else_is_picked()
    {
        var newest = DemoSql.Scalar("SELECT max(year(departed_at)) FROM sailing");
        (await Opening("director")).GetProperty("selections").GetRawText().ShouldBe($$$"""{"year":{"members":[["{{{newest}}}-01-01"]]}}""");
        async Task<long> Sailings(string selections)
        {
            var body =
                $$$"""{"tiles": ["chosen"], "selections": {{{selections}}}, "viewing": {"parameters": {"figure": ["sailings"] } } }""";
            var text = await (
                await _service.As("director").PostAsync("api/dashboards/punctuality/results", Json(body))
            ).Content.ReadAsStringAsync();
            return JsonDocument.Parse(text).RootElement.GetProperty("table").GetProperty("values")[0][0].GetInt64();
        }
        (await Sailings("null")).ShouldBe(
            Convert.ToInt64(DemoSql.Scalar($"SELECT count(*) FROM sailing WHERE year(departed_at) = {newest}"))
        );
        (await Sailings("""{"year": {"members": [["2023-01-01"]]}}""")).ShouldBe(
            Convert.ToInt64(DemoSql.Scalar("SELECT count(*) FROM sailing WHERE year(departed_at) = 2023"))
        );
    }

    [Fact]
    public async Task A_value_of_a_link_that_the_viewer_may_not_see_is_dropped_and_named_as_dropped_without_the_value()
    {
        const string link =
            """{"ports": {"members": [["SKE"], ["FEN"], ["nowhere"]]}, "areas": {"path": ["South Deep"], "members": [["Fennimar–Lanternhead"]]}, "gone": {"members": [["x"]]}, "wind": {"range": {"from": "x"}}}""";
        var director = (await Opening("director", link)).GetProperty("selections");
        director.GetProperty("ports").GetProperty("members").GetRawText().ShouldBe("""[["SKE"],["FEN"]]""");
        director.GetProperty("areas").GetProperty("path").GetRawText().ShouldBe("""["South Deep"]""");
        director.TryGetProperty("year", out _).ShouldBeTrue("what is required comes with its opening value");
        var desk = await Opening("skerrin-desk", link);
        desk.GetProperty("selections").GetProperty("ports").GetProperty("members").GetRawText().ShouldBe("""[["SKE"]]""");
        desk.GetProperty("selections").TryGetProperty("areas", out _).ShouldBeFalse();
        desk.GetProperty("dropped")
            .EnumerateArray()
            .Select(d => $"{d.GetProperty("tileTitle")} {d.GetProperty("count")}")
            .ShouldBe(["Home port 2", "Late by sea area 2", " 1", "Wind at departure 1"], ignoreOrder: true);
        desk.GetRawText().ShouldNotContain("FEN");
        desk.GetRawText().ShouldNotContain("Fennimar");
        // A range in the pictures of several members stays in those that are there, and in none is none.
        async Task<(string Selections, int Dropped)> Each(string each)
        {
            var opening = await Opening("director", $$$"""{"each-class": {"range": {"from": 0, "to": 9}, "each": {{{each}}}}}""", "atlas");
            return (
                opening.GetProperty("selections").GetRawText(),
                opening.GetProperty("dropped").EnumerateArray().Sum(d => d.GetProperty("count").GetInt32())
            );
        }
        (await Each("""["Swift", "nowhere"]""")).ShouldBe(
            ("""{"each-class":{"members":[],"range":{"from":0,"to":9},"each":["Swift"]}}""", 1)
        );
        (await Each("""["nowhere"]""")).ShouldBe(("{}", 1));
    }

    [Fact]
    public async Task What_a_viewer_keeps_opens_the_dashboard_again_as_far_as_they_may_still_see_it()
    {
        await using var service = await RunningService.Start();
        var ports = service.As("north-ports");
        Task<HttpResponseMessage> Edit(object edit) => ports.PostAsJsonAsync("api/dashboards/punctuality/view/edits", edit);
        async Task<JsonElement> Opening(HttpClient client, string dashboard = "punctuality") =>
            await (await client.PostAsJsonAsync($"api/dashboards/{dashboard}/opening", new { }))
                .EnsureSuccessStatusCode()
                .Content.ReadFromJsonAsync<JsonElement>();
        var selections = JsonDocument
            .Parse("""{"ports": {"members": [["SKE"], ["ULL"]]}, "span": {"period": "last 5 years"}}""")
            .RootElement;
        (await Problem(Edit(new { edit = "keep-picks", selections = new { nowhere = new { } } }))).Code.ShouldBe("unknown-tile");
        (
            await Problem(
                Edit(
                    new
                    {
                        edit = "keep-picks",
                        selections,
                        parameters = new { grain = new[] { "day" } },
                    }
                )
            )
        ).Code.ShouldBe("wrong-value");
        (
            await Problem(
                Edit(
                    new { edit = "keep-picks", selections = new { ports = new { members = new[] { new[] { new string('x', 200_000) } } } } }
                )
            )
        ).Code.ShouldBe("edit-refused");
        (await ports.GetFromJsonAsync<JsonElement>("api/dashboards/punctuality"))
            .GetProperty("view")
            .GetProperty("keeps")
            .ValueKind.ShouldBe(JsonValueKind.Null, "what was refused is not kept");
        var page = await (
            await Edit(
                new
                {
                    edit = "keep-picks",
                    selections,
                    parameters = new { figure = new[] { "sailings" }, late_after = new[] { "15" } },
                }
            )
        ).EnsureSuccessStatusCode().Content.ReadFromJsonAsync<JsonElement>();
        page.GetProperty("view").GetProperty("keeps").GetString().ShouldNotBeNullOrEmpty();
        var kept = await Opening(ports);
        kept.GetProperty("selections").GetProperty("ports").GetProperty("members").GetRawText().ShouldBe("""[["SKE"],["ULL"]]""");
        kept.GetProperty("selections").GetProperty("span").GetProperty("period").GetString().ShouldBe("last 5 years", "it stays relative");
        kept.GetProperty("selections").TryGetProperty("year", out _).ShouldBeTrue("what is required is there too");
        kept.GetProperty("parameters").GetRawText().ShouldBe("""{"figure":["sailings"],"late_after":["15"]}""");
        (await Opening(service.As("director")))
            .GetProperty("parameters")
            .GetRawText()
            .ShouldBe("{}", "another viewer's view is not theirs");

        // Another port from the next request on: the other is dropped, and not told.
        var users = service.Services.GetRequiredService<Users>();
        var account = DemoAccounts.All.First(a => a.Viewer.Name == "north-ports");
        users.Put(
            account.Viewer with
            {
                Attributes = new Dictionary<string, IReadOnlyList<string>> { ["ports"] = ["ULL"] },
            },
            account.Password,
            loopbackOnly: true,
            keepTokens: true
        );
        await Edit(new { edit = "hide", tile = "late" });
        var less = await Opening(ports);
        less.GetProperty("selections").GetProperty("ports").GetProperty("members").GetRawText().ShouldBe("""[["ULL"]]""");
        less.GetProperty("dropped").EnumerateArray().Single().GetProperty("tileTitle").GetString().ShouldBe("Home port");
        less.GetRawText().ShouldNotContain("SKE");
        // So is a parameter that has a value of a field.
        (
            await ports.PostAsJsonAsync(
                "api/dashboards/tickets/view/edits",
                new
                {
                    edit = "keep-picks",
                    selections = new { },
                    parameters = new { at_port = new[] { "FEN" } },
                }
            )
        ).EnsureSuccessStatusCode();
        var tickets = await Opening(ports, "tickets");
        (tickets.GetProperty("parameters").GetRawText(), tickets.GetProperty("dropped").GetArrayLength()).ShouldBe(("{}", 1));
        tickets.GetRawText().ShouldNotContain("FEN");

        // Forgotten, undone, and gone with a reset.
        await Edit(new { edit = "keep-picks" });
        (await Opening(ports)).GetProperty("selections").TryGetProperty("ports", out _).ShouldBeFalse();
        await ports.PostAsync("api/dashboards/punctuality/view/undo", null);
        (await Opening(ports)).GetProperty("selections").TryGetProperty("ports", out _).ShouldBeTrue();
        await Edit(new { edit = "reset" });
        (await Opening(ports)).GetProperty("selections").TryGetProperty("ports", out _).ShouldBeFalse();
    }

    [Fact]
    public async Task A_choice_that_stands_for_a_hidden_measure_answers_as_one_that_is_not_there()
    {
        async Task<string> Set(string account, string figure)
        {
            var body = $$$"""{"tiles": ["chosen"], "viewing": {"parameters": {"figure": ["{{{figure}}}"] } } }""";
            return
                (
                    await (
                        await _service.As(account).PostAsync("api/dashboards/punctuality/results", Json(body))
                    ).Content.ReadAsStringAsync()
                ).Replace(figure, "?")
                    is var text
                ? System.Text.RegularExpressions.Regex.Replace(text, "\"(readAt|milliseconds)\":[^,}]+", "")
                : "";
        }
        (await Set("auditor", "income")).ShouldBe(await Set("auditor", "nothing"));
        (await Set("skerrin-desk", "margin")).ShouldBe(await Set("skerrin-desk", "nothing"));
        (await Set("director", "income")).ShouldContain("\"ready\"");
        (await _service.As("auditor").GetStringAsync("api/dashboards/punctuality")).ShouldNotContain("ncome");
        // A page opens whatever an old address sets; only what is no JSON is refused.
        var old = Uri.EscapeDataString("""{"figure": ["income"], "gone": ["1"], "drawn": ["bar"]}""");
        var page = await _service.As("auditor").GetFromJsonAsync<JsonElement>($"api/dashboards/punctuality?set={old}");
        var course = page.GetProperty("tabs")
            .EnumerateArray()
            .SelectMany(t => t.GetProperty("tiles").EnumerateArray())
            .Single(t => t.GetProperty("name").GetString() == "course");
        $"{course.GetProperty("picture")}: {course.GetProperty("title")}".ShouldBe("bar: Mean delay by month, split by class");
        (await Problem(_service.As("auditor").GetAsync("api/dashboards/punctuality?set=grain"))).ShouldBe(
            (HttpStatusCode.UnprocessableEntity, "wrong-value")
        );
    }

    [Fact]
    public async Task One_bad_parameter_fails_the_tiles_that_use_it_and_no_other()
    {
        async Task<Dictionary<string, string>> States(string dashboard, string parameters)
        {
            var response = await _service
                .As("director")
                .PostAsync($"api/dashboards/{dashboard}/results", Json($"{{\"viewing\": {{\"parameters\": {parameters}}}}}"));
            response.StatusCode.ShouldBe(HttpStatusCode.OK);
            return (await response.Content.ReadAsStringAsync())
                .Split('\n', StringSplitOptions.RemoveEmptyEntries)
                .Select(l => JsonDocument.Parse(l).RootElement)
                .ToDictionary(
                    r => r.GetProperty("tile").GetString()!,
                    r => r.GetProperty("state").GetString() == "ready" ? "ready" : r.GetProperty("problem").GetProperty("code").GetString()!
                );
        }
        // late_after stands in one field, on which one measure is built.
        var page = await _service.As("director").GetFromJsonAsync<JsonElement>("api/dashboards/network");
        var those = page.GetProperty("tabs")
            .EnumerateArray()
            .SelectMany(t => t.GetProperty("tiles").EnumerateArray())
            .Where(t => t.GetProperty("show").EnumerateArray().Any(m => m.GetProperty("name").GetString() == "late_share"))
            .Select(t => (t.GetProperty("name").GetString()!, "wrong-value"))
            .ToList();
        var late = await States("network", """{"late_after": ["61"]}""");
        late.Where(t => t.Value != "ready").Select(t => (t.Key, t.Value)).ShouldBe(those, ignoreOrder: true);
        those.Count.ShouldBeInRange(1, late.Count - 1);
        // The period of the dataset's own filter decides about every one of its tiles, and about none of another dataset.
        var sold = await States("tickets", """{"sold_in": ["last fortnight"]}""");
        sold.Where(t => t.Value == "ready").Select(t => t.Key).ShouldBe(["sailed"]);
        sold.Values.Distinct().Order().ShouldBe(["ready", "wrong-value"]);
        // A parameter that only changes the drawing fails what it draws.
        var drawn = await States("punctuality", """{"grain": ["fortnight"]}""");
        drawn.Where(t => t.Value != "ready").ShouldHaveSingleItem().ShouldBe(new("course", "wrong-value"));
    }

    [Fact]
    public async Task What_is_picked_on_a_top_list_and_has_no_rows_now_is_told()
    {
        async Task<string> Absent(string selections)
        {
            var response = await _service
                .As("director")
                .PostAsync("api/dashboards/network/results", Json($"{{\"tiles\": [\"income-by-route\"], \"selections\": {selections}}}"));
            return JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement.GetProperty("absent").GetRawText();
        }
        // Of two picked routes neither is among the ten shown; one has rows in the picked area.
        (await Absent("""{"income-by-route": {"members": [["Quillay–Brannoway"], ["Fennimar–Lanternhead"]]}}""")).ShouldBe("null");
        (
            await Absent(
                """{"income-by-route": {"members": [["Quillay–Brannoway"], ["Fennimar–Lanternhead"]]}, "sea-area": {"members": [["South Deep"]]}}"""
            )
        ).ShouldBe("""[["Quillay–Brannoway"]]""");
        (await Absent("""{"income-by-route": {"members": [["Skerrin–Ullavee"]]}, "sea-area": {"members": [["South Deep"]]}}""")).ShouldBe(
            """[["Skerrin–Ullavee"]]"""
        );
    }

    [Fact]
    public async Task Among_tens_of_thousands_of_members_a_control_is_sent_some_and_finds_the_others_by_text()
    {
        using var folder = Repository.Temp();
        Directory.CreateDirectory(Path.Combine(folder.Path, "files"));
        using (var connection = new DuckDB.NET.Data.DuckDBConnection($"Data Source={folder.File("files/m.duckdb")}"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText =
                "CREATE TABLE berth AS SELECT 'berth ' || lpad(CAST(i AS VARCHAR), 5, '0') AS name, i % 3 AS kind, CAST(i % 3 AS "
                + "DECIMAL(10, 2)) / 2 AS fee FROM range(40000) t(i); INSERT INTO berth VALUES (NULL, 1, NULL), ('50% _off', 1, 7.5); "
                + "CHECKPOINT";
            command.ExecuteNonQuery();
        }
        folder.File("w/workspace.yaml", "workspace: w\n");
        folder.File("w/sources/s.yaml", "source: s\nengine: duckdb\nfile: m.duckdb\n");
        folder.File(
            "w/datasets/d.yaml",
            "dataset: d\nsource: s\nfrom: berth\nfields:\n  name: { column: name }\n  kind: { column: kind, type: integer }\n  fee: "
                + "{ column: fee, type: decimal }\nmeasures:\n  rows: { formula: \"count(*)\" }\n"
        );
        folder.File(
            "w/dashboards/x.yaml",
            """
            dashboard: x
            tabs:
              - tab: one
                tiles:
                  - { tile: kinds, picture: bar, dataset: d, show: rows, by: kind, place: { column: 0, row: 0, width: 4, height: 2 } }
                  - { tile: names, picture: dropdown, dataset: d, by: name, place: panel }
                  - { tile: fees, picture: list, dataset: d, by: fee, place: panel }

            """
        );
        folder.File("w/access.yaml", "roles:\n  director: { reads: { d: all } }\n");
        await using var service = await RunningService.Start(
            files: Path.Combine(folder.Path, "files"),
            workspace: Path.Combine(folder.Path, "w")
        );
        var sent = (await service.Results("director", "x"))["names"];
        sent.GetProperty("table").GetProperty("values")[0].GetArrayLength().ShouldBe(1_000);
        sent.GetProperty("lines").GetInt64().ShouldBe(40_002);
        async Task<(string[] Members, long Lines)> Find(string search, object? selections = null)
        {
            var answer = await (
                await service.As("director").PostAsJsonAsync("api/dashboards/x/tiles/names/members", new { search, selections })
            )
                .EnsureSuccessStatusCode()
                .Content.ReadFromJsonAsync<JsonElement>();
            return (
                [.. answer.GetProperty("members").EnumerateArray().Select(m => m.GetString()!)],
                answer.GetProperty("lines").GetInt64()
            );
        }
        (await Find("BERTH 3999")).Members.ShouldBe(Enumerable.Range(39990, 10).Select(i => $"berth {i}"));
        var many = await Find("berth 3");
        (many.Lines, many.Members.Length).ShouldBe((10_000, 200));
        (await Find("%")).Members.ShouldBe(["50% _off"]);
        // Of a link's members those that are there stay: 0.5 is 0.50, and "not given" is a member too.
        var link = await (
            await service
                .As("director")
                .PostAsJsonAsync(
                    "api/dashboards/x/opening",
                    new { selections = new { fees = new { members = new decimal?[][] { [0.5m], [7.500m], [0.25m], [null] } } } }
                )
        ).Content.ReadFromJsonAsync<JsonElement>();
        link.GetProperty("selections").GetProperty("fees").GetProperty("members").GetArrayLength().ShouldBe(3, link.GetRawText());
        // The others filter here too, and what is picked on the control itself does not.
        var picked = new { kinds = new { members = new[] { new[] { 0 } } }, names = new { members = new[] { new[] { "berth 00001" } } } };
        (await Find("berth 3999", picked)).Members.ShouldBe(Enumerable.Range(39990, 10).Where(i => i % 3 == 0).Select(i => $"berth {i}"));
    }

    [Fact]
    public async Task A_request_of_50_MB_is_refused_and_the_service_goes_on()
    {
        var (status, refused) = await Calls.Send(
            _service.As("director"),
            HttpMethod.Post,
            "api/dashboards/network/results",
            new string('x', 50_000_000)
        );
        (status, refused.GetProperty("code").GetString()).ShouldBe((HttpStatusCode.RequestEntityTooLarge, "request-too-large"));
        (await _service.As(null).GetAsync("api/health")).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    [Theory]
    [InlineData("GET", "api/dashboards", 401, "sign-in-needed")]
    [InlineData("GET", "api/dashboards/network", 401, "sign-in-needed")]
    [InlineData("POST", "api/dashboards/network/results", 401, "sign-in-needed")]
    [InlineData("GET", "api/definitions", 401, "sign-in-needed")]
    [InlineData("GET", "api/events", 401, "sign-in-needed")]
    public async Task Without_signing_in_nothing_is_answered(string method, string path, int status, string code) =>
        (
            await Problem(
                _service
                    .As(null)
                    .SendAsync(new HttpRequestMessage(new HttpMethod(method), path) { Content = method == "POST" ? Json("{}") : null })
            )
        ).ShouldBe(((HttpStatusCode)status, code));

    [Fact]
    public async Task What_is_not_there_and_a_wrong_body_are_told_apart()
    {
        var director = _service.As("director");
        (await Problem(director.GetAsync("api/nothing"))).Code.ShouldBe("unknown-address");
        (await Problem(director.GetAsync("api/dashboards/nothing"))).Code.ShouldBe("unknown-dashboard");
        (await Problem(director.PutAsync("api/dashboards/network", Json("{}")))).Code.ShouldBe("wrong-method");
        (await Problem(director.PostAsync("api/dashboards/network/results", new StringContent("{}")))).Code.ShouldBe("not-json");
        (await Problem(director.PostAsync("api/dashboards/network/view/edits", Json("{\"edit\": \"fly\"}")))).Code.ShouldBe("bad-json");
        (await Problem(director.PostAsync("api/dashboards/network/view/edits", null))).Code.ShouldBe("no-body");
        (await Problem(director.PostAsync("api/dashboards/network/view/edits", Json("{\"edit\": \"hide\"}")))).Code.ShouldBe(
            "edit-refused"
        );
        (await Problem(director.PostAsync("api/dashboards/network/tiles/about-weather/explanation", Json("{}")))).Code.ShouldBe(
            "no-figures"
        );
    }

    [Fact]
    public async Task A_tile_is_not_filtered_by_its_own_selection_and_says_what_filters_it()
    {
        var free = await _service.Results("director", "network");
        var picked = await _service.Results(
            "director",
            "network",
            JsonDocument.Parse("""{"income-by-route": {"members": [["Skerrin–Ullavee"]]}}""").RootElement
        );
        picked["income-by-route"].GetProperty("table").GetRawText().ShouldBe(free["income-by-route"].GetProperty("table").GetRawText());
        picked["income"].GetProperty("table").GetRawText().ShouldNotBe(free["income"].GetProperty("table").GetRawText());
        picked["all-sailings"].GetProperty("table").GetRawText().ShouldBe(free["all-sailings"].GetProperty("table").GetRawText());
        picked["all-sailings"]
            .GetProperty("filters")
            .GetProperty("notApplied")[0]
            .GetProperty("reason")
            .GetString()
            .ShouldBe("FollowsNone");
        picked["late"].GetProperty("filters").GetProperty("applied")[0].GetProperty("members")[0].GetString().ShouldBe("Skerrin–Ullavee");
    }

    [Fact]
    public async Task A_picked_route_filters_tiles_over_another_dataset_by_their_concept()
    {
        var picked = await _service.Results(
            "director",
            "tickets",
            JsonDocument.Parse("""{"routes": {"members": [["Skerrin–Ullavee"]]}}""").RootElement,
            ["sailed"]
        );
        var direct = DemoSql.Scalar("SELECT count(*) FROM sailing s JOIN route r ON r.id = s.route_id WHERE r.name = 'Skerrin–Ullavee'");
        picked["sailed"].GetProperty("table").GetProperty("values")[0][0].GetInt64().ShouldBe(Convert.ToInt64(direct));
    }

    [Fact]
    public async Task The_rest_of_a_top_N_means_not_in_those_shown()
    {
        var bars = (await _service.Results("director", "network", null, ["income-by-route"]))["income-by-route"]
            .GetProperty("table")
            .GetProperty("values");
        var shown = bars[0].EnumerateArray().Take(10).Select(v => new[] { v.GetString() }).ToList();
        var rest = (
            await _service.Results(
                "director",
                "network",
                new Dictionary<string, object> { ["income-by-route"] = new { members = Array.Empty<object>(), restOf = shown } },
                ["sailings-by-class"]
            )
        )["sailings-by-class"];
        var total = rest.GetProperty("table").GetProperty("values")[1].EnumerateArray().Sum(v => v.GetInt64());
        total.ShouldBe(
            Convert.ToInt64(
                DemoSql.Scalar(
                    "SELECT count(*) FROM sailing s JOIN route r ON r.id = s.route_id WHERE r.name NOT IN "
                        + $"({string.Join(", ", shown.Select(s => $"'{s[0]}'"))})"
                )
            )
        );
    }

    [Fact]
    public async Task The_consoles_files_come_compressed_to_whoever_takes_it_and_say_the_same_to_all()
    {
        using var folder = Repository.Temp("console");
        const string script = "export const words = 'the same to all';";
        folder.File("index.html", "<!doctype html><title>Weir</title>");
        var small = $"{folder.File("assets/a.js", script)}.br";
        folder.File("assets/plain.js", script);
        await using (var file = File.Create(small))
        await using (var brotli = new BrotliStream(file, CompressionLevel.SmallestSize))
            await brotli.WriteAsync(Encoding.UTF8.GetBytes(script));
        await using var service = await RunningService.Start(change: o => o with { ConsoleFolder = folder.Path });
        using var client = new HttpClient(new SocketsHttpHandler { AutomaticDecompression = DecompressionMethods.None });
        async Task<(string? Encoding, string Text)> Get(string path, string? takes)
        {
            var request = new HttpRequestMessage(HttpMethod.Get, $"{service.Url}/{path}");
            if (takes is not null)
                request.Headers.TryAddWithoutValidation("Accept-Encoding", takes);
            var answer = await client.SendAsync(request);
            answer.StatusCode.ShouldBe(HttpStatusCode.OK);
            answer.Content.Headers.ContentType!.MediaType.ShouldBe("text/javascript");
            answer.Headers.CacheControl!.Extensions.ShouldContain(e => e.Name == "immutable");
            Stream body = await answer.Content.ReadAsStreamAsync();
            var encoding = answer.Content.Headers.ContentEncoding.SingleOrDefault();
            if (encoding is not null)
            {
                answer.Headers.Vary.ShouldContain("Accept-Encoding");
                body =
                    encoding == "br"
                        ? new BrotliStream(body, CompressionMode.Decompress)
                        : new GZipStream(body, CompressionMode.Decompress);
            }
            return (encoding, await new StreamReader(body).ReadToEndAsync());
        }
        (await Get("assets/a.js", "gzip, deflate, br")).ShouldBe(("br", script));
        (await Get("assets/a.js", "gzip")).Text.ShouldBe(script);
        (await Get("assets/a.js", "gzip")).Encoding.ShouldNotBe("br");
        (await Get("assets/a.js", "br;q=0")).ShouldBe((null, script));
        (await Get("assets/a.js", null)).ShouldBe((null, script));
        (await Get("assets/plain.js", "br")).Text.ShouldBe(script);
    }

    [Fact]
    public async Task A_page_of_the_console_tells_the_browser_what_it_will_ask_for_first()
    {
        using var folder = Repository.Temp("console");
        folder.File("index.html", "<!doctype html><title>Weir</title>");
        folder.File("assets/charts-1a2b.js", "export {};");
        folder.File("assets/charts-1a2b.css", "p {}");
        await using var service = await RunningService.Start(change: o => o with { ConsoleFolder = folder.Path });
        using var client = new HttpClient();
        async Task<string[]> Ahead(string path)
        {
            var answer = await client.GetAsync($"{service.Url}{path}");
            answer.StatusCode.ShouldBe(HttpStatusCode.OK);
            return answer.Headers.TryGetValues("Link", out var links) ? [.. links.SelectMany(l => l.Split(", "))] : [];
        }
        static string Fetched(string path) => $"<{path}>; rel=preload; as=fetch; crossorigin=use-credentials";
        const string drawing = "</assets/charts-1a2b.js>; rel=modulepreload";
        var session = Fetched("/api/session");

        foreach (var path in (string[])["/", "/data", "/data/new", "/definitions/access/access"])
            (await Ahead(path)).ShouldBe([session], path);
        (await Ahead("/d/network")).ShouldBe([session, Fetched("/api/dashboards/network"), drawing]);
        (await Ahead("/d/network?tab=punctuality&view=mine&set=%7B%22a%22:%5B%221%22%5D%7D")).ShouldBe([
            session,
            Fetched("/api/dashboards/network?set=%7B%22a%22%3A%5B%221%22%5D%7D&view=mine"),
            drawing,
        ]);
        // Nothing that an address carries gets out of its place in the header.
        (await Ahead("/d/a%3E%3B%20rel=x%0d%0aSet-Cookie:b?view=%3E,%3C/x%3E%0d%0a")).ShouldBe([
            session,
            Fetched("/api/dashboards/a%3E%3B%20rel%3Dx%0D%0ASet-Cookie%3Ab?view=%3E%2C%3C%2Fx%3E%0D%0A"),
            drawing,
        ]);
        // Of a draft it is asked in other words.
        foreach (var path in (string[])["/d/network/design", "/d/network/seen?as=auditor", "/d/network/version/3", "/own/own-mine"])
            (await Ahead(path)).ShouldBeEmpty(path);
        (await Ahead("/assets/charts-1a2b.js")).ShouldBeEmpty();
    }

    [Fact]
    public async Task Guessing_passwords_is_slowed_down_and_names_are_not_told()
    {
        using var client = new HttpClient { BaseAddress = new Uri(_service.Url) };
        Task<HttpResponseMessage> Try(string name, string password) => client.PostAsJsonAsync("api/session", new { name, password });
        var unknown = await (await Try("nobody", "x")).Content.ReadAsStringAsync();
        (await (await Try("auditor", "x")).Content.ReadAsStringAsync()).ShouldBe(unknown);
        for (var i = 0; i < 4; i++)
            (await Problem(Try("auditor", $"wrong {i}"))).ShouldBe((HttpStatusCode.Unauthorized, "wrong-password"));
        var refused = await Try("auditor", "auditor-lantern");
        refused.StatusCode.ShouldBe(HttpStatusCode.TooManyRequests);
        refused.Headers.RetryAfter.ShouldNotBeNull();
        (await Try("director", "director-lantern")).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task A_changed_role_holds_at_the_next_request_and_a_changed_password_ends_the_cookie()
    {
        await using var service = await RunningService.Start();
        var users = service.Services.GetRequiredService<Users>();
        var account = DemoAccounts.All.First(a => a.Viewer.Name == "north-ports");
        using var browser = new HttpClient { BaseAddress = new Uri(service.Url) };
        (await browser.PostAsJsonAsync("api/session", new { name = "north-ports", password = account.Password })).EnsureSuccessStatusCode();
        (await browser.GetStringAsync("api/dashboards")).ShouldContain("network");
        var token = service.As("north-ports");
        users.Put(account.Viewer with { Roles = ["nothing"] }, "another password", keepTokens: true);
        (await token.GetStringAsync("api/dashboards")).ShouldBe("[]");
        (await browser.GetAsync("api/dashboards")).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
    }

    [Fact]
    public async Task Look_as_needs_the_grant_shows_the_others_rows_changes_nothing_and_is_audited()
    {
        async Task<HttpResponseMessage> As(string account, HttpMethod method, string path, string? body = null)
        {
            var request = new HttpRequestMessage(method, path) { Content = body is null ? null : Json(body) };
            request.Headers.Add("Weir-Look-As", "skerrin-desk");
            return await _service.As(account).SendAsync(request);
        }
        (await Problem(As("auditor", HttpMethod.Get, "api/dashboards"))).Code.ShouldBe("not-allowed");
        var seen = await (
            await As("director", HttpMethod.Post, "api/dashboards/network/results", """{"tiles": ["all-sailings"]}""")
        ).Content.ReadAsStringAsync();
        var own = await _service.Results("skerrin-desk", "network", null, ["all-sailings"]);
        JsonDocument
            .Parse(seen)
            .RootElement.GetProperty("table")
            .GetRawText()
            .ShouldBe(own["all-sailings"].GetProperty("table").GetRawText());
        (
            await Problem(As("director", HttpMethod.Post, "api/dashboards/network/view/edits", """{"edit": "hide", "tile": "late"}"""))
        ).Code.ShouldBe("look-only");
        var audit = _service.Services.GetRequiredService<Audit>().Newest(200);
        audit.ShouldContain(a => a.Who == "director" && a.Act == "look-as" && a.What.StartsWith("skerrin-desk"));
        audit.ShouldContain(a => a.Who == "auditor" && a.Act == "denied");
    }

    [Fact]
    public async Task A_reading_of_single_values_is_in_the_audit_of_those_who_may_read_them_and_tells_no_value()
    {
        var audit = _service.Services.GetRequiredService<Audit>();
        foreach (var account in (string[])["director", "auditor"])
        {
            var boxes = (await _service.Results(account, "atlas", null, ["boxes"]))["boxes"];
            var isTold = boxes.GetProperty("outliers").ValueKind == JsonValueKind.Array;
            isTold.ShouldBe(account == "director");
            audit.Newest(200).Count(a => a is { Act: "detail", What: "atlas boxes" } && a.Who == account).ShouldBe(isTold ? 1 : 0);
        }
        // What is no picture of single values writes nothing.
        await _service.Results("director", "atlas", null, ["vessels"]);
        audit.Newest(200).ShouldNotContain(a => a.Act == "detail" && a.What == "atlas vessels");
    }

    [Fact]
    public async Task A_view_keeps_each_edit_and_undo_and_redo_walk_through_them()
    {
        var developer = _service.As("developer");
        async Task<JsonElement> Post(string path, object? body = null) =>
            await (await developer.PostAsJsonAsync($"api/dashboards/network/view/{path}", body ?? new { }))
                .EnsureSuccessStatusCode()
                .Content.ReadFromJsonAsync<JsonElement>();
        static bool Hidden(JsonElement page) =>
            page.GetProperty("tabs")
                .EnumerateArray()
                .SelectMany(t => t.GetProperty("tiles").EnumerateArray())
                .Single(t => t.GetProperty("name").GetString() == "late")
                .GetProperty("hidden")
                .GetBoolean();
        Hidden(await Post("edits", new { edit = "hide", tile = "late" })).ShouldBeTrue();
        Hidden(await Post("undo")).ShouldBeFalse();
        Hidden(await Post("redo")).ShouldBeTrue();
        Hidden(await Post("edits", new { edit = "reset" })).ShouldBeFalse();
        Hidden(await Post("undo")).ShouldBeTrue();
        Hidden(await developer.GetFromJsonAsync<JsonElement>("api/dashboards/network")).ShouldBeTrue();
        Hidden(await _service.As("director").GetFromJsonAsync<JsonElement>("api/dashboards/network")).ShouldBeFalse();
        (await Problem(developer.PostAsJsonAsync("api/dashboards/network/view/edits", new { edit = "hide", tile = "none" }))).Code.ShouldBe(
            "edit-refused"
        );
    }

    [Fact]
    public async Task Steps_are_told_in_words_and_one_goes_to_any_of_them_and_back()
    {
        await using var service = await RunningService.Start();
        var client = service.As("north-ports");
        const string View = "api/dashboards/network/view";
        async Task<JsonElement> Send(string path, string body)
        {
            var response = await client.PostAsync($"{View}/{path}", Json(body));
            response.StatusCode.ShouldBe(HttpStatusCode.OK, await response.Content.ReadAsStringAsync());
            return await response.Content.ReadFromJsonAsync<JsonElement>();
        }
        string[] Tabs(JsonElement page) =>
            [
                .. page.GetProperty("tabs")
                    .EnumerateArray()
                    .Select(t => t.GetProperty("title").GetString()! + (t.GetProperty("hidden").GetBoolean() ? " (hidden)" : "")),
            ];
        async Task<(long Step, string Words, bool IsUndone)[]> Steps() =>
            [
                .. (await client.GetFromJsonAsync<JsonElement>($"{View}/steps"))
                    .EnumerateArray()
                    .Select(s =>
                        (s.GetProperty("step").GetInt64(), s.GetProperty("words").GetString()!, s.GetProperty("isUndone").GetBoolean())
                    ),
            ];
        (await Steps()).ShouldBeEmpty();
        await Send("edits", """{"edit": "rename-tab", "tab": "overview", "title": "At a glance"}""");
        await Send("edits", """{"edit": "hide-tab", "tab": "punctuality"}""");
        await Send("edits", """{"edit": "hide", "tile": "income"}""");
        var page = await Send("edits", """{"edit": "move", "tile": "passengers", "tab": "weather-and-fuel"}""");
        Tabs(page).ShouldBe(["At a glance", "Punctuality (hidden)", "Weather and fuel"]);
        page.GetProperty("tabs")[0].GetProperty("renamed").GetString().ShouldBe("Overview");
        var steps = await Steps();
        steps
            .Select(s => s.Words)
            .ShouldBe([
                "Moved Passengers carried to the tab Weather and fuel",
                "Hid Income",
                "Hid the tab Punctuality",
                "Called the tab Overview At a glance",
            ]);

        Tabs(await Send("go-to", $$"""{"step": {{steps[3].Step}}}""")).ShouldBe(["At a glance", "Punctuality", "Weather and fuel"]);
        (await Steps()).Select(s => s.IsUndone).ShouldBe([true, true, true, false]);
        Tabs(await Send("go-to", """{"step": 0}""")).ShouldBe(["Overview", "Punctuality", "Weather and fuel"]);
        Tabs(await Send("go-to", $$"""{"step": {{steps[0].Step}}}""")).ShouldBe(Tabs(page));
        // Another's step is none of one's own, and neither is one that went with a new edit.
        (await Problem(service.As("director").PostAsync($"{View}/go-to", Json($$"""{"step": {{steps[0].Step}}}""")))).Code.ShouldBe(
            "no-such-step"
        );
        await Send("go-to", $$"""{"step": {{steps[2].Step}}}""");
        await Send("edits", """{"edit": "rename-tab", "tab": "overview", "title": ""}""");
        (await Problem(client.PostAsync($"{View}/go-to", Json($$"""{"step": {{steps[0].Step}}}""")))).Code.ShouldBe("no-such-step");
        (await Problem(client.PostAsync($"{View}/edits", Json("""{"edit": "hide-tab", "tab": "none"}""")))).Code.ShouldBe("edit-refused");
        (await Problem(client.PostAsync($"{View}/edits", Json("""{"edit": "hide-tab"}""")))).Code.ShouldBe("edit-refused");
    }

    [Fact]
    public async Task Views_with_names_are_ones_own_each_with_its_arrangement_and_one_opens_first()
    {
        await using var service = await RunningService.Start();
        var client = service.As("north-ports");
        const string Dashboard = "api/dashboards/network";
        async Task<JsonElement> Send(string path, string body)
        {
            var response = await client.PostAsync($"{Dashboard}/{path}", Json(body));
            response.StatusCode.ShouldBe(HttpStatusCode.OK, await response.Content.ReadAsStringAsync());
            return await response.Content.ReadFromJsonAsync<JsonElement>();
        }
        async Task<(string View, string[] Tabs)> Page(string query = "")
        {
            var page = await client.GetFromJsonAsync<JsonElement>($"{Dashboard}{query}");
            return (
                page.GetProperty("view").GetProperty("view").GetString()!,
                [.. page.GetProperty("tabs").EnumerateArray().Select(t => t.GetProperty("title").GetString()!)]
            );
        }
        string[] published = ["Overview", "Punctuality", "Weather and fuel"];
        await Send("view/edits", """{"edit": "rename-tab", "tab": "overview", "title": "Mine"}""");
        var copy = (await Send("views", """{"title": " Of mine ", "from": ""}""")).GetProperty("view").GetString()!;
        var plain = (await Send("views", """{"title": "Plain", "fromOpening": true}""")).GetProperty("view").GetString()!;
        (await Page($"?view={copy}")).Tabs.ShouldBe(["Mine", "Punctuality", "Weather and fuel"]);
        (await Page($"?view={copy}")).View.ShouldBe(copy);
        (await Page($"?view={plain}")).Tabs.ShouldBe(published);

        // An edit lands in the view that it names, and in no other.
        await Send($"view/edits?view={plain}", """{"edit": "move", "tile": "all-sailings", "tab": "punctuality"}""");
        await Send($"view/edits?view={copy}", """{"edit": "rename-tab", "tab": "overview", "title": "Copied"}""");
        (await Page()).Tabs[0].ShouldBe("Mine");
        (await Page($"?view={plain}")).Tabs.ShouldBe(published);
        (await Page($"?view={copy}")).Tabs[0].ShouldBe("Copied");
        await Send($"view/undo?view={copy}", "{}");
        (await Page($"?view={copy}")).Tabs[0].ShouldBe("Mine");

        // What reaches what is by the arrangement of the view: on another tab a tile is not filtered any more.
        async Task<string> Total(string view)
        {
            var answer = await client.PostAsync(
                $"{Dashboard}/results",
                Json(
                    $$$"""{"tiles": ["passengers"], "selections": {"sailings-by-class": {"members": [["Swift"]]}}, "viewing": {"view": "{{{view}}}"}}"""
                )
            );
            return JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement.GetProperty("table").GetRawText();
        }
        var together = await Total("");
        await Send($"view/edits?view={plain}", """{"edit": "move", "tile": "sailings-by-class", "tab": "punctuality"}""");
        (await Total(plain)).ShouldNotBe(together);
        (await Total("")).ShouldBe(together);

        await Send($"views/{plain}/first", "{}");
        (await Page()).View.ShouldBe(plain);
        (await Page("?view=")).View.ShouldBe("", "the one without a name has an address of its own");
        (await client.GetStringAsync("api/dashboards")).ShouldContain("\"title\":\"Of mine\"");
        await Send($"views/{plain}/remove", "{}");
        (await Page()).View.ShouldBe("", "what was removed does not open");
        (await Problem(client.GetAsync($"{Dashboard}?view={plain}"))).ShouldBe((HttpStatusCode.NotFound, "unknown-view"));
        (await Problem(client.PostAsync($"{Dashboard}/view/edits?view={plain}", Json("""{"edit": "reset"}""")))).Code.ShouldBe(
            "unknown-view"
        );
        await Send($"views/{plain}/restore", "{}");
        (await Page($"?view={plain}")).View.ShouldBe(plain);
        await Send($"views/{plain}/title", """{"title": "As it was"}""");

        // Nobody else has them, and what can't be meant is refused.
        var other = service.As("director");
        (await Problem(other.GetAsync($"{Dashboard}?view={plain}"))).Code.ShouldBe("unknown-view");
        (await Problem(other.PostAsync($"{Dashboard}/views/{plain}/title", Json("""{"title": "Theirs"}""")))).Code.ShouldBe("unknown-view");
        (await Problem(client.PostAsync($"{Dashboard}/views", Json("""{"title": "  "}""")))).Code.ShouldBe("bad-title");
        (await Problem(client.PostAsync($"{Dashboard}/views", Json("""{"title": "x", "from": "none"}""")))).Code.ShouldBe("unknown-view");
        (await Problem(service.As("auditor").PostAsync($"{Dashboard}/views", Json("""{"title": "x"}""")))).Code.ShouldBe("not-allowed");
        for (var i = 2; i < 50; i++)
            await Send("views", """{"title": "more"}""");
        (await Problem(client.PostAsync($"{Dashboard}/views", Json("""{"title": "x"}""")))).Code.ShouldBe("too-many-views");
    }

    [Fact]
    public async Task A_shared_view_opens_under_the_rights_of_who_looks_and_stops_when_it_is_withdrawn()
    {
        await using var service = await RunningService.Start();
        var owner = service.As("director");
        const string Dashboard = "api/dashboards/network";
        static async Task<JsonElement> Ok(Task<HttpResponseMessage> asked)
        {
            using var response = await asked;
            response.StatusCode.ShouldBe(HttpStatusCode.OK, await response.Content.ReadAsStringAsync());
            return await response.Content.ReadFromJsonAsync<JsonElement>();
        }
        Task<JsonElement> Edit(HttpClient client, string view, string edit) =>
            Ok(client.PostAsync($"{Dashboard}/view/edits?view={view}", Json(edit)));
        var made = (await Ok(owner.PostAsync($"{Dashboard}/views", Json("""{"title": "Money", "fromOpening": true}"""))))
            .GetProperty("view")
            .GetString()!;
        // On a tab of the owner's own stand a tile that the desk has and one that it has not.
        await Edit(owner, made, """{"edit": "add-tab", "tab": "own-1", "title": "Money first"}""");
        await Edit(owner, made, """{"edit": "move", "tile": "fuel-by-month", "tab": "own-1"}""");
        await Edit(owner, made, """{"edit": "move", "tile": "income", "tab": "own-1"}""");
        await Edit(owner, made, """{"edit": "order-tabs", "tabs": ["own-1", "weather-and-fuel", "overview", "punctuality"]}""");
        await Edit(
            owner,
            made,
            """{"edit": "keep-picks", "selections": {"income-by-route": {"members": [["Lanternhead–Tolmarra"]]}}, "parameters": {}}"""
        );

        async Task<string> Share(string kind, string body) =>
            (await Ok(owner.PostAsync($"{Dashboard}/views/{made}/shares", Json(body))))
                .EnumerateArray()
                .Single(s => s.GetProperty("kind").GetString() == kind)
                .GetProperty("view")
                .GetString()!;
        var shared = await Share("person", """{"person": "skerrin-desk", "live": true}""");
        var desk = service.As("skerrin-desk");
        async Task<JsonElement> Page(HttpClient client, string view) => await Ok(client.GetAsync($"{Dashboard}?view={view}"));
        var page = await Page(desk, shared);
        page.GetProperty("mayArrange").GetBoolean().ShouldBeFalse();
        page.GetProperty("view").GetProperty("owner").GetString().ShouldBe("Director");
        page.GetProperty("view").GetProperty("dropped").GetArrayLength().ShouldBe(0);
        page.GetProperty("tabs")[0].GetProperty("title").GetString().ShouldBe("Money first");
        page.GetProperty("tabs")[0]
            .GetProperty("tiles")
            .EnumerateArray()
            .Select(t => t.GetProperty("name").GetString())
            .ShouldBe(["income"]);
        foreach (var hidden in (string[])["fuel-by-month", "Fuel cost", "Tolmarra"])
            page.GetRawText().ShouldNotContain(hidden);
        // Its picks are held against the desk's rights: told by count, never by value.
        var opening = await Ok(
            desk.PostAsync($"{Dashboard}/opening", Json($$$"""{"selections": null, "viewing": {"view": "{{{shared}}}"}}"""))
        );
        opening.GetProperty("dropped").GetArrayLength().ShouldBe(1);
        opening.GetRawText().ShouldNotContain("Tolmarra");
        (await Ok(desk.GetAsync(Dashboard)))
            .GetProperty("view")
            .GetProperty("sharedWithMe")[0]
            .GetProperty("owner")
            .GetString()
            .ShouldBe("Director");

        // Reading only; a view of one's own is made from what one sees, and holds nothing of the rest.
        (
            await Problem(desk.PostAsync($"{Dashboard}/view/edits?view={shared}", Json("""{"edit": "hide", "tile": "income"}""")))
        ).Code.ShouldBe("not-yours");
        (await Problem(desk.GetAsync($"{Dashboard}/view/steps?view={shared}"))).Code.ShouldBe("not-yours");
        var own = (await Ok(desk.PostAsync($"{Dashboard}/views", Json($$"""{"title": "From above", "from": "{{shared}}"}"""))))
            .GetProperty("view")
            .GetString()!;
        var copied = await Page(desk, own);
        copied.GetProperty("tabs")[0].GetProperty("title").GetString().ShouldBe("Money first");
        copied.GetProperty("view").GetProperty("dropped").GetArrayLength().ShouldBe(0);
        (await desk.GetStringAsync($"{Dashboard}/view/steps?view={own}")).ShouldNotContain("uel");

        // Nobody else opens it, whoever knows its address; and none of another dashboard.
        foreach (var other in (string[])["north-ports", "auditor", "developer"])
            (await Problem(service.As(other).GetAsync($"{Dashboard}?view={shared}"))).ShouldBe((HttpStatusCode.NotFound, "unknown-view"));
        (await Problem(desk.GetAsync($"api/dashboards/tickets?view={shared}"))).Code.ShouldBe("unknown-view");

        // A copy stays as it was, a live one goes along; a role and a link open it too.
        var copy = await Share("role", """{"role": "auditor", "live": false}""");
        var link = await Share("link", """{"link": true, "live": true}""");
        (await Page(service.As("auditor"), copy)).GetRawText().ShouldNotContain("Income");
        await Edit(owner, made, """{"edit": "rename-tab", "tab": "own-1", "title": "Money last"}""");
        (await Page(desk, shared)).GetProperty("tabs")[0].GetProperty("title").GetString().ShouldBe("Money last");
        (await Page(service.As("north-ports"), link)).GetProperty("tabs")[0].GetProperty("title").GetString().ShouldBe("Money last");
        (await Page(service.As("auditor"), copy)).GetRawText().ShouldNotContain("Money last");

        var shares = await Ok(owner.GetAsync($"{Dashboard}/views/{made}/shares"));
        shares.GetArrayLength().ShouldBe(3);
        foreach (var share in shares.EnumerateArray())
            await Ok(owner.DeleteAsync($"{Dashboard}/views/{made}/shares/{share.GetProperty("id").GetString()}"));
        foreach (var (account, view) in ((string, string)[])[("skerrin-desk", shared), ("auditor", copy), ("north-ports", link)])
            (await Problem(service.As(account).GetAsync($"{Dashboard}?view={view}"))).Code.ShouldBe("unknown-view");
        // Shared again, and then the view itself is taken away.
        shared = await Share("person", """{"person": "skerrin-desk"}""");
        await Ok(owner.PostAsync($"{Dashboard}/views/{made}/remove", Json("{}")));
        (await Problem(desk.GetAsync($"{Dashboard}?view={shared}"))).Code.ShouldBe("unknown-view");

        // What can't be meant, and who may not.
        (await Problem(owner.PostAsync($"{Dashboard}/views/my/shares", Json("""{"person": "nobody"}""")))).Code.ShouldBe("no-recipient");
        (await Problem(owner.PostAsync($"{Dashboard}/views/my/shares", Json("""{"person": "auditor", "link": true}""")))).Code.ShouldBe(
            "bad-share"
        );
        (await Problem(owner.PostAsync($"{Dashboard}/views/none/shares", Json("""{"link": true}""")))).Code.ShouldBe("unknown-view");
        foreach (var account in (string[])["skerrin-desk", "auditor"])
        {
            (await Problem(service.As(account).PostAsync($"{Dashboard}/views/my/shares", Json("""{"link": true}""")))).Code.ShouldBe(
                "not-allowed"
            );
            (await Problem(service.As(account).GetAsync($"{Dashboard}/recipients"))).Code.ShouldBe("not-allowed");
        }
    }

    [Fact]
    public async Task What_filters_others_follows_a_tile_to_its_new_tab()
    {
        await using var service = await RunningService.Start();
        (
            await service
                .As("director")
                .PostAsJsonAsync(
                    "api/dashboards/network/view/edits",
                    new
                    {
                        edit = "move",
                        tile = "sailings-by-class",
                        tab = "punctuality",
                    }
                )
        ).EnsureSuccessStatusCode();
        var picked = await service.Results(
            "director",
            "network",
            JsonDocument.Parse("""{"sailings-by-class": {"members": [["Swift"]]}}""").RootElement,
            ["late", "income"]
        );
        picked["late"].GetProperty("filters").GetProperty("applied").GetArrayLength().ShouldBe(1);
        picked["income"].GetProperty("filters").GetProperty("notApplied")[0].GetProperty("reason").GetString().ShouldBe("OtherTab");
    }

    [Fact]
    public async Task An_expired_token_is_told_from_an_unknown_one()
    {
        var clock = new MovableClock();
        await using var service = await RunningService.Start(clock: clock);
        var client = service.As("director");
        (await client.GetAsync("api/session")).StatusCode.ShouldBe(HttpStatusCode.OK);
        clock.Now += TimeSpan.FromDays(31);
        (await Problem(client.GetAsync("api/session"))).Code.ShouldBe("token-expired");
        using var stranger = new HttpClient
        {
            BaseAddress = new Uri(service.Url),
            DefaultRequestHeaders = { { "Authorization", "Bearer weir_nonsense" } },
        };
        (await Problem(stranger.GetAsync("api/session"))).Code.ShouldBe("unknown-token");
    }

    [Fact]
    public async Task When_the_database_file_is_missing_tiles_say_so_and_recover_when_it_comes()
    {
        using var files = Repository.Temp();
        await using var service = await RunningService.Start(files: files.Path);
        var missing = (await service.Results("director", "network", null, ["income", "vessels"]))["income"];
        missing.GetProperty("state").GetString().ShouldBe("failed");
        missing.GetProperty("problem").GetProperty("code").GetString().ShouldBe("source-unavailable");
        missing.GetProperty("problem").GetProperty("remedy").GetString().ShouldNotBeNullOrEmpty();
        File.Copy(Path.Combine(Repository.DemoFiles(), "lantern-isles.duckdb"), files.File("lantern-isles.duckdb"));
        (await service.Results("director", "network", null, ["income"]))["income"].GetProperty("state").GetString().ShouldBe("ready");
    }

    [Fact]
    public async Task What_is_published_is_committed_in_the_checkout_with_its_author_and_nothing_else_is()
    {
        using var folder = Repository.Temp();
        Repository.CopyDemo(folder.Path);
        string Git(params string[] arguments)
        {
            var info = new System.Diagnostics.ProcessStartInfo(
                "git",
                ["-C", folder.Path, "-c", "user.name=T", "-c", "user.email=t@t", .. arguments]
            )
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            };
            using var process = System.Diagnostics.Process.Start(info)!;
            var (output, error) = (process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
            process.WaitForExit();
            process.ExitCode.ShouldBe(0, error.Result);
            return output.Result;
        }
        Git("init", "--quiet");
        Git("add", ".");
        Git("commit", "--quiet", "-m", "Begun");
        // What somebody has staged is theirs to commit.
        folder.File("notes.txt", "mine");
        Git("add", "notes.txt");
        await using var service = await RunningService.Start(workspace: folder.Path, watch: true, change: o => o with { Commit = true });
        var developer = service.As("developer");
        async Task Publish(string title, string why)
        {
            var step = new
            {
                @do = "set",
                at = new[] { "title" },
                value = title,
            };
            var (_, draft) = await Calls.Send(
                developer,
                HttpMethod.Post,
                "api/drafts/dashboards/tickets/steps",
                new { steps = new[] { step } }
            );
            var publishing = new { step = draft.GetProperty("step").GetInt64(), why };
            await Calls.Send(developer, HttpMethod.Post, "api/drafts/dashboards/tickets/publish", publishing);
        }
        await Publish("Fares", "# As the \"office\" says; `id` $(id)");
        Git("log", "-1", "--format=%an <%ae>|%cn|%B")
            .TrimEnd()
            .ShouldBe("Developer <developer@weir.invalid>|Weir|# As the \"office\" says; `id` $(id)");
        Git("show", "--name-only", "--format=", "HEAD").Trim().ShouldBe("dashboards/tickets.yaml");
        Git("show", "HEAD:dashboards/tickets.yaml").ShouldContain("title: Fares");
        // A file that moves is gone at its old place in the same commit.
        await Calls.Send(
            developer,
            HttpMethod.Post,
            "api/renames",
            new
            {
                kind = "dashboard",
                from = "tickets",
                to = "fares",
            }
        );
        Git("show", "--name-status", "--no-renames", "--format=%B", "HEAD")
            .Split('\n', StringSplitOptions.RemoveEmptyEntries)
            .ShouldBe(["tickets is called fares", "A\tdashboards/fares.yaml", "D\tdashboards/tickets.yaml", "M\treports/terminals.yaml"]);
        Git("diff", "--cached", "--name-only").Trim().ShouldBe("notes.txt");
        // What git refuses is published all the same, and is in the folder.
        folder.File(".git/index.lock", "");
        var (_, told) = await Calls.Send(
            developer,
            HttpMethod.Post,
            "api/renames",
            new
            {
                kind = "dashboard",
                from = "fares",
                to = "tickets",
            }
        );
        // Whoever published is told, and not how the machine is laid out.
        var beside = told.GetProperty("beside").EnumerateArray().Single().GetString()!;
        beside.ShouldContain("was not committed");
        beside.ShouldNotContain(folder.Path);
        (await service.As("director").GetStringAsync("api/dashboards")).ShouldContain("\"tickets\"");
        File.Exists(folder.File("dashboards/tickets.yaml")).ShouldBeTrue();
        Git("log", "--oneline").Split('\n', StringSplitOptions.RemoveEmptyEntries).Length.ShouldBe(3);
    }

    [Fact]
    public async Task A_saved_change_of_the_folder_is_served_and_a_broken_one_leaves_the_last_good_version()
    {
        using var folder = Repository.Temp();
        Repository.CopyDemo(folder.Path);
        await using var service = await RunningService.Start(workspace: folder.Path, watch: true);
        using var stream = await service.As("developer").GetAsync("api/events", HttpCompletionOption.ResponseHeadersRead);
        using var events = new StreamReader(await stream.Content.ReadAsStreamAsync());
        async Task<(string Kind, string Data)> Next()
        {
            string kind = "",
                data = "";
            using var limit = new CancellationTokenSource(TimeSpan.FromMinutes(10));
            while (await events.ReadLineAsync(limit.Token) is { } line)
            {
                if (line.StartsWith("event: "))
                    kind = line[7..];
                else if (line.StartsWith("data: "))
                    data = line[6..];
                else if (line.Length == 0 && kind.Length > 0)
                    return (kind, data);
            }
            throw new EndOfStreamException();
        }
        (await Next()).Kind.ShouldBe("published");
        var path = folder.File("dashboards/tickets.yaml");
        var text = File.ReadAllText(path);
        File.WriteAllText(path, text.Replace("title: Ticket sales", "title: Tickets and more"));
        (await Next()).Kind.ShouldBe("published");
        (await service.As("director").GetStringAsync("api/dashboards")).ShouldContain("Tickets and more");
        File.WriteAllText(path, text.Replace("picture: table", "picture: tabel"));
        var broken = await Next();
        broken.Kind.ShouldBe("broken");
        broken.Data.ShouldContain("dashboards/tickets.yaml:");
        broken.Data.ShouldContain("Did you mean table?");
        (await service.As("director").GetStringAsync("api/dashboards")).ShouldContain("Tickets and more");
    }

    [Fact]
    public async Task Publishing_needs_the_grant_and_a_broken_set_changes_nothing_and_views_survive()
    {
        await using var service = await RunningService.Start();
        var developer = service.As("developer");
        (
            await service.As("director").PostAsJsonAsync("api/dashboards/network/view/edits", new { edit = "hide", tile = "late" })
        ).EnsureSuccessStatusCode();
        (
            await service.As("director").PostAsJsonAsync("api/dashboards/network/view/edits", new { edit = "hide", tile = "cancelled" })
        ).EnsureSuccessStatusCode();
        var fetched = (await developer.GetFromJsonAsync<JsonElement>("api/definitions"))
            .GetProperty("files")
            .Deserialize<Dictionary<string, string>>()!;
        (await Problem(service.As("director").PutAsJsonAsync("api/definitions", new { files = fetched }))).Code.ShouldBe("not-allowed");
        var broken = await (
            await developer.PutAsJsonAsync(
                "api/definitions",
                new { files = new Dictionary<string, string>(fetched) { ["access.yaml"] = "roles: 7" } }
            )
        ).Content.ReadFromJsonAsync<JsonElement>();
        broken.GetProperty("accepted").GetBoolean().ShouldBeFalse();
        (await developer.GetFromJsonAsync<JsonElement>("api/definitions")).GetProperty("version").GetInt64().ShouldBe(1);
        (
            await Problem(
                developer.PutAsJsonAsync("api/definitions", new { files = new Dictionary<string, string> { ["../x.yaml"] = "" } })
            )
        ).Code.ShouldBe("bad-path");

        // A newer version without one of the hidden tiles: the other stays hidden, and the viewer is told.
        fetched["dashboards/network.yaml"] = fetched["dashboards/network.yaml"]
            .Replace("- tile: cancelled\n", "- tile: cancelled-sailings\n");
        (await (await developer.PutAsJsonAsync("api/definitions", new { files = fetched })).Content.ReadFromJsonAsync<JsonElement>())
            .GetProperty("version")
            .GetInt64()
            .ShouldBe(2);
        var page = await service.As("director").GetFromJsonAsync<JsonElement>("api/dashboards/network");
        page.GetProperty("view").GetProperty("dropped")[0].GetString()!.ShouldContain("cancelled");
        page.GetRawText().ShouldContain("\"hidden\":true");
        fetched["dashboards/network.yaml"] = fetched["dashboards/network.yaml"]
            .Replace("- tile: cancelled-sailings\n", "- tile: cancelled\n");
        (await developer.PutAsJsonAsync("api/definitions", new { files = fetched })).EnsureSuccessStatusCode();
        (await service.As("director").GetFromJsonAsync<JsonElement>("api/dashboards/network"))
            .GetProperty("view")
            .GetProperty("dropped")
            .GetArrayLength()
            .ShouldBe(0);
    }

    private sealed class MovableClock : TimeProvider
    {
        public DateTimeOffset Now { get; set; } = new(2026, 1, 5, 12, 0, 0, TimeSpan.Zero);

        public override DateTimeOffset GetUtcNow() => Now;

        public override long TimestampFrequency => TimeSpan.TicksPerSecond;

        public override long GetTimestamp() => Now.UtcTicks;
    }
}

/// <summary>A SQL query straight to the demo's database, past Weir.</summary>
internal static class DemoSql
{
    public static object Scalar(string sql)
    {
        using var connection = new DuckDB.NET.Data.DuckDBConnection(
            "Data "
                + $"Source={Path.Combine(Repository.DemoFiles(), "lantern-isles.duckdb")};access_mode=READ_ONLY;enable_external_access=false;autoinstall_known_extensions=false;autoload_known_extensions=false;memory_limit=160MB;lock_configuration=true"
        );
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        return command.ExecuteScalar()!;
    }
}
