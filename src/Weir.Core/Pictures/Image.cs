using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>An image of the workspace: a sketch, a logo.</summary>
internal static class Image
{
    public static PictureKind Kind { get; } =
        new("image", "an image file of the workspace, such as a sketch or a logo")
        {
            Rows = 3,
            Pick = Pick.None,
            Question = QuestionShape.Nothing,
            Own =
            [
                new OwnKey(
                    new Key("file", new Shape.Text(), "For an image: its file, such as images/isles.svg (SVG, PNG or JPEG)."),
                    "not-image",
                    "Only an image tile shows a file."
                )
                {
                    IsNeeded = true,
                },
                new OwnKey(
                    new Key("alt", new Shape.Text(), "For an image: what it shows, in words for whoever can't see it."),
                    "not-image",
                    "Only an image tile has words in its place."
                )
                {
                    IsNeeded = true,
                },
            ],
        };
}
