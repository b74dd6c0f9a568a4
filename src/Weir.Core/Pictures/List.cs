using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Members in a list that stays open.</summary>
internal static class List
{
    public static PictureKind Kind { get; } =
        new("list", "members to choose from, in a list of boxes to tick; with `pick: one` one choice of several")
        {
            By = Slot.Of(1),
            IsControl = true,
            Question = QuestionShape.Options,
        };
}
