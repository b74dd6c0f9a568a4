using System.CommandLine;
using Weir.Core.Definitions;
using Weir.Service.Api;

namespace Weir.Commands;

/// <summary>weir export: tiles, tabs or all of a dashboard as a file.</summary>
internal static class ExportCommand
{
    public static Command Create()
    {
        var dashboard = new Argument<string>("DASHBOARD") { Description = "The dashboard's name." };
        var form = new Option<string>("--as-file")
        {
            Description = "The form of the file; the ending of --output says it if left out, else pdf.",
        };
        form.AcceptOnlyFromAmong([.. ExportForms.All]);
        var (tabs, tiles) = (TabsOption(), TilesOption());
        var output = OutputOption();
        var paper = new Option<string?>("--paper") { Description = "The paper of a PDF; a4 if left out, which lies." };
        paper.AcceptOnlyFromAmong([.. ExportForms.Papers.Keys]);
        var detail = DetailOption("usual if left out");
        var width = new Option<int?>("--width") { Description = "How wide a picture is, in pixels." };
        var height = new Option<int?>("--height") { Description = "How high the picture of one tile is, in pixels." };
        var state = new StateOptions();
        var command = new Command("export", "Take tiles, tabs or all of a dashboard along as a file, in a state of your choice.")
        {
            dashboard,
            form,
            tabs,
            tiles,
            output,
            paper,
            detail,
            width,
            height,
        };
        state.AddTo(command);
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var path = $"api/dashboards/{Uri.EscapeDataString(parsed.GetValue(dashboard)!)}";
                var to = parsed.GetValue(output);
                var (_, picks, viewing) = await state.Open(parsed, path, client, cancellation);
                var request = new ExportRequest(
                    parsed.GetValue(form) ?? FormOf(to),
                    parsed.GetValue(tabs) is { Length: > 0 } some ? some : null,
                    parsed.GetValue(tiles) is { Length: > 0 } few ? few : null,
                    picks,
                    viewing,
                    parsed.GetValue(width),
                    parsed.GetValue(height),
                    parsed.GetValue(paper),
                    Detail: parsed.GetValue(detail)
                );
                return await Write(client, $"{path}/exports", request, to, cancellation);
            }
        );
        return command;
    }

    /// <summary>The option --tab.</summary>
    public static Option<string[]> TabsOption() => new("--tab") { Description = "Only this tab. May be given several times." };

    /// <summary>The option --tile.</summary>
    public static Option<string[]> TilesOption() => new("--tile") { Description = "Only this tile. May be given several times." };

    /// <summary>The option --output.</summary>
    public static Option<string?> OutputOption() =>
        new("--output")
        {
            Description = "The file to write, or - for the standard output; named after what it has and the day if left out.",
        };

    /// <summary>The option --detail.</summary>
    /// <param name="otherwise">How much there is where it is left out.</param>
    public static Option<string?> DetailOption(string otherwise)
    {
        var option = new Option<string?>("--detail")
        {
            Description =
                $"How much of it: short, with the first lines of tables; usual; long, with the figures behind pictures and what they mean; {otherwise}.",
        };
        option.AcceptOnlyFromAmong([.. Report.Details]);
        return option;
    }

    /// <summary>Has the service make a file and writes it. Whoever waits before a screen is told how far it is.</summary>
    public static async Task<int> Write(Client client, string path, object request, string? to, CancellationToken cancellation)
    {
        var (name, content) = Console.IsErrorRedirected
            ? await client.File(path, request, cancellation)
            : await Watched(client, path, request, cancellation);
        await using (content)
        {
            if (to == "-")
            {
                await using var standard = Console.OpenStandardOutput();
                await content.CopyToAsync(standard, cancellation);
                return ExitCode.Yes;
            }
            await Write(to ?? name, content, cancellation);
        }
        Console.WriteLine($"Wrote {to ?? name}.");
        return ExitCode.Yes;
    }

    private static async Task<(string Name, Stream Content)> Watched(
        Client client,
        string path,
        object request,
        CancellationToken cancellation
    )
    {
        var progress = Guid.NewGuid().ToString("N");
        var file = client.File($"{path}?progress={progress}", request, cancellation);
        var shown = 0;
        while (await Task.WhenAny(file, Task.Delay(400, cancellation)) != file)
            try
            {
                Show((await client.Get<FileProgressInfo>($"api/files/{progress}", cancellation)).Words);
            }
            catch (Refusal)
            {
                // It is not begun, or done: the file itself says what is wrong.
            }
        Show("");
        return await file;

        void Show(string words)
        {
            Console.Error.Write($"\r{words.PadRight(shown)}{(words.Length == 0 ? "\r" : "")}");
            shown = words.Length;
        }
    }

    private static string FormOf(string? file) =>
        Path.GetExtension(file ?? "").TrimStart('.').ToLowerInvariant() switch
        {
            // Of several tiles there are several files of text.
            "zip" => "csv",
            "" => "pdf",
            var ending when ExportForms.All.Contains(ending) => ending,
            var ending => throw new Refusal(
                $"No file ends with .{ending}.",
                $"Name the form with --as-file, one of {string.Join(", ", ExportForms.All)}.",
                ExitCode.Usage
            ),
        };

    /// <summary>A file that is there whole or not at all.</summary>
    private static async Task Write(string file, Stream content, CancellationToken cancellation)
    {
        var part = $"{file}.part";
        try
        {
            await using (var written = new FileStream(part, FileMode.Create, FileAccess.Write))
                await content.CopyToAsync(written, cancellation);
            File.Move(part, file, overwrite: true);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new Refusal($"{file} can't be written: {e.Message}", "Name another file with --output.");
        }
        finally
        {
            if (File.Exists(part))
                File.Delete(part);
        }
    }
}
