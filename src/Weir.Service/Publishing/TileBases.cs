using System.Security.Cryptography;
using System.Text;
using System.Text.Json.Nodes;
using Weir.Core.Designing;

namespace Weir.Service.Publishing;

/// <summary>
/// For each tile of a dashboard a sign of all that its figures come from in the definitions. While it is the same, a page that has the
/// figures need not ask for them again, though another version was published or a step of a draft was made. It tells nothing of what it
/// stands for, and is another after a restart.
/// </summary>
internal sealed class TileBases
{
    /// <summary>What one of these holds is never a tile's figures.</summary>
    private static readonly string[] OfNoFigures = ["dashboards/", "reports/"];

    /// <summary>What of a tile says where it stands, and what is said about it.</summary>
    private static readonly string[] Beside = ["place", "section", "description"];

    /// <summary>What of a dashboard is said about it.</summary>
    private static readonly string[] Above = ["title", "description", "origin"];

    private static readonly byte[] Secret = RandomNumberGenerator.GetBytes(32);

    private readonly string _surroundings;
    private readonly Dictionary<string, string> _tiles;

    /// <param name="files">All definitions by their paths, with those of other dashboards or without.</param>
    /// <param name="path">The file of the dashboard.</param>
    public TileBases(IReadOnlyDictionary<string, string> files, string path)
    {
        var around = new StringBuilder();
        foreach (var (name, text) in files.OrderBy(f => f.Key, StringComparer.Ordinal))
            if (!OfNoFigures.Any(folder => name.StartsWith(folder, StringComparison.Ordinal)))
                around.Append(name).Append('\0').Append(text).Append('\0');
        var (rest, tiles) = Apart(files.GetValueOrDefault(path) ?? "");
        _surroundings = Sign(around.Append(rest).ToString());
        _tiles = tiles.ToDictionary(t => t.Key, t => Sign(_surroundings + t.Value));
    }

    /// <summary>The sign of a tile; of one that viewers have made or added, that of all around it.</summary>
    public string Of(string tile) => _tiles.GetValueOrDefault(tile) ?? _surroundings;

    /// <summary>What a text says of each of its tiles, and all else that it says.</summary>
    private static (string Others, IReadOnlyDictionary<string, string> Tiles) Apart(string text)
    {
        var tiles = new Dictionary<string, string>();
        JsonNode? said;
        try
        {
            said = DesignText.Said(text);
        }
        catch (DesignException)
        {
            // Of a form that is not taken apart: with every change all is asked for again.
            return (text, tiles);
        }
        foreach (var tab in (said?["tabs"] as JsonArray ?? []).OfType<JsonObject>())
        {
            if (tab["tiles"] is not JsonArray all)
                continue;
            foreach (var tile in all.OfType<JsonObject>().ToList())
            {
                if (tile["tile"] is not JsonValue name || !tiles.TryAdd(name.ToString(), ""))
                    continue;
                all.Remove(tile);
                foreach (var key in Beside)
                    tile.Remove(key);
                tiles[name.ToString()] = $"{tab["tab"]}\0{tile.ToJsonString()}";
            }
        }
        foreach (var key in Above)
            (said as JsonObject)?.Remove(key);
        return (said?.ToJsonString() ?? "", tiles);
    }

    private static string Sign(string text) => Convert.ToBase64String(HMACSHA256.HashData(Secret, Encoding.UTF8.GetBytes(text)), 0, 12);
}
