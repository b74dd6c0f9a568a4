using Shouldly;
using Weir.Core.Definitions;
using Weir.Engines;
using Weir.Service.Answers;

namespace Weir.Service.Tests;

/// <summary>The line of a source against a plain list of who waits.</summary>
public sealed class FairLineTests
{
    private static readonly TimeSpan Patience = TimeSpan.FromMinutes(5);

    private static FairLine Line(int atOnce, int waiting) =>
        new(new Source("s", "S", "duckdb", new SourceLimits(3600, 10_000, atOnce, 100, waiting)));

    [Fact]
    public async Task Others_have_their_turn_between_two_of_one_who_asks_much()
    {
        var line = Line(1, 500);
        var first = await line.Enter("many", default);
        var many = Enumerable.Range(0, 40).Select(_ => line.Enter("many", default)).ToList();
        var other = line.Enter("other", default);
        var third = line.Enter("third", default);
        first.Dispose();
        (await many[0].WaitAsync(Patience)).Dispose();
        (await other.WaitAsync(Patience)).Dispose();
        (await third.WaitAsync(Patience)).Dispose();
        many.Skip(2).ShouldAllBe(t => !t.IsCompleted);
    }

    [Fact]
    public async Task One_person_never_fills_the_line()
    {
        var line = Line(1, 100);
        using var inside = await line.Enter("many", default);
        var many = Enumerable.Range(0, 50).Select(_ => line.Enter("many", default)).ToList();
        line.IsFullFor("many").ShouldBeTrue();
        line.IsFullFor("other").ShouldBeFalse();
        (await Should.ThrowAsync<SourceException>(() => line.Enter("many", default))).Code.ShouldBe("source-busy");
        var others = Enumerable.Range(0, 50).Select(i => line.Enter($"other {i}", default)).ToList();
        (await Should.ThrowAsync<SourceException>(() => line.Enter("one more", default))).Code.ShouldBe("source-busy");
        many.Concat(others).ShouldAllBe(t => !t.IsCompleted);
    }

    [Fact]
    public async Task Whoever_comes_and_goes_the_next_in_line_is_let_in()
    {
        var random = new Random(11);
        for (var round = 0; round < 300; round++)
        {
            var atOnce = random.Next(1, 4);
            var line = Line(atOnce, 500);
            var inside = new List<IDisposable>();
            // The oracle: who waits, in the order in which they came, and whose turn it is.
            var waiting = new List<(string Person, Task<IDisposable> Turn, CancellationTokenSource Gone)>();
            var turns = new List<string>();
            for (var step = 0; step < 40; step++)
            {
                var person = $"p{random.Next(3)}";
                if (random.Next(3) > 0)
                {
                    var gone = new CancellationTokenSource();
                    var turn = line.Enter(person, gone.Token);
                    if (inside.Count < atOnce)
                        inside.Add(await turn.WaitAsync(Patience));
                    else
                    {
                        waiting.Add((person, turn, gone));
                        if (!turns.Contains(person))
                            turns.Add(person);
                    }
                }
                else if (random.Next(3) == 0 && waiting.Count > 0)
                {
                    var goes = waiting[random.Next(waiting.Count)];
                    await goes.Gone.CancelAsync();
                    await Should.ThrowAsync<OperationCanceledException>(() => goes.Turn.WaitAsync(Patience));
                    waiting.Remove(goes);
                    if (waiting.TrueForAll(w => w.Person != goes.Person))
                        turns.Remove(goes.Person);
                }
                else if (inside.Count > 0)
                {
                    inside[0].Dispose();
                    inside[0].Dispose(); // twice is once
                    inside.RemoveAt(0);
                    if (turns.Count > 0)
                    {
                        var next = waiting.First(w => w.Person == turns[0]);
                        inside.Add(await next.Turn.WaitAsync(Patience));
                        waiting.Remove(next);
                        turns.RemoveAt(0);
                        if (waiting.Exists(w => w.Person == next.Person))
                            turns.Add(next.Person);
                    }
                }
                waiting.ShouldAllBe(w => !w.Turn.IsCompleted);
            }
        }
    }
}
