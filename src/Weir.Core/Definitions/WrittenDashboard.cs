using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>A dashboard and where its tiles stand in their file, for checks that come after reading.</summary>
/// <param name="Tiles">The first tile of each name.</param>
internal sealed record WrittenDashboard(Dashboard Dashboard, YamlText Text, IReadOnlyDictionary<string, YamlNode> Tiles);

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
