using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Shouldly;
using Weir.Core;
using Weir.Testing;
using static Weir.Service.Tests.Calls;

namespace Weir.Service.Tests;

/// <summary>What viewers find a dashboard in: by role, promoted from a view, and beside what they made of it.</summary>
public sealed class OpeningViewTests
{
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

    private static async Task<Dictionary<string, string[]>> Tabs(HttpClient client) =>
        (await client.GetFromJsonAsync<JsonElement>(Bridge))
            .GetProperty("tabs")
            .EnumerateArray()
            .Where(t => !t.GetProperty("hidden").GetBoolean())
            .ToDictionary(
                t => t.GetProperty("title").GetString()!,
                t =>
                    t.GetProperty("tiles")
                        .EnumerateArray()
                        .Where(x => !x.GetProperty("hidden").GetBoolean())
                        .Select(x => x.GetProperty("title").GetString()!)
                        .ToArray()
            );

    private static string Told(Dictionary<string, string[]> tabs) => JsonSerializer.Serialize(tabs);

    [Fact]
    public async Task A_role_finds_its_own_opening_view_and_others_that_of_everybody()
    {
        await using var service = await RunningService.Start();
        var desk = await Tabs(service.As("skerrin-desk"));
        desk.Keys.ShouldBe(["The watch", "Hours"]);
        desk["The watch"].ShouldContain("Late by route");
        desk["The watch"].ShouldContain("Passengers carried by quarter");
        (await Tabs(service.As("director")))["The watch"].ShouldContain("Late by sea area");
        // It is no view of theirs: nothing to reset, and what they change is theirs on top of it.
        var page = await Edit(service.As("skerrin-desk"), """{"edit": "unhide-tab", "tab": "purse"}""");
        page.GetProperty("view").GetProperty("canUndo").GetInt32().ShouldBe(1);
        (await Tabs(service.As("skerrin-desk"))).Keys.ShouldBe(["The watch", "Hours", "What comes in"]);
        await Edit(service.As("skerrin-desk"), """{"edit": "reset"}""");
        (await Tabs(service.As("skerrin-desk"))).Keys.ShouldBe(["The watch", "Hours"]);
    }

    [Fact]
    public async Task A_view_becomes_the_opening_view_as_text_and_others_are_told_what_came()
    {
        await using var service = await RunningService.Start();
        var (developer, viewer, fresh) = (service.As("developer"), service.As("north-ports"), service.As("director"));
        // Somebody has a view of their own from before.
        await Edit(
            viewer,
            """{"edit": "place", "tab": "hours", "tiles": [{"tile": "reasons", "place": {"column": 0, "row": 6, "width": 12, "height": 3}}]}"""
        );
        await Edit(viewer, """{"edit": "draw", "tile": "by-month", "drawing": {"picture": "area"}}""");
        // A long way to a short arrangement.
        await Edit(developer, """{"edit": "hide", "tile": "spread"}""");
        await Edit(developer, """{"edit": "unhide", "tile": "spread"}""");
        await Edit(developer, """{"edit": "add-tab", "tab": "own-tab-1", "title": "own-made: first"}""");
        await Edit(developer, """{"edit": "add-tile", "tile": "own-taken", "shared": "purse/takings-by-month", "tab": "own-tab-1"}""");
        await Edit(developer, """{"edit": "retitle", "tile": "own-taken", "title": "Taken"}""");
        await Edit(developer, """{"edit": "move", "tile": "reasons", "tab": "watch", "section": "where"}""");
        await Edit(developer, """{"edit": "draw", "tile": "by-month", "drawing": {"picture": "bar"}}""");
        var before = await Tabs(developer);
        (await viewer.PostAsync($"{Bridge}/views/my/promote", Json("{}"))).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        (await developer.PostAsync($"{Bridge}/views/my/promote", Json("""{"roles": ["none"]}"""))).StatusCode.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
        (await developer.PostAsync($"{Bridge}/views/my/promote", Json("""{"name": "../x"}"""))).StatusCode.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
        var promoted = await Read(developer.PostAsync($"{Bridge}/views/my/promote", Json("{}")));
        promoted.GetProperty("answer").GetProperty("accepted").GetBoolean().ShouldBeTrue(promoted.ToString());
        var text = promoted.GetProperty("text").GetString()!;
        text.ShouldBe(
            """
            opening_view: bridge
            dashboard: bridge
            edits:
              - { edit: add-tab, tab: bridge-tab-1, title: "own-made: first" }
              - { edit: add-tile, tile: bridge-taken, shared: purse/takings-by-month, tab: bridge-tab-1 }
              - { edit: retitle, tile: bridge-taken, title: Taken }
              - { edit: move, tile: reasons, tab: watch, section: where }
              - { edit: draw, tile: by-month, drawing: { picture: bar } }

            """
        );
        // Whoever changed nothing has it at once, and so has whoever promoted it, once.
        Told(await Tabs(fresh)).ShouldBe(Told(before));
        Told(await Tabs(developer)).ShouldBe(Told(before));
        var drawn = (await fresh.GetFromJsonAsync<JsonElement>(Bridge))
            .GetProperty("tabs")
            .EnumerateArray()
            .SelectMany(t => t.GetProperty("tiles").EnumerateArray());
        drawn
            .First(t => t.GetProperty("name").GetString() == "by-month")
            .GetProperty("drawn")
            .ValueKind.ShouldBe(JsonValueKind.Null, "as it is defined by now");

        // Whoever has a view keeps it, has what came, and is told where both changed the same.
        var page = await viewer.GetFromJsonAsync<JsonElement>(Bridge);
        page.GetProperty("view").GetProperty("since").GetInt64().ShouldBe(1);
        var differences = await viewer.GetFromJsonAsync<JsonElement>($"{Bridge}/view/differences");
        differences.GetProperty("came").EnumerateArray().Select(c => c.GetString()).ShouldBe(["Taken"]);
        var (drawnByBoth, both) = (differences.GetProperty("tiles")[0], differences.GetProperty("tiles")[1]);
        (drawnByBoth.GetProperty("title").GetString(), drawnByBoth.GetProperty("isBoth").GetBoolean()).ShouldBe(("Late by month", true));
        // Who was told of that version is told of what came after it.
        var told = await viewer.GetFromJsonAsync<JsonElement>($"{Bridge}/view/differences?seen=2");
        (told.GetProperty("came").GetArrayLength(), told.GetProperty("since").ValueKind).ShouldBe((0, JsonValueKind.Null));
        told.GetProperty("tiles").EnumerateArray().ShouldAllBe(t => !t.GetProperty("isBoth").GetBoolean());
        await Edit(viewer, """{"edit": "draw", "tile": "by-month"}""");
        both.GetProperty("title").GetString().ShouldBe("Cancellations by reason");
        both.GetProperty("isBoth").GetBoolean().ShouldBeTrue();
        both.GetProperty("published").GetString().ShouldStartWith("The watch, Where and when: column 1");
        await Edit(viewer, """{"edit": "as-published", "tile": "reasons"}""");
        (await Tabs(viewer))["The watch"].ShouldContain("Cancellations by reason");
        (await viewer.GetFromJsonAsync<JsonElement>($"{Bridge}/view/differences")).GetProperty("tiles").GetArrayLength().ShouldBe(0);

        // Once more for a role: the file is another, and the one that is there is not replaced unasked.
        await Edit(developer, """{"edit": "hide", "tile": "by-area"}""");
        (await developer.PostAsync($"{Bridge}/views/my/promote", Json("{}"))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        var forRole = await Read(developer.PostAsync($"{Bridge}/views/my/promote", Json("""{"roles": ["director"]}""")));
        forRole.GetProperty("path").GetString().ShouldBe("openings/bridge-director.yaml");
        (await Tabs(fresh))["The watch"].ShouldNotContain("Late by sea area");
        (await Tabs(viewer))["The watch"].ShouldContain("Late by sea area");
    }

    [Fact]
    public void What_an_opening_view_can_not_do_is_a_fault_at_its_line()
    {
        var files = Repository.DemoDefinitions();
        files["openings/odd.yaml"] = """
            opening_view: odd
            dashboard: bridge
            roles: [auditor, nobody]
            edits:
              - { edit: hide, tile: by-area }
              - { edit: hide, tile: nothing }
              - { edit: place, tab: watch }
              - { edit: dance }
              - { edit: hide, tile: briefing }
            """;
        var faults = WorkspaceText.Read(files).Faults.Where(f => f.File == "openings/odd.yaml").ToList();
        faults.Select(f => (f.Code, f.Line)).ShouldBe([("unknown-role", 3)]);
        files["openings/odd.yaml"] = files["openings/odd.yaml"].Replace(", nobody", "");
        faults = [.. WorkspaceText.Read(files).Faults.Where(f => f.File == "openings/odd.yaml")];
        faults.Select(f => (f.Code, f.Line)).ShouldBe([("opening-edit", 6), ("opening-edit", 7), ("opening-edit", 8), ("opening-edit", 9)]);
        faults[0].Message.ShouldBe("There is no tile nothing.");
        faults[3].Message.ShouldBe("briefing stays as its developer has it.");
    }

    [Fact]
    public async Task A_tile_that_was_made_comes_along_and_is_there_for_whoever_reads_its_data()
    {
        await using var service = await RunningService.Start();
        var developer = service.As("developer");
        async Task<JsonElement> Publish(Action<Dictionary<string, string>> change)
        {
            var files = (await developer.GetFromJsonAsync<JsonElement>("api/definitions"))
                .GetProperty("files")
                .Deserialize<Dictionary<string, string>>()!;
            change(files);
            return await Read(developer.PutAsync("api/definitions", JsonContent.Create(new { files })));
        }
        await Publish(f =>
            f["access.yaml"] = f["access.yaml"].Replace("[publish, define, look-as, explain]", "[publish, define, look-as, explain, own]")
        );
        await Edit(
            developer,
            """{"edit": "make-tile", "tile": "own-sold", "dataset": "tickets", "drawing": {"picture": "bar", "show": ["takings"], "by": ["terminal"]}, "tab": "hours"}"""
        );
        await Edit(developer, """{"edit": "retitle", "tile": "own-sold", "title": "Sold where"}""");
        await Edit(developer, """{"edit": "draw", "tile": "own-sold", "drawing": {"picture": "table"}}""");
        var mine = await Tabs(developer);
        var promoted = await Read(developer.PostAsync($"{Bridge}/views/my/promote", Json("{}")));
        promoted.GetProperty("answer").GetProperty("accepted").GetBoolean().ShouldBeTrue(promoted.ToString());
        promoted
            .GetProperty("text")
            .GetString()!
            .ShouldBe(
                """
                opening_view: bridge
                dashboard: bridge
                edits:
                  - { edit: make-tile, tile: bridge-sold, dataset: tickets, drawing: { picture: bar, show: [takings], by: [terminal] }, tab: hours }
                  - { edit: retitle, tile: bridge-sold, title: Sold where }
                  - { edit: draw, tile: bridge-sold, drawing: { picture: table } }

                """
            );
        // Whoever promoted it has it once, and it is nobody's own any more.
        foreach (var account in (string[])["developer", "director"])
            Told(await Tabs(service.As(account))).ShouldBe(Told(mine), account);
        var page = await service.As("director").GetFromJsonAsync<JsonElement>(Bridge);
        var tile = page.GetProperty("tabs").EnumerateArray().SelectMany(t => t.GetProperty("tiles").EnumerateArray());
        tile.Single(t => t.GetProperty("name").GetString() == "bridge-sold").GetProperty("own").GetBoolean().ShouldBeFalse();
        // It answers with the rows of whoever looks, who makes it theirs as any other.
        async Task<decimal> Sold(string account) =>
            (await service.Results(account, "bridge", tiles: ["bridge-sold"]))["bridge-sold"]
                .GetProperty("table")
                .GetProperty("values")[1]
                .EnumerateArray()
                .Sum(v => v.GetDecimal());
        (await Sold("north-ports")).ShouldBeLessThan(await Sold("director"));
        await Edit(service.As("north-ports"), """{"edit": "draw", "tile": "bridge-sold", "drawing": {"picture": "bar"}}""");
        await Edit(service.As("north-ports"), """{"edit": "move", "tile": "bridge-sold", "tab": "watch"}""");
        (await Tabs(service.As("north-ports")))["The watch"].ShouldContain("Sold where");
        // For whoever reads no tickets, or not what they brought, there is nothing of it; nor can they ask for it.
        foreach (var account in (string[])["skerrin-desk", "auditor"])
        {
            var client = service.As(account);
            var seen = (await client.GetFromJsonAsync<JsonElement>(Bridge)).GetRawText();
            (account, seen.Contains("bridge-sold"), seen.Contains("takings")).ShouldBe((account, false, false));
            var asked = await client.PostAsync($"{Bridge}/results", Json("""{"tiles": ["bridge-sold"]}"""));
            var none = await client.PostAsync($"{Bridge}/results", Json("""{"tiles": ["bridge-none"]}"""));
            (await asked.Content.ReadAsStringAsync()).ShouldBe(
                (await none.Content.ReadAsStringAsync()).Replace("bridge-none", "bridge-sold")
            );
        }
        // By hand: what nobody could see is told with its line.
        var wrong = await Publish(f => f["openings/bridge.yaml"] = f["openings/bridge.yaml"].Replace("show: [takings]", "show: [taken]"));
        wrong.GetProperty("accepted").GetBoolean().ShouldBeFalse();
        var fault = wrong.GetProperty("faults")[0];
        (fault.GetProperty("file").GetString(), fault.GetProperty("line").GetInt32()).ShouldBe(("openings/bridge.yaml", 4));
        fault.GetProperty("message").GetString().ShouldBe("There is no measure taken.");
    }

    [Fact]
    public async Task Other_windows_of_the_same_viewer_hear_of_a_change_and_nobody_else_does()
    {
        await using var service = await RunningService.Start();
        using var mine = await Listen(service.As("north-ports"));
        using var others = await Listen(service.As("director"));
        var page = await Edit(service.As("north-ports"), """{"edit": "hide", "tile": "by-area"}""");
        var mark = page.GetProperty("view").GetProperty("mark").GetString();
        (await Next(mine, "view")).ShouldBe($$"""["bridge","","{{mark}}"]""");
        // The next that others hear is what comes after it.
        await Edit(service.As("director"), """{"edit": "hide", "tile": "by-month"}""");
        (await Next(others, "view")).ShouldNotContain(mark!);

        // Whoever has it open by a link hears of it under the name that they have of it; who only may is not told the link.
        var share = await service
            .As("north-ports")
            .PostAsJsonAsync("api/dashboards/bridge/views/my/shares", new { link = true, live = true });
        var view = "shared-" + (await share.Content.ReadFromJsonAsync<JsonElement>()).EnumerateArray().Last().GetProperty("id").GetString();
        using var linked = await Listen(service.As("auditor"), view);
        page = await Edit(service.As("north-ports"), """{"edit": "unhide", "tile": "by-area"}""");
        mark = page.GetProperty("view").GetProperty("mark").GetString();
        (await Next(linked, "view")).ShouldBe($$"""["bridge","{{view}}","{{mark}}"]""");
        await Edit(service.As("director"), """{"edit": "unhide", "tile": "by-month"}""");
        (await Next(others, "view")).ShouldNotContain(mark!);
    }
}
