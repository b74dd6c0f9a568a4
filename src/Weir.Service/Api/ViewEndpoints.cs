using System.Text.Json;
using Microsoft.AspNetCore.Mvc;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Views;
using Weir.Service.Asking;

namespace Weir.Service.Api;

/// <summary>The viewer's own arrangement of a dashboard. Each edit is stored before it is acknowledged.</summary>
internal static class ViewEndpoints
{
    public static void MapViews(this RouteGroupBuilder api)
    {
        MapNamed(api);
        api.MapShares();
        api.MapPost("/dashboards/{dashboard}/view/edits", Edit)
            .WithName("editView")
            .WithSummary("Change one's own arrangement; answers with the dashboard as it is now.");

        api.MapGet(
                "/dashboards/{dashboard}/view/edits",
                (string dashboard, string? view, Asker asker, Store.Audit audit) =>
                    Arrangeable(asker, dashboard, null, view, audit).View.Edits
            )
            .WithName("listEdits")
            .WithSummary(
                "The edits that one's own arrangement is made of, oldest first: to be kept elsewhere, or made again in another view."
            );

        api.MapGet("/dashboards/{dashboard}/view/steps", Steps)
            .WithName("listSteps")
            .WithSummary("The last 100 steps of one's own arrangement in words, newest first, with those that were taken back.");
        api.MapPost("/dashboards/{dashboard}/view/go-to", GoTo)
            .WithName("goToStep")
            .WithSummary("Go to the arrangement as it was after a step, back or forth; 0 for before the first.");

        Map("undo", "undoEdit", "Take the last change of the arrangement back.", (views, key, request) => views.Undo(key, request));
        Map("redo", "redoEdit", "Make the change again that was taken back last.", (views, key, request) => views.Redo(key, request));

        void Map(string path, string name, string summary, Func<Store.Views, Store.ViewKey, string?, bool> act) =>
            api.MapPost(
                    $"/dashboards/{{dashboard}}/view/{path}",
                    (
                        string dashboard,
                        string? set,
                        string? view,
                        [FromHeader(Name = RequestHeader)] string? request,
                        Asker asker,
                        Store.Views views,
                        Store.Audit audit,
                        Events events
                    ) =>
                    {
                        var open = Arrangeable(asker, dashboard, set, view, audit);
                        if (!act(views, open.Key, Checked(request)))
                            throw new ProblemException(409, $"nothing-to-{path}", $"There is nothing to {path}.");
                        return Changed(open, asker, set, views, events);
                    }
                )
                .WithName(name)
                .WithSummary(summary);
    }

    private static DashboardPage Edit(
        string dashboard,
        string? set,
        string? view,
        [FromHeader(Name = RequestHeader)] string? request,
        ViewEdit edit,
        Asker asker,
        Store.Views views,
        Store.Audit audit,
        Events events
    )
    {
        var open = Arrangeable(asker, dashboard, set, view, audit, edit);
        if (edit is ViewEdit.MakeTile && !asker.Viewer.May(Acts.Own, open.Live.Workspace))
        {
            audit.Write(asker.Viewer, "denied", $"make a tile on {dashboard}");
            throw ProblemException.MayNot("make tiles of your own");
        }
        if (views.WasCarriedOut(open.Key, Checked(request)))
            return Changed(open, asker, set, views, events);
        if (edit is ViewEdit.KeepPicks { Selections: null, Parameters.Count: > 0 })
            throw new ProblemException(
                422,
                "edit-refused",
                "Without picks no parameters are kept either.",
                "Send selections: {} to keep parameters alone."
            );
        if (edit is ViewEdit.KeepPicks { Selections: { } picks } keep)
            // What can't be meant now would not be kept but lost.
            asker.Open(dashboard, new ViewingRequest(keep.Parameters?.ToDictionary(), null, view)).Selections(picks.ToDictionary());
        var (after, reason) = open.Fold.Apply(open.Undrawn, Checked(edit));
        if ((reason ?? CannotDraw(edit, after, open)) is { } refusal)
            throw new ProblemException(422, "edit-refused", refusal);
        if (!views.Append(open.Key, open.Live.Version.Number, edit, request))
            throw new ProblemException(
                422,
                "view-full",
                "This view has so many edits that no more can be kept.",
                "Reset it to the opening view."
            );
        return Changed(open, asker, set, views, events);
    }

    private static DashboardPage GoTo(
        string dashboard,
        string? set,
        string? view,
        [FromHeader(Name = RequestHeader)] string? request,
        StepRequest to,
        Asker asker,
        Store.Views views,
        Store.Audit audit,
        Events events
    )
    {
        var open = Arrangeable(asker, dashboard, set, view, audit);
        if (!views.GoTo(open.Key, to.Step, Checked(request)))
            throw new ProblemException(409, "no-such-step", "This step is not there any more.", "Look at the steps again.");
        return Changed(open, asker, set, views, events);
    }

    /// <summary>
    /// What a sender calls a request for a change, so that it can send it again where it heard no answer: it is carried out once. The
    /// header is that of the IETF's draft for idempotent requests.
    /// </summary>
    private const string RequestHeader = "Idempotency-Key";

    private static string? Checked(string? request) =>
        request is null or { Length: > 0 and <= 64 }
            ? request
            : throw new ProblemException(422, "bad-request", $"The header {RequestHeader} has 1 to 64 characters.");

    /// <summary>The page as a change has left it, which the viewer's other windows are told of.</summary>
    private static DashboardPage Changed(OpenDashboard open, Asker asker, string? set, Store.Views views, Events events)
    {
        var view = views.Get(open.Key);
        events.Send(new WorkspaceEvent("view", open.Live.Version.Number, [open.Key.User, open.Key.Dashboard, open.Key.View, view.Mark]));
        // A step back or forth can bring a tile of data of which nothing was there before.
        return DashboardPage.Of(
            view.Edits.OfType<ViewEdit.MakeTile>().All(m => open.Fold.Makeable.ContainsKey(m.Dataset))
                ? open.WithView(view)
                : asker.OpenAsSet(open.Key.Dashboard, set, open.Key.View)
        );
    }

    /// <summary>The dashboard, if the viewer may have a view of their own of it.</summary>
    private static OpenDashboard Arrangeable(
        Asker asker,
        string dashboard,
        string? set,
        string? view,
        Store.Audit audit,
        ViewEdit? making = null
    )
    {
        var open = asker.OpenAsSet(dashboard, set, view, making);
        if (open.MayArrange)
            return open;
        if (open is { Shared: not null, MayHaveViews: true })
            throw new ProblemException(
                403,
                "not-yours",
                "This view is somebody else's.",
                "Make one of your own from it: POST …/views, or New view from this one."
            );
        audit.Write(asker.Viewer, "denied", $"arrange {dashboard}");
        throw ProblemException.MayNot("have a view of your own of this dashboard");
    }

    private static void MapNamed(RouteGroupBuilder api)
    {
        api.MapPost(
                "/dashboards/{dashboard}/views",
                (string dashboard, NewViewRequest request, Asker asker, Store.Views views, Store.Audit audit) =>
                {
                    var open = asker.OpenAsSet(dashboard, null, request.From);
                    if (!open.MayHaveViews)
                        _ = Arrangeable(asker, dashboard, null, "", audit);
                    var title = Title(request.Title);
                    // Of somebody else's view the picks stay behind: some may be values that this viewer may not see.
                    IReadOnlyList<ViewEdit> edits =
                        request.FromOpening ? []
                        : open.Shared is null ? open.View.Edits
                        : [.. open.View.Edits.Where(e => e is not ViewEdit.KeepPicks)];
                    var view =
                        views.Make(open.Key.User, dashboard, title, open.Live.Version.Number, edits)
                        ?? throw new ProblemException(
                            422,
                            "too-many-views",
                            $"There are {Store.Views.MaximumNamed} views with names already.",
                            "Remove one that you do not need."
                        );
                    return new NamedViewInfo(view, title, false);
                }
            )
            .WithName("makeView")
            .WithSummary("Make a view with a name of its own: from another, as it is now, or from the opening view.");

        Change("title", "renameView", "Give a view another name.", (views, key, request) => views.Rename(key, Title(request.Title)));
        Change(
            "first",
            "openViewFirst",
            "Have the dashboard open with this view; with `my` in place of a view with the one without a name.",
            (views, key, _) => views.OpenFirst(key.View == MyView ? key with { View = "" } : key)
        );
        Change("remove", "removeView", "Take a view with a name away.", (views, key, _) => views.Remove(key));
        Change("restore", "restoreView", "Bring a view back that was taken away.", (views, key, _) => views.Remove(key, isBack: true));

        void Change(string path, string name, string summary, Func<Store.Views, Store.ViewKey, ViewChangeRequest, bool> act) =>
            api.MapPost(
                    $"/dashboards/{{dashboard}}/views/{{view}}/{path}",
                    (string dashboard, string view, ViewChangeRequest request, Asker asker, Store.Views views, Store.Audit audit) =>
                    {
                        var open = Arrangeable(asker, dashboard, null, "", audit);
                        if (!act(views, open.Key with { View = view }, request))
                            throw ProblemException.UnknownView(view);
                        return views.Named(open.Key.User, dashboard).Select(NamedViewInfo.Of);
                    }
                )
                .WithName(name)
                .WithSummary(summary);
    }

    /// <summary>In an address in place of the empty name.</summary>
    internal const string MyView = "my";

    private static string Title(string? title) =>
        title?.Trim() is { Length: > 0 and <= 60 } trimmed
            ? trimmed
            : throw new ProblemException(422, "bad-title", "A view needs a name of 1 to 60 characters.");

    private static IEnumerable<StepInfo> Steps(string dashboard, string? view, Asker asker, Store.Views views, Store.Audit audit)
    {
        var open = Arrangeable(asker, dashboard, null, view, audit);
        string TitleOf(string tile) => open.Arrangement.Tiles.Any(t => t.Tile.Name == tile) ? open.TitleOf(tile) : "a tile that is gone";
        var steps = new List<StepInfo>();
        var fold = open.Fold;
        var now = fold.Opening;
        foreach (var step in views.Steps(open.Key))
        {
            // Of what was taken back the words are those of the state in which it was made.
            steps.Add(new StepInfo(step.Number, EditWords.Of(step.Edit, now, TitleOf), step.Made, step.IsUndone));
            now = fold.Apply(now, step.Edit).Arrangement;
        }
        return steps.TakeLast(PersonalView.UndoSteps).Reverse();
    }

    /// <summary>Why a drawing has no meaning for the viewer; null if it has one, or is none.</summary>
    private static string? CannotDraw(ViewEdit edit, Arrangement after, OpenDashboard open) =>
        edit is ViewEdit.Draw { Drawing: { IsEmpty: false } drawing } draw
        && after.Tiles.FirstOrDefault(t => t.Tile.Name == draw.Tile)?.Tile is { } tile
            ? tile.Dataset is null
                ? "Words are not drawn otherwise."
                : Redrawing.Of(tile, drawing, open.ScopeOf(tile)).Reason
            : null;

    /// <summary>Picks that take more characters than this are not kept.</summary>
    private const int MaximumKept = 50_000;

    /// <summary>JSON may leave out what the edit needs.</summary>
    private static ViewEdit Checked(ViewEdit edit) =>
        edit.IsWhole() && (edit is not ViewEdit.KeepPicks kept || JsonSerializer.Serialize(kept).Length <= MaximumKept)
            ? edit
            : throw new ProblemException(
                422,
                "edit-refused",
                "The edit leaves out what it needs.",
                "See docs/commands.md and the OpenAPI document."
            );
}

/// <summary>A step of one's own arrangement.</summary>
/// <param name="Step">Its number, for going there.</param>
public sealed record StepInfo(long Step, string Words, DateTimeOffset Made, bool IsUndone);

/// <summary>A step to go to; 0 for before the first.</summary>
public sealed record StepRequest(long Step);

/// <summary>A view to be made.</summary>
/// <param name="From">The view that it begins as; the one that opens first if left out.</param>
/// <param name="FromOpening">True to begin with the dashboard as its developer has it.</param>
public sealed record NewViewRequest(string? Title, string? From = null, bool FromOpening = false);

/// <summary>A change of a view with a name.</summary>
/// <param name="Title">Its new name, where it gets one.</param>
public sealed record ViewChangeRequest(string? Title = null);

/// <summary>A view with a name.</summary>
/// <param name="View">What addresses and requests call it by.</param>
/// <param name="OpensFirst">True if the dashboard opens with it.</param>
public sealed record NamedViewInfo(string View, string Title, bool OpensFirst)
{
    internal static NamedViewInfo Of(Store.NamedView view) => new(view.View, view.Title, view.OpensFirst);
}
