using Weir.Core.Expressions;
using Weir.Core.Sql;
using Weir.Engines;

namespace Weir.Service.Answers;

/// <summary>A source whose every statement waits until it may go out.</summary>
/// <param name="take">Waits for that.</param>
internal sealed class PacedSource(IEngineSource source, Func<CancellationToken, Task> take) : IEngineSource
{
    public ICatalog Catalog => source.Catalog;

    public long DataVersion => source.DataVersion;

    public async Task<IReadOnlyList<object?[]>> Read(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        CancellationToken cancellation
    )
    {
        await take(cancellation);
        return await source.Read(sql, kinds, session, cancellation);
    }

    public async Task ReadInPieces(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        Action<IReadOnlyList<object?[]>> piece,
        CancellationToken cancellation
    )
    {
        await take(cancellation);
        await source.ReadInPieces(sql, kinds, session, piece, cancellation);
    }

    public async Task<IReadOnlyList<(string Name, string Type)>> Describe(
        SqlText sql,
        IReadOnlyDictionary<string, string> session,
        CancellationToken cancellation
    )
    {
        await take(cancellation);
        return await source.Describe(sql, session, cancellation);
    }

    public Task Prepare(CancellationToken cancellation) => source.Prepare(cancellation);

    public Task<IReadOnlyList<Unfit>> Unfit(CancellationToken cancellation) => source.Unfit(cancellation);

    public ValueTask DisposeAsync() => source.DisposeAsync();
}
