using System.Text.Json;
using CsCheck;
using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Testing;

namespace Weir.Core.Tests;

/// <summary>How values spread: boxes with outliers and single values, curves, and ranges for each member, held against the plain rows.</summary>
public class SpreadTests
{
    private const string Dataset = """
        dataset: d
        source: s
        from: t
        fields:
          n: { column: n, type: integer, format: "0 min" }
          kind: { column: kind }
          port: { column: port }
        measures:
          total: { formula: "sum(n)" }
        """;

    private const string Roles =
        "roles:\n  all: { reads: { d: { detail: true } } }\n  some: { reads: { d: all } }\n"
        + "  both: { reads: { d: all } }\n  narrow: { reads: { d: { where: \"port = 'A'\", detail: true } } }\n";

    private static readonly Workspace Workspace = Read(
        """
        - { tile: boxes, picture: box, dataset: d, of: n, by: kind, place: { column: 0, row: 0, width: 1, height: 1 } }
        - { tile: curves, picture: density, dataset: d, by: n, split: kind, place: { column: 1, row: 0, width: 1, height: 1 } }
        - { tile: counts, picture: density, dataset: d, by: n, heights: counts, place: { column: 2, row: 0, width: 1, height: 1 } }
        - { tile: bars, picture: histogram, dataset: d, by: n, split: kind, ranges: { width: 5 }, parts: laid_over, place: { column: 3, row: 0, width: 1, height: 1 } }
        - { tile: each, picture: histogram, dataset: d, by: n, repeat: kind, ranges: { width: 5 }, place: { column: 4, row: 0, width: 1, height: 1 } }
        - { tile: opened, picture: histogram, dataset: d, by: n, repeat: kind, opening: { from: 3, to: 9, each: [k1, not given] }, place: { column: 5, row: 0, width: 1, height: 1 } }
        - { tile: ports, picture: bar, dataset: d, show: total, by: port, place: { column: 6, row: 0, width: 1, height: 1 } }
        """
    );

    private static Workspace Read(string tiles) =>
        Testing.Definitions.Read(Testing.Definitions.Files(Dataset, Roles, ("dashboards/x.yaml", Dashboard(tiles))));

    private static string Dashboard(string tiles) =>
        "dashboard: x\ntabs:\n  - tab: one\n    tiles:\n" + string.Join('\n', tiles.TrimEnd().Split('\n').Select(l => "      " + l)) + "\n";

    private static readonly Planner Planner = new(DayOfWeek.Monday, "");

    private sealed record Row(long? N, string? Kind, string Port);

    private static List<Row> Rows(Random random) =>
        [
            .. Enumerable
                .Range(0, random.Next(0, 80))
                .Select(_ => new Row(
                    random.Next(12) == 0 ? null
                        : random.Next(10) == 0 ? random.Next(-300, 300)
                        : random.Next(0, 20),
                    random.Next(10) == 0 ? null : $"k{random.Next(3)}",
                    random.Next(2) == 0 ? "A" : "B"
                )),
        ];

    private static TileAnswer Answer(string tile, List<Row> rows, string roles, Selection? own = null)
    {
        var memory = Memory.Of(rows, ("n", r => r.N), ("kind", r => r.Kind), ("port", r => r.Port));
        var viewer = Testing.Definitions.Viewer(roles);
        var scope = Scope.For(viewer, "d", Workspace, Viewing.At(default))!;
        (Scope, TileFilters)? detail = scope.Detail is { } right ? (right, TileFilters.None) : null;
        var defined = Workspace.Dashboards["x"].Tiles.First(t => t.Name == tile);
        return Planner.Plan(defined, scope, TileFilters.None, 10_000, own, detail).Run(memory);
    }

    [Fact]
    public void Whiskers_end_at_the_last_value_within_one_and_a_half_distances_of_the_quartiles_and_the_rest_lies_beyond() =>
        Gen.Int[0, int.MaxValue]
            .Sample(
                seed =>
                {
                    var rows = Rows(new Random(seed));
                    // Who sees all rows in sum and some of them one by one is told of these alone.
                    foreach (
                        var (roles, single) in ((string, Func<Row, bool>)[])
                            [("all", _ => true), ("some", _ => false), ("both narrow", r => r.Port == "A")]
                    )
                    {
                        var answer = Answer("boxes", rows, roles);
                        answer.Table.Rows.ShouldBe(rows.Select(r => r.Kind).Distinct().Count());
                        for (var line = 0; line < answer.Table.Rows; line++)
                        {
                            var box = answer.Table.Row(line);
                            var of = rows.Where(r => r.Kind == (string?)box[0] && r.N is not null).ToList();
                            double[] sorted = [.. of.Select(r => (double)r.N!.Value).Order()];
                            box[6].ShouldBe((long)sorted.Length);
                            if (sorted.Length == 0)
                            {
                                box[1..6].ShouldAllBe(v => v == null);
                                continue;
                            }
                            var (low, high) = (Evaluator.Percentile(sorted, 0.25), Evaluator.Percentile(sorted, 0.75));
                            bool IsBeyond(double v) => v < low - (1.5 * (high - low)) || v > high + (1.5 * (high - low));
                            double[] within = [.. sorted.Where(v => !IsBeyond(v))];
                            box[1..6]
                                .ShouldBe([
                                    Math.Min(within[0], low),
                                    low,
                                    Evaluator.Percentile(sorted, 0.5),
                                    high,
                                    Math.Max(within[^1], high),
                                ]);
                            box[7].ShouldBe((long)(sorted.Length - within.Length));
                            answer
                                .Outliers.Where(o => Equals(o.Member.Single(), box[0]))
                                .Select(o => ((long)o.Value, o.Count))
                                .ShouldBe(
                                    of.Where(r => single(r) && IsBeyond(r.N!.Value))
                                        .GroupBy(r => r.N!.Value)
                                        .OrderBy(g => g.Key)
                                        .Select(g => (g.Key, (long)g.Count()))
                                );
                        }
                    }
                },
                iter: 150
            );

    [Fact]
    public void A_box_opens_to_its_single_values_for_those_who_may_see_rows()
    {
        List<Row> rows = [new(5, "a", "A"), new(5, "a", "A"), new(7, "a", "A"), new(9, "b", "B")];
        var tile = Workspace.Dashboards["x"].Tiles.First(t => t.Name == "boxes");
        Drilling.Levels(tile).Select(l => l.ToString()).ShouldBe(["kind", "n"]);
        var own = new Selection("boxes", [], null) { Path = ["a"] };
        // The path's own condition comes with the filters, which wiring tests hold.
        var answer = Answer("boxes", rows, "all", own);
        answer.Table.Columns.Select(c => c.Name).ShouldBe(["n", "rows"]);
        answer.Table.Row(0).ShouldBe([5L, 2L]);

        Scope Of(string role) => Scope.For(Testing.Definitions.Viewer(role), "d", Workspace, Viewing.At(default))!;
        Fields.Visible(tile, Of("some"))!.Drill.ShouldBeNull("there is no such level for them");
        Fields.Visible(tile, Of("all"))!.Drill.ShouldNotBeNull();
    }

    [Fact]
    public void A_curve_is_the_sum_of_a_Gaussian_over_each_value_and_has_the_area_that_it_is_to_have() =>
        Gen.Int[0, int.MaxValue]
            .Sample(
                seed =>
                {
                    var random = new Random(seed);
                    List<Row> rows =
                    [
                        .. Enumerable.Range(0, random.Next(2, 60)).Select(_ => new Row(random.Next(0, 400), $"k{random.Next(2)}", "A")),
                    ];
                    foreach (var tile in (string[])["curves", "counts"])
                    {
                        var isCounts = tile == "counts";
                        var table = Answer(tile, rows, "all").Table;
                        var split = isCounts ? 0 : 1;
                        foreach (var curve in Enumerable.Range(0, table.Rows).GroupBy(r => isCounts ? null : table.Values[1][r]))
                        {
                            double[] values =
                            [
                                .. rows.Where(r => isCounts || r.Kind == (string?)curve.Key).Select(r => (double)r.N!.Value).Order(),
                            ];
                            var bandwidth = (double)table.Values[2 + split][curve.First()]!;
                            var mean = values.Average();
                            var deviation = Math.Sqrt(values.Sum(v => Math.Pow(v - mean, 2)) / Math.Max(1, values.Length - 1));
                            bandwidth.ShouldBeLessThan((0.9 * deviation * Math.Pow(values.Length, -0.2)) + 2);
                            double Kernel(double at, double v) =>
                                Math.Exp(-0.5 * Math.Pow((at - v) / bandwidth, 2))
                                / (bandwidth * Math.Sqrt(2 * Math.PI))
                                * (isCounts ? values.Length : 1);
                            double Height(double at) => values.Average(v => Kernel(at, v));
                            double Error(double at) =>
                                Math.Sqrt(values.Average(v => Math.Pow(Kernel(at, v) - Height(at), 2)) / values.Length);
                            var highest = curve.Max(r => Height(Convert.ToDouble(table.Values[0][r])));
                            // Where values are alone, the step that they are counted in is all that smooths them: 400 / 512 here.
                            if (bandwidth > 2)
                                foreach (var r in curve)
                                {
                                    var (at, told) = (Convert.ToDouble(table.Values[0][r]), $"seed {seed}, at {table.Values[0][r]}");
                                    ((double)table.Values[1 + split][r]!).ShouldBe(Height(at), highest * 0.02, told);
                                    ((double)table.Values[4 + split][r]!).ShouldBe(Error(at), highest * 0.02, told);
                                }
                        }
                    }
                },
                iter: 100
            );

    [Fact]
    public void Ranges_of_members_add_up_to_those_of_all_and_every_member_has_every_range() =>
        Gen.Int[0, int.MaxValue]
            .Sample(
                seed =>
                {
                    var rows = Rows(new Random(seed));
                    foreach (var tile in (string[])["bars", "each"])
                    {
                        var table = Answer(tile, rows, "all").Table;
                        var known = rows.Where(r => r.N is not null).ToList();
                        if (known.Count == 0)
                        {
                            table.Rows.ShouldBe(0);
                            continue;
                        }
                        var edges = table.Columns[0].Edges!.Select(Convert.ToInt64).ToList();
                        table.Rows.ShouldBe((edges.Count - 1) * known.Select(r => r.Kind).Distinct().Count());
                        for (var r = 0; r < table.Rows; r++)
                        {
                            var at = edges.IndexOf((long)table.Values[0][r]!);
                            table
                                .Values[2][r]
                                .ShouldBe(
                                    (long)
                                        known.Count(x =>
                                            x.Kind == (string?)table.Values[1][r]
                                            && x.N >= edges[at]
                                            && (x.N < edges[at + 1] || (at == edges.Count - 2 && x.N == edges[at + 1]))
                                        )
                                );
                        }
                    }
                },
                iter: 100
            );

    [Fact]
    public void A_range_in_the_picture_of_a_member_is_of_that_member_alone() =>
        Gen.Int[0, int.MaxValue]
            .Sample(
                seed =>
                {
                    var random = new Random(seed);
                    var rows = Rows(random);
                    var (from, width, endsBelow, excludes) = (
                        random.Next(-5, 20),
                        random.Next(0, 9),
                        random.Next(2) == 0,
                        random.Next(4) == 0
                    );
                    string?[]? each = random.Next(4) switch
                    {
                        0 => null,
                        1 => ["k0"],
                        2 => [null],
                        _ => ["k1", null],
                    };
                    var range = new
                    {
                        from,
                        to = from + width,
                        below = endsBelow,
                    };
                    var selection = Read(
                        "each",
                        new
                        {
                            range,
                            each,
                            exclude = excludes,
                        }
                    ).Selection!;
                    Travelled(selection).ShouldBe(Travelled(Read("each", JsonDocument.Parse(Travelled(selection)).RootElement).Selection!));
                    bool IsPicked(Row row) =>
                        (row.N >= from && (endsBelow ? row.N < from + width : row.N <= from + width) && (each?.Contains(row.Kind) ?? true))
                        != excludes;
                    Followed(rows, selection)
                        .ShouldBe(
                            rows.Where(IsPicked)
                                .GroupBy(r => r.Port)
                                .OrderBy(g => g.Key)
                                .Select(g => (g.Key, g.Any(r => r.N is not null) ? g.Sum(r => r.N) : null))
                        );
                },
                iter: 300
            );

    [Fact]
    public void A_repeated_tile_opens_with_a_range_in_the_pictures_of_members_that_are_named()
    {
        var opened = Openings.Of(Tile("opened"), ScopeOf("all"), null, default, DayOfWeek.Monday)!;
        Travelled(opened).ShouldBe("""{"members":[],"range":{"from":3,"to":9},"each":["k1",null]}""");
        List<Row> rows = [new(3, "k1", "A"), new(9, null, "A"), new(5, "k0", "A"), new(10, "k1", "B")];
        Followed(rows, opened).ShouldBe([("A", 12L)]);
    }

    [Theory]
    [InlineData("each", """{"range":{"from":1},"each":[]}""", "are a list")]
    [InlineData("each", """{"range":{"from":1},"each":"k0"}""", "are a list")]
    [InlineData("each", """{"range":{"from":1},"each":[5]}""", "kind of each is text; 5 is not.")]
    [InlineData("each", """{"each":["k0"]}""", "each has none")]
    [InlineData("bars", """{"range":{"from":1},"each":["k0"]}""", "bars has none")]
    [InlineData("ports", """{"range":{"from":1},"each":["k0"]}""", "No range can be picked")]
    public void A_range_that_lies_in_no_picture_is_refused(string tile, string json, string part)
    {
        var (selection, fault) = Read(tile, JsonDocument.Parse(json).RootElement);
        selection.ShouldBeNull();
        fault!.Message.ShouldContain(part);
    }

    private static Tile Tile(string name) => Workspace.Dashboards["x"].Tiles.First(t => t.Name == name);

    private static Scope ScopeOf(string roles) => Scope.For(Testing.Definitions.Viewer(roles), "d", Workspace, Viewing.At(default))!;

    private static (Selection? Selection, SelectionFault? Fault) Read(string tile, object json) =>
        SelectionReader.Read(Tile(tile), ScopeOf("all"), JsonSerializer.SerializeToElement(json), default, DayOfWeek.Monday);

    private static string Travelled(Selection selection) => Openings.Write(selection).ToJsonString();

    /// <summary>The sum of each port under what is picked on another tile.</summary>
    private static List<(string Port, long? Total)> Followed(List<Row> rows, Selection selection)
    {
        var (dashboard, scope) = (Workspace.Dashboards["x"], ScopeOf("all"));
        var scopes = new Dictionary<string, Scope> { ["d"] = scope };
        var filters = Wiring.FiltersOf(Tile("ports"), dashboard, Arrangement.Opening(dashboard), [selection], scopes, DayOfWeek.Monday);
        var memory = Memory.Of(rows, ("n", r => r.N), ("kind", r => r.Kind), ("port", r => r.Port));
        var table = Planner.Plan(Tile("ports"), scope, filters, 10_000, null, null).Run(memory).Table;
        return
        [
            .. Enumerable.Range(0, table.Rows).Select(r => ((string)table.Values[0][r]!, (long?)table.Values[1][r])).OrderBy(p => p.Item1),
        ];
    }

    [Theory]
    [InlineData("{ tile: t, picture: box, dataset: d, of: kind, by: port }", "type-mismatch", "number")]
    [InlineData("{ tile: t, picture: box, dataset: d, of: total, by: port }", "unknown-field", "is a measure")]
    [InlineData("{ tile: t, picture: box, dataset: d, of: nn, by: port }", "unknown-field", "no field nn")]
    [InlineData("{ tile: t, picture: box, dataset: d, of: n, show: total, by: port }", "bad-of", "no show")]
    [InlineData("{ tile: t, picture: box, dataset: d, of: n, by: port, top: { count: 3 } }", "bad-of", "no top")]
    [InlineData("{ tile: t, picture: box, dataset: d, by: port }", "wrong-count", "5 measures")]
    [InlineData("{ tile: t, picture: bar, dataset: d, of: n, show: total, by: port }", "no-of", "Only boxes")]
    [InlineData("{ tile: t, picture: density, dataset: d, by: kind }", "type-mismatch", "a number")]
    [InlineData("{ tile: t, picture: bar, dataset: d, show: total, by: kind, heights: counts }", "no-heights", "curves")]
    [InlineData("{ tile: t, picture: histogram, dataset: d, by: n, repeat: kind, pick: many }", "cannot-pick", "picks a range")]
    [InlineData(
        "{ tile: t, picture: histogram, dataset: d, by: n, repeat: kind, opening: { from: 1, each: [] } }",
        "wrong-value",
        "at least one"
    )]
    [InlineData("{ tile: t, picture: histogram, dataset: d, by: n, opening: { from: 1, each: k0 } }", "wrong-value", "Leave each out")]
    [InlineData("{ tile: t, picture: bar, dataset: d, show: total, by: kind, repeat: port, pick: range }", "cannot-pick", "pick: many")]
    public void What_has_no_spread_is_refused_at_its_place(string tile, string code, string part)
    {
        var placed = tile[..^2] + ", place: { column: 0, row: 0, width: 1, height: 1 } }";
        var faults = WorkspaceText.Read(Testing.Definitions.Files(Dataset, Roles, ("dashboards/x.yaml", Dashboard("- " + placed)))).Faults;
        faults.ShouldContain(
            f => f.Code == code && (f.Message + f.Remedy).Contains(part),
            string.Join('\n', faults.Select(f => $"{f.Code}: {f.Message} {f.Remedy}"))
        );
    }
}
