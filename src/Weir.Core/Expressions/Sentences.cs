namespace Weir.Core.Expressions;

/// <summary>Lists in words.</summary>
public static class Sentences
{
    /// <summary>"a", "a and b", "a, b and c".</summary>
    public static string And(IEnumerable<string> parts) => Join(parts, "and");

    /// <summary>"a", "a or b", "a, b or c".</summary>
    public static string Or(IEnumerable<string> parts) => Join(parts, "or");

    private static string Join(IEnumerable<string> parts, string word)
    {
        string[] all = [.. parts];
        return all.Length < 2 ? string.Concat(all) : $"{string.Join(", ", all[..^1])} {word} {all[^1]}";
    }
}
