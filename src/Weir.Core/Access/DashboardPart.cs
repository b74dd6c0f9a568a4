using Weir.Core.Definitions;

namespace Weir.Core.Access;

/// <summary>What of a dashboard a viewer's roles grant, before anything is said of data.</summary>
public static class DashboardPart
{
    /// <summary>
    /// A dashboard with the areas that the viewer may see, and with what the viewer may change of it. An area that is not granted is not
    /// there; of several roles, what one of them grants is granted.
    /// </summary>
    public static Dashboard Of(Viewer viewer, Dashboard whole, Workspace workspace)
    {
        // A role that does not grant the dashboard has no say in it.
        var roles = viewer
            .RolesIn(workspace)
            .Where(r => !workspace.Access.GrantsDashboards || r.Grants(DashboardActs.See, whole.Name))
            .ToList();
        var part = whole;
        if (whole.Areas.Count > 0 && workspace.Access.GrantsDashboards && !roles.Any(r => r.SeesWhole(whole.Name)))
        {
            var areas = whole.Areas.Where(a => roles.Any(r => r.SeesArea(whole.Name, a.Name))).ToList();
            var names = areas.Select(a => a.Name).ToHashSet();
            part = whole with { Areas = areas, Tabs = [.. whole.Tabs.Where(t => names.Contains(t.Area!))] };
        }
        var said = roles.Where(r => r.ChangesOn(whole.Name) is not null).ToList();
        return said.Count == 0 ? part : With(part, roles.Aggregate(Changes.None, (all, r) => all | (r.ChangesOn(whole.Name) ?? whole.May)));
    }

    /// <summary>What is said of the dashboard as a whole is another; what a tab, section or tile says of itself stays.</summary>
    private static Dashboard With(Dashboard dashboard, Changes may)
    {
        Changes Of(Changes written, bool isOwn) => isOwn ? written : may;
        return dashboard with
        {
            May = may,
            Tabs =
            [
                .. dashboard.Tabs.Select(t =>
                    t with
                    {
                        May = Of(t.May, t.SaysMay),
                        Sections = [.. t.Sections.Select(s => s with { May = Of(s.May, s.SaysMay) })],
                        Tiles = [.. t.Tiles.Select(x => x.Changed(y => y with { May = Of(y.May, y.SaysMay) }))],
                    }
                ),
            ],
        };
    }
}
