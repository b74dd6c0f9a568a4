using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Views;
using Weir.Service.Asking;
using Weir.Store;

namespace Weir.Service.Api;

/// <summary>Letting others see one's own views. What they see is worked out by their own rights each time that they look.</summary>
internal static class ShareEndpoints
{
    public static void MapShares(this RouteGroupBuilder api)
    {
        api.MapGet("/dashboards/{dashboard}/recipients", Recipients)
            .WithName("listRecipients")
            .WithSummary("The people and roles that have the dashboard: with whom a view of it can be shared.");
        api.MapGet(
                "/dashboards/{dashboard}/views/{view}/shares",
                (string dashboard, string view, Asker asker, Store.Views views, Users users, Audit audit) =>
                {
                    var (open, key) = Own(asker, dashboard, view, views, audit);
                    return Told(open, key, views, users);
                }
            )
            .WithName("listShares")
            .WithSummary("Who can see one of one's own views.");
        api.MapPost("/dashboards/{dashboard}/views/{view}/shares", Share)
            .WithName("shareView")
            .WithSummary("Let a person, a role, or who has the link see a view: as it is now, or as it is whenever they look.");
        api.MapDelete(
                "/dashboards/{dashboard}/views/{view}/shares/{share}",
                (string dashboard, string view, string share, Asker asker, Store.Views views, Users users, Audit audit) =>
                {
                    var (open, key) = Own(asker, dashboard, view, views, audit);
                    if (!views.Withdraw(key, share))
                        throw new ProblemException(404, "unknown-share", "This is not shared any more.");
                    audit.Write(asker.Viewer, "withdraw", $"{dashboard} {key.View}");
                    return Told(open, key, views, users);
                }
            )
            .WithName("withdrawShare")
            .WithSummary("End a share; it stops at once.");
    }

    private static IEnumerable<ShareInfo> Share(
        string dashboard,
        string view,
        ShareRequest request,
        Asker asker,
        Store.Views views,
        Users users,
        Audit audit
    )
    {
        var (open, key) = Own(asker, dashboard, view, views, audit);
        var (kind, name) = request switch
        {
            { Person: { } person, Role: null, Link: false } => ("person", person),
            { Person: null, Role: { } role, Link: false } => ("role", role),
            { Person: null, Role: null, Link: true } => ("link", ""),
            _ => throw new ProblemException(
                422,
                "bad-share",
                "A view is shared with a person, with a role, or by link.",
                "Name one of them."
            ),
        };
        // Who has not the dashboard is answered for as who does not exist.
        if (kind != "link" && Everybody(open, users, asker).All(r => (r.IsRole ? "role" : "person", r.Name) != (kind, name)))
            throw new ProblemException(
                422,
                "no-recipient",
                $"There is no {kind} {ProblemException.Short(name)} that has this dashboard.",
                "GET …/recipients lists them."
            );
        if (views.Share(key, kind, name, request.Live ? null : views.Get(key).Edits) is null)
            throw new ProblemException(
                422,
                "too-many-shares",
                $"A view is shared with at most {Store.Views.MaximumShares}.",
                "Share it with a role."
            );
        audit.Write(asker.Viewer, "share", $"{dashboard} {key.View} {kind} {name}");
        return Told(open, key, views, users);
    }

    /// <summary>One of the viewer's own views of a dashboard that they may share.</summary>
    private static (OpenDashboard Open, ViewKey Key) Own(Asker asker, string dashboard, string view, Store.Views views, Audit audit)
    {
        var open = asker.OpenAsSet(dashboard, null, "");
        if (!open.MayShare)
        {
            audit.Write(asker.Viewer, "denied", $"share {dashboard}");
            throw ProblemException.MayNot("share views of this dashboard");
        }
        var key = open.Key with { View = view == "my" ? "" : view };
        return key.View.Length == 0 || open.Named.Any(v => v.View == key.View) ? (open, key) : throw ProblemException.UnknownView(view);
    }

    private static IEnumerable<RecipientInfo> Recipients(string dashboard, Asker asker, Store.Views views, Users users, Audit audit) =>
        Everybody(Own(asker, dashboard, "my", views, audit).Open, users, asker).Where(r => r.IsRole || r.Name != asker.Viewer.Name);

    private static IEnumerable<RecipientInfo> Everybody(OpenDashboard open, Users users, Asker asker)
    {
        var whole = asker.Live.Workspace.Dashboards[open.Dashboard.Name];
        return AccessEndpoints
            .Everybody(users, asker.Live.Workspace)
            .Where(w => OpenDashboard.IsThereFor(w.Viewer, whole, asker.Live))
            .Select(w => new RecipientInfo(w.Viewer.Name, w.Viewer.Title, w.IsRole));
    }

    private static IEnumerable<ShareInfo> Told(OpenDashboard open, ViewKey key, Store.Views views, Users users) =>
        views
            .SharesOf(key)
            .Select(s => new ShareInfo(
                s.Id,
                s.Kind,
                s.Name,
                s.Kind switch
                {
                    "link" => "whoever has the link and may see this dashboard",
                    "role" => $"the role {open.Live.Workspace.Access.Roles.GetValueOrDefault(s.Name)?.Title ?? s.Name}",
                    _ => users.Find(s.Name)?.Viewer.Title ?? s.Name,
                },
                s.Copy is null,
                OpenDashboard.SharedPrefix + s.Id
            ));
}

/// <summary>Somebody with whom a view can be shared.</summary>
public sealed record RecipientInfo(string Name, string Title, bool IsRole);

/// <summary>With whom to share; exactly one of the three.</summary>
/// <param name="Live">True for the view as it is whenever they look; false for a copy of it as it is now.</param>
public sealed record ShareRequest(string? Person = null, string? Role = null, bool Link = false, bool Live = false);

/// <summary>Who can see a view.</summary>
/// <param name="Kind">person, role or link.</param>
/// <param name="Title">Who, in words.</param>
/// <param name="View">What an address names to open it.</param>
public sealed record ShareInfo(string Id, string Kind, string Name, string Title, bool IsLive, string View);
