using System.CommandLine;
using System.Text.Json;
using Spectre.Console;
using Weir.Service;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Commands;

/// <summary>weir explain: where the figures of a tile come from.</summary>
internal static class ExplainCommand
{
    public static Command Create()
    {
        var dashboard = new Argument<string>("DASHBOARD") { Description = "The dashboard's name." };
        var tile = new Argument<string?>("TILE")
        {
            Description = "The tile's name; not needed with --wiring.",
            Arity = ArgumentArity.ZeroOrOne,
        };
        var wiring = new Option<bool>("--wiring")
        {
            Description = "Show who drives whom on the dashboard, and what reaches nobody and why.",
        };
        var state = new StateOptions();
        var count = new Option<bool>("--count")
        {
            Description = "Ask for the figures and count their rows, to see how many there are and how long it takes.",
        };
        var lookAs = new Option<string?>("--as") { Description = "Look as another user; needs the grant and is written to the audit." };
        var format = Formats.Option("text", "json", "svg");
        var command = new Command(
            "explain",
            "Show where the figures of a tile come from: SQL, parameters, row rule, filters with their reasons."
        )
        {
            dashboard,
            tile,
            wiring,
            count,
            lookAs,
            format,
        };
        state.AddTo(command);
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn(parsed.GetValue(lookAs));
                var path = $"api/dashboards/{Uri.EscapeDataString(parsed.GetValue(dashboard)!)}";
                var (page, picks, viewing) = await state.Open(parsed, path, client, cancellation);
                var form = parsed.GetValue(format);
                if (parsed.GetValue(wiring))
                    Print(await client.Get<List<WireInfo>>($"{path}/wiring{Picks.AsSet(viewing)}", cancellation), page, form);
                else if (parsed.GetValue(tile) is not { } tileName)
                    throw new Refusal("Which tile?", "Name it, or use --wiring for the whole dashboard.", ExitCode.Usage);
                else if (form == "svg")
                    throw new Refusal("Only the wiring is drawn.", "Add --wiring, or use --format text or json.", ExitCode.Usage);
                else
                    Print(
                        await client.Send<Explanation>(
                            HttpMethod.Post,
                            $"{path}/tiles/{Uri.EscapeDataString(tileName)}/explanation",
                            new ExplanationRequest(picks, viewing, parsed.GetValue(count)),
                            cancellation
                        ),
                        form
                    );
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static void Print(List<WireInfo> lines, DashboardPage page, string? form) =>
        Console.WriteLine(
            form switch
            {
                "json" => ClientJson.Text(lines),
                "svg" => WiringDrawing.Svg(page, lines),
                _ => WiringDrawing.Text(page, lines),
            }
        );

    private static void Print(Explanation explanation, string? form)
    {
        if (form == "json")
            Console.WriteLine(ClientJson.Text(explanation));
        else
            Print(explanation);
    }

    private static void Print(Explanation e)
    {
        AnsiConsole.MarkupLineInterpolated($"[bold]{e.Title}[/]  over {e.Dataset} in {e.Source}");
        foreach (var measure in e.Measures)
            Console.WriteLine($"  {measure.Title} = {measure.Formula}");
        foreach (var parameter in e.Parameters)
            Console.WriteLine(
                $"  {parameter.Title}: {(parameter.Values.Count == 0 ? "empty, restricts nothing" : string.Join(", ", parameter.Values))}"
            );
        Head("Row rule");
        foreach (var rule in e.RowRules)
            Console.WriteLine($"  {rule.Role}: {rule.Rule ?? "all rows"}");
        if (e.DatasetFilter is not null)
            Console.WriteLine($"  {e.DatasetFilter}");
        Head("Filters");
        foreach (var filter in e.Filters.Applied)
            Console.WriteLine($"  {filter.Fields}: {string.Join(", ", filter.Members)} (picked on {filter.TileTitle}, tab {filter.Tab})");
        foreach (var filter in e.Filters.NotApplied)
            Console.WriteLine($"  not applied: {filter.TileTitle}. {filter.Sentence}");
        if (e.Filters.Applied.Count + e.Filters.NotApplied.Count == 0)
            Console.WriteLine("  none");
        if (e.Rows is { } rows)
            Console.WriteLine(
                $"  {rows.ToString("N0", System.Globalization.CultureInfo.InvariantCulture)} rows meet "
                    + $"them{(e.Milliseconds is { } ms ? $"; answered in {ms.ToString("0", System.Globalization.CultureInfo.InvariantCulture)} ms" : "")}"
            );
        if (e.Withheld is not null)
        {
            Head("SQL");
            Console.WriteLine($"  {e.Withheld}");
        }
        for (var i = 0; i < e.Sql.Count; i++)
        {
            Head(
                $"SQL{(e.Sql.Count == 1 ? "" : $" {i + 1} of {e.Sql.Count}")}: {e.Sql[i].Why}{(e.Sql[i].Wave > 1 ? ", once the answers before are there" : "")}"
            );
            Console.WriteLine(e.Sql[i].Text);
            foreach (var parameter in e.Sql[i].Parameters)
                Console.WriteLine($"  {parameter.Mark} {parameter.Kind} {parameter.Open ?? ClientJson.Readable(parameter.Value)}");
        }
    }

    private static void Head(string text) => AnsiConsole.MarkupLineInterpolated($"[bold]{text}[/]");
}
