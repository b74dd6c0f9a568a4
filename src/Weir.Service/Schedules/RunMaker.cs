using System.Diagnostics;
using System.Security.Cryptography;
using Microsoft.AspNetCore.Http.Json;
using Microsoft.Extensions.Options;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Engines;
using Weir.Service.Answers;
using Weir.Service.Api;
using Weir.Service.Asking;
using Weir.Service.Exports;
using Weir.Service.Publishing;
using Weir.Store;

namespace Weir.Service.Schedules;

/// <summary>
/// Makes what a run sends: for each group of readers with equal rights once, under their rights. What is made for a group is stored in one
/// step with what each of them is to be sent, so that a run that was cut short goes on with the groups that are missing.
/// </summary>
internal sealed class RunMaker(
    PublishedWorkspace published,
    Runs runs,
    Receivers receivers,
    Subscriptions subscriptions,
    Users users,
    Store.Views views,
    DataVersions versions,
    Paper paper,
    FileLine line,
    Audit audit,
    HostAddress host,
    TimeProvider clock,
    ILoggerFactory logs,
    IOptions<JsonOptions> json
)
{
    /// <summary>A run is begun so often at most.</summary>
    public const int MostAttempts = 5;

    private const string NoFigures = "no-figures";
    private const int MostBytes = 20 * 1024 * 1024;
    private const long MostBytesOfRun = 300L * 1024 * 1024;

    private readonly ILogger _log = logs.CreateLogger("Weir.Runs");

    /// <summary>How long to wait after an attempt that failed, longer each time.</summary>
    public static TimeSpan PauseAfter(long attempt) => TimeSpan.FromMinutes(Math.Min(240, Math.Pow(4, attempt - 1)));

    /// <summary>What a run makes, and for whom.</summary>
    private sealed record Work(Report Report, IReadOnlyList<Receiver> Receivers, ExportRequest? AsKept);

    /// <summary>Makes all that a run sends, or puts it back with a reason. Whatever happens is noted with the run.</summary>
    public async Task Make(Run run, CancellationToken stop)
    {
        var live = published.Now;
        var (began, statements) = (Stopwatch.GetTimestamp(), new StatementCount());
        runs.Begin(run.Id, live.Version.Number);
        var problems = new List<string>();
        using (statements.Begin())
        {
            if (WorkOf(run, live) is not { } work)
            {
                runs.Made(run.Id, "It is not there any more.", 0, 0);
                return;
            }
            var made = runs.DeliveriesOf(run.Id).Select(d => d.Reader).ToHashSet();
            List<Receiver> waiting = [.. work.Receivers.Where(r => !made.Contains(r.Key))];
            foreach (var nobody in waiting.Where(r => r.Problem is not null))
                runs.Add([To(nobody, run, "refused", nobody.Problem)], null);
            // A table gets figures and no file: each is made by itself.
            var able = waiting.Where(r => r.Problem is null).ToLookup(r => r.Way == "table");
            foreach (
                var group in Receivers
                    .Grouped(work.Report.Name, able[false], live)
                    .Concat(able[true].Select(t => new EqualRights(t.Viewer!, [t])))
            )
                if (await For(group, run, work, live, stop) is { } problem)
                    problems.Add(problem);
        }
        var milliseconds = (long)Stopwatch.GetElapsedTime(began).TotalMilliseconds;
        if (problems.Count > 0)
            runs.TryAgain(
                run.Id,
                string.Join(' ', problems.Distinct()),
                clock.GetUtcNow() + PauseAfter(run.Attempts + 1),
                statements.Count,
                milliseconds
            );
        else
            runs.Made(run.Id, null, statements.Count, milliseconds);
    }

    private Work? WorkOf(Run run, LiveWorkspace live)
    {
        if (Subscriptions.IdOf(run.Report) is not { } id)
            return live.Workspace.Reports.GetValueOrDefault(run.Report) is { } report
                ? new Work(report, receivers.Of(report, live.Workspace), null)
                : null;
        if (
            subscriptions.Find(id) is not { } subscription
            || users.Find(subscription.User) is not { } user
            || !live.Workspace.Dashboards.TryGetValue(subscription.Dashboard, out var dashboard)
        )
            return null;
        return new Work(
            SubscribedReport.Of(subscription, dashboard.Title),
            [Receivers.Person(user.Viewer)],
            SubscribedReport.RequestOf(subscription)
        );
    }

    /// <summary>Makes it for one group.</summary>
    /// <returns>Why it is to be tried again; null if it is settled.</returns>
    private async Task<string?> For(EqualRights group, Run run, Work work, LiveWorkspace live, CancellationToken stop)
    {
        var report = work.Report;
        var due = report.OnlyIf?.Pause is { } pause && group.Receivers[0].Way != "table" ? NotPaused(group, run, pause) : group.Receivers;
        if (due.Count == 0)
            return null;
        void Settle(string state, string? reason) => runs.Add([.. due.Select(r => To(r, run, state, reason))], null);
        try
        {
            using var turn = await line.Enter(null, stop);
            var asker = new Asker(group.Viewer, live, views, clock, versions, stop);
            var files = new FileMaker(asker, paper, line, clock, audit, logs, host, json);
            if (!files.MayHave(report))
            {
                Settle("refused", "They may not take along what it is made of.");
                return null;
            }
            var opened = work.AsKept is { } request ? await files.Open(report, request) : await files.Open(report);
            if (due[0].Way == "table")
            {
                var lines = await LinesOf(opened, files, run, live);
                runs.Add([To(due[0], run, "ready", null) with { File = lines.Id }], lines);
                return null;
            }
            IReadOnlyList<string> found = [];
            if (report.OnlyIf is { } condition)
            {
                var verdict = await Judge(condition, opened, files, live);
                if (verdict.IsMet is not true)
                {
                    Settle(verdict.IsMet is null ? "unknown" : "not-met", verdict.Reason);
                    return null;
                }
                found = verdict.Found;
            }
            var file = await FileOf(opened, files, found, stop);
            if (runs.BytesOf(run.Id) + file.Content.Length + (file.Picture?.Length ?? 0) > MostBytesOfRun)
                throw new ProblemException(
                    422,
                    "export-too-large",
                    $"The files of a run have {MostBytesOfRun / 1024 / 1024} MB at most, and others have so many already.",
                    "Take less along, or make several reports of it."
                );
            runs.Add([.. due.Select(r => To(r, run, "ready", null) with { File = file.Id })], file);
            return null;
        }
        catch (Exception e) when (!stop.IsCancellationRequested)
        {
            var (status, code, detail, _) = Problems.Describe(e);
            if (e is ProblemException { Status: 403 or 404 })
            {
                Settle("refused", detail);
                return null;
            }
            if (e is not (ProblemException or SourceException))
                _log.LogError(e, "The report {Report} could not be made", report.Name);
            else
                _log.LogWarning("The report {Report} could not be made: {Code}", report.Name, code);
            // What is wrong with the report itself is wrong the next time too.
            if (status is not (422 or 501) && run.Attempts + 1 < MostAttempts)
                return detail;
            Settle(report.OnlyIf is not null && code == NoFigures ? "unknown" : "failed", detail);
            return null;
        }
    }

    /// <summary>Those of a group who did not get it of late; for the others that is noted.</summary>
    private List<Receiver> NotPaused(EqualRights group, Run run, TimeSpan pause)
    {
        var since = clock.GetUtcNow() - pause;
        var paused = group.Receivers.Where(r => runs.LastTo(run.Report, r.Key) > since).ToList();
        if (paused.Count > 0)
            runs.Add([.. paused.Select(r => To(r, run, "paused", "They got it not long ago."))], null);
        return [.. group.Receivers.Except(paused)];
    }

    private static async Task<Verdict> Judge(OnlyIf condition, OpenedReport opened, FileMaker files, LiveWorkspace live)
    {
        var answered = await files.Figures(opened, condition.Tile);
        return answered.Answer is { Table: var table }
            ? Verdict.Of(condition, table, opened.Open.TitleOf(condition.Tile), live.Workspace.WeekStart)
            : throw Unanswered(answered);
    }

    /// <summary>The figures of the condition's tile, whether it holds or not; else of the one tile of the report.</summary>
    private static async Task<RunFile> LinesOf(OpenedReport opened, FileMaker files, Run run, LiveWorkspace live)
    {
        var (report, condition) = (opened.Report, opened.Report.OnlyIf);
        var tile =
            condition?.Tile
            ?? (
                report.Tiles is [var only]
                    ? only
                    : throw new ProblemException(422, "one-tile", "A table is kept of one tile.", "Name one tile, or a condition.")
            );
        var answered = await files.Figures(opened, tile);
        if (answered.Answer is not { Table: var table })
            throw Unanswered(answered);
        var isMet = condition is null ? null : Verdict.Of(condition, table, tile, live.Workspace.WeekStart).IsMet;
        return new RunFile(
            Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(16)),
            $"{tile}.csv",
            "text/csv; charset=utf-8",
            KeptTable.Lines(table, run.Due, run.Id, isMet),
            "",
            null
        );
    }

    private async Task<RunFile> FileOf(OpenedReport opened, FileMaker files, IReadOnlyList<string> found, CancellationToken stop)
    {
        var (file, about, taken) = await files.Make(opened, stop, MustBeWhole);
        if (file.Content.Length > MostBytes)
            throw new ProblemException(
                422,
                "export-too-large",
                $"A file that is sent has {MostBytes / 1024 / 1024} MB at most.",
                "Take less along."
            );
        return new RunFile(
            Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(16)),
            file.Name,
            file.MediaType,
            file.Content,
            new Letter(about, found).Write(),
            taken is null ? null : await PictureOf(opened, taken, files, stop)
        );
    }

    /// <summary>A picture of what a message is about: of its condition's tile, else of its first tab; null where nothing draws it.</summary>
    private async Task<byte[]?> PictureOf(OpenedReport opened, Takeaway taken, FileMaker files, CancellationToken stop)
    {
        if (!paper.IsThere)
            return null;
        var shown = taken.Tiles.Where(t => t.Info.Name == opened.Report.OnlyIf?.Tile).ToList();
        if (shown.Count == 0)
            shown = [.. taken.Tiles.Where(t => t.Tab == taken.Tiles[0].Tab)];
        try
        {
            var picture = await files.Write(taken with { Tiles = shown }, opened.Request with { Form = "png" }, stop);
            return picture.Content.Length > MostBytes / 4 ? null : picture.Content;
        }
        catch (ProblemException e)
        {
            // The file has it all; a message without a picture is better than none.
            _log.LogWarning("A message of {Report} goes without its picture: {Code}", opened.Report.Name, e.Code);
            return null;
        }
    }

    /// <summary>What is sent by itself has all its figures: nobody stands before it who could ask again.</summary>
    private static void MustBeWhole(Takeaway taken)
    {
        if (taken.Tiles.FirstOrDefault(t => t.Answered is { Result.Problem: not null }) is { Answered: { } answered })
            throw Unanswered(answered);
    }

    private Delivery To(Receiver receiver, Run run, string state, string? reason) =>
        new(
            run.Id,
            receiver.Key,
            receiver.Title,
            receiver.Way,
            receiver.Address,
            state,
            0,
            clock.GetUtcNow(),
            reason,
            state == "ready" ? null : clock.GetUtcNow(),
            null,
            null
        );

    /// <summary>A tile has no figures now.</summary>
    private static ProblemException Unanswered(AnsweredTile answered) =>
        new(503, NoFigures, $"{answered.Tile.Name}: {answered.Result.Problem!.Detail}");
}
