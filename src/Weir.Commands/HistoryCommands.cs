using System.CommandLine;
using System.Globalization;
using DiffPlex;
using DiffPlex.DiffBuilder;
using DiffPlex.DiffBuilder.Model;
using Spectre.Console;
using Weir.Core.Definitions;
using Weir.Service.Api;
using Weir.Service.Publishing;

namespace Weir.Commands;

/// <summary>weir history, weir diff and weir restore: what was published, what differs, and what was there before.</summary>
internal static class HistoryCommands
{
    /// <summary>So many lines that are the same stand around those that are not.</summary>
    private const int Around = 3;

    public static Command History()
    {
        var file = new Option<string?>("--file")
        {
            Description = "Only versions in which this file changed, such as dashboards/network.yaml.",
        };
        var before = new Option<long?>("--before") { Description = "Only versions before this one: 50 are listed at once." };
        var command = new Command("history", "List the published versions: when, by whom, why, and which files changed.") { file, before };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var versions = await client.Get<List<VersionLine>>(
                    parsed.GetValue(before) is { } b ? $"api/versions?before={b}" : "api/versions",
                    cancellation
                );
                var shown = versions.Where(v => parsed.GetValue(file) is not { } f || v.Files.Contains(f)).ToList();
                if (shown.Count == 0)
                    Console.WriteLine("No version.");
                foreach (var v in shown)
                {
                    var at = DateTime.Parse(v.Published, CultureInfo.InvariantCulture, DateTimeStyles.RoundtripKind);
                    Console.WriteLine($"{v.Number, 5}  {at:yyyy-MM-dd HH:mm} UTC  {v.By}{(v.Why.Length > 0 ? $": {v.Why}" : "")}");
                    Console.WriteLine(
                        "       "
                            + (
                                v.Files.Count == 0 ? "the same files again"
                                : v.Files.Count > 4 ? $"{string.Join(", ", v.Files.Take(4))} and {v.Files.Count - 4} more"
                                : string.Join(", ", v.Files)
                            )
                    );
                }
                if (versions.Count > 0 && versions[^1].Number > 1)
                    Console.WriteLine($"Earlier ones: weir history --before {versions[^1].Number}");
                return ExitCode.Yes;
            }
        );
        return command;
    }

    public static Command Diff()
    {
        var from = new Argument<long?>("FROM")
        {
            Description = "A version; the published one if left out.",
            Arity = ArgumentArity.ZeroOrOne,
        };
        var to = new Argument<long?>("TO")
        {
            Description = "Another version; the published one if left out.",
            Arity = ArgumentArity.ZeroOrOne,
        };
        var dir = new Option<string?>("--dir") { Description = "Hold a folder of definitions against the version FROM." };
        var command = new Command(
            "diff",
            "Show line by line what differs between two versions, or a version and a folder; ends with 1 if anything does."
        )
        {
            from,
            to,
            dir,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                if (parsed.GetValue(dir) is not null && parsed.GetValue(to) is not null)
                    throw new Refusal("A folder is held against one version: leave TO out.", exitCode: ExitCode.Usage);
                if (parsed.GetValue(dir) is null && parsed.GetValue(from) is null)
                    throw new Refusal("Say a version, or a folder with --dir.", "weir history lists the versions.", ExitCode.Usage);
                if (parsed.GetValue(dir) is { } folder && !Directory.Exists(folder))
                    throw new Refusal($"There is no folder {folder}.", exitCode: ExitCode.Usage);
                using var client = Client.SignedIn();
                Task<DefinitionFiles> Version(long? number) =>
                    client.Get<DefinitionFiles>(number is { } n ? $"api/versions/{n}" : "api/definitions", cancellation);
                var before = (await Version(parsed.GetValue(from))).Files;
                var after = parsed.GetValue(dir) is { } d ? WorkspaceFolder.Read(d) : (await Version(parsed.GetValue(to))).Files;
                var changed = before.Keys.Union(after.Keys).Where(p => before.GetValueOrDefault(p) != after.GetValueOrDefault(p)).ToList();
                foreach (var path in changed.Order(StringComparer.Ordinal))
                    Show(path, before.GetValueOrDefault(path), after.GetValueOrDefault(path));
                if (changed.Count == 0)
                    Console.WriteLine("No difference.");
                return changed.Count == 0 ? ExitCode.Yes : ExitCode.No;
            }
        );
        return command;
    }

    public static Command Restore()
    {
        var number = new Argument<long>("VERSION") { Description = "The version that is to be served again." };
        var message = Message();
        var command = new Command("restore", "Publish what an earlier version was as a new one; nothing of the history is lost.")
        {
            number,
            message,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var version = parsed.GetValue(number);
                var answer = await client.Send<DefinitionsAnswer>(
                    HttpMethod.Post,
                    $"api/versions/{version}/restore",
                    new Reason(parsed.GetValue(message)),
                    cancellation
                );
                foreach (var f in answer.Faults)
                    Console.WriteLine(
                        $"{f.File}:{f.Line}:{f.Column}: {f.Severity} {f.Code}: {f.Message}{(f.Remedy is null ? "" : " " + f.Remedy)}"
                    );
                Console.WriteLine(
                    answer.Accepted
                        ? $"What version {version} was is published as version {answer.Version}."
                        : "Nothing was published: this release takes that version for broken."
                );
                return answer.Accepted ? ExitCode.Yes : ExitCode.No;
            }
        );
        return command;
    }

    /// <summary>The sentence for the history.</summary>
    public static Option<string?> Message() => new("--message", "-m") { Description = "A sentence why, for the history." };

    /// <summary>The lines of one file that differ, with some around them.</summary>
    public static void Show(string path, string? before, string? after)
    {
        AnsiConsole.MarkupLineInterpolated($"[bold]{path}[/]{(before is null ? " is new" : after is null ? " is gone" : "")}");
        // Images and maps are told of and not shown.
        if (Attachments.Holds(path))
            return;
        var lines = new InlineDiffBuilder(new Differ()).BuildDiffModel(before ?? "", after ?? "", ignoreWhitespace: false).Lines;
        var shown = new bool[lines.Count];
        for (var i = 0; i < lines.Count; i++)
            if (lines[i].Type != ChangeType.Unchanged)
                for (var j = Math.Max(0, i - Around); j <= Math.Min(lines.Count - 1, i + Around); j++)
                    shown[j] = true;
        for (var i = 0; i < lines.Count; i++)
        {
            if (!shown[i])
                continue;
            if (i > 0 && !shown[i - 1])
                AnsiConsole.MarkupLineInterpolated($"[grey]  …[/]");
            var text = lines[i].Text;
            if (lines[i].Type == ChangeType.Inserted)
                AnsiConsole.MarkupLineInterpolated($"[green]+ {text}[/]");
            else if (lines[i].Type == ChangeType.Deleted)
                AnsiConsole.MarkupLineInterpolated($"[red]- {text}[/]");
            else
                AnsiConsole.MarkupLineInterpolated($"  {text}");
        }
    }
}
