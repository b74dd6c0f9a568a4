using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;

namespace Weir.Core.Views;

/// <summary>
/// How edits are read from JSON and written, worked out when Weir is built: finding it out at run time takes a check, and whoever opens the
/// first view of a service, a tenth of a second.
/// </summary>
[JsonSourceGenerationOptions(JsonSerializerDefaults.Web, GenerationMode = JsonSourceGenerationMode.Metadata)]
[JsonSerializable(typeof(ViewEdit))]
[JsonSerializable(typeof(List<ViewEdit>))]
[JsonSerializable(typeof(IReadOnlyList<ViewEdit>))]
[JsonSerializable(typeof(string))]
public sealed partial class ViewEditJson : JsonSerializerContext
{
    /// <summary>As they are stored and sent.</summary>
    public static JsonSerializerOptions Stored => Made.Stored;

    /// <summary>Edits as worked out here; whatever else is written by the same options, as it is found.</summary>
    internal static IJsonTypeInfoResolver Resolver => Made.Resolver;

    // Of a class of its own: within this one it would be made before what is worked out is there.
    private static class Made
    {
        internal static readonly IJsonTypeInfoResolver Resolver = JsonTypeInfoResolver.Combine(Default, new DefaultJsonTypeInfoResolver());

        internal static readonly JsonSerializerOptions Stored = new(JsonSerializerDefaults.Web) { TypeInfoResolver = Resolver };
    }
}
