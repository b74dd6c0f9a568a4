using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Results;
using Weir.Core.Sql;

namespace Weir.Engines;

/// <summary>
/// Holds a checked workspace against its sources: columns and types, every tile's questions, the quality of values, the rights of
/// logins, and every access check.
/// </summary>
/// <param name="now">The time of viewing in the workspace's zone, for relative periods.</param>
public sealed class ConnectedCheck(Workspace workspace, EngineFolders folders, DateTime now) : IAsyncDisposable
{
    // Asked as a viewer of a made-up role that reads everything, so that each tile's SQL is tried whole.
    private static readonly Viewer Reader = new("check", "Check", ["everything"], new Dictionary<string, IReadOnlyList<string>>());

    private readonly Workspace _open = workspace with
    {
        Access = workspace.Access with
        {
            Roles = new Dictionary<string, Role>
            {
                ["everything"] = new(
                    "everything",
                    "Everything",
                    workspace.Datasets.Keys.ToDictionary(d => d, _ => new Grant(null, null, new HashSet<string>())),
                    new HashSet<string>()
                ),
            },
        },
    };

    private readonly Planner _planner = new(workspace.WeekStart, workspace.Money);
    private readonly Viewing _viewing = Viewing.At(now);
    private readonly Dictionary<string, IEngineSource> _sources = [];
    private readonly List<Fault> _faults = [];

    /// <summary>What was found so far.</summary>
    public IReadOnlyList<Fault> Found => _faults;

    // Datasets of which a column is missing or of another type: what uses them is not told once more.
    private readonly HashSet<string> _unsound = [];

    /// <summary>The datasets whose columns, values and access checks are looked at; null for all.</summary>
    public IReadOnlySet<string>? Datasets { get; init; }

    /// <summary>Which tiles are asked; null for all.</summary>
    public Func<Dashboard, Tile, bool>? Asks { get; init; }

    /// <summary>What a source of a name is asked through, such as what keeps its pace; null for nothing.</summary>
    public Func<string, IEngineSource, IEngineSource>? Through { get; init; }

    private IEnumerable<Dataset> Meant => workspace.Datasets.Values.Where(d => Datasets?.Contains(d.Name) != false);

    /// <summary>How many tiles were asked, each for every choice of its drawing.</summary>
    public int TilesAsked { get; private set; }

    /// <summary>Runs every check; to be called once.</summary>
    /// <returns>What was found, each with its file and line.</returns>
    /// <exception cref="OperationCanceledException">It took too long; <see cref="Found"/> has what was found until then.</exception>
    public async Task<IReadOnlyList<Fault>> Run(CancellationToken cancellation)
    {
        // Columns first: what is missing or of another type is told at the field, and not once more by every tile that uses it.
        await Columns(cancellation);
        await Tiles(cancellation);
        await Quality(cancellation);
        await Logins(cancellation);
        await AccessChecks(cancellation);
        return _faults;
    }

    private (IEngineSource, SqlDialect) Source(string name)
    {
        var source = workspace.Sources[name];
        if (!_sources.TryGetValue(name, out var found))
        {
            var opened = Workers.GuardedSource.Open(source, folders);
            _sources[name] = found = Through?.Invoke(name, opened) ?? opened;
        }
        return (found, Engines.ByName(source.Engine).Dialect(workspace.WeekStart));
    }

    private async Task Columns(CancellationToken cancellation)
    {
        foreach (var dataset in Meant)
            await Try(
                $"datasets/{dataset.Name}.yaml",
                1,
                async () =>
                {
                    _unsound.Add(dataset.Name);
                    var scope = Scope.For(Reader, dataset.Name, _open, _viewing)!;
                    var (source, dialect) = Source(scope.Source);
                    var found = await ColumnChecks.Of(dataset, scope, source, dialect, cancellation);
                    _faults.AddRange(
                        found.Select(f => new Fault(f.Severity, f.Code, $"datasets/{dataset.Name}.yaml", f.Line, 1, f.Message, f.Remedy))
                    );
                    if (found.All(f => f.Severity == Severity.Warning))
                        _unsound.Remove(dataset.Name);
                    return null;
                },
                $"The dataset {dataset.Name}"
            );
    }

    private async Task Tiles(CancellationToken cancellation)
    {
        foreach (var dashboard in workspace.Dashboards.Values)
        foreach (
            var tile in dashboard
                .Tiles.Where(t => Asks?.Invoke(dashboard, t) != false)
                .SelectMany(t => t.Every)
                .Where(t => t.Dataset is not null && !_unsound.Contains(t.Dataset))
        )
        {
            TilesAsked++;
            var variant =
                tile.Variants.Count == 0 && tile.Uses.Count > 0
                    ? $" ({string.Join(", ", tile.Show.Concat(tile.Groups.Select(g => g.ToString())))})"
                    : "";
            await Try(
                $"dashboards/{dashboard.Name}.yaml",
                tile.Line,
                async () =>
                {
                    var scope = Scope.For(Reader, tile.Dataset!, _open, _viewing)!;
                    var (source, dialect) = Source(scope.Source);
                    await _planner.Plan(tile, scope, TileFilters.None, 10).Run((q, c) => source.Ask(q, dialect, c), cancellation);
                    return null;
                },
                $"The tile {tile.Name}{variant}"
            );
        }
    }

    private async Task Quality(CancellationToken cancellation)
    {
        foreach (var dataset in Meant.Where(d => !_unsound.Contains(d.Name)))
            await Try(
                $"datasets/{dataset.Name}.yaml",
                1,
                async () =>
                {
                    var scope = Scope.For(Reader, dataset.Name, _open, _viewing)!;
                    var (source, dialect) = Source(scope.Source);
                    Warn(
                        dataset,
                        await DatasetReport.Make(dataset, scope, source, dialect, (q, c) => source.Ask(q, dialect, c), cancellation)
                    );
                    return null;
                },
                $"The dataset {dataset.Name}"
            );
    }

    private async Task Logins(CancellationToken cancellation)
    {
        foreach (var (name, source) in _sources)
            await Try(
                $"sources/{name}.yaml",
                1,
                async () =>
                {
                    if (await source.MayWrite(cancellation) is true)
                        _faults.Add(
                            new Fault(
                                Severity.Warning,
                                "may-write",
                                $"sources/{name}.yaml",
                                1,
                                1,
                                $"The login of {name} may write. It is used for reading only all the same.",
                                "Give Weir a login that may only read."
                            )
                        );
                    foreach (var unfit in await source.Unfit(cancellation))
                        _faults.Add(
                            new Fault(
                                Severity.Warning,
                                "unfit-values",
                                $"sources/{name}.yaml",
                                1,
                                1,
                                $"{unfit.Table}.{unfit.Column}: {unfit.Count:N0} values do not fit {unfit.Type}: {string.Join("; ", unfit.Examples)}",
                                "Mend the file, or read the column as text."
                            )
                        );
                    return null;
                },
                $"The source {name}"
            );
    }

    private async Task AccessChecks(CancellationToken cancellation)
    {
        foreach (var check in workspace.Access.Checks.Where(c => Datasets?.Contains(c.Dataset) != false))
        {
            var before = _faults.Count;
            await Try(
                check.File,
                check.Line,
                async () =>
                {
                    var viewer = new Viewer("check", "Check", check.Roles, check.Attributes);
                    if (Scope.For(viewer, check.Dataset, workspace, _viewing) is not { } scope)
                        return null; // sees nothing at all, so nothing beyond the condition
                    var (source, dialect) = Source(scope.Source);
                    var outside = new Bound.Op(
                        Operation.Not,
                        ValueKind.Boolean,
                        new Bound.Op(Operation.Coalesce, ValueKind.Boolean, check.Only, Bound.False)
                    );
                    var count = new Output(
                        new Bound.Aggregate(AggregateFunction.CountRows, null, null, ValueKind.Integer),
                        new Column("rows", "Rows", ColumnRole.Figure, ValueKind.Integer, null, null)
                    );
                    var answer = await source.Ask(new Query(scope, [outside], [], [count], null, [], 1), dialect, cancellation);
                    var rows = (long)answer.Table.Values[0][0]!;
                    return rows == 0
                        ? null
                        : $"{string.Join(" and ", check.Roles)} gets {rows:N0} rows of {check.Dataset} that do not meet {check.OnlyText}.";
                },
                $"The access check of {check.Dataset}"
            );
            // It may well hold apart from the column that is missing; where it can't be run for that, the column is what is told.
            if (_unsound.Contains(check.Dataset) && _faults.Count > before && _faults[^1].Code == "query-failed")
                _faults.RemoveAt(_faults.Count - 1);
        }
    }

    private void Warn(Dataset dataset, DatasetReport report)
    {
        var file = $"datasets/{dataset.Name}.yaml";
        foreach (var join in report.Joins)
            _faults.Add(
                new Fault(
                    Severity.Error,
                    "join-multiplies",
                    file,
                    1,
                    1,
                    $"The join of {join.Table} multiplies rows: the key is not unique there. Keys in several rows: {string.Join("; ", join.Keys)}.",
                    "Join by a unique key, or make a dataset of the other table."
                )
            );
        foreach (var field in report.Fields)
        {
            if (field.Unfit is > 0)
                _faults.Add(
                    new Fault(
                        Severity.Warning,
                        "unfit-values",
                        file,
                        1,
                        1,
                        $"{field.Unfit:N0} of {report.Rows:N0} values of {field.Field} do not fit its type.",
                        "Mend the data, or change type or unfit."
                    )
                );
            if (field.Unmatched is > 0)
                _faults.Add(
                    new Fault(
                        Severity.Warning,
                        "unmatched-codes",
                        file,
                        1,
                        1,
                        $"{field.Unmatched:N0} values of {field.Field} have no name: {string.Join(", ", field.Codes)}.",
                        "Add them to names."
                    )
                );
        }
    }

    private async Task Try(string file, int line, Func<Task<string?>> act, string what)
    {
        try
        {
            if (await act() is { } leak)
                _faults.Add(new Fault(Severity.Error, "access-check", file, line, 1, leak, "Mend the rule in access.yaml."));
        }
        catch (SourceException e)
        {
            var cause = e.InnerException is { } inner ? $" {inner.Message.Split('\n', 2)[0]}" : "";
            _faults.Add(
                new Fault(
                    Severity.Error,
                    e.Code,
                    file,
                    line,
                    1,
                    $"{what}: {e.Message}{cause}",
                    e.Code == "query-failed" ? "Check that tables and columns match the dataset." : e.Remedy
                )
            );
        }
    }

    /// <summary>Closes the sources that were asked.</summary>
    public async ValueTask DisposeAsync()
    {
        foreach (var source in _sources.Values)
            await source.DisposeAsync();
    }
}
