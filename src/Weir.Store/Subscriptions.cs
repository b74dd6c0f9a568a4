using System.Security.Cryptography;
using System.Text;
using Dapper;

namespace Weir.Store;

/// <summary>What somebody gets again and again of a dashboard, in a state of their own.</summary>
/// <param name="When">When, in words.</param>
/// <param name="State">The state, as it was asked for.</param>
public sealed record Subscription(
    string Id,
    string User,
    string Dashboard,
    string When,
    string Zone,
    string Form,
    string State,
    string Since
)
{
    /// <summary>What its runs are of.</summary>
    public string Key => $"subscription:{Id}";
}

/// <summary>What people subscribed to.</summary>
public sealed class Subscriptions(StoreDatabase database, TimeProvider clock)
{
    /// <summary>So many somebody may have.</summary>
    public const int Most = 20;

    private const string Columns = "id, user_name AS User, dashboard, when_words AS \"When\", zone, form, state, since";

    /// <summary>The id of the subscription that a run is of; null if it is a report's.</summary>
    public static string? IdOf(string report) =>
        report.StartsWith("subscription:", StringComparison.Ordinal) ? report["subscription:".Length..] : null;

    /// <summary>Adds one; null if there are as many as there may be.</summary>
    public Subscription? Add(string user, string dashboard, string when, string zone, string form, string state)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        var count = connection.ExecuteScalar<long>("SELECT count(*) FROM subscriptions WHERE user_name = @user", new { user }, transaction);
        if (count >= Most)
            return null;
        var added = new Subscription(
            Guid.NewGuid().ToString("N"),
            user,
            dashboard,
            when,
            zone,
            form,
            state,
            StoredTimes.Write(clock.GetUtcNow())
        );
        connection.Execute(
            "INSERT INTO subscriptions (id, user_name, dashboard, when_words, zone, end_key, form, state, since) "
                + "VALUES (@Id, @User, @Dashboard, @When, @Zone, @endKey, @Form, @State, @Since)",
            new
            {
                added.Id,
                added.User,
                added.Dashboard,
                added.When,
                added.Zone,
                endKey = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(32)),
                added.Form,
                added.State,
                added.Since,
            },
            transaction
        );
        transaction.Commit();
        return added;
    }

    /// <summary>All there are.</summary>
    public IReadOnlyList<Subscription> All() => Where("1 = 1", new { });

    /// <summary>Those of somebody, the oldest first.</summary>
    public IReadOnlyList<Subscription> Of(string user) => Where("user_name = @user", new { user });

    /// <summary>One; null if there is none.</summary>
    public Subscription? Find(string id) => Where("id = @id", new { id }).FirstOrDefault();

    private IReadOnlyList<Subscription> Where(string condition, object values)
    {
        using var connection = database.Connect();
        return [.. connection.Query<Subscription>($"SELECT {Columns} FROM subscriptions WHERE {condition} ORDER BY since, id", values)];
    }

    /// <summary>Ends one of somebody; false if they have none such.</summary>
    public bool Remove(string user, string id)
    {
        using var connection = database.Connect();
        return connection.Execute("DELETE FROM subscriptions WHERE user_name = @user AND id = @id", new { user, id }) > 0;
    }

    /// <summary>What a mail's link proves: that it came with a mail of this subscription. It is good for ending that, and for nothing else.</summary>
    public string EndKey(string id)
    {
        using var connection = database.Connect();
        return connection.ExecuteScalar<string?>("SELECT end_key FROM subscriptions WHERE id = @id", new { id }) ?? "";
    }

    /// <summary>Ends one by the key that its mails carry; false if there is none with that key.</summary>
    public bool End(string id, string key)
    {
        var known = EndKey(id);
        if (known.Length == 0 || !CryptographicOperations.FixedTimeEquals(Encoding.UTF8.GetBytes(known), Encoding.UTF8.GetBytes(key)))
            return false;
        using var connection = database.Connect();
        return connection.Execute("DELETE FROM subscriptions WHERE id = @id", new { id }) > 0;
    }
}
