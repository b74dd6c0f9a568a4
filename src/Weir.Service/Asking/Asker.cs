using System.Globalization;
using System.Text.Json;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Views;
using Weir.Service.Answers;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Service.Asking;

/// <summary>Who asks, of which published version, and when: made once for a request, so that all of it speaks of the same.</summary>
internal sealed class Asker
{
    private readonly Func<Viewer> _viewer;
    private readonly Func<LiveWorkspace> _begin;
    private readonly Func<int?> _sample;
    private readonly Store.Views _views;
    private readonly DataVersions _versions;
    private LiveWorkspace? _live;

    /// <summary>Whoever sent the request.</summary>
    public Asker(
        IHttpContextAccessor http,
        PublishedWorkspace published,
        DraftWorkspaces drafts,
        SharedDrafts shared,
        Store.Views views,
        TimeProvider clock,
        DataVersions versions
    )
    {
        var context = http.HttpContext!;
        (_views, _versions, Now, Gone) = (views, versions, clock.GetUtcNow(), context.RequestAborted);
        _viewer = context.Viewer;
        _sample = () => Sample(context);
        _begin = () => Draft(context, drafts, shared) ?? published.Now;
    }

    /// <summary>Somebody for whom the service asks by itself: of what is published, under their rights.</summary>
    /// <param name="gone">Cancelled when the answer is not wanted any more.</param>
    public Asker(Viewer viewer, LiveWorkspace live, Store.Views views, TimeProvider clock, DataVersions versions, CancellationToken gone)
    {
        (_views, _versions, Now, Gone) = (views, versions, clock.GetUtcNow(), gone);
        (_viewer, _begin, _sample) = (() => viewer, () => live, () => null);
    }

    /// <summary>The viewer; who looks as another is that other.</summary>
    /// <exception cref="ProblemException">The viewer is gone, or may not look as the other.</exception>
    public Viewer Viewer => _viewer();

    /// <summary>The header by which a page of one's own draft of a dashboard asks; see <see cref="DraftWorkspaces"/>.</summary>
    public const string DraftHeader = "Weir-Draft";

    /// <summary>The header that names whose own dashboard that is, where somebody else shares it.</summary>
    public const string OwnerHeader = "Weir-Draft-Of";

    /// <summary>
    /// The header by which what was proposed for a draft asks for its figures, instead of the draft; or, as <see cref="AsPublished"/>, what
    /// is published of it; or, as <see cref="OfVersion"/> with a number, what an earlier version was.
    /// </summary>
    public const string TrialHeader = "Weir-Trial";

    private const string AsPublished = "published";

    /// <summary>Before the number of a version, in the place of what is tried.</summary>
    private const string OfVersion = "version-";

    /// <summary>The header by which whoever designs has their draft drawn on a sample: about so many of a hundred rows.</summary>
    public const string SampleHeader = "Weir-Sample";

    /// <summary>
    /// The header by which a change of a draft brings along the page that it makes, as its parameters and view have it: ?set=…&amp;view=…, as
    /// in the page's own address.
    /// </summary>
    public const string PageHeader = "Weir-Page";

    private static int? Sample(HttpContext context) =>
        context.Request.Headers[SampleHeader] is not [{ Length: > 0 } written]
        // Rows that somebody takes along are all there are.
        || context.GetEndpoint()?.Metadata.GetMetadata<DrawsSamples>() is null
            ? null
        : int.TryParse(written, NumberStyles.None, CultureInfo.InvariantCulture, out var percent) && percent is >= 1 and <= 50 ? percent
        : throw new ProblemException(422, "bad-sample", "A sample has 1 to 50 of a hundred rows.");

    /// <summary>
    /// The workspace as it was published when it was first asked for, or with the asker's draft in it; a version or a step that comes
    /// meanwhile changes nothing.
    /// </summary>
    /// <exception cref="ProblemException">A page of a draft changes nothing but the draft.</exception>
    public LiveWorkspace Live => _live ??= _begin();

    private static LiveWorkspace? Draft(HttpContext context, DraftWorkspaces drafts, SharedDrafts shared)
    {
        if (context.Request.Headers[DraftHeader] is not [{ Length: > 0 } dashboard])
            return null;
        if (!HttpMethods.IsGet(context.Request.Method) && context.GetEndpoint()?.Metadata.GetMetadata<OnlyReads>() is null)
            throw new ProblemException(403, "draft-only", "The page of a draft changes nothing: views are made of what is published.");
        if (context.Request.Headers[OwnerHeader] is [{ Length: > 0 } owner])
            return shared.LiveFor(context.Viewer(), owner, dashboard);
        // Whoever looks as another sees their own draft as the other would.
        if (context.Request.Headers[TrialHeader] is [AsPublished])
            return drafts.PublishedFor(context.SignedIn(), dashboard);
        if (
            context.Request.Headers[TrialHeader] is [{ } version]
            && version.StartsWith(OfVersion, StringComparison.Ordinal)
            && long.TryParse(version[OfVersion.Length..], NumberStyles.None, CultureInfo.InvariantCulture, out var number)
        )
            return drafts.VersionFor(context.SignedIn(), dashboard, number)
                ?? throw new ProblemException(404, "unknown-version", $"Version {number} has no such dashboard.", "Look at its history.");
        if (context.Request.Headers[TrialHeader] is [{ Length: > 0 } trial])
            return drafts.TrialFor(context.Viewer().LookedAsBy ?? context.Viewer().Name, trial)
                ?? throw new ProblemException(404, "no-proposals", "What was proposed is forgotten by now.", "Ask for it again.");
        return drafts.LiveFor(context.SignedIn(), dashboard, begins: context.Viewer().LookedAsBy is null);
    }

    /// <summary>The time of asking.</summary>
    public DateTimeOffset Now { get; }

    /// <summary>Cancelled when nobody waits for the answer any more.</summary>
    public CancellationToken Gone { get; }

    /// <summary>See <see cref="OpenDashboard.Open"/>.</summary>
    public OpenDashboard Open(
        string dashboard,
        ViewingRequest? viewing = null,
        bool lenient = false,
        bool faultsStay = false,
        bool withCatalogues = false
    ) =>
        OpenDashboard.Open(
            dashboard,
            Opener,
            viewing,
            new OpeningWay
            {
                IsLenient = lenient,
                FaultsStay = faultsStay,
                WithCatalogues = withCatalogues,
                Sample = _sample(),
            }
        );

    private Opener Opener => new(Viewer, Live, _views, Now);

    /// <summary>A dashboard as everybody with the viewer's rights finds it, whatever the viewer keeps.</summary>
    public OpenDashboard OpenAsPublished(string dashboard, ViewingRequest viewing) =>
        OpenDashboard.Open(dashboard, Opener, viewing, new OpeningWay { AsPublished = true });

    /// <summary>See <see cref="OpenDashboard.OpenAsSet"/>.</summary>
    public OpenDashboard OpenAsSet(string dashboard, string? set, string? view, ViewEdit? making = null, bool withCatalogues = false) =>
        OpenDashboard.OpenAsSet(
            dashboard,
            Opener,
            set,
            view,
            new OpeningWay { WithCatalogues = withCatalogues || making is ViewEdit.AddTile, Making = making }
        );

    /// <summary>A way to ask single questions, each sent as it comes.</summary>
    public Ask AtOnce() => Wave(null).For(null);

    /// <summary>The questions of one refresh.</summary>
    /// <param name="notBefore">See <see cref="Fresh.NotBefore"/>.</param>
    public RefreshWave Wave(long? notBefore) => new(Live, _versions, Viewer.Name, notBefore);

    /// <summary>The names of what is picked, brought from the source where they are not kept.</summary>
    public async Task<PickedNames> NamesOf(OpenDashboard open, IReadOnlyList<Selection> selections)
    {
        var (names, ask) = (new PickedNames(open), AtOnce());
        await names.Learn(selections, async (q, stop) => await ask(q, stop), Gone);
        return names;
    }

    /// <summary>The names of what is picked, as far as they are kept: no source is asked.</summary>
    public async Task<PickedNames> KeptNamesOf(OpenDashboard open, IReadOnlyList<Selection> selections)
    {
        var names = new PickedNames(open);
        await names.Learn(selections, RefreshWave.KeptOnly(Live, _versions, Viewer.Name), Gone);
        return names;
    }

    /// <summary>Reads selections as they travel; a tile on which something must be picked and that they leave out has its opening value.</summary>
    /// <exception cref="ProblemException">One can't be meant, or nothing is picked where something must be.</exception>
    public async Task<IReadOnlyList<Selection>> SelectionsOf(OpenDashboard open, Dictionary<string, JsonElement>? json)
    {
        var read = open.Selections(json).ToList();
        foreach (var tile in open.Arrangement.Tiles.Select(t => t.Tile).Where(t => t.IsRequired && t.Dataset is not null))
        {
            var own = read.FirstOrDefault(s => s.Tile == tile.Name);
            if (own is { IsEmpty: true, Path.Count: 0 })
                throw new ProblemException(
                    422,
                    "pick-needed",
                    $"Something must be picked on {open.TitleOf(tile.Name)}.",
                    "Leave the tile out of the selections to have its opening value."
                );
            if (own is null && await OpeningOf(open, tile) is { } selection)
                read.Add(selection);
        }
        return read;
    }

    /// <summary>What is picked on a tile when its dashboard opens; null for nothing.</summary>
    public async Task<Selection?> OpeningOf(OpenDashboard open, Tile tile)
    {
        var scope = open.ScopeOf(tile);
        var newest = tile.Opening is { IsNewest: true }
            ? (await AtOnce()(Planner.Newest(tile.By[0], scope), Gone)).Table.Values[0][0]
            : null;
        return Openings.Of(tile, scope, newest, open.Viewing.Now, open.Live.Workspace.WeekStart);
    }
}

/// <summary>Marks a route whose figures may be of a sample, where whoever designs wants that.</summary>
internal sealed class DrawsSamples;
