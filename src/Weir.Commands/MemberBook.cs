using System.Text.Json;
using Weir.Core.Expressions;
using Weir.Core.Results;
using Weir.Service;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Commands;

/// <summary>The members that the tiles of a dashboard have now, for reading what was written for them.</summary>
internal sealed class MemberBook(string dashboard, ViewingRequest? viewing, Client client, CancellationToken cancellation)
{
    private readonly Dictionary<string, Members> _known = [];

    /// <summary>The members of a tile at an opened level, each with its labels.</summary>
    /// <param name="IsWhole">True if these are all.</param>
    private sealed record Members(
        IReadOnlyList<Column> Columns,
        IReadOnlyList<(IReadOnlyList<object?> Values, IReadOnlyList<string> Labels)> All,
        bool IsWhole
    );

    /// <summary>Reads the values of one member, by code or by name: of all fields of a tile, of the last ones, or of an opened level.</summary>
    /// <param name="path">The members opened above it.</param>
    public async Task<object?[]> Read(
        TileInfo tile,
        IReadOnlyList<FieldInfo> fields,
        IReadOnlyList<object?> path,
        IReadOnlyList<string> written
    )
    {
        var values = new object?[fields.Count];
        for (var i = 0; i < fields.Count; i++)
            values[i] =
                fields[i] is { IsNamed: true } && written[i] != Labels.NotGiven
                    ? await Named(tile, fields, path, i, written[i])
                    : MemberText.Value(fields[i], written[i]);
        await NoteMiss(tile, fields, path, values, written);
        return values;
    }

    /// <summary>The rest is what is not in those shown, so those shown must be known.</summary>
    public async Task<List<object?[]>> Shown(TileInfo tile)
    {
        var known = await Of(tile, []);
        return [.. known.All.Select(m => m.Values[0]).DistinctBy(v => v?.ToString()).Select(v => new[] { v })];
    }

    private async Task<object?> Named(TileInfo tile, IReadOnlyList<FieldInfo> fields, IReadOnlyList<object?> path, int at, string written)
    {
        var field = fields[at];
        if (
            field.Names is { } names
            && (names.ContainsKey(written) ? written : names.FirstOrDefault(n => n.Value == written).Key) is { } code
        )
            return MemberText.Value(field, code);
        var known = await Of(tile, fields, path);
        List<(object? Value, string Label)> members =
        [
            .. known.All.Where(m => at < m.Values.Count).Select(m => (m.Values[at], m.Labels[at])).DistinctBy(m => m.Item2),
        ];
        if (!known.IsWhole && fields.Count == 1)
            members.AddRange(await Found(tile, written, known.Columns[0]));
        if (members.FirstOrDefault(m => m.Value?.ToString() == written) is { Value: { } byCode })
            return byCode;
        if (members.Where(m => m.Label == written).Select(m => m.Value).FirstOrDefault() is { } byName)
            return byName;
        // Several of one name carry their keys.
        var alike = members.Where(m => m.Label == $"{written} ({m.Value})").Select(m => m.Label).Distinct().ToList();
        if (alike.Count > 0)
            throw new Refusal(
                $"Several members of {tile.Name} are called {written}: {string.Join(", ", alike)}.",
                "Write one of them with its key, or the key alone."
            );
        try
        {
            return MemberText.Value(field, written);
        }
        catch (Refusal)
        {
            throw new Refusal(
                $"{tile.Name} has no member {written} now. (unknown-member)",
                Nearest.Remedy(written, members.Select(m => m.Label))
            );
        }
    }

    /// <summary>Says so if a member has no rows: figures of nothing are right, and yet hardly what was meant.</summary>
    private async Task NoteMiss(
        TileInfo tile,
        IReadOnlyList<FieldInfo> fields,
        IReadOnlyList<object?> path,
        object?[] values,
        IReadOnlyList<string> written
    )
    {
        var known = await Of(tile, fields, path);
        bool Is(IReadOnlyList<object?> member) =>
            values.Select((v, i) => i < member.Count && MemberText.AreSame(v, member[i])).All(same => same);
        if (
            known.All.Any(m => Is(m.Values))
            || !known.IsWhole
                && (
                    fields.Count > 1
                    || values[0] is not string text
                    || (await Found(tile, text, known.Columns[0])).Any(m => MemberText.AreSame(m.Value, values[0]))
                )
        )
            return;
        var labels = known.All.Select(m => string.Join(",", m.Labels.Take(fields.Count))).Distinct();
        Output.Note(
            $"{tile.Name} has no member {string.Join(",", written)} now.{(Nearest.Remedy(string.Join(",", written), labels) is { } remedy ? $" {remedy}" : "")}"
        );
    }

    /// <summary>Members of a control that contain a text; none where the tile is none that is searched.</summary>
    private async Task<IEnumerable<(object? Value, string Label)>> Found(TileInfo tile, string text, Column column)
    {
        if (text.Length > 200)
            return [];
        try
        {
            var found = await client.Send<MembersAnswer>(
                HttpMethod.Post,
                $"api/dashboards/{Uri.EscapeDataString(dashboard)}/tiles/{Uri.EscapeDataString(tile.Name)}/members",
                new MembersRequest(null, text, viewing),
                cancellation
            );
            return found
                .Members.Select(m => (Value: RunCommand.Read(m, column), Column: column with { Names = found.Names }))
                .Select(m => (m.Value, Labels.Write(m.Value, m.Column)));
        }
        catch (Refusal refused) when (refused.Message.Contains("(not-searchable)", StringComparison.Ordinal))
        {
            return [];
        }
    }

    /// <summary>The members as far as some fields of a tile tell them.</summary>
    private async Task<Members> Of(TileInfo tile, IReadOnlyList<FieldInfo> fields, IReadOnlyList<object?> path)
    {
        var known = await Of(tile, path);
        var before = path.Count > 0 ? 0 : Math.Max(0, tile.By.ToList().IndexOf(fields[0]));
        return before == 0
            ? known
            : known with
            {
                Columns = [.. known.Columns.Skip(before)],
                All =
                [
                    .. known.All.Select(m =>
                        ((IReadOnlyList<object?>)[.. m.Values.Skip(before)], (IReadOnlyList<string>)[.. m.Labels.Skip(before)])
                    ),
                ],
            };
    }

    private async Task<Members> Of(TileInfo tile, IReadOnlyList<object?> path)
    {
        var key = $"{tile.Name} {ClientJson.Text(path)}";
        if (_known.TryGetValue(key, out var known))
            return known;
        Dictionary<string, JsonElement>? opened = path.Count == 0 ? null : new() { [tile.Name] = ClientJson.Element(new OpenedPath(path)) };
        await foreach (
            var result in client.Lines<TileResult>(
                $"api/dashboards/{Uri.EscapeDataString(dashboard)}/results",
                new ResultsRequest([tile.Name], opened, viewing),
                cancellation
            )
        )
        {
            var table = result.Table ?? throw new Refusal(result.Problem!.Detail, result.Problem.Remedy);
            List<Column> columns = [.. table.Columns.Select(RunCommand.Column)];
            var groups = columns.Select((c, i) => (Column: c, At: i)).Where(c => c.Column.Role == ColumnRole.Group).ToList();
            var rest = columns.FindIndex(c => c.Role == ColumnRole.Rest);
            var rows = Enumerable
                .Range(0, table.Values.Count == 0 ? 0 : table.Values[0].Length)
                .Where(r => rest < 0 || RunCommand.Read(table.Values[rest][r], columns[rest]) is not true);
            var all = rows.Select(r => groups.Select(g => RunCommand.Read(table.Values[g.At][r], g.Column)).ToList())
                .Select(m => ((IReadOnlyList<object?>)m, (IReadOnlyList<string>)[.. m.Select((v, i) => Labels.Write(v, groups[i].Column))]))
                .ToList();
            // A control for a range or a text shows no members at all.
            return _known[key] = new Members(
                [.. groups.Select(g => g.Column)],
                all,
                groups.Count > 0 && !tile.IsTop && result.Lines <= (table.Values.Count == 0 ? 0 : table.Values[0].Length)
            );
        }
        throw new Refusal($"The tile {tile.Name} gave no answer.");
    }
}
