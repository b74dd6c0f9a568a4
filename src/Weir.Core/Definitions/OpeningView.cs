using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using YamlDotNet.Core;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>An arrangement that viewers of some roles, or all, find when they open a dashboard: steps on what its developer laid out.</summary>
/// <param name="Roles">The roles that it is for; none for everybody.</param>
/// <param name="Steps">What is done, in order.</param>
/// <param name="File">Where it stands.</param>
public sealed record OpeningView(string Name, string Dashboard, IReadOnlyList<string> Roles, IReadOnlyList<OpeningStep> Steps, string File);

/// <summary>A step as it travels, too, when a viewer takes it: JSON.</summary>
/// <param name="Line">Where it begins in its file.</param>
public sealed record OpeningStep(string Json, int Line, int Column)
{
    /// <summary>True if it only makes what stands so far the ground of the edits below it.</summary>
    public bool IsSettle { get; } = Json is "{\"edit\":\"settle\"}";

    /// <summary>A key of an edit as it is written in a definition: keepOwn is keep_own there.</summary>
    internal static string KeyOf(string property) => JsonNamingPolicy.SnakeCaseLower.ConvertName(property);

    /// <summary>The other way round.</summary>
    internal static string PropertyOf(string key) =>
        string.Concat(key.Split('_').Select((w, i) => i == 0 || w.Length == 0 ? w : char.ToUpperInvariant(w[0]) + w[1..]));
}

/// <summary>Reads one opening view: its form and what it names; whether its steps can be done is seen later.</summary>
internal static partial class OpeningViewReader
{
    /// <summary>More steps than any arrangement needs.</summary>
    private const int MaximumSteps = 2_000;

    public static OpeningView Read(YamlText text, YamlMappingNode root, IReadOnlySet<string> dashboards, WrittenAccess access)
    {
        var name = text.Name(root, "opening_view");
        var dashboard = (YamlScalarNode)YamlText.Node(root, "dashboard")!;
        if (!dashboards.Contains(dashboard.Value!))
            text.Report(
                "unknown-dashboard",
                dashboard,
                $"There is no dashboard {dashboard.Value}.",
                Expressions.Nearest.Remedy(dashboard.Value!, dashboards)
            );
        var granted = YamlText.Items(YamlText.Node(root, "roles")).ToList();
        AccessReader.CheckRoles(text, granted, access);
        var steps = YamlText.List(root, "edits").ToList();
        if (steps.Count > MaximumSteps)
            text.Report(
                "too-many-edits",
                root,
                $"There are {steps.Count} edits; at most {MaximumSteps} are read.",
                "Promote the view anew."
            );
        return new OpeningView(
            name,
            dashboard.Value!,
            [.. granted.Select(r => r.Value!)],
            [.. steps.Take(MaximumSteps).Select(s => new OpeningStep(Json(s).ToJsonString(), (int)s.Start.Line, (int)s.Start.Column))],
            text.File
        );
    }

    [GeneratedRegex(@"^-?\d{1,9}\z")]
    private static partial Regex Whole();

    private static JsonNode Json(YamlNode node) =>
        node switch
        {
            YamlMappingNode map => new JsonObject(
                map.Children.Select(c =>
                    KeyValuePair.Create(OpeningStep.PropertyOf(((YamlScalarNode)c.Key).Value!), (JsonNode?)Json(c.Value))
                )
            ),
            YamlSequenceNode list => new JsonArray([.. list.Children.Select(Json)]),
            YamlScalarNode { Style: ScalarStyle.Plain, Value: "true" or "false" } flag => JsonValue.Create(flag.Value == "true"),
            YamlScalarNode { Style: ScalarStyle.Plain, Value: { } number } when Whole().IsMatch(number) => JsonValue.Create(
                int.Parse(number)
            ),
            YamlScalarNode scalar => JsonValue.Create(scalar.Value!),
            _ => JsonValue.Create(""),
        };
}
