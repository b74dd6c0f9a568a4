namespace Weir.Core.Expressions;

/// <summary>A length of calendar period to which a date can be rounded down.</summary>
public enum DateGrain
{
    Year,
    Quarter,
    Month,
    Week,
    Day,
    Hour,
}

/// <summary>A place within a longer period, independent of which one: the third quarter, a Monday, nine o'clock.</summary>
public enum DatePart
{
    QuarterOfYear,
    MonthOfYear,
    DayOfMonth,
    DayOfWeek,
    HourOfDay,
    YearNumber,
}

/// <summary>Calendar arithmetic of the workspace: periods are half-open, weeks begin on the day the workspace sets.</summary>
public static class Calendar
{
    /// <summary>Finds a grain by its name in formulas (<c>month</c>); null if there is none.</summary>
    public static DateGrain? ParseGrain(string name) =>
        Enum.TryParse<DateGrain>(name, ignoreCase: true, out var grain) && !char.IsDigit(name[0]) ? grain : null;

    /// <summary>Finds a part by its name in formulas (<c>day_of_week</c>); null if there is none.</summary>
    public static DatePart? ParsePart(string name) =>
        name.ToLowerInvariant() switch
        {
            "quarter_of_year" => DatePart.QuarterOfYear,
            "month_of_year" => DatePart.MonthOfYear,
            "day_of_month" => DatePart.DayOfMonth,
            "day_of_week" => DatePart.DayOfWeek,
            "hour_of_day" => DatePart.HourOfDay,
            "year_number" => DatePart.YearNumber,
            _ => null,
        };

    /// <summary>The name in formulas.</summary>
    public static string Name(this DateGrain grain) => grain.ToString().ToLowerInvariant();

    /// <summary>The name in formulas.</summary>
    public static string Name(this DatePart part) =>
        part switch
        {
            DatePart.QuarterOfYear => "quarter_of_year",
            DatePart.MonthOfYear => "month_of_year",
            DatePart.DayOfMonth => "day_of_month",
            DatePart.DayOfWeek => "day_of_week",
            DatePart.YearNumber => "year_number",
            _ => "hour_of_day",
        };

    /// <summary>All names that may follow the dot after a date field.</summary>
    public static IReadOnlyList<string> Names { get; } =
    [.. Enum.GetValues<DateGrain>().Select(Name), .. Enum.GetValues<DatePart>().Select(Name)];

    /// <summary>The first instant of the period that holds <paramref name="at"/>.</summary>
    public static DateTime Floor(DateTime at, DateGrain grain, DayOfWeek weekStart) =>
        grain switch
        {
            DateGrain.Year => new DateTime(at.Year, 1, 1),
            DateGrain.Quarter => new DateTime(at.Year, ((at.Month - 1) / 3 * 3) + 1, 1),
            DateGrain.Month => new DateTime(at.Year, at.Month, 1),
            DateGrain.Week => at.Date.AddDays(-((7 + (int)at.DayOfWeek - (int)weekStart) % 7)),
            DateGrain.Day => at.Date,
            _ => at.Date.AddHours(at.Hour),
        };

    /// <summary>The first instant after the period that begins at <paramref name="start"/>, or as many periods on as asked.</summary>
    public static DateTime Add(DateTime start, DateGrain grain, int periods) =>
        grain switch
        {
            DateGrain.Year => start.AddYears(periods),
            DateGrain.Quarter => start.AddMonths(3 * periods),
            DateGrain.Month => start.AddMonths(periods),
            DateGrain.Week => start.AddDays(7 * periods),
            DateGrain.Day => start.AddDays(periods),
            _ => start.AddHours(periods),
        };

    /// <summary>The part as a number: days of the week count from 1 (Monday) to 7 (Sunday), as ISO 8601 does.</summary>
    public static long Part(DateTime at, DatePart part) =>
        part switch
        {
            DatePart.QuarterOfYear => ((at.Month - 1) / 3) + 1,
            DatePart.MonthOfYear => at.Month,
            DatePart.DayOfMonth => at.Day,
            DatePart.DayOfWeek => at.DayOfWeek == DayOfWeek.Sunday ? 7 : (int)at.DayOfWeek,
            DatePart.YearNumber => at.Year,
            _ => at.Hour,
        };
}
