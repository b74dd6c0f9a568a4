using System.CommandLine;

namespace Weir.Commands;

/// <summary>The --format option: output for people by default, for programs on request.</summary>
internal static class Formats
{
    public static Option<string> Option(params string[] formats)
    {
        var option = new Option<string>("--format") { Description = "The form of the output.", DefaultValueFactory = _ => formats[0] };
        option.AcceptOnlyFromAmong(formats);
        return option;
    }
}
