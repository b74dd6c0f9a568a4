using System.Text.Json.Nodes;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Core.Expressions;

namespace Weir.Core;

/// <summary>
/// A dashboard as a worked example: its text over another dataset, whose fields and measures stand for those that it names. Which places mean
/// a name is for the check to say, as in <see cref="Renaming"/>; all else stays to the letter.
/// </summary>
public static class Refitting
{
    /// <summary>Names that nothing has: what is to become a new name must not be taken for one that is there already.</summary>
    private const string Between = "weir-refitted";

    /// <summary>True for a text without errors, so far as it can be told apart from what it is to be over.</summary>
    public static bool IsSound(IReadOnlyDictionary<string, string> files, string text, NamesSeen seen, CancellationToken stop = default) =>
        Errors(Needed(files), text, seen, stop).Count == 0;

    /// <summary>The datasets that a text names, with the fields and measures that it names of each.</summary>
    /// <param name="files">The workspace.</param>
    /// <param name="text">A text without errors.</param>
    /// <param name="seen">What the text may name; its path is that of the text.</param>
    public static IReadOnlyDictionary<string, IReadOnlyList<string>> Named(
        IReadOnlyDictionary<string, string> files,
        string text,
        NamesSeen seen,
        CancellationToken stop = default
    )
    {
        var needed = Needed(files);
        var result = new Dictionary<string, IReadOnlyList<string>>();
        bool Misses(NamesSeen less) => Errors(needed, text, less, stop).Count > 0;
        foreach (var (name, dataset) in seen.Datasets)
            if (
                Renaming.CanName(text, Renamed(Nameable.Dataset, null, name))
                && Misses(seen with { Datasets = Without(seen.Datasets, name) })
            )
                result[name] =
                [
                    .. dataset
                        .Measures.Keys.Concat(dataset.Fields.Keys)
                        .Where(m =>
                            Renaming.CanName(text, Renamed(Nameable.Member, name, m))
                            && Misses(
                                seen with
                                {
                                    Datasets = With(
                                        seen.Datasets,
                                        name,
                                        dataset with
                                        {
                                            Fields = Without(dataset.Fields, m),
                                            Measures = Without(dataset.Measures, m),
                                        }
                                    ),
                                }
                            )
                        ),
                ];
        return result;
    }

    /// <summary>A text with another dataset in the place of one of its own.</summary>
    /// <param name="names">What stands for its fields and measures; what is left out keeps its name.</param>
    public static string Of(
        IReadOnlyDictionary<string, string> files,
        string text,
        string from,
        string to,
        IReadOnlyDictionary<string, string> names,
        NamesSeen seen,
        CancellationToken stop = default
    )
    {
        var needed = Needed(files);
        var dataset = seen.Datasets[from];
        // First every name becomes one that nothing has, while the dataset is still known by what it has; then what it is to be.
        var changed = names.Where(n => n.Key != n.Value).Select((n, i) => (n.Key, n.Value, Between: $"weir_refitted_{i}")).ToList();
        foreach (var (was, _, between) in changed)
        {
            dataset = dataset with { Fields = Called(dataset.Fields, was, between), Measures = Called(dataset.Measures, was, between) };
            text = Renaming
                .In(
                    needed,
                    seen.Path,
                    text,
                    new NewName(Nameable.Member, from, was, between),
                    seen with
                    {
                        Datasets = With(seen.Datasets, from, dataset),
                    },
                    stop
                )
                .Text;
        }
        var elsewhere = With(Without(seen.Datasets, from), Between, dataset);
        text = Renaming
            .In(needed, seen.Path, text, new NewName(Nameable.Dataset, null, from, Between), seen with { Datasets = elsewhere }, stop)
            .Text;
        text = Renaming.In(needed, seen.Path, text, new NewName(Nameable.Dataset, null, Between, to), seen, stop).Text;
        foreach (var (_, now, between) in changed)
            text = Renaming.In(needed, seen.Path, text, new NewName(Nameable.Member, to, between, now), seen, stop).Text;
        return text;
    }

    /// <summary>A text without the tiles that have no meaning in it, and without what names them.</summary>
    /// <returns>The text, and each tile that is left out with the first thing that is wrong in it.</returns>
    public static (string Text, IReadOnlyList<(string Tile, string Why)> LeftOut) Fitting(
        IReadOnlyDictionary<string, string> files,
        string text,
        NamesSeen seen,
        CancellationToken stop = default
    )
    {
        var needed = Needed(files);
        var leftOut = new List<(string, string)>();
        for (; ; )
        {
            var (said, tiles) = DesignText.Look(text);
            var lines = text.Split('\n');
            var wrong = Errors(needed, text, seen, stop)
                .Select(f => (Fault: f, At: lines.Take(f.Line - 1).Sum(l => l.Length + 1) + f.Column - 1))
                .Select(f => (f.Fault, Tile: tiles.FirstOrDefault(t => t.Start <= f.At && f.At < t.End)))
                .FirstOrDefault(f => f.Tile.Tile is not null);
            if (wrong.Fault is null)
                return (text, leftOut);
            leftOut.Add((wrong.Tile.Tile, wrong.Fault.Message));
            text = new DesignText().Apply(
                text,
                [
                    .. LaidOut.WithoutNamed(said, [wrong.Tile.Tile]),
                    new DesignStep.Remove(["tabs", wrong.Tile.Tab, "tiles", wrong.Tile.Tile]),
                ]
            );
        }
    }

    /// <summary>
    /// What tiles keep over other data that was written for the data before: members and ranges that they open with, and words. Whether they
    /// hold of the other data nobody can tell but who reads them.
    /// </summary>
    /// <param name="text">The text as it was over the data before.</param>
    /// <param name="datasets">The datasets in whose place others come.</param>
    /// <returns>Each such tile, with what it keeps as half a sentence.</returns>
    public static IReadOnlyList<(string Tile, string What)> Kept(string text, IReadOnlySet<string> datasets) =>
        [
            .. from tab in ItemsOf(DesignText.Look(text).Said["tabs"])
            from tile in ItemsOf(tab["tiles"])
            where datasets.Contains(WordOf(tile["dataset"]) ?? "")
            let kept = new[]
            {
                OpeningOf(tile["opening"]) is { } opening ? $"opens with {opening}" : null,
                WordOf(tile["title"]) is { } title ? $"is called {title}" : null,
                tile["description"] is null && tile["text"] is null ? null : "has a text",
            }
                .OfType<string>()
                .ToList()
            where kept.Count > 0
            select (WordOf(tile["tile"]) ?? "", string.Join(", ", kept)),
        ];

    private static IEnumerable<JsonObject> ItemsOf(JsonNode? list) => (list as JsonArray ?? []).OfType<JsonObject>();

    private static string? WordOf(JsonNode? node) => node is JsonValue value ? value.ToString() : null;

    /// <summary>The values that a tile opens with; null for what holds of any data.</summary>
    private static string? OpeningOf(JsonNode? opening) =>
        opening switch
        {
            JsonValue word when word.ToString() is "all" or "newest" => null,
            JsonValue word => word.ToString(),
            JsonArray members => string.Join(
                ", ",
                members.Select(m => m is JsonArray several ? string.Join(" / ", several) : m?.ToString())
            ),
            JsonObject search when search["contains"] is { } part => $"what contains {part}",
            JsonObject range when range["period"] is null =>
                $"the range {string.Join(" ", range.Select(r => $"{r.Key} {(r.Value is JsonArray several ? string.Join(", ", several) : r.Value)}"))}",
            _ => null,
        };

    /// <summary>What of another dataset could stand for a name: called alike, titled alike, of the same concept; null if nothing is.</summary>
    public static string? Alike(Dataset from, string name, Dataset to)
    {
        if (from.Measures.TryGetValue(name, out var measure))
            return to.Measures.ContainsKey(name) ? name : to.Measures.Values.FirstOrDefault(m => IsAlike(m.Title, measure.Title))?.Name;
        var field = from.Fields[name];
        var fitting = to.Fields.Values.Where(f => StandsFor(f, field)).ToList();
        return (
            fitting.FirstOrDefault(f => f.Name == name)
            ?? fitting.FirstOrDefault(f => IsAlike(f.Title, field.Title))
            ?? fitting.FirstOrDefault(f => f.Concept is not null && f.Concept == field.Concept)
            ?? (fitting.Where(f => f.Kind.IsTemporal()).ToList() is [var only] ? only : null)
        )?.Name;
    }

    /// <summary>True if a field is of a kind that can stand where another does.</summary>
    public static bool StandsFor(Field field, Field other) =>
        field.Kind == other.Kind || field.Kind.IsNumber() && other.Kind.IsNumber() || field.Kind.IsTemporal() && other.Kind.IsTemporal();

    private static bool IsAlike(string a, string b) => string.Equals(a, b, StringComparison.OrdinalIgnoreCase);

    private static NewName Renamed(Nameable kind, string? dataset, string name) => new(kind, dataset, name, Between);

    /// <summary>
    /// The files that a dashboard is read with, besides what it can name: nothing else is read again and again.
    /// </summary>
    private static Dictionary<string, string> Needed(IReadOnlyDictionary<string, string> files) =>
        files.Where(f => f.Key == "workspace.yaml" || Attachments.Holds(f.Key)).ToDictionary();

    private static List<Fault> Errors(IReadOnlyDictionary<string, string> files, string text, NamesSeen seen, CancellationToken stop) =>
        [
            .. WorkspaceText
                .Read(new Dictionary<string, string>(files) { [seen.Path] = text }, stop, seen)
                .Faults.Where(f => f.Severity == Severity.Error && f.File == seen.Path),
        ];

    private static Dictionary<string, T> Without<T>(IReadOnlyDictionary<string, T> all, string name) =>
        all.Where(e => e.Key != name).ToDictionary();

    private static Dictionary<string, T> With<T>(IReadOnlyDictionary<string, T> all, string name, T value) => new(all) { [name] = value };

    private static Dictionary<string, T> Called<T>(IReadOnlyDictionary<string, T> all, string was, string now) =>
        all.ToDictionary(e => e.Key == was ? now : e.Key, e => e.Value);
}
