using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Pictures;

/// <summary>A range of numbers.</summary>
internal static class Slider
{
    public static PictureKind Kind { get; } =
        new("slider", "a range within the least and greatest of the data, by two handles or typed")
        {
            Rows = 2,
            By = Slot.Of(1) with { Kinds = [ValueKind.Integer, ValueKind.Decimal, ValueKind.Float], Wanted = "a number" },
            Pick = Pick.Range,
            IsControl = true,
            Question = QuestionShape.Ends,
        };
}
