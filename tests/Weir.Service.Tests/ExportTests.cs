using System.Net.Http.Json;
using Microsoft.Extensions.DependencyInjection;
using Shouldly;
using Weir.Testing;

namespace Weir.Service.Tests;

/// <summary>Rows taken along as CSV: all of them, or so many, and what was changed on the way is told.</summary>
public sealed class ExportTests : IDisposable
{
    private const int Rows = 25_000;

    private readonly TempFolder _folder = Repository.Temp();

    public void Dispose() => _folder.Dispose();

    private async Task<RunningService> Start()
    {
        Directory.CreateDirectory(Path.Combine(_folder.Path, "files"));
        using (var connection = new DuckDB.NET.Data.DuckDBConnection($"Data Source={_folder.File("files/m.duckdb")}"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText =
                "CREATE TABLE crate AS SELECT i AS id, i % 3 AS owner, CASE WHEN i % 1000 = 0 THEN '=1+' || i ELSE 'note, \"' || i || "
                + $"'\"' END AS note, DATE '2025-01-01' + i::INTEGER % 365 AS came FROM range({Rows}) t(i);"
                + "CREATE TABLE owner AS SELECT * FROM (VALUES (0, 'Maple'), (1, 'Maple'), (2, '-Alder')) v(id, name); CHECKPOINT";
            command.ExecuteNonQuery();
        }
        void Write(string path, string text) => File.WriteAllText(_folder.File("workspace/" + path), text);
        foreach (var part in (string[])["sources", "datasets", "dashboards"])
            Directory.CreateDirectory(Path.Combine(_folder.Path, "workspace", part));
        Write("workspace.yaml", "workspace: w\n");
        Write("access.yaml", "roles:\n  director: { reads: { crates: { detail: true }, typed: { detail: true } } }\n");
        Write("sources/m.yaml", "source: m\nengine: duckdb\nfile: m.duckdb\nlimits: { rows: 100 }\n");
        Write("sources/few.yaml", "source: few\nengine: duckdb\nfile: m.duckdb\nlimits: { rows: 100, export_rows: 5000 }\n");
        Write(
            "datasets/crates.yaml",
            """
            dataset: crates
            source: m
            from: crate
            joins: [{ table: owner, on: "crate.owner = owner.id" }]
            fields:
              id: { column: id, type: integer, title: "=Id" }
              owner: { column: crate.owner, type: integer, named_by: owner.name, title: Owner }
              note: { column: note, title: Note }
              came: { column: came, type: date, title: Came, format: "dd.MM.yyyy" }
            measures: { crates: { formula: "count(*)" } }
            """
        );
        Write(
            "datasets/typed.yaml",
            "dataset: typed\nsource: few\nquery: SELECT id, note FROM crate\nfields: { id: { column: id, type: integer }, note: { "
                + "column: note } }\nmeasures: { typed: { formula: \"count(*)\" } }\n"
        );
        Write(
            "dashboards/d.yaml",
            """
            dashboard: d
            tabs:
              - tab: t
                tiles:
                  - { tile: by-owner, picture: bar, dataset: crates, show: crates, by: owner, place: { column: 0, row: 0, width: 6, height: 4 } }
                  - { tile: typed, picture: number, dataset: typed, show: typed, place: { column: 6, row: 0, width: 6, height: 4 } }
            """
        );
        return await RunningService.Start(Path.Combine(_folder.Path, "files"), Path.Combine(_folder.Path, "workspace"));
    }

    private static async Task<(string[] Lines, byte[] Bytes, long All, long Here, long Marked)> Export(
        RunningService service,
        string tile,
        object body
    )
    {
        var response = await service.As("director").PostAsJsonAsync($"api/dashboards/d/tiles/{tile}/rows.csv", body);
        response.IsSuccessStatusCode.ShouldBeTrue(await response.Content.ReadAsStringAsync());
        response.Content.Headers.ContentType!.ToString().ShouldBe("text/csv; charset=utf-8");
        long Header(string name) => long.Parse(response.Headers.GetValues(name).Single());
        var bytes = await response.Content.ReadAsByteArrayAsync();
        return (
            System.Text.Encoding.UTF8.GetString(bytes).TrimEnd().Split("\r\n"),
            bytes,
            Header("Weir-Rows"),
            Header("Weir-Rows-Here"),
            Header("Weir-Marked")
        );
    }

    [Fact]
    public async Task All_rows_are_exported_however_many_a_tile_may_bring_and_what_was_marked_is_told()
    {
        await using var service = await Start();
        var all = await Export(service, "by-owner", new { sort = new[] { new { field = "id" } } });
        (all.Lines.Length, all.All, all.Here).ShouldBe((Rows + 1, Rows, Rows));
        // A key has its name beside it; headings are marked as cells are, and counted as none.
        all.Lines[0].ShouldBe("'=Id,Owner (key),Owner,Note,Came");
        all.Lines[1].ShouldBe("0,0,Maple,'=1+0,2025-01-01");
        all.Lines[3].ShouldBe("2,2,'-Alder,\"note, \"\"2\"\"\",2025-01-03");
        all.Marked.ShouldBe((Rows / 1000) + (Rows / 3));
        all.Bytes[0].ShouldBe((byte)'\'');
        // Of one mark, with chosen columns, for a spreadsheet.
        var some = await Export(
            service,
            "by-owner",
            new
            {
                columns = new[] { "note", "owner" },
                mark = new { member = new[] { 1 } },
                sort = new[] { new { field = "id" } },
                byteOrderMark = true,
            }
        );
        some.Bytes[..3].ShouldBe([0xEF, 0xBB, 0xBF]);
        some.Lines[1].ShouldBe("\"note, \"\"1\"\"\",1,Maple");
        some.Here.ShouldBe(Rows / 3);
        // A service whose disk takes nothing says so, and not that the source is at fault.
        var exports = Path.Combine(service.Services.GetRequiredService<ServiceOptions>().DataFolder, "work", "exports");
        Directory.EnumerateFileSystemEntries(exports).ShouldBeEmpty("nothing of it stays on the disk");
        Directory.Delete(exports);
        File.WriteAllText(exports, "in the way");
        var refused = await service.As("director").PostAsJsonAsync("api/dashboards/d/tiles/by-owner/rows.csv", new { });
        ((int)refused.StatusCode).ShouldBe(507);
        (await refused.Content.ReadAsStringAsync()).ShouldContain("export-not-written");
    }

    [Fact]
    public async Task A_typed_query_is_exported_from_its_worker_up_to_the_limit_of_its_source()
    {
        await using var service = await Start();
        var typed = await Export(service, "typed", new { sort = new[] { new { field = "id" } } });
        (typed.Lines.Length, typed.All, typed.Here).ShouldBe((5_001, Rows, 5_000));
        typed.Lines[5_000].ShouldBe("4999,\"note, \"\"4999\"\"\"");
    }
}
