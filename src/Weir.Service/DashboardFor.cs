using System.Text.Json;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Results;
using Weir.Core.Views;
using Weir.Store;

namespace Weir.Service;

/// <summary>
/// A dashboard as one viewer may see it: what is not granted is not there at all. Every route that reads data begins here,
/// so that nothing is planned without the viewer's scopes.
/// </summary>
internal sealed class DashboardFor
{
    private DashboardFor(LiveWorkspace live, Inputs inputs, Dashboard dashboard, int withheld, IReadOnlyDictionary<string, Scope> scopes, StoredView view, IReadOnlyList<DroppedEdit> dropped, Arrangement arrangement)
    {
        Live = live;
        Inputs = inputs;
        Dashboard = dashboard;
        Withheld = withheld;
        Scopes = scopes;
        View = view;
        Dropped = dropped;
        Arrangement = arrangement;
    }

    public LiveWorkspace Live { get; }

    /// <summary>The time of viewing and the parameters that are set.</summary>
    public Inputs Inputs { get; }

    /// <summary>The published dashboard, less what the viewer may not see.</summary>
    public Dashboard Dashboard { get; }

    public int Withheld { get; }

    public IReadOnlyDictionary<string, Scope> Scopes { get; }

    public StoredView View { get; }

    public IReadOnlyList<DroppedEdit> Dropped { get; }

    public Arrangement Arrangement { get; }

    /// <summary>The dashboards that a viewer may open.</summary>
    public static IEnumerable<Dashboard> List(Viewer viewer, LiveWorkspace live)
    {
        // Only what is granted counts here, not any figure: the time does not matter.
        var scopes = ScopesOf(viewer, live, Inputs.Whenever);
        return live.Workspace.Dashboards.Values.Select(d => Visible(d, scopes).Dashboard).Where(d => d.Tiles.Any(t => t.Dataset is not null)).OrderBy(d => d.Title, StringComparer.Ordinal);
    }

    /// <summary>The dashboard of a name with the viewer's own view of it.</summary>
    /// <exception cref="ProblemException">There is none, or none that the viewer may see: the same answer.</exception>
    /// <param name="asked">What the viewer has set; opening values if null.</param>
    public static DashboardFor Open(string name, Viewer viewer, LiveWorkspace live, Store.Views views, DateTimeOffset now, InputsRequest? asked = null)
    {
        var inputs = ReadInputs(viewer, live, name, now, asked);
        var scopes = ScopesOf(viewer, live, inputs);
        if (!live.Workspace.Dashboards.TryGetValue(name, out var whole))
            throw ProblemException.UnknownDashboard(name);
        var (dashboard, withheld) = Visible(whole, scopes);
        if (dashboard.Tiles.All(t => t.Dataset is null))
            throw ProblemException.UnknownDashboard(name);
        var view = views.Get(viewer.Name, name);
        var (arrangement, dropped) = PersonalView.Apply(dashboard, view.Edits);
        return new DashboardFor(live, inputs, dashboard, withheld, scopes, view, dropped, arrangement);
    }

    private static Dictionary<string, Scope> ScopesOf(Viewer viewer, LiveWorkspace live, Inputs inputs) =>
        live.Workspace.Datasets.Keys.Select(d => Scope.For(viewer, d, live.Workspace, inputs)).OfType<Scope>().ToDictionary(s => s.Name);

    private static Inputs ReadInputs(Viewer viewer, LiveWorkspace live, string name, DateTimeOffset now, InputsRequest? asked)
    {
        if (asked?.Zone is { } named && !TimeZoneInfo.TryFindSystemTimeZoneById(named, out _))
            throw new ProblemException(422, "unknown-zone", $"There is no time zone {(named.Length <= 64 ? named : named[..64] + "…")}.", "Use a name such as Atlantic/Azores or UTC.");
        var local = TimeZoneInfo.ConvertTime(now, TimeZoneInfo.FindSystemTimeZoneById(asked?.Zone ?? live.Workspace.TimeZone)).DateTime;
        if (asked?.Parameters is not { Count: > 0 } set)
            return Inputs.At(local);
        if (set.Count > 100 || set.Values.Any(v => v is null || v.Contains(null!)))
            throw new ProblemException(422, "wrong-value", "A parameter has a list of texts, and at most 100 can be set.");
        var (inputs, fault) = Inputs.Read(local, set, ParametersOf(viewer, live, name));
        return inputs ?? throw new ProblemException(422, fault!.Code, fault.Message);
    }

    /// <summary>The parameters of the datasets that a dashboard uses and the viewer may read.</summary>
    private static Dictionary<string, Parameter> ParametersOf(Viewer viewer, LiveWorkspace live, string dashboard)
    {
        var all = new Dictionary<string, Parameter>();
        foreach (var dataset in live.Workspace.Dashboards.GetValueOrDefault(dashboard)?.Tiles.Select(t => t.Dataset).OfType<string>().Distinct() ?? [])
            foreach (var parameter in Scope.For(viewer, dataset, live.Workspace, Inputs.Whenever)?.Parameters.Values ?? [])
                all.TryAdd(parameter.Name, parameter);
        return all;
    }

    /// <summary>A parameter with the right on the dataset that has it.</summary>
    /// <exception cref="ProblemException">The viewer has no such parameter here.</exception>
    public (Parameter Parameter, Scope Scope) ParameterNamed(string name) => UsedScopes()
        .Where(s => s.Parameters.ContainsKey(name)).Select(s => (s.Parameters[name], s)).Cast<(Parameter, Scope)?>().FirstOrDefault()
        ?? throw new ProblemException(404, "unknown-parameter", $"There is no parameter {(name.Length <= 64 ? name : name[..64] + "…")} here.");

    private IEnumerable<Scope> UsedScopes() => Dashboard.Tiles.Select(t => t.Dataset).OfType<string>().Distinct().Select(d => Scopes[d]);

    private static (Dashboard Dashboard, int Withheld) Visible(Dashboard whole, Dictionary<string, Scope> scopes)
    {
        Tile? See(Tile tile) => tile.Dataset is null ? tile : scopes.TryGetValue(tile.Dataset, out var scope) ? Fields.Visible(tile, scope) : null;
        var tabs = whole.Tabs.Select(t => t with { Tiles = [.. t.Tiles.Select(See).OfType<Tile>()] }).Where(t => t.Tiles.Count > 0).ToList();
        var visible = whole with { Tabs = tabs };
        // Wiring to a tile that the viewer may not see would tell its name.
        var names = visible.Tiles.Select(t => t.Name).ToHashSet();
        Reach Known(Reach reach) => reach with { Tiles = [.. reach.Tiles.Where(names.Contains)] };
        visible = visible with { Tabs = [.. tabs.Select(t => t with { Tiles = [.. t.Tiles.Select(x => x with { Drives = Known(x.Drives), Follows = Known(x.Follows) })] })] };
        return (visible, whole.Tiles.Count() - names.Count);
    }

    /// <summary>A tile by name.</summary>
    /// <exception cref="ProblemException">The viewer has no such tile.</exception>
    public Tile Tile(string name) => Arrangement.Tiles.FirstOrDefault(t => t.Tile.Name == name)?.Tile ?? throw ProblemException.UnknownTile(name);

    public Scope ScopeOf(Tile tile) => Scopes[tile.Dataset!];

    /// <summary>Reads selections as they travel.</summary>
    /// <exception cref="ProblemException">One can't be meant.</exception>
    public IReadOnlyList<Selection> Selections(Dictionary<string, JsonElement>? json)
    {
        if (json is null)
            return [];
        if (json.Count > 100)
            throw new ProblemException(422, "too-many-selections", "At most 100 tiles can have a selection.");
        var selections = new List<Selection>();
        foreach (var (name, value) in json)
        {
            var tile = Tile(name);
            if (tile.Dataset is null)
                throw new ProblemException(422, "not-pickable", $"Nothing can be picked on the tile {name}.");
            var (selection, fault) = SelectionReader.Read(tile, ScopeOf(tile), value);
            if (selection is null)
                throw new ProblemException(422, fault!.Code, fault.Message);
            selections.Add(selection);
        }
        return selections;
    }

    public TileFilters Filters(Tile tile, IReadOnlyList<Selection> selections) =>
        Wiring.FiltersOf(tile, Arrangement, selections, Scopes, Live.Workspace.WeekStart);

    /// <summary>The filters of a tile in words.</summary>
    public FiltersInfo Describe(TileFilters filters)
    {
        var tabs = Arrangement.Tabs.ToDictionary(t => t.Name, t => t.Title);
        var tabOf = Arrangement.TabOf();
        string Title(string tile) => Wire.TitleOf(Tile(tile), ScopeOf(Tile(tile)));
        return new FiltersInfo(
            [.. filters.Applied.Select(f => new AppliedInfo(
                f.Selection.Tile, Title(f.Selection.Tile), tabs[tabOf[f.Selection.Tile]],
                string.Join(" and ", Tile(f.Selection.Tile).By.Select(b => Titles.OfField(b, ScopeOf(Tile(f.Selection.Tile)).Fields[b.Field].Title))),
                Members(f.Selection)))],
            [.. filters.NotApplied.Select(f => new NotAppliedInfo(f.Selection.Tile, Title(f.Selection.Tile), f.Reason.ToString(), Sentence(f.Reason, Title(f.Selection.Tile))))]);
    }

    private List<string> Members(Selection selection)
    {
        var tile = Tile(selection.Tile);
        var columns = tile.By.Select(b => Live.Planner.Group(b, ScopeOf(tile)).Column).ToList();
        string Write(IReadOnlyList<object?> member) => string.Join(", ", member.Select((v, i) => Labels.Write(v, columns[i])));
        var members = selection.Members.Select(Write).ToList();
        if (selection.RestOf is { } shown)
            members.Add($"{Labels.Rest} (not {string.Join(", ", shown.Take(3).Select(Write))}{(shown.Count > 3 ? $" and {shown.Count - 3} more" : "")})");
        return members;
    }

    private static string Sentence(NotAppliedReason reason, string driver) => reason switch
    {
        NotAppliedReason.OwnSelection => "A tile is never filtered by its own selection.",
        NotAppliedReason.FollowsNone => "This tile follows no other.",
        NotAppliedReason.NotFollowed => $"This tile does not follow {driver}.",
        NotAppliedReason.OtherTab => $"{driver} filters its own tab only.",
        NotAppliedReason.NotDriven => $"{driver} does not drive this tile.",
        _ => $"The data of this tile have no field that means what is picked on {driver}.",
    };

    /// <summary>The dashboard as it travels.</summary>
    public DashboardPage Page() => new DashboardPage(
        Dashboard.Name, Dashboard.Title, Dashboard.Description, Live.Version.Number, Live.Workspace.WeekStart.ToString().ToLowerInvariant(), Live.Workspace.TimeZone,
        [.. UsedScopes().SelectMany(s => s.Parameters.Values).DistinctBy(p => p.Name).Select(p => Wire.Parameter(p, Inputs))],
        [.. Arrangement.Tabs.Select(t => new TabInfo(t.Name, t.Title, t.Own, [.. t.Tiles.Select(x => Wire.Tile(x, x.Tile.Dataset is null ? null : Scopes[x.Tile.Dataset], x.Tile.Dataset is null ? null : Live.Workspace.Sources[Scopes[x.Tile.Dataset].Source]))]))],
        Withheld,
        new ViewInfo(View.Edits.Count > 0 && View.Edits[^1] is not ViewEdit.Reset, View.CanUndo, View.CanRedo, [.. Dropped.Select(d => d.Reason).Distinct()]));
}
