using Weir.Commands;

// What asks a running service or reads a folder is done here, where nothing has to be compiled first; the rest is the host's.
var commands = CommandLine.Commands(ask: null);
try
{
    return args is [var first, ..] && commands.Any(c => c.Name == first) ? await CommandLine.Run(args, commands) : Host.TakeOver();
}
catch (Refusal refusal)
{
    return CommandLine.Tell(refusal);
}
