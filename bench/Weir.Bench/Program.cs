using System.Diagnostics;
using System.IO.Compression;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using DuckDB.NET.Data;
using Weir.Demo;
using Weir.Store;

// Measures Weir, as ratios within one run: machines are noisy, ratios less so. With a number of rows, on a generated table;
// without one, on the demo's data; with the word viewers, many people at once.
var root = AppContext.BaseDirectory;
while (!File.Exists(Path.Combine(root, "Weir.slnx")))
    root = Path.GetDirectoryName(root) ?? throw new DirectoryNotFoundException("Run this inside the checkout.");
if (args is [var rows, ..] && long.TryParse(rows, out var count))
{
    await new RowsBench(root, count).Run();
    return;
}
if (args is ["viewers"])
{
    await new ViewersBench(root).Run();
    return;
}
var data = Path.Combine(root, ".test", "bench");
var database = Path.Combine(data, "files", "lantern-isles.duckdb");
LanternIsles.Ensure(database);
var store = StoreDatabase.Open(data);
DemoAccounts.Ensure(new Users(store));
var tokens = new Tokens(store, TimeProvider.System);

// Each service has a data folder of its own: what one publishes is nothing to the other.
var coldData = Path.Combine(root, ".test", "bench-cold");
var coldStore = StoreDatabase.Open(coldData);
DemoAccounts.Ensure(new Users(coldStore));
var coldTokens = new Tokens(coldStore, TimeProvider.System);

var (first, _, _) = await Service.Start(root, data);
await first.DisposeAsync();
var (service, url, ready) = await Service.Start(root, data);
await using var running = service;

// Answers of the demo are kept; what asking costs is measured where none is.
var unkept = Path.Combine(coldData, "unkept");
foreach (var file in Directory.EnumerateFiles(Path.Combine(root, "demo", "lantern-isles"), "*", SearchOption.AllDirectories))
{
    var target = Path.Combine(unkept, Path.GetRelativePath(Path.Combine(root, "demo", "lantern-isles"), file));
    Directory.CreateDirectory(Path.GetDirectoryName(target)!);
    var isDataset = Path.GetFileName(Path.GetDirectoryName(file)) == "datasets";
    File.WriteAllText(target, File.ReadAllText(file) + (isDataset ? "\nfreshness: { seconds: 0 }\n" : ""));
}
var (cold, coldUrl, _) = await Service.Start(
    root,
    ["serve", "--data", coldData, "--files", Path.Combine(data, "files"), "--workspace", unkept, "--port", "0"]
);
await using var runningCold = cold;

string[] tiles =
[
    "sea-area",
    "income",
    "passengers",
    "all-sailings",
    "income-by-route",
    "income-by-month",
    "sailings-by-class",
    "passengers-by-quarter",
    "late",
    "vessels",
];
using var developer = Client("developer", coldUrl);
using var ports = Client("north-ports", coldUrl);
var plain = await Statements(developer);
var ruled = await Statements(ports);

// By hand, a person would filter the sailings of the three ports before anything else.
const string Sailings =
    "(SELECT sailing.* FROM sailing JOIN route ON route.id = sailing.route_id WHERE route.home_port IN ('SKE', 'ULL', 'QUI')) AS \"sailing\"";
var byHand = plain.Select(s => (Text: s.Text.Replace("FROM \"sailing\"", $"FROM {Sailings}"), s.Values)).ToList();

using var straight = new DuckDBConnection($"Data Source={database};access_mode=READ_ONLY");
straight.Open();

Console.WriteLine($"{tiles.Length} tiles, {plain.Count} statements, {Environment.ProcessorCount} cores");
var open = await Ratio(() => Refresh(developer), () => Task.Run(() => RunAll(plain)));
Report("refresh of ten tiles through the service / the same SQL straight, one after the other", open, 1.15);
var rule = await Ratio(() => Refresh(ports), () => Task.Run(() => RunAll(byHand)));
Report("the same with a row rule / the SQL with a hand-written WHERE", rule, 1.05);
var sql = await Ratio(() => Task.Run(() => RunAll(ruled)), () => Task.Run(() => RunAll(byHand)));
Report("the SQL of the row rule / the SQL with a hand-written WHERE, both straight", sql, 1.05);
using var keeping = Client("developer", url);
var kept = await Ratio(() => Refresh(keeping), () => Task.Run(() => RunAll(plain)));
Report("refresh of the ten tiles from kept answers / the same SQL straight", kept, 0.2);
Report("ready after a later start, s", ready.TotalSeconds, 2);
Report(
    "explaining a tile, ms",
    await Measure.Milliseconds(async () =>
        (await developer.PostAsJsonAsync("api/dashboards/network/tiles/income/explanation", new { })).EnsureSuccessStatusCode()
    ),
    20
);
var opening = await new OpeningBench(root).Run();
Report("opening a dashboard in a workspace of 300 datasets / of 3", opening, 1.2);

foreach (var dashboard in (string[])["network", "tickets", "punctuality"])
foreach (var account in DemoAccounts.All)
{
    using var client = Client(account.Viewer.Name, url);
    (await client.PostAsJsonAsync($"api/dashboards/{dashboard}/results", new { })).EnsureSuccessStatusCode();
}
Report("memory after every account opened every dashboard, MB", service.ResidentMegabytes, 300);
var (shell, charts) = ConsoleSizes(Path.Combine(root, "console", "dist"));
Report("first load of the console without charts, KB gzipped", shell, 180);
Report("what draws the first tab, KB gzipped", charts, 200);

HttpClient Client(string account, string at)
{
    var client = new HttpClient { BaseAddress = new Uri(at) };
    client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
        "Bearer",
        (at == coldUrl ? coldTokens : tokens).Create(account, "bench", TimeSpan.FromHours(1)).Secret
    );
    return client;
}

// What is measured against nothing is no measurement: the account must see the statements.
async Task<List<(string Text, object?[] Values)>> Statements(HttpClient client) =>
    await AllStatements(client) is { Count: > 0 } found ? found : throw new InvalidOperationException("The account sees no statements.");

async Task<List<(string Text, object?[] Values)>> AllStatements(HttpClient client)
{
    var all = new List<(string, object?[])>();
    foreach (var tile in tiles)
    {
        var answer = await (await client.PostAsJsonAsync($"api/dashboards/network/tiles/{tile}/explanation", new { }))
            .EnsureSuccessStatusCode()
            .Content.ReadFromJsonAsync<JsonElement>();
        foreach (var statement in answer.GetProperty("sql").EnumerateArray())
            all.Add(
                (
                    statement.GetProperty("text").GetString()!,
                    [
                        .. statement
                            .GetProperty("parameters")
                            .EnumerateArray()
                            .Select(p =>
                                p.GetProperty("open") is { ValueKind: JsonValueKind.String } open
                                    ? Span(open.GetString()!)
                                    : Value(p.GetProperty("kind").GetString()!, p.GetProperty("value"))
                            ),
                    ]
                )
            );
    }
    return all;
}

// What an earlier answer gives is the part of the demo's newest month that has data.
static object Span(string open) =>
    open.StartsWith("start", StringComparison.Ordinal) ? new DateTime(2025, 12, 1) : new DateTime(2025, 12, 18);

static object? Value(string kind, JsonElement value) =>
    kind switch
    {
        "integer" => value.GetInt64(),
        "decimal" => value.GetDecimal(),
        "float" => value.GetDouble(),
        "boolean" => value.GetBoolean(),
        "timestamp" => value.GetDateTime(),
        "date" => DateOnly.Parse(value.GetString()!, System.Globalization.CultureInfo.InvariantCulture),
        _ => value.GetString(),
    };

async Task Refresh(HttpClient client)
{
    using var response = await client.PostAsJsonAsync("api/dashboards/network/results", new { tiles });
    var text = await response.EnsureSuccessStatusCode().Content.ReadAsStringAsync();
    if (text.Split('\n', StringSplitOptions.RemoveEmptyEntries).Count(l => l.Contains("\"state\":\"ready\"")) != tiles.Length)
        throw new InvalidOperationException($"Not every tile was ready: {text}");
}

void RunAll(List<(string Text, object?[] Values)> statements)
{
    foreach (var (text, values) in statements)
    {
        using var command = straight.CreateCommand();
        command.CommandText = text;
        foreach (var value in values)
            command.Parameters.Add(new DuckDBParameter(value ?? DBNull.Value));
        using var reader = command.ExecuteReader();
        var row = new object[reader.FieldCount];
        while (reader.Read())
            reader.GetValues(row);
    }
}

static Task<double> Ratio(Func<Task> measured, Func<Task> against) => Measure.Ratio(measured, against, warmups: 5, runs: 25);

static void Report(string what, double value, double aim) => Measure.Report(what, value, aim);

static (double Shell, double Charts) ConsoleSizes(string dist)
{
    var manifest = JsonDocument.Parse(File.ReadAllText(Path.Combine(dist, ".vite", "manifest.json"))).RootElement;
    double Size(string file)
    {
        using var target = new MemoryStream();
        using (var gzip = new GZipStream(target, CompressionLevel.Optimal, leaveOpen: true))
            gzip.Write(File.ReadAllBytes(Path.Combine(dist, file)));
        return target.Length / 1024.0;
    }
    HashSet<string> Files(string entry)
    {
        var files = new HashSet<string>();
        void Add(string key)
        {
            var chunk = manifest.GetProperty(key);
            if (!files.Add(chunk.GetProperty("file").GetString()!))
                return;
            foreach (var css in chunk.TryGetProperty("css", out var styles) ? styles.EnumerateArray() : default)
                files.Add(css.GetString()!);
            foreach (var import in chunk.TryGetProperty("imports", out var imports) ? imports.EnumerateArray() : default)
                Add(import.GetString()!);
        }
        Add(entry);
        return files;
    }
    var shell = Files("index.html");
    HashSet<string> charts = [.. new[] { "bar/Bar", "line/Line", "pie/Pie" }.SelectMany(k => Files($"src/pictures/{k}.tsx"))];
    charts.ExceptWith(shell);
    return (shell.Sum(Size) + Size("index.html"), charts.Sum(Size));
}

/// <summary>The service as a program of its own.</summary>
internal sealed class Service(Process process) : IAsyncDisposable
{
    public static Task<(Service Service, string Url, TimeSpan Ready)> Start(string root, string data) =>
        Start(root, ["demo", "--data", data, "--port", "0"]);

    public static async Task<(Service Service, string Url, TimeSpan Ready)> Start(string root, string[] arguments)
    {
        var info = new ProcessStartInfo(Path.Combine(root, "src", "Weir.Cli", "bin", "Release", "net10.0", "weir"))
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        foreach (var argument in arguments)
            info.ArgumentList.Add(argument);
        var started = Stopwatch.GetTimestamp();
        var process = Process.Start(info)!;
        while (await process.StandardOutput.ReadLineAsync() is { } line)
            if (System.Text.RegularExpressions.Regex.Match(line, @"http://[\d.:]+\d") is { Success: true } match)
            {
                var ready = Stopwatch.GetElapsedTime(started);
                _ = process.StandardOutput.ReadToEndAsync();
                _ = process.StandardError.ReadToEndAsync();
                return (new Service(process), match.Value, ready);
            }
        throw new InvalidOperationException(await process.StandardError.ReadToEndAsync());
    }

    public double ResidentMegabytes
    {
        get
        {
            process.Refresh();
            return process.WorkingSet64 / 1024.0 / 1024.0;
        }
    }

    public async ValueTask DisposeAsync()
    {
        process.Kill();
        await process.WaitForExitAsync();
        process.Dispose();
    }
}

/// <summary>Ratios within one run.</summary>
internal static class Measure
{
    /// <summary>The median of the ratios of neighbouring runs, after some to warm up.</summary>
    public static async Task<double> Ratio(Func<Task> measured, Func<Task> against, int warmups, int runs)
    {
        static async Task<double> Time(Func<Task> act)
        {
            var started = Stopwatch.GetTimestamp();
            await act();
            return Stopwatch.GetElapsedTime(started).TotalMilliseconds;
        }
        for (var i = 0; i < warmups; i++)
        {
            await measured();
            await against();
        }
        var ratios = new List<double>();
        for (var i = 0; i < runs; i++)
            ratios.Add(await Time(measured) / await Time(against));
        return ratios.Order().ElementAt(ratios.Count / 2);
    }

    /// <summary>The median time of something, in milliseconds, once it is warm.</summary>
    public static async Task<double> Milliseconds(Func<Task> act)
    {
        var times = new List<double>();
        for (var i = 0; i < 60; i++)
        {
            var started = Stopwatch.GetTimestamp();
            await act();
            times.Add(Stopwatch.GetElapsedTime(started).TotalMilliseconds);
        }
        return times.Skip(20).Order().ElementAt(20);
    }

    /// <summary>One line: the value, whether it is within its aim, and what it is.</summary>
    public static void Report(string what, double value, double aim) =>
        Console.WriteLine($"{value, 8:0.00}  {(value <= aim ? "within" : "OVER  ")} {aim, 6:0.##}  {what}");
}
