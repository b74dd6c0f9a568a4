using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Pictures;

/// <summary>A range of dates.</summary>
internal static class Dates
{
    public static PictureKind Kind { get; } =
        new("dates", "from a day to a day, both included, or a period such as *last 30 days*")
        {
            Rows = 2,
            By = Slot.Of(1) with { Kinds = [ValueKind.Date, ValueKind.Timestamp], Wanted = "a date" },
            Pick = Pick.Range,
            IsControl = true,
            Question = QuestionShape.Ends,
        };
}
