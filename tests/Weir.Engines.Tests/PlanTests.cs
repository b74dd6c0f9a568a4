using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Testing;

namespace Weir.Engines.Tests;

/// <summary>What is asked of the database, read as a developer reads it in an explanation.</summary>
public class PlanTests
{
    private const string Dataset = """
        dataset: d
        source: s
        from: sale
        joins:
          - { table: route, on: "sale.route_id = route.id" }
          - { table: area, on: "route.area_id = area.id" }
          - { table: vessel, on: "sale.vessel_id = vessel.id" }
        filter: "kind <> 'test'"
        fields:
          kind: { column: kind }
          route: { column: route.name }
          area: { column: area.name }
          vessel: { column: vessel.name }
          port: { column: port }
          day: { column: day, type: date }
        measures:
          rows: { formula: "count(*)" }
        """;

    private static readonly Workspace Workspace = Testing.Definitions.Read(
        Testing.Definitions.Files(
            Dataset,
            "roles:\n  all: { reads: { d: all } }\n  port: { reads: { d: { where: \"port in user.ports\" } } }\n",
            ("workspace.yaml", "workspace: w\nweek_starts: sunday\n"),
            (
                "dashboards/x.yaml",
                """
                dashboard: x
                tabs:
                  - tab: one
                    tiles:
                      - { tile: kinds, picture: bar, dataset: d, show: rows, by: kind, place: { column: 0, row: 0, width: 1, height: 1 } }
                      - { tile: areas, picture: bar, dataset: d, show: rows, by: area, top: { count: 3, rest: true }, place: { column: 1, row: 0, width: 1, height: 1 } }
                      - { tile: weeks, picture: bar, dataset: d, show: rows, by: day.week, place: { column: 2, row: 0, width: 1, height: 1 } }
                      - { tile: days, picture: bar, dataset: d, show: rows, by: day.day_of_week, place: { column: 3, row: 0, width: 1, height: 1 } }

                """
            )
        )
    );

    private static SqlText Sql(string tile, string roles = "all", params object?[] pickedKinds)
    {
        var scope = Scope.For(
            Testing.Definitions.Viewer(roles, ("ports", ["SKE'; DROP TABLE sale; --"])),
            "d",
            Workspace,
            Viewing.At(default)
        )!;
        var dashboard = Workspace.Dashboards["x"];
        List<Selection> selections =
            pickedKinds.Length == 0 ? [] : [new Selection("kinds", [.. pickedKinds.Select(k => (IReadOnlyList<object?>)[k])], null)];
        var found = dashboard.Tiles.First(t => t.Name == tile);
        var filters = Wiring.FiltersOf(
            found,
            dashboard,
            Arrangement.Opening(dashboard),
            selections,
            new Dictionary<string, Scope> { ["d"] = scope },
            Workspace.WeekStart
        );
        return new DuckDb.DuckDbDialect(Workspace.WeekStart).Print(
            SelectBuilder.Build(new Planner(Workspace.WeekStart, "").Question(found, scope, filters, 100))
        );
    }

    [Fact]
    public void A_join_that_nothing_uses_is_left_out_and_one_that_another_needs_is_kept()
    {
        Sql("kinds").Text.ShouldNotContain("JOIN");
        var areas = Sql("areas").Text;
        areas.ShouldContain("LEFT JOIN \"route\"");
        areas.ShouldContain("LEFT JOIN \"area\"");
        areas.ShouldNotContain("\"vessel\"");
    }

    [Fact]
    public void The_row_rule_and_the_own_filter_stand_in_every_reading_of_rows_before_the_selections()
    {
        var sql = Sql("areas", "port", "a");
        var wheres = sql.Text.Split('\n').Where(l => l.Contains("WHERE")).ToList();
        wheres.Count.ShouldBe(2); // the leading members, and the groups
        foreach (var where in wheres)
        {
            where.IndexOf("\"port\"", StringComparison.Ordinal).ShouldBeInRange(0, where.IndexOf("<>", StringComparison.Ordinal));
            where.IndexOf("<>", StringComparison.Ordinal).ShouldBeLessThan(where.LastIndexOf("\"kind\" IN", StringComparison.Ordinal));
        }
    }

    [Theory]
    [InlineData("'; DROP TABLE sale; --")]
    [InlineData("\" OR 1=1 --")]
    [InlineData("$1")]
    public void What_a_viewer_picks_is_a_parameter_and_never_text(string picked)
    {
        var sql = Sql("weeks", "port", picked, null);
        sql.Text.ShouldNotContain(picked == "$1" ? "'$1'" : picked);
        sql.Text.ShouldNotContain("DROP");
        sql.Parameters.Select(p => p.Value).ShouldContain(picked);
        sql.Text.ShouldContain("IS NULL");
    }

    [Fact]
    public void Weeks_begin_and_weekdays_are_ordered_as_the_workspace_says()
    {
        Sql("weeks").Text.ShouldContain("INTERVAL 1 DAY");
        var days = Sql("days");
        days.Text.ShouldContain("ORDER BY ((CAST(\"grouped\".\"g1\" AS BIGINT) + ");
        days.Parameters.Select(p => p.Value).ShouldContain(0L); // Sunday is 7 in ISO 8601, and comes first
    }
}
