using System.CommandLine;
using System.Text.Json;
using Spectre.Console;
using Weir.Core.Access;
using Weir.Service.Api;

namespace Weir.Commands;

/// <summary>weir access: who may see what, and what gives it; needs the act publish or look-as.</summary>
internal static class AccessCommand
{
    public static Command Create() =>
        new("access", "Show who may see what, and which role gives it; for those who publish or look as others.") { Who(), What() };

    private static Command Who()
    {
        var name = new Argument<string>("NAME") { Description = "A dashboard, or else a dataset." };
        var format = Formats.Option("table", "json");
        var command = new Command("who", "Show the roles and people that have a dashboard or a dataset.") { name, format };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var answer = await Answer(client, parsed.GetValue(name)!, cancellation);
                if (parsed.GetValue(format) == "json")
                {
                    Console.WriteLine(ClientJson.Text(answer));
                    return ExitCode.Yes;
                }
                AnsiConsole.MarkupLineInterpolated($"[bold]{answer.Title}[/]");
                if (answer.ByReading)
                    Console.WriteLine("No role grants dashboards by name: each is there for whoever reads one of its datasets.");
                Output.Grid(
                    [("Who", false), ("Roles", false), ("Rows", false), ("Hidden", false), ("Acts", false)],
                    answer.Lines.Select(l =>
                        (IReadOnlyList<string>)
                            [
                                l.IsRole ? $"role {l.Name}" : $"{l.Name} ({l.Title})",
                                string.Join(", ", l.Roles),
                                string.Join("\n", l.Datasets.SelectMany(d => d.Rows.Select(r => $"{d.Dataset}: {r}"))),
                                string.Join(", ", l.Datasets.SelectMany(d => d.Hidden).Distinct()),
                                Acts(l.Acts, l.IsRole),
                            ]
                    )
                );
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static async Task<AccessAnswer> Answer(Client client, string name, CancellationToken cancellation)
    {
        var of = Uri.EscapeDataString(name);
        try
        {
            return await client.Get<AccessAnswer>($"api/access/dashboards/{of}", cancellation);
        }
        catch (Refusal none) when (none.Code == "unknown-dashboard")
        {
            try
            {
                return await client.Get<AccessAnswer>($"api/access/datasets/{of}", cancellation);
            }
            catch (Refusal neither) when (neither.Code == "unknown-dataset")
            {
                throw new Refusal($"There is no dashboard and no dataset {name}.", "weir list names the dashboards.");
            }
        }
    }

    private static Command What()
    {
        var person = new Argument<string>("PERSON") { Description = "The name that the person signs in with." };
        var format = Formats.Option("table", "json");
        var command = new Command("what", "Show what a person has: dashboards, rows, hidden fields and acts.") { person, format };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var path = $"api/access/people/{Uri.EscapeDataString(parsed.GetValue(person)!)}";
                var answer = await client.Get<PersonAccess>(path, cancellation);
                if (parsed.GetValue(format) == "json")
                {
                    Console.WriteLine(ClientJson.Text(answer));
                    return ExitCode.Yes;
                }
                AnsiConsole.MarkupLineInterpolated($"[bold]{answer.Person.Title}[/]  {string.Join(", ", answer.Person.Roles)}");
                foreach (var (attribute, values) in answer.Attributes)
                    Console.WriteLine($"{attribute}: {string.Join(", ", values)}");
                if (answer.Person.Acts.Count > 0)
                    Console.WriteLine($"May {Acts(answer.Person.Acts, bare: false)}.");
                Output.Grid(
                    [("Dataset", false), ("Rows", false), ("Hidden", false), ("Single rows by", false)],
                    answer.Person.Datasets.Select(d =>
                        (IReadOnlyList<string>)
                            [d.Dataset, string.Join("\n", d.Rows), string.Join(", ", d.Hidden), string.Join(", ", d.DetailBy)]
                    )
                );
                Output.Grid(
                    [("Dashboard", false), ("Title", false), ("Acts", false)],
                    answer.Dashboards.Select(d => (IReadOnlyList<string>)[d.Name, d.Title, Acts(d.Acts, bare: false)])
                );
                return ExitCode.Yes;
            }
        );
        return command;
    }

    /// <summary>Acts with the roles that give them, once for those that the same roles give; left out where they are said already.</summary>
    private static string Acts(IReadOnlyList<GrantedAct> acts, bool bare) =>
        string.Join(
            "; ",
            acts.GroupBy(a => bare ? "" : string.Join(", ", a.By))
                .Select(g =>
                    string.Join(", ", g.Select(a => a.Areas is null ? a.Act : $"{a.Act} {string.Join(" and ", a.Areas)} only"))
                    + (g.Key.Length == 0 ? "" : $" ({g.Key})")
                )
        );
}
