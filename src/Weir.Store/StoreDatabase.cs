using Dapper;
using FluentMigrator.Runner;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;

namespace Weir.Store;

/// <summary>The service's own database: a SQLite file in the data folder. What is acknowledged is on the disk.</summary>
public sealed class StoreDatabase
{
    private readonly string _connectionString;

    static StoreDatabase() => StoredTimes.Register();

    private StoreDatabase(string connectionString) => _connectionString = connectionString;

    /// <summary>Opens the database of a data folder, making or upgrading it if need be.</summary>
    /// <exception cref="StoreException">It can't be.</exception>
    public static StoreDatabase Open(string dataFolder)
    {
        try
        {
            return OpenNow(dataFolder);
        }
        catch (SqliteException e)
        {
            throw StoreException.Of(e);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw StoreException.Of(dataFolder, e);
        }
    }

    private static StoreDatabase OpenNow(string dataFolder)
    {
        Directory.CreateDirectory(dataFolder);
        var file = Path.Combine(dataFolder, "weir.sqlite");
        // It holds hashes of passwords and of tokens: for its owner only, from the first byte on.
        if (!OperatingSystem.IsWindows())
        {
            if (!File.Exists(file))
                new FileStream(
                    file,
                    new FileStreamOptions
                    {
                        Mode = FileMode.OpenOrCreate,
                        Access = FileAccess.Write,
                        Share = FileShare.ReadWrite,
                        UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite,
                    }
                ).Dispose();
            foreach (var part in new[] { file, file + "-wal", file + "-shm" }.Where(File.Exists))
                File.SetUnixFileMode(part, UnixFileMode.UserRead | UnixFileMode.UserWrite);
        }
        var connectionString = new SqliteConnectionStringBuilder
        {
            DataSource = Path.Combine(dataFolder, "weir.sqlite"),
            DefaultTimeout = 10,
        }.ConnectionString;
        using (var first = new SqliteConnection(connectionString))
        {
            first.Open();
            first.Execute("PRAGMA journal_mode = WAL");
        }
        using var services = new ServiceCollection()
            .AddFluentMigratorCore()
            .ConfigureRunner(r =>
                r.AddSQLite().WithGlobalConnectionString(connectionString).ScanIn(typeof(FirstTables).Assembly).For.Migrations()
            )
            .BuildServiceProvider(validateScopes: false);
        using var scope = services.CreateScope();
        scope.ServiceProvider.GetRequiredService<IMigrationRunner>().MigrateUp();
        return new StoreDatabase(connectionString);
    }

    /// <summary>A connection from the pool, for one unit of work.</summary>
    internal SqliteConnection Connect()
    {
        var connection = new SqliteConnection(_connectionString);
        connection.Open();
        // FULL waits for the disk at each commit, so that what was acknowledged survives a kill and a power cut.
        connection.Execute("PRAGMA synchronous = FULL");
        return connection;
    }
}
