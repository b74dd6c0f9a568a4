using Weir.Core.Definitions;

namespace Weir.Engines;

/// <summary>How many may ask a source at once, and how many may wait for their turn.</summary>
internal sealed class Turns(Source source)
{
    private readonly SemaphoreSlim _slots = new(source.Limits.AtOnce);
    private int _waiting;

    /// <summary>Waits for a turn; <see cref="Done"/> ends it.</summary>
    /// <exception cref="SourceException">Too many wait already, or none came within the limit.</exception>
    public async Task Wait(TimeSpan limit, CancellationToken cancellation)
    {
        try
        {
            if (Interlocked.Increment(ref _waiting) > source.Limits.Waiting || !await _slots.WaitAsync(limit, cancellation))
                throw new SourceException("source-busy", $"{source.Title} is busy with other queries.", "Try again in a moment.");
        }
        finally
        {
            Interlocked.Decrement(ref _waiting);
        }
    }

    /// <summary>Ends a turn.</summary>
    public void Done() => _slots.Release();
}
