using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Results;
using Weir.Core.Sql;

namespace Weir.Service;

/// <summary>A request to sign in.</summary>
public sealed record SignInRequest(string Name, string Password);

/// <summary>A request for a token.</summary>
public sealed record TokenRequest(string Name, string Password, string Label, int Days = 30);

/// <summary>A change of one's own password.</summary>
/// <param name="KeepTokens">True to let the tokens of programs go on; they end with the password otherwise.</param>
public sealed record PasswordRequest(string Current, string New, bool KeepTokens = false);

/// <summary>A new token; the secret is shown this once.</summary>
public sealed record NewToken(string Id, string Secret, DateTimeOffset Expires);

/// <summary>A token in a list.</summary>
public sealed record TokenLine(string Id, string Label, DateTimeOffset Created, DateTimeOffset Expires);

/// <summary>Who is signed in.</summary>
/// <param name="RoleTitles">The roles in words.</param>
/// <param name="May">Acts beyond reading.</param>
public sealed record SessionInfo(string Name, string Title, IReadOnlyList<string> Roles, IReadOnlyList<string> RoleTitles, IReadOnlyList<string> May, string Workspace);

/// <summary>A dashboard in the list.</summary>
public sealed record DashboardLine(string Name, string Title, string? Description);

/// <summary>A dashboard as the viewer has it before them.</summary>
/// <param name="Withheld">How many tiles the viewer's roles do not grant; which ones is not told.</param>
/// <param name="AppliesOnButton">True if picks are collected until the viewer applies them.</param>
/// <param name="HasOpening">True if something may be picked when it opens: POST …/opening.</param>
public sealed record DashboardPage(string Name, string Title, string? Description, long Version, string WeekStarts, string TimeZone, IReadOnlyList<ParameterState> Parameters, IReadOnlyList<TabInfo> Tabs, int Withheld, ViewInfo View, bool AppliesOnButton, bool HasOpening);

/// <summary>A parameter that the viewer may set, with its values now.</summary>
/// <param name="Type">The type, or period.</param>
/// <param name="Choices">The fixed choices; null if there are none, or if they are asked for.</param>
/// <param name="Presents">True if it changes how tiles are drawn, and no rows: the dashboard is to be fetched anew with it.</param>
/// <param name="Datasets">The datasets whose rows it changes, by name.</param>
/// <param name="AsksChoices">True if the choices are the values of a field: GET …/parameters/{parameter}/choices.</param>
public sealed record ParameterState(
    string Name, string Title, string? Description, string Type, bool Many, bool Optional, IReadOnlyList<string> Values, IReadOnlyList<string> Opening,
    string? Least, string? Most, IReadOnlyList<ChoiceInfo>? Choices, bool AsksChoices, bool Presents, IReadOnlyList<string> Datasets);

/// <summary>A value that a parameter may have, and what is shown for it.</summary>
public sealed record ChoiceInfo(string Value, string Title);

/// <summary>What a viewer has set.</summary>
/// <param name="Parameters">Texts by parameter; an empty list empties it; opening values hold for those left out.</param>
/// <param name="Zone">The viewer's own time zone by its IANA name; the workspace's if left out.</param>
public sealed record InputsRequest(Dictionary<string, IReadOnlyList<string>>? Parameters, string? Zone);

/// <summary>The viewer's own view of a dashboard.</summary>
/// <param name="Dropped">What the viewer had arranged and the dashboard no longer has.</param>
/// <param name="Keeps">A mark of the picks with which the viewer has it open, another with each change; null if they keep none. POST …/opening tells them.</param>
public sealed record ViewInfo(bool IsPersonal, int CanUndo, int CanRedo, IReadOnlyList<string> Dropped, string? Keeps);

/// <summary>A tab.</summary>
/// <param name="Groups">The groups of the dashboard that have tiles here.</param>
public sealed record TabInfo(string Name, string Title, bool Own, IReadOnlyList<TileInfo> Tiles, IReadOnlyList<GroupInfo> Groups);

/// <summary>A frame around tiles that filter one another.</summary>
/// <param name="Drives">What their selections, taken together, filter outside: tab, dashboard, list or none.</param>
public sealed record GroupInfo(string Name, string Title, string Drives, IReadOnlyList<string> DrivesTiles);

/// <summary>A line of the wiring: whether what is picked on one tile filters another.</summary>
/// <param name="Reason">Why it does not; null if it does.</param>
/// <param name="Fields">The fields that are filtered, if it does.</param>
public sealed record WireInfo(string Driver, string DriverTitle, string Follower, string FollowerTitle, string? Reason, string? Sentence, IReadOnlyList<string> Fields);

/// <summary>A tile without its figures.</summary>
/// <param name="Levels">The fields of its hierarchy, the one it is grouped by first; one or none if nothing opens.</param>
/// <param name="PathDrives">True if the opened path also filters what the tile drives.</param>
/// <param name="MayDetail">True if the viewer may see the single rows behind it.</param>
/// <param name="IsRequired">True if something must always be picked on it.</param>
/// <param name="Uses">The parameters of the dashboard that change how it is drawn.</param>
/// <param name="IsTop">True if only its leading members are shown.</param>
/// <param name="IsInPanel">True if it stands in the side panel of its tab; then its place does not count.</param>
public sealed record TileInfo(
    string Name, string Picture, string Title, string? Description, string? Text, string? Dataset, Place Place, bool Hidden, string Pick,
    string Drives, IReadOnlyList<string> DrivesTiles, string Follows, IReadOnlyList<string> FollowsTiles, IReadOnlyList<FieldInfo> By, IReadOnlyList<MeasureInfo> Show, bool HasRest,
    string? DatasetName, int? RefreshSeconds, string? Group, IReadOnlyList<FieldInfo> Levels, bool PathDrives, bool MayDetail,
    bool IsRequired, bool IsInPanel, bool IsTop, IReadOnlyList<string> Uses);

/// <summary>A field that a tile is grouped by.</summary>
/// <param name="Pattern">How its dates are written; null for the usual way.</param>
/// <param name="IsNamed">True if its values are keys or codes that are read by names.</param>
/// <param name="At">Its grain or part, if it is a date.</param>
/// <param name="Names">The names of its codes, by their values as text; not told where a row rule takes rows away, since some may be none of the viewer's.</param>
public sealed record FieldInfo(string Name, string Title, string Kind, string? At, string? Description, string? Unit, IReadOnlyDictionary<string, string>? Names = null, string? Pattern = null, bool IsNamed = false);

/// <summary>A measure that a tile shows.</summary>
/// <param name="Additive">True if the values of parts add up to the value of the whole, so that bars and areas may be stacked.</param>
public sealed record MeasureInfo(string Name, string Title, string? Description, string Formula, bool Additive);

/// <summary>How numbers are written.</summary>
/// <param name="Marks">True for a mark between thousands.</param>
/// <param name="UnitFirst">True for the unit before the number.</param>
/// <param name="Short">True for short forms: 12.4 k.</param>
public sealed record FormatInfo(int Decimals, int Factor, string Unit, bool Marks = true, bool UnitFirst = false, bool Short = false);

/// <summary>A column of a result.</summary>
/// <param name="Colours">Fixed colours of members that stand in it.</param>
/// <param name="Edges">Where its values are the starts of ranges: the ends of all ranges in order, one more than there are values; else null.</param>
/// <param name="Places">The places of the other members among the series colours, from 0, by their values as text; null where colour tells no members apart.</param>
/// <param name="Pattern">How its dates are written, in the letters of Unicode's date patterns; null for the usual way.</param>
/// <param name="Names">The names of members that are codes, by their values as text, as far as they stand in it.</param>
public sealed record ColumnInfo(string Name, string Title, string Role, string Kind, FormatInfo? Format, string? At, IReadOnlyDictionary<string, string>? Colours = null, IReadOnlyDictionary<string, string>? Names = null, string? Pattern = null, IReadOnlyDictionary<string, int>? Places = null, IReadOnlyList<object>? Edges = null);

/// <summary>A result in columns.</summary>
public sealed record TableInfo(IReadOnlyList<ColumnInfo> Columns, IReadOnlyList<object?[]> Values);

/// <summary>What filters a tile, in words and by name.</summary>
public sealed record AppliedInfo(string Tile, string TileTitle, string Tab, string Fields, IReadOnlyList<string> Members);

/// <summary>What does not filter a tile, and why.</summary>
public sealed record NotAppliedInfo(string Tile, string TileTitle, string Reason, string Sentence);

/// <summary>All about the filters of a tile.</summary>
public sealed record FiltersInfo(IReadOnlyList<AppliedInfo> Applied, IReadOnlyList<NotAppliedInfo> NotApplied);

/// <summary>The newest period of a measure against the one before.</summary>
public sealed record ChangeInfo(string Period, string EarlierPeriod, bool IsPartial, string Span, object? Value, object? Earlier, double? Relative, IReadOnlyList<object?> Course);

/// <summary>A tile that failed.</summary>
public sealed record TileProblem(string Code, string Detail, string? Remedy);

/// <summary>One line of the stream: a tile's figures, or why there are none.</summary>
/// <param name="State">ready or failed.</param>
/// <param name="Lines">How many lines there are in all; the table has the first of them.</param>
/// <param name="Restricted">True if the figures are of the rows that the viewer may see, not of all.</param>
/// <param name="Partial">Periods of the first column that are not whole, since the data or the picked range begin or end inside them.</param>
/// <param name="PartialPairs">Values of the first two columns that together name a period which is not whole: a month of the year and a year.</param>
/// <param name="ReadAt">When the data were read.</param>
/// <param name="Absent">Of the members picked on the tile itself those without rows under its filters, where the table does not show all members; null if there are none.</param>
public sealed record TileResult(
    string Tile, string State, TableInfo? Table, long Lines, IReadOnlyList<object?>? Totals, ChangeInfo? Change, FiltersInfo? Filters, bool Restricted,
    IReadOnlyList<object?> Partial, IReadOnlyList<IReadOnlyList<object?>> PartialPairs, DateTimeOffset ReadAt, double Milliseconds, TileProblem? Problem, IReadOnlyList<IReadOnlyList<object?>>? Absent = null);

/// <summary>A question for the figures of tiles.</summary>
/// <param name="Tiles">The tiles; all that are not hidden if left out.</param>
/// <param name="Selections">What is picked, by tile: <c>{"income-by-route": {"members": [["Skerrin–Ullavee"]]}}</c>.</param>
/// <param name="Refresh">True to have the data read anew, as often as the source allows.</param>
public sealed record ResultsRequest(IReadOnlyList<string>? Tiles, Dictionary<string, System.Text.Json.JsonElement>? Selections, InputsRequest? Inputs = null, bool Refresh = false);

/// <summary>A question where the figures of a tile come from.</summary>
/// <param name="Count">True to have the rows counted and the statements timed; without it nobody is asked.</param>
public sealed record ExplanationRequest(Dictionary<string, System.Text.Json.JsonElement>? Selections, InputsRequest? Inputs = null, bool Count = false);

/// <summary>A parameter of a SQL text.</summary>
/// <param name="Open">What the value is, where an earlier answer gives it; null if it is known.</param>
public sealed record ParameterInfo(string Mark, string Kind, object? Value, string? Open);

/// <summary>A SQL text with its parameters.</summary>
/// <param name="Why">What is asked with it.</param>
/// <param name="Wave">1 if it waits for no answer, 2 if it waits for such answers, and so on.</param>
public sealed record SqlInfo(string Why, int Wave, string Text, IReadOnlyList<ParameterInfo> Parameters)
{
    internal static SqlInfo Of(SqlText sql, string why, int wave) => new(why, wave, sql.Text, [.. sql.Parameters.Select((p, i) => new ParameterInfo(
        $"${i + 1}", p.Kind.Name(), Wire.Value(p.Value), p.Open is null ? null : $"{p.Open}, from the answers before"))]);
}

/// <summary>A role's rule on the rows.</summary>
public sealed record RuleInfo(string Role, string? Rule);

/// <summary>Where the figures of a tile come from.</summary>
/// <param name="Rows">How many rows the figures are made of; null unless they were to be counted.</param>
/// <param name="Milliseconds">How long its statements took just now; kept answers take no time. Null unless they were to be timed, and where they are not shown.</param>
/// <param name="Sql">The statements; none, with <paramref name="Withheld"/> saying why, if they would name what the viewer may not see.</param>
public sealed record Explanation(
    string Tile, string Title, string Dataset, string Source, IReadOnlyList<MeasureInfo> Measures, IReadOnlyList<RuleInfo> RowRules, string? DatasetFilter,
    FiltersInfo Filters, IReadOnlyList<SqlInfo> Sql, string? Withheld, IReadOnlyList<SettingInfo> Parameters,
    long? Rows, double? Milliseconds);

/// <summary>A parameter of a tile's dataset with its values now.</summary>
public sealed record SettingInfo(string Name, string Title, IReadOnlyList<string> Values);

/// <summary>The definition files.</summary>
/// <param name="Files">Text by path.</param>
public sealed record DefinitionFiles(long Version, IReadOnlyDictionary<string, string> Files);

/// <summary>Definition files to check or publish.</summary>
/// <param name="Base">The version that they were made from; what one fetched or published last if left out.</param>
/// <param name="Replace">True to publish them as they are, whatever others published meanwhile.</param>
public sealed record DefinitionsRequest(Dictionary<string, string>? Files, long? Base = null, bool Replace = false);

/// <summary>A fault in a definition file.</summary>
public sealed record FaultInfo(string Severity, string Code, string File, int Line, int Column, string Message, string? Remedy);

/// <summary>What came of a check or of publishing.</summary>
/// <param name="Version">The version served now; null if the files are broken or were only checked.</param>
/// <param name="Kept">Files that others published meanwhile and that stay as they are.</param>
public sealed record DefinitionsAnswer(bool Accepted, long? Version, IReadOnlyList<FaultInfo> Faults, IReadOnlyList<string>? Kept = null)
{
    internal static DefinitionsAnswer Of(Published published) => new(published.Version is not null, published.Version, [.. published.Faults.Select(Wire.Fault)], published.Kept);
}

/// <summary>Whether the service is up.</summary>
public sealed record Health(string State, long? Version);

/// <summary>Turns what the core knows into what travels.</summary>
internal static class Wire
{
    public static SessionInfo Session(Viewer viewer, LiveWorkspace? live) => new(
        viewer.Name, viewer.Title, viewer.Roles, [.. viewer.Roles.Select(r => live?.Workspace.Access.Roles.GetValueOrDefault(r)?.Title ?? r)], live is null ? [] : [.. Acts.All.Where(a => viewer.May(a, live.Workspace))], live?.Workspace.Title ?? "");

    public static ColumnInfo Column(Column column) => new(
        column.Name, column.Title, column.Role.ToString().ToLowerInvariant(), column.Kind.Name(),
        column.Format is null ? null : new FormatInfo(column.Format.Decimals, column.Format.Factor, column.Format.Unit, column.Format.Marks, column.Format.UnitFirst, column.Format.Short), column.At, column.Colours, column.Names, column.Pattern?.Text, column.Places, column.Edges);

    /// <summary>A table; of colours and names of members those that stand in it, since others may be none of the viewer's.</summary>
    public static TableInfo Table(Table table) => new([.. table.Columns.Select((c, i) => c.Colours is null && c.Names is null && c.Places is null ? Column(c) : Column(Among(c, [.. table.Values[i].OfType<object>().Select(Values.Write)])))], [.. table.Values.Select(v => v.Select(Value).ToArray())]);

    private static Column Among(Column column, HashSet<string> members) => column with
    {
        Colours = column.Colours?.Where(m => members.Contains(m.Key)).ToDictionary(),
        Names = column.Names?.Where(m => members.Contains(m.Key)).ToDictionary(),
        Places = column.Places?.Where(m => members.Contains(m.Key)).ToDictionary(),
    };

    /// <summary>Values as JSON has them; an instant without a zone, a number that is none as null.</summary>
    public static object? Value(object? value) => value switch
    {
        DateTime at => at.ToString("yyyy-MM-dd'T'HH:mm:ss", System.Globalization.CultureInfo.InvariantCulture),
        double d when !double.IsFinite(d) => null,
        _ => value,
    };

    /// <param name="datasets">The datasets whose rows it changes.</param>
    public static ParameterState Parameter(Parameter parameter, Inputs inputs, bool presents, IReadOnlyList<string> datasets) => new(
        parameter.Name, parameter.Title, parameter.Description, parameter.IsPeriod ? "period" : parameter.Kind.Name(), parameter.Many, parameter.Optional,
        [.. inputs.Of(parameter).Select(Values.Write)], [.. parameter.Opening.Select(Values.Write)],
        parameter.Least is null ? null : Values.Write(parameter.Least), parameter.Most is null ? null : Values.Write(parameter.Most),
        parameter.Choices is ParameterChoices.Fixed list ? [.. list.Items.Select(i => new ChoiceInfo(Values.Write(i.Value), i.Title))] : null, parameter.Choices is ParameterChoices.OfField or ParameterChoices.Lookup, presents, datasets);

    public static TileInfo Tile(ArrangedTile arranged, Scope? scope, Source? source, bool mayDetail)
    {
        var tile = arranged.Tile;
        return new TileInfo(
            tile.Name, tile.Picture.Name, TitleOf(tile, scope), tile.Description, tile.Text, scope?.Title, arranged.Place, arranged.Hidden, tile.Pick.ToString().ToLowerInvariant(),
            tile.Drives.Kind, tile.Drives.Tiles, tile.Follows.Kind, tile.Follows.Tiles,
            [.. tile.By.Select(b => Field(b, scope!))],
            [.. tile.Show.Select(m => Measure(scope!.Measures[m]))],
            tile.Top is { Rest: true }, scope?.Name, tile.RefreshSeconds is { } wanted ? Math.Max(wanted, source!.Refresh.LeastSeconds) : null,
            tile.Group, scope is null || tile.By.Count == 0 ? [] : [.. Drilling.Levels(tile).Select(b => Field(b, scope))], tile.Drill is { Drives: true }, mayDetail, tile.IsRequired, tile.IsInPanel, tile.Top is not null, tile.Uses);
    }

    public static GroupInfo Group(TileGroup group) => new(group.Name, group.Title, group.Drives.Kind, group.Drives.Tiles);

    public static MeasureInfo Measure(Measure measure) => new(measure.Name, measure.Title, measure.Description, measure.FormulaText, measure.IsAdditive);

    private static FieldInfo Field(FieldAt at, Scope scope)
    {
        var field = scope.Fields[at.Field];
        return new FieldInfo(at.ToString(), Titles.OfField(at, field.Title), Fields.At(at, scope)!.Kind.Name(), at.Member, field.Description, field.Unit, at.Member is null && !scope.Restricted ? field.WrittenNames : null, field.Patterns.GetValueOrDefault(at.Member ?? "")?.Text, at.Member is null && field.HasNames);
    }

    public static string TitleOf(Tile tile, Scope? scope) => tile.Title ?? (scope is null ? "" : TileTitles.Of(tile, scope));

    public static FaultInfo Fault(Fault f) => new(f.Severity.ToString().ToLowerInvariant(), f.Code, f.File, f.Line, f.Column, f.Message, f.Remedy);
}
