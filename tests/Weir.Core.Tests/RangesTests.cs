using CsCheck;
using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Testing;

namespace Weir.Core.Tests;

/// <summary>Rows in ranges of a number: half-open, the last one closed, and each of them to be picked.</summary>
public class RangesTests
{
    private static readonly Workspace Workspace = Testing.Definitions.Read(
        Testing.Definitions.Files(
            """
            dataset: d
            source: s
            from: t
            fields:
              whole: { column: whole, type: integer }
              exact: { column: exact, type: decimal }
              kind: { column: kind }
            measures:
              total: { formula: "sum(whole)" }
            """,
            "roles:\n  all: { reads: { d: all } }\n",
            (
                "dashboards/x.yaml",
                """
                dashboard: x
                tabs:
                  - tab: one
                    tiles:
                      - { tile: whole, picture: slider, dataset: d, by: whole, place: { column: 0, row: 0, width: 1, height: 1 } }
                      - { tile: exact, picture: slider, dataset: d, by: exact, place: { column: 1, row: 0, width: 1, height: 1 } }
                      - { tile: counted, picture: table, dataset: d, show: total, by: kind, place: { column: 2, row: 0, width: 1, height: 1 } }
                """
            )
        )
    );

    private static readonly PictureKind OfRanges = new("ranges", "bars over ranges") { Question = QuestionShape.Ranges };

    [Fact]
    public void Round_ends_hold_all_values_in_no_more_ranges_than_wanted() =>
        Gen.Select(Gen.Decimal[-1_000_000, 1_000_000], Gen.Decimal[0, 10_000], Gen.Int[2, 40], Gen.Bool)
            .Sample(
                (least, more, most, isWhole) =>
                {
                    if (isWhole)
                        (least, more) = (Math.Floor(least), Math.Floor(more));
                    var edges = new ValueRanges(most, null, []).Between(least, least + more, isWhole);
                    edges.Count.ShouldBeInRange(2, most + 1);
                    edges[0].ShouldBeLessThanOrEqualTo(least);
                    edges[^1].ShouldBeGreaterThanOrEqualTo(least + more);
                    var widths = edges.Zip(edges.Skip(1), (a, b) => b - a).Distinct().ToList();
                    widths.Count.ShouldBe(1, "they are equal");
                    if (isWhole)
                        edges.ShouldAllBe(e => e == Math.Floor(e));
                }
            );

    [Fact]
    public void Every_row_is_in_the_range_that_holds_its_value_and_a_picked_range_filters_to_just_its_rows() =>
        Gen.Int[0, int.MaxValue]
            .Sample(
                seed =>
                {
                    var random = new Random(seed);
                    var field = random.Next(2) == 0 ? "whole" : "exact";
                    var rows = Enumerable
                        .Range(0, random.Next(0, 40))
                        .Select(_ =>
                            (
                                Whole: random.Next(9) == 0 ? (long?)null : random.Next(-20, 60),
                                Exact: random.Next(9) == 0 ? (decimal?)null : random.Next(-200, 600) / 10m
                            )
                        )
                        .ToList();
                    var memory = Memory.Of(rows, ("whole", r => r.Whole), ("exact", r => r.Exact), ("kind", _ => "k"));
                    ValueRanges ranges = random.Next(3) switch
                    {
                        0 => new(12, null, [-5, 0, 7, 40]),
                        1 => new(12, random.Next(1, 9), []),
                        _ => new(random.Next(2, 15), null, []),
                    };
                    var scope = Scope.For(Testing.Definitions.Viewer("all"), "d", Workspace, Viewing.At(default))!;
                    var dashboard = Workspace.Dashboards["x"];
                    var tile = dashboard.Tiles.First(t => t.Name == field) with { Picture = OfRanges, Ranges = ranges };
                    var planner = new Planner(DayOfWeek.Monday, "");
                    var shown = planner.Plan(tile, scope, TileFilters.None, 100).Run(memory).Table;

                    var values = rows.Select(r => field == "whole" ? (decimal?)r.Whole : r.Exact).OfType<decimal>().ToList();
                    List<decimal> edges = [.. shown.Columns[0].Edges!.Select(Convert.ToDecimal)];
                    if (ranges.Edges.Count > 0 ? !values.Any(v => v >= ranges.Edges[0] && v <= ranges.Edges[^1]) : values.Count == 0)
                    {
                        shown.Rows.ShouldBe(0);
                        return;
                    }
                    shown.Rows.ShouldBe(edges.Count - 1, "ranges without rows are there too");
                    for (var i = 0; i < shown.Rows; i++)
                    {
                        var isLast = i == shown.Rows - 1;
                        var expected = values.Count(v => v >= edges[i] && (v < edges[i + 1] || (isLast && v == edges[i + 1])));
                        Convert.ToDecimal(shown.Values[0][i]).ShouldBe(edges[i]);
                        shown.Values[1][i].ShouldBe((long)expected);
                        var selection = new Selection(field, [], null)
                        {
                            Range = new PickedRange(shown.Columns[0].Edges![i], shown.Columns[0].Edges![i + 1]) { EndsBelow = !isLast },
                        };
                        var counted = dashboard.Tiles.First(t => t.Name == "counted");
                        var filters = Wiring.FiltersOf(
                            counted,
                            dashboard,
                            Arrangement.Opening(dashboard),
                            [selection],
                            new Dictionary<string, Scope> { ["d"] = scope },
                            DayOfWeek.Monday
                        );
                        memory.Answer(Planner.RowCount(scope, filters)).Table.Values[0][0].ShouldBe((long)expected);
                    }
                },
                iter: 300
            );

    [Fact]
    public void Ends_that_an_answer_tells_are_open_in_the_plan_and_given_ones_are_not()
    {
        var scope = Scope.For(Testing.Definitions.Viewer("all"), "d", Workspace, Viewing.At(default))!;
        var tile = Workspace.Dashboards["x"].Tiles.First() with { Picture = OfRanges };
        var planner = new Planner(DayOfWeek.Monday, "");
        var equal = planner.Plan(tile with { Ranges = new ValueRanges(5, null, []) }, scope, TileFilters.None, 100);
        equal.Questions.Select(q => (q.Id, equal.WaveOf(q))).ShouldBe([(TilePlan.Lines, 2), ("ends", 1)]);
        var given = planner.Plan(tile with { Ranges = new ValueRanges(5, null, [0, 5, 10]) }, scope, TileFilters.None, 100);
        given.Questions.Select(q => q.Id).ShouldBe([TilePlan.Lines]);
        given.Shown.Groups[0].Formula.All().OfType<Bound.Open>().ShouldBeEmpty();
    }
}
