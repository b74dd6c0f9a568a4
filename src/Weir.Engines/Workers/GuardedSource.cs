using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Engines.Files;

namespace Weir.Engines.Workers;

/// <summary>
/// A source as the service asks it: what Weir wrote runs in process, what somebody typed and the reading of files in worker
/// processes, whose memory and time are held from outside.
/// </summary>
public sealed class GuardedSource : IEngineSource
{
    private readonly IEngineSource _source;
    private readonly WorkerPool _workers;

    private GuardedSource(IEngineSource source, WorkerPool workers)
    {
        _source = source;
        _workers = workers;
    }

    /// <summary>Makes ready to ask a source.</summary>
    public static IEngineSource Open(Source source, EngineFolders folders)
    {
        if (folders.Worker is null)
            return Engines.ByName(source.Engine).Open(source, folders);
        var workers = new WorkerPool(source, folders);
        return new GuardedSource(
            source.Engine == "files" ? new FilesSource(source, folders, workers.Load) : Engines.ByName(source.Engine).Open(source, folders),
            workers
        );
    }

    /// <inheritdoc/>
    public ICatalog Catalog => _source.Catalog;

    /// <inheritdoc/>
    public long DataVersion => _source.DataVersion;

    /// <inheritdoc/>
    public async Task<IReadOnlyList<object?[]>> Read(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        CancellationToken cancellation
    )
    {
        if (sql.Typed is null)
            return await _source.Read(sql, kinds, session, cancellation);
        await _source.Prepare(cancellation);
        return await _workers.Read(sql, kinds, session, cancellation);
    }

    /// <inheritdoc/>
    public async Task ReadInPieces(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        Action<IReadOnlyList<object?[]>> take,
        CancellationToken cancellation
    )
    {
        if (sql.Typed is null)
        {
            await _source.ReadInPieces(sql, kinds, session, take, cancellation);
            return;
        }
        await _source.Prepare(cancellation);
        await _workers.ReadInPieces(sql, kinds, session, take, cancellation);
    }

    /// <inheritdoc/>
    public async Task<IReadOnlyList<(string Name, string Type)>> Describe(
        SqlText sql,
        IReadOnlyDictionary<string, string> session,
        CancellationToken cancellation
    )
    {
        if (sql.Typed is null)
            return await _source.Describe(sql, session, cancellation);
        await _source.Prepare(cancellation);
        return await _workers.Describe(sql, session, cancellation);
    }

    /// <inheritdoc/>
    public Task<IReadOnlyList<Unfit>> Unfit(CancellationToken cancellation) => _source.Unfit(cancellation);

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        await _source.DisposeAsync();
        await _workers.DisposeAsync();
    }
}
