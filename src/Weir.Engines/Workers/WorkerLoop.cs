using System.Text.Json;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Engines.Files;

namespace Weir.Engines.Workers;

/// <summary>What a worker process does: one task after the other, until its input ends.</summary>
public static class WorkerLoop
{
    /// <summary>Reads tasks and writes answers.</summary>
    public static async Task Run(Stream input, Stream output)
    {
        using var lines = new StreamReader(input);
        IEngineSource? source = null;
        string? opened = null;
        Task running = Task.CompletedTask;
        var stop = new CancellationTokenSource();
        while (await lines.ReadLineAsync() is { } line)
        {
            if (line.Length == 0)
            {
                await stop.CancelAsync();
                continue;
            }
            await running;
            stop.Dispose();
            stop = new CancellationTokenSource();
            var task = JsonSerializer.Deserialize<WorkerTask>(line, WorkerMessages.Options)!;
            var folders = new EngineFolders(task.FilesFolder, task.SecretsFolder, task.WorkFolder)
            {
                Reach = new Reach { IsChecked = true },
            };
            var key = JsonSerializer.Serialize(task.Source);
            if (opened != key && task.Text is not null)
            {
                if (source is not null)
                    await source.DisposeAsync();
                source = Engines.ByName(task.Source.Engine).Open(task.Source, folders);
                opened = key;
            }
            var cancellation = stop.Token;
            // Beside the reading of lines, so that it can be cancelled.
            running = Task.Run(
                async () =>
                {
                    void Send(WorkerAnswer answer)
                    {
                        JsonSerializer.Serialize(output, answer, WorkerMessages.Options);
                        output.WriteByte((byte)'\n');
                        output.Flush();
                    }
                    Send(await Answer(task, source, Send, cancellation));
                },
                CancellationToken.None
            );
        }
        // Nobody is there any more to wait for an answer.
        Environment.Exit(0);
    }

    private static async Task<WorkerAnswer> Answer(
        WorkerTask task,
        IEngineSource? source,
        Action<WorkerAnswer> send,
        CancellationToken cancellation
    )
    {
        try
        {
            if (task.Text is null)
            {
                FilesLoader.Load(
                    [.. task.Files!.Select(f => new FileInfo(f))],
                    task.Target!,
                    task.Source.Title,
                    task.Source.Limits,
                    cancellation
                );
                return new WorkerAnswer([], null, null);
            }
            var sql = new SqlText(task.Text, [.. task.Parameters.Select(p => p.Read())]) { Typed = task.Typed };
            if (task is { InPieces: true, Kinds: { } all })
            {
                await source!.ReadInPieces(sql, all, task.Session, piece => send(new WorkerAnswer(null, null, null, piece)), cancellation);
                return new WorkerAnswer([], null, null);
            }
            return task.Kinds is { } kinds
                ? new WorkerAnswer(await source!.Read(sql, kinds, task.Session, cancellation), null, null)
                : new WorkerAnswer(
                    null,
                    [.. (await source!.Describe(sql, task.Session, cancellation)).Select(c => new[] { c.Name, c.Type })],
                    null
                );
        }
        catch (SourceException e)
        {
            return new WorkerAnswer(
                null,
                null,
                new WorkerFault(e.Code, e.Message, e.Remedy, e.Data["step"] as string, e.InnerException?.Message)
            );
        }
        catch (OperationCanceledException)
        {
            return new WorkerAnswer(null, null, new WorkerFault("cancelled", "Cancelled.", "", null, null));
        }
        catch (OutOfMemoryException)
        {
            return new WorkerAnswer(null, null, new WorkerFault("memory-limit", "", "", null, null));
        }
        catch (Exception e)
        {
            return new WorkerAnswer(
                null,
                null,
                new WorkerFault(
                    "query-failed",
                    $"{task.Source.Title} refused the query.",
                    "Its developer finds the cause with weir check --connect and in the service's log.",
                    null,
                    e.Message
                )
            );
        }
    }
}
