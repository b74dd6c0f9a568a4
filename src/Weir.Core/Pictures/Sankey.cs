using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Flows from the members of the first field to those of the second, as wide as the figure; a picked flow is a pair.</summary>
internal static class Sankey
{
    public static PictureKind Kind { get; } =
        new("sankey", "flows from the members of the first field to those of the second, as wide as the figure; a picked flow is a pair")
        {
            Show = Slot.Of(1),
            By = Slot.Of(2),
            AddsUp = true,
            ColoursMembers = true,
        };
}
