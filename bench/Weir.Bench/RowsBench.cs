using System.Data.Common;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using DuckDB.NET.Data;
using Npgsql;
using Weir.Core.Access;
using Weir.Store;
using Weir.Testing;

/// <summary>
/// Eight tiles over a generated table: a cold refresh through Weir against the same tiles' SQL by hand, the row rule's extra cost, a kept
/// refresh.
/// </summary>
internal sealed class RowsBench(string root, long rows)
{
    private const long PostgreSqlRows = 2_000_000;

    private static readonly (string Name, string Picture, string By)[] Tiles =
    [
        ("total", "number", ""),
        ("by-kind", "pie", "kind"),
        ("by-channel", "bar", "channel"),
        ("by-month", "line", "at.month"),
        ("by-weekday", "bar", "at.day_of_week"),
        ("by-hour", "bar", "at.hour_of_day"),
        ("by-port", "bar", "port"),
        ("by-quarter", "table", "at.quarter"),
    ];

    private static string Table(string from, string hash) =>
        $"SELECT i AS id, 'port ' || ({hash} % 12) AS port, 'kind ' || ({hash} / 12 % 5) AS kind, 'channel ' || ({hash} / 60 % 4) AS channel, "
        + $"TIMESTAMP '2023-01-01 00:00:00' + ({hash} / 240 % 1500000) * INTERVAL '1 minute' AS at, ({hash} / 7 % 500) AS tickets, "
        + $"CAST(({hash} / 11 % 90000) / 100.0 AS DECIMAL(10, 2)) AS amount FROM {from}";

    /// <summary>Runs it on DuckDB and, with two million rows, on PostgreSQL.</summary>
    public async Task Run()
    {
        var data = Path.Combine(root, ".test", "bench-rows");
        var file = Path.Combine(data, "files", $"rows-{rows}.duckdb");
        Directory.CreateDirectory(Path.GetDirectoryName(file)!);
        if (!File.Exists(file))
        {
            using var connection = new DuckDBConnection($"Data Source={file}.new");
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = $"CREATE TABLE sale AS {Table($"range({rows}) t(i)", "(hash(i) % 1000000007)::BIGINT")}; CHECKPOINT";
            command.ExecuteNonQuery();
            connection.Close();
            File.Move(file + ".new", file);
        }
        Console.WriteLine($"{rows:N0} rows in DuckDB, eight tiles, {Environment.ProcessorCount} cores");
        await On(
            data,
            $"engine: duckdb\nfile: rows-{rows}.duckdb\n",
            () =>
            {
                var connection = new DuckDBConnection($"Data Source={file};access_mode=READ_ONLY");
                connection.Open();
                return connection;
            },
            aim: 0.75,
            runs: 7
        );

        using var server = PostgresServer.Started();
        server.Execute(
            "weir",
            $"CREATE TABLE sale AS {Table($"generate_series(1, {PostgreSqlRows}) i", "(abs(hashint8(i)::bigint) % 1000000007)")}; ANALYZE sale"
        );
        Console.WriteLine($"{PostgreSqlRows:N0} rows in PostgreSQL");
        await On(
            data,
            $"engine: postgresql\nhost: 127.0.0.1\nport: {server.Port}\ndatabase: weir\nuser: weir\nallow_writing_login: true\n",
            () =>
            {
                var connection = new NpgsqlConnection(server.ConnectionString());
                connection.Open();
                return connection;
            },
            aim: 1,
            runs: 3
        );
    }

    private async Task On(string data, string source, Func<DbConnection> connect, double aim, int runs)
    {
        var workspace = Path.Combine(data, "workspace");
        Directory.CreateDirectory(workspace);
        void Write(string path, string text)
        {
            Directory.CreateDirectory(Path.GetDirectoryName(Path.Combine(workspace, path))!);
            File.WriteAllText(Path.Combine(workspace, path), text);
        }
        Write("workspace.yaml", "workspace: bench\n");
        Write("sources/s.yaml", $"source: s\n{source}limits: {{ seconds: 300, at_once: 2, memory_mb: 2000 }}\n");
        foreach (var (name, seconds) in (ReadOnlySpan<(string, int)>)[("cold", 0), ("kept", 86_400)])
        {
            Write(
                $"datasets/{name}.yaml",
                $"dataset: {name}\nsource: s\nfrom: sale\nfreshness: {{ seconds: {seconds} }}\nfields:\n  port: {{ column: port }}\n  "
                    + $"kind: {{ column: kind }}\n  channel: {{ column: channel }}\n  at: {{ column: at, type: timestamp }}\n  tickets: {{ "
                    + $"column: tickets, type: integer }}\n  amount: {{ column: amount, type: decimal }}\nmeasures:\n  income: {{ formula: "
                    + $"\"sum(amount)\" }}\n"
            );
            Write(
                $"dashboards/{name}.yaml",
                $"dashboard: {name}\ntabs:\n  - tab: one\n    "
                    + "tiles:\n"
                    + string.Concat(
                        Tiles.Select(
                            (t, i) =>
                                $"      - {{ tile: {t.Name}, picture: {t.Picture}, dataset: {name}, show: income, "
                                + (t.By.Length > 0 ? $"by: {t.By}, " : "")
                                + $"place: {{ column: 0, row: {i * 2}, width: 6, height: 2 }} }}\n"
                        )
                    )
            );
        }
        Write(
            "access.yaml",
            "roles:\n  all: { reads: { cold: all, kept: all }, may: [explain] }\n"
                + "  some: { reads: { cold: { where: \"port in user.ports\" }, kept: all }, may: [explain] }\n"
        );
        var store = StoreDatabase.Open(data);
        var users = new Users(store);
        users.Put(new Viewer("all", "All", ["all"], new Dictionary<string, IReadOnlyList<string>>()), "not-used-here", loopbackOnly: true);
        users.Put(
            new Viewer(
                "some",
                "Some",
                ["some"],
                new Dictionary<string, IReadOnlyList<string>> { ["ports"] = ["port 1", "port 4", "port 9"] }
            ),
            "not-used-here",
            loopbackOnly: true
        );
        var (service, url, _) = await Service.Start(root, ["serve", "--data", data, "--workspace", workspace, "--port", "0"]);
        await using var running = service;
        HttpClient Client(string account)
        {
            var client = new HttpClient { BaseAddress = new Uri(url), Timeout = TimeSpan.FromMinutes(10) };
            client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
                "Bearer",
                new Tokens(store, TimeProvider.System).Create(account, "bench", TimeSpan.FromHours(1)).Secret
            );
            return client;
        }
        using var all = Client("all");
        using var some = Client("some");
        using var straight = connect();

        // A person would write the tile's own statement, and no other.
        var byHand = await Statements(all);
        var ruledByHand = byHand
            .Select(s => s.Replace("FROM \"sale\"", "FROM \"sale\" WHERE \"port\" IN ('port 1', 'port 4', 'port 9')"))
            .ToList();
        Measure.Report(
            "cold refresh of eight tiles / their SQL by hand, one after the other",
            await Measure.Ratio(() => Refresh(all, "cold"), () => Task.Run(() => RunAll(straight, byHand)), 1, runs),
            aim
        );
        Measure.Report(
            "the same under a row rule / the SQL with a hand-written WHERE",
            await Measure.Ratio(() => Refresh(some, "cold"), () => Task.Run(() => RunAll(straight, ruledByHand)), 1, runs),
            1.05
        );
        Measure.Report(
            "refresh from kept answers / the SQL by hand",
            await Measure.Ratio(() => Refresh(all, "kept"), () => Task.Run(() => RunAll(straight, byHand)), 1, runs),
            0.05
        );
    }

    private static async Task<List<string>> Statements(HttpClient client)
    {
        var statements = new List<string>();
        foreach (var (name, _, _) in Tiles)
        {
            var answer = await (await client.PostAsJsonAsync($"api/dashboards/cold/tiles/{name}/explanation", new { }))
                .EnsureSuccessStatusCode()
                .Content.ReadFromJsonAsync<JsonElement>();
            statements.Add(
                answer
                    .GetProperty("sql")[0]
                    .GetProperty("text")
                    .GetString()!
                    .Replace("CAST($1 AS BIGINT)", "6")
                    .Replace("CAST($2 AS BIGINT)", "7")
                    .Replace("CAST($1 AS bigint)", "6")
                    .Replace("CAST($2 AS bigint)", "7")
            );
        }
        return statements;
    }

    private static async Task Refresh(HttpClient client, string dashboard)
    {
        using var response = await client.PostAsJsonAsync($"api/dashboards/{dashboard}/results", new { });
        var text = await response.EnsureSuccessStatusCode().Content.ReadAsStringAsync();
        if (text.Split('\n', StringSplitOptions.RemoveEmptyEntries).Count(l => l.Contains("\"state\":\"ready\"")) != Tiles.Length)
            throw new InvalidOperationException($"Not every tile was ready: {text}");
    }

    private static void RunAll(DbConnection connection, List<string> statements)
    {
        foreach (var text in statements)
        {
            using var command = connection.CreateCommand();
            command.CommandText = text;
            command.CommandTimeout = 600;
            using var reader = command.ExecuteReader();
            var row = new object[reader.FieldCount];
            while (reader.Read())
                reader.GetValues(row);
        }
    }
}
