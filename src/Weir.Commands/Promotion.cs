using System.Text.Json.Nodes;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Service.Api;

namespace Weir.Commands;

/// <summary>Definitions that were made at one service, as they are at another: with its sources, and what else it keeps.</summary>
/// <param name="sources">Which of its sources stands for which.</param>
/// <param name="keep">Files of its own that stay as they are.</param>
internal sealed class Promotion(IReadOnlyDictionary<string, string> sources, IReadOnlyList<string> keep)
{
    /// <summary>Reads what is said as FROM=THERE.</summary>
    public static Promotion Of(IEnumerable<string> sources, IReadOnlyList<string> keep)
    {
        var read = new Dictionary<string, string>();
        foreach (var said in sources)
            if (said.Split('=') is not [{ Length: > 0 } from, { Length: > 0 } there] || !read.TryAdd(from, there))
                throw new Refusal(
                    $"'{said}' does not say which source stands for which.",
                    "Write it as FROM=THERE, once for each.",
                    ExitCode.Usage
                );
        return new Promotion(read, keep);
    }

    /// <summary>The files that are to be published there.</summary>
    /// <param name="mine">Those of the folder.</param>
    /// <param name="theirs">Those that are published there now.</param>
    /// <exception cref="Refusal">A source or a file is named that is not there.</exception>
    public Dictionary<string, string> Files(IReadOnlyDictionary<string, string> mine, IReadOnlyDictionary<string, string> theirs)
    {
        if (keep.FirstOrDefault(k => !theirs.ContainsKey(k)) is { } absent)
            throw new Refusal($"There is no {absent} there that could be kept.", exitCode: ExitCode.No);
        var known = theirs.Where(f => IsOf("sources", f.Key)).Select(f => Named(f.Value, "source")).ToHashSet();
        if (sources.Values.FirstOrDefault(s => !known.Contains(s)) is { } unknown)
            throw new Refusal(
                $"There is no source {unknown} there.",
                known.Count == 0 ? "Nothing is published there yet: publish its sources first." : $"It has {string.Join(", ", known)}."
            );
        var files = mine.ToDictionary(f => f.Key, f => IsOf("datasets", f.Key) ? Moved(f.Key, f.Value) : f.Value);
        if (sources.Keys.FirstOrDefault(s => !mine.Any(f => IsOf("datasets", f.Key) && Named(f.Value, "source") == s)) is { } unused)
            throw new Refusal($"No dataset of the folder is of the source {unused}.", "Leave it out, or see how it is written.");
        var used = files.Where(f => IsOf("datasets", f.Key)).Select(f => Named(f.Value, "source")).ToHashSet();
        foreach (var (path, text) in mine.Where(f => IsOf("sources", f.Key)))
            if (!used.Contains(Named(text, "source")))
                files.Remove(path);
        // A source is what differs between services: theirs stay.
        foreach (var (path, text) in theirs.Where(f => IsOf("sources", f.Key) || keep.Contains(f.Key)))
            files[path] = text;
        return files;
    }

    private string Moved(string path, string text)
    {
        if (Named(text, "source") is not { } source || !sources.TryGetValue(source, out var there))
            return text;
        try
        {
            return new DesignText(Shapes.Dataset).Apply(text, [new DesignStep.Set(["source"], JsonValue.Create(there))]);
        }
        catch (DesignException e)
        {
            throw new Refusal($"{path}: {e.Message}", e.Remedy);
        }
    }

    private static bool IsOf(string folder, string path) => path.StartsWith(folder + "/", StringComparison.Ordinal);

    private static string? Named(string text, string key)
    {
        try
        {
            return (DesignText.Said(text) as JsonObject)?[key]?.GetValue<string>();
        }
        catch (DesignException)
        {
            // The check tells what is wrong with it.
            return null;
        }
    }

    /// <summary>What is published at a service now: asked for so that it does not count as fetched.</summary>
    public static async Task<IReadOnlyDictionary<string, string>> PublishedAt(Client client, CancellationToken cancellation)
    {
        var versions = await client.Get<List<VersionLine>>("api/versions", cancellation);
        return versions.Count == 0
            ? new Dictionary<string, string>()
            : (await client.Get<DefinitionFiles>($"api/versions/{versions[0].Number}", cancellation)).Files;
    }
}
