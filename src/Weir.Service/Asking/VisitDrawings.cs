using System.Text.Json;
using Weir.Core.Interaction;
using Weir.Service.Api;

namespace Weir.Service.Asking;

/// <summary>
/// How a viewer has tiles drawn for this visit, as it travels: among the parameters, under <c>draw:tile</c>, as JSON in one text.
/// </summary>
internal static class VisitDrawings
{
    /// <summary>Before the name of a tile.</summary>
    public const string Prefix = "draw:";

    private const int MaximumTiles = 100;
    private const int MaximumLength = 4_000;

    /// <summary>How they are written, here and on the page.</summary>
    public static JsonSerializerOptions Json { get; } =
        new(JsonSerializerDefaults.Web) { DefaultIgnoreCondition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingDefault };

    /// <summary>The drawings by tile, and what else was asked for.</summary>
    /// <param name="lenient">True to leave out what can't be meant.</param>
    /// <exception cref="ProblemException">One can't be meant, or there are too many of them.</exception>
    public static (IReadOnlyDictionary<string, Drawing> Drawings, ViewingRequest? Others) Apart(ViewingRequest? asked, bool lenient)
    {
        var drawings = new Dictionary<string, Drawing>();
        if (asked?.Parameters?.Keys.Any(k => k.StartsWith(Prefix, StringComparison.Ordinal)) != true)
            return (drawings, asked);
        var all = asked.Parameters.Where(p => p.Key.StartsWith(Prefix, StringComparison.Ordinal)).ToList();
        if (all.Count > MaximumTiles)
            throw new ProblemException(422, "too-much", $"At most {MaximumTiles} tiles are drawn otherwise for a visit.");
        foreach (var (name, texts) in all)
            if (Read(texts) is { } drawing)
                drawings[name[Prefix.Length..]] = drawing;
            else if (!lenient)
                throw new ProblemException(
                    422,
                    "wrong-value",
                    $"A drawing is one text of JSON with at most {MaximumLength} characters.",
                    """Write, for example, "draw:income-by-month": ["{\"picture\": \"bar\"}"]."""
                );
        var others = asked.Parameters.Where(p => !p.Key.StartsWith(Prefix, StringComparison.Ordinal)).ToDictionary();
        return (drawings, asked with { Parameters = others });
    }

    /// <summary>The drawings as they travel.</summary>
    public static IEnumerable<KeyValuePair<string, IReadOnlyList<string>>> Written(IEnumerable<KeyValuePair<string, Drawing>> drawings) =>
        drawings.Select(d => KeyValuePair.Create<string, IReadOnlyList<string>>(Prefix + d.Key, [JsonSerializer.Serialize(d.Value, Json)]));

    private static Drawing? Read(IReadOnlyList<string>? texts)
    {
        if (texts is not [{ Length: <= MaximumLength } text])
            return null;
        try
        {
            return JsonSerializer.Deserialize<Drawing>(text, Json) is { } drawing && drawing.IsWhole ? drawing : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
