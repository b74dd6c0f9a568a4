using System.Globalization;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.DuckDb;

/// <summary>SQL as DuckDB takes it.</summary>
public sealed class DuckDbDialect(DayOfWeek weekStart) : SqlDialect(weekStart)
{
    /// <inheritdoc/>
    public override bool ScansAreCheap => true;

    /// <inheritdoc/>
    protected override bool JoinsLists => true;

    /// <inheritdoc/>
    public override string BareMark(int number) => $"${number}";

    /// <inheritdoc/>
    protected override string ParameterMark(int number, SqlParameter parameter) =>
        parameter.Kind switch
        {
            // DuckDB gives a parameter the type of its neighbour: 0.10 beside a whole number would become 0.
            ValueKind.Decimal => $"CAST(${number} AS {NarrowDecimal((decimal)parameter.Value!)})",
            ValueKind.Text => $"${number}",
            _ => $"CAST(${number} AS {TypeName(parameter.Kind)})",
        };

    /// <summary>The narrowest type that holds the number: products of wide decimals leave DuckDB's 38 digits.</summary>
    private static string NarrowDecimal(decimal value)
    {
        var digits = Math.Truncate(Math.Abs(value)).ToString(CultureInfo.InvariantCulture).Length;
        return $"DECIMAL({digits + value.Scale}, {value.Scale})";
    }

    /// <inheritdoc/>
    protected override string TypeName(ValueKind kind) =>
        kind switch
        {
            ValueKind.Boolean => "BOOLEAN",
            ValueKind.Integer => "BIGINT",
            ValueKind.Decimal => "DECIMAL(38, 6)",
            ValueKind.Float => "DOUBLE",
            ValueKind.Date => "DATE",
            ValueKind.Timestamp => "TIMESTAMP",
            _ => "VARCHAR",
        };

    /// <inheritdoc/>
    protected override string Grain(string date, DateGrain grain)
    {
        // DuckDB's weeks begin on Monday.
        var shift = grain == DateGrain.Week ? (7 - ((int)WeekStart + 6) % 7) % 7 : 0;
        var floor =
            shift == 0
                ? $"date_trunc('{grain.Name()}', {date})"
                : $"date_trunc('week', {date} + INTERVAL {shift} DAY) - INTERVAL {shift} DAY";
        return $"CAST({floor} AS {(grain == DateGrain.Hour ? "TIMESTAMP" : "DATE")})";
    }

    /// <inheritdoc/>
    protected override string Part(string date, DatePart part) =>
        part switch
        {
            DatePart.QuarterOfYear => $"quarter({date})",
            DatePart.MonthOfYear => $"month({date})",
            DatePart.DayOfMonth => $"day({date})",
            DatePart.DayOfWeek => $"isodow({date})",
            DatePart.YearNumber => $"year({date})",
            // A date has no hour in DuckDB; its day begins at midnight.
            _ => $"hour(CAST({date} AS TIMESTAMP))",
        };

    /// <inheritdoc/>
    protected override string Cast(string value, ValueKind from, ValueKind to) =>
        (from, to) switch
        {
            // DuckDB rounds halves of a floating-point number to even; Weir rounds them away from zero.
            (ValueKind.Float, ValueKind.Integer) => $"CAST(round({value}) AS BIGINT)",
            (ValueKind.Float, ValueKind.Decimal) => $"CAST(round({value}, 6) AS DECIMAL(38, 6))",
            _ => base.Cast(value, from, to),
        };

    /// <inheritdoc/>
    protected override string Percentile(string argument, double fraction, string? filter) =>
        Filtered($"quantile_cont(CAST({argument} AS DOUBLE), {fraction.ToString(CultureInfo.InvariantCulture)})", filter);

    /// <inheritdoc/>
    protected override string Call(Bound.Op node, IReadOnlyList<string> a)
    {
        var kind = node.Arguments[0].Kind;
        return node.Operation switch
        {
            Operation.Lower => $"lower({a[0]})",
            Operation.Upper => $"upper({a[0]})",
            Operation.Length => $"length({a[0]})",
            Operation.Trim => $"trim({a[0]}, ' ')",
            Operation.Substring => $"substring({a[0]}, {a[1]}, {a[2]})",
            Operation.Replace => $"replace({a[0]}, {a[1]}, {a[2]})",
            Operation.Position => $"strpos({a[1]}, {a[0]})",
            Operation.Abs => $"abs({a[0]})",
            // Of one width and scale whatever the digits: DuckDB gives up digits after the point where it brings several together.
            Operation.Round =>
                $"CAST(round({(kind == ValueKind.Decimal ? a[0] : Cast(a[0], kind, ValueKind.Decimal))}, {a[1]}) AS {TypeName(ValueKind.Decimal)})",
            Operation.Floor => kind == ValueKind.Integer ? a[0] : $"CAST(floor({a[0]}) AS BIGINT)",
            Operation.Ceiling => kind == ValueKind.Integer ? a[0] : $"CAST(ceil({a[0]}) AS BIGINT)",
            Operation.SquareRoot => $"CASE WHEN {a[0]} >= 0 THEN sqrt({a[0]}) END",
            Operation.NaturalLogarithm => $"CASE WHEN {a[0]} > 0 THEN ln({a[0]}) END",
            Operation.Exponential => $"exp({a[0]})",
            Operation.AddDays => $"CAST({a[0]} + to_days(CAST({a[1]} AS INTEGER)) AS {TypeName(node.Kind)})",
            Operation.AddMonths => $"CAST({a[0]} + to_months(CAST({a[1]} AS INTEGER)) AS {TypeName(node.Kind)})",
            Operation.DaysBetween => $"date_diff('day', CAST({a[0]} AS DATE), CAST({a[1]} AS DATE))",
            Operation.MinutesBetween => $"(epoch_us(CAST({a[1]} AS TIMESTAMP)) - epoch_us(CAST({a[0]} AS TIMESTAMP))) // 60000000",
            Operation.Convert when node.Kind == ValueKind.Boolean =>
                $"CASE WHEN regexp_matches({a[0]}, '{TextReading.Form(node.Kind)}') THEN trim({a[0]}) IN ('true', 'yes', '1') END",
            Operation.Convert =>
                $"CASE WHEN regexp_matches({a[0]}, '{TextReading.Form(node.Kind)}') THEN CAST(trim({a[0]}) AS {TypeName(node.Kind)}) END",
            _ => throw new InvalidOperationException($"No SQL for {node.Operation}."),
        };
    }
}
