using System.Net;
using System.Security.Claims;
using System.Security.Cryptography;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.Extensions.Caching.Memory;
using Microsoft.Extensions.Options;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Service.Publishing;
using Weir.Store;

namespace Weir.Service.SignIn;

/// <summary>Who is asking: a cookie for the console, a token for programs. Rights are read anew at each request.</summary>
internal static class Authentication
{
    public const string CookieName = "weir";
    public const string LookAsHeader = "Weir-Look-As";

    /// <summary>Before a role in that header, to look as somebody who has it and nothing else.</summary>
    public const string RolePrefix = "role:";
    private const string TokenScheme = "token";
    private const string StampClaim = "stamp";
    private const string SessionClaim = "session";
    private static readonly TimeSpan SessionLife = TimeSpan.FromHours(12);
    private const string BadTokenItem = "bad-token";

    public static void AddSignIn(this IServiceCollection services, ServiceOptions options)
    {
        services
            .AddDataProtection()
            .PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(options.DataFolder, "keys")))
            .SetApplicationName("weir");
        services
            .AddAuthentication("either")
            .AddPolicyScheme(
                "either",
                null,
                o =>
                    o.ForwardDefaultSelector = c =>
                        c.Request.Headers.Authorization.Count > 0 ? TokenScheme : CookieAuthenticationDefaults.AuthenticationScheme
            )
            .AddCookie(o =>
            {
                o.Cookie.Name = CookieName;
                o.Cookie.SameSite = SameSiteMode.Strict;
                o.Cookie.HttpOnly = true;
                o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
                o.ExpireTimeSpan = SessionLife;
                o.SlidingExpiration = false;
                o.Events.OnRedirectToLogin = c => Challenge(c.HttpContext);
                o.Events.OnRedirectToAccessDenied = c =>
                {
                    c.Response.StatusCode = 403;
                    return Task.CompletedTask;
                };
            })
            .AddScheme<AuthenticationSchemeOptions, TokenHandler>(TokenScheme, null);
        services
            .AddAuthorizationBuilder()
            .SetFallbackPolicy(new Microsoft.AspNetCore.Authorization.AuthorizationPolicyBuilder().RequireAuthenticatedUser().Build());
        services.AddMemoryCache();
        services.AddSingleton<FailedSignIns>();
    }

    /// <summary>Makes sure that the keys with which cookies are sealed can be used.</summary>
    /// <exception cref="StoreException">They can't: nobody could sign in.</exception>
    public static void TryKeys(IServiceProvider services, ServiceOptions options)
    {
        var folder = Path.Combine(options.DataFolder, "keys");
        try
        {
            foreach (var file in Directory.Exists(folder) ? Directory.EnumerateFiles(folder, "*.xml") : [])
                try
                {
                    _ = System.Xml.Linq.XElement.Load(file);
                }
                catch (System.Xml.XmlException e)
                {
                    throw new StoreException(
                        "store-damaged",
                        $"The sign-in key {file} is damaged.",
                        "Take the file away: everybody then signs in anew, and nothing else is lost.",
                        e
                    );
                }
            var protector = services.GetRequiredService<IDataProtectionProvider>().CreateProtector("start");
            protector.Unprotect(protector.Protect("x"));
        }
        catch (Exception e) when (e is CryptographicException or IOException or UnauthorizedAccessException or InvalidOperationException)
        {
            throw new StoreException(
                "store-damaged",
                $"The sign-in keys in {folder} can't be used.",
                "Make the folder readable and writable by the service, or take it away: everybody then signs in anew.",
                e
            );
        }
    }

    private static Task Challenge(HttpContext context) =>
        context.Items.TryGetValue(BadTokenItem, out var state) && state is TokenState.Expired
            ? Problems.Write(context, 401, "token-expired", "The token has expired.", "Sign in again: weir sign-in.")
        : state is TokenState.Unknown
            ? Problems.Write(context, 401, "unknown-token", "The token is not known here.", "Sign in again: weir sign-in.")
        : Problems.Write(context, 401, "sign-in-needed", "Sign in first.");

    /// <summary>The viewer of a request; who "looks as" another is that other.</summary>
    /// <exception cref="ProblemException">The viewer is gone, or may not look as the other.</exception>
    public static Viewer Viewer(this HttpContext context)
    {
        if (context.Items.TryGetValue(typeof(Viewer), out var known))
            return (Viewer)known!;
        var users = context.RequestServices.GetRequiredService<Users>();
        var user = users.Find(context.User.Identity!.Name!);
        var stamp = context.User.FindFirstValue(StampClaim);
        if (
            user is null
            || (
                stamp is not null
                && (
                    stamp != user.Stamp
                    || !context
                        .RequestServices.GetRequiredService<Sessions>()
                        .IsOn(context.User.FindFirstValue(SessionClaim) ?? "", user.Viewer.Name)
                )
            )
        )
            throw new ProblemException(401, "sign-in-needed", "Sign in again.");
        var viewer = user.Viewer;
        context.Items[SignedInItem] = viewer;
        if (context.Request.Headers[LookAsHeader] is [{ Length: > 0 } other])
            viewer = LookAs(context, viewer, other, users);
        context.Items[typeof(Viewer)] = viewer;
        return viewer;
    }

    private const string SignedInItem = "signed in";

    /// <summary>Who is signed in, also while they look as somebody else.</summary>
    /// <exception cref="ProblemException">As of <see cref="Viewer"/>.</exception>
    public static Viewer SignedIn(this HttpContext context)
    {
        _ = context.Viewer();
        return (Viewer)context.Items[SignedInItem]!;
    }

    private static Viewer LookAs(HttpContext context, Viewer viewer, string other, Users users)
    {
        var audit = context.RequestServices.GetRequiredService<Audit>();
        var workspace = context.RequestServices.GetRequiredService<PublishedWorkspace>().Now.Workspace;
        if (!viewer.May(Acts.LookAs, workspace))
        {
            audit.Write(viewer.Name, "denied", $"look as {other}");
            throw ProblemException.MayNot("look as another viewer");
        }
        if (!HttpMethods.IsGet(context.Request.Method) && context.GetEndpoint()?.Metadata.GetMetadata<OnlyReads>() is null)
            throw new ProblemException(403, "look-only", "Looking as another viewer changes nothing: sign in as yourself to make changes.");
        var found = Other(other, users, workspace);
        audit.Write(viewer.Name, "look-as", $"{other} {context.Request.Method} {context.Request.Path}");
        return found with { LookedAsBy = viewer.Name };
    }

    /// <summary>A person by name, or somebody who has one role and no attributes: <c>role:port-desk</c>.</summary>
    private static Viewer Other(string name, Users users, Core.Definitions.Workspace workspace)
    {
        if (!name.StartsWith(RolePrefix, StringComparison.Ordinal))
            return users.Find(name)?.Viewer
                ?? throw new ProblemException(404, "unknown-user", $"There is no user {ProblemException.Short(name)}.");
        var role =
            workspace.Access.Roles.GetValueOrDefault(name[RolePrefix.Length..])
            ?? throw new ProblemException(404, "unknown-role", $"There is no role {ProblemException.Short(name[RolePrefix.Length..])}.");
        // No name to sign in with has a colon, so that nobody's view is met.
        return Core.Access.Viewer.Of(role) with { Name = name };
    }

    public static void MapSignIn(this RouteGroupBuilder api)
    {
        MapSessions(api);
        MapTokens(api);
    }

    private static void MapSessions(RouteGroupBuilder api)
    {
        api.MapPost(
                "/session",
                async (SignInRequest request, HttpContext context, Users users, Sessions sessions, Audit audit, FailedSignIns failed) =>
                {
                    var user = await Check(request, context, users, audit, failed);
                    await Begin(context, user, sessions);
                    return SessionInfo.Of(user.Viewer, context.RequestServices.GetRequiredService<PublishedWorkspace>().NowOrNull);
                }
            )
            .AllowAnonymous()
            .WithName("signIn")
            .WithSummary("Sign in with name and password; sets the cookie.");

        api.MapGet("/session", (HttpContext context, PublishedWorkspace published) => SessionInfo.Of(context.Viewer(), published.NowOrNull))
            .WithName("getSession")
            .WithSummary("Who is signed in.");

        api.MapPost("/session/password", ChangePassword)
            .WithName("changePassword")
            .WithSummary("Change one's own password; other sessions end, and tokens too unless they are kept.");

        api.MapDelete(
                "/session",
                async (HttpContext context, Sessions sessions) =>
                {
                    if (context.User.FindFirstValue(SessionClaim) is { } session)
                        sessions.End(session);
                    await context.SignOutAsync(CookieAuthenticationDefaults.AuthenticationScheme);
                    return Results.NoContent();
                }
            )
            .WithName("signOut")
            .WithSummary("Sign out.");
    }

    private static async Task<IResult> ChangePassword(
        PasswordRequest request,
        HttpContext context,
        Users users,
        Sessions sessions,
        Audit audit,
        FailedSignIns failed,
        TimeProvider clock
    )
    {
        if (request.New is not { Length: >= 10 and <= 256 })
            throw new ProblemException(422, "bad-password", "A password has 10 to 256 characters.");
        var user = await Check(new SignInRequest(context.Viewer().Name, request.Current), context, users, audit, failed);
        users.ChangePassword(user.Viewer.Name, request.New, request.KeepTokens, clock);
        // Every session ended with the old password; this one goes on as a new one.
        if (context.User.FindFirstValue(StampClaim) is not null)
            await Begin(context, users.Find(user.Viewer.Name)!, sessions);
        return Results.NoContent();
    }

    private static void MapTokens(RouteGroupBuilder api)
    {
        api.MapPost(
                "/tokens",
                async (TokenRequest request, HttpContext context, Users users, Tokens tokens, Audit audit, FailedSignIns failed) =>
                {
                    if (request.Label is not { Length: > 0 and <= 200 })
                        throw new ProblemException(400, "bad-label", "A token needs a label of 1 to 200 characters.");
                    if (request.Days is < 1 or > 365)
                        throw new ProblemException(400, "bad-days", "A token may live 1 to 365 days.");
                    var user = await Check(new SignInRequest(request.Name, request.Password), context, users, audit, failed);
                    var (info, secret) = tokens.Create(user.Viewer.Name, request.Label, TimeSpan.FromDays(request.Days));
                    return new NewToken(info.Id, secret, info.Expires);
                }
            )
            .AllowAnonymous()
            .WithName("makeToken")
            .WithSummary("Make a personal token for a program, with name and password.");

        api.MapGet(
                "/tokens",
                (HttpContext context, Tokens tokens) =>
                    tokens.Of(context.Viewer().Name).Select(t => new TokenLine(t.Id, t.Label, t.Created, t.Expires))
            )
            .WithName("listTokens")
            .WithSummary("One's own tokens, without their secrets.");

        api.MapDelete(
                "/tokens/{id}",
                (string id, HttpContext context, Tokens tokens, Audit audit) =>
                {
                    var viewer = context.Viewer();
                    if (!tokens.Remove(viewer.Name, id))
                        throw new ProblemException(404, "unknown-token-id", "You have no token of this id.");
                    return Results.NoContent();
                }
            )
            .WithName("endToken")
            .WithSummary("End one of one's own tokens.");
    }

    private static Task Begin(HttpContext context, User user, Sessions sessions)
    {
        var identity = new ClaimsIdentity(
            [
                new Claim(ClaimTypes.Name, user.Viewer.Name),
                new Claim(StampClaim, user.Stamp),
                new Claim(SessionClaim, sessions.Begin(user.Viewer.Name, SessionLife)),
            ],
            CookieAuthenticationDefaults.AuthenticationScheme
        );
        return context.SignInAsync(CookieAuthenticationDefaults.AuthenticationScheme, new ClaimsPrincipal(identity));
    }

    /// <summary>True while the person of a request is there with the rights that they had when it began.</summary>
    public static Func<bool> StillSignedIn(this HttpContext context)
    {
        var (users, sessions) = (
            context.RequestServices.GetRequiredService<Users>(),
            context.RequestServices.GetRequiredService<Sessions>()
        );
        var (name, stamp, session) = (
            context.User.Identity!.Name!,
            context.User.FindFirstValue(StampClaim),
            context.User.FindFirstValue(SessionClaim)
        );
        static string Rights(User user) => System.Text.Json.JsonSerializer.Serialize(user.Viewer);
        var rights = users.Find(name) is { } first ? Rights(first) : null;
        return () =>
            users.Find(name) is { } user
            && Rights(user) == rights
            && (stamp is null || (stamp == user.Stamp && sessions.IsOn(session ?? "", name)));
    }

    /// <summary>One password is hashed at a time, so that guessing never takes more than one core.</summary>
    private static readonly SemaphoreSlim Hashing = new(1);

    private static async Task<User> Check(SignInRequest request, HttpContext context, Users users, Audit audit, FailedSignIns failed)
    {
        var name = request.Name ?? "";
        if (name.Length > 64 || (request.Password?.Length ?? 0) > 256)
            throw new ProblemException(400, "bad-request", "The name or the password is too long.");
        var address = context.Connection.RemoteIpAddress ?? IPAddress.None;
        if (failed.Begin(name, address) is { } wait)
            throw new ProblemException(
                429,
                "too-many-attempts",
                $"Too many wrong passwords. Try again in {Math.Ceiling(wait.TotalSeconds)} s.",
                retryAfter: wait
            );
        User? user;
        await Hashing.WaitAsync(context.RequestAborted);
        try
        {
            user = await Task.Run(() => users.Check(name, request.Password ?? ""));
        }
        finally
        {
            Hashing.Release();
        }
        // What came through a proxy that nobody named may come from anywhere.
        var isLocal =
            IPAddress.IsLoopback(address)
            && !context.Request.Headers.ContainsKey("X-Forwarded-For")
            && !context.Request.Headers.ContainsKey("Forwarded");
        if (user is null || (user.LoopbackOnly && !isLocal))
        {
            // A password typed into the name's field must not be kept.
            audit.Write(users.Find(name) is null ? "(unknown name)" : name, "sign-in-failed", address.ToString());
            throw new ProblemException(401, "wrong-password", "The name or the password is wrong.");
        }
        failed.Succeeded(name, address);
        // For those who manage people; the person is told nothing of it.
        if (context.RequestServices.GetRequiredService<PublishedWorkspace>().NowOrNull is { } live)
            foreach (var (role, attribute) in NeededAttributes.Lacking(user.Viewer.Roles, user.Viewer.Attributes, live.Workspace))
            {
                context
                    .RequestServices.GetRequiredService<ILoggerFactory>()
                    .CreateLogger("Weir.SignIn")
                    .LogWarning(
                        "{User} lacks the attribute {Attribute} that the role {Role} asks for, and sees no rows by it",
                        name,
                        attribute,
                        role
                    );
                audit.Write(name, "lacks-attribute", $"{attribute} of the role {role}");
            }
        audit.Write(name, "sign-in", address.ToString());
        return user;
    }

    private sealed class TokenHandler(
        IOptionsMonitor<AuthenticationSchemeOptions> options,
        ILoggerFactory logger,
        UrlEncoder encoder,
        Tokens tokens
    ) : AuthenticationHandler<AuthenticationSchemeOptions>(options, logger, encoder)
    {
        protected override Task<AuthenticateResult> HandleAuthenticateAsync()
        {
            var header = Request.Headers.Authorization.ToString();
            if (!header.StartsWith("Bearer ", StringComparison.OrdinalIgnoreCase) || header.Length > 500)
                return Bad(TokenState.Unknown);
            var (state, user) = tokens.Check(header["Bearer ".Length..].Trim());
            if (user is null)
                return Bad(state);
            var identity = new ClaimsIdentity([new Claim(ClaimTypes.Name, user)], TokenScheme);
            return Task.FromResult(AuthenticateResult.Success(new AuthenticationTicket(new ClaimsPrincipal(identity), TokenScheme)));
        }

        protected override Task HandleChallengeAsync(AuthenticationProperties properties) => Challenge(Context);

        private Task<AuthenticateResult> Bad(TokenState state)
        {
            Context.Items[BadTokenItem] = state;
            return Task.FromResult(AuthenticateResult.Fail("bad token"));
        }
    }
}

/// <summary>Marks an endpoint that only reads although it is a POST, so that "look as" may use it.</summary>
internal sealed class OnlyReads;

/// <summary>
/// Bounds guessing: for a name from an address, for an address whatever the names, and for a name whatever the addresses. An attempt
/// counts from its beginning, before its password is looked at, so that many at once count as many.
/// </summary>
internal sealed class FailedSignIns(IMemoryCache cache, TimeProvider clock)
{
    private static readonly TimeSpan Pause = TimeSpan.FromMinutes(1);

    private sealed class Count(int free)
    {
        private int _attempts;
        private long _last;

        /// <summary>Counts an attempt; how long to wait instead if there were too many.</summary>
        public TimeSpan? Begin(TimeProvider clock)
        {
            lock (this)
            {
                var since = _last == 0 ? Pause : clock.GetElapsedTime(_last);
                if (since >= Pause)
                    _attempts = 0;
                if (_attempts >= free)
                    return Pause - since;
                _attempts++;
                _last = clock.GetTimestamp();
                return null;
            }
        }

        public void Back()
        {
            lock (this)
                _attempts = Math.Max(0, _attempts - 1);
        }
    }

    /// <summary>Counts an attempt; how long to wait before the next, if there were too many.</summary>
    public TimeSpan? Begin(string name, IPAddress address)
    {
        var counts = Counts(name, address).ToList();
        for (var i = 0; i < counts.Count; i++)
            if (counts[i].Begin(clock) is { } wait)
            {
                // What is refused takes nothing from the others.
                counts.Take(i).ToList().ForEach(c => c.Back());
                return wait;
            }
        return null;
    }

    /// <summary>Takes an attempt back that was none: the password was right.</summary>
    public void Succeeded(string name, IPAddress address)
    {
        foreach (var count in Counts(name, address))
            count.Back();
    }

    private IEnumerable<Count> Counts(string name, IPAddress address) =>
        [Of($"{name}\n{address}", 5), Of($"\n{address}", 60), Of($"{name}\n", 30)];

    private readonly Lock _gate = new();

    private Count Of(string key, int free)
    {
        // The cache makes two where two ask at once, and each would count for itself.
        lock (_gate)
            return cache.GetOrCreate(
                Key(key),
                entry =>
                {
                    entry.SetSlidingExpiration(TimeSpan.FromMinutes(10));
                    return new Count(free);
                }
            )!;
    }

    // Hashed, so that a mistyped password in the name's place is kept nowhere.
    private static string Key(string key) => "failed:" + Convert.ToHexString(SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(key)));
}
