using System.Text.Json.Nodes;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Core.Expressions;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Service.Api;

/// <summary>Dashboards as worked examples: their texts over other datasets.</summary>
internal static class RefitEndpoints
{
    public static void MapRefits(this RouteGroupBuilder api) =>
        api.MapPost(
                "/drafts/dashboards/{dashboard}/refit",
                (string dashboard, RefitRequest request, Refits r, CancellationToken stop) => r.Of(dashboard, request, stop)
            )
            .WithName("refitDashboard")
            .WithSummary(
                "The text of a dashboard under another name, over other datasets where you say so: what it names of them, what stands for that, "
                    + "and which tiles do not fit. Nothing is stored."
            )
            .WithMetadata(new OnlyReads());

    /// <summary>Who begins from an example: made once for a request.</summary>
    internal sealed class Refits(
        DraftEndpoints.Drafting drafting,
        DraftRights rights,
        DraftWorkspaces workspaces,
        PublishedWorkspace published,
        Store.Drafts drafts
    )
    {
        public RefitAnswer Of(string dashboard, RefitRequest request, CancellationToken stop)
        {
            var work = drafting.On(DraftKind.Dashboards.Folder, dashboard, "begin");
            var live = published.Now;
            var example = request.Of ?? "";
            if (!live.Workspace.Dashboards.ContainsKey(example) || !rights.MayRead(work.Viewer, example))
                throw ProblemException.UnknownDashboard(example);
            return workspaces.Alone(work.Viewer, () => Of(work, example, request, live, stop));
        }

        private RefitAnswer Of(
            DraftEndpoints.Drafting.Work work,
            string example,
            RefitRequest request,
            LiveWorkspace live,
            CancellationToken stop
        )
        {
            var seen =
                work.Right == DraftRight.Publishes
                    ? new NamesSeen(work.Path, live.Workspace.Datasets, live.Workspace.Catalogues)
                    : DraftRights.SeenBy(work.Viewer, work.Path, live);
            var files = live.Version.Files;
            string Called(string example) =>
                new DesignText().Apply(
                    example,
                    [
                        new DesignStep.Set(["dashboard"], work.Name),
                        .. request.Title?.Trim() is { Length: > 0 } title
                            ? [new DesignStep.Set(["title"], JsonValue.Create(title))]
                            : Array.Empty<DesignStep>(),
                    ]
                );
            var path = DraftKind.Dashboards.PathOf(example, live);
            var text = Called(files[path]);
            // What somebody is changing of it is what they want under another name, unless it is broken.
            if (
                rights.Of(work.Viewer, DraftKind.Dashboards, example) is not null
                && drafts.Get(work.Viewer.Name, path) is { } draft
                && WrittenText.Of(draft.Text) is not null
                && Called(draft.Text) is var changed
                && Refitting.IsSound(files, changed, seen, stop)
            )
                text = changed;
            var before = text;
            var named = Refitting.Named(files, text, seen, stop);
            var result = new List<RefitDataset>();
            foreach (var (name, members) in named)
            {
                var from = seen.Datasets[name];
                var wish = request.Datasets?.FirstOrDefault(d => d?.From == name);
                var to = wish?.To is null ? from : Known(seen, wish.To);
                var names = members.Select(m => NameOf(from, m, to, wish)).ToList();
                result.Add(new RefitDataset(name, from.Title, to.Name, names));
                if (to != from)
                    text = Refitting.Of(
                        files,
                        text,
                        name,
                        to.Name,
                        names.Where(n => n.To is not null).ToDictionary(n => n.Name, n => n.To!),
                        seen,
                        stop
                    );
            }
            (text, var leftOut) = Refitting.Fitting(files, text, seen, stop);
            var kept = Refitting
                .Kept(before, result.Where(d => d.To != d.Name).Select(d => d.Name).ToHashSet())
                .Where(k => leftOut.All(l => l.Tile != k.Tile));
            return new RefitAnswer(
                text,
                result,
                [.. leftOut.Select(l => new RefitTile(l.Tile, l.Why))],
                [.. kept.Select(k => new RefitTile(k.Tile, k.What))]
            );
        }

        private static Dataset Known(NamesSeen seen, string name) =>
            seen.Datasets.GetValueOrDefault(name) ?? throw ProblemException.UnknownDataset(name);

        private static RefitName NameOf(Dataset from, string name, Dataset to, RefitWish? wish)
        {
            var isMeasure = from.Measures.TryGetValue(name, out var measure);
            var title = isMeasure ? measure!.Title : from.Fields[name].Title;
            var kind = isMeasure ? null : from.Fields[name].Kind.Name();
            IEnumerable<RefitOption> options = isMeasure
                ? to.Measures.Values.Select(m => new RefitOption(m.Name, m.Title))
                : to.Fields.Values.Where(f => Refitting.StandsFor(f, from.Fields[name])).Select(f => new RefitOption(f.Name, f.Title));
            var fitting = options.ToList();
            if (from == to)
                return new RefitName(name, title, kind, name, fitting);
            var chosen =
                wish?.Names?.TryGetValue(name, out var said) == true
                    ? said is null or ""
                        ? null
                        : said
                    : Refitting.Alike(from, name, to);
            if (chosen is not null && fitting.All(o => o.Name != chosen))
                throw new ProblemException(
                    422,
                    "bad-refit",
                    $"{ProblemException.Short(chosen)} of {to.Name} can't stand for {name}.",
                    "Choose a measure for a measure, and a field of the same kind for a field."
                );
            return new RefitName(name, title, kind, chosen, fitting);
        }
    }
}

/// <summary>A dashboard to begin from.</summary>
/// <param name="Of">The published dashboard.</param>
/// <param name="Title">The title of the new one; that of the other if left out.</param>
/// <param name="Datasets">What stands for its datasets; one that is left out stays.</param>
public sealed record RefitRequest(string? Of, string? Title = null, IReadOnlyList<RefitWish?>? Datasets = null);

/// <summary>A dataset in the place of another.</summary>
/// <param name="Names">What stands for its fields and measures, an empty text for nothing; what is left out is found by name, title or concept.</param>
public sealed record RefitWish(string? From, string? To, IReadOnlyDictionary<string, string>? Names = null);

/// <summary>What becomes of a dashboard over other datasets.</summary>
/// <param name="Text">Its text, as a draft can begin with it.</param>
/// <param name="Datasets">The datasets that it names.</param>
/// <param name="LeftOut">The tiles that do not fit, with the reason; the text is without them.</param>
/// <param name="Kept">The tiles that keep what was written for other data, such as the members that they open with, with what that is.</param>
public sealed record RefitAnswer(
    string Text,
    IReadOnlyList<RefitDataset> Datasets,
    IReadOnlyList<RefitTile> LeftOut,
    IReadOnlyList<RefitTile> Kept
);

/// <summary>A dataset that a dashboard names.</summary>
/// <param name="To">What stands for it; itself where it stays.</param>
/// <param name="Names">The measures and fields that it names of it.</param>
public sealed record RefitDataset(string Name, string Title, string To, IReadOnlyList<RefitName> Names);

/// <summary>A measure or field that a dashboard names.</summary>
/// <param name="Kind">The kind of its values; null for a measure.</param>
/// <param name="To">What stands for it; null for nothing.</param>
/// <param name="Options">What could.</param>
public sealed record RefitName(string Name, string Title, string? Kind, string? To, IReadOnlyList<RefitOption> Options);

/// <summary>A measure or field that could stand for another.</summary>
public sealed record RefitOption(string Name, string Title);

/// <summary>A tile that does not fit, or that has to be looked over.</summary>
public sealed record RefitTile(string Tile, string Why);
