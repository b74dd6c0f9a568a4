using System.Diagnostics;

namespace Weir.Service.Publishing;

/// <summary>
/// The git checkout that a folder of definitions lies in: what people publish is committed there, each file that it changed and no other, with
/// the name of who published as its author. It is git itself that does it, with the settings and hooks of whoever owns the checkout.
/// </summary>
/// <param name="folder">The folder, which may lie anywhere within the checkout.</param>
public sealed class GitCheckout(string folder)
{
    /// <summary>A hook may take its time; nobody can publish meanwhile.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(60);

    /// <summary>Why nothing could be committed in the folder; null if all is well.</summary>
    public string? Problem()
    {
        try
        {
            return Run(["rev-parse", "--is-inside-work-tree"]) == "true" ? null : "it is no git checkout";
        }
        catch (GitException e)
        {
            return e.Message;
        }
    }

    /// <summary>Commits files as they are in the folder; nothing if git has them so already.</summary>
    /// <param name="paths">Relative to the folder; those that are gone too.</param>
    /// <param name="name">The name by which the author signs in.</param>
    /// <param name="title">The author as others read it.</param>
    /// <param name="message">Why; what else is staged in the checkout is not committed with it.</param>
    /// <exception cref="GitException">git refused.</exception>
    public void Commit(IReadOnlyList<string> paths, string name, string title, string message)
    {
        var (there, gone) = (paths.Where(IsThere).ToList(), paths.Where(p => !IsThere(p)).ToList());
        if (there.Count > 0)
            Run(["add", "--", .. there]);
        if (gone.Count > 0)
            Run(["rm", "--cached", "--quiet", "--ignore-unmatch", "--", .. gone]);
        var changed = Run(["diff", "--cached", "--name-only", "--no-renames", "--relative", "-z", "--", .. paths])
            .Split('\0', StringSplitOptions.RemoveEmptyEntries);
        if (changed.Length == 0)
            return;
        var author = string.Concat(title.Where(c => !char.IsControl(c) && c is not ('<' or '>'))).Trim();
        Run(
            ["commit", "--quiet", $"--author={(author.Length > 0 ? author : name)} <{name}@weir.invalid>", "-F", "-", "--", .. changed],
            message
        );
    }

    private bool IsThere(string path) => File.Exists(Path.Combine(folder, path));

    private string Run(IReadOnlyList<string> arguments, string input = "")
    {
        var info = new ProcessStartInfo("git")
        {
            WorkingDirectory = folder,
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        // The service has no name of its own in the checkout's settings.
        foreach (
            var argument in (string[])["-c", "user.name=Weir", "-c", "user.email=weir@weir.invalid", "--literal-pathspecs", .. arguments]
        )
            info.ArgumentList.Add(argument);
        info.Environment["GIT_TERMINAL_PROMPT"] = "0";
        // Hooks are not the service: its secrets are none of theirs.
        foreach (var own in info.Environment.Keys.Where(k => k.StartsWith("WEIR_", StringComparison.Ordinal)).ToList())
            info.Environment.Remove(own);
        Process process;
        try
        {
            process = Process.Start(info)!;
        }
        catch (System.ComponentModel.Win32Exception e)
        {
            throw new GitException($"git can't be run: {e.Message}");
        }
        using (process)
        {
            var (output, error) = (process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
            process.StandardInput.Write(input);
            process.StandardInput.Close();
            if (!process.WaitForExit(Patience))
            {
                process.Kill(entireProcessTree: true);
                throw new GitException($"git {arguments[0]} took longer than {Patience.TotalSeconds:0} seconds");
            }
            if (process.ExitCode != 0)
                throw new GitException($"git {arguments[0]}: {error.Result.Trim()}");
            return output.Result.TrimEnd('\n');
        }
    }
}

/// <summary>git refused to do something.</summary>
public sealed class GitException(string message) : Exception(message);
