using System.Text.Json;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Microsoft.Data.Sqlite;
using Weir.Engines;
using Weir.Store;

namespace Weir.Service;

/// <summary>A request that is refused: answered as problem details (RFC 9457) with a stable code.</summary>
/// <param name="status">The HTTP status.</param>
/// <param name="code">A stable code such as <c>unknown-tile</c>.</param>
/// <param name="retryAfter">When to come again, for the header Retry-After.</param>
internal sealed class ProblemException(int status, string code, string detail, string? remedy = null, TimeSpan? retryAfter = null)
    : Exception(detail)
{
    public TimeSpan? RetryAfter { get; } = retryAfter;

    public int Status { get; } = status;

    public string Code { get; } = code;

    public string? Remedy { get; } = remedy;

    /// <summary>What is not there and what may not be seen answer alike.</summary>
    public static ProblemException UnknownDashboard(string name) =>
        new(404, "unknown-dashboard", $"There is no dashboard {Short(name)}.", "GET /api/dashboards lists those there are.");

    public static ProblemException UnknownDataset(string name) =>
        new(404, "unknown-dataset", $"There is no dataset {Short(name)}.", "Choose one of your datasets.");

    public static ProblemException UnknownTile(string name) =>
        new(404, "unknown-tile", $"There is no tile {Short(name)} on this dashboard.");

    public static ProblemException UnknownView(string name) =>
        new(
            404,
            "unknown-view",
            $"You have no view {Short(name)} of this dashboard.",
            "It may have been removed; open the dashboard without it."
        );

    public static ProblemException MayNot(string act) => new(403, "not-allowed", $"Your roles do not allow you to {act}.");

    /// <summary>A name as it is said in a refusal, however long it came.</summary>
    internal static string Short(string name) => name.Length <= 64 ? name : name[..64] + "…";
}

/// <summary>Turns every failure into problem details; nothing of the inside is told.</summary>
internal static class Problems
{
    public static ProblemDetails Details(int status, string code, string detail, string? remedy)
    {
        var problem = new ProblemDetails
        {
            Status = status,
            Type = $"urn:weir:problem:{code}",
            Title = code.Replace('-', ' '),
            Detail = detail,
        };
        problem.Extensions["code"] = code;
        if (remedy is not null)
            problem.Extensions["remedy"] = remedy;
        return problem;
    }

    public static Task Write(HttpContext context, int status, string code, string detail, string? remedy = null)
    {
        context.Response.StatusCode = status;
        return context.Response.WriteAsJsonAsync(
            Details(status, code, detail, remedy),
            options: null,
            contentType: "application/problem+json"
        );
    }

    public static void UseProblems(this WebApplication app)
    {
        app.UseExceptionHandler(
            new ExceptionHandlerOptions
            {
                ExceptionHandler = async context =>
                {
                    var error = context.Features.Get<IExceptionHandlerFeature>()!.Error;
                    var (status, code, detail, remedy) = Describe(error);
                    if (error is ProblemException { RetryAfter: { } wait })
                        context.Response.Headers.RetryAfter = Math.Ceiling(wait.TotalSeconds)
                            .ToString(System.Globalization.CultureInfo.InvariantCulture);
                    await Write(context, status, code, detail, remedy);
                },
                // What is refused on purpose, or given up by the asker, is no error of the service.
                SuppressDiagnosticsCallback = c =>
                    c.Exception
                        is ProblemException
                            or SourceException
                            or BadHttpRequestException
                            or NotSupportedException { Source: "System.Text.Json" }
                    || c.HttpContext.RequestAborted.IsCancellationRequested,
            }
        );
        app.UseStatusCodePages(async pages =>
        {
            var context = pages.HttpContext;
            var (code, detail) = context.Response.StatusCode switch
            {
                401 => ("sign-in-needed", "Sign in first."),
                403 => ("not-allowed", "Your roles do not allow this."),
                404 => ("unknown-address", $"There is nothing at {context.Request.Path}."),
                405 => ("wrong-method", $"{context.Request.Method} is not understood here."),
                413 => ("request-too-large", "The request is too large."),
                415 => ("not-json", "Send JSON with Content-Type: application/json."),
                var other => ("refused", $"The request was refused with status {other}."),
            };
            await Write(context, context.Response.StatusCode, code, detail);
        });
    }

    internal static (int Status, string Code, string Detail, string? Remedy) Describe(Exception error) =>
        error switch
        {
            ProblemException p => (p.Status, p.Code, p.Message, p.Remedy),
            SourceException s => (s.Code is "source-busy" or "source-paced" ? 503 : 502, s.Code, s.Message, s.Remedy),
            StoreException s => (s.Code == "store-full" ? 507 : 503, s.Code, s.Message, s.Remedy),
            SqliteException database => Describe(StoreException.Of(database)),
            BadHttpRequestException { StatusCode: 413 } => (
                413,
                "request-too-large",
                "The request is too large.",
                "Requests may have 1 MB, publishing 8 MB."
            ),
            NotSupportedException { Source: "System.Text.Json" } => (
                400,
                "bad-json",
                "The body can't be understood: it does not say of which kind it is.",
                "An edit has the key edit; see docs/commands.md and the OpenAPI document."
            ),
            BadHttpRequestException { InnerException: JsonException json } => (
                400,
                "bad-json",
                $"The body can't be understood: {json.Message}",
                null
            ),
            BadHttpRequestException bad when bad.Message.StartsWith("Implicit body inferred", StringComparison.Ordinal) => (
                400,
                "no-body",
                "The request has no body, and needs one.",
                "Send JSON with Content-Type: application/json; the OpenAPI document tells its keys."
            ),
            BadHttpRequestException bad => (bad.StatusCode, "bad-request", bad.Message, null),
            _ => (500, "internal-error", "Something went wrong inside the service; its log tells what.", null),
        };
}
