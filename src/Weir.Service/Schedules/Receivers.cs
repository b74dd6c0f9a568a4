using System.Text.Json;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Service.Publishing;
using Weir.Store;

namespace Weir.Service.Schedules;

/// <summary>Somebody whom a run goes to.</summary>
/// <param name="Key">The kind and the name: <c>person:director</c>, <c>outside:harbour</c>.</param>
/// <param name="Viewer">With whose rights it is made for them; null if there is nobody.</param>
/// <param name="Way">mail, folder, call or table.</param>
/// <param name="Address">Where it goes; null if that is not known.</param>
/// <param name="Problem">Why nothing can go to them; null if it can.</param>
internal sealed record Receiver(string Key, string Title, Viewer? Viewer, string Way, string? Address, string? Problem);

/// <summary>Readers with the same rights: what is made for one of them is what each of them gets.</summary>
/// <param name="Viewer">With whose rights it is made.</param>
internal sealed record EqualRights(Viewer Viewer, IReadOnlyList<Receiver> Receivers);

/// <summary>Finds out whom a report goes to, where, and who of them may see the same.</summary>
internal sealed class Receivers(Users users)
{
    /// <summary>The attribute of an account that holds its address of mail.</summary>
    public const string Email = "email";

    private const int Most = 1_000;

    /// <summary>True if a report goes to an account.</summary>
    public static bool IsOne(Report report, Viewer viewer) =>
        report.To.People.Contains(viewer.Name) || viewer.Roles.Intersect(report.To.Roles).Any();

    /// <summary>Everybody whom a report goes to, once.</summary>
    public IReadOnlyList<Receiver> Of(Report report, Workspace workspace)
    {
        var all = new List<Receiver>();
        foreach (var name in report.To.People)
            all.Add(
                users.Find(name) is { } user
                    ? Person(user.Viewer)
                    : new Receiver($"person:{name}", name, null, "mail", null, $"There is no account {name}.")
            );
        if (report.To.Roles.Count > 0)
            all.AddRange(users.All().Where(u => u.Viewer.Roles.Intersect(report.To.Roles).Any()).Select(u => Person(u.Viewer)));
        all.AddRange(report.To.Outside.Select(name => Outside(workspace.Access.Outside[name])));
        return
        [
            .. all.DistinctBy(r => r.Key)
                .Select((r, n) => n < Most ? r : r with { Problem = $"A report goes to {Most:N0} readers at most." }),
        ];
    }

    /// <summary>Somebody with an account, whom mail goes to.</summary>
    public static Receiver Person(Viewer viewer)
    {
        var address = viewer.Attributes.GetValueOrDefault(Email) is [var only] && MailAddresses.IsOne(only) ? only : null;
        return new Receiver(
            $"person:{viewer.Name}",
            viewer.Title,
            viewer,
            "mail",
            address,
            address is null ? $"{viewer.Name} has no address: the account needs the attribute {Email}." : null
        );
    }

    private static Receiver Outside(OutsideReader reader)
    {
        var (way, address) =
            reader.Mail is { } mail ? ("mail", mail)
            : reader.Folder is { } folder ? ("folder", folder)
            : reader.Table is { } table ? ("table", table)
            : ("call", reader.Call!);
        var key = $"outside:{reader.Name}";
        // No account has a name with a colon: nothing that an account owns is theirs.
        return new Receiver(key, reader.Title, new Viewer(key, reader.Title, reader.Roles, reader.Attributes), way, address, null);
    }

    /// <summary>
    /// Puts those together who have the same roles and attributes: all that rights are worked out from. Names count where any definition
    /// asks for the viewer's name, and addresses where one asks for them.
    /// </summary>
    public static IReadOnlyList<EqualRights> Grouped(string report, IEnumerable<Receiver> receivers, LiveWorkspace live)
    {
        bool Asks(string attribute) =>
            live.Version.Files.Values.Any(text => text.Contains($"user.{attribute}", StringComparison.OrdinalIgnoreCase));
        var (namesCount, addressesCount) = (Asks("name"), Asks(Email));
        string KeyOf(Viewer viewer) =>
            JsonSerializer.Serialize(
                new
                {
                    name = namesCount ? viewer.Name : null,
                    roles = viewer.Roles.Distinct().Order(StringComparer.Ordinal),
                    attributes = Counted(viewer).OrderBy(a => a.Key, StringComparer.Ordinal).Select(a => (object)new { a.Key, a.Value }),
                }
            );
        IEnumerable<KeyValuePair<string, IReadOnlyList<string>>> Counted(Viewer viewer) =>
            viewer.Attributes.Where(a => a.Key != Email || addressesCount);
        return
        [
            .. receivers
                .Where(r => r.Viewer is not null)
                .GroupBy(r => KeyOf(r.Viewer!))
                .Select(g =>
                    g.ToList() is [var only] ? new EqualRights(only.Viewer!, [only]) : new EqualRights(Several(g.First().Viewer!), [.. g])
                ),
        ];

        // What they get names their rights, not one of them: they need not know of one another.
        Viewer Several(Viewer first) =>
            first with
            {
                Name = $"report:{report}",
                Title = InWords(first),
                // Whatever does not count is nobody's: what asks for it all the same finds nothing.
                Attributes = Counted(first).ToDictionary(),
            };

        string InWords(Viewer viewer)
        {
            var roles = string.Join(", ", viewer.Roles.Select(r => live.Workspace.Access.Roles.GetValueOrDefault(r)?.Title ?? r));
            var attributes = string.Join("; ", Counted(viewer).Select(a => $"{a.Key} {string.Join(", ", a.Value)}"));
            return attributes.Length == 0 ? roles : $"{roles} ({attributes})";
        }
    }
}
