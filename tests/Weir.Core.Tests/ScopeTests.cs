using Shouldly;
using Weir.Core.Access;
using Weir.Core.Expressions;
using Weir.Testing;

namespace Weir.Core.Tests;

public class ScopeTests
{
    private const string Dataset = """
        dataset: d
        source: s
        from: t
        fields:
          port: { column: port }
          seats: { column: seats, type: integer }
          cost: { column: cost, type: decimal }
          cost_per_seat: { formula: "cost / seats" }
          dear: { formula: "cost_per_seat > 10" }
        measures:
          rows: { formula: "count(*)" }
          cost_sum: { formula: "sum(cost)" }
          dear_rows: { formula: "count(*) filter (where dear)" }
          twice: { formula: "cost_sum * 2" }
        """;

    private const string Access = """
        roles:
          all: { reads: { d: all } }
          ports: { reads: { d: { where: "port in user.ports" } } }
          not-ports: { reads: { d: { where: "not (port in user.ports)" } } }
          size: { reads: { d: { where: "seats > user.seats" } } }
          no-cost: { reads: { d: { hides: [cost] } } }
          no-seats: { reads: { d: { hides: [seats] } } }
          nothing: { reads: {} }
          detail-of-ports: { reads: { d: { where: "port in user.ports", hides: [cost], detail: true } } }
        """;

    private static readonly Core.Definitions.Workspace Workspace = Testing.Definitions.Read(Testing.Definitions.Files(Dataset, Access));

    private static Scope? For(string roles, params (string, string[])[] attributes) =>
        Scope.For(Testing.Definitions.Viewer(roles, attributes), "d", Workspace, Viewing.At(default));

    private static bool Sees(Scope scope, string? port, long seats) =>
        scope.RowRule is null || new Evaluator(DayOfWeek.Monday).Value(scope.RowRule, c => c.Name == "port" ? port : seats) is true;

    [Fact]
    public void Without_a_grant_a_dataset_does_not_exist()
    {
        For("nothing").ShouldBeNull();
        For("no-such-role").ShouldBeNull();
        Scope.For(Testing.Definitions.Viewer("all"), "no-such-dataset", Workspace, Viewing.At(default)).ShouldBeNull();
    }

    [Fact]
    public void Several_roles_join_their_rows()
    {
        var both = For("ports size", ("ports", ["SKE"]), ("seats", ["100"]))!;
        Sees(both, "SKE", 1).ShouldBeTrue();
        Sees(both, "LAN", 200).ShouldBeTrue();
        Sees(both, "LAN", 1).ShouldBeFalse();
        For("ports all", ("ports", ["SKE"]))!.RowRule.ShouldBeNull();
    }

    [Theory]
    [InlineData("ports")]
    [InlineData("not-ports")]
    [InlineData("size")]
    public void A_missing_attribute_makes_the_rule_false_even_if_it_is_negated(string role)
    {
        var scope = For(role)!;
        Sees(scope, "SKE", 1_000).ShouldBeFalse();
        Sees(scope, null, 0).ShouldBeFalse();
        scope.Restricted.ShouldBeTrue();
    }

    [Fact]
    public void A_rule_that_cannot_be_evaluated_denies()
    {
        Sees(For("size", ("seats", ["many"]))!, "SKE", 1_000).ShouldBeFalse();
        Sees(For("size", ("seats", ["1", "2"]))!, "SKE", 1_000).ShouldBeFalse();
        Sees(For("ports", ("ports", ["SKE"]))!, null, 1).ShouldBeFalse();
    }

    [Fact]
    public void A_missing_attribute_of_one_role_leaves_the_rows_of_the_other() =>
        Sees(For("ports size", ("ports", ["SKE"]))!, "SKE", 1).ShouldBeTrue();

    [Fact]
    public void What_is_built_on_a_hidden_field_is_hidden_too()
    {
        var scope = For("no-cost")!;
        scope.Fields.Keys.ShouldBe(["port", "seats"], ignoreOrder: true);
        scope.Measures.Keys.ShouldBe(["rows"]);
    }

    [Fact]
    public void Single_rows_are_those_of_the_roles_that_grant_them_whatever_the_summaries_are_over()
    {
        Scope? Detail(string roles) =>
            Scope.ForDetail(Testing.Definitions.Viewer(roles, ("ports", ["a"])), "d", Workspace, Viewing.At(default));
        Detail("all").ShouldBeNull();
        Detail("nothing").ShouldBeNull();
        For("all detail-of-ports", ("ports", ["a"]))!.RowRule.ShouldBeNull();
        For("all detail-of-ports", ("ports", ["a"]))!.GrantsDetail.ShouldBeTrue();
        For("all")!.GrantsDetail.ShouldBeFalse();
        var rows = Detail("all detail-of-ports")!;
        rows.RowRule.ShouldNotBeNull();
        rows.Fields.Keys.ShouldBe(["port", "seats"]);
    }

    [Fact]
    public void A_field_is_hidden_only_if_every_role_hides_it()
    {
        For("no-cost no-seats")!.Fields.Count.ShouldBe(5);
        For("no-cost all")!.Measures.Count.ShouldBe(4);
        For("no-cost")!.Fields.ShouldNotContainKey("dear");
    }
}
