using System.CommandLine;
using Weir.Core;
using Weir.Core.Definitions;
using Weir.Service;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Commands;

/// <summary>weir publish and weir fetch: a folder of definitions to the service and back.</summary>
internal static class DefinitionCommands
{
    public static Command Publish()
    {
        var folder = new Argument<string>("DIR") { Description = "The folder of definitions.", DefaultValueFactory = _ => "." };
        var replace = new Option<bool>("--replace") { Description = "Publish the folder as it is, whatever others published meanwhile." };
        var message = HistoryCommands.Message();
        var to = new Option<string?>("--to")
        {
            Description = "Publish at another service that you are signed in to; its own sources stay.",
        };
        var sources = new Option<string[]>("--source")
        {
            Description = "With --to: FROM=THERE, the source there that stands for one of the folder. As often as needed.",
            DefaultValueFactory = _ => [],
        };
        var keep = new Option<string[]>("--keep")
        {
            Description = "With --to: a file that stays as it is there, such as access.yaml. As often as needed.",
            DefaultValueFactory = _ => [],
        };
        var command = new Command(
            "publish",
            "Check a folder of definitions and publish it; a broken one changes nothing. What others published meanwhile stays where it is another file."
        )
        {
            folder,
            replace,
            message,
            to,
            sources,
            keep,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                var dir = parsed.GetValue(folder)!;
                if (!Directory.Exists(dir))
                    throw new Refusal($"There is no folder {dir}.", exitCode: ExitCode.Usage);
                var elsewhere = parsed.GetValue(to);
                if (elsewhere is null && parsed.GetValue(sources)!.Length + parsed.GetValue(keep)!.Length > 0)
                    throw new Refusal("--source and --keep go with --to.", exitCode: ExitCode.Usage);
                using var client = elsewhere is null ? Client.SignedIn() : Client.SignedInTo(elsewhere);
                var files = WorkspaceFolder.Read(dir).ToDictionary();
                if (elsewhere is not null)
                    files = Promotion
                        .Of(parsed.GetValue(sources)!, parsed.GetValue(keep)!)
                        .Files(files, await Promotion.PublishedAt(client, cancellation));
                var answer = await client.Send<DefinitionsAnswer>(
                    HttpMethod.Put,
                    "api/definitions",
                    new DefinitionsRequest(
                        files,
                        elsewhere is null ? MadeFrom(dir, client.Address) : null,
                        parsed.GetValue(replace),
                        parsed.GetValue(message)
                    ),
                    cancellation
                );
                Tell(answer, $"{files.Count} files are published{(elsewhere is null ? "" : $" at {client.Address}")}");
                // Files that others published are not in the folder: it is still made from the version before.
                if (elsewhere is null && answer.Accepted && answer.Kept is not { Count: > 0 })
                    NoteMadeFrom(dir, client.Address, answer.Version!.Value);
                return answer.Accepted ? ExitCode.Yes : ExitCode.No;
            }
        );
        return command;
    }

    /// <param name="published">What was, if anything was.</param>
    private static void Tell(DefinitionsAnswer answer, string published)
    {
        foreach (var f in answer.Faults)
            Console.WriteLine(
                $"{f.File}:{f.Line}:{f.Column}: {f.Severity} {f.Code}: {f.Message}{(f.Remedy is null ? "" : " " + f.Remedy)}"
            );
        Console.WriteLine(answer.Accepted ? $"{published} as version {answer.Version}." : "Nothing was published: mend the errors first.");
        foreach (var beside in answer.Beside ?? [])
            Console.WriteLine(beside);
        foreach (var path in answer.Kept ?? [])
            Console.WriteLine($"{path} stays as others published it meanwhile; weir fetch --overwrite brings it.");
    }

    public static Command Fetch()
    {
        var folder = new Argument<string>("DIR") { Description = "The folder to write to; made if it is not there." };
        var overwrite = new Option<bool>("--overwrite") { Description = "Replace files that are there already." };
        var command = new Command("fetch", "Write the published definitions into a folder.") { folder, overwrite };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var published = await client.Get<DefinitionFiles>("api/definitions", cancellation);
                var root = Path.GetFullPath(parsed.GetValue(folder)!);
                // A service, or who published there, must not write elsewhere, nor what other programs would take for theirs.
                var targets = published
                    .Files.Where(f => WorkspaceFolder.HasMeaning(f.Key))
                    .ToDictionary(f => f.Key, f => (At: Path.GetFullPath(Path.Combine(root, f.Key)), Text: f.Value));
                if (
                    !parsed.GetValue(overwrite)
                    && targets
                        .FirstOrDefault(t => File.Exists(t.Value.At) && !WorkspaceFolder.IsThere(t.Value.At, t.Key, t.Value.Text))
                        .Value
                        is { At: { } there }
                )
                    throw new Refusal(
                        $"{there} is there already and differs. Nothing was written.",
                        "Fetch into another folder, or add --overwrite."
                    );
                foreach (var (path, (at, text)) in targets)
                    WorkspaceFolder.Write(at, path, text);
                NoteMadeFrom(root, client.Address, published.Version);
                foreach (var path in published.Files.Keys.Where(p => !WorkspaceFolder.HasMeaning(p)))
                    Console.WriteLine($"{path} has no meaning in a workspace and was left out.");
                Console.WriteLine($"{targets.Count} files of version {published.Version} are in {parsed.GetValue(folder)}.");
                return ExitCode.Yes;
            }
        );
        return command;
    }

    /// <summary>The file in a folder of definitions that tells from which version of which service it was made.</summary>
    private const string MarkFile = ".weir-version";

    private static long? MadeFrom(string folder, string service)
    {
        var path = Path.Combine(folder, MarkFile);
        return
            File.Exists(path)
            && File.ReadAllLines(path) is [var address, var number, ..]
            && address == service
            && long.TryParse(number, out var version)
            ? version
            : null;
    }

    private static void NoteMadeFrom(string folder, string service, long version)
    {
        try
        {
            File.WriteAllText(Path.Combine(folder, MarkFile), $"{service}\n{version}\n");
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            // A folder that can't be written: the service remembers what this person published last.
        }
    }
}
