using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using Shouldly;
using Weir.Core.Access;
using Weir.Demo;
using Weir.Store;
using Weir.Testing;

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

    private static async Task<(HttpStatusCode Status, JsonElement Body)> Send(
        HttpClient client,
        HttpMethod method,
        string path,
        object? body = null,
        string? draft = null
    )
    {
        var request = new HttpRequestMessage(method, path) { Content = body is null ? null : JsonContent.Create(body) };
        if (draft is not null)
            request.Headers.Add("Weir-Draft", draft);
        var response = await client.SendAsync(request);
        var text = await response.Content.ReadAsStringAsync();
        // Results are a line for each tile: of these the first.
        return (response.StatusCode, text.Length == 0 ? default : JsonDocument.Parse(text.Split('\n')[0]).RootElement);
    }

    private static Task<(HttpStatusCode Status, JsonElement Body)> Save(HttpClient client, string text, long after) =>
        Send(client, HttpMethod.Put, "api/drafts/harbour", new { text, after });

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
        (await Send(director, HttpMethod.Get, "api/drafts/harbour")).Status.ShouldBe(HttpStatusCode.Forbidden);
        // What is broken is saved and told, and the page stays as it last was.
        var (_, broken) = await Save(developer, New.Replace("show: sailings", "show: no_such"), 1);
        broken.GetProperty("faults")[0].GetProperty("line").GetInt32().ShouldBe(11);
        broken.GetProperty("text").GetString()!.ShouldContain("no_such");
        (await Counted(developer)).ShouldBeGreaterThan(0);
        // A window that is behind does not overwrite.
        var (moved, problem) = await Save(developer, New, 1);
        (moved, problem.GetProperty("code").GetString()).ShouldBe((HttpStatusCode.Conflict, "draft-moved"));
        (await Send(developer, HttpMethod.Post, "api/drafts/harbour/undo")).Body.GetProperty("text").GetString().ShouldBe(New);
        var (_, redone) = await Send(developer, HttpMethod.Post, "api/drafts/harbour/redo");
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
        (await Send(developer, HttpMethod.Delete, "api/drafts/harbour")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Send(developer, HttpMethod.Get, "api/drafts/harbour")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Send(developer, HttpMethod.Get, "api/dashboards/harbour", draft: "harbour")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task Figures_of_a_draft_are_of_the_rows_that_its_owner_may_see_whatever_it_says()
    {
        await using var service = await RunningService.Start(change: o => o with { WorkspaceFolder = Narrowed() });
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
        // A dataset without a grant is not there for a draft either: its tile is withheld, as everywhere.
        var (_, saved) = await Save(
            half,
            New.Replace("dataset: sailings", "dataset: tickets").Replace("show: sailings", "show: tickets_sold"),
            1
        );
        saved.GetProperty("faults").GetArrayLength().ShouldBe(0);
        (await Send(half, HttpMethod.Get, "api/dashboards/harbour", draft: "harbour")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    private static string Narrowed()
    {
        var folder = Path.Combine(Repository.Temp("narrowed").Path, "definitions");
        Repository.CopyDemo(
            folder,
            (path, text) =>
                path.EndsWith("access.yaml", StringComparison.Ordinal)
                    ? text.Replace(
                        "roles:\n",
                        "roles:\n  half:\n    may: [publish]\n    reads: { sailings: { where: \"home_port in user.ports\" } }\n"
                    )
                    : Repository.Patient(text)
        );
        return folder;
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
                $"api/drafts/{path}/publish",
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
        var before = (await Send(developer, HttpMethod.Get, "api/drafts/network")).Body;
        before.GetProperty("isDraft").GetBoolean().ShouldBeFalse();
        var text = before.GetProperty("text").GetString()!;
        await Save(developer, New, 0);
        (await Send(developer, HttpMethod.Post, "api/drafts/harbour/publish", new { step = 7 })).Status.ShouldBe(HttpStatusCode.Conflict);
        var first = await Publish("harbour", 1, why: "  For the\nharbour masters. ");
        first.ShouldBe(2);
        (await Send(developer, HttpMethod.Get, "api/drafts")).Body.GetArrayLength().ShouldBe(0);
        // A draft of another file, begun before somebody else published that file.
        await Send(developer, HttpMethod.Put, "api/drafts/network", new { text = text + "# mine\n", after = 0 });
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
        (await Send(developer, HttpMethod.Get, "api/drafts/network")).Body.GetProperty("isBehind").GetBoolean().ShouldBeTrue();
        (await Publish("network", 2)).ShouldBe(-1);
        (await Publish("network", 2, replace: true)).ShouldBe(4);
        var versions = (await Send(developer, HttpMethod.Get, "api/versions")).Body.EnumerateArray().ToList();
        versions.Select(v => v.GetProperty("number").GetInt64()).ShouldBe([4, 3, 2, 1]);
        versions[2].GetProperty("why").GetString().ShouldBe("For the harbour masters.");
        versions[2].GetProperty("files").EnumerateArray().Select(f => f.GetString()).ShouldBe(["dashboards/harbour.yaml"]);
        var (_, restored) = await Send(developer, HttpMethod.Post, "api/versions/1/restore", new { why = "The harbour is closed." });
        restored.GetProperty("version").GetInt64().ShouldBe(5);
        (await Send(developer, HttpMethod.Get, "api/dashboards/harbour")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Send(developer, HttpMethod.Post, "api/versions/99/restore", new { })).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Send(service.As("director"), HttpMethod.Post, "api/versions/1/restore", new { })).Status.ShouldBe(HttpStatusCode.Forbidden);
    }
}
