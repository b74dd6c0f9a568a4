using Shouldly;
using Weir.Demo;
using Weir.Store;
using Weir.Testing;

namespace Weir.Cli.Tests;

/// <summary>Pictures are drawn by whichever browser the machine has.</summary>
public sealed class BrowserTests : IDisposable
{
    private readonly TempFolder _folder = Repository.Temp();

    public void Dispose() => _folder.Dispose();

    private static string Found(string program) =>
        (Environment.GetEnvironmentVariable("PATH") ?? "")
            .Split(Path.PathSeparator)
            .Select(folder => Path.Combine(folder, program))
            .First(File.Exists);

    [Fact]
    public async Task A_machine_without_a_browser_is_told_what_it_lacks_and_one_with_windows_draws_as_well()
    {
        // A path that is too long for a socket, which browsers open among their temporary files.
        var (data, programs) = (Path.Combine(_folder.Path, new string('d', 120)), Path.Combine(_folder.Path, "programs"));
        DemoAccounts.Ensure(new Users(StoreDatabase.Open(data)));
        Directory.CreateDirectory(programs);
        File.CreateSymbolicLink(Path.Combine(programs, "dotnet"), Found("dotnet"));
        var weir = new WeirProcess(Path.Combine(_folder.Path, "home")) { Environment = { ["PATH"] = programs } };
        var (process, url) = await weir.Start(
            $"serve --data {data} --workspace {Repository.DemoWorkspace} --files {Repository.DemoFiles()} --port 0"
        );
        try
        {
            (await weir.Run($"sign-in {url} --name director --password-stdin", "director-lantern")).Code.ShouldBe(0);
            var png = Path.Combine(_folder.Path, "sold.png");
            Task<(int Code, string Out, string Error)> Drawn() => weir.Run($"export tickets --tile sold-by-week --output {png}");
            var (code, _, error) = await Drawn();
            code.ShouldNotBe(0);
            error.ShouldContain("This service has no browser to draw pictures and pages with. (no-browser)");
            error.ShouldContain("chromium-driver");
            File.Exists(png).ShouldBeFalse();
            (await weir.Run("export tickets --tile routes --as-file csv --output -")).Code.ShouldBe(0);

            // Installed while the service runs.
            var used = Path.Combine(_folder.Path, "used");
            foreach (var program in new[] { "chromium", "chromedriver" })
            {
                var wrapper = Path.Combine(programs, program);
                await File.WriteAllTextAsync(
                    wrapper,
                    $"#!/bin/sh\nPATH={Environment.GetEnvironmentVariable("PATH")}\necho {program} >> {used}\nexec {Found(program)} \"$@\"\n",
                    TestContext.Current.CancellationToken
                );
                if (!OperatingSystem.IsWindows())
                    File.SetUnixFileMode(wrapper, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
            }
            (code, _, error) = await Drawn();
            code.ShouldBe(0, error);
            (await File.ReadAllBytesAsync(png, TestContext.Current.CancellationToken)).AsSpan(1, 3).ToArray().ShouldBe("PNG"u8.ToArray());
            (await File.ReadAllLinesAsync(used, TestContext.Current.CancellationToken)).ShouldContain("chromium");
        }
        finally
        {
            await WeirProcess.End(process);
        }
    }
}
