using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Pictures;

/// <summary>How often values lie in each range of a number.</summary>
internal static class Histogram
{
    public static PictureKind Kind { get; } =
        new(
            "histogram",
            "bars over ranges of a number, each of the measure or of how many rows lie in it; given by `ranges`, a range holds its "
                + "start and not its end, the last one both"
        )
        {
            Show = new Slot(0, 1),
            By = Slot.Of(1) with { Kinds = [ValueKind.Integer, ValueKind.Decimal, ValueKind.Float], Wanted = "a number" },
            CanSplit = true,
            EachKey = PictureKind.RepeatKey,
            Pick = Pick.Range,
            Question = QuestionShape.Ranges,
            Own = [new OwnKey(ValueRanges.Key, "no-ranges", "Only a histogram has ranges."), DrawnAs.Parts, DrawnAs.Repeat, DrawnAs.Scales],
        };
}
