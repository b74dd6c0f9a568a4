using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using Shouldly;
using Weir.Core.Access;
using Weir.Service;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;
using Weir.Store;

namespace Weir.Attack.Tests;

/// <summary>Guessing, riding on somebody's cookie, and going on after one's rights are gone.</summary>
public sealed class SignInAttackTests
{
    private static HttpClient Browser(Attacked attacked, out Uri url)
    {
        url = new Uri(attacked.Service.Url);
        return new HttpClient(new SocketsHttpHandler { CookieContainer = new CookieContainer(), UseCookies = true }) { BaseAddress = url };
    }

    private static async Task<HttpResponseMessage> Send(
        HttpClient client,
        HttpMethod method,
        string path,
        object? body = null,
        string? origin = null,
        params (string Name, string Value)[] headers
    )
    {
        var request = new HttpRequestMessage(method, path) { Content = body is null ? null : JsonContent.Create(body) };
        if (origin is not null)
            request.Headers.Add("Origin", origin);
        foreach (var (name, value) in headers)
            request.Headers.Add(name, value);
        return await client.SendAsync(request);
    }

    [Fact]
    public async Task Guesses_at_once_count_as_many_and_one_name_is_bounded_from_everywhere()
    {
        await using var attacked = await Attacked.Start(change: o => o with { Proxies = [IPAddress.Loopback] });
        using var client = Browser(attacked, out _);
        Task<HttpResponseMessage> Guess(string name, string from) =>
            Send(client, HttpMethod.Post, "api/session", new { name, password = "not-the-password" }, null, ("X-Forwarded-For", from));
        var atOnce = await Task.WhenAll(Enumerable.Range(0, 20).Select(_ => Guess("all", "192.0.2.1")));
        atOnce.Count(r => r.StatusCode == HttpStatusCode.Unauthorized).ShouldBe(5);
        atOnce.Count(r => r.StatusCode == HttpStatusCode.TooManyRequests).ShouldBe(15);
        var fromEverywhere = await Task.WhenAll(Enumerable.Range(0, 60).Select(i => Guess("maker", $"198.51.100.{i}")));
        fromEverywhere.Count(r => r.StatusCode == HttpStatusCode.Unauthorized).ShouldBe(30);
        var names = await Task.WhenAll(Enumerable.Range(0, 80).Select(i => Guess($"n{i}", "203.0.113.5")));
        names.Count(r => r.StatusCode == HttpStatusCode.Unauthorized).ShouldBe(60);
        var lines = attacked.Service.Services.GetRequiredService<Audit>().Newest(500);
        lines.ShouldContain(
            l => l.Act == "sign-in-failed" && l.What == "192.0.2.1",
            "behind a named proxy the client's own address is told"
        );
    }

    [Fact]
    public async Task An_address_is_believed_of_a_named_proxy_only_and_demo_accounts_stay_local()
    {
        await using var attacked = await Attacked.Start();
        attacked
            .Service.Services.GetRequiredService<Users>()
            .Put(
                new Viewer("local", "local", ["all"], new Dictionary<string, IReadOnlyList<string>>()),
                "local-password",
                loopbackOnly: true
            );
        using var client = Browser(attacked, out _);
        (
            await Send(
                client,
                HttpMethod.Post,
                "api/session",
                new { name = "local", password = "local-password" },
                null,
                ("X-Forwarded-For", "192.0.2.1")
            )
        ).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        var lines = attacked.Service.Services.GetRequiredService<Audit>().Newest(10);
        lines.ShouldNotContain(l => l.What.Contains("192.0.2.1"));
        (await Send(client, HttpMethod.Post, "api/session", new { name = "local", password = "local-password" })).StatusCode.ShouldBe(
            HttpStatusCode.OK
        );

        await using var behind = await Attacked.Start(change: o => o with { Proxies = [IPAddress.Loopback] });
        using var through = Browser(behind, out _);
        var signedIn = await Send(
            through,
            HttpMethod.Post,
            "api/session",
            new { name = "all", password = "all-password" },
            null,
            ("X-Forwarded-Proto", "https"),
            ("X-Forwarded-For", "192.0.2.1")
        );
        signedIn.Headers.GetValues("Set-Cookie").Single().ShouldContain("secure");
    }

    [Fact]
    public async Task A_change_with_a_cookie_must_come_from_the_services_own_pages()
    {
        await using var attacked = await Attacked.Start();
        using var client = Browser(attacked, out var url);
        (await Send(client, HttpMethod.Post, "api/session", new { name = "all", password = "all-password" })).EnsureSuccessStatusCode();
        var own = url.GetLeftPart(UriPartial.Authority);
        var edit = new
        {
            edit = "add-tab",
            tab = "mine",
            title = "Mine",
        };
        foreach (var origin in new[] { null, "null", "http://127.0.0.1:1", own.Replace("127.0.0.1", "localhost"), own + ".example" })
        {
            var refused = await Send(client, HttpMethod.Post, "api/dashboards/shop/view/edits", edit, origin);
            refused.StatusCode.ShouldBe(HttpStatusCode.Forbidden, origin);
            refused.Headers.GetValues("X-Content-Type-Options").ShouldBe(["nosniff"]);
            refused.Headers.Contains("Content-Security-Policy").ShouldBeTrue();
        }
        (await Send(client, HttpMethod.Post, "api/dashboards/shop/view/undo", null, "http://127.0.0.1:1")).StatusCode.ShouldBe(
            HttpStatusCode.Forbidden
        );
        (await Send(client, HttpMethod.Post, "api/dashboards/shop/view/edits", edit, own)).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task Signing_out_and_a_changed_password_end_what_was_begun_before()
    {
        await using var attacked = await Attacked.Start();
        using var client = Browser(attacked, out var url);
        var own = url.GetLeftPart(UriPartial.Authority);
        string Cookie(HttpResponseMessage response) => response.Headers.GetValues("Set-Cookie").Single().Split(';')[0];
        async Task<string> SignIn(string password) =>
            Cookie(
                (
                    await Send(new HttpClient { BaseAddress = url }, HttpMethod.Post, "api/session", new { name = "all", password })
                ).EnsureSuccessStatusCode()
            );
        using var bare = new HttpClient(new SocketsHttpHandler { UseCookies = false }) { BaseAddress = url };
        async Task<HttpStatusCode> With(string cookie) =>
            (await Send(bare, HttpMethod.Get, "api/session", null, null, ("Cookie", cookie))).StatusCode;

        var first = await SignIn("all-password");
        (await With(first)).ShouldBe(HttpStatusCode.OK);
        (await Send(bare, HttpMethod.Delete, "api/session", null, own, ("Cookie", first))).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await With(first)).ShouldBe(HttpStatusCode.Unauthorized, "the cookie was kept by somebody");

        var (second, third) = (await SignIn("all-password"), await SignIn("all-password"));
        var tokens = attacked.Service.Services.GetRequiredService<Tokens>();
        var token = tokens.Create("all", "t", TimeSpan.FromDays(1)).Secret;
        (
            await Send(
                bare,
                HttpMethod.Post,
                "api/session/password",
                new { current = "wrong", @new = "another-password" },
                own,
                ("Cookie", second)
            )
        ).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        (
            await Send(
                bare,
                HttpMethod.Post,
                "api/session/password",
                new { current = "all-password", @new = "short" },
                own,
                ("Cookie", second)
            )
        ).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var kept = await Send(
            bare,
            HttpMethod.Post,
            "api/session/password",
            new
            {
                current = "all-password",
                @new = "another-password",
                keepTokens = true,
            },
            own,
            ("Cookie", second)
        );
        (await With(Cookie(kept))).ShouldBe(HttpStatusCode.OK, "who changed it goes on");
        (await With(second)).ShouldBe(HttpStatusCode.Unauthorized);
        (await With(third)).ShouldBe(HttpStatusCode.Unauthorized);
        tokens.Check(token).State.ShouldBe(TokenState.Good, "by choice");
        var ended = await Send(
            bare,
            HttpMethod.Post,
            "api/session/password",
            new { current = "another-password", @new = "third-password" },
            own,
            ("Cookie", Cookie(kept))
        );
        ended.StatusCode.ShouldBe(HttpStatusCode.NoContent);
        tokens.Check(token).State.ShouldBe(TokenState.Unknown);
    }

    [Theory]
    [InlineData("", false)]
    [InlineData("d/shop", false)]
    [InlineData("d/shop/design", false)]
    [InlineData("d/shop/seen", true)]
    [InlineData("d/shop/seen/more", false)]
    [InlineData("d/a/b/seen", false)]
    [InlineData("api/d/shop/seen", false)]
    [InlineData("api/session", false)]
    public async Task No_page_stands_in_another_but_a_draft_in_its_own_design(string path, bool isFramed)
    {
        await using var attacked = await Attacked.Start();
        using var client = Browser(attacked, out _);
        var answer = await client.GetAsync(path);
        answer.Headers.GetValues("Content-Security-Policy").Single().ShouldContain($"frame-ancestors {(isFramed ? "'self'" : "'none'")};");
    }

    [Fact]
    public async Task The_event_stream_of_who_is_removed_or_demoted_ends()
    {
        await using var attacked = await Attacked.Start();
        var users = attacked.Service.Services.GetRequiredService<Users>();
        async Task<Task<string>> Listen(string account)
        {
            var stream = new StreamReader(await attacked.Service.As(account).GetStreamAsync("api/events"));
            (await stream.ReadLineAsync())!.ShouldContain("published");
            return stream.ReadToEndAsync();
        }
        var (removed, demoted) = (await Listen("port"), await Listen("maker"));
        users.Remove("port");
        users.Put(
            new Viewer("maker", "maker", ["counter"], new Dictionary<string, IReadOnlyList<string>>()),
            "maker-password",
            keepTokens: true
        );
        await removed.WaitAsync(TimeSpan.FromMinutes(10));
        await demoted.WaitAsync(TimeSpan.FromMinutes(10));
    }

    [Fact]
    public async Task What_is_kept_of_picks_is_bounded()
    {
        await using var attacked = await Attacked.Start();
        var much = new string('x', 190_000);
        (
            await attacked.Post(
                "all",
                "api/dashboards/shop/view/edits",
                new { edit = "keep-picks", parameters = new { least = new[] { much } } }
            )
        ).Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var refused = 0;
        for (var i = 0; i < 60 && refused == 0; i++)
        {
            var members = Enumerable.Range(0, 900).Select(n => new[] { $"a member of some length, the number {n} of very many" });
            var (status, body, text) = await attacked.Post(
                "all",
                "api/dashboards/shop/view/edits",
                new JsonDictionary
                {
                    ["edit"] = "keep-picks",
                    ["selections"] = new JsonDictionary { ["by-kind"] = new { members } },
                }
            );
            if (status != HttpStatusCode.OK)
            {
                body.GetProperty("code").GetString().ShouldBeOneOf("view-full", "edit-refused");
                refused++;
            }
        }
        refused.ShouldBe(1, "a million characters are the most that one view may hold");
        (await attacked.Send("all", HttpMethod.Get, "api/dashboards/shop")).Status.ShouldBe(HttpStatusCode.OK);
    }

    private sealed class JsonDictionary : Dictionary<string, object>;
}
