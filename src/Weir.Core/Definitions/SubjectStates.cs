using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>Whose states a tile tells of: the first one in time of each subject, and a later one.</summary>
/// <param name="Each">The subjects.</param>
/// <param name="Along">The date by which states follow one another.</param>
/// <param name="IsWorst">True for the worst of the later states, which is the last in the order of the field; else the last in time.</param>
public sealed record SubjectStates(FieldAt Each, FieldAt Along, bool IsWorst)
{
    private const string EachName = "each";
    private const string AlongName = "along";
    private const string ToName = "to";

    /// <summary>How the keys are written.</summary>
    internal static IReadOnlyList<OwnKey> Own { get; } =
    [
        new OwnKey(
            new Key(EachName, new Shape.Text(), "For a movement: the field of the subjects, each of whose states is followed."),
            "no-each",
            "Only a movement has subjects."
        )
        {
            IsNeeded = true,
        },
        new OwnKey(
            new Key(AlongName, new Shape.Text(), "For a movement: the date by which states follow one another."),
            "no-along",
            "Only a movement goes along a date."
        )
        {
            IsNeeded = true,
        },
        new OwnKey(
            new Key(
                ToName,
                new Shape.Text("last", "worst"),
                "For a movement: which later state counts, the last in time or the worst, which is the last in the order of its field. last "
                    + "if left out."
            ),
            "no-to",
            "Only a movement leads to a later state."
        ),
    ];

    /// <param name="by">The field of the states, as it is written.</param>
    /// <param name="dataset">What the tile shows figures of; null where that is not known.</param>
    internal static SubjectStates? Read(YamlText text, YamlNode tile, PictureKind picture, IReadOnlyList<string> by, Dataset? dataset)
    {
        if (
            picture.Question != QuestionShape.Movement
            || YamlText.Node(tile, EachName) is not YamlScalarNode each
            || YamlText.Node(tile, AlongName) is not YamlScalarNode along
            || dataset is null
        )
            return null;
        foreach (var name in (YamlScalarNode[])[each, along])
            if (!dataset.Fields.ContainsKey(name.Value!) && !dataset.Faulty.Contains(name.Value!))
                text.Report(
                    "unknown-field",
                    name,
                    $"The dataset {dataset.Name} has no field {name.Value}.",
                    Nearest.Remedy(name.Value!, dataset.Fields.Keys)
                );
        if (dataset.Fields.GetValueOrDefault(along.Value!) is { } date && !date.Kind.IsTemporal())
            text.Report("type-mismatch", along, $"States follow one another along a date; {along.Value} is {date.Kind.Name()}.");
        if (by.Contains(each.Value!))
            text.Report("bad-each", each, $"{each.Value} is the state already.", "Name the field of those who have the states.");
        return new SubjectStates(new FieldAt(each.Value!, null), new FieldAt(along.Value!, null), YamlText.Value(tile, ToName) == "worst");
    }
}
