using Dapper;

namespace Weir.Store;

/// <summary>What somebody wrote about a dashboard to those who look after it.</summary>
/// <param name="Tile">The tile that is meant; null for the whole.</param>
/// <param name="Link">The address of the page as its writer saw it, behind the host: a state, and no right.</param>
/// <param name="Done">When it was done; null if it is open.</param>
public sealed record Remark(
    string Id,
    string Dashboard,
    string? Tile,
    string By,
    string Text,
    string Link,
    string At,
    string? Done,
    string? DoneBy
);

/// <summary>An answer to a remark.</summary>
public sealed record RemarkAnswer(string Remark, string By, string Text, string At);

/// <summary>What viewers write about dashboards, and what is answered.</summary>
public sealed class Remarks(StoreDatabase database, TimeProvider clock)
{
    /// <summary>So many open ones somebody may have.</summary>
    public const int MostOpen = 100;

    /// <summary>So many answers one may have.</summary>
    public const int MostAnswers = 100;

    private const string Columns = "id, dashboard, tile, user_name AS \"By\", text, link, at AS \"At\", done, done_by AS DoneBy";

    /// <summary>Adds one; null if its writer has as many open ones as there may be.</summary>
    public Remark? Add(string dashboard, string? tile, string by, string text, string link)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var open = connection.ExecuteScalar<long>(
            "SELECT count(*) FROM remarks WHERE user_name = @by AND done IS NULL",
            new { by },
            transaction
        );
        if (open >= MostOpen)
            return null;
        var added = new Remark(Guid.NewGuid().ToString("N"), dashboard, tile, by, text, link, Now(), null, null);
        connection.Execute(
            "INSERT INTO remarks (id, dashboard, tile, user_name, text, link, at) VALUES (@Id, @Dashboard, @Tile, @By, @Text, @Link, @At)",
            added,
            transaction
        );
        transaction.Commit();
        return added;
    }

    /// <summary>Those of a dashboard, the newest first; each with its answers, the oldest first.</summary>
    /// <param name="by">Only those that somebody wrote; null for all.</param>
    public IReadOnlyList<(Remark Remark, IReadOnlyList<RemarkAnswer> Answers)> Of(string dashboard, string? by)
    {
        using var connection = database.Connect();
        var remarks = connection.Query<Remark>(
            $"SELECT {Columns} FROM remarks WHERE dashboard = @dashboard AND (@by IS NULL OR user_name = @by) ORDER BY at DESC, id LIMIT 500",
            new { dashboard, by }
        );
        var answers = connection
            .Query<RemarkAnswer>(
                "SELECT a.remark, a.user_name AS \"By\", a.text, a.at AS \"At\" FROM remark_answers a JOIN remarks r ON r.id = a.remark "
                    + "WHERE r.dashboard = @dashboard ORDER BY a.seq",
                new { dashboard }
            )
            .ToLookup(a => a.Remark);
        return [.. remarks.Select(r => (r, (IReadOnlyList<RemarkAnswer>)[.. answers[r.Id]]))];
    }

    /// <summary>How many are open of each dashboard that has some.</summary>
    public IReadOnlyDictionary<string, long> Open()
    {
        using var connection = database.Connect();
        return connection
            .Query<(string Dashboard, long Count)>("SELECT dashboard, count(*) FROM remarks WHERE done IS NULL GROUP BY dashboard")
            .ToDictionary(o => o.Dashboard, o => o.Count);
    }

    /// <summary>One; null if there is none.</summary>
    public Remark? Find(string id)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<Remark>($"SELECT {Columns} FROM remarks WHERE id = @id", new { id });
    }

    /// <summary>Adds an answer; false if there are as many as there may be.</summary>
    public bool Answer(string id, string by, string text)
    {
        using var connection = database.Connect();
        return connection.Execute(
                "INSERT INTO remark_answers (remark, user_name, text, at) SELECT @id, @by, @text, @at "
                    + "WHERE (SELECT count(*) FROM remark_answers WHERE remark = @id) < @most",
                new
                {
                    id,
                    by,
                    text,
                    at = Now(),
                    most = MostAnswers,
                }
            ) > 0;
    }

    /// <summary>Who wants to be told by mail of what is written about a dashboard.</summary>
    public IReadOnlyList<string> MailsTo(string dashboard)
    {
        using var connection = database.Connect();
        return
        [
            .. connection.Query<string>(
                "SELECT user_name FROM remark_mail WHERE dashboard = @dashboard ORDER BY user_name",
                new { dashboard }
            ),
        ];
    }

    /// <summary>Notes whether somebody wants that.</summary>
    public void SetMail(string dashboard, string user, bool isWanted)
    {
        using var connection = database.Connect();
        connection.Execute(
            isWanted
                ? "INSERT INTO remark_mail (user_name, dashboard) VALUES (@user, @dashboard) ON CONFLICT DO NOTHING"
                : "DELETE FROM remark_mail WHERE user_name = @user AND dashboard = @dashboard",
            new { user, dashboard }
        );
    }

    /// <summary>Says that one is done, or open again.</summary>
    public void SetDone(string id, string by, bool isDone)
    {
        using var connection = database.Connect();
        connection.Execute(
            "UPDATE remarks SET done = @done, done_by = @by WHERE id = @id",
            new
            {
                id,
                by = isDone ? by : null,
                done = isDone ? Now() : null,
            }
        );
    }

    private string Now() => StoredTimes.Write(clock.GetUtcNow());
}
