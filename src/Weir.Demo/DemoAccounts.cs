using Weir.Core.Access;
using Weir.Store;

namespace Weir.Demo;

/// <summary>A demo account with its password, which works on loopback only and is printed at start.</summary>
public sealed record DemoAccount(Viewer Viewer, string Password, string Says);

/// <summary>The accounts of the demo, named after what they do.</summary>
public static class DemoAccounts
{
    /// <summary>All of them.</summary>
    public static IReadOnlyList<DemoAccount> All { get; } =
    [
        Make("director", "Director", "sees everything", []),
        Make("north-ports", "North ports", "sees the sailings of three ports", ["SKE", "ULL", "QUI"], "port-manager"),
        Make("skerrin-desk", "Skerrin desk", "sees the sailings of one port", ["SKE"], "port-desk"),
        Make("auditor", "Auditor", "sees all sailings, but no money", []),
        Make("developer", "Developer", "sees everything and publishes dashboards", []),
    ];

    private static DemoAccount Make(string name, string title, string says, IReadOnlyList<string> ports, string? role = null) =>
        new(
            new Viewer(
                name,
                title,
                [role ?? name],
                new Dictionary<string, IReadOnlyList<string>>(ports.Count == 0 ? [] : [KeyValuePair.Create("ports", ports)])
                {
                    ["email"] = [$"{name}@lantern-isles.example"],
                }
            ),
            $"{name}-lantern",
            says
        );

    /// <summary>Puts the accounts that are missing into the store.</summary>
    public static void Ensure(Users users)
    {
        foreach (var account in All)
            // One that was made before accounts had addresses is made anew.
            if (users.Find(account.Viewer.Name) is not { } known || !known.Viewer.Attributes.ContainsKey("email"))
                users.Put(account.Viewer, account.Password, loopbackOnly: true);
    }
}
