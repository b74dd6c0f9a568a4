using System.Diagnostics;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Results;
using Weir.Core.Sql;
using Weir.Engines;
using Weir.Service.Answers;

namespace Weir.Service;

/// <summary>Dashboards, their figures and where the figures come from.</summary>
internal static class DashboardEndpoints
{
    public static void MapDashboards(this RouteGroupBuilder api)
    {
        api.MapGet("/dashboards", (HttpContext context, PublishedWorkspace published) =>
            DashboardFor.List(context.Viewer(), published.Now).Select(d => new DashboardLine(d.Name, d.Title, d.Description)))
            .WithName("listDashboards").WithSummary("The dashboards that the viewer may open.");

        api.MapGet("/dashboards/{dashboard}", (string dashboard, string? set, HttpContext context, PublishedWorkspace published, Store.Views views, TimeProvider clock) =>
            DashboardFor.OpenAsSet(dashboard, context.Viewer(), published.Now, views, clock.GetUtcNow(), set).Page())
            .WithName("getDashboard").WithSummary("A dashboard in the viewer's own arrangement, without figures. set: parameters as JSON, lists of texts by name; what can't be meant is left out.");

        api.MapGet("/dashboards/{dashboard}/parameters/{parameter}/choices", Choices)
            .WithName("listChoices").WithSummary("The values that a parameter may have, as far as the viewer may see them.");

        api.MapPost("/dashboards/{dashboard}/results", Results)
            .WithName("getResults").WithSummary("The figures of tiles under selections: one JSON line for each tile, as each is ready.")
            .Produces<TileResult>(200, "application/x-ndjson").WithMetadata(new OnlyReads());

        api.MapGet("/dashboards/{dashboard}/wiring", (string dashboard, string? set, HttpContext context, PublishedWorkspace published, Store.Views views, TimeProvider clock) =>
            DashboardFor.OpenAsSet(dashboard, context.Viewer(), published.Now, views, clock.GetUtcNow(), set).WiringLines())
            .WithName("getWiring").WithSummary("Who drives whom: every pair of a tile on which something can be picked and another, with the reason where it does not reach.");

        api.MapPost("/dashboards/{dashboard}/tiles/{tile}/explanation", Explain)
            .WithName("explainTile").WithSummary("Where the figures of a tile come from: SQL, parameters, row rule, filters with their reasons.")
            .WithMetadata(new OnlyReads());
    }

    /// <summary>The values that a parameter may have, as far as the viewer may see them.</summary>
    private static async Task<IReadOnlyList<ChoiceInfo>> Choices(string dashboard, string parameter, HttpContext context, PublishedWorkspace published, Store.Views views, TimeProvider clock, DataVersions versions)
    {
        var open = DashboardFor.Open(dashboard, context.Viewer(), published.Now, views, clock.GetUtcNow());
        var (found, scope) = open.ParameterNamed(parameter);
        return await ChoicesOf(found, scope, context.Viewer(), open, RefreshWave.AtOnce(open.Live, versions), context.RequestAborted);
    }

    /// <summary>The values that a parameter may have, as far as a viewer may see them.</summary>
    public static async Task<IReadOnlyList<ChoiceInfo>> ChoicesOf(Parameter parameter, Scope scope, Viewer viewer, DashboardFor open, Ask ask, CancellationToken cancellation)
    {
        switch (parameter.Choices)
        {
            case ParameterChoices.Fixed list:
                return [.. list.Items.Select(i => new ChoiceInfo(Values.Write(i.Value), i.Title))];
            case ParameterChoices.OfField { Field: var field }:
                return await ValuesOf(field, open, scope, ask, cancellation);
            case ParameterChoices.Lookup lookup:
                var looked = Scope.ForChoices(viewer, scope, parameter, lookup, open.Live.Workspace, open.Inputs);
                var answer = await ask(DatasetChecks.Rows(looked, [], new OrderKey(1, false), Limit(open, scope)), cancellation);
                var all = answer.Table.Values[0].Zip(answer.Table.Values[1]).Where(v => v.First is not null)
                    .Select(v => new ChoiceInfo(Values.Write(v.First!), v.Second as string ?? Values.Write(v.First!))).DistinctBy(c => c.Value).ToList();
                if (lookup.Field is not { } narrowing)
                    return all;
                var seen = (await ValuesOf(narrowing, open, scope, ask, cancellation)).Select(c => c.Value).ToHashSet();
                return [.. all.Where(c => seen.Contains(c.Value))];
            default:
                return [];
        }
    }

    /// <summary>The values of a field among the rows that the viewer may see; none if the field is hidden.</summary>
    private static async Task<IReadOnlyList<ChoiceInfo>> ValuesOf(string field, DashboardFor open, Scope scope, Ask ask, CancellationToken cancellation)
    {
        if (!scope.Fields.ContainsKey(field))
            return [];
        var group = open.Live.Planner.Group(new FieldAt(field, null), scope);
        var answer = await ask(new Query(scope, [], [group], [], null, [new OrderKey(0, false)], Limit(open, scope)), cancellation);
        return [.. answer.Table.Values[0].OfType<object>().Select(v => new ChoiceInfo(Values.Write(v), Labels.Write(v, answer.Table.Columns[0])))];
    }

    private static async Task Results(
        string dashboard, ResultsRequest request, HttpContext context, PublishedWorkspace published, Store.Views views, ILoggerFactory logs, TimeProvider clock, DataVersions versions)
    {
        var open = DashboardFor.Open(dashboard, context.Viewer(), published.Now, views, clock.GetUtcNow(), request.Inputs, faultsStay: true);
        var selections = await open.SelectionsOf(request.Selections, versions, context.RequestAborted);
        var ask = RefreshWave.AtOnce(open.Live, versions);
        await open.LearnNames(selections, async (q, stop) => await ask(q, stop), context.RequestAborted);
        var tiles = request.Tiles is { } names
            ? names.Distinct().Take(500).Select(open.Tile).ToList()
            : [.. open.Arrangement.Tiles.Where(t => !t.Hidden).Select(t => t.Tile)];
        tiles.RemoveAll(t => t.Dataset is null);

        // Before the stream begins, a source that takes no more questions can still be told by status.
        if (tiles.Select(open.ScopeOf).Select(s => open.Live.Source(s.Source)).FirstOrDefault(s => s.Engine.IsFull) is { } full)
            throw new ProblemException(503, "source-busy", $"{full.Definition.Title} is busy with other queries.", "Try again in a moment.", TimeSpan.FromSeconds(5));
        var log = logs.CreateLogger("Weir.Tiles");
        var cancellation = context.RequestAborted;
        var planned = tiles.Select(tile => PlannedTile.Of(open, tile, selections)).ToList();
        var wave = new RefreshWave(open.Live, versions, request.Refresh ? NotBefore(open, tiles, clock) : null);
        wave.Begin(planned.Where(p => p.Plan is not null).SelectMany(p => p.Plan!.First).Select(q => q.Query), cancellation);
        await JsonLines.Send(context, planned.Select(tile => Answer(open, tile, wave, clock, log, cancellation)));
    }

    /// <summary>Whoever refreshes gets data read after now, less the smallest interval of the source: many who refresh do not ask more often.</summary>
    private static long NotBefore(DashboardFor open, List<Tile> tiles, TimeProvider clock) => clock.GetTimestamp() - (clock.TimestampFrequency *
        tiles.Select(t => open.Live.Source(open.ScopeOf(t).Source).Definition.Refresh.LeastSeconds).DefaultIfEmpty(0).Max());

    /// <summary>A tile with its plan, or with what keeps it from having one.</summary>
    private sealed record PlannedTile(Tile Tile, Scope Scope, FiltersInfo Filters, TilePlan? Plan, Exception? Fault)
    {
        public static PlannedTile Of(DashboardFor open, Tile tile, IReadOnlyList<Selection> selections)
        {
            var filters = open.Filters(tile, selections);
            var planned = new PlannedTile(tile, open.ScopeOf(tile), open.Describe(filters), null, null);
            try
            {
                return open.FaultOf(tile, filters) is { } unfit ? planned with { Fault = unfit } : planned with { Plan = open.Plan(tile, filters, selections) };
            }
            catch (Exception e) when (e is OverflowException or ArgumentException)
            {
                return planned with { Fault = e };
            }
        }
    }

    /// <summary>The figures of one tile. A tile that fails says so in its own line; the others stand.</summary>
    private static async Task<TileResult> Answer(DashboardFor open, PlannedTile planned, RefreshWave wave, TimeProvider clock, ILogger log, CancellationToken cancellation)
    {
        var (tile, scope, described) = (planned.Tile, planned.Scope, planned.Filters);
        var started = Stopwatch.GetTimestamp();
        DateTimeOffset? readAt = null;
        try
        {
            if (planned.Plan is not { } plan)
                throw planned.Fault!;
            // The oldest of the answers that the tile is made of.
            var answer = await plan.Run(wave.For(at => readAt = readAt is { } known && known < at ? known : at), cancellation);
            return new TileResult(
                tile.Name, "ready", Wire.Table(answer.Table), answer.Lines, answer.Totals is null ? null : [.. answer.Totals.Row(0).Select(Wire.Value)], Describe(answer),
                described, scope.Restricted, [.. answer.Partial.Select(Wire.Value)], [.. answer.PartialPairs.Select(p => new[] { Wire.Value(p.First), Wire.Value(p.Second) })], readAt ?? clock.GetUtcNow(), Stopwatch.GetElapsedTime(started).TotalMilliseconds, null, answer.Absent.Count == 0 ? null : [.. answer.Absent.Select(m => m.Select(Wire.Value).ToArray())]);
        }
        catch (Exception e) when (!cancellation.IsCancellationRequested)
        {
            var (_, code, detail, remedy) = Problems.Describe(e);
            if (e is ProblemException)
                log.LogInformation("Tile {Tile} of {Dashboard}: {Code}", tile.Name, open.Dashboard.Name, code);
            else if (e is SourceException source)
                log.LogWarning("Tile {Tile} of {Dashboard}: {Code} {Cause}", tile.Name, open.Dashboard.Name, source.Code, source.InnerException?.Message ?? source.Message);
            else
                log.LogError(e, "Tile {Tile} of {Dashboard} failed", tile.Name, open.Dashboard.Name);
            return new TileResult(
                tile.Name, "failed", null, 0, null, null, described, scope.Restricted, [], [], clock.GetUtcNow(), Stopwatch.GetElapsedTime(started).TotalMilliseconds, new TileProblem(code, detail, remedy));
        }
    }

    private static int Limit(DashboardFor open, Scope scope) => open.Live.Workspace.Sources[scope.Source].Limits.Rows;

    private static ChangeInfo? Describe(TileAnswer answer)
    {
        if (answer.Change is not { } change)
            return null;
        var last = change.Until.AddTicks(-1);
        return new ChangeInfo(
            Labels.Write(change.Period, change.PeriodColumn), Labels.Write(change.EarlierPeriod, change.PeriodColumn), change.IsPartial,
            $"{change.From:d MMM yyyy} to {last:d MMM yyyy}", Wire.Value(change.Value), Wire.Value(change.Earlier), change.Relative, [.. change.Course.Select(Wire.Value)]);
    }

    private static async Task<Explanation> Explain(
        string dashboard, string tile, ExplanationRequest request, HttpContext context, PublishedWorkspace published, Store.Views views, TimeProvider clock, DataVersions versions)
    {
        var open = DashboardFor.Open(dashboard, context.Viewer(), published.Now, views, clock.GetUtcNow(), request.Inputs);
        var found = open.Tile(tile);
        if (found.Dataset is null)
            throw new ProblemException(422, "no-figures", $"The tile {tile} shows no figures.");
        var scope = open.ScopeOf(found);
        var selections = await open.SelectionsOf(request.Selections, versions, context.RequestAborted);
        await open.LearnNames(selections, RefreshWave.KeptOnly(open.Live, versions), context.RequestAborted);
        var filters = open.Filters(found, selections);
        var plan = open.Plan(found, filters, selections);
        found = plan.Tile;
        var dialect = open.Live.Dialect(scope.Source);
        IReadOnlyList<SqlInfo> sql = scope.RuleNamesHidden ? [] : [.. plan.Questions.OrderBy(plan.WaveOf).Select(q => SqlInfo.Of(dialect.Print(SelectBuilder.Build(MemberNames.WithNames(q.Query))), q.Why, plan.WaveOf(q)))];
        long? rows = null;
        double? elapsed = null;
        if (request.Count)
        {
            var ask = RefreshWave.AtOnce(open.Live, versions);
            var started = Stopwatch.GetTimestamp();
            await plan.Run(ask, context.RequestAborted);
            elapsed = Stopwatch.GetElapsedTime(started).TotalMilliseconds;
            rows = (long)(await ask(Planner.RowCount(scope, filters), context.RequestAborted)).Table.Values[0][0]!;
        }
        return new Explanation(
            found.Name, Wire.TitleOf(found, scope), scope.Title, open.Live.Workspace.Sources[scope.Source].Title,
            [.. found.Show.Select(m => Wire.Measure(scope.Measures[m]))],
            [.. scope.Rules.Select(r => new RuleInfo(r.Role, scope.RuleNamesHidden && r.Text is not null ? "a condition on what you may not see" : r.Text))],
            scope.Filter is null ? null : "The dataset has a filter of its own.",
            open.Describe(filters), sql,
            scope.RuleNamesHidden ? "The SQL names columns that you may not see, so it is not shown." : null,
            [.. scope.Parameters.Values.Select(p => new SettingInfo(p.Name, p.Title, [.. open.Inputs.Of(p).Select(Values.Write)]))],
            rows, scope.RuleNamesHidden ? null : elapsed);
    }
}
