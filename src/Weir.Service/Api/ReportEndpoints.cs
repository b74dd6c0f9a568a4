using Weir.Core.Definitions;
using Weir.Service.Asking;
using Weir.Service.Exports;
using Weir.Service.Schedules;
using Weir.Service.SignIn;

namespace Weir.Service.Api;

/// <summary>Reports: what is made of dashboards for taking along, in a state that their developers say.</summary>
internal static class ReportEndpoints
{
    public static void MapReports(this RouteGroupBuilder api)
    {
        api.MapGet(
                "/reports",
                (FileMaker files, Asker asker, TimeProvider clock) =>
                    files
                        .Reports()
                        .Select(r =>
                            ReportInfo.Of(r, asker.Live.Workspace.Dashboards[r.Dashboard].Title) with
                            {
                                IsConditional = r.OnlyIf is not null,
                                Times = TimesInfo.Of(r.Schedule, clock),
                                ComesToYou = Receivers.IsOne(r, asker.Viewer),
                            }
                        )
            )
            .WithName("listReports")
            .WithSummary("The reports that the viewer may have made: those of dashboards that they may open and take along.");

        api.MapGet("/reports/{report}/parameters", (string report, FileMaker files) => files.Parameters(report))
            .WithName("listReportParameters")
            .WithSummary("The parameters of a report with the values that it sets; others may be asked for when it is made.");

        api.MapPost(
                "/reports/{report}/run",
                async (string report, ReportRun run, string? progress, FileMaker files, FilesInProgress all, HttpContext context) =>
                    await ExportEndpoints.Send(progress, files, all, context, stop => files.Run(report, run, stop))
            )
            .WithName("runReport")
            .WithSummary(
                "Makes a report under the rights of whoever asks; one for each member comes as an archive, or as one file with a part for each."
            )
            .Produces<byte[]>(200, "application/octet-stream")
            .WithMetadata(new OnlyReads());
    }
}

/// <summary>A report.</summary>
/// <param name="Form">The form of its file.</param>
/// <param name="Detail">How much of it there is: short, usual or long.</param>
/// <param name="Each">The tile for each of whose members it is made; null for one file.</param>
public sealed record ReportInfo(
    string Name,
    string Title,
    string? Description,
    string Dashboard,
    string DashboardTitle,
    string Form,
    string? Each,
    string Detail
)
{
    /// <summary>When it goes out by itself; null if it does not.</summary>
    public TimesInfo? Times { get; init; }

    /// <summary>True if it goes out only under a condition.</summary>
    public bool IsConditional { get; init; }

    /// <summary>True if it is sent to whoever asks.</summary>
    public bool ComesToYou { get; init; }

    internal static ReportInfo Of(Report report, string dashboardTitle) =>
        new(report.Name, report.Title, report.Description, report.Dashboard, dashboardTitle, report.Form, report.Each, report.Detail);
}

/// <summary>How a report is wanted.</summary>
/// <param name="Form">Another form than its own.</param>
/// <param name="Parameters">Values of parameters in the place of those that it says, as texts.</param>
/// <param name="Detail">How much of it: short, usual or long, in the place of what it says.</param>
public sealed record ReportRun(string? Form = null, Dictionary<string, IReadOnlyList<string>>? Parameters = null, string? Detail = null);
