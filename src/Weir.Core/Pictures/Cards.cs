using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Several figures, each large on a card of its own.</summary>
internal static class Cards
{
    public static PictureKind Kind { get; } =
        new(
            "cards",
            "a large figure on a card for each of several measures, or for each member of a field, with further measures below the first; a "
                + "card of a member can be picked"
        )
        {
            Rows = 3,
            Show = new Slot(1, 8),
            By = new Slot(0, 1),
        };
}
