using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Lines with the area below them.</summary>
internal static class Area
{
    public static PictureKind Kind { get; } =
        new("area", "lines with the area below them; split, the parts lie as `parts` says")
        {
            Show = new Slot(1, 8),
            By = Slot.Of(1),
            CanSplit = true,
            DrawsCourse = true,
            EachKey = PictureKind.RepeatKey,
            Own = [DrawnAs.Parts, DrawnAs.Line, ReferenceLine.Own, TipText.Own, DrawnAs.Repeat, DrawnAs.Scales, DrawnAs.Window],
        };
}
