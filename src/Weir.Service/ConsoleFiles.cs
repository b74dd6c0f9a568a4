using System.Text.RegularExpressions;
using Microsoft.AspNetCore.StaticFiles;
using Microsoft.Extensions.FileProviders;
using Microsoft.Net.Http.Headers;

namespace Weir.Service;

/// <summary>The console's files; every other address outside the API is the console's own and gets its page.</summary>
internal static partial class ConsoleFiles
{
    private const string Page = "/index.html";
    private const string Brotli = ".br";

    /// <summary>Serves the files of the console, where there are any.</summary>
    public static void Use(WebApplication app, ServiceOptions options)
    {
        var folder = options.ConsoleFolder ?? Path.Combine(AppContext.BaseDirectory, "console");
        if (!File.Exists(Path.Combine(folder, Page[1..])))
            return;
        var files = new PhysicalFileProvider(Path.GetFullPath(folder));
        var drawing = Drawing(files);
        app.Use(
            (context, next) =>
            {
                var path = context.Request.Path;
                if (IsPage(context.Request))
                {
                    context.Response.Headers.Link = Ahead(context.Request, drawing);
                    context.Request.Path = Page;
                }
                // The build has left what is text as small as it gets beside itself.
                if (path.StartsWithSegments("/assets") && TakesBrotli(context.Request) && files.GetFileInfo(path + Brotli).Exists)
                    context.Request.Path = path + Brotli;
                return next(context);
            }
        );
        var types = new FileExtensionContentTypeProvider();
        types.Mappings[Brotli] = "application/octet-stream";
        app.UseStaticFiles(
            new StaticFileOptions
            {
                FileProvider = files,
                ContentTypeProvider = types,
                OnPrepareResponse = c =>
                {
                    var headers = c.Context.Response.Headers;
                    headers.CacheControl = c.File.Name == Page[1..] ? "no-cache" : "public, max-age=31536000, immutable";
                    if (!c.File.Name.EndsWith(Brotli, StringComparison.Ordinal))
                        return;
                    headers.ContentEncoding = "br";
                    headers.Append(HeaderNames.Vary, HeaderNames.AcceptEncoding);
                    if (types.TryGetContentType(c.File.Name[..^Brotli.Length], out var type))
                        headers.ContentType = type;
                },
            }
        );
    }

    private static bool IsPage(HttpRequest request) =>
        HttpMethods.IsGet(request.Method)
        && !request.Path.StartsWithSegments("/api")
        && !request.Path.StartsWithSegments("/openapi")
        && !request.Path.StartsWithSegments("/assets")
        && !Path.HasExtension(request.Path.Value);

    private static bool TakesBrotli(HttpRequest request) =>
        request.GetTypedHeaders().AcceptEncoding.Any(e => e.Value == "br" && e.Quality is null or > 0);

    /// <summary>What draws most pictures: read by the browser beside the console, it stands when the first of them is to be drawn.</summary>
    private static string[] Drawing(PhysicalFileProvider files) =>
        [
            .. files
                .GetDirectoryContents("assets")
                .Select(f => f.Name)
                .Where(n => n.StartsWith("charts-", StringComparison.Ordinal) && n.EndsWith(".js", StringComparison.Ordinal))
                .Select(n => $"</assets/{n}>; rel=modulepreload"),
        ];

    /// <summary>
    /// What the page will ask for first, so that it is on its way while the browser reads the console: who is signed in, and the
    /// dashboard that the address names, as oneself. The page gets an answer that came so only where it asks in the same words; these are
    /// those of the console (api/client.ts), which asks with other credentials wherever it asks as another.
    /// </summary>
    private static string[] Ahead(HttpRequest request, string[] drawing)
    {
        if (Draft().IsMatch(request.Path.Value ?? ""))
            return [];
        const string session = "</api/session>; rel=preload; as=fetch; crossorigin=use-credentials";
        if (Dashboard().Match(request.Path.Value ?? "") is not { Success: true } found)
            return [session];
        var query = new[] { "set", "view" }
            .Select(key => (key, value: request.Query[key].FirstOrDefault()))
            .Where(p => p.value is not null)
            .Select(p => $"{p.key}={Uri.EscapeDataString(p.value!)}");
        var asked = string.Join('&', query);
        var page = $"/api/dashboards/{Uri.EscapeDataString(found.Groups[1].Value)}{(asked.Length > 0 ? "?" + asked : "")}";
        return [session, $"<{page}>; rel=preload; as=fetch; crossorigin=use-credentials", .. drawing];
    }

    [GeneratedRegex("^/d/([^/]+)\\z")]
    private static partial Regex Dashboard();

    /// <summary>Pages all of whose requests are of a draft.</summary>
    [GeneratedRegex("^/(d/[^/]+/|own/)")]
    private static partial Regex Draft();
}
