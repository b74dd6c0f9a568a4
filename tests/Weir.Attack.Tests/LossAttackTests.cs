using System.Net;
using System.Text.Json;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;
using Shouldly;
using Weir.Service;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;
using Weir.Store;
using Weir.Testing;

namespace Weir.Attack.Tests;

/// <summary>What was acknowledged stays: across a folder that is touched, a restart, another who publishes, and a file that is replaced.</summary>
public sealed class LossAttackTests
{
    private const string Mine =
        "dataset: mine\nsource: shop\nfrom: sale\nfields:\n  kind: { column: kind }\nmeasures:\n  n: { formula: \"count(*)\" }\n";

    private static async Task Until(Func<Task<bool>> state, string what)
    {
        using var patience = new CancellationTokenSource(TimeSpan.FromMinutes(2));
        while (!await state())
        {
            patience.IsCancellationRequested.ShouldBeFalse(what);
            await Task.Delay(50);
        }
    }

    private static async Task<Dictionary<string, string>> Files(Attacked attacked) =>
        (await attacked.Send("maker", HttpMethod.Get, "api/definitions"))
            .Body.GetProperty("files")
            .Deserialize<Dictionary<string, string>>()!;

    private static Task<(HttpStatusCode Status, JsonElement Body, string Text)> Save(Attacked attacked, string path, string text) =>
        attacked.Send(
            "maker",
            HttpMethod.Put,
            "api/definitions/file",
            new
            {
                path,
                text,
                replace = true,
            }
        );

    [Fact]
    public async Task What_is_saved_survives_the_watched_folder_and_is_written_into_it()
    {
        await using var attacked = await Attacked.Start(watch: true);
        (await Save(attacked, "datasets/mine.yaml", Mine)).Body.GetProperty("accepted").GetBoolean().ShouldBeTrue();
        File.ReadAllText(attacked.Workspace.File("datasets/mine.yaml")).ShouldBe(Mine);
        // Somebody edits another file, with what an editor leaves beside it.
        File.CreateSymbolicLink(attacked.Workspace.File("datasets/.#sales.yaml"), "nobody@nowhere.1");
        attacked.Workspace.File("workspace.yaml", "workspace: w\ntitle: Another title\n");
        await Until(async () => (await Files(attacked))["workspace.yaml"].Contains("Another title"), "the folder is published");
        (await Files(attacked))["datasets/mine.yaml"].ShouldBe(Mine);
    }

    [Theory]
    [InlineData("../x.yaml")]
    [InlineData("/x.yaml")]
    [InlineData(".git/hooks/pre-commit")]
    [InlineData(".git/config")]
    [InlineData(".hidden.yaml")]
    [InlineData("datasets/../../x.yaml")]
    [InlineData("datasets/.x.yaml")]
    [InlineData("other/x.yaml")]
    [InlineData("datasets/x.yaml\n")]
    [InlineData("run.sh")]
    public async Task Nothing_but_definitions_is_published_or_written_into_the_watched_folder(string path)
    {
        await using var attacked = await Attacked.Start(watch: true);
        var files = await Files(attacked);
        var (status, refused, _) = await attacked.Send(
            "maker",
            HttpMethod.Put,
            "api/definitions",
            new { files = new Dictionary<string, string>(files) { [path] = "x" }, replace = true }
        );
        (status, refused.GetProperty("code").GetString()).ShouldBe((HttpStatusCode.UnprocessableEntity, "bad-path"));
        // What is a definition by its name only in the folder's root means something to other programs, perhaps.
        (
            await attacked.Send(
                "maker",
                HttpMethod.Put,
                "api/definitions",
                new
                {
                    files = new Dictionary<string, string>(files) { ["compose.yaml"] = "x", ["datasets/mine.yaml"] = Mine },
                    replace = true,
                }
            )
        )
            .Body.GetProperty("accepted")
            .GetBoolean()
            .ShouldBeTrue();
        File.Exists(attacked.Workspace.File("datasets/mine.yaml")).ShouldBeTrue();
        File.Exists(attacked.Workspace.File("compose.yaml")).ShouldBeFalse();
    }

    [Fact]
    public async Task What_is_published_over_a_version_that_it_was_not_made_from_is_merged_or_refused()
    {
        await using var attacked = await Attacked.Start(watch: true);
        var fetched = await Files(attacked);
        var version = (await attacked.Send("maker", HttpMethod.Get, "api/definitions")).Body.GetProperty("version").GetInt64();
        (await Save(attacked, "datasets/mine.yaml", Mine)).Status.ShouldBe(HttpStatusCode.OK);
        (await Save(attacked, "dashboards/shop.yaml", fetched["dashboards/shop.yaml"] + "# theirs\n")).Status.ShouldBe(HttpStatusCode.OK);
        Task<(HttpStatusCode Status, JsonElement Body, string Text)> Publish(string path, string text, bool replace = false) =>
            attacked.Send(
                "maker",
                HttpMethod.Put,
                "api/definitions",
                new
                {
                    files = new Dictionary<string, string>(fetched) { [path] = text },
                    @base = version,
                    replace,
                }
            );

        var (_, clash, told) = await Publish("dashboards/shop.yaml", fetched["dashboards/shop.yaml"] + "# mine\n");
        clash.GetProperty("accepted").GetBoolean().ShouldBeFalse(told);
        Attacked.Codes(clash).ShouldBe(["published-meanwhile"]);
        (await Files(attacked))["dashboards/shop.yaml"].ShouldEndWith("# theirs\n");

        var (_, merged, text) = await Publish("workspace.yaml", "workspace: w\ntitle: Mine\n");
        merged
            .GetProperty("kept")
            .EnumerateArray()
            .Select(k => k.GetString())
            .ShouldBe(["dashboards/shop.yaml", "datasets/mine.yaml"], text);
        var now = await Files(attacked);
        now["workspace.yaml"].ShouldContain("Mine");
        now["datasets/mine.yaml"].ShouldBe(Mine);
        now["dashboards/shop.yaml"].ShouldEndWith("# theirs\n");

        (await Publish("dashboards/shop.yaml", fetched["dashboards/shop.yaml"] + "# mine\n", replace: true))
            .Body.GetProperty("accepted")
            .GetBoolean()
            .ShouldBeTrue("knowingly");
        (await Files(attacked)).ShouldNotContainKey("datasets/mine.yaml");
    }

    [Fact]
    public async Task Whatever_is_wrong_in_the_watched_folder_the_service_goes_on_and_tells_it()
    {
        await using var attacked = await Attacked.Start(watch: true);
        Task<bool> Publishes(string title)
        {
            attacked.Workspace.File("workspace.yaml", $"workspace: w\ntitle: {title}\n");
            return Task.FromResult(true);
        }
        async Task Recovers(string title)
        {
            await Publishes(title);
            await Until(async () => (await Files(attacked))["workspace.yaml"].Contains(title), title);
        }
        var events = new StreamReader(await attacked.Service.As("maker").GetStreamAsync("api/events"));
        async Task<string> Broken()
        {
            string? line;
            while ((line = await events.ReadLineAsync()) is not null && !line.Contains("\"broken\"")) { }
            return line!;
        }
        // A link to a file of the machine.
        File.CreateSymbolicLink(attacked.Workspace.File("datasets/passwd.yaml"), "/etc/passwd");
        (await Broken()).ShouldContain("leads out of the folder");
        (await Files(attacked)).Values.ShouldNotContain(t => t.Contains("root:"));
        File.Delete(attacked.Workspace.File("datasets/passwd.yaml"));
        // A link to nothing is as a file that can't be read.
        File.CreateSymbolicLink(attacked.Workspace.File("datasets/gone.yaml"), attacked.Workspace.File("datasets/nowhere"));
        (await Broken()).ShouldContain("can't be read");
        File.Delete(attacked.Workspace.File("datasets/gone.yaml"));
        await Recovers("Second");
        // The folder is taken away and made anew.
        var aside = attacked.Workspace.Path + "-aside";
        Directory.Move(attacked.Workspace.Path, aside);
        (await attacked.Send("maker", HttpMethod.Get, "api/health")).Status.ShouldBe(HttpStatusCode.OK);
        await Task.WhenAll(Enumerable.Range(0, 5).Select(_ => attacked.Post("all", "api/dashboards/shop/results", new { })));
        Directory.Move(aside, attacked.Workspace.Path);
        await Recovers("Third");
    }

    [Fact]
    public async Task A_second_service_on_one_data_folder_refuses_to_start()
    {
        await using var attacked = await Attacked.Start();
        var options = attacked.Service.Services.GetRequiredService<ServiceOptions>();
        Should.Throw<StoreException>(() => WeirService.Build(options with { Port = 0 })).Message.ShouldContain("Another service runs");
    }

    [Theory]
    [InlineData("keys/key-1.xml", "<broken", "sign-in key")]
    [InlineData("weir.sqlite", "this is no database, but a text of some length that stands in its place", "damaged")]
    public async Task A_damaged_store_is_told_plainly(string file, string text, string told)
    {
        using var data = Repository.Temp("damaged");
        data.File(file, text);
        var fault = await Should.ThrowAsync<StoreException>(async () =>
        {
            await using var app = WeirService.Build(
                new ServiceOptions
                {
                    DataFolder = data.Path,
                    FilesFolder = data.Path,
                    Port = 0,
                    Quiet = true,
                }
            );
        });
        fault.Message.ShouldContain(told);
        fault.Remedy.ShouldNotBeEmpty();
        // And once it is mended it starts.
        SqliteConnection.ClearAllPools();
        File.Delete(data.File(file));
        await using var mended = WeirService.Build(
            new ServiceOptions
            {
                DataFolder = data.Path,
                FilesFolder = data.Path,
                Port = 0,
                Quiet = true,
            }
        );
    }

    [Fact]
    public async Task A_relative_data_folder_holds_the_files_of_sources_and_a_draft_leaves_them_alone()
    {
        var relative = Path.Combine("relative", Guid.NewGuid().ToString("N"));
        using var folder = new TempFolder(Path.GetFullPath(relative));
        await using var attacked = await Attacked.Start(
            w =>
            {
                w.File("sources/sheets.yaml", "source: sheets\nengine: files\nfolder: sheets\n");
                w.File(
                    "datasets/marks.yaml",
                    "dataset: marks\nsource: sheets\nfrom: marks\nfields:\n  a: { column: a, type: integer }\nmeasures:\n  n: { formula: \"count(*)\" }\n"
                );
                w.File(
                    "dashboards/shop.yaml",
                    "dashboard: shop\ntabs:\n  - tab: one\n    tiles:\n      - tile: n\n        picture: number\n        dataset: marks\n    "
                        + "    show: n\n        place: { column: 0, row: 0, width: 6, height: 4 }\n"
                );
                w.File(
                    "access.yaml",
                    File.ReadAllText(w.File("access.yaml"))
                        .Replace("all: { reads: { sales: { detail: true } }", "all: { reads: { sales: { detail: true }, marks: all }")
                );
            },
            change: o => o with { DataFolder = Path.Combine(relative, "data") }
        );
        attacked.Files.File("sheets/marks.csv", "a\n1\n2\n3\n");
        attacked.Files.File("other/marks.csv", "a\n9\n");
        async Task<string> Count() =>
            (await attacked.Post("all", "api/dashboards/shop/results", new { })).Body.GetProperty("table").GetProperty("values").ToString();
        (await Count()).ShouldBe("[[3]]");
        var (_, _, tested) = await attacked.Post(
            "maker",
            "api/sources/test",
            new { text = "source: sheets\nengine: files\nfolder: other\n" }
        );
        tested.ShouldNotContain("failed");
        (await Count()).ShouldBe("[[3]]");
        Directory.EnumerateFiles(Path.Combine(folder.Path, "data", "work"), "sheets-*.duckdb").Count().ShouldBe(2);
    }

    [Fact]
    public async Task A_database_file_that_is_replaced_is_noticed()
    {
        await using var attacked = await Attacked.Start();
        async Task<string> Counts() =>
            (await attacked.Post("all", "api/dashboards/shop/results", new { })).Body.GetProperty("table").GetProperty("values").ToString();
        (await Counts()).ShouldContain("[2,1,1]");
        using (var connection = new SqliteConnection($"Data Source={attacked.Files.File("new.sqlite")};Pooling=false"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText =
                "CREATE TABLE sale (port TEXT, kind TEXT, amount DECIMAL(10, 2)); INSERT INTO sale VALUES ('SKE', 'Q', 5)";
            command.ExecuteNonQuery();
        }
        File.Move(attacked.Files.File("new.sqlite"), attacked.Files.File("shop.sqlite"), overwrite: true);
        (await Counts()).ShouldBe("[[\"Q\"],[1]]");

        (await attacked.Preview("lab", "SELECT a FROM t")).Body.GetProperty("table").GetProperty("values").ToString().ShouldBe("[[\"1\"]]");
        using (var connection = new DuckDB.NET.Data.DuckDBConnection($"Data Source={attacked.Files.File("new.duckdb")}"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = "CREATE TABLE t AS SELECT 7 AS a";
            command.ExecuteNonQuery();
        }
        File.Move(attacked.Files.File("new.duckdb"), attacked.Files.File("lab.duckdb"), overwrite: true);
        (await attacked.Preview("lab", "SELECT a FROM t")).Body.GetProperty("table").GetProperty("values").ToString().ShouldBe("[[\"7\"]]");
    }

    [Fact]
    public async Task A_token_and_its_line_in_the_audit_are_there_together_or_not_at_all()
    {
        await using var attacked = await Attacked.Start();
        var tokens = attacked.Service.Services.GetRequiredService<Tokens>();
        // With an audit that can't be written, no token is made.
        using (
            var connection = new SqliteConnection(
                $"Data Source={Path.Combine(attacked.Service.Services.GetRequiredService<ServiceOptions>().DataFolder, "weir.sqlite")};Pooling=false"
            )
        )
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = "ALTER TABLE audit RENAME TO gone";
            command.ExecuteNonQuery();
            Should.Throw<SqliteException>(() => tokens.Create("all", "lost", TimeSpan.FromDays(1)));
            command.CommandText = "ALTER TABLE gone RENAME TO audit";
            command.ExecuteNonQuery();
        }
        tokens.Of("all").ShouldNotContain(t => t.Label == "lost");
        var (made, _) = tokens.Create("all", "kept", TimeSpan.FromDays(1));
        var line = attacked.Service.Services.GetRequiredService<Audit>().Newest(1)[0];
        (line.Who, line.Act, line.What).ShouldBe(("all", "token-made", made.Id));
    }
}
