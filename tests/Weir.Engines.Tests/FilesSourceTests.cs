using DuckDB.NET.Data;
using MiniExcelLibs;
using Shouldly;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Testing;

namespace Weir.Engines.Tests;

public sealed class FilesSourceTests : IDisposable
{
    private readonly TempFolder _folder = Repository.Temp("files");

    public void Dispose() => _folder.Dispose();

    private IEngineSource Open(string folder = "sales") =>
        Engines
            .ByName("files")
            .Open(
                new Source("s", "Sales", "files", new SourceLimits(20, 100, 2, 300)) { Folder = folder },
                new EngineFolders(_folder.Path, _folder.Path, Path.Combine(_folder.Path, "work"))
            );

    private static async Task<object?> One(IEngineSource source, string sql, ValueKind kind = ValueKind.Integer) =>
        (await source.Read(new SqlText(sql, []), [kind], new Dictionary<string, string>(), CancellationToken.None))[0][0];

    [Fact]
    public async Task Text_files_become_tables_with_types_and_what_does_not_fit_is_told()
    {
        var rows = string.Concat(
            Enumerable.Range(1, 60).Select(i => $"{i},{i}.50,2024-03-{(i % 28) + 1:00},0{i},{(i % 2 == 0 ? "yes" : "no")},name {i}\n")
        );
        _folder.File("sales/tickets.csv", $"id,amount,day,code,paid,name\n{rows}61,many,2024-02-30,061,no,\"a, b\"\n,,,,,\n");
        await using var source = Open();
        var table = (await source.Table(null, "tickets", CancellationToken.None))!;
        table
            .Columns.Select(c => (c.Name, c.Kind))
            .ShouldBe([
                ("id", ValueKind.Integer),
                ("amount", ValueKind.Decimal),
                ("day", ValueKind.Date),
                ("code", ValueKind.Text),
                ("paid", ValueKind.Boolean),
                ("name", ValueKind.Text),
            ]);
        (await One(source, "SELECT sum(amount) FROM tickets", ValueKind.Decimal)).ShouldBe(1860m);
        (await One(source, "SELECT count(*) FROM tickets WHERE code = '007'")).ShouldBe(0L);
        (await One(source, "SELECT count(*) FROM tickets WHERE code = '07'")).ShouldBe(1L, "codes keep their zeros");
        (await One(source, "SELECT count(*) FROM tickets WHERE name = 'a, b'")).ShouldBe(1L);
        var unfit = await source.Unfit(CancellationToken.None);
        unfit.Select(u => (u.Column, u.Count)).ShouldBe([("amount", 1L), ("day", 1L)]);
        unfit[0].Examples.ShouldBe(["line 62: many"]);
    }

    [Fact]
    public async Task A_changed_file_is_read_again()
    {
        _folder.File("sales/t.csv", "n\n1\n2\n");
        await using var source = Open();
        (await One(source, "SELECT sum(n) FROM t")).ShouldBe(3L);
        var before = source.DataVersion;
        _folder.File("sales/t.csv", "n\n10\n20\n30\n");
        source.DataVersion.ShouldNotBe(before);
        (await One(source, "SELECT sum(n) FROM t")).ShouldBe(60L);
    }

    [Fact]
    public async Task Workbooks_and_parquet_files_are_tables_too()
    {
        Directory.CreateDirectory(Path.Combine(_folder.Path, "sales"));
        MiniExcel.SaveAs(
            _folder.File("sales/plan.xlsx"),
            new Dictionary<string, object>
            {
                ["Year"] = new[]
                {
                    new
                    {
                        Port = "SKE",
                        Tickets = 12,
                        From = new DateTime(2025, 3, 1),
                    },
                    new
                    {
                        Port = "ULL",
                        Tickets = 30,
                        From = new DateTime(2025, 4, 1),
                    },
                },
                ["Notes"] = new[] { new { Text = "made up" } },
            }
        );
        using (var connection = new DuckDBConnection("Data Source=:memory:"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = $"COPY (SELECT range AS n FROM range(5)) TO '{_folder.File("sales/five.parquet")}' (FORMAT PARQUET)";
            command.ExecuteNonQuery();
        }
        await using var source = Open();
        (await source.Tables(CancellationToken.None)).Select(t => t.Name).ShouldBe(["five", "plan", "plan_Notes"], ignoreOrder: true);
        (await One(source, "SELECT sum(\"Tickets\") FROM plan WHERE \"From\" < DATE '2025-03-15'")).ShouldBe(12L);
        (await One(source, "SELECT sum(n) FROM five")).ShouldBe(10L);
    }

    [Theory]
    [InlineData("../outside")]
    [InlineData("/etc")]
    [InlineData("link")]
    [InlineData("link/inner")]
    public async Task No_folder_outside_is_reached(string folder)
    {
        Directory.CreateDirectory(_folder.Path + "-elsewhere");
        Directory.CreateDirectory(Path.Combine(_folder.Path + "-elsewhere", "inner"));
        File.WriteAllText(Path.Combine(_folder.Path + "-elsewhere", "t.csv"), "n\n1\n");
        Directory.CreateSymbolicLink(Path.Combine(_folder.Path, "link"), _folder.Path + "-elsewhere");
        try
        {
            var fault = await Should.ThrowAsync<SourceException>(() => One(Open(folder), "SELECT 1"));
            fault.Message.ShouldContain("outside");
        }
        finally
        {
            Directory.Delete(_folder.Path + "-elsewhere", recursive: true);
        }
    }

    [Fact]
    public async Task A_broken_or_missing_file_is_told_and_no_query_reaches_another()
    {
        _folder.File("sales/book.xlsx", "this is no workbook");
        (await Should.ThrowAsync<SourceException>(() => One(Open(), "SELECT 1"))).Message.ShouldContain("book.xlsx");
        File.Delete(_folder.File("sales/book.xlsx"));
        _folder.File("sales/t.csv", "n\n1\n");
        await using var source = Open();
        (await Should.ThrowAsync<SourceException>(() => One(source, "SELECT count(*) FROM read_csv('/etc/passwd')"))).Code.ShouldBe(
            "query-failed"
        );
        (await Should.ThrowAsync<SourceException>(() => One(Open("nowhere"), "SELECT 1"))).Message.ShouldContain("not there");
    }
}
