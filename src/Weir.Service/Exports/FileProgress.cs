using System.Collections.Concurrent;
using Weir.Core.Access;

namespace Weir.Service.Exports;

/// <summary>How far a file is that somebody waits for.</summary>
internal sealed class FileProgress
{
    private volatile Func<string> _words = () => "It is begun.";
    private string _part = "";
    private int _done;

    /// <summary>In words, a sentence.</summary>
    public string Words => _words();

    /// <summary>It waits in a line.</summary>
    /// <param name="before">How many are before it.</param>
    public void Waits(Func<int> before) =>
        _words = () => before() is var n && n == 1 ? "It waits for another file." : $"It waits for {n} other files.";

    /// <summary>Figures are asked for.</summary>
    /// <param name="of">Of so many tiles; each that has them is noted by <see cref="HasOne"/>.</param>
    public void Reads(int of)
    {
        Volatile.Write(ref _done, 0);
        var part = _part;
        _words = () => $"{part}{Volatile.Read(ref _done)} of {of} {(of == 1 ? "tile has its" : "tiles have their")} figures.";
    }

    /// <summary>Another tile has its figures.</summary>
    public void HasOne() => Interlocked.Increment(ref _done);

    /// <summary>Pages are drawn.</summary>
    public void Draws()
    {
        var part = _part;
        _words = () => $"{part}It is being drawn.";
    }

    /// <summary>One of several parts is made.</summary>
    public void Part(int number, int of) => _part = $"Part {number} of {of}: ";

    /// <summary>All parts are made, and become one.</summary>
    public void Joins() => _part = "";
}

/// <summary>What is being made for whom: each knows only what they have asked for themselves.</summary>
internal sealed class FilesInProgress
{
    /// <summary>So long may what names one be.</summary>
    private const int MostLetters = 64;

    private readonly ConcurrentDictionary<(string Viewer, string Name), FileProgress> _all = [];

    /// <summary>Notes that a file is being made, until what is given back is disposed of.</summary>
    /// <param name="name">By what whoever waits asks for it; null for nobody who asks.</param>
    /// <exception cref="ProblemException">The name is too long, or of another that is being made.</exception>
    public (FileProgress Progress, IDisposable End) Begin(Viewer viewer, string? name)
    {
        var progress = new FileProgress();
        if (name is null)
            return (progress, new Ended(() => { }));
        var key = (viewer.Name, name);
        if (name.Length is 0 or > MostLetters || !_all.TryAdd(key, progress))
            throw new ProblemException(
                422,
                "bad-progress",
                $"What a file is asked after by has 1 to {MostLetters} letters, and no other of yours has it.",
                "Take random ones, or leave it out."
            );
        return (progress, new Ended(() => _all.TryRemove(key, out _)));
    }

    /// <summary>How far it is; null if there is none of the viewer's.</summary>
    public FileProgress? Find(Viewer viewer, string name) => _all.GetValueOrDefault((viewer.Name, name));

    private sealed class Ended(Action end) : IDisposable
    {
        public void Dispose() => end();
    }
}
