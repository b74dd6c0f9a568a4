using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Testing;

namespace Weir.Core.Tests;

/// <summary>A formula that is tried means what it means in the definition, and can be asked for.</summary>
public class FormulaTrialTests
{
    private static readonly string Folder = Path.Combine(Repository.Root, "demo", "lantern-isles");

    private static readonly Workspace Demo = WorkspaceText
        .Read(
            Directory
                .EnumerateFiles(Folder, "*", SearchOption.AllDirectories)
                .Where(f => Path.GetExtension(f) is ".yaml" or ".svg" or ".geojson")
                .ToDictionary(f => Path.GetRelativePath(Folder, f), File.ReadAllText)
        )
        .Workspace!;

    [Fact]
    public void Every_measure_of_the_demo_means_under_another_name_what_it_means_under_its_own()
    {
        var planner = new Planner(DayOfWeek.Monday, "");
        foreach (var dataset in Demo.Datasets.Values)
        foreach (var measure in dataset.Measures.Values)
        {
            var (tried, kind, fault) = FormulaTrial.Read(dataset, "another", measure.FormulaText, isMeasure: true);
            fault.ShouldBeNull($"{dataset.Name} {measure.Name}");
            tried!.Measures["another"].Formula.ToString().ShouldBe(measure.Formula.ToString());
            tried.Measures["another"].Uses.ShouldBe(measure.Uses, ignoreOrder: true);
            kind.ShouldBe(measure.Formula.Kind);
            // In its own place it can be kept, and changed to what does not need itself.
            FormulaTrial.Read(dataset, measure.Name, measure.FormulaText, isMeasure: true).Fault.ShouldBeNull();
            FormulaTrial.Read(dataset, measure.Name, measure.Name, isMeasure: true).Fault!.Code.ShouldBe("circular-formula");
            foreach (var other in dataset.Measures.Values.Where(m => m.Uses.Contains(measure.Name)))
                FormulaTrial.Read(dataset, measure.Name, $"{other.Name} + 1", isMeasure: true).Fault!.Code.ShouldBe("circular-formula");
            // It is asked for as a tile is: over all rows, and by every field.
            var scope = Scope.ForDefining(Developer, tried, Demo, Viewing.Whenever)!;
            foreach (var by in dataset.Fields.Keys.Prepend(null))
                planner
                    .Plan(FormulaTrial.Tile(tried, "another", true, by), scope, TileFilters.None, FormulaTrial.Lines)
                    .Questions.ShouldNotBeEmpty();
        }
    }

    [Fact]
    public void A_field_under_another_name_is_read_by_its_names()
    {
        foreach (var dataset in Demo.Datasets.Values)
        foreach (var field in dataset.Fields.Values)
        {
            var tried = FormulaTrial.Read(dataset, "another", $" {field.Name} ", isMeasure: false).Dataset!.Fields["another"];
            (tried.NamedBy, tried.Names).ShouldBe((field.NamedBy, field.Names));
            if (field.Kind == ValueKind.Integer)
                FormulaTrial
                    .Read(dataset, "another", $"{field.Name} + 1", isMeasure: false)
                    .Dataset!.Fields["another"]
                    .HasNames.ShouldBeFalse();
        }
        Demo.Datasets["sailings"].Fields["vessel"].NamedBy.ShouldNotBeNull();
    }

    private static readonly Viewer Developer = new(
        "developer",
        "Developer",
        ["developer"],
        new Dictionary<string, IReadOnlyList<string>>()
    );

    [Theory]
    [InlineData("sum(farse)", true, "unknown-field", 4, 9)]
    [InlineData("passengers", true, "row-value-in-measure", 0, 10)]
    [InlineData("1 + 2", true, "no-aggregate", 0, 5)]
    [InlineData("sum(fares)", false, "measure-in-row", 0, 10)]
    [InlineData("fares + income", false, "measure-in-row", 8, 14)]
    [InlineData("delay >", false, "formula-syntax", 7, 7)]
    [InlineData("late", false, null, 0, 0)]
    [InlineData("delay > param.late_after", false, null, 0, 0)]
    [InlineData("delay > param.nothing", false, "unknown-parameter", 8, 21)]
    public void What_is_wrong_is_told_at_its_characters(string formula, bool isMeasure, string? code, int start, int end)
    {
        var (tried, _, fault) = FormulaTrial.Read(Demo.Datasets["sailings"], "another", formula, isMeasure);
        (fault?.Code).ShouldBe(code);
        (tried is null).ShouldBe(code is not null);
        if (fault is not null)
            (fault.Span.Start, fault.Span.Start + fault.Span.Length).ShouldBe((start, end));
    }

    [Fact]
    public void Every_function_that_formulas_know_is_offered_with_what_it_takes()
    {
        FormulaWords.All.Select(w => w.Name).ShouldBe(Functions.Names, ignoreOrder: true);
        FormulaWords.All.ShouldAllBe(w => w.Signature.StartsWith(w.Name + "(") && w.Doc.Length > 5);
    }
}
