using System.Data.Common;
using Weir.Core.Definitions;

namespace Weir.Engines;

/// <summary>What the sources that are servers have in common: an address, a login, and failures to connect told in words.</summary>
public abstract class ServerSource(Source source, EngineFolders folders) : DatabaseSource(source)
{
    /// <summary>How long connecting may take, in seconds.</summary>
    protected const int ConnectSeconds = 10;

    /// <summary>The folders of secrets and files.</summary>
    protected EngineFolders Folders { get; } = folders;

    /// <summary>Where the server is and how to sign in, the password put in.</summary>
    /// <exception cref="SourceException">A secret is missing, or the source points where it may not.</exception>
    protected SourceServer Server =>
        Source.Server! with
        {
            Host = Folders.Reach.Check(Source),
            Password = Secrets.Password(Source, Folders),
        };

    /// <summary>The path of the certificates to trust, null for the machine's own.</summary>
    protected string? Certificate => Source.Server!.Certificate is { } name ? Folders.InSecrets(name) : null;

    /// <summary>A failure to connect: at which step, and what to do.</summary>
    /// <param name="step">name, port, tls, login or rights.</param>
    protected SourceException CannotConnect(string step, Exception cause)
    {
        var server = Source.Server!;
        var (message, remedy) = step switch
        {
            "name" => ($"There is no machine {server.Host}.", "Check host in the source's definition, and the name service."),
            // Whatever else may answer there is told as nothing: a test is no way to look around in a network.
            "port" => (
                $"No database of this kind answers at {server.Host}, port {Secrets.PortOf(Source)}.",
                "Check host and port, that the database runs, and that no firewall stands between."
            ),
            "tls" => (
                $"No encrypted connection to {server.Host} came about.",
                "Check that the server offers TLS, and that certificate names the one that signed its own. tls: false is for trusted networks only."
            ),
            "login" => ($"The login was refused by {server.Host}.", "Check user and the secret that password names."),
            "rights" => (
                $"The login may not use the database {server.Database}, or there is none of that name.",
                "Check database, and grant the login the right to connect and to read."
            ),
            "full" => (
                $"The database of {Source.Title} takes no more connections.",
                "Try again; lower limits.at_once, or raise the server's limit."
            ),
            _ => ($"The database of {Source.Title} can't be reached.", "Run weir source test to see at which step it fails."),
        };
        return new SourceException("source-unavailable", $"{Source.Title}: {message}", remedy, cause) { Data = { ["step"] = step } };
    }

    /// <summary>The step at which the network failed, if it did.</summary>
    protected static string? NetworkStep(Exception error)
    {
        for (Exception? e = error; e is not null; e = e.InnerException)
            switch (e)
            {
                case System.Net.Sockets.SocketException
                {
                    SocketErrorCode: System.Net.Sockets.SocketError.HostNotFound
                        or System.Net.Sockets.SocketError.TryAgain
                        or System.Net.Sockets.SocketError.NoData
                }:
                    return "name";
                case System.Security.Authentication.AuthenticationException:
                    return "tls";
                case System.Net.Sockets.SocketException or TimeoutException:
                    return "port";
            }
        return null;
    }

    /// <summary>Opens a connection, failures told in words.</summary>
    /// <param name="step">The step of a failure that is no matter of the network.</param>
    protected DbConnection Open(DbConnection connection, Func<Exception, string> step, CancellationToken cancellation)
    {
        try
        {
            cancellation.ThrowIfCancellationRequested();
            connection.Open();
            RefuseWriting(connection);
            return connection;
        }
        catch (Exception e)
            when (e
                    is DbException
                        or System.Net.Sockets.SocketException
                        or TimeoutException
                        or IOException
                        or System.Security.Authentication.AuthenticationException
                        or InvalidOperationException
                        or NotSupportedException
                        or SourceException
            )
        {
            connection.Dispose();
            if (e is NotSupportedException)
                throw new SourceException(
                    "source-unavailable",
                    $"{Source.Title}: the driver of {Source.Engine} does not run as this service was started.",
                    "For sqlserver: install ICU, and start the service with DOTNET_SYSTEM_GLOBALIZATION_INVARIANT=false.",
                    e
                );
            if (e is SourceException)
                throw;
            // The name may stand for another machine by now.
            if (NetworkStep(e) is not null)
                Forget();
            throw CannotConnect(step(e) is { Length: > 0 } known ? known : NetworkStep(e) ?? "port", e);
        }
    }

    /// <summary>Lets go of where the server was found, so that its name is looked up anew.</summary>
    protected abstract void Forget();

    private volatile bool _onlyReads;

    /// <summary>Weir's read-only guard is one lock, the login's own rights are the other: one that may write is refused unless the source says so.</summary>
    /// <exception cref="SourceException">The login may write.</exception>
    private void RefuseWriting(DbConnection connection)
    {
        if (_onlyReads || Source.Server!.AllowsWritingLogin || Catalog.MayWrite() is not { } sql)
            return;
        using var command = connection.CreateCommand();
        command.CommandText = sql.Text;
        if (System.Convert.ToInt64(command.ExecuteScalar(), System.Globalization.CultureInfo.InvariantCulture) != 0)
            throw new SourceException(
                "source-unavailable",
                $"{Source.Title}: the login {Source.Server.User} may write.",
                "Give Weir a login that may only read; allow_writing_login: true in the source takes this one all the same."
            )
            {
                Data = { ["step"] = "rights" },
            };
        _onlyReads = true;
    }
}
