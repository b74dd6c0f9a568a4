using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Figures with fields down and one across, and their subtotals.</summary>
internal static class CrossTable
{
    public static PictureKind Kind { get; } =
        new(
            "crosstable",
            "figures with the fields under `by` down and one `across`, with totals of both; several fields down are levels with subtotals that "
                + "fold; a picked cell is a tuple"
        )
        {
            Show = new Slot(1, 6),
            By = new Slot(1, 3),
            EachKey = Across,
            NeedsEach = true,
            HasSubtotals = true,
            Rows = 6,
            Own =
            [
                DrawnAs.Cells,
                TableCells.OwnBands,
                new OwnKey(
                    new Key(Across, new Shape.Text(), "For a crosstable: the field whose members stand across."),
                    "no-across",
                    "Only a crosstable has a field across."
                )
                {
                    IsNeeded = true,
                },
            ],
        };

    private const string Across = "across";
}
