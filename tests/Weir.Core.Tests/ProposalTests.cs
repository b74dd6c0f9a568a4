using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Testing;

namespace Weir.Core.Tests;

/// <summary>What is proposed for any measures and fields can be drawn, and what was made for them comes first.</summary>
public class ProposalTests
{
    private static readonly string Folder = Path.Combine(Repository.Root, "demo", "lantern-isles");

    private static Dictionary<string, string> Files { get; } =
        Directory
            .EnumerateFiles(Folder, "*", SearchOption.AllDirectories)
            .Where(f => Path.GetExtension(f) is ".yaml" or ".svg" or ".geojson")
            .ToDictionary(f => Path.GetRelativePath(Folder, f), File.ReadAllText);

    private static readonly Workspace Demo = WorkspaceText.Read(Files).Workspace!;

    private static Scope All(string dataset) =>
        Scope.For(
            new Viewer("director", "Director", ["director"], new Dictionary<string, IReadOnlyList<string>>()),
            dataset,
            Demo,
            Viewing.Whenever
        )!;

    [Theory]
    [InlineData("late_share departed", "line")]
    [InlineData("late_share departed sea_area", "line")]
    [InlineData("late_share sea_area departed", "line")]
    [InlineData("sailings departed.quarter_of_year departed.year", "line")]
    [InlineData("sailings sea_area", "bar")]
    [InlineData("mean_delay late_share vessel", "scatter")]
    [InlineData("late_share departed.day_of_week departed.hour_of_day", "heatmap")]
    [InlineData("delay", "histogram")]
    [InlineData("sailings", "number")]
    [InlineData("sea_area", "bar")]
    public void What_was_made_for_them_comes_first(string names, string picture)
    {
        var text = Proposals.TextOf("p", All("sailings"), names.Split(' '), out var unknown);
        unknown.ShouldBeNull();
        text.ShouldNotBeNull().Split('\n').First(l => l.Contains("picture:")).Trim().ShouldBe($"picture: {picture}");
    }

    [Fact]
    public void Whatever_is_chosen_what_is_proposed_has_no_fault()
    {
        var random = new Random(5);
        for (var i = 0; i < 60; i++)
        {
            var scope = All(random.Next(2) == 0 ? "sailings" : "tickets");
            var measures = scope.Measures.Keys.OrderBy(_ => random.Next()).Take(random.Next(4));
            var fields = scope.Fields.Keys.OrderBy(_ => random.Next()).Take(random.Next(4));
            string[] names = [.. measures.Concat(fields)];
            if (names.Length == 0 || Proposals.TextOf("p", scope, names, out _) is not { } text)
                continue;
            var (workspace, faults) = WorkspaceText.Read(new Dictionary<string, string>(Files) { ["dashboards/p.yaml"] = text });
            workspace.ShouldNotBeNull(
                $"{string.Join(", ", names)}\n{string.Join("\n", faults.Where(f => f.Severity == Severity.Error))}\n{text}"
            );
            workspace.Dashboards["p"].Tiles.Count().ShouldBeInRange(1, Proposals.Most);
        }
    }

    [Fact]
    public void A_name_that_is_none_of_the_viewers_is_told()
    {
        Proposals.TextOf("p", All("sailings"), ["sailings", "no_such"], out var unknown).ShouldBeNull();
        unknown.ShouldBe("no_such");
    }
}
