using Weir.Core.Definitions;
using Weir.Service.Asking;
using Weir.Service.Exports;
using Weir.Service.Schedules;
using Weir.Service.SignIn;
using Weir.Store;

namespace Weir.Service.Api;

/// <summary>What viewers write about a dashboard to those who look after it, and what is answered.</summary>
internal static class RemarkEndpoints
{
    public static void MapRemarks(this RouteGroupBuilder api)
    {
        api.MapGet("/dashboards/{dashboard}/remarks", (string dashboard, Remarking remarking) => remarking.Of(dashboard))
            .WithName("listRemarks")
            .WithSummary(
                "What was written about a dashboard: one's own, and all of it for those who look after it, as far as they see the tiles."
            );
        api.MapPost(
                "/dashboards/{dashboard}/remarks",
                (string dashboard, RemarkRequest request, Remarking remarking) => remarking.Add(dashboard, request)
            )
            .WithName("addRemark")
            .WithSummary("Writes about a tile or a dashboard, in the state of the page, to those who look after it.");
        api.MapPost(
                "/dashboards/{dashboard}/remarks/{remark}/answers",
                (string dashboard, string remark, AnswerRequest answer, Remarking remarking) =>
                    remarking.Answer(dashboard, remark, answer.Text)
            )
            .WithName("answerRemark")
            .WithSummary("Answers a remark: its writer, or who looks after the dashboard.");
        api.MapPut(
                "/dashboards/{dashboard}/remarks/{remark}/done",
                (string dashboard, string remark, DoneRequest done, Remarking remarking) => remarking.SetDone(dashboard, remark, done.Done)
            )
            .WithName("setRemarkDone")
            .WithSummary("Says that what a remark is about is done, or open again.");
        api.MapPut(
                "/dashboards/{dashboard}/remarks/mail",
                (string dashboard, RemarkMailRequest request, Remarking remarking) => remarking.SetMail(dashboard, request.Wanted)
            )
            .WithName("setRemarkMail")
            .WithSummary("Says whether the viewer wants mail of what is written about a dashboard, as far as they may read it.");
    }

    /// <summary>True if the viewer looks after a dashboard: whoever may design it, or publishes.</summary>
    internal static bool LooksAfter(Asker asker, string dashboard) =>
        asker.Viewer.May(Acts.Publish, asker.Live.Workspace) || asker.Viewer.May(DashboardActs.Design, dashboard, asker.Live.Workspace);

    /// <summary>What a viewer may read and write of remarks.</summary>
    internal sealed class Remarking(
        Asker asker,
        Remarks remarks,
        Users users,
        Audit audit,
        Runs runs,
        Store.Views views,
        Answers.DataVersions versions,
        ServiceOptions options,
        Exports.HostAddress host,
        TimeProvider clock
    )
    {
        private const int MostLetters = 2000;

        private bool LooksAfter(string dashboard) => RemarkEndpoints.LooksAfter(asker, dashboard);

        /// <summary>Whether the viewer is told by mail; null where there is no way to.</summary>
        private RemarkMail? MailOf(string dashboard) =>
            options.Mail is not null && asker.Viewer.LookedAsBy is null && Receivers.Person(asker.Viewer).Address is { } address
                ? new RemarkMail(address, remarks.MailsTo(dashboard).Contains(asker.Viewer.Name))
                : null;

        public RemarksInfo SetMail(string dashboard, bool isWanted)
        {
            _ = asker.Open(dashboard);
            MustBeSelf();
            if (isWanted && MailOf(dashboard) is null)
                throw new ProblemException(
                    422,
                    "no-mail",
                    "There is no mail to you from here.",
                    "The service needs a mail server, and your account an address of mail."
                );
            remarks.SetMail(dashboard, asker.Viewer.Name, isWanted);
            return Of(dashboard);
        }

        /// <summary>Tells those by mail who want it and who may read it, each in the words of what they see.</summary>
        /// <param name="words">What happened, before what the remark is about.</param>
        private void Tell(Remark remark, string words, string text)
        {
            if (options.Mail is null)
                return;
            var people = new List<(string, string, string, string)>();
            foreach (var name in remarks.MailsTo(remark.Dashboard).Where(n => n != asker.Viewer.Name))
            {
                if (users.Find(name) is not { } user || Receivers.Person(user.Viewer) is not { Address: { } address } person)
                    continue;
                var theirs = new Asker(user.Viewer, asker.Live, views, clock, versions, asker.Gone);
                if (
                    !OpenDashboard.IsThereFor(user.Viewer, asker.Live.Workspace.Dashboards[remark.Dashboard], asker.Live)
                    || theirs.Open(remark.Dashboard, lenient: true) is not { } open
                    || !MayRead(theirs, open, remark)
                )
                    continue;
                var about = remark.Tile is { } tile ? $"{open.TitleOf(tile)} on {open.Dashboard.Title}" : open.Dashboard.Title;
                people.Add(
                    (
                        person.Key,
                        person.Title,
                        address,
                        $"{asker.Viewer.Title} {words} {about}\n\n{text}\n\nAs it was seen: {host.Address}{remark.Link}"
                    )
                );
            }
            runs.Tell(remark.Id, people);
        }

        private static bool MayRead(Asker asker, OpenDashboard open, Remark remark) =>
            Sees(open, remark) && (remark.By == asker.Viewer.Name || RemarkEndpoints.LooksAfter(asker, remark.Dashboard));

        public RemarksInfo Of(string dashboard)
        {
            var open = asker.Open(dashboard);
            return new RemarksInfo(
                LooksAfter(dashboard),
                MailOf(dashboard),
                [
                    .. remarks
                        .Of(dashboard, LooksAfter(dashboard) ? null : asker.Viewer.Name)
                        // What somebody wrote about a tile is as little there as the tile.
                        .Where(r => Sees(open, r.Remark))
                        .Select(r => Info(open, r.Remark, r.Answers)),
                ]
            );
        }

        private static bool Sees(OpenDashboard open, Remark remark) =>
            remark.Tile is null || open.Arrangement.Tiles.Any(t => t.Tile.Name == remark.Tile);

        private RemarkInfo Info(OpenDashboard open, Remark remark, IReadOnlyList<RemarkAnswer> answers) =>
            new(
                remark.Id,
                remark.Tile,
                remark.Tile is null ? null : open.TitleOf(remark.Tile),
                TitleOf(remark.By),
                remark.Text,
                remark.Link,
                remark.At,
                remark.Done,
                remark.DoneBy is null ? null : TitleOf(remark.DoneBy),
                [.. answers.Select(a => new RemarkAnswerInfo(TitleOf(a.By), a.Text, a.At))]
            );

        private string TitleOf(string name) => users.Find(name)?.Viewer.Title ?? name;

        public RemarksInfo Add(string dashboard, RemarkRequest request)
        {
            var open = asker.Open(dashboard);
            MustBeSelf();
            if (request.Tile is { } tile)
                _ = open.Tile(tile);
            var link = PageAddress.Checked(request.Link ?? PageAddress.Of(dashboard), dashboard);
            var added =
                remarks.Add(dashboard, request.Tile, asker.Viewer.Name, Written(request.Text), link)
                ?? throw new ProblemException(
                    422,
                    "too-many",
                    $"You have {Remarks.MostOpen} open remarks already.",
                    "Wait until some are done."
                );
            audit.Write(asker.Viewer, "remark", $"{dashboard} {request.Tile}".TrimEnd());
            Tell(added, "wrote about", added.Text);
            return Of(dashboard);
        }

        public RemarksInfo Answer(string dashboard, string id, string text)
        {
            var remark = Find(dashboard, id);
            var written = Written(text);
            if (!remarks.Answer(remark.Id, asker.Viewer.Name, written))
                throw new ProblemException(
                    422,
                    "too-many",
                    $"There can be {Remarks.MostAnswers} answers at most.",
                    "Begin another remark."
                );
            audit.Write(asker.Viewer, "remark", $"answered {dashboard} {id}");
            Tell(remark, "answered what was written about", $"{written}\n\nTo: {remark.Text}");
            return Of(dashboard);
        }

        public RemarksInfo SetDone(string dashboard, string id, bool done)
        {
            var remark = Find(dashboard, id);
            remarks.SetDone(remark.Id, asker.Viewer.Name, done);
            Tell(remark, done ? "has done what was written about" : "opened again what was written about", remark.Text);
            audit.Write(asker.Viewer, "remark", $"{(done ? "done" : "open again")} {dashboard} {id}");
            return Of(dashboard);
        }

        /// <summary>A remark that the viewer may read; one that they may not is not there.</summary>
        private Remark Find(string dashboard, string id)
        {
            var open = asker.Open(dashboard);
            MustBeSelf();
            return remarks.Find(id) is { } remark && remark.Dashboard == dashboard && MayRead(asker, open, remark)
                ? remark
                : throw new ProblemException(404, "unknown-remark", "There is no such remark.", "Look at the remarks anew.");
        }

        private void MustBeSelf()
        {
            if (asker.Viewer.LookedAsBy is not null)
                throw ProblemException.MayNot("write for somebody else");
        }

        private static string Written(string? text) =>
            text?.Trim() is { Length: > 0 and <= MostLetters } written
                ? written
                : throw new ProblemException(422, "bad-text", $"A remark has 1 to {MostLetters} letters.");
    }
}

/// <summary>Something to be written about a dashboard.</summary>
/// <param name="Tile">The tile that is meant; null for the whole.</param>
/// <param name="Link">The address of the page, behind the host: /d/ and its name, with its state.</param>
public sealed record RemarkRequest(string Text, string? Tile = null, string? Link = null);

/// <summary>Whether mail is wanted.</summary>
public sealed record RemarkMailRequest(bool Wanted);

/// <summary>What there is of mail about remarks.</summary>
/// <param name="Address">Where it goes.</param>
/// <param name="Wanted">True if it is wanted.</param>
public sealed record RemarkMail(string Address, bool Wanted);

/// <summary>An answer.</summary>
public sealed record AnswerRequest(string Text);

/// <summary>Whether it is done.</summary>
public sealed record DoneRequest(bool Done);

/// <summary>An answer to a remark.</summary>
/// <param name="By">Who wrote it, by their name for readers.</param>
public sealed record RemarkAnswerInfo(string By, string Text, string At);

/// <summary>A remark about a dashboard.</summary>
/// <param name="By">Who wrote it, by their name for readers.</param>
/// <param name="Link">Where to see what its writer saw, under one's own rights.</param>
/// <param name="Done">When it was done; null if it is open.</param>
public sealed record RemarkInfo(
    string Id,
    string? Tile,
    string? TileTitle,
    string By,
    string Text,
    string Link,
    string At,
    string? Done,
    string? DoneBy,
    IReadOnlyList<RemarkAnswerInfo> Answers
);

/// <summary>The remarks about a dashboard that the viewer may read.</summary>
/// <param name="LooksAfter">True if they see those of everybody.</param>
/// <param name="Mail">Whether they are told of them by mail; null where there is none to them.</param>
public sealed record RemarksInfo(bool LooksAfter, RemarkMail? Mail, IReadOnlyList<RemarkInfo> Remarks);
