using Weir.Core;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Service.Publishing;
using Weir.Service.SignIn;
using Weir.Store;

namespace Weir.Service.Api;

/// <summary>Drafts go from those who may not publish to those who may.</summary>
internal static class HandOverEndpoints
{
    public static void MapHandOvers(this RouteGroupBuilder api)
    {
        api.MapPost(
                "/drafts/dashboards/{dashboard}/hand-over",
                (string dashboard, DraftHandOver request, HandingOver h, CancellationToken stop) => h.Give(dashboard, request, stop)
            )
            .WithName("handOverDraft")
            .WithSummary("Hand your draft, as it is now, to those who publish, with a sentence why.");
        api.MapDelete("/drafts/dashboards/{dashboard}/hand-over", (string dashboard, HandingOver h) => h.TakeBack(dashboard))
            .WithName("takeBackDraft")
            .WithSummary("Take back what you handed over of a draft; the draft stays.");
        api.MapGet("/handed-drafts", (HandingOver h) => h.All())
            .WithName("listHandedDrafts")
            .WithSummary("The drafts that others handed to those who publish, the oldest first.");
        api.MapPost("/handed-drafts/{owner}/{dashboard}/take", (string owner, string dashboard, HandingOver h) => h.Take(owner, dashboard))
            .WithName("takeHandedDraft")
            .WithSummary(
                "Go on with what somebody handed over, as a draft of your own; a dashboard of theirs gets a name that can be published."
            );
    }

    /// <summary>Who hands over and takes: made once for a request.</summary>
    internal sealed class HandingOver(
        IHttpContextAccessor http,
        DraftEndpoints.Drafting drafting,
        DraftWorkspaces workspaces,
        PublishedWorkspace published,
        Drafts drafts,
        HandedDrafts handed,
        Versions versions,
        Users users,
        Audit audit
    )
    {
        public HandedOverAnswer Give(string dashboard, DraftHandOver request, CancellationToken stop)
        {
            var work = drafting.On(DraftKind.Dashboards.Folder, dashboard, "hand over");
            var why = DraftEndpoints.ReasonOf(request.Why);
            var draft = drafting.LookedAt(work, request.Step);
            if (draft.Text.Length > DraftEndpoints.LongestOfOwn)
                throw new ProblemException(
                    422,
                    "too-long",
                    $"A draft of {DraftEndpoints.LongestOfOwn:N0} letters at most can be handed over."
                );
            if (workspaces.FaultsOf(work.Read, draft, stop).FirstOrDefault(f => f.Severity == Severity.Error) is { } fault)
                throw new ProblemException(422, "broken-draft", $"It has an error in line {fault.Line}: {fault.Message}", fault.Remedy);
            var given = handed.Put(work.Viewer.Name, draft, why);
            audit.Write(work.Viewer, "hand-over", work.Path);
            return new HandedOverAnswer(given.At);
        }

        public IResult TakeBack(string dashboard)
        {
            var work = drafting.On(DraftKind.Dashboards.Folder, dashboard, "hand over");
            return handed.Remove(work.Viewer.Name, work.Path)
                ? Results.NoContent()
                : throw new ProblemException(404, "not-handed-over", "Nothing of it is handed over.", "Somebody may have taken it.");
        }

        public IEnumerable<HandedDraftLine> All()
        {
            DefinitionEndpoints.MayPublish(http.HttpContext!, published, audit, "see handed drafts of");
            return handed
                .All()
                .Select(h => new HandedDraftLine(
                    h.Owner,
                    users.Find(h.Owner)?.Viewer.Title ?? h.Owner,
                    NameOf(h),
                    WrittenText.TitleOf(h.Text) ?? NameOf(h),
                    h.Path,
                    h.Why,
                    h.At
                ));
        }

        /// <summary>The dashboard that a handed draft is of, whatever its file is called.</summary>
        private string NameOf(HandedDraft draft) =>
            DraftKind.Of(draft.Path, published.Now)?.Name ?? Path.GetFileNameWithoutExtension(draft.Path);

        public TakenDraft Take(string owner, string dashboard)
        {
            DefinitionEndpoints.MayPublish(http.HttpContext!, published, audit, "take handed drafts of");
            var viewer = http.HttpContext!.Viewer();
            var (kind, live) = (DraftKind.Dashboards, published.Now);
            var given =
                handed.All().FirstOrDefault(h => h.Owner == owner && NameOf(h) == dashboard)
                ?? throw new ProblemException(
                    404,
                    "not-handed-over",
                    "Nothing of that name is handed over.",
                    "Somebody may have taken it."
                );
            var (name, path, text) = (dashboard, given.Path, given.Text);
            if (dashboard.StartsWith(DraftRights.OwnPrefix, StringComparison.Ordinal) && !live.Version.Files.ContainsKey(path))
            {
                name = FreeName(dashboard[DraftRights.OwnPrefix.Length..], viewer.Name);
                path = $"{kind.Folder}/{name}.yaml";
                text = new DesignText().Apply(text, [new DesignStep.Set(["dashboard"], name)]);
            }
            if (drafts.Get(viewer.Name, path) is not null)
                throw new ProblemException(
                    409,
                    "have-draft",
                    $"You have a draft of {name} yourself.",
                    "Publish it or throw it away, and take this one then."
                );
            var before = (given.Base == live.Version.Number ? live.Version : versions.Get(given.Base))?.Files.GetValueOrDefault(path);
            try
            {
                drafts.Save(viewer.Name, path, text, 0, (given.Base, before));
            }
            catch (InvalidOperationException e)
            {
                throw new ProblemException(422, "too-many-drafts", e.Message, "Publish some, or throw them away.");
            }
            handed.Remove(owner, given.Path, given.At);
            audit.Write(viewer, "take-over", $"{given.Path} of {owner}");
            return new TakenDraft(name);
        }

        /// <summary>A name that no published dashboard has, and no draft of whoever takes it.</summary>
        private string FreeName(string wish, string viewer)
        {
            var stem = Shapes.IsName(wish) ? wish : "dashboard";
            for (var i = 1; ; i++)
            {
                var name = i == 1 ? stem : $"{stem}-{i}";
                var isTaken =
                    published.Now.Workspace.Dashboards.ContainsKey(name)
                    || published.Now.Version.Files.ContainsKey($"dashboards/{name}.yaml")
                    || drafts.Get(viewer, $"dashboards/{name}.yaml") is not null;
                if (!isTaken)
                    return name;
            }
        }
    }
}

/// <summary>A draft is handed to those who publish.</summary>
/// <param name="Step">The step that was looked at.</param>
/// <param name="Why">A sentence for whoever takes it.</param>
public sealed record DraftHandOver(long Step, string? Why = null);

/// <summary>A draft is handed over.</summary>
/// <param name="At">When, in UTC.</param>
public sealed record HandedOverAnswer(string At);

/// <summary>A draft that somebody handed over.</summary>
/// <param name="OwnerTitle">Who, in words.</param>
/// <param name="At">When, in UTC.</param>
public sealed record HandedDraftLine(string Owner, string OwnerTitle, string Name, string Title, string Path, string Why, string At);

/// <summary>What was handed over is a draft of whoever took it.</summary>
/// <param name="Name">The dashboard that it is of.</param>
public sealed record TakenDraft(string Name);
