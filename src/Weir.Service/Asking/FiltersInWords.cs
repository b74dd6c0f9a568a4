using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Results;
using Weir.Service.Api;

namespace Weir.Service.Asking;

/// <summary>What filters a tile, and what does not and why, in words: the one place that writes such sentences.</summary>
internal sealed class FiltersInWords(OpenDashboard open, PickedNames names)
{
    /// <summary>The filters of a tile in words.</summary>
    public FiltersInfo Of(TileFilters filters)
    {
        var tabs = open.Arrangement.Tabs.ToDictionary(t => t.Name, t => t.Title);
        var tabOf = open.Arrangement.TabOf();
        string Title(string tile) => open.TitleOf(tile);
        return new FiltersInfo(
            [
                .. filters.Applied.Select(f => new AppliedInfo(
                    f.Selection.Tile,
                    Title(f.Selection.Tile),
                    tabs[tabOf[f.Selection.Tile]],
                    FieldsOf(f.Selection),
                    Members(f.Selection),
                    [.. f.Fields.Select(a => a.Field).Distinct()]
                )),
            ],
            [
                .. filters.NotApplied.Select(f => new NotAppliedInfo(
                    f.Selection.Tile,
                    Title(f.Selection.Tile),
                    f.Reason.ToString(),
                    Sentence(f.Reason, Title(f.Selection.Tile))
                )),
            ]
        );
    }

    /// <summary>A selection as a sentence: what is picked, and where.</summary>
    public string SentenceOf(Selection selection) =>
        $"{FieldsOf(selection)}: {string.Join(", ", Members(selection))} (picked on {open.TitleOf(selection.Tile)})";

    /// <summary>What is picked on a tile; all if nothing is.</summary>
    public string PickedOn(string tile, IReadOnlyList<Selection> selections) =>
        selections.FirstOrDefault(s => s.Tile == tile) is { } selection && (!selection.IsEmpty || selection.Path.Count > 0)
            ? string.Join(", ", Members(selection))
            : "All";

    private string FieldsOf(Selection selection) =>
        string.Join(
            " and ",
            Named(selection).Select(b => Titles.OfField(b, open.ScopeOf(open.Tile(selection.Tile)).Fields[b.Field].Title))
        );

    /// <summary>The fields that a selection names: those of the level that it is on, or, where only levels are open, those of its path.</summary>
    private IReadOnlyList<FieldAt> Named(Selection selection) =>
        selection.IsEmpty
            ? [.. Drilling.Levels(open.Tile(selection.Tile)).Take(selection.Path.Count)]
            : selection.FieldsOf(open.Level(selection));

    /// <summary>What is picked in words, a piece for each member.</summary>
    private List<string> Members(Selection selection)
    {
        var (tile, level) = (open.Tile(selection.Tile), open.Level(selection));
        var scope = open.ScopeOf(tile);
        var columns = level.By.Select(b => names.Written(b, scope)).ToList();
        string Write(IReadOnlyList<object?> member) => string.Join(" · ", member.Select((v, i) => Labels.Write(v, columns[i])));
        var members = selection.Members.Select(Write).ToList();
        if (selection.RestOf is { } shown)
            members.Add(
                $"{Labels.Rest} (not {string.Join(", ", shown.Take(3).Select(Write))}{(shown.Count > 3 ? $" and {shown.Count - 3} more" : "")})"
            );
        if (selection.Range is { } range)
            members.Add(
                (selection.Period ?? Range(range, columns[0]))
                    + (selection.Each is { } each ? $" · {string.Join(" or ", each.Select(m => Labels.Write(m, columns[^1])))}" : "")
            );
        if (selection.Contains is { } piece)
            members.Add($"contains “{piece}”");
        if (selection.Excludes)
            members = [.. members.Select(m => $"not {m}")];
        if (tile.Drill is { Drives: true } && selection.Path.Count > 0)
            members.Insert(
                0,
                (selection.IsEmpty ? "" : "within ")
                    + string.Join(" › ", selection.Path.Select((m, i) => Labels.Write(m, names.Written(Drilling.Levels(tile)[i], scope))))
            );
        return members;
    }

    private static string Range(PickedRange range, Column column)
    {
        // The end of dates is excluded; people name the last day that counts.
        string Write(object value) =>
            value is DateTime or DateOnly && Periods.Instant(value).TimeOfDay == TimeSpan.Zero
                ? Periods.Instant(value).ToString("d MMM yyyy", System.Globalization.CultureInfo.InvariantCulture)
                : Labels.Write(value, column with { At = null });
        object Last(object to) =>
            to is DateTime or DateOnly && Periods.Instant(to).TimeOfDay == TimeSpan.Zero ? Periods.Instant(to).AddDays(-1) : to;
        return (range.From, range.To) switch
        {
            ({ } from, { } to) => $"{Write(from)} to {(range.EndsBelow ? "below " : "")}{Write(Last(to))}",
            ({ } from, null) => $"from {Write(from)}",
            (null, { } to) => $"{(range.EndsBelow ? "below" : "up to")} {Write(Last(to))}",
            _ => "all",
        };
    }

    public static string Sentence(NotAppliedReason reason, string driver) =>
        reason switch
        {
            NotAppliedReason.OwnSelection => "A tile is never filtered by its own selection.",
            NotAppliedReason.FollowsNone => "This tile follows no other.",
            NotAppliedReason.NotFollowed => $"This tile does not follow {driver}.",
            NotAppliedReason.OtherGroup => $"{driver} filters its own group only.",
            NotAppliedReason.OtherTab => $"{driver} filters its own tab only.",
            NotAppliedReason.NotDriven => $"{driver} does not drive this tile.",
            _ => $"The data of this tile have no field that means what is picked on {driver}.",
        };
}
