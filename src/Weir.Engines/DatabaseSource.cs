using System.Data.Common;
using System.Globalization;
using System.Numerics;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines;

/// <summary>
/// What all sources that are reached through an ADO.NET driver have in common: how many may ask at once, for how long
/// they wait, the time limit, cancelling, and values in Weir's types. An engine says how to connect, for reading only.
/// </summary>
public abstract partial class DatabaseSource(Source source) : IEngineSource
{
    private readonly Turns _turns = new(source);

    /// <summary>The source as defined.</summary>
    protected Source Source { get; } = source;

    /// <inheritdoc/>
    public abstract ICatalog Catalog { get; }

    /// <inheritdoc/>
    public virtual long DataVersion => 0;

    /// <inheritdoc/>
    public virtual Task<IReadOnlyList<Unfit>> Unfit(CancellationToken cancellation) => Task.FromResult<IReadOnlyList<Unfit>>([]);

    /// <inheritdoc/>
    public virtual Task Prepare(CancellationToken cancellation) => Task.CompletedTask;

    /// <summary>A connection that can only read, with the time limit set at the database where it has one.</summary>
    /// <exception cref="SourceException">It can't be had.</exception>
    protected abstract DbConnection Connect(CancellationToken cancellation);

    /// <summary>Takes a connection back after a statement that went well, or closes it for good.</summary>
    protected virtual void Return(DbConnection connection, bool isSound) => connection.Dispose();

    /// <summary>A command with its parameters, which tells the database of the viewer first.</summary>
    protected abstract DbCommand Command(DbConnection connection, SqlText sql, IReadOnlyDictionary<string, string> session);

    /// <summary>
    /// Has the engine itself look at a statement in which a developer typed SQL, before it is run: that it is one SELECT, and that
    /// it calls nothing that writes or reaches out. What Weir's own reader of SQL made sure of is made sure of again.
    /// </summary>
    /// <exception cref="SourceException">The engine reads something else in it.</exception>
    protected virtual void CheckTyped(DbConnection connection, SqlText sql)
    {
        var first = new string([.. sql.Text.TrimStart().TakeWhile(char.IsAsciiLetter)]).ToUpperInvariant();
        if (first is not ("SELECT" or "WITH"))
            throw MoreThanASelect("It begins with neither SELECT nor WITH.");
    }

    /// <summary>A statement in which the engine found more than a SELECT.</summary>
    protected SourceException MoreThanASelect(string what) =>
        new(
            "query-failed",
            $"{Source.Title} refused the query.",
            "Its developer finds the cause with weir check --connect and in the service's log.",
            new InvalidOperationException(what)
        );

    /// <summary>Stops a command that runs.</summary>
    protected virtual void Cancel(DbCommand command) => command.Cancel();

    /// <summary>True if the failure means that the database is gone or full rather than that it refuses the statement.</summary>
    protected abstract bool IsUnreachable(DbException error);

    /// <summary>True if the failure means that the database's own time limit stopped the statement, which may be a moment before ours.</summary>
    protected virtual bool IsTimeLimit(DbException error) => false;

    /// <inheritdoc/>
    public Task<IReadOnlyList<object?[]>> Read(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        CancellationToken cancellation
    ) => Ask(sql, reader => Rows(reader, kinds), session, cancellation);

    /// <inheritdoc/>
    public Task ReadInPieces(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        Action<IReadOnlyList<object?[]>> take,
        CancellationToken cancellation
    ) =>
        Ask(
            sql,
            reader =>
            {
                while (Rows(reader, kinds, RowsAPiece) is [{ Length: > 0 }, ..] piece)
                    take(piece);
                return true;
            },
            session,
            cancellation,
            InPieces
        );

    /// <summary>Has a driver that would hold the whole answer give it piece by piece; most do that by themselves.</summary>
    protected virtual void InPieces(DbCommand command) { }

    /// <summary>How many rows are held at once where they are read in pieces.</summary>
    private const int RowsAPiece = 2_000;

    /// <inheritdoc/>
    public Task<IReadOnlyList<(string Name, string Type)>> Describe(
        SqlText sql,
        IReadOnlyDictionary<string, string> session,
        CancellationToken cancellation
    ) =>
        Ask<IReadOnlyList<(string, string)>>(
            sql,
            reader => [.. Enumerable.Range(0, reader.FieldCount).Select(i => (reader.GetName(i), reader.GetDataTypeName(i)))],
            session,
            cancellation
        );

    private async Task<T> Ask<T>(
        SqlText sql,
        Func<DbDataReader, T> take,
        IReadOnlyDictionary<string, string> session,
        CancellationToken cancellation,
        Action<DbCommand>? prepare = null
    )
    {
        var limit = TimeSpan.FromSeconds(Source.Limits.Seconds);
        await _turns.Wait(limit, cancellation);
        // Drivers block their thread while the database works. The slot is taken until they are back: a database that does not
        // even answer to being cancelled is not asked more and more, but nobody waits for it.
        var asked = Task.Run(() => AskNow(sql, take, session, limit, prepare, cancellation), CancellationToken.None);
        _ = asked.ContinueWith(
            t =>
            {
                _ = t.Exception;
                _turns.Done();
            },
            CancellationToken.None,
            TaskContinuationOptions.ExecuteSynchronously,
            TaskScheduler.Default
        );
        try
        {
            return await asked.WaitAsync(limit + Grace, cancellation);
        }
        catch (TimeoutException e)
        {
            throw TimeLimit(e);
        }
    }

    /// <summary>How long a cancelled statement may take to end before nobody waits for it any more.</summary>
    private static readonly TimeSpan Grace = TimeSpan.FromSeconds(1);

    private SourceException TimeLimit(Exception cause) =>
        new(
            "time-limit",
            $"The query ran longer than {Source.Limits.Seconds} s and was stopped.",
            "Filter to fewer rows, or raise limits.seconds of the source.",
            cause
        );

    private T AskNow<T>(
        SqlText sql,
        Func<DbDataReader, T> take,
        IReadOnlyDictionary<string, string> session,
        TimeSpan limit,
        Action<DbCommand>? prepare,
        CancellationToken cancellation
    )
    {
        using var timer = new CancellationTokenSource(limit);
        using var both = CancellationTokenSource.CreateLinkedTokenSource(timer.Token, cancellation);
        DbConnection? connection = null;
        var isSound = false;
        try
        {
            connection = Connect(both.Token);
            var rows = Run(connection, sql, take, session, prepare, both.Token);
            isSound = true;
            return rows;
        }
        catch (Exception e)
            when (e
                    is DbException
                        or OperationCanceledException
                        or InvalidCastException
                        or OverflowException
                        or FormatException
                        or TimeoutException
                        or IOException
                        or InvalidOperationException
            )
        {
            cancellation.ThrowIfCancellationRequested();
            if (timer.IsCancellationRequested || e is TimeoutException || (e is DbException stopped && IsTimeLimit(stopped)))
                throw TimeLimit(e);
            if (e is IOException || (e is DbException error && IsUnreachable(error)))
                throw new SourceException(
                    "source-unavailable",
                    $"The connection to {Source.Title} broke.",
                    "Try again; if it stays so, see whether the database runs.",
                    e
                );
            // The engine's own words may name columns that the viewer must not know: they are for the log and for weir check.
            throw new SourceException(
                "query-failed",
                $"{Source.Title} refused the query.",
                "Its developer finds the cause with weir check --connect and in the service's log.",
                new InvalidOperationException(WithoutValues(e.Message, sql.Text))
            );
        }
        finally
        {
            if (connection is not null)
                Return(connection, isSound);
        }
    }

    /// <summary>
    /// A driver's message without the values of rows that it may quote: what stands in quotation marks stays only if it stands in the
    /// statement too, as names do.
    /// </summary>
    internal static string WithoutValues(string message, string sql) =>
        Quoted()
            .Replace(
                SqliteMessage().Replace(message, "$1"),
                m =>
                    sql.Contains(m.Groups[2].Value, StringComparison.OrdinalIgnoreCase)
                        ? m.Value
                        : $"{m.Groups[1].Value}…{m.Groups[1].Value}"
            );

    /// <summary>SQLite's driver puts the whole message into quotation marks.</summary>
    [System.Text.RegularExpressions.GeneratedRegex(@"^SQLite Error \d+: '(.*)'\.$", System.Text.RegularExpressions.RegexOptions.Singleline)]
    private static partial System.Text.RegularExpressions.Regex SqliteMessage();

    [System.Text.RegularExpressions.GeneratedRegex("""(['"`])(.*?)\1""", System.Text.RegularExpressions.RegexOptions.Singleline)]
    private static partial System.Text.RegularExpressions.Regex Quoted();

    private T Run<T>(
        DbConnection connection,
        SqlText sql,
        Func<DbDataReader, T> take,
        IReadOnlyDictionary<string, string> session,
        Action<DbCommand>? prepare,
        CancellationToken cancellation
    )
    {
        if (sql.Typed is not null)
            CheckTyped(connection, sql);
        using var command = Command(connection, sql, session);
        prepare?.Invoke(command);
        cancellation.ThrowIfCancellationRequested();
        var gate = new Lock();
        var isOver = false;
        using var registration = cancellation.Register(() => _ = Task.Run(() => CancelUntil(command, gate, () => isOver)));
        try
        {
            using var reader = command.ExecuteReader();
            var taken = take(reader);
            // Some drivers report a failure in the middle of the rows only here.
            while (reader.NextResult()) { }
            cancellation.ThrowIfCancellationRequested();
            return taken;
        }
        finally
        {
            lock (gate)
                isOver = true;
        }
    }

    /// <summary>
    /// Cancels again and again until the command is over: one that comes between the last look and the moment when the command
    /// reaches the database would be lost. The gate keeps it from a connection that another question has by then.
    /// </summary>
    private async Task CancelUntil(DbCommand command, Lock gate, Func<bool> isOver)
    {
        while (true)
        {
            lock (gate)
            {
                if (isOver())
                    return;
                try
                {
                    Cancel(command);
                }
                catch (Exception e) when (e is DbException or InvalidOperationException or IOException or TimeoutException)
                {
                    // The way to the database is blocked for the moment; it is tried again, and the time limit holds.
                }
            }
            await Task.Delay(100, CancellationToken.None);
        }
    }

    private IReadOnlyList<object?[]> Rows(DbDataReader reader, IReadOnlyList<ValueKind> kinds, int most = int.MaxValue)
    {
        var columns = kinds.Select(_ => new List<object?>()).ToList();
        for (var row = 0; row < most && reader.Read(); row++)
        for (var c = 0; c < kinds.Count; c++)
            columns[c].Add(reader.IsDBNull(c) ? null : Convert(Value(reader, c, kinds[c]), kinds[c]));
        return [.. columns.Select(c => c.ToArray())];
    }

    /// <summary>The driver's value of a column.</summary>
    protected virtual object Value(DbDataReader reader, int column, ValueKind kind) => reader.GetValue(column);

    /// <summary>The driver's value in Weir's type.</summary>
    protected virtual object Convert(object value, ValueKind kind)
    {
        var invariant = CultureInfo.InvariantCulture;
        return kind switch
        {
            ValueKind.Integer => value is BigInteger big ? (long)big
            : value is long ? value
            : System.Convert.ToInt64(value, invariant),
            ValueKind.Decimal => value is BigInteger whole ? (decimal)whole
            : value is string digits ? decimal.Parse(digits, NumberStyles.Float, invariant)
            : System.Convert.ToDecimal(value, invariant),
            ValueKind.Float => value is BigInteger number ? (double)number : System.Convert.ToDouble(value, invariant),
            ValueKind.Boolean => value is bool ? value : System.Convert.ToInt64(value, invariant) != 0,
            ValueKind.Date => value switch
            {
                DateTime at => DateOnly.FromDateTime(at),
                string text => DateOnly.ParseExact(text.AsSpan(0, 10), "yyyy-MM-dd", invariant),
                _ => (DateOnly)value,
            },
            ValueKind.Timestamp => value switch
            {
                DateOnly day => day.ToDateTime(TimeOnly.MinValue),
                DateTimeOffset instant => instant.UtcDateTime,
                string text => DateTime.Parse(text, invariant, DateTimeStyles.None),
                _ => DateTime.SpecifyKind((DateTime)value, DateTimeKind.Unspecified),
            },
            _ => Text(value),
        };
    }

    /// <summary>A value of any type as text, as Weir casts it.</summary>
    protected static string Text(object value) =>
        value switch
        {
            string s => s,
            bool b => b ? "true" : "false",
            DateOnly d => d.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            DateTime t => t.ToString(t.TimeOfDay == TimeSpan.Zero ? "yyyy-MM-dd" : "yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture),
            byte[] bytes => System.Convert.ToHexString(bytes),
            _ => System.Convert.ToString(value, CultureInfo.InvariantCulture)!,
        };

    /// <inheritdoc/>
    public abstract ValueTask DisposeAsync();
}
