using Weir.Core.Definitions;
using Weir.Core.Expressions;

namespace Weir.Core.Access;

/// <summary>
/// A viewer's effective right on one dataset: which rows, which fields. Queries are planned over a scope only,
/// and <see cref="For"/> is the one way to make one.
/// </summary>
public sealed class Scope
{
    private Func<Viewing, Scope> _at;

    private Scope(
        Dataset dataset,
        ViewerValues put,
        Bound? rowRule,
        IReadOnlyList<ScopeRule> rules,
        HashSet<string> hidden,
        HashSet<string> hiddenParameters,
        IReadOnlyDictionary<string, string> session
    )
    {
        _at = _ => this;
        Name = dataset.Name;
        Title = dataset.Title;
        Source = dataset.Source;
        From = dataset.From;
        Joins = dataset.Joins;
        Filter = dataset.Filter is null ? null : put.Value(dataset.Filter);
        Totals = dataset.Totals is null ? null : put.Value(dataset.Totals);
        RowRule = rowRule;
        Rules = rules;
        Session = session;
        if (dataset.From is DatasetRows.Query query)
        {
            var (text, granted) = put.Query(query.Text);
            From = query with { Text = text };
            // What a query takes from the viewer takes rows away as a row rule does.
            if (!granted)
                RowRule = Bound.False;
            Restricted = query.Text.Pieces.Any(p => p is QueryPiece.Named { Bound: Bound.UserAttribute });
        }
        Restricted |= RowRule is not null || session.Count > 0;
        var hiddenColumns = HiddenColumns(dataset, hidden);
        Fields = dataset
            .Fields.Where(f => !hidden.Contains(f.Key))
            .ToDictionary(
                f => f.Key,
                f =>
                    f.Value with
                    {
                        Formula = put.Value(f.Value.Formula),
                        Quality = Put(f.Value.Quality, put),
                        // A name that a hidden field holds does not come back as the name of a key.
                        NamedBy =
                            f.Value.NamedBy is Bound.Column name && hiddenColumns.Contains((name.Table, name.Name))
                                ? null
                                : f.Value.NamedBy,
                    }
            );
        Measures = dataset
            .Measures.Where(m => !hidden.Contains(m.Key))
            .ToDictionary(m => m.Key, m => m.Value with { Formula = put.Value(m.Value.Formula) });
        Parameters = dataset.Parameters.Where(p => !hiddenParameters.Contains(p.Key)).ToDictionary();
        RuleNamesHidden =
            (hidden.Count > 0 && From is DatasetRows.Query)
            || new[] { rowRule, dataset.Filter, dataset.Totals }
                .OfType<Bound>()
                .SelectMany(b => b.All())
                .OfType<Bound.Column>()
                .Concat(Joins.SelectMany(j => j.On.SelectMany(k => new[] { k.Left, k.Right })))
                .Any(c => hiddenColumns.Contains((c.Table, c.Name)));
    }

    /// <summary>The columns that only hidden fields are made of.</summary>
    private static HashSet<(string Table, string Name)> HiddenColumns(Dataset dataset, HashSet<string> hidden)
    {
        if (hidden.Count == 0)
            return [];
        HashSet<(string, string)> Of(bool isHidden) =>
            [
                .. dataset
                    .Fields.Values.Where(f => hidden.Contains(f.Name) == isHidden)
                    .SelectMany(f => isHidden && f.NamedBy is not null ? f.Formula.All().Append(f.NamedBy) : f.Formula.All())
                    .OfType<Bound.Column>()
                    .Select(c => (c.Table, c.Name)),
            ];
        var columns = Of(isHidden: true);
        columns.ExceptWith(Of(isHidden: false));
        return columns;
    }

    /// <summary>
    /// The parameters that are held against what is hidden: whoever could set one would read the hidden values off the figures. Those
    /// that choose among the values of a hidden field, that stand in one condition with a hidden column, or in a query that names one.
    /// </summary>
    private static HashSet<string> HiddenParameters(Dataset dataset, HashSet<string> hidden)
    {
        var found = new HashSet<string>();
        if (hidden.Count == 0 || dataset.Parameters.Count == 0)
            return found;
        foreach (var parameter in dataset.Parameters.Values)
            if (
                parameter.Choices is ParameterChoices.OfField { Field: var of } && hidden.Contains(of)
                || parameter.Choices is ParameterChoices.Lookup { Field: { } narrowing } && hidden.Contains(narrowing)
            )
                found.Add(parameter.Name);
        var columns = HiddenColumns(dataset, hidden);
        IEnumerable<Bound> Conditions(Bound? bound) =>
            bound is Bound.Op { Operation: Operation.And } and ? and.Arguments.SelectMany(Conditions)
            : bound is null ? []
            : [bound];
        foreach (var condition in Conditions(dataset.Filter).Concat(Conditions(dataset.Totals)))
            if (condition.All().OfType<Bound.Column>().Any(c => columns.Contains((c.Table, c.Name))))
                found.UnionWith(condition.All().OfType<Bound.Parameter>().Select(p => p.Name));
        if (
            dataset.From is DatasetRows.Query { Text: var query }
            && columns.Any(c => query.Typed.Contains(c.Name, StringComparison.OrdinalIgnoreCase))
        )
            found.UnionWith(query.Pieces.OfType<QueryPiece.Named>().Select(n => n.Bound).OfType<Bound.Parameter>().Select(p => p.Name));
        return found;
    }

    private static FieldQuality Put(FieldQuality quality, ViewerValues put)
    {
        Bound? Of(Bound? condition) => condition is null ? null : put.Value(condition);
        return new FieldQuality(Of(quality.Unfit), Of(quality.Missing), Of(quality.Unmatched));
    }

    /// <summary>The dataset's name.</summary>
    public string Name { get; }

    /// <summary>The dataset's title.</summary>
    public string Title { get; }

    /// <summary>The source that holds it.</summary>
    public string Source { get; }

    /// <summary>The table whose rows are the dataset's rows.</summary>
    public DatasetRows From { get; private set; }

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

    /// <summary>True if a column of a result, such as <c>departed.day</c>, is called after a field or measure that is visible.</summary>
    public bool HasColumn(string column) =>
        FieldAt.Parse(column).Field is var name && (Fields.ContainsKey(name) || Measures.ContainsKey(name));

    /// <summary>True if the rule's text or its SQL would name a column that the viewer may not see.</summary>
    public bool RuleNamesHidden { get; }

    /// <summary>True if a role grants single rows, which may be fewer than the figures are over: see <see cref="ForDetail"/>.</summary>
    public bool GrantsDetail { get; private init; }

    /// <summary>The right to single rows, as <see cref="ForDetail"/> gives it; null if no role grants any.</summary>
    public Scope? Detail => _detail();

    private Func<Scope?> _detail = () => null;

    /// <summary>True for what is being defined: it is asked apart from what is published.</summary>
    public bool IsDraft { get; private init; }

    /// <summary>True if a row rule takes rows away, so that totals and shares are "of the rows you may see".</summary>
    public bool Restricted { get; }

    /// <summary>Which rows are totals of others, and so left out of figures.</summary>
    public Bound? Totals { get; }

    /// <summary>What the database is told of the viewer, by setting.</summary>
    public IReadOnlyDictionary<string, string> Session { get; }

    /// <summary>The parameters that the dataset's formulas use.</summary>
    public IReadOnlyDictionary<string, Parameter> Parameters { get; }

    /// <summary>Works out what a viewer may see of a dataset; null if nothing: then it does not exist for the viewer.</summary>
    /// <param name="viewing">The time of viewing and the parameters that are set.</param>
    public static Scope? For(Viewer viewer, string dataset, Workspace workspace, Viewing viewing) =>
        For(viewer, dataset, workspace, viewing, _ => true);

    /// <summary>
    /// What a viewer may see of a dataset row by row: the union of those roles that grant <c>detail</c>, which may be less than
    /// the viewer's summaries are over; null if none does.
    /// </summary>
    public static Scope? ForDetail(Viewer viewer, string dataset, Workspace workspace, Viewing viewing) =>
        For(viewer, dataset, workspace, viewing, g => g.Detail);

    private static Scope? For(Viewer viewer, string dataset, Workspace workspace, Viewing viewing, Func<Grant, bool> counts)
    {
        if (!workspace.Datasets.TryGetValue(dataset, out var definition))
            return null;
        var grants = viewer
            .Roles.Distinct()
            .Select(r => workspace.Access.Roles.GetValueOrDefault(r))
            .Where(r => r?.Reads.ContainsKey(dataset) == true)
            .Select(r => (Role: r!, Grant: r!.Reads[dataset]))
            .Where(r => counts(r.Grant))
            .ToList();
        if (grants.Count == 0)
            return null;

        // Fields: hidden only if every role that grants the dataset hides them; then all that is built on them too.
        var hidden = grants.Select(g => g.Grant.Hides.AsEnumerable()).Aggregate((a, b) => a.Intersect(b)).ToHashSet();
        hidden.UnionWith(definition.Fields.Values.Where(f => f.Uses.Overlaps(hidden)).Select(f => f.Name).ToList());
        hidden.UnionWith(definition.Measures.Values.Where(m => m.Uses.Overlaps(hidden)).Select(m => m.Name).ToList());
        var hiddenParameters = HiddenParameters(definition, hidden);
        Scope At(Viewing now)
        {
            var put = new ViewerValues(viewer, now.Without(hiddenParameters), definition.Parameters, workspace.WeekStart);
            // Rows: the union of the roles. One role without a rule grants all.
            Bound? rowRule = grants.Any(g => g.Grant.Where is null) ? null : Bound.Any(grants.Select(g => put.Rule(g.Grant.Where!)));
            return new Scope(
                definition,
                put,
                rowRule,
                [.. grants.Select(g => new ScopeRule(g.Role.Title, g.Grant.WhereText))],
                hidden,
                hiddenParameters,
                SessionOf(viewer, workspace.Sources[definition.Source])
            )
            {
                GrantsDetail = grants.Any(g => g.Grant.Detail),
                _detail = () => For(viewer, dataset, workspace, now, g => g.Detail),
                _at = At,
            };
        }
        return At(viewing);
    }

    /// <summary>A dataset as its definition would be without what this scope hides: what whoever has it may name.</summary>
    public Dataset Seen(Dataset dataset) =>
        dataset with
        {
            Fields = dataset.Fields.Where(f => Fields.ContainsKey(f.Key)).ToDictionary(),
            Measures = dataset.Measures.Where(m => Measures.ContainsKey(m.Key)).ToDictionary(),
            Parameters = dataset.Parameters.Where(p => Parameters.ContainsKey(p.Key)).ToDictionary(),
            Faulty = new HashSet<string>(),
        };

    /// <summary>The same right at another time or with other parameters: what is granted is not worked out anew.</summary>
    public Scope At(Viewing viewing) => _at(viewing);

    /// <summary>The same right over a sample of the rows, for looking at figures that need not be right.</summary>
    /// <param name="percent">See <see cref="DatasetRows.Sample"/>.</param>
    public Scope Sampled(int percent)
    {
        var sampled = (Scope)MemberwiseClone();
        sampled.From = From with { Sample = percent };
        sampled._at = viewing => At(viewing).Sampled(percent);
        return sampled;
    }

    /// <summary>
    /// The right of a developer on a dataset that is being defined, with all its rows and fields; null unless the viewer
    /// may define. What a developer tries out goes this way too: there is no second one.
    /// </summary>
    public static Scope? ForDefining(Viewer viewer, Dataset draft, Workspace workspace, Viewing viewing) =>
        viewer.May(Acts.Define, workspace)
            ? new Scope(
                draft,
                new ViewerValues(viewer, viewing, draft.Parameters, workspace.WeekStart),
                null,
                [new ScopeRule("Defining", null)],
                [],
                [],
                SessionOf(viewer, workspace.Sources[draft.Source])
            )
            {
                IsDraft = true,
            }
            : null;

    /// <summary>
    /// The right to the choices of a parameter that a lookup query brings: columns <c>value</c> and <c>title</c>. Where a row rule
    /// takes rows away, a query that neither asks for the viewer nor is narrowed by a field would tell of them: it brings nothing.
    /// </summary>
    /// <param name="scope">The viewer's right on the dataset that has the parameter.</param>
    public static Scope ForChoices(
        Viewer viewer,
        Scope scope,
        Parameter parameter,
        ParameterChoices.Lookup lookup,
        Workspace workspace,
        Viewing viewing
    )
    {
        var rows = new DatasetRows.Query(lookup.Query, "choices");
        var fields = new[] { ("value", parameter.Kind), ("title", ValueKind.Text) }.ToDictionary(
            f => f.Item1,
            f => new Field(f.Item1, f.Item1, null, new Bound.Column("choices", f.Item1, f.Item2), null, null, new HashSet<string>())
        );
        var dataset = new Dataset(
            $"{scope.Name} choices of {parameter.Name}",
            parameter.Title,
            null,
            scope.Source,
            rows,
            [],
            fields,
            new Dictionary<string, Measure>(),
            null
        );
        var mayTell = !scope.Restricted || lookup.AsksForViewer || lookup.Field is not null;
        return new Scope(
            dataset,
            new ViewerValues(viewer, viewing, dataset.Parameters, workspace.WeekStart),
            mayTell ? null : Bound.False,
            [],
            [],
            [],
            scope.Session
        );
    }

    private static Dictionary<string, string> SessionOf(Viewer viewer, Source source) =>
        source.Session.ToDictionary(
            s => s.Key,
            s => string.Join(',', (s.Value == "name" ? [viewer.Name] : viewer.Attributes.GetValueOrDefault(s.Value) ?? []).Select(One))
        );

    /// <summary>One value of a list with commas between: its own commas are written so that whoever cuts the list at commas never takes it for two.</summary>
    private static string One(string value) => value.Replace("%", "%25").Replace(",", "%2C");
}

/// <summary>The rule of one role, as written; null if the role grants all rows.</summary>
public sealed record ScopeRule(string Role, string? Text);
