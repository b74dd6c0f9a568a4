using System.Collections.Concurrent;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Sql;
using Weir.Engines;
using Weir.Service.Publishing;

namespace Weir.Service.Answers;

/// <summary>
/// Knows which version of its data each dataset has: by the files' own times, or by the developer's freshness query, asked at
/// most once in a source's smallest interval however many look, and not where the source takes no more statements.
/// </summary>
internal sealed class DataVersions(TimeProvider clock)
{
    /// <summary>How the service itself stands in the line of a source: beside its people, whose names are never empty.</summary>
    public const string TheService = "";

    private static readonly IReadOnlyDictionary<string, string> Nobody = new Dictionary<string, string>();
    private readonly ConcurrentDictionary<string, (long Stamp, string Mark)> _known = [];

    /// <summary>True if a dataset can tell by itself when its data change, so that its answers hold until then.</summary>
    public static bool Tells(Dataset dataset, Source source) => dataset.Freshness.Query is not null || source.Engine == "files";

    /// <summary>What tells the present version of the data apart from others.</summary>
    public async Task<string> Mark(Dataset dataset, OpenSource source, CancellationToken cancellation)
    {
        var own = source.DataVersion;
        if (dataset.Freshness.Query is not { } query)
            return own == 0 ? "" : $"{own}";
        var now = clock.GetTimestamp();
        var key = $"{source.Definition.Name}\n{dataset.Name}\n{query.Typed}";
        if (
            _known.TryGetValue(key, out var known)
            && (clock.GetElapsedTime(known.Stamp) < TimeSpan.FromSeconds(source.Definition.Refresh.LeastSeconds) || source.IsHeld)
        )
            return known.Mark;
        var sql = new SqlText($"SELECT * FROM (\n{query.Typed}\n) AS freshness", []) { Typed = query.Typed };
        var rows = await source.Read(sql, [ValueKind.Text], Nobody, new Fresh(TimeSpan.Zero, "freshness", now), TheService, cancellation);
        var mark = $"{own} {(rows.Values[0].Length > 0 ? rows.Values[0][0] : null)}";
        _known[key] = (now, mark);
        return mark;
    }
}

/// <summary>Tells open pages of new data: watches the datasets that can tell, while anybody listens.</summary>
internal sealed class FreshnessWatch(
    PublishedWorkspace published,
    DataVersions versions,
    Events events,
    ILogger<FreshnessWatch> log,
    TimeProvider clock
) : BackgroundService
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
        foreach (
            var dataset in live.Workspace.Datasets.Values.Where(d =>
                DataVersions.Tells(d, live.Workspace.Sources[d.Source]) || live.Workspace.Sources[d.Source].File is not null
            )
        )
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
            catch (Exception e) when (!stopping.IsCancellationRequested)
            {
                // Looking goes on, whatever comes up with one dataset.
                log.LogWarning("The freshness of {Dataset} can't be asked: {Reason}", dataset.Name, e.Message);
            }
        if (changed.Count > 0)
            events.Send(new WorkspaceEvent("data", live.Version.Number, changed));
    }
}
