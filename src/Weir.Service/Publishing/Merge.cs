using System.Security.Cryptography;
using System.Text;

namespace Weir.Service.Publishing;

/// <summary>Files that were published over a version that they were not made from: what both sides changed is asked about, the rest goes together.</summary>
/// <param name="Files">What results.</param>
/// <param name="Kept">The files that others published meanwhile, and that stay.</param>
/// <param name="Clashes">The files that both sides changed, each in its own way.</param>
internal sealed record Merge(IReadOnlyDictionary<string, string> Files, IReadOnlyList<string> Kept, IReadOnlyList<string> Clashes)
{
    /// <summary>Puts two sets of files together.</summary>
    /// <param name="origin">What both were made from: a hash for each path.</param>
    public static Merge Of(
        IReadOnlyDictionary<string, string> origin,
        IReadOnlyDictionary<string, string> mine,
        IReadOnlyDictionary<string, string> theirs
    )
    {
        var (files, kept, clashes) = (new Dictionary<string, string>(), new List<string>(), new List<string>());
        foreach (var path in mine.Keys.Union(theirs.Keys).Order(StringComparer.Ordinal))
        {
            var (before, own, other) = (origin.GetValueOrDefault(path), mine.GetValueOrDefault(path), theirs.GetValueOrDefault(path));
            var taken = own;
            if (own != other)
            {
                if (Hash(own) == before)
                {
                    taken = other;
                    kept.Add(path);
                }
                else if (Hash(other) != before)
                    clashes.Add(path);
            }
            if (taken is not null)
                files[path] = taken;
        }
        return new Merge(files, kept, clashes);
    }

    /// <summary>A hash for each path.</summary>
    public static Dictionary<string, string> Hashes(IReadOnlyDictionary<string, string> files) =>
        files.ToDictionary(f => f.Key, f => Hash(f.Value)!);

    private static string? Hash(string? text) =>
        text is null ? null : Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));
}

/// <summary>Where files that are published come from, and so what they were made from.</summary>
/// <param name="Name">Under what the service remembers what it was last sent from there, or gave out there.</param>
/// <param name="Version">The version that they were made from; null for what is remembered.</param>
/// <param name="Replace">True to publish them as they are, whatever was published meanwhile.</param>
internal sealed record PublishOrigin(string Name, long? Version = null, bool Replace = false)
{
    /// <summary>The folder of definitions that the service was started with.</summary>
    public static PublishOrigin Folder { get; } = new("folder");

    /// <summary>What a person fetched or published last.</summary>
    public static PublishOrigin Person(string name, long? version = null, bool replace = false) => new($"person {name}", version, replace);
}

/// <summary>What came of publishing.</summary>
/// <param name="Version">The version served now, unchanged if the files are the same; null if nothing was published.</param>
/// <param name="Kept">Files that others published meanwhile, and that stay.</param>
internal sealed record Published(long? Version, IReadOnlyList<Core.Definitions.Fault> Faults, IReadOnlyList<string> Kept)
{
    /// <summary>See <see cref="WatchedFolder.Write"/>.</summary>
    public IReadOnlyList<string> Beside { get; init; } = [];
}
