using System.Text.RegularExpressions;

namespace Weir.Core.Access;

/// <summary>A row rule for readers: fields by their titles, attributes as what is the viewer's own.</summary>
public static partial class RuleInWords
{
    /// <summary>The rule's text, for example <c>Home port in your ports</c> for <c>home_port in user.ports</c>.</summary>
    /// <param name="scope">The right on the rule's dataset; fields that it has not keep their names.</param>
    public static string Of(string rule, Scope scope) =>
        Tokens()
            .Replace(
                rule,
                m =>
                    m.Value[0] == '\'' ? m.Value
                    : m.Value.StartsWith("user.", StringComparison.Ordinal) ? "your " + m.Value[5..].Replace('_', ' ')
                    : scope.Fields.GetValueOrDefault(m.Value)?.Title ?? m.Value
            );

    // Texts first: what stands between quotes is no name.
    [GeneratedRegex(@"'(?:[^']|'')*'|[A-Za-z_][A-Za-z0-9_]*(?:\.[A-Za-z_][A-Za-z0-9_]*)?")]
    private static partial Regex Tokens();
}
