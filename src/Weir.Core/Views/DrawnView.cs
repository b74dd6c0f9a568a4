using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;

namespace Weir.Core.Views;

/// <summary>An arrangement whose tiles are drawn as the viewer wants them.</summary>
/// <param name="Arrangement">Each tile as it is to be asked for and drawn.</param>
/// <param name="Defined">The tiles that are drawn otherwise, as they are defined.</param>
/// <param name="OfVisit">Those of them that are for this visit only.</param>
/// <param name="Refused">Tiles whose drawing in the view has no meaning any more, with the reason.</param>
public sealed record DrawnView(
    Arrangement Arrangement,
    IReadOnlyDictionary<string, Tile> Defined,
    IReadOnlySet<string> OfVisit,
    IReadOnlyDictionary<string, string> Refused
)
{
    /// <summary>Draws every tile that the view or the visit has drawn otherwise.</summary>
    /// <param name="scopes">The viewer's right on each dataset.</param>
    /// <param name="visit">Drawings for this visit by tile, which come before those of the view; an empty one is the developer's own.</param>
    public static DrawnView Of(
        Arrangement arrangement,
        IReadOnlyDictionary<string, Scope> scopes,
        IReadOnlyDictionary<string, Drawing> visit
    )
    {
        var (defined, ofVisit, refused) = (new Dictionary<string, Tile>(), new HashSet<string>(), new Dictionary<string, string>());
        ArrangedTile Drawn(ArrangedTile tile)
        {
            var name = tile.Tile.Name;
            var titled = tile.Title is { } title ? tile with { Tile = tile.Tile with { Title = title } } : tile;
            if (tile.Tile.Dataset is not { } dataset || !scopes.TryGetValue(dataset, out var scope))
                return titled;
            if (tile.May.HasFlag(Changes.Draw) && visit.TryGetValue(name, out var now))
            {
                var (drawn, reason) = now.IsEmpty ? (tile.Tile, null) : Redrawing.Of(tile.Tile, now, scope);
                if (drawn is not null && (tile.Drawing is not null || !now.IsEmpty))
                {
                    ofVisit.Add(name);
                    defined[name] = titled.Tile;
                    return tile with { Tile = drawn with { Title = tile.Title ?? drawn.Title } };
                }
                if (reason is not null)
                    refused[name] = reason;
            }
            if (tile.Drawing is not { } kept || !tile.May.HasFlag(Changes.Draw))
                return titled;
            var (redrawn, why) = Redrawing.Of(tile.Tile, kept, scope);
            if (redrawn is null)
            {
                refused[name] = why!;
                return titled;
            }
            defined[name] = titled.Tile;
            return tile with { Tile = redrawn with { Title = tile.Title ?? redrawn.Title } };
        }
        var next = arrangement with { Tabs = [.. arrangement.Tabs.Select(t => t with { Tiles = [.. t.Tiles.Select(Drawn)] })] };
        return new DrawnView(next, defined, ofVisit, refused);
    }
}
