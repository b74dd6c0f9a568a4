using System.Collections.Concurrent;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Service.Asking;

namespace Weir.Service.Publishing;

/// <summary>What somebody may do with a draft.</summary>
internal enum DraftRight
{
    /// <summary>All, as with every definition: it can name whatever there is.</summary>
    Publishes,

    /// <summary>Work on a published dashboard of which they see all, until somebody who publishes takes it over.</summary>
    Designs,

    /// <summary>Have a dashboard of one's own, which is never published.</summary>
    Owns,
}

/// <summary>Who may have a draft of what, and what may be named in it.</summary>
internal sealed class DraftRights(PublishedWorkspace published)
{
    /// <summary>How the names of dashboards of one's own begin, so that they are none of those that are published.</summary>
    public const string OwnPrefix = "own-";

    /// <summary>The path of a dashboard of somebody's own.</summary>
    public static string OwnPath(string dashboard) => $"{DraftKind.Dashboards.Folder}/{dashboard}.yaml";

    private const int MostKept = 500;

    private readonly ConcurrentDictionary<(long Version, string Path, string Roles), bool> _seesAll = new();

    /// <summary>The right of a viewer to a draft; null for none.</summary>
    public DraftRight? Of(Viewer viewer, DraftKind kind, string name)
    {
        var live = published.Now;
        if (kind.Needs.All(a => viewer.May(a, live.Workspace)))
            return DraftRight.Publishes;
        if (kind != DraftKind.Dashboards)
            return null;
        if (live.Workspace.Dashboards.ContainsKey(name))
            return viewer.May(DashboardActs.Design, name, live.Workspace) && SeesAll(viewer, kind.PathOf(name, live), live)
                ? DraftRight.Designs
                : null;
        return name.StartsWith(OwnPrefix, StringComparison.Ordinal) && viewer.May(Acts.Own, live.Workspace) ? DraftRight.Owns : null;
    }

    /// <summary>True if a viewer may read the definition of a published dashboard: whoever publishes, and whoever sees all that it names.</summary>
    public bool MayRead(Viewer viewer, string dashboard) =>
        viewer.May(Acts.Publish, published.Now.Workspace)
        || viewer.May(DashboardActs.See, dashboard, published.Now.Workspace)
            && SeesAll(viewer, DraftKind.Dashboards.PathOf(dashboard, published.Now), published.Now);

    /// <summary>
    /// True if a dashboard names nothing that is hidden from the viewer: who reads its definition reads every name in it.
    /// </summary>
    private bool SeesAll(Viewer viewer, string path, LiveWorkspace live)
    {
        if (_seesAll.Count >= MostKept)
            _seesAll.Clear();
        return _seesAll.GetOrAdd(
            (live.Version.Number, path, RolesOf(viewer)),
            _ =>
                WorkspaceText
                    .Read(live.Version.Files, seen: SeenBy(viewer, path, live))
                    .Faults.All(f => f.File != path || f.Severity != Severity.Error)
        );
    }

    /// <summary>What somebody may name in a draft: what their roles grant.</summary>
    public static NamesSeen SeenBy(Viewer viewer, string path, LiveWorkspace live)
    {
        var scopes = live
            .Workspace.Datasets.Keys.Select(d => Scope.For(viewer, d, live.Workspace, Viewing.Whenever))
            .OfType<Scope>()
            .ToDictionary(s => s.Name);
        return new NamesSeen(
            path,
            scopes.ToDictionary(s => s.Key, s => s.Value.Seen(live.Workspace.Datasets[s.Key])),
            OpenDashboard.CataloguesFor(viewer, live, scopes).ToDictionary(c => c.Name)
        );
    }

    /// <summary>What what they see follows from.</summary>
    public static string RolesOf(Viewer viewer) => string.Join(' ', viewer.Roles.Order(StringComparer.Ordinal));
}
