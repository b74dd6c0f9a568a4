using System.Text;
using System.Text.RegularExpressions;
using System.Xml;

namespace Weir.Core.Definitions;

/// <summary>
/// Tells an SVG that only draws from one that could do more: run a script, load something from elsewhere, or hold a page of its own.
/// It goes by what is known to draw (SVG 2, https://www.w3.org/TR/SVG2/eltindex.html) and refuses all else, so that nothing has to be
/// taken out of a developer's file behind their back.
/// </summary>
internal static partial class SafeSvg
{
    private const string Svg = "http://www.w3.org/2000/svg";
    private const int MaximumDepth = 100;

    private static readonly HashSet<string> Drawing =
    [
        .. "svg g defs symbol use path rect circle ellipse line polyline polygon text tspan textPath title desc metadata style image".Split(
            ' '
        ),
        .. "linearGradient radialGradient stop clipPath mask pattern marker switch filter".Split(' '),
        .. "feBlend feColorMatrix feComponentTransfer feComposite feConvolveMatrix feDiffuseLighting feDisplacementMap feDistantLight".Split(
            ' '
        ),
        .. "feDropShadow feFlood feFuncA feFuncB feFuncG feFuncR feGaussianBlur feMerge feMergeNode feMorphology feOffset".Split(' '),
        .. "fePointLight feSpecularLighting feSpotLight feTile feTurbulence".Split(' '),
    ];

    /// <summary>The first such place; null if there is none.</summary>
    public static OddPlace? FaultIn(string svg)
    {
        // No document type: it could name other files, or grow without end.
        using var reader = XmlReader.Create(
            new StringReader(svg),
            new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null }
        );
        var at = (IXmlLineInfo)reader;
        OddPlace Fault(string message, string remedy) => new(Math.Max(at.LineNumber, 1), Math.Max(at.LinePosition, 1), message, remedy);
        try
        {
            var isRoot = true;
            // A style is read whole: in pieces it could spell what none of them does.
            StringBuilder? style = null;
            while (reader.Read())
                switch (reader.NodeType)
                {
                    case XmlNodeType.Element:
                        if (isRoot && (reader.NamespaceURI != Svg || reader.LocalName != "svg"))
                            return Fault("This is no SVG: its outermost element is another.", $"Begin it with <svg xmlns=\"{Svg}\">.");
                        isRoot = false;
                        if (reader.Depth > MaximumDepth)
                            return Fault($"Elements lie more than {MaximumDepth} deep.", "Save it with fewer groups.");
                        if (reader.NamespaceURI.EndsWith("/xhtml", StringComparison.Ordinal) || reader.NamespaceURI.Length == 0)
                            return Fault($"<{reader.Name}> does not draw.", "Take it out.");
                        if (reader.NamespaceURI == Svg && !Drawing.Contains(reader.LocalName))
                            return Fault($"<{reader.Name}> does more than draw.", "Take it out.");
                        if (style is not null)
                            return Fault("A style holds an element.", "Take it out.");
                        style = reader is { NamespaceURI: Svg, LocalName: "style", IsEmptyElement: false } ? new StringBuilder() : null;
                        if (FaultInAttributes(reader, Fault) is { } fault)
                            return fault;
                        break;
                    case XmlNodeType.EndElement when style is not null:
                        if (LoadsByStyle(style.ToString()))
                            return Fault("A style loads something from elsewhere.", "Put it into the file, or leave it out.");
                        style = null;
                        break;
                    case XmlNodeType.Text or XmlNodeType.CDATA or XmlNodeType.Whitespace or XmlNodeType.SignificantWhitespace:
                        style?.Append(reader.Value);
                        break;
                    case XmlNodeType.ProcessingInstruction:
                        return Fault($"<?{reader.Name}?> does more than draw.", "Take it out.");
                }
            return null;
        }
        catch (XmlException e)
        {
            return new OddPlace(
                Math.Max(e.LineNumber, 1),
                Math.Max(e.LinePosition, 1),
                "This can't be read as XML without a document type.",
                "Save it as plain SVG."
            );
        }
    }

    private static OddPlace? FaultInAttributes(XmlReader reader, Func<string, string, OddPlace> fault)
    {
        for (var more = reader.MoveToFirstAttribute(); more; more = reader.MoveToNextAttribute())
        {
            if (reader.LocalName.StartsWith("on", StringComparison.OrdinalIgnoreCase))
                return fault($"{reader.Name} runs a script.", "Take it out.");
            if (reader.LocalName == "base" && reader.Prefix == "xml")
                return fault("xml:base leads elsewhere.", "Take it out.");
            if (reader.LocalName is "href" or "src" && !Inner().IsMatch(reader.Value))
                return fault($"{reader.Name} leads elsewhere.", "An image draws by itself: embed what it needs, or leave it out.");
            if (reader.NamespaceURI.Length == 0 && LoadsByStyle(reader.Value))
                return fault($"{reader.Name} loads something from elsewhere.", "Put it into the file, or leave it out.");
        }
        reader.MoveToElement();
        return null;
    }

    /// <summary>A backslash could spell anything in CSS; no drawing needs one.</summary>
    private static bool LoadsByStyle(string css) => Outer().IsMatch(css);

    [GeneratedRegex(@"^\s*(#|data:image/(png|jpeg);base64,)", RegexOptions.IgnoreCase)]
    private static partial Regex Inner();

    [GeneratedRegex(
        @"@import|\\|image(-set)?\s*\(|url\s*\(\s*[""']?\s*(?![""'#\s]|data:image/(png|jpeg);base64,)",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Outer();
}
