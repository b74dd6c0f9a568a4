using System.Text.Json;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Views;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Store;

namespace Weir.Service.Asking;

/// <summary>
/// A dashboard as one viewer may see it: what is not granted is not there at all. Every route that reads data begins here,
/// so that nothing is planned without the viewer's scopes.
/// </summary>
internal sealed class OpenDashboard
{
    private OpenDashboard(
        IReadOnlyList<Parameter> offered,
        LiveWorkspace live,
        Viewing viewing,
        Dashboard dashboard,
        int withheld,
        IReadOnlyDictionary<string, Scope> scopes,
        ViewFold fold,
        StoredView view,
        IReadOnlyDictionary<string, Drawing> visit
    )
    {
        Offered = offered;
        Live = live;
        Viewing = viewing;
        Dashboard = dashboard;
        Withheld = withheld;
        Scopes = scopes;
        Fold = fold;
        View = view;
        Visit = visit;
        (Undrawn, var dropped) = PersonalView.Apply(fold, view.Edits);
        Drawn = DrawnView.Of(Undrawn, scopes, visit);
        Dropped = [.. dropped.Select(d => d.Reason), .. Drawn.Refused.Select(r => $"{TitleOf(r.Key)} can't be drawn as it was: {r.Value}")];
    }

    public LiveWorkspace Live { get; }

    /// <summary>Which of the viewer's views is open.</summary>
    public required ViewKey Key { get; init; }

    /// <summary>The viewer's views with names.</summary>
    public IReadOnlyList<NamedView> Named => _named.Value;

    private Lazy<IReadOnlyList<NamedView>> _named = null!;

    /// <summary>The view of somebody else that is open; null for one of the viewer's own.</summary>
    public ViewShare? Shared { get; private init; }

    /// <summary>What others share with the viewer, by name or by role.</summary>
    public required Func<IReadOnlyList<ViewShare>> SharedWithViewer { get; init; }

    /// <summary>True if the viewer may have views of their own.</summary>
    public bool MayHaveViews { get; private init; }

    /// <summary>True if the viewer may change the view that is open.</summary>
    public bool MayArrange { get; private init; }

    /// <summary>True for a draft before whoever designs it: what is done to its page is written into its text.</summary>
    public bool IsDesigned { get; private init; }

    /// <summary>True if the viewer may move things, in a view of their own or in the draft.</summary>
    public bool MayMove => MayArrange || IsDesigned;

    /// <summary>True if the viewer may let others see their views.</summary>
    public bool MayShare { get; private init; }

    /// <summary>True if the viewer may take rows away as a file.</summary>
    public bool MayExport { get; private init; }

    /// <summary>True if the viewer's roles let them have a draft of it.</summary>
    public bool MayDesign { get; private init; }

    /// <summary>The dashboard's own parameters, with the choices that the viewer has.</summary>
    public IReadOnlyList<Parameter> Offered { get; }

    /// <summary>True if the viewer may see single rows of a dataset.</summary>
    public bool MayDetail(string dataset) => Scopes[dataset].GrantsDetail;

    /// <summary>The time of viewing and the parameters that are set.</summary>
    public Viewing Viewing { get; }

    /// <summary>The published dashboard, less what the viewer may not see.</summary>
    public Dashboard Dashboard { get; }

    public int Withheld { get; }

    public IReadOnlyDictionary<string, Scope> Scopes { get; }

    public StoredView View { get; }

    /// <summary>The version on which the viewer last changed the view, where another is published by now.</summary>
    public long? Since => View.Version is var made and > 0 && made < Live.Version.Number ? made : null;

    /// <summary>What of the view the dashboard no longer has, as sentences.</summary>
    public IReadOnlyList<string> Dropped { get; }

    /// <summary>How tiles are drawn for this visit, as far as that can be meant.</summary>
    public IReadOnlyDictionary<string, Drawing> Visit { get; }

    /// <summary>The dashboard in its opening view for this viewer, and what edits make of it.</summary>
    public ViewFold Fold { get; }

    /// <summary>How the columns and lines of tables stand in the opening view, by tile, where not as they are defined.</summary>
    public IReadOnlyDictionary<string, TableColumns> PublishedTables =>
        _publishedTables ??= Fold.Opening.Tiles.Where(t => t.Columns is not null).ToDictionary(t => t.Tile.Name, t => t.Columns!);

    private IReadOnlyDictionary<string, TableColumns>? _publishedTables;

    /// <summary>The viewer's arrangement with its tiles as they are defined.</summary>
    public Arrangement Undrawn { get; }

    /// <summary>The viewer's arrangement with its tiles as they are drawn.</summary>
    public DrawnView Drawn { get; }

    /// <summary>See <see cref="Drawn"/>.</summary>
    public Arrangement Arrangement => Drawn.Arrangement;

    /// <summary>Why a tile has no answer, where a parameter that it depends on is set to what can't be meant; null if none is.</summary>
    /// <param name="tile">The tile as defined for the viewer's choices.</param>
    public ProblemException? FaultOf(Tile tile, TileFilters filters)
    {
        if (Viewing.Faults.Count == 0)
            return null;
        var dataset = Live.Workspace.Datasets[tile.Dataset!];
        var fields = tile.NamedFields.Concat(filters.Applied.SelectMany(f => f.Fields));
        var used = UsedParameters.Of(dataset, fields, tile.NamedMeasures);
        return Viewing
            .Faults.Where(f => used.Contains(f.Key) || tile.Uses.Contains(f.Key))
            .Select(f => new ProblemException(422, f.Value.Code, f.Value.Message))
            .FirstOrDefault();
    }

    /// <summary>The dashboards that a viewer may open.</summary>
    public static IEnumerable<Dashboard> List(Viewer viewer, LiveWorkspace live)
    {
        // Only what is granted counts here, not any figure: the time does not matter.
        var scopes = live
            .Workspace.Datasets.Keys.Select(d => Scope.For(viewer, d, live.Workspace, Viewing.Whenever))
            .OfType<Scope>()
            .ToDictionary(s => s.Name);
        return live
            .Workspace.Dashboards.Values.Where(d => viewer.May(DashboardActs.See, d.Name, live.Workspace))
            .Select(d => AsGranted(DashboardPart.Of(viewer, d, live.Workspace), scopes))
            .Where(IsThere)
            .OrderBy(d => d.Title, StringComparer.Ordinal);
    }

    /// <summary>True if a viewer may open a dashboard.</summary>
    public static bool IsThereFor(Viewer viewer, Dashboard whole, LiveWorkspace live) =>
        viewer.May(DashboardActs.See, whole.Name, live.Workspace)
        && DashboardPart.Of(viewer, whole, live.Workspace) is var part
        && IsThere(AsGranted(part, ScopesOf(viewer, live, part)));

    /// <summary>True if there is anything of a dashboard for a viewer who is let see it.</summary>
    public static bool HasAnythingFor(Viewer viewer, Dashboard whole, LiveWorkspace live) =>
        IsThere(AsGranted(whole, ScopesOf(viewer, live, whole)));

    /// <summary>What of a dashboard a viewer may see, whatever the time.</summary>
    private static Dashboard AsGranted(Dashboard whole, Dictionary<string, Scope> scopes) =>
        Visible(Presentation.Chosen(whole, Presentation.Offered(whole, scopes), Viewing.Whenever), scopes).Dashboard;

    /// <summary>The dashboard of a name with the viewer's own view of it.</summary>
    /// <param name="asked">What the viewer has set; opening values if null.</param>
    /// <exception cref="ProblemException">There is none, or none that the viewer may see: the same answer.</exception>
    public static OpenDashboard Open(string name, Opener by, ViewingRequest? asked = null, OpeningWay? how = null)
    {
        var (viewer, live, views, now) = by;
        how ??= new OpeningWay();
        var there = ThereFor(name, viewer, live);
        var mine = ViewOf(name, by, there, asked?.View, how.AsPublished);
        // Whoever designs moves what the text says, and not what an opening view makes of it.
        var promoted = there.IsDesigned ? null : PromotedView.For(viewer, name, live.Workspace);
        IReadOnlyList<ViewEdit> made = promoted is null ? mine.View.Edits : [.. PromotedView.EditsOf(promoted), .. mine.View.Edits];
        // Few add tiles: for all others catalogues cost nothing.
        IReadOnlyList<Catalogue> catalogues =
            how.WithCatalogues || made.Any(e => e is ViewEdit.AddTile) ? [.. CataloguesFor(viewer, live, there.Ever)] : [];
        var makeable = MadeOf(viewer, live, how.Making is null ? made : [.. made, how.Making], there.Ever);
        (var visit, asked) = VisitDrawings.Apart(asked, how.IsLenient || how.FaultsStay);
        var viewing = ReadViewing(live, there.Offered, there.Ever, now, asked, how.IsLenient || how.FaultsStay);
        // A name that is none of a parameter is nobody's value: it is told of at once.
        if (how.FaultsStay && !how.IsLenient && viewing.Faults.Values.FirstOrDefault(f => f.Code == "unknown-parameter") is { } unknown)
            throw new ProblemException(422, unknown.Code, unknown.Message);
        var scopes = there.Ever.ToDictionary(s => s.Key, s => s.Value.At(viewing));
        // What others look at is never a sample.
        if (how.Sample is { } percent && there.IsDesigned)
            scopes = scopes.ToDictionary(s => s.Key, s => s.Value.Sampled(percent));
        var (dashboard, withheld) = Visible(Presentation.Chosen(there.Whole, there.Offered, viewing), scopes, withEmpty: there.IsDesigned);
        if (!there.IsBare && !IsThere(dashboard))
            throw ProblemException.UnknownDashboard(name);
        dashboard = dashboard with { Catalogues = catalogues };
        var fold = new ViewFold(dashboard) { Makeable = makeable.ToDictionary(d => d, d => scopes[d]) };
        if (promoted is not null)
            fold = fold.As(PromotedView.LayersOf(promoted), scopes);
        var view = mine.Shared is null ? mine.View : mine.View with { Edits = PersonalView.Fitting(fold, scopes, mine.View.Edits) };
        var open = new OpenDashboard(there.Offered, live, viewing, dashboard, withheld, scopes, fold, view, visit)
        {
            Key = mine.Key,
            _named = mine.Named,
            Shared = mine.Shared,
            SharedWithViewer = () => views.SharedWith(viewer.Name, viewer.Roles, name),
            MayHaveViews = mine.MayArrange,
            MayArrange = mine.MayArrange && mine.Shared is null,
            IsDesigned = there.IsDesigned,
            MayShare = mine.MayArrange && viewer.May(DashboardActs.Share, name, live.Workspace),
            MayExport = viewer.May(DashboardActs.Export, name, live.Workspace),
            MayDesign =
                viewer.May(Acts.Publish, live.Workspace) && !live.IsShared
                || viewer.May(DashboardActs.Design, name, live.Workspace)
                || there.IsDraft && !live.IsShared && viewer.May(Acts.Own, live.Workspace),
        };
        // What was said of a tile in a request is held against it; of what an address carries, the page is told.
        if (!how.IsLenient && !how.FaultsStay && visit.Keys.Select(open.VisitFault).FirstOrDefault(f => f is not null) is { } fault)
            throw new ProblemException(422, "cannot-draw", fault);
        return open;
    }

    /// <summary>What of a dashboard is there for a viewer, whatever the time and whatever is set.</summary>
    /// <param name="Whole">As it is defined, without what the viewer's roles grant nothing of.</param>
    /// <param name="IsDraft">True for a draft, and <paramref name="IsDesigned"/> where it is before whoever designs it.</param>
    /// <param name="Ever">The viewer's right on each dataset.</param>
    /// <param name="Offered">See <see cref="OpenDashboard.Offered"/>.</param>
    /// <param name="IsBare">True for a draft that has no tiles yet.</param>
    private sealed record There(
        Dashboard Whole,
        bool IsDraft,
        bool IsDesigned,
        Dictionary<string, Scope> Ever,
        IReadOnlyList<Parameter> Offered,
        bool IsBare
    );

    /// <summary>
    /// What may be seen and chosen does not depend on the time or on what is set: before anything is said of that, it is settled whether
    /// the dashboard is there for the viewer at all.
    /// </summary>
    /// <exception cref="ProblemException">It is not.</exception>
    private static There ThereFor(string name, Viewer viewer, LiveWorkspace live)
    {
        // A draft is there for whoever works on it, though no role has the dashboard yet, and for nobody else.
        var isDraft = live.DraftOf == name;
        if (
            !live.Workspace.Dashboards.TryGetValue(name, out var whole)
            || (!isDraft && !viewer.May(DashboardActs.See, name, live.Workspace))
        )
            throw ProblemException.UnknownDashboard(name);
        var isDesigned = isDraft && !live.IsShared && viewer.LookedAsBy is null;
        // No role has a say in a dashboard of somebody's own.
        whole =
            isDesigned ? LaidOut.Freed(whole)
            : live.IsShared && isDraft ? whole
            : DashboardPart.Of(viewer, whole, live.Workspace);
        var ever = ScopesOf(viewer, live, whole);
        var offered = Presentation.Offered(whole, ever);
        // A draft begins without any tiles.
        var isBare = isDesigned && !IsThere(whole);
        return isBare || IsThere(Visible(Presentation.Chosen(whole, offered, Viewing.Whenever), ever).Dashboard)
            ? new There(whole, isDraft, isDesigned, ever, offered, isBare)
            : throw ProblemException.UnknownDashboard(name);
    }

    /// <summary>Which view of a dashboard is open, with its edits.</summary>
    /// <param name="MayArrange">True if the viewer may have views of their own.</param>
    private sealed record Viewed(ViewKey Key, Lazy<IReadOnlyList<NamedView>> Named, ViewShare? Shared, StoredView View, bool MayArrange);

    /// <summary>The view of a dashboard that is asked for.</summary>
    /// <param name="view">Its name; null for the one that opens first.</param>
    /// <exception cref="ProblemException">There is no such view for the viewer.</exception>
    private static Viewed ViewOf(string name, Opener by, There there, string? view, bool asPublished)
    {
        var (viewer, live, views, _) = by;
        // A draft is drawn as it would be published: nobody's view changes it.
        var mayArrange = !there.IsDraft && viewer.May(DashboardActs.Arrange, name, live.Workspace);
        // Who may not arrange it (any more) has it as its developer does: what they could not take back must not act either. Who looks
        // as another sees what the other has.
        var hasViews =
            !asPublished
            && (
                mayArrange
                || !there.IsDraft
                    && viewer is { LookedAsBy: not null }
                    && (viewer with { LookedAsBy = null }).May(DashboardActs.Arrange, name, live.Workspace)
            );
        // Pages say which view they mean, mostly the one without a name: then nobody asks which others there are.
        var named = new Lazy<IReadOnlyList<NamedView>>(() => hasViews ? views.Named(viewer.Name, name) : []);
        var key = new ViewKey(viewer.Name, name, view ?? named.Value.FirstOrDefault(v => v.OpensFirst)?.View ?? "");
        var shared = SharedView(key, viewer, views);
        if (shared is null && key.View.Length > 0 && named.Value.All(v => v.View != key.View))
            throw ProblemException.UnknownView(key.View);
        var stored =
            shared is not null ? EditsOf(shared, views)
            : hasViews ? views.Get(key)
            : new StoredView([], 0, 0);
        return new Viewed(key, named, shared, stored, mayArrange);
    }

    private string? VisitFault(string tile) =>
        Arrangement.Tiles.FirstOrDefault(t => t.Tile.Name == tile) is not { } found ? $"There is no tile {tile} here."
        : !found.May.HasFlag(Changes.Draw) ? $"How {tile} is drawn stays as its developer has it."
        : Drawn.Refused.GetValueOrDefault(tile);

    /// <summary>
    /// The catalogues that the viewer may add tiles from, each with the tiles that the viewer may see; the rights on their datasets come to
    /// <paramref name="scopes"/>.
    /// </summary>
    internal static IEnumerable<Catalogue> CataloguesFor(Viewer viewer, LiveWorkspace live, Dictionary<string, Scope> scopes)
    {
        foreach (var catalogue in live.Workspace.Catalogues.Values.OrderBy(c => c.Title, StringComparer.Ordinal))
        {
            if (!viewer.MayAddFrom(catalogue, live.Workspace))
                continue;
            foreach (var dataset in catalogue.Tiles.Select(t => t.Dataset).OfType<string>().Where(d => !scopes.ContainsKey(d)).Distinct())
                if (Scope.For(viewer, dataset, live.Workspace, Viewing.Whenever) is { } scope)
                    scopes[dataset] = scope;
            // Of a dashboard, only what stands in an area that the viewer may see.
            var granted = catalogue.OfDashboard is { } of
                ? DashboardPart.Of(viewer, live.Workspace.Dashboards[of], live.Workspace).Tiles.Select(t => t.Name).ToHashSet()
                : null;
            // Parameters are those of the dashboard that has them: elsewhere its tiles are drawn as they open.
            var tiles = catalogue
                .Tiles.Where(t => granted?.Contains(t.Name) != false)
                .Select(t => t with { Uses = [], Variants = new Dictionary<string, Tile>() })
                .Select(t =>
                    t.Dataset is null ? t
                    : scopes.TryGetValue(t.Dataset, out var s) ? Fields.Visible(t, s)
                    : null
                )
                .OfType<Tile>()
                .ToList();
            if (tiles.Count > 0)
                yield return catalogue with
                {
                    Tiles = tiles,
                };
        }
    }

    /// <summary>The datasets of tiles that viewers made themselves, as far as they are granted; the rights on them come to <paramref name="scopes"/>.</summary>
    private static List<string> MadeOf(Viewer viewer, LiveWorkspace live, IEnumerable<ViewEdit> edits, Dictionary<string, Scope> scopes)
    {
        var of = PromotedView.DatasetsMadeOf(edits).ToList();
        foreach (var dataset in of.Where(d => !scopes.ContainsKey(d)))
            if (Scope.For(viewer, dataset, live.Workspace, Viewing.Whenever) is { } scope)
                scopes[dataset] = scope;
        return [.. of.Where(scopes.ContainsKey)];
    }

    /// <summary>The same dashboard with the viewer's view as it is by now: nothing of what may be seen is worked out anew.</summary>
    public OpenDashboard WithView(StoredView view)
    {
        return new OpenDashboard(Offered, Live, Viewing, Dashboard, Withheld, Scopes, Fold, view, Visit)
        {
            Key = Key,
            _named = _named,
            Shared = Shared,
            SharedWithViewer = SharedWithViewer,
            MayHaveViews = MayHaveViews,
            MayArrange = MayArrange,
            IsDesigned = IsDesigned,
            MayShare = MayShare,
            MayExport = MayExport,
            MayDesign = MayDesign,
        };
    }

    /// <summary>At most so many tiles of catalogues are looked at before they are added, at once.</summary>
    private const int MaximumPreviews = 20;

    /// <summary>Under what name a tile of a catalogue is looked at before it is added.</summary>
    public static string PreviewName(string shared) => $"{PersonalView.OwnPrefix}preview-{shared.Replace('/', '.')}";

    /// <summary>The same dashboard with tiles of catalogues as they would be if the viewer added them.</summary>
    /// <exception cref="ProblemException">One is not offered to this viewer, or nothing may be added here.</exception>
    public OpenDashboard Previewing(IReadOnlyList<string> shared)
    {
        if (shared.Count > MaximumPreviews || shared.Any(s => s is null))
            throw new ProblemException(422, "too-many-tiles", $"At most {MaximumPreviews} tiles of catalogues can be asked for at once.");
        var tab = Undrawn.Tabs.FirstOrDefault(t => t.May.HasFlag(Changes.Add))?.Name ?? Undrawn.Tabs[0].Name;
        var edits = shared.Distinct().Select(s => new ViewEdit.AddTile(PreviewName(s), s, tab)).ToList();
        var open = MayArrange ? WithView(View with { Edits = [.. View.Edits, .. edits] }) : this;
        return edits.All(e => open.Arrangement.Tiles.Any(t => t.Tile.Name == e.Tile))
            ? open
            : throw new ProblemException(404, "unknown-tile", "A tile that is asked for is not offered here.");
    }

    /// <summary>Before the id of a share, where a view is named.</summary>
    public const string SharedPrefix = "shared-";

    /// <summary>The share that a view's name means; null if it names one of the viewer's own.</summary>
    /// <exception cref="ProblemException">There is none (any more), or none for this viewer: the same answer.</exception>
    private static ViewShare? SharedView(ViewKey key, Viewer viewer, Store.Views views)
    {
        if (!key.View.StartsWith(SharedPrefix, StringComparison.Ordinal))
            return null;
        var shared = views.Shared(key.View[SharedPrefix.Length..], key.Dashboard);
        return shared is not null && shared.IsFor(viewer.Name, viewer.Roles) ? shared : throw ProblemException.UnknownView(key.View);
    }

    /// <summary>Somebody else's view, before it is held against what this viewer may see.</summary>
    private static StoredView EditsOf(ViewShare shared, Store.Views views)
    {
        var live = shared.Copy is null ? views.Get(shared.Of) : null;
        return new StoredView(live?.Edits ?? shared.Copy!, 0, 0, live?.Last ?? 0);
    }

    private static bool IsThere(Dashboard dashboard) => dashboard.Tiles.Any(t => t.Dataset is not null);

    /// <summary>The viewer's right on each dataset that a dashboard uses, whatever the time.</summary>
    private static Dictionary<string, Scope> ScopesOf(Viewer viewer, LiveWorkspace live, Dashboard dashboard) =>
        dashboard
            .Tiles.Select(t => t.Dataset)
            .OfType<string>()
            .Distinct()
            .Select(d => Scope.For(viewer, d, live.Workspace, Viewing.Whenever))
            .OfType<Scope>()
            .ToDictionary(s => s.Name);

    /// <summary>
    /// The dashboard with parameters as an address carries them: JSON, lists of texts by name. What can't be meant is left out, so that an
    /// old address opens.
    /// </summary>
    public static OpenDashboard OpenAsSet(string name, Opener by, string? set, string? view, OpeningWay? how = null)
    {
        try
        {
            var read = set is null ? null : JsonSerializer.Deserialize<Dictionary<string, IReadOnlyList<string>>>(set);
            return Open(name, by, new ViewingRequest(read, null, view), (how ?? new OpeningWay()) with { IsLenient = true });
        }
        catch (JsonException)
        {
            _ = Open(name, by, new ViewingRequest(null, null, view));
            throw new ProblemException(
                422,
                "wrong-value",
                "set is JSON: lists of texts by the names of parameters.",
                """Write, for example, {"grain": ["month"]}."""
            );
        }
    }

    private static Viewing ReadViewing(
        LiveWorkspace live,
        IReadOnlyList<Parameter> offered,
        Dictionary<string, Scope> scopes,
        DateTimeOffset now,
        ViewingRequest? asked,
        bool lenient
    )
    {
        if (asked?.Zone is { } named && !TimeZoneInfo.TryFindSystemTimeZoneById(named, out _))
            throw new ProblemException(
                422,
                "unknown-zone",
                $"There is no time zone {(named.Length <= 64 ? named : named[..64] + "…")}.",
                "Use a name such as Atlantic/Azores or UTC."
            );
        var local = TimeZoneInfo.ConvertTime(now, TimeZoneInfo.FindSystemTimeZoneById(asked?.Zone ?? live.Workspace.TimeZone)).DateTime;
        if (asked?.Parameters is not { Count: > 0 } set)
            return Viewing.At(local);
        if (set.Count > 100 || set.Values.Any(v => v is null || v.Contains(null!)))
            throw new ProblemException(422, "wrong-value", "A parameter has a list of texts, and at most 100 can be set.");
        var (viewing, fault) = Viewing.Read(local, set, ParametersOf(offered, scopes), lenient);
        return viewing ?? throw new ProblemException(422, fault!.Code, fault.Message);
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
        Setting(name)
        ?? throw new ProblemException(
            404,
            "unknown-parameter",
            $"There is no parameter {(name.Length <= 64 ? name : name[..64] + "…")} here."
        );

    /// <summary>A parameter of a dataset with the right on it; null if it is the dashboard's own or none of the viewer's.</summary>
    public (Parameter Parameter, Scope Scope)? Setting(string name) =>
        UsedScopes().Where(s => s.Parameters.ContainsKey(name)).Select(s => ((Parameter, Scope)?)(s.Parameters[name], s)).FirstOrDefault();

    /// <summary>The viewer's right on each dataset that the dashboard uses.</summary>
    public IEnumerable<Scope> UsedScopes() =>
        Dashboard
            .Tiles.Concat(Arrangement.Tiles.Select(t => t.Tile))
            .Select(t => t.Dataset)
            .OfType<string>()
            .Distinct()
            .Select(d => Scopes[d]);

    /// <param name="withEmpty">True to have tabs on which nothing stands, for whoever puts something there.</param>
    private static (Dashboard Dashboard, int Withheld) Visible(Dashboard whole, Dictionary<string, Scope> scopes, bool withEmpty = false)
    {
        Tile? See(Tile tile) =>
            tile.Dataset is null ? tile
            : scopes.TryGetValue(tile.Dataset, out var scope) ? Fields.Visible(tile, scope)
            : null;
        var tabs = whole
            .Tabs.Select(t => (IsEmpty: t.Tiles.Count == 0, Tab: t with { Tiles = [.. t.Tiles.Select(See).OfType<Tile>()] }))
            .Where(t => t.Tab.Tiles.Count > 0 || withEmpty && t.IsEmpty)
            .Select(t => t.Tab)
            .ToList();
        var visible = whole with { Tabs = tabs };
        // Wiring to a tile that the viewer may not see would tell its name.
        var names = visible.Tiles.Select(t => t.Name).ToHashSet();
        Reach Known(Reach reach) => reach with { Tiles = [.. reach.Tiles.Where(names.Contains)] };
        visible = visible with
        {
            Tabs =
            [
                .. tabs.Select(t =>
                    t with
                    {
                        Groups = [.. t.Groups.Select(g => g with { Drives = Known(g.Drives) })],
                        Tiles = [.. t.Tiles.Select(x => x with { Drives = Known(x.Drives), Follows = Known(x.Follows) })],
                    }
                ),
            ],
        };
        return (visible, whole.Tiles.Count() - names.Count);
    }

    /// <summary>A tile by name.</summary>
    /// <exception cref="ProblemException">The viewer has no such tile.</exception>
    public Tile Tile(string name) =>
        Arrangement.Tiles.FirstOrDefault(t => t.Tile.Name == name)?.Tile ?? throw ProblemException.UnknownTile(name);

    /// <summary>A tile at the level that a selection is on.</summary>
    public Tile Level(Selection selection) => Drilling.At(Tile(selection.Tile), selection.Path);

    /// <summary>The title of a tile as viewers see it.</summary>
    public string TitleOf(string tile) =>
        Tile(tile) is var found && found.Dataset is null ? TileTitles.Shown(found, null) : TileTitles.Shown(found, ScopeOf(found));

    public Scope ScopeOf(Tile tile) => Scopes[tile.Dataset!];

    /// <summary>Reads selections as they travel.</summary>
    /// <exception cref="ProblemException">One can't be meant.</exception>
    public IReadOnlyList<Selection> Selections(Dictionary<string, JsonElement>? json)
    {
        if (json is null)
            return [];
        if (json.Count > 100)
            throw new ProblemException(422, "too-many-selections", "At most 100 tiles can have a selection.");
        return
        [
            .. json.Select(j =>
                Read(Tile(j.Key), j.Value) is var (selection, fault) && selection is not null
                    ? selection
                    : throw new ProblemException(422, fault!.Code, fault.Message)
            ),
        ];
    }

    /// <summary>Selections of a link, each with its tile as far as the viewer has it; null in place of what can't be meant.</summary>
    public IEnumerable<(Tile? Tile, Selection? Selection)> Readable(Dictionary<string, JsonElement> json) =>
        json.Take(100)
            .Select(j =>
                Arrangement.Tiles.FirstOrDefault(t => t.Tile.Name == j.Key && t.Tile.Dataset is not null)?.Tile is { } tile
                    ? (tile, Read(tile, j.Value).Selection)
                    : (null, null)
            );

    private (Selection? Selection, SelectionFault? Fault) Read(Tile tile, JsonElement json) =>
        tile.Dataset is null
            ? (null, new SelectionFault("not-pickable", $"Nothing can be picked on the tile {tile.Name}."))
            : SelectionReader.Read(tile, ScopeOf(tile), json, Viewing.Now, Live.Workspace.WeekStart);

    /// <summary>The plan of a tile under selections.</summary>
    /// <param name="filters">See <see cref="Filters"/>.</param>
    /// <exception cref="ProblemException">Single values are asked for that the viewer may not see.</exception>
    public TilePlan Plan(Tile tile, TileFilters filters, IReadOnlyList<Selection> selections)
    {
        var scope = ScopeOf(tile);
        var rows = Live.Workspace.Sources[scope.Source].Limits.Rows;
        var own = selections.FirstOrDefault(s => s.Tile == tile.Name);
        var detail = tile.Of is null ? null : DetailOf(tile, selections);
        if (tile.Of is not { } of || Drilling.At(tile, own?.Path ?? []).By[0] != of)
            return Live.Planner.Plan(tile, scope, filters, rows, own, detail);
        return detail is var (right, narrowed)
            ? Live.Planner.Plan(tile, right, narrowed, rows, own)
            : throw ProblemException.MayNot("see single values of these data");
    }

    /// <summary>The viewer's right to single rows behind a tile, with what filters them; null if there is none under these selections.</summary>
    public (Scope Scope, TileFilters Filters)? DetailOf(Tile tile, IReadOnlyList<Selection> selections)
    {
        if (ScopeOf(tile).Detail is not { } detail)
            return null;
        // What picked the rows must be visible row by row too; else a filter would tell of a hidden field.
        var drivers = selections.Select(s => Drilling.At(Tile(s.Tile), s.Path)).Where(t => t.Dataset == tile.Dataset);
        if (drivers.Append(Drilling.Opened(tile, selections)).Any(t => t.Groups.Any(g => Fields.At(g, detail) is null)))
            return null;
        var scopes = Scopes.ToDictionary(s => s.Key, s => s.Key == tile.Dataset ? detail : s.Value);
        return (detail, Wiring.FiltersOf(tile, Dashboard, Arrangement, selections, scopes, Live.Workspace.WeekStart));
    }

    public TileFilters Filters(Tile tile, IReadOnlyList<Selection> selections) =>
        Wiring.FiltersOf(tile, Dashboard, Arrangement, selections, Scopes, Live.Workspace.WeekStart);
}
