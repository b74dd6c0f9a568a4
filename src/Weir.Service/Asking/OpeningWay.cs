using Weir.Core.Access;
using Weir.Core.Views;
using Weir.Service.Publishing;

namespace Weir.Service.Asking;

/// <summary>Who opens a dashboard, of which version or draft, and when.</summary>
internal sealed record Opener(Viewer Viewer, LiveWorkspace Live, Store.Views Views, DateTimeOffset Now);

/// <summary>How a dashboard is opened where not simply as it is asked for.</summary>
internal sealed record OpeningWay
{
    /// <summary>True to leave out what can't be meant of what is set.</summary>
    public bool IsLenient { get; init; }

    /// <summary>True to leave out values that do not fit their parameter and remember them, for <see cref="OpenDashboard.FaultOf"/>.</summary>
    public bool FaultsStay { get; init; }

    /// <summary>True to have the catalogues at hand though the view has no tile of one.</summary>
    public bool WithCatalogues { get; init; }

    /// <summary>True for the arrangement that everybody finds, whatever the viewer keeps.</summary>
    public bool AsPublished { get; init; }

    /// <summary>About how many of a hundred rows are looked at, of a draft before whoever designs it; null for all.</summary>
    public int? Sample { get; init; }

    /// <summary>An edit that is to be made on the view, of whose dataset there may be no tile yet.</summary>
    public ViewEdit? Making { get; init; }
}
