using System.Text.Json;
using System.Text.Json.Serialization;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.Workers;

/// <summary>What a worker is told to do; a line of JSON on its standard input. An empty line cancels what it does.</summary>
/// <param name="Source">The source, its password put in: a worker can look up no secret.</param>
/// <param name="Text">The statement; null to take in files.</param>
/// <param name="Typed">See <see cref="SqlText.Typed"/>.</param>
/// <param name="Kinds">The types of the statement's columns; null to tell what columns it brings.</param>
/// <param name="InPieces">True for an answer in pieces, each a line of its own before the last.</param>
/// <param name="Files">The files to take in, with <paramref name="Target"/>.</param>
internal sealed record WorkerTask(
    Source Source,
    string FilesFolder,
    string SecretsFolder,
    string WorkFolder,
    string? Text,
    string? Typed,
    IReadOnlyList<WorkerValue> Parameters,
    IReadOnlyList<ValueKind>? Kinds,
    IReadOnlyDictionary<string, string> Session,
    IReadOnlyList<string>? Files,
    string? Target,
    bool InPieces = false
);

/// <summary>A parameter's value as text, which its type tells how to read.</summary>
internal sealed record WorkerValue(ValueKind Kind, string? Text)
{
    public static WorkerValue Of(SqlParameter parameter) =>
        new(
            parameter.Kind,
            parameter.Value switch
            {
                null => null,
                string text => text,
                var value => JsonSerializer.Serialize(value, WorkerMessages.Options),
            }
        );

    public SqlParameter Read() =>
        new(
            Text is null ? null
                : Kind is ValueKind.Text or ValueKind.Null ? Text
                : WorkerMessages.Value(JsonDocument.Parse(Text).RootElement, Kind),
            Kind
        );
}

/// <summary>What a worker answers; a line of JSON on its standard output.</summary>
/// <param name="Columns">The rows, column by column.</param>
/// <param name="Described">The names and types of the columns.</param>
/// <param name="Piece">Some of the rows, column by column; more lines follow.</param>
internal sealed record WorkerAnswer(
    IReadOnlyList<object?[]>? Columns,
    IReadOnlyList<string[]>? Described,
    WorkerFault? Fault,
    IReadOnlyList<object?[]>? Piece = null
);

/// <summary>Why a worker has no answer.</summary>
/// <param name="Cause">The engine's own words, for the log and for those who define.</param>
internal sealed record WorkerFault(string Code, string Message, string Remedy, string? Step, string? Cause);

/// <summary>How messages between the service and its workers are written.</summary>
internal static class WorkerMessages
{
    public static JsonSerializerOptions Options { get; } = new() { NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals };

    /// <summary>A value of a type from its JSON.</summary>
    public static object? Value(JsonElement json, ValueKind kind) =>
        json.ValueKind == JsonValueKind.Null
            ? null
            : kind switch
            {
                ValueKind.Boolean => json.GetBoolean(),
                ValueKind.Integer => json.GetInt64(),
                ValueKind.Decimal => json.GetDecimal(),
                ValueKind.Float => json.Deserialize<double>(Options),
                ValueKind.Date => DateOnly.FromDateTime(json.GetDateTime()),
                ValueKind.Timestamp => json.GetDateTime(),
                _ => json.GetString(),
            };
}
