using System.Globalization;
using System.Text;

namespace Weir.Core.Expressions;

internal enum TokenKind
{
    Word,
    QuotedWord,
    Number,
    Text,
    Sign,
    End,
}

internal readonly record struct Token(TokenKind Kind, string Text, Span Span, object? Value = null, ValueKind ValueKind = ValueKind.Null)
{
    public bool Is(string word) =>
        Kind is TokenKind.Word && string.Equals(Text, word, StringComparison.OrdinalIgnoreCase) || Kind is TokenKind.Sign && Text == word;
}

/// <summary>Cuts a formula into words, numbers, texts and signs.</summary>
internal static class Lexer
{
    private static readonly string[] TwoCharacterSigns = ["<>", "<=", ">=", "!=", "||"];

    public static List<Token> Read(string text)
    {
        var tokens = new List<Token>();
        var at = 0;
        while (at < text.Length)
        {
            var c = text[at];
            if (char.IsWhiteSpace(c))
                at++;
            else if (char.IsLetter(c) || c == '_')
                tokens.Add(Word(text, ref at));
            else if (char.IsAsciiDigit(c) || (c == '.' && at + 1 < text.Length && char.IsAsciiDigit(text[at + 1])))
                tokens.Add(Number(text, ref at));
            else if (c is '\'' or '"')
                tokens.Add(Quoted(text, ref at));
            else
                tokens.Add(Sign(text, ref at));
        }
        tokens.Add(new Token(TokenKind.End, "", new Span(text.Length, 0)));
        return tokens;
    }

    private static Token Word(string text, ref int at)
    {
        var start = at;
        while (at < text.Length && (char.IsLetterOrDigit(text[at]) || text[at] == '_'))
            at++;
        return new Token(TokenKind.Word, text[start..at], new Span(start, at - start));
    }

    private static Token Number(string text, ref int at)
    {
        var start = at;
        while (at < text.Length && char.IsAsciiDigit(text[at]))
            at++;
        var isWhole = true;
        if (at < text.Length && text[at] == '.')
        {
            isWhole = false;
            at++;
            while (at < text.Length && char.IsAsciiDigit(text[at]))
                at++;
        }
        var isFloat = false;
        if (at < text.Length && text[at] is 'e' or 'E')
        {
            isFloat = true;
            at++;
            if (at < text.Length && text[at] is '+' or '-')
                at++;
            while (at < text.Length && char.IsAsciiDigit(text[at]))
                at++;
        }
        var span = new Span(start, at - start);
        var written = text[start..at];
        if (at < text.Length && (char.IsLetter(text[at]) || text[at] == '_'))
            throw new FormulaException(
                new("bad-number", span, $"A letter follows the number {written}.", "Put a space or an operator between them.")
            );
        if (isFloat && double.TryParse(written, NumberStyles.Float, CultureInfo.InvariantCulture, out var real) && double.IsFinite(real))
            return new Token(TokenKind.Number, written, span, real, ValueKind.Float);
        if (!isFloat && isWhole && long.TryParse(written, NumberStyles.None, CultureInfo.InvariantCulture, out var whole))
            return new Token(TokenKind.Number, written, span, whole, ValueKind.Integer);
        if (!isFloat && decimal.TryParse(written, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var exact))
            return new Token(TokenKind.Number, written, span, exact, ValueKind.Decimal);
        throw new FormulaException(
            new("bad-number", span, $"{written} is not a number that fits.", "Use at most 28 digits, or an exponent: 1e30.")
        );
    }

    private static Token Quoted(string text, ref int at)
    {
        var start = at;
        var quote = text[at++];
        var content = new StringBuilder();
        while (true)
        {
            if (at >= text.Length)
                throw new FormulaException(
                    new(
                        "open-quote",
                        new Span(start, at - start),
                        "The quotation mark is never closed.",
                        $"Add {quote} at the end; write {quote}{quote} for the mark itself."
                    )
                );
            if (text[at] != quote)
                content.Append(text[at++]);
            else if (at + 1 < text.Length && text[at + 1] == quote)
            {
                content.Append(quote);
                at += 2;
            }
            else
                break;
        }
        at++;
        var span = new Span(start, at - start);
        return quote == '\''
            ? new Token(TokenKind.Text, text[start..at], span, content.ToString(), ValueKind.Text)
            : new Token(TokenKind.QuotedWord, content.ToString(), span);
    }

    private static Token Sign(string text, ref int at)
    {
        var start = at;
        foreach (var sign in TwoCharacterSigns)
            if (string.CompareOrdinal(text, at, sign, 0, 2) == 0)
            {
                at += 2;
                return new Token(TokenKind.Sign, sign, new Span(start, 2));
            }
        if (!"+-*/%()=<>,.".Contains(text[at]))
            throw new FormulaException(new("unknown-sign", new Span(start, 1), $"The sign {text[at]} has no meaning in a formula."));
        at++;
        return new Token(TokenKind.Sign, text[start..at], new Span(start, 1));
    }
}
