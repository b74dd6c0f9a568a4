using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using Weir.Core.Interaction;
using Weir.Service.Api;
using Weir.Service.Asking;

namespace Weir.Service.Exports;

/// <summary>The address of a dashboard's page in a state, behind the host, as the console reads it: a state, and no right.</summary>
internal static class PageAddress
{
    private const int Longest = 8000;

    /// <summary>Every part is escaped for an address: escaping it for a page as well would only make it longer.</summary>
    private static readonly JsonSerializerOptions Plain = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>The page as it opens.</summary>
    public static string Of(string dashboard) => $"/d/{Uri.EscapeDataString(dashboard)}";

    /// <summary>The page in the state in which something of it is taken along.</summary>
    /// <param name="selections">All that is picked; a relative period stays relative.</param>
    public static string Of(OpenDashboard open, ExportRequest request, IReadOnlyList<Selection> selections)
    {
        var page = Of(open.Dashboard.Name);
        var picked = selections.Where(s => !s.IsEmpty || s.Path.Count > 0).ToList();
        var opens = open.Arrangement.Tiles.Any(t => t.Tile.Opening is not null);
        string?[] parts =
        [
            request.Viewing?.View is { Length: > 0 } view ? Part("view", view) : null,
            TabOf(open, request) is { } tab ? Part("tab", tab) : null,
            // Where nothing is said of picks, the page has what it opens with.
            picked.Count > 0
            || opens
                ? Part(
                    "pick",
                    new JsonObject(picked.Select(s => KeyValuePair.Create<string, JsonNode?>(s.Tile, Openings.Write(s)))).ToJsonString(
                        Plain
                    )
                )
                : null,
            request.Viewing?.Parameters is { Count: > 0 } set ? Part("set", JsonSerializer.Serialize(set, Plain)) : null,
        ];
        var address = parts.OfType<string>().ToList() is { Count: > 0 } query ? $"{page}?{string.Join('&', query)}" : page;
        // Whoever follows one that is too long for a browser sees nothing at all.
        return address.Length <= Longest ? address : page;
    }

    /// <summary>An address of the dashboard's own page, as the console has it.</summary>
    /// <exception cref="ProblemException">It is none.</exception>
    public static string Checked(string link, string dashboard) =>
        link.Length <= Longest
        && !link.Any(char.IsControl)
        && Of(dashboard) is var page
        && (link == page || link.StartsWith(page + "?", StringComparison.Ordinal))
            ? link
            : throw new ProblemException(422, "bad-link", "The address is none of this dashboard.");

    private static string Part(string name, string text) => $"{name}={Uri.EscapeDataString(text)}";

    /// <summary>The tab on which what is taken along begins; null for the one that opens.</summary>
    private static string? TabOf(OpenDashboard open, ExportRequest request)
    {
        var tabs = open.Arrangement.Tabs;
        var first =
            request.Tiles is [var tile, ..] ? tabs.FirstOrDefault(t => t.Tiles.Any(p => p.Tile.Name == tile))
            : request.Tabs is [var tab, ..] ? tabs.FirstOrDefault(t => t.Name == tab)
            : null;
        return first is null || first == tabs[0] ? null : first.Name;
    }
}
