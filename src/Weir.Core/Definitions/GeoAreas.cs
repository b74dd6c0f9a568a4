using System.Text.Json;

namespace Weir.Core.Definitions;

/// <summary>Areas for maps, as GeoJSON has them: https://www.rfc-editor.org/rfc/rfc7946. Polygons with properties, and nothing else.</summary>
internal static class GeoAreas
{
    private const int MaximumAreas = 2_000;
    private const int MaximumPoints = 50_000;
    private const int MaximumDepth = 12;

    /// <summary>Reads a file.</summary>
    /// <returns>The names of the properties that every area has; or why it is no map of areas.</returns>
    public static (IReadOnlySet<string> Properties, OddPlace? Fault) Read(string text)
    {
        try
        {
            using var file = JsonDocument.Parse(text, new JsonDocumentOptions { MaxDepth = MaximumDepth });
            return Read(file.RootElement);
        }
        catch (JsonException e)
        {
            return (
                new HashSet<string>(),
                new OddPlace(
                    (int)(e.LineNumber ?? 0) + 1,
                    (int)(e.BytePositionInLine ?? 0) + 1,
                    $"This is no JSON of at most {MaximumDepth} levels.",
                    "Save it as GeoJSON."
                )
            );
        }
    }

    private static (IReadOnlySet<string>, OddPlace?) Read(JsonElement root)
    {
        static (IReadOnlySet<string>, OddPlace?) Refuse(string message, string remedy) =>
            (new HashSet<string>(), new OddPlace(1, 1, message, remedy));

        if (Text(root, "type") != "FeatureCollection" || Get(root, "features") is not { ValueKind: JsonValueKind.Array } features)
            return Refuse("This is no collection of features.", "Save it as a GeoJSON FeatureCollection.");
        if (features.GetArrayLength() is 0 or > MaximumAreas)
            return Refuse($"A map has 1 to {MaximumAreas} areas; here are {features.GetArrayLength()}.", "Leave out what is not shown.");
        HashSet<string>? common = null;
        var points = 0;
        foreach (var (feature, i) in features.EnumerateArray().Select((f, i) => (f, i)))
        {
            var geometry = Get(feature, "geometry");
            var rings = Text(geometry, "type") switch
            {
                "Polygon" => Get(geometry, "coordinates") is { ValueKind: JsonValueKind.Array } one ? [one] : null,
                "MultiPolygon" => Get(geometry, "coordinates") is { ValueKind: JsonValueKind.Array } several
                    ? [.. several.EnumerateArray()]
                    : (List<JsonElement>?)null,
                _ => null,
            };
            if (rings is null)
                return Refuse($"The feature {i + 1} is no polygon.", "A map shows polygons and multipolygons.");
            foreach (var ring in rings.SelectMany(Items))
            {
                points += ring.ValueKind == JsonValueKind.Array ? ring.GetArrayLength() : 0;
                if (points > MaximumPoints)
                    return Refuse($"The areas have more than {MaximumPoints:N0} points.", "Simplify their borders.");
                if (ring.ValueKind != JsonValueKind.Array || ring.GetArrayLength() < 4 || !ring.EnumerateArray().All(IsPoint))
                    return Refuse(
                        $"A border of the feature {i + 1} is none.",
                        "It has at least four points, each a longitude and a latitude in degrees."
                    );
            }
            var names = Get(feature, "properties") is { ValueKind: JsonValueKind.Object } properties
                ? properties
                    .EnumerateObject()
                    .Where(p => p.Value.ValueKind is JsonValueKind.String or JsonValueKind.Number)
                    .Select(p => p.Name)
                : [];
            if (common is null)
                common = [.. names];
            else
                common.IntersectWith(names);
        }
        return (common!, null);
    }

    private static JsonElement? Get(JsonElement? element, string name) =>
        element is { ValueKind: JsonValueKind.Object } e && e.TryGetProperty(name, out var value) ? value : null;

    private static string? Text(JsonElement? element, string name) =>
        Get(element, name) is { ValueKind: JsonValueKind.String } text ? text.GetString() : null;

    private static IEnumerable<JsonElement> Items(JsonElement element) =>
        element.ValueKind == JsonValueKind.Array ? element.EnumerateArray() : [];

    private static bool IsPoint(JsonElement point) =>
        point.ValueKind == JsonValueKind.Array
        && point.GetArrayLength() is 2 or 3
        && point.EnumerateArray().All(n => n.ValueKind == JsonValueKind.Number)
        && Math.Abs(point[0].GetDouble()) <= 180
        && Math.Abs(point[1].GetDouble()) <= 90;
}
