namespace Weir.Core.Definitions;

/// <summary>How an engine tells texts, names and comments from the rest of a SQL text.</summary>
/// <param name="Engine">The engine's name in source files.</param>
public sealed record SqlLexis(string Engine)
{
    private bool IsMariaDb => Engine is "mariadb" or "mysql";

    private bool IsPostgres => Engine is "postgresql";

    private bool IsDuckDb => Engine is "duckdb" or "files";

    /// <summary>True if <c>`name`</c> is a name.</summary>
    internal bool HasBackticks => IsMariaDb || Engine == "sqlite";

    /// <summary>True if <c>[name]</c> is a name.</summary>
    internal bool HasBrackets => Engine is "sqlite" or "sqlserver";

    /// <summary>True if <c>#</c> begins a comment, and <c>--</c> does so only before a space or a line's end.</summary>
    internal bool HasHashComments => IsMariaDb;

    /// <summary>True if a comment may hold comments.</summary>
    internal bool NestsComments => IsPostgres || IsDuckDb || Engine == "sqlserver";

    /// <summary>True if <c>$tag$</c> begins a text.</summary>
    internal bool HasDollarTexts => IsPostgres || IsDuckDb;

    /// <summary>Signs that would stand for a bound value or a variable of the engine.</summary>
    internal string Variables =>
        IsPostgres ? "$"
        : IsDuckDb ? "$?"
        : IsMariaDb ? "@?$"
        : "@?$#";

    /// <summary>Words that would make more of a query than a SELECT.</summary>
    internal static IReadOnlySet<string> RefusedWords { get; } =
        new HashSet<string>(StringComparer.OrdinalIgnoreCase) { "into", "outfile", "dumpfile" };

    /// <summary>Functions that write, wait, hold locks or reach out of the database, where the engine itself can't be asked which those are.</summary>
    internal static IReadOnlySet<string> RefusedFunctions { get; } =
        new HashSet<string>(StringComparer.OrdinalIgnoreCase)
        {
            "benchmark",
            "dblink",
            "dblink_exec",
            "get_lock",
            "is_free_lock",
            "is_used_lock",
            "load_extension",
            "load_file",
            "master_gtid_wait",
            "master_pos_wait",
            "nextval",
            "openquery",
            "openrowset",
            "opendatasource",
            "pg_notify",
            "pg_sleep",
            "release_all_locks",
            "release_lock",
            "set_config",
            "setval",
            "sleep",
            "sys_eval",
            "sys_exec",
            "sys_get",
            "sys_set",
            "write_log",
            "xpath_table",
        };
}

/// <summary>What a piece of SQL is.</summary>
public enum SqlTokenKind
{
    /// <summary>Letters, digits and underscores.</summary>
    Word,

    /// <summary>A name in quotation marks, which are not part of its text.</summary>
    QuotedName,

    /// <summary>A text, as written.</summary>
    Text,

    /// <summary>A comment, as written.</summary>
    Comment,

    /// <summary>White space.</summary>
    Space,

    /// <summary>One other character.</summary>
    Sign,
}

/// <summary>A piece of SQL.</summary>
public readonly record struct SqlToken(SqlTokenKind Kind, int Start, int Length, string Text);

/// <summary>SQL that can't be read for certain: what stands there, and what to write instead.</summary>
public sealed class SqlReadException(string code, int start, int length, string message, string? remedy = null) : Exception(message)
{
    /// <summary>The fault, at its place in the text.</summary>
    internal Expressions.FormulaFault Fault { get; } = new(code, new Expressions.Span(start, length), message, remedy);
}

/// <summary>
/// Cuts a SQL text where the engine itself would cut it. What engines, their settings or versions read in different ways is
/// refused rather than guessed: every such form has another that all read alike.
/// </summary>
public static class SqlLexer
{
    /// <summary>The pieces of a text, all of it, in order.</summary>
    /// <exception cref="SqlReadException">A text, name or comment is never closed, or a form is not certain.</exception>
    public static List<SqlToken> Read(string text, SqlLexis lexis)
    {
        var tokens = new List<SqlToken>();
        for (var at = 0; at < text.Length; )
        {
            var token = Next(text, at, lexis);
            tokens.Add(token);
            at += token.Length;
        }
        return tokens;
    }

    private static SqlToken Next(string text, int at, SqlLexis lexis)
    {
        var rest = text.AsSpan(at);
        var c = rest[0];
        if (c is ' ' or '\n' or '\t')
            return new SqlToken(SqlTokenKind.Space, at, 1, " ");
        if (c < ' ' || c == '\u007f' || char.IsSurrogate(c) && !(rest.Length > 1 && char.IsSurrogatePair(c, rest[1])))
            throw new SqlReadException(
                "bad-character",
                at,
                1,
                "A control character stands here.",
                "Leave it out; a line ends with a plain line feed."
            );
        if (c == '\'')
            return Closed(text, at, 1, "'", SqlTokenKind.Text, doubles: true);
        if (c == '"')
            return Closed(text, at, 1, "\"", SqlTokenKind.QuotedName, doubles: true);
        if (c == '`')
            return lexis.HasBackticks
                ? Closed(text, at, 1, "`", SqlTokenKind.QuotedName, doubles: true)
                : throw Uncertain(at, 1, "` has no meaning in this engine.", "Put names into \"…\".");
        if (c == '[' && lexis.HasBrackets)
            return Closed(text, at, 1, "]", SqlTokenKind.QuotedName, doubles: lexis.Engine == "sqlserver");
        if (Comment(text, at, lexis) is { } comment)
            return comment;
        if (c == '$' && lexis.HasDollarTexts && DollarTag(rest) is { } tag)
            return at > 0 && IsWordCharacter(text[at - 1])
                ? throw Uncertain(at, tag.Length, "A text can't begin directly behind a word.", "Put a space before it.")
                : Closed(text, at, tag.Length, tag, SqlTokenKind.Text, doubles: false);
        if (lexis.Variables.Contains(c))
            throw Uncertain(at, 1, $"{c} would stand for a variable or a bound value.", "Write :param.name or :user.attribute for values.");
        if (IsWordCharacter(c))
            return Word(text, at);
        return c < 0x80
            ? new SqlToken(SqlTokenKind.Sign, at, 1, c.ToString())
            : throw Uncertain(
                at,
                char.IsSurrogate(c) ? 2 : 1,
                "This character may stand in texts and quoted names only.",
                "Put it into '…' or \"…\"."
            );
    }

    private static SqlToken Word(string text, int at)
    {
        var end = at;
        while (end < text.Length && IsWordCharacter(text[end]))
            end++;
        var word = text[at..end];
        // Behind some words a text is read by other rules: E'\'' and U&'\0027' in some engines, not in others.
        if (end < text.Length && text[end] == '\'' && !word.Equals("x", StringComparison.OrdinalIgnoreCase))
            throw Uncertain(
                at,
                end - at + 1,
                $"A text directly behind {word} is not read alike everywhere.",
                "Write a plain text; for special characters chr(10) or char(10)."
            );
        if (
            end + 1 < text.Length
            && word.Equals("u", StringComparison.OrdinalIgnoreCase)
            && text[end] == '&'
            && text[end + 1] is '\'' or '"'
        )
            throw Uncertain(at, 3, "A text or name with escapes is not read alike everywhere.", "Write the characters themselves.");
        return new SqlToken(SqlTokenKind.Word, at, end - at, word);
    }

    private static bool IsWordCharacter(char c) => c == '_' || char.IsAsciiLetterOrDigit(c) || c >= 0x80 && char.IsLetterOrDigit(c);

    private static SqlReadException Uncertain(int at, int length, string message, string remedy) =>
        new("uncertain-sql", at, length, message, remedy);

    /// <summary>The opening mark of <c>$tag$ … $tag$</c>, null if none begins here.</summary>
    private static string? DollarTag(ReadOnlySpan<char> rest)
    {
        var end = 1;
        while (end < rest.Length && (char.IsAsciiLetterOrDigit(rest[end]) || rest[end] == '_'))
            end++;
        return end < rest.Length && rest[end] == '$' && !(end > 1 && char.IsAsciiDigit(rest[1])) ? rest[..(end + 1)].ToString() : null;
    }

    private static SqlToken? Comment(string text, int at, SqlLexis lexis)
    {
        var rest = text.AsSpan(at);
        var isDashes = rest.StartsWith("--");
        if (isDashes && lexis.HasHashComments && !(rest.Length == 2 || rest[2] is ' ' or '\n' or '\t'))
            throw Uncertain(
                at,
                2,
                "-- without a space behind it is no comment in this engine.",
                "Put a space behind it, or between the two signs."
            );
        if (isDashes || (lexis.HasHashComments && rest[0] == '#'))
        {
            var length = rest.IndexOf('\n') is >= 0 and var line ? line : rest.Length;
            // Some engines end a comment at other line ends too.
            if (rest[..length].IndexOfAny('\r', '\0') is >= 0 and var control)
                throw new SqlReadException(
                    "bad-character",
                    at + control,
                    1,
                    "A control character stands here.",
                    "A line ends with a plain line feed."
                );
            return new SqlToken(SqlTokenKind.Comment, at, length, rest[..length].ToString());
        }
        if (!rest.StartsWith("/*"))
            return null;
        if (rest.Length > 2 && rest[2] is '!' or 'M' or '+')
            throw Uncertain(at, 3, "A comment that begins so may be run by the engine.", "Put a space behind /*.");
        var open = 1;
        for (var end = 2; end + 1 < rest.Length; end++)
            if (rest[end] == '*' && rest[end + 1] == '/')
            {
                end++;
                if (--open == 0)
                    return new SqlToken(SqlTokenKind.Comment, at, end + 1, rest[..(end + 1)].ToString());
            }
            else if (rest[end] == '/' && rest[end + 1] == '*')
            {
                if (!lexis.NestsComments)
                    throw Uncertain(at + end, 2, "A comment within a comment is not read alike everywhere.", "Leave it out.");
                open++;
                end++;
            }
        throw NeverClosed(at, rest.Length);
    }

    private static SqlReadException NeverClosed(int at, int length) => new("open-quote", at, length, "This is never closed.");

    private static SqlToken Closed(string text, int at, int opening, string mark, SqlTokenKind kind, bool doubles)
    {
        var inner = new System.Text.StringBuilder();
        for (var from = at + opening; text.IndexOf(mark, from, StringComparison.Ordinal) is >= 0 and var found; from = found + 2)
        {
            inner.Append(text, from, found - from);
            if (doubles && found + 1 < text.Length && text[found + 1] == mark[0])
            {
                inner.Append(mark);
                continue;
            }
            if (text.AsSpan(at, found - at).Contains('\0'))
                throw new SqlReadException("bad-character", at, found - at, "A text can't hold the character 0.");
            return new SqlToken(kind, at, found + mark.Length - at, inner.ToString());
        }
        throw NeverClosed(at, text.Length - at);
    }
}
