using Weir.Core.Definitions;
using Weir.Core.Interaction;

namespace Weir.Core.Views;

/// <summary>Sees to it that no tile of a tab covers another.</summary>
internal static class Settling
{
    /// <summary>
    /// Moves tiles down until none covers another of the same section. What viewers may not move keeps its place before all others, then
    /// those that are named.
    /// </summary>
    public static ArrangedTab Of(ArrangedTab tab, IEnumerable<string> first)
    {
        var keep = first.ToHashSet();
        var settled = new Dictionary<string, Place>();
        foreach (var together in tab.Tiles.Where(t => !t.Hidden && !t.Tile.IsInPanel).GroupBy(t => t.Section))
        {
            var standing = new List<Place>();
            foreach (
                var tile in together
                    .OrderBy(t => t.May.HasFlag(Changes.Move))
                    .ThenBy(t => !keep.Contains(t.Tile.Name))
                    .ThenBy(t => t.Place.Row)
                    .ThenBy(t => t.Place.Column)
            )
            {
                var place = tile.Place;
                while (standing.Where(place.Overlaps).ToList() is { Count: > 0 } others)
                    place = place with { Row = others.Max(o => o.Row + o.Height) };
                standing.Add(place);
                settled[tile.Tile.Name] = place;
            }
        }
        return tab with
        {
            Tiles = [.. tab.Tiles.Select(t => settled.TryGetValue(t.Tile.Name, out var place) ? t with { Place = place } : t)],
        };
    }

    /// <summary>The first row below all that stands in a section of a tab.</summary>
    public static int Below(ArrangedTab tab, string? section) =>
        tab
            .Tiles.Where(t => !t.Hidden && !t.Tile.IsInPanel && t.Section == section)
            .Select(t => t.Place.Row + t.Place.Height)
            .DefaultIfEmpty(0)
            .Max();
}
