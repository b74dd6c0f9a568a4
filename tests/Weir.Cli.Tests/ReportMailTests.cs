using System.Net;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using System.Text.Json;
using Shouldly;
using Weir.Demo;
using Weir.Store;
using Weir.Testing;

namespace Weir.Cli.Tests;

/// <summary>Reports go out by a mail server that is known by its certificate and lets in whom it knows.</summary>
public sealed class ReportMailTests : IDisposable
{
    private const string Password = "gull-over-skerrin";
    private readonly TempFolder _folder = Repository.Temp();

    public void Dispose() => _folder.Dispose();

    private static X509Certificate2 Certificate()
    {
        using var key = ECDsa.Create();
        var request = new CertificateRequest("CN=localhost", key, HashAlgorithmName.SHA256);
        var names = new SubjectAlternativeNameBuilder();
        names.AddDnsName("localhost");
        names.AddIpAddress(IPAddress.Loopback);
        request.CertificateExtensions.Add(names.Build());
        request.CertificateExtensions.Add(new X509BasicConstraintsExtension(true, false, 0, true));
        var now = DateTimeOffset.UtcNow;
        return request.CreateSelfSigned(now.AddDays(-1), now.AddDays(30));
    }

    /// <summary>Sends the desk's report once, and gives how it went for the one who gets it, as soon as something is known of that.</summary>
    private async Task<JsonElement> Sent(string named, string at, Action<WeirProcess>? prepare = null)
    {
        var home = Path.Combine(_folder.Path, named);
        var (data, workspace, secrets) = (Path.Combine(home, "data"), Path.Combine(home, "workspace"), Path.Combine(home, "secrets"));
        Repository.CopyDemo(workspace, (_, text) => Repository.Patient(text));
        foreach (var report in Directory.EnumerateFiles(Path.Combine(workspace, "reports")))
            File.Delete(report);
        File.WriteAllText(
            Path.Combine(workspace, "reports", "sales.yaml"),
            "report: sales\ndashboard: tickets\ntiles: [sold]\nform: json\nto: { people: [developer] }\n"
        );
        DemoAccounts.Ensure(new Users(StoreDatabase.Open(data)));
        // Any password but the right one, where nothing else says it.
        Directory.CreateDirectory(Path.Combine(secrets, "mail"));
        File.WriteAllText(Path.Combine(secrets, "mail", "password"), "tern-over-skerrin\n");
        var weir = new WeirProcess(Path.Combine(home, "home"));
        prepare?.Invoke(weir);
        var (process, url) = await weir.Start(
            $"serve --data {data} --workspace {workspace} --files {Repository.DemoFiles()} --secrets {secrets} --port 0 --mail {at} --mail-from weir@lantern-isles.example"
        );
        try
        {
            (await weir.Run($"sign-in {url} --name developer --password-stdin", "developer-lantern")).Code.ShouldBe(0);
            var sent = await weir.Run("report send sales");
            sent.Code.ShouldBe(0, sent.Error);
            while (true)
            {
                var runs = await weir.Run("report runs sales --format json");
                runs.Code.ShouldBe(0, runs.Error);
                runs.Out.ShouldNotContain("over-skerrin");
                foreach (var run in JsonDocument.Parse(runs.Out).RootElement.EnumerateArray())
                    if (
                        run.TryGetProperty("deliveries", out var all)
                        && all.EnumerateArray().FirstOrDefault() is { ValueKind: JsonValueKind.Object } delivery
                        && (delivery.GetProperty("state").GetString() == "sent" || delivery.TryGetProperty("reason", out _))
                    )
                        return delivery;
            }
        }
        finally
        {
            await WeirProcess.End(process);
        }
    }

    [Theory]
    [InlineData("smtps")]
    [InlineData("smtp")] // by STARTTLS
    public async Task Mail_goes_by_TLS_with_a_login_and_not_to_a_server_that_is_not_trusted(string scheme)
    {
        using var certificate = Certificate();
        var trusted = Path.Combine(_folder.Path, "trusted.pem");
        File.WriteAllText(trusted, certificate.ExportCertificatePem());
        await using var mail = await MailStandIn.Start(door: new MailDoor(certificate, "weir", Password, IsSecure: scheme == "smtps"));
        var at = $"{scheme}://weir@localhost:{mail.Port}";
        string Reason(JsonElement delivery) => delivery.GetProperty("reason").GetString()!;

        Reason(await Sent("unknown", at)).ShouldContain("is not trusted");
        void Trust(WeirProcess weir) => weir.Environment["SSL_CERT_FILE"] = trusted;
        // The folder of secrets holds another password.
        Reason(await Sent("locked-out", at, Trust)).ShouldContain("does not take the login");
        mail.Messages.ShouldBeEmpty();
        var came = await Sent(
            "let-in",
            at,
            weir =>
            {
                Trust(weir);
                weir.Environment["WEIR_MAIL_PASSWORD"] = Password;
            }
        );
        came.GetProperty("state").GetString().ShouldBe("sent");
        mail.Messages.ShouldHaveSingleItem().To.ShouldBe(["developer@lantern-isles.example"]);
    }
}
