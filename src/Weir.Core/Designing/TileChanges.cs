using System.Text.Json.Nodes;

namespace Weir.Core.Designing;

/// <summary>What became of a tile between two texts of a dashboard.</summary>
public enum TileChangeKind
{
    /// <summary>It was not there.</summary>
    New,

    /// <summary>It is not there any more.</summary>
    Gone,

    /// <summary>It stands elsewhere and says the same.</summary>
    Moved,

    /// <summary>It says something else; it may stand elsewhere, too.</summary>
    Changed,
}

/// <summary>A tile that is not as it was.</summary>
/// <param name="Tab">The tab on which it stands, or stood last.</param>
/// <param name="WasOn">The tab on which it stood, where that is another; else null.</param>
/// <param name="Keys">The keys that say something else, where it stands left out.</param>
public sealed record TileChange(string Tile, string Tab, string? WasOn, TileChangeKind Kind, IReadOnlyList<string> Keys);

/// <summary>How a dashboard's text differs from an earlier one, tile by tile.</summary>
/// <param name="Page">What else is another: the keys of the dashboard, and of its tabs as tab/key.</param>
public sealed record TileChanges(IReadOnlyList<TileChange> Tiles, IReadOnlyList<string> Page)
{
    /// <summary>The keys that say where a tile stands.</summary>
    private static readonly HashSet<string> Placing = ["place", "section"];

    /// <summary>Compares two texts.</summary>
    /// <exception cref="DesignException">One is no YAML.</exception>
    public static TileChanges Between(string before, string after)
    {
        var (was, now) = (DesignText.Said(before) as JsonObject ?? [], DesignText.Said(after) as JsonObject ?? []);
        var (old, young) = (TilesIn(was), TilesIn(now));
        var overtaken = Overtaken(old, young);
        var tiles = new List<TileChange>();
        foreach (var (name, (tab, says)) in young)
        {
            if (!old.TryGetValue(name, out var earlier))
            {
                tiles.Add(new TileChange(name, tab, null, TileChangeKind.New, []));
                continue;
            }
            var keys = KeysThatDiffer(earlier.Says, says);
            var said = keys.Where(k => !Placing.Contains(k)).ToList();
            var wasOn = earlier.Tab == tab ? null : earlier.Tab;
            if (said.Count > 0)
                tiles.Add(new TileChange(name, tab, wasOn, TileChangeKind.Changed, said));
            else if (keys.Count > 0 || wasOn is not null || overtaken.Contains(name))
                tiles.Add(new TileChange(name, tab, wasOn, TileChangeKind.Moved, []));
        }
        tiles.AddRange(
            old.Where(o => !young.ContainsKey(o.Key)).Select(o => new TileChange(o.Key, o.Value.Tab, null, TileChangeKind.Gone, []))
        );
        return new TileChanges(tiles, [.. PageKeys(was, now)]);
    }

    private static Dictionary<string, (string Tab, JsonObject Says)> TilesIn(JsonObject dashboard)
    {
        var found = new Dictionary<string, (string, JsonObject)>();
        foreach (var tab in ItemsOf(dashboard["tabs"]))
        foreach (var tile in ItemsOf(tab["tiles"]))
            if (NameOf(tile, "tile") is { } name)
                found.TryAdd(name, (NameOf(tab, "tab") ?? "", tile));
        return found;
    }

    private static IEnumerable<JsonObject> ItemsOf(JsonNode? list) => (list as JsonArray ?? []).OfType<JsonObject>();

    private static string? NameOf(JsonObject item, string key) => item[key] is JsonValue name ? name.ToString() : null;

    private static List<string> KeysThatDiffer(JsonObject a, JsonObject b) =>
        [
            .. b.Select(k => k.Key)
                .Concat(a.Select(k => k.Key))
                .Distinct()
                .Where(k => !JsonNode.DeepEquals(a[k], b[k]) || a.ContainsKey(k) != b.ContainsKey(k)),
        ];

    /// <summary>
    /// Tiles that others have overtaken in the order of their tab: of those that are on both sides all but the most that keep their order
    /// (a longest increasing subsequence of where they stood).
    /// </summary>
    private static HashSet<string> Overtaken(
        Dictionary<string, (string Tab, JsonObject Says)> old,
        Dictionary<string, (string Tab, JsonObject Says)> young
    )
    {
        var stood = old.Keys.Select((name, i) => (name, i)).ToDictionary(x => x.name, x => x.i);
        var overtaken = new HashSet<string>();
        foreach (
            var tab in young
                .Where(y => old.TryGetValue(y.Key, out var o) && o.Tab == y.Value.Tab && !o.Says.ContainsKey("place"))
                .GroupBy(y => y.Value.Tab, y => y.Key)
        )
        {
            var names = tab.ToList();
            var (length, before) = (new int[names.Count], new int[names.Count]);
            for (var i = 0; i < names.Count; i++)
            {
                (length[i], before[i]) = (1, -1);
                for (var j = 0; j < i; j++)
                    if (stood[names[j]] < stood[names[i]] && length[j] + 1 > length[i])
                        (length[i], before[i]) = (length[j] + 1, j);
            }
            var kept = new HashSet<string>();
            for (var i = Array.IndexOf(length, length.Max()); i >= 0; i = before[i])
                kept.Add(names[i]);
            overtaken.UnionWith(names.Where(n => !kept.Contains(n)));
        }
        return overtaken;
    }

    private static IEnumerable<string> PageKeys(JsonObject was, JsonObject now)
    {
        foreach (var key in KeysThatDiffer(was, now).Where(k => k != "tabs"))
            yield return key;
        var (old, young) = (TabsIn(was), TabsIn(now));
        foreach (var (name, tab) in young)
            if (!old.TryGetValue(name, out var earlier))
                yield return $"{name}/tab";
            else
                foreach (var key in KeysThatDiffer(earlier, tab).Where(k => k != "tiles"))
                    yield return $"{name}/{key}";
        foreach (var name in old.Keys.Where(n => !young.ContainsKey(n)))
            yield return $"{name}/tab";
    }

    private static Dictionary<string, JsonObject> TabsIn(JsonObject dashboard) =>
        ItemsOf(dashboard["tabs"])
            .Where(t => NameOf(t, "tab") is not null)
            .DistinctBy(t => NameOf(t, "tab"))
            .ToDictionary(t => NameOf(t, "tab")!);
}
