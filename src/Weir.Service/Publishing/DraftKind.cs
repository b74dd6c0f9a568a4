using System.Text.RegularExpressions;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;

namespace Weir.Service.Publishing;

/// <summary>A kind of definition that is worked on as a draft.</summary>
/// <param name="Folder">Where its files are, and how addresses tell it; of a kind with one file what that is called.</param>
/// <param name="Thing">What one of them is called, which is also the key that names it in its file.</param>
/// <param name="Needs">What a role must grant to work on drafts of it.</param>
internal sealed record DraftKind(string Folder, string Thing, IReadOnlyList<string> Needs)
{
    public static DraftKind Dashboards { get; } = new("dashboards", "dashboard", [Acts.Publish]);

    /// <summary>What a dataset brings is not held back by row rules while it is defined, so that more is needed than to publish.</summary>
    public static DraftKind Datasets { get; } = new("datasets", "dataset", [Acts.Publish, Acts.Define]);

    /// <summary>All kinds.</summary>
    public static IReadOnlyList<DraftKind> All { get; } =
    [
        Dashboards,
        Datasets,
        new("sources", "source", [Acts.Publish, Acts.Define]),
        new("catalogues", "catalogue", [Acts.Publish]),
        new("openings", "opening_view", [Acts.Publish]),
        new("reports", "report", [Acts.Publish]),
        new("access", "access", [Acts.Publish]) { IsSingle = true },
        new("workspace", "workspace", [Acts.Publish]) { IsSingle = true },
    ];

    /// <summary>True if a workspace has one file of it, in no folder, which is called as the kind is.</summary>
    public bool IsSingle { get; private init; }

    /// <summary>What its files may look like.</summary>
    public Shape Shape => WorkspaceText.Shapes.FileAt(IsSingle ? $"{Folder}.yaml" : $"{Folder}/a.yaml")!.Value.Shape;

    /// <summary>The kind of a folder, or the one with a file of that name; null if none is.</summary>
    public static DraftKind? In(string folder) => All.FirstOrDefault(k => k.Folder == folder);

    /// <summary>The kind of a file, and what it defines: as it is published, else as the file is called. Null for a file of no kind.</summary>
    public static (DraftKind Kind, string Name)? Of(string path, LiveWorkspace live)
    {
        var kind = path.Split('/') is [var folder, _] ? In(folder) : In(Path.GetFileNameWithoutExtension(path));
        if (kind is null || kind.IsSingle == path.Contains('/'))
            return null;
        return (kind, kind.NameOf(path, live.Version.Files.GetValueOrDefault(path) ?? ""));
    }

    private string NameOf(string path, string text) => NameIn(text) ?? Path.GetFileNameWithoutExtension(path);

    /// <summary>What a text defines; null if it does not say.</summary>
    private string? NameIn(string text) =>
        IsSingle ? Folder
        : Regex.Match(text, $@"^{Thing}:\s*[""']?([A-Za-z][A-Za-z0-9_-]*)", RegexOptions.Multiline) is { Success: true } match
            ? match.Groups[1].Value
        : null;

    /// <summary>The file of a definition: where it is published, or where it would be.</summary>
    public string PathOf(string name, LiveWorkspace live)
    {
        if (IsSingle)
            return $"{Folder}.yaml";
        var usual = $"{Folder}/{name}.yaml";
        return live.Version.Files.ContainsKey(usual)
            ? usual
            : live.Version.Files.FirstOrDefault(f =>
                f.Key.StartsWith(Folder + "/", StringComparison.Ordinal) && NameIn(f.Value) == name
            ).Key
                ?? usual;
    }

    /// <summary>All that is published of it: names, titles as the texts say them, and files.</summary>
    public IEnumerable<(string Name, string? Title, string Path)> Published(LiveWorkspace live, Func<string, string?> titleOf) =>
        live.Version.Files.Where(f => Of(f.Key, live)?.Kind == this).Select(f => (NameOf(f.Key, f.Value), titleOf(f.Value), f.Key));
}
