using System.Globalization;

namespace Weir.Core.Expressions;

/// <summary>Prints a parsed formula in one canonical way: reading the print gives the same tree again.</summary>
public static class FormulaText
{
    /// <summary>The text of <paramref name="expr"/>, with every operand of an operator in brackets if it is an operator itself.</summary>
    public static string Print(Expr expr) =>
        expr switch
        {
            Expr.Literal l => Literal(l),
            Expr.Name n => n.Member is null ? Word(n.Id) : $"{Word(n.Id)}.{Word(n.Member)}",
            Expr.User u => $"user.{Word(u.Attribute)}",
            Expr.Parameter p => $"param.{Word(p.Id)}",
            Expr.Unary u => u.Operator == "not" ? $"not {Operand(u.Operand)}" : $"-{Operand(u.Operand)}",
            Expr.Binary b => $"{Operand(b.Left)} {b.Operator} {Operand(b.Right)}",
            Expr.In i =>
                $"{Operand(i.Operand)}{Not(i.Negated)} in {(i.Items is [(Expr.User or Expr.Parameter) and var list] ? Print(list) : $"({List(i.Items)})")}",
            Expr.Between b => $"{Operand(b.Operand)}{Not(b.Negated)} between {Operand(b.Low)} and {Operand(b.High)}",
            Expr.Like l => $"{Operand(l.Operand)}{Not(l.Negated)} like {Operand(l.Pattern)}",
            Expr.IsNull n => $"{Operand(n.Operand)} is{Not(n.Negated)} null",
            Expr.Case c => $"case{(c.Operand is null ? "" : " " + Print(c.Operand))}"
                + $"{string.Concat(c.Branches.Select(b => $" when {Print(b.When)} then {Print(b.Then)}"))}"
                + $"{(c.Else is null ? "" : " else " + Print(c.Else))} "
                + "end",
            Expr.Cast c => $"cast({Print(c.Operand)} as {c.Type})",
            Expr.Extract e => $"extract({e.Unit} from {Print(e.Operand)})",
            Expr.Call c => $"{c.Function}({(c.Star ? "*" : (c.Distinct ? "distinct " : "") + List(c.Arguments))})"
                + $"{(c.Filter is null ? "" : $" filter (where {Print(c.Filter)})")}",
            _ => throw new InvalidOperationException($"No print for {expr.GetType().Name}."),
        };

    private static string Operand(Expr expr) =>
        expr is Expr.Unary or Expr.Binary or Expr.In or Expr.Between or Expr.Like or Expr.IsNull ? $"({Print(expr)})" : Print(expr);

    private static string Not(bool negated) => negated ? " not" : "";

    private static string List(IEnumerable<Expr> items) => string.Join(", ", items.Select(Print));

    private static string Word(string word) =>
        word.Length > 0
        && (char.IsLetter(word[0]) || word[0] == '_')
        && word.All(c => char.IsLetterOrDigit(c) || c == '_')
        && !Parser.IsReserved(word)
            ? word
            : $"\"{word.Replace("\"", "\"\"")}\"";

    private static string Literal(Expr.Literal literal) =>
        literal.Value switch
        {
            null => "null",
            bool b => b ? "true" : "false",
            long n => n.ToString(CultureInfo.InvariantCulture),
            decimal d => Decimal(d),
            double d => d.ToString("E16", CultureInfo.InvariantCulture),
            string s => $"'{s.Replace("'", "''")}'",
            DateOnly d => $"date '{d:yyyy-MM-dd}'",
            DateTime t => $"timestamp '{t.ToString("yyyy-MM-dd HH:mm:ss.FFFFFF", CultureInfo.InvariantCulture).TrimEnd('.')}'",
            var other => throw new InvalidOperationException($"No print for a literal of {other.GetType().Name}."),
        };

    private static string Decimal(decimal value)
    {
        // Without a point, a short decimal would be read back as an integer.
        var text = value.ToString(CultureInfo.InvariantCulture);
        return text.Contains('.') ? text : text + ".";
    }
}
