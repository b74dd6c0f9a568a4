namespace Weir.Core.Expressions;

/// <summary>What an operation of a bound formula does with its arguments.</summary>
public enum Operation
{
    And,
    Or,
    Not,
    Equal,
    NotEqual,
    Less,
    LessOrEqual,
    Greater,
    GreaterOrEqual,
    Add,
    Subtract,
    Multiply,
    Divide,
    Remainder,
    Negate,
    Concatenate,

    /// <summary>First argument equals one of the others.</summary>
    In,
    Like,
    IsNull,
    Coalesce,

    /// <summary>Equal, or both null.</summary>
    Same,

    /// <summary>Condition, value, condition, value, …, and a last value for "else".</summary>
    Case,
    Cast,

    /// <summary>Text read as another type; null where it does not fit. See <see cref="TextReading"/>.</summary>
    Convert,
    Lower,
    Upper,
    Length,
    Abs,
    Trim,

    /// <summary>Text, place of the first character from 1, number of characters.</summary>
    Substring,

    /// <summary>Text, what to look for, what to put there.</summary>
    Replace,

    /// <summary>What to look for, text; the place from 1, or 0.</summary>
    Position,

    /// <summary>Number, digits after the point; halves away from zero.</summary>
    Round,
    Floor,
    Ceiling,

    /// <summary>Null for a negative number.</summary>
    SquareRoot,

    /// <summary>Null unless the number is positive.</summary>
    NaturalLogarithm,
    Exponential,
    AddDays,

    /// <summary>As many months on; the last day of the month where it has no such day.</summary>
    AddMonths,

    /// <summary>Calendar days from the first to the second.</summary>
    DaysBetween,

    /// <summary>Whole minutes from the first to the second, cut towards zero.</summary>
    MinutesBetween,
}

/// <summary>How an aggregate folds many rows into one value. Nulls are left out.</summary>
public enum AggregateFunction
{
    CountRows,
    Count,
    CountDistinct,
    Sum,
    Average,
    Minimum,
    Maximum,
    Percentile,
}

/// <summary>What a figure takes from other lines of the result.</summary>
public enum OverFunction
{
    /// <summary>The sum from the first line shown to this one, in the order of the first group.</summary>
    RunningTotal,

    /// <summary>The part of a base: all rows, or the members shown.</summary>
    Share,

    /// <summary>The figure of the period before, or of the same period a year before.</summary>
    Previous,

    /// <summary>The place among the members shown, from 1, the greatest first; equals share a place.</summary>
    Rank,
}

/// <summary>
/// A formula with its meaning fixed: names resolved to columns, every node with its type.
/// The one tree from which Weir takes the type, the SQL text and the value in memory.
/// </summary>
public abstract record Bound(ValueKind Kind)
{
    /// <summary>A formula with more nodes, those that it takes from other fields counted each time, is refused.</summary>
    public const int MaximumSize = 20_000;

    /// <summary>A formula that is nested deeper is refused.</summary>
    public const int MaximumDepth = 500;

    // Worked out once: fields that stand on fields share their nodes, so the tree may have far more places than nodes.
    private Shape? _shape;

    private sealed record Shape(long Size, int Depth, bool HasAggregate);

    /// <summary>A copy is another formula as soon as something in it is changed.</summary>
    protected Bound(Bound original) => Kind = original.Kind;

    /// <inheritdoc/>
    public virtual bool Equals(Bound? other) =>
        ReferenceEquals(this, other) || (other is not null && EqualityContract == other.EqualityContract && Kind == other.Kind);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(EqualityContract, Kind);

    private Shape Measured => _shape ??= Measure();

    private Shape Measure()
    {
        var (size, depth, aggregate) = (1L, 0, this is Aggregate);
        foreach (var child in Children.Select(c => c.Measured))
            (size, depth, aggregate) = (
                Math.Min(size + child.Size, long.MaxValue / 2),
                Math.Max(depth, child.Depth),
                aggregate || child.HasAggregate
            );
        return new Shape(size, depth + 1, aggregate);
    }

    /// <summary>How many nodes it has, written out.</summary>
    public long Size => Measured.Size;

    /// <summary>How deep it is nested.</summary>
    public int Depth => Measured.Depth;

    /// <summary>A fixed value.</summary>
    public sealed record Literal(object? Value, ValueKind Kind) : Bound(Kind);

    /// <summary>
    /// A value that an earlier answer of the plan gives; put in before the question is asked, and shown by its name where a plan is
    /// explained.
    /// </summary>
    public sealed record Open(string Name, ValueKind Kind) : Bound(Kind);

    /// <summary>A column of a table of the dataset.</summary>
    public sealed record Column(string Table, string Name, ValueKind Kind) : Bound(Kind);

    /// <summary>An attribute of the viewer, as the type that its neighbour needs; replaced by values when a scope is made.</summary>
    public sealed record UserAttribute(string Attribute, bool IsList, ValueKind Kind) : Bound(Kind);

    /// <summary>An operation on values of one row.</summary>
    public sealed record Op(Operation Operation, ValueKind Kind, params IReadOnlyList<Bound> Arguments) : Bound(Kind)
    {
        /// <inheritdoc/>
        public bool Equals(Op? other) =>
            other is not null && Operation == other.Operation && Kind == other.Kind && Arguments.SequenceEqual(other.Arguments);

        /// <inheritdoc/>
        public override int GetHashCode() => Arguments.Aggregate(HashCode.Combine(Operation, Kind), HashCode.Combine);
    }

    /// <summary>The first instant of the period that holds a date: a date, or a timestamp for hours.</summary>
    public sealed record Grain(Bound Argument, DateGrain Of) : Bound(Of == DateGrain.Hour ? ValueKind.Timestamp : ValueKind.Date);

    /// <summary>A place within a longer period, as a number.</summary>
    public sealed record Part(Bound Argument, DatePart Of) : Bound(ValueKind.Integer);

    /// <summary>A value over many rows.</summary>
    public sealed record Aggregate(AggregateFunction Function, Bound? Argument, Bound? Filter, ValueKind Kind) : Bound(Kind)
    {
        /// <summary>For a percentile: the fraction of the sorted values, 0 to 1.</summary>
        public double Fraction { get; init; }
    }

    /// <summary>A parameter that the viewer sets; replaced by its values when a scope is made.</summary>
    public sealed record Parameter(string Name, bool IsList, ValueKind Kind) : Bound(Kind);

    /// <summary>True if a date lies in a period such as <c>last 30 days</c>, which is worked out when a scope is made.</summary>
    public sealed record InPeriod(Bound Date, Bound Period) : Bound(ValueKind.Boolean);

    /// <summary>Today or now in the viewer's zone; replaced when a scope is made.</summary>
    public sealed record Clock(ValueKind Kind) : Bound(Kind);

    /// <summary>A figure that looks at other lines of the result: worked out after the database has answered.</summary>
    /// <param name="Inner">The measure.</param>
    /// <param name="Option">What the function is told besides, such as the base of a share.</param>
    public sealed record Over(OverFunction Function, Bound Inner, string? Option, ValueKind Kind) : Bound(Kind);

    /// <summary>The nodes directly below this one.</summary>
    public IEnumerable<Bound> Children =>
        this switch
        {
            Op op => op.Arguments,
            Grain grain => [grain.Argument],
            Part part => [part.Argument],
            Aggregate aggregate => new[] { aggregate.Argument, aggregate.Filter }.OfType<Bound>(),
            InPeriod period => [period.Date, period.Period],
            Over over => [over.Inner],
            _ => [],
        };

    /// <summary>This node and all below it.</summary>
    public IEnumerable<Bound> All() => Children.SelectMany(c => c.All()).Prepend(this);

    /// <summary>True if a value over many rows stands anywhere in it.</summary>
    public bool HasAggregate => Measured.HasAggregate;

    /// <summary>The same tree with each node, lowest first, put through <paramref name="change"/>.</summary>
    public Bound Rewrite(Func<Bound, Bound> change) =>
        change(
            this switch
            {
                Op op => op with { Arguments = [.. op.Arguments.Select(a => a.Rewrite(change))] },
                Grain grain => grain with { Argument = grain.Argument.Rewrite(change) },
                Part part => part with { Argument = part.Argument.Rewrite(change) },
                Aggregate a => a with { Argument = a.Argument?.Rewrite(change), Filter = a.Filter?.Rewrite(change) },
                InPeriod p => p with { Date = p.Date.Rewrite(change), Period = p.Period.Rewrite(change) },
                Over o => o with { Inner = o.Inner.Rewrite(change) },
                _ => this,
            }
        );

    /// <summary>The constant true.</summary>
    public static Bound True { get; } = new Literal(true, ValueKind.Boolean);

    /// <summary>The constant false.</summary>
    public static Bound False { get; } = new Literal(false, ValueKind.Boolean);

    /// <summary>From an instant, included, to another, excluded.</summary>
    public static Bound Between(Bound date, DateTime from, DateTime to)
    {
        Literal At(DateTime instant) =>
            Instant(date.Kind, instant) is var value && value is DateOnly ? new(value, ValueKind.Date) : new(value, ValueKind.Timestamp);
        return Between(date, At(from), At(to));
    }

    /// <summary>From a value, included, to another, excluded.</summary>
    public static Bound Between(Bound value, Bound from, Bound to) =>
        new Op(
            Operation.And,
            ValueKind.Boolean,
            new Op(Operation.GreaterOrEqual, ValueKind.Boolean, value, from),
            new Op(Operation.Less, ValueKind.Boolean, value, to)
        );

    /// <summary>An instant as it is compared with a date or a timestamp: as a day where both are days.</summary>
    public static object Instant(ValueKind comparedWith, DateTime instant) =>
        comparedWith == ValueKind.Date && instant.TimeOfDay == TimeSpan.Zero ? DateOnly.FromDateTime(instant) : instant;

    /// <summary>All of the conditions; true if there are none.</summary>
    public static Bound All(IEnumerable<Bound> conditions) => Join(Operation.And, conditions, True);

    /// <summary>Any of the conditions; false if there are none.</summary>
    public static Bound Any(IEnumerable<Bound> conditions) => Join(Operation.Or, conditions, False);

    private static Bound Join(Operation operation, IEnumerable<Bound> conditions, Bound none)
    {
        Bound[] all = [.. conditions];
        return all switch
        {
            [] => none,
            [var only] => only,
            _ => new Op(operation, ValueKind.Boolean, all),
        };
    }
}
