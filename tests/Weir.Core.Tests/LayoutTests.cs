using Shouldly;
using Weir.Core.Definitions;

namespace Weir.Core.Tests;

/// <summary>Where tiles stand: areas, sections, columns, shared tiles, words with figures; and what is said where they can't.</summary>
public class LayoutTests
{
    private const string Data = """
        dataset: d
        source: s
        from: t
        fields:
          day: { column: t.day, type: date }
          port: { column: t.port }
          n: { column: t.n, type: integer }
        measures:
          rows: { formula: "count(*)" }
          before: { formula: "previous(rows, year)" }
          mean: { formula: "avg(n)" }
        """;

    private const string Catalogue = """
        catalogue: k
        tiles:
          - { tile: a, picture: bar, dataset: d, show: rows, by: port, place: { width: 6, height: 5 } }
        """;

    private static WorkspaceRead Read(string dashboard, string catalogue = Catalogue) =>
        WorkspaceText.Read(
            Testing.Definitions.Files(
                Data,
                "roles: { all: { reads: { d: all } } }",
                ("dashboards/x.yaml", $"dashboard: x\n{dashboard}"),
                ("catalogues/k.yaml", catalogue)
            )
        );

    private const string Bar = "picture: bar, dataset: d, show: rows, by: port";
    private const string Two = "picture: bar, dataset: d, show: [rows, mean], by: port";
    private const string At = "place: { column: 0, row: 0, width: 6, height: 4 }";

    [Theory]
    [InlineData("areas: [{ area: one }]\ntabs: [{ tab: t, tiles: [] }]", "missing-key", "needs an area")]
    [InlineData("areas: [{ area: one }]\ntabs: [{ tab: t, area: tow, tiles: [] }]", "unknown-area", "no area tow")]
    [InlineData("tabs: [{ tab: t, area: one, tiles: [] }]", "unknown-area", "no area one")]
    [InlineData("tabs: [{ tab: t, columns: 5, tiles: [] }]", "wrong-value", "5 equal columns")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, section: one, {At} }}] }}]", "unknown-section", "no section one")]
    [InlineData("tabs: [{ tab: t, sections: [{ section: a }, { section: a }], tiles: [] }]", "name-taken", "two sections on this tab a")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar} }}] }}]", "missing-key", "a needs a place")]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, place: {{ height: 3 }} }}] }}]",
        "missing-key",
        "column, row, width and height"
    )]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, repeat: port, {At} }}] }}]", "bad-repeat", "grouped by port already")]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, reference: [{{ title: x }}], {At} }}] }}]",
        "bad-reference",
        "at a value or"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, reference: [{{ measure: mean, to: 3 }}], {At} }}] }}]",
        "bad-reference",
        "between two values"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, reference: [{{ measure: men }}], {At} }}] }}]",
        "unknown-measure",
        "no measure men"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, reference: [{{ measure: before }}], {At} }}] }}]",
        "looks-around",
        "looks at other lines"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: crosstable, dataset: d, show: rows, by: port, {At} }}] }}]",
        "missing-key",
        "needs the key across"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: crosstable, dataset: d, show: before, by: port, across: n, {At} }}] }}]",
        "looks-around",
        "a crosstable has none"
    )]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: dates, dataset: d, {At} }}] }}]", "wrong-count", "takes 1 field")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, across: n, {At} }}] }}]", "no-across", "Only a crosstable")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, repeat: nothing, {At} }}] }}]", "unknown-field", "no field nothing")]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, repeat: n, top: {{ count: 3 }}, {At} }}] }}]",
        "bad-repeat",
        "With repeat all members are shown"
    )]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, scales: own, {At} }}] }}]", "no-scales", "what is repeated")]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: pie, dataset: d, show: rows, by: port, repeat: n, {At} }}] }}]",
        "no-repeat",
        "bars, lines, areas, steps, histograms, boxes and scatters"
    )]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, axes: {{ rows: right }}, {At} }}] }}]", "no-axes", "the tile shows one")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Two}, axes: {{ men: right }}, {At} }}] }}]", "unknown-measure", "not show men")]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, {Two}, marks: {{ rows: line, mean: line }}, {At} }}] }}]",
        "no-marks",
        "All measures are line"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, {Two}, marks: {{ mean: line }}, direction: lying, {At} }}] }}]",
        "no-marks",
        "Bars that lie"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, {Two}, axes: {{ mean: right }}, repeat: n, {At} }}] }}]",
        "no-axes",
        "repeated has one axis"
    )]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, dataset: d, {At} }}] }}]", "missing-key", "needs the key picture")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, shared: nothing/a, {At} }}] }}]", "unknown-catalogue", "no catalogue nothing")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, shared: a, {At} }}] }}]", "unknown-catalogue", "a names no tile")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, shared: k/b, {At} }}] }}]", "unknown-tile", "has no tile b")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, shared: k/a, show: rows, {At} }}] }}]", "shared-tile", "show has no place here")]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: treemap, dataset: d, show: mean, by: port, {At} }}] }}]",
        "not-additive",
        "mean does not add up"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: bar, dataset: d, show: [mean, rows], by: port, parts: shares, {At} }}] }}]",
        "not-additive",
        "mean does not add up"
    )]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, parts: upright, {At} }}] }}]", "unknown-value", "upright")]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: table, dataset: d, show: rows, by: port, cells: {{ row: bar }}, {At} }}] }}]",
        "unknown-measure",
        "does not show row"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: waterfall, dataset: d, show: [rows, mean], by: port, {At} }}] }}]",
        "not-additive",
        "mean does not add up"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: places, dataset: d, show: [mean, mean], by: port, {At} }}] }}]",
        "missing-key",
        "needs the key areas"
    )]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, window: 5, {At} }}] }}]", "no-window", "this is text")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, window: all, {At} }}] }}]", "bad-number", "all is no whole number")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, middle: 0, {At} }}] }}]", "no-middle", "told by colour")]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: heatmap, dataset: d, show: rows, by: [port, n], middle: low, {At} }}] }}]",
        "wrong-value",
        "low is no number"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, courses: [{{ show: rows, along: day.month }}], {At} }}] }}]",
        "no-courses",
        "Only a table"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: table, dataset: d, by: port, courses: [{{ show: rows, along: port }}], {At} }}] }}]",
        "unknown-grain",
        "along a date at a grain"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: table, dataset: d, by: port, courses: [{{ show: rows, along: n.month }}], {At} }}] }}]",
        "unknown-grain",
        "along a date at a grain"
    )]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, ring: true, {At} }}] }}]", "no-ring", "Only a pie")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, tip: '{{port}}: {{n}}', {At} }}] }}]", "unknown-measure", "by n, so a mark")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, tip: [men], {At} }}] }}]", "unknown-measure", "no measure men")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, tip: [before], {At} }}] }}]", "looks-around", "a tip does not have")]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: table, dataset: d, show: rows, by: port, tip: [mean], {At} }}] }}]",
        "no-tip",
        "a mark for each member"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, reference: [{{ at: ten }}], {At} }}] }}]",
        "wrong-value",
        "ten is no number"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: table, dataset: d, by: port, reference: [{{ at: 1 }}], {At} }}] }}]",
        "no-reference",
        "axis of figures"
    )]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: image, alt: A, {At} }}] }}]", "missing-key", "the key file")]
    [InlineData($"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: image, file: images/no.svg, {At} }}] }}]", "missing-key", "the key alt")]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: image, file: images/no.svg, alt: A, {At} }}] }}]",
        "unknown-file",
        "no file images/no.svg"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: text, dataset: d, text: \"{{rose}}\", {At} }}] }}]",
        "unknown-measure",
        "rose"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: text, dataset: d, text: \"{{port}}\", {At} }}] }}]",
        "wrong-count",
        "found 0"
    )]
    [InlineData(
        $"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: text, dataset: d, text: \"{{before}}\", {At} }}] }}]",
        "looks-around",
        "before"
    )]
    public void What_can_not_be_laid_out_is_a_fault(string dashboard, string code, string words)
    {
        var errors = Read(dashboard).Faults.Where(f => f.Severity == Severity.Error).ToList();
        errors.ShouldContain(f => f.Code == code && f.Message.Contains(words), string.Join('\n', errors));
    }

    private const string Drawn = "<svg xmlns='http://www.w3.org/2000/svg'>";

    [Theory]
    [InlineData("<script>1</script>", "<script> does more")]
    [InlineData("<g><foreignObject/></g>", "<foreignObject> does more")]
    [InlineData("<html:p xmlns:html='http://www.w3.org/1999/xhtml'/>", "<html:p> does not draw")]
    [InlineData("<metadata><script xmlns=''/></metadata>", "<script> does not draw")]
    [InlineData("<rect onclick='x()'/>", "onclick runs")]
    [InlineData("<use href='other.svg#a'/>", "href leads")]
    [InlineData("<image xmlns:l='http://www.w3.org/1999/xlink' l:href='http://127.0.0.1/'/>", "l:href leads")]
    [InlineData("<image href='data:image/svg+xml;base64,AA'/>", "href leads")]
    [InlineData("<rect style=\"fill: url( 'http://127.0.0.1/a' )\"/>", "style loads")]
    [InlineData("<rect fill='u\\72l(http://127.0.0.1/)'/>", "fill loads")]
    [InlineData("<style>@import 'a.css';</style>", "A style loads")]
    [InlineData("<style>@im<![CDATA[port 'a.css'; ]]></style>", "A style loads")]
    [InlineData("<style>a<g/></style>", "A style holds")]
    [InlineData("<?xml-stylesheet href='a.css'?>", "<?xml-stylesheet?>")]
    [InlineData("<g>", "as XML")]
    public void An_image_that_does_more_than_draw_is_refused_where_it_does(string inner, string words)
    {
        var fault = ImageFaults("images/i.svg", $"{Drawn}\n{inner}</svg>").ShouldHaveSingleItem();
        fault.Code.ShouldBe("unsafe-image");
        fault.Message.ShouldContain(words);
        fault.Line.ShouldBe(2);
        ImageFaults("images/i.svg", "<!DOCTYPE svg [<!ENTITY a 'b'>]>" + Drawn + "</svg>")
            .ShouldHaveSingleItem()
            .Message.ShouldContain("XML");
        ImageFaults("images/i.svg", "<html/>").ShouldHaveSingleItem().Code.ShouldBe("unsafe-image");
    }

    [Fact]
    public void An_image_draws_from_within_itself_is_what_its_ending_says_and_not_too_large()
    {
        const string Inner = "<defs><g id='a'/></defs><use href='#a'/><rect style='fill:url(#a)'/><image href='data:image/png;base64,AA'/>";
        ImageFaults("images/i.svg", $"{Drawn}{Inner}<style>rect {"{"} fill: url('#a') {"}"}</style></svg>").ShouldBeEmpty();
        ImageFaults("images/i.svg", $"{Drawn}{new string(' ', Attachments.MaximumSize)}</svg>")
            .ShouldHaveSingleItem()
            .Code.ShouldBe("too-large");
        byte[] png = [0x89, (byte)'P', (byte)'N', (byte)'G', 13, 10, 26, 10];
        ImageFaults("images/i.png", Convert.ToBase64String(png)).ShouldBeEmpty();
        ImageFaults("images/i.jpg", Convert.ToBase64String(png)).ShouldHaveSingleItem().Message.ShouldContain("no JPG");
        ImageFaults("images/i.png", "not in base 64!").ShouldHaveSingleItem().Code.ShouldBe("bad-image");
        // Beside the definitions only: what lies elsewhere, or is of another kind, means nothing.
        ImageFaults("images/../i.svg", "").ShouldContain(f => f.Code == "unknown-file");
        foreach (var path in (string[])["images/a/i.svg", "images/.i.svg", "images/i.html", "i.svg", "images/i.svg\n"])
            Attachments.Holds(path).ShouldBeFalse(path);
    }

    private static List<Fault> ImageFaults(string path, string text) =>
        [
            .. WorkspaceText
                .Read(
                    Testing.Definitions.Files(
                        Data,
                        "roles: { all: { reads: { d: all } } }",
                        (
                            "dashboards/x.yaml",
                            $"dashboard: x\ntabs: [{{ tab: t, tiles: [{{ tile: a, picture: image, file: {path}, alt: A, {At} }}] }}]"
                        ),
                        (path, text)
                    )
                )
                .Faults.Where(f => f.Severity == Severity.Error),
        ];

    [Fact]
    public void What_a_role_lets_viewers_change_is_joined_with_the_roles_that_grant_the_dashboard_and_no_other()
    {
        var (workspace, faults) = WorkspaceText.Read(
            Testing.Definitions.Files(
                Data,
                "roles:\n  looks: { reads: { d: all }, dashboards: { x: [see] }, viewers_may: { x: none } }\n"
                    + "  arranges: { reads: { d: all }, dashboards: { x: all }, viewers_may: { all: [move] } }\n"
                    + "  elsewhere: { reads: { d: all }, dashboards: { y: all } }\n",
                (
                    "dashboards/x.yaml",
                    $"dashboard: x\ntabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, {At} }}, {{ tile: b, {Bar}, fixed: true, place: {{ column: 6, row: 0, width: 6, height: 4 }} }}] }}]"
                ),
                ("dashboards/y.yaml", $"dashboard: y\ntabs: [{{ tab: t, tiles: [{{ tile: a, {Bar}, {At} }}] }}]")
            )
        );
        workspace.ShouldNotBeNull(string.Join('\n', faults));
        Changes[] Of(string roles)
        {
            var part = Access.DashboardPart.Of(Testing.Definitions.Viewer(roles), workspace.Dashboards["x"], workspace);
            return [part.May, .. part.Tiles.Select(t => t.May)];
        }
        Of("looks elsewhere").ShouldBe([Changes.None, Changes.None, Changes.None]);
        Of("looks arranges elsewhere").ShouldBe([Changes.Move, Changes.Move, Changes.None]);
    }

    [Fact]
    public void Tiles_flow_into_columns_in_the_order_of_the_file_and_each_section_has_a_grid_of_its_own()
    {
        var (workspace, faults) = Read(
            $"""
            viewers_may: [move, hide]
            tabs:
              - tab: t
                columns: 2
                sections: [ {"{"} section: grid, title: In a grid, opens: folded, fixed: true {"}"} ]
                tiles:
                  - {"{"} tile: placed, section: grid, {Bar}, {At} {"}"}
                  - {"{"} tile: one, {Bar} {"}"}
                  - {"{"} tile: two, {Bar}, place: {"{"} height: 2, width: 3 {"}"} {"}"}
                  - {"{"} tile: three, shared: k/a, title: Mine, viewers_may: all {"}"}
                  - {"{"} tile: four, {Bar}, {At} {"}"}
            """
        );
        faults.Where(f => f.Severity == Severity.Error).ShouldBeEmpty();
        faults.Where(f => f.Code == "no-effect").Select(f => f.Line).Distinct().ShouldBe([10, 12], "a width or a column where tiles flow");
        var tab = workspace!.Dashboards["x"].Tabs[0];
        var places = tab.Tiles.ToDictionary(t => t.Name, t => t.Place);
        places["placed"].ShouldBe(new Place(0, 0, 6, 4));
        places["one"].ShouldBe(new Place(0, 0, 6, 4));
        places["two"].ShouldBe(new Place(6, 0, 6, 2));
        places["three"].ShouldBe(new Place(0, 4, 6, 5));
        places["four"].ShouldBe(new Place(6, 2, 6, 4));
        var may = tab.Tiles.ToDictionary(t => t.Name, t => t.May);
        may["placed"].ShouldBe(Changes.None);
        may["one"].ShouldBe(Changes.Move | Changes.Hide);
        may["three"].ShouldBe(Changes.All);
        var shared = tab.Tiles.Single(t => t.Name == "three");
        (shared.Title, shared.SharedAs, shared.By[0].Field).ShouldBe(("Mine", "k/a", "port"));
    }

    [Fact]
    public void What_places_a_tile_of_a_broken_catalogue_has_no_fault_for_that()
    {
        var dashboard = $"tabs: [{{ tab: t, tiles: [{{ tile: a, shared: k/a, {At} }}] }}]";
        Read(dashboard, "catalogue: k\ntiles: [").Faults.ShouldAllBe(f => f.File != "dashboards/x.yaml");
        Read(dashboard, Catalogue.Replace("show: rows", "show: rose")).Faults.ShouldAllBe(f => f.File != "dashboards/x.yaml");
    }

    private const string Square = """{"type": "Polygon", "coordinates": [[[0, 0], [1, 0], [1, 1], [0, 0]]]}""";

    private static string Feature(string geometry, string properties = """{"name": "A"}""") =>
        "{\"type\": \"Feature\", \"properties\": " + properties + ", \"geometry\": " + geometry + "}";

    private static IReadOnlyList<Fault> MapFaults(string features, string key = "")
    {
        var file = "{\"type\": \"FeatureCollection\", \"features\": [" + features + "]}";
        return WorkspaceText
            .Read(
                Testing.Definitions.Files(
                    Data,
                    "roles: { all: { reads: { d: all } } }",
                    (
                        "dashboards/x.yaml",
                        "dashboard: x\ntabs: [{ tab: t, tiles: [{ tile: a, picture: map, dataset: d, show: rows, by: port, areas: maps/m.geojson, "
                            + $"{key}{At} }}] }}]"
                    ),
                    ("maps/m.geojson", file)
                )
            )
            .Faults.Where(f => f.Severity == Severity.Error)
            .ToList();
    }

    [Fact]
    public void A_map_has_polygons_in_degrees_and_the_property_by_which_members_find_theirs()
    {
        MapFaults(Feature(Square)).ShouldBeEmpty();
        MapFaults(Feature(Square, """{"code": 7}"""), "area_key: code, ").ShouldBeEmpty();
        var missing = MapFaults($"{Feature(Square)}, {Feature(Square, """{"nam": "B"}""")}").ShouldHaveSingleItem();
        (missing.Code, missing.File).ShouldBe(("unknown-property", "dashboards/x.yaml"));
        foreach (
            var (features, message) in ((string, string)[])
                [
                    ("", "1 to 2000 areas; here are 0"),
                    ("7", "feature 1 is no polygon"),
                    (Feature("""{"type": "Point", "coordinates": [0, 0]}"""), "feature 1 is no polygon"),
                    (Feature("""{"type": "Polygon", "coordinates": [[[0, 0], [1, 0], [0, 0]]]}"""), "is none"),
                    (Feature("""{"type": "Polygon", "coordinates": [[[0, 0], [1, 0], [1, 91], [0, 0]]]}"""), "is none"),
                    (Feature("""{"type": "Polygon", "coordinates": [[["0", 0], [1, 0], [1, 1], [0, 0]]]}"""), "is none"),
                    (Feature("""{"type": "MultiPolygon", "coordinates": [7]}""") + "]", "no JSON"),
                    (Feature(Square, new string('[', 40) + new string(']', 40)), "no JSON of at most 12 levels"),
                ]
        )
        {
            var fault = MapFaults(features).ShouldHaveSingleItem(features);
            fault.Code.ShouldBe("bad-map");
            fault.Message.ShouldContain(message);
        }
        Read($"tabs: [{{ tab: t, tiles: [{{ tile: a, picture: map, dataset: d, show: rows, by: port, areas: maps/m.geojson, {At} }}] }}]")
            .Faults.Single(f => f.Severity == Severity.Error)
            .Code.ShouldBe("unknown-file");
    }
}
