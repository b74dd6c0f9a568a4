using CsCheck;
using Shouldly;
using Weir.Core.Expressions;

namespace Weir.Core.Tests;

public class ParserTests
{
    private static readonly string[] Pieces =
    [
        "a",
        "b",
        "(",
        ")",
        "+",
        "-",
        "*",
        "/",
        "||",
        "=",
        "<>",
        "<=",
        "in",
        "not",
        "and",
        "or",
        "is",
        "null",
        "between",
        "like",
        "'x'",
        "'",
        "\"",
        "case",
        "when",
        "then",
        "else",
        "end",
        "1",
        "2.5",
        "1e3",
        "1e",
        ",",
        ".",
        "month",
        "user",
        "count",
        "distinct",
        "filter",
        "where",
        "cast",
        "as",
        "integer",
        "date",
        "§",
        "\n",
        "ä",
        "🙂",
    ];

    [Fact]
    public void Random_text_is_read_or_refused_but_never_breaks_the_parser() =>
        Word(Pieces)
            .Array[0, 40]
            .Select(p => string.Join(' ', p))
            .Sample(
                text =>
                {
                    var (expr, fault) = Parser.Parse(text);
                    (expr is null).ShouldBe(fault is not null);
                    if (fault is not null)
                        fault.Span.Start.ShouldBeInRange(0, text.Length);
                },
                iter: 20_000
            );

    [Fact]
    public void What_was_read_is_printed_so_that_it_reads_the_same_again() =>
        Tree(4)
            .Sample(
                tree =>
                {
                    var text = FormulaText.Print(tree);
                    var (again, fault) = Parser.Parse(text);
                    fault.ShouldBeNull(text);
                    FormulaText.Print(again!).ShouldBe(text);
                    Shape(again!).ShouldBe(Shape(tree));
                },
                iter: 5_000
            );

    [Theory]
    [InlineData("a or b and not c = d + e * f", "a or (b and (not (c = (d + (e * f)))))")]
    [InlineData("a - b - c", "(a - b) - c")]
    [InlineData("- a * b", "(-a) * b")]
    [InlineData("not a in (1, 2) and b", "(not (a in (1, 2))) and b")]
    [InlineData("a not between 1 and 2 or b", "(a not between 1 and 2) or b")]
    [InlineData("a || b = c", "(a || b) = c")]
    [InlineData("A.Month", "A.Month")]
    [InlineData("date = DATE '2025-02-28'", "\"date\" = date '2025-02-28'")]
    [InlineData("COUNT ( DISTINCT a ) FILTER ( WHERE b IS NOT NULL )", "count(distinct a) filter (where b is not null)")]
    public void Operators_bind_as_in_standard_SQL(string text, string printed) =>
        FormulaText.Print(Parser.Parse(text).Expr!).ShouldBe(printed);

    [Theory]
    [InlineData("a +", 3, "formula-syntax")]
    [InlineData("a b", 2, "formula-syntax")]
    [InlineData("a = 'x", 4, "open-quote")]
    [InlineData("a ? b", 2, "unknown-sign")]
    [InlineData("a = 12x", 4, "bad-number")]
    [InlineData("d = DATE '2025-02-29'", 4, "bad-date")]
    [InlineData("a in b", 5, "formula-syntax")]
    public void A_fault_points_at_its_character(string text, int at, string code)
    {
        var fault = Parser.Parse(text).Fault!;
        fault.Code.ShouldBe(code);
        fault.Span.Start.ShouldBe(at);
    }

    [Fact]
    public void Hostile_nesting_and_length_are_refused_in_time()
    {
        Parser.Parse(new string('(', 9_000)).Fault!.Code.ShouldBe("formula-too-deep");
        Parser.Parse(string.Concat(Enumerable.Repeat("not ", 2_000))).Fault!.Code.ShouldBe("formula-too-deep");
        Parser.Parse(new string('-', 9_000) + "1").Fault!.Code.ShouldBe("formula-too-deep");
        Parser.Parse(new string('a', Parser.MaximumLength + 1)).Fault!.Code.ShouldBe("formula-too-long");
    }

    private static readonly Span None = new(0, 0);

    private static Gen<string> Word(params string[] words) => Gen.Int[0, words.Length - 1].Select(i => words[i]);

    private static Gen<Expr> Tree(int depth)
    {
        var leaf = Gen.OneOf<Expr>(
            Gen.Long[0, long.MaxValue].Select(n => (Expr)new Expr.Literal(n, ValueKind.Integer, None)),
            Gen.Decimal[0m, 1_000_000m].Select(d => (Expr)new Expr.Literal(d, ValueKind.Decimal, None)),
            Gen.Double[0, 1e300].Select(d => (Expr)new Expr.Literal(d, ValueKind.Float, None)),
            Gen.String.Select(s => (Expr)new Expr.Literal(s, ValueKind.Text, None)),
            Gen.Const((Expr)new Expr.Literal(null, ValueKind.Null, None)),
            Gen.Bool.Select(b => (Expr)new Expr.Literal(b, ValueKind.Boolean, None)),
            Gen.Int[0, 3_000_000].Select(d => (Expr)new Expr.Literal(DateOnly.FromDayNumber(d), ValueKind.Date, None)),
            Word("a", "b_1", "date", "select x", "Ü", "or").Select(n => (Expr)new Expr.Name(n, null, None)),
            Gen.Const((Expr)new Expr.Name("departed", "month", None)),
            Gen.Const((Expr)new Expr.User("ports", None))
        );
        if (depth == 0)
            return leaf;
        var sub = Tree(depth - 1);
        return Gen.OneOf<Expr>(
            leaf,
            Gen.Select(Word("and", "or", "=", "<>", "<", ">=", "+", "-", "*", "/", "%", "||"), sub, sub)
                .Select((o, l, r) => (Expr)new Expr.Binary(o, l, r, None)),
            Gen.Select(Word("not", "-"), sub).Select((o, x) => (Expr)new Expr.Unary(o, x, None)),
            Gen.Select(sub, sub.Array[1, 3], Gen.Bool).Select((x, i, n) => (Expr)new Expr.In(x, i, n, None)),
            Gen.Select(sub, sub, sub, Gen.Bool).Select((x, l, h, n) => (Expr)new Expr.Between(x, l, h, n, None)),
            Gen.Select(sub, sub, Gen.Bool).Select((x, p, n) => (Expr)new Expr.Like(x, p, n, None)),
            Gen.Select(sub, Gen.Bool).Select((x, n) => (Expr)new Expr.IsNull(x, n, None)),
            Gen.Select(sub, sub, sub).Select((w, t, e) => (Expr)new Expr.Case(null, [(w, t)], e, None)),
            sub.Select(x => (Expr)new Expr.Cast(x, "integer", None, None)),
            sub.Select(x => (Expr)new Expr.Extract("month", x, None)),
            Gen.Select(sub, sub, Gen.Bool).Select((x, f, d) => (Expr)new Expr.Call("count", [x], d, false, f, None))
        );
    }

    /// <summary>The tree without the places in the text: IN of a lone user attribute in brackets reads as a list of one.</summary>
    private static string Shape(Expr expr) => FormulaText.Print(expr);
}
