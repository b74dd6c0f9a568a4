using CsCheck;
using Shouldly;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Views;

namespace Weir.Core.Tests;

public class PersonalViewTests
{
    private static Dashboard Dashboard(params string[] tabs) =>
        new(
            "x",
            "X",
            null,
            [.. tabs.Select(t => t.Split(':')).Select(t => new Tab(t[0], t[0], [.. t[1].Split(',').Select((n, i) => Tile(n, i))]))]
        );

    private static Tile Tile(string name, int row) =>
        new(
            name,
            Pictures.PictureKinds.All[^1],
            null,
            null,
            null,
            [],
            [],
            null,
            null,
            null,
            null,
            false,
            "x",
            Pick.None,
            new Reach("tab", []),
            new Reach("all", []),
            new Place(0, row * 2, 4, 2)
        );

    private static readonly Dashboard Published = Dashboard("one:a,b", "two:c");

    private static Arrangement Apply(params ViewEdit[] edits)
    {
        var (arrangement, dropped) = PersonalView.Apply(Published, edits);
        dropped.ShouldBeEmpty();
        return arrangement;
    }

    [Fact]
    public void A_moved_tile_stands_below_what_is_there_and_only_there()
    {
        var after = Apply(new ViewEdit.MoveToTab("c", "one"));
        after.Tabs[0].Tiles.Select(t => t.Tile.Name).ShouldBe(["a", "b", "c"]);
        after.Tabs[0].Tiles[2].Place.Row.ShouldBe(4);
        after.Tabs[1].Tiles.ShouldBeEmpty();
    }

    [Fact]
    public void What_stands_in_the_side_panel_has_no_place_and_takes_none()
    {
        var published = Published with
        {
            Tabs =
            [
                Published.Tabs[0] with
                {
                    Tiles = [Tile("panel", 0) with { IsInPanel = true }, .. Published.Tabs[0].Tiles],
                },
                Published.Tabs[1],
            ],
        };
        var (after, dropped) = PersonalView.Apply(
            published,
            [
                new ViewEdit.PlaceTiles("one", [new TilePlace("panel", new Place(4, 0, 4, 2))]),
                new ViewEdit.MoveToTab("c", "one"),
                new ViewEdit.MoveToTab("panel", "two"),
            ]
        );
        dropped.ShouldHaveSingleItem().Reason.ShouldContain("side panel");
        after.Tabs[0].Tiles.Select(t => (t.Tile.Name, t.Place.Row)).ShouldBe([("a", 0), ("b", 2), ("c", 4)]);
        after.Tabs[1].Tiles.Single().Tile.Name.ShouldBe("panel");
    }

    [Fact]
    public void What_is_kept_is_the_last_that_was_kept_since_the_last_reset()
    {
        ViewEdit.KeepPicks Keep(string? tile) =>
            new(tile is null ? null : new Dictionary<string, System.Text.Json.JsonElement> { [tile] = default }, null);
        string? Kept(params ViewEdit[] edits) => PersonalView.Kept(Published, edits)?.Selections!.Single().Key;
        Kept().ShouldBeNull();
        Kept(Keep("a"), new ViewEdit.HideTile("b"), Keep("b"), new ViewEdit.HideTile("c")).ShouldBe("b");
        Kept(Keep("a"), Keep(null)).ShouldBeNull("it was forgotten");
        Kept(Keep("a"), new ViewEdit.Reset()).ShouldBeNull("back to the opening view");
        Kept(Keep("a"), new ViewEdit.Reset(), Keep("b")).ShouldBe("b");
        Apply(Keep("a")).Tiles.ShouldBe(Apply().Tiles, "where tiles stand is another matter");
    }

    [Fact]
    public void Tiles_give_way_to_one_that_is_moved_and_keep_their_place_from_one_that_comes_back()
    {
        ViewEdit.PlaceTiles Put(string tile, int row) => new("one", [new TilePlace(tile, new Place(0, row, 4, 2))]);
        int Row(Arrangement a, string tile) => a.Tiles.Single(t => t.Tile.Name == tile).Place.Row;
        var moved = Apply(Put("b", 1));
        (Row(moved, "b"), Row(moved, "a")).ShouldBe((1, 3));
        var back = Apply(new ViewEdit.HideTile("a"), Put("b", 0), new ViewEdit.ShowTile("a"));
        (Row(back, "b"), Row(back, "a")).ShouldBe((0, 2));
    }

    [Fact]
    public void When_an_own_tab_goes_its_tiles_go_home()
    {
        var after = Apply(new ViewEdit.AddTab("mine", "Mine"), new ViewEdit.MoveToTab("a", "mine"), new ViewEdit.RemoveTab("mine"));
        after.Tabs.Select(t => t.Name).ShouldBe(["one", "two"]);
        after.Tabs[0].Tiles.Select(t => t.Tile.Name).ShouldBe(["b", "a"]);
        after.Tabs[0].Tiles[1].Place.ShouldBe(new Place(0, 0, 4, 2));
    }

    [Fact]
    public void Only_own_tabs_can_be_removed_any_can_be_renamed_for_oneself()
    {
        PersonalView.Apply(Published, [new ViewEdit.RemoveTab("one")]).Dropped.Count.ShouldBe(1);
        Apply(new ViewEdit.RenameTab("one", "Uno")).Tabs[0].Title.ShouldBe("Uno");
        Apply(new ViewEdit.RenameTab("one", "Uno"), new ViewEdit.RenameTab("one", " ")).Tabs[0].Title.ShouldBe("one");
        PersonalView.Apply(Published, [new ViewEdit.AddTab("m", "M"), new ViewEdit.RenameTab("m", "")]).Dropped.Count.ShouldBe(1);
        Apply(new ViewEdit.AddTab("m", "M"), new ViewEdit.RenameTab("m", " Mine ")).Tabs[2].Title.ShouldBe("Mine");
    }

    [Fact]
    public void A_tab_is_hidden_and_shown_and_one_always_stays()
    {
        var hidden = Apply(new ViewEdit.HideTab("one"));
        hidden.Tabs.Select(t => t.Hidden).ShouldBe([true, false]);
        hidden.Tiles.Count().ShouldBe(3, "what stands on it is still there");
        Apply(new ViewEdit.HideTab("one"), new ViewEdit.ShowTab("one")).Tabs.ShouldAllBe(t => !t.Hidden);
        PersonalView.Apply(Published, [new ViewEdit.HideTab("one"), new ViewEdit.HideTab("two")]).Dropped.ShouldHaveSingleItem();
        // A newer dashboard has none but the tab that was hidden.
        PersonalView.Apply(Dashboard("one:a"), [new ViewEdit.HideTab("one")]).Arrangement.Tabs.Single().Hidden.ShouldBeFalse();
        var (own, dropped) = PersonalView.Apply(
            Dashboard("one:a"),
            [new ViewEdit.AddTab("m", "M"), new ViewEdit.HideTab("one"), new ViewEdit.RemoveTab("m")]
        );
        dropped.ShouldHaveSingleItem();
        own.Tabs.Count.ShouldBe(2);
    }

    [Fact]
    public void A_reset_leads_to_the_opening_view() =>
        Apply(new ViewEdit.HideTile("a"), new ViewEdit.OrderTabs(["two", "one"]), new ViewEdit.Reset())
            .ShouldBeEquivalentTo(Arrangement.Opening(Published));

    [Fact]
    public void On_a_newer_dashboard_what_is_gone_is_dropped_and_told_and_the_rest_stays()
    {
        ViewEdit[] edits =
        [
            new ViewEdit.HideTile("a"),
            new ViewEdit.HideTile("b"),
            new ViewEdit.MoveToTab("c", "one"),
            new ViewEdit.OrderTabs(["two", "one"]),
        ];
        var (after, dropped) = PersonalView.Apply(Dashboard("one:b,new", "three:d"), edits);
        after.Tiles.Single(t => t.Tile.Name == "b").Hidden.ShouldBeTrue();
        after.Tabs.Select(t => t.Name).ShouldBe(["one", "three"]);
        after.Tiles.ShouldContain(t => t.Tile.Name == "new");
        dropped.Count.ShouldBe(3);
        dropped[0].Reason.ShouldContain("a");
    }

    [Theory]
    [InlineData(-1, 0, 4, 2)]
    [InlineData(9, 0, 4, 2)]
    [InlineData(0, -1, 4, 2)]
    [InlineData(0, 0, 0, 2)]
    [InlineData(0, 100_000, 4, 2)]
    public void A_place_outside_the_grid_is_refused(int column, int row, int width, int height) =>
        PersonalView
            .Apply(Published, [new ViewEdit.PlaceTiles("one", [new TilePlace("a", new Place(column, row, width, height))])])
            .Dropped.Count.ShouldBe(1);
}
