using System.Text.Json;
using System.Text.Json.Serialization;
using Weir.Service.Api;

namespace Weir.Cli;

/// <summary>
/// How the most asked answers of the service are read, written out when Weir is built. Finding out at run time how a type is read costs the
/// command more than the question itself.
/// </summary>
[JsonSourceGenerationOptions(JsonSerializerDefaults.Web, DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(List<DashboardLine>))]
[JsonSerializable(typeof(DashboardPage))]
[JsonSerializable(typeof(SignInFile))]
internal sealed partial class ClientJson : JsonSerializerContext;
