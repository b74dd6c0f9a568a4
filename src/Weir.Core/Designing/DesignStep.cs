using System.Text.Json.Nodes;

namespace Weir.Core.Designing;

/// <summary>
/// One change by hand to a definition. Places are paths of keys; an item of a list is named by what it is called (its tile, tab, section,
/// group or area), or by its number from 0: <c>tabs, sales, tiles, channel, title</c>.
/// </summary>
public abstract record DesignStep
{
    /// <summary>Gives a key a value, whether it has one or not. Of a list or a mapping only what differs is written anew.</summary>
    public sealed record Set(IReadOnlyList<string> At, JsonNode? Value) : DesignStep;

    /// <summary>Takes out a key, or an item of a list.</summary>
    public sealed record Remove(IReadOnlyList<string> At) : DesignStep;

    /// <summary>Puts an item into a list, which is made if there is none.</summary>
    /// <param name="Before">The item before which it stands; null for the end.</param>
    public sealed record Insert(IReadOnlyList<string> At, JsonNode? Value, string? Before) : DesignStep;

    /// <summary>Puts an item of a list elsewhere, in the same or another list, as it is written.</summary>
    /// <param name="To">The list, which is there.</param>
    /// <param name="Before">The item before which it stands; null for the end.</param>
    public sealed record Move(IReadOnlyList<string> At, IReadOnlyList<string> To, string? Before) : DesignStep;

    /// <summary>The keys that name an item of a list.</summary>
    internal static IReadOnlyList<string> Naming { get; } = ["tile", "tab", "section", "group", "area"];
}
