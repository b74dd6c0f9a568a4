using System.Text.Json;
using Weir.Core.Definitions;
using Weir.Service.Asking;
using Weir.Service.Exports;
using Weir.Service.Schedules;
using Weir.Service.SignIn;
using Weir.Store;

namespace Weir.Service.Api;

/// <summary>When reports go out by themselves, what became of each run, and what viewers have sent to themselves.</summary>
internal static class ScheduleEndpoints
{
    private const int MostRuns = 200;

    public static void MapSchedules(this RouteGroupBuilder api)
    {
        api.MapGet("/reports/{report}/schedule", (string report, Sending sending) => sending.Of(report))
            .WithName("getSchedule")
            .WithSummary("When a report goes out, under which condition and to whom; for those who publish.");
        api.MapPost("/reports/{report}/send", (string report, Sending sending) => sending.Send(report))
            .WithName("sendReport")
            .WithSummary("Sends a report to all its readers now, each under their own rights; for those who publish.");
        api.MapGet("/runs", (string? report, int? count, Sending sending) => sending.Runs(report, count ?? 50))
            .WithName("listRuns")
            .WithSummary("The newest runs of reports with what each reader got; for those who publish.");
        api.MapPost("/runs/{run}/again", (string run, SendAgain again, Sending sending) => sending.Again(run, again.Reader))
            .WithName("sendAgain")
            .WithSummary("Sends again what failed, or of which it is not known whether it arrived; for those who publish.");
        api.MapGet("/deliveries", (Sending sending) => sending.Own())
            .WithName("listDeliveries")
            .WithSummary("What was sent to whoever asks.");
        api.MapGet(
                "/deliveries/{run}/file",
                (string run, Sending sending) =>
                {
                    var file = sending.OwnFile(run);
                    return Results.File(file.Content, file.MediaType, file.Name);
                }
            )
            .WithName("getDelivery")
            .WithSummary("A file that was sent to whoever asks.")
            .Produces<byte[]>(200, "application/octet-stream");
        api.MapGet("/subscriptions", (Sending sending) => sending.Subscriptions())
            .WithName("listSubscriptions")
            .WithSummary("What the viewer has sent to themselves.");
        api.MapPost(
                "/dashboards/{dashboard}/subscriptions",
                (string dashboard, SubscriptionRequest request, Sending sending) => sending.Subscribe(dashboard, request)
            )
            .WithName("subscribe")
            .WithSummary("Has a dashboard sent to the viewer again and again, in the state of their page; needs the act export.");
        api.MapDelete(
                "/subscriptions/{id}",
                (string id, Sending sending) =>
                {
                    sending.Unsubscribe(id);
                    return Results.NoContent();
                }
            )
            .WithName("unsubscribe")
            .WithSummary("Ends what the viewer has sent to themselves.");
        // Programs that check mail follow its links: only a button ends it (RFC 8058).
        api.MapGet(
                "/subscriptions/end/{id}/{key}",
                (string id, string key, HttpContext context) => EndPage(context, "Do you want no more of it?", true)
            )
            .AllowAnonymous()
            .ExcludeFromDescription();
        api.MapPost(
                "/subscriptions/end/{id}/{key}",
                (string id, string key, Subscriptions subscriptions, HttpContext context) =>
                    EndPage(
                        context,
                        subscriptions.End(id, key)
                            ? "It is ended: no more of it will come."
                            : "It was ended before, or the address is not whole.",
                        false
                    )
            )
            .AllowAnonymous()
            .ExcludeFromDescription();
    }

    private static IResult EndPage(HttpContext context, string text, bool asks)
    {
        context.Response.Headers.ContentSecurityPolicy =
            "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";
        var button = asks ? "<form method=\"post\"><button style=\"font:inherit;padding:8px 16px\">End it</button></form>" : "";
        return Results.Content(
            $"<!doctype html><html lang=\"en\"><meta name=\"viewport\" content=\"width=device-width\"><title>Weir</title><body style=\"font:16px/1.5 sans-serif;margin:48px auto;max-width:32em;padding:0 16px;color:#1c2733;background:#fff\"><h1 style=\"font-size:20px\">A report by mail</h1><p>{text}</p>{button}</body></html>",
            "text/html; charset=utf-8"
        );
    }

    /// <summary>What a viewer may know and do of what is sent.</summary>
    internal sealed class Sending(
        Asker asker,
        FileMaker files,
        Receivers receivers,
        Runs runs,
        Subscriptions subscriptions,
        Users users,
        ServiceOptions options,
        Audit audit,
        TimeProvider clock
    )
    {
        private string Self => $"person:{asker.Viewer.Name}";

        private void MustPublish(string what)
        {
            if (asker.Viewer.May(Acts.Publish, asker.Live.Workspace))
                return;
            audit.Write(asker.Viewer, "denied", what);
            throw ProblemException.MayNot("see and send what goes to others");
        }

        private Report Find(string name)
        {
            var report = files.Find(name);
            MustPublish($"schedule of {report.Name}");
            return report;
        }

        public ScheduleInfo Of(string name)
        {
            var report = Find(name);
            return new ScheduleInfo(
                report.Name,
                report.Title,
                TimesInfo.Of(report.Schedule, clock),
                report.OnlyIf is { } condition ? ConditionInfo.Of(condition, asker.Live.Workspace.Dashboards[report.Dashboard]) : null,
                string.Join(", ", Owners.Of(report.Owner, asker.Live, users).Select(v => v.Name)),
                [.. receivers.Of(report, asker.Live.Workspace).Select(r => new ReaderInfo(r.Key, r.Title, r.Way, r.Address, r.Problem))]
            );
        }

        public RunStarted Send(string name)
        {
            var report = Find(name);
            if (receivers.Of(report, asker.Live.Workspace).Count == 0)
                throw new ProblemException(422, "nobody", "It goes to nobody.", "Name people or roles under to in its definition.");
            var id =
                runs.Plan(report.Name, asker.Viewer.Name)
                ?? throw new ProblemException(409, "already-sending", "It is being made already.", "Wait until that is done.");
            audit.Write(asker.Viewer, "send", $"report {report.Name}");
            return new RunStarted(id);
        }

        public IReadOnlyList<RunInfo> Runs(string? report, int count)
        {
            MustPublish("runs of reports");
            if (count is < 1 or > MostRuns)
                throw new ProblemException(422, "bad-count", $"There are 1 to {MostRuns} runs at once.");
            // Of reports that are there for the viewer, and of those that are there for nobody any more.
            var mine = files.Reports().Select(r => r.Name).ToHashSet();
            var all = asker.Live.Workspace.Reports;
            return
            [
                .. runs.Newest(report, count)
                    .Where(r => Store.Subscriptions.IdOf(r.Report) is null && (mine.Contains(r.Report) || !all.ContainsKey(r.Report)))
                    .Select(r => RunInfo.Of(r, all.GetValueOrDefault(r.Report)?.Title ?? r.Report, runs.DeliveriesOf(r.Id))),
            ];
        }

        public RunStarted Again(string run, string reader)
        {
            MustPublish("runs of reports");
            if (
                runs.Find(run) is not { } found
                || Store.Subscriptions.IdOf(found.Report) is not null
                || files.Reports().All(r => r.Name != found.Report)
            )
                throw new ProblemException(404, "unknown-run", $"There is no run {ProblemException.Short(run)}.");
            if (!runs.SendAgain(run, reader))
                throw new ProblemException(
                    409,
                    "not-failed",
                    "It did not fail for them, or its file is there no longer.",
                    "Send the whole report instead."
                );
            audit.Write(asker.Viewer, "send", $"report {found.Report} again to {reader}");
            return new RunStarted(run);
        }

        public IReadOnlyList<OwnDelivery> Own() =>
            asker.Viewer.LookedAsBy is not null
                ? []
                :
                [
                    .. runs.To(Self, 50)
                        .Where(d => MayStill(d.Run.Report))
                        .Select(d => new OwnDelivery(
                            d.Run.Id,
                            TitleOf(d.Run.Report),
                            d.Run.Due,
                            d.Delivery.State,
                            d.Delivery.Reason,
                            d.FileName
                        )),
                ];

        public RunFile OwnFile(string run)
        {
            var own = asker.Viewer.LookedAsBy is null ? runs.To(Self, 50).FirstOrDefault(d => d.Run.Id == run) : default;
            if (own.Delivery?.File is not { } id || !MayStill(own.Run.Report) || runs.FileOf(id) is not { } file)
                throw new ProblemException(404, "unknown-delivery", "There is no such file that was sent to you.");
            audit.Write(asker.Viewer, "export", $"{own.Run.Report} as it was sent");
            return file;
        }

        /// <summary>True if the viewer may take along now what a run is of.</summary>
        private bool MayStill(string report) =>
            DashboardOf(report) is { } dashboard && asker.Viewer.May(DashboardActs.Export, dashboard, asker.Live.Workspace);

        private string? DashboardOf(string report) =>
            Store.Subscriptions.IdOf(report) is { } id
                ? subscriptions.Find(id)?.Dashboard
                : asker.Live.Workspace.Reports.GetValueOrDefault(report)?.Dashboard;

        private string TitleOf(string report) =>
            Store.Subscriptions.IdOf(report) is null
                ? asker.Live.Workspace.Reports[report].Title
                : asker.Live.Workspace.Dashboards[DashboardOf(report)!].Title;

        public IReadOnlyList<SubscriptionInfo> Subscriptions() =>
            asker.Viewer.LookedAsBy is not null ? [] : [.. subscriptions.Of(asker.Viewer.Name).Select(Info)];

        private SubscriptionInfo Info(Subscription subscription)
        {
            var times = TimesInfo.Of(SubscribedReport.TimingOf(subscription), clock)!;
            return new SubscriptionInfo(
                subscription.Id,
                subscription.Dashboard,
                asker.Live.Workspace.Dashboards.GetValueOrDefault(subscription.Dashboard) is { } dashboard
                && asker.Viewer.May(DashboardActs.See, dashboard.Name, asker.Live.Workspace)
                    ? dashboard.Title
                    : null,
                times,
                subscription.Form,
                SubscribedReport.RequestOf(subscription).Link
            );
        }

        public SubscriptionInfo Subscribe(string dashboard, SubscriptionRequest request)
        {
            if (asker.Viewer.LookedAsBy is not null)
                throw ProblemException.MayNot("subscribe for somebody else");
            if (request.State is null)
                throw new ProblemException(
                    422,
                    "no-state",
                    "It says no state.",
                    "Send state, with form and what is picked, as for a file."
                );
            var export = request.State with { Form = request.State.Form ?? "pdf" };
            // All that would be refused when it is made is refused now.
            files.CheckSubscription(dashboard, export);
            if (Timing.OfWords(request.When ?? "") is not { } times || request.When!.Length > 200)
                throw new ProblemException(
                    422,
                    "bad-schedule",
                    $"'{ProblemException.Short(request.When ?? "")}' is no time that can be read.",
                    "Write: every Monday at 08:00; every weekday at 07:30; every month on day 1 at 06:00."
                );
            var zone = request.Zone ?? asker.Live.Workspace.TimeZone;
            if (zone.Length > 100 || !TimeZoneInfo.TryFindSystemTimeZoneById(zone, out _))
                throw new ProblemException(
                    422,
                    "unknown-zone",
                    $"There is no time zone {ProblemException.Short(zone)}.",
                    "Use a name such as Atlantic/Azores or UTC."
                );
            if (new Timing(times.Words, times.Lines, zone, [], false).IsMoreOftenThan(TimeSpan.FromMinutes(55), clock.GetUtcNow()))
                throw new ProblemException(422, "too-often", "Mail comes every hour at most.", "Open the dashboard: it refreshes itself.");
            if (options.Mail is null)
                throw new ProblemException(501, "no-mail", "This service sends no mail.", "Whoever runs it starts it with --mail.");
            if (Receivers.Person(users.Find(asker.Viewer.Name)!.Viewer) is { Problem: { } problem })
                throw new ProblemException(422, "no-address", problem, "Whoever runs the service adds it.");
            var added =
                subscriptions.Add(asker.Viewer.Name, dashboard, times.Words, zone, export.Form, JsonSerializer.Serialize(export))
                ?? throw new ProblemException(422, "too-many", $"There can be {Store.Subscriptions.Most} at most.", "End one first.");
            audit.Write(asker.Viewer, "subscribe", $"{dashboard} {times.Words}");
            return Info(added);
        }

        public void Unsubscribe(string id)
        {
            if (asker.Viewer.LookedAsBy is not null || !subscriptions.Remove(asker.Viewer.Name, id))
                throw new ProblemException(404, "unknown-subscription", "You have no such subscription.");
            audit.Write(asker.Viewer, "unsubscribe", id);
        }
    }
}

/// <summary>Times in words, and when they are next.</summary>
/// <param name="Next">The next five times.</param>
public sealed record TimesInfo(string Words, string Zone, IReadOnlyList<DateTimeOffset> Next)
{
    internal static TimesInfo? Of(Timing? timing, TimeProvider clock) =>
        timing is null
            ? null
            : new TimesInfo(
                timing.Words,
                timing.Zone,
                [
                    .. timing
                        .After(clock.GetUtcNow())
                        .Take(5)
                        .Select(t => TimeZoneInfo.ConvertTime(t, TimeZoneInfo.FindSystemTimeZoneById(timing.Zone))),
                ]
            );
}

/// <summary>Under which condition a report goes to somebody.</summary>
/// <param name="Holds">The condition as it is written; null where only missing rows are looked for.</param>
/// <param name="NotAgainHours">Whoever got it does not get it again within so many hours; null if they do.</param>
public sealed record ConditionInfo(string Tile, string TileTitle, string? Holds, bool WhenEmpty, double? NotAgainHours)
{
    internal static ConditionInfo Of(OnlyIf condition, Dashboard dashboard) =>
        new(
            condition.Tile,
            dashboard.Tiles.FirstOrDefault(t => t.Name == condition.Tile)?.Title ?? Titles.FromName(condition.Tile),
            condition.HoldsText,
            condition.WhenEmpty,
            condition.Pause?.TotalHours
        );
}

/// <summary>Somebody whom a report goes to.</summary>
/// <param name="Way">mail, folder or call.</param>
/// <param name="Problem">Why nothing can go to them; null if it can.</param>
public sealed record ReaderInfo(string Reader, string Title, string Way, string? Address, string? Problem);

/// <summary>When a report goes out, and to whom.</summary>
/// <param name="Times">Null if it goes out by hand only.</param>
/// <param name="Owner">The accounts that are told of what goes wrong, by name.</param>
public sealed record ScheduleInfo(
    string Report,
    string Title,
    TimesInfo? Times,
    ConditionInfo? OnlyIf,
    string Owner,
    IReadOnlyList<ReaderInfo> Readers
);

/// <summary>A run that was begun.</summary>
public sealed record RunStarted(string Run);

/// <summary>To whom a run is sent again.</summary>
public sealed record SendAgain(string Reader);

/// <summary>What a reader got of a run.</summary>
/// <param name="CanGoAgain">True if it failed or is unsure, and its file is there to be sent again.</param>
public sealed record DeliveryInfo(
    string Reader,
    string Title,
    string Way,
    string? Address,
    string State,
    string? Reason,
    DateTimeOffset? At,
    long Attempts,
    bool CanGoAgain
);

/// <summary>A run of a report.</summary>
/// <param name="Why">schedule, missed or hand.</param>
/// <param name="State">planned, making, sending; then sent, not-met, nobody, unsure, unknown or failed.</param>
/// <param name="Statements">How many statements sources were sent.</param>
public sealed record RunInfo(
    string Id,
    string Report,
    string Title,
    DateTimeOffset Due,
    string Why,
    string? AskedBy,
    string State,
    long? Version,
    DateTimeOffset? Begun,
    DateTimeOffset? Ended,
    long Attempts,
    string? Reason,
    long Statements,
    long Milliseconds,
    IReadOnlyList<DeliveryInfo> Deliveries
)
{
    internal static RunInfo Of(Run run, string title, IReadOnlyList<Delivery> deliveries) =>
        new(
            run.Id,
            run.Report,
            title,
            run.Due,
            run.Why,
            run.AskedBy,
            run.State,
            run.Version,
            run.Begun,
            run.Ended,
            run.Attempts,
            run.Reason,
            run.Statements,
            run.Milliseconds,
            [
                .. deliveries.Select(d => new DeliveryInfo(
                    d.Reader,
                    d.Title,
                    d.Way,
                    d.Address,
                    d.State,
                    d.Reason,
                    d.At,
                    d.Attempts,
                    d.CanGoAgain
                )),
            ]
        );
}

/// <summary>Something that was sent to the viewer.</summary>
/// <param name="File">The name of its file; null if there is none.</param>
public sealed record OwnDelivery(string Run, string Title, DateTimeOffset Due, string State, string? Reason, string? File);

/// <summary>What a viewer wants sent to themselves.</summary>
/// <param name="When">In words: every Monday at 08:00.</param>
/// <param name="Zone">The time zone; the workspace's if left out.</param>
/// <param name="State">The state of the page, as for a file.</param>
public sealed record SubscriptionRequest(string When, ExportRequest State, string? Zone = null);

/// <summary>What a viewer has sent to themselves.</summary>
/// <param name="DashboardTitle">Null if the dashboard is not there for them any more.</param>
/// <param name="Link">The address of the page that it is of; null for how it opens.</param>
public sealed record SubscriptionInfo(string Id, string Dashboard, string? DashboardTitle, TimesInfo Times, string Form, string? Link);
