using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Shouldly;
using Weir.Core.Access;
using Weir.Service.Tests;
using Weir.Store;
using Weir.Testing;

namespace Weir.Attack.Tests;

/// <summary>The service with a small workspace of one's own over a SQLite file of a few sales, attacked through its API.</summary>
internal sealed class Attacked : IAsyncDisposable
{
    public const string Sales = """
        dataset: sales
        source: shop
        from: sale
        filter: "amount >= param.least AND port in param.ports"
        parameters:
          least: { type: decimal, opening: 0 }
          ports: { type: text, many: true, optional: true, choices: { field: port } }
        fields:
          port: { column: port }
          kind: { column: kind, colours: { A: "#112233", Z: "#445566" } }
          amount: { column: amount, type: decimal }
        measures:
          sales: { formula: "count(*)" }
          sum: { formula: "sum(amount)" }
        """;

    private const string Access = """
        roles:
          all: { reads: { sales: { detail: true } }, may: [look-as] }
          counter: { reads: { sales: { hides: [amount, port] } } }
          port: { reads: { sales: { where: "port in user.ports" } } }
          maker: { reads: { sales: all }, may: [define, publish] }
        """;

    private const string Dashboard = """
        dashboard: shop
        tabs:
          - tab: one
            tiles:
              - tile: by-kind
                picture: bar
                dataset: sales
                show: sales
                by: kind
                place: { column: 0, row: 0, width: 6, height: 4 }
        """;

    private Attacked(RunningService service, TempFolder files, TempFolder workspace)
    {
        Service = service;
        Files = files;
        Workspace = workspace;
    }

    public RunningService Service { get; }

    public TempFolder Files { get; }

    public TempFolder Workspace { get; }

    public static async Task<Attacked> Start(
        Action<TempFolder>? more = null,
        bool watch = false,
        Dictionary<string, string>? secrets = null,
        Func<Weir.Service.ServiceOptions, Weir.Service.ServiceOptions>? change = null
    )
    {
        var (files, workspace) = (Repository.Temp("files"), Repository.Temp("workspace"));
        using (var connection = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={files.File("shop.sqlite")};Pooling=false"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText =
                "CREATE TABLE sale (port TEXT, kind TEXT, amount DECIMAL(10, 2)); INSERT INTO sale VALUES ('SKE', 'A', 10.25), ('SKE', "
                + "'B', 20.5), ('FEN', 'Z', 33.75), ('FEN', 'A', 1)";
            command.ExecuteNonQuery();
        }
        workspace.File("workspace.yaml", "workspace: w\n");
        workspace.File("access.yaml", Access);
        workspace.File("sources/shop.yaml", "source: shop\nengine: sqlite\nfile: shop.sqlite\nlimits: { seconds: 5, memory_mb: 160 }\n");
        workspace.File("sources/lab.yaml", "source: lab\nengine: duckdb\nfile: lab.duckdb\nlimits: { seconds: 5, memory_mb: 160 }\n");
        workspace.File("datasets/sales.yaml", Sales);
        workspace.File("dashboards/shop.yaml", Dashboard);
        using (var lab = new DuckDB.NET.Data.DuckDBConnection($"Data Source={files.File("lab.duckdb")}"))
        {
            lab.Open();
            using var command = lab.CreateCommand();
            command.CommandText = "CREATE TABLE t AS SELECT 1 AS a";
            command.ExecuteNonQuery();
        }
        more?.Invoke(workspace);
        var service = await RunningService.Start(files.Path, workspace.Path, watch, secrets: secrets, change: change);
        var users = (Users)service.Services.GetService(typeof(Users))!;
        foreach (var role in new[] { "all", "counter", "port", "maker" })
            users.Put(
                new Viewer(role, role, [role], new Dictionary<string, IReadOnlyList<string>> { ["ports"] = ["SKE"] }),
                $"{role}-password"
            );
        users.Put(new Viewer("nobody", "nobody", [], new Dictionary<string, IReadOnlyList<string>>()), "nobody-password");
        return new Attacked(service, files, workspace);
    }

    /// <summary>Sends a request and reads what comes back; null for a body that is no JSON.</summary>
    public async Task<(HttpStatusCode Status, JsonElement Body, string Text)> Send(
        string? account,
        HttpMethod method,
        string path,
        object? body = null,
        string? lookAs = null
    )
    {
        using var request = new HttpRequestMessage(method, path)
        {
            Content =
                body is null ? null
                : body is string text ? new StringContent(text, System.Text.Encoding.UTF8, "application/json")
                : JsonContent.Create(body),
        };
        if (lookAs is not null)
            request.Headers.Add("Weir-Look-As", lookAs);
        using var response = await Service.As(account).SendAsync(request);
        var answer = await response.Content.ReadAsStringAsync();
        try
        {
            return (response.StatusCode, JsonDocument.Parse(answer).RootElement, answer);
        }
        catch (JsonException)
        {
            return (response.StatusCode, default, answer);
        }
    }

    public Task<(HttpStatusCode Status, JsonElement Body, string Text)> Post(
        string? account,
        string path,
        object body,
        string? lookAs = null
    ) => Send(account, HttpMethod.Post, path, body, lookAs);

    /// <summary>Previews a dataset over a query as its maker.</summary>
    public Task<(HttpStatusCode Status, JsonElement Body, string Text)> Preview(string source, string query) =>
        Post(
            "maker",
            "api/datasets/preview",
            new
            {
                text = $"dataset: d\nsource: {source}\nquery: {JsonSerializer.Serialize(query)}\nfields:\n  a: {{ column: a }}\n",
                rows = 10,
            }
        );

    public static IEnumerable<string> Codes(JsonElement body) =>
        body.GetProperty("faults").EnumerateArray().Select(f => f.GetProperty("code").GetString()!);

    public async ValueTask DisposeAsync()
    {
        await Service.DisposeAsync();
        Files.Dispose();
        Workspace.Dispose();
    }
}
