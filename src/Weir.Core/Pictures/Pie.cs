using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Parts of a whole as slices.</summary>
internal static class Pie
{
    public static PictureKind Kind { get; } =
        new("pie", "slices of a whole, one for each member")
        {
            Show = Slot.Of(1),
            By = Slot.Of(1),
            ColoursMembers = true,
            Own =
            [
                TipText.Own,
                new OwnKey(
                    new Key(
                        "ring",
                        new Shape.Text("true", "false"),
                        "For a pie: whether it is a ring, with the sum in its middle. false if left out."
                    ),
                    "no-ring",
                    "Only a pie can be a ring."
                )
                {
                    IsOption = true,
                },
            ],
        };
}
