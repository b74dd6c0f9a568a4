using System.Diagnostics;
using System.Text.Json;
using Shouldly;
using Weir.Demo;
using Weir.Store;
using Weir.Testing;

namespace Weir.Cli.Tests;

/// <summary>A run of a report is never lost and never sent twice, also where the service is killed at any moment.</summary>
public sealed class ReportKillTests : IDisposable
{
    private const int Readers = 24;
    private const int Kills = 4;
    private readonly TempFolder _folder = Repository.Temp();

    public void Dispose() => _folder.Dispose();

    /// <summary>How a process was called; empty for one that has ended.</summary>
    private static string CommandLine(string path)
    {
        try
        {
            return File.ReadAllText(path);
        }
        catch (IOException)
        {
            return "";
        }
    }

    private string Workspace()
    {
        var workspace = Path.Combine(_folder.Path, "workspace");
        Repository.CopyDemo(
            workspace,
            (path, text) =>
                path == "access.yaml"
                    ? text
                        + string.Concat(
                            Enumerable
                                .Range(0, Readers)
                                .Select(n =>
                                    $"  r{n}:\n    as: {{ roles: [port-manager], attributes: {{ ports: [{(n % 2 == 0 ? "SKE" : "LAN")}] }} }}\n"
                                    + (n < Readers - 2 ? $"    mail: r{n}@outside.example\n" : $"    folder: r{n}\n")
                                )
                        )
                    : Repository.Patient(text)
        );
        foreach (var report in Directory.EnumerateFiles(Path.Combine(workspace, "reports")))
            File.Delete(report);
        File.WriteAllText(
            Path.Combine(workspace, "reports", "sales.yaml"),
            $"report: sales\ndashboard: tickets\ntiles: [sold, takings]\nform: json\nto: {{ outside: [{string.Join(", ", Enumerable.Range(0, Readers).Select(n => $"r{n}"))}] }}\n"
        );
        return workspace;
    }

    [Fact]
    public async Task A_run_that_is_killed_again_and_again_reaches_everybody_once_or_says_of_whom_it_is_not_known()
    {
        var (data, put) = (Path.Combine(_folder.Path, "data"), Path.Combine(_folder.Path, "put"));
        DemoAccounts.Ensure(new Users(StoreDatabase.Open(data)));
        await using var mail = await MailStandIn.Start();
        var weir = new WeirProcess(Path.Combine(_folder.Path, "home"));
        var start =
            $"serve --data {data} --workspace {Workspace()} --files {Repository.DemoFiles()} --port 0 --mail smtp://127.0.0.1:{mail.Port} --mail-from weir@lantern-isles.example --reports {put}";
        var random = new Random(20261128);
        Process process = null!;
        var (next, kills) = (random.Next(1, 5), 0);
        var killed = new System.Collections.Concurrent.ConcurrentBag<int>();
        void Kill()
        {
            killed.Add(process.Id);
            process.Kill();
        }
        // The service is killed before a message is taken, or while the answer that it was is on its way.
        mail.Answers = async came =>
        {
            if (kills == Kills || --next != 0)
                return 250;
            next = random.Next(1, 5);
            kills++;
            var dying = process;
            Kill();
            if (came.Number % 2 == 0)
                await dying.WaitForExitAsync();
            return came.Number % 3 == 0 ? 451 : 250;
        };
        try
        {
            var (_, url) = await weir.Start(start, p => process = p);
            async Task Again()
            {
                await process.WaitForExitAsync();
                try
                {
                    (_, url) = await weir.Start(start, p => process = p);
                }
                catch (InvalidOperationException) when (killed.Contains(process.Id))
                {
                    // It was killed before it was ready: what waited was handed over at once.
                }
            }
            async Task SignIn() =>
                (await weir.Run($"sign-in {url} --name developer --password-stdin", "developer-lantern")).Code.ShouldBe(0);
            await SignIn();
            var sent = await weir.Run("report send sales");
            sent.Code.ShouldBe(0, sent.Error);
            // At once, while it is planned or made; then in the midst of handing over, several times.
            Kill();
            do await Again();
            while (kills < Kills || killed.Contains(process.Id));
            await SignIn();
            JsonElement run;
            do
            {
                var runs = await weir.Run("report runs sales --format json");
                runs.Code.ShouldBe(0, runs.Error);
                run = JsonDocument.Parse(runs.Out).RootElement.EnumerateArray().ShouldHaveSingleItem();
            } while (!run.TryGetProperty("ended", out _));
            var deliveries = run.GetProperty("deliveries")
                .EnumerateArray()
                .ToLookup(d => d.GetProperty("reader").GetString()!.StartsWith("outside:", StringComparison.Ordinal));
            var states = deliveries[true].ToDictionary(d => d.GetProperty("reader").GetString()!, d => d.GetProperty("state").GetString()!);
            states.Count.ShouldBe(Readers);
            for (var n = 0; n < Readers; n++)
            {
                var state = states[$"outside:r{n}"];
                var came =
                    n < Readers - 2
                        ? mail.Messages.Count(m => m.To.Contains($"r{n}@outside.example"))
                        : Directory.GetFiles(Path.Combine(put, $"r{n}")).Length;
                came.ShouldBeLessThanOrEqualTo(1, $"r{n} got it twice");
                if (state == "sent")
                    came.ShouldBe(1, $"r{n} was to have it");
                else
                    state.ShouldBe("unsure", $"r{n}");
            }
            // Where that is not known of somebody, those who may publish are told: the report names no owner.
            deliveries[false].Any().ShouldBe(states.ContainsValue("unsure"));
            // Each kill leaves one of whom it is not known at most.
            states.Values.Count(s => s == "unsure").ShouldBeLessThanOrEqualTo(Kills);
            states.Values.Count(s => s == "sent").ShouldBeGreaterThanOrEqualTo(Readers - Kills);
        }
        finally
        {
            if (process is not null)
                await WeirProcess.End(process);
            // Neither those that were killed nor the last leave a browser behind.
            Directory
                .GetDirectories("/proc")
                .Select(p => Path.Combine(p, "cmdline"))
                .Where(p => int.TryParse(Path.GetFileName(Path.GetDirectoryName(p)), out _))
                .Count(p => CommandLine(p).Contains(Path.Combine(data, "work"), StringComparison.Ordinal))
                .ShouldBe(0);
        }
    }
}
