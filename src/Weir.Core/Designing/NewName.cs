using Weir.Core.Definitions;

namespace Weir.Core.Designing;

/// <summary>What can get another name with all that names it.</summary>
public enum Nameable
{
    /// <summary>A field or a measure of a dataset: they share their names.</summary>
    Member,
    Dataset,
    Dashboard,
}

/// <summary>Another name for something.</summary>
/// <param name="Dataset">For a field or measure: the dataset that it is of; else null.</param>
/// <param name="KeepsTitle">True to write out the title that viewers read, where it was made from the name.</param>
public sealed record NewName(Nameable Kind, string? Dataset, string From, string To, bool KeepsTitle = false)
{
    /// <summary>
    /// A name as tiles, rights and edits have it, by its new name if it is meant: of a field with its grain, of a dashboard with the area or
    /// tile that is meant of it.
    /// </summary>
    internal string Of(string name) =>
        name == From ? To
        : name.StartsWith(From + (Kind == Nameable.Dashboard ? '/' : '.'), StringComparison.Ordinal) ? To + name[From.Length..]
        : name;
}

/// <summary>A file as it was and as it is with a new name in it.</summary>
/// <param name="Was">Where it stood.</param>
/// <param name="Path">Where it stands then.</param>
/// <param name="Places">In how many places the name is another.</param>
public sealed record RenamedFile(string Was, string Path, string Before, string After, int Places);

/// <summary>A workspace in which something has another name.</summary>
/// <param name="Files">All files, by path.</param>
/// <param name="Workspace">The same, read.</param>
/// <param name="Changed">Those that are not as they were.</param>
/// <param name="Warnings">What the check warns of that it did not warn of before.</param>
public sealed record RenamedWorkspace(
    IReadOnlyDictionary<string, string> Files,
    Workspace Workspace,
    IReadOnlyList<RenamedFile> Changed,
    IReadOnlyList<Fault> Warnings
);
