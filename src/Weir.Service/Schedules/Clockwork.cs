using Weir.Core.Definitions;
using Weir.Service.Publishing;
using Weir.Store;

namespace Weir.Service.Schedules;

/// <summary>A report or a subscription with its times.</summary>
/// <param name="Key">The report's name, or the subscription's key.</param>
/// <param name="Written">What tells one schedule from another.</param>
internal sealed record Scheduled(string Key, Timing Timing, string Written)
{
    public static Scheduled Of(string key, Timing timing) =>
        new(
            key,
            timing,
            $"{string.Join(';', timing.Lines)} {timing.Zone} {string.Join(',', timing.Except.Select(e => $"{e.From:yyyyMMdd}-{e.Until:yyyyMMdd}"))}"
        );
}

/// <summary>
/// Plans what is due, has it made and sent, and tells owners what went wrong. Only the service that holds the data folder has one: two never
/// send the same.
/// </summary>
internal sealed class Clockwork(
    PublishedWorkspace published,
    Runs runs,
    Subscriptions subscriptions,
    RunMaker maker,
    Postbox postbox,
    RunEnds ends,
    TimeProvider clock,
    ILogger<Clockwork> log
) : BackgroundService
{
    /// <summary>What begins later than this after its time is late.</summary>
    public static readonly TimeSpan OnTime = TimeSpan.FromMinutes(5);

    private static readonly TimeSpan Kept = TimeSpan.FromDays(30);
    private const int AtOnce = 2;

    private readonly Dictionary<string, (string Written, DateTimeOffset Next)> _next = [];
    private readonly Dictionary<string, Task> _making = [];
    private DateTimeOffset _forgot;

    protected override async Task ExecuteAsync(CancellationToken stopping)
    {
        // What was being handed over is known for certain before anything else is.
        var isTakenUp = false;
        await Repeat(
            _ =>
            {
                runs.TakeUp();
                isTakenUp = true;
                return Task.CompletedTask;
            },
            stopping,
            () => isTakenUp
        );
        // Each way by itself: a mail server that is slow holds up no folder.
        var ways = Postbox.Ways.Select(way => Repeat(stop => postbox.HandOver(way, stop), stopping));
        await Task.WhenAll([Repeat(Plan, stopping), Repeat(_ => Ends(), stopping), .. ways]);
        await Task.WhenAll(_making.Values);
    }

    /// <summary>Does something once a second, until the service stops. Whatever comes up is logged, and it goes on.</summary>
    /// <param name="isDone">Ends it before that; null for never.</param>
    private async Task Repeat(Func<CancellationToken, Task> work, CancellationToken stopping, Func<bool>? isDone = null)
    {
        using var timer = new PeriodicTimer(TimeSpan.FromSeconds(1), clock);
        while (isDone?.Invoke() != true && !stopping.IsCancellationRequested)
            try
            {
                await work(stopping);
                if (isDone?.Invoke() != true)
                    await timer.WaitForNextTickAsync(stopping);
            }
            catch (Exception) when (stopping.IsCancellationRequested)
            {
                return;
            }
            catch (Exception e)
            {
                log.LogError(e, "Schedules stumbled; they go on");
                await Task.WhenAny(timer.WaitForNextTickAsync(stopping).AsTask());
            }
    }

    private Task Plan(CancellationToken stop)
    {
        if (published.NowOrNull is not { } live)
            return Task.CompletedTask;
        var now = clock.GetUtcNow();
        foreach (var scheduled in All(live.Workspace))
            Plan(scheduled, now);
        foreach (var done in _making.Where(m => m.Value.IsCompleted).Select(m => m.Key).ToList())
            _making.Remove(done);
        foreach (var run in runs.ToMake().Where(r => !_making.ContainsKey(r.Id)).Take(AtOnce - _making.Count))
            _making[run.Id] = Task.Run(() => Make(run, stop), CancellationToken.None);
        return Task.CompletedTask;
    }

    private IEnumerable<Scheduled> All(Workspace workspace) =>
        workspace
            .Reports.Values.Where(r => r.Schedule is not null)
            .Select(r => Scheduled.Of(r.Name, r.Schedule!))
            .Concat(subscriptions.All().Select(s => Scheduled.Of(s.Key, SubscribedReport.TimingOf(s))));

    /// <summary>Plans the newest of the times that came since somebody looked; of those before it one run is enough.</summary>
    private void Plan(Scheduled scheduled, DateTimeOffset now)
    {
        if (_next.TryGetValue(scheduled.Key, out var known) && known.Written == scheduled.Written && now < known.Next)
            return;
        var looked = runs.LookedUntil(scheduled.Key, scheduled.Written);
        var (due, count) = scheduled.Timing.Within(looked, now);
        if (due is { } at)
        {
            var isMissed = now - at > OnTime;
            if (count > 1 || isMissed)
                log.LogWarning("{Count} times of {Report} were missed", isMissed ? count : count - 1, scheduled.Key);
            runs.Plan(scheduled.Key, now, isMissed && scheduled.Timing.SkipsMissed ? null : at, isMissed ? "missed" : "schedule");
        }
        _next[scheduled.Key] = (
            scheduled.Written,
            scheduled.Timing.After(now).Select(d => (DateTimeOffset?)d).FirstOrDefault() ?? DateTimeOffset.MaxValue
        );
    }

    private async Task Make(Run run, CancellationToken stop)
    {
        try
        {
            await maker.Make(run, stop);
        }
        catch (Exception e) when (!stop.IsCancellationRequested)
        {
            log.LogError(e, "The run {Run} of {Report} stumbled", run.Id, run.Report);
            runs.TryAgain(
                run.Id,
                "Something is wrong within the service; its log says more.",
                clock.GetUtcNow() + RunMaker.PauseAfter(run.Attempts + 1),
                0,
                0
            );
        }
        catch (Exception) when (stop.IsCancellationRequested)
        {
            // The run goes on when the service is back.
        }
    }

    private Task Ends()
    {
        foreach (var run in runs.ToEnd())
            ends.End(run);
        var now = clock.GetUtcNow();
        if (now - _forgot > TimeSpan.FromHours(1))
        {
            _forgot = now;
            runs.Forget(now - Kept);
        }
        return Task.CompletedTask;
    }
}

/// <summary>Says how a run ended, and tells its owners if it did not end well.</summary>
internal sealed class RunEnds(Runs runs, PublishedWorkspace published, Users users, TimeProvider clock)
{
    private static readonly TimeSpan NotAgain = TimeSpan.FromHours(12);

    public void End(Run run)
    {
        var deliveries = runs.DeliveriesOf(run.Id).Where(d => !d.Reader.StartsWith("owner:", StringComparison.Ordinal)).ToList();
        bool Any(string state) => deliveries.Any(d => d.State == state);
        var state =
            Any("failed") ? "failed"
            : Any("unsure") ? "unsure"
            : Any("unknown") ? "unknown"
            : Any("sent") ? "sent"
            : Any("not-met") || Any("paused") ? "not-met"
            : "nobody";
        var late = run.Why != "hand" && clock.GetUtcNow() - run.Due > Clockwork.OnTime && state == "sent";
        runs.End(
            run.Id,
            state,
            null,
            state is "sent" && !late || state is "not-met" ? [] : Notices(run, late ? "late" : state, deliveries)
        );
    }

    private List<Delivery> Notices(Run run, string what, IReadOnlyList<Delivery> deliveries)
    {
        // Whose own it is is told on their page, and a remark stands with the dashboard.
        if (Subscriptions.IdOf(run.Report) is not null || run.Why == "remark" || published.NowOrNull is not { } live)
            return [];
        var report = live.Workspace.Reports.GetValueOrDefault(run.Report);
        var owners = Owners.Of(report?.Owner, live, users).Select(Receivers.Person).Where(p => p.Address is not null).ToList();
        var title = report?.Title ?? run.Report;
        var reasons = deliveries
            .Where(d => d.State is "failed" or "unsure" or "unknown" or "refused")
            .Select(d => $"{d.Title}: {d.Reason}")
            .DefaultIfEmpty(run.Reason ?? "Nobody gets it.")
            .Take(20);
        var begins = what switch
        {
            "late" => $"{title} came late",
            "unknown" => $"Whether {title} was to be sent could not be worked out",
            "unsure" => $"Whether {title} arrived is not known",
            "nobody" => $"{title} went to nobody",
            _ => $"{title} could not be sent",
        };
        var words = what == "late" ? begins : $"{begins}\n\n{string.Join('\n', reasons)}";
        if (runs.WasToldOf(run.Report, words, clock.GetUtcNow() - NotAgain))
            return [];
        var now = clock.GetUtcNow();
        return
        [
            .. owners.Select(p => new Delivery(
                run.Id,
                $"owner:{p.Viewer!.Name}",
                p.Title,
                "mail",
                p.Address,
                "ready",
                0,
                now,
                null,
                null,
                null,
                words
            )),
        ];
    }
}

/// <summary>Who is told of what goes wrong with a report.</summary>
internal static class Owners
{
    private const int Most = 5;

    /// <summary>Its owner, else who published last; where that is nobody with an account, as after a folder was published at the start, those who may publish.</summary>
    /// <param name="named">The owner that it names; null for none.</param>
    public static IReadOnlyList<Core.Access.Viewer> Of(string? named, LiveWorkspace live, Users users) =>
        users.Find(named ?? live.Version.By) is { } owner
            ? [owner.Viewer]
            : [.. users.All().Select(u => u.Viewer).Where(v => v.May(Acts.Publish, live.Workspace)).Take(Most)];
}
