using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Service.Api;

/// <summary>How numbers are written.</summary>
/// <param name="Marks">True for a mark between thousands.</param>
/// <param name="UnitFirst">True for the unit before the number.</param>
/// <param name="Short">True for short forms: 12.4 k.</param>
public sealed record FormatInfo(int Decimals, int Factor, string Unit, bool Marks = true, bool UnitFirst = false, bool Short = false)
{
    internal static FormatInfo Of(Format format) =>
        new(format.Decimals, format.Factor, format.Unit, format.Marks, format.UnitFirst, format.Short);
}

/// <summary>A column of a result.</summary>
/// <param name="Colours">Fixed colours of members that stand in it.</param>
/// <param name="Edges">Where its values are the starts of ranges: the ends of all ranges in order, one more than there are values; else null.</param>
/// <param name="Places">The places of the other members among the series colours, from 0, by their values as text; null where colour tells
/// no members apart.</param>
/// <param name="Pattern">How its dates are written, in the letters of Unicode's date patterns; null for the usual way.</param>
/// <param name="Names">The names of members that are codes, by their values as text, as far as they stand in it.</param>
public sealed record ColumnInfo(
    string Name,
    string Title,
    string Role,
    string Kind,
    FormatInfo? Format,
    string? At,
    IReadOnlyDictionary<string, string>? Colours = null,
    IReadOnlyDictionary<string, string>? Names = null,
    string? Pattern = null,
    IReadOnlyDictionary<string, int>? Places = null,
    IReadOnlyList<object>? Edges = null
)
{
    internal static ColumnInfo Of(Column column) =>
        new(
            column.Name,
            column.Title,
            column.Role.ToString().ToLowerInvariant(),
            column.Kind.Name(),
            column.Format is null ? null : FormatInfo.Of(column.Format),
            column.At,
            column.Colours,
            column.Names,
            column.Pattern?.Text,
            column.Places,
            column.Edges
        );

    /// <summary>A column that tells of colours and names only those of members that stand in it, since others may be none of the viewer's.</summary>
    internal static ColumnInfo Of(Column column, object?[] values)
    {
        if (column.Colours is null && column.Names is null && column.Places is null)
            return Of(column);
        HashSet<string> members = [.. values.OfType<object>().Select(Values.Write)];
        return Of(
            column with
            {
                Colours = column.Colours?.Where(m => members.Contains(m.Key)).ToDictionary(),
                Names = column.Names?.Where(m => members.Contains(m.Key)).ToDictionary(),
                Places = column.Places?.Where(m => members.Contains(m.Key)).ToDictionary(),
            }
        );
    }
}

/// <summary>A result in columns.</summary>
public sealed record TableInfo(IReadOnlyList<ColumnInfo> Columns, IReadOnlyList<object?[]> Values)
{
    internal static TableInfo Of(Table table) =>
        new(
            [.. table.Columns.Select((c, i) => ColumnInfo.Of(c, table.Values[i]))],
            [.. table.Values.Select(v => v.Select(JsonValues.Of).ToArray())]
        );
}

/// <summary>Values as they travel.</summary>
internal static class JsonValues
{
    /// <summary>A value as JSON has it; an instant without a zone, a number that is none as null.</summary>
    public static object? Of(object? value) =>
        value switch
        {
            DateTime at => at.ToString("yyyy-MM-dd'T'HH:mm:ss", System.Globalization.CultureInfo.InvariantCulture),
            double d when !double.IsFinite(d) => null,
            _ => value,
        };
}
