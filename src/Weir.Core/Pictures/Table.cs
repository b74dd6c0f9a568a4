using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Lines as text.</summary>
internal static class Table
{
    public static PictureKind Kind { get; } =
        new("table", "a line for each combination of members, with its figures; a picked row is a tuple")
        {
            Show = new Slot(0, 20),
            By = new Slot(1, 10),
        };
}
