namespace Weir.Core.Expressions;

/// <summary>Where a piece of a formula stands in its text, in characters from 0.</summary>
public readonly record struct Span(int Start, int Length)
{
    /// <summary>From the start of one piece to the end of another.</summary>
    public static Span Over(Span a, Span b) => new(a.Start, b.Start + b.Length - a.Start);
}

/// <summary>A parsed formula: what was written, not yet what it means.</summary>
public abstract record Expr(Span Span)
{
    /// <summary>A number, text, true, false, null, or a DATE / TIMESTAMP literal.</summary>
    public sealed record Literal(object? Value, ValueKind Kind, Span Span) : Expr(Span);

    /// <summary>A field or measure, or a date field at a grain or part: <c>departed.month</c>.</summary>
    public sealed record Name(string Id, string? Member, Span Span) : Expr(Span);

    /// <summary>An attribute of the viewer: <c>user.ports</c>.</summary>
    public sealed record User(string Attribute, Span Span) : Expr(Span);

    /// <summary>A parameter that the viewer sets: <c>param.limit</c>.</summary>
    public sealed record Parameter(string Id, Span Span) : Expr(Span);

    /// <summary>NOT or a sign before an operand.</summary>
    public sealed record Unary(string Operator, Expr Operand, Span Span) : Expr(Span);

    /// <summary>Two operands and a word or sign between them.</summary>
    public sealed record Binary(string Operator, Expr Left, Expr Right, Span Span) : Expr(Span);

    /// <summary><c>x IN (a, b)</c>, or <c>x IN user.ports</c> or <c>x IN param.kinds</c> with one item that is a list.</summary>
    public sealed record In(Expr Operand, IReadOnlyList<Expr> Items, bool Negated, Span Span) : Expr(Span);

    /// <summary><c>x BETWEEN a AND b</c>, both ends included.</summary>
    public sealed record Between(Expr Operand, Expr Low, Expr High, bool Negated, Span Span) : Expr(Span);

    /// <summary><c>x LIKE 'a%'</c>.</summary>
    public sealed record Like(Expr Operand, Expr Pattern, bool Negated, Span Span) : Expr(Span);

    /// <summary><c>x IS NULL</c>.</summary>
    public sealed record IsNull(Expr Operand, bool Negated, Span Span) : Expr(Span);

    /// <summary>CASE WHEN … THEN … ELSE … END, with or without an operand after CASE.</summary>
    public sealed record Case(Expr? Operand, IReadOnlyList<(Expr When, Expr Then)> Branches, Expr? Else, Span Span) : Expr(Span);

    /// <summary><c>CAST(x AS type)</c>.</summary>
    public sealed record Cast(Expr Operand, string Type, Span TypeSpan, Span Span) : Expr(Span);

    /// <summary><c>EXTRACT(unit FROM x)</c>.</summary>
    public sealed record Extract(string Unit, Expr Operand, Span Span) : Expr(Span);

    /// <summary>A function or an aggregate: <c>count(distinct x) FILTER (WHERE y)</c>; <c>count(*)</c> has no arguments and <see cref="Star"/> set.</summary>
    public sealed record Call(string Function, IReadOnlyList<Expr> Arguments, bool Distinct, bool Star, Expr? Filter, Span Span)
        : Expr(Span);
}

/// <summary>A fault in a formula: what is wrong, where, and what was probably meant.</summary>
/// <param name="Code">A stable code such as <c>unknown-field</c>.</param>
public sealed record FormulaFault(string Code, Span Span, string Message, string? Remedy = null);

/// <summary>Thrown inside the parser and the type checker; turned into a <see cref="FormulaFault"/> at their edge.</summary>
internal sealed class FormulaException(FormulaFault fault) : Exception(fault.Message)
{
    public FormulaFault Fault { get; } = fault;
}
