using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Keys that say how several kinds are drawn, each one word.</summary>
internal static class DrawnAs
{
    /// <summary>How the parts of a bar, an area or a line lie to one another.</summary>
    public static OwnKey Parts { get; } =
        Word(
            "parts",
            "How the parts of a split, or several measures, lie to one another: stacked, as shares of their sum, side by side, or laid over "
                + "one another. Parts that add up are stacked if left out, others stand side by side.",
            "no-parts",
            "Only bars and areas have parts that lie to one another.",
            "stacked",
            "shares",
            "side_by_side",
            "laid_over"
        );

    /// <summary>Which way bars go.</summary>
    public static OwnKey Direction { get; } =
        Word(
            "direction",
            "Whether bars stand or lie. Those of dates and numbers stand if left out, those of words lie.",
            "no-direction",
            "Only bars have a direction.",
            "upright",
            "lying"
        );

    /// <summary>How a line goes from point to point.</summary>
    public static OwnKey Line { get; } =
        Word(
            "line",
            "How a line goes from point to point. straight if left out.",
            "no-line",
            "Only lines and areas have a line.",
            "straight",
            "smooth",
            "steps"
        );

    /// <summary>Whether a line has its points drawn.</summary>
    public static OwnKey Points { get; } =
        Word(
            "points",
            "Whether the points of a line are drawn. shown if left out.",
            "no-points",
            "Only lines have points.",
            "shown",
            "none"
        );

    /// <summary>Whether the figures of cells are printed in them.</summary>
    public static OwnKey Values { get; } =
        Word(
            "values",
            "Whether the figures of cells are printed in them, where they have room. none if left out.",
            "no-values",
            "Only a heatmap has cells with figures in them.",
            "shown",
            "none"
        );

    /// <summary>How the figures of a table's cells are drawn, by measure.</summary>
    public static OwnKey Cells { get; } =
        new(
            new Key(
                "cells",
                new Shape.MapOf(new Shape.Text("scale", "bar")),
                "For a table: how the cells of a measure are drawn, by its name: in colours from its least to its greatest figure, or with a "
                    + "bar as long as the figure."
            ),
            "no-cells",
            "Only a table has cells of a measure."
        );

    private static OwnKey Word(string name, string doc, string code, string needsOwn, params string[] words) =>
        new(new Key(name, new Shape.Text(words), doc), code, needsOwn) { IsOption = true };
}
