namespace Weir.Core.Definitions;

/// <summary>Names for readers where the developer gave none.</summary>
public static class Titles
{
    /// <summary>English names of months in calendar order, short after long.</summary>
    public static IReadOnlyList<string> Months { get; } =
    [
        .. Enumerable
            .Range(1, 12)
            .SelectMany(m =>
                new[]
                {
                    System.Globalization.CultureInfo.InvariantCulture.DateTimeFormat.GetMonthName(m),
                    System.Globalization.CultureInfo.InvariantCulture.DateTimeFormat.GetAbbreviatedMonthName(m),
                }
            ),
    ];

    /// <summary>English names of days from Monday on, short after long.</summary>
    public static IReadOnlyList<string> Days { get; } =
    [.. Enumerable.Range(1, 7).Select(d => (DayOfWeek)(d % 7)).SelectMany(d => new[] { d.ToString(), d.ToString()[..3] })];

    /// <summary><c>sea_area</c> becomes "Sea area".</summary>
    public static string FromName(string name)
    {
        var words = name.Replace('_', ' ').Replace('-', ' ').Trim();
        return words.Length == 0 ? name : char.ToUpperInvariant(words[0]) + words[1..];
    }

    /// <summary>The title of a field, or of the grain or part at which it stands.</summary>
    public static string OfField(FieldAt at, string title) =>
        at.Member switch
        {
            null => title,
            "day_of_week" => "Weekday",
            "hour_of_day" => "Hour of day",
            "month_of_year" => "Month of year",
            "quarter_of_year" => "Quarter of year",
            "day_of_month" => "Day of month",
            var grain => FromName(grain),
        };
}
