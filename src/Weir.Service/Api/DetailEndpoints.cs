using System.Globalization;
using System.Text.Json;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Results;
using Weir.Core.Sql;
using Weir.Service.Answers;
using Weir.Service.Asking;
using Weir.Service.SignIn;

namespace Weir.Service.Api;

/// <summary>The single rows behind a tile or one of its marks, for those whose roles grant detail.</summary>
internal static class DetailEndpoints
{
    private const int MostRowsAPage = 500;

    public static void MapDetail(this RouteGroupBuilder dashboards)
    {
        dashboards
            .MapPost(
                "/dashboards/{dashboard}/tiles/{tile}/rows",
                async (string dashboard, string tile, RowsRequest request, HttpContext context, Asker asker, Store.Audit audit) =>
                {
                    var first = Math.Clamp(request.First, 0, 10_000_000);
                    var count = Math.Clamp(request.Count, 1, MostRowsAPage);
                    var (open, detail, where, order, columns) = await Plan(dashboard, tile, request, "detail", asker, audit);
                    var most = open.Live.Workspace.Sources[detail.Source].Limits.Rows;
                    var ask = asker.AtOnce();
                    var rows = ask(open.Live.Planner.Rows(detail, where, order, Math.Min(first + count, most)), context.RequestAborted);
                    var counted = await ask(DatasetChecks.Count(detail, where), context.RequestAborted);
                    audit.Write(context.Viewer(), "detail", $"{dashboard} {tile}");
                    var table = (await rows).Table;
                    var kept = columns is null
                        ? Enumerable.Range(0, table.Columns.Count)
                        : columns.Select(c => table.Columns.ToList().FindIndex(x => x.Name == c));
                    var page = new Table(
                        [.. kept.Select(k => table.Columns[k])],
                        [.. kept.Select(k => table.Values[k].Skip(first).Take(count).ToArray())]
                    );
                    IReadOnlyList<DictionaryField> fields =
                    [
                        .. detail.Fields.Values.Select(f => new DictionaryField(f.Name, f.Title, f.Description, f.Kind.Name(), f.Unit)),
                    ];
                    return new RowsAnswer(TableInfo.Of(page), first, (long)counted.Table.Values[0][0]!, most, fields, detail.Restricted);
                }
            )
            .WithName("getRows")
            .WithSummary("The rows behind a tile or one of its marks, a page of them; needs the grant detail.")
            .WithMetadata(new OnlyReads());

        dashboards
            .MapPost(
                "/dashboards/{dashboard}/tiles/{tile}/rows.csv",
                async (
                    string dashboard,
                    string tile,
                    RowsRequest request,
                    HttpContext context,
                    Asker asker,
                    Store.Audit audit,
                    ServiceOptions options
                ) =>
                {
                    var asked = await Plan(dashboard, tile, request, "export", asker, audit);
                    if (!asked.Open.MayExport)
                    {
                        audit.Write(context.Viewer(), "denied", $"export {dashboard} {tile}");
                        throw ProblemException.MayNot("take rows of this dashboard away as a file");
                    }
                    var most = asked.Open.Live.Workspace.Sources[asked.Detail.Source].Limits.ExportRows;
                    var counted = await asker.AtOnce()(DatasetChecks.Count(asked.Detail, asked.Where), context.RequestAborted);
                    audit.Write(context.Viewer(), "export", $"{dashboard} {tile}");
                    var query = asked.Open.Live.Planner.Rows(asked.Detail, asked.Where, asked.Order, most);
                    var export = await RowExport.Make(
                        Path.Combine(options.Folders.Work, "exports"),
                        asked.Open.Live,
                        query,
                        asked.Columns,
                        request.ByteOrderMark,
                        asker.Viewer.Name,
                        context.RequestAborted
                    );
                    context.Response.RegisterForDispose(export);
                    foreach (
                        var (header, value) in (ReadOnlySpan<(string, long)>)
                            [
                                ("Weir-Rows", (long)counted.Table.Values[0][0]!),
                                ("Weir-Rows-Here", export.Rows),
                                ("Weir-Marked", export.Defused),
                            ]
                    )
                        context.Response.Headers[header] = value.ToString(CultureInfo.InvariantCulture);
                    return Results.Stream(export.Content, "text/csv; charset=utf-8");
                }
            )
            .WithName("exportRows")
            .WithSummary(
                "The rows behind a tile or one of its marks as CSV, up to the source's limit for exports. Weir-Rows tells how many there "
                    + "are, Weir-Rows-Here how many of them are in the file, Weir-Marked how many cells begin with a ' because a spreadsheet "
                    + "would take them for formulas."
            )
            .Produces<string>(200, "text/csv")
            .WithMetadata(new OnlyReads());
    }

    /// <summary>What is asked for, all of it checked against the viewer's right to single rows.</summary>
    /// <param name="Columns">The fields that are wanted, in order; null for all.</param>
    private sealed record Asked(
        OpenDashboard Open,
        Scope Detail,
        List<Bound> Where,
        IReadOnlyList<(string Field, bool Descending)> Order,
        IReadOnlyList<string>? Columns
    );

    private static async Task<Asked> Plan(string dashboard, string tile, RowsRequest request, string act, Asker asker, Store.Audit audit)
    {
        var viewer = asker.Viewer;
        var open = asker.Open(dashboard, request.Viewing);
        var found = open.Tile(tile);
        if (found.Dataset is null)
            throw new ProblemException(422, "no-figures", $"The tile {tile} shows no figures.");
        var selections = await asker.SelectionsOf(open, request.Selections);
        if (open.DetailOf(found, selections) is not var (detail, filters))
        {
            audit.Write(viewer, "denied", $"{act} {dashboard} {tile}");
            throw ProblemException.MayNot("see single rows of these data");
        }
        var (level, weekStart) = (Drilling.Opened(found, selections), open.Live.Workspace.WeekStart);
        var where = filters.Conditions.ToList();
        if (request.Mark is { } mark)
            where.Add(Mark(level, detail, mark, weekStart));
        where.AddRange(RowsWanted.Conditions(request.Where, detail));
        var order = RowsWanted.Order(request.Sort, detail);
        List<string>? columns = request.Columns is { Count: > 0 } wanted ? [.. wanted.Distinct()] : null;
        if (columns?.Any(c => c is null || !detail.Fields.ContainsKey(c)) == true)
            throw new ProblemException(422, "unknown-field", "A chosen column is none of the fields.");
        return new Asked(open, detail, where, order, columns);
    }

    /// <summary>The rows of one mark: a value for each field that the tile is grouped by, or all but those shown.</summary>
    private static Bound Mark(Tile level, Scope scope, MarkRequest mark, DayOfWeek weekStart)
    {
        var fields =
            mark.Member is { ValueKind: JsonValueKind.Array } m && m.GetArrayLength() == level.Groups.Count ? level.Groups : level.By;
        var kinds = fields.Select(f => Fields.At(f, scope)!.Kind).ToList();
        if (mark.RestOf is { } shown)
        {
            var read = shown.Select(s => SelectionReader.ReadMember(level, kinds, s)).ToList();
            if (
                level.Top is not { Rest: true }
                || read.Count > Selection.MaximumMembers
                || read.FirstOrDefault(r => r.Fault is not null).Fault is not null
            )
                throw new ProblemException(422, "bad-selection", "The tile has no such rest.");
            return Conditions.Of(new Selection(level.Name, [], [.. read.Select(r => r.Member!)]), fields, scope, weekStart);
        }
        var (member, fault) = SelectionReader.ReadMember(level, kinds, mark.Member ?? default);
        return member is null
            ? throw new ProblemException(422, fault!.Code, fault.Message)
            : Conditions.IsMember(fields, member, scope, weekStart);
    }
}

/// <summary>A mark of a tile.</summary>
/// <param name="Member">A value for each field that the tile is grouped by, the split too if it is wanted.</param>
/// <param name="RestOf">For the rest of a top N: the members that are shown.</param>
public sealed record MarkRequest(JsonElement? Member, IReadOnlyList<JsonElement>? RestOf = null);

/// <summary>A question for the rows behind a tile.</summary>
/// <param name="Mark">One of its marks; all of its rows if left out.</param>
/// <param name="Columns">The fields to bring; all if left out.</param>
/// <param name="Sort">The fields to sort by, the first before the next.</param>
/// <param name="Where">What rows have to meet beside the filters of the tile.</param>
/// <param name="First">The first row, from 0, in the order of the sorted fields and then all others.</param>
/// <param name="Count">How many rows, at most 500.</param>
/// <param name="ByteOrderMark">For CSV: true to begin with the mark by which some spreadsheets know UTF-8.</param>
public sealed record RowsRequest(
    Dictionary<string, JsonElement>? Selections,
    ViewingRequest? Viewing = null,
    MarkRequest? Mark = null,
    IReadOnlyList<string>? Columns = null,
    IReadOnlyList<RowSort>? Sort = null,
    IReadOnlyList<RowCondition>? Where = null,
    int First = 0,
    int Count = 50,
    bool ByteOrderMark = false
);

/// <summary>Rows one by one.</summary>
/// <param name="Lines">How many there are in all.</param>
/// <param name="Most">How many of them can be reached by paging: the source's limit of rows.</param>
/// <param name="Fields">The fields that can be chosen.</param>
/// <param name="Restricted">True if a row rule leaves rows out.</param>
public sealed record RowsAnswer(TableInfo Table, int First, long Lines, int Most, IReadOnlyList<DictionaryField> Fields, bool Restricted);
