using System.Collections.Concurrent;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Engines;
using Weir.Service.Answers;
using Weir.Store;

namespace Weir.Service.Publishing;

/// <summary>A published version with all that is needed to answer from it.</summary>
/// <param name="read">What its files were read as.</param>
/// <param name="draftOf">The dashboard that is somebody's draft here and not what is published; null for none.</param>
/// <param name="isShared">True if others than who works on that draft look at it.</param>
internal sealed class LiveWorkspace(
    PublishedVersion version,
    Workspace workspace,
    WorkspaceRead read,
    IReadOnlyDictionary<string, OpenSource> sources,
    string? draftOf = null,
    string? draftText = null,
    bool isShared = false
)
{
    /// <summary>The dashboard that is somebody's draft here, and seen by nobody else; null for none.</summary>
    public string? DraftOf { get; } = draftOf;

    /// <summary>True where it is shown to others than who works on the draft.</summary>
    public bool IsShared { get; } = isShared;

    /// <summary>The same for others, who only look.</summary>
    public LiveWorkspace SharedWith() => new(Version, Workspace, read, sources, DraftOf, draftText, isShared: true) { Bases = Bases };

    /// <summary>The same sources with a draft of one dashboard in the place of what is published.</summary>
    /// <param name="number">What stands for the version: another for each step of the draft.</param>
    /// <param name="text">The draft's own; null for what is published.</param>
    public LiveWorkspace WithDraft(Workspace drafted, string dashboard, long number, string? text = null) =>
        new(Version with { Number = number }, drafted, read, sources, dashboard, text);

    /// <summary>What the check finds in the files as they are published.</summary>
    public IReadOnlyList<Fault> Warnings => read.Faults;

    /// <summary>The published files with one of them as a draft has it: the others are not read again.</summary>
    /// <param name="seen">See <see cref="WorkspaceText.Read"/>.</param>
    public WorkspaceRead ReadWith(string path, string text, CancellationToken cancellation, NamesSeen? seen = null) =>
        WorkspaceText.Read(new Dictionary<string, string>(Version.Files) { [path] = text }, cancellation, seen, read);

    /// <summary>Files of which most are as they are published: these are not read again.</summary>
    public WorkspaceRead ReadAgain(IReadOnlyDictionary<string, string> files) => WorkspaceText.Read(files, before: read);

    private ConcurrentDictionary<string, TileBases> Bases { get; init; } = new();

    /// <summary>The signs of what the tiles of a dashboard get their figures from.</summary>
    public TileBases BasesOf(string dashboard) =>
        Bases.GetOrAdd(
            dashboard,
            name =>
            {
                var path = DraftKind.Dashboards.PathOf(name, this);
                return new TileBases(
                    draftText is { } text && name == DraftOf
                        ? new Dictionary<string, string>(Version.Files) { [path] = text }
                        : Version.Files,
                    path
                );
            }
        );

    public PublishedVersion Version { get; } = version;

    public Workspace Workspace { get; } = workspace;

    public Planner Planner { get; } = new(workspace.WeekStart, workspace.Money);

    /// <summary>A time of viewing in the workspace's zone, with the parameters as they open.</summary>
    public Viewing Opening(DateTimeOffset now) =>
        Viewing.At(TimeZoneInfo.ConvertTime(now, TimeZoneInfo.FindSystemTimeZoneById(Workspace.TimeZone)).DateTime);

    public SqlDialect Dialect(string source) => sources[source].Dialect(Workspace.WeekStart);

    public OpenSource Source(string name) => sources[name];

    /// <summary>Something opened by itself, asked within the pace of the source of its name, if there is one.</summary>
    public IEngineSource Paced(string name, IEngineSource opened) => sources.GetValueOrDefault(name)?.Paced(opened) ?? opened;
}

/// <summary>The workspace that is served now. A new version replaces it whole; a broken one never does.</summary>
internal sealed class PublishedWorkspace(
    Versions versions,
    Events events,
    SourcePool sources,
    WatchedFolder folder,
    ILogger<PublishedWorkspace> log
)
{
    private readonly Lock _publishing = new();
    private volatile LiveWorkspace? _now;

    /// <summary>The workspace that is served now.</summary>
    /// <exception cref="ProblemException">Nothing was published yet.</exception>
    public LiveWorkspace Now =>
        _now
        ?? throw new ProblemException(503, "nothing-published", "No workspace is published here yet.", "Publish one: weir publish DIR.");

    public LiveWorkspace? NowOrNull => _now;

    /// <summary>The faults of the newest change in the watched folder, if it is broken.</summary>
    public IReadOnlyList<Fault> Broken { get; private set; } = [];

    /// <summary>Takes up what was published last.</summary>
    /// <param name="read">The reading of its files.</param>
    public void Load(PublishedVersion newest, WorkspaceRead read)
    {
        var (workspace, faults) = read;
        if (workspace is null)
            log.LogError("Version {Version} can't be served by this release: {Fault}", newest.Number, faults[0]);
        else
        {
            versions.Bind(SecretsOf(workspace), newest.Number);
            _now = new LiveWorkspace(newest, workspace, read, sources.Open(workspace));
        }
    }

    private static IEnumerable<(string Secret, string Host)> SecretsOf(Workspace workspace) =>
        workspace.Sources.Values.SelectMany(s => Engines.Secrets.Of(s).Select(n => (n, Engines.Secrets.HostOf(s))));

    /// <summary>
    /// Checks and publishes; the new version is stored before it is served. What others published since the files were made stays
    /// where they touch other files; where both changed the same file, nothing is published and the faults say so.
    /// </summary>
    /// <param name="why">What is said of the version.</param>
    public Published Publish(IReadOnlyDictionary<string, string> files, string by, PublishOrigin origin, string why = "")
    {
        lock (_publishing)
        {
            var newest = versions.Newest();
            var merge =
                newest is null || origin.Replace ? new Merge(files, [], []) : Merge.Of(OriginOf(origin, newest), files, newest.Files);
            if (merge.Clashes.Count > 0)
                return new Published(
                    null,
                    [
                        .. merge.Clashes.Select(path => new Fault(
                            Severity.Error,
                            "published-meanwhile",
                            path,
                            1,
                            1,
                            $"This file is another in the published version {newest!.Number} (by {newest.By}), which these files were not made from.",
                            "Fetch the published files and put your change there, or publish with replace."
                        )),
                    ],
                    []
                );
            var published = Take(merge.Files, by, new PublishedFrom(origin.Name, Merge.Hashes(files)), why);
            return published with { Kept = merge.Kept };
        }
    }

    private Dictionary<string, string> OriginOf(PublishOrigin origin, PublishedVersion newest) =>
        origin.Version is { } number
            ? Merge.Hashes(
                (number == newest.Number ? newest : versions.Get(number))?.Files
                    ?? throw new ProblemException(422, "unknown-version", $"There is no version {number}.")
            )
            : versions.FilesOf(origin.Name)?.ToDictionary()
                ?? (origin == PublishOrigin.Folder && newest.By == FolderPublisher.By ? Merge.Hashes(newest.Files) : []);

    /// <summary>Publishes a folder as it is now; what can't be read of it is a fault.</summary>
    public Published PublishFolder(string path)
    {
        try
        {
            return Publish(WorkspaceFolder.Read(path), FolderPublisher.By, PublishOrigin.Folder);
        }
        catch (UnreadableFolderException e)
        {
            return new Published(
                null,
                [new Fault(Severity.Error, "unreadable", e.At, 1, 1, e.Message, "Make it readable by the service.")],
                []
            );
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return new Published(
                null,
                [
                    new Fault(
                        Severity.Error,
                        "unreadable",
                        "workspace.yaml",
                        1,
                        1,
                        "The folder of definitions can't be read.",
                        "Make it readable by the service."
                    ),
                ],
                []
            );
        }
    }

    /// <summary>Remembers what a person was given, as what the files that they publish next are made from.</summary>
    public LiveWorkspace Fetch(string person)
    {
        var live = Now;
        versions.Remember(new PublishedFrom(PublishOrigin.Person(person).Name, Merge.Hashes(live.Version.Files)));
        return live;
    }

    private Published Take(
        IReadOnlyDictionary<string, string> files,
        string by,
        PublishedFrom? from,
        string why = "",
        RenamedInViews? views = null
    )
    {
        var read = _now?.ReadAgain(files) ?? WorkspaceText.Read(files);
        var (workspace, faults) = read;
        if (workspace is null)
            return new Published(null, faults, []);
        Broken = [];
        var before = _now;
        if (before is not null && Same(before.Version.Files, files))
        {
            if (from is not null)
                versions.Remember(from);
            return new Published(before.Version.Number, faults, []);
        }
        var version = versions.Add(files, by, SecretsOf(workspace), from, why, views);
        _now = new LiveWorkspace(version, workspace, read, sources.Open(workspace));
        events.Send(new WorkspaceEvent("published", version.Number, []));
        log.LogInformation("Version {Version} published by {By}", version.Number, by);
        _ = sources.Retire(workspace);
        var untold = by == FolderPublisher.By ? [] : folder.Write(before?.Version.Files ?? new Dictionary<string, string>(), version);
        return new Published(version.Number, faults, []) { Beside = untold };
    }

    /// <summary>Checks and publishes one file beside those that are published.</summary>
    /// <exception cref="ProblemException">There is a file of that name, and it is not to be replaced.</exception>
    public Published PublishFile(string path, string text, bool replace, string by)
    {
        lock (_publishing)
        {
            var files = new Dictionary<string, string>(Now.Version.Files);
            if (!replace && files.ContainsKey(path))
                throw new ProblemException(
                    409,
                    "name-taken",
                    $"There is a file {path} already.",
                    "Choose another name, or replace it knowingly."
                );
            files[path] = text;
            return Take(files, by, null);
        }
    }

    /// <summary>
    /// Checks and publishes a draft of one file, made from a version that need not be the newest: what others published meanwhile in other
    /// files stays; where they changed this one, nothing is published.
    /// </summary>
    /// <param name="replace">True to publish it though others changed the file meanwhile.</param>
    public Published PublishDraft(string path, string text, long version, string by, string why, bool replace)
    {
        lock (_publishing)
        {
            var live = Now;
            var before = (version == live.Version.Number ? live.Version : versions.Get(version))?.Files.GetValueOrDefault(path);
            var theirs = live.Version.Files.GetValueOrDefault(path);
            if (!replace && theirs != before && theirs != text)
                return new Published(
                    null,
                    [
                        new Fault(
                            Severity.Error,
                            "published-meanwhile",
                            path,
                            1,
                            1,
                            $"This file is another in the published version {live.Version.Number} (by {live.Version.By}), which this draft was not begun from.",
                            "Look at both, put what is wanted of theirs into the draft, and say that it replaces theirs."
                        ),
                    ],
                    []
                );
            return Take(new Dictionary<string, string>(live.Version.Files) { [path] = text }, by, null, why);
        }
    }

    /// <summary>Gives something another name wherever it is named, in the views of all viewers too, as a new version.</summary>
    /// <param name="version">The version that was looked at.</param>
    /// <param name="renamed">What becomes of what is published now, and of views.</param>
    /// <exception cref="ProblemException">Something else was published meanwhile.</exception>
    public Published Rename(
        long version,
        string by,
        string why,
        Func<LiveWorkspace, (IReadOnlyDictionary<string, string> Files, RenamedInViews Views)> renamed
    )
    {
        lock (_publishing)
        {
            var live = Now;
            if (live.Version.Number != version)
                throw new ProblemException(
                    409,
                    "published-meanwhile",
                    $"Version {live.Version.Number} was published meanwhile (by {live.Version.By}).",
                    "Look once more at what changes."
                );
            var (files, views) = renamed(live);
            return Take(files, by, null, why, views);
        }
    }

    /// <summary>Publishes what an earlier version was, as a new one.</summary>
    /// <exception cref="ProblemException">There is no such version.</exception>
    public Published Restore(long number, string by, string why)
    {
        lock (_publishing)
            return Take(
                versions.Get(number)?.Files ?? throw new ProblemException(404, "unknown-version", $"There is no version {number}."),
                by,
                null,
                why
            );
    }

    /// <summary>Notes that the watched folder is broken; the last good version goes on.</summary>
    public void NoteBroken(IReadOnlyList<Fault> faults)
    {
        Broken = faults;
        var lines = faults.Where(f => f.Severity == Severity.Error).Select(f => f.ToString()).Take(20).ToList();
        events.Send(new WorkspaceEvent("broken", _now?.Version.Number ?? 0, lines));
        foreach (var line in lines)
            log.LogWarning("{Fault}", line);
        log.LogWarning("The last good version ({Version}) goes on.", _now?.Version.Number);
    }

    private static bool Same(IReadOnlyDictionary<string, string> a, IReadOnlyDictionary<string, string> b) =>
        a.Count == b.Count && a.All(f => b.TryGetValue(f.Key, out var other) && other == f.Value);
}
