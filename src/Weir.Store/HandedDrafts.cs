using Dapper;

namespace Weir.Store;

/// <summary>A draft as its owner handed it to those who publish; what the owner changes later is none of it.</summary>
/// <param name="Base">The published version that it was begun from.</param>
/// <param name="Why">What the owner says of it.</param>
/// <param name="At">When, in UTC.</param>
public sealed record HandedDraft(string Owner, string Path, long Base, string Text, string Why, string At);

/// <summary>Drafts that were handed over and that nobody has taken yet: of each draft the newest.</summary>
public sealed class HandedDrafts(StoreDatabase database, TimeProvider clock)
{
    private const string Select =
        "SELECT user_name AS Owner, path AS Path, base AS Base, text AS Text, why AS Why, at AS At FROM handed_drafts";

    /// <summary>All of them, the oldest first.</summary>
    public IReadOnlyList<HandedDraft> All()
    {
        using var connection = database.Connect();
        return [.. connection.Query<HandedDraft>($"{Select} ORDER BY at, user_name, path")];
    }

    /// <summary>What somebody handed over of a file; null if nothing.</summary>
    public HandedDraft? Get(string owner, string path)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<HandedDraft>($"{Select} WHERE user_name = @owner AND path = @path", new { owner, path });
    }

    /// <summary>Hands a draft over, in place of what was handed over of it before.</summary>
    public HandedDraft Put(string owner, Draft draft, string why)
    {
        using var connection = database.Connect();
        connection.Execute(
            """
            INSERT INTO handed_drafts (user_name, path, base, text, why, at) VALUES (@owner, @Path, @Base, @Text, @why, @at)
            ON CONFLICT (user_name, path) DO UPDATE SET base = @Base, text = @Text, why = @why, at = @at
            """,
            new
            {
                owner,
                draft.Path,
                draft.Base,
                draft.Text,
                why,
                at = clock.GetUtcNow(),
            }
        );
        return Get(owner, draft.Path)!;
    }

    /// <summary>Takes it out of what is handed over; false if it is not there.</summary>
    /// <param name="at">Only as it was handed over then: what was handed over meanwhile stays.</param>
    public bool Remove(string owner, string path, string? at = null)
    {
        using var connection = database.Connect();
        return connection.Execute(
                "DELETE FROM handed_drafts WHERE user_name = @owner AND path = @path AND (@at IS NULL OR at = @at)",
                new
                {
                    owner,
                    path,
                    at,
                }
            ) > 0;
    }
}
