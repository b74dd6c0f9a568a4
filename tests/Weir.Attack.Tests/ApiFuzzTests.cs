using System.Text.Json;
using System.Text.Json.Nodes;
using CsCheck;
using Shouldly;
using Weir.Service.Tests;

namespace Weir.Attack.Tests;

/// <summary>Random requests to the demo's dashboards: whatever stands in them, the service answers and never with a fault of its own.</summary>
public sealed class ApiFuzzTests(SharedService shared) : IClassFixture<SharedService>
{
    private static readonly Dictionary<string, string[]> Tiles = [];

    private static readonly JsonNode?[] Values =
    [
        null,
        13,
        0,
        -1,
        7,
        8,
        1.5,
        long.MaxValue,
        int.MaxValue,
        "0001-01-01",
        "0001-01-01T00:00:00",
        "9989-12-31",
        "9989-12-31T23:59:59",
        "2024-02-29",
        "2024-01-01T00:00:00",
        "x",
        "",
        "SKE",
        "Skerrin",
        "North Isles",
        true,
        false,
        "\u0000",
        "last 30 days",
        "last fortnight",
        "previous year",
        "2024-01-01 to 2024-02-01",
        new string('y', 5_000),
        "'; DROP TABLE sailing; --",
        1e308,
        "1e400",
        "-0",
        "NaN",
    ];

    private static readonly Gen<JsonNode?> Value = Gen.Int[0, Values.Length - 1].Select(i => Values[i]?.DeepClone());

    private static Gen<JsonNode?> List(Gen<JsonNode?> of, int most) =>
        of.Array[0, most].Select(a => (JsonNode?)new JsonArray([.. a.Select(x => x?.DeepClone())]));

    private static Gen<JsonNode?> Either(params Gen<JsonNode?>[] of) => Gen.Int[0, of.Length - 1].SelectMany(i => of[i]);

    private static Gen<JsonNode?> Some(params (string Key, Gen<JsonNode?> Value)[] keys) =>
        Gen
            .Bool.Array[keys.Length]
            .SelectMany(with =>
                keys.Where((_, i) => with[i])
                    .Aggregate(
                        Gen.Const(new JsonObject()),
                        (all, k) =>
                            all.Select(
                                k.Value,
                                (o, v) =>
                                {
                                    var next = (JsonObject)o.DeepClone();
                                    next[k.Key] = v?.DeepClone();
                                    return next;
                                }
                            )
                    )
                    .Select(o => (JsonNode?)o)
            );

    /// <summary>Of the right form most of the time: else nothing behind the reading of requests would be reached.</summary>
    private static Gen<JsonNode?> Mostly(Gen<JsonNode?> right) => Gen.Int[0, 11].SelectMany(i => i == 0 ? Value : right);

    private static readonly Gen<JsonNode?> Members = Mostly(
        Gen.Int[1, 2]
            .SelectMany(n => Value.Array[n].Array[1, 3])
            .Select(m => (JsonNode?)new JsonArray([.. m.Select(v => new JsonArray([.. v.Select(x => x?.DeepClone())]))]))
    );

    private static Gen<JsonNode?> One(string key, Gen<JsonNode?> value) =>
        value.Select(v => (JsonNode?)new JsonObject { [key] = v?.DeepClone() });

    private static readonly Gen<JsonNode?> Selection = Mostly(
        Either(
            One("members", Members),
            One("range", Mostly(Some(("from", Value), ("to", Value)))),
            One("period", Value),
            One("contains", Value),
            One("path", Mostly(List(Value, 2))),
            Some(("members", Members), ("exclude", Gen.Bool.Select(b => (JsonNode?)b)), ("restOf", Members)),
            Some(("path", List(Value, 2)), ("members", Members))
        )
    );

    private static readonly Gen<JsonNode?> Viewing = Mostly(
        Either(
            Gen.Const((JsonNode?)null),
            One(
                "parameters",
                Some(
                    ("sold_in", List(Value, 1)),
                    ("at_port", List(Value, 2)),
                    ("grain", List(Gen.Const((JsonNode?)"week"), 1)),
                    ("least", List(Value, 1))
                )
            ),
            One("zone", Mostly(Gen.Const((JsonNode?)"Atlantic/Azores")))
        )
    );

    private static readonly Gen<JsonNode?> Whole = Mostly(Gen.Int[-2, 600].Select(i => (JsonNode?)i));

    private static readonly string[] Edits =
    [
        "place",
        "move",
        "hide",
        "unhide",
        "add-tab",
        "rename-tab",
        "remove-tab",
        "order-tabs",
        "keep-picks",
        "nosuch",
    ];

    private static Gen<JsonNode?> Edit(Gen<string> tile) =>
        Some(
            ("edit", Gen.Int[0, Edits.Length - 1].Select(i => (JsonNode?)Edits[i])),
            ("tab", Either(Value, Gen.Const((JsonNode?)"overview"))),
            ("tile", tile.Select(t => (JsonNode?)t)),
            ("title", Value),
            ("tabs", Either(List(Value, 3), Value)),
            (
                "tiles",
                List(
                    Some(
                        ("tile", tile.Select(t => (JsonNode?)t)),
                        (
                            "place",
                            Some(
                                ("column", Whole),
                                ("row", Whole),
                                ("width", Either(Whole, Gen.Const((JsonNode?)int.MaxValue))),
                                ("height", Whole)
                            )
                        )
                    ),
                    2
                )
            ),
            ("selections", Either(Value, Some(("income-by-route", Selection)))),
            ("parameters", Value)
        );

    private async Task<Dictionary<string, string[]>> TilesOf()
    {
        lock (Tiles)
            if (Tiles.Count > 0)
                return Tiles;
        foreach (var line in (await shared.Service.As("director").GetFromJsonAsync("api/dashboards")).EnumerateArray())
        {
            var name = line.GetProperty("name").GetString()!;
            var page = await shared.Service.As("director").GetFromJsonAsync($"api/dashboards/{name}");
            lock (Tiles)
                Tiles[name] =
                [
                    .. page.GetProperty("tabs")
                        .EnumerateArray()
                        .SelectMany(t => t.GetProperty("tiles").EnumerateArray())
                        .Select(t => t.GetProperty("name").GetString()!),
                ];
        }
        return Tiles;
    }

    [Fact]
    public async Task No_request_brings_out_a_fault_of_the_service()
    {
        var tiles = await TilesOf();
        var names = tiles.Keys.ToArray();
        var faults = new List<string>();
        var request = Gen.Int[0, names.Length - 1]
            .SelectMany(d =>
            {
                var tile = Gen.Int[0, tiles[names[d]].Length - 1].Select(i => tiles[names[d]][i]);
                var selections = tile.SelectMany(t => Some((t, Selection)));
                return Gen.Int[0, 6]
                    .SelectMany(kind =>
                        tile.SelectMany(t =>
                            (
                                kind switch
                                {
                                    0 => Some(
                                        ("selections", selections),
                                        ("viewing", Viewing),
                                        ("tiles", Gen.Const((JsonNode?)new JsonArray(t)))
                                    ),
                                    1 => Some(("selections", selections), ("viewing", Viewing)),
                                    2 => Some(
                                        ("selections", selections),
                                        ("viewing", Viewing),
                                        ("mark", Mostly(Either(One("member", Mostly(List(Value, 2))), One("restOf", Members)))),
                                        ("first", Whole),
                                        ("count", Whole)
                                    ),
                                    3 => Some(("selections", selections), ("viewing", Viewing)),
                                    4 => Some(("contains", Value), ("selections", selections), ("viewing", Viewing)),
                                    5 => Edit(tile),
                                    _ => Some(("selections", selections), ("viewing", Viewing), ("driver", Value)),
                                }
                            ).Select(body =>
                                (
                                    Path: $"api/dashboards/{names[d]}/"
                                        + kind switch
                                        {
                                            0 => "results",
                                            1 => "opening",
                                            2 => $"tiles/{t}/rows",
                                            3 => $"tiles/{t}/explanation",
                                            4 => $"tiles/{t}/members",
                                            5 => "view/edits",
                                            _ => "brush",
                                        },
                                    Body: body
                                )
                            )
                        )
                    );
            });
        request.Sample(
            r =>
            {
                using var response = shared
                    .Service.As("north-ports")
                    .PostAsync(r.Path, new StringContent(r.Body?.ToJsonString() ?? "null", System.Text.Encoding.UTF8, "application/json"))
                    .GetAwaiter()
                    .GetResult();
                var text = response.Content.ReadAsStringAsync().GetAwaiter().GetResult();
                if (
                    (int)response.StatusCode == 500
                    || text.Contains("internal-error", StringComparison.Ordinal)
                    || text.Contains("query-failed", StringComparison.Ordinal)
                )
                    lock (faults)
                        faults.Add($"{r.Path} {r.Body?.ToJsonString()} → {(int)response.StatusCode} {text[..Math.Min(300, text.Length)]}");
            },
            iter: Fuzz.Cases,
            threads: 2
        );
        faults.Take(8).ShouldBeEmpty();
    }
}

internal static class JsonClient
{
    public static async Task<JsonElement> GetFromJsonAsync(this HttpClient client, string path) =>
        JsonDocument.Parse(await client.GetStringAsync(path)).RootElement;
}
