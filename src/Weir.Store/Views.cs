using System.Globalization;
using System.Text.Json;
using Dapper;
using Weir.Core.Views;

namespace Weir.Store;

/// <summary>A viewer's edits of a dashboard, oldest first, and how far undo and redo reach.</summary>
public sealed record StoredView(IReadOnlyList<ViewEdit> Edits, int CanUndo, int CanRedo);

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

    private const string Of = "user_name = @user AND dashboard = @dashboard";

    /// <summary>The view as it is stored.</summary>
    public StoredView Get(string user, string dashboard)
    {
        using var connection = database.Connect();
        var rows = connection
            .Query<Row>($"SELECT seq, edit, undone FROM view_edits WHERE {Of} ORDER BY seq", new { user, dashboard })
            .ToList();
        var edits = rows.Where(r => r.Undone == 0).Select(r => JsonSerializer.Deserialize<ViewEdit>(r.Edit, Json)!).ToList();
        return new StoredView(edits, Math.Min(edits.Count, PersonalView.UndoSteps), rows.Count - edits.Count);
    }

    /// <summary>Appends an edit; what was undone before it can't be redone any more. False if the log is full.</summary>
    /// <param name="version">The published version on which it was made, for a later rebase.</param>
    public bool Append(string user, string dashboard, long version, ViewEdit edit)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        connection.Execute($"DELETE FROM view_edits WHERE {Of} AND undone", new { user, dashboard }, transaction);
        if (edit is ViewEdit.Reset)
            // What a reset hides and undo no longer reaches is gone for good.
            connection.Execute(
                $"DELETE FROM view_edits WHERE {Of} AND seq <= (SELECT seq FROM view_edits WHERE {Of} ORDER BY seq DESC LIMIT 1 OFFSET "
                    + $"{PersonalView.UndoSteps})",
                new { user, dashboard },
                transaction
            );
        else if (
            connection.ExecuteScalar<long>($"SELECT count(*) FROM view_edits WHERE {Of}", new { user, dashboard }, transaction)
                >= MaximumEdits
            || connection.ExecuteScalar<long>(
                $"SELECT coalesce(sum(length(edit)), 0) FROM view_edits WHERE {Of}",
                new { user, dashboard },
                transaction
            ) >= MaximumLength
        )
            return false;
        connection.Execute(
            "INSERT INTO view_edits (user_name, dashboard, version, edit, made, undone) VALUES (@user, @dashboard, @version, @edit, @made, 0)",
            new
            {
                user,
                dashboard,
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
    public bool Undo(string user, string dashboard)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var undone = connection.ExecuteScalar<long>(
            $"SELECT count(*) FROM view_edits WHERE {Of} AND undone",
            new { user, dashboard },
            transaction
        );
        var changed =
            undone < PersonalView.UndoSteps
                ? connection.Execute(
                    $"UPDATE view_edits SET undone = 1 WHERE seq = (SELECT max(seq) FROM view_edits WHERE {Of} AND NOT undone)",
                    new { user, dashboard },
                    transaction
                )
                : 0;
        transaction.Commit();
        return changed > 0;
    }

    /// <summary>The last steps, oldest first, with those that were taken back.</summary>
    public IReadOnlyList<ViewStep> Steps(string user, string dashboard)
    {
        using var connection = database.Connect();
        return
        [
            .. connection
                .Query<StepRow>($"SELECT seq, edit, undone, made FROM view_edits WHERE {Of} ORDER BY seq", new { user, dashboard })
                .Select(r => new ViewStep(
                    r.Seq,
                    JsonSerializer.Deserialize<ViewEdit>(r.Edit, Json)!,
                    DateTimeOffset.Parse(r.Made, CultureInfo.InvariantCulture),
                    r.Undone != 0
                )),
        ];
    }

    /// <summary>Goes to the state after a step, back or forth; 0 for the state before all of them. False if it is out of reach or there is none.</summary>
    public bool GoTo(string user, string dashboard, long step)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var isThere =
            step == 0
            || connection.ExecuteScalar<long>(
                $"SELECT count(*) FROM view_edits WHERE {Of} AND seq = @step",
                new
                {
                    user,
                    dashboard,
                    step,
                },
                transaction
            ) > 0;
        var after = connection.ExecuteScalar<long>(
            $"SELECT count(*) FROM view_edits WHERE {Of} AND seq > @step",
            new
            {
                user,
                dashboard,
                step,
            },
            transaction
        );
        if (!isThere || after > PersonalView.UndoSteps)
            return false;
        connection.Execute(
            $"UPDATE view_edits SET undone = (seq > @step) WHERE {Of}",
            new
            {
                user,
                dashboard,
                step,
            },
            transaction
        );
        transaction.Commit();
        return true;
    }

    private sealed record StepRow(long Seq, string Edit, long Undone, string Made);

    /// <summary>Does again what was taken back last; false if there is nothing.</summary>
    public bool Redo(string user, string dashboard)
    {
        using var connection = database.Connect();
        return connection.Execute(
                $"UPDATE view_edits SET undone = 0 WHERE seq = (SELECT min(seq) FROM view_edits WHERE {Of} AND undone)",
                new { user, dashboard }
            ) > 0;
    }
}
