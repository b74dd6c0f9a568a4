using Shouldly;
using Weir.Service.Publishing;

namespace Weir.Service.Tests;

/// <summary>Putting two texts together: what one side changed is there, what both did is asked about, and nothing is lost.</summary>
public class TextMergeTests
{
    [Fact]
    public void Random_changes_go_together_where_they_touch_different_lines_and_are_asked_about_elsewhere()
    {
        var random = new Random(3);
        var (together, clashed) = (0, 0);
        for (var i = 0; i < 2000; i++)
        {
            // A few words only, so that lines repeat.
            string Line() => $"{(char)('a' + random.Next(i % 2 == 0 ? 26 : 4))}{random.Next(i % 2 == 0 ? 1000 : 2)}\n";
            var origin = Enumerable.Range(0, random.Next(0, 14)).Select(_ => Line()).ToList();
            List<string> Changed()
            {
                var lines = origin.ToList();
                for (var c = random.Next(0, 3); c > 0; c--)
                {
                    var at = random.Next(0, lines.Count + 1);
                    if (random.Next(3) == 0)
                        lines.Insert(at, Line());
                    else if (at < lines.Count && random.Next(2) == 0)
                        lines.RemoveAt(at);
                    else if (at < lines.Count)
                        lines[at] = Line();
                }
                return lines;
            }
            string Text(List<string> lines) => string.Concat(lines).TrimEnd(random.Next(2) == 0 ? '\n' : ' ');
            var (was, mine, theirs) = (string.Concat(origin), Text(Changed()), Text(Changed()));
            TextMerge.Of(was, mine, was, []).Text.ShouldBe(mine);
            TextMerge.Of(was, was, theirs, []).Text.ShouldBe(theirs);
            TextMerge.Of(was, mine, mine, []).Text.ShouldBe(mine);
            var merge = TextMerge.Of(was, mine, theirs, []);
            if (merge.Text is null)
            {
                clashed++;
                merge.Clashes.ShouldAllBe(c => c.Mine != c.Theirs && c.Mine != c.Was && c.Theirs != c.Was);
                // Settled for one side throughout, what the other alone changed is still there.
                var own = TextMerge.Of(was, mine, theirs, [.. merge.Clashes.Select(_ => false)]).Text.ShouldNotBeNull();
                var other = TextMerge.Of(was, mine, theirs, [.. merge.Clashes.Select(_ => true)]).Text.ShouldNotBeNull();
                merge.Clashes.ShouldAllBe(c => own.Contains(c.Mine) && other.Contains(c.Theirs));
                continue;
            }
            together++;
            // Lines that either side added or took away are as often there as both together made them.
            foreach (var line in mine.Split('\n').Concat(theirs.Split('\n')).Distinct().Where(l => l.Length > 0))
            {
                int In(string text) => text.Split('\n').Count(l => l == line);
                // What both did alike is done once.
                var (own, other) = (In(mine) - In(was), In(theirs) - In(was));
                (In(merge.Text) - In(was)).ShouldBeInRange(
                    Math.Min(own + other, Math.Min(own, other)),
                    Math.Max(own + other, Math.Max(own, other))
                );
            }
        }
        together.ShouldBeGreaterThan(600);
        clashed.ShouldBeGreaterThan(200);
    }

    [Fact]
    public void What_overlaps_is_no_change_of_one_side_alone()
    {
        var merge = TextMerge.Of("a\nb\nc\nd\n", "a\nB\nC\nd\n", "a\nb\nCC\nd\n", []);
        merge.Text.ShouldBeNull();
        merge.Clashes.ShouldHaveSingleItem().ShouldBe(new Clash(2, "b\nc\n", "B\nC\n", "b\nCC\n"));
        TextMerge.Of("a\nb\nc\nd\n", "a\nB\nC\nd\n", "a\nb\nCC\nd\n", [true]).Text.ShouldBe("a\nb\nCC\nd\n");
    }
}
