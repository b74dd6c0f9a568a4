using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Words between the figures.</summary>
internal static class Text
{
    public static PictureKind Kind { get; } =
        new("text", "words; blank lines part paragraphs")
        {
            Pick = Pick.None,
            Question = QuestionShape.Nothing,
            Own =
            [
                new OwnKey(
                    new Key("text", new Shape.Text(), "For a text: what it says; blank lines part paragraphs."),
                    "not-text",
                    "Only a text tile says words of its own."
                )
                {
                    IsNeeded = true,
                    Severity = Severity.Warning,
                },
            ],
        };
}
