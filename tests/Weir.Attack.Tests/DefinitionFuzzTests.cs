using System.Reflection;
using CsCheck;
using Shouldly;
using Weir.Core;
using Weir.Core.Definitions;
using Weir.Testing;

namespace Weir.Attack.Tests;

/// <summary>The demo's definitions with random damage: whatever stands in them, they are read to the end, and what is wrong is told with its place.</summary>
public sealed class DefinitionFuzzTests
{
    private static readonly Dictionary<string, string> Demo = Repository.DemoDefinitions();

    private static readonly string[] Paths = [.. Demo.Keys.Order(StringComparer.Ordinal)];

    /// <summary>What is put in place of a value, or of a piece of a line.</summary>
    private static readonly string[] Pieces =
    [
        "",
        "null",
        "~",
        "true",
        "-1",
        "99999999999999999999",
        "1e400",
        ".nan",
        "x",
        "param.grain",
        "param.nothing",
        "departed.month",
        "departed.",
        ".",
        "user.ports",
        "[",
        "]",
        "{",
        "}",
        "[]",
        "{}",
        "[[a], {b: c}]",
        "{ a: { b: { c: d } } }",
        "? x",
        "*alias",
        "&anchor x",
        "!!binary x",
        "<<: x",
        "\"unclosed",
        "'",
        "|",
        ">",
        "#",
        "- ",
        ": ",
        "\t",
        "\u0000",
        "\u2028",
        "日本",
        "$1",
        "${env:PATH}",
        "${secret:x}",
        "../../etc/passwd",
        "sum(",
        "count(*)",
        "sum(sum(fares))",
        "case when then end",
        "fares || fares",
        "'a' in ('a', null)",
        "previous(income, year)",
        "share(income)",
        "fares / 0",
        "not not not late",
        "1 + + 1",
        "cast(fares as date)",
        "within(departed, 'ever')",
        "income",
        "sailings",
        "late > 'x'",
        "where",
        "; drop table sailing",
        "(((((((((1)))))))))",
        "0.0 min",
        "dd.MM.yyyy",
        "route.name",
        "nowhere.name",
        "dashboard",
        "tab",
        "all",
        "none",
    ];

    private static readonly Gen<(int File, int Act, int Line, int At, int Piece)[]> Damage = Gen.Select(
        Gen.Int[0, 1_000],
        Gen.Int[0, 8],
        Gen.Int[0, 10_000],
        Gen.Int[0, 10_000],
        Gen.Int[0, 10_000]
    ).Array[1, 4];

    private static string Damaged(string text, int act, int line, int at, string piece)
    {
        var lines = text.Split('\n').ToList();
        var i = line % lines.Count;
        var here = lines[i];
        var colon = here.IndexOf(": ", StringComparison.Ordinal);
        switch (act)
        {
            case 0: // another value
                lines[i] = colon < 0 ? piece : $"{here[..colon]}: {piece}";
                break;
            case 1:
                lines.RemoveAt(i);
                break;
            case 2: // twice
                lines.Insert(at % lines.Count, here);
                break;
            case 3: // another depth
                lines[i] =
                    at % 2 == 0 ? "  " + here
                    : here.Length > 2 ? here[2..]
                    : here;
                break;
            case 4: // something in between
                lines[i] = here.Insert(at % (here.Length + 1), piece);
                break;
            case 5: // cut short
                lines[i] = here[..(at % (here.Length + 1))];
                break;
            case 6: // another name for a key
                lines[i] = colon < 0 ? here : $"{here[..(at % (colon + 1))]}{piece}{here[colon..]}";
                break;
            case 7: // a value within braces
                var values = System.Text.RegularExpressions.Regex.Matches(here, @"(?<=: )[^,{}\[\]]+");
                if (values.Count > 0)
                    lines[i] =
                        here[..values[at % values.Count].Index]
                        + piece
                        + here[(values[at % values.Count].Index + values[at % values.Count].Length)..];
                break;
            default: // two lines change places
                (lines[i], lines[at % lines.Count]) = (lines[at % lines.Count], lines[i]);
                break;
        }
        return string.Join('\n', lines);
    }

    /// <summary>All that can be read of a value, and of what it is made of.</summary>
    private static string Deep(object? value)
    {
        var said = new System.Text.StringBuilder();
        // What is said once is named after that: a tile knows its variants, and is one of them.
        var known = new Dictionary<object, int>(ReferenceEqualityComparer.Instance);
        Say(value, 0);
        return said.ToString();

        void Say(object? part, int depth)
        {
            if (part is null or string or IFormattable or bool or Type)
                said.AppendLine($"{part}");
            else if (!part.GetType().IsValueType && !known.TryAdd(part, known.Count))
                said.AppendLine($"see {known[part]}");
            else if (part is System.Collections.IEnumerable many)
                foreach (var one in many)
                    Say(one, depth + 1);
            else
                foreach (var property in part.GetType().GetProperties(BindingFlags.Public | BindingFlags.Instance))
                {
                    if (property.GetIndexParameters().Length > 0 || property.PropertyType.IsByRefLike)
                        continue;
                    said.Append(' ', depth).Append(part.GetType().Name).Append('.').Append(property.Name).Append(' ');
                    Say(property.GetValue(part), depth + 1);
                }
        }
    }

    [Fact]
    public void Damaged_definitions_are_read_to_the_end_and_every_fault_has_its_place()
    {
        var sane = WorkspaceText.Read(Demo);
        sane.Workspace.ShouldNotBeNull();
        var (sound, broken) = (0, 0);
        Damage.Sample(
            damage =>
            {
                var files = new Dictionary<string, string>(Demo);
                foreach (var (file, act, line, at, piece) in damage)
                {
                    var path = Paths[file % Paths.Length];
                    files[path] = Damaged(files[path], act, line, at, Pieces[piece % Pieces.Length]);
                }
                string Said(string what) =>
                    $"{what}\n{string.Join('\n', files.Where(f => f.Value != Demo[f.Key]).Select(f => $"--- {f.Key}\n{f.Value}"))}";
                WorkspaceRead read;
                try
                {
                    read = WorkspaceText.Read(files);
                }
                catch (Exception e)
                {
                    throw new InvalidOperationException(Said(e.ToString()), e);
                }
                var (workspace, faults) = read;
                (workspace is null).ShouldBe(
                    faults.Any(f => f.Severity == Severity.Error),
                    Said("no workspace without an error, and none with one")
                );
                foreach (var fault in faults)
                {
                    fault.Line.ShouldBeInRange(
                        1,
                        files.TryGetValue(fault.File, out var text) ? text.Split('\n').Length + 1 : 1,
                        Said(fault.ToString())
                    );
                    fault.Column.ShouldBeGreaterThan(0, Said(fault.ToString()));
                    fault.Message.ShouldEndWith(fault.Message.TrimEnd()[^1..], Case.Sensitive, Said(fault.ToString()));
                }
                // Begun from what was read of the sound files, and of sound ones from what was read of these: as if read for the first time.
                var again = WorkspaceText.Read(files, before: sane);
                again.Faults.ShouldBe(faults, Said("the faults of another reading"));
                if ((sound + broken) % 4 == 0)
                    WorkspaceText.Read(Demo, before: read).Faults.ShouldBe(sane.Faults, Said("the faults of the sound files"));
                if (workspace is null)
                    Interlocked.Increment(ref broken);
                else if (Interlocked.Increment(ref sound) % 10 == 1)
                    Deep(again.Workspace).ShouldBe(Deep(workspace), Said("what another reading says"));
            },
            iter: Fuzz.Cases,
            threads: 2
        );
        sound.ShouldBeGreaterThan(0, "some damage does no harm");
        broken.ShouldBeGreaterThan(Fuzz.Cases / 4, "otherwise this proves nothing");
    }
}
