using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Pictures;

namespace Weir.Core.Views;

/// <summary>Draws tiles as viewers want them, within their rights and within what each kind of picture can show.</summary>
public static class Redrawing
{
    /// <summary>The tile drawn otherwise.</summary>
    /// <param name="scope">The viewer's right on its dataset: what it does not grant is told of as what there is not.</param>
    /// <returns>Exactly one of the two is null: the tile, or why it can't be drawn so.</returns>
    public static (Tile? Tile, string? Reason) Of(Tile tile, Drawing drawing, Scope scope)
    {
        if (!CanChange(tile))
            return (null, "Words are not drawn otherwise.");
        if (Kind(tile, drawing.Picture) is not { } kind)
            return (null, $"There is no kind of picture {drawing.Picture}.");
        if (kind.IsControl != tile.Picture.IsControl || !kind.HasData)
            return (null, $"A {tile.Picture} can't become a {kind}: {(kind.IsControl ? "that only filters" : "that shows other things")}.");
        // A map is one where its developer gave it areas.
        if (kind != tile.Picture && kind.Own.Any(o => o.IsNeeded && o.Key.Name != kind.EachKey))
            return (null, $"A {kind} needs what only its definition can give.");
        var (shown, reason) = ShownOf(tile, drawing, kind, scope);
        if (shown is null)
            return (null, reason);
        if (tile.IsRequired && !shown.By.SequenceEqual(tile.By))
            return (null, "Something must always be picked on it, of the field that it is grouped by.");
        if (drawing.Top is < 0 or > 1000)
            return (null, "The leading members are 1 to 1000, or all.");
        var top = TopOf(tile, drawing, shown);
        if (top is not null && shown.Show.Count > 0 && scope.Measures[shown.Show[0]].Formula.All().OfType<Bound.Over>().Any())
            return (null, $"The leading members can't be ranked by {scope.Measures[shown.Show[0]].Title}, which looks at other lines.");
        return (Redrawn(tile, drawing, shown, top, scope), null);
    }

    /// <summary>What a tile comes to show.</summary>
    /// <param name="Of">The number that it is of in place of measures; null if it shows measures.</param>
    /// <param name="Repeats">True if it is drawn for each member of the last of its fields.</param>
    private sealed record Shown(
        PictureKind Kind,
        IReadOnlyList<string> Show,
        IReadOnlyList<FieldAt> By,
        FieldAt? Split,
        FieldAt? Of,
        bool Repeats
    );

    /// <summary>The measures and fields that a tile comes to show, or why it can't be drawn of them.</summary>
    private static (Shown? Shown, string? Reason) ShownOf(Tile tile, Drawing drawing, PictureKind kind, Scope scope)
    {
        var show = drawing.Show ?? tile.Show;
        var by = drawing.By is null ? tile.ByOfEach : [.. drawing.By.Select(FieldAt.Parse)];
        var split = drawing.Split is { } named ? (named.Length == 0 ? null : FieldAt.Parse(named)) : tile.Split;
        var of = kind.Show.OrKey is not null && show.Count == 0 ? tile.Of : null;
        // What is drawn for each member of a field stays so, or has that field beside its own; else it is a picture of all.
        var each = tile.Repeats ? tile.By[^1] : null;
        var isAmong = each is not null && (by.Contains(each) || split == each);
        var repeats = each is not null && kind.EachKey is not null && !isAmong;
        if (kind.NeedsEach && !repeats)
        {
            // What gave the series their colours stands across, else the last of the fields.
            if (split is not null)
                (each, split) = (split, null);
            else if (by.Count > 1)
                (each, by) = (by[^1], [.. by.SkipLast(1)]);
            else
                return (null, $"A {kind} takes a field more, for what stands across.");
            repeats = true;
        }
        if (each is not null && !repeats && !isAmong && Unfit(kind, show, [.. by, each], split, scope, of) is null)
            by = [.. by, each];
        return Unfit(kind, show, by, split, scope, of) is { } reason
            ? (null, reason)
            : (new Shown(kind, show, repeats ? [.. by, each!] : by, split, of, repeats), null);
    }

    private static Top? TopOf(Tile tile, Drawing drawing, Shown shown) =>
        shown.Repeats || !shown.Kind.OfMembers.Contains(KeysOfMembers.Top) ? null
        : drawing.Top is not { } count ? tile.Top
        : count == 0 ? null
        : new Top(count, drawing.Rest);

    /// <summary>The tile as it is drawn then: what its developer said of other figures, fields or kinds is left out.</summary>
    private static Tile Redrawn(Tile tile, Drawing drawing, Shown shown, Top? top, Scope scope)
    {
        var (kind, show, by, split, of, repeats) = shown;
        var isGrouped = by.SequenceEqual(tile.By) && split == tile.Split;
        var isOfSame = show.SequenceEqual(tile.Show);
        var pick = PickOf(tile, kind, by, repeats, scope);
        return tile with
        {
            Picture = kind,
            Show = show,
            By = by,
            Split = split,
            Top = top,
            Sort = SortOf(tile, drawing, kind, show, by),
            Change = kind == tile.Picture ? tile.Change : null,
            Repeats = repeats,
            File = kind == tile.Picture ? tile.File : null,
            Options = OptionsOf(tile, shown, isGrouped, scope),
            // A limit is one of the measure that it was drawn for.
            References = kind.HasReferences && isOfSame ? tile.References : [],
            // A sentence speaks of the fields that it was written for.
            Tip = kind.Own.Contains(TipText.Own) && (tile.Tip?.Sentence is null || isGrouped) ? tile.Tip : null,
            Courses = kind == tile.Picture && top is null ? [.. tile.Courses.Where(c => !by.Contains(c.Along))] : [],
            Totals = tile.Totals && kind == tile.Picture,
            Ranges = kind.Question == QuestionShape.Ranges ? tile.Ranges ?? ValueRanges.Usually : null,
            Drill = isGrouped ? DrillOf(tile, shown) : null,
            Cells = kind.Own.Any(k => k == TableCells.OwnBands)
                ? tile.Cells?.Visible(n => show.Contains(n) || by.Any(b => b.ToString() == n))
                : null,
            Of = of,
            Parent = isGrouped && kind.Own.Any(o => o.Key.Name == TileReader.ParentKey) ? tile.Parent : null,
            Subjects = kind == tile.Picture ? tile.Subjects : null,
            Opening = isGrouped && pick == tile.Pick ? tile.Opening : null,
            Pick = pick,
            // A title that speaks of other figures would tell what is not so.
            Title = isGrouped && isOfSame && top == tile.Top ? tile.Title : null,
        };
    }

    private static Drill? DrillOf(Tile tile, Shown shown)
    {
        if (shown.Repeats || !shown.Kind.OfMembers.Contains(KeysOfMembers.Drill) || tile.Drill is not { } drill)
            return null;
        if (shown.Of is not null)
            return drill;
        // Single values open where the picture is of values.
        return drill.To.Where(f => f != tile.Of).ToList() is { Count: > 0 } to ? drill with { To = to } : null;
    }

    private static Dictionary<string, string> OptionsOf(Tile tile, Shown shown, bool isGrouped, Scope scope) =>
        tile
            .Options.Where(o => shown.Repeats || o.Key != "scales")
            .Where(o => shown.Split is null && shown.Show.SequenceEqual(tile.Show) || o.Key.Split('.')[0] is not ("marks" or "axes"))
            .Where(o => isGrouped || o.Key is not (TileReader.SinceStart or TileReader.ShapeBy or TileReader.ParentKey))
            .Where(o => shown.Kind.Own.Any(k => k.Key.Name == o.Key.Split('.')[0]))
            .Where(o => o.Key.Split('.') is not [_, var of] || shown.Show.Contains(of))
            .Where(o => o.Key != "parts" || shown.Show.All(m => scope.Measures[m].IsAdditive))
            .ToDictionary();

    /// <summary>False for words, with figures or without.</summary>
    public static bool CanChange(Tile tile) => tile is { Dataset: not null, Text: null };

    private static PictureKind? Kind(Tile tile, string? name) =>
        name is null ? tile.Picture
        : name == tile.Picture.Name ? tile.Picture
        : PictureKinds.All.FirstOrDefault(p => p.Name == name);

    /// <summary>Why measures and fields can't be drawn as a kind; null if they can.</summary>
    /// <param name="of">The number that it is of in place of measures; null if it shows measures.</param>
    public static string? Unfit(
        PictureKind kind,
        IReadOnlyList<string> show,
        IReadOnlyList<FieldAt> by,
        FieldAt? split,
        Scope scope,
        FieldAt? of = null
    )
    {
        if (
            show.Concat(by.Append(split).OfType<FieldAt>().Select(b => b.ToString())).GroupBy(n => n).FirstOrDefault(g => g.Count() > 1) is
            { } twice
        )
            return $"{twice.Key} stands there twice.";
        if (show.FirstOrDefault(m => !scope.Measures.ContainsKey(m)) is { } measure)
            return $"There is no measure {measure}.";
        if (by.Append(split).OfType<FieldAt>().FirstOrDefault(f => Fields.At(f, scope) is null) is { } field)
            return $"There is no field {field}.";
        if (of is null && Count(kind, kind.Show, show.Count, "measure") is { } measures)
            return measures;
        if (Count(kind, kind.By, by.Count, "field") is { } fields)
            return fields;
        foreach (var at in by)
            if (!kind.By.Fits(Fields.At(at, scope)!.Kind, at.Member is null && scope.Fields[at.Field].HasNames))
                return $"A {kind} needs {kind.By.Wanted}; {TitleOf(at, scope)} is none.";
        if (split is not null && !kind.CanSplit)
            return $"A {kind} can't be split.";
        if (split is not null && show.Count > 1 && !kind.SplitsSeveral)
            return $"A {kind} shows either several measures or one that is split.";
        if (kind.AddsUp && show.FirstOrDefault(m => !scope.Measures[m].IsAdditive) is { } whole)
            return $"The parts of a {kind} make up a whole, and {scope.Measures[whole].Title} does not add up.";
        foreach (var name in show)
            if (LooksAround(kind, scope.Measures[name], by) is { } looks)
                return looks;
        return null;
    }

    private static string? Count(PictureKind kind, Slot slot, int count, string noun)
    {
        if (count >= slot.Least && count <= slot.Most)
            return null;
        if (slot.Most == 0)
            return $"A {kind} takes no {noun}s.";
        var wanted = slot.Least == slot.Most ? $"{slot.Least}" : $"{slot.Least} to {slot.Most}";
        return $"A {kind} takes {wanted} {noun}{(slot.Most == 1 ? "" : "s")}; here {(count == 1 ? "is" : "are")} {count}.";
    }

    private static string? LooksAround(PictureKind kind, Measure measure, IReadOnlyList<FieldAt> by)
    {
        var overs = measure.Formula.All().OfType<Bound.Over>().ToList();
        if (overs.Count == 0)
            return null;
        if (!kind.HasLines)
            return $"{measure.Title} looks at other lines, and a {kind} has none.";
        return overs.Any(o => o.Function == OverFunction.Previous) && (by.Count == 0 || Calendar.ParseGrain(by[0].Member ?? "") is null)
            ? $"{measure.Title} compares with an earlier period, so the first field must be a date at a grain."
            : null;
    }

    private static string TitleOf(FieldAt at, Scope scope) => Titles.OfField(at, scope.Fields[at.Field].Title);

    private static Sort? SortOf(Tile tile, Drawing drawing, PictureKind kind, IReadOnlyList<string> show, IReadOnlyList<FieldAt> by)
    {
        var sort =
            drawing.Sort is not { } key ? tile.Sort
            : key.Length == 0 ? null
            : new Sort(key, drawing.Descending);
        return
            sort is not null
            && kind.OfMembers.Contains(KeysOfMembers.Sort)
            && (show.Contains(sort.By) || by.Any(b => b.ToString() == sort.By))
            ? sort
            : null;
    }

    private static Pick PickOf(Tile tile, PictureKind kind, IReadOnlyList<FieldAt> by, bool repeats, Scope scope)
    {
        if (kind.PicksOneWay || kind.Pick == Pick.None)
            return kind.Pick;
        // What could not be picked on a figure can on the bars that it has become; what was not to be picked still is not.
        var pick =
            tile.Picture.PicksOneWay || tile.Picture.Pick == Pick.None && kind.Pick != Pick.None && tile.Picture != kind
                ? kind.Pick
                : tile.Pick;
        var isRange = by.Count == (repeats ? 2 : 1) && Fields.At(by[0], scope)!.Kind is var k && (k.IsTemporal() || k.IsNumber());
        return pick == Pick.Range && !isRange ? Pick.Many : pick;
    }
}
