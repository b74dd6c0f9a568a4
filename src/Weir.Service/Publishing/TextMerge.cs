using DiffPlex;
using DiffPlex.Chunkers;

namespace Weir.Service.Publishing;

/// <summary>Lines that both sides changed, each in its own way.</summary>
/// <param name="Line">Where it stands in one's own text, from 1.</param>
/// <param name="Was">What both were made from.</param>
public sealed record Clash(int Line, string Was, string Mine, string Theirs);

/// <summary>Two texts that were made from a third, put together line by line.</summary>
/// <param name="Text">What results; null while a clash is not settled.</param>
internal sealed record TextMerge(string? Text, IReadOnlyList<Clash> Clashes)
{
    /// <param name="origin">What both were made from.</param>
    /// <param name="choices">For each clash in order whether theirs is taken; those without a choice stay clashes.</param>
    public static TextMerge Of(string origin, string mine, string theirs, IReadOnlyList<bool> choices)
    {
        var (text, clashes, settled) = (new List<string>(), new List<Clash>(), true);
        foreach (var (was, own, other, line) in Blocks(origin, mine, theirs))
        {
            // What only one side changed is that side's.
            if (own == other || other == was)
                text.Add(own);
            else if (own == was)
                text.Add(other);
            else
            {
                clashes.Add(new Clash(line, was, own, other));
                if (clashes.Count <= choices.Count)
                    text.Add(choices[clashes.Count - 1] ? other : own);
                else
                    settled = false;
            }
        }
        return new TextMerge(settled ? string.Concat(text) : null, clashes);
    }

    /// <summary>Lines of the origin that one side has otherwise.</summary>
    private sealed record Hunk(int Start, int End, IReadOnlyList<string> Lines, bool IsTheirs)
    {
        /// <summary>True if both speak of the same lines, or put others into the same place.</summary>
        public bool Meets(int start, int end) => Start == End || start == end ? Start <= end && start <= End : Start < end && start < End;
    }

    /// <summary>The origin cut into pieces that one side, both or none changed: what was there, and what each side has there.</summary>
    private static IEnumerable<(string Was, string Own, string Other, int Line)> Blocks(string origin, string mine, string theirs)
    {
        var (lines, own) = Hunks(origin, mine, isTheirs: false);
        var (_, other) = Hunks(origin, theirs, isTheirs: true);
        var hunks = own.Concat(other).OrderBy(h => h.Start).ThenBy(h => h.End).ToList();
        string Piece(int from, int to) => string.Concat(lines.Skip(from).Take(to - from));
        var (at, line) = (0, 1);
        for (var i = 0; i < hunks.Count; )
        {
            var (start, end, next) = (hunks[i].Start, hunks[i].End, i + 1);
            while (next < hunks.Count && hunks[next].Meets(start, end))
                end = Math.Max(end, hunks[next++].End);
            var same = Piece(at, start);
            yield return (same, same, same, line);
            line += start - at;
            // Each side's lines over the whole of the piece, also where it changed only a part of it.
            string Side(bool isTheirs)
            {
                var (text, from) = ("", start);
                foreach (var hunk in hunks.Skip(i).Take(next - i).Where(h => h.IsTheirs == isTheirs))
                {
                    text += Piece(from, hunk.Start) + string.Concat(hunk.Lines);
                    from = hunk.End;
                }
                return text + Piece(from, end);
            }
            var mineThere = Side(false);
            yield return (Piece(start, end), mineThere, Side(true), line);
            line += mineThere.Count(c => c == '\n');
            (at, i) = (end, next);
        }
        var rest = Piece(at, lines.Count);
        yield return (rest, rest, rest, line);
    }

    private static (IReadOnlyList<string> Lines, IEnumerable<Hunk> Hunks) Hunks(string origin, string changed, bool isTheirs)
    {
        var diff = Differ.Instance.CreateDiffs(origin, changed, false, false, LineEndingsPreservingChunker.Instance);
        return (
            diff.PiecesOld,
            diff.DiffBlocks.Select(b => new Hunk(
                b.DeleteStartA,
                b.DeleteStartA + b.DeleteCountA,
                [.. diff.PiecesNew.Skip(b.InsertStartB).Take(b.InsertCountB)],
                isTheirs
            ))
        );
    }
}
