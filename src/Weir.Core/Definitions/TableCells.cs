using System.Globalization;
using System.Text.RegularExpressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>A band of figures that have one colour in the cells of a table.</summary>
/// <param name="Below">The figure at which the next band begins, excluded; null for the last.</param>
/// <param name="Is">good, fair, bad or plain.</param>
/// <param name="Title">What it means, for the reader; null if that is not said.</param>
public sealed record CellBand(double? Below, string Is, string? Title);

/// <summary>How the cells of a table are written, beside how their figures are drawn.</summary>
/// <param name="Bands">For a measure its bands, the lowest first.</param>
/// <param name="Written">For a column a text with names of columns in braces, which stands in its place.</param>
/// <param name="Links">For a column the address that its cells lead to, with names of columns in braces.</param>
public sealed partial record TableCells(
    IReadOnlyDictionary<string, IReadOnlyList<CellBand>> Bands,
    IReadOnlyDictionary<string, string> Written,
    IReadOnlyDictionary<string, string> Links
)
{
    private const int MostBands = 8;
    private const int MostLetters = 500;

    private static readonly Shape AnyText = new Shape.Text();

    private static Key BandsKey { get; } =
        new(
            "bands",
            new Shape.MapOf(
                new Shape.ListOf(
                    new Shape.Keys(
                        new Key("below", AnyText, "The figure at which the next band begins; left out for the last band."),
                        new Key(
                            "is",
                            new Shape.Text("good", "fair", "bad", "plain"),
                            "What the band is like, which gives it its colour.",
                            Required: true
                        ),
                        new Key("title", AnyText, "What the band means, for the legend.")
                    )
                )
            ),
            "For a table: bands of figures that have one colour each in the cells of a measure, by its name, the lowest first."
        );

    private static Key WrittenKey { get; } =
        new(
            "written",
            new Shape.MapOf(AnyText),
            "For a table: what stands in the cells of a column, by its name: a text with names of columns in braces. Columns that it names "
                + "have no place of their own."
        );

    private static Key LinksKey { get; } =
        new(
            "links",
            new Shape.MapOf(AnyText),
            "For a table: where the cells of a column lead to, by its name: an address that begins with https:// or /, with names of columns "
                + "in braces behind the host."
        );

    /// <summary>Bands, for whatever has cells of measures.</summary>
    internal static OwnKey OwnBands { get; } = new(BandsKey, "no-bands", "Only a table has cells with bands.");

    /// <summary>What only lines of a table have.</summary>
    internal static IReadOnlyList<OwnKey> OwnTexts { get; } =
    [
        new(WrittenKey, "no-written", "Only a table has cells to write into."),
        new(LinksKey, "no-links", "Only a table has cells that lead somewhere."),
    ];

    /// <summary>An address on this host, or on one that no value of the data can choose.</summary>
    [GeneratedRegex(@"\A(https://[A-Za-z0-9.-]+(:\d+)?(/.*)?|/(?![/\\]).*|/)\z", RegexOptions.Singleline)]
    private static partial Regex Address();

    /// <summary>What a viewer gets of it, who has only some of the columns; null for nothing.</summary>
    public TableCells? Visible(Func<string, bool> hasColumn)
    {
        Dictionary<string, string> Of(IReadOnlyDictionary<string, string> texts) =>
            texts.Where(t => hasColumn(t.Key) && TipText.NamesIn(t.Value).All(hasColumn)).ToDictionary();
        var seen = new TableCells(Bands.Where(b => hasColumn(b.Key)).ToDictionary(), Of(Written), Of(Links));
        return seen is { Bands.Count: 0, Written.Count: 0, Links.Count: 0 } ? null : seen;
    }

    /// <param name="show">The measures that the tile shows, as they are written.</param>
    /// <param name="by">The fields that it is grouped by, as they are written.</param>
    internal static TableCells? Read(YamlText text, YamlNode tile, IReadOnlyList<string> show, IReadOnlyList<string> by)
    {
        List<string> columns = [.. by, .. show];
        var bands = YamlText
            .Map(tile, BandsKey.Name)
            .Where(b => IsKnown(text, b.Key, show, "shows"))
            .ToDictionary(b => b.Key.Value!, b => ReadBands(text, b.Value));
        Dictionary<string, string> Texts(string key) =>
            YamlText
                .Map(tile, key)
                .Where(t => IsKnown(text, t.Key, columns, "has a column"))
                .ToDictionary(t => t.Key.Value!, t => ReadText(text, (YamlScalarNode)t.Value, columns));
        var (written, links) = (Texts(WrittenKey.Name), Texts(LinksKey.Name));
        foreach (var (name, value) in YamlText.Map(tile, LinksKey.Name))
            if (value is YamlScalarNode { Value: { } address } && !Address().IsMatch(address))
                text.Report(
                    "unsafe-link",
                    value,
                    $"The cells of {name.Value} can't lead to {address}.",
                    "Begin with / or with https:// and a host; names in braces stand behind the host."
                );
        return bands.Count + written.Count + links.Count == 0 ? null : new TableCells(bands, written, links);
    }

    private static bool IsKnown(YamlText text, YamlScalarNode name, IReadOnlyList<string> known, string how)
    {
        if (known.Contains(name.Value!))
            return true;
        text.Report("unknown-column", name, $"The tile {how} no {name.Value}.", Expressions.Nearest.Remedy(name.Value!, known));
        return false;
    }

    private static string ReadText(YamlText text, YamlScalarNode written, IReadOnlyList<string> columns)
    {
        if (written.Value!.Length is 0 or > MostLetters)
            text.Report("wrong-value", written, $"The text of a cell has 1 to {MostLetters} characters; found {written.Value.Length}.");
        foreach (var name in TipText.NamesIn(written.Value).Where(n => !columns.Contains(n)))
            text.Report("unknown-column", written, $"The tile has no column {name}.", Expressions.Nearest.Remedy(name, columns));
        return written.Value;
    }

    private static IReadOnlyList<CellBand> ReadBands(YamlText text, YamlNode node)
    {
        var items = ((node as YamlSequenceNode)?.Children ?? []).ToList();
        if (items.Count is 0 or > MostBands)
            text.Report("wrong-count", node, $"A measure has 1 to {MostBands} bands; found {items.Count}.");
        List<CellBand> bands =
        [
            .. items.Select(i => new CellBand(text.Decimal(i, "below"), YamlText.Value(i, "is") ?? "plain", YamlText.Value(i, "title"))),
        ];
        for (var i = 0; i < bands.Count; i++)
        {
            var isLast = i == bands.Count - 1;
            if (bands[i].Below is null != isLast)
                text.Report(
                    "bad-bands",
                    items[i],
                    isLast ? "The last band goes on without an end." : "Only the last band has no end.",
                    isLast ? "Leave out its below." : "Say below which figure it ends."
                );
            else if (!isLast && i > 0 && bands[i].Below <= bands[i - 1].Below)
                text.Report(
                    "bad-bands",
                    items[i],
                    $"Bands stand from the lowest: {bands[i].Below!.Value.ToString(CultureInfo.InvariantCulture)} is not above the one before."
                );
        }
        return bands;
    }
}
