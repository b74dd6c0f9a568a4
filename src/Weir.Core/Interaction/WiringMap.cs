using Weir.Core.Access;
using Weir.Core.Definitions;

namespace Weir.Core.Interaction;

/// <summary>Whether what is picked on one tile filters another.</summary>
/// <param name="Refusal">Why it does not; null if it does.</param>
/// <param name="Fields">The fields of the follower's dataset that are filtered, if it does.</param>
public sealed record Wire(string Driver, string Follower, NotAppliedReason? Refusal, IReadOnlyList<FieldAt> Fields);

/// <summary>The lines of who drives whom on a dashboard, before anything is picked.</summary>
public sealed class WiringMap
{
    private readonly Dashboard _dashboard;
    private readonly IReadOnlyDictionary<string, string> _tabs;
    private readonly List<Tile> _tiles;
    private readonly List<Tile> _drivers;
    private readonly Func<IReadOnlyList<FieldAt>, string, string, IReadOnlyList<FieldAt>?> _counterparts;

    private WiringMap(
        Dashboard dashboard,
        Arrangement arrangement,
        Func<IReadOnlyList<FieldAt>, string, string, IReadOnlyList<FieldAt>?> counterparts
    )
    {
        _dashboard = dashboard;
        _tabs = arrangement.TabOf();
        _tiles = [.. arrangement.Tiles.Select(t => t.Tile).Where(t => t.Dataset is not null)];
        _drivers = [.. _tiles.Where(t => t.Pick != Pick.None || t.Drill is { Drives: true })];
        _counterparts = counterparts;
    }

    /// <summary>Every pair of a tile on which something can be picked and another tile with figures, as the viewer has them before them.</summary>
    public static IEnumerable<Wire> Of(Dashboard dashboard, Arrangement arrangement, IReadOnlyDictionary<string, Scope> scopes)
    {
        var map = new WiringMap(dashboard, arrangement, (fields, from, to) => Wiring.Counterparts(fields, scopes[from], scopes[to]));
        return map._drivers.SelectMany(driver =>
            map._tiles.Where(t => t.Name != driver.Name).Select(follower => map.Between(driver, follower))
        );
    }

    /// <summary>The same for the dashboard as published, with every field. Data that are not there are linked to nothing.</summary>
    internal static WiringMap AsPublished(Dashboard dashboard, IReadOnlyDictionary<string, Dataset> datasets)
    {
        // Which field of a dataset means what a concept means is looked for once, however many tiles ask.
        var linked = new Dictionary<(string Dataset, string Concept), Field?>();
        Field? Linked(string dataset, string concept) =>
            linked.TryGetValue((dataset, concept), out var known)
                ? known
                : linked[(dataset, concept)] = datasets.GetValueOrDefault(dataset)?.Fields.Values.FirstOrDefault(o => o.Concept == concept);
        return new WiringMap(
            dashboard,
            Arrangement.Opening(dashboard),
            (fields, from, to) =>
            {
                if (from == to)
                    return fields;
                var others = fields
                    .Select(f =>
                        datasets.GetValueOrDefault(from)?.Fields.GetValueOrDefault(f.Field)?.Concept is { } concept
                            ? Linked(to, concept)
                            : null
                    )
                    .ToList();
                return others.Contains(null) ? null : [.. others.Select((l, i) => new FieldAt(l!.Name, fields[i].Member))];
            }
        );
    }

    /// <summary>The lines that lead, or do not lead, to one tile.</summary>
    internal IEnumerable<Wire> To(Tile follower) => _drivers.Where(d => d.Name != follower.Name).Select(d => Between(d, follower));

    private Wire Between(Tile driver, Tile follower)
    {
        var refusal = Wiring.Refusal(driver, follower, _dashboard, _tabs);
        var fields = refusal is null ? _counterparts(driver.By, driver.Dataset!, follower.Dataset!) : null;
        return new Wire(driver.Name, follower.Name, refusal ?? (fields is null ? NotAppliedReason.NoCounterpart : null), fields ?? []);
    }
}
