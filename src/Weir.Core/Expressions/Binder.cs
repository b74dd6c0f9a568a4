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
    private readonly Func<string, Bound.Parameter?> _parameters;
    private bool _inAggregate;
    private long _size;

    private Binder(
        NameResolver resolve,
        IReadOnlyCollection<string> names,
        bool allowAggregates,
        bool allowUser,
        Func<string, Bound.Parameter?>? parameters
    )
    {
        _parameters = parameters ?? (_ => null);
        _resolve = resolve;
        _names = names;
        _allowAggregates = allowAggregates;
        _allowUser = allowUser;
    }

    /// <summary>Parses and binds <paramref name="text"/>. Exactly one of the two results is null.</summary>
    /// <param name="names">The known names, for "did you mean".</param>
    /// <param name="allowAggregates">True for measures: their value is over many rows.</param>
    /// <param name="allowUser">True for row rules, which may ask for the viewer's attributes.</param>
    /// <param name="parameters">The dataset's parameters by name; none if left out.</param>
    public static (Bound? Bound, FormulaFault? Fault) Bind(
        string text,
        NameResolver resolve,
        IReadOnlyCollection<string> names,
        bool allowAggregates = false,
        bool allowUser = false,
        Func<string, Bound.Parameter?>? parameters = null
    )
    {
        var (expr, fault) = Parser.Parse(text);
        if (expr is null)
            return (null, fault);
        try
        {
            var bound = new Binder(resolve, names, allowAggregates, allowUser, parameters).Bind(expr);
            if (bound.Size > Bound.MaximumSize || bound.Depth > Bound.MaximumDepth)
                throw Fault(
                    "formula-too-large",
                    expr.Span,
                    "With all that its names stand for, the formula is larger than any database would take.",
                    "Build it on fewer others."
                );
            if (allowAggregates && bound.All().Any(b => b is Bound.Column) && !OnlyInsideAggregates(bound))
                throw Fault(
                    "row-value-in-measure",
                    expr.Span,
                    "A measure is a value over many rows, but a field stands in it outside an aggregate.",
                    "Wrap the field, for example sum(field)."
                );
            return (bound, null);
        }
        catch (FormulaException e)
        {
            return (null, e.Fault);
        }
    }

    private static bool OnlyInsideAggregates(Bound bound) =>
        bound switch
        {
            Bound.Aggregate => true,
            Bound.Column => false,
            _ => bound.Children.All(OnlyInsideAggregates),
        };

    private static FormulaException Fault(string code, Span span, string message, string? remedy = null) =>
        new(new FormulaFault(code, span, message, remedy));

    private Bound Bind(Expr expr) =>
        expr switch
        {
            Expr.Literal l => new Bound.Literal(l.Value, l.Kind),
            Expr.Name n => Name(n),
            Expr.User u => User(u, isList: false, ValueKind.Text),
            Expr.Parameter p => Parameter(p, isList: false),
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

    private static Bound Negated(bool negated, Bound bound) => negated ? new Bound.Op(Operation.Not, ValueKind.Boolean, bound) : bound;

    private Bound Name(Expr.Name name)
    {
        var found =
            _resolve(name.Id)
            ?? throw Fault("unknown-field", name.Span, $"There is no field or measure {name.Id}.", Nearest.Remedy(name.Id, _names));
        if ((_size += found.Size) > Bound.MaximumSize)
            throw Fault(
                "formula-too-large",
                name.Span,
                "With all that its names stand for, the formula is larger than any database would take.",
                "Build it on fewer others."
            );
        if (found.HasAggregate && !_allowAggregates)
            throw Fault("measure-in-row", name.Span, $"{name.Id} is a measure, a value over many rows; a value of one row is needed here.");
        if (found.HasAggregate && _inAggregate)
            throw Fault("measure-in-measure", name.Span, $"{name.Id} is a measure already and can't be aggregated again.");
        if (name.Member is null)
            return found;
        return AtMember(found, name.Member)
            ?? throw (
                found.Kind.IsTemporal()
                    ? Fault(
                        "unknown-grain",
                        name.Span,
                        $"{name.Member} is no grain or part of a date.",
                        Nearest.Remedy(name.Member, Calendar.Names)
                    )
                    : Fault(
                        "type-mismatch",
                        name.Span,
                        $"{name.Id} is {found.Kind.Name()}; only a date or a timestamp has a {name.Member}."
                    )
            );
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

    private Bound.UserAttribute User(Expr.User user, bool isList, ValueKind kind) =>
        _allowUser
            ? new Bound.UserAttribute(user.Attribute, isList, kind)
            : throw Fault("user-not-here", user.Span, "The viewer's attributes may be used in row rules only.");

    private Bound.Parameter Parameter(Expr.Parameter parameter, bool isList)
    {
        var found =
            _parameters(parameter.Id)
            ?? throw Fault(
                "unknown-parameter",
                parameter.Span,
                $"There is no parameter {parameter.Id}.",
                "Parameters are defined in the dataset, under parameters."
            );
        if (found.IsList != isList)
            throw Fault(
                "type-mismatch",
                parameter.Span,
                isList ? $"{parameter.Id} has one value; after IN a list is expected." : $"{parameter.Id} is a list.",
                isList ? $"Write = param.{parameter.Id}, or give the parameter many: true." : $"Write IN param.{parameter.Id}."
            );
        return found;
    }

    private Bound Condition(Expr expr)
    {
        var bound = Bind(expr);
        return bound.Kind is ValueKind.Boolean or ValueKind.Null
            ? bound
            : throw Fault("type-mismatch", expr.Span, $"A condition is needed here; this is {bound.Kind.Name()}.");
    }

    private Bound Text(Expr expr)
    {
        var bound = Bind(expr);
        return bound.Kind is ValueKind.Text or ValueKind.Null
            ? bound
            : throw Fault("type-mismatch", expr.Span, $"Text is needed here; this is {bound.Kind.Name()}.", "Use CAST(… AS text).");
    }

    private Bound Number(Expr expr)
    {
        var bound = Bind(expr);
        return bound.Kind.IsNumber() || bound.Kind == ValueKind.Null
            ? bound
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
                return new Bound.Op(
                    binary.Operator == "and" ? Operation.And : Operation.Or,
                    ValueKind.Boolean,
                    Condition(binary.Left),
                    Condition(binary.Right)
                );
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
            "%" when left.Kind is ValueKind.Integer or ValueKind.Null && right.Kind is ValueKind.Integer or ValueKind.Null => new Bound.Op(
                Operation.Remainder,
                ValueKind.Integer,
                left,
                right
            ),
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
            throw Fault(
                "type-mismatch",
                binary.Span,
                $"{left.Kind.Name()} can't be compared with {right.Kind.Name()}.",
                "Use CAST(… AS …) on one side."
            );
        return (left, right);
    }

    private Bound.Op In(Expr.In list)
    {
        var operand = Bind(list.Operand);
        if (list.Items is [Expr.User user])
            return new Bound.Op(Operation.In, ValueKind.Boolean, operand, User(user, isList: true, operand.Kind));
        if (list.Items is [Expr.Parameter parameter])
        {
            var values = Parameter(parameter, isList: true);
            return ValueKinds.Common(operand.Kind, values.Kind) is not null
                ? new Bound.Op(Operation.In, ValueKind.Boolean, operand, values)
                : throw Fault(
                    "type-mismatch",
                    parameter.Span,
                    $"The list holds {values.Kind.Name()}, but the value before IN is {operand.Kind.Name()}."
                );
        }
        var items = new List<Bound> { operand };
        foreach (var item in list.Items)
        {
            var bound = Bind(item);
            if (ValueKinds.Common(operand.Kind, bound.Kind) is null)
                throw Fault(
                    "type-mismatch",
                    item.Span,
                    $"The list holds {bound.Kind.Name()}, but the value before IN is {operand.Kind.Name()}."
                );
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
        kind =
            ValueKinds.Common(kind, bound.Kind)
            ?? throw Fault(
                "type-mismatch",
                value.Span,
                $"This is {bound.Kind.Name()}, but a value before it is {kind.Name()}.",
                "Give all values one type with CAST."
            );
        return bound;
    }

    private Bound.Op Cast(Expr.Cast cast)
    {
        var kind =
            ValueKinds.Parse(cast.Type)
            ?? throw Fault("unknown-type", cast.TypeSpan, $"There is no type {cast.Type}.", Nearest.Remedy(cast.Type, ValueKinds.Names));
        var operand = Bind(cast.Operand);
        var allowed =
            operand.Kind == kind
            || operand.Kind == ValueKind.Null
            || kind == ValueKind.Text
            || (operand.Kind.IsNumber() && kind.IsNumber())
            || (operand.Kind.IsTemporal() && kind.IsTemporal());
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
            "year" => new Bound.Part(operand, DatePart.YearNumber),
            "quarter" => new Bound.Part(operand, DatePart.QuarterOfYear),
            "month" => new Bound.Part(operand, DatePart.MonthOfYear),
            "day" => new Bound.Part(operand, DatePart.DayOfMonth),
            "hour" => new Bound.Part(operand, DatePart.HourOfDay),
            _ => throw Fault("unknown-grain", extract.Span, $"EXTRACT knows no {extract.Unit}.", "Use YEAR, QUARTER, MONTH, DAY or HOUR."),
        };
    }

    private Bound Call(Expr.Call call)
    {
        switch (call.Function)
        {
            case "count" or "sum" or "avg" or "min" or "max" or "median" or "percentile":
                return Aggregate(call);
        }
        if (call.Filter is not null || call.Distinct || call.Star)
            throw Fault(
                "not-an-aggregate",
                call.Span,
                $"{call.Function} is no aggregate; DISTINCT, * and FILTER belong to count, sum, avg, min, max, median and percentile."
            );
        var kind = ValueKind.Null;
        switch (call.Function, call.Arguments)
        {
            case ("coalesce", { Count: > 0 }):
                var values = call.Arguments.Select(a => Branch(a, ref kind)).ToList();
                return new Bound.Op(Operation.Coalesce, kind, values);
            case ("nullif", [var a, var b]):
                return new Bound.Op(
                    Operation.Case,
                    Bind(a).Kind,
                    Binary(new Expr.Binary("=", a, b, call.Span)),
                    new Bound.Literal(null, ValueKind.Null),
                    Bind(a)
                );
            case ("greatest" or "least", { Count: > 1 }):
                return call
                    .Arguments.Skip(1)
                    .Aggregate(
                        Branch(call.Arguments[0], ref kind),
                        (best, next) => Better(call.Function == "greatest", best, next, ref kind)
                    );
            case ("today", []):
                return new Bound.Clock(ValueKind.Date);
            case ("now", []):
                return new Bound.Clock(ValueKind.Timestamp);
            case ("within", [var date, var period]):
                return Within(date, period);
            case ("running_total" or "share" or "previous" or "rank", _):
                return Over(call);
        }
        if (!Functions.All.TryGetValue(call.Function, out var function))
            throw call.Function is "coalesce" or "nullif" or "greatest" or "least" or "today" or "now" or "within"
                ? Fault("wrong-arguments", call.Span, $"{call.Function} does not take {call.Arguments.Count} values.")
                : Fault(
                    "unknown-function",
                    call.Span,
                    $"There is no function {call.Function}.",
                    Nearest.Remedy(call.Function, Functions.Names)
                );
        if (call.Arguments.Count != function.Takes.Count)
            throw Fault(
                "wrong-arguments",
                call.Span,
                $"{call.Function} takes {(function.Takes.Count == 1 ? "one value" : $"{function.Takes.Count} values")}."
            );
        List<Bound> arguments = [.. call.Arguments.Zip(function.Takes, Argument)];
        if (function.Operation == Operation.Round && arguments[1] is Bound.Literal { Value: > 6L })
            throw Fault("wrong-arguments", call.Arguments[1].Span, "round keeps at most 6 digits.");
        return new Bound.Op(function.Operation, function.Result([.. arguments.Select(a => a.Kind)]), arguments);
    }

    private Bound Argument(Expr expr, Takes takes)
    {
        switch (takes)
        {
            case Takes.Text:
                return Text(expr);
            case Takes.Number:
                return Number(expr);
            case Takes.FixedText:
                return Text(expr) is Bound.Literal { Value: string { Length: > 0 } } text
                    ? text
                    : throw Fault("wrong-arguments", expr.Span, "A text written out is needed here, and not an empty one.");
            case Takes.FixedWhole or Takes.FixedPlace:
                return Bind(expr) is Bound.Literal { Value: long n } whole && n >= (takes == Takes.FixedPlace ? 1 : 0) && n <= int.MaxValue
                    ? whole
                    : throw Fault(
                        "wrong-arguments",
                        expr.Span,
                        $"A whole number from {(takes == Takes.FixedPlace ? 1 : 0)}, written out, is needed here."
                    );
        }
        var bound = Bind(expr);
        if (bound.Kind == ValueKind.Null || (takes == Takes.Date ? bound.Kind.IsTemporal() : bound.Kind == ValueKind.Integer))
            return bound;
        throw Fault(
            "type-mismatch",
            expr.Span,
            $"{(takes == Takes.Date ? "A date" : "A whole number")} is needed here; this is {bound.Kind.Name()}."
        );
    }

    /// <summary>The greater or lesser of two values; a missing one is left out.</summary>
    private Bound.Op Better(bool greatest, Bound best, Expr nextExpr, ref ValueKind kind)
    {
        var next = Branch(nextExpr, ref kind);
        Bound IsNull(Bound b) => new Bound.Op(Operation.IsNull, ValueKind.Boolean, b);
        var isBetter = new Bound.Op(greatest ? Operation.GreaterOrEqual : Operation.LessOrEqual, ValueKind.Boolean, best, next);
        return new Bound.Op(Operation.Case, kind, IsNull(best), next, IsNull(next), best, isBetter, best, next);
    }

    private Bound.InPeriod Within(Expr date, Expr period)
    {
        var bound = Bind(date);
        if (!bound.Kind.IsTemporal())
            throw Fault("type-mismatch", date.Span, $"within needs a date; this is {bound.Kind.Name()}.");
        var span = Bind(period);
        if (span is Bound.Literal { Value: string text })
        {
            if (RelativePeriod.Parse(text) is null)
                throw Fault("unknown-period", period.Span, $"'{text}' is no period.", RelativePeriod.Help);
        }
        else if (span is not Bound.Parameter { Kind: ValueKind.Text, IsList: false })
            throw Fault(
                "type-mismatch",
                period.Span,
                "within needs a period: a text such as 'last 30 days', or a parameter of type period."
            );
        return new Bound.InPeriod(bound, span);
    }

    /// <summary>A figure that looks at other lines of the result.</summary>
    private Bound.Over Over(Expr.Call call)
    {
        if (!_allowAggregates || _inAggregate)
            throw Fault(
                "measure-in-row",
                call.Span,
                $"{call.Function} looks at other figures of the tile; it can stand in a measure only, outside an aggregate."
            );
        if (call.Arguments.Count is 0 or > 2)
            throw Fault(
                "wrong-arguments",
                call.Span,
                $"{call.Function} takes a measure{(call.Function is "share" or "previous" ? " and, if wanted, an option" : "")}."
            );
        var inner = Bind(call.Arguments[0]);
        if (!inner.HasAggregate || inner.All().Any(b => b is Bound.Over))
            throw Fault("no-aggregate", call.Arguments[0].Span, $"{call.Function} needs a plain measure, such as sum(…).");
        if (call.Function != "rank" && !inner.Kind.IsNumber())
            throw Fault("type-mismatch", call.Arguments[0].Span, $"{call.Function} needs a number; this is {inner.Kind.Name()}.");
        string[] options = call.Function switch
        {
            "share" => ["all", "shown", "group"],
            "previous" => ["period", "year"],
            _ => [],
        };
        var option = options.FirstOrDefault();
        if (call.Arguments.Count == 2)
        {
            var written =
                call.Arguments[1] is Expr.Literal { Value: string text } ? text
                : call.Arguments[1] is Expr.Name { Member: null } name ? name.Id
                : "";
            option =
                options.FirstOrDefault(o => o == written)
                ?? throw Fault(
                    "unknown-value",
                    call.Arguments[1].Span,
                    $"{call.Function} has no such option.",
                    options.Length == 0 ? null : $"Use {Sentences.Or(options)}."
                );
        }
        return call.Function switch
        {
            "running_total" => new(OverFunction.RunningTotal, inner, null, inner.Kind),
            "share" => new(OverFunction.Share, inner, option, ValueKind.Float),
            "previous" => new(OverFunction.Previous, inner, option, inner.Kind),
            _ => new(OverFunction.Rank, inner, null, ValueKind.Integer),
        };
    }

    private Bound.Aggregate Aggregate(Expr.Call call)
    {
        if (!_allowAggregates)
            throw Fault(
                "measure-in-row",
                call.Span,
                $"{call.Function} is a value over many rows; a value of one row is needed here.",
                "Define it as a measure."
            );
        if (_inAggregate)
            throw Fault("measure-in-measure", call.Span, $"{call.Function} stands inside another aggregate.");
        if (
            call.Star != (call.Arguments.Count == 0)
            || call.Arguments.Count > (call.Function == "percentile" ? 2 : 1)
            || (call.Star && call.Function != "count")
        )
            throw Fault(
                "wrong-arguments",
                call.Span,
                $"{call.Function} takes one value{(call.Function switch { "count" => " or *", "percentile" => " and a fraction", _ => "" })}."
            );
        var fraction = call.Function == "percentile" ? Fraction(call) : 0.5;
        if (call.Distinct && call.Function != "count")
            throw Fault("wrong-arguments", call.Span, "DISTINCT is understood in count(distinct …) only.");
        _inAggregate = true;
        var argument =
            call.Star ? null
            : call.Function is "sum" or "avg" or "median" or "percentile" ? Number(call.Arguments[0])
            : Bind(call.Arguments[0]);
        var filter = call.Filter is null ? null : Condition(call.Filter);
        _inAggregate = false;
        return call.Function switch
        {
            "count" => new(
                call.Star ? AggregateFunction.CountRows
                    : call.Distinct ? AggregateFunction.CountDistinct
                    : AggregateFunction.Count,
                argument,
                filter,
                ValueKind.Integer
            ),
            "sum" => new(AggregateFunction.Sum, argument, filter, argument!.Kind),
            "avg" => new(AggregateFunction.Average, argument, filter, ValueKind.Float),
            "median" or "percentile" => new(AggregateFunction.Percentile, argument, filter, ValueKind.Float) { Fraction = fraction },
            "min" => new(AggregateFunction.Minimum, argument, filter, argument!.Kind),
            _ => new(AggregateFunction.Maximum, argument, filter, argument!.Kind),
        };
    }

    private static double Fraction(Expr.Call call)
    {
        var value =
            call.Arguments.Count == 2 && call.Arguments[1] is Expr.Literal { Value: long or decimal or double } literal
                ? Convert.ToDouble(literal.Value, System.Globalization.CultureInfo.InvariantCulture)
                : -1;
        return value is >= 0 and <= 1
            ? value
            : throw Fault(
                "wrong-arguments",
                call.Span,
                "percentile takes a value and a fraction from 0 to 1, written out.",
                "For example percentile(delay, 0.9)."
            );
    }
}
