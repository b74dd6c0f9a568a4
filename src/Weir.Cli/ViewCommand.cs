using System.CommandLine;
using System.Text.Json;
using Weir.Service.Api;

namespace Weir.Cli;

/// <summary>weir view: one's own views of a dashboard.</summary>
internal static class ViewCommand
{
    public static Command Create() => new("view", "Look after your own views of a dashboard.") { List(), Make(), Steps() };

    private static Argument<string> Dashboard() => new("DASHBOARD") { Description = "The dashboard's name." };

    private static string Path(string dashboard) => $"api/dashboards/{Uri.EscapeDataString(dashboard)}";

    private static Command List()
    {
        var (dashboard, format) = (Dashboard(), Formats.Option("table", "json"));
        var command = new Command("list", "List your views of a dashboard; weir run --view takes their names.") { dashboard, format };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var page = await client.Get<DashboardPage>(Path(parsed.GetValue(dashboard)!), cancellation);
                var first = page.View.Named.FirstOrDefault(v => v.OpensFirst)?.View ?? "";
                IReadOnlyList<NamedViewInfo> all = [new NamedViewInfo("my", "My view", first.Length == 0), .. page.View.Named];
                if (parsed.GetValue(format) == "json")
                    Console.WriteLine(JsonSerializer.Serialize(all, Client.Json));
                else
                    Output.Grid(
                        [("View", false), ("Title", false), ("", false)],
                        all.Select(v => (IReadOnlyList<string>)[v.View, v.Title, v.OpensFirst ? "opens first" : ""])
                    );
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static Command Make()
    {
        var dashboard = Dashboard();
        var title = new Argument<string>("TITLE") { Description = "What you want to call it." };
        var from = new Option<string?>("--from")
        {
            Description = "The view that it begins as; the dashboard as published if left out. my for the one without a name.",
        };
        var command = new Command("make", "Make a view with a name, and print what weir run --view takes for it.")
        {
            dashboard,
            title,
            from,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var made = await client.Send<NamedViewInfo>(
                    HttpMethod.Post,
                    $"{Path(parsed.GetValue(dashboard)!)}/views",
                    new NewViewRequest(parsed.GetValue(title), Picks.View(parsed.GetValue(from)), parsed.GetValue(from) is null),
                    cancellation
                );
                Console.WriteLine(made.View);
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static Command Steps()
    {
        var (dashboard, view, format) = (Dashboard(), Picks.ViewOption(), Formats.Option("table", "json"));
        var command = new Command("steps", "List the last steps of one of your views, the newest first.") { dashboard, view, format };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var asked = Picks.View(parsed.GetValue(view)) is { } named ? $"?view={Uri.EscapeDataString(named)}" : "";
                var steps = await client.Get<List<StepInfo>>($"{Path(parsed.GetValue(dashboard)!)}/view/steps{asked}", cancellation);
                if (parsed.GetValue(format) == "json")
                    Console.WriteLine(JsonSerializer.Serialize(steps, Client.Json));
                else
                    Output.Grid(
                        [("Step", false), ("Made", false), ("", false)],
                        steps.Select(s =>
                            (IReadOnlyList<string>)
                                [
                                    s.Words,
                                    s.Made.ToLocalTime().ToString("d MMM yyyy HH:mm", System.Globalization.CultureInfo.InvariantCulture),
                                    s.IsUndone ? "taken back" : "",
                                ]
                        )
                    );
                return ExitCode.Yes;
            }
        );
        return command;
    }
}
