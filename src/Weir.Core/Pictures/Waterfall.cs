using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Steps that add up from a start to an end.</summary>
internal static class Waterfall
{
    public static PictureKind Kind { get; } =
        new(
            "waterfall",
            "steps that add up, one for each member: of one measure from nothing to its sum; of two from the sum of the first to that of "
                + "the second, each step the difference"
        )
        {
            Show = new Slot(1, 2),
            By = Slot.Of(1),
            PlacedMeasures = 2,
            AddsUp = true,
            EachKey = PictureKind.RepeatKey,
            Own = [DrawnAs.Direction, TipText.Own, DrawnAs.Repeat, DrawnAs.Scales],
        };
}
