using System.Text.Json;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace Weir.Service.Api;

/// <summary>
/// Says in the API's description what travels where the service itself reads JSON, so that clients are typed from it: selections, which
/// are read with faults of their own (see <see cref="Core.Interaction.SelectionReader"/>), and values.
/// </summary>
internal static class Contract
{
    private const JsonSchemaType AnyValue = JsonSchemaType.String | JsonSchemaType.Number | JsonSchemaType.Boolean | JsonSchemaType.Null;

    /// <summary>Completes the description of every schema in a document.</summary>
    public static Task Describe(OpenApiDocument document, OpenApiDocumentTransformerContext context, CancellationToken stop)
    {
        document.AddComponent(
            "PickedRange",
            Object(
                "A range of dates, start included and end excluded, or of numbers, both included. A missing end is open.",
                ("from", Value()),
                ("to", Value()),
                ("below", Optional(JsonSchemaType.Boolean, "True for a range of numbers that its end is no part of."))
            )
        );
        document.AddComponent(
            "PickedMembers",
            Object(
                "What is picked on a tile.",
                ("members", Members("The picked members, each a value for every field that the tile is grouped by.")),
                ("restOf", Members("If the rest of a top N is picked: the members that were shown.", JsonSchemaType.Null)),
                ("exclude", Optional(JsonSchemaType.Boolean, "True to mean all but what is picked.")),
                ("range", new OpenApiSchemaReference("PickedRange", document)),
                ("period", Optional(JsonSchemaType.String, "A period that is worked out at the time of viewing, such as last 30 days.")),
                (
                    "each",
                    Member(
                        "Of a range on a tile that is repeated: the members in whose pictures it lies, if not in all.",
                        JsonSchemaType.Null
                    )
                ),
                ("contains", Optional(JsonSchemaType.String, "A piece of text that members contain.")),
                ("path", Member("The members that were opened on the way down the tile's hierarchy."))
            )
        );
        foreach (var schema in document.Components!.Schemas!.Values.OfType<OpenApiSchema>().ToList())
            Complete(schema, document);
        // A member as the service reads it by itself.
        if (document.Components.Schemas.TryGetValue(nameof(JsonElement), out var element) && element is OpenApiSchema member)
            (member.Type, member.Items) = (JsonSchemaType.Array, Value());
        // What is put into a text is whatever a text may hold: lists and keys with values, too.
        if (document.Components.Schemas.TryGetValue(nameof(DraftStep), out var step) && step.Properties?["value"] is OpenApiSchema written)
            written.Type = null;
        return Task.CompletedTask;
    }

    private static void Complete(OpenApiSchema schema, OpenApiDocument document)
    {
        foreach (var (name, property) in schema.Properties ?? new Dictionary<string, IOpenApiSchema>())
        {
            if (property is not OpenApiSchema inner)
                continue;
            if (name == "selections")
                inner.AdditionalProperties = new OpenApiSchemaReference("PickedMembers", document);
            else if (IsOpen(inner))
                inner.Type = AnyValue;
            else if (name == "restOf")
                inner.Items = Member("A member: a value for every field.");
            else
                Complete(inner, document);
        }
        if (schema.Type is { } type && type.HasFlag(JsonSchemaType.Array) && schema.Items is null)
            schema.Items = Value();
        else if (schema.Items is OpenApiSchema items)
        {
            if (IsOpen(items))
                items.Type = AnyValue;
            else
                Complete(items, document);
        }
        foreach (var one in (schema.AnyOf ?? []).Concat(schema.OneOf ?? []).OfType<OpenApiSchema>())
            Complete(one, document);
    }

    /// <summary>True for a schema that says nothing: of values of results.</summary>
    private static bool IsOpen(OpenApiSchema schema) =>
        schema is { Type: null, Items: null, AdditionalProperties: null, Enum: null or { Count: 0 } }
        && (schema.Properties?.Count ?? 0) + (schema.AnyOf?.Count ?? 0) + (schema.OneOf?.Count ?? 0) + (schema.AllOf?.Count ?? 0) == 0;

    private static OpenApiSchema Value() => new() { Type = AnyValue };

    private static OpenApiSchema Optional(JsonSchemaType type, string doc) => new() { Type = type, Description = doc };

    private static OpenApiSchema Member(string doc, JsonSchemaType or = default) =>
        new()
        {
            Type = JsonSchemaType.Array | or,
            Items = Value(),
            Description = doc,
        };

    private static OpenApiSchema Members(string doc, JsonSchemaType or = default) =>
        new()
        {
            Type = JsonSchemaType.Array | or,
            Items = Member("A value for every field."),
            Description = doc,
        };

    private static OpenApiSchema Object(string doc, params (string Name, IOpenApiSchema Schema)[] properties) =>
        new()
        {
            Type = JsonSchemaType.Object,
            Description = doc,
            Properties = properties.ToDictionary(p => p.Name, p => p.Schema),
            Required = properties.Where(p => p.Name is "members" or "from" or "to").Select(p => p.Name).ToHashSet(),
        };
}
