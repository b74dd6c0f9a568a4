using Weir.Core.Definitions;

namespace Weir.Core.Access;

/// <summary>The choices that change how a dashboard is drawn, as far as a viewer may make them.</summary>
public static class Presentation
{
    /// <summary>
    /// The parameters of a dashboard with those choices only that some tile can be drawn with for the viewer: a choice that
    /// stands for a hidden field or measure is not there. A parameter without any is not there either.
    /// </summary>
    /// <param name="scopes">The viewer's right on each dataset by name.</param>
    public static IReadOnlyList<Parameter> Offered(Dashboard dashboard, IReadOnlyDictionary<string, Scope> scopes)
    {
        var offered = new List<Parameter>();
        foreach (var parameter in dashboard.Parameters)
        {
            var choices = ((ParameterChoices.Fixed)parameter.Choices!)
                .Items.Where(c =>
                    dashboard.Tiles.Any(t => t.Uses.Contains(parameter.Name) && CanStand(t, parameter.Name, (string)c.Value, scopes))
                )
                .ToList();
            if (choices.Count == 0)
                continue;
            var opening = choices.Any(c => c.Value.Equals(parameter.Opening[0])) ? parameter.Opening : [choices[0].Value];
            offered.Add(parameter with { Choices = new ParameterChoices.Fixed(choices), Opening = opening });
        }
        return offered;
    }

    private static bool CanStand(Tile tile, string parameter, string choice, IReadOnlyDictionary<string, Scope> scopes)
    {
        if (tile.Dataset is null || !scopes.TryGetValue(tile.Dataset, out var scope))
            return false;
        var at = tile.Uses.ToList().IndexOf(parameter);
        return tile
            .Variants.Where(v => v.Key.Split('\n')[at] == choice)
            .Select(v => v.Value)
            .Any(v =>
                Fields.Visible(v, scope) is not null
                && (!v.Show.Contains(choice) || scope.Measures.ContainsKey(choice))
                && (v.Drill?.To.FirstOrDefault(f => f.ToString() == choice) is not { } level || Fields.At(level, scope) is not null)
            );
    }

    /// <summary>The dashboard as a viewer's choices have it.</summary>
    /// <param name="offered">See <see cref="Offered"/>.</param>
    public static Dashboard Chosen(Dashboard dashboard, IReadOnlyList<Parameter> offered, Viewing viewing) =>
        dashboard.With(
            dashboard.Parameters.ToDictionary(
                p => p.Name,
                p => (string)(offered.FirstOrDefault(o => o.Name == p.Name) is { } mine ? viewing.Of(mine) : p.Opening)[0]
            )
        );
}
