using System.Security.Cryptography;
using System.Text.Json;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Views;
using Weir.Service.Asking;

namespace Weir.Service.Api;

/// <summary>A dashboard in the list.</summary>
/// <param name="Views">The viewer's own views of it that have names.</param>
/// <param name="OpenRemarks">How many remarks wait for whoever looks after it; 0 for others.</param>
public sealed record DashboardLine(string Name, string Title, string? Description, IReadOnlyList<NamedViewInfo> Views, long OpenRemarks);

/// <summary>A dashboard as the viewer has it before them.</summary>
/// <param name="Withheld">How many tiles the viewer's roles do not grant; which ones is not told.</param>
/// <param name="AppliesOnButton">True if picks are collected until the viewer applies them.</param>
/// <param name="HasOpening">True if something may be picked when it opens: POST …/opening.</param>
/// <param name="MayArrange">True if the viewer may have a view of their own.</param>
/// <param name="MayExport">True if the viewer may take rows away as a file, where they may see them.</param>
/// <param name="MayDesign">True if the viewer's roles let them have a draft of it.</param>
/// <param name="Areas">The areas that have tabs for this viewer; none if there is one level of tabs only.</param>
/// <param name="May">What the viewer may change: move, hide, tabs, add, draw, keep.</param>
/// <param name="Origin">Where its data come from, as CommonMark; null if that is not said.</param>
/// <param name="Drawings">How tiles are drawn for this visit only, as far as that could be meant, among the parameters of a request.</param>
public sealed record DashboardPage(
    string Name,
    string Title,
    string? Description,
    long Version,
    string WeekStarts,
    string TimeZone,
    IReadOnlyList<ParameterState> Parameters,
    IReadOnlyList<TabInfo> Tabs,
    int Withheld,
    ViewInfo View,
    bool AppliesOnButton,
    bool HasOpening,
    bool MayArrange,
    bool MayExport,
    bool MayDesign,
    IReadOnlyList<AreaInfo> Areas,
    IReadOnlyList<string> May,
    IReadOnlyDictionary<string, IReadOnlyList<string>> Drawings,
    string? Origin
)
{
    internal static DashboardPage Of(OpenDashboard open)
    {
        var (dashboard, workspace) = (open.Dashboard, open.Live.Workspace);
        var used = open.UsedScopes().ToList();
        var ofData = used.SelectMany(s => s.Parameters.Values)
            .DistinctBy(p => p.Name)
            .Select(p =>
                ParameterState.Of(
                    p,
                    open.Viewing,
                    presents: false,
                    [.. used.Where(s => s.Parameters.ContainsKey(p.Name)).Select(s => s.Name)]
                )
            );
        return new DashboardPage(
            dashboard.Name,
            dashboard.Title,
            dashboard.Description,
            open.Live.Version.Number,
            workspace.WeekStart.ToString().ToLowerInvariant(),
            workspace.TimeZone,
            [.. open.Offered.Select(p => ParameterState.Of(p, open.Viewing, presents: true, [])), .. ofData],
            [.. open.Arrangement.Tabs.Select(t => TabInfo.Of(t, open))],
            open.Withheld,
            ViewInfo.Of(open),
            dashboard.AppliesOnButton,
            open.Arrangement.Tiles.Any(t => t.Tile.Opening is not null),
            open.MayArrange,
            open.MayExport,
            open.MayDesign,
            [.. dashboard.Areas.Where(a => open.Arrangement.Tabs.Any(t => t.Area == a.Name)).Select(a => new AreaInfo(a.Name, a.Title))],
            open.MayMove ? ChangeWords.Of(dashboard.May) : [],
            VisitDrawings
                .Written(open.Visit.Where(d => open.Drawn.OfVisit.Contains(d.Key)).OrderBy(d => d.Key, StringComparer.Ordinal))
                .ToDictionary(),
            dashboard.Origin
        );
    }
}

/// <summary>An area: a set of tabs.</summary>
public sealed record AreaInfo(string Name, string Title);

/// <summary>A parameter that the viewer may set, with its values now.</summary>
/// <param name="Type">The type, or period.</param>
/// <param name="Choices">The fixed choices; null if there are none, or if they are asked for.</param>
/// <param name="Presents">True if it changes how tiles are drawn, and no rows: the dashboard is to be fetched anew with it.</param>
/// <param name="Datasets">The datasets whose rows it changes, by name.</param>
/// <param name="AsksChoices">True if the choices are the values of a field: GET …/parameters/{parameter}/choices.</param>
public sealed record ParameterState(
    string Name,
    string Title,
    string? Description,
    string Type,
    bool Many,
    bool Optional,
    IReadOnlyList<string> Values,
    IReadOnlyList<string> Opening,
    string? Least,
    string? Most,
    IReadOnlyList<ChoiceInfo>? Choices,
    bool AsksChoices,
    bool Presents,
    IReadOnlyList<string> Datasets
)
{
    internal static ParameterState Of(Parameter parameter, Viewing viewing, bool presents, IReadOnlyList<string> datasets) =>
        new(
            parameter.Name,
            parameter.Title,
            parameter.Description,
            parameter.IsPeriod ? "period" : parameter.Kind.Name(),
            parameter.Many,
            parameter.Optional,
            [.. viewing.Of(parameter).Select(Core.Expressions.Values.Write)],
            [.. parameter.Opening.Select(Core.Expressions.Values.Write)],
            parameter.Least is null ? null : Core.Expressions.Values.Write(parameter.Least),
            parameter.Most is null ? null : Core.Expressions.Values.Write(parameter.Most),
            parameter.Choices is ParameterChoices.Fixed list
                ? [.. list.Items.Select(i => new ChoiceInfo(Core.Expressions.Values.Write(i.Value), i.Title))]
                : null,
            parameter.Choices is ParameterChoices.OfField or ParameterChoices.Lookup,
            presents,
            datasets
        );
}

/// <summary>A value that a parameter may have, and what is shown for it.</summary>
public sealed record ChoiceInfo(string Value, string Title);

/// <summary>The viewer's own view of a dashboard.</summary>
/// <param name="Dropped">What the viewer had arranged and the dashboard no longer has.</param>
/// <param name="Keeps">A mark of the picks with which the viewer has it open, another with each change; null if they keep none. POST
/// …/opening tells them.</param>
/// <param name="View">Which view is open; empty for the one without a name.</param>
/// <param name="Title">Its name; null for the one without.</param>
/// <param name="Named">The viewer's views with names.</param>
/// <param name="SharedWithMe">The views that others share with the viewer, by name or by role.</param>
/// <param name="Owner">Whose view is open, where it is somebody else's.</param>
/// <param name="MayMake">True if the viewer may have views of their own.</param>
/// <param name="MayShare">True if the viewer may let others see their views.</param>
/// <param name="Mark">Another with each change of the view.</param>
/// <param name="Since">The version on which the viewer last changed it, where another is published by now: GET …/view/differences.</param>
public sealed record ViewInfo(
    bool IsPersonal,
    int CanUndo,
    int CanRedo,
    IReadOnlyList<string> Dropped,
    string? Keeps,
    string View,
    string? Title,
    IReadOnlyList<NamedViewInfo> Named,
    IReadOnlyList<SharedViewInfo> SharedWithMe,
    string? Owner,
    bool MayMake,
    bool MayShare,
    string Mark,
    long? Since
)
{
    internal static ViewInfo Of(OpenDashboard open) =>
        new(
            open.View.Edits.Count > 0 && open.View.Edits[^1] is not ViewEdit.Reset,
            open.View.CanUndo,
            open.View.CanRedo,
            [.. open.Dropped.Distinct()],
                // What somebody else keeps may be what this viewer may not see: the mark is made of nothing that it holds.
                open.Shared
                    is { } shared
                && PersonalView.Kept(open.Dashboard, open.View.Edits) is not null
                    ? $"{shared.Id}-{open.View.Last}"
                : PersonalView.Kept(open.Dashboard, open.View.Edits) is { } kept
                    ? Convert.ToHexStringLower(SHA256.HashData(JsonSerializer.SerializeToUtf8Bytes(kept)))[..16]
                : null,
            open.Key.View,
            open.Shared is not null ? open.Shared.Title ?? "View" : open.Named.FirstOrDefault(v => v.View == open.Key.View)?.Title,
            [.. open.Named.Select(NamedViewInfo.Of)],
            [
                .. open.SharedWithViewer()
                    .Select(s => new SharedViewInfo(OpenDashboard.SharedPrefix + s.Id, s.Title ?? "View", s.OwnerTitle)),
            ],
            open.Shared?.OwnerTitle,
            open.MayHaveViews,
            open.MayShare,
            open.View.Mark,
            open.Since
        );
}

/// <summary>A view that somebody else shares.</summary>
/// <param name="View">What an address names to open it.</param>
/// <param name="Owner">Whose it is.</param>
public sealed record SharedViewInfo(string View, string Title, string Owner);

/// <summary>A tab.</summary>
/// <param name="Groups">The groups of the dashboard that have tiles here.</param>
/// <param name="Hidden">True if the viewer does not want to see it.</param>
/// <param name="Renamed">The developer's title, where the viewer has given it another.</param>
/// <param name="Area">The area that it belongs to; null where there are none.</param>
/// <param name="Sections">Its parts that fold, below what stands in none.</param>
/// <param name="Fit">content, or window where the rows share the height of the window.</param>
/// <param name="Columns">Into how many columns its tiles were put to flow last; null if they have places.</param>
/// <param name="May">What the viewer may change on it.</param>
public sealed record TabInfo(
    string Name,
    string Title,
    bool Own,
    bool Hidden,
    string? Renamed,
    IReadOnlyList<TileInfo> Tiles,
    IReadOnlyList<GroupInfo> Groups,
    string? Area,
    IReadOnlyList<SectionInfo> Sections,
    string Fit,
    int? Columns,
    IReadOnlyList<string> May
)
{
    internal static TabInfo Of(ArrangedTab tab, OpenDashboard open) =>
        new(
            tab.Name,
            tab.Title,
            tab.Own,
            tab.Hidden,
            open.Dashboard.Tabs.FirstOrDefault(t => t.Name == tab.Name) is { } published && published.Title != tab.Title
                ? published.Title
                : null,
            [.. tab.Tiles.Select(t => TileInfo.Of(t, open))],
            [
                .. tab
                    .Tiles.Select(t => open.Dashboard.GroupNamed(t.Tile.Group))
                    .OfType<TileGroup>()
                    .Distinct()
                    .Select(g => new GroupInfo(g.Name, g.Title, g.Drives.Kind, g.Drives.Tiles)),
            ],
            tab.Area,
            [
                .. tab
                    .Sections.Where(s => Stands(s, tab) || open.Fold.Opening.Tabs.Any(o => o.Name == tab.Name && Stands(s, o)))
                    .Select(s => new SectionInfo(s.Name, s.Title, s.IsFolded, s.Columns, open.MayMove ? ChangeWords.Of(s.May) : [])),
            ],
            tab.Fit.ToString().ToLowerInvariant(),
            tab.Columns,
            open.MayMove ? ChangeWords.Of(tab.May) : []
        );

    /// <summary>A section that the viewer has emptied is still there to be filled; one of which they may see nothing is not.</summary>
    private static bool Stands(TabSection section, ArrangedTab tab) => tab.Tiles.Any(t => t.Section == section.Name);
}

/// <summary>A part of a tab that folds.</summary>
/// <param name="IsFolded">True if it opens folded; what stands in it is not to be asked for then.</param>
public sealed record SectionInfo(string Name, string Title, bool IsFolded, int? Columns, IReadOnlyList<string> May);

/// <summary>A frame around tiles that filter one another.</summary>
/// <param name="Drives">What their selections, taken together, filter outside: tab, dashboard, list or none.</param>
public sealed record GroupInfo(string Name, string Title, string Drives, IReadOnlyList<string> DrivesTiles);

/// <summary>A tile without its figures.</summary>
/// <param name="Levels">The fields of its hierarchy, the one it is grouped by first; one or none if nothing opens.</param>
/// <param name="PathDrives">True if the opened path also filters what the tile drives.</param>
/// <param name="Waits">True if a page asks for it only when the viewer wants it.</param>
/// <param name="MayDetail">True if the viewer may see the single rows behind it.</param>
/// <param name="IsRequired">True if something must always be picked on it.</param>
/// <param name="Uses">The parameters of the dashboard that change how it is drawn.</param>
/// <param name="IsTop">True if only its leading members are shown.</param>
/// <param name="IsInPanel">True if it stands in the side panel of its tab; then its place does not count.</param>
/// <param name="Section">The section in whose grid its place is; null for none.</param>
/// <param name="FieldsInText">The titles of the fields that its text names in braces; null if it has no data.</param>
/// <param name="Own">True if the viewer added it.</param>
/// <param name="Cut">What else decides about its figures beside kind, measures and fields: series, order and leading members, as one text.</param>
/// <param name="Drawn">visit or view where it is drawn otherwise than it is defined, for this visit or in the view; null if it is not.</param>
/// <param name="DrawnInView">True if the view has it drawn otherwise, whatever this visit does.</param>
/// <param name="Repeats">True if its picture is drawn once for each member of the last field that it is grouped by.</param>
/// <param name="Without">The series that the view hides by the legend.</param>
/// <param name="Table">How the view has the columns of its table stand; null for as it is defined.</param>
/// <param name="May">What the viewer may change about it.</param>
/// <param name="Options">How its kind is drawn, a word for each key that is one.</param>
/// <param name="References">Lines and bands at values of its axis.</param>
/// <param name="Tip">The sentence over a mark, with names of columns in braces; null where the figures stand there.</param>
/// <param name="HasTools">False if it has no menus and no zoom.</param>
/// <param name="Basis">What stands for all that its figures come from in the definitions: while it is the same, so are they.</param>
/// <param name="Cells">How the cells of a table are written; null for as they are.</param>
/// <param name="PublishedTable">How the columns and lines of its table stand in the opening view; null for as it is defined.</param>
/// <param name="File">What tells its file from another of the same name; null if it shows none.</param>
/// <param name="Alt">What its file shows, in words; null if it shows none.</param>
public sealed record TileInfo(
    string Name,
    string Picture,
    string Title,
    string? Description,
    string? Text,
    string? Dataset,
    Place Place,
    bool Hidden,
    string Pick,
    string Drives,
    IReadOnlyList<string> DrivesTiles,
    string Follows,
    IReadOnlyList<string> FollowsTiles,
    IReadOnlyList<FieldInfo> By,
    IReadOnlyList<MeasureInfo> Show,
    bool HasRest,
    string? DatasetName,
    int? RefreshSeconds,
    bool Waits,
    string? Group,
    IReadOnlyList<FieldInfo> Levels,
    bool PathDrives,
    bool MayDetail,
    bool IsRequired,
    bool IsInPanel,
    bool IsTop,
    IReadOnlyList<string> Uses,
    string? Section,
    IReadOnlyDictionary<string, string>? FieldsInText,
    bool Own,
    string Cut,
    string? Drawn,
    bool DrawnInView,
    bool Repeats,
    IReadOnlyList<string> Without,
    TableColumns? Table,
    TableColumns? PublishedTable,
    IReadOnlyList<string> May,
    string? File,
    string? Alt,
    IReadOnlyDictionary<string, string> Options,
    IReadOnlyList<ReferenceLine> References,
    string? Tip,
    TableCells? Cells,
    bool HasTools,
    string Basis
)
{
    /// <summary>Who may not arrange may still draw otherwise for the visit, where the developer lets viewers.</summary>
    private static IReadOnlyList<string> MayOf(ArrangedTile tile, OpenDashboard open) =>
        ChangeWords.Of(
            (open.MayMove ? tile.May : tile.May & Changes.Draw) & (Redrawing.CanChange(tile.Tile) ? Changes.All : ~Changes.Draw)
        );

    internal static TileInfo Of(ArrangedTile arranged, OpenDashboard open)
    {
        var tile = arranged.Tile;
        var scope = tile.Dataset is { } dataset ? open.Scopes[dataset] : null;
        var refresh =
            scope is not null && tile.RefreshSeconds is { } wanted
                ? Math.Max(wanted, open.Live.Workspace.Sources[scope.Source].Refresh.LeastSeconds)
                : (int?)null;
        return new TileInfo(
            tile.Name,
            tile.Picture.Name,
            TileTitles.Shown(tile, scope),
            tile.Description,
            // A name that the viewer may not read stands in no text either.
            tile.Text
                is { } text
            && scope is not null
                ? FiguresInText.Without(text, n => scope.Measures.ContainsKey(n) || scope.Fields.ContainsKey(n))
                : tile.Text,
            scope?.Title,
            arranged.Place,
            arranged.Hidden,
            tile.Pick.ToString().ToLowerInvariant(),
            tile.Drives.Kind,
            tile.Drives.Tiles,
            tile.Follows.Kind,
            tile.Follows.Tiles,
            [.. tile.By.Select(b => FieldInfo.Of(b, scope!, open.Live.Planner))],
            [.. tile.Show.Select(m => MeasureInfo.Of(scope!.Measures[m]))],
            tile.Top is { Rest: true },
            scope?.Name,
            refresh,
            tile.Waits,
            tile.Group,
            scope is null || tile.By.Count == 0 ? [] : [.. Drilling.Levels(tile).Select(b => FieldInfo.Of(b, scope, open.Live.Planner))],
            tile.Drill is { Drives: true },
            scope is not null && open.MayDetail(scope.Name),
            tile.IsRequired,
            tile.IsInPanel,
            tile.Top is not null,
            tile.Uses,
            arranged.Section,
            tile.Text is null || scope is null
                ? null
                : FiguresInText.NamesIn(tile.Text).Where(scope.Fields.ContainsKey).ToDictionary(n => n, n => scope.Fields[n].Title),
            arranged.Own,
            $"{tile.Split} {tile.Sort?.By} {tile.Sort?.Descending} {tile.Top?.Count} {tile.Top?.Rest}",
            open.Drawn.OfVisit.Contains(tile.Name) ? "visit"
                : open.Drawn.Defined.ContainsKey(tile.Name) ? "view"
                : null,
            arranged.Drawing is not null,
            tile.Repeats,
            arranged.Drawing?.Without ?? [],
            // In a view of somebody else there can be columns that the viewer has not.
            scope is null
                ? null
                : arranged.Columns?.Of(c => scope.HasColumn(c) ? c : null),
            open.PublishedTables.GetValueOrDefault(tile.Name),
            MayOf(arranged, open),
            tile.File is { } file ? open.Live.Workspace.Attachments[file].Mark : null,
            tile.Alt,
            tile.Options,
            tile.References,
            tile.Tip?.Sentence,
            tile.Cells,
            tile.HasTools,
            open.Live.BasesOf(open.Dashboard.Name).Of(tile.Name)
        );
    }
}

/// <summary>A field that a tile is grouped by.</summary>
/// <param name="Pattern">How its dates are written; null for the usual way.</param>
/// <param name="IsNamed">True if its values are keys or codes that are read by names.</param>
/// <param name="At">Its grain or part, if it is a date.</param>
/// <param name="Names">The names of its codes, by their values as text; not told where a row rule takes rows away, since some may be none
/// of the viewer's.</param>
/// <param name="Format">How its numbers are written; null for what is no number, and for parts of dates.</param>
public sealed record FieldInfo(
    string Name,
    string Title,
    string Kind,
    string? At,
    string? Description,
    string? Unit,
    IReadOnlyDictionary<string, string>? Names = null,
    string? Pattern = null,
    bool IsNamed = false,
    FormatInfo? Format = null
)
{
    internal static FieldInfo Of(FieldAt at, Scope scope, Planner planner)
    {
        var field = scope.Fields[at.Field];
        return new FieldInfo(
            at.ToString(),
            Titles.OfField(at, field.Title),
            Fields.At(at, scope)!.Kind.Name(),
            at.Member,
            field.Description,
            field.Unit,
            at.Member is null && !scope.Restricted ? field.WrittenNames : null,
            field.Patterns.GetValueOrDefault(at.Member ?? "")?.Text,
            at.Member is null && field.HasNames,
            planner.Group(at, scope).Column.Format is { } format ? FormatInfo.Of(format) : null
        );
    }
}

/// <summary>A measure that a tile shows.</summary>
/// <param name="Additive">True if the values of parts add up to the value of the whole, so that bars and areas may be stacked.</param>
public sealed record MeasureInfo(string Name, string Title, string? Description, string Formula, bool Additive)
{
    internal static MeasureInfo Of(Measure measure) =>
        new(measure.Name, measure.Title, measure.Description, measure.FormulaText, measure.IsAdditive);
}
