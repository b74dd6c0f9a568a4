using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines;

/// <summary>Something about a column that the database has otherwise than a dataset says.</summary>
/// <param name="Line">Where the field or join stands in its file.</param>
public sealed record ColumnFault(Severity Severity, string Code, int Line, string Message, string? Remedy);

/// <summary>Holds the columns of a dataset against those of the database: that they are there, and of which types.</summary>
public static class ColumnChecks
{
    /// <summary>Every field and join whose columns are missing or of another type.</summary>
    /// <param name="scope">A right to all of the dataset.</param>
    /// <exception cref="SourceException">The source can't be reached, or refuses a table or the query.</exception>
    public static async Task<IReadOnlyList<ColumnFault>> Of(
        Dataset dataset,
        Scope scope,
        IEngineSource source,
        SqlDialect dialect,
        CancellationToken cancellation
    )
    {
        var known = new Dictionary<string, IReadOnlyDictionary<string, string>>();
        foreach (var rows in new[] { scope.From }.Concat(dataset.Joins.Select(j => j.Table)))
            known[rows.Alias] = (await source.Describe(dialect.Print(DatasetChecks.AllColumns(rows)), scope.Session, cancellation))
                .DistinctBy(c => c.Name, StringComparer.OrdinalIgnoreCase)
                .ToDictionary(c => c.Name, c => c.Type, StringComparer.OrdinalIgnoreCase);
        var faults = new List<ColumnFault>();
        bool IsThere(Bound.Column column, int line, string what)
        {
            if (!known.TryGetValue(column.Table, out var columns) || columns.ContainsKey(column.Name))
                return true;
            if (!faults.Any(f => f.Line == line && f.Code == "unknown-column"))
                faults.Add(
                    new ColumnFault(
                        Severity.Error,
                        "unknown-column",
                        line,
                        $"{what}: {column.Table} has no column {column.Name}.",
                        Nearest.Remedy(column.Name, columns.Keys)
                    )
                );
            return false;
        }
        foreach (var join in dataset.Joins)
        foreach (var (left, right) in join.On)
            _ = IsThere(left, join.Line, $"The join of {join.Table.Alias}") && IsThere(right, join.Line, $"The join of {join.Table.Alias}");
        foreach (var field in dataset.Fields.Values)
        {
            if (field.NamedBy is Bound.Column name)
                IsThere(name, field.Line, $"The names of {field.Name}");
            // What is read from text, or made by a formula over other fields, is of the type that it is made to be.
            if (
                field.ReadFrom is { } column
                && IsThere(column, field.Line, field.Name)
                && field.Quality.Unfit is null
                && known.GetValueOrDefault(column.Table)?.GetValueOrDefault(column.Name) is { Length: > 0 } type
                && Differs(column, type, source.Catalog) is { } fault
            )
                faults.Add(fault with { Line = field.Line, Message = $"{field.Name}: {fault.Message}" });
        }
        return faults;
    }

    private static ColumnFault? Differs(Bound.Column column, string type, ICatalog catalog)
    {
        var has = catalog.KindOf(type);
        if (has == column.Kind || catalog.Holds(has, column.Kind))
            return null;
        var written = $"The column {column.Table}.{column.Name} is {type.ToLowerInvariant()}";
        if (column.Kind.IsNumber() && has.IsNumber())
            return column.Kind == ValueKind.Integer
                ? new ColumnFault(
                    Severity.Warning,
                    "column-type",
                    0,
                    $"{written}, the field integer: what stands behind the point is lost.",
                    $"Write type: {has.Name()}."
                )
                : null;
        if (column.Kind.IsTemporal() && has.IsTemporal())
            return column.Kind == ValueKind.Date
                ? new ColumnFault(
                    Severity.Warning,
                    "column-type",
                    0,
                    $"{written}, the field a date: rows of one day at different times stay apart.",
                    "Write type: timestamp, and group by its .day."
                )
                : null;
        return new ColumnFault(
            Severity.Error,
            "column-type",
            0,
            $"{written}, the field {column.Kind.Name()}.",
            has == ValueKind.Text
                ? $"Write type: text, or unfit: missing to have it read as {column.Kind.Name()}."
                : $"Write type: {has.Name()}{(column.Kind == ValueKind.Text ? "; text is what a column is taken for if type is left out" : "")}."
        );
    }
}
