using System.Text;
using Weir.Core.Expressions;

namespace Weir.Core.Queries;

/// <summary>A SQL text and the values of its parameters, in order; values never stand in the text.</summary>
public sealed record SqlText(string Text, IReadOnlyList<SqlParameter> Parameters);

/// <summary>A value handed to the database beside the text.</summary>
public sealed record SqlParameter(object? Value, ValueKind Kind);

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
        return new SqlText(writer.Text.ToString(), writer.Parameters);
    }

    /// <summary>An identifier with quotation marks, so that any name is safe.</summary>
    protected virtual string Quote(string identifier) => $"\"{identifier.Replace("\"", "\"\"")}\"";

    /// <summary>The mark of the parameter with a number from 1, with its type where the engine would guess another.</summary>
    protected abstract string ParameterMark(int number, SqlParameter parameter);

    /// <summary>The name of a type in CAST.</summary>
    protected abstract string TypeName(ValueKind kind);

    /// <summary>The first instant of a period.</summary>
    protected abstract string Grain(string date, DateGrain grain);

    /// <summary>A place within a longer period, as a whole number; days of the week from 1 (Monday) to 7.</summary>
    protected abstract string Part(string date, DatePart part);

    /// <summary>An order in which missing values come last.</summary>
    protected virtual string OrderKey(string formula, bool descending) => $"{formula}{(descending ? " DESC" : "")} NULLS LAST";

    /// <summary>Equal, or both null.</summary>
    protected virtual string Same(string left, string right) => $"{left} IS NOT DISTINCT FROM {right}";

    /// <summary>A quotient as a floating-point number, null for a zero divisor.</summary>
    protected virtual string Divide(string left, string right) =>
        $"(CAST({left} AS {TypeName(ValueKind.Float)}) / NULLIF(CAST({right} AS {TypeName(ValueKind.Float)}), 0))";

    /// <summary>A conversion of type.</summary>
    protected virtual string Cast(string value, ValueKind from, ValueKind to) => $"CAST({value} AS {TypeName(to)})";

    /// <summary>An aggregate, of the type that Weir gives it.</summary>
    protected virtual string Aggregate(AggregateFunction function, string argument, string? filter, ValueKind kind)
    {
        var call = function switch
        {
            AggregateFunction.CountRows => "count(*)",
            AggregateFunction.Count => $"count({argument})",
            AggregateFunction.CountDistinct => $"count(DISTINCT {argument})",
            AggregateFunction.Sum => $"sum({argument})",
            AggregateFunction.Average => $"avg({argument})",
            AggregateFunction.Minimum => $"min({argument})",
            _ => $"max({argument})",
        };
        var filtered = filter is null ? call : $"{call} FILTER (WHERE {filter})";
        // Engines widen a sum of whole numbers beyond 64 bits; Weir's stays a whole number of 64 bits.
        return function == AggregateFunction.Sum && kind == ValueKind.Integer ? Cast(filtered, ValueKind.Decimal, kind) : filtered;
    }

    private sealed class Writer(SqlDialect dialect)
    {
        public StringBuilder Text { get; } = new();

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
            Text.Append(indent).Append("SELECT ").AppendJoin(", ", select.Items.Select(i => $"{Print(i.Formula)} AS {dialect.Quote(i.Name)}"));
            Text.Append('\n').Append(indent).Append("FROM ").Append(dialect.Quote(select.From));
            foreach (var join in select.Joins)
                Text.Append('\n').Append(indent).Append(join.Keep ? "LEFT JOIN " : "JOIN ").Append(dialect.Quote(join.Table)).Append(" ON ").Append(Print(join.On));
            if (select.Where is not null)
                Text.Append('\n').Append(indent).Append("WHERE ").Append(Print(select.Where));
            if (select.Grouped is { } grouped)
                Text.Append('\n').Append(indent).Append("GROUP BY ").AppendJoin(", ", Enumerable.Range(1, grouped));
            if (select.Order.Count > 0)
                Text.Append('\n').Append(indent).Append("ORDER BY ").AppendJoin(", ", select.Order.Select(o => dialect.OrderKey(Print(o.Formula), o.Descending)));
            if (select.Limit is { } limit)
                Text.Append('\n').Append(indent).Append("LIMIT ").Append(limit);
        }

        private string Print(Bound bound) => bound switch
        {
            Bound.Literal { Value: null } => "NULL",
            Bound.Literal l => Parameter(l),
            Bound.Column { Table: "" } c => dialect.Quote(c.Name),
            Bound.Column c => $"{dialect.Quote(c.Table)}.{dialect.Quote(c.Name)}",
            Bound.Grain g => dialect.Grain(Print(g.Argument), g.Of),
            Bound.Part p => dialect.Part(Print(p.Argument), p.Of),
            Bound.Aggregate a => dialect.Aggregate(a.Function, a.Argument is null ? "" : Print(a.Argument), a.Filter is null ? null : Print(a.Filter), a.Kind),
            Bound.Op op => Print(op),
            _ => throw new InvalidOperationException($"{bound.GetType().Name} must be replaced before SQL is printed."),
        };

        private string Parameter(Bound.Literal literal)
        {
            Parameters.Add(new SqlParameter(literal.Value, literal.Kind));
            return dialect.ParameterMark(Parameters.Count, Parameters[^1]);
        }

        private string Print(Bound.Op op)
        {
            // In reading order: each print may add parameters.
            string[] a = [.. op.Arguments.Select(Print)];
            return op.Operation switch
            {
                Operation.And => $"({string.Join(" AND ", a)})",
                Operation.Or => $"({string.Join(" OR ", a)})",
                Operation.Not => $"(NOT {a[0]})",
                Operation.Equal => $"({a[0]} = {a[1]})",
                Operation.NotEqual => $"({a[0]} <> {a[1]})",
                Operation.Less => $"({a[0]} < {a[1]})",
                Operation.LessOrEqual => $"({a[0]} <= {a[1]})",
                Operation.Greater => $"({a[0]} > {a[1]})",
                Operation.GreaterOrEqual => $"({a[0]} >= {a[1]})",
                Operation.Add => $"({a[0]} + {a[1]})",
                Operation.Subtract => $"({a[0]} - {a[1]})",
                Operation.Multiply => $"({a[0]} * {a[1]})",
                Operation.Divide => dialect.Divide(a[0], a[1]),
                Operation.Remainder => $"({a[0]} % NULLIF({a[1]}, 0))",
                Operation.Negate => $"(- {a[0]})",
                Operation.Concatenate => $"({a[0]} || {a[1]})",
                // An attribute with no values left nothing after IN.
                Operation.In => a.Length == 1 ? "FALSE" : $"({a[0]} IN ({string.Join(", ", a.Skip(1))}))",
                Operation.Like => $"({a[0]} LIKE {a[1]})",
                Operation.IsNull => $"({a[0]} IS NULL)",
                Operation.Same => $"({dialect.Same(a[0], a[1])})",
                Operation.Coalesce => $"coalesce({string.Join(", ", a)})",
                Operation.Case => $"CASE{string.Concat(Enumerable.Range(0, a.Length / 2).Select(i => $" WHEN {a[2 * i]} THEN {a[(2 * i) + 1]}"))} ELSE {a[^1]} END",
                Operation.Cast => dialect.Cast(a[0], op.Arguments[0].Kind, op.Kind),
                Operation.Lower => $"lower({a[0]})",
                Operation.Upper => $"upper({a[0]})",
                Operation.Length => $"length({a[0]})",
                Operation.Abs => $"abs({a[0]})",
                _ => throw new InvalidOperationException($"No SQL for {op.Operation}."),
            };
        }
    }
}
