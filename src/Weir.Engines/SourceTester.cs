using System.Net;
using System.Net.Sockets;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Queries;

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
    public static async Task<IReadOnlyList<SourceStep>> Test(Source source, EngineFolders folders, CancellationToken cancellation)
    {
        var steps = new List<SourceStep>();
        if (source.Server is { } server && !await Network(steps, server, source.Engine, folders, cancellation))
            return steps;
        var engine = Engines.ByName(source.Engine);
        await using var open = engine.Open(source, folders);
        try
        {
            await open.Read(new SqlText("SELECT 1", []), [ValueKind.Integer], Nobody, cancellation);
            if (source.Server is not null)
            {
                steps.Add(Ok("tls", source.Server.Tls ? "The connection is encrypted and the server's certificate is trusted." : "The connection is not encrypted.", source.Server.Tls ? null : source.Server.Host is "127.0.0.1" or "localhost" or "::1" ? null : "Set tls: true."));
                steps.Add(Ok("login", $"{source.Server.User} may use the database {source.Server.Database}."));
            }
            else
                steps.Add(Ok("file", source.Folder is null ? $"{source.File} is a database." : $"The folder {source.Folder} can be read."));
            var tables = await open.Tables(cancellation);
            steps.Add(tables.Count > 0 ? Ok("tables", $"{tables.Count} tables and views can be seen.")
                : new SourceStep("tables", "warning", "No table can be seen.", source.Server is null ? "Put tables into it, or check the name." : "Grant the login the right to read the tables that it should show."));
            foreach (var unfit in await open.Unfit(cancellation))
                steps.Add(new SourceStep("values", "warning", $"{unfit.Table}.{unfit.Column}: {unfit.Count:N0} do not fit {unfit.Type}: {string.Join("; ", unfit.Examples.Take(3))}", "Mend the file, or read the column as text."));
            if (await open.MayWrite(cancellation) is true)
                steps.Add(new SourceStep("rights", "warning", $"The login {source.Server!.User} may write. It is used for reading only all the same.", "Give Weir a login that may only read."));
            else if (source.Server is not null)
                steps.Add(Ok("rights", "The login may only read."));
        }
        catch (SourceException e)
        {
            var step = e.Data["step"] as string ?? (source.Server is null ? "file" : "reading");
            steps.Add(new SourceStep(step, "failed", e.InnerException is { } inner ? $"{e.Message} ({FirstLine(inner.Message)})" : e.Message, e.Remedy));
        }
        return steps;
    }

    private static async Task<bool> Network(List<SourceStep> steps, SourceServer server, string engine, EngineFolders folders, CancellationToken cancellation)
    {
        IPAddress[] addresses;
        string host;
        try
        {
            host = Secrets.Resolve(server.Host, folders);
            addresses = await Dns.GetHostAddressesAsync(host, cancellation);
            steps.Add(Ok("name", $"{host} is {addresses[0]}."));
        }
        catch (SocketException e)
        {
            steps.Add(new SourceStep("name", "failed", $"There is no machine {server.Host}. ({e.Message})", "Check host in the source's definition, and the name service."));
            return false;
        }
        catch (SourceException e)
        {
            steps.Add(new SourceStep("name", "failed", e.Message, e.Remedy));
            return false;
        }
        var port = server.Port ?? engine switch { "postgresql" => 5432, "sqlserver" => 1433, _ => 3306 };
        using var timeout = CancellationTokenSource.CreateLinkedTokenSource(cancellation);
        timeout.CancelAfter(TimeSpan.FromSeconds(5));
        try
        {
            using var socket = new TcpClient();
            await socket.ConnectAsync(addresses, port, timeout.Token);
            steps.Add(Ok("port", $"Something answers at port {port}."));
            return true;
        }
        catch (Exception e) when (e is SocketException or OperationCanceledException && !cancellation.IsCancellationRequested)
        {
            steps.Add(new SourceStep("port", "failed", $"Nothing answers at {host}, port {port}.", "Check host and port, that the database runs, and that no firewall stands between."));
            return false;
        }
    }

    private static SourceStep Ok(string step, string message, string? remedy = null) => new(step, "ok", message, remedy);

    private static string FirstLine(string text) => text.Split('\n', 2)[0];
}
