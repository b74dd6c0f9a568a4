namespace Weir.Service.Answers;

/// <summary>Asks equal questions once: who comes while one is under way waits for its answer. It is cancelled when nobody waits any more.</summary>
internal sealed class SharedRequests<TKey, TValue>
    where TKey : notnull
{
    private readonly Dictionary<TKey, Request> _running = [];
    private readonly Lock _gate = new();

    private sealed class Request
    {
        public required Task<TValue> Task { get; set; }

        public CancellationTokenSource Stop { get; } = new();

        public int Waiting { get; set; }
    }

    /// <summary>The answer of a question that is under way, or of <paramref name="ask"/>.</summary>
    public async Task<TValue> Join(TKey key, Func<CancellationToken, Task<TValue>> ask, CancellationToken cancellation)
    {
        Request? request;
        lock (_gate)
        {
            if (!_running.TryGetValue(key, out request))
            {
                _running[key] = request = new Request { Task = null! };
                var started = request;
                request.Task = Run(key, started, ask);
            }
            request.Waiting++;
        }
        try
        {
            return await request.Task.WaitAsync(cancellation);
        }
        finally
        {
            lock (_gate)
                if (--request.Waiting == 0 && !request.Task.IsCompleted)
                {
                    // Nobody may join a request that is being stopped.
                    if (_running.GetValueOrDefault(key) == request)
                        _running.Remove(key);
                    request.Stop.Cancel();
                }
        }
    }

    private async Task<TValue> Run(TKey key, Request request, Func<CancellationToken, Task<TValue>> ask)
    {
        await Task.Yield(); // so that the gate is not held while the question is asked
        try
        {
            return await ask(request.Stop.Token);
        }
        finally
        {
            lock (_gate)
                if (_running.GetValueOrDefault(key) == request)
                    _running.Remove(key);
        }
    }
}
