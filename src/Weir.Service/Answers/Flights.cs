using System.Collections.Concurrent;

namespace Weir.Service.Answers;

/// <summary>Asks equal questions once: who comes while one is under way waits for its answer. It is cancelled when nobody waits any more.</summary>
internal sealed class Flights<TKey, TValue> where TKey : notnull
{
    private readonly Dictionary<TKey, Flight> _under = [];
    private readonly Lock _gate = new();

    private sealed class Flight
    {
        public required Task<TValue> Task { get; set; }

        public CancellationTokenSource Stop { get; } = new();

        public int Waiting { get; set; }
    }

    /// <summary>The answer of a question that is under way, or of <paramref name="ask"/>.</summary>
    public async Task<TValue> Join(TKey key, Func<CancellationToken, Task<TValue>> ask, CancellationToken cancellation)
    {
        Flight? flight;
        lock (_gate)
        {
            if (!_under.TryGetValue(key, out flight))
            {
                _under[key] = flight = new Flight { Task = null! };
                var started = flight;
                flight.Task = Run(key, started, ask);
            }
            flight.Waiting++;
        }
        try
        {
            return await flight.Task.WaitAsync(cancellation);
        }
        finally
        {
            lock (_gate)
                if (--flight.Waiting == 0 && !flight.Task.IsCompleted)
                {
                    // Nobody may join a flight that is being stopped.
                    if (_under.GetValueOrDefault(key) == flight)
                        _under.Remove(key);
                    flight.Stop.Cancel();
                }
        }
    }

    private async Task<TValue> Run(TKey key, Flight flight, Func<CancellationToken, Task<TValue>> ask)
    {
        await Task.Yield(); // so that the gate is not held while the question is asked
        try
        {
            return await ask(flight.Stop.Token);
        }
        finally
        {
            lock (_gate)
                if (_under.GetValueOrDefault(key) == flight)
                    _under.Remove(key);
        }
    }
}
