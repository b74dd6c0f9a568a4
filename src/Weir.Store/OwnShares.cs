using Dapper;

namespace Weir.Store;

/// <summary>Who may look at a dashboard that is somebody's own.</summary>
/// <param name="Owner">Whose it is.</param>
/// <param name="Path">The path of its draft.</param>
/// <param name="Kind">person or role.</param>
/// <param name="Name">The person or role.</param>
public sealed record OwnShare(string Owner, string Path, string Kind, string Name)
{
    /// <summary>True for whoever it is shared with.</summary>
    public bool IsFor(string person, IEnumerable<string> roles) => Kind == "role" ? roles.Contains(Name) : Name == person;
}

/// <summary>Dashboards of one's own that others may look at: as they are whenever they look, under their own rights.</summary>
public sealed class OwnShares(StoreDatabase database, TimeProvider clock)
{
    /// <summary>With so many a dashboard can be shared.</summary>
    public const int Most = 50;

    private const string Select = "SELECT user_name AS Owner, path AS Path, kind AS Kind, name AS Name FROM own_shares";

    /// <summary>All of a dashboard, in the order in which they were given.</summary>
    public IReadOnlyList<OwnShare> Of(string owner, string path)
    {
        using var connection = database.Connect();
        return
        [
            .. connection.Query<OwnShare>(
                $"{Select} WHERE user_name = @owner AND path = @path ORDER BY since, kind, name",
                new { owner, path }
            ),
        ];
    }

    /// <summary>All that others share with somebody.</summary>
    public IReadOnlyList<OwnShare> With(string person, IReadOnlyList<string> roles)
    {
        using var connection = database.Connect();
        return
        [
            .. connection.Query<OwnShare>(
                $"{Select} WHERE user_name <> @person AND (kind = 'person' AND name = @person OR kind = 'role' AND name IN @roles) ORDER BY user_name, path",
                new { person, roles }
            ),
        ];
    }

    /// <summary>Lets a person or a role look; once more is as once.</summary>
    /// <returns>False if it is shared with as many as there may be.</returns>
    public bool Add(OwnShare share)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var values = new
        {
            share.Owner,
            share.Path,
            share.Kind,
            share.Name,
            since = clock.GetUtcNow(),
        };
        const string Others =
            "SELECT count(*) FROM own_shares WHERE user_name = @Owner AND path = @Path AND NOT (kind = @Kind AND name = @Name)";
        if (connection.ExecuteScalar<long>(Others, values, transaction) >= Most)
            return false;
        connection.Execute(
            "INSERT INTO own_shares (user_name, path, kind, name, since) VALUES (@Owner, @Path, @Kind, @Name, @since) ON CONFLICT DO NOTHING",
            values,
            transaction
        );
        transaction.Commit();
        return true;
    }

    /// <summary>Ends it; false if it was not there.</summary>
    public bool Remove(OwnShare share)
    {
        using var connection = database.Connect();
        return connection.Execute(
                "DELETE FROM own_shares WHERE user_name = @Owner AND path = @Path AND kind = @Kind AND name = @Name",
                share
            ) > 0;
    }
}
