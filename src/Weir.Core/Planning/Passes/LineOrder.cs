using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Planning.Passes;

/// <summary>The order of the lines: as the developer sorts them, else by the figure for members without an order of their own.</summary>
internal static class LineOrder
{
    public static TilePlan Apply(TilePlan plan)
    {
        if (plan.Shown.Groups.Count == 0)
            return plan;
        var byMember = ByMember(plan.Tile, plan.Shown, plan.Scope);
        return plan.Showing(plan.Shown with { Order = Of(plan.Planner, plan.Tile, plan.Shown, plan.Scope, byMember), ByMember = byMember });
    }

    /// <summary>Where lines are split, a member's place is by its figure over all of them.</summary>
    private static MemberOrder? ByMember(Tile tile, Query query, Scope scope)
    {
        if (tile.Split is null || tile.By.Count != 1 || query.Figures.Count == 0)
            return null;
        if (tile.Sort is { } sort)
            return tile.Show.ToList().IndexOf(sort.By) is >= 0 and var figure ? new MemberOrder(figure, sort.Descending) : null;
        return IsNamed(query.Groups[0], scope) ? new MemberOrder(0, Descending: true) : null;
    }

    /// <summary>True for members without an order of their own: texts, and codes and keys that are read by their names.</summary>
    private static bool IsNamed(Output group, Scope scope) =>
        (group.Formula.Kind == ValueKind.Text || group.Column.Names is not null || group.NamedBy is not null)
        && scope.Fields[group.Column.Name].Order is null;

    /// <summary>The order of the lines of a question of a tile.</summary>
    /// <param name="byMember">The order of the members that are split, which comes before that of the lines; null for none.</param>
    public static IReadOnlyList<OrderKey> Of(Planner planner, Tile tile, Query query, Scope scope, MemberOrder? byMember = null)
    {
        var groups = query.Groups.Count;
        var firstFigure = groups + (query.Top is { Rest: true } ? 1 : 0);
        var keys = new List<OrderKey>();
        if (byMember is null && tile.Sort is { } sort)
        {
            var group = tile.Groups.ToList().FindIndex(g => g.ToString() == sort.By);
            var column = group >= 0 ? group : firstFigure + tile.Show.ToList().IndexOf(sort.By);
            keys.Add(planner.Key(query, column, sort.Descending));
        }
        else if (groups > 0 && query.Figures.Count > 0 && tile.Split is null && query.Groups.All(g => IsNamed(g, scope)))
            keys.Add(planner.Key(query, firstFigure, descending: true));
        for (var i = 0; i < groups; i++)
            if (keys.All(k => k.Column != i))
                keys.Add(planner.Key(query, i, descending: false));
        return keys;
    }
}
