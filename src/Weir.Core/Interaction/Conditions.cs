using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Interaction;

/// <summary>Turns what is picked into a condition on rows.</summary>
public static class Conditions
{
    /// <summary>Members join with OR, the fields of one member with AND; the rest is what is not in those shown.</summary>
    public static Bound Of(Selection selection, IReadOnlyList<FieldAt> fields, Scope scope, DayOfWeek weekStart)
    {
        Bound[] formulas = [.. fields.Select(f => Fields.At(f, scope)!)];
        var parts = new List<Bound>();
        if (selection.Members.Count > 0)
            parts.Add(Members(formulas, selection.Members, weekStart));
        if (selection.RestOf is not null)
            parts.Add(Rest(formulas, selection.RestOf, weekStart));
        return Bound.Any(parts);
    }

    private static Bound Members(Bound[] formulas, IReadOnlyList<IReadOnlyList<object?>> members, DayOfWeek weekStart)
    {
        if (formulas is [not Bound.Grain and var only])
        {
            var values = members.Select(m => m[0]).OfType<object>().Select(v => new Bound.Literal(v, only.Kind)).ToList();
            var parts = new List<Bound>();
            if (values.Count > 0)
                parts.Add(new Bound.Op(Operation.In, ValueKind.Boolean, [only, .. values]));
            if (members.Any(m => m[0] is null))
                parts.Add(IsNull(only));
            return Bound.Any(parts);
        }
        return Bound.Any(members.Select(m => Bound.All(formulas.Select((f, i) => Equals(f, m[i], weekStart)))));
    }

    private static Bound Rest(Bound[] formulas, IReadOnlyList<IReadOnlyList<object?>> shown, DayOfWeek weekStart)
    {
        var isShown = Members(formulas, shown, weekStart);
        // "not given" belongs to the rest unless it is shown: a comparison with it would be neither true nor false.
        var isNotShown = new Bound.Op(Operation.Not, ValueKind.Boolean, new Bound.Op(Operation.Coalesce, ValueKind.Boolean, isShown, Bound.False));
        return shown.Count == 0 ? Bound.True : isNotShown;
    }

    private static Bound Equals(Bound formula, object? value, DayOfWeek weekStart)
    {
        if (value is null)
            return IsNull(formula is Bound.Grain g ? g.Argument : formula);
        if (formula is Bound.Grain grain)
            return Period(grain, value, weekStart);
        return new Bound.Op(Operation.Equal, ValueKind.Boolean, formula, new Bound.Literal(value, formula.Kind));
    }

    /// <summary>A picked period is the half-open range of its instants, whatever the follower's grain.</summary>
    private static Bound Period(Bound.Grain grain, object value, DayOfWeek weekStart)
    {
        var start = Calendar.Floor(value is DateOnly day ? day.ToDateTime(TimeOnly.MinValue) : (DateTime)value, grain.Of, weekStart);
        return Between(grain.Argument, start, Calendar.Add(start, grain.Of, 1));
    }

    /// <summary>From an instant, included, to another, excluded.</summary>
    public static Bound Between(Bound date, DateTime from, DateTime to)
    {
        Bound.Literal At(DateTime instant) => date.Kind == ValueKind.Date && instant.TimeOfDay == TimeSpan.Zero
            ? new(DateOnly.FromDateTime(instant), ValueKind.Date)
            : new(instant, ValueKind.Timestamp);
        return new Bound.Op(
            Operation.And, ValueKind.Boolean,
            new Bound.Op(Operation.GreaterOrEqual, ValueKind.Boolean, date, At(from)),
            new Bound.Op(Operation.Less, ValueKind.Boolean, date, At(to)));
    }

    private static Bound.Op IsNull(Bound formula) => new(Operation.IsNull, ValueKind.Boolean, formula);
}
