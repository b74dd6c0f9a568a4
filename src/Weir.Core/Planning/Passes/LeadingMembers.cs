namespace Weir.Core.Planning.Passes;

/// <summary>Only the leading members of the first group, the others dropped or gathered into one.</summary>
internal static class LeadingMembers
{
    public static TilePlan Apply(TilePlan plan) =>
        plan.Tile.Top is { } top && plan.Shown is { Groups.Count: > 0, Figures.Count: > 0 }
            ? plan.Showing(plan.Shown with { Top = new TopMembers(top.Count, top.Rest) })
            : plan;
}
