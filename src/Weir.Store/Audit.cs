using Dapper;
using Microsoft.Data.Sqlite;
using Weir.Core.Access;

namespace Weir.Store;

/// <summary>A line of the audit.</summary>
public sealed record AuditLine(string At, string Who, string Act, string What);

/// <summary>Who did what: sign-ins, refusals, look-as, changes. Never a secret, never a row of data.</summary>
public sealed class Audit(StoreDatabase database, TimeProvider clock)
{
    /// <summary>Writes a line of what a viewer did; where somebody looks as them, it is that person who did it.</summary>
    public void Write(Viewer viewer, string act, string what) =>
        Write(viewer.LookedAsBy ?? viewer.Name, act, viewer.LookedAsBy is null ? what : $"as {viewer.Name}: {what}");

    /// <summary>Writes a line.</summary>
    public void Write(string who, string act, string what)
    {
        using var connection = database.Connect();
        Write(connection, null, clock, who, act, what);
    }

    /// <summary>Writes a line in the transaction of the act itself, so that neither is there without the other.</summary>
    internal static void Write(
        SqliteConnection connection,
        SqliteTransaction? transaction,
        TimeProvider clock,
        string who,
        string act,
        string what
    ) =>
        connection.Execute(
            "INSERT INTO audit (at, who, act, what) VALUES (@at, @who, @act, @what)",
            new
            {
                at = clock.GetUtcNow(),
                who = Cut(who, 64),
                act,
                what = Cut(what, 1000),
            },
            transaction
        );

    /// <summary>The newest lines first.</summary>
    public IReadOnlyList<AuditLine> Newest(int count)
    {
        using var connection = database.Connect();
        return [.. connection.Query<AuditLine>("SELECT at, who, act, what FROM audit ORDER BY id DESC LIMIT @count", new { count })];
    }

    private static string Cut(string text, int length) => text.Length <= length ? text : text[..length];
}
