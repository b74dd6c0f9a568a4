using System.Globalization;
using System.Text.Json;
using CsvHelper;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Queries;
using Weir.Core.Results;
using Weir.Service.Answers;

namespace Weir.Service;

/// <summary>The single rows behind a tile or one of its marks, for those whose roles grant detail.</summary>
internal static class DetailEndpoints
{
    private const int MostRowsAPage = 500;

    public static void MapDetail(this RouteGroupBuilder dashboards)
    {
        dashboards.MapPost("/dashboards/{dashboard}/tiles/{tile}/rows", async (string dashboard, string tile, RowsRequest request, HttpContext context, PublishedWorkspace published, Store.Views views, Store.Audit audit, TimeProvider clock, DataVersions versions) =>
        {
            var first = Math.Clamp(request.First, 0, 10_000_000);
            var count = Math.Clamp(request.Count, 1, MostRowsAPage);
            var rows = await Read(dashboard, tile, request, first + count, "detail", context, published, views, audit, clock, versions);
            var page = rows.Table with { Values = [.. rows.Table.Values.Select(v => v.Skip(first).Take(count).ToArray())] };
            return new RowsAnswer(Wire.Table(page), first, rows.Lines, rows.Most, rows.Fields, rows.Restricted);
        }).WithName("getRows").WithSummary("The rows behind a tile or one of its marks, a page of them; needs the grant detail.").WithMetadata(new OnlyReads());

        dashboards.MapPost("/dashboards/{dashboard}/tiles/{tile}/rows.csv", async (string dashboard, string tile, RowsRequest request, HttpContext context, PublishedWorkspace published, Store.Views views, Store.Audit audit, TimeProvider clock, DataVersions versions) =>
        {
            var rows = await Read(dashboard, tile, request, int.MaxValue, "export", context, published, views, audit, clock, versions);
            using var text = new StringWriter(CultureInfo.InvariantCulture);
            await using (var csv = CsvWriter.Create(text, new CsvWriterOptions(), true))
            {
                csv.WriteRecord(rows.Table.Columns.Select(c => Cell(c.Title)).ToArray());
                for (var r = 0; r < rows.Table.Rows; r++)
                    csv.WriteRecord(rows.Table.Row(r).Select((v, c) => Cell(v is not null && rows.Table.Columns[c].Names?.GetValueOrDefault(Values.Write(v)) is { } name ? name : v)).ToArray());
            }
            context.Response.Headers["Weir-Rows"] = rows.Lines.ToString(CultureInfo.InvariantCulture);
            return Results.Text(text.ToString(), "text/csv; charset=utf-8");
        }).WithName("exportRows").WithSummary("The rows behind a tile or one of its marks as CSV, as many as the source's limit allows; Weir-Rows tells how many there are.")
            .Produces<string>(200, "text/csv").WithMetadata(new OnlyReads());
    }

    /// <summary>A value as text; one that a spreadsheet would take for a formula is marked as text.</summary>
    private static string Cell(object? value) => value switch
    {
        null => "",
        string s when s.Length > 0 && "=+-@\t\r".Contains(s[0]) => $"'{s}",
        string s => s,
        DateTime t => t.ToString("yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture),
        _ => Values.Write(value),
    };

    private sealed record Found(Table Table, long Lines, int Most, IReadOnlyList<DictionaryField> Fields, bool Restricted);

    private static async Task<Found> Read(
        string dashboard, string tile, RowsRequest request, int until, string act, HttpContext context, PublishedWorkspace published, Store.Views views, Store.Audit audit, TimeProvider clock, DataVersions versions)
    {
        var viewer = context.Viewer();
        var open = DashboardFor.Open(dashboard, viewer, published.Now, views, clock.GetUtcNow(), request.Inputs);
        var found = open.Tile(tile);
        if (found.Dataset is null)
            throw new ProblemException(422, "no-figures", $"The tile {tile} shows no figures.");
        var selections = await open.SelectionsOf(request.Selections, versions, context.RequestAborted);
        var detail = Scope.ForDetail(viewer, found.Dataset, open.Live.Workspace, open.Inputs);
        var level = Drilling.Opened(found, selections);
        // What picked the rows must be visible row by row too; else a filter would tell of a hidden field.
        var drivers = selections.Select(s => Drilling.At(open.Tile(s.Tile), s.Path)).Where(t => t.Dataset == found.Dataset);
        if (detail is null || drivers.Append(level).Any(t => t.Groups.Any(g => Fields.At(g, detail) is null)))
        {
            audit.Write(viewer, "denied", $"{act} {dashboard} {tile}");
            throw ProblemException.MayNot("see single rows of these data");
        }
        var weekStart = open.Live.Workspace.WeekStart;
        var scopes = open.Scopes.ToDictionary(s => s.Key, s => s.Key == found.Dataset ? detail : s.Value);
        var where = Wiring.FiltersOf(found, open.Dashboard, open.Arrangement, selections, scopes, weekStart).Conditions.ToList();
        if (request.Mark is { } mark)
            where.Add(Mark(level, detail, mark, weekStart));
        if (request.Sort is { } sort && !detail.Fields.ContainsKey(sort))
            throw new ProblemException(422, "unknown-field", $"There is no field {(sort.Length <= 64 ? sort : sort[..64] + "…")} here.");

        var most = open.Live.Workspace.Sources[detail.Source].Limits.Rows;
        var limit = Math.Min(until, most);
        var ask = AskBatch.AtOnce(open.Live, versions);
        var rows = ask(open.Live.Planner.Rows(detail, where, request.Sort, request.Descending, limit), context.RequestAborted);
        var counted = await ask(DatasetChecks.Count(detail, where), context.RequestAborted);
        audit.Write(viewer, act, $"{dashboard} {tile}");
        var table = (await rows).Table;
        IReadOnlyList<DictionaryField> fields = [.. detail.Fields.Values.Select(f => new DictionaryField(f.Name, f.Title, f.Description, f.Kind.Name(), f.Unit))];
        if (request.Columns is { Count: > 0 } wanted)
        {
            var kept = wanted.Distinct().Select(c => table.Columns.ToList().FindIndex(x => x.Name == c)).ToList();
            if (kept.Contains(-1))
                throw new ProblemException(422, "unknown-field", "A chosen column is none of the fields.");
            table = new Table([.. kept.Select(k => table.Columns[k])], [.. kept.Select(k => table.Values[k])]);
        }
        return new Found(table, (long)counted.Table.Values[0][0]!, most, fields, detail.Restricted);
    }

    /// <summary>The rows of one mark: a value for each field that the tile is grouped by, or all but those shown.</summary>
    private static Bound Mark(Tile level, Scope scope, MarkRequest mark, DayOfWeek weekStart)
    {
        var fields = mark.Member is { ValueKind: JsonValueKind.Array } m && m.GetArrayLength() == level.Groups.Count ? level.Groups : level.By;
        var kinds = fields.Select(f => Fields.At(f, scope)!.Kind).ToList();
        if (mark.RestOf is { } shown)
        {
            var read = shown.Select(s => SelectionReader.ReadMember(level, kinds, s)).ToList();
            if (level.Top is not { Rest: true } || read.Count > Selection.MaximumMembers || read.FirstOrDefault(r => r.Fault is not null).Fault is not null)
                throw new ProblemException(422, "bad-selection", "The tile has no such rest.");
            return Conditions.Of(new Selection(level.Name, [], [.. read.Select(r => r.Member!)]), fields, scope, weekStart);
        }
        var (member, fault) = SelectionReader.ReadMember(level, kinds, mark.Member ?? default);
        return member is null ? throw new ProblemException(422, fault!.Code, fault.Message) : Conditions.IsMember(fields, member, scope, weekStart);
    }
}

/// <summary>A mark of a tile.</summary>
/// <param name="Member">A value for each field that the tile is grouped by, the split too if it is wanted.</param>
/// <param name="RestOf">For the rest of a top N: the members that are shown.</param>
public sealed record MarkRequest(JsonElement? Member, IReadOnlyList<JsonElement>? RestOf = null);

/// <summary>A question for the rows behind a tile.</summary>
/// <param name="Mark">One of its marks; all of its rows if left out.</param>
/// <param name="Columns">The fields to bring; all if left out.</param>
/// <param name="First">The first row, from 0, in the order of the sorted field and then all others.</param>
/// <param name="Count">How many rows, at most 500.</param>
public sealed record RowsRequest(
    Dictionary<string, JsonElement>? Selections, InputsRequest? Inputs = null, MarkRequest? Mark = null, IReadOnlyList<string>? Columns = null,
    string? Sort = null, bool Descending = false, int First = 0, int Count = 50);

/// <summary>Rows one by one.</summary>
/// <param name="Lines">How many there are in all.</param>
/// <param name="Most">How many of them can be reached by paging: the source's limit of rows.</param>
/// <param name="Fields">The fields that can be chosen.</param>
/// <param name="Restricted">True if a row rule leaves rows out.</param>
public sealed record RowsAnswer(TableInfo Table, int First, long Lines, int Most, IReadOnlyList<DictionaryField> Fields, bool Restricted);
