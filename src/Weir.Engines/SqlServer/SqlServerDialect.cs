using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.SqlServer;

/// <summary>SQL as SQL Server takes it.</summary>
public sealed class SqlServerDialect(DayOfWeek weekStart) : SqlDialect(weekStart)
{
    private const string Exact = "Latin1_General_100_BIN2_UTF8";

    /// <inheritdoc/>
    protected override bool HasBooleans => false;

    /// <inheritdoc/>
    protected override bool GroupsByNumber => false;

    /// <inheritdoc/>
    protected override bool HasFilter => false;

    /// <inheritdoc/>
    public override string Quote(string identifier) => $"[{identifier.Replace("]", "]]")}]";

    /// <inheritdoc/>
    public override string BareMark(int number) => $"@p{number}";

    /// <inheritdoc/>
    protected override string ParameterMark(int number, SqlParameter parameter) =>
        parameter.Kind switch
        {
            ValueKind.Decimal => $"CAST(@p{number} AS decimal(28, {((decimal)parameter.Value!).Scale}))",
            _ => $"CAST(@p{number} AS {TypeName(parameter.Kind)})",
        };

    /// <inheritdoc/>
    protected override string TypeName(ValueKind kind) =>
        kind switch
        {
            ValueKind.Boolean => "bit",
            ValueKind.Integer => "bigint",
            ValueKind.Decimal => "decimal(38, 6)",
            ValueKind.Float => "float(53)",
            ValueKind.Date => "date",
            ValueKind.Timestamp => "datetime2(6)",
            _ => "nvarchar(4000)",
        };

    /// <inheritdoc/>
    protected override string Column(string column, ValueKind kind) => kind == ValueKind.Text ? $"{column} COLLATE {Exact}" : column;

    // The first comparison may use an index, the second is exact.
    /// <inheritdoc/>
    protected override string KeyEquals(string left, string right, ValueKind kind) =>
        kind == ValueKind.Text ? $"({left} = {right} AND {Column(left, kind)} = {Column(right, kind)})" : $"({left} = {right})";

    /// <inheritdoc/>
    protected override string OrderKey(string value, bool descending) =>
        $"CASE WHEN {value} IS NULL THEN 1 ELSE 0 END, {value}{(descending ? " DESC" : "")}";

    /// <inheritdoc/>
    protected override string Same(string left, string right) => $"{left} = {right} OR ({left} IS NULL AND {right} IS NULL)";

    /// <inheritdoc/>
    protected override string Like(string text, string pattern) => $"({text} LIKE replace({pattern}, N'[', N'[[]'))";

    /// <inheritdoc/>
    protected override string Concatenate(string left, string right) => $"({left} + {right})";

    /// <inheritdoc/>
    protected override string Least(string argument, ValueKind kind) =>
        kind == ValueKind.Boolean ? $"CAST(min(CAST({argument} AS int)) AS bit)" : base.Least(argument, kind);

    /// <inheritdoc/>
    protected override string Greatest(string argument, ValueKind kind) =>
        kind == ValueKind.Boolean ? $"CAST(max(CAST({argument} AS int)) AS bit)" : base.Greatest(argument, kind);

    /// <inheritdoc/>
    protected override string Sum(string argument, ValueKind kind) =>
        kind == ValueKind.Integer ? $"sum(CAST({argument} AS decimal(38, 0)))" : $"sum({argument})";

    // Steps are ordered inside, which needs a limit; the last step has the same form.
    /// <inheritdoc/>
    protected override string LimitHead(long rows) => $"TOP ({rows})";

    /// <inheritdoc/>
    protected override string LimitTail(long rows) => "";

    /// <inheritdoc/>
    protected override string Cast(string value, ValueKind from, ValueKind to) =>
        (from, to) switch
        {
            (ValueKind.Boolean, ValueKind.Text) => $"CASE {value} WHEN 1 THEN N'true' WHEN 0 THEN N'false' END",
            (ValueKind.Timestamp, ValueKind.Text) => $"convert(nvarchar(19), {value}, 120)",
            (ValueKind.Date, ValueKind.Text) => $"convert(nvarchar(10), {value}, 23)",
            (ValueKind.Float, ValueKind.Integer) => $"CAST(round(CAST({value} AS decimal(38, 6)), 0) AS bigint)",
            (ValueKind.Decimal, ValueKind.Integer) => $"CAST(round({value}, 0) AS bigint)",
            _ => base.Cast(value, from, to),
        };

    // Midnight of a Monday: days since it tell the day of the week whatever the server's settings.
    private static string DayFromMonday(string date) => $"((datediff(day, '19000101', {date}) % 7 + 7) % 7)";

    /// <inheritdoc/>
    protected override string Grain(string date, DateGrain grain) =>
        grain switch
        {
            DateGrain.Year => $"datefromparts(year({date}), 1, 1)",
            DateGrain.Quarter => $"datefromparts(year({date}), datepart(quarter, {date}) * 3 - 2, 1)",
            DateGrain.Month => $"datefromparts(year({date}), month({date}), 1)",
            DateGrain.Week => $"dateadd(day, -(({DayFromMonday(date)} + {(8 - (int)WeekStart) % 7}) % 7), CAST({date} AS date))",
            DateGrain.Day => $"CAST({date} AS date)",
            _ => $"dateadd(hour, datepart(hour, CAST({date} AS datetime2(6))), CAST(CAST({date} AS date) AS datetime2(6)))",
        };

    /// <inheritdoc/>
    protected override string Part(string date, DatePart part) =>
        part switch
        {
            DatePart.QuarterOfYear => $"datepart(quarter, {date})",
            DatePart.MonthOfYear => $"month({date})",
            DatePart.DayOfMonth => $"day({date})",
            DatePart.DayOfWeek => $"({DayFromMonday(date)} + 1)",
            DatePart.YearNumber => $"year({date})",
            _ => $"datepart(hour, CAST({date} AS datetime2(6)))",
        };

    /// <inheritdoc/>
    protected override string Percentile(string argument, double fraction, string? filter) =>
        throw new NotSupportedException("SQL Server has no percentile as an aggregate.");

    /// <inheritdoc/>
    protected override string Call(Bound.Op node, IReadOnlyList<string> a)
    {
        var kind = node.Arguments[0].Kind;
        return node.Operation switch
        {
            Operation.Lower => $"lower({a[0]})",
            Operation.Upper => $"upper({a[0]})",
            // len() leaves out spaces at the end.
            Operation.Length => $"(len({a[0]} + N'.') - 1)",
            Operation.Trim => $"trim({a[0]})",
            Operation.Substring => $"substring({a[0]}, {a[1]}, {a[2]})",
            Operation.Replace => $"replace({a[0]}, {a[1]}, {a[2]})",
            Operation.Position => $"charindex({a[0]}, {a[1]})",
            Operation.Abs => $"abs({a[0]})",
            Operation.Round => $"round({(kind == ValueKind.Decimal ? a[0] : Cast(a[0], kind, ValueKind.Decimal))}, {a[1]})",
            Operation.Floor => kind == ValueKind.Integer ? a[0] : $"CAST(floor({a[0]}) AS bigint)",
            Operation.Ceiling => kind == ValueKind.Integer ? a[0] : $"CAST(ceiling({a[0]}) AS bigint)",
            Operation.SquareRoot => $"CASE WHEN {a[0]} >= 0 THEN sqrt({a[0]}) END",
            Operation.NaturalLogarithm => $"CASE WHEN {a[0]} > 0 THEN log({a[0]}) END",
            Operation.Exponential => $"exp({a[0]})",
            Operation.AddDays => $"dateadd(day, {a[1]}, {a[0]})",
            Operation.AddMonths => $"dateadd(month, {a[1]}, {a[0]})",
            Operation.DaysBetween => $"datediff(day, {a[0]}, {a[1]})",
            Operation.MinutesBetween => $"(datediff_big(second, {a[0]}, {a[1]}) / 60)",
            Operation.Convert when node.Kind == ValueKind.Boolean =>
                $"CAST(CASE WHEN trim({a[0]}) IN (N'true', N'yes', N'1') THEN 1 WHEN trim({a[0]}) IN (N'false', N'no', N'0') THEN 0 END AS bit)",
            Operation.Convert => $"try_cast(trim({a[0]}) AS {TypeName(node.Kind)})",
            _ => throw new InvalidOperationException($"No SQL for {node.Operation}."),
        };
    }

    /// <inheritdoc/>
    protected override string IsDrawn(int percent) => $"abs(checksum(newid())) % 100 < {percent}";
}
