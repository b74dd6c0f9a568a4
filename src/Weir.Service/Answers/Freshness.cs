using System.Collections.Concurrent;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Queries;
using Weir.Engines;

namespace Weir.Service.Answers;

/// <summary>
/// Knows which version of its data each dataset has: by the files' own times, or by the developer's freshness query, asked at
/// most once in a source's smallest interval however many look.
/// </summary>
internal sealed class DataVersions(TimeProvider clock)
{
    private static readonly IReadOnlyDictionary<string, string> Nobody = new Dictionary<string, string>();
    private readonly ConcurrentDictionary<string, (DateTimeOffset At, string Mark)> _known = [];

    /// <summary>What tells the present version of the data apart from others.</summary>
    public async Task<string> Mark(Dataset dataset, OpenSource source, CancellationToken cancellation)
    {
        var own = source.Engine.DataVersion;
        if (dataset.Freshness.Query is not { } query)
            return own == 0 ? "" : $"{own}";
        var now = clock.GetUtcNow();
        var key = $"{source.Definition.Name}\n{dataset.Name}\n{string.Concat(query.Pieces.OfType<QueryPiece.Sql>().Select(p => p.Text))}";
        if (_known.TryGetValue(key, out var known) && now - known.At < TimeSpan.FromSeconds(source.Definition.Refresh.LeastSeconds))
            return known.Mark;
        var sql = new SqlText(string.Concat(query.Pieces.OfType<QueryPiece.Sql>().Select(p => p.Text)), []);
        var rows = await source.Read(sql, [ValueKind.Text], Nobody, new Fresh(TimeSpan.Zero, "freshness", now), cancellation);
        var mark = $"{own} {(rows.Values[0].Length > 0 ? rows.Values[0][0] : null)}";
        _known[key] = (now, mark);
        return mark;
    }
}

/// <summary>Tells open pages of new data: watches the datasets that can tell, while anybody listens.</summary>
internal sealed class FreshnessWatch(PublishedWorkspace published, DataVersions versions, Events events, ILogger<FreshnessWatch> log, TimeProvider clock) : BackgroundService
{
    private readonly Dictionary<string, string> _marks = [];

    protected override async Task ExecuteAsync(CancellationToken stopping)
    {
        using var timer = new PeriodicTimer(TimeSpan.FromSeconds(1), clock);
        try
        {
            while (await timer.WaitForNextTickAsync(stopping))
                await Look(stopping);
        }
        catch (OperationCanceledException) when (stopping.IsCancellationRequested)
        {
            // The service stops.
        }
    }

    private async Task Look(CancellationToken stopping)
    {
        if (!events.AnyListeners || published.NowOrNull is not { } live)
            return;
        var changed = new List<string>();
        foreach (var dataset in live.Workspace.Datasets.Values.Where(d => d.Freshness.Query is not null || live.Workspace.Sources[d.Source].Engine == "files"))
            try
            {
                var mark = await versions.Mark(dataset, live.Source(dataset.Source), stopping);
                if (_marks.TryGetValue(dataset.Name, out var before) && before != mark)
                    changed.Add(dataset.Name);
                _marks[dataset.Name] = mark;
            }
            catch (SourceException e)
            {
                log.LogDebug("The freshness of {Dataset} can't be asked: {Reason}", dataset.Name, e.Message);
            }
        if (changed.Count > 0)
            events.Send(new WorkspaceEvent("data", live.Version.Number, changed));
    }
}
