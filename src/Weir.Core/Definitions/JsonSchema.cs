using System.Text.Json.Nodes;
using static Weir.Core.Definitions.Shape;

namespace Weir.Core.Definitions;

/// <summary>Writes shapes as JSON Schema (draft 2020-12), so that editors complete and check definition files.</summary>
public static class JsonSchema
{
    /// <summary>One schema for all kinds of file; a file is recognised by its required keys.</summary>
    public static JsonObject Write(Shapes shapes)
    {
        var kinds = new JsonObject();
        foreach (var (pattern, name, shape) in shapes.Files)
        {
            var schema = Write(shape);
            schema["description"] = $"{pattern} of a workspace";
            kinds[name] = schema;
        }
        return new JsonObject
        {
            ["$schema"] = "https://json-schema.org/draft/2020-12/schema",
            ["title"] = "A definition file of Weir",
            ["anyOf"] = new JsonArray([.. shapes.Files.Select(f => (JsonNode)new JsonObject { ["$ref"] = $"#/$defs/{f.Name}" })]),
            ["$defs"] = kinds,
        };
    }

    private static JsonObject Write(Shape shape) =>
        shape switch
        {
            Text { Choices.Count: 0 } => new JsonObject { ["type"] = new JsonArray("string", "number", "boolean") },
            Text { OrParameter: true } text => new JsonObject
            {
                ["anyOf"] = new JsonArray(
                    Write(text with { OrParameter = false }),
                    new JsonObject { ["type"] = "string", ["pattern"] = "^param\\." }
                ),
            },
            Text text => new JsonObject { ["enum"] = new JsonArray([.. text.Choices.Select(c => (JsonNode)c)]) },
            Whole whole => new JsonObject
            {
                ["type"] = "integer",
                ["minimum"] = whole.Minimum,
                ["maximum"] = whole.Maximum,
            },
            Flag => new JsonObject { ["type"] = "boolean" },
            MapOf map => new JsonObject { ["type"] = "object", ["additionalProperties"] = Write(map.Value) },
            ListOf list => new JsonObject { ["type"] = "array", ["items"] = Write(list.Item) },
            Either either => new JsonObject { ["anyOf"] = new JsonArray([.. either.Shapes.Select(s => (JsonNode)Write(s))]) },
            Keys keys => Write(keys),
            _ => throw new InvalidOperationException($"No schema for {shape.GetType().Name}."),
        };

    private static JsonObject Write(Keys keys)
    {
        var properties = new JsonObject();
        foreach (var key in keys.Known)
        {
            var property = Write(key.Shape);
            property["description"] = key.Doc;
            properties[key.Name] = property;
        }
        return new JsonObject
        {
            ["type"] = "object",
            ["properties"] = properties,
            ["required"] = new JsonArray([.. keys.Known.Where(k => k.Required).Select(k => (JsonNode)k.Name)]),
            ["additionalProperties"] = false,
        };
    }
}
