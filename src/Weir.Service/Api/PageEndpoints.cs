using Weir.Core.Interaction;
using Weir.Service.Asking;

namespace Weir.Service.Api;

/// <summary>The dashboards that a viewer has, and each as a page without figures.</summary>
internal static class PageEndpoints
{
    public static void MapPages(this RouteGroupBuilder api)
    {
        api.MapGet(
                "/dashboards",
                (Asker asker, Store.Views views, Store.Remarks remarks) =>
                {
                    var open = remarks.Open();
                    return OpenDashboard
                        .List(asker.Viewer, asker.Live)
                        .Select(d => new DashboardLine(
                            d.Name,
                            d.Title,
                            d.Description,
                            asker.Viewer.May(Core.Definitions.DashboardActs.Arrange, d.Name, asker.Live.Workspace)
                                ? [.. views.Named(asker.Viewer.Name, d.Name).Select(NamedViewInfo.Of)]
                                : [],
                            RemarkEndpoints.LooksAfter(asker, d.Name) ? open.GetValueOrDefault(d.Name) : 0
                        ));
                }
            )
            .WithName("listDashboards")
            .WithSummary("The dashboards that the viewer may open.");

        api.MapGet(
                "/dashboards/{dashboard}",
                (string dashboard, string? set, string? view, Asker asker) => DashboardPage.Of(asker.OpenAsSet(dashboard, set, view))
            )
            .WithName("getDashboard")
            .WithSummary(
                "A dashboard in the viewer's own arrangement, without figures. set: parameters as JSON, lists of texts by name; what "
                    + "can't be meant is left out."
            );

        api.MapGet(
                "/dashboards/{dashboard}/wiring",
                (string dashboard, string? set, string? view, Asker asker) => Wiring(asker.OpenAsSet(dashboard, set, view))
            )
            .WithName("getWiring")
            .WithSummary(
                "Who drives whom: every pair of a tile on which something can be picked and another, with the reason where it does not reach."
            );

        api.MapGet(
                "/dashboards/{dashboard}/tiles/{tile}/file",
                (string dashboard, string tile, string? view, Asker asker, HttpContext context) =>
                {
                    var file = asker.OpenAsSet(dashboard, null, view).Tile(tile).File ?? throw ProblemException.UnknownTile(tile);
                    var attachment = asker.Live.Workspace.Attachments[file];
                    // Called up by itself it is a page of its own, which may do nothing.
                    context.Response.Headers.ContentSecurityPolicy =
                        "default-src 'none'; style-src 'unsafe-inline'; img-src data:; frame-ancestors 'none'; sandbox";
                    return TypedResults.Bytes(attachment.Content, attachment.MediaType);
                }
            )
            .WithName("getFile")
            .WithSummary("The image that a tile shows.");
    }

    /// <summary>Who drives whom, in the viewer's own arrangement.</summary>
    private static IEnumerable<WireInfo> Wiring(OpenDashboard open) =>
        WiringMap
            .Of(open.Dashboard, open.Arrangement, open.Scopes)
            .Select(w => new WireInfo(
                w.Driver,
                open.TitleOf(w.Driver),
                w.Follower,
                open.TitleOf(w.Follower),
                w.Refusal?.ToString(),
                w.Refusal is { } reason ? FiltersInWords.Sentence(reason, open.TitleOf(w.Driver)) : null,
                [.. w.Fields.Select(f => f.ToString())]
            ));
}

/// <summary>A line of the wiring: whether what is picked on one tile filters another.</summary>
/// <param name="Reason">Why it does not; null if it does.</param>
/// <param name="Fields">The fields that are filtered, if it does.</param>
public sealed record WireInfo(
    string Driver,
    string DriverTitle,
    string Follower,
    string FollowerTitle,
    string? Reason,
    string? Sentence,
    IReadOnlyList<string> Fields
);
