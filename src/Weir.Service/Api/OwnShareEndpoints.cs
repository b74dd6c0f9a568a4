using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Service.Asking;
using Weir.Service.Publishing;
using Weir.Service.SignIn;
using Weir.Store;

namespace Weir.Service.Api;

/// <summary>Letting others see a dashboard of one's own.</summary>
internal static class OwnShareEndpoints
{
    private const string Shares = "/own-dashboards/{dashboard}/shares";

    public static void MapOwnShares(this RouteGroupBuilder api)
    {
        api.MapGet("/own-dashboards", (OwnSharing o) => o.WithViewer())
            .WithName("listSharedDashboards")
            .WithSummary("The dashboards of others' own that they share with you, as far as there is anything of them that you may see.");
        api.MapGet(Shares, (string dashboard, OwnSharing o) => o.Of(dashboard))
            .WithName("listOwnShares")
            .WithSummary("With whom a dashboard of your own is shared, and with whom it can be.");
        api.MapPost(Shares, (string dashboard, OwnShareRequest request, OwnSharing o) => o.Give(dashboard, request))
            .WithName("shareOwnDashboard")
            .WithSummary("Let a person or a role see a dashboard of your own, as it is whenever they look, under their own rights.");
        api.MapDelete(Shares + "/{kind}/{name}", (string dashboard, string kind, string name, OwnSharing o) => o.End(dashboard, kind, name))
            .WithName("withdrawOwnDashboard")
            .WithSummary("End that; it stops at once.");
    }

    /// <summary>Who shares: made once for a request.</summary>
    internal sealed class OwnSharing(
        IHttpContextAccessor http,
        DraftEndpoints.Drafting drafting,
        SharedDrafts shared,
        DraftWorkspaces workspaces,
        PublishedWorkspace published,
        Drafts drafts,
        OwnShares shares,
        Users users,
        Audit audit,
        Events events
    )
    {
        public IEnumerable<SharedDashboardLine> WithViewer()
        {
            var viewer = http.HttpContext!.Viewer();
            foreach (var (owner, name) in shared.For(viewer))
                if (
                    shared.LiveFor(viewer, owner.Name, name) is { } live
                    && live.Workspace.Dashboards.GetValueOrDefault(name) is { } dashboard
                    && OpenDashboard.HasAnythingFor(viewer, dashboard, live)
                )
                    yield return new SharedDashboardLine(owner.Name, owner.Title, name, dashboard.Title);
        }

        public OwnSharesAnswer Of(string dashboard) => Told(Work(dashboard));

        private DraftEndpoints.Drafting.Work Work(string dashboard)
        {
            var work = drafting.On(DraftKind.Dashboards.Folder, dashboard, "share");
            return work.Right != DraftRight.Owns
                    ? throw new ProblemException(
                        422,
                        "not-own",
                        "Only a dashboard of somebody's own is shared so.",
                        "Who may see a published one is said in access.yaml."
                    )
                : drafts.Get(work.Viewer.Name, work.Path) is null ? throw ProblemException.UnknownDashboard(dashboard)
                : work;
        }

        public OwnSharesAnswer Give(string dashboard, OwnShareRequest request)
        {
            var work = Work(dashboard);
            var share = request switch
            {
                { Person: { } person, Role: null } => new OwnShare(work.Viewer.Name, work.Path, "person", person),
                { Person: null, Role: { } role } => new OwnShare(work.Viewer.Name, work.Path, "role", role),
                _ => throw new ProblemException(422, "bad-share", "It is shared with a person or with a role.", "Name one of them."),
            };
            // Who could see nothing of it is answered for as who does not exist.
            if (Recipients(work).All(r => (r.IsRole ? "role" : "person", r.Name) != (share.Kind, share.Name)))
                throw new ProblemException(
                    422,
                    "no-recipient",
                    $"There is no {share.Kind} {ProblemException.Short(share.Name)} that could see anything of it.",
                    "GET of the same address lists them."
                );
            if (!shares.Add(share))
                throw new ProblemException(422, "too-many-shares", $"It is shared with at most {OwnShares.Most}.", "Share it with a role.");
            audit.Write(work.Viewer, "share", $"{dashboard} {share.Kind} {share.Name}");
            Tell(work);
            return Told(work);
        }

        public OwnSharesAnswer End(string dashboard, string kind, string name)
        {
            var work = Work(dashboard);
            if (!shares.Remove(new OwnShare(work.Viewer.Name, work.Path, kind, name)))
                throw new ProblemException(404, "unknown-share", "This is not shared any more.");
            audit.Write(work.Viewer, "withdraw", $"{dashboard} {kind} {ProblemException.Short(name)}");
            Tell(work);
            return Told(work);
        }

        /// <summary>Whoever has it open finds out now, and not when they ask next.</summary>
        private void Tell(DraftEndpoints.Drafting.Work work) => events.SendOwn(work.Viewer.Name, work.Name);

        private IEnumerable<RecipientInfo> Recipients(DraftEndpoints.Drafting.Work work) =>
            workspaces.LiveFor(work.Viewer, work.Name, begins: false) is { } live
            && live.Workspace.Dashboards.GetValueOrDefault(work.Name) is { } dashboard
                ? AccessEndpoints
                    .Everybody(users, live.Workspace)
                    .Where(w => (w.IsRole || w.Viewer.Name != work.Viewer.Name) && OpenDashboard.HasAnythingFor(w.Viewer, dashboard, live))
                    .Select(w => new RecipientInfo(w.Viewer.Name, w.Viewer.Title, w.IsRole))
                : [];

        private OwnSharesAnswer Told(DraftEndpoints.Drafting.Work work) =>
            new(
                [
                    .. shares
                        .Of(work.Viewer.Name, work.Path)
                        .Select(s => new OwnShareInfo(
                            s.Kind,
                            s.Name,
                            s.Kind == "role"
                                ? published.Now.Workspace.Access.Roles.GetValueOrDefault(s.Name)?.Title ?? s.Name
                                : users.Find(s.Name)?.Viewer.Title ?? s.Name
                        )),
                ],
                [.. Recipients(work)]
            );
    }
}

/// <summary>A dashboard of somebody else's own.</summary>
/// <param name="OwnerTitle">Whose it is, in words.</param>
public sealed record SharedDashboardLine(string Owner, string OwnerTitle, string Name, string Title);

/// <summary>With whom to share; exactly one of the two.</summary>
public sealed record OwnShareRequest(string? Person = null, string? Role = null);

/// <summary>Somebody with whom a dashboard is shared.</summary>
/// <param name="Kind">person or role.</param>
/// <param name="Title">Who, in words.</param>
public sealed record OwnShareInfo(string Kind, string Name, string Title);

/// <summary>With whom a dashboard of one's own is shared, and with whom it can be.</summary>
public sealed record OwnSharesAnswer(IReadOnlyList<OwnShareInfo> Shares, IReadOnlyList<RecipientInfo> Recipients);
