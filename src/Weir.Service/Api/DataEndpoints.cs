using Microsoft.AspNetCore.Mvc;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Sql;
using Weir.Engines;
using Weir.Service.Answers;
using Weir.Service.Asking;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Service.Api;

/// <summary>Sources and datasets: looking into them while defining, and the field dictionary for readers.</summary>
internal static class DataEndpoints
{
    private const int MostRows = 500;
    private const int LongestFormula = 10_000;

    /// <summary>Larger than any file that is read, in bytes.</summary>
    private const int LargestDraft = 2 * 1024 * 1024;

    public static void MapData(this RouteGroupBuilder api)
    {
        api.MapGet(
                "/datasets",
                (HttpContext context, PublishedWorkspace published) => Dictionary(context.Viewer(), published.Now.Workspace)
            )
            .WithName("listDatasets")
            .WithSummary("The datasets that the viewer may read, with what each field and measure means.");

        api.MapSources();
        api.MapDatasetDrafts();
        api.MapPut("/definitions/file", PublishFile)
            .WithName("publishFile")
            .WithSummary("Publish one file beside the others; nothing changes if the whole would be broken.")
            .WithMetadata(new RequestSizeLimitAttribute(LargestDraft));
    }

    /// <summary>Looking into sources and their tables.</summary>
    private static void MapSources(this RouteGroupBuilder api)
    {
        api.MapGet(
                "/sources",
                (HttpContext context, PublishedWorkspace published, Store.Audit audit) =>
                {
                    MayDefine(context, published, audit);
                    return published.Now.Workspace.Sources.Values.OrderBy(s => s.Name, StringComparer.Ordinal).Select(Describe);
                }
            )
            .WithName("listSources")
            .WithSummary("The sources, without their secrets.");

        api.MapPost(
                "/sources/{source}/test",
                async (string source, HttpContext context, PublishedWorkspace published, Store.Audit audit, EngineFolders folders) =>
                {
                    MayDefine(context, published, audit);
                    return await Test(Find(published, source), published, folders, context.RequestAborted);
                }
            )
            .WithName("testSource")
            .WithSummary("Tests a source step by step: name, port, encryption, login, reading, rights.")
            .WithMetadata(new OnlyReads());

        api.MapPost(
                "/sources/test",
                async (DraftRequest draft, HttpContext context, PublishedWorkspace published, Store.Audit audit, EngineFolders folders) =>
                {
                    MayDefine(context, published, audit);
                    var (source, faults) = WorkspaceReader.ReadSourceDraft(draft.Text ?? "");
                    return new SourceTestAnswer(
                        [.. faults.Select(FaultInfo.Of)],
                        source is null ? [] : await Test(source, published, folders, context.RequestAborted)
                    );
                }
            )
            .WithName("testSourceDraft")
            .WithSummary("Tests a source that is being defined.")
            .WithMetadata(new OnlyReads());

        api.MapGet(
                "/sources/{source}/tables",
                async (string source, HttpContext context, PublishedWorkspace published, Store.Audit audit) =>
                {
                    MayDefine(context, published, audit);
                    _ = Find(published, source);
                    return await published.Now.Source(source).Engine.Tables(context.RequestAborted);
                }
            )
            .WithName("listTables")
            .WithSummary("The tables and views of a source.");

        api.MapGet("/sources/{source}/tables/{table}", Table).WithName("getTable").WithSummary("A table with its columns and keys.");

        api.MapPost("/sources/{source}/tables/{table}/rows", Rows)
            .WithName("sampleRows")
            .WithSummary("Some rows of a table.")
            .WithMetadata(new OnlyReads());
    }

    /// <summary>What is known of a table of a source; refused if there is no such source or table.</summary>
    private static async Task<CatalogDetail> Detail(
        string source,
        string? schema,
        string table,
        PublishedWorkspace published,
        CancellationToken cancellation
    )
    {
        _ = Find(published, source);
        return await published.Now.Source(source).Engine.Table(schema, table, cancellation) ?? throw UnknownTable(table);
    }

    private static async Task<TableDetail> Table(
        string source,
        string table,
        string? schema,
        HttpContext context,
        PublishedWorkspace published,
        Store.Audit audit
    )
    {
        MayDefine(context, published, audit);
        var detail = await Detail(source, schema, table, published, context.RequestAborted);
        return new TableDetail(
            detail.Table,
            [.. detail.Columns.Select(c => new TableColumn(c.Name, c.Type, c.Kind.Name(), c.Nullable, c.Key))],
            [.. detail.References.Select(r => new TableReference(r.Column, r.Schema, r.Table, r.OtherColumn))]
        );
    }

    private static async Task<TableInfo> Rows(
        string source,
        string table,
        string? schema,
        HttpContext context,
        PublishedWorkspace published,
        Store.Audit audit,
        DataVersions versions,
        TimeProvider clock
    )
    {
        MayDefine(context, published, audit);
        var detail = await Detail(source, schema, table, published, context.RequestAborted);
        audit.Write(context.Viewer(), "sample", $"{source} {table}");
        return await Sample(context.Viewer(), published.Now, source, detail, versions, clock, context.RequestAborted);
    }

    /// <summary>A dataset while it is being defined.</summary>
    private static void MapDatasetDrafts(this RouteGroupBuilder api)
    {
        api.MapPost("/datasets/columns", Columns)
            .WithName("listColumns")
            .WithSummary("The columns that the table or query of a dataset being defined brings, with the types that they are read as.")
            .WithMetadata(new OnlyReads(), new RequestSizeLimitAttribute(LargestDraft));

        api.MapPost("/datasets/preview", Preview)
            .WithName("previewDataset")
            .WithSummary(
                "Checks a dataset that is being defined and brings its first rows, sorted and filtered without changing its definition."
            )
            .WithMetadata(new OnlyReads(), new RequestSizeLimitAttribute(LargestDraft));

        api.MapPost("/datasets/quality", Quality)
            .WithName("datasetQuality")
            .WithSummary(
                "How good the values of a dataset being defined are: missing, unfit and unmatched values, and keys that would multiply rows."
            )
            .WithMetadata(new OnlyReads(), new RequestSizeLimitAttribute(LargestDraft));

        api.MapPost("/datasets/formula", Formula)
            .WithName("tryFormula")
            .WithSummary("What is wrong with a formula of a dataset being defined, at which character, and what it gives.")
            .WithMetadata(new OnlyReads(), new RequestSizeLimitAttribute(LargestDraft));

        api.MapGet("/dataset-keys", () => DatasetKeys.Value)
            .WithName("listDatasetKeys")
            .WithSummary("The keys that a dataset, a field and a measure can have, in the order in which they are written.");

        api.MapGet("/formula-words", () => FormulaWords.All)
            .WithName("listFormulaWords")
            .WithSummary("The functions that formulas know, with how they are written and what they give.");
    }

    private static DefinitionsAnswer PublishFile(FileRequest request, HttpContext context, PublishedWorkspace published, Store.Audit audit)
    {
        DefinitionEndpoints.MayPublish(context, published, audit, "publish");
        var path = request.Path ?? "";
        if (
            !System.Text.RegularExpressions.Regex.IsMatch(path, "^(sources|datasets|dashboards)/[A-Za-z][A-Za-z0-9_-]{0,63}\\.yaml\\z")
            || request.Text is null
        )
            throw new ProblemException(
                422,
                "bad-path",
                $"'{(path.Length > 80 ? path[..80] : path)}' is no path of a source, dataset or dashboard.",
                "For example datasets/sailings.yaml."
            );
        return DefinitionsAnswer.Of(published.PublishFile(path, request.Text, request.Replace, context.Viewer().Name));
    }

    private static readonly Lazy<DatasetKeysInfo> DatasetKeys = new(() =>
    {
        var (dataset, field, measure) = DesignText.KeysOfDatasets();
        return new DatasetKeysInfo(
            [.. dataset.Select(DefinitionKeyInfo.Of)],
            [.. field.Select(DefinitionKeyInfo.Of)],
            [.. measure.Select(DefinitionKeyInfo.Of)]
        );
    });

    private static void MayDefine(HttpContext context, PublishedWorkspace published, Store.Audit audit)
    {
        var viewer = context.Viewer();
        if (published.NowOrNull is { } live && viewer.May(Acts.Define, live.Workspace))
            return;
        audit.Write(viewer, "denied", "look into sources");
        throw ProblemException.MayNot("look into sources");
    }

    private static Source Find(PublishedWorkspace published, string name) =>
        published.Now.Workspace.Sources.GetValueOrDefault(name)
        ?? throw new ProblemException(404, "unknown-source", $"There is no source {(name.Length <= 64 ? name : name[..64] + "…")}.");

    private static ProblemException UnknownTable(string name) =>
        new(404, "unknown-table", $"There is no table {(name.Length <= 64 ? name : name[..64] + "…")} in this source.");

    private static SourceInfo Describe(Source source) =>
        new(
            source.Name,
            source.Title,
            source.Engine,
            source.Server is { } server
                ? $"{server.User}@{server.Host}{(server.Port is { } port ? $":{port}" : "")}/{server.Database}"
                : source.File ?? source.Folder ?? "",
            source.Limits.Seconds,
            source.Limits.Rows,
            source.Limits.AtOnce
        );

    private static IEnumerable<DatasetInfo> Dictionary(Viewer viewer, Workspace workspace) =>
        workspace
            .Datasets.Values.Select(d => (Dataset: d, Scope: Scope.For(viewer, d.Name, workspace, Viewing.Whenever)))
            .Where(d => d.Scope is not null)
            .OrderBy(d => d.Dataset.Title, StringComparer.Ordinal)
            .Select(d => new DatasetInfo(
                d.Dataset.Name,
                d.Dataset.Title,
                d.Dataset.Description,
                [
                    .. d.Scope!.Fields.Values.Select(f => new DictionaryField(
                        f.Name,
                        f.Title,
                        f.Description,
                        f.Kind.Name(),
                        f.Unit,
                        f.HasNames
                    )),
                ],
                [.. d.Scope.Measures.Values.Select(MeasureInfo.Of)]
            ));

    /// <summary>A table as a dataset of all its columns, so that its rows are asked for as all rows are.</summary>
    private static async Task<TableInfo> Sample(
        Viewer viewer,
        LiveWorkspace live,
        string source,
        CatalogDetail detail,
        DataVersions versions,
        TimeProvider clock,
        CancellationToken cancellation
    )
    {
        var rows = new DatasetRows.Table(detail.Table.Schema, detail.Table.Name, "sample");
        var fields = detail.Columns.ToDictionary(
            c => c.Name,
            c => new Field(c.Name, c.Name, null, new Bound.Column("sample", c.Name, c.Kind), null, null, new HashSet<string>())
        );
        var draft = new Dataset(
            $"{source} {detail.Table.Schema}.{detail.Table.Name}",
            detail.Table.Name,
            null,
            source,
            rows,
            [],
            fields,
            new Dictionary<string, Measure>(),
            null
        );
        var scope = Scope.ForDefining(viewer, draft, live.Workspace, live.Opening(clock.GetUtcNow()))!;
        var answer = await RefreshWave.AtOnce(live, versions, viewer.Name)(DatasetChecks.Rows(scope, [], [], 50), cancellation);
        return TableInfo.Of(answer.Table);
    }

    private static (Dataset? Dataset, Scope? Scope, IReadOnlyList<Fault> Faults) Draft(
        string? text,
        Viewer viewer,
        LiveWorkspace live,
        TimeProvider clock,
        CancellationToken cancellation
    )
    {
        var (dataset, faults) = WorkspaceReader.ReadDraft(text ?? "", live.Workspace, cancellation);
        // Of another name, so that no answer is kept under that of the published one.
        return dataset is null
            ? (null, null, faults)
            : (
                dataset,
                Scope.ForDefining(viewer, dataset with { Name = $"draft {dataset.Name}" }, live.Workspace, live.Opening(clock.GetUtcNow())),
                faults
            );
    }

    /// <summary>Tests a source, within the pace of the published one of its name.</summary>
    private static Task<IReadOnlyList<SourceStep>> Test(
        Source source,
        PublishedWorkspace published,
        EngineFolders folders,
        CancellationToken stop
    ) => SourceTester.Test(source, folders, stop, opened => published.Now.Paced(source.Name, opened));

    private static async Task<ColumnsAnswer> Columns(
        DraftRequest request,
        HttpContext context,
        PublishedWorkspace published,
        Store.Audit audit,
        TimeProvider clock
    )
    {
        MayDefine(context, published, audit);
        var live = published.Now;
        var (_, scope, faults) = Draft(request.Text, context.Viewer(), live, clock, context.RequestAborted);
        FaultInfo[] told = [.. faults.Select(FaultInfo.Of)];
        if (scope is null)
            return new ColumnsAnswer(told, []);
        try
        {
            var source = live.Source(scope.Source).Drafts;
            var columns = await source.Describe(
                live.Dialect(scope.Source).Print(DatasetChecks.AllColumns(scope)),
                scope.Session,
                context.RequestAborted
            );
            return new ColumnsAnswer(
                told,
                [.. columns.Select(c => new TableColumn(c.Name, c.Type, source.Catalog.KindOf(c.Type).Name(), true, null))]
            );
        }
        catch (SourceException e)
        {
            return new ColumnsAnswer([.. told, new FaultInfo("error", e.Code, "datasets/draft.yaml", 1, 1, Told(e), e.Remedy)], []);
        }
    }

    private static async Task<PreviewAnswer> Preview(
        PreviewRequest request,
        HttpContext context,
        PublishedWorkspace published,
        Store.Audit audit,
        DataVersions versions,
        TimeProvider clock
    )
    {
        MayDefine(context, published, audit);
        var live = published.Now;
        var (_, scope, faults) = Draft(request.Text, context.Viewer(), live, clock, context.RequestAborted);
        FaultInfo[] told = [.. faults.Select(FaultInfo.Of)];
        if (scope is null)
            return new PreviewAnswer(told, null, 0, 0, null, []);
        var where = RowsWanted.Conditions(request.Where, scope);
        var columns = scope.Fields.Keys.ToList();
        var order = RowsWanted.Order(request.Sort, scope).Select(s => new OrderKey(columns.IndexOf(s.Field), s.Descending));
        var query = DatasetChecks.Rows(scope, where, [.. order], Math.Clamp(request.Rows, 1, MostRows));
        var sql = live.Dialect(scope.Source).Print(SelectBuilder.Build(query));
        audit.Write(context.Viewer(), "preview", scope.Name);
        try
        {
            var ask = RefreshWave.AtOnce(live, versions, context.Viewer().Name);
            var rows = ask(query, context.RequestAborted);
            var all = ask(DatasetChecks.Count(scope, []), context.RequestAborted);
            var matching = where.Count == 0 ? all : ask(DatasetChecks.Count(scope, where), context.RequestAborted);
            await Task.WhenAll(rows, all, matching);
            return new PreviewAnswer(
                told,
                TableInfo.Of(rows.Result.Table),
                (long)all.Result.Table.Values[0][0]!,
                (long)matching.Result.Table.Values[0][0]!,
                SqlInfo.Of(sql, "the rows of the preview", 1),
                [.. scope.Fields.Values.Select(f => new DictionaryField(f.Name, f.Title, f.Description, f.Kind.Name(), f.Unit))]
            );
        }
        catch (SourceException e)
        {
            return new PreviewAnswer(
                [.. told, new FaultInfo("error", e.Code, "datasets/draft.yaml", 1, 1, Told(e), e.Remedy)],
                null,
                0,
                0,
                SqlInfo.Of(sql, "the rows of the preview", 1),
                []
            );
        }
    }

    /// <summary>Who defines may read the engine's own words.</summary>
    private static string Told(SourceException e) =>
        e.InnerException is { } inner ? $"{e.Message} {inner.Message.Split('\n', 2)[0]}" : e.Message;

    private static async Task<FormulaAnswer> Formula(
        FormulaRequest request,
        HttpContext context,
        PublishedWorkspace published,
        Store.Audit audit,
        DataVersions versions,
        TimeProvider clock
    )
    {
        MayDefine(context, published, audit);
        var live = published.Now;
        if (request is not { Name: { } name, Formula.Length: <= LongestFormula } || !Shapes.IsName(name))
            throw new ProblemException(
                422,
                "bad-formula",
                $"A formula has a name, of letters, digits, - and _, and {LongestFormula} characters at most."
            );
        var (dataset, _, faults) = Draft(request.Text, context.Viewer(), live, clock, context.RequestAborted);
        // What is wrong may be the very formula that is being mended.
        dataset ??= Draft(Mended(request, name), context.Viewer(), live, clock, context.RequestAborted).Dataset;
        if (dataset is null)
            return new FormulaAnswer([.. faults.Select(FaultInfo.Of)]);
        var (tried, kind, fault) = FormulaTrial.Read(dataset, name, request.Formula, request.IsMeasure);
        if (tried is null)
            return new FormulaAnswer([])
            {
                Fault = new FormulaFaultInfo(
                    fault!.Code,
                    fault.Span.Start,
                    fault.Span.Start + fault.Span.Length,
                    fault.Message,
                    fault.Remedy
                ),
            };
        var answer = new FormulaAnswer([]) { Kind = kind.Name() };
        audit.Write(context.Viewer(), "preview", $"a formula of {dataset.Name}");
        tried = tried with { Name = $"draft {dataset.Name}" };
        var scope = Scope.ForDefining(context.Viewer(), tried, live.Workspace, live.Opening(clock.GetUtcNow()))!;
        if (request is { IsMeasure: true, By: { } by } && Fields.At(FieldAt.Parse(by), scope) is null)
            throw new ProblemException(
                422,
                "unknown-field",
                $"The dataset has no field {ProblemException.Short(by)}.",
                "Name one of its fields, dates with a grain, such as departed.month."
            );
        try
        {
            var tile = FormulaTrial.Tile(tried, name, request.IsMeasure, request.By);
            return await Tried(
                answer,
                tile,
                scope,
                live,
                RefreshWave.AtOnce(live, versions, context.Viewer().Name),
                context.RequestAborted
            );
        }
        catch (SourceException e)
        {
            return answer with { Faults = [new FaultInfo("error", e.Code, "datasets/draft.yaml", 1, 1, Told(e), e.Remedy)] };
        }
        catch (OverflowException e)
        {
            // A sum that no number is large enough for: its writer is told.
            return answer with { Faults = [new FaultInfo("error", "no-answer", "datasets/draft.yaml", 1, 1, e.Message, null)] };
        }
    }

    /// <summary>An answer with the figures that a formula gives, and the SQL of the first question that was asked for them.</summary>
    private static async Task<FormulaAnswer> Tried(
        FormulaAnswer answer,
        Tile tile,
        Scope scope,
        LiveWorkspace live,
        Ask ask,
        CancellationToken cancellation
    )
    {
        var asked = new List<Query>();
        var shown = await live
            .Planner.Plan(tile, scope, TileFilters.None, FormulaTrial.Lines)
            .Run(
                (query, stop) =>
                {
                    asked.Add(query);
                    return ask(query, stop);
                },
                cancellation
            );
        return answer with
        {
            Table = TableInfo.Of(shown.Table),
            Totals = shown.Totals is { } totals ? TableInfo.Of(totals) : null,
            Sql = SqlInfo.Of(live.Dialect(scope.Source).Print(SelectBuilder.Build(asked[0])), "what the formula gives", 1),
        };
    }

    /// <summary>The dataset with the formula as it is written now; as it was where it can't be put there.</summary>
    private static string? Mended(FormulaRequest request, string name)
    {
        try
        {
            var step = new DesignStep.Set([request.IsMeasure ? "measures" : "fields", name, "formula"], request.Formula);
            return new DesignText(Shapes.Dataset).Apply(request.Text ?? "", [step]);
        }
        catch (DesignException)
        {
            return request.Text;
        }
    }

    private static async Task<QualityAnswer> Quality(
        DraftRequest request,
        HttpContext context,
        PublishedWorkspace published,
        Store.Audit audit,
        DataVersions versions,
        TimeProvider clock
    )
    {
        MayDefine(context, published, audit);
        var live = published.Now;
        var (dataset, scope, faults) = Draft(request.Text, context.Viewer(), live, clock, context.RequestAborted);
        if (scope is null)
            return new QualityAnswer([.. faults.Select(FaultInfo.Of)], 0, [], []);
        try
        {
            var report = await DatasetReport.Make(
                dataset!,
                scope,
                live.Source(scope.Source).Engine,
                live.Dialect(scope.Source),
                RefreshWave.AtOnce(live, versions, context.Viewer().Name),
                context.RequestAborted
            );
            return new QualityAnswer([.. faults.Select(FaultInfo.Of)], report.Rows, report.Fields, report.Joins);
        }
        catch (SourceException e)
        {
            return new QualityAnswer(
                [.. faults.Select(FaultInfo.Of), new FaultInfo("error", e.Code, "datasets/draft.yaml", 1, 1, Told(e), e.Remedy)],
                0,
                [],
                []
            );
        }
    }
}

/// <summary>A definition that is being written.</summary>
public sealed record DraftRequest(string? Text);

/// <summary>One file to publish beside the others.</summary>
/// <param name="Replace">False to refuse if there is a file of that name already.</param>
public sealed record FileRequest(string? Path, string? Text, bool Replace = false);

/// <summary>A dataset that is being written, and how its rows are looked at.</summary>
public sealed record PreviewRequest(
    string? Text,
    IReadOnlyList<RowSort>? Sort = null,
    IReadOnlyList<RowCondition>? Where = null,
    int Rows = 100
);

/// <summary>The keys of a dataset's text.</summary>
public sealed record DatasetKeysInfo(
    IReadOnlyList<DefinitionKeyInfo> Dataset,
    IReadOnlyList<DefinitionKeyInfo> Field,
    IReadOnlyList<DefinitionKeyInfo> Measure
);

/// <summary>A formula that is being written.</summary>
/// <param name="Text">The dataset, as it is without it or with it as it was.</param>
/// <param name="Name">The field or measure that it makes.</param>
/// <param name="IsMeasure">True for a value over many rows.</param>
/// <param name="By">For a measure: the field by which it is shown, dates at a grain such as departed.month; in one line if left out.</param>
public sealed record FormulaRequest(string? Text, string? Name, string Formula = "", bool IsMeasure = false, string? By = null);

/// <summary>What is wrong with a formula.</summary>
/// <param name="Start">The first character that is meant, from 0.</param>
/// <param name="End">The first after it.</param>
public sealed record FormulaFaultInfo(string Code, int Start, int End, string Message, string? Remedy);

/// <summary>What a formula gives.</summary>
/// <param name="Faults">What is wrong with the dataset, or what the source said.</param>
public sealed record FormulaAnswer(IReadOnlyList<FaultInfo> Faults)
{
    /// <summary>What is wrong with the formula; null if nothing is.</summary>
    public FormulaFaultInfo? Fault { get; init; }

    /// <summary>The kind of its values.</summary>
    public string? Kind { get; init; }

    /// <summary>A measure by a field, or in one line; a field's most frequent values and how many rows have them.</summary>
    public TableInfo? Table { get; init; }

    /// <summary>The measure over all rows, where the table is by a field.</summary>
    public TableInfo? Totals { get; init; }

    /// <summary>What was asked.</summary>
    public SqlInfo? Sql { get; init; }
}

/// <summary>The columns of a dataset that is being written.</summary>
public sealed record ColumnsAnswer(IReadOnlyList<FaultInfo> Faults, IReadOnlyList<TableColumn> Columns);

/// <summary>What a dataset that is being written gives.</summary>
/// <param name="Rows">How many rows it has.</param>
/// <param name="Matching">How many of them meet the preview's conditions.</param>
public sealed record PreviewAnswer(
    IReadOnlyList<FaultInfo> Faults,
    TableInfo? Table,
    long Rows,
    long Matching,
    SqlInfo? Sql,
    IReadOnlyList<DictionaryField> Fields
);

/// <summary>A source without its secrets.</summary>
/// <param name="Where">The file or folder, or login, host and database.</param>
public sealed record SourceInfo(string Name, string Title, string Engine, string Where, int Seconds, int Rows, int AtOnce);

/// <summary>The test of a source that is being written.</summary>
public sealed record SourceTestAnswer(IReadOnlyList<FaultInfo> Faults, IReadOnlyList<SourceStep> Steps);

/// <summary>A column of a table.</summary>
/// <param name="Type">The engine's own type.</param>
/// <param name="Kind">Weir's type.</param>
/// <param name="Key">The place in the primary key, from 1.</param>
public sealed record TableColumn(string Name, string Type, string Kind, bool Nullable, long? Key);

/// <summary>A foreign key of one column.</summary>
public sealed record TableReference(string Column, string? Schema, string Table, string OtherColumn);

/// <summary>A table with its columns and keys.</summary>
public sealed record TableDetail(CatalogTable Table, IReadOnlyList<TableColumn> Columns, IReadOnlyList<TableReference> References);

/// <summary>A field for the reader.</summary>
/// <param name="IsNamed">True if its values are keys or codes that are read by names.</param>
public sealed record DictionaryField(string Name, string Title, string? Description, string Kind, string? Unit, bool IsNamed = false);

/// <summary>A dataset for the reader.</summary>
public sealed record DatasetInfo(
    string Name,
    string Title,
    string? Description,
    IReadOnlyList<DictionaryField> Fields,
    IReadOnlyList<MeasureInfo> Measures
);

/// <summary>How good the values of a dataset are.</summary>
public sealed record QualityAnswer(
    IReadOnlyList<FaultInfo> Faults,
    long Rows,
    IReadOnlyList<FieldReport> Fields,
    IReadOnlyList<JoinReport> Joins
);
