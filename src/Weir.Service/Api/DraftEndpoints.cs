using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Mvc;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Core.Views;
using Weir.Service.Publishing;
using Weir.Service.SignIn;
using Weir.Store;

namespace Weir.Service.Api;

/// <summary>Drafts of dashboards, and the versions that were published: made, looked at, published, brought back.</summary>
internal static class DraftEndpoints
{
    private const int LongestText = 1024 * 1024;
    private const int LongestReason = 500;
    private const int MostVersions = 50;
    private const int MostStepsAtOnce = 200;
    private const int MostChosen = 20;

    public static void MapDrafts(this RouteGroupBuilder api)
    {
        api.MapGet("/drafts", (Drafting d) => d.All()).WithName("listDrafts").WithSummary("Your drafts of dashboards.");
        api.MapGet("/drafts/{dashboard}", (string dashboard, Drafting d, CancellationToken stop) => d.Get(dashboard, stop))
            .WithName("getDraft")
            .WithSummary("Your draft of a dashboard; where there is none, what is published.");
        api.MapPut(
                "/drafts/{dashboard}",
                (string dashboard, DraftText request, Drafting d, CancellationToken stop) => d.Save(dashboard, request, stop)
            )
            .WithName("saveDraft")
            .WithSummary("Save a text as the next step of your draft; what is broken is saved too, and its faults are told.")
            .WithMetadata(new RequestSizeLimitAttribute(2 * LongestText));
        api.MapPost(
                "/drafts/{dashboard}/steps",
                (string dashboard, DraftSteps request, Drafting d, CancellationToken stop) => d.Take(dashboard, request, stop)
            )
            .WithName("takeSteps")
            .WithSummary(
                "Change places of your draft's text by hand, as its next step: comments, order and the way of writing of all else stay to the letter."
            )
            .WithMetadata(new RequestSizeLimitAttribute(LongestText));
        api.MapPost(
                "/drafts/{dashboard}/edits",
                (string dashboard, DraftEdit request, Drafting d, CancellationToken stop) => d.Arrange(dashboard, request, stop)
            )
            .WithName("arrangeDraft")
            .WithSummary("Arrange the page of your draft as a view is arranged: what is done is written into its text.");
        api.MapPost(
                "/drafts/{dashboard}/proposals",
                (string dashboard, Chosen request, Drafting d, TimeProvider clock, CancellationToken stop) =>
                    d.Propose(dashboard, request, clock, stop)
            )
            .WithName("proposeTiles")
            .WithSummary(
                "Pictures that suit some measures and fields of a dataset. Their figures are asked for as those of the draft's page, with the header Weir-Trial."
            )
            .WithMetadata(new RequestSizeLimitAttribute(LongestText));
        foreach (var (way, by) in (ReadOnlySpan<(string, int)>)[("undo", -1), ("redo", 1)])
            api.MapPost($"/drafts/{{dashboard}}/{way}", (string dashboard, Drafting d, CancellationToken stop) => d.Go(dashboard, by, stop))
                .WithName($"{way}Draft")
                .WithSummary($"Go a step {(by < 0 ? "back" : "forth")} in your draft.");
        api.MapPost(
                "/drafts/{dashboard}/merge",
                (string dashboard, DraftMerge request, Drafting d, CancellationToken stop) => d.Merge(dashboard, request, stop)
            )
            .WithName("mergeDraft")
            .WithSummary(
                "Take into your draft what others published of its file since it was begun, as another step. Where both changed the same lines, "
                    + "they are told, and nothing is stored until each is settled."
            );
        api.MapDelete("/drafts/{dashboard}", (string dashboard, Drafting d) => d.Discard(dashboard))
            .WithName("discardDraft")
            .WithSummary("Throw your draft away, with its steps.");
        api.MapPost("/drafts/{dashboard}/publish", (string dashboard, DraftPublishing request, Drafting d) => d.Publish(dashboard, request))
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

    /// <summary>Who works on drafts: made once for a request; whoever may not publish has none.</summary>
    internal sealed class Drafting(
        IHttpContextAccessor http,
        PublishedWorkspace published,
        DraftWorkspaces workspaces,
        Drafts drafts,
        Versions versions,
        Audit audit
    )
    {
        private Viewer May(string act)
        {
            var context = http.HttpContext!;
            DefinitionEndpoints.MayPublish(context, published, audit, act);
            return context.Viewer();
        }

        private string PathOf(string dashboard) =>
            Shapes.IsName(dashboard)
                ? DraftWorkspaces.PathOf(dashboard, published.Now)
                : throw new ProblemException(
                    422,
                    "bad-name",
                    $"'{ProblemException.Short(dashboard)}' can't be the name of a dashboard.",
                    "Letters, digits, - and _, a letter first."
                );

        public IEnumerable<DraftLine> All() =>
            drafts
                .Of(May("see drafts of").Name)
                .Select(d => new DraftLine(d.Path["dashboards/".Length..^".yaml".Length], d.Path, d.Changed, IsBehind(d)));

        public DraftAnswer Get(string dashboard, CancellationToken stop)
        {
            var (viewer, path) = (May("see drafts of"), PathOf(dashboard));
            if (drafts.Get(viewer.Name, path) is { } draft)
                return Answer(viewer, dashboard, draft, stop);
            var text = published.Now.Version.Files.GetValueOrDefault(path) ?? throw ProblemException.UnknownDashboard(dashboard);
            return new DraftAnswer(path, false, text, 0, published.Now.Version.Number, false, false, false, text, [])
            {
                Written = WrittenText.Of(text),
            };
        }

        public DraftAnswer Save(string dashboard, DraftText request, CancellationToken stop)
        {
            var (viewer, path) = (May("draft"), PathOf(dashboard));
            try
            {
                return Answer(viewer, dashboard, Stored(viewer, path, request.Text, request.After), stop);
            }
            catch (DraftMovedException e)
            {
                throw Moved(e.Step);
            }
        }

        public DraftAnswer Take(string dashboard, DraftSteps request, CancellationToken stop)
        {
            if (request.Steps is not { Count: > 0 and <= MostStepsAtOnce } steps)
                throw new ProblemException(422, "bad-step", $"Between 1 and {MostStepsAtOnce} steps can be taken at once.");
            return Change(dashboard, (_, _) => steps.Select(s => s.Read()), stop);
        }

        public DraftAnswer Arrange(string dashboard, DraftEdit request, CancellationToken stop)
        {
            if (request is { Paste: { } paste, Tab: { } tab })
                return Change(dashboard, (whole, _) => LaidOut.Pasted(whole, tab, paste), stop);
            if (request.Edit?.IsWhole() != true)
                throw new ProblemException(422, "bad-step", "The change leaves out what it needs.");
            return Change(dashboard, (whole, text) => LaidOut.StepsOf(whole, DesignText.Said(text)!, request.Edit), stop);
        }

        public ProposalsAnswer Propose(string dashboard, Chosen request, TimeProvider clock, CancellationToken stop)
        {
            var (viewer, live) = (May("draft"), published.Now);
            _ = PathOf(dashboard);
            if (request.Names is not { Count: > 0 and <= MostChosen } names || names.Any(n => n is null))
                throw new ProblemException(422, "bad-step", $"Between 1 and {MostChosen} measures and fields are needed.");
            var scope =
                (request.Dataset is { } dataset ? Scope.For(viewer, dataset, live.Workspace, Viewing.Whenever) : null)
                ?? throw new ProblemException(
                    404,
                    "unknown-dataset",
                    $"There is no dataset {ProblemException.Short(request.Dataset ?? "")}.",
                    "Choose one of your datasets."
                );
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
                    [.. DesignText.Look(page).Tiles.Select(t => new Proposal(t.Tile, DesignText.Piece(page, t.Start, t.End)))]
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

        /// <summary>Changes the newest text, whichever window it is from: only the places that are meant are written.</summary>
        private DraftAnswer Change(string dashboard, Func<Dashboard, string, IEnumerable<DesignStep>> steps, CancellationToken stop)
        {
            var (viewer, path) = (May("draft"), PathOf(dashboard));
            while (true)
            {
                var draft = drafts.Get(viewer.Name, path);
                var text =
                    draft?.Text
                    ?? published.Now.Version.Files.GetValueOrDefault(path)
                    ?? throw ProblemException.UnknownDashboard(dashboard);
                var next = Changed(text, draft is null ? published.Now : workspaces.LiveFor(viewer.Name, dashboard) ?? published.Now);
                if (next == text)
                    return Get(dashboard, stop);
                try
                {
                    return Answer(viewer, dashboard, Stored(viewer, path, next, draft?.Step ?? 0), stop);
                }
                catch (DraftMovedException)
                {
                    // Another window was faster: what is meant here is done to what it left.
                    stop.ThrowIfCancellationRequested();
                }
            }

            string Changed(string text, LiveWorkspace live)
            {
                var whole = live.Workspace.Dashboards.GetValueOrDefault(dashboard) ?? new Dashboard(dashboard, dashboard, null, []);
                try
                {
                    return new DesignText(WorkspaceText.Shapes.Dashboard).Apply(
                        text,
                        steps(whole with { Catalogues = [.. live.Workspace.Catalogues.Values] }, text)
                    );
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
        private Draft Stored(Viewer viewer, string path, string? text, long after, long? over = null)
        {
            if (text is null || text.Length > LongestText || text.Contains('\0'))
                throw new ProblemException(
                    422,
                    "bad-text",
                    "The text of a draft has a million letters at most, and none that no text has."
                );
            var live = published.Now;
            try
            {
                return drafts.Save(viewer.Name, path, text, after, (live.Version.Number, live.Version.Files.GetValueOrDefault(path)), over);
            }
            catch (InvalidOperationException e)
            {
                throw new ProblemException(422, "too-many-drafts", e.Message, "Publish some, or throw them away.");
            }
        }

        public DraftAnswer Go(string dashboard, int by, CancellationToken stop)
        {
            var (viewer, path) = (May("draft"), PathOf(dashboard));
            return Answer(viewer, dashboard, drafts.Go(viewer.Name, path, by) ?? throw NoDraft(dashboard), stop);
        }

        public DraftMergeAnswer Merge(string dashboard, DraftMerge request, CancellationToken stop)
        {
            var (viewer, path) = (May("draft"), PathOf(dashboard));
            var draft = drafts.Get(viewer.Name, path) ?? throw NoDraft(dashboard);
            if (draft.Step != request.Step)
                throw Moved(draft.Step);
            var live = published.Now;
            var theirs = live.Version.Files.GetValueOrDefault(path);
            var origin = (draft.Base == live.Version.Number ? live.Version : versions.Get(draft.Base))?.Files.GetValueOrDefault(path);
            // A file that others took away, or that both began, clashes as a whole.
            var merge = TextMerge.Of(origin ?? "", draft.Text, theirs ?? "", [.. (request.Choices ?? []).Select(c => c == "theirs")]);
            if (merge.Text is not { } text)
                return new DraftMergeAnswer(null, merge.Clashes);
            try
            {
                var saved = Stored(viewer, path, text, draft.Step, over: live.Version.Number);
                return new DraftMergeAnswer(Answer(viewer, dashboard, saved, stop), []);
            }
            catch (DraftMovedException e)
            {
                throw Moved(e.Step);
            }
        }

        private static ProblemException Moved(long step) =>
            new(409, "draft-moved", "This draft was changed in another window.", $"Load it anew: it is at step {step}.");

        public IResult Discard(string dashboard)
        {
            var (viewer, path) = (May("draft"), PathOf(dashboard));
            if (!drafts.Discard(viewer.Name, path))
                throw NoDraft(dashboard);
            workspaces.Forget(viewer.Name, dashboard);
            return Results.NoContent();
        }

        public DefinitionsAnswer Publish(string dashboard, DraftPublishing request)
        {
            var (viewer, path, why) = (May("publish"), PathOf(dashboard), ReasonOf(request.Why));
            var draft = drafts.Get(viewer.Name, path) ?? throw NoDraft(dashboard);
            if (draft.Step != request.Step)
                throw new ProblemException(
                    409,
                    "draft-moved",
                    "This draft was changed in another window.",
                    "Load it anew, and look at what is published."
                );
            var answer = published.PublishDraft(path, draft.Text, draft.Base, viewer.Name, why, request.Replace);
            // What another window saved since is not published, and stays a draft.
            if (answer.Version is not null && drafts.Discard(viewer.Name, path, draft.Step))
                workspaces.Forget(viewer.Name, dashboard);
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

        private DraftAnswer Answer(Viewer viewer, string dashboard, Draft draft, CancellationToken stop) =>
            new(
                draft.Path,
                true,
                draft.Text,
                draft.Step,
                draft.Base,
                draft.CanUndo,
                draft.CanRedo,
                IsBehind(draft),
                published.Now.Version.Files.GetValueOrDefault(draft.Path),
                [.. workspaces.FaultsOf(viewer.Name, dashboard, draft, stop).Select(FaultInfo.Of)]
            )
            {
                Written = WrittenText.Of(draft.Text),
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

    private static ProblemException NoDraft(string dashboard) =>
        new(404, "no-draft", $"You have no draft of {dashboard}.", "Open it to be designed, and change something.");

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
/// <param name="Changed">When it was last changed, in UTC.</param>
/// <param name="IsBehind">True if others published the file since it was begun.</param>
public sealed record DraftLine(string Dashboard, string Path, string Changed, bool IsBehind);

/// <summary>A draft of a dashboard.</summary>
/// <param name="IsDraft">False if there is none, and this is what is published.</param>
/// <param name="Step">The step at which it is; 0 for what is published.</param>
/// <param name="Base">The version that it was begun from.</param>
/// <param name="Published">The text that is published now; null if the dashboard is new.</param>
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
}

/// <summary>What a text says, for forms.</summary>
/// <param name="Said">Its keys and values, every value as text.</param>
/// <param name="Tiles">Where its tiles stand.</param>
public sealed record WrittenText(JsonObject Said, IReadOnlyList<TileInText> Tiles)
{
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

/// <summary>Measures and fields of a dataset, dates at a grain or as they are.</summary>
public sealed record Chosen(string? Dataset, IReadOnlyList<string>? Names);

/// <summary>A picture that suits what was chosen.</summary>
/// <param name="Yaml">Its tile, as it would be pasted.</param>
public sealed record Proposal(string Tile, string Yaml);

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
public sealed record DraftText(string? Text, long After = 0);

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
