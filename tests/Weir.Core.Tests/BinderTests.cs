using Shouldly;
using Weir.Core.Expressions;

namespace Weir.Core.Tests;

public class BinderTests
{
    private static readonly Dictionary<string, Bound> Known = new()
    {
        ["route"] = new Bound.Column("t", "route", ValueKind.Text),
        ["delay"] = new Bound.Column("t", "delay", ValueKind.Integer),
        ["fares"] = new Bound.Column("t", "fares", ValueKind.Decimal),
        ["departed"] = new Bound.Column("t", "departed", ValueKind.Timestamp),
        ["late"] = new Bound.Column("t", "late", ValueKind.Boolean),
        ["income"] = new Bound.Aggregate(AggregateFunction.Sum, new Bound.Column("t", "fares", ValueKind.Decimal), null, ValueKind.Decimal),
    };

    private static (Bound? Bound, FormulaFault? Fault) Bind(string text, bool measure = false, bool rule = false) =>
        Binder.Bind(text, Known.GetValueOrDefault, Known.Keys, measure, rule);

    [Theory]
    [InlineData("delay > 10", ValueKind.Boolean)]
    [InlineData("delay + 1", ValueKind.Integer)]
    [InlineData("delay + fares", ValueKind.Decimal)]
    [InlineData("delay / 2", ValueKind.Float)]
    [InlineData("case when late then delay else fares end", ValueKind.Decimal)]
    [InlineData("coalesce(null, route)", ValueKind.Text)]
    [InlineData("departed.month", ValueKind.Date)]
    [InlineData("departed.hour", ValueKind.Timestamp)]
    [InlineData("departed.day_of_week", ValueKind.Integer)]
    [InlineData("extract(month from departed)", ValueKind.Integer)]
    [InlineData("cast(delay as text) || route", ValueKind.Text)]
    public void A_formula_of_a_row_has_the_type_that_its_parts_give(string text, ValueKind kind) => Bind(text).Bound!.Kind.ShouldBe(kind);

    [Theory]
    [InlineData("count(*)", ValueKind.Integer)]
    [InlineData("sum(delay)", ValueKind.Integer)]
    [InlineData("avg(delay)", ValueKind.Float)]
    [InlineData("income / count(*)", ValueKind.Float)]
    [InlineData("max(departed)", ValueKind.Timestamp)]
    [InlineData("count(*) filter (where late) / count(delay)", ValueKind.Float)]
    public void A_measure_has_the_type_that_its_aggregates_give(string text, ValueKind kind) =>
        Bind(text, measure: true).Bound!.Kind.ShouldBe(kind);

    [Theory]
    [InlineData("delai > 10", "unknown-field", 0, "Did you mean delay?")]
    [InlineData("1 + route", "type-mismatch", 4, null)]
    [InlineData("late and delay", "type-mismatch", 9, null)]
    [InlineData("departed.mont", "unknown-grain", 0, "Did you mean month?")]
    [InlineData("route.month", "type-mismatch", 0, null)]
    [InlineData("delay in (1, 'x')", "type-mismatch", 13, null)]
    [InlineData("route = 7", "type-mismatch", 0, "Use CAST(… AS …) on one side.")]
    [InlineData("cast(route as integer)", "type-mismatch", 0, null)]
    [InlineData("cast(delay as number)", "unknown-type", 14, null)]
    [InlineData("sum(delay)", "measure-in-row", 0, "Define it as a measure.")]
    [InlineData("income > 3", "measure-in-row", 0, null)]
    [InlineData("uper(route)", "unknown-function", 0, "Did you mean upper?")]
    [InlineData("lower(route, route)", "wrong-arguments", 0, null)]
    [InlineData("route = user.ports", "user-not-here", 8, null)]
    public void A_fault_in_a_row_formula_says_what_and_where(string text, string code, int at, string? remedy)
    {
        var fault = Bind(text).Fault!;
        fault.Code.ShouldBe(code);
        fault.Span.Start.ShouldBe(at);
        if (remedy is not null)
            fault.Remedy.ShouldBe(remedy);
    }

    [Theory]
    [InlineData("sum(delay) + delay", "row-value-in-measure")]
    [InlineData("sum(sum(delay))", "measure-in-measure")]
    [InlineData("sum(income)", "measure-in-measure")]
    [InlineData("sum(route)", "type-mismatch")]
    [InlineData("sum(*)", "wrong-arguments")]
    [InlineData("sum(distinct delay)", "wrong-arguments")]
    [InlineData("count(delay, fares)", "wrong-arguments")]
    public void A_fault_in_a_measure_says_what(string text, string code) => Bind(text, measure: true).Fault!.Code.ShouldBe(code);

    [Fact]
    public void An_attribute_of_the_viewer_takes_the_type_of_what_it_is_compared_with()
    {
        var rule = (Bound.Op)Bind("delay in user.limits", rule: true).Bound!;
        rule.Arguments[1].ShouldBe(new Bound.UserAttribute("limits", true, ValueKind.Integer));
    }
}
