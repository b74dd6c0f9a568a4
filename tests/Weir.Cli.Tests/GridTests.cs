using Weir.Commands;

namespace Weir.Cli.Tests;

/// <summary>Answers of commands as people and programs read them.</summary>
public sealed class GridTests
{
    private static readonly (string, bool)[] Columns = [("Route", false), ("Income", true)];

    [Fact]
    public void EachRowStandsOnALineOfItsOwnThatEndsWithItsLastLetter()
    {
        var grid = PlainGrid.Of(
            Columns,
            [
                ["Skerrin – Aldow", "1,204.50 €"],
                ["Hythe", ""],
            ],
            ["All", "1,204.50 €"]
        )!;
        var output = new StringWriter();

        grid.Write(output, bold: false);

        var rule = new string('─', grid.Width);
        Assert.Equal(
            ["  Route                Income", rule, "  Skerrin – Aldow  1,204.50 €", "  Hythe", rule, "  All              1,204.50 €"],
            output.ToString().TrimEnd().Split(Environment.NewLine)
        );
        Assert.Equal(31, grid.Width);
    }

    [Theory]
    [InlineData("two\nlines")]
    [InlineData("a\ttab")]
    [InlineData("\u001b[31mred")]
    [InlineData("渡船")]
    [InlineData("e\u0301")]
    [InlineData("⛴")]
    public void TextsThatCantBeCountedByTheirLettersAreLeftToTheLayout(string text) =>
        Assert.Null(
            PlainGrid.Of(
                Columns,
                [
                    [text, "1"],
                ],
                null
            )
        );
}
