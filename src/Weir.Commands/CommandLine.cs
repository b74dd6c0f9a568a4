using System.CommandLine;
using Spectre.Console;

namespace Weir.Commands;

/// <summary>The commands that ask a running service or read a folder, and how a command line is carried out.</summary>
internal static class CommandLine
{
    /// <param name="ask">Carries out weir check --connect; null where the host does.</param>
    public static IReadOnlyList<Command> Commands(AskSources? ask) =>
        [
            CheckCommand.Create(ask),
            SchemaCommand.Create(),
            SignInCommand.Create(),
            ListCommand.Create(),
            RunCommand.Create(),
            ExportCommand.Create(),
            ReportCommand.Create(),
            SubscriptionCommand.Create(),
            ExplainCommand.Create(),
            DefinitionCommands.Publish(),
            DefinitionCommands.Fetch(),
            HistoryCommands.History(),
            HistoryCommands.Diff(),
            HistoryCommands.Restore(),
            RenameCommand.Create(),
            SourceCommand.Create(),
            AccessCommand.Create(),
            ViewCommand.Create(),
        ];

    /// <summary>Carries out a command line; what goes wrong is told on the standard error.</summary>
    /// <param name="refusal">What to tell of faults that only some commands know; null for one that is none of theirs.</param>
    /// <returns>What the program ends with.</returns>
    public static async Task<int> Run(string[] args, IReadOnlyList<Command> commands, Func<Exception, Refusal?>? refusal = null)
    {
        var root = new RootCommand(
            "Weir serves dashboards over SQL sources; what a viewer's roles do not grant never leaves the database."
        );
        foreach (var command in commands)
            root.Subcommands.Add(command);
        var parsed = root.Parse(args);
        if (parsed.Errors.Count > 0)
        {
            foreach (var error in parsed.Errors)
                Output.Error(error.Message);
            Console.Error.WriteLine(
                $"Try: weir {(parsed.CommandResult.Command == root ? "" : parsed.CommandResult.Command.Name + " ")}--help"
            );
            return ExitCode.Usage;
        }
        try
        {
            return await parsed.InvokeAsync(
                new InvocationConfiguration { EnableDefaultExceptionHandler = false, ProcessTerminationTimeout = null }
            );
        }
        catch (Exception e) when ((e as Refusal ?? refusal?.Invoke(e) ?? Common(e)) is { } told)
        {
            return Tell(told);
        }
    }

    /// <summary>Says why a command is not carried out, and what to do.</summary>
    /// <returns>What the program ends with.</returns>
    public static int Tell(Refusal refusal)
    {
        Output.Error(refusal.Message);
        if (refusal.Remedy is not null)
            Console.Error.WriteLine(refusal.Remedy);
        return refusal.ExitCode;
    }

    private static Refusal? Common(Exception fault) =>
        fault switch
        {
            InvalidOperationException when fault.Message.Contains("non-interactive", StringComparison.Ordinal) => new Refusal(
                "There is no terminal to ask for a password at.",
                "Hand it in: --password-stdin.",
                ExitCode.Usage
            ),
            IOException or UnauthorizedAccessException => new Refusal(fault.Message),
            _ => null,
        };
}
