using Weir.Core.Definitions;
using Weir.Service.Asking;
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
    }

    /// <summary>True if the viewer looks after a dashboard: whoever may design it, or publishes.</summary>
    internal static bool LooksAfter(Asker asker, string dashboard) =>
        asker.Viewer.May(Acts.Publish, asker.Live.Workspace) || asker.Viewer.May(DashboardActs.Design, dashboard, asker.Live.Workspace);

    /// <summary>What a viewer may read and write of remarks.</summary>
    internal sealed class Remarking(Asker asker, Remarks remarks, Users users, Audit audit)
    {
        private const int MostLetters = 2000;

        private bool LooksAfter(string dashboard) => RemarkEndpoints.LooksAfter(asker, dashboard);

        public RemarksInfo Of(string dashboard)
        {
            var open = asker.Open(dashboard);
            return new RemarksInfo(
                LooksAfter(dashboard),
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
            var link = Exports.FileMaker.Checked(request.Link ?? $"/d/{Uri.EscapeDataString(dashboard)}", dashboard);
            _ =
                remarks.Add(dashboard, request.Tile, asker.Viewer.Name, Written(request.Text), link)
                ?? throw new ProblemException(
                    422,
                    "too-many",
                    $"You have {Remarks.MostOpen} open remarks already.",
                    "Wait until some are done."
                );
            audit.Write(asker.Viewer, "remark", $"{dashboard} {request.Tile}".TrimEnd());
            return Of(dashboard);
        }

        public RemarksInfo Answer(string dashboard, string id, string text)
        {
            var remark = Find(dashboard, id);
            if (!remarks.Answer(remark.Id, asker.Viewer.Name, Written(text)))
                throw new ProblemException(
                    422,
                    "too-many",
                    $"There can be {Remarks.MostAnswers} answers at most.",
                    "Begin another remark."
                );
            audit.Write(asker.Viewer, "remark", $"answered {dashboard} {id}");
            return Of(dashboard);
        }

        public RemarksInfo SetDone(string dashboard, string id, bool done)
        {
            remarks.SetDone(Find(dashboard, id).Id, asker.Viewer.Name, done);
            audit.Write(asker.Viewer, "remark", $"{(done ? "done" : "open again")} {dashboard} {id}");
            return Of(dashboard);
        }

        /// <summary>A remark that the viewer may read; one that they may not is not there.</summary>
        private Remark Find(string dashboard, string id)
        {
            var open = asker.Open(dashboard);
            MustBeSelf();
            return
                remarks.Find(id) is { } remark
                && remark.Dashboard == dashboard
                && (remark.By == asker.Viewer.Name || LooksAfter(dashboard))
                && Sees(open, remark)
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
public sealed record RemarksInfo(bool LooksAfter, IReadOnlyList<RemarkInfo> Remarks);
