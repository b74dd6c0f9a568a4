using Weir.Core.Expressions;
using Weir.Core.Results;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>Reads what is picked on a tile when its dashboard is opened.</summary>
internal static class OpeningReader
{
    /// <param name="kinds">The types of the fields that the tile is grouped by; null where a field is unknown.</param>
    public static Opening? Read(YamlText text, YamlNode tile, Pick pick, IReadOnlyList<ValueKind?> kinds)
    {
        var node = YamlText.Node(tile, "opening");
        var isEmpty = node is null or YamlScalarNode { Value: "all" };
        if (YamlText.IsSet(tile, "required") && isEmpty)
            text.Report(
                "value-needed",
                YamlText.Node(tile, "required")!,
                "Something must always be picked here, but nothing is when the dashboard opens.",
                "Give it opening: newest, a list of members, a range or a period."
            );
        return isEmpty ? null : Of(text, node!, pick, kinds);
    }

    /// <summary>Reads what is picked on a tile, wherever that is written; null for nothing, or where it can't be meant.</summary>
    /// <param name="kinds">See <see cref="Read"/>.</param>
    public static Opening? Of(YamlText text, YamlNode node, Pick pick, IReadOnlyList<ValueKind?> kinds)
    {
        if (node is YamlScalarNode { Value: "all" } || kinds.Contains(null))
            return null;
        if (pick == Pick.None)
        {
            text.Report("not-pickable", node, "Nothing can be picked on this tile.", "Add pick: many.");
            return null;
        }
        var known = kinds.Select(k => k!.Value).ToList();
        return node switch
        {
            YamlScalarNode => Newest(text, node, known),
            YamlSequenceNode list => Members(text, list, pick, known),
            _ => Range(text, node, pick, known),
        };
    }

    private static readonly Opening Nothing = new(false, [], null, null, null, null);

    private static Opening? Newest(YamlText text, YamlNode node, List<ValueKind> kinds)
    {
        if (kinds is [var kind] && kind.IsTemporal())
            return Nothing with { IsNewest = true };
        text.Report(
            "type-mismatch",
            node,
            "Only a date has a newest one.",
            "Group the tile by one date, or name the members: opening: [member]."
        );
        return null;
    }

    private static Opening? Members(YamlText text, YamlSequenceNode list, Pick pick, List<ValueKind> kinds)
    {
        if (pick == Pick.Text || list.Children.Count == 0)
        {
            text.Report(
                "wrong-form",
                list,
                pick == Pick.Text
                    ? "On a search a piece of text is picked: opening: { contains: text }."
                    : "Name at least one member, or say all."
            );
            return null;
        }
        if (pick == Pick.One && list.Children.Count > 1)
            text.Report("one-member-only", list, "Only one member can be picked here at a time.");
        var members = new List<IReadOnlyList<object?>>();
        foreach (var item in list)
        {
            var parts = YamlText.Items(item).ToList();
            if (parts.Count != kinds.Count)
            {
                text.Report("wrong-count", item, $"A member of this tile has {kinds.Count} value{(kinds.Count == 1 ? "" : "s")}.");
                return null;
            }
            var member = parts.Select((p, i) => p.Value == Labels.NotGiven ? null : Value(text, p, kinds[i])).ToList();
            if (parts.Where((p, i) => member[i] is null && p.Value != Labels.NotGiven).Any())
                return null;
            members.Add(member);
        }
        return Nothing with { Members = members };
    }

    private static object? Value(YamlText text, YamlScalarNode node, ValueKind kind)
    {
        var value = Values.Parse(node.Value!, kind);
        if (value is null)
            text.Report("type-mismatch", node, $"{node.Value} is not {kind.Name()}.");
        return value;
    }

    private static Opening? Range(YamlText text, YamlNode node, Pick pick, List<ValueKind> kinds)
    {
        var (from, to) = (YamlText.Node(node, "from") as YamlScalarNode, YamlText.Node(node, "to") as YamlScalarNode);
        var (period, piece) = (YamlText.Value(node, "period"), YamlText.Value(node, "contains"));
        if ((piece is not null) != (pick == Pick.Text) || (piece is null && pick != Pick.Range))
        {
            text.Report(
                "cannot-pick",
                node,
                pick == Pick.Text ? "On a search a piece of text is picked." : "No range can be picked on this tile.",
                pick == Pick.Text ? "Write opening: { contains: text }." : "Name members: opening: [member]."
            );
            return null;
        }
        if (piece is not null)
            return Nothing with { Contains = piece };
        var (each, isOff) = Each(text, node, kinds);
        if (isOff)
            return null;
        var isTime = kinds[0].IsTemporal();
        if (period is not null)
        {
            if (isTime && from is null && to is null && RelativePeriod.Parse(period) is not null)
                return Nothing with { Period = period, Each = each };
            text.Report(
                "wrong-value",
                YamlText.Node(node, "period")!,
                isTime && RelativePeriod.Parse(period) is null
                    ? $"{period} is no period. {RelativePeriod.Help}"
                    : "A period needs a date, and stands alone."
            );
            return null;
        }
        var ends = new[] { from, to }
            .Select(e =>
                e is null ? null
                : isTime ? Value(text, e, ValueKind.Date)
                : Value(text, e, kinds[0])
            )
            .ToList();
        if ((from is not null && ends[0] is null) || (to is not null && ends[1] is null))
            return null;
        if ((ends[0] is null && ends[1] is null) || (ends is [{ } first, { } last] && Evaluator.Compare(first, last) > 0))
        {
            text.Report(
                "wrong-value",
                node,
                ends[0] is null && ends[1] is null ? "A range has from, to or both." : "The range ends before it begins."
            );
            return null;
        }
        return Nothing with { From = ends[0], To = ends[1] is DateOnly day ? day.AddDays(1) : ends[1], Each = each };
    }

    /// <summary>The members in whose pictures a range lies, where a tile is repeated; null for all of them.</summary>
    private static (IReadOnlyList<object?>? Each, bool IsOff) Each(YamlText text, YamlNode node, List<ValueKind> kinds)
    {
        if (YamlText.Node(node, "each") is not { } written)
            return (null, false);
        if (kinds.Count != 2)
        {
            text.Report("wrong-value", written, "Only a tile that is repeated has a picture for each member.", "Leave each out.");
            return (null, true);
        }
        var items = YamlText.Items(written).ToList();
        if (items.Count == 0)
            text.Report("wrong-value", written, "Name at least one member, or leave each out.");
        var members = items.Select(m => m.Value == Labels.NotGiven ? null : Value(text, m, kinds[^1])).ToList();
        return (members, items.Count == 0 || items.Where((m, i) => members[i] is null && m.Value != Labels.NotGiven).Any());
    }
}
