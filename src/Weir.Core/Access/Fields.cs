using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Access;

/// <summary>Finds fields within a viewer's right.</summary>
public static class Fields
{
    /// <summary>The formula of a visible field, at its grain or part; null if the viewer has no such field.</summary>
    public static Bound? At(FieldAt at, Scope scope)
    {
        if (!scope.Fields.TryGetValue(at.Field, out var field))
            return null;
        return at.Member is null ? field.Formula : Binder.AtMember(field.Formula, at.Member);
    }

    /// <summary>The tile without the measures that the viewer may not see; null if the tile can't stand without what is hidden.</summary>
    public static Tile? Visible(Tile tile, Scope scope)
    {
        if (tile.Picture.HasFieldsApart)
        {
            var told = tile.By.Where(f => At(f, scope) is not null).ToList();
            if (told.Count == 0)
                return null;
            tile = tile with { By = told };
        }
        if (tile.NeededFields.Any(f => At(f, scope) is null))
            return null;
        var shown = tile.Show.Where(scope.Measures.ContainsKey).ToList();
        if (shown.Count == 0 && tile.Show.Count > 0)
            return null;
        // What a measure is drawn as depends on its place: without one of its axes a picture would draw another in its stead.
        if (tile.Show.Take(tile.Picture.PlacedMeasures).Any(m => !scope.Measures.ContainsKey(m)))
            return null;
        var sort = tile.Sort is { } s && (shown.Contains(s.By) || tile.By.Any(b => b.ToString() == s.By)) ? tile.Sort : null;
        // A hierarchy ends where a level is hidden; single values are for those who may see rows.
        var drill = tile.Drill is { } d
            ? d with
            {
                To = [.. d.To.TakeWhile(f => At(f, scope) is not null && (f != tile.Of || scope.GrantsDetail))],
            }
            : null;
        return tile with
        {
            Show = shown,
            Sort = sort,
            Drill = drill is { To.Count: > 0 } ? drill : null,
            // How a measure is drawn names it; and a limit is one of the first measure.
            Options = tile.Options.Where(o => o.Key.Split('.', 2) is not [_, var of] || shown.Contains(of)).ToDictionary(),
            Courses = [.. tile.Courses.Where(c => scope.Measures.ContainsKey(c.Measure) && At(c.Along, scope) is not null)],
            Cells = tile.Cells?.Visible(n => shown.Contains(n) || tile.Groups.Any(g => g.ToString() == n)),
            Tip = tile.Tip?.Visible(scope.Measures.ContainsKey),
            References =
                shown.Count == 0 || shown[0] == tile.Show[0]
                    ? [.. tile.References.Where(r => r.Measure is not { } of || scope.Measures.ContainsKey(of))]
                    : [],
        };
    }
}
