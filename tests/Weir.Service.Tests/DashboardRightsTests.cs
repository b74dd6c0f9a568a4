using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.Extensions.DependencyInjection;
using Shouldly;
using Weir.Service.Publishing;
using Weir.Store;
using Weir.Testing;

namespace Weir.Service.Tests;

/// <summary>What a role may do with which dashboard; who asks of others' rights; looking as others.</summary>
public sealed class DashboardRightsTests : IDisposable
{
    private readonly TempFolder _folder = Repository.Temp("rights");

    public void Dispose() => _folder.Dispose();

    /// <summary>The demo's definitions with other grants on dashboards.</summary>
    private string Workspace(params (string Was, string Is)[] grants)
    {
        Repository.CopyDemo(_folder.Path, (_, text) => Repository.Patient(text));
        Grant(grants);
        return _folder.Path;
    }

    private void Grant(params (string Was, string Is)[] grants)
    {
        var access = File.ReadAllText(Path.Combine(Repository.DemoWorkspace, "access.yaml"));
        foreach (var (was, now) in grants)
        {
            access.ShouldContain(was);
            access = access.Replace(was, now);
        }
        _folder.File("access.yaml", access);
    }

    private const string Desk = "dashboards: { all: [see, arrange] }";
    private const string Auditor = "dashboards: { all: [see] }";

    private static HttpRequestMessage Request(string method, string path, string body = "{}") =>
        new(HttpMethod.Parse(method), path.TrimStart('/'))
        {
            Content = method == "get" ? null : new StringContent(body, Encoding.UTF8, "application/json"),
        };

    private static async Task<(HttpStatusCode Status, string Text)> Ask(HttpClient client, HttpRequestMessage request)
    {
        using var response = await client.SendAsync(request);
        return (response.StatusCode, await response.Content.ReadAsStringAsync());
    }

    private static async Task<string> Code(HttpClient client, HttpRequestMessage request) =>
        JsonDocument.Parse((await Ask(client, request)).Text).RootElement.GetProperty("code").GetString()!;

    [Fact]
    public async Task A_dashboard_that_is_not_granted_answers_on_every_route_as_one_that_is_not_there()
    {
        await using var service = await RunningService.Start(workspace: Workspace((Desk, "dashboards: { network: [see] }")));
        var client = service.As("skerrin-desk");
        var list = await client.GetStringAsync("api/dashboards");
        list.ShouldContain("network");
        list.ShouldNotContain("\"name\":\"punctuality\"");
        var document = (await client.GetFromJsonAsync<JsonObject>("openapi/v1.json"))!;
        var routes = document["paths"]!
            .AsObject()
            .Where(p => p.Key.Contains("{dashboard}"))
            .SelectMany(p => p.Value!.AsObject().Select(o => (o.Key, Path: p.Key)))
            .ToList();
        routes.Count.ShouldBeGreaterThan(10);
        foreach (var (method, path) in routes)
        {
            // A body that every route can read: an edit has another shape.
            var body =
                path.EndsWith("edits") ? """{"edit": "hide", "tile": "areas"}"""
                : path.EndsWith("members") ? """{"search": "e"}"""
                : "{}";
            Task<(HttpStatusCode Status, string Text)> Of(string dashboard) =>
                Ask(
                    client,
                    Request(
                        method,
                        path.Replace("{dashboard}", dashboard).Replace("{tile}", "areas").Replace("{parameter}", "late_after"),
                        body
                    )
                );
            var (hidden, none) = (await Of("punctuality"), await Of("nothing-of-it"));
            hidden.Status.ShouldBe(none.Status, path);
            hidden.Text.ShouldBe(none.Text.Replace("nothing-of-it", "punctuality"), path);
        }
        // Who has it opens the same address.
        (await service.As("director").GetAsync("api/dashboards/punctuality")).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task An_area_that_is_not_granted_is_nowhere_and_a_role_may_change_less_or_more_than_the_dashboard_says()
    {
        await using var service = await RunningService.Start(
            workspace: Workspace(
                (
                    Auditor,
                    "dashboards: { bridge/traffic: [see, arrange], network: [see, arrange] }\n    viewers_may: { all: none, network: [move, draw] }"
                ),
                (
                    "\n    dashboards: { all: [see, arrange, share, export] }\n    may: [explain, own]",
                    "\n    dashboards: { bridge/money: [see] }\n    may: [explain]"
                )
            )
        );
        var auditor = service.As("auditor");
        async Task<JsonElement> Page(string account, string dashboard) =>
            await service.As(account).GetFromJsonAsync<JsonElement>($"api/dashboards/{dashboard}");
        string[] Names(JsonElement page, string list) =>
            [.. page.GetProperty(list).EnumerateArray().Select(t => t.GetProperty("name").GetString()!)];
        var bridge = await Page("auditor", "bridge");
        Names(bridge, "areas").ShouldBe(["traffic"]);
        Names(bridge, "tabs").ShouldBe(["watch", "hours"]);
        Names(await Page("north-ports", "bridge"), "tabs").ShouldBe(["purse"]);
        // A tile of another area answers as none; what filters there filters nothing here.
        foreach (var tile in (string[])["by-channel", "nothing"])
            (await Ask(auditor, Request("post", "api/dashboards/bridge/results", $$"""{"tiles": ["{{tile}}"]}""")))
                .Text.Replace(tile, "TILE")
                .ShouldContain("There is no tile TILE on this dashboard.");
        (await Page("auditor", "network")).GetProperty("may").EnumerateArray().Select(m => m.GetString()).ShouldBe(["move", "draw"]);
        bridge.GetProperty("may").GetArrayLength().ShouldBe(0);
        (await Code(auditor, Request("post", "api/dashboards/network/view/edits", """{"edit": "hide", "tile": "areas"}"""))).ShouldBe(
            "edit-refused"
        );
        (await Page("director", "bridge")).GetProperty("may").GetArrayLength().ShouldBe(6);
        var who = await service.As("developer").GetStringAsync("api/access/dashboards/bridge");
        who.ShouldContain("\"areas\":[\"Traffic\"]");
        who.ShouldContain("\"areas\":[\"Money\"]");
    }

    [Fact]
    public async Task Who_may_only_see_a_dashboard_has_it_as_published_and_what_they_arranged_before_comes_back_with_the_right()
    {
        await using var service = await RunningService.Start(workspace: Workspace((Auditor, "dashboards: { all: all }")));
        var client = service.As("auditor");
        async Task<(bool MayArrange, string[] Tabs)> Page()
        {
            var page = await client.GetFromJsonAsync<JsonElement>("api/dashboards/network");
            return (
                page.GetProperty("mayArrange").GetBoolean(),
                [.. page.GetProperty("tabs").EnumerateArray().Select(t => t.GetProperty("name").GetString()!)]
            );
        }
        const string Edit = """{"edit": "add-tab", "tab": "own-1", "title": "Mine"}""";
        (await Ask(client, Request("post", "api/dashboards/network/view/edits", Edit))).Status.ShouldBe(HttpStatusCode.OK);
        (await Page()).Tabs.ShouldContain("own-1");

        Grant();
        service.Services.GetRequiredService<PublishedWorkspace>().PublishFolder(_folder.Path).Version.ShouldNotBeNull();
        var (may, tabs) = await Page();
        may.ShouldBeFalse();
        tabs.ShouldNotContain("own-1");
        foreach (var (path, body) in ((string, string)[])[("edits", Edit), ("undo", "{}"), ("redo", "{}")])
            (await Code(client, Request("post", $"api/dashboards/network/view/{path}", body))).ShouldBe("not-allowed");
        service.Services.GetRequiredService<Audit>().Newest(20).ShouldContain(a => a.Who == "auditor" && a.What == "arrange network");

        Grant((Auditor, "dashboards: { network: [see, arrange] }"));
        service.Services.GetRequiredService<PublishedWorkspace>().PublishFolder(_folder.Path).Version.ShouldNotBeNull();
        (await Page()).Tabs.ShouldContain("own-1");
    }

    [Fact]
    public async Task Rows_leave_as_a_file_only_where_a_role_grants_it()
    {
        await using var service = await RunningService.Start(
            workspace: Workspace(
                (
                    "dashboards: { all: [see, arrange, share, export] }\n    may: [explain, own]",
                    "dashboards: { all: [see, arrange] }\n    may: [explain]"
                )
            )
        );
        var client = service.As("north-ports");
        const string Tile = "api/dashboards/network/tiles/income-by-route";
        (await Ask(client, Request("post", $"{Tile}/rows"))).Status.ShouldBe(HttpStatusCode.OK);
        (await Code(client, Request("post", $"{Tile}/rows.csv"))).ShouldBe("not-allowed");
        (await Ask(service.As("director"), Request("post", $"{Tile}/rows.csv"))).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task The_SQL_is_for_those_who_may_explain_and_others_read_rules_in_words()
    {
        await using var service = await RunningService.Start(workspace: Workspace());
        async Task<JsonElement> Explanation(string account, string dashboard = "network", string tile = "all-sailings") =>
            JsonDocument
                .Parse((await Ask(service.As(account), Request("post", $"api/dashboards/{dashboard}/tiles/{tile}/explanation"))).Text)
                .RootElement;
        var full = await Explanation("developer");
        full.GetProperty("sql").GetArrayLength().ShouldBeGreaterThan(0);
        full.GetProperty("withheld").ValueKind.ShouldBe(JsonValueKind.Null);
        foreach (var account in (string[])["director", "skerrin-desk", "auditor"])
        {
            var told = await Explanation(account);
            told.GetProperty("sql").GetArrayLength().ShouldBe(0);
            told.GetProperty("withheld").GetString()!.ShouldContain("may explain");
            told.GetProperty("measures").GetArrayLength().ShouldBeGreaterThan(0);
            told.GetRawText().ShouldNotContain("SELECT");
            told.GetRawText().ShouldNotContain("home_port");
        }
        (await Explanation("skerrin-desk")).GetProperty("rowRules")[0].GetProperty("rule").GetString().ShouldBe("Home port in your ports");
    }

    [Fact]
    public async Task Where_no_role_names_dashboards_each_is_there_with_every_act_for_whoever_reads_its_data()
    {
        await using var service = await RunningService.Start(
            workspace: Workspace(
                (Desk, ""),
                (Auditor, ""),
                ("    dashboards: { all: [see, arrange, share, export], network: [see, design] }\n", ""),
                ("    dashboards: { all: [see, arrange, share, export] }\n", ""),
                ("    dashboards: { all: all }\n", "")
            )
        );
        var page = await service.As("skerrin-desk").GetFromJsonAsync<JsonElement>("api/dashboards/network");
        page.GetProperty("mayArrange").GetBoolean().ShouldBeTrue();
        page.GetProperty("mayExport").GetBoolean().ShouldBeTrue();
        // Its definition is for those who were granted it.
        page.GetProperty("mayDesign").GetBoolean().ShouldBeFalse();
        (await service.As("director").GetFromJsonAsync<JsonElement>("api/access/dashboards/network"))
            .GetProperty("byReading")
            .GetBoolean()
            .ShouldBeTrue();
    }

    [Fact]
    public async Task Who_may_see_what_is_told_to_those_who_publish_or_look_as_others_and_is_what_is_so()
    {
        await using var service = await RunningService.Start(
            workspace: Workspace((Desk, "dashboards: { network: [see] }"), (Auditor, "dashboards: { punctuality: [see, arrange] }"))
        );
        string[] people = ["director", "developer", "north-ports", "skerrin-desk", "auditor"];
        foreach (var dashboard in (string[])["network", "punctuality", "tickets"])
        {
            var told = await service.As("director").GetFromJsonAsync<JsonElement>($"api/access/dashboards/{dashboard}");
            var lines = told.GetProperty("lines")
                .EnumerateArray()
                .Where(l => !l.GetProperty("isRole").GetBoolean())
                .ToDictionary(l => l.GetProperty("name").GetString()!);
            foreach (var person in people)
            {
                using var opened = await service.As(person).GetAsync($"api/dashboards/{dashboard}");
                lines.ContainsKey(person).ShouldBe(opened.IsSuccessStatusCode, $"{person} {dashboard}");
                if (!opened.IsSuccessStatusCode)
                    continue;
                var page = await opened.Content.ReadFromJsonAsync<JsonElement>();
                string[] acts = [.. lines[person].GetProperty("acts").EnumerateArray().Select(a => a.GetProperty("act").GetString()!)];
                acts.Contains("arrange").ShouldBe(page.GetProperty("mayArrange").GetBoolean(), $"{person} {dashboard}");
                acts.Contains("export").ShouldBe(page.GetProperty("mayExport").GetBoolean(), $"{person} {dashboard}");
            }
        }
        var desk = await service.As("developer").GetFromJsonAsync<JsonElement>("api/access/people/skerrin-desk");
        desk.GetProperty("dashboards").EnumerateArray().Select(d => d.GetProperty("name").GetString()).ShouldBe(["network"]);
        desk.GetProperty("attributes").GetProperty("ports")[0].GetString().ShouldBe("SKE");
        var hidden = desk.GetProperty("person")
            .GetProperty("datasets")[0]
            .GetProperty("hidden")
            .EnumerateArray()
            .Select(h => h.GetString());
        hidden.ShouldContain("Fuel cost");
        (await service.As("director").GetStringAsync("api/access/datasets/tickets")).ShouldNotContain("skerrin-desk");

        foreach (var account in (string[])["north-ports", "skerrin-desk", "auditor"])
        foreach (var path in (string[])["dashboards/network", "datasets/sailings", "people/director", "others"])
            (await Code(service.As(account), Request("get", $"api/access/{path}"))).ShouldBe("not-allowed");
        (await Code(service.As("director"), Request("get", "api/access/dashboards/none"))).ShouldBe("unknown-dashboard");
        (await Code(service.As("director"), Request("get", "api/access/datasets/none"))).ShouldBe("unknown-dataset");
        (await Code(service.As("director"), Request("get", "api/access/people/none"))).ShouldBe("unknown-user");
    }

    [Fact]
    public async Task One_looks_as_a_role_or_a_person_and_has_what_they_have_but_no_act_that_changes_or_takes_away()
    {
        await using var service = await RunningService.Start(workspace: Workspace((Desk, "dashboards: { network: [see, arrange] }")));
        HttpRequestMessage As(string other, string method, string path, string body = "{}")
        {
            var request = Request(method, path, body);
            request.Headers.Add("Weir-Look-As", other);
            return request;
        }
        var director = service.As("director");
        var session = JsonDocument.Parse((await Ask(director, As("developer", "get", "api/session"))).Text).RootElement;
        session.GetProperty("lookedAsBy").GetString().ShouldBe("director");
        session.GetProperty("may").EnumerateArray().Select(a => a.GetString()).ShouldBe(["explain"], "looking gives nothing that changes");
        (await Ask(director, As("role:port-desk", "get", "api/dashboards"))).Text.ShouldNotContain("\"name\":\"punctuality\"");
        var page = JsonDocument.Parse((await Ask(director, As("skerrin-desk", "get", "api/dashboards/network"))).Text).RootElement;
        page.GetProperty("mayArrange").GetBoolean().ShouldBeFalse();
        // A role alone has no ports, so its rule grants no row.
        var none = await Ask(director, As("role:port-desk", "post", "api/dashboards/network/results", """{"tiles": ["all-sailings"]}"""));
        JsonDocument.Parse(none.Text).RootElement.GetProperty("table").GetProperty("values")[0][0].GetInt32().ShouldBe(0);
        (await Code(director, As("role:none", "get", "api/dashboards"))).ShouldBe("unknown-role");
        (await Code(director, As("developer", "get", "api/access/others"))).ShouldBe("not-allowed", "rights do not pile up by looking");
        (await Code(director, As("north-ports", "post", "api/dashboards/network/tiles/income-by-route/rows.csv"))).ShouldBe("not-allowed");
        var others = await director.GetFromJsonAsync<JsonElement>("api/access/others");
        others
            .EnumerateArray()
            .First(o => o.GetProperty("name").GetString() == "role:port-desk")
            .GetProperty("lacks")[0]
            .GetString()
            .ShouldBe("ports");
    }
}
