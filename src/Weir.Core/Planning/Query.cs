using Weir.Core.Access;
using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Core.Planning;

/// <summary>
/// One question to one dataset, in terms of the dataset and not yet of any database. It holds the <see cref="Scope"/>
/// that it is asked under; there is no query without one.
/// </summary>
/// <param name="Where">Conditions of selections and periods; the row rule and the dataset's own filter come from the scope.</param>
/// <param name="Groups">What rows are grouped by; none for one line over all rows.</param>
/// <param name="Figures">The measures of each group.</param>
/// <param name="Top">Only the leading members of the first group.</param>
/// <param name="Order">The order of the lines.</param>
/// <param name="Limit">The most lines that are brought.</param>
public sealed record Query(
    Scope Scope,
    IReadOnlyList<Bound> Where,
    IReadOnlyList<Output> Groups,
    IReadOnlyList<Output> Figures,
    TopMembers? Top,
    IReadOnlyList<OrderKey> Order,
    int Limit
)
{
    /// <summary>True to bring rows as they are, not grouped; there are no figures then.</summary>
    public bool EachRow { get; init; }

    /// <summary>The order of the first group's members where lines are split by another; null if lines are in order by themselves.</summary>
    public MemberOrder? ByMember { get; init; }

    /// <summary>The columns of the result: groups, the mark of the rest if there is one, figures.</summary>
    public IReadOnlyList<Column> Columns =>
        [.. Groups.Select(g => g.Column), .. Top is { Rest: true } ? new[] { RestColumn } : [], .. Figures.Select(f => f.Column)];

    /// <summary>The same question with each node of its formulas put through <paramref name="change"/>; the right that it is asked under stays.</summary>
    public Query Rewrite(Func<Bound, Bound> change) =>
        this with
        {
            Where = [.. Where.Select(w => w.Rewrite(change))],
            Groups = [.. Groups.Select(g => g with { Formula = g.Formula.Rewrite(change) })],
            Figures = [.. Figures.Select(f => f with { Formula = f.Formula.Rewrite(change) })],
        };

    internal static Column RestColumn { get; } = new("rest", "Rest", ColumnRole.Rest, ValueKind.Boolean, null, null);

    /// <summary>All conditions on rows in the order in which they are applied: row rule, dataset's own filter, selections.</summary>
    public IEnumerable<Bound> Conditions =>
        new[] { Scope.RowRule, Scope.Filter, EachRow || Scope.Totals is not { } totals ? null : IsPart(totals) }
            .OfType<Bound>()
            .Concat(Where);

    /// <summary>Rows that are totals of others would count twice.</summary>
    internal static Bound.Op IsPart(Bound totals) =>
        new(Operation.Not, ValueKind.Boolean, new Bound.Op(Operation.Coalesce, ValueKind.Boolean, totals, Bound.False));
}

/// <summary>A formula and the column of the result that it fills.</summary>
public sealed record Output(Bound Formula, Column Column)
{
    /// <summary>How many rows there are.</summary>
    public static Output RowCount { get; } =
        new(
            new Bound.Aggregate(AggregateFunction.CountRows, null, null, ValueKind.Integer),
            new Column("rows", "Rows", ColumnRole.Figure, ValueKind.Integer, null, null)
        );

    /// <summary>For a group: the column with the names of its members; null if they are their own names. See <see cref="MemberNames"/>.</summary>
    public Bound? NamedBy { get; init; }
}

/// <summary>The leading members of the first group by the first figure, ties by name; the others dropped or gathered.</summary>
public sealed record TopMembers(int Count, bool Rest);

/// <summary>A key of the order: a column of the result by index. Missing values and the rest come last.</summary>
/// <param name="Rotate">For days of the week: the ISO number of the workspace's first day.</param>
/// <param name="Members">The members in an order of their own, those not named after them by name.</param>
public sealed record OrderKey(int Column, bool Descending, int? Rotate = null, IReadOnlyList<object>? Members = null);
