using ArchUnitNET.Fluent;
using ArchUnitNET.Loader;
using Shouldly;
using Weir.Core;
using Weir.Testing;
using static ArchUnitNET.Fluent.ArchRuleDefinition;

namespace Weir.Cli.Tests;

/// <summary>Arrows between the parts point one way: Cli to Commands to Service to Store and Engines to Core; Core knows nobody.</summary>
public class ArchitectureTests
{
    [Theory]
    [InlineData("Weir.Core", "")]
    [InlineData("Weir.Engines", "Weir.Core")]
    [InlineData("Weir.Store", "Weir.Core")]
    [InlineData("Weir.Service", "Weir.Core Weir.Engines Weir.Store")]
    [InlineData("Weir.Demo", "Weir.Core Weir.Engines Weir.Store")]
    [InlineData("Weir.Commands", "Weir.Core Weir.Engines Weir.Service")]
    public void A_part_knows_only_those_below_it(string part, string below)
    {
        var known = System
            .Reflection.Assembly.Load(part)
            .GetReferencedAssemblies()
            .Select(a => a.Name!)
            .Where(n => n.StartsWith("Weir.") || n == "weir");
        known.Except(below.Split(' ')).ShouldBeEmpty();
    }

    /// <summary>The folders of Core, lowest first: none knows a later one. What stands in none of them is the door above all.</summary>
    private static readonly string[] Folders =
    [
        "Expressions",
        "Results",
        "Definitions",
        "Pictures",
        "Access",
        "Interaction",
        "Planning",
        "Sql",
        "Views",
        "Designing",
    ];

    [Fact]
    public void A_folder_of_Core_knows_none_that_comes_later()
    {
        var core = new ArchLoader().LoadAssembly(typeof(WorkspaceText).Assembly).Build();
        Directory
            .EnumerateDirectories(Path.Combine(Repository.Root, "src", "Weir.Core"))
            .Where(d => Directory.EnumerateFiles(d, "*.cs").Any())
            .Select(d => Path.GetFileName(d))
            .ShouldBeSubsetOf(Folders);
        string Within(IEnumerable<string> folders) => $@"^Weir\.Core(\.({string.Join('|', folders)}))$";
        foreach (var (folder, place) in Folders.Select((f, i) => (f, i)))
        {
            // The door, which stands in no folder, is later than all of them.
            var later = Types()
                .That()
                .ResideInNamespaceMatching(Within(Folders[(place + 1)..]))
                .Or()
                .ResideInNamespaceMatching(@"^Weir\.Core$");
            var rule = Types()
                .That()
                .ResideInNamespaceMatching(Within([folder]))
                .Should()
                .NotDependOnAny(later)
                .WithoutRequiringPositiveResults();
            rule.Evaluate(core).Where(r => !r.Passed).Select(r => r.Description).ShouldBeEmpty();
        }
    }

    [Fact]
    public void The_rule_of_the_folders_finds_an_import_that_runs_backwards()
    {
        var core = new ArchLoader().LoadAssembly(typeof(WorkspaceText).Assembly).Build();
        var rule = Types()
            .That()
            .ResideInNamespaceMatching(@"^Weir\.Core\.Planning$")
            .Should()
            .NotDependOnAny(Types().That().ResideInNamespaceMatching(@"^Weir\.Core\.Access$"));
        rule.HasNoViolations(core).ShouldBeFalse();
    }

    [Theory]
    [InlineData("System.Net")]
    [InlineData("Microsoft.")]
    [InlineData("DuckDB")]
    [InlineData("System.Data")]
    public void Core_knows_no_http_no_driver_and_no_store(string prefix) =>
        System
            .Reflection.Assembly.Load("Weir.Core")
            .GetReferencedAssemblies()
            .Select(a => a.Name!)
            .Where(n => n.StartsWith(prefix))
            .ShouldBeEmpty();

    [Fact]
    public void Core_reads_no_file_and_no_clock()
    {
        foreach (
            var file in Directory
                .EnumerateFiles(Path.Combine(Repository.Root, "src", "Weir.Core"), "*.cs", SearchOption.AllDirectories)
                .Where(f => !f.Contains("/obj/"))
        )
        {
            var text = File.ReadAllText(file);
            foreach (
                var word in (string[])
                    ["File.Read", "File.Open", "DateTime.Now", "DateTime.UtcNow", "DateTime.Today", "TimeProvider", "Environment."]
            )
                text.ShouldNotContain(word, customMessage: file);
        }
    }

    [Fact]
    public void A_scope_is_made_by_Access_only() => typeof(Core.Access.Scope).GetConstructors().ShouldBeEmpty();
}
