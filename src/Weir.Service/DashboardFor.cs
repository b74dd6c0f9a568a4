using System.Text.Json;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Results;
using Weir.Core.Sql;
using Weir.Core.Views;
using Weir.Store;

namespace Weir.Service;

/// <summary>
/// A dashboard as one viewer may see it: what is not granted is not there at all. Every route that reads data begins here,
/// so that nothing is planned without the viewer's scopes.
/// </summary>
internal sealed class DashboardFor
{
    private readonly IReadOnlyList<Parameter> _offered;
    private readonly IReadOnlySet<string> _detailed;
    private readonly Dictionary<(string Dataset, string Field), IReadOnlyDictionary<string, string>> _names = [];

    private DashboardFor(IReadOnlyList<Parameter> offered, LiveWorkspace live, Inputs inputs, Dashboard dashboard, int withheld, IReadOnlyDictionary<string, Scope> scopes, StoredView view, IReadOnlyList<DroppedEdit> dropped, Arrangement arrangement, IReadOnlySet<string> detailed)
    {
        _offered = offered;
        _detailed = detailed;
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

    /// <summary>Why a tile has no answer, where a parameter that it depends on is set to what can't be meant; null if none is.</summary>
    /// <param name="tile">The tile as defined for the viewer's choices.</param>
    public ProblemException? FaultOf(Tile tile, TileFilters filters)
    {
        if (Inputs.Faults.Count == 0)
            return null;
        var dataset = Live.Workspace.Datasets[tile.Dataset!];
        var fields = tile.Groups.Append(tile.Change).OfType<FieldAt>().Concat(Drilling.Levels(tile)).Concat(filters.Applied.SelectMany(f => f.Fields));
        var used = UsedParameters.Of(dataset, fields, tile.Show);
        return Inputs.Faults.Where(f => used.Contains(f.Key) || tile.Uses.Contains(f.Key)).Select(f => new ProblemException(422, f.Value.Code, f.Value.Message)).FirstOrDefault();
    }

    /// <summary>The dashboards that a viewer may open.</summary>
    public static IEnumerable<Dashboard> List(Viewer viewer, LiveWorkspace live)
    {
        // Only what is granted counts here, not any figure: the time does not matter.
        var scopes = live.Workspace.Datasets.Keys.Select(d => Scope.For(viewer, d, live.Workspace, Inputs.Whenever)).OfType<Scope>().ToDictionary(s => s.Name);
        return live.Workspace.Dashboards.Values.Select(d => Visible(Presentation.Chosen(d, Presentation.Offered(d, scopes), Inputs.Whenever), scopes).Dashboard).Where(IsThere).OrderBy(d => d.Title, StringComparer.Ordinal);
    }

    /// <summary>The dashboard of a name with the viewer's own view of it.</summary>
    /// <exception cref="ProblemException">There is none, or none that the viewer may see: the same answer.</exception>
    /// <param name="asked">What the viewer has set; opening values if null.</param>
    /// <param name="lenient">True to leave out what can't be meant of it.</param>
    /// <param name="faultsStay">True to leave out values that do not fit their parameter and remember them, for <see cref="FaultOf"/>.</param>
    public static DashboardFor Open(string name, Viewer viewer, LiveWorkspace live, Store.Views views, DateTimeOffset now, InputsRequest? asked = null, bool lenient = false, bool faultsStay = false)
    {
        if (!live.Workspace.Dashboards.TryGetValue(name, out var whole))
            throw ProblemException.UnknownDashboard(name);
        // What may be seen and chosen does not depend on the time or on what is set: before anything is said of that, it is settled
        // whether the dashboard is there for the viewer at all.
        var ever = ScopesOf(viewer, live, whole, Inputs.Whenever);
        var offered = Presentation.Offered(whole, ever);
        if (!IsThere(Visible(Presentation.Chosen(whole, offered, Inputs.Whenever), ever).Dashboard))
            throw ProblemException.UnknownDashboard(name);
        var inputs = ReadInputs(live, offered, ever, now, asked, lenient || faultsStay);
        // A name that is none of a parameter is nobody's value: it is told of at once.
        if (faultsStay && !lenient && inputs.Faults.Values.FirstOrDefault(f => f.Code == "unknown-parameter") is { } unknown)
            throw new ProblemException(422, unknown.Code, unknown.Message);
        var scopes = ScopesOf(viewer, live, whole, inputs);
        var (dashboard, withheld) = Visible(Presentation.Chosen(whole, offered, inputs), scopes);
        if (!IsThere(dashboard))
            throw ProblemException.UnknownDashboard(name);
        var view = views.Get(viewer.Name, name);
        var (arrangement, dropped) = PersonalView.Apply(dashboard, view.Edits);
        return new DashboardFor(offered, live, inputs, dashboard, withheld, scopes, view, dropped, arrangement, scopes.Keys.Where(d => Scope.ForDetail(viewer, d, live.Workspace, inputs) is not null).ToHashSet());
    }

    private static bool IsThere(Dashboard dashboard) => dashboard.Tiles.Any(t => t.Dataset is not null);

    /// <summary>The viewer's right on each dataset that a dashboard uses.</summary>
    private static Dictionary<string, Scope> ScopesOf(Viewer viewer, LiveWorkspace live, Dashboard dashboard, Inputs inputs) =>
        dashboard.Tiles.Select(t => t.Dataset).OfType<string>().Distinct().Select(d => Scope.For(viewer, d, live.Workspace, inputs)).OfType<Scope>().ToDictionary(s => s.Name);

    /// <summary>The dashboard with parameters as an address carries them: JSON, lists of texts by name. What can't be meant is left out, so that an old address opens.</summary>
    public static DashboardFor OpenAsSet(string name, Viewer viewer, LiveWorkspace live, Store.Views views, DateTimeOffset now, string? set)
    {
        try
        {
            var read = set is null ? null : JsonSerializer.Deserialize<Dictionary<string, IReadOnlyList<string>>>(set);
            return Open(name, viewer, live, views, now, read is null ? null : new InputsRequest(read, null), lenient: true);
        }
        catch (JsonException)
        {
            _ = Open(name, viewer, live, views, now);
            throw new ProblemException(422, "wrong-value", "set is JSON: lists of texts by the names of parameters.", """Write, for example, {"grain": ["month"]}.""");
        }
    }

    private static Inputs ReadInputs(LiveWorkspace live, IReadOnlyList<Parameter> offered, Dictionary<string, Scope> scopes, DateTimeOffset now, InputsRequest? asked, bool lenient)
    {
        if (asked?.Zone is { } named && !TimeZoneInfo.TryFindSystemTimeZoneById(named, out _))
            throw new ProblemException(422, "unknown-zone", $"There is no time zone {(named.Length <= 64 ? named : named[..64] + "…")}.", "Use a name such as Atlantic/Azores or UTC.");
        var local = TimeZoneInfo.ConvertTime(now, TimeZoneInfo.FindSystemTimeZoneById(asked?.Zone ?? live.Workspace.TimeZone)).DateTime;
        if (asked?.Parameters is not { Count: > 0 } set)
            return Inputs.At(local);
        if (set.Count > 100 || set.Values.Any(v => v is null || v.Contains(null!)))
            throw new ProblemException(422, "wrong-value", "A parameter has a list of texts, and at most 100 can be set.");
        var (inputs, fault) = Inputs.Read(local, set, ParametersOf(offered, scopes), lenient);
        return inputs ?? throw new ProblemException(422, fault!.Code, fault.Message);
    }

    /// <summary>The parameters that a viewer may set on a dashboard: those that are offered, and those of its datasets that the viewer may read.</summary>
    private static Dictionary<string, Parameter> ParametersOf(IReadOnlyList<Parameter> offered, Dictionary<string, Scope> scopes)
    {
        var all = offered.ToDictionary(p => p.Name);
        foreach (var parameter in scopes.Values.SelectMany(s => s.Parameters.Values))
            all.TryAdd(parameter.Name, parameter);
        return all;
    }

    /// <summary>A parameter with the right on the dataset that has it.</summary>
    /// <exception cref="ProblemException">The viewer has no such parameter here.</exception>
    public (Parameter Parameter, Scope Scope) ParameterNamed(string name) =>
        Setting(name) ?? throw new ProblemException(404, "unknown-parameter", $"There is no parameter {(name.Length <= 64 ? name : name[..64] + "…")} here.");

    /// <summary>A parameter of a dataset with the right on it; null if it is the dashboard's own or none of the viewer's.</summary>
    public (Parameter Parameter, Scope Scope)? Setting(string name) =>
        UsedScopes().Where(s => s.Parameters.ContainsKey(name)).Select(s => ((Parameter, Scope)?)(s.Parameters[name], s)).FirstOrDefault();

    private IEnumerable<Scope> UsedScopes() => Dashboard.Tiles.Select(t => t.Dataset).OfType<string>().Distinct().Select(d => Scopes[d]);

    private static (Dashboard Dashboard, int Withheld) Visible(Dashboard whole, Dictionary<string, Scope> scopes)
    {
        Tile? See(Tile tile) => tile.Dataset is null ? tile : scopes.TryGetValue(tile.Dataset, out var scope) ? Fields.Visible(tile, scope) : null;
        var tabs = whole.Tabs.Select(t => t with { Tiles = [.. t.Tiles.Select(See).OfType<Tile>()] }).Where(t => t.Tiles.Count > 0).ToList();
        var visible = whole with { Tabs = tabs };
        // Wiring to a tile that the viewer may not see would tell its name.
        var names = visible.Tiles.Select(t => t.Name).ToHashSet();
        Reach Known(Reach reach) => reach with { Tiles = [.. reach.Tiles.Where(names.Contains)] };
        visible = visible with { Tabs = [.. tabs.Select(t => t with { Groups = [.. t.Groups.Select(g => g with { Drives = Known(g.Drives) })], Tiles = [.. t.Tiles.Select(x => x with { Drives = Known(x.Drives), Follows = Known(x.Follows) })] })] };
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
        return [.. json.Select(j => Read(Tile(j.Key), j.Value) is var (selection, fault) && selection is not null ? selection : throw new ProblemException(422, fault!.Code, fault.Message))];
    }

    /// <summary>Selections of a link, each with its tile as far as the viewer has it; null in place of what can't be meant.</summary>
    public IEnumerable<(Tile? Tile, Selection? Selection)> Readable(Dictionary<string, JsonElement> json) => json.Take(100).Select(j =>
        Arrangement.Tiles.FirstOrDefault(t => t.Tile.Name == j.Key && t.Tile.Dataset is not null)?.Tile is { } tile ? (tile, Read(tile, j.Value).Selection) : (null, null));

    private (Selection? Selection, SelectionFault? Fault) Read(Tile tile, JsonElement json) => tile.Dataset is null
        ? (null, new SelectionFault("not-pickable", $"Nothing can be picked on the tile {tile.Name}."))
        : SelectionReader.Read(tile, ScopeOf(tile), json, Inputs.Now, Live.Workspace.WeekStart);

    /// <summary>The plan of a tile under selections.</summary>
    /// <param name="filters">See <see cref="Filters"/>.</param>
    public TilePlan Plan(Tile tile, TileFilters filters, IReadOnlyList<Selection> selections)
    {
        var scope = ScopeOf(tile);
        var rows = Live.Workspace.Sources[scope.Source].Limits.Rows;
        return Live.Planner.Plan(tile, scope, filters, tile.Picture.Question == QuestionShape.Options ? Math.Min(rows, MemberEndpoints.MostOptions) : rows, selections.FirstOrDefault(s => s.Tile == tile.Name));
    }

    public TileFilters Filters(Tile tile, IReadOnlyList<Selection> selections) =>
        Wiring.FiltersOf(tile, Dashboard, Arrangement, selections, Scopes, Live.Workspace.WeekStart);

    /// <summary>
    /// Asks for the names of the members that are picked, for <see cref="Describe"/>: those of keys stand with the data, and where a
    /// row rule takes rows away, a name is told only if the viewer has a row of it. Where the answer is not to be had, codes stay codes.
    /// </summary>
    public async Task LearnNames(IReadOnlyList<Selection> selections, Func<Query, CancellationToken, Task<QueryAnswer?>> look, CancellationToken cancellation)
    {
        var picked = selections.SelectMany(s =>
        {
            var (tile, level) = (Tile(s.Tile), Level(s));
            var members = s.Members.Concat(s.RestOf?.Take(3) ?? []);
            return level.By.Select((b, i) => (Dataset: tile.Dataset!, At: b, Values: members.Select(m => m[i])))
                .Concat(s.Path.Select((v, i) => (Dataset: tile.Dataset!, At: Drilling.Levels(tile)[i], Values: Enumerable.Repeat(v, 1))));
        }).Where(p => p.At.Member is null && IsLookedUp(p.At, Scopes[p.Dataset])).GroupBy(p => (p.Dataset, p.At.Field));
        foreach (var field in picked)
        {
            var scope = Scopes[field.Key.Dataset];
            List<IReadOnlyList<object?>> members = [.. field.SelectMany(p => p.Values).OfType<object>().Distinct().Select(v => new[] { v })];
            if (members.Count == 0)
                continue;
            IReadOnlyList<FieldAt> fields = [new FieldAt(field.Key.Field, null)];
            var among = Conditions.Of(new Selection("", members, null), fields, scope, Live.Workspace.WeekStart);
            if (await look(Live.Planner.Present(fields, scope, among, members.Count), cancellation) is not { } answer)
                continue;
            var present = answer.Table.Values[0].OfType<object>().Select(Values.Write).ToHashSet();
            _names[field.Key] = answer.Table.Columns[0].Names!.Where(n => present.Contains(n.Key)).ToDictionary();
        }
    }

    /// <summary>The names that were learned, by tile and field.</summary>
    public IReadOnlyDictionary<string, IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>>> NamesBy(IEnumerable<Tile> tiles) => tiles.ToDictionary(
        t => t.Name, t => (IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>>)_names.Where(n => n.Key.Dataset == t.Dataset).ToDictionary(n => n.Key.Field, n => n.Value));

    /// <summary>True if the names of a field's members are not all the viewer's to know without asking.</summary>
    private static bool IsLookedUp(FieldAt at, Scope scope) => scope.Fields[at.Field] is { HasNames: true } field && (field.NamedBy is not null || scope.Restricted);

    /// <summary>The column that writes a picked member, with such names only as the viewer may know.</summary>
    private Column Written(FieldAt at, Scope scope)
    {
        var column = Live.Planner.Group(at, scope).Column;
        return at.Member is null && IsLookedUp(at, scope) ? column with { Names = _names.GetValueOrDefault((scope.Name, at.Field)) } : column;
    }

    /// <summary>The filters of a tile in words.</summary>
    public FiltersInfo Describe(TileFilters filters)
    {
        var tabs = Arrangement.Tabs.ToDictionary(t => t.Name, t => t.Title);
        var tabOf = Arrangement.TabOf();
        string Title(string tile) => Wire.TitleOf(Tile(tile), ScopeOf(Tile(tile)));
        return new FiltersInfo(
            [.. filters.Applied.Select(f => new AppliedInfo(
                f.Selection.Tile, Title(f.Selection.Tile), tabs[tabOf[f.Selection.Tile]],
                string.Join(" and ", Named(f.Selection).Select(b => Titles.OfField(b, ScopeOf(Tile(f.Selection.Tile)).Fields[b.Field].Title))),
                Members(f.Selection)))],
            [.. filters.NotApplied.Select(f => new NotAppliedInfo(f.Selection.Tile, Title(f.Selection.Tile), f.Reason.ToString(), Sentence(f.Reason, Title(f.Selection.Tile))))]);
    }

    /// <summary>The fields that a selection names: those of the level that it is on, or, where only levels are open, those of its path.</summary>
    private IReadOnlyList<FieldAt> Named(Selection selection) =>
        selection.IsEmpty ? [.. Drilling.Levels(Tile(selection.Tile)).Take(selection.Path.Count)] : Level(selection).By;

    private Tile Level(Selection selection) => Drilling.At(Tile(selection.Tile), selection.Path);

    /// <summary>What is picked in words, a piece for each member.</summary>
    private List<string> Members(Selection selection)
    {
        var (tile, level) = (Tile(selection.Tile), Level(selection));
        var scope = ScopeOf(tile);
        var columns = level.By.Select(b => Written(b, scope)).ToList();
        string Write(IReadOnlyList<object?> member) => string.Join(" · ", member.Select((v, i) => Labels.Write(v, columns[i])));
        var members = selection.Members.Select(Write).ToList();
        if (selection.RestOf is { } shown)
            members.Add($"{Labels.Rest} (not {string.Join(", ", shown.Take(3).Select(Write))}{(shown.Count > 3 ? $" and {shown.Count - 3} more" : "")})");
        if (selection.Range is { } range)
            members.Add(selection.Period ?? Range(range, columns[0]));
        if (selection.Contains is { } piece)
            members.Add($"contains “{piece}”");
        if (selection.Excludes)
            members = [.. members.Select(m => $"not {m}")];
        if (tile.Drill is { Drives: true } && selection.Path.Count > 0)
            members.Insert(0, (selection.IsEmpty ? "" : "within ") + string.Join(" › ", selection.Path.Select((m, i) => Labels.Write(m, Written(Drilling.Levels(tile)[i], scope)))));
        return members;
    }

    private static string Range(PickedRange range, Column column)
    {
        // The end of dates is excluded; people name the last day that counts.
        string Write(object value) => value is DateTime or DateOnly && Periods.Instant(value).TimeOfDay == TimeSpan.Zero
            ? Periods.Instant(value).ToString("d MMM yyyy", System.Globalization.CultureInfo.InvariantCulture) : Labels.Write(value, column with { At = null });
        object Last(object to) => to is DateTime or DateOnly && Periods.Instant(to).TimeOfDay == TimeSpan.Zero ? Periods.Instant(to).AddDays(-1) : to;
        return (range.From, range.To) switch
        {
            ({ } from, { } to) => $"{Write(from)} to {(range.EndsBelow ? "below " : "")}{Write(Last(to))}",
            ({ } from, null) => $"from {Write(from)}",
            (null, { } to) => $"{(range.EndsBelow ? "below" : "up to")} {Write(Last(to))}",
            _ => "all",
        };
    }

    private static string Sentence(NotAppliedReason reason, string driver) => reason switch
    {
        NotAppliedReason.OwnSelection => "A tile is never filtered by its own selection.",
        NotAppliedReason.FollowsNone => "This tile follows no other.",
        NotAppliedReason.NotFollowed => $"This tile does not follow {driver}.",
        NotAppliedReason.OtherGroup => $"{driver} filters its own group only.",
        NotAppliedReason.OtherTab => $"{driver} filters its own tab only.",
        NotAppliedReason.NotDriven => $"{driver} does not drive this tile.",
        _ => $"The data of this tile have no field that means what is picked on {driver}.",
    };

    private TileInfo Info(ArrangedTile arranged) => arranged.Tile.Dataset is { } dataset
        ? Wire.Tile(arranged, Scopes[dataset], Live.Workspace.Sources[Scopes[dataset].Source], _detailed.Contains(dataset))
        : Wire.Tile(arranged, null, null, false);

    /// <summary>Who drives whom, in the viewer's own arrangement.</summary>
    public IEnumerable<WireInfo> WiringLines()
    {
        string Title(string tile) => Wire.TitleOf(Tile(tile), ScopeOf(Tile(tile)));
        return WiringMap.Of(Dashboard, Arrangement, Scopes).Select(w => new WireInfo(
            w.Driver, Title(w.Driver), w.Follower, Title(w.Follower), w.Refusal?.ToString(), w.Refusal is { } reason ? Sentence(reason, Title(w.Driver)) : null, [.. w.Fields.Select(f => f.ToString())]));
    }

    /// <summary>The dashboard as it travels.</summary>
    public DashboardPage Page() => new DashboardPage(
        Dashboard.Name, Dashboard.Title, Dashboard.Description, Live.Version.Number, Live.Workspace.WeekStart.ToString().ToLowerInvariant(), Live.Workspace.TimeZone,
        [.. _offered.Select(p => Wire.Parameter(p, Inputs, presents: true, [])), .. UsedScopes().SelectMany(s => s.Parameters.Values).DistinctBy(p => p.Name).Select(p => Wire.Parameter(p, Inputs, presents: false, [.. UsedScopes().Where(s => s.Parameters.ContainsKey(p.Name)).Select(s => s.Name)]))],
        [.. Arrangement.Tabs.Select(t => new TabInfo(t.Name, t.Title, t.Own, [.. t.Tiles.Select(Info)], [.. t.Tiles.Select(x => Dashboard.GroupNamed(x.Tile.Group)).OfType<TileGroup>().Distinct().Select(Wire.Group)]))],
        Withheld,
        new ViewInfo(View.Edits.Count > 0 && View.Edits[^1] is not ViewEdit.Reset, View.CanUndo, View.CanRedo, [.. Dropped.Select(d => d.Reason).Distinct()],
            PersonalView.Kept(View.Edits) is { } kept ? Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(JsonSerializer.SerializeToUtf8Bytes(kept)))[..16] : null),
        Dashboard.AppliesOnButton, Arrangement.Tiles.Any(t => t.Tile.Opening is not null));
}
