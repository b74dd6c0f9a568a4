using Weir.Core.Interaction;

namespace Weir.Core.Views;

/// <summary>What an edit did, for the list of a viewer's steps.</summary>
public static class EditWords
{
    /// <summary>A short sentence without its full stop: <c>Hid Income</c>.</summary>
    /// <param name="before">The arrangement on which it was made, whose titles it speaks in.</param>
    /// <param name="titleOf">The title of a tile; its name where the viewer has none.</param>
    public static string Of(ViewEdit edit, Arrangement before, Func<string, string> titleOf)
    {
        string Tab(string name) => before.Tabs.FirstOrDefault(t => t.Name == name)?.Title ?? name;
        return edit switch
        {
            ViewEdit.PlaceTiles { Tiles: [var only] } => $"{Moved(only, before)} {titleOf(only.Tile)}",
            ViewEdit.PlaceTiles p => $"Moved {p.Tiles.Count} tiles on {Tab(p.Tab)}",
            ViewEdit.MoveToTab m => $"Moved {titleOf(m.Tile)} to the tab {Tab(m.Tab)}",
            ViewEdit.HideTile h => $"Hid {titleOf(h.Tile)}",
            ViewEdit.ShowTile s => $"Showed {titleOf(s.Tile)} again",
            ViewEdit.AddTab a => $"Added the tab {a.Title.Trim()}",
            ViewEdit.RenameTab { Title: var title } r when title.Trim().Length == 0 => $"Gave the tab {Tab(r.Tab)} its own title back",
            ViewEdit.RenameTab r => $"Called the tab {Tab(r.Tab)} {r.Title.Trim()}",
            ViewEdit.RemoveTab r => $"Removed the tab {Tab(r.Tab)}",
            ViewEdit.HideTab h => $"Hid the tab {Tab(h.Tab)}",
            ViewEdit.ShowTab s => $"Showed the tab {Tab(s.Tab)} again",
            ViewEdit.OrderTabs => "Put the tabs in another order",
            ViewEdit.KeepPicks { Selections: null } => "Let go what was kept picked",
            ViewEdit.KeepPicks => "Kept what was picked",
            ViewEdit.Reset { KeepOwn: true } => "Went back to the opening view, with what was added",
            ViewEdit.Reset => "Went back to the opening view",
            ViewEdit.SetColumns c => $"Put {Tab(c.Tab)} into {c.Columns} column{(c.Columns == 1 ? "" : "s")}",
            ViewEdit.AddTile a => $"Added a tile to {Tab(a.Tab)}",
            ViewEdit.MakeTile m => $"Made a tile on {Tab(m.Tab)}",
            ViewEdit.CopyTile c => $"Copied {titleOf(c.Tile)} to {Tab(c.Tab)}",
            ViewEdit.RemoveTile r => $"Removed {titleOf(r.Tile)}",
            ViewEdit.RetitleTile { Title: var title } r when title.Trim().Length == 0 => $"Gave {titleOf(r.Tile)} its own title back",
            ViewEdit.RetitleTile r => $"Called a tile {r.Title.Trim()}",
            ViewEdit.CopyTab c => $"Copied the tab {Tab(c.Tab)} as {c.Title.Trim()}",
            ViewEdit.Draw { Drawing: null or { IsEmpty: true } } d => $"Drew {titleOf(d.Tile)} as it was defined",
            ViewEdit.Draw d => $"Drew {titleOf(d.Tile)} otherwise",
            ViewEdit.SetTable { Table: null or { IsEmpty: true } } t => $"Gave the columns of {titleOf(t.Tile)} back their places",
            ViewEdit.SetTable { Table: { Sorted: { Count: > 0 } } or { Filters: { Count: > 0 } } } t =>
                $"Set the columns and lines of {titleOf(t.Tile)}",
            ViewEdit.SetTable t => $"Set the columns of {titleOf(t.Tile)}",
            ViewEdit.Clear c => $"Began the empty page {c.Title.Trim()}",
            ViewEdit.TakePublished t => $"Took {titleOf(t.Tile)} as its developer has it",
            _ => throw new InvalidOperationException($"No words for {edit.GetType().Name}."),
        };
    }

    private static string Moved(TilePlace to, Arrangement before) =>
        before.Tiles.FirstOrDefault(t => t.Tile.Name == to.Tile)?.Place is { } place
        && (place.Width, place.Height) != (to.Place.Width, to.Place.Height)
            ? "Sized"
            : "Moved";
}
