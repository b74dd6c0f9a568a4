using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Access;

/// <summary>Which parameters of a dataset the rows and figures of a tile depend on.</summary>
public static class UsedParameters
{
    /// <summary>The names of the parameters.</summary>
    /// <param name="dataset">The dataset as defined: a scope has the values put in already.</param>
    /// <param name="fields">The fields that rows are grouped or filtered by.</param>
    /// <param name="measures">The measures that are shown.</param>
    public static IReadOnlySet<string> Of(Dataset dataset, IEnumerable<FieldAt> fields, IEnumerable<string> measures)
    {
        IEnumerable<Bound?> formulas =
        [
            dataset.Filter,
            dataset.Totals,
            .. fields.Select(f => dataset.Fields.GetValueOrDefault(f.Field)?.Formula),
            .. measures.Select(m => dataset.Measures.GetValueOrDefault(m)?.Formula),
            .. dataset.From is DatasetRows.Query query ? query.Text.Pieces.OfType<QueryPiece.Named>().Select(n => n.Bound) : [],
        ];
        return formulas.OfType<Bound>().SelectMany(f => f.All()).OfType<Bound.Parameter>().Select(p => p.Name).ToHashSet();
    }
}
