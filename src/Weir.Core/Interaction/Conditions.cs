using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Interaction;

/// <summary>Turns what is picked into a condition on rows.</summary>
public static class Conditions
{
    /// <summary>
    /// Members, the rest, a range and a piece of text join with OR, the fields of one member with AND, and so a range with the members
    /// in whose pictures it lies; the rest is what is not in those shown. A selection that excludes means all rows but these, those with a missing value too.
    /// </summary>
    public static Bound Of(Selection selection, IReadOnlyList<FieldAt> fields, Scope scope, DayOfWeek weekStart)
    {
        Bound[] formulas = [.. fields.Select(f => Fields.At(f, scope)!)];
        var parts = new List<Bound>();
        if (selection.Members.Count > 0)
            parts.Add(Members(formulas, selection.Members, weekStart));
        if (selection.RestOf is not null)
            parts.Add(Rest(formulas, selection.RestOf, weekStart));
        if (selection.Range is { } range)
            parts.Add(
                selection.Each is { } each
                    ? Bound.All([Range(formulas[0], range), Members([formulas[^1]], [.. each.Select(m => new[] { m })], weekStart)])
                    : Range(formulas[0], range)
            );
        if (selection.Contains is { } piece)
            parts.Add(Contains(fields[0], scope, piece));
        var picked = Bound.Any(parts);
        return selection.Excludes ? Not(picked) : picked;
    }

    /// <summary>The rows of one member.</summary>
    public static Bound IsMember(IReadOnlyList<FieldAt> fields, IReadOnlyList<object?> member, Scope scope, DayOfWeek weekStart) =>
        Members([.. fields.Select(f => Fields.At(f, scope)!)], [member], weekStart);

    /// <summary>
    /// Of dates from the first instant, included, to the last, excluded; of numbers both ends are included, unless it ends below. An open
    /// end bounds nothing.
    /// </summary>
    private static Bound Range(Bound formula, PickedRange range)
    {
        var value = formula is Bound.Grain grain ? grain.Argument : formula;
        var isTime = value.Kind.IsTemporal();
        Bound.Literal At(object end) =>
            !isTime ? new Bound.Literal(end, value.Kind)
            : value.Kind == ValueKind.Date && Periods.Instant(end).TimeOfDay == TimeSpan.Zero
                ? new Bound.Literal(DateOnly.FromDateTime(Periods.Instant(end)), ValueKind.Date)
            : new Bound.Literal(Periods.Instant(end), ValueKind.Timestamp);
        var ends = new List<Bound>();
        if (range.From is { } from)
            ends.Add(new Bound.Op(Operation.GreaterOrEqual, ValueKind.Boolean, value, At(from)));
        if (range.To is { } to)
            ends.Add(new Bound.Op(isTime || range.EndsBelow ? Operation.Less : Operation.LessOrEqual, ValueKind.Boolean, value, At(to)));
        return Bound.All(ends);
    }

    /// <summary>The piece in the text, whatever its letters A to Z are, large or small; of codes and keys that have names, in those.</summary>
    /// <param name="atStart">True where the text has to begin with it; else it may stand anywhere.</param>
    public static Bound Contains(FieldAt at, Scope scope, string piece, bool atStart = false)
    {
        var (value, field) = (Fields.At(at, scope)!, scope.Fields[at.Field]);
        Bound InText(Bound text) => Has(text, piece, atStart);
        if (at.Member is not null || !field.HasNames)
            return InText(AsText(value));
        if (field.NamedBy is { } name)
            return Bound.Any([InText(name), Bound.All([IsNull(name), InText(AsText(value))])]);
        var names = field.Names;
        Bound Among(IEnumerable<object> codes) =>
            codes.Any()
                ? new Bound.Op(Operation.In, ValueKind.Boolean, [value, .. codes.Select(c => new Bound.Literal(c, value.Kind))])
                : Bound.False;
        bool IsMeant(string text)
        {
            var at = text.ToLowerInvariant().IndexOf(piece.ToLowerInvariant(), StringComparison.Ordinal);
            return atStart ? at == 0 : at >= 0;
        }
        var unnamed = Bound.All([new Bound.Op(Operation.Not, ValueKind.Boolean, Among(names.Keys)), InText(AsText(value))]);
        return Bound.Any([Among(names.Where(n => IsMeant(n.Value)).Select(n => n.Key)), unnamed]);
    }

    private static Bound AsText(Bound value) => value.Kind == ValueKind.Text ? value : new Bound.Op(Operation.Cast, ValueKind.Text, value);

    private static Bound.Op Has(Bound text, string piece, bool atStart)
    {
        Bound Lower(Bound of) => new Bound.Op(Operation.Lower, ValueKind.Text, of);
        var found = new Bound.Op(
            Operation.Position,
            ValueKind.Integer,
            new Bound.Literal(piece.ToLowerInvariant(), ValueKind.Text),
            Lower(text)
        );
        return new Bound.Op(
            atStart ? Operation.Equal : Operation.Greater,
            ValueKind.Boolean,
            found,
            new Bound.Literal(atStart ? 1L : 0L, ValueKind.Integer)
        );
    }

    private static Bound.Op Not(Bound condition) =>
        new(Operation.Not, ValueKind.Boolean, new Bound.Op(Operation.Coalesce, ValueKind.Boolean, condition, Bound.False));

    private static Bound Members(Bound[] formulas, IReadOnlyList<IReadOnlyList<object?>> members, DayOfWeek weekStart)
    {
        if (formulas is [not Bound.Grain and var only] && !members.Any(m => IsDayOf(only, m[0])))
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
        return shown.Count == 0 ? Bound.True : Not(isShown);
    }

    private static Bound Equals(Bound formula, object? value, DayOfWeek weekStart)
    {
        if (value is null)
            return IsNull(formula is Bound.Grain g ? g.Argument : formula);
        if (formula is Bound.Grain grain)
            return Period(grain, value, weekStart);
        // A day that was picked on a date means the whole day where the counterpart has a time of day.
        if (IsDayOf(formula, value))
            return Bound.Between(formula, Periods.Instant(value), Periods.Instant(value).AddDays(1));
        return new Bound.Op(Operation.Equal, ValueKind.Boolean, formula, new Bound.Literal(value, formula.Kind));
    }

    private static bool IsDayOf(Bound formula, object? value) =>
        formula is { Kind: ValueKind.Timestamp } and not Bound.Grain && value is DateOnly;

    /// <summary>A picked period is the half-open range of its instants, whatever the follower's grain.</summary>
    private static Bound Period(Bound.Grain grain, object value, DayOfWeek weekStart)
    {
        var start = Calendar.Floor(value is DateOnly day ? day.ToDateTime(TimeOnly.MinValue) : (DateTime)value, grain.Of, weekStart);
        return Bound.Between(grain.Argument, start, Calendar.Add(start, grain.Of, 1));
    }

    private static Bound.Op IsNull(Bound formula) => new(Operation.IsNull, ValueKind.Boolean, formula);
}
