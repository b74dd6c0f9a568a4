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
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        AllowOutOfOrderMetadataProperties = true,
        DefaultIgnoreCondition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingDefault,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    private static readonly ConditionalWeakTable<OpeningView, IReadOnlyList<ViewEdit>> Read = [];

    /// <summary>The opening view of a dashboard for a viewer: that of the first of their roles that has one, or that for everybody; null if there is none.</summary>
    public static OpeningView? For(Viewer viewer, string dashboard, Workspace workspace)
    {
        var views = workspace.OpeningViews.Where(v => v.Dashboard == dashboard).ToList();
        return viewer.Roles.Select(r => views.FirstOrDefault(v => v.Roles.Contains(r))).FirstOrDefault(v => v is not null)
            ?? views.FirstOrDefault(v => v.Roles.Count == 0);
    }

    /// <summary>Its steps as edits; those that have no meaning are left out, and told when the workspace is checked.</summary>
    public static IReadOnlyList<ViewEdit> EditsOf(OpeningView view) =>
        Read.GetValue(view, v => [.. v.Steps.Select(s => EditOf(s).Edit).OfType<ViewEdit>()]);

    private static (ViewEdit? Edit, string? Reason) EditOf(OpeningStep step)
    {
        try
        {
            var edit = JsonSerializer.Deserialize<ViewEdit>(step.Json, Json);
            return edit switch
            {
                null => (null, "It says nothing."),
                ViewEdit.KeepPicks or ViewEdit.Reset => (null, "What a dashboard opens with is said by opening: on its tiles."),
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
        var fold = new ViewFold(whole with { Catalogues = [.. workspace.Catalogues.Values] }) { IsPromoting = true };
        var now = fold.Opening;
        foreach (var step in view.Steps)
        {
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

    /// <summary>The edits of a view as those of an opening view: what is the viewer's own gets names after it.</summary>
    /// <param name="name">The name of the opening view.</param>
    /// <param name="fold">The dashboard as whoever promotes it has it.</param>
    /// <param name="before">What the opening view does that the edits were made on.</param>
    public static IReadOnlyList<ViewEdit> Promoted(
        string name,
        ViewFold fold,
        IReadOnlyList<ViewEdit> before,
        IReadOnlyList<ViewEdit> edits
    )
    {
        var from = edits.Select((e, i) => e is ViewEdit.Reset { KeepOwn: false } ? i + 1 : 0).DefaultIfEmpty(0).Max();
        var log = before.Concat(edits.Skip(from)).Where(e => e is not ViewEdit.KeepPicks).ToList();
        return [.. Shortest(fold, log).Select(e => Renamed(e, $"{name}-"))];
    }

    private static ViewEdit Renamed(ViewEdit edit, string prefix) =>
        JsonSerializer.Deserialize<ViewEdit>(Own().Replace(JsonSerializer.Serialize(edit, Json), $"\"{prefix}"), Json)!;

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
                Tiles = t.Tiles.Select(x => new
                {
                    x.Tile.Name,
                    x.Place,
                    x.Hidden,
                    x.Section,
                    x.Drawing,
                    x.Title,
                    x.Tile.SharedAs,
                }),
            })
        );

    /// <summary>The file of an opening view.</summary>
    public static string Text(string name, string dashboard, IReadOnlyList<string> roles, IReadOnlyList<ViewEdit> edits)
    {
        var text = new StringBuilder($"opening_view: {name}\ndashboard: {dashboard}\n");
        if (roles.Count > 0)
            text.Append($"roles: [{string.Join(", ", roles.Select(Scalar))}]\n");
        text.Append(edits.Count == 0 ? "edits: []\n" : "edits:\n");
        foreach (var edit in edits)
            text.Append($"  - {Flow(JsonSerializer.SerializeToElement(edit, Json))}\n");
        return text.ToString();
    }

    /// <summary>JSON as YAML reads it, without quotation marks where none are needed.</summary>
    private static string Flow(JsonElement json) =>
        json.ValueKind switch
        {
            JsonValueKind.Object => $"{{ {string.Join(", ", json.EnumerateObject().Select(p => $"{p.Name}: {Flow(p.Value)}"))} }}",
            JsonValueKind.Array => $"[{string.Join(", ", json.EnumerateArray().Select(Flow))}]",
            JsonValueKind.String => Scalar(json.GetString()!),
            _ => json.GetRawText(),
        };

    private static string Scalar(string text) =>
        Plain().IsMatch(text) && text is not ("true" or "false" or "null" or "yes" or "no" or "on" or "off")
            ? text
            : JsonSerializer.Serialize(text, Json);

    [GeneratedRegex(@"^[A-Za-z]([A-Za-z0-9_./ -]*[A-Za-z0-9_])?\z")]
    private static partial Regex Plain();
}
