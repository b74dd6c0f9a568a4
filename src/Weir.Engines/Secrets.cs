using System.Text.RegularExpressions;

namespace Weir.Engines;

/// <summary>Puts values from the environment or a secret file where a definition asks for them, so that no definition holds a secret.</summary>
public static partial class Secrets
{
    /// <summary>Replaces each <c>${env:NAME}</c> and <c>${secret:NAME}</c>; the latter is the first line of the file of that name.</summary>
    /// <exception cref="SourceException">A variable is not set, or a file is not there.</exception>
    public static string Resolve(string text, EngineFolders folders) => Reference().Replace(text, match =>
        match.Groups[1].Value == "env" ? FromEnvironment(match.Groups[2].Value) : FromFile(match.Groups[2].Value, folders));

    private static string FromEnvironment(string name) => Environment.GetEnvironmentVariable(name) ?? throw new SourceException(
        "source-unavailable", $"The environment variable {name} is not set.", "Set it where the service is started.");

    private static string FromFile(string name, EngineFolders folders)
    {
        var path = folders.InSecrets(name);
        try
        {
            return File.ReadLines(path).FirstOrDefault() ?? "";
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new SourceException("source-unavailable", $"The secret {name} can't be read.", "Put a file of that name into the service's folder of secrets, readable by the service.", e);
        }
    }

    [GeneratedRegex(@"\$\{(env|secret):([A-Za-z_][A-Za-z0-9_.-]*)\}")]
    private static partial Regex Reference();
}
