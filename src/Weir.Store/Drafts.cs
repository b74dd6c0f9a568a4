using Dapper;

namespace Weir.Store;

/// <summary>A file of definitions that somebody is working on; seen by nobody else until it is published.</summary>
/// <param name="Path">The path of the file in the workspace.</param>
/// <param name="Base">The published version that it was begun from.</param>
/// <param name="Step">The step at which it is, from 1.</param>
/// <param name="Changed">When it was last changed, in UTC.</param>
public sealed record Draft(string Path, long Base, long Step, string Text, bool CanUndo, bool CanRedo, string Changed);

/// <summary>A draft was changed in another window since it was read.</summary>
/// <param name="step">The step at which it is now.</param>
public sealed class DraftMovedException(long step) : Exception("The draft was changed in another window.")
{
    /// <summary>The step at which it is now; 0 if it is gone.</summary>
    public long Step { get; } = step;
}

/// <summary>Drafts of definition files, each with the steps that led to it: what is saved is on the disk when it is acknowledged.</summary>
public sealed class Drafts(StoreDatabase database, TimeProvider clock)
{
    /// <summary>So many steps of a draft are kept; the oldest go.</summary>
    public const int MostSteps = 300;

    /// <summary>So many drafts somebody may have.</summary>
    public const int MostDrafts = 50;

    /// <summary>With properties: of an answer without rows SQLite does not say what min and max are.</summary>
    private sealed record Row
    {
        public required string Path { get; init; }
        public long Base { get; init; }
        public long Step { get; init; }
        public required string Text { get; init; }
        public long Least { get; init; }
        public long Most { get; init; }
        public required string Changed { get; init; }
    }

    private const string Select = """
        SELECT d.path AS Path, COALESCE(s.base, d.base) AS Base, d.step AS Step, s.text AS Text,
               (SELECT min(step) FROM draft_steps o WHERE o.user_name = d.user_name AND o.path = d.path) AS Least,
               (SELECT max(step) FROM draft_steps o WHERE o.user_name = d.user_name AND o.path = d.path) AS Most,
               d.changed AS Changed
        FROM drafts d JOIN draft_steps s ON s.user_name = d.user_name AND s.path = d.path AND s.step = d.step
        WHERE d.user_name = @user
        """;

    /// <summary>A draft; null if there is none.</summary>
    public Draft? Get(string user, string path)
    {
        using var connection = database.Connect();
        return Get(user, path, connection, null);
    }

    /// <summary>True if anybody works on a file.</summary>
    public bool IsWorkedOn(string path)
    {
        using var connection = database.Connect();
        return connection.ExecuteScalar<long>("SELECT EXISTS (SELECT 1 FROM drafts WHERE path = @path)", new { path }) > 0;
    }

    /// <summary>All people's drafts of files whose path begins so.</summary>
    public IReadOnlyList<(string User, Draft Draft)> Beginning(string prefix)
    {
        using var connection = database.Connect();
        var users = connection.Query<(string User, string Path)>(
            "SELECT user_name, path FROM drafts WHERE substr(path, 1, length(@prefix)) = @prefix ORDER BY user_name, path",
            new { prefix }
        );
        return
        [
            .. users
                .Select(u => (u.User, Get(u.User, u.Path, connection, null)))
                .Where(d => d.Item2 is not null)
                .Select(d => (d.User, d.Item2!)),
        ];
    }

    /// <summary>All drafts of somebody, by path.</summary>
    public IReadOnlyList<Draft> Of(string user)
    {
        using var connection = database.Connect();
        return [.. connection.Query<Row>($"{Select} ORDER BY d.path", new { user }).Select(ToDraft)];
    }

    private static Draft? Get(
        string user,
        string path,
        Microsoft.Data.Sqlite.SqliteConnection connection,
        Microsoft.Data.Sqlite.SqliteTransaction? transaction
    ) =>
        connection.QueryFirstOrDefault<Row>($"{Select} AND d.path = @path", new { user, path }, transaction) is { } row
            ? ToDraft(row)
            : null;

    private static Draft ToDraft(Row row) =>
        new(row.Path, row.Base, row.Step, row.Text, row.Step > row.Least, row.Step < row.Most, row.Changed);

    /// <summary>Saves a text as the next step; steps that were undone are gone.</summary>
    /// <param name="after">The step that it was made from; 0 to begin.</param>
    /// <param name="begun">The published version that a new draft is begun from, and the text of it there: the step to which undoing leads back.</param>
    /// <param name="over">The published version that is in the text from here on; null for that of the step before.</param>
    /// <param name="most">How many drafts there may be.</param>
    /// <param name="joins">True if it goes on with what was typed: it takes the place of the step before, which nobody goes back to.</param>
    /// <exception cref="DraftMovedException">It is at another step by now.</exception>
    /// <exception cref="InvalidOperationException">There are too many drafts.</exception>
    public Draft Save(
        string user,
        string path,
        string text,
        long after,
        (long Version, string? Text) begun,
        long? over = null,
        int most = MostDrafts,
        bool joins = false
    )
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var now = Get(user, path, connection, transaction);
        if ((now?.Step ?? 0) != after)
            throw new DraftMovedException(now?.Step ?? 0);
        if (now is null)
        {
            if (connection.ExecuteScalar<long>("SELECT count(*) FROM drafts WHERE user_name = @user", new { user }, transaction) >= most)
                throw new InvalidOperationException($"There can be {most} drafts at most.");
            connection.Execute(
                "INSERT INTO drafts (user_name, path, base, step, changed) VALUES (@user, @path, @base, 0, '')",
                new
                {
                    user,
                    path,
                    @base = begun.Version,
                },
                transaction
            );
            if (begun.Text is { } first)
                after = Add(user, path, first, after, after + 1, begun.Version, connection, transaction);
        }
        // Before any goes: no number is given twice, or a window that saw the first would take the second for it.
        var last = LastStep(user, path, connection, transaction);
        if (joins && now?.CanUndo == true)
            connection.Execute(
                "DELETE FROM draft_steps WHERE user_name = @user AND path = @path AND step = @after",
                new
                {
                    user,
                    path,
                    after,
                },
                transaction
            );
        Add(user, path, text, after, last + 1, over ?? now?.Base ?? begun.Version, connection, transaction);
        var saved = Get(user, path, connection, transaction)!;
        transaction.Commit();
        return saved;
    }

    private static long LastStep(
        string user,
        string path,
        Microsoft.Data.Sqlite.SqliteConnection connection,
        Microsoft.Data.Sqlite.SqliteTransaction transaction
    ) =>
        connection.ExecuteScalar<long?>(
            "SELECT max(step) FROM draft_steps WHERE user_name = @user AND path = @path",
            new { user, path },
            transaction
        ) ?? 0;

    private long Add(
        string user,
        string path,
        string text,
        long after,
        long step,
        long @base,
        Microsoft.Data.Sqlite.SqliteConnection connection,
        Microsoft.Data.Sqlite.SqliteTransaction transaction
    )
    {
        var values = new
        {
            user,
            path,
            after,
            step,
            text,
            @base,
            kept = MostSteps - 1,
            changed = Now(),
        };
        connection.Execute(
            """
            DELETE FROM draft_steps WHERE user_name = @user AND path = @path AND (step > @after OR step NOT IN (
                SELECT o.step FROM draft_steps o WHERE o.user_name = @user AND o.path = @path AND o.step <= @after
                ORDER BY o.step DESC LIMIT @kept))
            """,
            values,
            transaction
        );
        connection.Execute(
            "INSERT INTO draft_steps (user_name, path, step, text, base) VALUES (@user, @path, @step, @text, @base)",
            values,
            transaction
        );
        connection.Execute(
            "UPDATE drafts SET step = @step, changed = @changed WHERE user_name = @user AND path = @path",
            values,
            transaction
        );
        return step;
    }

    /// <summary>Goes a step back (-1) or forth (1); null if there is no draft. Where there is no such step it stays where it is.</summary>
    public Draft? Go(string user, string path, int by)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        // Steps that others took the place of leave gaps.
        var next = connection.ExecuteScalar<long?>(
            """
            SELECT s.step FROM draft_steps s JOIN drafts d ON d.user_name = s.user_name AND d.path = s.path
            WHERE s.user_name = @user AND s.path = @path AND (s.step - d.step) * @by > 0
            ORDER BY abs(s.step - d.step) LIMIT 1
            """,
            new
            {
                user,
                path,
                by,
            },
            transaction
        );
        if (next is { } step)
            connection.Execute(
                "UPDATE drafts SET step = @step, changed = @changed WHERE user_name = @user AND path = @path",
                new
                {
                    user,
                    path,
                    step,
                    changed = Now(),
                },
                transaction
            );
        transaction.Commit();
        return Get(user, path);
    }

    /// <summary>Throws a draft away, with its steps; false if there is none.</summary>
    /// <param name="at">Only where it is at this step: what was saved meanwhile stays.</param>
    public bool Discard(string user, string path, long? at = null)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var values = new
        {
            user,
            path,
            at,
        };
        var gone = connection.Execute(
            "DELETE FROM drafts WHERE user_name = @user AND path = @path AND (@at IS NULL OR step = @at)",
            values,
            transaction
        );
        // What is shared of one that is made anew under the same name is another matter.
        if (gone > 0)
            connection.Execute("DELETE FROM own_shares WHERE user_name = @user AND path = @path", values, transaction);
        if (gone > 0)
            connection.Execute("DELETE FROM draft_steps WHERE user_name = @user AND path = @path", values, transaction);
        transaction.Commit();
        return gone > 0;
    }

    private string Now() => StoredTimes.Write(clock.GetUtcNow());
}
