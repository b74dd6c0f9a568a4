using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Engines;
using Weir.Service.Publishing;

namespace Weir.Service.Answers;

/// <summary>How old the oldest is of the answers that something is made of.</summary>
internal sealed class Reading
{
    /// <summary>When it was read; null if nothing was.</summary>
    public DateTimeOffset? ReadAt { get; private set; }

    /// <summary>Why it is older than was asked for; null if it is not.</summary>
    public string? Held { get; private set; }

    public void Note(QueryAnswer answer)
    {
        if (answer.ReadAt is { } at)
            Note(at, answer.Held);
    }

    public void Note(DateTimeOffset readAt, string? held)
    {
        ReadAt = ReadAt is { } known && known < readAt ? known : readAt;
        Held ??= held;
    }
}

/// <summary>
/// The questions of one refresh. Those of the first wave, which wait for no answer, are known from the plans before any is sent:
/// they are placed together, so that several groupings over the same rows share one statement. Later ones go out as they come.
/// </summary>
/// <param name="person">Who asks, for their place in the lines of sources.</param>
/// <param name="notBefore">See <see cref="Fresh.NotBefore"/>.</param>
internal sealed class RefreshWave(LiveWorkspace live, DataVersions versions, string person, long? notBefore)
{
    private readonly Dictionary<Query, Task<QueryAnswer>> _first = new(ReferenceEqualityComparer.Instance);

    private sealed record Waiting(Query Query, TaskCompletionSource<QueryAnswer> Answer);

    /// <summary>A way to ask single questions, each sent as it comes.</summary>
    public static Ask AtOnce(LiveWorkspace live, DataVersions versions, string person) =>
        new RefreshWave(live, versions, person, null).For(null);

    /// <summary>A way to look up answers that are kept: null for what nobody asked before. No source is asked.</summary>
    public static Func<Query, CancellationToken, Task<QueryAnswer?>> KeptOnly(LiveWorkspace live, DataVersions versions, string person)
    {
        var wave = new RefreshWave(live, versions, person, null);
        var ask = wave.For(null);
        return async (query, cancellation) =>
            await wave.IsKept(MemberNames.WithNames(query), cancellation) ? await ask(query, cancellation) : null;
    }

    /// <summary>How a tile asks.</summary>
    /// <param name="reading">Remembers the age of the oldest answer that it was given.</param>
    public Ask For(Reading? reading)
    {
        var single = MemberNames.Brought(One);
        return async (query, cancellation) =>
        {
            var answer = await (_first.TryGetValue(query, out var begun) ? begun.WaitAsync(cancellation) : single(query, cancellation));
            reading?.Note(answer);
            return answer;
        };
    }

    /// <summary>Places and sends the questions of the first wave; to be called once, before anybody asks.</summary>
    /// <exception cref="ProblemException">The line of a source is full for the person, and nothing of this wave is at hand: nothing was sent.</exception>
    public async Task Begin(IEnumerable<Query> first, CancellationToken cancellation)
    {
        var waiting = new List<Waiting>();
        foreach (var query in first)
            _first[query] = MemberNames.Brought(
                (named, _) =>
                {
                    waiting.Add(
                        new Waiting(named, new TaskCompletionSource<QueryAnswer>(TaskCreationOptions.RunContinuationsAsynchronously))
                    );
                    return waiting[^1].Answer.Task;
                }
            )(query, cancellation);
        try
        {
            var kept = new HashSet<Query>(ReferenceEqualityComparer.Instance);
            foreach (var (query, _) in waiting)
                if (await IsKept(query, cancellation))
                    kept.Add(query);
            var placed = Placement.Of([.. waiting.Select(w => w.Query)], kept.Contains, q => Dialect(q).ScansAreCheap, Expected);
            if (kept.Count == 0 && await FullSource(waiting, placed, cancellation) is { } full)
            {
                foreach (var (_, answer) in waiting)
                    answer.TrySetCanceled(CancellationToken.None);
                throw new ProblemException(
                    503,
                    "source-busy",
                    $"{full.Title} is busy with other queries.",
                    "Try again in a moment.",
                    TimeSpan.FromSeconds(5)
                );
            }
            foreach (var group in placed)
                _ = group.Scan is null
                    ? Alone(waiting[group.Questions[0]], cancellation)
                    : Together(group.Scan, [.. group.Questions.Select(i => waiting[i])], cancellation);
        }
        catch (Exception e) when (e is not ProblemException)
        {
            foreach (var (_, answer) in waiting)
                answer.TrySetException(e);
        }
    }

    private async Task<Core.Definitions.Source?> FullSource(
        List<Waiting> waiting,
        IReadOnlyList<Placed> placed,
        CancellationToken cancellation
    )
    {
        if (waiting.Select(w => Source(w.Query)).FirstOrDefault(s => s.IsFullFor(person)) is not { } full)
            return null;
        foreach (var group in placed)
            if (group.Scan is not null && await IsKept(group.Scan.Cells, cancellation))
                return null;
        return full.Definition;
    }

    private OpenSource Source(Query query) => live.Source(query.Scope.Source);

    private SqlDialect Dialect(Query query) => live.Dialect(query.Scope.Source);

    private int? Expected(Query query) => Source(query).LastGroups(Placement.GroupingKey(query));

    /// <summary>
    /// True if the answer is at hand. A question that can't be put, or whose source can't tell, is asked by itself, and then says what is
    /// wrong.
    /// </summary>
    private async Task<bool> IsKept(Query query, CancellationToken cancellation)
    {
        try
        {
            return !query.Scope.IsDraft
                && Source(query)
                    .Has(
                        Dialect(query).Print(SelectBuilder.Build(query)),
                        [.. query.Columns.Select(c => c.Kind)],
                        query.Scope.Session,
                        await Freshness(query, cancellation)
                    );
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            return false;
        }
    }

    private async Task Alone(Waiting waiting, CancellationToken cancellation)
    {
        try
        {
            waiting.Answer.SetResult(await One(waiting.Query, cancellation));
        }
        catch (Exception e)
        {
            waiting.Answer.TrySetException(e);
        }
    }

    private async Task Together(SharedScan scan, List<Waiting> waiting, CancellationToken cancellation)
    {
        try
        {
            var rows = await Read(
                scan.Cells,
                Dialect(scan.Cells).Print(SelectBuilder.Build(scan.Cells)),
                [.. scan.Cells.Columns.Select(c => c.Kind)],
                cancellation
            );
            if (scan.Split(rows.Values, live.Workspace.WeekStart) is not { } answers)
            {
                // There were more members than expected, which is remembered from now on.
                await Task.WhenAll(waiting.Select(w => Alone(w, cancellation)));
                return;
            }
            foreach (var (answer, (query, waits)) in answers.Zip(waiting))
            {
                Note(query, answer);
                waits.SetResult(answer with { ReadAt = rows.ReadAt, Held = rows.Held });
            }
        }
        catch (Exception e)
        {
            foreach (var (_, answer) in waiting)
                answer.TrySetException(e);
        }
    }

    private async Task<QueryAnswer> One(Query query, CancellationToken cancellation)
    {
        // Of its statements the oldest tells how old the answer is.
        var reading = new Reading();
        var answer = await EngineAsk.Ask(
            query,
            Dialect(query),
            async (sql, kinds) =>
            {
                var rows = await Read(query, sql, kinds, cancellation);
                reading.Note(rows.ReadAt, rows.Held);
                return rows.Values;
            }
        );
        Note(query, answer);
        return answer with { ReadAt = reading.ReadAt, Held = reading.Held };
    }

    private void Note(Query query, QueryAnswer answer) =>
        Source(query).NoteGroups(Placement.GroupingKey(query), (int)Math.Min(answer.Lines, int.MaxValue));

    private async Task<StatementRows> Read(
        Query query,
        SqlText sql,
        IReadOnlyList<Core.Expressions.ValueKind> kinds,
        CancellationToken cancellation
    )
    {
        var source = Source(query);
        return query.Scope.IsDraft
            ? await source.Try(sql, kinds, query.Scope.Session, cancellation)
            : await source.Read(sql, kinds, query.Scope.Session, await Freshness(query, cancellation), person, cancellation);
    }

    /// <summary>How fresh an answer must be. A dataset that can tell when its data change keeps its answers until then.</summary>
    private async Task<Fresh> Freshness(Query query, CancellationToken cancellation)
    {
        if (live.Workspace.Datasets.GetValueOrDefault(query.Scope.Name) is not { } dataset)
            return new Fresh(TimeSpan.Zero, "", notBefore);
        var (source, age) = (Source(query), dataset.Freshness.Seconds);
        var mark = await versions.Mark(dataset, source, cancellation);
        return new Fresh(
            age > 0 && DataVersions.Tells(dataset, source.Definition) ? TimeSpan.FromDays(1) : TimeSpan.FromSeconds(age),
            mark,
            notBefore
        );
    }
}
