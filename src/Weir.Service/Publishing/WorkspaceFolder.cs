using System.IO.Enumeration;
using System.Text.RegularExpressions;
using Weir.Core;
using Weir.Core.Definitions;

namespace Weir.Service.Publishing;

/// <summary>A folder of definitions that can't be read.</summary>
public sealed class UnreadableFolderException(string path, string message) : IOException(message)
{
    /// <summary>The file or folder, below the folder of definitions.</summary>
    public string At { get; } = path;
}

/// <summary>Reads a folder of definition files.</summary>
public static partial class WorkspaceFolder
{
    /// <summary>The text of each definition file by its path in the folder.</summary>
    /// <exception cref="DirectoryNotFoundException">There is no such folder.</exception>
    /// <exception cref="UnreadableFolderException">A file can't be read, or leads out of the folder.</exception>
    public static IReadOnlyDictionary<string, string> Read(string folder)
    {
        var root = Path.GetFullPath(folder);
        var files = new Dictionary<string, string>();
        foreach (var file in Files(root).Take(WorkspaceReader.MaximumFiles + 1))
        {
            var path = Path.GetRelativePath(root, file.FullName).Replace('\\', '/');
            try
            {
                if (file.ResolveLinkTarget(returnFinalTarget: true) is { } target && !IsBelow(root, target.FullName))
                    throw new UnreadableFolderException(path, "The link leads out of the folder, so it is not followed.");
                files[path] = ReadFile(path, file);
            }
            catch (Exception e) when (e is UnauthorizedAccessException or IOException and not UnreadableFolderException)
            {
                throw new UnreadableFolderException(path, "The file can't be read.");
            }
        }
        return files;
    }

    /// <summary>A file of a folder as it travels; how large one may be is for the check to say, so no more is read than it needs for that.</summary>
    private static string ReadFile(string path, FileInfo file)
    {
        if (!Attachments.Holds(path))
            return File.ReadAllText(file.FullName);
        using var stream = file.OpenRead();
        var content = new byte[Attachments.MaximumSize + 1];
        return Attachments.ToText(path, content[..stream.ReadAtLeast(content, content.Length, throwOnEndOfStream: false)]);
    }

    /// <summary>True if a file of that text is there already.</summary>
    public static bool IsThere(string target, string path, string? text) =>
        text is not null && File.Exists(target) && ReadFile(path, new FileInfo(target)) == text;

    /// <summary>Writes a file as it was before it travelled, whole or not at all.</summary>
    public static void Write(string target, string path, string text)
    {
        Directory.CreateDirectory(Path.GetDirectoryName(target)!);
        if (Attachments.Holds(path))
            File.WriteAllBytes(target + ".new", Attachments.ToBytes(path, text));
        else
            File.WriteAllText(target + ".new", text);
        File.Move(target + ".new", target, overwrite: true);
    }

    /// <summary>True for a file that means something in a workspace.</summary>
    public static bool HasMeaning(string path) => Attachments.Holds(path) || WorkspaceText.Shapes.FileAt(path) is not null;

    /// <summary>What tells one state of the folder from another without reading its files; null if there is no folder.</summary>
    internal static string? Mark(string folder)
    {
        try
        {
            return string.Join(
                '\n',
                Files(Path.GetFullPath(folder))
                    .Select(f => $"{f.FullName}|{(f.Exists ? f.Length : -1)}|{f.LastWriteTimeUtc.Ticks}")
                    .Order(StringComparer.Ordinal)
            );
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    /// <summary>
    /// True for the path of a file that is read from a folder: nobody publishes others, which would be written where they mean something to
    /// other programs.
    /// </summary>
    internal static bool Holds(string path) => Held().IsMatch(path) || Attachments.Holds(path);

    [GeneratedRegex(@"^((sources|datasets|catalogues|dashboards|openings|reports)/)?[^/\\.#~\p{Cc}][^/\\\p{Cc}]*\.ya?ml\z")]
    private static partial Regex Held();

    private static IEnumerable<FileInfo> Files(string root) =>
        ((IEnumerable<string>)["", "sources", "datasets", "catalogues", "dashboards", "openings", "reports", .. Attachments.Folders])
            .Select(sub => new DirectoryInfo(Path.Combine(root, sub)))
            .Where(d => d.FullName == root || (d.Exists && (d.LinkTarget is null || IsBelow(root, d.ResolveLinkTarget(true)!.FullName))))
            .SelectMany(d => d.EnumerateFiles().Where(f => Belongs(d.FullName == root ? "" : d.Name + "/", f.Name)));

    private static bool Belongs(string folder, string name) =>
        Attachments.Holds(folder + name)
        // What editors leave beside a file while it is open does not.
        || FileSystemName.MatchesSimpleExpression("*.y*ml", name) && name[0] is not ('.' or '#' or '~');

    private static bool IsBelow(string root, string path) =>
        path.StartsWith(Final(root) + Path.DirectorySeparatorChar, StringComparison.Ordinal)
        || path.StartsWith(root + Path.DirectorySeparatorChar, StringComparison.Ordinal);

    private static string Final(string root) => new DirectoryInfo(root).ResolveLinkTarget(returnFinalTarget: true)?.FullName ?? root;
}

/// <summary>The folder that the service watches, for writing back what was published by others.</summary>
internal sealed class WatchedFolder(ServiceOptions options, Store.Users users, ILogger<WatchedFolder> log)
{
    /// <summary>
    /// Writes the files that changed into the folder, if it is watched and may be written: text and hand are equal. Commits them, if that is
    /// wanted.
    /// </summary>
    /// <returns>What did not come into the folder or the checkout, as sentences for whoever published; why is for the log.</returns>
    public IReadOnlyList<string> Write(IReadOnlyDictionary<string, string> before, Store.PublishedVersion version)
    {
        var (after, written, beside) = (version.Files, new List<string>(), new List<string>());
        if (!options.Watch || options.WorkspaceFolder is not { } folder)
            return beside;
        try
        {
            // A file without a meaning here may have one to another program that looks into the folder.
            foreach (
                var path in before
                    .Keys.Union(after.Keys)
                    .Where(p => before.GetValueOrDefault(p) != after.GetValueOrDefault(p) && WorkspaceFolder.HasMeaning(p))
            )
            {
                var target = Path.Combine(folder, path);
                // A change in the folder that is not published yet is not to be lost.
                if (File.Exists(target) && !WorkspaceFolder.IsThere(target, path, before.GetValueOrDefault(path)))
                {
                    log.LogWarning("{Path} is not written into the watched folder: it is another there", path);
                    beside.Add($"{path} is not written into the team's folder: somebody changed it there and has not published that yet.");
                    continue;
                }
                if (!after.TryGetValue(path, out var text))
                {
                    File.Delete(target);
                    written.Add(path);
                    continue;
                }
                WorkspaceFolder.Write(target, path, text);
                written.Add(path);
            }
            if (options.Commit && written.Count > 0)
                new GitCheckout(folder).Commit(
                    written,
                    version.By,
                    users.Find(version.By)?.Viewer.Title ?? version.By,
                    version.Why.Length > 0 ? version.Why : $"Version {version.Number}"
                );
        }
        catch (GitException e)
        {
            log.LogError("Version {Version} is published and in the folder, and was not committed: {Reason}", version.Number, e.Message);
            beside.Add(
                "It is in the team's folder, and was not committed there: git refused. Whoever looks after the service finds why in its log."
            );
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            log.LogInformation("The watched folder can't be written: {Reason} What was published stays beside it.", e.Message);
            beside.Add("The team's folder can't be written. Whoever looks after the service finds why in its log.");
        }
        return beside;
    }
}

/// <summary>Publishes the folder at start and, if asked, whenever a file in it changes.</summary>
internal sealed class FolderPublisher(
    PublishedWorkspace published,
    ServiceOptions options,
    ILogger<FolderPublisher> log,
    TimeProvider clock
) : BackgroundService
{
    public const string By = "folder";

    /// <summary>How often the folder is looked at. Looking finds what a watcher misses: a folder made anew, or one on another machine.</summary>
    private static readonly TimeSpan Look = TimeSpan.FromMilliseconds(250);

    protected override async Task ExecuteAsync(CancellationToken stopping)
    {
        if (options.WorkspaceFolder is not { } folder || !options.Watch)
            return;
        using var timer = new PeriodicTimer(Look, clock);
        string? done = null,
            seen = null;
        try
        {
            do
            {
                var mark = WorkspaceFolder.Mark(folder);
                // Editors write in several steps: wait until it looks the same twice.
                if (mark is not null && mark != done && (mark == seen || done is null))
                {
                    Publish(folder);
                    done = mark;
                }
                seen = mark;
            } while (await timer.WaitForNextTickAsync(stopping));
        }
        catch (OperationCanceledException) when (stopping.IsCancellationRequested)
        {
            // The service stops.
        }
    }

    /// <summary>Publishes what is in the folder. Whatever is wrong with it is told, and never ends the service.</summary>
    private void Publish(string folder)
    {
        try
        {
            var result = published.PublishFolder(folder);
            if (result.Version is null)
                published.NoteBroken(result.Faults);
        }
        catch (Exception e)
        {
            log.LogError(e, "The watched folder could not be published");
        }
    }
}
