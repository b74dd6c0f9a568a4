using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>A measure that a tile names where it has a figure of its own, and no other lines to look at.</summary>
internal static class PlainMeasure
{
    /// <summary>Reports a measure that the dataset does not have, or that looks at other lines.</summary>
    /// <param name="where">What names it and has no other lines, as the end of a sentence: "over all rows there is one".</param>
    public static void Check(YamlText text, YamlScalarNode name, Dataset dataset, string where)
    {
        if (dataset.Faulty.Contains(name.Value!))
            return;
        if (!dataset.Measures.TryGetValue(name.Value!, out var measure))
            text.Report(
                "unknown-measure",
                name,
                $"The dataset {dataset.Name} has no measure {name.Value}.",
                Nearest.Remedy(name.Value!, dataset.Measures.Keys)
            );
        else if (measure.Formula.All().OfType<Bound.Over>().Any())
            text.Report("looks-around", name, $"{name.Value} looks at other lines; {where}.");
    }
}
