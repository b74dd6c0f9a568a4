using System.CommandLine;
using System.Globalization;
using System.Text.Json;
using Spectre.Console;
using Weir.Engines;
using Weir.Service;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Commands;

/// <summary>weir source: look into the sources, for those who define.</summary>
internal static class SourceCommand
{
    private static readonly Argument<string> Name = new("NAME") { Description = "The source's name." };

    public static Command Create() =>
        new("source", "Look into the sources: list, test, tables, rows.") { List(), Test(), Tables(), Table(), Rows() };

    private static string Path(string name) => $"api/sources/{Uri.EscapeDataString(name)}";

    private static Command List()
    {
        var format = Formats.Option("table", "json");
        var command = new Command("list", "List the sources.") { format };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var sources = await client.Get<List<SourceInfo>>("api/sources", cancellation);
                if (!Json(parsed.GetValue(format), sources))
                    Output.Grid(
                        [("Source", false), ("Engine", false), ("Where", false), ("Title", false)],
                        sources.Select(s => (IReadOnlyList<string>)[s.Name, s.Engine, s.Where, s.Title])
                    );
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static Command Test()
    {
        var format = Formats.Option("table", "json");
        var command = new Command("test", "Test a source step by step, and say what fails and what to do.") { Name, format };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var steps = await client.Send<List<SourceStep>>(
                    HttpMethod.Post,
                    $"{Path(parsed.GetValue(Name)!)}/test",
                    new Nothing(),
                    cancellation
                );
                if (!Json(parsed.GetValue(format), steps))
                    foreach (var step in steps)
                    {
                        var colour = step.State switch
                        {
                            "ok" => "green",
                            "warning" => "yellow",
                            _ => "red",
                        };
                        AnsiConsole.MarkupLine($"[{colour}]{step.State, -8}[/] {step.Step, -8} {Markup.Escape(step.Message)}");
                        if (step.Remedy is not null)
                            AnsiConsole.MarkupLine($"                  [dim]{Markup.Escape(step.Remedy)}[/]");
                    }
                return steps.Any(s => s.State == "failed") ? ExitCode.No : ExitCode.Yes;
            }
        );
        return command;
    }

    private static Command Tables()
    {
        var format = Formats.Option("table", "json");
        var command = new Command("tables", "List the tables and views of a source.") { Name, format };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var tables = await client.Get<List<CatalogTable>>($"{Path(parsed.GetValue(Name)!)}/tables", cancellation);
                if (!Json(parsed.GetValue(format), tables))
                    Output.Grid(
                        [("Schema", false), ("Table", false), ("Kind", false), ("Rows, about", true)],
                        tables.Select(t =>
                            (IReadOnlyList<string>)
                                [t.Schema ?? "", t.Name, t.Kind, t.Rows?.ToString("N0", CultureInfo.InvariantCulture) ?? "–"]
                        )
                    );
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static readonly Argument<string> TableName = new("TABLE") { Description = "The table's name." };
    private static readonly Option<string?> Schema = new("--schema")
    {
        Description = "Its schema, if there are several tables of the name.",
    };

    private static string TablePath(ParseResult parsed, string end = "") =>
        $"{Path(parsed.GetValue(Name)!)}/tables/{Uri.EscapeDataString(parsed.GetValue(TableName)!)}{end}"
        + (parsed.GetValue(Schema) is { } schema ? $"?schema={Uri.EscapeDataString(schema)}" : "");

    private static Command Table()
    {
        var format = Formats.Option("table", "json");
        var command = new Command("table", "Show the columns and keys of a table.") { Name, TableName, Schema, format };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var detail = await client.Get<TableDetail>(TablePath(parsed), cancellation);
                if (!Json(parsed.GetValue(format), detail))
                    Output.Grid(
                        [("Column", false), ("Type", false), ("Read as", false), ("Missing", false), ("Key", false)],
                        detail.Columns.Select(c =>
                            (IReadOnlyList<string>)
                                [
                                    c.Name,
                                    c.Type,
                                    c.Kind,
                                    c.Nullable ? "possible" : "never",
                                    c.Key is not null ? "primary"
                                    : detail.References.FirstOrDefault(r => r.Column == c.Name) is { } r ? $"of {r.Table}.{r.OtherColumn}"
                                    : "",
                                ]
                        )
                    );
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static Command Rows()
    {
        var format = Formats.Option("table", "json");
        var command = new Command("rows", "Show some rows of a table.") { Name, TableName, Schema, format };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var table = await client.Send<TableInfo>(HttpMethod.Post, TablePath(parsed, "/rows"), new Nothing(), cancellation);
                if (!Json(parsed.GetValue(format), table))
                    Output.Grid(
                        [.. table.Columns.Select(c => (c.Title, c.Kind is "integer" or "decimal" or "float"))],
                        Enumerable
                            .Range(0, table.Values.Count == 0 ? 0 : Math.Min(10, table.Values[0].Length))
                            .Select(r => (IReadOnlyList<string>)[.. table.Values.Select(v => v[r]?.ToString() ?? "–")])
                    );
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static bool Json<T>(string? format, T value)
    {
        if (format != "json")
            return false;
        Console.WriteLine(ClientJson.Text(value));
        return true;
    }
}
