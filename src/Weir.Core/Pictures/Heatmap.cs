using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Cells of two fields, coloured by a measure.</summary>
internal static class Heatmap
{
    public static PictureKind Kind { get; } =
        new("heatmap", "cells of two fields, the first down and the second across, coloured by the measure; a picked cell is a pair")
        {
            Show = Slot.Of(1),
            By = Slot.Of(2),
            Own = [DrawnAs.Values, DrawnAs.OrderedBy, DrawnAs.Middle, TipText.Own],
        };
}
