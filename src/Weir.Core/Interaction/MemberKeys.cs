using System.Globalization;
using System.Text.Json;
using Weir.Core.Expressions;

namespace Weir.Core.Interaction;

/// <summary>Tells members apart, however their values travelled.</summary>
public static class MemberKeys
{
    /// <summary>A member as text: a day and its first instant are the same, and so are 1.5 and 1.50.</summary>
    public static string Of(IEnumerable<object?> member) =>
        JsonSerializer.Serialize(
            member.Select(v =>
                v switch
                {
                    DateOnly day => Values.Write(day.ToDateTime(TimeOnly.MinValue)),
                    decimal number => (number / 1.0000000000000000000000000000m).ToString(CultureInfo.InvariantCulture),
                    null => null,
                    _ => Values.Write(v),
                }
            )
        );
}
