using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines;

/// <summary>What is in a database that has the standard's information schema; engines add what it lacks.</summary>
/// <param name="dialect">Gives the marks of parameters.</param>
/// <param name="tables">The statement for tables, since the standard has no row estimates.</param>
/// <param name="fullType">The column of information_schema.columns with the type in full.</param>
/// <param name="references">The statement for foreign keys; its parameters are schema and table.</param>
/// <param name="mayWrite">The statement that tells whether the login could write.</param>
internal sealed class ServerCatalog(SqlDialect dialect, string tables, string fullType, string references, string mayWrite) : ICatalog
{
    private static SqlText Of(string text, params string?[] values) =>
        new(text, [.. values.Select(v => new SqlParameter(v, ValueKind.Text))]);

    public SqlText Tables() => Of(tables);

    public SqlText Columns(string? schema, string table) =>
        Of(
            $"""
            SELECT c.column_name, c.{fullType}, CASE WHEN c.is_nullable = 'YES' THEN 1 ELSE 0 END, (
                SELECT min(k.ordinal_position) FROM information_schema.key_column_usage k
                JOIN information_schema.table_constraints t
                  ON t.constraint_name = k.constraint_name AND t.table_schema = k.table_schema AND t.table_name = k.table_name
                WHERE t.constraint_type = 'PRIMARY KEY' AND k.table_schema = c.table_schema AND k.table_name = c.table_name AND k.column_name = c.column_name)
            FROM information_schema.columns c WHERE c.table_schema = {dialect.BareMark(1)} AND c.table_name = {dialect.BareMark(
                2
            )} ORDER BY c.ordinal_position
            """,
            schema,
            table
        );

    public SqlText References(string? schema, string table) => Of(references, schema, table);

    public SqlText? MayWrite() => Of(mayWrite);

    public ValueKind KindOf(string type) => CatalogReader.CommonKind(type);
}
