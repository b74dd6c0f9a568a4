using System.Text.RegularExpressions;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;

namespace Weir.Service.Publishing;

/// <summary>A kind of definition that is worked on as a draft.</summary>
/// <param name="Folder">Where its files are, and how addresses tell it.</param>
/// <param name="Thing">What one of them is called, which is also the key that names it in its file.</param>
/// <param name="Shape">What its files may look like.</param>
/// <param name="Needs">What a role must grant to work on drafts of it.</param>
internal sealed record DraftKind(string Folder, string Thing, Shape Shape, IReadOnlyList<string> Needs)
{
    public static DraftKind Dashboards { get; } = new("dashboards", "dashboard", WorkspaceText.Shapes.Dashboard, [Acts.Publish]);

    /// <summary>What a dataset brings is not held back by row rules while it is defined, so that more is needed than to publish.</summary>
    public static DraftKind Datasets { get; } = new("datasets", "dataset", Shapes.Dataset, [Acts.Publish, Acts.Define]);

    /// <summary>All kinds.</summary>
    public static IReadOnlyList<DraftKind> All { get; } = [Dashboards, Datasets];

    /// <summary>The kind of a folder; null if none is.</summary>
    public static DraftKind? In(string folder) => All.FirstOrDefault(k => k.Folder == folder);

    /// <summary>The kind of a file, and what it defines: as it is published, else as the file is called. Null for a file of no kind.</summary>
    public static (DraftKind Kind, string Name)? Of(string path, LiveWorkspace live)
    {
        if (In(path.Split('/')[0]) is not { } kind)
            return null;
        return (kind, kind.NameIn(live.Version.Files.GetValueOrDefault(path) ?? "") ?? Path.GetFileNameWithoutExtension(path));
    }

    /// <summary>What a text defines; null if it does not say.</summary>
    private string? NameIn(string text) =>
        Regex.Match(text, $@"^{Thing}:\s*[""']?([A-Za-z][A-Za-z0-9_-]*)", RegexOptions.Multiline) is { Success: true } match
            ? match.Groups[1].Value
            : null;

    /// <summary>The file of a definition: where it is published, or where it would be.</summary>
    public string PathOf(string name, LiveWorkspace live)
    {
        var usual = $"{Folder}/{name}.yaml";
        return live.Version.Files.ContainsKey(usual)
            ? usual
            : live.Version.Files.FirstOrDefault(f =>
                f.Key.StartsWith(Folder + "/", StringComparison.Ordinal) && NameIn(f.Value) == name
            ).Key
                ?? usual;
    }
}
