using Weir.Core.Access;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>A number that shows the newest period and its change on the one before, in place of a figure over all rows.</summary>
internal static class ChangeOnPeriod
{
    private const int CourseLength = 13;

    /// <summary>So many periods are looked back over for the newest at hand.</summary>
    private const int MostPeriods = 400;

    public static TilePlan Apply(TilePlan plan)
    {
        if (plan.Tile.Change is not { } on)
            return plan;
        var (scope, filters) = (plan.Scope, plan.Filters);
        var grain = (Bound.Grain)Fields.At(on, scope)!;
        // Selections of periods say which period is shown; the others say which rows count.
        var spans = filters.Applied.Where(f => Periods.AreOf(grain, f, scope)).ToList();
        List<Bound> where = [.. filters.Path, .. filters.Applied.Except(spans).Select(f => f.Condition)];
        Spans? Read(Answers answers) => Spans.Of(answers.Of("course")!.Table, spans, grain, plan);

        PlannedQuestion Over(string id, string why, Func<Spans, (DateTime From, DateTime Until)?> span) =>
            new(id, why, plan.Shown with { Where = [.. where, PeriodBounds.Open(grain)], Limit = 1 })
            {
                After = ["course"],
                // A whole period stands in the course already.
                Fillings = answers =>
                    Read(answers) is { IsPartial: true } read && span(read) is { } s ? [PeriodBounds.Of(grain, s.From, s.Until)] : [],
            };
        return (plan with { Questions = [] })
            .Asking(
                new PlannedQuestion(
                    "course",
                    "the measure in each period, and the newest data",
                    plan.Planner.Course(plan.Tile, scope, where, MostPeriods)
                )
            )
            .Asking(Over("part", "the newest period, which is not whole", s => (s.From, s.Until)))
            .Asking(Over("part before", "the same span of the period before", s => s.Before))
            .Then(
                "the newest period and its change on the one before",
                (answers, _) =>
                {
                    var change = Read(answers) is { } read ? Change(read, answers, grain, plan) : null;
                    return TileAnswer.None with
                    {
                        Table = Table.FromRows(
                            plan.Shown.Columns,
                            [
                                [change?.Value],
                            ]
                        ),
                        Lines = 1,
                        Change = change,
                    };
                }
            );
    }

    private static PeriodChange Change(Spans read, Answers answers, Bound.Grain grain, TilePlan plan)
    {
        object? Part(string id) => answers.Of(id)?.Table.Values[0][0];
        var (value, before) = read.IsPartial ? (Part("part"), Part("part before")) : (read.Course[^1], read.Course[^2]);
        double? relative =
            value is null || before is null || Convert.ToDouble(before) == 0
                ? null
                : (Convert.ToDouble(value) / Convert.ToDouble(before)) - 1;
        object Shown(DateTime at) => grain.Kind == ValueKind.Date ? DateOnly.FromDateTime(at) : at;
        return new PeriodChange(
            plan.Planner.Group(plan.Tile.Change!, plan.Scope).Column,
            Shown(read.Start),
            read.From,
            read.Until,
            read.IsPartial,
            value,
            before,
            Shown(read.Earlier),
            relative,
            read.Course
        );
    }

    /// <summary>What the course tells: the newest period that is picked and has data, the span of it that is reached, and the one before.</summary>
    private sealed record Spans(
        DateTime Start,
        DateTime From,
        DateTime Until,
        bool IsPartial,
        DateTime Earlier,
        IReadOnlyList<object?> Course
    )
    {
        /// <summary>The same span of the period before; null if that period is too short to have it.</summary>
        public (DateTime From, DateTime Until)? Before =>
            (Earlier + (From - Start), Periods.Min(Earlier + (Until - Start), Start)) is var span && span.Item1 < span.Item2 ? span : null;

        public static Spans? Of(Table all, List<AppliedFilter> spans, Bound.Grain grain, TilePlan plan)
        {
            if (all.Rows == 0)
                return null;
            var unit = grain.Of == DateGrain.Hour ? DateGrain.Hour : DateGrain.Day;
            var dataEnd = Calendar.Add(Calendar.Floor(Periods.Instant(all.Values[2][0]!), unit, plan.WeekStart), unit, 1);
            var chosen = spans.Count == 0 ? (From: DateTime.MinValue, To: dataEnd) : Newest(spans, plan, dataEnd);
            if (chosen.From >= chosen.To)
                return null;
            var start = Calendar.Floor(chosen.To.AddTicks(-1), grain.Of, plan.WeekStart);
            var end = Calendar.Add(start, grain.Of, 1);
            var from = Periods.Max(start, chosen.From);
            var until = chosen.To < end ? chosen.To : end;
            return new Spans(
                start,
                from,
                until,
                from != start || until != end,
                Calendar.Add(start, grain.Of, -1),
                UpTo(all, start, grain.Of)
            );
        }

        /// <summary>The newest span that all period selections leave, up to the end of the data.</summary>
        private static (DateTime From, DateTime To) Newest(List<AppliedFilter> spans, TilePlan plan, DateTime dataEnd)
        {
            var result = (From: DateTime.MinValue, To: dataEnd);
            foreach (var span in spans)
            {
                var periods = Periods
                    .Picked(span, plan.Scope, plan.WeekStart)
                    .Where(s => s.From < result.To && s.To > result.From)
                    .ToList();
                if (periods.Count == 0)
                    return (dataEnd, dataEnd);
                // Neighbouring periods make one span.
                var newest = periods.MaxBy(p => p.To);
                while (periods.FirstOrDefault(p => p.To == newest.From) is { From.Ticks: > 0 } before)
                    newest.From = before.From;
                result = (Periods.Max(result.From, newest.From), Periods.Min(result.To, newest.To));
            }
            return result;
        }

        private static List<object?> UpTo(Table table, DateTime newest, DateGrain grain)
        {
            var values = Enumerable.Range(0, table.Rows).ToDictionary(r => Periods.Instant(table.Values[0][r]!), r => table.Values[1][r]);
            return
            [
                .. Enumerable.Range(-CourseLength + 1, CourseLength).Select(i => values.GetValueOrDefault(Calendar.Add(newest, grain, i))),
            ];
        }
    }
}

/// <summary>The condition that a date lies in a span which an answer tells.</summary>
internal static class PeriodBounds
{
    /// <summary>What the first instant is called in an explanation.</summary>
    public const string From = "start of the span";

    /// <summary>What the instant after the last is called.</summary>
    public const string Until = "end of the span";

    /// <summary>From an instant, included, to another, excluded, both open.</summary>
    public static Bound Open(Bound.Grain grain) =>
        Bound.Between(grain.Argument, new Bound.Open(From, grain.Argument.Kind), new Bound.Open(Until, grain.Argument.Kind));

    /// <summary>The span to put in.</summary>
    public static Filling Of(Bound.Grain grain, DateTime from, DateTime until) =>
        new() { [From] = Bound.Instant(grain.Argument.Kind, from), [Until] = Bound.Instant(grain.Argument.Kind, until) };
}
