using Weir.Core.Interaction;

namespace Weir.Core.Planning.Passes;

/// <summary>Groups the tile by the level that the viewer has opened on it.</summary>
internal static class OpenedLevel
{
    public static TilePlan Apply(TilePlan plan) => plan with { Tile = Drilling.At(plan.Tile, plan.Own?.Path ?? []) };
}
