using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Mvc;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Service.Publishing;
using Weir.Service.SignIn;
using Weir.Store;

namespace Weir.Service.Api;

/// <summary>Drafts of dashboards, and the versions that were published: made, looked at, published, brought back.</summary>
internal static partial class DraftEndpoints
{
    private const int LongestText = 1024 * 1024;
    private const int LongestReason = 500;
    private const int MostVersions = 50;

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
        foreach (var (way, by) in (ReadOnlySpan<(string, int)>)[("undo", -1), ("redo", 1)])
            api.MapPost($"/drafts/{{dashboard}}/{way}", (string dashboard, Drafting d, CancellationToken stop) => d.Go(dashboard, by, stop))
                .WithName($"{way}Draft")
                .WithSummary($"Go a step {(by < 0 ? "back" : "forth")} in your draft.");
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

    [GeneratedRegex(@"^[A-Za-z][A-Za-z0-9_-]{0,63}\z")]
    private static partial Regex Name();

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
            Name().IsMatch(dashboard)
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
            return new DraftAnswer(path, false, text, 0, published.Now.Version.Number, false, false, false, text, []);
        }

        public DraftAnswer Save(string dashboard, DraftText request, CancellationToken stop)
        {
            var (viewer, path) = (May("draft"), PathOf(dashboard));
            if (request.Text is not { } text || text.Length > LongestText || text.Contains('\0'))
                throw new ProblemException(
                    422,
                    "bad-text",
                    "The text of a draft has a million letters at most, and none that no text has."
                );
            var live = published.Now;
            try
            {
                var begun = (live.Version.Number, live.Version.Files.GetValueOrDefault(path));
                return Answer(viewer, dashboard, drafts.Save(viewer.Name, path, text, request.After, begun), stop);
            }
            catch (DraftMovedException e)
            {
                throw new ProblemException(
                    409,
                    "draft-moved",
                    "This draft was changed in another window.",
                    $"Load it anew: it is at step {e.Step}."
                );
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
            );

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
);

/// <summary>The next text of a draft.</summary>
/// <param name="After">The step that it was made from; 0 to begin.</param>
public sealed record DraftText(string? Text, long After = 0);

/// <summary>What is to be published of a draft.</summary>
/// <param name="Step">The step that was looked at.</param>
/// <param name="Why">A sentence for the history.</param>
/// <param name="Replace">True to publish it though others changed the file meanwhile.</param>
public sealed record DraftPublishing(long Step, string? Why = null, bool Replace = false);

/// <summary>A sentence for the history.</summary>
public sealed record Reason(string? Why = null);

/// <summary>A published version.</summary>
/// <param name="Published">When, in UTC.</param>
/// <param name="Files">The files that are not as they were in the version before.</param>
public sealed record VersionLine(long Number, string Published, string By, string Why, IReadOnlyList<string> Files);
