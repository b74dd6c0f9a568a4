using System.Globalization;
using System.Text.Json;
using Dapper;
using Weir.Core.Views;

namespace Weir.Store;

/// <summary>A viewer's edits of a dashboard, oldest first, and how far undo and redo reach.</summary>
public sealed record StoredView(IReadOnlyList<ViewEdit> Edits, int CanUndo, int CanRedo);

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

    private sealed record Row(long Seq, string Edit, long Undone);

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    private const string Of = "user_name = @User AND dashboard = @Dashboard AND view = @View";

    /// <summary>The view as it is stored.</summary>
    public StoredView Get(ViewKey key)
    {
        using var connection = database.Connect();
        var rows = connection.Query<Row>($"SELECT seq, edit, undone FROM view_edits WHERE {Of} ORDER BY seq", key).ToList();
        var edits = rows.Where(r => r.Undone == 0).Select(r => JsonSerializer.Deserialize<ViewEdit>(r.Edit, Json)!).ToList();
        return new StoredView(edits, Math.Min(edits.Count, PersonalView.UndoSteps), rows.Count - edits.Count);
    }

    /// <summary>Appends an edit; what was undone before it can't be redone any more. False if the log is full.</summary>
    /// <param name="version">The published version on which it was made, for a later rebase.</param>
    public bool Append(ViewKey key, long version, ViewEdit edit)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
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
        connection.Execute(
            "INSERT INTO view_edits (user_name, dashboard, view, version, edit, made, undone) VALUES (@User, @Dashboard, @View, @version, @edit, @made, 0)",
            new
            {
                key.User,
                key.Dashboard,
                key.View,
                version,
                edit = JsonSerializer.Serialize(edit, Json),
                made = clock.GetUtcNow().UtcDateTime.ToString("O", CultureInfo.InvariantCulture),
            },
            transaction
        );
        transaction.Commit();
        return true;
    }

    /// <summary>Takes the last edit back; false if there is none within reach.</summary>
    public bool Undo(ViewKey key)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var undone = connection.ExecuteScalar<long>($"SELECT count(*) FROM view_edits WHERE {Of} AND undone", key, transaction);
        var changed =
            undone < PersonalView.UndoSteps
                ? connection.Execute(
                    $"UPDATE view_edits SET undone = 1 WHERE seq = (SELECT max(seq) FROM view_edits WHERE {Of} AND NOT undone)",
                    key,
                    transaction
                )
                : 0;
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
                .Select(r => new ViewStep(
                    r.Seq,
                    JsonSerializer.Deserialize<ViewEdit>(r.Edit, Json)!,
                    DateTimeOffset.Parse(r.Made, CultureInfo.InvariantCulture),
                    r.Undone != 0
                )),
        ];
    }

    /// <summary>Goes to the state after a step, back or forth; 0 for the state before all of them. False if it is out of reach or there is none.</summary>
    public bool GoTo(ViewKey key, long step)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
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

    private sealed record StepRow(long Seq, string Edit, long Undone, string Made);

    /// <summary>Does again what was taken back last; false if there is nothing.</summary>
    public bool Redo(ViewKey key)
    {
        using var connection = database.Connect();
        return connection.Execute(
                $"UPDATE view_edits SET undone = 0 WHERE seq = (SELECT min(seq) FROM view_edits WHERE {Of} AND undone)",
                key
            ) > 0;
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
    /// <param name="from">The view whose arrangement it begins with; null for the opening view.</param>
    /// <returns>The name that it has from now on; null if there are too many.</returns>
    public string? Make(string user, string dashboard, string title, string? from)
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
        // Names are never used again, so that an old address does not lead to another view.
        var number =
            connection.ExecuteScalar<long>($"SELECT count(*) FROM named_views WHERE {OfAll}", new { user, dashboard }, transaction) + 1;
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
        if (from is not null)
            connection.Execute(
                "INSERT INTO view_edits (user_name, dashboard, view, version, edit, made, undone) "
                    + $"SELECT user_name, dashboard, @view, version, edit, made, 0 FROM view_edits WHERE {OfAll} AND view = @from AND NOT undone ORDER BY seq",
                new
                {
                    user,
                    dashboard,
                    view,
                    from,
                },
                transaction
            );
        transaction.Commit();
        return view;
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

    /// <summary>Takes a view with a name away, or brings it back as it was; false if there is none to do that with.</summary>
    public bool Remove(ViewKey key, bool isBack = false)
    {
        using var connection = database.Connect();
        return connection.Execute(
                $"UPDATE named_views SET removed = @removed, opens_first = 0 WHERE {Of} AND removed <> @removed",
                new
                {
                    key.User,
                    key.Dashboard,
                    key.View,
                    removed = !isBack,
                }
            ) > 0;
    }
}
