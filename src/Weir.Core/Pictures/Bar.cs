using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Bars, one for each member.</summary>
internal static class Bar
{
    public static PictureKind Kind { get; } =
        new("bar", "bars, one for each member; split, the parts are stacked where they add up")
        {
            Show = new Slot(1, 4),
            By = Slot.Of(1),
            CanSplit = true,
        };
}
