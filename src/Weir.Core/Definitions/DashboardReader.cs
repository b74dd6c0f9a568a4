using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>Reads one dashboard and checks its tiles against the datasets, the grid and one another.</summary>
/// <param name="brokenDatasets">The datasets whose files can't be read: whoever names one has no fault for that.</param>
/// <param name="pictures">The kinds of picture there are.</param>
internal sealed class DashboardReader(
    YamlText text,
    IReadOnlyDictionary<string, Dataset> datasets,
    IReadOnlySet<string> brokenDatasets,
    IReadOnlyList<PictureKind> pictures
)
{
    private TileVariants _variants = null!;
    private readonly Dictionary<string, YamlNode> _tiles = [];
    private readonly Dictionary<string, YamlNode> _groups = [];

    public WrittenDashboard Read(YamlMappingNode root)
    {
        var name = text.Name(root, "dashboard");
        _variants = new TileVariants(text, root);
        var seen = new HashSet<string>();
        var tabs = new List<Tab>();
        foreach (var (key, noun, most) in new[] { ("tiles", "tiles", MaximumTiles), ("groups", "groups", MaximumGroups) })
            if (YamlText.List(root, "tabs").Sum(t => YamlText.List(t, key).Count()) is var count && count > most)
            {
                text.Report(
                    "too-many-tiles",
                    root,
                    $"The dashboard has {count} {noun}; at most {most} are read.",
                    "Make several dashboards of it."
                );
                return new WrittenDashboard(new Dashboard(name, name, null, []), text, _tiles);
            }
        foreach (var node in YamlText.List(root, "tabs"))
        {
            var tab = text.Name(node, "tab");
            if (!seen.Add(tab))
                text.Report("name-taken", YamlText.Node(node, "tab")!, $"There are two tabs {tab}.");
            tabs.Add(ReadTab(node, tab));
        }
        var dashboard = new Dashboard(
            name,
            YamlText.Value(root, "title") ?? Titles.FromName(name),
            YamlText.Value(root, "description"),
            tabs
        )
        {
            AppliesOnButton = YamlText.Value(root, "apply") == "on_button",
            Parameters = _variants.All([.. tabs.SelectMany(t => t.Tiles)], datasets),
        };
        CheckWiring(dashboard);
        return new WrittenDashboard(dashboard, text, _tiles);
    }

    private Tab ReadTab(YamlNode node, string name)
    {
        var groups = YamlText.List(node, "groups").Select(ReadGroup).ToList();
        var tiles = new List<Tile>();
        foreach (var tileNode in YamlText.List(node, "tiles"))
        {
            var written = text.Name(tileNode, "tile");
            if (!_tiles.TryAdd(written, tileNode))
            {
                text.Report("name-taken", YamlText.Node(tileNode, "tile")!, $"There are two tiles {written} on this dashboard.");
                continue;
            }
            text.Cancellation.ThrowIfCancellationRequested();
            if (_variants.ReadEvery(tileNode, () => ReadTile(tileNode, written)) is not { } tile)
                continue;
            if (!tile.IsInPanel && tiles.FirstOrDefault(t => !t.IsInPanel && t.Place.Overlaps(tile.Place)) is { } other)
                text.Report(
                    "overlapping-places",
                    YamlText.Node(tileNode, "place")!,
                    $"{tile.Name} covers cells that {other.Name} covers already.",
                    $"The next free row below is {other.Place.Row + other.Place.Height}."
                );
            if (tile.Place.Column + tile.Place.Width > 12)
                text.Report(
                    "outside-grid",
                    YamlText.Node(tileNode, "place")!,
                    $"{tile.Name} reaches beyond the twelfth column.",
                    $"Its width can be {12 - tile.Place.Column} at most."
                );
            if (tile.Group is { } group && groups.All(g => g.Name != group) && !text.IsBroken(group))
                text.Report(
                    "unknown-group",
                    YamlText.Node(tileNode, "group")!,
                    $"This tab has no group {group}.",
                    groups.Count == 0 ? "Add groups: to the tab." : Nearest.Remedy(group, groups.Select(g => g.Name))
                );
            tiles.Add(tile);
        }
        return new Tab(name, YamlText.Value(node, "title") ?? Titles.FromName(name), tiles) { Groups = groups };
    }

    private TileGroup ReadGroup(YamlNode node)
    {
        var name = text.Name(node, "group");
        if (!_groups.TryAdd(name, node))
            text.Report("name-taken", YamlText.Node(node, "group")!, $"There are two groups {name} on this dashboard.");
        return new TileGroup(name, YamlText.Value(node, "title") ?? Titles.FromName(name), ReadReach(node, "drives", "none"));
    }

    /// <summary>What a scalar says, with the choices of the dashboard's parameters put in.</summary>
    private string Text(YamlScalarNode node) => _variants.Text(node);

    private Tile? ReadTile(YamlNode node, string name)
    {
        if (ReadPicture((YamlScalarNode)YamlText.Node(node, "picture")!) is not { } picture)
            return null;
        CheckOwnKeys(node, picture);
        var dataset = picture.HasData ? ReadDataset(node, name) : null;
        var show = YamlText.Items(YamlText.Node(node, "show")).ToList();
        var by = YamlText.Items(YamlText.Node(node, "by")).ToList();
        var split = YamlText.Node(node, "split") as YamlScalarNode;
        CheckSlots(node, picture, show, by, split);
        if (dataset is not null)
            CheckNames(node, dataset, show, by, split, picture);
        var change = YamlText.Node(YamlText.Node(node, "change") ?? node, "on") as YamlScalarNode;
        if (change is not null && dataset is not null)
            CheckChange(change, dataset);
        var pick = ReadPick(node, picture, by, dataset);
        var isInPanel = YamlText.Node(node, "place") is YamlScalarNode;
        if (isInPanel)
            CheckPanel(node, picture);
        var tile = new Tile(
            name,
            picture,
            YamlText.Value(node, "title"),
            YamlText.Value(node, "description"),
            dataset?.Name,
            [.. show.Select(Text)],
            [.. by.Select(b => FieldAt.Parse(Text(b)))],
            split is null ? null : FieldAt.Parse(Text(split)),
            ReadTop(node),
            ReadSort(node, show, by),
            change is null ? null : FieldAt.Parse(Text(change)),
            YamlText.IsSet(node, "totals"),
            YamlText.Value(node, "text"),
            pick,
            ReadReach(node, "drives", YamlText.Node(node, "group") is null ? "tab" : "group"),
            ReadReach(node, "follows", "all"),
            ReadPlace(node)
        )
        {
            Line = (int)node.Start.Line,
            IsInPanel = isInPanel,
            IsRequired = YamlText.IsSet(node, "required"),
            Opening = OpeningReader.Read(text, node, pick, KindsOf(by, dataset)),
            Ranges = picture.Question == QuestionShape.Ranges ? ValueRanges.Read(text, node) : null,
            Group = YamlText.Value(node, "group"),
            Drill = ReadDrill(node, by, split, dataset),
            RefreshSeconds = YamlText.Node(node, "refresh") is null ? null : YamlText.Number(node, "refresh", 0),
        };
        return picture.HasData && dataset is null ? null : tile;
    }

    private PictureKind? ReadPicture(YamlScalarNode node)
    {
        if (pictures.FirstOrDefault(p => p.Name == Text(node)) is { } picture)
            return picture;
        string[] known = [.. pictures.Select(p => p.Name)];
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
        if (!datasets.TryGetValue(node.Value!, out var dataset) && !brokenDatasets.Contains(node.Value!))
            text.Report("unknown-dataset", node, $"There is no dataset {node.Value}.", Nearest.Remedy(node.Value!, datasets.Keys));
        return dataset;
    }

    /// <summary>How many measures and fields a tile has, held against what its kind takes.</summary>
    private void CheckSlots(YamlNode node, PictureKind picture, List<YamlScalarNode> show, List<YamlScalarNode> by, YamlScalarNode? split)
    {
        CheckCount(node, "show", show.Count, picture.Show, picture, "measure");
        CheckCount(node, "by", by.Count, picture.By, picture, "field");
        if (split is not null && !picture.CanSplit)
            text.Report(
                "cannot-split",
                split,
                $"A {picture} can't be split.",
                $"Use {Sentences.Or(pictures.Where(p => p.CanSplit).Select(p => p.Name))}."
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
        foreach (
            var own in pictures
                .Where(p => p != picture)
                .SelectMany(p => p.Own)
                .Where(o => picture.Own.All(mine => mine.Key.Name != o.Key.Name))
        )
            if (YamlText.Node(node, own.Key.Name) is { } written)
                text.Report(own.Code, written, own.NeedsOwn, severity: own.Severity);
        foreach (var key in KeysOfMembers.All.Except(picture.OfMembers))
            if (YamlText.Node(node, key.Name) is { } written)
                text.Report(
                    "no-effect",
                    written,
                    $"A {picture} has no use for {key.Name}.",
                    $"{Sentences.Or(pictures.Where(p => p.OfMembers.Contains(key)).Select(p => p.Name))} would have.",
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
        [
            .. by.Select(b => FieldAt.Parse(Text(b)))
                .Select(at =>
                    dataset?.Fields.GetValueOrDefault(at.Field) is not { } field ? null
                    : at.Member is { } member ? Binder.AtMember(field.Formula, member)?.Kind
                    : (ValueKind?)field.Kind
                ),
        ];

    private Pick ReadPick(YamlNode node, PictureKind picture, List<YamlScalarNode> by, Dataset? dataset)
    {
        var kinds = KindsOf(by, dataset);
        foreach (var (item, i) in by.Select((b, i) => (b, i)))
            if (kinds[i] is { } found && !picture.By.Fits(found, dataset?.Fields.GetValueOrDefault(Text(item)) is { HasNames: true }))
                text.Report("type-mismatch", item, $"A {picture} needs {picture.By.Wanted}; {Text(item)} is {found.Name()}.");
        var kind = kinds.Count == 1 ? kinds[0] : null;
        var pick = YamlText.Value(node, "pick") switch
        {
            "one" => Pick.One,
            "many" => Pick.Many,
            "range" => Pick.Range,
            "none" => Pick.None,
            _ => picture.Pick,
        };
        if (picture.PicksOneWay && pick != picture.Pick)
            text.Report(
                "cannot-pick",
                YamlText.Node(node, "pick")!,
                $"A {picture} picks {(picture.Pick == Pick.Range ? "a range" : "a piece of text")}.",
                "Leave pick out."
            );
        else if (pick == Pick.Range && (by.Count != 1 || kind is { } k && !k.IsTemporal() && !k.IsNumber()))
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

    private static Reach ReadReach(YamlNode node, string key, string otherwise) =>
        YamlText.Node(node, key) switch
        {
            YamlScalarNode scalar => new Reach(scalar.Value!, []),
            YamlSequenceNode list => new Reach("list", [.. YamlText.Items(list).Select(i => i.Value!).Distinct()]),
            _ => new Reach(otherwise, []),
        };

    private static Place ReadPlace(YamlNode node)
    {
        var place = YamlText.Node(node, "place")!;
        return place is YamlScalarNode
            ? new Place(0, 0, 12, 1)
            : new Place(
                YamlText.Number(place, "column", 0),
                YamlText.Number(place, "row", 0),
                YamlText.Number(place, "width", 1),
                YamlText.Number(place, "height", 1)
            );
    }

    private void CheckWiring(Dashboard dashboard)
    {
        foreach (var (name, node) in _tiles.Concat(_groups))
        foreach (var key in (ReadOnlySpan<string>)["drives", "follows"])
        foreach (var item in YamlText.Node(node, key) is YamlSequenceNode list ? YamlText.Items(list) : [])
        {
            if (!_tiles.ContainsKey(item.Value!) && text.IsBroken(item.Value!))
                continue;
            if (!_tiles.ContainsKey(item.Value!))
                text.Report(
                    "unknown-tile",
                    item,
                    $"There is no tile {item.Value} on this dashboard.",
                    Nearest.Remedy(item.Value!, _tiles.Keys)
                );
            else if (item.Value == name && _tiles.ContainsValue(node))
                text.Report(
                    "own-wiring",
                    item,
                    $"{name} {key} itself; a tile is never filtered by its own selection.",
                    severity: Severity.Warning
                );
        }
        foreach (
            var tile in dashboard.Tiles.Where(t =>
                t.Picture.Pick != Pick.None && t.Pick == Pick.None && YamlText.Node(_tiles[t.Name], "drives") is not null
            )
        )
            text.Report(
                "drives-without-pick",
                YamlText.Node(_tiles[tile.Name], "drives")!,
                $"{tile.Name} drives others, but nothing can be picked on it.",
                "Add pick: many.",
                Severity.Warning
            );
        foreach (var tile in dashboard.Tiles.Where(t => t.Drives.Kind == "group" && t.Group is null))
            text.Report(
                "unknown-group",
                YamlText.Node(_tiles[tile.Name], "drives")!,
                $"{tile.Name} drives its group, but belongs to none.",
                "Add group: name."
            );
    }

    /// <summary>More tiles than any page can show.</summary>
    private const int MaximumTiles = 2_000;

    /// <summary>More groups than any page can show.</summary>
    private const int MaximumGroups = 200;
}
