using System.Text;
using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>The kinds of picture as a table in Markdown, for docs.</summary>
public static class PictureTable
{
    /// <summary>A heading, a rule, and a row for each kind; lines end with a line feed.</summary>
    public static string Write(IReadOnlyList<PictureKind> kinds)
    {
        var text = new StringBuilder("| picture | what it is | show | by | also takes | pick if left out |\n|---|---|---|---|---|---|\n");
        foreach (var kind in kinds)
            text.Append(
                $"| `{kind.Name}` | {kind.Summary} | {Shown(kind)} | {Grouped(kind.By)} | {Taken(kind)} | "
                    + $"{(kind.Pick == Pick.Text ? "a piece of text" : kind.Pick == Pick.None ? "–" : kind.Pick.ToString().ToLowerInvariant())} "
                    + "|\n"
            );
        return text.ToString();
    }

    private static string Count(Slot slot) =>
        slot.Most == 0 ? "–"
        : slot.Least == slot.Most ? $"{slot.Least}"
        : $"{slot.Least} to {slot.Most}";

    private static string Shown(PictureKind kind) =>
        Count(kind.Show)
        + (kind.Show.OrKey is { } instead ? $", or none with `{instead}`" : "")
        + (
            !kind.CanSplit ? ""
            : kind.SplitsSeveral || kind.Show.Most <= 1 ? "; may have `split`"
            : ", or 1 with `split`"
        );

    private static string Taken(PictureKind kind) =>
        kind.OfMembers.Concat(kind.Own.Select(o => o.Key)).Select(k => $"`{k.Name}`").ToList() is { Count: > 0 } keys
            ? string.Join(", ", keys)
            : "–";

    private static string Grouped(Slot by) => by.Wanted is null ? Count(by) : $"{Count(by)}: {by.Wanted}";
}
