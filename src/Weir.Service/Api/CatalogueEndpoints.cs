using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Pictures;
using Weir.Core.Views;
using Weir.Service.Asking;

namespace Weir.Service.Api;

/// <summary>What viewers may add to a dashboard, and how they may have its tiles drawn.</summary>
internal static class CatalogueEndpoints
{
    public static void MapCatalogues(this RouteGroupBuilder api)
    {
        api.MapGet(
                "/dashboards/{dashboard}/catalogues",
                (string dashboard, string? set, string? view, Asker asker) =>
                    Catalogues(asker.OpenAsSet(dashboard, set, view, withCatalogues: true))
            )
            .WithName("listCatalogues")
            .WithSummary("The catalogues that the viewer may add tiles from to a dashboard, with the tiles that the viewer may see.");

        api.MapGet(
                "/dashboards/{dashboard}/tiles/{tile}/drawings",
                (string dashboard, string tile, string? set, string? view, Asker asker) =>
                    Drawings(asker.OpenAsSet(dashboard, set, view), tile)
            )
            .WithName("listDrawings")
            .WithSummary("How a tile is drawn, and how else the viewer may have it drawn: kinds of picture, measures, fields.");
    }

    private static IEnumerable<CatalogueInfo> Catalogues(OpenDashboard open) =>
        open.MayMove && open.Undrawn.May.HasFlag(Changes.Add)
            ? open.Dashboard.Catalogues.Select(c => new CatalogueInfo(
                c.Name,
                c.Title,
                c.Description,
                [
                    .. c.Tiles.Select(t => new SharedTileInfo(
                        t.SharedAs!,
                        TileInfo.Of(
                            new ArrangedTile(t with { Name = OpenDashboard.PreviewName(t.SharedAs!) }, ViewFold.SizeOf(t), Hidden: false),
                            open
                        )
                    )),
                ]
            ))
            : [];

    private static DrawingChoices Drawings(OpenDashboard open, string name)
    {
        var tile = open.Tile(name);
        if (!Redrawing.CanChange(tile))
            throw new ProblemException(422, "cannot-draw", "Words are not drawn otherwise.");
        var defined = open.Drawn.Defined.GetValueOrDefault(name, tile);
        var scope = open.ScopeOf(tile);
        // The field across is one more of those that it is grouped by, unless the tile has one for that already.
        int More(PictureKind kind) => kind.NeedsEach && !tile.Repeats ? 1 : 0;
        string? Unfit(PictureKind kind) => Redrawing.Of(tile, new Drawing(kind.Name), scope).Reason;
        return new DrawingChoices(
            Written(tile),
            Written(defined),
            [
                .. PictureKinds
                    .All.Where(k => k.HasData && k.IsControl == defined.Picture.IsControl)
                    .Select(k => new KindChoice(
                        k.Name,
                        k.Summary,
                        k.Show.Least,
                        k.Show.Most,
                        k.By.Least + More(k),
                        k.By.Most + More(k),
                        k.CanSplit,
                        k.OfMembers.Contains(KeysOfMembers.Top),
                        k.OfMembers.Contains(KeysOfMembers.Sort),
                        k.Own.Any(o => o.IsNeeded)
                            ? Unfit(k)
                            : Redrawing.Unfit(k, tile.Show, tile.ByOfEach, tile.Split, scope, k.Show.OrKey is null ? null : tile.Of)
                    )),
            ],
            [.. scope.Measures.Values.Select(m => new NamedChoice(m.Name, m.Title, m.Description))],
            [.. scope.Fields.Values.Select(f => FieldChoice.Of(f, scope))]
        );
    }

    /// <summary>A tile's drawing with nothing left out.</summary>
    private static Drawing Written(Tile tile) =>
        new(
            tile.Picture.Name,
            tile.Show,
            [.. tile.ByOfEach.Select(b => b.ToString())],
            tile.Split?.ToString() ?? "",
            tile.Sort?.By ?? "",
            tile.Sort is { Descending: true },
            tile.Top?.Count ?? 0,
            tile.Top is { Rest: true }
        );
}

/// <summary>A catalogue with what the viewer may add from it.</summary>
public sealed record CatalogueInfo(string Name, string Title, string? Description, IReadOnlyList<SharedTileInfo> Tiles);

/// <summary>A tile of a catalogue.</summary>
/// <param name="Shared">What the edit add-tile names, and results can be asked for as a preview.</param>
/// <param name="Tile">How it is drawn; its name is that of its preview.</param>
public sealed record SharedTileInfo(string Shared, TileInfo Tile);

/// <summary>How a tile is drawn, and how else it may be.</summary>
/// <param name="Now">As it is drawn now.</param>
/// <param name="Defined">As its developer has it.</param>
/// <param name="Kinds">Every kind of picture that it could become, those too that do not fit it as it is.</param>
public sealed record DrawingChoices(
    Drawing Now,
    Drawing Defined,
    IReadOnlyList<KindChoice> Kinds,
    IReadOnlyList<NamedChoice> Measures,
    IReadOnlyList<FieldChoice> Fields
);

/// <summary>A kind of picture for a tile.</summary>
/// <param name="LeastShow">The fewest measures that it takes.</param>
/// <param name="MostShow">The most measures that it takes.</param>
/// <param name="LeastBy">The fewest fields that it is grouped by.</param>
/// <param name="MostBy">The most fields that it is grouped by.</param>
/// <param name="Unfit">Why it does not fit the tile as it is drawn now; null if it does.</param>
public sealed record KindChoice(
    string Name,
    string Summary,
    int LeastShow,
    int MostShow,
    int LeastBy,
    int MostBy,
    bool CanSplit,
    bool CanTop,
    bool CanSort,
    string? Unfit
);

/// <summary>A measure to choose.</summary>
public sealed record NamedChoice(string Name, string Title, string? Description);

/// <summary>A field to choose.</summary>
/// <param name="Grains">Of a date: its grains and parts, each as it is written after the field.</param>
public sealed record FieldChoice(string Name, string Title, string Kind, IReadOnlyList<ChoiceInfo> Grains)
{
    internal static FieldChoice Of(Field field, Scope scope) =>
        new(
            field.Name,
            field.Title,
            field.Kind.Name(),
            field.Kind.IsTemporal()
                ?
                [
                    .. Calendar
                        .Names.Select(g => new FieldAt(field.Name, g))
                        .Where(at => Fields.At(at, scope) is not null)
                        .Select(at => new ChoiceInfo(at.Member!, Titles.OfField(at, field.Title))),
                ]
                : []
        );
}
