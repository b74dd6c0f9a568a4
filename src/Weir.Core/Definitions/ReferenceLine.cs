using System.Globalization;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>A line at a value of the axis, or a band between two.</summary>
/// <param name="At">Where, in the measure's own unit.</param>
/// <param name="To">The other end of a band; null for a line.</param>
/// <param name="Title">What stands beside it; null for nothing.</param>
public sealed record ReferenceLine(double At, double? To, string? Title)
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
                        new Key("at", AnyText, "The value at which the line is, or the band begins.", Required: true),
                        new Key("to", AnyText, "The value at which the band ends; a line if left out."),
                        new Key("title", AnyText, "What stands beside it.")
                    )
                ),
                "Lines and bands at values of the axis of figures, such as a limit or a target."
            ),
            "no-reference",
            "Only a picture with an axis of figures has lines and bands at values of it."
        );

    internal static IReadOnlyList<ReferenceLine> Read(YamlText text, YamlNode tile)
    {
        var items = YamlText.List(tile, KeyName).ToList();
        if (items.Count > Most)
            text.Report("wrong-count", YamlText.Node(tile, KeyName)!, $"A tile has at most {Most} lines and bands; found {items.Count}.");
        return
        [
            .. items
                .Take(Most)
                .Select(i => new ReferenceLine(
                    Number(text, i, "at") ?? 0,
                    YamlText.Node(i, "to") is null ? null : Number(text, i, "to"),
                    YamlText.Value(i, "title")
                )),
        ];
    }

    private static double? Number(YamlText text, YamlNode item, string key)
    {
        if (
            double.TryParse(YamlText.Value(item, key), NumberStyles.Float, CultureInfo.InvariantCulture, out var value)
            && double.IsFinite(value)
        )
            return value;
        text.Report(
            "wrong-value",
            YamlText.Node(item, key)!,
            $"{YamlText.Value(item, key)} is no number.",
            "Write, for example, 10 or 0.5."
        );
        return null;
    }
}
