using System.Collections.Concurrent;
using Weir.Core;
using Weir.Core.Definitions;
using Weir.Store;

namespace Weir.Service.Publishing;

/// <summary>Workspaces that were published before, for telling what came since.</summary>
internal sealed class OlderVersions(Versions versions)
{
    /// <summary>More than these are read again when they are asked for.</summary>
    private const int Kept = 8;

    private readonly ConcurrentDictionary<long, Lazy<Workspace?>> _read = new();

    /// <summary>A version; null if there is none of that number, or if this release can't read it any more.</summary>
    public Workspace? Get(long number)
    {
        var read = _read.GetOrAdd(
            number,
            n => new Lazy<Workspace?>(() => versions.Get(n) is { } v ? WorkspaceText.Read(v.Files).Workspace : null)
        );
        if (_read.Count > Kept && _read.Keys.Where(k => k != number).Order().FirstOrDefault() is var oldest and > 0)
            _read.TryRemove(oldest, out _);
        return read.Value;
    }
}
