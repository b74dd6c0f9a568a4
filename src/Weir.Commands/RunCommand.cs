using System.CommandLine;
using System.Globalization;
using System.Text.Json;
using CsvHelper;
using Spectre.Console;
using Weir.Core.Expressions;
using Weir.Core.Pictures;
using Weir.Core.Results;
using Weir.Service;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Commands;

/// <summary>weir run: the figures of a dashboard or a tile.</summary>
internal static class RunCommand
{
    public static Command Create()
    {
        var dashboard = new Argument<string>("DASHBOARD") { Description = "The dashboard's name." };
        var tiles = ExportCommand.TilesOption();
        var state = new StateOptions();
        var lookAs = new Option<string?>("--as") { Description = "Look as another user; needs the grant and is written to the audit." };
        var format = Formats.Option("table", "csv", "json");
        var command = new Command("run", "Print the figures of a dashboard, or of some of its tiles.") { dashboard, tiles, lookAs, format };
        state.AddTo(command);
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn(parsed.GetValue(lookAs));
                var path = $"api/dashboards/{Uri.EscapeDataString(parsed.GetValue(dashboard)!)}";
                var (page, picks, viewing) = await state.Open(parsed, path, client, cancellation);
                var only = parsed.GetValue(tiles) is { Length: > 0 } some ? some : null;
                if (parsed.GetValue(format) == "csv" && only is not { Length: 1 })
                    throw new Refusal("CSV has one table.", "Name the tile: --tile NAME.", ExitCode.Usage);
                var request = new ResultsRequest(only, picks, viewing);
                var results = new Dictionary<string, TileResult>();
                await foreach (var result in client.Lines<TileResult>($"{path}/results", request, cancellation))
                    results[result.Tile] = result;
                // In reading order, whatever was ready first.
                var ordered = page
                    .Tabs.SelectMany(t => t.Tiles)
                    .Where(t => results.ContainsKey(t.Name))
                    .Select(t => (Tile: t, Result: results[t.Name]))
                    .ToList();
                switch (parsed.GetValue(format))
                {
                    case "json":
                        foreach (var (_, result) in ordered)
                            Console.WriteLine(ClientJson.Text(result));
                        break;
                    case "csv" when ordered is [{ Result.Table: { } table }]:
                        Csv(table);
                        break;
                    default:
                        foreach (var (tile, result) in ordered)
                            Print(tile, result);
                        break;
                }
                return ordered.All(o => o.Result.State == "ready") ? ExitCode.Yes : ExitCode.No;
            }
        );
        return command;
    }

    private static void Print(TileInfo tile, TileResult result)
    {
        AnsiConsole.MarkupLineInterpolated($"[bold]{tile.Title}[/]  [dim]{tile.Name}[/]");
        foreach (var filter in result.Filters?.Applied ?? [])
            AnsiConsole.MarkupLineInterpolated(
                $"  [dim]{filter.Fields}:[/] {string.Join(", ", filter.Members)} [dim](from {filter.TileTitle})[/]"
            );
        if (result.Problem is { } problem)
        {
            Output.Error($"{problem.Detail} ({problem.Code})");
            if (problem.Remedy is not null)
                Console.Error.WriteLine(problem.Remedy);
            return;
        }
        var table = result.Table!;
        var columns = table.Columns.Select(Column).ToList();
        var rows = table.Values.Count == 0 ? 0 : table.Values[0].Length;
        if (PictureKinds.All.First(k => k.Name == tile.Picture) is { Show.Most: > 0, By.Most: 0 })
            Number(result, columns);
        else if (rows == 0)
            AnsiConsole.WriteLine("  No rows meet the filters.");
        else
        {
            var shown = columns.Select((c, i) => (c, i)).Where(x => x.c.Role != ColumnRole.Rest).ToList();
            var rest = columns.FindIndex(c => c.Role == ColumnRole.Rest);
            Output.Grid(
                [.. shown.Select(x => (Heading(x.c), IsFigure(x.c)))],
                Enumerable
                    .Range(0, rows)
                    .Select(r =>
                        (IReadOnlyList<string>)
                            [
                                .. shown.Select(x =>
                                    x.i == 0 && rest >= 0 && Read(table.Values[rest][r], columns[rest]) is true
                                        ? Labels.Rest
                                        : Labels.Write(Read(table.Values[x.i][r], x.c), WithoutUnit(x.c))
                                ),
                            ]
                    ),
                result.Totals is null ? null : Totals(result.Totals, shown)
            );
        }
        if (result.Lines > rows)
            AnsiConsole.WriteLine($"  The first {rows:N0} of {result.Lines:N0} lines.");
        if (result.Note is { } note)
            AnsiConsole.MarkupLineInterpolated($"  [dim]{note}[/]");
        if (result.Restricted)
            AnsiConsole.MarkupLine("  [dim]Of the rows you may see.[/]");
        AnsiConsole.WriteLine();
    }

    private static bool IsFigure(Column column) => column.Role is ColumnRole.Figure or ColumnRole.Tip;

    /// <summary>The unit stands once, in the heading.</summary>
    private static string Heading(Column column) =>
        column.Format is { Unit.Length: > 0 } format ? $"{column.Title}, {format.Unit}" : column.Title;

    private static Column WithoutUnit(Column column) =>
        column.Format is null ? column : column with { Format = column.Format with { Unit = "" } };

    private static void Number(TileResult result, List<Column> columns)
    {
        var value = Labels.Write(Read(result.Table!.Values[0][0], columns[0]), columns[0]);
        if (result.Change is not { } change)
        {
            AnsiConsole.WriteLine($"  {value}");
            return;
        }
        var relative = change.Relative is { } r ? $"{(r < 0 ? "\u2212" : "+")}{Math.Abs(r) * 100:0.0} %" : "no change can be given";
        AnsiConsole.WriteLine($"  {value} in {change.Period}{(change.IsPartial ? $" (part of it: {change.Span})" : "")}");
        AnsiConsole.WriteLine(
            $"  {relative} on {(change.IsPartial ? "the same span of " : "")}{change.EarlierPeriod}: "
                + $"{Labels.Write(Read(change.Earlier, columns[0]), columns[0])}"
        );
    }

    private static List<string> Totals(IReadOnlyList<object?> totals, List<(Column c, int i)> shown)
    {
        var groups = shown.Count(x => x.c.Role == ColumnRole.Group);
        return
        [
            .. shown.Select(
                (x, at) =>
                    IsFigure(x.c) ? Labels.Write(Read(totals[at - groups], x.c), WithoutUnit(x.c))
                    : at == 0 ? "Total"
                    : ""
            ),
        ];
    }

    private static void Csv(TableInfo table)
    {
        using var writer = CsvWriter.Create(Console.Out, new CsvWriterOptions(), true);
        writer.WriteRecord(table.Columns.Select(c => c.Name).ToArray());
        for (var r = 0; r < (table.Values.Count == 0 ? 0 : table.Values[0].Length); r++)
            writer.WriteRecord(
                table
                    .Values.Select(v =>
                        v[r] switch
                        {
                            null => "",
                            JsonElement { ValueKind: JsonValueKind.String } text => SpreadsheetText.Defused(text.GetString()!),
                            JsonElement e => e.ToString(),
                            var other => other.ToString()!,
                        }
                    )
                    .ToArray()
            );
    }

    /// <summary>A column as it came over the wire.</summary>
    internal static Column Column(ColumnInfo c)
    {
        var column = new Column(
            c.Name,
            c.Title,
            Enum.Parse<ColumnRole>(c.Role, ignoreCase: true),
            ValueKinds.Parse(c.Kind) ?? ValueKind.Text,
            c.Format is null
                ? null
                : new Format(c.Format.Decimals, c.Format.Factor, c.Format.Unit)
                {
                    Marks = c.Format.Marks,
                    UnitFirst = c.Format.UnitFirst,
                    Short = c.Format.Short,
                },
            c.At
        )
        {
            Names = c.Names,
            Pattern = c.Pattern is null ? null : Core.Results.DatePattern.Parse(c.Pattern),
        };
        return c.Edges is null ? column : column with { Edges = [.. c.Edges.Select(e => Read(e, column)!)] };
    }

    /// <summary>A value as it came over the wire, back in the type of its column.</summary>
    internal static object? Read(object? value, Column column)
    {
        if (value is not JsonElement json)
            return value;
        return json.ValueKind switch
        {
            JsonValueKind.Null => null,
            JsonValueKind.True => true,
            JsonValueKind.False => false,
            JsonValueKind.Number => column.Kind == ValueKind.Integer ? json.GetInt64()
            : column.Kind == ValueKind.Decimal ? json.GetDecimal()
            : json.GetDouble(),
            _ => column.Kind switch
            {
                ValueKind.Date => DateOnly.Parse(json.GetString()!, CultureInfo.InvariantCulture),
                ValueKind.Timestamp => DateTime.Parse(json.GetString()!, CultureInfo.InvariantCulture),
                _ => json.GetString(),
            },
        };
    }
}
