using System.Text.Json;
using CsCheck;
using Shouldly;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;

namespace Weir.Core.Tests;

/// <summary>What a dashboard opens with, and the choices that change how it is drawn.</summary>
public class PresentationTests
{
    private const string Dataset = """
        dataset: d
        source: s
        from: t
        fields:
          port: { column: port }
          size: { column: size, type: integer }
          cost: { column: cost, type: decimal }
          at: { column: at, type: timestamp }
          day: { column: day, type: date }
          open: { column: open, type: boolean }
        measures:
          rows: { formula: "count(*)" }
          spent: { formula: "sum(cost)" }
          mean: { formula: "avg(size)" }
        """;

    private const string Parameters = """
        parameters:
          figure: { choices: { rows: How many, spent: What it cost, mean: Size } , opening: spent }
          along: { choices: [at.month, port, cost] }
          kind: { choices: [bar, line] }
        """;

    private static string Dashboard(string tiles, string parameters = Parameters) =>
        $"dashboard: x\n{parameters}\ntabs:\n  - tab: one\n    tiles:\n{string.Concat(tiles.Split('\n').Select(t => $"      - {{ dataset: d, {t} }}\n"))}";

    private static string Tile(string more, string name = "a", int row = 0) =>
        $"tile: {name}, {more}, place: {{ column: 0, row: {row}, width: 4, height: 2 }}";

    private static WorkspaceRead Read(string dashboard, string access = "roles:\n  all: { reads: { d: all } }\n") =>
        WorkspaceText.Read(Testing.Definitions.Files(Dataset, access, ("dashboards/x.yaml", dashboard)));

    [Fact]
    public void The_period_of_a_change_and_the_colour_of_a_scatter_may_be_chosen_like_all_else()
    {
        var (workspace, faults) = Read(
            Dashboard(
                Tile("picture: number, show: rows, change: { on: at.param.grain }")
                    + "\n"
                    + Tile("picture: scatter, show: [rows, spent], by: port, split: param.part", "b", 2),
                "parameters:\n  grain: { choices: [month, week] }\n  part: { choices: [size, open] }\n"
            )
        );
        workspace.ShouldNotBeNull(string.Join('\n', faults));
        var tiles = workspace.Dashboards["x"].Tiles.ToList();
        tiles[0].Variants.Values.Select(v => v.Change!.ToString()).ShouldBe(["at.month", "at.week"]);
        tiles[1].Variants.Values.Select(v => v.Split!.ToString()).ShouldBe(["size", "open"]);
        Read(Dashboard(Tile("picture: number, show: rows, change: { on: param.part }"), "parameters:\n  part: { choices: [size, open] }\n"))
            .Faults.Select(f => f.Code)
            .ShouldBe(["unknown-grain"]);
    }

    [Theory]
    [InlineData("picture: bar, show: param.figur, by: port", "unknown-parameter", "Did you mean figure?")]
    [InlineData("picture: bar, show: param.along, by: port", "unknown-measure", null)]
    [InlineData("picture: bar, show: rows, by: param.figure", "unknown-field", null)]
    [InlineData("picture: bar, show: rows, by: port.param.kind", "unknown-grain", null)]
    [InlineData("picture: param.figure, show: rows, by: port", "unknown-value", null)]
    [InlineData("picture: param.kind, show: rows, by: param.along, pick: range", "cannot-pick", "pick: many")]
    [InlineData("picture: bar, show: rows, by: port, required: true", "value-needed", "opening")]
    [InlineData("picture: bar, show: rows, by: port, opening: newest", "type-mismatch", "opening: [member]")]
    [InlineData("picture: bar, show: rows, by: size, opening: [many]", "type-mismatch", null)]
    [InlineData("picture: bar, show: rows, by: size, opening: [[1, 2]]", "wrong-count", null)]
    [InlineData("picture: bar, show: rows, by: size, opening: []", "wrong-form", null)]
    [InlineData("picture: bar, show: rows, by: size, pick: one, opening: [1, 2]", "one-member-only", null)]
    [InlineData("picture: bar, show: rows, by: size, opening: { from: 1 }", "cannot-pick", "opening: [member]")]
    [InlineData("picture: slider, by: size, opening: { from: 3, to: 1 }", "wrong-value", null)]
    [InlineData("picture: slider, by: size, opening: { period: last 3 days }", "wrong-value", null)]
    [InlineData("picture: dates, by: at, opening: { period: soon }", "wrong-value", null)]
    [InlineData("picture: search, by: port, opening: [SKE]", "wrong-form", null)]
    [InlineData("picture: number, show: rows, opening: [1]", "not-pickable", null)]
    public void A_choice_or_opening_value_that_can_not_be_meant_is_named(string tile, string code, string? remedy)
    {
        var found = Read(Dashboard(Tile(tile))).Faults.Where(f => f.Severity == Severity.Error).ToList();
        found.Select(f => f.Code).Distinct().ShouldBe([code], string.Join('\n', found));
        found.ShouldBeUnique("what all variants have in common is told once");
        found.ShouldAllBe(f => f.Line == 9);
        if (remedy is not null)
            found[0].Remedy!.ShouldContain(remedy);
    }

    [Fact]
    public void What_stands_in_the_side_panel_is_a_control()
    {
        string InPanel(string tile) => $"tile: a, {tile}, place: panel";
        Read(Dashboard(InPanel("picture: bar, show: rows, by: port"))).Faults.ShouldContain(f => f.Code == "cannot-stand");
        // A control is there to be used, and does not wait to be asked for.
        Read(Dashboard(InPanel("picture: dropdown, by: port, waits: true"))).Faults.ShouldContain(f => f.Code == "cannot-wait");
        Read(
            Dashboard(InPanel("picture: dropdown, by: port") + "\n" + InPanel("picture: list, by: port").Replace("tile: a", "tile: b"), "")
        )
            .Faults.ShouldAllBe(f => f.Severity == Severity.Warning);
    }

    [Theory]
    [InlineData("parameters:\n  figure: { choices: [rows] }", "wrong-count")]
    [InlineData("parameters:\n  figure: { choices: [rows, spent], opening: mean }", "wrong-value")]
    [InlineData("parameters:\n  figure: { choices: 7 }", "wrong-form")]
    [InlineData("parameters:\n  figure: {}", "missing-key")]
    public void A_parameter_of_a_dashboard_that_can_not_be_meant_is_named(string parameters, string code) =>
        Read(Dashboard(Tile("picture: bar, show: rows, by: port"), parameters))
            .Faults.ShouldContain(f => f.Code == code && f.Severity == Severity.Error);

    [Fact]
    public void Concepts_that_link_fields_of_different_meaning_are_warned_of()
    {
        const string other =
            "dataset: e\nsource: s\nfrom: u\nfields:\n  harbour: { column: harbour, type: integer, concept: port }\n  length: { "
            + "column: length, type: decimal, unit: ft, concept: size }\n  when: { column: when, type: date, concept: at }\n";
        var files = Testing.Definitions.Files(
            Dataset
                .Replace("{ column: port }", "{ column: port, concept: port }")
                .Replace("{ column: size, type: integer }", "{ column: size, type: integer, unit: m, concept: size }")
                .Replace("{ column: at, type: timestamp }", "{ column: at, type: timestamp, concept: at }"),
            "roles:\n  all: { reads: { d: all, e: all } }\n",
            ("datasets/e.yaml", other)
        );
        WorkspaceText
            .Read(files)
            .Faults.Where(f => f.Code == "concept-differs")
            .Select(f => $"{f.File}:{f.Line} {f.Severity}")
            .ShouldBe(["datasets/e.yaml:5 Warning", "datasets/e.yaml:6 Warning"]);
    }

    [Fact]
    public void Each_combination_of_choices_is_a_tile_and_titles_come_from_what_a_choice_stands_for()
    {
        var dashboard = Read(
            Dashboard(Tile("picture: param.kind, show: param.figure, by: param.along, sort: { by: param.figure, order: descending }"))
        ).Workspace!.Dashboards["x"];
        var tile = dashboard.Tiles.Single();
        tile.Every.Count().ShouldBe(18);
        (tile.Picture.Name, tile.Show[0], tile.By[0].ToString(), tile.Sort!.By).ShouldBe(
            ("bar", "spent", "at.month", "spent"),
            "it opens with its opening choices, or the first"
        );
        var other = dashboard
            .With(
                new Dictionary<string, string>
                {
                    ["figure"] = "mean",
                    ["along"] = "port",
                    ["kind"] = "line",
                }
            )
            .Tiles.Single();
        (other.Picture.Name, other.Show[0], other.By[0].ToString(), other.Sort!.By).ShouldBe(("line", "mean", "port", "mean"));
        string Choices(string name) =>
            string.Join(
                ", ",
                ((ParameterChoices.Fixed)dashboard.Parameters.Single(p => p.Name == name).Choices!).Items.Select(i => i.Title)
            );
        Choices("figure").ShouldBe("How many, What it cost, Size");
        Choices("along").ShouldBe("Month, Port, Cost");
        Choices("kind").ShouldBe("Bar, Line");
    }

    /// <summary>Whatever roles hide: a choice is offered only if it tells of nothing hidden, and each that is offered draws some tile.</summary>
    [Fact]
    public void A_choice_is_offered_only_where_the_viewer_may_see_what_it_stands_for() =>
        Gen.Int.Sample(
            seed =>
            {
                var random = new Random(seed);
                string[] names = ["port", "size", "cost", "at", "rows", "spent", "mean"];
                var hides = names.Where(_ => random.Next(4) == 0).ToList();
                string Pick(params string[] of) => of[random.Next(of.Length)];
                var tiles = string.Join(
                    '\n',
                    Enumerable
                        .Range(0, 3)
                        .Select(i =>
                            Tile(
                                $"picture: {Pick("bar", "param.kind")}, show: {Pick("rows", "param.figure", "param.figure")}, by: "
                                    + $"{Pick("port", "param.along", "at.month")}",
                                $"t{i}",
                                i * 2
                            )
                        )
                );
                var workspace = Read(
                    Dashboard(tiles),
                    $"roles:\n  some: {{ reads: {{ d: {{ hides: [{string.Join(", ", hides)}] }} }} }}\n"
                ).Workspace!;
                var dashboard = workspace.Dashboards["x"];
                var scope = Scope.For(Testing.Definitions.Viewer("some"), "d", workspace, Viewing.Whenever)!;
                var scopes = new Dictionary<string, Scope> { ["d"] = scope };
                // Slow and obvious: a measure over a hidden field is hidden too.
                bool IsHidden(string name) =>
                    hides.Contains(name.Split('.')[0])
                    || (name == "spent" && hides.Contains("cost"))
                    || (name == "mean" && hides.Contains("size"));
                bool Stands(Tile t) => !t.Groups.Any(g => IsHidden(g.Field)) && t.Show.Any(m => !IsHidden(m));
                var offered = Presentation.Offered(dashboard, scopes);
                foreach (var parameter in dashboard.Parameters)
                {
                    var expected = ((ParameterChoices.Fixed)parameter.Choices!)
                        .Items.Select(i => (string)i.Value)
                        .Where(c =>
                            !IsHidden(c)
                            && dashboard.Tiles.Any(t =>
                                t.Uses.Contains(parameter.Name)
                                && t.Variants.Any(v => v.Key.Split('\n')[t.Uses.ToList().IndexOf(parameter.Name)] == c && Stands(v.Value))
                            )
                        )
                        .ToList();
                    var found = offered.FirstOrDefault(o => o.Name == parameter.Name);
                    ((found?.Choices as ParameterChoices.Fixed)?.Items.Select(i => (string)i.Value) ?? []).ShouldBe(expected);
                    if (found is not null)
                        expected.ShouldContain((string)found.Opening[0]);
                }
                Presentation.Chosen(dashboard, offered, Viewing.Whenever).Tiles.Count().ShouldBe(3);
            },
            iter: 400
        );

    private static readonly DateTime Newest = new(2025, 8, 14, 17, 30, 0);

    [Theory]
    [InlineData("picture: bar, show: rows, by: at.month, opening: newest", """{"members":[["2025-08-01"]]}""")]
    [InlineData("picture: list, by: at.year, pick: one, required: true, opening: newest", """{"members":[["2025-01-01"]]}""")]
    [InlineData("picture: bar, show: rows, by: at.hour, opening: newest", """{"members":[["2025-08-14T17:00:00"]]}""")]
    [InlineData(
        "picture: bar, show: rows, by: at.week, pick: range, opening: newest",
        """{"members":[],"range":{"from":"2025-08-11T00:00:00","to":"2025-08-18T00:00:00"}}"""
    )]
    [InlineData(
        "picture: dates, by: at, opening: newest",
        """{"members":[],"range":{"from":"2025-08-14T00:00:00","to":"2025-08-15T00:00:00"}}"""
    )]
    [InlineData("picture: dates, by: at, opening: { period: last 30 days }", """{"members":[],"period":"last 30 days"}""")]
    [InlineData(
        "picture: dates, by: at, opening: { from: 2025-01-01, to: 2025-03-31 }",
        """{"members":[],"range":{"from":"2025-01-01","to":"2025-04-01"}}"""
    )]
    [InlineData("picture: slider, by: cost, opening: { from: 1.5 }", """{"members":[],"range":{"from":1.5,"to":null}}""")]
    [InlineData("picture: search, by: port, opening: { contains: reef }", """{"members":[],"contains":"reef"}""")]
    [InlineData("picture: switch, by: open, opening: [true]", """{"members":[[true]]}""")]
    [InlineData(
        "picture: heatmap, show: rows, by: [port, at.day_of_week], opening: [[SKE, 1], [not given, 7]]",
        """{"members":[["SKE",1],[null,7]]}"""
    )]
    public void Opening_values_are_selections_as_they_travel(string written, string expected)
    {
        var (workspace, faults) = Read(Dashboard(Tile(written), ""));
        workspace.ShouldNotBeNull(string.Join('\n', faults));
        var tile = workspace.Dashboards["x"].Tiles.Single();
        var scope = Scope.For(Testing.Definitions.Viewer("all"), "d", workspace, Viewing.Whenever)!;
        var now = new DateTime(2025, 9, 1);
        var selection = Openings.Of(tile, scope, Newest, now, DayOfWeek.Monday)!;
        var json = Openings
            .Write(selection)
            .ToJsonString(new JsonSerializerOptions { Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping });
        json.ShouldBe(expected);
        // It is read back as what it was, and means the same rows.
        var (read, fault) = SelectionReader.Read(tile, scope, JsonDocument.Parse(json).RootElement, now, DayOfWeek.Monday);
        fault.ShouldBeNull();
        Openings.Write(read!).ToJsonString().ShouldBe(Openings.Write(selection).ToJsonString());
        Conditions
            .Of(read!, tile.By, scope, DayOfWeek.Monday)
            .ToString()
            .ShouldBe(Conditions.Of(selection, tile.By, scope, DayOfWeek.Monday).ToString());
        if (tile.Opening!.IsNewest)
            Openings.Of(tile, scope, null, now, DayOfWeek.Monday).ShouldBeNull("without rows there is no newest");
    }
}
