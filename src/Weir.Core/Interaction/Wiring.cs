using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Interaction;

/// <summary>Why a selection does not filter a tile.</summary>
public enum NotAppliedReason
{
    /// <summary>A tile is never filtered by its own selection.</summary>
    OwnSelection,
    /// <summary>The tile follows none.</summary>
    FollowsNone,
    /// <summary>The tile follows a list that leaves the other out.</summary>
    NotFollowed,
    /// <summary>The other drives its own tab, and this tile stands on another.</summary>
    OtherTab,
    /// <summary>The other drives a list that leaves this tile out, or nothing.</summary>
    NotDriven,
    /// <summary>The tile's dataset has no field that means the same.</summary>
    NoCounterpart,
}

/// <summary>A selection that filters a tile.</summary>
/// <param name="Fields">The fields of the tile's own dataset that it filters.</param>
/// <param name="Condition">What each row of the tile must meet.</param>
public sealed record AppliedFilter(Selection Selection, IReadOnlyList<FieldAt> Fields, Bound Condition);

/// <summary>A selection that does not filter a tile.</summary>
public sealed record NotAppliedFilter(Selection Selection, NotAppliedReason Reason);

/// <summary>All that filters one tile, and all that does not.</summary>
public sealed record TileFilters(IReadOnlyList<AppliedFilter> Applied, IReadOnlyList<NotAppliedFilter> NotApplied)
{
    /// <summary>No selection anywhere.</summary>
    public static TileFilters None { get; } = new([], []);
}

/// <summary>Works out which selection filters which tile: a pure function of arrangement, rights and selections.</summary>
public static class Wiring
{
    /// <summary>What filters one tile.</summary>
    /// <param name="tile">The tile that follows.</param>
    /// <param name="arrangement">Where the viewer has put each tile; decides what "tab" reaches.</param>
    /// <param name="selections">What is picked, at most one selection a tile.</param>
    /// <param name="scopes">The viewer's right on each dataset by name.</param>
    /// <param name="weekStart">The first day of the workspace's week.</param>
    public static TileFilters FiltersOf(
        Tile tile, Arrangement arrangement, IEnumerable<Selection> selections, IReadOnlyDictionary<string, Scope> scopes, DayOfWeek weekStart)
    {
        var tabs = arrangement.TabOf();
        var tiles = arrangement.Tiles.ToDictionary(t => t.Tile.Name, t => t.Tile);
        var applied = new List<AppliedFilter>();
        var notApplied = new List<NotAppliedFilter>();
        foreach (var selection in selections.Where(s => !s.IsEmpty && tiles.ContainsKey(s.Tile)))
        {
            var driver = tiles[selection.Tile];
            if (Refusal(driver, tile, tabs) is { } reason)
                notApplied.Add(new NotAppliedFilter(selection, reason));
            else if (tile.Dataset is null || Counterparts(driver, scopes[driver.Dataset!], scopes[tile.Dataset]) is not { } fields)
                notApplied.Add(new NotAppliedFilter(selection, NotAppliedReason.NoCounterpart));
            else
                applied.Add(new AppliedFilter(selection, fields, Conditions.Of(selection, fields, scopes[tile.Dataset], weekStart)));
        }
        return new TileFilters(applied, notApplied);
    }

    private static NotAppliedReason? Refusal(Tile driver, Tile follower, IReadOnlyDictionary<string, string> tabs)
    {
        if (driver.Name == follower.Name)
            return NotAppliedReason.OwnSelection;
        if (follower.Follows.Kind == "none")
            return NotAppliedReason.FollowsNone;
        if (!follower.Follows.Names(driver.Name))
            return NotAppliedReason.NotFollowed;
        if (!driver.Drives.Names(follower.Name))
            return NotAppliedReason.NotDriven;
        return driver.Drives.Kind == "tab" && tabs[driver.Name] != tabs[follower.Name] ? NotAppliedReason.OtherTab : null;
    }

    /// <summary>The follower's fields that mean what the driver's grouping fields mean; null unless every one has one.</summary>
    private static List<FieldAt>? Counterparts(Tile driver, Scope from, Scope to)
    {
        if (from.Name == to.Name)
            return [.. driver.By];
        var found = new List<FieldAt>();
        foreach (var at in driver.By)
        {
            var field = from.Fields[at.Field];
            var other = field.Concept is null ? null : to.Fields.Values.FirstOrDefault(f => f.Concept == field.Concept);
            if (other is null || (at.Member is null ? ValueKinds.Common(field.Kind, other.Kind) is null : !other.Kind.IsTemporal()))
                return null;
            found.Add(new FieldAt(other.Name, at.Member));
        }
        return found;
    }
}
