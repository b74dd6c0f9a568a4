using System.Globalization;

namespace Weir.Core.Definitions;

/// <summary>How well colours stand out and are told apart.</summary>
public static class ColourSight
{
    /// <summary>Two colours of series nearer than this can't be told apart in small marks. In hundredths of OKLab.</summary>
    public const double LeastDistance = 7.5;

    // OKLab: Björn Ottosson, 2020, https://bottosson.github.io/posts/oklab/
    private static readonly double[,] ToLms =
    {
        { 0.4122214708, 0.5363325363, 0.0514459929 },
        { 0.2119034982, 0.6806995451, 0.1073969566 },
        { 0.0883024619, 0.2817188376, 0.6299787005 },
    };
    private static readonly double[,] ToLab =
    {
        { 0.2104542553, 0.793617785, -0.0040720468 },
        { 1.9779984951, -2.428592205, 0.4505937099 },
        { 0.0259040371, 0.7827717662, -0.808675766 },
    };

    // Machado, Oliveira and Fernandes, "A Physiologically-based Model for Simulation of Color Vision Deficiency", 2009, at severity 1.
    private static readonly (string Name, double[,] Seen)[] Sights =
    [
        (
            "with any sight",
            new double[,]
            {
                { 1, 0, 0 },
                { 0, 1, 0 },
                { 0, 0, 1 },
            }
        ),
        (
            "without the green cones (deuteranopia)",
            new double[,]
            {
                { 0.367322, 0.860646, -0.227968 },
                { 0.280085, 0.672501, 0.047413 },
                { -0.01182, 0.04294, 0.968881 },
            }
        ),
        (
            "without the red cones (protanopia)",
            new double[,]
            {
                { 0.152286, 1.052583, -0.204868 },
                { 0.114503, 0.786281, 0.099216 },
                { -0.003882, -0.048116, 1.051998 },
            }
        ),
    ];

    /// <summary>The contrast of two colours, from 1 to 21: WCAG 2.2, https://www.w3.org/TR/WCAG22/#dfn-contrast-ratio</summary>
    /// <param name="one">As #RRGGBB.</param>
    public static double Contrast(string one, string other)
    {
        var (a, b) = (Luminance(Linear(one)), Luminance(Linear(other)));
        return (Math.Max(a, b) + 0.05) / (Math.Min(a, b) + 0.05);
    }

    /// <summary>The two colours of a series that are hardest to tell apart, for the sight for which that is so.</summary>
    /// <returns>Null if there are fewer than two.</returns>
    public static (string One, string Other, string Sight, double Distance)? Nearest(IReadOnlyList<string> colours)
    {
        (string, string, string, double Distance)? nearest = null;
        foreach (var (sight, seen) in Sights)
        {
            var labs = colours.Select(c => Lab([.. Times(seen, Linear(c)).Select(v => Math.Clamp(v, 0, 1))])).ToList();
            for (var i = 0; i < labs.Count; i++)
            for (var j = 0; j < i; j++)
            {
                var distance = 100 * Math.Sqrt(labs[i].Zip(labs[j], (x, y) => (x - y) * (x - y)).Sum());
                if (nearest is null || distance < nearest.Value.Distance)
                    nearest = (colours[j], colours[i], sight, distance);
            }
        }
        return nearest;
    }

    private static double[] Linear(string colour) =>
        [
            .. new[] { 1, 3, 5 }.Select(at =>
            {
                var v = int.Parse(colour.AsSpan(at, 2), NumberStyles.HexNumber, CultureInfo.InvariantCulture) / 255.0;
                return v <= 0.04045 ? v / 12.92 : Math.Pow((v + 0.055) / 1.055, 2.4);
            }),
        ];

    private static double Luminance(double[] rgb) => (0.2126 * rgb[0]) + (0.7152 * rgb[1]) + (0.0722 * rgb[2]);

    private static double[] Lab(double[] rgb) => Times(ToLab, [.. Times(ToLms, rgb).Select(Math.Cbrt)]);

    private static double[] Times(double[,] m, double[] v) =>
        [.. Enumerable.Range(0, 3).Select(r => (m[r, 0] * v[0]) + (m[r, 1] * v[1]) + (m[r, 2] * v[2]))];
}
