using System.Collections.Concurrent;
using System.Diagnostics.Metrics;
using System.Text;
using System.Text.Json;
using Microsoft.Extensions.Caching.Memory;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Sql;
using Weir.Engines;

namespace Weir.Service.Answers;

/// <summary>The rows of a statement and when they were read.</summary>
/// <param name="Stamp">The same by a clock that never jumps, for how old they are.</param>
internal sealed record StatementRows(IReadOnlyList<object?[]> Values, DateTimeOffset ReadAt, long Stamp)
{
    /// <summary>Why they are older than was asked for; null if they are not.</summary>
    public string? Held { get; init; }
}

/// <summary>How fresh an answer must be.</summary>
/// <param name="MaximumAge">The longest age of a kept answer.</param>
/// <param name="Mark">What tells versions of the data apart; answers of another version are not looked at.</param>
/// <param name="NotBefore">A viewer asked for new data: answers read before this do not do, by a clock that never jumps; null if nobody asked.</param>
internal sealed record Fresh(TimeSpan MaximumAge, string Mark, long? NotBefore);

/// <summary>
/// A source as the service asks it. Answers are kept by statement, parameters, what the database was told of the viewer, and
/// version of the data. The statement holds the row rule and the attributes of the viewer, so that viewers of equal rights
/// share answers, and those of unequal rights never meet.
/// </summary>
internal sealed class OpenSource(Source source, IEngine engine, EngineFolders folders, IMemoryCache cache, TimeProvider clock)
    : IAsyncDisposable
{
    private static readonly Meter Meter = new("Weir.Sources");
    private static readonly Counter<long> Statements = Meter.CreateCounter<long>(
        "weir.source.statements",
        description: "Statements sent to sources."
    );
    private static readonly Counter<long> Answered = Meter.CreateCounter<long>(
        "weir.source.kept",
        description: "Statements answered without asking a source."
    );

    // How much older than its dataset allows an answer may be while its source takes no more.
    private static readonly TimeSpan Late = TimeSpan.FromMinutes(10);

    private readonly IEngineSource _source = Engines.Workers.GuardedSource.Open(source, folders);

    // Refreshing has a share of the source only, so that it never holds up those who open or pick.
    private readonly SemaphoreSlim _refreshing = new(source.Refresh.AtOnce ?? Math.Max(1, source.Limits.AtOnce / 2));
    private readonly SharedRequests<string, StatementRows> _shared = new();
    private readonly FairLine _line = new(source);
    private readonly Pace _pace = new(source, clock);
    private readonly string _key = Guid.NewGuid().ToString("N");
    private readonly ConcurrentDictionary<string, int> _groups = [];

    public Source Definition { get; } = source;

    /// <summary>See <see cref="IEngineSource.DataVersion"/>; every question looks at it, and it asks nothing.</summary>
    public long DataVersion => _source.DataVersion;

    /// <summary>The source itself, for what is in it; within its pace, and kept nowhere.</summary>
    public IEngineSource Engine => Paced(_source);

    // Whatever a query that is tried out does to its connections or workers, and however long it takes, viewers have others.
    private readonly Lazy<IEngineSource> _drafts = new(() => Engines.Workers.GuardedSource.Open(source, folders));

    /// <summary>The source for what is being defined.</summary>
    public IEngineSource Drafts => Paced(_drafts.Value);

    /// <summary>The same source opened once more, for a test or a check, which has no statements of its own beyond those of the others.</summary>
    public IEngineSource Paced(IEngineSource opened) =>
        new PacedSource(
            opened,
            async stop =>
            {
                await _pace.Take(stop);
                Sends();
            }
        );

    /// <summary>The rows of a statement that is tried out, kept nowhere.</summary>
    public async Task<StatementRows> Try(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        CancellationToken stop
    ) => new(await Drafts.Read(sql, kinds, session, stop), DateTimeOffset.MinValue, 0);

    public SqlDialect Dialect(DayOfWeek weekStart) => engine.Dialect(weekStart);

    /// <summary>How many lines a grouping had when it was last asked for; null if it never was.</summary>
    public int? LastGroups(string grouping) => _groups.TryGetValue(grouping, out var n) ? n : null;

    public void NoteGroups(string grouping, int lines)
    {
        if (_groups.Count < 10_000)
            _groups[grouping] = Math.Max(lines, _groups.GetValueOrDefault(grouping));
    }

    /// <summary>True if so many questions wait that another of a person would be refused.</summary>
    public bool IsFullFor(string person) => _line.IsFullFor(person);

    /// <summary>True if it has had as many statements as it takes in a minute.</summary>
    public bool IsHeld => _pace.Wait() > TimeSpan.Zero;

    /// <summary>True if the rows of a statement are kept and fresh enough.</summary>
    public bool Has(SqlText sql, IReadOnlyList<ValueKind> kinds, IReadOnlyDictionary<string, string> session, Fresh fresh) =>
        cache.TryGetValue(Key(sql, kinds, session, fresh.Mark), out StatementRows? kept) && IsFresh(kept!, fresh);

    /// <summary>The rows of a statement: kept ones if fresh enough, else from the source, equal statements asked once.</summary>
    /// <param name="person">Who asks, for their place in the line.</param>
    public async Task<StatementRows> Read(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        Fresh fresh,
        string person,
        CancellationToken cancellation
    )
    {
        var key = Key(sql, kinds, session, fresh.Mark);
        if (Known(key, fresh) is { } kept)
            return kept;
        return await _shared.Join(
            key,
            async stop =>
            {
                // The answer may have come between the first look and this request.
                if (Known(key, fresh) is { } came)
                    return came;
                // Whoever wants it anew, or comes when it has just become too old, has what there is, rather than nothing, where the source
                // takes no more.
                if (IsHeld && Known(key, fresh with { NotBefore = null, MaximumAge = Kept(fresh) }) is { } older)
                    return older with { Held = _pace.Held };
                var rows = fresh.NotBefore is null
                    ? await Ask(sql, kinds, session, person, stop)
                    : await Refresh(sql, kinds, session, person, stop);
                if (fresh.MaximumAge > TimeSpan.Zero)
                    cache.Set(key, rows, new MemoryCacheEntryOptions { AbsoluteExpirationRelativeToNow = Kept(fresh), Size = Size(rows) });
                return rows;
            },
            cancellation
        );
    }

    /// <summary>Rows in pieces, kept nowhere. Whoever takes many of them has the share of the source that refreshing has.</summary>
    public async Task ReadInPieces(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        Action<IReadOnlyList<object?[]>> take,
        string person,
        CancellationToken stop
    )
    {
        await _refreshing.WaitAsync(stop);
        try
        {
            using var turn = await Turn(person, stop);
            await _source.ReadInPieces(sql, kinds, session, take, stop);
        }
        finally
        {
            _refreshing.Release();
        }
    }

    private async Task<StatementRows> Refresh(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        string person,
        CancellationToken stop
    )
    {
        await _refreshing.WaitAsync(stop);
        try
        {
            return await Ask(sql, kinds, session, person, stop);
        }
        finally
        {
            _refreshing.Release();
        }
    }

    /// <summary>Waits for a turn, and for the pace of the source.</summary>
    private async Task<IDisposable> Turn(string person, CancellationToken stop)
    {
        // At once, while the line is not held up by it.
        if (_pace.Wait() is var left && left > TimeSpan.FromSeconds(Definition.Limits.Seconds))
            throw _pace.Refused(left);
        IDisposable turn;
        try
        {
            turn = await _line.Enter(person, stop);
        }
        catch (SourceException) when (_pace.Wait() is var more && more > TimeSpan.Zero)
        {
            // The line stands still for its sake.
            throw _pace.Refused(more);
        }
        try
        {
            await _pace.Take(stop);
        }
        catch
        {
            turn.Dispose();
            throw;
        }
        Sends();
        return turn;
    }

    private void Sends()
    {
        Statements.Add(1, new KeyValuePair<string, object?>("source", Definition.Name));
        StatementCount.Add();
    }

    private async Task<StatementRows> Ask(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        string person,
        CancellationToken stop
    )
    {
        using var turn = await Turn(person, stop);
        var (at, stamp) = (clock.GetUtcNow(), clock.GetTimestamp());
        return new StatementRows(await _source.Read(sql, kinds, session, stop), at, stamp);
    }

    private StatementRows? Known(string key, Fresh fresh)
    {
        if (!cache.TryGetValue(key, out StatementRows? kept) || !IsFresh(kept!, fresh))
            return null;
        Answered.Add(1);
        return kept;
    }

    /// <summary>How long an answer is kept: where a source takes so many statements a minute, for a while after it is too old.</summary>
    private TimeSpan Kept(Fresh fresh) =>
        Definition.Limits.AMinute is null || fresh.MaximumAge == TimeSpan.Zero ? fresh.MaximumAge : fresh.MaximumAge + Late;

    private bool IsFresh(StatementRows kept, Fresh fresh) =>
        clock.GetElapsedTime(kept.Stamp) < fresh.MaximumAge && !(kept.Stamp < fresh.NotBefore);

    /// <summary>Roughly the memory that rows take, in bytes.</summary>
    private static long Size(StatementRows rows) =>
        200 + rows.Values.Sum(c => 24L + (c.Length * 32L) + c.OfType<string>().Sum(s => s.Length * 2L));

    private string Key(SqlText sql, IReadOnlyList<ValueKind> kinds, IReadOnlyDictionary<string, string> session, string mark)
    {
        var text = new StringBuilder(_key).Append('\n').Append(mark).Append('\n').Append(sql.Text).Append('\n').AppendJoin(',', kinds);
        // As JSON, so that no value can pass for two.
        foreach (var parameter in sql.Parameters)
            text.Append('\n').Append(parameter.Kind).Append(' ').Append(JsonSerializer.Serialize(parameter.Value));
        foreach (var (name, value) in session.OrderBy(s => s.Key, StringComparer.Ordinal))
            text.Append('\n').Append(JsonSerializer.Serialize(name)).Append(' ').Append(JsonSerializer.Serialize(value));
        return text.ToString();
    }

    public async ValueTask DisposeAsync()
    {
        await _source.DisposeAsync();
        if (_drafts.IsValueCreated)
            await _drafts.Value.DisposeAsync();
    }
}

/// <summary>Keeps sources open as long as their definition stays the same, also across published versions.</summary>
internal sealed class SourcePool(ServiceOptions options, EngineFolders folders, TimeProvider clock) : IAsyncDisposable
{
    private readonly Lock _gate = new();
    private readonly Dictionary<string, OpenSource> _open = [];
    private readonly MemoryCache _cache = new(new MemoryCacheOptions { SizeLimit = options.CacheMegabytes * 1024L * 1024L, Clock = null });

    /// <summary>The sources of a workspace by name; those that were open before are gone on with.</summary>
    public IReadOnlyDictionary<string, OpenSource> Open(Workspace workspace)
    {
        lock (_gate)
            return workspace.Sources.Values.ToDictionary(
                s => s.Name,
                s =>
                {
                    var key = KeyOf(s);
                    if (!_open.TryGetValue(key, out var open))
                        _open[key] = open = new OpenSource(s, Engines.Engines.ByName(s.Engine), folders, _cache, clock);
                    return open;
                }
            );
    }

    /// <summary>Closes those that the workspace no longer has; queries that still run end by themselves.</summary>
    public async Task Retire(Workspace workspace)
    {
        List<OpenSource> gone;
        lock (_gate)
        {
            var kept = workspace.Sources.Values.Select(KeyOf).ToHashSet();
            gone = [.. _open.Where(o => !kept.Contains(o.Key)).Select(o => o.Value)];
            foreach (var key in _open.Keys.Where(k => !kept.Contains(k)).ToList())
                _open.Remove(key);
        }
        foreach (var source in gone)
            await source.DisposeAsync();
    }

    private static string KeyOf(Source source) => JsonSerializer.Serialize(source);

    public async ValueTask DisposeAsync()
    {
        foreach (var source in _open.Values)
            await source.DisposeAsync();
        _cache.Dispose();
    }
}
