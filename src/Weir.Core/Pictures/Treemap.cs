using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Rectangles within rectangles, one for each combination of members, as large as its figure.</summary>
internal static class Treemap
{
    public static PictureKind Kind { get; } =
        new(
            "treemap",
            "rectangles within rectangles, one for each combination of members, or for each label below its `parent`, as large as its figure"
        )
        {
            Show = Slot.Of(1),
            By = new Slot(1, 3),
            AddsUp = true,
            ColoursMembers = true,
            Own = [DrawnAs.Parent],
        };
}
