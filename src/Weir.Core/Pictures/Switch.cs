using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Pictures;

/// <summary>Yes, no, or both.</summary>
internal static class Switch
{
    public static PictureKind Kind { get; } =
        new("switch", "only those where it holds, or all")
        {
            Rows = 2,
            By = Slot.Of(1) with { Kinds = [ValueKind.Boolean], Wanted = "a yes or no" },
            Pick = Pick.One,
            IsControl = true,
        };
}
