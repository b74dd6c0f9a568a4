using Shouldly;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Core.Interaction;
using Weir.Core.Views;
using Weir.Testing;

namespace Weir.Core.Tests;

/// <summary>Arranging by hand, written into the text: what is read from it stands where the same edit puts it in a view.</summary>
public class LaidOutTests
{
    private static Dictionary<string, string> Files { get; } =
        Directory
            .EnumerateFiles(Path.Combine(Repository.Root, "demo", "lantern-isles"), "*", SearchOption.AllDirectories)
            .Where(f => Path.GetExtension(f) is ".yaml" or ".svg" or ".geojson" && !f.Contains("/openings/"))
            .ToDictionary(f => Path.GetRelativePath(Path.Combine(Repository.Root, "demo", "lantern-isles"), f), File.ReadAllText);

    [Theory]
    [InlineData("tickets")]
    [InlineData("bridge")]
    [InlineData("network")]
    public void What_is_read_stands_where_the_edit_puts_it(string name)
    {
        var random = new Random(11);
        var path = $"dashboards/{name}.yaml";
        var writer = new DesignText(WorkspaceText.Shapes.Dashboard);
        var (files, made, comments) = (new Dictionary<string, string>(Files), 0, Comments(Files[path]));
        for (var i = 0; i < 120; i++)
        {
            var (workspace, faults) = WorkspaceText.Read(files);
            workspace.ShouldNotBeNull(string.Join("\n", faults.Where(f => f.Severity == Severity.Error)));
            var dashboard = workspace.Dashboards[name];
            var fold = new ViewFold(LaidOut.Freed(dashboard));
            var now = fold.Opening;
            var edit = Edit(now, random);
            IReadOnlyList<DesignStep> steps;
            try
            {
                steps = LaidOut.StepsOf(dashboard, DesignText.Said(files[path])!, edit);
            }
            catch (DesignException)
            {
                continue;
            }
            files[path] = writer.Apply(files[path], steps);
            made++;
            var (read, after) = WorkspaceText.Read(files);
            read.ShouldNotBeNull($"{edit}\n{string.Join("\n", after.Where(f => f.Severity == Severity.Error))}\n{files[path]}");
            var there = Arrangement.Opening(read.Dashboards[name]);
            var meant = fold.Apply(now, edit).Arrangement;
            there.Tabs.Select(t => (t.Name, t.Title, t.Columns)).ShouldBe(meant.Tabs.Select(t => (t.Name, t.Title, t.Columns)), $"{edit}");
            foreach (var (tab, wanted) in there.Tabs.Zip(meant.Tabs))
            {
                tab.Tiles.Select(t => $"{t.Tile.Name} in {t.Section}")
                    .ShouldBe(wanted.Tiles.Select(t => $"{t.Tile.Name} in {t.Section}"), ignoreOrder: true, $"{edit}");
                foreach (var tile in tab.Tiles.Where(t => !t.Tile.IsInPanel))
                {
                    var place = wanted.Tiles.First(t => t.Tile.Name == tile.Tile.Name).Place;
                    // What flows keeps to its columns, as near as that can be.
                    if (
                        wanted.Sections.FirstOrDefault(s => s.Name == tile.Section)?.Columns is null
                        && (tile.Section is not null || tab.Columns is null)
                    )
                        tile.Place.ShouldBe(place, $"{edit}: {tile.Tile.Name}\n{files[path]}");
                    else
                        tile.Place.Height.ShouldBe(place.Height, $"{edit}: {tile.Tile.Name}\n{files[path]}");
                }
            }
            Comments(files[path]).ShouldBe(comments, ignoreOrder: true);
        }
        made.ShouldBeGreaterThan(80);
    }

    [Fact]
    public void What_flowed_gets_the_places_that_it_has_and_what_has_places_keeps_them()
    {
        var dashboard = WorkspaceText.Read(Files).Workspace!.Dashboards["bridge"];
        var text = Files["dashboards/bridge.yaml"];
        var said = DesignText.Said(text)!;
        var freed = new DesignText(WorkspaceText.Shapes.Dashboard).Apply(
            text,
            LaidOut.StepsOf(dashboard, said, new ViewEdit.SetColumns("watch", 0, "where"))
        );
        freed.ShouldContain("- { section: where, title: Where and when }");
        freed.ShouldContain("title: Late by month, place: { column: 6, row: 0, width: 6, height: 4 } }");
        var read = WorkspaceText
            .Read(new Dictionary<string, string>(Files) { ["dashboards/bridge.yaml"] = freed })
            .Workspace.ShouldNotBeNull();
        Arrangement
            .Opening(read.Dashboards["bridge"])
            .Tiles.Select(t => (t.Tile.Name, t.Place))
            .ShouldBe(Arrangement.Opening(dashboard).Tiles.Select(t => (t.Tile.Name, t.Place)));
        LaidOut.StepsOf(dashboard, said, new ViewEdit.SetColumns("hours", 0)).ShouldBeEmpty();
    }

    private static List<string> Comments(string text) =>
        [.. text.Split('\n').Where(l => l.Contains(" # ")).Select(l => l[l.IndexOf(" # ", StringComparison.Ordinal)..])];

    private static ViewEdit Edit(Arrangement now, Random random)
    {
        T One<T>(IReadOnlyList<T> of) => of[random.Next(of.Count)];
        var tab = One(now.Tabs);
        var tile = One(now.Tiles.ToList());
        var to = One(now.Tabs);
        string? Section(ArrangedTab t) => t.Sections.Count > 0 && random.Next(3) > 0 ? One(t.Sections).Name : null;
        var width = random.Next(2, 9);
        return random.Next(8) switch
        {
            0 => new ViewEdit.MoveToTab(tile.Tile.Name, to.Name, Section(to)),
            1 => new ViewEdit.RenameTab(tab.Name, One(["Other", "All: of it", "It's \"so\" #now"])),
            2 => new ViewEdit.OrderTabs([.. now.Tabs.Select(t => t.Name).OrderBy(_ => random.Next())]),
            3 => new ViewEdit.SetColumns(tab.Name, One(Columns.Numbers), Section(tab)),
            _ => new ViewEdit.PlaceTiles(
                now.TabOf()[tile.Tile.Name],
                [new TilePlace(tile.Tile.Name, new Place(random.Next(0, 13 - width), random.Next(0, 12), width, random.Next(1, 6)))]
            ),
        };
    }
}
