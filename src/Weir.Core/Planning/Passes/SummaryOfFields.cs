using System.Globalization;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>
/// What fields are like, as text in cells: of numbers n, missing, mean (standard deviation with n − 1), median (quartiles), least to
/// greatest; of dates the first to the last; of others how many rows each member has, and their share of the column. All numbers are
/// asked for in one question for each column set; the deviations wait for the means, around which squares are added up without loss.
/// </summary>
internal static class SummaryOfFields
{
    private const string Numbers = "numbers";
    private const string AllNumbers = "numbers of all";
    private const string Squares = "squares";
    private const string AllSquares = "squares of all";
    private const string AllRows = "rows of all";

    /// <summary>So many members of a field are told of, the most frequent; the others together.</summary>
    private const int MostMembers = 12;

    /// <summary>More columns than this can't be read beside one another.</summary>
    private const int MostColumns = 12;

    /// <summary>How many figures a number or a date has in the question for all of them.</summary>
    private const int Figures = 7;

    public static TilePlan Apply(TilePlan plan)
    {
        if (plan.Tile.Picture.Question != QuestionShape.Summary)
            return plan;
        List<Output> fields = [.. plan.Tile.By.Select(f => plan.Planner.Group(f, plan.Scope))];
        var measured = fields.Where(IsMeasured).ToList();
        var numbers = fields.Where(IsNumber).ToList();
        plan = plan.Showing(
            plan.Shown with
            {
                Figures = [Count("rows", null)],
                Order = plan.Shown.Groups.Count == 0 ? [] : [plan.Planner.Key(plan.Shown, 0, descending: false)],
            }
        );
        var rows = plan.Shown;
        plan = plan.Asking(new PlannedQuestion(AllRows, "how many rows there are in all", Planner.Totals(rows)));
        if (measured.Count > 0)
        {
            var asked = rows with { Figures = [.. measured.SelectMany(Measures)] };
            plan = plan.Asking(new PlannedQuestion(Numbers, "figures of the numbers and dates in each column", asked))
                .Asking(new PlannedQuestion(AllNumbers, "the same of all rows", Planner.Totals(asked)));
        }
        if (numbers.Count > 0)
        {
            var asked = rows with { Figures = [.. numbers.Select((n, i) => SumOfSquares(n, i))] };
            PlannedQuestion Around(string id, string why, Query query) =>
                new(id, why, query) { After = [AllNumbers], Fillings = answers => [MeansOf(measured, numbers, answers)] };
            plan = plan.Asking(Around(Squares, "squares around the means, for the deviations", asked))
                .Asking(Around(AllSquares, "the same of all rows", Planner.Totals(asked)));
        }
        foreach (var field in fields.Where(f => !IsMeasured(f)))
        {
            var query = rows with { Groups = [field, .. rows.Groups], Order = [] };
            plan = plan.Asking(
                new PlannedQuestion(
                    MembersOf(field),
                    $"how many rows each member of {field.Column.Name} has",
                    query with
                    {
                        Order = [.. Enumerable.Range(0, query.Groups.Count).Select(g => plan.Planner.Key(query, g, descending: false))],
                    }
                )
            );
        }
        return plan.Then("what each field is like", (answers, _) => Told(fields, measured, numbers, answers));
    }

    private static string MembersOf(Output field) => $"members of {field.Column.Name}";

    private static bool IsNumber(Output field) => field.Formula.Kind.IsNumber() && field.Column.Names is null && field.NamedBy is null;

    private static bool IsMeasured(Output field) => IsNumber(field) || field.Formula.Kind.IsTemporal();

    private static Output Count(string name, Bound? of) =>
        new(
            new Bound.Aggregate(of is null ? AggregateFunction.CountRows : AggregateFunction.Count, of, null, ValueKind.Integer),
            new Column(name, name, ColumnRole.Figure, ValueKind.Integer, null, null)
        );

    private static Bound AsFloat(Bound of) => of.Kind == ValueKind.Float ? of : new Bound.Op(Operation.Cast, ValueKind.Float, of);

    /// <summary>Count, least, greatest; of numbers the mean and three quartiles too, in whose place dates have their count again.</summary>
    private static IEnumerable<Output> Measures(Output field)
    {
        var of = field.Formula;
        Output Figure(string name, AggregateFunction function, ValueKind kind, Bound argument, double part = 0) =>
            new(
                new Bound.Aggregate(function, argument, null, kind) { Fraction = part },
                new Column($"{field.Column.Name} {name}", name, ColumnRole.Figure, kind, null, null)
            );
        yield return Count($"{field.Column.Name} n", of);
        yield return Figure("least", AggregateFunction.Minimum, of.Kind, of);
        yield return Figure("greatest", AggregateFunction.Maximum, of.Kind, of);
        if (!IsNumber(field))
        {
            foreach (var i in Enumerable.Range(0, Figures - 3))
                yield return Count($"{field.Column.Name} n{i}", of);
            yield break;
        }
        yield return Figure("mean", AggregateFunction.Average, ValueKind.Float, AsFloat(of));
        foreach (var part in (double[])[0.5, 0.25, 0.75])
            yield return Figure($"p{part}", AggregateFunction.Percentile, ValueKind.Float, of, part);
    }

    private static string MeanName(int number) => $"mean of number {number + 1}";

    private static Output SumOfSquares(Output field, int number)
    {
        var away = new Bound.Op(
            Operation.Subtract,
            ValueKind.Float,
            AsFloat(field.Formula),
            new Bound.Open(MeanName(number), ValueKind.Float)
        );
        return new Output(
            new Bound.Aggregate(
                AggregateFunction.Sum,
                new Bound.Op(Operation.Multiply, ValueKind.Float, away, away),
                null,
                ValueKind.Float
            ),
            new Column($"{field.Column.Name} squares", "squares", ColumnRole.Figure, ValueKind.Float, null, null)
        );
    }

    private static Filling MeansOf(List<Output> measured, List<Output> numbers, Answers answers)
    {
        var all = answers.Of(AllNumbers)!.Table.Row(0);
        return new Filling(
            numbers.Select((n, i) => (MeanName(i), (object?)Convert.ToDouble(all[(measured.IndexOf(n) * Figures) + 3] ?? 0.0)))
        );
    }

    /// <summary>What one column of the table is worked out from.</summary>
    /// <param name="Rows">How many rows it is of.</param>
    /// <param name="Numbers">The figures of numbers and dates.</param>
    /// <param name="Squares">Sums of squares around the means of all.</param>
    /// <param name="Members">How many rows a member of a field has.</param>
    private sealed record Part(
        string Title,
        long Rows,
        IReadOnlyList<object?> Numbers,
        IReadOnlyList<object?> Squares,
        Func<Output, Dictionary<LineMembers, long>> Members
    );

    private static TileAnswer Told(List<Output> fields, List<Output> measured, List<Output> numbers, Answers answers)
    {
        var parts = PartsOf(fields, answers);
        var all = parts[^1];
        // Columns are read beside one another: of too many only what is of all is told.
        var isCut = parts.Count - 1 > MostColumns;
        if (isCut)
            parts = [all];
        List<object?[]> lines = [];
        foreach (var field in fields)
            lines.AddRange(
                IsMeasured(field)
                    ? Lines(field, measured.IndexOf(field), numbers.IndexOf(field), all, parts)
                    : Lines(field, answers.Of(MembersOf(field))!.Table.Columns[0], parts)
            );
        IReadOnlyList<Column> columns =
        [
            new("field", "Field", ColumnRole.Group, ValueKind.Text, null, null),
            new("told", "What of it", ColumnRole.Group, ValueKind.Text, null, null),
            .. parts.Select(
                (p, i) =>
                    new Column(
                        i == parts.Count - 1 ? "all" : $"column_{i + 1}",
                        $"{p.Title} ({Whole(p.Rows)})",
                        ColumnRole.Figure,
                        ValueKind.Text,
                        null,
                        null
                    )
            ),
        ];
        return TileAnswer.None with
        {
            Table = Table.FromRows(columns, all.Rows == 0 ? [] : lines),
            Lines = all.Rows == 0 ? 0 : lines.Count,
            Note = isCut ? $"More than {MostColumns} columns can't be read beside one another: all rows are told of together." : null,
        };
    }

    private static List<Part> PartsOf(List<Output> fields, Answers answers)
    {
        var table = answers.Of(TilePlan.Lines)!.Table;
        var isSplit = table.Columns[0].Role == ColumnRole.Group;
        Func<Output, Dictionary<LineMembers, long>> MembersIn(Func<Table, int, bool> isOf) =>
            field =>
            {
                var of = answers.Of(MembersOf(field))!.Table;
                return Enumerable
                    .Range(0, of.Rows)
                    .Where(r => isOf(of, r))
                    .GroupBy(r => new LineMembers([of.Values[0][r]]))
                    .ToDictionary(g => g.Key, g => g.Sum(r => Convert.ToInt64(of.Values[^1][r])));
            };
        List<Part> parts = [];
        for (var r = 0; isSplit && r < table.Rows; r++)
        {
            var member = table.Values[0][r];
            // In questions of the same columns their members stand in the same order, but not every one need be there.
            IReadOnlyList<object?> Of(string id) =>
                answers.Of(id)?.Table is { } of
                && Enumerable.Range(0, of.Rows).Where(x => Equals(of.Values[0][x], member)).ToList() is [var at]
                    ? [.. of.Row(at).Skip(1)]
                    : [];
            parts.Add(
                new Part(
                    Labels.Write(member, table.Columns[0]),
                    Convert.ToInt64(table.Values[1][r]),
                    Of(Numbers),
                    Of(Squares),
                    MembersIn((of, x) => Equals(of.Values[1][x], member))
                )
            );
        }
        parts.Add(
            new Part(
                "All",
                Convert.ToInt64(answers.Of(AllRows)!.Table.Values[0][0]),
                answers.Of(AllNumbers)?.Table.Row(0) ?? [],
                answers.Of(AllSquares)?.Table.Row(0) ?? [],
                MembersIn((_, _) => true)
            )
        );
        return parts;
    }

    private static string Whole(long count) => new Format(0, 1, "").Write(count);

    /// <summary>The lines of a number or a date.</summary>
    private static IEnumerable<object?[]> Lines(Output field, int place, int number, Part all, List<Part> parts)
    {
        object? At(Part part, int figure) => part.Numbers.ElementAtOrDefault((place * Figures) + figure);
        long N(Part part) => Convert.ToInt64(At(part, 0) ?? 0L);
        var unit = field.Column.Format?.Unit is { Length: > 0 } u ? $", {u}" : "";
        object?[] Line(string told, Func<Part, string> of) => [field.Column.Title + unit, told, .. parts.Select(of)];
        // Of instants the day is enough here.
        var plain = field.Column with
        {
            Kind = field.Formula.Kind == ValueKind.Timestamp ? ValueKind.Date : field.Formula.Kind,
            Role = ColumnRole.Figure,
            Format = field.Column.Format is { } f ? f with { Unit = "" } : null,
        };
        yield return Line("n", p => Whole(N(p)));
        if (parts.Any(p => N(p) < p.Rows))
            yield return Line("missing", p => Whole(p.Rows - N(p)));
        if (number < 0)
        {
            yield return Line(
                "first to last",
                p => N(p) == 0 ? "–" : $"{Labels.Write(At(p, 1), plain)} to {Labels.Write(At(p, 2), plain)}"
            );
            yield break;
        }
        // Means and deviations have a digit more than the values.
        var finer = plain with
        {
            Kind = ValueKind.Float,
            Format = (plain.Format ?? new Format(field.Formula.Kind == ValueKind.Integer ? 0 : 2, 1, "")),
        };
        finer = finer with { Format = finer.Format! with { Decimals = finer.Format!.Decimals + 1 } };
        double? Deviation(Part part)
        {
            var n = N(part);
            if (n < 2 || part.Squares.ElementAtOrDefault(number) is not { } squares)
                return null;
            var off = Convert.ToDouble(At(part, 3)) - Convert.ToDouble(At(all, 3));
            return Math.Sqrt(Math.Max(0, Convert.ToDouble(squares) - (n * off * off)) / (n - 1));
        }
        yield return Line("mean (sd)", p => N(p) == 0 ? "–" : $"{Labels.Write(At(p, 3), finer)} ({Labels.Write(Deviation(p), finer)})");
        yield return Line(
            "median (quartiles)",
            p => N(p) == 0 ? "–" : $"{Labels.Write(At(p, 4), plain)} ({Labels.Write(At(p, 5), plain)} to {Labels.Write(At(p, 6), plain)})"
        );
        yield return Line(
            "least to greatest",
            p => N(p) == 0 ? "–" : $"{Labels.Write(At(p, 1), plain)} to {Labels.Write(At(p, 2), plain)}"
        );
    }

    /// <summary>A line for each member of a field, the most frequent where there are many.</summary>
    private static IEnumerable<object?[]> Lines(Output field, Column members, List<Part> parts)
    {
        var counts = parts.Select(p => p.Members(field)).ToList();
        var known = counts[^1].Keys.ToList();
        var shown = known.Count <= MostMembers + 1 ? known : [.. known.OrderByDescending(m => counts[^1][m]).Take(MostMembers)];
        string Told(Part part, long count) =>
            part.Rows == 0 ? "–" : $"{Whole(count)} ({(100.0 * count / part.Rows).ToString("0.0", CultureInfo.InvariantCulture)} %)";
        foreach (var member in shown)
            yield return
            [
                field.Column.Title,
                Labels.Write(member.Values[0], members),
                .. parts.Select((p, i) => Told(p, counts[i].GetValueOrDefault(member))),
            ];
        if (shown.Count < known.Count)
            yield return
            [
                field.Column.Title,
                $"{known.Count - shown.Count} others",
                .. parts.Select((p, i) => Told(p, counts[i].Where(c => !shown.Contains(c.Key)).Sum(c => c.Value))),
            ];
    }
}
