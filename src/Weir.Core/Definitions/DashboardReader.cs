using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>Reads one dashboard and checks its tiles against the datasets, the grid and one another.</summary>
/// <param name="known">What its tiles may name.</param>
/// <param name="catalogues">The catalogues whose tiles it may place.</param>
/// <param name="brokenCatalogues">The catalogues whose files can't be read, as with datasets.</param>
internal sealed class DashboardReader(
    YamlText text,
    TileSurroundings known,
    IReadOnlyDictionary<string, Catalogue> catalogues,
    IReadOnlySet<string> brokenCatalogues
)
{
    private TileVariants _variants = null!;
    private TileReader _reader = null!;
    private readonly Dictionary<string, YamlNode> _tiles = [];
    private readonly Dictionary<string, YamlNode> _groups = [];

    public WrittenDashboard Read(YamlMappingNode root)
    {
        var name = text.Name(root, "dashboard");
        _variants = new TileVariants(text, root);
        _reader = new TileReader(text, known, _variants);
        if (IsTooLarge(root))
            return new WrittenDashboard(new Dashboard(name, name, null, []), text, _tiles);
        var areas = Named(root, "areas", "area", "areas").Select(a => new Area(a.Name, TitleOf(a.Node, a.Name))).ToList();
        var may = ReadMay(root, Changes.All);
        var tabs = Named(root, "tabs", "tab", "tabs").Select(t => ReadTab(t.Node, t.Name, areas, may)).ToList();
        var dashboard = new Dashboard(name, TitleOf(root, name), YamlText.Value(root, "description"), tabs)
        {
            AppliesOnButton = YamlText.Value(root, "apply") == "on_button",
            Parameters = _variants.All([.. tabs.SelectMany(t => t.Tiles)], known.Datasets),
            Areas = areas,
            May = may,
            Origin = YamlText.Value(root, "origin"),
            OffersTiles = YamlText.IsSet(root, "offers_tiles"),
        };
        CheckWiring(dashboard);
        return new WrittenDashboard(dashboard, text, _tiles);
    }

    private bool IsTooLarge(YamlNode root)
    {
        foreach (var (key, most) in new[] { ("tiles", MaximumTiles), ("groups", MaximumGroups), ("sections", MaximumGroups) })
            if (YamlText.List(root, "tabs").Sum(t => YamlText.List(t, key).Count()) is var count && count > most)
            {
                text.Report(
                    "too-many-tiles",
                    root,
                    $"The dashboard has {count} {key}; at most {most} are read.",
                    "Make several dashboards of it."
                );
                return true;
            }
        return false;
    }

    /// <summary>The items of a list that have names; one of each, and a fault for another of the same.</summary>
    private IEnumerable<(YamlNode Node, string Name)> Named(YamlNode parent, string list, string key, string noun)
    {
        var seen = new HashSet<string>();
        foreach (var node in YamlText.List(parent, list))
        {
            var name = text.Name(node, key);
            if (!seen.Add(name))
                text.Report("name-taken", YamlText.Node(node, key)!, $"There are two {noun} {name}.");
            yield return (node, name);
        }
    }

    private static string TitleOf(YamlNode node, string name) => YamlText.Value(node, "title") ?? Titles.FromName(name);

    /// <summary>What viewers may change of something that stands in something else.</summary>
    private static Changes ReadMay(YamlNode node, Changes outer) =>
        YamlText.IsSet(node, "fixed") ? Changes.None
        : YamlText.Node(node, "viewers_may") is { } said ? ChangeWords.Read(said)
        : outer;

    private static bool SaysMay(YamlNode node) => YamlText.IsSet(node, "fixed") || YamlText.Node(node, "viewers_may") is not null;

    private int? ReadColumns(YamlNode node)
    {
        if (YamlText.Node(node, "columns") is not { } written)
            return null;
        var number = YamlText.Number(node, "columns", 1);
        if (Columns.Numbers.Contains(number))
            return number;
        text.Report(
            "wrong-value",
            written,
            $"Twelve can't be parted into {number} equal columns.",
            $"Use {Sentences.Or(Columns.Numbers.Select(n => $"{n}"))}, or give the tiles places."
        );
        return 1;
    }

    private Tab ReadTab(YamlNode node, string name, List<Area> areas, Changes outer)
    {
        var may = ReadMay(node, outer);
        var groups = YamlText.List(node, "groups").Select(ReadGroup).ToList();
        var sections = Named(node, "sections", "section", "sections on this tab")
            .Select(s => new TabSection(s.Name, TitleOf(s.Node, s.Name), YamlText.Value(s.Node, "opens") == "folded")
            {
                Columns = ReadColumns(s.Node),
                May = ReadMay(s.Node, may),
                SaysMay = SaysMay(s.Node) || SaysMay(node),
            })
            .ToList();
        var tab = new Tab(name, TitleOf(node, name), [])
        {
            Groups = groups,
            Area = ReadArea(node, name, areas),
            Sections = sections,
            Columns = ReadColumns(node),
            Fit = YamlText.Value(node, "fit") == "window" ? Fit.Window : Fit.Content,
            May = may,
            SaysMay = SaysMay(node),
        };
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
            if (
                (YamlText.Node(tileNode, "shared") is { } shared ? Place(tileNode, shared, written) : _reader.Read(tileNode, written))
                is not { } read
            )
                continue;
            var section = YamlText.Value(tileNode, "section");
            var within = sections.FirstOrDefault(s => s.Name == section);
            var tile = read.Changed(t =>
                t with
                {
                    Section = within?.Name,
                    May = ReadMay(tileNode, within?.May ?? may),
                    SaysMay = SaysMay(tileNode) || within?.SaysMay == true || tab.SaysMay,
                }
            );
            CheckStanding(tileNode, tile, section, tab, tiles);
            tiles.Add(tile);
        }
        return tab with { Tiles = Flowed(tab, tiles) };
    }

    private string? ReadArea(YamlNode tab, string name, List<Area> areas)
    {
        if (YamlText.Node(tab, "area") is not YamlScalarNode { Value: { } written } node)
        {
            if (areas.Count > 0)
                text.Report("missing-key", tab, $"The tab {name} needs an area, since the dashboard has areas.", "Add area: name.");
            return areas.FirstOrDefault()?.Name;
        }
        if (areas.Any(a => a.Name == written))
            return written;
        if (!text.IsBroken(written))
            text.Report(
                "unknown-area",
                node,
                $"This dashboard has no area {written}.",
                areas.Count == 0 ? "Add areas: to the dashboard." : Nearest.Remedy(written, areas.Select(a => a.Name))
            );
        return null;
    }

    /// <summary>A tile of a catalogue that is placed here: what it shows is said there, where it stands and what it is linked to here.</summary>
    private Tile? Place(YamlNode node, YamlNode shared, string name)
    {
        foreach (var key in ((YamlMappingNode)node).Children.Keys.OfType<YamlScalarNode>().Where(k => !OfPlacing.Contains(k.Value!)))
            text.Report(
                "shared-tile",
                key,
                $"What {name} shows is said in its catalogue; {key.Value} has no place here.",
                "Take it out, or leave out shared: and define a tile of its own."
            );
        var written = ((YamlScalarNode)shared).Value!;
        var at = written.Split('/', 2);
        if (at.Length < 2 || !catalogues.TryGetValue(at[0], out var catalogue))
        {
            if (!brokenCatalogues.Contains(at[0]))
                text.Report(
                    "unknown-catalogue",
                    shared,
                    at.Length < 2 ? $"{written} names no tile of a catalogue." : $"There is no catalogue {at[0]}.",
                    at.Length < 2 ? "Write shared: catalogue/tile." : Nearest.Remedy(at[0], catalogues.Keys)
                );
            return null;
        }
        if (catalogue.Tiles.FirstOrDefault(t => t.Name == at[1]) is not { } tile)
        {
            if (!catalogue.Broken.Contains(at[1]))
                text.Report(
                    "unknown-tile",
                    shared,
                    $"The catalogue {at[0]} has no tile {at[1]}.",
                    Nearest.Remedy(at[1], catalogue.Tiles.Select(t => t.Name))
                );
            return null;
        }
        return _reader.Placed(node, name, tile) with { SharedAs = written };
    }

    private static readonly HashSet<string> OfPlacing =
    [
        "tile",
        "shared",
        "title",
        "description",
        "group",
        "drives",
        "follows",
        "refresh",
        "waits",
        "place",
        "section",
        "viewers_may",
        "fixed",
    ];

    /// <summary>That a tile stands where there is room for it.</summary>
    private void CheckStanding(YamlNode node, Tile tile, string? section, Tab tab, List<Tile> before)
    {
        if (section is not null && tile.Section is null && !text.IsBroken(section))
            text.Report(
                "unknown-section",
                YamlText.Node(node, "section")!,
                $"This tab has no section {section}.",
                tab.Sections.Count == 0 ? "Add sections: to the tab." : Nearest.Remedy(section, tab.Sections.Select(s => s.Name))
            );
        if (tile.Group is { } group && tab.Groups.All(g => g.Name != group) && !text.IsBroken(group))
            text.Report(
                "unknown-group",
                YamlText.Node(node, "group")!,
                $"This tab has no group {group}.",
                tab.Groups.Count == 0 ? "Add groups: to the tab." : Nearest.Remedy(group, tab.Groups.Select(g => g.Name))
            );
        if (tile.IsInPanel)
            return;
        var place = YamlText.Node(node, "place");
        if (tab.ColumnsOf(tile.Section) is not null)
        {
            foreach (var key in (ReadOnlySpan<string>)["column", "row", "width"])
                if (place is not null && YamlText.Node(place, key) is { } idle)
                    text.Report(
                        "no-effect",
                        idle,
                        $"{tile.Name} flows into a column, so it has no {key} of its own.",
                        "Say its height at most, or take columns: out of what it stands in.",
                        Severity.Warning
                    );
            return;
        }
        if (
            place is null
            || ((string[])["column", "row", "width", "height"]).FirstOrDefault(k => YamlText.Node(place, k) is null) is { } missing
                && !text.IsBroken(missing)
        )
        {
            if (place is null && text.IsBroken("place"))
                return;
            text.Report(
                "missing-key",
                place ?? node,
                place is null ? $"The tile {tile.Name} needs a place." : $"The place of {tile.Name} needs column, row, width and height.",
                "Where tiles flow, columns: is said on the tab or the section."
            );
            return;
        }
        if (before.FirstOrDefault(t => !t.IsInPanel && t.Section == tile.Section && t.Place.Overlaps(tile.Place)) is { } other)
            text.Report(
                "overlapping-places",
                place,
                $"{tile.Name} covers cells that {other.Name} covers already.",
                $"The next free row below is {other.Place.Row + other.Place.Height}."
            );
        if (tile.Place.Column + tile.Place.Width > 12)
            text.Report(
                "outside-grid",
                place,
                $"{tile.Name} reaches beyond the twelfth column.",
                $"Its width can be {12 - tile.Place.Column} at most."
            );
    }

    /// <summary>The tiles with the places of those that flow into columns.</summary>
    private static List<Tile> Flowed(Tab tab, List<Tile> tiles)
    {
        var places = TabFlow.Of(tab, tiles);
        return [.. tiles.Select(t => places.TryGetValue(t.Name, out var place) ? t.Changed(x => x with { Place = place }) : t)];
    }

    private TileGroup ReadGroup(YamlNode node)
    {
        var name = text.Name(node, "group");
        if (!_groups.TryAdd(name, node))
            text.Report("name-taken", YamlText.Node(node, "group")!, $"There are two groups {name} on this dashboard.");
        return new TileGroup(name, YamlText.Value(node, "title") ?? Titles.FromName(name), ReadReach(node, "drives", "none"));
    }

    internal static Reach ReadReach(YamlNode node, string key, string otherwise) =>
        YamlText.Node(node, key) switch
        {
            YamlScalarNode scalar => new Reach(scalar.Value!, []),
            YamlSequenceNode list => new Reach("list", [.. YamlText.Items(list).Select(i => i.Value!).Distinct()]),
            _ => new Reach(otherwise, []),
        };

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
