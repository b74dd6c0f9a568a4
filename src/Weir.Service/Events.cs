using System.Collections.Concurrent;
using System.Threading.Channels;

namespace Weir.Service;

/// <summary>
/// News for open pages: a version was published, the watched folder is broken, datasets have new data, a view or a dashboard of somebody's
/// own changed.
/// </summary>
/// <param name="Kind">published, broken, data, view or own.</param>
/// <param name="Items">What is broken, sent to those who may publish; the datasets, sent to those who may read them; a view's
/// dashboard, name and mark, sent to whoever has it; or whose own dashboard it is and its name, sent to those with whom it is shared, and
/// without a version to those with whom it was until now.</param>
public sealed record WorkspaceEvent(string Kind, long Version, IReadOnlyList<string> Items);

/// <summary>Hands news to every open page.</summary>
internal sealed class Events
{
    private readonly ConcurrentDictionary<Guid, Channel<WorkspaceEvent>> _listeners = [];

    /// <summary>True while a page listens.</summary>
    public bool AnyListeners => !_listeners.IsEmpty;

    public void Send(WorkspaceEvent news)
    {
        foreach (var listener in _listeners.Values)
            listener.Writer.TryWrite(news);
    }

    /// <summary>Tells those with whom a dashboard of somebody's own is shared, or was until now, that it is another by now.</summary>
    public void SendOwn(string owner, string dashboard) => Send(new WorkspaceEvent("own", 0, [owner, dashboard]));

    /// <summary>How often it is looked whether a listener may go on listening.</summary>
    private static readonly TimeSpan Look = TimeSpan.FromSeconds(1);

    /// <summary>Hears all news from now on, until it is disposed of. A page that reads too slowly loses the oldest.</summary>
    public Hearing Hear()
    {
        var id = Guid.NewGuid();
        var channel = Channel.CreateBounded<WorkspaceEvent>(new BoundedChannelOptions(16) { FullMode = BoundedChannelFullMode.DropOldest });
        _listeners[id] = channel;
        return new Hearing(channel.Reader, () => _listeners.TryRemove(id, out _));
    }

    /// <summary>News that wait to be read.</summary>
    public sealed class Hearing(ChannelReader<WorkspaceEvent> reader, Action end) : IDisposable
    {
        /// <summary>All news as they come, until cancelled or until the listener is no longer there with the same rights.</summary>
        public async IAsyncEnumerable<WorkspaceEvent> All(
            Func<bool> stillThere,
            [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken cancellation
        )
        {
            while (await Next(reader, stillThere, cancellation) is { } news)
                yield return news;
        }

        public void Dispose() => end();
    }

    /// <summary>The next news; null when the page is gone or the service stops, which is no fault.</summary>
    private static async Task<WorkspaceEvent?> Next(
        ChannelReader<WorkspaceEvent> reader,
        Func<bool> stillThere,
        CancellationToken cancellation
    )
    {
        try
        {
            var next = reader.ReadAsync(cancellation).AsTask();
            while (await Task.WhenAny(next, Task.Delay(Look, cancellation)) != next)
                if (!stillThere())
                    return null;
            return stillThere() ? await next : null;
        }
        catch (OperationCanceledException)
        {
            return null;
        }
    }
}
