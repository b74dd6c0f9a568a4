using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>
/// Curves of how thick values lie. The database counts values in many equal steps between the least and the greatest of all rows that
/// the viewer may see; the kernel goes over these counts, so that rows never leave it. The kernel is Gaussian; its bandwidth is
/// 0.9 · min(standard deviation, distance of the quartiles / 1.34) · n^(−1/5) (Silverman 1986, 3.31), at least one step.
/// Each point tells its standard error: a point is a mean of n kernel values k, so that it is √((mean of k² − (mean of k)²) / n).
/// </summary>
internal static class CurvesOfValues
{
    private const string Ends = "ends";

    /// <summary>How many steps values are counted in. From each its count and its mean are taken, so that the error of the curve is about a hundredth of its height at a bandwidth of two steps, and falls with its square.</summary>
    internal const int Steps = 512;

    /// <summary>More curves than this can't be told apart.</summary>
    private const int MostCurves = 19;

    /// <summary>About how many points a curve has.</summary>
    private const int Points = 160;

    /// <summary>How far curves reach beyond the values, as a part of these.</summary>
    private const double Beyond = 0.1;

    public static TilePlan Apply(TilePlan plan)
    {
        if (plan.Tile.Picture.Question != QuestionShape.Curves)
            return plan;
        var value = plan.Shown.Groups[0];
        Bound AsFloat(Bound of) => of.Kind == ValueKind.Float ? of : new Bound.Op(Operation.Cast, ValueKind.Float, of);
        var step = new Bound.Op(
            Operation.Floor,
            ValueKind.Integer,
            new Bound.Op(
                Operation.Divide,
                ValueKind.Float,
                new Bound.Op(Operation.Subtract, ValueKind.Float, AsFloat(value.Formula), new Bound.Open("least value", ValueKind.Float)),
                new Bound.Open("width of a step", ValueKind.Float)
            )
        );
        var known = new Bound.Op(Operation.Not, ValueKind.Boolean, new Bound.Op(Operation.IsNull, ValueKind.Boolean, value.Formula));
        var count = Output.RowCount;
        var mean = new Output(
            new Bound.Aggregate(AggregateFunction.Average, AsFloat(value.Formula), null, ValueKind.Float),
            new Column("mean", "Mean", ColumnRole.Figure, ValueKind.Float, null, null)
        );
        plan = plan.Asking(
            new PlannedQuestion(Ends, "the least and the greatest value, for the ends of the steps", PictureQuestion.EndsOf(plan, value))
        );
        plan = plan.Showing(
            plan.Shown with
            {
                Where = [.. plan.Shown.Where, known],
                Groups = [value with { Formula = step }, .. plan.Shown.Groups.Skip(1)],
                Figures = [count, mean],
                Limit = Math.Min(plan.Limit, Steps * MostCurves),
            }
        );
        plan = plan.Asking(
            plan.Questions.Single(q => q.Id == TilePlan.Lines) with
            {
                Why = "how many values lie in each of many small steps",
                After = [Ends],
                Fillings = answers =>
                    SpanOf(answers) is { } span ? [new Filling([("least value", span.Least), ("width of a step", span.Step)])] : [],
            }
        );
        return plan.Then(
            "curves over the steps",
            (answers, answer) =>
                answer with
                {
                    Table = Curves(plan, value, SpanOf(answers), answers.Of(TilePlan.Lines)),
                    Lines = 0,
                    Note =
                        answers.Of(TilePlan.Lines) is { } counts && counts.Lines > counts.Table.Rows
                            ? $"More than {MostCurves} curves can't be told apart, and a tile brings {plan.Shown.Limit} counts at most: split by another field, or pick some of its members."
                            : null,
                }
        );
    }

    private sealed record Span(double Least, double Greatest, double Step);

    private static Span? SpanOf(Answers answers)
    {
        var ends = answers.Of(Ends)!.Table;
        if (ends.Values[0][0] is not { } first || ends.Values[1][0] is not { } last)
            return null;
        var (least, greatest) = (Convert.ToDouble(first), Convert.ToDouble(last));
        // Along what has no end nothing can be drawn.
        if (!double.IsFinite(least) || !double.IsFinite(greatest))
            return null;
        // A little wider, so that the greatest value falls into the last step; of one value alone a step is what can be told of it.
        var range = Math.Max(greatest - least, Math.Max(Math.Abs(least), 1) * 1e-9);
        return new Span(least, greatest, range * (1 + 1e-9) / Steps);
    }

    private static Table Curves(TilePlan plan, Output value, Span? span, QueryAnswer? answer)
    {
        var isCounts = plan.Tile.Options.GetValueOrDefault(DrawHeights) == "counts";
        var format = value.Column.Format;
        IReadOnlyList<Column> columns =
        [
            value.Column with
            {
                Kind = value.Formula.Kind,
            },
            .. plan.Shown.Groups.Skip(1).Select(g => g.Column),
            new("density", isCounts ? "Values per unit" : "Density", ColumnRole.Figure, ValueKind.Float, null, null),
            new("bandwidth", "Bandwidth", ColumnRole.Tip, ValueKind.Float, format is null ? null : format with { Decimals = 2 }, null),
            new("values", "Values", ColumnRole.Tip, ValueKind.Integer, null, null),
            new("error", "Standard error", ColumnRole.Tip, ValueKind.Float, null, null),
        ];
        // Where there are more curves than can be brought, some would be drawn without all of their values.
        if (span is null || answer is null || answer.Lines > answer.Table.Rows)
            return Table.FromRows(columns, []);
        var table = answer.Table;
        var hasSplit = plan.Shown.Groups.Count > 1;
        var at = PlacesAlong(span, value.Formula.Kind);
        List<object?[]> lines = [];
        foreach (var rows in Enumerable.Range(0, table.Rows).GroupBy(r => hasSplit ? new LineMembers([table.Values[1][r]]) : null))
        {
            var (counts, means) = (new double[Steps], new double[Steps]);
            foreach (var r in rows)
            {
                var step = Math.Clamp((int)Convert.ToInt64(table.Values[0][r]), 0, Steps - 1);
                var (more, mean) = (Convert.ToDouble(table.Values[^2][r]), Convert.ToDouble(table.Values[^1][r]));
                means[step] = ((means[step] * counts[step]) + (mean * more)) / (counts[step] + more);
                counts[step] += more;
            }
            var (n, bandwidth) = (counts.Sum(), Bandwidth(counts, means, span));
            foreach (var place in at)
            {
                var (mean, error) = Height(counts, means, span, bandwidth, Convert.ToDouble(place));
                var scale = isCounts ? n : 1;
                lines.Add([place, .. hasSplit ? rows.Key!.Values : [], mean * scale, bandwidth, (long)n, error * scale]);
            }
        }
        return Table.FromRows(columns, lines);
    }

    private const string DrawHeights = "heights";

    /// <summary>Where the points of all curves are: the same for all, and of whole numbers whole.</summary>
    private static List<object> PlacesAlong(Span span, ValueKind kind)
    {
        var beyond = (span.Step * Steps * Beyond) + span.Step;
        var (from, to) = (span.Least - beyond, span.Greatest + beyond);
        if (kind == ValueKind.Integer)
        {
            var first = (long)Math.Floor(from);
            var step = Math.Max(1, (long)Math.Ceiling((to - first) / Points));
            return [.. Enumerable.Range(0, (int)Math.Ceiling((to - first) / step) + 1).Select(i => (object)(first + (i * step)))];
        }
        object Typed(double at) => kind == ValueKind.Decimal ? (decimal)at : at;
        return [.. Enumerable.Range(0, Points + 1).Select(i => Typed(from + ((to - from) * i / Points)))];
    }

    /// <summary>See the class for the formula.</summary>
    private static double Bandwidth(double[] counts, double[] means, Span span)
    {
        var n = counts.Sum();
        var mean = counts.Select((c, i) => c * means[i]).Sum() / n;
        var deviation = Math.Sqrt(counts.Select((c, i) => c * Math.Pow(means[i] - mean, 2)).Sum() / Math.Max(1, n - 1));
        double Quantile(double part)
        {
            var (sum, i) = (0.0, 0);
            while (i < Steps - 1 && (sum += counts[i]) < part * n)
                i++;
            return means[i];
        }
        var quartiles = (Quantile(0.75) - Quantile(0.25)) / 1.34;
        var spread = quartiles > 0 ? Math.Min(deviation, quartiles) : deviation;
        return Math.Max(0.9 * spread * Math.Pow(n, -0.2), span.Step);
    }

    /// <summary>How thick values lie at a place: the mean of a Gaussian over each, with its standard error, in shares of the values per unit.</summary>
    private static (double Mean, double Error) Height(double[] counts, double[] means, Span span, double bandwidth, double place)
    {
        // Beyond five bandwidths a Gaussian is less than a hundred-thousandth of its height.
        var first = Math.Clamp((int)Math.Floor((place - (5 * bandwidth) - span.Least) / span.Step), 0, Steps);
        var last = Math.Clamp((int)Math.Ceiling((place + (5 * bandwidth) - span.Least) / span.Step), 0, Steps);
        var (sum, squares, n) = (0.0, 0.0, counts.Sum());
        for (var i = first; i < last; i++)
        {
            if (counts[i] == 0)
                continue;
            var kernel = Math.Exp(-0.5 * Math.Pow((place - means[i]) / bandwidth, 2)) / (bandwidth * Math.Sqrt(2 * Math.PI));
            sum += counts[i] * kernel;
            squares += counts[i] * kernel * kernel;
        }
        var mean = sum / n;
        return (mean, Math.Sqrt(Math.Max(0, (squares / n) - (mean * mean)) / n));
    }
}
