using Weir.Core.Definitions;
using Weir.Core.Interaction;

namespace Weir.Core.Views;

/// <summary>An edit that could not be carried out on the dashboard as it is now, and why.</summary>
public sealed record DroppedEdit(ViewEdit Edit, string Reason);

/// <summary>Carries a viewer's edits out on a published dashboard.</summary>
public static class PersonalView
{
    /// <summary>How many steps undo reaches back.</summary>
    public const int UndoSteps = 100;

    /// <summary>More tabs of one's own than this are refused.</summary>
    public const int MaximumOwnTabs = 40;

    /// <summary>The arrangement after all edits. What an edit names and the dashboard no longer has is dropped and told, never an error.</summary>
    public static (Arrangement Arrangement, IReadOnlyList<DroppedEdit> Dropped) Apply(Dashboard dashboard, IEnumerable<ViewEdit> edits)
    {
        var opening = Arrangement.Opening(dashboard);
        var now = opening;
        var dropped = new List<DroppedEdit>();
        foreach (var edit in edits)
        {
            var (next, reason) = Apply(now, opening, edit);
            if (reason is not null)
                dropped.Add(new DroppedEdit(edit, reason));
            now = next;
        }
        // A newer dashboard may bring tiles to where the viewer has put others, and have none but the tabs that the viewer hid.
        if (now.Tabs.All(t => t.Hidden))
            now = new Arrangement([.. now.Tabs.Select(t => t with { Hidden = false })]);
        return (new Arrangement([.. now.Tabs.Select(t => Settle(t, []))]), dropped);
    }

    /// <summary>
    /// Those of somebody else's edits that mean something on the dashboard as the viewer has it, each without what the viewer has not:
    /// nothing that is left tells of a tile or tab that is not there.
    /// </summary>
    public static IReadOnlyList<ViewEdit> Fitting(Dashboard dashboard, IEnumerable<ViewEdit> edits)
    {
        var opening = Arrangement.Opening(dashboard);
        var now = opening;
        var fitting = new List<ViewEdit>();
        foreach (var edit in edits)
        {
            var tabs = now.TabOf();
            var known = edit switch
            {
                ViewEdit.PlaceTiles p => p with { Tiles = [.. p.Tiles.Where(t => tabs.GetValueOrDefault(t.Tile) == p.Tab)] },
                ViewEdit.OrderTabs o => o with { Tabs = [.. o.Tabs.Where(t => now.Tabs.Any(x => x.Name == t))] },
                _ => edit,
            };
            if (known is ViewEdit.PlaceTiles { Tiles.Count: 0 } or ViewEdit.OrderTabs { Tabs.Count: 0 })
                continue;
            var (next, reason) = Apply(now, opening, known);
            if (reason is not null)
                continue;
            fitting.Add(known);
            now = next;
        }
        return fitting;
    }

    /// <summary>The picks and parameters with which the viewer has the dashboard open; null if they keep none.</summary>
    public static ViewEdit.KeepPicks? Kept(IEnumerable<ViewEdit> edits) =>
        edits.Reverse().TakeWhile(e => e is not ViewEdit.Reset).OfType<ViewEdit.KeepPicks>().FirstOrDefault()
            is { Selections: not null } kept
            ? kept
            : null;

    /// <summary>One edit. The reason is null if it could be carried out; a part that could not be is named in it.</summary>
    public static (Arrangement Arrangement, string? Reason) Apply(Arrangement now, Arrangement opening, ViewEdit edit) =>
        edit switch
        {
            ViewEdit.PlaceTiles place => PlaceTiles(now, place),
            ViewEdit.MoveToTab move => MoveToTab(now, move),
            ViewEdit.HideTile hide => SetHidden(now, hide.Tile, hidden: true),
            ViewEdit.ShowTile show => SetHidden(now, show.Tile, hidden: false),
            ViewEdit.AddTab add => AddTab(now, add),
            ViewEdit.RenameTab rename => RenameTab(now, opening, rename),
            ViewEdit.HideTab hide => HideTab(now, hide.Tab),
            ViewEdit.ShowTab show => now.Tabs.Any(t => t.Name == show.Tab)
                ? (Change(now, show.Tab, t => t with { Hidden = false }), null)
                : (now, $"There is no tab {show.Tab}."),
            ViewEdit.RemoveTab remove => RemoveTab(now, opening, remove),
            ViewEdit.OrderTabs order => OrderTabs(now, order),
            ViewEdit.KeepPicks => (now, null), // where tiles stand is another matter
            ViewEdit.Reset => (opening, null),
            _ => throw new InvalidOperationException($"No way to apply {edit.GetType().Name}."),
        };

    private static (Arrangement, string?) PlaceTiles(Arrangement now, ViewEdit.PlaceTiles edit)
    {
        if (now.Tabs.FirstOrDefault(t => t.Name == edit.Tab) is not { } tab)
            return (now, $"There is no tab {edit.Tab}.");
        if (edit.Tiles.FirstOrDefault(t => !IsInGrid(t.Place)) is { } outside)
            return (now, $"The place of {outside.Tile} lies outside the grid of twelve columns.");
        if (edit.Tiles.FirstOrDefault(t => tab.Tiles.Any(x => x.Tile.Name == t.Tile && x.Tile.IsInPanel)) is { } panelled)
            return (now, $"{panelled.Tile} stands in the side panel, which has no places.");
        var places = edit.Tiles.GroupBy(t => t.Tile).ToDictionary(g => g.Key, g => g.Last().Place);
        var missing = places.Keys.Where(p => tab.Tiles.All(t => t.Tile.Name != p)).ToList();
        var next = Change(
            now,
            edit.Tab,
            t => t with { Tiles = [.. t.Tiles.Select(x => places.TryGetValue(x.Tile.Name, out var p) ? x with { Place = p } : x)] }
        );
        next = Change(next, edit.Tab, t => Settle(t, places.Keys));
        return (next, missing.Count == 0 ? null : $"There is no tile {string.Join(", ", missing)} on the tab {edit.Tab}.");
    }

    private static bool IsInGrid(Place p) =>
        p is { Column: >= 0 and <= 11, Row: >= 0 and <= 1000, Width: >= 1 and <= 12, Height: >= 1 and <= 60 } && p.Column + p.Width <= 12;

    private static (Arrangement, string?) MoveToTab(Arrangement now, ViewEdit.MoveToTab edit)
    {
        if (now.Tiles.FirstOrDefault(t => t.Tile.Name == edit.Tile) is not { } tile)
            return (now, $"There is no tile {edit.Tile}.");
        if (now.Tabs.FirstOrDefault(t => t.Name == edit.Tab) is not { } target)
            return (now, $"There is no tab {edit.Tab}.");
        if (target.Tiles.Contains(tile))
            return (now, null);
        var below = target
            .Tiles.Where(t => !t.Hidden && !t.Tile.IsInPanel)
            .Select(t => t.Place.Row + t.Place.Height)
            .DefaultIfEmpty(0)
            .Max();
        var without = new Arrangement([.. now.Tabs.Select(t => t with { Tiles = [.. t.Tiles.Where(x => x != tile)] })]);
        var moved = tile with { Place = tile.Place with { Column = 0, Row = below } };
        return (Change(without, edit.Tab, t => t with { Tiles = [.. t.Tiles, moved] }), null);
    }

    private static (Arrangement, string?) SetHidden(Arrangement now, string tile, bool hidden)
    {
        if (now.TabOf().GetValueOrDefault(tile) is not { } tab)
            return (now, $"There is no tile {tile}.");
        var next = Change(now, tab, t => t with { Tiles = [.. t.Tiles.Select(x => x.Tile.Name == tile ? x with { Hidden = hidden } : x)] });
        // What stands in its place by now keeps it.
        return (Change(next, tab, t => Settle(t, [.. t.Tiles.Select(x => x.Tile.Name).Where(n => n != tile)])), null);
    }

    /// <summary>Moves tiles down until none covers another; those named keep their places before the others.</summary>
    private static ArrangedTab Settle(ArrangedTab tab, IEnumerable<string> first)
    {
        var keep = first.ToHashSet();
        var settled = new Dictionary<string, Place>();
        foreach (
            var tile in tab
                .Tiles.Where(t => !t.Hidden && !t.Tile.IsInPanel)
                .OrderBy(t => !keep.Contains(t.Tile.Name))
                .ThenBy(t => t.Place.Row)
                .ThenBy(t => t.Place.Column)
        )
        {
            var place = tile.Place;
            while (settled.Values.Where(place.Overlaps).ToList() is { Count: > 0 } others)
                place = place with { Row = others.Max(o => o.Row + o.Height) };
            settled[tile.Tile.Name] = place;
        }
        return tab with
        {
            Tiles = [.. tab.Tiles.Select(t => settled.TryGetValue(t.Tile.Name, out var place) ? t with { Place = place } : t)],
        };
    }

    private static (Arrangement, string?) AddTab(Arrangement now, ViewEdit.AddTab edit)
    {
        if (now.Tabs.Any(t => t.Name == edit.Tab))
            return (now, $"There is a tab {edit.Tab} already.");
        if (!IsTitle(edit.Title) || edit.Tab.Length is 0 or > 64)
            return (now, "A tab needs a title of 1 to 60 characters.");
        return now.Tabs.Count(t => t.Own) >= MaximumOwnTabs
            ? (now, $"A view has at most {MaximumOwnTabs} tabs of one's own.")
            : (new Arrangement([.. now.Tabs, new ArrangedTab(edit.Tab, edit.Title.Trim(), Own: true, [])]), null);
    }

    private static (Arrangement, string?) HideTab(Arrangement now, string tab)
    {
        if (now.Tabs.All(t => t.Name != tab))
            return (now, $"There is no tab {tab}.");
        return now.Tabs.Any(t => !t.Hidden && t.Name != tab)
            ? (Change(now, tab, t => t with { Hidden = true }), null)
            : (now, "One tab stays: the last that is shown can't be hidden.");
    }

    private static (Arrangement, string?) RenameTab(Arrangement now, Arrangement opening, ViewEdit.RenameTab edit)
    {
        if (now.Tabs.All(t => t.Name != edit.Tab))
            return (now, $"There is no tab {edit.Tab}.");
        if (edit.Title.Trim().Length == 0 && opening.Tabs.FirstOrDefault(t => t.Name == edit.Tab) is { } published)
            return (Change(now, edit.Tab, t => t with { Title = published.Title }), null);
        return IsTitle(edit.Title)
            ? (Change(now, edit.Tab, t => t with { Title = edit.Title.Trim() }), null)
            : (now, "A tab needs a title of 1 to 60 characters.");
    }

    private static bool IsTitle(string? title) => title?.Trim().Length is > 0 and <= 60;

    private static (Arrangement, string?) RemoveTab(Arrangement now, Arrangement opening, ViewEdit.RemoveTab edit)
    {
        if (now.Tabs.FirstOrDefault(t => t.Name == edit.Tab) is not { Own: true } tab)
            return (now, $"There is no tab of your own called {edit.Tab}.");
        var home = opening.TabOf();
        var rest = new Arrangement([.. now.Tabs.Where(t => t != tab)]);
        if (rest.Tabs.All(t => t.Hidden))
            return (now, "One tab stays: show another before this one goes.");
        foreach (var tile in tab.Tiles)
        {
            var original = opening.Tiles.First(t => t.Tile.Name == tile.Tile.Name);
            rest = Change(
                rest,
                home[tile.Tile.Name],
                t => Settle(t with { Tiles = [.. t.Tiles, tile with { Place = original.Place }] }, t.Tiles.Select(x => x.Tile.Name))
            );
        }
        return (rest, null);
    }

    private static (Arrangement, string?) OrderTabs(Arrangement now, ViewEdit.OrderTabs edit)
    {
        var order = edit.Tabs.Distinct().Select((name, i) => (name, i)).ToDictionary(x => x.name, x => x.i);
        var missing = order.Keys.Where(o => now.Tabs.All(t => t.Name != o)).ToList();
        // A tab that the order does not name, since it came later, keeps its place at the end.
        var next = new Arrangement([.. now.Tabs.OrderBy(t => order.GetValueOrDefault(t.Name, int.MaxValue))]);
        return (next, missing.Count == 0 ? null : $"There is no tab {string.Join(", ", missing)}.");
    }

    private static Arrangement Change(Arrangement now, string tab, Func<ArrangedTab, ArrangedTab> change) =>
        new([.. now.Tabs.Select(t => t.Name == tab ? change(t) : t)]);
}
