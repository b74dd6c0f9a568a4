using Weir.Core.Definitions;

namespace Weir.Core.Interaction;

/// <summary>A dashboard as one viewer has it before them: tabs and tiles in the viewer's own order and places.</summary>
public sealed record Arrangement(IReadOnlyList<ArrangedTab> Tabs)
{
    /// <summary>All tiles of all tabs, hidden ones too.</summary>
    public IEnumerable<ArrangedTile> Tiles => Tabs.SelectMany(t => t.Tiles);

    /// <summary>The tab on which each tile stands.</summary>
    public IReadOnlyDictionary<string, string> TabOf() =>
        Tabs.SelectMany(t => t.Tiles.Select(x => (x.Tile.Name, Tab: t.Name))).ToDictionary(x => x.Name, x => x.Tab);

    /// <summary>The arrangement that the developer published: what a viewer without a personal view gets.</summary>
    public static Arrangement Opening(Dashboard dashboard) =>
        new([
            .. dashboard.Tabs.Select(t => new ArrangedTab(
                t.Name,
                t.Title,
                Own: false,
                [.. t.Tiles.Select(x => new ArrangedTile(x, x.Place, Hidden: false))]
            )),
        ]);
}

/// <summary>A tab; <see cref="Own"/> if the viewer added it.</summary>
public sealed record ArrangedTab(string Name, string Title, bool Own, IReadOnlyList<ArrangedTile> Tiles)
{
    /// <summary>True if the viewer does not want to see it.</summary>
    public bool Hidden { get; init; }
}

/// <summary>A tile where the viewer has put it.</summary>
public sealed record ArrangedTile(Tile Tile, Place Place, bool Hidden);
