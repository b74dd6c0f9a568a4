namespace Weir.Core.Definitions;

/// <summary>Names for readers where the developer gave none.</summary>
public static class Titles
{
    /// <summary>English names of months in calendar order, short after long.</summary>
    public static IReadOnlyList<string> Months { get; } = [.. Enumerable.Range(1, 12).SelectMany(m => new[] { System.Globalization.CultureInfo.InvariantCulture.DateTimeFormat.GetMonthName(m), System.Globalization.CultureInfo.InvariantCulture.DateTimeFormat.GetAbbreviatedMonthName(m) })];

    /// <summary>English names of days from Monday on, short after long.</summary>
    public static IReadOnlyList<string> Days { get; } = [.. Enumerable.Range(1, 7).Select(d => (DayOfWeek)(d % 7)).SelectMany(d => new[] { d.ToString(), d.ToString()[..3] })];

    /// <summary><c>sea_area</c> becomes "Sea area".</summary>
    public static string FromName(string name)
    {
        var words = name.Replace('_', ' ').Replace('-', ' ').Trim();
        return words.Length == 0 ? name : char.ToUpperInvariant(words[0]) + words[1..];
    }

    /// <summary>A title for a tile, as a sentence: "Income by route, top 10".</summary>
    public static string OfTile(Tile tile, Core.Access.Scope scope)
    {
        string Group(FieldAt at) => OfField(at, scope.Fields[at.Field].Title);
        var shown = Sentence(tile.Show.Select((m, i) => i == 0 ? scope.Measures[m].Title : Lower(scope.Measures[m].Title)));
        var groups = Sentence(tile.By.Select(f => Lower(Group(f))));
        var title = (shown, groups) switch
        {
            ("", _) => Group(tile.By[0]),
            (_, "") => shown,
            _ => $"{shown} by {groups}",
        };
        if (tile.Split is not null)
            title += $", split by {Lower(Group(tile.Split))}";
        return tile.Top is null ? title : $"{title}, top {tile.Top.Count}";
    }

    /// <summary>The title of a field, or of the grain or part at which it stands.</summary>
    public static string OfField(FieldAt at, string title) => at.Member switch
    {
        null => title,
        "day_of_week" => "Weekday",
        "hour_of_day" => "Hour of day",
        "month_of_year" => "Month of year",
        "quarter_of_year" => "Quarter of year",
        "day_of_month" => "Day of month",
        var grain => FromName(grain),
    };

    /// <summary>"a", "a and b", "a, b and c".</summary>
    private static string Sentence(IEnumerable<string> parts)
    {
        string[] all = [.. parts];
        return all.Length < 2 ? string.Concat(all) : $"{string.Join(", ", all[..^1])} and {all[^1]}";
    }

    private static string Lower(string title) =>
        title.Length > 1 && char.IsUpper(title[1]) ? title : char.ToLowerInvariant(title[0]) + title[1..];
}
