using System.Net;
using System.Net.Sockets;
using System.Text.Json;
using Shouldly;
using Weir.Store;

namespace Weir.Attack.Tests;

/// <summary>What somebody tries who may define, or look, or set: to get at secrets, at others' acts, at what is hidden or not there.</summary>
public sealed class LeakAttackTests
{
    private static string Server(int port, string more) =>
        $"source: x\nengine: postgresql\nhost: 127.0.0.1\nport: {port}\ndatabase: d\nuser: u\n{more}";

    /// <summary>Listens, and keeps whatever it is sent.</summary>
    private sealed class Ear : IDisposable
    {
        private readonly TcpListener _listener = new(IPAddress.Loopback, 0);
        private readonly MemoryStream _heard = new();

        public Ear(string? says = null)
        {
            _listener.Start();
            _ = Task.Run(async () =>
            {
                while (true)
                    using (var client = await _listener.AcceptTcpClientAsync())
                    {
                        var stream = client.GetStream();
                        if (says is not null)
                            await stream.WriteAsync(System.Text.Encoding.ASCII.GetBytes(says));
                        var buffer = new byte[4096];
                        var read = await stream.ReadAsync(buffer);
                        lock (_heard)
                            _heard.Write(buffer, 0, read);
                    }
            });
        }

        public int Port => ((IPEndPoint)_listener.LocalEndpoint).Port;

        public string Heard
        {
            get
            {
                lock (_heard)
                    return System.Text.Encoding.UTF8.GetString(_heard.ToArray());
            }
        }

        public void Dispose() => _listener.Dispose();
    }

    [Fact]
    public async Task A_secret_can_stand_in_a_password_only_and_only_variables_made_for_it_are_read()
    {
        await using var attacked = await Attacked.Start(secrets: new() { ["other"] = "hunter2" });
        foreach (
            var more in new[]
            {
                "user: ${secret:other}",
                "database: ${env:PATH}",
                "host: ${env:HOME}",
                "schema: ${secret:other}",
                "password: ${env:PATH}",
            }
        )
        {
            var key = more[..more.IndexOf(':')];
            var text =
                string.Join('\n', Server(1, "").Split('\n').Where(l => !l.StartsWith(key + ":", StringComparison.Ordinal))) + more + "\n";
            var (_, body, answer) = await attacked.Post("maker", "api/sources/test", new { text });
            Attacked.Codes(body).ShouldContain("secret-not-here", more);
            answer.ShouldNotContain("hunter2");
            answer.ShouldNotContain("/bin");
        }
    }

    [Fact]
    public async Task A_secret_is_sent_only_to_the_host_that_it_is_bound_to()
    {
        using var ear = new Ear();
        using var friend = new Ear();
        await using var attacked = await Attacked.Start(
            w =>
                w.File(
                    "sources/books.yaml",
                    "source: books\nengine: mariadb\nhost: books.example\ndatabase: d\nuser: u\npassword: ${secret:books}\n"
                ),
            secrets: new()
            {
                ["books"] = "hunter2",
                ["free"] = "hunter3",
                ["named"] = "hunter4",
                ["named.hosts"] = $"# the accounts\n127.0.0.1:{friend.Port}\n",
            }
        );
        async Task<string> Test(string secret, int port)
        {
            var (_, body, answer) = await attacked.Post(
                "maker",
                "api/sources/test",
                new { text = Server(port, $"password: ${{secret:{secret}}}\n") }
            );
            body.GetProperty("steps").EnumerateArray().ShouldContain(s => s.GetProperty("state").GetString() == "failed");
            answer.ShouldNotContain("hunter");
            return answer;
        }
        (await Test("books", ear.Port)).ShouldContain("bound to the host");
        (await Test("free", ear.Port)).ShouldContain("bound to no host yet");
        (await Test("named", ear.Port)).ShouldContain("hosts that its file named.hosts names");
        ear.Heard.ShouldBe("", "not even a connection came about");
        (await Test("named", friend.Port)).ShouldNotContain("hosts that its file");
        friend.Heard.ShouldNotBe("", "to a host that its owner named it goes");
        ((Versions)attacked.Service.Services.GetService(typeof(Versions))!).HostOf("secret:books").ShouldBe("books.example:3306");
    }

    [Fact]
    public async Task A_test_tells_nothing_of_what_answers_unless_it_is_the_database()
    {
        using var web = new Ear("HTTP/1.1 200 OK\r\nServer: secret-printer\r\n\r\n");
        using var silent = new TcpListener(IPAddress.Loopback, 0);
        silent.Start();
        var closed = ((IPEndPoint)silent.LocalEndpoint).Port;
        silent.Stop();
        await using var attacked = await Attacked.Start(change: o => o with { Reach = [$"127.0.0.1:{web.Port}", $"127.0.0.1:{closed}"] });
        async Task<string> Test(int port, string engine) =>
            (await attacked.Post("maker", "api/sources/test", new { text = Server(port, "").Replace("postgresql", engine) })).Text.Replace(
                $"{port}",
                "PORT"
            );
        foreach (var engine in new[] { "postgresql", "mariadb", "sqlserver" })
            (await Test(web.Port, engine)).ShouldBe(await Test(closed, engine), engine);
        (await Test(1, "postgresql")).ShouldContain("may not reach");
    }

    [Fact]
    public async Task Looking_as_a_developer_gives_what_they_see_and_none_of_their_acts()
    {
        await using var attacked = await Attacked.Start();
        (await attacked.Send("all", HttpMethod.Get, "api/dashboards/shop", lookAs: "maker")).Status.ShouldBe(HttpStatusCode.OK);
        foreach (
            var (method, path, body) in new (HttpMethod, string, object?)[]
            {
                (HttpMethod.Get, "api/definitions", null),
                (HttpMethod.Get, "api/sources", null),
                (HttpMethod.Get, "api/sources/shop/tables", null),
                (HttpMethod.Post, "api/sources/shop/test", new { }),
                (HttpMethod.Post, "api/sources/test", new { text = "" }),
                (HttpMethod.Post, "api/datasets/preview", new { text = Attacked.Sales, rows = 1 }),
                (HttpMethod.Post, "api/datasets/columns", new { text = Attacked.Sales }),
                (HttpMethod.Post, "api/sources/shop/tables/sale/rows", new { }),
                (HttpMethod.Post, "api/definitions/check", new { files = new { } }),
            }
        )
            (await attacked.Send("all", method, path, body, lookAs: "maker")).Status.ShouldBe(HttpStatusCode.Forbidden, path);
        var lines = ((Audit)attacked.Service.Services.GetService(typeof(Audit))!).Newest(100);
        lines.ShouldContain(l => l.Who == "all" && l.Act == "denied" && l.What.StartsWith("as maker"));
        lines.ShouldNotContain(l => l.Who == "maker");
        (await attacked.Send("all", HttpMethod.Get, "api/session", lookAs: "maker")).Text.ShouldNotContain("publish");
    }

    [Fact]
    public async Task A_parameter_that_is_held_against_a_hidden_field_is_not_there()
    {
        await using var attacked = await Attacked.Start();
        async Task<(HttpStatusCode Status, string Text)> Results(string account, string parameter, string value)
        {
            var (status, _, text) = await attacked.Post(
                account,
                "api/dashboards/shop/results",
                new { viewing = new { parameters = new Dictionary<string, string[]> { [parameter] = [value] } } }
            );
            return (status, text);
        }
        (await Results("all", "least", "20")).Text.ShouldContain("\"values\":[[\"B\",\"Z\"],[1,1]]");
        foreach (var (parameter, value) in new[] { ("least", "20"), ("ports", "SKE") })
        {
            var (status, text) = await Results("counter", parameter, value);
            status.ShouldBe(HttpStatusCode.UnprocessableEntity);
            text.ShouldBe((await Results("counter", "nosuch", value)).Text.Replace("nosuch", parameter));
            (await attacked.Send("counter", HttpMethod.Get, $"api/dashboards/shop/parameters/{parameter}/choices")).Status.ShouldBe(
                HttpStatusCode.NotFound
            );
        }
        (await attacked.Send("counter", HttpMethod.Get, "api/dashboards/shop")).Text.ShouldNotContain("\"least\"");
    }

    [Fact]
    public async Task What_is_not_granted_answers_as_what_does_not_exist_whatever_else_is_wrong_with_the_request()
    {
        await using var attacked = await Attacked.Start();
        foreach (
            var (method, path, body) in new (HttpMethod, string, object?)[]
            {
                (HttpMethod.Post, "results", new { viewing = new { zone = "No/Where" } }),
                (HttpMethod.Post, "results", new { viewing = new { parameters = new { nosuch = new[] { "1" } } } }),
                (HttpMethod.Post, "results", new { selections = new { nosuch = 1 } }),
                (HttpMethod.Get, "?set=nonsense", null),
                (HttpMethod.Get, "wiring?set={", null),
                (HttpMethod.Post, "opening", new { viewing = new { zone = "x" } }),
                (HttpMethod.Post, "tiles/by-kind/explanation", new { viewing = new { zone = "x" } }),
                (HttpMethod.Post, "tiles/by-kind/rows", new { viewing = new { zone = "x" } }),
                (HttpMethod.Post, "view/edits", new { edit = "reset" }),
            }
        )
        {
            var there = await attacked.Send("nobody", method, $"api/dashboards/shop/{path}".Replace("/?", "?"), body);
            var not = await attacked.Send("nobody", method, $"api/dashboards/none/{path}".Replace("/?", "?"), body);
            (there.Status, there.Text.Replace("shop", "none")).ShouldBe((not.Status, not.Text), path);
            there.Status.ShouldBe(HttpStatusCode.NotFound, path);
        }
    }

    /// <summary>A rule that compares a code holds; in the days when a field's value was the name of its code, it was always true.</summary>
    [Fact]
    public async Task A_rule_over_a_field_with_names_compares_codes_and_names_are_only_read()
    {
        await using var attacked = await Attacked.Start(w =>
        {
            w.File(
                "datasets/sales.yaml",
                Attacked
                    .Sales.Replace("kind: { column: kind,", "kind: { column: kind, names: { A: Table fruit, B: Juice, Z: Compost },")
                    .Replace("sum: {", "waste: { formula: \"count(*) filter (where kind = 'Z')\" }\n  sum: {")
            );
            w.File(
                "access.yaml",
                File.ReadAllText(w.File("access.yaml"))
                    .Replace(
                        "counter: { reads: { sales: { hides: [amount, port] } } }",
                        "counter: { reads: { sales: { where: \"kind <> 'Z'\" } } }"
                    ) + "\nchecks:\n  - as: { roles: [counter] }\n    dataset: sales\n    only: \"kind <> 'Z'\"\n"
            );
            w.File(
                "dashboards/shop.yaml",
                File.ReadAllText(w.File("dashboards/shop.yaml"))
                    .Replace("show: sales", "show: [waste, sales]")
                    .Replace("picture: bar", "picture: table")
            );
        });
        async Task<JsonElement> Table(string account, object? body = null) =>
            (await attacked.Post(account, "api/dashboards/shop/results", body ?? new { })).Body.GetProperty("table");
        var all = await Table("all");
        all.GetProperty("values")
            .ToString()
            .ShouldBe("""[["Z","B","A"],[1,0,0],[1,1,2]]""", "the same figure in the order of the names, Juice and Table fruit");
        all.GetProperty("columns")[0].GetProperty("names").ToString().ShouldBe("""{"A":"Table fruit","B":"Juice","Z":"Compost"}""");
        var ruled = await Table("counter");
        ruled.GetProperty("values")[0].ToString().ShouldBe("""["B","A"]""");
        ruled.ToString().ShouldNotContain("Compost");
        (await attacked.Send("counter", HttpMethod.Get, "api/dashboards/shop")).Text.ShouldNotContain("Compost");
        (await attacked.Post("all", "api/dashboards/shop/tiles/by-kind/rows", new { mark = new { member = new[] { "Z" } } }))
            .Body.GetProperty("lines")
            .GetInt64()
            .ShouldBe(1);
    }

    [Fact]
    public async Task Colours_of_members_that_a_viewer_has_no_rows_of_are_not_told()
    {
        await using var attacked = await Attacked.Start();
        string Colours(JsonElement line) => line.GetProperty("table").GetProperty("columns")[0].GetProperty("colours").ToString();
        Colours((await attacked.Post("all", "api/dashboards/shop/results", new { })).Body).ShouldBe("""{"A":"#112233","Z":"#445566"}""");
        Colours((await attacked.Post("port", "api/dashboards/shop/results", new { })).Body).ShouldBe("""{"A":"#112233"}""");
        (await attacked.Send("port", HttpMethod.Get, "api/dashboards/shop")).Text.ShouldNotContain("#445566");
    }
}
