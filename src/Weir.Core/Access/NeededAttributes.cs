using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Access;

/// <summary>
/// Which attributes the roles of a viewer ask for, so that who manages people sees what one lacks: a missing attribute grants no row, and
/// tells nobody.
/// </summary>
public static class NeededAttributes
{
    /// <summary>The attributes that a role's row rules and the queries of its datasets name.</summary>
    public static IReadOnlySet<string> Of(Role role, Workspace workspace) =>
        role
            .Reads.SelectMany(g =>
                (g.Value.Where?.All() ?? []).Concat(
                    workspace.Datasets.GetValueOrDefault(g.Key)?.From is DatasetRows.Query query
                        ? query.Text.Pieces.OfType<QueryPiece.Named>().Select(n => n.Bound)
                        : []
                )
            )
            .OfType<Bound.UserAttribute>()
            .Select(u => u.Attribute)
            .Where(a => a != "name")
            .ToHashSet();

    /// <summary>Each attribute that a viewer lacks, with a role that asks for it.</summary>
    public static IReadOnlyList<(string Role, string Attribute)> Lacking(
        IEnumerable<string> roles,
        IReadOnlyDictionary<string, IReadOnlyList<string>> attributes,
        Workspace workspace
    ) =>
        [
            .. roles
                .Select(r => workspace.Access.Roles.GetValueOrDefault(r))
                .OfType<Role>()
                .SelectMany(r =>
                    Of(r, workspace)
                        .Where(a => attributes.GetValueOrDefault(a) is not { Count: > 0 })
                        .Order(StringComparer.Ordinal)
                        .Select(a => (r.Name, a))
                )
                .DistinctBy(x => x.a),
        ];
}
