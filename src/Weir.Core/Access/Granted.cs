using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Access;

/// <summary>What somebody has of a dataset, told to those who look after rights: every role's part, and what comes of all of them.</summary>
/// <param name="Rules">The rule of each role that reads it, as written; null for all rows.</param>
/// <param name="Lacking">Attributes that a rule asks for and the viewer has not: that rule grants no row.</param>
/// <param name="Hidden">The fields and measures that are not there, by title.</param>
/// <param name="DetailBy">The roles that grant single rows.</param>
public sealed record GrantedDataset(
    string Dataset,
    string Title,
    IReadOnlyList<ScopeRule> Rules,
    IReadOnlyList<string> Lacking,
    IReadOnlyList<string> Hidden,
    IReadOnlyList<string> DetailBy
)
{
    /// <summary>What a viewer has of a dataset; null if nothing.</summary>
    public static GrantedDataset? Of(Viewer viewer, string dataset, Workspace workspace)
    {
        if (Scope.For(viewer, dataset, workspace, Viewing.Whenever) is not { } scope)
            return null;
        var whole = workspace.Datasets[dataset];
        var roles = viewer.RolesIn(workspace).Where(r => r.Reads.ContainsKey(dataset)).ToList();
        return new GrantedDataset(
            dataset,
            whole.Title,
            scope.Rules,
            [
                .. roles
                    .SelectMany(r => r.Reads[dataset].Where?.All() ?? [])
                    .OfType<Bound.UserAttribute>()
                    .Select(u => u.Attribute)
                    .Where(a => a != "name" && viewer.Attributes.GetValueOrDefault(a) is not { Count: > 0 })
                    .Distinct()
                    .Order(StringComparer.Ordinal),
            ],
            [
                .. whole.Fields.Values.Where(f => !scope.Fields.ContainsKey(f.Name)).Select(f => f.Title),
                .. whole.Measures.Values.Where(m => !scope.Measures.ContainsKey(m.Name)).Select(m => m.Title),
            ],
            [.. roles.Where(r => r.Reads[dataset].Detail).Select(r => r.Title)]
        );
    }
}

/// <summary>An act with the roles that grant it, by title; none where every reader has it.</summary>
/// <param name="Areas">The areas that can be seen, by title, where that is not the whole dashboard; else null.</param>
public sealed record GrantedAct(string Act, IReadOnlyList<string> By, IReadOnlyList<string>? Areas = null)
{
    /// <summary>What a viewer may do with a dashboard.</summary>
    public static IReadOnlyList<GrantedAct> On(string dashboard, Viewer viewer, Workspace workspace) =>
        [
            .. DashboardActs
                .All.Where(a => viewer.May(a, dashboard, workspace))
                .Select(a => new GrantedAct(
                    a,
                    [.. viewer.RolesIn(workspace).Where(r => r.Grants(a, dashboard)).Select(r => r.Title)],
                    a == DashboardActs.See ? AreasOf(dashboard, viewer, workspace) : null
                )),
        ];

    private static IReadOnlyList<string>? AreasOf(string dashboard, Viewer viewer, Workspace workspace)
    {
        var whole = workspace.Dashboards[dashboard];
        var part = DashboardPart.Of(viewer, whole, workspace);
        return part.Areas.Count == whole.Areas.Count ? null : [.. part.Areas.Select(a => a.Title)];
    }

    /// <summary>What a viewer may do beyond reading.</summary>
    public static IReadOnlyList<GrantedAct> Beyond(Viewer viewer, Workspace workspace) =>
        [
            .. Acts
                .All.Where(a => viewer.May(a, workspace))
                .Select(a => new GrantedAct(a, [.. viewer.RolesIn(workspace).Where(r => r.May.Contains(a)).Select(r => r.Title)])),
        ];
}
