using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>
/// The boxes of a number: quartiles first, then the last values within one and a half times their distance (Tukey 1977), and what lies
/// beyond. Opened to the last level, single values stand in place of boxes.
/// </summary>
internal static class SpreadOfValues
{
    private const string Whiskers = "whiskers";
    private const string Beyond = "outliers";

    /// <summary>More boxes than this can't be told apart.</summary>
    private const int MostBoxes = 200;

    /// <summary>More outliers than this are counted and not shown.</summary>
    private const int MostOutliers = 2_000;

    private const double Reach = 1.5;

    public static TilePlan Apply(TilePlan plan)
    {
        if (plan.Tile.Of is not { } of)
            return plan;
        var value = plan.Planner.Group(of, plan.Scope);
        if (plan.Tile.By[0] == of)
            return plan.Showing(plan.Shown with { Figures = [Output.RowCount] });

        Output Quartile(double part, string name, string title) =>
            Figure(
                name,
                title,
                value,
                new Bound.Aggregate(AggregateFunction.Percentile, value.Formula, null, ValueKind.Float) { Fraction = part }
            );
        plan = plan.Showing(
            plan.Shown with
            {
                Figures =
                [
                    Quartile(0.5, "median", "Median"),
                    Quartile(0.25, "lower_quartile", "Lower quartile"),
                    Quartile(0.75, "upper_quartile", "Upper quartile"),
                    CountOf("values", "Values", AggregateFunction.Count, value.Formula),
                ],
                Limit = Math.Min(plan.Limit, MostBoxes),
            }
        );
        plan = plan.Asking(WithinFences(plan, value));
        if (plan.Detail is { } detail && detail.Scope.Fields.ContainsKey(of.Field))
            plan = plan.Asking(BeyondFences(plan, detail.Scope, detail.Filters, of));
        return plan.Then("whiskers and outliers", (answers, answer) => Boxes(plan, value, answers, answer));
    }

    private static Output CountOf(string name, string title, AggregateFunction function, Bound? of) =>
        new(
            new Bound.Aggregate(function, of, null, ValueKind.Integer),
            new Column(name, title, ColumnRole.Figure, ValueKind.Integer, null, null)
        );

    /// <summary>A figure that is written as the values are.</summary>
    private static Output Figure(string name, string title, Output value, Bound formula) =>
        new(formula, new Column(name, title, ColumnRole.Figure, formula.Kind, value.Column.Format, null));

    private static PlannedQuestion WithinFences(TilePlan plan, Output value)
    {
        Output Of(AggregateFunction function, string name) =>
            Figure(name, name, value, new Bound.Aggregate(function, value.Formula, null, value.Formula.Kind));
        var within = Bound.All([
            .. IsOfLine(plan.Shown.Groups),
            Compare(Operation.GreaterOrEqual, value.Formula, "lower fence"),
            Compare(Operation.LessOrEqual, value.Formula, "upper fence"),
        ]);
        return new PlannedQuestion(
            Whiskers,
            "the last values within one and a half times the distance of the quartiles, for the whiskers",
            plan.Shown with
            {
                Where = [.. plan.Shown.Where, within],
                Figures =
                [
                    Of(AggregateFunction.Minimum, "least"),
                    Of(AggregateFunction.Maximum, "greatest"),
                    CountOf("within", "within", AggregateFunction.Count, value.Formula),
                ],
                Top = null,
                ByMember = null,
                Order = [],
            }
        )
        {
            After = [TilePlan.Lines],
            IsForAny = true,
            Fillings = answers => FencesOf(plan, value, answers),
        };
    }

    /// <summary>Single values are asked for under the right to single rows, which may be narrower.</summary>
    private static PlannedQuestion BeyondFences(TilePlan plan, Scope detail, TileFilters filters, FieldAt of)
    {
        var value = plan.Planner.Group(of, detail);
        List<Output> groups = [.. plan.Tile.Groups.Select(g => plan.Planner.Group(g, detail))];
        var beyond = Bound.All([
            .. IsOfLine(groups),
            Bound.Any([Compare(Operation.Less, value.Formula, "lower fence"), Compare(Operation.Greater, value.Formula, "upper fence")]),
        ]);
        var query = new Query(detail, [.. filters.Conditions, beyond], [.. groups, value], [Output.RowCount], null, [], MostOutliers);
        return new PlannedQuestion(
            Beyond,
            "the values beyond the whiskers, of the rows that may be seen one by one",
            query with
            {
                Order = [.. Enumerable.Range(0, query.Groups.Count).Select(g => plan.Planner.Key(query, g, descending: false))],
            }
        )
        {
            After = [TilePlan.Lines],
            IsForAny = true,
            Fillings = answers => FencesOf(plan, value, answers),
        };
    }

    private static IEnumerable<Bound> IsOfLine(IReadOnlyList<Output> groups) =>
        groups.Select(
            (g, i) => (Bound)new Bound.Op(Operation.Same, ValueKind.Boolean, g.Formula, new Bound.Open(MemberName(i), g.Formula.Kind))
        );

    private static string MemberName(int group) => $"member {group + 1} of the box";

    private static Bound.Op Compare(Operation operation, Bound value, string fence) =>
        new(operation, ValueKind.Boolean, value, new Bound.Open(fence, value.Kind));

    /// <summary>The ends of each box that has one, as far as values may lie to belong to its whiskers.</summary>
    private static List<Filling> FencesOf(TilePlan plan, Output value, Answers answers)
    {
        var (table, groups) = (answers.Of(TilePlan.Lines)!.Table, plan.Shown.Groups.Count);
        List<Filling> fillings = [];
        for (var r = 0; r < table.Rows; r++)
        {
            if (table.Values[groups + 1][r] is not { } low || table.Values[groups + 2][r] is not { } high)
                continue;
            var (lower, upper) = (Convert.ToDouble(low), Convert.ToDouble(high));
            var reach = Reach * (upper - lower);
            var line = r;
            fillings.Add(
                new Filling([
                    .. Enumerable.Range(0, groups).Select(g => (MemberName(g), table.Values[g][line])),
                    ("lower fence", Typed(lower - reach, value.Formula.Kind, up: true)),
                    ("upper fence", Typed(upper + reach, value.Formula.Kind, up: false)),
                ])
            );
        }
        return fillings;
    }

    /// <summary>A fence as a value of the field's type that lets through the same values.</summary>
    private static object Typed(double fence, ValueKind kind, bool up) =>
        kind switch
        {
            ValueKind.Integer => (object)(long)(up ? Math.Ceiling(fence) : Math.Floor(fence)),
            ValueKind.Float => fence,
            _ => (decimal)fence,
        };

    private static TileAnswer Boxes(TilePlan plan, Output value, Answers answers, TileAnswer answer)
    {
        var (table, groups) = (answer.Table, plan.Shown.Groups.Count);
        LineMembers Key(Table of, int row) => new([.. Enumerable.Range(0, groups).Select(g => of.Values[g][row])]);
        var within = answers.Of(Whiskers)?.Table is { } found
            ? Enumerable.Range(0, found.Rows).ToDictionary(r => Key(found, r), r => found.Row(r).Skip(groups).ToArray())
            : [];
        List<object?[]> lines = [];
        for (var r = 0; r < table.Rows; r++)
        {
            var row = table.Row(r);
            var (median, lower, upper, count) = (row[groups], row[groups + 1], row[groups + 2], Convert.ToInt64(row[groups + 3]));
            var inside = within.GetValueOrDefault(Key(table, r));
            // Between two values a quartile may lie beyond the last one within the fences: a whisker never ends inside its box.
            double? End(int at, object? quartile, Func<double, double, double> outer) =>
                quartile is null || inside is null ? null : outer(Convert.ToDouble(inside[at]), Convert.ToDouble(quartile));
            lines.Add([
                .. row.Take(groups),
                End(0, lower, Math.Min),
                lower,
                median,
                upper,
                End(1, upper, Math.Max),
                count,
                inside is null ? 0L : count - Convert.ToInt64(inside[2]),
            ]);
        }
        Column Of(string name, string title) => new(name, title, ColumnRole.Figure, ValueKind.Float, value.Column.Format, null);
        Column Told(string name, string title) => new(name, title, ColumnRole.Tip, ValueKind.Integer, null, null);
        IReadOnlyList<Column> columns =
        [
            .. table.Columns.Take(groups),
            Of("lower_whisker", "Lower whisker"),
            Of("lower_quartile", "Lower quartile"),
            Of("median", "Median"),
            Of("upper_quartile", "Upper quartile"),
            Of("upper_whisker", "Upper whisker"),
            Told("values", "Values"),
            Told("outliers", "Outliers"),
        ];
        return answer with
        {
            Table = Table.FromRows(columns, lines),
            Outliers = Outliers(answers, groups),
            Note =
                answers.Of(Beyond) is { } beyond && beyond.Lines > beyond.Table.Rows
                    ? $"There are {beyond.Lines} different outliers, too many to show."
                    : null,
        };
    }

    private static List<Outlier> Outliers(Answers answers, int groups)
    {
        // Where there are too many, some boxes would seem to have none.
        if (answers.Of(Beyond) is not { } beyond || beyond.Lines > beyond.Table.Rows)
            return [];
        return
        [
            .. Enumerable
                .Range(0, beyond.Table.Rows)
                .Select(beyond.Table.Row)
                .Where(row => row[groups] is not null)
                .Select(row => new Outlier([.. row.Take(groups)], row[groups]!, Convert.ToInt64(row[groups + 1]))),
        ];
    }
}
