using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.WebUtilities;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Core.Interaction;
using Weir.Core.Views;
using Weir.Service.Asking;
using Weir.Service.Publishing;
using Weir.Service.SignIn;
using Weir.Store;

namespace Weir.Service.Api;

/// <summary>Drafts of definitions, and the versions that were published: made, looked at, published, brought back.</summary>
internal static class DraftEndpoints
{
    private const int LongestText = 1024 * 1024;

    /// <summary>Of those who do not publish.</summary>
    internal const int LongestOfOwn = 200_000;

    private const int LongestReason = 500;
    private const int MostOwnDrafts = 20;
    private const int MostVersions = 50;
    private const int MostStepsAtOnce = 200;
    private const int MostChosen = 20;

    public static void MapDrafts(this RouteGroupBuilder api)
    {
        // Kinds are those of DraftKind.
        const string Draft = "/drafts/{kind}/{name}";
        api.MapGet("/drafts", (Drafting d) => d.All()).WithName("listDrafts").WithSummary("Your drafts.");
        api.MapGet("/drafts/{kind}", (string kind, Drafting d) => d.Defined(kind))
            .WithName("listDraftable")
            .WithSummary("All published definitions of a kind of which you may have a draft, whether a role of yours reads them or not.");
        api.MapGet(Draft, (string kind, string name, Drafting d, CancellationToken stop) => d.Get(kind, name, stop))
            .WithName("getDraft")
            .WithSummary("Your draft of a definition; where there is none, what is published.");
        api.MapPut(
                Draft,
                (string kind, string name, DraftText request, Drafting d, CancellationToken stop) => d.Save(kind, name, request, stop)
            )
            .WithName("saveDraft")
            .WithSummary("Save a text as the next step of your draft; what is broken is saved too, and its faults are told.")
            .WithMetadata(new RequestSizeLimitAttribute(2 * LongestText));
        api.MapPost(
                Draft + "/steps",
                (string kind, string name, DraftSteps request, Drafting d, CancellationToken stop) => d.Take(kind, name, request, stop)
            )
            .WithName("takeSteps")
            .WithSummary(
                "Change places of your draft's text by hand, as its next step: comments, order and the way of writing of all else stay to the letter."
            )
            .WithMetadata(new RequestSizeLimitAttribute(LongestText));
        api.MapPost(
                "/drafts/dashboards/{dashboard}/edits",
                (string dashboard, DraftEdit request, Drafting d, CancellationToken stop) => d.Arrange(dashboard, request, stop)
            )
            .WithName("arrangeDraft")
            .WithSummary("Arrange the page of your draft as a view is arranged: what is done is written into its text.");
        api.MapPost(
                "/drafts/dashboards/{dashboard}/proposals",
                (string dashboard, Chosen request, Drafting d, TimeProvider clock, CancellationToken stop) =>
                    d.Propose(dashboard, request, clock, stop)
            )
            .WithName("proposeTiles")
            .WithSummary(
                "Pictures that suit some measures and fields of a dataset. Their figures are asked for as those of the draft's page, with the header Weir-Trial."
            )
            .WithMetadata(new RequestSizeLimitAttribute(LongestText));
        api.MapGet(
                "/drafts/dashboards/{dashboard}/changes",
                (string dashboard, long? from, long? to, Drafting d) => d.Changes(dashboard, from, to)
            )
            .WithName("listTileChanges")
            .WithSummary(
                "What your draft changes of what is published, tile by tile, or one version of another; pictures are asked for as those of the draft's page."
            );
        foreach (var (way, by) in (ReadOnlySpan<(string, int)>)[("undo", -1), ("redo", 1)])
            api.MapPost($"{Draft}/{way}", (string kind, string name, Drafting d, CancellationToken stop) => d.Go(kind, name, by, stop))
                .WithName($"{way}Draft")
                .WithSummary($"Go a step {(by < 0 ? "back" : "forth")} in your draft.");
        api.MapPost(
                Draft + "/merge",
                (string kind, string name, DraftMerge request, Drafting d, CancellationToken stop) => d.Merge(kind, name, request, stop)
            )
            .WithName("mergeDraft")
            .WithSummary(
                "Take into your draft what others published of its file since it was begun, as another step. Where both changed the same lines, "
                    + "they are told, and nothing is stored until each is settled."
            );
        api.MapDelete(Draft, (string kind, string name, Drafting d) => d.Discard(kind, name))
            .WithName("discardDraft")
            .WithSummary("Throw your draft away, with its steps.");
        api.MapPost(Draft + "/publish", (string kind, string name, DraftPublishing request, Drafting d) => d.Publish(kind, name, request))
            .WithName("publishDraft")
            .WithSummary(
                "Publish your draft with a sentence why. Where others changed the same file since it was begun, nothing is published unless "
                    + "you say that it replaces theirs."
            );

        api.MapGet("/versions", (long? before, Drafting d) => d.Versions(before))
            .WithName("listVersions")
            .WithSummary("The published versions, newest first: who, when, why, and which files changed.");
        api.MapGet("/versions/{number:long}", (long number, Drafting d) => d.Version(number))
            .WithName("getVersion")
            .WithSummary("The files of a published version.");
        api.MapPost("/versions/{number:long}/restore", (long number, Reason request, Drafting d) => d.Restore(number, request))
            .WithName("restoreVersion")
            .WithSummary("Publish what an earlier version was as a new one.");
    }

    /// <summary>Who works on drafts: made once for a request.</summary>
    internal sealed class Drafting(
        IHttpContextAccessor http,
        PublishedWorkspace published,
        DraftWorkspaces workspaces,
        DraftRights rights,
        Drafts drafts,
        HandedDrafts handed,
        Versions versions,
        OwnShares shares,
        Events events,
        Audit audit,
        Store.Views views,
        TimeProvider clock
    )
    {
        /// <summary>A definition that somebody works on.</summary>
        internal sealed record Work(Viewer Viewer, DraftRight Right, DraftKind Kind, string Name, string Path)
        {
            /// <summary>As it is read.</summary>
            public DraftWorkspaces.Work Read => new(Viewer, Right, Kind, Name);
        }

        private Viewer May(string act)
        {
            var context = http.HttpContext!;
            DefinitionEndpoints.MayPublish(context, published, audit, act);
            return context.Viewer();
        }

        /// <exception cref="ProblemException">There is no such kind, its acts are not granted, or nothing can be called so.</exception>
        internal Work On(string kind, string name, string act)
        {
            var viewer = http.HttpContext!.Viewer();
            // Who looks as another changes nothing, and who may have no draft at all is told nothing of what there is.
            var found = DraftKind.In(kind);
            if (found is null || rights.Of(viewer, found, name) is not { } right)
            {
                (viewer, found) = Granted(kind, act);
                right = DraftRight.Publishes;
            }
            return Shapes.IsName(name) && (!found.IsSingle || name == found.Folder)
                ? new Work(
                    viewer,
                    right,
                    found,
                    name,
                    right == DraftRight.Owns ? DraftRights.OwnPath(name) : found.PathOf(name, published.Now)
                )
                : throw new ProblemException(
                    422,
                    "bad-name",
                    $"'{ProblemException.Short(name)}' can't be the name of a {found.Thing.Replace('_', ' ')}.",
                    found.IsSingle ? $"There is one, {found.Folder}." : "Letters, digits, - and _, a letter first."
                );
        }

        /// <exception cref="ProblemException">There is no such kind, or its acts are not granted.</exception>
        private (Viewer Viewer, DraftKind Kind) Granted(string kind, string act)
        {
            var viewer = May($"{act} drafts of");
            var found =
                DraftKind.In(kind)
                ?? throw new ProblemException(
                    404,
                    "unknown-kind",
                    $"There are no drafts of {ProblemException.Short(kind)}.",
                    $"There are drafts of {string.Join(", ", DraftKind.All.Select(k => k.Folder))}."
                );
            if (found.Needs.FirstOrDefault(a => !viewer.May(a, published.Now.Workspace)) is { } missing)
            {
                audit.Write(viewer, "denied", $"{act} drafts of {kind}");
                throw ProblemException.MayNot($"{act} drafts of {kind}: that needs the act {missing}");
            }
            return (viewer, found);
        }

        /// <summary>The text that is published of what somebody works on; null if there is none, and of what is somebody's own.</summary>
        private string? PublishedOf(Work work) =>
            work.Right == DraftRight.Owns ? null : published.Now.Version.Files.GetValueOrDefault(work.Path);

        public IEnumerable<DraftableLine> Defined(string kind)
        {
            var (_, found) = Granted(kind, "see");
            var live = published.Now;
            return found
                .Published(live, WrittenText.TitleOf)
                .Select(d => new DraftableLine(d.Name, d.Title ?? Titles.FromName(d.Name), d.Path))
                .OrderBy(d => d.Title, StringComparer.Ordinal);
        }

        private static ProblemException Unknown(Work work) =>
            work.Kind == DraftKind.Dashboards
                ? ProblemException.UnknownDashboard(work.Name)
                : new ProblemException(404, $"unknown-{work.Kind.Thing}", $"There is no {work.Kind.Thing.Replace('_', ' ')} {work.Name}.");

        public IEnumerable<DraftLine> All() =>
            from draft in drafts.Of(http.HttpContext!.Viewer().Name)
            let work = DraftKind.Of(draft.Path, published.Now)
            where work is not null
            let right = rights.Of(http.HttpContext!.Viewer(), work.Value.Kind, work.Value.Name)
            where right is not null
            let isOwn = right == DraftRight.Owns
            select new DraftLine(
                work.Value.Kind.Folder,
                work.Value.Name,
                WrittenText.TitleOf(draft.Text) ?? work.Value.Name,
                draft.Path,
                draft.Changed,
                !isOwn && IsBehind(draft),
                isOwn
            );

        /// <summary>A draft after it was changed; whoever looks at it as shared is told.</summary>
        private DraftAnswer Changed(Work work, Draft draft, CancellationToken stop)
        {
            var answer = Answer(work, draft, stop);
            if (IsShared(work))
                events.SendOwn(work.Viewer.Name, work.Name);
            var page = PageOf(work);
            return answer with
            {
                Page = page,
                PageAsked = page is null ? null : http.HttpContext!.Request.Headers[Asker.PageHeader].ToString(),
            };
        }

        private bool IsShared(Work work) => work.Right == DraftRight.Owns && shares.Of(work.Viewer.Name, work.Path).Count > 0;

        /// <summary>The page that a change makes, for a window that shows it; null where none is asked for, and where there is none.</summary>
        private DashboardPage? PageOf(Work work)
        {
            var headers = http.HttpContext!.Request.Headers;
            if (headers[Asker.PageHeader] is not [{ Length: > 0 } wanted] || headers[Asker.DraftHeader] != work.Name)
                return null;
            if (workspaces.LiveFor(work.Viewer, work.Name) is not { } live)
                return null;
            var query = QueryHelpers.ParseQuery(wanted);
            string? Said(string key) => query.GetValueOrDefault(key).FirstOrDefault();
            try
            {
                return DashboardPage.Of(
                    OpenDashboard.OpenAsSet(work.Name, new Opener(work.Viewer, live, views, clock.GetUtcNow()), Said("set"), Said("view"))
                );
            }
            catch (ProblemException)
            {
                // The change is stored all the same; whoever asks for the page is told why there is none.
                return null;
            }
        }

        public DraftAnswer Get(string kind, string name, CancellationToken stop) => Get(On(kind, name, "see"), stop);

        private DraftAnswer Get(Work work, CancellationToken stop)
        {
            if (drafts.Get(work.Viewer.Name, work.Path) is { } draft)
                return Answer(work, draft, stop);
            var text = PublishedOf(work) ?? throw Unknown(work);
            return new DraftAnswer(work.Path, false, text, 0, published.Now.Version.Number, false, false, false, text, [])
            {
                Written = WrittenText.Of(text),
                MayPublish = work.Right == DraftRight.Publishes,
            };
        }

        public DraftAnswer Save(string kind, string name, DraftText request, CancellationToken stop)
        {
            var work = On(kind, name, "change");
            try
            {
                return Changed(work, Stored(work, request.Text, request.After, joins: request.Joins), stop);
            }
            catch (DraftMovedException e)
            {
                throw Moved(e.Step);
            }
        }

        public DraftAnswer Take(string kind, string name, DraftSteps request, CancellationToken stop)
        {
            var work = On(kind, name, "change");
            if (request.Steps is not { Count: > 0 and <= MostStepsAtOnce } steps)
                throw new ProblemException(422, "bad-step", $"Between 1 and {MostStepsAtOnce} steps can be taken at once.");
            return Change(work, _ => steps.Select(s => s.Read()), stop);
        }

        public DraftAnswer Arrange(string dashboard, DraftEdit request, CancellationToken stop)
        {
            var work = On(DraftKind.Dashboards.Folder, dashboard, "change");
            if (request is { Paste: { } paste, Tab: { } tab })
                return Change(work, _ => LaidOut.Pasted(Whole(work), tab, paste), stop);
            if (request.Edit?.IsWhole() != true)
                throw new ProblemException(422, "bad-step", "The change leaves out what it needs.");
            return Change(work, text => LaidOut.StepsOf(Whole(work), DesignText.Said(text)!, request.Edit), stop);
        }

        public TileChangesAnswer Changes(string dashboard, long? from, long? to)
        {
            var work = On(DraftKind.Dashboards.Folder, dashboard, "see");
            // Whoever does not publish has no history before them.
            string OfVersion(long number) =>
                (work.Right == DraftRight.Publishes ? versions.Get(number)?.Files.GetValueOrDefault(work.Path) : null)
                ?? throw new ProblemException(404, "unknown-version", $"Version {number} has no such dashboard.", "Look at its history.");
            var text = to is { } later
                ? OfVersion(later)
                : drafts.Get(work.Viewer.Name, work.Path)?.Text ?? PublishedOf(work) ?? throw Unknown(work);
            var before = from is { } earlier ? OfVersion(earlier) : PublishedOf(work) ?? "";
            try
            {
                var changes = TileChanges.Between(before, text);
                return new TileChangesAnswer(
                    [
                        .. changes.Tiles.Select(t => new TileChangeInfo(
                            t.Tile,
                            t.Tab,
                            t.WasOn,
                            t.Kind.ToString().ToLowerInvariant(),
                            t.Keys
                        )),
                    ],
                    changes.Page
                );
            }
            catch (DesignException e)
            {
                throw new ProblemException(422, "bad-text", e.Message, e.Remedy);
            }
        }

        public ProposalsAnswer Propose(string dashboard, Chosen request, TimeProvider clock, CancellationToken stop)
        {
            var work = On(DraftKind.Dashboards.Folder, dashboard, "change");
            var (viewer, live) = (work.Viewer, published.Now);
            if (request.Names is not { Count: > 0 and <= MostChosen } names || names.Any(n => n is null))
                throw new ProblemException(422, "bad-step", $"Between 1 and {MostChosen} measures and fields are needed.");
            var scope =
                (request.Dataset is { } dataset ? Scope.For(viewer, dataset, live.Workspace, Viewing.Whenever) : null)
                ?? throw ProblemException.UnknownDataset(request.Dataset ?? "");
            var trial = workspaces.TrialName(dashboard);
            var text = Proposals.TextOf(trial, scope, [.. names.Distinct()], out var unknown);
            if (unknown is not null)
                throw new ProblemException(
                    422,
                    "unknown-field",
                    $"The dataset {scope.Name} has no {ProblemException.Short(unknown)}.",
                    "Choose of its measures and fields."
                );
            var tried = text is null ? null : workspaces.Try(viewer.Name, trial, text, Without, stop);
            return tried is not var (page, id)
                ? new ProposalsAnswer(trial, "", [])
                : new ProposalsAnswer(
                    trial,
                    id,
                    [
                        .. DesignText
                            .Look(page)
                            .Tiles.Select(t => new Proposal(
                                t.Tile,
                                DesignText.Piece(page, t.Start, t.End),
                                MadeTile.DrawingOf(
                                    workspaces.TrialFor(viewer.Name, id)!.Workspace.Dashboards[trial].Tiles.First(x => x.Name == t.Tile)
                                )
                            )),
                    ]
                );
        }

        /// <summary>A text without the tile in which a fault is; null if it is in none, or in the last.</summary>
        private static string? Without(string text, Fault fault)
        {
            var tiles = DesignText.Look(text).Tiles;
            var at = text.Split('\n').Take(fault.Line - 1).Sum(l => l.Length + 1);
            return tiles.Count > 1 && tiles.LastOrDefault(t => t.Start <= at + fault.Column) is { Tile: { } tile } found && at <= found.End
                ? new DesignText().Apply(text, [new DesignStep.Remove(["tabs", found.Tab, "tiles", tile])])
                : null;
        }

        /// <summary>A dashboard as its draft was when it last had no error, else as it is published, with the tiles that it may take.</summary>
        private Dashboard Whole(Work work)
        {
            var live = workspaces.LiveFor(work.Viewer, work.Name) ?? published.Now;
            return (live.Workspace.Dashboards.GetValueOrDefault(work.Name) ?? new Dashboard(work.Name, work.Name, null, [])) with
            {
                Catalogues =
                [
                    .. work.Right == DraftRight.Publishes
                        ? live.Workspace.Catalogues.Values
                        : DraftRights.SeenBy(work.Viewer, work.Path, live).Catalogues.Values,
                ],
            };
        }

        /// <summary>Changes the newest text, whichever window it is from: only the places that are meant are written.</summary>
        private DraftAnswer Change(Work work, Func<string, IEnumerable<DesignStep>> steps, CancellationToken stop)
        {
            while (true)
            {
                var draft = drafts.Get(work.Viewer.Name, work.Path);
                var text = draft?.Text ?? PublishedOf(work) ?? throw Unknown(work);
                var next = Written(text);
                if (next == text)
                    return Get(work, stop);
                try
                {
                    return Changed(work, Stored(work, next, draft?.Step ?? 0), stop);
                }
                catch (DraftMovedException)
                {
                    // Another window was faster: what is meant here is done to what it left.
                    stop.ThrowIfCancellationRequested();
                }
            }

            string Written(string text)
            {
                try
                {
                    return new DesignText(work.Kind.Shape).Apply(text, steps(text));
                }
                catch (DesignException e)
                {
                    throw new ProblemException(422, "bad-step", e.Message, e.Remedy);
                }
            }
        }

        /// <summary>Stores a text as the next step.</summary>
        /// <param name="over">See <see cref="Drafts.Save"/>.</param>
        /// <exception cref="ProblemException">It is too long, or there are too many drafts.</exception>
        /// <exception cref="DraftMovedException">Another window was faster.</exception>
        private Draft Stored(Work work, string? text, long after, long? over = null, bool joins = false)
        {
            var isOwn = work.Right != DraftRight.Publishes;
            var longest = isOwn ? LongestOfOwn : LongestText;
            if (text is null || text.Length > longest || text.Contains('\0'))
                throw new ProblemException(
                    422,
                    "bad-text",
                    $"The text of a draft has {longest:N0} letters at most, and none that no text has."
                );
            var live = published.Now;
            try
            {
                return drafts.Save(
                    work.Viewer.Name,
                    work.Path,
                    text,
                    after,
                    (live.Version.Number, PublishedOf(work)),
                    over,
                    isOwn ? MostOwnDrafts : Drafts.MostDrafts,
                    joins
                );
            }
            catch (InvalidOperationException e)
            {
                throw new ProblemException(422, "too-many-drafts", e.Message, "Publish some, or throw them away.");
            }
        }

        public DraftAnswer Go(string kind, string name, int by, CancellationToken stop)
        {
            var work = On(kind, name, "change");
            return Changed(work, drafts.Go(work.Viewer.Name, work.Path, by) ?? throw NoDraft(name), stop);
        }

        public DraftMergeAnswer Merge(string kind, string name, DraftMerge request, CancellationToken stop)
        {
            var work = On(kind, name, "change");
            var draft = LookedAt(work, request.Step);
            var live = published.Now;
            var theirs = PublishedOf(work);
            if (work.Right == DraftRight.Owns)
                throw new ProblemException(422, "own-dashboard", "Nobody else has this dashboard: there is nothing to take in.");
            var origin = (draft.Base == live.Version.Number ? live.Version : versions.Get(draft.Base))?.Files.GetValueOrDefault(work.Path);
            // A file that others took away, or that both began, clashes as a whole.
            var merge = TextMerge.Of(origin ?? "", draft.Text, theirs ?? "", [.. (request.Choices ?? []).Select(c => c == "theirs")]);
            if (merge.Text is not { } text)
                return new DraftMergeAnswer(null, merge.Clashes);
            try
            {
                var saved = Stored(work, text, draft.Step, over: live.Version.Number);
                return new DraftMergeAnswer(Answer(work, saved, stop), []);
            }
            catch (DraftMovedException e)
            {
                throw Moved(e.Step);
            }
        }

        /// <summary>A draft at the step that was looked at.</summary>
        /// <exception cref="ProblemException">There is none, or it is at another step by now.</exception>
        internal Draft LookedAt(Work work, long step)
        {
            var draft = drafts.Get(work.Viewer.Name, work.Path) ?? throw NoDraft(work.Name);
            return draft.Step == step ? draft : throw Moved(draft.Step);
        }

        private static ProblemException Moved(long step) =>
            new(409, "draft-moved", "This draft was changed in another window.", $"Load it anew: it is at step {step}.");

        public IResult Discard(string kind, string name)
        {
            var work = On(kind, name, "change");
            var isShared = IsShared(work);
            if (!drafts.Discard(work.Viewer.Name, work.Path))
                throw NoDraft(name);
            workspaces.Forget(work.Viewer.Name, work.Path);
            if (isShared)
                events.SendOwn(work.Viewer.Name, work.Name);
            return Results.NoContent();
        }

        public DefinitionsAnswer Publish(string kind, string name, DraftPublishing request)
        {
            var (work, why) = (On(kind, name, "publish"), ReasonOf(request.Why));
            if (work.Right != DraftRight.Publishes)
                Granted(kind, "publish");
            var draft = LookedAt(work, request.Step);
            var answer = published.PublishDraft(work.Path, draft.Text, draft.Base, work.Viewer.Name, why, request.Replace);
            // What another window saved since is not published, and stays a draft.
            if (answer.Version is not null && drafts.Discard(work.Viewer.Name, work.Path, draft.Step))
                workspaces.Forget(work.Viewer.Name, work.Path);
            return DefinitionsAnswer.Of(answer);
        }

        public IEnumerable<VersionLine> Versions(long? before)
        {
            May("see versions of");
            // One more than is shown, to tell what the last of them changed.
            var found = versions.List(MostVersions + 1, before);
            return found
                .Take(MostVersions)
                .Select(
                    (v, i) => new VersionLine(v.Number, v.Published, v.By, v.Why, Changed(v.Files, found.ElementAtOrDefault(i + 1)?.Files))
                )
                .ToList();
        }

        public DefinitionFiles Version(long number)
        {
            May("see versions of");
            var version = versions.Get(number) ?? throw new ProblemException(404, "unknown-version", $"There is no version {number}.");
            return new DefinitionFiles(version.Number, version.Files);
        }

        public DefinitionsAnswer Restore(long number, Reason request)
        {
            var viewer = May("publish");
            return DefinitionsAnswer.Of(published.Restore(number, viewer.Name, ReasonOf(request.Why)));
        }

        private DraftAnswer Answer(Work work, Draft draft, CancellationToken stop) =>
            new(
                draft.Path,
                true,
                draft.Text,
                draft.Step,
                draft.Base,
                draft.CanUndo,
                draft.CanRedo,
                work.Right != DraftRight.Owns && IsBehind(draft),
                PublishedOf(work),
                [.. workspaces.FaultsOf(work.Read, draft, stop).Select(FaultInfo.Of)]
            )
            {
                Written = WrittenText.Of(draft.Text),
                MayPublish = work.Right == DraftRight.Publishes,
                HandedOver = handed.Get(work.Viewer.Name, work.Path)?.At,
            };

        /// <summary>True if others published the file since the draft was begun.</summary>
        private bool IsBehind(Draft draft) =>
            draft.Base != published.Now.Version.Number
            && versions.Get(draft.Base)?.Files.GetValueOrDefault(draft.Path) != published.Now.Version.Files.GetValueOrDefault(draft.Path);

        private static IReadOnlyList<string> Changed(
            IReadOnlyDictionary<string, string> now,
            IReadOnlyDictionary<string, string>? before
        ) =>
            [
                .. now
                    .Keys.Union(before?.Keys ?? [])
                    .Where(p => now.GetValueOrDefault(p) != before?.GetValueOrDefault(p))
                    .Order(StringComparer.Ordinal),
            ];
    }

    internal static ProblemException NoDraft(string name) =>
        new(404, "no-draft", $"You have no draft of {name}.", "Open it to be designed, and change something.");

    /// <summary>A sentence about a version, on one line.</summary>
    internal static string ReasonOf(string? why)
    {
        var text = string.Join(' ', (why ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
        return text.Length <= LongestReason
            ? text
            : throw new ProblemException(422, "too-long", $"The sentence why has {LongestReason} letters at most.");
    }
}

/// <summary>A draft among others.</summary>
/// <param name="Kind">dashboards, datasets or another kind that is drafted.</param>
/// <param name="Title">What its text calls it.</param>
/// <param name="Changed">When it was last changed, in UTC.</param>
/// <param name="IsBehind">True if others published the file since it was begun.</param>
/// <param name="IsOwn">True for a dashboard of one's own, which is never published.</param>
public sealed record DraftLine(string Kind, string Name, string Title, string Path, string Changed, bool IsBehind, bool IsOwn);

/// <summary>A published definition of which one may have a draft.</summary>
public sealed record DraftableLine(string Name, string Title, string Path);

/// <summary>A draft of a definition.</summary>
/// <param name="IsDraft">False if there is none, and this is what is published.</param>
/// <param name="Step">The step at which it is; 0 for what is published.</param>
/// <param name="Base">The version that it was begun from.</param>
/// <param name="Published">The text that is published now; null if there is nothing of that name yet.</param>
/// <param name="Faults">What the check finds in the workspace with this draft.</param>
public sealed record DraftAnswer(
    string Path,
    bool IsDraft,
    string Text,
    long Step,
    long Base,
    bool CanUndo,
    bool CanRedo,
    bool IsBehind,
    string? Published,
    IReadOnlyList<FaultInfo> Faults
)
{
    /// <summary>What the text says; null while it can't be read.</summary>
    public WrittenText? Written { get; init; }

    /// <summary>True if its owner may publish it.</summary>
    public bool MayPublish { get; init; }

    /// <summary>When it was handed to those who publish, in UTC; null if it was not, or somebody has taken it.</summary>
    public string? HandedOver { get; init; }

    /// <summary>The page that the change made, where it was asked for with the header Weir-Page.</summary>
    public DashboardPage? Page { get; init; }

    /// <summary>What Weir-Page asked for, where the page is of that.</summary>
    public string? PageAsked { get; init; }
}

/// <summary>What a text says, for forms.</summary>
/// <param name="Said">Its keys and values, every value as text.</param>
/// <param name="Tiles">Where its tiles stand.</param>
public sealed record WrittenText(JsonObject Said, IReadOnlyList<TileInText> Tiles)
{
    /// <summary>The title that a text says; null if it says none, or can't be read.</summary>
    internal static string? TitleOf(string text) => Of(text)?.Said["title"] is JsonValue title ? title.ToString() : null;

    internal static WrittenText? Of(string text)
    {
        try
        {
            var (said, tiles) = DesignText.Look(text);
            return new WrittenText((JsonObject)said, [.. tiles.Select(t => new TileInText(t.Tab, t.Tile, t.Start, t.End))]);
        }
        catch (DesignException)
        {
            // The faults of the check tell what is wrong with it.
            return null;
        }
    }
}

/// <summary>A tile in a text.</summary>
/// <param name="Start">Its first character, from 0.</param>
/// <param name="End">The first character after it.</param>
public sealed record TileInText(string Tab, string Tile, int Start, int End);

/// <summary>What a draft changes.</summary>
/// <param name="Page">What else is another: the keys of the dashboard, and of its tabs as tab/key.</param>
public sealed record TileChangesAnswer(IReadOnlyList<TileChangeInfo> Tiles, IReadOnlyList<string> Page);

/// <summary>A tile that is not as it is published.</summary>
/// <param name="Tab">The tab on which it stands, or stood last.</param>
/// <param name="WasOn">The tab on which it stood, where that is another.</param>
/// <param name="Kind">new, gone, moved or changed.</param>
/// <param name="Keys">The keys that say something else.</param>
public sealed record TileChangeInfo(string Tile, string Tab, string? WasOn, string Kind, IReadOnlyList<string> Keys);

/// <summary>Measures and fields of a dataset, dates at a grain or as they are.</summary>
public sealed record Chosen(string? Dataset, IReadOnlyList<string>? Names);

/// <summary>A picture that suits what was chosen.</summary>
/// <param name="Yaml">Its tile, as it would be pasted.</param>
/// <param name="Drawing">The same for a tile of a view; null where a view has no way to say it.</param>
public sealed record Proposal(string Tile, string Yaml, Drawing? Drawing);

/// <summary>The pictures that suit what was chosen, the best first.</summary>
/// <param name="Dashboard">The dashboard that shows them to whoever asked.</param>
/// <param name="Trial">What requests for it carry as Weir-Trial.</param>
public sealed record ProposalsAnswer(string Dashboard, string Trial, IReadOnlyList<Proposal> Proposals);

/// <summary>Changes by hand, done in order as one step of the draft.</summary>
public sealed record DraftSteps(IReadOnlyList<DraftStep>? Steps);

/// <summary>A change of the page's arrangement, or tiles given as text.</summary>
/// <param name="Paste">A tile, or a list of them, as YAML: put on <paramref name="Tab"/> under names that are not taken.</param>
public sealed record DraftEdit(ViewEdit? Edit = null, string? Paste = null, string? Tab = null);

/// <summary>One change by hand.</summary>
/// <param name="Do">set, remove, insert or move.</param>
/// <param name="At">The path of keys; an item of a list by what it is called, or by its number from 0. Of insert that of the list.</param>
/// <param name="Value">What stands there then.</param>
/// <param name="Yaml">The same as text, in place of <paramref name="Value"/>.</param>
/// <param name="Before">Of insert and move: the item before which it stands; the end if left out.</param>
/// <param name="To">Of move: the list.</param>
public sealed record DraftStep(
    string? Do,
    IReadOnlyList<string>? At,
    JsonElement? Value = null,
    string? Yaml = null,
    string? Before = null,
    IReadOnlyList<string>? To = null
)
{
    private const int LongestPath = 16;

    /// <exception cref="ProblemException">It leaves out what it needs.</exception>
    /// <exception cref="DesignException">Its text is no YAML.</exception>
    internal DesignStep Read()
    {
        if (At is not { Count: > 0 and <= LongestPath } at || at.Any(p => p is null) || To is { Count: 0 or > LongestPath })
            throw new ProblemException(422, "bad-step", $"A step needs a path of 1 to {LongestPath} names.");
        var value =
            Yaml is not null ? DesignText.SaidOfPiece(Yaml)
            : Value is { ValueKind: not JsonValueKind.Null } json ? JsonNode.Parse(json.GetRawText())
            : null;
        return Do switch
        {
            "set" => new DesignStep.Set(at, value),
            "remove" => new DesignStep.Remove(at),
            "insert" => new DesignStep.Insert(at, value, Before),
            "move" when To is { } to && to.All(p => p is not null) => new DesignStep.Move(at, to, Before),
            _ => throw new ProblemException(422, "bad-step", "A step is set, remove, insert or move; move needs a list to go to."),
        };
    }
}

/// <summary>The next text of a draft.</summary>
/// <param name="After">The step that it was made from; 0 to begin.</param>
/// <param name="Joins">True while the same person goes on typing: going back leads to before both.</param>
public sealed record DraftText(string? Text, long After = 0, bool Joins = false);

/// <summary>What is to be published of a draft.</summary>
/// <param name="Step">The step that was looked at.</param>
/// <param name="Why">A sentence for the history.</param>
/// <param name="Replace">True to publish it though others changed the file meanwhile.</param>
public sealed record DraftPublishing(long Step, string? Why = null, bool Replace = false);

/// <summary>What others published is to be taken into a draft.</summary>
/// <param name="Step">The step that was looked at.</param>
/// <param name="Choices">For each clash that was told, in order: mine or theirs.</param>
public sealed record DraftMerge(long Step, IReadOnlyList<string>? Choices = null);

/// <summary>What came of taking it in.</summary>
/// <param name="Draft">The draft with both; null while there are clashes.</param>
/// <param name="Clashes">The lines that both changed.</param>
public sealed record DraftMergeAnswer(DraftAnswer? Draft, IReadOnlyList<Clash> Clashes);

/// <summary>A sentence for the history.</summary>
public sealed record Reason(string? Why = null);

/// <summary>A published version.</summary>
/// <param name="Published">When, in UTC.</param>
/// <param name="Files">The files that are not as they were in the version before.</param>
public sealed record VersionLine(long Number, string Published, string By, string Why, IReadOnlyList<string> Files);
