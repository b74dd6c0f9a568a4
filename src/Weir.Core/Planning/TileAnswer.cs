using Weir.Core.Results;

namespace Weir.Core.Planning;

/// <summary>An answered question.</summary>
/// <param name="Lines">How many lines there would be without the limit.</param>
public sealed record QueryAnswer(Table Table, long Lines)
{
    /// <summary>When the data were read; null if whoever answered does not tell.</summary>
    public DateTimeOffset? ReadAt { get; init; }

    /// <summary>Why it is older than was asked for; null if it is not.</summary>
    public string? Held { get; init; }
}

/// <summary>Asks a question where the data are: a database, a cache, memory.</summary>
public delegate Task<QueryAnswer> Ask(Query query, CancellationToken cancellation);

/// <summary>What a tile shows.</summary>
/// <param name="Lines">How many lines there would be without the limit; more than the table has if it was cut.</param>
/// <param name="Totals">For a table with totals: one line, each measure by its own aggregation over all rows.</param>
/// <param name="Change">For a number with a change.</param>
/// <param name="Partial">The periods of the first group that are not whole; of a cross table's last one, where that has the periods.</param>
public sealed record TileAnswer(Table Table, long Lines, Table? Totals, PeriodChange? Change, IReadOnlyList<object> Partial)
{
    internal static TileAnswer None { get; } = new(new Table([], []), 0, null, null, []);

    /// <summary>Members of the first two groups that together name a period which is not whole: a month of the year, and a year.</summary>
    public IReadOnlyList<(object First, object Second)> PartialPairs { get; init; } = [];

    /// <summary>The figures over fewer of its fields, each measure by its own aggregation; none for a picture without.</summary>
    public IReadOnlyList<Subtotal> Subtotals { get; init; } = [];

    /// <summary>For each line and band of the picture the figure at which it is, where that is a measure's; none where no line is.</summary>
    public IReadOnlyList<object?> References { get; init; } = [];

    /// <summary>The same for each member of a picture that is repeated, for lines that are of its own rows.</summary>
    public IReadOnlyList<(object? Member, IReadOnlyList<object?> At)> ReferencesOfEach { get; init; } = [];

    /// <summary>The small pictures in its lines.</summary>
    public IReadOnlyList<LineCourse> Courses { get; init; } = [];

    /// <summary>What has to be known beside its figures, as a sentence; null for nothing.</summary>
    public string? Note { get; init; }

    /// <summary>The single values beyond the whiskers of its boxes; none for those who may not see rows.</summary>
    public IReadOnlyList<Outlier> Outliers { get; init; } = [];

    /// <summary>The members picked on the tile that have no rows now, where it does not show all members anyway.</summary>
    public IReadOnlyList<IReadOnlyList<object?>> Absent { get; init; } = [];
}

/// <summary>A measure of each line of a table in each period.</summary>
/// <param name="As">line, area or bars.</param>
/// <param name="Periods">The periods that any line has figures in, in order.</param>
/// <param name="Lines">For each line of the table a value for each period; null where it has no rows.</param>
/// <param name="IsCut">True if there are too many to be brought; then there are no periods.</param>
public sealed record LineCourse(
    string As,
    Column Figure,
    Column Along,
    IReadOnlyList<object> Periods,
    IReadOnlyList<IReadOnlyList<object?>> Lines,
    bool IsCut
);

/// <summary>A value beyond the whiskers of a box.</summary>
/// <param name="Member">The member whose box it is, a value for each group.</param>
/// <param name="Count">How many rows have it.</param>
public sealed record Outlier(IReadOnlyList<object?> Member, object Value, long Count);

/// <summary>Figures over fewer fields than the lines of a tile.</summary>
/// <param name="Down">How many of the fields down they are grouped by, from the first.</param>
/// <param name="IsAcross">True if by the one across too, which is then the last group.</param>
/// <param name="Table">A line for each of their members, in the order in which these stand.</param>
public sealed record Subtotal(int Down, bool IsAcross, Table Table);

/// <summary>
/// A measure in the newest period at hand and its change on the period before. A partial period is marked and compared
/// with the same span of the one before; the relative change is undefined when the earlier value is missing or zero.
/// </summary>
/// <param name="Period">The first day (or hour) of the newest period.</param>
/// <param name="Until">The end, excluded, of the span of it that has data and is selected.</param>
/// <param name="IsPartial">True if that span is not the whole period.</param>
/// <param name="Course">The measure in the periods up to this one, oldest first, gaps as null.</param>
public sealed record PeriodChange(
    Column PeriodColumn,
    object Period,
    DateTime From,
    DateTime Until,
    bool IsPartial,
    object? Value,
    object? Earlier,
    object EarlierPeriod,
    double? Relative,
    IReadOnlyList<object?> Course
);

/// <summary>The members of a line, equal if all of them are.</summary>
internal sealed record LineMembers(IReadOnlyList<object?> Values)
{
    /// <inheritdoc/>
    public bool Equals(LineMembers? other) => other is not null && Values.SequenceEqual(other.Values);

    /// <inheritdoc/>
    public override int GetHashCode() => Values.Aggregate(0, HashCode.Combine);
}
