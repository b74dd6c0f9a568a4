namespace Weir.Service.Exports;

/// <summary>A line in which so many work at once and others wait for their turn, up to a number of them.</summary>
/// <param name="atOnce">So many work at once.</param>
/// <param name="mostWaiting">So many are in the line at most, those who work too.</param>
internal class WaitingLine(int atOnce, int mostWaiting)
{
    private readonly SemaphoreSlim _turns = new(atOnce, atOnce);
    private int _inLine;

    /// <summary>Waits for a turn, which ends when what is given back is disposed of.</summary>
    /// <param name="stop">Whoever waits no more leaves the line.</param>
    /// <exception cref="ProblemException">Too many wait.</exception>
    public async Task<IDisposable> Enter(CancellationToken stop)
    {
        if (Interlocked.Increment(ref _inLine) > mostWaiting)
        {
            Interlocked.Decrement(ref _inLine);
            throw new ProblemException(
                503,
                "export-line-full",
                "Too many files are being made.",
                "Try again in a moment.",
                TimeSpan.FromSeconds(10)
            );
        }
        try
        {
            await _turns.WaitAsync(stop);
        }
        catch
        {
            Interlocked.Decrement(ref _inLine);
            throw;
        }
        return new Turn(this);
    }

    /// <summary>A turn if nobody works or waits; null otherwise.</summary>
    public IDisposable? EnterIfFree()
    {
        if (!_turns.Wait(0))
            return null;
        Interlocked.Increment(ref _inLine);
        return new Turn(this);
    }

    private sealed class Turn(WaitingLine line) : IDisposable
    {
        private WaitingLine? _line = line;

        public void Dispose()
        {
            if (Interlocked.Exchange(ref _line, null) is not { } ended)
                return;
            Interlocked.Decrement(ref ended._inLine);
            ended._turns.Release();
        }
    }
}

/// <summary>Those who have files made: what they take is held in memory until it is written.</summary>
internal sealed class FileLine() : WaitingLine(4, 40);
