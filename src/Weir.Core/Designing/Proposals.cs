using System.Text.Json.Nodes;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Pictures;

namespace Weir.Core.Designing;

/// <summary>Pictures that suit some fields and measures, as the kinds declare what they take: nothing is known of any kind by name.</summary>
public static class Proposals
{
    /// <summary>So many at most.</summary>
    public const int Most = 9;

    /// <summary>What suits less is not proposed: the parts of a whole by month, or a course of words.</summary>
    private const int Least = -4;

    /// <summary>How many members stay where a field may have any number of them.</summary>
    private const int Leading = 10;

    /// <summary>A dashboard of nothing but proposals, as text, to be drawn with real figures.</summary>
    /// <param name="names">Measures and fields, dates at a grain or as they are; in the order in which they were chosen.</param>
    /// <param name="unknown">The first name that is none of the viewer's; null if all are.</param>
    public static string? TextOf(string dashboard, Scope scope, IReadOnlyList<string> names, out string? unknown)
    {
        var measures = names.Where(scope.Measures.ContainsKey).ToList();
        var fields = new List<FieldAt>();
        foreach (var name in names.Except(measures))
        {
            var at = FieldAt.Parse(name);
            if (Fields.At(at, scope) is null)
            {
                unknown = name;
                return null;
            }
            // A date that says no grain is told by month.
            fields.Add(at.Member is null && scope.Fields[at.Field].Kind.IsTemporal() ? FieldAt.Parse($"{name}.month") : at);
        }
        unknown = null;
        var tiles = new JsonArray();
        var ranked = PictureKinds
            .All.Where(k => k.HasData && !k.IsControl && !k.Own.Any(o => o.IsNeeded))
            .SelectMany(kind =>
            {
                var told = kind.DrawsCourse ? TimeFirst(fields) : fields;
                return For(kind, scope, measures, told).Select(t => (Tile: t, Suits: Suits(kind, t, scope, told)));
            })
            .Where(t => t.Suits >= Least)
            .OrderByDescending(t => t.Suits);
        foreach (var (tile, i) in ranked.Take(Most).Select((t, i) => (t.Tile, i)))
        {
            tile["tile"] = $"proposal-{i + 1}";
            tiles.Add(
                new JsonObject(
                    new[] { "tile", "picture" }
                        .Concat(tile.Select(e => e.Key))
                        .Distinct()
                        .Select(k => KeyValuePair.Create(k, tile[k]?.DeepClone()))
                )
            );
        }
        if (tiles.Count == 0)
            return null;
        var page = new JsonObject
        {
            ["dashboard"] = dashboard,
            ["tabs"] = new JsonArray(
                new JsonObject
                {
                    ["tab"] = "proposals",
                    ["columns"] = 3,
                    ["tiles"] = tiles,
                }
            ),
        };
        return string.Concat(page.Select(e => new Written("\n", 2, 2).Entry(e.Key, e.Value, 0) + "\n"));
    }

    private static IEnumerable<JsonObject> For(PictureKind kind, Scope scope, IReadOnlyList<string> chosen, IReadOnlyList<FieldAt> fields)
    {
        // Without a measure it is told of the first one, where the kind needs any.
        IReadOnlyList<string> measures =
            chosen.Count > 0 || kind.Show.Least == 0 ? chosen
            : scope.Measures.Keys.FirstOrDefault() is { } first ? [first]
            : [];
        if (measures.Count < kind.Show.Least || measures.Count > kind.Show.Most || fields.Count == 0 && kind.By.Least > 0)
            yield break;
        // What is coloured member by member is the whole of its parts.
        if ((kind.AddsUp || kind.ColoursMembers) && !measures.All(m => scope.Measures[m].IsAdditive))
            yield break;
        // What looks at other lines needs lines, and periods where it looks at the one before.
        var overs = measures.SelectMany(m => scope.Measures[m].Formula.All()).OfType<Bound.Over>().ToList();
        if (overs.Count > 0 && !kind.HasLines || overs.Any(o => o.Function == OverFunction.Previous) && !IsAlongTime(fields))
            yield break;
        // Parts of dates are numbers that nobody adds up or puts into ranges.
        bool Fit(IEnumerable<FieldAt> by) =>
            by.All(f =>
                (f.Member is null || kind.Question is QuestionShape.Groups)
                && kind.By.Fits(Fields.At(f, scope)!.Kind, f.Member is null && scope.Fields[f.Field].HasNames)
            );
        var isSplit = kind.CanSplit && fields.Count > 1 && (measures.Count <= 1 || kind.SplitsSeveral);
        foreach (var apart in isSplit ? new[] { 1, 0 } : [0])
        {
            var by = fields.SkipLast(apart).ToList();
            if (by.Count < kind.By.Least || by.Count > kind.By.Most || !Fit(by))
                continue;
            var tile = new JsonObject { ["picture"] = kind.Name, ["dataset"] = scope.Name };
            if (measures.Count > 0)
                tile["show"] = OneOrMany(measures);
            if (by.Count > 0)
                tile["by"] = OneOrMany([.. by.Select(f => f.ToString())]);
            if (apart > 0)
                tile["split"] = fields[^1].ToString();
            // Of words there may be any number: the leading ones first, the others as one where that is meant.
            if (
                by is [var only]
                && measures.Count > 0
                && kind.OfMembers.Contains(KeysOfMembers.Top)
                && Fields.At(only, scope)!.Kind == ValueKind.Text
            )
            {
                tile["sort"] = new JsonObject { ["by"] = measures[0], ["order"] = "descending" };
                if (!kind.HasSubtotals && kind.By.Most == 1)
                    tile["top"] = new JsonObject { ["count"] = Leading, ["rest"] = scope.Measures[measures[0]].IsAdditive };
            }
            yield return tile;
        }
    }

    /// <summary>
    /// A field and a date at a grain with the date first: a course goes along it, whichever was chosen first. Parts of dates, such as
    /// quarters of which each year has a line, stay as they were chosen.
    /// </summary>
    private static IReadOnlyList<FieldAt> TimeFirst(IReadOnlyList<FieldAt> fields) =>
        fields is [{ Member: null } other, var time] && IsAlongTime([time]) ? [time, other] : fields;

    private static bool IsAlongTime(IReadOnlyList<FieldAt> fields) =>
        fields is [{ Member: { } grain }, ..] && Calendar.ParseGrain(grain) is not null;

    private static JsonNode OneOrMany(IReadOnlyList<string> names) =>
        names.Count == 1 ? names[0] : new JsonArray([.. names.Select(n => (JsonNode)n)]);

    /// <summary>How well a picture suits what was chosen: what is made for just that comes first, tables last but one.</summary>
    private static int Suits(PictureKind kind, JsonObject tile, Scope scope, IReadOnlyList<FieldAt> fields)
    {
        var suits = 0;
        // Made for the kinds of value that it was given.
        if (kind.By.Kinds.Count > 0)
            suits += 6;
        // Time goes from left to right in order; a whole has no order of its parts.
        if (IsAlongTime(fields) || fields is [{ Member: not null }, ..])
            suits +=
                kind.DrawsCourse ? 8
                : kind.ColoursMembers || kind.AddsUp ? -6
                : 0;
        else if (fields.Count > 0 && kind.DrawsCourse)
            suits -= 8;
        // Each measure has a place of its own.
        if (kind.PlacedMeasures > 1 && tile["show"] is JsonArray several && several.Count >= kind.PlacedMeasures || kind.By.Most == 0)
            suits += 4;
        if (fields.Count > 0 && kind.By.Least == 0)
            suits--;
        // Too many series for a legend are read better in a grid.
        if (tile.ContainsKey("split"))
            suits += fields[^1].Member is "month" or "week" or "day" or "hour" or "day_of_month" or "hour_of_day" ? -6 : 2;
        if (fields.Count == 2 && kind.By is { Least: 2, Most: 2 })
            suits += 3;
        return suits;
    }
}
