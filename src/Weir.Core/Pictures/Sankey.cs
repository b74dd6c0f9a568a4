using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Flows from the members of each field to those of the next, as wide as the figure.</summary>
internal static class Sankey
{
    public static PictureKind Kind { get; } =
        new(
            "sankey",
            "flows from the members of each field to those of the next, as wide as the figure; a picked flow is all that takes it"
        )
        {
            Show = Slot.Of(1),
            By = new Slot(2, 5),
            AddsUp = true,
            ColoursMembers = true,
        };
}
