using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>The number whose values a picture tells of: what is to be said of them the service works out, and no measure has to.</summary>
internal static class SpreadOf
{
    private const string KeyName = "of";

    /// <summary>How the key is written.</summary>
    public static OwnKey Own { get; } =
        new(
            new Key(
                KeyName,
                new Shape.Text(),
                "A field that is a number, in place of measures: its quartiles, whiskers and outliers are worked out, and a box opens to "
                    + "its single values for those who may see rows."
            ),
            "no-of",
            "Only boxes are of a number."
        );

    /// <param name="dataset">What the tile shows figures of; null where that is not known.</param>
    public static FieldAt? Read(YamlText text, YamlNode tile, PictureKind picture, Dataset? dataset)
    {
        if (picture.Show.OrKey != KeyName || YamlText.Node(tile, KeyName) is not YamlScalarNode written || dataset is null)
            return null;
        foreach (var other in (string[])["show", KeysOfMembers.Top.Name])
            if (YamlText.Node(tile, other) is { } node)
                text.Report("bad-of", node, $"A {picture} of the values of {written.Value} has no {other}.", "Leave out one of the two.");
        if (dataset.Fields.GetValueOrDefault(written.Value!) is { } field)
        {
            if (!dataset.HasPercentiles)
                text.Report(
                    "not-on-engine",
                    written,
                    "SQL Server has no quartiles that go with grouping.",
                    "Draw a histogram of it, or show five measures."
                );
            else if (!field.Kind.IsNumber())
                text.Report("type-mismatch", written, $"Values spread along a number; {written.Value} is {field.Kind.Name()}.");
        }
        else if (!dataset.Faulty.Contains(written.Value!))
            text.Report(
                "unknown-field",
                written,
                $"The dataset {dataset.Name} has no field {written.Value}.",
                dataset.Measures.ContainsKey(written.Value!)
                    ? $"{written.Value} is a measure; name the field that it is made of."
                    : Nearest.Remedy(written.Value!, dataset.Fields.Keys)
            );
        return new FieldAt(written.Value!, null);
    }

    /// <summary>The levels of a tile with its single values as the last, where one box can be opened.</summary>
    public static Drill? WithSingleValues(YamlNode tile, int fields, Drill? drill) =>
        YamlText.Node(tile, KeyName) is YamlScalarNode of && fields == 1
            ? new Drill([.. drill?.To ?? [], new FieldAt(of.Value!, null)], drill?.Drives ?? false)
            : drill;
}
