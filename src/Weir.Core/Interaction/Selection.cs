using System.Globalization;
using System.Text.Json;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Interaction;

/// <summary>What a viewer has picked on a tile.</summary>
/// <param name="Members">Each a value for every field that the tile is grouped by; null stands for "not given".</param>
/// <param name="RestOf">If the rest of a top N is picked: the members that were shown, which the rest is not.</param>
public sealed record Selection(string Tile, IReadOnlyList<IReadOnlyList<object?>> Members, IReadOnlyList<IReadOnlyList<object?>>? RestOf)
{
    /// <summary>More members than this in one selection are refused.</summary>
    public const int MaximumMembers = 1_000;

    /// <summary>True to mean all but what is picked.</summary>
    public bool Excludes { get; init; }

    /// <summary>A range of dates or numbers; null if none is picked.</summary>
    public PickedRange? Range { get; init; }

    /// <summary>
    /// On a tile that is drawn for each member of a field: the members in whose pictures the range lies, so that what is picked is of
    /// them alone; null where it lies in every picture, and on any other tile.
    /// </summary>
    public IReadOnlyList<object?>? Each { get; init; }

    /// <summary>The relative period that <see cref="Range"/> was worked out from; null if it was picked as it is.</summary>
    public string? Period { get; init; }

    /// <summary>A piece of text that the picked members contain; null if none is picked.</summary>
    public string? Contains { get; init; }

    /// <summary>The members that were opened on the way down the tile's hierarchy, one a level. What is picked is picked below them.</summary>
    public IReadOnlyList<object?> Path { get; init; } = [];

    /// <summary>
    /// The fields that what is picked is of: those of its level, without the field of the pictures where a range lies in all of them.
    /// </summary>
    /// <param name="level">The tile at the level that is open.</param>
    public IReadOnlyList<FieldAt> FieldsOf(Tile level) =>
        Range is not null && Each is null && Members.Count == 0 && RestOf is null ? level.ByOfEach : level.By;

    /// <summary>True if nothing is picked, whatever level is open.</summary>
    public bool IsEmpty => Members.Count == 0 && RestOf is null && Range is null && Contains is null;
}

/// <summary>A range; null for an end that is open. Dates: start included, end excluded. Numbers: both included.</summary>
public sealed record PickedRange(object? From, object? To)
{
    /// <summary>True for a range of numbers that its end is no part of.</summary>
    public bool EndsBelow { get; init; }
}

/// <summary>A selection that cannot be meant.</summary>
/// <param name="Code">A stable code such as <c>unknown-tile</c>.</param>
public sealed record SelectionFault(string Code, string Message);

/// <summary>
/// Reads selections from the form in which they travel: <c>{"tile": {"members": [["a"]], "restOf": [["b"]], "exclude": true}}</c>,
/// <c>{"tile": {"range": {"from": "2024-03-01", "to": "2024-06-01"}}}</c>, of numbers with <c>"below": true</c> where the end is out,
/// <c>{"tile": {"period": "last 30 days"}}</c>,
/// either with <c>"each": ["North Reach"]</c> on a tile that is drawn for each member of a field;
/// <c>{"tile": {"contains": "reef"}}</c>, each with the path of opened members before it: <c>{"path": ["North Reach"]}</c>.
/// </summary>
public static class SelectionReader
{
    /// <summary>Reads one selection against the tile and the viewer's right on its dataset.</summary>
    /// <param name="now">The time of viewing in the viewer's zone, for relative periods.</param>
    /// <returns>Exactly one of the two is null.</returns>
    public static (Selection? Selection, SelectionFault? Fault) Read(
        Tile tile,
        Scope scope,
        JsonElement json,
        DateTime now,
        DayOfWeek weekStart
    )
    {
        if (tile is { Pick: Pick.None, Drill: null })
            return (null, new("not-pickable", $"Nothing can be picked on the tile {tile.Name}."));
        if (json.ValueKind != JsonValueKind.Object)
            return (null, new("bad-selection", $"The selection of {tile.Name} must be an object with members."));
        if (json.EnumerateObject().FirstOrDefault(p => !Known.Contains(p.Name)) is { Value.ValueKind: not JsonValueKind.Undefined } other)
            return (null, new("bad-selection", $"A selection has no {Shorten(other.Name)}; it has {string.Join(", ", Known)}."));
        JsonElement? Part(string name) => json.TryGetProperty(name, out var part) && part.ValueKind != JsonValueKind.Null ? part : null;

        var (path, pathFault) = ReadPath(tile, scope, Part("path"));
        if (path is null)
            return (null, pathFault);
        var level = Drilling.At(tile, path);
        var kinds = level.By.Select(f => Fields.At(f, scope)?.Kind).OfType<ValueKind>().ToList();
        if (kinds.Count != level.By.Count)
            return (null, new("bad-selection", $"The tile {tile.Name} has no such level."));
        var (members, fault) = Part("members") is { } m ? ReadMembers(level, kinds, m) : ([], null);
        if (members is null)
            return (null, fault);
        List<IReadOnlyList<object?>>? restOf = null;
        if (Part("restOf") is { } r)
        {
            (restOf, fault) = ReadMembers(level, kinds, r);
            if (restOf is null)
                return (null, fault);
            if (tile.Top is not { Rest: true })
                return (null, new("bad-selection", $"The tile {tile.Name} has no rest to pick."));
        }
        var picked = new Selection(tile.Name, members, restOf)
        {
            Path = path,
            Excludes = Part("exclude") is { ValueKind: JsonValueKind.True },
        };
        var read = ReadRange(level, kinds, picked, Part("range"), Part("period"), now, weekStart);
        if (read.Selection is { } along)
            read = ReadEach(level, kinds, along, Part("each"));
        if (read.Selection is { } apart)
            read = ReadPiece(tile, apart, Part("contains"));
        if (read.Selection is not { } selection)
            return read;
        if (tile.Pick == Pick.None && !selection.IsEmpty)
            return (null, new("not-pickable", $"Nothing can be picked on the tile {tile.Name}."));
        if (tile.Pick == Pick.One && members.Count + (restOf is null ? 0 : 1) > 1)
            return (null, new("one-member-only", $"Only one member of {tile.Name} can be picked at a time."));
        if (tile.Pick == Pick.Text && members.Count > 0)
            return (null, new("bad-selection", $"On {tile.Name} a piece of text is picked, no members."));
        return (selection, null);
    }

    private static readonly string[] Known = ["members", "restOf", "exclude", "range", "period", "each", "contains", "path"];

    /// <summary>A member of a tile: a value for each of its fields.</summary>
    public static (IReadOnlyList<object?>? Member, SelectionFault? Fault) ReadMember(
        Tile tile,
        IReadOnlyList<ValueKind> kinds,
        JsonElement json
    )
    {
        if (json.ValueKind == JsonValueKind.Undefined)
            return (null, new("bad-selection", $"A mark of {tile.Name} is a member or the rest."));
        var (members, fault) = ReadMembers(tile, [.. kinds], JsonSerializer.SerializeToElement(new[] { json }));
        return (members?[0], fault);
    }

    private static (IReadOnlyList<object?>? Path, SelectionFault? Fault) ReadPath(Tile tile, Scope scope, JsonElement? json)
    {
        if (json is not { } path)
            return ([], null);
        var levels = Drilling.Levels(tile);
        if (path.ValueKind != JsonValueKind.Array || path.GetArrayLength() >= Math.Max(1, levels.Count))
            return (
                null,
                new(
                    "bad-selection",
                    $"The tile {tile.Name} has {levels.Count} level{(levels.Count == 1 ? "" : "s")}; a path names a member of each but the last."
                )
            );
        var values = new List<object?>();
        foreach (var item in path.EnumerateArray())
        {
            if (Fields.At(levels[values.Count], scope) is not { } formula || !TryRead(item, formula.Kind, out var value))
                return (null, new("wrong-type", $"{Shorten(item.GetRawText())} is no member of {levels[values.Count]}."));
            values.Add(value);
        }
        return (values, null);
    }

    private static (Selection? Selection, SelectionFault? Fault) ReadRange(
        Tile tile,
        List<ValueKind> kinds,
        Selection selection,
        JsonElement? range,
        JsonElement? period,
        DateTime now,
        DayOfWeek weekStart
    )
    {
        if (range is null && period is null)
            return (selection, null);
        if (tile.Pick != Pick.Range || tile.ByOfEach.Count != 1)
            return (null, new("bad-selection", $"No range can be picked on {tile.Name}."));
        if (period is { } named)
        {
            if (!kinds[0].IsTemporal() || range is not null)
                return (null, new("bad-selection", $"A period needs a date, and stands alone; {tile.Name} has {kinds[0].Name()}."));
            if ((named.ValueKind == JsonValueKind.String ? RelativePeriod.Parse(named.GetString()!) : null) is not { } relative)
                return (null, new("bad-selection", $"{Shorten(named.GetRawText())} is no period. {RelativePeriod.Help}"));
            return (
                relative.Span(now, weekStart) is { } span
                    ? selection with
                    {
                        Range = new PickedRange(span.From, span.To),
                        Period = named.GetString(),
                    }
                    : selection with
                    {
                        Range = new PickedRange(null, null),
                        Period = named.GetString(),
                    },
                null
            );
        }
        var ends = new object?[2];
        foreach (var (name, i) in new[] { ("from", 0), ("to", 1) })
            if (
                range!.Value.ValueKind == JsonValueKind.Object
                && range.Value.TryGetProperty(name, out var end)
                && end.ValueKind != JsonValueKind.Null
                && !TryRead(end, kinds[0], out ends[i])
                && !(kinds[0].IsTemporal() && (TryRead(end, ValueKind.Date, out ends[i]) || TryRead(end, ValueKind.Timestamp, out ends[i])))
            )
                return (null, new("wrong-type", $"{tile.By[0]} of {tile.Name} is {kinds[0].Name()}; {Shorten(end.GetRawText())} is not."));
        if (ends[0] is null && ends[1] is null)
            return (null, new("bad-selection", "A range has from, to or both."));
        if (
            ends is [{ } from, { } to]
            && (kinds[0].IsTemporal() ? Periods.Instant(from) >= Periods.Instant(to) : Evaluator.Compare(from, to) > 0)
        )
            return (null, new("bad-selection", "A range ends after it begins."));
        var endsBelow = range!.Value.TryGetProperty("below", out var below) && below.ValueKind == JsonValueKind.True;
        if (endsBelow && (!kinds[0].IsNumber() || ends[1] is null))
            return (null, new("bad-selection", "Only a range of numbers with an end ends below it; of dates the end is never part."));
        return (selection with { Range = new PickedRange(ends[0], ends[1]) { EndsBelow = endsBelow } }, null);
    }

    /// <summary>The members in whose pictures a range lies, on a tile that is drawn for each; in all of them where none is named.</summary>
    private static (Selection? Selection, SelectionFault? Fault) ReadEach(
        Tile tile,
        List<ValueKind> kinds,
        Selection selection,
        JsonElement? each
    )
    {
        if (each is not { } list)
            return (selection, null);
        if (selection.Range is null || !tile.Repeats)
            return (null, new("bad-selection", $"Only a range on a tile that is repeated is of some members; {tile.Name} has none."));
        if (list.ValueKind != JsonValueKind.Array || list.GetArrayLength() == 0)
            return (null, new("bad-selection", $"The members of {tile.By[^1]} in whose pictures a range lies are a list."));
        if (list.GetArrayLength() > Selection.MaximumMembers)
            return (null, new("too-many-members", $"At most {Selection.MaximumMembers} members can be picked at once."));
        var members = new List<object?>();
        foreach (var item in list.EnumerateArray())
        {
            if (!TryRead(item, kinds[^1], out var member))
                return (
                    null,
                    new("wrong-type", $"{tile.By[^1]} of {tile.Name} is {kinds[^1].Name()}; {Shorten(item.GetRawText())} is not.")
                );
            members.Add(member);
        }
        return (selection with { Each = members }, null);
    }

    private static (Selection? Selection, SelectionFault? Fault) ReadPiece(Tile tile, Selection selection, JsonElement? piece)
    {
        if (piece is not { } written)
            return (selection, null);
        if (tile.Pick != Pick.Text)
            return (null, new("bad-selection", $"No text can be searched for on {tile.Name}."));
        var text = written.ValueKind == JsonValueKind.String ? written.GetString()! : "";
        return text.Length is > 0 and <= 200 && !text.Contains('\0')
            ? (selection with { Contains = text }, null)
            : (null, new("bad-selection", "A piece of text has 1 to 200 characters."));
    }

    private static (List<IReadOnlyList<object?>>? Members, SelectionFault? Fault) ReadMembers(
        Tile tile,
        List<ValueKind> kinds,
        JsonElement json
    )
    {
        if (
            json.ValueKind != JsonValueKind.Array
            || json.EnumerateArray().Any(m => m.ValueKind != JsonValueKind.Array || m.GetArrayLength() != kinds.Count)
        )
            return (
                null,
                new("bad-selection", $"A member of {tile.Name} is a list of {kinds.Count} value{(kinds.Count == 1 ? "" : "s")}.")
            );
        if (json.GetArrayLength() > Selection.MaximumMembers)
            return (null, new("too-many-members", $"At most {Selection.MaximumMembers} members can be picked at once."));
        var members = new List<IReadOnlyList<object?>>();
        foreach (var item in json.EnumerateArray())
        {
            var values = item.EnumerateArray().Select((v, i) => (Ok: TryRead(v, kinds[i], out var value), Value: value)).ToList();
            if (values.FindIndex(v => !v.Ok) is >= 0 and var at)
                return (
                    null,
                    new("wrong-type", $"{tile.Groups[at]} of {tile.Name} is {kinds[at].Name()}; {Shorten(item[at].GetRawText())} is not.")
                );
            members.Add([.. values.Select(v => v.Value)]);
        }
        return (members, null);
    }

    private static string Shorten(string text) => text.Length <= 40 ? text : text[..40] + "…";

    /// <summary>Far enough from both ends of the calendar that the period before and after can be worked out, on every engine.</summary>
    private static bool IsUsable(int year) => year is >= 1000 and < 9990;

    private static bool TryRead(JsonElement json, ValueKind kind, out object? value)
    {
        value = null;
        if (json.ValueKind == JsonValueKind.Null)
            return true;
        var text = json.ValueKind == JsonValueKind.String ? json.GetString() : null;
        value = kind switch
        {
            // A character that ends texts in some drivers would have a piece of the value mean the whole.
            ValueKind.Text => text?.Contains('\0') == true ? null : text,
            ValueKind.Boolean => json.ValueKind is JsonValueKind.True or JsonValueKind.False ? json.GetBoolean() : null,
            ValueKind.Integer => json.ValueKind == JsonValueKind.Number && json.TryGetInt64(out var n) ? n : null,
            ValueKind.Decimal => json.ValueKind == JsonValueKind.Number && json.TryGetDecimal(out var d) ? d : null,
            ValueKind.Float => json.ValueKind == JsonValueKind.Number && json.TryGetDouble(out var f) ? f : null,
            ValueKind.Date => DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)
            && IsUsable(day.Year)
                ? day
                : null,
            ValueKind.Timestamp => DateTime.TryParseExact(
                text,
                "yyyy-MM-dd'T'HH:mm:ss",
                CultureInfo.InvariantCulture,
                DateTimeStyles.None,
                out var at
            ) && IsUsable(at.Year)
                ? at
                : null,
            _ => null,
        };
        return value is not null;
    }
}
