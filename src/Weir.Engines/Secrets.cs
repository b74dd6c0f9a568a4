using System.Text.RegularExpressions;
using Weir.Core.Definitions;

namespace Weir.Engines;

/// <summary>
/// Passwords from the environment or a secret file, so that no definition holds one. Who defines a source is not the owner of
/// the secrets: a password is sent only to the hosts that its owner named beside it or, where none is named, to the host that
/// it is bound to.
/// </summary>
public static partial class Secrets
{
    /// <summary>The only variables of the environment that a definition may name begin so.</summary>
    public const string Prefix = "WEIR_SECRET_";

    /// <summary>The names of the secrets that a source's password is made of, as <c>env:NAME</c> or <c>secret:NAME</c>.</summary>
    public static IReadOnlyList<string> Of(Source source) =>
        source.Server?.Password is { } password ? [.. Reference().Matches(password).Select(m => m.Value[2..^1]).Distinct()] : [];

    /// <summary>Where a source's password is sent: <c>host:port</c> in small letters.</summary>
    public static string HostOf(Source source) => $"{source.Server!.Host.ToLowerInvariant()}:{PortOf(source)}";

    /// <summary>The port of a source, its engine's own if it names none.</summary>
    public static int PortOf(Source source) =>
        source.Server!.Port
        ?? source.Engine switch
        {
            "postgresql" => 5432,
            "sqlserver" => 1433,
            _ => 3306,
        };

    /// <summary>
    /// The password of a source, each <c>${env:NAME}</c> and <c>${secret:NAME}</c> replaced; the latter is the first line of the file of
    /// that name.
    /// </summary>
    /// <exception cref="SourceException">A secret is not there, or may not be sent to the source's host.</exception>
    internal static string? Password(Source source, EngineFolders folders)
    {
        foreach (var secret in Of(source))
            CheckHost(secret, HostOf(source), folders);
        return source.Server!.Password is { } password
            ? Reference()
                .Replace(
                    password,
                    m => m.Groups[1].Value == "env" ? FromEnvironment(m.Groups[2].Value) : FromFile(m.Groups[2].Value, folders)
                )
            : null;
    }

    /// <summary>True if the owner of a secret named hosts for it, in the file NAME.hosts of the folder of secrets.</summary>
    public static bool HasHosts(string secret, EngineFolders folders) => HostsNamed(secret, folders) is not null;

    private static List<string>? HostsNamed(string secret, EngineFolders folders)
    {
        var path = folders.InSecrets(secret[(secret.IndexOf(':') + 1)..] + ".hosts");
        try
        {
            return File.Exists(path)
                ? [.. File.ReadLines(path).Select(l => l.Trim().ToLowerInvariant()).Where(l => l.Length > 0 && l[0] != '#')]
                : null;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new SourceException(
                "source-unavailable",
                $"The hosts of the secret {secret} can't be read.",
                "Make its file of hosts readable by the service.",
                e
            );
        }
    }

    private static void CheckHost(string secret, string host, EngineFolders folders)
    {
        if (HostsNamed(secret, folders) is { } named)
        {
            if (!named.Contains(host) && !named.Contains(host[..host.LastIndexOf(':')]))
                throw NotSent(secret, $"It may be sent to the hosts that its file {secret[(secret.IndexOf(':') + 1)..]}.hosts names.");
            return;
        }
        if (folders.BoundHost is not { } bound || bound(secret) == host)
            return;
        throw NotSent(
            secret,
            bound(secret) is null
                ? "It is bound to no host yet: publish the source, or have its owner name the host in a file of hosts beside it."
                : "It is bound to the host of the source that was published with it first; its owner can name others in a file of hosts beside it."
        );
    }

    private static SourceException NotSent(string secret, string remedy) =>
        new("source-unavailable", $"The secret {secret} is not sent to this host.", remedy) { Data = { ["step"] = "login" } };

    private static string FromEnvironment(string name) =>
        name.StartsWith(Prefix, StringComparison.Ordinal) && Environment.GetEnvironmentVariable(name) is { } value
            ? value
            : throw new SourceException(
                "source-unavailable",
                $"The environment variable {name} is not set, or its name does not begin with {Prefix}.",
                "Set it where the service is started."
            )
            {
                Data = { ["step"] = "login" },
            };

    private static string FromFile(string name, EngineFolders folders)
    {
        var path = folders.InSecrets(name);
        try
        {
            return File.ReadLines(path).FirstOrDefault() ?? "";
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            // Not the cause: it would tell the folder.
            throw new SourceException(
                "source-unavailable",
                $"The secret {name} can't be read.",
                "Put a file of that name into the service's folder of secrets, readable by the service."
            )
            {
                Data = { ["step"] = "login" },
            };
        }
    }

    [GeneratedRegex(@"\$\{(env|secret):([A-Za-z_][A-Za-z0-9_-]*)\}")]
    private static partial Regex Reference();
}
