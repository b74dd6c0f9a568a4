using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>What is made of a dashboard for taking along, in a state that its developer says.</summary>
/// <param name="Tabs">The tabs that it takes; all if there are none, and no tiles.</param>
/// <param name="Tiles">The tiles that it takes, in this order, in place of tabs.</param>
/// <param name="Picks">What is picked, by tile; a tile that is left out has what the dashboard opens with. Null where all is meant.</param>
/// <param name="Set">Values of parameters as texts; the others have what they open with.</param>
/// <param name="Form">The form of its file.</param>
/// <param name="Paper">The paper of pages.</param>
/// <param name="Before">What stands before the tiles; null for nothing.</param>
/// <param name="After">What stands behind them.</param>
/// <param name="Each">The tile for each of whose members it is made once; null for one that is made once for all.</param>
/// <param name="Schedule">When it is made by itself; null for only when somebody wants it.</param>
/// <param name="To">Whom it goes to when it is made by itself.</param>
/// <param name="OnlyIf">Under which condition it goes to somebody; null for always.</param>
/// <param name="Owner">The account that is told of what goes wrong; null for whoever published it.</param>
/// <param name="File">Where it stands.</param>
public sealed record Report(
    string Name,
    string Title,
    string? Description,
    string Dashboard,
    IReadOnlyList<string> Tabs,
    IReadOnlyList<string> Tiles,
    IReadOnlyDictionary<string, Opening?> Picks,
    IReadOnlyDictionary<string, IReadOnlyList<string>> Set,
    string Form,
    string? Paper,
    string? Before,
    string? After,
    string? Each,
    Timing? Schedule,
    Readers To,
    OnlyIf? OnlyIf,
    string? Owner,
    string File
)
{
    /// <summary>True if what is made for each member comes in one file, a part for each; false for a file for each.</summary>
    public bool IsTogether { get; init; }

    /// <summary>How much of it there is: one of <see cref="Details"/>.</summary>
    public string Detail { get; init; } = Usual;

    /// <summary>What its files are called after; its name if it says no other.</summary>
    public string FileName { get; init; } = Name;

    /// <summary>The forms that a file can have; their names are endings of files.</summary>
    public static IReadOnlyList<string> Forms { get; } = ["pdf", "xlsx", "pptx", "png", "html", "csv", "json", "parquet"];

    /// <summary>The forms in which the parts for several members can come in one file; of the others each has one table.</summary>
    public static IReadOnlyList<string> FormsTogether { get; } = ["pdf", "xlsx", "pptx", "html", "json"];

    /// <summary>As much as the dashboard shows.</summary>
    public const string Usual = "usual";

    /// <summary>With the figures behind pictures, and what measures mean.</summary>
    public const string Long = "long";

    /// <summary>Figures, pictures and the first lines of tables.</summary>
    public const string Short = "short";

    /// <summary>
    /// How much there can be: in short, figures and pictures with the first lines of tables; as usual; or at length, with the figures behind
    /// pictures and what measures mean.
    /// </summary>
    public static IReadOnlyList<string> Details { get; } = [Short, Usual, Long];

    /// <summary>The papers that pages can have.</summary>
    public static IReadOnlyList<string> Papers { get; } = ["a4", "a4-upright", "a3", "letter", "letter-upright"];
}

/// <summary>Reads one report: its form, and what it names.</summary>
internal static class ReportReader
{
    /// <summary>reports/*.yaml</summary>
    /// <param name="opening">How what is picked is written; see tiles.</param>
    public static Shape.Keys ShapeOf(Shape opening)
    {
        var text = new Shape.Text();
        var names = new Shape.Either(text, new Shape.ListOf(text));
        return new Shape.Keys(
            new Key("report", text, "The report's name.", Required: true),
            new Key("title", text, "The name that readers see."),
            new Key("description", text, "What it is for."),
            new Key("dashboard", text, "The dashboard that it is made of.", Required: true),
            new Key("tabs", names, "The tabs that it takes; all if left out."),
            new Key("tiles", names, "The tiles that it takes, in this order, in place of tabs."),
            new Key(
                "select",
                new Shape.MapOf(opening),
                "What is picked, by tile, written as opening is; what the dashboard opens with where a tile is left out, all for nothing."
            ),
            new Key("set", new Shape.MapOf(names), "Values of parameters, by name; what they open with where one is left out."),
            new Key("form", new Shape.Text([.. Report.Forms]), "The form of its file. pdf if left out."),
            new Key("paper", new Shape.Text([.. Report.Papers]), "The paper of a PDF. a4 if left out, which lies."),
            new Key("before", text, "What stands before the tiles."),
            new Key("after", text, "What stands behind them."),
            new Key("each", text, "The tile for each of whose members it is made once, with that member picked."),
            new Key(
                "together",
                new Shape.Flag(),
                $"true if the members of each come in one file, a part for each, which {string.Join(", ", Report.FormsTogether)} can; else each has a file."
            ),
            new Key(
                "detail",
                new Shape.Text([.. Report.Details]),
                "How much of it there is: short has figures, pictures and the first lines of tables, long the figures behind pictures too, and what "
                    + "measures mean. usual if left out."
            ),
            new Key("schedule", TimingReader.Shape, "When it is made and sent by itself."),
            new Key("to", SendingReader.ToShape, "Whom it is sent to: each gets what they may see."),
            new Key("only_if", SendingReader.OnlyIfShape, "The condition under which it is sent."),
            new Key("owner", text, "The account that is told when it fails or is late; whoever published it last if left out.")
        );
    }

    public static Report Read(
        YamlText text,
        YamlMappingNode root,
        IReadOnlyDictionary<string, WrittenDashboard> dashboards,
        IReadOnlySet<string> broken,
        IReadOnlyDictionary<string, Dataset> datasets,
        WrittenAccess access,
        string zone
    ) => new Reading(text, root, datasets).Read(dashboards, broken, access, zone);

    /// <summary>One report while it is read.</summary>
    private sealed class Reading(YamlText text, YamlMappingNode root, IReadOnlyDictionary<string, Dataset> datasets)
    {
        public Report Read(
            IReadOnlyDictionary<string, WrittenDashboard> dashboards,
            IReadOnlySet<string> broken,
            WrittenAccess access,
            string zone
        )
        {
            var name = text.Name(root, "report");
            var at = (YamlScalarNode)YamlText.Node(root, "dashboard")!;
            var written = dashboards.GetValueOrDefault(at.Value!);
            if (written is null && !broken.Contains(at.Value!))
                text.Report(
                    "unknown-dashboard",
                    at,
                    $"There is no dashboard {at.Value}.",
                    Nearest.Remedy(at.Value!, dashboards.Keys.ToHashSet())
                );
            var (tabs, tiles) = (
                YamlText.Items(YamlText.Node(root, "tabs")).ToList(),
                YamlText.Items(YamlText.Node(root, "tiles")).ToList()
            );
            if (tabs.Count > 0 && tiles.Count > 0)
                text.Report("tabs-or-tiles", tiles[0], "A report takes tabs or tiles.", "Leave out one of the two.");
            var each = YamlText.Node(root, "each") as YamlScalarNode;
            var picks = written is null ? [] : ReadPicks(written, tabs, tiles, each);
            if (YamlText.IsSet(root, "together"))
                CheckTogether(each);
            var (schedule, to) = (YamlText.Node(root, "schedule") as YamlMappingNode, SendingReader.ReadTo(text, root, access));
            if (schedule is not null && YamlText.Node(root, "to") is null)
                text.Report("nobody", schedule, "It is made by itself, but goes to nobody.", "Add to, with people or roles.");
            return new Report(
                name,
                YamlText.Value(root, "title") ?? Titles.FromName(name),
                YamlText.Value(root, "description"),
                at.Value!,
                [.. tabs.Select(t => t.Value!)],
                [.. tiles.Select(t => t.Value!)],
                picks,
                YamlText
                    .Map(root, "set")
                    .DistinctBy(s => s.Key.Value)
                    .ToDictionary(s => s.Key.Value!, s => (IReadOnlyList<string>)[.. YamlText.Items(s.Value).Select(v => v.Value!)]),
                YamlText.Value(root, "form") ?? "pdf",
                YamlText.Value(root, "paper"),
                YamlText.Value(root, "before")?.Trim(),
                YamlText.Value(root, "after")?.Trim(),
                each?.Value,
                schedule is null ? null : TimingReader.Read(text, schedule, zone),
                to,
                written is null ? null : SendingReader.ReadOnlyIf(text, root, written, datasets),
                YamlText.Value(root, "owner"),
                text.File
            )
            {
                IsTogether = YamlText.IsSet(root, "together"),
                Detail = YamlText.Value(root, "detail") ?? Report.Usual,
            };
        }

        /// <summary>Checks what it names of its dashboard, and reads what is picked there.</summary>
        private Dictionary<string, Opening?> ReadPicks(
            WrittenDashboard written,
            List<YamlScalarNode> tabs,
            List<YamlScalarNode> tiles,
            YamlScalarNode? each
        )
        {
            var picks = new Dictionary<string, Opening?>();
            Known(written, "tab", tabs, [.. written.Dashboard.Tabs.Select(t => t.Name)]);
            KnownTiles(written, tiles);
            foreach (var (tile, picked) in YamlText.Map(root, "select"))
                if (Pickable(written, tile) is { } found)
                    picks[found.Name] = OpeningReader.Of(text, picked, found.Pick, KindsOf(found));
            if (each is not null && Pickable(written, each) is { } split && (split.By.Count != 1 || split.Pick is Pick.Range or Pick.Text))
                text.Report(
                    "bad-each",
                    each,
                    $"{each.Value} has no members of one field to make a report for.",
                    "Name a list, a drop-down or a bar."
                );
            CheckParameters(written);
            return picks;
        }

        private void CheckTogether(YamlScalarNode? each)
        {
            var together = YamlText.Node(root, "together")!;
            if (each is null)
                text.Report(
                    "no-each",
                    together,
                    "There is nothing to put together.",
                    "Say for each of whose members it is made, with each."
                );
            else if (YamlText.Value(root, "form") is { } form && !Report.FormsTogether.Contains(form))
                text.Report(
                    "not-together",
                    together,
                    $"A file of the form {form} has one table.",
                    $"Take one of {string.Join(", ", Report.FormsTogether)}, or leave out together."
                );
        }

        private void KnownTiles(WrittenDashboard written, IEnumerable<YamlScalarNode> named) =>
            Known(written, "tile", named.Where(n => !written.IsUnread(n.Value!)), [.. written.Dashboard.Tiles.Select(t => t.Name)]);

        private void Known(WrittenDashboard written, string kind, IEnumerable<YamlScalarNode> named, HashSet<string> names)
        {
            foreach (var one in named.Where(n => !names.Contains(n.Value!) && !written.Text.IsBroken(n.Value!)))
                text.Report(
                    $"unknown-{kind}",
                    one,
                    $"The dashboard {written.Dashboard.Name} has no {kind} {one.Value}.",
                    Nearest.Remedy(one.Value!, names)
                );
        }

        private Tile? Pickable(WrittenDashboard written, YamlScalarNode named)
        {
            KnownTiles(written, [named]);
            if (written.Dashboard.Tiles.FirstOrDefault(t => t.Name == named.Value) is not { } tile)
                return null;
            if (tile.Dataset is not null && tile.Pick != Pick.None)
                return tile;
            text.Report("not-pickable", named, $"Nothing can be picked on {named.Value}.");
            return null;
        }

        private List<ValueKind?> KindsOf(Tile tile) =>
            [.. tile.By.Select(b => datasets.GetValueOrDefault(tile.Dataset!) is { } dataset ? TileReader.KindOf(b, dataset) : null)];

        private void CheckParameters(WrittenDashboard written)
        {
            // A dataset that can't be read may have them.
            if (written.HasUnread)
                return;
            var dashboard = written.Dashboard;
            HashSet<string> known =
            [
                .. dashboard.Parameters.Select(p => p.Name),
                .. dashboard
                    .Tiles.Select(t => t.Dataset)
                    .OfType<string>()
                    .Distinct()
                    .SelectMany(d => datasets.GetValueOrDefault(d)?.Parameters.Keys ?? []),
            ];
            foreach (var (parameter, _) in YamlText.Map(root, "set").Where(s => !known.Contains(s.Key.Value!)))
                text.Report(
                    "unknown-parameter",
                    parameter,
                    $"The dashboard {dashboard.Name} has no parameter {parameter.Value}.",
                    Nearest.Remedy(parameter.Value!, known)
                );
        }
    }
}
