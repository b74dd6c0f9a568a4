using Shouldly;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Testing;

namespace Weir.Core.Tests;

/// <summary>A worked example over another dataset says what it said, of other names.</summary>
public class RefittingTests
{
    private static readonly string Folder = Path.Combine(Repository.Root, "demo", "lantern-isles");

    private static readonly Dictionary<string, string> Demo = Directory
        .EnumerateFiles(Folder, "*", SearchOption.AllDirectories)
        .Where(f => Path.GetExtension(f) is ".yaml" or ".svg" or ".geojson")
        .ToDictionary(f => Path.GetRelativePath(Folder, f), File.ReadAllText);

    private static NamesSeen Seen(Workspace workspace, string path) => new(path, workspace.Datasets, workspace.Catalogues);

    public static TheoryData<string> Datasets => [.. Testing.Definitions.Read(Demo).Datasets.Keys];

    [Theory]
    [MemberData(nameof(Datasets))]
    public void Over_a_dataset_in_which_all_is_called_otherwise_every_dashboard_is_as_if_all_had_been_given_other_names(string name)
    {
        // The oracle gives every name another, one after the other, in the whole workspace.
        var (workspace, oracle) = (Testing.Definitions.Read(Demo), Demo);
        var members = workspace.Datasets[name].Measures.Keys.Concat(workspace.Datasets[name].Fields.Keys).ToList();
        foreach (var member in members)
            oracle = Renaming
                .Of(oracle, Testing.Definitions.Read(oracle), new NewName(Nameable.Member, name, member, "an_" + member))
                .Files.ToDictionary();
        oracle = Renaming
            .Of(oracle, Testing.Definitions.Read(oracle), new NewName(Nameable.Dataset, null, name, "another"), _ => false)
            .Files.ToDictionary();
        // Both are there: the one that the examples are over, and the one that they are to be over.
        var both = new Dictionary<string, string>(Demo) { ["datasets/another.yaml"] = oracle[$"datasets/{name}.yaml"] };
        var known = Testing.Definitions.Read(both);
        var names = members.ToDictionary(m => m, m => "an_" + m);
        foreach (var (path, text) in Demo.Where(f => f.Key.StartsWith("dashboards/", StringComparison.Ordinal)))
        {
            var seen = Seen(known, path);
            var named = Refitting.Named(both, text, seen);
            if (!named.ContainsKey(name))
                continue;
            Refitting.Of(both, text, name, "another", names, seen).ShouldBe(oracle[path], path);
            // What it says that it names is what there is to be named: without the rest it says the same.
            Refitting.Of(both, text, name, "another", named[name].ToDictionary(m => m, m => "an_" + m), seen).ShouldBe(oracle[path], path);
        }
    }

    [Fact]
    public void What_has_nothing_to_stand_for_it_is_left_out_with_the_reason_and_named_nowhere()
    {
        const string Path = "dashboards/x.yaml";
        const string Data = """
            dataset: d
            source: s
            from: t
            fields:
              port: { column: port }
              day: { column: day, type: date }
            measures:
              income: { formula: "sum(port)", title: Income }
            """;
        var data = Data.Replace("sum(port)", "count(*)");
        var files = Testing.Definitions.Files(
            data,
            "roles:\n  all: { reads: { d: all, e: all } }\n",
            (
                "datasets/e.yaml",
                "dataset: e\nsource: s\nfrom: u\nfields:\n  quay: { column: quay, title: Port }\nmeasures:\n  money: { formula: \"count(*)\", title: income }\n"
            )
        );
        const string Text = """
            dashboard: x # an example
            tabs:
              - tab: a
                columns: 2
                tiles:
                  - { tile: by-port, picture: bar, dataset: d, show: income, by: port, drives: [by-day, income] }
                  - { tile: by-day, picture: line, dataset: d, show: income, by: day.month }   # over time
                  - { tile: income, picture: number, dataset: d, show: income, title: "income" }
            """;
        var workspace = Testing.Definitions.Read(files);
        var (d, e) = (workspace.Datasets["d"], workspace.Datasets["e"]);
        var seen = Seen(workspace, Path);
        Refitting.Named(files, Text, seen)["d"].ShouldBe(["income", "port", "day"], ignoreOrder: true);
        (Refitting.Alike(d, "income", e), Refitting.Alike(d, "port", e), Refitting.Alike(d, "day", e)).ShouldBe(("money", "quay", null));
        var over = Refitting.Of(files, Text, "d", "e", new Dictionary<string, string> { ["income"] = "money", ["port"] = "quay" }, seen);
        var (text, leftOut) = Refitting.Fitting(files, over, seen);
        leftOut.Single().Tile.ShouldBe("by-day");
        leftOut.Single().Why.ShouldContain("day");
        text.ShouldBe(
            """
            dashboard: x # an example
            tabs:
              - tab: a
                columns: 2
                tiles:
                  - { tile: by-port, picture: bar, dataset: e, show: money, by: quay, drives: [income] }
                  - { tile: income, picture: number, dataset: e, show: money, title: "income" }
            """
        );
    }

    [Fact]
    public void What_was_written_for_the_values_of_other_data_is_named_and_what_holds_of_any_data_is_not()
    {
        const string Text = """
            dashboard: x
            tabs:
              - tab: a
                tiles:
                  - { tile: two, picture: list, dataset: d, by: port, opening: [SKE, not given], title: Ports, description: All of them. }
                  - { tile: pairs, picture: heatmap, dataset: d, show: n, by: [port, quay], opening: [[SKE, north], [ULL, south]] }
                  - { tile: span, picture: slider, dataset: d, by: size, opening: { from: 3, to: 8 } }
                  - { tile: found, picture: search, dataset: d, by: port, opening: { contains: ske } }
                  - { tile: last, picture: dates, dataset: d, by: day, opening: { period: last 30 days } }
                  - { tile: newest, picture: dropdown, dataset: d, by: day.month, opening: newest }
                  - { tile: plain, picture: number, dataset: d, show: n }
                  - { tile: other, picture: list, dataset: e, by: port, opening: [SKE], title: Other }
                  - { shared: c/t, tile: shared }
            """;
        Refitting
            .Kept(Text, new HashSet<string> { "d" })
            .ShouldBe([
                ("two", "opens with SKE, not given, is called Ports, has a text"),
                ("pairs", "opens with SKE / north, ULL / south"),
                ("span", "opens with the range from 3 to 8"),
                ("found", "opens with what contains ske"),
            ]);
        Refitting.Kept("dashboard: x\n", new HashSet<string> { "d" }).ShouldBeEmpty();
    }
}
