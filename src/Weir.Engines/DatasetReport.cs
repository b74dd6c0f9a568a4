using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Results;
using Weir.Core.Sql;

namespace Weir.Engines;

/// <summary>How good the values of one field are.</summary>
/// <param name="Missing">How many rows have no value.</param>
/// <param name="Unfit">How many values do not fit the type; null if the column has the type already.</param>
/// <param name="Unmatched">How many values have no name; null if the field has no names.</param>
/// <param name="Codes">The codes without a name, the most frequent first.</param>
public sealed record FieldReport(string Field, long Missing, long? Unfit, long? Unmatched, IReadOnlyList<string> Codes);

/// <summary>Whether a join would multiply rows.</summary>
/// <param name="Keys">Some of the keys that stand in more than one row of the joined table, each with how many.</param>
public sealed record JoinReport(string Table, IReadOnlyList<string> Keys);

/// <summary>What a developer should know of a dataset's data.</summary>
public sealed record DatasetReport(long Rows, IReadOnlyList<FieldReport> Fields, IReadOnlyList<JoinReport> Joins)
{
    /// <summary>Asks the source.</summary>
    /// <exception cref="SourceException">The source can't answer.</exception>
    public static async Task<DatasetReport> Make(
        Dataset dataset,
        Scope scope,
        IEngineSource source,
        SqlDialect dialect,
        Ask ask,
        CancellationToken cancellation
    )
    {
        var joins = await MultiplyingJoins(dataset, scope, source, dialect, cancellation);
        var (query, figures) = DatasetChecks.Quality(scope);
        var counts = (await ask(query, cancellation)).Table.Row(0);
        long? Of(string field, string what) =>
            figures.ToList().FindIndex(f => f == (field, what)) is >= 0 and var at ? (long)counts[at]! : null;
        var fields = new List<FieldReport>();
        foreach (var field in scope.Fields.Values)
        {
            var unmatched = Of(field.Name, "unmatched");
            var codes = unmatched is > 0 ? (await ask(DatasetChecks.UnmatchedCodes(field, scope), cancellation)).Table : null;
            fields.Add(
                new FieldReport(
                    field.Name,
                    Of(field.Name, "missing") ?? 0,
                    Of(field.Name, "unfit"),
                    unmatched,
                    codes is null ? [] : [.. codes.Values[0].Select(v => Labels.Write(v, codes.Columns[0]))]
                )
            );
        }
        return new DatasetReport((long)counts[0]!, fields, joins);
    }

    /// <summary>The keys by which joins would multiply rows; empty if none would.</summary>
    /// <exception cref="SourceException">The source can't answer.</exception>
    public static async Task<IReadOnlyList<JoinReport>> MultiplyingJoins(
        Dataset dataset,
        Scope scope,
        IEngineSource source,
        SqlDialect dialect,
        CancellationToken cancellation
    )
    {
        var reports = new List<JoinReport>();
        foreach (var join in dataset.Joins)
        {
            var rows = await source.Read(
                dialect.Print(DatasetChecks.MultiplyingKeys(join)),
                [.. join.On.Select(_ => ValueKind.Text), ValueKind.Integer],
                scope.Session,
                cancellation
            );
            var keys = Enumerable
                .Range(0, rows[^1].Length)
                .Select(r => $"{string.Join(", ", rows.SkipLast(1).Select(c => c[r]))} ({rows[^1][r]} rows)")
                .ToList();
            if (keys.Count > 0)
                reports.Add(new JoinReport(join.Table.Alias, keys));
        }
        return reports;
    }
}
