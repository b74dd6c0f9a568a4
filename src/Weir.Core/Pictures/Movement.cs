using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>How many subjects went from which state to which.</summary>
internal static class Movement
{
    public static PictureKind Kind { get; } =
        new(
            "movement",
            "how many subjects went from which state to which: of `each` subject `along` a date the first state down, and the last or the "
                + "worst later one across"
        )
        {
            By = Slot.Of(1),
            Pick = Pick.None,
            Question = QuestionShape.Movement,
            Own = SubjectStates.Own,
        };
}
