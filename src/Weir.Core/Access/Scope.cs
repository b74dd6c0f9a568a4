using System.Globalization;
using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Access;

/// <summary>
/// A viewer's effective right on one dataset: which rows, which fields. Queries are planned over a scope only,
/// and <see cref="For"/> is the one way to make one.
/// </summary>
public sealed class Scope
{
    private Scope(Dataset dataset, Bound? rowRule, IReadOnlyList<ScopeRule> rules, HashSet<string> hidden)
    {
        Name = dataset.Name;
        Title = dataset.Title;
        Source = dataset.Source;
        From = dataset.From;
        Joins = dataset.Joins;
        Filter = dataset.Filter;
        RowRule = rowRule;
        Rules = rules;
        Fields = dataset.Fields.Where(f => !hidden.Contains(f.Key)).ToDictionary();
        Measures = dataset.Measures.Where(m => !hidden.Contains(m.Key)).ToDictionary();
        var hiddenColumns = dataset.Fields.Values.Where(f => hidden.Contains(f.Name)).SelectMany(f => f.Formula.All().OfType<Bound.Column>()).ToHashSet();
        hiddenColumns.ExceptWith(Fields.Values.SelectMany(f => f.Formula.All().OfType<Bound.Column>()));
        RuleNamesHidden = new[] { rowRule, dataset.Filter }.OfType<Bound>().SelectMany(b => b.All()).OfType<Bound.Column>().Any(hiddenColumns.Contains);
    }

    /// <summary>The dataset's name.</summary>
    public string Name { get; }

    /// <summary>The dataset's title.</summary>
    public string Title { get; }

    /// <summary>The source that holds it.</summary>
    public string Source { get; }

    /// <summary>The table whose rows are the dataset's rows.</summary>
    public string From { get; }

    /// <summary>The tables looked up.</summary>
    public IReadOnlyList<Join> Joins { get; }

    /// <summary>The dataset's own filter.</summary>
    public Bound? Filter { get; }

    /// <summary>The condition that the viewer's roles put on rows, the viewer's attributes put in; null if all rows are granted.</summary>
    public Bound? RowRule { get; }

    /// <summary>The rule of each role, as written, for the reader.</summary>
    public IReadOnlyList<ScopeRule> Rules { get; }

    /// <summary>The visible fields. A hidden field is not there at all.</summary>
    public IReadOnlyDictionary<string, Field> Fields { get; }

    /// <summary>The visible measures.</summary>
    public IReadOnlyDictionary<string, Measure> Measures { get; }

    /// <summary>True if the rule's text or its SQL would name a column that the viewer may not see.</summary>
    public bool RuleNamesHidden { get; }

    /// <summary>True if a row rule takes rows away, so that totals and shares are "of the rows you may see".</summary>
    public bool Restricted => RowRule is not null;

    /// <summary>Works out what a viewer may see of a dataset; null if nothing: then it does not exist for the viewer.</summary>
    public static Scope? For(Viewer viewer, string dataset, Workspace workspace)
    {
        if (!workspace.Datasets.TryGetValue(dataset, out var definition))
            return null;
        var grants = viewer.Roles.Distinct()
            .Select(r => workspace.Access.Roles.GetValueOrDefault(r))
            .Where(r => r?.Reads.ContainsKey(dataset) == true)
            .Select(r => (Role: r!, Grant: r!.Reads[dataset]))
            .ToList();
        if (grants.Count == 0)
            return null;

        // Rows: the union of the roles. One role without a rule grants all.
        Bound? rowRule = grants.Any(g => g.Grant.Where is null) ? null : Bound.Any(grants.Select(g => PutIn(g.Grant.Where!, viewer)));
        // Fields: hidden only if every role that grants the dataset hides them; then all that is built on them too.
        var hidden = grants.Select(g => g.Grant.Hides.AsEnumerable()).Aggregate((a, b) => a.Intersect(b)).ToHashSet();
        hidden.UnionWith(definition.Fields.Values.Where(f => f.Uses.Overlaps(hidden)).Select(f => f.Name).ToList());
        hidden.UnionWith(definition.Measures.Values.Where(m => m.Uses.Overlaps(hidden)).Select(m => m.Name).ToList());
        return new Scope(definition, rowRule, [.. grants.Select(g => new ScopeRule(g.Role.Title, g.Grant.WhereText))], hidden);
    }

    /// <summary>Puts the viewer's attributes into a rule. A missing or unfit attribute makes the whole rule false.</summary>
    private static Bound PutIn(Bound rule, Viewer viewer)
    {
        var denied = false;
        var result = rule.Rewrite(node =>
        {
            if (node is Bound.UserAttribute user)
            {
                var values = Values(user, viewer);
                if (values is null || (!user.IsList && values.Count != 1))
                    denied = true;
                else if (!user.IsList)
                    return values[0];
            }
            else if (node is Bound.Op { Operation: Operation.In } op && op.Arguments[^1] is Bound.UserAttribute list && Values(list, viewer) is { } items)
                return op with { Arguments = [op.Arguments[0], .. items] };
            return node;
        });
        return denied ? Bound.False : result;
    }

    private static List<Bound.Literal>? Values(Bound.UserAttribute user, Viewer viewer)
    {
        if (!viewer.Attributes.TryGetValue(user.Attribute, out var texts) || texts.Count == 0)
            return null;
        var values = texts.Select(t => Parse(t, user.Kind)).ToList();
        return values.Contains(null) ? null : [.. values.Select(v => new Bound.Literal(v, user.Kind))];
    }

    private static object? Parse(string text, ValueKind kind)
    {
        var invariant = CultureInfo.InvariantCulture;
        return kind switch
        {
            ValueKind.Text => text,
            ValueKind.Boolean => bool.TryParse(text, out var b) ? b : null,
            ValueKind.Integer => long.TryParse(text, NumberStyles.AllowLeadingSign, invariant, out var n) ? n : null,
            ValueKind.Decimal => decimal.TryParse(text, NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint, invariant, out var d) ? d : null,
            ValueKind.Float => double.TryParse(text, NumberStyles.Float, invariant, out var f) ? f : null,
            ValueKind.Date => DateOnly.TryParseExact(text, "yyyy-MM-dd", invariant, DateTimeStyles.None, out var day) ? day : null,
            ValueKind.Timestamp => DateTime.TryParse(text, invariant, DateTimeStyles.None, out var at) ? at : null,
            _ => null,
        };
    }
}

/// <summary>The rule of one role, as written; null if the role grants all rows.</summary>
public sealed record ScopeRule(string Role, string? Text);
