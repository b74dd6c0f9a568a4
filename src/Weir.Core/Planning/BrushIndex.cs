using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning.Passes;
using Weir.Core.Results;

namespace Weir.Core.Planning;

/// <summary>A step of a figure's formula over folded parts, in postfix order.</summary>
/// <param name="Do">part, average, value, or the name of an operation over what was pushed before.</param>
/// <param name="Part">For part: its index. For average: the index of the sum.</param>
/// <param name="Takes">For an operation: how many values it takes. For average: the index of the count.</param>
/// <param name="Kind">The type of what it pushes.</param>
public sealed record FoldStep(string Do, int Part, int Takes, object? Value, ValueKind Kind);

/// <summary>
/// The question for the small cube of a driving tile's members by a follower's members: from its cells the follower's answer
/// under any selection on the driving tile is added up, without asking again.
/// </summary>
public sealed class BrushIndex
{
    /// <summary>More cells than this are not sent to a page; the follower is asked for as before.</summary>
    public const int MostCells = 60_000;

    private BrushIndex(
        Query answer,
        Query cells,
        int driver,
        IReadOnlyList<Bound.Aggregate> parts,
        IReadOnlyList<IReadOnlyList<FoldStep>> figures
    )
    {
        Answer = answer;
        Cells = cells;
        DriverFields = driver;
        Parts = parts;
        Figures = figures;
    }

    /// <summary>The follower's own question with nothing picked on the driving tile.</summary>
    public Query Answer { get; }

    /// <summary>The question for the cells: grouped by the driving tile's fields, then by the follower's; its figures are the parts.</summary>
    public Query Cells { get; }

    /// <summary>The date and length of those periods of the answer that may not be whole; null if there are none.</summary>
    public Bound.Grain? PeriodGrain => WholePeriods.Of(Answer)?.Grain;

    /// <summary>True if the first two groups name those periods together.</summary>
    public bool PeriodsArePairs => WholePeriods.Of(Answer) is { ArePairs: true };

    /// <summary>The spans that the data and all that filters the answer reach; null if there are no data.</summary>
    /// <param name="bounds">The answer to <see cref="Planner.Bounds"/>.</param>
    public IReadOnlyList<(DateTime From, DateTime To)>? Reach(Table bounds, TileFilters filters, Scope scope, DayOfWeek weekStart) =>
        WholePeriods.Of(Answer)?.Reach(bounds, filters, scope, weekStart);

    /// <summary>How many of the groups of <see cref="Cells"/> are the driving tile's.</summary>
    public int DriverFields { get; }

    /// <summary>The aggregates that the cells hold.</summary>
    public IReadOnlyList<Bound.Aggregate> Parts { get; }

    /// <summary>How each figure of the follower comes from folded parts.</summary>
    public IReadOnlyList<IReadOnlyList<FoldStep>> Figures { get; }

    /// <summary>Plans the cube, or tells why the follower can't be answered exactly from one.</summary>
    /// <param name="driver">The driving tile's fields in the follower's dataset.</param>
    /// <param name="plan">The follower's plan under all that filters it but what is picked on the driving tile.</param>
    public static (BrushIndex? Index, string? Refusal) Plan(IReadOnlyList<FieldAt> driver, TilePlan plan)
    {
        var (follower, answer, planner, scope) = (plan.Tile, plan.Shown, plan.Planner, plan.Scope);
        if (follower.Change is not null)
            return (null, "it compares the newest period with the one before");
        if (WindowFigures.Of(answer) is not null)
            return (null, "a measure of it looks at other lines");
        if (follower.Picture.HasSubtotals)
            return (null, "its subtotals are worked out by the service");
        if (follower.Courses.Count > 0)
            return (null, "the small pictures in its lines are worked out by the service");
        if (follower.References.Any(r => r.Measure is not null))
            return (null, "a line of it is at a measure, which the service works out");
        if (follower.Parent is not null)
            return (null, "its hierarchy is worked out by the service");
        if (follower.Options.ContainsKey(TileReader.SinceStart))
            return (null, "its lines begin together, which the service works out");
        if (follower.Picture.Question is QuestionShape.Summary or QuestionShape.Movement)
            return (null, "what it tells is worked out by the service");
        if (follower.Ranges is not null || follower.Of is not null || follower.Picture.Question == QuestionShape.Curves)
            return (null, "how its values spread is worked out by the service");
        var aggregates = answer.Figures.SelectMany(f => f.Formula.All().OfType<Bound.Aggregate>()).ToList();
        if (aggregates.Any(a => a.Function is AggregateFunction.CountDistinct or AggregateFunction.Percentile))
            return (null, "distinct counts and percentiles can't be added up");
        if (aggregates.Any(a => a.Kind == ValueKind.Text))
            return (null, "the first or last of texts is the database's to tell");
        List<Bound.Aggregate> parts = [.. answer.Figures.SelectMany(f => CellFold.Parts(f.Formula)).Distinct()];
        var figures = answer.Figures.Select(f => Steps(f.Formula, parts)).ToList();
        if (figures.Contains(null))
            return (null, "a measure of it uses a function that only the database works out");
        // A cell exists where there are rows, also for a tile without figures.
        parts.Add(new Bound.Aggregate(AggregateFunction.CountRows, null, null, ValueKind.Integer));
        List<Output> groups = [.. driver.Select(f => planner.Group(f, scope)), .. answer.Groups];
        var cells = answer with
        {
            Groups = groups,
            Top = null,
            ByMember = null,
            Order = [],
            Limit = MostCells,
            Figures = [.. parts.Select((p, i) => new Output(p, new Column($"p{i + 1}", "", ColumnRole.Figure, p.Kind, null, null)))],
        };
        return (new BrushIndex(answer, cells, driver.Count, parts, figures!), null);
    }

    /// <summary>The steps of a formula; null if one of its operations is not known to pages.</summary>
    private static List<FoldStep>? Steps(Bound formula, List<Bound.Aggregate> parts)
    {
        switch (formula)
        {
            case Bound.Aggregate { Function: AggregateFunction.Average } average:
                var both = CellFold.Parts(average).Select(p => parts.IndexOf(p)).ToList();
                return [new("average", both[0], both[1], null, ValueKind.Float)];
            case Bound.Aggregate a:
                return [new("part", parts.IndexOf(a), 0, null, a.Kind)];
            case Bound.Literal { Value: null or long or decimal or double } literal:
                return [new("value", 0, 0, literal.Value, literal.Kind)];
            case Bound.Op
            {
                Operation: Operation.Add
                    or Operation.Subtract
                    or Operation.Multiply
                    or Operation.Divide
                    or Operation.Negate
                    or Operation.Coalesce
            } op:
                var steps = new List<FoldStep>();
                foreach (var argument in op.Arguments)
                {
                    if (Steps(argument, parts) is not { } inner)
                        return null;
                    steps.AddRange(inner);
                }
                steps.Add(new(op.Operation.ToString().ToLowerInvariant(), 0, op.Arguments.Count, null, op.Kind));
                return steps;
            default:
                return null;
        }
    }

    /// <summary>The members of a grouping in the follower's own order, missing last; where it is ranked by name, that order.</summary>
    public static IReadOnlyList<object?> Ordered(IEnumerable<object?> members, OrderKey key) => SharedScan.Ordered(members, key);
}
