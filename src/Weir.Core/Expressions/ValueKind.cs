namespace Weir.Core.Expressions;

/// <summary>The type of a value in Weir, the same for every engine.</summary>
public enum ValueKind
{
    /// <summary>The type of the bare word NULL, which fits everywhere.</summary>
    Null,

    /// <summary>true or false; in memory <see cref="bool"/>.</summary>
    Boolean,

    /// <summary>A whole number of 64 bits; in memory <see cref="long"/>.</summary>
    Integer,

    /// <summary>An exact decimal number; in memory <see cref="decimal"/>.</summary>
    Decimal,

    /// <summary>A binary floating-point number of 64 bits; in memory <see cref="double"/>.</summary>
    Float,

    /// <summary>Unicode text; in memory <see cref="string"/>.</summary>
    Text,

    /// <summary>A calendar day; in memory <see cref="DateOnly"/>.</summary>
    Date,

    /// <summary>A day and a time of day without a zone; in memory <see cref="DateTime"/>.</summary>
    Timestamp,
}

/// <summary>Facts about value types that every step needs.</summary>
public static class ValueKinds
{
    /// <summary>True for the three kinds of number.</summary>
    public static bool IsNumber(this ValueKind kind) => kind is ValueKind.Integer or ValueKind.Decimal or ValueKind.Float;

    /// <summary>True for a day or a timestamp.</summary>
    public static bool IsTemporal(this ValueKind kind) => kind is ValueKind.Date or ValueKind.Timestamp;

    /// <summary>The name used in definition files, such as <c>integer</c>.</summary>
    public static string Name(this ValueKind kind) => kind.ToString().ToLowerInvariant();

    /// <summary>Finds a type by the name used in definition files and in CAST; null if there is none.</summary>
    public static ValueKind? Parse(string name) =>
        name.ToLowerInvariant() switch
        {
            "boolean" => ValueKind.Boolean,
            "integer" => ValueKind.Integer,
            "decimal" => ValueKind.Decimal,
            "float" => ValueKind.Float,
            "text" => ValueKind.Text,
            "date" => ValueKind.Date,
            "timestamp" => ValueKind.Timestamp,
            _ => null,
        };

    /// <summary>The names that <see cref="Parse"/> knows.</summary>
    public static IReadOnlyList<string> Names { get; } = ["boolean", "integer", "decimal", "float", "text", "date", "timestamp"];

    /// <summary>The type that can hold both, or null if none can.</summary>
    public static ValueKind? Common(ValueKind a, ValueKind b)
    {
        if (a == b || b == ValueKind.Null)
            return a;
        if (a == ValueKind.Null)
            return b;
        if (a.IsNumber() && b.IsNumber())
            return a == ValueKind.Float || b == ValueKind.Float ? ValueKind.Float : ValueKind.Decimal;
        if (a.IsTemporal() && b.IsTemporal())
            return ValueKind.Timestamp;
        return null;
    }

    /// <summary>True if values of both types can be held against each other.</summary>
    public static bool AreComparable(ValueKind a, ValueKind b) =>
        a == b || (a.IsTemporal() && b.IsTemporal()) || (a.IsNumber() && b.IsNumber());
}
