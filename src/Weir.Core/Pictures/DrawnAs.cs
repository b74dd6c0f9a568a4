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
            "Only bars, areas and histograms have parts that lie to one another.",
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

    /// <summary>How high a curve of values is.</summary>
    public static OwnKey Heights { get; } =
        Word(
            "heights",
            "How high curves are: each with the same area below it, whatever its number of values, or by how many values there are. area if "
                + "left out.",
            "no-heights",
            "Only curves of values have heights to choose.",
            "area",
            "counts"
        );

    /// <summary>The field with the label of each label's parent.</summary>
    public static OwnKey Parent { get; } =
        Option(
            new Key(
                TileReader.ParentKey,
                new Shape.Text(),
                "For a hierarchy from labels: the field with the label of each one's parent; by is the field of the labels. Empty at the top."
            ),
            "no-parent",
            "Only treemaps and sunbursts are made of labels and their parents."
        );

    /// <summary>Which field gives points their shape.</summary>
    public static OwnKey ShapeBy { get; } =
        Option(
            new Key(TileReader.ShapeBy, new Shape.Text(), "Of a scatter by two fields: the one that gives each point its shape."),
            "no-shape",
            "Only points have a shape by a field."
        );

    /// <summary>Whether lines begin together, each at its own first date.</summary>
    public static OwnKey SinceStart { get; } =
        Word(
            TileReader.SinceStart,
            "Lines of a split that begin together, each at its own first period: their values, or their change since then.",
            "no-since-start",
            "Only lines begin together.",
            "values",
            "change"
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
        Option(
            new Key(
                "cells",
                new Shape.MapOf(new Shape.Text("scale", "diverging", "bar", "arrow")),
                "For a table: how the cells of a measure are drawn, by its name: in colours from its least to its greatest figure, in two "
                    + "that part at nothing, with a bar as long as the figure, or with an arrow that tells whether it is above or below nothing."
            ),
            "no-cells",
            "Only a table has cells of a measure."
        );

    /// <summary>How many lines a page of a table has.</summary>
    public static OwnKey Page { get; } =
        Option(
            new Key(
                "page",
                new Shape.Whole(5, 500),
                "For a table: how many lines stand on a page. It scrolls over all of them if left out."
            ),
            "no-page",
            "Only a table has pages of lines."
        );

    /// <summary>Where two colours of figures part.</summary>
    public static OwnKey Middle { get; } =
        Option(
            new Key(
                "middle",
                new Shape.Text(),
                "The figure at which colours part: two hues below and above it, as strong as it is far. One hue from little to much if left out."
            ),
            "no-middle",
            "Only figures that are told by colour have a middle."
        );

    /// <summary>In which order the members of a matrix stand.</summary>
    public static OwnKey OrderedBy { get; } =
        Word(
            "ordered_by",
            "In which order members that are words stand down and across: by name, the greatest mean first, or like ones side by side. "
                + "name if left out.",
            "no-ordered-by",
            "Only a heatmap is ordered down and across; others are sorted.",
            "name",
            "value",
            "likeness"
        );

    /// <summary>How much of an axis of dates or numbers is shown at first.</summary>
    public static OwnKey Window { get; } =
        Option(
            new Key(
                "window",
                new Shape.Whole(2, 10_000),
                "How many of the last members along a date or a number are shown at first; below, the whole is shown small, and the part is moved over it."
            ),
            "no-window",
            "Only bars, lines and areas along a date or a number have a window."
        );

    /// <summary>Which measures of a bar picture are lines.</summary>
    public static OwnKey Marks { get; } =
        Option(
            new Key(
                "marks",
                new Shape.MapOf(new Shape.Text("bar", "line")),
                "For bars of several measures: what a measure is drawn with, by its name. bar if left out; one at least stays a bar."
            ),
            "no-marks",
            "Only bars of several measures have lines among them."
        );

    /// <summary>Which measures have an axis of their own at the right.</summary>
    public static OwnKey Axes { get; } =
        Option(
            new Key(
                "axes",
                new Shape.MapOf(new Shape.Text("left", "right")),
                "For several measures: at which side the axis of a measure stands, by its name. left if left out; one at least stays there."
            ),
            "no-axes",
            "Only upright bars and lines have an axis at either side."
        );

    /// <summary>The field for each of whose members the picture is drawn once.</summary>
    public static OwnKey Repeat { get; } =
        new(
            new Key(
                PictureKind.RepeatKey,
                new Shape.Text(),
                "A field for each of whose members the picture is drawn once, small, beside the others. What is picked on one is of its member."
            ),
            "no-repeat",
            "Only bars, lines, areas, steps, histograms, boxes and scatters are repeated for each member of a field."
        );

    /// <summary>Whether repeated pictures have one scale.</summary>
    public static OwnKey Scales { get; } =
        Word(
            "scales",
            "For a picture that is repeated: whether all have one scale, so that they compare, or each its own. shared if left out.",
            "no-scales",
            "Only what is repeated has scales.",
            "shared",
            "own"
        );

    private static OwnKey Word(string name, string doc, string code, string needsOwn, params string[] words) =>
        Option(new Key(name, new Shape.Text(words), doc), code, needsOwn);

    private static OwnKey Option(Key key, string code, string needsOwn) => new(key, code, needsOwn) { IsOption = true };
}
