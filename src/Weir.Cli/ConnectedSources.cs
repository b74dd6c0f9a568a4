using Weir.Core.Definitions;
using Weir.Engines;

namespace Weir.Cli;

/// <summary>weir check --connect: the definitions against the sources themselves.</summary>
internal static class ConnectedSources
{
    /// <inheritdoc cref="Commands.AskSources"/>
    public static async Task<(IReadOnlyList<Fault> Faults, int TilesAsked)> Ask(
        Workspace workspace,
        string files,
        string secrets,
        CancellationToken cancellation
    )
    {
        var now = TimeZoneInfo.ConvertTime(DateTimeOffset.UtcNow, TimeZoneInfo.FindSystemTimeZoneById(workspace.TimeZone)).DateTime;
        await using var connected = new ConnectedCheck(
            workspace,
            new EngineFolders(Path.GetFullPath(files), Path.GetFullPath(secrets), Path.Combine(Path.GetTempPath(), "weir-check"))
            {
                Worker = EngineFolders.WorkerBeside(),
            },
            now
        );
        return (await connected.Run(cancellation), connected.TilesAsked);
    }
}
