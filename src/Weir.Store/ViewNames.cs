using System.Text.Json;
using Dapper;
using Microsoft.Data.Sqlite;
using Weir.Core.Views;

namespace Weir.Store;

/// <summary>What the views of all viewers name otherwise from a version on.</summary>
/// <param name="From">The dashboard that has another name; null if none has.</param>
/// <param name="To">Its new name.</param>
/// <param name="Edits">The edits of one view of a dashboard, by its old name, as they mean the same then; one for one.</param>
public sealed record RenamedInViews(string? From, string? To, Func<string, IReadOnlyList<ViewEdit>, IReadOnlyList<ViewEdit>> Edits);

/// <summary>Names in the views of all viewers.</summary>
public sealed class ViewNames(StoreDatabase database)
{
    private static JsonSerializerOptions Json => ViewEditJson.Stored;

    private static readonly string[] Tables = ["view_edits", "view_requests", "view_shares", "named_views"];

    private sealed record EditRow(long Seq, string Edit, string UserName, string Dashboard, string View);

    private sealed record ShareRow(string Id, string Dashboard, string Edits);

    /// <summary>In how many views something would be named otherwise.</summary>
    public int Count(RenamedInViews views)
    {
        using var connection = database.Connect();
        return Differing(connection, null, views).Count(v => v.Others.Count > 0 || v.Dashboard == views.From);
    }

    /// <summary>The views, each with the edits that mean the same by another text.</summary>
    private static IEnumerable<(string Dashboard, IReadOnlyList<(long Seq, string Edit)> Others)> Differing(
        SqliteConnection connection,
        SqliteTransaction? transaction,
        RenamedInViews views
    ) =>
        connection
            .Query<EditRow>(
                "SELECT seq, edit, user_name AS UserName, dashboard, view FROM view_edits ORDER BY user_name, dashboard, view, seq",
                transaction: transaction
            )
            .GroupBy(r => (r.UserName, r.Dashboard, r.View))
            .Select(view =>
            {
                var edits = view.Select(r => JsonSerializer.Deserialize<ViewEdit>(r.Edit, Json)!).ToList();
                return (
                    view.Key.Dashboard,
                    (IReadOnlyList<(long, string)>)
                        [
                            .. view.Zip(edits, views.Edits(view.Key.Dashboard, edits))
                                .Select(e => (e.First.Seq, Before: Text(e.Second), After: Text(e.Third)))
                                .Where(e => e.Before != e.After)
                                .Select(e => (e.Seq, e.After)),
                        ]
                );
            });

    /// <summary>True if viewers have views of a dashboard, whether it is published or was once.</summary>
    public bool HasViews(string dashboard)
    {
        using var connection = database.Connect();
        return Tables.Any(t =>
            connection.ExecuteScalar<long>($"SELECT EXISTS (SELECT 1 FROM {t} WHERE dashboard = @dashboard)", new { dashboard }) > 0
        );
    }

    /// <summary>Names it otherwise in all views, what was taken back and what is shared as a copy too.</summary>
    /// <param name="version">The version from which on it is so.</param>
    internal static void Rename(SqliteConnection connection, SqliteTransaction transaction, RenamedInViews views, long version)
    {
        foreach (var (seq, edit) in Differing(connection, transaction, views).SelectMany(v => v.Others).ToList())
            connection.Execute("UPDATE view_edits SET edit = @edit WHERE seq = @seq", new { seq, edit }, transaction);
        foreach (
            var share in connection
                .Query<ShareRow>("SELECT id, dashboard, edits FROM view_shares WHERE edits IS NOT NULL", transaction: transaction)
                .ToList()
        )
        {
            var edits = views.Edits(share.Dashboard, JsonSerializer.Deserialize<List<ViewEdit>>(share.Edits, Json)!);
            connection.Execute(
                "UPDATE view_shares SET edits = @edits WHERE id = @id",
                new { share.Id, edits = JsonSerializer.Serialize(edits, Json) },
                transaction
            );
        }
        if (views.From is not null)
            foreach (var table in Tables)
                connection.Execute(
                    $"UPDATE {table} SET dashboard = @To WHERE dashboard = @From",
                    new { views.From, views.To },
                    transaction
                );
        // Who was up to date with the version before still is: nothing was changed under them.
        connection.Execute(
            "UPDATE view_edits SET version = @version WHERE version = @before",
            new { version, before = version - 1 },
            transaction
        );
    }

    private static string Text(ViewEdit edit) => JsonSerializer.Serialize(edit, Json);
}
