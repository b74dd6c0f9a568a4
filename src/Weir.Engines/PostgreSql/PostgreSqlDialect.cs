using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.PostgreSql;

/// <summary>SQL as PostgreSQL takes it.</summary>
public sealed class PostgreSqlDialect(DayOfWeek weekStart) : SqlDialect(weekStart)
{
    /// <inheritdoc/>
    public override bool ScansAreCheap => true;

    /// <inheritdoc/>
    protected override bool JoinsLists => true;

    /// <inheritdoc/>
    public override string BareMark(int number) => $"${number}";

    /// <inheritdoc/>
    protected override string ParameterMark(int number, SqlParameter parameter) => $"CAST(${number} AS {TypeName(parameter.Kind)})";

    /// <inheritdoc/>
    protected override string TypeName(ValueKind kind) =>
        kind switch
        {
            ValueKind.Boolean => "boolean",
            ValueKind.Integer => "bigint",
            ValueKind.Decimal => "numeric",
            ValueKind.Float => "double precision",
            ValueKind.Date => "date",
            ValueKind.Timestamp => "timestamp",
            _ => "text",
        };

    /// <inheritdoc/>
    protected override string Ordered(string value, ValueKind kind) => kind == ValueKind.Text ? $"({value} COLLATE \"C\")" : value;

    /// <inheritdoc/>
    protected override string Like(string text, string pattern) => $"({text} LIKE {pattern} ESCAPE '')";

    /// <inheritdoc/>
    protected override string Least(string argument, ValueKind kind) =>
        kind == ValueKind.Boolean ? $"bool_and({argument})" : base.Least(argument, kind);

    /// <inheritdoc/>
    protected override string Greatest(string argument, ValueKind kind) =>
        kind == ValueKind.Boolean ? $"bool_or({argument})" : base.Greatest(argument, kind);

    /// <inheritdoc/>
    protected override string Sum(string argument, ValueKind kind) =>
        kind == ValueKind.Float ? $"sum(CAST({argument} AS double precision))" : base.Sum(argument, kind);

    /// <inheritdoc/>
    protected override string Grain(string date, DateGrain grain)
    {
        // PostgreSQL's weeks begin on Monday.
        var shift = grain == DateGrain.Week ? (7 - ((int)WeekStart + 6) % 7) % 7 : 0;
        var at = $"CAST({date} AS timestamp)";
        var floor =
            shift == 0
                ? $"date_trunc('{grain.Name()}', {at})"
                : $"date_trunc('week', {at} + INTERVAL '{shift} day') - INTERVAL '{shift} day'";
        return grain == DateGrain.Hour ? floor : $"CAST({floor} AS date)";
    }

    /// <inheritdoc/>
    protected override string Part(string date, DatePart part) =>
        $"CAST(extract({part switch
    {
        DatePart.QuarterOfYear => "quarter",
        DatePart.MonthOfYear => "month",
        DatePart.DayOfMonth => "day",
        DatePart.DayOfWeek => "isodow",
        DatePart.YearNumber => "year",
        _ => "hour",
    }} from CAST({date} AS timestamp)) AS bigint)";

    /// <inheritdoc/>
    protected override string Cast(string value, ValueKind from, ValueKind to) =>
        (from, to) switch
        {
            // PostgreSQL rounds halves of a floating-point number to even; Weir rounds them away from zero.
            (ValueKind.Float, ValueKind.Integer) => $"CAST(round(CAST({value} AS numeric)) AS bigint)",
            (ValueKind.Float, ValueKind.Decimal) => $"round(CAST({value} AS numeric), 6)",
            (ValueKind.Timestamp, ValueKind.Text) => $"to_char({value}, 'YYYY-MM-DD HH24:MI:SS')",
            _ => base.Cast(value, from, to),
        };

    /// <inheritdoc/>
    protected override string Call(Bound.Op node, IReadOnlyList<string> a)
    {
        var kind = node.Arguments[0].Kind;
        return node.Operation switch
        {
            Operation.Lower => $"lower({a[0]})",
            Operation.Upper => $"upper({a[0]})",
            Operation.Length => $"CAST(length({a[0]}) AS bigint)",
            Operation.Trim => $"trim(both ' ' from {a[0]})",
            Operation.Substring => $"substring({a[0]} from CAST({a[1]} AS integer) for CAST({a[2]} AS integer))",
            Operation.Replace => $"replace({a[0]}, {a[1]}, {a[2]})",
            Operation.Position => $"CAST(strpos({a[1]}, {a[0]}) AS bigint)",
            Operation.Abs => $"abs({a[0]})",
            Operation.Round =>
                $"round({(kind == ValueKind.Decimal ? a[0] : Cast(a[0], kind, ValueKind.Decimal))}, CAST({a[1]} AS integer))",
            Operation.Floor => kind == ValueKind.Integer ? a[0] : $"CAST(floor({a[0]}) AS bigint)",
            Operation.Ceiling => kind == ValueKind.Integer ? a[0] : $"CAST(ceil({a[0]}) AS bigint)",
            Operation.SquareRoot => $"CASE WHEN {a[0]} >= 0 THEN sqrt(CAST({a[0]} AS double precision)) END",
            Operation.NaturalLogarithm => $"CASE WHEN {a[0]} > 0 THEN ln(CAST({a[0]} AS double precision)) END",
            Operation.Exponential => $"exp(CAST({a[0]} AS double precision))",
            Operation.AddDays => $"CAST({a[0]} + {a[1]} * INTERVAL '1 day' AS {TypeName(node.Kind)})",
            Operation.AddMonths => $"CAST({a[0]} + {a[1]} * INTERVAL '1 month' AS {TypeName(node.Kind)})",
            Operation.DaysBetween => $"CAST(CAST({a[1]} AS date) - CAST({a[0]} AS date) AS bigint)",
            Operation.MinutesBetween =>
                $"CAST(trunc(extract(epoch from CAST({a[1]} AS timestamp) - CAST({a[0]} AS timestamp)) / 60) AS bigint)",
            Operation.Convert when node.Kind == ValueKind.Boolean =>
                $"CASE WHEN {a[0]} ~ '{TextReading.Form(node.Kind)}' THEN trim({a[0]}) IN ('true', 'yes', '1') END",
            Operation.Convert => $"CASE WHEN {a[0]} ~ '{TextReading.Form(node.Kind)}' THEN CAST(trim({a[0]}) AS {TypeName(node.Kind)}) END",
            _ => throw new InvalidOperationException($"No SQL for {node.Operation}."),
        };
    }
}
