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
    HostAddress host,
    IOptions<JsonOptions> json
)
{
    /// <summary>Is told how far it is.</summary>
    public FileProgress Progress { get; set; } = new();

    /// <summary>More files than anybody opens.</summary>
    private const int MostMembers = 100;

    /// <summary>A dashboard, or some of it, as the viewer has it before them.</summary>
    /// <exception cref="ProblemException">It is not there, or can't be taken along.</exception>
    public async Task<ExportedFile> Export(string dashboard, ExportRequest request, CancellationToken stop)
    {
        Check(request);
        using var turn = await line.Enter(Progress, stop);
        var open = asker.Open(dashboard, request.Viewing);
        MustExport(open, dashboard);
        Begin(request);
        if (request.Link is { } link)
            _ = PageAddress.Checked(link, dashboard);
        var selections = await asker.SelectionsOf(open, request.Selections);
        audit.Write(
            asker.Viewer,
            "export",
            $"{dashboard} {request.Form} {string.Join(' ', request.Tiles ?? request.Tabs ?? [])}".TrimEnd()
        );
        return await Write(
            await Takeaway.Of(open, request, selections, AddressOf(open, request, selections), asker, clock, audit, logs, Progress),
            request,
            stop
        );
    }

    /// <summary>Has what draws pages begun for somebody who is about to ask for one.</summary>
    /// <exception cref="ProblemException">The dashboard is not there for them, or they may not take it along.</exception>
    public void Expect(string dashboard)
    {
        MustExport(asker.Open(dashboard, null), dashboard);
        paper.Begin();
    }

    /// <summary>The reports that the viewer may have made.</summary>
    public IEnumerable<Report> Reports() =>
        asker.Live.Workspace.Reports.Values.Where(MayHave).OrderBy(r => r.Title, StringComparer.Ordinal);

    /// <summary>True if the viewer may open what a report is made of, and take it along.</summary>
    public bool MayHave(Report report) =>
        asker.Viewer.May(DashboardActs.Export, report.Dashboard, asker.Live.Workspace)
        && OpenDashboard.IsThereFor(asker.Viewer, asker.Live.Workspace.Dashboards[report.Dashboard], asker.Live);

    /// <summary>A report under the rights of whoever asks: their rows, and of what it takes as much as they may see.</summary>
    /// <param name="wanted">In what it is to be another than it says.</param>
    /// <exception cref="ProblemException">There is none that the viewer may have, it can't be made, or too many wait.</exception>
    public async Task<ExportedFile> Run(string name, ReportRun wanted, CancellationToken stop)
    {
        var report = Find(name);
        using var turn = await line.Enter(Progress, stop);
        return (await Make(await Open(report, wanted), stop)).File;
    }

    /// <summary>The file of a report, or of each member.</summary>
    /// <param name="check">Looks at what was computed before it is written.</param>
    public async Task<MadeReport> Make(OpenedReport opened, CancellationToken stop, Action<Takeaway>? check = null)
    {
        Begin(opened.Request);
        if (opened.Report.Each is not null)
            return await ForEach(opened, stop, check);
        var taken = await Taken(opened);
        check?.Invoke(taken);
        return new MadeReport(await Write(taken, opened.Request, stop), taken.About, taken);
    }

    /// <summary>A report that the viewer may have.</summary>
    /// <exception cref="ProblemException">There is none, or none that they may have.</exception>
    public Report Find(string name) =>
        Reports().FirstOrDefault(r => r.Name == name)
        ?? throw new ProblemException(
            404,
            "unknown-report",
            $"There is no report {ProblemException.Short(name)}.",
            "GET /api/reports lists those there are."
        );

    /// <summary>The parameters of a report with the values that it sets.</summary>
    /// <exception cref="ProblemException">There is no such report.</exception>
    public IReadOnlyList<ParameterState> Parameters(string name)
    {
        var report = Find(name);
        return DashboardPage
            .Of(asker.OpenAsPublished(report.Dashboard, new ViewingRequest(report.Set.ToDictionary(), null, "")))
            .Parameters;
    }

    /// <summary>Refuses what could not be taken along again and again in a state.</summary>
    /// <exception cref="ProblemException">It could not.</exception>
    public void CheckSubscription(string dashboard, ExportRequest request)
    {
        Check(request);
        var open = asker.Open(dashboard, request.Viewing);
        MustExport(open, dashboard);
        _ = open.Selections(request.Selections);
        if (request.Link is { } link)
            _ = PageAddress.Checked(link, dashboard);
        foreach (var tab in request.Tabs ?? [])
            if (open.Arrangement.Tabs.All(t => t.Name != tab))
                throw new ProblemException(404, "unknown-tab", $"There is no tab {ProblemException.Short(tab)} on this dashboard.");
        foreach (var tile in request.Tiles ?? [])
            _ = open.Tile(tile);
    }

    /// <summary>Opens what a report is made of, as everybody with the viewer's rights finds it, in the state that it says.</summary>
    /// <exception cref="ProblemException">It is not there for the viewer, or can't be opened so.</exception>
    /// <param name="wanted">In what it is to be another than it says; null for nothing.</param>
    public async Task<OpenedReport> Open(Report report, ReportRun? wanted = null)
    {
        var parameters = report.Set.ToDictionary();
        foreach (var (parameter, values) in wanted?.Parameters ?? [])
            parameters[parameter] = values;
        var viewing = new ViewingRequest(parameters, null, "");
        var open = asker.OpenAsPublished(report.Dashboard, viewing);
        MustExport(open, report.Dashboard);
        var there = open.Arrangement.Tiles.Where(t => !t.Hidden).Select(t => t.Tile.Name).ToHashSet();
        var request = new ExportRequest(
            wanted?.Form ?? report.Form,
            report.Tabs.Count == 0 ? null : [.. report.Tabs.Where(n => open.Arrangement.Tabs.Any(t => t.Name == n))],
            report.Tiles.Count == 0 ? null : [.. report.Tiles.Where(there.Contains)],
            Viewing: viewing,
            Paper: report.Paper,
            Detail: wanted?.Detail ?? report.Detail
        );
        Check(request);
        audit.Write(asker.Viewer, "export", $"report {report.Name} {request.Form}");
        return new OpenedReport(report, open, request, await SelectionsOf(report, open));
    }

    /// <summary>Opens a dashboard as its viewer kept it, in the state in which they want it.</summary>
    /// <exception cref="ProblemException">It is not there for the viewer, or can't be taken along so.</exception>
    public async Task<OpenedReport> Open(Report report, ExportRequest request)
    {
        Check(request);
        var open = asker.Open(report.Dashboard, request.Viewing, lenient: true);
        MustExport(open, report.Dashboard);
        if (request.Link is { } link)
            _ = PageAddress.Checked(link, report.Dashboard);
        audit.Write(asker.Viewer, "export", $"{report.Name} {request.Form}");
        return new OpenedReport(report, open, request, await asker.SelectionsOf(open, request.Selections));
    }

    /// <summary>All that a report says of the dashboard, computed under the rights of whoever asks.</summary>
    /// <param name="picked">What is picked in the place of what the report says; null for that.</param>
    private async Task<Takeaway> Taken(OpenedReport opened, IReadOnlyList<Selection>? picked = null)
    {
        var report = opened.Report;
        var selections = picked ?? opened.Selections;
        var taken = await Takeaway.Of(
            opened.Open,
            opened.Request,
            selections,
            AddressOf(opened.Open, opened.Request, selections),
            asker,
            clock,
            audit,
            logs,
            Progress
        );
        return taken with
        {
            Name = report.FileName,
            About = taken.About with
            {
                Title = report.Title,
                Description = report.Description,
                Before = report.Before,
                After = report.After,
            },
        };
    }

    /// <summary>The figures of one tile of a report.</summary>
    public async Task<AnsweredTile> Figures(OpenedReport opened, string tile)
    {
        var (open, selections) = (opened.Open, opened.Selections);
        var words = new FiltersInWords(open, await asker.NamesOf(open, selections));
        var asked = new TileAnswers.Asked(open, [open.Tile(tile)], selections, words);
        return await (await TileAnswers.Begin(asked, asker, null, clock, audit, logs))[0];
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

    /// <summary>The members of a tile, without the rest of a top, and the column in which they stand.</summary>
    /// <exception cref="ProblemException">There are none, or too many.</exception>
    private async Task<(IReadOnlyList<object?> Members, Column Column)> MembersOf(OpenedReport opened, string tile)
    {
        var answered = await Figures(opened, tile);
        if (answered.Answer is not { Table: var table })
            throw TableFiles.Failed(tile, answered);
        var rest = table.IndexOf(ColumnRole.Rest);
        List<object?> members =
        [
            .. Enumerable
                .Range(0, table.Rows)
                .Where(r => rest < 0 || table.Values[rest][r] is not true)
                .Select(r => table.Values[0][r])
                .Distinct(),
        ];
        return members.Count is > 0 and <= MostMembers
            ? (members, table.Columns[0])
            : throw new ProblemException(
                422,
                members.Count == 0 ? "nothing-to-export" : "too-many-members",
                members.Count == 0
                    ? "There is nobody to make it for."
                    : $"It would be made {members.Count} times; {MostMembers} are too many.",
                "Name a tile with fewer members."
            );
    }

    /// <summary>A report for each member of its tile: a file with a part for each, or an archive with a file for each.</summary>
    /// <param name="check">Looks at each before it is written.</param>
    private async Task<MadeReport> ForEach(OpenedReport opened, CancellationToken stop, Action<Takeaway>? check)
    {
        var report = opened.Report;
        var isTogether = report.IsTogether && Report.FormsTogether.Contains(opened.Request.Form);
        var tile = opened.Open.Tile(report.Each!);
        List<Selection> others = [.. opened.Selections.Where(s => s.Tile != tile.Name)];
        var (members, column) = await MembersOf(opened with { Selections = others }, tile.Name);
        var parts = new List<Takeaway>();
        var abouts = new List<AboutExport>();
        using var memory = new MemoryStream();
        using (var archive = new ZipArchive(memory, ZipArchiveMode.Create, leaveOpen: true))
        {
            var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
            foreach (var (number, member) in members.Index())
            {
                Progress.Part(number + 1, members.Count);
                var picked = new Selection(
                    tile.Name,
                    [
                        [member],
                    ],
                    null
                );
                var taken = await Taken(opened, [.. others, picked]);
                check?.Invoke(taken);
                abouts.Add(taken.About);
                var label = Labels.Write(member, column);
                if (isTogether)
                {
                    parts.Add(taken.AsPart(number, label));
                    // What would be too much is told before all of it was asked for.
                    Takeaway.CheckSize(parts.SelectMany(p => p.Tiles).ToList());
                    continue;
                }
                var file = await Write(taken, opened.Request, stop);
                await using var entry = archive.CreateEntry(NameOf(label, Path.GetExtension(file.Name), names)).Open();
                await entry.WriteAsync(file.Content);
            }
        }
        var address = AddressOf(opened.Open, opened.Request, others);
        if (isTogether)
        {
            Progress.Joins();
            var all = Takeaway.Together(parts, others, address);
            return new MadeReport(await Write(all, opened.Request, stop), all.About, null);
        }
        var archived = new ExportedFile(
            memory.ToArray(),
            "application/zip",
            $"{report.FileName}-{clock.GetUtcNow().ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture)}.zip"
        );
        return new MadeReport(archived, Takeaway.Together(abouts, address), null);
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

    /// <summary>Where it is seen live: the page that was looked at, else one in the state in which it is taken along.</summary>
    private string AddressOf(OpenDashboard open, ExportRequest request, IReadOnlyList<Selection> selections) =>
        host.Address + (request.Link ?? PageAddress.Of(open, request, selections));

    private void Check(ExportRequest request)
    {
        request.Check();
        if (ExportForms.NeedsBrowser(request.Form))
            paper.Require();
    }

    /// <summary>Has what will draw begun while the figures are asked for.</summary>
    private void Begin(ExportRequest request)
    {
        if (ExportForms.NeedsBrowser(request.Form))
            paper.Begin();
    }

    private void MustExport(OpenDashboard open, string dashboard)
    {
        if (open.MayExport)
            return;
        audit.Write(asker.Viewer, "denied", $"export {dashboard}");
        throw ProblemException.MayNot("take what this dashboard shows away as a file");
    }

    /// <summary>The file of what was taken, in its form.</summary>
    public async Task<ExportedFile> Write(Takeaway taken, ExportRequest request, CancellationToken stop) =>
        request.Form switch
        {
            "csv" => await TableFiles.Of(taken, "csv", "text/csv; charset=utf-8", t => Task.FromResult(CsvFile.Of(t))),
            "parquet" => await TableFiles.Of(taken, "parquet", "application/vnd.apache.parquet", t => ParquetFile.Of(t, taken.About)),
            "xlsx" => Workbook.Of(taken, request.IsLong),
            "json" => new ExportedFile(
                JsonSerializer.SerializeToUtf8Bytes(JsonExport.Of(taken, request), json.Value.SerializerOptions),
                "application/json",
                $"{taken.FileName}.json"
            ),
            "html" => paper.Html(taken, request),
            _ => await paper.Print(taken, request, Progress, stop),
        };
}

/// <summary>The file of a report, or of each member.</summary>
/// <param name="About">What it is made of; what differs between members left out.</param>
/// <param name="Taken">What was taken along; null for one that is made for each.</param>
internal sealed record MadeReport(ExportedFile File, AboutExport About, Takeaway? Taken);

/// <summary>What a report is made of, opened for one viewer in the state that it says.</summary>
internal sealed record OpenedReport(Report Report, OpenDashboard Open, ExportRequest Request, IReadOnlyList<Selection> Selections);
