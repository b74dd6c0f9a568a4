using System.Buffers.Text;
using System.Security.Cryptography;
using System.Text;
using Dapper;

namespace Weir.Store;

/// <summary>A personal token as its owner sees it in a list: without the secret.</summary>
public sealed record TokenInfo(string Id, string Label, DateTimeOffset Created, DateTimeOffset Expires);

/// <summary>Whether a token is good.</summary>
public enum TokenState
{
    Unknown,
    Expired,
    Good,
}

/// <summary>Personal tokens for programs. Only a hash of the secret is kept.</summary>
public sealed class Tokens(StoreDatabase database, TimeProvider clock)
{
    private sealed record Row(string Id, string UserName, string Label, DateTimeOffset Created, DateTimeOffset Expires);

    private const string Columns = "id, user_name AS UserName, label, created, expires";

    /// <summary>Makes a token, and its line in the audit with it. The secret is given out this once.</summary>
    public (TokenInfo Info, string Secret) Create(string user, string label, TimeSpan life)
    {
        var secret = "weir_" + Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(32));
        var now = clock.GetUtcNow();
        var info = new TokenInfo(Guid.NewGuid().ToString("N")[..12], label, now, now + life);
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        connection.Execute(
            "INSERT INTO tokens (id, hash, user_name, label, created, expires) VALUES (@Id, @hash, @user, @Label, @Created, @Expires)",
            new
            {
                info.Id,
                hash = Hash(secret),
                user,
                info.Label,
                info.Created,
                info.Expires,
            },
            transaction
        );
        Audit.Write(connection, transaction, clock, user, "token-made", info.Id);
        transaction.Commit();
        return (info, secret);
    }

    /// <summary>Whose token it is, and whether it still holds.</summary>
    public (TokenState State, string? User) Check(string secret)
    {
        using var connection = database.Connect();
        var row = connection.QueryFirstOrDefault<Row>($"SELECT {Columns} FROM tokens WHERE hash = @hash", new { hash = Hash(secret) });
        if (row is null)
            return (TokenState.Unknown, null);
        return row.Expires <= clock.GetUtcNow() ? (TokenState.Expired, null) : (TokenState.Good, row.UserName);
    }

    /// <summary>The tokens of a user, newest first.</summary>
    public IReadOnlyList<TokenInfo> Of(string user)
    {
        using var connection = database.Connect();
        return
        [
            .. connection
                .Query<Row>($"SELECT {Columns} FROM tokens WHERE user_name = @user ORDER BY created DESC", new { user })
                .Select(r => new TokenInfo(r.Id, r.Label, r.Created, r.Expires)),
        ];
    }

    /// <summary>Ends a token of a user; false if the user has none of that id.</summary>
    public bool Remove(string user, string id)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        if (connection.Execute("DELETE FROM tokens WHERE id = @id AND user_name = @user", new { id, user }, transaction) == 0)
            return false;
        Audit.Write(connection, transaction, clock, user, "token-ended", id);
        transaction.Commit();
        return true;
    }

    private static string Hash(string secret) => Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(secret)));
}
