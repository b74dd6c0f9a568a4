using DuckDB.NET.Data;
using Shouldly;
using Weir.Testing;

namespace Weir.Demo.Tests;

public sealed class LanternIslesTests : IDisposable
{
    private readonly DuckDBConnection _connection = new(
        $"Data Source={Path.Combine(Repository.DemoFiles(), "lantern-isles.duckdb")};access_mode=READ_ONLY"
    );

    public LanternIslesTests() => _connection.Open();

    public void Dispose() => _connection.Dispose();

    private T Ask<T>(string sql)
    {
        using var command = _connection.CreateCommand();
        command.CommandText = sql;
        return (T)Convert.ChangeType(command.ExecuteScalar()!, typeof(T));
    }

    [Fact]
    public void It_has_as_many_rows_as_promised_over_three_years()
    {
        Ask<long>("SELECT count(*) FROM sailing").ShouldBeInRange(200_000, 300_000);
        Ask<long>("SELECT count(*) FROM ticket_sale").ShouldBeInRange(800_000, 1_200_000);
        Ask<long>("SELECT date_diff('day', min(departed_at), max(departed_at)) FROM sailing").ShouldBeInRange(1090, 1096);
    }

    [Fact]
    public void It_is_made_the_same_each_time()
    {
        // The sums of one making, kept here: another seed, order or formula would change them.
        Ask<long>("SELECT count(*) FROM sailing").ShouldBe(245_816);
        Ask<decimal>("SELECT sum(fare_income) + sum(cafe_income) FROM sailing").ShouldBe(356_263_375.52m);
        Ask<long>("SELECT CAST(sum(tickets) AS BIGINT) FROM ticket_sale").ShouldBe(16_558_840);
    }

    [Fact]
    public void What_a_viewer_can_find_is_there()
    {
        // One vessel drifts out of order, one terminal opens in year two, storms cancel, and summer is busy.
        Ask<string>(
                "SELECT v.name FROM sailing s JOIN vessel v ON v.id = s.vessel_id WHERE departed_at >= '2025-06-01' GROUP BY 1 ORDER BY "
                    + "avg(delay_min) DESC LIMIT 1"
            )
            .ShouldBe("Grey Pilgrim");
        Ask<string>(
                "SELECT CAST(CAST(min(s.departed_at) AS DATE) AS VARCHAR) FROM sailing s JOIN route r ON r.id = s.route_id WHERE r.name LIKE '%Fennimar%'"
            )
            .ShouldBe("2024-05-01");
        Ask<double>("SELECT avg(CAST(cancelled AS INTEGER)) FROM sailing WHERE wind_ms > 17")
            .ShouldBeGreaterThan(20 * Ask<double>("SELECT avg(CAST(cancelled AS INTEGER)) FROM sailing WHERE wind_ms < 10"));
        Ask<double>("SELECT avg(passengers) FROM sailing WHERE month(departed_at) = 7")
            .ShouldBeGreaterThan(1.3 * Ask<double>("SELECT avg(passengers) FROM sailing WHERE month(departed_at) = 1"));
    }
}
