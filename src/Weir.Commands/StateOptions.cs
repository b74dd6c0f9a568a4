using System.CommandLine;
using System.Text.Json;
using Weir.Service.Api;

namespace Weir.Commands;

/// <summary>The options that say in which state a dashboard is meant: what is picked, opened and set, and in which view.</summary>
internal sealed class StateOptions
{
    private readonly Option<string[]> _select = new("--select")
    {
        Description = "Pick a member: tile=value; tile!=value for all but it; tile=from..to for a range. May be given several times.",
        AllowMultipleArgumentsPerToken = false,
    };

    private readonly Option<string[]> _open = new("--open")
    {
        Description = "Open the level below a member of a tile's hierarchy: tile=member. Several times for further levels.",
    };

    private readonly Option<string[]> _set = Picks.SetOption();
    private readonly Option<bool> _unpicked = new("--unpicked")
    {
        Description = "Begin with nothing picked, not with what the dashboard opens with.",
    };

    private readonly Option<string?> _view = Picks.ViewOption();

    /// <summary>Gives a command all of them.</summary>
    public void AddTo(Command command)
    {
        foreach (var option in (Option[])[_select, _open, _unpicked, _view, _set])
            command.Add(option);
    }

    /// <summary>The dashboard as it opens for who is signed in, and what is picked and set in place of that.</summary>
    /// <param name="path">The address of the dashboard.</param>
    public Task<(DashboardPage Page, Dictionary<string, JsonElement> Picks, ViewingRequest? Viewing)> Open(
        ParseResult parsed,
        string path,
        Client client,
        CancellationToken cancellation
    ) =>
        Picks.Open(
            path,
            parsed.GetValue(_select) ?? [],
            parsed.GetValue(_open) ?? [],
            parsed.GetValue(_set) ?? [],
            parsed.GetValue(_unpicked),
            parsed.GetValue(_view),
            client,
            cancellation
        );
}
