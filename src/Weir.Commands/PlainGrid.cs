namespace Weir.Commands;

/// <summary>
/// A grid of texts that each stand on one line: what nearly all answers are. Laying out one that must be broken to fit takes the command
/// longer than the question, so that is done only where it must be.
/// </summary>
internal sealed class PlainGrid
{
    private const string Margin = "  ";

    // From here on letters may take two places, or none.
    private const char FirstUnsure = '\u0300';

    private readonly IReadOnlyList<(string Title, bool IsFigure)> _columns;
    private readonly IReadOnlyList<IReadOnlyList<string>> _rows;
    private readonly IReadOnlyList<string>? _totals;
    private readonly int[] _widths;

    private PlainGrid(
        IReadOnlyList<(string Title, bool IsFigure)> columns,
        IReadOnlyList<IReadOnlyList<string>> rows,
        IReadOnlyList<string>? totals
    )
    {
        (_columns, _rows, _totals) = (columns, rows, totals);
        _widths = new int[columns.Count];
        for (var i = 0; i < _widths.Length; i++)
        {
            _widths[i] = Math.Max(columns[i].Title.Length, totals?[i].Length ?? 0);
            foreach (var row in rows)
                _widths[i] = Math.Max(_widths[i], row[i].Length);
        }
        Width = Margin.Length * (_widths.Length + 1) + _widths.Sum();
    }

    /// <summary>How many places a line takes.</summary>
    public int Width { get; }

    /// <summary>The grid; null if a text is more than one line, or its width can't be told by counting its letters.</summary>
    public static PlainGrid? Of(
        IReadOnlyList<(string Title, bool IsFigure)> columns,
        IReadOnlyList<IReadOnlyList<string>> rows,
        IReadOnlyList<string>? totals
    )
    {
        foreach (var column in columns)
            if (!IsPlain(column.Title))
                return null;
        foreach (var row in rows)
            if (!ArePlain(row))
                return null;
        return totals is null || ArePlain(totals) ? new PlainGrid(columns, rows, totals) : null;
    }

    private static bool ArePlain(IReadOnlyList<string> texts)
    {
        foreach (var text in texts)
            if (!IsPlain(text))
                return false;
        return true;
    }

    private static bool IsPlain(string text)
    {
        foreach (var letter in text)
            // Signs of typesetting (dashes, quotes, dots) and those of money and arrows take one place.
            if (
                char.IsControl(letter)
                || letter is >= FirstUnsure and not (>= '\u2010' and <= '\u2027' or >= '\u2190' and <= '\u21ff' or '€' or '−')
            )
                return false;
        return true;
    }

    /// <summary>Writes it; no line ends in blanks.</summary>
    /// <param name="bold">True if the heading is written in bold type.</param>
    public void Write(TextWriter output, bool bold)
    {
        var rule = new string('─', Width);
        Line(output, _columns.Select(c => c.Title).ToList(), bold);
        output.WriteLine(rule);
        foreach (var row in _rows)
            Line(output, row, false);
        if (_totals is not null)
        {
            output.WriteLine(rule);
            Line(output, _totals, bold);
        }
    }

    private void Line(TextWriter output, IReadOnlyList<string> texts, bool bold)
    {
        var line = new System.Text.StringBuilder(Width);
        for (var i = 0; i < texts.Count; i++)
            line.Append(Margin).Append(_columns[i].IsFigure ? texts[i].PadLeft(_widths[i]) : texts[i].PadRight(_widths[i]));
        var text = line.ToString().TrimEnd();
        output.WriteLine(bold ? $"\x1b[1m{text}\x1b[0m" : text);
    }
}
