using Weir.Core.Planning;

namespace Weir.Testing;

/// <summary>Rows in memory, and plans that are answered from them.</summary>
public static class Memory
{
    /// <summary>The one table <c>t</c> with some rows; a value of a row for each of its columns.</summary>
    public static InMemory Of<T>(IEnumerable<T> rows, params (string Column, Func<T, object?> Value)[] columns) =>
        new(
            new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, object?>>>
            {
                ["t"] = [.. rows.Select(r => columns.ToDictionary(c => c.Column, c => c.Value(r)))],
            },
            DayOfWeek.Monday
        );

    /// <summary>What a plan answers from such rows.</summary>
    public static TileAnswer Run(this TilePlan plan, InMemory memory) =>
        plan.Run(
                (query, _) =>
                {
                    var (table, lines) = memory.Answer(query);
                    return Task.FromResult(new QueryAnswer(table, lines));
                },
                CancellationToken.None
            )
            .GetAwaiter()
            .GetResult();
}
