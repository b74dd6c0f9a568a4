using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using Shouldly;
using Weir.Demo;
using Weir.Store;

namespace Weir.Service.Tests;

/// <summary>What viewers write about dashboards: who reads it, who answers, and that it tells nobody of what they may not see.</summary>
public sealed class RemarkTests
{
    private static async Task<(HttpStatusCode Status, JsonElement Body)> Read(Task<HttpResponseMessage> asked)
    {
        var response = await asked;
        return (response.StatusCode, JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement);
    }

    private static string[] Texts(JsonElement remarks) =>
        [.. remarks.GetProperty("remarks").EnumerateArray().Select(r => r.GetProperty("text").GetString()!)];

    [Fact]
    public async Task A_remark_is_read_by_its_writer_and_by_who_looks_after_the_dashboard_as_far_as_they_see_its_tile()
    {
        await using var service = await RunningService.Start();
        Task<(HttpStatusCode Status, JsonElement Body)> Write(string account, object remark, string dashboard = "network") =>
            Read(service.As(account).PostAsJsonAsync($"api/dashboards/{dashboard}/remarks", remark));
        async Task<JsonElement> Of(string account, string dashboard = "network") =>
            await service.As(account).GetFromJsonAsync<JsonElement>($"api/dashboards/{dashboard}/remarks");
        (
            await Write(
                "skerrin-desk",
                new
                {
                    text = "Why so few?",
                    tile = "all-sailings",
                    link = "/d/network?x=1",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.OK);
        (await Write("north-ports", new { text = "What is left after fuel?", tile = "margin" })).Status.ShouldBe(HttpStatusCode.OK);
        (await Write("auditor", new { text = "Well made." })).Status.ShouldBe(HttpStatusCode.OK);
        Texts(await Of("skerrin-desk")).ShouldBe(["Why so few?"]);
        Texts(await Of("north-ports")).ShouldBe(["What is left after fuel?"]);
        Texts(await Of("developer")).ShouldBe(["Well made.", "What is left after fuel?", "Why so few?"]);
        // The director may design this dashboard, and no other.
        Texts(await Of("director")).Length.ShouldBe(3);
        (await Write("auditor", new { text = "And here?" }, "tickets")).Status.ShouldBe(HttpStatusCode.OK);
        Texts(await Of("director", "tickets")).ShouldBeEmpty();
        // A tile that is not there for somebody can't be written about, like one that is not there at all.
        var hidden = await Write("skerrin-desk", new { text = "?", tile = "margin" });
        (hidden.Status, hidden.Body.GetProperty("code").GetString()).ShouldBe((HttpStatusCode.NotFound, "unknown-tile"));
        (await Write("skerrin-desk", new { text = "?" }, "nowhere")).Status.ShouldBe(HttpStatusCode.NotFound);
        foreach (
            var (remark, code) in new (object, string)[]
            {
                (new { text = "  " }, "bad-text"),
                (new { text = new string('x', 2001) }, "bad-text"),
                (new { text = "x", link = "https://elsewhere.example/" }, "bad-link"),
            }
        )
            (await Write("auditor", remark)).Body.GetProperty("code").GetString().ShouldBe(code);

        // Who may not read one can't answer it either.
        var first = (await Of("skerrin-desk")).GetProperty("remarks")[0];
        var at = $"api/dashboards/network/remarks/{first.GetProperty("id").GetString()}";
        first.GetProperty("link").GetString().ShouldBe("/d/network?x=1");
        foreach (var other in new[] { "north-ports", "auditor" })
        {
            (await service.As(other).PostAsJsonAsync($"{at}/answers", new { text = "I know." })).StatusCode.ShouldBe(
                HttpStatusCode.NotFound
            );
            (await service.As(other).PutAsJsonAsync($"{at}/done", new { done = true })).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        }
        (await service.As("developer").PostAsJsonAsync($"{at}/answers", new { text = "It is one port." })).StatusCode.ShouldBe(
            HttpStatusCode.OK
        );
        async Task<long> Open(string account) =>
            (await service.As(account).GetFromJsonAsync<JsonElement>("api/dashboards"))
                .EnumerateArray()
                .Single(d => d.GetProperty("name").GetString() == "network")
                .GetProperty("openRemarks")
                .GetInt64();
        (await Open("developer")).ShouldBe(3);
        (await Open("skerrin-desk")).ShouldBe(0, "nobody learns what others wrote");
        (await service.As("developer").PutAsJsonAsync($"{at}/done", new { done = true })).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await Open("developer")).ShouldBe(2);
        var answered = (await Of("skerrin-desk")).GetProperty("remarks")[0];
        answered.GetProperty("answers")[0].GetProperty("text").GetString().ShouldBe("It is one port.");
        answered.GetProperty("doneBy").GetString().ShouldBe("Developer");

        // Looking as somebody shows what they see, and writes nothing.
        using var looking = new HttpRequestMessage(HttpMethod.Post, "api/dashboards/network/remarks")
        {
            Content = JsonContent.Create(new { text = "x" }),
        };
        looking.Headers.Add("Weir-Look-As", "skerrin-desk");
        (await service.As("director").SendAsync(looking)).StatusCode.ShouldBe(HttpStatusCode.Forbidden);

        // Who has the name of somebody that is gone is somebody else.
        var users = service.Services.GetRequiredService<Users>();
        var desk = users.Find("skerrin-desk")!.Viewer;
        users.Remove("skerrin-desk");
        Texts(await Of("developer")).ShouldContain("Why so few?");
        users.Put(desk, "another-password");
        using var again = new HttpClient { BaseAddress = new Uri(service.Url) };
        again.DefaultRequestHeaders.Authorization = new(
            "Bearer",
            service.Services.GetRequiredService<Tokens>().Create("skerrin-desk", "test", TimeSpan.FromHours(1)).Secret
        );
        Texts(await again.GetFromJsonAsync<JsonElement>("api/dashboards/network/remarks")).ShouldBeEmpty();
    }

    [Fact]
    public async Task Mail_of_remarks_goes_to_who_wants_it_as_far_as_they_may_read_them()
    {
        await using var mail = await MailStandIn.Start();
        await using var service = await RunningService.Start(change: o =>
            o with
            {
                Mail = new Schedules.MailServer("127.0.0.1", mail.Port, false, null, null, "weir@lantern-isles.example"),
            }
        );
        const string At = "api/dashboards/network/remarks";
        async Task<JsonElement> Want(string account, bool wanted = true) =>
            (await Read(service.As(account).PutAsJsonAsync($"{At}/mail", new { wanted }))).Body;
        (await Want("developer")).GetProperty("mail").GetProperty("wanted").GetBoolean().ShouldBeTrue();
        foreach (var account in new[] { "skerrin-desk", "auditor", "north-ports" })
            await Want(account);
        var unwritten = await service.As("director").GetFromJsonAsync<JsonElement>(At);
        unwritten.GetProperty("mail").GetProperty("wanted").GetBoolean().ShouldBeFalse();
        unwritten.GetProperty("mail").GetProperty("address").GetString().ShouldBe("director@lantern-isles.example");

        async Task<List<(string To, string Subject, string Text)>> Came(int count)
        {
            while (mail.Messages.Count < count)
            {
                using var pause = new PeriodicTimer(TimeSpan.FromMilliseconds(50));
                await pause.WaitForNextTickAsync(TestContext.Current.CancellationToken);
            }
            return [.. mail.Messages.Select(m => (m.To.Single(), m.Message.Subject ?? "", m.Message.TextBody ?? ""))];
        }
        var written = await Read(
            service
                .As("skerrin-desk")
                .PostAsJsonAsync(
                    At,
                    new
                    {
                        text = "Why so few?",
                        tile = "all-sailings",
                        link = "/d/network?tab=x",
                    }
                )
        );
        var id = written.Body.GetProperty("remarks")[0].GetProperty("id").GetString();
        // Neither its writer, nor who only sees the dashboard.
        var first = (await Came(1)).ShouldHaveSingleItem();
        first.To.ShouldBe("developer@lantern-isles.example");
        first.Subject.ShouldStartWith("Skerrin desk wrote about ");
        first.Text.ShouldContain("Why so few?");
        first.Text.ShouldContain("/d/network?tab=x");
        (await Read(service.As("developer").PostAsJsonAsync($"{At}/{id}/answers", new { text = "It was foggy." }))).Status.ShouldBe(
            HttpStatusCode.OK
        );
        var second = (await Came(2))[1];
        second.To.ShouldBe("skerrin-desk@lantern-isles.example");
        second.Text.ShouldContain("It was foggy.");
        await Want("skerrin-desk", false);
        (await Read(service.As("developer").PutAsJsonAsync($"{At}/{id}/done", new { done = true }))).Status.ShouldBe(HttpStatusCode.OK);
        (await Read(service.As("auditor").PostAsJsonAsync(At, new { text = "Well made." }))).Status.ShouldBe(HttpStatusCode.OK);
        (await Came(3)).Select(m => m.To).Last().ShouldBe("developer@lantern-isles.example");
        // They are in no list of runs, and no account that is gone is told.
        (await service.As("developer").GetFromJsonAsync<JsonElement>("api/runs"))
            .GetArrayLength()
            .ShouldBe(0);
    }

    [Fact]
    public async Task Without_a_mail_server_no_mail_is_offered()
    {
        await using var service = await RunningService.Start();
        (await service.As("developer").GetFromJsonAsync<JsonElement>("api/dashboards/network/remarks"))
            .GetProperty("mail")
            .ValueKind.ShouldBe(JsonValueKind.Null);
        var refused = await Read(service.As("developer").PutAsJsonAsync("api/dashboards/network/remarks/mail", new { wanted = true }));
        (refused.Status, refused.Body.GetProperty("code").GetString()).ShouldBe((HttpStatusCode.UnprocessableEntity, "no-mail"));
    }
}
