using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Weir.Testing;

namespace Weir.Service.Tests;

/// <summary>Calls of the API as a program makes them, and workspaces for others than the demo's people.</summary>
internal static class Calls
{
    private const int Large = 1_000_000;

    /// <param name="draft">The dashboard whose draft the call is of; null for what is published.</param>
    /// <returns>The status, and the answer; of results, which are a line for each tile, the first.</returns>
    public static async Task<(HttpStatusCode Status, JsonElement Body)> Send(
        HttpClient client,
        HttpMethod method,
        string path,
        object? body = null,
        string? draft = null
    )
    {
        var request = new HttpRequestMessage(method, path)
        {
            Content = body is null ? null : Whole(JsonSerializer.SerializeToUtf8Bytes(body, JsonSerializerOptions.Web)),
        };
        // What is refused for its size is refused before it is sent: the connection would be closed in the midst of it.
        request.Headers.ExpectContinue = request.Content?.Headers.ContentLength > Large ? true : null;
        if (draft is not null)
            request.Headers.Add("Weir-Draft", draft);
        var response = await client.SendAsync(request);
        var text = await response.Content.ReadAsStringAsync();
        return (response.StatusCode, text.Length == 0 ? default : JsonDocument.Parse(text.Split('\n')[0]).RootElement);
    }

    private static ByteArrayContent Whole(byte[] json) =>
        new(json) { Headers = { ContentType = new("application/json") { CharSet = "utf-8" } } };

    /// <summary>A folder with the demo's definitions, and a role more.</summary>
    /// <param name="grants">What it grants, as text on one line.</param>
    public static TempFolder WithRole(string name, string grants)
    {
        var folder = Repository.Temp(name);
        Repository.CopyDemo(
            folder.Path,
            (path, text) =>
                path.EndsWith("access.yaml", StringComparison.Ordinal)
                    ? text.Replace("roles:\n", $"roles:\n  {name}: {grants}\n")
                    : Repository.Patient(text)
        );
        return folder;
    }

    /// <summary>Listens for news as an open page does, from the first on.</summary>
    public static async Task<StreamReader> Listen(HttpClient client, string view = "")
    {
        var stream = await client.GetStreamAsync($"api/events?view={view}");
        var reader = new StreamReader(stream);
        _ = await Next(reader, "published");
        return reader;
    }

    /// <summary>The items of the next news of a kind.</summary>
    public static async Task<string> Next(StreamReader reader, string kind)
    {
        for (var isIt = false; await reader.ReadLineAsync() is { } line; )
            if (line.StartsWith("event: ", StringComparison.Ordinal))
                isIt = line == $"event: {kind}";
            else if (isIt && line.StartsWith("data: ", StringComparison.Ordinal))
                return JsonDocument.Parse(line[6..]).RootElement.GetProperty("items").GetRawText();
        throw new InvalidOperationException("The stream ended.");
    }
}
