using System.Text.Json;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Views;
using Weir.Service.Asking;
using Weir.Service.SignIn;

namespace Weir.Service.Api;

/// <summary>The state in which a dashboard opens: what its developer put there, or what a link carries, as far as it is the viewer's to see.</summary>
internal static class OpeningEndpoints
{
    public static void MapOpenings(this RouteGroupBuilder api) =>
        api.MapPost("/dashboards/{dashboard}/opening", Open)
            .WithName("getOpening")
            .WithSummary(
                "The selections to begin with: what the viewer keeps, else the opening values; or those of a link. Without what the viewer may not see."
            )
            .WithMetadata(new OnlyReads());

    private static async Task<OpeningAnswer> Open(string dashboard, OpeningRequest request, Asker asker)
    {
        OpenDashboard As(ViewingRequest? viewing, bool lenient) => asker.Open(dashboard, viewing, lenient);
        var open = As(request.Viewing, lenient: false);
        // Without a link it is what the viewer keeps, else what the developer had in mind.
        var kept = request.Selections is null ? PersonalView.Kept(open.Dashboard, open.View.Edits) : null;
        var ask = asker.AtOnce();
        var picked = new List<Selection>();
        var dropped = new List<DroppedPick>();
        var set = new Dictionary<string, IReadOnlyList<string>>();
        if (kept?.Parameters is { Count: > 0 } parameters && request.Viewing?.Parameters is null)
        {
            // A value that is not theirs to see must not decide either which of the picks are there.
            set = await Allowed(
                As(new ViewingRequest(parameters.ToDictionary(), request.Viewing?.Zone, request.Viewing?.View), lenient: true),
                asker.Viewer,
                dropped,
                ask,
                asker.Gone
            );
            open = As(new ViewingRequest(set, request.Viewing?.Zone, request.Viewing?.View), lenient: false);
        }
        if ((request.Selections ?? kept?.Selections?.ToDictionary()) is { } given)
        {
            foreach (
                var (selection, tile, count) in await Task.WhenAll(
                    open.Readable(given)
                        .Select(async s =>
                            s.Selection is null ? (null, s.Tile, 1) : await Seen(open, s.Tile!, s.Selection, ask, asker.Gone)
                        )
                )
            )
            {
                if (selection is { IsEmpty: false } or { Path.Count: > 0 })
                    picked.Add(selection);
                if (count > 0)
                    dropped.Add(new DroppedPick(tile?.Name, tile is null ? null : TileTitles.Shown(tile, open.ScopeOf(tile)), count));
            }
        }
        foreach (
            var tile in open
                .Arrangement.Tiles.Select(t => t.Tile)
                .Where(t =>
                    t.Opening is not null
                    && ((request.Selections is null && kept is null) || t.IsRequired)
                    && picked.All(k => k.Tile != t.Name || (k.IsEmpty && k.Path.Count == 0))
                )
        )
            if (await asker.OpeningOf(open, tile) is { } selection)
                picked.Add(selection);
        var names = await asker.NamesOf(open, picked);
        return new OpeningAnswer(
            picked.ToDictionary(k => k.Tile, k => JsonSerializer.SerializeToElement(Openings.Write(k))),
            dropped,
            set,
            names.By(picked.Select(p => open.Tile(p.Tile)))
        );
    }

    /// <summary>The parameters that a viewer keeps, without those whose values they may no longer see.</summary>
    private static async Task<Dictionary<string, IReadOnlyList<string>>> Allowed(
        OpenDashboard open,
        Viewer viewer,
        List<DroppedPick> dropped,
        Ask ask,
        CancellationToken cancellation
    )
    {
        var allowed = new Dictionary<string, IReadOnlyList<string>>();
        foreach (var (name, values) in open.Viewing.Parameters)
        {
            List<string> texts = [.. values.Select(Values.Write)];
            if (open.Setting(name) is { Parameter.Choices: ParameterChoices.OfField or ParameterChoices.Lookup } found)
            {
                var offered = (await ChoiceEndpoints.ChoicesOf(found.Parameter, found.Scope, viewer, open, ask, cancellation))
                    .Select(c => c.Value)
                    .ToHashSet();
                if (texts.Count(t => !offered.Contains(t)) is > 0 and var count)
                {
                    dropped.Add(new DroppedPick(null, found.Parameter.Title, count));
                    continue;
                }
            }
            allowed[name] = texts;
        }
        return allowed;
    }

    /// <summary>
    /// A selection without the members that no row of the viewer has, and how many those were. A path that leads nowhere is dropped with
    /// all below it.
    /// </summary>
    private static async Task<(Selection? Selection, Tile? Tile, int Dropped)> Seen(
        OpenDashboard open,
        Tile tile,
        Selection selection,
        Ask ask,
        CancellationToken cancellation
    )
    {
        var scope = open.ScopeOf(tile);
        var weekStart = open.Live.Workspace.WeekStart;
        var level = Drilling.At(tile, selection.Path);
        async Task<HashSet<string>> Present(IReadOnlyList<FieldAt> fields, IReadOnlyList<IReadOnlyList<object?>> members)
        {
            var among = Conditions.Of(new Selection(tile.Name, members, null), fields, scope, weekStart);
            var table = (await ask(open.Live.Planner.Present(fields, scope, among, members.Count), cancellation)).Table;
            return [.. Enumerable.Range(0, table.Rows).Select(r => MemberKeys.Of(table.Row(r)))];
        }
        if (selection.Path.Count > 0 && (await Present([.. Drilling.Levels(tile).Take(selection.Path.Count)], [selection.Path])).Count == 0)
            return (null, tile, selection.Path.Count + selection.Members.Count);
        async Task<List<IReadOnlyList<object?>>> Those(IReadOnlyList<FieldAt> fields, IReadOnlyList<IReadOnlyList<object?>> members)
        {
            var present = members.Count == 0 ? [] : await Present(fields, members);
            return [.. members.Where(m => present.Contains(MemberKeys.Of(m)))];
        }
        List<IReadOnlyList<object?>> named = [.. selection.Members, .. selection.RestOf ?? []];
        var there = await Those(level.By, named);
        // A range in no picture that is the viewer's is none.
        var each = await Those([level.By[^1]], [.. (selection.Each ?? []).Select(m => new[] { m })]);
        var seen = selection with
        {
            Members = [.. selection.Members.Where(there.Contains)],
            RestOf = selection.RestOf is { } shown ? [.. shown.Where(there.Contains)] : null,
            Each = selection.Each is null || each.Count == 0 ? null : [.. each.Select(m => m[0])],
            Range = selection.Each is not null && each.Count == 0 ? null : selection.Range,
            Period = selection.Each is not null && each.Count == 0 ? null : selection.Period,
        };
        return (seen, tile, named.Count - there.Count + (selection.Each?.Count ?? 0) - each.Count);
    }
}

/// <summary>A question how a dashboard opens.</summary>
/// <param name="Selections">Those of a link; if left out, those that the viewer keeps, else the opening values.</param>
public sealed record OpeningRequest(Dictionary<string, JsonElement>? Selections, ViewingRequest? Viewing = null);

/// <summary>The state in which a dashboard opens.</summary>
/// <param name="Selections">What is picked, by tile, as it travels.</param>
/// <param name="Dropped">What a link picked and the viewer may not see; the values are not told.</param>
/// <param name="Parameters">The parameters that the viewer keeps, as texts; opening values hold for those left out.</param>
/// <param name="Names">The names of picked members that are codes or keys: by tile and field, by their values as text.</param>
public sealed record OpeningAnswer(
    IReadOnlyDictionary<string, JsonElement> Selections,
    IReadOnlyList<DroppedPick> Dropped,
    IReadOnlyDictionary<string, IReadOnlyList<string>> Parameters,
    IReadOnlyDictionary<string, IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>>>? Names = null
);

/// <summary>Members of a selection that were left out.</summary>
/// <param name="Tile">The tile; null if the viewer has none of that name.</param>
public sealed record DroppedPick(string? Tile, string? TileTitle, int Count);
