using Shouldly;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Testing;

namespace Weir.Core.Tests;

/// <summary>Parameters and the time of viewing.</summary>
public class ViewingTests
{
    [Fact]
    public void A_period_is_read_as_the_console_reads_it()
    {
        foreach (
            var item in System
                .Text.Json.JsonDocument.Parse(File.ReadAllText(Path.Combine(Repository.Root, "tests", "period-cases.json")))
                .RootElement.EnumerateArray()
        )
        {
            var period = RelativePeriod.Parse(item.GetProperty("text").GetString()!);
            (period is not null).ShouldBe(item.GetProperty("reads").GetBoolean(), item.ToString());
            if (item.TryGetProperty("now", out var now))
                period!
                    .Span(now.GetDateTime(), Enum.Parse<DayOfWeek>(item.GetProperty("weekStarts").GetString()!, ignoreCase: true))
                    .ShouldBe((item.GetProperty("from").GetDateTime(), item.GetProperty("to").GetDateTime()), item.ToString());
        }
    }

    private static Workspace Make(string formula, string parameter) =>
        Testing.Definitions.Read(
            Testing.Definitions.Files(
                $"dataset: d\nsource: s\nfrom: t\nparameters:\n  p: {parameter}\n  q: {{ type: text, optional: true, many: true "
                    + $"}}\nfilter: \"{formula}\"\nfields:\n  kind: {{ column: kind }}\n  n: {{ column: n, type: integer }}\n  day: {{ column: "
                    + $"day, type: date }}\nmeasures:\n  rows: {{ formula: \"count(*)\" }}\n",
                "roles:\n  r: { reads: { d: all } }\n"
            )
        );

    private static readonly (string? Kind, long? N, string Day)[] Rows =
    [
        ("a", 1, "2025-03-30"),
        ("b", 5, "2025-03-31"),
        (null, null, "2025-04-01"),
        ("a", 9, "2024-02-29"),
    ];

    private static long Count(Workspace workspace, DateTime now, params (string Name, string[] Values)[] set)
    {
        var (viewing, fault) = Viewing.Read(
            now,
            set.ToDictionary(s => s.Name, s => (IReadOnlyList<string>)s.Values),
            workspace.Datasets["d"].Parameters
        );
        fault.ShouldBeNull();
        var memory = new InMemory(
            new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, object?>>>
            {
                ["t"] =
                [
                    .. Rows.Select(r => new Dictionary<string, object?>
                    {
                        ["kind"] = r.Kind,
                        ["n"] = r.N,
                        ["day"] = DateOnly.Parse(r.Day),
                    }),
                ],
            },
            DayOfWeek.Monday
        );
        // A right that was worked out at any time is the right at another, made so.
        return (long)
            memory
                .Answer(DatasetChecks.Count(Scope.For(Testing.Definitions.Viewer("r"), "d", workspace, Viewing.Whenever)!.At(viewing!), []))
                .Table.Values[0][0]!;
    }

    // Empty: nothing is restricted, however the condition is built. Set: as if the value were written there.
    [Theory]
    [InlineData("kind = param.p", 4, 2)]
    [InlineData("not kind = param.p", 4, 1)]
    [InlineData("kind = param.p and n > 2", 2, 1)]
    [InlineData("kind = param.p or n = 5", 1, 3)]
    [InlineData("kind like param.p || '%'", 4, 2)]
    [InlineData("param.p is null or kind = 'b'", 4, 1)]
    [InlineData("kind in param.q", 4, 4)]
    [InlineData("case when kind = param.p then n > 4 else true end", 2, 3)]
    public void An_empty_parameter_restricts_nothing(string formula, long empty, long set)
    {
        var workspace = Make(formula, "{ type: text, optional: true }");
        Count(workspace, default).ShouldBe(empty);
        Count(workspace, default, ("p", ["a"])).ShouldBe(set);
    }

    [Theory]
    [InlineData("today", "2025-03-31", 1)]
    [InlineData("yesterday", "2025-03-31", 1)]
    [InlineData("last 2 days", "2025-03-31", 2)]
    [InlineData("this month to date", "2025-03-31", 2)]
    [InlineData("this quarter", "2025-03-31", 2)]
    [InlineData("previous quarter", "2025-04-01", 2)]
    [InlineData("last 13 months", "2025-03-31", 2)]
    [InlineData("last 14 months", "2025-03-31", 3)]
    [InlineData("previous year", "2025-06-01", 1)]
    [InlineData("all time", "2025-06-01", 4)]
    [InlineData("last 5000 years", "2025-06-01", 4)]
    [InlineData("2024-02-29 to 2025-03-30", "2030-01-01", 2)]
    public void A_period_is_told_from_the_time_of_viewing(string period, string now, long rows) =>
        Count(Make("within(day, param.p)", "{ type: period, opening: all time }"), DateTime.Parse(now).AddHours(13), ("p", [period]))
            .ShouldBe(rows);

    [Theory]
    [InlineData("last 0 days")]
    [InlineData("last 99999 days")]
    [InlineData("next month")]
    [InlineData("2025-03-02 to 2025-03-01")]
    [InlineData("previous month to date")]
    [InlineData("")]
    public void What_is_no_period_is_refused(string text) => RelativePeriod.Parse(text).ShouldBeNull();

    [Theory]
    [InlineData("query: \"select code as value, name as title from port\"", false)]
    [InlineData("query: \"select code as value, name as title from port\", field: kind", true)]
    [InlineData("query: \"select code as value, name as title from port where code in (:user.ports)\"", true)]
    public void A_lookup_tells_a_viewer_with_a_row_rule_only_what_is_narrowed_to_them(string choices, bool tells)
    {
        var workspace = Testing.Definitions.Read(
            Testing.Definitions.Files(
                $"dataset: d\nsource: s\nfrom: t\nparameters:\n  p: {{ type: text, optional: true, choices: {{ {choices} }} }}\nfields:\n "
                    + $" kind: {{ column: kind }}\nmeasures:\n  rows: {{ formula: \"count(*)\" }}\n",
                "roles:\n  all: { reads: { d: all } }\n  some: { reads: { d: { where: \"kind in user.ports\" } } }\n"
            )
        );
        Scope Choices(string role)
        {
            var viewer = Testing.Definitions.Viewer(role, ("ports", ["a"]));
            var parameter = workspace.Datasets["d"].Parameters["p"];
            return Scope.ForChoices(
                viewer,
                Scope.For(viewer, "d", workspace, Viewing.Whenever)!,
                parameter,
                (ParameterChoices.Lookup)parameter.Choices!,
                workspace,
                Viewing.Whenever
            );
        }
        Choices("all").RowRule.ShouldBeNull();
        (Choices("some").RowRule is null).ShouldBe(tells);
    }

    [Theory]
    [InlineData("select 1 as value; drop table t")]
    [InlineData("delete from t")]
    [InlineData("select a as value from t where b = :param.q")]
    public void A_lookup_that_is_no_single_select_or_needs_a_parameter_is_refused(string query)
    {
        var (workspace, faults) = WorkspaceText.Read(
            Testing.Definitions.Files(
                $"dataset: d\nsource: s\nfrom: t\nparameters:\n  p: {{ type: text, optional: true, choices: {{ query: \"{query}\" }} }}\n "
                    + $" q: {{ type: text, optional: true }}\nfields:\n  kind: {{ column: kind }}\nmeasures:\n  rows: {{ formula: \"count(*)\" "
                    + $"}}\n",
                "roles:\n  r: { reads: { d: all } }\n"
            )
        );
        workspace.ShouldBeNull();
        faults.ShouldHaveSingleItem().Code.ShouldBeOneOf("more-than-a-select", "not-a-select", "unknown-parameter");
    }

    [Fact]
    public void A_row_rule_can_not_depend_on_what_viewers_set_themselves()
    {
        var (workspace, faults) = WorkspaceText.Read(
            Testing.Definitions.Files(
                "dataset: d\nsource: s\nfrom: t\nparameters:\n  p: { type: integer, optional: true }\nfields:\n  n: { column: n, type: "
                    + "integer }\n  big: { formula: \"n > param.p\" }\nmeasures:\n  rows: { formula: \"count(*)\" }\n",
                "roles:\n  r: { reads: { d: { where: \"big\" } } }\n"
            )
        );
        workspace.ShouldBeNull();
        faults.ShouldContain(f => f.Code == "parameter-in-rule");
    }

    [Theory]
    [InlineData("{ type: integer }", "value-needed")]
    [InlineData("{ type: integer, opening: x }", "wrong-value")]
    [InlineData("{ type: integer, opening: 9, most: 8 }", "wrong-value")]
    [InlineData("{ type: text, opening: c, choices: [a, b] }", "wrong-value")]
    [InlineData("{ type: period, opening: sometime }", "wrong-value")]
    [InlineData("{ type: text, opening: [a, b] }", "wrong-value")]
    public void A_parameter_that_can_not_open_is_told(string parameter, string code)
    {
        var (_, faults) = WorkspaceText.Read(
            Testing.Definitions.Files(
                $"dataset: d\nsource: s\nfrom: t\nparameters:\n  p: {parameter}\nfields:\n  n: {{ column: n, type: integer }}\n",
                "roles:\n  r: { reads: { d: all } }\n"
            )
        );
        faults.Select(f => f.Code).ShouldContain(code, string.Join('\n', faults));
    }
}
