using System.Globalization;

namespace Weir.Core.Expressions;

/// <summary>
/// Reads a formula: the value expressions of standard SQL (ISO/IEC 9075-2, clause 6) as far as Weir has a meaning for them.
/// Precedence, loosest first: OR, AND, NOT, comparison (with IN, BETWEEN, LIKE, IS), + - ||, * / %, sign.
/// </summary>
public sealed class Parser
{
    /// <summary>Deeper nesting than any person writes; keeps hostile text from using up the stack.</summary>
    private const int MaximumDepth = 64;

    /// <summary>Longer formulas are refused before they are read.</summary>
    public const int MaximumLength = 10_000;

    private static readonly HashSet<string> Reserved = new(StringComparer.OrdinalIgnoreCase)
    {
        "and",
        "or",
        "not",
        "in",
        "between",
        "like",
        "is",
        "null",
        "true",
        "false",
        "case",
        "when",
        "then",
        "else",
        "end",
        "cast",
        "as",
        "extract",
        "from",
        "distinct",
        "filter",
        "where",
        "date",
        "timestamp",
        "escape",
    };

    private readonly List<Token> _tokens;
    private int _at;
    private int _depth;
    private int _operators;

    /// <summary>More operators than any person writes in one formula: each nests what stands before it one deeper.</summary>
    private const int MaximumOperators = 400;

    private Parser(List<Token> tokens) => _tokens = tokens;

    /// <summary>Reads the whole of <paramref name="text"/>. Exactly one of the two results is null; never throws.</summary>
    public static (Expr? Expr, FormulaFault? Fault) Parse(string text)
    {
        if (text.Length > MaximumLength)
            return (
                null,
                new(
                    "formula-too-long",
                    new Span(0, text.Length),
                    $"The formula has {text.Length} characters; at most {MaximumLength} are read."
                )
            );
        try
        {
            var parser = new Parser(Lexer.Read(text));
            var expr = parser.Or();
            if (parser.Current.Kind != TokenKind.End)
                throw parser.Unexpected("an operator or the end");
            return (expr, null);
        }
        catch (FormulaException e)
        {
            return (null, e.Fault);
        }
    }

    /// <summary>True if a word cannot name a field without quotation marks.</summary>
    public static bool IsReserved(string word) => Reserved.Contains(word);

    private Token Current => _tokens[_at];

    private Token Next() => _tokens[_at++];

    private bool Take(string word)
    {
        if (!Current.Is(word))
            return false;
        _at++;
        return true;
    }

    private Token Expect(string word)
    {
        if (!Current.Is(word))
            throw Unexpected(word.ToUpperInvariant());
        return Next();
    }

    private FormulaException Unexpected(string wanted) =>
        new(
            new(
                "formula-syntax",
                Current.Span,
                Current.Kind == TokenKind.End
                    ? $"The formula ends where {wanted} is expected."
                    : $"Found {Current.Text} where {wanted} is expected."
            )
        );

    private Expr Or() => Nested(() => LeftChain(And, "or"));

    private Expr And() => LeftChain(Not, "and");

    private Expr LeftChain(Func<Expr> operand, params string[] operators)
    {
        var left = operand();
        while (operators.FirstOrDefault(Current.Is) is { } op)
        {
            if (++_operators > MaximumOperators)
                throw new FormulaException(
                    new(
                        "formula-too-deep",
                        Current.Span,
                        $"The formula has more than {MaximumOperators} operators.",
                        "Split it into fields of its own."
                    )
                );
            _at++;
            var right = operand();
            left = new Expr.Binary(op, left, right, Span.Over(left.Span, right.Span));
        }
        return left;
    }

    private Expr Not()
    {
        if (!Current.Is("not"))
            return Comparison();
        var start = Next().Span;
        var operand = Nested(Not);
        return new Expr.Unary("not", operand, Span.Over(start, operand.Span));
    }

    private Expr Comparison()
    {
        var left = Sum();
        foreach (var op in (ReadOnlySpan<string>)["=", "<>", "!=", "<=", ">=", "<", ">"])
            if (Take(op))
            {
                var right = Sum();
                return new Expr.Binary(op == "!=" ? "<>" : op, left, right, Span.Over(left.Span, right.Span));
            }
        if (Take("is"))
        {
            var negatedIs = Take("not");
            var end = Expect("null");
            return new Expr.IsNull(left, negatedIs, Span.Over(left.Span, end.Span));
        }
        var negated = Take("not");
        if (Take("in"))
            return InList(left, negated);
        if (Take("between"))
        {
            var low = Sum();
            Expect("and");
            var high = Sum();
            return new Expr.Between(left, low, high, negated, Span.Over(left.Span, high.Span));
        }
        if (Take("like"))
        {
            var pattern = Sum();
            return new Expr.Like(left, pattern, negated, Span.Over(left.Span, pattern.Span));
        }
        if (negated)
            throw Unexpected("IN, BETWEEN or LIKE");
        return left;
    }

    private Expr.In InList(Expr left, bool negated)
    {
        if (!Current.Is("("))
        {
            var list = Primary();
            if (list is not (Expr.User or Expr.Parameter))
                throw new FormulaException(
                    new(
                        "formula-syntax",
                        list.Span,
                        "After IN a list is expected.",
                        "Write IN ('a', 'b'), IN user.attribute or IN param.name."
                    )
                );
            return new Expr.In(left, [list], negated, Span.Over(left.Span, list.Span));
        }
        Next();
        var items = new List<Expr>();
        do items.Add(Or());
        while (Take(","));
        var end = Expect(")");
        return new Expr.In(left, items, negated, Span.Over(left.Span, end.Span));
    }

    private Expr Sum() => LeftChain(Product, "+", "-", "||");

    private Expr Product() => LeftChain(Signed, "*", "/", "%");

    private Expr Signed()
    {
        if (!Current.Is("-") && !Current.Is("+"))
            return Primary();
        var sign = Next();
        var operand = Nested(Signed);
        return sign.Text == "+" ? operand : new Expr.Unary("-", operand, Span.Over(sign.Span, operand.Span));
    }

    private Expr Nested(Func<Expr> read)
    {
        if (++_depth > MaximumDepth)
            throw new FormulaException(
                new(
                    "formula-too-deep",
                    Current.Span,
                    $"The formula is nested more than {MaximumDepth} deep.",
                    "Split it into fields of its own."
                )
            );
        var result = read();
        _depth--;
        return result;
    }

    private Expr Primary()
    {
        var token = Next();
        switch (token.Kind)
        {
            case TokenKind.Number or TokenKind.Text:
                return new Expr.Literal(token.Value, token.ValueKind, token.Span);
            case TokenKind.QuotedWord:
                return NameOrCall(token);
            case TokenKind.Sign when token.Text == "(":
                var inner = Or();
                Expect(")");
                return inner;
            case TokenKind.Word:
                return WordExpression(token);
            default:
                _at--;
                throw Unexpected("a value");
        }
    }

    private Expr WordExpression(Token token)
    {
        switch (token.Text.ToLowerInvariant())
        {
            case "null":
                return new Expr.Literal(null, ValueKind.Null, token.Span);
            case "true" or "false":
                return new Expr.Literal(token.Is("true"), ValueKind.Boolean, token.Span);
            case "date" or "timestamp" when Current.Kind == TokenKind.Text:
                return TemporalLiteral(token);
            case "date" or "timestamp":
                return NameOrCall(token); // a field may well be called date
            case "case":
                return CaseExpression(token);
            case "cast":
                return CastExpression(token);
            case "extract":
                return ExtractExpression(token);
        }
        if (IsReserved(token.Text))
        {
            _at--;
            throw Unexpected("a value");
        }
        return NameOrCall(token);
    }

    private Expr.Literal TemporalLiteral(Token word)
    {
        var token = Next();
        var span = Span.Over(word.Span, token.Span);
        var written = (string)token.Value!;
        if (
            word.Is("date") && DateOnly.TryParseExact(written, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)
        )
            return new Expr.Literal(day, ValueKind.Date, span);
        if (
            word.Is("timestamp")
            && DateTime.TryParseExact(
                written,
                ["yyyy-MM-dd", "yyyy-MM-dd HH:mm", "yyyy-MM-dd HH:mm:ss", "yyyy-MM-dd HH:mm:ss.FFFFFF"],
                CultureInfo.InvariantCulture,
                DateTimeStyles.None,
                out var at
            )
        )
            return new Expr.Literal(at, ValueKind.Timestamp, span);
        throw new FormulaException(
            new(
                "bad-date",
                span,
                $"'{written}' is not a {word.Text.ToLowerInvariant()}.",
                "Write DATE '2025-03-01' or TIMESTAMP '2025-03-01 14:30:00'."
            )
        );
    }

    private Expr.Case CaseExpression(Token start)
    {
        var operand = Current.Is("when") ? null : Or();
        var branches = new List<(Expr, Expr)>();
        while (Take("when"))
        {
            var when = Or();
            Expect("then");
            branches.Add((when, Or()));
        }
        if (branches.Count == 0)
            throw Unexpected("WHEN");
        var otherwise = Take("else") ? Or() : null;
        var end = Expect("end");
        return new Expr.Case(operand, branches, otherwise, Span.Over(start.Span, end.Span));
    }

    private Expr.Cast CastExpression(Token start)
    {
        Expect("(");
        var operand = Or();
        Expect("as");
        if (Current.Kind != TokenKind.Word)
            throw Unexpected("a type");
        var type = Next();
        var end = Expect(")");
        return new Expr.Cast(operand, type.Text.ToLowerInvariant(), type.Span, Span.Over(start.Span, end.Span));
    }

    private Expr.Extract ExtractExpression(Token start)
    {
        Expect("(");
        if (Current.Kind != TokenKind.Word)
            throw Unexpected("YEAR, QUARTER, MONTH, DAY or HOUR");
        var unit = Next();
        Expect("from");
        var operand = Or();
        var end = Expect(")");
        return new Expr.Extract(unit.Text.ToLowerInvariant(), operand, Span.Over(start.Span, end.Span));
    }

    private Expr NameOrCall(Token name)
    {
        if (Current.Is("(") && name.Kind == TokenKind.Word)
            return CallExpression(name);
        if (!Take("."))
            return new Expr.Name(name.Text, null, name.Span);
        if (Current.Kind is not (TokenKind.Word or TokenKind.QuotedWord))
            throw Unexpected("a name after the dot");
        var member = Next();
        var span = Span.Over(name.Span, member.Span);
        if (name.Is("user"))
            return new Expr.User(member.Text, span);
        return name.Is("param") ? new Expr.Parameter(member.Text, span) : new Expr.Name(name.Text, member.Text, span);
    }

    private Expr.Call CallExpression(Token name)
    {
        Expect("(");
        var arguments = new List<Expr>();
        var distinct = Take("distinct");
        var star = !distinct && Take("*");
        if (!star && !Current.Is(")"))
            do arguments.Add(Or());
            while (Take(","));
        var end = Expect(")").Span;
        Expr? filter = null;
        if (Take("filter"))
        {
            Expect("(");
            Expect("where");
            filter = Or();
            end = Expect(")").Span;
        }
        return new Expr.Call(name.Text.ToLowerInvariant(), arguments, distinct, star, filter, Span.Over(name.Span, end));
    }
}
