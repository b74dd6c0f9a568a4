using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;

namespace Weir.Service.Exports;

/// <summary>Where the service is reached: as whoever asks reached it, else as it is told, else where it listens.</summary>
internal sealed class HostAddress(IHttpContextAccessor http, ServiceOptions options, IServer server)
{
    /// <summary>An address without a slash at its end.</summary>
    public string Address =>
        http.HttpContext is { Request: var request }
            ? $"{request.Scheme}://{request.Host}"
            : (options.PublicAddress ?? server.Features.Get<IServerAddressesFeature>()?.Addresses.FirstOrDefault() ?? "").TrimEnd('/');
}
