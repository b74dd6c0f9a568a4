using System.Text.Json;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.Workers;

/// <summary>The workers of one source: as many as it may be asked at once, started at first need, ended when nobody needs them for a while.</summary>
internal sealed class WorkerPool(Source source, EngineFolders folders) : IAsyncDisposable
{
    private static readonly TimeSpan Idle = TimeSpan.FromSeconds(30);

    private readonly Turns _turns = new(source);
    private readonly Stack<(WorkerProcess Worker, long Since)> _idle = [];
    private readonly Lock _gate = new();
    private Timer? _sweep;
    private bool _isOver;

    /// <summary>See <see cref="IEngineSource.Read"/>.</summary>
    public async Task<IReadOnlyList<object?[]>> Read(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        CancellationToken cancellation
    )
    {
        using var answer = await Do(Statement(sql, session) with { Kinds = kinds }, cancellation);
        return Columns(answer.RootElement.GetProperty("Columns"), kinds);
    }

    /// <summary>See <see cref="IEngineSource.ReadInPieces"/>.</summary>
    public async Task ReadInPieces(
        SqlText sql,
        IReadOnlyList<ValueKind> kinds,
        IReadOnlyDictionary<string, string> session,
        Action<IReadOnlyList<object?[]>> take,
        CancellationToken cancellation
    ) =>
        (
            await Do(Statement(sql, session) with { Kinds = kinds, InPieces = true }, cancellation, piece => take(Columns(piece, kinds)))
        ).Dispose();

    private static IReadOnlyList<object?[]> Columns(JsonElement json, IReadOnlyList<ValueKind> kinds) =>
        [.. json.EnumerateArray().Select((c, i) => c.EnumerateArray().Select(v => WorkerMessages.Value(v, kinds[i])).ToArray())];

    /// <summary>See <see cref="IEngineSource.Describe"/>.</summary>
    public async Task<IReadOnlyList<(string Name, string Type)>> Describe(
        SqlText sql,
        IReadOnlyDictionary<string, string> session,
        CancellationToken cancellation
    )
    {
        using var answer = await Do(Statement(sql, session), cancellation);
        return [.. answer.RootElement.GetProperty("Described").EnumerateArray().Select(c => (c[0].GetString()!, c[1].GetString()!))];
    }

    /// <summary>Takes files into a database.</summary>
    public async Task Load(IReadOnlyList<FileInfo> files, string target, CancellationToken cancellation) =>
        (
            await Do(
                Statement(new SqlText("", []), new Dictionary<string, string>()) with
                {
                    Text = null,
                    Files = [.. files.Select(f => f.FullName)],
                    Target = target,
                },
                cancellation
            )
        ).Dispose();

    private WorkerTask Statement(SqlText sql, IReadOnlyDictionary<string, string> session)
    {
        var withPassword = source.Server is null
            ? source
            : source with
            {
                Server = source.Server with { Host = folders.Reach.Check(source), Password = Secrets.Password(source, folders) },
            };
        return new WorkerTask(
            withPassword,
            folders.Files,
            folders.Secrets,
            folders.Work,
            sql.Text,
            sql.Typed,
            [.. sql.Parameters.Select(WorkerValue.Of)],
            null,
            session,
            null,
            null
        );
    }

    /// <exception cref="SourceException">The task failed, or took more than it may.</exception>
    private async Task<JsonDocument> Do(WorkerTask task, CancellationToken cancellation, Action<JsonElement>? piece = null)
    {
        var limit = TimeSpan.FromSeconds(source.Limits.Seconds);
        await _turns.Wait(limit, cancellation);
        try
        {
            var worker = Take();
            var isGood = false;
            try
            {
                var answer = await worker.Do(task, source.Limits.MemoryMb, limit, piece, cancellation);
                isGood = true;
                if (answer.RootElement.GetProperty("Fault") is not { ValueKind: JsonValueKind.Object } fault)
                    return answer;
                var told = fault.Deserialize<WorkerFault>()!;
                isGood = told.Code != "memory-limit";
                throw told.Code == "memory-limit"
                    ? Ended(WorkerEnd.Memory)
                    : new SourceException(
                        told.Code,
                        told.Message,
                        told.Remedy,
                        told.Cause is null ? null : new InvalidOperationException(told.Cause)
                    )
                    {
                        Data = { ["step"] = told.Step },
                    };
            }
            catch (WorkerEndedException e)
            {
                throw Ended(e.End);
            }
            finally
            {
                if (isGood)
                    Return(worker);
                else
                    worker.Dispose();
            }
        }
        finally
        {
            _turns.Done();
        }
    }

    private SourceException Ended(WorkerEnd end) =>
        end switch
        {
            WorkerEnd.Time => new SourceException(
                "time-limit",
                $"The query ran longer than {source.Limits.Seconds} s and was stopped.",
                "Filter to fewer rows, or raise limits.seconds of the source."
            ),
            WorkerEnd.Memory => new SourceException(
                "memory-limit",
                $"The query took more than {source.Limits.MemoryMb} MB of memory and was stopped.",
                "Make it bring and gather less, or raise limits.memory_mb of the source."
            ),
            WorkerEnd.Size => new SourceException(
                "memory-limit",
                "The query brought more than can be taken over and was stopped.",
                "Make it bring less."
            ),
            _ => new SourceException(
                "query-failed",
                $"The process that ran the query of {source.Title} ended.",
                "Try again; if it stays so, the query makes its engine fail."
            ),
        };

    private WorkerProcess Take()
    {
        lock (_gate)
            while (_idle.TryPop(out var idle))
                if (idle.Worker.IsAlive)
                    return idle.Worker;
                else
                    idle.Worker.Dispose();
        return WorkerProcess.Start(folders.Worker!, source.Limits.MemoryMb);
    }

    private void Return(WorkerProcess worker)
    {
        lock (_gate)
            if (!_isOver)
            {
                _idle.Push((worker, Environment.TickCount64));
                _sweep ??= new Timer(_ => Sweep(), null, Idle, Idle);
                return;
            }
        worker.Dispose();
    }

    private void Sweep()
    {
        List<WorkerProcess> old;
        lock (_gate)
        {
            var kept = _idle.Where(i => Environment.TickCount64 - i.Since < Idle.TotalMilliseconds).Reverse().ToList();
            old = [.. _idle.Where(i => !kept.Contains(i)).Select(i => i.Worker)];
            _idle.Clear();
            foreach (var worker in kept)
                _idle.Push(worker);
        }
        foreach (var worker in old)
            worker.Dispose();
    }

    public async ValueTask DisposeAsync()
    {
        List<WorkerProcess> all;
        lock (_gate)
        {
            _isOver = true;
            all = [.. _idle.Select(i => i.Worker)];
            _idle.Clear();
        }
        if (_sweep is not null)
            await _sweep.DisposeAsync();
        foreach (var worker in all)
            worker.Dispose();
    }
}
