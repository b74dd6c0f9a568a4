using MailKit.Net.Smtp;
using MailKit.Security;
using Weir.Core.Definitions;

namespace Weir.Service.Schedules;

/// <summary>The server that takes mail, as whoever runs the service names it.</summary>
/// <param name="IsSecure">True for TLS from the first byte on (RFC 8314); else STARTTLS is asked for, but on this machine without a login.</param>
/// <param name="User">The login; null for none.</param>
/// <param name="Password">Its password; never in a definition, a log or a message.</param>
/// <param name="From">The address that mail comes from.</param>
public sealed record MailServer(string Host, int Port, bool IsSecure, string? User, string? Password, string From)
{
    /// <summary>Reads <c>smtp://USER@HOST:PORT</c> or <c>smtps://…</c>; null if it is neither, or holds a password.</summary>
    public static MailServer? Parse(string url, string from, string? password)
    {
        if (
            !Uri.TryCreate(url, UriKind.Absolute, out var at)
            || at.Scheme is not ("smtp" or "smtps")
            || at.Host.Length == 0
            || at.AbsolutePath is not ("" or "/")
            || at.UserInfo.Contains(':')
            || !MailAddresses.IsOne(from)
        )
            return null;
        var isSecure = at.Scheme == "smtps";
        var user = at.UserInfo.Length == 0 ? null : Uri.UnescapeDataString(at.UserInfo);
        return new MailServer(
            at.Host,
            at.Port > 0 ? at.Port
                : isSecure ? 465
                : 587,
            isSecure,
            user,
            password,
            from
        );
    }

    internal bool IsHere =>
        Uri.TryCreate($"smtp://{(Host.Contains(':') ? $"[{Host}]" : Host)}", UriKind.Absolute, out var at) && at.IsLoopback;

    /// <summary>Connects and signs in.</summary>
    /// <exception cref="NoWayException">It can't be reached, or takes nothing.</exception>
    internal async Task<SmtpClient> Connect(CancellationToken stop)
    {
        var client = new SmtpClient { Timeout = 60_000 };
        try
        {
            var security =
                IsSecure ? SecureSocketOptions.SslOnConnect
                // A password goes nowhere without TLS.
                : IsHere && User is null ? SecureSocketOptions.None
                : SecureSocketOptions.StartTls;
            await client.ConnectAsync(Host, Port, security, stop);
            if (User is not null)
                await client.AuthenticateAsync(User, Password ?? "", stop);
            return client;
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            client.Dispose();
            // Not the server's own words: it may say them of the password.
            throw new NoWayException(
                e switch
                {
                    AuthenticationException => "The mail server does not take the login.",
                    SslHandshakeException => $"The certificate of the mail server {Host}:{Port} is not trusted, or it does not speak TLS.",
                    _ => $"The mail server {Host}:{Port} can't be reached.",
                },
                mayPass: true,
                e
            );
        }
    }
}

/// <summary>Something did not go out.</summary>
/// <param name="mayPass">True if it may go out later.</param>
internal sealed class NoWayException(string message, bool mayPass, Exception? inner = null) : Exception(message, inner)
{
    /// <summary>True if it may go out later.</summary>
    public bool MayPass { get; } = mayPass;

    /// <summary>True if it was handed over whole, and no answer came: it may have arrived.</summary>
    public bool IsUnsure { get; init; }
}
