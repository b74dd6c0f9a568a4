using System.Diagnostics;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Service.Asking;
using Weir.Service.SignIn;

namespace Weir.Service.Api;

/// <summary>Where the figures of a tile come from: its plan, told without asking anybody.</summary>
internal static class ExplainEndpoints
{
    public static void MapExplanations(this RouteGroupBuilder api) =>
        api.MapPost("/dashboards/{dashboard}/tiles/{tile}/explanation", Explain)
            .WithName("explainTile")
            .WithSummary("Where the figures of a tile come from: SQL, parameters, row rule, filters with their reasons.")
            .WithMetadata(new OnlyReads());

    private static async Task<Explanation> Explain(string dashboard, string tile, ExplanationRequest request, Asker asker)
    {
        var open = asker.Open(dashboard, request.Viewing);
        var found = open.Tile(tile);
        if (found.Dataset is null)
            throw new ProblemException(422, "no-figures", $"The tile {tile} shows no figures.");
        var scope = open.ScopeOf(found);
        var selections = await asker.SelectionsOf(open, request.Selections);
        var words = new FiltersInWords(open, await asker.KeptNamesOf(open, selections));
        var filters = open.Filters(found, selections);
        var plan = open.Plan(found, filters, selections);
        found = plan.Tile;
        // Single values are asked for under another right, whose rule may name other columns.
        var namesHidden = scope.RuleNamesHidden || plan.Scope.RuleNamesHidden || plan.Detail is { Scope.RuleNamesHidden: true };
        var dialect = open.Live.Dialect(scope.Source);
        // Names of tables and columns are for those who look into them; what a figure means is for everybody.
        var mayExplain = asker.Viewer.May(Acts.Explain, open.Live.Workspace);
        IReadOnlyList<SqlInfo> sql =
            namesHidden || !mayExplain
                ? []
                :
                [
                    .. plan
                        .Questions.OrderBy(plan.WaveOf)
                        .Select(q => SqlInfo.Of(dialect.Print(SelectBuilder.Build(MemberNames.WithNames(q.Query))), q.Why, plan.WaveOf(q))),
                ];
        long? rows = null;
        double? elapsed = null;
        if (request.Count)
        {
            var ask = asker.AtOnce();
            var started = Stopwatch.GetTimestamp();
            await plan.Run(ask, asker.Gone);
            elapsed = Stopwatch.GetElapsedTime(started).TotalMilliseconds;
            rows = (long)(await ask(Planner.RowCount(scope, filters), asker.Gone)).Table.Values[0][0]!;
        }
        return new Explanation(
            found.Name,
            TileTitles.Shown(found, scope),
            scope.Title,
            open.Live.Workspace.Sources[scope.Source].Title,
            [.. found.Show.Select(m => MeasureInfo.Of(scope.Measures[m]))],
            [
                .. scope.Rules.Select(r => new RuleInfo(
                    r.Role,
                    r.Text is null ? null
                        : scope.RuleNamesHidden ? "a condition on what you may not see"
                        : mayExplain ? r.Text
                        : RuleInWords.Of(r.Text, scope)
                )),
            ],
            scope.Filter is null ? null : "The dataset has a filter of its own.",
            words.Of(filters),
            sql,
            namesHidden ? "The SQL names columns that you may not see, so it is not shown."
                : mayExplain ? null
                : "The SQL is shown to those whose roles may explain.",
            [
                .. scope.Parameters.Values.Select(p => new ParameterValuesInfo(
                    p.Name,
                    p.Title,
                    [.. open.Viewing.Of(p).Select(Values.Write)]
                )),
            ],
            rows,
            namesHidden ? null : elapsed
        );
    }
}

/// <summary>A question where the figures of a tile come from.</summary>
/// <param name="Count">True to have the rows counted and the statements timed; without it nobody is asked.</param>
public sealed record ExplanationRequest(
    Dictionary<string, System.Text.Json.JsonElement>? Selections,
    ViewingRequest? Viewing = null,
    bool Count = false
);

/// <summary>A parameter of a SQL text.</summary>
/// <param name="Open">What the value is, where an earlier answer gives it; null if it is known.</param>
public sealed record ParameterInfo(string Mark, string Kind, object? Value, string? Open);

/// <summary>A SQL text with its parameters.</summary>
/// <param name="Why">What is asked with it.</param>
/// <param name="Wave">1 if it waits for no answer, 2 if it waits for such answers, and so on.</param>
public sealed record SqlInfo(string Why, int Wave, string Text, IReadOnlyList<ParameterInfo> Parameters)
{
    internal static SqlInfo Of(SqlText sql, string why, int wave) =>
        new(
            why,
            wave,
            sql.Text,
            [
                .. sql.Parameters.Select(
                    (p, i) =>
                        new ParameterInfo(
                            $"${i + 1}",
                            p.Kind.Name(),
                            JsonValues.Of(p.Value),
                            p.Open is null ? null : $"{p.Open}, from the answers before"
                        )
                ),
            ]
        );
}

/// <summary>A role's rule on the rows.</summary>
public sealed record RuleInfo(string Role, string? Rule);

/// <summary>Where the figures of a tile come from.</summary>
/// <param name="Rows">How many rows the figures are made of; null unless they were to be counted.</param>
/// <param name="Milliseconds">How long its statements took just now; kept answers take no time. Null unless they were to be timed, and
/// where they are not shown.</param>
/// <param name="Sql">The statements; none, with <paramref name="Withheld"/> saying why, if they would name what the viewer may not see.</param>
public sealed record Explanation(
    string Tile,
    string Title,
    string Dataset,
    string Source,
    IReadOnlyList<MeasureInfo> Measures,
    IReadOnlyList<RuleInfo> RowRules,
    string? DatasetFilter,
    FiltersInfo Filters,
    IReadOnlyList<SqlInfo> Sql,
    string? Withheld,
    IReadOnlyList<ParameterValuesInfo> Parameters,
    long? Rows,
    double? Milliseconds
);

/// <summary>A parameter of a tile's dataset with its values now.</summary>
public sealed record ParameterValuesInfo(string Name, string Title, IReadOnlyList<string> Values);
