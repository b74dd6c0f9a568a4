using System.Globalization;
using System.Text.Json;
using Weir.Core.Results;
using Weir.Service;

namespace Weir.Cli;

/// <summary>Reads --select tile=value into selections as they travel.</summary>
internal static class Picks
{
    /// <summary>The option --open tile=member.</summary>
    public static System.CommandLine.Option<string[]> OpenOption() => new("--open") { Description = "Open the level below a member of a tile's hierarchy: tile=member. Several times for further levels." };

    /// <summary>
    /// Values of one tile join; a tile grouped by two fields takes value,value. "not given" and "all others" are members too.
    /// tile!=value means all but it; on a tile for ranges from..to, both included, and on dates a period too; on a search a piece of text.
    /// </summary>
    private static async Task<Dictionary<string, JsonElement>> Read(IReadOnlyList<string> written, IReadOnlyList<string> opened, DashboardPage page, Client client, CancellationToken cancellation)
    {
        var picks = new Dictionary<string, Dictionary<string, object?>>();
        (TileInfo Tile, Dictionary<string, object?> Pick) Of(string name)
        {
            var tile = page.Tabs.SelectMany(t => t.Tiles).FirstOrDefault(t => t.Name == name)
                ?? throw new Refusal($"There is no tile {name} on this dashboard. (unknown-tile)", $"weir list {page.Name} names them.");
            if (!picks.TryGetValue(name, out var pick))
                picks[name] = pick = new() { ["members"] = new List<object?[]>() };
            return (tile, pick);
        }
        foreach (var step in opened)
        {
            var equals = step.IndexOf('=');
            if (equals <= 0)
                throw new Refusal($"'{step}' opens nothing.", "Write --open tile=member.", ExitCode.Usage);
            var (tile, pick) = Of(step[..equals]);
            if (pick.TryGetValue("path", out var before) is false)
                pick["path"] = before = new List<object?>();
            var path = (List<object?>)before!;
            if (path.Count >= tile.Levels.Count - 1)
                throw new Refusal($"The tile {tile.Name} has {tile.Levels.Count} level{(tile.Levels.Count == 1 ? "" : "s")}.", exitCode: ExitCode.Usage);
            path.Add(Value(tile.Levels[path.Count], step[(equals + 1)..]));
        }
        foreach (var pick in written)
        {
            var equals = pick.IndexOf('=');
            var excludes = equals > 1 && pick[equals - 1] == '!';
            if (equals <= 0)
                throw new Refusal($"'{pick}' is no selection.", "Write --select tile=value, or tile!=value for all but it.", ExitCode.Usage);
            var (tile, entry) = Of(pick[..(excludes ? equals - 1 : equals)]);
            var value = pick[(equals + 1)..];
            if (excludes)
                entry["exclude"] = true;
            if (tile.Pick == "text")
                entry["contains"] = value;
            else if (tile.Pick == "range" && value.Split("..") is [var from, var to])
                entry["range"] = new { from = End(tile.By[0], from, false), to = End(tile.By[0], to, true) };
            else if (tile.Pick == "range" && Core.Expressions.RelativePeriod.Parse(value) is not null)
                entry["period"] = value;
            else if (value == Labels.Rest && tile.HasRest)
                entry["restOf"] = await Shown(page.Name, tile.Name, client, cancellation);
            else
            {
                var depth = entry.GetValueOrDefault("path") is List<object?> path ? path.Count : 0;
                ((List<object?[]>)entry["members"]!).Add(depth > 0 ? [Value(tile.Levels[depth], value)] : Member(tile, value));
            }
        }
        return picks.ToDictionary(p => p.Key, p => JsonSerializer.SerializeToElement(p.Value, Client.Json));
    }

    /// <summary>The end of a range as it travels: null if open; the last day that counts becomes the first that does not.</summary>
    private static object? End(FieldInfo field, string text, bool isLast)
    {
        if (text.Length == 0)
            return null;
        if (field.Kind is not ("date" or "timestamp"))
            return Value(field, text);
        if (!isLast || text.Length > 10)
            return text;
        return DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)
            ? day.AddDays(1).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
            : throw new Refusal($"'{text}' is no day. (wrong-type)", "Write it as 2025-03-31.", ExitCode.Usage);
    }

    /// <summary>The option --set name=value.</summary>
    public static System.CommandLine.Option<string[]> SetOption() => new("--set") { Description = "Set a parameter: name=value. Several times for a list; name= empties it." };

    /// <summary>The option --unpicked.</summary>
    public static System.CommandLine.Option<bool> UnpickedOption() => new("--unpicked") { Description = "Begin with nothing picked, not with what the dashboard opens with." };

    /// <summary>The dashboard as its parameters have it drawn.</summary>
    private static Task<DashboardPage> Page(string path, InputsRequest? inputs, Client client, CancellationToken cancellation) => client.Get<DashboardPage>(path + AsSet(inputs), cancellation);

    /// <summary>Parameters as an address carries them.</summary>
    public static string AsSet(InputsRequest? inputs) => inputs is null ? "" : $"?set={Uri.EscapeDataString(JsonSerializer.Serialize(inputs.Parameters, Client.Json))}";

    /// <summary>The dashboard as it opens for who is signed in, and what is picked and set in place of that with --select, --open and --set.</summary>
    public static async Task<(DashboardPage Page, Dictionary<string, JsonElement> Picks, InputsRequest? Inputs)> Open(
        string path, string[] select, string[] open, string[] set, bool unpicked, Client client, CancellationToken cancellation)
    {
        var inputs = Inputs(set);
        var page = await Page(path, inputs, client, cancellation);
        var begin = new Dictionary<string, JsonElement>();
        if (!unpicked && (page.HasOpening || page.View.Keeps is not null))
        {
            var opening = await client.Send<OpeningAnswer>(HttpMethod.Post, $"{path}/opening", new OpeningRequest(null, inputs), cancellation);
            begin = opening.Selections.ToDictionary();
            if (inputs is null && opening.Parameters.Count > 0)
            {
                inputs = new InputsRequest(opening.Parameters.ToDictionary(), null);
                page = await Page(path, inputs, client, cancellation);
            }
        }
        foreach (var (tile, pick) in await Read(select, open, page, client, cancellation))
            begin[tile] = pick;
        return (page, begin, inputs);
    }

    /// <summary>Reads --set name=value into parameters as they travel; the zone is the workspace's.</summary>
    private static InputsRequest? Inputs(IReadOnlyList<string> written)
    {
        if (written.Count == 0)
            return null;
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
        return new InputsRequest(set.ToDictionary(s => s.Key, s => (IReadOnlyList<string>)s.Value), null);
    }

    private static object?[] Member(TileInfo tile, string written)
    {
        var texts = tile.By.Count <= 1 ? [written] : written.Split(',');
        if (texts.Length != tile.By.Count)
            throw new Refusal($"A member of {tile.Name} has {tile.By.Count} values: {string.Join(", ", tile.By.Select(b => b.Name))}.", "Write them with commas between.", ExitCode.Usage);
        return [.. texts.Select((t, i) => Value(tile.By[i], t))];
    }

    /// <summary>A value of a field: its code, or the name of one.</summary>
    private static object? Value(FieldInfo field, string written)
    {
        var text = field.Names is { } names && !names.ContainsKey(written) && names.FirstOrDefault(n => n.Value == written) is { Key: { } code } ? code : written;
        return Coded(field, text);
    }

    private static object? Coded(FieldInfo field, string text) => text == Labels.NotGiven ? null : field.Kind switch
    {
        "integer" or "decimal" or "float" => decimal.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var number)
            ? number : throw new Refusal($"{field.Name} is {field.Kind}; '{text}' is not. (wrong-type)", exitCode: ExitCode.Usage),
        "date" or "timestamp" when field.At is { } at && Period(at, text) is { } begins => begins,
        "boolean" => text is "yes" or "true" ? true : text is "no" or "false" ? false : throw new Refusal($"{field.Name} is yes or no; '{text}' is neither. (wrong-type)", exitCode: ExitCode.Usage),
        _ => text,
    };

    /// <summary>The first day of a period as it is written in a table: 2024, Q1 2024, Jan 2024, week of 3 Mar 2025, 3 Mar 2025; null if the text is none.</summary>
    internal static string? Period(string at, string text)
    {
        string? Read(string written, params string[] forms) => DateOnly.TryParseExact(written, forms, CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) ? day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) : null;
        return at switch
        {
            "year" => Read(text, "yyyy"),
            "quarter" when text is ['Q', >= '1' and <= '4', ' ', ..] => Read($"{((text[1] - '1') * 3) + 1} {text[3..]}", "M yyyy"),
            "month" => Read(text, "MMM yyyy"),
            "week" when text.StartsWith("week of ", StringComparison.Ordinal) => Read(text[8..], "d MMM yyyy"),
            "day" => Read(text, "d MMM yyyy"),
            _ => null,
        };
    }

    /// <summary>The rest is what is not in those shown, so those shown must be known.</summary>
    private static async Task<List<object?[]>> Shown(string dashboard, string tile, Client client, CancellationToken cancellation)
    {
        await foreach (var result in client.Lines<TileResult>($"api/dashboards/{Uri.EscapeDataString(dashboard)}/results", new ResultsRequest([tile], null), cancellation))
        {
            var table = result.Table ?? throw new Refusal(result.Problem!.Detail, result.Problem.Remedy);
            var rest = table.Columns.ToList().FindIndex(c => c.Role == "rest");
            return [.. Enumerable.Range(0, table.Values[0].Length).Where(r => table.Values[rest][r] is not JsonElement { ValueKind: JsonValueKind.True }).Select(r => table.Values[0][r]).DistinctBy(v => v?.ToString()).Select(v => new[] { v })];
        }
        throw new Refusal($"The tile {tile} gave no answer.");
    }
}
