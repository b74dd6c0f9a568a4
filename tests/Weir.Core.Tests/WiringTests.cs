using System.Text;
using System.Text.Json;
using CsCheck;
using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;

namespace Weir.Core.Tests;

/// <summary>The interaction function against an oracle that walks the rules one by one, on random dashboards.</summary>
public class WiringTests
{
    private const string Datasets = """
        dataset: d
        source: s
        from: t
        fields:
          kind: { column: kind, concept: kind }
          size: { column: size, type: integer }
          at: { column: at, type: timestamp, concept: day }
        measures:
          rows: { formula: "count(*)" }
        """;

    private const string Other = """
        dataset: e
        source: s
        from: u
        fields:
          sort: { column: sort, concept: kind }
          day: { column: day, type: date, concept: day }
        measures:
          rows: { formula: "count(*)" }
        """;

    private const string Access = "roles:\n  all: { reads: { d: all, e: all } }\n";

    private static readonly string[] Members = ["kind", "size", "at.month", "at.day_of_week", "at"];

    private sealed record Made(Dashboard Dashboard, Arrangement Arrangement, IReadOnlyDictionary<string, Scope> Scopes, List<Selection> Selections);

    /// <summary>A dashboard with 1 to 3 tabs, up to 7 tiles over two datasets, wired at random, and something picked on some of them.</summary>
    private static Made Make(Random random)
    {
        var count = random.Next(1, 8);
        var tabs = random.Next(1, 4);
        var names = Enumerable.Range(0, count).Select(i => $"t{i}").ToList();
        var yaml = new StringBuilder("dashboard: x\ntabs:\n");
        for (var tab = 0; tab < tabs; tab++)
        {
            yaml.Append($"  - tab: tab{tab}\n    tiles:\n");
            var onTab = names.Where((_, i) => i % tabs == tab).ToList();
            if (onTab.Count == 0)
                yaml.Append("      - { tile: note" + tab + ", picture: text, text: x, place: { column: 0, row: 0, width: 1, height: 1 } }\n");
            for (var row = 0; row < onTab.Count; row++)
            {
                var other = random.Next(4) == 0;
                var by = other ? random.Next(2) == 0 ? "sort" : "day.month" : Members[random.Next(4)];
                var pair = !other && random.Next(4) == 0;
                string List(string[] words) => random.Next(words.Length + 1) is var w && w < words.Length ? words[w] : $"[{string.Join(", ", names.Where(_ => random.Next(2) == 0).DefaultIfEmpty(names[0]))}]";
                yaml.Append($"      - tile: {onTab[row]}\n        picture: {(pair ? "heatmap" : "bar")}\n        dataset: {(other ? "e" : "d")}\n        show: rows\n");
                yaml.Append($"        by: {(pair ? "[at.day_of_week, kind]" : by)}\n        top: {{ count: 3, rest: true }}\n        drives: {List(["tab", "dashboard", "none"])}\n        follows: {List(["all", "none", "all"])}\n");
                yaml.Append($"        place: {{ column: 0, row: {row}, width: 1, height: 1 }}\n");
            }
        }
        var workspace = Testing.Definitions.Read(Testing.Definitions.Files(Datasets, Access, ("datasets/e.yaml", Other), ("dashboards/x.yaml", yaml.ToString())));
        var viewer = Testing.Definitions.Viewer("all");
        var scopes = workspace.Datasets.Keys.ToDictionary(d => d, d => Scope.For(viewer, d, workspace, Inputs.At(default))!);
        var dashboard = workspace.Dashboards["x"];
        // The viewer has moved some tiles to other tabs and hidden others.
        var arrangement = Arrangement.Opening(dashboard);
        foreach (var tile in arrangement.Tiles.ToList().Where(_ => random.Next(3) == 0))
            arrangement = Views.PersonalView.Apply(arrangement, arrangement, random.Next(2) == 0
                ? new Views.ViewEdit.MoveToTab(tile.Tile.Name, arrangement.Tabs[random.Next(arrangement.Tabs.Count)].Name)
                : new Views.ViewEdit.HideTile(tile.Tile.Name)).Arrangement;
        var selections = dashboard.Tiles.Where(t => t.Dataset is not null && random.Next(2) == 0).Select(t => Select(t, scopes[t.Dataset!], random)).ToList();
        return new Made(dashboard, arrangement, scopes, selections);
    }

    private static Selection Select(Tile tile, Scope scope, Random random)
    {
        List<IReadOnlyList<object?>> Pick() => [.. Enumerable.Range(0, random.Next(0, 4)).Select(_ => (IReadOnlyList<object?>)[.. tile.By.Select(b => Key(Fields.At(b, scope)!, RandomRow(random)))])];
        return new Selection(tile.Name, Pick(), random.Next(4) == 0 ? Pick() : null);
    }

    private static readonly Evaluator Evaluator = new(DayOfWeek.Monday);

    private static object? Key(Bound formula, Dictionary<string, object?> row) => Evaluator.Value(formula, c => row[c.Name]);

    private static Dictionary<string, object?> RandomRow(Random random)
    {
        object? Or(object value) => random.Next(6) == 0 ? null : value;
        var at = new DateTime(2024, 2, 26).AddHours(random.Next(24 * 10));
        return new Dictionary<string, object?>
        {
            ["kind"] = Or(random.Next(4) switch { 0 => "", 1 => "a", 2 => "A", _ => "b" }),
            ["sort"] = Or(random.Next(4) switch { 0 => "", 1 => "a", 2 => "A", _ => "b" }),
            ["size"] = Or((long)random.Next(3)),
            ["at"] = Or(at),
            ["day"] = Or(DateOnly.FromDateTime(at)),
        };
    }

    /// <summary>RULES 2 to 7, said again in the slowest way: may this selection filter that tile, and by which of its fields?</summary>
    private static List<FieldAt>? Oracle(Made made, Tile driver, Tile follower)
    {
        if (follower.Dataset is null || driver.Name == follower.Name)
            return null;
        var tabs = made.Arrangement.Tabs;
        bool Stands(string tile, ArrangedTab tab) => tab.Tiles.Any(t => t.Tile.Name == tile);
        var reached = driver.Drives.Kind switch
        {
            "none" => [],
            "tab" => tabs.Where(t => Stands(driver.Name, t)).SelectMany(t => t.Tiles).Select(t => t.Tile.Name).ToHashSet(),
            "dashboard" => tabs.SelectMany(t => t.Tiles).Select(t => t.Tile.Name).ToHashSet(),
            _ => driver.Drives.Tiles.ToHashSet(),
        };
        var followed = follower.Follows.Kind switch { "none" => [], "all" => made.Dashboard.Tiles.Select(t => t.Name).ToHashSet(), _ => follower.Follows.Tiles.ToHashSet() };
        if (!reached.Contains(follower.Name) || !followed.Contains(driver.Name))
            return null;
        if (driver.Dataset == follower.Dataset)
            return [.. driver.By];
        var fields = new List<FieldAt>();
        foreach (var by in driver.By)
        {
            var name = (driver.Dataset, by.Field) switch { ("d", "kind") => "sort", ("d", "at") => "day", ("e", "sort") => "kind", ("e", "day") => "at", _ => null };
            if (name is null)
                return null;
            fields.Add(new FieldAt(name, by.Member));
        }
        return fields;
    }

    [Fact]
    public void What_filters_each_tile_is_what_the_rules_say() => Gen.Int.Sample(seed =>
    {
        var random = new Random(seed);
        var made = Make(random);
        foreach (var follower in made.Dashboard.Tiles)
        {
            var filters = Wiring.FiltersOf(follower, made.Arrangement, made.Selections, made.Scopes, DayOfWeek.Monday);
            var expected = made.Selections.Where(s => !s.IsEmpty).Select(s => (s.Tile, Fields: Oracle(made, made.Dashboard.Tiles.First(t => t.Name == s.Tile), follower))).ToList();
            filters.Applied.Select(a => a.Selection.Tile).ShouldBe(expected.Where(e => e.Fields is not null).Select(e => e.Tile));
            filters.NotApplied.Select(a => a.Selection.Tile).ShouldBe(expected.Where(e => e.Fields is null).Select(e => e.Tile));
            foreach (var filter in filters.Applied)
            {
                filter.Fields.ShouldBe(expected.First(e => e.Tile == filter.Selection.Tile).Fields!);
                var driver = made.Dashboard.Tiles.First(t => t.Name == filter.Selection.Tile);
                // A row meets the filter if its member is among those picked, or is not among those shown when the rest is.
                for (var i = 0; i < 10; i++)
                {
                    var row = RandomRow(random);
                    var member = filter.Fields.Select(f => Key(Fields.At(f, made.Scopes[follower.Dataset!])!, row)).ToList();
                    bool In(IReadOnlyList<IReadOnlyList<object?>> list) => list.Any(m => m.SequenceEqual(member));
                    var meets = In(filter.Selection.Members) || (filter.Selection.RestOf is { } shown && !In(shown));
                    (Evaluator.Value(filter.Condition, c => row[c.Name]) is true).ShouldBe(meets, $"{driver.Name} on {follower.Name}: {JsonSerializer.Serialize(row)}");
                }
            }
        }
    }, iter: 3_000, print: s => $"seed {s}");

    [Fact]
    public void A_selection_of_a_wrong_form_is_refused_with_a_code()
    {
        var made = Make(new Random(1));
        var tile = made.Dashboard.Tiles.First(t => t is { Dataset: "d", By.Count: 1 }) with { By = [new FieldAt("size", null)] };
        string Code(string json, Pick pick = Pick.Many) =>
            SelectionReader.Read(tile with { Pick = pick }, made.Scopes["d"], JsonDocument.Parse(json).RootElement).Fault?.Code ?? "";
        Code("""{"members": [[1], [null]]}""").ShouldBe("");
        Code("""{"members": [["x"]]}""").ShouldBe("wrong-type");
        Code("""{"members": [[1.5]]}""").ShouldBe("wrong-type");
        Code("""{"members": [[1, 2]]}""").ShouldBe("bad-selection");
        Code("""{"members": 7}""").ShouldBe("bad-selection");
        Code("""{"membres": []}""").ShouldBe("bad-selection");
        Code("[]").ShouldBe("bad-selection");
        Code("""{"members": [[1], [2]]}""", Pick.One).ShouldBe("one-member-only");
        Code("""{"members": []}""", Pick.None).ShouldBe("not-pickable");
        Code($$"""{"members": [{{string.Join(',', Enumerable.Repeat("[1]", Selection.MaximumMembers + 1))}}]}""").ShouldBe("too-many-members");
    }
}
