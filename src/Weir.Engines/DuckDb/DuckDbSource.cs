using System.Collections.Concurrent;
using System.Data;
using System.Globalization;
using System.Numerics;
using DuckDB.NET.Data;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Queries;

namespace Weir.Engines.DuckDb;

/// <summary>A DuckDB file, opened for reading only, with no way to other files and its settings locked.</summary>
internal sealed class DuckDbSource(Source source, string filesFolder) : IEngineSource
{
    /// <summary>More questions than this don't wait: they are told at once that the source is busy.</summary>
    private const int MaximumWaiting = 500;

    private readonly SemaphoreSlim _slots = new(source.Limits.AtOnce);
    private int _waiting;
    private readonly ConcurrentBag<DuckDBConnection> _idle = [];

    public async Task<IReadOnlyList<object?[]>> Read(SqlText sql, IReadOnlyList<ValueKind> kinds, CancellationToken cancellation)
    {
        var limit = TimeSpan.FromSeconds(source.Limits.Seconds);
        await WaitForSlot(limit, cancellation);
        try
        {
            // The driver blocks its thread while the database works.
            return await Task.Run(() => ReadNow(sql, kinds, limit, cancellation), cancellation);
        }
        finally
        {
            _slots.Release();
        }
    }

    private async Task WaitForSlot(TimeSpan limit, CancellationToken cancellation)
    {
        try
        {
            if (Interlocked.Increment(ref _waiting) > MaximumWaiting || !await _slots.WaitAsync(limit, cancellation))
                throw new SourceException("source-busy", $"{source.Title} is busy with other queries.", "Try again in a moment.");
        }
        finally
        {
            Interlocked.Decrement(ref _waiting);
        }
    }

    private List<object?[]> ReadNow(SqlText sql, IReadOnlyList<ValueKind> kinds, TimeSpan limit, CancellationToken cancellation)
    {
        using var timer = new CancellationTokenSource(limit);
        using var both = CancellationTokenSource.CreateLinkedTokenSource(timer.Token, cancellation);
        DuckDBConnection? connection = null;
        try
        {
            connection = _idle.TryTake(out var idle) ? idle : Connect();
            var rows = Run(connection, sql, kinds, both.Token);
            _idle.Add(connection);
            return rows;
        }
        catch (Exception e) when (e is DuckDBException or OperationCanceledException or InvalidCastException or OverflowException)
        {
            connection?.Dispose();
            cancellation.ThrowIfCancellationRequested();
            if (timer.IsCancellationRequested)
                throw new SourceException("time-limit", $"The query ran longer than {source.Limits.Seconds} s and was stopped.", "Filter to fewer rows, or raise limits.seconds of the source.", e);
            // The engine's own words may name columns that the viewer must not know: they are for the log and for weir check.
            throw new SourceException("query-failed", $"{source.Title} refused the query.", "Its developer finds the cause with weir check --connect and in the service's log.", e);
        }
    }

    private static List<object?[]> Run(DuckDBConnection connection, SqlText sql, IReadOnlyList<ValueKind> kinds, CancellationToken cancellation)
    {
        using var command = connection.CreateCommand();
        command.CommandText = sql.Text;
        foreach (var parameter in sql.Parameters)
            command.Parameters.Add(new DuckDBParameter(parameter.Value ?? DBNull.Value));
        cancellation.ThrowIfCancellationRequested();
        using var registration = cancellation.Register(command.Cancel);
        using var reader = command.ExecuteReader();
        var columns = kinds.Select(_ => new List<object?>()).ToList();
        while (reader.Read())
            for (var c = 0; c < kinds.Count; c++)
                columns[c].Add(reader.IsDBNull(c) ? null : Convert(reader.GetValue(c), kinds[c]));
        cancellation.ThrowIfCancellationRequested();
        return [.. columns.Select(c => c.ToArray())];
    }

    private DuckDBConnection Connect()
    {
        var folder = Path.GetFullPath(filesFolder);
        var path = Path.GetFullPath(Path.Combine(folder, Secrets.Resolve(source.File)));
        if (!path.StartsWith(folder + Path.DirectorySeparatorChar, StringComparison.Ordinal))
            throw new SourceException("source-unavailable", $"The file of {source.Title} lies outside the service's folder of files.", "Give a file name without .. or a leading /.");
        if (!File.Exists(path))
            throw new SourceException("source-unavailable", $"The database file of {source.Title} is not there.", $"Put {source.File} into the service's folder of files.");
        var settings = new DuckDBConnectionStringBuilder
        {
            DataSource = path,
            ["access_mode"] = "READ_ONLY",
            ["enable_external_access"] = "false",
            ["autoinstall_known_extensions"] = "false",
            ["autoload_known_extensions"] = "false",
            ["memory_limit"] = $"{source.Limits.MemoryMb}MB",
            ["lock_configuration"] = "true",
        };
        var connection = new DuckDBConnection(settings.ConnectionString);
        try
        {
            connection.Open();
            return connection;
        }
        catch (DuckDBException e)
        {
            connection.Dispose();
            throw new SourceException("source-unavailable", $"The database of {source.Title} can't be opened: {(e.Message.Contains("lock", StringComparison.OrdinalIgnoreCase) ? "another program holds its file." : FirstLine(e.Message).Replace(path, Path.GetFileName(path)))}", "Close other programs that write to the file, then try again.", e);
        }
    }

    private static object Convert(object value, ValueKind kind) => kind switch
    {
        ValueKind.Integer => value is BigInteger big ? (long)big : System.Convert.ToInt64(value, CultureInfo.InvariantCulture),
        ValueKind.Decimal => value is BigInteger whole ? (decimal)whole : System.Convert.ToDecimal(value, CultureInfo.InvariantCulture),
        ValueKind.Float => value is BigInteger number ? (double)number : System.Convert.ToDouble(value, CultureInfo.InvariantCulture),
        ValueKind.Boolean => (bool)value,
        ValueKind.Date => value is DateTime at ? DateOnly.FromDateTime(at) : (DateOnly)value,
        ValueKind.Timestamp => value is DateOnly day ? day.ToDateTime(TimeOnly.MinValue) : (DateTime)value,
        _ => System.Convert.ToString(value, CultureInfo.InvariantCulture)!,
    };

    private static string FirstLine(string message) => message.Split('\n', 2)[0];

    public ValueTask DisposeAsync()
    {
        while (_idle.TryTake(out var connection))
            connection.Dispose();
        return ValueTask.CompletedTask;
    }
}
