using Weir.Engines.Workers;

// Started by the service, one for each statement that runs at once; ends with its standard input.
await WorkerLoop.Run(Console.OpenStandardInput(), Console.OpenStandardOutput());
