using System.Globalization;
using Weir.Core.Expressions;
using YamlDotNet.Core;
using YamlDotNet.Core.Events;
using YamlDotNet.RepresentationModel;
using static Weir.Core.Definitions.Shape;

namespace Weir.Core.Definitions;

/// <summary>How much was reported of a file.</summary>
internal readonly record struct Tally(int Errors, int Warnings);

/// <summary>One definition file while it is read: its nodes with their places, and the faults found in it.</summary>
internal sealed class YamlText(string file, List<Fault> faults, CancellationToken cancellation = default)
{
    /// <summary>Ends the reading when nobody waits for it any more.</summary>
    public CancellationToken Cancellation { get; } = cancellation;

    /// <summary>After so many faults of one file no more are looked for.</summary>
    private const int MaximumFaults = 500;

    private int _errors;
    private int _warnings;

    public string File { get; } = file;

    /// <summary>Larger files are refused before they are read.</summary>
    private const int MaximumLength = 1_000_000;

    private int _nodes;

    private readonly HashSet<string> _broken = [];

    /// <summary>How much was reported so far.</summary>
    public Tally Tally
    {
        get => new(_errors, _warnings);
        set => (_errors, _warnings) = (value.Errors, value.Warnings);
    }

    /// <summary>The same file as it was read, for another round of checks.</summary>
    /// <param name="tally">How much had been reported by the time from which the checks are done anew.</param>
    public YamlText For(List<Fault> others, Tally tally, CancellationToken stop)
    {
        var same = new YamlText(File, others, stop) { Tally = tally };
        same._broken.UnionWith(_broken);
        same.IsPart = IsPart;
        return same;
    }

    /// <summary>True for a key, or an item by name, whose own form is broken: it was taken out, and whoever misses it has no fault for that.</summary>
    public bool IsBroken(string name) => _broken.Contains(name);

    /// <summary>True if anything was taken out, also what has no name.</summary>
    public bool IsPart { get; private set; }

    /// <summary>The names of what was taken out.</summary>
    public IReadOnlySet<string> Broken => _broken;

    /// <summary>
    /// Reads the text and checks it against a shape. What is broken is reported and taken out, so that all else is still looked
    /// into; null if nothing is left that could be.
    /// </summary>
    public YamlMappingNode? Read(string text, Keys shape)
    {
        if (text.Length > MaximumLength)
        {
            Report("file-too-large", 1, 1, $"The file has {text.Length} characters; at most {MaximumLength} are read.");
            return null;
        }
        try
        {
            var stream = new YamlStream();
            stream.Load(new Bounded(new YamlDotNet.Core.Parser(new StringReader(text))));
            if (stream.Documents is not [{ RootNode: YamlMappingNode root }])
            {
                Report("malformed-yaml", 1, 1, "The file must hold one mapping of keys to values.", $"Begin with {shape.Known[0].Name}: …");
                return null;
            }
            return CheckKeys(root, shape, isRoot: true) ? root : null;
        }
        catch (YamlException e)
        {
            Report("malformed-yaml", (int)e.Start.Line, (int)e.Start.Column, $"The file is no YAML: {e.Message}");
            return null;
        }
        catch (Exception e) when (e is InvalidOperationException or ArgumentException)
        {
            // The YAML library breaks in these ways on some unfinished flow mappings, and does not say where.
            Report(
                "malformed-yaml",
                1,
                1,
                "The file is no YAML: a bracket, a brace or a quotation mark is not closed, or a line does not belong where it stands."
            );
            return null;
        }
    }

    /// <summary>How many faults there are so far.</summary>
    public int FaultCount => faults.Count;

    /// <summary>
    /// Of faults that were reported several times from a place on, keeps each once: what is read in several variants is at fault in all of
    /// them.
    /// </summary>
    public void KeepOnce(int from)
    {
        var distinct = faults.Skip(from).Distinct().ToList();
        faults.RemoveRange(from, faults.Count - from);
        faults.AddRange(distinct);
    }

    /// <summary>Reports what is wrong with a node, and takes broken items out of it.</summary>
    /// <returns>True if it can be read on; false if its own form is broken.</returns>
    private bool Check(YamlNode node, Shape shape)
    {
        if (++_nodes > 100_000)
        {
            if (_nodes == 100_001)
                Report("file-too-large", node, "The file has more than 100000 entries.");
            return false;
        }
        var before = _errors;
        switch (shape, node)
        {
            case (Text text, YamlScalarNode scalar):
                if (
                    text.Choices.Count > 0
                    && !text.Choices.Contains(scalar.Value)
                    && !(text.OrParameter && scalar.Value?.StartsWith("param.", StringComparison.Ordinal) == true)
                )
                    Report(
                        "unknown-value",
                        node,
                        $"{scalar.Value} is not possible here.",
                        Nearest.Remedy(scalar.Value ?? "", text.Choices) ?? $"Choose one of {string.Join(", ", text.Choices)}."
                    );
                return _errors == before;
            case (Whole whole, YamlScalarNode scalar):
                if (
                    !int.TryParse(scalar.Value, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number)
                    || number < whole.Minimum
                    || number > whole.Maximum
                )
                    Report("bad-number", node, $"{scalar.Value} is no whole number from {whole.Minimum} to {whole.Maximum}.");
                return _errors == before;
            case (Flag, YamlScalarNode scalar):
                if (scalar.Value is not ("true" or "false"))
                    Report("bad-flag", node, $"{scalar.Value} is neither true nor false.");
                return _errors == before;
            case (ListOf list, YamlSequenceNode sequence):
                foreach (var item in sequence.Children.ToList())
                    if (!Check(item, list.Item))
                    {
                        sequence.Children.Remove(item);
                        TakeOut(item);
                    }
                return true;
            case (MapOf map, YamlMappingNode mapping):
                foreach (var (key, value) in mapping.Children.ToList())
                    if (!CheckEntry(key, value, map))
                    {
                        mapping.Children.Remove(key);
                        TakeOut(value, (key as YamlScalarNode)?.Value);
                    }
                return true;
            case (Keys keys, YamlMappingNode mapping):
                return CheckKeys(mapping, keys);
            case (Either either, _) when either.Shapes.FirstOrDefault(s => Fits(s, node)) is { } fitting:
                return Check(node, fitting);
            default:
                WrongForm(node, shape);
                return false;
        }
    }

    private bool CheckEntry(YamlNode key, YamlNode value, MapOf map)
    {
        if (key is not YamlScalarNode)
        {
            Report("wrong-form", key, "A key is a plain word or text.", "If it holds brackets or braces, put it in quotes.");
            return false;
        }
        var before = _errors;
        if (!map.FromMembers)
            CheckName(key, map.WithParts);
        var isNamed = _errors == before;
        return Check(value, map.Value) && isNamed;
    }

    /// <summary>Remembers the names of what is taken out: its own, and those of tiles, tabs and groups within it.</summary>
    private void TakeOut(YamlNode node, string? name = null)
    {
        IsPart = true;
        if (name is not null)
            _broken.Add(name);
        foreach (
            var named in node
                .AllNodes.Take(10_000)
                .OfType<YamlMappingNode>()
                .SelectMany(m => m.Children)
                .Where(c => c.Key is YamlScalarNode { Value: "tile" or "tab" or "group" } && c.Value is YamlScalarNode)
        )
            _broken.Add(((YamlScalarNode)named.Value).Value ?? "");
    }

    /// <param name="isRoot">True for the file itself, of which a broken part is taken out alone.</param>
    private bool CheckKeys(YamlMappingNode mapping, Keys keys, bool isRoot = false)
    {
        var isSound = true;
        // Of these it is told what is wrong with them; something else may be called as they are.
        var broken = new HashSet<string>();
        foreach (var (key, value) in mapping.Children.ToList())
        {
            var name = (key as YamlScalarNode)?.Value ?? "";
            var known = keys.Known.FirstOrDefault(k => k.Name == name);
            if (known is null)
                Report("unknown-key", key, $"There is no key {name} here.", Nearest.Remedy(name, keys.Known.Select(k => k.Name)));
            else if (Check(value, known.Shape))
                continue;
            mapping.Children.Remove(key);
            if (known is null)
                continue;
            // Without limits or an opening value an item can still be looked into; without what makes it, it can't.
            isSound &= !known.Required && (isRoot || known.Shape is Keys);
            broken.Add(name);
            TakeOut(value, isRoot ? name : null);
        }
        foreach (
            var missing in keys.Known.Where(k =>
                k.Required && !mapping.Children.ContainsKey(new YamlScalarNode(k.Name)) && !(isRoot && broken.Contains(k.Name))
            )
        )
        {
            if (isSound || isRoot)
                Report("missing-key", mapping, $"The key {missing.Name} is missing.", missing.Doc);
            isSound = false;
        }
        return isSound;
    }

    private void CheckName(YamlNode key, bool withParts = false)
    {
        var name = (key as YamlScalarNode)?.Value ?? "";
        if (!(withParts ? name.Split('/', 2) : [name]).All(Shapes.IsName))
            Report("bad-name", key, $"'{name}' can't be a name.", "Use letters, digits, _ and -, a letter first.");
    }

    /// <summary>Checks a name that stands as a value, such as that of a tile.</summary>
    public string Name(YamlNode parent, string key)
    {
        var node = Node(parent, key)!;
        CheckName(node);
        return ((YamlScalarNode)node).Value ?? "";
    }

    private static bool Fits(Shape shape, YamlNode node) =>
        (shape, node) switch
        {
            (Text or Whole or Flag, YamlScalarNode) => true,
            (ListOf, YamlSequenceNode) => true,
            (Keys or MapOf, YamlMappingNode) => true,
            _ => false,
        };

    private void WrongForm(YamlNode node, Shape shape)
    {
        static string Described(Shape s) =>
            s switch
            {
                Text { Choices.Count: > 0 } t => string.Join(" or ", t.Choices),
                Text => "text",
                Whole => "a whole number",
                Flag => "true or false",
                ListOf => "a list",
                Either e => string.Join(", or ", e.Shapes.Select(Described)),
                _ => "a mapping of keys to values",
            };
        var found = node switch
        {
            YamlScalarNode { Value: "" or null } => "nothing",
            YamlScalarNode => "text",
            YamlSequenceNode => "a list",
            _ => "a mapping",
        };
        Report("wrong-form", node, $"{Described(shape)} is needed here; found {found}.");
    }

    public static YamlNode? Node(YamlNode parent, string key) =>
        parent is YamlMappingNode mapping && mapping.Children.TryGetValue(new YamlScalarNode(key), out var node) ? node : null;

    public static string? Value(YamlNode parent, string key) => (Node(parent, key) as YamlScalarNode)?.Value;

    public static int Number(YamlNode parent, string key, int otherwise) =>
        Value(parent, key) is { } value ? int.Parse(value, CultureInfo.InvariantCulture) : otherwise;

    /// <summary>A number with or without decimals; null with a fault if the key holds none, and if it is left out.</summary>
    public double? Decimal(YamlNode parent, string key)
    {
        if (Value(parent, key) is not { } written)
            return null;
        if (double.TryParse(written, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && double.IsFinite(value))
            return value;
        Report("wrong-value", Node(parent, key)!, $"{written} is no number.", "Write, for example, 10 or 0.5.");
        return null;
    }

    public static bool IsSet(YamlNode parent, string key) => Value(parent, key) == "true";

    /// <summary>The items of a list, or the one item that stands without a list.</summary>
    public static IEnumerable<YamlScalarNode> Items(YamlNode? node) =>
        node switch
        {
            YamlScalarNode scalar => [scalar],
            YamlSequenceNode sequence => sequence.OfType<YamlScalarNode>(),
            _ => [],
        };

    public static IEnumerable<YamlNode> List(YamlNode parent, string key) =>
        Node(parent, key) as YamlSequenceNode ?? Enumerable.Empty<YamlNode>();

    public static IEnumerable<(YamlScalarNode Key, YamlNode Value)> Map(YamlNode parent, string key) =>
        (Node(parent, key) as YamlMappingNode)?.Children.Select(c => ((YamlScalarNode)c.Key, c.Value)) ?? [];

    public void Report(string code, YamlNode at, string message, string? remedy = null, Severity severity = Severity.Error) =>
        Add(new Fault(severity, code, File, (int)at.Start.Line, (int)at.Start.Column, message, remedy));

    private void Add(Fault fault)
    {
        Cancellation.ThrowIfCancellationRequested();
        var reported = fault.Severity == Severity.Error ? ++_errors : ++_warnings;
        if (reported < MaximumFaults)
            faults.Add(fault);
        else if (reported == MaximumFaults)
            faults.Add(
                new Fault(
                    fault.Severity,
                    "too-many-faults",
                    File,
                    1,
                    1,
                    $"The file has {MaximumFaults} of these or more; the others are not listed.",
                    "Mend these first."
                )
            );
    }

    private void Report(string code, int line, int column, string message, string? remedy = null) =>
        Add(new Fault(Severity.Error, code, File, Math.Max(1, line), Math.Max(1, column), message, remedy));

    /// <summary>Reports a fault inside a formula at the character where it stands.</summary>
    public void Report(FormulaFault fault, YamlNode formula)
    {
        var quoted = formula is YamlScalarNode { Style: ScalarStyle.SingleQuoted or ScalarStyle.DoubleQuoted } ? 1 : 0;
        var plain = formula is YamlScalarNode { Style: not (ScalarStyle.Literal or ScalarStyle.Folded) };
        Add(
            new Fault(
                Severity.Error,
                fault.Code,
                File,
                (int)formula.Start.Line,
                (int)formula.Start.Column + (plain ? quoted + fault.Span.Start : 0),
                fault.Message,
                fault.Remedy
            )
        );
    }

    /// <summary>A text as it is parsed, ended where it is nested too deep or refers to itself: a small file could unfold into an endless one.</summary>
    private sealed class Bounded(IParser events) : IParser
    {
        private const int Deepest = 32;

        private int _depth;

        public ParsingEvent? Current => events.Current;

        public bool MoveNext()
        {
            if (!events.MoveNext())
                return false;
            var now = events.Current!;
            _depth += now.NestingIncrease;
            if (_depth > Deepest)
                throw new YamlException(now.Start, now.End, "Nested too deep.");
            if (now is AnchorAlias)
                throw new YamlException(now.Start, now.End, "Aliases (*name) are not used in definitions; write the piece out.");
            return true;
        }
    }
}
