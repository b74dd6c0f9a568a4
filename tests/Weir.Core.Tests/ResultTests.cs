using System.Text.Json;
using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Results;
using Weir.Core.Sql;
using Weir.Testing;

namespace Weir.Core.Tests;

public class ResultTests
{
    public static TheoryData<string> Cases()
    {
        var data = new TheoryData<string>();
        foreach (
            var item in JsonDocument
                .Parse(File.ReadAllText(Path.Combine(Repository.Root, "tests", "label-cases.json")))
                .RootElement.EnumerateArray()
        )
            data.Add(item.GetRawText());
        return data;
    }

    [Theory]
    [MemberData(nameof(Cases))]
    public void The_service_writes_a_value_as_the_console_does(string json)
    {
        var item = JsonDocument.Parse(json).RootElement;
        var kind = ValueKinds.Parse(item.GetProperty("kind").GetString()!)!.Value;
        var format = item.TryGetProperty("format", out var f)
            ? new Format(f.GetProperty("decimals").GetInt32(), f.GetProperty("factor").GetInt32(), f.GetProperty("unit").GetString()!)
            {
                Marks = !f.TryGetProperty("marks", out var marks) || marks.GetBoolean(),
                UnitFirst = f.TryGetProperty("unitFirst", out _),
                Short = f.TryGetProperty("short", out _),
            }
            : null;
        var column = new Column(
            "c",
            "C",
            item.GetProperty("role").GetString() == "group" ? ColumnRole.Group : ColumnRole.Figure,
            kind,
            format,
            item.TryGetProperty("at", out var at) ? at.GetString() : null
        )
        {
            Pattern = item.TryGetProperty("pattern", out var pattern) ? DatePattern.Parse(pattern.GetString()!).ShouldNotBeNull() : null,
            Edges = item.TryGetProperty("edges", out var edges)
                ? [.. edges.EnumerateArray().Select(e => kind == ValueKind.Integer ? (object)e.GetInt64() : e.GetDecimal())]
                : null,
            Names = item.TryGetProperty("names", out var names) ? names.Deserialize<Dictionary<string, string>>() : null,
        };
        var written = item.GetProperty("value");
        object? value = kind switch
        {
            _ when written.ValueKind == JsonValueKind.Null => null,
            ValueKind.Integer => written.GetInt64(),
            ValueKind.Decimal => written.GetDecimal(),
            ValueKind.Float => written.GetDouble(),
            ValueKind.Boolean => written.GetBoolean(),
            ValueKind.Date => DateOnly.Parse(written.GetString()!),
            ValueKind.Timestamp => DateTime.Parse(written.GetString()!),
            _ => written.GetString(),
        };
        Labels.Write(value, column).ShouldBe(item.GetProperty("text").GetString());
    }

    private const string Dataset =
        "dataset: d\nsource: s\nfrom: t\nfields:\n  at: { column: at, type: timestamp }\n  fares: { column: fares, type: decimal "
        + "}\n  route: { column: route }\nmeasures:\n  income: { formula: \"sum(fares)\" }\n";

    private static readonly string Dashboard =
        "dashboard: x\ntabs:\n  - tab: one\n    tiles:\n"
        + "      - { tile: n, picture: number, dataset: d, show: income, change: { on: at.month }, place: { column: 0, row: 0, width: 1, height: 1 } }\n"
        + "      - { tile: m, picture: bar, dataset: d, show: income, by: at.month, place: { column: 1, row: 0, width: 1, height: 1 } }\n"
        + "      - { tile: w, picture: bar, dataset: d, show: income, by: at.week, place: { column: 2, row: 0, width: 1, height: 1 } }\n"
        + "      - { tile: y, picture: line, dataset: d, show: income, by: at.month_of_year, split: at.year, place: { column: 4, "
        + "row: 0, width: 1, height: 1 } }\n"
        + "      - { tile: q, picture: table, dataset: d, show: income, by: [at.year_number, at.quarter_of_year], place: { column: "
        + "5, row: 0, width: 1, height: 1 } }\n"
        + "      - { tile: r, picture: table, dataset: d, show: income, by: route, totals: true, place: { column: 3, row: 0, width: 1, height: 1 } }\n";

    private static readonly Workspace Workspace = Testing.Definitions.Read(
        Testing.Definitions.Files(Dataset, "roles:\n  all: { reads: { d: all } }\n", ("dashboards/x.yaml", Dashboard))
    );

    private static async Task<TileAnswer> Ask(
        string tile,
        (string At, decimal? Fares)[] rows,
        params (string Tile, DateOnly[] Picked)[] picks
    )
    {
        var scope = Scope.For(Testing.Definitions.Viewer("all"), "d", Workspace, Viewing.At(default))!;
        var dashboard = Workspace.Dashboards["x"];
        var table = rows.Select(r =>
                (IReadOnlyDictionary<string, object?>)
                    new Dictionary<string, object?>
                    {
                        ["at"] = DateTime.Parse(r.At),
                        ["fares"] = r.Fares,
                        ["route"] = "r",
                    }
            )
            .ToList();
        var memory = new InMemory(
            new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, object?>>> { ["t"] = table },
            DayOfWeek.Monday
        );
        var selections = picks.Select(p => new Selection(p.Tile, [.. p.Picked.Select(d => (IReadOnlyList<object?>)[d])], null));
        var found = dashboard.Tiles.First(t => t.Name == tile);
        var filters = Wiring.FiltersOf(
            found,
            dashboard,
            Arrangement.Opening(dashboard),
            selections,
            new Dictionary<string, Scope> { ["d"] = scope },
            DayOfWeek.Monday
        );
        return await new Planner(DayOfWeek.Monday, "")
            .Plan(found, scope, filters, 100)
            .Run((q, _) => Task.FromResult(Of(memory.Answer(q))), CancellationToken.None);

        static QueryAnswer Of((Table Table, int Lines) a) => new(a.Table, a.Lines);
    }

    private static readonly (string, decimal?)[] ThreeMonths =
    [
        ("2025-01-01 08:00", 100),
        ("2025-01-31 08:00", 100),
        ("2025-02-10 08:00", 150),
        ("2025-02-28 23:59", 50),
        ("2025-03-05 08:00", 60),
        ("2025-03-12 08:00", 30),
    ];

    [Fact]
    public async Task A_partial_period_is_marked_also_where_a_month_and_a_year_name_it_together()
    {
        var months = await Ask("y", ThreeMonths);
        months.Partial.ShouldBeEmpty();
        months.PartialPairs.ShouldBe([(3L, (object)new DateOnly(2025, 1, 1))]);
        // The other way round, and by quarters: the first one ends within March.
        (await Ask("q", ThreeMonths)).PartialPairs.ShouldBe([(2025L, (object)1L)]);
        // A picked span cuts periods as the ends of the data do.
        (await Ask("y", ThreeMonths, ("w", [new DateOnly(2025, 2, 24)])))
            .PartialPairs.Select(p => p.First)
            .ShouldBe([2L]);
        (await Ask("y", [])).PartialPairs.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("yyyy-MM-dd", "2025-03-09")]
    [InlineData("d.M.yy", "9.3.25")]
    [InlineData("EEE d MMM", "Sun 9 Mar")]
    [InlineData("EEEE, d. MMMM yyyy", "Sunday, 9. March 2025")]
    [InlineData("'week of' dd/MM", "week of 09/03")]
    [InlineData("HH:mm:ss", "07:05:03")]
    [InlineData("H 'o''clock'", "7 o'clock")]
    [InlineData("d", "9")]
    [InlineData("''yy", "'25")]
    [InlineData("yyyyy", null)]
    [InlineData("YYYY", null)]
    [InlineData("DD", null)]
    [InlineData("0.0", null)]
    [InlineData("'only words'", null)]
    [InlineData("%d\\", null)]
    [InlineData("", null)]
    public void A_date_is_written_by_a_pattern_and_what_is_none_is_told(string pattern, string? text) =>
        DatePattern.Parse(pattern)?.Write(new DateTime(2025, 3, 9, 7, 5, 3)).ShouldBe(text);

    [Fact]
    public async Task A_partial_period_is_marked_and_compared_with_the_same_span()
    {
        var change = (await Ask("n", ThreeMonths)).Change!;
        change.Period.ShouldBe(new DateOnly(2025, 3, 1));
        change.IsPartial.ShouldBeTrue();
        (change.Value, change.Earlier).ShouldBe((90m, 150m)); // 1 to 12 March against 1 to 12 February
        change.Relative!.Value.ShouldBe(-0.4, 1e-12);
    }

    [Fact]
    public async Task A_picked_whole_period_is_compared_with_the_whole_one_before()
    {
        var change = (await Ask("n", ThreeMonths, ("m", [new DateOnly(2025, 2, 1)]))).Change!;
        (change.Period, change.IsPartial, change.Value, change.Earlier).ShouldBe((new DateOnly(2025, 2, 1), false, 200m, 200m));
        change.Relative.ShouldBe(0);
    }

    [Fact]
    public async Task Without_an_earlier_value_or_with_zero_the_change_is_undefined_and_not_zero()
    {
        (await Ask("n", ThreeMonths, ("m", [new DateOnly(2025, 1, 1)]))).Change!.Relative.ShouldBeNull();
        (await Ask("n", [("2025-01-31 08:00", 0), ("2025-02-28 08:00", 5)])).Change!.Relative.ShouldBeNull();
        (await Ask("n", [])).Change.ShouldBeNull();
    }

    [Fact]
    public async Task A_gap_in_the_course_is_a_gap()
    {
        var course = (await Ask("n", [("2025-01-31 08:00", 7), ("2025-03-31 08:00", 9)])).Change!.Course;
        course.TakeLast(3).ShouldBe([7m, null, 9m]);
    }

    [Fact]
    public async Task Periods_that_the_data_or_the_picked_range_cut_are_named_partial()
    {
        (await Ask("m", ThreeMonths)).Partial.ShouldBe([new DateOnly(2025, 3, 1)]);
        (await Ask("m", ThreeMonths, ("w", [new DateOnly(2025, 2, 10)]))).Partial.ShouldBe([new DateOnly(2025, 2, 1)]);
        (await Ask("m", [("2025-01-01 00:00", 1), ("2025-02-28 10:00", 1)])).Partial.ShouldBeEmpty();
    }

    [Fact]
    public async Task No_rows_a_missing_value_and_zero_are_told_apart()
    {
        (await Ask("r", [])).Table.Rows.ShouldBe(0);
        (await Ask("r", [("2025-01-01", null)])).Table.Values[1][0].ShouldBeNull();
        (await Ask("r", [("2025-01-01", 0)])).Totals!.Values[0][0].ShouldBe(0m);
    }
}
