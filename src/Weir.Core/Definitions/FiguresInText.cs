using System.Text.RegularExpressions;

namespace Weir.Core.Definitions;

/// <summary>The names of measures and fields that stand in braces in a text.</summary>
public static partial class FiguresInText
{
    [GeneratedRegex(@"\{([A-Za-z][A-Za-z0-9_-]{0,99})\}")]
    private static partial Regex Braced();

    /// <summary>The names, each once, in order.</summary>
    public static IReadOnlyList<string> NamesIn(string text) => [.. Braced().Matches(text).Select(m => m.Groups[1].Value).Distinct()];

    /// <summary>The text with empty braces for names that a reader does not have.</summary>
    public static string Without(string text, Func<string, bool> isKnown) =>
        Braced().Replace(text, m => isKnown(m.Groups[1].Value) ? m.Value : "{}");
}
