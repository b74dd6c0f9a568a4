using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>A small picture in each line of a table: a measure along a date.</summary>
/// <param name="Along">The date at its grain.</param>
/// <param name="As">line, area or bars.</param>
public sealed record SmallCourse(string Measure, FieldAt Along, string As)
{
    /// <summary>The key of tiles that have some.</summary>
    internal const string KeyName = "courses";

    private const int Most = 4;

    private static readonly Shape AnyText = new Shape.Text();

    /// <summary>How the key is written.</summary>
    internal static OwnKey Own { get; } =
        new(
            new Key(
                KeyName,
                new Shape.ListOf(
                    new Shape.Keys(
                        new Key("show", AnyText, "The measure.", Required: true),
                        new Key("along", AnyText, "The date at a grain, such as departed.month.", Required: true),
                        new Key("as", new Shape.Text("line", "area", "bars"), "How it is drawn. line if left out.")
                    )
                ),
                "For a table: small pictures in each line, each a measure along a date."
            ),
            "no-courses",
            "Only a table has small pictures in its lines."
        );

    /// <param name="by">The fields that the table is grouped by, as they are written.</param>
    /// <param name="dataset">What the tile shows figures of; null where that is not known.</param>
    internal static IReadOnlyList<SmallCourse> Read(YamlText text, YamlNode tile, IReadOnlyList<string> by, Dataset? dataset)
    {
        var items = YamlText.List(tile, KeyName).ToList();
        if (items.Count == 0 || dataset is null)
            return [];
        if (items.Count > Most)
            text.Report("wrong-count", YamlText.Node(tile, KeyName)!, $"A table has at most {Most} small pictures; found {items.Count}.");
        if (YamlText.Node(tile, KeysOfMembers.Top.Name) is { } top)
            text.Report("bad-course", top, "With small pictures all lines are shown.", "Leave out top, or courses.");
        List<SmallCourse> courses = [];
        foreach (var item in items.Take(Most))
        {
            if (YamlText.Node(item, "show") is not YamlScalarNode show || YamlText.Node(item, "along") is not YamlScalarNode along)
                continue;
            var at = FieldAt.Parse(along.Value!);
            var field = dataset.Fields.GetValueOrDefault(at.Field);
            PlainMeasure.Check(text, show, dataset, "a small picture has none");
            if (field is null)
            {
                if (!dataset.Faulty.Contains(at.Field))
                    text.Report(
                        "unknown-field",
                        along,
                        $"The dataset {dataset.Name} has no field {at.Field}.",
                        Nearest.Remedy(at.Field, dataset.Fields.Keys)
                    );
            }
            else if (Calendar.ParseGrain(at.Member ?? "") is null || !field.Kind.IsTemporal())
                text.Report("unknown-grain", along, "A small picture goes along a date at a grain.", "Write, for example, departed.month.");
            else if (by.Contains(along.Value!))
                text.Report("bad-course", along, $"The table is grouped by {along.Value} already.", "Name another date, or another grain.");
            courses.Add(new SmallCourse(show.Value!, at, YamlText.Value(item, "as") ?? "line"));
        }
        return courses;
    }
}
