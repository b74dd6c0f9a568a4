using System.Runtime.CompilerServices;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;

namespace Weir.Core.Views;

/// <summary>Opening views: a viewer's arrangement that has become that of others, as text and back.</summary>
public static partial class PromotedView
{
    private static readonly ViewEditJson Json = new(
        new JsonSerializerOptions(JsonSerializerDefaults.Web)
        {
            AllowOutOfOrderMetadataProperties = true,
            DefaultIgnoreCondition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingDefault,
            Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        }
    );

    private static readonly ConditionalWeakTable<OpeningView, IReadOnlyList<IReadOnlyList<ViewEdit>>> Read = [];

    /// <summary>The opening view of a dashboard for a viewer: that of the first of their roles that has one, or that for everybody; null if there is none.</summary>
    public static OpeningView? For(Viewer viewer, string dashboard, Workspace workspace)
    {
        var views = workspace.OpeningViews.Where(v => v.Dashboard == dashboard).ToList();
        return viewer.Roles.Select(r => views.FirstOrDefault(v => v.Roles.Contains(r))).FirstOrDefault(v => v is not null)
            ?? views.FirstOrDefault(v => v.Roles.Count == 0);
    }

    /// <summary>
    /// Its steps as edits, in layers: each is done to what the layers before it lead to, as the edits of whoever promoted on top of another
    /// opening view were. Steps that have no meaning are left out, and told when the workspace is checked.
    /// </summary>
    public static IReadOnlyList<IReadOnlyList<ViewEdit>> LayersOf(OpeningView view) =>
        Read.GetValue(
            view,
            v =>
            {
                var layers = new List<List<ViewEdit>> { new() };
                foreach (var step in v.Steps)
                    if (step.IsSettle)
                        layers.Add([]);
                    else if (EditOf(step).Edit is { } edit)
                        layers[^1].Add(edit);
                return [.. layers];
            }
        );

    /// <summary>Its edits, of all layers.</summary>
    public static IEnumerable<ViewEdit> EditsOf(OpeningView view) => LayersOf(view).SelectMany(l => l);

    /// <summary>Its edits, each with the number of its step.</summary>
    internal static IEnumerable<(int Step, ViewEdit Edit)> Numbered(OpeningView view) =>
        view.Steps.Select((s, i) => (i, s.IsSettle ? null : EditOf(s).Edit)).Where(s => s.Item2 is not null).Select(s => (s.i, s.Item2!));

    private static (ViewEdit? Edit, string? Reason) EditOf(OpeningStep step)
    {
        try
        {
            var edit = JsonSerializer.Deserialize(step.Json, Json.ViewEdit);
            return edit switch
            {
                null => (null, "It says nothing."),
                ViewEdit.KeepPicks or ViewEdit.Reset { KeepOwn: false } => (
                    null,
                    "What a dashboard opens with is said by opening: on its tiles."
                ),
                _ when !edit.IsWhole() => (null, "It leaves out what it needs."),
                _ => (edit, null),
            };
        }
        catch (Exception e) when (e is JsonException or NotSupportedException)
        {
            return (null, "It is no edit that there is.");
        }
    }

    /// <summary>What of an opening view can't be done on its dashboard as everybody could see it.</summary>
    public static IEnumerable<Fault> Check(OpeningView view, Workspace workspace)
    {
        var whole = workspace.Dashboards[view.Dashboard];
        var fold = new ViewFold(whole with { Catalogues = [.. workspace.Catalogues.Values] })
        {
            IsPromoting = true,
            Makeable = ReadBySomebody(EditsOf(view), workspace),
        };
        var now = fold.Opening;
        foreach (var step in view.Steps)
        {
            if (step.IsSettle)
            {
                fold = fold.Over(now, null);
                now = fold.Opening;
                continue;
            }
            var (edit, reason) = EditOf(step);
            if (edit is not null)
                (now, reason) = fold.Apply(now, edit);
            if (reason is not null)
                yield return new Fault(
                    Severity.Error,
                    "opening-edit",
                    view.File,
                    step.Line,
                    step.Column,
                    reason,
                    "Take it out, or promote the view anew."
                );
        }
    }

    /// <summary>The datasets of made tiles, as somebody who had every role would read them; a made tile is of what somebody may see.</summary>
    private static Dictionary<string, Scope> ReadBySomebody(IEnumerable<ViewEdit> edits, Workspace workspace)
    {
        var everybody = new Viewer("", "", [.. workspace.Access.Roles.Keys], new Dictionary<string, IReadOnlyList<string>>());
        return DatasetsMadeOf(edits)
            .Select(d => Scope.For(everybody, d, workspace, Viewing.Whenever))
            .OfType<Scope>()
            .ToDictionary(s => s.Name);
    }

    /// <summary>The datasets of which edits make tiles.</summary>
    public static IEnumerable<string> DatasetsMadeOf(IEnumerable<ViewEdit> edits) =>
        edits.OfType<ViewEdit.MakeTile>().Select(m => m.Dataset).Distinct();

    /// <summary>A view as the layers of an opening view: what is the viewer's own gets names after it.</summary>
    /// <param name="name">The name of the opening view.</param>
    /// <param name="plain">The dashboard as its file lays it out, for whoever promotes.</param>
    /// <param name="scopes">The right of whoever promotes on each dataset.</param>
    /// <param name="before">The layers of the opening view that the edits were made on; none for what the file lays out.</param>
    public static IReadOnlyList<IReadOnlyList<ViewEdit>> Promoted(
        string name,
        ViewFold plain,
        IReadOnlyDictionary<string, Scope> scopes,
        IReadOnlyList<IReadOnlyList<ViewEdit>> before,
        IReadOnlyList<ViewEdit> edits
    )
    {
        var ground = plain.As(before, scopes);
        var from = edits.Select((e, i) => e is ViewEdit.Reset { KeepOwn: false } ? i + 1 : 0).DefaultIfEmpty(0).Max();
        var mine = PersonalView.Fitting(ground, scopes, edits.Skip(from).Where(e => e is not ViewEdit.KeepPicks));
        // What the shortest list does without is named no more in what is left of it.
        var shortest = PersonalView.Fitting(ground, scopes, Shortest(ground, [.. mine]));
        if (shortest.Count == 0)
            return before;
        var taken = ground.Opening.Tabs.Select(t => t.Name).Concat(ground.Opening.Tiles.Select(t => t.Tile.Name)).ToHashSet();
        var own = PersonalView.Apply(ground, shortest).Arrangement is var a
            ? a.Tabs.Where(t => t.Own).Select(t => t.Name).Concat(a.Tiles.Where(t => t.Own).Select(t => t.Tile.Name)).ToList()
            : [];
        string Prefix(int number) => number == 1 ? $"{name}-" : $"{name}-{number}-";
        var free = Enumerable.Range(1, 1000).First(n => !own.Any(o => taken.Contains(Prefix(n) + o[PersonalView.OwnPrefix.Length..])));
        return [.. before.Where(l => l.Count > 0), [.. shortest.Select(e => Renamed(e, Prefix(free)))]];
    }

    private static ViewEdit Renamed(ViewEdit edit, string prefix) =>
        JsonSerializer.Deserialize(Own().Replace(JsonSerializer.Serialize(edit, Json.ViewEdit), $"\"{prefix}"), Json.ViewEdit)!;

    // A name of the viewer's own stands alone between quotation marks; in a title it does not begin a text that is followed by nothing else.
    [GeneratedRegex("\"own-(?=[a-z0-9_.-]+\")")]
    private static partial Regex Own();

    /// <summary>Edits without those that the others make needless: the arrangement that they lead to stays the same.</summary>
    private static List<ViewEdit> Shortest(ViewFold fold, List<ViewEdit> edits)
    {
        // Tried by halves first, so that a long history is short before each edit is looked at alone.
        var wanted = Written(PersonalView.Apply(fold, edits).Arrangement);
        for (var size = Math.Max(1, edits.Count / 2); ; size = Math.Max(1, size / 2))
        {
            var before = edits.Count;
            for (var at = edits.Count - size; at >= 0; at -= size)
            {
                List<ViewEdit> without = [.. edits.Take(at), .. edits.Skip(at + size)];
                if (Written(PersonalView.Apply(fold, without).Arrangement) == wanted)
                    edits = without;
            }
            // One that goes can make one before it needless.
            if (size == 1 && edits.Count == before)
                return edits;
        }
    }

    private static string Written(Arrangement arrangement) =>
        JsonSerializer.Serialize(
            arrangement.Tabs.Select(t => new
            {
                t.Name,
                t.Title,
                t.Hidden,
                t.Area,
                t.Columns,
                Tiles = t.Tiles.Select(x => new
                {
                    x.Tile.Name,
                    x.Place,
                    x.Hidden,
                    x.Section,
                    x.Drawing,
                    x.Columns,
                    x.Title,
                    x.Tile.SharedAs,
                }),
            })
        );

    /// <summary>The file of an opening view.</summary>
    public static string Text(string name, string dashboard, IReadOnlyList<string> roles, IReadOnlyList<IReadOnlyList<ViewEdit>> layers)
    {
        var text = new StringBuilder($"opening_view: {name}\ndashboard: {dashboard}\n");
        if (roles.Count > 0)
            text.Append($"roles: [{string.Join(", ", roles.Select(Scalar))}]\n");
        text.Append(layers.Sum(l => l.Count) == 0 ? "edits: []\n" : "edits:\n");
        foreach (var (layer, i) in layers.Select((l, i) => (l, i)))
        {
            if (i > 0)
                text.Append("  - { edit: settle }\n");
            foreach (var edit in layer)
                text.Append($"  - {Flow(JsonSerializer.SerializeToElement(edit, Json.ViewEdit))}\n");
        }
        return text.ToString();
    }

    /// <summary>JSON as YAML reads it, without quotation marks where none are needed.</summary>
    private static string Flow(JsonElement json) =>
        json.ValueKind switch
        {
            JsonValueKind.Object =>
                $"{{ {string.Join(", ", json.EnumerateObject().Select(p => $"{OpeningStep.KeyOf(p.Name)}: {Flow(p.Value)}"))} }}",
            JsonValueKind.Array => $"[{string.Join(", ", json.EnumerateArray().Select(Flow))}]",
            JsonValueKind.String => Scalar(json.GetString()!),
            _ => json.GetRawText(),
        };

    private static string Scalar(string text) =>
        Plain().IsMatch(text) && text is not ("true" or "false" or "null" or "yes" or "no" or "on" or "off")
            ? text
            : JsonSerializer.Serialize(text, Json.String);

    [GeneratedRegex(@"^[A-Za-z]([A-Za-z0-9_./ -]*[A-Za-z0-9_])?\z")]
    private static partial Regex Plain();
}
