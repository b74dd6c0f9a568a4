using System.Text.RegularExpressions;
using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Results;
using Weir.Core.Sql;
using Weir.Testing;
using YamlDotNet.RepresentationModel;

namespace Weir.Engines.Tests;

/// <summary>Runs every worked example of docs/calculations.md, on DuckDB and on the reference.</summary>
public sealed class CalculationDocsTests : IDisposable
{
    private readonly TestEngine _engine = TestEngine.Start("duckdb");

    public void Dispose() => _engine.Dispose();

    public static TheoryData<string> Examples()
    {
        var examples = new TheoryData<string>();
        var title = "";
        foreach (
            Match match in Regex.Matches(
                File.ReadAllText(Path.Combine(Repository.Root, "docs", "calculations.md")),
                @"^## ([^\n]+)$|^```yaml\n(.+?)^```",
                RegexOptions.Multiline | RegexOptions.Singleline
            )
        )
            if (match.Groups[1].Success)
                title = match.Groups[1].Value;
            else
                examples.Add(title);
        return examples;
    }

    private static YamlMappingNode Example(string title)
    {
        var text = File.ReadAllText(Path.Combine(Repository.Root, "docs", "calculations.md"));
        var section = text[text.IndexOf($"## {title}\n", StringComparison.Ordinal)..];
        var stream = new YamlStream();
        stream.Load(new StringReader(Regex.Match(section, @"```yaml\n(.+?)```", RegexOptions.Singleline).Groups[1].Value));
        return (YamlMappingNode)stream.Documents[0].RootNode;
    }

    private static string? Text(YamlMappingNode node, string key) =>
        node.Children.TryGetValue(key, out var value) ? ((YamlScalarNode)value).Value : null;

    private static Dictionary<string, string> Map(YamlMappingNode node, string key) =>
        node.Children.TryGetValue(key, out var value)
            ? ((YamlMappingNode)value).Children.ToDictionary(c => ((YamlScalarNode)c.Key).Value!, c => ((YamlScalarNode)c.Value).Value!)
            : [];

    [Theory]
    [MemberData(nameof(Examples))]
    public async Task A_worked_example_gives_what_it_says(string title)
    {
        var example = Example(title);
        var lines = Text(example, "data")!.Trim().Split('\n').Select(l => l.Split(',').Select(c => c.Trim()).ToArray()).ToList();
        ValueKind KindOf(int column) =>
            ((ValueKind[])[ValueKind.Integer, ValueKind.Decimal, ValueKind.Date]).FirstOrDefault(
                k =>
                    lines.Skip(1).All(l => l[column].Length == 0 || TextReading.Read(l[column], k) is not null)
                    && lines.Skip(1).Any(l => l[column].Length > 0),
                ValueKind.Text
            );
        var columns = lines[0].Select((name, i) => (Name: name, Kind: KindOf(i))).ToList();
        List<IReadOnlyDictionary<string, object?>> rows =
        [
            .. lines
                .Skip(1)
                .Select(l =>
                    columns
                        .Select((c, i) => (c.Name, Value: l[i].Length == 0 ? null : TextReading.Read(l[i], c.Kind)))
                        .ToDictionary(x => x.Name, x => x.Value)
                ),
        ];
        _engine.Fill("t", columns, rows);

        var measures = Map(example, "measures");
        var formats = Map(example, "formats");
        var sort = Text(example, "sort")?.Split(' ');
        var by = ((YamlSequenceNode)example.Children["by"]).Select(b => ((YamlScalarNode)b).Value!).ToList();
        var top = Map(example, "top");
        var workspace = Testing.Definitions.Read(
            Testing.Definitions.Files(
                "dataset: d\nsource: s\nfrom: "
                    + $"t\nfields:\n{string.Concat(columns.Select(c => $"  {c.Name}: {{ column: {c.Name}, type: {c.Kind.Name()} }}\n"))}measures:\n{string.Concat(measures.Select(m => $"  {m.Key}: {{ formula: \"{m.Value}\"{(formats.TryGetValue(m.Key, out var f) ? $", format: {f}" : "")} }}\n"))}",
                "roles:\n  r: { reads: { d: all } }\n",
                (
                    "dashboards/x.yaml",
                    $"""
                    dashboard: x
                    tabs:
                      - tab: one
                        tiles:
                          - tile: a
                            picture: table
                            dataset: d
                            show: [{string.Join(", ", measures.Keys)}]
                            by: [{string.Join(", ", by)}]
                            totals: {Text(example, "totals") ?? "false"}
                            {(sort is null ? "" : $"sort: {{ by: {sort[0]}, order: {(sort.Length > 1 ? sort[1] : "ascending")} }}")}
                            {(top.Count == 0 ? "" : $"top: {{ count: {top["count"]}, rest: {top["rest"]} }}")}
                            place: {"{ column: 0, row: 0, width: 6, height: 4 }"}
                    """
                )
            )
        );
        var scope = Scope.For(Testing.Definitions.Viewer("r"), "d", workspace, Viewing.At(default))!;
        var memory = new InMemory(
            new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, object?>>> { ["t"] = rows },
            DayOfWeek.Monday
        );
        var dialect = _engine.Engine.Dialect(DayOfWeek.Monday);
        foreach (
            var ask in (Ask[])
                [
                    (q, c) => _engine.Source.Ask(q, dialect, c),
                    (q, _) => Task.FromResult(new QueryAnswer(memory.Answer(q).Table, memory.Answer(q).Lines)),
                ]
        )
        {
            var answer = await new Planner(DayOfWeek.Monday, "")
                .Plan(workspace.Dashboards["x"].Tiles.Single(), scope, TileFilters.None, 100)
                .Run(ask, CancellationToken.None);
            Written(answer).ShouldBe(Text(example, "gives")!.Trim().Split('\n').Select(l => l.Trim()));
            if (Text(example, "partial") is { } partial)
                answer.Partial.Select(p => Labels.Write(p, answer.Table.Columns[0])).ShouldContain(partial);
        }
    }

    private static IEnumerable<string> Written(TileAnswer answer)
    {
        var table = answer.Table;
        var rest = table.IndexOf(ColumnRole.Rest);
        for (var r = 0; r < table.Rows; r++)
            yield return string.Join(
                " | ",
                Enumerable
                    .Range(0, table.Columns.Count)
                    .Where(c => c != rest)
                    .Select(c =>
                        c == 0 && rest >= 0 && table.Values[rest][r] is true
                            ? Labels.Rest
                            : Labels.Write(table.Values[c][r], table.Columns[c])
                    )
            );
        if (answer.Totals is { } totals)
            yield return string.Join(" | ", totals.Row(0).Select((v, i) => Labels.Write(v, totals.Columns[i])).Prepend("Total"));
    }
}
