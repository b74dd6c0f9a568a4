using Weir.Core.Definitions;

namespace Weir.Core.Access;

/// <summary>What a viewer has before them beside selections: the time of viewing and the parameters that are set.</summary>
/// <param name="Now">The time of viewing in the viewer's zone. The core has no clock of its own.</param>
/// <param name="Parameters">Checked values by parameter; an empty list for one that was emptied; opening values hold for those left out.</param>
public sealed record Viewing(DateTime Now, IReadOnlyDictionary<string, IReadOnlyList<object>> Parameters)
{
    /// <summary>Parameters that are set to what can't be meant, where that was let pass: what uses one of them has no answer.</summary>
    public IReadOnlyDictionary<string, ParameterFault> Faults { get; init; } = new Dictionary<string, ParameterFault>();

    /// <summary>Opening values at a time.</summary>
    public static Viewing At(DateTime now) => new(now, new Dictionary<string, IReadOnlyList<object>>());

    /// <summary>For what does not depend on the time, such as which fields a viewer may see.</summary>
    public static Viewing Whenever { get; } = At(new DateTime(2000, 1, 1));

    /// <summary>The values of a parameter now; none if it is empty.</summary>
    public IReadOnlyList<object> Of(Parameter parameter) => Parameters.GetValueOrDefault(parameter.Name) ?? parameter.Opening;

    /// <summary>The same with opening values for some parameters.</summary>
    public Viewing Without(IReadOnlySet<string> parameters) =>
        Parameters.Keys.Any(parameters.Contains)
            ? this with
            {
                Parameters = Parameters.Where(p => !parameters.Contains(p.Key)).ToDictionary(),
            }
            : this;

    /// <summary>Reads what was set, against the parameters that there are.</summary>
    /// <param name="set">Texts by parameter; an empty list empties it.</param>
    /// <param name="lenient">True to leave out what can't be meant, so that an old address still opens; see <see cref="Faults"/>.</param>
    /// <returns>Exactly one of the two is null.</returns>
    public static (Viewing? Viewing, ParameterFault? Fault) Read(
        DateTime now,
        IReadOnlyDictionary<string, IReadOnlyList<string>> set,
        IReadOnlyDictionary<string, Parameter> parameters,
        bool lenient = false
    )
    {
        var read = new Dictionary<string, IReadOnlyList<object>>();
        var faults = new Dictionary<string, ParameterFault>();
        foreach (var (name, texts) in set)
        {
            var (values, fault) = ReadOne(name, texts, parameters);
            if (values is not null)
                read[name] = values;
            else if (!lenient)
                return (null, fault);
            else
                faults[name] = fault!;
        }
        return (new Viewing(now, read) { Faults = faults }, null);
    }

    private static (IReadOnlyList<object>? Values, ParameterFault? Fault) ReadOne(
        string name,
        IReadOnlyList<string> texts,
        IReadOnlyDictionary<string, Parameter> parameters
    )
    {
        if (!parameters.TryGetValue(name, out var parameter))
            return (null, new("unknown-parameter", $"There is no parameter {(name.Length <= 64 ? name : name[..64] + "…")} here."));
        if (texts.Count == 0 && !parameter.Optional)
            return (null, new("value-needed", $"{parameter.Title} can't be empty."));
        if (texts.Count > (parameter.Many ? Parameter.MaximumValues : 1))
            return (
                null,
                new(
                    "too-many-values",
                    parameter.Many ? $"At most {Parameter.MaximumValues} values can be set at once." : $"{parameter.Title} has one value."
                )
            );
        var values = new List<object>();
        foreach (var text in texts)
        {
            var (value, fault) = parameter.Read(text);
            if (value is null)
                return (null, new("wrong-value", fault!));
            values.Add(value);
        }
        return (values, null);
    }
}

/// <summary>A parameter set to what can't be meant.</summary>
public sealed record ParameterFault(string Code, string Message);
