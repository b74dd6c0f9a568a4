using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Results;

namespace Weir.Core.Sql;

/// <summary>Questions about a dataset that its developer asks: whether joins multiply rows, and how good the values are.</summary>
public static class DatasetChecks
{
    /// <summary>How many offending keys are brought.</summary>
    public const int Examples = 5;

    private static readonly DatasetRows.Table Keys = new(null, "keys", "keys");

    private static Column Named(string name, ValueKind kind) => new(name, name, ColumnRole.Figure, kind, null, null);

    private static Bound.Aggregate CountRows(Bound? filter = null) => new(AggregateFunction.CountRows, null, filter, ValueKind.Integer);

    /// <summary>
    /// The keys of a joined table that stand in more than one of its rows: each would multiply rows. Columns: the keys as text, then the
    /// count.
    /// </summary>
    public static SelectTree MultiplyingKeys(Join join)
    {
        var keys = join.On.Select(k => k.Right).ToList();
        var grouped = new Select(
            [.. keys.Select((k, i) => ((Bound)k, $"k{i + 1}")), (CountRows(), "n")],
            join.Table,
            [],
            null,
            keys.Count,
            [],
            null
        );
        Bound.Column At(string name, ValueKind kind) => new(Keys.Alias, name, kind);
        var n = At("n", ValueKind.Integer);
        List<Bound> where = [new Bound.Op(Operation.Greater, ValueKind.Boolean, n, new Bound.Literal(1L, ValueKind.Integer))];
        where.AddRange(
            keys.Select(
                (k, i) =>
                    new Bound.Op(
                        Operation.Not,
                        ValueKind.Boolean,
                        new Bound.Op(Operation.IsNull, ValueKind.Boolean, At($"k{i + 1}", k.Kind))
                    )
            )
        );
        return new SelectTree(
            [(Keys.Alias, grouped)],
            new Select(
                [.. keys.Select((k, i) => ((Bound)At($"k{i + 1}", k.Kind), $"k{i + 1}")), (n, "n")],
                Keys,
                [],
                Bound.All(where),
                null,
                [(n, true)],
                Examples
            )
        );
    }

    /// <summary>How many rows a dataset has and, for each field, how many of its values are missing, unfit and without a name, in one line.</summary>
    /// <returns>The question, and what each of its figures counts.</returns>
    public static (Query Query, IReadOnlyList<(string Field, string Counts)> Figures) Quality(Scope scope)
    {
        var figures = new List<(string, string)> { ("", "rows") };
        var outputs = new List<Output> { new(CountRows(), Named("rows", ValueKind.Integer)) };
        void Count(string field, string counts, Bound? condition)
        {
            if (condition is null)
                return;
            figures.Add((field, counts));
            outputs.Add(new Output(CountRows(condition), Named($"n{outputs.Count}", ValueKind.Integer)));
        }
        foreach (var field in scope.Fields.Values)
        {
            Count(field.Name, "missing", field.Quality.Missing ?? new Bound.Op(Operation.IsNull, ValueKind.Boolean, field.Formula));
            Count(field.Name, "unfit", field.Quality.Unfit);
            Count(field.Name, "unmatched", field.Quality.Unmatched);
        }
        return (new Query(scope, [], [], outputs, null, [], 1), figures);
    }

    /// <summary>The codes of a field that no name is known for, the most frequent first.</summary>
    public static Query UnmatchedCodes(Field field, Scope scope) =>
        new(
            scope,
            [field.Quality.Unmatched!],
            [new Output(field.Formula, new Column(field.Name, field.Title, ColumnRole.Group, field.Kind, null, null))],
            [new Output(CountRows(), Named("rows", ValueKind.Integer))],
            null,
            [new OrderKey(1, true), new OrderKey(0, false)],
            20
        );

    /// <summary>All columns that the dataset's rows come with, whatever its fields; brings no rows.</summary>
    public static SelectTree AllColumns(Scope scope) => AllColumns(scope.From);

    /// <summary>All columns of a table or a query; brings no rows.</summary>
    public static SelectTree AllColumns(DatasetRows rows) => new([], new Select([], rows, [], Bound.False, null, [], null));

    /// <summary>Rows as they are: every field, at most so many.</summary>
    public static Query Rows(Scope scope, IReadOnlyList<Bound> where, IReadOnlyList<OrderKey> order, int limit) =>
        new(
            scope,
            where,
            [
                .. scope.Fields.Values.Select(f => new Output(
                    f.Formula,
                    new Column(f.Name, f.Title, ColumnRole.Group, f.Kind, null, null)
                    {
                        Names = f.WrittenNames,
                        Pattern = f.Patterns.GetValueOrDefault(""),
                    }
                )
                {
                    NamedBy = f.NamedBy,
                }),
            ],
            [],
            null,
            order,
            limit
        )
        {
            EachRow = true,
        };

    /// <summary>How many rows meet conditions.</summary>
    public static Query Count(Scope scope, IReadOnlyList<Bound> where) =>
        new(scope, where, [], [new Output(CountRows(), Named("rows", ValueKind.Integer))], null, [], 1);
}
