using System.Text.Json;
using System.Text.Json.Serialization;

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
    public static JsonSerializerOptions Stored => Default.Options;
}
