using System.Globalization;
using Weir.Core.Expressions;

namespace Weir.Core.Results;

/// <summary>What a column of a result is for.</summary>
public enum ColumnRole
{
    /// <summary>A field that the tile is grouped by.</summary>
    Group,

    /// <summary>A measure.</summary>
    Figure,

    /// <summary>A measure that only the tip over a mark tells.</summary>
    Tip,

    /// <summary>True on the line that gathers the rest of a top N.</summary>
    Rest,

    /// <summary>The names of the members of the group column of the same name; never in what leaves.</summary>
    Name,
}

/// <summary>A column of a result with all that a reader needs to write its values.</summary>
/// <param name="Name">The measure, or the field at its grain: <c>departed.month</c>.</param>
/// <param name="At">The grain or part of a date, by its name in formulas.</param>
public sealed record Column(string Name, string Title, ColumnRole Role, ValueKind Kind, Format? Format, string? At)
{
    /// <summary>Fixed colours of known members; null if there are none.</summary>
    public IReadOnlyDictionary<string, string>? Colours { get; init; }

    /// <summary>The places of members among the series colours, from 0, by their values as text; null where colour tells no members apart.</summary>
    public IReadOnlyDictionary<string, int>? Places { get; init; }

    /// <summary>Where its values are the starts of ranges: the ends of all ranges in order, one more than there are values; else null.</summary>
    public IReadOnlyList<object>? Edges { get; init; }

    /// <summary>How its dates are written; null for the usual way.</summary>
    public DatePattern? Pattern { get; init; }

    /// <summary>Names of members, by their values as text; null if members are their own names.</summary>
    public IReadOnlyDictionary<string, string>? Names { get; init; }
}

/// <summary>A result in columns; every column has a value for every row.</summary>
public sealed record Table(IReadOnlyList<Column> Columns, IReadOnlyList<object?[]> Values)
{
    /// <summary>How many rows there are.</summary>
    public int Rows => Values.Count == 0 ? 0 : Values[0].Length;

    /// <summary>The values of one row.</summary>
    public object?[] Row(int row) => [.. Values.Select(v => v[row])];

    /// <summary>The index of the column with a role, or -1.</summary>
    public int IndexOf(ColumnRole role) =>
        Columns.Select((c, i) => (c, i)).Where(x => x.c.Role == role).Select(x => x.i).DefaultIfEmpty(-1).First();

    /// <summary>A table from rows.</summary>
    public static Table FromRows(IReadOnlyList<Column> columns, IReadOnlyList<object?[]> rows) =>
        new(columns, [.. columns.Select((_, c) => rows.Select(r => r[c]).ToArray())]);
}

/// <summary>Writes values for people.</summary>
public static class Labels
{
    /// <summary>What stands for a missing member.</summary>
    public const string NotGiven = "not given";

    /// <summary>What stands for the rest of a top N.</summary>
    public const string Rest = "all others";

    private static readonly string[] Days = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

    /// <summary>A value of a column as text. A missing member is "not given", a missing figure a dash.</summary>
    public static string Write(object? value, Column column)
    {
        if (value is null)
            return column.Role == ColumnRole.Group ? NotGiven : "–";
        if (column.Names is { } names && names.TryGetValue(Values.Write(value), out var name))
            return name;
        if (
            column.Edges is { } edges
            && edges.ToList().FindIndex(e => Evaluator.Compare(e, value) == 0) is >= 0 and var place
            && place + 1 < edges.Count
        )
        {
            var bare = column with { Edges = null };
            var start = bare with { Format = column.Format is null ? null : column.Format with { Unit = "" } };
            return $"{Write(value, start)} to {Write(edges[place + 1], bare)}";
        }
        var invariant = CultureInfo.InvariantCulture;
        var at = value switch
        {
            DateOnly d => d.ToDateTime(TimeOnly.MinValue),
            DateTime t => t,
            _ => (DateTime?)null,
        };
        if (column.Pattern is { } pattern && at is { } instant)
            return pattern.Write(instant);
        return (column.At, at, value) switch
        {
            ("year", { } t, _) => t.ToString("yyyy", invariant),
            ("quarter", { } t, _) => $"Q{((t.Month - 1) / 3) + 1} {t:yyyy}",
            ("month", { } t, _) => t.ToString("MMM yyyy", invariant),
            ("week", { } t, _) => $"week of {t.ToString("d MMM yyyy", invariant)}",
            ("hour", { } t, _) => t.ToString("d MMM yyyy HH:mm", invariant),
            (_, { } t, _) => t.ToString(column.Kind == ValueKind.Timestamp ? "d MMM yyyy HH:mm" : "d MMM yyyy", invariant),
            ("day_of_week", _, long n and >= 1 and <= 7) => Days[n - 1],
            ("month_of_year", _, long n and >= 1 and <= 12) => invariant.DateTimeFormat.GetAbbreviatedMonthName((int)n),
            ("quarter_of_year", _, long n and >= 1 and <= 4) => $"Q{n}",
            ("hour_of_day", _, long n) => $"{n:00}:00",
            ("day_of_month" or "year_number", _, long n) => n.ToString(invariant),
            (_, _, bool b) => b ? "yes" : "no",
            (_, _, string s) => s.Length == 0 ? "(empty)" : s,
            _ => (column.Format ?? new Format(column.Kind == ValueKind.Integer ? 0 : 2, 1, "")).Write(value),
        };
    }
}
