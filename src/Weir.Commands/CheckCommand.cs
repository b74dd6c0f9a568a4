using System.CommandLine;
using System.Text.Json;
using Weir.Core;
using Weir.Core.Definitions;
using Weir.Service;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Commands;

/// <summary>Asks the sources of a workspace whether its definitions fit to them.</summary>
/// <param name="files">The folder in which the files of sources lie.</param>
/// <param name="secrets">The folder in which secret files and certificates lie.</param>
/// <returns>What was found, and how many tiles were asked.</returns>
internal delegate Task<(IReadOnlyList<Fault> Faults, int TilesAsked)> AskSources(
    Workspace workspace,
    string files,
    string secrets,
    CancellationToken cancellation
);

/// <summary>weir check: are the definitions right? With --connect also against the sources.</summary>
internal static class CheckCommand
{
    /// <param name="ask">Carries out --connect; null where the host does, which takes over then.</param>
    public static Command Create(AskSources? ask)
    {
        var folder = new Argument<string>("DIR") { Description = "The folder of definitions.", DefaultValueFactory = _ => "." };
        var connect = new Option<bool>("--connect")
        {
            Description = "Also ask every tile's question and run every access check at the source.",
        };
        var files = new Option<string>("--files")
        {
            Description = "The folder in which the files of sources lie.",
            DefaultValueFactory = _ => Path.Combine(".demo", "files"),
        };
        var secrets = new Option<string>("--secrets")
        {
            Description = "The folder in which secret files and certificates lie.",
            DefaultValueFactory = _ => Path.Combine(".demo", "secrets"),
        };
        var format = Formats.Option("text", "json");
        var command = new Command("check", "Check definitions; every fault with file, line and column.")
        {
            folder,
            connect,
            files,
            secrets,
            format,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                var dir = parsed.GetValue(folder)!;
                if (!Directory.Exists(dir))
                    throw new Refusal($"There is no folder {dir}.", exitCode: ExitCode.Usage);
                if (parsed.GetValue(connect) && ask is null)
                    return Host.TakeOver();
                var (workspace, faults) = WorkspaceText.Read(WorkspaceFolder.Read(dir));
                List<Fault> all = [.. faults];
                var asked = 0;
                if (workspace is not null && parsed.GetValue(connect))
                {
                    var answer = await ask!(workspace, parsed.GetValue(files)!, parsed.GetValue(secrets)!, cancellation);
                    all.AddRange(answer.Faults);
                    asked = answer.TilesAsked;
                }
                Print(all, workspace, parsed.GetValue(connect) ? asked : null, parsed.GetValue(format) == "json");
                return all.Any(f => f.Severity == Severity.Error) ? ExitCode.No : ExitCode.Yes;
            }
        );
        return command;
    }

    private static void Print(List<Fault> faults, Workspace? workspace, int? tilesAsked, bool json)
    {
        if (json)
        {
            Console.WriteLine(
                ClientJson.Text(
                    faults
                        .Select(f => new FaultInfo(
                            f.Severity.ToString().ToLowerInvariant(),
                            f.Code,
                            f.File,
                            f.Line,
                            f.Column,
                            f.Message,
                            f.Remedy
                        ))
                        .ToList()
                )
            );
            return;
        }
        // What is only unused comes last and by count, so that it hides nothing.
        foreach (var fault in faults.Where(f => f.Code != "unused-definition"))
            Console.WriteLine(fault);
        foreach (var unused in faults.Where(f => f.Code == "unused-definition").GroupBy(f => f.File))
            Console.WriteLine(
                unused.Count() == 1
                    ? unused.Single().ToString()
                    : $"{unused.Key}: warning unused-definition: {unused.Count()} definitions are used by nothing, at the lines "
                        + $"{string.Join(", ", unused.Select(f => f.Line).Take(12))}{(unused.Count() > 12 ? " and others" : "")}."
            );
        if (workspace is { Access.GrantsDashboards: false, Dashboards.Count: > 0 })
            Console.WriteLine("No role grants dashboards by name, so each is open to whoever reads one of its datasets.");
        var errors = faults.Count(f => f.Severity == Severity.Error);
        var warnings = faults.Count - errors;
        var counts = workspace is null
            ? ""
            : $"{Count(workspace.Datasets.Count, "dataset")}, {Count(workspace.Dashboards.Count, "dashboard")}, "
                + $"{Count(workspace.Access.Roles.Count, "role")}. ";
        var asked =
            tilesAsked is { } n && workspace is not null
                ? $"{Count(n, "tile")} asked, {Count(workspace.Access.Checks.Count, "access check")} run. "
                : "";
        Console.WriteLine(
            $"{counts}{asked}{(errors == 0 ? "No errors" : errors == 1 ? "1 error" : $"{errors} errors")}"
                + $"{(warnings == 0 ? "" : warnings == 1 ? ", 1 warning" : $", {warnings} warnings")}."
        );
    }

    private static string Count(int n, string noun) => $"{n} {noun}{(n == 1 ? "" : "s")}";
}
