namespace Weir.Core.Expressions;

/// <summary>Folds away what is always true or always false, so that no statement carries it.</summary>
public static class Constants
{
    /// <summary>The same formula without constant conditions under AND, OR and NOT, and without filters that let every row through.</summary>
    public static Bound Fold(Bound formula) =>
        formula.Rewrite(node =>
            node switch
            {
                Bound.Op { Operation: Operation.And } and => Join(and, neutral: true),
                Bound.Op { Operation: Operation.Or } or => Join(or, neutral: false),
                Bound.Op { Operation: Operation.Not, Arguments: [Bound.Literal { Value: bool value }] } => value ? Bound.False : Bound.True,
                Bound.Aggregate { Filter: Bound.Literal { Value: true } } all => all with { Filter = null },
                _ => node,
            }
        );

    /// <summary>Under AND what is true says nothing and what is false settles it; under OR the other way round. Missing values change neither.</summary>
    private static Bound Join(Bound.Op join, bool neutral)
    {
        if (join.Arguments.Any(a => a is Bound.Literal { Value: bool value } && value != neutral))
            return neutral ? Bound.False : Bound.True;
        List<Bound> left = [.. join.Arguments.Where(a => a is not Bound.Literal { Value: bool })];
        return left.Count switch
        {
            0 => neutral ? Bound.True : Bound.False,
            1 => left[0],
            _ => left.Count == join.Arguments.Count ? join : join with { Arguments = left },
        };
    }
}
