using Weir.Core.Expressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>Reads the parameters of a dataset.</summary>
internal static class ParameterReader
{
    public static IReadOnlyDictionary<string, Parameter> Read(YamlText text, YamlMappingNode root, SqlLexis lexis)
    {
        var all = new Dictionary<string, Parameter>();
        foreach (var (key, node) in YamlText.Map(root, "parameters"))
            all[key.Value!] = ReadOne(text, key, node, lexis);
        return all;
    }

    private static Parameter ReadOne(YamlText text, YamlScalarNode key, YamlNode node, SqlLexis lexis)
    {
        var name = key.Value!;
        var type = YamlText.Value(node, "type")!;
        var kind = type == "period" ? ValueKind.Text : ValueKinds.Parse(type)!.Value;
        object? Value(YamlScalarNode? at)
        {
            if (at is null)
                return null;
            if (Values.Parse(at.Value!, kind) is { } value)
                return value;
            text.Report("type-mismatch", at, $"{at.Value} is not {type}, which the parameter {name} is.");
            return null;
        }
        var isMany = YamlText.IsSet(node, "many");
        var empty = new Parameter(
            name,
            YamlText.Value(node, "title") ?? Titles.FromName(name),
            YamlText.Value(node, "description"),
            kind,
            type == "period",
            isMany,
            YamlText.IsSet(node, "optional"),
            [],
            Value(YamlText.Node(node, "least") as YamlScalarNode),
            Value(YamlText.Node(node, "most") as YamlScalarNode),
            ReadChoices(text, node, lexis, Value)
        );
        if (type == "period" && isMany)
            text.Report("wrong-value", YamlText.Node(node, "many")!, "A period is one value.");
        var opening = new List<object>();
        foreach (var item in YamlText.Items(YamlText.Node(node, "opening")))
        {
            var (value, fault) = empty.Read(item.Value!);
            if (value is null)
                text.Report("wrong-value", item, fault!);
            else
                opening.Add(value);
        }
        if (opening.Count == 0 && !empty.Optional)
            text.Report("value-needed", key, $"The parameter {name} begins with no value.", "Give it opening: value, or optional: true.");
        if (opening.Count > 1 && !isMany)
            text.Report("wrong-value", YamlText.Node(node, "opening")!, $"The parameter {name} has one value.", "Give it many: true.");
        return empty with { Opening = opening };
    }

    private static ParameterChoices? ReadChoices(YamlText text, YamlNode node, SqlLexis lexis, Func<YamlScalarNode?, object?> value)
    {
        switch (YamlText.Node(node, "choices"))
        {
            case YamlSequenceNode list:
                return new ParameterChoices.Fixed([
                    .. YamlText
                        .Items(list)
                        .Select(i => (Value: value(i), Title: i.Value!))
                        .Where(i => i.Value is not null)
                        .Select(i => (i.Value!, i.Title)),
                ]);
            case YamlMappingNode { Children.Count: 1 } map when map.Children.ContainsKey(new YamlScalarNode("field")):
                return new ParameterChoices.OfField(YamlText.Value(map, "field")!);
            case YamlMappingNode map when YamlText.Node(map, "query") is YamlScalarNode query && query.Value!.Contains(' '):
                if (map.Children.Keys.OfType<YamlScalarNode>().FirstOrDefault(k => k.Value is not ("query" or "field")) is { } other)
                    text.Report(
                        "unknown-key",
                        other,
                        $"A lookup has a query and a field; '{other.Value}' is neither.",
                        "If it is a part of the query, put the query in quotes: a comma ends it here."
                    );
                var (read, fault) = QueryTextReader.Read(query.Value!, lexis, _ => null, []);
                if (fault is not null)
                    text.Report(
                        fault.Code == "unknown-parameter"
                            ? fault with
                            {
                                Message = "A lookup query is asked before parameters are set; it can name none.",
                                Remedy = "Use :user.attribute, or field: name to narrow the choices.",
                            }
                            : fault,
                        query
                    );
                return new ParameterChoices.Lookup(read ?? new QueryText([]), YamlText.Value(map, "field"));
            case YamlMappingNode map:
                return new ParameterChoices.Fixed([
                    .. map
                        .Children.Select(c => (Value: value(c.Key as YamlScalarNode), Title: (c.Value as YamlScalarNode)?.Value ?? ""))
                        .Where(i => i.Value is not null)
                        .Select(i => (i.Value!, i.Title)),
                ]);
            default:
                return null;
        }
    }
}
