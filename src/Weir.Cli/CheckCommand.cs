using System.CommandLine;
using System.Text.Json;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Engines;
using Weir.Service;

namespace Weir.Cli;

/// <summary>weir check: are the definitions right? With --connect also against the sources.</summary>
internal static class CheckCommand
{
    public static Command Create()
    {
        var folder = new Argument<string>("DIR") { Description = "The folder of definitions.", DefaultValueFactory = _ => "." };
        var connect = new Option<bool>("--connect") { Description = "Also ask every tile's question and run every access check at the source." };
        var files = new Option<string>("--files") { Description = "The folder in which the files of sources lie.", DefaultValueFactory = _ => Path.Combine(".demo", "files") };
        var secrets = new Option<string>("--secrets") { Description = "The folder in which secret files and certificates lie.", DefaultValueFactory = _ => Path.Combine(".demo", "secrets") };
        var format = Formats.Option("text", "json");
        var command = new Command("check", "Check definitions; every fault with file, line and column.") { folder, connect, files, secrets, format };
        command.SetAction(async (parsed, cancellation) =>
        {
            var dir = parsed.GetValue(folder)!;
            if (!Directory.Exists(dir))
                throw new Refusal($"There is no folder {dir}.", exitCode: ExitCode.Usage);
            var (workspace, faults) = WorkspaceText.Read(WorkspaceFolder.Read(dir));
            List<Fault> all = [.. faults];
            var asked = 0;
            if (workspace is not null && parsed.GetValue(connect))
            {
                (var found, asked) = await Connect(workspace, new EngineFolders(Path.GetFullPath(parsed.GetValue(files)!), Path.GetFullPath(parsed.GetValue(secrets)!), Path.Combine(Path.GetTempPath(), "weir-check")) { Worker = EngineFolders.WorkerBeside() }, cancellation);
                all.AddRange(found);
            }
            Print(all, workspace, parsed.GetValue(connect) ? asked : null, parsed.GetValue(format) == "json");
            return all.Any(f => f.Severity == Severity.Error) ? ExitCode.No : ExitCode.Yes;
        });
        return command;
    }

    private static void Print(List<Fault> faults, Workspace? workspace, int? tilesAsked, bool json)
    {
        if (json)
        {
            Console.WriteLine(JsonSerializer.Serialize(faults.Select(f => new FaultInfo(f.Severity.ToString().ToLowerInvariant(), f.Code, f.File, f.Line, f.Column, f.Message, f.Remedy)), Client.Json));
            return;
        }
        // What is only unused comes last and by count, so that it hides nothing.
        foreach (var fault in faults.Where(f => f.Code != "unused-definition"))
            Console.WriteLine(fault);
        foreach (var unused in faults.Where(f => f.Code == "unused-definition").GroupBy(f => f.File))
            Console.WriteLine(unused.Count() == 1 ? unused.Single().ToString() : $"{unused.Key}: warning unused-definition: {unused.Count()} definitions are used by nothing, at the lines {string.Join(", ", unused.Select(f => f.Line).Take(12))}{(unused.Count() > 12 ? " and others" : "")}.");
        var errors = faults.Count(f => f.Severity == Severity.Error);
        var warnings = faults.Count - errors;
        var counts = workspace is null ? "" : $"{Count(workspace.Datasets.Count, "dataset")}, {Count(workspace.Dashboards.Count, "dashboard")}, {Count(workspace.Access.Roles.Count, "role")}. ";
        var asked = tilesAsked is { } n && workspace is not null ? $"{Count(n, "tile")} asked, {Count(workspace.Access.Checks.Count, "access check")} run. " : "";
        Console.WriteLine($"{counts}{asked}{(errors == 0 ? "No errors" : errors == 1 ? "1 error" : $"{errors} errors")}{(warnings == 0 ? "" : warnings == 1 ? ", 1 warning" : $", {warnings} warnings")}.");
    }

    private static string Count(int n, string noun) => $"{n} {noun}{(n == 1 ? "" : "s")}";

    /// <summary>Asks as a viewer of a made-up role that reads everything, so that each tile's SQL is tried whole.</summary>
    private static async Task<(List<Fault> Faults, int TilesAsked)> Connect(Workspace workspace, EngineFolders folders, CancellationToken cancellation)
    {
        var faults = new List<Fault>();
        var everything = new Role("everything", "Everything", workspace.Datasets.Keys.ToDictionary(d => d, _ => new Grant(null, null, new HashSet<string>())), new HashSet<string>());
        var open = workspace with { Access = workspace.Access with { Roles = new Dictionary<string, Role> { ["everything"] = everything } } };
        var reader = new Viewer("check", "Check", ["everything"], new Dictionary<string, IReadOnlyList<string>>());
        var sources = new Dictionary<string, IEngineSource>();
        (IEngineSource, SqlDialect) Source(string name)
        {
            var source = workspace.Sources[name];
            if (!sources.TryGetValue(name, out var found))
                sources[name] = found = Engines.Workers.GuardedSource.Open(source, folders);
            return (found, Engines.Engines.ByName(source.Engine).Dialect(workspace.WeekStart));
        }
        var planner = new Planner(workspace.WeekStart, workspace.Money);
        var inputs = Inputs.At(TimeZoneInfo.ConvertTime(DateTimeOffset.UtcNow, TimeZoneInfo.FindSystemTimeZoneById(workspace.TimeZone)).DateTime);
        // Columns first: what is missing or of another type is told at the field, and not once more by every tile that uses it.
        var unsound = new HashSet<string>();
        var asked = 0;
        foreach (var dataset in workspace.Datasets.Values)
            await Try(faults, $"datasets/{dataset.Name}.yaml", 1, async () =>
            {
                unsound.Add(dataset.Name);
                var scope = Scope.For(reader, dataset.Name, open, inputs)!;
                var (source, dialect) = Source(scope.Source);
                var found = await ColumnChecks.Of(dataset, scope, source, dialect, cancellation);
                faults.AddRange(found.Select(f => new Fault(f.Severity, f.Code, $"datasets/{dataset.Name}.yaml", f.Line, 1, f.Message, f.Remedy)));
                if (found.All(f => f.Severity == Severity.Warning))
                    unsound.Remove(dataset.Name);
                return null;
            }, $"The dataset {dataset.Name}");
        foreach (var dashboard in workspace.Dashboards.Values)
            foreach (var tile in dashboard.Tiles.SelectMany(t => t.Every).Where(t => t.Dataset is not null && !unsound.Contains(t.Dataset)))
            {
                asked++;
                await Try(faults, $"dashboards/{dashboard.Name}.yaml", tile.Line, async () =>
                {
                    var scope = Scope.For(reader, tile.Dataset!, open, inputs)!;
                    var (source, dialect) = Source(scope.Source);
                    await planner.Plan(tile, scope, TileFilters.None, 10).Run((q, c) => source.Ask(q, dialect, c), cancellation);
                    return null;
                }, $"The tile {tile.Name}{(tile.Variants.Count == 0 && tile.Uses.Count > 0 ? $" ({string.Join(", ", tile.Show.Concat(tile.Groups.Select(g => g.ToString())))})" : "")}");
            }
        foreach (var dataset in workspace.Datasets.Values.Where(d => !unsound.Contains(d.Name)))
            await Try(faults, $"datasets/{dataset.Name}.yaml", 1, async () =>
            {
                var scope = Scope.For(reader, dataset.Name, open, inputs)!;
                var (source, dialect) = Source(scope.Source);
                Warn(faults, dataset, await DatasetReport.Make(dataset, scope, source, dialect, (q, c) => source.Ask(q, dialect, c), cancellation));
                return null;
            }, $"The dataset {dataset.Name}");
        foreach (var (name, source) in sources)
            await Try(faults, $"sources/{name}.yaml", 1, async () =>
            {
                if (await source.MayWrite(cancellation) is true)
                    faults.Add(new Fault(Severity.Warning, "may-write", $"sources/{name}.yaml", 1, 1, $"The login of {name} may write. It is used for reading only all the same.", "Give Weir a login that may only read."));
                foreach (var unfit in await source.Unfit(cancellation))
                    faults.Add(new Fault(Severity.Warning, "unfit-values", $"sources/{name}.yaml", 1, 1, $"{unfit.Table}.{unfit.Column}: {unfit.Count:N0} values do not fit {unfit.Type}: {string.Join("; ", unfit.Examples)}", "Mend the file, or read the column as text."));
                return null;
            }, $"The source {name}");
        foreach (var check in workspace.Access.Checks)
        {
            var before = faults.Count;
            await Try(faults, check.File, check.Line, async () =>
            {
                var viewer = new Viewer("check", "Check", check.Roles, check.Attributes);
                if (Scope.For(viewer, check.Dataset, workspace, inputs) is not { } scope)
                    return null; // sees nothing at all, so nothing beyond the condition
                var (source, dialect) = Source(scope.Source);
                var outside = new Bound.Op(Operation.Not, ValueKind.Boolean, new Bound.Op(Operation.Coalesce, ValueKind.Boolean, check.Only, Bound.False));
                var count = new Output(new Bound.Aggregate(AggregateFunction.CountRows, null, null, ValueKind.Integer), new Core.Results.Column("rows", "Rows", Core.Results.ColumnRole.Figure, ValueKind.Integer, null, null));
                var answer = await source.Ask(new Query(scope, [outside], [], [count], null, [], 1), dialect, cancellation);
                var rows = (long)answer.Table.Values[0][0]!;
                return rows == 0 ? null : $"{string.Join(" and ", check.Roles)} gets {rows:N0} rows of {check.Dataset} that do not meet {check.OnlyText}.";
            }, $"The access check of {check.Dataset}");
            // It may well hold apart from the column that is missing; where it can't be run for that, the column is what is told.
            if (unsound.Contains(check.Dataset) && faults.Count > before && faults[^1].Code == "query-failed")
                faults.RemoveAt(faults.Count - 1);
        }
        foreach (var source in sources.Values)
            await source.DisposeAsync();
        return (faults, asked);
    }

    private static void Warn(List<Fault> faults, Dataset dataset, DatasetReport report)
    {
        var file = $"datasets/{dataset.Name}.yaml";
        foreach (var join in report.Joins)
            faults.Add(new Fault(Severity.Error, "join-multiplies", file, 1, 1, $"The join of {join.Table} multiplies rows: the key is not unique there. Keys in several rows: {string.Join("; ", join.Keys)}.", "Join by a unique key, or make a dataset of the other table."));
        foreach (var field in report.Fields)
        {
            if (field.Unfit is > 0)
                faults.Add(new Fault(Severity.Warning, "unfit-values", file, 1, 1, $"{field.Unfit:N0} of {report.Rows:N0} values of {field.Field} do not fit its type.", "Mend the data, or change type or unfit."));
            if (field.Unmatched is > 0)
                faults.Add(new Fault(Severity.Warning, "unmatched-codes", file, 1, 1, $"{field.Unmatched:N0} values of {field.Field} have no name: {string.Join(", ", field.Codes)}.", "Add them to names."));
        }
    }

    private static async Task Try(List<Fault> faults, string file, int line, Func<Task<string?>> act, string what)
    {
        try
        {
            if (await act() is { } leak)
                faults.Add(new Fault(Severity.Error, "access-check", file, line, 1, leak, "Mend the rule in access.yaml."));
        }
        catch (SourceException e)
        {
            var cause = e.InnerException is { } inner ? $" {inner.Message.Split('\n', 2)[0]}" : "";
            faults.Add(new Fault(Severity.Error, e.Code, file, line, 1, $"{what}: {e.Message}{cause}", e.Code == "query-failed" ? "Check that tables and columns match the dataset." : e.Remedy));
        }
    }
}
