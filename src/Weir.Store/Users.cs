using System.Text.Json;
using Dapper;
using Microsoft.AspNetCore.Identity;
using Weir.Core.Access;

namespace Weir.Store;

/// <summary>A person who may sign in.</summary>
/// <param name="LoopbackOnly">True for demo accounts: their passwords work from this machine only.</param>
/// <param name="Stamp">Changes with the password, so that older sign-ins end.</param>
public sealed record User(Viewer Viewer, bool LoopbackOnly, string Stamp);

/// <summary>The people who may sign in, with roles and attributes. Read anew for each request: a changed right holds at the next one.</summary>
public sealed class Users(StoreDatabase database)
{
    private static readonly PasswordHasher<string> Hasher = new();

    // Checked when there is no such user, so that the answer takes as long.
    private static readonly string NobodysHash = Hasher.HashPassword("", Guid.NewGuid().ToString());

    private sealed record Row(string Name, string Title, string PasswordHash, string Roles, string Attributes, long LoopbackOnly);

    private const string Columns = "name, title, password_hash AS PasswordHash, roles, attributes, loopback_only AS LoopbackOnly";

    /// <summary>Adds a user or replaces the one of that name, whose sessions and tokens end.</summary>
    /// <param name="keepTokens">True to let the tokens of programs go on.</param>
    public void Put(Viewer viewer, string password, bool loopbackOnly = false, bool keepTokens = false)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        End(viewer.Name, keepTokens, connection, transaction);
        connection.Execute(
            "INSERT INTO users (name, title, password_hash, roles, attributes, loopback_only) VALUES (@name, @title, @hash, @roles, "
                + "@attributes, @loopbackOnly) "
                + "ON CONFLICT (name) DO UPDATE SET title = excluded.title, password_hash = excluded.password_hash, roles = "
                + "excluded.roles, attributes = excluded.attributes, loopback_only = excluded.loopback_only",
            new
            {
                name = viewer.Name,
                title = viewer.Title,
                hash = Hasher.HashPassword(viewer.Name, password),
                roles = JsonSerializer.Serialize(viewer.Roles),
                attributes = JsonSerializer.Serialize(viewer.Attributes),
                loopbackOnly,
            },
            transaction
        );
        transaction.Commit();
    }

    /// <summary>Changes a password; sessions end, and tokens unless they are kept by choice. A line in the audit tells of it.</summary>
    public void ChangePassword(string name, string password, bool keepTokens, TimeProvider clock)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        End(name, keepTokens, connection, transaction);
        connection.Execute(
            "UPDATE users SET password_hash = @hash WHERE name = @name",
            new { name, hash = Hasher.HashPassword(name, password) },
            transaction
        );
        Audit.Write(connection, transaction, clock, name, "password-changed", keepTokens ? "tokens kept" : "tokens ended");
        transaction.Commit();
    }

    private static void End(
        string name,
        bool keepTokens,
        Microsoft.Data.Sqlite.SqliteConnection connection,
        Microsoft.Data.Sqlite.SqliteTransaction transaction
    )
    {
        connection.Execute("DELETE FROM sessions WHERE user_name = @name", new { name }, transaction);
        if (!keepTokens)
            connection.Execute("DELETE FROM tokens WHERE user_name = @name", new { name }, transaction);
    }

    /// <summary>Removes a user with their tokens and drafts; their views stay, should they come back. False if there was none.</summary>
    public bool Remove(string name)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        End(name, keepTokens: false, connection, transaction);
        // Who has the same name later is somebody else: what was shared with or by this one does not come back.
        connection.Execute(
            "DELETE FROM view_shares WHERE user_name = @name OR (kind = 'person' AND name = @name)",
            new { name },
            transaction
        );
        connection.Execute(
            "DELETE FROM own_shares WHERE user_name = @name OR (kind = 'person' AND name = @name)",
            new { name },
            transaction
        );
        connection.Execute("DELETE FROM deliveries WHERE reader = 'person:' || @name", new { name }, transaction);
        connection.Execute("DELETE FROM remark_mail WHERE user_name = @name", new { name }, transaction);
        // What they wrote stays for those who were to read it, under a name that no account has.
        foreach (var table in (ReadOnlySpan<string>)["remarks", "remark_answers"])
            connection.Execute($"UPDATE {table} SET user_name = '(gone)' WHERE user_name = @name", new { name }, transaction);
        foreach (var table in (ReadOnlySpan<string>)["drafts", "draft_steps", "subscriptions"])
            connection.Execute($"DELETE FROM {table} WHERE user_name = @name", new { name }, transaction);
        var removed = connection.Execute("DELETE FROM users WHERE name = @name", new { name }, transaction) > 0;
        transaction.Commit();
        return removed;
    }

    /// <summary>The user of a name; null if there is none.</summary>
    public User? Find(string name)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<Row>($"SELECT {Columns} FROM users WHERE name = @name", new { name }) is { } row
            ? Read(row)
            : null;
    }

    /// <summary>All users by name.</summary>
    public IReadOnlyList<User> All()
    {
        using var connection = database.Connect();
        return [.. connection.Query<Row>($"SELECT {Columns} FROM users ORDER BY name").Select(Read)];
    }

    /// <summary>The user if the password is right; null for a wrong password and for an unknown name alike, after the same time.</summary>
    public User? Check(string name, string password)
    {
        using var connection = database.Connect();
        var row = connection.QueryFirstOrDefault<Row>($"SELECT {Columns} FROM users WHERE name = @name", new { name });
        var result = Hasher.VerifyHashedPassword(name, row?.PasswordHash ?? NobodysHash, password);
        return row is null || result == PasswordVerificationResult.Failed ? null : Read(row);
    }

    private static User Read(Row row) =>
        new(
            new Viewer(
                row.Name,
                row.Title,
                JsonSerializer.Deserialize<string[]>(row.Roles)!,
                JsonSerializer
                    .Deserialize<Dictionary<string, string[]>>(row.Attributes)!
                    .ToDictionary(a => a.Key, a => (IReadOnlyList<string>)a.Value)
            ),
            row.LoopbackOnly != 0,
            row.PasswordHash[^12..]
        );
}
