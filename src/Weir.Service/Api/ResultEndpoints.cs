using Weir.Core.Definitions;
using Weir.Core.Planning;
using Weir.Service.Asking;
using Weir.Service.SignIn;

namespace Weir.Service.Api;

/// <summary>The figures of tiles.</summary>
internal static class ResultEndpoints
{
    public static void MapResults(this RouteGroupBuilder api) =>
        api.MapPost("/dashboards/{dashboard}/results", Results)
            .WithName("getResults")
            .WithSummary("The figures of tiles under selections: one JSON line for each tile, as each is ready.")
            .Produces<TileResult>(200, "application/x-ndjson")
            .WithMetadata(new OnlyReads(), new DrawsSamples());

    private static async Task Results(
        string dashboard,
        ResultsRequest request,
        HttpContext context,
        Asker asker,
        ILoggerFactory logs,
        TimeProvider clock,
        Store.Audit audit
    )
    {
        var open = asker.Open(dashboard, request.Viewing, faultsStay: true, withCatalogues: request.Shared is not null);
        if (request.Shared is { } shared)
            open = open.Previewing(shared);
        var selections = await asker.SelectionsOf(open, request.Selections);
        var words = new FiltersInWords(open, await asker.NamesOf(open, selections));
        var tiles =
            request.Shared is { } previewed ? [.. previewed.Distinct().Select(s => open.Tile(OpenDashboard.PreviewName(s)))]
            : request.Tiles is { } names ? names.Distinct().Take(500).Select(open.Tile).ToList()
            : [.. open.Arrangement.Tiles.Where(t => !t.Hidden).Select(t => t.Tile)];
        tiles.RemoveAll(t => t.Dataset is null);

        var answers = await TileAnswers.Begin(
            new TileAnswers.Asked(open, tiles, selections, words),
            asker,
            request.Refresh ? NotBefore(open, tiles, clock) : null,
            clock,
            audit,
            logs
        );
        await JsonLines.Send(context, answers.Select(async a => (await a).Result));
    }

    /// <summary>Whoever refreshes gets data read after now, less the smallest interval of the source: many who refresh do not ask more often.</summary>
    private static long NotBefore(OpenDashboard open, List<Tile> tiles, TimeProvider clock) =>
        clock.GetTimestamp()
        - (
            clock.TimestampFrequency
            * tiles.Select(t => open.Live.Source(open.ScopeOf(t).Source).Definition.Refresh.LeastSeconds).DefaultIfEmpty(0).Max()
        );
}

/// <summary>What a viewer has set.</summary>
/// <param name="Parameters">Texts by parameter; an empty list empties it; opening values hold for those left out.</param>
/// <param name="Zone">The viewer's own time zone by its IANA name; the workspace's if left out.</param>
/// <param name="View">Which of the viewer's views of the dashboard is meant; the one that opens first if left out, the one without a name
/// if empty.</param>
public sealed record ViewingRequest(Dictionary<string, IReadOnlyList<string>>? Parameters, string? Zone, string? View = null);

/// <summary>A question for the figures of tiles.</summary>
/// <param name="Tiles">The tiles; all that are not hidden if left out.</param>
/// <param name="Selections">What is picked, by tile: <c>{"income-by-route": {"members": [["Skerrin–Ullavee"]]}}</c>.</param>
/// <param name="Refresh">True to have the data read anew, as often as the source allows.</param>
/// <param name="Shared">Tiles of catalogues that the viewer could add, as catalogue/tile, as they would be: instead of tiles that stand here.</param>
public sealed record ResultsRequest(
    IReadOnlyList<string>? Tiles,
    Dictionary<string, System.Text.Json.JsonElement>? Selections,
    ViewingRequest? Viewing = null,
    bool Refresh = false,
    IReadOnlyList<string>? Shared = null
);

/// <summary>One line of the stream: a tile's figures, or why there are none.</summary>
/// <param name="State">ready or failed.</param>
/// <param name="Lines">How many lines there are in all; the table has the first of them.</param>
/// <param name="Sample">About how many of a hundred rows the figures are of, drawn at random; null for all.</param>
/// <param name="Restricted">True if the figures are of the rows that the viewer may see, not of all.</param>
/// <param name="Partial">Periods of the first column, or of those across, that are not whole, since the data or the picked range begin or end inside them.</param>
/// <param name="PartialPairs">Values of the first column and of the one that names a period with it, which is not whole: a month of the year and a year.</param>
/// <param name="ReadAt">When the data were read.</param>
/// <param name="Absent">Of the members picked on the tile itself those without rows under its filters, where the table does not show all
/// members; null if there are none.</param>
/// <param name="References">For each line and band of the picture the figure at which it is, where that is a measure's; null where none is.</param>
/// <param name="ReferencesOfEach">The same for each member of a picture that is repeated, for lines that are of its own rows.</param>
/// <param name="Courses">The small pictures in the lines of a table; null if there are none.</param>
/// <param name="Note">What has to be known beside the figures, as a sentence; null for nothing.</param>
/// <param name="Outliers">The single values beyond the whiskers of boxes; null if there are none, if there are too many to tell apart, or if
/// the viewer may not see rows.</param>
/// <param name="Subtotals">The figures of each level of a cross table, each measure by its own aggregation; null for another picture.</param>
public sealed record TileResult(
    string Tile,
    string State,
    TableInfo? Table,
    long Lines,
    IReadOnlyList<object?>? Totals,
    ChangeInfo? Change,
    FiltersInfo? Filters,
    bool Restricted,
    IReadOnlyList<object?> Partial,
    IReadOnlyList<IReadOnlyList<object?>> PartialPairs,
    DateTimeOffset ReadAt,
    double Milliseconds,
    TileProblem? Problem,
    IReadOnlyList<IReadOnlyList<object?>>? Absent = null,
    IReadOnlyList<SubtotalInfo>? Subtotals = null,
    IReadOnlyList<double?>? References = null,
    IReadOnlyList<CourseInfo>? Courses = null,
    IReadOnlyList<OutlierInfo>? Outliers = null,
    string? Note = null,
    IReadOnlyList<ReferencesInfo>? ReferencesOfEach = null,
    int? Sample = null
);

/// <summary>At which figures lines of a picture that is repeated are.</summary>
/// <param name="Member">The member whose picture it is.</param>
/// <param name="At">For each line and band the figure; null where it is at a value, or at a figure of all rows.</param>
public sealed record ReferencesInfo(object? Member, IReadOnlyList<double?> At);

/// <summary>A value beyond the whiskers of a box.</summary>
/// <param name="Member">The member whose box it is, a value for each field.</param>
/// <param name="Count">How many rows have it.</param>
public sealed record OutlierInfo(IReadOnlyList<object?> Member, object Value, long Count);

/// <summary>A small picture in each line of a table: a measure in each period.</summary>
/// <param name="As">line, area or bars.</param>
/// <param name="Periods">The periods in order; none if there would be too many figures to bring.</param>
/// <param name="Lines">For each line of the table a figure for each period, null where it has no rows.</param>
public sealed record CourseInfo(
    string As,
    ColumnInfo Figure,
    ColumnInfo Along,
    IReadOnlyList<object?> Periods,
    IReadOnlyList<IReadOnlyList<object?>> Lines,
    bool IsCut
)
{
    internal static CourseInfo Of(LineCourse course) =>
        new(
            course.As,
            ColumnInfo.Of(course.Figure, []),
            ColumnInfo.Of(course.Along, []),
            [.. course.Periods.Select(JsonValues.Of)],
            [.. course.Lines.Select(l => l.Select(JsonValues.Of).ToArray())],
            course.IsCut
        );
}

/// <summary>Figures over fewer fields than the lines of a tile.</summary>
/// <param name="Down">How many of the fields down they are grouped by, from the first.</param>
/// <param name="IsAcross">True if by the one across too, which is then the last group.</param>
public sealed record SubtotalInfo(int Down, bool IsAcross, TableInfo Table);

/// <summary>The newest period of a measure against the one before.</summary>
public sealed record ChangeInfo(
    string Period,
    string EarlierPeriod,
    bool IsPartial,
    string Span,
    object? Value,
    object? Earlier,
    double? Relative,
    IReadOnlyList<object?> Course
);

/// <summary>A tile that failed.</summary>
public sealed record TileProblem(string Code, string Detail, string? Remedy);

/// <summary>All about the filters of a tile.</summary>
public sealed record FiltersInfo(IReadOnlyList<AppliedInfo> Applied, IReadOnlyList<NotAppliedInfo> NotApplied);

/// <summary>What filters a tile, in words and by name.</summary>
/// <param name="FieldNames">The fields of the tile's own dataset that are filtered.</param>
public sealed record AppliedInfo(
    string Tile,
    string TileTitle,
    string Tab,
    string Fields,
    IReadOnlyList<string> Members,
    IReadOnlyList<string> FieldNames
);

/// <summary>What does not filter a tile, and why.</summary>
public sealed record NotAppliedInfo(string Tile, string TileTitle, string Reason, string Sentence);
