using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines;

/// <summary>How an engine is asked what is in a database. Each statement brings the columns that its comment names.</summary>
public interface ICatalog
{
    /// <summary>Schema, name, kind ("table" or "view") and estimated rows (null if the engine has no estimate) of every table.</summary>
    SqlText Tables();

    /// <summary>Name, the engine's type, whether null may stand (true or false) and the place in the primary key (from 1, else null) of each column.</summary>
    SqlText Columns(string? schema, string table);

    /// <summary>Column, referred schema, referred table and referred column of each foreign key.</summary>
    SqlText References(string? schema, string table);

    /// <summary>One value: true if the login could write, so that a warning is due. Null if the engine can't tell.</summary>
    SqlText? MayWrite();

    /// <summary>Weir's type for one of the engine's.</summary>
    ValueKind KindOf(string type);

    /// <summary>True if columns of one type commonly hold values of another on this engine, which has no type of its own for them.</summary>
    bool Holds(ValueKind column, ValueKind values) => false;
}

/// <summary>A table of a source.</summary>
/// <param name="Rows">About how many rows; null if the engine does not say.</param>
public sealed record CatalogTable(string? Schema, string Name, string Kind, long? Rows);

/// <summary>A column of a table.</summary>
/// <param name="Type">The engine's own name of the type.</param>
/// <param name="Key">The place in the primary key, from 1.</param>
public sealed record CatalogColumn(string Name, string Type, ValueKind Kind, bool Nullable, long? Key);

/// <summary>A foreign key of one column.</summary>
public sealed record CatalogReference(string Column, string? Schema, string Table, string OtherColumn);

/// <summary>A table with its columns and keys.</summary>
public sealed record CatalogDetail(CatalogTable Table, IReadOnlyList<CatalogColumn> Columns, IReadOnlyList<CatalogReference> References);

/// <summary>Reads the catalog of a source.</summary>
public static class CatalogReader
{
    private static readonly IReadOnlyDictionary<string, string> Nobody = new Dictionary<string, string>();

    /// <summary>All tables and views that the login can see, by schema and name.</summary>
    /// <exception cref="SourceException">The source can't answer.</exception>
    public static async Task<IReadOnlyList<CatalogTable>> Tables(this IEngineSource source, CancellationToken cancellation)
    {
        var rows = await source.Read(
            source.Catalog.Tables(),
            [ValueKind.Text, ValueKind.Text, ValueKind.Text, ValueKind.Integer],
            Nobody,
            cancellation
        );
        return
        [
            .. Enumerable
                .Range(0, rows[0].Length)
                .Select(r => new CatalogTable(
                    (string?)rows[0][r],
                    (string)rows[1][r]!,
                    (string)rows[2][r]!,
                    (long?)rows[3][r] is >= 0 and var n ? n : null
                ))
                .OrderBy(t => t.Schema, StringComparer.Ordinal)
                .ThenBy(t => t.Name, StringComparer.Ordinal),
        ];
    }

    /// <summary>A table with its columns and keys; null if there is none of that name.</summary>
    /// <exception cref="SourceException">The source can't answer.</exception>
    public static async Task<CatalogDetail?> Table(this IEngineSource source, string? schema, string name, CancellationToken cancellation)
    {
        // Found in the list first, so that the names are the database's own.
        var tables = await source.Tables(cancellation);
        if (tables.FirstOrDefault(t => t.Name == name && (schema is null || t.Schema == schema)) is not { } table)
            return null;
        var columns = await source.Read(
            source.Catalog.Columns(table.Schema, table.Name),
            [ValueKind.Text, ValueKind.Text, ValueKind.Boolean, ValueKind.Integer],
            Nobody,
            cancellation
        );
        var references = await source.Read(
            source.Catalog.References(table.Schema, table.Name),
            [ValueKind.Text, ValueKind.Text, ValueKind.Text, ValueKind.Text],
            Nobody,
            cancellation
        );
        return new CatalogDetail(
            table,
            [
                .. Enumerable
                    .Range(0, columns[0].Length)
                    .Select(r => new CatalogColumn(
                        (string)columns[0][r]!,
                        (string)columns[1][r]!,
                        source.Catalog.KindOf((string)columns[1][r]!),
                        columns[2][r] is true,
                        (long?)columns[3][r] is > 0 and var key ? key : null
                    )),
            ],
            [
                .. Enumerable
                    .Range(0, references[0].Length)
                    .Select(r => new CatalogReference(
                        (string)references[0][r]!,
                        (string?)references[1][r],
                        (string)references[2][r]!,
                        (string)references[3][r]!
                    )),
            ]
        );
    }

    /// <summary>True if the login could write, false if not, null if the engine can't tell.</summary>
    /// <exception cref="SourceException">The source can't answer.</exception>
    public static async Task<bool?> MayWrite(this IEngineSource source, CancellationToken cancellation)
    {
        if (source.Catalog.MayWrite() is not { } sql)
            return null;
        var rows = await source.Read(sql, [ValueKind.Boolean], Nobody, cancellation);
        return rows[0].Length > 0 && rows[0][0] is true;
    }

    /// <summary>Weir's type for a type as databases commonly call it.</summary>
    public static ValueKind CommonKind(string type)
    {
        var word = type.ToLowerInvariant().Split('(', 2)[0].Trim();
        return word switch
        {
            "boolean" or "bool" or "bit" => ValueKind.Boolean,
            "tinyint" when type.StartsWith("tinyint(1)", StringComparison.OrdinalIgnoreCase) => ValueKind.Boolean,
            _ when word.Contains("int") && !word.Contains("interval") && !word.Contains("point") => ValueKind.Integer,
            "serial" or "bigserial" => ValueKind.Integer,
            "decimal" or "numeric" or "money" or "smallmoney" => ValueKind.Decimal,
            "real" or "float" or "double" or "double precision" or "float4" or "float8" => ValueKind.Float,
            "date" => ValueKind.Date,
            _ when word.StartsWith("timestamp", StringComparison.Ordinal)
                    || word.StartsWith("datetime", StringComparison.Ordinal)
                    || word == "smalldatetime" => ValueKind.Timestamp,
            _ => ValueKind.Text,
        };
    }
}
