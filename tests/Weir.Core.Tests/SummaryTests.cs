using CsCheck;
using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Results;
using Weir.Testing;

namespace Weir.Core.Tests;

/// <summary>What is worked out beyond groups and measures: what fields are like, how subjects moved, lines from their own starts.</summary>
public class SummaryTests
{
    private const string Dataset = """
        dataset: d
        source: s
        from: t
        fields:
          n: { column: n, type: integer, format: "0 min" }
          kind: { column: kind }
          who: { column: who }
          day: { column: day, type: date }
          state: { column: state, order: [good, fair, poor] }
        measures:
          total: { formula: "sum(n)" }
        """;

    private static string Dashboard(string tiles) =>
        "dashboard: x\ntabs:\n  - tab: one\n    columns: 1\n    tiles:\n"
        + string.Join('\n', tiles.TrimEnd().Split('\n').Select(l => "      " + l))
        + "\n";

    private static readonly Workspace Workspace = Testing.Definitions.Read(
        Testing.Definitions.Files(
            Dataset,
            "roles:\n  all: { reads: { d: all } }\n  blind: { reads: { d: { hides: [n] } } }\n",
            (
                "dashboards/x.yaml",
                Dashboard(
                    """
                    - { tile: facts, picture: summary, dataset: d, by: [n, day, state], split: kind }
                    - { tile: last, picture: movement, dataset: d, by: state, each: who, along: day }
                    - { tile: worst, picture: movement, dataset: d, by: state, each: who, along: day, to: worst }
                    - { tile: grown, picture: line, dataset: d, show: total, by: day.month, split: who, since_start: change }
                    - { tile: since, picture: line, dataset: d, show: total, by: day.month, split: who, since_start: values }
                    """
                )
            )
        )
    );

    private sealed record Row(long? N, string? Kind, string? Who, DateOnly? Day, string? State);

    private static List<Row> Rows(Random random)
    {
        T? Or<T>(T value)
            where T : class => random.Next(12) == 0 ? null : value;
        return
        [
            .. Enumerable
                .Range(0, random.Next(1, 60))
                .Select(_ => new Row(
                    random.Next(8) == 0 ? null : random.Next(-1_000_000, -999_900),
                    Or($"k{random.Next(2)}"),
                    Or($"w{random.Next(5)}"),
                    random.Next(12) == 0 ? null : new DateOnly(2024, 1, 1).AddDays(random.Next(0, 400)),
                    Or(new[] { "good", "fair", "poor" }[random.Next(3)])
                )),
        ];
    }

    private static TileAnswer Answer(string tile, List<Row> rows, int limit = 10_000)
    {
        var memory = Memory.Of(
            rows,
            ("n", r => r.N),
            ("kind", r => r.Kind),
            ("who", r => r.Who),
            ("day", r => r.Day),
            ("state", r => r.State)
        );
        return new Planner(DayOfWeek.Monday, "")
            .Plan(
                Workspace.Dashboards["x"].Tiles.First(t => t.Name == tile),
                Scope.For(Testing.Definitions.Viewer("all"), "d", Workspace, Viewing.At(default))!,
                TileFilters.None,
                limit
            )
            .Run(memory);
    }

    [Fact]
    public void Each_field_is_told_of_as_its_rows_are_in_every_column() =>
        Gen.Int[0, int.MaxValue]
            .Sample(
                seed =>
                {
                    var rows = Rows(new Random(seed));
                    var table = Answer("facts", rows).Table;
                    var columns = table.Columns.Skip(2).ToList();
                    columns[^1].Title.ShouldBe($"All ({rows.Count})");
                    var groups = rows.Select(r => r.Kind)
                        .Distinct()
                        .OrderBy(k => k is null)
                        .ThenBy(k => k, StringComparer.Ordinal)
                        .ToList();
                    columns.SkipLast(1).Select(c => c.Title[..c.Title.IndexOf(" (")]).ShouldBe(groups.Select(g => g ?? "not given"));
                    string Cell(string field, string told, int column) =>
                        (string)
                            table.Values[column + 2][
                                Enumerable
                                    .Range(0, table.Rows)
                                    .Single(r => (string)table.Values[0][r]! == field && (string)table.Values[1][r]! == told)
                            ]!;
                    for (var c = 0; c < columns.Count; c++)
                    {
                        var of = rows.Where(r => c == columns.Count - 1 || r.Kind == groups[c]).ToList();
                        double[] values = [.. of.Select(r => r.N).OfType<long>().Select(n => (double)n).Order()];
                        Cell("N, min", "n", c).ShouldBe($"{values.Length}");
                        if (rows.Any(r => r.N is null))
                            Cell("N, min", "missing", c).ShouldBe($"{of.Count - values.Length}");
                        string Write(double? value, int decimals) =>
                            Labels.Write(value, new Column("", "", ColumnRole.Figure, ValueKind.Float, new Format(decimals, 1, ""), null));
                        double? deviation =
                            values.Length < 2 ? null : Math.Sqrt(values.Sum(v => Math.Pow(v - values.Average(), 2)) / (values.Length - 1));
                        Cell("N, min", "mean (sd)", c)
                            .ShouldBe(values.Length == 0 ? "–" : $"{Write(values.Average(), 1)} ({Write(deviation, 1)})");
                        string Part(double part) => Write(Evaluator.Percentile(values, part), 0);
                        Cell("N, min", "median (quartiles)", c)
                            .ShouldBe(values.Length == 0 ? "–" : $"{Part(0.5)} ({Part(0.25)} to {Part(0.75)})");
                        foreach (var state in rows.Select(r => r.State).Distinct())
                        {
                            var count = of.Count(r => r.State == state);
                            Cell("State", state ?? "not given", c)
                                .ShouldBe(FormattableString.Invariant($"{count} ({100.0 * count / of.Count:0.0} %)"));
                        }
                        List<DateOnly> days = [.. of.Select(r => r.Day).OfType<DateOnly>().Order()];
                        Cell("Day", "first to last", c)
                            .ShouldBe(
                                days.Count == 0 ? "–" : FormattableString.Invariant($"{days[0]:d MMM yyyy} to {days[^1]:d MMM yyyy}")
                            );
                    }
                },
                iter: 150
            );

    [Fact]
    public void Whoever_may_not_see_a_field_has_the_summary_without_it()
    {
        var facts = Workspace.Dashboards["x"].Tiles.First(t => t.Name == "facts");
        var scope = Scope.For(Testing.Definitions.Viewer("blind"), "d", Workspace, Viewing.At(default))!;
        Fields.Visible(facts, scope)!.By.Select(b => b.ToString()).ShouldBe(["day", "state"]);
        Fields.Visible(facts with { By = [new FieldAt("n", null)] }, scope).ShouldBeNull();
    }

    [Fact]
    public void What_a_cell_says_of_a_hidden_column_is_left_out()
    {
        var cells = new TableCells(
            new Dictionary<string, IReadOnlyList<CellBand>> { ["total"] = [new CellBand(null, "bad", null)] },
            new Dictionary<string, string> { ["who"] = "{who} {total}", ["kind"] = "{kind}" },
            new Dictionary<string, string> { ["who"] = "/x/{who}" }
        );
        var seen = cells.Visible(name => name != "total").ShouldNotBeNull();
        (seen.Bands.Count, string.Join(' ', seen.Written.Keys), string.Join(' ', seen.Links.Keys)).ShouldBe((0, "kind", "who"));
        cells.Visible(_ => false).ShouldBeNull();
    }

    [Fact]
    public void Subjects_move_from_the_state_of_their_first_day_to_the_last_or_the_worst_later_one() =>
        Gen.Int[0, int.MaxValue]
            .Sample(
                seed =>
                {
                    var rows = Rows(new Random(seed));
                    string[] order = ["good", "fair", "poor"];
                    foreach (var tile in (string[])["last", "worst"])
                    {
                        var expected = rows.Where(r => r.Who is not null && r.State is not null && r.Day is not null)
                            .GroupBy(r => r.Who)
                            .Select(of =>
                            {
                                string Worst(IEnumerable<Row> some) => some.MaxBy(r => Array.IndexOf(order, r.State))!.State!;
                                var (first, last) = (of.Min(r => r.Day), of.Max(r => r.Day));
                                return (
                                    Worst(of.Where(r => r.Day == first)),
                                    first == last ? null
                                    : tile == "last" ? Worst(of.Where(r => r.Day == last))
                                    : Worst(of.Where(r => r.Day > first))
                                );
                            })
                            .GroupBy(p => p)
                            .ToDictionary(g => g.Key, g => (long)g.Count());
                        var table = Answer(tile, rows).Table;
                        Enumerable
                            .Range(0, table.Rows)
                            .ToDictionary(r => ((string)table.Values[0][r]!, (string?)table.Values[1][r]), r => (long)table.Values[2][r]!)
                            .OrderBy(p => p.Key)
                            .ShouldBe(expected.OrderBy(p => p.Key));
                    }
                },
                iter: 200
            );

    [Fact]
    public void Where_states_would_be_left_out_no_count_is_guessed()
    {
        List<Row> rows = [.. Enumerable.Range(0, 9).Select(i => new Row(1, null, $"w{i}", new DateOnly(2024, 1, 1), "good"))];
        var answer = Answer("last", rows, limit: 5);
        answer.Table.Rows.ShouldBe(0);
        answer.Note.ShouldNotBeNull().ShouldContain("more than a tile may bring");
    }

    [Fact]
    public void Lines_that_begin_together_count_periods_from_the_first_of_each() =>
        Gen.Int[0, int.MaxValue]
            .Sample(
                seed =>
                {
                    var rows = Rows(new Random(seed)).Where(r => r.N is not null).ToList();
                    var lines = rows.Where(r => r.Day is not null)
                        .GroupBy(r => (r.Who, Month: (r.Day!.Value.Year * 12) + r.Day.Value.Month))
                        .Select(g => (g.Key.Who, g.Key.Month, Sum: g.Sum(r => r.N!.Value)))
                        .ToList();
                    foreach (var tile in (string[])["since", "grown"])
                    {
                        var table = Answer(tile, rows).Table;
                        var found = Enumerable
                            .Range(0, table.Rows)
                            .Where(r => table.Values[2][r] is not null)
                            .Select(r => ((string?)table.Values[1][r], (long)table.Values[0][r]!, Convert.ToDouble(table.Values[2][r])));
                        var expected = lines.Select(l =>
                        {
                            var (_, start, first) = lines.Where(x => x.Who == l.Who).MinBy(x => x.Month);
                            return (l.Who, (long)(l.Month - start), tile == "since" ? l.Sum : ((double)l.Sum - first) / first);
                        });
                        found.OrderBy(x => x).ShouldBe(expected.OrderBy(x => x));
                        table
                            .Values[0]
                            .Distinct()
                            .Count()
                            .ShouldBe(table.Rows == 0 ? 0 : (int)(long)table.Values[0].Max()! + 1, "no place is left out");
                    }
                },
                iter: 200
            );

    [Theory]
    [InlineData("{ tile: t, picture: movement, dataset: d, by: state, each: who }", "missing-key", "along")]
    [InlineData("{ tile: t, picture: movement, dataset: d, by: state, each: who, along: n }", "type-mismatch", "date")]
    [InlineData("{ tile: t, picture: movement, dataset: d, by: state, each: state, along: day }", "bad-each", "state already")]
    [InlineData("{ tile: t, picture: movement, dataset: d, by: state, each: whom, along: day }", "unknown-field", "whom")]
    [InlineData("{ tile: t, picture: bar, dataset: d, show: total, by: state, each: who }", "no-each", "movement")]
    [InlineData("{ tile: t, picture: summary, dataset: d, show: total, by: state }", "wrong-count", "measure")]
    [InlineData("{ tile: t, picture: line, dataset: d, show: total, by: day.month, since_start: change }", "no-since-start", "split")]
    [InlineData("{ tile: t, picture: line, dataset: d, show: total, by: n, split: who, since_start: change }", "no-since-start", "date")]
    [InlineData(
        "{ tile: t, picture: line, dataset: d, show: total, by: day.month, split: who, since_start: change, pick: many }",
        "no-since-start",
        "pick"
    )]
    [InlineData("{ tile: t, picture: table, dataset: d, by: who, bands: { total: [{ is: good }] } }", "unknown-column", "shows no total")]
    [InlineData(
        "{ tile: t, picture: table, dataset: d, show: total, by: who, bands: { total: [{ below: 1, is: good }] } }",
        "bad-bands",
        "without an end"
    )]
    [InlineData(
        "{ tile: t, picture: table, dataset: d, show: total, by: who, bands: { total: [{ below: 5, is: good }, { below: 3, is: fair }, { is: bad }] } }",
        "bad-bands",
        "from the lowest"
    )]
    [InlineData(
        "{ tile: t, picture: table, dataset: d, show: total, by: who, bands: { total: [{ below: x, is: good }, { is: bad }] } }",
        "wrong-value",
        "no number"
    )]
    [InlineData("{ tile: t, picture: table, dataset: d, by: who, written: { who: \"{whom}\" } }", "unknown-column", "whom")]
    [InlineData("{ tile: t, picture: table, dataset: d, by: who, links: { who: \"javascript:alert(1)\" } }", "unsafe-link", "lead to")]
    [InlineData("{ tile: t, picture: table, dataset: d, by: who, links: { who: \"//elsewhere.test/{who}\" } }", "unsafe-link", "lead to")]
    [InlineData(
        "{ tile: t, picture: table, dataset: d, by: who, links: { who: \"https://{who}.test/\" } }",
        "unsafe-link",
        "behind the host"
    )]
    [InlineData("{ tile: t, picture: table, dataset: d, by: who, page: 2 }", "bad-number", "5")]
    [InlineData("{ tile: t, picture: treemap, dataset: d, show: total, by: [who, kind], parent: state }", "bad-parent", "one field")]
    [InlineData("{ tile: t, picture: treemap, dataset: d, show: total, by: who, parent: boss }", "unknown-field", "boss")]
    [InlineData(
        "{ tile: t, picture: sunburst, dataset: d, show: total, by: who, parent: kind, top: { count: 3 } }",
        "bad-parent",
        "no top"
    )]
    [InlineData("{ tile: t, picture: scatter, dataset: d, show: [total, total], by: who, shape: kind }", "no-shape", "one value")]
    [InlineData(
        "{ tile: t, picture: line, dataset: d, show: total, by: day.month, reference: [{ measure: total, each: true }] }",
        "bad-reference",
        "repeated"
    )]
    [InlineData("{ tile: t, picture: bar, dataset: d, show: total, by: who, links: { who: \"/x\" } }", "no-links", "Only a table")]
    public void What_can_not_be_worked_out_is_refused_at_its_place(string tile, string code, string part)
    {
        var faults = WorkspaceText
            .Read(
                Testing.Definitions.Files(Dataset, "roles:\n  all: { reads: { d: all } }\n", ("dashboards/x.yaml", Dashboard("- " + tile)))
            )
            .Faults;
        faults.ShouldContain(
            f => f.Code == code && (f.Message + f.Remedy).Contains(part),
            string.Join('\n', faults.Select(f => $"{f.Code}: {f.Message} {f.Remedy}"))
        );
    }
}
