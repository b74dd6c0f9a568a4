using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>A point for each member, placed by two measures and sized by a third.</summary>
internal static class Scatter
{
    public static PictureKind Kind { get; } =
        new(
            "scatter",
            "a point for each member: the first measure across, the second up, a third as its size; split, each colour is a member "
                + "of the split, and a second field may give each point its shape; a drawn rectangle picks what lies in it"
        )
        {
            Show = new Slot(2, 3),
            By = new Slot(1, 2),
            CanSplit = true,
            SplitsSeveral = true,
            PlacedMeasures = 2,
            EachKey = PictureKind.RepeatKey,
            MostPoints = 50_000,
            Own = [DrawnAs.ShapeBy, TipText.Own, DrawnAs.Repeat, DrawnAs.Scales],
        };
}
