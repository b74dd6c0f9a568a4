using Weir.Core.Expressions;

namespace Weir.Core.Definitions;

/// <summary>A checked workspace: every name resolved, every formula typed.</summary>
public sealed record Workspace(
    string Name,
    string Title,
    string TimeZone,
    DayOfWeek WeekStart,
    string Money,
    IReadOnlyDictionary<string, Source> Sources,
    IReadOnlyDictionary<string, Dataset> Datasets,
    IReadOnlyDictionary<string, Dashboard> Dashboards,
    Access Access
)
{
    /// <summary>
    /// The catalogues by name: those with a file of their own, and dashboards that offer their tiles.
    /// </summary>
    public IReadOnlyDictionary<string, Catalogue> Catalogues { get; init; } = new Dictionary<string, Catalogue>();

    /// <summary>The files that tiles show, by path.</summary>
    public IReadOnlyDictionary<string, Attachment> Attachments { get; init; } = new Dictionary<string, Attachment>();

    /// <summary>Colours and logo of the house; null for the usual look.</summary>
    public WorkspaceLook? Look { get; init; }

    /// <summary>The arrangements that viewers find dashboards in, in the order of their names.</summary>
    public IReadOnlyList<OpeningView> OpeningViews { get; init; } = [];

    /// <summary>What is made of dashboards for taking along, by name.</summary>
    public IReadOnlyDictionary<string, Report> Reports { get; init; } = new Dictionary<string, Report>();
}

/// <summary>A named set of shared tiles, which dashboards and viewers place.</summary>
/// <param name="Tiles">The tiles; where each stands is said by whoever places it.</param>
public sealed record Catalogue(string Name, string Title, string? Description, IReadOnlyList<Tile> Tiles)
{
    /// <summary>The dashboard whose tiles these are; null for a catalogue with a file of its own.</summary>
    public string? OfDashboard { get; init; }

    /// <summary>Tiles that are written but have a fault of their own: whoever places one has none.</summary>
    internal IReadOnlySet<string> Broken { get; init; } = new HashSet<string>();
}

/// <summary>A table of one source, with others joined to it, as typed fields and named measures.</summary>
/// <remarks>Can't be queried as it is: a query is planned over a <see cref="Core.Access.Scope"/> only.</remarks>
public sealed record Dataset(
    string Name,
    string Title,
    string? Description,
    string Source,
    DatasetRows From,
    IReadOnlyList<Join> Joins,
    IReadOnlyDictionary<string, Field> Fields,
    IReadOnlyDictionary<string, Measure> Measures,
    Bound? Filter
)
{
    /// <summary>The parameters that its formulas and its query may name.</summary>
    public IReadOnlyDictionary<string, Parameter> Parameters { get; init; } = new Dictionary<string, Parameter>();

    /// <summary>Which rows are totals of others, and so left out of figures; null if none are.</summary>
    public Bound? Totals { get; init; }

    /// <summary>Fields and measures that are written but have a fault of their own: whoever names them has none.</summary>
    internal IReadOnlySet<string> Faulty { get; init; } = new HashSet<string>();

    /// <summary>False if its engine has no percentiles that go with grouping.</summary>
    public bool HasPercentiles { get; init; } = true;

    /// <summary>How long an answer may be kept before it is asked for again.</summary>
    public Freshness Freshness { get; init; } = new(300, null);
}

/// <summary>How the age of kept answers is bounded.</summary>
/// <param name="Seconds">The longest age of an answer, in seconds; 0 to ask each time.</param>
/// <param name="Query">A query of one value that changes when the data change; null if there is none.</param>
public sealed record Freshness(int Seconds, QueryText? Query);

/// <summary>Where rows come from: a table of the source, or the developer's own query. Columns name it by its alias.</summary>
public abstract record DatasetRows(string Alias)
{
    /// <summary>About how many of a hundred rows are looked at, drawn at random for each question; null for all.</summary>
    public int? Sample { get; init; }

    /// <summary>A table.</summary>
    /// <param name="Schema">Its schema; null for the one that the source looks in.</param>
    public sealed record Table(string? Schema, string Name, string Alias) : DatasetRows(Alias)
    {
        /// <summary>Reads <c>table</c> or <c>schema.table</c>; the alias is the table's name unless another is given.</summary>
        public static Table Parse(string written, string? alias = null)
        {
            var dot = written.LastIndexOf('.');
            var name = written[(dot + 1)..];
            return new Table(dot < 0 ? null : written[..dot], name, alias ?? name);
        }
    }

    /// <summary>A SELECT that the developer wrote, with values bound where it names parameters.</summary>
    public sealed record Query(QueryText Text, string Alias) : DatasetRows(Alias);
}

/// <summary>A table looked up by key; at most one row for each row of the dataset.</summary>
public sealed record Join(DatasetRows.Table Table, IReadOnlyList<(Bound.Column Left, Bound.Column Right)> On)
{
    /// <summary>Where it begins in its file.</summary>
    public int Line { get; init; } = 1;
}

/// <summary>A value of one row.</summary>
/// <param name="Uses">The other fields that its formula names, directly or through others.</param>
public sealed record Field(
    string Name,
    string Title,
    string? Description,
    Bound Formula,
    string? Format,
    string? Concept,
    IReadOnlySet<string> Uses
)
{
    /// <summary>Where it begins in its file.</summary>
    public int Line { get; init; } = 1;

    /// <summary>The column that it is read from; null for a formula.</summary>
    public Bound.Column? ReadFrom { get; init; }

    /// <summary>The unit of its values, for the reader.</summary>
    public string? Unit { get; init; }

    /// <summary>How its dates are written, by grain; that of "" where no grain is asked for.</summary>
    public IReadOnlyDictionary<string, Results.DatePattern> Patterns { get; init; } = new Dictionary<string, Results.DatePattern>();

    /// <summary>Its members in the order in which they are shown, those not named after them; null for the natural order.</summary>
    public IReadOnlyList<object>? Order { get; init; }

    /// <summary>The names of its codes, for reading only: its values are the codes, in formulas, rules, selections and links alike.</summary>
    public IReadOnlyDictionary<object, string> Names { get; init; } = new Dictionary<object, string>();

    /// <summary>The names by the codes as they are written in results; null if there are none.</summary>
    public IReadOnlyDictionary<string, string>? WrittenNames =>
        Names.Count > 0 ? Names.ToDictionary(n => Values.Write(n.Key), n => n.Value) : null;

    /// <summary>The column that has the name of each of its values, for reading only as <see cref="Names"/> are; null if there is none.</summary>
    public Bound? NamedBy { get; init; }

    /// <summary>True if its values are codes or keys that are shown and searched by names.</summary>
    public bool HasNames => Names.Count > 0 || NamedBy is not null;

    /// <summary>Fixed colours of known members, by their values, the same on every tile.</summary>
    public IReadOnlyDictionary<string, string> Colours { get; init; } = new Dictionary<string, string>();

    /// <summary>What the developer wants counted about it, for the report on quality.</summary>
    public FieldQuality Quality { get; init; } = new(null, null, null);

    /// <summary>Its type.</summary>
    public ValueKind Kind => Formula.Kind;
}

/// <summary>Conditions on rows that tell how good a field's values are.</summary>
/// <param name="Unfit">The column has a value, but it does not fit the type.</param>
/// <param name="Missing">The value is missing, before a rule fills it or leaves its row out.</param>
/// <param name="Unmatched">The code that no name is known for, if it has none.</param>
public sealed record FieldQuality(Bound? Unfit, Bound? Missing, Bound? Unmatched);

/// <summary>A value over many rows.</summary>
/// <param name="FormulaText">The formula as written, for the reader.</param>
/// <param name="Uses">The fields and measures that its formula names, directly or through others.</param>
public sealed record Measure(
    string Name,
    string Title,
    string? Description,
    Bound Formula,
    string FormulaText,
    string? Format,
    IReadOnlySet<string> Uses
)
{
    /// <summary>How its dates are written: that of "", if there is one.</summary>
    public IReadOnlyDictionary<string, Results.DatePattern> Patterns { get; init; } = new Dictionary<string, Results.DatePattern>();

    /// <summary>True if the values of disjoint groups add up to the value of all: sums and counts, and sums of those.</summary>
    public bool IsAdditive => Adds(Formula);

    private static bool Adds(Bound formula) =>
        formula switch
        {
            Bound.Aggregate a => a.Function is AggregateFunction.Sum or AggregateFunction.Count or AggregateFunction.CountRows,
            Bound.Op { Operation: Operation.Add or Operation.Subtract or Operation.Negate } op => op.Arguments.All(Adds),
            _ => false,
        };
}

/// <summary>A page of tabs and tiles.</summary>
public sealed record Dashboard(string Name, string Title, string? Description, IReadOnlyList<Tab> Tabs)
{
    /// <summary>All tiles of all tabs.</summary>
    public IEnumerable<Tile> Tiles => Tabs.SelectMany(t => t.Tiles);

    /// <summary>Choices of the viewer that change how its tiles are drawn, and no rows.</summary>
    public IReadOnlyList<Parameter> Parameters { get; init; } = [];

    /// <summary>True if picks are collected until the viewer applies them.</summary>
    public bool AppliesOnButton { get; init; }

    /// <summary>The areas that its tabs belong to; none if it has one level of tabs only.</summary>
    public IReadOnlyList<Area> Areas { get; init; } = [];

    /// <summary>Where its data come from, as CommonMark; null if that is not said.</summary>
    public string? Origin { get; init; }

    /// <summary>True if viewers may place its tiles elsewhere, one by one: it is a catalogue, too.</summary>
    public bool OffersTiles { get; init; }

    /// <summary>The catalogues from which its viewer may add tiles; none until the viewer's rights are known.</summary>
    public IReadOnlyList<Catalogue> Catalogues { get; init; } = [];

    /// <summary>What viewers may change in their own views of it.</summary>
    public Changes May { get; init; } = Changes.All;

    /// <summary>The dashboard as choices of its parameters have it.</summary>
    /// <param name="chosen">The choice for each parameter by name.</param>
    public Dashboard With(IReadOnlyDictionary<string, string> chosen) =>
        Parameters.Count == 0
            ? this
            : this with
            {
                Tabs = [.. Tabs.Select(t => t with { Tiles = [.. t.Tiles.Select(x => x.With(chosen))] })],
            };

    /// <summary>The group of a name; null if there is none.</summary>
    public TileGroup? GroupNamed(string? name) => name is null ? null : Tabs.SelectMany(t => t.Groups).FirstOrDefault(g => g.Name == name);
}

/// <summary>A sheet of a dashboard.</summary>
public sealed record Tab(string Name, string Title, IReadOnlyList<Tile> Tiles)
{
    /// <summary>The groups that frame some of its tiles.</summary>
    public IReadOnlyList<TileGroup> Groups { get; init; } = [];

    /// <summary>The area that it belongs to; null where the dashboard has none.</summary>
    public string? Area { get; init; }

    /// <summary>Its parts that fold, in order, below what stands in none of them.</summary>
    public IReadOnlyList<TabSection> Sections { get; init; } = [];

    /// <summary>Into how many equal columns its tiles flow; null if they have places.</summary>
    public int? Columns { get; init; }

    /// <summary>How much room it gives its tiles.</summary>
    public Fit Fit { get; init; } = Fit.Content;

    /// <summary>What viewers may change on it.</summary>
    public Changes May { get; init; } = Changes.All;

    /// <summary>True if that is said here and not for the dashboard as a whole.</summary>
    public bool SaysMay { get; init; }

    /// <summary>Into how many columns the tiles of a section flow, or those of none; null if they have places.</summary>
    public int? ColumnsOf(string? section) => section is null ? Columns : Sections.FirstOrDefault(s => s.Name == section)?.Columns;
}

/// <summary>A titled frame around some tiles, whose selections filter one another.</summary>
/// <param name="Drives">What the selections of its tiles, taken together, filter outside of it.</param>
public sealed record TileGroup(string Name, string Title, Reach Drives);

/// <summary>One thing on a dashboard.</summary>
public sealed record Tile(
    string Name,
    PictureKind Picture,
    string? Title,
    string? Description,
    string? Dataset,
    IReadOnlyList<string> Show,
    IReadOnlyList<FieldAt> By,
    FieldAt? Split,
    Top? Top,
    Sort? Sort,
    FieldAt? Change,
    bool Totals,
    string? Text,
    Pick Pick,
    Reach Drives,
    Reach Follows,
    Place Place
)
{
    /// <summary>Where it begins in its file.</summary>
    public int Line { get; init; } = 1;

    /// <summary>How its kind is drawn, a word for each key that is one; those that are left out are not there.</summary>
    public IReadOnlyDictionary<string, string> Options { get; init; } = new Dictionary<string, string>();

    /// <summary>True if the last of the fields that it is grouped by is the one for each of whose members its picture is drawn once.</summary>
    public bool Repeats { get; init; }

    /// <summary>The fields that one picture of it is grouped by.</summary>
    public IReadOnlyList<FieldAt> ByOfEach => Repeats ? [.. By.SkipLast(1)] : By;

    /// <summary>Lines and bands at values of its axis.</summary>
    public IReadOnlyList<ReferenceLine> References { get; init; } = [];

    /// <summary>What the tip over a mark says beside the figures; null for these alone.</summary>
    public TipText? Tip { get; init; }

    /// <summary>False if it has no menus and no zoom.</summary>
    public bool HasTools { get; init; } = true;

    /// <summary>How the cells of a table are written; null for as they are.</summary>
    public TableCells? Cells { get; init; }

    /// <summary>The number whose values it tells of, in place of measures; null if it shows measures.</summary>
    public FieldAt? Of { get; init; }

    /// <summary>The field with the label of the parent of each label; null where levels are fields.</summary>
    public FieldAt? Parent { get; init; }

    /// <summary>Whose states it tells of, and when; null for all but movements.</summary>
    public SubjectStates? Subjects { get; init; }

    /// <summary>The small pictures in each of its lines.</summary>
    public IReadOnlyList<SmallCourse> Courses { get; init; } = [];

    /// <summary>The file of the workspace that it shows, by path; null if it shows none.</summary>
    public string? File { get; init; }

    /// <summary>What the file shows, in words for whoever can't see it.</summary>
    public string? Alt { get; init; }

    /// <summary>True if a page asks for it only when somebody wants it.</summary>
    public bool Waits { get; init; }

    /// <summary>How often an open page asks for it again; null if it does not.</summary>
    public int? RefreshSeconds { get; init; }

    /// <summary>The group that it belongs to; null if to none.</summary>
    public string? Group { get; init; }

    /// <summary>The levels that open below the field that it is grouped by; null if there are none.</summary>
    public Drill? Drill { get; init; }

    /// <summary>The ranges that its rows are put into; null if they are grouped by members.</summary>
    public ValueRanges? Ranges { get; init; }

    /// <summary>What is picked when the dashboard is opened; null for nothing.</summary>
    public Opening? Opening { get; init; }

    /// <summary>True if something must always be picked: its opening value where nothing else is.</summary>
    public bool IsRequired { get; init; }

    /// <summary>True if it stands in the side panel of its tab; then its place does not count.</summary>
    public bool IsInPanel { get; init; }

    /// <summary>The section of its tab in which it stands, and whose grid its place is in; null for none.</summary>
    public string? Section { get; init; }

    /// <summary>The tile of a catalogue that it is, as catalogue/tile; null if it is defined where it stands.</summary>
    public string? SharedAs { get; init; }

    /// <summary>What viewers may change about it.</summary>
    public Changes May { get; init; } = Changes.All;

    /// <summary>True if that is said of it or of what it stands in, and not for the dashboard as a whole.</summary>
    public bool SaysMay { get; init; }

    /// <summary>The parameters of the dashboard that it names, in order.</summary>
    public IReadOnlyList<string> Uses { get; init; } = [];

    /// <summary>Itself for each combination of choices of <see cref="Uses"/>, every one checked; none if it names none.</summary>
    public IReadOnlyDictionary<string, Tile> Variants { get; init; } = new Dictionary<string, Tile>();

    /// <summary>All that it can be: its variants, or itself.</summary>
    public IEnumerable<Tile> Every => Variants.Count == 0 ? [this] : Variants.Values;

    /// <summary>The variant for some choices.</summary>
    public Tile With(IReadOnlyDictionary<string, string> chosen) =>
        Variants.Count == 0 ? this : Variants[KeyOf(Uses.Select(u => chosen[u]))];

    /// <summary>Itself and all its variants, changed alike.</summary>
    public Tile Changed(Func<Tile, Tile> change) =>
        change(this) with
        {
            Variants = Variants.ToDictionary(v => v.Key, v => change(v.Value)),
        };

    /// <summary>Under what a variant is found.</summary>
    public static string KeyOf(IEnumerable<string> choices) => string.Join('\n', choices);

    /// <summary>The fields that it can't stand without.</summary>
    public IEnumerable<FieldAt> NeededFields =>
        Groups.Append(Change).Append(Of).Append(Parent).Append(Subjects?.Each).Append(Subjects?.Along).OfType<FieldAt>();

    /// <summary>Every field that it names, those of levels that open too.</summary>
    public IEnumerable<FieldAt> NamedFields => NeededFields.Concat(Drill?.To ?? []).Concat(Courses.Select(c => c.Along));

    /// <summary>Every measure that it names: shown, told in tips, drawn small, or at which it has a line.</summary>
    public IEnumerable<string> NamedMeasures =>
        Show.Concat(Tip?.Measures ?? []).Concat(Courses.Select(c => c.Measure)).Concat(References.Select(r => r.Measure).OfType<string>());

    /// <summary>The fields it is grouped by, the split last.</summary>
    public IReadOnlyList<FieldAt> Groups => Split is null ? By : [.. By, Split];
}

/// <summary>What is picked on a tile when its dashboard is opened.</summary>
/// <param name="IsNewest">True for the newest day or period of a date, which the data tell.</param>
/// <param name="Members">Each a value for every field that the tile is grouped by.</param>
/// <param name="From">The start of a range, included; null if open.</param>
/// <param name="To">Its end, of dates excluded, of numbers included; null if open.</param>
/// <param name="Period">A relative period.</param>
/// <param name="Contains">A piece of text.</param>
public sealed record Opening(
    bool IsNewest,
    IReadOnlyList<IReadOnlyList<object?>> Members,
    object? From,
    object? To,
    string? Period,
    string? Contains
)
{
    /// <summary>Of a range on a tile that is drawn for each member of a field: the members in whose pictures it lies; null for all of them.</summary>
    public IReadOnlyList<object?>? Each { get; init; }
}

/// <summary>Levels of a hierarchy below the field that a tile is grouped by.</summary>
/// <param name="To">The fields of the levels, the next one first.</param>
/// <param name="Drives">True if the path that a viewer opened also filters what the tile drives.</param>
public sealed record Drill(IReadOnlyList<FieldAt> To, bool Drives);

/// <summary>A field, or a date field at a grain or part.</summary>
public sealed record FieldAt(string Field, string? Member)
{
    /// <summary>Reads <c>departed.month</c>.</summary>
    public static FieldAt Parse(string text)
    {
        var dot = text.IndexOf('.');
        return dot < 0 ? new FieldAt(text, null) : new FieldAt(text[..dot], text[(dot + 1)..]);
    }

    /// <summary>As it is written in a definition.</summary>
    public override string ToString() => Member is null ? Field : $"{Field}.{Member}";
}

/// <summary>Only the leading members, ranked by the first measure; the others dropped or gathered into one.</summary>
public sealed record Top(int Count, bool Rest);

/// <summary>The order of members by a measure or a grouping field.</summary>
public sealed record Sort(string By, bool Descending);

/// <summary>What can be picked on a tile.</summary>
public enum Pick
{
    /// <summary>Nothing.</summary>
    None,

    /// <summary>One member.</summary>
    One,

    /// <summary>Any members.</summary>
    Many,

    /// <summary>A range of dates or numbers, or members.</summary>
    Range,

    /// <summary>A piece of text that members contain.</summary>
    Text,
}

/// <summary>Which tiles are meant by <c>drives</c> or <c>follows</c>.</summary>
/// <param name="Kind">tab, dashboard, group, all, none or list.</param>
/// <param name="Tiles">The tiles of a list.</param>
public sealed record Reach(string Kind, IReadOnlyList<string> Tiles)
{
    /// <summary>True if it means the tile by name, or everything.</summary>
    public bool Names(string tile) => Kind == "list" ? Tiles.Contains(tile) : Kind is "all" or "dashboard" or "tab";
}

/// <summary>Where a tile stands in the grid of twelve columns, counted from 0.</summary>
public sealed record Place(int Column, int Row, int Width, int Height)
{
    /// <summary>True if both cover a cell.</summary>
    public bool Overlaps(Place other) =>
        Column < other.Column + other.Width && other.Column < Column + Width && Row < other.Row + other.Height && other.Row < Row + Height;
}

/// <summary>What each role grants.</summary>
public sealed record Access(IReadOnlyDictionary<string, Role> Roles, IReadOnlyList<AccessCheck> Checks)
{
    /// <summary>
    /// True if roles grant dashboards by name: then nothing else opens one. If none does, a dashboard is there, with every act, for
    /// whoever reads one of its datasets.
    /// </summary>
    public bool GrantsDashboards => Roles.Values.Any(r => r.Dashboards.Count > 0);

    /// <summary>True if roles grant catalogues by name: then nothing else opens one.</summary>
    public bool GrantsCatalogues => Roles.Values.Any(r => r.Catalogues.Count > 0);

    /// <summary>Whom reports may reach who have no account, by name.</summary>
    public IReadOnlyDictionary<string, OutsideReader> Outside { get; init; } = new Dictionary<string, OutsideReader>();
}

/// <summary>What a viewer is: grants datasets, rows, fields and acts.</summary>
public sealed record Role(string Name, string Title, IReadOnlyDictionary<string, Grant> Reads, IReadOnlySet<string> May)
{
    /// <summary>
    /// The acts that it grants by dashboard, or by dashboard/area; those under <see cref="DashboardActs.Every"/> hold for every one.
    /// </summary>
    public IReadOnlyDictionary<string, IReadOnlySet<string>> Dashboards { get; init; } = new Dictionary<string, IReadOnlySet<string>>();

    /// <summary>The catalogues that it grants by name; all under <see cref="DashboardActs.Every"/>.</summary>
    public IReadOnlySet<string> Catalogues { get; init; } = new HashSet<string>();

    /// <summary>True if it grants a catalogue.</summary>
    public bool GrantsCatalogue(string catalogue) => Catalogues.Contains(catalogue) || Catalogues.Contains(DashboardActs.Every);

    /// <summary>
    /// What it lets viewers change, by dashboard or under <see cref="DashboardActs.Every"/>, in place of what the dashboard says as a whole.
    /// </summary>
    public IReadOnlyDictionary<string, Changes> MayChange { get; init; } = new Dictionary<string, Changes>();

    /// <summary>What it lets viewers change of a dashboard; null if it does not say.</summary>
    public Changes? ChangesOn(string dashboard) =>
        MayChange.TryGetValue(dashboard, out var own) || MayChange.TryGetValue(DashboardActs.Every, out own) ? own : null;

    /// <summary>True if it grants an act on a dashboard, or on an area of it.</summary>
    public bool Grants(string act, string dashboard) =>
        GrantsWhole(act, dashboard)
        || Dashboards.Any(d => d.Key.StartsWith($"{dashboard}/", StringComparison.Ordinal) && d.Value.Contains(act));

    /// <summary>True if it grants every area of a dashboard.</summary>
    public bool SeesWhole(string dashboard) => GrantsWhole(DashboardActs.See, dashboard);

    /// <summary>True if it grants an area of a dashboard.</summary>
    public bool SeesArea(string dashboard, string area) =>
        SeesWhole(dashboard) || Dashboards.GetValueOrDefault($"{dashboard}/{area}")?.Contains(DashboardActs.See) == true;

    /// <summary>True if it grants an act on all of a dashboard.</summary>
    public bool GrantsWhole(string act, string dashboard) =>
        Dashboards.GetValueOrDefault(dashboard)?.Contains(act) == true
        || Dashboards.GetValueOrDefault(DashboardActs.Every)?.Contains(act) == true;
}

/// <summary>The right of one role to one dataset.</summary>
/// <param name="Where">The condition on rows, null for all rows; may name attributes of the viewer.</param>
/// <param name="Hides">The fields and measures that it hides.</param>
/// <param name="Detail">True if single rows may be seen, not only summaries.</param>
public sealed record Grant(Bound? Where, string? WhereText, IReadOnlySet<string> Hides, bool Detail = false);

/// <summary>A proof to run against the source: all rows that a made-up viewer gets meet a condition.</summary>
public sealed record AccessCheck(
    IReadOnlyList<string> Roles,
    IReadOnlyDictionary<string, IReadOnlyList<string>> Attributes,
    string Dataset,
    Bound Only,
    string OnlyText,
    string File,
    int Line
);
