using Weir.Core.Definitions;
using Weir.Core.Queries;
using Weir.Service.Answers;
using Weir.Store;

namespace Weir.Service;

/// <summary>A published version with all that is needed to answer from it.</summary>
internal sealed class LiveWorkspace(PublishedVersion version, Workspace workspace, IReadOnlyDictionary<string, OpenSource> sources)
{
    public PublishedVersion Version { get; } = version;

    public Workspace Workspace { get; } = workspace;

    public Planner Planner { get; } = new(workspace.WeekStart, workspace.Money);

    public SqlDialect Dialect(string source) => sources[source].Dialect(Workspace.WeekStart);

    public OpenSource Source(string name) => sources[name];
}

/// <summary>The workspace that is served now. A new version replaces it whole; a broken one never does.</summary>
internal sealed class PublishedWorkspace(Versions versions, Audit audit, Events events, SourcePool sources, ILogger<PublishedWorkspace> log)
{
    private readonly Lock _publishing = new();
    private volatile LiveWorkspace? _now;

    /// <summary>The workspace that is served now.</summary>
    /// <exception cref="ProblemException">Nothing was published yet.</exception>
    public LiveWorkspace Now => _now ?? throw new ProblemException(503, "nothing-published", "No workspace is published here yet.", "Publish one: weir publish DIR.");

    public LiveWorkspace? NowOrNull => _now;

    /// <summary>The faults of the newest change in the watched folder, if it is broken.</summary>
    public IReadOnlyList<Fault> Broken { get; private set; } = [];

    /// <summary>Takes up what was published last.</summary>
    public void Load()
    {
        if (versions.Newest() is not { } newest)
            return;
        var (workspace, faults) = WorkspaceReader.Read(newest.Files);
        if (workspace is null)
            log.LogError("Version {Version} can't be served by this release: {Fault}", newest.Number, faults[0]);
        else
            _now = new LiveWorkspace(newest, workspace, sources.Open(workspace));
    }

    /// <summary>Checks and publishes; the new version is stored before it is served.</summary>
    /// <returns>The version served now (unchanged if the files are the same), null if the files are broken; and the faults.</returns>
    public (long? Version, IReadOnlyList<Fault> Faults) Publish(IReadOnlyDictionary<string, string> files, string by)
    {
        lock (_publishing)
        {
            var (workspace, faults) = WorkspaceReader.Read(files);
            if (workspace is null)
                return (null, faults);
            Broken = [];
            var before = _now;
            if (before is not null && Same(before.Version.Files, files))
                return (before.Version.Number, faults);
            var version = versions.Add(files, by);
            _now = new LiveWorkspace(version, workspace, sources.Open(workspace));
            audit.Write(by, "publish", $"version {version.Number}");
            events.Send(new WorkspaceEvent("published", version.Number, []));
            log.LogInformation("Version {Version} published by {By}", version.Number, by);
            _ = sources.Retire(workspace);
            return (version.Number, faults);
        }
    }

    /// <summary>Checks and publishes one file beside those that are published.</summary>
    /// <exception cref="ProblemException">There is a file of that name, and it is not to be replaced.</exception>
    public (long? Version, IReadOnlyList<Fault> Faults) PublishFile(string path, string text, bool replace, string by)
    {
        lock (_publishing)
        {
            var files = new Dictionary<string, string>(Now.Version.Files);
            if (!replace && files.ContainsKey(path))
                throw new ProblemException(409, "name-taken", $"There is a file {path} already.", "Choose another name, or replace it knowingly.");
            files[path] = text;
            return Publish(files, by);
        }
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
