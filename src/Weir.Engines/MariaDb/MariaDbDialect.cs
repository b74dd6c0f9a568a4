using System.Globalization;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.MariaDb;

/// <summary>SQL as MariaDB and MySQL take it, in the session that <see cref="MariaDbSource"/> sets up (ANSI_QUOTES, no backslash escapes).</summary>
public sealed class MariaDbDialect(DayOfWeek weekStart, bool isMariaDb) : SqlDialect(weekStart)
{
    /// <summary>The collation in which texts are compared by code point, spaces at the end counting.</summary>
    private readonly string _exact = isMariaDb ? "utf8mb4_nopad_bin" : "utf8mb4_0900_bin";

    /// <inheritdoc/>
    protected override bool HasFilter => false;

    /// <inheritdoc/>
    public override string BareMark(int number) => $"@p{number}";

    /// <inheritdoc/>
    protected override string ParameterMark(int number, SqlParameter parameter) =>
        parameter.Kind switch
        {
            ValueKind.Text => $"@p{number}",
            ValueKind.Boolean => $"@p{number}",
            ValueKind.Decimal => $"CAST(@p{number} AS DECIMAL(38, {((decimal)parameter.Value!).Scale}))",
            _ => $"CAST(@p{number} AS {TypeName(parameter.Kind)})",
        };

    /// <inheritdoc/>
    protected override string TypeName(ValueKind kind) =>
        kind switch
        {
            ValueKind.Boolean or ValueKind.Integer => "SIGNED",
            ValueKind.Decimal => "DECIMAL(38, 6)",
            ValueKind.Float => "DOUBLE",
            ValueKind.Date => "DATE",
            ValueKind.Timestamp => "DATETIME(6)",
            _ => "CHAR CHARACTER SET utf8mb4",
        };

    /// <inheritdoc/>
    protected override string Column(string column, ValueKind kind) =>
        kind == ValueKind.Text ? $"CONVERT({column} USING utf8mb4) COLLATE {_exact}" : column;

    // The first comparison may use an index, the second is exact.
    /// <inheritdoc/>
    protected override string KeyEquals(string left, string right, ValueKind kind) =>
        kind == ValueKind.Text ? $"({left} = {right} AND {Column(left, kind)} = {Column(right, kind)})" : $"({left} = {right})";

    /// <inheritdoc/>
    protected override string OrderKey(string value, bool descending) => $"{value} IS NULL, {value}{(descending ? " DESC" : "")}";

    /// <inheritdoc/>
    protected override string Same(string left, string right) => $"{left} <=> {right}";

    /// <inheritdoc/>
    protected override string Concatenate(string left, string right) => $"concat({left}, {right})";

    // Both operands would have to be whole; MariaDB would widen to 81 digits.
    /// <inheritdoc/>
    protected override string Arithmetic(string sign, string left, string right, ValueKind kind) => $"({left} {sign} {right})";

    /// <inheritdoc/>
    protected override string Sum(string argument, ValueKind kind) =>
        kind == ValueKind.Float ? $"sum(CAST({argument} AS DOUBLE))" : $"sum({argument})";

    /// <inheritdoc/>
    protected override string Cast(string value, ValueKind from, ValueKind to) =>
        (from, to) switch
        {
            (ValueKind.Boolean, ValueKind.Text) => $"CASE WHEN {value} THEN 'true' WHEN NOT {value} THEN 'false' END COLLATE {_exact}",
            (ValueKind.Timestamp, ValueKind.Text) => $"CONVERT(date_format({value}, '%Y-%m-%d %H:%i:%s') USING utf8mb4) COLLATE {_exact}",
            (_, ValueKind.Text) => $"CONVERT({value} USING utf8mb4) COLLATE {_exact}",
            (ValueKind.Float, ValueKind.Integer) => $"CAST(round(CAST({value} AS DECIMAL(38, 6))) AS SIGNED)",
            (ValueKind.Decimal, ValueKind.Integer) => $"CAST(round({value}) AS SIGNED)",
            _ => base.Cast(value, from, to),
        };

    /// <inheritdoc/>
    protected override string Grain(string date, DateGrain grain) =>
        grain switch
        {
            DateGrain.Year => $"CAST(date_format({date}, '%Y-01-01') AS DATE)",
            DateGrain.Quarter => $"CAST(concat(year({date}), '-', quarter({date}) * 3 - 2, '-01') AS DATE)",
            DateGrain.Month => $"CAST(date_format({date}, '%Y-%m-01') AS DATE)",
            // Days since the week's first day; weekday() counts from Monday, 0.
            DateGrain.Week => $"date_sub(CAST({date} AS DATE), INTERVAL (weekday({date}) + {(8 - (int)WeekStart) % 7}) % 7 DAY)",
            DateGrain.Day => $"CAST({date} AS DATE)",
            _ => $"CAST(date_format({date}, '%Y-%m-%d %H:00:00') AS DATETIME)",
        };

    /// <inheritdoc/>
    protected override string Part(string date, DatePart part) =>
        part switch
        {
            DatePart.QuarterOfYear => $"quarter({date})",
            DatePart.MonthOfYear => $"month({date})",
            DatePart.DayOfMonth => $"dayofmonth({date})",
            DatePart.DayOfWeek => $"(weekday({date}) + 1)",
            DatePart.YearNumber => $"year({date})",
            _ => $"hour(CAST({date} AS DATETIME))",
        };

    /// <inheritdoc/>
    protected override string Percentile(string argument, double fraction, string? filter)
    {
        // There is no such aggregate: the values are put in order as texts of full precision, and the two around the place taken out.
        var values =
            $"group_concat(CASE WHEN {filter ?? "TRUE"} THEN CAST({argument} AS DOUBLE) END ORDER BY CAST({argument} AS DOUBLE) SEPARATOR ',')";
        var count = $"count(CASE WHEN {filter ?? "TRUE"} THEN {argument} END)";
        var f = fraction.ToString("0.0###############", CultureInfo.InvariantCulture);
        var place = $"({f}e0 * ({count} - 1))";
        string At(string index) => $"CAST(substring_index(substring_index({values}, ',', CAST({index} AS SIGNED) + 1), ',', -1) AS DOUBLE)";
        return $"CASE WHEN {count} > 0 THEN {At($"floor({place})")} + ({place} - floor({place})) * ({At($"ceil({place})")} - {At($"floor({place})")}) END";
    }

    /// <inheritdoc/>
    protected override string Call(Bound.Op node, IReadOnlyList<string> a)
    {
        var kind = node.Arguments[0].Kind;
        return node.Operation switch
        {
            Operation.Lower => $"lower({a[0]})",
            Operation.Upper => $"upper({a[0]})",
            Operation.Length => $"char_length({a[0]})",
            Operation.Trim => $"trim(both ' ' from {a[0]})",
            Operation.Substring => $"substring({a[0]}, {a[1]}, {a[2]})",
            // MariaDB does not look at the third where there is nothing to replace.
            Operation.Replace => $"CASE WHEN {a[2]} IS NOT NULL THEN replace({a[0]}, {a[1]}, {a[2]}) END",
            Operation.Position => $"locate({a[0]}, {a[1]})",
            Operation.Abs => $"abs({a[0]})",
            Operation.Round => $"round({(kind == ValueKind.Decimal ? a[0] : Cast(a[0], kind, ValueKind.Decimal))}, {a[1]})",
            Operation.Floor => kind == ValueKind.Integer ? a[0] : $"CAST(floor({a[0]}) AS SIGNED)",
            Operation.Ceiling => kind == ValueKind.Integer ? a[0] : $"CAST(ceiling({a[0]}) AS SIGNED)",
            // Both are null where the number has none.
            Operation.SquareRoot => $"sqrt({a[0]})",
            Operation.NaturalLogarithm => $"ln({a[0]})",
            Operation.Exponential => $"exp({a[0]})",
            Operation.AddDays => $"CAST(date_add({a[0]}, INTERVAL {a[1]} DAY) AS {TypeName(node.Kind)})",
            Operation.AddMonths => $"CAST(date_add({a[0]}, INTERVAL {a[1]} MONTH) AS {TypeName(node.Kind)})",
            Operation.DaysBetween => $"datediff({a[1]}, {a[0]})",
            Operation.MinutesBetween => $"timestampdiff(MINUTE, {a[0]}, {a[1]})",
            Operation.Convert when node.Kind == ValueKind.Boolean =>
                $"CASE WHEN {a[0]} REGEXP '{TextReading.Form(node.Kind)}' THEN trim({a[0]}) IN ('true', 'yes', '1') END",
            Operation.Convert =>
                $"CASE WHEN {a[0]} REGEXP '{TextReading.Form(node.Kind)}' THEN CAST(trim({a[0]}) AS {TypeName(node.Kind)}) END",
            _ => throw new InvalidOperationException($"No SQL for {node.Operation}."),
        };
    }

    /// <inheritdoc/>
    protected override string IsDrawn(int percent) => string.Create(CultureInfo.InvariantCulture, $"rand() < {percent / 100.0}");
}
