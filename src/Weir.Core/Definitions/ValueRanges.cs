using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>
/// The ranges of a number that rows are put into, each from its start, included, to its end, excluded; the last one with its end.
/// Either equal ones, whose ends are round numbers, or given ones.
/// </summary>
/// <param name="Most">Equal ranges: the most there are.</param>
/// <param name="Width">Equal ranges: how wide each is; null for as wide as gives at most <paramref name="Most"/>.</param>
/// <param name="Edges">Given ranges: their ends in order, at least two; empty for equal ones.</param>
public sealed record ValueRanges(int Most, decimal? Width, IReadOnlyList<decimal> Edges)
{
    /// <summary>More ranges than this are not drawn.</summary>
    public const int MostRanges = 100;

    private const int Usual = 12;

    /// <summary>What holds where a tile does not say: some equal ranges with round ends.</summary>
    public static ValueRanges Usually { get; } = new(Usual, null, []);

    /// <summary>The key under which a tile gives them.</summary>
    public static Key Key { get; } =
        new(
            "ranges",
            new Shape.Either(
                new Shape.ListOf(new Shape.Text()),
                new Shape.Keys(
                    new Key("most", new Shape.Whole(2, MostRanges), $"At most so many equal ranges, with round ends. {Usual} if left out."),
                    new Key("width", new Shape.Text(), "How wide each range is, instead.")
                )
            ),
            "For a picture of ranges: their ends as a list, or how many or how wide equal ones are."
        );

    internal static ValueRanges Read(YamlText text, YamlNode tile)
    {
        var node = YamlText.Node(tile, Key.Name);
        decimal? Number(YamlScalarNode at)
        {
            if (Values.Parse(at.Value!, ValueKind.Decimal) is decimal value)
                return value;
            text.Report("type-mismatch", at, $"{at.Value} is not a number.");
            return null;
        }
        if (node is YamlSequenceNode list)
        {
            List<decimal> edges = [.. YamlText.Items(list).Select(Number).OfType<decimal>()];
            if (edges.Count < 2 || edges.Count > MostRanges + 1 || edges.Zip(edges.Skip(1)).Any(p => p.First >= p.Second))
                text.Report("wrong-value", list, $"Ranges have 2 to {MostRanges + 1} ends, each greater than the one before.");
            return new ValueRanges(Usual, null, edges);
        }
        var width = node is not null && YamlText.Node(node, "width") is YamlScalarNode written ? Number(written) : null;
        if (width <= 0)
            text.Report("wrong-value", YamlText.Node(node!, "width")!, "A range is wider than nothing.");
        return new ValueRanges(node is null ? Usual : YamlText.Number(node, "most", Usual), width, []);
    }

    /// <summary>The ends of the ranges that hold all values between two; at most <see cref="MostRanges"/> ranges.</summary>
    /// <param name="isWhole">True for whole numbers, whose ranges have whole ends.</param>
    public IReadOnlyList<decimal> Between(decimal least, decimal greatest, bool isWhole)
    {
        if (Edges.Count > 0)
            return Edges;
        // Narrower than this beside the values themselves, ranges could not be told apart.
        var narrowest = Math.Max(Math.Max(Math.Abs(least), Math.Abs(greatest)), 1) / 1_000_000_000_000m;
        var width =
            Width is { } given && given >= narrowest
                ? given
                : RoundWidth(Math.Max((greatest - least) / Most, greatest > least ? narrowest : 0));
        while (true)
        {
            if (isWhole)
                width = Math.Max(1, Math.Ceiling(width));
            var from = Math.Floor(least / width) * width;
            if (from > least) // a quotient too small for a number of its own
                from -= width;
            var count = Math.Max(1, (int)Math.Min(MostRanges + 1, Math.Ceiling((greatest - from) / width)));
            if (count <= (Width is null ? Most : MostRanges))
                return [.. Enumerable.Range(0, count + 1).Select(i => from + (i * width))];
            // From a round number it may take more ranges than were wanted: then each is the next wider.
            width = Width is null ? RoundWidth(width * 1.01m) : width * 2;
        }
    }

    /// <summary>
    /// The least of 1, 2, 2.5 and 5 times a power of ten that is at least so wide; 1 for nothing, and never less than a millionth of a
    /// millionth.
    /// </summary>
    private static decimal RoundWidth(decimal width)
    {
        if (width <= 0)
            return 1;
        if (width < 0.000_000_000_001m)
            return 0.000_000_000_001m;
        var power = 1m;
        while (power > width)
            power /= 10;
        while (power * 10 <= width)
            power *= 10;
        return new[] { 1m, 2m, 2.5m, 5m, 10m }.First(n => n * power >= width) * power;
    }
}
