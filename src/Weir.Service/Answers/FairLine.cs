using Weir.Core.Definitions;
using Weir.Engines;

namespace Weir.Service.Answers;

/// <summary>
/// The line in which people wait for a source. As many are let in as it may be asked at once, and each person has their turn after
/// the others: who asks forty things waits for them, and nobody else does.
/// </summary>
internal sealed class FairLine(Source source)
{
    /// <summary>So many questions may be one person's before the rest of the line is kept for others.</summary>
    private const int LeastOfAPerson = 50;

    private readonly int _most = Math.Min(source.Limits.Waiting, Math.Max(LeastOfAPerson, source.Limits.Waiting / 4));
    private readonly Lock _gate = new();
    private readonly Dictionary<string, LinkedList<TaskCompletionSource>> _waiting = [];

    // Whose turn is next: each person who waits stands here once.
    private readonly LinkedList<string> _turns = [];
    private int _inside;
    private int _count;

    /// <summary>True if another question of a person would be refused.</summary>
    public bool IsFullFor(string person)
    {
        lock (_gate)
            return IsFull(person);
    }

    /// <summary>Waits for a turn; disposing of what comes back ends it.</summary>
    /// <exception cref="SourceException">Too many wait already, or no turn came within the time limit of the source.</exception>
    public async Task<IDisposable> Enter(string person, CancellationToken cancellation)
    {
        TaskCompletionSource turn;
        lock (_gate)
        {
            if (_inside < source.Limits.AtOnce)
            {
                _inside++;
                return new Turn(this);
            }
            if (IsFull(person))
                throw Busy();
            turn = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
            if (!_waiting.TryGetValue(person, out var own))
                _waiting[person] = own = [];
            if (own.Count == 0)
                _turns.AddLast(person);
            own.AddLast(turn);
            _count++;
        }
        try
        {
            await turn.Task.WaitAsync(TimeSpan.FromSeconds(source.Limits.Seconds), cancellation);
            return new Turn(this);
        }
        catch (Exception e) when (e is TimeoutException or OperationCanceledException)
        {
            GoAway(person, turn);
            if (e is TimeoutException)
                throw Busy();
            throw;
        }
    }

    private bool IsFull(string person) =>
        _inside >= source.Limits.AtOnce
        && (_count >= source.Limits.Waiting || (_waiting.TryGetValue(person, out var own) && own.Count >= _most));

    private void Leave()
    {
        lock (_gate)
        {
            if (_turns.First?.Value is not { } person)
            {
                _inside--;
                return;
            }
            var own = _waiting[person];
            var next = own.First!.Value;
            own.RemoveFirst();
            _count--;
            _turns.RemoveFirst();
            if (own.Count > 0)
                _turns.AddLast(person);
            else
                _waiting.Remove(person);
            next.SetResult();
        }
    }

    /// <summary>Gives a place in the line up; a turn that came in this very moment goes to the next.</summary>
    private void GoAway(string person, TaskCompletionSource turn)
    {
        lock (_gate)
            if (_waiting.TryGetValue(person, out var own) && own.Remove(turn))
            {
                _count--;
                if (own.Count > 0)
                    return;
                _waiting.Remove(person);
                _turns.Remove(person);
                return;
            }
        Leave();
    }

    private SourceException Busy() => new("source-busy", $"{source.Title} is busy with other queries.", "Try again in a moment.");

    private sealed class Turn(FairLine line) : IDisposable
    {
        private int _isOver;

        public void Dispose()
        {
            if (Interlocked.Exchange(ref _isOver, 1) == 0)
                line.Leave();
        }
    }
}
