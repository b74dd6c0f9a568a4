using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Weir.Demo;
using Weir.Service;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;
using Weir.Store;
using Weir.Testing;

namespace Weir.Service.Tests;

/// <summary>The service on a free loopback port, with the demo's data, workspace and accounts.</summary>
public sealed class RunningService : IAsyncDisposable
{
    private readonly WebApplication _app;
    private readonly TempFolder _data;
    private readonly Dictionary<string, HttpClient> _clients = [];

    private RunningService(WebApplication app, TempFolder data)
    {
        _app = app;
        _data = data;
        Url = app.Urls.First();
    }

    public string Url { get; }

    public IServiceProvider Services => _app.Services;

    public static async Task<RunningService> Start(
        string? files = null,
        string? workspace = null,
        bool watch = false,
        TimeProvider? clock = null,
        Dictionary<string, string>? secrets = null,
        Func<ServiceOptions, ServiceOptions>? change = null
    )
    {
        var data = Repository.Temp("service");
        DemoAccounts.Ensure(new Users(StoreDatabase.Open(data.Path)));
        foreach (var (name, secret) in secrets ?? [])
            data.File(Path.Combine("secrets", name), secret);
        var options = new ServiceOptions
        {
            DataFolder = data.Path,
            FilesFolder = files ?? Repository.DemoFiles(),
            WorkspaceFolder = workspace ?? Patient(data),
            Watch = watch,
            Port = 0,
            Quiet = true,
            Clock = clock ?? TimeProvider.System,
        };
        var app = WeirService.Build(change?.Invoke(options) ?? options);
        await app.StartAsync();
        return new RunningService(app, data);
    }

    /// <summary>The demo's definitions with time enough for a source on a slow machine.</summary>
    private static string Patient(TempFolder data)
    {
        var definitions = Path.Combine(data.Path, "definitions");
        Repository.CopyDemo(definitions, (_, text) => Repository.Patient(text));
        return definitions;
    }

    /// <summary>A client that is signed in by a token; null for nobody.</summary>
    public HttpClient As(string? account)
    {
        if (_clients.TryGetValue(account ?? "", out var known))
            return known;
        var client = new HttpClient(new SocketsHttpHandler { Expect100ContinueTimeout = Timeout.InfiniteTimeSpan })
        {
            BaseAddress = new Uri(Url),
            Timeout = TimeSpan.FromMinutes(15),
        };
        if (account is not null)
            client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
                "Bearer",
                Services.GetRequiredService<Tokens>().Create(account, "test", TimeSpan.FromDays(30)).Secret
            );
        return _clients[account ?? ""] = client;
    }

    /// <summary>The results of a dashboard by tile.</summary>
    public async Task<Dictionary<string, JsonElement>> Results(
        string account,
        string dashboard,
        object? selections = null,
        string[]? tiles = null,
        object? viewing = null
    )
    {
        var response = await As(account)
            .PostAsJsonAsync(
                $"api/dashboards/{dashboard}/results",
                new
                {
                    tiles,
                    selections,
                    viewing,
                }
            );
        var text = await response.Content.ReadAsStringAsync();
        if (!response.IsSuccessStatusCode)
            throw new InvalidOperationException(text);
        return text.Split('\n', StringSplitOptions.RemoveEmptyEntries)
            .Select(l => JsonDocument.Parse(l).RootElement)
            .ToDictionary(r => r.GetProperty("tile").GetString()!);
    }

    public async ValueTask DisposeAsync()
    {
        foreach (var client in _clients.Values)
            client.Dispose();
        await _app.StopAsync();
        await _app.DisposeAsync();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        _data.Dispose();
    }
}

/// <summary>One service for all tests that change nothing which others see.</summary>
public sealed class SharedService : IAsyncLifetime
{
    public RunningService Service { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Service = await RunningService.Start();

    public ValueTask DisposeAsync() => Service.DisposeAsync();
}
