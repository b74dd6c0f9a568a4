using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using Microsoft.AspNetCore.Mvc;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Service.Api;

/// <summary>Definitions: fetch, check, publish; and news of them.</summary>
internal static class DefinitionEndpoints
{
    private const int PublishLimit = 8 * 1024 * 1024;

    public static void MapDefinitions(this RouteGroupBuilder api)
    {
        api.MapGet(
                "/definitions",
                (HttpContext context, PublishedWorkspace published, Store.Audit audit) =>
                {
                    MayPublish(context, published, audit, "fetch");
                    var live = published.Fetch(context.Viewer().Name);
                    return new DefinitionFiles(live.Version.Number, live.Version.Files);
                }
            )
            .WithName("fetchDefinitions")
            .WithSummary("The files of the published workspace.");

        api.MapPost(
                "/definitions/check",
                (DefinitionsRequest request, HttpContext context, PublishedWorkspace published, Store.Audit audit) =>
                {
                    MayPublish(context, published, audit, "check");
                    var (workspace, faults) = WorkspaceText.Read(Files(request), context.RequestAborted);
                    return new DefinitionsAnswer(workspace is not null, null, [.. faults.Select(FaultInfo.Of)]);
                }
            )
            .WithName("checkDefinitions")
            .WithSummary("Check files without publishing them.")
            .WithMetadata(new RequestSizeLimitAttribute(PublishLimit), new OnlyReads());

        api.MapPut(
                "/definitions",
                (DefinitionsRequest request, HttpContext context, PublishedWorkspace published, Store.Audit audit) =>
                {
                    MayPublish(context, published, audit, "publish");
                    var by = context.Viewer().Name;
                    return DefinitionsAnswer.Of(
                        published.Publish(
                            Files(request),
                            by,
                            PublishOrigin.Person(by, request.Base, request.Replace),
                            DraftEndpoints.ReasonOf(request.Why)
                        )
                    );
                }
            )
            .WithName("publishDefinitions")
            .WithSummary(
                "Check files and, if there is no error, publish them; a broken set changes nothing. What others published meanwhile "
                    + "stays where it is another file, and is asked about where it is the same."
            )
            .WithMetadata(new RequestSizeLimitAttribute(PublishLimit));

        api.MapGet(
                "/events",
                (
                    string? view,
                    HttpContext context,
                    PublishedWorkspace published,
                    Events events,
                    Store.Views views,
                    SharedDrafts shared,
                    IHostApplicationLifetime lifetime
                ) =>
                {
                    // Ends with the page or with the service: an open page must not hold up a stop.
                    var ends = CancellationTokenSource.CreateLinkedTokenSource(context.RequestAborted, lifetime.ApplicationStopping);
                    context.Response.RegisterForDispose(ends);
                    var listener = new Listener(context.Viewer(), view, published, views, shared);
                    return TypedResults.ServerSentEvents(News(listener, events, context.StillSignedIn(), ends.Token));
                }
            )
            .WithName("listen")
            .WithSummary("News for open pages, as server-sent events: what version is served, whether the watched folder is broken.");
    }

    private static async IAsyncEnumerable<SseItem<WorkspaceEvent>> News(
        Listener listener,
        Events events,
        Func<bool> stillThere,
        [EnumeratorCancellation] CancellationToken cancellation
    )
    {
        // What comes while the first is told is heard, too.
        using var hearing = events.Hear();
        foreach (var first in listener.Begin())
            yield return new SseItem<WorkspaceEvent>(first, first.Kind);
        await foreach (var news in hearing.All(stillThere, cancellation))
        foreach (var told in listener.ToldOf(news))
            yield return new SseItem<WorkspaceEvent>(told, told.Kind);
    }

    /// <summary>Whoever listens for news: they hear nothing of what is not theirs to know, and of views under the names that these have for them.</summary>
    /// <param name="Opened">The view that the listener has open; null if that is none.</param>
    private sealed record Listener(
        Viewer Viewer,
        string? Opened,
        PublishedWorkspace Published,
        Store.Views Views,
        SharedDrafts SharedDrafts
    )
    {
        /// <summary>The dashboards of somebody's own that are shared with the listener, as far as they have heard: that one is no more is told once.</summary>
        private readonly HashSet<(string Owner, string Dashboard)> _own =
        [
            .. SharedDrafts.For(Viewer).Select(s => (s.Owner.Name, s.Dashboard)),
        ];

        private readonly bool _seesFaults = Published.NowOrNull is { } live && Viewer.May(Acts.Publish, live.Workspace);

        /// <summary>What is served now, so that a page that was away finds out what it missed.</summary>
        public IEnumerable<WorkspaceEvent> Begin()
        {
            var version = Published.NowOrNull?.Version.Number ?? 0;
            yield return new WorkspaceEvent("published", version, []);
            if (Published.Broken.Count > 0 && _seesFaults)
                yield return new WorkspaceEvent(
                    "broken",
                    version,
                    [.. Published.Broken.Where(f => f.Severity == Severity.Error).Select(f => f.ToString()).Take(20)]
                );
        }

        public IEnumerable<WorkspaceEvent> ToldOf(WorkspaceEvent news) =>
            news.Kind switch
            {
                "broken" => _seesFaults ? [news] : [],
                // A view is told to the other windows of whoever has it, and to those with whom it is shared as it is.
                "view" => news.Items[0] == Viewer.Name ? [news with { Items = [.. news.Items.Skip(1)] }] : AsShared(news),
                "own" => OfOwn(news),
                // A dataset without a grant does not exist, in news too.
                "data" => news.Items.Where(Reads).ToList() is { Count: > 0 } read ? [news with { Items = read }] : [],
                _ => [news],
            };

        /// <summary>News of a dashboard of somebody's own for whoever it is shared with; without a version for who had it until now.</summary>
        private IEnumerable<WorkspaceEvent> OfOwn(WorkspaceEvent news)
        {
            var which = (news.Items[0], news.Items[1]);
            if (SharedDrafts.LiveFor(Viewer, which.Item1, which.Item2) is not { } live)
                return _own.Remove(which) ? [news with { Version = 0 }] : [];
            _own.Add(which);
            return [news with { Version = live.Version.Number }];
        }

        private bool Reads(string dataset) =>
            Published.NowOrNull is { } now && Scope.For(Viewer, dataset, now.Workspace, Viewing.Whenever) is not null;

        /// <summary>
        /// News of somebody's view for a viewer with whom it is shared by name or by role, or who has it open by a link. Who else was sent the
        /// link is not known; telling its address to everybody would be sending it.
        /// </summary>
        private IEnumerable<WorkspaceEvent> AsShared(WorkspaceEvent news)
        {
            if (Published.NowOrNull is not { } live || !Viewer.May(DashboardActs.See, news.Items[1], live.Workspace))
                return [];
            return Views
                .SharesOf(new Store.ViewKey(news.Items[0], news.Items[1], news.Items[2]))
                .Where(s =>
                    s.Copy is null
                    && s.IsFor(Viewer.Name, Viewer.Roles)
                    && (s.Kind != "link" || Opened == Asking.OpenDashboard.SharedPrefix + s.Id)
                )
                .Select(s => news with { Items = [news.Items[1], Asking.OpenDashboard.SharedPrefix + s.Id, news.Items[3]] })
                .ToList();
        }
    }

    private static Dictionary<string, string> Files(DefinitionsRequest request)
    {
        var files = request.Files ?? throw new ProblemException(400, "bad-request", "The request has no files.");
        if (files.FirstOrDefault(f => f.Value is null || f.Key.Length > 200 || !WorkspaceFolder.Holds(f.Key)) is { Key: { } path })
            throw new ProblemException(
                422,
                "bad-path",
                $"'{(path.Length > 80 ? path[..80] : path)}' is no path in a workspace.",
                "For example datasets/sailings.yaml."
            );
        return files;
    }

    internal static void MayPublish(HttpContext context, PublishedWorkspace published, Store.Audit audit, string act)
    {
        var viewer = context.Viewer();
        // Before anything is published there are no roles: the folder given at start is the way in.
        if (published.NowOrNull is { } live && viewer.May(Acts.Publish, live.Workspace))
            return;
        audit.Write(viewer, "denied", $"{act} definitions");
        throw ProblemException.MayNot($"{act} definitions");
    }
}

/// <summary>The definition files.</summary>
/// <param name="Files">Text by path.</param>
public sealed record DefinitionFiles(long Version, IReadOnlyDictionary<string, string> Files);

/// <summary>Definition files to check or publish.</summary>
/// <param name="Base">The version that they were made from; what one fetched or published last if left out.</param>
/// <param name="Replace">True to publish them as they are, whatever others published meanwhile.</param>
/// <param name="Why">A sentence for the history.</param>
public sealed record DefinitionsRequest(Dictionary<string, string>? Files, long? Base = null, bool Replace = false, string? Why = null);

/// <summary>A fault in a definition file.</summary>
public sealed record FaultInfo(string Severity, string Code, string File, int Line, int Column, string Message, string? Remedy)
{
    internal static FaultInfo Of(Fault f) =>
        new(f.Severity.ToString().ToLowerInvariant(), f.Code, f.File, f.Line, f.Column, f.Message, f.Remedy);
}

/// <summary>What came of a check or of publishing.</summary>
/// <param name="Version">The version served now; null if the files are broken or were only checked.</param>
/// <param name="Kept">Files that others published meanwhile and that stay as they are.</param>
/// <param name="Beside">What of it did not come into the folder that the team keeps its definitions in, as sentences.</param>
public sealed record DefinitionsAnswer(
    bool Accepted,
    long? Version,
    IReadOnlyList<FaultInfo> Faults,
    IReadOnlyList<string>? Kept = null,
    IReadOnlyList<string>? Beside = null
)
{
    internal static DefinitionsAnswer Of(Published published) =>
        new(published.Version is not null, published.Version, [.. published.Faults.Select(FaultInfo.Of)], published.Kept, published.Beside);
}
