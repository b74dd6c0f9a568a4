using Weir.Core.Definitions;

namespace Weir.Service;

/// <summary>Reads a folder of definition files.</summary>
public static class WorkspaceFolder
{
    /// <summary>The text of each definition file by its path in the folder.</summary>
    /// <exception cref="DirectoryNotFoundException">There is no such folder.</exception>
    public static IReadOnlyDictionary<string, string> Read(string folder)
    {
        var root = Path.GetFullPath(folder);
        return new[] { "", "sources", "datasets", "dashboards" }
            .Select(sub => Path.Combine(root, sub)).Where(d => d == root || Directory.Exists(d))
            .SelectMany(d => Directory.EnumerateFiles(d, "*.y*ml"))
            .Take(WorkspaceReader.MaximumFiles + 1)
            .ToDictionary(f => Path.GetRelativePath(root, f).Replace('\\', '/'), File.ReadAllText);
    }
}

/// <summary>Publishes the folder at start and, if asked, whenever a file in it changes.</summary>
internal sealed class FolderPublisher(PublishedWorkspace published, ServiceOptions options, ILogger<FolderPublisher> log) : BackgroundService
{
    public const string By = "folder";

    protected override async Task ExecuteAsync(CancellationToken stopping)
    {
        if (options.WorkspaceFolder is not { } folder || !options.Watch)
            return;
        using var changed = new SemaphoreSlim(0);
        using var watcher = new FileSystemWatcher(folder) { IncludeSubdirectories = true };
        watcher.Changed += (_, _) => changed.Release();
        watcher.Created += (_, _) => changed.Release();
        watcher.Deleted += (_, _) => changed.Release();
        watcher.Renamed += (_, _) => changed.Release();
        watcher.EnableRaisingEvents = true;
        Publish(folder); // what changed before the watcher was ready
        while (!stopping.IsCancellationRequested)
        {
            await changed.WaitAsync(stopping);
            // Editors write in several steps: wait until none has come for a moment.
            while (await changed.WaitAsync(TimeSpan.FromMilliseconds(120), stopping))
            {
            }
            Publish(folder);
        }
    }

    private void Publish(string folder)
    {
        try
        {
            var (version, faults) = published.Publish(WorkspaceFolder.Read(folder), By);
            if (version is null)
                published.NoteBroken(faults);
        }
        catch (IOException e)
        {
            log.LogWarning("The folder can't be read just now: {Reason}", e.Message);
        }
    }
}
