using System.Collections.Concurrent;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Engines;
using Weir.Service.Publishing;

namespace Weir.Service.Api;

/// <summary>What a draft comes to with the data as they are, before it is published.</summary>
internal static class DraftCheckEndpoints
{
    /// <summary>Whoever publishes waits for it.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(60);

    public static void MapDraftChecks(this RouteGroupBuilder api) =>
        api.MapPost("/drafts/{kind}/{name}/check", (string kind, string name, Checking c, CancellationToken stop) => c.Of(kind, name, stop))
            .WithName("checkDraft")
            .WithSummary(
                "Hold your draft against its sources, as weir check --connect does: columns and values of what it defines, the tiles that it changes, "
                    + "and the access checks that it can break. Needs define besides."
            );

    /// <summary>Who has a draft checked: made once for a request.</summary>
    internal sealed class Checking(
        DraftEndpoints.Drafting drafting,
        DraftWorkspaces workspaces,
        PublishedWorkspace published,
        Store.Drafts drafts,
        Store.Audit audit,
        EngineFolders folders,
        TimeProvider clock,
        CheckLine line
    )
    {
        public async Task<DraftCheckAnswer> Of(string kind, string name, CancellationToken stop)
        {
            var work = drafting.On(kind, name, "check");
            if (work.Right != DraftRight.Publishes || !work.Viewer.May(Acts.Define, published.Now.Workspace))
            {
                audit.Write(work.Viewer, "denied", $"check drafts of {kind}");
                throw ProblemException.MayNot($"hold drafts against their data: that needs the acts {Acts.Publish} and {Acts.Define}");
            }
            var draft = drafts.Get(work.Viewer.Name, work.Path) ?? throw DraftEndpoints.NoDraft(name);
            var workspace =
                workspaces.Whole(work.Read, draft, stop)
                ?? throw new ProblemException(422, "broken-draft", "It has an error.", "Mend it first: it is told with the draft.");
            if (line.Enter(work.Viewer.Name) is not { } place)
                throw new ProblemException(429, "busy", "A draft of yours is being checked already.", "Wait for that.");
            using var entered = place;
            using var limit = CancellationTokenSource.CreateLinkedTokenSource(stop);
            limit.CancelAfter(Patience);
            var (datasets, asks) = Meant(work, workspace);
            var now = TimeZoneInfo.ConvertTime(clock.GetUtcNow(), TimeZoneInfo.FindSystemTimeZoneById(workspace.TimeZone)).DateTime;
            await using var check = new ConnectedCheck(workspace, folders, now)
            {
                Datasets = datasets,
                Asks = asks,
                Through = published.Now.Paced,
            };
            var isWhole = true;
            try
            {
                await check.Run(limit.Token);
            }
            catch (OperationCanceledException) when (!stop.IsCancellationRequested)
            {
                isWhole = false;
            }
            return new DraftCheckAnswer([.. check.Found.Select(FaultInfo.Of)], check.TilesAsked, isWhole);
        }

        /// <summary>What a draft can have changed: the rest is as it is published.</summary>
        private static (IReadOnlySet<string> Datasets, Func<Dashboard, Tile, bool> Asks) Meant(
            DraftEndpoints.Drafting.Work work,
            Workspace workspace
        )
        {
            var all = workspace.Datasets.Keys.ToHashSet();
            HashSet<string> Of(params string[] names) => [.. names.Where(all.Contains)];
            return work.Kind.Folder switch
            {
                "dashboards" => (Of(), (d, _) => d.Name == work.Name),
                "datasets" => (Of(work.Name), (_, t) => t.Dataset == work.Name),
                "sources" => (Of([.. workspace.Datasets.Values.Where(d => d.Source == work.Name).Select(d => d.Name)]), (_, _) => false),
                // Tiles of catalogues are asked where they stand.
                "catalogues" => (Of(), (_, t) => t.SharedAs?.StartsWith(work.Name + "/", StringComparison.Ordinal) == true),
                "access" => (all, (_, _) => false),
                _ => (Of(), (_, _) => false),
            };
        }
    }
}

/// <summary>One check at a time for a person, and few in all: they ask the sources of viewers.</summary>
internal sealed class CheckLine
{
    private const int Most = 4;

    private readonly ConcurrentDictionary<string, bool> _in = new();

    /// <summary>A place until it is disposed of; null if there is none.</summary>
    public IDisposable? Enter(string person) =>
        _in.Count < Most && _in.TryAdd(person, true) ? new Place(() => _in.TryRemove(person, out _)) : null;

    private sealed class Place(Action leave) : IDisposable
    {
        public void Dispose() => leave();
    }
}

/// <summary>What a draft comes to with the data as they are.</summary>
/// <param name="TilesAsked">How many tiles were asked.</param>
/// <param name="IsWhole">False if it took too long: there may be more.</param>
public sealed record DraftCheckAnswer(IReadOnlyList<FaultInfo> Faults, int TilesAsked, bool IsWhole);
