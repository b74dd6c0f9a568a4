using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Engines;

namespace Weir.Service.Answers;

/// <summary>
/// The questions of one refresh. Those that the tiles ask at once are looked at together before any is sent: where it pays,
/// several groupings over the same rows share one statement. Later questions go out as they come.
/// </summary>
/// <param name="notBefore">See <see cref="Fresh.NotBefore"/>.</param>
internal sealed class AskBatch(LiveWorkspace live, DataVersions versions, long? notBefore)
{
    private readonly List<(Query Query, TaskCompletionSource<QueryAnswer> Answer, CancellationToken Cancellation)> _held = [];
    private readonly Lock _gate = new();
    private bool _sent;

    /// <summary>A way to ask single questions, each sent as it comes.</summary>
    public static Ask AtOnce(LiveWorkspace live, DataVersions versions)
    {
        var batch = new AskBatch(live, versions, null);
        batch.Send();
        return batch.For(_ => { });
    }

    /// <summary>How a tile asks. Remembers the age of the oldest answer that it was given.</summary>
    public Ask For(Action<DateTimeOffset> readAt) => MemberNames.Brought(async (query, cancellation) =>
    {
        Task<QueryAnswer>? held = null;
        lock (_gate)
            if (!_sent)
            {
                var waiting = new TaskCompletionSource<QueryAnswer>(TaskCreationOptions.RunContinuationsAsynchronously);
                _held.Add((query, waiting, cancellation));
                held = waiting.Task;
            }
        var answer = held is null ? await One(query, cancellation) : await held;
        if (answer.ReadAt is { } at)
            readAt(at);
        return answer;
    });

    /// <summary>Sends what was held back; to be called once every tile has asked its first questions.</summary>
    public void Send()
    {
        List<(Query Query, TaskCompletionSource<QueryAnswer> Answer, CancellationToken Cancellation)> held;
        lock (_gate)
        {
            _sent = true;
            held = [.. _held];
        }
        var shared = ScanSharing.Plan([.. held.Select(h => h.Query)], q => Dialect(q).ScansAreCheap, Expected);
        foreach (var group in shared)
            _ = group.Count == 1 ? Answer(held[group[0]]) : Together([.. group.Select(i => held[i])]);
    }

    private OpenSource Source(Query query) => live.Source(query.Scope.Source);

    private SqlDialect Dialect(Query query) => live.Dialect(query.Scope.Source);

    private int? Expected(Query query) => Source(query).LastGroups(ScanSharing.GroupingKey(query));

    private async Task Answer((Query Query, TaskCompletionSource<QueryAnswer> Answer, CancellationToken Cancellation) held)
    {
        try
        {
            held.Answer.SetResult(await One(held.Query, held.Cancellation));
        }
        catch (Exception e)
        {
            held.Answer.TrySetException(e);
        }
    }

    private async Task Together(List<(Query Query, TaskCompletionSource<QueryAnswer> Answer, CancellationToken Cancellation)> held)
    {
        try
        {
            var scan = SharedScan.Of([.. held.Select(h => h.Query)]);
            var rows = await Read(held[0].Query, Dialect(held[0].Query).Print(SelectBuilder.Build(scan.Cells)), [.. scan.Cells.Columns.Select(c => c.Kind)], held[0].Cancellation);
            if (scan.Split(rows.Values, live.Workspace.WeekStart) is not { } answers)
            {
                // There were more members than expected, which is remembered from now on.
                await Task.WhenAll(held.Select(Answer));
                return;
            }
            foreach (var (answer, h) in answers.Zip(held))
            {
                Note(h.Query, answer);
                h.Answer.SetResult(answer with { ReadAt = rows.ReadAt });
            }
        }
        catch (Exception e)
        {
            foreach (var (_, answer, _) in held)
                answer.TrySetException(e);
        }
    }

    private async Task<QueryAnswer> One(Query query, CancellationToken cancellation)
    {
        // Of its statements the oldest tells how old the answer is.
        var oldest = DateTimeOffset.MaxValue;
        var answer = await EngineAsk.Ask(query, Dialect(query), async (sql, kinds) =>
        {
            var rows = await Read(query, sql, kinds, cancellation);
            oldest = rows.ReadAt < oldest ? rows.ReadAt : oldest;
            return rows.Values;
        });
        Note(query, answer);
        return answer with { ReadAt = oldest };
    }

    private void Note(Query query, QueryAnswer answer) => Source(query).NoteGroups(ScanSharing.GroupingKey(query), (int)Math.Min(answer.Lines, int.MaxValue));

    private async Task<StatementRows> Read(Query query, SqlText sql, IReadOnlyList<Core.Expressions.ValueKind> kinds, CancellationToken cancellation)
    {
        var dataset = live.Workspace.Datasets.GetValueOrDefault(query.Scope.Name);
        var source = Source(query);
        if (query.Scope.IsDraft)
            return new StatementRows(await source.Drafts.Read(sql, kinds, query.Scope.Session, cancellation), DateTimeOffset.MinValue, 0);
        var age = dataset?.Freshness.Seconds ?? 0;
        // A dataset that can tell when its data change keeps its answers until then.
        var mark = dataset is null ? "" : await versions.Mark(dataset, source, cancellation);
        var fresh = new Fresh(age > 0 && dataset is not null && DataVersions.Tells(dataset, source.Definition) ? TimeSpan.FromDays(1) : TimeSpan.FromSeconds(age), mark, notBefore);
        return await source.Read(sql, kinds, query.Scope.Session, fresh, cancellation);
    }
}
