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

    /// <summary>What the developer typed, a gap where a value is bound.</summary>
    public string Typed => string.Join(" NULL ", Pieces.OfType<QueryPiece.Sql>().Select(p => p.Text));
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
/// Reads a developer's query as its engine would: finds <c>:user.x</c> and <c>:param.y</c> outside texts, names and comments, and
/// refuses what could be more than one SELECT. The engine's own check of each statement is the first lock, this is the second.
/// </summary>
public static class QueryTextReader
{
    /// <summary>Reads a query.</summary>
    /// <param name="parameter">Gives a parameter by name, null if there is none.</param>
    /// <param name="lexis">How the engine that will be asked reads SQL.</param>
    /// <returns>Exactly one of the two is null.</returns>
    public static (QueryText? Query, FormulaFault? Fault) Read(
        string text,
        SqlLexis lexis,
        Func<string, Bound.Parameter?> parameter,
        IReadOnlyCollection<string> parameters
    )
    {
        try
        {
            return (new Reading(text.TrimEnd(), lexis, parameter, parameters).Whole(), null);
        }
        catch (SqlReadException e)
        {
            return (null, e.Fault);
        }
    }

    private sealed class Reading(
        string text,
        SqlLexis lexis,
        Func<string, Bound.Parameter?> parameter,
        IReadOnlyCollection<string> parameters
    )
    {
        private readonly List<SqlToken> _tokens = SqlLexer.Read(text, lexis);
        private readonly List<QueryPiece> _pieces = [];
        private readonly StringBuilder _sql = new();
        private int _at;

        public QueryText Whole()
        {
            var depth = 0;
            if (
                _tokens.FirstOrDefault(t => t.Kind is not (SqlTokenKind.Space or SqlTokenKind.Comment)) is var first
                && !Is(first, "select")
                && !Is(first, "with")
            )
                throw new SqlReadException("not-a-select", first.Start, first.Length, "A query begins with SELECT or WITH.");
            while (_at < _tokens.Count)
            {
                var token = _tokens[_at];
                CheckWord(token);
                switch (token)
                {
                    case { Kind: SqlTokenKind.Sign, Text: ";" }:
                        throw new SqlReadException(
                            "more-than-a-select",
                            token.Start,
                            1,
                            "A query is one SELECT; no semicolon may stand in it."
                        );
                    case { Kind: SqlTokenKind.Text or SqlTokenKind.QuotedName }
                        when lexis.Engine is "mariadb" or "mysql" && text.AsSpan(token.Start, token.Length).Contains(';'):
                        // The driver would take it for the end of a statement if it read the quotes differently.
                        throw new SqlReadException(
                            "more-than-a-select",
                            token.Start,
                            token.Length,
                            "No semicolon may stand in a query for this engine, not even in a text.",
                            "Write CHAR(59), or bind a parameter."
                        );
                    case { Kind: SqlTokenKind.Sign, Text: "(" }:
                        depth++;
                        break;
                    case { Kind: SqlTokenKind.Sign, Text: ")" } when --depth < 0:
                        throw new SqlReadException("open-bracket", token.Start, 1, "This bracket closes none.");
                    case { Kind: SqlTokenKind.Sign, Text: ":" } when IsSign(_at + 1, ":"):
                        _sql.Append("::");
                        _at += 2;
                        continue;
                    case { Kind: SqlTokenKind.Sign, Text: ":" } when IsSign(_at + 1, "="):
                        throw new SqlReadException("uncertain-sql", token.Start, 2, "Nothing can be assigned in a query.");
                    case { Kind: SqlTokenKind.Sign, Text: ":" } when WordAt(_at + 1) is { } word && !char.IsDigit(word[0]):
                        Named(token.Start);
                        continue;
                }
                _sql.Append(text, token.Start, token.Length);
                _at++;
            }
            if (depth > 0)
                throw new SqlReadException("open-bracket", 0, text.Length, "A bracket is not closed.");
            _pieces.Add(new QueryPiece.Sql(_sql.ToString()));
            return new QueryText(_pieces);
        }

        private static bool Is(SqlToken token, string word) =>
            token.Kind == SqlTokenKind.Word && token.Text.Equals(word, StringComparison.OrdinalIgnoreCase);

        private bool IsSign(int at, string sign) =>
            at < _tokens.Count && _tokens[at] is { Kind: SqlTokenKind.Sign } token && token.Text == sign;

        private string? WordAt(int at) => at < _tokens.Count && _tokens[at].Kind == SqlTokenKind.Word ? _tokens[at].Text : null;

        private void CheckWord(SqlToken token)
        {
            if (token.Kind == SqlTokenKind.Word && SqlLexis.RefusedWords.Contains(token.Text))
                throw new SqlReadException(
                    "more-than-a-select",
                    token.Start,
                    token.Length,
                    $"{token.Text.ToUpperInvariant()} would write.",
                    "A query only reads."
                );
            if (token.Kind is not (SqlTokenKind.Word or SqlTokenKind.QuotedName) || !SqlLexis.RefusedFunctions.Contains(token.Text))
                return;
            var next = _tokens.FindIndex(_at + 1, t => t.Kind is not (SqlTokenKind.Space or SqlTokenKind.Comment));
            if (next >= 0 && IsSign(next, "("))
                throw new SqlReadException(
                    "refused-function",
                    token.Start,
                    token.Length,
                    $"{token.Text} writes, waits or reaches out of the database.",
                    "A query only reads."
                );
        }

        /// <summary>A value such as <c>:param.least.given</c>.</summary>
        private void Named(int start)
        {
            var parts = new List<string>();
            do
            {
                _at++;
                parts.Add(_tokens[_at++].Text);
            } while (IsSign(_at, ".") && WordAt(_at + 1) is { } next && char.IsLetter(next[0]));
            var end = _tokens[_at - 1].Start + _tokens[_at - 1].Length;
            var written = text[start..end];
            if (parts is not ([_, _] or [_, _, "given"]) || parts[0] is not ("user" or "param"))
                throw new SqlReadException(
                    "unknown-value",
                    start,
                    end - start,
                    $"{written} names no value.",
                    "Write :user.attribute or :param.name, with .given to ask whether it is set."
                );
            Bound named =
                parts[0] == "user"
                    ? new Bound.UserAttribute(parts[1], IsList: true, ValueKind.Text)
                    : parameter(parts[1])
                        ?? throw new SqlReadException(
                            "unknown-parameter",
                            start,
                            end - start,
                            $"There is no parameter {parts[1]}.",
                            Nearest.Remedy(parts[1], parameters)
                        );
            _pieces.Add(new QueryPiece.Sql(_sql.ToString()));
            _sql.Clear();
            _pieces.Add(new QueryPiece.Named(named, Given: parts.Count == 3));
        }
    }
}
