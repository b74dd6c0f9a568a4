using System.Security.Cryptography;
using System.Text;

namespace Weir.Engines;

/// <summary>What tells one state of files from another without reading them: their names, sizes and times.</summary>
internal static class FileMark
{
    /// <summary>The mark of a database file, with what its engine keeps beside it; empty if it is not there.</summary>
    public static string OfDatabase(string path) =>
        Of([.. new[] { path, path + "-wal", path + ".wal" }.Select(p => new FileInfo(p)).Where(f => f.Exists)]);

    /// <summary>The mark of some files.</summary>
    public static string Of(IEnumerable<FileInfo> files) =>
        string.Join(
            '\n',
            files.Select(f =>
                f.Exists ? $"{f.Name}|{f.Length}|{f.LastWriteTimeUtc.Ticks}|{f.CreationTimeUtc.Ticks}" : $"{f.Name} is not there"
            )
        );

    /// <summary>A number for a mark; 0 for none.</summary>
    public static long Number(string? mark) =>
        string.IsNullOrEmpty(mark) ? 0 : BitConverter.ToInt64(SHA256.HashData(Encoding.UTF8.GetBytes(mark)));
}
