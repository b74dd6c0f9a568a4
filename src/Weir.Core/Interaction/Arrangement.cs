using Weir.Core.Definitions;

namespace Weir.Core.Interaction;

/// <summary>A dashboard as one viewer has it before them: tabs and tiles in the viewer's own order and places.</summary>
public sealed record Arrangement(IReadOnlyList<ArrangedTab> Tabs)
{
    /// <summary>What the viewer may change of it, as its developer says.</summary>
    public Changes May { get; init; } = Changes.All;

    /// <summary>All tiles of all tabs, hidden ones too.</summary>
    public IEnumerable<ArrangedTile> Tiles => Tabs.SelectMany(t => t.Tiles);

    /// <summary>The tab on which each tile stands.</summary>
    public IReadOnlyDictionary<string, string> TabOf() =>
        Tabs.SelectMany(t => t.Tiles.Select(x => (x.Tile.Name, Tab: t.Name))).ToDictionary(x => x.Name, x => x.Tab);

    /// <summary>The arrangement that the developer published: what a viewer without a personal view gets.</summary>
    public static Arrangement Opening(Dashboard dashboard) =>
        new([
            .. dashboard.Tabs.Select(t =>
            {
                // Among those that the viewer may see, so that tiles that flow leave no hole for one that is withheld.
                var flowing = TabFlow.Of(t, t.Tiles);
                return new ArrangedTab(
                    t.Name,
                    t.Title,
                    Own: false,
                    [
                        .. t.Tiles.Select(x => new ArrangedTile(x, flowing.GetValueOrDefault(x.Name, x.Place), Hidden: false)
                        {
                            Section = x.Section,
                            May = x.May,
                        }),
                    ]
                )
                {
                    Area = t.Area,
                    Sections = t.Sections,
                    Columns = t.Columns,
                    Fit = t.Fit,
                    May = t.May,
                };
            }),
        ])
        {
            May = dashboard.May,
        };
}

/// <summary>A tab; <see cref="Own"/> if the viewer added it.</summary>
public sealed record ArrangedTab(string Name, string Title, bool Own, IReadOnlyList<ArrangedTile> Tiles)
{
    /// <summary>True if the viewer does not want to see it.</summary>
    public bool Hidden { get; init; }

    /// <summary>The area that it belongs to; null where the dashboard has none.</summary>
    public string? Area { get; init; }

    /// <summary>Its parts that fold.</summary>
    public IReadOnlyList<TabSection> Sections { get; init; } = [];

    /// <summary>Into how many columns its tiles were put to flow last; null if they have places.</summary>
    public int? Columns { get; init; }

    /// <summary>How much room it gives its tiles.</summary>
    public Fit Fit { get; init; }

    /// <summary>What the viewer may change on it.</summary>
    public Changes May { get; init; } = Changes.All;
}

/// <summary>A tile where the viewer has put it.</summary>
public sealed record ArrangedTile(Tile Tile, Place Place, bool Hidden)
{
    /// <summary>The section in whose grid its place is; null for none.</summary>
    public string? Section { get; init; }

    /// <summary>What the viewer may change about it.</summary>
    public Changes May { get; init; } = Changes.All;

    /// <summary>True if the viewer added it: a tile of a catalogue, or a copy.</summary>
    public bool Own { get; init; }

    /// <summary>The title that the viewer gave it; null for its own.</summary>
    public string? Title { get; init; }

    /// <summary>How the viewer has it drawn in this view; null for as its developer has it.</summary>
    public Drawing? Drawing { get; init; }

    /// <summary>How the columns of its table stand; null for as it is defined.</summary>
    public TableColumns? Columns { get; init; }
}

/// <summary>How the columns of a table stand where a viewer has put them otherwise than it is defined. They are called as in a result.</summary>
/// <param name="Order">Those that come first, in their order; others come after them as they are defined.</param>
/// <param name="Hidden">Those that are not shown.</param>
/// <param name="Pinned">Those that stay in sight while others scroll.</param>
/// <param name="Widths">Those that are not as wide as they need.</param>
/// <param name="Sorted">Those that its lines are sorted by, the first before the second.</param>
/// <param name="Filters">What its lines have to meet. It may name members of fields, and so is told to nobody but whoever said it.</param>
public sealed record TableColumns(
    IReadOnlyList<string>? Order = null,
    IReadOnlyList<string>? Hidden = null,
    IReadOnlyList<string>? Pinned = null,
    IReadOnlyList<ColumnWidth>? Widths = null,
    IReadOnlyList<ColumnSort>? Sorted = null,
    IReadOnlyList<LineFilter>? Filters = null
)
{
    private const int Most = 200;
    internal const int MostMembers = 1_000;

    /// <summary>False where it was read from JSON with null in the place of a name, or has more than any table.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool IsWhole =>
        Drawing.Names(Order, Most)
        && Drawing.Names(Hidden, Most)
        && Drawing.Names(Pinned, Most)
        && (Widths is null || Drawing.Names([.. Widths.Select(w => w?.Column!)], Most) && Widths.All(w => w.Width is >= 20 and <= 2_000))
        && (Sorted is null || Drawing.Names([.. Sorted.Select(s => s?.Column!)], Most) && Sorted.All(s => Drawing.IsName(s.Under)))
        && (
            Filters is null
            || Filters.Count <= Most && Filters.All(f => f is { IsWhole: true }) && Filters.Sum(f => f.Among?.Count ?? 0) <= MostMembers
        );

    /// <summary>True if it says nothing.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool IsEmpty =>
        (Order ?? []).Count
            + (Hidden ?? []).Count
            + (Pinned ?? []).Count
            + (Widths ?? []).Count
            + (Sorted ?? []).Count
            + (Filters ?? []).Count
        == 0;

    /// <summary>The same without what may name a member of a field, which others may not see.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public TableColumns WithoutMembers => this with { Sorted = Sorted?.Where(s => s.Under is null).ToList(), Filters = null };

    /// <summary>True if columns stand alike in both.</summary>
    public static bool AreAlike(TableColumns? one, TableColumns? other)
    {
        var (a, b) = (one ?? new(), other ?? new());
        return Same(a.Order, b.Order)
            && Same(a.Hidden, b.Hidden)
            && Same(a.Pinned, b.Pinned)
            && Same(a.Widths, b.Widths)
            && HaveLinesAlike(a, b);
    }

    /// <summary>True if lines are sorted and filtered alike in both.</summary>
    public static bool HaveLinesAlike(TableColumns? one, TableColumns? other) =>
        Same(one?.Sorted, other?.Sorted) && Same(one?.Filters, other?.Filters);

    /// <summary>The same of only some columns, by other names where they have some.</summary>
    /// <param name="name">The name of a column by its present one; null to leave it out.</param>
    public TableColumns Of(Func<string, string?> name)
    {
        IReadOnlyList<string>? Named(IReadOnlyList<string>? columns) => columns is null ? null : [.. columns.Select(name).OfType<string>()];
        return new(
            Named(Order),
            Named(Hidden),
            Named(Pinned),
            Widths is null
                ? null
                : [.. Widths.Select(w => name(w.Column) is { } column ? w with { Column = column } : null).OfType<ColumnWidth>()],
            Sorted is null
                ? null
                : [.. Sorted.Select(s => name(s.Column) is { } column ? s with { Column = column } : null).OfType<ColumnSort>()],
            Filters is null
                ? null
                : [.. Filters.Select(f => name(f.Column) is { } column ? f with { Column = column } : null).OfType<LineFilter>()]
        );
    }

    private static bool Same<T>(IReadOnlyList<T>? one, IReadOnlyList<T>? other) => (one ?? []).SequenceEqual(other ?? []);
}

/// <summary>A column and how wide it is, in pixels.</summary>
public sealed record ColumnWidth(string Column, int Width);

/// <summary>A column that the lines of a table are sorted by, and whether downwards.</summary>
/// <param name="Under">In a cross table, the member under which its figures stand, as it is written; null for those over all.</param>
public sealed record ColumnSort(string Column, bool Descending = false, string? Under = null);

/// <summary>What the lines of a table have to meet in one column, as what stands there is written; null for what is not asked.</summary>
/// <param name="Contains">A piece of the text.</param>
/// <param name="Begins">What the text begins with.</param>
/// <param name="Among">The texts that it may be.</param>
/// <param name="Least">The least figure, included.</param>
/// <param name="Most">The greatest figure, included.</param>
/// <param name="From">The first day, as 2025-01-31.</param>
/// <param name="To">The last day, included.</param>
/// <param name="Flag">Yes or no.</param>
/// <param name="Missing">True for only what is not given.</param>
public sealed record LineFilter(
    string Column,
    string? Contains = null,
    string? Begins = null,
    IReadOnlyList<string>? Among = null,
    double? Least = null,
    double? Most = null,
    string? From = null,
    string? To = null,
    bool? Flag = null,
    bool? Missing = null
)
{
    /// <summary>False where it was read from JSON with null in the place of a name, or is longer than any that is said by hand.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool IsWhole =>
        Drawing.Names([Column], 1)
        && Drawing.Names(Among, TableColumns.MostMembers)
        && new[] { Contains, Begins, From, To }.All(Drawing.IsName)
        && (Least is null || double.IsFinite(Least.Value))
        && (Most is null || double.IsFinite(Most.Value));

    /// <inheritdoc/>
    public bool Equals(LineFilter? other) =>
        other is not null
        && (Column, Contains, Begins, Least, Most, From, To)
            == (other.Column, other.Contains, other.Begins, other.Least, other.Most, other.From, other.To)
        && (Flag, Missing) == (other.Flag, other.Missing)
        && (Among ?? []).SequenceEqual(other.Among ?? []);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Column, Contains, Begins, Least, Most, From, To, Among?.Count);
}

/// <summary>What a viewer has a tile show otherwise; null for what stays as it is defined.</summary>
/// <param name="Picture">The kind of picture.</param>
/// <param name="Show">The measures.</param>
/// <param name="By">The fields that it is grouped by, dates at a grain.</param>
/// <param name="Split">The field of the series; empty for none.</param>
/// <param name="Sort">The measure or field that orders it; empty for the natural order.</param>
/// <param name="Descending">Whether that order goes down.</param>
/// <param name="Top">How many leading members stay; 0 for all.</param>
/// <param name="Rest">Whether the others are gathered into one.</param>
/// <param name="Without">The series that the viewer hides by the legend, as it names them. They may be members of a field, and so are told to
/// nobody but whoever hid them.</param>
public sealed record Drawing(
    string? Picture = null,
    IReadOnlyList<string>? Show = null,
    IReadOnlyList<string>? By = null,
    string? Split = null,
    string? Sort = null,
    bool Descending = false,
    int? Top = null,
    bool Rest = false,
    IReadOnlyList<string>? Without = null
)
{
    /// <summary>False where it was read from JSON with null in the place of a name, or has more of them than any picture.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool IsWhole => Names(Show, 20) && Names(By, 20) && Names(Without, 200) && IsName(Picture) && IsName(Split) && IsName(Sort);

    internal static bool Names(IReadOnlyList<string>? list, int most) =>
        list is null || list.Count <= most && list.All(n => n is not null && IsName(n));

    internal static bool IsName(string? name) => name is null || name.Length <= 200;

    /// <summary>True if it says nothing.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool IsEmpty =>
        this is { Picture: null, Show: null, By: null, Split: null, Sort: null, Top: null, Without: null or { Count: 0 } };
}
