using System.Text.Json;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Service.Asking;
using Weir.Service.SignIn;

namespace Weir.Service.Api;

/// <summary>The members of a control with more of them than a page is sent at first, found by a piece of text.</summary>
internal static class MemberEndpoints
{
    private const int MostFound = 200;

    private const int MostFrequent = 20;

    public static void MapMembers(this RouteGroupBuilder api)
    {
        api.MapGet("/datasets/{dataset}/fields/{field}/values", Values)
            .WithName("listValues")
            .WithSummary("What a field holds in the rows that you may see: its most frequent members, or its least and greatest value.");
        api.MapPost("/dashboards/{dashboard}/tiles/{tile}/members", Find)
            .WithName("findMembers")
            .WithSummary("The members of a control that contain a piece of text, under all that filters it; the first 200.")
            .WithMetadata(new OnlyReads());
    }

    private static async Task<ValuesAnswer> Values(string dataset, string field, Asker asker)
    {
        var live = asker.Live;
        var scope =
            Scope.For(asker.Viewer, dataset, live.Workspace, live.Opening(asker.Now)) ?? throw ProblemException.UnknownDataset(dataset);
        if (!scope.Fields.TryGetValue(field, out var found))
            throw new ProblemException(
                404,
                "unknown-field",
                $"The dataset {scope.Name} has no field {ProblemException.Short(field)}.",
                "Choose one of its fields."
            );
        var at = FieldAt.Parse(field);
        var isMember = found.HasNames || found.Kind is ValueKind.Text or ValueKind.Boolean;
        var query = isMember ? live.Planner.Frequent(at, scope, MostFrequent) : live.Planner.Ends(at, scope);
        var answer = await asker.AtOnce()(query, asker.Gone);
        return new ValuesAnswer(TableInfo.Of(answer.Table), isMember ? answer.Lines : null, scope.Restricted);
    }

    private static async Task<MembersAnswer> Find(string dashboard, string tile, MembersRequest request, Asker asker)
    {
        var open = asker.Open(dashboard, request.Viewing);
        var found = open.Tile(tile);
        if (
            found.Dataset is null
            || found.By.Count != 1
            || (
                Fields.At(found.By[0], open.ScopeOf(found))!.Kind != ValueKind.Text
                && (found.By[0].Member is not null || !open.ScopeOf(found).Fields[found.By[0].Field].HasNames)
            )
        )
            throw new ProblemException(422, "not-searchable", $"The members of {tile} can't be searched by text.");
        if (request.Search is not { Length: <= 200 } piece || piece.Contains('\0'))
            throw new ProblemException(422, "bad-selection", "A piece of text has at most 200 characters.");
        var scope = open.ScopeOf(found);
        var filters = open.Filters(found, await asker.SelectionsOf(open, request.Selections));
        var query = open.Live.Planner.Question(found, scope, filters, MostFound);
        if (piece.Length > 0)
            query = query with
            {
                Where =
                [
                    .. query.Where,
                    Conditions.Of(new Selection(tile, [], null) { Contains = piece }, found.By, scope, open.Live.Workspace.WeekStart),
                ],
            };
        var answer = await asker.AtOnce()(query, asker.Gone);
        return new MembersAnswer(
            [.. answer.Table.Values[0].Select(JsonValues.Of)],
            answer.Lines,
            TableInfo.Of(answer.Table).Columns[0].Names
        );
    }
}

/// <summary>What a field holds.</summary>
/// <param name="Table">Members and how many rows have each, the most frequent first; or one line with the least and the greatest value.</param>
/// <param name="Lines">How many members there are; null for ends.</param>
/// <param name="Restricted">True if that is of the rows that the viewer may see, and not of all.</param>
public sealed record ValuesAnswer(TableInfo Table, long? Lines, bool Restricted);

/// <summary>A question for members of a control.</summary>
/// <param name="Search">The piece of text that they contain, whatever its letters A to Z are; all if empty.</param>
public sealed record MembersRequest(Dictionary<string, JsonElement>? Selections, string Search, ViewingRequest? Viewing = null);

/// <summary>Members of a control.</summary>
/// <param name="Lines">How many contain the piece; the first of them are here.</param>
/// <param name="Names">The names of those that are codes, by their values as text.</param>
public sealed record MembersAnswer(IReadOnlyList<object?> Members, long Lines, IReadOnlyDictionary<string, string>? Names = null);
