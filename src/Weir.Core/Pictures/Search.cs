using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Pictures;

/// <summary>A piece of text that members contain.</summary>
internal static class Search
{
    public static PictureKind Kind { get; } =
        new("search", "a piece of text that members contain")
        {
            Rows = 2,
            By = Slot.Of(1) with { Kinds = [ValueKind.Text], OrNamed = true, Wanted = "a text" },
            Pick = Pick.Text,
            IsControl = true,
            Question = QuestionShape.Count,
        };
}
