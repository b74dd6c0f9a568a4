using Weir.Cli;
using Weir.Commands;
using Weir.Store;

return await CommandLine.Run(
    args,
    [ServeCommand.Serve(), ServeCommand.Demo(), .. CommandLine.Commands(ConnectedSources.Ask), UsersCommand.Create()],
    fault => fault is StoreException of ? new Refusal(of.Message, of.Remedy) : null
);
