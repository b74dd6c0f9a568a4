using System.Net;

namespace Weir.Service;

/// <summary>How the service runs.</summary>
public sealed record ServiceOptions
{
    /// <summary>Where the service keeps what it remembers.</summary>
    public required string DataFolder { get; init; }

    /// <summary>The only folder in which the files of sources may lie.</summary>
    public required string FilesFolder { get; init; }

    /// <summary>The only folder in which secret files and certificates may lie; DATA/secrets if null.</summary>
    public string? SecretsFolder { get; init; }

    /// <summary>The most memory that kept answers may take.</summary>
    public int CacheMegabytes { get; init; } = 64;

    /// <summary>Where sources may point, as HOST:PORT or HOST; null for anywhere but link-local addresses.</summary>
    public IReadOnlyList<string>? Reach { get; init; }

    /// <summary>The folders of sources.</summary>
    internal Engines.EngineFolders Folders =>
        new(
            Path.GetFullPath(FilesFolder),
            Path.GetFullPath(SecretsFolder ?? Path.Combine(DataFolder, "secrets")),
            Path.GetFullPath(Path.Combine(DataFolder, "work"))
        )
        {
            Reach = new(Reach),
        };

    /// <summary>A folder of definitions to publish at start; null to serve what is published already.</summary>
    public string? WorkspaceFolder { get; init; }

    /// <summary>Publish again whenever a file of <see cref="WorkspaceFolder"/> changes.</summary>
    public bool Watch { get; init; }

    /// <summary>With <see cref="Watch"/>: commit what people publish in the git checkout that <see cref="WorkspaceFolder"/> is.</summary>
    public bool Commit { get; init; }

    /// <summary>The address to listen on. Another than loopback must be wanted: there is no TLS here.</summary>
    public IPAddress Address { get; init; } = IPAddress.Loopback;

    /// <summary>The port to listen on; 0 for any free one.</summary>
    public int Port { get; init; } = 7410;

    /// <summary>The proxies before the service, of which the address and the scheme of who asks are believed.</summary>
    public IReadOnlyList<IPAddress> Proxies { get; init; } = [];

    /// <summary>Where people reach the service, for what leaves it by itself: <c>https://weir.example</c>; where it listens if null.</summary>
    public string? PublicAddress { get; init; }

    /// <summary>The server that takes mail; null to send none.</summary>
    public Schedules.MailServer? Mail { get; init; }

    /// <summary>The only folder in which reports may be put; null for none.</summary>
    public string? ReportsFolder { get; init; }

    /// <summary>True if figures of runs may be kept as tables, in the folder kept of <see cref="FilesFolder"/>.</summary>
    public bool KeepsTables { get; init; }

    /// <summary>The only hosts that reports may be told to by a call, as HOST:PORT or HOST.</summary>
    public IReadOnlyList<string> Calls { get; init; } = [];

    /// <summary>The built console; null for the one beside the program.</summary>
    public string? ConsoleFolder { get; init; }

    /// <summary>Least level of what is logged to standard error.</summary>
    public bool Quiet { get; init; }

    /// <summary>The clock; tests hand in their own.</summary>
    public TimeProvider Clock { get; init; } = TimeProvider.System;
}
