using System.CommandLine;
using System.Globalization;
using System.Text.Json;
using Weir.Core.Expressions;
using Weir.Core.Results;
using Weir.Service;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Commands;

/// <summary>Reads --select tile=value into selections as they travel.</summary>
internal static class Picks
{
    /// <summary>
    /// Values of one tile join; a tile grouped by two fields takes value,value. "not given" and "all others" are members too.
    /// tile!=value means all but it; on a tile for ranges from..to, both included, and on dates a period too, with ,member in one picture
    /// of a tile that is repeated; on a search a piece of text.
    /// </summary>
    private static async Task<Dictionary<string, JsonElement>> Read(
        IReadOnlyList<string> written,
        IReadOnlyList<string> opened,
        DashboardPage page,
        MemberBook book
    )
    {
        var picks = new Entries(page);
        foreach (var step in opened)
            await ReadOpened(picks, step, book);
        foreach (var pick in written)
            await ReadPicked(picks, pick, book);
        return picks.Travelling();
    }

    /// <summary>What is picked on each tile, as it is put together.</summary>
    private sealed class Entries(DashboardPage page)
    {
        private readonly Dictionary<string, Dictionary<string, object?>> _picks = [];

        public (TileInfo Tile, Dictionary<string, object?> Pick) Of(string name)
        {
            var tile =
                page.Tabs.SelectMany(t => t.Tiles).FirstOrDefault(t => t.Name == name)
                ?? throw new Refusal($"There is no tile {name} on this dashboard. (unknown-tile)", $"weir list {page.Name} names them.");
            if (!_picks.TryGetValue(name, out var pick))
                _picks[name] = pick = new() { ["members"] = new List<object?[]>() };
            return (tile, pick);
        }

        public Dictionary<string, JsonElement> Travelling() => _picks.ToDictionary(p => p.Key, p => ClientJson.Element(p.Value));
    }

    /// <summary>Reads --open tile=member.</summary>
    private static async Task ReadOpened(Entries picks, string step, MemberBook book)
    {
        var equals = step.IndexOf('=');
        if (equals <= 0)
            throw new Refusal($"'{step}' opens nothing.", "Write --open tile=member.", ExitCode.Usage);
        var (tile, pick) = picks.Of(step[..equals]);
        if (pick.TryGetValue("path", out var before) is false)
            pick["path"] = before = new List<object?>();
        var path = (List<object?>)before!;
        if (path.Count >= tile.Levels.Count - 1)
            throw new Refusal(
                $"The tile {tile.Name} has {tile.Levels.Count} level{(tile.Levels.Count == 1 ? "" : "s")}.",
                exitCode: ExitCode.Usage
            );
        path.Add((await book.Read(tile, [tile.Levels[path.Count]], [.. path], [step[(equals + 1)..]]))[0]);
    }

    /// <summary>Reads --select tile=value.</summary>
    private static async Task ReadPicked(Entries picks, string pick, MemberBook book)
    {
        var equals = pick.IndexOf('=');
        var excludes = equals > 1 && pick[equals - 1] == '!';
        if (equals <= 0)
            throw new Refusal($"'{pick}' is no selection.", "Write --select tile=value, or tile!=value for all but it.", ExitCode.Usage);
        var (tile, entry) = picks.Of(pick[..(excludes ? equals - 1 : equals)]);
        var value = pick[(equals + 1)..];
        if (excludes)
            entry["exclude"] = true;
        if (tile.Pick == "text")
            entry["contains"] = value;
        else if (tile.Pick == "range" && RangeOf(tile, value) is { } range)
        {
            entry[range.Key] = range.Value;
            // A range in all pictures is of no one member.
            if (range.Each is not { } member)
                return;
            if (!entry.TryGetValue("each", out var each))
                entry["each"] = each = new List<object?>();
            ((List<object?>)each!).Add((await book.Read(tile, [tile.By[^1]], [], [member]))[0]);
        }
        else if (value == Labels.Rest && tile.HasRest)
            entry["restOf"] = await book.Shown(tile);
        else
        {
            var path = entry.GetValueOrDefault("path") as List<object?> ?? [];
            ((List<object?[]>)entry["members"]!).Add(
                path.Count > 0
                    ? await book.Read(tile, [tile.Levels[path.Count]], path, [value])
                    : await book.Read(tile, tile.By, [], Texts(tile, value))
            );
        }
    }

    /// <summary>
    /// A range or a period as it is written, and, on a tile that is repeated, the member in whose picture it lies, if not in all; null for
    /// what is neither.
    /// </summary>
    private static (string Key, object Value, string? Each)? RangeOf(TileInfo tile, string written)
    {
        var comma = tile.Repeats ? written.IndexOf(',') : -1;
        var (along, each) = comma < 0 ? (written, null) : (written[..comma], written[(comma + 1)..]);
        return along.Split("..") is [var from, var to] ? ("range", MemberText.Range(tile.By[0], from, to), each)
            : RelativePeriod.Parse(along) is not null ? ("period", along, each)
            : null;
    }

    /// <summary>The option --set name=value.</summary>
    public static System.CommandLine.Option<string[]> SetOption() =>
        new("--set") { Description = "Set a parameter: name=value. Several times for a list; name= empties it." };

    /// <summary>The dashboard as its parameters have it drawn.</summary>
    private static Task<DashboardPage> Page(string path, ViewingRequest? viewing, Client client, CancellationToken cancellation) =>
        client.Get<DashboardPage>(path + AsSet(viewing), cancellation);

    /// <summary>Parameters and view as an address carries them.</summary>
    public static string AsSet(ViewingRequest? viewing)
    {
        string?[] parts =
        [
            viewing?.Parameters is { } set ? $"set={Uri.EscapeDataString(ClientJson.Text(set))}" : null,
            viewing?.View is { } view ? $"view={Uri.EscapeDataString(view)}" : null,
        ];
        return parts.OfType<string>().ToList() is { Count: > 0 } query ? "?" + string.Join('&', query) : "";
    }

    public static Option<string?> ViewOption() =>
        new("--view") { Description = "One of your views, by the name that weir view list gives; my for the one without a name." };

    /// <summary>What --view says, as it travels: null for the view that opens first.</summary>
    public static string? View(string? written) => written == "my" ? "" : written;

    /// <summary>The dashboard as it opens for who is signed in, and what is picked and set in place of that with --select, --open and --set.</summary>
    public static async Task<(DashboardPage Page, Dictionary<string, JsonElement> Picks, ViewingRequest? Viewing)> Open(
        string path,
        string[] select,
        string[] open,
        string[] set,
        bool unpicked,
        string? view,
        Client client,
        CancellationToken cancellation
    )
    {
        var viewing = Viewing(set, View(view));
        var page = await Page(path, viewing, client, cancellation);
        var begin = new Dictionary<string, JsonElement>();
        if (!unpicked && (page.HasOpening || page.View.Keeps is not null))
        {
            var opening = await client.Send<OpeningAnswer>(
                HttpMethod.Post,
                $"{path}/opening",
                new OpeningRequest(null, viewing),
                cancellation
            );
            begin = opening.Selections.ToDictionary();
            if (viewing?.Parameters is null && opening.Parameters.Count > 0)
            {
                viewing = new ViewingRequest(opening.Parameters.ToDictionary(), null, viewing?.View);
                page = await Page(path, viewing, client, cancellation);
            }
        }
        foreach (var (tile, pick) in await Read(select, open, page, new MemberBook(page.Name, viewing, client, cancellation)))
            begin[tile] = pick;
        return (page, begin, viewing);
    }

    /// <summary>Reads --set name=value into parameters as they travel; the zone is the workspace's.</summary>
    private static ViewingRequest? Viewing(IReadOnlyList<string> written, string? view)
    {
        if (written.Count == 0)
            return view is null ? null : new ViewingRequest(null, null, view);
        return new ViewingRequest(Parameters(written), null, view);
    }

    /// <summary>The values of --set by parameter; an empty list empties one.</summary>
    public static Dictionary<string, IReadOnlyList<string>> Parameters(IReadOnlyList<string> written)
    {
        var set = new Dictionary<string, List<string>>();
        foreach (var item in written)
        {
            var equals = item.IndexOf('=');
            if (equals <= 0)
                throw new Refusal($"'{item}' sets nothing.", "Write --set name=value.", ExitCode.Usage);
            if (!set.TryGetValue(item[..equals], out var values))
                set[item[..equals]] = values = [];
            if (equals + 1 < item.Length)
                values.Add(item[(equals + 1)..]);
        }
        return set.ToDictionary(s => s.Key, s => (IReadOnlyList<string>)s.Value);
    }

    /// <summary>The values of a member, with commas between where a tile is grouped by several fields.</summary>
    private static string[] Texts(TileInfo tile, string written)
    {
        var texts = tile.By.Count <= 1 ? [written] : written.Split(',');
        return texts.Length == tile.By.Count
            ? texts
            : throw new Refusal(
                $"A member of {tile.Name} has {tile.By.Count} values: {string.Join(", ", tile.By.Select(b => b.Name))}.",
                "Write them with commas between.",
                ExitCode.Usage
            );
    }
}
