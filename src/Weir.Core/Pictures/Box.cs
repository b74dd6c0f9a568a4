using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>How figures spread, one box for each member.</summary>
internal static class Box
{
    private const int Figures = 5;

    public static PictureKind Kind { get; } =
        new(
            "box",
            "boxes that tell how values spread, one for each member: `of` a number, with its outliers; or by five measures in their order: "
                + "the end of the lower whisker, the lower quartile, the median, the upper quartile, the end of the upper whisker"
        )
        {
            Show = Slot.Of(Figures) with { OrKey = SpreadOf.Own.Key.Name },
            By = Slot.Of(1),
            PlacedMeasures = Figures,
            EachKey = PictureKind.RepeatKey,
            Own = [SpreadOf.Own, ReferenceLine.Own, TipText.Own, DrawnAs.Repeat, DrawnAs.Scales],
        };
}
