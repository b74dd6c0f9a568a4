using System.Text;
using CsCheck;
using Shouldly;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Results;
using Weir.Core.Sql;
using Weir.Testing;

namespace Weir.Engines.Tests;

/// <summary>Every engine against the in-memory reference: random rows, formulas, row rules, selections and tiles.</summary>
public abstract class DifferentialTests(string engine) : IDisposable
{
    private const int Tables = 24;
    private readonly TestEngine _engine = TestEngine.Start(engine);
    private readonly List<IReadOnlyDictionary<string, IReadOnlyList<IReadOnlyDictionary<string, object?>>>> _rows = [];

    /// <summary>How many cases; <c>make soak</c> asks for more.</summary>
    private static int Cases(int usual) => int.TryParse(Environment.GetEnvironmentVariable("WEIR_CASES"), out var n) ? n : usual;

    public void Dispose()
    {
        _engine.Dispose();
        GC.SuppressFinalize(this);
    }

    private static readonly string?[] Texts = ["", "a", "A", "b", "ab", "ß", "é", "日本", "🙂", "O'Hare", "100%", "a_b", " a", null];

    // As text that is to be read as another type: what fits and what only looks so.
    private static readonly string?[] Raw =
    [
        "12",
        " -7 ",
        "+3",
        "1.50",
        "1,5",
        "1e3",
        "0x1F",
        "",
        " ",
        "2024-02-29",
        "2023-02-29",
        "1900-02-29",
        "2024-13-01",
        "2024-02-29 23:59",
        "true",
        "no",
        "TRUE",
        "12345678901234567890",
        "٣",
        null,
    ];
    private static readonly long?[] Numbers = [-3, -1, 0, 1, 2, 7, 1_000_000_007, null];
    private static readonly decimal?[] Decimals = [-12.50m, -0.01m, 0m, 0.10m, 1.25m, 999_999.99m, null];
    private static readonly decimal?[] Huge =
    [
        -12345678901234567890.123456m,
        98765432109876543210.000001m,
        0.000001m,
        -0.000001m,
        0m,
        70000000000000000000m,
        null,
    ];

    // SQLite keeps decimals as floating-point numbers, exact to fifteen digits.
    private static readonly decimal?[] FifteenDigits = [-123456789.123456m, 987654321.000001m, 0.000001m, -0.000001m, 0m, null];
    private static readonly double?[] Floats = [-2.5, -0.0, 0.0, 0.1, 1e-9, 1e12, 3.25, null];

    private static T Of<T>(T[] from, Random random) => from[random.Next(from.Length)];

    // Clocks go forward and back in much of the world in these nights; Weir's timestamps have no zone and must not mind.
    private static readonly DateTime?[] ClockChanges =
    [
        new DateTime(2024, 3, 31, 2, 30, 0),
        new DateTime(2024, 3, 31, 3, 0, 0),
        new DateTime(2024, 10, 27, 2, 30, 0),
        new DateTime(2024, 3, 10, 2, 15, 0),
    ];

    private static DateTime? Moment(Random random) =>
        random.Next(8) == 0
            ? null
            : random.Next(6) switch
            {
                5 => Of(ClockChanges, random),
                0 => new DateTime(2024, 2, 29, 23, 59, 59),
                1 => new DateTime(2023, 12, 31),
                _ => new DateTime(2023, 12, 20).AddMinutes(random.Next(60 * 24 * 200)),
            };

    private static readonly (string, ValueKind)[] Columns =
    [
        ("txt", ValueKind.Text),
        ("code", ValueKind.Text),
        ("num", ValueKind.Integer),
        ("amount", ValueKind.Decimal),
        ("huge", ValueKind.Decimal),
        ("measure", ValueKind.Float),
        ("flag", ValueKind.Boolean),
        ("day", ValueKind.Date),
        ("at", ValueKind.Timestamp),
        ("raw", ValueKind.Text),
    ];

    private static IReadOnlyDictionary<string, IReadOnlyList<IReadOnlyDictionary<string, object?>>> MakeTables(
        TestEngine engine,
        int number,
        Random random
    )
    {
        var count = number % 8 == 0 ? 0 : random.Next(1, 50);
        var rows = Enumerable
            .Range(0, count)
            .Select(_ =>
            {
                var at = Moment(random);
                return (IReadOnlyDictionary<string, object?>)
                    new Dictionary<string, object?>
                    {
                        ["txt"] = Of(Texts, random),
                        ["code"] = Of(Texts, random),
                        ["num"] = Of(Numbers, random),
                        ["amount"] = Of(Decimals, random),
                        ["huge"] = Of(engine.Name == "sqlite" ? FifteenDigits : Huge, random),
                        ["measure"] = Of(Floats, random),
                        ["flag"] = Of([true, false, (bool?)null], random),
                        ["day"] = Moment(random) is { } day ? DateOnly.FromDateTime(day) : null,
                        ["at"] = at,
                        ["raw"] = Of(Raw, random),
                    };
            })
            .ToList();
        var lookup = Texts
            .OfType<string>()
            .Where(_ => random.Next(3) > 0)
            .Select(t =>
                (IReadOnlyDictionary<string, object?>)
                    new Dictionary<string, object?> { ["code"] = t, ["label"] = random.Next(5) == 0 ? null : "L" + t }
            )
            .ToList();
        engine.Fill($"t{number}", Columns, rows);
        engine.Fill($"l{number}", [("code", ValueKind.Text), ("label", ValueKind.Text)], lookup);
        return new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, object?>>>
        {
            [$"t{number}"] = rows,
            [$"l{number}"] = lookup,
        };
    }

    /// <summary>A random formula of a type, as text: the parser and the type checker have their part in the test.</summary>
    private static string Formula(Random random, ValueKind kind, int depth = 3)
    {
        string Sub(ValueKind k) => Formula(random, k, depth - 1);
        if (depth == 0 || random.Next(4) == 0)
            return kind switch
            {
                ValueKind.Boolean => Of(["flag", "true", "num is null", "txt is not null"], random),
                ValueKind.Integer => Of(
                    ["num", "2", "0", "at.hour_of_day", "day.day_of_week", "at.month_of_year", "day.quarter_of_year", "at.day_of_month"],
                    random
                ),
                ValueKind.Decimal => Of(["amount", "huge", "1.25", "0.10", "0.000001"], random),
                ValueKind.Float => Of(["measure", "2.5e0"], random),
                ValueKind.Text => Of(["txt", "code", "label", "'a'", "''", "'O''Hare'"], random),
                _ => Of(["at", "timestamp '2024-02-29 12:00:00'", "day"], random),
            };
        return kind switch
        {
            ValueKind.Boolean => random.Next(11) switch
            {
                0 => $"({Sub(ValueKind.Boolean)} and {Sub(ValueKind.Boolean)})",
                1 => $"({Sub(ValueKind.Boolean)} or {Sub(ValueKind.Boolean)})",
                2 => $"not {Sub(ValueKind.Boolean)}",
                3 => $"({Sub(ValueKind.Integer)} {Of(["=", "<>", "<", ">="], random)} {Sub(ValueKind.Decimal)})",
                4 => $"({Sub(ValueKind.Text)} {Of(["=", "<", "<=", "<>"], random)} {Sub(ValueKind.Text)})",
                5 => $"({Sub(ValueKind.Text)} {Of(["", "not "], random)}in ('a', {Of(["null", "'b'", "txt"], random)}))",
                6 => $"({Sub(ValueKind.Integer)} {Of(["", "not "], random)}between {Sub(ValueKind.Integer)} and 5)",
                7 =>
                    $"({Sub(ValueKind.Text)} {Of(["", "not "], random)}like {Of(["'a%'", "'_'", "'%b'", "''", "'%'", "'100%'", "'a_b'"], random)})",
                8 => $"within({Of(["at", "day"], random)}, "
                    + $"{Of(["'last 90 days'", "'this year to date'", "'previous quarter'", "'2024-01-15 to 2024-03-02'", "'all time'"], random)})",
                9 => $"(cast({Of(["num", "amount", "day", "flag", "at"], random)} as text) like '%1%')",
                _ => $"({Sub(ValueKind.Timestamp)} {Of(["<", ">=", "="], random)} {Sub(ValueKind.Timestamp)})",
            },
            ValueKind.Integer => random.Next(12) switch
            {
                5 => $"position({Of(["'a'", "'本'", "'_'", "' '"], random)}, {Sub(ValueKind.Text)})",
                6 => $"{Of(["floor", "ceiling"], random)}({Of(["amount", "measure", "num", "amount * 1.5", "measure / 3"], random)})",
                7 => $"days_between({Sub(ValueKind.Timestamp)}, {Sub(ValueKind.Timestamp)})",
                8 => $"minutes_between({Of(["at", "day"], random)}, {Sub(ValueKind.Timestamp)})",
                9 => $"{Of(["greatest", "least"], random)}({Sub(ValueKind.Integer)}, num, 3)",
                10 => $"nullif({Sub(ValueKind.Integer)}, {Of(["0", "2", "num"], random)})",
                11 => "extract(year from at)",
                0 => $"({Sub(ValueKind.Integer)} % 3)",
                1 => $"(num {Of(["+", "-"], random)} {Of(["1", "num", "7"], random)})",
                2 => $"length({Sub(ValueKind.Text)})",
                3 => $"case when {Sub(ValueKind.Boolean)} then {Sub(ValueKind.Integer)} else {Sub(ValueKind.Integer)} end",
                _ => $"abs(- num)",
            },
            ValueKind.Decimal => random.Next(5) switch
            {
                3 => $"round({Of(["amount * 1.005", "measure", "amount", "num"], random)}, {random.Next(4)})",
                4 => $"greatest(amount, {Sub(ValueKind.Decimal)})",
                0 => "(amount * 2)",
                1 => "(amount + 1.5)",
                _ => $"coalesce({Sub(ValueKind.Decimal)}, 0.10)",
            },
            ValueKind.Float => random.Next(4) switch
            {
                0 => $"sqrt({Of(["num", "amount", "measure"], random)})",
                1 => $"ln({Of(["num", "amount", "measure"], random)})",
                _ => $"({Sub(ValueKind.Integer)} / {Sub(ValueKind.Decimal)})",
            },
            ValueKind.Text => random.Next(7) switch
            {
                3 => $"trim({Sub(ValueKind.Text)})",
                4 => $"substring({Sub(ValueKind.Text)}, {random.Next(1, 3)}, {random.Next(3)})",
                5 => $"replace({Sub(ValueKind.Text)}, {Of(["'a'", "'🙂'", "' '"], random)}, {Of(["'b'", "''", "code"], random)})",
                6 => $"lower({Sub(ValueKind.Text)})",
                0 => $"({Sub(ValueKind.Text)} || {Sub(ValueKind.Text)})",
                1 => $"coalesce({Sub(ValueKind.Text)}, 'none')",
                _ => $"case {Sub(ValueKind.Text)} when 'a' then 'x' when 'b' then {Sub(ValueKind.Text)} end",
            },
            _ => Of(["at", "day", "add_days(at, 40)", "add_days(day, num % 50)", "add_months(day, 1)", "add_months(at, 0 - 13)"], random),
        };
    }

    private static string Measure(Random random) =>
        random.Next(13) switch
        {
            11 => $"{Of(["sum", "min", "max"], random)}(huge)",
            12 => $"sum(huge) filter (where {Formula(random, ValueKind.Boolean, 2)})",
            9 => $"median({Of(["num", "amount", "measure"], random)})",
            10 =>
                $"percentile({Of(["num", "amount"], random)}, {Of(["0.9", "0", "1", "0.25"], random)}) filter (where {Formula(random, ValueKind.Boolean, 1)})",
            0 => "count(*)",
            1 => $"count({Formula(random, ValueKind.Text)})",
            2 => $"count(distinct {Formula(random, ValueKind.Text, 1)})",
            3 => $"sum({Formula(random, ValueKind.Integer)})",
            4 => "sum(amount)",
            5 => $"avg({Formula(random, ValueKind.Integer, 2)})",
            6 => $"min({Formula(random, Of([ValueKind.Text, ValueKind.Integer, ValueKind.Decimal, ValueKind.Timestamp], random))})",
            7 => $"sum(amount) filter (where {Formula(random, ValueKind.Boolean, 2)}) / count(*)",
            _ => $"max({Formula(random, ValueKind.Float, 2)})",
        };

    private static Dictionary<string, string> Workspace(Random random, int table, out bool restricted)
    {
        var dataset = new StringBuilder(
            $"""
            dataset: d
            source: s
            from: t{table}
            joins:
              - table: l{table}
                on: t{table}.code = l{table}.code
            fields:
              txt: {"{ column: txt }"}
              code: {"{ column: code }"}
              label: {"{ column: l" + table + ".label }"}
              num: {"{ column: num, type: integer }"}
              amount: {"{ column: amount, type: decimal }"}
              huge: {"{ column: huge, type: decimal }"}
              measure: {"{ column: measure, type: float }"}
              flag: {"{ column: flag, type: boolean }"}
              day: {"{ column: day, type: date }"}
              at: {"{ column: at, type: timestamp }"}
              read_number: {"{ column: raw, type: "
                + Of(["integer", "decimal", "float"], random)
                + ", unfit: "
                + Of(["missing", "{ fill: 5 }"], random)
                + " }"}
              read_day: {"{ column: raw, type: " + Of(["date", "timestamp"], random) + ", unfit: missing }"}
              read_flag: {"{ column: raw, type: boolean, unfit: missing, missing: "
                + Of(["keep", "leave_out", "{ fill: false }"], random)
                + " }"}
              keyed: {"{ column: num, type: integer, named_by: l" + table + ".label }"}
              named: {"{ column: code, names: { a: Alpha, b: Beta }, missing: { fill: none }, order: [b, none, a] }"}

            """
        );
        string Quoted(string formula) => $"\"{formula.Replace("\\", "\\\\").Replace("\"", "\\\"")}\"";
        dataset.Append(
            $"  made_text: {{ formula: {Quoted(Formula(random, ValueKind.Text))} }}\n  made_flag: {{ formula: "
                + $"{Quoted(Formula(random, ValueKind.Boolean))} }}\n  made_number: {{ formula: "
                + $"{Quoted(Formula(random, ValueKind.Integer))} }}\n"
        );
        dataset.Append($"measures:\n  m1: {{ formula: {Quoted(Measure(random))} }}\n  m2: {{ formula: {Quoted(Measure(random))} }}\n");
        if (random.Next(3) == 0)
            dataset.Append($"filter: {Quoted(Formula(random, ValueKind.Boolean))}\n");
        restricted = random.Next(2) == 0;
        var rule = restricted
            ? $"{{ where: {Quoted(Of(["txt in user.texts", "txt = user.texts or num > 0", "coalesce(label, 'x') in user.texts"], random))} }}"
            : "all";
        string[] groups =
        [
            "txt",
            "label",
            "num",
            "flag",
            "made_text",
            "made_flag",
            "made_number",
            "read_number",
            "read_day",
            "read_flag",
            "named",
            "keyed",
            "day.month",
            "at.week",
            "at.quarter",
            "at.hour",
            "day.year",
            "at.day",
            "day",
            "at.day_of_week",
            "at.hour_of_day",
            "day.month_of_year",
        ];
        var pair = random.Next(3) == 0;
        var top = random.Next(3) == 0 ? $"        top: {{ count: {random.Next(1, 4)}, rest: {Of(["true", "false"], random)} }}\n" : "";
        var sort =
            random.Next(3) == 0
                ? $"        sort: {{ by: {Of(["m1", "m2"], random)}, order: {Of(["ascending", "descending"], random)} }}\n"
                : "";
        var by = pair ? $"[{Of(groups, random)}, {Of(groups, random)}]" : $"[{Of(groups, random)}]";
        var dashboard = $"""
            dashboard: x
            tabs:
              - tab: one
                tiles:
                  - tile: a
                    picture: table
                    dataset: d
                    show: [m1, m2]
                    by: {by}
            {top}{sort}        totals: true
                    place: {"{ column: 0, row: 0, width: 1, height: 1 }"}
                  - tile: picked
                    picture: table
                    dataset: d
                    by: [{Of(groups, random)}]
                    show: m1
                    top: {"{ count: 2, rest: true }"}
                    place: {"{ column: 1, row: 0, width: 1, height: 1 }"}

            """;
        return Testing.Definitions.Files(
            dataset.ToString(),
            $"roles:\n  r: {{ reads: {{ d: {rule} }} }}\n",
            ("dashboards/x.yaml", dashboard),
            ("workspace.yaml", $"workspace: w\nweek_starts: {Of(["monday", "sunday", "saturday"], random)}\n")
        );
    }

    /// <summary>Answers as the reference does, for so many random cases; the seed of a failure is printed.</summary>
    protected async Task Answers_as_the_reference_does(int cases)
    {
        for (var i = 0; i < Tables; i++)
            _rows.Add(MakeTables(_engine, i, new Random(i)));
        await Gen.Int[0, int.MaxValue]
            .SampleAsync(seed => Compare(new Random(seed)), iter: Cases(cases), threads: 2, print: s => $"{_engine.Name}, seed {s}");
        _shared.ShouldBeGreaterThan(cases / 10, "too few cases shared a scan for the test to mean anything");
    }

    /// <summary>One case again, by the seed that a failure printed.</summary>
    protected async Task Answers_as_the_reference_does_for(int seed)
    {
        for (var i = 0; i < Tables; i++)
            _rows.Add(MakeTables(_engine, i, new Random(i)));
        await Compare(new Random(seed));
    }

    /// <summary>The SQL of a random case, for engines that do not run here.</summary>
    internal static IEnumerable<SqlText> Statements(Random random, SqlDialect dialect)
    {
        var files = Workspace(random, 1, out _);
        files["datasets/d.yaml"] = System.Text.RegularExpressions.Regex.Replace(
            files["datasets/d.yaml"],
            @"(median|percentile)\([^""]*",
            "count(*)"
        );
        var workspace = Testing.Definitions.Read(files);
        var scope = Scope.For(Testing.Definitions.Viewer("r", ("texts", ["a", "b"])), "d", workspace, Viewing)!;
        var query = MemberNames.WithNames(
            new Planner(workspace.WeekStart, "").Question(workspace.Dashboards["x"].Tiles.First(), scope, TileFilters.None, 10)
        );
        return
        [
            dialect.Print(SelectBuilder.Build(query)),
            dialect.Print(SelectBuilder.Count(query)),
            dialect.Print(SelectBuilder.Build(Planner.Totals(query))),
        ];
    }

    private static readonly Viewing Viewing = Core.Access.Viewing.At(new DateTime(2024, 4, 20, 13, 30, 0));

    private async Task Compare(Random random)
    {
        var table = random.Next(Tables);
        var workspace = Testing.Definitions.Read(Workspace(random, table, out _));
        var scope = Scope.For(
            Testing.Definitions.Viewer("r", ("texts", [.. Texts.OfType<string>().Where(_ => random.Next(3) == 0).DefaultIfEmpty("a")])),
            "d",
            workspace,
            Viewing
        )!;
        var dashboard = workspace.Dashboards["x"];
        var memory = new InMemory(_rows[table], workspace.WeekStart);
        var dialect = _engine.Engine.Dialect(workspace.WeekStart);
        var planner = new Planner(workspace.WeekStart, "");

        // Pick members that the driver really shows, now and then its rest.
        var driver = dashboard.Tiles.First(t => t.Name == "picked");
        List<Selection> selections = [];
        try
        {
            var shown = memory.Answer(MemberNames.WithNames(planner.Question(driver, scope, TileFilters.None, 100))).Table;
            var members = Enumerable
                .Range(0, shown.Rows)
                .Where(r => shown.Values[1][r] is false)
                .Select(r => (IReadOnlyList<object?>)[shown.Values[0][r]])
                .ToList();
            if (random.Next(2) == 0)
                selections.Add(new Selection("picked", [.. members.Where(_ => random.Next(2) == 0)], random.Next(3) == 0 ? members : null));
        }
        catch (OverflowException)
        {
            return;
        }

        var tile = dashboard.Tiles.First(t => t.Name == "a");
        var filters = Wiring.FiltersOf(
            tile,
            dashboard,
            Arrangement.Opening(dashboard),
            selections,
            new Dictionary<string, Scope> { ["d"] = scope },
            workspace.WeekStart
        );
        var query = MemberNames.WithNames(planner.Question(tile, scope, filters, Of([3, 1000], random)));
        // Several questions of one refresh in one scan give what each gives alone.
        Query[] refresh = [query, Planner.Totals(query), MemberNames.WithNames(planner.Question(driver, scope, filters, 1000))];
        foreach (var placed in Placement.Of(refresh, _ => false, _ => false, _ => 5).Where(p => p.Scan is not null))
            await CompareShared(placed.Scan!, [.. placed.Questions.Select(i => refresh[i])], memory, dialect);
        foreach (var asked in new[] { query, Planner.Totals(query) })
        {
            var sql = dialect.Print(SelectBuilder.Build(asked));
            var said = $"\n{sql.Text}\n{string.Join(", ", sql.Parameters)}";
            (Table Table, int Lines) expected;
            try
            {
                expected = memory.Answer(asked);
            }
            catch (OverflowException)
            {
                continue; // beyond 64 bits both refuse; which refuses first is not Weir's to say
            }
            var answer = await AskSaying(asked, dialect, said);
            answer.Lines.ShouldBe(expected.Lines, said);
            answer.Table.Rows.ShouldBe(expected.Table.Rows, said);
            for (var r = 0; r < answer.Table.Rows; r++)
                Same(answer.Table.Row(r), expected.Table.Row(r))
                    .ShouldBeTrue(
                        $"row {r}: {string.Join(" | ", answer.Table.Row(r))} against {string.Join(" | ", expected.Table.Row(r))}{said}"
                    );
        }
    }

    private async Task CompareShared(SharedScan scan, IReadOnlyList<Query> queries, InMemory memory, SqlDialect dialect)
    {
        var sql = dialect.Print(SelectBuilder.Build(scan.Cells));
        var said = $"shared\n{sql.Text}\n{string.Join(", ", sql.Parameters)}";
        List<(Table Table, int Lines)> expected;
        try
        {
            expected = [.. queries.Select(memory.Answer)];
        }
        catch (OverflowException)
        {
            return;
        }
        var values = await _engine.Source.Read(
            sql,
            [.. scan.Cells.Columns.Select(c => c.Kind)],
            new Dictionary<string, string>(),
            CancellationToken.None
        );
        foreach (var (answer, wanted) in scan.Split(values, memory.WeekStart)!.Zip(expected))
        {
            answer.Lines.ShouldBe(wanted.Lines, said);
            for (var r = 0; r < answer.Table.Rows; r++)
                Same(answer.Table.Row(r), wanted.Table.Row(r))
                    .ShouldBeTrue(
                        $"row {r}: {string.Join(" | ", answer.Table.Row(r))} against {string.Join(" | ", wanted.Table.Row(r))}{said}"
                    );
        }
        Interlocked.Increment(ref _shared);
    }

    private int _shared;

    private async Task<QueryAnswer> AskSaying(Query asked, SqlDialect dialect, string said)
    {
        try
        {
            return await _engine.Source.Ask(asked, dialect, CancellationToken.None);
        }
        catch (SourceException e)
        {
            throw new InvalidOperationException($"{e.InnerException?.Message ?? e.Message}{said}", e);
        }
    }

    /// <summary>To the last digit for whole and decimal numbers; for floating point to one part in a thousand million.</summary>
    private static bool Same(object?[] a, object?[] b) =>
        a.Zip(b)
            .All(p =>
                (p.First, p.Second) switch
                {
                    (double x, double y) => Math.Abs(x - y) <= 1e-9 * Math.Max(1, Math.Max(Math.Abs(x), Math.Abs(y))),
                    (null, null) => true,
                    (null, _) or (_, null) => false,
                    (string x, string y) => x == y,
                    _ => Evaluator.Compare(p.First, p.Second) == 0,
                }
            );
}

public sealed class DuckDbDifferentialTests() : DifferentialTests("duckdb")
{
    [Fact]
    public Task DuckDB_answers_as_the_reference_does() => Answers_as_the_reference_does(1_200);
}

public sealed class PostgreSqlDifferentialTests() : DifferentialTests("postgresql")
{
    [Fact]
    public Task PostgreSQL_answers_as_the_reference_does() => Answers_as_the_reference_does(800);
}

public sealed class MariaDbDifferentialTests() : DifferentialTests("mariadb")
{
    [Fact]
    public Task MariaDB_answers_as_the_reference_does() => Answers_as_the_reference_does(800);
}

public sealed class SqliteDifferentialTests() : DifferentialTests("sqlite")
{
    [Fact]
    public Task SQLite_answers_as_the_reference_does() => Answers_as_the_reference_does(800);
}
