using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Results;
using Weir.Core.Sql;

namespace Weir.Engines;

/// <summary>Sends a statement, whose columns are of the given types, and brings its values in columns.</summary>
public delegate Task<IReadOnlyList<object?[]>> SendStatement(SqlText sql, IReadOnlyList<ValueKind> kinds);

/// <summary>Asks a source a planned question: print, run, count what was cut off.</summary>
public static class EngineAsk
{
    /// <summary>The answer, at most as many lines as the question allows, and how many there would be.</summary>
    public static Task<QueryAnswer> Ask(this IEngineSource source, Query query, SqlDialect dialect, CancellationToken cancellation) =>
        MemberNames.Brought((asked, stop) => Ask(asked, dialect, (sql, kinds) => source.Read(sql, kinds, asked.Scope.Session, stop)))(
            query,
            cancellation
        );

    /// <summary>The same, with each statement sent by the caller, who may keep answers.</summary>
    public static async Task<QueryAnswer> Ask(Query query, SqlDialect dialect, SendStatement send)
    {
        var columns = query.Columns;
        var statement = dialect.Print(SelectBuilder.Build(query));
        if (statement.Parameters.FirstOrDefault(p => p.Open is not null) is { Open: var open })
            throw new InvalidOperationException($"The question waits for {open}, which an earlier answer gives.");
        var values = await send(statement, [.. columns.Select(c => c.Kind)]);
        var table = new Table(columns, values);
        if (table.Rows <= query.Limit)
            return new QueryAnswer(table, table.Rows);
        var count = await send(dialect.Print(SelectBuilder.Count(query)), [ValueKind.Integer]);
        return new QueryAnswer(table with { Values = [.. values.Select(v => v[..query.Limit])] }, (long)count[0][0]!);
    }
}
