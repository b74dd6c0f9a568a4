using System.CommandLine;
using System.Text.Json;
using Weir.Service.Api;

namespace Weir.Commands;

/// <summary>weir view: one's own views of a dashboard.</summary>
internal static class ViewCommand
{
    public static Command Create() =>
        new("view", "Look after your own views of a dashboard.")
        {
            List(),
            Make(),
            Show(),
            Steps(),
            Export(),
            Import(),
            Share(),
            Promote(),
        };

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
                    Console.WriteLine(ClientJson.Text(all));
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

    /// <summary>What follows a path to name a view.</summary>
    private static string Of(ParseResult parsed, Option<string?> view) =>
        Picks.View(parsed.GetValue(view)) is { } named ? $"?view={Uri.EscapeDataString(named)}" : "";

    private static Command Show()
    {
        var (dashboard, view, format) = (Dashboard(), Picks.ViewOption(), Formats.Option("table", "json"));
        var command = new Command("show", "Show how a dashboard lies before you: its tabs, and where each tile stands.")
        {
            dashboard,
            view,
            format,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var page = await client.Get<DashboardPage>($"{Path(parsed.GetValue(dashboard)!)}{Of(parsed, view)}", cancellation);
                if (parsed.GetValue(format) == "json")
                    Console.WriteLine(ClientJson.Text(page.Tabs));
                else
                    Output.Grid(
                        [("Tab", false), ("Section", false), ("Tile", false), ("Title", false), ("Stands", false), ("", false)],
                        page.Tabs.SelectMany(tab =>
                            tab.Tiles.Select(t =>
                                (IReadOnlyList<string>)
                                    [
                                        tab.Title + (tab.Hidden ? " (hidden)" : ""),
                                        tab.Sections.FirstOrDefault(s => s.Name == t.Section)?.Title ?? "",
                                        t.Name,
                                        t.Title,
                                        t.IsInPanel ? "side panel" : $"{t.Place.Column},{t.Place.Row} {t.Place.Width}×{t.Place.Height}",
                                        string.Join(
                                            ", ",
                                            new[]
                                            {
                                                t.Hidden ? "hidden" : null,
                                                t.Own ? "added" : null,
                                                t.Drawn is null ? null : "drawn otherwise",
                                            }.OfType<string>()
                                        ),
                                    ]
                            )
                        )
                    );
                foreach (var dropped in page.View.Dropped)
                    Console.Error.WriteLine($"No longer fits: {dropped}");
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static Command Export()
    {
        var (dashboard, view) = (Dashboard(), Picks.ViewOption());
        var command = new Command("export", "Write the edits of one of your views as JSON, for weir view import.") { dashboard, view };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var edits = await client.Get<List<JsonElement>>(
                    $"{Path(parsed.GetValue(dashboard)!)}/view/edits{Of(parsed, view)}",
                    cancellation
                );
                Console.WriteLine("[");
                for (var i = 0; i < edits.Count; i++)
                    Console.WriteLine($"  {edits[i].GetRawText()}{(i < edits.Count - 1 ? "," : "")}");
                Console.WriteLine("]");
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static Command Import()
    {
        var dashboard = Dashboard();
        var title = new Argument<string>("TITLE") { Description = "What you want to call the view." };
        var file = new Argument<FileInfo>("FILE") { Description = "What weir view export wrote." };
        var command = new Command("import", "Make a view with a name from exported edits; what does not fit is told and left out.")
        {
            dashboard,
            title,
            file,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                List<JsonElement> edits;
                try
                {
                    edits =
                        JsonSerializer.Deserialize(
                            await File.ReadAllTextAsync(parsed.GetValue(file)!.FullName, cancellation),
                            ClientJson.Default.ListJsonElement
                        ) ?? [];
                }
                catch (Exception e) when (e is IOException or UnauthorizedAccessException or JsonException)
                {
                    Console.Error.WriteLine($"{parsed.GetValue(file)} can't be read as exported edits: {e.Message}");
                    return ExitCode.Usage;
                }
                using var client = Client.SignedIn();
                var path = Path(parsed.GetValue(dashboard)!);
                var made = await client.Send<NamedViewInfo>(
                    HttpMethod.Post,
                    $"{path}/views",
                    new NewViewRequest(parsed.GetValue(title), null, true),
                    cancellation
                );
                var left = 0;
                foreach (var edit in edits)
                    try
                    {
                        _ = await client.Send<JsonElement>(HttpMethod.Post, $"{path}/view/edits?view={made.View}", edit, cancellation);
                    }
                    catch (Refusal e)
                    {
                        left++;
                        Console.Error.WriteLine($"Left out: {edit.GetRawText()}: {e.Message}");
                    }
                Console.WriteLine(made.View);
                return left == 0 ? ExitCode.Yes : ExitCode.No;
            }
        );
        return command;
    }

    private static Command Share()
    {
        var (dashboard, view) = (Dashboard(), Picks.ViewOption());
        var person = new Option<string?>("--with") { Description = "The person who may see it." };
        var role = new Option<string?>("--role") { Description = "The role whose people may see it." };
        var link = new Option<bool>("--link") { Description = "Whoever has the link may see it." };
        var copy = new Option<bool>("--as-now") { Description = "As it is now, instead of as it is whenever they look." };
        var command = new Command("share", "Let others see one of your views, under their own rights.")
        {
            dashboard,
            view,
            person,
            role,
            link,
            copy,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                if (
                    new[] { parsed.GetValue(person) is not null, parsed.GetValue(role) is not null, parsed.GetValue(link) }.Count(x => x)
                    != 1
                )
                {
                    Console.Error.WriteLine("Say with whom: one of --with PERSON, --role ROLE and --link.");
                    return ExitCode.Usage;
                }
                using var client = Client.SignedIn();
                var named = Picks.View(parsed.GetValue(view));
                var shares = await client.Send<List<ShareInfo>>(
                    HttpMethod.Post,
                    $"{Path(parsed.GetValue(dashboard)!)}/views/{Uri.EscapeDataString(named is null or "" ? "my" : named)}/shares",
                    new ShareRequest(parsed.GetValue(person), parsed.GetValue(role), parsed.GetValue(link), !parsed.GetValue(copy)),
                    cancellation
                );
                Console.WriteLine(shares[^1].View);
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static Command Promote()
    {
        var (dashboard, view) = (Dashboard(), Picks.ViewOption());
        var roles = new Option<string[]>("--role")
        {
            Description = "A role that finds the dashboard so; several times for several. Everybody if left out.",
        };
        var name = new Option<string?>("--name")
        {
            Description = "The name of the opening view; made from dashboard and role if left out.",
        };
        var replace = new Option<bool>("--replace") { Description = "Replace an opening view of that name." };
        var command = new Command(
            "promote",
            "Make one of your views what others find when they open the dashboard: a file that is published at once."
        )
        {
            dashboard,
            view,
            roles,
            name,
            replace,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                using var client = Client.SignedIn();
                var named = Picks.View(parsed.GetValue(view));
                var done = await client.Send<PromotedInfo>(
                    HttpMethod.Post,
                    $"{Path(parsed.GetValue(dashboard)!)}/views/{Uri.EscapeDataString(named is null or "" ? "my" : named)}/promote",
                    new PromoteRequest(parsed.GetValue(roles), parsed.GetValue(name), parsed.GetValue(replace)),
                    cancellation
                );
                foreach (var fault in done.Answer.Faults)
                    Console.Error.WriteLine($"{fault.File}:{fault.Line}:{fault.Column}: {fault.Severity} {fault.Code}: {fault.Message}");
                if (!done.Answer.Accepted)
                    return ExitCode.No;
                Console.WriteLine($"# {done.Path}, version {done.Answer.Version}");
                Console.Write(done.Text);
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
                var steps = await client.Get<List<StepInfo>>(
                    $"{Path(parsed.GetValue(dashboard)!)}/view/steps{Of(parsed, view)}",
                    cancellation
                );
                if (parsed.GetValue(format) == "json")
                    Console.WriteLine(ClientJson.Text(steps));
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
