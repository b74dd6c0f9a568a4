using System.Net;
using Shouldly;
using Weir.Core.Expressions;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.Tests;

/// <summary>Where a source is asked: at the address that was looked at, whatever its name stands for a moment later.</summary>
public class ReachTests
{
    [Theory]
    [InlineData("postgresql")]
    [InlineData("mariadb")]
    public async Task A_server_is_asked_at_the_address_that_was_looked_at(string engine)
    {
        using var test = TestEngine.Start(engine);
        var asked = 0;
        IPAddress[] addresses = [IPAddress.Loopback];
        var folders = test.Folders with
        {
            Reach = new Reach
            {
                Lookup = name =>
                {
                    name.ShouldBe("records.lantern.invalid");
                    asked++;
                    return addresses;
                },
            },
        };
        IEngineSource Open() => test.Open(s => s with { Server = s.Server! with { Host = "records.lantern.invalid" } }, folders);
        static Task<IReadOnlyList<object?[]>> Ask(IEngineSource source) =>
            source.Read(new SqlText("SELECT 1", []), [ValueKind.Integer], new Dictionary<string, string>(), CancellationToken.None);
        // No name service knows this name: only who goes to the address gets there.
        await using var source = Open();
        (await Ask(source))[0][0].ShouldBe(1L);
        asked.ShouldBe(1);
        // Of several the one that answers.
        addresses = [IPAddress.Parse("127.0.0.2"), IPAddress.Loopback];
        await using var either = Open();
        (await Ask(either))[0][0].ShouldBe(1L);
        // The name comes to stand for the local link: who was there before stays, and nobody new goes there.
        addresses = [IPAddress.Parse("169.254.169.254")];
        (await Ask(source))[0][0].ShouldBe(1L);
        await using var turned = Open();
        (await Should.ThrowAsync<SourceException>(() => Ask(turned))).Message.ShouldContain("may not reach records.lantern.invalid");
        // Back again: a source that failed looks anew.
        addresses = [IPAddress.Loopback];
        (await Ask(turned))[0][0].ShouldBe(1L);
    }
}
