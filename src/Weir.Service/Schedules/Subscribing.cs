using System.Text.Json;
using Weir.Core.Definitions;
using Weir.Service.Api;
using Weir.Store;

namespace Weir.Service.Schedules;

/// <summary>What somebody subscribed to, as a report of their own.</summary>
internal static class SubscribedReport
{
    public static Report Of(Subscription subscription, string title) =>
        new(
            subscription.Key,
            title,
            null,
            subscription.Dashboard,
            [],
            [],
            new Dictionary<string, Opening?>(),
            new Dictionary<string, IReadOnlyList<string>>(),
            subscription.Form,
            null,
            null,
            null,
            null,
            TimingOf(subscription),
            Readers.Nobody,
            null,
            null,
            ""
        )
        {
            FileName = subscription.Dashboard,
        };

    /// <summary>The state in which they want it.</summary>
    public static ExportRequest RequestOf(Subscription subscription) => JsonSerializer.Deserialize<ExportRequest>(subscription.State)!;

    public static Timing TimingOf(Subscription subscription)
    {
        var (words, lines) = Timing.OfWords(subscription.When)!.Value;
        return new Timing(words, lines, subscription.Zone, [], SkipsMissed: false);
    }
}
