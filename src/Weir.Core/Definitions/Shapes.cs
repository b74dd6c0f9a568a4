using static Weir.Core.Definitions.Shape;

namespace Weir.Core.Definitions;

/// <summary>The shape of each kind of definition file.</summary>
public static class Shapes
{
    private static readonly Shape AnyText = new Text();
    private static readonly Shape Names = new Either(AnyText, new ListOf(AnyText));

    /// <summary>The kinds of drawing that a tile may have.</summary>
    public static IReadOnlyList<string> Pictures { get; } = ["number", "bar", "line", "area", "pie", "heatmap", "table", "dropdown", "text"];

    /// <summary>workspace.yaml</summary>
    public static Keys Workspace { get; } = new(
        new Key("workspace", AnyText, "The workspace's name.", Required: true),
        new Key("title", AnyText, "The name that viewers see."),
        new Key("time_zone", AnyText, "The zone in which \"today\" is worked out, by its IANA name. UTC if left out."),
        new Key("week_starts", new Text("monday", "saturday", "sunday"), "The first day of the week. monday if left out."),
        new Key("money", AnyText, "The unit that the format money puts behind a figure."));

    /// <summary>sources/*.yaml</summary>
    public static Keys Source { get; } = new(
        new Key("source", AnyText, "The source's name.", Required: true),
        new Key("title", AnyText, "The name that people see."),
        new Key("engine", new Text("duckdb"), "The database engine.", Required: true),
        new Key("file", AnyText, "The database file, inside the service's folder of files.", Required: true),
        new Key("limits", new Keys(
            new Key("seconds", new Whole(1, 3600), "How long one query may run. 30 if left out."),
            new Key("rows", new Whole(1, 1_000_000), "How many rows one tile may bring. 10000 if left out."),
            new Key("at_once", new Whole(1, 64), "How many queries may run at once. 2 if left out."),
            new Key("memory_mb", new Whole(16, 1_048_576), "How much memory the engine may use. 160 if left out.")), "Limits that protect the source and the service."));

    private static readonly Keys Field = new(
        new Key("column", AnyText, "The column, as table.column or column of the first table."),
        new Key("formula", AnyText, "A formula over fields of the same row, instead of a column."),
        new Key("type", new Text([.. Expressions.ValueKinds.Names]), "The type. text for a column if left out; worked out for a formula."),
        new Key("title", AnyText, "The name that viewers see. Made from the field's own name if left out."),
        new Key("description", AnyText, "What the field means, for the reader."),
        new Key("format", AnyText, "How a value is written: integer, decimal, percent, money, or a pattern such as \"0.0 min\"."),
        new Key("concept", AnyText, "What the field is about; fields of different datasets with one concept filter each other."));

    private static readonly Keys Measure = new(
        new Key("formula", AnyText, "A formula over many rows.", Required: true),
        new Key("title", AnyText, "The name that viewers see."),
        new Key("description", AnyText, "What the measure means, for the reader."),
        new Key("format", AnyText, "How a value is written: integer, decimal, percent, money, or a pattern."));

    /// <summary>datasets/*.yaml</summary>
    public static Keys Dataset { get; } = new(
        new Key("dataset", AnyText, "The dataset's name.", Required: true),
        new Key("title", AnyText, "The name that people see."),
        new Key("description", AnyText, "What a row is."),
        new Key("source", AnyText, "The source that holds it.", Required: true),
        new Key("from", AnyText, "The table whose rows are the dataset's rows.", Required: true),
        new Key("joins", new ListOf(new Keys(
            new Key("table", AnyText, "The table to look up.", Required: true),
            new Key("on", AnyText, "The key: table.column = table.column, several with AND. Each row must find at most one.", Required: true))), "Tables that add columns to each row."),
        new Key("filter", AnyText, "A condition that every row of the dataset meets."),
        new Key("fields", new MapOf(Field), "The fields by name.", Required: true),
        new Key("measures", new MapOf(Measure), "The measures by name."));

    private static readonly Keys Place = new(
        new Key("column", new Whole(0, 11), "The first of twelve columns that it covers, from 0.", Required: true),
        new Key("row", new Whole(0, 500), "The first row that it covers, from 0.", Required: true),
        new Key("width", new Whole(1, 12), "How many columns it covers.", Required: true),
        new Key("height", new Whole(1, 40), "How many rows it covers.", Required: true));

    private static readonly Keys Tile = new(
        new Key("tile", AnyText, "The tile's name, unique on the dashboard.", Required: true),
        new Key("picture", new Text([.. Pictures]), "The kind of drawing.", Required: true),
        new Key("title", AnyText, "The title. Made from what it shows if left out."),
        new Key("description", AnyText, "What the reader should know about it."),
        new Key("dataset", AnyText, "The dataset that it is over."),
        new Key("show", Names, "The measure or measures."),
        new Key("by", Names, "The field or fields that it is grouped by; a date at a grain: departed.month."),
        new Key("split", AnyText, "The field that gives each series its colour."),
        new Key("top", new Keys(
            new Key("count", new Whole(1, 1000), "How many members stay.", Required: true),
            new Key("rest", new Flag(), "Whether the others are gathered into one member. false if left out.")), "Only the leading members."),
        new Key("sort", new Keys(
            new Key("by", AnyText, "A measure that is shown, or a field that it is grouped by.", Required: true),
            new Key("order", new Text("ascending", "descending"), "ascending if left out.")), "The order of the members."),
        new Key("change", new Keys(
            new Key("on", AnyText, "A date field at a grain: departed.month.", Required: true)), "For a number: show the newest period and the change on the one before."),
        new Key("totals", new Flag(), "For a table: a line of totals. false if left out."),
        new Key("text", AnyText, "For a text: what it says; blank lines part paragraphs."),
        new Key("pick", new Text("one", "many", "none"), "How many members a viewer can pick on it."),
        new Key("drives", new Either(new Text("tab", "dashboard", "none"), new ListOf(AnyText)), "Which tiles its selection filters: those on its tab, all, none, or a list. tab if left out."),
        new Key("follows", new Either(new Text("all", "none"), new ListOf(AnyText)), "Whose selections filter it: all, none, or a list. all if left out."),
        new Key("place", Place, "Where it stands.", Required: true));

    /// <summary>dashboards/*.yaml</summary>
    public static Keys Dashboard { get; } = new(
        new Key("dashboard", AnyText, "The dashboard's name.", Required: true),
        new Key("title", AnyText, "The name that viewers see."),
        new Key("description", AnyText, "One or two sentences for the list of dashboards."),
        new Key("tabs", new ListOf(new Keys(
            new Key("tab", AnyText, "The tab's name, unique on the dashboard.", Required: true),
            new Key("title", AnyText, "The name that viewers see."),
            new Key("tiles", new ListOf(Tile), "The tiles.", Required: true))), "The sheets of the dashboard.", Required: true));

    /// <summary>access.yaml</summary>
    public static Keys Access { get; } = new(
        new Key("roles", new MapOf(new Keys(
            new Key("title", AnyText, "The role in words."),
            new Key("reads", new MapOf(new Either(new Text("all"), new Keys(
                new Key("where", AnyText, "The condition that a row must meet; user.x is an attribute of the viewer."),
                new Key("hides", new ListOf(AnyText), "Fields and measures that the role does not see.")))), "The datasets that the role may read: all rows, or some."),
            new Key("may", new ListOf(new Text([.. Acts.All])), "Acts beyond reading."))), "What each role grants. Nothing is granted otherwise.", Required: true),
        new Key("checks", new ListOf(new Keys(
            new Key("as", new Keys(
                new Key("roles", new ListOf(AnyText), "The roles of the viewer to check.", Required: true),
                new Key("attributes", new MapOf(Names), "The attributes of the viewer to check.")), "A viewer made up for the check.", Required: true),
            new Key("dataset", AnyText, "The dataset to look at.", Required: true),
            new Key("only", AnyText, "A condition that every row the viewer gets must meet.", Required: true))), "Proofs, run by weir check --connect."));

    /// <summary>The kind of each file by its path, for the check and for editors.</summary>
    public static IReadOnlyList<(string Pattern, string Name, Keys Shape)> Files { get; } =
    [
        ("workspace.yaml", "workspace", Workspace),
        ("access.yaml", "access", Access),
        ("sources/*.yaml", "source", Source),
        ("datasets/*.yaml", "dataset", Dataset),
        ("dashboards/*.yaml", "dashboard", Dashboard),
    ];
}

/// <summary>What a role may allow beyond reading.</summary>
public static class Acts
{
    /// <summary>Fetch, check and publish definitions.</summary>
    public const string Publish = "publish";

    /// <summary>See the service as another viewer does.</summary>
    public const string LookAs = "look-as";

    /// <summary>Every act there is.</summary>
    public static IReadOnlyList<string> All { get; } = [Publish, LookAs];
}
