using System.Text.RegularExpressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>The colours of a workspace on one ground.</summary>
/// <param name="Accent">As #RRGGBB; null for the usual one.</param>
/// <param name="Series">In order; none for the usual ones.</param>
public sealed record GroundColours(string? Accent, IReadOnlyList<string> Series);

/// <summary>What a workspace looks like beside the usual: every colour was checked against its ground and the others.</summary>
/// <param name="Logo">The path of an image of the workspace; null for none.</param>
public sealed partial record WorkspaceLook(GroundColours Light, GroundColours Dark, string? Logo)
{
    /// <summary>What is sent with every page has to be small. In bytes.</summary>
    public const int MaximumLogo = 32 * 1024;

    /// <summary>The grounds on which the console draws, the lightest and the darkest of each: as its tokens have them (a test compares).</summary>
    public static IReadOnlyDictionary<string, (string Page, string Surface)> Grounds { get; } =
        new Dictionary<string, (string, string)> { ["light"] = ("#F6F5F1", "#FFFFFF"), ["dark"] = ("#12191D", "#1A2328") };

    private const int MostSeries = 8;
    private static readonly Shape AnyText = new Shape.Text();

    private static readonly Shape Colours = new Shape.Keys(
        new Key("accent", AnyText, "The colour of what can be clicked and is picked, as \"#0F6E6E\"."),
        new Key("series", new Shape.ListOf(AnyText), "2 to 8 colours of series, in order.")
    );

    /// <summary>How the key of workspace.yaml is written.</summary>
    internal static Key Key { get; } =
        new(
            "look",
            new Shape.Keys(
                new Key("light", Colours, "The colours on a light ground."),
                new Key("dark", Colours, "The colours on a dark ground."),
                new Key("logo", AnyText, "An image of the workspace, such as images/logo.svg, that stands beside its name.")
            ),
            "Colours and logo of the house. Colours that can't be read or told apart are refused."
        );

    [GeneratedRegex("^#[0-9A-Fa-f]{6}$")]
    private static partial Regex Colour();

    /// <summary>Reads it from workspace.yaml; null if it says nothing.</summary>
    internal static WorkspaceLook? Read(YamlText text, YamlNode root, IReadOnlyDictionary<string, Attachment> attachments) =>
        YamlText.Node(root, Key.Name) is { } look
            ? new WorkspaceLook(ReadColours(text, look, "light"), ReadColours(text, look, "dark"), ReadLogo(text, look, attachments))
            : null;

    private static GroundColours ReadColours(YamlText text, YamlNode look, string ground)
    {
        if (YamlText.Node(look, ground) is not { } node)
            return new GroundColours(null, []);
        var (page, surface) = Grounds[ground];
        var accent = YamlText.Node(node, "accent") is YamlScalarNode written ? ReadColour(text, written) : null;
        // Text is written in it, on the page and on tiles: WCAG 2.2, 1.4.3.
        foreach (var behind in accent is null ? [] : (string[])[page, surface])
            if (ColourSight.Contrast(accent!, behind) is var found and < 4.5)
            {
                text.Report(
                    "low-contrast",
                    YamlText.Node(node, "accent")!,
                    FormattableString.Invariant($"{accent} has a contrast of {found:0.0} to the {ground} ground {behind}; 4.5 is needed."),
                    ground == "light" ? "Take a darker one." : "Take a lighter one."
                );
                break;
            }
        List<(string Colour, YamlNode Where)> series =
        [
            .. YamlText
                .Items(YamlText.Node(node, "series"))
                .Select(s => (Colour: ReadColour(text, s), Where: (YamlNode)s))
                .Where(s => s.Colour is not null)
                .Select(s => (s.Colour!, s.Where)),
        ];
        // Marks have to be seen, not read: WCAG 2.2, 1.4.11.
        foreach (var (colour, where) in series)
            if (ColourSight.Contrast(colour, surface) is var found and < 3)
                text.Report(
                    "low-contrast",
                    where,
                    FormattableString.Invariant($"{colour} has a contrast of {found:0.0} to the {ground} ground {surface}; 3 is needed."),
                    ground == "light" ? "Take a darker one." : "Take a lighter one."
                );
        if (YamlText.Node(node, "series") is { } all)
        {
            if (series.Count is < 2 or > MostSeries)
                text.Report("wrong-count", all, $"There are 2 to {MostSeries} colours of series; found {series.Count}.");
            else if (ColourSight.Nearest([.. series.Select(s => s.Colour)]) is { Distance: < ColourSight.LeastDistance } near)
                text.Report(
                    "alike-colours",
                    all,
                    FormattableString.Invariant(
                        $"{near.One} and {near.Other} can't be told apart {near.Sight}: their distance is {near.Distance:0.0}; {ColourSight.LeastDistance} is needed."
                    ),
                    "Make one of them lighter or darker."
                );
        }
        return new GroundColours(accent, [.. series.Select(s => s.Colour)]);
    }

    private static string? ReadColour(YamlText text, YamlScalarNode node)
    {
        if (Colour().IsMatch(node.Value!))
            return node.Value!.ToUpperInvariant();
        text.Report("wrong-value", node, $"{node.Value} is no colour.", "Write it as \"#0F6E6E\", in quotes.");
        return null;
    }

    private static string? ReadLogo(YamlText text, YamlNode look, IReadOnlyDictionary<string, Attachment> attachments)
    {
        if (YamlText.Node(look, "logo") is not YamlScalarNode written)
            return null;
        if (!attachments.TryGetValue(written.Value!, out var file) || Attachments.AreAreas(written.Value!))
            text.Report(
                "unknown-file",
                written,
                $"There is no image {written.Value} in the workspace.",
                Expressions.Nearest.Remedy(written.Value!, attachments.Keys) ?? "Put an SVG, PNG or JPEG into images/."
            );
        else if (file.Content.Length > MaximumLogo)
            text.Report("too-large", written, $"A logo has at most {MaximumLogo / 1024} KB.", "Save it smaller.");
        return written.Value;
    }
}
