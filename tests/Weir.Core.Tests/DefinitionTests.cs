using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Shouldly;
using Weir.Core;
using Weir.Core.Definitions;
using Weir.Testing;

namespace Weir.Core.Tests;

public class DefinitionTests
{
    private const string Dataset =
        "dataset: d\nsource: s\nfrom: t\nfields:\n  route: { column: route }\n  delay: { column: delay, type: integer }\n  at: { "
        + "column: at, type: timestamp }\nmeasures:\n  rows: { formula: \"count(*)\" }\n";
    private const string Access = "roles:\n  all: { reads: { d: all } }\n";

    private static string Tile(string more = "", string name = "a", string place = "{ column: 0, row: 0, width: 4, height: 2 }") =>
        $"      - tile: {name}\n        picture: bar\n        dataset: d\n        show: rows\n        by: route\n{more}        place: {place}\n";

    private static string Dashboard(params string[] tiles) => "dashboard: x\ntabs:\n  - tab: one\n    tiles:\n" + string.Concat(tiles);

    private static IReadOnlyList<Fault> Faults(string dataset = Dataset, string access = Access, string? dashboard = null) =>
        WorkspaceText.Read(Testing.Definitions.Files(dataset, access, dashboard is null ? [] : [("dashboards/x.yaml", dashboard)])).Faults;

    private static void ShouldFind(IReadOnlyList<Fault> faults, string place, string code, string? remedy = null)
    {
        var found = faults.FirstOrDefault(f => $"{f.File}:{f.Line}:{f.Column}" == place && f.Code == code);
        found.ShouldNotBeNull(string.Join('\n', faults));
        if (remedy is not null)
            found.Remedy!.ShouldContain(remedy);
    }

    [Fact]
    public void The_demo_workspace_has_no_fault_and_has_what_it_promises()
    {
        var (workspace, faults) = WorkspaceText.Read(Repository.DemoDefinitions());
        faults.ShouldBeEmpty();
        workspace!.Datasets.Count.ShouldBeGreaterThanOrEqualTo(2);
        workspace.Dashboards.Count.ShouldBeGreaterThanOrEqualTo(2);
        var network = workspace.Dashboards["network"];
        network.Tabs.Count.ShouldBe(3);
        network.Tiles.Count().ShouldBeGreaterThanOrEqualTo(10);
        workspace
            .Dashboards.Values.SelectMany(d => d.Tiles)
            .Select(t => t.Picture.Name)
            .Distinct()
            .ShouldBe(Pictures.PictureKinds.All.Select(k => k.Name), ignoreOrder: true);
        workspace.Catalogues.Keys.ShouldBe(["purse", "network"], ignoreOrder: true);
        workspace.OpeningViews.ShouldNotBeEmpty();
        var bridge = workspace.Dashboards["bridge"];
        bridge.Areas.Count.ShouldBe(2);
        bridge.Tabs[0].Sections.Count.ShouldBe(3);
        bridge.Tiles.Count(t => t.SharedAs is not null).ShouldBe(4);
    }

    [Theory]
    [InlineData("number", "sort: { by: rows }")]
    [InlineData("number", "top: { count: 3 }")]
    [InlineData("list", "drill: { to: [delay] }")]
    [InlineData("histogram", "top: { count: 3 }")]
    [InlineData("bar", "totals: true")]
    public void A_key_about_members_is_told_of_where_the_kind_has_no_use_for_it(string picture, string key)
    {
        var by =
            picture == "number" ? ""
            : picture == "histogram" ? "        by: delay\n"
            : "        by: route\n";
        var show = picture == "list" ? "" : "        show: rows\n";
        var tile =
            $"      - tile: a\n        picture: {picture}\n        dataset: d\n{show}{by}        {key}\n"
            + "        place: { column: 0, row: 0, width: 4, height: 2 }\n";
        var faults = Faults(dashboard: Dashboard(tile)).Where(f => f.Code == "no-effect").ToList();
        faults.ShouldHaveSingleItem().Severity.ShouldBe(Severity.Warning);
        faults[0].Message.ShouldContain(key.Split(":")[0]);
    }

    [Fact]
    public void An_unknown_key_is_named_with_its_place_and_what_was_meant() =>
        ShouldFind(
            Faults(dashboard: Dashboard(Tile("        pik: many\n"))),
            "dashboards/x.yaml:10:9",
            "unknown-key",
            "Did you mean pick?"
        );

    [Fact]
    public void A_missing_field_is_named_where_it_is_used() =>
        ShouldFind(
            Faults(dashboard: Dashboard(Tile().Replace("by: route", "by: rout"))),
            "dashboards/x.yaml:9:13",
            "unknown-field",
            "Did you mean route?"
        );

    [Fact]
    public void A_type_fault_in_a_formula_points_at_the_character() =>
        ShouldFind(Faults(Dataset + "  bad: { formula: \"count(*) + sum(route)\" }\n"), "datasets/d.yaml:10:35", "type-mismatch");

    [Theory]
    [InlineData("filter: \"grade <> 'Compost'\"", "name-for-code", "'X'")]
    [InlineData("filter: \"grade in ('A', 'Y')\"", "unknown-code", "Did you mean A?")]
    [InlineData("filter: \"grade <> 'X'\"", null, null)]
    public void A_field_with_names_is_its_code_and_who_compares_a_name_is_told(string condition, string? code, string? remedy)
    {
        var faults = Faults(
            Dataset.Replace("  delay:", "  grade: { column: grade, names: { A: Table fruit, X: Compost }, order: [X, A] }\n  delay:")
                + condition
                + "\n"
        );
        var told = faults.Where(f => f.Code is "name-for-code" or "unknown-code").ToList();
        told.Select(f => f.Code).ShouldBe(code is null ? [] : [code]);
        if (remedy is not null)
            told[0].Remedy!.ShouldContain(remedy);
    }

    [Fact]
    public void A_member_that_is_meant_by_its_name_is_told_with_its_code() =>
        ShouldFind(
            Faults(
                Dataset.Replace(
                    "  delay:",
                    "  grade: { column: grade, names: { A: Table fruit, X: Compost }, order: [A, Compost] }\n  delay:"
                )
            ),
            "datasets/d.yaml:6:77",
            "name-for-code",
            "Write X."
        );

    [Fact]
    public void Overlapping_places_and_places_outside_the_grid_are_named()
    {
        var faults = Faults(
            dashboard: Dashboard(
                Tile(),
                Tile(name: "b", place: "{ column: 3, row: 1, width: 4, height: 1 }"),
                Tile(name: "c", place: "{ column: 9, row: 5, width: 4, height: 1 }")
            )
        );
        ShouldFind(faults, "dashboards/x.yaml:16:16", "overlapping-places", "row below is 2");
        ShouldFind(faults, "dashboards/x.yaml:22:16", "outside-grid", "3 at most");
    }

    [Fact]
    public void Wiring_to_a_tile_that_is_not_there_is_named() =>
        ShouldFind(
            Faults(
                dashboard: Dashboard(Tile("        drives: [b]\n"), Tile(name: "bb", place: "{ column: 6, row: 0, width: 4, height: 2 }"))
            ),
            "dashboards/x.yaml:10:18",
            "unknown-tile",
            "Did you mean bb?"
        );

    [Theory]
    [InlineData("        group: g\n", "unknown-group", "Add groups")]
    [InlineData("        drives: group\n", "unknown-group", "Add group")]
    [InlineData("        pick: range\n", "cannot-pick", "pick: many")]
    [InlineData("        drill: { to: [rout] }\n", "unknown-field", "Did you mean route?")]
    [InlineData("        drill: { to: [route] }\n", "level-twice", null)]
    [InlineData("        drill: { to: [] }\n", "cannot-drill", "Group the tile by one field")]
    public void Wiring_that_can_not_be_meant_is_named(string more, string code, string? remedy)
    {
        var found = Faults(dashboard: Dashboard(Tile(more))).FirstOrDefault(f => f.Code == code && f.Severity == Severity.Error);
        found.ShouldNotBeNull();
        if (remedy is not null)
            found.Remedy!.ShouldContain(remedy);
    }

    [Theory]
    [InlineData("switch")]
    [InlineData("slider")]
    [InlineData("dates")]
    public void A_control_over_a_field_of_another_type_is_named(string picture) =>
        Faults(dashboard: Dashboard(Tile().Replace("picture: bar", $"picture: {picture}").Replace("        show: rows\n", "")))
            .ShouldContain(f => f.Code == "type-mismatch");

    [Fact]
    public void Wiring_that_hardly_can_be_meant_is_warned_of()
    {
        string At(int row) => $"{{ column: 0, row: {row}, width: 4, height: 2 }}";
        var faults = Faults(
            dashboard: Dashboard(
                Tile("        drives: [b]\n"),
                Tile("        drives: [a]\n", "b", At(2)),
                Tile("        follows: [c]\n", "lonely", At(4)),
                Tile("        pick: none\n", "c", At(6)),
                Tile("        follows: none\n", "free", At(8))
            )
        );
        faults.ShouldAllBe(f => f.Severity == Severity.Warning);
        faults.ShouldContain(f => f.Code == "drives-both-ways" && f.Message.Contains("a and b"));
        faults.Where(f => f.Code == "never-filtered").Select(f => f.Message.Split(' ')[4].TrimEnd(':')).ShouldBe(["lonely"]);
    }

    [Fact]
    public void What_nothing_uses_is_a_warning_and_does_not_hinder()
    {
        var (workspace, faults) = WorkspaceText.Read(
            Testing.Definitions.Files(
                Dataset,
                Access,
                ("dashboards/x.yaml", Dashboard(Tile())),
                ("sources/z.yaml", "source: z\nengine: duckdb\nfile: z\n")
            )
        );
        workspace.ShouldNotBeNull();
        faults.ShouldAllBe(f => f.Severity == Severity.Warning);
        ShouldFind(faults, "datasets/d.yaml:6:3", "unused-definition");
        ShouldFind(faults, "sources/z.yaml:1:9", "unused-source");
    }

    [Theory]
    [InlineData("fields:\n  - a: 1\n    b: 2\n  - : c\n    d: e\n", "malformed-yaml")]
    [InlineData("a: [", "malformed-yaml")]
    [InlineData("- a\n", "malformed-yaml")]
    [InlineData("dataset: d\ndataset: d\n", "malformed-yaml")]
    [InlineData("dataset: &a d\nsource: *a\n", "malformed-yaml")]
    [InlineData("", "malformed-yaml")]
    [InlineData("dataset: d\n", "missing-key")]
    public void Text_that_is_no_definition_is_refused_with_a_code(string text, string code) =>
        Faults(text).ShouldContain(f => f.Code == code && f.File == "datasets/d.yaml" && f.Line >= 1);

    [Fact]
    public void A_file_that_is_no_yaml_alone_has_errors_whatever_else_names_what_is_in_it()
    {
        var files = Repository.DemoDefinitions();
        WorkspaceText.Read(files).Faults.ShouldNotContain(f => f.Severity == Severity.Error);
        foreach (var path in files.Keys.Where(f => f.EndsWith(".yaml", StringComparison.Ordinal)))
        {
            var faults = WorkspaceText.Read(new Dictionary<string, string>(files) { [path] = files[path] + "more: { text: \"no" }).Faults;
            var errors = faults.Where(f => f.Severity == Severity.Error).ToList();
            errors.ShouldHaveSingleItem(string.Join("\n", errors)).File.ShouldBe(path);
        }
    }

    [Theory]
    [InlineData(@"- (\{ )?tile: [\w-]+", "- ${1}tile: [no]")]
    [InlineData(@"- (\{ )?tile: [\w-]+", "- ${1}no: tile")]
    [InlineData("tiles:", "no_tiles:")]
    public void A_tile_that_is_none_alone_has_errors_whatever_else_names_it_or_what_it_brings(string written, string broken)
    {
        var files = Repository.DemoDefinitions();
        var report = files["reports/terminals.yaml"];
        files["reports/terminals.yaml"] = report + "set: { at_port: [SKE] }\n";
        WorkspaceText.Read(files).Faults.ShouldNotContain(f => f.Severity == Severity.Error);
        const string Path = "dashboards/tickets.yaml";
        foreach (Match match in Regex.Matches(files[Path], written))
        {
            var text = files[Path].Remove(match.Index, match.Length).Insert(match.Index, match.Result(broken));
            var faults = WorkspaceText.Read(new Dictionary<string, string>(files) { [Path] = text }).Faults;
            var errors = faults.Where(f => f.Severity == Severity.Error).ToList();
            errors.ShouldNotBeEmpty();
            errors.Where(f => f.File != Path).ShouldBeEmpty($"{match.Value}\n{string.Join("\n", errors)}");
        }
    }

    [Theory]
    [InlineData("measures:\n  rows: { formula: \"count(*)\" }", "measures:\n  route: { formula: \"count(*)\" }", "name-taken")]
    [InlineData("delay: { column: delay, type: integer }", "delay: { formula: \"delay + 1\" }", "circular-formula")]
    [InlineData("delay: { column: delay, type: integer }", "delay: { column: nowhere.delay, type: integer }", "unknown-table")]
    [InlineData("source: s", "source: z", "unknown-source")]
    [InlineData("from: t", "from: t\njoins:\n  - { table: u, on: \"t.a > u.b\" }", "bad-join")]
    [InlineData("from: t", "from: t\njoins:\n  - { table: u, source: z, on: \"t.a = u.b\" }", "other-source")]
    [InlineData("from: t", "from: t\nfilter: \"delay + 1\"", "type-mismatch")]
    [InlineData("route: { column: route }", "route: { column: route, format: \"0,0,0 zz zz zz zz zz zz zz\" }", "bad-format")]
    [InlineData("route: { column: route }", "route: {}", "missing-key")]
    [InlineData("delay: { column: delay, type: integer }", "delay: { formula: \"1 = 1\", type: integer }", "type-mismatch")]
    [InlineData("{ formula: \"count(*)\" }", "{ formula: \"1 + 1\" }", "no-aggregate")]
    public void A_fault_of_a_dataset_has_a_code(string right, string wrong, string code) =>
        Faults(Dataset.Replace(right, wrong)).ShouldContain(f => f.Code == code);

    [Theory]
    [InlineData("roles:\n  all: { reads: { dd: all } }\n", "unknown-dataset")]
    [InlineData("roles:\n  all: { reads: { d: some } }\n", "unknown-value")]
    [InlineData("roles:\n  all: { reads: { d: { where: \"rout = 'x'\" } } }\n", "unknown-field")]
    [InlineData("roles:\n  all: { reads: { d: { where: \"delay\" } } }\n", "type-mismatch")]
    [InlineData("roles:\n  all: { reads: { d: { hides: [x] } } }\n", "unknown-field")]
    [InlineData(
        "roles:\n  all: { reads: { d: all } }\nchecks:\n  - { as: { roles: [al] }, dataset: d, only: \"delay = 1\" }\n",
        "unknown-role"
    )]
    [InlineData("roles:\n  all: { may: [fly] }\n", "unknown-value")]
    public void A_fault_of_the_access_rules_has_a_code(string access, string code) =>
        Faults(access: access).ShouldContain(f => f.Code == code && f.File == "access.yaml");

    [Fact]
    public void A_broken_field_that_is_called_as_a_key_does_not_stand_for_the_key()
    {
        var files = Repository.DemoDefinitions();
        files["datasets/odd.yaml"] = "source: ferries\nfrom: sailing\nfields:\n  dataset: [broken]\n  id: { column: id, type: integer }\n";
        WorkspaceText.Read(files).Faults.ShouldContain(f => f.File == "datasets/odd.yaml" && f.Code == "missing-key");
    }

    [Fact]
    public void The_schema_for_editors_knows_every_key_that_the_check_knows()
    {
        var schema = JsonSchema.Write(WorkspaceText.Shapes);
        foreach (var (_, name, shape) in WorkspaceText.Shapes.Files)
            schema["$defs"]![name]!["properties"]!.AsObject().Select(p => p.Key).ShouldBe(shape.Known.Select(k => k.Name));
        JsonNode.Parse(schema.ToJsonString())!["$schema"]!.GetValue<string>().ShouldContain("2020-12");
    }

    [Fact]
    public void Every_key_is_told_in_the_docs()
    {
        var docs = File.ReadAllText(Path.Combine(Repository.Root, "docs", "definitions.md"));
        foreach (var key in WorkspaceText.Shapes.Files.SelectMany(f => Keys(f.Shape)).Distinct())
            docs.ShouldContain($"`{key}`", customMessage: $"docs/definitions.md does not tell the key {key}.");
    }

    [Fact]
    public void The_table_of_pictures_in_the_docs_is_what_the_kinds_declare() =>
        File.ReadAllText(Path.Combine(Repository.Root, "docs", "definitions.md"))
            .ShouldContain(
                Pictures.PictureTable.Write(Pictures.PictureKinds.All),
                customMessage: "docs/definitions.md: put in what `weir schema --pictures` prints."
            );

    [Fact]
    public void The_docs_of_pictures_tell_each_kind_and_the_atlas_shows_each_that_draws()
    {
        const string Remedy = "Run node scripts/pictures.mjs.";
        var docs = File.ReadAllText(Path.Combine(Repository.Root, "docs", "pictures.md"));
        var atlas = Testing.Definitions.Read(Repository.DemoDefinitions()).Dashboards["atlas"];
        foreach (var kind in Pictures.PictureKinds.All)
        {
            docs.ShouldContain($"\n## {kind}\n\n{char.ToUpperInvariant(kind.Summary[0])}{kind.Summary[1..]}.", customMessage: Remedy);
            foreach (var key in kind.Own.Select(o => o.Key.Name))
                docs.ShouldContain($"`{key}`", customMessage: Remedy);
        }
        foreach (var tile in atlas.Tiles)
            docs.ShouldContain($"\n- tile: {tile.Name}\n  picture: {tile.Picture}\n", customMessage: Remedy);
        Pictures
            .PictureKinds.All.Where(k => k.HasLines && !k.IsControl)
            .Select(k => k.Name)
            .Except(atlas.Tiles.Select(t => t.Picture.Name))
            .ShouldBeEmpty("each kind that draws is in the atlas");
    }

    private static IEnumerable<string> Keys(Shape shape) =>
        shape switch
        {
            Shape.Keys keys => keys.Known.SelectMany(k => Keys(k.Shape).Prepend(k.Name)),
            Shape.MapOf map => Keys(map.Value),
            Shape.ListOf list => Keys(list.Item),
            Shape.Either either => either.Shapes.SelectMany(Keys),
            _ => [],
        };
}
