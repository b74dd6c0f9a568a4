using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>A dashboard and where its tiles stand in their file, for checks that come after reading.</summary>
/// <param name="Tiles">The first tile of each name.</param>
internal sealed record WrittenDashboard(Dashboard Dashboard, YamlText Text, IReadOnlyDictionary<string, YamlNode> Tiles)
{
    /// <summary>
    /// True of a tile that is written here and can't be read, for a fault of its own or of its dataset, or that may be: what was taken out
    /// for its form may have held it. Who names it has no fault for that.
    /// </summary>
    public bool IsUnread(string tile) => (Tiles.ContainsKey(tile) || Text.IsPart) && Dashboard.Tiles.All(t => t.Name != tile);

    /// <summary>True if a tile that is written here can't be read: what it would bring isn't known.</summary>
    public bool HasUnread => Text.IsPart || Tiles.Keys.Any(IsUnread);
}

/// <summary>Who may see what, for files that name roles and readers.</summary>
/// <param name="Text">access.yaml; null if it can't be read as a whole.</param>
internal sealed record WrittenAccess(Access Access, YamlText? Text)
{
    /// <summary>True of a name under a key of access.yaml that may be there and can't be read: who names it has no fault for that.</summary>
    public bool IsUnread(string key, string name) => Text is null || Text.IsBroken(key) || Text.IsBroken(name);
}

/// <summary>All that could be read of a workspace.</summary>
/// <param name="Workspace">Null if there is any error.</param>
/// <param name="Faults">What was found so far; checks after reading add to it.</param>
/// <param name="Files">What a later reading can begin from.</param>
internal sealed record WrittenWorkspace(
    Workspace? Workspace,
    List<Fault> Faults,
    IReadOnlyDictionary<string, Dataset> Datasets,
    IReadOnlyList<WrittenDashboard> Dashboards,
    FilesRead Files
);
