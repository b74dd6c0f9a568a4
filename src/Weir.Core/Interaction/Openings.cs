using System.Text.Json;
using System.Text.Json.Nodes;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Interaction;

/// <summary>What is picked on a tile when its dashboard is opened, as a selection.</summary>
public static class Openings
{
    /// <summary>The selection that a tile opens with; null if nothing is picked.</summary>
    /// <param name="newest">For an opening that needs it: the greatest value of the tile's date among the viewer's rows; null if there are none.</param>
    /// <param name="now">The time of viewing in the viewer's zone.</param>
    public static Selection? Of(Tile tile, Scope scope, object? newest, DateTime now, DayOfWeek weekStart)
    {
        if (tile.Opening is not { } opening)
            return null;
        var picked = new Selection(tile.Name, opening.Members, null) { Contains = opening.Contains, Each = opening.Each };
        if (opening.IsNewest)
            return newest is null ? null : Newest(tile, scope, picked, newest, weekStart);
        if (opening.Period is { } period)
            return picked with
            {
                Period = period,
                Range = RelativePeriod.Parse(period)!.Span(now, weekStart) is { } span
                    ? new PickedRange(span.From, span.To)
                    : new PickedRange(null, null),
            };
        return opening.From is null && opening.To is null ? picked : picked with { Range = new PickedRange(opening.From, opening.To) };
    }

    private static Selection Newest(Tile tile, Scope scope, Selection picked, object newest, DayOfWeek weekStart)
    {
        var formula = Fields.At(tile.By[0], scope)!;
        var grain = (formula as Bound.Grain)?.Of;
        if (tile.Pick != Pick.Range)
        {
            var member = grain is { } at ? Calendar.Floor(Periods.Instant(newest), at, weekStart) : Periods.Instant(newest);
            return picked with
            {
                Members =
                [
                    [formula.Kind == ValueKind.Date ? DateOnly.FromDateTime(member) : member],
                ],
            };
        }
        var span = grain ?? DateGrain.Day;
        var start = Calendar.Floor(Periods.Instant(newest), span, weekStart);
        return picked with { Range = new PickedRange(start, Calendar.Add(start, span, 1)) };
    }

    /// <summary>A selection in the form in which it travels: see <see cref="SelectionReader"/>.</summary>
    public static JsonObject Write(Selection selection)
    {
        static JsonArray Members(IReadOnlyList<IReadOnlyList<object?>> members) =>
            [.. members.Select(m => (JsonNode)new JsonArray([.. m.Select(v => JsonSerializer.SerializeToNode(v))]))];
        var json = new JsonObject { ["members"] = Members(selection.Members) };
        if (selection.RestOf is { } shown)
            json["restOf"] = Members(shown);
        if (selection.Excludes)
            json["exclude"] = true;
        if (selection.Period is { } period)
            json["period"] = period;
        else if (selection.Range is { } range)
        {
            var ends = new JsonObject
            {
                ["from"] = JsonSerializer.SerializeToNode(range.From),
                ["to"] = JsonSerializer.SerializeToNode(range.To),
            };
            if (range.EndsBelow)
                ends["below"] = true;
            json["range"] = ends;
        }
        if (selection.Each is { } each)
            json["each"] = new JsonArray([.. each.Select(v => JsonSerializer.SerializeToNode(v))]);
        if (selection.Contains is { } piece)
            json["contains"] = piece;
        if (selection.Path.Count > 0)
            json["path"] = new JsonArray([.. selection.Path.Select(v => JsonSerializer.SerializeToNode(v))]);
        return json;
    }
}
