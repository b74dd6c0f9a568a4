using System.Security.Cryptography;
using System.Text;
using System.Text.RegularExpressions;

namespace Weir.Core.Definitions;

/// <summary>A file of a workspace that is no definition but is shown by some.</summary>
/// <param name="Path">Relative to the folder, with / between folders.</param>
/// <param name="MediaType">As HTTP names it, such as image/svg+xml.</param>
/// <param name="Content">Its bytes.</param>
public sealed record Attachment(string Path, string MediaType, ReadOnlyMemory<byte> Content)
{
    /// <summary>What tells it from another of the same name.</summary>
    public string Mark { get; } = Convert.ToHexStringLower(SHA256.HashData(Content.Span))[..16];

    /// <summary>The properties that each of its areas has, by which members find theirs; null where it has no areas.</summary>
    public IReadOnlySet<string>? AreaKeys { get; init; }
}

/// <summary>Where a file beside the definitions is not what it has to be, and what to do.</summary>
internal sealed record OddPlace(int Line, int Column, string Message, string Remedy);

/// <summary>
/// Which files beside the definitions belong to a workspace, and how they travel and are kept as text: what is text as it is, all others in
/// Base64.
/// </summary>
public static partial class Attachments
{
    /// <summary>A larger file is refused: it would be sent to every viewer. In bytes.</summary>
    public const int MaximumSize = 512 * 1024;

    // How each kind of file begins; what is text is looked into instead.
    private static readonly Dictionary<string, (string MediaType, byte[] Begins)> Kinds = new()
    {
        ["svg"] = ("image/svg+xml", []),
        ["png"] = ("image/png", [0x89, (byte)'P', (byte)'N', (byte)'G']),
        ["jpg"] = ("image/jpeg", [0xFF, 0xD8, 0xFF]),
        ["jpeg"] = ("image/jpeg", [0xFF, 0xD8, 0xFF]),
        ["geojson"] = ("application/geo+json", []),
    };

    /// <summary>True for the path of a file that is kept beside the definitions.</summary>
    public static bool Holds(string path) => Held().IsMatch(path);

    /// <summary>The folders in which such files lie.</summary>
    public static IReadOnlyList<string> Folders { get; } = ["images", "maps"];

    /// <summary>A file as it travels and is kept.</summary>
    public static string ToText(string path, byte[] content) =>
        IsText(path) ? Encoding.UTF8.GetString(content).TrimStart('\uFEFF') : Convert.ToBase64String(content);

    /// <summary>The file of a text.</summary>
    /// <exception cref="FormatException">The text is no Base64, and the file is none of text.</exception>
    public static byte[] ToBytes(string path, string text) => IsText(path) ? Encoding.UTF8.GetBytes(text) : Convert.FromBase64String(text);

    /// <summary>Reads and checks a file.</summary>
    /// <returns>It, or null with a fault added to <paramref name="faults"/>.</returns>
    internal static Attachment? Read(string path, string text, List<Fault> faults)
    {
        Attachment? Refuse(string code, string message, string remedy, int line = 1, int column = 1)
        {
            faults.Add(new Fault(Severity.Error, code, path, line, column, message, remedy));
            return null;
        }

        var (mediaType, begins) = Kinds[Ending(path)];
        // Base64 has four signs for three bytes: what is too long is not decoded.
        if (text.Length > MaximumSize / 3 * 4 + 4)
            return Refuse("too-large", $"A file beside the definitions has at most {MaximumSize / 1024} KB.", "Save it smaller.");
        byte[] content;
        try
        {
            content = ToBytes(path, text);
        }
        catch (FormatException)
        {
            return Refuse(
                "bad-image",
                "The file is not in Base64, in which files that are no text travel.",
                "Publish it with weir publish."
            );
        }
        if (content.Length > MaximumSize)
            return Refuse("too-large", $"A file beside the definitions has at most {MaximumSize / 1024} KB.", "Save it smaller.");
        if (!content.AsSpan().StartsWith(begins))
            return Refuse("bad-image", $"This is no {Ending(path).ToUpperInvariant()} file.", "Give it the ending that it is of.");
        if (Ending(path) == "svg" && SafeSvg.FaultIn(text) is { } unsafePlace)
            return Refuse("unsafe-image", unsafePlace.Message, unsafePlace.Remedy, unsafePlace.Line, unsafePlace.Column);
        if (!AreAreas(path))
            return new Attachment(path, mediaType, content);
        var (properties, odd) = GeoAreas.Read(text);
        return odd is null
            ? new Attachment(path, mediaType, content) { AreaKeys = properties }
            : Refuse("bad-map", odd.Message, odd.Remedy, odd.Line, odd.Column);
    }

    private static bool IsText(string path) => Ending(path) is "svg" or "geojson";

    /// <summary>True for a file of areas for maps.</summary>
    internal static bool AreAreas(string path) => Ending(path) == "geojson";

    private static string Ending(string path) => path[(path.LastIndexOf('.') + 1)..];

    [GeneratedRegex(@"^(images/[^/\\.#~\p{Cc}][^/\\\p{Cc}]*\.(svg|png|jpe?g)|maps/[^/\\.#~\p{Cc}][^/\\\p{Cc}]*\.geojson)\z")]
    private static partial Regex Held();
}
