using System.CommandLine;
using Spectre.Console;
using Weir.Service;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Commands;

/// <summary>weir sign-in: get a personal token and keep it for the next commands.</summary>
internal static class SignInCommand
{
    public static Command Create()
    {
        var url = new Argument<string>("URL")
        {
            Description = "The service's address.",
            DefaultValueFactory = _ => "http://127.0.0.1:7410",
        };
        var name = new Option<string>("--name") { Description = "Your name at the service.", Required = true };
        var stdin = new Option<bool>("--password-stdin") { Description = "Read the password from standard input instead of asking." };
        var days = new Option<int>("--days") { Description = "How long the token lives.", DefaultValueFactory = _ => 30 };
        var command = new Command("sign-in", "Sign in to a service; the token is kept for the next commands.") { url, name, stdin, days };
        command.SetAction(
            async (parsed, cancellation) =>
            {
                if (!parsed.GetValue(stdin) && Console.IsInputRedirected)
                    throw new Refusal("There is nobody to ask for the password.", "Use --password-stdin.", ExitCode.Usage);
                var password = parsed.GetValue(stdin)
                    ? await Console.In.ReadLineAsync(cancellation) ?? ""
                    : await new TextPrompt<string>("Password:").Secret().ShowAsync(AnsiConsole.Console, cancellation);
                var address = parsed.GetValue(url)!;
                using var client = new Client(address, token: null);
                var request = new TokenRequest(
                    parsed.GetValue(name)!,
                    password,
                    $"weir on {Environment.MachineName}",
                    parsed.GetValue(days)
                );
                var token = await client.Send<NewToken>(HttpMethod.Post, "api/tokens", request, cancellation);
                new SignInFile(address, token.Secret).WithOthers().Keep();
                AnsiConsole.MarkupLineInterpolated($"Signed in to {address} as [bold]{request.Name}[/] until {token.Expires:d MMM yyyy}.");
                return ExitCode.Yes;
            }
        );
        return command;
    }
}
