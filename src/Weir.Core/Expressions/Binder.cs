namespace Weir.Core.Expressions;

/// <summary>What a name in a formula may stand for: a bound field or measure, or null if there is no such name.</summary>
/// <remarks>A resolver may throw <see cref="FormulaException"/> for a name that stands in a circle.</remarks>
internal delegate Bound? NameResolver(string name);

/// <summary>Gives a parsed formula its meaning: resolves names, checks types, and says at which character a fault stands.</summary>
internal sealed class Binder
{
    private readonly NameResolver _resolve;
    private readonly IReadOnlyCollection<string> _names;
    private readonly bool _allowAggregates;
    private readonly bool _allowUser;
    private bool _inAggregate;

    private Binder(NameResolver resolve, IReadOnlyCollection<string> names, bool allowAggregates, bool allowUser)
    {
        _resolve = resolve;
        _names = names;
        _allowAggregates = allowAggregates;
        _allowUser = allowUser;
    }

    /// <summary>Parses and binds <paramref name="text"/>. Exactly one of the two results is null.</summary>
    /// <param name="names">The known names, for "did you mean".</param>
    /// <param name="allowAggregates">True for measures: their value is over many rows.</param>
    /// <param name="allowUser">True for row rules, which may ask for the viewer's attributes.</param>
    public static (Bound? Bound, FormulaFault? Fault) Bind(
        string text, NameResolver resolve, IReadOnlyCollection<string> names, bool allowAggregates = false, bool allowUser = false)
    {
        var (expr, fault) = Parser.Parse(text);
        if (expr is null)
            return (null, fault);
        try
        {
            var bound = new Binder(resolve, names, allowAggregates, allowUser).Bind(expr);
            if (allowAggregates && bound.All().Any(b => b is Bound.Column) && !OnlyInsideAggregates(bound))
                throw Fault("row-value-in-measure", expr.Span, "A measure is a value over many rows, but a field stands in it outside an aggregate.", "Wrap the field, for example sum(field).");
            return (bound, null);
        }
        catch (FormulaException e)
        {
            return (null, e.Fault);
        }
    }

    private static bool OnlyInsideAggregates(Bound bound) => bound switch
    {
        Bound.Aggregate => true,
        Bound.Column => false,
        _ => bound.Children.All(OnlyInsideAggregates),
    };

    private static FormulaException Fault(string code, Span span, string message, string? remedy = null) =>
        new(new FormulaFault(code, span, message, remedy));

    private Bound Bind(Expr expr) => expr switch
    {
        Expr.Literal l => new Bound.Literal(l.Value, l.Kind),
        Expr.Name n => Name(n),
        Expr.User u => User(u, isList: false, ValueKind.Text),
        Expr.Unary { Operator: "not" } u => new Bound.Op(Operation.Not, ValueKind.Boolean, Condition(u.Operand)),
        Expr.Unary u => Negate(u),
        Expr.Binary b => Binary(b),
        Expr.In i => Negated(i.Negated, In(i)),
        Expr.Between b => Negated(b.Negated, Between(b)),
        Expr.Like l => Negated(l.Negated, new Bound.Op(Operation.Like, ValueKind.Boolean, Text(l.Operand), Text(l.Pattern))),
        Expr.IsNull n => Negated(n.Negated, new Bound.Op(Operation.IsNull, ValueKind.Boolean, Bind(n.Operand))),
        Expr.Case c => Case(c),
        Expr.Cast c => Cast(c),
        Expr.Extract e => Extract(e),
        Expr.Call c => Call(c),
        _ => throw new InvalidOperationException($"No meaning for {expr.GetType().Name}."),
    };

    private static Bound Negated(bool negated, Bound bound) =>
        negated ? new Bound.Op(Operation.Not, ValueKind.Boolean, bound) : bound;

    private Bound Name(Expr.Name name)
    {
        var found = _resolve(name.Id) ?? throw Fault(
            "unknown-field", name.Span, $"There is no field or measure {name.Id}.", Nearest.Remedy(name.Id, _names));
        if (found.HasAggregate && !_allowAggregates)
            throw Fault("measure-in-row", name.Span, $"{name.Id} is a measure, a value over many rows; a value of one row is needed here.");
        if (found.HasAggregate && _inAggregate)
            throw Fault("measure-in-measure", name.Span, $"{name.Id} is a measure already and can't be aggregated again.");
        if (name.Member is null)
            return found;
        return AtMember(found, name.Member) ?? throw (found.Kind.IsTemporal()
            ? Fault("unknown-grain", name.Span, $"{name.Member} is no grain or part of a date.", Nearest.Remedy(name.Member, Calendar.Names))
            : Fault("type-mismatch", name.Span, $"{name.Id} is {found.Kind.Name()}; only a date or a timestamp has a {name.Member}."));
    }

    /// <summary>A date at a grain or part by its name; null if it is no date or has no such member.</summary>
    internal static Bound? AtMember(Bound date, string member)
    {
        if (!date.Kind.IsTemporal())
            return null;
        if (Calendar.ParseGrain(member) is { } grain)
            return new Bound.Grain(date, grain);
        return Calendar.ParsePart(member) is { } part ? new Bound.Part(date, part) : null;
    }

    private Bound.UserAttribute User(Expr.User user, bool isList, ValueKind kind) => _allowUser
        ? new Bound.UserAttribute(user.Attribute, isList, kind)
        : throw Fault("user-not-here", user.Span, "The viewer's attributes may be used in row rules only.");

    private Bound Condition(Expr expr)
    {
        var bound = Bind(expr);
        return bound.Kind is ValueKind.Boolean or ValueKind.Null ? bound
            : throw Fault("type-mismatch", expr.Span, $"A condition is needed here; this is {bound.Kind.Name()}.");
    }

    private Bound Text(Expr expr)
    {
        var bound = Bind(expr);
        return bound.Kind is ValueKind.Text or ValueKind.Null ? bound
            : throw Fault("type-mismatch", expr.Span, $"Text is needed here; this is {bound.Kind.Name()}.", "Use CAST(… AS text).");
    }

    private Bound Number(Expr expr)
    {
        var bound = Bind(expr);
        return bound.Kind.IsNumber() || bound.Kind == ValueKind.Null ? bound
            : throw Fault("type-mismatch", expr.Span, $"A number is needed here; this is {bound.Kind.Name()}.");
    }

    private Bound.Op Negate(Expr.Unary unary)
    {
        var operand = Number(unary.Operand);
        return new Bound.Op(Operation.Negate, operand.Kind, operand);
    }

    private Bound.Op Binary(Expr.Binary binary)
    {
        switch (binary.Operator)
        {
            case "and" or "or":
                return new Bound.Op(binary.Operator == "and" ? Operation.And : Operation.Or, ValueKind.Boolean, Condition(binary.Left), Condition(binary.Right));
            case "||":
                return new Bound.Op(Operation.Concatenate, ValueKind.Text, Text(binary.Left), Text(binary.Right));
            case "+" or "-" or "*" or "/" or "%":
                return Arithmetic(binary);
        }
        var (left, right) = Pair(binary);
        var operation = binary.Operator switch
        {
            "=" => Operation.Equal,
            "<>" => Operation.NotEqual,
            "<" => Operation.Less,
            "<=" => Operation.LessOrEqual,
            ">" => Operation.Greater,
            _ => Operation.GreaterOrEqual,
        };
        return new Bound.Op(operation, ValueKind.Boolean, left, right);
    }

    private Bound.Op Arithmetic(Expr.Binary binary)
    {
        var left = Number(binary.Left);
        var right = Number(binary.Right);
        var common = ValueKinds.Common(left.Kind, right.Kind) ?? ValueKind.Float;
        return binary.Operator switch
        {
            "/" => new Bound.Op(Operation.Divide, ValueKind.Float, left, right),
            "%" when left.Kind is ValueKind.Integer or ValueKind.Null && right.Kind is ValueKind.Integer or ValueKind.Null =>
                new Bound.Op(Operation.Remainder, ValueKind.Integer, left, right),
            "%" => throw Fault("type-mismatch", binary.Span, "% takes two integers."),
            "+" => new Bound.Op(Operation.Add, common, left, right),
            "-" => new Bound.Op(Operation.Subtract, common, left, right),
            _ => new Bound.Op(Operation.Multiply, common, left, right),
        };
    }

    /// <summary>Binds both sides of a comparison; an attribute of the viewer takes the other side's type.</summary>
    private (Bound Left, Bound Right) Pair(Expr.Binary binary)
    {
        if (binary.Right is Expr.User rightUser && binary.Left is not Expr.User)
        {
            var other = Bind(binary.Left);
            return (other, User(rightUser, isList: false, other.Kind));
        }
        if (binary.Left is Expr.User leftUser && binary.Right is not Expr.User)
        {
            var other = Bind(binary.Right);
            return (User(leftUser, isList: false, other.Kind), other);
        }
        var left = Bind(binary.Left);
        var right = Bind(binary.Right);
        if (ValueKinds.Common(left.Kind, right.Kind) is null)
            throw Fault("type-mismatch", binary.Span, $"{left.Kind.Name()} can't be compared with {right.Kind.Name()}.", "Use CAST(… AS …) on one side.");
        return (left, right);
    }

    private Bound.Op In(Expr.In list)
    {
        var operand = Bind(list.Operand);
        if (list.Items is [Expr.User user])
            return new Bound.Op(Operation.In, ValueKind.Boolean, operand, User(user, isList: true, operand.Kind));
        var items = new List<Bound> { operand };
        foreach (var item in list.Items)
        {
            var bound = Bind(item);
            if (ValueKinds.Common(operand.Kind, bound.Kind) is null)
                throw Fault("type-mismatch", item.Span, $"The list holds {bound.Kind.Name()}, but the value before IN is {operand.Kind.Name()}.");
            items.Add(bound);
        }
        return new Bound.Op(Operation.In, ValueKind.Boolean, items);
    }

    private Bound.Op Between(Expr.Between between)
    {
        var low = Binary(new Expr.Binary(">=", between.Operand, between.Low, between.Span));
        var high = Binary(new Expr.Binary("<=", between.Operand, between.High, between.Span));
        return new Bound.Op(Operation.And, ValueKind.Boolean, low, high);
    }

    private Bound.Op Case(Expr.Case written)
    {
        var arguments = new List<Bound>();
        var kind = ValueKind.Null;
        foreach (var (when, then) in written.Branches)
        {
            arguments.Add(written.Operand is null ? Condition(when) : Binary(new Expr.Binary("=", written.Operand, when, when.Span)));
            arguments.Add(Branch(then, ref kind));
        }
        arguments.Add(written.Else is null ? new Bound.Literal(null, ValueKind.Null) : Branch(written.Else, ref kind));
        return new Bound.Op(Operation.Case, kind, arguments);
    }

    private Bound Branch(Expr value, ref ValueKind kind)
    {
        var bound = Bind(value);
        kind = ValueKinds.Common(kind, bound.Kind) ?? throw Fault(
            "type-mismatch", value.Span, $"This is {bound.Kind.Name()}, but a value before it is {kind.Name()}.", "Give all values one type with CAST.");
        return bound;
    }

    private Bound.Op Cast(Expr.Cast cast)
    {
        var kind = ValueKinds.Parse(cast.Type) ?? throw Fault(
            "unknown-type", cast.TypeSpan, $"There is no type {cast.Type}.", Nearest.Remedy(cast.Type, ValueKinds.Names));
        var operand = Bind(cast.Operand);
        var allowed = operand.Kind == kind || operand.Kind == ValueKind.Null || kind == ValueKind.Text
            || (operand.Kind.IsNumber() && kind.IsNumber()) || (operand.Kind.IsTemporal() && kind.IsTemporal());
        if (!allowed)
            throw Fault("type-mismatch", cast.Span, $"{operand.Kind.Name()} can't be cast to {kind.Name()}.");
        return new Bound.Op(Operation.Cast, kind, operand);
    }

    private Bound Extract(Expr.Extract extract)
    {
        var operand = Bind(extract.Operand);
        if (!operand.Kind.IsTemporal() && operand.Kind != ValueKind.Null)
            throw Fault("type-mismatch", extract.Operand.Span, $"EXTRACT needs a date; this is {operand.Kind.Name()}.");
        return extract.Unit switch
        {
            "quarter" => new Bound.Part(operand, DatePart.QuarterOfYear),
            "month" => new Bound.Part(operand, DatePart.MonthOfYear),
            "day" => new Bound.Part(operand, DatePart.DayOfMonth),
            "hour" => new Bound.Part(operand, DatePart.HourOfDay),
            _ => throw Fault("unknown-grain", extract.Span, $"EXTRACT knows no {extract.Unit}.", "Use QUARTER, MONTH, DAY or HOUR; for years group by field.year."),
        };
    }

    private Bound Call(Expr.Call call)
    {
        switch (call.Function)
        {
            case "count" or "sum" or "avg" or "min" or "max":
                return Aggregate(call);
            case "coalesce" when call.Arguments.Count > 0:
                var kind = ValueKind.Null;
                var values = call.Arguments.Select(a => Branch(a, ref kind)).ToList();
                return new Bound.Op(Operation.Coalesce, kind, values);
        }
        if (call.Filter is not null || call.Distinct || call.Star)
            throw Fault("not-an-aggregate", call.Span, $"{call.Function} is no aggregate; DISTINCT, * and FILTER belong to count, sum, avg, min and max.");
        return (call.Function, call.Arguments) switch
        {
            ("lower", [var a]) => new Bound.Op(Operation.Lower, ValueKind.Text, Text(a)),
            ("upper", [var a]) => new Bound.Op(Operation.Upper, ValueKind.Text, Text(a)),
            ("length", [var a]) => new Bound.Op(Operation.Length, ValueKind.Integer, Text(a)),
            ("abs", [var a]) => Number(a) is var n ? new Bound.Op(Operation.Abs, n.Kind, n) : throw new InvalidOperationException(),
            ("coalesce" or "lower" or "upper" or "length" or "abs", _) => throw Fault("wrong-arguments", call.Span, $"{call.Function} takes {(call.Function == "coalesce" ? "at least one value" : "one value")}."),
            _ => throw Fault("unknown-function", call.Span, $"There is no function {call.Function}.",
                Nearest.Remedy(call.Function, ["count", "sum", "avg", "min", "max", "coalesce", "lower", "upper", "length", "abs"])),
        };
    }

    private Bound.Aggregate Aggregate(Expr.Call call)
    {
        if (!_allowAggregates)
            throw Fault("measure-in-row", call.Span, $"{call.Function} is a value over many rows; a value of one row is needed here.", "Define it as a measure.");
        if (_inAggregate)
            throw Fault("measure-in-measure", call.Span, $"{call.Function} stands inside another aggregate.");
        if (call.Star != (call.Arguments.Count == 0) || call.Arguments.Count > 1 || (call.Star && call.Function != "count"))
            throw Fault("wrong-arguments", call.Span, $"{call.Function} takes one value{(call.Function == "count" ? " or *" : "")}.");
        if (call.Distinct && call.Function != "count")
            throw Fault("wrong-arguments", call.Span, "DISTINCT is understood in count(distinct …) only.");
        _inAggregate = true;
        var argument = call.Star ? null : call.Function is "sum" or "avg" ? Number(call.Arguments[0]) : Bind(call.Arguments[0]);
        var filter = call.Filter is null ? null : Condition(call.Filter);
        _inAggregate = false;
        return call.Function switch
        {
            "count" => new(call.Star ? AggregateFunction.CountRows : call.Distinct ? AggregateFunction.CountDistinct : AggregateFunction.Count, argument, filter, ValueKind.Integer),
            "sum" => new(AggregateFunction.Sum, argument, filter, argument!.Kind),
            "avg" => new(AggregateFunction.Average, argument, filter, ValueKind.Float),
            "min" => new(AggregateFunction.Minimum, argument, filter, argument!.Kind),
            _ => new(AggregateFunction.Maximum, argument, filter, argument!.Kind),
        };
    }
}
