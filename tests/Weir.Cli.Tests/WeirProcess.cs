using System.Diagnostics;
using Weir.Testing;

namespace Weir.Cli.Tests;

/// <summary>Runs the weir command as its users do: as a program of its own.</summary>
/// <param name="home">Where sign-ins are kept.</param>
/// <param name="program">The file to run; what was built if left out.</param>
internal sealed class WeirProcess(string home, string? program = null)
{
    /// <summary>What the program finds in its environment beside what is there.</summary>
    public Dictionary<string, string> Environment { get; } = [];

    /// <summary>The folder that it is started in.</summary>
    public string Folder { get; init; } = Repository.Root;

    /// <summary>The program as it is built for users, and not what lies beside the tests.</summary>
    public static string Program { get; } =
        Path.Combine(
            Repository.Root,
            "src",
            "Weir.Cli",
            Path.GetRelativePath(Path.Combine(Repository.Root, "tests", "Weir.Cli.Tests"), AppContext.BaseDirectory),
            "weir"
        );

    private ProcessStartInfo Info(string[] arguments)
    {
        // A test run in the background of a shell has Ctrl-C ignored, and so would all that it starts.
        var info = new ProcessStartInfo("env")
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            RedirectStandardInput = true,
            WorkingDirectory = Folder,
        };
        info.ArgumentList.Add("--default-signal=INT");
        info.ArgumentList.Add(program ?? Program);
        foreach (var argument in arguments)
            info.ArgumentList.Add(argument);
        info.Environment["XDG_CONFIG_HOME"] = home;
        info.Environment.Remove("WEIR_URL");
        info.Environment.Remove("WEIR_TOKEN");
        foreach (var (name, value) in Environment)
            info.Environment[name] = value;
        return info;
    }

    /// <summary>Runs to the end.</summary>
    public async Task<(int Code, string Out, string Error)> Run(string arguments, string? input = null) =>
        await Run(Split(arguments), input);

    public async Task<(int Code, string Out, string Error)> Run(string[] arguments, string? input = null)
    {
        using var process = Process.Start(Info(arguments))!;
        if (input is not null)
            await process.StandardInput.WriteLineAsync(input);
        process.StandardInput.Close();
        var (output, error) = (process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        await process.WaitForExitAsync();
        return (process.ExitCode, await output, await error);
    }

    /// <summary>Starts a service and waits until it says that it is ready.</summary>
    /// <param name="begun">Told of the process at once.</param>
    public async Task<(Process Process, string Url)> Start(string arguments, Action<Process>? begun = null)
    {
        var process = Process.Start(Info(Split(arguments)))!;
        begun?.Invoke(process);
        var seen = new List<string>();
        while (await process.StandardOutput.ReadLineAsync() is { } line)
        {
            seen.Add(line);
            if (System.Text.RegularExpressions.Regex.Match(line, @"ready at (http://\S+?)\.? ") is { Success: true } match)
            {
                _ = process.StandardOutput.ReadToEndAsync();
                _ = process.StandardError.ReadToEndAsync();
                return (process, match.Groups[1].Value);
            }
        }
        throw new InvalidOperationException(
            $"The service did not start: {string.Join('\n', seen)}\n{await process.StandardError.ReadToEndAsync()}"
        );
    }

    /// <summary>Ends a service as whoever runs it does, so that it takes along what it began: a browser outlives it otherwise.</summary>
    public static async Task End(Process process)
    {
        if (process.HasExited)
            return;
        using (var end = Process.Start("kill", ["-TERM", process.Id.ToString(System.Globalization.CultureInfo.InvariantCulture)]))
            await end.WaitForExitAsync();
        await process.WaitForExitAsync();
    }

    /// <summary>Splits at spaces outside quotation marks.</summary>
    private static string[] Split(string arguments) =>
        [.. System.Text.RegularExpressions.Regex.Matches(arguments, "(?:[^\\s\"]|\"[^\"]*\")+").Select(m => m.Value.Replace("\"", ""))];
}
