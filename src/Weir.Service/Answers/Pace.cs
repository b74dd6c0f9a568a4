using Weir.Core.Definitions;
using Weir.Engines;

namespace Weir.Service.Answers;

/// <summary>
/// Keeps what is sent to a source within the number of statements that it takes in a minute: in any sixty seconds that many go out at most,
/// however many people ask, and whatever for.
/// </summary>
internal sealed class Pace(Source source, TimeProvider clock)
{
    private static readonly TimeSpan Minute = TimeSpan.FromMinutes(1);

    private readonly Lock _gate = new();

    // When the statements of the last minute went out, the oldest first.
    private readonly Queue<long> _sent = [];

    /// <summary>How long it takes until the source takes another; zero if it takes one now.</summary>
    public TimeSpan Wait()
    {
        if (source.Limits.AMinute is null)
            return TimeSpan.Zero;
        lock (_gate)
            return Left();
    }

    /// <summary>What is to be known of an answer that is older than was asked for.</summary>
    public string Held => $"{source.Title} takes {source.Limits.AMinute:N0} statements a minute: newer figures come later.";

    /// <summary>Waits until another may go out, as long as a statement may wait.</summary>
    /// <exception cref="SourceException">That would be too long.</exception>
    public async Task Take(CancellationToken stop)
    {
        if (source.Limits.AMinute is null)
            return;
        var began = clock.GetTimestamp();
        while (true)
        {
            TimeSpan left;
            lock (_gate)
            {
                left = Left();
                if (left == TimeSpan.Zero)
                {
                    _sent.Enqueue(clock.GetTimestamp());
                    return;
                }
            }
            if (clock.GetElapsedTime(began) + left > TimeSpan.FromSeconds(source.Limits.Seconds))
                throw Refused(left);
            await Task.Delay(left, clock, stop);
        }
    }

    /// <summary>What somebody is told for whom there is no place in time.</summary>
    public SourceException Refused(TimeSpan left) =>
        new(
            "source-paced",
            $"{source.Title} takes {source.Limits.AMinute:N0} statements a minute, and has had them.",
            $"Try again in {Math.Max(1, (int)Math.Ceiling(left.TotalSeconds))} s."
        );

    private TimeSpan Left()
    {
        if (source.Limits.AMinute is not { } most)
            return TimeSpan.Zero;
        while (_sent.TryPeek(out var oldest) && clock.GetElapsedTime(oldest) >= Minute)
            _sent.Dequeue();
        if (_sent.Count < most)
            return TimeSpan.Zero;
        var left = Minute - clock.GetElapsedTime(_sent.Peek());
        // No timer waits for less than a millisecond.
        return left < TimeSpan.FromMilliseconds(1) ? TimeSpan.FromMilliseconds(1) : left;
    }
}
