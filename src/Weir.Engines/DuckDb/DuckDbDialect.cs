using Weir.Core.Expressions;
using Weir.Core.Queries;

namespace Weir.Engines.DuckDb;

/// <summary>SQL as DuckDB takes it.</summary>
public sealed class DuckDbDialect(DayOfWeek weekStart) : SqlDialect(weekStart)
{
    /// <inheritdoc/>
    protected override string ParameterMark(int number, SqlParameter parameter) => parameter.Kind switch
    {
        // DuckDB gives a parameter the type of its neighbour: 0.10 beside a whole number would become 0.
        ValueKind.Decimal => $"CAST(${number} AS {NarrowDecimal((decimal)parameter.Value!)})",
        ValueKind.Float or ValueKind.Integer or ValueKind.Date or ValueKind.Timestamp => $"CAST(${number} AS {TypeName(parameter.Kind)})",
        _ => $"${number}",
    };

    /// <summary>The narrowest type that holds the number: products of wide decimals leave DuckDB's 38 digits.</summary>
    private static string NarrowDecimal(decimal value)
    {
        var digits = Math.Truncate(Math.Abs(value)).ToString(System.Globalization.CultureInfo.InvariantCulture).Length;
        return $"DECIMAL({digits + value.Scale}, {value.Scale})";
    }

    /// <inheritdoc/>
    protected override string TypeName(ValueKind kind) => kind switch
    {
        ValueKind.Boolean => "BOOLEAN",
        ValueKind.Integer => "BIGINT",
        ValueKind.Decimal => "DECIMAL(38, 6)",
        ValueKind.Float => "DOUBLE",
        ValueKind.Text => "VARCHAR",
        ValueKind.Date => "DATE",
        _ => "TIMESTAMP",
    };

    /// <inheritdoc/>
    protected override string Grain(string date, DateGrain grain)
    {
        // DuckDB's weeks begin on Monday.
        var shift = grain == DateGrain.Week ? (7 - ((int)WeekStart + 6) % 7) % 7 : 0;
        var floor = shift == 0 ? $"date_trunc('{grain.Name()}', {date})" : $"date_trunc('week', {date} + INTERVAL {shift} DAY) - INTERVAL {shift} DAY";
        return $"CAST({floor} AS {(grain == DateGrain.Hour ? "TIMESTAMP" : "DATE")})";
    }

    /// <inheritdoc/>
    protected override string Part(string date, DatePart part) => part switch
    {
        DatePart.QuarterOfYear => $"quarter({date})",
        DatePart.MonthOfYear => $"month({date})",
        DatePart.DayOfMonth => $"day({date})",
        DatePart.DayOfWeek => $"isodow({date})",
        // A date has no hour in DuckDB; its day begins at midnight.
        _ => $"hour(CAST({date} AS TIMESTAMP))",
    };

    /// <inheritdoc/>
    protected override string Cast(string value, ValueKind from, ValueKind to) => (from, to) switch
    {
        // DuckDB rounds halves of a floating-point number to even; Weir rounds them away from zero.
        (ValueKind.Float, ValueKind.Integer) => $"CAST(round({value}) AS BIGINT)",
        _ => base.Cast(value, from, to),
    };
}
