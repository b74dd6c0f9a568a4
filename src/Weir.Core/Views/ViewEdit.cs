using System.Text.Json;
using System.Text.Json.Serialization;
using Weir.Core.Definitions;
using Weir.Core.Interaction;

namespace Weir.Core.Views;

/// <summary>One change that a viewer makes to their own arrangement. A personal view is a list of these against a published dashboard.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "edit")]
[JsonDerivedType(typeof(PlaceTiles), "place")]
[JsonDerivedType(typeof(MoveToTab), "move")]
[JsonDerivedType(typeof(HideTile), "hide")]
[JsonDerivedType(typeof(ShowTile), "unhide")]
[JsonDerivedType(typeof(AddTab), "add-tab")]
[JsonDerivedType(typeof(RenameTab), "rename-tab")]
[JsonDerivedType(typeof(RemoveTab), "remove-tab")]
[JsonDerivedType(typeof(OrderTabs), "order-tabs")]
[JsonDerivedType(typeof(HideTab), "hide-tab")]
[JsonDerivedType(typeof(ShowTab), "unhide-tab")]
[JsonDerivedType(typeof(KeepPicks), "keep-picks")]
[JsonDerivedType(typeof(Reset), "reset")]
[JsonDerivedType(typeof(SetColumns), "columns")]
[JsonDerivedType(typeof(AddTile), "add-tile")]
[JsonDerivedType(typeof(MakeTile), "make-tile")]
[JsonDerivedType(typeof(CopyTile), "copy-tile")]
[JsonDerivedType(typeof(RemoveTile), "remove-tile")]
[JsonDerivedType(typeof(RetitleTile), "retitle")]
[JsonDerivedType(typeof(CopyTab), "copy-tab")]
[JsonDerivedType(typeof(Draw), "draw")]
[JsonDerivedType(typeof(SetTable), "table")]
[JsonDerivedType(typeof(Clear), "clear")]
[JsonDerivedType(typeof(TakePublished), "as-published")]
public abstract record ViewEdit
{
    /// <summary>False where it was read from JSON that leaves out what it needs, or has more than anybody means.</summary>
    public bool IsWhole() =>
        this switch
        {
            PlaceTiles p => p is { Tab: not null, Tiles: { Count: > 0 and <= 500 } tiles }
                && tiles.All(t => t is { Tile: not null, Place: not null }),
            MoveToTab m => m is { Tile: not null, Tab: not null },
            HideTile h => h.Tile is not null,
            ShowTile s => s.Tile is not null,
            AddTab a => a is { Tab: not null, Title: not null },
            RenameTab r => r is { Tab: not null, Title: not null },
            RemoveTab r => r.Tab is not null,
            HideTab h => h.Tab is not null,
            ShowTab s => s.Tab is not null,
            OrderTabs o => o.Tabs is { Count: > 0 and <= 500 } tabs && !tabs.Contains(null!),
            KeepPicks => true,
            Reset => true,
            SetColumns c => c.Tab is not null,
            AddTile a => a is { Tile: not null, Shared: not null, Tab: not null },
            MakeTile m => m
                is { Tile: not null, Dataset.Length: <= 64, Tab: not null, Drawing: { Picture: not null, Without: null, IsWhole: true } },
            CopyTile c => c is { Tile: not null, As: not null, Tab: not null },
            RemoveTile r => r.Tile is not null,
            RetitleTile r => r is { Tile: not null, Title: not null },
            CopyTab c => c is { Tab: not null, As: not null, Title: not null },
            Draw d => d.Tile is not null && (d.Drawing is null || d.Drawing.IsWhole),
            SetTable t => t.Tile is not null && (t.Table is null || t.Table.IsWhole),
            Clear c => c is { Tab: not null, Title: not null },
            TakePublished t => t.Tile is not null,
            _ => false,
        };

    /// <summary>Tiles get new places and sizes on a tab.</summary>
    public sealed record PlaceTiles(string Tab, IReadOnlyList<TilePlace> Tiles) : ViewEdit;

    /// <summary>A tile goes to another tab, or to a section of one, below what stands there.</summary>
    /// <param name="Section">The section; null for what stands in none.</param>
    public sealed record MoveToTab(string Tile, string Tab, string? Section = null) : ViewEdit;

    /// <summary>A tile is no longer drawn.</summary>
    public sealed record HideTile(string Tile) : ViewEdit;

    /// <summary>A hidden tile is drawn again.</summary>
    public sealed record ShowTile(string Tile) : ViewEdit;

    /// <summary>A tab of the viewer's own, at the end.</summary>
    /// <param name="Area">The area that it belongs to; the first if left out.</param>
    public sealed record AddTab(string Tab, string Title, string? Area = null) : ViewEdit;

    /// <summary>A tab gets another title, for the viewer alone where it is the developer's; an empty title gives that one back its own.</summary>
    public sealed record RenameTab(string Tab, string Title) : ViewEdit;

    /// <summary>An own tab goes; its tiles return to where the developer put them.</summary>
    public sealed record RemoveTab(string Tab) : ViewEdit;

    /// <summary>A tab is no longer shown, with all that stands on it.</summary>
    public sealed record HideTab(string Tab) : ViewEdit;

    /// <summary>A hidden tab is shown again.</summary>
    public sealed record ShowTab(string Tab) : ViewEdit;

    /// <summary>The tabs in a new order.</summary>
    public sealed record OrderTabs(IReadOnlyList<string> Tabs) : ViewEdit;

    /// <summary>The dashboard opens with these picks and parameters from now on; without <paramref name="Selections"/> as its developer has it open.</summary>
    /// <param name="Selections">As they travel, by tile. Relative periods stay relative.</param>
    /// <param name="Parameters">Texts by parameter.</param>
    public sealed record KeepPicks(
        IReadOnlyDictionary<string, JsonElement>? Selections,
        IReadOnlyDictionary<string, IReadOnlyList<string>>? Parameters
    ) : ViewEdit;

    /// <summary>Back to the opening view; can be undone like any other edit.</summary>
    /// <param name="KeepOwn">True to keep own tabs and added tiles.</param>
    public sealed record Reset(bool KeepOwn = false) : ViewEdit;

    /// <summary>The tiles of a tab, or of a section of it, flow into equal columns, in reading order.</summary>
    public sealed record SetColumns(string Tab, int Columns, string? Section = null) : ViewEdit;

    /// <summary>A tile of a catalogue is placed on a tab.</summary>
    /// <param name="Tile">The name that it gets; begins with <see cref="PersonalView.OwnPrefix"/>.</param>
    /// <param name="Shared">The tile, as catalogue/tile.</param>
    /// <param name="Place">Where it goes; below what stands there if left out.</param>
    public sealed record AddTile(string Tile, string Shared, string Tab, string? Section = null, Place? Place = null) : ViewEdit;

    /// <summary>A tile of the viewer's own making, of a dataset that they read.</summary>
    /// <param name="Tile">The name that it gets; begins with <see cref="PersonalView.OwnPrefix"/>.</param>
    /// <param name="Drawing">What it shows; its picture is needed.</param>
    /// <param name="Place">Where it goes; below what stands there if left out.</param>
    public sealed record MakeTile(string Tile, string Dataset, Drawing Drawing, string Tab, string? Section = null, Place? Place = null)
        : ViewEdit;

    /// <summary>A copy of a tile as the viewer has it, on a tab.</summary>
    /// <param name="As">The name that the copy gets; begins with <see cref="PersonalView.OwnPrefix"/>.</param>
    public sealed record CopyTile(string Tile, string As, string Tab) : ViewEdit;

    /// <summary>An added tile goes.</summary>
    public sealed record RemoveTile(string Tile) : ViewEdit;

    /// <summary>An added tile gets a title of one's own; an empty one gives it back its own.</summary>
    public sealed record RetitleTile(string Tile, string Title) : ViewEdit;

    /// <summary>A tab of one's own with copies of all tiles of another that are shown.</summary>
    /// <param name="As">The name of the new tab; copies of tiles are named after it.</param>
    public sealed record CopyTab(string Tab, string As, string Title) : ViewEdit;

    /// <summary>A tile is drawn otherwise; without a drawing as its developer has it.</summary>
    public sealed record Draw(string Tile, Drawing? Drawing) : ViewEdit;

    /// <summary>The columns of a table stand otherwise; without any as its developer has them.</summary>
    public sealed record SetTable(string Tile, TableColumns? Table) : ViewEdit;

    /// <summary>All tabs that may be hidden are, and an empty one of one's own is opened: a page to fill from catalogues.</summary>
    public sealed record Clear(string Tab, string Title) : ViewEdit;

    /// <summary>A tile stands, and is drawn, as its developer has it by now.</summary>
    public sealed record TakePublished(string Tile) : ViewEdit;
}

/// <summary>A tile and its new place.</summary>
public sealed record TilePlace(string Tile, Place Place);
