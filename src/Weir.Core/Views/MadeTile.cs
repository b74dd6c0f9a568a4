using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Pictures;

namespace Weir.Core.Views;

/// <summary>Tiles that viewers make themselves, of what a dataset grants them.</summary>
public static class MadeTile
{
    /// <summary>How wide a tile is where its maker does not say.</summary>
    private const int UsualWidth = 6;

    /// <summary>A tile from nothing but what it is to show.</summary>
    /// <param name="scope">The maker's right on its dataset: what it does not grant is told of as what there is not.</param>
    /// <returns>Exactly one of the two is null: the tile, or why there can be none.</returns>
    public static (Tile? Tile, string? Reason) Of(string name, Drawing drawing, Scope scope)
    {
        if (PictureKinds.All.FirstOrDefault(k => k.Name == drawing.Picture) is not { HasData: true } kind)
            return (null, $"There is no kind of picture {drawing.Picture} that shows data.");
        if (kind.Own.Any(o => o.IsNeeded))
            return (null, $"A {kind} needs what only a definition can give.");
        var nothing = new Tile(
            name,
            kind,
            null,
            null,
            scope.Name,
            [],
            [],
            null,
            null,
            null,
            null,
            false,
            null,
            kind.Pick,
            new Reach("tab", []),
            new Reach("all", []),
            new Place(0, 0, UsualWidth, kind.Rows)
        );
        return Redrawing.Of(nothing, drawing, scope);
    }

    /// <summary>What a tile shows, as it would be made; null if it shows more than can be said so.</summary>
    public static Drawing? DrawingOf(Tile tile) =>
        tile is { Of: null, Repeats: false } && (tile.Ranges is null || tile.Ranges == ValueRanges.Usually)
            ? new Drawing(
                tile.Picture.Name,
                tile.Show,
                [.. tile.By.Select(b => b.ToString())],
                tile.Split?.ToString(),
                tile.Sort?.By,
                tile.Sort?.Descending ?? false,
                tile.Top?.Count,
                tile.Top?.Rest ?? false
            )
            : null;
}
