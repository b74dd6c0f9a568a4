using DuckDB.NET.Data;

namespace Weir.Demo;

/// <summary>
/// Makes the data of Lantern Isles, a made-up ferry company: the same rows each time. Seasons, growth, storms, one vessel
/// that drifts out of order and a terminal that opens in year two are there to be found.
/// </summary>
public static class LanternIsles
{
    /// <summary>Changes whenever the rows would change, so that an older file is made anew.</summary>
    public const int Edition = 3;

    private static readonly DateOnly First = new(2022, 12, 18);
    private static readonly DateOnly Last = new(2025, 12, 17);
    private static readonly DateOnly FennimarOpens = new(2024, 5, 1);
    private static readonly DateOnly DriftBegins = new(2025, 2, 1);
    private const int DriftingVessel = 7;

    private static readonly string[] SeaAreas = ["North Reach", "Lantern Sound", "Outer Skein", "South Deep"];

    private static readonly (string Code, string Name, int Area, double Longitude, double Latitude)[] Terminals =
    [
        ("SKE", "Skerrin", 0, 0.68, 1.20),
        ("ULL", "Ullavee", 0, 0.96, 1.31),
        ("QUI", "Quillay", 0, 1.30, 1.20),
        ("LAN", "Lanternhead", 1, 0.34, 0.75),
        ("TOL", "Tolmarra", 1, 0.62, 0.64),
        ("OST", "Ostrel", 1, 1.30, 0.79),
        ("BRA", "Brannoway", 2, 2.60, 0.93),
        ("PEL", "Pellumbra", 2, 2.93, 0.89),
        ("VAN", "Vanestra", 2, 2.62, 0.78),
        ("MOR", "Morrowick", 3, 0.84, 0.22),
        ("DUN", "Dunmerrow", 3, 1.18, 0.30),
        ("FEN", "Fennimar", 3, 1.48, 0.22),
    ];

    /// <summary>From, to, miles, how busy.</summary>
    private static readonly (int From, int To, int Miles, double Weight)[] Routes =
    [
        (3, 0, 14, 1.5),
        (3, 4, 6, 2.2),
        (3, 5, 9, 1.7),
        (3, 6, 22, 1.0),
        (3, 9, 27, 1.1),
        (0, 1, 8, 0.9),
        (0, 2, 11, 0.7),
        (1, 2, 5, 0.5),
        (4, 5, 7, 1.2),
        (4, 7, 19, 0.6),
        (5, 8, 24, 0.5),
        (6, 7, 10, 0.8),
        (6, 8, 13, 0.6),
        (7, 8, 9, 0.4),
        (9, 10, 12, 1.0),
        (9, 4, 18, 0.9),
        (10, 5, 21, 0.5),
        (0, 4, 16, 0.8),
        (1, 3, 17, 0.7),
        (2, 6, 25, 0.3),
        (9, 11, 8, 0.9),
        (10, 11, 6, 0.6),
        (11, 3, 23, 0.8),
        (8, 10, 29, 0.3),
    ];

    /// <summary>Name, class, seats, car places.</summary>
    private static readonly (string Name, string Class, int Seats, int Cars)[] Vessels =
    [
        ("Amber Wake", "Islander", 320, 48),
        ("Bright Fathom", "Islander", 320, 48),
        ("Calm Meridian", "Islander", 300, 44),
        ("Dawn Heron", "Sounder", 540, 90),
        ("Even Keel", "Sounder", 540, 90),
        ("Far Beacon", "Sounder", 520, 86),
        ("Grey Pilgrim", "Islander", 310, 46),
        ("Harbour Song", "Swift", 220, 0),
        ("Inner Light", "Swift", 220, 0),
        ("Jolly Tern", "Swift", 200, 0),
        ("Kind Current", "Sounder", 560, 94),
        ("Long Evening", "Islander", 330, 50),
        ("Mild Cape", "Islander", 300, 44),
        ("Ninth Wave", "Sounder", 540, 88),
    ];

    /// <summary>Centre, the one above it, what it spends in a year; one is below a centre that was closed.</summary>
    private static readonly (string Name, string? Parent, int Spends)[] Centres =
    [
        ("Lantern Isles", null, 210),
        ("Operations", "Lantern Isles", 160),
        ("Vessels", "Operations", 90),
        ("Crews", "Vessels", 6_400),
        ("Hulls", "Vessels", 1_900),
        ("Engines", "Vessels", 2_700),
        ("Terminals", "Operations", 140),
        ("Berths", "Terminals", 1_100),
        ("Waiting rooms", "Terminals", 620),
        ("Kiosks", "Terminals", 380),
        ("Sales", "Lantern Isles", 450),
        ("Web", "Sales", 760),
        ("Counters", "Sales", 1_350),
        ("Café", "Sales", 980),
        ("Office", "Lantern Isles", 300),
        ("People", "Office", 540),
        ("Books", "Office", 410),
        ("Harbour trials", "Workshop", 170),
    ];

    private static readonly string[] Kinds = ["adult", "child", "senior", "car", "bicycle"];
    private static readonly double[] KindShare = [0.56, 0.17, 0.12, 0.11, 0.04];
    private static readonly decimal[] KindPrice = [24.5m, 9.0m, 17.5m, 61.0m, 6.5m];
    private static readonly string?[] Channels = ["web", "kiosk", "counter", null];
    private static readonly double[] ChannelShare = [0.52, 0.21, 0.24, 0.03];

    /// <summary>Makes the file if it is not there or of an older edition. A file appears whole or not at all.</summary>
    /// <returns>True if it was made.</returns>
    public static bool Ensure(string file)
    {
        var mark = file + ".edition";
        if (File.Exists(file) && File.Exists(mark) && File.ReadAllText(mark) == Edition.ToString())
            return false;
        Directory.CreateDirectory(Path.GetDirectoryName(Path.GetFullPath(file))!);
        var unfinished = file + ".new";
        File.Delete(unfinished);
        Generate(unfinished);
        File.Move(unfinished, file, overwrite: true);
        File.WriteAllText(mark, Edition.ToString());
        return true;
    }

    private static void Generate(string file)
    {
        using var connection = new DuckDBConnection($"Data Source={file}");
        connection.Open();
        foreach (var table in Tables)
        {
            Execute(connection, $"CREATE TABLE {table.Name} ({table.ColumnsAs(t => t)})");
            Append(connection, table.Name, table.Rows());
        }
        Execute(connection, "CHECKPOINT");
    }

    /// <summary>The tables with their rows, the same each time they are asked for.</summary>
    public static IReadOnlyList<DemoTable> Tables { get; } =
    [
        new("sea_area", "id INTEGER KEY, name VARCHAR", () => SeaAreas.Select((name, i) => new object?[] { i + 1, name })),
        new(
            "terminal",
            "id INTEGER KEY, code VARCHAR, name VARCHAR, sea_area_id INTEGER, opened DATE, longitude DOUBLE, latitude DOUBLE",
            () =>
                Terminals.Select(
                    (t, i) =>
                        new object?[]
                        {
                            i + 1,
                            t.Code,
                            t.Name,
                            t.Area + 1,
                            t.Code == "FEN" ? FennimarOpens : First,
                            t.Longitude,
                            t.Latitude,
                        }
                )
        ),
        new(
            "route",
            "id INTEGER KEY, name VARCHAR, from_terminal_id INTEGER, to_terminal_id INTEGER, home_port VARCHAR, sea_area VARCHAR, miles INTEGER",
            () =>
                Routes.Select(
                    (r, i) =>
                        new object?[]
                        {
                            i + 1,
                            $"{Terminals[r.From].Name}–{Terminals[r.To].Name}",
                            r.From + 1,
                            r.To + 1,
                            Terminals[r.From].Code,
                            SeaAreas[Terminals[r.From].Area],
                            r.Miles,
                        }
                )
        ),
        new(
            "vessel",
            "id INTEGER KEY, name VARCHAR, class VARCHAR, seats INTEGER, car_places INTEGER",
            () => Vessels.Select((v, i) => new object?[] { i + 1, v.Name, v.Class, v.Seats, v.Cars })
        ),
        new(
            "sailing",
            "id INTEGER, route_id INTEGER, vessel_id INTEGER, departed_at TIMESTAMP, delay_min INTEGER, cancelled BOOLEAN, "
                + "cancel_reason VARCHAR, wind_ms DOUBLE, passengers INTEGER, cars INTEGER, fuel_l DOUBLE, fuel_cost DECIMAL(10;2), "
                + "fare_income DECIMAL(10;2), cafe_income DECIMAL(10;2)",
            () => Sailings(new Random(20221218))
        ),
        new(
            "ticket_sale",
            "id INTEGER, sold_on DATE, terminal_id INTEGER, route_id INTEGER, kind VARCHAR, channel VARCHAR, tickets INTEGER, amount DECIMAL(10;2)",
            () => TicketSales(new Random(20251217))
        ),
        new(
            "inspection",
            "id INTEGER, vessel_id INTEGER, inspected_on DATE, grade VARCHAR, wear_mm DOUBLE",
            () => Inspections(new Random(20230301))
        ),
        new(
            "cost",
            "id INTEGER, centre VARCHAR, parent VARCHAR, spent_on DATE, amount INTEGER",
            () =>
                Enumerable
                    .Range(2023, 3)
                    .SelectMany(
                        (year, y) =>
                            Centres.Select(
                                (c, i) =>
                                    new object?[]
                                    {
                                        (y * Centres.Length) + i + 1,
                                        c.Name,
                                        c.Parent,
                                        new DateOnly(year, 6, 30),
                                        c.Spends * (100 + (4 * y) + (i * 7 % 5)) * 10,
                                    }
                            )
                    )
        ),
    ];

    private static IEnumerable<object?[]> Sailings(Random random)
    {
        var id = 0;
        var wind = 7.0;
        for (var day = First; day <= Last; day = day.AddDays(1))
        {
            // Wind remembers the day before and blows harder in winter; now and then a storm.
            var winter = Math.Cos(2 * Math.PI * (day.DayOfYear - 15) / 365.0);
            wind = Math.Max(
                1,
                (0.7 * wind) + (0.3 * (8 + (4 * winter))) + Normal(random, 2.2) + (random.NextDouble() < 0.02 + (0.02 * winter) ? 11 : 0)
            );
            for (var r = 0; r < Routes.Length; r++)
            {
                if (!IsOpen(r, day))
                    continue;
                var trips = (int)
                    Math.Round(
                        9.8 * Math.Sqrt(Routes[r].Weight) * (1 + (0.18 * Summer(day)) + (Weekend(day) ? 0.08 : 0)) + Normal(random, 0.7)
                    );
                for (var t = 0; t < trips; t++)
                    yield return Sailing(random, ++id, r, day, (5.5 * 60) + ((t + 0.5) * 17 * 60 / trips), wind);
            }
        }
    }

    private static object?[] Sailing(Random random, int id, int route, DateOnly day, double minute, double dayWind)
    {
        var (_, _, miles, weight) = Routes[route];
        var departs = day.ToDateTime(TimeOnly.MinValue).AddMinutes(5 * Math.Round((minute + Normal(random, 6)) / 5));
        var vessel =
            (route + (3 * departs.Hour) + (random.NextDouble() < 0.2 ? random.Next(Vessels.Length) : day.DayNumber / 9)) % Vessels.Length;
        var wind = Math.Max(0, dayWind + Normal(random, 1.6));
        double? measuredWind = random.NextDouble() < 0.015 ? null : Math.Round(wind, 1);
        var drift = vessel == DriftingVessel - 1 && day >= DriftBegins ? (day.DayNumber - DriftBegins.DayNumber) / 22.0 : 0;
        var fennimarFog = (Routes[route].From == 11 || Routes[route].To == 11) && day.Month is 9 or 10 or 11 ? 5 : 0;
        var rush = departs.Hour is 7 or 8 or 16 or 17 or 18 && !Weekend(day) ? 3.5 : 0;
        var cancelChance =
            0.004
            + (
                wind > 17 ? 0.35
                : wind > 14 ? 0.06
                : 0
            )
            + (drift * 0.0006);
        if (random.NextDouble() < cancelChance)
            return [id, route + 1, vessel + 1, departs, null, true, WhyCancelled(random, wind, drift), measuredWind, 0, 0, 0.0, 0m, 0m, 0m];
        var delay = Delay(random, rush, drift, fennimarFog, wind);
        var demand =
            Demand(day, weight)
            * (
                departs.Hour is >= 7 and <= 9 or >= 15 and <= 18 ? 1.35
                : departs.Hour is < 6 or > 20 ? 0.45
                : 0.9
            )
            * (1 - Math.Min(0.4, Math.Max(0, wind - 9) * 0.03));
        var passengers = (int)Math.Clamp(Math.Round(58 * demand * (1 + Normal(random, 0.25))), 0, Vessels[vessel].Seats);
        var cars = (int)Math.Clamp(Math.Round(passengers * 0.19 * (1 + Normal(random, 0.3))), 0, Vessels[vessel].Cars);
        var fuel = miles * FuelForMile(Vessels[vessel].Class) * (1 + (wind * 0.008)) * (1 + Normal(random, 0.03));
        var price = 0.92 + (0.0002 * (day.DayNumber - First.DayNumber)) + (0.05 * Math.Sin((day.DayNumber - First.DayNumber) / 90.0));
        var fares = (passengers * (5.5 + (miles * 0.55))) + (cars * (12 + (miles * 1.3)));
        var cafe = passengers * Math.Max(0, 0.9 + (miles * 0.09) + Normal(random, 0.25));
        return
        [
            id,
            route + 1,
            vessel + 1,
            departs,
            delay,
            false,
            null,
            measuredWind,
            passengers,
            cars,
            Math.Round(fuel, 1),
            Money(fuel * price),
            Money(fares),
            Money(cafe),
        ];
    }

    private static string? WhyCancelled(Random random, double wind, double drift) =>
        wind > 14 && random.NextDouble() < 0.9 ? "weather"
        : drift > 3 && random.NextDouble() < 0.7 ? "technical fault"
        : random.Next(4) switch
        {
            0 => "crew",
            1 => "technical fault",
            2 => "berth taken",
            _ => null,
        };

    /// <summary>In minutes; below 0 for a sailing that left early.</summary>
    private static int Delay(Random random, double rush, double drift, double fog, double wind) =>
        (int)
            Math.Round(
                Math.Max(
                    -3,
                    Normal(random, 3.2)
                        + rush
                        + drift
                        + fog
                        + (wind > 11 ? (wind - 11) * 2.2 : 0)
                        + (random.NextDouble() < 0.03 ? random.Next(10, 50) : 0)
                )
            );

    /// <summary>In litres, when there is no wind.</summary>
    private static int FuelForMile(string vesselClass) =>
        vesselClass switch
        {
            "Sounder" => 31,
            "Swift" => 26,
            _ => 22,
        };

    private static IEnumerable<object?[]> TicketSales(Random random)
    {
        var id = 0;
        for (var day = First; day <= Last; day = day.AddDays(1))
        for (var r = 0; r < Routes.Length; r++)
        {
            if (!IsOpen(r, day))
                continue;
            var base0 = 560 * Demand(day, Routes[r].Weight);
            foreach (var terminal in (int[])[Routes[r].From, Routes[r].To])
                for (var k = 0; k < Kinds.Length; k++)
                for (var c = 0; c < Channels.Length; c++)
                {
                    var tickets = (int)
                        Math.Round(
                            base0 * (terminal == Routes[r].From ? 0.58 : 0.42) * KindShare[k] * ChannelShare[c] * (1 + Normal(random, 0.2))
                        );
                    if (tickets > 0)
                        yield return
                        [
                            ++id,
                            day,
                            terminal + 1,
                            r + 1,
                            Kinds[k],
                            Channels[c],
                            tickets,
                            tickets * (KindPrice[k] + (Routes[r].Miles * 0.35m)),
                        ];
                }
        }
    }

    /// <summary>Each vessel is looked at every nine weeks or so, from its own first time on; the drifting one wears the fastest.</summary>
    private static IEnumerable<object?[]> Inspections(Random random)
    {
        var id = 0;
        for (var v = 0; v < Vessels.Length; v++)
        {
            var (wear, age) = (1.2 + (1.5 * random.NextDouble()), 0.0008 + (0.0018 * random.NextDouble()));
            // Three came late, and one of these was seen only once.
            var day = First.AddDays((v * 53 % 120) + (v >= 11 ? 420 : 0) + (v == 13 ? 540 : 0));
            for (; day <= Last; day = day.AddDays(49 + random.Next(28)))
            {
                var drifts = v == DriftingVessel - 1 && day >= DriftBegins;
                var grade =
                    wear + Normal(random, 0.35) is var seen && seen < 2 ? "sound"
                    : seen < 3 ? "fair"
                    : seen < 4.2 ? "worn"
                    : "poor";
                yield return [++id, v + 1, day, grade, Math.Round(wear, 2)];
                wear += (age * 60 * (drifts ? 4 : 1)) + Math.Abs(Normal(random, 0.03));
                // What is poor is mended before it sails again.
                if (grade == "poor")
                    wear -= 1.6;
                if (v == 13)
                    yield break;
            }
        }
    }

    private static bool IsOpen(int route, DateOnly day) => (Routes[route].From != 11 && Routes[route].To != 11) || day >= FennimarOpens;

    private static double Demand(DateOnly day, double weight) =>
        weight * (1 + (0.08 * (day.DayNumber - First.DayNumber) / 365.0)) * (0.85 + (0.55 * Summer(day))) * (Weekend(day) ? 1.22 : 1);

    /// <summary>0 in midwinter, 1 in midsummer.</summary>
    private static double Summer(DateOnly day) => (1 - Math.Cos(2 * Math.PI * (day.DayOfYear - 15) / 365.0)) / 2;

    private static bool Weekend(DateOnly day) => day.DayOfWeek is DayOfWeek.Friday or DayOfWeek.Saturday or DayOfWeek.Sunday;

    private static decimal Money(double amount) => Math.Round((decimal)amount, 2);

    /// <summary>A normal deviate with mean 0 (Box and Muller 1958).</summary>
    private static double Normal(Random random, double deviation) =>
        deviation * Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());

    private static void Execute(DuckDBConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        command.ExecuteNonQuery();
    }

    private static void Append(DuckDBConnection connection, string table, IEnumerable<object?[]> rows)
    {
        using var appender = connection.CreateAppender(table);
        foreach (var values in rows)
        {
            var row = appender.CreateRow();
            foreach (var value in values)
                _ = value switch
                {
                    null => row.AppendNullValue(),
                    int n => row.AppendValue(n),
                    double d => row.AppendValue(d),
                    decimal m => row.AppendValue(m),
                    bool b => row.AppendValue(b),
                    string s => row.AppendValue(s),
                    DateOnly d => row.AppendValue(d),
                    DateTime t => row.AppendValue(t),
                    _ => throw new InvalidOperationException($"No column takes a {value.GetType().Name}."),
                };
            row.EndRow();
        }
    }
}

/// <summary>A table of the demo.</summary>
/// <param name="Columns">In order; types as DuckDB calls them.</param>
/// <param name="Rows">Makes the rows, the same each time.</param>
public sealed record DemoTable(
    string Name,
    IReadOnlyList<(string Name, string Type, bool IsKey)> Columns,
    Func<IEnumerable<object?[]>> Rows
)
{
    internal DemoTable(string name, string columns, Func<IEnumerable<object?[]>> rows)
        : this(name, [.. columns.Split(", ").Select(c => c.Split(' ')).Select(w => (w[0], w[1].Replace(';', ','), w.Length > 2))], rows) { }

    /// <summary>The columns as CREATE TABLE lists them.</summary>
    /// <param name="named">What the engine calls a type of DuckDB's.</param>
    internal string ColumnsAs(Func<string, string> named) =>
        string.Join(", ", Columns.Select(c => $"{c.Name} {named(c.Type)}{(c.IsKey ? " PRIMARY KEY" : "")}"));
}
