using Shouldly;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Results;
using Weir.Core.Sql;
using Weir.Testing;

namespace Weir.Core.Tests;

/// <summary>Keys with titles: grouped and compared by the key, read by the name.</summary>
public class NamedKeyTests
{
    private const string Dataset = """
        dataset: d
        source: s
        from: crate
        joins:
          - { table: grower, on: "crate.grower_id = grower.id" }
        fields:
          grower: { column: crate.grower_id, type: integer, named_by: grower.name, title: Grower }
          grower_name: { column: grower.name }
          weight: { column: weight, type: decimal }
        measures:
          rows: { formula: "count(*)" }
          kilos: { formula: "sum(weight)" }
        """;

    private const string Access = """
        roles:
          all: { reads: { d: all } }
          own: { reads: { d: { where: "grower in user.growers" } } }
          nameless: { reads: { d: { hides: [grower_name] } } }
          keyless: { reads: { d: { hides: [grower] } } }
        """;

    private const string Dashboard = """
        dashboard: x
        tabs:
          - tab: one
            tiles:
              - { tile: bars, picture: bar, dataset: d, show: kilos, by: grower, place: { column: 0, row: 0, width: 1, height: 1 } }
              - { tile: list, picture: list, dataset: d, by: grower, place: { column: 1, row: 0, width: 1, height: 1 } }
              - { tile: find, picture: search, dataset: d, by: grower, place: { column: 2, row: 0, width: 1, height: 1 } }
              - { tile: top, picture: table, dataset: d, show: rows, by: grower, top: { count: 1, rest: true }, place: { column: 3, row: 0, width: 1, height: 1 } }
        """;

    private static readonly Workspace Workspace = Testing.Definitions.Read(
        Testing.Definitions.Files(Dataset, Access, ("dashboards/x.yaml", Dashboard))
    );

    /// <summary>Two growers of one name, one without a name, one that nobody knows, and crates of nobody.</summary>
    private static readonly InMemory Memory = new(
        new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, object?>>>
        {
            ["crate"] =
            [
                .. new (long? Grower, decimal Weight)[] { (4, 10), (2, 5), (2, 5), (9, 1), (7, 3), (null, 2), (5, 30) }.Select(
                    r => new Dictionary<string, object?> { ["grower_id"] = r.Grower, ["weight"] = r.Weight }
                ),
            ],
            ["grower"] =
            [
                .. new (long Id, string? Name)[] { (2, "Maple"), (4, "Alder"), (5, "Maple"), (9, null) }.Select(r => new Dictionary<
                    string,
                    object?
                >
                {
                    ["id"] = r.Id,
                    ["name"] = r.Name,
                }),
            ],
        },
        DayOfWeek.Monday
    );

    private static Scope ScopeOf(string role) =>
        Scope.For(Testing.Definitions.Viewer(role, ("growers", ["2"])), "d", Workspace, Viewing.At(default))!;

    private static async Task<Table> Ask(string tile, string role = "all", Selection? picked = null)
    {
        var (scope, found) = (ScopeOf(role), Workspace.Dashboards["x"].Tiles.First(t => t.Name == tile));
        var where = picked is null ? [] : new[] { Conditions.Of(picked, [new FieldAt("grower", null)], scope, DayOfWeek.Monday) };
        var query = new Planner(DayOfWeek.Monday, "").Question(found, scope, TileFilters.None, 100);
        return (
            await MemberNames.Brought((q, _) => Task.FromResult(new QueryAnswer(Memory.Answer(q).Table, Memory.Answer(q).Lines)))(
                query with
                {
                    Where = where,
                },
                default
            )
        ).Table;
    }

    private static string[] Labels(Table table) => [.. table.Values[0].Select(v => Results.Labels.Write(v, table.Columns[0]))];

    [Fact]
    public async Task Lines_are_of_keys_and_stand_in_the_order_of_names_and_two_of_one_name_are_told_apart()
    {
        var list = await Ask("list");
        list.Columns.Count.ShouldBe(1);
        list.Values[0].ShouldBe([4L, 2L, 5L, 7L, 9L, null]);
        Labels(list).ShouldBe(["Alder", "Maple (2)", "Maple (5)", "7", "9", "not given"]);
        // With figures the greatest comes first, as with texts.
        var bars = await Ask("bars");
        Labels(bars).ShouldBe(["Maple (5)", "Alder", "Maple (2)", "7", "not given", "9"]);
        bars.Values[1].ShouldBe([30m, 10m, 10m, 3m, 2m, 1m]);
        // The rest of a top list has no key, and so no name.
        var top = await Ask("top");
        top.Columns.Select(c => c.Name).ShouldBe(["grower", "rest", "rows"]);
        top.Columns[0].Names!.ShouldHaveSingleItem().ShouldBe(new("2", "Maple"));
    }

    [Fact]
    public async Task Nobody_is_taken_for_another_who_is_called_as_they_are_with_their_key()
    {
        var query = new Planner(DayOfWeek.Monday, "").Question(
            Workspace.Dashboards["x"].Tiles.First(t => t.Name == "list"),
            ScopeOf("all"),
            TileFilters.None,
            100
        );
        var named = await MemberNames.Brought(
            (q, _) =>
                Task.FromResult(
                    new QueryAnswer(
                        Table.FromRows(
                            q.Columns,
                            [
                                [2L, "Maple"],
                                [5L, "Maple"],
                                [9L, "Maple (2)"],
                            ]
                        ),
                        3
                    )
                )
        )(query, default);
        Labels(named.Table).ShouldBe(["Maple (2) (2)", "Maple (5)", "Maple (2) (9)"]);
    }

    [Fact]
    public async Task A_search_looks_into_names_and_into_keys_that_have_none()
    {
        async Task<object?[]> Holding(string piece) =>
            (await Ask("list", picked: new Selection("find", [], null) { Contains = piece })).Values[0];
        (await Holding("MAP")).ShouldBe([2L, 5L]);
        (await Holding("9")).ShouldBe([9L]);
        (await Holding("4")).ShouldBeEmpty();
    }

    [Fact]
    public async Task Rules_compare_keys_and_a_hidden_name_does_not_come_back_by_its_key()
    {
        Labels(await Ask("list", "own")).ShouldBe(["Maple"]);
        Labels(await Ask("list", "nameless")).ShouldBe(["2", "4", "5", "7", "9", "not given"]);
        ScopeOf("nameless").Fields["grower"].HasNames.ShouldBeFalse();
        ScopeOf("keyless").Fields.Keys.ShouldBe(["grower_name", "weight"]);
    }

    [Theory]
    [InlineData("named_by: grower.name, names: { 2: Maple }", "names-twice")]
    [InlineData("named_by: farm.name", "unknown-table")]
    [InlineData("named_by: [grower.name]", "wrong-form")]
    public void Names_that_cannot_be_are_told(string settings, string code)
    {
        var (workspace, faults) = WorkspaceText.Read(Testing.Definitions.Files(Dataset.Replace("named_by: grower.name", settings), Access));
        workspace.ShouldBeNull();
        faults.Select(f => f.Code).Distinct().ShouldBe([code]);
    }
}
