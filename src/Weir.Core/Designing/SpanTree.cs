using System.Text.Json.Nodes;
using YamlDotNet.Core;
using YamlDotNet.Core.Events;

namespace Weir.Core.Designing;

/// <summary>A piece of a definition's text, and the characters that it covers.</summary>
/// <param name="Start">Its first character.</param>
/// <param name="End">The first character after it: without the comment and the line end that follow.</param>
/// <param name="Column">Where on its line it begins, from 0.</param>
internal abstract record SpanNode(int Start, int End, int Column)
{
    /// <summary>True for what stands in brackets or braces.</summary>
    public bool IsFlow { get; init; }

    /// <summary>What it says, whatever the way it is written.</summary>
    public abstract JsonNode? Said { get; }
}

/// <summary>A text or number.</summary>
internal sealed record SpanScalar(int Start, int End, int Column, string Value, ScalarStyle Style) : SpanNode(Start, End, Column)
{
    public override JsonNode Said => JsonValue.Create(Value);

    /// <summary>True for what goes over lines of its own below its key.</summary>
    public bool IsBlock => Style is ScalarStyle.Literal or ScalarStyle.Folded;
}

/// <summary>A list.</summary>
internal sealed record SpanList(int Start, int End, int Column, IReadOnlyList<SpanNode> Items) : SpanNode(Start, End, Column)
{
    public override JsonNode Said => new JsonArray([.. Items.Select(i => i.Said)]);
}

/// <summary>A mapping of keys to values.</summary>
internal sealed record SpanMap(int Start, int End, int Column, IReadOnlyList<(SpanScalar Key, SpanNode Value)> Entries)
    : SpanNode(Start, End, Column)
{
    public override JsonNode Said => new JsonObject(Entries.Select(e => KeyValuePair.Create(e.Key.Value, e.Value.Said)));

    /// <summary>The value of a key; null if it is not there.</summary>
    public SpanNode? Of(string key) => Entries.FirstOrDefault(e => e.Key.Value == key).Value;
}

/// <summary>Reads a definition's text as a tree that knows where everything stands.</summary>
internal static class SpanTree
{
    /// <summary>Deeper than this nothing is changed by hand.</summary>
    private const int MostDepth = 32;

    /// <summary>The mapping that a file holds.</summary>
    /// <exception cref="DesignException">The text is no YAML, or none that is changed by hand.</exception>
    public static SpanMap Read(string text) =>
        ReadPiece(text) as SpanMap ?? throw new DesignException("The text holds no keys.", "Begin it as text.");

    /// <summary>Whatever a text holds.</summary>
    /// <exception cref="DesignException">The text is no YAML, or none that is changed by hand.</exception>
    public static SpanNode ReadPiece(string text)
    {
        try
        {
            var parser = new YamlDotNet.Core.Parser(new StringReader(text));
            parser.Consume<StreamStart>();
            parser.Consume<DocumentStart>();
            var root = Read(parser, text, 0);
            parser.Consume<DocumentEnd>();
            parser.Consume<StreamEnd>();
            return root;
        }
        catch (Exception e) when (e is YamlException or InvalidOperationException or ArgumentException)
        {
            throw new DesignException("The text is broken, so that nothing can be changed in it by hand.", "Mend the text first.");
        }
    }

    private static SpanNode Read(IParser parser, string text, int depth)
    {
        if (depth > MostDepth)
            throw new DesignException("The text is nested too deep to be changed by hand.", "Change it as text.");
        switch (parser.Current)
        {
            case Scalar scalar:
                parser.MoveNext();
                return new SpanScalar(
                    (int)scalar.Start.Index,
                    EndOf(scalar, text),
                    (int)scalar.Start.Column - 1,
                    scalar.Value,
                    scalar.Style
                );
            case SequenceStart start:
            {
                parser.MoveNext();
                var items = new List<SpanNode>();
                while (parser.Current is not SequenceEnd)
                    items.Add(Read(parser, text, depth + 1));
                var end = parser.Consume<SequenceEnd>();
                var isFlow = start.Style == SequenceStyle.Flow;
                return new SpanList(
                    (int)start.Start.Index,
                    isFlow ? (int)end.Start.Index + 1
                        : items.Count > 0 ? items[^1].End
                        : (int)start.Start.Index,
                    (int)start.Start.Column - 1,
                    items
                )
                {
                    IsFlow = isFlow,
                };
            }
            case MappingStart start:
            {
                parser.MoveNext();
                var entries = new List<(SpanScalar, SpanNode)>();
                var names = new HashSet<string>();
                while (parser.Current is not MappingEnd)
                {
                    if (Read(parser, text, depth + 1) is not SpanScalar key)
                        throw new DesignException("A key is no plain word, which is not changed by hand.", "Change it as text.");
                    if (!names.Add(key.Value))
                        throw new DesignException($"The key {key.Value} stands twice in one place.", "Take one of them out of the text.");
                    entries.Add((key, Read(parser, text, depth + 1)));
                }
                var end = parser.Consume<MappingEnd>();
                var isFlow = start.Style == MappingStyle.Flow;
                return new SpanMap(
                    (int)start.Start.Index,
                    isFlow ? (int)end.Start.Index + 1
                        : entries.Count > 0 ? entries[^1].Item2.End
                        : (int)start.Start.Index,
                    (int)start.Start.Column - 1,
                    entries
                )
                {
                    IsFlow = isFlow,
                };
            }
            default:
                throw new DesignException("The text uses names of pieces, which are not changed by hand.", "Change it as text.");
        }
    }

    /// <summary>
    /// Where a text ends. What goes over lines of its own ends, for the parser, where the next thing begins: without the empty lines
    /// before that, unless they are part of it.
    /// </summary>
    private static int EndOf(Scalar scalar, string text)
    {
        var (start, end) = ((int)scalar.Start.Index, Math.Min((int)scalar.End.Index, text.Length));
        if (scalar.Style is not (ScalarStyle.Literal or ScalarStyle.Folded))
            return end;
        var header = text.AsSpan(start, end - start);
        var isKept = header[..(header.IndexOf('\n') is var line and >= 0 ? line : header.Length)].Contains('+');
        return isKept ? end : start + header.TrimEnd().Length;
    }
}

/// <summary>A change by hand that can't be made in a text.</summary>
public sealed class DesignException(string message, string remedy) : Exception(message)
{
    /// <summary>What to do about it.</summary>
    public string Remedy { get; } = remedy;
}
