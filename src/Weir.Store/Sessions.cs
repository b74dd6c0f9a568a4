using Dapper;

namespace Weir.Store;

/// <summary>Who is signed in, so that signing out ends it here and not only in the browser.</summary>
public sealed class Sessions(StoreDatabase database, TimeProvider clock)
{
    /// <summary>Begins one.</summary>
    /// <returns>Its id.</returns>
    public string Begin(string user, TimeSpan life)
    {
        var id = Guid.NewGuid().ToString("N");
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        connection.Execute("DELETE FROM sessions WHERE ends < @now", new { now = clock.GetUtcNow() }, transaction);
        connection.Execute(
            "INSERT INTO sessions (id, user_name, ends) VALUES (@id, @user, @ends)",
            new
            {
                id,
                user,
                ends = clock.GetUtcNow() + life,
            },
            transaction
        );
        transaction.Commit();
        return id;
    }

    /// <summary>True while it goes on.</summary>
    public bool IsOn(string id, string user)
    {
        using var connection = database.Connect();
        return connection.ExecuteScalar<long>("SELECT count(*) FROM sessions WHERE id = @id AND user_name = @user", new { id, user }) > 0;
    }

    /// <summary>Ends one.</summary>
    public void End(string id)
    {
        using var connection = database.Connect();
        connection.Execute("DELETE FROM sessions WHERE id = @id", new { id });
    }
}
