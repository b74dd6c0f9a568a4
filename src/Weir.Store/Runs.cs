using Dapper;
using Microsoft.Data.Sqlite;

namespace Weir.Store;

/// <summary>A report that is made and sent once, or a subscription's.</summary>
/// <param name="Report">The report's name; <c>subscription:ID</c> for somebody's own.</param>
/// <param name="Due">When it was to begin.</param>
/// <param name="Why">schedule, missed (late, after the service was down) or hand.</param>
/// <param name="AskedBy">Who had it made by hand; null otherwise.</param>
/// <param name="State">planned, making, sending; then sent, not-met, nobody, unknown or failed. See <see cref="Runs"/>.</param>
/// <param name="Version">The published version that it was made of; null before it begins.</param>
/// <param name="Attempts">How often it was begun.</param>
/// <param name="Reason">Why it failed last, or what is to be known of it.</param>
/// <param name="Statements">How many statements sources were sent for it.</param>
/// <param name="Milliseconds">How long it took to make.</param>
public sealed record Run(
    string Id,
    string Report,
    DateTimeOffset Due,
    string Why,
    string? AskedBy,
    string State,
    long? Version,
    DateTimeOffset? Begun,
    DateTimeOffset? Ended,
    long Attempts,
    string? Reason,
    long Statements,
    long Milliseconds
);

/// <summary>What one reader gets of a run.</summary>
/// <param name="Reader">The kind and the name of who gets it: <c>person:director</c>, <c>outside:harbour</c>, <c>owner:developer</c>.</param>
/// <param name="Title">Their name for readers.</param>
/// <param name="Way">mail, folder, call or table.</param>
/// <param name="Address">Where it goes; null if there is no address.</param>
/// <param name="State">
/// ready, handing; then sent, unsure (handed over, but no answer came), failed, refused (they may not have it, or have no address),
/// not-met, paused (got it not long ago) or unknown (the condition could not be worked out).
/// </param>
/// <param name="Next">Not before this time.</param>
/// <param name="File">The file that it is; null for none.</param>
/// <param name="Words">What is said to them beside the file; null if there is none.</param>
public sealed record Delivery(
    string Run,
    string Reader,
    string Title,
    string Way,
    string? Address,
    string State,
    long Attempts,
    DateTimeOffset Next,
    string? Reason,
    DateTimeOffset? At,
    string? File,
    string? Words
)
{
    /// <summary>True if it failed or is unsure, and has a file to be sent again.</summary>
    public bool CanGoAgain => State is "failed" or "unsure" && File is not null;
}

/// <summary>A file of a run, and what stands beside it in a message.</summary>
/// <param name="Message">What the message says, as its maker wrote it.</param>
/// <param name="Picture">A picture for the message; null for none.</param>
public sealed record RunFile(string Id, string Name, string MediaType, byte[] Content, string Message, byte[]? Picture);

/// <summary>
/// The runs of reports with what each reader gets, which is the outbox: what is to be sent stands here before it is sent, and where it
/// stands after each step. A service that is killed goes on from here: what was made stays made, what was being handed over is not handed
/// over again, for nobody can know whether it arrived.
/// </summary>
public sealed class Runs(StoreDatabase database, TimeProvider clock)
{
    private const string RunColumns =
        "id, report, due, why, asked_by AS AskedBy, state, version, begun, ended, attempts, reason, statements, milliseconds";

    private const string DeliveryColumns = "run, reader, title, way, address, state, attempts, next, reason, at, file, words";

    private const string InsertRun =
        "INSERT INTO runs (id, report, due, why, asked_by, state, attempts, next, statements, milliseconds) "
        + "VALUES (@id, @report, @due, @why, @askedBy, 'planned', 0, @next, 0, 0) ON CONFLICT DO NOTHING";

    /// <summary>Until when the times of a schedule were looked at; from now on if it is new, or another than before.</summary>
    /// <param name="schedule">The schedule as it is written.</param>
    public DateTimeOffset LookedUntil(string report, string schedule)
    {
        using var connection = database.Connect();
        var known = connection.QueryFirstOrDefault<(string Schedule, DateTimeOffset Until)?>(
            "SELECT schedule, looked_until FROM schedule_marks WHERE report = @report",
            new { report }
        );
        if (known is { } mark && mark.Schedule == schedule)
            return mark.Until;
        var now = clock.GetUtcNow();
        connection.Execute(
            "INSERT INTO schedule_marks (report, schedule, looked_until) VALUES (@report, @schedule, @now) "
                + "ON CONFLICT (report) DO UPDATE SET schedule = @schedule, looked_until = @now",
            new
            {
                report,
                schedule,
                now,
            }
        );
        return now;
    }

    /// <summary>True if the times of a report or subscription are looked at.</summary>
    public bool IsWatched(string report)
    {
        using var connection = database.Connect();
        return connection.ExecuteScalar<long>("SELECT count(*) FROM schedule_marks WHERE report = @report", new { report }) > 0;
    }

    /// <summary>Notes until when the times of a schedule were looked at, and plans the run that is due, both or neither.</summary>
    /// <param name="due">When it is due; null for no run. One that is planned already is not planned again.</param>
    /// <param name="why">schedule or missed.</param>
    public void Plan(string report, DateTimeOffset lookedUntil, DateTimeOffset? due, string why)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        if (due is { } at)
            connection.Execute(
                InsertRun,
                new
                {
                    id = NewId(),
                    report,
                    due = at,
                    next = at,
                    why,
                    askedBy = (string?)null,
                },
                transaction
            );
        connection.Execute(
            "UPDATE schedule_marks SET looked_until = @until WHERE report = @report",
            new { report, until = lookedUntil },
            transaction
        );
        transaction.Commit();
    }

    /// <summary>Plans a run by hand, now.</summary>
    /// <returns>Its id; null if one that was asked for by hand is still on its way.</returns>
    public string? Plan(string report, string askedBy)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var open = connection.ExecuteScalar<long>(
            "SELECT count(*) FROM runs WHERE report = @report AND why = 'hand' AND state IN ('planned', 'making')",
            new { report },
            transaction
        );
        if (open > 0)
            return null;
        var (id, due) = (NewId(), clock.GetUtcNow());
        // One that is due at this very moment already is another.
        while (
            connection.Execute(
                InsertRun,
                new
                {
                    id,
                    report,
                    due,
                    next = clock.GetUtcNow(),
                    why = "hand",
                    askedBy,
                },
                transaction
            ) == 0
        )
            due = due.AddTicks(1);
        transaction.Commit();
        return id;
    }

    /// <summary>Has people told something by mail.</summary>
    /// <param name="about">What it is about, which no report is called; such runs are in no list of reports.</param>
    /// <param name="people">Who, and what each is told: the first line is the subject.</param>
    public void Tell(string about, IReadOnlyList<(string Reader, string Title, string Address, string Words)> people)
    {
        if (people.Count == 0)
            return;
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var (id, now) = (NewId(), clock.GetUtcNow());
        connection.Execute(
            "INSERT INTO runs (id, report, due, why, state, begun, attempts, next, statements, milliseconds) "
                + "VALUES (@id, @report, @now, 'remark', 'sending', @now, 1, @now, 0, 0)",
            new
            {
                id,
                // Each by itself: two at one moment are two.
                report = $"remark:{about}:{id}",
                now,
            },
            transaction
        );
        foreach (var (reader, title, address, words) in people)
            Insert(new Delivery(id, reader, title, "mail", address, "ready", 0, now, null, null, null, words), connection, transaction);
        transaction.Commit();
    }

    /// <summary>
    /// What a service that ended in the middle leaves: what was being handed over is unsure, but for files in folders, which are written
    /// under one name however often, and for tables, which know their runs.
    /// </summary>
    public void TakeUp()
    {
        using var connection = database.Connect();
        connection.Execute(
            "UPDATE deliveries SET state = CASE WHEN way IN ('folder', 'table') THEN 'ready' ELSE 'unsure' END, "
                + "reason = CASE WHEN way IN ('folder', 'table') THEN reason ELSE 'The service ended while it was handed over: it may have arrived.' END "
                + "WHERE state = 'handing'"
        );
    }

    /// <summary>The runs that are to be made now, those that were begun and not ended too, the one that is due first before others.</summary>
    public IReadOnlyList<Run> ToMake()
    {
        using var connection = database.Connect();
        return
        [
            .. connection.Query<Run>(
                $"SELECT {RunColumns} FROM runs WHERE state IN ('planned', 'making') AND next <= @now ORDER BY due LIMIT 50",
                new { now = clock.GetUtcNow() }
            ),
        ];
    }

    /// <summary>Notes that a run is being made, of which version.</summary>
    public void Begin(string run, long version)
    {
        using var connection = database.Connect();
        connection.Execute(
            "UPDATE runs SET state = 'making', version = @version, begun = COALESCE(begun, @now), attempts = attempts + 1 WHERE id = @run",
            new
            {
                run,
                version,
                now = clock.GetUtcNow(),
            }
        );
    }

    /// <summary>Stores what readers of equal rights get, with its file: from here on it will be sent.</summary>
    /// <param name="file">The file; null where they get none.</param>
    public void Add(IReadOnlyList<Delivery> deliveries, RunFile? file)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        if (file is not null)
            connection.Execute(
                "INSERT INTO run_files (id, run, name, media_type, content, message, picture) "
                    + "VALUES (@Id, @run, @Name, @MediaType, @Content, @Message, @Picture)",
                new
                {
                    file.Id,
                    run = deliveries[0].Run,
                    file.Name,
                    file.MediaType,
                    file.Content,
                    file.Message,
                    file.Picture,
                },
                transaction
            );
        foreach (var delivery in deliveries)
            Insert(delivery, connection, transaction);
        transaction.Commit();
    }

    private static void Insert(Delivery delivery, SqliteConnection connection, SqliteTransaction transaction) =>
        connection.Execute(
            "INSERT INTO deliveries (run, reader, title, way, address, state, attempts, next, reason, at, file, words) "
                + "VALUES (@Run, @Reader, @Title, @Way, @Address, @State, 0, @Next, @Reason, @At, @File, @Words) ON CONFLICT DO NOTHING",
            delivery,
            transaction
        );

    /// <summary>Puts a run that could not be made back, to be made again.</summary>
    public void TryAgain(string run, string reason, DateTimeOffset next, long statements, long milliseconds)
    {
        using var connection = database.Connect();
        connection.Execute(
            "UPDATE runs SET state = 'planned', reason = @reason, next = @next, statements = statements + @statements, "
                + "milliseconds = milliseconds + @milliseconds WHERE id = @run",
            new
            {
                run,
                reason,
                next,
                statements,
                milliseconds,
            }
        );
    }

    /// <summary>Notes that all that a run sends is made.</summary>
    /// <param name="reason">What is to be known of it; null for nothing.</param>
    public void Made(string run, string? reason, long statements, long milliseconds)
    {
        using var connection = database.Connect();
        connection.Execute(
            "UPDATE runs SET state = 'sending', reason = @reason, statements = statements + @statements, "
                + "milliseconds = milliseconds + @milliseconds WHERE id = @run",
            new
            {
                run,
                reason,
                statements,
                milliseconds,
            }
        );
    }

    /// <summary>What is to be handed over now.</summary>
    /// <param name="way">mail, folder, call or table.</param>
    public IReadOnlyList<Delivery> ToSend(string way)
    {
        using var connection = database.Connect();
        return
        [
            .. connection.Query<Delivery>(
                $"SELECT {DeliveryColumns} FROM deliveries WHERE state = 'ready' AND way = @way AND next <= @now "
                    + "ORDER BY next, run, reader LIMIT 200",
                new { way, now = clock.GetUtcNow() }
            ),
        ];
    }

    /// <summary>Notes, on the disk, that something is being handed over. False if it is not there to be handed over.</summary>
    public bool HandOver(Delivery delivery) => Move(delivery, "ready", "handing", null, null);

    /// <summary>Notes that it was taken.</summary>
    public void Sent(Delivery delivery) => Move(delivery, "handing", "sent", null, null);

    /// <summary>Notes how handing over ended otherwise.</summary>
    /// <param name="state">ready to try it again, or failed or unsure.</param>
    public void NotSent(Delivery delivery, string state, string reason, DateTimeOffset? next) =>
        Move(delivery, "handing", state, reason, next);

    /// <summary>Sends something again that failed or of which it is unsure whether it arrived. False if it is neither.</summary>
    public bool SendAgain(string run, string reader)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var values = new
        {
            run,
            reader,
            now = clock.GetUtcNow(),
        };
        var moved = connection.Execute(
            "UPDATE deliveries SET state = 'ready', attempts = 0, next = @now WHERE run = @run AND reader = @reader "
                + "AND state IN ('failed', 'unsure') AND file IN (SELECT id FROM run_files)",
            values,
            transaction
        );
        if (moved > 0)
            connection.Execute("UPDATE runs SET state = 'sending', ended = NULL WHERE id = @run", values, transaction);
        transaction.Commit();
        return moved > 0;
    }

    private bool Move(Delivery delivery, string from, string to, string? reason, DateTimeOffset? next)
    {
        using var connection = database.Connect();
        return connection.Execute(
                "UPDATE deliveries SET state = @to, reason = @reason, at = @now, next = COALESCE(@next, next), "
                    + "attempts = attempts + CASE WHEN @to = 'handing' THEN 1 ELSE 0 END WHERE run = @Run AND reader = @Reader AND state = @from",
                new
                {
                    delivery.Run,
                    delivery.Reader,
                    from,
                    to,
                    reason,
                    now = clock.GetUtcNow(),
                    next,
                }
            ) > 0;
    }

    /// <summary>The runs of which all is handed over or given up, but for what their owners are told.</summary>
    public IReadOnlyList<Run> ToEnd()
    {
        using var connection = database.Connect();
        return
        [
            .. connection.Query<Run>(
                $"SELECT {RunColumns} FROM runs r WHERE state = 'sending' AND NOT EXISTS "
                    + "(SELECT 1 FROM deliveries d WHERE d.run = r.id AND d.state IN ('ready', 'handing') AND d.reader NOT LIKE 'owner:%')"
            ),
        ];
    }

    /// <summary>Ends a run, and has its owners told in the same step.</summary>
    /// <param name="notices">What they are told; none for nothing.</param>
    public void End(string run, string state, string? reason, IReadOnlyList<Delivery> notices)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        connection.Execute(
            "UPDATE runs SET state = @state, reason = COALESCE(@reason, reason), ended = @now WHERE id = @run",
            new
            {
                run,
                state,
                reason,
                now = clock.GetUtcNow(),
            },
            transaction
        );
        foreach (var notice in notices)
            Insert(notice, connection, transaction);
        transaction.Commit();
    }

    /// <summary>True if owners were told the same of a report since a time.</summary>
    public bool WasToldOf(string report, string words, DateTimeOffset since)
    {
        using var connection = database.Connect();
        return connection.ExecuteScalar<long>(
                "SELECT count(*) FROM deliveries d JOIN runs r ON r.id = d.run WHERE r.report = @report AND d.reader LIKE 'owner:%' "
                    + "AND d.words = @words AND r.due >= @since",
                new
                {
                    report,
                    words,
                    since,
                }
            ) > 0;
    }

    /// <summary>When a reader last got a report, or will have got it; null for never.</summary>
    public DateTimeOffset? LastTo(string report, string reader)
    {
        using var connection = database.Connect();
        var last = connection.ExecuteScalar<DateTimeOffset?>(
            "SELECT max(COALESCE(d.at, d.next)) FROM deliveries d JOIN runs r ON r.id = d.run "
                + "WHERE r.report = @report AND d.reader = @reader AND d.state IN ('ready', 'handing', 'sent', 'unsure')",
            new { report, reader }
        );
        return last;
    }

    /// <summary>The newest runs first.</summary>
    /// <param name="report">Of one report only; null for all but those of subscriptions.</param>
    public IReadOnlyList<Run> Newest(string? report, int count)
    {
        using var connection = database.Connect();
        return
        [
            .. connection.Query<Run>(
                $"SELECT {RunColumns} FROM runs WHERE (@report IS NULL AND report NOT LIKE 'subscription:%' AND report NOT LIKE 'remark:%') OR report = @report "
                    + "ORDER BY due DESC, id LIMIT @count",
                new { report, count }
            ),
        ];
    }

    /// <summary>A run; null if there is none.</summary>
    public Run? Find(string id)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<Run>($"SELECT {RunColumns} FROM runs WHERE id = @id", new { id });
    }

    /// <summary>What the readers of a run get.</summary>
    public IReadOnlyList<Delivery> DeliveriesOf(string run)
    {
        using var connection = database.Connect();
        return
        [
            .. connection.Query<Delivery>($"SELECT {DeliveryColumns} FROM deliveries WHERE run = @run ORDER BY title, reader", new { run }),
        ];
    }

    /// <summary>What was sent to a reader, the newest first, with the name of its file.</summary>
    public IReadOnlyList<(Run Run, Delivery Delivery, string? FileName)> To(string reader, int count)
    {
        using var connection = database.Connect();
        var sent = connection
            .Query<Delivery>(
                $"SELECT {DeliveryColumns} FROM deliveries WHERE reader = @reader AND state IN ('ready', 'handing', 'sent', 'unsure', 'failed') "
                    // What somebody is told in words only is no report.
                    + "AND words IS NULL ORDER BY (SELECT due FROM runs WHERE id = run) DESC, run LIMIT @count",
                new { reader, count }
            )
            .ToList();
        return
        [
            .. sent.Select(d =>
                (
                    connection.QueryFirst<Run>($"SELECT {RunColumns} FROM runs WHERE id = @Run", new { d.Run }),
                    d,
                    connection.ExecuteScalar<string?>("SELECT name FROM run_files WHERE id = @File", new { d.File })
                )
            ),
        ];
    }

    /// <summary>A file of a run; null if it is there no longer.</summary>
    public RunFile? FileOf(string id)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<RunFile>(
            "SELECT id, name, media_type AS MediaType, content, message, picture FROM run_files WHERE id = @id",
            new { id }
        );
    }

    /// <summary>How large the files of a run are together, with the pictures in their messages.</summary>
    public long BytesOf(string run)
    {
        using var connection = database.Connect();
        return connection.ExecuteScalar<long>(
            "SELECT COALESCE(sum(length(content) + COALESCE(length(picture), 0)), 0) FROM run_files WHERE run = @run",
            new { run }
        );
    }

    /// <summary>Forgets runs that ended before a time, with their files.</summary>
    public void Forget(DateTimeOffset before)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var values = new { before };
        const string Old = "(SELECT id FROM runs WHERE ended < @before)";
        connection.Execute($"DELETE FROM run_files WHERE run IN {Old}", values, transaction);
        connection.Execute($"DELETE FROM deliveries WHERE run IN {Old}", values, transaction);
        connection.Execute("DELETE FROM runs WHERE ended < @before", values, transaction);
        transaction.Commit();
    }

    private static string NewId() => Guid.NewGuid().ToString("N");
}
