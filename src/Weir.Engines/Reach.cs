using System.Net;
using System.Net.Sockets;
using Weir.Core.Definitions;

namespace Weir.Engines;

/// <summary>Where sources may point. Who defines a source must not make the service a way into the network that it stands in.</summary>
/// <param name="Allowed">Pairs <c>host:port</c>, or hosts for every port; null for anywhere but link-local addresses.</param>
public sealed record Reach(IReadOnlyList<string>? Allowed = null)
{
    /// <summary>Reads <c>HOST:PORT</c> or <c>HOST</c>; null if the text is neither.</summary>
    public static string? Parse(string text)
    {
        var colon = text.LastIndexOf(':');
        var isPort = colon > 0 && int.TryParse(text[(colon + 1)..], out var port) && port is > 0 and < 65536;
        return text.Length == 0 || text.Any(char.IsWhiteSpace) || (colon >= 0 && !isPort && !IPAddress.TryParse(text, out _))
            ? null
            : text.ToLowerInvariant();
    }

    /// <summary>How the addresses of a name are looked up.</summary>
    public Func<string, IPAddress[]> Lookup { get; init; } = Dns.GetHostAddresses;

    /// <summary>True where a source was checked before and is asked by whoever was handed it.</summary>
    internal bool IsChecked { get; init; }

    /// <summary>
    /// Makes sure that a source points where it may, and tells where to connect. Without TLS that is the address that was looked at:
    /// the name could stand for another a moment later. With TLS it stays the name, which the server's certificate has to prove.
    /// </summary>
    /// <exception cref="SourceException">It points elsewhere, or there is no machine of that name.</exception>
    internal string Check(Source source)
    {
        if (IsChecked)
            return source.Server!.Host;
        var host = source.Server!.Host;
        if (Allowed is not null && !Allowed.Contains(Secrets.HostOf(source)) && !Allowed.Contains(host.ToLowerInvariant()))
            throw Refused(source, "Have the service started with --reach for this host and port.");
        IPAddress[] addresses;
        try
        {
            addresses = Lookup(host);
        }
        catch (Exception e) when (e is SocketException or ArgumentException)
        {
            throw new SourceException(
                "source-unavailable",
                $"{source.Title}: There is no machine {host}.",
                "Check host in the source's definition, and the name service.",
                e
            )
            {
                Data = { ["step"] = "name" },
            };
        }
        if (Allowed is null && addresses.Any(IsLinkLocal))
            throw Refused(source, "Addresses of the local link only are never asked, unless --reach names them.");
        return source.Server.Tls || IPAddress.TryParse(host, out _) || addresses.Length == 0
            ? host
            : Answering(addresses, source).ToString();
    }

    /// <summary>The first of several addresses at which something answers; the first of all if none does.</summary>
    private static IPAddress Answering(IPAddress[] addresses, Source source)
    {
        foreach (var address in addresses.Length > 1 ? addresses : [])
        {
            using var socket = new Socket(address.AddressFamily, SocketType.Stream, ProtocolType.Tcp);
            try
            {
                using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(2));
                socket.ConnectAsync(address, Secrets.PortOf(source), limit.Token).AsTask().GetAwaiter().GetResult();
                return address;
            }
            catch (Exception e) when (e is SocketException or OperationCanceledException)
            {
                // The next one may answer.
            }
        }
        return addresses[0];
    }

    private static bool IsLinkLocal(IPAddress address) =>
        address.IsIPv6LinkLocal || (address.IsIPv4MappedToIPv6 ? address.MapToIPv4() : address).GetAddressBytes() is [169, 254, _, _];

    private static SourceException Refused(Source source, string remedy) =>
        new("source-unavailable", $"{source.Title}: this service may not reach {source.Server!.Host}.", remedy)
        {
            Data = { ["step"] = "name" },
        };
}
