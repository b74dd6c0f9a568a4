namespace Weir.Service.Answers;

/// <summary>Counts the statements that sources are sent for one piece of work.</summary>
internal sealed class StatementCount
{
    private static readonly AsyncLocal<StatementCount?> Current = new();
    private long _count;

    /// <summary>How many there were.</summary>
    public long Count => Interlocked.Read(ref _count);

    /// <summary>Counts what is asked from here on, until what is given back is disposed of.</summary>
    public IDisposable Begin()
    {
        Current.Value = this;
        return new Counting();
    }

    /// <summary>Notes a statement for whoever it is for.</summary>
    public static void Add()
    {
        if (Current.Value is { } count)
            Interlocked.Increment(ref count._count);
    }

    private sealed class Counting : IDisposable
    {
        public void Dispose() => Current.Value = null;
    }
}
