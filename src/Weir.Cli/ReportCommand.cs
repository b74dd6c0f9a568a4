using System.CommandLine;
using System.Text.Json;
using Weir.Core.Definitions;
using Weir.Service.Api;

namespace Weir.Cli;

/// <summary>weir report: what is made of dashboards for taking along, in a state that their developers say.</summary>
internal static class ReportCommand
{
    public static Command Create() =>
        new("report", "List reports, or have one made now: under your rights, with your rows.") { List(), Run() };

    private static Command List()
    {
        var format = Formats.Option("table", "json");
        var command = new Command("list", "List the reports that you may have made.") { format };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var reports = await client.Get<List<ReportInfo>>("api/reports", cancellation);
                if (parsed.GetValue(format) == "json")
                    Console.WriteLine(JsonSerializer.Serialize(reports, Client.Json));
                else
                    Output.Grid(
                        [("Report", false), ("Title", false), ("Of", false), ("As", false), ("For each of", false)],
                        reports.Select(r => (IReadOnlyList<string>)[r.Name, r.Title, r.DashboardTitle, r.Form, r.Each ?? ""])
                    );
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static Command Run()
    {
        var report = new Argument<string>("REPORT") { Description = "The report's name." };
        var form = new Option<string?>("--as-file") { Description = "Another form than the report's own." };
        form.AcceptOnlyFromAmong([.. Report.Forms]);
        var output = ExportCommand.OutputOption();
        var set = Picks.SetOption();
        var command = new Command("run", "Make a report now and write its file.") { report, form, output, set };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var parameters = Picks.Parameters(parsed.GetValue(set) ?? []);
                return await ExportCommand.Write(
                    client,
                    $"api/reports/{Uri.EscapeDataString(parsed.GetValue(report)!)}/run",
                    new ReportRun(parsed.GetValue(form), parameters),
                    parsed.GetValue(output),
                    cancellation
                );
            }
        );
        return command;
    }
}
