namespace Weir.Core.Planning;

/// <summary>
/// The order of the members of the first group by a figure over all lines of each, where lines are split by a second group. The
/// order of lines is made from it once the figures are there.
/// </summary>
/// <param name="Figure">The figure, by its place among the figures.</param>
public sealed record MemberOrder(int Figure, bool Descending);
