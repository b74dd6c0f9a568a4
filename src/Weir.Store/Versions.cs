using System.Text.Json;
using Dapper;

namespace Weir.Store;

/// <summary>A published copy of a workspace.</summary>
/// <param name="Files">Text by path.</param>
/// <param name="Why">What was said of it; empty if nothing was.</param>
public sealed record PublishedVersion(long Number, string Published, string By, IReadOnlyDictionary<string, string> Files, string Why = "");

/// <summary>What was last sent from somewhere, or given out there: what the files that come from there next are made from.</summary>
/// <param name="Origin">Such as a folder or a person.</param>
/// <param name="Hashes">A hash for each path.</param>
public sealed record PublishedFrom(string Origin, IReadOnlyDictionary<string, string> Hashes);

/// <summary>Every published version of the workspace, oldest first.</summary>
public sealed class Versions(StoreDatabase database, TimeProvider clock)
{
    private sealed record Row(long Number, string Published, string PublishedBy, string Files, string Why);

    /// <summary>The newest version; null if nothing was ever published.</summary>
    public PublishedVersion? Newest() => One("ORDER BY number DESC LIMIT 1", null);

    /// <summary>A version by its number; null if there is none.</summary>
    public PublishedVersion? Get(long number) => One("WHERE number = @number", new { number });

    /// <summary>The newest versions, newest first.</summary>
    /// <param name="before">Only those before this one; all if null.</param>
    public IReadOnlyList<PublishedVersion> List(int most, long? before = null)
    {
        using var connection = database.Connect();
        return
        [
            .. connection
                .Query<Row>(
                    $"SELECT {Columns} FROM versions WHERE @before IS NULL OR number < @before ORDER BY number DESC LIMIT @most",
                    new { most, before }
                )
                .Select(ToVersion),
        ];
    }

    /// <summary>What was last sent from somewhere, or given out there; null if nothing was.</summary>
    public IReadOnlyDictionary<string, string>? FilesOf(string origin)
    {
        using var connection = database.Connect();
        return
            connection.QueryFirstOrDefault<string>("SELECT files FROM published_from WHERE origin = @origin", new { origin }) is { } files
            ? JsonSerializer.Deserialize<Dictionary<string, string>>(files)
            : null;
    }

    /// <summary>Remembers what was sent from somewhere, or given out there.</summary>
    public void Remember(PublishedFrom from)
    {
        using var connection = database.Connect();
        Remember(from, connection, null);
    }

    private static void Remember(
        PublishedFrom from,
        Microsoft.Data.Sqlite.SqliteConnection connection,
        Microsoft.Data.Sqlite.SqliteTransaction? transaction
    ) =>
        connection.Execute(
            "INSERT INTO published_from (origin, files) VALUES (@origin, @files) ON CONFLICT (origin) DO UPDATE SET files = excluded.files",
            new { origin = from.Origin, files = JsonSerializer.Serialize(from.Hashes) },
            transaction
        );

    private PublishedVersion? One(string which, object? parameters)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<Row>($"SELECT {Columns} FROM versions {which}", parameters) is { } row
            ? ToVersion(row)
            : null;
    }

    private const string Columns = "number, published, published_by AS PublishedBy, files, why";

    private static PublishedVersion ToVersion(Row row) =>
        new(row.Number, row.Published, row.PublishedBy, JsonSerializer.Deserialize<Dictionary<string, string>>(row.Files)!, row.Why);

    /// <summary>The host, as <c>host:port</c>, of the first published version that used a secret; null if none did.</summary>
    public string? HostOf(string secret)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<string>("SELECT host FROM secret_hosts WHERE secret = @secret", new { secret });
    }

    /// <summary>Binds secrets to hosts, each that is not bound yet.</summary>
    public void Bind(IEnumerable<(string Secret, string Host)> secrets, long version)
    {
        using var connection = database.Connect();
        Bind(secrets, version, connection, null);
    }

    private static void Bind(
        IEnumerable<(string Secret, string Host)> secrets,
        long version,
        Microsoft.Data.Sqlite.SqliteConnection connection,
        Microsoft.Data.Sqlite.SqliteTransaction? transaction
    )
    {
        foreach (var (secret, host) in secrets)
            connection.Execute(
                "INSERT INTO secret_hosts (secret, host, version) VALUES (@secret, @host, @version) ON CONFLICT (secret) DO NOTHING",
                new
                {
                    secret,
                    host,
                    version,
                },
                transaction
            );
    }

    /// <summary>Stores a new version, and a line in the audit with it.</summary>
    /// <param name="secrets">The secrets that its sources use, each with its host: those that no version used before are bound to it.</param>
    /// <param name="from">Where the files come from, and what they were there.</param>
    /// <param name="why">What is said of it.</param>
    /// <param name="views">What views name otherwise from this version on: they change with it, or not at all.</param>
    public PublishedVersion Add(
        IReadOnlyDictionary<string, string> files,
        string by,
        IEnumerable<(string Secret, string Host)>? secrets = null,
        PublishedFrom? from = null,
        string why = "",
        RenamedInViews? views = null
    )
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var number = connection.ExecuteScalar<long>("SELECT coalesce(max(number), 0) + 1 FROM versions", transaction: transaction);
        var published = StoredTimes.Write(clock.GetUtcNow());
        connection.Execute(
            "INSERT INTO versions (number, published, published_by, files, why) VALUES (@number, @published, @by, @files, @why)",
            new
            {
                number,
                published,
                by,
                files = JsonSerializer.Serialize(files),
                why,
            },
            transaction
        );
        Bind(secrets ?? [], number, connection, transaction);
        if (from is not null)
            Remember(from, connection, transaction);
        if (views is not null)
            ViewNames.Rename(connection, transaction, views, number);
        Audit.Write(connection, transaction, clock, by, "publish", $"version {number}");
        transaction.Commit();
        return new PublishedVersion(number, published, by, files, why);
    }
}
