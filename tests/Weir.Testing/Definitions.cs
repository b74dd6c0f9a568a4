using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;

namespace Weir.Testing;

/// <summary>Small workspaces for tests.</summary>
public static class Definitions
{
    public const string Source = "source: s\nengine: duckdb\nfile: s.duckdb\n";

    /// <summary>A workspace of one dataset; every file can be replaced.</summary>
    public static Dictionary<string, string> Files(string dataset, string access, params (string Path, string Text)[] more)
    {
        var files = new Dictionary<string, string>
        {
            ["workspace.yaml"] = "workspace: w\nmoney: lt\n",
            ["sources/s.yaml"] = Source,
            ["datasets/d.yaml"] = dataset,
            ["access.yaml"] = access,
        };
        foreach (var (path, text) in more)
            files[path] = text;
        return files;
    }

    /// <summary>Reads files that must be right.</summary>
    public static Workspace Read(IReadOnlyDictionary<string, string> files)
    {
        var (workspace, faults) = WorkspaceText.Read(files);
        return workspace ?? throw new InvalidOperationException(string.Join('\n', faults));
    }

    public static Viewer Viewer(string roles, params (string Name, string[] Values)[] attributes) =>
        new("someone", "Someone", roles.Split(' '), attributes.ToDictionary(a => a.Name, a => (IReadOnlyList<string>)a.Values));
}
