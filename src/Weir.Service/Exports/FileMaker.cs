using System.IO.Compression;
using System.Text.Json;
using Microsoft.AspNetCore.Http.Json;
using Microsoft.Extensions.Options;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Results;
using Weir.Service.Api;
using Weir.Service.Asking;

namespace Weir.Service.Exports;

/// <summary>Makes files for whoever asks: of a dashboard in the state of their page, and of reports in the state that is said.</summary>
internal sealed class FileMaker(
    Asker asker,
    Paper paper,
    FileLine line,
    TimeProvider clock,
    Store.Audit audit,
    ILoggerFactory logs,
    IHttpContextAccessor http,
    IOptions<JsonOptions> json
)
{
    /// <summary>More files than anybody opens.</summary>
    private const int MostMembers = 100;

    private string Host => http.HttpContext is { Request: var request } ? $"{request.Scheme}://{request.Host}" : "";

    /// <summary>A dashboard, or some of it, as the viewer has it before them.</summary>
    /// <exception cref="ProblemException">It is not there, or can't be taken along.</exception>
    public async Task<ExportedFile> Export(string dashboard, ExportRequest request, CancellationToken stop)
    {
        Check(request);
        using var turn = await line.Enter(stop);
        var open = asker.Open(dashboard, request.Viewing);
        MustExport(open, dashboard);
        var address = Host + (request.Link is { } link ? Checked(link, dashboard) : $"/d/{Uri.EscapeDataString(dashboard)}");
        var selections = await asker.SelectionsOf(open, request.Selections);
        audit.Write(
            asker.Viewer,
            "export",
            $"{dashboard} {request.Form} {string.Join(' ', request.Tiles ?? request.Tabs ?? [])}".TrimEnd()
        );
        return await Write(await Takeaway.Of(open, request, selections, address, asker, clock, audit, logs), request, stop);
    }

    /// <summary>The reports that the viewer may have made.</summary>
    public IEnumerable<Report> Reports() =>
        asker
            .Live.Workspace.Reports.Values.Where(r =>
                asker.Viewer.May(DashboardActs.Export, r.Dashboard, asker.Live.Workspace)
                && OpenDashboard.IsThereFor(asker.Viewer, asker.Live.Workspace.Dashboards[r.Dashboard], asker.Live)
            )
            .OrderBy(r => r.Title, StringComparer.Ordinal);

    /// <summary>A report under the rights of whoever asks: their rows, and of what it takes as much as they may see.</summary>
    /// <param name="form">Another form than it says; null for its own.</param>
    /// <param name="set">Values of parameters in the place of those that it says.</param>
    /// <exception cref="ProblemException">There is none that the viewer may have, it can't be made, or too many wait.</exception>
    public async Task<ExportedFile> Run(
        string name,
        string? form,
        IReadOnlyDictionary<string, IReadOnlyList<string>>? set,
        CancellationToken stop
    )
    {
        var report =
            Reports().FirstOrDefault(r => r.Name == name)
            ?? throw new ProblemException(
                404,
                "unknown-report",
                $"There is no report {ProblemException.Short(name)}.",
                "GET /api/reports lists those there are."
            );
        using var turn = await line.Enter(stop);
        var parameters = report.Set.ToDictionary();
        foreach (var (parameter, values) in set ?? new Dictionary<string, IReadOnlyList<string>>())
            parameters[parameter] = values;
        var open = asker.OpenAsPublished(report.Dashboard, new ViewingRequest(parameters, null, ""));
        var there = open.Arrangement.Tiles.Where(t => !t.Hidden).Select(t => t.Tile.Name).ToHashSet();
        var request = new ExportRequest(
            form ?? report.Form,
            report.Tabs.Count == 0 ? null : [.. report.Tabs.Where(n => open.Arrangement.Tabs.Any(t => t.Name == n))],
            report.Tiles.Count == 0 ? null : [.. report.Tiles.Where(there.Contains)],
            Paper: report.Paper
        );
        Check(request);
        audit.Write(asker.Viewer, "export", $"report {report.Name} {request.Form}");
        var selections = await SelectionsOf(report, open);
        if (report.Each is null)
            return await Write(await Made(selections), request, stop);
        return await ForEach(report, open, selections, async picked => await Write(await Made(picked), request, stop));

        async Task<Takeaway> Made(IReadOnlyList<Selection> picked)
        {
            var address = $"{Host}/d/{Uri.EscapeDataString(report.Dashboard)}";
            var taken = await Takeaway.Of(open, request, picked, address, asker, clock, audit, logs);
            return taken with
            {
                Name = report.Name,
                About = taken.About with
                {
                    Title = report.Title,
                    Description = report.Description,
                    Before = report.Before,
                    After = report.After,
                },
            };
        }
    }

    /// <summary>What is picked for a report: as it says, else what the dashboard opens with.</summary>
    private async Task<IReadOnlyList<Selection>> SelectionsOf(Report report, OpenDashboard open)
    {
        var selections = new List<Selection>();
        foreach (var tile in open.Arrangement.Tiles.Select(t => t.Tile).Where(t => t.Dataset is not null))
        {
            var opening = report.Picks.TryGetValue(tile.Name, out var said) ? said : tile.Opening;
            if (opening is not null && await asker.OpeningOf(open, tile with { Opening = opening }) is { } selection)
                selections.Add(selection);
        }
        return selections;
    }

    /// <summary>The same for each member of a tile, in an archive.</summary>
    private async Task<ExportedFile> ForEach(
        Report report,
        OpenDashboard open,
        IReadOnlyList<Selection> selections,
        Func<IReadOnlyList<Selection>, Task<ExportedFile>> make
    )
    {
        var tile = open.Tile(report.Each!);
        List<Selection> others = [.. selections.Where(s => s.Tile != tile.Name)];
        var words = new FiltersInWords(open, await asker.NamesOf(open, others));
        var begun = await TileAnswers.Begin(new TileAnswers.Asked(open, [tile], others, words), asker, null, clock, audit, logs);
        var answered = await begun[0];
        if (answered.Answer is not { Table: var table })
            throw TableFiles.Failed(tile.Name, answered);
        var rest = table.IndexOf(ColumnRole.Rest);
        List<object?> members =
        [
            .. Enumerable
                .Range(0, table.Rows)
                .Where(r => rest < 0 || table.Values[rest][r] is not true)
                .Select(r => table.Values[0][r])
                .Distinct(),
        ];
        if (members.Count is 0 or > MostMembers)
            throw new ProblemException(
                422,
                members.Count == 0 ? "nothing-to-export" : "too-many-members",
                members.Count == 0
                    ? "There is nobody to make it for."
                    : $"It would be made {members.Count} times; {MostMembers} are too many.",
                "Name a tile with fewer members."
            );
        using var memory = new MemoryStream();
        using (var archive = new ZipArchive(memory, ZipArchiveMode.Create, leaveOpen: true))
        {
            var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
            foreach (var member in members)
            {
                var file = await make([
                    .. others,
                    new Selection(
                        tile.Name,
                        [
                            [member],
                        ],
                        null
                    ),
                ]);
                await using var entry = archive
                    .CreateEntry(NameOf(Labels.Write(member, table.Columns[0]), Path.GetExtension(file.Name), names))
                    .Open();
                await entry.WriteAsync(file.Content);
            }
        }
        return new ExportedFile(
            memory.ToArray(),
            "application/zip",
            $"{report.Name}-{clock.GetUtcNow().ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture)}.zip"
        );
    }

    /// <summary>A name of a file that every system takes, and that nothing else has.</summary>
    private static string NameOf(string label, string ending, HashSet<string> taken)
    {
        var plain = string.Concat(label.Select(c => char.IsLetterOrDigit(c) || c is '-' or '_' or ' ' ? c : '-')).Trim();
        plain = plain.Length == 0 ? "member" : plain[..Math.Min(plain.Length, 60)];
        for (var n = 1; ; n++)
            if (taken.Add($"{plain}{(n == 1 ? "" : $" {n}")}{ending}"))
                return $"{plain}{(n == 1 ? "" : $" {n}")}{ending}";
    }

    private void Check(ExportRequest request)
    {
        request.Check();
        if (ExportForms.NeedsBrowser(request.Form))
            paper.Require();
    }

    private void MustExport(OpenDashboard open, string dashboard)
    {
        if (open.MayExport)
            return;
        audit.Write(asker.Viewer, "denied", $"export {dashboard}");
        throw ProblemException.MayNot("take what this dashboard shows away as a file");
    }

    private async Task<ExportedFile> Write(Takeaway taken, ExportRequest request, CancellationToken stop) =>
        request.Form switch
        {
            "csv" => await TableFiles.Of(taken, "csv", "text/csv; charset=utf-8", t => Task.FromResult(CsvFile.Of(t))),
            "parquet" => await TableFiles.Of(taken, "parquet", "application/vnd.apache.parquet", t => ParquetFile.Of(t, taken.About)),
            "xlsx" => Workbook.Of(taken),
            "json" => new ExportedFile(
                JsonSerializer.SerializeToUtf8Bytes(JsonExport.Of(taken), json.Value.SerializerOptions),
                "application/json",
                $"{taken.FileName}.json"
            ),
            "html" => paper.Html(taken, request),
            _ => await paper.Print(taken, request, stop),
        };

    /// <summary>An address of the dashboard's own page, as the console has it.</summary>
    private static string Checked(string link, string dashboard) =>
        link.Length <= 8000
        && !link.Any(char.IsControl)
        && $"/d/{Uri.EscapeDataString(dashboard)}" is var page
        && (link == page || link.StartsWith(page + "?", StringComparison.Ordinal))
            ? link
            : throw new ProblemException(422, "bad-link", "The address is none of this dashboard.");
}
