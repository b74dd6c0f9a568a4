using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Service.Asking;
using Weir.Service.Publishing;
using Weir.Store;

namespace Weir.Service.Api;

/// <summary>Who may see what, for those who publish or look as others.</summary>
internal static class AccessEndpoints
{
    public static void MapAccess(this RouteGroupBuilder api)
    {
        api.MapGet("/access/dashboards/{dashboard}", OfDashboard)
            .WithName("whoSeesDashboard")
            .WithSummary("The roles and people that have a dashboard, with the rows, hidden fields and acts of each, and what gives them.");
        api.MapGet("/access/datasets/{dataset}", OfDataset)
            .WithName("whoReadsDataset")
            .WithSummary("The roles and people that read a dataset, with the rows and hidden fields of each.");
        api.MapGet(
                "/access/others",
                (Asker asker, Users users, Audit audit) =>
                    Everybody(users, MayAsk(asker, audit, "others"))
                        .Select(w => new OtherViewer(
                            w.IsRole ? SignIn.Authentication.RolePrefix + w.Viewer.Name : w.Viewer.Name,
                            w.Viewer.Title,
                            w.IsRole,
                            [
                                .. NeededAttributes
                                    .Lacking(w.Viewer.Roles, w.Viewer.Attributes, asker.Live.Workspace)
                                    .Select(l => l.Attribute),
                            ]
                        ))
            )
            .WithName("listOthers")
            .WithSummary("The roles and people that one can look as.");
        api.MapGet("/access/people/{person}", OfPerson)
            .WithName("whatPersonSees")
            .WithSummary("The datasets and dashboards that a person has, with rows, hidden fields and acts, and what gives them.");
    }

    private static AccessAnswer OfDashboard(string dashboard, Asker asker, Users users, Audit audit)
    {
        var workspace = MayAsk(asker, audit, $"dashboard {dashboard}");
        if (Seen(asker).FirstOrDefault(d => d.Name == dashboard) is not { } found)
            throw ProblemException.UnknownDashboard(dashboard);
        var datasets = found.Tiles.Select(t => t.Dataset).OfType<string>().Distinct().ToList();
        return new AccessAnswer(
            found.Name,
            found.Title,
            !workspace.Access.GrantsDashboards,
            [.. Everybody(users, workspace).Select(w => Line(w.Viewer, w.IsRole, found, datasets, asker.Live)).OfType<AccessLine>()]
        );
    }

    private static AccessAnswer OfDataset(string dataset, Asker asker, Users users, Audit audit)
    {
        var workspace = MayAsk(asker, audit, $"dataset {dataset}");
        if (
            !workspace.Datasets.TryGetValue(dataset, out var found)
            || !(MayPublish(asker) || Scope.For(asker.Viewer, dataset, workspace, Viewing.Whenever) is not null)
        )
            throw new ProblemException(404, "unknown-dataset", $"There is no dataset {ProblemException.Short(dataset)}.");
        return new AccessAnswer(
            found.Name,
            found.Title,
            false,
            [
                .. Everybody(users, workspace)
                    .Select(w => (w.IsRole, w.Viewer, Right: GrantedDataset.Of(w.Viewer, dataset, workspace)))
                    .Where(w => w.Right is not null)
                    .Select(w => AccessLine.Of(w.Viewer, w.IsRole, workspace, [w.Right!], [])),
            ]
        );
    }

    private static PersonAccess OfPerson(string person, Asker asker, Users users, Audit audit)
    {
        var workspace = MayAsk(asker, audit, $"person {person}");
        var found =
            users.Find(person)?.Viewer
            ?? throw new ProblemException(404, "unknown-user", $"There is no user {ProblemException.Short(person)}.");
        // What the asker may not see is not told of by way of another.
        var mine = Seen(asker).Select(d => d.Name).ToHashSet();
        return new PersonAccess(
            AccessLine.Of(
                found,
                isRole: false,
                workspace,
                [
                    .. workspace
                        .Datasets.Keys.Where(d => MayPublish(asker) || Scope.For(asker.Viewer, d, workspace, Viewing.Whenever) is not null)
                        .Select(d => GrantedDataset.Of(found, d, workspace))
                        .OfType<GrantedDataset>(),
                ],
                GrantedAct.Beyond(found, workspace)
            ),
            found.Attributes,
            [
                .. OpenDashboard
                    .List(found, asker.Live)
                    .Where(d => mine.Contains(d.Name))
                    .Select(d => new DashboardAccess(d.Name, d.Title, GrantedAct.On(d.Name, found, workspace))),
            ]
        );
    }

    /// <summary>Each role by itself and each person, roles first.</summary>
    internal static IEnumerable<(bool IsRole, Viewer Viewer)> Everybody(Users users, Workspace workspace) =>
        workspace
            .Access.Roles.Values.OrderBy(r => r.Title, StringComparer.Ordinal)
            .Select(r => (true, Viewer.Of(r)))
            .Concat(users.All().OrderBy(u => u.Viewer.Title, StringComparer.Ordinal).Select(u => (false, u.Viewer)));

    private static AccessLine? Line(Viewer viewer, bool isRole, Dashboard dashboard, List<string> datasets, LiveWorkspace live)
    {
        if (!OpenDashboard.IsThereFor(viewer, dashboard, live))
            return null;
        return AccessLine.Of(
            viewer,
            isRole,
            live.Workspace,
            [.. datasets.Select(d => GrantedDataset.Of(viewer, d, live.Workspace)).OfType<GrantedDataset>()],
            GrantedAct.On(dashboard.Name, viewer, live.Workspace)
        );
    }

    /// <summary>Who publishes has every definition before them anyway; others ask of what they see themselves.</summary>
    private static IEnumerable<Dashboard> Seen(Asker asker) =>
        MayPublish(asker) ? asker.Live.Workspace.Dashboards.Values : OpenDashboard.List(asker.Viewer, asker.Live);

    private static bool MayPublish(Asker asker) => asker.Viewer.May(Acts.Publish, asker.Live.Workspace);

    private static Workspace MayAsk(Asker asker, Audit audit, string what)
    {
        var workspace = asker.Live.Workspace;
        if (!MayPublish(asker) && !asker.Viewer.May(Acts.LookAs, workspace))
        {
            audit.Write(asker.Viewer, "denied", "ask who may see what");
            throw ProblemException.MayNot("ask who may see what");
        }
        audit.Write(asker.Viewer, "access", what);
        return workspace;
    }
}

/// <summary>Somebody whom one can look as.</summary>
/// <param name="Name">As the header Weir-Look-As takes it.</param>
/// <param name="Lacks">Attributes that row rules ask for and that are not there: those rules grant no row.</param>
public sealed record OtherViewer(string Name, string Title, bool IsRole, IReadOnlyList<string> Lacks);

/// <summary>Who has a dashboard or a dataset.</summary>
/// <param name="ByReading">True if no role grants dashboards by name, so that each is there for whoever reads one of its datasets.</param>
public sealed record AccessAnswer(string Name, string Title, bool ByReading, IReadOnlyList<AccessLine> Lines);

/// <summary>A role or a person.</summary>
/// <param name="Roles">Of a person: the roles, by title.</param>
public sealed record AccessLine(
    string Name,
    string Title,
    bool IsRole,
    IReadOnlyList<string> Roles,
    IReadOnlyList<DatasetAccess> Datasets,
    IReadOnlyList<GrantedAct> Acts
)
{
    internal static AccessLine Of(
        Viewer viewer,
        bool isRole,
        Workspace workspace,
        IReadOnlyList<GrantedDataset> datasets,
        IReadOnlyList<GrantedAct> acts
    ) =>
        new(
            viewer.Name,
            viewer.Title,
            isRole,
            isRole ? [] : [.. viewer.RolesIn(workspace).Select(r => r.Title)],
            [.. datasets.Select(d => DatasetAccess.Of(d, isRole))],
            acts
        );
}

/// <summary>What somebody has of a dataset.</summary>
/// <param name="Rows">Which rows, by role: its rule, or all rows.</param>
/// <param name="Hidden">Fields and measures that are not there, by title.</param>
/// <param name="DetailBy">The roles that grant single rows.</param>
public sealed record DatasetAccess(
    string Dataset,
    string Title,
    IReadOnlyList<string> Rows,
    IReadOnlyList<string> Hidden,
    IReadOnlyList<string> DetailBy
)
{
    internal static DatasetAccess Of(GrantedDataset right, bool isRole) =>
        new(
            right.Dataset,
            right.Title,
            [
                .. right.Rules.Select(r => isRole ? r.Text ?? "all rows" : $"{r.Role}: {r.Text ?? "all rows"}"),
                // A role has no attributes of its own; a person that lacks one gets no row by that rule.
                .. isRole ? [] : right.Lacking.Select(a => $"has no {a}, which a rule asks for: that rule grants no row"),
            ],
            right.Hidden,
            right.DetailBy
        );
}

/// <summary>A dashboard that a person has.</summary>
public sealed record DashboardAccess(string Name, string Title, IReadOnlyList<GrantedAct> Acts);

/// <summary>All that a person has.</summary>
/// <param name="Attributes">The person's attributes, which row rules compare with.</param>
public sealed record PersonAccess(
    AccessLine Person,
    IReadOnlyDictionary<string, IReadOnlyList<string>> Attributes,
    IReadOnlyList<DashboardAccess> Dashboards
);
