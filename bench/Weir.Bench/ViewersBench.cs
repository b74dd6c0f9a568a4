using System.Collections.Concurrent;
using System.Diagnostics;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using DuckDB.NET.Data;
using Weir.Core.Access;
using Weir.Store;

/// <summary>
/// Many viewers at once: 200 of 20 different rights, each with one question a second for half a minute, all looking at the same
/// picks as time goes on. Beside them one who asks forty things at once, and the same statements asked once for each right.
/// </summary>
internal sealed class ViewersBench(string root)
{
    private const int Rows = 1_000_000;
    private const int Viewers = 200;
    private const int Rights = 20;
    private const int Seconds = 30;
    private const int Picks = 10;
    private const string Hash = "(hash(i) % 1000000007)::BIGINT";

    private static readonly (string Name, string Picture, string By)[] Tiles =
    [
        ("by-port", "bar", "port"),
        ("by-kind", "pie", "kind"),
        ("by-channel", "bar", "channel"),
        ("by-month", "line", "at.month"),
    ];

    /// <summary>Runs it on DuckDB.</summary>
    public async Task Run()
    {
        var data = Path.Combine(root, ".test", "bench-viewers");
        var file = Path.Combine(data, "files", "viewers.duckdb");
        Directory.CreateDirectory(Path.GetDirectoryName(file)!);
        if (!File.Exists(file))
        {
            using var connection = new DuckDBConnection($"Data Source={file}.new");
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText =
                $"CREATE TABLE sale AS SELECT i AS id, 'area ' || ({Hash} % {Rights}) AS area, 'port ' || ({Hash} // 20 % 12) AS port, "
                + $"'kind ' || ({Hash} // 240 % {Picks}) AS kind, 'channel ' || ({Hash} // 2400 % 4) AS channel, "
                + $"TIMESTAMP '2023-01-01 00:00:00' + ({Hash} // 9600 % 100000) * INTERVAL '10 minutes' AS at, CAST(({Hash} // 11 % 90000) "
                + $"/ 100.0 AS DECIMAL(10, 2)) AS amount FROM range({Rows}) t(i); CHECKPOINT";
            command.ExecuteNonQuery();
            connection.Close();
            File.Move(file + ".new", file);
        }
        var workspace = Path.Combine(data, "workspace");
        Write(workspace);
        var store = StoreDatabase.Open(data);
        var users = new Users(store);
        for (var i = 0; i < Viewers; i++)
            users.Put(
                new Viewer($"v{i}", $"V{i}", ["one"], new Dictionary<string, IReadOnlyList<string>> { ["areas"] = [$"area {i % Rights}"] }),
                "not-used-here",
                loopbackOnly: true
            );
        var tokens = new Tokens(store, TimeProvider.System);
        var (service, url, _) = await Service.Start(root, ["serve", "--data", data, "--workspace", workspace, "--port", "0"]);
        await using var running = service;
        HttpClient Client(int viewer)
        {
            var client = new HttpClient { BaseAddress = new Uri(url), Timeout = TimeSpan.FromMinutes(5) };
            client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
                "Bearer",
                tokens.Create($"v{viewer}", "bench", TimeSpan.FromHours(1)).Secret
            );
            return client;
        }
        var clients = Enumerable.Range(0, Viewers).Select(Client).ToList();
        foreach (var dashboard in (string[])["kept", "fresh"])
        {
            await Ask(clients[0], dashboard, 0);
            Console.WriteLine(
                $"{Viewers} viewers of {Rights} rights, one question of {Tiles.Length} tiles a second each, {Seconds} s, "
                    + $"{(dashboard == "kept" ? "answers kept for a minute" : "no answer kept")}"
            );
            var (times, refused) = await AllAsk(clients, dashboard);
            Measure.Report("a question, half of them within, s", Quantile(times, 0.5), 0.5);
            Measure.Report("a question, 95 of 100 within, s", Quantile(times, 0.95), 1);
            Measure.Report("questions refused or failed, of 100", 100.0 * refused / (times.Count + refused), 0);
        }
        await OneWithMany(clients);
        var statements = await OncePerRight(clients, data);
        Console.WriteLine(
            $"{statements.Seconds, 8:0.00}  s for the same {statements.Count} statements, asked once for each right, one after the other and straight"
        );
    }

    /// <summary>What others wait while one asks for forty things at once, against what they wait without.</summary>
    private static async Task OneWithMany(List<HttpClient> clients)
    {
        async Task<double> Others()
        {
            var times = new List<double>();
            for (var i = 0; i < 20; i++)
                times.Add((await Ask(clients[1 + (i % 5)], "fresh", i % Picks)).Seconds);
            return Quantile(times, 0.5);
        }
        var alone = await Others();
        using var stop = new CancellationTokenSource();
        var many = Enumerable
            .Range(0, 40)
            .Select(async i =>
            {
                while (!stop.IsCancellationRequested)
                    await Ask(clients[0], "fresh", i, $"port {i % 12}");
            })
            .ToList();
        await Task.Delay(1000);
        var beside = await Others();
        await stop.CancelAsync();
        await Task.WhenAll(many);
        Measure.Report("another's question beside one who asks forty at once, s", beside, 1);
        Console.WriteLine($"{alone, 8:0.00}  s without them");
    }

    private static async Task<(List<double> Times, int Refused)> AllAsk(List<HttpClient> clients, string dashboard)
    {
        var times = new ConcurrentBag<double>();
        var refused = 0;
        var began = Stopwatch.GetTimestamp();
        await Task.WhenAll(
            clients.Select(
                async (client, i) =>
                {
                    var own = new List<Task>();
                    for (var second = 0; second < Seconds; second++)
                    {
                        // Each at a moment of its own within the second, whatever became of the question before.
                        var due = TimeSpan.FromSeconds(second + (i / (double)Viewers)) - Stopwatch.GetElapsedTime(began);
                        if (due > TimeSpan.Zero)
                            await Task.Delay(due);
                        var pick = second / 3 % Picks;
                        own.Add(
                            Task.Run(async () =>
                            {
                                var (seconds, isAnswered) = await Ask(client, dashboard, pick);
                                if (isAnswered)
                                    times.Add(seconds);
                                else
                                    Interlocked.Increment(ref refused);
                            })
                        );
                    }
                    await Task.WhenAll(own);
                }
            )
        );
        return ([.. times], refused);
    }

    private static async Task<(double Seconds, bool IsAnswered)> Ask(HttpClient client, string dashboard, int pick, string? port = null)
    {
        var selections = new Dictionary<string, object> { ["by-kind"] = new { members = new[] { new[] { $"kind {pick % Picks}" } } } };
        if (port is not null)
            selections["by-port"] = new { members = new[] { new[] { port } } };
        var started = Stopwatch.GetTimestamp();
        using var response = await client.PostAsJsonAsync($"api/dashboards/{dashboard}/results", new { selections });
        var text = await response.Content.ReadAsStringAsync();
        var isAnswered =
            response.IsSuccessStatusCode
            && text.Split('\n', StringSplitOptions.RemoveEmptyEntries).Count(l => l.Contains("\"state\":\"ready\"")) == Tiles.Length;
        return (Stopwatch.GetElapsedTime(started).TotalSeconds, isAnswered);
    }

    private static async Task<(int Count, double Seconds)> OncePerRight(List<HttpClient> clients, string data)
    {
        var statements = new List<string>();
        for (var right = 0; right < Rights; right++)
        for (var pick = 0; pick < Picks; pick++)
            foreach (var (tile, _, _) in Tiles)
            {
                var body = new
                {
                    selections = new Dictionary<string, object> { ["by-kind"] = new { members = new[] { new[] { $"kind {pick}" } } } },
                };
                var answer = await (await clients[right].PostAsJsonAsync($"api/dashboards/fresh/tiles/{tile}/explanation", body))
                    .EnsureSuccessStatusCode()
                    .Content.ReadFromJsonAsync<JsonElement>();
                foreach (var sql in answer.GetProperty("sql").EnumerateArray())
                {
                    var text = sql.GetProperty("text").GetString()!;
                    foreach (var p in sql.GetProperty("parameters").EnumerateArray().Reverse())
                        text = text.Replace(
                            p.GetProperty("mark").GetString()!,
                            p.GetProperty("value") is { ValueKind: JsonValueKind.String } v
                                ? $"'{v.GetString()}'"
                                : p.GetProperty("value").ToString()
                        );
                    statements.Add(text);
                }
            }
        using var straight = new DuckDBConnection($"Data Source={Path.Combine(data, "files", "viewers.duckdb")};access_mode=READ_ONLY");
        straight.Open();
        var all = statements.Distinct().ToList();
        var started = Stopwatch.GetTimestamp();
        foreach (var text in all)
        {
            using var command = straight.CreateCommand();
            command.CommandText = text;
            using var reader = command.ExecuteReader();
            while (reader.Read()) { }
        }
        return (all.Count, Stopwatch.GetElapsedTime(started).TotalSeconds);
    }

    private static double Quantile(IEnumerable<double> values, double q) =>
        values.Order().ToList() is { Count: > 0 } all ? all[Math.Min(all.Count - 1, (int)(q * all.Count))] : double.NaN;

    private static void Write(string workspace)
    {
        void File(string path, string text)
        {
            Directory.CreateDirectory(Path.GetDirectoryName(Path.Combine(workspace, path))!);
            System.IO.File.WriteAllText(Path.Combine(workspace, path), text);
        }
        File("workspace.yaml", "workspace: bench\n");
        File("sources/s.yaml", "source: s\nengine: duckdb\nfile: viewers.duckdb\nlimits: { seconds: 60, at_once: 4, memory_mb: 2000 }\n");
        foreach (var (name, seconds) in (ReadOnlySpan<(string, int)>)[("kept", 60), ("fresh", 0)])
        {
            File(
                $"datasets/{name}.yaml",
                $"dataset: {name}\nsource: s\nfrom: sale\nfreshness: {{ seconds: {seconds} }}\nfields:\n  area: {{ column: area }}\n  "
                    + $"port: {{ column: port }}\n  kind: {{ column: kind }}\n  channel: {{ column: channel }}\n  at: {{ column: at, type: "
                    + $"timestamp }}\n  amount: {{ column: amount, type: decimal }}\nmeasures:\n  income: {{ formula: \"sum(amount)\" }}\n"
            );
            File(
                $"dashboards/{name}.yaml",
                $"dashboard: {name}\ntabs:\n  - tab: one\n    "
                    + "tiles:\n"
                    + string.Concat(
                        Tiles.Select(
                            (t, i) =>
                                $"      - {{ tile: {t.Name}, picture: {t.Picture}, dataset: {name}, show: income, by: {t.By}, "
                                + $"place: {{ column: 0, row: {i * 2}, width: 6, height: 2 }} }}\n"
                        )
                    )
            );
        }
        File(
            "access.yaml",
            "roles:\n  one: { reads: { kept: { where: \"area in user.areas\" }, fresh: { where: \"area in user.areas\" } }, may: [explain] }\n"
        );
    }
}
