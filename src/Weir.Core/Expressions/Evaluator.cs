using System.Globalization;
using System.Numerics;
using System.Text;

namespace Weir.Core.Expressions;

/// <summary>
/// Evaluates bound formulas in memory. This is the reference that every engine's answers are compared with,
/// so it is written to be plainly right, not to be fast. Null follows the three-valued logic of SQL.
/// </summary>
/// <param name="weekStart">The first day of the workspace's week.</param>
public sealed class Evaluator(DayOfWeek weekStart)
{
    /// <summary>The value of a formula without aggregates for one row.</summary>
    /// <param name="column">Gives the row's value of a column.</param>
    /// <exception cref="ArithmeticException">A number leaves the range of its type.</exception>
    public object? Value(Bound bound, Func<Bound.Column, object?> column) =>
        Value(bound, column, static _ => throw new InvalidOperationException("An aggregate has no value for one row."));

    /// <summary>The value of a measure over rows.</summary>
    public object? Measure<TRow>(Bound bound, IReadOnlyList<TRow> rows, Func<TRow, Bound.Column, object?> column) =>
        Value(
            bound,
            static _ => throw new InvalidOperationException("A column outside an aggregate has no value over rows."),
            aggregate => Fold(aggregate, rows, column)
        );

    private object? Fold<TRow>(Bound.Aggregate aggregate, IReadOnlyList<TRow> rows, Func<TRow, Bound.Column, object?> column)
    {
        IEnumerable<TRow> counted = aggregate.Filter is null ? rows : rows.Where(r => Value(aggregate.Filter, c => column(r, c)) is true);
        if (aggregate.Function == AggregateFunction.CountRows)
            return (long)counted.Count();
        var values = counted.Select(r => Value(aggregate.Argument!, c => column(r, c))).OfType<object>().ToList();
        return aggregate.Function switch
        {
            AggregateFunction.Count => (long)values.Count,
            AggregateFunction.CountDistinct => (long)values.Distinct().Count(),
            _ when values.Count == 0 => null,
            AggregateFunction.Sum => Sum(values, aggregate.Kind),
            AggregateFunction.Average => values.Sum(AsDouble) / values.Count,
            AggregateFunction.Minimum => values.Aggregate((a, b) => Compare(a, b) <= 0 ? a : b),
            AggregateFunction.Maximum => values.Aggregate((a, b) => Compare(a, b) >= 0 ? a : b),
            AggregateFunction.Percentile => Percentile([.. values.Select(AsDouble).Order()], aggregate.Fraction),
            _ => throw new InvalidOperationException($"No fold for {aggregate.Function}."),
        };
    }

    private static object Sum(List<object> values, ValueKind kind) =>
        kind switch
        {
            ValueKind.Integer => (long)values.Aggregate(BigInteger.Zero, (sum, v) => sum + (long)v),
            ValueKind.Decimal => values.Sum(v => Convert.ToDecimal(v, CultureInfo.InvariantCulture)),
            _ => values.Sum(AsDouble),
        };

    /// <summary>Between the two values around the place fraction × (n − 1), in proportion (SQL's PERCENTILE_CONT).</summary>
    public static double Percentile(double[] sorted, double fraction)
    {
        var place = fraction * (sorted.Length - 1);
        var below = (int)Math.Floor(place);
        return below + 1 == sorted.Length ? sorted[below] : sorted[below] + ((place - below) * (sorted[below + 1] - sorted[below]));
    }

    private object? Value(Bound bound, Func<Bound.Column, object?> column, Func<Bound.Aggregate, object?> fold)
    {
        object? At(Bound b) => Value(b, column, fold);
        return bound switch
        {
            Bound.Literal l => l.Value,
            Bound.Column c => column(c),
            Bound.Grain g => At(g.Argument) is { } at ? AsDay(Calendar.Floor(AsInstant(at), g.Of, weekStart), g.Kind) : null,
            Bound.Part p => At(p.Argument) is { } at ? Calendar.Part(AsInstant(at), p.Of) : null,
            Bound.Aggregate a => fold(a),
            Bound.Op op => Operate(op, At),
            _ => throw new InvalidOperationException($"{bound.GetType().Name} has no value before a scope is made."),
        };
    }

    private static object? Operate(Bound.Op op, Func<Bound, object?> at)
    {
        var args = op.Arguments;
        switch (op.Operation)
        {
            case Operation.And:
                return Fold(args.Select(at), stop: false);
            case Operation.Or:
                return Fold(args.Select(at), stop: true);
            case Operation.IsNull:
                return at(args[0]) is null;
            case Operation.Same:
                return at(args[0]) is { } a ? at(args[1]) is { } b && Compare(a, b) == 0 : at(args[1]) is null;
            case Operation.Coalesce:
                return Widen(args.Select(at).FirstOrDefault(v => v is not null), op.Kind);
            case Operation.In:
                return In(at(args[0]), args.Skip(1).Select(at));
            case Operation.Case:
                for (var i = 0; i + 1 < args.Count; i += 2)
                    if (at(args[i]) is true)
                        return Widen(at(args[i + 1]), op.Kind);
                return Widen(at(args[^1]), op.Kind);
        }
        var left = at(args[0]);
        var right = args.Count > 1 ? at(args[1]) : left;
        if (left is null || right is null)
            return null;
        return op.Operation switch
        {
            Operation.Not => !(bool)left,
            Operation.Equal => Compare(left, right) == 0,
            Operation.NotEqual => Compare(left, right) != 0,
            Operation.Less => Compare(left, right) < 0,
            Operation.LessOrEqual => Compare(left, right) <= 0,
            Operation.Greater => Compare(left, right) > 0,
            Operation.GreaterOrEqual => Compare(left, right) >= 0,
            Operation.Divide => AsDouble(right) == 0 ? null : AsDouble(left) / AsDouble(right),
            Operation.Remainder => (long)right == 0 ? null : (long)left % (long)right,
            Operation.Add => Arithmetic(left, right, op.Kind, (a, b) => checked(a + b), (a, b) => a + b, (a, b) => a + b),
            Operation.Subtract => Arithmetic(left, right, op.Kind, (a, b) => checked(a - b), (a, b) => a - b, (a, b) => a - b),
            Operation.Multiply => Arithmetic(left, right, op.Kind, (a, b) => checked(a * b), (a, b) => a * b, (a, b) => a * b),
            Operation.Negate => Arithmetic(0L, left, op.Kind, (a, b) => checked(a - b), (a, b) => a - b, (_, b) => -b),
            Operation.Abs => Arithmetic(0L, left, op.Kind, (_, b) => Math.Abs(b), (_, b) => Math.Abs(b), (_, b) => Math.Abs(b)),
            Operation.Concatenate => (string)left + (string)right,
            Operation.Like => Like((string)left, (string)right),
            Operation.Lower => ((string)left).ToLowerInvariant(),
            Operation.Upper => ((string)left).ToUpperInvariant(),
            Operation.Length => (long)((string)left).EnumerateRunes().Count(),
            Operation.Trim => ((string)left).Trim(' '),
            Operation.Substring => string.Concat(((string)left).EnumerateRunes().Skip((int)(long)right - 1).Take((int)(long)at(args[2])!)),
            Operation.Replace => at(args[2]) is string put ? ((string)left).Replace((string)right, put, StringComparison.Ordinal) : null,
            Operation.Position => ((string)right).IndexOf((string)left, StringComparison.Ordinal) is >= 0 and var found
                ? ((string)right)[..found].EnumerateRunes().Count() + 1L
                : 0L,
            Operation.Round => Math.Round(ToDecimal(left), (int)(long)right, MidpointRounding.AwayFromZero),
            Operation.Floor => left is long
                ? left
                : checked((left is double real ? (long)Math.Floor(real) : (long)Math.Floor((decimal)left))),
            Operation.Ceiling => left is long
                ? left
                : checked((left is double real ? (long)Math.Ceiling(real) : (long)Math.Ceiling((decimal)left))),
            Operation.SquareRoot => AsDouble(left) is >= 0 and var n ? Math.Sqrt(n) : null,
            Operation.NaturalLogarithm => AsDouble(left) is > 0 and var n ? Math.Log(n) : null,
            Operation.Exponential => Math.Exp(AsDouble(left)),
            Operation.AddDays => AsDay(AsInstant(left).AddDays((long)right), op.Kind),
            Operation.AddMonths => AsDay(AsInstant(left).AddMonths(checked((int)(long)right)), op.Kind),
            Operation.DaysBetween => (long)(AsInstant(right).Date - AsInstant(left).Date).Days,
            Operation.MinutesBetween => (AsInstant(right) - AsInstant(left)).Ticks / TimeSpan.TicksPerMinute,
            Operation.Cast => Cast(left, op.Kind),
            Operation.Convert => TextReading.Read((string)left, op.Kind),
            _ => throw new InvalidOperationException($"No value for {op.Operation}."),
        };
    }

    /// <summary>AND stops at false, OR at true; otherwise null wins over the neutral value.</summary>
    private static object? Fold(IEnumerable<object?> conditions, bool stop)
    {
        object? result = !stop;
        foreach (var condition in conditions)
        {
            if (condition is bool value && value == stop)
                return stop;
            if (condition is null)
                result = null;
        }
        return result;
    }

    private static object? In(object? value, IEnumerable<object?> items)
    {
        if (value is null)
            return null;
        var sawNull = false;
        foreach (var item in items)
        {
            if (item is null)
                sawNull = true;
            else if (Compare(value, item) == 0)
                return true;
        }
        return sawNull ? null : false;
    }

    private static object Arithmetic(
        object left,
        object right,
        ValueKind kind,
        Func<long, long, long> whole,
        Func<decimal, decimal, decimal> exact,
        Func<double, double, double> real
    ) =>
        kind switch
        {
            ValueKind.Integer => whole((long)left, (long)right),
            ValueKind.Decimal => exact(
                Convert.ToDecimal(left, CultureInfo.InvariantCulture),
                Convert.ToDecimal(right, CultureInfo.InvariantCulture)
            ),
            _ => real(AsDouble(left), AsDouble(right)),
        };

    private static object? Widen(object? value, ValueKind kind) =>
        (value, kind) switch
        {
            (long n, ValueKind.Decimal) => (decimal)n,
            (long or decimal, ValueKind.Float) => AsDouble(value),
            (DateOnly d, ValueKind.Timestamp) => d.ToDateTime(TimeOnly.MinValue),
            _ => value,
        };

    private static object Cast(object value, ValueKind kind) =>
        kind switch
        {
            ValueKind.Text => value switch
            {
                string s => s,
                bool b => b ? "true" : "false",
                DateOnly d => d.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
                DateTime t => t.ToString("yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture),
                _ => Convert.ToString(value, CultureInfo.InvariantCulture)!,
            },
            ValueKind.Integer => value is long
                ? value
                : (long)Math.Round(Convert.ToDecimal(value, CultureInfo.InvariantCulture), MidpointRounding.AwayFromZero),
            ValueKind.Decimal => ToDecimal(value),
            ValueKind.Float => AsDouble(value),
            ValueKind.Date => DateOnly.FromDateTime(AsInstant(value)),
            ValueKind.Timestamp => AsInstant(value),
            _ => value,
        };

    /// <summary>A floating-point number counts to its sixth digit after the point.</summary>
    private static decimal ToDecimal(object value) =>
        value is double real
            ? Math.Round(Convert.ToDecimal(real), 6, MidpointRounding.AwayFromZero)
            : Convert.ToDecimal(value, CultureInfo.InvariantCulture);

    private static double AsDouble(object value) => Convert.ToDouble(value, CultureInfo.InvariantCulture);

    private static DateTime AsInstant(object value) => value is DateOnly day ? day.ToDateTime(TimeOnly.MinValue) : (DateTime)value;

    private static object AsDay(DateTime at, ValueKind kind) => kind == ValueKind.Date ? DateOnly.FromDateTime(at) : at;

    /// <summary>The order of two values of comparable types; text by Unicode code point, as engines with a binary collation do.</summary>
    public static int Compare(object left, object right) =>
        (left, right) switch
        {
            (string a, string b) => CompareText(a, b),
            (bool a, bool b) => a.CompareTo(b),
            (DateOnly or DateTime, DateOnly or DateTime) => AsInstant(left).CompareTo(AsInstant(right)),
            (double, _) or (_, double) => AsDouble(left).CompareTo(AsDouble(right)),
            (long a, long b) => a.CompareTo(b),
            _ => Convert.ToDecimal(left, CultureInfo.InvariantCulture).CompareTo(Convert.ToDecimal(right, CultureInfo.InvariantCulture)),
        };

    private static int CompareText(string a, string b) => Encoding.UTF8.GetBytes(a).AsSpan().SequenceCompareTo(Encoding.UTF8.GetBytes(b));

    /// <summary>SQL's LIKE: % stands for any run of characters, _ for one; letters count with their case.</summary>
    public static bool Like(string text, string pattern)
    {
        Rune[] t = [.. text.EnumerateRunes()];
        Rune[] p = [.. pattern.EnumerateRunes()];
        var reach = new bool[t.Length + 1];
        reach[0] = true;
        foreach (var rune in p)
        {
            var next = new bool[t.Length + 1];
            if (rune.Value == '%')
            {
                var seen = false;
                for (var i = 0; i <= t.Length; i++)
                    next[i] = seen |= reach[i];
            }
            else
            {
                for (var i = 0; i < t.Length; i++)
                    next[i + 1] = reach[i] && (rune.Value == '_' || rune == t[i]);
            }
            reach = next;
        }
        return reach[t.Length];
    }
}
