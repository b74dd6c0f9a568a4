using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>What fields are like, in one table.</summary>
internal static class Summary
{
    public static PictureKind Kind { get; } =
        new(
            "summary",
            "what each field is like: of numbers how many, missing, mean (standard deviation), median (quartiles), least to greatest; of "
                + "dates the first to the last; of others how many each (and their share); a column for each member of the split, and one for all"
        )
        {
            By = new Slot(1, 12),
            CanSplit = true,
            Pick = Pick.None,
            Rows = 6,
            Question = QuestionShape.Summary,
        };
}
