using System.Diagnostics;
using System.Text.Json;
using System.Threading.Channels;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Queries;
using Weir.Core.Results;
using Weir.Engines;

namespace Weir.Service;

/// <summary>Dashboards, their figures and where the figures come from.</summary>
internal static class DashboardEndpoints
{
    private static readonly byte[] NewLine = "\n"u8.ToArray();

    public static void MapDashboards(this RouteGroupBuilder api)
    {
        api.MapGet("/dashboards", (HttpContext context, PublishedWorkspace published) =>
            DashboardFor.List(context.Viewer(), published.Now).Select(d => new DashboardLine(d.Name, d.Title, d.Description)))
            .WithName("listDashboards").WithSummary("The dashboards that the viewer may open.");

        api.MapGet("/dashboards/{dashboard}", (string dashboard, HttpContext context, PublishedWorkspace published, Store.Views views) =>
            DashboardFor.Open(dashboard, context.Viewer(), published.Now, views).Page())
            .WithName("getDashboard").WithSummary("A dashboard in the viewer's own arrangement, without figures.");

        api.MapPost("/dashboards/{dashboard}/results", Results)
            .WithName("getResults").WithSummary("The figures of tiles under selections: one JSON line for each tile, as each is ready.")
            .Produces<TileResult>(200, "application/x-ndjson").WithMetadata(new OnlyReads());

        api.MapPost("/dashboards/{dashboard}/tiles/{tile}/explanation", Explain)
            .WithName("explainTile").WithSummary("Where the figures of a tile come from: SQL, parameters, row rule, filters with their reasons.")
            .WithMetadata(new OnlyReads());
    }

    private static async Task Results(string dashboard, ResultsRequest request, HttpContext context, PublishedWorkspace published, Store.Views views, ILoggerFactory logs)
    {
        var open = DashboardFor.Open(dashboard, context.Viewer(), published.Now, views);
        var selections = open.Selections(request.Selections);
        var tiles = request.Tiles is { } names
            ? names.Distinct().Take(500).Select(open.Tile).ToList()
            : [.. open.Arrangement.Tiles.Where(t => !t.Hidden).Select(t => t.Tile)];
        tiles.RemoveAll(t => t.Dataset is null);

        var clock = context.RequestServices.GetRequiredService<TimeProvider>();
        var log = logs.CreateLogger("Weir.Tiles");
        var cancellation = context.RequestAborted;
        var ready = Channel.CreateUnbounded<TileResult>();
        var work = Task.WhenAll(tiles.Select(async tile => ready.Writer.TryWrite(await Answer(open, tile, selections, clock, log, cancellation))));
        _ = work.ContinueWith(w => ready.Writer.Complete(w.Exception?.InnerException), TaskScheduler.Default);

        context.Response.ContentType = "application/x-ndjson";
        context.Response.Headers.CacheControl = "no-store";
        var json = context.RequestServices.GetRequiredService<Microsoft.Extensions.Options.IOptions<Microsoft.AspNetCore.Http.Json.JsonOptions>>().Value.SerializerOptions;
        await foreach (var result in ready.Reader.ReadAllAsync(cancellation))
        {
            await JsonSerializer.SerializeAsync(context.Response.Body, result, json, cancellation);
            await context.Response.Body.WriteAsync(NewLine, cancellation);
            await context.Response.Body.FlushAsync(cancellation);
        }
    }

    /// <summary>The figures of one tile. A tile that fails says so in its own line; the others stand.</summary>
    private static async Task<TileResult> Answer(DashboardFor open, Tile tile, IReadOnlyList<Selection> selections, TimeProvider clock, ILogger log, CancellationToken cancellation)
    {
        var scope = open.ScopeOf(tile);
        var filters = open.Filters(tile, selections);
        var described = open.Describe(filters);
        var started = Stopwatch.GetTimestamp();
        try
        {
            var answer = await TileAnswer.Get(tile, scope, filters, open.Live.Planner, Limit(open, scope), open.Live.Workspace.WeekStart, Ask(open, scope), cancellation);
            return new TileResult(
                tile.Name, "ready", Wire.Table(answer.Table), answer.Lines, answer.Totals is null ? null : [.. answer.Totals.Row(0).Select(Wire.Value)], Describe(answer),
                described, scope.Restricted, [.. answer.Partial.Select(Wire.Value)], clock.GetUtcNow(), Stopwatch.GetElapsedTime(started).TotalMilliseconds, null);
        }
        catch (Exception e) when (!cancellation.IsCancellationRequested)
        {
            var (_, code, detail, remedy) = Problems.Describe(e);
            if (e is SourceException source)
                log.LogWarning("Tile {Tile} of {Dashboard}: {Code} {Cause}", tile.Name, open.Dashboard.Name, source.Code, source.InnerException?.Message ?? source.Message);
            else
                log.LogError(e, "Tile {Tile} of {Dashboard} failed", tile.Name, open.Dashboard.Name);
            return new TileResult(
                tile.Name, "failed", null, 0, null, null, described, scope.Restricted, [], clock.GetUtcNow(), Stopwatch.GetElapsedTime(started).TotalMilliseconds, new TileProblem(code, detail, remedy));
        }
    }

    private static int Limit(DashboardFor open, Scope scope) => open.Live.Workspace.Sources[scope.Source].Limits.Rows;

    private static Ask Ask(DashboardFor open, Scope scope)
    {
        var source = open.Live.Source(scope.Source);
        var dialect = open.Live.Dialect(scope.Source);
        return (query, cancellation) => source.Ask(query, dialect, cancellation);
    }

    private static ChangeInfo? Describe(TileAnswer answer)
    {
        if (answer.Change is not { } change)
            return null;
        var last = change.Until.AddTicks(-1);
        return new ChangeInfo(
            Labels.Write(change.Period, change.PeriodColumn), Labels.Write(change.EarlierPeriod, change.PeriodColumn), change.IsPartial,
            $"{change.From:d MMM yyyy} to {last:d MMM yyyy}", Wire.Value(change.Value), Wire.Value(change.Earlier), change.Relative, [.. change.Course.Select(Wire.Value)]);
    }

    private static async Task<Explanation> Explain(string dashboard, string tile, ExplanationRequest request, HttpContext context, PublishedWorkspace published, Store.Views views)
    {
        var open = DashboardFor.Open(dashboard, context.Viewer(), published.Now, views);
        var found = open.Tile(tile);
        if (found.Dataset is null)
            throw new ProblemException(422, "no-figures", $"The tile {tile} shows no figures.");
        var scope = open.ScopeOf(found);
        var filters = open.Filters(found, open.Selections(request.Selections));
        var sql = new List<SqlInfo>();
        if (!scope.RuleNamesHidden)
        {
            var dialect = open.Live.Dialect(scope.Source);
            var ask = Ask(open, scope);
            // Asked for real: what a later question is depends on the answer to the first.
            await TileAnswer.Get(found, scope, filters, open.Live.Planner, Limit(open, scope), open.Live.Workspace.WeekStart, (query, cancellation) =>
            {
                var text = dialect.Print(SelectBuilder.Build(query));
                sql.Add(new SqlInfo(text.Text, [.. text.Parameters.Select((p, i) => new ParameterInfo($"${i + 1}", p.Kind.ToString().ToLowerInvariant(), Wire.Value(p.Value)))]));
                return ask(query, cancellation);
            }, context.RequestAborted);
        }
        return new Explanation(
            found.Name, Wire.TitleOf(found, scope), scope.Title, open.Live.Workspace.Sources[scope.Source].Title,
            [.. found.Show.Select(m => Wire.Measure(scope.Measures[m]))],
            [.. scope.Rules.Select(r => new RuleInfo(r.Role, scope.RuleNamesHidden && r.Text is not null ? "a condition on what you may not see" : r.Text))],
            scope.Filter is null ? null : "The dataset has a filter of its own.",
            open.Describe(filters), sql,
            scope.RuleNamesHidden ? "The SQL names columns that you may not see, so it is not shown." : null);
    }
}
