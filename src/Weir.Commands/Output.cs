using Spectre.Console;

namespace Weir.Commands;

/// <summary>What a command's end means to the program that ran it.</summary>
internal static class ExitCode
{
    public const int Yes = 0;

    /// <summary>The answer is no: broken definitions, a refused request.</summary>
    public const int No = 1;

    /// <summary>The command line itself is wrong.</summary>
    public const int Usage = 2;
}

/// <summary>A command that cannot be carried out: what is wrong, and what to do.</summary>
internal sealed class Refusal(string message, string? remedy = null, int exitCode = ExitCode.No) : Exception(message)
{
    /// <summary>The code of a problem that the service told; null for others.</summary>
    public string? Code { get; init; }

    public string? Remedy { get; } = remedy;

    public int ExitCode { get; } = exitCode;
}

/// <summary>Output for people.</summary>
internal static class Output
{
    private static readonly Lazy<IAnsiConsole> ErrorConsole = new(CreateErrorConsole);

    private static IAnsiConsole CreateErrorConsole()
    {
        var console = AnsiConsole.Create(new AnsiConsoleSettings { Out = new AnsiConsoleOutput(Console.Error) });
        // What goes to a file is not broken into lines.
        if (Console.IsErrorRedirected)
            console.Profile.Width = 4000;
        return console;
    }

    public static void Error(string message) => ErrorConsole.Value.MarkupLineInterpolated($"[red]Error:[/] {message}");

    /// <summary>Something that is worth knowing beside the answer; it goes to where errors go.</summary>
    public static void Note(string message) => ErrorConsole.Value.MarkupLineInterpolated($"[yellow]Note:[/] {message}");

    /// <summary>Writes a grid with a heading line; figures to the right. Wide output is not cut when it goes to a file.</summary>
    public static void Grid(
        IReadOnlyList<(string Title, bool IsFigure)> columns,
        IEnumerable<IReadOnlyList<string>> rows,
        IReadOnlyList<string>? totals = null
    )
    {
        var lines = rows.ToList();
        if (PlainGrid.Of(columns, lines, totals) is { } plain && (Console.IsOutputRedirected || plain.Width <= Console.WindowWidth))
            plain.Write(
                Console.Out,
                bold: !Console.IsOutputRedirected && Environment.GetEnvironmentVariable("TERM") is not (null or "dumb")
            );
        else
            Fitted(columns, lines, totals);
    }

    /// <summary>A grid whose texts are broken so that it fits the terminal.</summary>
    private static void Fitted(
        IReadOnlyList<(string Title, bool IsFigure)> columns,
        IReadOnlyList<IReadOnlyList<string>> rows,
        IReadOnlyList<string>? totals
    )
    {
        var table = new Table { Border = TableBorder.Simple, ShowFooters = totals is not null };
        for (var i = 0; i < columns.Count; i++)
        {
            var column = new TableColumn(new Text(columns[i].Title, new Style(decoration: Decoration.Bold)));
            if (columns[i].IsFigure)
                column.RightAligned();
            if (Console.IsOutputRedirected)
                column.NoWrap();
            if (totals is not null)
                column.Footer(new Text(totals[i], new Style(decoration: Decoration.Bold)));
            table.AddColumn(column);
        }
        foreach (var row in rows)
            table.AddRow(row.Select(c => new Text(c)));
        if (Console.IsOutputRedirected)
            AnsiConsole.Profile.Width = 400;
        AnsiConsole.Write(table);
    }
}
