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
using Weir.Store;

namespace Weir.Service;

/// <summary>Who is asking: a cookie for the console, a token for programs. Rights are read anew at each request.</summary>
internal static class SignIn
{
    public const string LookAsHeader = "Weir-Look-As";
    private const string TokenScheme = "token";
    private const string StampClaim = "stamp";
    private const string BadTokenItem = "bad-token";

    public static void AddSignIn(this IServiceCollection services, ServiceOptions options)
    {
        services.AddDataProtection().PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(options.DataFolder, "keys"))).SetApplicationName("weir");
        services.AddAuthentication("either")
            .AddPolicyScheme("either", null, o => o.ForwardDefaultSelector = c => c.Request.Headers.Authorization.Count > 0 ? TokenScheme : CookieAuthenticationDefaults.AuthenticationScheme)
            .AddCookie(o =>
            {
                o.Cookie.Name = "weir";
                o.Cookie.SameSite = SameSiteMode.Strict;
                o.Cookie.HttpOnly = true;
                o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
                o.ExpireTimeSpan = TimeSpan.FromHours(12);
                o.Events.OnRedirectToLogin = c => Challenge(c.HttpContext);
                o.Events.OnRedirectToAccessDenied = c => { c.Response.StatusCode = 403; return Task.CompletedTask; };
            })
            .AddScheme<AuthenticationSchemeOptions, TokenHandler>(TokenScheme, null);
        services.AddAuthorizationBuilder().SetFallbackPolicy(new Microsoft.AspNetCore.Authorization.AuthorizationPolicyBuilder().RequireAuthenticatedUser().Build());
        services.AddMemoryCache();
        services.AddSingleton<FailedSignIns>();
    }

    private static Task Challenge(HttpContext context) => context.Items.TryGetValue(BadTokenItem, out var state) && state is TokenState.Expired
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
        if (user is null || (stamp is not null && stamp != user.Stamp))
            throw new ProblemException(401, "sign-in-needed", "Sign in again.");
        var viewer = user.Viewer;
        if (context.Request.Headers[LookAsHeader] is [{ Length: > 0 } other])
            viewer = LookAs(context, viewer, other, users);
        context.Items[typeof(Viewer)] = viewer;
        return viewer;
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
        var found = users.Find(other) ?? throw new ProblemException(404, "unknown-user", $"There is no user {other}.");
        audit.Write(viewer.Name, "look-as", $"{other} {context.Request.Method} {context.Request.Path}");
        return found.Viewer;
    }

    public static void MapSignIn(this RouteGroupBuilder api)
    {
        api.MapPost("/session", async (SignInRequest request, HttpContext context, Users users, Audit audit, FailedSignIns failed) =>
        {
            var user = Check(request, context, users, audit, failed);
            var identity = new ClaimsIdentity([new Claim(ClaimTypes.Name, user.Viewer.Name), new Claim(StampClaim, user.Stamp)], CookieAuthenticationDefaults.AuthenticationScheme);
            await context.SignInAsync(CookieAuthenticationDefaults.AuthenticationScheme, new ClaimsPrincipal(identity));
            return Wire.Session(user.Viewer, context.RequestServices.GetRequiredService<PublishedWorkspace>().NowOrNull);
        }).AllowAnonymous().WithName("signIn").WithSummary("Sign in with name and password; sets the cookie.");

        api.MapGet("/session", (HttpContext context, PublishedWorkspace published) => Wire.Session(context.Viewer(), published.NowOrNull))
            .WithName("getSession").WithSummary("Who is signed in.");

        api.MapDelete("/session", async (HttpContext context) =>
        {
            await context.SignOutAsync(CookieAuthenticationDefaults.AuthenticationScheme);
            return Results.NoContent();
        }).WithName("signOut").WithSummary("Sign out.");

        api.MapPost("/tokens", (TokenRequest request, HttpContext context, Users users, Tokens tokens, Audit audit, FailedSignIns failed) =>
        {
            if (request.Label is not { Length: > 0 and <= 200 })
                throw new ProblemException(400, "bad-label", "A token needs a label of 1 to 200 characters.");
            if (request.Days is < 1 or > 365)
                throw new ProblemException(400, "bad-days", "A token may live 1 to 365 days.");
            var user = Check(new SignInRequest(request.Name, request.Password), context, users, audit, failed);
            var (info, secret) = tokens.Create(user.Viewer.Name, request.Label, TimeSpan.FromDays(request.Days));
            audit.Write(user.Viewer.Name, "token-made", info.Id);
            return new NewToken(info.Id, secret, info.Expires);
        }).AllowAnonymous().WithName("makeToken").WithSummary("Make a personal token for a program, with name and password.");

        api.MapGet("/tokens", (HttpContext context, Tokens tokens) => tokens.Of(context.Viewer().Name).Select(t => new TokenLine(t.Id, t.Label, t.Created, t.Expires)))
            .WithName("listTokens").WithSummary("One's own tokens, without their secrets.");

        api.MapDelete("/tokens/{id}", (string id, HttpContext context, Tokens tokens, Audit audit) =>
        {
            var viewer = context.Viewer();
            if (!tokens.Remove(viewer.Name, id))
                throw new ProblemException(404, "unknown-token-id", "You have no token of this id.");
            audit.Write(viewer.Name, "token-ended", id);
            return Results.NoContent();
        }).WithName("endToken").WithSummary("End one of one's own tokens.");
    }

    private static User Check(SignInRequest request, HttpContext context, Users users, Audit audit, FailedSignIns failed)
    {
        var name = request.Name ?? "";
        if (name.Length > 64 || (request.Password?.Length ?? 0) > 256)
            throw new ProblemException(400, "bad-request", "The name or the password is too long.");
        var address = context.Connection.RemoteIpAddress ?? IPAddress.None;
        if (failed.Wait(name, address) is { } wait)
            throw new ProblemException(429, "too-many-attempts", $"Too many wrong passwords. Try again in {Math.Ceiling(wait.TotalSeconds)} s.", retryAfter: wait);
        var user = users.Check(name, request.Password ?? "");
        if (user is null || (user.LoopbackOnly && !IPAddress.IsLoopback(address)))
        {
            failed.Note(name, address);
            // A password typed into the name's field must not be kept.
            audit.Write(users.Find(name) is null ? "(unknown name)" : name, "sign-in-failed", address.ToString());
            throw new ProblemException(401, "wrong-password", "The name or the password is wrong.");
        }
        audit.Write(name, "sign-in", address.ToString());
        return user;
    }

    private sealed class TokenHandler(IOptionsMonitor<AuthenticationSchemeOptions> options, ILoggerFactory logger, UrlEncoder encoder, Tokens tokens)
        : AuthenticationHandler<AuthenticationSchemeOptions>(options, logger, encoder)
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

/// <summary>Slows down guessing: after five wrong passwords for a name from an address, a minute's wait.</summary>
internal sealed class FailedSignIns(IMemoryCache cache, TimeProvider clock)
{
    private const int Free = 5;
    private static readonly TimeSpan Pause = TimeSpan.FromMinutes(1);

    private sealed class Count
    {
        public int Failures;
        public DateTimeOffset Until;
    }

    /// <summary>How long to wait before the next attempt; null if none is needed.</summary>
    public TimeSpan? Wait(string name, IPAddress address) =>
        cache.TryGetValue(Key(name, address), out Count? count) && count!.Failures >= Free && count.Until > clock.GetUtcNow() ? count.Until - clock.GetUtcNow() : null;

    public void Note(string name, IPAddress address)
    {
        var count = cache.GetOrCreate(Key(name, address), entry =>
        {
            entry.SetSlidingExpiration(TimeSpan.FromMinutes(10));
            return new Count();
        })!;
        if (count.Until < clock.GetUtcNow() && count.Failures >= Free)
            count.Failures = 0;
        Interlocked.Increment(ref count.Failures);
        count.Until = clock.GetUtcNow() + Pause;
    }

    // Hashed, so that a mistyped password in the name's place is kept nowhere.
    private static string Key(string name, IPAddress address) => "failed:" + Convert.ToHexString(SHA256.HashData(System.Text.Encoding.UTF8.GetBytes($"{name}\n{address}")));
}
