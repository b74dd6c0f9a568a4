using System.Globalization;
using System.Text.Json;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Planning.Passes;
using Weir.Core.Results;
using Weir.Service.Answers;
using Weir.Service.Asking;
using Weir.Service.SignIn;

namespace Weir.Service.Api;

/// <summary>The brush index: small cubes from which pages answer picks and drags on a driving tile by themselves.</summary>
internal static class BrushEndpoints
{
    /// <summary>Whole numbers up to this are exact in a page, whose numbers are floating-point.</summary>
    private const decimal Exact = 9_007_199_254_740_991m;

    public static void MapBrush(this RouteGroupBuilder api) =>
        api.MapPost("/dashboards/{dashboard}/tiles/{tile}/brush", Send)
            .WithName("getBrushIndex")
            .WithSummary(
                "For each tile that follows this one, the cells from which its figures under any pick here are added up: one JSON line each, as each is ready."
            )
            .Produces<BrushLine>(200, "application/x-ndjson")
            .WithMetadata(new OnlyReads(), new DrawsSamples());

    private static async Task Send(
        string dashboard,
        string tile,
        BrushRequest request,
        HttpContext context,
        Asker asker,
        ILoggerFactory logs,
        TimeProvider clock
    )
    {
        var open = asker.Open(dashboard, request.Viewing);
        var driver = open.Tile(tile);
        if (driver.Dataset is null || driver.Pick == Pick.None)
            throw new ProblemException(422, "not-pickable", $"Nothing can be picked on the tile {tile}.");
        var selections = await asker.SelectionsOf(open, request.Selections);
        // What is picked on the driving tile stays out of the cube; the level that is open there stays in.
        List<Selection> others = [.. selections.Select(s => s.Tile == tile ? new Selection(tile, [], null) { Path = s.Path } : s)];
        var path = others.FirstOrDefault(s => s.Tile == tile)?.Path ?? [];
        var level = Drilling.At(driver, path);
        var tabs = open.Arrangement.TabOf();
        var followers = (
            request.Tiles is { } names
                ? names.Distinct().Take(500).Select(open.Tile)
                : open.Arrangement.Tiles.Where(t => !t.Hidden).Select(t => t.Tile)
        )
            .Where(t => t.Dataset is not null && Wiring.Refusal(driver, t, open.Dashboard, tabs) is null)
            .Select(t => (Tile: t, Fields: Wiring.Counterparts(level.By, open.ScopeOf(driver), open.ScopeOf(t))))
            .Where(f => f.Fields is not null)
            .ToList();

        var log = logs.CreateLogger("Weir.Brush");
        var cancellation = asker.Gone;
        var planned = followers.Select(f => new Planned(open, f.Tile, f.Fields!, others)).ToList();
        var wave = asker.Wave(null);
        await wave.Begin(planned.SelectMany(p => p.Questions), cancellation);
        await JsonLines.Send(context, planned.Select(p => Line(open, driver, p, wave, log, cancellation)));
    }

    /// <summary>What a follower's cells are asked for.</summary>
    private sealed class Planned
    {
        public Planned(OpenDashboard open, Tile follower, IReadOnlyList<FieldAt> fields, IReadOnlyList<Selection> others)
        {
            Follower = follower;
            Fields = fields;
            Scope = open.ScopeOf(follower);
            Filters = open.Filters(follower, others);
            try
            {
                Plan = open.Plan(follower, Filters, others);
                (Index, Refusal) = BrushIndex.Plan(fields, Plan);
            }
            catch (OverflowException)
            {
                Refusal = "its question can't be put";
            }
            Bounds = Index?.PeriodGrain is { } grain ? Planner.Bounds(Scope, grain) : null;
            Colours = Index is null ? null : MemberColours.Question(Plan!)?.Query;
        }

        public Tile Follower { get; }

        public IReadOnlyList<FieldAt> Fields { get; }

        public Scope Scope { get; }

        public TileFilters Filters { get; }

        public BrushIndex? Index { get; }

        public string? Refusal { get; }

        public Query? Bounds { get; }

        /// <summary>The follower's own plan; null if there can be none.</summary>
        public TilePlan? Plan { get; }

        /// <summary>The question for the members that colour tells apart.</summary>
        public Query? Colours { get; }

        public IEnumerable<Query> Questions => new[] { Index?.Cells, Bounds, Colours }.OfType<Query>();
    }

    private static BrushLine Refused(Tile follower, string reason) => new(follower.Name, "asks", reason, null);

    private static async Task<BrushLine> Line(
        OpenDashboard open,
        Tile driver,
        Planned planned,
        RefreshWave wave,
        ILogger log,
        CancellationToken cancellation
    )
    {
        var follower = planned.Follower;
        if (planned.Index is not { } index)
            return Refused(follower, planned.Refusal!);
        try
        {
            var reading = new Reading();
            var ask = wave.For(reading);
            var bounds = planned.Bounds is null ? null : ask(planned.Bounds, cancellation);
            var cells = await ask(index.Cells, cancellation);
            if (cells.Lines > BrushIndex.MostCells)
                return Refused(
                    follower,
                    $"it would take {cells.Lines.ToString("N0", CultureInfo.InvariantCulture)} cells, more than "
                        + $"{BrushIndex.MostCells.ToString("N0", CultureInfo.InvariantCulture)}"
                );
            var parts = index.Parts.Select((p, i) => Part(p, cells.Table.Values[index.Cells.Groups.Count + i])).ToList();
            if (parts.Contains(null))
                return Refused(follower, "its sums are larger than a page can add exactly");
            // Of the names and colours of members those that stand in the cells: others may be none of the viewer's.
            var told = planned.Colours is null
                ? cells.Table
                : MemberColours.With(planned.Plan!, cells.Table, index.DriverFields, await ask(planned.Colours, cancellation));
            var reach = bounds is null
                ? null
                : index.Reach((await bounds).Table, planned.Filters, planned.Scope, open.Live.Workspace.WeekStart);
            var cube = Cube(planned, index, cells.Table, parts!, TableInfo.Of(told).Columns) with
            {
                Reach = reach is null
                    ? null
                    : [.. reach.Select(r => new[] { (string)JsonValues.Of(r.From)!, (string)JsonValues.Of(r.To)! })],
                DriverIsSpan = IsSpan(driver, planned, index),
                ReadAt = reading.ReadAt ?? DateTimeOffset.UtcNow,
            };
            return new BrushLine(follower.Name, "ready", null, cube);
        }
        catch (Exception e) when (!cancellation.IsCancellationRequested)
        {
            // The page asks for this tile as before, and is told there what is wrong.
            log.LogWarning(
                e as Engines.SourceException is null ? e : null,
                "No brush index of {Driver} for {Tile}: {Reason}",
                driver.Name,
                follower.Name,
                e.Message
            );
            return Refused(follower, "its index could not be read");
        }
    }

    /// <summary>The cells as they travel, without what the time has to do with.</summary>
    /// <param name="told">The columns of the cells with names and colours.</param>
    private static BrushCube Cube(
        Planned planned,
        BrushIndex index,
        Table cells,
        IReadOnlyList<BrushPart> parts,
        IReadOnlyList<ColumnInfo> told
    )
    {
        OrderKey KeyOf(int axis) =>
            axis < index.DriverFields ? new OrderKey(0, false) : index.Answer.Order.First(k => k.Column == axis - index.DriverFields);
        var axes = index.Cells.Groups.Select((output, i) => Axis(output, cells.Values[i], ByName(cells.Columns[i], KeyOf(i)))).ToList();
        return new BrushCube(
            index.DriverFields,
            [.. axes.Select(a => a.Axis)],
            [.. axes.Select(a => a.Cells)],
            parts,
            [.. index.Figures.Select(f => f.Select(s => new BrushStep(s.Do, s.Part, s.Takes, s.Value, s.Kind.Name())).ToList())],
            index.Answer.ByMember is { } byMember ? new BrushMemberOrder(byMember.Figure, byMember.Descending) : null,
            [.. index.Answer.Order.Select(k => new BrushOrder(k.Column, k.Descending))],
            index.Answer.Top is { } top ? new BrushTop(top.Count, top.Rest, Ranks([.. axes[index.DriverFields].Raw])) : null,
            planned.Plan!.Tile.Totals && index.Answer.Figures.Count > 0,
            index.Answer.Limit,
            [.. index.Answer.Columns.Select((c, i) => i < index.Answer.Groups.Count ? told[index.DriverFields + i] : ColumnInfo.Of(c))],
            planned.Scope.Restricted,
            Reach: null,
            DriverIsSpan: false,
            index.PeriodsArePairs ? index.PeriodGrain!.Of.ToString().ToLowerInvariant() : null,
            ReadAt: default
        );
    }

    /// <summary>True if what is picked on the driving tile bounds the follower's periods.</summary>
    private static bool IsSpan(Tile driver, Planned planned, BrushIndex index) =>
        index.PeriodGrain is { } grain
        && Periods.AreOf(
            grain,
            new AppliedFilter(
                new Selection(driver.Name, [], null) { Range = new PickedRange(null, null), Each = driver.Repeats ? [] : null },
                planned.Fields,
                Bound.True
            ),
            planned.Scope
        );

    /// <summary>Keys stand in the order of the names that came with them; all others have their order already.</summary>
    private static OrderKey ByName(Column column, OrderKey key) =>
        key.Members is not null || column.Names is not { } names
            ? key
            : key with
            {
                Members =
                [
                    .. names.OrderBy(n => n.Value, StringComparer.Ordinal).Select(n => Values.Parse(n.Key, column.Kind)).OfType<object>(),
                ],
            };

    /// <summary>The members of a grouping in order with the instants between which each lies, and each cell's place among them.</summary>
    private static (BrushAxis Axis, IReadOnlyList<object?> Raw, int[] Cells) Axis(Output output, object?[] values, OrderKey order)
    {
        var missing = new object();
        var members = BrushIndex.Ordered(values.Distinct(), order);
        var places = members.Select((m, i) => (Member: m ?? missing, i)).ToDictionary(m => m.Member, m => m.i);
        IReadOnlyList<string?[]>? spans = null;
        var length =
            output.Formula is Bound.Grain grain ? grain.Of
            : output.Formula.Kind == ValueKind.Date ? DateGrain.Day
            : (DateGrain?)null;
        if (length is { } period)
            spans =
            [
                .. members.Select(m =>
                    m is null
                        ? [null, null]
                        : new[]
                        {
                            (string?)JsonValues.Of(Periods.Instant(m)),
                            (string?)JsonValues.Of(Core.Expressions.Calendar.Add(Periods.Instant(m), period, 1)),
                        }
                ),
            ];
        else if (output.Formula.Kind == ValueKind.Timestamp)
            spans = [.. members.Select(m => new[] { m is null ? null : (string?)JsonValues.Of(m), null })];
        return (
            new BrushAxis([.. members.Select(JsonValues.Of)], spans, output.Column.At),
            members,
            [.. values.Select(v => places[v ?? missing])]
        );
    }

    /// <summary>The place of each member by name, which breaks ties of a top N.</summary>
    private static int[] Ranks(IReadOnlyList<object?> members)
    {
        var byName = BrushIndex
            .Ordered(members, new OrderKey(0, false))
            .Select((m, i) => (Member: m ?? (object)DBNull.Value, i))
            .ToDictionary(m => m.Member, m => m.i);
        return [.. members.Select(m => byName[m ?? DBNull.Value])];
    }

    /// <summary>A column of parts: exact numbers as whole ones and a scale of ten; null if their sum is too large to be exact.</summary>
    private static BrushPart? Part(Bound.Aggregate aggregate, object?[] values)
    {
        var adds = aggregate.Function is AggregateFunction.Sum or AggregateFunction.Count or AggregateFunction.CountRows;
        var name =
            adds ? "sum"
            : aggregate.Function == AggregateFunction.Minimum ? "minimum"
            : "maximum";
        if (aggregate.Kind is not (ValueKind.Integer or ValueKind.Decimal))
            return new BrushPart(
                name,
                aggregate.Function is AggregateFunction.Count or AggregateFunction.CountRows,
                null,
                [.. values.Select(JsonValues.Of)]
            );
        var numbers = values.Select(v => v is null ? (decimal?)null : Convert.ToDecimal(v, CultureInfo.InvariantCulture)).ToList();
        var scale = numbers.Max(n => n is { } d ? Normal(d).Scale : 0);
        var factor = (decimal)Math.Pow(10, Math.Min(scale, 15));
        if (
            scale > 15
            || numbers.Any(n => n is { } d && Math.Abs(d) > Exact / factor)
            || numbers.Sum(n => Math.Abs(n ?? 0)) > Exact / factor
        )
            return null;
        return new BrushPart(
            name,
            aggregate.Function is AggregateFunction.Count or AggregateFunction.CountRows,
            scale,
            [.. numbers.Select(n => n is { } d ? (object)(long)(d * factor) : null)]
        );
    }

    /// <summary>Without zeros at its end.</summary>
    private static decimal Normal(decimal number) => number / 1.000000000000000000000000000000000m;
}

/// <summary>A question for the brush index of a tile.</summary>
/// <param name="Tiles">The followers; all that are not hidden if left out.</param>
public sealed record BrushRequest(
    IReadOnlyList<string>? Tiles,
    Dictionary<string, JsonElement>? Selections,
    ViewingRequest? Viewing = null
);

/// <summary>One line of the stream: the cells of a follower, or why it is asked for as before.</summary>
/// <param name="State">ready or asks.</param>
public sealed record BrushLine(string Tile, string State, string? Reason, BrushCube? Cube);

/// <summary>The members of a field.</summary>
/// <param name="Spans">For dates: from which instant, included, to which, excluded, each lies.</param>
/// <param name="At">The grain of a date.</param>
public sealed record BrushAxis(IReadOnlyList<object?> Members, IReadOnlyList<string?[]>? Spans, string? At);

/// <summary>A column of parts.</summary>
/// <param name="Fold">sum, minimum or maximum.</param>
/// <param name="Counts">True for counts: no cells make 0; of all others no cells make a missing value.</param>
/// <param name="Scale">Values are divided by ten to this power; null for floating-point numbers and dates, which are as they are.</param>
public sealed record BrushPart(string Fold, bool Counts, int? Scale, IReadOnlyList<object?> Values);

/// <summary>A step of a figure's formula in postfix order: part, average, value, or an operation over the last that were pushed.</summary>
public sealed record BrushStep(string Do, int Part, int Takes, object? Value, string Kind);

/// <summary>A key of the order of lines: a column of the result.</summary>
public sealed record BrushOrder(int Column, bool Descending);

/// <summary>The order of members by a figure over all lines of each.</summary>
public sealed record BrushMemberOrder(int Figure, bool Descending);

/// <summary>Only the leading members of the first group.</summary>
/// <param name="Ranks">The place by name of each member of the first group, for ties.</param>
public sealed record BrushTop(int Count, bool Rest, IReadOnlyList<int> Ranks);

/// <summary>Cells of the driving tile's members by the follower's, under all other filters and the viewer's right.</summary>
/// <param name="DriverFields">How many of the axes are the driving tile's fields.</param>
/// <param name="Cells">For each axis the member of each cell, by its place.</param>
/// <param name="Figures">The steps of each figure.</param>
/// <param name="Reach">The spans from when to when the data and the other filters reach, for marking periods that are not whole; null if it
/// does not matter.</param>
/// <param name="ByMember">The order of the first group's members, before that of lines; null if lines are in order by themselves.</param>
/// <param name="PairsAre">month or quarter where the first two groups name a period together, a part of the year and a year; else null.</param>
/// <param name="DriverIsSpan">True if what is picked on the driving tile bounds the follower's first periods.</param>
public sealed record BrushCube(
    int DriverFields,
    IReadOnlyList<BrushAxis> Axes,
    IReadOnlyList<int[]> Cells,
    IReadOnlyList<BrushPart> Parts,
    IReadOnlyList<IReadOnlyList<BrushStep>> Figures,
    BrushMemberOrder? ByMember,
    IReadOnlyList<BrushOrder> Order,
    BrushTop? Top,
    bool Totals,
    int Limit,
    IReadOnlyList<ColumnInfo> Columns,
    bool Restricted,
    IReadOnlyList<string[]>? Reach,
    bool DriverIsSpan,
    string? PairsAre,
    DateTimeOffset ReadAt
);
