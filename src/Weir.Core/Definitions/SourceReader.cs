using System.Text.RegularExpressions;
using YamlDotNet.RepresentationModel;

namespace Weir.Core.Definitions;

/// <summary>Reads where data come from, and sees to it that no secret stands in it.</summary>
internal static class SourceReader
{
    private static readonly HashSet<string> OfEngines = [.. SourceEngines.All.Values.SelectMany(e => e.Needs.Concat(e.Knows))];

    /// <summary>Reads a source; what is wrong with it is reported where it is written.</summary>
    public static Source Read(YamlText text, YamlMappingNode root)
    {
        var name = text.Name(root, "source");
        var engine = YamlText.Value(root, "engine")!;
        CheckKeys(text, root, engine);
        CheckSecrets(text, root);
        return new Source(name, YamlText.Value(root, "title") ?? Titles.FromName(name), engine, LimitsOf(root))
        {
            File = YamlText.Value(root, "file"),
            Folder = YamlText.Value(root, "folder"),
            Server = YamlText.Value(root, "host") is { } host ? ServerOf(root, host) : null,
            Session = SessionOf(text, root),
            Refresh = YamlText.Node(root, "refresh") is { } refresh
                ? new RefreshLimits(
                    YamlText.Number(refresh, "least_seconds", 10),
                    YamlText.Node(refresh, "at_once") is null ? null : YamlText.Number(refresh, "at_once", 1)
                )
                : new RefreshLimits(10),
        };
    }

    /// <summary>Each engine needs keys of its own, and knows others.</summary>
    private static void CheckKeys(YamlText text, YamlMappingNode root, string engine)
    {
        var (needs, knows) = SourceEngines.All[engine];
        foreach (var key in needs.Where(k => YamlText.Node(root, k) is null))
            text.Report("missing-key", YamlText.Node(root, "engine")!, $"A source of {engine} needs the key {key}.");
        foreach (
            var key in root
                .Children.Keys.OfType<YamlScalarNode>()
                .Where(k => OfEngines.Contains(k.Value!) && !needs.Contains(k.Value!) && !knows.Contains(k.Value!))
        )
            text.Report(
                "unknown-key",
                key,
                $"A source of {engine} has no {key.Value}.",
                $"It has {string.Join(", ", needs.Concat(knows))}."
            );
    }

    /// <summary>A secret is named and never written, in the password and nowhere else, and is none but the service's for sources.</summary>
    private static void CheckSecrets(YamlText text, YamlMappingNode root)
    {
        var password = YamlText.Node(root, "password") as YamlScalarNode;
        if (password is { Value: { } plain } && !plain.Contains("${", StringComparison.Ordinal))
            text.Report(
                "secret-in-file",
                password,
                "A password must not stand in a definition.",
                "Write password: ${env:WEIR_SECRET_NAME} or ${secret:NAME}."
            );
        foreach (var key in (ReadOnlySpan<string>)["host", "database", "user", "schema", "certificate", "file", "folder"])
            if (YamlText.Node(root, key) is YamlScalarNode { Value: { } value } named && value.Contains("${", StringComparison.Ordinal))
                text.Report("secret-not-here", named, "A secret may stand in password only.", "Write the value itself.");
        if (password is { Value: { } variable } && Regex.IsMatch(variable, @"\$\{env:(?!WEIR_SECRET_)"))
            text.Report(
                "secret-not-here",
                password,
                "Only variables whose names begin with WEIR_SECRET_ can be read.",
                "Name it so where the service is started."
            );
    }

    private static SourceLimits LimitsOf(YamlMappingNode root)
    {
        var limits = YamlText.Node(root, "limits") ?? new YamlMappingNode();
        return new SourceLimits(
            YamlText.Number(limits, "seconds", 30),
            YamlText.Number(limits, "rows", 10_000),
            YamlText.Number(limits, "at_once", 2),
            YamlText.Number(limits, "memory_mb", 160),
            YamlText.Number(limits, "waiting", 500)
        )
        {
            ExportRows = YamlText.Number(limits, "export_rows", 1_000_000),
            AMinute = YamlText.Node(limits, "a_minute") is null ? null : YamlText.Number(limits, "a_minute", 0),
        };
    }

    /// <summary>What the database is told of who asks: by its variables the attributes of the viewer.</summary>
    private static Dictionary<string, string> SessionOf(YamlText text, YamlMappingNode root)
    {
        var session = new Dictionary<string, string>();
        foreach (var (key, value) in YamlText.Map(root, "session"))
            if (
                value is YamlScalarNode { Value: { } attribute }
                && attribute.StartsWith("user.", StringComparison.Ordinal)
                && attribute.Length > 5
            )
                session[key.Value!] = attribute[5..];
            else
                text.Report(
                    "bad-session",
                    value,
                    "The database is told what the viewer is: user.name or another attribute.",
                    "Write, for example, viewer: user.name."
                );
        return session;
    }

    private static SourceServer ServerOf(YamlMappingNode root, string host) =>
        new(
            host,
            YamlText.Node(root, "port") is null ? null : YamlText.Number(root, "port", 0),
            YamlText.Value(root, "database") ?? "",
            YamlText.Value(root, "user") ?? "",
            YamlText.Value(root, "password"),
            YamlText.Value(root, "schema"),
            // Encrypted unless the server is on this machine or the developer says otherwise.
            YamlText.Node(root, "tls")
                is null
                ? host is not ("localhost" or "127.0.0.1" or "::1")
                : YamlText.IsSet(root, "tls"),
            YamlText.Value(root, "certificate")
        )
        {
            AllowsWritingLogin = YamlText.IsSet(root, "allow_writing_login"),
        };
}
