using System.CommandLine;
using System.Text.Json;
using Weir.Core.Definitions;
using Weir.Service.Api;

namespace Weir.Commands;

/// <summary>weir report: what is made of dashboards in a state that their developers say, when it goes out, and what became of that.</summary>
internal static class ReportCommand
{
    public static Command Create() =>
        new("report", "Reports: list them, have one made now under your rights, see when they go out, send them, see what became of that.")
        {
            List(),
            Run(),
            Schedule(),
            Send(),
            Runs(),
            Again(),
        };

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
                    Console.WriteLine(ClientJson.Text(reports));
                else
                    Output.Grid(
                        [
                            ("Report", false),
                            ("Title", false),
                            ("Of", false),
                            ("As", false),
                            ("For each of", false),
                            ("Goes out", false),
                            ("To you", false),
                        ],
                        reports.Select(r =>
                            (IReadOnlyList<string>)
                                [r.Name, r.Title, r.DashboardTitle, r.Form, r.Each ?? "", r.Times?.Words ?? "", r.ComesToYou ? "yes" : "no"]
                        )
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
        var detail = ExportCommand.DetailOption("as much as the report says if left out");
        var command = new Command("run", "Make a report now and write its file.") { report, form, detail, output, set };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var parameters = Picks.Parameters(parsed.GetValue(set) ?? []);
                return await ExportCommand.Write(
                    client,
                    $"api/reports/{Uri.EscapeDataString(parsed.GetValue(report)!)}/run",
                    new ReportRun(parsed.GetValue(form), parameters, parsed.GetValue(detail)),
                    parsed.GetValue(output),
                    cancellation
                );
            }
        );
        return command;
    }

    private static Argument<string> ReportArgument() => new("REPORT") { Description = "The report's name." };

    private static Command Schedule()
    {
        var (report, format) = (ReportArgument(), Formats.Option("table", "json"));
        var command = new Command("schedule", "When a report goes out, under which condition, and to whom; needs the act publish.")
        {
            report,
            format,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var schedule = await client.Get<ScheduleInfo>(
                    $"api/reports/{Uri.EscapeDataString(parsed.GetValue(report)!)}/schedule",
                    cancellation
                );
                if (parsed.GetValue(format) == "json")
                {
                    Console.WriteLine(ClientJson.Text(schedule));
                    return ExitCode.Yes;
                }
                Console.WriteLine(
                    schedule.Times is { } times ? $"{schedule.Title}: {times.Words} ({times.Zone})" : $"{schedule.Title}: by hand only"
                );
                foreach (var next in schedule.Times?.Next ?? [])
                    Console.WriteLine($"  {At(next, "ddd d MMM yyyy HH:mm")}");
                if (schedule.OnlyIf is { } condition)
                    Console.WriteLine(
                        $"Only if {condition.Holds ?? "there are no rows"} on {condition.TileTitle}{(condition is { Holds: not null, WhenEmpty: true } ? ", or there are no rows" : "")}{(condition.NotAgainHours is { } hours ? $"; not again within {hours:0.#} hours" : "")}."
                    );
                Console.WriteLine($"Told of what goes wrong: {(schedule.Owner.Length > 0 ? schedule.Owner : "nobody")}.");
                Output.Grid(
                    [("Goes to", false), ("Who", false), ("By", false), ("Address", false), ("Problem", false)],
                    schedule.Readers.Select(r => (IReadOnlyList<string>)[r.Reader, r.Title, r.Way, r.Address ?? "", r.Problem ?? ""])
                );
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static Command Send()
    {
        var reports = new Argument<string[]>("REPORT") { Description = "Names of reports.", Arity = ArgumentArity.OneOrMore };
        var command = new Command("send", "Send reports to all their readers now, each under their own rights; needs the act publish.")
        {
            reports,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                foreach (var report in parsed.GetValue(reports)!)
                {
                    await client.Send<RunStarted>(
                        HttpMethod.Post,
                        $"api/reports/{Uri.EscapeDataString(report)}/send",
                        new Nothing(),
                        cancellation
                    );
                    Console.WriteLine($"{report} is being made; weir report runs {report} says what becomes of it.");
                }
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static Command Runs()
    {
        var report = new Argument<string?>("REPORT") { Description = "Only of this report.", Arity = ArgumentArity.ZeroOrOne };
        var count = new Option<int>("--count") { Description = "So many, the newest first.", DefaultValueFactory = _ => 10 };
        var format = Formats.Option("table", "json");
        var command = new Command("runs", "What became of reports: each run with who got what; needs the act publish.")
        {
            report,
            count,
            format,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var of = parsed.GetValue(report) is { } name ? $"&report={Uri.EscapeDataString(name)}" : "";
                var runs = await client.Get<List<RunInfo>>($"api/runs?count={parsed.GetValue(count)}{of}", cancellation);
                if (parsed.GetValue(format) == "json")
                {
                    Console.WriteLine(ClientJson.Text(runs));
                    return ExitCode.Yes;
                }
                if (runs.Count == 0)
                    Console.WriteLine("Nothing was sent yet.");
                foreach (var run in runs)
                {
                    Console.WriteLine(
                        $"{run.Report}, due {At(run.Due, "d MMM yyyy HH:mm")} UTC ({run.Why}): {run.State}; {run.Statements} statements, {run.Milliseconds / 1000.0:0.0} s; {run.Id}"
                    );
                    if (run.Reason is { } reason)
                        Console.WriteLine($"  {reason}");
                    Output.Grid(
                        [("  To", false), ("State", false), ("By", false), ("Address", false), ("Because", false)],
                        run.Deliveries.Select(d =>
                            (IReadOnlyList<string>)[$"  {d.Reader}", d.State, d.Way, d.Address ?? "", d.Reason ?? ""]
                        )
                    );
                }
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static Command Again()
    {
        var run = new Argument<string>("RUN") { Description = "The run, as weir report runs names it." };
        var reader = new Argument<string>("READER") { Description = "To whom, as person:director." };
        var command = new Command("again", "Send again what failed, or of which it is not known whether it arrived; needs the act publish.")
        {
            run,
            reader,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                await client.Send<RunStarted>(
                    HttpMethod.Post,
                    $"api/runs/{Uri.EscapeDataString(parsed.GetValue(run)!)}/again",
                    new SendAgain(parsed.GetValue(reader)!),
                    cancellation
                );
                Console.WriteLine("It is on its way.");
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static string At(DateTimeOffset at, string pattern) => at.ToString(pattern, System.Globalization.CultureInfo.InvariantCulture);
}
