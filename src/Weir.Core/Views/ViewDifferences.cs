using Weir.Core.Definitions;
using Weir.Core.Interaction;

namespace Weir.Core.Views;

/// <summary>A tile that stands, or is drawn, otherwise in a view than in the opening view.</summary>
/// <param name="IsBoth">True if its developer changed it, too, since the viewer's last edit: the viewer's side holds.</param>
public sealed record TileDifference(string Tile, string Mine, string Published, bool IsBoth);

/// <summary>How a view differs from the opening view, and what came to that since.</summary>
/// <param name="Came">Tiles that an older version did not have.</param>
public sealed record ViewDifferences(IReadOnlyList<string> Came, IReadOnlyList<TileDifference> Tiles)
{
    /// <summary>The tiles of the opening view that a viewer has otherwise.</summary>
    /// <param name="fold">The dashboard as the viewer has it without edits.</param>
    /// <param name="mine">The viewer's arrangement, its tiles as they are defined.</param>
    /// <param name="older">The dashboard as it was published when the viewer last edited; null if that is the present one.</param>
    public static ViewDifferences Of(ViewFold fold, Arrangement mine, Arrangement? older)
    {
        var published = Standing(fold.Opening);
        var (now, then) = (Standing(mine), older is null ? null : Standing(older));
        var came = then is null ? [] : published.Keys.Where(t => !then.ContainsKey(t)).ToList();
        var tiles = new List<TileDifference>();
        foreach (var (name, (tab, tile)) in published)
        {
            var (on, own) = now[name];
            var written =
                TableColumns.AreAlike(tile.Columns, own.Columns) ? ""
                : TableColumns.HaveLinesAlike(tile.Columns, own.Columns) ? ", its columns otherwise"
                : ", its columns or lines otherwise";
            if (InWords(fold.Opening, tab, tile) == InWords(mine, on, own) + written)
                continue;
            var isBoth =
                then?.GetValueOrDefault(name) is (var before, { } was)
                && (
                    (before, was.Place, was.Section, was.Hidden) != (tab, tile.Place, tile.Section, tile.Hidden)
                    || own.Drawing is not null && Drawn(was.Tile) != Drawn(tile.Tile)
                );
            tiles.Add(new TileDifference(name, InWords(mine, on, own) + written, InWords(fold.Opening, tab, tile), isBoth));
        }
        return new ViewDifferences(came, tiles);
    }

    private static Dictionary<string, (string Tab, ArrangedTile Tile)> Standing(Arrangement arrangement) =>
        arrangement
            .Tabs.SelectMany(t => t.Tiles.Where(x => !x.Own).Select(x => (t.Name, x)))
            .ToDictionary(x => x.x.Tile.Name, x => (x.Name, x.x));

    /// <summary>What a viewer's drawing takes the place of, as one text.</summary>
    private static string Drawn(Tile tile) =>
        $"{tile.Picture} {string.Join(' ', tile.Show)} by {string.Join(' ', tile.By)} {tile.Split} {tile.Sort} {tile.Top}";

    /// <summary>Where a tile stands, and how it is drawn if not as it is defined.</summary>
    private static string InWords(Arrangement arrangement, string tab, ArrangedTile tile)
    {
        var on = arrangement.Tabs.First(t => t.Name == tab);
        var section = on.Sections.FirstOrDefault(s => s.Name == tile.Section);
        var at =
            tile.Hidden ? "hidden"
            : tile.Tile.IsInPanel ? "in the side panel"
            : $"column {tile.Place.Column + 1}, row {tile.Place.Row + 1}, {tile.Place.Width} wide, {tile.Place.Height} high";
        return $"{on.Title}{(section is null ? "" : $", {section.Title}")}: {at}{(tile.Drawing is null ? "" : ", drawn otherwise")}";
    }
}
