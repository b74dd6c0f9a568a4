using System.Diagnostics;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Results;
using Weir.Engines;
using Weir.Service.Answers;
using Weir.Service.Asking;

namespace Weir.Service.Api;

/// <summary>A tile with its figures, or with what kept it from having some.</summary>
/// <param name="Answer">The figures as they were computed; null where there are none.</param>
internal sealed record AnsweredTile(Tile Tile, TileResult Result, TileAnswer? Answer);

/// <summary>The figures of tiles for one viewer: the one way on which a page, a file and a report come by them.</summary>
internal static class TileAnswers
{
    /// <summary>Tiles with what filters them.</summary>
    internal sealed record Asked(OpenDashboard Open, IReadOnlyList<Tile> Tiles, IReadOnlyList<Selection> Selections, FiltersInWords Words);

    /// <summary>Asks for all of them, equal questions once.</summary>
    /// <param name="notBefore">See <see cref="Fresh.NotBefore"/>.</param>
    /// <returns>An answer for each tile, in the order in which they were asked for, each as it is ready.</returns>
    /// <exception cref="SourceException">A source takes no more questions.</exception>
    public static async Task<IReadOnlyList<Task<AnsweredTile>>> Begin(
        Asked asked,
        Asker asker,
        long? notBefore,
        TimeProvider clock,
        Store.Audit audit,
        ILoggerFactory logs
    )
    {
        var (open, tiles, selections, words) = asked;
        var (log, cancellation) = (logs.CreateLogger("Weir.Tiles"), asker.Gone);
        var planned = tiles.Select(tile => PlannedTile.Of(open, tile, selections, words)).ToList();
        // Outliers and what a box opens to are values of single rows.
        foreach (
            var tile in planned.Where(p => p is { Plan: not null, Tile.Of: not null, Scope.GrantsDetail: true }).Select(p => p.Tile.Name)
        )
            audit.Write(asker.Viewer, "detail", $"{open.Dashboard.Name} {tile}");
        var wave = asker.Wave(notBefore);
        // Before an answer begins to leave, a source that takes no more questions can still be told by status.
        await wave.Begin(planned.Where(p => p.Plan is not null).SelectMany(p => p.Plan!.First).Select(q => q.Query), cancellation);
        return [.. planned.Select(tile => Answer(open, tile, wave, clock, log, cancellation))];
    }

    /// <summary>A tile with its plan, or with what keeps it from having one.</summary>
    private sealed record PlannedTile(Tile Tile, Scope Scope, FiltersInfo Filters, TilePlan? Plan, Exception? Fault)
    {
        public static PlannedTile Of(OpenDashboard open, Tile tile, IReadOnlyList<Selection> selections, FiltersInWords words)
        {
            var filters = open.Filters(tile, selections);
            var planned = new PlannedTile(tile, open.ScopeOf(tile), words.Of(filters), null, null);
            try
            {
                return open.FaultOf(tile, filters) is { } unfit
                    ? planned with
                    {
                        Fault = unfit,
                    }
                    : planned with
                    {
                        Plan = open.Plan(tile, filters, selections),
                    };
            }
            catch (Exception e) when (e is OverflowException or ArgumentException or ProblemException)
            {
                return planned with { Fault = e };
            }
        }
    }

    /// <summary>The figures of one tile. A tile that fails says so in its own line; the others stand.</summary>
    private static async Task<AnsweredTile> Answer(
        OpenDashboard open,
        PlannedTile planned,
        RefreshWave wave,
        TimeProvider clock,
        ILogger log,
        CancellationToken cancellation
    )
    {
        var started = Stopwatch.GetTimestamp();
        // The oldest of the answers that the tile is made of.
        var reading = new Reading();
        Times Now(DateTimeOffset? readAt) => new(readAt ?? clock.GetUtcNow(), Stopwatch.GetElapsedTime(started).TotalMilliseconds);
        try
        {
            if (planned.Plan is not { } plan)
                throw planned.Fault!;
            var answer = await plan.Run(wave.For(reading), cancellation);
            return new AnsweredTile(planned.Tile, Ready(planned, answer, reading.Held, Now(reading.ReadAt)), answer);
        }
        catch (Exception e) when (!cancellation.IsCancellationRequested)
        {
            Log(log, open.Dashboard.Name, planned.Tile.Name, e);
            return new AnsweredTile(planned.Tile, Failed(planned, e, Now(null)), null);
        }
    }

    /// <param name="ReadAt">When what the tile shows was read.</param>
    /// <param name="Milliseconds">How long its answer took.</param>
    private readonly record struct Times(DateTimeOffset ReadAt, double Milliseconds);

    /// <param name="held">Why what it shows is older than was asked for; null if it is not.</param>
    private static TileResult Ready(PlannedTile planned, TileAnswer answer, string? held, Times times) =>
        new(
            planned.Tile.Name,
            "ready",
            TableInfo.Of(answer.Table),
            answer.Lines,
            answer.Totals is null ? null : [.. answer.Totals.Row(0).Select(JsonValues.Of)],
            Describe(answer),
            planned.Filters,
            planned.Scope.Restricted,
            [.. answer.Partial.Select(JsonValues.Of)],
            [.. answer.PartialPairs.Select(p => new[] { JsonValues.Of(p.First), JsonValues.Of(p.Second) })],
            times.ReadAt,
            times.Milliseconds,
            null,
            answer.Absent.Count == 0 ? null : [.. answer.Absent.Select(m => m.Select(JsonValues.Of).ToArray())],
            answer.Subtotals.Count == 0
                ? null
                : [.. answer.Subtotals.Select(s => new SubtotalInfo(s.Down, s.IsAcross, TableInfo.Of(s.Table)))],
            answer.References.Count == 0 ? null : Numbers(answer.References),
            answer.Courses.Count == 0 ? null : [.. answer.Courses.Select(CourseInfo.Of)],
            answer.Outliers.Count == 0
                ? null
                : [.. answer.Outliers.Select(o => new OutlierInfo([.. o.Member.Select(JsonValues.Of)], JsonValues.Of(o.Value)!, o.Count))],
            string.Join(' ', new[] { answer.Note, held }.OfType<string>()) is { Length: > 0 } note ? note : null,
            answer.ReferencesOfEach.Count == 0
                ? null
                : [.. answer.ReferencesOfEach.Select(r => new ReferencesInfo(JsonValues.Of(r.Member), Numbers(r.At)))],
            planned.Scope.From.Sample
        );

    private static TileResult Failed(PlannedTile planned, Exception e, Times times)
    {
        var (_, code, detail, remedy) = Problems.Describe(e);
        return new TileResult(
            planned.Tile.Name,
            "failed",
            null,
            0,
            null,
            null,
            planned.Filters,
            planned.Scope.Restricted,
            [],
            [],
            times.ReadAt,
            times.Milliseconds,
            new TileProblem(code, detail, remedy)
        );
    }

    /// <summary>What was refused is no fault of the service, what a source does not give is one of the source.</summary>
    private static void Log(ILogger log, string dashboard, string tile, Exception e)
    {
        if (e is ProblemException)
            log.LogInformation("Tile {Tile} of {Dashboard}: {Code}", tile, dashboard, Problems.Describe(e).Code);
        else if (e is SourceException source)
            log.LogWarning(
                "Tile {Tile} of {Dashboard}: {Code} {Cause}",
                tile,
                dashboard,
                source.Code,
                source.InnerException?.Message ?? source.Message
            );
        else
            log.LogError(e, "Tile {Tile} of {Dashboard} failed", tile, dashboard);
    }

    private static IReadOnlyList<double?> Numbers(IReadOnlyList<object?> values) =>
        [.. values.Select(v => v is null ? (double?)null : Convert.ToDouble(v, System.Globalization.CultureInfo.InvariantCulture))];

    private static ChangeInfo? Describe(TileAnswer answer)
    {
        if (answer.Change is not { } change)
            return null;
        var last = change.Until.AddTicks(-1);
        return new ChangeInfo(
            Labels.Write(change.Period, change.PeriodColumn),
            Labels.Write(change.EarlierPeriod, change.PeriodColumn),
            change.IsPartial,
            $"{change.From:d MMM yyyy} to {last:d MMM yyyy}",
            JsonValues.Of(change.Value),
            JsonValues.Of(change.Earlier),
            change.Relative,
            [.. change.Course.Select(JsonValues.Of)]
        );
    }
}
