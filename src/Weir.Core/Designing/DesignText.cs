using System.Globalization;
using System.Text.Json.Nodes;
using Weir.Core.Definitions;

namespace Weir.Core.Designing;

/// <summary>
/// Changes a definition's text by hand: only the characters that a step means are written anew. Comments, quotation marks, the order of
/// keys and empty lines of everything else stay. Whatever is written is read again and held against what was meant.
/// </summary>
/// <param name="shape">What the file may look like, for the order in which new keys stand; null if that does not matter.</param>
public sealed class DesignText(Shape? shape = null)
{
    /// <summary>So many characters are read for one change: a long text many times over would keep everybody waiting.</summary>
    private const long MostRead = 60_000_000;

    private long _read;

    /// <summary>The text after some steps.</summary>
    /// <exception cref="DesignException">A place is not there, its text is of a form that is not changed by hand, or it is too much at once.</exception>
    public string Apply(string text, IEnumerable<DesignStep> steps) => steps.Aggregate(text, Apply);

    /// <summary>What a text says, as JSON, with every value as text.</summary>
    /// <exception cref="DesignException">The text is no YAML.</exception>
    public static JsonNode? Said(string text) => SpanTree.Read(text).Said;

    /// <summary>What a piece of text says that may be a list, a mapping or a word.</summary>
    /// <exception cref="DesignException">It is no YAML.</exception>
    public static JsonNode? SaidOfPiece(string text) => SpanTree.ReadPiece(text).Said;

    /// <summary>What a dashboard's text says, and where its tiles stand in it: the first character of each, and the first after it.</summary>
    /// <exception cref="DesignException">The text is no YAML.</exception>
    public static (JsonNode Said, IReadOnlyList<(string Tab, string Tile, int Start, int End)> Tiles) Look(string text)
    {
        var root = SpanTree.Read(text);
        return (root.Said!, TilesIn(root));
    }

    private static IReadOnlyList<(string Tab, string Tile, int Start, int End)> TilesIn(SpanMap root) =>
        [
            .. from tab in Items(root.Of("tabs"))
            from tile in Items((tab as SpanMap)?.Of("tiles"))
            let name = NameOf(tile)
            where name is not null
            select (NameOf(tab) ?? "", name, tile.Start, tile.End),
        ];

    /// <summary>A piece of a text as it would stand by itself: what its lines are moved in by is taken away.</summary>
    public static string Piece(string text, int start, int end)
    {
        var column = start - (text.LastIndexOf('\n', Math.Max(0, start - 1)) + 1);
        return string.Join(
            '\n',
            text[start..end].Split('\n').Select((l, i) => i == 0 ? l : l[Math.Min(column, l.Length - l.TrimStart(' ').Length)..])
        );
    }

    private static IReadOnlyList<SpanNode> Items(SpanNode? node) => (node as SpanList)?.Items ?? [];

    /// <summary>The keys of a tile of a dashboard, in the order in which they are written.</summary>
    public static IReadOnlyList<Key> KeysOfTiles(Shapes shapes)
    {
        Shape.Keys Below(Shape.Keys keys, string list) => (Shape.Keys)((Shape.ListOf)keys.Known.First(k => k.Name == list).Shape).Item;
        var tile = Below(Below(shapes.Dashboard, "tabs"), "tiles");
        return InOrder(tile);
    }

    /// <summary>The keys of a dataset, of a field and of a measure, in the order in which they are written.</summary>
    public static (IReadOnlyList<Key> Dataset, IReadOnlyList<Key> Field, IReadOnlyList<Key> Measure) KeysOfDatasets()
    {
        IReadOnlyList<Key> Of(string list) =>
            InOrder((Shape.Keys)((Shape.MapOf)Shapes.Dataset.Known.First(k => k.Name == list).Shape).Value);
        return (InOrder(Shapes.Dataset), Of("fields"), Of("measures"));
    }

    private static IReadOnlyList<Key> InOrder(Shape.Keys keys)
    {
        var order = KeyOrder.Of(keys);
        return [.. keys.Known.OrderBy(k => order[k.Name])];
    }

    private string Apply(string text, DesignStep step)
    {
        // Read before, after, and perhaps once more.
        _read += 3L * text.Length;
        if (_read > MostRead)
            throw new DesignException(
                "That is too much at once for a text of this length.",
                "Change less at a time, or change it as text."
            );
        var root = SpanTree.Read(text);
        var meant = Meant(root.Said!, step);
        // A comment that is further in, or the end of the file, would be read as part of a text over several lines.
        foreach (var hasLiterals in (ReadOnlySpan<bool>)[true, false])
        {
            var next = new TextSurgery(text, shape, this, hasLiterals).Apply(root, step);
            if (IsSo(next, meant))
                return next;
        }
        throw new DesignException("The text there is of a form that is not changed by hand.", "Change it as text.");
    }

    private static bool IsSo(string text, JsonNode meant)
    {
        try
        {
            return JsonNode.DeepEquals(SpanTree.Read(text).Said, meant);
        }
        catch (DesignException)
        {
            return false;
        }
    }

    /// <summary>What a step means, whatever the text looks like.</summary>
    private static JsonNode Meant(JsonNode said, DesignStep step)
    {
        var root = said.DeepClone();
        switch (step)
        {
            case DesignStep.Set set:
                switch (At(root, set.At.SkipLast(1)))
                {
                    case JsonObject map:
                        map[set.At[^1]] = AsText(set.Value);
                        break;
                    case JsonArray list when IndexOf(list, set.At[^1]) is { } i:
                        list[i] = AsText(set.Value);
                        break;
                    default:
                        throw NotThere(set.At);
                }
                break;
            case DesignStep.Remove remove:
                switch (At(root, remove.At.SkipLast(1)))
                {
                    case JsonObject map when map.Remove(remove.At[^1]):
                        break;
                    case JsonArray list when IndexOf(list, remove.At[^1]) is { } i:
                        list.RemoveAt(i);
                        break;
                    default:
                        throw NotThere(remove.At);
                }
                break;
            case DesignStep.Insert insert:
                switch (At(root, insert.At))
                {
                    case JsonArray list:
                        list.Insert(Place(list, insert.Before), AsText(insert.Value));
                        break;
                    case null or JsonValue when At(root, insert.At.SkipLast(1)) is JsonObject map && insert.Before is null:
                        map[insert.At[^1]] = new JsonArray(AsText(insert.Value));
                        break;
                    default:
                        throw NotThere(insert.At);
                }
                break;
            case DesignStep.Move move:
                if (
                    At(root, move.At.SkipLast(1)) is not JsonArray from
                    || At(root, move.To) is not JsonArray to
                    || IndexOf(from, move.At[^1]) is not { } index
                )
                    throw NotThere(move.At);
                if (from == to && move.Before is not null && IndexOf(to, move.Before) == index)
                    break;
                var item = from[index];
                from.RemoveAt(index);
                // Numbers count without what is moved.
                to.Insert(Place(to, move.Before), item);
                break;
        }
        return root;
    }

    internal static DesignException NotThere(IReadOnlyList<string> at) =>
        new($"There is no {string.Join(" / ", at)} in the text.", "It was changed meanwhile; look at it again.");

    private static int Place(JsonArray list, string? before) =>
        before is null ? list.Count : IndexOf(list, before) ?? throw NotThere([before]);

    private static int? IndexOf(JsonArray list, string name) => NumberOf(list.Select(NameOf), name);

    /// <summary>Which item of a list is named so: by what it is called, or by its number.</summary>
    internal static int? NumberOf(IEnumerable<string?> names, string name)
    {
        var all = names.ToList();
        var called = all.IndexOf(name);
        return called >= 0 ? called
            : int.TryParse(name, NumberStyles.None, CultureInfo.InvariantCulture, out var number) && number < all.Count ? number
            : null;
    }

    private static string? NameOf(JsonNode? item) =>
        item is JsonObject map ? DesignStep.Naming.Select(k => map[k]).OfType<JsonValue>().FirstOrDefault()?.GetValue<string>() : null;

    internal static string? NameOf(SpanNode item) =>
        item is SpanMap map ? DesignStep.Naming.Select(map.Of).OfType<SpanScalar>().FirstOrDefault()?.Value : null;

    private static JsonNode? At(JsonNode root, IEnumerable<string> path)
    {
        JsonNode? node = root;
        foreach (var name in path)
            node = node switch
            {
                JsonObject map => map[name],
                JsonArray list when IndexOf(list, name) is { } i => list[i],
                _ => null,
            };
        return node;
    }

    internal static SpanNode? Find(SpanNode root, IEnumerable<string> path)
    {
        SpanNode? node = root;
        foreach (var name in path)
            node = node switch
            {
                SpanMap map => map.Of(name),
                SpanList list when NumberOf(list.Items.Select(NameOf), name) is { } i => list.Items[i],
                _ => null,
            };
        return node;
    }

    /// <summary>A value as a file says it: every number and word is text.</summary>
    internal static JsonNode? AsText(JsonNode? value) =>
        value switch
        {
            JsonObject map => new JsonObject(map.Select(e => KeyValuePair.Create(e.Key, AsText(e.Value)))),
            JsonArray list => new JsonArray([.. list.Select(AsText)]),
            null => JsonValue.Create(""),
            JsonValue scalar => JsonValue.Create(
                scalar.GetValueKind() == System.Text.Json.JsonValueKind.String ? scalar.GetValue<string>() : scalar.ToJsonString()
            ),
            _ => value.DeepClone(),
        };
}
