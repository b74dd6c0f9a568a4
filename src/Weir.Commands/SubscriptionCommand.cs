using System.CommandLine;
using System.Globalization;
using System.Text.Json;
using Weir.Service.Api;

namespace Weir.Commands;

/// <summary>weir subscription: what is sent to yourself again and again.</summary>
internal static class SubscriptionCommand
{
    public static Command Create() =>
        new("subscription", "What is sent to you by mail again and again, as you see it: list it, add to it, end it.")
        {
            List(),
            Add(),
            End(),
        };

    private static Command List()
    {
        var format = Formats.Option("table", "json");
        var command = new Command("list", "List what is sent to you.") { format };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var all = await client.Get<List<SubscriptionInfo>>("api/subscriptions", cancellation);
                if (parsed.GetValue(format) == "json")
                    Console.WriteLine(ClientJson.Text(all));
                else if (all.Count == 0)
                    Console.WriteLine("Nothing is sent to you by your own wish.");
                else
                    Output.Grid(
                        [("Subscription", false), ("Of", false), ("As", false), ("When", false), ("Next", false)],
                        all.Select(s =>
                            (IReadOnlyList<string>)
                                [
                                    s.Id,
                                    s.DashboardTitle ?? $"{s.Dashboard}, which is not there for you",
                                    s.Form,
                                    $"{s.Times.Words} ({s.Times.Zone})",
                                    Next(s),
                                ]
                        )
                    );
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static Command Add()
    {
        var dashboard = new Argument<string>("DASHBOARD") { Description = "The dashboard's name." };
        var when = new Option<string>("--when")
        {
            Description = "When it comes, in words: every Monday at 08:00; every weekday at 07:30.",
            Required = true,
        };
        var zone = new Option<string?>("--zone") { Description = "The time zone by its IANA name; the workspace's if left out." };
        var form = new Option<string>("--as-file") { Description = "The form of the file.", DefaultValueFactory = _ => "pdf" };
        form.AcceptOnlyFromAmong([.. ExportForms.All]);
        var (tabs, tiles) = (ExportCommand.TabsOption(), ExportCommand.TilesOption());
        var detail = ExportCommand.DetailOption("usual if left out");
        var state = new StateOptions();
        var command = new Command("add", "Have a dashboard, or some of it, sent to you in a state of your choice.")
        {
            dashboard,
            when,
            zone,
            form,
            tabs,
            tiles,
            detail,
        };
        state.AddTo(command);
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var path = $"api/dashboards/{Uri.EscapeDataString(parsed.GetValue(dashboard)!)}";
                var (_, picks, viewing) = await state.Open(parsed, path, client, cancellation);
                var export = new ExportRequest(
                    parsed.GetValue(form)!,
                    parsed.GetValue(tabs) is { Length: > 0 } some ? some : null,
                    parsed.GetValue(tiles) is { Length: > 0 } few ? few : null,
                    picks,
                    viewing,
                    Detail: parsed.GetValue(detail)
                );
                var added = await client.Send<SubscriptionInfo>(
                    HttpMethod.Post,
                    $"{path}/subscriptions",
                    new SubscriptionRequest(parsed.GetValue(when)!, export, parsed.GetValue(zone)),
                    cancellation
                );
                Console.WriteLine($"{added.DashboardTitle} comes to you {added.Times.Words} ({added.Times.Zone}), next {Next(added)}.");
                Console.WriteLine($"weir subscription end {added.Id} ends it.");
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static Command End()
    {
        var id = new Argument<string>("SUBSCRIPTION") { Description = "What to end, as weir subscription list names it." };
        var command = new Command("end", "End something that is sent to you.") { id };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                await client.Delete($"api/subscriptions/{Uri.EscapeDataString(parsed.GetValue(id)!)}", cancellation);
                Console.WriteLine("It is ended: no more of it will come.");
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static string Next(SubscriptionInfo subscription) =>
        subscription.Times.Next is [var next, ..] ? next.ToString("ddd d MMM yyyy HH:mm", CultureInfo.InvariantCulture) : "never";
}
