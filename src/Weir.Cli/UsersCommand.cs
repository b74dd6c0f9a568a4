using System.CommandLine;
using Spectre.Console;
using Weir.Commands;
using Weir.Core;
using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Store;

namespace Weir.Cli;

/// <summary>weir users: who may sign in. Works on the data folder of this machine, also while the service runs.</summary>
internal static class UsersCommand
{
    public static Command Create()
    {
        var data = new Option<string>("--data")
        {
            Description = "The service's data folder.",
            DefaultValueFactory = _ => ".weir",
            Recursive = true,
        };
        return new Command("users", "Say who may sign in; works on the data folder of this machine.")
        {
            data,
            Put(data),
            List(data),
            Remove(data),
        };
    }

    private static Command Put(Option<string> data)
    {
        var name = new Argument<string>("NAME") { Description = "The name to sign in with." };
        var title = new Option<string?>("--title") { Description = "The name that others see." };
        var roles = new Option<string[]>("--role") { Description = "A role of access.yaml. May be given several times.", Required = true };
        var attributes = new Option<string[]>("--attribute")
        {
            Description =
                "name=value, for row rules; several values with commas between, a comma within one as \\,. May be given several times.",
        };
        var stdin = new Option<bool>("--password-stdin") { Description = "Read the password from standard input instead of asking." };
        var keepTokens = new Option<bool>("--keep-tokens")
        {
            Description = "Let the tokens of a user who is replaced go on; they end with the password otherwise.",
        };
        var command = new Command("put", "Add a user, or replace the one of that name.")
        {
            name,
            title,
            roles,
            attributes,
            stdin,
            keepTokens,
        };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                var user = parsed.GetValue(name)!;
                if (user.Length > 64 || !user.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_' or '.' or '@'))
                    throw new Refusal($"'{user}' can't be a name to sign in with.", "Use letters, digits and - _ . @", ExitCode.Usage);
                var values = new Dictionary<string, List<string>>();
                foreach (var attribute in parsed.GetValue(attributes) ?? [])
                {
                    var equals = attribute.IndexOf('=');
                    if (equals <= 0)
                        throw new Refusal($"'{attribute}' is no attribute.", "Write --attribute ports=SKE.", ExitCode.Usage);
                    if (!values.TryGetValue(attribute[..equals], out var list))
                        values[attribute[..equals]] = list = [];
                    list.AddRange(Values(attribute[(equals + 1)..]));
                }
                var password = parsed.GetValue(stdin)
                    ? await Console.In.ReadLineAsync(cancellation) ?? ""
                    : await new TextPrompt<string>("Password:").Secret().ShowAsync(AnsiConsole.Console, cancellation);
                if (password.Length is < 10 or > 256)
                    throw new Refusal("A password has 10 to 256 characters.");
                var viewer = new Viewer(
                    user,
                    parsed.GetValue(title) ?? user,
                    parsed.GetValue(roles)!,
                    values.ToDictionary(v => v.Key, v => (IReadOnlyList<string>)v.Value)
                );
                var store = StoreDatabase.Open(parsed.GetValue(data)!);
                var workspace = Published(store);
                CheckRoles(viewer.Roles, workspace);
                new Users(store).Put(viewer, password, keepTokens: parsed.GetValue(keepTokens));
                Console.WriteLine($"{user} may sign in{(viewer.Attributes.Count == 0 ? "" : $", with {Written(viewer.Attributes)}")}.");
                foreach (
                    var (role, attribute) in workspace is null ? [] : NeededAttributes.Lacking(viewer.Roles, viewer.Attributes, workspace)
                )
                    Console.WriteLine(
                        $"Note: the role {role} asks for the attribute {attribute}, which {user} lacks: it grants no rows. Add --attribute {attribute}=…."
                    );
                return ExitCode.Yes;
            }
        );
        return command;
    }

    private static Workspace? Published(StoreDatabase store) =>
        new Versions(store, TimeProvider.System).Newest() is { } newest ? WorkspaceText.Read(newest.Files).Workspace : null;

    /// <summary>The values of a list with commas between; <c>\,</c> is a comma within a value.</summary>
    internal static IEnumerable<string> Values(string written) =>
        System.Text.RegularExpressions.Regex.Split(written, @"(?<!\\),").Select(v => v.Replace("\\,", ",").Trim()).Where(v => v.Length > 0);

    private static string Written(IReadOnlyDictionary<string, IReadOnlyList<string>> attributes) =>
        string.Join("; ", attributes.Select(a => $"{a.Key}={string.Join(", ", a.Value.Select(v => v.Contains(',') ? $"'{v}'" : v))}"));

    /// <summary>A mistyped role would grant nothing, and nobody would see why. Before anything is published, any role may be named.</summary>
    private static void CheckRoles(IReadOnlyList<string> roles, Workspace? workspace)
    {
        if (workspace is null)
            return;
        var known = workspace.Access.Roles.Keys.ToList();
        if (roles.FirstOrDefault(r => !known.Contains(r)) is { } unknown)
            throw new Refusal($"The published workspace has no role {unknown}.", Nearest.Remedy(unknown, known));
    }

    private static Command List(Option<string> data)
    {
        var command = new Command("list", "List the users with roles and attributes.");
        command.SetAction(parsed =>
        {
            var store = StoreDatabase.Open(parsed.GetValue(data)!);
            var workspace = Published(store);
            Output.Grid(
                [("Name", false), ("Title", false), ("Roles", false), ("Attributes", false), ("Lacks", false)],
                new Users(store)
                    .All()
                    .Select(u =>
                        (IReadOnlyList<string>)
                            [
                                u.Viewer.Name,
                                u.Viewer.Title,
                                string.Join(", ", u.Viewer.Roles),
                                Written(u.Viewer.Attributes),
                                workspace is null
                                    ? ""
                                    : string.Join(
                                        ", ",
                                        NeededAttributes.Lacking(u.Viewer.Roles, u.Viewer.Attributes, workspace).Select(l => l.Attribute)
                                    ),
                            ]
                    )
            );
            return ExitCode.Yes;
        });
        return command;
    }

    private static Command Remove(Option<string> data)
    {
        var name = new Argument<string>("NAME") { Description = "The user's name." };
        var command = new Command("remove", "Remove a user and end their tokens.") { name };
        command.SetAction(parsed =>
            new Users(StoreDatabase.Open(parsed.GetValue(data)!)).Remove(parsed.GetValue(name)!)
                ? ExitCode.Yes
                : throw new Refusal($"There is no user {parsed.GetValue(name)}.")
        );
        return command;
    }
}
