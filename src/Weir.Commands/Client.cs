using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Serialization.Metadata;

namespace Weir.Commands;

/// <summary>Where the service is and who is signed in, kept for the next command.</summary>
/// <param name="Others">Tokens for other services that one signed in to before, by address.</param>
internal sealed record SignInFile(string Url, string Token, Dictionary<string, string>? Others = null)
{
    private static string Path =>
        System.IO.Path.Combine(
            Environment.GetEnvironmentVariable("XDG_CONFIG_HOME") is { Length: > 0 } folder
                ? folder
                : System.IO.Path.Combine(Environment.GetFolderPath(Environment.SpecialFolder.UserProfile), ".config"),
            "weir",
            "sign-in.json"
        );

    private static SignInFile? Kept()
    {
        try
        {
            return File.Exists(Path) ? JsonSerializer.Deserialize(File.ReadAllText(Path), ClientJson.Default.SignInFile) : null;
        }
        catch (JsonException)
        {
            throw new Refusal($"{Path}, which keeps who is signed in, is damaged.", "Take it away, then sign in again: weir sign-in.");
        }
    }

    /// <summary>WEIR_URL and WEIR_TOKEN go before the file.</summary>
    public static SignInFile? Read()
    {
        var kept = Kept();
        var url = Environment.GetEnvironmentVariable("WEIR_URL") ?? kept?.Url;
        var token = Environment.GetEnvironmentVariable("WEIR_TOKEN") ?? kept?.Token;
        return url is null || token is null ? null : new SignInFile(url, token);
    }

    /// <summary>The sign-in to one service among several; WEIR_TOKEN_TO goes before the file. Null if there is none.</summary>
    public static SignInFile? For(string url)
    {
        static string Plain(string address) => address.TrimEnd('/');
        var kept = Kept();
        var token =
            Environment.GetEnvironmentVariable("WEIR_TOKEN_TO")
            ?? (kept is not null && Plain(kept.Url) == Plain(url) ? kept.Token : null)
            ?? kept?.Others?.FirstOrDefault(o => Plain(o.Key) == Plain(url)).Value;
        return token is null ? null : new SignInFile(url, token);
    }

    /// <summary>This one, beside those to other services that are kept already.</summary>
    public SignInFile WithOthers()
    {
        if (Kept() is not { } kept)
            return this;
        var others = new Dictionary<string, string>(kept.Others ?? []) { [kept.Url] = kept.Token };
        others.Remove(Url);
        return this with { Others = others.Count == 0 ? null : others };
    }

    public void Keep()
    {
        var path = Path;
        Directory.CreateDirectory(System.IO.Path.GetDirectoryName(path)!);
        // Readable by its owner only, from the first byte on.
        var create = new FileStreamOptions { Mode = FileMode.Create, Access = FileAccess.Write };
        if (!OperatingSystem.IsWindows())
            create.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        using var file = new FileStream(path, create);
        JsonSerializer.Serialize(file, this, ClientJson.Default.SignInFile);
    }
}

/// <summary>Talks to the service over HTTP and turns its problems into refusals.</summary>
internal sealed class Client : IDisposable
{
    private readonly HttpClient _http;
    private readonly string _url;

    public Client(string url, string? token, string? lookAs = null)
    {
        if (!Uri.TryCreate(url, UriKind.Absolute, out var address) || address.Scheme is not ("http" or "https"))
            throw new Refusal($"'{url}' is no web address.", "Write it as http://127.0.0.1:7410.", ExitCode.Usage);
        _url = url;
        _http = new HttpClient { BaseAddress = address, Timeout = TimeSpan.FromMinutes(5) };
        if (token is not null)
            _http.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        if (lookAs is not null)
            _http.DefaultRequestHeaders.Add("Weir-Look-As", lookAs);
    }

    /// <summary>Which service it talks to.</summary>
    public string Address => _url.TrimEnd('/');

    /// <summary>A client for who is signed in.</summary>
    public static Client SignedIn(string? lookAs = null) =>
        SignInFile.Read() is { } kept
            ? new Client(kept.Url, kept.Token, lookAs)
            : throw new Refusal("You are not signed in.", "Sign in first: weir sign-in http://127.0.0.1:7410 --name NAME.");

    /// <summary>A client for who is signed in to a service among several.</summary>
    public static Client SignedInTo(string url) =>
        SignInFile.For(url) is { } kept
            ? new Client(kept.Url, kept.Token)
            : throw new Refusal($"You are not signed in to {url}.", $"Sign in first: weir sign-in {url} --name NAME.");

    public async Task<T> Get<T>(string path, CancellationToken cancellation) =>
        await Read<T>(await Send(HttpMethod.Get, path, null, cancellation), cancellation);

    public async Task<T> Send<T>(HttpMethod method, string path, object body, CancellationToken cancellation) =>
        await Read<T>(await Send(method, path, body, cancellation), cancellation);

    /// <summary>Takes something away.</summary>
    public async Task Delete(string path, CancellationToken cancellation) =>
        (await Send(HttpMethod.Delete, path, null, cancellation)).Dispose();

    /// <summary>The lines of a stream as they come.</summary>
    public async IAsyncEnumerable<T> Lines<T>(
        string path,
        object body,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken cancellation
    )
    {
        using var response = await Send(HttpMethod.Post, path, body, cancellation);
        using var reader = new StreamReader(await response.Content.ReadAsStreamAsync(cancellation));
        while (await reader.ReadLineAsync(cancellation) is { } line)
            yield return JsonSerializer.Deserialize(line, ClientJson.Of<T>())!;
    }

    /// <summary>A file that the service makes, and what it is called there.</summary>
    public async Task<(string Name, Stream Content)> File(string path, object body, CancellationToken cancellation)
    {
        var response = await Send(HttpMethod.Post, path, body, cancellation);
        // A name of the service's own is no place on this machine.
        var name = Path.GetFileName(response.Content.Headers.ContentDisposition?.FileName?.Trim('"') ?? "");
        return (name is "" or "." or ".." ? "export" : name, await response.Content.ReadAsStreamAsync(cancellation));
    }

    private async Task<T> Read<T>(HttpResponseMessage response, CancellationToken cancellation)
    {
        using (response)
            try
            {
                return JsonSerializer.Deserialize(response.Content.ReadAsStream(cancellation), ClientJson.Of<T>())!;
            }
            catch (JsonException)
            {
                throw NotWeir(response);
            }
    }

    private Refusal NotWeir(HttpResponseMessage response) =>
        new($"{_url} answered {(int)response.StatusCode}, but not as Weir does.", "Check the address.");

    private async Task<HttpResponseMessage> Send(HttpMethod method, string path, object? body, CancellationToken cancellation)
    {
        HttpResponseMessage response;
        try
        {
            var request = new HttpRequestMessage(method, path)
            {
                Content = body is null ? null : JsonContent.Create(body, ClientJson.Of(body.GetType())),
            };
            // A command has nothing else to do while it waits; the way that goes on meanwhile takes twice as long to start.
            response = _http.Send(request, HttpCompletionOption.ResponseHeadersRead, cancellation);
        }
        catch (HttpRequestException e)
        {
            throw new Refusal(
                // Of a certificate that is not believed only the innermost fault says so.
                $"The service at {_url} can't be reached: {e.GetBaseException().Message}",
                "Is it running? Start it with weir serve or make demo."
            );
        }
        if (response.IsSuccessStatusCode)
            return response;
        var text = await response.Content.ReadAsStringAsync(cancellation);
        try
        {
            var problem = JsonSerializer.Deserialize(text, ClientJson.Default.JsonElement);
            throw new Refusal(
                $"{problem.GetProperty("detail").GetString()} ({problem.GetProperty("code").GetString()})",
                problem.TryGetProperty("remedy", out var remedy) ? remedy.GetString() : null
            )
            {
                Code = problem.GetProperty("code").GetString(),
            };
        }
        catch (Exception e) when (e is JsonException or KeyNotFoundException or InvalidOperationException)
        {
            throw NotWeir(response);
        }
    }

    public void Dispose() => _http.Dispose();
}
