using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;
using Weir.Engines;
using Weir.Service.Api;
using Weir.Service.SignIn;

namespace Weir.Commands;

/// <summary>The body of a request that says nothing.</summary>
internal sealed record Nothing;

/// <summary>A range as it travels in a selection; an end that is left out is open.</summary>
internal sealed record PickedRange(object? From, object? To);

/// <summary>The levels that are opened on a tile, as they travel in a selection.</summary>
internal sealed record OpenedPath(IReadOnlyList<object?> Path);

/// <summary>
/// How all that goes to the service and comes from it is read and written: worked out when Weir is built, since the native command can't find
/// out about types as it runs. A type that is missing here fails at its first use.
/// </summary>
[JsonSourceGenerationOptions(JsonSerializerDefaults.Web, DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(SignInFile))]
[JsonSerializable(typeof(Nothing))]
[JsonSerializable(typeof(object))]
[JsonSerializable(typeof(bool))]
[JsonSerializable(typeof(decimal))]
[JsonSerializable(typeof(Dictionary<string, object?>))]
[JsonSerializable(typeof(List<object?[]>))]
[JsonSerializable(typeof(PickedRange))]
[JsonSerializable(typeof(OpenedPath))]
[JsonSerializable(typeof(List<JsonElement>))]
[JsonSerializable(typeof(List<FaultInfo>))]
// Signing in, and who may what
[JsonSerializable(typeof(TokenRequest))]
[JsonSerializable(typeof(NewToken))]
[JsonSerializable(typeof(AccessAnswer))]
[JsonSerializable(typeof(PersonAccess))]
// Dashboards and their figures
[JsonSerializable(typeof(List<DashboardLine>))]
[JsonSerializable(typeof(DashboardPage))]
[JsonSerializable(typeof(OpeningRequest))]
[JsonSerializable(typeof(OpeningAnswer))]
[JsonSerializable(typeof(ResultsRequest))]
[JsonSerializable(typeof(TileResult))]
[JsonSerializable(typeof(MembersRequest))]
[JsonSerializable(typeof(MembersAnswer))]
[JsonSerializable(typeof(ExplanationRequest))]
[JsonSerializable(typeof(Explanation))]
[JsonSerializable(typeof(List<WireInfo>))]
// Files, reports and what is sent
[JsonSerializable(typeof(ExportRequest))]
[JsonSerializable(typeof(ReportRun))]
[JsonSerializable(typeof(FileProgressInfo))]
[JsonSerializable(typeof(List<ReportInfo>))]
[JsonSerializable(typeof(ScheduleInfo))]
[JsonSerializable(typeof(RunStarted))]
[JsonSerializable(typeof(List<RunInfo>))]
[JsonSerializable(typeof(SendAgain))]
[JsonSerializable(typeof(List<SubscriptionInfo>))]
[JsonSerializable(typeof(SubscriptionRequest))]
// Definitions and their versions
[JsonSerializable(typeof(DefinitionsRequest))]
[JsonSerializable(typeof(DefinitionsAnswer))]
[JsonSerializable(typeof(DefinitionFiles))]
[JsonSerializable(typeof(List<VersionLine>))]
[JsonSerializable(typeof(Reason))]
[JsonSerializable(typeof(RenameRequest))]
[JsonSerializable(typeof(RenamePreview))]
// Sources
[JsonSerializable(typeof(List<SourceInfo>))]
[JsonSerializable(typeof(List<SourceStep>))]
[JsonSerializable(typeof(List<CatalogTable>))]
[JsonSerializable(typeof(TableDetail))]
[JsonSerializable(typeof(TableInfo))]
// Views
[JsonSerializable(typeof(IReadOnlyList<NamedViewInfo>))]
[JsonSerializable(typeof(NewViewRequest))]
[JsonSerializable(typeof(ShareRequest))]
[JsonSerializable(typeof(List<ShareInfo>))]
[JsonSerializable(typeof(PromoteRequest))]
[JsonSerializable(typeof(PromotedInfo))]
[JsonSerializable(typeof(List<StepInfo>))]
internal sealed partial class ClientJson : JsonSerializerContext
{
    private static readonly ClientJson Plain = new(new JsonSerializerOptions { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping });

    /// <summary>How a type is read and written.</summary>
    /// <exception cref="NotSupportedException">It does not travel between the command and the service.</exception>
    public static JsonTypeInfo Of(Type type) =>
        Default.GetTypeInfo(type) ?? throw new NotSupportedException($"{type} is missing among what travels.");

    /// <inheritdoc cref="Of(Type)"/>
    public static JsonTypeInfo<T> Of<T>() => (JsonTypeInfo<T>)Of(typeof(T));

    /// <summary>The text as it travels.</summary>
    public static string Text<T>(T value) => JsonSerializer.Serialize(value, Of<T>());

    /// <summary>The value as a part of something that travels.</summary>
    public static JsonElement Element<T>(T value) => JsonSerializer.SerializeToElement(value, Of<T>());

    /// <summary>A value for people to read: nothing in it is escaped that needs not be.</summary>
    public static string Readable(object? value) => JsonSerializer.Serialize(value, Plain.Object);
}
