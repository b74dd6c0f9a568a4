namespace Weir.Core.Expressions;

/// <summary>A function that can stand in a formula, for whoever writes one.</summary>
/// <param name="Signature">How it is written, such as <c>substring(text, place, length)</c>.</param>
/// <param name="Doc">What it gives.</param>
/// <param name="InMeasures">True if it is a value over many rows: it stands in measures only.</param>
public sealed record FormulaWord(string Name, string Signature, string Doc, bool InMeasures);

/// <summary>The functions of formulas.</summary>
public static class FormulaWords
{
    private const string Whole = "a value over many rows";

    /// <summary>All, in the order in which they are offered.</summary>
    public static IReadOnlyList<FormulaWord> All { get; } =
    [
        new("sum", "sum(number)", $"{Whole}: their sum", true),
        new(
            "count",
            "count(*)",
            $"{Whole}: how many there are; of a value those that have one, count(distinct value) how many different ones",
            true
        ),
        new("avg", "avg(number)", $"{Whole}: their mean", true),
        new("min", "min(value)", $"{Whole}: the least", true),
        new("max", "max(value)", $"{Whole}: the greatest", true),
        new("median", "median(number)", $"{Whole}: the middle one", true),
        new("percentile", "percentile(number, fraction)", $"{Whole}: below which that fraction of them is", true),
        new("running_total", "running_total(measure)", "the sum of a tile's lines up to this one", true),
        new("share", "share(measure, all)", "the part that a line has of all, of those shown, or of its group", true),
        new("previous", "previous(measure, period)", "the figure of the period before, or of the year before", true),
        new("rank", "rank(measure)", "the place of a line, from 1 for the greatest", true),
        new("coalesce", "coalesce(value, value)", "the first that is given", false),
        new("nullif", "nullif(value, value)", "the first, or nothing where both are the same", false),
        new("greatest", "greatest(value, value)", "the greatest of them", false),
        new("least", "least(value, value)", "the least of them", false),
        new("today", "today()", "the day in the zone of the workspace", false),
        new("now", "now()", "the time in the zone of the workspace", false),
        new("within", "within(date, 'last 30 days')", "true for dates in a period", false),
        .. Functions.All.Values.Select(f => new FormulaWord(f.Name, $"{f.Name}({string.Join(", ", f.Takes.Select(Said))})", f.Doc, false)),
    ];

    private static string Said(Takes takes) =>
        takes switch
        {
            Takes.Text or Takes.FixedText => "text",
            Takes.Number => "number",
            Takes.Date => "date",
            Takes.Integer => "count",
            Takes.FixedWhole => "digits",
            _ => "place",
        };
}
