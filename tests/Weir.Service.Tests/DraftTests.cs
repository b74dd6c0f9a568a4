using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using Shouldly;
using Weir.Core.Access;
using Weir.Demo;
using Weir.Store;
using Weir.Testing;
using static Weir.Service.Tests.Calls;

namespace Weir.Service.Tests;

/// <summary>Drafts of dashboards: their owner's alone, with real figures under their owner's rights, published with a reason, brought back.</summary>
public sealed class DraftTests
{
    private const string New = """
        # What stands here stays.
        dashboard: harbour
        title: Harbour
        tabs:
          - tab: all
            columns: 2
            tiles:
              - tile: counted
                picture: number
                dataset: sailings
                show: sailings
        """;

    private static Task<(HttpStatusCode Status, JsonElement Body)> Save(HttpClient client, string text, long after) =>
        Send(client, HttpMethod.Put, "api/drafts/dashboards/harbour", new { text, after });

    private static async Task<long> Counted(HttpClient client)
    {
        var (status, body) = await Send(
            client,
            HttpMethod.Post,
            "api/dashboards/harbour/results",
            new { tiles = new[] { "counted" } },
            "harbour"
        );
        status.ShouldBe(HttpStatusCode.OK, body.ToString());
        return body.GetProperty("table").GetProperty("values")[0][0].GetInt64();
    }

    [Fact]
    public async Task A_draft_is_its_owners_alone_stays_good_while_it_is_broken_and_goes_back_and_forth()
    {
        await using var service = await RunningService.Start();
        var (developer, director) = (service.As("developer"), service.As("director"));
        var (_, saved) = await Save(developer, New, 0);
        saved.GetProperty("step").GetInt64().ShouldBe(1);
        saved.GetProperty("faults").GetArrayLength().ShouldBe(0);
        (await Counted(developer)).ShouldBe(Convert.ToInt64(DemoSql.Scalar("SELECT count(*) FROM sailing")));
        // Nobody else has it, whatever they send, and its owner only on its page.
        foreach (var (client, draft) in ((HttpClient, string?)[])[(director, "harbour"), (director, null), (developer, null)])
            (await Send(client, HttpMethod.Get, "api/dashboards/harbour", draft: draft)).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Send(developer, HttpMethod.Get, "api/dashboards")).Body.ToString().ShouldNotContain("harbour");
        (await Send(director, HttpMethod.Get, "api/drafts/dashboards/harbour")).Status.ShouldBe(HttpStatusCode.Forbidden);
        // What is broken is saved and told, and the page stays as it last was.
        var (_, broken) = await Save(developer, New.Replace("show: sailings", "show: no_such"), 1);
        broken.GetProperty("faults")[0].GetProperty("line").GetInt32().ShouldBe(11);
        broken.GetProperty("text").GetString()!.ShouldContain("no_such");
        (await Counted(developer)).ShouldBeGreaterThan(0);
        // So is what no form can tell of, such as a key that stands twice.
        var (twice, told) = await Send(
            developer,
            HttpMethod.Put,
            "api/drafts/dashboards/twice",
            new { text = "dashboard: twice\ntitle: a\ntitle: b\n", after = 0 }
        );
        (twice, told.GetProperty("written").ValueKind).ShouldBe((HttpStatusCode.OK, JsonValueKind.Null));
        told.GetProperty("faults").GetArrayLength().ShouldBeGreaterThan(0);
        var (cannot, why) = await Send(
            developer,
            HttpMethod.Post,
            "api/drafts/dashboards/twice/steps",
            new
            {
                steps = new[]
                {
                    new
                    {
                        @do = "set",
                        at = new[] { "title" },
                        value = "c",
                    },
                },
            }
        );
        (cannot, why.GetProperty("code").GetString()).ShouldBe((HttpStatusCode.UnprocessableEntity, "bad-step"));
        (await Send(developer, HttpMethod.Delete, "api/drafts/dashboards/twice")).Status.ShouldBe(HttpStatusCode.NoContent);
        // A window that is behind does not overwrite.
        var (moved, problem) = await Save(developer, New, 1);
        (moved, problem.GetProperty("code").GetString()).ShouldBe((HttpStatusCode.Conflict, "draft-moved"));
        (await Send(developer, HttpMethod.Post, "api/drafts/dashboards/harbour/undo")).Body.GetProperty("text").GetString().ShouldBe(New);
        var (_, redone) = await Send(developer, HttpMethod.Post, "api/drafts/dashboards/harbour/redo");
        (redone.GetProperty("canUndo").GetBoolean(), redone.GetProperty("canRedo").GetBoolean()).ShouldBe((true, false));
        // Its page changes nothing but the draft.
        var (only, refused) = await Send(
            developer,
            HttpMethod.Post,
            "api/dashboards/network/view/edits",
            new { edit = "hide", tile = "late" },
            "harbour"
        );
        (only, refused.GetProperty("code").GetString()).ShouldBe((HttpStatusCode.Forbidden, "draft-only"));
        (await Send(developer, HttpMethod.Delete, "api/drafts/dashboards/harbour")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Send(developer, HttpMethod.Get, "api/drafts/dashboards/harbour")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Send(developer, HttpMethod.Get, "api/dashboards/harbour", draft: "harbour")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task A_draft_is_told_what_it_changes_elsewhere_and_not_what_was_found_there_before()
    {
        await using var service = await RunningService.Start();
        var developer = service.As("developer");
        var demo = Repository.DemoDefinitions();
        var text = demo["datasets/inspections.yaml"].TrimEnd() + "\n  spare:        { formula: sum(wear) }\n";
        var (_, published) = await Send(
            developer,
            HttpMethod.Put,
            "api/definitions/file",
            new
            {
                path = "datasets/inspections.yaml",
                text,
                replace = true,
            }
        );
        published.ToString().ShouldContain("Nothing uses spare of inspections.");
        (await Save(developer, New, 0)).Body.GetProperty("faults").GetArrayLength().ShouldBe(0);
        var (_, without) = await Send(
            developer,
            HttpMethod.Put,
            "api/drafts/dashboards/atlas",
            new { text = demo["dashboards/atlas.yaml"].Replace("show: mean_wear", "show: inspections"), after = 0 }
        );
        without
            .GetProperty("faults")
            .EnumerateArray()
            .Select(f => f.GetProperty("message").GetString())
            .ShouldBe(["Nothing uses mean_wear of inspections."]);
    }

    [Fact]
    public async Task A_change_brings_along_the_page_that_it_makes_where_a_window_shows_it()
    {
        await using var service = await RunningService.Start();
        var developer = service.As("developer");
        var step = 0L;
        async Task<JsonElement> Changed(string text, string? page, string draft = "harbour")
        {
            var request = new HttpRequestMessage(HttpMethod.Put, "api/drafts/dashboards/harbour")
            {
                Content = JsonContent.Create(new { text, after = step }),
            };
            request.Headers.Add("Weir-Draft", draft);
            if (page is not null)
                request.Headers.Add("Weir-Page", page);
            var response = await developer.SendAsync(request);
            response.StatusCode.ShouldBe(HttpStatusCode.OK);
            var answer = await response.Content.ReadFromJsonAsync<JsonElement>();
            step = answer.GetProperty("step").GetInt64();
            answer.GetProperty("pageAsked").GetString().ShouldBe(answer.GetProperty("page").ValueKind == JsonValueKind.Null ? null : page);
            return answer.GetProperty("page");
        }
        async Task<string> Asked() => (await Send(developer, HttpMethod.Get, "api/dashboards/harbour", draft: "harbour")).Body.GetRawText();
        // What never was good has no page, and is stored.
        (await Changed(New.Replace("show: sailings", "show: no_such"), "?")).ValueKind.ShouldBe(JsonValueKind.Null);
        step.ShouldBe(1);
        var counted = await Changed(New, "?");
        counted.GetRawText().ShouldBe(await Asked());
        counted.GetProperty("title").GetString().ShouldBe("Harbour");
        // The page stays as it was while the text is broken.
        (await Changed(New.Replace("show: sailings", "show: no_such"), "?"))
            .GetRawText()
            .ShouldBe(counted.GetRawText());
        var parameter = New + "\n        parameters:\n          shown: { choices: [sailings, cancellations] }\n".Replace("        ", "");
        var chosen = await Changed(
            parameter.Replace("show: sailings", "show: param.shown"),
            "?set=" + Uri.EscapeDataString("{\"shown\":[\"cancellations\"]}")
        );
        chosen
            .GetProperty("tabs")[0]
            .GetProperty("tiles")[0]
            .GetProperty("show")[0]
            .GetProperty("name")
            .GetString()
            .ShouldBe("cancellations");
        // Nobody asks for it, it is of another window, or there is none so.
        foreach (var (page, draft) in ((string?, string)[])[(null, "harbour"), ("?", "network"), ("?view=none-such", "harbour")])
            (await Changed(New, page, draft)).ValueKind.ShouldBe(JsonValueKind.Null, page);
        step.ShouldBe(7);
    }

    [Fact]
    public async Task The_basis_of_a_tile_changes_with_what_its_figures_come_from_and_with_nothing_else()
    {
        await using var service = await RunningService.Start();
        var developer = service.As("developer");
        const string Two =
            New
            + """

                      - { tile: late, picture: bar, dataset: sailings, show: sailings, by: sea_area }
                """;
        var step = 0L;
        async Task<(string Counted, string Late)> Bases(string text)
        {
            (_, var saved) = await Save(developer, text, step);
            step = saved.GetProperty("step").GetInt64();
            saved.GetProperty("faults").EnumerateArray().ShouldAllBe(f => f.GetProperty("severity").GetString() != "error");
            var (_, page) = await Send(developer, HttpMethod.Get, "api/dashboards/harbour", draft: "harbour");
            var tiles = page.GetProperty("tabs")[0].GetProperty("tiles");
            return (tiles[0].GetProperty("basis").GetString()!, tiles[1].GetProperty("basis").GetString()!);
        }
        var first = await Bases(Two);
        first.Counted.ShouldNotBe(first.Late);
        // Where they stand, what is said about them, and what the text looks like.
        foreach (
            var (from, to) in ((string, string)[])
                [
                    ("title: Harbour", "title: Harbours"),
                    ("picture: number", "description: All of them.\n        picture: number"),
                    ("by: sea_area }", "by: \"sea_area\", place: { column: 1, row: 4, width: 1, height: 3 } } # So"),
                ]
        )
            (await Bases(Two.Replace(from, to))).ShouldBe(first);
        var other = await Bases(Two.Replace("by: sea_area", "by: vessel_class"));
        other.Counted.ShouldBe(first.Counted);
        other.Late.ShouldNotBe(first.Late);
        var elsewhere = await Bases(Two.Replace("tab: all", "tab: whole"));
        elsewhere.Counted.ShouldNotBe(first.Counted);
        (await Bases(Two)).ShouldBe(first);
        // Published: another dashboard is nobody's figures, and a dataset and who may see what are everybody's.
        async Task<(string Counted, string Late)> Published(string path, string from, string to)
        {
            var (_, all) = await Send(developer, HttpMethod.Get, "api/definitions");
            var files = all.GetProperty("files").Deserialize<Dictionary<string, string>>()!;
            files[path].ShouldContain(from);
            files[path] = files[path].Replace(from, to);
            var (_, answer) = await Send(developer, HttpMethod.Put, "api/definitions", new { files });
            answer.GetProperty("accepted").GetBoolean().ShouldBeTrue(answer.ToString());
            return await Bases(Two);
        }
        (await Published("dashboards/tickets.yaml", "title: Ticket sales", "title: Tickets sold")).ShouldBe(first);
        var dataset = await Published("datasets/sailings.yaml", "title: Reason", "title: Reasons");
        (dataset.Counted == first.Counted, dataset.Late == first.Late).ShouldBe((false, false));
        var access = await Published("access.yaml", "# What each role grants.", "# What a role grants.");
        (access.Counted == dataset.Counted, access.Late == dataset.Late).ShouldBe((false, false));
    }

    [Fact]
    public async Task By_hand_only_what_is_meant_is_written_and_what_cannot_be_done_changes_nothing()
    {
        await using var service = await RunningService.Start();
        var developer = service.As("developer");
        async Task<(HttpStatusCode Status, JsonElement Body)> Steps(string dashboard, params object[] steps) =>
            await Send(developer, HttpMethod.Post, $"api/drafts/dashboards/{dashboard}/steps", new { steps });
        async Task<(HttpStatusCode Status, JsonElement Body)> Edit(object edit) =>
            await Send(developer, HttpMethod.Post, "api/drafts/dashboards/harbour/edits", new { edit });
        static string Text(JsonElement body) => body.GetProperty("text").GetString()!;
        // Begun from what is published, without a draft before.
        var published = Text((await Send(developer, HttpMethod.Get, "api/drafts/dashboards/tickets")).Body);
        string[] at = ["tabs", "sales", "tiles", "sold", "title"];
        var (status, body) = await Steps(
            "tickets",
            new
            {
                @do = "set",
                at,
                value = "Sold",
            }
        );
        status.ShouldBe(HttpStatusCode.OK, body.ToString());
        var place = "        change: { on: sold.month }\n        place: { column: 3, row: 0";
        Text(body).ShouldBe(published.Replace(place, place.Replace("        place", "        title: Sold\n        place")));
        body.GetProperty("written")
            .GetProperty("said")
            .GetProperty("tabs")[0]
            .GetProperty("tiles")[1]
            .GetProperty("title")
            .GetString()
            .ShouldBe("Sold");
        // What is not there, is no step, or would not be read as it is meant changes nothing.
        foreach (
            var wrong in new object[]
            {
                new
                {
                    @do = "set",
                    at = new[] { "tabs", "none", "title" },
                    value = "x",
                },
                new { @do = "remove", at = new[] { "tabs", "sales", "tiles", "none" } },
                new { @do = "grow", at },
                new { @do = "set", at = Array.Empty<string>() },
                new { @do = "move", at },
                new
                {
                    @do = "set",
                    at,
                    yaml = "[1",
                },
                new
                {
                    @do = "set",
                    at,
                    yaml = "*all",
                },
            }
        )
            (
                await Steps(
                    "tickets",
                    new
                    {
                        @do = "set",
                        at,
                        value = "Other",
                    },
                    wrong
                )
            ).Status.ShouldBe(HttpStatusCode.UnprocessableEntity, wrong.ToString());
        Text((await Send(developer, HttpMethod.Get, "api/drafts/dashboards/tickets")).Body).ShouldContain("title: Sold");
        (
            await Steps(
                "nothing",
                new
                {
                    @do = "set",
                    at,
                    value = "x",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.NotFound);

        // Arranged as a view is, and the page of the draft has it so.
        await Save(developer, New, 0);
        (
            await Edit(
                new
                {
                    edit = "copy-tile",
                    tile = "counted",
                    @as = "again",
                    tab = "all",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.OK);
        (
            await Edit(
                new
                {
                    edit = "add-tab",
                    tab = "second",
                    title = "The second",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.OK);
        (
            await Edit(
                new
                {
                    edit = "move",
                    tile = "again",
                    tab = "second",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.OK);
        (
            await Edit(
                new
                {
                    edit = "place",
                    tab = "second",
                    tiles = new[]
                    {
                        new
                        {
                            tile = "again",
                            place = new
                            {
                                column = 6,
                                row = 1,
                                width = 3,
                                height = 2,
                            },
                        },
                    },
                }
            )
        ).Status.ShouldBe(HttpStatusCode.OK);
        var (_, last) = await Send(
            developer,
            HttpMethod.Post,
            "api/drafts/dashboards/harbour/edits",
            new
            {
                tab = "second",
                paste = "tile: counted\npicture: number\ndataset: sailings\nshow: cancellations\nplace: { column: 9, row: 9, width: 2, height: 2 }",
            }
        );
        Text(last)
            .ShouldBe(
                New.TrimEnd()
                    + """

                      - tab: second
                        title: The second
                        tiles:
                          - tile: again
                            picture: number
                            dataset: sailings
                            show: sailings
                            place: { column: 6, row: 1, width: 3, height: 2 }
                          - tile: counted-2
                            picture: number
                            dataset: sailings
                            show: cancellations
                            place: { column: 0, row: 1, width: 2, height: 2 }

                    """
            );
        last.GetProperty("faults").GetArrayLength().ShouldBe(0);
        var page = (await Send(developer, HttpMethod.Get, "api/dashboards/harbour", draft: "harbour")).Body;
        page.GetProperty("tabs")[1].GetProperty("tiles")[0].GetProperty("place").GetProperty("column").GetInt32().ShouldBe(6);
        // What only a view can have is refused, and so are names that are taken and texts of no tile.
        foreach (
            var wrong in new object[]
            {
                new { edit = "reset" },
                new
                {
                    edit = "add-tab",
                    tab = "second",
                    title = "Again",
                },
                new
                {
                    edit = "copy-tile",
                    tile = "counted",
                    @as = "again",
                    tab = "all",
                },
                new
                {
                    edit = "add-tile",
                    tile = "x",
                    shared = "purse/none",
                    tab = "all",
                },
                new { edit = "remove-tile", tile = "none" },
                new
                {
                    edit = "place",
                    tab = "second",
                    tiles = new[]
                    {
                        new
                        {
                            tile = "again",
                            place = new
                            {
                                column = 11,
                                row = 0,
                                width = 9,
                                height = 1,
                            },
                        },
                    },
                },
            }
        )
            (await Edit(wrong)).Status.ShouldBe(HttpStatusCode.UnprocessableEntity, wrong.ToString());
        foreach (var paste in new[] { "title: no name", "- 1", "[", "tile: [1]" })
            (await Send(developer, HttpMethod.Post, "api/drafts/dashboards/harbour/edits", new { tab = "second", paste })).Status.ShouldBe(
                HttpStatusCode.UnprocessableEntity,
                paste
            );
        // A tile with a fault is not on the page, and is taken out of the text all the same; lists that name it are without it then.
        string[] tiles = ["tabs", "second", "tiles"];
        await Steps(
            "harbour",
            new
            {
                @do = "insert",
                at = tiles,
                value = new
                {
                    tile = "odd",
                    picture = "map",
                    dataset = "sailings",
                },
            },
            new
            {
                @do = "set",
                at = tiles.Append("again").Append("drives"),
                value = new[] { "odd" },
            }
        );
        (
            await Edit(
                new
                {
                    edit = "copy-tile",
                    tile = "again",
                    @as = "third",
                    tab = "none",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var (_, without) = await Edit(new { edit = "remove-tile", tile = "odd" });
        Text(without)
            .ShouldBe(
                Text(last).Replace("        show: sailings\n        place", "        show: sailings\n        drives: none\n        place")
            );
        (await Edit(new { edit = "remove-tab", tab = "all" })).Status.ShouldBe(HttpStatusCode.OK);
        (await Edit(new { edit = "remove-tab", tab = "second" })).Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        // Steps of two windows at once all come, since each writes its own place only.
        var said = await Task.WhenAll(
            Enumerable
                .Range(0, 12)
                .Select(i =>
                    Steps(
                        "harbour",
                        new
                        {
                            @do = "insert",
                            at = new[] { "areas" },
                            value = new { area = $"a{i}" },
                        }
                    )
                )
        );
        said.ShouldAllBe(s => s.Status == HttpStatusCode.OK);
        var all = (await Send(developer, HttpMethod.Get, "api/drafts/dashboards/harbour")).Body;
        var written = Text(all);
        Enumerable.Range(0, 12).ShouldAllBe(i => written.Contains($"{{ area: a{i} }}"));
    }

    [Fact]
    public async Task Figures_of_a_draft_are_of_the_rows_that_its_owner_may_see_whatever_it_says()
    {
        using var workspace = WithRole("half", "{ may: [publish], reads: { sailings: { where: \"home_port in user.ports\" } } }");
        await using var service = await RunningService.Start(workspace: workspace.Path);
        service
            .Services.GetRequiredService<Users>()
            .Put(
                new Viewer("half", "Half", ["half"], new Dictionary<string, IReadOnlyList<string>> { ["ports"] = ["SKE"] }),
                "half-lantern-1"
            );
        var half = service.As("half");
        await Save(half, New, 0);
        (await Counted(half)).ShouldBe(
            Convert.ToInt64(DemoSql.Scalar("SELECT count(*) FROM sailing s JOIN route r ON r.id = s.route_id WHERE r.home_port = 'SKE'"))
        );
        // What is proposed has figures of the same rows, and is there for nobody else.
        var choice = new { dataset = "sailings", names = new[] { "sailings" } };
        var (_, proposed) = await Send(half, HttpMethod.Post, "api/drafts/dashboards/harbour/proposals", choice);
        proposed
            .GetProperty("proposals")[0]
            .GetProperty("yaml")
            .GetString()
            .ShouldBe("tile: proposal-1\npicture: number\ndataset: sailings\nshow: sailings");
        async Task<(HttpStatusCode Status, JsonElement Body)> Tried(HttpClient client, string dashboard)
        {
            var request = new HttpRequestMessage(HttpMethod.Post, $"api/dashboards/proposals-for-{dashboard}/results")
            {
                Content = JsonContent.Create(new { tiles = new[] { "proposal-1" } }),
            };
            request.Headers.Add("Weir-Draft", dashboard);
            request.Headers.Add("Weir-Trial", proposed.GetProperty("trial").GetString());
            var response = await client.SendAsync(request);
            return (response.StatusCode, JsonDocument.Parse((await response.Content.ReadAsStringAsync()).Split('\n')[0]).RootElement);
        }
        proposed.GetProperty("dashboard").GetString().ShouldBe("proposals-for-harbour");
        (await Tried(half, "harbour")).Body.GetProperty("table").GetProperty("values")[0][0].GetInt64().ShouldBe(await Counted(half));
        foreach (var other in new[] { "developer", "director" })
            (await Tried(service.As(other), "harbour")).Status.ShouldBe(HttpStatusCode.NotFound);
        var (hidden, toHidden) = await Send(
            half,
            HttpMethod.Post,
            "api/drafts/dashboards/harbour/proposals",
            new { dataset = "tickets", names = new[] { "takings" } }
        );
        var (none, toNone) = await Send(
            half,
            HttpMethod.Post,
            "api/drafts/dashboards/harbour/proposals",
            new { dataset = "nothing", names = new[] { "takings" } }
        );
        (hidden, none).ShouldBe((HttpStatusCode.NotFound, HttpStatusCode.NotFound));
        toHidden.ToString().ShouldBe(toNone.ToString().Replace("nothing", "tickets"));
        (
            await Send(
                half,
                HttpMethod.Post,
                "api/drafts/dashboards/harbour/proposals",
                new { dataset = "sailings", names = new[] { "no_such" } }
            )
        ).Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (
            await Send(
                half,
                HttpMethod.Post,
                "api/drafts/dashboards/harbour/proposals",
                new { dataset = "sailings", names = Array.Empty<string>() }
            )
        ).Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        // A dataset without a grant is not there for a draft either: its tile is withheld, as everywhere.
        var (_, saved) = await Save(
            half,
            New.Replace("dataset: sailings", "dataset: tickets").Replace("show: sailings", "show: tickets_sold"),
            1
        );
        saved.GetProperty("faults").GetArrayLength().ShouldBe(0);
        (await Send(half, HttpMethod.Get, "api/dashboards/harbour", draft: "harbour")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task A_draft_is_drawn_on_a_sample_and_says_so_and_nothing_else_ever_is()
    {
        await using var service = await RunningService.Start();
        var developer = service.As("developer");
        async Task<(HttpStatusCode Status, JsonElement Body)> Results(HttpClient client, string sample, bool isDraft)
        {
            var request = new HttpRequestMessage(HttpMethod.Post, "api/dashboards/punctuality/results")
            {
                Content = JsonContent.Create(new { tiles = new[] { "counted" } }),
            };
            if (isDraft)
                request.Headers.Add("Weir-Draft", "punctuality");
            request.Headers.Add("Weir-Sample", sample);
            var response = await client.SendAsync(request);
            return (response.StatusCode, JsonDocument.Parse((await response.Content.ReadAsStringAsync()).Split('\n')[0]).RootElement);
        }
        static long Figure(JsonElement result) => result.GetProperty("table").GetProperty("values")[0][0].GetInt64();
        var all = Convert.ToInt64(DemoSql.Scalar("SELECT count(*) FROM sailing"));
        var sampled = (await Results(developer, "10", isDraft: true)).Body;
        sampled.GetProperty("sample").GetInt32().ShouldBe(10);
        Figure(sampled).ShouldBeInRange(all / 20, all / 5);
        var published = (await Results(developer, "10", isDraft: false)).Body;
        (Figure(published), published.GetProperty("sample").ValueKind).ShouldBe((all, JsonValueKind.Null));
        foreach (var bad in (string[])["0", "51", "-1", "x", "1e1"])
            (await Results(developer, bad, isDraft: true)).Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }

    [Fact]
    public async Task A_draft_is_published_with_a_reason_not_over_what_others_published_and_versions_are_brought_back()
    {
        await using var service = await RunningService.Start();
        var developer = service.As("developer");
        async Task<long> Publish(string path, long step, bool replace = false, string why = "")
        {
            var (status, body) = await Send(
                developer,
                HttpMethod.Post,
                $"api/drafts/dashboards/{path}/publish",
                new
                {
                    step,
                    why,
                    replace,
                }
            );
            status.ShouldBe(HttpStatusCode.OK, body.ToString());
            return body.GetProperty("accepted").GetBoolean() ? body.GetProperty("version").GetInt64() : -1;
        }
        var before = (await Send(developer, HttpMethod.Get, "api/drafts/dashboards/network")).Body;
        before.GetProperty("isDraft").GetBoolean().ShouldBeFalse();
        var text = before.GetProperty("text").GetString()!;
        await Save(developer, New, 0);
        (await Send(developer, HttpMethod.Post, "api/drafts/dashboards/harbour/publish", new { step = 7 })).Status.ShouldBe(
            HttpStatusCode.Conflict
        );
        var first = await Publish("harbour", 1, why: "  For the\nharbour masters. ");
        first.ShouldBe(2);
        (await Send(developer, HttpMethod.Get, "api/drafts")).Body.GetArrayLength().ShouldBe(0);
        // A draft of another file, begun before somebody else published that file.
        await Send(developer, HttpMethod.Put, "api/drafts/dashboards/network", new { text = text + "# mine\n", after = 0 });
        await Send(
            developer,
            HttpMethod.Put,
            "api/definitions/file",
            new
            {
                path = "dashboards/network.yaml",
                text = text + "# theirs\n",
                replace = true,
            }
        );
        (await Send(developer, HttpMethod.Get, "api/drafts/dashboards/network")).Body.GetProperty("isBehind").GetBoolean().ShouldBeTrue();
        (await Publish("network", 2)).ShouldBe(-1);
        // Both wrote the same line: it is told, and nothing is stored before it is settled.
        async Task<JsonElement> Merge(string file, long step, params string[] choices) =>
            (await Send(developer, HttpMethod.Post, $"api/drafts/dashboards/{file}/merge", new { step, choices })).Body;
        var clash = (await Merge("network", 2)).GetProperty("clashes")[0];
        (clash.GetProperty("mine").GetString(), clash.GetProperty("theirs").GetString()).ShouldBe(("# mine\n", "# theirs\n"));
        (await Send(developer, HttpMethod.Get, "api/drafts/dashboards/network")).Body.GetProperty("step").GetInt64().ShouldBe(2);
        (await Send(developer, HttpMethod.Post, "api/drafts/dashboards/network/merge", new { step = 1 })).Status.ShouldBe(
            HttpStatusCode.Conflict
        );
        var settled = (await Merge("network", 2, "theirs")).GetProperty("draft");
        settled.GetProperty("text").GetString().ShouldBe(text + "# theirs\n");
        settled.GetProperty("isBehind").GetBoolean().ShouldBeFalse();
        // Undone, it is behind again: nothing of theirs is lost unseen.
        (await Send(developer, HttpMethod.Post, "api/drafts/dashboards/network/undo"))
            .Body.GetProperty("isBehind")
            .GetBoolean()
            .ShouldBeTrue();
        (await Publish("network", 2)).ShouldBe(-1);
        (await Publish("network", 2, replace: true)).ShouldBe(4);
        // Changes of different lines go together.
        await Send(developer, HttpMethod.Put, "api/drafts/dashboards/network", new { text = "# first\n" + text + "# mine\n", after = 0 });
        await Send(
            developer,
            HttpMethod.Put,
            "api/definitions/file",
            new
            {
                path = "dashboards/network.yaml",
                text = text + "# mine\n# last\n",
                replace = true,
            }
        );
        var both = (await Merge("network", 2)).GetProperty("draft");
        both.GetProperty("text").GetString().ShouldBe("# first\n" + text + "# mine\n# last\n");
        (await Publish("network", 3)).ShouldBe(6);
        var versions = (await Send(developer, HttpMethod.Get, "api/versions")).Body.EnumerateArray().ToList();
        versions.Select(v => v.GetProperty("number").GetInt64()).ShouldBe([6, 5, 4, 3, 2, 1]);
        versions[4].GetProperty("why").GetString().ShouldBe("For the harbour masters.");
        versions[4].GetProperty("files").EnumerateArray().Select(f => f.GetString()).ShouldBe(["dashboards/harbour.yaml"]);

        // An earlier version is held against another, tile by tile, and drawn over the data of now; for who publishes alone.
        await Send(
            developer,
            HttpMethod.Put,
            "api/definitions/file",
            new
            {
                path = "dashboards/network.yaml",
                text = text.Replace("title: The network today", "title: The network anew # once"),
                replace = true,
            }
        );
        async Task<HttpStatusCode> Drawn(HttpClient client, long number, string dashboard = "network")
        {
            var request = new HttpRequestMessage(HttpMethod.Get, $"api/dashboards/{dashboard}");
            request.Headers.Add("Weir-Draft", dashboard);
            request.Headers.Add("Weir-Trial", $"version-{number}");
            return (await client.SendAsync(request)).StatusCode;
        }
        const string Changes = "api/drafts/dashboards/network/changes";
        var (_, between) = await Send(developer, HttpMethod.Get, $"{Changes}?from=1&to=7");
        between.GetProperty("tiles").GetArrayLength().ShouldBe(0);
        between.GetProperty("page").EnumerateArray().Select(p => p.GetString()).ShouldBe(["title"]);
        (await Send(developer, HttpMethod.Get, $"{Changes}?from=99")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Drawn(developer, 1)).ShouldBe(HttpStatusCode.OK);
        (await Drawn(developer, 99)).ShouldBe(HttpStatusCode.NotFound);
        // The director designs this dashboard and has no history before them.
        var director = service.As("director");
        (await Send(director, HttpMethod.Get, Changes)).Status.ShouldBe(HttpStatusCode.OK);
        (await Send(director, HttpMethod.Get, $"{Changes}?from=1&to=7")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Drawn(director, 1)).ShouldBe(HttpStatusCode.NotFound);
        (await Drawn(service.As("auditor"), 1)).ShouldBe(HttpStatusCode.NotFound);
        var (_, restored) = await Send(developer, HttpMethod.Post, "api/versions/1/restore", new { why = "The harbour is closed." });
        restored.GetProperty("version").GetInt64().ShouldBe(8);
        (await Send(developer, HttpMethod.Get, "api/dashboards/harbour")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Send(developer, HttpMethod.Post, "api/versions/99/restore", new { })).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Send(service.As("director"), HttpMethod.Post, "api/versions/1/restore", new { })).Status.ShouldBe(HttpStatusCode.Forbidden);
    }
}
