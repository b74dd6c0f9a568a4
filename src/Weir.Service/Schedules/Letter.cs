using System.Net;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using MimeKit;
using MimeKit.Utils;
using Weir.Service.Exports;
using Weir.Store;

namespace Weir.Service.Schedules;

/// <summary>What is said beside a file: what it is, whose rows it has, and where to see it live.</summary>
/// <param name="About">What the file says of itself.</param>
/// <param name="Found">For which members the condition holds, a line each; none if there is no condition.</param>
internal sealed record Letter(AboutExport About, IReadOnlyList<string> Found)
{
    /// <summary>As it is stored with a run.</summary>
    public string Write() => JsonSerializer.Serialize(this);

    public static Letter Read(string written) => JsonSerializer.Deserialize<Letter>(written)!;

    /// <summary>A message of mail: text, the same as HTML with a picture in it, and the file.</summary>
    /// <param name="end">The address at which its reader ends it with one click; null where others decide.</param>
    public MimeMessage Message(Delivery delivery, RunFile file, MailServer server, string? end)
    {
        var builder = new BodyBuilder { TextBody = Text(end) };
        string? picture = null;
        if (file.Picture is { } png)
        {
            var linked = builder.LinkedResources.Add("picture.png", png, new ContentType("image", "png"));
            picture = linked.ContentId = MimeUtils.GenerateMessageId(DomainOf(server));
        }
        builder.HtmlBody = Html(picture, end);
        builder.Attachments.Add(file.Name, file.Content, ContentType.Parse(file.MediaType.Split(';')[0]));
        var message = Begin(delivery, server, About.Title);
        if (end is not null)
        {
            // RFC 8058: programs that read mail offer to end it.
            message.Headers.Add(HeaderId.ListUnsubscribe, $"<{end}>");
            message.Headers.Add(HeaderId.ListUnsubscribePost, "List-Unsubscribe=One-Click");
        }
        message.Body = builder.ToMessageBody();
        return message;
    }

    /// <summary>A message to the owner of a report.</summary>
    public static MimeMessage Notice(Delivery delivery, MailServer server)
    {
        var words = delivery.Words!;
        var message = Begin(delivery, server, words.Split('\n')[0]);
        message.Body = new TextPart("plain") { Text = words };
        return message;
    }

    /// <summary>One message for one delivery, however often it is tried: it keeps its id.</summary>
    private static MimeMessage Begin(Delivery delivery, MailServer server, string subject)
    {
        var id = Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes($"{delivery.Run} {delivery.Reader}")))[..40];
        var message = new MimeMessage
        {
            Subject = string.Concat(subject.Select(c => char.IsControl(c) ? ' ' : c)),
            MessageId = $"{id}@{DomainOf(server)}",
        };
        message.From.Add(MailboxAddress.Parse(server.From));
        message.To.Add(new MailboxAddress(delivery.Title, delivery.Address!));
        // RFC 3834: nobody's absence answers it.
        message.Headers.Add(HeaderId.AutoSubmitted, "auto-generated");
        return message;
    }

    private static string DomainOf(MailServer server) => server.From[(server.From.LastIndexOf('@') + 1)..];

    private string Text(string? end) =>
        string.Join(
            '\n',
            Found
                .Concat(Found.Count > 0 ? [""] : [])
                .Concat(About.Lines().Prepend(About.Title))
                .Concat(end is null ? [] : ["", $"You asked for this yourself. To end it: {end}"])
        );

    private string Html(string? picture, string? end)
    {
        static string E(string text) => WebUtility.HtmlEncode(text);
        static string Lines(string text) => E(text).Replace("\n", "<br>", StringComparison.Ordinal);
        var html = new StringBuilder(
            "<!doctype html><html lang=\"en\"><body style=\"margin:0;padding:24px;background:#fff;color:#1c2733;font:15px/1.5 sans-serif\">"
        );
        html.Append($"<h1 style=\"font-size:20px;margin:0 0 8px\">{E(About.Title)}</h1>");
        if (About.Description is { } description)
            html.Append($"<p style=\"margin:0 0 12px;color:#4a5765\">{E(description)}</p>");
        if (Found.Count > 0)
            html.Append($"<ul style=\"margin:0 0 16px;padding-left:20px\">{string.Concat(Found.Select(f => $"<li>{E(f)}</li>"))}</ul>");
        if (About.Before is { } before)
            html.Append($"<p style=\"margin:0 0 16px\">{Lines(before)}</p>");
        if (picture is not null)
            html.Append(
                $"<p style=\"margin:0 0 16px\"><a href=\"{E(About.Address)}\"><img src=\"cid:{picture}\" alt=\"{E(About.Title)}, as a picture; the figures are in the file\" style=\"width:100%;max-width:960px;border:1px solid #d5dbe1\"></a></p>"
            );
        html.Append($"<p style=\"margin:0 0 16px\"><a href=\"{E(About.Address)}\" style=\"color:#0b5cad\">Open it live</a></p>");
        if (About.After is { } after)
            html.Append($"<p style=\"margin:0 0 16px\">{Lines(after)}</p>");
        html.Append("<p style=\"margin:0;color:#4a5765;font-size:13px\">");
        var small = About
            .State.Append(About.Rows)
            .Concat(About.ReadAt is { } read ? [$"Data read {About.InZone(read)}"] : [])
            .Append($"Made {About.InZone(About.MadeAt)}, version {About.Version} of the definitions");
        html.Append(string.Join("<br>", small.Select(E))).Append("</p>");
        if (end is not null)
            html.Append(
                $"<p style=\"margin:16px 0 0;font-size:13px;color:#4a5765\">You asked for this yourself. <a href=\"{E(end)}\" style=\"color:#0b5cad\">End it</a></p>"
            );
        return html.Append("</body></html>").ToString();
    }
}
