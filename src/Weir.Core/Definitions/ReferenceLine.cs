using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>A line at a value of the axis or at a measure over all rows of the tile, or a band between two values.</summary>
/// <param name="At">Where, in the measure's own unit; 0 where a measure says.</param>
/// <param name="To">The other end of a band; null for a line.</param>
/// <param name="Title">What stands beside it; null for nothing.</param>
/// <param name="IsOfEach">True if each picture of a tile that is repeated has the measure's figure over its own rows.</param>
/// <param name="Measure">The measure at whose figure over all rows that the tile shows the line is; null for one at a value.</param>
public sealed record ReferenceLine(double At, double? To, string? Title, string? Measure = null, bool IsOfEach = false)
{
    /// <summary>The key of tiles that have some.</summary>
    internal const string KeyName = "reference";

    private const int Most = 5;

    private static readonly Shape AnyText = new Shape.Text();

    /// <summary>How the key is written.</summary>
    internal static OwnKey Own { get; } =
        new(
            new Key(
                KeyName,
                new Shape.ListOf(
                    new Shape.Keys(
                        new Key("at", AnyText, "The value at which the line is, or the band begins; or measure."),
                        new Key("measure", AnyText, "The measure at whose figure over all rows of the tile the line is, in place of at."),
                        new Key(
                            "each",
                            new Shape.Flag(),
                            "true if each picture that is repeated has the measure's figure over its own rows."
                        ),
                        new Key("to", AnyText, "The value at which the band ends; a line if left out."),
                        new Key("title", AnyText, "What stands beside it.")
                    )
                ),
                "Lines and bands at values of the axis of figures, such as a limit or a target."
            ),
            "no-reference",
            "Only a picture with an axis of figures has lines and bands at values of it."
        );

    /// <param name="dataset">What the tile shows figures of; null where that is not known.</param>
    internal static IReadOnlyList<ReferenceLine> Read(YamlText text, YamlNode tile, Dataset? dataset)
    {
        var items = YamlText.List(tile, KeyName).ToList();
        if (items.Count > Most)
            text.Report("wrong-count", YamlText.Node(tile, KeyName)!, $"A tile has at most {Most} lines and bands; found {items.Count}.");
        return
        [
            .. items
                .Take(Most)
                .Select(i => new ReferenceLine(
                    text.Decimal(i, "at") ?? 0,
                    text.Decimal(i, "to"),
                    YamlText.Value(i, "title"),
                    ReadMeasure(text, i, dataset),
                    ReadEach(text, tile, i)
                )),
        ];
    }

    private static bool ReadEach(YamlText text, YamlNode tile, YamlNode item)
    {
        if (!YamlText.IsSet(item, "each"))
            return false;
        if (YamlText.Node(item, "measure") is null || YamlText.Node(tile, PictureKind.RepeatKey) is null)
            text.Report(
                "bad-reference",
                YamlText.Node(item, "each")!,
                "Each picture has a line of its own where it is repeated, at a measure.",
                "Say repeat and measure, or leave out each."
            );
        return true;
    }

    private static string? ReadMeasure(YamlText text, YamlNode item, Dataset? dataset)
    {
        var written = YamlText.Node(item, "measure") as YamlScalarNode;
        if (YamlText.Node(item, "at") is null == written is null || written is not null && YamlText.Node(item, "to") is not null)
            text.Report(
                "bad-reference",
                item,
                "A line is at a value or at a measure; a band is between two values.",
                "Write at or measure."
            );
        if (written is not null && dataset is not null)
            PlainMeasure.Check(text, written, dataset, "over all rows there is one");
        return written?.Value;
    }
}
