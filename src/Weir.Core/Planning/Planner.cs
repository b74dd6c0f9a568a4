using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Results;

namespace Weir.Core.Planning;

/// <summary>Plans the question of a tile: a pure function of tile, right and filters.</summary>
/// <param name="weekStart">The first day of the workspace's week.</param>
/// <param name="money">The workspace's unit of money.</param>
public sealed class Planner(DayOfWeek weekStart, string money)
{
    /// <summary>The tile's own question.</summary>
    /// <param name="tile">A tile as the viewer may see it: see <see cref="Fields.Visible"/>.</param>
    /// <param name="limit">The most lines that are brought.</param>
    public Query Plan(Tile tile, Scope scope, TileFilters filters, int limit)
    {
        // A control for a range asks for its ends only, one for a piece of text how many members there are to search.
        if (tile.Picture is "slider" or "dates" or "search")
            return new Query(scope, [.. filters.Conditions], [], [.. Ends(tile, scope)], null, [], 1);
        var groups = tile.Groups.Select(g => Group(g, scope)).ToList();
        var figures = tile.Show.Select(m => Figure(scope.Measures[m])).ToList();
        var top = tile.Top is { } t && groups.Count > 0 && figures.Count > 0 ? new TopMembers(t.Count, t.Rest) : null;
        var query = new Query(scope, [.. filters.Conditions], groups, figures, top, [], limit);
        var byMember = ByMember(tile, query, scope);
        return query with { Order = Order(tile, query, scope, byMember), ByMember = byMember };
    }

    /// <summary>Where lines are split, a member's place is by its figure over all of them.</summary>
    private static MemberOrder? ByMember(Tile tile, Query query, Scope scope)
    {
        if (tile.Split is null || tile.By.Count != 1 || query.Figures.Count == 0)
            return null;
        if (tile.Sort is { } sort)
            return tile.Show.ToList().IndexOf(sort.By) is >= 0 and var figure ? new MemberOrder(figure, sort.Descending) : null;
        return IsNamed(query.Groups[0], scope) ? new MemberOrder(0, Descending: true) : null;
    }

    /// <summary>True for members without an order of their own: texts, and codes and keys that are read by their names.</summary>
    private static bool IsNamed(Output group, Scope scope) =>
        (group.Formula.Kind == ValueKind.Text || group.Column.Names is not null || group.NamedBy is not null) && scope.Fields[group.Column.Name].Order is null;


    private IEnumerable<Output> Ends(Tile tile, Scope scope)
    {
        var field = Group(tile.By[0], scope);
        Output Of(AggregateFunction function, string name, ValueKind kind) => new(
            new Bound.Aggregate(function, field.Formula, null, kind), field.Column with { Name = name, Role = ColumnRole.Figure, Kind = kind, Colours = null, Names = null });
        return tile.Picture == "search" ? [Of(AggregateFunction.CountDistinct, "members", ValueKind.Integer)]
            : [Of(AggregateFunction.Minimum, "first", field.Formula.Kind), Of(AggregateFunction.Maximum, "last", field.Formula.Kind)];
    }

    /// <summary>The same rows and figures in one line over all of them.</summary>
    public static Query Totals(Query query) => query with { Groups = [], Top = null, ByMember = null, Order = [], Limit = 1 };

    /// <summary>The first and the last instant of a date among all rows that the viewer may see.</summary>
    public static Query Bounds(Scope scope, Bound.Grain grain)
    {
        Output At(AggregateFunction function, string name) => new(
            new Bound.Aggregate(function, grain.Argument, null, grain.Argument.Kind), new Column(name, name, ColumnRole.Figure, grain.Argument.Kind, null, null));
        return new Query(scope, [], [], [At(AggregateFunction.Minimum, "first"), At(AggregateFunction.Maximum, "last")], null, [], 1);
    }

    /// <summary>The greatest value of a date among all rows that the viewer may see.</summary>
    public static Query Newest(FieldAt field, Scope scope)
    {
        var formula = Fields.At(field, scope)!;
        var date = formula is Bound.Grain grain ? grain.Argument : formula;
        return new Query(scope, [], [], [new Output(new Bound.Aggregate(AggregateFunction.Maximum, date, null, date.Kind), new Column("newest", "Newest", ColumnRole.Figure, date.Kind, null, null))], null, [], 1);
    }

    /// <summary>Those members of some fields that have rows, among the rows that meet a condition.</summary>
    public Query Present(IReadOnlyList<FieldAt> fields, Scope scope, Bound among, int limit) =>
        new(scope, [among], [.. fields.Select(f => Group(f, scope))], [], null, [], limit);

    /// <summary>How many rows the figures of a tile are made of.</summary>
    public static Query RowCount(Scope scope, TileFilters filters) => new(scope, [.. filters.Conditions], [], [new Output(
        new Bound.Aggregate(AggregateFunction.CountRows, null, null, ValueKind.Integer), new Column("rows", "Rows", ColumnRole.Figure, ValueKind.Integer, null, null))], null, [], 1);

    /// <summary>A measure in each period of a date field, in calendar order, with the newest instant in each.</summary>
    public Query Course(Tile tile, Scope scope, IReadOnlyList<Bound> where, int limit)
    {
        var period = Group(tile.Change!, scope);
        var date = ((Bound.Grain)period.Formula).Argument;
        var newest = new Output(
            new Bound.Aggregate(AggregateFunction.Maximum, date, null, date.Kind),
            new Column("newest", "Newest", ColumnRole.Figure, date.Kind, null, null));
        var present = new Bound.Op(Operation.Not, ValueKind.Boolean, new Bound.Op(Operation.IsNull, ValueKind.Boolean, date));
        return new Query(scope, [.. where, present], [period], [Figure(scope.Measures[tile.Show[0]]), newest], null, [new OrderKey(0, Descending: true)], limit);
    }

    /// <summary>
    /// The rows behind a tile or a mark of it, one by one. Their order does not depend on which columns are shown: the sorted field
    /// first, then all others, so that pages and single rows agree.
    /// </summary>
    /// <param name="scope">The right to single rows: see <see cref="Scope.ForDetail"/>.</param>
    /// <param name="sort">The field to sort by; the dataset's order of fields if null.</param>
    public Query Rows(Scope scope, IEnumerable<Bound> where, string? sort, bool descending, int limit)
    {
        var columns = scope.Fields.Values.Select(f => Group(new FieldAt(f.Name, null), scope)).ToList();
        var order = Enumerable.Range(0, columns.Count).Select(i => Key(new Query(scope, [], columns, [], null, [], limit), i, descending && columns[i].Column.Name == sort))
            .OrderBy(k => columns[k.Column].Column.Name == sort ? 0 : 1).ToList();
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
        return new Output(formula, new Column(at.ToString(), title, ColumnRole.Group, formula.Kind, format, at.Member)
        {
            Colours = field.Colours.Count > 0 && at.Member is null ? field.Colours : null,
            Names = at.Member is null ? field.WrittenNames : null,
            Pattern = field.Patterns.GetValueOrDefault(at.Member ?? ""),
        })
        {
            NamedBy = at.Member is null ? field.NamedBy : null,
        };
    }

    private Output Figure(Measure measure) => new(
        measure.Formula,
        new Column(measure.Name, measure.Title, ColumnRole.Figure, measure.Formula.Kind, measure.Format is null ? null : Format.Parse(measure.Format, money), null) { Pattern = measure.Patterns.GetValueOrDefault("") });

    private List<OrderKey> Order(Tile tile, Query query, Scope scope, MemberOrder? byMember)
    {
        var groups = query.Groups.Count;
        var firstFigure = groups + (query.Top is { Rest: true } ? 1 : 0);
        var keys = new List<OrderKey>();
        if (byMember is null && tile.Sort is { } sort)
        {
            var group = tile.Groups.ToList().FindIndex(g => g.ToString() == sort.By);
            var column = group >= 0 ? group : firstFigure + tile.Show.ToList().IndexOf(sort.By);
            keys.Add(Key(query, column, sort.Descending));
        }
        else if (groups > 0 && query.Figures.Count > 0 && tile.Split is null && query.Groups.All(g => IsNamed(g, scope)))
            keys.Add(Key(query, firstFigure, descending: true));
        for (var i = 0; i < groups; i++)
            if (keys.All(k => k.Column != i))
                keys.Add(Key(query, i, descending: false));
        return keys;
    }

    private OrderKey Key(Query query, int column, bool descending) => new(
        column, descending,
        column < query.Groups.Count && query.Groups[column].Formula is Bound.Part { Of: DatePart.DayOfWeek }
            ? weekStart == DayOfWeek.Sunday ? 7 : (int)weekStart
            : null,
        column < query.Groups.Count && query.Groups[column].Column.At is null && query.Scope.Fields.GetValueOrDefault(query.Groups[column].Column.Name) is { } field
            // Codes stand in the order of their names, those without one after them.
            ? field.Order ?? (field.Names.Count > 0 ? [.. field.Names.OrderBy(n => n.Value, StringComparer.Ordinal).Select(n => n.Key)] : null)
            : null);
}
