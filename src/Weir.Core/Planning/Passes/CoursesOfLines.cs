using Weir.Core.Definitions;
using Weir.Core.Results;

namespace Weir.Core.Planning.Passes;

/// <summary>The small pictures in the lines of a table: a measure of each line in each period.</summary>
internal static class CoursesOfLines
{
    public static TilePlan Apply(TilePlan plan)
    {
        if (plan.Tile.Courses.Count == 0 || plan.Shown.Groups.Count == 0)
            return plan;
        return plan
            .Tile.Courses.Select((course, i) => (course, Id: $"course {i + 1}"))
            .Aggregate(plan, (next, c) => next.Asking(Question(plan, c.course, c.Id)))
            .Then(
                "small pictures in the lines",
                (answers, answer) =>
                    answer with
                    {
                        Courses =
                        [
                            .. plan.Tile.Courses.Select((course, i) => Of(answers.Of($"course {i + 1}")!, answer.Table, plan, course)),
                        ],
                    }
            );
    }

    private static PlannedQuestion Question(TilePlan plan, SmallCourse course, string id)
    {
        var along = plan.Planner.Group(course.Along, plan.Scope);
        var query = plan.Shown with
        {
            Groups = [.. plan.Shown.Groups, along],
            Figures = [plan.Planner.Figure(plan.Scope.Measures[course.Measure])],
            Top = null,
            ByMember = null,
            Order = [],
        };
        return new PlannedQuestion(
            id,
            $"{course.Measure} along {course.Along}, for the small pictures",
            query with
            {
                Order = [.. Enumerable.Range(0, query.Groups.Count).Reverse().Select(g => plan.Planner.Key(query, g, false))],
            }
        );
    }

    /// <summary>The figures of the lines; where there are more than a tile may bring, none: those of some lines would be left out unseen.</summary>
    private static LineCourse Of(QueryAnswer answer, Table lines, TilePlan plan, SmallCourse course)
    {
        var (table, groups) = (answer.Table, plan.Shown.Groups.Count);
        var isCut = answer.Lines > table.Rows;
        List<object> periods = isCut ? [] : [.. table.Values[groups].OfType<object>().Distinct()];
        var places = periods.Select((p, i) => (p, i)).ToDictionary(x => x.p, x => x.i);
        var byLine = new Dictionary<LineMembers, object?[]>();
        for (var r = 0; r < table.Rows && !isCut; r++)
        {
            if (table.Values[groups][r] is not { } period)
                continue;
            var line = new LineMembers([.. Enumerable.Range(0, groups).Select(g => table.Values[g][r])]);
            if (!byLine.TryGetValue(line, out var figures))
                byLine[line] = figures = new object?[periods.Count];
            figures[places[period]] = table.Values[groups + 1][r];
        }
        return new LineCourse(
            course.As,
            table.Columns[groups + 1],
            table.Columns[groups],
            periods,
            [
                .. Enumerable
                    .Range(0, lines.Rows)
                    .Select(r =>
                        byLine.GetValueOrDefault(new LineMembers([.. Enumerable.Range(0, groups).Select(g => lines.Values[g][r])]))
                        ?? new object?[periods.Count]
                    ),
            ],
            isCut
        );
    }
}
