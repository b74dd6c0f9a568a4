using Weir.Core.Definitions;
using Weir.Service.Publishing;

namespace Weir.Service.Api;

/// <summary>What can be written in definitions, for editors.</summary>
internal static class WordEndpoints
{
    public static void MapWords(this RouteGroupBuilder api) =>
        api.MapGet(
                "/definition-words/{kind}",
                (string kind) =>
                    WordShape.Of(
                        DraftKind.In(kind)?.Shape
                            ?? throw new ProblemException(404, "unknown-kind", $"There is no definition {ProblemException.Short(kind)}.")
                    )
            )
            .WithName("listDefinitionWords")
            .WithSummary("The keys that files of a kind can have, in the order in which they are written, and what may stand under each.");
}

/// <summary>What may stand at a place of a definition: any of what is told here.</summary>
/// <param name="Words">The words of which one may stand there; none if it may be any text.</param>
/// <param name="Keys">The keys of a mapping.</param>
/// <param name="Item">What an item of a list is, or what stands under each name of a mapping whose names the developer chooses.</param>
public sealed record WordShape(IReadOnlyList<string> Words, IReadOnlyList<WordKey> Keys, WordShape? Item)
{
    internal static WordShape Of(Shape shape) =>
        shape switch
        {
            Shape.Text text => new WordShape(text.Choices, [], null),
            Shape.Flag => new WordShape(["true", "false"], [], null),
            Shape.MapOf map => new WordShape([], [], Of(map.Value)),
            Shape.ListOf list => new WordShape([], [], Of(list.Item)),
            Shape.Keys keys => new WordShape([], [.. keys.Known.Select(k => new WordKey(k.Name, k.Doc, k.Required, Of(k.Shape)))], null),
            Shape.Either either => either
                .Shapes.Select(Of)
                .Aggregate((a, b) => new WordShape([.. a.Words, .. b.Words], [.. a.Keys, .. b.Keys], a.Item ?? b.Item)),
            _ => new WordShape([], [], null),
        };
}

/// <summary>A key and what may stand under it.</summary>
/// <param name="Doc">What it is for.</param>
public sealed record WordKey(string Name, string Doc, bool Required, WordShape Shape);
