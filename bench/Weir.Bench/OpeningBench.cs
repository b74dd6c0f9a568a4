using System.Net.Http.Headers;
using Weir.Core.Access;
using Weir.Store;

/// <summary>Whether opening a dashboard takes longer where the workspace has more datasets than it uses.</summary>
internal sealed class OpeningBench(string root)
{
    /// <summary>The time to open a dashboard over one dataset among three hundred, against one among three.</summary>
    public async Task<double> Run()
    {
        await using var few = await Open(3);
        await using var many = await Open(300);
        return await Measure.Ratio(many.Ask, few.Ask, warmups: 60, runs: 60);
    }

    private async Task<Opened> Open(int datasets)
    {
        var data = Path.Combine(root, ".test", $"bench-opening-{datasets}");
        var workspace = Path.Combine(data, "workspace");
        void Write(string path, string text)
        {
            Directory.CreateDirectory(Path.GetDirectoryName(Path.Combine(workspace, path))!);
            File.WriteAllText(Path.Combine(workspace, path), text);
        }
        Write("workspace.yaml", "workspace: bench\n");
        Write("sources/s.yaml", "source: s\nengine: sqlite\nfile: none.sqlite\n");
        for (var i = 0; i < datasets; i++)
            Write(
                $"datasets/d{i}.yaml",
                $"dataset: d{i}\nsource: s\nfrom: sale\nfields:\n  port: {{ column: port }}\n  area: {{ column: area }}\nmeasures:\n  "
                    + $"sales: {{ formula: \"count(*)\" }}\n"
            );
        Write(
            "dashboards/x.yaml",
            "dashboard: x\ntabs:\n  - tab: one\n    tiles:\n      - { tile: by-port, picture: bar, dataset: d0, show: sales, by: "
                + "port, place: { column: 0, row: 0, width: 6, height: 4 } }\n"
        );
        Write(
            "access.yaml",
            $"roles:\n  one: {{ reads: {{ {string.Join(", ", Enumerable.Range(0, datasets).Select(i => $"d{i}: {{ where: \"area in user.areas\" }}"))} }} }}\n"
        );
        var store = StoreDatabase.Open(data);
        new Users(store).Put(
            new Viewer("one", "One", ["one"], new Dictionary<string, IReadOnlyList<string>> { ["areas"] = ["a"] }),
            "not-used-here",
            loopbackOnly: true
        );
        var (service, url, _) = await Service.Start(root, ["serve", "--data", data, "--workspace", workspace, "--port", "0"]);
        var client = new HttpClient { BaseAddress = new Uri(url) };
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
            "Bearer",
            new Tokens(store, TimeProvider.System).Create("one", "bench", TimeSpan.FromHours(1)).Secret
        );
        return new Opened(service, client);
    }

    private sealed record Opened(Service Service, HttpClient Client) : IAsyncDisposable
    {
        public async Task Ask() => (await Client.GetAsync("api/dashboards/x")).EnsureSuccessStatusCode();

        public async ValueTask DisposeAsync()
        {
            Client.Dispose();
            await Service.DisposeAsync();
        }
    }
}
