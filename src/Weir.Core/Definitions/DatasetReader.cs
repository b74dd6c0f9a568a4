using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>Reads one dataset: columns, formulas over them, measures, joins.</summary>
internal sealed class DatasetReader
{
    private sealed record Pending(YamlNode Node, YamlNode? Formula, bool IsMeasure);

    private readonly YamlText _text;
    private readonly Dictionary<string, Pending> _pending = [];
    private readonly Dictionary<string, (Bound? Bound, HashSet<string> Uses)> _done = [];
    private readonly Stack<string> _open = new();
    private readonly string _from;
    private readonly HashSet<string> _tables;
    private readonly YamlMappingNode _root;

    private DatasetReader(YamlText text, YamlMappingNode root)
    {
        _text = text;
        _root = root;
        _from = YamlText.Value(root, "from")!;
        _tables = [_from, .. YamlText.List(root, "joins").Select(j => YamlText.Value(j, "table")!)];
    }

    public static Dataset Read(YamlText text, YamlMappingNode root, IReadOnlyDictionary<string, Source> sources) => new DatasetReader(text, root).Read(sources);

    private Dataset Read(IReadOnlyDictionary<string, Source> sources)
    {
        var name = _text.Name(_root, "dataset");
        var source = YamlText.Value(_root, "source")!;
        if (!sources.ContainsKey(source))
            _text.Report("unknown-source", YamlText.Node(_root, "source")!, $"There is no source {source}.", Nearest.Remedy(source, sources.Keys));
        foreach (var (key, value) in YamlText.Map(_root, "fields"))
            _pending[key.Value!] = new Pending(value, YamlText.Node(value, "formula"), IsMeasure: false);
        foreach (var (key, value) in YamlText.Map(_root, "measures"))
            if (!_pending.TryAdd(key.Value!, new Pending(value, YamlText.Node(value, "formula"), IsMeasure: true)))
                _text.Report("name-taken", key, $"{key.Value} is a field already; a measure needs a name of its own.");

        var fields = new Dictionary<string, Field>();
        var measures = new Dictionary<string, Measure>();
        foreach (var (id, pending) in _pending)
        {
            var bound = Resolve(id);
            if (bound is null)
                continue;
            var title = YamlText.Value(pending.Node, "title") ?? Titles.FromName(id);
            var description = YamlText.Value(pending.Node, "description");
            var format = YamlText.Value(pending.Node, "format");
            if (format is not null && Results.Format.Parse(format) is null)
                _text.Report("bad-format", YamlText.Node(pending.Node, "format")!, $"{format} is no format.", "Use integer, decimal, percent, money, or a pattern such as \"0.0 min\".");
            if (pending.IsMeasure)
                measures[id] = new Measure(id, title, description, bound, YamlText.Value(pending.Node, "formula")!, format, _done[id].Uses);
            else
                fields[id] = new Field(id, title, description, bound, format, YamlText.Value(pending.Node, "concept"), _done[id].Uses);
        }
        return new Dataset(
            name, YamlText.Value(_root, "title") ?? Titles.FromName(name), YamlText.Value(_root, "description"), source, _from,
            [.. YamlText.List(_root, "joins").Select(ReadJoin).OfType<Join>()], fields, measures, ReadFilter());
    }

    private Bound? ReadFilter()
    {
        if (YamlText.Node(_root, "filter") is not YamlScalarNode node)
            return null;
        var (bound, fault) = Binder.Bind(node.Value!, RowName, RowNames());
        return Condition(bound, fault, node);
    }

    private Bound? Condition(Bound? bound, FormulaFault? fault, YamlScalarNode node)
    {
        if (fault is not null)
            _text.Report(fault, node);
        else if (bound!.Kind != ValueKind.Boolean)
            _text.Report("type-mismatch", node, $"A condition is needed here; this is {bound.Kind.Name()}.");
        return bound;
    }

    private List<string> RowNames() => [.. _pending.Where(p => !p.Value.IsMeasure).Select(p => p.Key)];

    private Bound? RowName(string name) => _pending.TryGetValue(name, out var p) && !p.IsMeasure ? Resolve(name) ?? Broken() : null;

    // A field with a fault of its own must not cause a second one where it is used.
    private static Bound.Literal Broken() => new(null, ValueKind.Null);

    private Bound? Resolve(string id)
    {
        if (_done.TryGetValue(id, out var done))
            return done.Bound;
        var pending = _pending[id];
        if (_open.Contains(id))
            throw new FormulaException(new("circular-formula", new Span(0, 0), $"The formula of {id} needs {id} itself: {string.Join(" → ", _open.Reverse().SkipWhile(o => o != id).Append(id))}."));
        _open.Push(id);
        var uses = new HashSet<string>();
        var bound = pending.Formula is YamlScalarNode formula ? BindFormula(id, pending, formula, uses) : ReadColumn(id, pending.Node);
        _open.Pop();
        _done[id] = (bound, uses);
        return bound;
    }

    private Bound? BindFormula(string id, Pending pending, YamlScalarNode formula, HashSet<string> uses)
    {
        if (YamlText.Node(pending.Node, "column") is { } column)
            _text.Report("column-and-formula", column, $"{id} has both a column and a formula.", "Keep one of them.");
        Bound? Use(string name)
        {
            if (!_pending.ContainsKey(name))
                return null;
            var found = Resolve(name);
            uses.Add(name);
            uses.UnionWith(_done[name].Uses);
            return found ?? Broken();
        }
        var (bound, fault) = Binder.Bind(formula.Value!, Use, [.. _pending.Keys], allowAggregates: pending.IsMeasure);
        if (fault is not null)
        {
            _text.Report(fault, formula);
            return null;
        }
        if (pending.IsMeasure && !bound!.HasAggregate)
            _text.Report("no-aggregate", formula, $"The measure {id} is no value over many rows.", "Use sum, count, avg, min or max.");
        var stated = YamlText.Value(pending.Node, "type");
        if (stated is not null && bound!.Kind != ValueKind.Null && bound.Kind.Name() != stated)
            _text.Report("type-mismatch", YamlText.Node(pending.Node, "type")!, $"The formula of {id} is {bound.Kind.Name()}, not {stated}.", $"Leave type out, or use CAST(… AS {stated}).");
        return bound;
    }

    private Bound.Column? ReadColumn(string id, YamlNode node)
    {
        if (YamlText.Node(node, "column") is not YamlScalarNode column)
        {
            _text.Report("missing-key", node, $"The field {id} has neither a column nor a formula.", "Add column: table.column.");
            return null;
        }
        var kind = ValueKinds.Parse(YamlText.Value(node, "type") ?? "text")!.Value;
        var written = FieldAt.Parse(column.Value!);
        if (written.Member is null)
            return new Bound.Column(_from, written.Field, kind);
        if (!_tables.Contains(written.Field))
            _text.Report("unknown-table", column, $"{written.Field} is neither the table after from nor a joined one.", Nearest.Remedy(written.Field, _tables));
        return new Bound.Column(written.Field, written.Member, kind);
    }

    private Join? ReadJoin(YamlNode join)
    {
        var table = YamlText.Value(join, "table")!;
        var node = (YamlScalarNode)YamlText.Node(join, "on")!;
        var (expr, fault) = Expressions.Parser.Parse(node.Value!);
        if (fault is not null)
        {
            _text.Report(fault, node);
            return null;
        }
        var on = new List<(Bound.Column, Bound.Column)>();
        if (!ReadKey(expr!, table, on))
        {
            _text.Report("bad-join", node, "A join compares keys: table.column = table.column, several with AND, one side of each in the joined table.");
            return null;
        }
        return new Join(table, on);
    }

    private bool ReadKey(Expr expr, string table, List<(Bound.Column, Bound.Column)> on)
    {
        switch (expr)
        {
            case Expr.Binary { Operator: "and" } both:
                return ReadKey(both.Left, table, on) && ReadKey(both.Right, table, on);
            case Expr.Binary { Operator: "=", Left: Expr.Name { Member: not null } left, Right: Expr.Name { Member: not null } right }
                when _tables.Contains(left.Id) && _tables.Contains(right.Id) && left.Id == table != (right.Id == table):
                var (own, other) = left.Id == table ? (left, right) : (right, left);
                on.Add((new Bound.Column(other.Id, other.Member!, ValueKind.Null), new Bound.Column(own.Id, own.Member!, ValueKind.Null)));
                return true;
            default:
                return false;
        }
    }
}
