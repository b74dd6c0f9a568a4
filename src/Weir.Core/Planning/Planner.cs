using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning.Passes;
using Weir.Core.Results;

namespace Weir.Core.Planning;

/// <summary>Plans what is asked of a dataset: pure functions of tile, right and filters.</summary>
/// <param name="weekStart">The first day of the workspace's week.</param>
/// <param name="money">The workspace's unit of money.</param>
public sealed class Planner(DayOfWeek weekStart, string money)
{
    /// <summary>The first day of the workspace's week.</summary>
    public DayOfWeek WeekStart => weekStart;

    /// <summary>
    /// The passes by which a tile becomes a plan, in order. Each is a pure function from plan to plan that adds what it knows of and
    /// leaves alone what does not concern it.
    /// </summary>
    public static IReadOnlyList<(string Name, Func<TilePlan, TilePlan> Apply)> Passes { get; } =
    [
        ("what is visible", VisiblePart.Apply),
        ("opened level", OpenedLevel.Apply),
        ("the picture's question", PictureQuestion.Apply),
        ("ranges of values", RangesOfValues.Apply),
        ("spread of values", SpreadOfValues.Apply),
        ("curves of values", CurvesOfValues.Apply),
        ("what fields are like", SummaryOfFields.Apply),
        ("movement of subjects", MovementOfSubjects.Apply),
        ("leading members and rest", LeadingMembers.Apply),
        ("order of lines", LineOrder.Apply),
        ("change on the period before", ChangeOnPeriod.Apply),
        ("figures that look at other lines", WindowFigures.Apply),
        ("members in order", MembersInOrder.Apply),
        ("line of totals", TotalsLine.Apply),
        ("subtotals", SubtotalLines.Apply),
        ("small pictures in the lines", CoursesOfLines.Apply),
        ("lines at measures", ReferenceFigures.Apply),
        ("periods that are not whole", WholePeriods.Apply),
        ("lines from their own starts", SinceStart.Apply),
        ("picked members", PickedMembers.Apply),
        ("colours of members", MemberColours.Apply),
        ("points in cells", PointsInCells.Apply),
        ("labels and their parents", HierarchyOfParents.Apply),
    ];

    /// <summary>A drop-down or list brings so many members; the others are searched for.</summary>
    public const int MostOptions = 1_000;

    /// <summary>Plans a tile: asks nobody.</summary>
    /// <param name="tile">The tile as defined for the viewer's choices.</param>
    /// <param name="filters">All that filters it: see <see cref="Wiring.FiltersOf"/>.</param>
    /// <param name="limit">The most lines that are brought.</param>
    /// <param name="own">What is picked on the tile itself, with the levels opened there; null for nothing.</param>
    /// <param name="detail">The right to single rows with what filters them; null if the viewer has none.</param>
    /// <exception cref="ArgumentException">The viewer may not see the tile.</exception>
    public TilePlan Plan(
        Tile tile,
        Scope scope,
        TileFilters filters,
        int limit,
        Selection? own = null,
        (Scope Scope, TileFilters Filters)? detail = null
    ) =>
        Passes.Aggregate(
            new TilePlan(
                this,
                tile,
                scope,
                filters,
                own,
                tile.Picture.Question == QuestionShape.Options ? Math.Min(limit, MostOptions) : limit
            )
            {
                Detail = detail,
            },
            (plan, pass) => pass.Apply(plan)
        );

    /// <summary>What a tile shows as one question.</summary>
    /// <param name="tile">The tile at its opened level.</param>
    /// <param name="limit">The most lines that are brought.</param>
    public Query Question(Tile tile, Scope scope, TileFilters filters, int limit) => Plan(tile, scope, filters, limit).Shown;

    /// <summary>The same rows and figures in one line over all of them.</summary>
    public static Query Totals(Query query) => query with { Groups = [], Top = null, ByMember = null, Order = [], Limit = 1 };

    /// <summary>The first and the last instant of a date among all rows that the viewer may see.</summary>
    public static Query Bounds(Scope scope, Bound.Grain grain)
    {
        Output At(AggregateFunction function, string name) =>
            new(
                new Bound.Aggregate(function, grain.Argument, null, grain.Argument.Kind),
                new Column(name, name, ColumnRole.Figure, grain.Argument.Kind, null, null)
            );
        return new Query(scope, [], [], [At(AggregateFunction.Minimum, "first"), At(AggregateFunction.Maximum, "last")], null, [], 1);
    }

    /// <summary>The greatest value of a date among all rows that the viewer may see.</summary>
    public static Query Newest(FieldAt field, Scope scope)
    {
        var formula = Fields.At(field, scope)!;
        var date = formula is Bound.Grain grain ? grain.Argument : formula;
        return new Query(
            scope,
            [],
            [],
            [
                new Output(
                    new Bound.Aggregate(AggregateFunction.Maximum, date, null, date.Kind),
                    new Column("newest", "Newest", ColumnRole.Figure, date.Kind, null, null)
                ),
            ],
            null,
            [],
            1
        );
    }

    /// <summary>Those members of some fields that have rows, among the rows that meet a condition.</summary>
    public Query Present(IReadOnlyList<FieldAt> fields, Scope scope, Bound among, int limit) =>
        new(scope, [among], [.. fields.Select(f => Group(f, scope))], [], null, [], limit);

    /// <summary>The most frequent members of a field among all rows that the viewer may see, and how many rows have each.</summary>
    public Query Frequent(FieldAt field, Scope scope, int limit) =>
        new(scope, [], [Group(field, scope)], [Output.RowCount], null, [new OrderKey(1, true), new OrderKey(0, false)], limit);

    /// <summary>The least and the greatest value of a field among all rows that the viewer may see.</summary>
    public Query Ends(FieldAt field, Scope scope)
    {
        var (formula, of) = Group(field, scope);
        Output At(AggregateFunction function, string name, string title) =>
            new(
                new Bound.Aggregate(function, formula, null, formula.Kind),
                new Column(name, title, ColumnRole.Figure, formula.Kind, of.Format, null) { Pattern = of.Pattern }
            );
        return new Query(
            scope,
            [],
            [],
            [At(AggregateFunction.Minimum, "least", "Least"), At(AggregateFunction.Maximum, "greatest", "Greatest")],
            null,
            [],
            1
        );
    }

    /// <summary>How many rows the figures of a tile are made of.</summary>
    public static Query RowCount(Scope scope, TileFilters filters) =>
        new(scope, [.. filters.Conditions], [], [Output.RowCount], null, [], 1);

    /// <summary>A measure in each period of a date field, in calendar order, with the newest instant in each.</summary>
    public Query Course(Tile tile, Scope scope, IReadOnlyList<Bound> where, int limit)
    {
        var period = Group(tile.Change!, scope);
        var date = ((Bound.Grain)period.Formula).Argument;
        var newest = new Output(
            new Bound.Aggregate(AggregateFunction.Maximum, date, null, date.Kind),
            new Column("newest", "Newest", ColumnRole.Figure, date.Kind, null, null)
        );
        var present = new Bound.Op(Operation.Not, ValueKind.Boolean, new Bound.Op(Operation.IsNull, ValueKind.Boolean, date));
        return new Query(
            scope,
            [.. where, present],
            [period],
            [Figure(scope.Measures[tile.Show[0]]), newest],
            null,
            [new OrderKey(0, Descending: true)],
            limit
        );
    }

    /// <summary>
    /// The rows behind a tile or a mark of it, one by one. Their order does not depend on which columns are shown: the sorted fields
    /// first, then all others, so that pages and single rows agree.
    /// </summary>
    /// <param name="scope">The right to single rows: see <see cref="Scope.ForDetail"/>.</param>
    /// <param name="sort">The fields to sort by, the first before the next; all others follow in the dataset's order.</param>
    public Query Rows(Scope scope, IEnumerable<Bound> where, IReadOnlyList<(string Field, bool Descending)> sort, int limit)
    {
        var keys = sort.Select((s, place) => (s.Field, s.Descending, place)).ToDictionary(s => s.Field);
        var columns = scope.Fields.Values.Select(f => Group(new FieldAt(f.Name, null), scope)).ToList();
        var order = Enumerable
            .Range(0, columns.Count)
            .Select(i => Key(new Query(scope, [], columns, [], null, [], limit), i, DescendingAt(i)))
            .OrderBy(k => keys.TryGetValue(columns[k.Column].Column.Name, out var key) ? key.place : int.MaxValue)
            .ToList();
        bool DescendingAt(int column) => keys.TryGetValue(columns[column].Column.Name, out var key) && key.Descending;
        // Rows that are totals of others did not make the figure.
        IEnumerable<Bound> parts = scope.Totals is { } totals ? where.Append(Query.IsPart(totals)) : where;
        return new Query(scope, [.. parts], columns, [], null, order, limit) { EachRow = true };
    }

    /// <summary>A field as a column of a result.</summary>
    public Output Group(FieldAt at, Scope scope)
    {
        var field = scope.Fields[at.Field];
        var formula = Fields.At(at, scope)!;
        var title = Titles.OfField(at, field.Title);
        var format = field.Format is null || at.Member is not null ? null : Format.Parse(field.Format, money);
        return new Output(
            formula,
            new Column(at.ToString(), title, ColumnRole.Group, formula.Kind, format, at.Member)
            {
                Colours = field.Colours.Count > 0 && at.Member is null ? field.Colours : null,
                Names = at.Member is null ? field.WrittenNames : null,
                Pattern = field.Patterns.GetValueOrDefault(at.Member ?? ""),
            }
        )
        {
            NamedBy = at.Member is null ? field.NamedBy : null,
        };
    }

    /// <summary>A measure as a column of a result.</summary>
    internal Output Figure(Measure measure) =>
        new(
            measure.Formula,
            new Column(
                measure.Name,
                measure.Title,
                ColumnRole.Figure,
                measure.Formula.Kind,
                measure.Format is null ? null : Format.Parse(measure.Format, money),
                null
            )
            {
                Pattern = measure.Patterns.GetValueOrDefault(""),
            }
        );

    /// <summary>The order by a column: that of days of the week, of the developer, of names, or the natural one.</summary>
    internal OrderKey Key(Query query, int column, bool descending) =>
        new(
            column,
            descending,
            column < query.Groups.Count && query.Groups[column].Formula is Bound.Part { Of: DatePart.DayOfWeek }
                ? weekStart == DayOfWeek.Sunday
                    ? 7
                    : (int)weekStart
                : null,
            column < query.Groups.Count
            && query.Groups[column].Column.At is null
            && query.Scope.Fields.GetValueOrDefault(query.Groups[column].Column.Name) is { } field
                // Codes stand in the order of their names, those without one after them.
                ? field.Order
                    ?? (field.Names.Count > 0 ? [.. field.Names.OrderBy(n => n.Value, StringComparer.Ordinal).Select(n => n.Key)] : null)
                : null
        );
}
