using Weir.Core.Expressions;
using Weir.Core.Queries;
using Weir.Core.Results;

namespace Weir.Engines;

/// <summary>Asks a source a planned question: print, run, count what was cut off.</summary>
public static class EngineAsk
{
    /// <summary>The answer, at most as many lines as the question allows, and how many there would be.</summary>
    public static async Task<QueryAnswer> Ask(this IEngineSource source, Query query, SqlDialect dialect, CancellationToken cancellation)
    {
        var columns = query.Columns;
        var session = query.Scope.Session;
        var values = await source.Read(dialect.Print(SelectBuilder.Build(query)), [.. columns.Select(c => c.Kind)], session, cancellation);
        var table = new Table(columns, values);
        if (table.Rows <= query.Limit)
            return new QueryAnswer(table, table.Rows);
        var count = await source.Read(dialect.Print(SelectBuilder.Count(query)), [ValueKind.Integer], session, cancellation);
        return new QueryAnswer(table with { Values = [.. values.Select(v => v[..query.Limit])] }, (long)count[0][0]!);
    }
}
