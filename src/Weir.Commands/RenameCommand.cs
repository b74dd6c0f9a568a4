using System.CommandLine;
using Weir.Service.Api;

namespace Weir.Commands;

/// <summary>weir rename: another name for something, wherever it is named.</summary>
internal static class RenameCommand
{
    public static Command Create()
    {
        var kind = new Argument<string>("KIND") { Description = "field, measure, dataset or dashboard." };
        kind.AcceptOnlyFromAmong("field", "measure", "dataset", "dashboard");
        var from = new Argument<string>("NAME") { Description = "What it is called; a field or measure as dataset.name." };
        var to = new Argument<string>("NEW") { Description = "What it is to be called; of a field or measure without the dataset." };
        var publish = new Option<bool>("--publish") { Description = "Do it. Without it, what would change is shown and nothing is done." };
        var keep = new Option<bool>("--keep-title")
        {
            Description = "Write out the title that viewers read, where it was made from the name.",
        };
        var message = HistoryCommands.Message();
        var command = new Command(
            "rename",
            "Show what changes if something gets another name wherever it is named, or do it: definitions, opening views and viewers' own views."
        )
        {
            kind,
            from,
            to,
            publish,
            keep,
            message,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                var isMember = parsed.GetValue(kind) is "field" or "measure";
                var name = parsed.GetValue(from)!.Split('.', 2);
                if (isMember != (name.Length == 2))
                    throw new Refusal(
                        isMember ? "Say of which dataset it is: dataset.name." : $"A {parsed.GetValue(kind)} has a name without dots.",
                        exitCode: ExitCode.Usage
                    );
                using var client = Client.SignedIn();
                var request = new RenameRequest(
                    parsed.GetValue(kind),
                    name[^1],
                    parsed.GetValue(to),
                    isMember ? name[0] : null,
                    parsed.GetValue(keep)
                );
                var preview = await client.Send<RenamePreview>(HttpMethod.Post, "api/renames/preview", request, cancellation);
                Show(preview);
                if (!parsed.GetValue(publish))
                {
                    Console.WriteLine("Nothing was changed: add --publish to do it.");
                    return ExitCode.Yes;
                }
                var answer = await client.Send<DefinitionsAnswer>(
                    HttpMethod.Post,
                    "api/renames",
                    request with
                    {
                        Version = preview.Version,
                        Why = parsed.GetValue(message),
                    },
                    cancellation
                );
                Console.WriteLine($"It is called {request.To} from version {answer.Version} on.");
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static void Show(RenamePreview preview)
    {
        foreach (var file in preview.Files)
        {
            if (file.Path != file.Was)
                Console.WriteLine($"{file.Was} becomes {file.Path}");
            HistoryCommands.Show(file.Path, file.Before, file.After);
        }
        foreach (var f in preview.Warnings)
            Console.WriteLine(
                $"{f.File}:{f.Line}:{f.Column}: {f.Severity} {f.Code}: {f.Message}{(f.Remedy is null ? "" : " " + f.Remedy)}"
            );
        var places = preview.Files.Sum(f => f.Places);
        Console.WriteLine(
            $"{places} place{(places == 1 ? "" : "s")} in {preview.Files.Count} file{(preview.Files.Count == 1 ? "" : "s")}, and "
                + (
                    preview.Views == 0 ? "in no view of a viewer."
                    : preview.Views == 1 ? "in a view of a viewer."
                    : $"in {preview.Views} views of viewers."
                )
        );
    }
}
