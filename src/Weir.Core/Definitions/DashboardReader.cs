using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>Reads one dashboard and checks its tiles against the datasets, the grid and one another.</summary>
internal sealed class DashboardReader(YamlText text, IReadOnlyDictionary<string, Dataset> datasets)
{
    private sealed record PictureRule(int Shows, int MostShows, int Groups, int MostGroups, bool CanSplit, Pick Pick);

    private static readonly Dictionary<string, PictureRule> Rules = new()
    {
        ["number"] = new(1, 1, 0, 0, false, Pick.None),
        ["bar"] = new(1, 4, 1, 1, true, Pick.Many),
        ["line"] = new(1, 8, 1, 1, true, Pick.None),
        ["area"] = new(1, 8, 1, 1, true, Pick.None),
        ["pie"] = new(1, 1, 1, 1, false, Pick.Many),
        ["heatmap"] = new(1, 1, 2, 2, false, Pick.Many),
        ["table"] = new(0, 20, 1, 10, false, Pick.Many),
        ["dropdown"] = new(0, 0, 1, 1, false, Pick.Many),
        ["text"] = new(0, 0, 0, 0, false, Pick.None),
    };

    private readonly Dictionary<string, YamlNode> _tiles = [];

    public Dashboard Read(YamlMappingNode root)
    {
        var name = text.Name(root, "dashboard");
        var seen = new HashSet<string>();
        var tabs = new List<Tab>();
        foreach (var node in YamlText.List(root, "tabs"))
        {
            var tab = text.Name(node, "tab");
            if (!seen.Add(tab))
                text.Report("name-taken", YamlText.Node(node, "tab")!, $"There are two tabs {tab}.");
            tabs.Add(ReadTab(node, tab));
        }
        var dashboard = new Dashboard(name, YamlText.Value(root, "title") ?? Titles.FromName(name), YamlText.Value(root, "description"), tabs);
        CheckWiring(dashboard);
        return dashboard;
    }

    private Tab ReadTab(YamlNode node, string name)
    {
        var tiles = new List<Tile>();
        foreach (var tileNode in YamlText.List(node, "tiles"))
        {
            if (ReadTile(tileNode) is not { } tile)
                continue;
            if (tiles.FirstOrDefault(t => t.Place.Overlaps(tile.Place)) is { } other)
                text.Report("overlapping-places", YamlText.Node(tileNode, "place")!, $"{tile.Name} covers cells that {other.Name} covers already.", $"The next free row below is {other.Place.Row + other.Place.Height}.");
            if (tile.Place.Column + tile.Place.Width > 12)
                text.Report("outside-grid", YamlText.Node(tileNode, "place")!, $"{tile.Name} reaches beyond the twelfth column.", $"Its width can be {12 - tile.Place.Column} at most.");
            tiles.Add(tile);
        }
        return new Tab(name, YamlText.Value(node, "title") ?? Titles.FromName(name), tiles);
    }

    private Tile? ReadTile(YamlNode node)
    {
        var name = text.Name(node, "tile");
        if (!_tiles.TryAdd(name, node))
            text.Report("name-taken", YamlText.Node(node, "tile")!, $"There are two tiles {name} on this dashboard.");
        var picture = YamlText.Value(node, "picture")!;
        var rule = Rules[picture];
        var datasetNode = YamlText.Node(node, "dataset") as YamlScalarNode;
        Dataset? dataset = null;
        if (picture == "text")
        {
            if (YamlText.Value(node, "text") is null)
                text.Report("missing-key", node, "A text tile needs the key text.");
        }
        else if (datasetNode is null)
            text.Report("missing-key", node, $"The tile {name} needs a dataset.");
        else if (!datasets.TryGetValue(datasetNode.Value!, out dataset))
            text.Report("unknown-dataset", datasetNode, $"There is no dataset {datasetNode.Value}.", Nearest.Remedy(datasetNode.Value!, datasets.Keys));

        var show = YamlText.Items(YamlText.Node(node, "show")).ToList();
        var by = YamlText.Items(YamlText.Node(node, "by")).ToList();
        var split = YamlText.Node(node, "split") as YamlScalarNode;
        CheckCount(node, "show", show.Count, rule.Shows, rule.MostShows, picture, "measure");
        CheckCount(node, "by", by.Count, rule.Groups, rule.MostGroups, picture, "field");
        if (split is not null && !rule.CanSplit)
            text.Report("cannot-split", split, $"A {picture} can't be split.", "Use bar, line or area.");
        if (split is not null && show.Count > 1)
            text.Report("cannot-split", split, "A tile shows either several measures or one measure split by a field.");
        if (dataset is not null)
        {
            foreach (var item in show.Where(s => !dataset.Measures.ContainsKey(s.Value!)))
                text.Report("unknown-measure", item, $"The dataset {dataset.Name} has no measure {item.Value}.", dataset.Fields.ContainsKey(item.Value!) ? $"{item.Value} is a field; define a measure over it." : Nearest.Remedy(item.Value!, dataset.Measures.Keys));
            foreach (var item in by.Concat(split is null ? [] : [split]))
                CheckField(item, dataset);
            CheckLooking(node, show, by, dataset, picture);
        }
        var change = YamlText.Node(YamlText.Node(node, "change") ?? node, "on") as YamlScalarNode;
        if (change is not null && dataset is not null)
            CheckChange(change, dataset, picture);
        var tile = new Tile(
            name, picture, YamlText.Value(node, "title"), YamlText.Value(node, "description"), dataset?.Name,
            [.. show.Select(s => s.Value!)], [.. by.Select(b => FieldAt.Parse(b.Value!))], split is null ? null : FieldAt.Parse(split.Value!),
            ReadTop(node), ReadSort(node, show, by), change is null ? null : FieldAt.Parse(change.Value!),
            YamlText.IsSet(node, "totals"), YamlText.Value(node, "text"), ReadPick(node, rule),
            ReadReach(node, "drives", "tab"), ReadReach(node, "follows", "all"), ReadPlace(node))
        {
            Line = (int)node.Start.Line,
            RefreshSeconds = YamlText.Node(node, "refresh") is null ? null : YamlText.Number(node, "refresh", 0),
        };
        return picture != "text" && dataset is null ? null : tile;
    }

    private void CheckCount(YamlNode node, string key, int count, int least, int most, string picture, string noun)
    {
        if (count >= least && count <= most)
            return;
        var wanted = least == most ? $"{least}" : $"{least} to {most}";
        text.Report("wrong-count", YamlText.Node(node, key) ?? node, $"A {picture} takes {wanted} {noun}{(most == 1 ? "" : "s")} under {key}; found {count}.");
    }

    private void CheckField(YamlScalarNode item, Dataset dataset)
    {
        var at = FieldAt.Parse(item.Value!);
        if (!dataset.Fields.TryGetValue(at.Field, out var field))
            text.Report("unknown-field", item, $"The dataset {dataset.Name} has no field {at.Field}.", dataset.Measures.ContainsKey(at.Field) ? $"{at.Field} is a measure; put it under show." : Nearest.Remedy(at.Field, dataset.Fields.Keys));
        else if (at.Member is not null && Binder.AtMember(field.Formula, at.Member) is null)
            text.Report("unknown-grain", item, field.Kind.IsTemporal() ? $"{at.Member} is no grain or part of a date." : $"{at.Field} is {field.Kind.Name()}; only a date has a {at.Member}.", field.Kind.IsTemporal() ? Nearest.Remedy(at.Member, Calendar.Names) : null);
    }

    /// <summary>Measures that look at other lines need lines that they can look at.</summary>
    private void CheckLooking(YamlNode node, List<YamlScalarNode> show, List<YamlScalarNode> by, Dataset dataset, string picture)
    {
        foreach (var item in show)
        {
            var overs = dataset.Measures.GetValueOrDefault(item.Value!)?.Formula.All().OfType<Bound.Over>().ToList() ?? [];
            if (overs.Count == 0)
                continue;
            if (picture == "number")
                text.Report("looks-around", item, $"{item.Value} looks at other lines of the tile; a number has none.", "Use change for the period before.");
            else if (item == show[0] && YamlText.Node(node, "top") is not null)
                text.Report("looks-around", item, $"The leading members can't be ranked by {item.Value}, which looks at other lines.", "Show a plain measure first.");
            else if (overs.Any(o => o.Function == OverFunction.Previous) && (by.Count == 0 || Calendar.ParseGrain(FieldAt.Parse(by[0].Value!).Member ?? "") is null))
                text.Report("looks-around", item, $"{item.Value} compares with an earlier period; the tile must be grouped first by a date at a grain.", "For example by: departed.month.");
        }
    }

    private void CheckChange(YamlScalarNode change, Dataset dataset, string picture)
    {
        CheckField(change, dataset);
        if (picture != "number")
            text.Report("cannot-change", change, "Only a number shows the change on the period before.");
        else if (Calendar.ParseGrain(FieldAt.Parse(change.Value!).Member ?? "") is null)
            text.Report("unknown-grain", change, "The change needs a date field at a grain.", "Write, for example, departed.month.");
    }

    private static Top? ReadTop(YamlNode node) => YamlText.Node(node, "top") is { } top
        ? new Top(YamlText.Number(top, "count", 10), YamlText.IsSet(top, "rest"))
        : null;

    private Sort? ReadSort(YamlNode node, List<YamlScalarNode> show, List<YamlScalarNode> by)
    {
        if (YamlText.Node(node, "sort") is not { } sort)
            return null;
        var key = YamlText.Value(sort, "by")!;
        string[] known = [.. show.Concat(by).Select(s => s.Value!)];
        if (!known.Contains(key))
            text.Report("unknown-field", YamlText.Node(sort, "by")!, $"The tile neither shows {key} nor is grouped by it.", Nearest.Remedy(key, known));
        return new Sort(key, YamlText.Value(sort, "order") == "descending");
    }

    private static Pick ReadPick(YamlNode node, PictureRule rule) => YamlText.Value(node, "pick") switch
    {
        "one" => Pick.One,
        "many" => Pick.Many,
        "none" => Pick.None,
        _ => rule.Pick,
    };

    private static Reach ReadReach(YamlNode node, string key, string otherwise) => YamlText.Node(node, key) switch
    {
        YamlScalarNode scalar => new Reach(scalar.Value!, []),
        YamlSequenceNode list => new Reach("list", [.. YamlText.Items(list).Select(i => i.Value!)]),
        _ => new Reach(otherwise, []),
    };

    private static Place ReadPlace(YamlNode node)
    {
        var place = YamlText.Node(node, "place")!;
        return new Place(YamlText.Number(place, "column", 0), YamlText.Number(place, "row", 0), YamlText.Number(place, "width", 1), YamlText.Number(place, "height", 1));
    }

    private void CheckWiring(Dashboard dashboard)
    {
        foreach (var tile in dashboard.Tiles)
            foreach (var key in (ReadOnlySpan<string>)["drives", "follows"])
                foreach (var item in YamlText.Node(_tiles[tile.Name], key) is YamlSequenceNode list ? YamlText.Items(list) : [])
                {
                    if (!_tiles.ContainsKey(item.Value!))
                        text.Report("unknown-tile", item, $"There is no tile {item.Value} on this dashboard.", Nearest.Remedy(item.Value!, _tiles.Keys));
                    else if (item.Value == tile.Name)
                        text.Report("own-wiring", item, $"{tile.Name} {key} itself; a tile is never filtered by its own selection.", severity: Severity.Warning);
                }
        foreach (var tile in dashboard.Tiles.Where(t => t.Picture is not ("number" or "text") && t.Pick == Pick.None && YamlText.Node(_tiles[t.Name], "drives") is not null))
            text.Report("drives-without-pick", YamlText.Node(_tiles[tile.Name], "drives")!, $"{tile.Name} drives others, but nothing can be picked on it.", "Add pick: many.", Severity.Warning);
    }
}
