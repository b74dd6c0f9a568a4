using System.Text.Json;
using Weir.Core.Definitions;
using Weir.Service.Exports;
using Weir.Service.SignIn;

namespace Weir.Service.Api;

/// <summary>What viewers take along as files.</summary>
internal static class ExportEndpoints
{
    public static void MapExports(this RouteGroupBuilder api)
    {
        api.MapPost("/dashboards/{dashboard}/exports", Export)
            .WithName("export")
            .WithSummary(
                "Tiles, tabs or all of a dashboard as a file, under the rights and in the state of whoever asks; needs the act export. It "
                    + "says what it is: state, whose rows, time of the data, version, address."
            )
            .Produces<JsonExport>(200, "application/json")
            .WithMetadata(new OnlyReads());
        api.MapPost(
                "/dashboards/{dashboard}/exports/coming",
                (string dashboard, FileMaker files) =>
                {
                    files.Expect(dashboard);
                    return Results.NoContent();
                }
            )
            .WithName("exportComing")
            .WithSummary(
                "Says that a file of a dashboard will be wanted in a moment, so that what draws pages is begun already. Needs the act "
                    + "export, as the file will."
            )
            .Produces(204)
            .WithMetadata(new OnlyReads());
        api.MapGet(
                "/files/{progress}",
                (string progress, FilesInProgress all, HttpContext context) =>
                    all.Find(context.Viewer(), progress) is { } found
                        ? new FileProgressInfo(found.Words)
                        : throw new ProblemException(404, "unknown-file", "No such file of yours is being made.")
            )
            .WithName("fileProgress")
            .WithSummary("How far a file is that the viewer waits for, by the name that they gave it as progress.");
    }

    private static Task<IResult> Export(
        string dashboard,
        ExportRequest request,
        string? progress,
        FileMaker files,
        FilesInProgress all,
        HttpContext context
    ) => Send(progress, files, all, context, stop => files.Export(dashboard, request, stop));

    /// <summary>Makes a file for whoever waits for it, who may ask meanwhile how far it is.</summary>
    /// <param name="progress">By what they ask; null for nobody who asks.</param>
    internal static async Task<IResult> Send(
        string? progress,
        FileMaker files,
        FilesInProgress all,
        HttpContext context,
        Func<CancellationToken, Task<ExportedFile>> make
    )
    {
        (files.Progress, var end) = all.Begin(context.Viewer(), progress);
        using (end)
        {
            var file = await make(context.RequestAborted);
            return Results.File(file.Content, file.MediaType, file.Name);
        }
    }
}

/// <summary>How far a file is.</summary>
/// <param name="Words">What is done for it now, a sentence.</param>
public sealed record FileProgressInfo(string Words);

/// <summary>What is wanted as a file.</summary>
/// <param name="Form">csv, xlsx, json, parquet, html, pdf, png, svg or pptx.</param>
/// <param name="Tabs">Only these tabs; all that are not hidden if left out.</param>
/// <param name="Tiles">Only these tiles, in this order; then tabs do not count.</param>
/// <param name="Selections">What is picked, by tile, as for results.</param>
/// <param name="Width">Of pictures, in pixels; of one tile 900, else 1280, if left out.</param>
/// <param name="Height">Of the picture of one tile, in pixels; 560 if left out.</param>
/// <param name="Paper">Of PDF: a4, a4-upright, a3, letter or letter-upright; a4 if left out, which lies.</param>
/// <param name="Detail">How much of it: short, usual or long; usual if left out.</param>
/// <param name="Link">The address of the page that is taken along, behind the host: /d/ and its name, with its state.</param>
public sealed record ExportRequest(
    string Form,
    IReadOnlyList<string>? Tabs = null,
    IReadOnlyList<string>? Tiles = null,
    Dictionary<string, JsonElement>? Selections = null,
    ViewingRequest? Viewing = null,
    int? Width = null,
    int? Height = null,
    string? Paper = null,
    string? Link = null,
    string? Detail = null
)
{
    internal bool IsLong => Detail == Report.Long;

    /// <exception cref="ProblemException">A form, a size or a paper is none.</exception>
    internal void Check()
    {
        if (!ExportForms.All.Contains(Form))
            throw new ProblemException(
                422,
                "unknown-form",
                $"There is no form {ProblemException.Short(Form ?? "")}.",
                $"Take one of {string.Join(", ", ExportForms.All)}."
            );
        if (Detail is not null && !Report.Details.Contains(Detail))
            throw new ProblemException(
                422,
                "unknown-detail",
                $"There is no detail {ProblemException.Short(Detail)}.",
                $"Take one of {string.Join(", ", Report.Details)}."
            );
        if (Width is < 200 or > 4000 || Height is < 120 or > 4000)
            throw new ProblemException(422, "bad-size", "A picture is 200 to 4,000 pixels wide and 120 to 4,000 high.");
        if (Paper is not null && !ExportForms.Papers.ContainsKey(Paper))
            throw new ProblemException(
                422,
                "unknown-paper",
                $"There is no paper {ProblemException.Short(Paper)}.",
                $"Take one of {string.Join(", ", ExportForms.Papers.Keys)}."
            );
    }
}

/// <summary>The forms that files have.</summary>
public static class ExportForms
{
    /// <summary>Their names, which are endings of files.</summary>
    public static IReadOnlyList<string> All { get; } = [.. Report.Forms, "svg"];

    /// <summary>Width and height in inches.</summary>
    public static IReadOnlyDictionary<string, (double Width, double Height)> Papers { get; } =
        new Dictionary<string, (double, double)>
        {
            ["a4"] = (11.69, 8.27),
            ["a4-upright"] = (8.27, 11.69),
            ["a3"] = (16.54, 11.69),
            ["letter"] = (11, 8.5),
            ["letter-upright"] = (8.5, 11),
        };

    internal static bool NeedsBrowser(string form) => form is "pdf" or "png" or "svg" or "pptx";
}
