using System.Net.Http.Json;
using System.Text.Json;
using Shouldly;
using Weir.Testing;

namespace Weir.Service.Tests;

/// <summary>A real database that goes away, hangs and drops connections: its tiles say so, others stand, and it is all well again without a restart.</summary>
public sealed class TroubledSourceTests
{
    private const string Workspace = "workspace: w\n";

    [Fact]
    public async Task A_database_that_is_down_or_hangs_or_drops_connections_fails_its_tiles_only_and_is_back_by_itself()
    {
        using var server = PostgresServer.Started();
        server.Execute("weir", "CREATE TABLE t (n integer); INSERT INTO t SELECT generate_series(1, 10)");
        using var workspace = Repository.Temp("workspace");
        using var files = Repository.Temp("files");
        files.File("sales/c.csv", "n\n5\n");
        workspace.File("workspace.yaml", Workspace);
        workspace.File(
            "sources/pg.yaml",
            $"source: pg\ntitle: Records\nengine: postgresql\nhost: 127.0.0.1\nport: {server.Port}\ndatabase: weir\nuser: "
                + $"weir\nallow_writing_login: true\nlimits: {{ seconds: 2, at_once: 2 }}\n"
        );
        workspace.File("sources/csv.yaml", "source: csv\nengine: files\nfolder: sales\n");
        foreach (var (name, source, table) in (ReadOnlySpan<(string, string, string)>)[("d", "pg", "t"), ("e", "csv", "c")])
            workspace.File(
                $"datasets/{name}.yaml",
                $"dataset: {name}\nsource: {source}\nfrom: {table}\nfreshness: {{ seconds: 0 }}\nfields:\n  n: {{ column: n, type: "
                    + $"integer }}\nmeasures:\n  total: {{ formula: \"sum(n)\" }}\n"
            );
        workspace.File(
            "dashboards/x.yaml",
            "dashboard: x\ntabs:\n  - tab: one\n    tiles:\n      - { tile: there, picture: number, dataset: d, show: total, place: "
                + "{ column: 0, row: 0, width: 3, height: 2 } }\n      - { tile: here, picture: number, dataset: e, show: total, place: { "
                + "column: 3, row: 0, width: 3, height: 2 } }\n"
        );
        workspace.File("access.yaml", "roles:\n  director: { reads: { d: all, e: all } }\n");
        await using var service = await RunningService.Start(files: files.Path, workspace: workspace.Path);

        async Task Expect(string? code)
        {
            var results = await service.Results("director", "x");
            results["here"].GetProperty("state").GetString().ShouldBe("ready", "the other tile stands");
            var there = results["there"];
            if (code is null)
                there.GetProperty("table").GetProperty("values")[0][0].GetInt64().ShouldBe(55, there.ToString());
            else
            {
                there.GetProperty("state").GetString().ShouldBe("failed");
                there.GetProperty("problem").GetProperty("code").GetString().ShouldBe(code);
                there.GetProperty("problem").GetProperty("remedy").GetString().ShouldNotBeNullOrEmpty();
            }
        }
        await Expect(null);
        server.Kill();
        await Expect("source-unavailable");
        server.Start();
        await Eventually(() => Expect(null));
        server.Hang(true);
        await Expect("time-limit");
        server.Hang(false);
        await Eventually(() => Expect(null));
        // Every connection dropped under the service's feet.
        server.Execute("postgres", "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE application_name = 'weir'");
        await Eventually(() => Expect(null));
    }

    /// <summary>A pooled connection may fail once before it is found out to be dead.</summary>
    private static async Task Eventually(Func<Task> expected)
    {
        for (var i = 0; i < 3; i++)
            try
            {
                await expected();
                return;
            }
            catch (ShouldAssertException) { }
            catch (KeyNotFoundException) { }
            catch (InvalidOperationException) { }
        await expected();
    }
}
