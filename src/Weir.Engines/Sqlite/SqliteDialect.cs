using System.Globalization;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.Sqlite;

/// <summary>
/// SQL as SQLite takes it. SQLite has neither decimal numbers nor dates: functions that <see cref="SqliteFunctions"/> puts
/// into each connection give them Weir's meaning.
/// </summary>
public sealed class SqliteDialect(DayOfWeek weekStart) : SqlDialect(weekStart)
{
    /// <inheritdoc/>
    protected override bool JoinsLists => true;

    /// <inheritdoc/>
    public override string BareMark(int number) => $"$p{number}";

    /// <inheritdoc/>
    protected override string ParameterMark(int number, SqlParameter parameter) => $"$p{number}";

    /// <inheritdoc/>
    protected override string TypeName(ValueKind kind) =>
        kind switch
        {
            ValueKind.Boolean or ValueKind.Integer => "INTEGER",
            ValueKind.Float => "REAL",
            _ => "TEXT",
        };

    /// <inheritdoc/>
    protected override string Column(string column, ValueKind kind) =>
        kind switch
        {
            // A column may hold any type; these bring it into the one form that is compared.
            ValueKind.Decimal => $"weir_decimal({column})",
            ValueKind.Date => $"weir_date({column})",
            ValueKind.Timestamp => $"weir_timestamp({column})",
            ValueKind.Float => $"CAST({column} AS REAL)",
            ValueKind.Text => $"CAST({column} AS TEXT)",
            _ => column,
        };

    /// <inheritdoc/>
    protected override string KeyEquals(string left, string right, ValueKind kind) => $"({left} = {right})";

    /// <inheritdoc/>
    protected override string Ordered(string value, ValueKind kind) =>
        kind == ValueKind.Decimal ? $"({value} COLLATE weir_decimal)" : value;

    /// <inheritdoc/>
    protected override string Widened(string value, ValueKind kind) => value;

    /// <inheritdoc/>
    protected override string Same(string left, string right) => $"{left} IS {right}";

    /// <inheritdoc/>
    protected override string Like(string text, string pattern) => $"weir_like({text}, {pattern})";

    /// <inheritdoc/>
    protected override string Compare(string sign, string left, string right, ValueKind kind) =>
        kind switch
        {
            ValueKind.Decimal => $"(weir_decimal({left}) COLLATE weir_decimal {sign} weir_decimal({right}))",
            ValueKind.Float => $"(CAST({left} AS REAL) {sign} CAST({right} AS REAL))",
            ValueKind.Timestamp => $"(weir_timestamp({left}) {sign} weir_timestamp({right}))",
            _ => $"({left} {sign} {right})",
        };

    /// <inheritdoc/>
    protected override string In(string value, IReadOnlyList<string> items, ValueKind kind) =>
        kind switch
        {
            ValueKind.Decimal => $"(weir_decimal({value}) IN ({string.Join(", ", items.Select(i => $"weir_decimal({i})"))}))",
            ValueKind.Timestamp => $"(weir_timestamp({value}) IN ({string.Join(", ", items.Select(i => $"weir_timestamp({i})"))}))",
            _ => base.In(value, items, kind),
        };

    /// <inheritdoc/>
    protected override string Arithmetic(string sign, string left, string right, ValueKind kind) =>
        kind switch
        {
            ValueKind.Decimal => $"weir_calc('{sign}', {left}, {right})",
            ValueKind.Integer => $"weir_whole('{sign}', {left}, {right})",
            _ => $"(CAST({left} AS REAL) {sign} CAST({right} AS REAL))",
        };

    /// <inheritdoc/>
    protected override string Cast(string value, ValueKind from, ValueKind to) =>
        to switch
        {
            ValueKind.Text when from is ValueKind.Text or ValueKind.Decimal or ValueKind.Date => value,
            ValueKind.Text when from == ValueKind.Boolean => $"CASE WHEN {value} THEN 'true' WHEN NOT {value} THEN 'false' END",
            ValueKind.Text when from == ValueKind.Timestamp => $"substr(weir_timestamp({value}), 1, 19)",
            ValueKind.Decimal => $"weir_decimal({value})",
            ValueKind.Date => $"weir_date({value})",
            ValueKind.Timestamp => $"weir_timestamp({value})",
            ValueKind.Integer when from == ValueKind.Decimal || from == ValueKind.Float => $"weir_to_whole({value})",
            _ => base.Cast(value, from, to),
        };

    /// <inheritdoc/>
    protected override string Sum(string argument, ValueKind kind) =>
        kind == ValueKind.Decimal ? $"weir_sum({argument})" : $"sum({argument})";

    /// <inheritdoc/>
    protected override string Aggregate(Bound.Aggregate aggregate, string argument, ValueKind argumentKind, string? filter) =>
        // sum() of whole numbers is whole already; a cast through decimals would lose digits.
        aggregate is { Function: AggregateFunction.Sum, Kind: ValueKind.Integer }
            ? Filtered($"sum({argument})", filter)
            : base.Aggregate(aggregate, argument, argumentKind, filter);

    /// <inheritdoc/>
    protected override string Percentile(string argument, double fraction, string? filter) =>
        Filtered(
            $"weir_percentile(CAST({argument} AS REAL), {fraction.ToString("0.0###############", CultureInfo.InvariantCulture)})",
            filter
        );

    /// <inheritdoc/>
    protected override string Grain(string date, DateGrain grain) => $"weir_floor({date}, '{grain.Name()}', {(int)WeekStart})";

    /// <inheritdoc/>
    protected override string Part(string date, DatePart part) => $"weir_part({date}, '{part.Name()}')";

    /// <inheritdoc/>
    protected override string Call(Bound.Op node, IReadOnlyList<string> a)
    {
        var kind = node.Arguments[0].Kind;
        return node.Operation switch
        {
            Operation.Lower => $"weir_lower({a[0]})",
            Operation.Upper => $"weir_upper({a[0]})",
            Operation.Length => $"length({a[0]})",
            Operation.Trim => $"trim({a[0]}, ' ')",
            Operation.Substring => $"substr({a[0]}, {a[1]}, {a[2]})",
            Operation.Replace => $"replace({a[0]}, {a[1]}, {a[2]})",
            Operation.Position => $"instr({a[1]}, {a[0]})",
            Operation.Abs => kind == ValueKind.Decimal ? $"weir_calc('abs', '0', {a[0]})" : $"abs({a[0]})",
            Operation.Round => $"weir_calc('round', {a[1]}, {a[0]})",
            Operation.Floor => kind == ValueKind.Integer
                ? a[0]
                : $"CAST({(kind == ValueKind.Float ? $"weir_math('floor', {a[0]})" : $"weir_calc('floor', '0', {a[0]})")} AS INTEGER)",
            Operation.Ceiling => kind == ValueKind.Integer
                ? a[0]
                : $"CAST({(kind == ValueKind.Float ? $"weir_math('ceiling', {a[0]})" : $"weir_calc('ceiling', '0', {a[0]})")} AS INTEGER)",
            Operation.SquareRoot => $"weir_math('sqrt', {a[0]})",
            Operation.NaturalLogarithm => $"weir_math('ln', {a[0]})",
            Operation.Exponential => $"weir_math('exp', {a[0]})",
            Operation.AddDays => $"weir_add({a[0]}, {a[1]}, 'day')",
            Operation.AddMonths => $"weir_add({a[0]}, {a[1]}, 'month')",
            Operation.DaysBetween => $"weir_between({a[0]}, {a[1]}, 'day')",
            Operation.MinutesBetween => $"weir_between({a[0]}, {a[1]}, 'minute')",
            Operation.Convert => $"weir_read({a[0]}, '{node.Kind.Name()}')",
            _ => throw new InvalidOperationException($"No SQL for {node.Operation}."),
        };
    }

    /// <inheritdoc/>
    protected override string IsDrawn(int percent) => $"abs(random() % 100) < {percent}";
}
