using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>
/// Finds comparisons of a field that has names for its codes with such a name: they are never true, and a rule made of them means something
/// else than it says.
/// </summary>
internal static class CodeChecks
{
    /// <summary>Warns at a formula that compares a code with a name.</summary>
    public static void Warn(YamlText text, YamlScalarNode at, Bound? formula, IEnumerable<Field> fields)
    {
        if (formula is null)
            return;
        var coded = fields.Where(f => f.Names.Count > 0).ToList();
        if (coded.Count == 0)
            return;
        foreach (
            var comparison in formula
                .All()
                .OfType<Bound.Op>()
                .Where(o => o.Operation is Operation.Equal or Operation.NotEqual or Operation.In)
        )
        foreach (var field in coded.Where(f => comparison.Arguments.Contains(f.Formula)))
        foreach (
            var literal in comparison.Arguments.OfType<Bound.Literal>().Where(l => l.Value is not null && !field.Names.ContainsKey(l.Value))
        )
        {
            var written = Values.Write(literal.Value!);
            if (field.Names.FirstOrDefault(n => n.Value.Equals(written, StringComparison.OrdinalIgnoreCase)) is { Key: { } code })
                text.Report(
                    "name-for-code",
                    at,
                    $"{field.Name} is compared with '{written}', which is the name of one of its codes; a field's value is its code.",
                    $"Write {(literal.Kind == ValueKind.Text ? $"'{Values.Write(code)}'" : Values.Write(code))}.",
                    Severity.Warning
                );
            else
                text.Report(
                    "unknown-code",
                    at,
                    $"{field.Name} has no code '{written}' with a name.",
                    Nearest.Remedy(written, field.Names.Keys.Select(Values.Write)),
                    Severity.Warning
                );
        }
    }
}
