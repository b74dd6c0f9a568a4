using Shouldly;
using Weir.Core.Designing;

namespace Weir.Core.Tests;

public sealed class TileChangesTests
{
    private const string Before = """
        dashboard: d
        title: One    # a remark
        tabs:
          - tab: first
            columns: 2
            tiles:
              - { tile: a, picture: number, show: x }
              - { tile: b, picture: bar, show: x, by: y }
              - { tile: c, picture: pie, show: x, by: y }
          - tab: second
            tiles:
              - { tile: placed, picture: number, show: x, place: { column: 1, row: 1, width: 2, height: 2 } }
              - { tile: gone, picture: number, show: x }
        """;

    private static IEnumerable<string> Told(string after)
    {
        var changes = TileChanges.Between(Before, after);
        return changes
            .Tiles.Select(t =>
                $"{t.Kind} {t.Tile} on {t.Tab}{(t.WasOn is { } w ? $" from {w}" : "")}{string.Concat(t.Keys.Select(k => " " + k))}"
            )
            .Concat(changes.Page);
    }

    [Fact]
    public void Texts_that_say_the_same_differ_in_nothing() =>
        Told(
                Before
                    .Replace("One    # a remark", "\"One\"")
                    .Replace("{ tile: a, picture: number, show: x }", "tile: a\n        show: x\n        picture: number")
            )
            .ShouldBeEmpty();

    [Theory]
    [InlineData("show: x, by: y }\n      - { tile: c", "show: x, by: z, sort: x }\n      - { tile: c", "Changed b on first by sort")]
    [InlineData("      - { tile: a, picture: number, show: x }\n", "", "Gone a on first")]
    [InlineData("width: 2, height", "width: 3, height", "Moved placed on second")]
    [InlineData("columns: 2", "columns: 3", "first/columns")]
    [InlineData("title: One", "title: Two", "title")]
    [InlineData(
        "  - tab: second\n",
        "  - tab: other\n",
        "Moved placed on other from second|Moved gone on other from second|other/tab|second/tab"
    )]
    [InlineData("      - { tile: gone", "      - { tile: new", "New new on second|Gone gone on second")]
    public void Each_change_is_told_as_what_it_is(string was, string now, string told)
    {
        Before.ShouldContain(was);
        Told(Before.Replace(was, now)).ShouldBe(told.Split('|'));
    }

    [Fact]
    public void Of_tiles_in_an_order_only_those_are_moved_that_others_do_not_keep_their_order_with()
    {
        const string A = "      - { tile: a, picture: number, show: x }\n";
        const string C = "      - { tile: c, picture: pie, show: x, by: y }\n";
        Told(Before.Replace(A, "").Replace(C, C + A)).ShouldBe(["Moved a on first"]);
    }
}
