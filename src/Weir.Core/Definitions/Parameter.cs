using Weir.Core.Expressions;

namespace Weir.Core.Definitions;

/// <summary>A named value that a viewer sets, used in formulas and queries as <c>param.name</c>.</summary>
/// <param name="IsPeriod">True if its value is a text such as <c>last 30 days</c>.</param>
/// <param name="Many">True if it has a list of values, for use after IN.</param>
/// <param name="Optional">True if it may be left empty: then the conditions that name it restrict nothing.</param>
/// <param name="Opening">Its values until the viewer sets others; none if it begins empty.</param>
/// <param name="Least">The least value, included.</param>
/// <param name="Most">The greatest value, included.</param>
public sealed record Parameter(
    string Name,
    string Title,
    string? Description,
    ValueKind Kind,
    bool IsPeriod,
    bool Many,
    bool Optional,
    IReadOnlyList<object> Opening,
    object? Least,
    object? Most,
    ParameterChoices? Choices
)
{
    /// <summary>More values than this in a list are refused.</summary>
    public const int MaximumValues = 1_000;

    /// <summary>How formulas see it.</summary>
    public Bound.Parameter Bound => new(Name, Many, Kind);

    /// <summary>Reads a value as written by a person or sent by a page, against type, limits and fixed choices.</summary>
    /// <returns>The value, or the reason why it is none.</returns>
    public (object? Value, string? Fault) Read(string text)
    {
        if (Values.Parse(text, Kind) is not { } value)
            return (null, $"{Title} is {(IsPeriod ? "a period" : Kind.Name())}; {Short(text)} is not.");
        if (IsPeriod && RelativePeriod.Parse(text) is null)
            return (null, $"{Short(text)} is no period. {RelativePeriod.Help}");
        if (Least is not null && Evaluator.Compare(value, Least) < 0)
            return (null, $"{Title} is at least {Values.Write(Least)}.");
        if (Most is not null && Evaluator.Compare(value, Most) > 0)
            return (null, $"{Title} is at most {Values.Write(Most)}.");
        if (Choices is ParameterChoices.Fixed { Items: var items } && items.All(i => Evaluator.Compare(i.Value, value) != 0))
            return (
                null,
                $"{Short(text)} is none of the choices of {Title}: {string.Join(", ", items.Take(10).Select(i => Values.Write(i.Value)))}."
            );
        return (value, null);
    }

    private static string Short(string text) => text.Length <= 40 ? $"'{text}'" : $"'{text[..40]}…'";
}

/// <summary>Where the choices of a parameter come from.</summary>
public abstract record ParameterChoices
{
    /// <summary>A list in the definition.</summary>
    public sealed record Fixed(IReadOnlyList<(object Value, string Title)> Items) : ParameterChoices;

    /// <summary>The distinct values of a field, as the viewer may see them.</summary>
    public sealed record OfField(string Field) : ParameterChoices;

    /// <summary>
    /// A developer's SELECT with the columns <c>value</c> and <c>title</c>. With a field, only those choices that occur in it among
    /// the rows that the viewer may see.
    /// </summary>
    public sealed record Lookup(QueryText Query, string? Field) : ParameterChoices
    {
        /// <summary>True if the query itself takes something from the viewer.</summary>
        public bool AsksForViewer => Query.Pieces.Any(p => p is QueryPiece.Named { Bound: Bound.UserAttribute });
    }
}
