using System.Diagnostics.CodeAnalysis;
using System.Runtime.InteropServices;

namespace Weir.Commands;

/// <summary>The program beside this one that can all: serve, make the demo, ask sources, see to users.</summary>
internal static partial class Host
{
    /// <summary>Becomes that program, with the same words, streams and process id; whoever waits for this process or stops it notices nothing.</summary>
    /// <returns>Nothing: what was called is gone then.</returns>
    /// <exception cref="Refusal">It is missing or can't be run.</exception>
    [DoesNotReturn]
    public static int TakeOver()
    {
        var path = Path.Combine(AppContext.BaseDirectory, "weir-host");
        _ = Execute(path, [path, .. Environment.GetCommandLineArgs()[1..], null]);
        throw new Refusal(
            $"{path} can't be started: {Marshal.GetPInvokeErrorMessage(Marshal.GetLastPInvokeError())}.",
            "Put the service's files in place again: weir-host stands beside weir."
        );
    }

    [LibraryImport("libc", EntryPoint = "execv", SetLastError = true, StringMarshalling = StringMarshalling.Utf8)]
    private static partial int Execute(string path, string?[] arguments);
}
