using Weir.Core.Access;

namespace Weir.Core.Planning.Passes;

/// <summary>Takes away what the viewer may not see, so that no later pass can ask for it.</summary>
internal static class VisiblePart
{
    /// <exception cref="ArgumentException">Nothing of the tile is the viewer's to see.</exception>
    public static TilePlan Apply(TilePlan plan) =>
        plan with
        {
            Tile =
                Fields.Visible(plan.Tile, plan.Scope)
                ?? throw new ArgumentException($"The tile {plan.Tile.Name} can't be seen under this right."),
        };
}
