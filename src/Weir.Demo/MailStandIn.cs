using System.Buffers;
using System.Globalization;
using System.Net;
using System.Net.Sockets;
using System.Security.Cryptography.X509Certificates;
using System.Text;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;
using MimeKit;
using SmtpServer;
using SmtpServer.Authentication;
using SmtpServer.ComponentModel;
using SmtpServer.Protocol;
using SmtpServer.Storage;

namespace Weir.Demo;

/// <summary>A message that came in.</summary>
/// <param name="To">The addresses that it was handed over for.</param>
public sealed record CameIn(int Number, DateTimeOffset At, IReadOnlyList<string> To, MimeMessage Message);

/// <summary>Whom a mail server lets in.</summary>
/// <param name="Certificate">What it shows of itself, with its private key.</param>
/// <param name="IsSecure">True for TLS from the first byte on; else it begins with STARTTLS.</param>
public sealed record MailDoor(X509Certificate2 Certificate, string User, string Password, bool IsSecure);

/// <summary>
/// Stands in for a mail server, on this machine only: takes whatever comes for whomever, keeps it as files, sends nothing on, and shows it on
/// a page.
/// </summary>
public sealed class MailStandIn : IAsyncDisposable
{
    private const int Most = 500;

    private readonly CancellationTokenSource _end = new();
    private readonly List<CameIn> _messages = [];
    private readonly string? _folder;
    private Task _serving = Task.CompletedTask;
    private WebApplication? _page;
    private int _count;

    private MailStandIn(string? folder) => _folder = folder;

    /// <summary>Where it takes mail.</summary>
    public int Port { get; private set; }

    /// <summary>The page on which what came in is seen; null without one.</summary>
    public string? Page { get; private set; }

    /// <summary>What it answers to a message: 250 takes it, 4xx not now, 5xx never. It takes everything if null.</summary>
    public Func<CameIn, Task<int>>? Answers { get; set; }

    /// <summary>What came in and was taken, the oldest first.</summary>
    public IReadOnlyList<CameIn> Messages
    {
        get
        {
            lock (_messages)
                return [.. _messages];
        }
    }

    /// <summary>Starts it on a free port of this machine.</summary>
    /// <param name="folder">Where to keep messages, as files .eml; null to keep none.</param>
    /// <param name="withPage">True to show them on a page.</param>
    /// <param name="door">Whom it lets in, by TLS only; everybody, without, if null.</param>
    /// <param name="port">The port to listen on; a free one if null.</param>
    public static async Task<MailStandIn> Start(string? folder = null, bool withPage = false, MailDoor? door = null, int? port = null)
    {
        var standIn = new MailStandIn(folder) { Port = port ?? FreePort() };
        if (folder is not null)
            Directory.CreateDirectory(folder);
        var services = new SmtpServer.ComponentModel.ServiceProvider();
        services.Add(new Store(standIn));
        if (door is not null)
            services.Add(new DelegatingUserAuthenticator((user, password) => user == door.User && password == door.Password));
        var options = new SmtpServerOptionsBuilder()
            .ServerName("localhost")
            .Endpoint(e =>
            {
                e.Endpoint(new IPEndPoint(IPAddress.Loopback, standIn.Port));
                if (door is not null)
                    e.IsSecure(door.IsSecure).Certificate(door.Certificate).AuthenticationRequired();
            })
            .MaxMessageSize(40 * 1024 * 1024)
            .Build();
        standIn._serving = new SmtpServer.SmtpServer(options, services).StartAsync(standIn._end.Token);
        if (withPage)
            await standIn.StartPage();
        return standIn;
    }

    /// <summary>A port of this machine that nobody listens on.</summary>
    public static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    private async Task<int> Take(IReadOnlyList<string> to, MimeMessage message)
    {
        var came = new CameIn(Interlocked.Increment(ref _count), TimeProvider.System.GetUtcNow(), to, message);
        var answer = Answers is { } answers ? await answers(came) : 250;
        if (answer != 250)
            return answer;
        if (_folder is not null)
            await message.WriteToAsync(Path.Combine(_folder, $"{came.At:yyyyMMdd-HHmmss}-{came.Number}.eml"));
        lock (_messages)
        {
            _messages.Add(came);
            if (_messages.Count > Most)
                _messages.RemoveAt(0);
        }
        return 250;
    }

    private sealed class Store(MailStandIn standIn) : MessageStore
    {
        public override async Task<SmtpResponse> SaveAsync(
            ISessionContext context,
            IMessageTransaction transaction,
            ReadOnlySequence<byte> buffer,
            CancellationToken cancellationToken
        )
        {
            using var stream = new MemoryStream(buffer.ToArray());
            var message = await MimeMessage.LoadAsync(stream, cancellationToken);
            List<string> to = [.. transaction.To.Select(t => $"{t.User}@{t.Host}")];
            var answer = await standIn.Take(to, message);
            return new SmtpResponse((SmtpReplyCode)answer, answer == 250 ? "taken" : "not taken");
        }
    }

    private async Task StartPage()
    {
        var builder = WebApplication.CreateEmptyBuilder(new WebApplicationOptions());
        builder.Services.AddRoutingCore();
        builder.WebHost.UseKestrelCore();
        builder.WebHost.ConfigureKestrel(k => k.Listen(IPAddress.Loopback, 0));
        var page = _page = builder.Build();
        page.Use(
            (context, next) =>
            {
                // What came in by mail is nobody's page: it runs nothing, asks for nothing and stands in no other.
                context.Response.Headers.ContentSecurityPolicy =
                    "default-src 'none'; style-src 'unsafe-inline'; img-src data:; frame-src 'self'; frame-ancestors 'self'; sandbox allow-downloads allow-popups allow-same-origin";
                context.Response.Headers.XContentTypeOptions = "nosniff";
                return next(context);
            }
        );
        page.MapGet("/", () => Results.Content(List(), "text/html; charset=utf-8"));
        page.MapGet(
            "/{number:int}",
            (int number) => Find(number) is { } found ? Results.Content(One(found), "text/html; charset=utf-8") : Results.NotFound()
        );
        page.MapGet(
            "/{number:int}/body",
            (int number) =>
                Find(number) is { } found ? Results.Content(Body(found.Message), "text/html; charset=utf-8") : Results.NotFound()
        );
        page.MapGet(
            "/{number:int}/{file:int}",
            (int number, int file) =>
                Find(number)?.Message.Attachments.OfType<MimePart>().ElementAtOrDefault(file) is { } part
                    ? Results.File(Bytes(part), "application/octet-stream", part.FileName)
                    : Results.NotFound()
        );
        await page.StartAsync();
        Page = page.Urls.First();
    }

    private CameIn? Find(int number) => Messages.FirstOrDefault(m => m.Number == number);

    private static byte[] Bytes(MimePart part)
    {
        using var memory = new MemoryStream();
        part.Content?.DecodeTo(memory);
        return memory.ToArray();
    }

    private const string Style =
        "<style>body{font:15px/1.5 sans-serif;margin:24px;color:#1c2733;background:#fff}table{border-collapse:collapse}td,th{text-align:left;padding:6px 16px 6px 0;border-bottom:1px solid #d5dbe1}a{color:#0b5cad}iframe{width:100%;height:75vh;border:1px solid #d5dbe1;margin-top:16px}</style>";

    private static string E(string? text) => WebUtility.HtmlEncode(text ?? "");

    private string List()
    {
        var rows = string.Concat(
            Messages
                .Reverse()
                .Select(m =>
                    $"<tr><td>{m.At.ToString("d MMM HH:mm:ss", CultureInfo.InvariantCulture)}</td><td>{E(string.Join(", ", m.To))}</td><td><a href=\"/{m.Number}\">{E(m.Message.Subject)}</a></td><td>{E(string.Join(", ", m.Message.Attachments.OfType<MimePart>().Select(a => a.FileName)))}</td></tr>"
                )
        );
        return $"<!doctype html><html lang=\"en\"><title>Mail that came in</title>{Style}<h1>Mail that came in</h1><p>Nothing of it was sent on. Load the page again to see what is new.</p>"
            + (
                rows.Length == 0
                    ? "<p>Nothing came in yet.</p>"
                    : $"<table><tr><th>Time (UTC)</th><th>To</th><th>Subject</th><th>Files</th></tr>{rows}</table>"
            )
            + "</html>";
    }

    private static string One(CameIn came)
    {
        var files = came.Message.Attachments.OfType<MimePart>().Select((a, i) => $"<a href=\"/{came.Number}/{i}\">{E(a.FileName)}</a>");
        return $"<!doctype html><html lang=\"en\"><title>{E(came.Message.Subject)}</title>{Style}<p><a href=\"/\">All mail</a></p><h1>{E(came.Message.Subject)}</h1>"
            + $"<p>From {E(came.Message.From.ToString())} to {E(string.Join(", ", came.To))}</p><p>{string.Join(" · ", files)}</p>"
            + $"<iframe title=\"The message\" src=\"/{came.Number}/body\" sandbox=\"allow-popups\"></iframe></html>";
    }

    /// <summary>The message as its reader sees it, its pictures within it.</summary>
    private static string Body(MimeMessage message)
    {
        if (message.HtmlBody is not { } html)
            return $"<!doctype html><html lang=\"en\">{Style}<pre style=\"white-space:pre-wrap\">{E(message.TextBody)}</pre></html>";
        var text = new StringBuilder(html);
        foreach (var part in message.BodyParts.OfType<MimePart>().Where(p => p.ContentId is not null))
            text.Replace($"cid:{part.ContentId}", $"data:{part.ContentType.MimeType};base64,{Convert.ToBase64String(Bytes(part))}");
        return text.ToString();
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        await _end.CancelAsync();
        if (_page is not null)
            await _page.DisposeAsync();
        try
        {
            await _serving;
        }
        catch (OperationCanceledException)
        {
            // It was ended.
        }
        _end.Dispose();
    }
}
