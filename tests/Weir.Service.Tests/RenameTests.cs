using System.Net;
using System.Text.Json;
using System.Text.RegularExpressions;
using Microsoft.Extensions.DependencyInjection;
using Shouldly;
using Weir.Core.Access;
using Weir.Store;
using static Weir.Service.Tests.Calls;

namespace Weir.Service.Tests;

/// <summary>Another name, in definitions and in what viewers arranged, at once or not at all.</summary>
public sealed class RenameTests
{
    private static Task<(HttpStatusCode Status, JsonElement Body)> Rename(HttpClient client, object request, bool isPreview = false) =>
        Send(client, HttpMethod.Post, isPreview ? "api/renames/preview" : "api/renames", request);

    private static async Task<IEnumerable<string?>> Shown(HttpClient client, string dashboard, string tile)
    {
        var (_, page) = await Send(client, HttpMethod.Get, $"api/dashboards/{dashboard}");
        var found = page.GetProperty("tabs")
            .EnumerateArray()
            .SelectMany(t => t.GetProperty("tiles").EnumerateArray())
            .First(t => t.GetProperty("name").GetString() == tile);
        return found.GetProperty("show").EnumerateArray().Select(s => s.GetProperty("name").GetString());
    }

    [Fact]
    public async Task A_measure_has_another_name_in_files_and_in_everybodys_views_with_one_version()
    {
        await using var service = await RunningService.Start();
        var (developer, director) = (service.As("developer"), service.As("director"));
        var edits = "api/dashboards/tickets/view/edits";
        (
            await Send(
                director,
                HttpMethod.Post,
                edits,
                new
                {
                    edit = "draw",
                    tile = "sold-by-terminal",
                    drawing = new { show = new[] { "takings" } },
                }
            )
        ).Status.ShouldBe(HttpStatusCode.OK);
        // What was taken back can be done again, by the new name.
        (
            await Send(
                director,
                HttpMethod.Post,
                edits,
                new
                {
                    edit = "draw",
                    tile = "sold-by-terminal",
                    drawing = new
                    {
                        show = new[] { "takings" },
                        sort = "takings",
                        descending = true,
                    },
                }
            )
        ).Status.ShouldBe(HttpStatusCode.OK);
        await Send(director, HttpMethod.Post, "api/dashboards/tickets/view/undo");

        // A dashboard of somebody's own names it, one names what is called like it, and one is broken.
        async Task Own(HttpClient client, string name, string tile) =>
            (
                await Send(
                    client,
                    HttpMethod.Put,
                    $"api/drafts/dashboards/own-{name}",
                    new { text = $"dashboard: own-{name}\ntabs:\n  - tab: all\n    columns: 2\n    tiles:\n      - {tile}\n", after = 0 }
                )
            ).Status.ShouldBe(HttpStatusCode.OK);
        const string Named =
            "{ tile: takings, picture: bar, dataset: tickets, show: [takings, mean_price], by: terminal, sort: { by: takings } } # takings";
        const string Alike = "{ tile: takings, picture: number, dataset: tickets, show: mean_price }";
        await Own(director, "purse", Named);
        await Own(director, "alike", Alike);
        await Own(service.As("north-ports"), "broken", Named.Replace("terminal", "nowhere"));

        var request = new
        {
            kind = "measure",
            dataset = "tickets",
            from = "takings",
            to = "paid",
            keepTitle = true,
        };
        var (_, preview) = await Rename(developer, request, isPreview: true);
        preview.GetProperty("views").GetInt32().ShouldBe(1);
        var files = preview.GetProperty("files").EnumerateArray().Select(f => f.GetProperty("path").GetString()).ToList();
        files.ShouldContain("datasets/tickets.yaml");
        files.ShouldContain("dashboards/tickets.yaml");
        files.ShouldContain("catalogues/purse.yaml");
        preview.GetProperty("warnings").GetArrayLength().ShouldBe(0);
        preview.GetProperty("ownDashboards").GetInt32().ShouldBe(1);
        // Nothing happened yet, and what was looked at is what is done.
        (await Shown(director, "tickets", "sold-by-terminal")).ShouldBe(["takings"]);
        var version = preview.GetProperty("version").GetInt64();
        var (stale, problem) = await Rename(
            developer,
            new
            {
                request.kind,
                request.dataset,
                request.from,
                request.to,
                version = version - 1,
            }
        );
        (stale, problem.GetProperty("code").GetString()).ShouldBe((HttpStatusCode.Conflict, "published-meanwhile"));

        var before = await service.Results("director", "tickets", null, ["sold-by-terminal"]);
        var (status, done) = await Rename(
            developer,
            new
            {
                request.kind,
                request.dataset,
                request.from,
                request.to,
                request.keepTitle,
                version,
            }
        );
        (status, done.GetProperty("version").GetInt64()).ShouldBe((HttpStatusCode.OK, version + 1));
        (await Shown(director, "tickets", "sold-by-terminal")).ShouldBe(["paid"]);
        var after = await service.Results("director", "tickets", null, ["sold-by-terminal"]);
        after["sold-by-terminal"]
            .GetProperty("table")
            .GetProperty("values")
            .ToString()
            .ShouldBe(before["sold-by-terminal"].GetProperty("table").GetProperty("values").ToString());
        async Task<JsonElement> Draft(HttpClient client, string name) =>
            (await Send(client, HttpMethod.Get, $"api/drafts/dashboards/own-{name}")).Body;
        var own = await Draft(director, "purse");
        own.GetProperty("text")
            .GetString()!
            .ShouldContain(
                "{ tile: takings, picture: bar, dataset: tickets, show: [paid, mean_price], by: terminal, sort: { by: paid } } # takings"
            );
        own.GetProperty("faults").GetArrayLength().ShouldBe(0, own.ToString());
        own.GetProperty("canUndo").GetBoolean().ShouldBeTrue();
        (await Draft(director, "alike")).GetProperty("text").GetString()!.ShouldContain(Alike);
        (await Draft(service.As("north-ports"), "broken")).GetProperty("text").GetString()!.ShouldContain("show: [takings, mean_price]");
        await Send(director, HttpMethod.Post, "api/dashboards/tickets/view/redo");
        (await Shown(director, "tickets", "sold-by-terminal")).ShouldBe(["paid"]);
        // Nothing that the viewer had changed was changed under them.
        var (_, page) = await Send(director, HttpMethod.Get, "api/dashboards/tickets");
        page.ToString().ShouldNotContain("where you had changed it");
        (await Send(developer, HttpMethod.Get, "api/versions")).Body[0].GetProperty("why").GetString().ShouldBe("takings is called paid");
    }

    [Fact]
    public async Task A_dashboard_has_another_name_with_its_views_and_what_is_shared_of_them()
    {
        await using var service = await RunningService.Start();
        var (developer, director) = (service.As("developer"), service.As("director"));
        await Send(director, HttpMethod.Post, "api/dashboards/network/views", new { title = "Mine" });
        await Send(director, HttpMethod.Post, "api/dashboards/network/view/edits?view=view-1", new { edit = "hide", tile = "counted" });
        var (_, named) = await Send(director, HttpMethod.Get, "api/dashboards/network?view=view-1");
        var (status, done) = await Rename(
            developer,
            new
            {
                kind = "dashboard",
                from = "network",
                to = "web-of-routes",
            }
        );
        (status, done.GetProperty("accepted").GetBoolean()).ShouldBe((HttpStatusCode.OK, true));
        (await Send(director, HttpMethod.Get, "api/dashboards/network")).Status.ShouldBe(HttpStatusCode.NotFound);
        var (_, there) = await Send(director, HttpMethod.Get, "api/dashboards/web-of-routes?view=view-1");
        // All the same; only that the texts around them are others now is told of the tiles.
        static string Tabs(JsonElement page) => Regex.Replace(page.GetProperty("tabs").ToString(), "\"basis\":\"[^\"]*\"", "");
        Tabs(there).ShouldBe(Tabs(named));
        // A tile of its own that others may place is offered by the new name, also in the opening view of a desk.
        (await Send(service.As("skerrin-desk"), HttpMethod.Get, "api/dashboards/bridge"))
            .Body.ToString()
            .ShouldContain("desk-quarters");
        // The old name is not free while others might have views of it, and the new one neither.
        (
            await Rename(
                developer,
                new
                {
                    kind = "dashboard",
                    from = "tickets",
                    to = "web-of-routes",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (
            await Rename(
                developer,
                new
                {
                    kind = "dashboard",
                    from = "web-of-routes",
                    to = "network",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task A_file_that_somebody_works_on_stays_and_a_draft_takes_the_new_name_in()
    {
        await using var service = await RunningService.Start();
        var developer = service.As("developer");
        var draft = "api/drafts/dashboards/tickets";
        await Send(
            developer,
            HttpMethod.Post,
            $"{draft}/steps",
            new
            {
                steps = new[]
                {
                    new
                    {
                        @do = "set",
                        at = new[] { "title" },
                        value = "Fares",
                    },
                },
            }
        );
        await Rename(
            developer,
            new
            {
                kind = "measure",
                dataset = "tickets",
                from = "takings",
                to = "paid",
            }
        );
        var (_, behind) = await Send(developer, HttpMethod.Get, draft);
        behind.GetProperty("isBehind").GetBoolean().ShouldBeTrue();
        var (_, merged) = await Send(developer, HttpMethod.Post, $"{draft}/merge", new { step = behind.GetProperty("step").GetInt64() });
        var text = merged.GetProperty("draft").GetProperty("text").GetString()!;
        text.ShouldContain("title: Fares");
        text.ShouldContain("show: paid");
        merged
            .GetProperty("draft")
            .GetProperty("faults")
            .EnumerateArray()
            .ShouldNotContain(f => f.GetProperty("severity").GetString() == "error");
        var (_, preview) = await Rename(
            developer,
            new
            {
                kind = "dashboard",
                from = "tickets",
                to = "fares",
            },
            isPreview: true
        );
        preview
            .GetProperty("files")
            .EnumerateArray()
            .Select(f => f.GetProperty("path").GetString())
            .ShouldContain("dashboards/tickets.yaml");
    }

    [Theory]
    [InlineData("measure", "tickets", "takings", "channel", "There is a field or measure channel already.")]
    [InlineData("field", "no-such", "a", "b", "There is no dataset no-such.")]
    [InlineData("dataset", null, "tickets", "a b", "'a b' can't be a name.")]
    [InlineData("dashboard", null, "none", "other", "There is no dashboard none.")]
    [InlineData("tile", null, "a", "b", "A field, a measure, a dataset or a dashboard can have another name.")]
    [InlineData("field", null, "a", "b", "Say of which dataset it is.")]
    [InlineData("dataset", null, "", "b", "Say from which name to which, of 100 letters at most.")]
    public async Task What_can_t_be_is_refused_with_the_reason(string kind, string? dataset, string from, string to, string reason)
    {
        await using var service = await RunningService.Start();
        var request = new
        {
            kind,
            dataset,
            from,
            to,
        };
        foreach (var isPreview in (bool[])[true, false])
        {
            var (status, problem) = await Rename(service.As("developer"), request, isPreview);
            (status, problem.GetProperty("detail").GetString()).ShouldBe((HttpStatusCode.UnprocessableEntity, reason));
        }
    }

    [Fact]
    public async Task Whoever_publishes_and_does_not_define_gives_names_to_dashboards_only()
    {
        using var workspace = WithRole("publisher", "{ may: [publish], reads: { sailings: all } }");
        await using var service = await RunningService.Start(workspace: workspace.Path);
        service
            .Services.GetRequiredService<Users>()
            .Put(new Viewer("pub", "Pub", ["publisher"], new Dictionary<string, IReadOnlyList<string>>()), "pub-lantern-12");
        var publisher = service.As("pub");
        // The same for what is there and for what is not.
        foreach (var of in (string[])["tickets", "no-such"])
        {
            var (status, problem) = await Rename(
                publisher,
                new
                {
                    kind = "measure",
                    dataset = of,
                    from = "takings",
                    to = "paid",
                },
                true
            );
            (status, problem.ToString().Contains(of)).ShouldBe((HttpStatusCode.Forbidden, false));
        }
        (
            await Rename(
                publisher,
                new
                {
                    kind = "dashboard",
                    from = "atlas",
                    to = "maps",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.OK);
    }
}
