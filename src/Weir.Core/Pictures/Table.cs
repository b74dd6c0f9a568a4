using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Lines as text.</summary>
internal static class Table
{
    public static PictureKind Kind { get; } =
        new("table", "a line for each combination of members, with its figures; a picked row is a tuple")
        {
            Show = new Slot(0, 20),
            By = new Slot(1, 10),
            IsLines = true,
            Own =
            [
                DrawnAs.Cells,
                TableCells.OwnBands,
                .. TableCells.OwnTexts,
                DrawnAs.Page,
                SmallCourse.Own,
                new OwnKey(
                    new Key("totals", new Shape.Flag(), "For a table: a line of totals. false if left out."),
                    "no-effect",
                    "Only a table has a line of totals."
                )
                {
                    Severity = Severity.Warning,
                },
            ],
        };
}
