using System.Diagnostics;
using System.Net;
using System.Text;
using Shouldly;
using Weir.Core;
using Weir.Core.Definitions;

namespace Weir.Attack.Tests;

/// <summary>Small viewing that would take the service's stack, time or memory.</summary>
public sealed class LimitAttackTests
{
    private static string Formulas(IEnumerable<string> formulas) =>
        "dataset: sales\nsource: shop\nfrom: sale\nfields:\n  f0: { column: kind }\n"
        + string.Concat(formulas.Select((f, i) => $"  f{i + 1}: {{ formula: \"{f}\" }}\n"));

    [Fact]
    public async Task Formulas_on_formulas_are_refused_before_they_take_the_stack_or_the_memory()
    {
        await using var attacked = await Attacked.Start();
        var wide = string.Join(" || ", Enumerable.Repeat("f0", 60));
        foreach (
            var (text, code) in new[]
            {
                // Last to first, so that each is looked up within the one before.
                (
                    "dataset: sales\nsource: shop\nfrom: sale\nfields:\n"
                        + string.Concat(Enumerable.Range(1, 1_900).Reverse().Select(i => $"  f{i}: {{ formula: \"f{i - 1} || 'x'\" }}\n"))
                        + "  f0: { column: kind }\n",
                    "formula-chain"
                ),
                (Formulas(Enumerable.Range(0, 20_000).Select(i => $"f{i}")), "too-many-fields"),
                (Formulas(Enumerable.Range(0, 40).Select(i => $"f{i} || f{i}")), "formula-too-large"),
                (Formulas(Enumerable.Repeat(wide, 1_900)), "formula-too-large"),
                (Formulas([string.Join(" || ", Enumerable.Repeat("f0", 1_000))]), "formula-too-deep"),
                (Formulas([new string('(', 4_000) + "f0" + new string(')', 4_000)]), "formula-too-deep"),
                (Formulas([new string('a', 9_000), new string('b', 9_000)]), "unknown-field"),
            }
        )
        {
            var (status, body, _) = await attacked.Post("maker", "api/datasets/preview", new { text, rows = 1 });
            status.ShouldBe(HttpStatusCode.OK);
            Attacked.Codes(body).ShouldContain(code);
        }
        (await attacked.Send(null, HttpMethod.Get, "api/health")).Status.ShouldBe(HttpStatusCode.OK);
    }

    /// <summary>
    /// Five thousand tiles of every way to wire them; what grows by the square or the cube would hold this up for minutes, and is given up
    /// after one.
    /// </summary>
    [Fact]
    public void Thousands_of_tiles_are_read_in_time_that_grows_with_their_number()
    {
        var files = Testing.Definitions.Files(
            "dataset: d\nsource: s\nfrom: t\nfields:\n  route: { column: route }\nmeasures:\n  rows: { formula: \"count(*)\" }\n",
            "roles:\n  r: { reads: { d: all } }\n"
        );
        for (var d = 0; d < 5; d++)
        {
            var text = new StringBuilder($"dashboard: x{d}\ntabs:\n  - tab: one\n    tiles:\n");
            for (var i = 0; i < 1_000; i++)
                text.Append(
                    $"      - tile: t{i}\n        picture: bar\n        dataset: d\n        show: rows\n        by: route\n        drives: "
                        + $"{(d == 0 ? $"[t{(i + 1) % 1_000}]" : d == 1 ? "none" : d == 2 ? "dashboard" : "tab")}\n        follows: "
                        + $"{(d == 3 ? $"[t{(i + 500) % 1_000}]" : "all")}\n        place: {{ column: {i % 3 * 4}, row: {i / 3}, width: 4, height: "
                        + $"1 }}\n"
                );
            files[$"dashboards/x{d}.yaml"] = text.ToString();
        }
        using var patience = new CancellationTokenSource(TimeSpan.FromMinutes(1));
        var (workspace, faults) = WorkspaceText.Read(files, patience.Token);
        workspace.ShouldNotBeNull(string.Join('\n', faults.Take(3)));
        workspace.Dashboards.Values.Sum(d => d.Tiles.Count()).ShouldBe(5_000);
        faults.Count(f => f.Code == "never-filtered").ShouldBe(499, "the list of those of x1 ends where a file's faults are cut off");
    }

    [Fact]
    public void Reading_ends_when_nobody_waits_for_it()
    {
        using var gone = new CancellationTokenSource();
        gone.Cancel();
        Should.Throw<OperationCanceledException>(() =>
            WorkspaceText.Read(Testing.Definitions.Files("dataset: d\n", "roles: {}\n"), gone.Token)
        );
    }

    /// <summary>
    /// Queries that no engine's own limits hold: they end by the limits of the source, others are answered meanwhile, and the service stays
    /// as small as it was.
    /// </summary>
    [Fact]
    public async Task What_a_typed_query_may_take_is_held_from_outside()
    {
        await using var attacked = await Attacked.Start();
        (await attacked.Preview("lab", "SELECT 1 AS a")).Body.GetProperty("rows").GetInt64().ShouldBe(1);
        foreach (
            var (source, query) in new[]
            {
                ("lab", "SELECT unnest(range(100000000)) AS a"),
                ("lab", "SELECT repeat('a', 2000000000) AS a"),
                ("lab", "SELECT count(*) AS a FROM range(100000000) x, range(100000) y WHERE hash(x.range + y.range) = 0"),
                ("shop", "SELECT hex(zeroblob(900000000)) AS a"),
                ("shop", "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT count(*) AS a FROM n"),
            }
        )
        {
            var attack = attacked.Preview(source, query);
            while (!attack.IsCompleted)
                (await attacked.Post("all", "api/dashboards/shop/results", new { })).Text.ShouldContain("\"ready\"");
            var (_, body, text) = await attack;
            Attacked.Codes(body).ShouldContain(c => c == "memory-limit" || c == "time-limit" || c == "query-failed", $"{query}: {text}");
            Process.GetCurrentProcess().WorkingSet64.ShouldBeLessThan(1L << 30, query);
        }
        // On a slow machine the process that comes in place of the ended one may itself need longer than a query is given, and the ended one
        // may still be told of.
        var after = await attacked.Preview("lab", "SELECT 2 AS a");
        for (var tries = 1; Attacked.Codes(after.Body).Any(c => c is "time-limit" or "memory-limit") && tries < 20; tries++)
            after = await attacked.Preview("lab", "SELECT 2 AS a");
        after.Text.ShouldContain("\"rows\":1", Case.Sensitive, "it comes back by itself");
    }

    [Fact]
    public async Task A_file_that_takes_more_than_it_may_or_cannot_be_read_takes_only_itself_away()
    {
        await using var attacked = await Attacked.Start();
        attacked.Files.File("sheets/good.csv", "a,b\n1,\"two\nlines\"\n2,x\n");
        attacked.Files.File("sheets/broken.xlsx", "this is no workbook");
        attacked.Files.File(
            "sheets/wide.csv",
            string.Join(',', Enumerable.Range(0, 2_000).Select(i => $"c{i}"))
                + "\n"
                + string.Join(',', Enumerable.Repeat("1", 2_000))
                + "\n"
        );
        var (_, body, text) = await attacked.Post(
            "maker",
            "api/sources/test",
            new { text = "source: sheets\nengine: files\nfolder: sheets\nlimits: { seconds: 300, memory_mb: 1200 }\n" }
        );
        body.GetProperty("steps").EnumerateArray().ShouldAllBe(s => s.GetProperty("state").GetString() != "failed", text);
        text.ShouldContain("broken.xlsx can't be read");
        text.ShouldContain("at most 1000 are read", Case.Sensitive, text);
        text.ShouldContain("1 tables and views");
    }
}
