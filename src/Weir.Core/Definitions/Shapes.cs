using static Weir.Core.Definitions.Shape;

namespace Weir.Core.Definitions;

/// <summary>The shape of each kind of definition file.</summary>
public sealed class Shapes
{
    /// <summary>The shapes where tiles may have some kinds of picture, with the keys that those kinds have of their own.</summary>
    public Shapes(IReadOnlyList<PictureKind> pictures)
    {
        Pictures = pictures;
        Dashboard = DashboardOf(pictures);
        Files =
        [
            ("workspace.yaml", "workspace", Workspace),
            ("access.yaml", "access", Access),
            ("sources/*.yaml", "source", Source),
            ("datasets/*.yaml", "dataset", Dataset),
            ("catalogues/*.yaml", "catalogue", CatalogueOf(pictures)),
            ("dashboards/*.yaml", "dashboard", Dashboard),
            ("openings/*.yaml", "opening_view", OpeningView),
            ("reports/*.yaml", "report", ReportReader.ShapeOf(Picked)),
        ];
    }

    /// <summary>True for what a developer may call something: letters, digits, _ and -, a letter first, 64 of them at most.</summary>
    public static bool IsName(string name) =>
        name.Length is > 0 and <= 64 && name.All(c => char.IsAsciiLetterOrDigit(c) || c is '_' or '-') && char.IsAsciiLetter(name[0]);

    /// <summary>The kinds of picture that a tile may have.</summary>
    public IReadOnlyList<PictureKind> Pictures { get; }

    /// <summary>dashboards/*.yaml</summary>
    public Keys Dashboard { get; }

    /// <summary>The kind of each file by its path, for the check and for editors.</summary>
    public IReadOnlyList<(string Pattern, string Name, Keys Shape)> Files { get; }

    /// <summary>The kind of the file at a path; null for one that means nothing in a workspace.</summary>
    /// <param name="path">Relative to the folder, with / between folders.</param>
    public (string Pattern, string Name, Keys Shape)? FileAt(string path)
    {
        foreach (var file in Files)
            if (IsAt(path, file.Pattern.Split('*')))
                return file;
        return null;
    }

    /// <param name="around">What stands before and after the name of a file that may have any; all of the path where it may not.</param>
    private static bool IsAt(string path, string[] around)
    {
        if (around is not [var before, var after])
            return path == around[0];
        if (path.Length <= before.Length + after.Length)
            return false;
        var name = path.AsSpan(before.Length, path.Length - before.Length - after.Length);
        return path.StartsWith(before, StringComparison.Ordinal)
            && path.EndsWith(after, StringComparison.Ordinal)
            && !name.Contains('/')
            && name[0] != '.';
    }

    private static readonly Shape AnyText = new Text();
    private static readonly Shape Names = new Either(AnyText, new ListOf(AnyText));
    private static readonly Keys Fill = new(new Key("fill", AnyText, "The value to put there.", Required: true));

    /// <summary>workspace.yaml</summary>
    public static Keys Workspace { get; } =
        new(
            new Key("workspace", AnyText, "The workspace's name.", Required: true),
            new Key("title", AnyText, "The name that viewers see."),
            new Key("time_zone", AnyText, "The zone in which \"today\" is worked out, by its IANA name. UTC if left out."),
            new Key("week_starts", new Text("monday", "saturday", "sunday"), "The first day of the week. monday if left out."),
            new Key("money", AnyText, "The unit that the format money puts behind a figure."),
            WorkspaceLook.Key
        );

    /// <summary>sources/*.yaml</summary>
    public static Keys Source { get; } =
        new(
            new Key("source", AnyText, "The source's name.", Required: true),
            new Key("title", AnyText, "The name that people see."),
            new Key(
                "engine",
                new Text([.. SourceEngines.All.Keys]),
                "The database engine; files for a folder of CSV, Parquet and XLSX files.",
                Required: true
            ),
            new Key("file", AnyText, "For duckdb and sqlite: the database file, inside the service's folder of files."),
            new Key("folder", AnyText, "For files: the folder, inside the service's folder of files."),
            new Key("host", AnyText, "For a database server: its name or address."),
            new Key("port", new Whole(1, 65535), "Its port; the engine's own if left out."),
            new Key("database", AnyText, "The database on it."),
            new Key("user", AnyText, "The login, which needs to read only."),
            new Key("password", AnyText, "The login's password, as ${env:WEIR_SECRET_NAME} or ${secret:NAME}, never in clear."),
            new Key(
                "allow_writing_login",
                new Flag(),
                "true if the login may write and there is no other; every check warns of it. Without it such a login is refused."
            ),
            new Key("schema", AnyText, "Where tables are looked for that name no schema."),
            new Key("tls", new Flag(), "Whether the connection must be encrypted. true if left out, unless the host is this machine."),
            new Key(
                "certificate",
                AnyText,
                "A file in the service's folder of secrets with the certificates to trust; the machine's own if left out."
            ),
            new Key(
                "session",
                new MapOf(AnyText),
                "What the database is told of the viewer with each query: setting: user.name or user.attribute."
            ),
            new Key(
                "refresh",
                new Keys(
                    new Key("least_seconds", new Whole(1, 86_400), "The shortest time between two refreshes of a tile. 10 if left out."),
                    new Key(
                        "at_once",
                        new Whole(1, 100),
                        "How many refreshing statements may run at once. Half of limits.at_once if left out."
                    )
                ),
                "How refreshing is kept from overloading the source."
            ),
            new Key(
                "limits",
                new Keys(
                    new Key("seconds", new Whole(1, 3600), "How long one query may run. 30 if left out."),
                    new Key("rows", new Whole(1, 1_000_000), "How many rows one tile may bring. 10000 if left out."),
                    new Key("export_rows", new Whole(1, 10_000_000), "How many rows one export may bring. 1000000 if left out."),
                    new Key("at_once", new Whole(1, 64), "How many queries may run at once. 2 if left out."),
                    new Key("a_minute", new Whole(1, 100_000), "How many queries it takes in a minute. As many as come if left out."),
                    new Key(
                        "waiting",
                        new Whole(0, 10_000),
                        "How many questions may wait for their turn; more are refused at once. 500 if left out."
                    ),
                    new Key("memory_mb", new Whole(16, 1_048_576), "How much memory the engine may use. 160 if left out.")
                ),
                "Limits that protect the source and the service."
            )
        );

    private static readonly Keys Field = new(
        new Key("column", AnyText, "The column, as table.column or column of the first table."),
        new Key("formula", AnyText, "A formula over fields of the same row, instead of a column."),
        new Key("type", new Text([.. Expressions.ValueKinds.Names]), "The type. text for a column if left out; worked out for a formula."),
        new Key("title", AnyText, "The name that viewers see. Made from the field's own name if left out."),
        new Key("description", AnyText, "What the field means, for the reader."),
        new Key(
            "format",
            new Either(AnyText, new MapOf(AnyText)),
            "How a value is written: integer, decimal, percent, money, or a pattern such as \"0.0 min\"; of dates a pattern such as "
                + "\"dd.MM.yyyy\", or one for each grain."
        ),
        new Key("concept", AnyText, "What the field is about; fields of different datasets with one concept filter each other."),
        new Key("unit", AnyText, "The unit of its values, for the reader."),
        new Key(
            "unfit",
            new Either(new Text("missing"), Fill),
            "The column holds text that is read as the type; what to do where it does not fit: missing, or fill: value."
        ),
        new Key(
            "missing",
            new Either(new Text("keep", "leave_out"), Fill),
            "What to do where there is no value: keep it as \"not given\" (if left out), leave_out the row, or fill: value."
        ),
        new Key(
            "names",
            new MapOf(AnyText, FromMembers: true),
            "Names to show for codes; a code without a name stays as it is and is reported."
        ),
        new Key(
            "named_by",
            AnyText,
            "The column with the name to show for each value, as table.column: rows are grouped by the value, which is the key, and read by the name."
        ),
        new Key(
            "order",
            new Either(new Text("months", "days"), new ListOf(AnyText)),
            "The order of its members: a list, or that of English names of months or days."
        ),
        new Key("colours", new MapOf(AnyText, FromMembers: true), "Fixed colours of members, such as \"#0F6E6E\".")
    );

    private static readonly Keys Parameter = new(
        new Key("title", AnyText, "The name that viewers see."),
        new Key("description", AnyText, "What it does, for the reader."),
        new Key(
            "type",
            new Text([.. Expressions.ValueKinds.Names, "period"]),
            "The type of its value; period for a text such as last 30 days.",
            Required: true
        ),
        new Key("many", new Flag(), "Whether it has a list of values, for use after IN. false if left out."),
        new Key("optional", new Flag(), "Whether it may be empty: then the conditions that name it restrict nothing. false if left out."),
        new Key("opening", Names, "The value or values that it begins with; empty if left out, which an optional one may be."),
        new Key("least", AnyText, "The least value."),
        new Key("most", AnyText, "The greatest value."),
        new Key(
            "choices",
            new Either(new ListOf(AnyText), new MapOf(AnyText, FromMembers: true)),
            "What can be chosen: a list, names by value, field: name for the values of a field, or query: a SELECT of value and "
                + "title, with field: name to keep those that the viewer has rows of."
        )
    );

    private static readonly Keys Measure = new(
        new Key("formula", AnyText, "A formula over many rows.", Required: true),
        new Key("title", AnyText, "The name that viewers see."),
        new Key("description", AnyText, "What the measure means, for the reader."),
        new Key("format", AnyText, "How a value is written: integer, decimal, percent, money, or a pattern.")
    );

    /// <summary>datasets/*.yaml</summary>
    public static Keys Dataset { get; } =
        new(
            new Key("dataset", AnyText, "The dataset's name.", Required: true),
            new Key("title", AnyText, "The name that people see."),
            new Key("description", AnyText, "What a row is."),
            new Key("source", AnyText, "The source that holds it.", Required: true),
            new Key(
                "from",
                AnyText,
                "The table whose rows are the dataset's rows: table or schema.table. One of from and query is needed."
            ),
            new Key(
                "query",
                AnyText,
                "A SELECT whose rows are the dataset's rows; :user.x and :param.y stand for values, after IN for lists."
            ),
            new Key("as", AnyText, "The name that columns call it by; the table's own if left out."),
            new Key(
                "joins",
                new ListOf(
                    new Keys(
                        new Key("table", AnyText, "The table to look up: table or schema.table.", Required: true),
                        new Key("as", AnyText, "The name that columns call it by; the table's own if left out."),
                        new Key(
                            "source",
                            AnyText,
                            "The source of the table: that of the dataset, as tables of two sources are not joined."
                        ),
                        new Key(
                            "on",
                            AnyText,
                            "The key: table.column = table.column, several with AND. Each row must find at most one.",
                            Required: true
                        )
                    )
                ),
                "Tables that add columns to each row."
            ),
            new Key("filter", AnyText, "A condition that every row of the dataset meets."),
            new Key("totals", AnyText, "A condition that marks rows which are totals of others: figures leave them out."),
            new Key(
                "parameters",
                new MapOf(Parameter),
                "Values that viewers set, by name; formulas and the query name them as param.name."
            ),
            new Key(
                "freshness",
                new Keys(
                    new Key("seconds", new Whole(0, 86_400), "The longest age of an answer; 0 to ask each time. 300 if left out."),
                    new Key(
                        "query",
                        AnyText,
                        "A SELECT of one value that changes when the data change: then answers are asked for anew at once."
                    )
                ),
                "How long answers may be kept."
            ),
            new Key("fields", new MapOf(Field), "The fields by name.", Required: true),
            new Key("measures", new MapOf(Measure), "The measures by name.")
        );

    private static readonly Keys Place = new(
        new Key("column", new Whole(0, 11), "The first of twelve columns that it covers, from 0."),
        new Key("row", new Whole(0, 500), "The first row that it covers, from 0."),
        new Key("width", new Whole(1, 12), "How many columns it covers."),
        new Key("height", new Whole(1, 40), "How many rows it covers: all that is said where tiles flow into columns.")
    );

    private static Key MayOf(string what) =>
        new(
            "viewers_may",
            new Either(new Text("all", "none"), new ListOf(new Text([.. ChangeWords.All]))),
            $"What viewers may change in their own views {what}: move (and size), hide, tabs, add (tiles), draw (otherwise), keep (picks). "
                + "That of what it stands in if left out, all for a dashboard."
        );

    private static readonly Key Fixed = new(
        "fixed",
        new Flag(),
        "Whether it stays as it is for viewers: the short form of viewers_may: none."
    );

    private static readonly Key ColumnsKey = new(
        "columns",
        new Whole(1, 12),
        "Into how many equal columns the tiles flow, in the order of the file: 1, 2, 3, 4, 6 or 12. They have places if left out."
    );

    /// <summary>What a tile shows and how, wherever it stands.</summary>
    private static IReadOnlyList<Key> ShownBy(IReadOnlyList<PictureKind> pictures) =>
        [
            new Key("title", AnyText, "The title. Made from what it shows if left out."),
            new Key("description", AnyText, "What the reader should know about it."),
            new Key("dataset", AnyText, "The dataset that it is over."),
            new Key("show", Names, "The measure or measures; param.name for a choice of the viewer."),
            new Key(
                "by",
                Names,
                "The field or fields that it is grouped by; a date at a grain: departed.month; param.name or departed.param.name for a choice of the viewer."
            ),
            new Key("split", AnyText, "The field that gives each series its colour."),
            .. KeysOfMembers.All,
            .. pictures.SelectMany(p => p.Own).Select(o => o.Key).DistinctBy(k => k.Name),
            new Key(
                "pick",
                new Text("one", "many", "range", "none"),
                "What a viewer can pick on it: one member, many, a range of dates or numbers, or nothing."
            ),
            new Key(
                "tools",
                new Flag(),
                "Whether it has its menu, those of its columns, and zoom. true if left out; false for a plain picture that is only looked at and picked."
            ),
            new Key(
                "refresh",
                new Whole(1, 86_400),
                "How often an open page asks for it again, in seconds, as far as the source allows; never if left out."
            ),
            new Key(
                "waits",
                new Flag(),
                "true for a tile that takes long: a page asks for it when somebody presses it, and not before. false if left out."
            ),
        ];

    private static Keys CatalogueOf(IReadOnlyList<PictureKind> pictures) =>
        new(
            new Key("catalogue", AnyText, "The catalogue's name.", Required: true),
            new Key("title", AnyText, "The name that viewers see."),
            new Key("description", AnyText, "What it holds, for whoever looks for a tile."),
            new Key(
                "tiles",
                new ListOf(
                    new Keys([
                        new Key("tile", AnyText, "The tile's name, unique in the catalogue.", Required: true),
                        new Key("picture", new Text([.. pictures.Select(p => p.Name)]), "The kind of drawing.", Required: true),
                        .. ShownBy(pictures),
                        new Key(
                            "place",
                            new Keys(
                                new Key("width", new Whole(1, 12), "How many columns it covers where it is added; 4 if left out."),
                                new Key("height", new Whole(1, 40), "How many rows it covers where it is added.")
                            ),
                            "Its size where a viewer adds it."
                        ),
                    ])
                ),
                "The shared tiles.",
                Required: true
            )
        );

    private static Keys TileOf(IReadOnlyList<PictureKind> pictures) =>
        new([
            new Key("tile", AnyText, "The tile's name, unique on the dashboard.", Required: true),
            new Key(
                "picture",
                new Text([.. pictures.Select(p => p.Name)]) { OrParameter = true },
                "The kind of drawing: needed unless the tile is shared."
            ),
            new Key(
                "shared",
                AnyText,
                "A tile of a catalogue, as catalogue/tile, that is placed here: what it shows is said there, its title may be said here."
            ),
            .. ShownBy(pictures),
            new Key("group", AnyText, "The group of its tab that it belongs to."),
            new Key(
                "drives",
                new Either(new Text("tab", "dashboard", "group", "none"), new ListOf(AnyText)),
                "Which tiles its selection filters: those on its tab, all, those of its group, none, or a list. tab if left out, in a group group."
            ),
            new Key(
                "follows",
                new Either(new Text("all", "none"), new ListOf(AnyText)),
                "Whose selections filter it: all, none, or a list. all if left out."
            ),
            new Key(
                "opening",
                Picked,
                "What is picked when a viewer opens the dashboard: members as a list, a range, a period, the newest of a date, or all. all if left out."
            ),
            new Key("required", new Flag(), "Whether something must always be picked; then opening says what. false if left out."),
            new Key(
                "place",
                new Either(new Text("panel"), Place),
                "Where it stands: columns and rows, or panel for the side panel of the tab, which holds controls. Only its height, or "
                    + "nothing, where the tiles flow into columns."
            ),
            new Key("section", AnyText, "The section of its tab in which it stands; its place is then in the grid of that section."),
            MayOf("of it"),
            Fixed,
        ]);

    private static readonly Keys Choice = new(
        new Key("title", AnyText, "The name that viewers see."),
        new Key("description", AnyText, "What it changes, for the reader."),
        new Key(
            "choices",
            new Either(new ListOf(AnyText), new MapOf(AnyText, FromMembers: true)),
            "What can be chosen, as a list or as names by choice: grains, fields, measures or kinds of picture.",
            Required: true
        ),
        new Key("opening", AnyText, "The choice that it begins with; the first if left out.")
    );

    private static Keys DashboardOf(IReadOnlyList<PictureKind> pictures) =>
        new(
            new Key("dashboard", AnyText, "The dashboard's name.", Required: true),
            new Key("title", AnyText, "The name that viewers see."),
            new Key("description", AnyText, "One or two sentences for the list of dashboards, and on the page."),
            new Key(
                "origin",
                AnyText,
                "Where its data come from, of when they are and who answers for them, in CommonMark: a note on the page."
            ),
            new Key(
                "parameters",
                new MapOf(Choice),
                "Choices of the viewer that change how tiles are drawn, by name; tiles name them as param.name under picture, show, by, split, sort and drill."
            ),
            new Key(
                "apply",
                new Text("at_once", "on_button"),
                "Whether picks filter at once or are collected until the viewer applies them. at_once if left out."
            ),
            new Key(
                "areas",
                new ListOf(
                    new Keys(
                        new Key("area", AnyText, "The area's name, unique on the dashboard.", Required: true),
                        new Key("title", AnyText, "The name that viewers see.")
                    )
                ),
                "Areas that the tabs belong to, in order, where one level of tabs is not enough."
            ),
            MayOf("of the dashboard"),
            new Key("offers_tiles", new Flag(), "Whether viewers may place its tiles on other dashboards, one by one. false if left out."),
            new Key("tabs", new ListOf(TabOf(pictures)), "The sheets of the dashboard.", Required: true)
        );

    private static readonly Keys PlaceOfEdit = new(
        new Key("column", new Whole(0, 11), "The first of twelve columns, from 0."),
        new Key("row", new Whole(0, 1000), "The first row, from 0."),
        new Key("width", new Whole(1, 12), "How many columns."),
        new Key("height", new Whole(1, 60), "How many rows.")
    );

    /// <summary>openings/*.yaml</summary>
    public static Keys OpeningView { get; } =
        new(
            new Key("opening_view", AnyText, "The opening view's name.", Required: true),
            new Key("dashboard", AnyText, "The dashboard that it arranges.", Required: true),
            new Key("roles", Names, "The roles whose viewers find the dashboard so; everybody if left out."),
            new Key(
                "edits",
                new ListOf(
                    new Keys(
                        new Key(
                            "edit",
                            AnyText,
                            "What is done: hide, move, place, columns, add-tab, add-tile, draw and others.",
                            Required: true
                        ),
                        new Key("tile", AnyText, "The tile that it is done to, or that is added."),
                        new Key("tab", AnyText, "The tab."),
                        new Key("section", AnyText, "The section of the tab."),
                        new Key("area", AnyText, "The area of an added tab."),
                        new Key("title", AnyText, "The title of a tab or a tile."),
                        new Key("as", AnyText, "The name of a copy."),
                        new Key("keep_own", new Flag(), "Of a reset: whether what was added stays."),
                        new Key("shared", AnyText, "The tile of a catalogue, as catalogue/tile."),
                        new Key("dataset", AnyText, "What a made tile is of."),
                        new Key("columns", new Whole(1, 12), "Into how many columns tiles flow."),
                        new Key("place", PlaceOfEdit, "Where an added tile stands."),
                        new Key("tabs", new ListOf(AnyText), "The tabs in their order."),
                        new Key(
                            "tiles",
                            new ListOf(
                                new Keys(
                                    new Key("tile", AnyText, "The tile.", Required: true),
                                    new Key("place", PlaceOfEdit, "Its place.", Required: true)
                                )
                            ),
                            "Tiles with their places."
                        ),
                        new Key(
                            "drawing",
                            new Keys(
                                new Key("picture", AnyText, "The kind of picture."),
                                new Key("show", new ListOf(AnyText), "The measures."),
                                new Key("by", new ListOf(AnyText), "The fields that it is grouped by."),
                                new Key("split", AnyText, "The field of the series."),
                                new Key("sort", AnyText, "The measure or field that orders it."),
                                new Key("descending", new Flag(), "Whether that order goes down."),
                                new Key("top", new Whole(0, 1000), "How many leading members stay."),
                                new Key("rest", new Flag(), "Whether the others are gathered into one.")
                            ),
                            "How a tile is drawn otherwise, or what a made one shows."
                        ),
                        new Key(
                            "table",
                            new Keys(
                                new Key("order", new ListOf(AnyText), "The columns that come first, in their order."),
                                new Key("hidden", new ListOf(AnyText), "The columns that are not shown."),
                                new Key("pinned", new ListOf(AnyText), "The columns that stay in sight while others scroll."),
                                new Key(
                                    "widths",
                                    new ListOf(
                                        new Keys(
                                            new Key("column", AnyText, "The column.", Required: true),
                                            new Key("width", new Whole(20, 2000), "How wide it is, in pixels.", Required: true)
                                        )
                                    ),
                                    "The columns that are not as wide as they need."
                                ),
                                new Key(
                                    "sorted",
                                    new ListOf(
                                        new Keys(
                                            new Key("column", AnyText, "The column.", Required: true),
                                            new Key("descending", new Flag(), "Whether its order goes down.")
                                        )
                                    ),
                                    "The columns that its lines are sorted by, the first before the second."
                                )
                            ),
                            "How the columns of a table stand, called by their fields and measures."
                        )
                    )
                ),
                "What is done, in order, to what the dashboard's file lays out: the edits that viewers make, as promoting a view writes them.",
                Required: true
            )
        );

    /// <summary>What is picked on a tile.</summary>
    private static readonly Shape Picked = new Either(
        new Text("all", "newest"),
        new ListOf(new Either(AnyText, new ListOf(AnyText))),
        new Keys(
            new Key("from", AnyText, "The first value of a range."),
            new Key("to", AnyText, "Its last value; of dates the last day that counts."),
            new Key("period", AnyText, "A period such as last 12 months, worked out at the time of viewing."),
            new Key(
                "each",
                Names,
                "Of a range on a tile that is repeated: the member or members in whose pictures it lies; in all of them if left out."
            ),
            new Key("contains", AnyText, "For a search: the piece of text.")
        )
    );

    private static Keys TabOf(IReadOnlyList<PictureKind> pictures) =>
        new(
            new Key("tab", AnyText, "The tab's name, unique on the dashboard.", Required: true),
            new Key("title", AnyText, "The name that viewers see."),
            new Key("area", AnyText, "The area that it belongs to: needed where the dashboard has areas."),
            ColumnsKey,
            new Key(
                "fit",
                new Text("content", "window"),
                "Whether each row is as high as what stands in it needs, or the rows share the height of the window. content if left out."
            ),
            MayOf("of the tab"),
            Fixed,
            new Key(
                "sections",
                new ListOf(
                    new Keys(
                        new Key("section", AnyText, "The section's name, unique on the tab.", Required: true),
                        new Key("title", AnyText, "The name that viewers see."),
                        new Key(
                            "opens",
                            new Text("unfolded", "folded"),
                            "Whether a viewer first finds it open. What stands in a folded section asks nothing. unfolded if left out."
                        ),
                        ColumnsKey,
                        MayOf("of the section"),
                        Fixed
                    )
                ),
                "Titled parts of the tab that fold, in order, below the tiles that stand in none."
            ),
            new Key(
                "groups",
                new ListOf(
                    new Keys(
                        new Key("group", AnyText, "The group's name, unique on the dashboard.", Required: true),
                        new Key("title", AnyText, "The name that viewers see."),
                        new Key(
                            "drives",
                            new Either(new Text("tab", "dashboard", "none"), new ListOf(AnyText)),
                            "What the selections of its tiles, taken together, filter outside of it. none if left out."
                        )
                    )
                ),
                "Frames around tiles that filter one another."
            ),
            new Key("tiles", new ListOf(TileOf(pictures)), "The tiles.", Required: true)
        );

    private static Keys MadeUpViewer { get; } =
        new(
            new Key("roles", new ListOf(AnyText), "The roles of the viewer.", Required: true),
            new Key("attributes", new MapOf(Names), "The attributes of the viewer.")
        );

    /// <summary>access.yaml</summary>
    public static Keys Access { get; } =
        new(
            new Key(
                "roles",
                new MapOf(
                    new Keys(
                        new Key("title", AnyText, "The role in words."),
                        new Key(
                            "reads",
                            new MapOf(
                                new Either(
                                    new Text("all"),
                                    new Keys(
                                        new Key(
                                            "where",
                                            AnyText,
                                            "The condition that a row must meet; user.x is an attribute of the viewer."
                                        ),
                                        new Key("hides", new ListOf(AnyText), "Fields and measures that the role does not see."),
                                        new Key(
                                            "detail",
                                            new Flag(),
                                            "Whether the role may see single rows, not only summaries. false if left out."
                                        )
                                    )
                                )
                            ),
                            "The datasets that the role may read: all rows, or some."
                        ),
                        new Key(
                            "dashboards",
                            new MapOf(new Either(new Text("all"), new ListOf(new Text([.. DashboardActs.All])))) { WithParts = true },
                            "What the role may do with each dashboard, by name, or under all with every one; under dashboard/area with one area. As soon as one role names "
                                + "dashboards, a dashboard that no role of a viewer grants does not exist for them."
                        ),
                        new Key(
                            "viewers_may",
                            new MapOf(new Either(new Text("all", "none"), new ListOf(new Text([.. ChangeWords.All])))),
                            "What the role may change in views of its own, by dashboard or under all, in place of what the dashboard says for every viewer. What a tab, section or tile says of itself holds for everybody."
                        ),
                        new Key(
                            "catalogues",
                            Names,
                            "The catalogues that the role may add tiles from: names, or all. As soon as one role names catalogues, one that no "
                                + "role of a viewer grants does not exist for them."
                        ),
                        new Key("may", new ListOf(new Text([.. Acts.All])), "Acts beyond reading.")
                    )
                ),
                "What each role grants. Nothing is granted otherwise.",
                Required: true
            ),
            new Key(
                "checks",
                new ListOf(
                    new Keys(
                        new Key("as", MadeUpViewer, "A viewer made up for the check.", Required: true),
                        new Key("dataset", AnyText, "The dataset to look at.", Required: true),
                        new Key("only", AnyText, "A condition that every row the viewer gets must meet.", Required: true)
                    )
                ),
                "Proofs, run by weir check --connect."
            ),
            SendingReader.OutsideKey(MadeUpViewer)
        );
}

/// <summary>What a role may allow beyond reading.</summary>
public static class Acts
{
    /// <summary>Fetch, check and publish definitions.</summary>
    public const string Publish = "publish";

    /// <summary>See sources and their raw rows while defining datasets.</summary>
    public const string Define = "define";

    /// <summary>See the service as another viewer does.</summary>
    public const string LookAs = "look-as";

    /// <summary>See the SQL of figures, with its names of tables and columns.</summary>
    public const string Explain = "explain";

    /// <summary>Make dashboards of one's own, over what one may read.</summary>
    public const string Own = "own";

    /// <summary>Every act there is.</summary>
    public static IReadOnlyList<string> All { get; } = [Publish, Define, LookAs, Explain, Own];
}

/// <summary>What a role may allow with a dashboard.</summary>
public static class DashboardActs
{
    /// <summary>Open it, pick, and see where figures come from.</summary>
    public const string See = "see";

    /// <summary>Have a view of one's own: places, sizes, tabs, kept picks.</summary>
    public const string Arrange = "arrange";

    /// <summary>Let others see one's own views of it.</summary>
    public const string Share = "share";

    /// <summary>Take its rows away as a file.</summary>
    public const string Export = "export";

    /// <summary>Work on its definition, as a draft for somebody who publishes.</summary>
    public const string Design = "design";

    /// <summary>Every act there is.</summary>
    public static IReadOnlyList<string> All { get; } = [See, Arrange, Share, Export, Design];

    /// <summary>The name under which a role grants acts on every dashboard.</summary>
    public const string Every = "all";
}
