using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Points on a map, where two measures say.</summary>
internal static class Places
{
    public static PictureKind Kind { get; } =
        new(
            "places",
            "a point for each member on a map: the first measure is its longitude, the second its latitude, in degrees; a third is its size, "
                + "a fourth its colour"
        )
        {
            Show = new Slot(2, 4),
            By = Slot.Of(1),
            PlacedMeasures = 4,
            Own = [Map.Areas, TipText.Own, DrawnAs.Middle],
        };
}
