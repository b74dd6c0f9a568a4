using System.Globalization;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Weir.Core.Definitions;
using Weir.Core.Designing;
using Weir.Core.Expressions;
using Weir.Core.Interaction;
using Weir.Core.Views;
using YamlDotNet.Core;

namespace Weir.Core;

/// <summary>
/// Gives something another name wherever it is named. Which places mean it is for the check to say: the definition gets its new name, and
/// what is not found any more is followed, place by place, until nothing is missing. All else stays to the letter.
/// </summary>
public static partial class Renaming
{
    /// <summary>Formulas on formulas are followed one level a round.</summary>
    private const int MostRounds = 100;

    /// <summary>Faults that tell of names of another kind: what they point at is never meant, whatever it is called.</summary>
    private static readonly HashSet<string> OfOthers =
    [
        "unknown-tile",
        "unknown-section",
        "unknown-group",
        "unknown-area",
        "unknown-catalogue",
        "unknown-role",
        "unknown-source",
        "unknown-dashboard",
        "unknown-dataset",
        "unknown-table",
        "unknown-file",
        "unknown-parameter",
        "unknown-key",
        "opening-edit",
    ];

    /// <summary>The workspace with a new name in it.</summary>
    /// <param name="files">Text by path; free of errors.</param>
    /// <param name="workspace">The same, read.</param>
    /// <param name="mayMove">Whether the file at a path may be called by the new name.</param>
    /// <exception cref="DesignException">There is nothing of that name, the new one is taken or none, or a place can't be changed so.</exception>
    public static RenamedWorkspace Of(
        IReadOnlyDictionary<string, string> files,
        Workspace workspace,
        NewName name,
        Func<string, bool>? mayMove = null,
        CancellationToken stop = default
    )
    {
        var title = TitleOf(workspace, name);
        var before = WorkspaceText.Read(files, stop).Faults;
        var now = files.ToDictionary();
        var places = new Dictionary<string, int>();
        var home = Define(now, name, title);
        places[home] = 1;
        var views = new RenamedViews(name, workspace, null);
        foreach (var view in workspace.OpeningViews)
            if (InOpening(now[view.File], view, views) is var (text, count) && count > 0)
                (now[view.File], places[view.File]) = (text, count);
        if (name.Kind == Nameable.Dashboard)
            foreach (var file in now.Keys.Where(p => p.EndsWith(".yaml", StringComparison.Ordinal)).ToList())
                if (Addressed(now[file], name) is { Count: > 0 } cuts)
                    (now[file], places[file]) = (Replaced(now[file], cuts), places.GetValueOrDefault(file) + cuts.Count);
        var (after, warnings) = Follow(now, name, places, stop);
        var known = before.Where(f => f.Severity == Severity.Warning).Select(f => (f.Code, Said(f.Message, name))).ToHashSet();
        var path = home;
        var folder = Path.GetDirectoryName(home) ?? "";
        if (name.Kind != Nameable.Member && Path.GetFileNameWithoutExtension(home) == name.From && mayMove?.Invoke(home) != false)
        {
            path = $"{folder}/{name.To}.yaml";
            if (now.ContainsKey(path))
                path = home;
        }
        if (path != home && now.Remove(home, out var moved))
            now[path] = moved;
        return new RenamedWorkspace(
            now,
            after,
            [
                .. places.Select(p =>
                    p.Key == home
                        ? new RenamedFile(home, path, files[home], now[path], p.Value)
                        : new RenamedFile(p.Key, p.Key, files[p.Key], now[p.Key], p.Value)
                ),
            ],
            [.. warnings.Where(f => !known.Contains((f.Code, f.Message)))]
        );
    }

    /// <summary>The title that viewers read now.</summary>
    private static string TitleOf(Workspace workspace, NewName name)
    {
        if (!Shapes.IsName(name.To))
            throw new DesignException($"'{name.To}' can't be a name.", "Use letters, digits, _ and -, a letter first.");
        DesignException Missing(string what) => new($"There is no {what} {name.From}.", "Look at what there is: weir list.");
        DesignException Taken(string what) => new($"There is a {what} {name.To} already.", "Choose another name.");
        switch (name.Kind)
        {
            case Nameable.Dataset:
                if (workspace.Datasets.ContainsKey(name.To))
                    throw Taken("dataset");
                return (workspace.Datasets.GetValueOrDefault(name.From) ?? throw Missing("dataset")).Title;
            case Nameable.Dashboard:
                if (workspace.Dashboards.ContainsKey(name.To))
                    throw Taken("dashboard");
                return (workspace.Dashboards.GetValueOrDefault(name.From) ?? throw Missing("dashboard")).Title;
            default:
                if (workspace.Datasets.GetValueOrDefault(name.Dataset ?? "") is not { } dataset)
                    throw new DesignException($"There is no dataset {name.Dataset}.", "Look at what there is: weir list.");
                if (dataset.Fields.ContainsKey(name.To) || dataset.Measures.ContainsKey(name.To))
                    throw Taken("field or measure");
                return dataset.Fields.GetValueOrDefault(name.From)?.Title
                    ?? dataset.Measures.GetValueOrDefault(name.From)?.Title
                    ?? throw Missing($"field or measure in {dataset.Name} that is called");
        }
    }

    /// <summary>Gives the definition its new name.</summary>
    /// <returns>The file that it stands in.</returns>
    private static string Define(Dictionary<string, string> now, NewName name, string title)
    {
        var (folder, key) = name.Kind == Nameable.Dashboard ? ("dashboards", "dashboard") : ("datasets", "dataset");
        var wanted = name.Kind == Nameable.Member ? name.Dataset! : name.From;
        var home = now.First(f =>
            f.Key.StartsWith(folder + "/", StringComparison.Ordinal) && SpanTree.Read(f.Value).Of(key) is SpanScalar s && s.Value == wanted
        ).Key;
        var root = SpanTree.Read(now[home]);
        List<string> path = [];
        var map = root;
        var at = root.Of(key) as SpanScalar;
        if (name.Kind == Nameable.Member)
        {
            var list = (root.Of("measures") as SpanMap)?.Of(name.From) is not null ? "measures" : "fields";
            var entry = ((SpanMap)root.Of(list)!).Entries.First(e => e.Key.Value == name.From);
            (at, path) = (entry.Key, [list, name.To]);
            map =
                entry.Value as SpanMap
                ?? throw new DesignException($"{name.From} is defined in a way that is not changed by hand.", "Change it as text.");
        }
        now[home] = Replaced(now[home], [(ContentOf(now[home], at!), name.From.Length, name.To)]);
        if (name.KeepsTitle && map.Of("title") is null)
            now[home] = new DesignText(WorkspaceText.Shapes.FileAt(home)!.Value.Shape).Apply(
                now[home],
                [new DesignStep.Set([.. path, "title"], JsonValue.Create(title))]
            );
        return home;
    }

    /// <summary>The steps of an opening view that name it.</summary>
    private static (string Text, int Count) InOpening(string text, OpeningView view, RenamedViews views)
    {
        var edits = PromotedView.Numbered(view).ToList();
        var steps = new List<DesignStep>();
        foreach (var ((step, was), now) in edits.Zip(views.Of(view.Dashboard, [.. edits.Select(e => e.Edit)])))
        {
            void Set(string? before, string? after, params ReadOnlySpan<string> at)
            {
                if (before != after)
                    steps.Add(new DesignStep.Set(["edits", step.ToString(CultureInfo.InvariantCulture), .. at], after));
            }
            if (was is ViewEdit.AddTile add)
                Set(add.Shared, ((ViewEdit.AddTile)now).Shared, "shared");
            if (was is ViewEdit.MakeTile make)
                Set(make.Dataset, ((ViewEdit.MakeTile)now).Dataset, "dataset");
            if (was is ViewEdit.SetTable { Table: { } table } && now is ViewEdit.SetTable { Table: { } called })
                foreach (
                    var (key, columns, others, within) in ((string, IEnumerable<string>?, IEnumerable<string>?, string[])[])
                        [
                            ("order", table.Order, called.Order, []),
                            ("hidden", table.Hidden, called.Hidden, []),
                            ("pinned", table.Pinned, called.Pinned, []),
                            ("widths", table.Widths?.Select(w => w.Column), called.Widths?.Select(w => w.Column), ["column"]),
                            ("sorted", table.Sorted?.Select(s => s.Column), called.Sorted?.Select(s => s.Column), ["column"]),
                        ]
                )
                foreach (var (i, (column, other)) in (columns ?? []).Zip(others ?? []).Index())
                    Set(column, other, ["table", key, i.ToString(CultureInfo.InvariantCulture), .. within]);
            if (DrawingOf(was) is not { } old || DrawingOf(now) is not { } drawn)
                continue;
            Set(old.Split, drawn.Split, "drawing", "split");
            Set(old.Sort, drawn.Sort, "drawing", "sort");
            foreach (
                var (key, names, others) in ((string, IReadOnlyList<string>?, IReadOnlyList<string>?)[])
                    [("show", old.Show, drawn.Show), ("by", old.By, drawn.By)]
            )
                for (var i = 0; i < (names?.Count ?? 0); i++)
                    Set(names![i], others![i], "drawing", key, i.ToString(CultureInfo.InvariantCulture));
        }
        return (steps.Count == 0 ? text : new DesignText().Apply(text, steps), steps.Count);
    }

    private static Drawing? DrawingOf(ViewEdit edit) =>
        edit switch
        {
            ViewEdit.Draw draw => draw.Drawing,
            ViewEdit.MakeTile make => make.Drawing,
            _ => null,
        };

    /// <summary>Where a text leads to the dashboard by its address, which the check does not look into.</summary>
    private static List<(int Start, int Length, string By)> Addressed(string text, NewName name) =>
        [
            .. Scalars(SpanTree.Read(text))
                .SelectMany(s =>
                    Regex.Matches(text[s.Start..s.End], $@"(?<![\w/.:-])/d/{name.From}(?![\w-])").Select(m => s.Start + m.Index)
                )
                .Select(at => (at + "/d/".Length, name.From.Length, name.To)),
        ];

    /// <summary>Follows what is not found any more until nothing is missing.</summary>
    /// <returns>The workspace then, and what the check warns of.</returns>
    private static (Workspace After, IReadOnlyList<Fault> Warnings) Follow(
        Dictionary<string, string> now,
        NewName name,
        Dictionary<string, int> places,
        CancellationToken stop
    )
    {
        for (var round = 0; ; round++)
        {
            var (workspace, faults) = WorkspaceText.Read(now, stop);
            if (workspace is not null)
                return (workspace, faults);
            var errors = faults.Where(f => f.Severity == Severity.Error).ToList();
            var isFurther = false;
            foreach (var file in errors.Where(e => now.ContainsKey(e.File)).GroupBy(e => e.File).ToList())
            {
                var text = now[file.Key];
                var cuts = CutsFor(text, file, name);
                if (cuts.Count == 0)
                    continue;
                now[file.Key] = Replaced(text, cuts);
                places[file.Key] = places.GetValueOrDefault(file.Key) + cuts.Count;
                isFurther = true;
            }
            if (!isFurther || round == MostRounds)
                throw new DesignException(
                    $"{errors[0].File}:{errors[0].Line}: {errors[0].Message}",
                    "It names it in a way that is not followed: change the name there as text, and here too."
                );
        }
    }

    /// <summary>A text of one more file with the new name, as far as the check finds the old one missing in it.</summary>
    /// <param name="files">The workspace in which the new name is published.</param>
    /// <param name="path">The path of the file, which is none of the workspace, or another than there.</param>
    /// <param name="text">Its text, which had no error before there was a new name.</param>
    /// <param name="seen">What the file may name; null for all there is.</param>
    public static (string Text, int Places) In(
        IReadOnlyDictionary<string, string> files,
        string path,
        string text,
        NewName name,
        NamesSeen? seen = null,
        CancellationToken stop = default
    )
    {
        var places = 0;
        if (name.Kind == Nameable.Dashboard && Addressed(text, name) is { Count: > 0 } addressed)
            (text, places) = (Replaced(text, addressed), addressed.Count);
        for (var round = 0; round < MostRounds; round++)
        {
            var errors = WorkspaceText
                .Read(new Dictionary<string, string>(files) { [path] = text }, stop, seen)
                .Faults.Where(f => f.Severity == Severity.Error && f.File == path);
            var cuts = CutsFor(text, errors, name);
            if (cuts.Count == 0)
                break;
            (text, places) = (Replaced(text, cuts), places + cuts.Count);
        }
        return (text, places);
    }

    /// <summary>True if a text can name what is to have another name: what it does not hold it does not name.</summary>
    public static bool CanName(string text, NewName name) => Regex.IsMatch(text, $@"(?<![\w-]){Regex.Escape(name.From)}(?![\w-])");

    private static List<(int Start, int Length, string By)> CutsFor(string text, IEnumerable<Fault> faults, NewName name)
    {
        var scalars = Scalars(SpanTree.Read(text)).ToList();
        return [.. faults.Where(f => Means(f, name)).SelectMany(f => CutsAt(text, scalars, f, name)).Distinct()];
    }

    private static bool Means(Fault fault, NewName name) =>
        name.Kind switch
        {
            Nameable.Dataset => fault.Code == "unknown-dataset",
            // Tiles of a dashboard can be offered as those of a catalogue are.
            Nameable.Dashboard => fault.Code is "unknown-dashboard" or "unknown-catalogue",
            _ => !OfOthers.Contains(fault.Code),
        };

    private static IEnumerable<SpanScalar> Scalars(SpanNode node) =>
        node switch
        {
            SpanScalar scalar => [scalar],
            SpanList list => list.Items.SelectMany(Scalars),
            SpanMap map => map.Entries.SelectMany(e => Scalars(e.Value).Prepend(e.Key)),
            _ => [],
        };

    /// <summary>Where a text has to be another for a fault to go.</summary>
    private static IEnumerable<(int Start, int Length, string By)> CutsAt(
        string text,
        IReadOnlyList<SpanScalar> scalars,
        Fault fault,
        NewName name
    )
    {
        var at = OffsetOf(text, fault);
        if (scalars.FirstOrDefault(s => s.Start <= at && at < s.End) is not { } scalar)
            return [];
        var start = ContentOf(text, scalar);
        if (name.Of(scalar.Value) is var whole && whole != scalar.Value)
            return [(start, name.From.Length, name.To)];
        if (scalar.Value == $"{name.Dataset}.{name.From}")
            return [(start + name.Dataset!.Length + 1, name.From.Length, name.To)];
        var content = text[start..scalar.End];
        var cuts = Braced(content, name).Select(i => (start + i, name.From.Length, name.To)).ToList();
        if (cuts.Count == 0)
            cuts = [.. InFormula(content, scalar, name, at - start).Select(c => (start + c.Start, c.Length, c.By))];
        // A parameter stands there for one of its choices.
        if (cuts.Count == 0 && name.Kind == Nameable.Member && ParameterIn().Match(scalar.Value) is { Success: true } parameter)
            cuts =
            [
                .. Choices(SpanTree.Read(text), parameter.Groups[1].Value)
                    .Where(c => name.Of(c.Value) != c.Value)
                    .Select(c => (ContentOf(text, c), name.From.Length, name.To)),
            ];
        return cuts;
    }

    [GeneratedRegex(@"\bparam\.([A-Za-z][A-Za-z0-9_-]*)")]
    private static partial Regex ParameterIn();

    /// <summary>What a parameter of a dashboard can stand for, and what it opens with.</summary>
    private static IEnumerable<SpanScalar> Choices(SpanMap root, string parameter)
    {
        var written = (root.Of("parameters") as SpanMap)?.Of(parameter) as SpanMap;
        var choices = written?.Of("choices") switch
        {
            SpanMap titled => titled.Entries.Select(e => e.Key),
            SpanList list => list.Items.OfType<SpanScalar>(),
            _ => [],
        };
        return written?.Of("opening") is SpanScalar opening ? choices.Append(opening) : choices;
    }

    private static IEnumerable<int> Braced(string content, NewName name)
    {
        for (
            var i = content.IndexOf('{' + name.From, StringComparison.Ordinal);
            i >= 0;
            i = content.IndexOf('{' + name.From, i + 1, StringComparison.Ordinal)
        )
            if (i + 1 + name.From.Length < content.Length && content[i + 1 + name.From.Length] is '}' or '.')
                yield return i + 1;
    }

    /// <summary>The words of a formula that are the name.</summary>
    /// <param name="at">The character that is at fault, if it is within.</param>
    private static List<(int Start, int Length, string By)> InFormula(string content, SpanScalar scalar, NewName name, int at)
    {
        List<Token> tokens;
        try
        {
            tokens = Lexer.Read(Read(content, scalar.Style));
        }
        catch (FormulaException)
        {
            return [];
        }
        var isPlain = name.To.All(c => char.IsLetterOrDigit(c) || c == '_');
        if (!isPlain && scalar.Style == ScalarStyle.DoubleQuoted)
            throw new DesignException(
                $"{name.To} would need quotation marks in the formula {scalar.Value}, which stands in some already.",
                "Choose a name of letters, digits and _."
            );
        var by = isPlain ? name.To : $"\"{name.To}\"";
        var found = new List<(int Start, int Length, string By)>();
        for (var i = 0; i < tokens.Count; i++)
        {
            var before = i > 0 ? tokens[i - 1] : default;
            if (
                tokens[i].Kind is TokenKind.Word or TokenKind.QuotedWord
                && tokens[i].Text == name.From
                && !before.Is(".")
                && !before.Is("as")
                && !tokens[i + 1].Is("(")
                && !(before.Is("(") && i > 1 && tokens[i - 2].Is("extract"))
            )
                found.Add((tokens[i].Span.Start, tokens[i].Span.Length, by));
        }
        // Where the check says which character it is, no other is.
        return at > 0 && found.Where(f => f.Start == at).ToList() is { Count: > 0 } exact ? exact : found;
    }

    /// <summary>What a formula says, every character where it stands in the text.</summary>
    private static string Read(string content, ScalarStyle style) =>
        style switch
        {
            // The line with the sign for a text of several lines.
            ScalarStyle.Literal or ScalarStyle.Folded when content.IndexOf('\n') is var line and >= 0 => new string(' ', line)
                + content[line..],
            ScalarStyle.SingleQuoted when content.EndsWith('\'') => content[..^1].Replace("''", "' "),
            ScalarStyle.DoubleQuoted when content.EndsWith('"') => content[..^1],
            _ => content,
        };

    /// <summary>Where what a scalar says begins, after a quotation mark.</summary>
    private static int ContentOf(string text, SpanScalar scalar) => scalar.Start + (text[scalar.Start] is '"' or '\'' ? 1 : 0);

    private static int OffsetOf(string text, Fault fault)
    {
        var start = 0;
        for (var line = 1; line < fault.Line && start >= 0; line++)
            start = text.IndexOf('\n', start) is var end and >= 0 ? end + 1 : text.Length;
        return start + fault.Column - 1;
    }

    private static string Replaced(string text, IEnumerable<(int Start, int Length, string By)> cuts) =>
        cuts.OrderByDescending(c => c.Start)
            .Aggregate(text, (t, c) => string.Concat(t.AsSpan(0, c.Start), c.By, t.AsSpan(c.Start + c.Length)));

    /// <summary>A message as it would be with the new name.</summary>
    private static string Said(string message, NewName name) => Regex.Replace(message, $@"(?<![\w-]){name.From}(?![\w-])", name.To);
}
