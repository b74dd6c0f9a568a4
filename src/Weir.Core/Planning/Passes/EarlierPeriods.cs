using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>
/// The figures of the periods that those shown are compared with: the ones before, or the same a year before. They may lie outside the
/// picked periods, which say what is shown and not what is compared. A period that is not whole is compared with the same span.
/// </summary>
internal sealed class EarlierPeriods
{
    private const int MostLines = 1_000_000;

    private readonly TilePlan _plan;
    private readonly Bound.Grain _grain;
    private readonly string _id;

    private EarlierPeriods(TilePlan plan, Bound.Over over, Bound.Grain grain, int number)
    {
        _plan = plan;
        _grain = grain;
        _id = $"earlier {number}";
        Over = over;
        var (query, scope) = (plan.Shown, plan.Scope);
        var spans = plan.Filters.Applied.Where(f => Periods.AreOf(grain, f, scope)).Select(f => f.Condition).ToHashSet();
        List<Bound> where = [.. query.Where.Where(w => !spans.Contains(w)), PeriodBounds.Open(grain)];
        var asked = query with
        {
            Where = where,
            Figures = [new Output(over.Inner, new Column("p1", "", ColumnRole.Figure, over.Inner.Kind, null, null))],
            Order = [],
            ByMember = null,
            Limit = MostLines,
        };
        var periods = WholePeriods.Of(query);
        Questions =
        [
            new PlannedQuestion(_id, "the earlier periods", asked)
            {
                After = [TilePlan.Lines],
                Fillings = answers => Shown(answers) is { Count: > 0 } shown ? [Reach(shown)] : [],
            },
            .. periods is null || periods.ArePairs
                ? Array.Empty<PlannedQuestion>()
                :
                [
                    new PlannedQuestion(
                        $"{_id} in part",
                        "for each period that is not whole: the same span of the earlier one",
                        asked with
                        {
                            Groups = [.. query.Groups.Skip(1)],
                        }
                    )
                    {
                        After = [TilePlan.Lines, TilePlan.Bounds],
                        Fillings = answers =>
                            [
                                .. Cut(answers)
                                    .Where(c => c.From < c.Until)
                                    .Select(c => new Filling(PeriodBounds.Of(grain, c.From, c.Until)) { ["period"] = c.Period }),
                            ],
                    },
                ],
        ];
    }

    /// <summary>What compares.</summary>
    public Bound.Over Over { get; }

    public IReadOnlyList<PlannedQuestion> Questions { get; }

    /// <summary>The comparison of a tile whose lines are periods; null for another, whose figures stay empty.</summary>
    public static EarlierPeriods? Of(TilePlan plan, Bound.Over over, int number) =>
        plan.Shown.Groups is [{ Formula: Bound.Grain grain }, ..] && plan.Shown.Top is null
            ? new EarlierPeriods(plan, over, grain, number)
            : null;

    private static List<object> Shown(Answers answers) => [.. answers.Of(TilePlan.Lines)!.Table.Values[0].OfType<object>().Distinct()];

    private DateTime Earlier(DateTime period) =>
        period.Year < 2 ? period // before the first year there is none
        : Over.Option == "year"
            // The same week of the year before is 52 weeks away, so that it begins on the same day.
            ? _grain.Of == DateGrain.Week ? period.AddDays(-364)
                : period.AddYears(-1)
        : Calendar.Add(period, _grain.Of, -1);

    private Filling Reach(List<object> shown)
    {
        var starts = shown.Select(p => Earlier(Periods.Instant(p))).ToList();
        return PeriodBounds.Of(_grain, starts.Min(), Calendar.Add(starts.Max(), _grain.Of, 1));
    }

    /// <summary>The shown periods that are not whole, each with the same span of the earlier one; empty where that is too short to have it.</summary>
    private IEnumerable<(object Period, DateTime From, DateTime Until)> Cut(Answers answers)
    {
        if (WholePeriods.Reach(_plan, answers) is not { } reach)
            yield break;
        foreach (var period in Shown(answers))
            if (WholePeriods.PartOf(Periods.Instant(period), _grain.Of, reach) is { } span)
            {
                var (start, earlier) = (Periods.Instant(period), Earlier(Periods.Instant(period)));
                yield return (
                    period,
                    earlier + (span.From - start),
                    Periods.Min(earlier + (span.To - start), Calendar.Add(earlier, _grain.Of, 1))
                );
            }
    }

    /// <summary>The earlier figure of each line that is shown.</summary>
    public object?[] Figures(Answers answers)
    {
        var table = answers.Of(TilePlan.Lines)!.Table;
        var result = new object?[table.Rows];
        if (answers.Of(_id) is not { } before)
            return result;
        var known = Lookup(before.Table);
        var parts = Cut(answers).ToDictionary(c => c.Period, _ => new Dictionary<LineMembers, object?>());
        foreach (var (filling, answer) in answers.Every($"{_id} in part"))
            parts[filling["period"]!] = Lookup(answer.Table);
        for (var r = 0; r < table.Rows; r++)
        {
            if (table.Values[0][r] is not { } period)
                continue;
            object?[] others = [.. Enumerable.Range(1, _plan.Shown.Groups.Count - 1).Select(g => table.Values[g][r])];
            var earlier = Earlier(Periods.Instant(period));
            result[r] = parts.TryGetValue(period, out var some)
                ? some.GetValueOrDefault(new LineMembers(others))
                : known.GetValueOrDefault(
                    new LineMembers([_grain.Kind == ValueKind.Date ? DateOnly.FromDateTime(earlier) : earlier, .. others])
                );
        }
        return result;
    }

    private static Dictionary<LineMembers, object?> Lookup(Table table) =>
        Enumerable
            .Range(0, table.Rows)
            .ToDictionary(
                r => new LineMembers([.. Enumerable.Range(0, table.Columns.Count - 1).Select(g => table.Values[g][r])]),
                r => table.Values[^1][r]
            );
}
