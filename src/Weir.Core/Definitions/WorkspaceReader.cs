using System.Text.Json.Nodes;
using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>Turns the text files of a folder into a checked workspace.</summary>
public static class WorkspaceReader
{
    /// <summary>More files than any workspace needs are refused.</summary>
    public const int MaximumFiles = 2_000;

    /// <summary>Reads all files and checks each by itself and against what it names: see <see cref="WorkspaceText"/> for the whole.</summary>
    internal static WrittenWorkspace Read(
        IReadOnlyDictionary<string, string> files,
        Shapes shapes,
        NamesSeen? seen,
        FilesRead? before,
        CancellationToken cancellation
    )
    {
        var faults = new List<Fault>();
        if (files.Count > MaximumFiles)
        {
            var message = $"There are {files.Count} files; at most {MaximumFiles} are read.";
            faults.Add(new Fault(Severity.Error, "too-many-files", "workspace.yaml", 1, 1, message, null));
            return new WrittenWorkspace(null, faults, new Dictionary<string, Dataset>(), [], new(files));
        }
        var reading = new Rereading(files, shapes, before, faults, cancellation);
        var (texts, broken, attachments) = ReadTexts(files, shapes, reading, faults, cancellation);
        ReportMissing(files, faults);
        var all = new Texts(texts, broken, reading, faults);

        var sources = all.Kept("source", SourceReader.Read, s => s.Name);
        var (brokenSources, brokenDatasets) = (all.Broken("source"), all.Broken("dataset"));
        var datasets = all.Kept("dataset", (t, r) => DatasetReader.Read(t, r, sources, brokenSources), d => d.Name);
        var known = new TileSurroundings(
            datasets,
            brokenDatasets,
            shapes.Pictures,
            files.Keys.Where(Attachments.Holds).ToDictionary(path => path, attachments.GetValueOrDefault)
        );
        var catalogues = all.Kept("catalogue", (t, r) => CatalogueReader.Read(t, r, known), c => c.Name);
        var written = ReadDashboards(all, known, catalogues, seen);
        var dashboards = written.ToDictionary(d => d.Key, d => d.Value.Dashboard);
        OfferTiles(written.Values, catalogues, texts);
        var access = ReadAccess(all, datasets, dashboards, catalogues.Keys);
        var granted = new WrittenAccess(access, all.At("access.yaml")?.Text);
        var drawable = dashboards.Keys.Concat(all.Broken("dashboard")).ToHashSet();
        var openings = all.Each("opening_view", (t, r) => OpeningViewReader.Read(t, r, drawable, granted), v => v.Name);
        var reports = all.Each(
            "report",
            (t, r) => ReportReader.Read(t, r, written, all.Broken("dashboard"), datasets, granted, KnownZoneOf(texts)),
            r => r.Name
        );
        var workspace = texts.TryGetValue("workspace.yaml", out var w)
            ? ReadWorkspace(w.Text, w.Root, sources, datasets, dashboards, access) with
            {
                Catalogues = catalogues,
                Attachments = attachments,
                Look = WorkspaceLook.Read(w.Text, w.Root, attachments),
                Reports = reports,
                OpeningViews = [.. openings.Values.OrderBy(v => v.Name, StringComparer.Ordinal)],
            }
            : null;
        if (faults.Any(f => f.Severity == Severity.Error))
            workspace = null;
        if (workspace is not null)
        {
            WarnOfUnused(workspace, texts);
            WarnOfLinks(datasets, texts);
        }
        return new WrittenWorkspace(workspace, faults, datasets, [.. written.Values], reading.Read);
    }

    /// <summary>The texts of a workspace, read kind by kind.</summary>
    /// <param name="broken">Whose file is broken as a whole: what names it has no fault for that.</param>
    private sealed class Texts(
        Dictionary<string, FileText> texts,
        HashSet<(string Kind, string Name)> broken,
        Rereading reading,
        List<Fault> faults
    )
    {
        public FileText? At(string path) => texts.GetValueOrDefault(path);

        public HashSet<string> Broken(string kind) => [.. broken.Where(b => b.Kind == kind).Select(b => b.Name)];

        /// <summary>What a text says, as it was found before where nothing changed that it is read by.</summary>
        public T Kept<T>(YamlText text, Func<T> read)
            where T : class => reading.Item(texts[text.File], read);

        /// <summary>All of a kind by name, each as it was found before where nothing changed that it is read by.</summary>
        public Dictionary<string, T> Kept<T>(string kind, Func<YamlText, YamlMappingNode, T> read, Func<T, string> name)
            where T : class => Each(kind, (t, r) => Kept(t, () => read(t, r)), name);

        /// <summary>All of a kind by name.</summary>
        public Dictionary<string, T> Each<T>(string kind, Func<YamlText, YamlMappingNode, T> read, Func<T, string> name)
        {
            var all = new Dictionary<string, T>();
            foreach (var (path, (text, root, fileKind)) in texts)
            {
                if (fileKind != kind)
                    continue;
                var item = read(text, root);
                if (!all.TryAdd(name(item), item))
                    text.Report("name-taken", YamlText.Node(root, kind)!, $"There are two files for the {kind} {name(item)}.");
                else if (Path.GetFileNameWithoutExtension(path) != name(item))
                    faults.Add(
                        new Fault(
                            Severity.Warning,
                            "file-name",
                            path,
                            1,
                            1,
                            $"The file holds the {kind} {name(item)}.",
                            $"Call it {name(item)}.yaml, so that others find it."
                        )
                    );
            }
            return all;
        }
    }

    /// <summary>The dashboards with their texts, to which checks that come later add what they find.</summary>
    private static Dictionary<string, WrittenDashboard> ReadDashboards(
        Texts all,
        TileSurroundings known,
        Dictionary<string, Catalogue> catalogues,
        NamesSeen? seen
    )
    {
        var broken = all.Broken("catalogue");
        return all.Each(
                "dashboard",
                (t, r) =>
                    t.File == seen?.Path
                        ? new DashboardReader(t, known with { Datasets = seen.Datasets }, seen.Catalogues, broken).Read(r)
                        : all.Kept(t, () => new DashboardReader(t, known, catalogues, broken).Read(r)),
                d => d.Dashboard.Name
            )
            .ToDictionary(d => d.Key, d => d.Value with { Text = all.At(d.Value.Text.File)!.Text });
    }

    private static Access ReadAccess(
        Texts all,
        Dictionary<string, Dataset> datasets,
        Dictionary<string, Dashboard> dashboards,
        IEnumerable<string> catalogues
    ) =>
        all.At("access.yaml") is { } access
            ? AccessReader.Read(
                access.Text,
                access.Root,
                datasets,
                all.Broken("dataset"),
                new DashboardNames(
                    dashboards.ToDictionary(d => d.Key, d => (IReadOnlyList<string>)[.. d.Value.Areas.Select(a => a.Name)]),
                    all.Broken("dashboard")
                ),
                catalogues.Concat(all.Broken("catalogue")).ToHashSet()
            )
            : new Access(new Dictionary<string, Role>(), []);

    /// <summary>The workspace's zone. One that there is not is told of once, where it is written.</summary>
    private static string KnownZoneOf(Dictionary<string, FileText> texts) =>
        texts.TryGetValue("workspace.yaml", out var whole) && TimeZoneInfo.TryFindSystemTimeZoneById(ZoneOf(whole.Root), out _)
            ? ZoneOf(whole.Root)
            : "UTC";

    /// <summary>The files as YAML of the shape that their place asks for, whose are broken as a whole, and the files that are no text.</summary>
    private static (
        Dictionary<string, FileText> Texts,
        HashSet<(string Kind, string Name)> Broken,
        Dictionary<string, Attachment> Attachments
    ) ReadTexts(
        IReadOnlyDictionary<string, string> files,
        Shapes shapes,
        Rereading reading,
        List<Fault> faults,
        CancellationToken cancellation
    )
    {
        var texts = new Dictionary<string, FileText>();
        var broken = new HashSet<(string Kind, string Name)>();
        var attachments = new Dictionary<string, Attachment>();
        foreach (var path in files.Keys.Order(StringComparer.Ordinal))
        {
            if (Attachments.Holds(path))
            {
                if (reading.Attached(path) is { } attachment)
                    attachments[path] = attachment;
                continue;
            }
            if (shapes.FileAt(path) is not { } kind)
            {
                var places = $"A workspace holds {string.Join(", ", shapes.Files.Select(f => f.Pattern))}.";
                if (path.EndsWith(".yaml", StringComparison.Ordinal) || path.EndsWith(".yml", StringComparison.Ordinal))
                    faults.Add(new Fault(Severity.Warning, "unknown-file", path, 1, 1, "This file has no meaning here.", places));
                continue;
            }
            cancellation.ThrowIfCancellationRequested();
            if (reading.Text(path, kind.Name, kind.Shape) is { } text)
                texts[path] = text;
            else
                broken.Add((kind.Name, Path.GetFileNameWithoutExtension(path)));
        }
        return (texts, broken, attachments);
    }

    private static void ReportMissing(IReadOnlyDictionary<string, string> files, List<Fault> faults)
    {
        foreach (var needed in (ReadOnlySpan<string>)["workspace.yaml", "access.yaml"])
            if (!files.ContainsKey(needed))
                faults.Add(
                    new Fault(
                        Severity.Error,
                        "missing-file",
                        needed,
                        1,
                        1,
                        $"The workspace has no {needed}.",
                        needed == "access.yaml" ? "Without it nobody may read anything." : "Begin it with workspace: name."
                    )
                );
    }

    /// <summary>Dashboards that offer their tiles are catalogues besides.</summary>
    private static void OfferTiles(
        IEnumerable<WrittenDashboard> written,
        Dictionary<string, Catalogue> catalogues,
        Dictionary<string, FileText> texts
    )
    {
        foreach (var offering in written.Where(d => d.Dashboard.OffersTiles))
            if (!catalogues.TryAdd(offering.Dashboard.Name, CatalogueReader.Of(offering.Dashboard)))
                offering.Text.Report(
                    "name-taken",
                    YamlText.Node(texts[offering.Text.File].Root, "offers_tiles")!,
                    $"The dashboard {offering.Dashboard.Name} offers its tiles, but there is a catalogue of that name already.",
                    "Call the catalogue otherwise."
                );
    }

    /// <summary>Reads one dataset that is being defined, against the sources of a workspace.</summary>
    /// <returns>The dataset, null if there is any error; and every fault.</returns>
    public static (Dataset? Dataset, IReadOnlyList<Fault> Faults) ReadDraft(
        string text,
        Workspace workspace,
        CancellationToken cancellation = default
    )
    {
        var faults = new List<Fault>();
        var yaml = new YamlText("datasets/draft.yaml", faults, cancellation);
        var dataset = yaml.Read(text, Shapes.Dataset) is { } root
            ? DatasetReader.Read(yaml, root, workspace.Sources, new HashSet<string>())
            : null;
        return (faults.Any(f => f.Severity == Severity.Error) ? null : dataset, faults);
    }

    /// <summary>Reads one source that is being defined.</summary>
    /// <returns>The source, null if there is any error; and every fault.</returns>
    public static (Source? Source, IReadOnlyList<Fault> Faults) ReadSourceDraft(string text)
    {
        var faults = new List<Fault>();
        var yaml = new YamlText("sources/draft.yaml", faults);
        var source = yaml.Read(text, Shapes.Source) is { } root ? SourceReader.Read(yaml, root) : null;
        return (faults.Any(f => f.Severity == Severity.Error) ? null : source, faults);
    }

    private static string ZoneOf(YamlMappingNode root) => YamlText.Value(root, "time_zone") ?? "UTC";

    private static Workspace ReadWorkspace(
        YamlText text,
        YamlMappingNode root,
        Dictionary<string, Source> sources,
        Dictionary<string, Dataset> datasets,
        Dictionary<string, Dashboard> dashboards,
        Access access
    )
    {
        var name = text.Name(root, "workspace");
        var zone = ZoneOf(root);
        if (!TimeZoneInfo.TryFindSystemTimeZoneById(zone, out _))
            text.Report(
                "unknown-zone",
                YamlText.Node(root, "time_zone")!,
                $"There is no time zone {zone}.",
                "Use a name such as Atlantic/Azores or UTC."
            );
        var week = YamlText.Value(root, "week_starts") switch
        {
            "sunday" => DayOfWeek.Sunday,
            "saturday" => DayOfWeek.Saturday,
            _ => DayOfWeek.Monday,
        };
        return new Workspace(
            name,
            YamlText.Value(root, "title") ?? Titles.FromName(name),
            zone,
            week,
            YamlText.Value(root, "money") ?? "",
            sources,
            datasets,
            dashboards,
            access
        );
    }

    private static void WarnOfUnused(Workspace workspace, Dictionary<string, FileText> texts)
    {
        var tiles = workspace
            .Dashboards.Values.SelectMany(d => d.Tiles)
            .Concat(workspace.Catalogues.Values.SelectMany(c => c.Tiles))
            .SelectMany(t => t.Every)
            .ToList();
        var opened = NamedInOpenings(workspace).ToHashSet();
        foreach (var (text, root, kind) in texts.Values)
        {
            if (kind == "source" && workspace.Datasets.Values.All(d => d.Source != YamlText.Value(root, "source")))
                text.Report(
                    "unused-source",
                    YamlText.Node(root, "source")!,
                    $"No dataset uses the source {YamlText.Value(root, "source")}.",
                    severity: Severity.Warning
                );
            if (kind != "dataset")
                continue;
            var dataset = workspace.Datasets[YamlText.Value(root, "dataset")!];
            if (workspace.Access.Roles.Values.All(r => !r.Reads.ContainsKey(dataset.Name)))
                text.Report(
                    "unread-dataset",
                    YamlText.Node(root, "dataset")!,
                    $"No role reads the dataset {dataset.Name}, so nobody sees it.",
                    "Grant it in access.yaml.",
                    Severity.Warning
                );
            var used = UsedNames(workspace, dataset, [.. tiles.Where(t => t.Dataset == dataset.Name)], opened);
            foreach (
                var (key, _) in YamlText.Map(root, "fields").Concat(YamlText.Map(root, "measures")).Where(e => !used.Contains(e.Key.Value!))
            )
                text.Report("unused-definition", key, $"Nothing uses {key.Value} of {dataset.Name}.", severity: Severity.Warning);
        }
    }

    /// <summary>Fields that carry one concept are taken for one another; where their types or units differ, that is hardly meant.</summary>
    private static void WarnOfLinks(Dictionary<string, Dataset> datasets, Dictionary<string, FileText> texts)
    {
        foreach (
            var linked in datasets
                .Values.SelectMany(d => d.Fields.Values.Where(f => f.Concept is not null).Select(f => (Dataset: d, Field: f)))
                .GroupBy(x => x.Field.Concept)
        )
        {
            var (home, first) = linked.First();
            foreach (var (dataset, field) in linked.Skip(1).Where(x => x.Dataset != home))
            {
                var differs =
                    !ValueKinds.AreComparable(first.Kind, field.Kind)
                        ? $"{first.Name} of {home.Name} is {first.Kind.Name()}, {field.Name} is {field.Kind.Name()}; what is picked on one does not "
                            + "filter the other"
                    : first.Unit != field.Unit
                        ? $"{first.Name} of {home.Name} is in {first.Unit ?? "no unit"}, {field.Name} in {field.Unit ?? "no unit"}"
                    : null;
                if (differs is null)
                    continue;
                var (text, root, _) = texts.Values.First(t => t.Kind == "dataset" && YamlText.Value(t.Root, "dataset") == dataset.Name);
                text.Report(
                    "concept-differs",
                    YamlText.Map(root, "fields").First(f => f.Key.Value == field.Name).Key,
                    $"The concept {linked.Key} links fields of different meaning: {differs}.",
                    "Give one of them another concept.",
                    Severity.Warning
                );
            }
        }
    }

    /// <summary>What tiles show in opening views, of whatever dataset.</summary>
    private static IEnumerable<string> NamedInOpenings(Workspace workspace) =>
        from step in workspace.OpeningViews.SelectMany(v => v.Steps)
        let drawing = JsonNode.Parse(step.Json)?["drawing"] as JsonObject
        where drawing is not null
        from key in (string[])["show", "by", "split", "sort"]
        from name in drawing[key] as JsonArray ?? [drawing[key]?.DeepClone()]
        where name is JsonValue
        select name.ToString().Split('.')[0];

    private static HashSet<string> UsedNames(Workspace workspace, Dataset dataset, List<Tile> tiles, HashSet<string> opened)
    {
        var used = tiles.SelectMany(t => t.NamedFields.Select(f => f.Field).Concat(t.NamedMeasures)).ToHashSet();
        used.UnionWith(opened.Where(n => dataset.Fields.ContainsKey(n) || dataset.Measures.ContainsKey(n)));
        foreach (var name in used.ToList())
            used.UnionWith(dataset.Fields.GetValueOrDefault(name)?.Uses ?? dataset.Measures[name].Uses);
        // A concept that another dataset has too links the two.
        var concepts = workspace
            .Datasets.Values.Where(d => d != dataset)
            .SelectMany(d => d.Fields.Values)
            .Select(f => f.Concept)
            .OfType<string>()
            .ToHashSet();
        used.UnionWith(dataset.Fields.Values.Where(f => f.Concept is not null && concepts.Contains(f.Concept)).Select(f => f.Name));
        // Row rules and the dataset's filter are bound to columns by now: a field counts as used if its column is.
        var conditions = workspace
            .Access.Roles.Values.Select(r => r.Reads.GetValueOrDefault(dataset.Name)?.Where)
            .Append(dataset.Filter)
            .Concat(workspace.Access.Checks.Where(c => c.Dataset == dataset.Name).Select(c => c.Only));
        var columns = conditions.OfType<Bound>().SelectMany(c => c.All()).ToHashSet();
        used.UnionWith(dataset.Fields.Values.Where(f => columns.Contains(f.Formula)).Select(f => f.Name));
        used.UnionWith(
            workspace.Access.Roles.Values.SelectMany(r => r.Reads.GetValueOrDefault(dataset.Name)?.Hides ?? new HashSet<string>())
        );
        return used;
    }
}
