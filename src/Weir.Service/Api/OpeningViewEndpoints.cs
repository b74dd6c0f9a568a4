using System.Text.RegularExpressions;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Views;
using Weir.Service.Asking;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Service.Api;

/// <summary>Opening views: how one's own view differs from it, and how one's own view becomes it.</summary>
internal static partial class OpeningViewEndpoints
{
    public static void MapOpeningViews(this RouteGroupBuilder api)
    {
        api.MapGet("/dashboards/{dashboard}/view/differences", Differences)
            .WithName("compareView")
            .WithSummary("How one's own view differs from the opening view, and what was published since one last changed it.");

        api.MapPost("/dashboards/{dashboard}/views/{view}/promote", Promote)
            .WithName("promoteView")
            .WithSummary(
                "Make an arrangement of one's own the opening view for all or for some roles: a file of the workspace, published at once."
            );
    }

    /// <param name="seen">The newest version of whose changes the viewer was told; null or older than their last edit for that one.</param>
    private static DifferencesInfo Differences(string dashboard, string? view, long? seen, Asker asker, OlderVersions versions)
    {
        var open = asker.OpenAsSet(dashboard, null, view);
        var since =
            open.Since is { } number && Math.Max(number, seen ?? 0) is var told && told < open.Live.Version.Number ? told : (long?)null;
        var workspace = since is { } of ? versions.Get(of) : null;
        var older = workspace?.Dashboards.GetValueOrDefault(dashboard) is { } was
            ? OpeningOf(DashboardPart.Of(asker.Viewer, was, asker.Live.Workspace), workspace, asker, open.Fold.Makeable)
            : null;
        var differences = ViewDifferences.Of(open.Fold, open.Undrawn, older);
        // Words and images need no title; then their name stands for it.
        string TitleOf(string tile) =>
            open.Arrangement.Tiles.Any(t => t.Tile.Name == tile) && open.TitleOf(tile) is { Length: > 0 } title
                ? title
                : Titles.FromName(tile);
        return new DifferencesInfo(
            since,
            [.. differences.Came.Select(TitleOf)],
            open.Dropped,
            [.. differences.Tiles.Select(t => new TileDifferenceInfo(t.Tile, TitleOf(t.Tile), t.Mine, t.Published, t.IsBoth))],
            Drawn(open.Fold.Opening),
            Drawn(open.Undrawn)
        );

        IReadOnlyList<SketchedTab> Drawn(Arrangement arrangement) =>
            [
                .. arrangement.Tabs.Select(t => new SketchedTab(
                    t.Name,
                    t.Title,
                    t.Hidden,
                    [
                        .. t
                            .Tiles.Where(x => !x.Hidden && !x.Tile.IsInPanel)
                            .Select(x => new SketchedTile(x.Tile.Name, TitleOf(x.Tile.Name), x.Section, x.Place)),
                    ]
                )),
            ];
    }

    /// <summary>How the viewer found the dashboard in an older version; only names and places are looked at, of tiles that they have now.</summary>
    private static Arrangement OpeningOf(Dashboard was, Workspace workspace, Asker asker, IReadOnlyDictionary<string, Scope> makeable)
    {
        var fold = new ViewFold(was with { Catalogues = [.. workspace.Catalogues.Values] }) { Makeable = makeable };
        return PromotedView.For(asker.Viewer, was.Name, workspace) is { } promoted
            ? fold.As(PromotedView.LayersOf(promoted), null).Opening
            : fold.Opening;
    }

    [GeneratedRegex("^[a-z][a-z0-9_-]{0,59}\\z")]
    private static partial Regex Name();

    private static PromotedInfo Promote(
        string dashboard,
        string view,
        PromoteRequest request,
        HttpContext context,
        Asker asker,
        Store.Views views,
        PublishedWorkspace published,
        Store.Audit audit
    )
    {
        var open = asker.OpenAsSet(dashboard, null, view == ViewEndpoints.MyView ? "" : view, withCatalogues: true);
        DefinitionEndpoints.MayPublish(context, published, audit, "publish");
        if (open.Shared is not null || !open.MayArrange)
            throw ProblemException.MayNot("promote a view that is not yours");
        var roles = request.Roles ?? [];
        if (roles.FirstOrDefault(r => r is null || !open.Live.Workspace.Access.Roles.ContainsKey(r)) is { } unknown)
            throw new ProblemException(422, "unknown-role", $"There is no role {unknown}.");
        var name = request.Name ?? (roles.Count == 0 ? dashboard : $"{dashboard}-{roles[0]}");
        if (!Name().IsMatch(name) || name.StartsWith("own-", StringComparison.Ordinal))
            throw new ProblemException(
                422,
                "bad-name",
                "An opening view has a name of small letters, digits, - and _, which does not begin with own-."
            );
        // Those who have another opening view now would have the edits of this one on top of it: it is written against what the file lays out.
        var plain = new ViewFold(open.Dashboard) { Makeable = open.Fold.Makeable };
        var before = PromotedView.For(asker.Viewer, dashboard, open.Live.Workspace);
        var layers = PromotedView.Promoted(name, plain, open.Scopes, before is null ? [] : PromotedView.LayersOf(before), open.View.Edits);
        var text = PromotedView.Text(name, dashboard, roles, layers);
        var done = published.PublishFile($"openings/{name}.yaml", text, request.Replace, asker.Viewer.Name);
        // What was promoted is not to stand there twice for whoever has it now as the opening view.
        if (done.Version is { } version && (roles.Count == 0 || roles.Any(asker.Viewer.Roles.Contains)))
            views.Append(open.Key, version, new ViewEdit.Reset());
        return new PromotedInfo($"openings/{name}.yaml", text, DefinitionsAnswer.Of(done));
    }
}

/// <summary>How a view differs from the opening view.</summary>
/// <param name="Since">The version on which the viewer last changed it, or of whose changes they were told; null where that is the present one.</param>
/// <param name="Came">The titles of tiles that came since.</param>
/// <param name="Gone">What of the view the dashboard no longer has, as sentences.</param>
/// <param name="Tiles">The tiles that stand or are drawn otherwise.</param>
/// <param name="Opening">The opening view, as a sketch.</param>
/// <param name="Mine">The view, as a sketch.</param>
public sealed record DifferencesInfo(
    long? Since,
    IReadOnlyList<string> Came,
    IReadOnlyList<string> Gone,
    IReadOnlyList<TileDifferenceInfo> Tiles,
    IReadOnlyList<SketchedTab> Opening,
    IReadOnlyList<SketchedTab> Mine
);

/// <summary>A tile that stands or is drawn otherwise.</summary>
/// <param name="IsBoth">True if its developer changed it, too, since: the viewer's side holds until they take the other.</param>
public sealed record TileDifferenceInfo(string Tile, string Title, string Mine, string Published, bool IsBoth);

/// <summary>A tab of a sketch.</summary>
public sealed record SketchedTab(string Name, string Title, bool Hidden, IReadOnlyList<SketchedTile> Tiles);

/// <summary>A tile of a sketch.</summary>
public sealed record SketchedTile(string Name, string Title, string? Section, Place Place);

/// <summary>A view to be made the opening view.</summary>
/// <param name="Roles">The roles that it is for; everybody if left out.</param>
/// <param name="Name">The name of the opening view; made from dashboard and role if left out.</param>
/// <param name="Replace">True to replace an opening view of that name.</param>
public sealed record PromoteRequest(IReadOnlyList<string>? Roles = null, string? Name = null, bool Replace = false);

/// <summary>What came of promoting a view.</summary>
/// <param name="Path">The file that was written.</param>
public sealed record PromotedInfo(string Path, string Text, DefinitionsAnswer Answer);
