using System.Text.RegularExpressions;
using Shouldly;
using Weir.Core.Definitions;
using Weir.Testing;

namespace Weir.Core.Tests;

/// <summary>The colours that a workspace may have: those that can be read and told apart.</summary>
public class WorkspaceLookTests
{
    private const string Svg = "<svg xmlns='http://www.w3.org/2000/svg'><circle r='4'/></svg>";

    private static (Workspace? Workspace, List<Fault> Errors) Read(string look)
    {
        var files = Testing
            .Definitions.Files(
                "dataset: d\nsource: s\nfrom: t\nfields: { a: { column: a } }\n",
                "roles:\n  r: { reads: { d: all } }\n",
                ("images/logo.svg", Svg)
            )
            .ToDictionary();
        files["workspace.yaml"] += $"\nlook: {look}\n";
        var (workspace, faults) = WorkspaceText.Read(files);
        return (workspace, [.. faults.Where(f => f.Severity == Severity.Error)]);
    }

    [Fact]
    public void What_can_be_read_and_told_apart_is_taken_and_what_is_left_out_stays_as_usual()
    {
        var (workspace, errors) = Read(
            "{ light: { accent: '#7a1f5c', series: ['#7A1F5C', '#C2570C', '#2B6CB0'] }, logo: images/logo.svg }"
        );
        errors.ShouldBeEmpty();
        var look = workspace!.Look!;
        (look.Light.Accent, look.Logo).ShouldBe(("#7A1F5C", "images/logo.svg"));
        look.Light.Series.Count.ShouldBe(3);
        look.Dark.ShouldBe(new GroundColours(null, look.Dark.Series));
        look.Dark.Series.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("{ light: { accent: '#FFCC00' } }", "low-contrast", "has a contrast of 1.4 to the light ground #F6F5F1; 4.5 is needed")]
    [InlineData("{ dark: { accent: '#0F6E6E' } }", "low-contrast", "to the dark ground")]
    [InlineData("{ light: { series: ['#0F6E6E', '#FFE08A'] } }", "low-contrast", "#FFE08A has a contrast of 1.3")]
    [InlineData("{ light: { series: ['#B3261E', '#4F7A1B'] } }", "alike-colours", "without the")]
    [InlineData("{ light: { series: ['#0F6E6E'] } }", "wrong-count", "found 1")]
    [InlineData("{ light: { accent: teal } }", "wrong-value", "teal is no colour")]
    [InlineData("{ logo: images/other.svg }", "unknown-file", "no image images/other.svg")]
    [InlineData("{ grey: { accent: '#000000' } }", "unknown-key", "grey")]
    public void What_can_not_be_read_or_told_apart_is_refused_with_the_figures(string look, string code, string words)
    {
        var (workspace, errors) = Read(look);
        workspace.ShouldBeNull();
        errors.ShouldContain(f => f.File == "workspace.yaml" && f.Code == code && f.Message.Contains(words), string.Join('\n', errors));
    }

    [Fact]
    public void The_usual_series_pass_the_same_checks_on_the_grounds_that_the_console_has()
    {
        var tokens = File.ReadAllText(Path.Combine(Repository.Root, "console/src/look/tokens.ts"));
        foreach (var (name, (page, surface)) in WorkspaceLook.Grounds)
        {
            var look = Regex.Match(tokens, $@"export const {name}: Tokens = \{{(.*?)\n\}};", RegexOptions.Singleline).Groups[1].Value;
            string Of(string key) => Regex.Match(look, $"{key}: '(#[0-9A-F]+)'").Groups[1].Value;
            (Of("page"), Of("surface")).ShouldBe((page, surface));
            string[] series =
            [
                .. Regex.Matches(Regex.Match(look, @"series: \[(.*?)\]").Groups[1].Value, "#[0-9A-F]{6}").Select(m => m.Value),
            ];
            series.Length.ShouldBe(8);
            series.ShouldAllBe(c => ColourSight.Contrast(c, surface) > 3);
            ColourSight.Nearest(series)!.Value.Distance.ShouldBeGreaterThan(ColourSight.LeastDistance);
        }
    }
}
