using Weir.Core.Access;
using Weir.Store;

namespace Weir.Service.Publishing;

/// <summary>
/// Dashboards of somebody's own as others see them with whom they are shared: what they may not see is left out, as of a published one.
/// </summary>
internal sealed class SharedDrafts(DraftWorkspaces workspaces, DraftRights rights, OwnShares shares, Users users)
{
    /// <summary>The workspace with somebody's own dashboard for another; null if it is not there for them: the same for all reasons.</summary>
    public LiveWorkspace? LiveFor(Viewer reader, string owner, string dashboard) =>
        dashboard.StartsWith(DraftRights.OwnPrefix, StringComparison.Ordinal)
        && shares.Of(owner, DraftRights.OwnPath(dashboard)).Any(s => s.IsFor(reader.Name, reader.Roles))
        // Who may not have it any more can't show it either.
        && users.Find(owner)?.Viewer is { } has
        && rights.Of(has, DraftKind.Dashboards, dashboard) is DraftRight.Owns
            ? workspaces.LiveFor(has, dashboard, begins: false)?.SharedWith()
            : null;

    /// <summary>What others share with somebody, each once; whether there is something of it for them is another matter.</summary>
    public IEnumerable<(Viewer Owner, string Dashboard)> For(Viewer reader) =>
        shares
            .With(reader.Name, reader.Roles)
            .Select(s => (s.Owner, Dashboard: Path.GetFileNameWithoutExtension(s.Path)))
            .Distinct()
            .Select(s => (users.Find(s.Owner)?.Viewer, s.Dashboard))
            .Where(s => s.Viewer is not null)
            .Select(s => (s.Viewer!, s.Dashboard));
}
