using Weir.Core.Definitions;
using Weir.Core.Interaction;

namespace Weir.Core.Views;

/// <summary>Sees to it that no tile of a tab covers another.</summary>
internal static class Settling
{
    /// <summary>
    /// Moves tiles down until none covers another of the same section. What viewers may not move keeps its place before all others, then
    /// those that are named. It is done for each edit of a view that may have thousands: what stays as it is is the same object.
    /// </summary>
    public static ArrangedTab Of(ArrangedTab tab, IEnumerable<string> first)
    {
        ICollection<string> keep = first is ICollection<string> { Count: <= 4 } few ? few : first.ToHashSet();
        var order = new List<(int Turn, int Row, int Column, int At)>(tab.Tiles.Count);
        for (var at = 0; at < tab.Tiles.Count; at++)
            if (tab.Tiles[at] is { Hidden: false, Tile.IsInPanel: false } tile)
                order.Add((TurnOf(tile, keep), tile.Place.Row, tile.Place.Column, at));
        order.Sort();
        ArrangedTile[]? moved = null;
        var standing = new List<(string? Section, Place Place)>(order.Count);
        foreach (var (_, _, _, at) in order)
        {
            var (tile, place) = (tab.Tiles[at], tab.Tiles[at].Place);
            while (BelowWhatCovers(standing, tile.Section, place) is { } row)
                place = place with { Row = row };
            standing.Add((tile.Section, place));
            if (place == tile.Place)
                continue;
            moved ??= [.. tab.Tiles];
            moved[at] = tile with { Place = place };
        }
        return moved is null ? tab : tab with { Tiles = moved };
    }

    /// <summary>When a tile is given its place, before or after others; those of one turn by where they stand.</summary>
    private static int TurnOf(ArrangedTile tile, ICollection<string> keep) =>
        (tile.May.HasFlag(Changes.Move) ? 2 : 0) + (keep.Contains(tile.Tile.Name) ? 0 : 1);

    /// <summary>The first row below all that a place would cover in its section; null if it covers nothing.</summary>
    private static int? BelowWhatCovers(List<(string? Section, Place Place)> standing, string? section, Place place)
    {
        int? below = null;
        foreach (var (of, other) in standing)
            if (of == section && place.Overlaps(other))
                below = Math.Max(below ?? 0, other.Row + other.Height);
        return below;
    }

    /// <summary>The first row below all that stands in a section of a tab.</summary>
    public static int Below(ArrangedTab tab, string? section) =>
        tab
            .Tiles.Where(t => !t.Hidden && !t.Tile.IsInPanel && t.Section == section)
            .Select(t => t.Place.Row + t.Place.Height)
            .DefaultIfEmpty(0)
            .Max();
}
