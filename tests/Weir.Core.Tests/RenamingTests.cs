using Shouldly;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Core.Interaction;
using Weir.Core.Views;
using Weir.Testing;

namespace Weir.Core.Tests;

/// <summary>Another name is another name everywhere, and nothing else is another.</summary>
public class RenamingTests
{
    private static readonly string Folder = Path.Combine(Repository.Root, "demo", "lantern-isles");

    private static readonly Dictionary<string, string> Demo = Directory
        .EnumerateFiles(Folder, "*", SearchOption.AllDirectories)
        .Where(f => Path.GetExtension(f) is ".yaml" or ".svg" or ".geojson")
        .ToDictionary(f => Path.GetRelativePath(Folder, f), File.ReadAllText);

    private static Workspace Read(IReadOnlyDictionary<string, string> files)
    {
        var (workspace, faults) = WorkspaceText.Read(files);
        faults.Where(f => f.Severity == Severity.Error).ShouldBeEmpty();
        return workspace!;
    }

    public static TheoryData<string> Datasets => [.. Read(Demo).Datasets.Keys];

    [Theory]
    [MemberData(nameof(Datasets))]
    public void Every_name_of_the_demo_can_be_another_and_back_again(string name)
    {
        var workspace = Read(Demo);
        var dataset = workspace.Datasets[name];
        foreach (var from in dataset.Fields.Keys.Concat(dataset.Measures.Keys))
        {
            var there = Renamed(Demo, new NewName(Nameable.Member, name, from, "quite_another"));
            there.Warnings.ShouldBeEmpty($"{name}.{from}");
            var after = Read(there.Files);
            // What each tile is made of is the same but for the name.
            string Named(string n) => n == from ? "quite_another" : n;
            foreach (var (before, now) in AllTiles(workspace).Zip(AllTiles(after)))
            {
                bool IsMeant(Tile t) => t.Dataset == name;
                now.NamedMeasures.ShouldBe(before.NamedMeasures.Select(m => IsMeant(before) ? Named(m) : m), before.Name);
                now.NamedFields.Select(f => f.Field)
                    .ShouldBe(before.NamedFields.Select(f => IsMeant(before) ? Named(f.Field) : f.Field), before.Name);
            }
            Renamed(there.Files, new NewName(Nameable.Member, name, "quite_another", from)).Files.ShouldBe(Demo, ignoreOrder: true);
        }
        var other = Renamed(Demo, new NewName(Nameable.Dataset, null, name, "another-one"));
        other.Files.Keys.ShouldContain("datasets/another-one.yaml");
        other.Files.Keys.ShouldNotContain($"datasets/{name}.yaml");
        Renamed(other.Files, new NewName(Nameable.Dataset, null, "another-one", name)).Files.ShouldBe(Demo, ignoreOrder: true);
    }

    [Fact]
    public void Every_dashboard_of_the_demo_can_have_another_name_and_back_again()
    {
        foreach (var name in Read(Demo).Dashboards.Keys)
        {
            var there = Renamed(Demo, new NewName(Nameable.Dashboard, null, name, "another-one"));
            Read(there.Files).Dashboards.Keys.ShouldContain("another-one");
            // What leads there from a text leads there still.
            there.Files.Values.ShouldAllBe(t => !t.Contains($"/d/{name}"));
            Renamed(there.Files, new NewName(Nameable.Dashboard, null, "another-one", name)).Files.ShouldBe(Demo, ignoreOrder: true);
            // Where somebody works on the file, it stays where it is.
            Renaming
                .Of(Demo, Read(Demo), new NewName(Nameable.Dashboard, null, name, "another-one"), _ => false)
                .Files.Keys.ShouldBe(Demo.Keys, ignoreOrder: true);
        }
    }

    [Fact]
    public void Only_addresses_of_the_dashboard_itself_are_followed()
    {
        var files = new Dictionary<string, string>(Nasty)
        {
            ["dashboards/d.yaml"] = Nasty["dashboards/d.yaml"]
                .Replace(
                    "text: \"fares {fares}\"",
                    "text: \"{fares} [a](/d/d) [b](/d/d?tab=one) [c](/d/dd) [d](https://example.com/d/d) # /d/d-e\""
                ),
        };
        Renamed(files, new NewName(Nameable.Dashboard, null, "d", "e"))
            .Files["dashboards/e.yaml"]
            .ShouldContain("\"{fares} [a](/d/e) [b](/d/e?tab=one) [c](/d/dd) [d](https://example.com/d/d) # /d/d-e\"");
    }

    private static IEnumerable<Tile> AllTiles(Workspace w) =>
        w.Dashboards.Values.SelectMany(d => d.Tiles).Concat(w.Catalogues.Values.SelectMany(c => c.Tiles));

    private static RenamedWorkspace Renamed(IReadOnlyDictionary<string, string> files, NewName name) =>
        Renaming.Of(files, Read(files), name);

    private static readonly Dictionary<string, string> Nasty = new()
    {
        ["workspace.yaml"] = "workspace: w\n",
        ["access.yaml"] = """
            roles:
              all: { dashboards: { all: all }, reads: { crossings: { where: "kind <> 'kind' or kind is null", hides: [fares] } } }
              some: { dashboards: { all: all }, reads: { crossings: all } }

            """,
        ["sources/s.yaml"] = "source: s\nengine: duckdb\nfile: x.duckdb\n",
        ["datasets/crossings.yaml"] = """
            dataset: crossings   # not the crossings of a tile
            source: s
            from: crossing
            fields:
              kind: { column: kind, names: { kind: Kind of kind } }
              year: { column: year, type: integer }
              day: { column: day, type: date }
              shown: { formula: 'case when kind = ''kind'' then ''it''''s kind'' else kind end' }
              turn: { formula: extract(year from day) - year }
            measures:
              # kind of a comment: fares
              fares: { formula: sum(year) }
              each:
                formula: >-
                  fares / nullif(count(*), 0)
                  + 0 * fares
              twice: { formula: "fares+fares" }

            """,
        ["dashboards/d.yaml"] = """
            dashboard: d
            title: d
            parameters:
              figure: { title: Figure, choices: { fares: fares, each: Each }, opening: fares }
              along: { title: Along, choices: [kind, day.month] }
            tabs:
              - tab: one
                columns: 2
                tiles:
                  - { tile: fares, picture: bar, dataset: crossings, show: fares, by: kind, drives: [kind], tip: "fares {fares} of kind {kind}" }
                  - tile: kind
                    picture: table
                    dataset: crossings
                    show: [fares, each]
                    by: ["kind", day.month]
                    sort: { by: fares }
                    description: fares by kind
                  - { tile: chosen, picture: bar, dataset: crossings, show: param.figure, by: param.along }
                  - { tile: words, picture: text, dataset: crossings, text: "fares {fares}" }

            """,
        ["openings/o.yaml"] = """
            opening_view: o
            dashboard: d
            edits:
              - { edit: draw, tile: fares, drawing: { show: [each], by: [kind], sort: kind } }
              - { edit: table, tile: fares, table: { order: [fares, kind], hidden: [day.month], widths: [{ column: fares, width: 90 }], sorted: [{ column: fares, descending: true }] } }
              - { edit: make-tile, tile: kind-made, dataset: crossings, drawing: { picture: bar, show: [fares], by: [kind] }, tab: one }

            """,
    };

    [Theory]
    [InlineData("kind", 13)]
    [InlineData("year", 3)]
    [InlineData("day", 5)]
    [InlineData("fares", 17)]
    public void What_only_looks_like_the_name_stays(string from, int places)
    {
        var there = Renamed(Nasty, new NewName(Nameable.Member, "crossings", from, "other"));
        there.Changed.Sum(c => c.Places).ShouldBe(places, string.Join("\n", there.Files.Values));
        Read(there.Files);
        Renamed(there.Files, new NewName(Nameable.Member, "crossings", "other", from)).Files.ShouldBe(Nasty, ignoreOrder: true);
    }

    [Fact]
    public void A_dataset_is_called_so_where_tiles_of_it_are_made_too()
    {
        var there = Renamed(Nasty, new NewName(Nameable.Dataset, null, "crossings", "ferries"));
        there.Files["openings/o.yaml"].ShouldContain("tile: kind-made, dataset: ferries,");
        Read(there.Files);
        Renamed(there.Files, new NewName(Nameable.Dataset, null, "ferries", "crossings")).Files.ShouldBe(Nasty, ignoreOrder: true);
    }

    [Fact]
    public void What_viewers_arranged_names_it_by_its_new_name()
    {
        var before = Read(Nasty);
        IReadOnlyList<ViewEdit> Renamed(string from, string to, params IReadOnlyList<ViewEdit> edits)
        {
            var name = new NewName(Nameable.Member, "crossings", from, to);
            return new RenamedViews(name, before, Read(Renaming.Of(Nasty, before, name).Files)).Of("d", edits);
        }
        var drawing = new Drawing("bar", ["fares", "each"], ["day.month"], "kind", "fares");
        ViewEdit[] edits =
        [
            new ViewEdit.CopyTab("one", "own-tab", "fares"),
            new ViewEdit.CopyTile("own-tab-fares", "own-copy", "own-tab"),
            new ViewEdit.Draw("own-copy", drawing),
            new ViewEdit.Draw("own-tab-kind", drawing),
            new ViewEdit.SetTable(
                "own-copy",
                new(["fares", "day.month"], ["kind"], null, [new("fares", 90)], [new("fares", true)], [new("fares", Least: 1)])
            ),
            new ViewEdit.Draw("words", new Drawing(Show: ["fares"])),
            new ViewEdit.KeepPicks(
                new Dictionary<string, System.Text.Json.JsonElement>(),
                new Dictionary<string, IReadOnlyList<string>> { ["figure"] = ["fares"], ["along"] = ["day.month"] }
            ),
        ];
        var fares = Renamed("fares", "takings", edits);
        fares.Take(2).ShouldBe(edits.Take(2));
        foreach (var drawn in fares.OfType<ViewEdit.Draw>().Take(2))
            drawn.Drawing.ShouldBeEquivalentTo(
                drawing with
                {
                    Show = new List<string> { "takings", "each" },
                    By = new List<string> { "day.month" },
                    Sort = "takings",
                }
            );
        TableColumns
            .AreAlike(
                fares.OfType<ViewEdit.SetTable>().Single().Table,
                new(["takings", "day.month"], ["kind"], null, [new("takings", 90)], [new("takings", true)], [new("takings", Least: 1)])
            )
            .ShouldBeTrue();
        ((ViewEdit.KeepPicks)fares[^1]).Parameters!["figure"].ShouldBe(["takings"]);
        var day = Renamed("day", "sailed", edits);
        ((ViewEdit.Draw)day[2]).Drawing!.By.ShouldBe(["sailed.month"]);
        ((ViewEdit.KeepPicks)day[^1]).Parameters!["along"].ShouldBe(["sailed.month"]);
    }

    [Theory]
    [InlineData("kind", "year", "There is a field or measure year already.")]
    [InlineData("kind", "1st", "'1st' can't be a name.")]
    [InlineData("kinds", "other", "There is no field or measure in crossings that is called kinds.")]
    [InlineData("fares", "of-all", "of-all would need quotation marks in the formula fares+fares, which stands in some already.")]
    public void A_name_that_can_t_be_is_refused_with_the_reason(string from, string to, string reason) =>
        Should.Throw<DesignException>(() => Renamed(Nasty, new NewName(Nameable.Member, "crossings", from, to))).Message.ShouldBe(reason);

    [Fact]
    public void The_title_stays_where_it_is_meant_to()
    {
        var kept = Read(Renamed(Nasty, new NewName(Nameable.Member, "crossings", "fares", "income", KeepsTitle: true)).Files);
        kept.Datasets["crossings"].Measures["income"].Title.ShouldBe("Fares");
        var followed = Read(Renamed(Nasty, new NewName(Nameable.Member, "crossings", "fares", "income")).Files);
        followed.Datasets["crossings"].Measures["income"].Title.ShouldBe("Income");
    }
}
