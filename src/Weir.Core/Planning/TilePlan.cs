using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Expressions;
using Weir.Core.Interaction;

namespace Weir.Core.Planning;

/// <summary>Values for what a question leaves open, by name. Names that the question does not have tell its askings apart.</summary>
public sealed class Filling : Dictionary<string, object?>
{
    /// <summary>No values yet.</summary>
    public Filling() { }

    /// <summary>Values by name.</summary>
    public Filling(IEnumerable<(string Name, object? Value)> values)
        : base(values.ToDictionary(v => v.Name, v => v.Value)) { }

    /// <summary>The values of another.</summary>
    public Filling(Filling other)
        : base(other) { }

    /// <summary>Nothing to put in: the question is asked as it is.</summary>
    public static Filling None { get; } = [];
}

/// <summary>A question of a plan.</summary>
/// <param name="Id">What steps and later questions call it by, unique in its plan.</param>
/// <param name="Why">What it is asked for, for the reader of an explanation.</param>
/// <param name="Query">The question; where it waits for others it may have open values: see <see cref="Bound.Open"/>.</param>
public sealed record PlannedQuestion(string Id, string Why, Query Query)
{
    private static readonly IReadOnlyList<Filling> Once = [Filling.None];

    /// <summary>The questions whose answers it waits for; none if it can be asked at once.</summary>
    public IReadOnlyList<string> After { get; init; } = [];

    /// <summary>From the answers it waits for: the values of each time that it is asked. None if it need not be asked after all.</summary>
    public Func<Answers, IReadOnlyList<Filling>> Fillings { get; init; } = _ => Once;

    /// <summary>True if it is asked once for all times: of the rows that meet its last condition with any of the values put in.</summary>
    public bool IsForAny { get; init; }

    /// <summary>What is asked once the answers that it waits for are there, each time with what was put in.</summary>
    public IReadOnlyList<(Filling Filling, Query Query)> Askings(Answers answers)
    {
        var fillings = Fillings(answers);
        if (!IsForAny || fillings.Count == 0)
            return [.. fillings.Select(f => (f, Filled(f)))];
        IEnumerable<Bound> conditions = [.. Query.Where.SkipLast(1), Bound.Any(fillings.Select(f => Filled(f).Where[^1]))];
        return [(Filling.None, Query with { Where = [.. conditions] })];
    }

    /// <summary>The question with its open values put in.</summary>
    internal Query Filled(Filling filling) =>
        filling.Count == 0 ? Query : Query.Rewrite(node => node is Bound.Open open ? Value(filling[open.Name], open.Kind) : node);

    private static Bound.Literal Value(object? value, ValueKind kind) =>
        new(
            value,
            value switch
            {
                // Of a day that is compared with an instant the instant counts.
                DateOnly => ValueKind.Date,
                DateTime => ValueKind.Timestamp,
                _ => kind,
            }
        );
}

/// <summary>The answers to the questions of a plan, by their names.</summary>
public sealed class Answers
{
    private readonly Dictionary<string, IReadOnlyList<(Filling Filling, QueryAnswer Answer)>> _all = [];

    /// <summary>True once a question was answered, or need not be asked.</summary>
    public bool Has(string id) => _all.ContainsKey(id);

    /// <summary>The answer to a question that is asked once; null if it was not asked.</summary>
    public QueryAnswer? Of(string id) => _all.GetValueOrDefault(id) is [var only] ? only.Answer : null;

    /// <summary>Every answer to a question, with what was put in.</summary>
    public IReadOnlyList<(Filling Filling, QueryAnswer Answer)> Every(string id) => _all.GetValueOrDefault(id) ?? [];

    internal void Add(string id, IReadOnlyList<(Filling Filling, QueryAnswer Answer)> answers) => _all[id] = answers;
}

/// <summary>What is worked out once the answers are there.</summary>
/// <param name="Does">What it does, for the reader of an explanation.</param>
public sealed record PlanStep(string Does, Func<Answers, TileAnswer, TileAnswer> Apply);

/// <summary>
/// All that a tile needs, as a value: questions, what waits for whose answer, and the steps after the answers. It is made by the
/// passes of <see cref="Planner"/> without asking anybody, so it can be looked at, placed and explained as well as run.
/// </summary>
/// <param name="Tile">The tile at its opened level, as the viewer may see it.</param>
/// <param name="Own">What is picked on the tile itself; null for nothing.</param>
/// <param name="Limit">The most lines that are brought.</param>
public sealed record TilePlan(Planner Planner, Tile Tile, Scope Scope, TileFilters Filters, Selection? Own, int Limit)
{
    /// <summary>The question whose lines the tile shows.</summary>
    public const string Lines = "lines";

    /// <summary>The question for one line over all rows.</summary>
    public const string Total = "total";

    /// <summary>The question for the first and the last instant of the data.</summary>
    public const string Bounds = "bounds";

    /// <summary>The first day of the week.</summary>
    public DayOfWeek WeekStart => Planner.WeekStart;

    /// <summary>The right to single rows and what filters them, for what shows single values; null if the viewer has none.</summary>
    public (Scope Scope, TileFilters Filters)? Detail { get; init; }

    /// <summary>What the tile shows as one question, with its columns; what is asked for it may be others.</summary>
    public Query Shown { get; private init; } = new(Scope, [], [], [], null, [], Limit);

    /// <summary>The questions.</summary>
    public IReadOnlyList<PlannedQuestion> Questions { get; init; } = [];

    /// <summary>The steps after the answers, in order.</summary>
    public IReadOnlyList<PlanStep> Steps { get; init; } = [];

    /// <summary>The questions that wait for none.</summary>
    public IEnumerable<PlannedQuestion> First => Questions.Where(q => q.After.Count == 0);

    /// <summary>The plan for another question to show, which is asked for its lines too.</summary>
    internal TilePlan Showing(Query query) =>
        (this with { Shown = query }).Asking(
            (Questions.FirstOrDefault(q => q.Id == Lines) ?? new PlannedQuestion(Lines, "the lines of the tile", query)) with
            {
                Query = query with { ByMember = null },
            }
        );

    /// <summary>The plan with a question more, or with another in place of the one of that name.</summary>
    internal TilePlan Asking(PlannedQuestion question) =>
        Questions.Any(q => q.Id == question.Id)
            ? this with
            {
                Questions = [.. Questions.Select(q => q.Id == question.Id ? question : q)],
            }
            : this with
            {
                Questions = [.. Questions, question],
            };

    /// <summary>The plan with a step more at the end.</summary>
    internal TilePlan Then(string does, Func<Answers, TileAnswer, TileAnswer> apply) =>
        this with
        {
            Steps = [.. Steps, new PlanStep(does, apply)],
        };

    /// <summary>Which wave a question belongs to, from 1: those of one wave wait for none of each other.</summary>
    public int WaveOf(PlannedQuestion question) =>
        question.After.Count == 0 ? 1 : 1 + question.After.Max(id => WaveOf(Questions.First(q => q.Id == id)));

    /// <summary>Asks the questions wave by wave and takes the steps.</summary>
    /// <param name="ask">Who answers. All questions of a wave are asked before the first of them is waited for.</param>
    /// <exception cref="OverflowException">A sum leaves 64 bits.</exception>
    public async Task<TileAnswer> Run(Ask ask, CancellationToken cancellation)
    {
        var answers = new Answers();
        foreach (var wave in Questions.GroupBy(WaveOf).OrderBy(w => w.Key))
        {
            var asked = wave.Select(question =>
                    (question.Id, Askings: question.Askings(answers).Select(a => (a.Filling, Answer: ask(a.Query, cancellation))).ToList())
                )
                .ToList();
            await Task.WhenAll(asked.SelectMany(a => a.Askings).Select(a => a.Answer));
            foreach (var (id, askings) in asked)
                answers.Add(id, [.. askings.Select(a => (a.Filling, a.Answer.Result))]);
        }
        return Steps.Aggregate(TileAnswer.None, (answer, step) => step.Apply(answers, answer));
    }
}
