using Weir.Core.Expressions;

namespace Weir.Core.Definitions;

/// <summary>What a kind of picture takes under one key of a tile.</summary>
/// <param name="Least">The fewest measures or fields.</param>
/// <param name="Most">The most.</param>
public sealed record Slot(int Least, int Most)
{
    /// <summary>Nothing may stand there.</summary>
    public static Slot None { get; } = new(0, 0);

    /// <summary>Exactly so many.</summary>
    public static Slot Of(int count) => new(count, count);

    /// <summary>The types of value that fit; all if left out.</summary>
    public IReadOnlyList<ValueKind> Kinds { get; init; } = [];

    /// <summary>The key that may stand in place of all of them; null if none may.</summary>
    public string? OrKey { get; init; }

    /// <summary>True if fields whose values are shown by names fit too, whatever their type.</summary>
    public bool OrNamed { get; init; }

    /// <summary>What fits, in words: "a date".</summary>
    public string? Wanted { get; init; }

    /// <summary>True if a field fits.</summary>
    /// <param name="hasNames">True if its values are shown by names.</param>
    public bool Fits(ValueKind kind, bool hasNames) => Kinds.Count == 0 || Kinds.Contains(kind) || (OrNamed && hasNames);
}

/// <summary>What a kind of picture asks for.</summary>
public enum QuestionShape
{
    /// <summary>Nothing.</summary>
    Nothing,

    /// <summary>A line for each combination of members, with its figures; one line if it is grouped by nothing.</summary>
    Groups,

    /// <summary>A line for each range of its field's numbers, with its figures or how many rows it has.</summary>
    Ranges,

    /// <summary>A curve of how thick the values of its field lie, or one for each member of its split.</summary>
    Curves,

    /// <summary>What each of its fields is like, in a column for each member of its split and one for all.</summary>
    Summary,

    /// <summary>In which state subjects were first, and in which later.</summary>
    Movement,

    /// <summary>The members to choose from, as many as a page is sent of options.</summary>
    Options,

    /// <summary>The first and the last value of its field.</summary>
    Ends,

    /// <summary>How many members its field has.</summary>
    Count,
}

/// <summary>A key of tiles that only one kind of picture has.</summary>
/// <param name="Key">The key, for the check of files, for editors and for docs.</param>
/// <param name="NeedsOwn">What to do where another kind has it, as a fault code and a sentence.</param>
public sealed record OwnKey(Key Key, string Code, string NeedsOwn)
{
    /// <summary>How bad it is where another kind has it.</summary>
    public Severity Severity { get; init; } = Severity.Error;

    /// <summary>True if a tile of the kind must have it.</summary>
    public bool IsNeeded { get; init; }

    /// <summary>True if it is one word, or one for each of some measures, that says how the kind is drawn and nothing else: it is given to whoever draws.</summary>
    public bool IsOption { get; init; }
}

/// <summary>
/// A kind of picture as it is declared once: what it shows, how it is picked, where it may stand, and the shape of its question.
/// Checks, schema, plans, docs, the command line and the console's forms come from it; nothing else knows its name.
/// </summary>
/// <param name="Name">As it is written under <c>picture</c>.</param>
/// <param name="Summary">What it is, in half a sentence, for docs and forms.</param>
public sealed record PictureKind(string Name, string Summary)
{
    /// <summary>The measures under <c>show</c>.</summary>
    public Slot Show { get; init; } = Slot.None;

    /// <summary>The fields under <c>by</c>.</summary>
    public Slot By { get; init; } = Slot.None;

    /// <summary>True if a field under <c>split</c> may give each series its colour.</summary>
    public bool CanSplit { get; init; }

    /// <summary>True if it may be split and show several measures all the same, since each measure has a place of its own.</summary>
    public bool SplitsSeveral { get; init; }

    /// <summary>So many of the first measures have a meaning by their place: without one of them the tile can't stand.</summary>
    public int PlacedMeasures { get; init; }

    /// <summary>True if its parts make up a whole, so that its measure has to add up.</summary>
    public bool AddsUp { get; init; }

    /// <summary>True if lines or bands may be drawn at values of its axis.</summary>
    public bool HasReferences => Own.Any(o => o.Key.Name == ReferenceLine.KeyName);

    /// <summary>The key of the field for each of whose members a picture is drawn once.</summary>
    public const string RepeatKey = "repeat";

    /// <summary>The key of the field for each of whose members it is drawn, beside those that it is grouped by; null if it has none.</summary>
    public string? EachKey { get; init; }

    /// <summary>True if it can't do without that field.</summary>
    public bool NeedsEach { get; init; }

    /// <summary>With more points than this cells of them are drawn; null for what has no points.</summary>
    public int? MostPoints { get; init; }

    /// <summary>True if figures over fewer of its fields stand beside those over all of them.</summary>
    public bool HasSubtotals { get; init; }

    /// <summary>True if it draws the course of its figures from one member to the next, so that their order matters.</summary>
    public bool DrawsCourse { get; init; }

    /// <summary>True if colour tells its members apart, and not only those of a split.</summary>
    public bool ColoursMembers { get; init; }

    /// <summary>How it is picked where the tile does not say.</summary>
    public Pick Pick { get; init; } = Pick.Many;

    /// <summary>True if it can be picked in no other way.</summary>
    public bool PicksOneWay => Pick is Pick.Range or Pick.Text;

    /// <summary>True if each of its fields is told of by itself, so that it can stand without those that a viewer may not see.</summary>
    public bool HasFieldsApart => Question == QuestionShape.Summary;

    /// <summary>True if it shows no figures and only filters; such tiles may stand in the side panel.</summary>
    public bool IsControl { get; init; }

    /// <summary>True if it is lines one below the other, of which the first are something by themselves.</summary>
    public bool IsLines { get; init; }

    /// <summary>How many rows of the grid it covers where its tile flows into a column and does not say.</summary>
    public int Rows { get; init; } = 4;

    /// <summary>What it asks for.</summary>
    public QuestionShape Question { get; init; } = QuestionShape.Groups;

    /// <summary>True if its figures are lines that can be looked at from one another.</summary>
    public bool HasLines => (Question is QuestionShape.Groups or QuestionShape.Ranges) && By.Most > 0 && !HasSubtotals;

    /// <summary>True if a tile of it is over a dataset.</summary>
    public bool HasData => Question != QuestionShape.Nothing;

    /// <summary>
    /// The keys about members that it takes, as its question says: what has a line for each member can be ordered, cut to the leading
    /// ones by a figure and opened; options are ordered only.
    /// </summary>
    public IReadOnlyList<Key> OfMembers =>
        Question switch
        {
            QuestionShape.Groups when HasSubtotals => [KeysOfMembers.Sort],
            QuestionShape.Groups when By.Most > 0 => Show.Most > 0 ? KeysOfMembers.All : [KeysOfMembers.Sort, KeysOfMembers.Drill],
            QuestionShape.Options => [KeysOfMembers.Sort],
            _ => [],
        };

    /// <summary>What it is where a tile of it names a dataset though it needs none; null if that changes nothing.</summary>
    public PictureKind? WithData { get; init; }

    /// <summary>The keys that only it has.</summary>
    public IReadOnlyList<OwnKey> Own { get; init; } = [];

    /// <inheritdoc/>
    public override string ToString() => Name;
}
