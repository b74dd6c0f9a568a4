using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Pictures;

namespace Weir.Core.Designing;

/// <summary>
/// A formula that is being written: what is wrong with it, and what it would give. Nothing is stored; like any question, this one is asked
/// under a <see cref="Access.Scope"/>.
/// </summary>
public static class FormulaTrial
{
    /// <summary>So many lines are brought.</summary>
    public const int Lines = 10;

    private const string Rows = "number_of_rows_here";

    /// <summary>A dataset with a formula in the place of a field or a measure, or as a new one.</summary>
    /// <param name="name">What it is or will be called; formulas that need it can't stand in it.</param>
    /// <param name="text">The formula.</param>
    /// <param name="isMeasure">True for a value over many rows.</param>
    /// <returns>The dataset and the kind of the formula's values, or the fault.</returns>
    public static (Dataset? Dataset, ValueKind Kind, FormulaFault? Fault) Read(Dataset dataset, string name, string text, bool isMeasure)
    {
        var others = dataset.Fields.Keys.Concat(dataset.Measures.Keys).Where(n => n != name).ToList();
        var uses = new HashSet<string>();
        var (bound, fault) = Binder.Bind(
            text,
            Resolve,
            others,
            allowAggregates: isMeasure,
            parameters: p => dataset.Parameters.GetValueOrDefault(p)?.Bound
        );
        if (fault is null && isMeasure && !bound!.HasAggregate)
            fault = new FormulaFault(
                "no-aggregate",
                new Span(0, text.Length),
                "This is no value over many rows.",
                "Use sum, count, avg, min or max."
            );
        if (fault is not null)
            return (null, default, fault);
        var fields = dataset.Fields.Where(f => f.Key != name).ToDictionary(f => f.Key, f => f.Value);
        var measures = dataset.Measures.Where(m => m.Key != name).ToDictionary(m => m.Key, m => m.Value);
        var was = dataset.Measures.GetValueOrDefault(name);
        if (isMeasure)
            measures[name] = new Measure(name, was?.Title ?? name, null, bound!, text, was?.Format, uses);
        else
        {
            var tried = new Field(name, dataset.Fields.GetValueOrDefault(name)?.Title ?? name, null, bound!, null, null, uses);
            // What is a field and nothing else has its values, which are read by its names.
            fields[name] =
                text.Trim() != name && dataset.Fields.GetValueOrDefault(text.Trim()) is { } same
                    ? tried with
                    {
                        Names = same.Names,
                        NamedBy = same.NamedBy,
                    }
                    : tried;
            // What tells how often each of its values stands in the rows.
            measures[Rows] = new Measure(
                Rows,
                "Rows",
                null,
                Planning.Output.RowCount.Formula,
                "count(*)",
                "integer",
                new HashSet<string>()
            );
        }
        return (dataset with { Fields = fields, Measures = measures }, bound!.Kind, null);

        Bound? Resolve(string id)
        {
            var (formula, needs) =
                dataset.Fields.TryGetValue(id, out var field) ? (field.Formula, field.Uses)
                : dataset.Measures.TryGetValue(id, out var measure) ? (measure.Formula, measure.Uses)
                : (null, null);
            if (formula is null)
                return null;
            if (id == name || needs!.Contains(name))
                throw new FormulaException(new("circular-formula", new Span(0, text.Length), $"{id} needs {name} itself."));
            uses.Add(id);
            uses.UnionWith(needs!);
            return formula;
        }
    }

    /// <summary>A tile that shows what a formula gives: a measure by a field, or in one line; a field's most frequent values.</summary>
    /// <param name="dataset">As <see cref="Read"/> gives it.</param>
    /// <param name="by">A field, dates at a grain or as they are; null for the measure over all rows.</param>
    public static Tile Tile(Dataset dataset, string name, bool isMeasure, string? by)
    {
        FieldAt[] groups =
            !isMeasure ? [FieldAt.Parse(name)]
            : by is null ? []
            : [FieldAt.Parse(by)];
        var figure = isMeasure ? name : Rows;
        return new Tile(
            "trial",
            PictureKinds.All.First(k => k.Name == "table"),
            null,
            null,
            dataset.Name,
            [figure],
            groups,
            null,
            null,
            groups is [{ } group] && !dataset.Fields[group.Field].Kind.IsTemporal() ? new Sort(figure, true) : null,
            null,
            isMeasure && groups.Length > 0,
            null,
            Pick.None,
            new Reach("none", []),
            new Reach("none", []),
            new Place(0, 0, 12, 4)
        );
    }
}
