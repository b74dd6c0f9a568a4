using System.Net;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using Shouldly;
using Weir.Core.Access;
using Weir.Store;
using Weir.Testing;
using static Weir.Service.Tests.Calls;

namespace Weir.Service.Tests;

/// <summary>Drafts of those who do not publish: dashboards of their own, and dashboards that a role lets them design.</summary>
public sealed class OwnDashboardTests : IDisposable
{
    private readonly TempFolder _folder = Repository.Temp();

    public void Dispose() => _folder.Dispose();

    private const string Own = """
        dashboard: own-harbour
        title: My harbour
        tabs:
          - tab: all
            columns: 2
            tiles:
              - tile: counted
                picture: number
                dataset: sailings
                show: sailings
        """;

    private static Task<(HttpStatusCode Status, JsonElement Body)> Save(
        HttpClient client,
        string text,
        long after = 0,
        string name = "own-harbour"
    ) => Send(client, HttpMethod.Put, $"api/drafts/dashboards/{name}", new { text, after });

    private static async Task<long> Counted(HttpClient client)
    {
        var (status, body) = await Send(
            client,
            HttpMethod.Post,
            "api/dashboards/own-harbour/results",
            new { tiles = new[] { "counted" } },
            "own-harbour"
        );
        status.ShouldBe(HttpStatusCode.OK, body.ToString());
        return body.GetProperty("table").GetProperty("values")[0][0].GetInt64();
    }

    private static IEnumerable<string> Faults(JsonElement draft) =>
        draft
            .GetProperty("faults")
            .EnumerateArray()
            .Select(f => $"{f.GetProperty("code")}: {f.GetProperty("message")} {f.GetProperty("remedy")}");

    private static string Code(JsonElement problem) => problem.GetProperty("code").GetString()!;

    [Fact]
    public async Task A_dashboard_of_ones_own_has_ones_own_rows_and_is_nobody_elses_and_never_published()
    {
        await using var service = await RunningService.Start();
        var (owner, developer) = (service.As("north-ports"), service.As("developer"));
        var (_, saved) = await Save(owner, Own);
        saved.GetProperty("faults").GetArrayLength().ShouldBe(0, saved.ToString());
        saved.GetProperty("mayPublish").GetBoolean().ShouldBeFalse();
        (await Counted(owner)).ShouldBe(
            Convert.ToInt64(
                DemoSql.Scalar(
                    "SELECT count(*) FROM sailing s JOIN route r ON r.id = s.route_id WHERE r.home_port IN ('SKE', 'ULL', 'QUI')"
                )
            )
        );
        var line = (await Send(owner, HttpMethod.Get, "api/drafts")).Body[0];
        (line.GetProperty("name").GetString(), line.GetProperty("title").GetString(), line.GetProperty("isOwn").GetBoolean()).ShouldBe(
            ("own-harbour", "My harbour", true)
        );
        foreach (var other in (HttpClient[])[developer, service.As("director"), service.As("skerrin-desk")])
        {
            (await Send(other, HttpMethod.Get, "api/dashboards/own-harbour", draft: "own-harbour")).Status.ShouldBe(
                HttpStatusCode.NotFound
            );
            (await Send(other, HttpMethod.Get, "api/drafts")).Body.GetArrayLength().ShouldBe(0);
        }
        // By hand as by text, and with a dashboard's own undo.
        var title = new[]
        {
            new
            {
                @do = "set",
                at = new[] { "title" },
                value = "Mine",
            },
        };
        (await Send(owner, HttpMethod.Post, "api/drafts/dashboards/own-harbour/steps", new { steps = title })).Status.ShouldBe(
            HttpStatusCode.OK
        );
        (await Send(owner, HttpMethod.Get, "api/dashboards/own-harbour", draft: "own-harbour"))
            .Body.GetProperty("title")
            .GetString()
            .ShouldBe("Mine");
        (await Send(owner, HttpMethod.Post, "api/drafts/dashboards/own-harbour/undo"))
            .Body.GetProperty("canUndo")
            .GetBoolean()
            .ShouldBeFalse();
        (await Send(owner, HttpMethod.Post, "api/drafts/dashboards/own-harbour/publish", new { step = 1 })).Status.ShouldBe(
            HttpStatusCode.Forbidden
        );
        Code((await Send(owner, HttpMethod.Post, "api/drafts/dashboards/own-harbour/merge", new { step = 1 })).Body)
            .ShouldBe("own-dashboard");
        (await Send(developer, HttpMethod.Get, "api/definitions")).Body.ToString().ShouldNotContain("own-harbour");
        // Another name is none of one's own; nor has a viewer without the act any.
        foreach (var name in (string[])["harbour", "network", "none"])
            (await Save(owner, Own, name: name)).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await Save(service.As("skerrin-desk"), Own)).Status.ShouldBe(HttpStatusCode.Forbidden);
        foreach (var path in (string[])["api/versions", "api/definitions", "api/drafts/dashboards", "api/drafts/datasets/sailings"])
            (await Send(owner, HttpMethod.Get, path)).Status.ShouldBe(HttpStatusCode.Forbidden, path);
        (await Send(owner, HttpMethod.Delete, "api/drafts/dashboards/own-harbour")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Send(owner, HttpMethod.Get, "api/dashboards/own-harbour", draft: "own-harbour")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    /// <summary>As <see cref="Send"/>, for a dashboard of somebody else's own.</summary>
    private static async Task<(HttpStatusCode Status, JsonElement Body)> Look(HttpClient client, string owner, string? results = null)
    {
        using var request = new HttpRequestMessage(
            results is null ? HttpMethod.Get : HttpMethod.Post,
            $"api/dashboards/own-harbour{(results is null ? "" : "/results")}"
        );
        request.Headers.Add("Weir-Draft", "own-harbour");
        request.Headers.Add("Weir-Draft-Of", owner);
        if (results is not null)
            request.Content = new StringContent($$"""{"tiles": ["{{results}}"]}""", System.Text.Encoding.UTF8, "application/json");
        using var answer = await client.SendAsync(request);
        return (answer.StatusCode, JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement);
    }

    [Fact]
    public async Task A_dashboard_of_ones_own_is_shared_for_reading_under_the_rights_of_whoever_looks()
    {
        await using var service = await RunningService.Start();
        var (owner, ports, desk) = (service.As("director"), service.As("north-ports"), service.As("skerrin-desk"));
        const string Shares = "api/own-dashboards/own-harbour/shares";
        (await Send(owner, HttpMethod.Get, Shares)).Status.ShouldBe(HttpStatusCode.NotFound);
        await Save(
            owner,
            Own
                + """

                      - tile: taken
                        picture: number
                        dataset: tickets
                        show: takings
                      - tile: burnt
                        picture: number
                        dataset: costs
                        show: cost
                """
        );
        async Task<string[]> List(HttpClient client) =>
            [
                .. (await Send(client, HttpMethod.Get, "api/own-dashboards"))
                    .Body.EnumerateArray()
                    .Select(d => $"{d.GetProperty("owner")} {d.GetProperty("name")} {d.GetProperty("title")}"),
            ];
        (await Look(ports, "director")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await List(ports)).ShouldBeEmpty();
        var (_, told) = await Send(owner, HttpMethod.Post, Shares, new { person = "north-ports" });
        told.TryGetProperty("shares", out _).ShouldBeTrue(told.ToString());
        told.GetProperty("shares").GetArrayLength().ShouldBe(1);
        told.GetProperty("recipients").ToString().ShouldContain("skerrin-desk");
        await Send(owner, HttpMethod.Post, Shares, new { role = "port-desk" });

        // Each sees their own rows and what is granted to them, and can change nothing.
        (await List(ports)).ShouldBe(["director own-harbour My harbour"]);
        (await List(desk)).ShouldBe(["director own-harbour My harbour"]);
        (await List(service.As("auditor"))).ShouldBeEmpty();
        var page = (await Look(ports, "director")).Body;
        page.ToString().ShouldContain("taken");
        page.ToString().ShouldNotContain("burnt");
        (page.GetProperty("mayDesign").GetBoolean(), page.GetProperty("mayArrange").GetBoolean()).ShouldBe((false, false));
        (await Look(desk, "director")).Body.ToString().ShouldNotContain("taken");
        (await Look(ports, "director", "counted"))
            .Body.GetProperty("table")
            .GetProperty("values")[0][0]
            .GetInt64()
            .ShouldBe(
                Convert.ToInt64(
                    DemoSql.Scalar(
                        "SELECT count(*) FROM sailing s JOIN route r ON r.id = s.route_id WHERE r.home_port IN ('SKE', 'ULL', 'QUI')"
                    )
                )
            );
        (await Look(ports, "director", "burnt")).Status.ShouldNotBe(HttpStatusCode.OK);
        (await Send(ports, HttpMethod.Get, "api/drafts/dashboards/own-harbour")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Send(ports, HttpMethod.Get, Shares)).Status.ShouldBe(HttpStatusCode.NotFound);
        // Nor is it there for anybody else, or of anybody else.
        (await Look(service.As("auditor"), "director")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Look(ports, "auditor")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Look(ports, "nobody")).Status.ShouldBe(HttpStatusCode.NotFound);

        // They see it as it is by then, and as it was while it is broken; an open page of theirs is told, and nobody else's.
        using var theirs = await Listen(desk);
        using var others = await Listen(service.As("auditor"));
        var (_, draft) = await Send(owner, HttpMethod.Get, "api/drafts/dashboards/own-harbour");
        var step = draft.GetProperty("step").GetInt64();
        var (_, saved) = await Save(owner, draft.GetProperty("text").GetString()!.Replace("My harbour", "Our harbour"), step);
        (await Look(ports, "director")).Body.GetProperty("title").GetString().ShouldBe("Our harbour");
        (await Next(theirs, "own")).ShouldBe("""["director","own-harbour"]""");
        // The next that others hear is what comes after it, and theirs.
        var hulls = Own.Replace("own-harbour", "own-hulls").Replace("sailings", "inspections");
        await Save(owner, hulls, name: "own-hulls");
        await Send(owner, HttpMethod.Post, "api/own-dashboards/own-hulls/shares", new { person = "auditor" });
        await Send(owner, HttpMethod.Post, "api/drafts/dashboards/own-hulls/undo");
        await Send(owner, HttpMethod.Post, "api/drafts/dashboards/own-hulls/redo");
        (await Next(others, "own")).ShouldBe("""["director","own-hulls"]""");
        await Save(owner, "dashboard: own-harbour\ntabs: 5\n", saved.GetProperty("step").GetInt64());
        (await Look(ports, "director")).Body.GetProperty("title").GetString().ShouldBe("Our harbour");

        // Bad input is told; an end holds at once; what is thrown away is shared no more, though made anew.
        Code((await Send(owner, HttpMethod.Post, Shares, new { person = "nobody" })).Body).ShouldBe("no-recipient");
        Code((await Send(owner, HttpMethod.Post, Shares, new { })).Body).ShouldBe("bad-share");
        using var had = await Listen(ports);
        (await Send(owner, HttpMethod.Delete, $"{Shares}/person/north-ports")).Status.ShouldBe(HttpStatusCode.OK);
        (await Look(ports, "director")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Next(had, "own")).ShouldBe("""["director","own-harbour"]""");
        Code((await Send(owner, HttpMethod.Delete, $"{Shares}/person/north-ports")).Body).ShouldBe("unknown-share");
        (await Look(desk, "director")).Status.ShouldBe(HttpStatusCode.OK);
        // That it is gone is told to who had it, once, and to nobody else.
        using var has = await Listen(desk);
        using var never = await Listen(service.As("auditor"));
        await Send(owner, HttpMethod.Delete, "api/drafts/dashboards/own-harbour");
        (await Next(has, "own")).ShouldBe("""["director","own-harbour"]""");
        await Save(owner, Own);
        (await Look(desk, "director")).Status.ShouldBe(HttpStatusCode.NotFound);
        await Send(owner, HttpMethod.Post, "api/drafts/dashboards/own-hulls/undo");
        (await Next(never, "own")).ShouldBe("""["director","own-hulls"]""");
        (await List(desk)).ShouldBeEmpty();
    }

    [Fact]
    public async Task A_worked_example_begins_over_other_data_and_only_for_whoever_may_read_all_of_it()
    {
        await using var service = await RunningService.Start();
        var (developer, director, ports) = (service.As("developer"), service.As("director"), service.As("north-ports"));
        Task<(HttpStatusCode Status, JsonElement Body)> Refit(HttpClient client, string name, object body) =>
            Send(client, HttpMethod.Post, $"api/drafts/dashboards/{name}/refit", body);
        var (status, same) = await Refit(director, "own-copy", new { of = "tickets", title = "My tickets" });
        status.ShouldBe(HttpStatusCode.OK, same.ToString());
        same.GetProperty("leftOut").GetArrayLength().ShouldBe(0);
        same.GetProperty("text").GetString()!.ShouldStartWith("dashboard: own-copy\ntitle: My tickets\n");
        var names = same.GetProperty("datasets").EnumerateArray().Single(d => d.GetProperty("name").GetString() == "tickets");
        names.GetProperty("names").EnumerateArray().Select(n => n.GetProperty("name").GetString()).ShouldContain("takings");

        // Over sailings: what is called alike stands for itself, the rest is chosen or left out with the reason.
        object Over(object? to) =>
            new
            {
                of = "tickets",
                datasets = new[]
                {
                    new
                    {
                        from = "tickets",
                        to = "sailings",
                        names = new Dictionary<string, object?> { ["takings"] = to, ["sold"] = "departed" },
                    },
                },
            };
        var (_, over) = await Refit(developer, "harbour-copy", Over("income"));
        var text = over.GetProperty("text").GetString()!;
        text.ShouldNotContain("takings, ");
        text.ShouldContain("dataset: sailings");
        over.GetProperty("leftOut").GetArrayLength().ShouldBeGreaterThan(0);
        var (_, saved) = await Send(developer, HttpMethod.Put, "api/drafts/dashboards/harbour-copy", new { text, after = 0 });
        Faults(saved).ShouldAllBe(f => f.StartsWith("never-filtered"));

        // What can't stand there, and what is not there or not granted, is told alike; a draft was made of none of it.
        Code((await Refit(developer, "x", Over("departed"))).Body).ShouldBe("bad-refit");
        foreach (var of in (string?[])["nothing", null])
            (await Refit(developer, "x", new { of })).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Refit(ports, "own-x", new { of = "atlas" })).Status.ShouldBe(HttpStatusCode.NotFound, "it names costs");
        var wish = new { from = "tickets", to = "costs" };
        (await Refit(ports, "own-x", new { of = "tickets", datasets = new[] { wish } }))
            .Body.ToString()
            .ShouldBe(
                (await Refit(ports, "own-x", new { of = "tickets", datasets = new[] { wish with { to = "cists" } } }))
                    .Body.ToString()
                    .Replace("cists", "costs")
            );
        (await Refit(service.As("auditor"), "own-x", new { of = "tickets" })).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await Send(director, HttpMethod.Get, "api/drafts")).Body.GetArrayLength().ShouldBe(0);
    }

    [Fact]
    public async Task What_is_not_granted_is_named_by_no_fault_and_answers_as_what_is_not_there()
    {
        await using var service = await RunningService.Start();
        var owner = service.As("north-ports");
        var step = (await Save(owner, Own)).Body.GetProperty("step").GetInt64();
        async Task<IReadOnlyList<string>> Tried(string was, string now)
        {
            var (status, body) = await Save(owner, Own.Replace(was, now), step);
            status.ShouldBe(HttpStatusCode.OK, body.ToString());
            step = body.GetProperty("step").GetInt64();
            return [.. Faults(body)];
        }
        // costs is there, and not for this viewer; nothing is not there at all.
        var hidden = await Tried("dataset: sailings", "dataset: costs");
        var none = await Tried("dataset: sailings", "dataset: cists");
        hidden.ShouldNotBeEmpty();
        string.Join('\n', hidden).ShouldBe(string.Join('\n', none).Replace("cists", "costs"));
        (await Tried("dataset: sailings", "dataset: sailing")).ShouldContain(f => f.Contains("sailings"));
        // Nor is a dashboard of that name, a file of it, or a tile of a catalogue over such a dataset.
        (await Tried("dashboard: own-harbour", "dashboard: bridge"))
            .ShouldHaveSingleItem()
            .ShouldContain("other-name");
        (await Tried("dashboard: own-harbour", "dashboard: none")).ShouldHaveSingleItem().ShouldContain("other-name");
        var tile = "tile: counted\n        picture: number\n        dataset: sailings\n        show: sailings";
        var catalogue = await Tried(tile, "tile: counted\n        shared: purse/fuel-by-month");
        var noCatalogue = await Tried(tile, "tile: counted\n        shared: purse/none-by-month");
        string.Join('\n', catalogue).ShouldBe(string.Join('\n', noCatalogue).Replace("none-by-month", "fuel-by-month"));
        // The page stays as it last was.
        (await Counted(owner)).ShouldBePositive();
    }

    [Fact]
    public async Task What_a_field_holds_is_told_of_the_rows_that_one_sees()
    {
        await using var service = await RunningService.Start();
        var owner = service.As("north-ports");
        async Task<JsonElement> Values(string field)
        {
            var (status, body) = await Send(owner, HttpMethod.Get, $"api/datasets/sailings/fields/{field}/values");
            status.ShouldBe(HttpStatusCode.OK, body.ToString());
            return body;
        }
        const string Theirs =
            "FROM sailing s JOIN route r ON r.id = s.route_id JOIN vessel v ON v.id = s.vessel_id WHERE r.home_port IN ('SKE', 'ULL', 'QUI')";
        var classes = await Values("vessel_class");
        var expected = (
            (string)
                DemoSql.Scalar(
                    $"SELECT string_agg(class || ' ' || n, '|' ORDER BY n DESC, class) FROM (SELECT v.class, count(*) AS n {Theirs} GROUP BY 1)"
                )
        ).Split('|');
        var table = classes.GetProperty("table").GetProperty("values");
        Enumerable.Range(0, table[0].GetArrayLength()).Select(i => $"{table[0][i]} {table[1][i]}").ShouldBe(expected);
        (classes.GetProperty("lines").GetInt64(), classes.GetProperty("restricted").GetBoolean()).ShouldBe((expected.Length, true));
        var delay = await Values("delay");
        delay.GetProperty("lines").ValueKind.ShouldBe(JsonValueKind.Null);
        delay
            .GetProperty("table")
            .GetProperty("values")
            .EnumerateArray()
            .Select(v => v[0].GetInt64())
            .ShouldBe([
                Convert.ToInt64(DemoSql.Scalar($"SELECT min(s.delay_min) {Theirs}")),
                Convert.ToInt64(DemoSql.Scalar($"SELECT max(s.delay_min) {Theirs}")),
            ]);
        // Keys are told by their names.
        (await Values("vessel"))
            .GetProperty("table")
            .GetProperty("columns")[0]
            .GetProperty("names")
            .EnumerateObject()
            .ShouldNotBeEmpty();
    }

    [Fact]
    public async Task Who_may_design_a_dashboard_works_on_it_and_does_not_publish()
    {
        await using var service = await RunningService.Start();
        var director = service.As("director");
        (await Send(director, HttpMethod.Get, "api/dashboards/network")).Body.GetProperty("mayDesign").GetBoolean().ShouldBeTrue();
        (await Send(director, HttpMethod.Get, "api/dashboards/tickets")).Body.GetProperty("mayDesign").GetBoolean().ShouldBeFalse();
        var text = (await Send(director, HttpMethod.Get, "api/drafts/dashboards/network")).Body.GetProperty("text").GetString()!;
        var (_, saved) = await Save(director, text.Replace("title: The network today", "title: The network now"), name: "network");
        saved.GetProperty("faults").EnumerateArray().ShouldAllBe(f => f.GetProperty("file").GetString() == "dashboards/network.yaml");
        (await Send(director, HttpMethod.Get, "api/dashboards/network", draft: "network")).Status.ShouldBe(HttpStatusCode.OK);
        (await Send(director, HttpMethod.Post, "api/drafts/dashboards/network/publish", new { step = 2 })).Status.ShouldBe(
            HttpStatusCode.Forbidden
        );
        // What others need of it is told, without saying what it is.
        var broken = Own.Replace("own-harbour", "network");
        var (_, needed) = await Save(director, broken, saved.GetProperty("step").GetInt64(), "network");
        Faults(needed).ShouldHaveSingleItem().ShouldContain("needed-elsewhere");
        // Dashboards without the act answer as those that are not there.
        foreach (var name in (string[])["tickets", "bridge", "none"])
        {
            var (status, problem) = await Send(director, HttpMethod.Get, $"api/drafts/dashboards/{name}");
            (status, Code(problem)).ShouldBe((HttpStatusCode.Forbidden, "not-allowed"));
        }
    }

    [Fact]
    public async Task What_is_handed_over_is_taken_on_by_who_publishes_once_and_as_it_was_then()
    {
        await using var service = await RunningService.Start();
        var (owner, director, developer) = (service.As("north-ports"), service.As("director"), service.As("developer"));
        var step = (await Save(owner, Own)).Body.GetProperty("step").GetInt64();
        const string HandOver = "api/drafts/dashboards/own-harbour/hand-over";
        (await Send(owner, HttpMethod.Post, HandOver, new { step = step + 1 })).Status.ShouldBe(HttpStatusCode.Conflict);
        (await Send(owner, HttpMethod.Post, HandOver, new { step, why = "for\nall of us" })).Status.ShouldBe(HttpStatusCode.OK);
        (await Send(owner, HttpMethod.Get, "api/drafts/dashboards/own-harbour"))
            .Body.GetProperty("handedOver")
            .GetString()
            .ShouldNotBeNull();
        // What is changed afterwards is one's own; what is broken is not handed over.
        var later = (await Save(owner, Own.Replace("My harbour", "Mine again"), step)).Body.GetProperty("step").GetInt64();
        var broken = (await Save(owner, Own.Replace("show: sailings", "show: nothing"), later)).Body.GetProperty("step").GetInt64();
        Code((await Send(owner, HttpMethod.Post, HandOver, new { step = broken })).Body).ShouldBe("broken-draft");
        var text = (await Send(director, HttpMethod.Get, "api/drafts/dashboards/network")).Body.GetProperty("text").GetString()!;
        var changed = text.Replace("title: The network today", "title: The network now");
        changed.ShouldNotBe(text);
        var second = (await Save(director, changed, name: "network")).Body.GetProperty("step").GetInt64();
        await Send(director, HttpMethod.Post, "api/drafts/dashboards/network/hand-over", new { step = second });
        foreach (var other in (HttpClient[])[owner, director])
            (await Send(other, HttpMethod.Get, "api/handed-drafts")).Status.ShouldBe(HttpStatusCode.Forbidden);
        var handed = (await Send(developer, HttpMethod.Get, "api/handed-drafts")).Body;
        handed
            .EnumerateArray()
            .Select(h => $"{h.GetProperty("owner")} {h.GetProperty("name")} {h.GetProperty("title")} {h.GetProperty("why")}")
            .ShouldBe(["north-ports own-harbour My harbour for all of us", "director network The network now "]);

        // A dashboard of somebody's own is one that can be published, under a name that is free.
        await Save(developer, Own.Replace("own-harbour", "harbour"), name: "harbour");
        (await Send(developer, HttpMethod.Post, "api/handed-drafts/north-ports/own-harbour/take"))
            .Body.GetProperty("name")
            .GetString()
            .ShouldBe("harbour-2");
        var taken = (await Send(developer, HttpMethod.Get, "api/drafts/dashboards/harbour-2")).Body;
        taken.GetProperty("text").GetString().ShouldBe(Own.Replace("own-harbour", "harbour-2"));
        (await Send(developer, HttpMethod.Post, "api/handed-drafts/north-ports/own-harbour/take")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Send(owner, HttpMethod.Get, "api/drafts/dashboards/own-harbour"))
            .Body.GetProperty("handedOver")
            .ValueKind.ShouldBe(JsonValueKind.Null);
        (await Send(owner, HttpMethod.Delete, HandOver)).Status.ShouldBe(HttpStatusCode.NotFound);
        // Nobody's own draft is written over; what is taken goes back to what is published.
        await Save(developer, changed, name: "network");
        Code((await Send(developer, HttpMethod.Post, "api/handed-drafts/director/network/take")).Body).ShouldBe("have-draft");
        await Send(developer, HttpMethod.Delete, "api/drafts/dashboards/network");
        (await Send(developer, HttpMethod.Post, "api/handed-drafts/director/network/take")).Status.ShouldBe(HttpStatusCode.OK);
        var network = (await Send(developer, HttpMethod.Get, "api/drafts/dashboards/network")).Body;
        network.GetProperty("text").GetString().ShouldBe(changed);
        (await Send(developer, HttpMethod.Post, "api/drafts/dashboards/network/undo")).Body.GetProperty("text").GetString().ShouldBe(text);
        (await Send(developer, HttpMethod.Post, "api/drafts/dashboards/network/redo")).Status.ShouldBe(HttpStatusCode.OK);
        (
            await Send(
                developer,
                HttpMethod.Post,
                "api/drafts/dashboards/network/publish",
                new { step = network.GetProperty("step").GetInt64(), why = "as the director wants it" }
            )
        )
            .Body.GetProperty("accepted")
            .GetBoolean()
            .ShouldBeTrue();
    }

    [Fact]
    public async Task Nobody_designs_a_dashboard_that_names_what_is_hidden_from_them_and_what_is_taken_away_takes_the_draft_along()
    {
        Repository.CopyDemo(_folder.Path, (_, text) => Repository.Patient(text));
        var access = Path.Combine(_folder.Path, "access.yaml");
        var grants = File.ReadAllText(access);
        // The auditor sees no income, which tiles of network show; tickets of the desk are none at all.
        File.WriteAllText(access, grants.Replace("dashboards: { all: [see] }", "dashboards: { all: [see, design] }\n    may: [own]"));
        await using var service = await RunningService.Start(workspace: _folder.Path);
        var auditor = service.As("auditor");
        (await Send(auditor, HttpMethod.Get, "api/drafts/dashboards/network")).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await Send(auditor, HttpMethod.Get, "api/dashboards/network", draft: "network"))
            .Body.GetProperty("withheld")
            .GetInt32()
            .ShouldBePositive();
        await Save(auditor, Own);
        (await Counted(auditor)).ShouldBePositive();
        var (_, unseen) = await Save(auditor, Own.Replace("show: sailings", "show: income"), 1);
        Faults(unseen).ShouldContain(f => f.Contains("income"));
        Faults(unseen).ShouldAllBe(f => !f.Contains("fare_income"));
        var files = Directory
            .GetFiles(_folder.Path, "*.*", SearchOption.AllDirectories)
            .Where(f => f.EndsWith(".yaml", StringComparison.Ordinal))
            .ToDictionary(f => Path.GetRelativePath(_folder.Path, f), File.ReadAllText);
        files["access.yaml"] = grants;
        var all = (await Send(service.As("developer"), HttpMethod.Get, "api/definitions")).Body.GetProperty("files");
        foreach (var file in all.EnumerateObject().Where(f => !files.ContainsKey(f.Name)))
            files[file.Name] = file.Value.GetString()!;
        (await Send(service.As("developer"), HttpMethod.Put, "api/definitions", new { files }))
            .Body.GetProperty("accepted")
            .GetBoolean()
            .ShouldBeTrue();
        (await Send(auditor, HttpMethod.Get, "api/dashboards/own-harbour", draft: "own-harbour")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Send(auditor, HttpMethod.Get, "api/drafts/dashboards/own-harbour")).Status.ShouldBe(HttpStatusCode.Forbidden);
    }
}
