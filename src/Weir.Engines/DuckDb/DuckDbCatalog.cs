using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.DuckDb;

/// <summary>What is in a DuckDB database.</summary>
internal sealed class DuckDbCatalog : ICatalog
{
    private static SqlText Of(string text, params string?[] values) =>
        new(text, [.. values.Select(v => new SqlParameter(v, ValueKind.Text))]);

    public SqlText Tables() =>
        Of(
            """
            SELECT schema_name, table_name, 'table', estimated_size FROM duckdb_tables()
            WHERE NOT internal AND database_name = current_database() AND table_name <> 'weir_unfit'
            UNION ALL
            SELECT schema_name, view_name, 'view', NULL FROM duckdb_views() WHERE NOT internal AND database_name = current_database()
            """
        );

    public SqlText Columns(string? schema, string table) =>
        Of(
            """
            SELECT c.column_name, c.data_type, c.is_nullable,
                (SELECT list_position(k.constraint_column_names, c.column_name) FROM duckdb_constraints() k
                 WHERE k.constraint_type = 'PRIMARY KEY' AND k.schema_name = c.schema_name AND k.table_name = c.table_name LIMIT 1)
            FROM duckdb_columns() c WHERE c.schema_name = $1 AND c.table_name = $2 AND c.database_name = current_database() ORDER BY c.column_index
            """,
            schema,
            table
        );

    public SqlText References(string? schema, string table) =>
        Of(
            """
            SELECT unnest(constraint_column_names), schema_name, referenced_table, unnest(referenced_column_names)
            FROM duckdb_constraints() WHERE constraint_type = 'FOREIGN KEY' AND schema_name = $1 AND table_name = $2
            """,
            schema,
            table
        );

    // The file is opened for reading only, whoever the login is.
    public SqlText? MayWrite() => null;

    public ValueKind KindOf(string type) => CatalogReader.CommonKind(type);
}
