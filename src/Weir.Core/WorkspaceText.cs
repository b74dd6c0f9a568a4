using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Pictures;
using Weir.Core.Views;

namespace Weir.Core;

/// <summary>What the files of a workspace say.</summary>
/// <param name="Workspace">Null if there is any error.</param>
/// <param name="Faults">Every fault, warnings too, in the order of the checks.</param>
public sealed record WorkspaceRead(Workspace? Workspace, IReadOnlyList<Fault> Faults)
{
    internal FilesRead? Files { get; init; }
}

/// <summary>The door from text to a checked workspace: reading, and then the checks that need more than the text.</summary>
public static class WorkspaceText
{
    /// <summary>What can be written, with every kind of picture there is.</summary>
    public static Shapes Shapes { get; } = new(PictureKinds.All);

    /// <summary>Reads and checks all files.</summary>
    /// <param name="files">Text by path relative to the folder, with / between folders.</param>
    /// <param name="cancellation">Ends the reading when nobody waits for it.</param>
    /// <param name="seen">What one of the dashboards may name, where who writes it may not read all; null if every file may name all.</param>
    /// <param name="before">
    /// What was read of files of which most are the same: only what is another now, and what it touches, is looked into anew. What comes out
    /// is the same.
    /// </param>
    public static WorkspaceRead Read(
        IReadOnlyDictionary<string, string> files,
        CancellationToken cancellation = default,
        NamesSeen? seen = null,
        WorkspaceRead? before = null
    )
    {
        var (workspace, faults, datasets, dashboards, read) = WorkspaceReader.Read(files, Shapes, seen, before?.Files, cancellation);
        foreach (var dashboard in dashboards)
            WiringChecks.Report(dashboard, datasets);
        if (
            workspace is not null
            && workspace.OpeningViews.SelectMany(v => PromotedView.Check(v, workspace)).ToList() is { Count: > 0 } wrong
        )
        {
            faults.AddRange(wrong);
            workspace = null;
        }
        if (workspace is not null)
            foreach (var check in workspace.Access.Checks)
            foreach (var (role, attribute) in NeededAttributes.Lacking(check.Roles, check.Attributes, workspace))
                faults.Add(
                    new Fault(
                        Severity.Warning,
                        "missing-attribute",
                        check.File,
                        check.Line,
                        1,
                        $"The role {role} asks for the attribute {attribute}, which this check does not give: it sees no rows, and so proves little.",
                        $"Add {attribute} under attributes."
                    )
                );
        return new WorkspaceRead(workspace, faults) { Files = read };
    }
}
