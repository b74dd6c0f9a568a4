using Microsoft.Data.Sqlite;

namespace Weir.Store;

/// <summary>What the service remembers can't be read or written: what is wrong, and what to do.</summary>
/// <param name="code">A stable code: store-damaged, store-full or store-unavailable.</param>
public sealed class StoreException(string code, string message, string remedy, Exception? inner = null) : Exception(message, inner)
{
    /// <summary>The stable code.</summary>
    public string Code { get; } = code;

    /// <summary>What to do.</summary>
    public string Remedy { get; } = remedy;

    /// <summary>The meaning of a failure of the database.</summary>
    public static StoreException Of(SqliteException error) =>
        error.SqliteErrorCode switch
        {
            11 or 26 => new(
                "store-damaged",
                "The service's own database is damaged.",
                "Put weir.sqlite back from a copy; the service then goes on from there.",
                error
            ),
            13 => new(
                "store-full",
                "The disk of the service's data folder is full; nothing was changed.",
                "Make room on it, then try again.",
                error
            ),
            5 or 6 => new("store-unavailable", "The service's own database is busy; nothing was changed.", "Try again in a moment.", error),
            8 or 14 => new(
                "store-unavailable",
                "The service's own database can't be opened for writing.",
                "Make the data folder and weir.sqlite in it writable by whom the service runs as.",
                error
            ),
            _ => new(
                "store-unavailable",
                "The service's own database can't be used; nothing was changed.",
                "See whether its disk is full or failing, then try again.",
                error
            ),
        };

    /// <summary>The meaning of a failure to make or read the data folder.</summary>
    public static StoreException Of(string folder, Exception error) =>
        new(
            "store-unavailable",
            $"The data folder {folder} can't be used: {error.Message}",
            "Make it readable and writable by whom the service runs as, or name another with --data.",
            error
        );
}
