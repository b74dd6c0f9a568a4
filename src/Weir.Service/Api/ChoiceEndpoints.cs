using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Results;
using Weir.Core.Sql;
using Weir.Service.Asking;

namespace Weir.Service.Api;

/// <summary>What parameters may be set to.</summary>
internal static class ChoiceEndpoints
{
    public static void MapChoices(this RouteGroupBuilder api) =>
        api.MapGet("/dashboards/{dashboard}/parameters/{parameter}/choices", Choices)
            .WithName("listChoices")
            .WithSummary("The values that a parameter may have, as far as the viewer may see them.");

    /// <summary>The values that a parameter may have, as far as the viewer may see them.</summary>
    private static async Task<IReadOnlyList<ChoiceInfo>> Choices(string dashboard, string parameter, Asker asker)
    {
        var open = asker.Open(dashboard);
        var (found, scope) = open.ParameterNamed(parameter);
        return await ChoicesOf(found, scope, asker.Viewer, open, asker.AtOnce(), asker.Gone);
    }

    /// <summary>The values that a parameter may have, as far as a viewer may see them.</summary>
    public static async Task<IReadOnlyList<ChoiceInfo>> ChoicesOf(
        Parameter parameter,
        Scope scope,
        Viewer viewer,
        OpenDashboard open,
        Ask ask,
        CancellationToken cancellation
    )
    {
        switch (parameter.Choices)
        {
            case ParameterChoices.Fixed list:
                return [.. list.Items.Select(i => new ChoiceInfo(Values.Write(i.Value), i.Title))];
            case ParameterChoices.OfField { Field: var field }:
                return await ValuesOf(field, open, scope, ask, cancellation);
            case ParameterChoices.Lookup lookup:
                var looked = Scope.ForChoices(viewer, scope, parameter, lookup, open.Live.Workspace, open.Viewing);
                var answer = await ask(DatasetChecks.Rows(looked, [], [new OrderKey(1, false)], Limit(open, scope)), cancellation);
                var all = answer
                    .Table.Values[0]
                    .Zip(answer.Table.Values[1])
                    .Where(v => v.First is not null)
                    .Select(v => new ChoiceInfo(Values.Write(v.First!), v.Second as string ?? Values.Write(v.First!)))
                    .DistinctBy(c => c.Value)
                    .ToList();
                if (lookup.Field is not { } narrowing)
                    return all;
                var seen = (await ValuesOf(narrowing, open, scope, ask, cancellation)).Select(c => c.Value).ToHashSet();
                return [.. all.Where(c => seen.Contains(c.Value))];
            default:
                return [];
        }
    }

    /// <summary>The values of a field among the rows that the viewer may see; none if the field is hidden.</summary>
    private static async Task<IReadOnlyList<ChoiceInfo>> ValuesOf(
        string field,
        OpenDashboard open,
        Scope scope,
        Ask ask,
        CancellationToken cancellation
    )
    {
        if (!scope.Fields.ContainsKey(field))
            return [];
        var group = open.Live.Planner.Group(new FieldAt(field, null), scope);
        var answer = await ask(new Query(scope, [], [group], [], null, [new OrderKey(0, false)], Limit(open, scope)), cancellation);
        return
        [
            .. answer
                .Table.Values[0]
                .OfType<object>()
                .Select(v => new ChoiceInfo(Values.Write(v), Labels.Write(v, answer.Table.Columns[0]))),
        ];
    }

    private static int Limit(OpenDashboard open, Scope scope) => open.Live.Workspace.Sources[scope.Source].Limits.Rows;
}
