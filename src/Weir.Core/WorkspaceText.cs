using Weir.Core.Access;
using Weir.Core.Definitions;
using Weir.Core.Interaction;
using Weir.Core.Pictures;
using Weir.Core.Views;

namespace Weir.Core;

/// <summary>The door from text to a checked workspace: reading, and then the checks that need more than the text.</summary>
public static class WorkspaceText
{
    /// <summary>What can be written, with every kind of picture there is.</summary>
    public static Shapes Shapes { get; } = new(PictureKinds.All);

    /// <summary>Reads and checks all files.</summary>
    /// <param name="files">Text by path relative to the folder, with / between folders.</param>
    /// <param name="cancellation">Ends the reading when nobody waits for it.</param>
    /// <param name="seen">What one of the dashboards may name, where who writes it may not read all; null if every file may name all.</param>
    /// <returns>The workspace, null if there is any error; and every fault, warnings too, in the order of the checks.</returns>
    public static (Workspace? Workspace, IReadOnlyList<Fault> Faults) Read(
        IReadOnlyDictionary<string, string> files,
        CancellationToken cancellation = default,
        NamesSeen? seen = null
    )
    {
        var (workspace, faults, datasets, dashboards) = WorkspaceReader.Read(files, Shapes, seen, cancellation);
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
        return (workspace, faults);
    }
}
