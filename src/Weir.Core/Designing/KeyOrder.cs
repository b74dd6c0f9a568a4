using System.Runtime.CompilerServices;
using Weir.Core.Definitions;

namespace Weir.Core.Designing;

/// <summary>In which order keys are written: as their shape tells of them, but of a tile what it shows before what surrounds it.</summary>
internal static class KeyOrder
{
    /// <summary>What stands first in a tile, so that it reads as a sentence.</summary>
    private static readonly string[] First = ["tile", "shared", "section", "picture", "dataset", "show", "by", "split", "sort", "top"];

    /// <summary>What stands last.</summary>
    private static readonly string[] Last =
    [
        "pick",
        "title",
        "description",
        "group",
        "drives",
        "follows",
        "opening",
        "required",
        "refresh",
        "waits",
        "tools",
        "fixed",
        "viewers_may",
        "place",
    ];

    private static readonly ConditionalWeakTable<Shape.Keys, IReadOnlyDictionary<string, int>> Kept = [];

    private static readonly IReadOnlyDictionary<string, int> None = new Dictionary<string, int>();

    /// <summary>The place of each key; none for what has no known keys.</summary>
    public static IReadOnlyDictionary<string, int> Of(Shape? shape) => shape is Shape.Keys keys ? Kept.GetValue(keys, Read) : None;

    private static Dictionary<string, int> Read(Shape.Keys keys)
    {
        var names = keys.Known.Select(k => k.Name).ToList();
        var ordered = names.Contains("picture")
            ? First.Where(names.Contains).Concat(names.Except(First).Except(Last)).Concat(Last.Where(names.Contains))
            : names;
        return ordered.Select((n, i) => (n, i)).ToDictionary(e => e.n, e => e.i);
    }
}
