using System.Text.Json;

namespace Weir.Service;

/// <summary>An answer that streams: one JSON line for each piece of work, as each is ready.</summary>
internal static class JsonLines
{
    private static readonly byte[] NewLine = "\n"u8.ToArray();

    /// <summary>Starts all of the work and writes what comes of it.</summary>
    public static async Task Send<T>(HttpContext context, IEnumerable<Task<T>> work)
    {
        List<Task<T>> running = [.. work];
        context.Response.ContentType = "application/x-ndjson";
        context.Response.Headers.CacheControl = "no-store";
        var json = context
            .RequestServices.GetRequiredService<Microsoft.Extensions.Options.IOptions<Microsoft.AspNetCore.Http.Json.JsonOptions>>()
            .Value.SerializerOptions;
        await foreach (var ready in Task.WhenEach(running).WithCancellation(context.RequestAborted))
        {
            await JsonSerializer.SerializeAsync(context.Response.Body, await ready, json, context.RequestAborted);
            await context.Response.Body.WriteAsync(NewLine, context.RequestAborted);
            await context.Response.Body.FlushAsync(context.RequestAborted);
        }
    }
}
