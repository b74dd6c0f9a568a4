using System.Text.RegularExpressions;

namespace Weir.Engines;

/// <summary>Puts values from the environment where a definition asks for them, so that no file holds a secret.</summary>
public static partial class Secrets
{
    /// <summary>Replaces each <c>${env:NAME}</c>.</summary>
    /// <exception cref="SourceException">A variable is not set.</exception>
    public static string Resolve(string text) => Reference().Replace(text, match =>
        Environment.GetEnvironmentVariable(match.Groups[1].Value) ?? throw new SourceException(
            "source-unavailable", $"The environment variable {match.Groups[1].Value} is not set.", "Set it where the service is started."));

    [GeneratedRegex(@"\$\{env:([A-Za-z_][A-Za-z0-9_]*)\}")]
    private static partial Regex Reference();
}
