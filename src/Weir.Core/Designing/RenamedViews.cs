using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Views;

namespace Weir.Core.Designing;

/// <summary>Edits of views as they mean the same after something got another name.</summary>
/// <param name="before">The workspace in which it has its old name.</param>
/// <param name="after">The one in which it has the new one; null if kept choices of parameters are not of interest.</param>
public sealed class RenamedViews(NewName name, Workspace before, Workspace? after)
{
    private readonly Dictionary<string, (IReadOnlyDictionary<string, string?> Datasets, IReadOnlyList<string> Copies)> _openings = [];

    private readonly Dictionary<string, string?> _shared = before
        .Catalogues.Values.SelectMany(c => c.Tiles)
        .Where(t => t.SharedAs is not null)
        .DistinctBy(t => t.SharedAs)
        .ToDictionary(t => t.SharedAs!, t => t.Dataset);

    /// <summary>The edits, one for one.</summary>
    /// <param name="dashboard">What they are made on, by the name that it has before.</param>
    /// <param name="edits">All of a view, oldest first.</param>
    public IReadOnlyList<ViewEdit> Of(string dashboard, IReadOnlyList<ViewEdit> edits)
    {
        if (name.Kind == Nameable.Dataset)
            return [.. edits.Select(e => e is ViewEdit.MakeTile make ? make with { Dataset = name.Of(make.Dataset) } : e)];
        if (!before.Dashboards.TryGetValue(dashboard, out var on))
            return edits;
        // Tiles that come from an opening view can be drawn otherwise too.
        if (!_openings.TryGetValue(dashboard, out var opening))
        {
            var (datasets, copies) = (on.Tiles.DistinctBy(t => t.Name).ToDictionary(t => t.Name, t => t.Dataset), new List<string>());
            foreach (var view in before.OpeningViews.Where(v => v.Dashboard == dashboard))
            foreach (var edit in PromotedView.EditsOf(view))
                Note(edit, datasets, copies);
            _openings[dashboard] = opening = (datasets, copies);
        }
        var (known, tabs) = (opening.Datasets.ToDictionary(), opening.Copies.ToList());
        var result = new List<ViewEdit>();
        foreach (var edit in edits)
        {
            Note(edit, known, tabs);
            result.Add(Of(edit, on, tile => DatasetOf(tile, known, tabs)));
        }
        return result;
    }

    private ViewEdit Of(ViewEdit edit, Dashboard on, Func<string, string?> datasetOf) =>
        (name.Kind, edit) switch
        {
            (Nameable.Dashboard, ViewEdit.AddTile add) => add with { Shared = name.Of(add.Shared) },
            (Nameable.Member, ViewEdit.Draw { Drawing: { } drawing } draw) when datasetOf(draw.Tile) == name.Dataset => draw with
            {
                Drawing = Of(drawing),
            },
            (Nameable.Member, ViewEdit.SetTable { Table: { } columns } table) when datasetOf(table.Tile) == name.Dataset => table with
            {
                Table = columns.Of(name.Of),
            },
            (Nameable.Member, ViewEdit.MakeTile make) when make.Dataset == name.Dataset => make with { Drawing = Of(make.Drawing) },
            (Nameable.Member, ViewEdit.KeepPicks { Parameters: { } kept } keep) when after is not null => keep with
            {
                Parameters = kept.ToDictionary(
                    p => p.Key,
                    p => (IReadOnlyList<string>)[.. p.Value.Select(v => Chosen(after.Dashboards[on.Name], p.Key, v))]
                ),
            },
            _ => edit,
        };

    private Drawing Of(Drawing drawing) =>
        drawing with
        {
            Show = drawing.Show?.Select(name.Of).ToList(),
            By = drawing.By?.Select(name.Of).ToList(),
            Split = drawing.Split is { } split ? name.Of(split) : null,
            Sort = drawing.Sort is { } sort ? name.Of(sort) : null,
        };

    /// <summary>A choice by its new name, where that is one of those that can be made.</summary>
    private string Chosen(Dashboard now, string parameter, string value)
    {
        var choices = now.Parameters.FirstOrDefault(p => p.Name == parameter)?.Choices as ParameterChoices.Fixed;
        bool IsOffered(string text) => choices?.Items.Any(i => i.Value as string == text) == true;
        return !IsOffered(value) && IsOffered(name.Of(value)) ? name.Of(value) : value;
    }

    private void Note(ViewEdit edit, Dictionary<string, string?> known, List<string> copies)
    {
        switch (edit)
        {
            case ViewEdit.AddTile add:
                known[add.Tile] = _shared.GetValueOrDefault(add.Shared);
                break;
            case ViewEdit.MakeTile make:
                known[make.Tile] = make.Dataset;
                break;
            case ViewEdit.CopyTile copy:
                known[copy.As] = DatasetOf(copy.Tile, known, copies);
                break;
            case ViewEdit.CopyTab tab:
                copies.Add(tab.As + "-");
                break;
        }
    }

    /// <summary>What a tile is of; on a copied tab it is called as what it is a copy of, behind the name of the tab.</summary>
    private static string? DatasetOf(string tile, Dictionary<string, string?> known, List<string> copies) =>
        known.TryGetValue(tile, out var dataset)
            ? dataset
            : copies
                .Where(c => tile.StartsWith(c, StringComparison.Ordinal))
                .Select(c => DatasetOf(tile[c.Length..], known, copies))
                .FirstOrDefault(d => d is not null);
}
