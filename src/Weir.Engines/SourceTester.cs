using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines;

/// <summary>A step of the test of a source.</summary>
/// <param name="Step">name, port, login, reading, tables or rights; for files: file, tables, values.</param>
/// <param name="State">ok, failed or warning.</param>
/// <param name="Remedy">What to do, unless all is well.</param>
public sealed record SourceStep(string Step, string State, string Message, string? Remedy);

/// <summary>Tests a source step by step, so that a failure tells where it lies.</summary>
public static class SourceTester
{
    private static readonly IReadOnlyDictionary<string, string> Nobody = new Dictionary<string, string>();

    /// <summary>Runs the steps until one fails. Never throws for what is wrong with the source.</summary>
    /// <param name="through">What the source is asked through, such as what keeps its pace; null for nothing.</param>
    public static async Task<IReadOnlyList<SourceStep>> Test(
        Source source,
        EngineFolders folders,
        CancellationToken cancellation,
        Func<IEngineSource, IEngineSource>? through = null
    )
    {
        var steps = new List<SourceStep>();
        await using var opened = Workers.GuardedSource.Open(source, folders);
        var open = through?.Invoke(opened) ?? opened;
        try
        {
            await open.Read(new SqlText("SELECT 1", []), [ValueKind.Integer], Nobody, cancellation);
            steps.AddRange(Reached(source));
            steps.Add(Seen(source, (await open.Tables(cancellation)).Count));
            steps.AddRange((await open.Unfit(cancellation)).Select(Misfit));
            if (await open.MayWrite(cancellation) is true)
                steps.Add(
                    new SourceStep(
                        "rights",
                        "warning",
                        $"The login {source.Server!.User} may write. It is used for reading only all the same.",
                        "Give Weir a login that may only read."
                    )
                );
            else if (source.Server is not null)
                steps.Add(Ok("rights", "The login may only read."));
        }
        catch (SourceException e)
        {
            steps.Add(Failed(source, e));
        }
        return steps;
    }

    /// <summary>The steps that are done once a question was answered.</summary>
    private static IEnumerable<SourceStep> Reached(Source source)
    {
        if (source.Server is not { } server)
        {
            yield return Ok("file", source.Folder is null ? $"{source.File} is a database." : $"The folder {source.Folder} can be read.");
            yield break;
        }
        yield return Ok("name", $"{server.Host} is a machine.");
        yield return Ok("port", $"The database answers at port {Secrets.PortOf(source)}.");
        yield return server.Tls
            ? Ok("tls", "The connection is encrypted and the server's certificate is trusted.")
            : Ok("tls", "The connection is not encrypted.", server.Host is "127.0.0.1" or "localhost" or "::1" ? null : "Set tls: true.");
        yield return Ok("login", $"{server.User} may use the database {server.Database}.");
    }

    private static SourceStep Seen(Source source, int tables) =>
        tables > 0
            ? Ok("tables", $"{tables} tables and views can be seen.")
            : new SourceStep(
                "tables",
                "warning",
                "No table can be seen.",
                source.Server is null
                    ? "Put tables into it, or check the name."
                    : "Grant the login the right to read the tables that it should show."
            );

    private static SourceStep Misfit(Unfit unfit) =>
        unfit.Type == "file"
            ? new SourceStep(
                "values",
                "warning",
                $"{unfit.Table}: {string.Join("; ", unfit.Examples)}",
                "Mend the file, or take it out of the folder."
            )
            : new SourceStep(
                "values",
                "warning",
                $"{unfit.Table}.{unfit.Column}: {unfit.Count:N0} do not fit {unfit.Type}: {string.Join("; ", unfit.Examples.Take(3))}",
                "Mend the file, or read the column as text."
            );

    private static SourceStep Failed(Source source, SourceException e)
    {
        var step = e.Data["step"] as string ?? (source.Server is null ? "file" : "reading");
        // What a driver says of a connection that did not come about would tell what else answers there.
        var mayTell = step is not ("name" or "port" or "tls");
        var message = e.InnerException is { } inner && mayTell ? $"{e.Message} ({FirstLine(inner.Message)})" : e.Message;
        return new SourceStep(step, "failed", message, e.Remedy);
    }

    private static SourceStep Ok(string step, string message, string? remedy = null) => new(step, "ok", message, remedy);

    private static string FirstLine(string text) => text.Split('\n', 2)[0];
}
