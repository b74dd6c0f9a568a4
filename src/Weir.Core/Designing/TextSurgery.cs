using System.Text.Json.Nodes;
using Weir.Core.Definitions;

namespace Weir.Core.Designing;

/// <summary>Cuts and writes in one text. Each operation gives the whole text after it.</summary>
/// <param name="hasLiterals">False to put texts of several lines into quotation marks: where what follows would be read as part of them.</param>
/// <param name="whole">What does the steps that a step is made of.</param>
internal sealed class TextSurgery(string text, Shape? shape, DesignText whole, bool hasLiterals = true)
{
    private SpanMap? _root;

    private readonly string _newLine = text.Contains("\r\n", StringComparison.Ordinal) ? "\r\n" : "\n";

    public string Apply(SpanMap root, DesignStep step)
    {
        _root = root;
        var writing = Style(root);
        switch (step)
        {
            case DesignStep.Set set:
                return DesignText.Find(root, set.At.SkipLast(1)) switch
                {
                    SpanMap map => SetKey(writing, map, set.At[^1], set.Value, ShapeAt(set.At.SkipLast(1))),
                    SpanList list when DesignText.NumberOf(list.Items.Select(DesignText.NameOf), set.At[^1]) is { } i => Replace(
                        writing,
                        list.Items[i],
                        set.Value,
                        list.IsFlow ? null : list.Column
                    ),
                    _ => throw DesignText.NotThere(set.At),
                };
            case DesignStep.Remove remove:
                return DesignText.Find(root, remove.At.SkipLast(1)) switch
                {
                    SpanMap map when map.Of(remove.At[^1]) is not null => RemoveKey(map, remove.At[^1]),
                    SpanList list when DesignText.NumberOf(list.Items.Select(DesignText.NameOf), remove.At[^1]) is { } i => RemoveItem(
                        list,
                        i
                    ),
                    _ => throw DesignText.NotThere(remove.At),
                };
            case DesignStep.Insert insert:
                return DesignText.Find(root, insert.At) switch
                {
                    SpanList { Items.Count: > 0 } list => InsertItem(writing, list, PlaceIn(list, insert.Before), insert.Value),
                    _ => DesignText.Find(root, insert.At.SkipLast(1)) is SpanMap map
                        ? SetKey(
                            writing,
                            map,
                            insert.At[^1],
                            new JsonArray(insert.Value?.DeepClone()),
                            ShapeAt(insert.At.SkipLast(1)),
                            isWhole: true
                        )
                        : throw DesignText.NotThere(insert.At),
                };
            case DesignStep.Move move:
                return Move(writing, root, move);
            default:
                throw new InvalidOperationException($"No way to write {step.GetType().Name}.");
        }
    }

    /// <summary>The way in which the file is written, as far as it shows.</summary>
    private Written Style(SpanNode root)
    {
        int? step = null;
        int? dash = null;
        void Look(SpanNode node)
        {
            if (node.IsFlow)
                return;
            foreach (var (key, value) in node is SpanMap map ? map.Entries : [])
            {
                if (value is SpanMap { IsFlow: false, Entries.Count: > 0 } inner && IsBelow(key, inner))
                    step ??= inner.Column - key.Column;
                if (value is SpanList { IsFlow: false, Items.Count: > 0 } items && IsBelow(key, items))
                    dash ??= items.Column - key.Column;
                Look(value);
            }
            foreach (var item in node is SpanList list ? list.Items : [])
                Look(item);
        }
        Look(root);
        return new Written(_newLine, Math.Max(1, step ?? 2), dash ?? 2, hasLiterals);
    }

    private static bool IsBelow(SpanScalar key, SpanNode value) => value.Column >= key.Column && value.Start > key.End;

    private Shape? ShapeAt(IEnumerable<string> path)
    {
        var at = shape;
        foreach (var name in path)
            at = at switch
            {
                Shape.Keys keys => keys.Known.FirstOrDefault(k => k.Name == name)?.Shape,
                Shape.MapOf map => map.Value,
                Shape.ListOf list => list.Item,
                Shape.Either either => either.Shapes.OfType<Shape.ListOf>().FirstOrDefault()?.Item
                    ?? either.Shapes.OfType<Shape.Keys>().FirstOrDefault()?.Known.FirstOrDefault(k => k.Name == name)?.Shape,
                _ => null,
            };
        return at is Shape.Either several ? several.Shapes.OfType<Shape.Keys>().FirstOrDefault() : at;
    }

    private string Cut(int from, int to, string with = "") => string.Concat(text.AsSpan(0, from), with, text.AsSpan(to));

    private string SetKey(Written writing, SpanMap map, string key, JsonNode? value, Shape? of, bool isWhole = false)
    {
        foreach (var (name, old) in map.Entries)
            if (name.Value == key)
                return Replace(writing, old, value, map.IsFlow ? null : map.Column, name, isWhole);
        if (map.Entries.Count == 0)
            return Cut(map.Start, map.End, $"{{ {Written.Scalar(key)}: {Written.OnALine(value)} }}");
        // After the last of those that come before it in the order of keys.
        var order = KeyOrder.Of(of);
        var rank = order.GetValueOrDefault(key, int.MaxValue);
        var after = map.Entries.Select((e, i) => (Rank: order.GetValueOrDefault(e.Key.Value, -1), i)).Where(e => e.Rank <= rank).ToList();
        var place = after.Count > 0 ? after[^1].i : -1;
        if (map.IsFlow)
        {
            var entry = $"{Written.Scalar(key)}: {Written.OnALine(value)}";
            return place < 0
                ? Cut(map.Entries[0].Key.Start, map.Entries[0].Key.Start, $"{entry}, ")
                : Cut(EndOf(map.Entries[place]), EndOf(map.Entries[place]), $", {entry}");
        }
        var written = writing.Entry(key, value, map.Column);
        if (place < 0)
            return Cut(map.Entries[0].Key.Start, map.Entries[0].Key.Start, written + _newLine + new string(' ', map.Column));
        return AddLines(EndOf(map.Entries[place]), new string(' ', map.Column) + written);
    }

    /// <summary>Where an entry ends: after its colon, where it has no value.</summary>
    private int EndOf((SpanScalar Key, SpanNode Value) entry) =>
        entry.Value.End > entry.Key.End ? entry.Value.End
        : ColonAfter(entry.Key) is { } colon ? colon + 1
        : entry.Key.End;

    private int? ColonAfter(SpanScalar key)
    {
        var at = key.End;
        while (at < text.Length && text[at] is ' ' or '\t')
            at++;
        return at < text.Length && text[at] == ':' ? at : null;
    }

    /// <summary>Lines after the one in which something ends.</summary>
    private string AddLines(int end, string lines)
    {
        // What keeps the empty lines after it ends where a line begins.
        if (end > 0 && text[end - 1] == '\n')
            return Cut(end, end, lines + _newLine);
        var at = LineEnd(end);
        return at < text.Length ? Cut(AfterBreak(at), AfterBreak(at), lines + _newLine) : Cut(at, at, _newLine + lines + _newLine);
    }

    /// <summary>Where the line ends in which a character stands, before its break.</summary>
    private int LineEnd(int at)
    {
        while (at < text.Length && text[at] is not ('\n' or '\r'))
            at++;
        return at;
    }

    private int AfterBreak(int at) =>
        at >= text.Length ? at
        : text[at] == '\r' && at + 1 < text.Length && text[at + 1] == '\n' ? at + 2
        : at + 1;

    private int LineStart(int at)
    {
        while (at > 0 && text[at - 1] != '\n')
            at--;
        return at;
    }

    private bool IsFirstOnLine(int at) => text.AsSpan(LineStart(at), at - LineStart(at)).IsWhiteSpace();

    /// <param name="column">Where the key or list stands that the value is of; null in brackets and braces.</param>
    private string Replace(Written writing, SpanNode old, JsonNode? value, int? column, SpanScalar? key = null, bool isWhole = false)
    {
        if (JsonNode.DeepEquals(old.Said, DesignText.AsText(value)))
            return text;
        if (!isWhole && old is SpanMap { Entries.Count: > 0 } map && value is JsonObject { Count: > 0 } wanted)
            return Merge(map, wanted);
        if (!isWhole && old is SpanList { Items.Count: > 0 } list && value is JsonArray { Count: > 0 } items)
            return Merge(list, items);
        if (column is not { } at)
        {
            var flow = OnALine(old, value);
            return key is not null && old.End <= key.End
                ? Cut(ColonAfter(key) + 1 ?? key.End, ColonAfter(key) + 1 ?? key.End, ColonAfter(key) is null ? $": {flow}" : $" {flow}")
                : Cut(old.Start, old.End, flow);
        }
        // An item of a list, behind its dash.
        if (key is null)
            return Cut(
                old.Start,
                old.End,
                old is SpanMap or SpanList || value is not JsonValue ? writing.Item(value, old.Column, old.IsFlow) : OnALine(old, value)
            );
        var colon =
            ColonAfter(key)
            ?? throw new DesignException($"The key {key.Value} is written in a way that is not changed by hand.", "Change it as text.");
        var isPlainGap = text.AsSpan(colon + 1, Math.Max(0, old.Start - colon - 1)).Trim().IsEmpty;
        var isOnALine = value is JsonValue lined && (!isPlainGap || old is SpanScalar { IsBlock: false } && writing.Lines(lined) is null);
        var behind = isOnALine ? " " + OnALine(old, value) : writing.Behind(value, at);
        var end = Math.Max(old.End, colon + 1);
        var line = behind.IndexOf(_newLine, StringComparison.Ordinal);
        if (line >= 0 && !EndsLine(old) && (old.End <= colon + 1 || isPlainGap))
        {
            // A comment behind what was there stays on the line of the key.
            behind = behind[..line] + text[end..LineEnd(end)] + behind[line..];
            end = LineEnd(end);
        }
        if (old.End <= colon + 1 || isPlainGap)
            return Cut(colon + 1, end, behind + (EndsLine(old) ? _newLine : ""));
        // Between the key and what was there stand comments: they stay, and what ended with one leaves it on a line of its own.
        var start = LineStart(old.Start);
        var comment = EndsLine(old) ? "" : text[end..LineEnd(end)].Trim();
        var rest = Cut(
            start,
            EndsLine(old) ? end : AfterBreak(LineEnd(end)),
            comment.Length == 0 ? "" : text[start..old.Start] + comment + _newLine
        );
        return line < 0
            ? rest.Insert(colon + 1, behind)
            : string.Concat(rest.AsSpan(0, start), behind.AsSpan(line + _newLine.Length), _newLine, rest.AsSpan(start));
    }

    /// <summary>True for a text that ends where the next line begins.</summary>
    private bool EndsLine(SpanNode node) => node.End > 0 && node.End <= text.Length && node.End > node.Start && text[node.End - 1] == '\n';

    private static string OnALine(SpanNode old, JsonNode? value) =>
        old is SpanScalar scalar && value is JsonValue v && v.TryGetValue(out string? said)
            ? Written.Scalar(said, scalar.Style)
            : Written.OnALine(value);

    /// <summary>A mapping for a mapping: keys that are not wanted go, the others are set one after the other.</summary>
    private string Merge(SpanMap map, JsonObject wanted)
    {
        // Each of these is a cut of its own, in the text that the one before it left; the path to the mapping stays as it is.
        var path = PathTo(map);
        var steps = map
            .Entries.Where(e =>
                wanted.ContainsKey(e.Key.Value) && !JsonNode.DeepEquals(e.Value.Said, DesignText.AsText(wanted[e.Key.Value]))
            )
            .Select(e => (DesignStep)new DesignStep.Set([.. path, e.Key.Value], wanted[e.Key.Value]))
            .Concat(wanted.Where(w => map.Of(w.Key) is null).Select(w => (DesignStep)new DesignStep.Set([.. path, w.Key], w.Value)))
            .Concat(map.Entries.Where(e => !wanted.ContainsKey(e.Key.Value)).Select(e => new DesignStep.Remove([.. path, e.Key.Value])));
        return whole.Apply(text, steps);
    }

    /// <summary>A list for a list: what is the same at both ends stays.</summary>
    private string Merge(SpanList list, JsonArray wanted)
    {
        var path = PathTo(list);
        var said = list.Items.Select(i => i.Said).ToList();
        var meant = wanted.Select(DesignText.AsText).ToList();
        var before = 0;
        while (before < said.Count && before < meant.Count && JsonNode.DeepEquals(said[before], meant[before]))
            before++;
        var after = 0;
        while (
            after < said.Count - before
            && after < meant.Count - before
            && JsonNode.DeepEquals(said[said.Count - 1 - after], meant[meant.Count - 1 - after])
        )
            after++;
        var (old, now) = (said.Count - before - after, meant.Count - before - after);
        var both = Math.Min(old, now);
        string Number(int n) => n.ToString(System.Globalization.CultureInfo.InvariantCulture);
        var steps = Enumerable
            .Range(before, both)
            .Select(i => (DesignStep)new DesignStep.Set([.. path, Number(i)], wanted[i]))
            .Concat(
                Enumerable
                    .Range(before + both, now - both)
                    .Select(i => new DesignStep.Insert(
                        path,
                        wanted[i],
                        i < said.Count - old + both + (i - before - both) ? Number(i) : null
                    ))
            )
            .Concat(Enumerable.Range(0, old - both).Select(i => new DesignStep.Remove([.. path, Number(before + now)])));
        return whole.Apply(text, steps);
    }

    /// <summary>The way to a node, by numbers where items of lists are passed.</summary>
    private List<string> PathTo(SpanNode wanted)
    {
        List<string>? Within(SpanNode node, List<string> path) =>
            ReferenceEquals(node, wanted)
                ? path
                : node switch
                {
                    SpanMap map => map.Entries.Select(e => Within(e.Value, [.. path, e.Key.Value])).FirstOrDefault(p => p is not null),
                    SpanList list => list
                        .Items.Select(
                            (item, i) =>
                                Within(
                                    item,
                                    [.. path, DesignText.NameOf(item) ?? i.ToString(System.Globalization.CultureInfo.InvariantCulture)]
                                )
                        )
                        .FirstOrDefault(p => p is not null),
                    _ => null,
                };
        return Within(_root!, []) ?? throw new InvalidOperationException("A piece that is none of this text.");
    }

    private string RemoveKey(SpanMap map, string key)
    {
        var index = map.Entries.ToList().FindIndex(e => e.Key.Value == key);
        var entry = map.Entries[index];
        if (map.Entries.Count == 1)
            return map.IsFlow ? Cut(map.Start, map.End, "{}") : Emptied(map.Start, map.End, map.Column, "{}");
        if (map.IsFlow)
            return RemoveFlow(entry.Key.Start, EndOf(entry), index == map.Entries.Count - 1);
        return RemoveLines(entry.Key.Start, EndOf(entry), index + 1 < map.Entries.Count ? map.Entries[index + 1].Key.Start : null);
    }

    /// <summary>What stands on lines of its own goes with them; what shares its first line with a dash leaves that to the next.</summary>
    private string RemoveLines(int start, int end, int? next)
    {
        if (IsFirstOnLine(start))
            return Cut(LineStart(start), end > 0 && text[end - 1] == '\n' ? end : AfterBreak(LineEnd(end)));
        if (next is { } following && text.AsSpan(end, following - end).Trim().IsEmpty)
            return Cut(start, following);
        return Cut(start, end);
    }

    private string RemoveFlow(int start, int end, bool isLast)
    {
        var after = end;
        while (after < text.Length && char.IsWhiteSpace(text[after]))
            after++;
        if (text[after] == ',')
        {
            after++;
            while (after < text.Length && text[after] is ' ' or '\t')
                after++;
            // Where it is the last one, the comma before it may stay.
            return Cut(start, after);
        }
        var before = start;
        while (before > 0 && char.IsWhiteSpace(text[before - 1]))
            before--;
        return before > 0 && text[before - 1] == ',' ? Cut(before - 1, end) : Cut(start, end);
    }

    /// <summary>What is left of a list or mapping on lines of its own when nothing is left in it.</summary>
    private string Emptied(int start, int end, int column, string nothing)
    {
        if (text[end - 1] == '\n')
            nothing += _newLine;
        var before = start;
        while (before > 0 && char.IsWhiteSpace(text[before - 1]))
            before--;
        return before > 0 && text[before - 1] is ':' or '-' && !(text[before - 1] == '-' && IsFirstOnLine(start))
            ? Cut(before, end, " " + nothing)
            : Cut(start, end, (IsFirstOnLine(start) ? new string(' ', column == 0 ? 2 : 1) : "") + nothing);
    }

    private int PlaceIn(SpanList list, string? before) =>
        before is null
            ? list.Items.Count
            : DesignText.NumberOf(list.Items.Select(DesignText.NameOf), before) ?? throw DesignText.NotThere([before]);

    /// <summary>Where the dash of an item stands.</summary>
    private int DashOf(SpanList list, int index)
    {
        var at = index == 0 ? list.Start : list.Items[index - 1].End;
        while (at < text.Length && text[at] != '-')
            at = text[at] == '#' ? LineEnd(at) : at + 1;
        return at;
    }

    private string InsertItem(Written writing, SpanList list, int place, JsonNode? value)
    {
        if (list.IsFlow)
        {
            var item = Written.OnALine(value);
            return place == 0
                ? Cut(list.Items[0].Start, list.Items[0].Start, $"{item}, ")
                : Cut(list.Items[place - 1].End, list.Items[place - 1].End, $", {item}");
        }
        // As its neighbour is written, where it is no longer than can be read.
        var isFlow = list.Items[Math.Max(0, place - 1)].IsFlow && value is JsonObject && Written.OnALine(value).Length <= 140;
        return InsertRaw(list, place, "- " + writing.Item(value, list.Column + 2, isFlow));
    }

    private string InsertRaw(SpanList list, int place, string item)
    {
        if (place == 0)
            return Cut(DashOf(list, 0), DashOf(list, 0), item + _newLine + new string(' ', list.Column));
        return AddLines(Math.Max(list.Items[place - 1].End, DashOf(list, place - 1) + 1), new string(' ', list.Column) + item);
    }

    private string RemoveItem(SpanList list, int index)
    {
        var item = list.Items[index];
        if (list.Items.Count == 1)
            return list.IsFlow
                ? Cut(list.Start, list.End, "[]")
                : Emptied(list.Start, Math.Max(list.End, list.Start + 1), list.Column, "[]");
        if (list.IsFlow)
            return RemoveFlow(item.Start, item.End, index == list.Items.Count - 1);
        return RemoveLines(
            DashOf(list, index),
            Math.Max(item.End, DashOf(list, index) + 1),
            index + 1 < list.Items.Count ? DashOf(list, index + 1) : null
        );
    }

    private string Move(Written writing, SpanMap root, DesignStep.Move move)
    {
        if (
            DesignText.Find(root, move.At.SkipLast(1)) is not SpanList from
            || DesignText.Find(root, move.To) is not SpanList to
            || DesignText.NumberOf(from.Items.Select(DesignText.NameOf), move.At[^1]) is not { } index
        )
            throw DesignText.NotThere(move.At);
        if (
            from == to
            && (move.Before is null ? index == from.Items.Count - 1 : PlaceIn(to, move.Before) is var p && (p == index || p == index + 1))
        )
            return text;
        var item = from.Items[index];
        // As it is written, where both lists stand on lines of their own; else its value is written anew.
        var raw =
            from.IsFlow || to.IsFlow || to.Items.Count == 0 || item.End <= item.Start ? null : Raw(from, index, to.Column - from.Column);
        var named = move.Before is null ? null : DesignText.NameOf(to.Items[PlaceIn(to, move.Before)]);
        var without = new TextSurgery(text, shape, whole, hasLiterals).RemoveItem(from, index);
        var rest = SpanTree.Read(without);
        if (DesignText.Find(rest, move.To) is not SpanList left)
            throw DesignText.NotThere(move.To);
        var place =
            move.Before is null ? left.Items.Count
            : named is not null ? DesignText.NumberOf(left.Items.Select(DesignText.NameOf), named)!.Value
            : DesignText.NumberOf(left.Items.Select(DesignText.NameOf), move.Before) ?? left.Items.Count;
        var surgery = new TextSurgery(without, shape, whole, hasLiterals);
        if (left.Items.Count > 0 && raw is not null)
            return surgery.InsertRaw(left, place, raw);
        // Below its key, behind which an empty list stood.
        if (!from.IsFlow && item.End > item.Start && DesignText.Find(rest, move.To.SkipLast(1)) is SpanMap { IsFlow: false } around)
        {
            var column = around.Column + writing.DashStep;
            var line = surgery.LineEnd(left.End);
            return string.Concat(
                without.AsSpan(0, left.Start).TrimEnd(' '),
                without.AsSpan(left.End, line - left.End),
                _newLine + new string(' ', column) + Raw(from, index, column - from.Column),
                without.AsSpan(line)
            );
        }
        return surgery.Apply(rest, new DesignStep.Insert(move.To, item.Said!.DeepClone(), move.Before));
    }

    /// <summary>An item as it is written, from its dash on, moved in or out by some columns.</summary>
    private string Raw(SpanList list, int index, int by)
    {
        var end = list.Items[index].End;
        var isEnded = text[end - 1] == '\n';
        var lines = text[DashOf(list, index)..(isEnded ? end - 1 : LineEnd(end))].Split('\n');
        return string.Join(
                '\n',
                lines.Select(
                    (line, i) =>
                        i == 0 || string.IsNullOrWhiteSpace(line) ? line
                        : by >= 0 ? new string(' ', by) + line
                        : line[Math.Min(-by, line.Length - line.TrimStart(' ').Length)..]
                )
            )
            .TrimEnd('\r');
    }
}
