using Weir.Core.Access;
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

    /// <summary>More tiles of one's own than this are refused.</summary>
    public const int MaximumOwnTiles = 200;

    /// <summary>What the name of a tile begins with that a viewer adds.</summary>
    public const string OwnPrefix = "own-";

    /// <summary>The arrangement after all edits. What an edit names and the dashboard no longer has is dropped and told, never an error.</summary>
    public static (Arrangement Arrangement, IReadOnlyList<DroppedEdit> Dropped) Apply(Dashboard dashboard, IEnumerable<ViewEdit> edits) =>
        Apply(new ViewFold(dashboard), edits);

    /// <inheritdoc cref="Apply(Dashboard, IEnumerable{ViewEdit})"/>
    public static (Arrangement Arrangement, IReadOnlyList<DroppedEdit> Dropped) Apply(ViewFold fold, IEnumerable<ViewEdit> edits)
    {
        var now = fold.Opening;
        var dropped = new List<DroppedEdit>();
        // What is done to a tile that could not be added is not worth a word of its own.
        var absent = new HashSet<string>();
        foreach (var edit in edits)
        {
            if (AddedBy(edit) is { } again)
                absent.Remove(again);
            if (absent.Count > 0 && NamedBy(edit) is { } named && absent.Contains(named))
                continue;
            var (next, reason) = fold.Apply(now, edit);
            if (reason is not null)
            {
                dropped.Add(new DroppedEdit(edit, reason));
                if (AddedBy(edit) is { } added && next.Tiles.All(t => t.Tile.Name != added))
                    absent.Add(added);
            }
            now = next;
        }
        // A newer dashboard may bring tiles to where the viewer has put others, and have none but the tabs that the viewer hid.
        if (now.Tabs.All(t => t.Hidden))
            now = now with { Tabs = [.. now.Tabs.Select(t => t with { Hidden = false })] };
        return (now with { Tabs = [.. now.Tabs.Select(t => Settling.Of(t, []))] }, dropped);
    }

    private static string? AddedBy(ViewEdit edit) =>
        edit switch
        {
            ViewEdit.AddTile a => a.Tile,
            ViewEdit.MakeTile m => m.Tile,
            ViewEdit.CopyTile c => c.As,
            _ => null,
        };

    private static string? NamedBy(ViewEdit edit) =>
        edit switch
        {
            ViewEdit.PlaceTiles { Tiles: [var only] } => only.Tile,
            ViewEdit.MoveToTab m => m.Tile,
            ViewEdit.HideTile h => h.Tile,
            ViewEdit.ShowTile s => s.Tile,
            ViewEdit.RemoveTile r => r.Tile,
            ViewEdit.RetitleTile r => r.Tile,
            ViewEdit.Draw d => d.Tile,
            ViewEdit.SetTable t => t.Tile,
            ViewEdit.CopyTile c => c.Tile,
            ViewEdit.TakePublished t => t.Tile,
            _ => null,
        };

    /// <summary>
    /// Those of somebody else's edits that mean something on the dashboard as the viewer has it, each without what the viewer has not:
    /// nothing that is left tells of a tile or tab that is not there, or of a measure or field.
    /// </summary>
    /// <param name="scopes">The viewer's right on each dataset.</param>
    public static IReadOnlyList<ViewEdit> Fitting(ViewFold fold, IReadOnlyDictionary<string, Scope> scopes, IEnumerable<ViewEdit> edits)
    {
        var now = fold.Opening;
        var fitting = new List<ViewEdit>();
        foreach (var edit in edits)
        {
            var tabs = now.TabOf();
            var known = edit switch
            {
                ViewEdit.PlaceTiles p => p with { Tiles = [.. p.Tiles.Where(t => tabs.ContainsKey(t.Tile))] },
                // What was hidden by the legend may be a member that this viewer may not see.
                ViewEdit.Draw { Drawing: { Without: not null } own } d => d with { Drawing = own with { Without = null } },
                ViewEdit.SetTable { Table: { } columns } t => t with
                {
                    Table = columns.WithoutMembers.Of(c => IsColumnOf(now, t.Tile, c, scopes) ? c : null),
                },
                ViewEdit.OrderTabs o => o with { Tabs = [.. o.Tabs.Where(t => now.Tabs.Any(x => x.Name == t))] },
                _ => edit,
            };
            if (known is ViewEdit.PlaceTiles { Tiles.Count: 0 } or ViewEdit.OrderTabs { Tabs.Count: 0 })
                continue;
            if (known is ViewEdit.Draw { Drawing: { IsEmpty: false } drawing } draw && !CanBeDrawn(now, draw.Tile, drawing, scopes))
                continue;
            var (next, reason) = fold.Apply(now, known);
            if (reason is not null)
                continue;
            fitting.Add(known);
            now = next;
        }
        return fitting;
    }

    /// <summary>True if a column of a tile is called after what the viewer has of its data.</summary>
    private static bool IsColumnOf(Arrangement now, string name, string column, IReadOnlyDictionary<string, Scope> scopes) =>
        now.Tiles.FirstOrDefault(t => t.Tile.Name == name)?.Tile is { Dataset: { } dataset }
        && scopes.TryGetValue(dataset, out var scope)
        && scope.HasColumn(column);

    private static bool CanBeDrawn(Arrangement now, string name, Drawing drawing, IReadOnlyDictionary<string, Scope> scopes) =>
        now.Tiles.FirstOrDefault(t => t.Tile.Name == name)?.Tile is { Dataset: { } dataset } tile
        && scopes.TryGetValue(dataset, out var scope)
        && Redrawing.Of(tile, drawing, scope).Tile is not null;

    /// <summary>The picks and parameters with which the viewer has the dashboard open; null if they keep none, or may keep none.</summary>
    public static ViewEdit.KeepPicks? Kept(Dashboard dashboard, IEnumerable<ViewEdit> edits) =>
        dashboard.May.HasFlag(Changes.Keep)
        && edits.Reverse().TakeWhile(e => e is not ViewEdit.Reset).OfType<ViewEdit.KeepPicks>().FirstOrDefault()
            is { Selections: not null } kept
            ? kept
            : null;
}
