using System.Collections.Concurrent;
using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json.Nodes;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Store;

namespace Weir.Service.Publishing;

/// <summary>
/// What is published, with somebody's draft of one dashboard in its place: a page of it is that person's alone and has real figures. Pages
/// are of drafts of dashboards only: who may see which rows, and where they come from, is as it is published. All other drafts are read for
/// their faults alone.
/// </summary>
internal sealed class DraftWorkspaces(PublishedWorkspace published, Drafts drafts, DraftRights rights, Versions versions)
{
    /// <summary>So many are kept ready; the others are read anew.</summary>
    private const int MostKept = 60;

    /// <param name="Seen">Whose names it could use: see <see cref="DraftRights.RolesOf"/>; null for all there are.</param>
    /// <param name="Text">What was read.</param>
    /// <param name="Good">The newest text without errors.</param>
    private sealed record Read(long Version, string? Seen, string Text, string? Good, LiveWorkspace? Live, IReadOnlyList<Fault> Faults);

    private readonly ConcurrentDictionary<(string Owner, string Path), Read> _kept = new();

    /// <summary>
    /// The workspace with a draft as it was when it last had no error, or for whoever begins to design with what is published; null if
    /// there is no such draft, none of its steps was good, or its owner may not have it.
    /// </summary>
    /// <param name="begins">True for whoever has it before them to change it.</param>
    public LiveWorkspace? LiveFor(Viewer owner, string dashboard, bool begins = true)
    {
        var (kind, live) = (DraftKind.Dashboards, published.Now);
        if (rights.Of(owner, kind, dashboard) is not { } right)
            return null;
        if (drafts.Get(owner.Name, kind.PathOf(dashboard, live)) is { } draft)
            return Of(new Work(owner, right, kind, dashboard), draft, default).Live;
        return begins && live.Workspace.Dashboards.ContainsKey(dashboard)
            ? live.WithDraft(live.Workspace, dashboard, live.Version.Number)
            : null;
    }

    /// <summary>What is published of a dashboard as its text says it, for whoever may have a draft of it; null for everybody else.</summary>
    public LiveWorkspace? PublishedFor(Viewer owner, string dashboard)
    {
        var live = published.Now;
        return
            live.Workspace.Dashboards.ContainsKey(dashboard)
            && rights.Of(owner, DraftKind.Dashboards, dashboard) is not (null or DraftRight.Owns)
            ? live.WithDraft(live.Workspace, dashboard, live.Version.Number)
            : null;
    }

    /// <summary>
    /// A dashboard as an earlier version had it, over the data as they are defined now, for whoever publishes; null for everybody else, and
    /// where that version had none.
    /// </summary>
    /// <exception cref="ProblemException">It names what there is not any more.</exception>
    public LiveWorkspace? VersionFor(Viewer viewer, string dashboard, long number)
    {
        var (kind, live) = (DraftKind.Dashboards, published.Now);
        if (rights.Of(viewer, kind, dashboard) is not DraftRight.Publishes)
            return null;
        var path = kind.PathOf(dashboard, live);
        if (_older.GetValueOrDefault((path, number)) is { } known && known.Version.Number / 1_000_000_000 == live.Version.Number)
            return known;
        if (versions.Get(number)?.Files.GetValueOrDefault(path) is not { } text)
            return null;
        var (workspace, faults) = live.ReadWith(path, text, default);
        if (workspace is null)
        {
            var fault = faults.First(f => f.Severity == Severity.Error);
            throw new ProblemException(
                422,
                "outlived-version",
                $"Version {number} can't be drawn any more: {fault.Message}",
                "Its text can be compared line by line."
            );
        }
        if (_older.Count >= MostOlder)
            _older.Clear();
        return _older[(path, number)] = live.WithDraft(workspace, dashboard, NumberOf(live.Version.Number, text), text);
    }

    private const int MostOlder = 20;

    private readonly ConcurrentDictionary<(string Path, long Number), LiveWorkspace> _older = new();

    /// <summary>A definition that somebody works on.</summary>
    internal sealed record Work(Viewer Owner, DraftRight Right, DraftKind Kind, string Name);

    /// <summary>The faults of a draft as it is now; for whoever may not name all there is, those of its own file.</summary>
    public IReadOnlyList<Fault> FaultsOf(Work work, Draft draft, CancellationToken cancellation) => Of(work, draft, cancellation).Faults;

    /// <summary>The whole workspace with a draft of any definition in it; null while it has an error.</summary>
    public Workspace? Whole(Work work, Draft draft, CancellationToken cancellation) =>
        Alone(work.Owner, () => Workspace(published.Now, work, draft.Path, draft.Text, cancellation).Workspace);

    /// <summary>Does what reads texts again and again, one at a time for each person.</summary>
    public T Alone<T>(Viewer owner, Func<T> act)
    {
        lock (_reading.GetOrAdd(owner.Name, _ => new Lock()))
            return act();
    }

    /// <summary>One at a time for each person: what reads the whole workspace must not keep every processor from others.</summary>
    private Read Of(Work work, Draft draft, CancellationToken cancellation) => Alone(work.Owner, () => ReadOf(work, draft, cancellation));

    private readonly ConcurrentDictionary<string, Lock> _reading = new();

    private Read ReadOf(Work work, Draft draft, CancellationToken cancellation)
    {
        var (live, owner, name) = (published.Now, work.Owner.Name, work.Name);
        var seen = work.Right == DraftRight.Publishes ? null : DraftRights.RolesOf(work.Owner);
        var before = _kept.GetValueOrDefault((owner, draft.Path));
        if (before?.Seen != seen)
            before = null;
        if (before is not null && before.Version == live.Version.Number && before.Text == draft.Text)
            return before;
        var (workspace, faults) = Workspace(live, work, draft.Path, draft.Text, cancellation);
        var now = new Read(live.Version.Number, seen, draft.Text, null, null, faults);
        if (work.Kind == DraftKind.Dashboards)
        {
            var good = workspace is null ? before?.Good : draft.Text;
            // While the text is broken the page stays as it was; over another version, as that text is there.
            var stays = workspace is null && before?.Version == live.Version.Number ? before.Live : null;
            if (workspace is null && stays is null && good is not null)
                workspace = Workspace(live, work, draft.Path, good, cancellation).Workspace;
            var page = workspace is null ? stays : live.WithDraft(workspace, name, NumberOf(live.Version.Number, good!), good);
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
            var (workspace, faults) = live.ReadWith(path, tried, cancellation);
            if (workspace is not null)
            {
                // Several may be on their way at once: each has its own name.
                var id = $"{Interlocked.Increment(ref _tried)}";
                _trials[(owner, id)] = live.WithDraft(workspace, trial, NumberOf(live.Version.Number, tried), tried);
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
        Work work,
        string path,
        string text,
        CancellationToken cancellation
    )
    {
        if (work.Right == DraftRight.Publishes)
        {
            var (whole, all) = live.ReadWith(path, text, cancellation);
            // What others are warned of in what is published is none of this draft's.
            var before = live.Warnings.ToHashSet();
            return (whole, [.. all.Where(f => f.File == path || !before.Contains(f))]);
        }
        // Under another name it would stand in the place of a dashboard that its owner may not know of.
        var (isRead, said) = NameIn(text);
        if (isRead && said != work.Name)
            return (null, [Wrong("other-name", $"The dashboard of this draft is called {work.Name}.", $"Write dashboard: {work.Name}.")]);
        var (workspace, faults) = live.ReadWith(path, text, cancellation, DraftRights.SeenBy(work.Owner, path, live));
        List<Fault> own = [.. faults.Where(f => f.File == path && f.Code != "name-taken")];
        if (isRead && workspace is not null)
            return (workspace, own);
        if (own.All(f => f.Severity != Severity.Error))
            own.Add(
                Wrong(
                    "needed-elsewhere",
                    "What is published elsewhere needs something that this draft no longer has.",
                    "Take back the last step."
                )
            );
        return (null, own);

        Fault Wrong(string code, string message, string remedy) => new(Severity.Error, code, path, 1, 1, message, remedy);
    }

    /// <summary>What the dashboard of a text is called, and whether that could be read.</summary>
    private static (bool IsRead, string? Name) NameIn(string text)
    {
        try
        {
            return (true, DesignText.Said(text)?["dashboard"] is JsonValue name ? name.ToString() : null);
        }
        catch (DesignException)
        {
            // The faults of the check tell what is wrong with it.
            return (false, null);
        }
    }

    /// <summary>Forgets a draft that is published or thrown away.</summary>
    public void Forget(string owner, string path) => _kept.TryRemove((owner, path), out _);
}
