using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Bars, one for each member.</summary>
internal static class Bar
{
    public static PictureKind Kind { get; } =
        new("bar", "bars, one for each member; split or of several measures, the parts lie as `parts` says")
        {
            Show = new Slot(1, 4),
            By = Slot.Of(1),
            CanSplit = true,
            EachKey = PictureKind.RepeatKey,
            Own =
            [
                DrawnAs.Parts,
                DrawnAs.Direction,
                DrawnAs.Marks,
                DrawnAs.Axes,
                ReferenceLine.Own,
                TipText.Own,
                DrawnAs.Repeat,
                DrawnAs.Scales,
                DrawnAs.Window,
            ],
        };
}
