using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Drawing;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Presentation;
using D = DocumentFormat.OpenXml.Drawing;
using P = DocumentFormat.OpenXml.Presentation;

namespace Weir.Service.Exports;

/// <summary>Slides (Office Open XML): one that says what they are, then one for each tile, its title and notes as text, its picture below.</summary>
internal static class Slides
{
    /// <summary>How wide the picture of a tile is drawn, in pixels: so few that its letters are read from the last row.</summary>
    public const int Wide = 860;

    /// <summary>How high.</summary>
    public const int High = 380;

    // In English Metric Units, 914,400 to the inch: a slide of 13.33 by 7.5 inches.
    private const long SlideWide = 12_192_000;
    private const long SlideHigh = 6_858_000;
    private const long Edge = 457_200;
    private const long TitleHigh = 620_000;
    private const long NoteHigh = 360_000;

    /// <summary>True for a tile that has a slide: what only filters is told on the first one.</summary>
    public static bool IsShown(TakenTile tile) => tile.Picked is null;

    /// <param name="pictures">A picture of each tile that has a slide, in order.</param>
    public static ExportedFile Of(Takeaway taken, IReadOnlyList<byte[]> pictures)
    {
        using var memory = new MemoryStream();
        using (var document = PresentationDocument.Create(memory, PresentationDocumentType.Presentation))
        {
            var presentation = document.AddPresentationPart();
            presentation.Presentation = new P.Presentation();
            var layout = AddMaster(presentation, taken.Open.Live.Workspace.Look?.Light.Series ?? []);
            var slides = new SlideIdList();
            AddSlide(presentation, layout, slides, null, taken.About.Title, [.. taken.About.Lines()]);
            foreach (var (tile, picture) in taken.Tiles.Where(IsShown).Zip(pictures))
                AddSlide(
                    presentation,
                    layout,
                    slides,
                    (picture, tile.Info.Alt ?? tile.Heading),
                    tile.Heading,
                    [string.Join(" ", tile.Notes().Prepend(tile.Tab.Title).Select(n => n.EndsWith('.') ? n : $"{n}."))]
                );
            presentation.Presentation.Append(
                new SlideMasterIdList(new SlideMasterId { Id = 2_147_483_648, RelationshipId = "master" }),
                slides,
                new SlideSize { Cx = (int)SlideWide, Cy = (int)SlideHigh },
                new NotesSize { Cx = SlideHigh, Cy = SlideWide }
            );
        }
        return new ExportedFile(
            memory.ToArray(),
            "application/vnd.openxmlformats-officedocument.presentationml.presentation",
            $"{taken.FileName}.pptx"
        );
    }

    /// <summary>What all slides have alike.</summary>
    /// <param name="series">The workspace's colours of series; none for Weir's own.</param>
    private static SlideLayoutPart AddMaster(PresentationPart presentation, IReadOnlyList<string> series)
    {
        var master = presentation.AddNewPart<SlideMasterPart>("master");
        var layout = master.AddNewPart<SlideLayoutPart>("layout");
        layout.SlideLayout = new SlideLayout(new CommonSlideData(Tree()), new P.ColorMapOverride(new MasterColorMapping()));
        layout.AddPart(master, "master");
        var theme = master.AddNewPart<ThemePart>("theme");
        theme.Theme = Look(series);
        master.SlideMaster = new SlideMaster(
            new CommonSlideData(Tree()),
            new P.ColorMap
            {
                Background1 = ColorSchemeIndexValues.Light1,
                Text1 = ColorSchemeIndexValues.Dark1,
                Background2 = ColorSchemeIndexValues.Light2,
                Text2 = ColorSchemeIndexValues.Dark2,
                Accent1 = ColorSchemeIndexValues.Accent1,
                Accent2 = ColorSchemeIndexValues.Accent2,
                Accent3 = ColorSchemeIndexValues.Accent3,
                Accent4 = ColorSchemeIndexValues.Accent4,
                Accent5 = ColorSchemeIndexValues.Accent5,
                Accent6 = ColorSchemeIndexValues.Accent6,
                Hyperlink = ColorSchemeIndexValues.Hyperlink,
                FollowedHyperlink = ColorSchemeIndexValues.FollowedHyperlink,
            },
            new SlideLayoutIdList(new SlideLayoutId { Id = 2_147_483_649, RelationshipId = "layout" })
        );
        return layout;
    }

    /// <param name="slides">The slides so far.</param>
    /// <param name="picture">What is below the words, and what it says to who does not see it; null for words alone, which are larger then.</param>
    private static void AddSlide(
        PresentationPart presentation,
        SlideLayoutPart layout,
        SlideIdList slides,
        (byte[] Png, string Alt)? picture,
        string title,
        IReadOnlyList<string> lines
    )
    {
        var number = slides.ChildElements.Count + 1;
        var part = presentation.AddNewPart<SlidePart>($"slide{number}");
        part.AddPart(layout, "layout");
        var tree = Tree();
        tree.Append(Words(2, "Title", [title], Edge, 260_000, TitleHigh, 2800, isTitle: true));
        var (high, size) = picture is null ? (SlideHigh / 2, 1600) : (NoteHigh, 1100);
        tree.Append(Words(3, "Notes", lines, Edge, 260_000 + TitleHigh, high, size));
        if (picture is var (png, alt))
        {
            var image = part.AddImagePart(ImagePartType.Png, "picture");
            image.FeedData(new MemoryStream(png));
            tree.Append(Shown(alt));
        }
        part.Slide = new Slide(new CommonSlideData(tree), new P.ColorMapOverride(new MasterColorMapping()));
        slides.Append(new SlideId { Id = (uint)(255 + number), RelationshipId = $"slide{number}" });
    }

    private static ShapeTree Tree() =>
        new(
            new P.NonVisualGroupShapeProperties(
                new P.NonVisualDrawingProperties { Id = 1, Name = "" },
                new P.NonVisualGroupShapeDrawingProperties(),
                new ApplicationNonVisualDrawingProperties()
            ),
            new GroupShapeProperties(new TransformGroup())
        );

    private static P.Shape Words(
        uint id,
        string name,
        IReadOnlyList<string> lines,
        long x,
        long y,
        long high,
        int size,
        bool isTitle = false
    ) =>
        new(
            new P.NonVisualShapeProperties(
                new P.NonVisualDrawingProperties { Id = id, Name = name },
                new P.NonVisualShapeDrawingProperties { TextBox = !isTitle },
                isTitle
                    ? new ApplicationNonVisualDrawingProperties(new PlaceholderShape { Type = PlaceholderValues.Title })
                    : new ApplicationNonVisualDrawingProperties()
            ),
            new P.ShapeProperties(
                new Transform2D(new Offset { X = x, Y = y }, new Extents { Cx = SlideWide - 2 * Edge, Cy = high }),
                new PresetGeometry(new AdjustValueList()) { Preset = ShapeTypeValues.Rectangle }
            ),
            new P.TextBody([
                new BodyProperties(new NormalAutoFit()) { Wrap = TextWrappingValues.Square },
                new ListStyle(),
                .. lines.Select(line => new Paragraph(
                    new Run(
                        new RunProperties
                        {
                            Language = "en",
                            FontSize = size,
                            Bold = isTitle,
                        },
                        new D.Text(string.Concat(line.Where(c => !char.IsControl(c))))
                    )
                )),
            ])
        );

    private static P.Picture Shown(string alt)
    {
        var top = 260_000 + TitleHigh + NoteHigh;
        var high = SlideHigh - top - Edge / 2;
        var wide = Math.Min(SlideWide - 2 * Edge, high * Wide / High);
        high = wide * High / Wide;
        return new P.Picture(
            new P.NonVisualPictureProperties(
                new P.NonVisualDrawingProperties
                {
                    Id = 4,
                    Name = "Picture",
                    Description = alt,
                },
                new P.NonVisualPictureDrawingProperties(new PictureLocks { NoChangeAspect = true }),
                new ApplicationNonVisualDrawingProperties()
            ),
            new P.BlipFill(new Blip { Embed = "picture" }, new Stretch(new FillRectangle())),
            new P.ShapeProperties(
                new Transform2D(new Offset { X = (SlideWide - wide) / 2, Y = top }, new Extents { Cx = wide, Cy = high }),
                new PresetGeometry(new AdjustValueList()) { Preset = ShapeTypeValues.Rectangle }
            )
        );
    }

    private static readonly string[] UsualSeries = ["0F6E6E", "D1717A", "22308A", "8B8318", "8179DF", "4D391E"];

    /// <summary>A theme, which every presentation has: ink on white, and the series colours.</summary>
    /// <param name="series">Those of the workspace; where it has none, or fewer, the usual ones.</param>
    private static Theme Look(IReadOnlyList<string> series)
    {
        string Series(int place) => place < series.Count ? series[place].TrimStart('#').ToUpperInvariant() : UsualSeries[place];
        static TColor Rgb<TColor>(string hex)
            where TColor : OpenXmlCompositeElement, new()
        {
            var made = new TColor();
            made.Append(new RgbColorModelHex { Val = hex });
            return made;
        }
        static FillStyleList Fills() => new(Solid(), Solid(), Solid());
        static SolidFill Solid() => new(new SchemeColor { Val = SchemeColorValues.PhColor });
        static Outline Line() => new(Solid()) { Width = 9525 };
        return new Theme(
            new ThemeElements(
                new ColorScheme(
                    Rgb<Dark1Color>("14212B"),
                    Rgb<Light1Color>("FFFFFF"),
                    Rgb<Dark2Color>("56646E"),
                    Rgb<Light2Color>("F6F5F1"),
                    Rgb<Accent1Color>(Series(0)),
                    Rgb<Accent2Color>(Series(1)),
                    Rgb<Accent3Color>(Series(2)),
                    Rgb<Accent4Color>(Series(3)),
                    Rgb<Accent5Color>(Series(4)),
                    Rgb<Accent6Color>(Series(5)),
                    Rgb<D.Hyperlink>("0F6E6E"),
                    Rgb<FollowedHyperlinkColor>("56646E")
                )
                {
                    Name = "Paper",
                },
                new FontScheme(
                    new MajorFont(
                        new LatinFont { Typeface = "Inter" },
                        new EastAsianFont { Typeface = "" },
                        new ComplexScriptFont { Typeface = "" }
                    ),
                    new MinorFont(
                        new LatinFont { Typeface = "Inter" },
                        new EastAsianFont { Typeface = "" },
                        new ComplexScriptFont { Typeface = "" }
                    )
                )
                {
                    Name = "Paper",
                },
                new FormatScheme(
                    Fills(),
                    new LineStyleList(Line(), Line(), Line()),
                    new EffectStyleList(
                        new EffectStyle(new EffectList()),
                        new EffectStyle(new EffectList()),
                        new EffectStyle(new EffectList())
                    ),
                    new BackgroundFillStyleList(Solid(), Solid(), Solid())
                )
                {
                    Name = "Paper",
                }
            )
        )
        {
            Name = "Paper",
        };
    }
}
