using System.Text.Json;
using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Testing;

namespace Weir.Core.Tests;

/// <summary>Leading members, the rest, the order of lines and what cells add up to: the console's brush has the same cases.</summary>
public class FoldCasesTests
{
    private static readonly Workspace Workspace = Testing.Definitions.Read(
        Testing.Definitions.Files(
            """
            dataset: d
            source: s
            from: t
            fields:
              kind: { column: kind }
              year: { column: year, type: integer }
              x: { column: x, type: decimal }
            measures:
              total: { formula: "sum(x)" }
              rows: { formula: "count(*)" }
              mean: { formula: "avg(x)" }
              least: { formula: "min(x)" }
            """,
            "roles:\n  all: { reads: { d: all } }\n"
        )
    );

    public static TheoryData<int> Cases() => [.. Enumerable.Range(0, All.GetArrayLength())];

    private static readonly JsonElement All = JsonDocument
        .Parse(File.ReadAllText(Path.Combine(Repository.Root, "tests", "fold-cases.json")))
        .RootElement;

    [Theory]
    [MemberData(nameof(Cases))]
    public void The_service_adds_cells_up_as_the_console_does(int number)
    {
        var item = All[number];
        var scope = Scope.For(Testing.Definitions.Viewer("all"), "d", Workspace, Viewing.Whenever)!;
        var planner = new Planner(DayOfWeek.Monday, "");
        string[] groups = [.. item.GetProperty("groups").EnumerateArray().Select(g => g.GetString()!)];
        string[] figures = [.. item.GetProperty("figures").EnumerateArray().Select(f => f.GetString()!)];
        var top = item.GetProperty("top") is { ValueKind: JsonValueKind.Object } t
            ? new TopMembers(t.GetProperty("count").GetInt32(), t.GetProperty("rest").GetBoolean())
            : null;
        var beforeFigures = groups.Length + (top is { Rest: true } ? 1 : 0);
        int ColumnOf(string name) =>
            Array.IndexOf(groups, name) is >= 0 and var group ? group : beforeFigures + Array.IndexOf(figures, name);
        var query = new Query(
            scope,
            [],
            [.. groups.Select(g => planner.Group(FieldAt.Parse(g), scope))],
            [.. figures.Select(f => planner.Figure(scope.Measures[f]))],
            top,
            [
                .. item.GetProperty("order")
                    .EnumerateArray()
                    .Select(o => new OrderKey(ColumnOf(o.GetProperty("by").GetString()!), o.GetProperty("descending").GetBoolean())),
            ],
            item.GetProperty("limit").GetInt32()
        );
        var cells = item.GetProperty("cells").EnumerateArray().ToList();
        // Beside it a coarser question, so that both are added up from cells finer than the second one's.
        var scan = SharedScan.Of([query, query with { Groups = [], Top = null, Order = [] }]);
        var answers = scan.Split(
            [.. scan.Cells.Columns.Select(c => cells.Select(cell => Cell(scan.Cells, c.Name, cell)).ToArray())],
            default
        )!;

        answers[0].Lines.ShouldBe(item.GetProperty("lines").GetInt64());
        var expected = item.GetProperty("expected").EnumerateArray().Select(r => r.EnumerateArray().Select(Plain).ToArray()).ToList();
        answers[0].Table.Rows.ShouldBe(expected.Count);
        for (var row = 0; row < expected.Count; row++)
        for (var column = 0; column < expected[row].Length; column++)
        {
            var (was, wanted) = (answers[0].Table.Values[column][row], expected[row][column]);
            if (wanted is double number1)
                Convert.ToDouble(was).ShouldBe(number1, 1e-9, $"row {row}, column {column}");
            else
                was.ShouldBe(wanted, $"row {row}, column {column}");
        }
        answers[1].Lines.ShouldBe(1);
    }

    private static object? Plain(JsonElement value) =>
        value.ValueKind switch
        {
            JsonValueKind.Null => null,
            JsonValueKind.String => value.GetString(),
            JsonValueKind.True or JsonValueKind.False => value.GetBoolean(),
            _ => value.GetDouble(),
        };

    /// <summary>What a cell has of a column of the shared question.</summary>
    private static object? Cell(Query asked, string column, JsonElement cell)
    {
        var output = asked.Groups.Concat(asked.Figures).Single(o => o.Column.Name == column);
        var (key, kind) = output.Formula switch
        {
            Bound.Column c => (c.Name, c.Kind),
            Bound.Aggregate { Function: AggregateFunction.Sum } a => ("sum", a.Kind),
            Bound.Aggregate { Function: AggregateFunction.Minimum } a => ("least", a.Kind),
            Bound.Aggregate { Function: AggregateFunction.Count } => ("count", ValueKind.Integer),
            Bound.Aggregate { Function: AggregateFunction.CountRows } => ("rows", ValueKind.Integer),
            _ => throw new InvalidOperationException($"No case has {output.Formula}."),
        };
        var value = cell.GetProperty(key);
        return value.ValueKind == JsonValueKind.Null
            ? null
            : kind switch
            {
                ValueKind.Text => value.GetString(),
                ValueKind.Integer => value.GetInt64(),
                ValueKind.Float => value.GetDouble(),
                _ => value.GetDecimal(),
            };
    }
}
