using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>One figure, large.</summary>
internal static class Number
{
    public static PictureKind Kind { get; } =
        new("number", "one figure; with change, that of the newest period and its change on the one before")
        {
            Rows = 2,
            Show = Slot.Of(1),
            Pick = Pick.None,
            Own =
            [
                new OwnKey(
                    new Key(
                        "change",
                        new Shape.Keys(new Key("on", new Shape.Text(), "A date field at a grain: departed.month.", Required: true)),
                        "For a number: show the newest period and the change on the one before."
                    ),
                    "cannot-change",
                    "Only a number shows the change on the period before."
                ),
            ],
        };
}
