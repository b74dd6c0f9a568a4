using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>Reads one dataset: columns, formulas over them, measures, joins.</summary>
internal sealed class DatasetReader
{
    /// <summary>More fields and measures than any dataset needs.</summary>
    private const int MaximumNames = 2_000;

    /// <summary>The most nodes that all formulas may have, written out.</summary>
    private const long MaximumSize = 200_000;

    /// <summary>How many formulas may stand one on the other.</summary>
    private const int MaximumChain = 100;

    private sealed record Pending(YamlNode Node, YamlNode? Formula, bool IsMeasure);

    private readonly YamlText _text;
    private readonly Dictionary<string, Pending> _pending = [];
    private readonly Dictionary<string, (Bound? Bound, HashSet<string> Uses)> _done = [];
    private readonly Stack<string> _open = new();
    private readonly Dictionary<string, FieldQuality> _quality = [];
    private readonly List<Bound> _present = [];
    private readonly Dictionary<string, Dictionary<object, string>> _names = [];
    private readonly IReadOnlyDictionary<string, Parameter> _parameters;
    private readonly DatasetRows _from;
    private readonly HashSet<string> _tables;
    private readonly YamlMappingNode _root;

    private readonly IReadOnlyDictionary<string, Source> _sources;
    private readonly SqlLexis _lexis;

    private readonly IReadOnlySet<string> _brokenSources;

    private DatasetReader(
        YamlText text,
        YamlMappingNode root,
        IReadOnlyDictionary<string, Source> sources,
        IReadOnlySet<string> brokenSources
    )
    {
        _brokenSources = brokenSources;
        _text = text;
        _root = root;
        _sources = sources;
        _lexis = new SqlLexis(sources.GetValueOrDefault(YamlText.Value(root, "source") ?? "")?.Engine ?? "");
        _parameters = ParameterReader.Read(text, root, _lexis);
        _from = ReadFrom();
        _tables = [_from.Alias, .. YamlText.List(root, "joins").Select(j => Joined(j).Alias)];
    }

    /// <param name="brokenSources">The sources whose files can't be read: whoever names one has no fault for that.</param>
    public static Dataset Read(
        YamlText text,
        YamlMappingNode root,
        IReadOnlyDictionary<string, Source> sources,
        IReadOnlySet<string> brokenSources
    ) => new DatasetReader(text, root, sources, brokenSources).Read();

    private Bound.Parameter? ParameterNamed(string name) =>
        _parameters.GetValueOrDefault(name)?.Bound ?? (_text.IsBroken(name) ? new Bound.Parameter(name, false, ValueKind.Null) : null);

    private DatasetRows ReadFrom()
    {
        var (table, query) = (YamlText.Node(_root, "from"), YamlText.Node(_root, "query") as YamlScalarNode);
        if (table is not null == query is not null && !_text.IsBroken("from") && !_text.IsBroken("query"))
            _text.Report(
                table is null ? "missing-key" : "table-and-query",
                query ?? YamlText.Node(_root, "dataset")!,
                "A dataset has its rows from a table or from a query.",
                table is null ? "Add from: table." : "Keep one of from and query."
            );
        var alias = YamlText.Value(_root, "as");
        return query is null
            ? DatasetRows.Table.Parse(YamlText.Value(_root, "from") ?? "rows", alias)
            : new DatasetRows.Query(ReadQuery(query) ?? new QueryText([]), alias ?? "rows");
    }

    private QueryText? ReadQuery(YamlScalarNode node)
    {
        var (query, fault) = QueryTextReader.Read(node.Value!, _lexis, ParameterNamed, [.. _parameters.Keys]);
        if (fault is not null)
            _text.Report(fault, node);
        return query;
    }

    private Freshness ReadFreshness()
    {
        if (YamlText.Node(_root, "freshness") is not { } node)
            return new Freshness(300, null);
        return new Freshness(
            YamlText.Number(node, "seconds", 300),
            YamlText.Node(node, "query") is YamlScalarNode query ? ReadQuery(query) : null
        );
    }

    private Dataset Read()
    {
        var name = _text.Name(_root, "dataset");
        var source = YamlText.Value(_root, "source")!;
        if (!_sources.ContainsKey(source) && !_brokenSources.Contains(source))
            _text.Report(
                "unknown-source",
                YamlText.Node(_root, "source")!,
                $"There is no source {source}.",
                Nearest.Remedy(source, _sources.Keys)
            );
        ReadNames();
        var (fields, measures) = ReadFormulas();
        foreach (var (id, pending) in _pending)
            if (pending.Formula is YamlScalarNode formula)
                CodeChecks.Warn(_text, formula, _done.GetValueOrDefault(id).Bound, fields.Values);
        foreach (var key in (ReadOnlySpan<string>)["filter", "totals"])
            if (YamlText.Node(_root, key) is YamlScalarNode condition)
                CodeChecks.Warn(_text, condition, ReadCondition(key), fields.Values);
        return new Dataset(
            name,
            YamlText.Value(_root, "title") ?? Titles.FromName(name),
            YamlText.Value(_root, "description"),
            source,
            _from,
            [.. YamlText.List(_root, "joins").Select(ReadJoin).OfType<Join>()],
            fields,
            measures,
            Join([ReadCondition("filter"), .. _present])
        )
        {
            Parameters = _parameters,
            Faulty = _pending.Keys.Where(id => !fields.ContainsKey(id) && !measures.ContainsKey(id)).Concat(_text.Broken).ToHashSet(),
            Totals = ReadCondition("totals"),
            Freshness = ReadFreshness(),
            HasPercentiles = HasPercentiles,
        };
    }

    /// <summary>Which fields and measures there are; each is read once it is needed.</summary>
    private void ReadNames()
    {
        foreach (var (key, value) in YamlText.Map(_root, "fields"))
            _pending[key.Value!] = new Pending(value, YamlText.Node(value, "formula"), IsMeasure: false);
        foreach (var (key, value) in YamlText.Map(_root, "measures"))
            if (!_pending.TryAdd(key.Value!, new Pending(value, YamlText.Node(value, "formula"), IsMeasure: true)))
                _text.Report("name-taken", key, $"{key.Value} is a field already; a measure needs a name of its own.");

        if (_pending.Count > MaximumNames)
        {
            _text.Report(
                "too-many-fields",
                YamlText.Node(_root, "dataset")!,
                $"The dataset has {_pending.Count} fields and measures; at most {MaximumNames} are read."
            );
            _pending.Clear();
        }
    }

    private (Dictionary<string, Field> Fields, Dictionary<string, Measure> Measures) ReadFormulas()
    {
        var fields = new Dictionary<string, Field>();
        var measures = new Dictionary<string, Measure>();
        var size = 0L;
        foreach (var (id, pending) in _pending)
        {
            _text.Cancellation.ThrowIfCancellationRequested();
            var bound = Resolve(id);
            if (bound is null)
                continue;
            if ((size += bound.Size) > MaximumSize)
            {
                _text.Report(
                    "formula-too-large",
                    pending.Node,
                    "The formulas of the dataset, with all that their names stand for, are larger than any database would take.",
                    "Build them on fewer others."
                );
                break;
            }
            CheckEngine(pending, bound);
            if (pending.IsMeasure)
                measures[id] = ReadMeasure(id, pending, bound);
            else
                fields[id] = ReadField(id, pending, bound);
        }
        return (fields, measures);
    }

    private bool HasPercentiles => _lexis.Engine != "sqlserver";

    private void CheckEngine(Pending pending, Bound bound)
    {
        if (!HasPercentiles && bound.All().OfType<Bound.Aggregate>().Any(a => a.Function == AggregateFunction.Percentile))
            _text.Report(
                "not-on-engine",
                YamlText.Node(pending.Node, "formula")!,
                "SQL Server has no median or percentile that goes with grouping.",
                "Use avg, min or max."
            );
    }

    private static (string Title, string? Description) TitleOf(string id, Pending pending) =>
        (YamlText.Value(pending.Node, "title") ?? Titles.FromName(id), YamlText.Value(pending.Node, "description"));

    private Measure ReadMeasure(string id, Pending pending, Bound bound)
    {
        var (title, description) = TitleOf(id, pending);
        var (format, patterns) = ReadFormat(pending.Node, bound.Kind);
        return new Measure(id, title, description, bound, YamlText.Value(pending.Node, "formula")!, format, _done[id].Uses)
        {
            Patterns = patterns,
        };
    }

    private Field ReadField(string id, Pending pending, Bound bound)
    {
        var (title, description) = TitleOf(id, pending);
        var (format, patterns) = ReadFormat(pending.Node, bound.Kind);
        return ReadSettings(
            pending.Node,
            new Field(id, title, description, bound, format, YamlText.Value(pending.Node, "concept"), _done[id].Uses)
            {
                Line = (int)pending.Node.Start.Line,
                Patterns = patterns,
                ReadFrom =
                    pending.Formula is null && YamlText.Node(pending.Node, "column") is YamlScalarNode column
                        ? ColumnAt(column, ValueKinds.Parse(YamlText.Value(pending.Node, "type") ?? "text")!.Value)
                        : null,
            }
        );
    }

    /// <summary>How values are written: numbers by one format, dates by a pattern, or by one for each grain.</summary>
    private (string? Format, IReadOnlyDictionary<string, Results.DatePattern> Patterns) ReadFormat(YamlNode node, ValueKind kind)
    {
        var patterns = new Dictionary<string, Results.DatePattern>();
        void Pattern(string grain, YamlScalarNode at)
        {
            if (Results.DatePattern.Parse(at.Value!) is { } pattern)
                patterns[grain] = pattern;
            else
                _text.Report("bad-format", at, $"{at.Value} is no pattern of a date.", Results.DatePattern.Help);
        }
        switch (YamlText.Node(node, "format"))
        {
            case YamlScalarNode at when kind.IsTemporal():
                Pattern("", at);
                // A day is the date itself.
                if (patterns.TryGetValue("", out var whole))
                    patterns["day"] = whole;
                break;
            case YamlScalarNode at when Results.Format.Parse(at.Value!) is null:
                _text.Report(
                    "bad-format",
                    at,
                    $"{at.Value} is no format.",
                    "Use integer, decimal, percent, money, or a pattern such as \"0.0 min\"."
                );
                break;
            case YamlScalarNode at:
                return (at.Value, patterns);
            case YamlMappingNode map when !kind.IsTemporal():
                _text.Report(
                    "bad-format",
                    map,
                    $"Only dates are written differently by grain; this is {kind.Name()}.",
                    "Write one format."
                );
                break;
            case YamlMappingNode:
                foreach (var (grain, pattern) in YamlText.Map(node, "format"))
                    if (Calendar.ParseGrain(grain.Value!) is null || grain.Value != grain.Value!.ToLowerInvariant())
                        _text.Report(
                            "unknown-grain",
                            grain,
                            $"{grain.Value} is no grain of a date.",
                            Nearest.Remedy(grain.Value!, Enum.GetNames<DateGrain>().Select(n => n.ToLowerInvariant()))
                        );
                    else if (pattern is YamlScalarNode written)
                        Pattern(grain.Value!, written);
                break;
        }
        return (null, patterns);
    }

    private static Bound? Join(IEnumerable<Bound?> conditions) =>
        conditions.OfType<Bound>().ToList() is { Count: > 0 } all ? Bound.All(all) : null;

    private Bound? ReadCondition(string key)
    {
        if (YamlText.Node(_root, key) is not YamlScalarNode node)
            return null;
        var (bound, fault) = Binder.Bind(node.Value!, RowName, RowNames(), parameters: ParameterNamed);
        return Condition(bound, fault, node);
    }

    private Field ReadSettings(YamlNode node, Field field)
    {
        var names = _names.GetValueOrDefault(field.Name) ?? [];
        IReadOnlyList<object>? order = YamlText.Node(node, "order") switch
        {
            YamlScalarNode { Value: "months" } => Titles.Months,
            YamlScalarNode { Value: "days" } => Titles.Days,
            YamlSequenceNode list => [.. YamlText.Items(list).Select(i => Member(i, field, names)).OfType<object>()],
            _ => null,
        };
        if (order is not null && field.Kind != ValueKind.Text && names.Count == 0 && YamlText.Node(node, "named_by") is null)
            _text.Report(
                "type-mismatch",
                YamlText.Node(node, "order")!,
                $"{field.Name} is {field.Kind.Name()}; only texts and codes with names are put in an order of their own."
            );
        var colours = new Dictionary<string, string>();
        foreach (var (member, colour) in YamlText.Map(node, "colours"))
        {
            _ = Member(member, field, names);
            if (colour is YamlScalarNode { Value: { Length: 7 } hex } && hex[0] == '#' && hex.Skip(1).All(char.IsAsciiHexDigit))
                colours[member.Value!] = hex;
            else
                _text.Report("bad-colour", colour, "A colour is # and six hexadecimal digits.", "For example \"#0F6E6E\".");
        }
        var namedBy = YamlText.Node(node, "named_by") is YamlScalarNode by ? ColumnAt(by, ValueKind.Text) : null;
        if (namedBy is not null && names.Count > 0)
            _text.Report(
                "names-twice",
                YamlText.Node(node, "named_by")!,
                $"{field.Name} has its names from a list and from a column.",
                "Keep one of names and named_by."
            );
        return field with
        {
            NamedBy = namedBy,
            Unit = YamlText.Value(node, "unit"),
            Order = order,
            Colours = colours,
            Names = names,
            Quality = _quality.GetValueOrDefault(field.Name, new FieldQuality(null, null, null)),
        };
    }

    /// <summary>A member as it is named in a setting of its field: by its value; a name in its place is hardly meant.</summary>
    private object? Member(YamlScalarNode at, Field field, Dictionary<object, string> names)
    {
        var value = Values.Parse(at.Value!, field.Kind);
        if (
            names.Count > 0
            && (value is null || !names.ContainsKey(value))
            && names.Where(n => n.Value == at.Value).Select(n => Values.Write(n.Key)).FirstOrDefault() is { } code
        )
            _text.Report(
                "name-for-code",
                at,
                $"{at.Value} is the name of a code of {field.Name}; members are meant by their codes.",
                $"Write {code}.",
                Severity.Warning
            );
        else if (value is null)
            _text.Report(
                "type-mismatch",
                at,
                $"{at.Value} is not {field.Kind.Name()}, which {field.Name} is.",
                severity: names.Count > 0 ? Severity.Error : Severity.Warning
            );
        return value;
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

    private Bound? RowName(string name) =>
        _pending.TryGetValue(name, out var p) && !p.IsMeasure ? Resolve(name) ?? Broken()
        : _text.IsBroken(name) ? Broken()
        : null;

    // A field with a fault of its own must not cause a second one where it is used.
    private static Bound.Literal Broken() => new(null, ValueKind.Null);

    private Bound? Resolve(string id)
    {
        if (_done.TryGetValue(id, out var done))
            return done.Bound;
        var pending = _pending[id];
        if (_open.Contains(id))
            throw new FormulaException(
                new(
                    "circular-formula",
                    new Span(0, 0),
                    $"The formula of {id} needs {id} itself: {string.Join(" → ", _open.Reverse().SkipWhile(o => o != id).Append(id))}."
                )
            );
        if (_open.Count >= MaximumChain)
            throw new FormulaException(
                new(
                    "formula-chain",
                    new Span(0, 0),
                    $"More than {MaximumChain} formulas stand one on the other here.",
                    "Build them on columns sooner."
                )
            );
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
                return _text.IsBroken(name) ? Broken() : null;
            var found = Resolve(name);
            uses.Add(name);
            uses.UnionWith(_done[name].Uses);
            return found ?? Broken();
        }
        var (bound, fault) = Binder.Bind(
            formula.Value!,
            Use,
            [.. _pending.Keys],
            allowAggregates: pending.IsMeasure,
            parameters: ParameterNamed
        );
        if (fault is not null)
        {
            _text.Report(fault, formula);
            return null;
        }
        if (pending.IsMeasure && !bound!.HasAggregate)
            _text.Report("no-aggregate", formula, $"The measure {id} is no value over many rows.", "Use sum, count, avg, min or max.");
        var stated = YamlText.Value(pending.Node, "type");
        if (stated is not null && bound!.Kind != ValueKind.Null && bound.Kind.Name() != stated)
            _text.Report(
                "type-mismatch",
                YamlText.Node(pending.Node, "type")!,
                $"The formula of {id} is {bound.Kind.Name()}, not {stated}.",
                $"Leave type out, or use CAST(… AS {stated})."
            );
        return pending.IsMeasure ? bound : Settled(id, pending.Node, bound!);
    }

    private Bound? ReadColumn(string id, YamlNode node)
    {
        if (YamlText.Node(node, "column") is not YamlScalarNode column)
        {
            _text.Report("missing-key", node, $"The field {id} has neither a column nor a formula.", "Add column: table.column.");
            return null;
        }
        var kind = ValueKinds.Parse(YamlText.Value(node, "type") ?? "text")!.Value;
        var read = ColumnAt(column, kind);
        return Settled(id, node, YamlText.Node(node, "unfit") is { } unfit ? ReadUnfit(id, unfit, read) : read);
    }

    /// <summary>A column as it is written: table.column, or column of the first table.</summary>
    private Bound.Column ColumnAt(YamlScalarNode node, ValueKind kind)
    {
        var written = FieldAt.Parse(node.Value!);
        if (
            written.Member is not null
            && !_tables.Contains(written.Field)
            && !_text.IsBroken("from")
            && !_text.IsBroken("joins")
            && !_text.IsBroken("query")
        )
            _text.Report(
                "unknown-table",
                node,
                $"{written.Field} is neither the table after from nor a joined one.",
                Nearest.Remedy(written.Field, _tables)
            );
        return written.Member is null ? new(_from.Alias, written.Field, kind) : new(written.Field, written.Member, kind);
    }

    /// <summary>A column that holds text read as the type of the field, with what stands for texts that do not fit.</summary>
    private Bound ReadUnfit(string id, YamlNode unfit, Bound.Column column)
    {
        var kind = column.Kind;
        // As text whatever type the column has: one that is a number already is read as one all the same.
        var text = new Bound.Op(Operation.Cast, ValueKind.Text, column with { Kind = ValueKind.Text });
        Bound read = kind == ValueKind.Text ? text : new Bound.Op(Operation.Convert, kind, text);
        var isUnfit = Bound.All([
            IsNull(read),
            new Bound.Op(Operation.Not, ValueKind.Boolean, IsNull(text)),
            new Bound.Op(
                Operation.NotEqual,
                ValueKind.Boolean,
                new Bound.Op(Operation.Trim, ValueKind.Text, text),
                new Bound.Literal("", ValueKind.Text)
            ),
        ]);
        _quality[id] = new FieldQuality(isUnfit, null, null);
        if (FillOf(unfit, kind) is { } fill)
            read = new Bound.Op(Operation.Case, kind, isUnfit, fill, read);
        return read;
    }

    private static Bound.Op IsNull(Bound bound) => new(Operation.IsNull, ValueKind.Boolean, bound);

    private Bound.Literal? FillOf(YamlNode node, ValueKind kind)
    {
        if (YamlText.Node(node, "fill") is not YamlScalarNode { Value: { } written } at)
            return null;
        if (Values.Parse(written, kind) is { } value)
            return new Bound.Literal(value, kind);
        _text.Report("type-mismatch", at, $"{written} is not {kind.Name()}, which the field is.");
        return null;
    }

    /// <summary>The field with its rules for codes and for missing values.</summary>
    private Bound Settled(string id, YamlNode node, Bound bound)
    {
        var quality = _quality.GetValueOrDefault(id, new FieldQuality(null, null, null));
        var names = new Dictionary<object, string>();
        foreach (var (key, name) in YamlText.Map(node, "names"))
            if (Values.Parse(key.Value!, bound.Kind) is { } value)
                names[value] = ((YamlScalarNode)name).Value ?? "";
            else
                _text.Report("type-mismatch", key, $"{key.Value} is not {bound.Kind.Name()}, which the field is.");
        if (names.Count > 0)
        {
            var named = new Bound.Op(Operation.In, ValueKind.Boolean, [bound, .. names.Keys.Select(c => new Bound.Literal(c, bound.Kind))]);
            quality = quality with
            {
                Unmatched = Bound.All([
                    new Bound.Op(Operation.Not, ValueKind.Boolean, named),
                    new Bound.Op(Operation.Not, ValueKind.Boolean, IsNull(bound)),
                ]),
            };
            _names[id] = names;
        }
        var missing = YamlText.Node(node, "missing");
        quality = quality with { Missing = IsNull(bound) };
        _quality[id] = quality;
        if (missing is YamlScalarNode { Value: "leave_out" })
            _present.Add(new Bound.Op(Operation.Not, ValueKind.Boolean, IsNull(bound)));
        if (missing is not null && FillOf(missing, bound.Kind) is { } fill)
            bound = new Bound.Op(Operation.Coalesce, bound.Kind, bound, fill);
        return bound;
    }

    private Join? ReadJoin(YamlNode join)
    {
        var joined = Joined(join);
        var table = joined.Alias;
        if (YamlText.Node(join, "source") is YamlScalarNode source && source.Value != YamlText.Value(_root, "source"))
        {
            _text.Report(
                "other-source",
                source,
                $"The table {joined.Name} is of the source {source.Value}, and the dataset's rows are of {YamlText.Value(_root, "source")}: "
                    + "tables of two sources are not joined, since one of them would have to be brought here whole for every question.",
                "Bring a copy of the table into the dataset's source; let one source reach both, as a view or a folder of files does; give codes "
                    + "their names in the definition (names:); or make a second dataset, and link both by a concept."
            );
            return null;
        }
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
            _text.Report(
                "bad-join",
                node,
                "A join compares keys: table.column = table.column, several with AND, one side of each in the joined table."
            );
            return null;
        }
        return new Join(joined, on) { Line = (int)join.Start.Line };
    }

    private static DatasetRows.Table Joined(YamlNode join) =>
        DatasetRows.Table.Parse(YamlText.Value(join, "table")!, YamlText.Value(join, "as"));

    /// <summary>The type of a key column, as far as a field tells it: engines compare texts in ways of their own.</summary>
    private ValueKind KindOf(string table, string column) =>
        _done.Values.Select(d => d.Bound).OfType<Bound.Column>().FirstOrDefault(c => c.Table == table && c.Name == column)?.Kind
        ?? ValueKind.Null;

    private bool ReadKey(Expr expr, string table, List<(Bound.Column, Bound.Column)> on)
    {
        switch (expr)
        {
            case Expr.Binary { Operator: "and" } both:
                return ReadKey(both.Left, table, on) && ReadKey(both.Right, table, on);
            case Expr.Binary { Operator: "=", Left: Expr.Name { Member: not null } left, Right: Expr.Name { Member: not null } right }
                when _tables.Contains(left.Id) && _tables.Contains(right.Id) && left.Id == table != (right.Id == table):
                var (own, other) = left.Id == table ? (left, right) : (right, left);
                var (otherKind, ownKind) = (KindOf(other.Id, other.Member!), KindOf(own.Id, own.Member!));
                on.Add(
                    (
                        new Bound.Column(other.Id, other.Member!, otherKind == ValueKind.Null ? ownKind : otherKind),
                        new Bound.Column(own.Id, own.Member!, ownKind == ValueKind.Null ? otherKind : ownKind)
                    )
                );
                return true;
            default:
                return false;
        }
    }
}
