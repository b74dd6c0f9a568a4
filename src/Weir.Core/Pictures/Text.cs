using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Words between the figures.</summary>
internal static class Text
{
    public static PictureKind Kind { get; } =
        new("text", "words in CommonMark; with a dataset, `{measure}` stands for a figure and `{field}` for what is picked of it")
        {
            Rows = 2,
            Pick = Pick.None,
            Question = QuestionShape.Nothing,
            WithData = new("text", "words with figures in them")
            {
                Pick = Pick.None,
                Question = QuestionShape.Groups,
                Rows = 2,
            },
            Own =
            [
                new OwnKey(
                    new Key(
                        "text",
                        new Shape.Text(),
                        "For a text: what it says, in CommonMark without HTML; over a dataset {measure} is its figure, {field} what is picked."
                    ),
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
