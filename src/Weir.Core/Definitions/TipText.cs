using System.Text.RegularExpressions;
using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>What the tip over a mark says beside or in place of the figures that are shown.</summary>
/// <param name="Sentence">The developer's sentence, with fields and measures in braces; null for the figures, one below the other.</param>
/// <param name="Measures">The measures that it needs, in order.</param>
public sealed partial record TipText(string? Sentence, IReadOnlyList<string> Measures)
{
    /// <summary>The key of tiles that have one.</summary>
    internal const string KeyName = "tip";

    private const int MostMeasures = 10;
    private const int MostLetters = 300;

    private static readonly Shape AnyText = new Shape.Text();

    /// <summary>How the key is written.</summary>
    internal static OwnKey Own { get; } =
        new(
            new Key(
                KeyName,
                new Shape.Either(AnyText, new Shape.ListOf(AnyText)),
                "What the tip over a mark says: a list of further measures, or a sentence with fields of the tile and measures in braces."
            ),
            "no-tip",
            "Only a picture with a mark for each member has tips."
        );

    [GeneratedRegex(@"\{([^{}]*)\}")]
    private static partial Regex Braced();

    /// <summary>What a viewer gets of it, who does not see every measure: empty braces for those.</summary>
    public TipText Visible(Func<string, bool> hasMeasure) =>
        new(
            Sentence is null
                ? null
                : Braced().Replace(Sentence, m => !Measures.Contains(m.Groups[1].Value) || hasMeasure(m.Groups[1].Value) ? m.Value : "{}"),
            [.. Measures.Where(hasMeasure)]
        );

    /// <summary>The names in braces, those of fields at a grain too, each once, in order.</summary>
    internal static IEnumerable<string> NamesIn(string sentence) => Braced().Matches(sentence).Select(m => m.Groups[1].Value).Distinct();

    /// <param name="fields">The fields that the tile is grouped by, as they are written.</param>
    /// <param name="dataset">What the tile shows figures of; null where that is not known.</param>
    internal static TipText? Read(YamlText text, YamlNode tile, IReadOnlyList<string> fields, Dataset? dataset)
    {
        var written = YamlText.Node(tile, KeyName);
        if (written is null || dataset is null)
            return null;
        var sentence = written is YamlScalarNode { Value: { } words } ? words : null;
        if (sentence is { Length: 0 or > MostLetters })
            text.Report("wrong-value", written, $"The sentence of a tip has 1 to {MostLetters} characters; found {sentence.Length}.");
        List<(string Name, YamlNode Where)> names = sentence is null
            ? [.. YamlText.Items(written).Select(i => (i.Value!, (YamlNode)i))]
            : [.. NamesIn(sentence).Select(n => (n, written))];
        List<string> measures = [];
        foreach (var (name, where) in names)
        {
            if (sentence is not null && fields.Contains(name) || dataset.Faulty.Contains(name))
                continue;
            if (dataset.Measures.GetValueOrDefault(name) is not { } measure)
                text.Report(
                    "unknown-measure",
                    where,
                    dataset.Fields.ContainsKey(name.Split('.')[0])
                        ? $"The tile is not grouped by {name}, so a mark has no one value of it."
                        : $"The dataset {dataset.Name} has no measure {name}, which the tip names.",
                    Nearest.Remedy(name, sentence is null ? dataset.Measures.Keys : dataset.Measures.Keys.Concat(fields))
                );
            else if (measure.Formula.All().OfType<Bound.Over>().Any())
                text.Report("looks-around", where, $"{name} looks at other lines, which a tip does not have.", "Show it, or leave it out.");
            else
                measures.Add(name);
        }
        if (measures.Count > MostMeasures)
            text.Report("wrong-count", written, $"A tip has at most {MostMeasures} measures; found {measures.Count}.");
        return new TipText(sentence, measures);
    }
}
