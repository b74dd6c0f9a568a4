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

    /// <summary>The other drives its own group, to which this tile does not belong.</summary>
    OtherGroup,

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
    /// <summary>The conditions of the tile's own opened levels.</summary>
    public IReadOnlyList<Bound> Path { get; init; } = [];

    /// <summary>All that a row of the tile must meet, in order.</summary>
    public IEnumerable<Bound> Conditions => Path.Concat(Applied.Select(f => f.Condition));

    /// <summary>No selection anywhere.</summary>
    public static TileFilters None { get; } = new([], []);
}

/// <summary>Works out which selection filters which tile: a pure function of arrangement, rights and selections.</summary>
public static class Wiring
{
    /// <summary>What filters one tile.</summary>
    /// <param name="tile">The tile that follows, as defined: its opened levels are in its own selection.</param>
    /// <param name="dashboard">Its groups.</param>
    /// <param name="arrangement">Where the viewer has put each tile; decides what "tab" reaches.</param>
    /// <param name="selections">What is picked, at most one selection a tile.</param>
    /// <param name="scopes">The viewer's right on each dataset by name.</param>
    /// <param name="weekStart">The first day of the workspace's week.</param>
    public static TileFilters FiltersOf(
        Tile tile,
        Dashboard dashboard,
        Arrangement arrangement,
        IEnumerable<Selection> selections,
        IReadOnlyDictionary<string, Scope> scopes,
        DayOfWeek weekStart
    )
    {
        var tabs = arrangement.TabOf();
        var tiles = arrangement.Tiles.ToDictionary(t => t.Tile.Name, t => t.Tile);
        var applied = new List<AppliedFilter>();
        var notApplied = new List<NotAppliedFilter>();
        IReadOnlyList<Bound> path = [];
        foreach (var selection in selections.Where(s => tiles.ContainsKey(s.Tile)))
        {
            var driver = tiles[selection.Tile];
            if (driver.Name == tile.Name && tile.Dataset is not null)
                path = [.. Drilling.Path(selection.Path, Drilling.Levels(tile), scopes[tile.Dataset], weekStart)];
            var opened = driver.Drill is { Drives: true } ? selection.Path : [];
            if (selection.IsEmpty && opened.Count == 0)
                continue;
            IReadOnlyList<FieldAt> picked = selection.IsEmpty ? [] : selection.FieldsOf(Drilling.At(driver, selection.Path));
            FieldAt[] used = [.. Drilling.Levels(driver).Take(opened.Count), .. picked];
            if (Refusal(driver, tile, dashboard, tabs) is { } reason)
                notApplied.Add(new NotAppliedFilter(selection, reason));
            else if (tile.Dataset is null || Counterparts(used, scopes[driver.Dataset!], scopes[tile.Dataset]) is not { } fields)
                notApplied.Add(new NotAppliedFilter(selection, NotAppliedReason.NoCounterpart));
            else
            {
                var conditions = Drilling.Path(opened, fields, scopes[tile.Dataset], weekStart).ToList();
                if (!selection.IsEmpty)
                    conditions.Add(Conditions.Of(selection, [.. fields.Skip(opened.Count)], scopes[tile.Dataset], weekStart));
                applied.Add(new AppliedFilter(selection, fields, Bound.All(conditions)));
            }
        }
        return new TileFilters(applied, notApplied) { Path = path };
    }

    /// <summary>Why what is picked on one tile does not reach another; null if it does.</summary>
    public static NotAppliedReason? Refusal(Tile driver, Tile follower, Dashboard dashboard, IReadOnlyDictionary<string, string> tabs)
    {
        if (driver.Name == follower.Name)
            return NotAppliedReason.OwnSelection;
        if (follower.Follows.Kind == "none")
            return NotAppliedReason.FollowsNone;
        if (!follower.Follows.Names(driver.Name))
            return NotAppliedReason.NotFollowed;
        var isOnTab = tabs[driver.Name] == tabs[follower.Name];
        var isInGroup = driver.Group is not null && driver.Group == follower.Group;
        bool Reaches(Reach reach) =>
            reach.Kind switch
            {
                "tab" => isOnTab,
                "group" => isInGroup,
                _ => reach.Names(follower.Name),
            };
        // A group drives as a whole what stands outside of it; inside, each tile has its own reach.
        if (
            Reaches(driver.Drives)
            || (driver.Drives.Kind != "none" && !isInGroup && dashboard.GroupNamed(driver.Group) is { } group && Reaches(group.Drives))
        )
            return null;
        // What reaches farthest and yet not here is the reason.
        var farthest =
            driver.Drives.Kind == "group" && dashboard.GroupNamed(driver.Group) is { Drives.Kind: not "none" } outward
                ? outward.Drives.Kind
                : driver.Drives.Kind;
        return farthest switch
        {
            "tab" => NotAppliedReason.OtherTab,
            "group" => NotAppliedReason.OtherGroup,
            _ => NotAppliedReason.NotDriven,
        };
    }

    /// <summary>The fields of another dataset that mean what some fields mean; null unless every one has one of the same type.</summary>
    public static IReadOnlyList<FieldAt>? Counterparts(IReadOnlyList<FieldAt> fields, Scope from, Scope to)
    {
        if (from.Name == to.Name)
            return fields;
        var found = new List<FieldAt>();
        foreach (var at in fields)
        {
            var field = from.Fields[at.Field];
            var other = field.Concept is null
                ? null
                : to.Fields.Values.FirstOrDefault(f => f.Concept == field.Concept && ValueKinds.AreComparable(f.Kind, field.Kind));
            var counterpart = other is null ? null : new FieldAt(other.Name, at.Member);
            if (counterpart is null || Fields.At(counterpart, to) is null)
                return null;
            found.Add(counterpart);
        }
        return found;
    }
}
