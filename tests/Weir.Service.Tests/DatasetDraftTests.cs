using System.Net;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using Shouldly;
using Weir.Core.Access;
using Weir.Demo;
using Weir.Store;
using static Weir.Service.Tests.Calls;

namespace Weir.Service.Tests;

/// <summary>Drafts of datasets: for those who publish and define; what they break elsewhere is told before it is published.</summary>
public sealed class DatasetDraftTests
{
    private static Task<(HttpStatusCode Status, JsonElement Body)> Steps(HttpClient client, params object[] steps) =>
        Send(client, HttpMethod.Post, "api/drafts/datasets/sailings/steps", new { steps });

    private static IEnumerable<string> Errors(JsonElement draft) =>
        draft
            .GetProperty("faults")
            .EnumerateArray()
            .Where(f => f.GetProperty("severity").GetString() == "error")
            .Select(f => $"{f.GetProperty("file").GetString()} {f.GetProperty("code").GetString()}");

    [Fact]
    public async Task A_measure_is_added_what_is_broken_elsewhere_is_told_and_nothing_is_published_until_it_is_mended()
    {
        await using var service = await RunningService.Start();
        var developer = service.As("developer");
        var before = (await Send(developer, HttpMethod.Get, "api/drafts/datasets/sailings")).Body.GetProperty("text").GetString()!;
        var (_, added) = await Steps(
            developer,
            new
            {
                @do = "set",
                at = new[] { "measures", "fare_each" },
                value = new { formula = "sum(fares) / count(*)", title = "Fare for each sailing" },
            }
        );
        Errors(added).ShouldBeEmpty();
        var text = added.GetProperty("text").GetString()!;
        text.Split('\n').Except(before.Split('\n')).Count().ShouldBe(1);
        before.Split('\n').Except(text.Split('\n')).ShouldBeEmpty();
        // Until it is published nobody has it, and pages ask as before.
        (await Send(developer, HttpMethod.Get, "api/datasets"))
            .Body.ToString()
            .ShouldNotContain("fare_each");
        // What needs a measure is told in whichever file it is, and keeps it from being published.
        var (_, broken) = await Steps(developer, new { @do = "remove", at = new[] { "measures", "income" } });
        Errors(broken).Select(e => e.Split('/')[0]).Distinct().Order().ShouldBe(["catalogues", "dashboards", "datasets"]);
        var step = broken.GetProperty("step").GetInt64();
        (await Send(developer, HttpMethod.Post, "api/drafts/datasets/sailings/publish", new { step }))
            .Body.GetProperty("accepted")
            .GetBoolean()
            .ShouldBeFalse();
        var (_, back) = await Send(developer, HttpMethod.Post, "api/drafts/datasets/sailings/undo");
        back.GetProperty("text").GetString().ShouldBe(text);
        var drafts = (await Send(developer, HttpMethod.Get, "api/drafts")).Body[0];
        (drafts.GetProperty("kind").GetString(), drafts.GetProperty("name").GetString()).ShouldBe(("datasets", "sailings"));
        (
            await Send(
                developer,
                HttpMethod.Post,
                "api/drafts/datasets/sailings/publish",
                new { step = back.GetProperty("step").GetInt64(), why = "For the fares board" }
            )
        )
            .Body.GetProperty("accepted")
            .GetBoolean()
            .ShouldBeTrue();
        (await Send(developer, HttpMethod.Get, "api/datasets")).Body.ToString().ShouldContain("fare_each");
        (await Send(developer, HttpMethod.Get, "api/versions"))
            .Body[0]
            .GetProperty("files")[0]
            .GetString()
            .ShouldBe("datasets/sailings.yaml");
    }

    [Fact]
    public async Task A_draft_is_held_against_the_data_before_it_is_published()
    {
        await using var service = await RunningService.Start();
        var developer = service.As("developer");
        async Task<JsonElement> Draft(string kind, string name, string was, string now)
        {
            var text = (await Send(developer, HttpMethod.Get, $"api/drafts/{kind}/{name}")).Body.GetProperty("text").GetString()!;
            text.ShouldContain(was);
            var (status, saved) = await Send(
                developer,
                HttpMethod.Put,
                $"api/drafts/{kind}/{name}",
                new { text = text.Replace(was, now), after = 0 }
            );
            status.ShouldBe(HttpStatusCode.OK, saved.ToString());
            Errors(saved).ShouldBeEmpty();
            (status, var check) = await Send(developer, HttpMethod.Post, $"api/drafts/{kind}/{name}/check");
            status.ShouldBe(HttpStatusCode.OK, check.ToString());
            check.GetProperty("isWhole").GetBoolean().ShouldBeTrue();
            return check;
        }
        // A column that is not there, at its line; the tiles over it are not told of one by one.
        var dataset = await Draft("datasets", "tickets", "column: ticket_sale.kind,", "column: ticket_sale.knid,");
        Errors(dataset).ShouldBe(["datasets/tickets.yaml unknown-column"]);
        dataset.GetProperty("faults")[0].GetProperty("line").GetInt32().ShouldBeGreaterThan(1);
        // A rule that gives more than its check lets it.
        var access = await Draft("access", "access", "{ where: \"port in user.ports\"", "{ where: \"port in user.ports or port = 'LAN'\"");
        Errors(access).ShouldBe(["access.yaml access-check"]);
        // The tiles of a dashboard, and of no other.
        var dashboard = await Draft("dashboards", "tickets", "title: Ticket sales", "title: Tickets");
        Errors(dashboard).ShouldBeEmpty();
        dashboard.GetProperty("tilesAsked").GetInt32().ShouldBeInRange(5, 40);
        // One with an error is not asked about; that error is told with the draft.
        await Send(developer, HttpMethod.Put, "api/drafts/dashboards/broken", new { text = "dashboard: broken\ntabs: 5\n", after = 0 });
        (await Send(developer, HttpMethod.Post, "api/drafts/dashboards/broken/check"))
            .Body.GetProperty("code")
            .GetString()
            .ShouldBe("broken-draft");
        // Nothing of all that was published; who may not both define and publish is told no more of the data than before.
        (await Send(developer, HttpMethod.Get, "api/versions"))
            .Body.GetArrayLength()
            .ShouldBe(1);
        (await Send(developer, HttpMethod.Post, "api/drafts/dashboards/network/check")).Status.ShouldBe(HttpStatusCode.NotFound);
        var director = service.As("director");
        await Send(director, HttpMethod.Put, "api/drafts/dashboards/own-x", new { text = "dashboard: own-x", after = 0 });
        foreach (var path in (string[])["dashboards/own-x", "dashboards/network", "datasets/tickets", "access/access"])
            (await Send(director, HttpMethod.Post, $"api/drafts/{path}/check")).Status.ShouldBe(HttpStatusCode.Forbidden, path);
    }

    [Fact]
    public async Task Whoever_publishes_and_does_not_define_has_no_drafts_of_datasets()
    {
        using var workspace = WithRole("publisher", "{ may: [publish], reads: { sailings: all } }");
        await using var service = await RunningService.Start(workspace: workspace.Path);
        service
            .Services.GetRequiredService<Users>()
            .Put(new Viewer("pub", "Pub", ["publisher"], new Dictionary<string, IReadOnlyList<string>>()), "pub-lantern-12");
        var publisher = service.As("pub");
        (await Send(publisher, HttpMethod.Get, "api/drafts/dashboards/network")).Status.ShouldBe(HttpStatusCode.OK);
        (HttpMethod Method, string Path, object? Body)[] all =
        [
            (HttpMethod.Get, "", null),
            (HttpMethod.Put, "", new { text = "dataset: sailings", after = 0 }),
            (HttpMethod.Post, "/steps", new { steps = new[] { new { @do = "remove", at = new[] { "measures", "fuel" } } } }),
            (HttpMethod.Post, "/undo", null),
            (HttpMethod.Post, "/redo", null),
            (HttpMethod.Post, "/merge", new { step = 1 }),
            (HttpMethod.Post, "/publish", new { step = 1 }),
            (HttpMethod.Delete, "", null),
        ];
        foreach (var dataset in (string[])["sailings", "costs", "none"])
        foreach (var (method, path, body) in all)
        {
            var (status, refused) = await Send(publisher, method, $"api/drafts/datasets/{dataset}{path}", body);
            status.ShouldBe(HttpStatusCode.Forbidden, $"{method} {path}");
            refused.GetProperty("code").GetString().ShouldBe("not-allowed");
        }
        (
            await Send(
                publisher,
                HttpMethod.Post,
                "api/datasets/formula",
                new
                {
                    text = "",
                    name = "a",
                    formula = "1",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await Send(publisher, HttpMethod.Get, "api/drafts/datasets")).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await Send(publisher, HttpMethod.Get, "api/drafts/dashboards")).Body.ToString().ShouldContain("dashboards/network.yaml");
        foreach (
            var (client, kind, expected) in ((string, string, HttpStatusCode)[])
                [
                    ("developer", "images", HttpStatusCode.NotFound),
                    ("developer", "..", HttpStatusCode.NotFound),
                    ("director", "datasets", HttpStatusCode.Forbidden),
                ]
        )
            (await Send(service.As(client), HttpMethod.Get, $"api/drafts/{kind}/ferries")).Status.ShouldBe(expected);
        (await Send(service.As("developer"), HttpMethod.Get, "api/drafts/datasets/none")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Send(service.As("developer"), HttpMethod.Get, "api/drafts/datasets/a%20b")).Status.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
    }

    [Fact]
    public async Task Who_defines_finds_datasets_that_no_role_of_their_own_reads()
    {
        using var workspace = WithRole("definer", "{ may: [publish, define], reads: { costs: all } }");
        await using var service = await RunningService.Start(workspace: workspace.Path);
        service
            .Services.GetRequiredService<Users>()
            .Put(new Viewer("def", "Def", ["definer"], new Dictionary<string, IReadOnlyList<string>>()), "def-lantern-12");
        var definer = service.As("def");
        static IEnumerable<string?> Names(JsonElement list) => list.EnumerateArray().Select(d => d.GetProperty("name").GetString());
        Names((await Send(definer, HttpMethod.Get, "api/datasets")).Body).ShouldBe(["costs"]);
        Names((await Send(definer, HttpMethod.Get, "api/drafts/datasets")).Body)
            .ShouldBe(["costs", "inspections", "sailings", "tickets"], ignoreOrder: true);
    }

    [Fact]
    public async Task A_formula_gives_what_a_direct_query_does_and_its_faults_are_told_at_their_characters()
    {
        await using var service = await RunningService.Start();
        var developer = service.As("developer");
        var text = (await Send(developer, HttpMethod.Get, "api/drafts/datasets/sailings")).Body.GetProperty("text").GetString()!;
        async Task<(HttpStatusCode Status, JsonElement Body)> Try(string formula, bool isMeasure, string? by = null, string? over = null) =>
            await Send(
                developer,
                HttpMethod.Post,
                "api/datasets/formula",
                new
                {
                    text = over ?? text,
                    name = "tried",
                    formula,
                    isMeasure,
                    by,
                }
            );
        JsonElement Values(JsonElement answer, string of = "table") => answer.GetProperty(of).GetProperty("values");

        var each = (await Try("sum(passengers) / count(*)", true, "sea_area")).Body;
        Values(each, "totals")[0]
            [0]
            .GetDouble()
            .ShouldBe(Convert.ToDouble(DemoSql.Scalar("SELECT sum(passengers) * 1.0 / count(*) FROM sailing")), 1e-9);
        foreach (var (area, i) in Values(each)[0].EnumerateArray().Select((a, i) => (a.GetString(), i)))
            Values(each)[1]
                [i]
                .GetDouble()
                .ShouldBe(
                    Convert.ToDouble(
                        DemoSql.Scalar(
                            $"SELECT sum(passengers) * 1.0 / count(*) FROM sailing s JOIN route r ON r.id = s.route_id WHERE r.sea_area = '{area}'"
                        )
                    ),
                    1e-9
                );
        // Who tried what on which data is in the audit, as for previews.
        service
            .Services.GetRequiredService<Audit>()
            .Newest(20)
            .ShouldContain(a => a.Who == "developer" && a.Act == "preview" && a.What == "a formula of sailings");
        // Figures that look at other lines, and a field's most frequent values.
        Values((await Try("share(sailings)", true, "sea_area")).Body)[1].EnumerateArray().Sum(v => v.GetDouble()).ShouldBe(1, 1e-9);
        var field = (await Try("delay > 10", false)).Body;
        field.GetProperty("kind").GetString().ShouldBe("boolean");
        Values(field)[1].EnumerateArray().Sum(v => v.GetInt64()).ShouldBe(Convert.ToInt64(DemoSql.Scalar("SELECT count(*) FROM sailing")));
        // What is wrong.
        var fault = (await Try("sum(farse)", true)).Body.GetProperty("fault");
        (fault.GetProperty("start").GetInt32(), fault.GetProperty("end").GetInt32()).ShouldBe((4, 9));
        (await Try("sum(fares)", true, "route.month")).Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Try(new string('(', 10_001), true)).Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Try("1", true, over: new string(' ', 3_000_000))).Status.ShouldBe(HttpStatusCode.RequestEntityTooLarge);
        (await Try(new string('(', 9_000), true)).Body.GetProperty("fault").GetProperty("message").GetString().ShouldNotBeEmpty();
        (await Try("sum(passengers * 1000000000000000)", true))
            .Body.GetProperty("faults")[0]
            .GetProperty("code")
            .GetString()
            .ShouldBe("query-failed");
        // Of a dataset that is broken by this very formula it can be tried all the same; of one that is broken elsewhere, that is told.
        var own = text.Replace("measures:\n", "measures:\n  tried: { formula: \"sum(farse)\" }\n");
        Values((await Try("sum(fares)", true, over: own)).Body)[0].GetArrayLength().ShouldBe(1);
        (await Try("sum(fares)", true, over: text.Replace("sum(fuel_cost)", "sum(fule_cost)")))
            .Body.GetProperty("faults")
            .GetArrayLength()
            .ShouldBe(1);
    }

    [Fact]
    public async Task Every_definition_is_worked_on_as_a_draft_with_the_faults_of_the_whole_workspace()
    {
        await using var service = await RunningService.Start();
        var developer = service.As("developer");
        foreach (
            var (kind, name, was, now, fault) in ((string, string, string, string, string)[])
                [
                    ("access", "access", "costs: all", "cost: all", "There is no dataset cost."),
                    ("workspace", "workspace", "time_zone: UTC", "time_zone: Nowhere", "There is no time zone Nowhere."),
                    ("sources", "ferries", "engine: duckdb", "engine: postgresql", "needs the key host"),
                    ("openings", "bridge-desk", "tab: purse", "tab: none", "none"),
                    ("catalogues", "purse", "dataset: tickets", "dataset: tickts", "There is no dataset tickts."),
                ]
        )
        {
            var address = $"api/drafts/{kind}/{name}";
            var text = (await Send(developer, HttpMethod.Get, address)).Body.GetProperty("text").GetString()!;
            text.ShouldContain(was);
            (await Send(developer, HttpMethod.Get, $"api/drafts/{kind}"))
                .Body.EnumerateArray()
                .ShouldContain(d => d.GetProperty("name").GetString() == name);
            var (_, broken) = await Send(developer, HttpMethod.Put, address, new { text = text.Replace(was, now), after = 0 });
            broken
                .GetProperty("faults")
                .EnumerateArray()
                .ShouldContain(f => f.GetProperty("message").GetString()!.Contains(fault), $"{kind}: {broken}");
            var step = broken.GetProperty("step").GetInt64();
            (await Send(developer, HttpMethod.Post, $"{address}/publish", new { step }))
                .Body.GetProperty("accepted")
                .GetBoolean()
                .ShouldBeFalse();
            // Mended, it is published as any other.
            var mended = $"{text.TrimEnd()}   # mended\n";
            var (_, good) = await Send(developer, HttpMethod.Put, address, new { text = mended, after = step });
            Errors(good).ShouldBeEmpty();
            (
                await Send(
                    developer,
                    HttpMethod.Post,
                    $"{address}/publish",
                    new { step = good.GetProperty("step").GetInt64(), why = "a remark" }
                )
            )
                .Body.GetProperty("accepted")
                .GetBoolean()
                .ShouldBeTrue();
            (await Send(developer, HttpMethod.Get, address)).Body.GetProperty("text").GetString().ShouldBe(mended);
            foreach (var other in (string[])["director", "north-ports", "auditor"])
                (await Send(service.As(other), HttpMethod.Get, address)).Status.ShouldBe(HttpStatusCode.Forbidden);
            (await Send(developer, HttpMethod.Get, $"api/definition-words/{kind}"))
                .Body.GetProperty("keys")
                .GetArrayLength()
                .ShouldBePositive();
        }
        (await Send(developer, HttpMethod.Get, "api/drafts/access/other")).Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Send(developer, HttpMethod.Get, "api/definition-words/none")).Status.ShouldBe(HttpStatusCode.NotFound);
    }
}
