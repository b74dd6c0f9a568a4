using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>Reads one catalogue: tiles without a place.</summary>
internal static class CatalogueReader
{
    /// <summary>More tiles than anybody looks through.</summary>
    private const int MaximumTiles = 500;

    /// <param name="known">What its tiles may name.</param>
    public static Catalogue Read(YamlText text, YamlMappingNode root, TileSurroundings known)
    {
        var name = text.Name(root, "catalogue");
        var reader = new TileReader(text, known, new TileVariants(text, root));
        var nodes = YamlText.List(root, "tiles").ToList();
        if (nodes.Count > MaximumTiles)
            text.Report(
                "too-many-tiles",
                root,
                $"The catalogue has {nodes.Count} tiles; at most {MaximumTiles} are read.",
                "Make several of it."
            );
        var tiles = new Dictionary<string, Tile>();
        var broken = new HashSet<string>(text.Broken);
        foreach (var node in nodes.Take(MaximumTiles))
        {
            text.Cancellation.ThrowIfCancellationRequested();
            var written = text.Name(node, "tile");
            if (reader.Read(node, written) is not { } tile)
                broken.Add(written);
            else if (!tiles.TryAdd(written, tile with { SharedAs = $"{name}/{written}" }))
                text.Report("name-taken", YamlText.Node(node, "tile")!, $"There are two tiles {written} in this catalogue.");
        }
        return new Catalogue(
            name,
            YamlText.Value(root, "title") ?? Titles.FromName(name),
            YamlText.Value(root, "description"),
            [.. tiles.Values]
        )
        {
            Broken = broken,
        };
    }

    /// <summary>The tiles of a dashboard as a catalogue; words, and what stands in a side panel, mean something there only and are left out.</summary>
    public static Catalogue Of(Dashboard dashboard) =>
        new(
            dashboard.Name,
            dashboard.Title,
            dashboard.Description,
            [
                .. dashboard
                    .Tiles.Where(t => t.Dataset is not null && !t.IsInPanel)
                    .Select(t =>
                        t.Changed(x =>
                            x with
                            {
                                SharedAs = $"{dashboard.Name}/{x.Name}",
                                Section = null,
                                Group = null,
                                Drives = new Reach("tab", []),
                                Follows = new Reach("all", []),
                                May = Changes.All,
                            }
                        )
                    ),
            ]
        )
        {
            OfDashboard = dashboard.Name,
        };
}
