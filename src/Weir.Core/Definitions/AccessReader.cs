using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>The dashboards that roles may name.</summary>
/// <param name="Areas">The areas of each that can be read.</param>
/// <param name="Broken">Those whose files can't be read: whoever names one has no fault for that.</param>
internal sealed record DashboardNames(IReadOnlyDictionary<string, IReadOnlyList<string>> Areas, IReadOnlySet<string> Broken)
{
    /// <summary>All there are.</summary>
    public IReadOnlySet<string> Names { get; } = Areas.Keys.Concat(Broken).ToHashSet();
}

/// <summary>Reads access.yaml: roles with their row rules, and the proofs of them.</summary>
internal static class AccessReader
{
    public static Access Read(
        YamlText text,
        YamlMappingNode root,
        IReadOnlyDictionary<string, Dataset> datasets,
        IReadOnlySet<string> brokenDatasets,
        DashboardNames dashboards,
        IReadOnlySet<string> catalogues
    )
    {
        var roles = new Dictionary<string, Role>();
        foreach (var (key, value) in YamlText.Map(root, "roles"))
        {
            var reads = new Dictionary<string, Grant>();
            foreach (var (dataset, grant) in YamlText.Map(value, "reads"))
                if (Dataset(text, dataset, datasets, brokenDatasets) is { } found)
                    reads[found.Name] = ReadGrant(text, grant, found);
            roles[key.Value!] = new Role(
                key.Value!,
                YamlText.Value(value, "title") ?? Titles.FromName(key.Value!),
                reads,
                YamlText.Items(YamlText.Node(value, "may")).Select(a => a.Value!).ToHashSet()
            )
            {
                Dashboards = ReadDashboards(text, value, dashboards),
                MayChange = ReadMayChange(text, value, dashboards),
                Catalogues = ReadCatalogues(text, value, catalogues),
            };
        }
        var granted = new WrittenAccess(new Access(roles, []), text);
        var checks = YamlText.List(root, "checks").Select(c => ReadCheck(text, c, granted, datasets, brokenDatasets)).OfType<AccessCheck>();
        return new Access(roles, [.. checks]) { Outside = SendingReader.ReadOutside(text, root, granted) };
    }

    /// <param name="dashboards">Those that there are, the broken ones too.</param>
    private static Dictionary<string, IReadOnlySet<string>> ReadDashboards(YamlText text, YamlNode role, DashboardNames dashboards)
    {
        var granted = new Dictionary<string, IReadOnlySet<string>>();
        foreach (var (name, acts) in YamlText.Map(role, "dashboards"))
        {
            CheckName(text, name, dashboards, withAreas: true);
            var named = acts is YamlScalarNode ? DashboardActs.All.ToHashSet() : YamlText.Items(acts).Select(a => a.Value!).ToHashSet();
            if (named.Count > 0 && !named.Contains(DashboardActs.See))
                text.Report(
                    "needs-see",
                    acts,
                    $"Who may {Sentences.Or(named.Order(StringComparer.Ordinal))} a dashboard must see it.",
                    "Add see to the list."
                );
            granted[name.Value!] = named;
        }
        return granted;
    }

    private static Dictionary<string, Changes> ReadMayChange(YamlText text, YamlNode role, DashboardNames dashboards)
    {
        var may = new Dictionary<string, Changes>();
        foreach (var (name, changes) in YamlText.Map(role, "viewers_may"))
        {
            CheckName(text, name, dashboards, withAreas: false);
            may[name.Value!] = ChangeWords.Read(changes);
        }
        return may;
    }

    private static void CheckName(YamlText text, YamlScalarNode name, DashboardNames dashboards, bool withAreas)
    {
        if (name.Value == DashboardActs.Every || dashboards.Names.Contains(name.Value!))
            return;
        var (dashboard, area) = name.Value!.Split('/', 2) is [var d, var a] && withAreas ? (d, a) : (name.Value!, null);
        if (!dashboards.Names.Contains(dashboard))
            text.Report(
                "unknown-dashboard",
                name,
                $"There is no dashboard {dashboard}.",
                Nearest.Remedy(dashboard, dashboards.Names.Append(DashboardActs.Every))
            );
        else if (!dashboards.Broken.Contains(dashboard) && !dashboards.Areas[dashboard].Contains(area!))
            text.Report(
                "unknown-area",
                name,
                $"The dashboard {dashboard} has no area {area}.",
                Nearest.Remedy(area!, dashboards.Areas[dashboard])
            );
    }

    /// <param name="catalogues">Those that there are, the broken ones too.</param>
    private static HashSet<string> ReadCatalogues(YamlText text, YamlNode role, IReadOnlySet<string> catalogues)
    {
        var granted = YamlText.Items(YamlText.Node(role, "catalogues")).ToList();
        foreach (var name in granted.Where(n => n.Value != DashboardActs.Every && !catalogues.Contains(n.Value!)))
            text.Report(
                "unknown-catalogue",
                name,
                $"There is no catalogue {name.Value}.",
                Nearest.Remedy(name.Value!, catalogues.Append(DashboardActs.Every))
            );
        return [.. granted.Select(n => n.Value!)];
    }

    private static Dataset? Dataset(
        YamlText text,
        YamlScalarNode name,
        IReadOnlyDictionary<string, Dataset> datasets,
        IReadOnlySet<string> broken
    )
    {
        if (datasets.TryGetValue(name.Value!, out var dataset) || broken.Contains(name.Value!))
            return dataset;
        text.Report("unknown-dataset", name, $"There is no dataset {name.Value}.", Nearest.Remedy(name.Value!, datasets.Keys));
        return null;
    }

    private static Grant ReadGrant(YamlText text, YamlNode node, Dataset dataset)
    {
        if (node is YamlScalarNode)
            return new Grant(null, null, new HashSet<string>());
        var hides = new HashSet<string>();
        foreach (var item in YamlText.Items(YamlText.Node(node, "hides")))
            if (
                dataset.Fields.ContainsKey(item.Value!)
                || dataset.Measures.ContainsKey(item.Value!)
                || dataset.Faulty.Contains(item.Value!)
            )
                hides.Add(item.Value!);
            else
                text.Report(
                    "unknown-field",
                    item,
                    $"The dataset {dataset.Name} has no field or measure {item.Value}.",
                    Nearest.Remedy(item.Value!, dataset.Fields.Keys.Concat(dataset.Measures.Keys))
                );
        var detail = YamlText.IsSet(node, "detail");
        return YamlText.Node(node, "where") is YamlScalarNode where
            ? new Grant(ReadCondition(text, where, dataset, allowUser: true), where.Value, hides, detail)
            : new Grant(null, null, hides, detail);
    }

    private static Bound ReadCondition(YamlText text, YamlScalarNode node, Dataset dataset, bool allowUser)
    {
        var (bound, fault) = Binder.Bind(
            node.Value!,
            n =>
                dataset.Fields.GetValueOrDefault(n)?.Formula
                ?? (dataset.Faulty.Contains(n) ? new Bound.Literal(null, ValueKind.Null) : null),
            [.. dataset.Fields.Keys],
            allowUser: allowUser
        );
        if (fault is not null)
            text.Report(fault, node);
        else if (bound!.Kind != ValueKind.Boolean)
            text.Report("type-mismatch", node, $"A condition is needed here; this is {bound.Kind.Name()}.");
        else if (bound.All().OfType<Bound.Parameter>().FirstOrDefault() is { } parameter)
            text.Report(
                "parameter-in-rule",
                node,
                $"The condition depends on the parameter {parameter.Name}, which viewers set themselves.",
                "Use fields here that need no parameter."
            );
        else if (!allowUser && bound.All().Any(b => b is Bound.Clock or Bound.InPeriod))
            text.Report("time-in-check", node, "A proof can't depend on the time at which it is run.", "Compare with fixed dates.");
        else
        {
            CodeChecks.Warn(text, node, bound, dataset.Fields.Values);
            return bound;
        }
        return Bound.False; // denied, should anyone come by it: the workspace is refused anyway
    }

    /// <summary>Reports each of the names that is no role.</summary>
    public static void CheckRoles(YamlText text, IEnumerable<YamlScalarNode> names, WrittenAccess written)
    {
        var roles = written.Access.Roles;
        foreach (var role in names.Where(r => !roles.ContainsKey(r.Value!) && !written.IsUnread("roles", r.Value!)))
            text.Report("unknown-role", role, $"There is no role {role.Value}.", Nearest.Remedy(role.Value!, roles.Keys));
    }

    /// <summary>The attributes of a viewer who is made up.</summary>
    public static Dictionary<string, IReadOnlyList<string>> AttributesOf(YamlNode viewer) =>
        YamlText
            .Map(viewer, "attributes")
            .ToDictionary(a => a.Key.Value!, a => (IReadOnlyList<string>)[.. YamlText.Items(a.Value).Select(v => v.Value!)]);

    private static AccessCheck? ReadCheck(
        YamlText text,
        YamlNode node,
        WrittenAccess granted,
        IReadOnlyDictionary<string, Dataset> datasets,
        IReadOnlySet<string> brokenDatasets
    )
    {
        var viewer = YamlText.Node(node, "as")!;
        var names = YamlText.Items(YamlText.Node(viewer, "roles")).ToList();
        CheckRoles(text, names, granted);
        var attributes = AttributesOf(viewer);
        if (Dataset(text, (YamlScalarNode)YamlText.Node(node, "dataset")!, datasets, brokenDatasets) is not { } dataset)
            return null;
        var only = (YamlScalarNode)YamlText.Node(node, "only")!;
        return new AccessCheck(
            [.. names.Select(n => n.Value!)],
            attributes,
            dataset.Name,
            ReadCondition(text, only, dataset, allowUser: false),
            only.Value!,
            text.File,
            (int)only.Start.Line
        );
    }
}
