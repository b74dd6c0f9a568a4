using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>A set of tabs under one title: the first of two steps to any tile.</summary>
public sealed record Area(string Name, string Title);

/// <summary>A titled part of a tab that folds. Its tiles stand in a grid of their own.</summary>
/// <param name="IsFolded">True if it opens folded; what stands in it asks nothing then.</param>
public sealed record TabSection(string Name, string Title, bool IsFolded)
{
    /// <summary>Into how many equal columns its tiles flow; null if they have places.</summary>
    public int? Columns { get; init; }

    /// <summary>What viewers may change on it.</summary>
    public Changes May { get; init; } = Changes.All;

    /// <summary>True if that is said of it or of its tab, and not for the dashboard as a whole.</summary>
    public bool SaysMay { get; init; }
}

/// <summary>How much room a tab gives its tiles.</summary>
public enum Fit
{
    /// <summary>Each row is as high as what stands in it needs.</summary>
    Content,

    /// <summary>The rows share the height of the window.</summary>
    Window,
}

/// <summary>What viewers may change in their own views, as the developer says.</summary>
[Flags]
public enum Changes
{
    /// <summary>Nothing.</summary>
    None = 0,

    /// <summary>Where tiles stand, and how large they are.</summary>
    Move = 1,

    /// <summary>Whether tiles and tabs are shown.</summary>
    Hide = 2,

    /// <summary>Tabs of one's own; names and order of tabs.</summary>
    Tabs = 4,

    /// <summary>Tiles from catalogues, and copies.</summary>
    Add = 8,

    /// <summary>How tiles are drawn: kind, measures, fields, order.</summary>
    Draw = 16,

    /// <summary>With which picks the dashboard opens.</summary>
    Keep = 32,

    /// <summary>All of it: what is not said otherwise.</summary>
    All = Move | Hide | Tabs | Add | Draw | Keep,
}

/// <summary>The words for <see cref="Changes"/> in definitions.</summary>
public static class ChangeWords
{
    private static readonly Changes[] Each = [Changes.Move, Changes.Hide, Changes.Tabs, Changes.Add, Changes.Draw, Changes.Keep];

    /// <summary>Every word there is.</summary>
    public static IReadOnlyList<string> All { get; } = [.. Each.Select(WordOf)];

    /// <summary>The words of a set, in their order.</summary>
    public static IReadOnlyList<string> Of(Changes changes) => [.. Each.Where(c => changes.HasFlag(c)).Select(WordOf)];

    /// <summary>The set that some words mean; those that mean nothing are left out.</summary>
    public static Changes Read(IEnumerable<string> words) =>
        words.Aggregate(Changes.None, (all, word) => all | Each.FirstOrDefault(c => WordOf(c) == word));

    /// <summary>The set that a key gives: all, none, or a list of words.</summary>
    internal static Changes Read(YamlNode node) =>
        node switch
        {
            YamlScalarNode { Value: "none" } => Changes.None,
            YamlScalarNode => Changes.All,
            _ => Read(YamlText.Items(node).Select(i => i.Value!)),
        };

    private static string WordOf(Changes change) => change.ToString().ToLowerInvariant();
}

/// <summary>Tiles in equal columns, in reading order.</summary>
public static class Columns
{
    /// <summary>The numbers of columns that twelve can be parted into.</summary>
    public static IReadOnlyList<int> Numbers { get; } = [1, 2, 3, 4, 6, 12];

    /// <summary>The place of each tile: from left to right, each below what stands in its column.</summary>
    /// <param name="columns">One of <see cref="Numbers"/>.</param>
    /// <param name="heights">The rows that each tile covers, in reading order.</param>
    public static IReadOnlyList<Place> Flow(int columns, IReadOnlyList<int> heights)
    {
        var (width, next) = (12 / columns, new int[columns]);
        var places = new List<Place>();
        foreach (var height in heights)
        {
            var column = places.Count % columns;
            places.Add(new Place(column * width, next[column], width, height));
            next[column] += height;
        }
        return places;
    }
}

/// <summary>Where the tiles of a tab stand that flow into columns.</summary>
public static class TabFlow
{
    /// <summary>The places by name, each in the grid of its section; those that have places of their own are left out.</summary>
    /// <param name="tiles">Those that are there, in the order of the file.</param>
    public static IReadOnlyDictionary<string, Place> Of(Tab tab, IReadOnlyList<Tile> tiles)
    {
        var places = new Dictionary<string, Place>();
        foreach (var together in tiles.Where(t => !t.IsInPanel).GroupBy(t => t.Section))
            if (tab.ColumnsOf(together.Key) is { } columns)
                foreach (var (tile, place) in together.Zip(Columns.Flow(columns, [.. together.Select(t => t.Place.Height)])))
                    places[tile.Name] = place;
        return places;
    }
}
