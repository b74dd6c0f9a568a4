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

    private sealed record Made(
        Dashboard Dashboard,
        Arrangement Arrangement,
        IReadOnlyDictionary<string, Scope> Scopes,
        List<Selection> Selections
    );

    /// <summary>A dashboard with 1 to 3 tabs, up to 7 tiles over two datasets, wired at random, and something picked on some of them.</summary>
    private static Made Make(Random random)
    {
        var count = random.Next(1, 8);
        var tabs = random.Next(1, 4);
        var names = Enumerable.Range(0, count).Select(i => $"t{i}").ToList();
        var yaml = new StringBuilder("dashboard: x\ntabs:\n");
        for (var tab = 0; tab < tabs; tab++)
        {
            string Outward() =>
                random.Next(4) switch
                {
                    0 => "tab",
                    1 => "dashboard",
                    2 => "none",
                    _ => $"[{string.Join(", ", names.Where(_ => random.Next(2) == 0).DefaultIfEmpty(names[0]))}]",
                };
            yaml.Append(
                $"  - tab: tab{tab}\n    groups:\n      - {{ group: g{tab}, drives: {Outward()} }}\n      - {{ group: h{tab} }}\n    tiles:\n"
            );
            var onTab = names.Where((_, i) => i % tabs == tab).ToList();
            if (onTab.Count == 0)
                yaml.Append(
                    "      - { tile: note" + tab + ", picture: text, text: x, place: { column: 0, row: 0, width: 1, height: 1 } }\n"
                );
            for (var row = 0; row < onTab.Count; row++)
            {
                var other = random.Next(4) == 0;
                var by = other
                    ? random.Next(2) == 0
                        ? "sort"
                        : "day.month"
                    : Members[random.Next(4)];
                var pair = !other && random.Next(4) == 0;
                string List(string[] words) =>
                    random.Next(words.Length + 1) is var w && w < words.Length
                        ? words[w]
                        : $"[{string.Join(", ", names.Where(_ => random.Next(2) == 0).DefaultIfEmpty(names[0]))}]";
                var group = random.Next(3) switch
                {
                    0 => $"g{tab}",
                    1 => $"h{tab}",
                    _ => null,
                };
                yaml.Append(
                    $"      - tile: {onTab[row]}\n        picture: {(pair ? "heatmap" : "bar")}\n        dataset: {(other ? "e" : "d")}\n        show: rows\n"
                );
                yaml.Append(
                    $"        by: {(pair ? "[at.day_of_week, kind]" : by)}\n        top: {{ count: 3, rest: true }}\n        follows: "
                        + $"{List(["all", "none", "all"])}\n"
                );
                if (group is not null)
                    yaml.Append($"        group: {group}\n");
                // Left out now and then, since what is meant then depends on the group.
                if (random.Next(3) > 0)
                    yaml.Append(
                        $"        drives: {List(group is null ? ["tab", "dashboard", "none"] : ["tab", "dashboard", "none", "group"])}\n"
                    );
                if (!pair && random.Next(2) == 0)
                    yaml.Append(
                        $"        drill: {{ to: "
                            + $"[{(other ? by == "sort" ? "day.month, day" : "sort" : by == "size" ? "kind, at.day" : by == "kind" ? "size" : "kind, size")}], "
                            + $"drives: {(random.Next(2) == 0 ? "true" : "false")} }}\n"
                    );
                if (by is "at.month" or "size" or "day.month" && !pair)
                    yaml.Append("        pick: range\n");
                yaml.Append($"        place: {{ column: 0, row: {row}, width: 1, height: 1 }}\n");
            }
        }
        var workspace = Testing.Definitions.Read(
            Testing.Definitions.Files(Datasets, Access, ("datasets/e.yaml", Other), ("dashboards/x.yaml", yaml.ToString()))
        );
        var viewer = Testing.Definitions.Viewer("all");
        var scopes = workspace.Datasets.Keys.ToDictionary(d => d, d => Scope.For(viewer, d, workspace, Viewing.At(default))!);
        var dashboard = workspace.Dashboards["x"];
        // The viewer has moved some tiles to other tabs and hidden others.
        var arrangement = Arrangement.Opening(dashboard);
        foreach (var tile in arrangement.Tiles.ToList().Where(_ => random.Next(3) == 0))
            arrangement = new Views.ViewFold(dashboard)
                .Apply(
                    arrangement,
                    random.Next(2) == 0
                        ? new Views.ViewEdit.MoveToTab(tile.Tile.Name, arrangement.Tabs[random.Next(arrangement.Tabs.Count)].Name)
                        : new Views.ViewEdit.HideTile(tile.Tile.Name)
                )
                .Arrangement;
        var selections = dashboard
            .Tiles.Where(t => t.Dataset is not null && random.Next(2) == 0)
            .Select(t => Select(t, scopes[t.Dataset!], random))
            .ToList();
        return new Made(dashboard, arrangement, scopes, selections);
    }

    private static Selection Select(Tile tile, Scope scope, Random random)
    {
        object? Value(FieldAt at) => Key(Fields.At(at, scope)!, RandomRow(random));
        var levels = Drilling.Levels(tile);
        List<object?> path = [.. levels.Take(random.Next(levels.Count)).Select(Value)];
        var level = Drilling.At(tile, path);
        List<IReadOnlyList<object?>> Pick() =>
            [.. Enumerable.Range(0, random.Next(0, 4)).Select(_ => (IReadOnlyList<object?>)[.. level.By.Select(Value)])];
        return new Selection(tile.Name, Pick(), random.Next(4) == 0 ? Pick() : null)
        {
            Path = path,
            Excludes = random.Next(4) == 0,
            Range =
                tile.Pick == Core.Definitions.Pick.Range && random.Next(2) == 0 ? Range(Fields.At(level.By[0], scope)!.Kind, random) : null,
        };
    }

    private static PickedRange? Range(ValueKind kind, Random random)
    {
        if (!kind.IsTemporal() && !kind.IsNumber())
            return null;
        object One() => kind.IsTemporal() ? new DateTime(2024, 2, 24).AddHours(random.Next(24 * 14)) : (long)random.Next(4);
        var ends = new[] { One(), One() }.OrderBy(e => e).ToArray();
        var range = new PickedRange(random.Next(4) == 0 ? null : ends[0], random.Next(4) == 0 ? null : ends[1]);
        return range is { From: null, To: null } ? null : range;
    }

    private static readonly Evaluator Evaluator = new(DayOfWeek.Monday);

    private static object? Key(Bound formula, Dictionary<string, object?> row) => Evaluator.Value(formula, c => row[c.Name]);

    private static Dictionary<string, object?> RandomRow(Random random)
    {
        object? Or(object value) => random.Next(6) == 0 ? null : value;
        var at = new DateTime(2024, 2, 26).AddHours(random.Next(24 * 10));
        return new Dictionary<string, object?>
        {
            ["kind"] = Or(
                random.Next(4) switch
                {
                    0 => "",
                    1 => "a",
                    2 => "A",
                    _ => "b",
                }
            ),
            ["sort"] = Or(
                random.Next(4) switch
                {
                    0 => "",
                    1 => "a",
                    2 => "A",
                    _ => "b",
                }
            ),
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
            "none" => (HashSet<string>)[],
            "tab" => SameTab(),
            "dashboard" => All(),
            "group" => made.Dashboard.Tiles.Where(t => t.Group == driver.Group).Select(t => t.Name).ToHashSet(),
            _ => driver.Drives.Tiles.ToHashSet(),
        };
        HashSet<string> SameTab() => tabs.Where(t => Stands(driver.Name, t)).SelectMany(t => t.Tiles).Select(t => t.Tile.Name).ToHashSet();
        HashSet<string> All() => tabs.SelectMany(t => t.Tiles).Select(t => t.Tile.Name).ToHashSet();
        // A group as a whole reaches what stands outside of it, unless the tile drives nothing at all.
        if (driver.Group is { } own && driver.Drives.Kind != "none")
        {
            var group = made.Dashboard.Tabs.SelectMany(t => t.Groups).First(g => g.Name == own);
            var outward = group.Drives.Kind switch
            {
                "none" => [],
                "tab" => SameTab(),
                "dashboard" => All(),
                _ => group.Drives.Tiles.ToHashSet(),
            };
            reached = [.. reached, .. outward.Where(o => made.Dashboard.Tiles.First(t => t.Name == o).Group != own)];
        }
        var followed = follower.Follows.Kind switch
        {
            "none" => [],
            "all" => made.Dashboard.Tiles.Select(t => t.Name).ToHashSet(),
            _ => follower.Follows.Tiles.ToHashSet(),
        };
        if (!reached.Contains(follower.Name) || !followed.Contains(driver.Name))
            return null;
        var selection = made.Selections.First(s => s.Tile == driver.Name);
        var used = (driver.Drill is { Drives: true } ? Drilling.Levels(driver).Take(selection.Path.Count) : [])
            .Concat(
                selection.IsEmpty ? []
                : selection.Path.Count == 0 ? driver.By
                : [driver.Drill!.To[selection.Path.Count - 1]]
            )
            .ToList();
        if (driver.Dataset == follower.Dataset)
            return used;
        var fields = new List<FieldAt>();
        foreach (var by in used)
        {
            var name = (driver.Dataset, by.Field) switch
            {
                ("d", "kind") => "sort",
                ("d", "at") => "day",
                ("e", "sort") => "kind",
                ("e", "day") => "at",
                _ => null,
            };
            if (name is null)
                return null;
            fields.Add(new FieldAt(name, by.Member));
        }
        return fields;
    }

    /// <summary>Pages decide by themselves which tiles to ask again; both sides are held to one file.</summary>
    [Fact]
    public void A_tile_is_reached_as_the_console_says_too()
    {
        var template = Testing
            .Definitions.Read(
                Testing.Definitions.Files(
                    "dataset: d\nsource: s\nfrom: t\nfields: { a: { column: a } }\n",
                    "roles:\n  all: { reads: { d: all } }\n",
                    (
                        "dashboards/x.yaml",
                        "dashboard: x\ntabs:\n  - tab: one\n    tiles:\n      - { tile: t, picture: list, dataset: d, by: a, place: { column: 0, "
                            + "row: 0, width: 1, height: 1 } }\n"
                    )
                )
            )
            .Dashboards["x"]
            .Tiles.Single();
        static Reach Reach(System.Text.Json.JsonElement of, string kind, string tiles) =>
            new(of.GetProperty(kind).GetString()!, [.. of.GetProperty(tiles).EnumerateArray().Select(t => t.GetString()!)]);
        foreach (
            var c in System
                .Text.Json.JsonDocument.Parse(File.ReadAllText(Path.Combine(Testing.Repository.Root, "tests", "wiring-cases.json")))
                .RootElement.EnumerateArray()
        )
        {
            var driver = template with
            {
                Name = "d",
                Drives = Reach(c, "drives", "drivesTiles"),
                Group = c.GetProperty("driverGroup").GetString(),
            };
            var follower = template with
            {
                Name = "f",
                Follows = Reach(c, "follows", "followsTiles"),
                Group = c.GetProperty("followerGroup").GetString(),
            };
            var groups = new[] { "g", "h" }
                .Select(g => new TileGroup(g, g, g == driver.Group ? Reach(c, "groupDrives", "groupDrivesTiles") : new Reach("none", [])))
                .ToList();
            var dashboard = new Dashboard("x", "X", null, [new Tab("one", "One", [driver]) { Groups = groups }]);
            var tabs = new Dictionary<string, string> { ["d"] = "one", ["f"] = c.GetProperty("tab").GetString()! };
            (Wiring.Refusal(driver, follower, dashboard, tabs) is null).ShouldBe(c.GetProperty("filters").GetBoolean(), c.GetRawText());
        }
    }

    [Fact]
    public void What_filters_each_tile_is_what_the_rules_say() =>
        Gen.Int.Sample(
            seed =>
            {
                var random = new Random(seed);
                var made = Make(random);
                foreach (var follower in made.Dashboard.Tiles)
                {
                    var filters = Wiring.FiltersOf(
                        follower,
                        made.Dashboard,
                        made.Arrangement,
                        made.Selections,
                        made.Scopes,
                        DayOfWeek.Monday
                    );
                    bool Counts(Selection s) =>
                        !s.IsEmpty || (s.Path.Count > 0 && made.Dashboard.Tiles.First(t => t.Name == s.Tile).Drill is { Drives: true });
                    var expected = made
                        .Selections.Where(Counts)
                        .Select(s => (s.Tile, Fields: Oracle(made, made.Dashboard.Tiles.First(t => t.Name == s.Tile), follower)))
                        .ToList();
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
                            var selection = filter.Selection;
                            var steps = driver.Drill is { Drives: true } ? selection.Path.Count : 0;
                            var values = filter.Fields.Select(f => Key(Fields.At(f, made.Scopes[follower.Dataset!])!, row)).ToList();
                            var member = values.Skip(steps).ToList();
                            bool In(IReadOnlyList<IReadOnlyList<object?>> list) =>
                                list.Any(m => m.Zip(member).All(v => IsSame(v.First, v.Second)));
                            var raw = selection.Range is null ? null : row[filter.Fields[^1].Field];
                            var meets =
                                selection.IsEmpty
                                || (
                                    (
                                        In(selection.Members)
                                        || (selection.RestOf is { } shown && !In(shown))
                                        || (selection.Range is { } range && Within(range, raw))
                                    ) != selection.Excludes
                                );
                            meets &= values.Take(steps).Zip(selection.Path).All(v => IsSame(v.Second, v.First));
                            (Evaluator.Value(filter.Condition, c => row[c.Name]) is true).ShouldBe(
                                meets,
                                $"{driver.Name} on {follower.Name}: {JsonSerializer.Serialize(row)} {JsonSerializer.Serialize(selection)} "
                                    + $"{string.Join(", ", filter.Fields)}"
                            );
                        }
                    }
                }
            },
            iter: 6_000,
            print: s => $"seed {s}"
        );

    /// <summary>A picked day is every instant of it; a picked instant is a day only at its beginning.</summary>
    private static bool IsSame(object? picked, object? value) =>
        (picked, value) switch
        {
            (DateOnly day, DateTime at) => DateOnly.FromDateTime(at) == day,
            (DateTime at, DateOnly day) => at == day.ToDateTime(TimeOnly.MinValue),
            _ => Equals(picked, value),
        };

    /// <summary>Dates from the start to before the end; numbers with both ends.</summary>
    private static bool Within(PickedRange range, object? value)
    {
        if (value is null)
            return false;
        if (value is long number)
            return (range.From is not long from || number >= from) && (range.To is not long to || number <= to);
        var at = value is DateOnly day ? day.ToDateTime(TimeOnly.MinValue) : (DateTime)value;
        return (range.From is not DateTime start || at >= start) && (range.To is not DateTime end || at < end);
    }

    [Fact]
    public void A_selection_of_a_wrong_form_is_refused_with_a_code()
    {
        var made = Make(new Random(1));
        var tile = made.Dashboard.Tiles.First(t => t is { Dataset: "d", By.Count: 1 }) with { By = [new FieldAt("size", null)] };
        string Code(string json, Pick pick = Pick.Many) =>
            SelectionReader
                .Read(
                    tile with
                    {
                        Pick = pick,
                    },
                    made.Scopes["d"],
                    JsonDocument.Parse(json).RootElement,
                    new DateTime(2024, 3, 5),
                    DayOfWeek.Monday
                )
                .Fault?.Code
            ?? "";
        Code("""{"members": [[1], [null]]}""").ShouldBe("");
        Code("""{"members": [["x"]]}""").ShouldBe("wrong-type");
        Code("""{"members": [[1.5]]}""").ShouldBe("wrong-type");
        Code("""{"members": [[1, 2]]}""").ShouldBe("bad-selection");
        Code("""{"members": 7}""").ShouldBe("bad-selection");
        Code("""{"membres": []}""").ShouldBe("bad-selection");
        Code("[]").ShouldBe("bad-selection");
        Code("""{"members": [[1], [2]]}""", Pick.One).ShouldBe("one-member-only");
        Code("""{"members": [[1]]}""", Pick.None).ShouldBe("not-pickable");
        Code("""{"range": {"from": 1, "to": 3}}""", Pick.Range).ShouldBe("");
        Code("""{"range": {"from": 1, "to": 3}}""").ShouldBe("bad-selection");
        Code("""{"range": {"from": 3, "to": 1}}""", Pick.Range).ShouldBe("bad-selection");
        Code("""{"range": {}}""", Pick.Range).ShouldBe("bad-selection");
        Code("""{"range": {"from": "x"}}""", Pick.Range).ShouldBe("wrong-type");
        Code("""{"period": "last 7 days"}""", Pick.Range).ShouldBe("bad-selection");
        Code("""{"contains": "x"}""").ShouldBe("bad-selection");
        Code("""{"path": [1, 2, 3, 4]}""").ShouldBe("bad-selection");
        Code($$"""{"members": [{{string.Join(',', Enumerable.Repeat("[1]", Selection.MaximumMembers + 1))}}]}""")
            .ShouldBe("too-many-members");
    }
}
