using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Interaction;

/// <summary>A tile whose viewer has opened levels of its hierarchy.</summary>
public static class Drilling
{
    /// <summary>The fields of all levels, the tile's own first.</summary>
    public static IReadOnlyList<FieldAt> Levels(Tile tile) => tile.Drill is { } drill ? [tile.By[0], .. drill.To] : [.. tile.By.Take(1)];

    /// <summary>The tile at the level that a path leads to: grouped by that level's field.</summary>
    public static Tile At(Tile tile, IReadOnlyList<object?> path)
    {
        if (path.Count == 0)
            return tile;
        var level = Levels(tile)[path.Count];
        return tile with
        {
            By = [level],
            Sort = tile.Sort is { } sort && sort.By == tile.By[0].ToString() ? sort with { By = level.ToString() } : tile.Sort,
        };
    }

    /// <summary>The tile at the level that its own selection has opened.</summary>
    public static Tile Opened(Tile tile, IEnumerable<Selection> selections) =>
        At(tile, selections.FirstOrDefault(s => s.Tile == tile.Name)?.Path ?? []);

    /// <summary>What the rows below a path meet: one condition for each step.</summary>
    /// <param name="fields">The fields of the steps, in the dataset of the rows.</param>
    public static IEnumerable<Bound> Path(IReadOnlyList<object?> path, IReadOnlyList<FieldAt> fields, Scope scope, DayOfWeek weekStart) =>
        path.Select((member, i) => Conditions.IsMember([fields[i]], [member], scope, weekStart));
}
