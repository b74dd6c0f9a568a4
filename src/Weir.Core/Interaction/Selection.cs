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

    /// <summary>True if nothing is picked.</summary>
    public bool IsEmpty => Members.Count == 0 && RestOf is null;
}

/// <summary>A selection that cannot be meant.</summary>
/// <param name="Code">A stable code such as <c>unknown-tile</c>.</param>
public sealed record SelectionFault(string Code, string Message);

/// <summary>Reads selections from the form in which they travel: <c>{"tile": {"members": [["a"]], "restOf": [["b"]]}}</c>.</summary>
public static class SelectionReader
{
    /// <summary>Reads one selection against the tile and the viewer's right on its dataset.</summary>
    /// <returns>Exactly one of the two is null.</returns>
    public static (Selection? Selection, SelectionFault? Fault) Read(Tile tile, Scope scope, JsonElement json)
    {
        if (tile.Pick == Pick.None)
            return (null, new("not-pickable", $"Nothing can be picked on the tile {tile.Name}."));
        if (json.ValueKind != JsonValueKind.Object)
            return (null, new("bad-selection", $"The selection of {tile.Name} must be an object with members."));
        var kinds = tile.By.Select(f => Fields.At(f, scope)!.Kind).ToList();
        IReadOnlyList<IReadOnlyList<object?>> members = [];
        IReadOnlyList<IReadOnlyList<object?>>? restOf = null;
        foreach (var property in json.EnumerateObject())
        {
            if (property.Name is not ("members" or "restOf"))
                return (null, new("bad-selection", $"A selection has no {property.Name}; it has members and restOf."));
            if (property.Name == "restOf" && property.Value.ValueKind == JsonValueKind.Null)
                continue;
            var (list, fault) = ReadMembers(tile, kinds, property.Value);
            if (list is null)
                return (null, fault);
            if (property.Name == "members")
                members = list;
            else
                restOf = list;
        }
        if (tile.Pick == Pick.One && members.Count + (restOf is null ? 0 : 1) > 1)
            return (null, new("one-member-only", $"Only one member of {tile.Name} can be picked at a time."));
        if (restOf is not null && tile.Top is not { Rest: true })
            return (null, new("bad-selection", $"The tile {tile.Name} has no rest to pick."));
        return (new Selection(tile.Name, members, restOf), null);
    }

    private static (List<IReadOnlyList<object?>>? Members, SelectionFault? Fault) ReadMembers(Tile tile, List<ValueKind> kinds, JsonElement json)
    {
        if (json.ValueKind != JsonValueKind.Array || json.EnumerateArray().Any(m => m.ValueKind != JsonValueKind.Array || m.GetArrayLength() != kinds.Count))
            return (null, new("bad-selection", $"A member of {tile.Name} is a list of {kinds.Count} value{(kinds.Count == 1 ? "" : "s")}."));
        if (json.GetArrayLength() > Selection.MaximumMembers)
            return (null, new("too-many-members", $"At most {Selection.MaximumMembers} members can be picked at once."));
        var members = new List<IReadOnlyList<object?>>();
        foreach (var item in json.EnumerateArray())
        {
            var values = item.EnumerateArray().Select((v, i) => (Ok: TryRead(v, kinds[i], out var value), Value: value)).ToList();
            if (values.FindIndex(v => !v.Ok) is >= 0 and var at)
                return (null, new("wrong-type", $"{tile.By[at]} of {tile.Name} is {kinds[at].Name()}; {Shorten(item[at].GetRawText())} is not."));
            members.Add([.. values.Select(v => v.Value)]);
        }
        return (members, null);
    }

    private static string Shorten(string text) => text.Length <= 40 ? text : text[..40] + "…";

    private static bool TryRead(JsonElement json, ValueKind kind, out object? value)
    {
        value = null;
        if (json.ValueKind == JsonValueKind.Null)
            return true;
        var text = json.ValueKind == JsonValueKind.String ? json.GetString() : null;
        value = kind switch
        {
            ValueKind.Text => text,
            ValueKind.Boolean => json.ValueKind is JsonValueKind.True or JsonValueKind.False ? json.GetBoolean() : null,
            ValueKind.Integer => json.ValueKind == JsonValueKind.Number && json.TryGetInt64(out var n) ? n : null,
            ValueKind.Decimal => json.ValueKind == JsonValueKind.Number && json.TryGetDecimal(out var d) ? d : null,
            ValueKind.Float => json.ValueKind == JsonValueKind.Number && json.TryGetDouble(out var f) ? f : null,
            ValueKind.Date => DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) && day.Year < 9990 ? day : null,
            ValueKind.Timestamp => DateTime.TryParseExact(text, "yyyy-MM-dd'T'HH:mm:ss", CultureInfo.InvariantCulture, DateTimeStyles.None, out var at) && at.Year < 9990 ? at : null,
            _ => null,
        };
        return value is not null;
    }
}
