using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using DuckDB.NET.Data;
using Shouldly;
using Weir.Demo;
using Weir.Testing;

namespace Weir.Service.Tests;

/// <summary>
/// Walks every endpoint that the service says it has, as each demo account. The oracle is a database from which
/// everything that the account may not see was deleted by hand: read with all rights, it must give the same rows.
/// </summary>
public sealed class LeakTests : IDisposable
{
    private readonly TempFolder _folder = Repository.Temp();

    public void Dispose() => _folder.Dispose();

    /// <summary>What each account may see, as a person would write it in SQL, not as Weir does; and the names that it must never read.</summary>
    private static readonly Dictionary<string, (string? Ports, string[] Datasets, string[] Hidden)> Rights = new()
    {
        ["director"] = (null, ["sailings", "tickets"], []),
        ["developer"] = (null, ["sailings", "tickets"], []),
        ["north-ports"] = ("'SKE', 'ULL', 'QUI'", ["sailings", "tickets"], []),
        ["skerrin-desk"] = (
            "'SKE'",
            ["sailings"],
            ["fuel_cost", "Fuel cost", "margin", "Left after fuel", "ticket_sale", "tickets_sold", "Tickets sold", "takings"]
        ),
        ["auditor"] = (
            null,
            ["sailings", "tickets"],
            [
                "fare_income",
                "fares",
                "cafe",
                "fuel_cost",
                "Fuel cost",
                "Income",
                "income",
                "margin",
                "amount",
                "takings",
                "Takings",
                "mean_price",
                "Mean price",
            ]
        ),
    };

    private static readonly string[] Dashboards = ["network", "tickets", "punctuality", "bridge"];

    /// <summary>Who may see single rows, said here apart from the definitions.</summary>
    private static readonly string[] Detailed = ["director", "developer", "north-ports"];

    /// <summary>Selections that a viewer, or someone who crafts a link, may send.</summary>
    private static readonly (string Dashboard, string Selections)[] Crafted =
    [
        ("network", "{}"),
        ("network", """{"sailings-by-class": {"members": [["Islander"], [null]]}}"""),
        ("network", """{"late-by-hour": {"members": [[1, 8], [5, 17]]}}"""),
        ("network", """{"vessels": {"members": [[7, "Islander"]]}}"""),
        ("network", """{"passengers-by-quarter": {"members": [["2025-07-01"]]}}"""),
        ("network", """{"sea-area": {"members": [["Lantern Sound"]]}}"""),
        ("network", """{"income-by-route": {"members": [["Lanternhead–Tolmarra"]], "restOf": [["Skerrin–Ullavee"]]}}"""),
        ("bridge", """{"sea-area": {"members": [["North Reach"]]}, "by-area": {"members": [["Skerrin–Ullavee"]]}}"""),
        ("punctuality", "{}"),
        (
            "punctuality",
            """{"span": {"range": {"from": "2025-01-06", "to": "2025-07-01"}}, "vessels": {"members": [[7], [9]], "exclude": true}}"""
        ),
        ("punctuality", """{"areas": {"path": ["North Reach"], "members": [["Skerrin–Ullavee"]]}}"""),
        ("punctuality", """{"areas": {"path": ["South Deep", "Fennimar–Lanternhead"]}, "find-vessel": {"contains": "e"}}"""),
        (
            "punctuality",
            """{"wind": {"range": {"from": 11, "to": null}}, "kinds-of-weather": {"members": [[null], ["storm"]]}, "only-late": {"members": [[true]]}}"""
        ),
        (
            "punctuality",
            """{"days": {"range": {"from": "2024-01-01", "to": "2025-01-01"}}, "seasons": {"members": [["FEN", 10], ["SKE", 10]]}}"""
        ),
        (
            "punctuality",
            """{"year": {"members": [["2024-01-01"]]}, "routes": {"members": [["Skerrin–Ullavee"], ["Lanternhead–Tolmarra"]]}}"""
        ),
        ("punctuality", """{"parts": {"members": [["Swift"]]}, "ports": {"members": [["FEN"], ["SKE"]], "exclude": true}}"""),
        ("tickets", "{}"),
        ("tickets", """{"channel": {"members": [[null]]}}"""),
        ("tickets", """{"routes": {"members": [["Lanternhead–Tolmarra"]]}}"""),
        ("tickets", """{"sold-by-terminal": {"members": [["LAN"], ["SKE"]]}}"""),
    ];

    /// <summary>
    /// The demo's definitions with names for the codes of home ports, and with terminals by their codes as keys with titles. The
    /// names of ports that an account may not see are none that it may ever read, whatever codes it sends.
    /// </summary>
    private string Named(string right = "", string leaky = "")
    {
        var workspace = Path.Combine(_folder.Path, $"named{leaky.Length}");
        var names = string.Join(", ", Ports.Select(p => $"{p}: Quay {p[..1]}{p[1..].ToLowerInvariant()}"));
        Repository.CopyDemo(
            workspace,
            (_, text) =>
            {
                text = Repository
                    .Patient(text)
                    .Replace("column: route.home_port,", $"column: route.home_port, names: {{ {names} }},")
                    .Replace("column: terminal.name,", "column: terminal.code, named_by: terminal.name,")
                    // The account and the oracle, who has other roles, look at one arrangement.
                    .Replace("\nroles: [port-desk]", "\n");
                return right.Length == 0 ? text : text.Replace(right, leaky);
            }
        );
        File.ReadAllText(Path.Combine(workspace, "datasets", "sailings.yaml")).ShouldContain("Quay Ske");
        File.ReadAllText(Path.Combine(workspace, "datasets", "tickets.yaml")).ShouldContain("named_by: terminal.name");
        return workspace;
    }

    private static readonly string[] Ports = ["SKE", "ULL", "QUI", "LAN", "TOL", "OST", "BRA", "PEL", "VAN", "MOR", "DUN", "FEN"];

    /// <summary>What an account must never read: hidden fields, and the names of ports that are not its own.</summary>
    private static IEnumerable<string> Unspeakable(string account)
    {
        var (ports, _, hidden) = Rights[account];
        return ports is null
            ? hidden
            : hidden.Concat(Ports.Where(p => !ports.Contains(p)).Select(p => $"Quay {p[..1]}{p[1..].ToLowerInvariant()}"));
    }

    private string Reduced(string account)
    {
        var (ports, datasets, _) = Rights[account];
        var folder = Path.Combine(_folder.Path, account);
        Directory.CreateDirectory(folder);
        var file = Path.Combine(folder, "lantern-isles.duckdb");
        File.Copy(Path.Combine(Repository.DemoFiles(), "lantern-isles.duckdb"), file);
        using var connection = new DuckDBConnection($"Data Source={file}");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText =
            (
                ports is null
                    ? ""
                    : $"""
                        DELETE FROM sailing WHERE route_id NOT IN (SELECT id FROM route WHERE home_port IN ({ports}));
                        DELETE FROM ticket_sale WHERE terminal_id NOT IN (SELECT id FROM terminal WHERE code IN ({ports}));
                        """
            )
            + (datasets.Contains("tickets") ? "" : "DELETE FROM ticket_sale;")
            + "SELECT 1";
        command.ExecuteNonQuery();
        return folder;
    }

    [Theory]
    [InlineData("director")]
    [InlineData("developer")]
    [InlineData("north-ports")]
    [InlineData("skerrin-desk")]
    [InlineData("auditor")]
    public async Task No_endpoint_gives_what_the_roles_do_not_grant(string account)
    {
        await using var service = await RunningService.Start(workspace: Named());
        await using var oracle = await RunningService.Start(files: Reduced(account), workspace: Named());
        var leaks = await Walk(service, oracle, account);
        leaks.ShouldBeEmpty();
    }

    [Theory]
    [InlineData(
        "home_port in user.ports\", hides: [fuel_cost]",
        "home_port in user.ports or route = 'Lanternhead–Tolmarra'\", hides: [fuel_cost]"
    )]
    [InlineData("hides: [fuel_cost] }", "hides: [cafe] }")]
    [InlineData("{ where: \"home_port in user.ports\", hides: [fuel_cost] }", "{ hides: [fuel_cost] }")]
    public async Task The_walk_finds_a_planted_leak(string right, string leaky)
    {
        var workspace = Named(right, leaky);
        File.ReadAllText(Path.Combine(workspace, "access.yaml")).ShouldContain(leaky);
        await using var service = await RunningService.Start(workspace: workspace);
        await using var oracle = await RunningService.Start(files: Reduced("skerrin-desk"), workspace: Named());
        (await Walk(service, oracle, "skerrin-desk", untilFound: true)).ShouldNotBeEmpty();
    }

    /// <param name="untilFound">True to end at the first leak.</param>
    private async Task<List<string>> Walk(RunningService service, RunningService oracle, string account, bool untilFound = false)
    {
        var leaks = new List<string>();
        var client = service.As(account);
        var document = (await client.GetFromJsonAsync<JsonObject>("openapi/v1.json"))!;
        var operations = document["paths"]!
            .AsObject()
            .SelectMany(p => p.Value!.AsObject().Select(o => (Path: p.Key, Method: o.Key, Id: o.Value!["operationId"]!.GetValue<string>())))
            .ToList();
        operations.Count.ShouldBeGreaterThan(15);
        foreach (var operation in operations)
        {
            Walks.ShouldContainKey(operation.Id, $"{operation.Method} {operation.Path} is new: say here how it is walked.");
            await foreach (var (what, text) in Walks[operation.Id](client, account))
            foreach (var hidden in Unspeakable(account).Where(h => Mentions(text, h)))
                leaks.Add($"{operation.Id} ({what}) names {hidden}");
        }
        // The developer reads what the director does: there the rows are compared with nothing picked.
        foreach (var (dashboard, selections) in Crafted.Where(c => account != "developer" || c.Selections == "{}"))
            if (!untilFound || leaks.Count == 0)
                leaks.AddRange(await Compare(service, oracle, account, dashboard, selections));
        return leaks;
    }

    private static bool Mentions(string text, string word) =>
        // Looked for as it stands first: most of the texts are long, and say none of it.
        text.Contains(word, StringComparison.Ordinal)
        && System.Text.RegularExpressions.Regex.IsMatch(text, $"(?<![\\w-]){System.Text.RegularExpressions.Regex.Escape(word)}(?![\\w-])");

    /// <summary>Every row of every tile against the database that has nothing else.</summary>
    private static async Task<List<string>> Compare(
        RunningService service,
        RunningService oracle,
        string account,
        string dashboard,
        string selections
    )
    {
        var picked = JsonDocument.Parse(selections).RootElement;
        Dictionary<string, JsonElement> expected;
        Dictionary<string, JsonElement> given;
        try
        {
            given = await service.Results(account, dashboard, picked);
        }
        catch (InvalidOperationException refused) when (refused.Message.Contains("unknown-"))
        {
            return []; // the tile or the dashboard does not exist for this viewer
        }
        expected = await oracle.Results("director", dashboard, picked);
        var leaks = new List<string>();
        leaks.AddRange(await CompareCubesAndRows(service, oracle, account, dashboard, picked, [.. given.Keys]));
        leaks.AddRange(await CompareOpeningsAndMembers(service, oracle, account, dashboard, picked, [.. given.Keys]));
        foreach (var (tile, result) in given)
        {
            var what = $"{account} {dashboard}/{tile} {selections}";
            if (result.GetProperty("state").GetString() != "ready")
                leaks.Add($"{what} failed: {result}");
            else
            {
                leaks.AddRange(Differences(what, result, expected[tile]));
                if (Rights[account].Ports is not null != result.GetProperty("restricted").GetBoolean())
                    leaks.Add($"{what} does not say whether it is of the rows one may see");
            }
        }
        return leaks;
    }

    /// <summary>The cells that a page is given, and the rows behind each tile, against the database that has nothing else.</summary>
    private static async Task<List<string>> CompareCubesAndRows(
        RunningService service,
        RunningService oracle,
        string account,
        string dashboard,
        JsonElement selections,
        string[] tiles
    )
    {
        var leaks = new List<string>();
        // Two tiles for each selection, others each time: all of them have their turn.
        var at = Array.FindIndex(
            Crafted,
            c => c.Dashboard == dashboard && JsonDocument.Parse(c.Selections).RootElement.GetRawText() == selections.GetRawText()
        );
        foreach (var lead in tiles.Order(StringComparer.Ordinal).Where((_, i) => (i + (3 * at)) % Math.Max(1, tiles.Length / 2) == 0))
        {
            async Task<(HttpStatusCode Status, string Text)> Ask(RunningService of, string who, string what)
            {
                var response = await of.As(who)
                    .PostAsJsonAsync(
                        $"api/dashboards/{dashboard}/tiles/{lead}/{what}",
                        what == "rows"
                            ? new
                            {
                                selections,
                                count = 50,
                                sort = new[] { new { field = "route" } },
                            }
                            : (object)new { selections, tiles }
                    );
                return (response.StatusCode, await response.Content.ReadAsStringAsync());
            }
            var (mine, theirs) = (await Ask(service, account, "brush"), await Ask(oracle, "director", "brush"));
            leaks.AddRange(
                Unspeakable(account).Where(h => Mentions(mine.Text, h)).Select(h => $"{account} {dashboard}/{lead} brush names {h}")
            );
            if (mine.Status != theirs.Status)
                leaks.Add($"{account} {dashboard}/{lead} brush: {mine.Status} against {theirs.Status}");
            else if (mine.Status == HttpStatusCode.OK)
            {
                var (cubes, expected) = (Cubes(mine.Text), Cubes(theirs.Text));
                leaks.AddRange(
                    cubes
                        .Where(c => !expected.TryGetValue(c.Key, out var same) || !same.SetEquals(c.Value))
                        .Select(c => $"{account} {dashboard}/{lead} {selections}: other cells for {c.Key}")
                );
            }
            // A summary's filter may name what single rows may not: then both refuse. The order of columns is the same, less those hidden.
            var (rows, all) = (await Ask(service, account, "rows"), await Ask(oracle, "director", "rows"));
            if (
                Detailed.Contains(account)
                    ? rows.Text.Replace("\"restricted\":true", "\"restricted\":false") != all.Text
                    : rows.Status != HttpStatusCode.Forbidden
            )
                leaks.Add(
                    $"{account} {dashboard}/{lead} {selections} rows: {rows.Status} {(rows.Text.Length > 300 ? rows.Text[..300] : rows.Text)}"
                );
        }
        return leaks;
    }

    /// <summary>What a link keeps of its picks, and the members that a control finds, against the database that has nothing else.</summary>
    private static async Task<List<string>> CompareOpeningsAndMembers(
        RunningService service,
        RunningService oracle,
        string account,
        string dashboard,
        JsonElement selections,
        string[] tiles
    )
    {
        var leaks = new List<string>();
        string[] controls = ["routes", "ports", "sea-area", "channel"];
        var asked = controls
            .Intersect(tiles)
            .Select(c => ($"tiles/{c}/members", (object)new { selections, search = "e" }))
            .Append(("opening", new { selections }))
            .Append(("opening", new { }));
        foreach (var (path, body) in asked)
        {
            async Task<string> Ask(RunningService of, string who) =>
                await (await of.As(who).PostAsJsonAsync($"api/dashboards/{dashboard}/{path}", body)).Content.ReadAsStringAsync();
            var (mine, theirs) = (await Ask(service, account), await Ask(oracle, "director"));
            // Who sees all rows has the names from the page already.
            if (WithoutNames(mine) != WithoutNames(theirs))
                leaks.Add($"{account} {dashboard}/{path} {selections}: {mine} against {theirs}");
            leaks.AddRange(
                Unspeakable(account).Where(h => Mentions(mine, h)).Select(h => $"{account} {dashboard}/{path} {selections} names {h}")
            );
        }
        return leaks;
    }

    private static string WithoutNames(string json)
    {
        var node = JsonNode.Parse(json);
        (node as JsonObject)?.Remove("names");
        return node?.ToJsonString() ?? "";
    }

    /// <summary>Each follower's cells whatever their order, figures that are hidden left out: the members, then the rows that each counts.</summary>
    private static Dictionary<string, HashSet<string>> Cubes(string lines) =>
        lines
            .Split('\n', StringSplitOptions.RemoveEmptyEntries)
            .Select(l => JsonDocument.Parse(l).RootElement)
            .ToDictionary(
                l => l.GetProperty("tile").GetString()!,
                l =>
                {
                    if (l.GetProperty("cube").ValueKind == JsonValueKind.Null)
                        return [];
                    var cube = l.GetProperty("cube");
                    var axes = cube.GetProperty("axes")
                        .EnumerateArray()
                        .Select(a => a.GetProperty("members").EnumerateArray().Select(m => m.GetRawText()).ToArray())
                        .ToArray();
                    var cells = cube.GetProperty("cells")
                        .EnumerateArray()
                        .Select(c => c.EnumerateArray().Select(i => i.GetInt32()).ToArray())
                        .ToArray();
                    var counts = cube.GetProperty("parts")
                        .EnumerateArray()
                        .Last()
                        .GetProperty("values")
                        .EnumerateArray()
                        .Select(v => v.GetRawText())
                        .ToArray();
                    return counts
                        .Select((n, cell) => $"{string.Join(" | ", cells.Select((c, axis) => axes[axis][c[cell]]))} = {n}")
                        .ToHashSet();
                }
            );

    private static IEnumerable<string> Differences(string what, JsonElement given, JsonElement expected)
    {
        var mine = Columns(given);
        var theirs = Columns(expected);
        foreach (var (column, values) in mine)
            if (!theirs.TryGetValue(column, out var same) || same.GetRawText() != values.GetRawText())
                if (!SameNumbers(values, same))
                    yield return $"{what} column {column}: {Short(values)} against {(same.ValueKind == JsonValueKind.Undefined ? "nothing" : Short(same))}";
        if (given.GetProperty("lines").GetInt64() != expected.GetProperty("lines").GetInt64())
            yield return $"{what}: {given.GetProperty("lines")} lines against {expected.GetProperty("lines")}";
        foreach (var part in (string[])["change", "partial", "partialPairs"])
            if (!SameNumbers(given.GetProperty(part), expected.GetProperty(part)))
                yield return $"{what} {part}: {Short(given.GetProperty(part))} against {Short(expected.GetProperty(part))}";
        if (mine.Count == theirs.Count && !SameNumbers(given.GetProperty("totals"), expected.GetProperty("totals")))
            yield return $"{what}: other totals";
    }

    private static string Short(JsonElement e) => e.GetRawText() is { Length: > 200 } t ? t[..200] : e.GetRawText();

    /// <summary>Equal but for the last digits of floating-point sums, whose order the database may choose.</summary>
    internal static bool SameNumbers(JsonElement a, JsonElement b) =>
        (a.ValueKind, b.ValueKind) switch
        {
            (JsonValueKind.Number, JsonValueKind.Number) => Math.Abs(a.GetDouble() - b.GetDouble())
                <= 1e-9 * Math.Max(1, Math.Abs(a.GetDouble())),
            (JsonValueKind.Array, JsonValueKind.Array) => a.GetArrayLength() == b.GetArrayLength()
                && a.EnumerateArray().Zip(b.EnumerateArray()).All(p => SameNumbers(p.First, p.Second)),
            (JsonValueKind.Object, JsonValueKind.Object) => a.EnumerateObject()
                .All(p => b.TryGetProperty(p.Name, out var other) && SameNumbers(p.Value, other)),
            _ => a.ValueKind == b.ValueKind && (a.ValueKind == JsonValueKind.Undefined || a.GetRawText() == b.GetRawText()),
        };

    private static Dictionary<string, JsonElement> Columns(JsonElement result)
    {
        var table = result.GetProperty("table");
        return table
            .GetProperty("columns")
            .EnumerateArray()
            .Zip(table.GetProperty("values").EnumerateArray())
            .ToDictionary(p => p.First.GetProperty("name").GetString()!, p => p.Second);
    }

    /// <summary>How each endpoint is walked. Each gives back all text that it answered; what is not granted answers as what is not there.</summary>
    private static readonly Dictionary<string, Func<HttpClient, string, IAsyncEnumerable<(string What, string Text)>>> Walks = new()
    {
        ["health"] = (c, _) => One(c.GetAsync("api/health")),
        ["getSession"] = (c, _) => One(c.GetAsync("api/session")),
        ["signIn"] = (c, account) =>
            One(
                c.PostAsJsonAsync(
                    "api/session",
                    new { name = account, password = DemoAccounts.All.First(a => a.Viewer.Name == account).Password }
                )
            ),
        ["changePassword"] = (c, account) =>
            One(
                c.PostAsJsonAsync("api/session/password", new { current = "not it", @new = "a new password" }),
                HttpStatusCode.Unauthorized
            ),
        ["signOut"] = (c, _) => One(c.DeleteAsync("api/session")),
        ["makeToken"] = (c, account) =>
            One(
                c.PostAsJsonAsync(
                    "api/tokens",
                    new
                    {
                        name = account,
                        password = DemoAccounts.All.First(a => a.Viewer.Name == account).Password,
                        label = "walk",
                        days = 1,
                    }
                )
            ),
        ["listTokens"] = (c, _) => One(c.GetAsync("api/tokens")),
        ["endToken"] = (c, _) => One(c.DeleteAsync("api/tokens/none"), HttpStatusCode.NotFound),
        ["listDashboards"] = (c, _) => One(c.GetAsync("api/dashboards")),
        ["getDashboard"] = (c, account) =>
            EachDashboard(c, account, d => c.GetAsync($"api/dashboards/{d}"))
                .Concat(
                    EachDashboard(
                        c,
                        account,
                        d => c.GetAsync($"api/dashboards/{d}?set={Uri.EscapeDataString("{\"parts\": [\"sea_area\"]}")}")
                    )
                ),
        ["getResults"] = Results,
        ["listCatalogues"] = Catalogues,
        ["listDrawings"] = Drawings,
        ["listEdits"] = (c, account) => EachDashboard(c, account, d => c.GetAsync($"api/dashboards/{d}/view/edits")),
        ["compareView"] = (c, account) => EachDashboard(c, account, d => c.GetAsync($"api/dashboards/{d}/view/differences")),
        ["promoteView"] = (c, account) =>
            EachDashboard(c, account, d => c.PostAsJsonAsync($"api/dashboards/{d}/views/none/promote", new { })),
        ["listChoices"] = Choices,
        ["getWiring"] = (c, account) => EachDashboard(c, account, d => c.GetAsync($"api/dashboards/{d}/wiring")),
        ["getFile"] = (c, account) => EachDashboard(c, account, d => c.GetAsync($"api/dashboards/{d}/tiles/isles/file")),
        ["getRows"] = (c, account) =>
            EachTile(c, account, "rows", account => Detailed.Contains(account) ? HttpStatusCode.OK : HttpStatusCode.Forbidden),
        ["exportRows"] = (c, account) =>
            EachTile(c, account, "rows.csv", account => Detailed.Contains(account) ? HttpStatusCode.OK : HttpStatusCode.Forbidden),
        ["export"] = (c, account) =>
            EachDashboard(c, account, d => c.PostAsJsonAsync($"api/dashboards/{d}/exports", new { form = "json" })),
        ["exportComing"] = (c, account) => EachDashboard(c, account, d => c.PostAsJsonAsync($"api/dashboards/{d}/exports/coming", new { })),
        ["listReports"] = (c, _) => One(c.GetAsync("api/reports")),
        ["runReport"] = Reports,
        ["listReportParameters"] = (c, account) =>
            One(
                c.GetAsync("api/reports/terminals/parameters"),
                account is "director" or "developer" or "north-ports" ? HttpStatusCode.OK : HttpStatusCode.NotFound
            ),
        ["listRemarks"] = (c, account) => EachDashboard(c, account, d => c.GetAsync($"api/dashboards/{d}/remarks")),
        // What is written is read by a test of its own; here it is written about nothing.
        ["addRemark"] = (c, _) => One(c.PostAsJsonAsync("api/dashboards/none/remarks", new { text = "Why?" }), HttpStatusCode.NotFound),
        ["answerRemark"] = (c, _) =>
            One(c.PostAsJsonAsync("api/dashboards/none/remarks/x/answers", new { text = "So." }), HttpStatusCode.NotFound),
        ["setRemarkDone"] = (c, _) =>
            One(c.PutAsJsonAsync("api/dashboards/none/remarks/x/done", new { done = true }), HttpStatusCode.NotFound),
        ["setRemarkMail"] = (c, _) =>
            One(c.PutAsJsonAsync("api/dashboards/none/remarks/mail", new { wanted = true }), HttpStatusCode.NotFound),
        ["fileProgress"] = (c, _) => One(c.GetAsync("api/files/another"), HttpStatusCode.NotFound),
        ["getSchedule"] = (c, account) =>
            One(
                c.GetAsync("api/reports/morning-watch/schedule"),
                account == "developer" ? HttpStatusCode.OK
                    : account is "director" or "north-ports" ? HttpStatusCode.Forbidden
                    : HttpStatusCode.NotFound
            ),
        // Sent it is by a test of its own; here it goes to nobody.
        ["sendReport"] = (c, _) => One(c.PostAsJsonAsync("api/reports/none/send", new { }), HttpStatusCode.NotFound),
        ["listRuns"] = (c, account) => One(c.GetAsync("api/runs"), OnlyDeveloper(account)),
        ["sendAgain"] = (c, account) =>
            One(
                c.PostAsJsonAsync("api/runs/none/again", new { reader = "person:director" }),
                account == "developer" ? HttpStatusCode.NotFound : HttpStatusCode.Forbidden
            ),
        ["listDeliveries"] = (c, _) => One(c.GetAsync("api/deliveries")),
        ["getDelivery"] = (c, _) => One(c.GetAsync("api/deliveries/none/file"), HttpStatusCode.NotFound),
        ["listSubscriptions"] = (c, _) => One(c.GetAsync("api/subscriptions")),
        ["subscribe"] = (c, _) =>
            One(
                c.PostAsJsonAsync("api/dashboards/none/subscriptions", new { when = "every day at 08:00", state = new { form = "json" } }),
                HttpStatusCode.NotFound
            ),
        ["unsubscribe"] = (c, _) => One(c.DeleteAsync("api/subscriptions/none"), HttpStatusCode.NotFound),
        ["getOpening"] = (c, account) => EachDashboard(c, account, d => c.PostAsJsonAsync($"api/dashboards/{d}/opening", new { })),
        ["findMembers"] = (c, account) => EachTile(c, account, "members", _ => null),
        ["getBrushIndex"] = (c, account) => EachTile(c, account, "brush", _ => null),
        ["listPictures"] = (c, _) => One(c.GetAsync("api/pictures")),
        ["listDatasets"] = (c, _) => One(c.GetAsync("api/datasets")),
        ["listValues"] = ValuesOfFields,
        ["listSources"] = (c, account) => One(c.GetAsync("api/sources"), OnlyDeveloper(account)),
        ["testSource"] = (c, account) => One(c.PostAsync("api/sources/ferries/test", null), OnlyDeveloper(account)),
        ["testSourceDraft"] = (c, account) =>
            One(c.PostAsJsonAsync("api/sources/test", new { text = "source: x" }), OnlyDeveloper(account)),
        ["listTables"] = (c, account) => One(c.GetAsync("api/sources/ferries/tables"), OnlyDeveloper(account)),
        ["getTable"] = (c, account) => One(c.GetAsync("api/sources/ferries/tables/sailing"), OnlyDeveloper(account)),
        ["sampleRows"] = (c, account) => One(c.PostAsync("api/sources/ferries/tables/sailing/rows", null), OnlyDeveloper(account)),
        ["listColumns"] = (c, account) => One(c.PostAsJsonAsync("api/datasets/columns", new { text = Draft }), OnlyDeveloper(account)),
        ["previewDataset"] = (c, account) => One(c.PostAsJsonAsync("api/datasets/preview", new { text = Draft }), OnlyDeveloper(account)),
        ["datasetQuality"] = (c, account) => One(c.PostAsJsonAsync("api/datasets/quality", new { text = Draft }), OnlyDeveloper(account)),
        ["tryFormula"] = (c, account) =>
            One(
                c.PostAsJsonAsync(
                    "api/datasets/formula",
                    new
                    {
                        text = Draft,
                        name = "all",
                        formula = "count(*)",
                        isMeasure = true,
                    }
                ),
                OnlyDeveloper(account)
            ),
        ["publishFile"] = (c, account) =>
            One(
                c.PutAsJsonAsync("api/definitions/file", new { path = "datasets/none.yaml", text = "dataset: none" }),
                OnlyDeveloper(account)
            ),
        ["explainTile"] = Explanations,
        ["editView"] = (c, account) =>
            EachDashboard(
                    c,
                    account,
                    d =>
                        c.PostAsJsonAsync(
                            $"api/dashboards/{d}/view/edits",
                            new
                            {
                                edit = "add-tab",
                                tab = "own-1",
                                title = "Own",
                            }
                        )
                )
                .Concat(
                    EachDashboard(
                        c,
                        account,
                        d =>
                            c.PostAsJsonAsync(
                                $"api/dashboards/{d}/view/edits",
                                new
                                {
                                    edit = "make-tile",
                                    tile = "own-made",
                                    dataset = "costs",
                                    drawing = new { picture = "table", by = new[] { "vessel" } },
                                    tab = "own-1",
                                }
                            )
                    )
                ),
        ["makeView"] = (c, account) =>
            EachDashboard(c, account, d => c.PostAsJsonAsync($"api/dashboards/{d}/views", new { title = "Another" })),
        ["renameView"] = (c, account) =>
            EachDashboard(c, account, d => c.PostAsJsonAsync($"api/dashboards/{d}/views/view-1/title", new { title = "Mine" })),
        ["openViewFirst"] = (c, account) =>
            EachDashboard(c, account, d => c.PostAsJsonAsync($"api/dashboards/{d}/views/view-1/first", new { })),
        ["removeView"] = (c, account) =>
            EachDashboard(c, account, d => c.PostAsJsonAsync($"api/dashboards/{d}/views/view-1/remove", new { })),
        ["restoreView"] = (c, account) =>
            EachDashboard(c, account, d => c.PostAsJsonAsync($"api/dashboards/{d}/views/view-1/restore", new { })),
        ["listRecipients"] = (c, account) => EachDashboard(c, account, d => c.GetAsync($"api/dashboards/{d}/recipients")),
        ["listShares"] = (c, account) => EachDashboard(c, account, d => c.GetAsync($"api/dashboards/{d}/views/my/shares")),
        ["shareView"] = (c, account) =>
            EachDashboard(c, account, d => c.PostAsJsonAsync($"api/dashboards/{d}/views/my/shares", new { person = "director" })),
        ["withdrawShare"] = (c, account) => EachDashboard(c, account, d => c.DeleteAsync($"api/dashboards/{d}/views/my/shares/none")),
        ["listSteps"] = (c, account) => EachDashboard(c, account, d => c.GetAsync($"api/dashboards/{d}/view/steps")),
        ["goToStep"] = (c, account) =>
            EachDashboard(c, account, d => c.PostAsJsonAsync($"api/dashboards/{d}/view/go-to", new { step = 0 })),
        ["undoEdit"] = (c, account) => EachDashboard(c, account, d => c.PostAsync($"api/dashboards/{d}/view/undo", null)),
        ["redoEdit"] = (c, account) => EachDashboard(c, account, d => c.PostAsync($"api/dashboards/{d}/view/redo", null)),
        ["fetchDefinitions"] = (c, account) => One(c.GetAsync("api/definitions"), OnlyDeveloper(account)),
        ["checkDefinitions"] = (c, account) =>
            One(c.PostAsJsonAsync("api/definitions/check", new { files = new { } }), OnlyDeveloper(account)),
        ["publishDefinitions"] = (c, account) => One(c.PutAsJsonAsync("api/definitions", new { files = new { } }), OnlyDeveloper(account)),
        ["listDrafts"] = (c, _) => One(c.GetAsync("api/drafts"), HttpStatusCode.OK),
        ["listDraftable"] = (c, account) =>
            One(c.GetAsync("api/drafts/dashboards"), OnlyDeveloper(account))
                .Concat(One(c.GetAsync("api/drafts/datasets"), OnlyDeveloper(account))),
        ["getDraft"] = (c, account) =>
            // The director may design this one.
            One(c.GetAsync("api/drafts/dashboards/network"), OnlyWhoLooks(account))
                .Concat(One(c.GetAsync("api/drafts/dashboards/tickets"), OnlyDeveloper(account)))
                .Concat(One(c.GetAsync("api/drafts/datasets/sailings"), OnlyDeveloper(account)))
                .Concat(One(c.GetAsync("api/drafts/access/access"), OnlyDeveloper(account)))
                .Concat(One(c.GetAsync("api/drafts/sources/ferries"), OnlyDeveloper(account))),
        ["saveDraft"] = (c, account) =>
            One(c.PutAsJsonAsync("api/drafts/dashboards/none", new { text = "dashboard: none\n", after = 0 }), OnlyDeveloper(account))
                .Concat(
                    // One's own, in which all is named that there is.
                    One(
                        c.PutAsJsonAsync(
                            "api/drafts/dashboards/own-all",
                            new
                            {
                                after = 0,
                                text = "dashboard: own-all\ntitle: All\ntabs:\n  - tab: a\n    tiles:\n"
                                    + string.Concat(
                                        ((string[])["salings", "tickts", "insections", "csts"]).Select(
                                            (d, i) => $"      - {{ tile: t{i}, picture: number, dataset: {d}, show: incme }}\n"
                                        )
                                    )
                                    + "      - { tile: u, picture: number, dataset: sailings, show: incme }\n"
                                    + "      - { tile: v, picture: table, dataset: sailings, show: sailings, by: fuel_cst }\n",
                            }
                        ),
                        account is "skerrin-desk" or "auditor" ? HttpStatusCode.Forbidden : HttpStatusCode.OK
                    )
                ),
        ["takeSteps"] = (c, account) =>
            One(
                c.PostAsJsonAsync(
                    "api/drafts/dashboards/none/steps",
                    new
                    {
                        steps = new[]
                        {
                            new
                            {
                                @do = "set",
                                at = new[] { "title" },
                                value = "x",
                            },
                        },
                    }
                ),
                OthersRefused(account)
            ),
        ["arrangeDraft"] = (c, account) =>
            One(
                c.PostAsJsonAsync("api/drafts/dashboards/none/edits", new { edit = new { edit = "hide", tile = "counted" } }),
                OthersRefused(account)
            ),
        ["proposeTiles"] = (c, account) =>
            One(
                c.PostAsJsonAsync(
                    "api/drafts/dashboards/none/proposals",
                    new { dataset = "sailings", names = new[] { "sailings", "sea_area" } }
                ),
                OthersRefused(account)
            ),
        ["checkDraft"] = (c, account) => One(c.PostAsync("api/drafts/dashboards/none/check", null), OthersRefused(account)),
        ["refitDashboard"] = (c, account) =>
            One(c.PostAsJsonAsync("api/drafts/dashboards/none/refit", new { of = "tickets" }), OthersRefused(account)),
        ["listTileChanges"] = (c, account) => One(c.GetAsync("api/drafts/dashboards/network/changes"), OnlyWhoLooks(account)),
        ["handOverDraft"] = (c, account) =>
            One(c.PostAsJsonAsync("api/drafts/dashboards/none/hand-over", new { step = 9 }), OthersRefused(account)),
        ["takeBackDraft"] = (c, account) => One(c.DeleteAsync("api/drafts/dashboards/none/hand-over"), OthersRefused(account)),
        ["listHandedDrafts"] = (c, account) => One(c.GetAsync("api/handed-drafts"), OnlyDeveloper(account)),
        ["takeHandedDraft"] = (c, account) => One(c.PostAsync("api/handed-drafts/director/network/take", null), OthersRefused(account)),
        ["listSharedDashboards"] = (c, _) => One(c.GetAsync("api/own-dashboards")),
        ["listOwnShares"] = (c, account) => One(c.GetAsync("api/own-dashboards/none/shares"), OthersRefused(account)),
        ["shareOwnDashboard"] = (c, account) =>
            One(c.PostAsJsonAsync("api/own-dashboards/none/shares", new { person = "director" }), OthersRefused(account)),
        ["withdrawOwnDashboard"] = (c, account) =>
            One(c.DeleteAsync("api/own-dashboards/none/shares/person/director"), OthersRefused(account)),
        ["listDefinitionWords"] = (c, _) => One(c.GetAsync("api/definition-words/datasets")),
        ["listTileKeys"] = (c, _) => One(c.GetAsync("api/tile-keys")),
        ["listDatasetKeys"] = (c, _) => One(c.GetAsync("api/dataset-keys")),
        ["listFormulaWords"] = (c, _) => One(c.GetAsync("api/formula-words")),
        ["undoDraft"] = (c, account) => One(c.PostAsync("api/drafts/dashboards/none/undo", null), OthersRefused(account)),
        ["redoDraft"] = (c, account) => One(c.PostAsync("api/drafts/dashboards/none/redo", null), OthersRefused(account)),
        ["discardDraft"] = (c, account) => One(c.DeleteAsync("api/drafts/dashboards/none"), OthersRefused(account)),
        ["mergeDraft"] = (c, account) =>
            One(c.PostAsJsonAsync("api/drafts/dashboards/none/merge", new { step = 9 }), OthersRefused(account)),
        ["publishDraft"] = (c, account) =>
            One(c.PostAsJsonAsync("api/drafts/dashboards/none/publish", new { step = 9 }), OthersRefused(account)),
        ["previewRename"] = (c, account) =>
            One(
                c.PostAsJsonAsync(
                    "api/renames/preview",
                    new
                    {
                        kind = "measure",
                        dataset = "costs",
                        from = "cost",
                        to = "used",
                    }
                ),
                OthersRefused(account)
            ),
        ["rename"] = (c, account) =>
            One(
                c.PostAsJsonAsync(
                    "api/renames",
                    new
                    {
                        kind = "dashboard",
                        from = "none",
                        to = "other",
                    }
                ),
                OthersRefused(account)
            ),
        ["listVersions"] = (c, account) => One(c.GetAsync("api/versions"), OnlyDeveloper(account)),
        ["getVersion"] = (c, account) => One(c.GetAsync("api/versions/1"), OnlyDeveloper(account)),
        ["restoreVersion"] = (c, account) => One(c.PostAsJsonAsync("api/versions/1/restore", new { }), OnlyDeveloper(account)),
        ["whoSeesDashboard"] = (c, account) => One(c.GetAsync("api/access/dashboards/network"), OnlyWhoLooks(account)),
        ["whoReadsDataset"] = (c, account) => One(c.GetAsync("api/access/datasets/sailings"), OnlyWhoLooks(account)),
        ["whatPersonSees"] = (c, account) => One(c.GetAsync("api/access/people/director"), OnlyWhoLooks(account)),
        ["listOthers"] = (c, account) => One(c.GetAsync("api/access/others"), OnlyWhoLooks(account)),
        ["listen"] = Listen,
    };

    /// <summary>Who works on drafts may have none by then; for all others it makes no difference.</summary>
    private static HttpStatusCode? OthersRefused(string account) => account == "developer" ? null : HttpStatusCode.Forbidden;

    private const string Draft = "dataset: d\nsource: ferries\nfrom: sailing\nfields: { id: { column: id, type: integer } }\n";

    /// <summary>What fields hold; what is not granted answers as what is not there.</summary>
    private static async IAsyncEnumerable<(string, string)> ValuesOfFields(HttpClient client, string account)
    {
        foreach (var dataset in (string[])["sailings", "tickets", "costs", "none"])
        foreach (var field in (string[])["home_port", "port", "route", "departed", "delay", "fuel_cost", "amount", "none"])
        {
            var response = await client.GetAsync($"api/datasets/{dataset}/fields/{field}/values");
            var text = await response.Content.ReadAsStringAsync();
            if (!response.IsSuccessStatusCode)
                text.ShouldBe(
                    (await (await client.GetAsync($"api/datasets/{dataset}/fields/nothing/values")).Content.ReadAsStringAsync()).Replace(
                        "nothing",
                        field
                    )
                );
            else
                yield return ("network", text);
        }
    }

    /// <summary>The values of a field, which must be those of rows that the account may see.</summary>
    private static async IAsyncEnumerable<(string, string)> Choices(HttpClient client, string account)
    {
        var response = await client.GetAsync("api/dashboards/tickets/parameters/at_port/choices");
        var text = await response.Content.ReadAsStringAsync();
        yield return ("tickets", text);
        if (!Rights[account].Datasets.Contains("tickets"))
            (await (await client.GetAsync("api/dashboards/tickets/parameters/none/choices")).Content.ReadAsStringAsync())
                .Replace("none", "at_port")
                .ShouldBe(text, "a parameter that is not granted answers as one that is not there");
        else if (Rights[account].Ports is { } ports)
            JsonDocument
                .Parse(text)
                .RootElement.EnumerateArray()
                .Select(c => $"'{c.GetProperty("value").GetString()}'")
                .ShouldBe(ports.Split(", "), ignoreOrder: true);
        else
            JsonDocument.Parse(text).RootElement.GetArrayLength().ShouldBe(12);
    }

    private static HttpStatusCode OnlyWhoLooks(string account) =>
        account is "developer" or "director" ? HttpStatusCode.OK : HttpStatusCode.Forbidden;

    private static HttpStatusCode OnlyDeveloper(string account) => account == "developer" ? HttpStatusCode.OK : HttpStatusCode.Forbidden;

    private static async IAsyncEnumerable<(string, string)> One(Task<HttpResponseMessage> asked, HttpStatusCode? expected = null)
    {
        var response = await asked;
        if (expected is not null)
            response.StatusCode.ShouldBe(expected.Value);
        yield return (response.StatusCode.ToString(), await response.Content.ReadAsStringAsync());
    }

    private static async IAsyncEnumerable<(string, string)> EachDashboard(
        HttpClient client,
        string account,
        Func<string, Task<HttpResponseMessage>> ask
    )
    {
        var unknown = await (await ask("no-such-dashboard")).Content.ReadAsStringAsync();
        foreach (var dashboard in Dashboards)
        {
            var response = await ask(dashboard);
            var text = await response.Content.ReadAsStringAsync();
            if (response.StatusCode == HttpStatusCode.NotFound)
                if (text.Contains("unknown-dashboard"))
                    text.ShouldBe(unknown.Replace("no-such-dashboard", dashboard));
            yield return (dashboard, text);
        }
    }

    /// <summary>Every report; one of a dashboard that the account may not take along answers as one that is not there.</summary>
    private static async IAsyncEnumerable<(string, string)> Reports(HttpClient client, string account)
    {
        async Task<string> Run(string report) =>
            await (await client.PostAsJsonAsync($"api/reports/{report}/run", new { form = "json" })).Content.ReadAsStringAsync();
        var unknown = await Run("no-such-report");
        foreach (var report in new[] { "morning-watch", "terminals" })
        {
            var text = await Run(report);
            if (text.Contains("unknown-report"))
                text.ShouldBe(unknown.Replace("no-such-report", report));
            yield return (report, text);
        }
    }

    private static async IAsyncEnumerable<(string, string)> Results(HttpClient client, string account)
    {
        foreach (var (dashboard, selections) in Crafted)
        {
            var response = await client.PostAsync(
                $"api/dashboards/{dashboard}/results",
                new StringContent($"{{\"selections\": {selections}}}", Encoding.UTF8, "application/json")
            );
            yield return ($"{dashboard} {selections}", await response.Content.ReadAsStringAsync());
        }
        // A hidden tile answers as one that is not there.
        string Unknown(string text, string tile) => text.Replace(tile, "?");
        var nothing = await client.PostAsJsonAsync("api/dashboards/network/results", new { tiles = new[] { "no-such-tile" } });
        if (Rights[account].Hidden.Contains("fuel_cost"))
        {
            var hidden = await client.PostAsJsonAsync("api/dashboards/network/results", new { tiles = new[] { "fuel-by-month" } });
            if (
                Unknown(await hidden.Content.ReadAsStringAsync(), "fuel-by-month")
                != Unknown(await nothing.Content.ReadAsStringAsync(), "no-such-tile")
            )
                yield return ("a hidden tile", "fuel_cost: it does not answer as one that is not there");
        }
    }

    /// <summary>What may be added, and the figures of each; what may not answers as what there is not.</summary>
    private static async IAsyncEnumerable<(string, string)> Catalogues(HttpClient client, string account)
    {
        async Task<string> Preview(string shared) =>
            await (
                await client.PostAsJsonAsync("api/dashboards/bridge/results", new { shared = new[] { shared } })
            ).Content.ReadAsStringAsync();
        await foreach (var listed in EachDashboard(client, account, d => client.GetAsync($"api/dashboards/{d}/catalogues")))
            yield return listed;
        var offered = JsonDocument
            .Parse(await client.GetStringAsync("api/dashboards/bridge/catalogues"))
            .RootElement.EnumerateArray()
            .SelectMany(c => c.GetProperty("tiles").EnumerateArray())
            .Select(t => t.GetProperty("shared").GetString()!)
            .ToList();
        // Each is asked as any other tile is: some of each catalogue are enough.
        foreach (var shared in offered.Where((_, i) => i % 4 == 0))
            yield return (shared, await Preview(shared));
        foreach (var shared in new[] { "purse/takings-by-month", "purse/dear-vessels", "network/fuel-by-month" }.Except(offered))
            (await Preview(shared)).ShouldBe(await Preview("purse/none"), $"{account} asks for {shared}");
    }

    /// <summary>How each tile may be drawn; and what it may not show answers as what there is not.</summary>
    private static async IAsyncEnumerable<(string, string)> Drawings(HttpClient client, string account)
    {
        async Task<string> Drawn(string measure) =>
            (
                await (
                    await client.PostAsJsonAsync(
                        "api/dashboards/bridge/results",
                        new
                        {
                            tiles = new[] { "by-month" },
                            viewing = new
                            {
                                parameters = new Dictionary<string, string[]> { ["draw:by-month"] = [$$"""{"show": ["{{measure}}"]}"""] },
                            },
                        }
                    )
                ).Content.ReadAsStringAsync()
            ).Replace(measure, "?");
        foreach (var dashboard in Dashboards)
        foreach (var tile in (await Tiles(client, dashboard)).Where((_, i) => i % 3 == 0))
            yield return (
                $"{dashboard}/{tile}",
                await (await client.GetAsync($"api/dashboards/{dashboard}/tiles/{tile}/drawings")).Content.ReadAsStringAsync()
            );
        foreach (var hidden in new[] { "fuel", "margin", "income" }.Where(m => Unspeakable(account).Contains(m)))
            JsonDocument
                .Parse(await Drawn(hidden))
                .RootElement.GetProperty("table")
                .GetRawText()
                .ShouldBe(JsonDocument.Parse(await Drawn("no_such")).RootElement.GetProperty("table").GetRawText());
    }

    /// <summary>Asks the same of every tile that the account has; one that it has not answers as one that is not there.</summary>
    private static async IAsyncEnumerable<(string, string)> EachTile(
        HttpClient client,
        string account,
        string what,
        Func<string, HttpStatusCode?> expected
    )
    {
        Task<HttpResponseMessage> Ask(string dashboard, string tile) =>
            client.PostAsJsonAsync(
                $"api/dashboards/{dashboard}/tiles/{tile}/{what}",
                what == "members" ? new { search = "e" } : (object)new { }
            );
        foreach (var dashboard in Dashboards)
        {
            // Rows are read anew for each tile of the same few datasets: some tiles of each dashboard are enough, and of all rows as a file one.
            var tiles = (await Tiles(client, dashboard)).Where((_, i) => what == "brush" || i % 5 == 0).ToList();
            foreach (var tile in what == "rows.csv" ? tiles.Skip(account.Length % Math.Max(1, tiles.Count)).Take(1) : tiles)
            {
                var response = await Ask(dashboard, tile);
                if (expected(account) is { } status)
                    response.StatusCode.ShouldBe(status, $"{account} {dashboard} {tile} {what}");
                yield return ($"{dashboard} {tile}", await response.Content.ReadAsStringAsync());
            }
            var unknown = await (await Ask(dashboard, "no-such-tile")).Content.ReadAsStringAsync();
            if (dashboard == "network" && Rights[account].Hidden.Contains("fuel_cost"))
                if (
                    (await (await Ask(dashboard, "fuel-by-month")).Content.ReadAsStringAsync()).Replace("fuel-by-month", "?")
                    != unknown.Replace("no-such-tile", "?")
                )
                    yield return ($"a hidden tile's {what}", "fuel_cost: it does not answer as one that is not there");
        }
    }

    private static async Task<List<string>> Tiles(HttpClient client, string dashboard)
    {
        var response = await client.GetAsync($"api/dashboards/{dashboard}");
        if (response.StatusCode == HttpStatusCode.NotFound)
            return [];
        var page = JsonNode.Parse(await response.Content.ReadAsStringAsync())!;
        return
        [
            .. page["tabs"]!
                .AsArray()
                .SelectMany(t => t!["tiles"]!.AsArray())
                .Where(t => t!["dataset"] is not null && t["picture"]!.GetValue<string>() != "text")
                .Select(t => t!["name"]!.GetValue<string>()),
        ];
    }

    private static async IAsyncEnumerable<(string, string)> Explanations(HttpClient client, string account)
    {
        foreach (var dashboard in Dashboards)
        {
            foreach (var tile in await Tiles(client, dashboard))
            {
                // With codes of others picked: what they stand for is not told.
                object asked =
                    dashboard == "punctuality"
                        ? new { selections = new { ports = new { members = new[] { new[] { "FEN" }, ["SKE"] } } } }
                        : new { };
                var response = await client.PostAsJsonAsync($"api/dashboards/{dashboard}/tiles/{tile}/explanation", asked);
                response.StatusCode.ShouldBe(HttpStatusCode.OK);
                yield return (tile, await response.Content.ReadAsStringAsync());
            }
        }
    }

    private static async IAsyncEnumerable<(string, string)> Listen(HttpClient client, string account)
    {
        using var response = await client.GetAsync("api/events", HttpCompletionOption.ResponseHeadersRead);
        using var reader = new StreamReader(await response.Content.ReadAsStreamAsync());
        yield return ("first", $"{await reader.ReadLineAsync()}\n{await reader.ReadLineAsync()}");
    }
}
