namespace Weir.Core.Results;

/// <summary>Text in files that people open in spreadsheets.</summary>
public static class SpreadsheetText
{
    /// <summary>What begins a formula there; tabs and returns before one are skipped.</summary>
    private const string Leading = "=+-@\t\r";

    /// <summary>A text as it can stand in a cell: one that would be taken for a formula has a ' before it, and is text.</summary>
    /// <param name="text">The text of a value, and no number.</param>
    public static string Defused(string text) => text.Length > 0 && Leading.Contains(text[0]) ? $"'{text}" : text;
}
