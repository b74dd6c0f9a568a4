using System.Globalization;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;
using Weir.Core.Expressions;
using Weir.Core.Results;

namespace Weir.Service.Exports;

/// <summary>
/// A workbook (Office Open XML): what it is on the first sheet, then a sheet for each tile with its title, filters, and figures as numbers
/// and dates in their formats. Texts are texts there, whatever they begin with.
/// </summary>
internal static class Workbook
{
    private const int MostLettersOfName = 31;

    /// <param name="isLong">True for a sheet with what measures mean.</param>
    public static ExportedFile Of(Takeaway taken, bool isLong)
    {
        using var memory = new MemoryStream();
        using (var document = SpreadsheetDocument.Create(memory, SpreadsheetDocumentType.Workbook))
        {
            var book = document.AddWorkbookPart();
            var styles = new Styles();
            var sheets = new Sheets();
            var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
            AddSheet("About", About(taken.About, taken.Tiles));
            foreach (var tile in taken.WithFigures)
                AddSheet(tile.Heading, Sheet(tile, styles));
            if (isLong)
                AddSheet("Measures", Meanings(taken.Meanings()));
            book.AddNewPart<WorkbookStylesPart>().Stylesheet = styles.Sheet();
            book.Workbook = new DocumentFormat.OpenXml.Spreadsheet.Workbook(sheets);

            void AddSheet(string title, Worksheet worksheet)
            {
                var part = book.AddNewPart<WorksheetPart>();
                part.Worksheet = worksheet;
                sheets.Append(
                    new DocumentFormat.OpenXml.Spreadsheet.Sheet
                    {
                        Id = book.GetIdOfPart(part),
                        SheetId = (uint)names.Count + 1,
                        Name = NameOf(title, names),
                    }
                );
            }
        }
        return new ExportedFile(
            memory.ToArray(),
            "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
            $"{taken.FileName}.xlsx"
        );
    }

    /// <summary>A name that a sheet can have: short, without marks that addresses of cells use, and nobody else's.</summary>
    private static string NameOf(string title, HashSet<string> taken)
    {
        var plain = string.Concat(title.Select(c => @"[]:*?/\".Contains(c) || char.IsControl(c) ? ' ' : c)).Trim().Trim('\'');
        plain = plain.Length == 0 ? "Tile" : plain;
        for (var n = 1; ; n++)
        {
            var end = n == 1 ? "" : $" {n}";
            var name = plain[..Math.Min(plain.Length, MostLettersOfName - end.Length)].TrimEnd() + end;
            if (taken.Add(name))
                return name;
        }
    }

    private static Worksheet About(AboutExport about, IReadOnlyList<TakenTile> tiles)
    {
        var data = new SheetData(new Row(Text(about.Title, Styles.Title)));
        foreach (var line in about.Lines())
            data.Append(new Row(Text(line)));
        data.Append(new Row(), new Row(Text("Tiles", Styles.Heading), Text("Tab", Styles.Heading), Text("Picked", Styles.Heading)));
        foreach (var tile in tiles)
            data.Append(new Row(Text(tile.Heading), Text(tile.Tab.Title), Text(tile.Picked ?? "")));
        return new Worksheet(new Columns(Wide(1, 60), Wide(2, 24), Wide(3, 40)), data);
    }

    private static Worksheet Meanings(IReadOnlyList<MeasureMeaning> meanings)
    {
        var data = new SheetData(
            new Row(Text("Measure", Styles.Heading), Text("What it means", Styles.Heading), Text("Formula", Styles.Heading))
        );
        foreach (var meaning in meanings)
            data.Append(new Row(Text(meaning.Title), Text(meaning.Means ?? ""), Text(meaning.Formula)));
        return new Worksheet(new Columns(Wide(1, 30), Wide(2, 60), Wide(3, 60)), data);
    }

    private static Worksheet Sheet(TakenTile tile, Styles styles)
    {
        var data = new SheetData(new Row(Text(tile.Heading, Styles.Title)));
        foreach (var note in tile.Notes())
            data.Append(new Row(Text(note, Styles.Quiet)));
        if (tile.Answer is not { } answer)
            return new Worksheet(data);
        data.Append(new Row());
        return CrossGrid.Of(answer) is { } cross ? Sheet(cross, data, styles) : Sheet(FileTable.Of(tile), data, styles);
    }

    /// <summary>A cross table: members across in columns, those down in lines that fold as groups, with the figures of each group.</summary>
    private static Worksheet Sheet(CrossGrid cross, SheetData data, Styles styles)
    {
        var down = cross.Down.Count;
        var blank = Enumerable.Range(0, down).Select(_ => new Cell());
        data.Append(
            new Row(
                blank
                    .SkipLast(1)
                    .Append(Text(cross.AcrossField.Title, Styles.Quiet))
                    .Concat(cross.Across.SelectMany(a => cross.Figures.Select((_, n) => n == 0 ? Text(a, Styles.Heading) : new Cell())))
            )
        );
        data.Append(
            new Row(
                cross
                    .Down.Select(d => Text(d.Title, Styles.Heading))
                    .Concat(cross.Across.SelectMany(_ => cross.Figures.Select(f => Text(FileTable.Heading(f), Styles.Heading))))
            )
        );
        var headings = (uint)data.ChildElements.Count;
        foreach (var line in cross.Lines)
        {
            var isGroup = line.Level < down;
            var place = Math.Max(0, line.Level - 1);
            var names = Enumerable
                .Range(0, down)
                .Select(n => n == place ? Text(line.Member, isGroup ? Styles.Heading : Styles.Plain) : new Cell());
            var row = new Row(
                names.Concat(line.Figures.Select((v, n) => Cell(v, styles.Of(cross.Figures[n % cross.Figures.Count], isTotal: isGroup))))
            );
            // The line over all stands at the end, and in no group.
            if (line.Level > 1)
                row.OutlineLevel = (byte)Math.Min(7, line.Level - 1);
            data.Append(row);
        }
        var columns = new Columns(
            cross
                .Down.Select((d, i) => Wide((uint)i + 1, 24))
                .Concat(
                    cross
                        .Across.SelectMany(_ => cross.Figures)
                        .Select((f, i) => Wide((uint)(down + i) + 1, Math.Max(12, FileTable.Heading(f).Length + 2)))
                )
        );
        return new Worksheet(
            // Groups stand above what is in them.
            new SheetProperties { OutlineProperties = new OutlineProperties { SummaryBelow = false } },
            new SheetViews(Frozen(headings)),
            new SheetFormatProperties { DefaultRowHeight = 15, OutlineLevelRow = (byte)Math.Min(7, down - 1) },
            columns,
            data
        );
    }

    /// <summary>Headings stay where they are while the lines scroll.</summary>
    private static SheetView Frozen(uint headings) =>
        new(
            new Pane
            {
                VerticalSplit = headings,
                TopLeftCell = $"A{headings + 1}",
                ActivePane = PaneValues.BottomLeft,
                State = PaneStateValues.Frozen,
            }
        )
        {
            WorkbookViewId = 0,
        };

    private static Worksheet Sheet(FileTable table, SheetData data, Styles styles)
    {
        data.Append(new Row(table.Columns.Select(c => Text(FileTable.Heading(c), Styles.Heading))));
        var headings = (uint)data.ChildElements.Count;
        var looks = table.Columns.Select(c => styles.Of(c, isTotal: false)).ToList();
        for (var r = 0; r < table.Rows; r++)
            data.Append(new Row(table.Row(r).Select((v, i) => Cell(v, looks[i]))));
        if (table.Totals is { } totals)
            data.Append(
                new Row(
                    totals.Select(
                        (v, i) => i == 0 && v is null ? Text("Total", Styles.Heading) : Cell(v, styles.Of(table.Columns[i], isTotal: true))
                    )
                )
            );
        var columns = new Columns(
            table.Columns.Select(
                (c, i) => Wide((uint)i + 1, Math.Clamp(FileTable.Heading(c).Length + 2, c.Role == ColumnRole.Group ? 18 : 12, 50))
            )
        );
        return new Worksheet(new SheetViews(Frozen(headings)), columns, data);
    }

    private static DocumentFormat.OpenXml.Spreadsheet.Column Wide(uint column, double width) =>
        new()
        {
            Min = column,
            Max = column,
            Width = width,
            CustomWidth = true,
        };

    private static Cell Text(string text, uint look = Styles.Plain) =>
        new(new InlineString(new Text(Printable(text)) { Space = SpaceProcessingModeValues.Preserve }))
        {
            DataType = CellValues.InlineString,
            StyleIndex = look,
        };

    /// <summary>A text without what no XML has.</summary>
    private static string Printable(string text) =>
        text.All(c => System.Xml.XmlConvert.IsXmlChar(c) || char.IsSurrogate(c))
            ? text
            : string.Concat(text.Where(c => System.Xml.XmlConvert.IsXmlChar(c) || char.IsSurrogate(c)));

    private static Cell Cell(object? value, uint look) =>
        value switch
        {
            null => new Cell { StyleIndex = look },
            bool b => new Cell(new CellValue(b)) { DataType = CellValues.Boolean, StyleIndex = look },
            DateOnly d => Number(d.ToDateTime(TimeOnly.MinValue).ToOADate(), look),
            DateTime t => Number(t.ToOADate(), look),
            string text => Text(text, look),
            double d when !double.IsFinite(d) => new Cell { StyleIndex = look },
            _ => new Cell(new CellValue(Convert.ToString(value, CultureInfo.InvariantCulture)!)) { StyleIndex = look },
        };

    private static Cell Number(double value, uint look) => new(new CellValue(value)) { StyleIndex = look };

    /// <summary>The looks of cells, each made once.</summary>
    private sealed class Styles
    {
        public const uint Plain = 0;
        public const uint Title = 1;
        public const uint Heading = 2;
        public const uint Quiet = 3;

        private const uint FirstCode = 164;

        private readonly List<string> _codes = [];
        private readonly List<(string Code, bool IsTotal)> _looks = [];

        public uint Of(Core.Results.Column column, bool isTotal)
        {
            var look = (CodeOf(column), isTotal);
            var at = _looks.IndexOf(look);
            if (at < 0)
            {
                at = _looks.Count;
                _looks.Add(look);
                if (!_codes.Contains(look.Item1))
                    _codes.Add(look.Item1);
            }
            return (uint)(4 + at);
        }

        /// <summary>The code of a format in Office Open XML (ECMA-376 part 1, 18.8.31).</summary>
        private static string CodeOf(Core.Results.Column column)
        {
            if (column.Kind is ValueKind.Date or ValueKind.Timestamp)
                return column.At switch
                {
                    "year" => "yyyy",
                    "month" => "mmm yyyy",
                    "hour" => "d mmm yyyy hh:mm",
                    null when column.Kind == ValueKind.Timestamp => "d mmm yyyy hh:mm",
                    _ => "d mmm yyyy",
                };
            if (column.Kind is not (ValueKind.Integer or ValueKind.Decimal or ValueKind.Float) || column.At is not null)
                return "General";
            var format = column.Format ?? new Core.Results.Format(column.Kind == ValueKind.Integer ? 0 : 2, 1, "");
            var digits = (format.Marks ? "#,##0" : "0") + (format.Decimals > 0 ? "." + new string('0', format.Decimals) : "");
            // A unit stands in the heading.
            return format.Factor == 100 ? digits + "%" : digits;
        }

        public Stylesheet Sheet() =>
            new(
                new NumberingFormats(_codes.Select((c, i) => new NumberingFormat { NumberFormatId = FirstCode + (uint)i, FormatCode = c })),
                new Fonts(
                    new Font(),
                    new Font(new Bold(), new FontSize { Val = 14 }),
                    new Font(new Bold()),
                    new Font(new Color { Rgb = "FF56646E" })
                ),
                new Fills(
                    new Fill(new PatternFill { PatternType = PatternValues.None }),
                    new Fill(new PatternFill { PatternType = PatternValues.Gray125 })
                ),
                new Borders(new Border(), new Border(new TopBorder(new Color { Rgb = "FF14212B" }) { Style = BorderStyleValues.Thin })),
                new CellFormats(
                    ((uint[])[0, 1, 2, 3])
                        .Select(f => new CellFormat { FontId = f, ApplyFont = true })
                        .Concat(
                            _looks.Select(l => new CellFormat
                            {
                                NumberFormatId = FirstCode + (uint)_codes.IndexOf(l.Code),
                                ApplyNumberFormat = true,
                                FontId = l.IsTotal ? 2u : 0u,
                                ApplyFont = l.IsTotal,
                                BorderId = l.IsTotal ? 1u : 0u,
                                ApplyBorder = l.IsTotal,
                            })
                        )
                )
            );
    }
}
