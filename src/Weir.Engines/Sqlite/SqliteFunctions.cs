using System.Globalization;
using Microsoft.Data.Sqlite;
using Weir.Core.Expressions;
using Calendar = Weir.Core.Expressions.Calendar;

namespace Weir.Engines.Sqlite;

/// <summary>
/// What SQLite lacks, put into a connection as functions: exact decimal numbers (as texts in one canonical form), dates and
/// timestamps (as ISO texts), and Weir's meaning of LIKE, lower and upper. Null in gives null out.
/// </summary>
internal static class SqliteFunctions
{
    private static readonly CultureInfo Invariant = CultureInfo.InvariantCulture;

    /// <summary>A value of Weir as SQLite holds it.</summary>
    public static object Stored(object value) =>
        value switch
        {
            decimal d => Canonical(d),
            DateOnly day => day.ToString("yyyy-MM-dd", Invariant),
            DateTime at => Write(at),
            bool b => b ? 1L : 0L,
            _ => value,
        };

    /// <summary>Adds the functions, aggregates and the collation to a connection.</summary>
    public static void AddTo(SqliteConnection connection)
    {
        connection.CreateCollation(
            "weir_decimal",
            (a, b) =>
                decimal.TryParse(a, NumberStyles.Float, Invariant, out var x)
                && decimal.TryParse(b, NumberStyles.Float, Invariant, out var y)
                    ? x.CompareTo(y)
                    : string.CompareOrdinal(a, b)
        );
        connection.CreateFunction("weir_decimal", (object? v) => Decimal(v) is { } d ? Canonical(d) : null, isDeterministic: true);
        connection.CreateFunction(
            "weir_date",
            (object? v) => Instant(v) is { } at ? at.ToString("yyyy-MM-dd", Invariant) : null,
            isDeterministic: true
        );
        connection.CreateFunction("weir_timestamp", (object? v) => Instant(v) is { } at ? Write(at) : null, isDeterministic: true);
        connection.CreateFunction(
            "weir_calc",
            (string sign, object? a, object? b) => Decimal(a) is { } x && Decimal(b) is { } y ? Canonical(Calculate(sign, x, y)) : null,
            isDeterministic: true
        );
        connection.CreateFunction(
            "weir_whole",
            (string sign, long? a, long? b) => a is { } x && b is { } y ? Calculate(sign, x, y) : (long?)null,
            isDeterministic: true
        );
        connection.CreateFunction(
            "weir_to_whole",
            (object? v) => Decimal(v) is { } d ? (long)Math.Round(d, MidpointRounding.AwayFromZero) : (long?)null,
            isDeterministic: true
        );
        connection.CreateFunction(
            "weir_math",
            (string name, double? v) =>
                v is not { } x
                    ? null
                    : name switch
                    {
                        "sqrt" => x >= 0 ? Math.Sqrt(x) : null,
                        "ln" => x > 0 ? Math.Log(x) : null,
                        "floor" => Math.Floor(x),
                        "ceiling" => Math.Ceiling(x),
                        _ => (double?)Math.Exp(x),
                    },
            isDeterministic: true
        );
        connection.CreateFunction(
            "weir_like",
            (string? text, string? pattern) => text is null || pattern is null ? (bool?)null : Evaluator.Like(text, pattern),
            isDeterministic: true
        );
        connection.CreateFunction("weir_lower", (string? text) => text?.ToLowerInvariant(), isDeterministic: true);
        connection.CreateFunction("weir_upper", (string? text) => text?.ToUpperInvariant(), isDeterministic: true);
        connection.CreateFunction(
            "weir_read",
            (string? text, string kind) =>
                text is null || TextReading.Read(text, ValueKinds.Parse(kind)!.Value) is not { } value ? null : Stored(value),
            isDeterministic: true
        );
        AddDates(connection);
        connection.CreateAggregate(
            "weir_sum",
            (decimal?)null,
            (decimal? sum, object? v) => Decimal(v) is { } d ? (sum ?? 0) + d : sum,
            sum => sum is { } total ? Canonical(total) : null,
            isDeterministic: true
        );
        connection.CreateAggregate(
            "weir_percentile",
            (Values: (List<double>?)null, Fraction: 0.0),
            ((List<double>? Values, double Fraction) seen, double? v, double fraction) =>
            {
                var values = seen.Values ?? [];
                if (v is { } value)
                    values.Add(value);
                return (values, fraction);
            },
            seen => seen.Values is { Count: > 0 } values ? Evaluator.Percentile([.. values.Order()], seen.Fraction) : (double?)null,
            isDeterministic: true
        );
    }

    private static void AddDates(SqliteConnection connection)
    {
        connection.CreateFunction(
            "weir_floor",
            (object? v, string grain, long weekStart) =>
            {
                if (Instant(v) is not { } at)
                    return null;
                var of = Calendar.ParseGrain(grain)!.Value;
                var floor = Calendar.Floor(at, of, (DayOfWeek)weekStart);
                return of == DateGrain.Hour ? Write(floor) : floor.ToString("yyyy-MM-dd", Invariant);
            },
            isDeterministic: true
        );
        connection.CreateFunction(
            "weir_part",
            (object? v, string part) => Instant(v) is { } at ? Calendar.Part(at, Calendar.ParsePart(part)!.Value) : (long?)null,
            isDeterministic: true
        );
        connection.CreateFunction(
            "weir_add",
            (string? v, long? count, string unit) =>
            {
                if (Instant(v) is not { } at || count is not { } n)
                    return null;
                var moved = unit == "day" ? at.AddDays(n) : at.AddMonths(checked((int)n));
                return v!.Length <= 10 ? moved.ToString("yyyy-MM-dd", Invariant) : Write(moved);
            },
            isDeterministic: true
        );
        connection.CreateFunction(
            "weir_between",
            (object? a, object? b, string unit) =>
                Instant(a) is { } x && Instant(b) is { } y
                    ? unit == "day"
                        ? (y.Date - x.Date).Days
                        : (y - x).Ticks / TimeSpan.TicksPerMinute
                    : (long?)null,
            isDeterministic: true
        );
    }

    private static decimal Calculate(string sign, decimal a, decimal b) =>
        sign switch
        {
            "+" => a + b,
            "-" => a - b,
            "*" => a * b,
            "abs" => Math.Abs(b),
            "round" => Math.Round(b, (int)a, MidpointRounding.AwayFromZero),
            "floor" => Math.Floor(b),
            _ => Math.Ceiling(b),
        };

    private static long Calculate(string sign, long a, long b) =>
        sign switch
        {
            "+" => checked(a + b),
            "-" => checked(a - b),
            _ => checked(a * b),
        };

    /// <summary>One text for one number: no zeros at the end, no negative zero.</summary>
    private static string Canonical(decimal value)
    {
        var text = value.ToString(Invariant);
        if (text.Contains('.'))
            text = text.TrimEnd('0').TrimEnd('.');
        return text is "-0" ? "0" : text;
    }

    private static decimal? Decimal(object? value) =>
        value switch
        {
            null or DBNull => null,
            long n => n,
            // The shortest digits that give the same number are what was written into the column; beyond its sixth digit a
            // floating-point result does not count.
            double d => Math.Round(
                decimal.Parse(d.ToString("R", Invariant), NumberStyles.Float, Invariant),
                6,
                MidpointRounding.AwayFromZero
            ),
            string s when decimal.TryParse(s, NumberStyles.Float, Invariant, out var parsed) => parsed,
            _ => null,
        };

    private static DateTime? Instant(object? value) =>
        value is string text
        && DateTime.TryParseExact(
            text.Replace('T', ' '),
            ["yyyy-MM-dd", "yyyy-MM-dd HH:mm", "yyyy-MM-dd HH:mm:ss", "yyyy-MM-dd HH:mm:ss.FFFFFFF"],
            Invariant,
            DateTimeStyles.None,
            out var at
        )
            ? at
            : null;

    private static string Write(DateTime at) =>
        at.ToString(at.Ticks % TimeSpan.TicksPerSecond == 0 ? "yyyy-MM-dd HH:mm:ss" : "yyyy-MM-dd HH:mm:ss.ffffff", Invariant);
}
