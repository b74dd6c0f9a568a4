using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Service.Publishing;
using Weir.Service.SignIn;
using Weir.Store;

namespace Weir.Service.Api;

/// <summary>Another name for a field, a measure, a dataset or a dashboard, wherever it is named.</summary>
internal static class RenameEndpoints
{
    public static void MapRenames(this RouteGroupBuilder api)
    {
        api.MapPost("/renames/preview", (RenameRequest request, Renames r, CancellationToken stop) => r.Preview(request, stop))
            .WithName("previewRename")
            .WithSummary("What would change if something had another name: files, and how many views of viewers. Nothing is stored.")
            .WithMetadata(new OnlyReads());
        api.MapPost("/renames", (RenameRequest request, Renames r, CancellationToken stop) => r.Rename(request, stop))
            .WithName("rename")
            .WithSummary(
                "Give something another name wherever it is named: definitions are published as a new version, and views of viewers follow with it."
            );
    }

    /// <summary>Who gives names: made once for a request.</summary>
    internal sealed class Renames(
        IHttpContextAccessor http,
        PublishedWorkspace published,
        Drafts drafts,
        ViewNames views,
        Audit audit,
        ILogger<Renames> log
    )
    {
        public RenamePreview Preview(RenameRequest request, CancellationToken stop)
        {
            var (_, name) = Meant(request);
            var live = published.Now;
            var (renamed, others) = Renamed(live, name, stop);
            return new RenamePreview(
                live.Version.Number,
                [.. renamed.Changed.Select(c => new RenamedFileInfo(c.Was, c.Path, c.Before, c.After, c.Places))],
                views.Count(others),
                InOwn(live.Version.Files, renamed.Files, name, stop).Count,
                [.. renamed.Warnings.Select(FaultInfo.Of)]
            );
        }

        public DefinitionsAnswer Rename(RenameRequest request, CancellationToken stop)
        {
            var (viewer, name) = Meant(request);
            var why = DraftEndpoints.ReasonOf(request.Why);
            IReadOnlyList<OwnText> own = [];
            var answer = published.Rename(
                request.Version ?? published.Now.Version.Number,
                viewer.Name,
                why.Length > 0 ? why : $"{name.From} is called {name.To}",
                live =>
                {
                    var (renamed, others) = Renamed(live, name, stop);
                    own = InOwn(live.Version.Files, renamed.Files, name, stop);
                    return (renamed.Files, others);
                }
            );
            if (answer.Version is { } version)
                foreach (var (owner, draft, text) in own)
                    Follow(owner, draft, text, version);
            if (answer.Version is not null)
                audit.Write(viewer, "rename", $"{request.Kind} {(name.Dataset is { } of ? of + "." : "")}{name.From} to {name.To}");
            return DefinitionsAnswer.Of(answer);
        }

        /// <summary>A dashboard of somebody's own with the new name in it.</summary>
        private sealed record OwnText(string Owner, Draft Draft, string Text);

        /// <summary>The dashboards of people's own that name it. One that has an error already is its owner's to mend.</summary>
        private List<OwnText> InOwn(
            IReadOnlyDictionary<string, string> before,
            IReadOnlyDictionary<string, string> after,
            NewName name,
            CancellationToken stop
        )
        {
            var result = new List<OwnText>();
            foreach (var (owner, draft) in drafts.Beginning($"{DraftKind.Dashboards.Folder}/{DraftRights.OwnPrefix}"))
            {
                if (
                    before.ContainsKey(draft.Path)
                    || !Renaming.CanName(draft.Text, name)
                    || WorkspaceText
                        .Read(new Dictionary<string, string>(before) { [draft.Path] = draft.Text }, stop)
                        .Faults.Any(f => f.Severity == Severity.Error && f.File == draft.Path)
                )
                    continue;
                var (text, places) = Renaming.In(after, draft.Path, draft.Text, name, stop: stop);
                if (places > 0)
                    result.Add(new OwnText(owner, draft, text));
            }
            return result;
        }

        /// <summary>The new name as another step of what is somebody's own; what they did in that moment comes first.</summary>
        private void Follow(string owner, Draft draft, string text, long version)
        {
            try
            {
                drafts.Save(owner, draft.Path, text, draft.Step, (version, null), over: version);
            }
            catch (DraftMovedException)
            {
                log.LogWarning("{Path} of {Owner} was changed in that moment and has the old name still.", draft.Path, owner);
            }
        }

        private (Viewer Viewer, NewName Name) Meant(RenameRequest request)
        {
            var context = http.HttpContext!;
            DefinitionEndpoints.MayPublish(context, published, audit, "rename in");
            var viewer = context.Viewer();
            var kind = request.Kind switch
            {
                "field" or "measure" => Nameable.Member,
                "dataset" => Nameable.Dataset,
                "dashboard" => Nameable.Dashboard,
                _ => throw new ProblemException(422, "bad-rename", "A field, a measure, a dataset or a dashboard can have another name."),
            };
            if (kind != Nameable.Dashboard && !viewer.May(Acts.Define, published.Now.Workspace))
            {
                audit.Write(viewer, "denied", $"rename {request.Kind}");
                throw ProblemException.MayNot($"rename in datasets: that needs the act {Acts.Define}");
            }
            if (request is not { From: { Length: > 0 and <= 100 } from, To: { Length: > 0 and <= 100 } to })
                throw new ProblemException(422, "bad-rename", "Say from which name to which, of 100 letters at most.");
            if (kind == Nameable.Member && request.Dataset is null)
                throw new ProblemException(422, "bad-rename", "Say of which dataset it is.");
            return (viewer, new NewName(kind, kind == Nameable.Member ? request.Dataset : null, from, to, request.KeepTitle));
        }

        private (RenamedWorkspace Renamed, RenamedInViews Views) Renamed(LiveWorkspace live, NewName name, CancellationToken stop)
        {
            if (name.Kind == Nameable.Dashboard && views.HasViews(name.To) && !live.Workspace.Dashboards.ContainsKey(name.To))
                throw new ProblemException(
                    409,
                    "name-taken",
                    $"There was a dashboard {name.To} once, of which viewers still have views.",
                    "Choose another name."
                );
            RenamedWorkspace renamed;
            try
            {
                // A file that somebody works on stays where it is, so that their draft still is of it.
                renamed = Renaming.Of(live.Version.Files, live.Workspace, name, path => !drafts.IsWorkedOn(path), stop);
            }
            catch (DesignException e)
            {
                throw new ProblemException(422, "bad-rename", e.Message, e.Remedy);
            }
            var isDashboard = name.Kind == Nameable.Dashboard;
            return (
                renamed,
                new RenamedInViews(
                    isDashboard ? name.From : null,
                    isDashboard ? name.To : null,
                    new RenamedViews(name, live.Workspace, renamed.Workspace).Of
                )
            );
        }
    }
}

/// <summary>Another name for something.</summary>
/// <param name="Kind">field, measure, dataset or dashboard.</param>
/// <param name="Dataset">Of a field or measure: the dataset that it is of.</param>
/// <param name="KeepTitle">True to write out the title that viewers read, where it was made from the name.</param>
/// <param name="Version">The version that was looked at; where it is not the newest, nothing is changed. The newest if left out.</param>
/// <param name="Why">A sentence for the history.</param>
public sealed record RenameRequest(
    string? Kind,
    string? From,
    string? To,
    string? Dataset = null,
    bool KeepTitle = false,
    long? Version = null,
    string? Why = null
);

/// <summary>What another name changes.</summary>
/// <param name="Version">The version in which it would.</param>
/// <param name="Views">In how many views of viewers it is named, the own ones too.</param>
/// <param name="OwnDashboards">In how many dashboards of people's own.</param>
/// <param name="Warnings">What the check would warn of that it does not warn of now.</param>
public sealed record RenamePreview(
    long Version,
    IReadOnlyList<RenamedFileInfo> Files,
    int Views,
    int OwnDashboards,
    IReadOnlyList<FaultInfo> Warnings
);

/// <summary>A file in which it is named.</summary>
/// <param name="Was">Where it stands.</param>
/// <param name="Path">Where it would stand.</param>
/// <param name="Places">In how many places.</param>
public sealed record RenamedFileInfo(string Was, string Path, string Before, string After, int Places);
