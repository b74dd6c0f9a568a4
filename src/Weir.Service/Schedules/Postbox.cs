using System.Net.Http.Json;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using MailKit;
using MailKit.Net.Smtp;
using Weir.Engines;
using Weir.Store;

namespace Weir.Service.Schedules;

/// <summary>
/// Hands over what is to be sent. Each thing is noted as being handed over, on the disk, before it is, and what came of it after; what is in
/// between when the service ends is never handed over again by itself.
/// </summary>
internal sealed class Postbox(
    Runs runs,
    Subscriptions subscriptions,
    Users users,
    Audit audit,
    ServiceOptions options,
    Exports.HostAddress host,
    TimeProvider clock,
    ILogger<Postbox> log
) : IDisposable
{
    private const int MostAttempts = 6;

    // What is called answers itself: it leads nowhere else.
    private readonly HttpClient _http = new(
        new SocketsHttpHandler
        {
            AllowAutoRedirect = false,
            UseProxy = false,
            UseCookies = false,
        }
    )
    {
        Timeout = TimeSpan.FromSeconds(60),
        MaxResponseContentBufferSize = 64 * 1024,
    };

    /// <summary>The ways on which something goes out.</summary>
    public static IReadOnlyList<string> Ways { get; } = ["mail", "folder", "call", "table"];

    /// <summary>Hands over all that is due on one way, one after the other.</summary>
    public async Task HandOver(string way, CancellationToken stop)
    {
        SmtpClient? mail = null;
        try
        {
            foreach (var delivery in runs.ToSend(way))
            {
                stop.ThrowIfCancellationRequested();
                try
                {
                    if (delivery.Way == "mail" && mail is not { IsConnected: true })
                    {
                        mail?.Dispose();
                        mail = null;
                        // Before anything is handed over: a server that is away leaves it as it is.
                        mail = await (options.Mail ?? throw new NoWayException("The service has no mail server.", mayPass: true)).Connect(
                            stop
                        );
                    }
                }
                catch (NoWayException e)
                {
                    if (runs.HandOver(delivery))
                        Note(delivery, e);
                    continue;
                }
                if (!runs.HandOver(delivery))
                    continue;
                try
                {
                    await HandOver(delivery, mail);
                    runs.Sent(delivery);
                    audit.Write(delivery.Reader, "sent", $"{runs.Find(delivery.Run)?.Report} by {delivery.Way}");
                }
                catch (NoWayException e)
                {
                    Note(delivery, e);
                }
                catch (Exception e)
                {
                    // It may be the note that it was taken which failed: nothing says that it is not there.
                    log.LogError(e, "A delivery of the run {Run} stumbled", delivery.Run);
                    runs.NotSent(
                        delivery,
                        "unsure",
                        "Something is wrong within the service, whose log says more: it may have arrived.",
                        null
                    );
                }
            }
        }
        finally
        {
            if (mail is { IsConnected: true })
                await mail.DisconnectAsync(true, CancellationToken.None);
            mail?.Dispose();
        }
    }

    private void Note(Delivery delivery, NoWayException e)
    {
        log.LogWarning("A delivery of the run {Run} did not go out: {Reason}", delivery.Run, e.Message);
        var attempt = delivery.Attempts + 1;
        if (e.IsUnsure)
            runs.NotSent(delivery, "unsure", e.Message, null);
        else if (e.MayPass && attempt < MostAttempts)
            runs.NotSent(delivery, "ready", e.Message, clock.GetUtcNow() + RunMaker.PauseAfter(attempt));
        else
            runs.NotSent(delivery, "failed", e.Message, null);
    }

    private Task HandOver(Delivery delivery, SmtpClient? mail)
    {
        if (delivery.File is null)
            return Mail(mail!, Letter.Notice(delivery, options.Mail!));
        // Who is nobody any more gets nothing that was made before.
        if (delivery.Reader.StartsWith("person:", StringComparison.Ordinal) && users.Find(delivery.Reader["person:".Length..]) is null)
            throw new NoWayException("The account is there no longer.", mayPass: false);
        var file = runs.FileOf(delivery.File) ?? throw new NoWayException("Its file is there no longer.", mayPass: false);
        return delivery.Way switch
        {
            "mail" => Mail(mail!, Letter.Read(file.Message).Message(delivery, file, options.Mail!, EndOf(delivery))),
            "folder" => IntoFolder(delivery, file),
            "table" => IntoTable(delivery, file),
            _ => Call(delivery, file),
        };
    }

    private string? EndOf(Delivery delivery) =>
        runs.Find(delivery.Run) is { } run && Subscriptions.IdOf(run.Report) is { } id
            ? $"{host.Address}/api/subscriptions/end/{id}/{subscriptions.EndKey(id)}"
            : null;

    private static async Task Mail(SmtpClient client, MimeKit.MimeMessage message)
    {
        var progress = new Progress();
        try
        {
            // Once begun it is ended, also when the service stops meanwhile.
            await client.SendAsync(message, CancellationToken.None, progress);
        }
        catch (SmtpCommandException e)
        {
            // The server says no: it has not taken it (RFC 5321, 4.2.1: 4 may pass, 5 stays).
            throw new NoWayException(
                $"The mail server refuses it: {(int)e.StatusCode}.",
                mayPass: (int)e.StatusCode is >= 400 and < 500,
                e
            );
        }
        catch (Exception e)
            when (e
                    is SmtpProtocolException
                        or IOException
                        or TimeoutException
                        or ServiceNotConnectedException
                        or System.Net.Sockets.SocketException
                        or OperationCanceledException
            )
        {
            throw progress.IsWhole
                ? new NoWayException("The mail server gave no answer: it may have arrived.", mayPass: false, e) { IsUnsure = true }
                : new NoWayException("The connection to the mail server broke.", mayPass: true, e);
        }
    }

    /// <summary>Knows whether the whole message left: until then no server can have taken it.</summary>
    private sealed class Progress : ITransferProgress
    {
        public bool IsWhole { get; private set; }

        public void Report(long bytesTransferred, long totalSize) => IsWhole = bytesTransferred >= totalSize;

        // Where the size is not known, any of it may be all.
        public void Report(long bytesTransferred) => IsWhole = true;
    }

    /// <summary>A file under a name that is the run's own: written twice it is there once, and never half.</summary>
    private async Task IntoFolder(Delivery delivery, RunFile file)
    {
        if (options.ReportsFolder is not { } root)
            throw new NoWayException("The service writes into no folder: it was started without --reports.", mayPass: true);
        try
        {
            await Put(
                Path.Combine(Path.GetFullPath(root), delivery.Address!),
                $"{Path.GetFileNameWithoutExtension(file.Name)}-{delivery.Run[..8]}{Path.GetExtension(file.Name)}",
                file.Content
            );
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new NoWayException($"The folder {delivery.Address} can't be written into.", mayPass: true, e);
        }
    }

    /// <summary>The lines of a run, added to a table of the folder of files; a table that has them already stays as it is.</summary>
    private async Task IntoTable(Delivery delivery, RunFile file)
    {
        if (!options.KeepsTables)
            throw new NoWayException("The service keeps no tables: it was started without --keep-tables.", mayPass: true);
        try
        {
            var folder = Path.Combine(Path.GetFullPath(options.FilesFolder), "kept");
            var path = Path.Combine(folder, $"{delivery.Address}.csv");
            var before = File.Exists(path) ? await File.ReadAllTextAsync(path) : null;
            var grown = KeptTable.Grown(delivery.Address!, before, Encoding.UTF8.GetString(file.Content), delivery.Run);
            if (grown != before)
                await Put(folder, $"{delivery.Address}.csv", Encoding.UTF8.GetBytes(grown));
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new NoWayException($"The table {delivery.Address} can't be written.", mayPass: true, e);
        }
    }

    /// <summary>Puts a file into a folder in one step: it is never there half.</summary>
    private static async Task Put(string folder, string name, byte[] content)
    {
        Directory.CreateDirectory(folder);
        if (new DirectoryInfo(folder).LinkTarget is not null)
            throw new NoWayException($"The folder {Path.GetFileName(folder)} leads elsewhere.", mayPass: false);
        var half = Path.Combine(folder, $".{name}.part");
        await File.WriteAllBytesAsync(half, content);
        File.Move(half, Path.Combine(folder, name), overwrite: true);
    }

    /// <summary>
    /// Tells an address that there is something new. Whoever is called can prove that it comes from here, and drop what comes twice: the id is
    /// the same however often it is tried (Standard Webhooks 1.0: webhook-id, webhook-timestamp, webhook-signature).
    /// </summary>
    private async Task Call(Delivery delivery, RunFile file)
    {
        var url = new Uri(delivery.Address!);
        var named = $"{url.Host}:{url.Port}".ToLowerInvariant();
        if (!options.Calls.Contains(named) && !options.Calls.Contains(url.Host.ToLowerInvariant()))
            throw new NoWayException($"The service may not call {url.Host}: it was started without --call for it.", mayPass: true);
        var key = KeyOf(delivery.Reader[(delivery.Reader.IndexOf(':') + 1)..]);
        var letter = Letter.Read(file.Message);
        var body = JsonSerializer.Serialize(
            new
            {
                letter.About,
                letter.Found,
                file = new
                {
                    file.Name,
                    file.MediaType,
                    content = Convert.ToBase64String(file.Content),
                },
            },
            JsonSerializerOptions.Web
        );
        var id = $"{delivery.Run}.{delivery.Reader[(delivery.Reader.IndexOf(':') + 1)..]}";
        var at = clock.GetUtcNow().ToUnixTimeSeconds();
        var signature = Convert.ToBase64String(HMACSHA256.HashData(key, Encoding.UTF8.GetBytes($"{id}.{at}.{body}")));
        using var request = new HttpRequestMessage(HttpMethod.Post, url)
        {
            Content = new StringContent(body, Encoding.UTF8, "application/json"),
        };
        request.Headers.Add("webhook-id", id);
        request.Headers.Add("webhook-timestamp", $"{at}");
        request.Headers.Add("webhook-signature", $"v1,{signature}");
        try
        {
            using var response = await _http.SendAsync(request, CancellationToken.None);
            if (!response.IsSuccessStatusCode)
                throw new NoWayException(
                    $"{url.Host} answers {(int)response.StatusCode}.",
                    mayPass: (int)response.StatusCode is >= 500 or 408 or 429
                );
        }
        catch (HttpRequestException e)
            when (e.HttpRequestError
                    is HttpRequestError.ConnectionError
                        or HttpRequestError.NameResolutionError
                        or HttpRequestError.SecureConnectionError
            )
        {
            throw new NoWayException($"{url.Host} can't be reached.", mayPass: true, e);
        }
        catch (Exception e) when (e is HttpRequestException or OperationCanceledException)
        {
            throw new NoWayException($"{url.Host} gave no answer: it may have arrived.", mayPass: false, e) { IsUnsure = true };
        }
    }

    /// <summary>The key that whoever is called knows. It lies where no definition can name it.</summary>
    private byte[] KeyOf(string reader)
    {
        try
        {
            var path = options.Folders.InSecrets(Path.Combine("calls", reader));
            return File.ReadLines(path).FirstOrDefault() is { Length: >= 16 } key
                ? Encoding.UTF8.GetBytes(key)
                : throw new NoWayException($"The key for {reader} is shorter than 16 letters.", mayPass: true);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or SourceException)
        {
            throw new NoWayException(
                $"There is no key to sign what {reader} is told: put it into calls/{reader} of the folder of secrets.",
                mayPass: true
            );
        }
    }

    public void Dispose() => _http.Dispose();
}
