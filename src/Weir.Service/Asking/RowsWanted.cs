using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;

namespace Weir.Service.Asking;

/// <summary>Which single rows are looked at, and in which order: conditions of a column and keys of sorting, checked against the scope.</summary>
internal static class RowsWanted
{
    /// <summary>The most conditions, keys of sorting, and letters of a value.</summary>
    private const int MostConditions = 32;
    private const int MostKeys = 8;
    private const int LongestValue = 400;

    /// <summary>The conditions that rows have to meet, all of them.</summary>
    /// <exception cref="ProblemException">A field is not there for this viewer, a value is none of its kind, or there is too much.</exception>
    public static List<Bound> Conditions(IReadOnlyList<RowCondition>? conditions, Scope scope)
    {
        if (conditions?.Count > MostConditions)
            throw new ProblemException(422, "too-many", $"There can be {MostConditions} conditions at most.");
        return [.. (conditions ?? []).Select(c => Condition(c, scope))];
    }

    /// <summary>The fields to sort by, the first before the next.</summary>
    /// <exception cref="ProblemException">A field is not there for this viewer, or there are too many.</exception>
    public static IReadOnlyList<(string Field, bool Descending)> Order(IReadOnlyList<RowSort>? sort, Scope scope)
    {
        if (sort?.Count > MostKeys)
            throw new ProblemException(422, "too-many", $"There can be {MostKeys} fields to sort by at most.");
        return [.. (sort ?? []).Select(s => (Field(s?.Field, scope).Name, s!.Descending)).DistinctBy(s => s.Item1)];
    }

    private static Field Field(string? name, Scope scope) =>
        name is not null && scope.Fields.TryGetValue(name, out var field)
            ? field
            : throw new ProblemException(422, "unknown-field", $"There is no field {ProblemException.Short(name ?? "")} here.");

    private static Bound Condition(RowCondition? condition, Scope scope)
    {
        var field = Field(condition?.Field, scope);
        var (how, text) = (condition!.Is, condition.Value ?? "");
        if (text.Length > LongestValue)
            throw new ProblemException(422, "too-long", $"The value of a condition has {LongestValue} letters at most.");
        if (how is "missing")
            return new Bound.Op(Operation.IsNull, ValueKind.Boolean, field.Formula);
        if (text.Contains('\0'))
            throw new ProblemException(422, "wrong-type", "The value of a condition has a letter that no text has.");
        if (how is "contains" or "begins")
            return Core.Interaction.Conditions.Contains(new FieldAt(field.Name, null), scope, text, atStart: how is "begins");
        var operation = how switch
        {
            "equal" => Operation.Equal,
            "less" => Operation.Less,
            "more" => Operation.Greater,
            "least" => Operation.GreaterOrEqual,
            "most" => Operation.LessOrEqual,
            _ => throw new ProblemException(
                422,
                "unknown-condition",
                "A condition is one of equal, less, more, least, most, contains, begins and missing."
            ),
        };
        return Values.Parse(text, field.Kind) is { } value
            ? new Bound.Op(operation, ValueKind.Boolean, field.Formula, new Bound.Literal(value, field.Kind))
            : throw new ProblemException(422, "wrong-type", $"{field.Title} is {field.Kind.Name()}; the value of its condition is not.");
    }
}

/// <summary>A condition of single rows.</summary>
/// <param name="Is">equal, less, more, least (this or more), most (this or less), contains, begins or missing.</param>
public sealed record RowCondition(string? Field, string? Is, string? Value = null);

/// <summary>A field that single rows are sorted by.</summary>
public sealed record RowSort(string? Field, bool Descending = false);
