using static Weir.Core.Definitions.Shape;

namespace Weir.Core.Definitions;

/// <summary>The keys of a tile about its members, which many kinds of picture take: each kind declares which.</summary>
public static class KeysOfMembers
{
    public static Key Top { get; } =
        new(
            "top",
            new Keys(
                new Key("count", new Whole(1, 1000), "How many members stay.", Required: true),
                new Key("rest", new Flag(), "Whether the others are gathered into one member. false if left out.")
            ),
            "Only the leading members."
        );

    public static Key Sort { get; } =
        new(
            "sort",
            new Keys(
                new Key("by", new Text(), "A measure that is shown, or a field that it is grouped by.", Required: true),
                new Key("order", new Text("ascending", "descending"), "ascending if left out.")
            ),
            "The order of the members."
        );

    public static Key Drill { get; } =
        new(
            "drill",
            new Keys(
                new Key(
                    "to",
                    new ListOf(new Text()),
                    "The fields of the levels below, the next one first: a field, or a date at a grain.",
                    Required: true
                ),
                new Key("drives", new Flag(), "Whether the opened path also filters what the tile drives. false if left out.")
            ),
            "Levels that a viewer opens below the field that it is grouped by."
        );

    /// <summary>All of them, in the order in which they are told of.</summary>
    public static IReadOnlyList<Key> All { get; } = [Top, Sort, Drill];
}
