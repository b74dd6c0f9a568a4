namespace Weir.Core.Definitions;

/// <summary>Whether a fault keeps a workspace from being published.</summary>
public enum Severity
{
    Warning,
    Error,
}

/// <summary>One thing that is wrong in a definition file.</summary>
/// <param name="Code">A stable code such as <c>unknown-key</c>.</param>
/// <param name="Line">Counted from 1.</param>
/// <param name="Column">Counted from 1.</param>
/// <param name="Remedy">What to do, or what was probably meant.</param>
public sealed record Fault(Severity Severity, string Code, string File, int Line, int Column, string Message, string? Remedy)
{
    /// <summary>One line for people and editors: <c>file:line:column: error unknown-key: message remedy</c>.</summary>
    public override string ToString() =>
        $"{File}:{Line}:{Column}: {Severity.ToString().ToLowerInvariant()} {Code}: {Message}{(Remedy is null ? "" : " " + Remedy)}";
}
