namespace Weir.Core.Definitions;

/// <summary>A connection to a SQL database.</summary>
/// <param name="Engine">The engine's name in source files, such as <c>postgresql</c>.</param>
public sealed record Source(string Name, string Title, string Engine, SourceLimits Limits)
{
    /// <summary>For an embedded engine: the database file below the service's folder of files.</summary>
    public string? File { get; init; }

    /// <summary>For files as tables: the folder below the service's folder of files.</summary>
    public string? Folder { get; init; }

    /// <summary>For an engine that runs as a server: where it is and how to sign in.</summary>
    public SourceServer? Server { get; init; }

    /// <summary>What the database is told of the viewer with each query: the setting's name and the attribute, <c>name</c> for the viewer's own name.</summary>
    public IReadOnlyDictionary<string, string> Session { get; init; } = new Dictionary<string, string>();

    /// <summary>How often and how much refreshing may ask of it.</summary>
    public RefreshLimits Refresh { get; init; } = new(10);
}

/// <summary>Where a database server is and how to sign in.</summary>
/// <param name="Password">With <c>${env:NAME}</c> or <c>${secret:NAME}</c> in it; the only one of its texts that may name a secret.</param>
/// <param name="Port">The engine's own port if null.</param>
/// <param name="Schema">Where tables without a schema are looked for; the engine's own choice if null.</param>
/// <param name="Tls">Whether the connection must be encrypted, the server's certificate checked.</param>
/// <param name="Certificate">A file of the service's folder of secrets with the certificates that are trusted; the machine's own if null.</param>
public sealed record SourceServer(
    string Host,
    int? Port,
    string Database,
    string User,
    string? Password,
    string? Schema,
    bool Tls,
    string? Certificate
)
{
    /// <summary>True if its developer knows that the login may write, and wants it all the same.</summary>
    public bool AllowsWritingLogin { get; init; }
}

/// <summary>What one source may be asked for.</summary>
/// <param name="Waiting">More questions than this don't wait: they are told at once that the source is busy.</param>
public sealed record SourceLimits(int Seconds, int Rows, int AtOnce, int MemoryMb, int Waiting = 500)
{
    /// <summary>How many rows one export may bring.</summary>
    public int ExportRows { get; init; } = 1_000_000;

    /// <summary>How many statements it takes in a minute; null for as many as come.</summary>
    public int? AMinute { get; init; }
}

/// <summary>How refreshing is kept from overloading a source.</summary>
/// <param name="LeastSeconds">The shortest time between two refreshes of one tile.</param>
/// <param name="AtOnce">How many refreshing statements may run at once; half of all if null.</param>
public sealed record RefreshLimits(int LeastSeconds, int? AtOnce = null);

/// <summary>The engines that a source may have, and what each needs to be told.</summary>
public static class SourceEngines
{
    private static readonly string[] Server = ["host", "database", "user"];
    private static readonly string[] ServerToo = ["port", "password", "tls", "certificate", "schema", "session", "allow_writing_login"];

    /// <summary>The keys that an engine needs, and those that it understands besides.</summary>
    public static IReadOnlyDictionary<string, (IReadOnlyList<string> Needs, IReadOnlyList<string> Knows)> All { get; } =
        new Dictionary<string, (IReadOnlyList<string>, IReadOnlyList<string>)>
        {
            ["duckdb"] = (["file"], []),
            ["sqlite"] = (["file"], []),
            ["files"] = (["folder"], []),
            ["postgresql"] = (Server, ServerToo),
            ["mariadb"] = (Server, ServerToo),
            ["mysql"] = (Server, ServerToo),
            ["sqlserver"] = (Server, ServerToo),
        };
}
