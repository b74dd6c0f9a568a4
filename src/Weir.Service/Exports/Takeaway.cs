using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Results;
using Weir.Service.Api;
using Weir.Service.Asking;

namespace Weir.Service.Exports;

/// <summary>What a file says of itself, whatever its form.</summary>
/// <param name="Tabs">The titles of the tabs whose tiles are in it.</param>
/// <param name="State">Parameters and picks in words, a sentence each; none if nothing is set.</param>
/// <param name="Rows">Whose rows the figures are of, in words.</param>
/// <param name="ReadAt">When the oldest of its data were read; null if it has none.</param>
/// <param name="MadeAt">When it was made.</param>
/// <param name="Version">The published version of the definitions.</param>
/// <param name="Address">Where to see it live: a state, and no right.</param>
/// <param name="Before">What its report says before the tiles; null for nothing.</param>
/// <param name="After">What it says behind them.</param>
public sealed record AboutExport(
    string Dashboard,
    string Title,
    string? Description,
    IReadOnlyList<string> Tabs,
    IReadOnlyList<string> State,
    string Rows,
    DateTimeOffset? ReadAt,
    DateTimeOffset MadeAt,
    string TimeZone,
    long Version,
    string Address,
    string? Before = null,
    string? After = null
)
{
    /// <summary>All of it but the title, a line each, for forms that have nothing but text.</summary>
    internal IEnumerable<string> Lines()
    {
        if (Description is not null)
            yield return Description;
        foreach (var line in (Before ?? "").Split('\n', StringSplitOptions.RemoveEmptyEntries))
            yield return line;
        yield return $"{(Tabs.Count == 1 ? "Tab" : "Tabs")}: {string.Join(", ", Tabs)}";
        foreach (var sentence in State)
            yield return sentence;
        yield return Rows;
        if (ReadAt is { } read)
            yield return $"Data read {InZone(read)}";
        yield return $"Made {InZone(MadeAt)}, version {Version} of the definitions";
        yield return $"Live: {Address}";
        foreach (var line in (After ?? "").Split('\n', StringSplitOptions.RemoveEmptyEntries))
            yield return line;
    }

    /// <summary>A moment as people in the zone of the dashboard say it.</summary>
    internal string InZone(DateTimeOffset at) =>
        $"{TimeZoneInfo.ConvertTime(at, TimeZoneInfo.FindSystemTimeZoneById(TimeZone)).ToString("d MMM yyyy HH:mm", System.Globalization.CultureInfo.InvariantCulture)} ({TimeZone})";
}

/// <summary>A part of a file that has several: what is made for one member.</summary>
/// <param name="Number">Its place, from 0.</param>
/// <param name="Title">The member, as readers know it.</param>
internal sealed record TakenPart(int Number, string Title, IReadOnlyList<Selection> Selections);

/// <summary>What a measure means, for those who read its figures without whoever defined it.</summary>
/// <param name="Means">What its developer says of it; null for nothing.</param>
/// <param name="Formula">How it is worked out.</param>
public sealed record MeasureMeaning(string Title, string? Means, string Formula);

/// <summary>A tile that is taken along.</summary>
/// <param name="Answered">Its figures; null where it has none of its own.</param>
/// <param name="Picked">What is picked on it in words, for tiles that only filter; null for others.</param>
internal sealed record TakenTile(TabInfo Tab, TileInfo Info, AnsweredTile? Answered, string? Picked)
{
    /// <summary>The part that it belongs to; null in a file without parts.</summary>
    public TakenPart? Part { get; init; }

    /// <summary>How many lines of its table are taken, where fewer than it has; else null.</summary>
    public int? Most { get; private init; }

    /// <summary>Its title, with the part that it belongs to.</summary>
    public string Heading => Part is null ? Info.Title : $"{Part.Title}: {Info.Title}";

    /// <summary>The figures; null where there are none, or where they failed.</summary>
    public TileAnswer? Answer => Answered?.Answer;

    /// <summary>The same with the first lines of its table only.</summary>
    public TakenTile First(int lines)
    {
        if (Answered is not { Answer: { } answer, Result: { Table: { } written } result } || answer.Table.Rows <= lines)
            return this;
        return this with
        {
            Most = lines,
            Answered = Answered with
            {
                Answer = answer with { Table = answer.Table with { Values = [.. answer.Table.Values.Select(c => c[..lines])] } },
                Result = result with { Table = written with { Values = [.. written.Values.Select(c => c.Take(lines).ToArray())] } },
            },
        };
    }

    /// <summary>What is to be known beside the figures, a sentence each.</summary>
    public IEnumerable<string> Notes()
    {
        if (Answered is not { Result: var result })
            yield break;
        foreach (var filter in result.Filters?.Applied ?? [])
            yield return $"{filter.Fields}: {string.Join(", ", filter.Members)} (picked on {filter.TileTitle})";
        if (result.Problem is { } problem)
            yield return $"It could not be asked: {problem.Detail}";
        if (Answer is { } answer && answer.Lines > answer.Table.Rows)
            yield return $"The first {answer.Table.Rows:N0} of {answer.Lines:N0} lines.";
        if (result.Note is { } note)
            yield return note;
        if (result.Restricted)
            yield return "Of the rows you may see.";
    }
}

/// <summary>What a viewer takes along of a dashboard, before it has a form: all of it computed under their rights.</summary>
/// <param name="Tiles">In reading order, by tab.</param>
internal sealed record Takeaway(AboutExport About, DashboardPage Page, IReadOnlyList<TakenTile> Tiles, OpenDashboard Open)
{
    private const int MostTiles = 200;
    private const long MostCells = 1_000_000;

    /// <summary>So many lines of a table there are in short.</summary>
    private const int LinesInShort = 10;

    /// <summary>The tiles that have figures of their own.</summary>
    public IEnumerable<TakenTile> WithFigures => Tiles.Where(t => t.Answered is not null && t.Picked is null);

    /// <summary>A name for its file, without an ending.</summary>
    public string FileName =>
        $"{Name}{(Tiles is [var only] && Name == About.Dashboard ? $"-{only.Info.Name}" : "")}-{About.MadeAt.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture)}";

    /// <summary>What is picked.</summary>
    public IReadOnlyList<Selection> Selections { get; private init; } = [];

    /// <summary>What is picked on a tile; null for nothing.</summary>
    public Selection? SelectionOn(TakenTile tile) => (tile.Part?.Selections ?? Selections).FirstOrDefault(s => s.Tile == tile.Info.Name);

    /// <summary>What stands over the tiles of a tab: its title, that of the part, or both.</summary>
    public string TitleOf(TakenTile tile) =>
        tile.Part is not { } part ? tile.Tab.Title
        : About.Tabs.Count == 1 ? part.Title
        : $"{part.Title}: {tile.Tab.Title}";

    /// <summary>The same as a part of a file with several.</summary>
    /// <param name="title">What it is made for, as readers know it.</param>
    public Takeaway AsPart(int number, string title)
    {
        var part = new TakenPart(number, title, Selections);
        return this with { Tiles = [.. Tiles.Select(t => t with { Part = part })] };
    }

    /// <summary>Several parts as one.</summary>
    /// <param name="common">What is picked in all of them.</param>
    /// <param name="address">Where they are seen live.</param>
    public static Takeaway Together(IReadOnlyList<Takeaway> parts, IReadOnlyList<Selection> common, string address) =>
        parts[0] with
        {
            About = Together([.. parts.Select(p => p.About)], address),
            Tiles = [.. parts.SelectMany(p => p.Tiles)],
            Selections = common,
        };

    /// <summary>What several parts are as one; in what they differ is told with each.</summary>
    /// <param name="address">Where they are seen live.</param>
    public static AboutExport Together(IReadOnlyList<AboutExport> parts, string address) =>
        parts[0] with
        {
            State = [.. parts[0].State.Where(s => parts.All(p => p.State.Contains(s)))],
            ReadAt = parts.Min(p => p.ReadAt),
            Address = address,
        };

    /// <summary>What the measures mean whose figures are in it, each once.</summary>
    public IReadOnlyList<MeasureMeaning> Meanings() =>
        [
            .. WithFigures
                .Where(t => t.Answer is not null)
                .SelectMany(t =>
                {
                    var measures = Open.ScopeOf(t.Answered!.Tile).Measures;
                    return t.Answer!.Table.Columns.Where(c => c.Role is ColumnRole.Figure or ColumnRole.Tip)
                        .Select(c => measures.GetValueOrDefault(c.Name));
                })
                .OfType<Core.Definitions.Measure>()
                .DistinctBy(m => (m.Title, m.FormulaText))
                .Select(m => new MeasureMeaning(m.Title, m.Description, m.FormulaText)),
        ];

    /// <summary>Refuses what is too much for one file.</summary>
    /// <exception cref="ProblemException">It is.</exception>
    public static void CheckSize(IReadOnlyList<TakenTile> tiles)
    {
        if (tiles.Count > MostTiles)
            throw TooManyTiles();
        // All of it is held until it is written.
        if (tiles.Sum(a => a.Answer is { Table: var table } ? (long)table.Rows * table.Columns.Count : 0) > MostCells)
            throw new ProblemException(
                422,
                "export-too-large",
                $"A file has {MostCells:N0} figures and members at most.",
                "Take fewer tiles; the rows behind a tile come as CSV however many they are."
            );
    }

    private static ProblemException TooManyTiles() =>
        new(422, "too-many-tiles", $"A file has {MostTiles} tiles at most.", "Take tabs by themselves.");

    /// <summary>What its file is called after: the dashboard, or a report.</summary>
    public string Name { get; init; } = About.Dashboard;

    /// <summary>Asks for all that is wanted of an open dashboard.</summary>
    /// <param name="address">Where to see it live.</param>
    /// <exception cref="ProblemException">There is no such tab or tile, or it is too much.</exception>
    public static async Task<Takeaway> Of(
        OpenDashboard open,
        ExportRequest request,
        IReadOnlyList<Selection> selections,
        string address,
        Asker asker,
        TimeProvider clock,
        Store.Audit audit,
        ILoggerFactory logs,
        FileProgress progress
    )
    {
        var page = DashboardPage.Of(open);
        var isShort = request.Detail == Core.Definitions.Report.Short;
        var chosen = Chosen(page, request);
        if (isShort)
        {
            chosen = chosen.FindAll(c => c.Tile.Dataset is not null && !open.Tile(c.Tile.Name).Picture.IsControl);
            if (chosen.Count == 0)
                throw new ProblemException(
                    422,
                    "nothing-to-export",
                    "There are no figures in it.",
                    "Take more of it, or have it longer than short."
                );
        }
        var words = new FiltersInWords(open, await asker.NamesOf(open, selections));
        var asked = chosen.Where(c => c.Tile.Dataset is not null).Select(c => open.Tile(c.Tile.Name)).ToList();
        progress.Reads(asked.Count);
        var begun = await TileAnswers.Begin(new TileAnswers.Asked(open, asked, selections, words), asker, null, clock, audit, logs);
        var answers = await Task.WhenAll(
            begun.Select(async one =>
            {
                var answered = await one;
                progress.HasOne();
                return answered;
            })
        );
        var of = answers.ToDictionary(a => a.Tile.Name);
        var controls = open.Arrangement.Tiles.Where(t => t.Tile.Picture.IsControl).Select(t => t.Tile.Name).ToHashSet();
        List<TakenTile> tiles =
        [
            .. chosen.Select(c => new TakenTile(
                c.Tab,
                c.Tile,
                of.GetValueOrDefault(c.Tile.Name),
                controls.Contains(c.Tile.Name) ? words.PickedOn(c.Tile.Name, selections) : null
            )),
        ];
        CheckSize(tiles);
        if (isShort)
            tiles = [.. tiles.Select(t => t.Answered?.Tile.Picture.IsLines == true ? t.First(LinesInShort) : t)];
        var read = answers.Where(a => a.Answer is not null).Select(a => (DateTimeOffset?)a.Result.ReadAt).Min();
        var about = new AboutExport(
            open.Dashboard.Name,
            page.Title,
            page.Description,
            [.. tiles.Select(t => t.Tab.Title).Distinct()],
            [
                .. open.Live.DraftOf == open.Dashboard.Name ? ["A draft that is not published."] : (string[])[],
                .. page.Parameters.Select(Said).OfType<string>(),
                .. selections.Where(s => !s.IsEmpty || s.Path.Count > 0).Select(words.SentenceOf),
            ],
            answers.Any(a => a.Result.Restricted)
                ? $"Of the rows that {asker.Viewer.Title} may see"
                : $"Of all rows, as {asker.Viewer.Title} sees them",
            read,
            clock.GetUtcNow(),
            page.TimeZone,
            page.Version,
            address
        );
        return new Takeaway(about, page, tiles, open) { Selections = selections };
    }

    private static List<(TabInfo Tab, TileInfo Tile)> Chosen(DashboardPage page, ExportRequest request)
    {
        var tabs = page.Tabs.Where(t => !t.Hidden).ToList();
        if (request.Tabs is { } names)
            tabs = [.. names.Distinct().Select(n => page.Tabs.FirstOrDefault(t => t.Name == n) ?? throw UnknownTab(n))];
        var tiles = tabs.SelectMany(tab => tab.Tiles.Where(t => !t.Hidden).Select(tile => (tab, tile)));
        if (request.Tiles is { } wanted)
            tiles = wanted
                .Distinct()
                .Take(MostTiles + 1)
                .Select(n =>
                    page.Tabs.SelectMany(tab => tab.Tiles.Select(tile => (tab, tile))).FirstOrDefault(t => t.tile.Name == n)
                        is { tile: not null } found
                        ? found
                        : throw ProblemException.UnknownTile(n)
                );
        List<(TabInfo, TileInfo)> chosen = [.. tiles];
        return chosen.Count switch
        {
            0 => throw new ProblemException(422, "nothing-to-export", "Nothing of it is shown.", "Name tiles or tabs that are."),
            > MostTiles => throw TooManyTiles(),
            _ => chosen,
        };
    }

    private static ProblemException UnknownTab(string name) =>
        new(404, "unknown-tab", $"There is no tab {ProblemException.Short(name)} on this dashboard.");

    /// <summary>A parameter that is set, in words.</summary>
    private static string? Said(ParameterState parameter) =>
        parameter.Values.Count == 0
            ? null
            : $"{parameter.Title}: {string.Join(", ", parameter.Values.Select(v => parameter.Choices?.FirstOrDefault(c => c.Value == v)?.Title ?? v))}";
}
