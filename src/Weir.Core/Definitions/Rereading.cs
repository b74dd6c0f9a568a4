using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>A definition file as YAML of the shape that its place asks for.</summary>
/// <param name="Kind">As the shapes call it, such as dashboard.</param>
internal sealed record FileText(YamlText Text, YamlMappingNode Root, string Kind);

/// <summary>What the files of a workspace were read as, and what was found wrong in each: what reading them again can begin from.</summary>
/// <param name="Files">As they were.</param>
internal sealed record FilesRead(IReadOnlyDictionary<string, string> Files)
{
    /// <param name="What">A <see cref="FileText"/>, an <see cref="Attachment"/> or what a definition says; null for what is broken as a whole.</param>
    /// <param name="Tally">How much had been reported of the file by then.</param>
    internal sealed record Found(object? What, IReadOnlyList<Fault> Faults, Tally Tally);

    /// <summary>By path: each file by itself.</summary>
    internal Dictionary<string, Found> Forms { get; } = [];

    /// <summary>By path: what definitions say, of the kinds that name few others.</summary>
    internal Dictionary<string, Found> Items { get; } = [];
}

/// <summary>
/// Reads files on the ground of an earlier reading. Whoever designs changes one file of many, with each key: that one is read anew, and what
/// names things of its kind; of all else it is told again what was found then.
/// </summary>
/// <param name="shapes">Those of the earlier reading, too.</param>
/// <param name="before">The earlier reading; null for none.</param>
/// <param name="faults">Where every fault is added, in the order of the checks whether found now or then.</param>
internal sealed class Rereading(
    IReadOnlyDictionary<string, string> files,
    Shapes shapes,
    FilesRead? before,
    List<Fault> faults,
    CancellationToken cancellation
)
{
    private const string AttachmentKind = "attachment";

    /// <summary>The kinds of files that the reading of a definition looks into besides its own; all kinds that are not here look into most.</summary>
    private static readonly Dictionary<string, IReadOnlyList<string>> LooksInto = new()
    {
        ["source"] = [],
        ["dataset"] = ["source"],
        ["catalogue"] = ["source", "dataset", AttachmentKind],
        ["dashboard"] = ["source", "dataset", "catalogue", AttachmentKind],
    };

    private HashSet<string>? _changedKinds;

    /// <summary>What is read now.</summary>
    public FilesRead Read { get; } = new(files);

    /// <summary>A definition file by itself; null, with faults, if it is broken as a whole.</summary>
    public FileText? Text(string path, string kind, Shape.Keys shape)
    {
        if (StandsSince(path) is { } found)
        {
            faults.AddRange(found.Faults);
            Read.Forms[path] = found;
            return found.What is FileText then ? then with { Text = then.Text.For(faults, found.Tally, cancellation) } : null;
        }
        var from = faults.Count;
        var text = new YamlText(path, faults, cancellation);
        var now = text.Read(files[path], shape) is { } root ? new FileText(text, root, kind) : null;
        Read.Forms[path] = new(now, faults[from..], text.Tally);
        return now;
    }

    /// <summary>A file that is no definition; null, with a fault, if it is not what it has to be.</summary>
    public Attachment? Attached(string path)
    {
        if (StandsSince(path) is { } found)
            faults.AddRange(found.Faults);
        else
        {
            var from = faults.Count;
            var now = Attachments.Read(path, files[path], faults);
            found = new(now, faults[from..], default);
        }
        Read.Forms[path] = found;
        return (Attachment?)found.What;
    }

    /// <summary>What a definition says, where nothing that it looks into has changed as it was read then.</summary>
    public T Item<T>(FileText file, Func<T> read)
        where T : class
    {
        var path = file.Text.File;
        if (!LooksInto.TryGetValue(file.Kind, out var others))
            return read();
        if (
            StandsSince(path) is not null
            && before!.Items.TryGetValue(path, out var found)
            && !others.Any((_changedKinds ??= ChangedKinds()).Contains)
        )
        {
            faults.AddRange(found.Faults);
            file.Text.Tally = found.Tally;
        }
        else
        {
            var from = faults.Count;
            var now = read();
            found = new(now, faults[from..], file.Text.Tally);
        }
        Read.Items[path] = found;
        return (T)found.What!;
    }

    /// <summary>How a file by itself was read then, if it is as it was.</summary>
    private FilesRead.Found? StandsSince(string path) =>
        before is not null && before.Files.TryGetValue(path, out var then) && then == files[path]
            ? before.Forms.GetValueOrDefault(path)
            : null;

    private HashSet<string> ChangedKinds() =>
        [
            .. files
                .Keys.Union(before!.Files.Keys)
                .Where(p => files.GetValueOrDefault(p) != before.Files.GetValueOrDefault(p))
                .Select(p => Attachments.Holds(p) ? AttachmentKind : shapes.FileAt(p)?.Name ?? ""),
        ];
}
