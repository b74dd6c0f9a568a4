using System.Runtime.CompilerServices;
using Weir.Core.Definitions;
using Weir.Demo;

namespace Weir.Testing;

/// <summary>Where things are in the checkout that the tests run in.</summary>
public static class Repository
{
    public static string Root { get; } = FindRoot();

    public static string DemoWorkspace { get; } = Path.Combine(Root, "demo", "lantern-isles");

    /// <summary>The files of the demo's workspace as they are published, by path.</summary>
    public static Dictionary<string, string> DemoDefinitions() =>
        Directory
            .EnumerateFiles(DemoWorkspace, "*", SearchOption.AllDirectories)
            .ToDictionary(
                f => Path.GetRelativePath(DemoWorkspace, f).Replace('\\', '/'),
                f => Attachments.Holds($"images/{Path.GetFileName(f)}") ? Attachments.ToText(f, File.ReadAllBytes(f)) : File.ReadAllText(f)
            );

    /// <summary>Writes the demo's workspace into a folder.</summary>
    /// <param name="change">Makes other text of a definition: its path, its text.</param>
    public static void CopyDemo(string to, Func<string, string, string>? change = null)
    {
        foreach (var file in Directory.EnumerateFiles(DemoWorkspace, "*", SearchOption.AllDirectories))
        {
            var path = Path.GetRelativePath(DemoWorkspace, file);
            var target = Path.Combine(to, path);
            Directory.CreateDirectory(Path.GetDirectoryName(target)!);
            if (change is null || !file.EndsWith(".yaml", StringComparison.Ordinal))
                File.Copy(file, target, overwrite: true);
            else
                File.WriteAllText(target, change(path, File.ReadAllText(file)));
        }
    }

    /// <summary>Time enough for a source on a slow machine.</summary>
    public static string Patient(string text) =>
        text.Replace("limits: { seconds: 20,", "limits: { seconds: 600,").Replace("limits: { seconds: 60,", "limits: { seconds: 600,");

    /// <summary>A fresh folder that the test removes by disposing.</summary>
    public static TempFolder Temp([CallerMemberName] string name = "") =>
        new(
            Path.Combine(
                Path.GetTempPath(),
                $"weir-{name}-{Guid.NewGuid():N}"[..Math.Min(40, name.Length + 15)] + Guid.NewGuid().ToString("N")[..6]
            )
        );

    /// <summary>The folder with the demo's database, made once for all test programs.</summary>
    public static string DemoFiles()
    {
        var folder = Path.Combine(Root, ".test", "files");
        Directory.CreateDirectory(folder);
        // Several test programs start at once: the first makes the file, the others wait for it.
        using var gate = Gate(Path.Combine(Root, ".test", "lock"));
        LanternIsles.Ensure(Path.Combine(folder, "lantern-isles.duckdb"));
        return folder;
    }

    private static FileStream Gate(string path)
    {
        for (var attempt = 0; ; attempt++)
            try
            {
                return new FileStream(path, FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
            }
            catch (IOException) when (attempt < 600)
            {
                Thread.Sleep(200); // waits for another process, which gives no signal
            }
    }

    private static string FindRoot()
    {
        var folder = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(folder, "Weir.slnx")))
            folder = Path.GetDirectoryName(folder) ?? throw new DirectoryNotFoundException("The tests run outside the checkout.");
        return folder;
    }
}

/// <summary>A folder for one test.</summary>
public sealed class TempFolder : IDisposable
{
    public TempFolder(string path)
    {
        Path = path;
        Directory.CreateDirectory(path);
    }

    public string Path { get; }

    public string File(string name, string? text = null)
    {
        var path = System.IO.Path.Combine(Path, name);
        Directory.CreateDirectory(System.IO.Path.GetDirectoryName(path)!);
        if (text is not null)
            System.IO.File.WriteAllText(path, text);
        return path;
    }

    public void Dispose() => Directory.Delete(Path, recursive: true);
}
