namespace Weir.Store;

/// <summary>Keeps a data folder for one service: two of them would publish over each other. Gone with the process, however it ends.</summary>
public sealed class DataFolderLock : IDisposable
{
    private readonly FileStream _file;

    private DataFolderLock(FileStream file) => _file = file;

    /// <summary>Takes the folder, and makes it if it is not there; only its owner may read it.</summary>
    /// <exception cref="StoreException">Another service has it, or it can't be written.</exception>
    public static DataFolderLock Take(string folder)
    {
        try
        {
            if (!Directory.Exists(folder))
            {
                if (OperatingSystem.IsWindows())
                    Directory.CreateDirectory(folder);
                else
                    Directory.CreateDirectory(folder, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
            }
            return new DataFolderLock(
                new FileStream(Path.Combine(folder, "service.lock"), FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None)
            );
        }
        catch (IOException e) when (e.HResult is 11 or 35 || e.Message.Contains("being used by another process", StringComparison.Ordinal))
        {
            throw new StoreException(
                "store-unavailable",
                $"Another service runs on the data folder {folder}.",
                "Stop it first, or name another folder with --data.",
                e
            );
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw StoreException.Of(folder, e);
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _file.Dispose();
}
