using System.Text.Json.Serialization;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.HttpOverrides;
using Serilog;
using Serilog.Events;
using Weir.Core;
using Weir.Engines;
using Weir.Service.Answers;
using Weir.Service.Api;
using Weir.Service.Asking;
using Weir.Service.Publishing;
using Weir.Service.SignIn;
using Weir.Store;

namespace Weir.Service;

/// <summary>The service: HTTP API, sign-in, and the console's files.</summary>
public static partial class WeirService
{
    private const int RequestLimit = 1024 * 1024;

    /// <summary>Builds the service, ready to be started.</summary>
    /// <exception cref="InvalidWorkspaceException">The folder of definitions is broken and nothing was published before.</exception>
    /// <exception cref="StoreException">What the service remembers can't be used, or another service has it.</exception>
    public static WebApplication Build(ServiceOptions options)
    {
        var folder = DataFolderLock.Take(options.DataFolder);
        // Both take as long as all else that is set up meanwhile.
        var store = Task.Run(() => StoreDatabase.Open(options.DataFolder));
        var newest = Task.Run(() => ReadNewest(store, options.Clock));
        try
        {
            return Build(options, folder, store, newest);
        }
        catch
        {
            // Whoever takes the folder next finds nobody at work in it.
            Task.WaitAny(newest);
            folder.Dispose();
            throw;
        }
    }

    private const int LeastThreads = 32;

    /// <summary>What was published last, and its reading; null if nothing was.</summary>
    private static async Task<(PublishedVersion Version, WorkspaceRead Reading)?> ReadNewest(
        Task<StoreDatabase> store,
        TimeProvider clock
    ) => new Versions(await store, clock).Newest() is { } newest ? (newest, WorkspaceText.Read(newest.Files)) : null;

    private static WebApplication Build(
        ServiceOptions options,
        DataFolderLock folder,
        Task<StoreDatabase> store,
        Task<(PublishedVersion Version, WorkspaceRead Reading)?> newest
    )
    {
        // Drivers block their threads while databases work. The pool adds threads slowly, and who only wants what is kept would wait.
        ThreadPool.GetMinThreads(out var workers, out var ports);
        ThreadPool.SetMinThreads(Math.Max(workers, LeastThreads), ports);
        // Nothing is read from wherever it is started, nor watched there: what the service is told is in its options.
        var builder = WebApplication.CreateEmptyBuilder(new WebApplicationOptions());
        AddHttp(builder, options);
        builder.Host.UseDefaultServiceProvider(p => p.ValidateScopes = true);
        AddLog(builder.Services, options);
        builder.Services.AddSignIn(options);
        AddRooms(builder.Services, options, folder, store);

        var app = builder.Build();
        app.Use(SecurityHeaders);
        if (options.Proxies.Count > 0)
            app.UseForwardedHeaders(Forwarded(options));
        app.UseProblems();
        app.UseHostFiltering();
        app.Use(OwnOrigin);
        app.UseResponseCompression();
        ConsoleFiles.Use(app, options);
        app.UseRouting();
        app.UseAuthentication();
        app.UseAuthorization();
        MapApi(app);
        // How requests are read and answered is found out here, the first time, while what was published is read: at the start it is known.
        _ = ((IEndpointRouteBuilder)app).DataSources.SelectMany(d => d.Endpoints).Count();
        _ = app.Services.GetRequiredService<DataFolderLock>(); // which lets it go when the service ends
        Authentication.TryKeys(app.Services, options);
        var published = app.Services.GetRequiredService<PublishedWorkspace>();
        if (newest.GetAwaiter().GetResult() is var (version, reading))
            published.Load(version, reading);
        PublishFolder(published, options);
        return app;
    }

    /// <summary>How it listens, and what it makes of requests and answers.</summary>
    private static void AddHttp(WebApplicationBuilder builder, ServiceOptions options)
    {
        builder.WebHost.UseKestrelCore();
        builder.WebHost.ConfigureKestrel(k =>
        {
            k.Listen(options.Address, options.Port);
            k.Limits.MaxRequestBodySize = RequestLimit;
            k.AddServerHeader = false;
        });
        builder.Services.ConfigureHttpJsonOptions(j =>
        {
            j.SerializerOptions.AllowOutOfOrderMetadataProperties = true;
            // A key that is mistyped would be left out, and figures come back for another question than was asked.
            j.SerializerOptions.UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow;
            j.SerializerOptions.NumberHandling = JsonNumberHandling.Strict;
        });
        // A body that can't be read is refused as every other refusal is.
        builder.Services.Configure<RouteHandlerOptions>(r => r.ThrowOnBadRequest = true);
        builder.Services.AddRoutingCore();
        builder.Services.AddResponseCompression();
        builder.Services.AddProblemDetails();
        builder.Services.AddOpenApi(o => o.AddDocumentTransformer(Contract.Describe));
        builder.Services.AddHostFiltering(h =>
            h.AllowedHosts = options.Address.Equals(System.Net.IPAddress.Loopback) ? ["localhost", "127.0.0.1", "[::1]"] : ["*"]
        );
    }

    private static void MapApi(WebApplication app)
    {
        app.MapOpenApi("/openapi/v1.json").AllowAnonymous();
        var api = app.MapGroup("/api");
        api.MapGet("/health", (PublishedWorkspace published) => new Health("up", published.NowOrNull?.Version.Number))
            .AllowAnonymous()
            .WithName("health")
            .WithSummary("Whether the service is up, and which version it serves.");
        api.MapSignIn();
        api.MapPages();
        api.MapChoices();
        api.MapResults();
        api.MapExplanations();
        api.MapPictures();
        api.MapOpenings();
        api.MapMembers();
        api.MapDetail();
        api.MapExports();
        api.MapReports();
        api.MapSchedules();
        api.MapRemarks();
        api.MapBrush();
        api.MapViews();
        api.MapCatalogues();
        api.MapOpeningViews();
        api.MapDefinitions();
        api.MapDrafts();
        api.MapHandOvers();
        api.MapOwnShares();
        api.MapRefits();
        api.MapDraftChecks();
        api.MapRenames();
        api.MapWords();
        api.MapData();
        api.MapAccess();
    }

    private static void AddLog(IServiceCollection services, ServiceOptions options) =>
        services.AddSerilog(
            new LoggerConfiguration()
                .MinimumLevel.Is(options.Quiet ? LogEventLevel.Error : LogEventLevel.Information)
                .MinimumLevel.Override("Microsoft", LogEventLevel.Warning)
                .MinimumLevel.Override("Microsoft.AspNetCore.DataProtection", LogEventLevel.Error)
                // A start that fails is told by who started the service, without the stack.
                .MinimumLevel.Override("Microsoft.Extensions.Hosting", LogEventLevel.Fatal)
                .WriteTo.Console(
                    standardErrorFromLevel: LogEventLevel.Verbose,
                    outputTemplate: "{Timestamp:HH:mm:ss} {Level:u3} {Message:lj}{NewLine}{Exception}",
                    formatProvider: System.Globalization.CultureInfo.InvariantCulture
                )
                .CreateLogger(),
            dispose: true
        );

    /// <summary>What is made once and lasts as long as the service.</summary>
    private static readonly Type[] Lasting =
    [
        typeof(Users),
        typeof(Tokens),
        typeof(Sessions),
        typeof(Versions),
        typeof(Drafts),
        typeof(HandedDrafts),
        typeof(OwnShares),
        typeof(SharedDrafts),
        typeof(DraftRights),
        typeof(DraftWorkspaces),
        typeof(Runs),
        typeof(Subscriptions),
        typeof(Remarks),
        typeof(Schedules.Receivers),
        typeof(Schedules.RunMaker),
        typeof(Schedules.RunEnds),
        typeof(Schedules.Postbox),
        typeof(Store.Views),
        typeof(Store.ViewNames),
        typeof(Audit),
        typeof(Events),
        typeof(SourcePool),
        typeof(DataVersions),
        typeof(WatchedFolder),
        typeof(PublishedWorkspace),
        typeof(OlderVersions),
    ];

    /// <summary>What the service is made of: the store, what is published, the sources, and what works beside the requests.</summary>
    private static void AddRooms(IServiceCollection services, ServiceOptions options, DataFolderLock folder, Task<StoreDatabase> store)
    {
        services.AddSingleton(options);
        services.AddSingleton(_ => folder);
        services.AddSingleton(options.Clock);
        // Who defines sources does not own the secrets: each is bound to its host.
        services.AddSingleton(s =>
            options.Folders with
            {
                BoundHost = s.GetRequiredService<Versions>().HostOf,
                Worker = EngineFolders.WorkerBeside() ?? throw new FileNotFoundException("Weir.Worker is missing beside the service."),
            }
        );
        services.AddSingleton(_ => store.GetAwaiter().GetResult());
        foreach (var type in Lasting)
            services.AddSingleton(type);
        services.AddHttpContextAccessor();
        services.AddScoped<Asker>();
        services.AddScoped<DraftEndpoints.Drafting>();
        services.AddScoped<HandOverEndpoints.HandingOver>();
        services.AddScoped<OwnShareEndpoints.OwnSharing>();
        services.AddScoped<RenameEndpoints.Renames>();
        services.AddScoped<RefitEndpoints.Refits>();
        services.AddScoped<DraftCheckEndpoints.Checking>();
        services.AddSingleton<Exports.FileLine>();
        services.AddSingleton<Exports.FilesInProgress>();
        services.AddScoped<Exports.FileMaker>();
        services.AddScoped<ScheduleEndpoints.Sending>();
        services.AddScoped<RemarkEndpoints.Remarking>();
        services.AddSingleton<Exports.HostAddress>();
        services.AddSingleton<CheckLine>();
        services.AddSingleton<Exports.Browser>();
        services.AddSingleton<Exports.Paper>();
        services.AddHostedService<FolderPublisher>();
        services.AddHostedService<FreshnessWatch>();
        services.AddHostedService<Schedules.Clockwork>();
    }

    private static ForwardedHeadersOptions Forwarded(ServiceOptions options)
    {
        // The address and the scheme of the asker are believed of these, and of nobody else.
        var forwarded = new ForwardedHeadersOptions
        {
            ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto,
            ForwardLimit = options.Proxies.Count,
        };
        forwarded.KnownIPNetworks.Clear();
        forwarded.KnownProxies.Clear();
        foreach (var proxy in options.Proxies)
            forwarded.KnownProxies.Add(proxy);
        return forwarded;
    }

    private static void PublishFolder(PublishedWorkspace published, ServiceOptions options)
    {
        if (options.WorkspaceFolder is not { } folder)
            return;
        var result = published.PublishFolder(folder);
        if (result.Version is not null)
            return;
        if (published.NowOrNull is null)
            throw new InvalidWorkspaceException(result.Faults.Select(f => f.ToString()).ToList());
        published.NoteBroken(result.Faults);
    }

    private static Task SecurityHeaders(HttpContext context, RequestDelegate next)
    {
        // Later the path may be that of the file which is served there.
        var isSeen = Seen().IsMatch(context.Request.Path.Value ?? "");
        // At the last moment: a failure clears what was set before it.
        context.Response.OnStarting(() => Set(context, isSeen));
        return next(context);
    }

    /// <summary>
    /// A request that changes something and is signed in by a cookie comes from the service's own pages: browsers send a cookie from
    /// other ports of the same machine too.
    /// </summary>
    private static Task OwnOrigin(HttpContext context, RequestDelegate next)
    {
        var request = context.Request;
        var isSafe = HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method) || HttpMethods.IsOptions(request.Method);
        if (
            isSafe
            || request.Headers.Authorization.Count > 0
            || !request.Cookies.ContainsKey(Authentication.CookieName)
            || request.Headers.Origin == $"{request.Scheme}://{request.Host}"
        )
            return next(context);
        throw new ProblemException(
            403,
            "other-origin",
            "This request does not come from the service's own pages.",
            "Programs sign in with a token and send no cookie; a proxy before the service is named with --proxy, and passes the Host on as it came."
        );
    }

    [GeneratedRegex("^/d/[^/]+/seen\\z")]
    private static partial Regex Seen();

    private static Task Set(HttpContext context, bool isSeen)
    {
        var headers = context.Response.Headers;
        // What shows a file of a workspace says so more strictly itself.
        if (headers.ContentSecurityPolicy.Count == 0)
        {
            // A draft is looked at as others have it within its own design; nothing else stands in any page.
            var frames = isSeen ? "'self'" : "'none'";
            headers.ContentSecurityPolicy =
                "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
                + $"frame-ancestors {frames}; base-uri 'none'; form-action 'self'";
        }
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "no-referrer";
        if (context.Request.Path.StartsWithSegments("/api"))
            headers.CacheControl = "no-store";
        return Task.CompletedTask;
    }
}

/// <summary>The folder of definitions is broken and there is nothing else to serve.</summary>
public sealed class InvalidWorkspaceException(IReadOnlyList<string> faults) : Exception(string.Join('\n', faults))
{
    /// <summary>The faults, a line each.</summary>
    public IReadOnlyList<string> Faults { get; } = faults;
}

/// <summary>Whether the service is up.</summary>
public sealed record Health(string State, long? Version);
