using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Every kind of picture there is: the one list of them.</summary>
public static class PictureKinds
{
    /// <summary>The kinds in the order in which docs and forms offer them.</summary>
    public static IReadOnlyList<PictureKind> All { get; } =
    [
        Number.Kind,
        Cards.Kind,
        Bar.Kind,
        Line.Kind,
        Area.Kind,
        Waterfall.Kind,
        Histogram.Kind,
        Density.Kind,
        Box.Kind,
        Pie.Kind,
        Treemap.Kind,
        Sunburst.Kind,
        Sankey.Kind,
        Heatmap.Kind,
        Scatter.Kind,
        Map.Kind,
        Places.Kind,
        Table.Kind,
        CrossTable.Kind,
        Summary.Kind,
        Movement.Kind,
        Dropdown.Kind,
        List.Kind,
        Switch.Kind,
        Slider.Kind,
        Dates.Kind,
        Search.Kind,
        Text.Kind,
        Image.Kind,
    ];
}
