using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>What a tile may name.</summary>
/// <param name="BrokenDatasets">The datasets whose files can't be read: whoever names one has no fault for that.</param>
/// <param name="Pictures">The kinds of picture there are.</param>
/// <param name="Attachments">The files beside the definitions, by path; null for those with a fault.</param>
internal sealed record TileSurroundings(
    IReadOnlyDictionary<string, Dataset> Datasets,
    IReadOnlySet<string> BrokenDatasets,
    IReadOnlyList<PictureKind> Pictures,
    IReadOnlyDictionary<string, Attachment?> Attachments
)
{
    /// <summary>The keys that only some kinds of picture have, by name; each as often as there are such kinds, in their order.</summary>
    public ILookup<string, OwnKey> OwnKeys { get; } = Pictures.SelectMany(p => p.Own).ToLookup(o => o.Key.Name);
}

/// <summary>Reads what a tile shows and how, wherever it stands, and checks it against its dataset and its kind of picture.</summary>
/// <param name="known">What they may name.</param>
/// <param name="variants">The parameters that tiles may name.</param>
internal sealed class TileReader(YamlText text, TileSurroundings known, TileVariants variants)
{
    private readonly IReadOnlyDictionary<string, Dataset> _datasets = known.Datasets;
    private readonly IReadOnlySet<string> _brokenDatasets = known.BrokenDatasets;
    private readonly IReadOnlyList<PictureKind> _pictures = known.Pictures;

    /// <summary>What a scalar says, with the choices of the dashboard's parameters put in.</summary>
    private string Text(YamlScalarNode node) => variants.Text(node);

    /// <summary>A tile with every variant of it; null if it has an error of its own.</summary>
    public Tile? Read(YamlNode node, string name) => variants.ReadEvery(node, () => ReadTile(node, name));

    private Tile? ReadTile(YamlNode node, string name)
    {
        if (ReadPicture(node, name) is not { } picture)
            return null;
        var dataset = picture.HasData ? ReadDataset(node, name) : null;
        var show = YamlText.Items(YamlText.Node(node, "show")).ToList();
        var by = YamlText.Items(YamlText.Node(node, "by")).ToList();
        var split = YamlText.Node(node, "split") as YamlScalarNode;
        CheckSlots(node, picture, show, by, split);
        var each = picture.EachKey is { } key ? YamlText.Node(node, key) as YamlScalarNode : null;
        if (each is not null)
        {
            CheckEach(node, picture, each, by, split);
            by.Add(each);
        }
        if (dataset is not null)
            CheckNames(node, dataset, show, by, split, picture);
        var change = YamlText.Node(YamlText.Node(node, "change") ?? node, "on") as YamlScalarNode;
        if (change is not null && dataset is not null)
            CheckChange(change, dataset);
        var pick = ReadPick(node, picture, by, dataset);
        CheckWindow(node, KindsOf(by, dataset));
        CheckStart(node, by, split);
        CheckShape(node, by);
        var isInPanel = YamlText.Node(node, "place") is YamlScalarNode;
        if (isInPanel)
            CheckPanel(node, picture);
        var tile = new Tile(
            name,
            picture,
            YamlText.Value(node, "title"),
            YamlText.Value(node, "description"),
            dataset?.Name,
            picture.HasData && YamlText.Node(node, "text") is YamlScalarNode words && dataset is not null
                ? ReadFigures(words, dataset)
                : [.. show.Select(Text)],
            [.. by.Select(b => FieldAt.Parse(Text(b)))],
            split is null ? null : FieldAt.Parse(Text(split)),
            ReadTop(node),
            ReadSort(node, show, by),
            change is null ? null : FieldAt.Parse(Text(change)),
            YamlText.IsSet(node, "totals"),
            YamlText.Value(node, "text"),
            pick,
            DashboardReader.ReadReach(node, "drives", YamlText.Node(node, "group") is null ? "tab" : "group"),
            DashboardReader.ReadReach(node, "follows", "all"),
            ReadPlace(node, picture)
        )
        {
            Line = (int)node.Start.Line,
            IsInPanel = isInPanel,
            Options = ReadOptions(node, picture, show, dataset),
            Repeats = each is not null,
            References = ReferenceLine.Read(text, node, dataset),
            Tip = TipText.Read(text, node, [.. by.Append(split).OfType<YamlScalarNode>().Select(Text)], dataset),
            HasTools = YamlText.Node(node, "tools") is null || YamlText.IsSet(node, "tools"),
            Cells = TableCells.Read(text, node, [.. show.Select(Text)], [.. by.Select(Text)]),
            Of = SpreadOf.Read(text, node, picture, dataset),
            Parent = ReadParent(node, by, dataset),
            Subjects = SubjectStates.Read(text, node, picture, [.. by.Select(Text)], dataset),
            Courses = SmallCourse.Read(text, node, [.. by.Select(Text)], dataset),
            File = ReadFile(node) ?? ReadAreas(node, picture),
            Alt = YamlText.Value(node, "alt"),
            IsRequired = YamlText.IsSet(node, "required"),
            Opening = OpeningReader.Read(text, node, pick, KindsOf(by, dataset)),
            Ranges = picture.Question == QuestionShape.Ranges ? ValueRanges.Read(text, node) : null,
            Group = YamlText.Value(node, "group"),
            Drill = SpreadOf.WithSingleValues(node, by.Count, ReadDrill(node, by, split, dataset)),
            RefreshSeconds = YamlText.Node(node, "refresh") is null ? null : YamlText.Number(node, "refresh", 0),
            Waits = ReadWaits(node, picture),
        };
        return picture.HasData && dataset is null ? null : tile;
    }

    /// <summary>The kind of picture that a tile is, with data where it may have some and has; null if it can't be read.</summary>
    private PictureKind? ReadPicture(YamlNode node, string name)
    {
        if (YamlText.Node(node, "picture") is not YamlScalarNode written)
        {
            if (!text.IsBroken("picture"))
                text.Report("missing-key", node, $"The tile {name} needs the key picture.", "Or shared: catalogue/tile.");
            return null;
        }
        if (ReadPicture(written) is not { } picture)
            return null;
        CheckOwnKeys(node, picture);
        return picture.WithData is { } filled && YamlText.Node(node, "dataset") is not null ? filled : picture;
    }

    private void CheckShape(YamlNode node, List<YamlScalarNode> by)
    {
        if (YamlText.Node(node, ShapeBy) is YamlScalarNode shape && by.All(b => Text(b) != shape.Value))
            text.Report(
                "no-shape",
                shape,
                $"The tile is not grouped by {shape.Value}, so a point has no one value of it.",
                "Name it under by, beside the field of the points."
            );
    }

    /// <summary>The measures whose figures stand in a text.</summary>
    private List<string> ReadFigures(YamlScalarNode words, Dataset dataset)
    {
        var names = FiguresInText.NamesIn(words.Value!);
        foreach (
            var name in names.Where(n => !dataset.Measures.ContainsKey(n) && !dataset.Fields.ContainsKey(n) && !dataset.Faulty.Contains(n))
        )
            text.Report(
                "unknown-measure",
                words,
                $"The dataset {dataset.Name} has no measure or field {name}, which the text names in braces.",
                Nearest.Remedy(name, dataset.Measures.Keys.Concat(dataset.Fields.Keys))
            );
        List<string> figures = [.. names.Where(dataset.Measures.ContainsKey)];
        if (figures.Count is 0 or > MaximumFigures && !names.Any(dataset.Faulty.Contains))
            text.Report(
                "wrong-count",
                words,
                $"A text over a dataset has 1 to {MaximumFigures} figures in it; found {figures.Count}.",
                "Write a measure in braces, as in {" + (dataset.Measures.Keys.FirstOrDefault() ?? "measure") + "}, or leave dataset out."
            );
        if (figures.FirstOrDefault(f => dataset.Measures[f].Formula.All().OfType<Bound.Over>().Any()) is { } looking)
            text.Report("looks-around", words, $"{looking} looks at other lines; a text has none.");
        return figures;
    }

    private const int MaximumFigures = 20;

    /// <summary>What is drawn for each member of a field is grouped by others, and shows all of their members.</summary>
    private void CheckEach(YamlNode node, PictureKind picture, YamlScalarNode each, List<YamlScalarNode> by, YamlScalarNode? split)
    {
        if (by.Append(split).OfType<YamlScalarNode>().Any(f => Text(f) == Text(each)))
            text.Report("bad-repeat", each, $"The tile is grouped by {Text(each)} already.", "Name another field.");
        if (YamlText.Node(node, KeysOfMembers.Top.Name) is { } top)
            text.Report("bad-repeat", top, $"With {picture.EachKey} all members are shown.", "Leave out top.");
    }

    /// <summary>The words that say how its kind is drawn.</summary>
    private Dictionary<string, string> ReadOptions(YamlNode node, PictureKind picture, List<YamlScalarNode> show, Dataset? dataset)
    {
        var options = picture
            .Own.Where(o => o.IsOption && YamlText.Node(node, o.Key.Name) is YamlScalarNode)
            .ToDictionary(o => o.Key.Name, o => YamlText.Value(node, o.Key.Name)!);
        foreach (var own in picture.Own.Where(o => o is { IsOption: true, Key.Shape: Shape.MapOf }))
        foreach (var (name, drawn) in YamlText.Map(node, own.Key.Name))
        {
            if (show.All(s => Text(s) != name.Value))
                text.Report(
                    "unknown-measure",
                    name,
                    $"The tile does not show {name.Value}.",
                    Nearest.Remedy(name.Value!, show.Select(Text))
                );
            options[$"{own.Key.Name}.{name.Value}"] = ((YamlScalarNode)drawn).Value!;
        }
        if (options.ContainsKey("scales") && YamlText.Node(node, PictureKind.RepeatKey) is null)
            text.Report(
                "no-scales",
                YamlText.Node(node, "scales")!,
                "Only what is repeated has scales.",
                "Say under repeat for which field."
            );
        text.Decimal(node, "middle");
        CheckSides(node, options, show);
        if (options.GetValueOrDefault("parts") is "stacked" or "shares" && dataset is not null)
            CheckAddsUp(show, dataset, "Parts that lie on one another");
        return options;
    }

    /// <summary>Lines among bars and a second axis have a meaning for several measures of upright pictures.</summary>
    private void CheckSides(YamlNode node, Dictionary<string, string> options, List<YamlScalarNode> show)
    {
        foreach (
            var (key, other, all) in ((string, string, string)[])
                [
                    ("marks", "line", "All measures are lines; one at least stays a bar."),
                    ("axes", "right", "All measures stand at the right; one at least stays at the left."),
                ]
        )
        {
            if (YamlText.Node(node, key) is not { } written)
                continue;
            if (show.Count < 2)
                text.Report($"no-{key}", written, $"{key} tells measures apart; the tile shows one.", "Show another, or leave it out.");
            else if (show.All(s => options.GetValueOrDefault($"{key}.{Text(s)}") == other))
                text.Report($"no-{key}", written, all, "Leave one of them out.");
            if (options.GetValueOrDefault("direction") == "lying")
                text.Report($"no-{key}", written, $"Bars that lie take no {key}.", "Have them stand: direction: upright.");
            if (key == "axes" && YamlText.Node(node, PictureKind.RepeatKey) is not null)
                text.Report("no-axes", written, "A picture that is repeated has one axis.", "Leave out one of the two.");
            if (options.GetValueOrDefault("parts") == "shares")
                text.Report($"no-{key}", written, $"Shares of a sum take no {key}.", "Leave out one of the two.");
        }
    }

    /// <summary>The key of the field with the labels of parents.</summary>
    internal const string ParentKey = "parent";

    private FieldAt? ReadParent(YamlNode node, List<YamlScalarNode> by, Dataset? dataset)
    {
        if (YamlText.Node(node, ParentKey) is not YamlScalarNode parent)
            return null;
        if (dataset is not null)
            CheckField(parent, dataset);
        if (by.Count != 1 || Text(by[0]) == parent.Value)
            text.Report(
                "bad-parent",
                parent,
                "A hierarchy of labels has one field under by, the labels, and another with the labels of their parents.",
                "Name one field under by, or the fields of all levels and no parent."
            );
        foreach (var key in KeysOfMembers.All)
            if (YamlText.Node(node, key.Name) is { } written && key != KeysOfMembers.Sort)
                text.Report("bad-parent", written, $"Labels with parents have no {key.Name}.", "Leave out one of the two.");
        return FieldAt.Parse(parent.Value!);
    }

    /// <summary>The key of the field that gives points their shape.</summary>
    internal const string ShapeBy = "shape";

    /// <summary>The key by which lines begin together.</summary>
    internal const string SinceStart = "since_start";

    /// <summary>Lines begin together where each has a date to begin at.</summary>
    private void CheckStart(YamlNode node, List<YamlScalarNode> by, YamlScalarNode? split)
    {
        if (YamlText.Node(node, SinceStart) is not { } written)
            return;
        if (split is null)
            text.Report("no-since-start", written, "Lines that begin together are those of a split.", "Say under split whose they are.");
        if (by.Count > 0 && Calendar.ParseGrain(FieldAt.Parse(Text(by[0])).Member ?? "") is null)
            text.Report("no-since-start", written, "A line begins at a date at a grain.", "Write, for example, by: departed.month.");
        foreach (var other in (string[])[PictureKind.RepeatKey, "pick"])
            if (YamlText.Node(node, other) is { } set && YamlText.Value(node, other) != "none")
                text.Report("no-since-start", set, $"Lines that begin together have no {other}.", "Leave out one of the two.");
    }

    /// <summary>A part of an axis is shown where its members follow one another.</summary>
    private void CheckWindow(YamlNode node, List<ValueKind?> kinds)
    {
        if (YamlText.Node(node, "window") is not { } written)
            return;
        if (kinds is [{ } kind, ..] && !kind.IsTemporal() && !kind.IsNumber())
            text.Report(
                "no-window",
                written,
                $"A window moves along a date or a number; this is {kind.Name()}.",
                "Leave it out, or use top."
            );
        if (YamlText.Value(node, "direction") == "lying")
            text.Report("no-window", written, "A window moves along upright bars.", "Leave out one of the two.");
    }

    /// <summary>A sum of means is none.</summary>
    private void CheckAddsUp(List<YamlScalarNode> show, Dataset dataset, string what)
    {
        foreach (var item in show)
            if (dataset.Measures.GetValueOrDefault(Text(item)) is { IsAdditive: false } measure)
                text.Report(
                    "not-additive",
                    item,
                    $"{what} make up a whole, and {measure.Name} does not add up.",
                    "Show a count or a sum, or draw it as bars side by side."
                );
    }

    private string? ReadFile(YamlNode node)
    {
        if (YamlText.Node(node, "file") is not YamlScalarNode written)
            return null;
        if (!known.Attachments.ContainsKey(written.Value!))
            text.Report(
                "unknown-file",
                written,
                $"There is no file {written.Value} in the workspace.",
                Nearest.Remedy(written.Value!, known.Attachments.Keys) ?? "Put an SVG, PNG or JPEG into images/."
            );
        return written.Value;
    }

    /// <summary>The key for the property of areas by which members find theirs.</summary>
    internal const string AreaKey = "area_key";

    /// <summary>The file of areas, and whether they have the property by which members find theirs.</summary>
    private string? ReadAreas(YamlNode node, PictureKind picture)
    {
        if (YamlText.Node(node, "areas") is not YamlScalarNode written)
            return null;
        if (!known.Attachments.TryGetValue(written.Value!, out var file) || !Attachments.AreAreas(written.Value!))
            text.Report(
                "unknown-file",
                written,
                $"There is no file {written.Value} with areas in the workspace.",
                Nearest.Remedy(written.Value!, known.Attachments.Keys.Where(Attachments.AreAreas)) ?? "Put a GeoJSON file into maps/."
            );
        else if (file?.AreaKeys is { } keys && picture.Own.Any(o => o.Key.Name == AreaKey))
        {
            var key = YamlText.Node(node, AreaKey) as YamlScalarNode;
            var name = key?.Value ?? "name";
            if (!keys.Contains(name))
                text.Report(
                    "unknown-property",
                    key ?? written,
                    $"Not every area of {written.Value} has a property {name}.",
                    Nearest.Remedy(name, keys) ?? "Say under area_key which property holds the field's values."
                );
        }
        return written.Value;
    }

    private PictureKind? ReadPicture(YamlScalarNode node)
    {
        if (_pictures.FirstOrDefault(p => p.Name == Text(node)) is { } picture)
            return picture;
        string[] known = [.. _pictures.Select(p => p.Name)];
        text.Report(
            "unknown-value",
            node,
            $"{Text(node)} is no kind of picture.",
            Nearest.Remedy(Text(node), known) ?? $"Choose one of {string.Join(", ", known)}."
        );
        return null;
    }

    private Dataset? ReadDataset(YamlNode tile, string name)
    {
        if (YamlText.Node(tile, "dataset") is not YamlScalarNode node)
        {
            text.Report("missing-key", tile, $"The tile {name} needs a dataset.");
            return null;
        }
        if (!_datasets.TryGetValue(node.Value!, out var dataset) && !_brokenDatasets.Contains(node.Value!))
            text.Report("unknown-dataset", node, $"There is no dataset {node.Value}.", Nearest.Remedy(node.Value!, _datasets.Keys));
        return dataset;
    }

    /// <summary>How many measures and fields a tile has, held against what its kind takes.</summary>
    private void CheckSlots(YamlNode node, PictureKind picture, List<YamlScalarNode> show, List<YamlScalarNode> by, YamlScalarNode? split)
    {
        if (picture.Show.OrKey is not { } instead || YamlText.Node(node, instead) is null)
            CheckCount(node, "show", show.Count, picture.Show, picture, "measure");
        CheckCount(node, "by", by.Count, picture.By, picture, "field");
        if (split is not null && !picture.CanSplit)
            text.Report(
                "cannot-split",
                split,
                $"A {picture} can't be split.",
                $"Use {Sentences.Or(_pictures.Where(p => p.CanSplit).Select(p => p.Name))}."
            );
        if (split is not null && show.Count > 1 && !picture.SplitsSeveral)
            text.Report("cannot-split", split, "A tile shows either several measures or one measure split by a field.");
    }

    /// <summary>The measures and fields that a tile names, held against its dataset.</summary>
    private void CheckNames(
        YamlNode node,
        Dataset dataset,
        List<YamlScalarNode> show,
        List<YamlScalarNode> by,
        YamlScalarNode? split,
        PictureKind picture
    )
    {
        foreach (var item in show.Where(s => !dataset.Measures.ContainsKey(Text(s)) && !dataset.Faulty.Contains(Text(s))))
            text.Report(
                "unknown-measure",
                item,
                $"The dataset {dataset.Name} has no measure {Text(item)}.",
                dataset.Fields.ContainsKey(Text(item))
                    ? $"{Text(item)} is a field; define a measure over it."
                    : Nearest.Remedy(Text(item), dataset.Measures.Keys)
            );
        foreach (var item in by.Concat(split is null ? [] : [split]))
            CheckField(item, dataset);
        CheckLooking(node, show, by, dataset, picture);
        if (picture.AddsUp)
            CheckAddsUp(show, dataset, $"The parts of a {picture}");
    }

    private bool ReadWaits(YamlNode node, PictureKind picture)
    {
        if (!YamlText.IsSet(node, "waits"))
            return false;
        if (picture.HasData && !picture.IsControl)
            return true;
        text.Report(
            "cannot-wait",
            YamlText.Node(node, "waits")!,
            picture.HasData ? $"A {picture} is there to be used: it can't wait." : $"A {picture} asks for nothing: it can't wait.",
            "Take waits away."
        );
        return false;
    }

    private void CheckPanel(YamlNode node, PictureKind picture)
    {
        if (!picture.IsControl)
            text.Report(
                "cannot-stand",
                YamlText.Node(node, "place")!,
                "The side panel holds controls only.",
                "Give the tile a place in the grid."
            );
        if (YamlText.Node(node, "group") is { } framed)
            text.Report("cannot-stand", framed, "What stands in the side panel belongs to no group; a group is a frame in the grid.");
    }

    private void CheckCount(YamlNode node, string key, int count, Slot slot, PictureKind picture, string noun)
    {
        var (least, most) = (slot.Least, slot.Most);
        if (count >= least && count <= most)
            return;
        var wanted = least == most ? $"{least}" : $"{least} to {most}";
        text.Report(
            "wrong-count",
            YamlText.Node(node, key) ?? node,
            $"A {picture} takes {wanted} {noun}{(most == 1 ? "" : "s")} under {key}; found {count}."
        );
    }

    private void CheckField(YamlScalarNode item, Dataset dataset)
    {
        var at = FieldAt.Parse(Text(item));
        if (dataset.Faulty.Contains(at.Field))
            return;
        if (!dataset.Fields.TryGetValue(at.Field, out var field))
            text.Report(
                "unknown-field",
                item,
                $"The dataset {dataset.Name} has no field {at.Field}.",
                dataset.Measures.ContainsKey(at.Field)
                    ? $"{at.Field} is a measure; put it under show."
                    : Nearest.Remedy(at.Field, dataset.Fields.Keys)
            );
        else if (at.Member is not null && Binder.AtMember(field.Formula, at.Member) is null)
            text.Report(
                "unknown-grain",
                item,
                field.Kind.IsTemporal()
                    ? $"{at.Member} is no grain or part of a date."
                    : $"{at.Field} is {field.Kind.Name()}; only a date has a {at.Member}.",
                field.Kind.IsTemporal() ? Nearest.Remedy(at.Member, Calendar.Names) : null
            );
    }

    /// <summary>Measures that look at other lines need lines that they can look at.</summary>
    private void CheckLooking(YamlNode node, List<YamlScalarNode> show, List<YamlScalarNode> by, Dataset dataset, PictureKind picture)
    {
        foreach (var item in show)
        {
            var overs = dataset.Measures.GetValueOrDefault(Text(item))?.Formula.All().OfType<Bound.Over>().ToList() ?? [];
            if (overs.Count == 0)
                continue;
            if (!picture.HasLines)
                text.Report(
                    "looks-around",
                    item,
                    $"{Text(item)} looks at other lines of the tile; a {picture} has none.",
                    "Use change for the period before."
                );
            else if (item == show[0] && YamlText.Node(node, "top") is not null)
                text.Report(
                    "looks-around",
                    item,
                    $"The leading members can't be ranked by {Text(item)}, which looks at other lines.",
                    "Show a plain measure first."
                );
            else if (
                overs.Any(o => o.Function == OverFunction.Previous)
                && (by.Count == 0 || Calendar.ParseGrain(FieldAt.Parse(Text(by[0])).Member ?? "") is null)
            )
                text.Report(
                    "looks-around",
                    item,
                    $"{Text(item)} compares with an earlier period; the tile must be grouped first by a date at a grain.",
                    "For example by: departed.month."
                );
        }
    }

    /// <summary>Keys that only some kinds of picture have.</summary>
    private void CheckOwnKeys(YamlNode node, PictureKind picture)
    {
        foreach (var own in picture.Own.Where(o => o.IsNeeded && YamlText.Node(node, o.Key.Name) is null))
            text.Report("missing-key", node, $"A {picture} tile needs the key {own.Key.Name}.");
        foreach (var (key, written) in ((YamlMappingNode)node).Children)
            if (key is YamlScalarNode { Value: { } name } && picture.Own.All(mine => mine.Key.Name != name))
                foreach (var own in known.OwnKeys[name])
                    text.Report(own.Code, written, own.NeedsOwn, severity: own.Severity);
        foreach (var key in KeysOfMembers.All)
            if (YamlText.Node(node, key.Name) is { } written && !picture.OfMembers.Contains(key))
                text.Report(
                    "no-effect",
                    written,
                    $"A {picture} has no use for {key.Name}.",
                    $"{Sentences.Or(_pictures.Where(p => p.OfMembers.Contains(key)).Select(p => p.Name))} would have.",
                    Severity.Warning
                );
    }

    private void CheckChange(YamlScalarNode change, Dataset dataset)
    {
        CheckField(change, dataset);
        if (Calendar.ParseGrain(FieldAt.Parse(Text(change)).Member ?? "") is null)
            text.Report("unknown-grain", change, "The change needs a date field at a grain.", "Write, for example, departed.month.");
    }

    private static Top? ReadTop(YamlNode node) =>
        YamlText.Node(node, "top") is { } top ? new Top(YamlText.Number(top, "count", 10), YamlText.IsSet(top, "rest")) : null;

    private Sort? ReadSort(YamlNode node, List<YamlScalarNode> show, List<YamlScalarNode> by)
    {
        if (YamlText.Node(node, "sort") is not { } sort)
            return null;
        var key = Text((YamlScalarNode)YamlText.Node(sort, "by")!);
        string[] known = [.. show.Concat(by).Select(Text)];
        if (!known.Contains(key))
            text.Report(
                "unknown-field",
                YamlText.Node(sort, "by")!,
                $"The tile neither shows {key} nor is grouped by it.",
                Nearest.Remedy(key, known)
            );
        return new Sort(key, YamlText.Value(sort, "order") == "descending");
    }

    /// <summary>The types of the fields that a tile is grouped by; null for those that are unknown.</summary>
    private List<ValueKind?> KindsOf(List<YamlScalarNode> by, Dataset? dataset) =>
        [.. by.Select(b => dataset is null ? null : KindOf(FieldAt.Parse(Text(b)), dataset))];

    /// <summary>The type of the values of a field, at its grain or part; null where the dataset has none of them.</summary>
    internal static ValueKind? KindOf(FieldAt at, Dataset dataset) =>
        dataset.Fields.GetValueOrDefault(at.Field) is not { } field ? null
        : at.Member is { } member ? Binder.AtMember(field.Formula, member)?.Kind
        : field.Kind;

    private Pick ReadPick(YamlNode node, PictureKind picture, List<YamlScalarNode> by, Dataset? dataset)
    {
        var kinds = KindsOf(by, dataset);
        var isRepeated = picture.EachKey is { } each && YamlText.Node(node, each) is not null;
        foreach (var (item, i) in by.SkipLast(isRepeated ? 1 : 0).Select((b, i) => (b, i)))
            if (kinds[i] is { } found && !picture.By.Fits(found, dataset?.Fields.GetValueOrDefault(Text(item)) is { HasNames: true }))
                text.Report("type-mismatch", item, $"A {picture} needs {picture.By.Wanted}; {Text(item)} is {found.Name()}.");
        var along = by.Count - (isRepeated ? 1 : 0);
        var kind = along == 1 ? kinds[0] : null;
        var pick = YamlText.Value(node, "pick") switch
        {
            "one" => Pick.One,
            "many" => Pick.Many,
            "range" => Pick.Range,
            "none" => Pick.None,
            // Where there are no members there is nothing to pick.
            _ => by.Count == 0 && picture.By.Least == 0 || YamlText.Node(node, SinceStart) is not null ? Pick.None : picture.Pick,
        };
        if (picture.PicksOneWay && pick != picture.Pick)
            text.Report(
                "cannot-pick",
                YamlText.Node(node, "pick")!,
                $"A {picture} picks {(picture.Pick == Pick.Range ? "a range" : "a piece of text")}.",
                "Leave pick out."
            );
        else if (pick == Pick.Range && (along != 1 || kind is { } k && !k.IsTemporal() && !k.IsNumber()))
            text.Report(
                "cannot-pick",
                YamlText.Node(node, "pick") ?? node,
                "A range needs one field that is a date or a number.",
                "Use pick: many."
            );
        return pick;
    }

    private Drill? ReadDrill(YamlNode node, List<YamlScalarNode> by, YamlScalarNode? split, Dataset? dataset)
    {
        if (YamlText.Node(node, "drill") is not { } drill)
            return null;
        var to = YamlText.Items(YamlText.Node(drill, "to")).ToList();
        foreach (var item in to)
        {
            if (dataset is not null)
                CheckField(item, dataset);
            if (by.Concat(split is null ? [] : [split]).Concat(to.TakeWhile(t => t != item)).Any(b => Text(b) == Text(item)))
                text.Report("level-twice", item, $"{Text(item)} is a level already.");
        }
        if (by.Count != 1 || to.Count == 0)
            text.Report(
                "cannot-drill",
                drill,
                "Levels open below one field.",
                "Group the tile by one field, and name the levels below it under to."
            );
        return new Drill([.. to.Select(t => FieldAt.Parse(Text(t)))], YamlText.IsSet(drill, "drives"));
    }

    /// <summary>Where it stands; without a place of its own as high as its kind is, for whoever has it flow into a column.</summary>
    private static Place ReadPlace(YamlNode node, PictureKind picture)
    {
        // Several small pictures need more room than one.
        var rows =
            picture.Rows + (picture.EachKey == PictureKind.RepeatKey && YamlText.Node(node, PictureKind.RepeatKey) is not null ? 2 : 0);
        return YamlText.Node(node, "place") switch
        {
            YamlMappingNode place => new Place(
                YamlText.Number(place, "column", 0),
                YamlText.Number(place, "row", 0),
                YamlText.Number(place, "width", 1),
                YamlText.Number(place, "height", rows)
            ),
            YamlScalarNode => new Place(0, 0, 12, 1),
            _ => new Place(0, 0, 1, rows),
        };
    }

    /// <summary>A shared tile under a name and with the surroundings that it has where it is placed.</summary>
    public Tile Placed(YamlNode node, string name, Tile shared)
    {
        if (YamlText.Node(node, "place") is YamlScalarNode)
            CheckPanel(node, shared.Picture);
        return shared with
        {
            Name = name,
            Line = (int)node.Start.Line,
            Title = YamlText.Value(node, "title") ?? shared.Title,
            Description = YamlText.Value(node, "description") ?? shared.Description,
            Group = YamlText.Value(node, "group"),
            Drives = DashboardReader.ReadReach(node, "drives", YamlText.Node(node, "group") is null ? "tab" : "group"),
            Follows = DashboardReader.ReadReach(node, "follows", "all"),
            RefreshSeconds = YamlText.Node(node, "refresh") is null ? shared.RefreshSeconds : YamlText.Number(node, "refresh", 0),
            Waits = YamlText.Node(node, "waits") is null ? shared.Waits : ReadWaits(node, shared.Picture),
            IsInPanel = YamlText.Node(node, "place") is YamlScalarNode,
            Place = YamlText.Node(node, "place") is null ? shared.Place : ReadPlace(node, shared.Picture),
        };
    }
}
