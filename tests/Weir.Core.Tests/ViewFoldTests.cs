using CsCheck;
using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Views;

namespace Weir.Core.Tests;

/// <summary>Personal views of random dashboards with areas, sections, columns, fixed parts and catalogues, published anew meanwhile.</summary>
public class ViewFoldTests
{
    private const string Data = """
        dataset: d
        source: s
        from: t
        fields:
          day: { column: t.day, type: date }
          port: { column: t.port }
          boat: { column: t.boat }
          size: { column: t.size, type: integer }
        measures:
          income: { formula: "sum(size)" }
          rows: { formula: "count(*)" }
          fuel: { formula: "max(size)" }
        """;

    private const string Roles = """
        roles:
          all: { reads: { d: all } }
          some: { reads: { d: { hides: [fuel, boat] } } }
        """;

    private static readonly string[] TabNames = ["a", "b", "c"];
    private static readonly string[] OwnTabs = ["own-1", "own-2"];
    private static readonly string[] TileNames = ["t1", "t2", "t3", "t4", "t5", "t6"];
    private static readonly string[] OwnTiles = ["own-x", "own-y", "own-z"];

    private static T One<T>(Random random, params IReadOnlyList<T> of) => of[random.Next(of.Count)];

    /// <summary>A dashboard as text, so that whatever it has is what a developer can write.</summary>
    private static string Written(Random random)
    {
        var yaml = new System.Text.StringBuilder("dashboard: x\n");
        var hasAreas = random.Next(2) == 0;
        if (hasAreas)
            yaml.Append("areas: [{ area: one }, { area: two }]\n");
        if (random.Next(5) == 0)
            yaml.Append($"viewers_may: {One(random, "all", "none", "[move, hide]", "[tabs, add]")}\n");
        yaml.Append("tabs:\n");
        var tiles = TileNames.Where(_ => random.Next(4) > 0).OrderBy(_ => random.Next()).ToList();
        if (tiles.Count == 0)
            tiles.Add("t1");
        var tabs = TabNames.Take(random.Next(1, 4)).ToList();
        for (var i = 0; i < tabs.Count; i++)
        {
            yaml.Append($"  - tab: {tabs[i]}\n");
            if (hasAreas)
                yaml.Append($"    area: {One(random, "one", "two")}\n");
            if (random.Next(6) == 0)
                yaml.Append("    fixed: true\n");
            var columns = random.Next(3) == 0;
            if (columns)
                yaml.Append($"    columns: {One(random, 1, 2, 3)}\n");
            var sections = random.Next(2) == 0;
            if (sections)
                yaml.Append(
                    $"    sections: [{{ section: s1, opens: folded }}, {{ section: s2, columns: 2{(random.Next(4) == 0 ? ", fixed: true" : "")} }}]\n"
                );
            yaml.Append("    tiles:\n");
            var row = 0;
            foreach (var tile in tiles.Where((_, n) => n % tabs.Count == i).DefaultIfEmpty($"{tabs[i]}-words"))
            {
                var section = sections ? One(random, null, "s1", "s2") : null;
                var flows = section == "s2" || section is null && columns;
                var height = random.Next(1, 5);
                yaml.Append($"      - tile: {tile}\n        dataset: d\n        picture: bar\n        by: {One(random, "port", "boat")}\n");
                yaml.Append($"        show: {One(random, "income", "rows", "[income, fuel]")}\n");
                yaml.Append(section is null ? "" : $"        section: {section}\n");
                yaml.Append(random.Next(8) == 0 ? "        fixed: true\n" : "");
                yaml.Append(
                    flows
                        ? $"        place: {{ height: {height} }}\n"
                        : $"        place: {{ column: {random.Next(0, 7)}, row: {row}, width: {random.Next(1, 7)}, height: {height} }}\n"
                );
                row += flows ? 0 : height + random.Next(2);
            }
        }
        return yaml.ToString();
    }

    private static readonly System.Collections.Concurrent.ConcurrentDictionary<(int, string, bool), Made> Known = new();

    /// <summary>A dashboard as somebody has it, and as it is written.</summary>
    private sealed record Made(Dashboard Dashboard, IReadOnlyDictionary<string, Scope> Scopes, Dictionary<string, string> Files)
    {
        public ViewFold Fold => new(Dashboard) { Makeable = Scopes };
    }

    /// <summary>One of some hundred dashboards, as somebody has it: reading text takes longer than all that is done with it.</summary>
    private static Made Some(Random random, string role, bool hasCatalogue) =>
        Known.GetOrAdd((random.Next(300), role, hasCatalogue), k => Make(Written(new Random(k.Item1)), k.Item2, k.Item3));

    private static Made Make(string written, string role, bool hasCatalogue)
    {
        var files = Testing.Definitions.Files(
            Data,
            Roles,
            ("dashboards/x.yaml", written),
            (
                "catalogues/k.yaml",
                "catalogue: k\ntiles:\n  - { tile: a, picture: bar, dataset: d, show: income, by: port }\n"
                    + "  - { tile: b, picture: number, dataset: d, show: fuel }\n"
            )
        );
        var workspace = Testing.Definitions.Read(files);
        var scope = Scope.For(Testing.Definitions.Viewer(role), "d", workspace, Viewing.At(default))!;
        Dashboard Seen(Dashboard d) =>
            d with
            {
                Tabs =
                [
                    .. d
                        .Tabs.Select(t => t with { Tiles = [.. t.Tiles.Select(x => Fields.Visible(x, scope)).OfType<Tile>()] })
                        .Where(t => t.Tiles.Count > 0),
                ],
                Catalogues = hasCatalogue
                    ?
                    [
                        .. workspace.Catalogues.Values.Select(c =>
                            c with
                            {
                                Tiles = [.. c.Tiles.Select(x => Fields.Visible(x, scope)).OfType<Tile>()],
                            }
                        ),
                    ]
                    : [],
            };
        return new Made(Seen(workspace.Dashboards["x"]), new Dictionary<string, Scope> { ["d"] = scope }, files);
    }

    private static ViewEdit Edit(Random random)
    {
        string Tab() => One(random, [.. TabNames, .. OwnTabs, "gone"]);
        string Tile() => One(random, [.. TileNames, .. OwnTiles, "gone"]);
        Place Place() => new(random.Next(-1, 12), random.Next(0, 8), random.Next(1, 8), random.Next(1, 5));
        return random.Next(23) switch
        {
            0 or 1 => new ViewEdit.MoveToTab(Tile(), Tab(), One(random, null, null, "s1", "s2")),
            2 => new ViewEdit.HideTile(Tile()),
            3 => new ViewEdit.ShowTile(Tile()),
            4 => new ViewEdit.AddTab(One(random, OwnTabs), "T", One(random, null, "one", "nowhere")),
            5 => new ViewEdit.RemoveTab(One(random, OwnTabs)),
            6 => new ViewEdit.HideTab(Tab()),
            7 => new ViewEdit.ShowTab(Tab()),
            8 => new ViewEdit.RenameTab(Tab(), new string('t', random.Next(3))),
            9 => new ViewEdit.OrderTabs([.. Enumerable.Range(0, random.Next(1, 5)).Select(_ => Tab())]),
            10 or 11 => new ViewEdit.PlaceTiles(Tab(), [new TilePlace(Tile(), Place())]),
            12 => new ViewEdit.SetColumns(Tab(), One(random, 1, 2, 3, 4, 5), One(random, null, "s1", "s2")),
            13 or 14 => new ViewEdit.AddTile(
                One(random, OwnTiles),
                One(random, "k/a", "k/b", "k/gone"),
                Tab(),
                null,
                random.Next(2) == 0 ? null : Place()
            ),
            15 => new ViewEdit.CopyTile(Tile(), One(random, OwnTiles), Tab()),
            16 => new ViewEdit.RemoveTile(One(random, OwnTiles)),
            17 => new ViewEdit.CopyTab(Tab(), One(random, OwnTabs), "Copy"),
            18 => new ViewEdit.Draw(
                Tile(),
                One<Drawing?>(random, null, new Drawing(Picture: "table"), new Drawing(Show: ["fuel"]), new Drawing(By: ["boat"]))
            ),
            19 => random.Next(3) == 0 ? new ViewEdit.Clear(One(random, OwnTabs), "Mine") : new ViewEdit.TakePublished(Tile()),
            20 => new ViewEdit.MakeTile(
                One(random, OwnTiles),
                One(random, "d", "d", "gone"),
                One(
                    random,
                    new Drawing(Picture: "bar", Show: ["income"], By: ["port"]),
                    new Drawing(Picture: "number", Show: ["fuel"]),
                    new Drawing(Picture: "bar", Show: ["income"]),
                    new Drawing(Picture: "map", Show: ["income"], By: ["port"])
                ),
                Tab(),
                null,
                random.Next(2) == 0 ? null : Place()
            ),
            21 => new ViewEdit.SetTable(
                Tile(),
                One<TableColumns?>(
                    random,
                    null,
                    new TableColumns(Order: ["income", "port"]),
                    new TableColumns(Hidden: ["fuel"], Widths: [new("fuel", 90), new("port", 120)]),
                    new TableColumns(Pinned: ["boat", "day.month"], Sorted: [new("fuel", true), new("boat")]),
                    new TableColumns(
                        Sorted: [new("fuel", false, "Skerrin")],
                        Filters: [new("port", Among: ["Skerrin"]), new("fuel", Least: 2.5)]
                    )
                )
            ),
            _ => random.Next(3) == 0 ? new ViewEdit.Reset(random.Next(2) == 0) : new ViewEdit.RetitleTile(Tile(), "Mine"),
        };
    }

    [Fact]
    public void Whatever_is_edited_and_published_no_tile_is_lost_doubled_or_covered_and_nothing_happens_that_is_not_allowed() =>
        Gen.Int[0, int.MaxValue]
            .Sample(
                seed =>
                {
                    var random = new Random(seed);
                    var (role, hasCatalogue) = (One(random, "all", "some"), random.Next(2) == 0);
                    var first = Some(random, role, hasCatalogue);
                    // Two windows: what each sends is in order, between one another in any.
                    var (one, two) = (new Queue<ViewEdit>(), new Queue<ViewEdit>());
                    for (var i = random.Next(25); i > 0; i--)
                        (random.Next(2) == 0 ? one : two).Enqueue(Edit(random));
                    var log = new List<ViewEdit>();
                    var fold = first.Fold;
                    var now = fold.Opening;
                    while (one.Count + two.Count > 0)
                    {
                        var edit = (two.Count == 0 || one.Count > 0 && random.Next(2) == 0 ? one : two).Dequeue();
                        var (next, reason) = fold.Apply(now, edit);
                        Allowed(now, next);
                        EditWords.Of(edit, now, t => t).ShouldNotBeNullOrWhiteSpace();
                        if (reason is not null)
                            continue;
                        log.Add(edit);
                        now = next;
                        Whole(now, first.Dashboard);
                    }
                    // What the service refused is not in the log: the fold of it is what both windows saw.
                    PersonalView.Apply(fold, log).Dropped.ShouldBeEmpty();
                    Same(now, PersonalView.Apply(fold, log).Arrangement);
                    // Promoted, as text and back: whoever has no edits finds what the viewer had.
                    if (seed % 5 == 0 && role == "all" && hasCatalogue && !log.Any(e => e is ViewEdit.MakeTile))
                        IsPromoted(first, fold, log, now, random);
                    // Published anew: tiles and tabs come, go, are fixed or moved; the catalogue may be gone.
                    var newer = Some(random, role, random.Next(2) == 0);
                    var (rebased, dropped) = PersonalView.Apply(newer.Fold, log);
                    Whole(rebased, newer.Dashboard);
                    dropped.All(d => d.Reason.Length > 0).ShouldBeTrue();
                    Stays(rebased, newer.Dashboard);
                    // Somebody else with other rights: nothing of what is left names what they may not see.
                    var other = Some(random, "some", random.Next(2) == 0);
                    var fitting = PersonalView.Fitting(other.Fold, other.Scopes, log);
                    var (theirs, none) = PersonalView.Apply(other.Fold, fitting);
                    none.ShouldBeEmpty();
                    Whole(theirs, other.Dashboard);
                    DrawnView.Of(theirs, other.Scopes, new Dictionary<string, Drawing>()).Refused.ShouldBeEmpty();
                    System.Text.Json.JsonSerializer.Serialize(fitting).ShouldNotContain("fuel");
                },
                iter: 10_000
            );

    private static void IsPromoted(Made made, ViewFold fold, IReadOnlyList<ViewEdit> log, Arrangement now, Random random)
    {
        var promoted = Promote("p", made, [], log);
        Found(made, promoted, now, "p-");
        // Who edits on top of it and promotes that has both.
        var second = fold.As(PromotedView.LayersOf(promoted), made.Scopes);
        var (then, more) = (second.Opening, new List<ViewEdit>());
        for (var i = random.Next(8); i > 0; i--)
            if (Edit(random) is var edit and not ViewEdit.MakeTile && second.Apply(then, edit) is (var next, null))
            {
                more.Add(edit);
                then = next;
            }
        Found(made, Promote("q", made, PromotedView.LayersOf(promoted), more), then, "q-");
    }

    private static OpeningView Promote(string name, Made made, IReadOnlyList<IReadOnlyList<ViewEdit>> before, IReadOnlyList<ViewEdit> log)
    {
        var layers = PromotedView.Promoted(name, new ViewFold(made.Dashboard), made.Scopes, before, log);
        var text = PromotedView.Text(name, "x", [], layers);
        return Testing.Definitions.Read(new Dictionary<string, string>(made.Files) { ["openings/p.yaml"] = text }).OpeningViews.Single();
    }

    private static void Found(Made made, OpeningView view, Arrangement now, string prefix)
    {
        var found = new ViewFold(made.Dashboard).As(PromotedView.LayersOf(view), made.Scopes).Opening;
        string Standing(Arrangement a) =>
            string.Join(
                '\n',
                a.Tabs.Select(t =>
                    $"{t.Name} {t.Title} {t.Hidden} {t.Area}: {string.Join("; ", t.Tiles.Select(x => $"{x.Tile.Name} {x.Place} {x.Hidden} {x.Section} {Table(x.Columns)}"))}"
                )
            );
        // What may name members is nobody's but whoever said it.
        string Table(TableColumns? columns) =>
            columns?.WithoutMembers is { IsEmpty: false } told ? System.Text.Json.JsonSerializer.Serialize(told) : "";
        found.Tiles.ShouldAllBe(t => t.Columns == null || TableColumns.AreAlike(t.Columns, t.Columns.WithoutMembers));
        Standing(found).ShouldBe(Standing(now).Replace("own-", prefix));
        found.Tiles.Any(t => t.Own).ShouldBeFalse("what was added is part of it");
    }

    private static void Same(Arrangement one, Arrangement other) =>
        System.Text.Json.JsonSerializer.Serialize(Flat(one)).ShouldBe(System.Text.Json.JsonSerializer.Serialize(Flat(other)));

    private static object Flat(Arrangement a) =>
        a.Tabs.Select(t => new
        {
            t.Name,
            t.Title,
            t.Hidden,
            t.Area,
            t.Columns,
            Tiles = t.Tiles.Select(x => new
            {
                x.Tile.Name,
                x.Place,
                x.Hidden,
                x.Section,
                x.Drawing,
                x.Title,
                x.Columns,
            }),
        });

    /// <summary>Every tile of the developer's once, own ones besides, each in the grid and none over another; one tab at least is shown.</summary>
    private static void Whole(Arrangement arrangement, Dashboard dashboard)
    {
        var names = arrangement.Tiles.Select(t => t.Tile.Name).ToList();
        names.Distinct().Count().ShouldBe(names.Count, "no tile twice");
        arrangement.Tiles.Where(t => !t.Own).Select(t => t.Tile.Name).Order().ShouldBe(dashboard.Tiles.Select(t => t.Name).Order());
        arrangement.Tabs.Select(t => t.Name).Distinct().Count().ShouldBe(arrangement.Tabs.Count);
        if (dashboard.Tabs.Count > 0)
            arrangement.Tabs.Any(t => !t.Hidden).ShouldBeTrue();
        foreach (var tab in arrangement.Tabs)
        {
            tab.Tiles.All(t => t.Section == null || tab.Sections.Any(s => s.Name == t.Section)).ShouldBeTrue();
            foreach (var tile in tab.Tiles.Where(t => !t.Hidden))
            {
                (tile.Place.Column >= 0 && tile.Place.Column + tile.Place.Width <= 12).ShouldBeTrue();
                tab.Tiles.Any(t => !t.Hidden && t != tile && t.Section == tile.Section && t.Place.Overlaps(tile.Place)).ShouldBeFalse();
            }
        }
    }

    /// <summary>What a developer fixed is where it was, before and after an edit.</summary>
    private static void Allowed(Arrangement before, Arrangement after)
    {
        var now = after.Tabs.SelectMany(t => t.Tiles.Select(x => (Tab: t.Name, Tile: x))).ToDictionary(x => x.Tile.Tile.Name);
        foreach (var tab in before.Tabs)
        foreach (var tile in tab.Tiles.Where(t => !t.Own))
        {
            var (on, then) = now[tile.Tile.Name];
            if (!tile.May.HasFlag(Changes.Move))
                (on, then.Place, then.Section, then.Columns).ShouldBe((tab.Name, tile.Place, tile.Section, tile.Columns));
            if (!tile.May.HasFlag(Changes.Hide))
                (then.Hidden || after.Tabs.First(t => t.Name == on) is { Own: false, Hidden: true }).ShouldBeFalse();
            if (!tile.May.HasFlag(Changes.Draw))
                then.Drawing.ShouldBeNull();
        }
        if (!before.May.HasFlag(Changes.Add))
            after.Tiles.Any(t => t.Own).ShouldBeFalse();
        if (!before.May.HasFlag(Changes.Tabs))
            after.Tabs.Any(t => t.Own).ShouldBeFalse();
    }

    /// <summary>On a newer dashboard, too, what it fixes stands where it has it.</summary>
    private static void Stays(Arrangement arrangement, Dashboard dashboard)
    {
        var opening = Arrangement.Opening(dashboard);
        foreach (var tile in opening.Tiles.Where(t => !t.May.HasFlag(Changes.Move)))
            arrangement.Tiles.Single(t => t.Tile.Name == tile.Tile.Name).Place.ShouldBe(tile.Place);
    }
}
