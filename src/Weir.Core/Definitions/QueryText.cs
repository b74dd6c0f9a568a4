using System.Text;
using Weir.Core.Expressions;

namespace Weir.Core.Definitions;

/// <summary>A SELECT that a developer wrote, cut where it names values: these are bound, never put in as text.</summary>
public sealed record QueryText(IReadOnlyList<QueryPiece> Pieces)
{
    /// <inheritdoc/>
    public bool Equals(QueryText? other) => other is not null && Pieces.SequenceEqual(other.Pieces);

    /// <inheritdoc/>
    public override int GetHashCode() => Pieces.Aggregate(0, HashCode.Combine);
}

/// <summary>A piece of a developer's query.</summary>
public abstract record QueryPiece
{
    /// <summary>SQL as written.</summary>
    public sealed record Sql(string Text) : QueryPiece;

    /// <summary>One value.</summary>
    public sealed record Value(Bound Bound) : QueryPiece;

    /// <summary>Several values with commas between them, to stand in brackets after IN.</summary>
    public sealed record Values(IReadOnlyList<Bound> Items) : QueryPiece;

    /// <summary>What the viewer is or has set, not yet known: replaced when a scope is made.</summary>
    /// <param name="Given">True to ask only whether there is a value.</param>
    public sealed record Named(Bound Bound, bool Given) : QueryPiece;
}

/// <summary>
/// Reads a developer's query: finds <c>:user.x</c> and <c>:param.y</c> outside texts, names and comments, and refuses what
/// could be more than one SELECT. The database's read-only guard is the second lock.
/// </summary>
public static class QueryTextReader
{
    /// <summary>Reads a query.</summary>
    /// <param name="parameter">Gives a parameter by name, null if there is none.</param>
    /// <returns>Exactly one of the two is null.</returns>
    public static (QueryText? Query, FormulaFault? Fault) Read(string text, Func<string, Bound.Parameter?> parameter, IReadOnlyCollection<string> parameters)
    {
        var pieces = new List<QueryPiece>();
        var sql = new StringBuilder();
        var depth = 0;
        var end = text.AsSpan().TrimEnd().Length;
        var at = 0;
        (QueryText?, FormulaFault?) Fault(string code, int start, int length, string message, string? remedy = null) => (null, new FormulaFault(code, new Span(start, length), message, remedy));

        var first = new string([.. text.TrimStart().TakeWhile(char.IsLetter)]);
        if (!first.Equals("select", StringComparison.OrdinalIgnoreCase) && !first.Equals("with", StringComparison.OrdinalIgnoreCase))
            return Fault("not-a-select", 0, first.Length, "A query begins with SELECT or WITH.");
        while (at < end)
        {
            var c = text[at];
            if (Skip(text, at) is var length and > 0)
            {
                if (at + length > end)
                    return Fault("open-quote", at, end - at, "This is never closed.");
                sql.Append(text, at, length);
                at += length;
                continue;
            }
            if (c == ';')
                return Fault("more-than-a-select", at, 1, "A query is one SELECT; no semicolon may stand in it.");
            if (c == '(')
                depth++;
            if (c == ')' && --depth < 0)
                return Fault("open-bracket", at, 1, "This bracket closes none.");
            if (c == ':' && at + 1 < end && text[at + 1] == ':')
            {
                sql.Append("::");
                at += 2;
                continue;
            }
            if (c == ':' && at + 1 < end && (char.IsLetter(text[at + 1]) || text[at + 1] == '_'))
            {
                var start = at++;
                var parts = new List<string>();
                do
                {
                    var from = at;
                    while (at < end && (char.IsLetterOrDigit(text[at]) || text[at] == '_'))
                        at++;
                    parts.Add(text[from..at]);
                }
                while (at < end && text[at] == '.' && at + 1 < end && char.IsLetter(text[at + 1]) && ++at > 0);
                var given = parts is [_, _, "given"];
                if (parts.Count is not 2 && !given)
                    return Fault("unknown-value", start, at - start, $"{text[start..at]} names no value.", "Write :user.attribute or :param.name, with .given to ask whether it is set.");
                Bound named;
                if (parts[0] == "user")
                    named = new Bound.UserAttribute(parts[1], IsList: true, ValueKind.Text);
                else if (parts[0] == "param" && parameter(parts[1]) is { } found)
                    named = found;
                else if (parts[0] == "param")
                    return Fault("unknown-parameter", start, at - start, $"There is no parameter {parts[1]}.", Nearest.Remedy(parts[1], parameters));
                else
                    return Fault("unknown-value", start, at - start, $"{text[start..at]} names no value.", "Write :user.attribute or :param.name.");
                pieces.Add(new QueryPiece.Sql(sql.ToString()));
                sql.Clear();
                pieces.Add(new QueryPiece.Named(named, given));
                continue;
            }
            sql.Append(c);
            at++;
        }
        if (depth > 0)
            return Fault("open-bracket", 0, end, "A bracket is not closed.");
        pieces.Add(new QueryPiece.Sql(sql.ToString()));
        return (new QueryText(pieces), null);
    }

    /// <summary>The length of the text, quoted name or comment that begins here; 0 if none does; beyond the end if it is never closed.</summary>
    private static int Skip(string text, int at)
    {
        var rest = text.AsSpan(at);
        if (rest[0] is '\'' or '"' or '`')
            return Closed(rest, 1, rest[..1]);
        if (rest.StartsWith("--"))
            return rest.IndexOf('\n') is >= 0 and var line ? line : rest.Length;
        if (rest.StartsWith("/*"))
            return Closed(rest, 2, "*/");
        // PostgreSQL's and DuckDB's $tag$ … $tag$.
        if (rest[0] == '$' && rest[1..].IndexOf('$') is >= 0 and var tag && rest.Slice(1, tag).ToString().All(c => char.IsLetterOrDigit(c) || c == '_') && (tag == 0 || !char.IsDigit(rest[1])))
            return Closed(rest, tag + 2, rest[..(tag + 2)]);
        return 0;
    }

    private static int Closed(ReadOnlySpan<char> rest, int from, ReadOnlySpan<char> mark) =>
        rest[from..].IndexOf(mark) is >= 0 and var found ? from + found + mark.Length : rest.Length + 1;
}
