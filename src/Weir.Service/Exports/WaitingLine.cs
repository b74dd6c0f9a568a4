namespace Weir.Service.Exports;

/// <summary>A line in which so many work at once and others wait for their turn, one after the other, up to a number of them.</summary>
/// <param name="atOnce">So many work at once.</param>
/// <param name="mostWaiting">So many are in the line at most, those who work too.</param>
internal class WaitingLine(int atOnce, int mostWaiting)
{
    private readonly Lock _gate = new();
    private readonly LinkedList<TaskCompletionSource> _waiting = [];
    private int _working;

    /// <summary>Waits for a turn, which ends when what is given back is disposed of.</summary>
    /// <param name="progress">Is told how many are before it.</param>
    /// <param name="stop">Whoever waits no more leaves the line.</param>
    /// <exception cref="ProblemException">Too many wait.</exception>
    public async Task<IDisposable> Enter(FileProgress? progress, CancellationToken stop)
    {
        LinkedListNode<TaskCompletionSource> place;
        lock (_gate)
        {
            if (_working < atOnce)
            {
                _working++;
                return new Turn(this);
            }
            if (_working + _waiting.Count >= mostWaiting)
                throw new ProblemException(
                    503,
                    "export-line-full",
                    "Too many files are being made.",
                    "Try again in a moment.",
                    TimeSpan.FromSeconds(10)
                );
            place = _waiting.AddLast(new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously));
        }
        progress?.Waits(() => Before(place));
        try
        {
            await place.Value.Task.WaitAsync(stop);
        }
        catch
        {
            GoAway(place);
            throw;
        }
        return new Turn(this);
    }

    /// <summary>How many are made or wait before one that waits.</summary>
    private int Before(LinkedListNode<TaskCompletionSource> place)
    {
        lock (_gate)
        {
            var before = _working;
            for (var other = place.List is null ? null : place.Previous; other is not null; other = other.Previous)
                before++;
            return before;
        }
    }

    /// <summary>Gives a place up; a turn that came in this very moment goes to the next.</summary>
    private void GoAway(LinkedListNode<TaskCompletionSource> place)
    {
        lock (_gate)
            if (place.List is not null)
            {
                _waiting.Remove(place);
                return;
            }
        Leave();
    }

    private void Leave()
    {
        lock (_gate)
        {
            if (_waiting.First is not { } next)
            {
                _working--;
                return;
            }
            _waiting.RemoveFirst();
            next.Value.SetResult();
        }
    }

    private sealed class Turn(WaitingLine line) : IDisposable
    {
        private WaitingLine? _line = line;

        public void Dispose() => Interlocked.Exchange(ref _line, null)?.Leave();
    }
}

/// <summary>Those who have files made: what they take is held in memory until it is written.</summary>
internal sealed class FileLine() : WaitingLine(4, 40);
