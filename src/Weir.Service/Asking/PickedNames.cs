using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Planning;
using Weir.Core.Results;

namespace Weir.Service.Asking;

/// <summary>The names of members that are picked on a dashboard, as far as its viewer may know them.</summary>
internal sealed class PickedNames(OpenDashboard open)
{
    private readonly Dictionary<(string Dataset, string Field), IReadOnlyDictionary<string, string>> _names = [];

    /// <summary>
    /// Asks for the names of the members that are picked, for <see cref="FiltersInWords"/>: those of keys stand with the data, and where a
    /// row rule takes rows away, a name is told only if the viewer has a row of it. Where there is no answer, codes stay codes.
    /// </summary>
    public async Task Learn(
        IReadOnlyList<Selection> selections,
        Func<Query, CancellationToken, Task<QueryAnswer?>> look,
        CancellationToken cancellation
    )
    {
        var picked = selections
            .SelectMany(s =>
            {
                var (tile, level) = (open.Tile(s.Tile), open.Level(s));
                var members = s.Members.Concat(s.RestOf?.Take(3) ?? []);
                return level
                    .By.Select((b, i) => (Dataset: tile.Dataset!, At: b, Values: members.Select(m => m[i])))
                    .Concat(s.Each is { } each ? [(Dataset: tile.Dataset!, At: level.By[^1], Values: each)] : [])
                    .Concat(
                        s.Path.Select((v, i) => (Dataset: tile.Dataset!, At: Drilling.Levels(tile)[i], Values: Enumerable.Repeat(v, 1)))
                    );
            })
            .Where(p => p.At.Member is null && IsLookedUp(p.At, open.Scopes[p.Dataset]))
            .GroupBy(p => (p.Dataset, p.At.Field));
        foreach (var field in picked)
        {
            var scope = open.Scopes[field.Key.Dataset];
            List<IReadOnlyList<object?>> members =
            [
                .. field.SelectMany(p => p.Values).OfType<object>().Distinct().Select(v => new[] { v }),
            ];
            if (members.Count == 0)
                continue;
            IReadOnlyList<FieldAt> fields = [new FieldAt(field.Key.Field, null)];
            var among = Conditions.Of(new Selection("", members, null), fields, scope, open.Live.Workspace.WeekStart);
            if (await look(open.Live.Planner.Present(fields, scope, among, members.Count), cancellation) is not { } answer)
                continue;
            var present = answer.Table.Values[0].OfType<object>().Select(Values.Write).ToHashSet();
            _names[field.Key] = answer.Table.Columns[0].Names!.Where(n => present.Contains(n.Key)).ToDictionary();
        }
    }

    /// <summary>The names that were learned, by tile and field.</summary>
    public IReadOnlyDictionary<string, IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>>> By(IEnumerable<Tile> tiles) =>
        tiles.ToDictionary(
            t => t.Name,
            t =>
                (IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>>)
                    _names.Where(n => n.Key.Dataset == t.Dataset).ToDictionary(n => n.Key.Field, n => n.Value)
        );

    /// <summary>True if the names of a field's members are not all the viewer's to know without asking.</summary>
    private static bool IsLookedUp(FieldAt at, Scope scope) =>
        scope.Fields[at.Field] is { HasNames: true } field && (field.NamedBy is not null || scope.Restricted);

    /// <summary>The column that writes a picked member, with such names only as the viewer may know.</summary>
    public Column Written(FieldAt at, Scope scope)
    {
        var column = open.Live.Planner.Group(at, scope).Column;
        return at.Member is null && IsLookedUp(at, scope)
            ? column with
            {
                Names = _names.GetValueOrDefault((scope.Name, at.Field)),
            }
            : column;
    }
}
