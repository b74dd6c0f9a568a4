using System.CommandLine;
using System.Text.Json;
using Weir.Core;
using Weir.Core.Definitions;
using Weir.Core.Pictures;

namespace Weir.Commands;

/// <summary>weir schema: the JSON Schema of definition files, for editors.</summary>
internal static class SchemaCommand
{
    private static readonly JsonSerializerOptions ForPeople = new()
    {
        WriteIndented = true,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    public static Command Create()
    {
        var pictures = new Option<bool>("--pictures")
        {
            Description = "Print the kinds of picture as a table instead: what each shows and how it is picked.",
        };
        var command = new Command("schema", "Print the JSON Schema of definition files, for editors.") { pictures };
        command.SetAction(parsed =>
        {
            Console.Write(
                parsed.GetValue(pictures)
                    ? PictureTable.Write(PictureKinds.All)
                    : JsonSchema.Write(WorkspaceText.Shapes).ToJsonString(ForPeople) + "\n"
            );
            return ExitCode.Yes;
        });
        return command;
    }
}
