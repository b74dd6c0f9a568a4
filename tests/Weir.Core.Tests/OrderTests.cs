using CsCheck;
using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Testing;

namespace Weir.Core.Tests;

/// <summary>The order of members where lines are split by another field, against sorting by hand.</summary>
public class OrderTests
{
    private static Workspace Read(string tile) =>
        Testing.Definitions.Read(
            Testing.Definitions.Files(
                """
                dataset: d
                source: s
                from: t
                fields:
                  route: { column: route }
                  kind: { column: kind }
                  fares: { column: fares, type: integer }
                measures:
                  income: { formula: "sum(fares)" }
                  mean: { formula: "avg(fares)" }
                  kinds: { formula: "count(distinct kind)" }
                  part: { formula: "share(income)" }
                """,
                "roles:\n  all: { reads: { d: all } }\n",
                (
                    "dashboards/x.yaml",
                    $"dashboard: x\ntabs:\n  - tab: one\n    tiles:\n      - {{ tile: t, picture: bar, dataset: d, by: route, split: kind, "
                        + $"{tile}, place: {{ column: 0, row: 0, width: 1, height: 1 }} }}\n"
                )
            )
        );

    private static readonly Gen<(string? Route, string? Kind, long Fares)[]> Rows = Gen.Select(
        One("A", "B", "C", "D", null),
        One("x", "y", null),
        Gen.Long[-5, 20]
    ).Array[0, 40];

    private static Gen<string?> One(params string?[] of) => Gen.Int[0, of.Length - 1].Select(i => of[i]);

    [Theory]
    [InlineData("show: income", "income", true)]
    [InlineData("show: mean", "mean", true)]
    [InlineData("show: kinds", "kinds", true)]
    [InlineData("show: part", "income", true)]
    [InlineData("show: mean, sort: { by: mean, order: ascending }", "mean", false)]
    [InlineData("show: income, top: { count: 2, rest: true }", "income", true)]
    public void Members_stand_by_their_figure_over_all_of_their_lines(string tile, string measure, bool descending)
    {
        var workspace = Read(tile);
        var scope = Scope.For(Testing.Definitions.Viewer("all"), "d", workspace, Viewing.At(default))!;
        var found = workspace.Dashboards["x"].Tiles.Single();
        Rows.Sample(
            rows =>
            {
                var table = rows.Select(r =>
                        (IReadOnlyDictionary<string, object?>)
                            new Dictionary<string, object?>
                            {
                                ["route"] = r.Route,
                                ["kind"] = r.Kind,
                                ["fares"] = r.Fares,
                            }
                    )
                    .ToList();
                var memory = new InMemory(
                    new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, object?>>> { ["t"] = table },
                    DayOfWeek.Monday
                );
                var answer = new Planner(DayOfWeek.Monday, "")
                    .Plan(found, scope, TileFilters.None, 100)
                    .Run((q, _) => Task.FromResult(new QueryAnswer(memory.Answer(q).Table, memory.Answer(q).Lines)), CancellationToken.None)
                    .GetAwaiter()
                    .GetResult()
                    .Table;

                double Figure(IEnumerable<(string? Route, string? Kind, long Fares)> of) =>
                    measure switch
                    {
                        "income" => of.Sum(r => r.Fares),
                        "mean" => of.Average(r => r.Fares),
                        _ => of.Select(r => r.Kind).OfType<string>().Distinct().Count(),
                    };
                var members = rows.GroupBy(r => r.Route)
                    .Select(g => (g.Key, Figure: Figure(g)))
                    .OrderBy(m => m.Key is null)
                    .ThenBy(m => m.Key, StringComparer.Ordinal)
                    .ToList();
                // Of parts of a whole, which are floating-point numbers, equal ones stand in any order; of nothing there are none.
                if (tile == "show: part" && (rows.Sum(r => r.Fares) <= 0 || members.DistinctBy(m => m.Figure).Count() < members.Count))
                    return;
                var ordered = (descending ? members.OrderByDescending(m => m.Figure) : members.OrderBy(m => m.Figure))
                    .Select(m => m.Key ?? "not given")
                    .ToList();
                var rest = answer.Columns.ToList().FindIndex(c => c.Role == Results.ColumnRole.Rest);
                if (rest >= 0 && ordered.Count > 2)
                    ordered = [.. ordered.Take(2), "all others"];
                // Each member's lines stand together, by the split's own order.
                var lines = Enumerable
                    .Range(0, answer.Rows)
                    .Select(r =>
                        (
                            Member: rest >= 0 && answer.Values[rest][r] is true
                                ? "all others"
                                : answer.Values[0][r] as string ?? "not given",
                            Kind: answer.Values[1][r] as string ?? "~"
                        )
                    )
                    .ToList();
                lines.Select(l => l.Member).Distinct().ShouldBe(ordered);
                lines.ShouldBe(lines.OrderBy(l => ordered.IndexOf(l.Member)).ThenBy(l => l.Kind, StringComparer.Ordinal));
            },
            iter: 300
        );
    }
}
