namespace Weir.Core.Expressions;

/// <summary>Guesses what was meant by a name that does not exist.</summary>
public static class Nearest
{
    private const int LongestName = 64;
    private const int MostNames = 1000;

    /// <summary>"Did you mean income?", a list of a few names, or null if there is nothing to offer.</summary>
    public static string? Remedy(string written, IEnumerable<string> names)
    {
        // What is longer than any name is no slip of the hand, and of very many names one could mean all.
        string[] known = [.. names.Where(n => n.Length <= LongestName).Distinct().Take(MostNames).Order(StringComparer.Ordinal)];
        if (known.Length == 0 || written.Length > LongestName)
            return null;
        // Of two that are equally near, people mean the one that begins alike.
        var best = known.MinBy(n =>
            (
                Distance(written.ToLowerInvariant(), n.ToLowerInvariant()),
                n.StartsWith(written.AsSpan(0, Math.Min(1, written.Length)), StringComparison.OrdinalIgnoreCase) ? 0 : 1
            )
        )!;
        if (Distance(written.ToLowerInvariant(), best.ToLowerInvariant()) <= Math.Max(1, written.Length / 3))
            return $"Did you mean {best}?";
        return known.Length <= 12 ? $"Known: {string.Join(", ", known)}." : null;
    }

    /// <summary>The number of single-letter edits between two words (Levenshtein 1966), a swap of neighbours counting as one.</summary>
    internal static int Distance(string a, string b)
    {
        var rows = new int[a.Length + 1, b.Length + 1];
        for (var i = 0; i <= a.Length; i++)
            rows[i, 0] = i;
        for (var j = 0; j <= b.Length; j++)
            rows[0, j] = j;
        for (var i = 1; i <= a.Length; i++)
        for (var j = 1; j <= b.Length; j++)
        {
            var cost = a[i - 1] == b[j - 1] ? 0 : 1;
            rows[i, j] = Math.Min(Math.Min(rows[i - 1, j] + 1, rows[i, j - 1] + 1), rows[i - 1, j - 1] + cost);
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                rows[i, j] = Math.Min(rows[i, j], rows[i - 2, j - 2] + 1);
        }
        return rows[a.Length, b.Length];
    }
}
