using System.Diagnostics;
using System.Text;
using System.Text.Json;

namespace Weir.Engines.Workers;

/// <summary>Why a worker was ended in the middle of a task.</summary>
internal enum WorkerEnd
{
    Memory,
    Time,
    Size,
    Died,
}

/// <summary>A worker that was ended, or ended by itself, in the middle of a task.</summary>
internal sealed class WorkerEndedException(WorkerEnd end) : Exception($"The worker ended: {end}.")
{
    public WorkerEnd End { get; } = end;
}

/// <summary>
/// A process that runs what somebody typed, one task at a time. It is watched from outside: what takes too much memory or time is
/// ended with it, whatever the engine inside makes of its own limits. It knows no secret and no variable of the service's environment.
/// </summary>
internal sealed class WorkerProcess : IDisposable
{
    /// <summary>What the process takes without any task, in bytes, with room to spare.</summary>
    private const long OwnMemory = 256L << 20;

    /// <summary>How often its memory is looked at.</summary>
    private static readonly TimeSpan Look = TimeSpan.FromMilliseconds(50);

    /// <summary>How long it may take to end a task that is cancelled or has had its time.</summary>
    private static readonly TimeSpan Grace = TimeSpan.FromMilliseconds(1500);

    /// <summary>A longer answer is not taken.</summary>
    private const int LongestAnswer = 256 << 20;

    private readonly Process _process;
    private readonly Stream _answers;
    private readonly byte[] _buffer = new byte[64 << 10];
    private int _from;
    private int _until;

    private WorkerProcess(Process process)
    {
        _process = process;
        _answers = process.StandardOutput.BaseStream;
    }

    /// <summary>Starts one.</summary>
    /// <exception cref="SourceException">The program is not there or can't be started.</exception>
    public static WorkerProcess Start(string program, int memoryMb)
    {
        var info = new ProcessStartInfo(program)
        {
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            StandardInputEncoding = new UTF8Encoding(encoderShouldEmitUTF8Identifier: false),
            WorkingDirectory = Path.GetTempPath(),
        };
        foreach (
            var name in info
                .Environment.Keys.Where(k =>
                    k is not ("PATH" or "HOME" or "LANG" or "TZ" or "TMPDIR" or "DOTNET_ROOT" or "SSL_CERT_FILE" or "SSL_CERT_DIR")
                )
                .ToList()
        )
            info.Environment.Remove(name);
        info.Environment["DOTNET_GCHeapHardLimit"] = $"{((long)memoryMb << 20) + (OwnMemory / 2):X}";
        // No way in for tools of whoever else is on the machine.
        info.Environment["DOTNET_EnableDiagnostics"] = "0";
        try
        {
            var process = Process.Start(info)!;
            // What it says is not for the log: it may hold values. It is read all the same, so that it is never held up.
            process.ErrorDataReceived += (_, _) => { };
            process.BeginErrorReadLine();
            return new WorkerProcess(process);
        }
        catch (Exception e) when (e is System.ComponentModel.Win32Exception or IOException)
        {
            throw new SourceException(
                "source-unavailable",
                "The worker that runs typed queries can't be started.",
                "Put the service's files in place again: Weir.Worker stands beside it.",
                e
            );
        }
    }

    /// <summary>False once it ended.</summary>
    public bool IsAlive => !_process.HasExited;

    /// <summary>Does a task. Whatever is thrown, the process is good for nothing any more, except after an answer.</summary>
    /// <exception cref="WorkerEndedException">It was ended.</exception>
    /// <exception cref="OperationCanceledException">Nobody waits any more.</exception>
    /// <param name="piece">Takes the pieces of an answer that comes in some.</param>
    public async Task<JsonDocument> Do(
        WorkerTask task,
        long memoryMb,
        TimeSpan limit,
        Action<JsonElement>? piece,
        CancellationToken cancellation
    )
    {
        using var over = new CancellationTokenSource();
        var end = WorkerEnd.Died;
        void End(WorkerEnd why)
        {
            end = why;
            Kill();
        }
        var watching = Watch(memoryMb, limit, () => End(WorkerEnd.Memory), () => End(WorkerEnd.Time), over.Token);
        try
        {
            await _process.StandardInput.WriteLineAsync(JsonSerializer.Serialize(task, WorkerMessages.Options));
            await _process.StandardInput.FlushAsync(CancellationToken.None);
            // Only once the task is written: two writers at once would write into each other, and what is not begun can't be cancelled.
            using var cancelled = cancellation.Register(() => _ = Cancel(over.Token));
            var answer = await ReadLine(() => End(WorkerEnd.Size));
            while (piece is not null && answer?.RootElement.GetProperty("Piece") is { ValueKind: JsonValueKind.Array } some)
            {
                using (answer)
                    piece(some);
                cancellation.ThrowIfCancellationRequested();
                answer = await ReadLine(() => End(WorkerEnd.Size));
            }
            cancellation.ThrowIfCancellationRequested();
            return answer ?? throw new WorkerEndedException(end);
        }
        catch (Exception e) when (e is IOException or ObjectDisposedException or JsonException)
        {
            cancellation.ThrowIfCancellationRequested();
            throw new WorkerEndedException(end);
        }
        finally
        {
            await over.CancelAsync();
            await watching;
        }
    }

    private async Task Watch(long memoryMb, TimeSpan limit, Action tooMuch, Action tooLong, CancellationToken over)
    {
        var clock = Stopwatch.StartNew();
        using var timer = new PeriodicTimer(Look);
        try
        {
            while (await timer.WaitForNextTickAsync(over))
                if (Resident() > (memoryMb << 20) + OwnMemory)
                    tooMuch();
                else if (clock.Elapsed > limit + Grace)
                    tooLong();
        }
        catch (OperationCanceledException)
        {
            // The task is over.
        }
    }

    /// <summary>The memory that the process holds just now, in bytes; 0 once it ended.</summary>
    private long Resident()
    {
        try
        {
            return long.Parse(
                    File.ReadAllText($"/proc/{_process.Id}/statm").Split(' ')[1],
                    System.Globalization.CultureInfo.InvariantCulture
                ) * Environment.SystemPageSize;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or InvalidOperationException)
        {
            return 0;
        }
    }

    /// <summary>Asks it to cancel, so that the database stops too; ends it if it does not.</summary>
    private async Task Cancel(CancellationToken over)
    {
        try
        {
            await _process.StandardInput.WriteLineAsync();
            await _process.StandardInput.FlushAsync(CancellationToken.None);
            await Task.Delay(Grace, over);
            Kill();
        }
        catch (Exception e) when (e is OperationCanceledException or IOException or InvalidOperationException)
        {
            // It answered meanwhile, or is gone.
        }
    }

    /// <summary>A line of its answers as JSON; null if it ended.</summary>
    private async Task<JsonDocument?> ReadLine(Action tooLong)
    {
        using var line = new MemoryStream();
        while (true)
        {
            if (_from == _until)
            {
                (_from, _until) = (0, await _answers.ReadAsync(_buffer));
                if (_until == 0)
                    return null;
            }
            var end = Array.IndexOf(_buffer, (byte)'\n', _from, _until - _from);
            line.Write(_buffer, _from, (end >= 0 ? end : _until) - _from);
            // What comes after the line belongs to the next.
            _from = end >= 0 ? end + 1 : _until;
            if (end >= 0)
                return JsonDocument.Parse(line.GetBuffer().AsMemory(0, (int)line.Length).ToArray());
            if (line.Length <= LongestAnswer)
                continue;
            tooLong();
            return null;
        }
    }

    private void Kill()
    {
        try
        {
            _process.Kill();
        }
        catch (Exception e) when (e is InvalidOperationException or System.ComponentModel.Win32Exception)
        {
            // It ended by itself.
        }
    }

    public void Dispose()
    {
        Kill();
        _process.Dispose();
    }
}
