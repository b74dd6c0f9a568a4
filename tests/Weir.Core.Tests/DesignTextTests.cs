using System.Text.Json.Nodes;
using Shouldly;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Core.Pictures;
using YamlDotNet.Core;
using YamlDotNet.Core.Events;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Tests;

/// <summary>Changes by hand against files of nasty style: what is read afterwards is what was meant, and every other line stays to the letter.</summary>
public class DesignTextTests
{
    private static readonly Shape Dashboard = new Shapes(PictureKinds.All).Dashboard;

    private const string Plain = """
        # The harbour, as it was agreed on.
        dashboard: harbour

        title: Harbour life   # never shortened
        description: >-
          What came in,
          and what went out.


        tabs:
          # The first one opens.
          - tab: one
            tiles:
              - tile: sold          # by all channels
                picture: bar
                dataset: tickets
                # what it shows
                show: [takings, mean_price]   # two
                by: channel

                sort: { by: takings, order: descending }
              - { tile: flat, picture: number, dataset: tickets, show: takings } # short
              # between
              - tile: words
                picture: text
                text: |
                  ## Head   #1

                  *Star* and - dash

                place: { column: 0, row: 0, width: 3, height: 2 }
          - tab: two
            title: "Second: the \"rest\""
            tiles:
              - tile: last
                picture: table
                dataset: 'tickets'
                show:
                  - takings      # first
                  - mean_price

                  # then
                  - web_share
                by: [ route ,  terminal ]
        # The end.
        """;

    private const string Dense = """
        'dashboard':    harbour
        tabs:
        -   tab: one
            title: Fähre 🚢 # ship
            tiles:
            -   picture: text
                tile: words
                text: |+
                    kept


            -   tile: sold
                picture: bar
                show:
                - takings
                -   mean_price
                by: 'ch''annel'
                sort:
                    by: takings
                    # down
                    order: descending
                drives: [
                    last, # one
                    flat
                ]
            # odd one out
          # at odd columns
            -   { tile: flat,
                  picture: number, # with a comment
                  show: takings,
                  }
        -   tab: two
            tiles: []
        -
            tab: three
            title:
            tiles:
            - tile: last
              picture: table
              title: one
                 two # folded
              show: takings
        description:
        """;

    private const string Flow =
        "{ dashboard: harbour, # all in one\n  tabs: [ { tab: one, tiles: [ { tile: sold, picture: bar, show: [takings,mean_price], top: { count: 3 }, title: \"a, b\" },\n"
        + "    { tile: last, picture: table } ] }, # here\n { tab: two, title: '', tiles: [] } ],\n title: x }\n";

    private static readonly string[] Texts =
    [
        "Bars",
        "12",
        "true",
        "",
        " lead",
        "trail ",
        "a: b",
        "a #b",
        "# b",
        "- x",
        "{late} of {all}",
        "[1]",
        "it's",
        "say \"so\"",
        "both ' and \"",
        "back\\slash",
        "*star",
        "&and",
        "!no",
        "%",
        "@at",
        "a, b",
        "colon:",
        ":colon",
        "Fähre 🚢 – 20 %",
        "tab\there",
        "one\ntwo\n",
        "one\n\n  two",
        "one\ntwo\n\n",
        " one\ntwo",
        "null",
        "...",
        "---",
        "? x",
        "a | b",
        "> b",
        "~",
        "param.of",
        "departed.month",
        new string('x', 130),
        string.Join(' ', Enumerable.Repeat("long words", 15)),
    ];

    [Fact]
    public void Steps_write_what_they_mean_and_leave_every_other_line()
    {
        var random = new Random(20261127);
        var writer = new DesignText(Dashboard);
        string[] sources = [Plain, Dense, Flow, Plain.ReplaceLineEndings("\r\n"), Dense.TrimEnd() + "\n\n\n"];
        var (text, done, refused, kinds) = (sources[0], 0, 0, new Dictionary<string, int>());
        for (var i = 0; i < 5000; i++)
        {
            if (i % 25 == 0)
                text = sources[i / 25 % sources.Length];
            if (StepFor(text, random) is not { } step)
                continue;
            string next;
            try
            {
                next = writer.Apply(text, [step]);
            }
            catch (DesignException) when (step is DesignStep.Move or DesignStep.Remove && text.Contains("|+"))
            {
                // What would come to stand behind a text that keeps its empty lines would be read as part of it.
                refused++;
                continue;
            }
            catch (DesignException e)
            {
                throw new InvalidOperationException($"Step {i}, {Told(step)}: {e.Message}\n{text}", e);
            }
            JsonNode.DeepEquals(DesignText.Said(next), Oracle(text, step)).ShouldBeTrue($"Step {i}, {Told(step)}\n{text}\n→\n{next}");
            Lost(Kept(text, step), Lines(next)).ShouldBeNull($"Step {i}, {Told(step)}\n{text}\n→\n{next}");
            text = next;
            done++;
            kinds[step.GetType().Name] = kinds.GetValueOrDefault(step.GetType().Name) + 1;
        }
        done.ShouldBeGreaterThan(4500);
        refused.ShouldBeLessThan(20);
        kinds.Values.Min().ShouldBeGreaterThan(300);
    }

    [Fact]
    public void What_cannot_be_changed_by_hand_is_refused_and_said_why()
    {
        var writer = new DesignText(Dashboard);
        DesignStep title = new DesignStep.Set(["title"], "x");
        foreach (
            var (text, why) in new[]
            {
                ("a: [1", "broken"),
                ("- 1\n", "no keys"),
                ("a: 1\na: 2\n", "stands twice"),
                ("? [a]\n: b\n", "no plain word"),
                ("a: &x 1\nb: *x\n", "names of pieces"),
                (string.Concat(Enumerable.Repeat("a: { ", 60)), "nested too deep"),
                ($"a: {string.Concat(Enumerable.Repeat("[", 40))}{string.Concat(Enumerable.Repeat("]", 40))}\n", "nested too deep"),
            }
        )
            Should.Throw<DesignException>(() => writer.Apply(text, [title])).Message.ShouldContain(why);
        Should.Throw<DesignException>(() => writer.Apply("a: 1\n", [new DesignStep.Set(["b", "c"], "x")])).Message.ShouldContain("b / c");
        // A long text many times over would keep everybody waiting.
        var much = new JsonArray([.. Enumerable.Range(0, 20_000).Select(i => (JsonNode)$"t{i}")]);
        var other = new JsonArray([.. Enumerable.Range(0, 20_000).Select(i => (JsonNode)$"u{i}")]);
        var full = new DesignText(Dashboard).Apply("a: 1\n", [new DesignStep.Set(["list"], much)]);
        Should
            .Throw<DesignException>(() => new DesignText(Dashboard).Apply(full, [new DesignStep.Set(["list"], other)]))
            .Message.ShouldContain("too much");
    }

    private static string Told(DesignStep step) =>
        step switch
        {
            DesignStep.Set s => $"set {string.Join('/', s.At)} to {s.Value?.ToJsonString()}",
            DesignStep.Remove r => $"remove {string.Join('/', r.At)}",
            DesignStep.Insert n => $"insert into {string.Join('/', n.At)} before {n.Before} {n.Value?.ToJsonString()}",
            DesignStep.Move m => $"move {string.Join('/', m.At)} to {string.Join('/', m.To)} before {m.Before}",
            _ => "?",
        };

    private static DesignStep? StepFor(string text, Random random)
    {
        var said = DesignText.Said(text)!;
        T One<T>(IReadOnlyList<T> of) => of[random.Next(of.Count)];
        var maps = new List<List<string>>();
        var lists = new List<List<string>>();
        void Look(JsonNode? node, List<string> path)
        {
            if (node is JsonObject map)
            {
                maps.Add(path);
                foreach (var (key, value) in map)
                    Look(value, [.. path, key]);
            }
            if (node is JsonArray list)
            {
                if (list.Count > 0)
                    lists.Add(path);
                for (var i = 0; i < list.Count; i++)
                    Look(list[i], [.. path, NameOf(list, i)]);
            }
        }
        Look(said, []);
        JsonNode Scalar() => random.Next(6) == 0 ? JsonValue.Create(random.Next(40)) : JsonValue.Create(One(Texts));
        JsonNode Value(int depth) =>
            random.Next(depth > 1 ? 1 : 4) switch
            {
                1 => new JsonArray([.. Enumerable.Range(0, random.Next(4)).Select(_ => Value(depth + 1))]),
                2 => new JsonObject(
                    new[] { "by", "order", "count", "rest", "column" }
                        .Where(_ => random.Next(2) == 0)
                        .Select(k => KeyValuePair.Create(k, (JsonNode?)Value(depth + 1)))
                ),
                _ => Scalar(),
            };
        JsonObject Tile() =>
            new(
                new[] { "picture", "dataset", "show", "by", "text", "sort" }
                    .Where(_ => random.Next(2) == 0)
                    .Prepend("tile")
                    .Select(k =>
                        KeyValuePair.Create(
                            k,
                            k == "tile" ? JsonValue.Create($"t{random.Next(100000)}") : (JsonNode?)Value(k == "sort" ? 0 : 1)
                        )
                    )
            );
        string[] free = ["title", "description", "show", "by", "split", "sort", "place", "follows", "text", "odd key", "drives"];
        switch (random.Next(5))
        {
            case 0:
            case 1:
                var map = One(maps);
                var there = ((JsonObject)At(said, map)!).Select(e => e.Key).Except(["tile", "tab", "tabs", "tiles", "dashboard"]).ToList();
                return new DesignStep.Set([.. map, random.Next(2) == 0 && there.Count > 0 ? One(there) : One(free)], Value(0));
            case 2:
                if (random.Next(3) == 0 && lists.Count > 0 && One(lists) is var l && !l.Contains("tabs") || lists.Count == 0)
                    return null;
                if (random.Next(2) == 0)
                {
                    var list = One(lists);
                    var items = (JsonArray)At(said, list)!;
                    return list[^1] is "tabs" ? null : new DesignStep.Remove([.. list, NameOf(items, random.Next(items.Count))]);
                }
                var of = One(maps);
                var keys = ((JsonObject)At(said, of)!).Select(e => e.Key).Except(["tile", "tab", "tabs", "tiles", "dashboard"]).ToList();
                return keys.Count == 0 ? null : new DesignStep.Remove([.. of, One(keys)]);
            case 3:
                var into = One(lists);
                var now = (JsonArray)At(said, into)!;
                return new DesignStep.Insert(
                    into,
                    into[^1] is "tiles" or "tabs" ? Tile() : Value(1),
                    random.Next(2) == 0 ? null : NameOf(now, random.Next(now.Count))
                );
            default:
                var tiles = lists.Where(x => x[^1] == "tiles").ToList();
                if (tiles.Count == 0)
                    return null;
                var (from, to) = (One(tiles), One(tiles));
                var (a, b) = ((JsonArray)At(said, from)!, (JsonArray)At(said, to)!);
                return new DesignStep.Move(
                    [.. from, NameOf(a, random.Next(a.Count))],
                    to,
                    random.Next(3) == 0 ? null : NameOf(b, random.Next(b.Count))
                );
        }
    }

    private static string NameOf(JsonArray list, int i)
    {
        static string? Own(JsonNode? item) => item is JsonObject o ? (o["tile"] ?? o["tab"])?.GetValue<string>() : null;
        var name = Own(list[i]);
        return name is not null && list.Count(x => Own(x) == name) == 1 ? name : $"{i}";
    }

    private static JsonNode? At(JsonNode? node, IEnumerable<string> path) =>
        path.Aggregate(node, (n, p) => n is JsonArray a ? a[IndexIn(a, p)] : n?[p]);

    private static int IndexIn(JsonArray list, string name) => Enumerable.Range(0, list.Count).First(i => NameOf(list, i) == name);

    /// <summary>What the text says after a step, worked out on what it says before.</summary>
    private static JsonNode Oracle(string text, DesignStep step)
    {
        var root = DesignText.Said(text)!;
        var parent = step switch
        {
            DesignStep.Set s => At(root, s.At.SkipLast(1)),
            DesignStep.Remove r => At(root, r.At.SkipLast(1)),
            DesignStep.Insert n => At(root, n.At),
            DesignStep.Move m => At(root, m.At.SkipLast(1)),
            _ => null,
        };
        switch (step)
        {
            case DesignStep.Set s:
                parent![s.At[^1]] = AsText(s.Value);
                break;
            case DesignStep.Remove r when parent is JsonObject map:
                map.Remove(r.At[^1]);
                break;
            case DesignStep.Remove r when parent is JsonArray list:
                list.RemoveAt(IndexIn(list, r.At[^1]));
                break;
            case DesignStep.Insert n:
                var into = (JsonArray)parent!;
                into.Insert(n.Before is null ? into.Count : IndexIn(into, n.Before), AsText(n.Value));
                break;
            case DesignStep.Move m:
                var from = (JsonArray)parent!;
                var to = (JsonArray)At(root, m.To)!;
                var item = from[IndexIn(from, m.At[^1])];
                var before = m.Before is null ? null : to[IndexIn(to, m.Before)];
                if (item == before)
                    break;
                from.Remove(item);
                to.Insert(before is null ? to.Count : to.IndexOf(before), item);
                break;
        }
        return root;
    }

    private static JsonNode? AsText(JsonNode? value) =>
        value switch
        {
            JsonObject map => new JsonObject(map.Select(e => KeyValuePair.Create(e.Key, AsText(e.Value)))),
            JsonArray list => new JsonArray([.. list.Select(AsText)]),
            JsonValue v when v.TryGetValue(out string? s) => JsonValue.Create(s),
            _ => JsonValue.Create(value!.ToJsonString()),
        };

    private static string[] Lines(string text) => text.ReplaceLineEndings("\n").Split('\n');

    /// <summary>The lines that a step does not mean, as another reader of the format tells where things stand.</summary>
    private static List<string> Kept(string text, DesignStep step)
    {
        var stream = new YamlStream();
        stream.Load(new StringReader(text));
        var root = stream.Documents[0].RootNode;
        var lines = Lines(text);
        var meant = new HashSet<int>();
        void Mean(YamlNode from, YamlNode to)
        {
            for (var l = (int)from.Start.Line; l <= LastLine(to, text); l++)
                meant.Add(l);
        }
        // Nothing is left of it but empty brackets, behind its key or dash.
        void MeanWithKey(YamlNode node)
        {
            Mean(node, node);
            var above = (int)node.Start.Line - 1;
            while (above > 0 && lines[above - 1].TrimStart() is "" or ['#', ..])
                above--;
            meant.Add(above);
        }
        switch (step)
        {
            case DesignStep.Set s when Node(root, s.At.SkipLast(1)) is YamlMappingNode map:
                if (InFlow(root, s.At.SkipLast(1)))
                    Mean(map, map);
                else if (map.Children.FirstOrDefault(c => ((YamlScalarNode)c.Key).Value == s.At[^1]) is { Key: { } key } entry)
                    Mean(key, entry.Value);
                break;
            case DesignStep.Remove r when Node(root, r.At.SkipLast(1)) is YamlMappingNode map:
                if (InFlow(root, r.At.SkipLast(1)))
                    Mean(map, map);
                else if (map.Children.Count == 1)
                    MeanWithKey(map);
                else
                {
                    var children = map.Children.ToList();
                    var i = children.FindIndex(c => ((YamlScalarNode)c.Key).Value == r.At[^1]);
                    Mean(children[i].Key, children[i].Value);
                    // The next one takes its place behind a dash.
                    if (i == 0)
                        meant.Add((int)children[1].Key.Start.Line);
                }
                break;
            case DesignStep.Remove r:
                Means(r.At);
                break;
            case DesignStep.Insert n when InFlow(root, n.At):
                Mean(Node(root, n.At), Node(root, n.At));
                break;
            case DesignStep.Insert { Before: { } before } n:
                // What comes before the first item of a list may take its dash's line.
                meant.Add((int)Node(root, [.. n.At, before]).Start.Line);
                break;
            case DesignStep.Move m:
                Means(m.At);
                if (InFlow(root, m.To))
                    Mean(Node(root, m.To), Node(root, m.To));
                break;
        }
        void Means(IReadOnlyList<string> at)
        {
            var list = (YamlSequenceNode)Node(root, at.SkipLast(1));
            var item = Node(root, at);
            if (InFlow(root, at.SkipLast(1)))
                Mean(list, list);
            else if (list.Children.Count == 1)
                MeanWithKey(list);
            else
                Mean(item, item);
            // A dash may stand on a line before its item, and an item behind the dash of the list around.
            for (var l = (int)item.Start.Line; l > 0 && l >= (int)item.Start.Line - 1; l--)
                if (lines[l - 1].TrimStart().StartsWith('-'))
                    meant.Add(l);
            if (list.Children[0] == item && list.Children.Count > 1)
                meant.Add((int)list.Children[1].Start.Line);
        }
        return [.. lines.Where((l, i) => !meant.Contains(i + 1) && l.Trim().Length > 0)];
    }

    /// <summary>The line in which something ends, from 1.</summary>
    private static int LastLine(YamlNode node, string text) => text.AsSpan(0, Math.Max(0, LastCharacter(node, text))).Count('\n') + 1;

    private static int LastCharacter(YamlNode node, string text)
    {
        var inner = node switch
        {
            YamlMappingNode { Children.Count: > 0 } m => LastCharacter(m.Children.Last().Value, text),
            YamlSequenceNode { Children.Count: > 0 } s => LastCharacter(s.Children[^1], text),
            YamlScalarNode { Style: ScalarStyle.Literal or ScalarStyle.Folded } s => (int)s.End.Index - 1,
            YamlScalarNode s => (int)s.End.Index,
            _ => (int)node.Start.Index + 1,
        };
        var closing = node switch
        {
            YamlMappingNode { Style: MappingStyle.Flow } => '}',
            YamlSequenceNode { Style: SequenceStyle.Flow } => ']',
            _ => '\0',
        };
        while (closing != '\0' && text[inner] != closing)
            inner = text[inner] == '#' ? text.IndexOf('\n', inner) : inner + 1;
        return inner + (closing == '\0' ? 0 : 1);
    }

    private static bool InFlow(YamlNode root, IEnumerable<string> at)
    {
        var path = at.ToList();
        return Enumerable
            .Range(0, path.Count + 1)
            .Any(n =>
                Node(root, path.Take(n)) is YamlMappingNode { Style: MappingStyle.Flow } or YamlSequenceNode { Style: SequenceStyle.Flow }
            );
    }

    private static YamlNode Node(YamlNode root, IEnumerable<string> path)
    {
        static string? Own(YamlNode item) =>
            item is YamlMappingNode m
                ? m
                    .Children.Where(c => ((YamlScalarNode)c.Key).Value is "tile" or "tab")
                    .Select(c => ((YamlScalarNode)c.Value).Value)
                    .FirstOrDefault()
                : null;
        return path.Aggregate(
            root,
            (n, p) =>
                n switch
                {
                    YamlMappingNode m => m.Children[new YamlScalarNode(p)],
                    YamlSequenceNode s when s.Children.Where(c => Own(c) == p).ToList() is [var one] => one,
                    YamlSequenceNode s => s.Children[int.Parse(p)],
                    _ => throw new InvalidOperationException(p),
                }
        );
    }

    /// <summary>The first line that is not in the other lines, in order; null if all are.</summary>
    private static string? Lost(IEnumerable<string> lines, IReadOnlyList<string> among)
    {
        var at = 0;
        foreach (var line in lines)
        {
            while (at < among.Count && among[at] != line)
                at++;
            if (at++ == among.Count)
                return line;
        }
        return null;
    }
}
