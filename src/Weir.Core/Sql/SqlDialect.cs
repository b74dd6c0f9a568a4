using System.Globalization;
using System.Text;
using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Sql;

/// <summary>A SQL text and the values of its parameters, in order; values never stand in the text.</summary>
public sealed record SqlText(string Text, IReadOnlyList<SqlParameter> Parameters)
{
    /// <summary>The SQL in it that a developer typed, which the engine is made to look at before it runs; null if Weir wrote all of it.</summary>
    public string? Typed { get; init; }
}

/// <summary>A value handed to the database beside the text.</summary>
public sealed record SqlParameter(object? Value, ValueKind Kind)
{
    /// <summary>What the value is that an earlier answer will give; null if it is there. A statement with such a parameter is for reading only.</summary>
    public string? Open { get; init; }
}

/// <summary>
/// Prints SQL trees for one kind of database. What standard SQL says is printed here; an engine overrides where it differs.
/// Where engines differ in meaning, the print must bring about Weir's meaning, which <see cref="Evaluator"/> has.
/// </summary>
public abstract class SqlDialect(DayOfWeek weekStart)
{
    /// <summary>The first day of the workspace's week.</summary>
    protected DayOfWeek WeekStart { get; } = weekStart;

    /// <summary>The SQL text of a tree.</summary>
    public SqlText Print(SelectTree tree)
    {
        var writer = new Writer(this);
        writer.Tree(tree);
        return new SqlText(writer.Text.ToString(), writer.Parameters) { Typed = writer.Typed };
    }

    /// <summary>The mark of the parameter with a number from 1 that is not given a type.</summary>
    public abstract string BareMark(int number);

    /// <summary>An identifier with quotation marks, so that any name is safe.</summary>
    public virtual string Quote(string identifier) => $"\"{identifier.Replace("\"", "\"\"")}\"";

    /// <summary>True if a condition can stand where a value is wanted, and a boolean value where a condition is.</summary>
    protected virtual bool HasBooleans => true;

    /// <summary>True if GROUP BY can name the columns by number.</summary>
    protected virtual bool GroupsByNumber => true;

    /// <summary>True if an aggregate can have a FILTER of its own.</summary>
    protected virtual bool HasFilter => true;

    /// <summary>True if the engine reads columns of whole tables much faster than it groups by several of them.</summary>
    public virtual bool ScansAreCheap => false;

    /// <summary>The mark of a parameter, with its type where the engine would guess another.</summary>
    protected abstract string ParameterMark(int number, SqlParameter parameter);

    /// <summary>The name of a type in CAST.</summary>
    protected abstract string TypeName(ValueKind kind);

    /// <summary>The first instant of a period.</summary>
    protected abstract string Grain(string date, DateGrain grain);

    /// <summary>A place within a longer period, as a whole number; days of the week from 1 (Monday) to 7.</summary>
    protected abstract string Part(string date, DatePart part);

    /// <summary>A column of a table as a value of its kind: engines compare texts in ways of their own.</summary>
    protected virtual string Column(string column, ValueKind kind) => column;

    /// <summary>A value where its order counts: comparisons, sorting, least and greatest.</summary>
    protected virtual string Ordered(string value, ValueKind kind) => value;

    /// <summary>A whole number that must not overflow at 32 bits in arithmetic.</summary>
    protected virtual string Widened(string value, ValueKind kind) =>
        kind == ValueKind.Integer ? $"CAST({value} AS {TypeName(kind)})" : value;

    /// <summary>An order in which missing values come last.</summary>
    protected virtual string OrderKey(string value, bool descending) => $"{value}{(descending ? " DESC" : "")} NULLS LAST";

    /// <summary>Equal, or both null.</summary>
    protected virtual string Same(string left, string right) => $"{left} IS NOT DISTINCT FROM {right}";

    /// <summary>A comparison of keys for a join; may add what lets the engine use an index.</summary>
    protected virtual string KeyEquals(string left, string right, ValueKind kind) => $"({Column(left, kind)} = {Column(right, kind)})";

    /// <summary>Like a pattern of % and _; no character escapes another.</summary>
    protected virtual string Like(string text, string pattern) => $"({text} LIKE {pattern})";

    /// <summary>Texts one after the other; null if one is.</summary>
    protected virtual string Concatenate(string left, string right) => $"({left} || {right})";

    /// <summary>A quotient as a floating-point number, null for a zero divisor.</summary>
    protected virtual string Divide(string left, string right) =>
        $"(CAST({left} AS {TypeName(ValueKind.Float)}) / NULLIF(CAST({right} AS {TypeName(ValueKind.Float)}), 0))";

    /// <summary>A sum, difference or product.</summary>
    protected virtual string Arithmetic(string sign, string left, string right, ValueKind kind) => $"({left} {sign} {right})";

    /// <summary>A comparison by one of = &lt;&gt; &lt; &lt;= &gt; &gt;=, of two values of which <paramref name="kind"/> can hold both.</summary>
    protected virtual string Compare(string sign, string left, string right, ValueKind kind) =>
        sign is "=" or "<>" ? $"({left} {sign} {right})" : $"({Ordered(left, kind)} {sign} {Ordered(right, kind)})";

    /// <summary>Equal to one of several values.</summary>
    protected virtual string In(string value, IReadOnlyList<string> items, ValueKind kind) =>
        JoinsLists && items.Count > LongList
            ? $"({value} IN (VALUES {string.Join(", ", items.Select(i => $"({i})"))}))"
            : $"({value} IN ({string.Join(", ", items)}))";

    /// <summary>A longer list is handed over as rows to join with, not as so many comparisons for each row.</summary>
    private const int LongList = 64;

    /// <summary>
    /// True if the engine joins with rows that are written out, and compares with each item of a list otherwise. Not so MariaDB, which
    /// sorts the list and looks each value up in it: measured with 1,000 members over a million rows, the list takes no longer than no
    /// condition at all, and the join two hundred times as long. SQL Server makes a table of a list of more than 64 by itself.
    /// </summary>
    protected virtual bool JoinsLists => false;

    /// <summary>A conversion of type.</summary>
    protected virtual string Cast(string value, ValueKind from, ValueKind to) => $"CAST({value} AS {TypeName(to)})";

    /// <summary>The functions that engines call by other names.</summary>
    /// <param name="node">The call, for the types and fixed arguments.</param>
    /// <param name="a">The printed arguments.</param>
    protected abstract string Call(Bound.Op node, IReadOnlyList<string> a);

    /// <summary>A value at a fraction of the sorted values of a group, between two of them in proportion.</summary>
    protected virtual string Percentile(string argument, double fraction, string? filter) =>
        Filtered(
            $"percentile_cont({fraction.ToString(System.Globalization.CultureInfo.InvariantCulture)}) WITHIN GROUP (ORDER BY "
                + $"CAST({argument} AS {TypeName(ValueKind.Float)}))",
            filter
        );

    /// <summary>An aggregate, of the type that Weir gives it.</summary>
    /// <param name="argumentKind">The type of its argument.</param>
    protected virtual string Aggregate(Bound.Aggregate aggregate, string argument, ValueKind argumentKind, string? filter)
    {
        var function = aggregate.Function;
        if (filter is not null && !HasFilter)
        {
            // The same by leaving the others out as nulls.
            argument = $"CASE WHEN {filter} THEN {(function == AggregateFunction.CountRows ? "1" : argument)} END";
            filter = null;
            if (function == AggregateFunction.CountRows)
                return $"count({argument})";
        }
        if (function == AggregateFunction.Percentile)
            return Percentile(argument, aggregate.Fraction, filter);
        var call = Filtered(
            function switch
            {
                AggregateFunction.CountRows => "count(*)",
                AggregateFunction.Count => $"count({argument})",
                AggregateFunction.CountDistinct => $"count(DISTINCT {argument})",
                AggregateFunction.Sum => Sum(argument, aggregate.Kind),
                AggregateFunction.Average => $"avg(CAST({argument} AS {TypeName(ValueKind.Float)}))",
                AggregateFunction.Minimum => Least(Ordered(argument, argumentKind), argumentKind),
                _ => Greatest(Ordered(argument, argumentKind), argumentKind),
            },
            filter
        );
        // Engines widen a sum of whole numbers beyond 64 bits; Weir's stays a whole number of 64 bits.
        return function == AggregateFunction.Sum && aggregate.Kind == ValueKind.Integer
            ? Cast(call, ValueKind.Decimal, ValueKind.Integer)
            : call;
    }

    /// <summary>The sum of a group.</summary>
    protected virtual string Sum(string argument, ValueKind kind) => $"sum({argument})";

    /// <summary>The least value of a group.</summary>
    protected virtual string Least(string argument, ValueKind kind) => $"min({argument})";

    /// <summary>The greatest value of a group.</summary>
    protected virtual string Greatest(string argument, ValueKind kind) => $"max({argument})";

    /// <summary>An aggregate with a condition on its rows.</summary>
    protected string Filtered(string call, string? filter) => filter is null ? call : $"{call} FILTER (WHERE {filter})";

    /// <summary>What stands after SELECT to bring so many rows at most.</summary>
    protected virtual string LimitHead(long rows) => "";

    /// <summary>What stands at the end to bring so many rows at most.</summary>
    protected virtual string LimitTail(long rows) => $"LIMIT {rows}";

    /// <summary>A condition that so many of a hundred rows meet, by chance.</summary>
    protected virtual string IsDrawn(int percent) => string.Create(CultureInfo.InvariantCulture, $"random() < {percent / 100.0}");

    private sealed class Writer(SqlDialect dialect)
    {
        public StringBuilder Text { get; } = new();

        /// <summary>What of the text a developer typed.</summary>
        public string? Typed { get; private set; }

        public List<SqlParameter> Parameters { get; } = [];

        public void Tree(SelectTree tree)
        {
            for (var i = 0; i < tree.With.Count; i++)
            {
                Text.Append(i == 0 ? "WITH " : ",\n").Append(dialect.Quote(tree.With[i].Name)).Append(" AS (\n");
                Select(tree.With[i].Select, "  ");
                Text.Append("\n)");
            }
            if (tree.With.Count > 0)
                Text.Append('\n');
            Select(tree.Last, "");
        }

        private void Select(Select select, string indent)
        {
            string[] items = [.. select.Items.Select(i => Value(i.Formula))];
            Text.Append(indent).Append("SELECT ");
            if (select.Limit is { } head && dialect.LimitHead(head) is { Length: > 0 } top)
                Text.Append(top).Append(' ');
            if (select.Items.Count == 0)
                Text.Append('*');
            Text.AppendJoin(", ", select.Items.Select((i, at) => $"{items[at]} AS {dialect.Quote(i.Name)}"));
            Text.Append('\n').Append(indent).Append("FROM ");
            Rows(select.From);
            foreach (var join in select.Joins)
            {
                Text.Append('\n').Append(indent).Append(join.Keep ? "LEFT JOIN " : "JOIN ");
                Rows(join.Table);
                Text.Append(" ON ").Append(Condition(join.On));
            }
            // A row is drawn before anything else is asked of it.
            string[] conditions =
            [
                .. select.From.Sample is { } percent ? new[] { dialect.IsDrawn(percent) } : [],
                .. select.Where is { } where ? new[] { Condition(where) } : [],
            ];
            if (conditions.Length > 0)
                Text.Append('\n').Append(indent).Append("WHERE ").AppendJoin(" AND ", conditions);
            if (select.Grouped is { } grouped)
                Text.Append('\n')
                    .Append(indent)
                    .Append("GROUP BY ")
                    .AppendJoin(", ", Enumerable.Range(0, grouped).Select(i => dialect.GroupsByNumber ? $"{i + 1}" : items[i]));
            if (select.Order.Count > 0)
                Text.Append('\n')
                    .Append(indent)
                    .Append("ORDER BY ")
                    .AppendJoin(
                        ", ",
                        select.Order.Select(o => dialect.OrderKey(dialect.Ordered(Value(o.Formula), o.Formula.Kind), o.Descending))
                    );
            if (select.Limit is { } limit && dialect.LimitTail(limit) is { Length: > 0 } tail)
                Text.Append('\n').Append(indent).Append(tail);
        }

        private void Rows(DatasetRows rows)
        {
            switch (rows)
            {
                case DatasetRows.Table table:
                    if (table.Schema is not null)
                        Text.Append(dialect.Quote(table.Schema)).Append('.');
                    Text.Append(dialect.Quote(table.Name));
                    if (table.Alias != table.Name || table.Schema is not null)
                        Text.Append(" AS ").Append(dialect.Quote(table.Alias));
                    break;
                case DatasetRows.Query query:
                    Typed = Typed is null ? query.Text.Typed : $"{Typed}\n{query.Text.Typed}";
                    Text.Append("(\n");
                    foreach (var piece in query.Text.Pieces)
                        Text.Append(
                            piece switch
                            {
                                QueryPiece.Sql sql => sql.Text,
                                QueryPiece.Value value => Value(value.Bound),
                                QueryPiece.Values values => values.Items.Count == 0
                                    ? "NULL"
                                    : string.Join(", ", values.Items.Select(Value)),
                                _ => throw new InvalidOperationException($"{piece.GetType().Name} must be replaced before SQL is printed."),
                            }
                        );
                    Text.Append("\n) AS ").Append(dialect.Quote(query.Alias));
                    break;
            }
        }

        /// <summary>A formula where a condition is wanted.</summary>
        private string Condition(Bound bound) =>
            bound is Bound.Literal { Value: bool constant }
                ? constant
                    ? "(1 = 1)"
                    : "(1 = 0)"
                : dialect.HasBooleans || IsPredicate(bound)
                    ? Print(bound)
                    : $"({Print(bound)} = 1)";

        /// <summary>A formula where a value is wanted.</summary>
        private string Value(Bound bound)
        {
            if (dialect.HasBooleans || !IsPredicate(bound))
                return Print(bound);
            var condition = Print(bound);
            return $"CAST(CASE WHEN {condition} THEN 1 WHEN NOT {condition} THEN 0 END AS {dialect.TypeName(ValueKind.Boolean)})";
        }

        private static bool IsPredicate(Bound bound) =>
            bound
                is Bound.Op
                {
                    Operation: Operation.And
                        or Operation.Or
                        or Operation.Not
                        or Operation.Equal
                        or Operation.NotEqual
                        or Operation.Less
                        or Operation.LessOrEqual
                        or Operation.Greater
                        or Operation.GreaterOrEqual
                        or Operation.In
                        or Operation.Like
                        or Operation.IsNull
                        or Operation.Same,
                };

        private string Print(Bound bound) =>
            bound switch
            {
                Bound.Literal { Value: null, Kind: ValueKind.Null } => "NULL",
                Bound.Literal { Value: null } l => $"CAST(NULL AS {dialect.TypeName(l.Kind)})",
                Bound.Literal l => Parameter(new SqlParameter(l.Value, l.Kind)),
                Bound.Open o => Parameter(new SqlParameter(null, o.Kind) { Open = o.Name }),
                Bound.Column c => dialect.Column(Raw(c), c.Kind),
                Bound.Grain g => dialect.Grain(Value(g.Argument), g.Of),
                Bound.Part p => dialect.Part(Value(p.Argument), p.Of),
                Bound.Aggregate a => dialect.Aggregate(
                    a,
                    a.Argument is null ? "" : Value(a.Argument),
                    a.Argument?.Kind ?? ValueKind.Null,
                    a.Filter is null ? null : Condition(a.Filter)
                ),
                Bound.Op op => Print(op),
                _ => throw new InvalidOperationException($"{bound.GetType().Name} must be replaced before SQL is printed."),
            };

        private string Raw(Bound.Column c) =>
            c.Table.Length == 0 ? dialect.Quote(c.Name) : $"{dialect.Quote(c.Table)}.{dialect.Quote(c.Name)}";

        private string Parameter(SqlParameter parameter)
        {
            Parameters.Add(parameter);
            return dialect.ParameterMark(Parameters.Count, Parameters[^1]);
        }

        private string Print(Bound.Op op)
        {
            var args = op.Arguments;
            switch (op.Operation)
            {
                case Operation.And:
                    return $"({string.Join(" AND ", args.Select(Condition))})";
                case Operation.Or:
                    return $"({string.Join(" OR ", args.Select(Condition))})";
                case Operation.Not:
                    return $"(NOT {Condition(args[0])})";
                case Operation.Case:
                    // In reading order: each print may add parameters.
                    var branches = new StringBuilder("CASE");
                    for (var i = 0; i + 1 < args.Count; i += 2)
                        branches.Append(" WHEN ").Append(Condition(args[i])).Append(" THEN ").Append(Value(args[i + 1]));
                    return branches.Append(" ELSE ").Append(Value(args[^1])).Append(" END").ToString();
                case Operation.Equal when args is [Bound.Column left, Bound.Column right] && left.Table != right.Table:
                    return dialect.KeyEquals(Raw(left), Raw(right), left.Kind);
            }
            // Whole numbers that the binder wants written out belong to the function's form, as its name does.
            var isFixed = op.Operation is Operation.Round or Operation.Substring;
            string[] a =
            [
                .. args.Select(
                    (x, i) =>
                        isFixed && i > 0
                            ? ((long)((Bound.Literal)x).Value!).ToString(System.Globalization.CultureInfo.InvariantCulture)
                            : Value(x)
                ),
            ];
            var kind = args.Count > 1 ? ValueKinds.Common(args[0].Kind, args[1].Kind) ?? args[0].Kind : args[0].Kind;
            string Wide(int i) => dialect.Widened(a[i], args[i].Kind);
            return op.Operation switch
            {
                Operation.Equal => dialect.Compare("=", a[0], a[1], kind),
                Operation.NotEqual => dialect.Compare("<>", a[0], a[1], kind),
                Operation.Less => dialect.Compare("<", a[0], a[1], kind),
                Operation.LessOrEqual => dialect.Compare("<=", a[0], a[1], kind),
                Operation.Greater => dialect.Compare(">", a[0], a[1], kind),
                Operation.GreaterOrEqual => dialect.Compare(">=", a[0], a[1], kind),
                Operation.Add => dialect.Arithmetic("+", Wide(0), Wide(1), op.Kind),
                Operation.Subtract => dialect.Arithmetic("-", Wide(0), Wide(1), op.Kind),
                Operation.Multiply => dialect.Arithmetic("*", Wide(0), Wide(1), op.Kind),
                Operation.Divide => dialect.Divide(a[0], a[1]),
                Operation.Remainder => $"({a[0]} % NULLIF({a[1]}, 0))",
                Operation.Concatenate => dialect.Concatenate(a[0], a[1]),
                // An attribute with no values left nothing after IN.
                Operation.In => a.Length == 1
                    ? "(1 = 0)"
                    : dialect.In(a[0], a[1..], args.Skip(1).Aggregate(args[0].Kind, (k, i) => ValueKinds.Common(k, i.Kind) ?? k)),
                Operation.Like => dialect.Like(a[0], a[1]),
                Operation.IsNull => $"({a[0]} IS NULL)",
                Operation.Same => $"({dialect.Same(a[0], a[1])})",
                Operation.Coalesce => a.Length == 1 ? a[0] : $"coalesce({string.Join(", ", a)})",
                Operation.Cast => dialect.Cast(a[0], args[0].Kind, op.Kind),
                Operation.Negate => dialect.Arithmetic("-", "0", Wide(0), op.Kind),
                Operation.Abs => dialect.Call(op, [Wide(0)]),
                _ => dialect.Call(op, a),
            };
        }
    }
}
