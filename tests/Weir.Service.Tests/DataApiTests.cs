using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Shouldly;

namespace Weir.Service.Tests;

/// <summary>Looking into sources and defining datasets, as a developer and as others.</summary>
public sealed class DataApiTests(SharedService shared) : IClassFixture<SharedService>
{
    private async Task<(HttpStatusCode Status, JsonElement Body)> Send(string account, HttpMethod method, string path, object? body = null)
    {
        var response = await shared
            .Service.As(account)
            .SendAsync(new HttpRequestMessage(method, path) { Content = body is null ? null : JsonContent.Create(body) });
        return (response.StatusCode, JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement);
    }

    private const string Draft = """
        dataset: busy
        source: ferries
        query: |
          SELECT r.name AS route, count(*) AS trips FROM sailing s JOIN route r ON r.id = s.route_id GROUP BY r.name
        fields:
          route: { column: route }
          trips: { column: trips, type: integer }
        measures:
          all_trips: { formula: "sum(trips)" }
        """;

    [Fact]
    public async Task A_preview_is_sorted_and_filtered_without_changing_the_query()
    {
        var (_, body) = await Send(
            "developer",
            HttpMethod.Post,
            "api/datasets/preview",
            new
            {
                text = Draft,
                sort = new[] { new { field = "trips", descending = true } },
                where = new[]
                {
                    new
                    {
                        field = "route",
                        @is = "contains",
                        value = "Skerrin",
                    },
                },
                rows = 2,
            }
        );
        body.GetProperty("rows").GetInt64().ShouldBe(24);
        body.GetProperty("matching").GetInt64().ShouldBe(4);
        var values = body.GetProperty("table").GetProperty("values");
        values[1]
            .EnumerateArray()
            .Select(v => v.GetInt64())
            .ShouldBe(values[1].EnumerateArray().Select(v => v.GetInt64()).OrderDescending());
        values[0].EnumerateArray().ShouldAllBe(v => v.GetString()!.Contains("Skerrin"));
        body.GetProperty("sql")
            .GetProperty("text")
            .GetString()!
            .ShouldContain("SELECT r.name AS route, count(*) AS trips FROM sailing s JOIN route r ON r.id = s.route_id GROUP BY r.name");
    }

    [Fact]
    public async Task The_columns_of_a_query_are_found()
    {
        var (_, body) = await Send(
            "developer",
            HttpMethod.Post,
            "api/datasets/columns",
            new { text = "dataset: d\nsource: ferries\nquery: SELECT name, miles, current_date AS day FROM route\nfields: {}\n" }
        );
        body.GetProperty("columns")
            .EnumerateArray()
            .Select(c => (c.GetProperty("name").GetString(), c.GetProperty("kind").GetString()))
            .ShouldBe([("name", "text"), ("miles", "integer"), ("day", "date")]);
    }

    [Theory]
    [InlineData("SELECT 1; DROP TABLE sailing", "more-than-a-select")]
    [InlineData("DELETE FROM sailing", "not-a-select")]
    [InlineData("SELECT 1) x, (SELECT 2", "open-bracket")]
    [InlineData("SELECT :param.none", "unknown-parameter")]
    [InlineData("SELECT 'open", "open-quote")]
    public async Task A_query_that_could_be_more_than_a_SELECT_is_refused(string query, string code)
    {
        var (_, body) = await Send(
            "developer",
            HttpMethod.Post,
            "api/datasets/preview",
            new { text = $"dataset: d\nsource: ferries\nquery: \"{query}\"\nfields: {{ a: {{ column: a }} }}\n" }
        );
        body.GetProperty("faults").EnumerateArray().Select(f => f.GetProperty("code").GetString()).ShouldContain(code);
        body.GetProperty("table").ValueKind.ShouldBe(JsonValueKind.Null);
    }

    [Fact]
    public async Task A_wrong_column_is_told_in_the_engines_words_to_who_defines()
    {
        var (_, body) = await Send(
            "developer",
            HttpMethod.Post,
            "api/datasets/preview",
            new { text = "dataset: d\nsource: ferries\nfrom: route\nfields: { a: { column: no_such } }\n" }
        );
        body.GetProperty("faults")[0].GetProperty("message").GetString()!.ShouldContain("no_such");
    }

    [Fact]
    public async Task Sources_tables_and_rows_are_there_for_who_defines_only()
    {
        var (_, tables) = await Send("developer", HttpMethod.Get, "api/sources/ferries/tables");
        tables
            .EnumerateArray()
            .Select(t => t.GetProperty("name").GetString())
            .ShouldBe(["cost", "inspection", "route", "sailing", "sea_area", "terminal", "ticket_sale", "vessel"]);
        var (_, rows) = await Send("developer", HttpMethod.Post, "api/sources/ferries/tables/vessel/rows");
        rows.GetProperty("values")[0].GetArrayLength().ShouldBe(14);
        (await Send("developer", HttpMethod.Get, "api/sources/ferries/tables/none")).Status.ShouldBe(HttpStatusCode.NotFound);
        foreach (var account in (string[])["director", "skerrin-desk", "auditor"])
        foreach (
            var (method, path) in ((HttpMethod, string)[])
                [
                    (HttpMethod.Get, "api/sources"),
                    (HttpMethod.Get, "api/sources/ferries/tables"),
                    (HttpMethod.Get, "api/sources/none/tables"),
                    (HttpMethod.Post, "api/sources/ferries/tables/vessel/rows"),
                ]
        )
            (await Send(account, method, path)).Status.ShouldBe(HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task The_field_dictionary_holds_what_the_viewer_may_see()
    {
        var (_, desk) = await Send("skerrin-desk", HttpMethod.Get, "api/datasets");
        desk.EnumerateArray().Select(d => d.GetProperty("name").GetString()).ShouldBe(["sailings"]);
        desk.GetRawText().ShouldNotContain("uel cost");
        desk.GetRawText().ShouldContain("metres a second");
    }

    [Fact]
    public async Task One_file_is_published_beside_the_others_or_nothing_changes()
    {
        await using var service = await RunningService.Start();
        async Task<JsonElement> Put(string path, string text, bool replace = false) =>
            JsonDocument
                .Parse(
                    await (
                        await service
                            .As("developer")
                            .PutAsJsonAsync(
                                "api/definitions/file",
                                new
                                {
                                    path,
                                    text,
                                    replace,
                                }
                            )
                    ).Content.ReadAsStringAsync()
                )
                .RootElement;
        (await Put("datasets/busy.yaml", Draft)).GetProperty("accepted").GetBoolean().ShouldBeTrue();
        (await Put("datasets/busy.yaml", Draft)).GetProperty("code").GetString().ShouldBe("name-taken");
        var broken = await Put("datasets/busy.yaml", Draft.Replace("sum(trips)", "sum(tripps)"), replace: true);
        broken.GetProperty("accepted").GetBoolean().ShouldBeFalse();
        broken.GetProperty("faults").GetRawText().ShouldContain("Did you mean trips?");
        (await Put("../access.yaml", "x")).GetProperty("code").GetString().ShouldBe("bad-path");
        (await Put("datasets/x.yaml\n", "x")).GetProperty("code").GetString().ShouldBe("bad-path");
        (await Put("access.yaml", "roles: {}", replace: true))
            .GetProperty("code")
            .GetString()
            .ShouldBe("bad-path", "rights are not changed by the way");
        var files = await service.As("developer").GetFromJsonAsync<JsonElement>("api/definitions");
        files.GetProperty("files").GetProperty("datasets/busy.yaml").GetString().ShouldBe(Draft);
    }

    [Fact]
    public async Task A_source_being_written_is_tested_and_its_secret_is_never_told()
    {
        Environment.SetEnvironmentVariable("WEIR_SECRET_OF_TEST", "sesame");
        var (_, body) = await Send(
            "developer",
            HttpMethod.Post,
            "api/sources/test",
            new
            {
                text = "source: x\nengine: postgresql\nhost: 127.0.0.1\nport: 1\ndatabase: d\nuser: u\npassword: ${env:WEIR_SECRET_OF_TEST}\n",
            }
        );
        body.GetProperty("steps").EnumerateArray().Last().GetProperty("step").GetString().ShouldBe("login");
        body.GetRawText().ShouldNotContain("sesame");
        (
            await Send(
                "developer",
                HttpMethod.Post,
                "api/sources/test",
                new { text = "source: x\nengine: postgresql\nhost: h\ndatabase: d\nuser: u\npassword: hunter2\n" }
            )
        )
            .Body.GetProperty("faults")[0]
            .GetProperty("code")
            .GetString()
            .ShouldBe("secret-in-file");
    }
}
