using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using YamlDotNet.Core;

namespace Weir.Core.Designing;

/// <summary>Writes values as a person would: on one line where they have room, without quotation marks where none are needed.</summary>
/// <param name="newLine">What ends a line.</param>
/// <param name="step">By how many spaces what stands below a key is moved in.</param>
/// <param name="dashStep">By how many the dashes of a list below a key are.</param>
/// <param name="hasLiterals">Whether a text of several lines may stand as it is.</param>
internal sealed partial class Written(string newLine, int step, int dashStep, bool hasLiterals = true)
{
    /// <summary>By how many spaces the dashes of a list below a key are moved in.</summary>
    public int DashStep => dashStep;

    /// <summary>A list or mapping longer than this goes over several lines.</summary>
    private const int Longest = 100;

    /// <summary>An item of a list with more keys than this has a line for each.</summary>
    private const int MostOnALine = 3;

    /// <summary>What stands behind a key and its colon, beginning with the space or the line end.</summary>
    /// <param name="column">The column of the key.</param>
    public string Behind(JsonNode? value, int column) =>
        value switch
        {
            JsonArray { Count: > 0 } list when !FitsOnALine(list) => newLine
                + string.Join(newLine, list.Select(i => Spaces(column + dashStep) + "- " + Item(i, column + dashStep + 2))),
            JsonObject { Count: > 0 } map when !FitsOnALine(map) => newLine + Spaces(column + step) + Block(map, column + step),
            JsonValue scalar when Lines(scalar) is { } lines => " " + Literal(lines, column + step),
            _ => " " + OnALine(value),
        };

    /// <summary>An item of a list, behind its dash.</summary>
    /// <param name="column">The column at which it begins.</param>
    /// <param name="isFlow">True if it is to stand in braces, as its neighbours do.</param>
    public string Item(JsonNode? value, int column, bool isFlow = false) =>
        value is JsonObject { Count: > 0 } map && !isFlow && (map.Count > MostOnALine || !FitsOnALine(map))
            ? Block(map, column)
            : OnALine(value);

    /// <summary>An entry of a mapping.</summary>
    /// <param name="column">The column of its key.</param>
    public string Entry(string key, JsonNode? value, int column) => $"{Name(key)}:{Behind(value, column)}";

    /// <summary>A key: on is one of lookups, which everybody writes bare, and all keys are read as text.</summary>
    private static string Name(string key) => key == "on" ? key : Scalar(key);

    private string Block(JsonObject map, int column) =>
        string.Join(newLine + Spaces(column), map.Select(e => Entry(e.Key, e.Value, column)));

    private static bool FitsOnALine(JsonNode value) =>
        value switch
        {
            // Items that are mappings are read better one below another.
            JsonArray list => list.All(i => i is not JsonObject { Count: > 1 }) && OnALine(list).Length <= Longest,
            // An empty list is one that is to be filled.
            JsonObject map => map.All(e => e.Value is JsonValue || e.Value is JsonArray { Count: > 0 } a && a.All(i => i is JsonValue))
                && OnALine(map).Length <= Longest,
            _ => true,
        };

    /// <summary>A value on one line, in brackets and braces where it has parts.</summary>
    public static string OnALine(JsonNode? value) =>
        value switch
        {
            JsonObject { Count: 0 } => "{}",
            JsonObject map => $"{{ {string.Join(", ", map.Select(e => $"{Name(e.Key)}: {OnALine(e.Value)}"))} }}",
            JsonArray list => $"[{string.Join(", ", list.Select(OnALine))}]",
            JsonValue scalar when scalar.GetValueKind() == JsonValueKind.String => Scalar(scalar.GetValue<string>()),
            null => "\"\"",
            _ => value.ToJsonString(),
        };

    /// <summary>A text in the way in which the one before it was written, where that can hold it.</summary>
    public static string Scalar(string text, ScalarStyle before = ScalarStyle.Any) =>
        before switch
        {
            ScalarStyle.SingleQuoted when IsPrintable(text) => Single(text),
            ScalarStyle.DoubleQuoted => Double(text),
            _ when Plain().IsMatch(text) && !Word().IsMatch(text) => text,
            _ when text.Contains('"') && IsPrintable(text) => Single(text),
            _ => Double(text),
        };

    private static string Single(string text) => $"'{text.Replace("'", "''", StringComparison.Ordinal)}'";

    private static string Double(string text)
    {
        var quoted = new StringBuilder("\"");
        foreach (var c in text)
            _ = c switch
            {
                '"' or '\\' => quoted.Append('\\').Append(c),
                '\n' => quoted.Append("\\n"),
                '\t' => quoted.Append("\\t"),
                _ when IsPrintable(c) => quoted.Append(c),
                _ => quoted.Append(CultureInfo.InvariantCulture, $"\\u{(int)c:X4}"),
            };
        return quoted.Append('"').ToString();
    }

    private static bool IsPrintable(char c) => !(char.IsControl(c) || c is '\u2028' or '\u2029' or '\ufeff');

    private static bool IsPrintable(string text) => text.All(IsPrintable);

    /// <summary>The lines of a text that ends a line and can stand as they are; null for others.</summary>
    public string[]? Lines(JsonValue value) =>
        hasLiterals
        && value.GetValueKind() == JsonValueKind.String
        && value.GetValue<string>() is var text
        && text.Contains('\n')
        && text[0] is not (' ' or '\n' or '\t')
        && !text.EndsWith("\n\n", StringComparison.Ordinal)
        && text.Split('\n').All(l => IsPrintable(l) && (l.Length == 0 || l.Trim().Length > 0))
            ? text.Split('\n')
            : null;

    /// <summary>A text over lines of its own.</summary>
    /// <param name="column">The column at which they begin.</param>
    public string Literal(IReadOnlyList<string> lines, int column)
    {
        var isEnded = lines[^1].Length == 0;
        var text = new StringBuilder(isEnded ? "|" : "|-");
        foreach (var line in isEnded ? lines.SkipLast(1) : lines)
            text.Append(newLine).Append(line.Length == 0 ? "" : Spaces(column) + line);
        return text.ToString();
    }

    private static string Spaces(int count) => new(' ', count);

    // Plain wherever it stands: nothing in it that brackets, comments or other readers would take for something else.
    [GeneratedRegex(@"^(?:[\p{L}\d_/(.][\p{L}\p{M}\d _./()%+*'’–…?!;=<>-]*[\p{L}\p{M}\d_./()%+*'’…?!;]|[\p{L}\d_])\z")]
    private static partial Regex Plain();

    // true and false are mostly meant as such; a text that says so is read as text all the same.
    [GeneratedRegex(@"^(?:null|yes|no|on|off|y|n|~|\.inf|\.nan|\.\.\.)\z", RegexOptions.IgnoreCase)]
    private static partial Regex Word();
}
