using System.Globalization;
using System.Text.RegularExpressions;
using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>Somebody without an account whom reports may reach: who manages access says where, and what they may see.</summary>
/// <param name="Roles">The roles that they see it with.</param>
/// <param name="Mail">Their address; null if they are reached otherwise.</param>
/// <param name="Folder">A folder within the one that the service may write into.</param>
/// <param name="Call">An address that is called, https unless it is on this machine.</param>
/// <param name="Table">A table of the folder of files that grows by the figures of each run.</param>
public sealed record OutsideReader(
    string Name,
    string Title,
    IReadOnlyList<string> Roles,
    IReadOnlyDictionary<string, IReadOnlyList<string>> Attributes,
    string? Mail,
    string? Folder,
    string? Call,
    string? Table
);

/// <summary>Whom a report goes to. Everybody gets it under their own rights.</summary>
/// <param name="People">Accounts.</param>
/// <param name="Roles">Whoever has one of these roles.</param>
/// <param name="Outside">Those of <see cref="Access.Outside"/>.</param>
public sealed record Readers(IReadOnlyList<string> People, IReadOnlyList<string> Roles, IReadOnlyList<string> Outside)
{
    /// <summary>Nobody.</summary>
    public static Readers Nobody { get; } = new([], [], []);
}

/// <summary>Only when this holds a report goes to a reader: worked out with the rows that they may see.</summary>
/// <param name="Tile">The tile whose figures are looked at, in the state of the report.</param>
/// <param name="Holds">A condition over the tile's measures; it is met if it is true for any member. Null if only missing rows are looked for.</param>
/// <param name="HoldsText">As it is written.</param>
/// <param name="WhenEmpty">True if a tile without rows meets it: nothing came that should have.</param>
/// <param name="Pause">Whoever got it does not get it again within this time; null to get it whenever it holds.</param>
public sealed record OnlyIf(string Tile, Bound? Holds, string? HoldsText, bool WhenEmpty, TimeSpan? Pause)
{
    /// <summary>The table of the columns that <see cref="Holds"/> asks for: the tile's own.</summary>
    public const string OfTile = "tile";
}

/// <summary>Reads whom a report goes to and under which condition.</summary>
internal static partial class SendingReader
{
    private static readonly Shape AnyText = new Shape.Text();
    private static readonly Shape Names = new Shape.Either(AnyText, new Shape.ListOf(AnyText));

    public static Shape.Keys ToShape { get; } =
        new(
            new Key("people", Names, "Accounts; each needs an attribute email."),
            new Key("roles", Names, "Everybody who has one of these roles."),
            new Key("outside", Names, "Those whom access.yaml names under outside.")
        );

    public static Shape.Keys OnlyIfShape { get; } =
        new(
            new Key("tile", AnyText, "The tile whose figures are looked at, as the reader may see them.", Required: true),
            new Key(
                "holds",
                AnyText,
                "A condition over the tile's measures, met if it is true for any of its members: late_share > 0.2 and sailings > 50."
            ),
            new Key("empty", new Shape.Text("met", "not-met"), "Whether it is met where the tile has no rows at all. not-met if left out."),
            new Key("not_again_within", AnyText, "Whoever got it does not get it again within this time: 6 hours.")
        );

    /// <summary>The key of access.yaml.</summary>
    public static Key OutsideKey(Shape.Keys viewer) =>
        new(
            "outside",
            new Shape.MapOf(
                new Shape.Keys(
                    new Key("title", AnyText, "Who they are, in words."),
                    new Key("as", viewer, "The roles and attributes that they see with.", Required: true),
                    new Key("mail", AnyText, "The address that mail goes to."),
                    new Key("folder", AnyText, "A folder, within the one that the service may write into, that files are put in."),
                    new Key("call", AnyText, "An address that is called when there is something new: https://board.example/news."),
                    new Key(
                        "table",
                        AnyText,
                        "A table, kept/NAME.csv of the service's folder of files, that grows by the figures of each run."
                    )
                )
            ),
            "Whom reports may reach who have no account: where, and what they may see."
        );

    public static Dictionary<string, OutsideReader> ReadOutside(YamlText text, YamlMappingNode root, WrittenAccess granted)
    {
        var all = new Dictionary<string, OutsideReader>();
        foreach (var (name, node) in YamlText.Map(root, "outside"))
        {
            var viewer = YamlText.Node(node, "as")!;
            var named = YamlText.Items(YamlText.Node(viewer, "roles")).ToList();
            AccessReader.CheckRoles(text, named, granted);
            var ways = ((string[])["mail", "folder", "call", "table"]).Where(k => YamlText.Node(node, k) is not null).ToList();
            if (ways.Count != 1)
                text.Report(
                    "bad-outside",
                    name,
                    $"{name.Value} is reached in {(ways.Count == 0 ? "no way" : "several ways")}.",
                    "Write one of mail, folder, call and table."
                );
            Check(text, node, "mail", MailAddresses.IsOne, "is no address of mail.", "Write name@host.example.");
            Check(text, node, "folder", Shapes.IsName, "can't be a folder.", "Use a letter, then letters, digits, _ and -.");
            Check(text, node, "table", Shapes.IsName, "can't be a table.", "Use a letter, then letters, digits, _ and -.");
            Check(text, node, "call", IsCall, "is no address that can be called.", "Write https://board.example/news.");
            all[name.Value!] = new OutsideReader(
                name.Value!,
                YamlText.Value(node, "title") ?? Titles.FromName(name.Value!),
                [.. named.Select(r => r.Value!)],
                AccessReader.AttributesOf(viewer),
                YamlText.Value(node, "mail"),
                YamlText.Value(node, "folder"),
                YamlText.Value(node, "call"),
                YamlText.Value(node, "table")
            );
        }
        return all;
    }

    private static void Check(YamlText text, YamlNode node, string key, Func<string, bool> isGood, string what, string remedy)
    {
        if (YamlText.Node(node, key) is YamlScalarNode { Value: { } written } at && !isGood(written))
            text.Report($"bad-{key}", at, $"'{written}' {what}", remedy);
    }

    private static bool IsCall(string text) =>
        text.Length <= 500
        && Uri.TryCreate(text, UriKind.Absolute, out var url)
        && url.UserInfo.Length == 0
        && (url.Scheme == Uri.UriSchemeHttps || (url.Scheme == Uri.UriSchemeHttp && url.IsLoopback));

    public static Readers ReadTo(YamlText text, YamlMappingNode root, WrittenAccess written)
    {
        if (YamlText.Node(root, "to") is not YamlMappingNode to)
            return Readers.Nobody;
        List<YamlScalarNode> Of(string key) => [.. YamlText.Items(YamlText.Node(to, key))];
        var (people, roles, outside) = (Of("people"), Of("roles"), Of("outside"));
        AccessReader.CheckRoles(text, roles, written);
        var known = written.Access.Outside;
        foreach (var one in outside.Where(o => !known.ContainsKey(o.Value!) && !written.IsUnread("outside", o.Value!)))
            text.Report(
                "unknown-reader",
                one,
                $"access.yaml names nobody outside as {one.Value}.",
                Nearest.Remedy(one.Value!, known.Keys) ?? "Add them there under outside, with what they may see."
            );
        if (people.Count + roles.Count + outside.Count == 0)
            text.Report("nobody", to, "It goes to nobody.", "Name people, roles, or somebody outside; or leave to out.");
        return new Readers([.. people.Select(p => p.Value!)], [.. roles.Select(r => r.Value!)], [.. outside.Select(o => o.Value!)]);
    }

    public static OnlyIf? ReadOnlyIf(
        YamlText text,
        YamlMappingNode root,
        WrittenDashboard written,
        IReadOnlyDictionary<string, Dataset> datasets
    )
    {
        if (YamlText.Node(root, "only_if") is not YamlMappingNode node)
            return null;
        var dashboard = written.Dashboard;
        var named = (YamlScalarNode)YamlText.Node(node, "tile")!;
        if (dashboard.Tiles.FirstOrDefault(t => t.Name == named.Value) is not { } tile)
        {
            if (written.IsUnread(named.Value!))
                return null;
            text.Report(
                "unknown-tile",
                named,
                $"The dashboard {dashboard.Name} has no tile {named.Value}.",
                Nearest.Remedy(named.Value!, dashboard.Tiles.Select(t => t.Name).ToHashSet())
            );
            return null;
        }
        var dataset = tile.Dataset is null ? null : datasets.GetValueOrDefault(tile.Dataset);
        var shown = tile.Show.Select(n => dataset?.Measures.GetValueOrDefault(n)).OfType<Measure>().ToList();
        if (dataset is null || tile.Picture.IsControl || (shown.Count == 0 && tile.Show.Count == 0))
        {
            // A dataset that can't be read has its own fault.
            if (tile.Dataset is null || tile.Picture.IsControl)
                text.Report("no-figures", named, $"{tile.Name} has no figures to look at.", "Name a tile that shows measures.");
            return null;
        }
        var pause = Pause(text, node);
        var whenEmpty = YamlText.Value(node, "empty") == "met";
        if (YamlText.Node(node, "holds") is not YamlScalarNode { Value: { } condition } at)
        {
            if (!whenEmpty)
                text.Report("no-condition", node, "It says no condition.", "Add holds, or empty: met to look for missing rows.");
            return new OnlyIf(tile.Name, null, null, whenEmpty, pause);
        }
        var measures = shown.DistinctBy(m => m.Name).ToDictionary(m => m.Name);
        var (bound, fault) = Binder.Bind(
            condition,
            n => measures.GetValueOrDefault(n) is { } measure ? new Bound.Column(OnlyIf.OfTile, n, measure.Formula.Kind) : null,
            [.. measures.Keys]
        );
        if (fault is not null)
            text.Report(fault, at);
        else if (bound!.Kind != ValueKind.Boolean)
            text.Report("type-mismatch", at, $"A condition is needed here; this is {bound.Kind.Name()}.");
        else if (bound.All().Any(b => b is Bound.Clock or Bound.InPeriod))
            text.Report(
                "time-in-condition",
                at,
                "A condition over figures can't ask for the time.",
                "Pick a relative period on the dashboard instead."
            );
        return new OnlyIf(tile.Name, fault is null && bound!.Kind == ValueKind.Boolean ? bound : Bound.False, condition, whenEmpty, pause);
    }

    private static TimeSpan? Pause(YamlText text, YamlMappingNode node)
    {
        if (YamlText.Node(node, "not_again_within") is not YamlScalarNode { Value: { } written } at)
            return null;
        if (Span().Match(written) is { Success: true } span)
        {
            var count = int.Parse(span.Groups[1].Value, CultureInfo.InvariantCulture);
            var pause = span.Groups[2].Value switch
            {
                "minute" => TimeSpan.FromMinutes(count),
                "hour" => TimeSpan.FromHours(count),
                _ => TimeSpan.FromDays(count),
            };
            if (pause > TimeSpan.Zero && pause <= TimeSpan.FromDays(90))
                return pause;
        }
        text.Report("bad-span", at, $"'{written}' is no time that passes.", "Write 30 minutes, 6 hours or 2 days; 90 days at most.");
        return null;
    }

    [GeneratedRegex(@"\A([0-9]{1,4}) (minute|hour|day)s?\z")]
    private static partial Regex Span();
}

/// <summary>Addresses of mail.</summary>
public static partial class MailAddresses
{
    /// <summary>True for one address that mail can go to, as it stands alone: nothing that begins another header or another reader.</summary>
    public static bool IsOne(string text) => text.Length <= 254 && Address().IsMatch(text);

    [GeneratedRegex(@"\A[A-Za-z0-9.!#$%&'*+/=?^_`{|}~-]{1,64}@[A-Za-z0-9-]+(\.[A-Za-z0-9-]+)*\z")]
    private static partial Regex Address();
}
