using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Rings, the first field innermost, each part as wide as its figure.</summary>
internal static class Sunburst
{
    public static PictureKind Kind { get; } =
        new("sunburst", "rings, the first field or the topmost labels innermost, each part as wide as its figure")
        {
            Show = Slot.Of(1),
            By = new Slot(1, 3),
            AddsUp = true,
            ColoursMembers = true,
            Own = [DrawnAs.Parent],
        };
}
