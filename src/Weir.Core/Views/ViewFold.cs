using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;

namespace Weir.Core.Views;

/// <summary>
/// Single edits on one dashboard: each is a pure function from arrangement to arrangement. What is not there, or not the viewer's to
/// change, leaves the arrangement as it was and is told as a reason.
/// </summary>
/// <param name="dashboard">The dashboard as the viewer may see it, with the catalogues that the viewer may add from.</param>
public sealed class ViewFold(Dashboard dashboard)
{
    /// <summary>What a viewer without edits gets.</summary>
    public Arrangement Opening { get; private init; } = Arrangement.Opening(dashboard);

    /// <summary>The datasets of which there may be tiles that were made in a view, with the viewer's right on each.</summary>
    public IReadOnlyDictionary<string, Scope> Makeable { get; init; } = new Dictionary<string, Scope>();

    /// <summary>True while an opening view is laid out, which gives what it adds names of its own.</summary>
    public bool IsPromoting { get; init; }

    /// <summary>The same dashboard as an opening view arranges it, as far as the viewer's rights let it: what is added to it there is part of it.</summary>
    /// <param name="layers">See <see cref="PromotedView.LayersOf"/>.</param>
    /// <param name="scopes">The viewer's right on each dataset; null to look at names and places only.</param>
    public ViewFold As(IEnumerable<IReadOnlyList<ViewEdit>> layers, IReadOnlyDictionary<string, Scope>? scopes)
    {
        var fold = this;
        foreach (var layer in layers)
        {
            var promoting = new ViewFold(dashboard)
            {
                IsPromoting = true,
                Makeable = Makeable,
                Opening = fold.Opening,
            };
            var fitting = scopes is null ? layer : PersonalView.Fitting(promoting, scopes, layer);
            fold = fold.Over(PersonalView.Apply(promoting, fitting).Arrangement, scopes);
        }
        return fold;
    }

    /// <summary>The same dashboard with an arrangement for its opening view.</summary>
    internal ViewFold Over(Arrangement laid, IReadOnlyDictionary<string, Scope>? scopes)
    {
        ArrangedTile Published(ArrangedTile tile)
        {
            var drawn =
                scopes is not null && tile.Drawing is { } drawing && tile.Tile.Dataset is { } dataset
                    ? Redrawing.Of(tile.Tile, drawing, scopes[dataset]).Tile ?? tile.Tile
                    : tile.Tile;
            return tile with { Own = false, Drawing = null, Title = null, Tile = drawn with { Title = tile.Title ?? drawn.Title } };
        }
        return new ViewFold(dashboard)
        {
            IsPromoting = IsPromoting,
            Makeable = Makeable,
            Opening = laid with { Tabs = [.. laid.Tabs.Select(t => t with { Own = false, Tiles = [.. t.Tiles.Select(Published)] })] },
        };
    }

    /// <summary>One edit. The reason is null if it could be carried out; a part that could not be is named in it.</summary>
    public (Arrangement Arrangement, string? Reason) Apply(Arrangement now, ViewEdit edit) =>
        edit switch
        {
            ViewEdit.PlaceTiles place => PlaceTiles(now, place),
            ViewEdit.MoveToTab move => MoveToTab(now, move),
            ViewEdit.HideTile hide => SetHidden(now, hide.Tile, hidden: true),
            ViewEdit.ShowTile show => SetHidden(now, show.Tile, hidden: false),
            ViewEdit.AddTab add => AddTab(now, add.Tab, add.Title, add.Area),
            ViewEdit.RenameTab rename => RenameTab(now, rename),
            ViewEdit.HideTab hide => HideTab(now, hide.Tab),
            ViewEdit.ShowTab show => now.Tabs.Any(t => t.Name == show.Tab)
                ? (ChangeTab(now, show.Tab, t => t with { Hidden = false }), null)
                : (now, NoTab(show.Tab)),
            ViewEdit.RemoveTab remove => RemoveTab(now, remove),
            ViewEdit.OrderTabs order => OrderTabs(now, order),
            ViewEdit.KeepPicks => now.May.HasFlag(Changes.Keep)
                ? (now, null) // where tiles stand is another matter
                : (now, "What this dashboard opens with is settled by its developer."),
            ViewEdit.Reset reset => (reset.KeepOwn ? WithOwnOf(now) : Opening, null),
            ViewEdit.SetColumns columns => SetColumns(now, columns),
            ViewEdit.AddTile add => AddTile(now, add),
            ViewEdit.MakeTile make => MakeTile(now, make),
            ViewEdit.CopyTile copy => CopyTile(now, copy),
            ViewEdit.RemoveTile remove => RemoveTile(now, remove),
            ViewEdit.RetitleTile title => Retitle(now, title),
            ViewEdit.CopyTab copy => CopyTab(now, copy),
            ViewEdit.Draw draw => Draw(now, draw),
            ViewEdit.SetTable table => SetTable(now, table),
            ViewEdit.Clear clear => Clear(now, clear),
            ViewEdit.TakePublished take => TakePublished(now, take),
            _ => throw new InvalidOperationException($"No way to apply {edit.GetType().Name}."),
        };

    private static string NoTab(string tab) => $"There is no tab {tab}.";

    private static string NoTile(string tile) => $"There is no tile {tile}.";

    private static string Fixed(string what) => $"{what} stays as its developer has it.";

    /// <summary>A tile by name, and the number of the tab that it stands on.</summary>
    private static (int Tab, ArrangedTile Tile)? Standing(Arrangement now, string tile)
    {
        for (var at = 0; at < now.Tabs.Count; at++)
            foreach (var there in now.Tabs[at].Tiles)
                if (there.Tile.Name == tile)
                    return (at, there);
        return null;
    }

    private static ArrangedTile? Find(Arrangement now, string tile) => Standing(now, tile)?.Tile;

    private static ArrangedTab? FindTab(Arrangement now, string tab)
    {
        foreach (var there in now.Tabs)
            if (there.Name == tab)
                return there;
        return null;
    }

    // A view may have thousands of edits, each of which changes one tab or two: the others stay the same objects.
    private static Arrangement ChangeTab(Arrangement now, string tab, Func<ArrangedTab, ArrangedTab> change)
    {
        ArrangedTab[] tabs = [.. now.Tabs];
        for (var at = 0; at < tabs.Length; at++)
            if (tabs[at].Name == tab)
                tabs[at] = change(tabs[at]);
        return now with { Tabs = tabs };
    }

    private static Arrangement ChangeTile(Arrangement now, string tile, Func<ArrangedTile, ArrangedTile> change) =>
        Standing(now, tile) is var (at, _)
            ? ChangeTab(now, now.Tabs[at].Name, t => t with { Tiles = [.. t.Tiles.Select(x => x.Tile.Name == tile ? change(x) : x)] })
            : now;

    private static Arrangement Without(Arrangement now, string tile) =>
        Standing(now, tile) is var (at, _)
            ? ChangeTab(now, now.Tabs[at].Name, t => t with { Tiles = [.. t.Tiles.Where(x => x.Tile.Name != tile)] })
            : now;

    /// <summary>Puts a tile on a tab, where what is named keeps its place before it, or it before all.</summary>
    private static Arrangement Put(Arrangement now, string tab, ArrangedTile tile, bool givesWay) =>
        ChangeTab(
            now,
            tab,
            t => Settling.Of(t with { Tiles = [.. t.Tiles, tile] }, givesWay ? t.Tiles.Select(x => x.Tile.Name) : [tile.Tile.Name])
        );

    private static (Arrangement, string?) PlaceTiles(Arrangement now, ViewEdit.PlaceTiles edit)
    {
        if (FindTab(now, edit.Tab) is not { } tab)
            return (now, NoTab(edit.Tab));
        // Of a tile that is named twice the last place holds.
        var places = new Dictionary<string, Place>(edit.Tiles.Count);
        foreach (var (tile, place) in edit.Tiles)
            if (IsInGrid(place))
                places[tile] = place;
            else
                return (now, $"The place of {tile} lies outside the grid of twelve columns.");
        var (coming, missing) = (new List<ArrangedTile>(), new List<string>());
        foreach (var name in places.Keys)
            if (Standing(now, name) is not var (at, tile))
                missing.Add(name);
            else if (tile.Tile.IsInPanel)
                return (now, $"{name} stands in the side panel, which has no places.");
            else if (!tile.May.HasFlag(Changes.Move))
                return (now, Fixed(name));
            else if (now.Tabs[at] != tab)
                coming.Add(tile);
        if (coming.Count > 1)
            coming = [.. now.Tiles.Where(coming.Contains)];
        // What stands on another tab by now, put there by a newer version or by another window, comes along: the last word holds.
        if (coming.Count > 0 && !tab.May.HasFlag(Changes.Move))
            return (now, Fixed($"The tab {tab.Name}"));
        var next = coming.Aggregate(now, (all, tile) => Without(all, tile.Tile.Name));
        ArrangedTile[] tiles = [.. tab.Tiles, .. coming.Select(c => c with { Section = null })];
        for (var i = 0; i < tiles.Length; i++)
            if (places.TryGetValue(tiles[i].Tile.Name, out var place))
                tiles[i] = tiles[i] with { Place = place };
        next = ChangeTab(next, edit.Tab, t => Settling.Of(t with { Tiles = tiles }, places.Keys));
        return (next, missing.Count == 0 ? null : $"There is no tile {string.Join(", ", missing)}.");
    }

    private static bool IsInGrid(Place p) =>
        p is { Column: >= 0 and <= 11, Row: >= 0 and <= 1000, Width: >= 1 and <= 12, Height: >= 1 and <= 60 } && p.Column + p.Width <= 12;

    private static (Arrangement, string?) MoveToTab(Arrangement now, ViewEdit.MoveToTab edit)
    {
        if (Find(now, edit.Tile) is not { } tile)
            return (now, NoTile(edit.Tile));
        if (FindTab(now, edit.Tab) is not { } target)
            return (now, NoTab(edit.Tab));
        var (section, reason) = SectionOf(target, edit.Section);
        if (reason is not null)
            return (now, reason);
        if (target.Tiles.Contains(tile) && (tile.Section == section || tile.Tile.IsInPanel))
            return (now, null);
        if (!tile.May.HasFlag(Changes.Move))
            return (now, Fixed(tile.Tile.Name));
        if (!MayAt(target, section).HasFlag(Changes.Move))
            return (now, Fixed($"The tab {target.Name}"));
        var moved = tile with
        {
            Section = tile.Tile.IsInPanel ? null : section,
            Place = tile.Place with { Column = 0, Row = Settling.Below(target, section) },
        };
        var next = ChangeTab(Without(now, edit.Tile), edit.Tab, t => t with { Tiles = [.. t.Tiles, moved] });
        return (next, null);
    }

    /// <summary>A section of a tab by name; a tab of one's own has none.</summary>
    private static (string? Section, string? Reason) SectionOf(ArrangedTab tab, string? section) =>
        section is null || tab.Sections.Any(s => s.Name == section)
            ? (section, null)
            : (null, $"There is no section {section} on the tab {tab.Name}.");

    /// <summary>What may be changed where a tile is to go.</summary>
    private static Changes MayAt(ArrangedTab tab, string? section) => tab.Sections.FirstOrDefault(s => s.Name == section)?.May ?? tab.May;

    private static (Arrangement, string?) SetHidden(Arrangement now, string tile, bool hidden)
    {
        if (now.Tabs.FirstOrDefault(t => t.Tiles.Any(x => x.Tile.Name == tile)) is not { } tab)
            return (now, NoTile(tile));
        if (hidden && !Find(now, tile)!.May.HasFlag(Changes.Hide))
            return (now, Fixed(tile));
        var next = ChangeTile(now, tile, x => x with { Hidden = hidden });
        // What stands in its place by now keeps it.
        var others = tab.Tiles.Select(x => x.Tile.Name).Where(n => n != tile).ToList();
        return (ChangeTab(next, tab.Name, t => Settling.Of(t, others)), null);
    }

    private (Arrangement Arrangement, string? Reason) AddTab(Arrangement now, string tab, string title, string? area)
    {
        if (!now.May.HasFlag(Changes.Tabs))
            return (now, "This dashboard takes no tabs of one's own.");
        if (now.Tabs.Any(t => t.Name == tab))
            return (now, $"There is a tab {tab} already.");
        if (!IsTitle(title) || tab.Length is 0 or > 64)
            return (now, "A tab needs a title of 1 to 60 characters.");
        if (now.Tabs.Count(t => t.Own) >= PersonalView.MaximumOwnTabs)
            return (now, $"A view has at most {PersonalView.MaximumOwnTabs} tabs of one's own.");
        // An area that is gone by now does not take the tab with it.
        var within =
            dashboard.Areas.FirstOrDefault(a => a.Name == area)?.Name ?? now.Tabs.Select(t => t.Area).FirstOrDefault(a => a is not null);
        return (
            now with
            {
                Tabs =
                [
                    .. now.Tabs,
                    new ArrangedTab(tab, title.Trim(), Own: true, []) { Area = within, May = now.May | Changes.Move | Changes.Hide },
                ],
            },
            null
        );
    }

    private static (Arrangement, string?) HideTab(Arrangement now, string name)
    {
        if (now.Tabs.FirstOrDefault(t => t.Name == name) is not { } tab)
            return (now, NoTab(name));
        if (!MayBeHidden(tab))
            return (now, Fixed($"The tab {name}"));
        return now.Tabs.Any(t => !t.Hidden && t.Name != name)
            ? (ChangeTab(now, name, t => t with { Hidden = true }), null)
            : (now, "One tab stays: the last that is shown can't be hidden.");
    }

    /// <summary>With a tab goes what stands on it, so that nothing there may be what has to stay.</summary>
    private static bool MayBeHidden(ArrangedTab tab) => tab.May.HasFlag(Changes.Hide) && tab.Tiles.All(t => t.May.HasFlag(Changes.Hide));

    private (Arrangement, string?) RenameTab(Arrangement now, ViewEdit.RenameTab edit)
    {
        if (FindTab(now, edit.Tab) is not { } tab)
            return (now, NoTab(edit.Tab));
        if (!tab.May.HasFlag(Changes.Tabs))
            return (now, Fixed($"The title of the tab {edit.Tab}"));
        if (edit.Title.Trim().Length == 0 && Opening.Tabs.FirstOrDefault(t => t.Name == edit.Tab) is { } published)
            return (ChangeTab(now, edit.Tab, t => t with { Title = published.Title }), null);
        return IsTitle(edit.Title)
            ? (ChangeTab(now, edit.Tab, t => t with { Title = edit.Title.Trim() }), null)
            : (now, "A tab needs a title of 1 to 60 characters.");
    }

    private static bool IsTitle(string? title) => title?.Trim().Length is > 0 and <= 60;

    private (Arrangement, string?) RemoveTab(Arrangement now, ViewEdit.RemoveTab edit)
    {
        if (FindTab(now, edit.Tab) is not { Own: true } tab)
            return (now, $"There is no tab of your own called {edit.Tab}.");
        var rest = now with { Tabs = [.. now.Tabs.Where(t => t != tab)] };
        if (rest.Tabs.All(t => t.Hidden))
            return (now, "One tab stays: show another before this one goes.");
        return (tab.Tiles.Where(t => !t.Own).Aggregate(rest, Home), null);
    }

    /// <summary>Puts a tile of the developer's back to where the developer has it; what stands there by now keeps its place.</summary>
    private Arrangement Home(Arrangement now, ArrangedTile tile)
    {
        var (tab, original) = Original(tile.Tile.Name);
        return Put(now, tab, tile with { Place = original.Place, Section = original.Section }, givesWay: true);
    }

    private (string Tab, ArrangedTile Tile) Original(string tile) =>
        Opening.Tabs.SelectMany(t => t.Tiles.Select(x => (t.Name, x))).First(t => t.x.Tile.Name == tile);

    private static (Arrangement, string?) OrderTabs(Arrangement now, ViewEdit.OrderTabs edit)
    {
        if (!now.May.HasFlag(Changes.Tabs))
            return (now, "The order of the tabs stays as its developer has it.");
        var order = edit.Tabs.Distinct().Select((name, i) => (name, i)).ToDictionary(x => x.name, x => x.i);
        var missing = order.Keys.Where(o => now.Tabs.All(t => t.Name != o)).ToList();
        // A tab that the order does not name, since it came later, keeps its place at the end.
        var next = now.Tabs.OrderBy(t => order.GetValueOrDefault(t.Name, int.MaxValue)).ToList();
        for (var i = 0; i < next.Count; i++)
            if (next[i] != now.Tabs[i] && (!now.Tabs[i].May.HasFlag(Changes.Tabs) || !next[i].May.HasFlag(Changes.Tabs)))
                return (now, Fixed($"The place of the tab {(now.Tabs[i].May.HasFlag(Changes.Tabs) ? next[i] : now.Tabs[i]).Name}"));
        return (now with { Tabs = next }, missing.Count == 0 ? null : $"There is no tab {string.Join(", ", missing)}.");
    }

    private static (Arrangement, string?) SetColumns(Arrangement now, ViewEdit.SetColumns edit)
    {
        if (FindTab(now, edit.Tab) is not { } tab)
            return (now, NoTab(edit.Tab));
        var (section, reason) = SectionOf(tab, edit.Section);
        if (reason is not null)
            return (now, reason);
        if (!Columns.Numbers.Contains(edit.Columns))
            return (now, $"The columns can be {string.Join(", ", Columns.Numbers)}.");
        if (!MayAt(tab, section).HasFlag(Changes.Move))
            return (now, Fixed($"The tab {edit.Tab}"));
        var flowing = tab
            .Tiles.Where(t => !t.Hidden && !t.Tile.IsInPanel && t.Section == section && t.May.HasFlag(Changes.Move))
            .OrderBy(t => t.Place.Row)
            .ThenBy(t => t.Place.Column)
            .ToList();
        var places = flowing
            .Zip(Columns.Flow(edit.Columns, [.. flowing.Select(t => t.Place.Height)]))
            .ToDictionary(x => x.First.Tile.Name, x => x.Second);
        var next = tab with
        {
            Columns = section is null ? edit.Columns : tab.Columns,
            Sections = [.. tab.Sections.Select(s => s.Name == section ? s with { Columns = edit.Columns } : s)],
            Tiles = [.. tab.Tiles.Select(t => places.TryGetValue(t.Tile.Name, out var place) ? t with { Place = place } : t)],
        };
        return (ChangeTab(now, edit.Tab, _ => Settling.Of(next, [])), null);
    }

    /// <summary>Why a tile of one's own can't be called so, or come to a tab; null if it can.</summary>
    private string? NotAddable(Arrangement now, string name, string tab, string? section, Place? place = null)
    {
        if (place is not null && !IsInGrid(place))
            return $"The place of {name} lies outside the grid of twelve columns.";
        if (!IsPromoting && (name.Length is < 5 or > 100 || !name.StartsWith(PersonalView.OwnPrefix, StringComparison.Ordinal)))
            return $"A tile of one's own has a name that begins with {PersonalView.OwnPrefix}, of at most 100 characters.";
        if (Find(now, name) is not null)
            return $"There is a tile {name} already.";
        if (now.Tabs.FirstOrDefault(t => t.Name == tab) is not { } target)
            return NoTab(tab);
        if (SectionOf(target, section).Reason is { } reason)
            return reason;
        if (!now.May.HasFlag(Changes.Add) || !MayAt(target, section).HasFlag(Changes.Add))
            return $"The tab {tab} takes no tiles of one's own.";
        return now.Tiles.Count(t => t.Own) >= PersonalView.MaximumOwnTiles
            ? $"A view has at most {PersonalView.MaximumOwnTiles} tiles of one's own."
            : null;
    }

    /// <summary>How wide a tile is that a viewer adds, where its catalogue does not say.</summary>
    private const int UsualWidth = 4;

    /// <summary>How large a tile of a catalogue is where a viewer adds it without saying.</summary>
    public static Place SizeOf(Tile shared) => shared.Place with { Width = shared.Place.Width == 1 ? UsualWidth : shared.Place.Width };

    private (Arrangement, string?) AddTile(Arrangement now, ViewEdit.AddTile edit)
    {
        if (NotAddable(now, edit.Tile, edit.Tab, edit.Section, edit.Place) is { } reason)
            return (now, reason);
        // One that is gone and one that is not granted are told alike.
        if (dashboard.Catalogues.SelectMany(c => c.Tiles).FirstOrDefault(t => t.SharedAs == edit.Shared) is not { } shared)
            return (now, "A tile that was added is not offered any more.");
        return (Added(now, Named(shared, edit.Tile), SizeOf(shared), edit.Tab, edit.Section, edit.Place), null);
    }

    private (Arrangement, string?) MakeTile(Arrangement now, ViewEdit.MakeTile edit)
    {
        if (NotAddable(now, edit.Tile, edit.Tab, edit.Section, edit.Place) is { } reason)
            return (now, reason);
        // One that is gone and one that is not granted are told alike.
        if (!Makeable.TryGetValue(edit.Dataset, out var scope))
            return (now, "A tile that was made is of data that there are not any more.");
        var (made, unfit) = MadeTile.Of(edit.Tile, edit.Drawing, scope);
        return made is null ? (now, unfit) : (Added(now, made, made.Place, edit.Tab, edit.Section, edit.Place), null);
    }

    /// <summary>With a tile of the viewer's own; below what stands there where no place is given.</summary>
    private static Arrangement Added(Arrangement now, Tile tile, Place size, string tab, string? section, Place? given)
    {
        var place = given ?? size with { Column = 0, Row = Settling.Below(now.Tabs.First(t => t.Name == tab), section) };
        var added = new ArrangedTile(tile, place, Hidden: false)
        {
            Section = section,
            Own = true,
            May = OwnMay(now),
        };
        return Put(now, tab, added, givesWay: given is null);
    }

    /// <summary>What is added is the viewer's to move and to hide; whether it may be drawn otherwise its dashboard says.</summary>
    private static Changes OwnMay(Arrangement now) => now.May | Changes.Move | Changes.Hide;

    private static Tile Named(Tile tile, string name) => tile with { Name = name, Opening = null, IsRequired = false, IsInPanel = false };

    private (Arrangement, string?) CopyTile(Arrangement now, ViewEdit.CopyTile edit)
    {
        if (Find(now, edit.Tile) is not { } tile)
            return (now, NoTile(edit.Tile));
        if (NotAddable(now, edit.As, edit.Tab, null) is { } reason)
            return (now, reason);
        var tab = now.Tabs.First(t => t.Name == edit.Tab);
        var section = tab.Tiles.Contains(tile) && MayAt(tab, tile.Section).HasFlag(Changes.Add) ? tile.Section : null;
        var copy = Copied(now, tile, edit.As) with
        {
            Section = section,
            Place = Sized(tile) with { Column = 0, Row = Settling.Below(tab, section) },
        };
        return (Put(now, edit.Tab, copy, givesWay: true), null);
    }

    private static Place Sized(ArrangedTile tile) => tile.Tile.IsInPanel ? tile.Place with { Width = UsualWidth, Height = 2 } : tile.Place;

    private static ArrangedTile Copied(Arrangement now, ArrangedTile tile, string name) =>
        tile with
        {
            // A group is a frame of the developer's; a copy stands outside of it.
            Tile = Named(tile.Tile, name) with
            {
                Group = null,
                Drives = tile.Tile.Drives.Kind == "group" ? new Reach("tab", []) : tile.Tile.Drives,
                Section = null,
            },
            Own = true,
            Hidden = false,
            Section = null,
            May = OwnMay(now),
        };

    private static (Arrangement, string?) RemoveTile(Arrangement now, ViewEdit.RemoveTile edit) =>
        Find(now, edit.Tile) is { Own: true }
            ? (Without(now, edit.Tile), null)
            : (now, $"There is no tile of your own called {edit.Tile}.");

    private static (Arrangement, string?) Retitle(Arrangement now, ViewEdit.RetitleTile edit)
    {
        if (Find(now, edit.Tile) is not { Own: true })
            return (now, $"There is no tile of your own called {edit.Tile}.");
        var title = edit.Title.Trim();
        if (title.Length > 100)
            return (now, "A title has at most 100 characters.");
        return (ChangeTile(now, edit.Tile, t => t with { Title = title.Length == 0 ? null : title }), null);
    }

    private (Arrangement, string?) CopyTab(Arrangement now, ViewEdit.CopyTab edit)
    {
        if (FindTab(now, edit.Tab) is not { } tab)
            return (now, NoTab(edit.Tab));
        if (!now.May.HasFlag(Changes.Add))
            return (now, "This dashboard takes no tiles of one's own.");
        if (!IsPromoting && !edit.As.StartsWith(PersonalView.OwnPrefix, StringComparison.Ordinal))
            return (now, $"A copy of a tab has a name that begins with {PersonalView.OwnPrefix}.");
        var (next, reason) = AddTab(now, edit.As, edit.Title, tab.Area);
        if (reason is not null)
            return (now, reason);
        var tiles = tab.Tiles.Where(t => !t.Hidden).ToList();
        if (now.Tiles.Count(t => t.Own) + tiles.Count > PersonalView.MaximumOwnTiles)
            return (now, $"A view has at most {PersonalView.MaximumOwnTiles} tiles of one's own.");
        var (copies, below) = (new List<ArrangedTile>(), 0);
        // Sections are the developer's: their tiles stand below one another.
        foreach (var section in tab.Sections.Select(s => (string?)s.Name).Prepend(null))
        {
            var within = tiles.Where(t => t.Section == section).ToList();
            foreach (var tile in within)
            {
                var name = $"{edit.As}-{tile.Tile.Name}";
                if (name.Length > 100 || Find(now, name) is not null)
                    return (now, $"There is no room for the name {edit.As} beside others: choose another.");
                copies.Add(Copied(now, tile, name) with { Place = Sized(tile) with { Row = Sized(tile).Row + below } });
            }
            below += within.Select(t => t.Place.Row + t.Place.Height).DefaultIfEmpty(0).Max();
        }
        return (ChangeTab(next, edit.As, t => Settling.Of(t with { Tiles = copies, Fit = tab.Fit }, [])), null);
    }

    private static (Arrangement, string?) Draw(Arrangement now, ViewEdit.Draw edit)
    {
        if (Find(now, edit.Tile) is not { } tile)
            return (now, NoTile(edit.Tile));
        if (edit.Drawing is { IsEmpty: false } && !tile.May.HasFlag(Changes.Draw))
            return (now, $"How {edit.Tile} is drawn stays as its developer has it.");
        var drawing = edit.Drawing is { IsEmpty: false } other ? other : null;
        return (ChangeTile(now, edit.Tile, t => t with { Drawing = drawing }), null);
    }

    private (Arrangement, string?) SetTable(Arrangement now, ViewEdit.SetTable edit)
    {
        if (Find(now, edit.Tile) is not { } tile)
            return (now, NoTile(edit.Tile));
        if (!tile.May.HasFlag(Changes.Move))
            return (now, Fixed(edit.Tile));
        // An opening view may have put them otherwise, too.
        var columns = edit.Table ?? Opening.Tiles.FirstOrDefault(t => t.Tile.Name == edit.Tile)?.Columns;
        return (ChangeTile(now, edit.Tile, t => t with { Columns = columns is { IsEmpty: false } ? columns : null }), null);
    }

    private (Arrangement, string?) Clear(Arrangement now, ViewEdit.Clear edit)
    {
        var (next, reason) = AddTab(now, edit.Tab, edit.Title, null);
        return reason is not null
            ? (now, reason)
            : (next with { Tabs = [.. next.Tabs.Select(t => t.Name != edit.Tab && MayBeHidden(t) ? t with { Hidden = true } : t)] }, null);
    }

    private (Arrangement, string?) TakePublished(Arrangement now, ViewEdit.TakePublished edit)
    {
        if (Opening.Tiles.All(t => t.Tile.Name != edit.Tile))
            return (now, NoTile(edit.Tile));
        var (tab, original) = Original(edit.Tile);
        return (Put(Without(now, edit.Tile), tab, original, givesWay: false), null);
    }

    /// <summary>The opening view with the tabs and tiles that the viewer added.</summary>
    private Arrangement WithOwnOf(Arrangement now)
    {
        var own = now.Tabs.Where(t => t.Own).Select(t => t with { Tiles = [.. t.Tiles.Where(x => x.Own)] });
        var next = Opening with { Tabs = [.. Opening.Tabs, .. own] };
        foreach (var tab in now.Tabs.Where(t => !t.Own))
        foreach (var tile in tab.Tiles.Where(t => t.Own))
            next = Put(next, tab.Name, tile, givesWay: true);
        return next;
    }
}
