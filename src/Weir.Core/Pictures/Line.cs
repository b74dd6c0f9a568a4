using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Lines, one for each measure or each member of the split.</summary>
internal static class Line
{
    public static PictureKind Kind { get; } =
        new("line", "lines along a date, a number or members in order")
        {
            Show = new Slot(1, 8),
            By = Slot.Of(1),
            CanSplit = true,
            DrawsCourse = true,
            EachKey = PictureKind.RepeatKey,
            Own =
            [
                DrawnAs.Line,
                DrawnAs.Points,
                DrawnAs.SinceStart,
                DrawnAs.Axes,
                ReferenceLine.Own,
                TipText.Own,
                DrawnAs.Repeat,
                DrawnAs.Scales,
                DrawnAs.Window,
            ],
        };
}
