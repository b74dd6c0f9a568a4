using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Shouldly;
using Weir.Testing;

namespace Weir.Service.Tests;

/// <summary>What viewers add to a dashboard and how they have it drawn, as far as its developer and their rights let them.</summary>
public sealed class OwnTilesTests : IDisposable
{
    private readonly TempFolder _folder = Repository.Temp("own-tiles");

    public void Dispose() => _folder.Dispose();

    private const string Bridge = "api/dashboards/bridge";

    private static StringContent Json(string body) => new(body, Encoding.UTF8, "application/json");

    private static async Task<JsonElement> Read(Task<HttpResponseMessage> asked)
    {
        var response = await asked;
        var text = await response.Content.ReadAsStringAsync();
        response.StatusCode.ShouldBe(HttpStatusCode.OK, text);
        return JsonDocument.Parse(text).RootElement;
    }

    private static Task<JsonElement> Edit(HttpClient client, string edit) => Read(client.PostAsync($"{Bridge}/view/edits", Json(edit)));

    private static async Task<string> Refused(HttpClient client, string edit)
    {
        var response = await client.PostAsync($"{Bridge}/view/edits", Json(edit));
        response.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        return (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("detail").GetString()!;
    }

    private static JsonElement Tile(JsonElement page, string name) =>
        page.GetProperty("tabs")
            .EnumerateArray()
            .SelectMany(t => t.GetProperty("tiles").EnumerateArray())
            .First(t => t.GetProperty("name").GetString() == name);

    private static string[] Names(JsonElement page, string tab) =>
        [
            .. page.GetProperty("tabs")
                .EnumerateArray()
                .First(t => t.GetProperty("name").GetString() == tab)
                .GetProperty("tiles")
                .EnumerateArray()
                .Select(t => t.GetProperty("name").GetString()!),
        ];

    private static string Text(JsonElement element, string property) => element.GetProperty(property).GetString()!;

    [Fact]
    public async Task A_tile_of_a_catalogue_is_added_titled_copied_and_removed_and_answers_as_any_other()
    {
        await using var service = await RunningService.Start();
        var client = service.As("director");
        var offered = await client.GetFromJsonAsync<JsonElement>($"{Bridge}/catalogues");
        offered.EnumerateArray().Select(c => Text(c, "title")).ShouldBe(["The network today", "The purse"]);
        var page = await Edit(client, """{"edit": "add-tile", "tile": "own-taken", "shared": "purse/takings-by-month", "tab": "hours"}""");
        var added = Tile(page, "own-taken");
        (added.GetProperty("own").GetBoolean(), Text(added, "title")).ShouldBe((true, "Takings by month"));
        Names(page, "hours").ShouldBe(["by-hour", "reasons", "spread", "own-taken"]);
        page.GetProperty("parameters")
            .EnumerateArray()
            .Select(p => Text(p, "name"))
            .ShouldContain("sold_in", "those of its data come with it");

        // It is linked by dataset and concept: what is picked of a day or a sea area filters it.
        var all = (await service.Results("director", "bridge", tiles: ["own-taken"]))["own-taken"];
        var north = (await service.Results("director", "bridge", Picked("by-area", "North Reach"), ["own-taken"]))["own-taken"];
        north
            .GetProperty("filters")
            .GetProperty("notApplied")
            .EnumerateArray()
            .Single()
            .GetProperty("reason")
            .GetString()
            .ShouldBe("OtherTab");
        var area = (await service.Results("director", "bridge", Picked("sea-area", "North Reach"), ["own-taken"]))["own-taken"];
        Sum(area).ShouldBeInRange(1, Sum(all) / 2);

        page = await Edit(client, """{"edit": "retitle", "tile": "own-taken", "title": "What we took"}""");
        Text(Tile(page, "own-taken"), "title").ShouldBe("What we took");
        page = await Edit(client, """{"edit": "copy-tile", "tile": "own-taken", "as": "own-taken-2", "tab": "watch"}""");
        Text(Tile(page, "own-taken-2"), "title").ShouldBe("What we took");
        page = await Edit(client, """{"edit": "copy-tab", "tab": "hours", "as": "own-hours", "title": "Hours again"}""");
        Names(page, "own-hours").ShouldBe(["own-hours-by-hour", "own-hours-reasons", "own-hours-spread", "own-hours-own-taken"]);
        page = await Edit(client, """{"edit": "remove-tile", "tile": "own-taken"}""");
        Names(page, "hours").ShouldNotContain("own-taken");
        page = await Edit(client, """{"edit": "reset", "keepOwn": true}""");
        Names(page, "watch").ShouldContain("own-taken-2");
        Names(page, "own-hours").Length.ShouldBe(4);
        page = await Edit(client, """{"edit": "reset"}""");
        page.GetProperty("tabs").GetArrayLength().ShouldBe(3);
        page = await Read(client.PostAsync($"{Bridge}/view/undo", null));
        Names(page, "own-hours").Length.ShouldBe(4);

        (await Refused(client, """{"edit": "add-tile", "tile": "own-x", "shared": "purse/none", "tab": "watch"}""")).ShouldBe(
            "A tile that was added is not offered any more."
        );
        (await Refused(client, """{"edit": "add-tile", "tile": "taken", "shared": "purse/after-fuel", "tab": "watch"}""")).ShouldContain(
            "own-"
        );
        (await Refused(client, """{"edit": "add-tile", "tile": "own-x", "shared": "purse/after-fuel", "tab": "none"}""")).ShouldContain(
            "none"
        );
    }

    [Fact]
    public async Task A_tile_made_from_nothing_answers_within_its_makers_rights_and_for_others_within_theirs()
    {
        await using var service = await RunningService.Start();
        var (ports, director, auditor) = (service.As("north-ports"), service.As("director"), service.As("auditor"));
        const string Made =
            """{"edit": "make-tile", "tile": "own-sold", "dataset": "tickets", "drawing": {"picture": "bar", "show": ["takings"], "by": ["terminal"], "sort": "takings", "descending": true}, "tab": "hours"}""";
        var page = await Edit(ports, Made);
        Names(page, "hours").ShouldBe(["by-hour", "reasons", "spread", "own-sold"]);
        Tile(page, "own-sold").GetProperty("own").GetBoolean().ShouldBeTrue();
        var theirs = (await service.Results("north-ports", "bridge", tiles: ["own-sold"]))["own-sold"];
        var members = theirs.GetProperty("table").GetProperty("values")[0].EnumerateArray().Select(v => v.GetString()!).ToArray();
        await Edit(director, Made);
        var all = (await service.Results("director", "bridge", tiles: ["own-sold"]))["own-sold"];
        all.GetProperty("table").GetProperty("values")[0].GetArrayLength().ShouldBeGreaterThan(members.Length);
        Sum(theirs).ShouldBeLessThan(Sum(all));

        // It is picked, drawn otherwise, copied and taken back as any other; a step back brings its data too.
        var sea = (await service.Results("director", "bridge", Picked("sea-area", "North Reach"), ["own-sold"]))["own-sold"];
        Sum(sea).ShouldBeInRange(1, Sum(all) - 1);
        page = await Edit(
            director,
            """{"edit": "draw", "tile": "own-sold", "drawing": {"picture": "table", "show": ["takings", "mean_price"]}}"""
        );
        Text(Tile(page, "own-sold"), "picture").ShouldBe("table");
        page = await Read(director.PostAsync($"{Bridge}/view/undo", null));
        Text(Tile(page, "own-sold"), "picture").ShouldBe("bar");
        page = await Read(director.PostAsync($"{Bridge}/view/undo", null));
        Names(page, "hours").ShouldNotContain("own-sold");
        page = await Read(director.PostAsync($"{Bridge}/view/redo", null));
        Names(page, "hours").ShouldContain("own-sold");

        // What is not granted is told of as what there is not; so is a dataset, word for word.
        string Of(string dataset, string drawing) =>
            $$"""{"edit": "make-tile", "tile": "own-x", "dataset": "{{dataset}}", "drawing": {{drawing}}, "tab": "hours"}""";
        (await Refused(ports, Of("costs", """{"picture": "number", "show": ["x"]}"""))).ShouldBe(
            await Refused(ports, Of("none", """{"picture": "number", "show": ["x"]}"""))
        );
        (await Refused(ports, Of("tickets", """{"picture": "number", "show": ["none"]}"""))).ShouldBe("There is no measure none.");
        (await Refused(ports, Of("tickets", """{"picture": "bar", "show": ["takings"]}"""))).ShouldContain("takes");
        (await Refused(ports, Of("tickets", """{"picture": "text"}"""))).ShouldContain("no kind of picture");
        (await Refused(ports, Of("tickets", """{"show": ["takings"]}"""))).ShouldContain("leaves out");
        foreach (var other in (HttpClient[])[auditor, service.As("skerrin-desk"), service.As("developer")])
            (await other.PostAsync($"{Bridge}/view/edits", Json(Made))).StatusCode.ShouldBe(HttpStatusCode.Forbidden);

        // Shared, it answers with the rows of whoever looks, and is not there for who does not read its data.
        var link = await Read(ports.PostAsync($"{Bridge}/views/my/shares", Json("""{"link": true, "live": true}""")));
        var view = Text(link.EnumerateArray().Single(), "view");
        var shown = await director.GetFromJsonAsync<JsonElement>($"{Bridge}?view={view}");
        Names(shown, "hours").ShouldContain("own-sold");
        shown = await service.As("skerrin-desk").GetFromJsonAsync<JsonElement>($"{Bridge}?view={view}");
        Names(shown, "hours").ShouldNotContain("own-sold");
        shown.GetRawText().ShouldNotContain("takings");
    }

    private static object Picked(string tile, string member) =>
        new Dictionary<string, object> { [tile] = new { members = new[] { new[] { member } } } };

    private static decimal Sum(JsonElement result) =>
        result.GetProperty("table").GetProperty("values")[1].EnumerateArray().Sum(v => v.GetDecimal());

    [Fact]
    public async Task A_tile_is_drawn_otherwise_for_a_visit_or_in_the_view_and_back()
    {
        await using var service = await RunningService.Start();
        var client = service.As("north-ports");
        async Task<JsonElement> Page(string drawing) =>
            await client.GetFromJsonAsync<JsonElement>(
                $"{Bridge}?set={Uri.EscapeDataString(JsonSerializer.Serialize(new Dictionary<string, string[]> { ["draw:by-month"] = [drawing] }))}"
            );
        const string Drawing =
            """{"picture": "table", "show": ["sailings", "late_share"], "by": ["departed.quarter"], "sort": "sailings", "descending": true, "top": 3}""";
        var tile = Tile(await Page(Drawing), "by-month");
        (Text(tile, "picture"), Text(tile, "drawn"), Text(tile, "title")).ShouldBe(
            ("table", "visit", "Sailings and late by quarter, top 3")
        );
        var asked = await client.PostAsJsonAsync(
            $"{Bridge}/results",
            new
            {
                tiles = new[] { "by-month" },
                viewing = new { parameters = new Dictionary<string, string[]> { ["draw:by-month"] = [Drawing] } },
            }
        );
        var result = JsonDocument.Parse(await asked.Content.ReadAsStringAsync()).RootElement;
        var counts = result.GetProperty("table").GetProperty("values")[1].EnumerateArray().Select(v => v.GetInt64()).ToList();
        counts.Count.ShouldBe(3);
        counts.ShouldBe(counts.OrderDescending());
        Tile(await client.GetFromJsonAsync<JsonElement>(Bridge), "by-month")
            .GetProperty("drawn")
            .ValueKind.ShouldBe(JsonValueKind.Null, "only where it is asked for so");

        // What is repeated stays so in another kind that can be, and has the field beside its own in one that can't.
        async Task<(string, bool, int)> Repeated(string drawing)
        {
            var set = JsonSerializer.Serialize(new Dictionary<string, string[]> { ["draw:small"] = [drawing] });
            var small = Tile(await client.GetFromJsonAsync<JsonElement>($"api/dashboards/atlas?set={Uri.EscapeDataString(set)}"), "small");
            return (Text(small, "picture"), small.GetProperty("repeats").GetBoolean(), small.GetProperty("by").GetArrayLength());
        }
        (await Repeated("""{"picture": "bar"}""")).ShouldBe(("bar", true, 2));
        (await Repeated("""{"picture": "heatmap", "split": ""}""")).ShouldBe(("heatmap", false, 2));
        (await Repeated("""{"picture": "pie", "split": ""}""")).ShouldBe(("pie", false, 1));
        (await Repeated("""{"by": ["sea_area"], "split": ""}""")).ShouldBe(("line", false, 1));

        var many = Enumerable.Range(0, 101).ToDictionary(i => $"draw:t{i}", _ => new[] { "{}" });
        (await client.PostAsJsonAsync($"{Bridge}/results", new { viewing = new { parameters = many } })).StatusCode.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );

        // What can't be meant leaves the tile as it is and is told; in an edit it is refused.
        var odd = await Page("""{"picture": "heatmap"}""");
        Text(Tile(odd, "by-month"), "picture").ShouldBe("line");
        odd.GetProperty("view").GetProperty("dropped")[0].GetString()!.ShouldContain("A heatmap takes 2 fields; here is 1.");
        (await Refused(client, """{"edit": "draw", "tile": "by-month", "drawing": {"show": ["none"]}}""")).ShouldBe(
            "There is no measure none."
        );
        (await Refused(client, """{"edit": "draw", "tile": "briefing", "drawing": {"picture": "bar"}}""")).ShouldContain(
            "stays as its developer has it"
        );

        var page = await Edit(client, """{"edit": "draw", "tile": "by-month", "drawing": {"picture": "bar"}}""");
        (Text(Tile(page, "by-month"), "picture"), Text(Tile(page, "by-month"), "drawn"), Text(Tile(page, "by-month"), "title")).ShouldBe(
            ("bar", "view", "Late by month")
        );
        // The visit goes before the view, an empty drawing leads to the developer's.
        Text(Tile(await Page("{}"), "by-month"), "picture").ShouldBe("line");
        page = await Edit(client, """{"edit": "draw", "tile": "by-month", "drawing": null}""");
        Tile(page, "by-month").GetProperty("drawn").ValueKind.ShouldBe(JsonValueKind.Null);

        var choices = await client.GetFromJsonAsync<JsonElement>($"{Bridge}/tiles/by-month/drawings");
        var kinds = choices
            .GetProperty("kinds")
            .EnumerateArray()
            .ToDictionary(k => Text(k, "name"), k => k.GetProperty("unfit").GetString());
        kinds["bar"].ShouldBeNull();
        kinds["number"].ShouldBe("A number takes no fields.");
        kinds.Keys.ShouldNotContain("dropdown", "that only filters");
    }

    [Fact]
    public async Task A_change_that_is_sent_again_is_made_once()
    {
        await using var service = await RunningService.Start();
        var client = service.As("north-ports");
        Task<JsonElement> Send(string path, string request, string body = "")
        {
            var message = new HttpRequestMessage(HttpMethod.Post, $"{Bridge}/view/{path}");
            if (body.Length > 0)
                message.Content = Json(body);
            message.Headers.Add("Idempotency-Key", request);
            return Read(client.SendAsync(message));
        }
        (int Undo, int Redo) Steps(JsonElement page) =>
            (page.GetProperty("view").GetProperty("canUndo").GetInt32(), page.GetProperty("view").GetProperty("canRedo").GetInt32());
        // Made twice it would be refused, since the tab would be there already; to hide twice would be two steps.
        foreach (var _ in Enumerable.Range(0, 2))
            Steps(await Send("edits", "a", """{"edit": "add-tab", "tab": "own-mine", "title": "Mine"}""")).ShouldBe((1, 0));
        foreach (var _ in Enumerable.Range(0, 2))
            Steps(await Send("edits", "b", """{"edit": "hide", "tile": "by-area"}""")).ShouldBe((2, 0));
        foreach (var _ in Enumerable.Range(0, 2))
            Steps(await Send("undo", "c")).ShouldBe((1, 1));
        foreach (var _ in Enumerable.Range(0, 2))
            Steps(await Send("redo", "d")).ShouldBe((2, 0));
        foreach (var _ in Enumerable.Range(0, 2))
            Steps(await Send("go-to", "e", """{"step": 0}""")).ShouldBe((0, 2));
        // Without a name each is one of its own, and others' requests are others'.
        Steps(await Edit(client, """{"edit": "hide", "tile": "by-area"}""")).ShouldBe((1, 0));
        Steps(await Edit(client, """{"edit": "hide", "tile": "by-area"}""")).ShouldBe((2, 0));
        client = service.As("director");
        Steps(await Send("edits", "b", """{"edit": "hide", "tile": "by-area"}""")).ShouldBe((1, 0));
        var tooLong = new HttpRequestMessage(HttpMethod.Post, $"{Bridge}/view/undo");
        tooLong.Headers.Add("Idempotency-Key", new string('x', 65));
        (await client.SendAsync(tooLong)).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }

    [Fact]
    public async Task What_is_hidden_by_the_legend_is_kept_and_told_to_nobody_else()
    {
        await using var service = await RunningService.Start();
        var developer = service.As("developer");
        var page = await Edit(developer, """{"edit": "draw", "tile": "by-area", "drawing": {"without": ["South Deep"]}}""");
        var tile = Tile(page, "by-area");
        (Text(tile, "drawn"), tile.GetProperty("without")[0].GetString(), Text(tile, "title")).ShouldBe(
            ("view", "South Deep", "Late by sea area")
        );
        var share = await Read(developer.PostAsync($"{Bridge}/views/my/shares", Json("""{"person": "skerrin-desk"}""")));
        var view = "shared-" + share.EnumerateArray().Last().GetProperty("id").GetString();
        (await service.As("skerrin-desk").GetStringAsync($"{Bridge}?view={view}")).ShouldNotContain("South Deep");
        var promoted = await Read(developer.PostAsync($"{Bridge}/views/my/promote", Json("""{"name": "told"}""")));
        promoted.GetRawText().ShouldNotContain("South Deep");
        (await Refused(developer, """{"edit": "draw", "tile": "by-area", "drawing": {"without": [null]}}""")).ShouldContain("leaves out");
        page = await Edit(developer, """{"edit": "draw", "tile": "by-area", "drawing": {"without": []}}""");
        Tile(page, "by-area").GetProperty("drawn").ValueKind.ShouldBe(JsonValueKind.Null);
    }

    [Fact]
    public async Task What_is_fixed_stays_and_the_reason_is_said()
    {
        await using var service = await RunningService.Start();
        var client = service.As("director");
        (await Refused(client, """{"edit": "hide", "tile": "briefing"}""")).ShouldBe("briefing stays as its developer has it.");
        (await Refused(client, """{"edit": "hide-tab", "tab": "watch"}""")).ShouldContain("stays");
        (await Refused(client, """{"edit": "table", "tile": "briefing", "table": {"hidden": ["x"]}}""")).ShouldContain("stays");
        (
            await Refused(client, """{"edit": "table", "tile": "reasons", "table": {"widths": [{"column": "x", "width": 5}]}}""")
        ).ShouldContain("leaves out");
        (await Refused(client, """{"edit": "table", "tile": "reasons", "table": {"sorted": [null]}}""")).ShouldContain("leaves out");
        var many = string.Join(", ", Enumerable.Range(0, 600).Select(i => $"\"{i}\""));
        var filters = (string[])
            [
                "null",
                """{"column": null, "least": 2}""",
                """{"column": "x", "least": 1e999}""",
                """{"column": "x", "among": [null]}""",
                $$"""{"column": "x", "begins": "{{new string('x', 201)}}"}""",
                $$"""{"column": "x", "among": [{{many}}]}, {"column": "y", "among": [{{many}}]}""",
            ];
        foreach (var filter in filters)
            (await Refused(client, $$$"""{"edit": "table", "tile": "reasons", "table": {"filters": [{{{filter}}}]}}""")).ShouldContain(
                "leaves out",
                customMessage: filter
            );
        (
            await Refused(
                client,
                """{"edit": "place", "tab": "watch", "tiles": [{"tile": "briefing", "place": {"column": 0, "row": 3, "width": 3, "height": 2}}]}"""
            )
        ).ShouldContain("stays");
        (await Refused(client, """{"edit": "columns", "tab": "hours", "columns": 5}""")).ShouldContain("1, 2, 3, 4");
        var page = await Edit(client, """{"edit": "columns", "tab": "hours", "columns": 3}""");
        Tile(page, "spread").GetProperty("place").GetProperty("column").GetInt32().ShouldBe(8);
        page = await Edit(client, """{"edit": "clear", "tab": "own-page", "title": "My page"}""");
        page.GetProperty("tabs")
            .EnumerateArray()
            .Where(t => !t.GetProperty("hidden").GetBoolean())
            .Select(t => Text(t, "name"))
            .ShouldBe(["watch", "own-page"], "what must stay in sight does");
    }

    [Fact]
    public async Task What_is_shared_opens_under_the_rights_of_whoever_opens_it()
    {
        await using var service = await RunningService.Start();
        var director = service.As("director");
        await Edit(director, """{"edit": "add-tile", "tile": "own-a", "shared": "purse/takings-by-channel", "tab": "hours"}""");
        await Edit(director, """{"edit": "add-tile", "tile": "own-b", "shared": "network/late-by-hour", "tab": "hours"}""");
        await Edit(director, """{"edit": "draw", "tile": "reasons", "drawing": {"show": ["fuel"]}}""");
        await Edit(director, """{"edit": "draw", "tile": "by-area", "drawing": {"picture": "pie"}}""");
        await Edit(director, """{"edit": "copy-tile", "tile": "own-a", "as": "own-c", "tab": "hours"}""");
        var table =
            """{"order": ["fuel", "sea_area", "gone"], "hidden": [], "pinned": ["fuel"], "widths": [{"column": "sea_area", "width": 90}], "sorted": [{"column": "fuel", "descending": true, "under": null}, {"column": "sea_area", "descending": false, "under": "Fenwick Reach"}, {"column": "sea_area", "descending": false, "under": null}], "filters": [{"column": "sea_area", "contains": null, "begins": null, "among": ["Fenwick Reach"], "least": null, "most": null, "from": null, "to": null, "flag": null, "missing": null}]}""";
        var mine = await Edit(director, $$"""{"edit": "table", "tile": "by-area", "table": {{table}}}""");
        Tile(mine, "by-area")
            .GetProperty("table")
            .GetRawText()
            .ShouldBe(table.Replace(" ", "").Replace(",\"gone\"", "").Replace("FenwickReach", "Fenwick Reach"));
        var share = await Read(director.PostAsync($"{Bridge}/views/my/shares", Json("""{"person": "skerrin-desk"}""")));
        var view = "shared-" + share.EnumerateArray().Last().GetProperty("id").GetString();
        var desk = service.As("skerrin-desk");
        var response = await desk.GetStringAsync($"{Bridge}?view={view}");
        var page = JsonDocument.Parse(response).RootElement;
        // The opening view of the desk has put one elsewhere, and draws another by route: what is shared comes on top of that.
        Names(page, "hours").ShouldBe(["by-hour", "spread", "own-b"]);
        Text(Tile(page, "by-area"), "picture").ShouldBe("pie");
        Text(Tile(page, "by-area"), "title").ShouldBe("Late by route");
        var columns = Tile(page, "by-area").GetProperty("table");
        (columns.GetProperty("order")[0].GetString(), columns.GetProperty("pinned").GetArrayLength()).ShouldBe(("sea_area", 0));
        columns.GetProperty("sorted").EnumerateArray().Select(s => Text(s, "column")).ShouldBe(["sea_area"]);
        // What lines have to meet, and below whom they are sorted, may name whom the receiver may not see.
        columns.GetProperty("filters").ValueKind.ShouldBe(JsonValueKind.Null);
        Tile(page, "reasons").GetProperty("drawn").ValueKind.ShouldBe(JsonValueKind.Null);
        page.GetProperty("view").GetProperty("dropped").GetArrayLength().ShouldBe(0, "what is left out is not named");
        foreach (var word in new[] { "takings", "fuel", "own-a", "own-c", "Fenwick Reach" })
            response.ShouldNotContain(word);
        // Nor when a view of one's own is made of it.
        var made = await Read(desk.PostAsync($"{Bridge}/views", Json($$"""{"title": "Mine", "from": "{{view}}"}""")));
        (await desk.GetStringAsync($"{Bridge}?view={Text(made, "view")}")).ShouldNotContain("fuel");
    }

    [Fact]
    public async Task Catalogues_that_are_granted_by_name_do_not_exist_for_others()
    {
        Repository.CopyDemo(
            _folder.Path,
            (_, text) => Repository.Patient(text).Replace("may: [look-as, own]", "may: [look-as, own]\n    catalogues: [purse]")
        );
        await using var service = await RunningService.Start(workspace: _folder.Path);
        async Task<string[]> Offered(string account) =>
            [
                .. (await service.As(account).GetFromJsonAsync<JsonElement>($"{Bridge}/catalogues"))
                    .EnumerateArray()
                    .Select(c => Text(c, "name")),
            ];
        (await Offered("director")).ShouldBe(["purse"]);
        (await Offered("north-ports")).ShouldBeEmpty();
        (
            await Refused(
                service.As("north-ports"),
                """{"edit": "add-tile", "tile": "own-x", "shared": "purse/after-fuel", "tab": "watch"}"""
            )
        ).ShouldBe(
            await Refused(service.As("north-ports"), """{"edit": "add-tile", "tile": "own-x", "shared": "none/none", "tab": "watch"}""")
        );
        (await Offered("auditor")).ShouldBeEmpty("who may not arrange adds nothing");
    }
}
