using System.Globalization;
using System.Text.RegularExpressions;

namespace Weir.Core.Results;

/// <summary>
/// How a date or an instant is written: <c>yyyy-MM-dd</c>, <c>EEE d MMM</c>, <c>HH:mm</c>. The letters are those of Unicode's
/// Locale Data Markup Language (UTS 35, date field symbols), as far as they are known here: <see cref="Letters"/>.
/// </summary>
public sealed partial record DatePattern
{
    /// <summary>What can be written, for error messages.</summary>
    public const string Help =
        "Write yyyy, yy, MMMM, MMM, MM, M, dd, d, EEEE, EEE, HH, H, mm, ss with spaces and signs between; other words in 'quotes'. For example \"dd.MM.yyyy\".";

    private static readonly HashSet<string> Letters =
    [
        "yyyy",
        "yy",
        "MMMM",
        "MMM",
        "MM",
        "M",
        "dd",
        "d",
        "EEEE",
        "EEE",
        "HH",
        "H",
        "mm",
        "ss",
    ];

    private DatePattern(string text) => Text = text;

    /// <summary>As it is written in a definition.</summary>
    public string Text { get; }

    /// <summary>Reads a pattern; null if the text is none.</summary>
    public static DatePattern? Parse(string text)
    {
        var pieces = Pieces().Matches(text);
        return
            text.Length is > 0 and <= 60
            && pieces.Sum(p => p.Length) == text.Length
            && pieces.Any(p => char.IsAsciiLetter(p.Value[0]))
            && pieces.Where(p => char.IsAsciiLetter(p.Value[0])).All(p => Letters.Contains(p.Value))
            ? new DatePattern(text)
            : null;
    }

    /// <summary>An instant as text, with English names.</summary>
    public string Write(DateTime at) => at.ToString(Custom, CultureInfo.InvariantCulture);

    /// <summary>The instant that a text tells; null if it is none of this pattern or the pattern leaves out what would be needed.</summary>
    public DateTime? Read(string text) =>
        DateTime.TryParseExact(text, Custom, CultureInfo.InvariantCulture, DateTimeStyles.None, out var at)
        && Write(at) == text
        && Text.Contains('y')
            ? at
            : null;

    /// <summary>The same as a .NET format, whose letters for weekdays are others. A single letter would be a format of another sort there.</summary>
    private string Custom
    {
        get
        {
            var custom = string.Concat(
                Pieces()
                    .Matches(Text)
                    .Select(p =>
                        p.Value[0] switch
                        {
                            'E' => new string('d', p.Length),
                            '\'' => p.Value == "''" ? "\\'" : $"'{p.Value[1..^1].Replace("''", "'\\''")}'",
                            var c when char.IsAsciiLetter(c) => p.Value,
                            var c => $"\\{c}",
                        }
                    )
            );
            return custom.Length == 1 ? $"%{custom}" : custom;
        }
    }

    [GeneratedRegex("""'(?:[^'\\]|'')*'|([A-Za-z])\1*|[ .,:;/()\-–·]""")]
    private static partial Regex Pieces();
}
