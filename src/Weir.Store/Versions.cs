using System.Globalization;
using System.Text.Json;
using Dapper;

namespace Weir.Store;

/// <summary>A published copy of a workspace.</summary>
/// <param name="Files">Text by path.</param>
public sealed record PublishedVersion(long Number, string Published, string By, IReadOnlyDictionary<string, string> Files);

/// <summary>Every published version of the workspace, oldest first.</summary>
public sealed class Versions(StoreDatabase database, TimeProvider clock)
{
    private sealed record Row(long Number, string Published, string PublishedBy, string Files);

    /// <summary>The newest version; null if nothing was ever published.</summary>
    public PublishedVersion? Newest()
    {
        using var connection = database.Connect();
        var row = connection.QueryFirstOrDefault<Row>("SELECT number, published, published_by AS PublishedBy, files FROM versions ORDER BY number DESC LIMIT 1");
        return row is null ? null : new PublishedVersion(row.Number, row.Published, row.PublishedBy, JsonSerializer.Deserialize<Dictionary<string, string>>(row.Files)!);
    }

    /// <summary>Stores a new version.</summary>
    public PublishedVersion Add(IReadOnlyDictionary<string, string> files, string by)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var number = connection.ExecuteScalar<long>("SELECT coalesce(max(number), 0) + 1 FROM versions", transaction: transaction);
        var published = clock.GetUtcNow().UtcDateTime.ToString("O", CultureInfo.InvariantCulture);
        connection.Execute(
            "INSERT INTO versions (number, published, published_by, files) VALUES (@number, @published, @by, @files)",
            new { number, published, by, files = JsonSerializer.Serialize(files) }, transaction);
        transaction.Commit();
        return new PublishedVersion(number, published, by, files);
    }
}
