using System.Text.RegularExpressions;
using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>The parameters of a dashboard while it is read: which tiles name them, and every combination of their choices.</summary>
internal sealed partial class TileVariants
{
    /// <summary>A tile that can be drawn in more ways than this is refused.</summary>
    public const int MostVariants = 200;

    private sealed record Written(
        string Name,
        YamlScalarNode Key,
        YamlNode Node,
        IReadOnlyList<(string Value, string? Title)> Choices,
        string Opening
    );

    private readonly YamlText _text;
    private readonly List<Written> _parameters = [];
    private readonly HashSet<string> _used = [];
    private IReadOnlyDictionary<string, string> _chosen = new Dictionary<string, string>();

    public TileVariants(YamlText text, YamlNode root)
    {
        _text = text;
        foreach (var (key, node) in YamlText.Map(root, "parameters"))
        {
            var choices = (
                YamlText.Node(node, "choices") is YamlMappingNode
                    ? YamlText.Map(node, "choices").Select(c => (Value: c.Key.Value!, Title: (string?)(c.Value as YamlScalarNode)?.Value))
                    : YamlText.Items(YamlText.Node(node, "choices")).Select(c => (Value: c.Value!, Title: (string?)null))
            )
                .DistinctBy(c => c.Value)
                .ToList();
            if (choices.Count < 2)
            {
                text.Report("wrong-count", YamlText.Node(node, "choices")!, $"The parameter {key.Value} needs at least two choices.");
                continue;
            }
            var opening = YamlText.Value(node, "opening") ?? choices[0].Value;
            if (choices.All(c => c.Value != opening))
                text.Report(
                    "wrong-value",
                    YamlText.Node(node, "opening")!,
                    $"{opening} is none of the choices of {key.Value}.",
                    Nearest.Remedy(opening, choices.Select(c => c.Value))
                );
            else
                _parameters.Add(new Written(key.Value!, key, node, choices, opening));
        }
    }

    [GeneratedRegex(@"(?<![A-Za-z0-9_-])param\.([A-Za-z0-9_-]+)")]
    private static partial Regex Named();

    /// <summary>What a scalar says with the choices put in that hold just now.</summary>
    public string Text(YamlScalarNode node) => Named().Replace(node.Value!, m => _chosen.GetValueOrDefault(m.Groups[1].Value, m.Value));

    /// <summary>Reads a tile once for each combination of choices that it names; as it opens, with all others as its variants.</summary>
    public Tile? ReadEvery(YamlNode tile, Func<Tile?> read)
    {
        var scalars = Scalars(tile).ToList();
        var names = new List<Written>();
        foreach (var scalar in scalars)
        foreach (Match match in Named().Matches(scalar.Value!))
            if (_parameters.FirstOrDefault(p => p.Name == match.Groups[1].Value) is not { } found)
            {
                if (!_text.IsBroken(match.Groups[1].Value))
                    _text.Report(
                        "unknown-parameter",
                        scalar,
                        $"This dashboard has no parameter {match.Groups[1].Value}.",
                        _parameters.Count == 0
                            ? "Add parameters: to the dashboard."
                            : Nearest.Remedy(match.Groups[1].Value, _parameters.Select(p => p.Name))
                    );
                return null;
            }
            else if (!names.Contains(found))
                names.Add(found);
        if (names.Count == 0)
            return read();
        _used.UnionWith(names.Select(n => n.Name));
        if (names.Aggregate(1L, (n, p) => n * p.Choices.Count) is > MostVariants and var many)
        {
            _text.Report(
                "too-many-variants",
                tile,
                $"This tile could be drawn in {many} ways; at most {MostVariants} are checked.",
                "Name fewer parameters on it, or give them fewer choices."
            );
            return null;
        }
        var before = _text.FaultCount;
        var variants = new Dictionary<string, Tile>();
        foreach (var combination in Combinations(names))
        {
            _chosen = combination;
            if (read() is { } variant)
                variants[Tile.KeyOf(names.Select(n => combination[n.Name]))] = variant;
        }
        _chosen = new Dictionary<string, string>();
        _text.KeepOnce(before);
        var opening = variants.GetValueOrDefault(Tile.KeyOf(names.Select(n => n.Opening)));
        return opening is null
            ? null
            : opening with
            {
                Uses = [.. names.Select(n => n.Name)],
                Variants = variants.ToDictionary(v => v.Key, v => v.Value with { Uses = [.. names.Select(n => n.Name)] }),
            };
    }

    private static IEnumerable<Dictionary<string, string>> Combinations(List<Written> parameters) =>
        parameters.Aggregate(
            (IEnumerable<Dictionary<string, string>>)
                [
                    [],
                ],
            (all, p) => all.SelectMany(a => p.Choices.Select(c => new Dictionary<string, string>(a) { [p.Name] = c.Value }))
        );

    private static IEnumerable<YamlScalarNode> Scalars(YamlNode tile) =>
        new[] { "picture", "show", "by", "split" }
            .SelectMany(k => YamlText.Items(YamlText.Node(tile, k)))
            .Concat(
                new[] { ("sort", "by"), ("drill", "to"), ("change", "on") }.SelectMany(k =>
                    YamlText.Items(YamlText.Node(YamlText.Node(tile, k.Item1) ?? tile, k.Item2))
                )
            );

    /// <summary>The parameters as viewers set them. A choice without a title has that of what it stands for.</summary>
    public IReadOnlyList<Parameter> All(IReadOnlyList<Tile> tiles, IReadOnlyDictionary<string, Dataset> datasets)
    {
        foreach (var unused in _parameters.Where(p => !_used.Contains(p.Name)))
            _text.Report("unused-definition", unused.Key, $"No tile names param.{unused.Name}.", severity: Severity.Warning);
        foreach (
            var taken in _parameters.Where(p =>
                tiles.Any(t => t.Dataset is { } d && datasets.GetValueOrDefault(d)?.Parameters.ContainsKey(p.Name) == true)
            )
        )
            _text.Report("name-taken", taken.Key, $"A dataset of this dashboard has a parameter {taken.Name} already.");
        return
        [
            .. _parameters.Select(p => new Parameter(
                p.Name,
                YamlText.Value(p.Node, "title") ?? Titles.FromName(p.Name),
                YamlText.Value(p.Node, "description"),
                ValueKind.Text,
                false,
                false,
                false,
                [p.Opening],
                null,
                null,
                new ParameterChoices.Fixed([
                    .. p.Choices.Select(c =>
                        ((object)c.Value, c.Title ?? TitleOf(c.Value, tiles.Where(t => t.Uses.Contains(p.Name)), datasets))
                    ),
                ])
            )),
        ];
    }

    private static string TitleOf(string choice, IEnumerable<Tile> tiles, IReadOnlyDictionary<string, Dataset> datasets)
    {
        var at = FieldAt.Parse(choice);
        return tiles
                .Select(t => t.Dataset)
                .OfType<string>()
                .Distinct()
                // What comes of a catalogue may be of data that are not seen here.
                .Select(d => datasets.GetValueOrDefault(d))
                .OfType<Dataset>()
                .Select(d =>
                    d.Measures.TryGetValue(choice, out var measure) ? measure.Title
                    : d.Fields.TryGetValue(at.Field, out var field) ? Titles.OfField(at, field.Title)
                    : null
                )
                .OfType<string>()
                .FirstOrDefault()
            ?? Titles.FromName(choice);
    }
}
