using System.Text.Json;
using System.Text.Json.Serialization;
using Weir.Core.Definitions;

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
public abstract record ViewEdit
{
    /// <summary>Tiles of a tab get new places and sizes.</summary>
    public sealed record PlaceTiles(string Tab, IReadOnlyList<TilePlace> Tiles) : ViewEdit;

    /// <summary>A tile goes to another tab, below what stands there.</summary>
    public sealed record MoveToTab(string Tile, string Tab) : ViewEdit;

    /// <summary>A tile is no longer drawn.</summary>
    public sealed record HideTile(string Tile) : ViewEdit;

    /// <summary>A hidden tile is drawn again.</summary>
    public sealed record ShowTile(string Tile) : ViewEdit;

    /// <summary>A tab of the viewer's own, at the end.</summary>
    public sealed record AddTab(string Tab, string Title) : ViewEdit;

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
    public sealed record Reset : ViewEdit;
}

/// <summary>A tile and its new place.</summary>
public sealed record TilePlace(string Tile, Place Place);
