using System.CommandLine;
using Spectre.Console;
using Weir.Cli;

var root = new RootCommand("Weir serves dashboards over SQL sources; what a viewer's roles do not grant never leaves the database.")
{
    ServeCommand.Serve(),
    ServeCommand.Demo(),
    CheckCommand.Create(),
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
    UsersCommand.Create(),
    AccessCommand.Create(),
    ViewCommand.Create(),
};

var parsed = root.Parse(args);
if (parsed.Errors.Count > 0)
{
    foreach (var error in parsed.Errors)
        Output.Error(error.Message);
    Console.Error.WriteLine(
        $"Try: weir {string.Join(' ', parsed.CommandResult.Command == root ? [] : new[] { parsed.CommandResult.Command.Name })} --help"
    );
    return ExitCode.Usage;
}
try
{
    return await parsed.InvokeAsync(
        new InvocationConfiguration { EnableDefaultExceptionHandler = false, ProcessTerminationTimeout = null }
    );
}
catch (Refusal refusal)
{
    Output.Error(refusal.Message);
    if (refusal.Remedy is not null)
        Console.Error.WriteLine(refusal.Remedy);
    return refusal.ExitCode;
}
catch (InvalidOperationException e) when (e.Message.Contains("non-interactive", StringComparison.Ordinal))
{
    Output.Error("There is no terminal to ask for a password at.");
    Console.Error.WriteLine("Hand it in: --password-stdin.");
    return ExitCode.Usage;
}
catch (Weir.Store.StoreException e)
{
    Output.Error(e.Message);
    Console.Error.WriteLine(e.Remedy);
    return ExitCode.No;
}
catch (Exception e) when (e is IOException or UnauthorizedAccessException)
{
    Output.Error(e.Message);
    return ExitCode.No;
}
