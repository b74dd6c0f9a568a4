using Weir.Core.Definitions;

namespace Weir.Core.Access;

/// <summary>A signed-in person or token: what rights are worked out from.</summary>
/// <param name="Attributes">Values by attribute name, for row rules: <c>user.ports</c>.</param>
public sealed record Viewer(string Name, string Title, IReadOnlyList<string> Roles, IReadOnlyDictionary<string, IReadOnlyList<string>> Attributes)
{
    /// <summary>True if any of the viewer's roles allows the act.</summary>
    public bool May(string act, Workspace workspace) =>
        Roles.Any(r => workspace.Access.Roles.TryGetValue(r, out var role) && role.May.Contains(act));
}
