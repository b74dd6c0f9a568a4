using System.CommandLine;
using System.Text.Json;
using Weir.Service;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Commands;

/// <summary>weir list: the dashboards one may open, or the tiles of one.</summary>
internal static class ListCommand
{
    public static Command Create()
    {
        var dashboard = new Argument<string?>("DASHBOARD")
        {
            Description = "Lists the tiles of this dashboard.",
            Arity = ArgumentArity.ZeroOrOne,
        };
        var lookAs = new Option<string?>("--as") { Description = "Look as another user; needs the grant and is written to the audit." };
        var format = Formats.Option("table", "json");
        var command = new Command("list", "List the dashboards that you may open, or the tiles of one.") { dashboard, lookAs, format };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn(parsed.GetValue(lookAs));
                var json = parsed.GetValue(format) == "json";
                if (parsed.GetValue(dashboard) is not { } name)
                {
                    var lines = await client.Get<List<DashboardLine>>("api/dashboards", cancellation);
                    if (json)
                        Console.WriteLine(ClientJson.Text(lines));
                    else
                        Output.Grid(
                            [("Dashboard", false), ("Title", false), ("Description", false)],
                            lines.Select(l => (IReadOnlyList<string>)[l.Name, l.Title, l.Description ?? ""])
                        );
                    return ExitCode.Yes;
                }
                var page = await client.Get<DashboardPage>($"api/dashboards/{Uri.EscapeDataString(name)}", cancellation);
                if (json)
                    Console.WriteLine(ClientJson.Text(page));
                else
                {
                    Output.Grid(
                        [("Tab", false), ("Tile", false), ("Picture", false), ("Title", false)],
                        page.Tabs.SelectMany(t =>
                            t.Tiles.Select(x =>
                                (IReadOnlyList<string>)[t.Title, x.Name, x.Hidden ? $"{x.Picture} (hidden)" : x.Picture, x.Title]
                            )
                        )
                    );
                    if (page.Parameters.Count > 0)
                        Output.Grid(
                            [("Parameter", false), ("Opens with", false), ("Choices", false)],
                            page.Parameters.Select(p =>
                                (IReadOnlyList<string>)
                                    [
                                        p.Name,
                                        string.Join(", ", p.Opening),
                                        p.Choices is { } fixedOnes ? string.Join(", ", fixedOnes.Select(c => c.Value))
                                        : p.AsksChoices ? "values of the data"
                                        : p.Type,
                                    ]
                            )
                        );
                }
                return ExitCode.Yes;
            }
        );
        return command;
    }
}
