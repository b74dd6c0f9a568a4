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
            if (source.Server is not null)
            {
                steps.Add(Ok("name", $"{source.Server.Host} is a machine."));
                steps.Add(Ok("port", $"The database answers at port {Secrets.PortOf(source)}."));
                steps.Add(
                    Ok(
                        "tls",
                        source.Server.Tls
                            ? "The connection is encrypted and the server's certificate is trusted."
                            : "The connection is not encrypted.",
                        source.Server.Tls ? null
                            : source.Server.Host is "127.0.0.1" or "localhost" or "::1" ? null
                            : "Set tls: true."
                    )
                );
                steps.Add(Ok("login", $"{source.Server.User} may use the database {source.Server.Database}."));
            }
            else
                steps.Add(Ok("file", source.Folder is null ? $"{source.File} is a database." : $"The folder {source.Folder} can be read."));
            var tables = await open.Tables(cancellation);
            steps.Add(
                tables.Count > 0
                    ? Ok("tables", $"{tables.Count} tables and views can be seen.")
                    : new SourceStep(
                        "tables",
                        "warning",
                        "No table can be seen.",
                        source.Server is null
                            ? "Put tables into it, or check the name."
                            : "Grant the login the right to read the tables that it should show."
                    )
            );
            foreach (var unfit in await open.Unfit(cancellation))
                steps.Add(
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
                        )
                );
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
            var step = e.Data["step"] as string ?? (source.Server is null ? "file" : "reading");
            // What a driver says of a connection that did not come about would tell what else answers there.
            steps.Add(
                new SourceStep(
                    step,
                    "failed",
                    e.InnerException is { } inner && step is not ("name" or "port" or "tls")
                        ? $"{e.Message} ({FirstLine(inner.Message)})"
                        : e.Message,
                    e.Remedy
                )
            );
        }
        return steps;
    }

    private static SourceStep Ok(string step, string message, string? remedy = null) => new(step, "ok", message, remedy);

    private static string FirstLine(string text) => text.Split('\n', 2)[0];
}
