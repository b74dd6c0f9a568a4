using Weir.Core.Access;
using Weir.Core.Definitions;

namespace Weir.Core.Interaction;

/// <summary>Whether what is picked on one tile filters another.</summary>
/// <param name="Refusal">Why it does not; null if it does.</param>
/// <param name="Fields">The fields of the follower's dataset that are filtered, if it does.</param>
public sealed record Wire(string Driver, string Follower, NotAppliedReason? Refusal, IReadOnlyList<FieldAt> Fields);

/// <summary>The lines of who drives whom on a dashboard, before anything is picked.</summary>
public static class WiringMap
{
    /// <summary>Every pair of a tile on which something can be picked and another tile with figures, as the viewer has them before them.</summary>
    public static IEnumerable<Wire> Of(Dashboard dashboard, Arrangement arrangement, IReadOnlyDictionary<string, Scope> scopes) =>
        Of(dashboard, arrangement, (fields, from, to) => Wiring.Counterparts(fields, scopes[from], scopes[to]));

    /// <summary>The same for the dashboard as published, with every field.</summary>
    internal static IEnumerable<Wire> Of(Dashboard dashboard, IReadOnlyDictionary<string, Dataset> datasets) => Of(dashboard, Arrangement.Opening(dashboard), (fields, from, to) =>
    {
        if (from == to)
            return fields;
        var linked = fields.Select(f => datasets[from].Fields.GetValueOrDefault(f.Field)?.Concept is { } concept ? datasets[to].Fields.Values.FirstOrDefault(o => o.Concept == concept) : null).ToList();
        return linked.Contains(null) ? null : [.. linked.Select((l, i) => new FieldAt(l!.Name, fields[i].Member))];
    });

    private static IEnumerable<Wire> Of(Dashboard dashboard, Arrangement arrangement, Func<IReadOnlyList<FieldAt>, string, string, IReadOnlyList<FieldAt>?> counterparts)
    {
        var tabs = arrangement.TabOf();
        var tiles = arrangement.Tiles.Select(t => t.Tile).Where(t => t.Dataset is not null).ToList();
        foreach (var driver in tiles.Where(t => t.Pick != Pick.None || t.Drill is { Drives: true }))
            foreach (var follower in tiles.Where(t => t.Name != driver.Name))
            {
                var refusal = Wiring.Refusal(driver, follower, dashboard, tabs);
                var fields = refusal is null ? counterparts(driver.By, driver.Dataset!, follower.Dataset!) : null;
                yield return new Wire(driver.Name, follower.Name, refusal ?? (fields is null ? NotAppliedReason.NoCounterpart : null), fields ?? []);
            }
    }
}
