using System.Globalization;
using System.Text.Json;
using Weir.Core.Results;
using Weir.Service;

namespace Weir.Cli;

/// <summary>Reads --select tile=value into selections as they travel.</summary>
internal static class Picks
{
    /// <summary>Values of one tile join; a tile grouped by two fields takes value,value. "not given" and "all others" are members too.</summary>
    public static async Task<Dictionary<string, JsonElement>> Read(IReadOnlyList<string> written, DashboardPage page, Client client, CancellationToken cancellation)
    {
        var picks = new Dictionary<string, (List<object?[]> Members, bool TakesRest)>();
        foreach (var pick in written)
        {
            var equals = pick.IndexOf('=');
            if (equals <= 0)
                throw new Refusal($"'{pick}' is no selection.", "Write --select tile=value.", ExitCode.Usage);
            var name = pick[..equals];
            var tile = page.Tabs.SelectMany(t => t.Tiles).FirstOrDefault(t => t.Name == name)
                ?? throw new Refusal($"There is no tile {name} on this dashboard. (unknown-tile)", $"weir list {page.Name} names them.");
            if (!picks.TryGetValue(name, out var entry))
                picks[name] = entry = ([], false);
            var value = pick[(equals + 1)..];
            if (value == Labels.Rest && tile.HasRest)
                picks[name] = (entry.Members, true);
            else
                entry.Members.Add(Member(tile, value));
        }
        var result = new Dictionary<string, JsonElement>();
        foreach (var (name, (members, rest)) in picks)
            result[name] = JsonSerializer.SerializeToElement(new { members, restOf = rest ? await Shown(page.Name, name, client, cancellation) : null }, Client.Json);
        return result;
    }

    /// <summary>The option --set name=value.</summary>
    public static System.CommandLine.Option<string[]> SetOption() => new("--set") { Description = "Set a parameter: name=value. Several times for a list; name= empties it." };

    /// <summary>Reads --set name=value into parameters as they travel; the zone is the workspace's.</summary>
    public static InputsRequest? Inputs(IReadOnlyList<string> written)
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

    private static object? Value(FieldInfo field, string text) => text == Labels.NotGiven ? null : field.Kind switch
    {
        "integer" or "decimal" or "float" => decimal.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var number)
            ? number : throw new Refusal($"{field.Name} is {field.Kind}; '{text}' is not. (wrong-type)", exitCode: ExitCode.Usage),
        "boolean" => text is "yes" or "true" ? true : text is "no" or "false" ? false : throw new Refusal($"{field.Name} is yes or no; '{text}' is neither. (wrong-type)", exitCode: ExitCode.Usage),
        _ => text,
    };

    /// <summary>The rest is what is not in those shown, so those shown must be known.</summary>
    private static async Task<List<object?[]>> Shown(string dashboard, string tile, Client client, CancellationToken cancellation)
    {
        await foreach (var result in client.Lines<TileResult>($"api/dashboards/{Uri.EscapeDataString(dashboard)}/results", new ResultsRequest([tile], null), cancellation))
        {
            var table = result.Table ?? throw new Refusal(result.Problem!.Detail, result.Problem.Remedy);
            var rest = table.Columns.ToList().FindIndex(c => c.Role == "rest");
            return [.. Enumerable.Range(0, table.Values[0].Length).Where(r => table.Values[rest][r] is not JsonElement { ValueKind: JsonValueKind.True }).Select(r => new[] { table.Values[0][r] })];
        }
        throw new Refusal($"The tile {tile} gave no answer.");
    }
}
