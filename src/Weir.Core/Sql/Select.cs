using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;

namespace Weir.Core.Sql;

/// <summary>A SQL query as a tree: named steps, then the last one. A dialect prints it.</summary>
public sealed record SelectTree(IReadOnlyList<(string Name, Select Select)> With, Select Last);

/// <summary>One SELECT.</summary>
/// <param name="Items">The columns with their names.</param>
/// <param name="Grouped">How many of the first items the rows are grouped by; null if they are not grouped.</param>
/// <param name="Limit">The most rows; null for all.</param>
public sealed record Select(
    IReadOnlyList<(Bound Formula, string Name)> Items,
    DatasetRows From,
    IReadOnlyList<SelectJoin> Joins,
    Bound? Where,
    int? Grouped,
    IReadOnlyList<(Bound Formula, bool Descending)> Order,
    long? Limit
);

/// <summary>A table or step joined to the rows before it.</summary>
/// <param name="Keep">True to keep rows that find no partner.</param>
public sealed record SelectJoin(DatasetRows Table, Bound On, bool Keep);

/// <summary>Turns a question into a SQL tree.</summary>
public static class SelectBuilder
{
    private static readonly DatasetRows Steps = Step("grouped");
    private static readonly DatasetRows Ranked = Step("ranked");
    private static readonly DatasetRows Leading = Step("leading");

    /// <summary>A step before, as rows.</summary>
    private static DatasetRows.Table Step(string name) => new(null, name, name);

    /// <summary>Lines of the result in order; one more than the limit is asked for, to see whether there are more.</summary>
    public static SelectTree Build(Query query)
    {
        var with = new List<(string, Select)>();
        if (query.Top is { } top)
        {
            with.Add((Ranked.Alias, RankedMembers(query)));
            with.Add((Leading.Alias, LeadingMembers(query, top)));
        }
        var grouped = Grouped(query);
        if (query.Groups.Count == 0)
            return new SelectTree(with, grouped);
        with.Add((Steps.Alias, grouped));
        var columns = grouped.Items.Select(i => new Bound.Column(Steps.Alias, i.Name, i.Formula.Kind)).ToList();
        var rest = query.Top is { Rest: true } ? columns[query.Groups.Count] : null;
        var order = query.Order.SelectMany(k => OrderFormulas(columns[k.Column], k).Select(f => (Formula: f, k.Descending))).ToList();
        if (rest is not null)
            order.Insert(0, (rest, false));
        var last = new Select(
            [.. columns.Select((c, i) => ((Bound)c, grouped.Items[i].Name))],
            Steps,
            [],
            null,
            null,
            order,
            query.Limit + 1L
        );
        return new SelectTree(with, last);
    }

    /// <summary>How many lines there would be without a limit.</summary>
    public static SelectTree Count(Query query)
    {
        var tree = Build(query with { Order = [] });
        var count = new Bound.Aggregate(AggregateFunction.CountRows, null, null, ValueKind.Integer);
        return tree with { Last = tree.Last with { Items = [(count, "lines")], Order = [], Limit = null } };
    }

    private static IEnumerable<Bound> OrderFormulas(Bound.Column column, OrderKey key)
    {
        if (key.Members is { } members)
        {
            // A missing member stays missing, and so last.
            Bound At(int place) => new Bound.Literal((long)place, ValueKind.Integer);
            yield return new Bound.Op(
                Operation.Case,
                ValueKind.Integer,
                [
                    .. members.SelectMany(
                        (m, i) =>
                            new[] { new Bound.Op(Operation.Equal, ValueKind.Boolean, column, new Bound.Literal(m, column.Kind)), At(i) }
                    ),
                    new Bound.Op(Operation.IsNull, ValueKind.Boolean, column),
                    new Bound.Literal(null, ValueKind.Integer),
                    At(members.Count),
                ]
            );
        }
        yield return OrderFormula(column, key);
    }

    private static Bound OrderFormula(Bound.Column column, OrderKey key)
    {
        if (key.Rotate is not { } first)
            return column;
        var shifted = new Bound.Op(Operation.Add, ValueKind.Integer, column, new Bound.Literal(7L - first, ValueKind.Integer));
        return new Bound.Op(Operation.Remainder, ValueKind.Integer, shifted, new Bound.Literal(7L, ValueKind.Integer));
    }

    /// <summary>Every member of the first group with the first figure over the same rows.</summary>
    private static Select RankedMembers(Query query)
    {
        var member = Constants.Fold(query.Groups[0].Formula);
        var figure = Constants.Fold(query.Figures[0].Formula);
        // "found" tells a member from a row that found no partner, also when the member is null.
        return new Select(
            [
                (member, "member"),
                (figure, "rank_by"),
                (new Bound.Aggregate(AggregateFunction.CountRows, null, null, ValueKind.Integer), "found"),
            ],
            query.Scope.From,
            Joins(query, [member, figure]),
            Where(query),
            1,
            [],
            null
        );
    }

    /// <summary>The leading of them, ties by name.</summary>
    private static Select LeadingMembers(Query query, TopMembers top)
    {
        Bound.Column Of(string name, ValueKind kind) => new(Ranked.Alias, name, kind);
        var member = Of("member", query.Groups[0].Formula.Kind);
        var rank = Of("rank_by", query.Figures[0].Formula.Kind);
        return new Select(
            [(member, "member"), (Of("found", ValueKind.Integer), "found")],
            Ranked,
            [],
            null,
            null,
            [(rank, true), (member, false)],
            top.Count
        );
    }

    private static Select Grouped(Query query)
    {
        var groups = query.Groups.Select(g => Constants.Fold(g.Formula)).ToList();
        var figures = query.Figures.Select(f => Constants.Fold(f.Formula)).ToList();
        var joins = Joins(query, [.. groups, .. figures]);
        var items = new List<(Bound, string)>();
        if (query.Top is { } top)
        {
            var found = new Bound.Column(Leading.Alias, "found", ValueKind.Integer);
            joins =
            [
                .. joins,
                new SelectJoin(
                    Leading,
                    new Bound.Op(Operation.Same, ValueKind.Boolean, groups[0], new Bound.Column(Leading.Alias, "member", groups[0].Kind)),
                    Keep: top.Rest
                ),
            ];
            var isRest = new Bound.Op(Operation.IsNull, ValueKind.Boolean, found);
            if (top.Rest)
                groups[0] = new Bound.Op(
                    Operation.Case,
                    groups[0].Kind,
                    new Bound.Op(Operation.Not, ValueKind.Boolean, isRest),
                    groups[0],
                    new Bound.Literal(null, ValueKind.Null)
                );
            items.AddRange(groups.Select((g, i) => (g, $"g{i + 1}")));
            if (top.Rest)
                items.Add((isRest, "rest"));
        }
        else
            items.AddRange(groups.Select((g, i) => (g, $"g{i + 1}")));
        var grouped = items.Count;
        items.AddRange(figures.Select((f, i) => (f, $"f{i + 1}")));
        return new Select(items, query.Scope.From, joins, Where(query), grouped > 0 && !query.EachRow ? grouped : null, [], null);
    }

    internal static Bound? Where(Query query)
    {
        var all = Constants.Fold(Bound.All(query.Conditions));
        return all is Bound.Literal { Value: true } ? null : all;
    }

    /// <summary>
    /// The joins whose columns are used, in the order of the definition. A join finds at most one row and keeps rows
    /// that find none, so one that is not used changes nothing and is left out.
    /// </summary>
    internal static IReadOnlyList<SelectJoin> Joins(Query query, IEnumerable<Bound> formulas)
    {
        var needed = formulas
            .Append(Where(query))
            .OfType<Bound>()
            .SelectMany(f => f.All())
            .OfType<Bound.Column>()
            .Select(c => c.Table)
            .ToHashSet();
        foreach (var join in query.Scope.Joins.Reverse())
            if (needed.Contains(join.Table.Alias))
                needed.UnionWith(join.On.Select(k => k.Left.Table));
        return
        [
            .. query
                .Scope.Joins.Where(j => needed.Contains(j.Table.Alias))
                .Select(j => new SelectJoin(
                    j.Table,
                    Bound.All(j.On.Select(k => new Bound.Op(Operation.Equal, ValueKind.Boolean, k.Left, k.Right))),
                    Keep: true
                )),
        ];
    }
}
