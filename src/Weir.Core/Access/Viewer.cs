using Weir.Core.Definitions;

namespace Weir.Core.Access;

/// <summary>A signed-in person or token: what rights are worked out from.</summary>
/// <param name="Attributes">Values by attribute name, for row rules: <c>user.ports</c>.</param>
public sealed record Viewer(
    string Name,
    string Title,
    IReadOnlyList<string> Roles,
    IReadOnlyDictionary<string, IReadOnlyList<string>> Attributes
)
{
    /// <summary>Somebody who has one role and no attributes.</summary>
    public static Viewer Of(Role role) => new(role.Name, role.Title, [role.Name], new Dictionary<string, IReadOnlyList<string>>());

    /// <summary>Who looks as this viewer; null for the viewer's own self. Looking gives dashboards, rows and fields, and no act.</summary>
    public string? LookedAsBy { get; init; }

    /// <summary>
    /// True if any of the viewer's roles allows the act. Who looks as the viewer has none of those that reach beyond reading.
    /// </summary>
    public bool May(string act, Workspace workspace) =>
        (LookedAsBy is null || act == Acts.Explain) && RolesIn(workspace).Any(r => r.May.Contains(act));

    /// <summary>
    /// True if any of the viewer's roles allows the act on the dashboard; see <see cref="Definitions.Access.GrantsDashboards"/>. To design
    /// is to read the whole definition: an area does not give it, and it is nobody's who was not granted it.
    /// </summary>
    public bool May(string act, string dashboard, Workspace workspace) =>
        (LookedAsBy is null || act == DashboardActs.See)
        && (
            act == DashboardActs.Design
                ? RolesIn(workspace).Any(r => r.GrantsWhole(act, dashboard) && r.SeesWhole(dashboard))
                : !workspace.Access.GrantsDashboards || RolesIn(workspace).Any(r => r.Grants(act, dashboard))
        );

    /// <summary>
    /// True if the viewer may add tiles from a catalogue: by a role that grants it where roles grant catalogues by name, and, where it is a
    /// dashboard's, by the right to see that.
    /// </summary>
    public bool MayAddFrom(Catalogue catalogue, Workspace workspace) =>
        (!workspace.Access.GrantsCatalogues || RolesIn(workspace).Any(r => r.GrantsCatalogue(catalogue.Name)))
        && (catalogue.OfDashboard is not { } dashboard || May(DashboardActs.See, dashboard, workspace));

    /// <summary>The viewer's roles as far as there are such.</summary>
    public IEnumerable<Role> RolesIn(Workspace workspace) =>
        Roles.Distinct().Select(r => workspace.Access.Roles.GetValueOrDefault(r)).OfType<Role>();
}
