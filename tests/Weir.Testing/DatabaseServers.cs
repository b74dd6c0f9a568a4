using System.Diagnostics;
using System.Net;
using System.Net.Sockets;

namespace Weir.Testing;

/// <summary>A real database server on a free loopback port, with a folder of its own, stopped by disposing.</summary>
public abstract class DatabaseServer : IDisposable
{
    private readonly TempFolder _folder = Repository.Temp("server");
    private Process? _process;

    /// <summary>Where it listens, from its first start on.</summary>
    public int Port { get; private set; }

    /// <summary>The folder of the server.</summary>
    protected string Folder => _folder.Path;

    /// <summary>The program and its arguments.</summary>
    protected abstract (string Program, string[] Arguments) Command { get; }

    /// <summary>True once the server answers.</summary>
    protected abstract bool Answers();

    // Below the ports that the system hands to outgoing connections: one of those could be taken between here and the server's own bind.
    private static int FreePort()
    {
        while (true)
        {
            var port = Random.Shared.Next(10_000, 32_000);
            try
            {
                using var listener = new TcpListener(IPAddress.Loopback, port);
                listener.Start();
                return port;
            }
            catch (SocketException)
            {
                // somebody else's
            }
        }
    }

    /// <summary>Starts it and waits until it answers: at its port of before, or else at one that proves to be free.</summary>
    /// <exception cref="InvalidOperationException">It ended again or does not answer.</exception>
    public void Start()
    {
        var again = Port != 0;
        for (var left = 5; ; left--)
        {
            if (!again)
                Port = FreePort();
            if (StartedAtPort() is not { } said)
                return;
            Kill();
            if (again || left == 1)
                throw new InvalidOperationException($"{Command.Program} did not start:\n{said}");
        }
    }

    // What it said if it ended or never answered; null where it answers.
    private string? StartedAtPort()
    {
        var (program, arguments) = Command;
        var info = new ProcessStartInfo(program)
        {
            RedirectStandardError = true,
            RedirectStandardOutput = true,
            WorkingDirectory = Folder,
        };
        foreach (var argument in arguments)
            info.ArgumentList.Add(argument);
        _process = Process.Start(info)!;
        var said = new System.Text.StringBuilder();
        _process.ErrorDataReceived += (_, e) =>
        {
            lock (said)
                said.AppendLine(e.Data);
        };
        _process.OutputDataReceived += (_, e) =>
        {
            lock (said)
                said.AppendLine(e.Data);
        };
        _process.BeginErrorReadLine();
        _process.BeginOutputReadLine();
        var waited = Stopwatch.StartNew();
        while (!Answers())
        {
            if (_process.HasExited || waited.Elapsed > TimeSpan.FromMinutes(10))
                lock (said)
                    return said.ToString();
            Thread.Sleep(50); // the server gives no other sign that it is ready
        }
        // Another server may have come to this port in between, and answers in its place.
        if (!_process.HasExited)
            return null;
        lock (said)
            return said.ToString();
    }

    /// <summary>Stops it at once, as a crash would.</summary>
    public void Kill()
    {
        if (_process is null)
            return;
        _process.Kill(entireProcessTree: true);
        _process.WaitForExit();
        _process.Dispose();
        _process = null;
    }

    /// <summary>Stops or continues all its processes, as a machine that hangs would.</summary>
    public void Hang(bool hang)
    {
        foreach (var id in Family(_process!.Id))
            Process.Start("kill", [hang ? "-STOP" : "-CONT", id.ToString()]).WaitForExit();
    }

    private static IEnumerable<int> Family(int id)
    {
        yield return id;
        foreach (var stat in Directory.EnumerateDirectories("/proc").Where(d => char.IsDigit(Path.GetFileName(d)[0])))
        {
            string[] fields;
            try
            {
                fields = File.ReadAllText(Path.Combine(stat, "stat")).Split(')')[^1].Trim().Split(' ');
            }
            catch (IOException)
            {
                continue; // ended meanwhile
            }
            if (int.Parse(fields[1]) == id)
                foreach (var child in Family(int.Parse(Path.GetFileName(stat))))
                    yield return child;
        }
    }

    /// <summary>Runs a program to its end.</summary>
    /// <exception cref="InvalidOperationException">It failed.</exception>
    protected static void Run(string program, params string[] arguments)
    {
        var info = new ProcessStartInfo(program) { RedirectStandardError = true, RedirectStandardOutput = true };
        foreach (var argument in arguments)
            info.ArgumentList.Add(argument);
        using var process = Process.Start(info)!;
        var output = process.StandardOutput.ReadToEndAsync();
        var error = process.StandardError.ReadToEnd();
        process.WaitForExit();
        if (process.ExitCode != 0)
            throw new InvalidOperationException($"{program} {string.Join(' ', arguments)}: {error}{output.Result}");
    }

    /// <summary>A program of a package, where Debian puts it.</summary>
    /// <exception cref="InvalidOperationException">It is not installed.</exception>
    protected static string Program(string package, params string[] places) =>
        places.FirstOrDefault(File.Exists)
        ?? throw new InvalidOperationException($"Install Debian's package {package}: scripts/need-servers.sh does.");

    /// <inheritdoc/>
    public void Dispose()
    {
        Kill();
        GC.SuppressFinalize(this);
        Cleaned();
        _folder.Dispose();
    }

    /// <summary>Makes the folder removable.</summary>
    protected virtual void Cleaned() { }
}

/// <summary>A PostgreSQL server.</summary>
public sealed class PostgresServer : DatabaseServer
{
    private static readonly string Bin = Path.GetDirectoryName(
        Program(
            "postgresql",
            [
                .. Directory.Exists("/usr/lib/postgresql")
                    ? Directory.GetDirectories("/usr/lib/postgresql").Select(d => Path.Combine(d, "bin", "postgres"))
                    : [],
            ]
        )
    )!;

    // PostgreSQL refuses to run as root.
    private static readonly string[] AsOther =
        Environment.UserName == "root" ? ["setpriv", "--reuid=postgres", "--regid=postgres", "--clear-groups"] : [];

    private string Data => Path.Combine(Folder, "data");

    private bool _tls;

    /// <summary>The certificate of a server with TLS, which signed itself.</summary>
    public string Certificate => Path.Combine(Folder, "server.crt");

    private void MakeCertificate()
    {
        using var key = System.Security.Cryptography.RSA.Create(2048);
        var request = new System.Security.Cryptography.X509Certificates.CertificateRequest(
            "CN=localhost",
            key,
            System.Security.Cryptography.HashAlgorithmName.SHA256,
            System.Security.Cryptography.RSASignaturePadding.Pkcs1
        );
        var names = new System.Security.Cryptography.X509Certificates.SubjectAlternativeNameBuilder();
        names.AddDnsName("localhost");
        request.CertificateExtensions.Add(names.Build());
        request.CertificateExtensions.Add(
            new System.Security.Cryptography.X509Certificates.X509BasicConstraintsExtension(true, false, 0, true)
        );
        using var certificate = request.CreateSelfSigned(DateTimeOffset.UtcNow.AddDays(-1), DateTimeOffset.UtcNow.AddDays(30));
        File.WriteAllText(Certificate, certificate.ExportCertificatePem());
        var file = Path.Combine(Folder, "server.key");
        File.WriteAllText(file, key.ExportPkcs8PrivateKeyPem());
        Run("chmod", "600", file);
        if (AsOther.Length > 0)
            Run("chown", "postgres", file);
    }

    /// <summary>Makes and starts it, with the superuser <c>weir</c> and the database <c>weir</c>.</summary>
    /// <param name="tls">True for a certificate of its own.</param>
    public static PostgresServer Started(bool tls = false)
    {
        var server = new PostgresServer { _tls = tls };
        if (AsOther.Length > 0)
            Run("chown", "postgres", server.Folder);
        string[] init =
        [
            .. AsOther,
            Path.Combine(Bin, "initdb"),
            "-D",
            server.Data,
            "-U",
            "weir",
            "--no-sync",
            "-A",
            "trust",
            "-E",
            "UTF8",
            "--locale=C.UTF-8",
        ];
        Run(init[0], init[1..]);
        if (tls)
            server.MakeCertificate();
        server.Start();
        server.Execute("postgres", "CREATE DATABASE weir");
        return server;
    }

    /// <inheritdoc/>
    protected override (string Program, string[] Arguments) Command
    {
        get
        {
            string[] all =
            [
                .. AsOther,
                Path.Combine(Bin, "postgres"),
                "-D",
                Data,
                "-p",
                $"{Port}",
                "-h",
                "127.0.0.1",
                "-k",
                Folder,
                "-c",
                "fsync=off",
                "-c",
                "full_page_writes=off",
                "-c",
                "synchronous_commit=off",
                .. _tls
                    ? new[]
                    {
                        "-c",
                        "ssl=on",
                        "-c",
                        $"ssl_cert_file={Certificate}",
                        "-c",
                        $"ssl_key_file={Path.Combine(Folder, "server.key")}",
                    }
                    : [],
            ];
            return (all[0], all[1..]);
        }
    }

    /// <summary>The connection string of a superuser.</summary>
    public string ConnectionString(string database = "weir") =>
        $"Host=127.0.0.1;Port={Port};Database={database};Username=weir;Pooling=false;Timeout=5";

    /// <inheritdoc/>
    protected override bool Answers()
    {
        try
        {
            using var connection = new Npgsql.NpgsqlConnection(ConnectionString("postgres"));
            connection.Open();
            return true;
        }
        catch (Npgsql.NpgsqlException)
        {
            return false;
        }
    }

    /// <summary>Runs statements as a superuser.</summary>
    public void Execute(string database, string sql)
    {
        using var connection = new Npgsql.NpgsqlConnection(ConnectionString(database));
        connection.Open();
        using var command = new Npgsql.NpgsqlCommand(sql, connection);
        command.ExecuteNonQuery();
    }

    /// <inheritdoc/>
    protected override void Cleaned()
    {
        if (AsOther.Length > 0)
            Run("chown", "-R", "root", Folder);
    }
}

/// <summary>A MariaDB server.</summary>
public sealed class MariaDbServer : DatabaseServer
{
    private static readonly string Daemon = Program("mariadb-server", "/usr/sbin/mariadbd", "/usr/bin/mariadbd");

    private string Data => Path.Combine(Folder, "data");

    // Of its own: at its start a server removes what looks like left-over temporary tables, also those of one that starts beside it.
    private string Temporary => Path.Combine(Folder, "tmp");

    /// <summary>Makes and starts it, with the superuser <c>weir</c> and the database <c>weir</c>.</summary>
    public static MariaDbServer Started()
    {
        var server = new MariaDbServer();
        Directory.CreateDirectory(server.Data);
        Directory.CreateDirectory(server.Temporary);
        var init = Path.Combine(server.Folder, "init.sql");
        File.WriteAllText(
            init,
            "CREATE DATABASE IF NOT EXISTS weir CHARACTER SET utf8mb4;\nCREATE USER IF NOT EXISTS 'weir'@'127.0.0.1' IDENTIFIED BY "
                + "'weir';\nGRANT ALL ON *.* TO 'weir'@'127.0.0.1' WITH GRANT OPTION;\n"
        );
        string[] user = Environment.UserName == "root" ? ["--user=root"] : [];
        Run(
            Program("mariadb-server", "/usr/bin/mariadb-install-db"),
            [
                $"--datadir={server.Data}",
                "--auth-root-authentication-method=normal",
                "--skip-test-db",
                "--innodb-use-native-aio=0",
                $"--tmpdir={server.Temporary}",
                .. user,
            ]
        );
        server.Start();
        return server;
    }

    /// <inheritdoc/>
    protected override (string Program, string[] Arguments) Command =>
        (
            Daemon,
            [
                "--no-defaults",
                $"--datadir={Data}",
                $"--port={Port}",
                "--bind-address=127.0.0.1",
                $"--socket={Path.Combine(Folder, "s")}",
                $"--pid-file={Path.Combine(Folder, "pid")}",
                $"--init-file={Path.Combine(Folder, "init.sql")}",
                "--skip-name-resolve",
                "--innodb-flush-log-at-trx-commit=0",
                "--innodb-use-native-aio=0",
                $"--tmpdir={Temporary}",
                "--innodb-buffer-pool-size=256M",
                .. Environment.UserName == "root" ? new[] { "--user=root" } : [],
            ]
        );

    /// <summary>The connection string of a superuser.</summary>
    public string ConnectionString(string database = "weir") =>
        $"Server=127.0.0.1;Port={Port};Database={database};User ID=weir;Password=weir;Pooling=false;SslMode=None;AllowLoadLocalInfile=true";

    /// <inheritdoc/>
    protected override bool Answers()
    {
        try
        {
            using var connection = new MySqlConnector.MySqlConnection(ConnectionString());
            connection.Open();
            return true;
        }
        catch (MySqlConnector.MySqlException)
        {
            return false;
        }
    }

    /// <summary>Runs statements as a superuser.</summary>
    public void Execute(string sql)
    {
        using var connection = new MySqlConnector.MySqlConnection(ConnectionString());
        connection.Open();
        using var command = new MySqlConnector.MySqlCommand(sql, connection);
        command.ExecuteNonQuery();
    }
}
