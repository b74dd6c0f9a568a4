using CsCheck;
using Shouldly;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Testing;

namespace Weir.Core.Tests;

/// <summary>Running totals, shares, earlier periods and ranks, against an oracle that goes over the rows for each line anew.</summary>
public class WindowFiguresTests
{
    private static readonly Workspace Workspace = Testing.Definitions.Read(
        Testing.Definitions.Files(
            """
            dataset: d
            source: s
            from: t
            fields:
              day: { column: day, type: date }
              kind: { column: kind }
              n: { column: n, type: integer }
            measures:
              total: { formula: "sum(n)" }
              so_far: { formula: "running_total(sum(n))" }
              share: { formula: "share(sum(n))" }
              shown_share: { formula: "share(sum(n), shown)" }
              group_share: { formula: "share(sum(n), group)" }
              before: { formula: "previous(sum(n))" }
              growth: { formula: "sum(n) / previous(sum(n), year) - 1" }
              place: { formula: "rank(sum(n))" }
            """,
            "roles:\n  r: { reads: { d: all } }\n",
            (
                "dashboards/x.yaml",
                """
                dashboard: x
                tabs:
                  - tab: one
                    tiles:
                      - tile: months
                        picture: table
                        dataset: d
                        show: [total, so_far, share, shown_share, group_share, before, growth, place]
                        by: [day.month, kind]
                        totals: true
                        place: { column: 0, row: 0, width: 6, height: 4 }
                      - tile: quarters
                        picture: bar
                        dataset: d
                        show: total
                        by: day.quarter
                        pick: many
                        place: { column: 6, row: 0, width: 6, height: 4 }
                """
            )
        )
    );

    private static readonly string?[] Kinds = ["a", "b", null];

    [Fact]
    public async Task They_are_what_going_over_the_rows_gives() =>
        await Gen.Int[0, int.MaxValue]
            .SampleAsync(
                async seed =>
                {
                    var random = new Random(seed);
                    var rows = Enumerable
                        .Range(0, random.Next(0, 60))
                        .Select(_ =>
                            (
                                Day: new DateOnly(2023, 11, 10).AddDays(random.Next(500)),
                                Kind: Kinds[random.Next(3)],
                                N: random.Next(8) == 0 ? (long?)null : random.Next(-5, 20)
                            )
                        )
                        .ToList();
                    var memory = Memory.Of(rows, ("day", r => r.Day), ("kind", r => r.Kind), ("n", r => r.N));
                    var scope = Scope.For(Testing.Definitions.Viewer("r"), "d", Workspace, Viewing.At(default))!;
                    var dashboard = Workspace.Dashboards["x"];
                    var tile = dashboard.Tiles.First();
                    List<Selection> selections =
                        random.Next(2) == 0
                            ? []
                            :
                            [
                                new Selection(
                                    "quarters",
                                    [
                                        [new DateOnly(2024, 4, 1)],
                                        [new DateOnly(2024, 7, 1)],
                                    ],
                                    null
                                ),
                            ];
                    var filters = Wiring.FiltersOf(
                        tile,
                        dashboard,
                        Arrangement.Opening(dashboard),
                        selections,
                        new Dictionary<string, Scope> { ["d"] = scope },
                        DayOfWeek.Monday
                    );
                    Task<QueryAnswer> Ask(Query query, CancellationToken cancellation)
                    {
                        var (table, lines) = memory.Answer(query);
                        return Task.FromResult(new QueryAnswer(table, lines));
                    }
                    var answer = await new Planner(DayOfWeek.Monday, "").Plan(tile, scope, filters, 1000).Run(Ask, CancellationToken.None);

                    bool Picked(DateOnly day) =>
                        selections.Count == 0 || (day >= new DateOnly(2024, 4, 1) && day < new DateOnly(2024, 10, 1));
                    long? Sum(Func<(DateOnly Day, string? Kind, long? N), bool> which)
                    {
                        var values = rows.Where(which).Select(r => r.N).OfType<long>().ToList();
                        return values.Count == 0 ? null : values.Sum();
                    }
                    static DateOnly Month(DateOnly day) => new(day.Year, day.Month, 1);
                    // What the data reach: from the first day to the last, both whole.
                    var (first, last) = rows.Count == 0 ? (default, default) : (rows.Min(r => r.Day), rows.Max(r => r.Day));
                    long? Before(DateOnly month, string? kind, DateOnly earlier)
                    {
                        // Of a month that the data reach only in part, the same days of the earlier one.
                        var from = first > month && first < month.AddMonths(1) ? first.DayNumber - month.DayNumber : 0;
                        var to = last >= month && last < month.AddMonths(1).AddDays(-1) ? last.DayNumber - month.DayNumber + 1 : 99;
                        return Sum(r =>
                            r.Kind == kind
                            && Month(r.Day) == earlier
                            && r.Day.DayNumber - earlier.DayNumber >= from
                            && r.Day.DayNumber - earlier.DayNumber < to
                        );
                    }
                    var table = answer.Table;
                    for (var line = 0; line < table.Rows; line++)
                    {
                        var (month, kind) = ((DateOnly)table.Values[0][line]!, (string?)table.Values[1][line]);
                        var total = Sum(r => Picked(r.Day) && Month(r.Day) == month && r.Kind == kind);
                        var all = Sum(r => Picked(r.Day));
                        var shown = Enumerable.Range(0, table.Rows).Select(l => table.Values[2][l]).OfType<long>().ToList()
                            is { Count: > 0 } values
                            ? values.Sum()
                            : (long?)null;
                        object?[] expected =
                        [
                            total,
                            Sum(r => Picked(r.Day) && Month(r.Day) <= month && r.Kind == kind),
                            total is null || all is null or 0 ? null : (double)total / all,
                            total is null || shown is null or 0 ? null : (double)total / shown,
                            total is null || Sum(r => Picked(r.Day) && Month(r.Day) == month) is null or 0
                                ? null
                                : (double)total / Sum(r => Picked(r.Day) && Month(r.Day) == month),
                            Before(month, kind, month.AddMonths(-1)),
                            total is null || Before(month, kind, month.AddYears(-1)) is null or 0
                                ? null
                                : ((double)total / Before(month, kind, month.AddYears(-1))) - 1,
                            total is null
                                ? null
                                : 1L
                                    + Enumerable
                                        .Range(0, table.Rows)
                                        .Count(l =>
                                            (string?)table.Values[1][l] == kind && table.Values[2][l] is long other && other > total
                                        ),
                        ];
                        for (var c = 0; c < expected.Length; c++)
                            (
                                table.Values[c + 2][line] switch
                                {
                                    double d => Math.Round(d, 9),
                                    var v => v,
                                }
                            ).ShouldBe(
                                expected[c] switch
                                {
                                    double d => Math.Round(d, 9),
                                    var v => v,
                                },
                                $"seed {seed}, {month} {kind}: {table.Columns[c + 2].Name}"
                            );
                    }
                    if (rows.Any(r => Picked(r.Day) && r.N is not null))
                    {
                        answer.Totals!.Values[2][0].ShouldBe(1.0);
                        answer.Totals!.Values[4][0].ShouldBeNull("over all groups there is no share of one");
                    }
                },
                iter: 1_500
            );

    [Theory]
    [InlineData("previous(sum(n))", "kind", "looks-around")]
    [InlineData("share(n)", "kind", "no-aggregate")]
    [InlineData("sum(share(sum(n)))", "kind", "measure-in-row")]
    [InlineData("share(sum(n), everything)", "kind", "unknown-value")]
    [InlineData("rank(running_total(sum(n)))", "kind", "no-aggregate")]
    public void What_they_can_not_look_at_is_told(string formula, string by, string code)
    {
        var (_, faults) = WorkspaceText.Read(
            Testing.Definitions.Files(
                $"dataset: d\nsource: s\nfrom: t\nfields:\n  kind: {{ column: kind }}\n  n: {{ column: n, type: integer }}\nmeasures:\n  "
                    + $"m: {{ formula: \"{formula}\" }}\n",
                "roles:\n  r: { reads: { d: all } }\n",
                (
                    "dashboards/x.yaml",
                    $"dashboard: x\ntabs:\n  - tab: one\n    tiles:\n      - {{ tile: a, picture: table, dataset: d, show: m, by: {by}, "
                        + $"place: {{ column: 0, row: 0, width: 6, height: 4 }} }}\n"
                )
            )
        );
        faults.Select(f => f.Code).ShouldContain(code, string.Join('\n', faults));
    }
}
