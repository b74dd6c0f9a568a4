using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Members behind a field that opens.</summary>
internal static class Dropdown
{
    public static PictureKind Kind { get; } =
        new("dropdown", "members to choose from, behind a field that opens; searched as one types")
        {
            Rows = 2,
            By = Slot.Of(1),
            IsControl = true,
            Question = QuestionShape.Options,
        };
}
