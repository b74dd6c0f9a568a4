using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Access;

/// <summary>Puts in what formulas leave open until somebody looks: the viewer's attributes, parameters, and the time.</summary>
internal sealed class ViewerValues(Viewer viewer, Viewing viewing, IReadOnlyDictionary<string, Parameter> parameters, DayOfWeek weekStart)
{
    /// <summary>A row rule. A missing or unfit attribute makes the whole rule false, even under NOT.</summary>
    public Bound Rule(Bound rule)
    {
        var denied = false;
        var result = Value(rule)
            .Rewrite(node =>
            {
                if (node is Bound.UserAttribute user)
                {
                    var values = Attribute(user);
                    if (values is null || (!user.IsList && values.Count != 1))
                        denied = true;
                    else if (!user.IsList)
                        return values[0];
                }
                else if (
                    node is Bound.Op { Operation: Operation.In } op
                    && op.Arguments[^1] is Bound.UserAttribute list
                    && Attribute(list) is { } items
                )
                    return op with { Arguments = [op.Arguments[0], .. items] };
                return node;
            });
        return denied ? Bound.False : result;
    }

    /// <summary>A formula. A condition that names an empty parameter restricts nothing; a value that names one is missing.</summary>
    public Bound Value(Bound bound) =>
        bound.All().Any(b => b is Bound.Parameter or Bound.InPeriod or Bound.Clock) ? Resolve(bound) ?? Bound.True : bound;

    /// <summary>Null for a condition that falls away.</summary>
    private Bound? Resolve(Bound bound)
    {
        switch (bound)
        {
            case Bound.Op { Operation: Operation.And or Operation.Or } join:
                var kept = join.Arguments.Select(Resolve).OfType<Bound>().ToList();
                return kept.Count switch
                {
                    0 => null,
                    1 => kept[0],
                    _ => join with { Arguments = kept },
                };
            case Bound.Op { Operation: Operation.Not } not:
                return Resolve(not.Arguments[0]) is { } inner ? not with { Arguments = [inner] } : null;
            case Bound.Op { Operation: Operation.IsNull } test when test.Arguments[0] is Bound.Parameter asked:
                return viewing.Of(parameters[asked.Name]).Count == 0 ? Bound.True : Bound.False;
            case Bound.Op
            {
                Operation: Operation.Equal
                    or Operation.NotEqual
                    or Operation.Less
                    or Operation.LessOrEqual
                    or Operation.Greater
                    or Operation.GreaterOrEqual
                    or Operation.In
                    or Operation.Like
            } op:
                if (op.Arguments.Any(NamesEmpty))
                    return null;
                return op.Operation == Operation.In && op.Arguments is [var operand, Bound.Parameter { IsList: true } list]
                    ? op with
                    {
                        Arguments = [Put(operand), .. Of(list)],
                    }
                    : op with
                    {
                        Arguments = [.. op.Arguments.Select(Put)],
                    };
            case Bound.InPeriod period:
                var text = period.Period is Bound.Parameter named
                    ? viewing.Of(parameters[named.Name]) is [string set]
                        ? set
                        : null
                    : (string)((Bound.Literal)period.Period).Value!;
                if (text is null || RelativePeriod.Parse(text)!.Span(viewing.Now, weekStart) is not { } span)
                    return null;
                return Bound.Between(Put(period.Date), span.From, span.To);
            default:
                return Rebuilt(bound);
        }
    }

    /// <summary>Below a value, conditions stand on their own again: under CASE, in a FILTER.</summary>
    private Bound Put(Bound bound) =>
        bound switch
        {
            Bound.Op { Kind: ValueKind.Boolean, Operation: not (Operation.Case or Operation.Coalesce or Operation.Cast) }
            or Bound.InPeriod => Resolve(bound) ?? Bound.True,
            _ => Rebuilt(bound),
        };

    private Bound Rebuilt(Bound bound) =>
        bound switch
        {
            Bound.Parameter p => viewing.Of(parameters[p.Name]) is [var value, ..] && !p.IsList
                ? new Bound.Literal(value, p.Kind)
                : new Bound.Literal(null, p.Kind),
            Bound.Clock clock => clock.Kind == ValueKind.Date
                ? new Bound.Literal(DateOnly.FromDateTime(viewing.Now), clock.Kind)
                : new Bound.Literal(viewing.Now, clock.Kind),
            Bound.Op op => op with { Arguments = [.. op.Arguments.Select(Put)] },
            Bound.Grain grain => grain with { Argument = Put(grain.Argument) },
            Bound.Part part => part with { Argument = Put(part.Argument) },
            Bound.Aggregate a => a with
            {
                Argument = a.Argument is null ? null : Put(a.Argument),
                Filter = a.Filter is null ? null : Resolve(a.Filter),
            },
            Bound.Over over => over with { Inner = Put(over.Inner) },
            _ => bound,
        };

    /// <summary>True if an empty parameter stands in it with no condition of its own between.</summary>
    private bool NamesEmpty(Bound bound) =>
        bound switch
        {
            Bound.Parameter p => viewing.Of(parameters[p.Name]).Count == 0,
            Bound.Op { Operation: Operation.Case or Operation.Coalesce } => false,
            Bound.Aggregate => false,
            _ => bound.Children.Any(NamesEmpty),
        };

    private IEnumerable<Bound> Of(Bound.Parameter list) => viewing.Of(parameters[list.Name]).Select(v => new Bound.Literal(v, list.Kind));

    /// <summary>A developer's query with its values.</summary>
    /// <returns>The query, and false if an attribute that it names is missing: then no row is granted.</returns>
    public (QueryText Query, bool Granted) Query(QueryText query)
    {
        var granted = true;
        var pieces = query.Pieces.Select(piece =>
        {
            if (piece is not QueryPiece.Named { Bound: var bound } named)
                return piece;
            IReadOnlyList<Bound> values = bound is Bound.UserAttribute user ? Attribute(user) ?? [] : [.. Of((Bound.Parameter)bound)];
            if (named.Given)
                return new QueryPiece.Value(values.Count > 0 ? Bound.True : Bound.False);
            granted &= values.Count > 0 || bound is not Bound.UserAttribute;
            return bound is Bound.Parameter { IsList: false } single
                ? new QueryPiece.Value(values.Count > 0 ? values[0] : new Bound.Literal(null, single.Kind))
                : new QueryPiece.Values(values);
        });
        return (new QueryText([.. pieces]), granted);
    }

    private List<Bound.Literal>? Attribute(Bound.UserAttribute user)
    {
        var texts = user.Attribute == "name" ? [viewer.Name] : viewer.Attributes.GetValueOrDefault(user.Attribute);
        if (texts is null || texts.Count == 0)
            return null;
        var values = texts.Select(t => Values.Parse(t, user.Kind)).ToList();
        return values.Contains(null) ? null : [.. values.Select(v => new Bound.Literal(v, user.Kind))];
    }
}
