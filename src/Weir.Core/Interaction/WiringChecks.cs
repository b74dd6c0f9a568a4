using Weir.Core.Definitions;

namespace Weir.Core.Interaction;

/// <summary>Warns of wiring that can be read but is hardly meant; the last step of checking a dashboard.</summary>
internal static class WiringChecks
{
    /// <summary>What is allowed, and yet hardly meant.</summary>
    public static void Report(WrittenDashboard written, IReadOnlyDictionary<string, Dataset> datasets)
    {
        var (dashboard, text, nodes) = written;
        var map = WiringMap.AsPublished(dashboard, datasets);
        foreach (var tile in dashboard.Tiles.Where(t => t.Dataset is not null && t.Follows.Kind != "none"))
        {
            text.Cancellation.ThrowIfCancellationRequested();
            var (any, reached, onlyUnlinked) = (false, false, true);
            foreach (var wire in map.To(tile))
            {
                any = true;
                onlyUnlinked &= wire.Refusal == NotAppliedReason.NoCounterpart;
                if (reached = wire.Refusal is null)
                    break;
            }
            if (any && !reached)
                text.Report(
                    "never-filtered",
                    nodes[tile.Name],
                    $"No selection ever filters {tile.Name}: "
                        + $"{(onlyUnlinked ? "its dataset has no field that means what is picked elsewhere" : "nothing that can be picked reaches it")}.",
                    "If that is meant, say follows: none; fields of several datasets are linked by the same concept.",
                    Severity.Warning
                );
        }
        var listing = dashboard.Tiles.Where(t => t.Drives.Kind == "list").DistinctBy(t => t.Name).ToDictionary(t => t.Name);
        foreach (var tile in listing.Values)
        foreach (
            var other in tile
                .Drives.Tiles.Where(o => string.CompareOrdinal(tile.Name, o) < 0)
                .Select(o => listing.GetValueOrDefault(o))
                .OfType<Tile>()
                .Where(o => o.Drives.Kind == "list" && o.Drives.Tiles.Contains(tile.Name))
        )
            text.Report(
                "drives-both-ways",
                YamlText.Node(nodes[tile.Name], "drives")!,
                $"{tile.Name} and {other.Name} drive each other: what is picked on one narrows what the other offers, and the other way round.",
                "If that is not meant, take one of them out.",
                Severity.Warning
            );
    }
}
