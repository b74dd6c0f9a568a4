using System.Globalization;
using System.Net;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Http.Json;
using Microsoft.Extensions.Options;
using OpenQA.Selenium.Chrome;
using Weir.Core.Results;
using Weir.Service.Api;

namespace Weir.Service.Exports;

/// <summary>
/// What is drawn: a page of its own that holds its data, its drawing and its type, and asks for nothing. It is a file for any browser, and
/// what is printed and photographed here. The drawing is that of the console: its build has it in the folder paper.
/// </summary>
internal sealed class Paper(ServiceOptions options, Browser browser, IOptions<JsonOptions> json)
{
    private const double Margin = 0.4;
    private const double PixelsPerInch = 96;
    private const int WideOfPage = 1280;
    private const int WideOfOne = 900;
    private const int HighOfOne = 560;
    private const int MostHigh = 16_000;

    /// <summary>What draws; null where the console that is served has none of it.</summary>
    private readonly Lazy<Pieces?> _drawing = new(() =>
    {
        var folder = Path.Combine(options.ConsoleFolder ?? Path.Combine(AppContext.BaseDirectory, "console"), "paper");
        return File.Exists(Path.Combine(folder, "paper.js"))
            ? new Pieces(File.ReadAllText(Path.Combine(folder, "paper.js")), File.ReadAllText(Path.Combine(folder, "paper.css")))
            : null;
    });

    private Pieces Drawing =>
        _drawing.Value
        ?? throw new ProblemException(
            501,
            "no-drawing",
            "The console that this service serves can't draw files.",
            "Serve a console that was built whole; csv, xlsx and json go without."
        );

    /// <summary>Makes sure that pages can be printed here.</summary>
    /// <exception cref="ProblemException">There is no browser.</exception>
    public void Require() => browser.Require();

    /// <summary>True if they can.</summary>
    public bool IsThere => browser.IsThere && _drawing.Value is not null;

    /// <summary>Has the browser begun while what it will draw is still asked for.</summary>
    public void Begin()
    {
        if (_drawing.Value is { } drawing)
            browser.Begin(drawing.Empty);
    }

    /// <summary>A page that can be opened anywhere, also without a network, and without scripts as tables.</summary>
    public ExportedFile Html(Takeaway taken, ExportRequest request) =>
        new(
            Encoding.UTF8.GetBytes(
                Drawing.Page(taken.About.Title, Plain(taken), Data(taken, request, new Layout("page", request.Width ?? WideOfPage, null)))
            ),
            "text/html; charset=utf-8",
            $"{taken.FileName}.html"
        );

    /// <summary>A file of what a browser makes of the page.</summary>
    public async Task<ExportedFile> Print(Takeaway taken, ExportRequest request, FileProgress progress, CancellationToken stop)
    {
        var isOne = taken.Tiles.Count == 1;
        Task<T> Drawn<T>(Layout layout, int height, Func<ChromeDriver, T> work) =>
            browser.Use(Drawing.Empty, Data(taken, request, layout), (layout.Width, height), work, progress, stop);
        switch (request.Form)
        {
            case "pdf":
                var size = ExportForms.Papers[request.Paper ?? "a4"];
                var wide = (int)((size.Width - 2 * Margin) * PixelsPerInch);
                var pdf = await Drawn(new Layout("print", wide, null), 800, driver => Pdf(driver, size, taken.About));
                return new ExportedFile(pdf, "application/pdf", $"{taken.FileName}.pdf");
            case "svg":
                if (!isOne)
                    throw new ProblemException(422, "one-tile", "SVG is of one tile.", "Name it in tiles, or take png or pdf.");
                var svg = await Drawn(
                    One(request),
                    request.Height ?? HighOfOne,
                    driver =>
                        (string?)
                            driver.ExecuteScript(
                                "const all = document.querySelectorAll('[data-tile] [role=img] svg'); return all.length === 1 ? all[0].outerHTML : null"
                            )
                );
                return svg is null
                    ? throw new ProblemException(
                        422,
                        "no-svg",
                        $"{taken.Tiles[0].Info.Title} is not drawn as one picture of lines and areas.",
                        "Take png or pdf."
                    )
                    : new ExportedFile(Encoding.UTF8.GetBytes(Described(svg, taken)), "image/svg+xml", $"{taken.FileName}.svg");
            case "pptx":
                var slides = await Drawn(
                    new Layout("tiles", Slides.Wide, Slides.High),
                    Slides.High,
                    driver =>
                        taken.Tiles.Where(Slides.IsShown).Select((_, n) => Photograph(driver, $"[data-slide=\"{n}\"]", dots: 3)).ToList()
                );
                return Slides.Of(taken, slides);
            default:
                var png = await Drawn(
                    isOne ? One(request) : new Layout("picture", request.Width ?? WideOfPage, null),
                    request.Height ?? HighOfOne,
                    driver => Photograph(driver, "#paper")
                );
                return new ExportedFile(png, "image/png", $"{taken.FileName}.png");
        }
    }

    /// <summary>A drawing with what it is, where readers of SVG look for that (SVG 2, 5.7).</summary>
    private static string Described(string svg, Takeaway taken)
    {
        var at = svg.IndexOf('>', StringComparison.Ordinal) + 1;
        var said = string.Join('\n', taken.About.Lines().Concat(taken.Tiles[0].Notes()).Prepend(taken.About.Title));
        return $"{svg[..at]}<title>{WebUtility.HtmlEncode(taken.Tiles[0].Info.Title)}</title><desc>{WebUtility.HtmlEncode(said)}</desc>{svg[at..]}";
    }

    private static Layout One(ExportRequest request) => new("one", request.Width ?? WideOfOne, request.Height ?? HighOfOne);

    /// <summary>How the page is laid out.</summary>
    /// <param name="Mode">page; print, in which long tables break; one, a tile that fills the size; or tiles, each as large.</param>
    private sealed record Layout(string Mode, int Width, int? Height);

    /// <summary>What is drawn, as JSON.</summary>
    private string Data(Takeaway taken, ExportRequest request, Layout layout)
    {
        var files = taken
            .Tiles.Where(t => t.Info.File is not null)
            .DistinctBy(t => t.Info.Name)
            .ToDictionary(
                t => t.Info.Name,
                t =>
                    taken.Open.Live.Workspace.Attachments[taken.Open.Tile(t.Info.Name).File!] is var file
                        ? $"data:{file.MediaType};base64,{Convert.ToBase64String(file.Content.Span)}"
                        : ""
            );
        return JsonSerializer.Serialize(
            new
            {
                About = taken.About,
                MadeAt = taken.About.InZone(taken.About.MadeAt),
                ReadAt = taken.About.ReadAt is { } read ? taken.About.InZone(read) : null,
                taken.Page.WeekStarts,
                Tabs = taken
                    .Tiles.GroupBy(t => (t.Part?.Number, t.Tab.Name))
                    .Select(g => new
                    {
                        Name = $"{g.Key}",
                        Title = taken.TitleOf(g.First()),
                        BeginsPart = g.First().Part is not null && g.First().Tab == taken.Tiles.First(t => t.Part == g.First().Part).Tab,
                        g.First().Tab.Sections,
                        Tiles = g.Select(t => new
                        {
                            Tile = t.Info,
                            t.Answered?.Result,
                            t.Picked,
                            Selection = taken.SelectionOn(t) is { } selection ? Core.Interaction.Openings.Write(selection) : null,
                        }),
                    }),
                request.Detail,
                Meanings = request.IsLong ? taken.Meanings() : [],
                House = taken.Open.Live.Workspace is { Look: { } look } workspace ? SignIn.LookInfo.Of(look, workspace) : null,
                Files = files,
                Layout = layout,
            },
            json.Value.SerializerOptions
        );
    }

    /// <summary>What each page is made of.</summary>
    private sealed class Pieces(string script, string style)
    {
        /// <summary>A page that is given later what it draws. Its script stands beside it: the browser reads that sooner than one within.</summary>
        public DrawingPage Empty { get; } =
            new([
                (
                    "paper.html",
                    Whole("", "file:", "<link rel=\"stylesheet\" href=\"paper.css\">", "", "", "<script src=\"paper.js\"></script>")
                ),
                ("paper.css", style),
                ("paper.js", script),
            ]);

        /// <summary>A page that holds all it needs.</summary>
        /// <param name="plain">What stands there without scripts, as HTML.</param>
        /// <param name="data">What it draws, as JSON.</param>
        public string Page(string title, string plain, string data) =>
            Whole(
                title,
                "'unsafe-inline'",
                $"<style>{style.Replace("</style", "<\\/style", StringComparison.OrdinalIgnoreCase)}</style>",
                plain,
                data.Replace("<", "\\u003c", StringComparison.Ordinal),
                $"<script>{script.Replace("</script", "<\\/script", StringComparison.OrdinalIgnoreCase)}</script>"
            );

        private static string Whole(string title, string from, string style, string plain, string data, string script) =>
            $"""
                <!DOCTYPE html>
                <html lang="en">
                <head>
                <meta charset="utf-8">
                <meta name="viewport" content="width=device-width">
                <meta http-equiv="Content-Security-Policy" content="default-src 'none'; script-src {from}; style-src 'unsafe-inline' {from}; img-src data:; font-src data:">
                <title>{WebUtility.HtmlEncode(title)}</title>
                {style}
                </head>
                <body>
                <main id="paper"></main>
                <noscript>{plain}</noscript>
                <script type="application/json" id="data">{data}</script>
                {script}
                </body>
                </html>
                """;
    }

    /// <summary>All of it as headings and tables, for whatever can read no more than that.</summary>
    private static string Plain(Takeaway taken)
    {
        var html = new StringBuilder();
        string E(string text) => WebUtility.HtmlEncode(text);
        html.Append(CultureInfo.InvariantCulture, $"<h1>{E(taken.About.Title)}</h1>");
        foreach (var line in taken.About.Lines())
            html.Append(CultureInfo.InvariantCulture, $"<p>{E(line)}</p>");
        foreach (var tile in taken.Tiles)
        {
            html.Append(CultureInfo.InvariantCulture, $"<h2>{E(tile.Heading)}</h2>");
            foreach (var note in tile.Notes().Append(tile.Picked).OfType<string>())
                html.Append(CultureInfo.InvariantCulture, $"<p>{E(note)}</p>");
            if (tile.Answer is null || tile.Picked is not null)
                continue;
            var table = FileTable.Of(tile);
            html.Append("<table><thead><tr>")
                .AppendJoin("", table.Columns.Select(c => $"<th>{E(c.Title)}</th>"))
                .Append("</tr></thead><tbody>");
            for (var r = 0; r < table.Rows; r++)
                html.Append("<tr>")
                    .AppendJoin("", table.Row(r).Select((v, i) => $"<td>{E(v is string s ? s : Labels.Write(v, table.Columns[i]))}</td>"))
                    .Append("</tr>");
            html.Append("</tbody></table>");
        }
        return html.ToString();
    }

    private static byte[] Pdf(ChromeDriver driver, (double Width, double Height) size, AboutExport about)
    {
        var small =
            "font: 8px Inter, sans-serif; color: #56646E; width: 100%; padding: 0 38px; display: flex; justify-content: space-between";
        var answer =
            (Dictionary<string, object?>)
                driver.ExecuteCdpCommand(
                    "Page.printToPDF",
                    new Dictionary<string, object?>
                    {
                        ["paperWidth"] = size.Width,
                        ["paperHeight"] = size.Height,
                        ["marginTop"] = Margin,
                        ["marginBottom"] = Margin + 0.15,
                        ["marginLeft"] = Margin,
                        ["marginRight"] = Margin,
                        ["printBackground"] = true,
                        ["generateTaggedPDF"] = true,
                        ["generateDocumentOutline"] = true,
                        ["displayHeaderFooter"] = true,
                        ["headerTemplate"] = "<span></span>",
                        ["footerTemplate"] =
                            $"<div style=\"{small}\"><span>{WebUtility.HtmlEncode(about.Title)} · {WebUtility.HtmlEncode(about.InZone(about.MadeAt))}</span>"
                            + "<span><span class=\"pageNumber\"></span> of <span class=\"totalPages\"></span></span></div>",
                    }
                )!;
        return Convert.FromBase64String((string)answer["data"]!);
    }

    /// <param name="dots">So many to a pixel of the page, each way: for screens and paper that show them.</param>
    private static byte[] Photograph(ChromeDriver driver, string of, int dots = 2)
    {
        var box = (
            (IEnumerable<object>)
                driver.ExecuteScript(
                    "const b = document.querySelector(arguments[0]).getBoundingClientRect(); return [b.x, b.y, b.width, b.height]",
                    of
                )!
        )
            .Select(v => Convert.ToDouble(v, CultureInfo.InvariantCulture))
            .ToList();
        var answer =
            (Dictionary<string, object?>)
                driver.ExecuteCdpCommand(
                    "Page.captureScreenshot",
                    new Dictionary<string, object?>
                    {
                        ["format"] = "png",
                        ["captureBeyondViewport"] = true,
                        ["clip"] = new Dictionary<string, object?>
                        {
                            ["x"] = box[0],
                            ["y"] = box[1],
                            ["width"] = box[2],
                            ["height"] = Math.Min(box[3], MostHigh),
                            ["scale"] = dots,
                        },
                    }
                )!;
        return Convert.FromBase64String((string)answer["data"]!);
    }
}
