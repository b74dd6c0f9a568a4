using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Pictures;

/// <summary>Smoothed curves of how thick values lie.</summary>
internal static class Density
{
    public static PictureKind Kind { get; } =
        new(
            "density",
            "smoothed curves of how thick the values of a number lie, one for each member of the split: a Gaussian kernel, whose bandwidth "
                + "is told"
        )
        {
            By = Slot.Of(1) with { Kinds = [ValueKind.Integer, ValueKind.Decimal, ValueKind.Float], Wanted = "a number" },
            CanSplit = true,
            Pick = Pick.Range,
            Question = QuestionShape.Curves,
            Own = [DrawnAs.Heights],
        };
}
