using Weir.Core;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Core.Expressions;
using Weir.Core.Pictures;

namespace Weir.Service.Api;

/// <summary>The kinds of picture as they are declared, for forms that make tiles.</summary>
internal static class PictureEndpoints
{
    public static void MapPictures(this RouteGroupBuilder api)
    {
        api.MapGet("/pictures", () => PictureKinds.All.Select(PictureInfo.Of))
            .WithName("listPictures")
            .WithSummary("The kinds of picture: what each shows, how it is picked, and which keys of a tile it takes.");
        api.MapGet("/tile-keys", () => TileKeys.Value)
            .WithName("listTileKeys")
            .WithSummary(
                "The keys that a tile of a dashboard can have, in the order in which they are written, with what may stand there."
            );
    }

    private static readonly Lazy<IReadOnlyList<DefinitionKeyInfo>> TileKeys = new(() =>
        [.. DesignText.KeysOfTiles(WorkspaceText.Shapes).Select(DefinitionKeyInfo.Of)]
    );
}

/// <summary>A key of a definition and what may stand there.</summary>
/// <param name="Form">
/// text, word (one of <paramref name="Words"/>), whole, flag, list (of texts), parts (a mapping with the keys of <paramref name="Parts"/>),
/// items (a list of what <paramref name="Item"/> is), named (a mapping from names to what <paramref name="Item"/> is), or piece for what may
/// be written in several of these ways.
/// </param>
/// <param name="Words">The words that are possible; of text and lists those that have a meaning of their own.</param>
/// <param name="Least">The least whole number.</param>
/// <param name="Most">The greatest.</param>
/// <param name="Parts">The keys of its parts.</param>
/// <param name="Item">What each item of a list is, or what stands under each name; null for everything else.</param>
public sealed record DefinitionKeyInfo(
    string Name,
    string Doc,
    string Form,
    IReadOnlyList<string> Words,
    int? Least,
    int? Most,
    IReadOnlyList<DefinitionKeyInfo> Parts,
    DefinitionKeyInfo? Item
)
{
    internal static DefinitionKeyInfo Of(Key key) => Of(key.Name, key.Doc, key.Shape);

    private static DefinitionKeyInfo Of(string name, string doc, Shape shape)
    {
        IReadOnlyList<Shape> all = shape is Shape.Either either ? either.Shapes : [shape];
        var item = shape switch
        {
            Shape.ListOf { Item: not Shape.Text } list => list.Item,
            Shape.MapOf map => map.Value,
            _ => null,
        };
        var words = all.OfType<Shape.Text>().SelectMany(t => t.Choices).ToList();
        var whole = all.OfType<Shape.Whole>().FirstOrDefault();
        var form =
            whole is not null ? "whole"
            : all.Any(s => s is Shape.Flag) ? "flag"
            : shape is Shape.Keys ? "parts"
            : item is not null
                ? shape is Shape.MapOf ? "named"
                    : "items"
            : all.Any(s => s is Shape.Keys or Shape.MapOf || s is Shape.ListOf { Item: not Shape.Text }) ? "piece"
            : all.Any(s => s is Shape.ListOf) ? "list"
            : words.Count > 0 ? "word"
            : "text";
        var parts = all.OfType<Shape.Keys>().FirstOrDefault()?.Known ?? [];
        return new DefinitionKeyInfo(
            name,
            doc,
            form,
            words,
            whole?.Minimum,
            whole?.Maximum,
            [.. parts.Select(Of)],
            item is null ? null : Of("", "", item)
        );
    }
}

/// <summary>What a kind of picture takes under a key of a tile.</summary>
/// <param name="Kinds">The types of value that fit; all if there are none.</param>
/// <param name="OrNamed">True if fields whose values are shown by names fit too.</param>
/// <param name="Wanted">What fits, in words.</param>
/// <param name="OrKey">The key that may stand in place of all of them; null if none may.</param>
public sealed record SlotInfo(int Least, int Most, IReadOnlyList<string> Kinds, bool OrNamed, string? Wanted, string? OrKey = null)
{
    internal static SlotInfo Of(Slot slot) =>
        new(slot.Least, slot.Most, [.. slot.Kinds.Select(k => k.Name())], slot.OrNamed, slot.Wanted, slot.OrKey);
}

/// <summary>A key of tiles that a kind of picture takes.</summary>
public sealed record KeyInfo(string Name, string Doc);

/// <summary>A key of tiles that only one kind of picture has.</summary>
public sealed record OwnKeyInfo(string Name, string Doc, bool IsNeeded);

/// <summary>A kind of picture.</summary>
/// <param name="Pick">How it is picked where the tile does not say: none, one, many, range or text.</param>
/// <param name="PicksOneWay">True if it can be picked in no other way.</param>
/// <param name="IsControl">True if it shows no figures and only filters; such tiles may stand in the side panel.</param>
/// <param name="OfMembers">The keys about members that it takes: top, sort, drill.</param>
/// <param name="PlacedMeasures">So many of the first measures have a meaning by their place.</param>
public sealed record PictureInfo(
    string Name,
    string Summary,
    SlotInfo Show,
    SlotInfo By,
    bool CanSplit,
    bool SplitsSeveral,
    int PlacedMeasures,
    string Pick,
    bool PicksOneWay,
    bool IsControl,
    bool HasData,
    IReadOnlyList<KeyInfo> OfMembers,
    IReadOnlyList<OwnKeyInfo> Own
)
{
    internal static PictureInfo Of(PictureKind kind) =>
        new(
            kind.Name,
            kind.Summary,
            SlotInfo.Of(kind.Show),
            SlotInfo.Of(kind.By),
            kind.CanSplit,
            kind.SplitsSeveral,
            kind.PlacedMeasures,
            kind.Pick.ToString().ToLowerInvariant(),
            kind.PicksOneWay,
            kind.IsControl,
            kind.HasData,
            [.. kind.OfMembers.Select(k => new KeyInfo(k.Name, k.Doc))],
            [.. kind.Own.Select(o => new OwnKeyInfo(o.Key.Name, o.Key.Doc, o.IsNeeded))]
        );
}
