using CsCheck;
using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Planning.Passes;
using Weir.Core.Results;

namespace Weir.Core.Tests;

/// <summary>Each pass of a plan by itself, and the plan as a whole: without any database.</summary>
public class TilePlanTests
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
              port: { column: port }
              n: { column: n, type: integer }
            measures:
              total: { formula: "sum(n)" }
              mean: { formula: "avg(n)" }
              kinds: { formula: "count(distinct kind)" }
              share: { formula: "share(sum(n))" }
              before: { formula: "previous(sum(n))" }
              place: { formula: "rank(sum(n))" }
            """,
            "roles:\n  all: { reads: { d: all } }\n  some: { reads: { d: { where: \"port in user.ports\", hides: [mean] } } }\n  "
                + "blind: { reads: { d: { where: \"true\", hides: [kind] } } }\n",
            (
                "dashboards/x.yaml",
                """
                dashboard: x
                tabs:
                  - tab: one
                    tiles:
                      - { tile: kinds, picture: table, dataset: d, show: [total, mean], by: kind, place: { column: 0, row: 0, width: 1, height: 1 } }
                      - { tile: leading, picture: bar, dataset: d, show: total, by: kind, top: { count: 2, rest: true }, place: { column: 1, row: 0, width: 1, height: 1 } }
                      - { tile: split, picture: bar, dataset: d, show: mean, by: kind, split: port, place: { column: 2, row: 0, width: 1, height: 1 } }
                      - { tile: months, picture: table, dataset: d, show: [total, share, before, place], by: day.month, totals: true, place: { column: 3, row: 0, width: 1, height: 1 } }
                      - { tile: levels, picture: bar, dataset: d, show: total, by: port, drill: { to: [kind, day.month] }, place: { column: 4, row: 0, width: 1, height: 1 } }
                      - { tile: newest, picture: number, dataset: d, show: total, change: { on: day.month }, place: { column: 5, row: 0, width: 1, height: 1 } }
                      - { tile: span, picture: dates, dataset: d, by: day, place: { column: 6, row: 0, width: 1, height: 1 } }
                      - { tile: find, picture: search, dataset: d, by: kind, place: { column: 7, row: 0, width: 1, height: 1 } }
                      - { tile: cross, picture: crosstable, dataset: d, show: [total, mean, kinds], by: [kind, port], across: day.month, place: { column: 9, row: 0, width: 1, height: 1 } }
                      - { tile: apart, picture: line, dataset: d, show: total, by: day.month, repeat: port, window: 2, reference: [{ at: 3 }, { measure: mean }, { measure: mean, each: true }], place: { column: 10, row: 0, width: 1, height: 1 } }
                      - { tile: points, picture: scatter, dataset: d, show: [total, mean], by: [kind, port], shape: port, place: { column: 11, row: 0, width: 1, height: 1 } }
                      - { tile: by-day, picture: line, dataset: d, show: total, by: day, place: { column: 8, row: 0, width: 1, height: 1 } }
                """
            )
        )
    );

    private static readonly Planner Planner = new(DayOfWeek.Monday, "");

    private static Tile Tile(string name) => Workspace.Dashboards["x"].Tiles.First(t => t.Name == name);

    private static Scope ScopeOf(string roles) =>
        Scope.For(Testing.Definitions.Viewer(roles, ("ports", ["A"])), "d", Workspace, Viewing.At(default))!;

    /// <summary>A plan that no pass has touched.</summary>
    private static TilePlan Bare(string tile, string roles = "all", Selection? own = null) =>
        new(Planner, Tile(tile), ScopeOf(roles), TileFilters.None, own, 100);

    private static TilePlan Shaped(string tile, Selection? own = null) =>
        LineOrder.Apply(LeadingMembers.Apply(PictureQuestion.Apply(Bare(tile, own: own))));

    private static TilePlan Whole(string tile, string roles = "all", Selection? own = null) =>
        Planner.Plan(Tile(tile), ScopeOf(roles), TileFilters.None, 100, own);

    private static Selection Picked(string tile, params object?[] members) =>
        new(tile, [.. members.Select(m => (IReadOnlyList<object?>)[m])], null);

    private static IEnumerable<string> Ids(TilePlan plan) => plan.Questions.Select(q => q.Id);

    [Fact]
    public void What_is_hidden_is_gone_before_anything_is_asked()
    {
        VisiblePart.Apply(Bare("kinds", "some")).Tile.Show.ShouldBe(["total"]);
        Should.Throw<ArgumentException>(() => VisiblePart.Apply(Bare("kinds", "blind")));
        Whole("kinds", "some").Shown.Figures.Count.ShouldBe(1);
    }

    [Fact]
    public void An_opened_level_takes_the_place_of_the_one_above()
    {
        var opened = OpenedLevel.Apply(Bare("levels", own: Picked("levels") with { Path = ["A"] }));
        opened.Tile.By.Single().ToString().ShouldBe("kind");
        OpenedLevel.Apply(Bare("levels")).Tile.By.Single().ToString().ShouldBe("port");
    }

    [Fact]
    public void A_picture_asks_for_groups_or_for_ends_or_for_a_count()
    {
        PictureQuestion.Apply(Bare("kinds")).Shown.Groups.Count.ShouldBe(1);
        PictureQuestion
            .Apply(Bare("span"))
            .Shown.Figures.Select(f => ((Bound.Aggregate)f.Formula).Function)
            .ShouldBe([AggregateFunction.Minimum, AggregateFunction.Maximum]);
        PictureQuestion
            .Apply(Bare("find"))
            .Shown.Figures.Select(f => ((Bound.Aggregate)f.Formula).Function)
            .ShouldBe([AggregateFunction.CountDistinct]);
    }

    [Fact]
    public void Leading_members_are_cut_at_the_question_and_the_rest_has_a_column()
    {
        var plan = LeadingMembers.Apply(PictureQuestion.Apply(Bare("leading")));
        plan.Shown.Top.ShouldBe(new TopMembers(2, true));
        plan.Shown.Columns.Select(c => c.Role).ShouldBe([ColumnRole.Group, ColumnRole.Rest, ColumnRole.Figure]);
        LeadingMembers.Apply(PictureQuestion.Apply(Bare("kinds"))).Shown.Top.ShouldBeNull();
    }

    [Fact]
    public void Named_members_stand_by_their_figure_and_dates_by_themselves()
    {
        Shaped("leading").Shown.Order[0].ShouldBe(new OrderKey(2, true));
        Shaped("by-day").Shown.Order.Single().ShouldBe(new OrderKey(0, false));
        Shaped("split").Shown.ByMember.ShouldBe(new MemberOrder(0, true));
    }

    [Fact]
    public void A_change_asks_for_the_course_and_for_parts_only_of_a_period_that_is_not_whole()
    {
        var plan = ChangeOnPeriod.Apply(Shaped("newest"));
        Ids(plan).ShouldBe(["course", "part", "part before"]);
        plan.Questions.Select(plan.WaveOf).ShouldBe([1, 2, 2]);
        Ids(ChangeOnPeriod.Apply(Shaped("kinds"))).ShouldBe([TilePlan.Lines]);
        Fillings(plan, "part", ("course", Course(new DateOnly(2025, 2, 28)))).ShouldBeEmpty();
        var span = Fillings(plan, "part", ("course", Course(new DateOnly(2025, 2, 10)))).Single();
        (span[PeriodBounds.From], span[PeriodBounds.Until]).ShouldBe((new DateOnly(2025, 2, 1), new DateOnly(2025, 2, 11)));
        var before = Fillings(plan, "part before", ("course", Course(new DateOnly(2025, 2, 10)))).Single();
        (before[PeriodBounds.From], before[PeriodBounds.Until]).ShouldBe((new DateOnly(2025, 1, 1), new DateOnly(2025, 1, 11)));

        static Table Course(DateOnly newest) =>
            new(
                [Column("m"), Column("v"), Column("newest")],
                [
                    [new DateOnly(2025, 1, 1), new DateOnly(2025, 2, 1)],
                    [5L, 6L],
                    [newest, newest],
                ]
            );
    }

    [Fact]
    public void Figures_that_look_at_other_lines_are_asked_for_by_their_parts_and_earlier_periods_wait_for_the_lines()
    {
        var plan = WindowFigures.Apply(Shaped("months"));
        Ids(plan).ShouldBe([TilePlan.Lines, TilePlan.Total, "earlier 1", "earlier 1 in part"]);
        plan.Questions[0].Query.Figures.Select(f => f.Formula).Distinct().Count().ShouldBe(1, "all four are made of one sum");
        plan.Questions.Single(q => q.Id == "earlier 1 in part").After.ShouldBe([TilePlan.Lines, TilePlan.Bounds]);
        var lines = new Table(
            [Column("m")],
            [
                [new DateOnly(2025, 3, 1), new DateOnly(2025, 4, 1)],
            ]
        );
        var reach = Fillings(plan, "earlier 1", (TilePlan.Lines, lines)).Single();
        (reach[PeriodBounds.From], reach[PeriodBounds.Until]).ShouldBe((new DateOnly(2025, 2, 1), new DateOnly(2025, 4, 1)));
        Fillings(
                plan,
                "earlier 1",
                (
                    TilePlan.Lines,
                    new Table(
                        [Column("m")],
                        [
                            [],
                        ]
                    )
                )
            )
            .ShouldBeEmpty("no period is shown");
        Ids(WindowFigures.Apply(Shaped("kinds"))).ShouldBe([TilePlan.Lines]);
    }

    [Fact]
    public void The_members_of_split_lines_are_asked_for_where_they_do_not_add_up()
    {
        Ids(MembersInOrder.Apply(Shaped("split"))).ShouldBe([TilePlan.Lines, "members"]);
        Ids(MembersInOrder.Apply(Shaped("leading"))).ShouldBe([TilePlan.Lines]);
    }

    [Fact]
    public void Totals_are_one_line_over_all_rows_and_asked_for_once_whoever_needs_them()
    {
        var plan = TotalsLine.Apply(WindowFigures.Apply(Shaped("months")));
        plan.Questions.Count(q => q.Id == TilePlan.Total).ShouldBe(1);
        plan.Questions.Single(q => q.Id == TilePlan.Total).Query.Groups.ShouldBeEmpty();
        TotalsLine.Apply(Shaped("kinds")).Steps.Count.ShouldBe(Shaped("kinds").Steps.Count);
    }

    [Fact]
    public void Only_longer_periods_can_be_cut_by_the_ends_of_the_data()
    {
        Ids(WholePeriods.Apply(Shaped("months"))).ShouldContain(TilePlan.Bounds);
        Ids(WholePeriods.Apply(Shaped("by-day"))).ShouldNotContain(TilePlan.Bounds);
    }

    [Fact]
    public void Picked_members_are_looked_for_only_where_the_lines_do_not_show_them()
    {
        var plan = PickedMembers.Apply(Shaped("leading", Picked("leading", "x", "y")));
        Ids(plan).ShouldBe([TilePlan.Lines, "picked"]);
        Fillings(
                plan,
                "picked",
                (
                    TilePlan.Lines,
                    new Table(
                        plan.Shown.Columns,
                        [
                            ["x", "y"],
                            [false, false],
                            [1L, 1L],
                        ]
                    )
                )
            )
            .ShouldBeEmpty();
        Fillings(
                plan,
                "picked",
                (
                    TilePlan.Lines,
                    new Table(
                        plan.Shown.Columns,
                        [
                            ["x", null],
                            [false, true],
                            [1L, 1L],
                        ]
                    )
                )
            )
            .Single()
            .ShouldBeEmpty();
        Ids(PickedMembers.Apply(Shaped("leading"))).ShouldBe([TilePlan.Lines]);
    }

    [Fact]
    public void Members_have_their_colours_by_their_order_among_all_rows_whatever_is_picked()
    {
        var filters = new TileFilters([new AppliedFilter(Picked("kinds", "x"), [new FieldAt("kind", null)], Bound.False)], []);
        var plan = Planner.Plan(Tile("split"), ScopeOf("all"), filters, 100);
        var question = plan.Questions.Single(q => q.Id == "colours");
        question.Query.Where.ShouldBeEmpty();
        question.Query.Groups.Single().Column.Name.ShouldBe("port");
        question.Query.Order.Single().ShouldBe(new OrderKey(0, false));
        var answers = new Answers();
        answers.Add(
            "colours",
            [
                (
                    Filling.None,
                    new QueryAnswer(
                        new Table(
                            question.Query.Columns,
                            [
                                ["A", "B", null],
                                [1L, 1L, 1L],
                            ]
                        ),
                        3
                    )
                ),
            ]
        );
        var shown = new TileAnswer(
            new Table(
                plan.Shown.Columns,
                [
                    ["x"],
                    ["B"],
                    [1.0],
                ]
            ),
            1,
            null,
            null,
            []
        );
        var coloured = MemberColours.Apply(Shaped("split")).Steps[^1].Apply(answers, shown);
        coloured.Table.Columns[1].Places.ShouldBe(new Dictionary<string, int> { ["A"] = 0, ["B"] = 1 });
        coloured.Table.Columns[0].Places.ShouldBeNull();
        Ids(MemberColours.Apply(Shaped("kinds"))).ShouldBe([TilePlan.Lines], "a table has no colours");
    }

    [Fact]
    public void Every_question_of_a_plan_waits_for_one_that_is_in_it_and_has_open_values_only_if_it_waits()
    {
        foreach (var tile in Workspace.Dashboards["x"].Tiles)
        {
            var plan = Whole(tile.Name, own: Picked(tile.Name, [null]));
            foreach (var question in plan.Questions)
            {
                question.After.ShouldAllBe(id => plan.Questions.Any(q => q.Id == id), tile.Name);
                var isOpen = question.Query.Conditions.Any(c => c.All().Any(b => b is Bound.Open));
                (isOpen && question.After.Count == 0).ShouldBeFalse($"{tile.Name} {question.Id}");
                question.Filled(Filling.None).ShouldBeSameAs(question.Query);
            }
        }
    }

    [Fact]
    public void A_line_at_a_measure_is_over_all_rows_or_over_those_of_each_picture()
    {
        var plan = ReferenceFigures.Apply(Shaped("apart"));
        var all = plan.Questions.Single(q => q.Id == "reference lines").Query;
        var each = plan.Questions.Single(q => q.Id == "reference lines of each").Query;
        all.Groups.ShouldBeEmpty();
        each.Groups.Select(g => g.Column.Name).ShouldBe(["port"]);
        var answers = new Answers();
        answers.Add(
            "reference lines",
            [
                (
                    Filling.None,
                    new QueryAnswer(
                        Table.FromRows(
                            all.Columns,
                            [
                                [7.5],
                            ]
                        ),
                        1
                    )
                ),
            ]
        );
        answers.Add(
            "reference lines of each",
            [
                (
                    Filling.None,
                    new QueryAnswer(
                        Table.FromRows(
                            each.Columns,
                            [
                                ["A", 5.0],
                                ["B", 9.0],
                            ]
                        ),
                        2
                    )
                ),
            ]
        );
        var answer = plan.Steps.TakeLast(2).Aggregate(TileAnswer.None, (a, step) => step.Apply(answers, a));
        answer.References.ShouldBe([null, 7.5, null]);
        answer.ReferencesOfEach.Select(r => (r.Member, r.At[2])).ShouldBe([("A", 5.0), ("B", 9.0)]);
    }

    [Fact]
    public void More_points_than_can_be_drawn_lie_in_cells_that_hold_every_one_of_them()
    {
        var random = new Random(1);
        var shaped = Shaped("points");
        var plan = PointsInCells.Apply(shaped with { Tile = shaped.Tile with { Picture = shaped.Tile.Picture with { MostPoints = 100 } } });
        TileAnswer Of(int count, bool hasFigures = true) =>
            plan.Steps[^1]
                .Apply(
                    new Answers(),
                    TileAnswer.None with
                    {
                        Table = Table.FromRows(
                            shaped.Shown.Columns,
                            [
                                .. Enumerable
                                    .Range(0, count)
                                    .Select(i =>
                                        (object?[])
                                            [$"k{i}", "A", (long)random.Next(1000), i % 50 == 0 || !hasFigures ? null : random.NextDouble()]
                                    ),
                            ]
                        ),
                        Lines = count,
                    }
                );
        Of(100).Note.ShouldBeNull();
        var answer = Of(1_000);
        answer.Note.ShouldNotBeNull().ShouldStartWith("980 points in cells");
        answer.Table.Columns.Any(c => c.Role == ColumnRole.Group).ShouldBeFalse("cells can't be picked");
        answer.Table.Values[2].Sum(n => (long)n!).ShouldBe(980);
        answer.Table.Rows.ShouldBeLessThanOrEqualTo(80 * 50);
        Of(1_000, hasFigures: false).Table.Rows.ShouldBe(1_000, "where none has both figures there is nothing to put into cells");
    }

    [Fact]
    public void A_hierarchy_of_parents_names_what_has_none_or_is_above_itself_and_has_all_that_is_above_what_is_shown()
    {
        var shaped = Shaped("kinds");
        var plan = HierarchyOfParents.Apply(shaped with { Tile = shaped.Tile with { Parent = new FieldAt("port", null) } });
        var structure = plan.Questions.Single(q => q.Id == "parents").Query;
        structure.Conditions.ShouldBeEmpty("it stays while others filter the figures");
        TileAnswer Of(IEnumerable<(string Label, string? Parent)> all, params string[] shown)
        {
            var answers = new Answers();
            List<object?[]> rows = [.. all.Select(a => (object?[])[a.Label, a.Parent, 1L])];
            answers.Add("parents", [(Filling.None, new QueryAnswer(Table.FromRows(structure.Columns, rows), rows.Count))]);
            var lines = Table.FromRows(shaped.Shown.Columns, [.. shown.Select(l => (object?[])[l, 5L, 5.0])]);
            return plan.Steps[^1].Apply(answers, TileAnswer.None with { Table = lines, Lines = shown.Length });
        }
        (string, string?)[] tree =
        [
            ("all", null),
            ("a", "all"),
            ("b", "all"),
            ("a1", "a"),
            ("lost", "gone"),
            ("x", "y"),
            ("y", "x"),
            ("y1", "y"),
        ];
        var answer = Of(tree, "a1", "y1");
        Enumerable
            .Range(0, answer.Table.Rows)
            .Select(r => (answer.Table.Values[0][r], answer.Table.Values[1][r], answer.Table.Values[2][r]))
            .ShouldBe([("a1", "a", 5L), ("y1", "y", 5L), ("a", "all", null), ("all", null, null), ("y", "x", null), ("x", null, null)]);
        answer.Note.ShouldBe("Without their parent: lost. Above themselves: x.");
        Of([("a", null), ("a", "b"), ("b", null)], "a").Note.ShouldBe("Below several parents, of which the first counts: a.");
        Of([("a", null)], "a").Note.ShouldBeNull();
    }

    /// <summary>The first wave is shared because it is known beforehand, not because somebody waits at the right place.</summary>
    [Fact]
    public async Task All_questions_of_a_wave_are_put_before_the_first_is_answered_and_none_of_the_next_before_the_last()
    {
        var plan = Whole("months");
        List<(Query Query, TaskCompletionSource<QueryAnswer> Answer)> asked = [];
        var run = plan.Run(
            (q, _) =>
            {
                asked.Add((q, new TaskCompletionSource<QueryAnswer>()));
                return asked[^1].Answer.Task;
            },
            CancellationToken.None
        );
        asked.Select(a => a.Query).ShouldBe(plan.First.Select(q => q.Query));
        List<(Query Query, TaskCompletionSource<QueryAnswer> Answer)> first = [.. asked];
        foreach (var (query, answer) in first)
        {
            asked.Count.ShouldBe(first.Count);
            var table =
                query.Groups.Count > 0
                    ? new Table(
                        query.Columns,
                        [
                            [new DateOnly(2025, 3, 1)],
                            .. query.Figures.Select(_ => new object?[] { 4L }),
                        ]
                    )
                    : new Table(
                        query.Columns,
                        [
                            .. query.Figures.Select(
                                (f, i) =>
                                    new object?[] { f.Formula.Kind == ValueKind.Date ? new DateOnly(2025, 1, 1).AddDays(i * 200) : 8L }
                            ),
                        ]
                    );
            answer.SetResult(new QueryAnswer(table, table.Rows));
        }
        while (asked.Count == first.Count)
            await Task.Yield();
        asked[^1].Query.Conditions.ShouldAllBe(c => !c.All().Any(b => b is Bound.Open));
        asked[^1]
            .Answer.SetResult(
                new QueryAnswer(
                    new Table(
                        asked[^1].Query.Columns,
                        [
                            [new DateOnly(2025, 2, 1)],
                            [2L],
                        ]
                    ),
                    1
                )
            );
        var shown = await run;
        shown.Table.Row(0).ShouldBe([new DateOnly(2025, 3, 1), 4L, 0.5, 2L, 1L]);
        shown.Totals!.Row(0).ShouldBe([8L, 1.0, null, null]);
    }

    [Fact]
    public void A_kept_answer_takes_part_in_no_scan_and_the_others_over_the_same_rows_share_one()
    {
        Query[] wave = [Whole("kinds").Shown, Whole("leading").Shown, Whole("by-day").Shown];
        IReadOnlyList<int[]> Groups(Func<Query, bool> isKept) =>
            [.. Placement.Of(wave, isKept, _ => false, _ => 5).Select(p => p.Questions.ToArray())];
        Groups(_ => false).Single().ShouldBe([0, 1, 2]);
        Groups(q => q == wave[1])
            .ShouldBe([
                [1],
                [0, 2],
            ]);
        Placement.Of(wave, _ => true, _ => false, _ => 5).ShouldAllBe(p => p.Scan == null);
        // Of another right the rows are others.
        Placement.Of([wave[0], Whole("leading", "some").Shown], _ => false, _ => false, _ => 5).Count.ShouldBe(2);
    }

    [Fact]
    public void Folding_constants_changes_no_answer_and_leaves_none_of_them() =>
        Conditions.Sample(condition =>
        {
            var folded = Constants.Fold(condition);
            if (folded is not Bound.Literal)
                folded.All().ShouldAllBe(b => !(b is Bound.Literal && ((Bound.Literal)b).Value is bool));
            foreach (var x in new bool?[] { true, false, null })
                new Evaluator(DayOfWeek.Monday).Value(folded, _ => x).ShouldBe(new Evaluator(DayOfWeek.Monday).Value(condition, _ => x));
        });

    [Fact]
    public void Small_pictures_have_a_figure_of_each_line_in_each_period_and_gaps_where_there_are_no_rows()
    {
        var tile = Tile("kinds") with { Courses = [new SmallCourse("mean", new FieldAt("day", "month"), "bars")] };
        var plan = CoursesOfLines.Apply(PictureQuestion.Apply(Bare("kinds") with { Tile = tile }));
        var asked = plan.Questions.Single(q => q.Id == "course 1").Query;
        asked.Groups.Select(g => g.Column.Name).ShouldBe(["kind", "day.month"]);
        asked.Figures.Select(f => f.Column.Name).ShouldBe(["mean"]);
        DateOnly[] months = [new(2025, 1, 1), new(2025, 3, 1)];
        TileAnswer Answered(long lines)
        {
            var answers = new Answers();
            answers.Add(
                "course 1",
                [
                    (
                        Filling.None,
                        new QueryAnswer(
                            Table.FromRows(
                                [.. asked.Columns],
                                [
                                    [null, months[0], 4.0],
                                    ["b", months[0], 1.5],
                                    ["a", null, 9.0],
                                    ["b", months[1], 2.5],
                                ]
                            ),
                            lines
                        )
                    ),
                ]
            );
            var shown = TileAnswer.None with
            {
                Table = Table.FromRows(
                    [.. plan.Shown.Columns],
                    [
                        ["a", 1L, 9.0],
                        ["b", 2L, 2.0],
                        [null, 3L, 4.0],
                    ]
                ),
            };
            return plan.Steps[^1].Apply(answers, shown);
        }
        var course = Answered(4).Courses.ShouldHaveSingleItem();
        course.Periods.ShouldBe([months[0], months[1]]);
        course.Lines.ShouldBe([
            [null, null],
            [1.5, 2.5],
            [4.0, null],
        ]);
        Answered(5).Courses.ShouldHaveSingleItem().ShouldSatisfyAllConditions(c => c.IsCut.ShouldBeTrue(), c => c.Periods.ShouldBeEmpty());
        Fields.Visible(tile, ScopeOf("some"))!.Courses.ShouldBeEmpty("of a measure that is hidden nothing is drawn");
    }

    [Fact]
    public void What_only_a_tip_tells_is_asked_with_the_lines_once_and_not_of_whom_it_is_hidden_from()
    {
        var tile = Tile("kinds") with { Tip = new TipText("{kind} at {mean}, {kinds}", ["mean", "kinds"]), Show = ["total"] };
        Query Asked(Tile of, string right) => PictureQuestion.Apply(Bare("kinds", right) with { Tile = of }).Shown;
        Asked(tile, "all")
            .Figures.Select(f => (f.Column.Name, f.Column.Role))
            .ShouldBe([.. tile.Show.Select(s => (s, ColumnRole.Figure)), ("mean", ColumnRole.Tip), ("kinds", ColumnRole.Tip)]);
        var less = Fields.Visible(tile, ScopeOf("some"))!;
        less.Tip!.Sentence.ShouldBe("{kind} at {}, {kinds}");
        Asked(less, "some").Figures.Select(f => f.Column.Name).ShouldBe(["total", "kinds"]);
    }

    [Fact]
    public void A_line_at_a_measure_is_asked_for_once_over_all_rows_and_not_of_whom_the_measure_is_hidden_from()
    {
        var tile = Tile("kinds") with
        {
            Picture = Pictures.PictureKinds.All.First(k => k.Name == "bar"),
            References =
            [
                new ReferenceLine(3, null, null),
                new ReferenceLine(0, null, "mean", "mean"),
                new ReferenceLine(0, null, "again", "mean"),
            ],
        };
        var plan = ReferenceFigures.Apply(LineOrder.Apply(PictureQuestion.Apply(Bare("kinds") with { Tile = tile })));
        var asked = plan.Questions.Single(q => q.Id == "reference lines").Query;
        asked.Figures.Select(f => f.Column.Name).ShouldBe(["mean"]);
        (asked.Groups.Count, asked.Limit).ShouldBe((0, 1));
        Fields
            .Visible(tile, ScopeOf("some"))!
            .References.Select(r => r.Measure)
            .ShouldBe([null], "of a measure that is hidden nothing is drawn and nothing told");
    }

    [Fact]
    public void A_cross_table_has_every_subtotal_by_the_measures_own_aggregation()
    {
        var rows = Gen.Select(Gen.Int[0, 3], Gen.Int[0, 1], Gen.Int[1, 3], Gen.Int[-5, 20])
            .Select(
                (kind, port, month, n) =>
                    (
                        Kind: (string?)(kind == 3 ? null : "abc"[kind].ToString()),
                        Port: "xy"[port].ToString(),
                        Day: new DateOnly(2025, month, 7),
                        N: (long)n
                    )
            )
            .List[0, 25];
        rows.Sample(
            given =>
            {
                IReadOnlyList<IReadOnlyDictionary<string, object?>> table =
                [
                    .. given.Select(r => new Dictionary<string, object?>
                    {
                        ["kind"] = r.Kind,
                        ["port"] = r.Port,
                        ["day"] = r.Day,
                        ["n"] = r.N,
                    }),
                ];
                var memory = new InMemory(
                    new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, object?>>> { ["t"] = table },
                    DayOfWeek.Monday
                );
                var answer = Whole("cross")
                    .Run(
                        (q, _) =>
                        {
                            var (found, lines) = memory.Answer(q);
                            return Task.FromResult(new QueryAnswer(found, lines));
                        },
                        CancellationToken.None
                    )
                    .GetAwaiter()
                    .GetResult();
                foreach (var (down, isAcross, found) in answer.Subtotals.Append(new Subtotal(2, true, answer.Table)))
                {
                    object?[] Members((string? Kind, string Port, DateOnly Day, long N) r) =>
                        [
                            .. new object?[] { r.Kind, r.Port }.Take(down),
                            .. isAcross ? [new DateOnly(r.Day.Year, r.Day.Month, 1)] : Array.Empty<object>(),
                        ];
                    string Key(IEnumerable<object?> members) => string.Join('|', members.Select(m => m ?? "–"));
                    var expected = given
                        .GroupBy(r => Key(Members(r)))
                        .Select(g =>
                            $"{g.Key}: {g.Sum(r => r.N)} {g.Average(r => r.N):0.###} {g.Select(r => r.Kind).OfType<string>().Distinct().Count()}"
                        )
                        .Order();
                    var groups = down + (isAcross ? 1 : 0);
                    if (given.Count == 0 && groups == 0)
                        continue;
                    Enumerable
                        .Range(0, found.Rows)
                        .Select(r => found.Row(r).ToList())
                        .Select(r => $"{Key(r.Take(groups))}: {r[groups]} {r[groups + 1]:0.###} {r[groups + 2]}")
                        .Order()
                        .ShouldBe(expected, $"{down} down{(isAcross ? ", across" : "")}");
                }
                answer.Subtotals.Select(s => (s.Down, s.IsAcross)).ShouldBe([(0, true), (0, false), (1, true), (1, false), (2, false)]);
            },
            iter: 300
        );
    }

    private static Gen<Bound> Leaves =>
        Gen.Int[0, 2]
            .Select(i =>
                i switch
                {
                    0 => Bound.True,
                    1 => Bound.False,
                    _ => new Bound.Column("t", "x", ValueKind.Boolean),
                }
            );

    private static readonly Gen<Bound> Conditions = Gen.Recursive<Bound>(
        (depth, inner) =>
            depth > 4
                ? Leaves
                : Gen.OneOf(
                    Leaves,
                    inner.Select(a => (Bound)new Bound.Op(Operation.Not, ValueKind.Boolean, a)),
                    Gen.Select(inner, inner, Gen.Bool)
                        .Select((a, b, and) => (Bound)new Bound.Op(and ? Operation.And : Operation.Or, ValueKind.Boolean, a, b))
                )
    );

    private static Column Column(string name) => new(name, name, ColumnRole.Figure, ValueKind.Integer, null, null);

    private static IReadOnlyList<Filling> Fillings(TilePlan plan, string id, params (string Id, Table Table)[] known)
    {
        var answers = new Answers();
        foreach (var (of, table) in known)
            answers.Add(of, [(Filling.None, new QueryAnswer(table, table.Rows))]);
        return plan.Questions.Single(q => q.Id == id).Fillings(answers);
    }
}
