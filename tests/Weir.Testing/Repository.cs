using System.Runtime.CompilerServices;
using Weir.Demo;

namespace Weir.Testing;

/// <summary>Where things are in the checkout that the tests run in.</summary>
public static class Repository
{
    public static string Root { get; } = FindRoot();

    public static string DemoWorkspace { get; } = Path.Combine(Root, "demo", "lantern-isles");

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
