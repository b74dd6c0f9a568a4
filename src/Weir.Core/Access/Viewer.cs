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
    /// <summary>Who looks as this viewer; null for the viewer's own self. Looking gives dashboards, rows and fields, and no act.</summary>
    public string? LookedAsBy { get; init; }

    /// <summary>True if any of the viewer's roles allows the act.</summary>
    public bool May(string act, Workspace workspace) =>
        LookedAsBy is null && Roles.Any(r => workspace.Access.Roles.TryGetValue(r, out var role) && role.May.Contains(act));
}
