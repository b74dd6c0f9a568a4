using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Service.Publishing;

namespace Weir.Service.SignIn;

/// <summary>A request to sign in.</summary>
public sealed record SignInRequest(string Name, string Password);

/// <summary>A request for a token.</summary>
public sealed record TokenRequest(string Name, string Password, string Label, int Days = 30);

/// <summary>A change of one's own password.</summary>
/// <param name="KeepTokens">True to let the tokens of programs go on; they end with the password otherwise.</param>
public sealed record PasswordRequest(string Current, string New, bool KeepTokens = false);

/// <summary>A new token; the secret is shown this once.</summary>
public sealed record NewToken(string Id, string Secret, DateTimeOffset Expires);

/// <summary>A token in a list.</summary>
public sealed record TokenLine(string Id, string Label, DateTimeOffset Created, DateTimeOffset Expires);

/// <summary>Who is signed in.</summary>
/// <param name="RoleTitles">The roles in words.</param>
/// <param name="May">Acts beyond reading.</param>
/// <param name="LookedAsBy">Who looks as this viewer; null for the viewer's own self.</param>
/// <param name="Look">Colours and logo of the workspace; null for the usual look.</param>
public sealed record SessionInfo(
    string Name,
    string Title,
    IReadOnlyList<string> Roles,
    IReadOnlyList<string> RoleTitles,
    IReadOnlyList<string> May,
    string Workspace,
    string? LookedAsBy,
    LookInfo? Look
)
{
    internal static SessionInfo Of(Viewer viewer, LiveWorkspace? live) =>
        new(
            viewer.Name,
            viewer.Title,
            viewer.Roles,
            [.. viewer.Roles.Select(r => live?.Workspace.Access.Roles.GetValueOrDefault(r)?.Title ?? r)],
            live is null ? [] : [.. Acts.All.Where(a => viewer.May(a, live.Workspace))],
            live?.Workspace.Title ?? "",
            viewer.LookedAsBy,
            live?.Workspace is { Look: { } look } workspace ? LookInfo.Of(look, workspace) : null
        );
}

/// <summary>Colours and logo of a workspace.</summary>
/// <param name="Logo">The image, as an address that holds it; null for none.</param>
public sealed record LookInfo(GroundColours Light, GroundColours Dark, string? Logo)
{
    internal static LookInfo Of(WorkspaceLook look, Workspace workspace) =>
        new(
            look.Light,
            look.Dark,
            look.Logo is { } path && workspace.Attachments.TryGetValue(path, out var file)
                ? $"data:{file.MediaType};base64,{Convert.ToBase64String(file.Content.Span)}"
                : null
        );
}
