using System.Globalization;
using System.Text.Json;
using Dapper;
using Microsoft.Data.Sqlite;
using Weir.Core.Views;

namespace Weir.Store;

/// <summary>A viewer's edits of a dashboard, oldest first, and how far undo and redo reach.</summary>
/// <param name="Last">The number of the last edit that holds, another with each change; 0 if there is none.</param>
/// <param name="Version">The published version on which that was made; 0 if there is none.</param>
public sealed record StoredView(IReadOnlyList<ViewEdit> Edits, int CanUndo, int CanRedo, long Last = 0, long Version = 0)
{
    /// <summary>Another with each change, back and forth too.</summary>
    public string Mark => $"{Last}-{CanUndo}-{CanRedo}";
}

/// <summary>Which view is meant.</summary>
/// <param name="View">The name that the service gave it; empty for the one without a name, which every viewer has.</param>
public sealed record ViewKey(string User, string Dashboard, string View = "");

/// <summary>A view with a name.</summary>
/// <param name="OpensFirst">True if the dashboard opens with it.</param>
public sealed record NamedView(string View, string Title, bool OpensFirst);

/// <summary>A step of a viewer's: an edit, when it was made, and whether it was taken back.</summary>
public sealed record ViewStep(long Number, ViewEdit Edit, DateTimeOffset Made, bool IsUndone);

/// <summary>Personal views: a log of edits for each viewer and dashboard. Two windows of one viewer append to the same log.</summary>
public sealed class Views(StoreDatabase database, TimeProvider clock)
{
    /// <summary>A longer log is refused; a reset makes room.</summary>
    public const int MaximumEdits = 5_000;

    /// <summary>A log of more characters is refused.</summary>
    public const int MaximumLength = 1_000_000;

    private sealed record Row(long Seq, string Edit, long Undone, long Version);

    private static JsonSerializerOptions Json => ViewEditJson.Stored;

    private const string Of = "user_name = @User AND dashboard = @Dashboard AND view = @View";

    /// <summary>The view as it is stored.</summary>
    public StoredView Get(ViewKey key)
    {
        using var connection = database.Connect();
        var rows = connection.Query<Row>($"SELECT seq, edit, undone, version FROM view_edits WHERE {Of} ORDER BY seq", key).ToList();
        var edits = rows.Where(r => r.Undone == 0).Select(r => JsonSerializer.Deserialize<ViewEdit>(r.Edit, Json)!).ToList();
        return new StoredView(
            edits,
            Math.Min(edits.Count, PersonalView.UndoSteps),
            rows.Count - edits.Count,
            rows.LastOrDefault(r => r.Undone == 0)?.Seq ?? 0,
            rows.LastOrDefault(r => r.Undone == 0)?.Version ?? 0
        );
    }

    /// <summary>Of the requests that were carried out so many are remembered for each view.</summary>
    private const int RememberedRequests = 200;

    /// <summary>True if a request was carried out before, whose sender may not have heard of it.</summary>
    /// <param name="request">What its sender calls it; null for none that is ever sent again.</param>
    public bool WasCarriedOut(ViewKey key, string? request)
    {
        if (request is null)
            return false;
        using var connection = database.Connect();
        return connection.ExecuteScalar<long>(
                $"SELECT count(*) FROM view_requests WHERE {Of} AND request = @request",
                new
                {
                    key.User,
                    key.Dashboard,
                    key.View,
                    request,
                }
            ) > 0;
    }

    /// <summary>Remembers a request with what it changes; false if it was carried out before.</summary>
    private static bool IsFirst(SqliteConnection connection, SqliteTransaction transaction, ViewKey key, string? request)
    {
        if (request is null)
            return true;
        var of = new
        {
            key.User,
            key.Dashboard,
            key.View,
            request,
        };
        var isFirst =
            connection.Execute(
                "INSERT OR IGNORE INTO view_requests (user_name, dashboard, view, request) VALUES (@User, @Dashboard, @View, @request)",
                of,
                transaction
            ) > 0;
        connection.Execute(
            $"DELETE FROM view_requests WHERE {Of} AND seq <= (SELECT seq FROM view_requests WHERE {Of} ORDER BY seq DESC LIMIT 1 "
                + $"OFFSET {RememberedRequests})",
            key,
            transaction
        );
        return isFirst;
    }

    /// <summary>Appends an edit; what was undone before it can't be redone any more. False if the log is full.</summary>
    /// <param name="version">The published version on which it was made, for a later rebase.</param>
    /// <param name="request">See <see cref="WasCarriedOut"/>; one that was is not carried out again.</param>
    public bool Append(ViewKey key, long version, ViewEdit edit, string? request = null)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        if (!IsFirst(connection, transaction, key, request))
            return true;
        connection.Execute($"DELETE FROM view_edits WHERE {Of} AND undone", key, transaction);
        if (edit is ViewEdit.Reset)
            // What a reset hides and undo no longer reaches is gone for good.
            connection.Execute(
                $"DELETE FROM view_edits WHERE {Of} AND seq <= (SELECT seq FROM view_edits WHERE {Of} ORDER BY seq DESC LIMIT 1 OFFSET "
                    + $"{PersonalView.UndoSteps})",
                key,
                transaction
            );
        else if (
            connection.ExecuteScalar<long>($"SELECT count(*) FROM view_edits WHERE {Of}", key, transaction) >= MaximumEdits
            || connection.ExecuteScalar<long>($"SELECT coalesce(sum(length(edit)), 0) FROM view_edits WHERE {Of}", key, transaction)
                >= MaximumLength
        )
            return false;
        Insert(connection, transaction, key, version, edit);
        transaction.Commit();
        return true;
    }

    private void Insert(SqliteConnection connection, SqliteTransaction transaction, ViewKey key, long version, ViewEdit edit) =>
        connection.Execute(
            "INSERT INTO view_edits (user_name, dashboard, view, version, edit, made, undone) VALUES (@User, @Dashboard, @View, @version, @edit, @made, 0)",
            new
            {
                key.User,
                key.Dashboard,
                key.View,
                version,
                edit = JsonSerializer.Serialize(edit, Json),
                made = clock.GetUtcNow(),
            },
            transaction
        );

    /// <summary>Takes the last edit back; false if there is none within reach.</summary>
    /// <param name="request">See <see cref="WasCarriedOut"/>.</param>
    public bool Undo(ViewKey key, string? request = null)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        if (!IsFirst(connection, transaction, key, request))
            return true;
        var undone = connection.ExecuteScalar<long>($"SELECT count(*) FROM view_edits WHERE {Of} AND undone", key, transaction);
        var changed =
            undone < PersonalView.UndoSteps
                ? connection.Execute(
                    $"UPDATE view_edits SET undone = 1 WHERE seq = (SELECT max(seq) FROM view_edits WHERE {Of} AND NOT undone)",
                    key,
                    transaction
                )
                : 0;
        if (changed > 0)
            transaction.Commit();
        return changed > 0;
    }

    /// <summary>The last steps, oldest first, with those that were taken back.</summary>
    public IReadOnlyList<ViewStep> Steps(ViewKey key)
    {
        using var connection = database.Connect();
        return
        [
            .. connection
                .Query<StepRow>($"SELECT seq, edit, undone, made FROM view_edits WHERE {Of} ORDER BY seq", key)
                .Select(r => new ViewStep(r.Seq, JsonSerializer.Deserialize<ViewEdit>(r.Edit, Json)!, r.Made, r.Undone != 0)),
        ];
    }

    /// <summary>Goes to the state after a step, back or forth; 0 for the state before all of them. False if it is out of reach or there is none.</summary>
    /// <param name="request">See <see cref="WasCarriedOut"/>.</param>
    public bool GoTo(ViewKey key, long step, string? request = null)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        if (!IsFirst(connection, transaction, key, request))
            return true;
        var of = new
        {
            key.User,
            key.Dashboard,
            key.View,
            step,
        };
        var isThere =
            step == 0 || connection.ExecuteScalar<long>($"SELECT count(*) FROM view_edits WHERE {Of} AND seq = @step", of, transaction) > 0;
        var after = connection.ExecuteScalar<long>($"SELECT count(*) FROM view_edits WHERE {Of} AND seq > @step", of, transaction);
        if (!isThere || after > PersonalView.UndoSteps)
            return false;
        connection.Execute($"UPDATE view_edits SET undone = (seq > @step) WHERE {Of}", of, transaction);
        transaction.Commit();
        return true;
    }

    private sealed record StepRow(long Seq, string Edit, long Undone, DateTimeOffset Made);

    /// <summary>Does again what was taken back last; false if there is nothing.</summary>
    /// <param name="request">See <see cref="WasCarriedOut"/>.</param>
    public bool Redo(ViewKey key, string? request = null)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        if (!IsFirst(connection, transaction, key, request))
            return true;
        var changed = connection.Execute(
            $"UPDATE view_edits SET undone = 0 WHERE seq = (SELECT min(seq) FROM view_edits WHERE {Of} AND undone)",
            key,
            transaction
        );
        if (changed > 0)
            transaction.Commit();
        return changed > 0;
    }

    /// <summary>More views with a name than this are refused, for one viewer and dashboard.</summary>
    public const int MaximumNamed = 50;

    private const string OfAll = "user_name = @user AND dashboard = @dashboard";

    private sealed record NamedRow(string View, string Title, long OpensFirst);

    /// <summary>The views with names, in the order in which they were made.</summary>
    public IReadOnlyList<NamedView> Named(string user, string dashboard)
    {
        using var connection = database.Connect();
        return
        [
            .. connection
                .Query<NamedRow>(
                    $"SELECT view, title, opens_first AS OpensFirst FROM named_views WHERE {OfAll} AND NOT removed ORDER BY seq",
                    new { user, dashboard }
                )
                .Select(r => new NamedView(r.View, r.Title, r.OpensFirst != 0)),
        ];
    }

    /// <summary>Makes a view with a name.</summary>
    /// <param name="edits">The arrangement that it begins with.</param>
    /// <returns>The name that it has from now on; null if there are too many.</returns>
    public string? Make(string user, string dashboard, string title, long version, IReadOnlyList<ViewEdit> edits)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var count = connection.ExecuteScalar<long>(
            $"SELECT count(*) FROM named_views WHERE {OfAll} AND NOT removed",
            new { user, dashboard },
            transaction
        );
        if (count >= MaximumNamed)
            return null;
        Forget(user, dashboard, connection, transaction);
        // Names are never used again, so that an old address does not lead to another view.
        var number = connection.ExecuteScalar<long>(
            $"SELECT coalesce(max(CAST(substr(view, 6) AS INTEGER)), 0) + 1 FROM named_views WHERE {OfAll}",
            new { user, dashboard },
            transaction
        );
        var view = string.Create(CultureInfo.InvariantCulture, $"view-{number}");
        connection.Execute(
            "INSERT INTO named_views (user_name, dashboard, view, title, opens_first, removed) VALUES (@user, @dashboard, @view, @title, 0, 0)",
            new
            {
                user,
                dashboard,
                view,
                title,
            },
            transaction
        );
        foreach (var edit in edits)
            Insert(connection, transaction, new ViewKey(user, dashboard, view), version, edit);
        transaction.Commit();
        return view;
    }

    /// <summary>Of the views that were taken away the last few can be brought back; all that older ones held goes, so that none fill the disk.</summary>
    private static void Forget(string user, string dashboard, SqliteConnection connection, SqliteTransaction transaction)
    {
        const string Older =
            $"SELECT view FROM named_views WHERE {OfAll} AND removed AND seq NOT IN "
            + $"(SELECT seq FROM named_views WHERE {OfAll} AND removed ORDER BY seq DESC LIMIT 10)";
        foreach (var table in (ReadOnlySpan<string>)["view_shares", "view_requests", "view_edits", "named_views"])
            connection.Execute($"DELETE FROM {table} WHERE {OfAll} AND view IN ({Older})", new { user, dashboard }, transaction);
    }

    /// <summary>Changes the title of a view; false if there is none.</summary>
    public bool Rename(ViewKey key, string title)
    {
        using var connection = database.Connect();
        return connection.Execute(
                $"UPDATE named_views SET title = @title WHERE {Of} AND NOT removed",
                new
                {
                    key.User,
                    key.Dashboard,
                    key.View,
                    title,
                }
            ) > 0;
    }

    /// <summary>Has the dashboard open with a view; with an empty name the one without a name. False if there is none.</summary>
    public bool OpenFirst(ViewKey key)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        connection.Execute("UPDATE named_views SET opens_first = 0 WHERE user_name = @User AND dashboard = @Dashboard", key, transaction);
        var isThere =
            key.View.Length == 0
            || connection.Execute($"UPDATE named_views SET opens_first = 1 WHERE {Of} AND NOT removed", key, transaction) > 0;
        if (isThere)
            transaction.Commit();
        return isThere;
    }

    /// <summary>Takes a view with a name away, or brings it back as it was; false if there is none to do that with, or no room for it.</summary>
    public bool Remove(ViewKey key, bool isBack = false)
    {
        using var connection = database.Connect();
        return connection.Execute(
                $"UPDATE named_views SET removed = @removed, opens_first = 0 WHERE {Of} AND removed <> @removed "
                    + "AND (@removed OR (SELECT count(*) FROM named_views WHERE user_name = @User AND dashboard = @Dashboard AND NOT removed) < @most)",
                new
                {
                    key.User,
                    key.Dashboard,
                    key.View,
                    removed = !isBack,
                    most = MaximumNamed,
                }
            ) > 0;
    }

    /// <summary>A view may be shared so many times.</summary>
    public const int MaximumShares = 100;

    private sealed record ShareRow(
        string Id,
        string Owner,
        string OwnerTitle,
        string Dashboard,
        string View,
        string? Title,
        string Kind,
        string Name,
        string? Edits
    );

    // Who was removed shares nothing any more, and neither does a view that was taken away.
    private const string Shares =
        "SELECT s.id, s.user_name AS Owner, u.title AS OwnerTitle, s.dashboard, s.view, n.title AS Title, s.kind, s.name, s.edits "
        + "FROM view_shares s JOIN users u ON u.name = s.user_name LEFT JOIN named_views n "
        + "ON n.user_name = s.user_name AND n.dashboard = s.dashboard AND n.view = s.view "
        + "WHERE (s.view = '' OR n.removed = 0) AND ";

    private static ViewShare Read(ShareRow r) =>
        new(
            r.Id,
            new ViewKey(r.Owner, r.Dashboard, r.View),
            r.OwnerTitle,
            r.Title,
            r.Kind,
            r.Name,
            r.Edits is null ? null : JsonSerializer.Deserialize<List<ViewEdit>>(r.Edits, Json)
        );

    /// <summary>Lets others see a view.</summary>
    /// <param name="kind">person, role or link.</param>
    /// <param name="name">Whom; empty for a link.</param>
    /// <param name="copy">The edits of the moment; null for whatever the view is when it is looked at.</param>
    /// <returns>The share; null if there are too many.</returns>
    public ViewShare? Share(ViewKey key, string kind, string name, IReadOnlyList<ViewEdit>? copy)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        // Nobody guesses the address of what was not sent to them.
        var id = Convert.ToHexStringLower(System.Security.Cryptography.RandomNumberGenerator.GetBytes(16));
        // Shared again with the same, it is shared as it was said last.
        connection.Execute(
            $"DELETE FROM view_shares WHERE {Of} AND kind = @kind AND name = @name",
            new
            {
                key.User,
                key.Dashboard,
                key.View,
                kind,
                name,
            },
            transaction
        );
        if (connection.ExecuteScalar<long>($"SELECT count(*) FROM view_shares WHERE {Of}", key, transaction) >= MaximumShares)
            return null;
        connection.Execute(
            "INSERT INTO view_shares (id, user_name, dashboard, view, kind, name, edits) VALUES (@id, @User, @Dashboard, @View, @kind, @name, @edits)",
            new
            {
                id,
                key.User,
                key.Dashboard,
                key.View,
                kind,
                name,
                edits = copy is null ? null : JsonSerializer.Serialize(copy, Json),
            },
            transaction
        );
        transaction.Commit();
        return new ViewShare(id, key, "", null, kind, name, copy);
    }

    /// <summary>With whom a view is shared.</summary>
    public IReadOnlyList<ViewShare> SharesOf(ViewKey key)
    {
        using var connection = database.Connect();
        return
        [
            .. connection
                .Query<ShareRow>(
                    Shares + "s.user_name = @User AND s.dashboard = @Dashboard AND s.view = @View ORDER BY s.kind, s.name",
                    key
                )
                .Select(Read),
        ];
    }

    /// <summary>What others share with a viewer of a dashboard, by name or by role; what was sent by link is not among it.</summary>
    public IReadOnlyList<ViewShare> SharedWith(string user, IReadOnlyList<string> roles, string dashboard)
    {
        using var connection = database.Connect();
        return
        [
            .. connection
                .Query<ShareRow>(
                    Shares
                        + "s.dashboard = @dashboard AND s.user_name <> @user AND (s.kind = 'person' AND s.name = @user OR s.kind = 'role' AND s.name IN @roles) "
                        + "ORDER BY u.title, n.title",
                    new
                    {
                        dashboard,
                        user,
                        roles,
                    }
                )
                .Select(Read)
                .DistinctBy(s => s.Of),
        ];
    }

    /// <summary>A share of a dashboard's view; null if there is none (any more).</summary>
    public ViewShare? Shared(string id, string dashboard)
    {
        using var connection = database.Connect();
        return
            connection.QueryFirstOrDefault<ShareRow>(Shares + "s.id = @id AND s.dashboard = @dashboard", new { id, dashboard }) is { } row
            ? Read(row)
            : null;
    }

    /// <summary>Ends a share of a view at once; false if there is none.</summary>
    public bool Withdraw(ViewKey key, string id)
    {
        using var connection = database.Connect();
        return connection.Execute(
                $"DELETE FROM view_shares WHERE {Of} AND id = @id",
                new
                {
                    key.User,
                    key.Dashboard,
                    key.View,
                    id,
                }
            ) > 0;
    }
}

/// <summary>A view that its owner lets others see.</summary>
/// <param name="Of">The view.</param>
/// <param name="Title">Its name; null for the one without.</param>
/// <param name="Kind">person, role or link: with whom.</param>
/// <param name="Name">The person or role.</param>
/// <param name="Copy">The edits of the moment in which it was shared; null if it is shared as it is whenever it is looked at.</param>
public sealed record ViewShare(
    string Id,
    ViewKey Of,
    string OwnerTitle,
    string? Title,
    string Kind,
    string Name,
    IReadOnlyList<ViewEdit>? Copy
)
{
    /// <summary>True if the viewer may open it, as far as the share goes.</summary>
    public bool IsFor(string user, IReadOnlyList<string> roles) =>
        Kind switch
        {
            "link" => true,
            "person" => Name == user,
            _ => roles.Contains(Name),
        }
        || Of.User == user;
}
