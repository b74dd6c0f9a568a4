namespace Weir.Core.Expressions;

/// <summary>A function of values of one row.</summary>
/// <param name="Takes">What each argument must be.</param>
/// <param name="Result">The type of the result by those of the arguments.</param>
/// <param name="Doc">Its exact meaning, for docs/datasets.md; a test holds the docs to it.</param>
internal sealed record Function(
    string Name,
    Operation Operation,
    IReadOnlyList<Takes> Takes,
    Func<IReadOnlyList<ValueKind>, ValueKind> Result,
    string Doc
);

/// <summary>What an argument of a function must be.</summary>
internal enum Takes
{
    Text,
    Number,
    Date,
    Integer,

    /// <summary>A whole number written out, at least 0.</summary>
    FixedWhole,

    /// <summary>A whole number written out, at least 1.</summary>
    FixedPlace,

    /// <summary>A text written out, not empty.</summary>
    FixedText,
}

/// <summary>The functions that mean the same on every engine.</summary>
internal static class Functions
{
    private static Func<IReadOnlyList<ValueKind>, ValueKind> Always(ValueKind kind) => _ => kind;

    private static ValueKind First(IReadOnlyList<ValueKind> kinds) => kinds[0];

    /// <summary>All, by name.</summary>
    public static IReadOnlyDictionary<string, Function> All { get; } =
        new Function[]
        {
            new(
                "lower",
                Operation.Lower,
                [Takes.Text],
                Always(ValueKind.Text),
                "small letters; beyond A to Z as far as the database knows them"
            ),
            new(
                "upper",
                Operation.Upper,
                [Takes.Text],
                Always(ValueKind.Text),
                "capital letters; beyond A to Z as far as the database knows them"
            ),
            new("length", Operation.Length, [Takes.Text], Always(ValueKind.Integer), "the number of characters (Unicode code points)"),
            new("trim", Operation.Trim, [Takes.Text], Always(ValueKind.Text), "without the spaces at both ends"),
            new(
                "substring",
                Operation.Substring,
                [Takes.Text, Takes.FixedPlace, Takes.FixedWhole],
                Always(ValueKind.Text),
                "so many characters from a place on, counted from 1; both written out"
            ),
            new(
                "replace",
                Operation.Replace,
                [Takes.Text, Takes.FixedText, Takes.Text],
                Always(ValueKind.Text),
                "every occurrence of the second, which is written out, replaced by the third"
            ),
            new(
                "position",
                Operation.Position,
                [Takes.FixedText, Takes.Text],
                Always(ValueKind.Integer),
                "where the first, which is written out, begins in the second, from 1; 0 if nowhere"
            ),
            new("abs", Operation.Abs, [Takes.Number], First, "without its sign"),
            new(
                "round",
                Operation.Round,
                [Takes.Number, Takes.FixedWhole],
                Always(ValueKind.Decimal),
                "to so many digits (at most 6) after the point, halves away from zero; a floating-point number counts to its sixth digit"
            ),
            new("floor", Operation.Floor, [Takes.Number], Always(ValueKind.Integer), "the greatest whole number that is not greater"),
            new("ceiling", Operation.Ceiling, [Takes.Number], Always(ValueKind.Integer), "the least whole number that is not less"),
            new("sqrt", Operation.SquareRoot, [Takes.Number], Always(ValueKind.Float), "the square root; nothing for a negative number"),
            new(
                "ln",
                Operation.NaturalLogarithm,
                [Takes.Number],
                Always(ValueKind.Float),
                "the natural logarithm; nothing unless the number is positive"
            ),
            new("exp", Operation.Exponential, [Takes.Number], Always(ValueKind.Float), "e to the power"),
            new("add_days", Operation.AddDays, [Takes.Date, Takes.Integer], First, "so many days later"),
            new(
                "add_months",
                Operation.AddMonths,
                [Takes.Date, Takes.Integer],
                First,
                "so many months later; the last day of the month where it has no such day"
            ),
            new(
                "days_between",
                Operation.DaysBetween,
                [Takes.Date, Takes.Date],
                Always(ValueKind.Integer),
                "calendar days from the first to the second"
            ),
            new(
                "minutes_between",
                Operation.MinutesBetween,
                [Takes.Date, Takes.Date],
                Always(ValueKind.Integer),
                "whole minutes from the first to the second, cut towards zero"
            ),
        }.ToDictionary(f => f.Name);

    /// <summary>Other names that the binder knows, for "did you mean".</summary>
    public static IReadOnlyList<string> Names { get; } =
    [
        .. All.Keys,
        "coalesce",
        "nullif",
        "greatest",
        "least",
        "today",
        "now",
        "within",
        "count",
        "sum",
        "avg",
        "min",
        "max",
        "median",
        "percentile",
        "running_total",
        "share",
        "previous",
        "rank",
    ];
}
