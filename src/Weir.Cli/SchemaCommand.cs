using System.CommandLine;
using System.Text.Json;
using Weir.Core.Definitions;

namespace Weir.Cli;

/// <summary>weir schema: the JSON Schema of definition files, for editors.</summary>
internal static class SchemaCommand
{
    public static Command Create()
    {
        var command = new Command("schema", "Print the JSON Schema of definition files, for editors.");
        command.SetAction(_ =>
        {
            Console.WriteLine(JsonSchema.Write().ToJsonString(new JsonSerializerOptions { WriteIndented = true, Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping }));
            return ExitCode.Yes;
        });
        return command;
    }
}
