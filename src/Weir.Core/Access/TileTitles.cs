using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Access;

/// <summary>Titles of tiles whose developer gave none.</summary>
public static class TileTitles
{
    /// <summary>The title that a tile has, or one made for it; nothing for words, with figures or without.</summary>
    /// <param name="scope">The right on its dataset; null if it has none.</param>
    public static string Shown(Tile tile, Scope? scope) => tile.Title ?? (scope is null || tile.Text is not null ? "" : Of(tile, scope));

    /// <summary>A title for a tile, as a sentence: "Income by route, top 10".</summary>
    public static string Of(Tile tile, Scope scope)
    {
        string Group(FieldAt at) => Titles.OfField(at, scope.Fields[at.Field].Title);
        var shown = Sentences.And(tile.Show.Select((m, i) => i == 0 ? scope.Measures[m].Title : Lower(scope.Measures[m].Title)));
        var groups = Sentences.And(tile.ByOfEach.Select(f => Lower(Group(f))));
        var title = (shown, groups) switch
        {
            ("", _) => Group(tile.By[0]),
            (_, "") => shown,
            _ => $"{shown} by {groups}",
        };
        if (tile.Split is not null)
            title += $", split by {Lower(Group(tile.Split))}";
        if (tile.Repeats)
            title += $", for each {Lower(Group(tile.By[^1]))}";
        return tile.Top is null ? title : $"{title}, top {tile.Top.Count}";
    }

    private static string Lower(string title) =>
        title.Length > 1 && char.IsUpper(title[1]) ? title : char.ToLowerInvariant(title[0]) + title[1..];
}
