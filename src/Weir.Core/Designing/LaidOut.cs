using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Pictures;
using Weir.Core.Views;

namespace Weir.Core.Designing;

/// <summary>
/// Changes of an arrangement as steps on the text of its dashboard: where tiles stand, tabs, columns, tiles that are added or taken out.
/// The same edits that viewers make in their views are made here in what everybody gets.
/// </summary>
public static partial class LaidOut
{
    /// <summary>The steps for an edit.</summary>
    /// <param name="dashboard">As its text has it, with the catalogues that tiles may be added from.</param>
    /// <param name="said">What its text says.</param>
    /// <exception cref="DesignException">The edit can't be made, or is none of a definition.</exception>
    public static IReadOnlyList<DesignStep> StepsOf(Dashboard dashboard, JsonNode said, ViewEdit edit)
    {
        var fold = new ViewFold(Freed(dashboard));
        var now = fold.Opening;
        switch (edit)
        {
            case ViewEdit.SetColumns { Columns: 0 } free:
                return Placed(dashboard, now, free);
            case ViewEdit.PlaceTiles or ViewEdit.MoveToTab or ViewEdit.RenameTab or ViewEdit.OrderTabs or ViewEdit.SetColumns:
                var (next, reason) = fold.Apply(now, edit);
                if (reason is not null)
                    throw new DesignException(reason, "Look at the page again.");
                return [.. Differences(said, now, next, edit)];
            case ViewEdit.AddTab add:
                CheckName(add.Tab, dashboard.Tabs.Select(t => t.Name));
                var area = add.Area ?? dashboard.Areas.Select(a => a.Name).FirstOrDefault();
                var tab = new JsonObject { ["tab"] = add.Tab, ["title"] = add.Title.Trim() };
                if (area is not null)
                    tab["area"] = area;
                tab["tiles"] = new JsonArray();
                return [new DesignStep.Insert(["tabs"], tab, null)];
            case ViewEdit.RemoveTab or ViewEdit.HideTab:
                var gone = edit is ViewEdit.RemoveTab r ? r.Tab : ((ViewEdit.HideTab)edit).Tab;
                if (dashboard.Tabs.FirstOrDefault(t => t.Name == gone) is not { } last)
                    throw new DesignException($"There is no tab {gone}.", "Look at the page again.");
                if (dashboard.Tabs.Count == 1)
                    throw new DesignException("One tab stays.", "Add another first.");
                return [.. WithoutNamed(said, [.. last.Tiles.Select(t => t.Name)]), new DesignStep.Remove(["tabs", gone])];
            case ViewEdit.AddTile add:
                return [Added(dashboard, said, now, add)];
            case ViewEdit.CopyTile copy:
                return [Copied(dashboard, said, now, copy)];
            case ViewEdit.RemoveTile or ViewEdit.HideTile:
                var name = edit is ViewEdit.RemoveTile x ? x.Tile : ((ViewEdit.HideTile)edit).Tile;
                return [.. WithoutNamed(said, [name]), new DesignStep.Remove(PathOf(said, name))];
            case ViewEdit.RetitleTile title:
                var at = PathOf(said, title.Tile);
                return
                [
                    title.Title.Trim().Length == 0
                        ? new DesignStep.Remove([.. at, "title"])
                        : new DesignStep.Set([.. at, "title"], title.Title.Trim()),
                ];
            default:
                throw new DesignException("This is a change of somebody's own view, and none of the dashboard.", "Make it in a view.");
        }
    }

    /// <summary>Tiles given as text, put on a tab under names that are not taken, below what stands there.</summary>
    /// <param name="yaml">A tile, or a list of them.</param>
    /// <exception cref="DesignException">It is no text of tiles.</exception>
    public static IReadOnlyList<DesignStep> Pasted(Dashboard dashboard, string tab, string yaml)
    {
        var said = DesignText.SaidOfPiece(yaml);
        var tiles = Items(said is JsonArray ? said : new JsonArray(said?.DeepClone())).ToList();
        if (dashboard.Tabs.FirstOrDefault(t => t.Name == tab) is not { } into)
            throw new DesignException($"There is no tab {tab}.", "Look at the page again.");
        if (tiles.Count is 0 or > 50 || tiles.Any(t => t["tile"] is not JsonValue))
            throw new DesignException("This is no text of a tile.", "It begins with tile: and a name.");
        var standing = new ViewFold(Freed(dashboard))
            .Opening.Tabs.First(t => t.Name == tab)
            .Tiles.Where(t => !t.Tile.IsInPanel)
            .GroupBy(t => t.Section ?? "")
            .ToDictionary(g => g.Key, g => g.Select(t => t.Place).ToList());
        var taken = dashboard.Tiles.Select(t => t.Name).ToHashSet();
        var steps = new List<DesignStep>();
        foreach (var tile in tiles.Select(t => (JsonObject)t.DeepClone()))
        {
            var name = $"{tile["tile"]}";
            var stem = Numbered().Replace(name, "");
            for (var i = 2; !taken.Add(name); i++)
                name = $"{stem}-{i}";
            CheckName(name, []);
            tile["tile"] = name;
            if (into.Groups.All(g => g.Name != $"{tile["group"]}"))
                tile.Remove("group");
            if (into.Sections.All(s => s.Name != $"{tile["section"]}"))
                tile.Remove("section");
            if (tile["place"] is not JsonValue)
            {
                var place = tile["place"] as JsonObject;
                int Of(string key, int otherwise) => int.TryParse($"{place?[key]}", out var n) && n > 0 ? n : otherwise;
                var rows = PictureKinds.All.FirstOrDefault(k => k.Name == $"{tile["picture"]}")?.Rows ?? 4;
                var (width, height) = (Math.Min(12, Of("width", rows <= 2 ? 3 : 6)), Of("height", rows));
                var section = tile["section"]?.ToString();
                tile.Remove("place");
                if (into.ColumnsOf(section) is null)
                {
                    if (!standing.TryGetValue(section ?? "", out var others))
                        standing[section ?? ""] = others = [];
                    var free = Free(others, width, height);
                    others.Add(free);
                    tile["place"] = InGrid(free);
                }
                else if (place?["height"] is not null)
                    tile["place"] = new JsonObject { ["height"] = height };
            }
            steps.Add(new DesignStep.Insert(["tabs", tab, "tiles"], tile, null));
        }
        return steps;
    }

    /// <summary>The first place that is free beside the last tiles, or below them.</summary>
    private static Place Free(IReadOnlyList<Place> standing, int width, int height)
    {
        var below = standing.Select(p => p.Row + p.Height).DefaultIfEmpty(0).Max();
        return Enumerable
            .Range(Math.Max(0, below - height), height + 1)
            .SelectMany(row => Enumerable.Range(0, 13 - width).Select(column => new Place(column, row, width, height)))
            .First(p => !standing.Any(p.Overlaps));
    }

    /// <summary>Where a tile stands in the text, also one that the page does not have since something is wrong with it.</summary>
    private static IReadOnlyList<string> PathOf(JsonNode said, string tile) =>
        Items(said["tabs"]).FirstOrDefault(t => Items(t["tiles"]).Any(x => $"{x["tile"]}" == tile)) is { } tab
            ? ["tabs", $"{tab["tab"]}", "tiles", tile]
            : throw new DesignException($"There is no tile {tile}.", "Look at the page again.");

    /// <summary>Whoever designs may move what viewers may not.</summary>
    public static Dashboard Freed(Dashboard dashboard) =>
        dashboard with
        {
            May = Changes.All,
            Tabs =
            [
                .. dashboard.Tabs.Select(t =>
                    t with
                    {
                        May = Changes.All,
                        Sections = [.. t.Sections.Select(s => s with { May = Changes.All })],
                        Tiles = [.. t.Tiles.Select(x => x with { May = Changes.All })],
                    }
                ),
            ],
        };

    private static IEnumerable<DesignStep> Differences(JsonNode said, Arrangement before, Arrangement after, ViewEdit edit)
    {
        var order = before.Tabs.Select(t => t.Name).ToList();
        foreach (var (tab, i) in after.Tabs.Select((t, i) => (t.Name, i)))
            if (order[i] != tab)
            {
                yield return new DesignStep.Move(["tabs", tab], ["tabs"], order[i]);
                order.Remove(tab);
                order.Insert(i, tab);
            }
        foreach (var tab in after.Tabs)
        {
            var was = before.Tabs.First(t => t.Name == tab.Name);
            if (tab.Title != was.Title)
                yield return new DesignStep.Set(["tabs", tab.Name, "title"], tab.Title);
            if (tab.Columns != was.Columns)
                yield return new DesignStep.Set(["tabs", tab.Name, "columns"], tab.Columns);
            foreach (var (section, old) in tab.Sections.Zip(was.Sections))
                if (section.Columns != old.Columns)
                    yield return new DesignStep.Set(["tabs", tab.Name, "sections", section.Name, "columns"], section.Columns);
        }
        var (from, to) = (before.TabOf(), after.TabOf());
        var written = WrittenTiles(said);
        foreach (var tile in after.Tiles)
        {
            var name = tile.Tile.Name;
            var old = before.Tiles.First(t => t.Tile.Name == name);
            if (from[name] != to[name])
            {
                // A group is a frame on one tab.
                if (written[name].ContainsKey("group"))
                    yield return new DesignStep.Remove(["tabs", from[name], "tiles", name, "group"]);
                yield return new DesignStep.Move(["tabs", from[name], "tiles", name], ["tabs", to[name], "tiles"], null);
            }
            if (tile.Section != old.Section)
                yield return tile.Section is { } section
                    ? new DesignStep.Set(["tabs", to[name], "tiles", name, "section"], section)
                    : new DesignStep.Remove(["tabs", to[name], "tiles", name, "section"]);
        }
        foreach (var tab in after.Tabs)
        foreach (var together in tab.Tiles.Where(t => !t.Tile.IsInPanel).GroupBy(t => t.Section))
        {
            var columns = together.Key is { } s ? tab.Sections.First(x => x.Name == s).Columns : tab.Columns;
            var steps = columns is { } flowing
                ? Flowing(tab, [.. together], flowing, before, edit, written)
                : together
                    .Where(t =>
                        before.Tiles.First(x => x.Tile.Name == t.Tile.Name) is var old
                        && (old.Place != t.Place || old.Section != t.Section || from[t.Tile.Name] != tab.Name)
                    )
                    .Select(t => (DesignStep)new DesignStep.Set(["tabs", tab.Name, "tiles", t.Tile.Name, "place"], InGrid(t.Place)));
            foreach (var step in steps)
                yield return step;
        }
    }

    /// <summary>Tiles that flow stand in the order of the file, and say their height only where it is not the usual one.</summary>
    private static IEnumerable<DesignStep> Flowing(
        ArrangedTab tab,
        IReadOnlyList<ArrangedTile> tiles,
        int columns,
        Arrangement before,
        ViewEdit edit,
        IReadOnlyDictionary<string, JsonObject> written
    )
    {
        var was = before.Tabs.First(t => t.Name == tab.Name);
        var file = was
            .Tiles.Select(t => t.Tile.Name)
            .Concat(tab.Tiles.Select(t => t.Tile.Name))
            .Distinct()
            .Where(n => tab.Tiles.Any(t => t.Tile.Name == n))
            .ToList();
        var now = tiles.OrderBy(t => file.IndexOf(t.Tile.Name)).ToList();
        var wanted = edit switch
        {
            ViewEdit.SetColumns set when set.Tab == tab.Name => tiles.OrderBy(t => t.Place.Row).ThenBy(t => t.Place.Column).ToList(),
            ViewEdit.PlaceTiles { Tiles: [var only] } when tiles.FirstOrDefault(t => t.Tile.Name == only.Tile) is { } moved => Nearest(
                now,
                moved,
                only.Place,
                columns
            ),
            _ => now,
        };
        var order = now.Select(t => t.Tile.Name).ToList();
        for (var i = 0; i < wanted.Count; i++)
        {
            var name = wanted[i].Tile.Name;
            if (order[i] == name)
                continue;
            yield return new DesignStep.Move(["tabs", tab.Name, "tiles", name], ["tabs", tab.Name, "tiles"], order[i]);
            order.Remove(name);
            order.Insert(i, name);
        }
        foreach (var tile in wanted)
        {
            List<string> at = ["tabs", tab.Name, "tiles", tile.Tile.Name, "place"];
            var isUsual =
                tile.Place.Height == tile.Tile.Picture.Rows + (tile.Tile.Repeats ? 2 : 0)
                || tile.Tile.SharedAs is not null && tile.Place.Height == tile.Tile.Place.Height;
            var place = written[tile.Tile.Name]["place"] as JsonObject;
            if (isUsual && place is not null && !(place.Count == 1 && place.ContainsKey("height")))
                yield return new DesignStep.Remove(at);
            else if (!isUsual && !(place is { Count: 1 } && place["height"]?.ToString() == $"{tile.Place.Height}"))
                yield return new DesignStep.Set(at, new JsonObject { ["height"] = tile.Place.Height });
            else if (isUsual && place is { Count: 1 } && place["height"]?.ToString() != $"{tile.Place.Height}")
                yield return new DesignStep.Remove(at);
        }
    }

    /// <summary>The order in which a tile flows as near to where it was put as it can.</summary>
    private static List<ArrangedTile> Nearest(IReadOnlyList<ArrangedTile> now, ArrangedTile moved, Place place, int columns)
    {
        var others = now.Where(t => t.Tile.Name != moved.Tile.Name).ToList();
        List<ArrangedTile> With(int at) => [.. others.Take(at), moved, .. others.Skip(at)];
        int Away(int at)
        {
            var flows = Columns.Flow(columns, [.. With(at).Select(t => t.Place.Height)])[at];
            return Math.Abs(flows.Row - place.Row) + (Math.Abs(flows.Column - place.Column) * 2);
        }
        return With(Enumerable.Range(0, now.Count).MinBy(Away));
    }

    /// <summary>Tiles that flowed get the places that they have.</summary>
    private static List<DesignStep> Placed(Dashboard dashboard, Arrangement now, ViewEdit.SetColumns free)
    {
        // What has places keeps them.
        if (dashboard.Tabs.FirstOrDefault(t => t.Name == free.Tab)?.ColumnsOf(free.Section) is null)
            return [];
        List<string> part = free.Section is { } section
            ? ["tabs", free.Tab, "sections", section, "columns"]
            : ["tabs", free.Tab, "columns"];
        return
        [
            new DesignStep.Remove(part),
            .. now
                .Tabs.First(t => t.Name == free.Tab)
                .Tiles.Where(t => !t.Tile.IsInPanel && t.Section == free.Section)
                .Select(t => new DesignStep.Set(["tabs", free.Tab, "tiles", t.Tile.Name, "place"], InGrid(t.Place))),
        ];
    }

    private static DesignStep.Insert Added(Dashboard dashboard, JsonNode said, Arrangement now, ViewEdit.AddTile add)
    {
        CheckName(add.Tile, WrittenTiles(said).Keys);
        if (dashboard.Catalogues.SelectMany(c => c.Tiles).FirstOrDefault(t => t.SharedAs == add.Shared) is not { } shared)
            throw new DesignException($"There is no tile {add.Shared} to add.", "Choose one of the catalogues.");
        var tile = new JsonObject { ["tile"] = add.Tile, ["shared"] = add.Shared };
        if (add.Section is { } section)
            tile["section"] = section;
        Place(dashboard, now, add.Tab, add.Section, tile, add.Place ?? ViewFold.SizeOf(shared), isGiven: add.Place is not null);
        return new DesignStep.Insert(["tabs", add.Tab, "tiles"], tile, null);
    }

    private static DesignStep.Insert Copied(Dashboard dashboard, JsonNode said, Arrangement now, ViewEdit.CopyTile copy)
    {
        var written = WrittenTiles(said);
        CheckName(copy.As, written.Keys);
        var isHere = PathOf(said, copy.Tile)[1] == copy.Tab;
        var place = now.Tiles.FirstOrDefault(t => t.Tile.Name == copy.Tile)?.Place ?? new Place(0, 0, 4, 4);
        var tile = (JsonObject)written[copy.Tile].DeepClone();
        tile["tile"] = copy.As;
        if (!isHere)
        {
            tile.Remove("section");
            tile.Remove("group");
        }
        if (tile["place"]?.GetValueKind() != System.Text.Json.JsonValueKind.String)
        {
            tile.Remove("place");
            Place(dashboard, now, copy.Tab, tile["section"]?.ToString(), tile, place, isGiven: false);
        }
        return new DesignStep.Insert(["tabs", copy.Tab, "tiles"], tile, null);
    }

    /// <summary>Gives what is added a place, below what stands there; nothing where tiles flow.</summary>
    private static void Place(Dashboard dashboard, Arrangement now, string tab, string? section, JsonObject tile, Place place, bool isGiven)
    {
        if (dashboard.Tabs.FirstOrDefault(t => t.Name == tab) is not { } into)
            throw new DesignException($"There is no tab {tab}.", "Look at the page again.");
        if (into.ColumnsOf(section) is null)
            tile["place"] = InGrid(
                isGiven ? place : place with { Column = 0, Row = Settling.Below(now.Tabs.First(t => t.Name == tab), section) }
            );
    }

    /// <summary>Lists that name what goes are without it, and say none where nothing is left.</summary>
    /// <summary>Takes tiles that go out of the lists that name them.</summary>
    internal static IEnumerable<DesignStep> WithoutNamed(JsonNode said, IReadOnlyList<string> gone)
    {
        foreach (var tab in Items(said["tabs"]))
        foreach (var (list, naming) in new[] { ("tiles", "tile"), ("groups", "group") })
        foreach (var item in Items(tab[list]).Where(t => !gone.Contains($"{t[naming]}")))
        foreach (var key in new[] { "drives", "follows" })
            if (item[key] is JsonArray named && named.Any(n => gone.Contains($"{n}")))
            {
                var left = named.Select(n => $"{n}").Except(gone).ToList();
                yield return new DesignStep.Set(
                    ["tabs", $"{tab["tab"]}", list, $"{item[naming]}", key],
                    left.Count == 0 ? "none" : new JsonArray([.. left.Select(l => (JsonNode)l)])
                );
            }
    }

    private static IEnumerable<JsonObject> Items(JsonNode? list) => (list as JsonArray)?.OfType<JsonObject>() ?? [];

    private static Dictionary<string, JsonObject> WrittenTiles(JsonNode said) =>
        Items(said["tabs"]).SelectMany(t => Items(t["tiles"])).GroupBy(t => $"{t["tile"]}").ToDictionary(g => g.Key, g => g.First());

    private static JsonObject InGrid(Place place) =>
        new()
        {
            ["column"] = place.Column,
            ["row"] = place.Row,
            ["width"] = place.Width,
            ["height"] = place.Height,
        };

    private static void CheckName(string name, IEnumerable<string> taken)
    {
        if (!Shapes.IsName(name))
            throw new DesignException($"'{name}' can't be a name.", "Use letters, digits, _ and -, a letter first.");
        if (taken.Contains(name))
            throw new DesignException($"There is {name} already.", "Choose another name.");
    }

    [GeneratedRegex(@"-\d+\z")]
    private static partial Regex Numbered();
}
