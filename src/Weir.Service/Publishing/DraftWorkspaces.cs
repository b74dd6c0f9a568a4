using System.Collections.Concurrent;
using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Weir.Core;
using Weir.Core.Definitions;
using Weir.Store;

namespace Weir.Service.Publishing;

/// <summary>
/// What is published, with somebody's draft of one dashboard in its place: a page of it is that person's alone and has real figures. Pages
/// are of drafts of dashboards only: who may see which rows, and where they come from, is as it is published. A draft of a dataset is read
/// for its faults alone.
/// </summary>
internal sealed class DraftWorkspaces(PublishedWorkspace published, Drafts drafts)
{
    /// <summary>So many are kept ready; the others are read anew.</summary>
    private const int MostKept = 24;

    /// <param name="Text">What was read.</param>
    /// <param name="Good">The newest text without errors.</param>
    private sealed record Read(long Version, string Text, string? Good, LiveWorkspace? Live, IReadOnlyList<Fault> Faults);

    private readonly ConcurrentDictionary<(string Owner, string Path), Read> _kept = new();

    /// <summary>
    /// The workspace with a draft as it was when it last had no error; null if there is no such draft, or none of its steps was good.
    /// </summary>
    public LiveWorkspace? LiveFor(string owner, string dashboard) =>
        drafts.Get(owner, DraftKind.Dashboards.PathOf(dashboard, published.Now)) is { } draft
            ? Of(owner, DraftKind.Dashboards, dashboard, draft, default).Live
            : null;

    /// <summary>The faults of a draft as it is now.</summary>
    public IReadOnlyList<Fault> FaultsOf(string owner, DraftKind kind, string name, Draft draft, CancellationToken cancellation) =>
        Of(owner, kind, name, draft, cancellation).Faults;

    private Read Of(string owner, DraftKind kind, string name, Draft draft, CancellationToken cancellation)
    {
        var live = published.Now;
        var before = _kept.GetValueOrDefault((owner, draft.Path));
        if (before is not null && before.Version == live.Version.Number && before.Text == draft.Text)
            return before;
        var (workspace, faults) = Workspace(live, draft.Path, draft.Text, cancellation);
        var now = new Read(live.Version.Number, draft.Text, null, null, faults);
        if (kind == DraftKind.Dashboards)
        {
            var good = workspace is null ? before?.Good : draft.Text;
            // While the text is broken the page stays as it was; over another version, as that text is there.
            var stays = workspace is null && before?.Version == live.Version.Number ? before.Live : null;
            if (workspace is null && stays is null && good is not null)
                workspace = Workspace(live, draft.Path, good, cancellation).Workspace;
            var page = workspace is null ? stays : live.WithDraft(workspace, name, NumberOf(live.Version.Number, good!));
            now = now with { Good = good, Live = page };
        }
        if (_kept.Count >= MostKept && !_kept.ContainsKey((owner, draft.Path)))
            _kept.Clear();
        _kept[(owner, draft.Path)] = now;
        return now;
    }

    /// <summary>
    /// A text that is only to be looked at: nothing of it is stored. What it has faults in is taken out by <paramref name="without"/>, as
    /// long as there are any.
    /// </summary>
    /// <param name="trial">The dashboard of the text, which nobody else has: in the place of another, what speaks of that would be wrong.</param>
    /// <returns>The text that is looked at, and under what it is found; null if nothing is left of it.</returns>
    public (string Text, string Id)? Try(
        string owner,
        string trial,
        string text,
        Func<string, Fault, string?> without,
        CancellationToken cancellation
    )
    {
        var live = published.Now;
        var path = $"dashboards/{trial}.yaml";
        for (var tried = text; ; )
        {
            var (workspace, faults) = Workspace(live, path, tried, cancellation);
            if (workspace is not null)
            {
                // Several may be on their way at once: each has its own name.
                var id = $"{Interlocked.Increment(ref _tried)}";
                _trials[(owner, id)] = live.WithDraft(workspace, trial, NumberOf(live.Version.Number, tried));
                foreach (var old in _trials.Keys.Where(k => long.Parse(k.Id, CultureInfo.InvariantCulture) <= _tried - MostTrials))
                    _trials.TryRemove(old, out _);
                return (tried, id);
            }
            if (
                faults.FirstOrDefault(f => f.Severity == Severity.Error && f.File == path) is not { } fault
                || without(tried, fault) is not { } less
            )
                return null;
            tried = less;
        }
    }

    /// <summary>A name for a dashboard to try that no other has.</summary>
    public string TrialName(string dashboard)
    {
        var name = $"proposals-for-{dashboard}";
        for (var i = 2; name.Length > 64 || published.Now.Workspace.Dashboards.ContainsKey(name); i++)
            name = $"proposals-{i}";
        return name;
    }

    /// <summary>What was tried under a name; null if nothing was, or it is forgotten by now.</summary>
    public LiveWorkspace? TrialFor(string owner, string id) =>
        _trials.TryGetValue((owner, id), out var trial) && trial.Version.Number / 1_000_000_000 == published.Now.Version.Number
            ? trial
            : null;

    /// <summary>So many of all people are kept.</summary>
    private const int MostTrials = 60;

    private long _tried;
    private readonly ConcurrentDictionary<(string Owner, string Id), LiveWorkspace> _trials = new();

    /// <summary>What stands for the version of a text, so that open pages know another one: small enough for the numbers of a browser.</summary>
    private static long NumberOf(long version, string text) =>
        (version * 1_000_000_000) + (BitConverter.ToUInt32(SHA256.HashData(Encoding.UTF8.GetBytes(text))) % 1_000_000_000);

    private static (Workspace? Workspace, IReadOnlyList<Fault> Faults) Workspace(
        LiveWorkspace live,
        string path,
        string text,
        CancellationToken cancellation
    ) => WorkspaceText.Read(new Dictionary<string, string>(live.Version.Files) { [path] = text }, cancellation);

    /// <summary>Forgets a draft that is published or thrown away.</summary>
    public void Forget(string owner, string path) => _kept.TryRemove((owner, path), out _);
}
